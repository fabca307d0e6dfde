"""Exact volume and extents of shapes."""

import numpy as np
from numpy.typing import NDArray
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS

from drafting.kernel.topology import Shape, Vector, moved, solids, subshapes

VOLUME_TOLERANCE = 1e-5
"""Relative tolerance for volumes. Without one the kernel was more than 1 % off on blended castings."""

WIDENED = 1e-6
"""How much wider than its shape a rough box is at least, mm; what reaches no farther adds nothing."""
Corners = tuple[NDArray[np.float64], NDArray[np.float64]]
"""Lower left and upper right of a box, (3,) each, mm."""
SQUARE = 1e-12
"""How far a turn may be from whole quarters."""


def volume(shape: Shape) -> float:
    """Volume of all solids of a shape in mm3; 0 where there is none."""
    total = 0.0
    for solid in solids(shape):
        properties = GProp_GProps()
        BRepGProp.VolumeProperties_s(solid, properties, VOLUME_TOLERANCE)
        total += abs(properties.Mass())
    return total


def extents(shape: Shape) -> tuple[Vector, Vector]:
    """Smallest box along the axes, from exact geometry, as its two corners in mm.

    The kernel's exact box of a free surface is dear, and most surfaces lie within what the corners of others
    reach: only those are asked whose rough box reaches farther.
    """
    faces = subshapes(shape, Kind.TopAbs_FACE)
    if not faces:
        return _clean(_exact_box(shape))
    known = _corners(subshapes(shape, Kind.TopAbs_VERTEX))
    rough = [(_rough_box(face), face) for face in faces]
    while rough:
        beyond = [
            max(float(v) for v in (known[0] - b[0]).tolist() + (b[1] - known[1]).tolist()) for b, _ in rough
        ]
        farthest = int(np.argmax(beyond))
        if beyond[farthest] <= WIDENED:
            break
        box = _exact_box(rough[farthest][1])
        known = np.minimum(known[0], box[0]), np.maximum(known[1], box[1])
        rough = [r for n, r in enumerate(rough) if n != farthest and beyond[n] > WIDENED]
    return _clean(known)


def _corners(vertices: list[Shape]) -> Corners:
    points = [BRep_Tool.Pnt_s(TopoDS.Vertex(v)) for v in vertices]
    places = np.array([(p.X(), p.Y(), p.Z()) for p in points]).reshape(-1, 3)
    return places.min(0, initial=np.inf), places.max(0, initial=-np.inf)


def _rough_box(face: Shape) -> Corners:
    box = Bnd_Box()
    BRepBndLib.Add_s(face, box, False)
    return _of(box)


def _exact_box(shape: Shape) -> Corners:
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    return _of(box)


def _of(box: Bnd_Box) -> Corners:
    if box.IsVoid():
        return np.zeros(3), np.zeros(3)
    low, high = box.CornerMin(), box.CornerMax()
    return np.array([low.X(), low.Y(), low.Z()]), np.array([high.X(), high.Y(), high.Z()])


def _clean(box: Corners) -> tuple[Vector, Vector]:
    """The kernel widens boxes by its tolerance of 1e-7 mm; rounding takes that off again."""
    low, high = ((box[k].round(6) + 0.0).tolist() for k in (0, 1))
    return (low[0], low[1], low[2]), (high[0], high[1], high[2])


class Extents:
    """The box around placed shapes as they come in. A shape is measured once for each way it is turned."""

    def __init__(self) -> None:
        self.low, self.high = np.full(3, np.inf), np.full(3, -np.inf)
        self._turned: dict[tuple[str, bytes], tuple[NDArray[np.float64], NDArray[np.float64]]] = {}

    def take(
        self, key: str, shape: Shape, matrix: list[list[float]], own: tuple[list[float], list[float]]
    ) -> None:
        """A shape (known by key) at a place, rows of a 4 x 4 matrix, mm. own: its box in its own frame, from
        which that of a shape follows that is turned by quarters only."""
        m = np.array(matrix, float)
        at = m[:3, 3].copy()
        m[:3, 3] = 0
        which = (key, m[:3, :3].round(9).tobytes())
        if which not in self._turned:
            turn = m[:3, :3]
            if np.abs(np.abs(turn) - np.abs(turn).round()).max() < SQUARE:
                ends = turn.round() * np.array(own[0]), turn.round() * np.array(own[1])
                self._turned[which] = np.minimum(*ends).sum(1), np.maximum(*ends).sum(1)
            else:
                box = extents(moved(shape, m.tolist()))
                self._turned[which] = np.array(box[0]), np.array(box[1])
        low, high = self._turned[which]
        self.low, self.high = (
            np.minimum(self.low, (low + at).round(6)),
            np.maximum(self.high, (high + at).round(6)),
        )
