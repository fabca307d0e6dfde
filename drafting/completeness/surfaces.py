"""Faces and edges of a part as completeness works on them: in halves of the part's diagonal about its middle,
so that one tolerance fits parts of all sizes."""

import math
from collections import defaultdict
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from drafting.model.model import EdgeFact, FaceFact, PartFacts

Array = NDArray[np.float64]
SAME_DIRECTION = 1e-4
"""Sine of the angle within which directions are one."""
SAME_PLACE = 2e-5
"""How far apart places may lie that are one, of half the diagonal."""
FLAT = 1e-9
PLACES = (0.05, 0.25, 0.5, 0.72, 0.95)
"""Where along an edge it is looked at."""
CORNER = math.radians(135)
"""A cylinder that turns no more, smooth with its neighbors, is the round of a corner, whose axis is where
they put it; one that turns further is an end or a hole."""


@dataclass(eq=False)
class Surface:
    """A face's surface. at: a point of it, of its axis, its apex or center; axis: of a plane, outward; half:
    the half angle of a cone; across: of a torus, from its axis to the middle of its tube, radius the tube's;
    outer: whether the material is inside; sweep: how far it goes about its axis, radians; v: its parameters
    by what they are."""

    fact: FaceFact
    kind: str
    at: Array
    axis: Array
    radius: float = 0.0
    half: float = 0.0
    across: float = 0.0
    outer: bool = True
    sweep: float = 0.0
    is_corner: bool = False
    way: int = -1
    line: int = -1
    v: dict[str, int] = field(default_factory=dict)
    box: Array = field(default_factory=lambda: np.zeros((2, 3)))

    @property
    def name(self) -> str:
        """The face's name."""
        return self.fact.name

    @cached_property
    def bulk(self) -> float:
        """About its area, from the box of its edges and its size: to rank faces by."""
        a, b, _ = sorted((self.box[1] - self.box[0]).tolist(), reverse=True)
        return float(a * b) if b > FLAT else float(a * self.radius)

    def normal(self, p: Array) -> Array:
        """Of the surface through a point: away from axis, center or tube; of a plane its direction."""
        if self.kind == "plane":
            return self.axis
        rel = p - self.at
        if self.kind == "sphere":
            return unit(rel)
        out = rel - self.axis * float(rel @ self.axis)
        e = unit(out)
        if self.kind == "cone":
            side = math.copysign(1.0, float(rel @ self.axis))
            return math.cos(self.half) * e - math.sin(self.half) * side * self.axis
        return unit(rel - e * self.across) if self.kind == "torus" else e

    def off(self, p: Array) -> float:
        """How far a point lies off the surface."""
        rel = p - self.at
        if self.kind == "sphere":
            return float(np.linalg.norm(rel)) - self.radius
        h = float(rel @ self.axis)
        if self.kind == "plane":
            return h
        e = float(np.linalg.norm(rel - self.axis * h))
        if self.kind == "cone":
            return e * math.cos(self.half) - abs(h) * math.sin(self.half)
        return math.hypot(e - self.across, h) - self.radius if self.kind == "torus" else e - self.radius

    @cached_property
    def points(self) -> list[Array]:
        """Points on the surface that settle it."""
        if self.kind == "plane":
            x = unit(cross(self.axis, np.eye(3)[int(np.argmin(np.abs(self.axis)))]))
            return [self.at, self.at + 0.3 * x, self.at + 0.3 * cross(self.axis, x)]
        if self.kind == "sphere":
            return [self.at + self.radius * e for e in np.eye(3)]
        x = unit(cross(self.axis, np.eye(3)[int(np.argmin(np.abs(self.axis)))]))
        y = cross(self.axis, x)
        middle = self.box.mean(0)
        t = float((middle - self.at) @ self.axis)
        out = []
        for k in range(5):
            e = x * math.cos(1.3 * k) + y * math.sin(1.3 * k)
            h = t + 0.1 * (k - 2)
            if self.kind == "cylinder":
                out.append(self.at + self.axis * h + e * self.radius)
            elif self.kind == "cone":
                h = math.copysign(max(abs(t), 0.05) * (0.6 + 0.2 * k), t)
                out.append(self.at + self.axis * h + e * abs(h) * math.tan(self.half))
            else:
                q = 1.1 * k
                out.append(
                    self.at
                    + e * (self.across + self.radius * math.cos(q))
                    + self.axis * self.radius * math.sin(q)
                )
        return out


