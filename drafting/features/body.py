"""Faces and edges of a part for recognition: who meets whom, and which round faces share an axis."""

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from drafting.model.model import EdgeFact, FaceFact, PartFacts

Array = NDArray[np.float64]
PARALLEL = 1e-4
"""Sine of the angle within which directions are the same."""
NEAR = 2e-3
"""How far apart axes and ends may lie that are the same, mm; or NEAR_SHARE of the part's size where that is
more."""
NEAR_SHARE = 1e-5


@dataclass(eq=False)
class Axis:
    """A line that round faces share: the point of it nearest to the part's origin, its direction (the first
    coordinate that is not 0 is above 0), and its faces."""

    origin: Array
    direction: Array
    faces: list[FaceFact] = field(default_factory=list)
    walls: dict[bool, Any] = field(default_factory=dict)
    """What `drafting.features.walls` made of them, hollow ones and others."""

    def along(self, point: Array | list[float]) -> float:
        """How far along the axis a point lies from its origin."""
        return float((np.asarray(point) - self.origin) @ self.direction)

    def away(self, point: Array | list[float]) -> float:
        """How far from the axis a point lies."""
        v = np.asarray(point) - self.origin
        return float(np.linalg.norm(v - self.direction * float(v @ self.direction)))

    def at(self, along: float) -> Array:
        """The point of the axis so far along it."""
        return self.origin + self.direction * along

    def span(self, face: FaceFact) -> tuple[float, float]:
        """From where to where a cylinder or cone reaches along the axis."""
        low, high = face.span or [0.0, 0.0]
        base = self.along(face.origin)
        way = 1.0 if float(np.dot(face.axis, self.direction)) > 0 else -1.0
        ends = base + way * low, base + way * high
        return min(ends), max(ends)


class Body:
    """A part's faces and edges by who meets whom."""

    def __init__(self, part: PartFacts) -> None:
        self.part = part
        self.size = math.dist(part.low, part.high) or 1.0
        self.near = max(NEAR, NEAR_SHARE * self.size)
        self.faces = {f.name: f for f in part.faces}
        self.of_face: dict[str, list[EdgeFact]] = defaultdict(list)
        for edge in part.edges:
            for name in dict.fromkeys(edge.faces):
                self.of_face[name].append(edge)

    def others(self, face: FaceFact) -> Iterator[tuple[EdgeFact, FaceFact]]:
        """Edges of a face with the face on their other side."""
        for edge in self.of_face[face.name]:
            for name in edge.faces:
                if name != face.name:
                    yield edge, self.faces[name]

    @cached_property
    def axes(self) -> list[Axis]:
        """Axes of cylinders and cones."""
        out: list[Axis] = []
        cells: dict[tuple[int, ...], list[Axis]] = defaultdict(list)
        for face in self.part.faces:
            if face.kind not in ("cylinder", "cone"):
                continue
            direction = upright(np.array(face.axis))
            origin = np.array(face.origin)
            origin = origin - direction * float(origin @ direction)
            way = direction.tolist()
            place = np.concatenate([direction / 0.01, origin / (50 * self.near)])
            known = next(
                (
                    a
                    for cell in _cells(place)
                    for a in cells.get(cell, ())
                    if _sine(a.direction.tolist(), way) < PARALLEL and math.dist(a.origin, origin) < self.near
                ),
                None,
            )
            if known is None:
                known = Axis(origin, direction)
                out.append(known)
                cells[tuple(np.floor(place).astype(int).tolist())].append(known)
            known.faces.append(face)
        return out

    def crosses(self, axis: Axis, start: float, end: float) -> bool | None:
        """Whether a face crosses an axis between two places; None where that cannot be told. Faces about the
        axis do not."""
        own = {f.name for f in axis.faces}
        unclear = False
        for face in self.part.faces:
            if face.name in own:
                continue
            if face.kind == "plane":
                slope = float(np.dot(face.axis, axis.direction))
                if abs(slope) < 1e-9:
                    continue
                t = float((np.array(face.origin) - axis.origin) @ np.array(face.axis)) / slope
                if start < t < end and self.covers(face, axis.at(t)):
                    return True
            elif self._is_near(face, axis, start, end):
                hits = meets(face, axis)
                if hits is None:
                    unclear = True
                elif any(start < t < end for t in hits):
                    return True
        return None if unclear else False

    def _is_near(self, face: FaceFact, axis: Axis, start: float, end: float) -> bool:
        """Whether a face may reach the axis between two places, by the box of its edges and its size."""
        points = [p for e in self.of_face[face.name] for p in (e.start, e.middle, e.end)]
        if not points:
            return True
        low, high = np.min(points, axis=0), np.max(points, axis=0)
        middle = (low + high) / 2
        reach = float(np.linalg.norm(high - low))  # twice the box's own: a face may bulge out of its edges
        t = min(max(axis.along(middle), start), end)
        return float(np.linalg.norm(middle - axis.at(t))) <= reach

    def covers(self, face: FaceFact, point: Array) -> bool:
        """Whether a point in the plane of a plane face lies within it: by how often a ray meets its edges."""
        normal = np.array(face.axis)
        x = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
        x = x / np.linalg.norm(x)
        turn = 0.7391  # no edge of a drawn part is likely to run this way
        y = np.cross(normal, x)
        x, y = x * math.cos(turn) + y * math.sin(turn), y * math.cos(turn) - x * math.sin(turn)
        count = 0
        for edge in self.of_face[face.name]:
            count += _crossings(edge, point, x, y)
        return count % 2 == 1


def upright(direction: Array) -> Array:
    """A direction or its opposite, the one whose first coordinate that is not 0 is above 0."""
    for value in direction.tolist():
        if abs(value) > 1e-6:
            return direction if value > 0 else -direction
    return direction


