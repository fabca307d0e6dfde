"""How far a curve goes in a direction."""

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.GeomAbs import GeomAbs_Shape as Continuity
from scipy.optimize import minimize_scalar

STEPS = 16
"""Places at which each smooth piece of a curve is asked for where it goes farthest."""


def farthest(curve: BRepAdaptor_Curve, direction: tuple[float, float, float]) -> list[float]:
    """The lowest and the highest place of a curve along a direction (a unit vector), mm from the frame's
    origin."""

    def height(t: float) -> float:
        p = curve.Value(t)
        return float(p.X() * direction[0] + p.Y() * direction[1] + p.Z() * direction[2])

    first, last = curve.FirstParameter(), curve.LastParameter()
    steps = STEPS * curve.NbIntervals(Continuity.GeomAbs_C2)
    places = np.linspace(first, last, steps + 1).tolist()
    heights = [height(t) for t in places]
    out = []
    for sign in (1.0, -1.0):
        at = min(range(len(places)), key=lambda n: sign * heights[n])
        best = minimize_scalar(
            lambda t, sign=sign: sign * height(t),
            bounds=(places[max(at - 1, 0)], places[min(at + 1, steps)]),
            method="bounded",
            options={"xatol": 1e-9 * (last - first)},
        )
        out.append(sign * min(sign * heights[at], float(best.fun)))
    return out
