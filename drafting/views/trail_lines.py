"""Trail lines of exploded views: from where a part belongs to where it is drawn, one for each axis.

Thin chain lines (ISO 128-2 long dashed dotted narrow line; common practice for exploded views), bent where a part is moved in several ways.
"""

import numpy as np
from numpy.typing import NDArray

from drafting.ink.elements import Element, Line
from drafting.model.exploded import path_of
from drafting.model.model import ExplodedState, Facts, InstanceFacts
from drafting.views.derivation import TrailPath
from drafting.views.geometry import ViewGeometry
from drafting.views.view import View

Array = NDArray[np.float64]
SHORTEST = 2.5
"""Pieces shorter than this are left out, mm on paper."""


def trail_paths(state: ExplodedState, facts: Facts) -> list[TrailPath]:
    """Where each moved part comes from and goes to, model mm. Parts that move along one line share its trail."""
    out: list[TrailPath] = []
    lines: list[tuple[Array, Array, float, float, int]] = []
    for instance in facts.instances:
        sums = path_of(state, instance.path)
        if len(sums) < 2:
            continue
        points = _base(instance, facts, sums[1] - sums[0]) + np.array(sums)
        if len(points) == 2:
            d = points[1] - points[0]
            size = float(np.linalg.norm(d))
            if size < 1e-9:
                continue
            d = d / size
            same = next((k for k, line in enumerate(lines) if abs(float(line[1] @ d)) > 1 - 1e-6 and _beside(points[0], line) < 0.5), None)
            ends = (points[0], points[1])
            if same is not None:
                at, along, low, high, number = lines[same]
                reach = [float((p - at) @ along) for p in ends]
                low, high = min(low, *reach), max(high, *reach)
                lines[same] = (at, along, low, high, number)
                out[number] = TrailPath(instances=[*out[number].instances, instance.path], points=[(at + along * v).tolist() for v in (low, high)])
                continue
            lines.append((points[0], d, 0.0, size, len(out)))
        out.append(TrailPath(instances=[instance.path], points=points.tolist()))
    return out


def _beside(p: Array, line: tuple[Array, Array, float, float, int]) -> float:
    v = p - line[0]
    return float(np.linalg.norm(v - line[1] * float(v @ line[1])))


def _base(instance: InstanceFacts, facts: Facts, move: Array) -> Array:
    """The point of a part that its trail goes through: on the axis of its largest cylinder along the move, else its middle."""
    part, m = facts.parts[instance.part], np.array(instance.matrix)
    middle = m[:3, :3] @ ((np.array(part.low) + np.array(part.high)) / 2) + m[:3, 3]
    d = move / max(float(np.linalg.norm(move)), 1e-12)
    best: tuple[float, Array] | None = None
    for face in part.faces:
        axis = m[:3, :3] @ np.array(face.axis)
        if face.kind == "cylinder" and face.span and abs(float(axis @ d)) > 1 - 1e-6:
            size = face.radius * abs(face.span[1] - face.span[0])
            if best is None or size > best[0]:
                origin = m[:3, :3] @ np.array(face.origin) + m[:3, 3]
                best = (size, origin + d * float((middle - origin) @ d))
    out: Array = best[1] if best else middle
    return out


def trail_ink(view: View, geometry: ViewGeometry, scale: float) -> list[Element]:
    """Trails of a view that are not left out, paper mm about its position."""
    off = set(view.trails_off)
    out: list[Element] = []
    for trail in geometry.trails:
        x0, y0, x1, y1 = (v * scale for v in trail.data)
        if not set(trail.instances) <= off and np.hypot(x1 - x0, y1 - y0) >= SHORTEST:
            out.append(Line((x0, y0), (x1, y1), "center"))
    return out