def _sine(a: list[float], b: list[float]) -> float:
    """Of the angle between two directions."""
    return math.hypot(a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0])


def _cells(place: Array) -> list[tuple[int, ...]]:
    """The cell of a place, and those beside it where it lies near their border."""
    values = place.tolist()
    cell = [math.floor(v) for v in values]
    out = [tuple(cell)]
    for k, value in enumerate(values):
        within = value - cell[k]
        step = -1 if within < 0.05 else 1 if within > 0.95 else 0
        if step:
            out += [(*base[:k], base[k] + step, *base[k + 1 :]) for base in list(out)]
    return out


def _crossings(edge: EdgeFact, point: Array, x: Array, y: Array) -> int:
    """How often a ray from a point along x meets an edge of the plane of x and y."""
    if edge.kind in ("circle", "ellipse") and edge.center and edge.x_axis and edge.axis:
        center, u = np.array(edge.center), np.array(edge.x_axis)
        w = np.cross(np.array(edge.axis), u)
        a, b = edge.radius * float(u @ y), edge.minor_radius * float(w @ y)
        c, level = math.hypot(a, b), float((point - center) @ y)
        if c < 1e-12 or abs(level) >= c:
            return 0
        middle, half = math.atan2(b, a), math.acos(level / c)
        count = 0
        for t in (middle - half, middle + half):
            t = edge.first + (t - edge.first) % (2 * math.pi)
            if t < edge.last or edge.closed:
                at = center + u * edge.radius * math.cos(t) + w * edge.minor_radius * math.sin(t)
                count += float((at - point) @ x) > 0
        return count
    ends = [edge.start, edge.end] if edge.kind == "line" else [edge.start, edge.middle, edge.end]
    flat = [(float((np.array(p) - point) @ x), float((np.array(p) - point) @ y)) for p in ends]
    count = 0
    for (ax, ay), (bx, by) in zip(flat, flat[1:], strict=False):
        if (ay > 0) != (by > 0):
            count += ax + (bx - ax) * ay / (ay - by) > 0
    return count


def meets(face: FaceFact, axis: Axis) -> list[float] | None:
    """Where an axis meets a curved face, along it; None where that is not known. A face is taken to be what
    its bounds about its own axis and along it enclose."""
    if face.kind == "sphere":
        return _quadratic(
            1.0,
            2 * float(axis.direction @ (axis.origin - np.array(face.origin))),
            float(np.sum((axis.origin - np.array(face.origin)) ** 2)) - face.radius**2,
        )
    if face.kind not in ("cylinder", "cone") or face.span is None:
        return None
    a, d = np.array(face.axis), axis.direction
    o = axis.origin - np.array(face.origin)
    k = math.tan(face.half_angle) if face.kind == "cone" else 0.0
    along_o, along_d = float(o @ a), float(d @ a)
    flat_o, flat_d = o - a * along_o, d - a * along_d
    r = face.radius if face.kind == "cylinder" else 0.0
    found = _quadratic(
        float(flat_d @ flat_d) - (k * along_d) ** 2,
        2 * (float(flat_o @ flat_d) - k * k * along_o * along_d),
        float(flat_o @ flat_o) - (k * along_o) ** 2 - r * r,
    )
    out = []
    for t in found:
        at = o + d * t
        height = float(at @ a)
        if face.span[0] - 1e-6 <= height <= face.span[1] + 1e-6 and is_within_turn(face, at - a * height):
            out.append(t)
    return out


def is_within_turn(face: FaceFact, out: Array) -> bool:
    """Whether a face goes, about its own axis, as far as a direction from it."""
    if face.turn is None or face.x_axis is None:
        return True
    x = np.array(face.x_axis)
    angle = math.atan2(float(out @ np.cross(np.array(face.axis), x)), float(out @ x))
    return (angle - face.turn[0]) % (2 * math.pi) <= face.turn[1] - face.turn[0] + 1e-9


def _quadratic(a: float, b: float, c: float) -> list[float]:
    if abs(a) < 1e-15:
        return [] if abs(b) < 1e-15 else [-c / b]
    inner = b * b - 4 * a * c
    if inner < 0:
        return []
    root = math.sqrt(inner)
    return [(-b - root) / (2 * a), (-b + root) / (2 * a)]


def widest_gap(axis: Axis, faces: list[FaceFact]) -> float:
    """The widest angle about an axis that none of its faces covers, radians."""
    for face in faces:
        if face.turn is None or face.x_axis is None or face.turn[1] - face.turn[0] >= 2 * math.pi - 1e-6:
            return 0.0
    x = np.cross(axis.direction, np.eye(3)[int(np.argmin(np.abs(axis.direction)))])
    x = x / np.linalg.norm(x)
    y = np.cross(axis.direction, x)
    parts: list[tuple[float, float]] = []
    for face in faces:
        assert face.turn is not None
        assert face.x_axis is not None
        way = 1.0 if float(np.dot(face.axis, axis.direction)) > 0 else -1.0
        out = np.array(face.x_axis)
        base = math.atan2(float(out @ y), float(out @ x))
        ends = base + way * face.turn[0], base + way * face.turn[1]
        low = min(ends) % (2 * math.pi)
        parts.append((low, low + face.turn[1] - face.turn[0]))
    turn = 2 * math.pi
    pieces = sorted(
        (max(low - back, 0.0), min(high - back, turn))
        for low, high in parts
        for back in (0.0, turn)
        if high - back > 0
    )
    first, end = pieces[0][0], pieces[0][1]
    gap = 0.0
    for low, high in pieces[1:]:
        gap = max(gap, low - end)
        end = max(end, high)
    gap = max(gap, first + turn - end)
    return 0.0 if gap < 1e-6 else gap