@dataclass(eq=False)
class Rim:
    """An edge: the faces that meet in it, and points along it."""

    fact: EdgeFact
    faces: tuple[str, ...]
    points: Array

    @property
    def is_smooth(self) -> bool:
        """Whether its faces run into one another."""
        return self.fact.turn == "smooth"

    @property
    def is_seam(self) -> bool:
        """Whether it is where one face closes."""
        return len(self.faces) < 2


@dataclass(eq=False)
class Solid:
    """A part's surfaces by the names of their faces, those that are free left out, and its rims. half: half
    its diagonal, mm; middle: of its box, mm."""

    part: PartFacts
    middle: Array
    half: float
    surfaces: dict[str, Surface]
    rims: list[Rim]
    free: list[str]
    """Faces that are no plain surface."""
    beside: dict[str, set[str]]
    """Names of the faces that meet one."""

    @staticmethod
    def of(part: PartFacts) -> "Solid":
        """A part as completeness works on it."""
        low, high = np.array(part.low), np.array(part.high)
        middle, half = (low + high) / 2, float(np.linalg.norm(high - low)) / 2 or 1.0
        rims = [
            Rim(e, tuple(dict.fromkeys(e.faces)), (points_of(e) - middle) / half)
            for e in part.edges
            if e.length
        ]
        surfaces = {f.name: s for f in part.faces if (s := _surface(f, middle, half)) is not None}
        beside: dict[str, set[str]] = defaultdict(set)
        near: dict[str, list[Array]] = defaultdict(list)
        for rim in rims:
            for name in rim.faces:
                beside[name] |= set(rim.faces) - {name}
                near[name].append(rim.points)
        for name, s in surfaces.items():
            if near[name]:
                points = np.concatenate(near[name])
                s.box = np.array([points.min(0), points.max(0)])
            else:
                s.box = np.array([s.at - s.radius - s.across, s.at + s.radius + s.across])
        free = [f.name for f in part.faces if f.name not in surfaces]
        return Solid(part, middle, half, surfaces, rims, free, beside)

    def flat(self, p: Array | list[float]) -> Array:
        """A place of the part, from mm."""
        out: Array = (np.asarray(p, float) - self.middle) / self.half
        return out


def unit(v: Array) -> Array:
    """A direction."""
    out: Array = v / max(float(np.linalg.norm(v)), 1e-12)
    return out


def cross(a: Array, b: Array) -> Array:
    """Of two vectors, without the ceremony of the general one."""
    return np.array([a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]])


def points_of(e: EdgeFact) -> Array:
    """Points along an edge, mm: five, or of a free curve those that are known."""
    if e.kind == "line":
        a, b = np.array(e.start), np.array(e.end)
        return np.array([a + (b - a) * t for t in PLACES])
    if e.kind in ("circle", "ellipse") and e.center and e.axis and e.x_axis:
        x = np.array(e.x_axis)
        y = np.cross(e.axis, x)
        minor = e.minor_radius if e.kind == "ellipse" else e.radius
        turns = [e.first + (e.last - e.first) * t for t in PLACES]
        return np.array(
            [np.array(e.center) + e.radius * math.cos(t) * x + minor * math.sin(t) * y for t in turns]
        )
    return np.array([e.middle] if e.closed else [e.start, e.middle, e.end])


def _surface(f: FaceFact, middle: Array, half: float) -> Surface | None:
    at = (np.array(f.origin) - middle) / half
    axis = unit(np.array(f.axis, float))
    kind, radius, across = f.kind, f.radius / half, 0.0
    if f.minor_radius and kind in ("torus", "other"):
        kind, radius, across = "torus", f.minor_radius / half, f.radius / half
    if kind not in ("plane", "cylinder", "cone", "sphere", "torus"):
        return None
    return Surface(
        f,
        kind,
        at,
        axis,
        0.0 if kind in ("plane", "cone") else radius,
        abs(f.half_angle) if kind == "cone" else 0.0,
        across,
        not f.hollow,
        abs(f.turn[1] - f.turn[0]) if f.turn else 2 * math.pi,
    )
