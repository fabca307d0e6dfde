"""A version of a part as it is compared with another: each face with its outline and what it meets."""

from collections import Counter, defaultdict
from collections.abc import Hashable
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from drafting.model.model import EdgeFact, FaceFact, PartFacts

Array = NDArray[np.float64]
EVEN = 1e-3
"""How far the same place may be off, mm."""


@dataclass(eq=False)
class Face:
    """A face with what it is compared by: the middle and the box of its outline, how long that is, and the
    faces that it meets, each with the turn of the edge between."""

    n: int
    fact: FaceFact
    origin: Array
    axis: Array
    middle: Array = field(default_factory=lambda: np.zeros(3))
    low: Array = field(default_factory=lambda: np.zeros(3))
    high: Array = field(default_factory=lambda: np.zeros(3))
    length: float = 0.0
    meets: list[tuple[str, int]] = field(default_factory=list)

    @property
    def kind(self) -> str:
        """Of its surface."""
        return self.fact.kind

    @property
    def radius(self) -> float:
        """mm; of a cone none, as it is told at a place of the writer's choice."""
        return 0.0 if self.kind == "cone" else self.fact.radius

    @property
    def is_turned(self) -> bool:
        """Whether its axis has no sense."""
        return self.kind in ("cylinder", "torus", "cone")

    def direction(self) -> tuple[float, ...]:
        """Its axis, rounded; of turned ones without sense."""
        a = self.axis
        if self.is_turned:
            lead = next((x for x in a if abs(x) > 1e-3), 1.0)
            a = a if lead > 0 else -a
        return tuple(float(round(x, 2)) + 0.0 for x in a)

    def look(self) -> Hashable:
        """What tells it from others apart from its place."""
        return self.kind, self.fact.hollow, round(self.radius, 3), self.direction()


class Version:
    """One version."""

    def __init__(self, part: PartFacts, moved: Array) -> None:
        self.part, self.moved = part, moved
        self.size = float(np.linalg.norm(np.array(part.high) - np.array(part.low))) or 1.0
        numbers = {f.name: n for n, f in enumerate(part.faces)}
        turn = moved[:3, :3]
        self.faces = [
            Face(n, f, self.placed(np.array(f.origin)), turn @ np.array(f.axis))
            for n, f in enumerate(part.faces)
        ]
        outlines: dict[int, list[tuple[Array, float]]] = defaultdict(list)
        for e in part.edges:
            owners = [numbers[name] for name in e.faces if name in numbers]
            for n in owners:
                outlines[n] += [(self.placed(at), w) for at, w in _sampled(e)]
            for n, m in ((a, b) for a in owners for b in owners if a != b):
                self.faces[n].meets.append((e.turn, m))
        for face in self.faces:
            if outlines[face.n]:
                p = np.array([at for at, _ in outlines[face.n]])
                weights = np.array([w for _, w in outlines[face.n]])
                face.low, face.high, face.length = p.min(0), p.max(0), float(weights.sum())
                face.middle = (p * weights[:, None]).sum(0) / max(face.length, 1e-12)
            else:  # a whole sphere or torus
                r = face.fact.radius + face.fact.minor_radius
                face.middle, face.low, face.high = face.origin, face.origin - r, face.origin + r

    def placed(self, p: Array) -> Array:
        """A place of the part in the frame that is compared in."""
        out: Array = self.moved[:3, :3] @ p + self.moved[:3, 3]
        return out

    @cached_property
    def labels(self) -> list[list[Hashable]]:
        """What each face is, then with what it meets, then with what that meets."""
        now: list[Hashable] = [
            (f.kind, f.fact.hollow, round(f.radius, 2), round(f.fact.half_angle, 2), f.direction())
            for f in self.faces
        ]
        out = [now]
        for _ in range(2):
            now = [
                hash((now[f.n], frozenset(Counter((t, now[m]) for t, m in f.meets).items())))
                for f in self.faces
            ]
            out.append(now)
        return out


def _sampled(e: EdgeFact) -> list[tuple[Array, float]]:
    """Places along an edge, each with the length that it stands for."""
    if e.kind == "circle" and e.center is not None and e.axis is not None and e.x_axis is not None:
        x, y = np.array(e.x_axis), np.cross(e.axis, e.x_axis)
        t = e.first + (e.last - e.first) * (np.arange(16) + 0.5) / 16
        places = np.array(e.center) + e.radius * (np.outer(np.cos(t), x) + np.outer(np.sin(t), y))
        return [(p, e.length / 16) for p in places]
    share = e.length / 4
    return [(np.array(e.start), share), (np.array(e.middle), 2 * share), (np.array(e.end), share)]


def is_same_surface(a: Face, b: Face) -> bool:
    """Whether two faces lie in one surface, with the material on the same side."""
    if a.kind != b.kind or a.fact.hollow != b.fact.hollow:
        return False
    if a.kind == "plane":
        return float(a.axis @ b.axis) > 1 - 1e-8 and abs(float((b.origin - a.origin) @ a.axis)) < EVEN
    if a.kind == "sphere":
        return abs(a.radius - b.radius) < EVEN and away(a.origin, b.origin) < EVEN
    if a.kind not in ("cylinder", "cone", "torus"):
        return has_same_outline(a, b)
    off = b.origin - a.origin
    if float(np.linalg.norm(np.cross(a.axis, b.axis))) > 1e-5:
        return False
    if float(np.linalg.norm(np.cross(off, a.axis))) > EVEN:
        return False
    if a.kind == "cone":
        return _is_same_cone(a, b)
    if abs(a.radius - b.radius) > EVEN:
        return False
    if a.kind == "torus":
        same = abs(a.fact.minor_radius - b.fact.minor_radius) < EVEN
        return same and abs(float(off @ a.axis)) < EVEN
    return True


def _is_same_cone(a: Face, b: Face) -> bool:
    """Cones by their apex and angle: where their radius is told is the writer's choice."""
    if abs(abs(a.fact.half_angle) - abs(b.fact.half_angle)) > 1e-5:
        return False
    return away(a.origin, b.origin) < 10 * EVEN


def away(p: Array, q: Array) -> float:
    """How far two places are apart, mm."""
    return float(np.linalg.norm(p - q))


def has_same_outline(a: Face, b: Face) -> bool:
    """Whether two faces have one outline, as far as its box, middle and length tell."""
    close = max(away(a.low, b.low), away(a.high, b.high), away(a.middle, b.middle)) < 5 * EVEN
    return close and abs(a.length - b.length) < 1e-3 * max(a.length, 1.0)


def overlap(a: Face, b: Face) -> float:
    """Share of the smaller box that two boxes have in common, along each axis the least."""
    least = 1.0
    for k in range(3):
        common = min(a.high[k], b.high[k]) - max(a.low[k], b.low[k])
        short = min(a.high[k] - a.low[k], b.high[k] - b.low[k])
        if short < EVEN:
            least = min(least, 1.0 if common > -EVEN else -1.0)
        else:
            least = min(least, float(common / short))
    return least
