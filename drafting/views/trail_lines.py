"""Trail lines of exploded views: from where a part belongs to where it is drawn, one for each axis.

Thin chain lines (ISO 128-2 long dashed dotted narrow line; common practice for exploded views), bent where a
part is moved in several ways.
"""

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from drafting.ink.elements import Element, Line
from drafting.memory import Memory
from drafting.model import exploded
from drafting.model.model import ExplodedState, Facts, InstanceFacts
from drafting.views.derivation import TrailPath
from drafting.views.geometry import ViewGeometry
from drafting.views.view import View

Array = NDArray[np.float64]
SHORTEST = 2.5
"""Pieces shorter than this are left out, mm on paper."""


_SEATS: Memory[dict[str, str]] = Memory(64)

Line3 = tuple[Array, Array, float, float, int]
"""A point, a unit direction, from and to along it, and the trail that runs there."""


def trail_paths(
    state: ExplodedState, facts: Facts, shifts: Mapping[str, Array] | None = None
) -> list[TrailPath]:
    """Where each moved part comes from and goes to, model mm. A part that sits on a larger one comes from
    where that one has gone; parts that move along one line share its trail.

    shifts: by instance, how far its trail runs beside its own line, mm; jogs lead there and back.
    """
    out: list[TrailPath] = []
    lines: list[Line3] = []
    legs = {i.path: _legs(state, i.path) for i in facts.instances}
    moved = [i for i in facts.instances if legs[i.path]]
    paths = tuple(i.path for i in moved)
    seats = _SEATS.recall(facts, paths, lambda: exploded.seats(list(paths), facts))
    for instance in moved:
        points = _way(instance, facts, legs[instance.path], legs.get(seats.get(instance.path, ""), []))
        if len(points) > 2 or (len(points) == 2 and not _shared(points, instance.path, out, lines)):
            out.append(TrailPath(instances=[instance.path], points=points.tolist()))
    return [_shifted(trail, shifts or {}) for trail in out]


def _legs(state: ExplodedState, path: str) -> list[tuple[Array, float]]:
    """The moves of a part in order: unit direction and mm; those along one direction together."""
    out: list[tuple[Array, float]] = []
    for step in state.steps:
        if path in step.instances:
            d = np.array(step.direction) / max(float(np.linalg.norm(step.direction)), 1e-12)
            _add(out, d, step.distance)
    return out


def _add(legs: list[tuple[Array, float]], d: Array, by: float) -> None:
    for n, (way, so_far) in enumerate(legs):
        if abs(float(way @ d)) > 1 - 1e-9:
            legs[n] = way, so_far + by * float(np.sign(way @ d))
            return
    legs.append((d, by))


def _way(
    instance: InstanceFacts, facts: Facts, legs: list[tuple[Array, float]], seat: list[tuple[Array, float]]
) -> Array:
    """The points a part goes by from where its seat has gone; fewer than two where it goes along with it."""
    own = list(legs)
    for d, by in seat:
        _add(own, d, -by)
    sums = [np.zeros(3) + sum((d * by for d, by in seat), np.zeros(3))]
    for d, by in own:
        if abs(by) > 1e-6:
            sums.append(sums[-1] + d * by)
    return _base(instance, facts, legs[0][0]) + np.array(sums)


def _shared(points: Array, path: str, out: list[TrailPath], lines: list[Line3]) -> bool:
    """Let a straight way run in a trail that is there along the same line; else note its line for those that
    follow."""
    d = points[1] - points[0]
    size = float(np.linalg.norm(d))
    d = d / size
    for k, (at, along, low, high, number) in enumerate(lines):
        if abs(float(along @ d)) > 1 - 1e-6 and _beside(points[0], lines[k]) < 0.5:
            reach = [float((p - at) @ along) for p in points]
            low, high = min(low, *reach), max(high, *reach)
            lines[k] = (at, along, low, high, number)
            instances = [*out[number].instances, *([] if path in out[number].instances else [path])]
            out[number] = TrailPath(
                instances=instances, points=[(at + along * v).tolist() for v in (low, high)]
            )
            return True
    lines.append((points[0], d, 0.0, size, len(out)))
    return False


def _shifted(trail: TrailPath, shifts: Mapping[str, Array]) -> TrailPath:
    by = next((shifts[path] for path in trail.instances if path in shifts), None)
    if by is None or float(np.abs(by).max()) < 1e-9:
        return trail
    beside = [(np.array(p) + by).tolist() for p in trail.points]
    return TrailPath(instances=trail.instances, points=[trail.points[0], *beside, trail.points[-1]])


def _beside(p: Array, line: Line3) -> float:
    v = p - line[0]
    return float(np.linalg.norm(v - line[1] * float(v @ line[1])))


def _base(instance: InstanceFacts, facts: Facts, move: Array) -> Array:
    """The point of a part that its trail goes through: on the axis of its largest cylinder along the move,
    else its middle."""
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
