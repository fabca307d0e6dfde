"""What a hole is: its walls, what widens it, and which holes are equal."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

LIKE = 5e-3
"""How far sizes of equal holes may differ, mm or degrees."""

Bottom = Literal["", "flat", "point", "ball"]
Kind = Literal["plain", "counterbored", "countersunk", "spotfaced", "counterdrilled", "stepped", "tapered"]


@dataclass(frozen=True)
class Step:
    """A step of a hole: from where to where it goes, mm from the entry, and its radii there; its faces."""

    kind: Literal["cylinder", "cone"]
    start: float
    end: float
    first: float
    last: float
    faces: tuple[str, ...]
    gap: float = 0.0

    @property
    def is_straight(self) -> bool:
        """Whether it is a cylinder."""
        return self.kind == "cylinder"

    @property
    def length(self) -> float:
        """mm along the axis."""
        return self.end - self.start


@dataclass(frozen=True)
class Head:
    """What widens a hole at an end: its diameter, how deep it goes from the entry (a cone: how high it is),
    mm, and the full angle of a cone, degrees."""

    kind: Literal["counterbore", "countersink", "spotface", "counterdrill", "chamfer"]
    diameter: float
    depth: float
    angle: float | None = None


@dataclass(frozen=True)
class Hole:
    """A hole, as drawings tell it.

    entry: where its axis meets the face it enters, in the part's frame. direction: into the material. depth:
    of the full diameter, from there; None where it goes through. angle: full angle of a drill point, degrees.
    heads: at the entry, from outside in; far_heads: at the other end, from outside in. steps: all its walls.
    """

    kind: Kind
    entry: tuple[float, float, float]
    direction: tuple[float, float, float]
    diameter: float
    depth: float | None
    bottom: Bottom
    angle: float | None
    heads: tuple[Head, ...]
    far_heads: tuple[Head, ...]
    steps: tuple[Step, ...]
    faces: frozenset[str]
    is_cut: bool
    """Whether its wall does not close all round, as where a slot or an edge cuts it open."""
    thread: str = ""
    thread_length: float | None = None
    process: str = ""
    """How it is finished, as "reamed"."""
    is_told: bool = True
    """Whether diameter, depth, bottom and heads say all of its shape."""
    straight: tuple[tuple[float, float], ...] = ()
    """Diameters and depths of its cylinders from the entry on, mm; depth is measured from the entry."""

    @property
    def is_through(self) -> bool:
        """Whether it is open at both ends."""
        return self.depth is None

    @property
    def wall(self) -> tuple[str, ...]:
        """Faces of its narrowest cylinder, where a thread would be."""
        straight = [s for s in self.steps if s.is_straight]
        least = min((s.first for s in straight), default=0.0)
        return tuple(n for s in straight if abs(s.first - least) < 1e-6 for n in s.faces)

    @property
    def is_same_both_ways(self) -> bool:
        """Whether it is the same seen from either end."""
        return self.is_through and self.kind == "plain" and not self.heads and not self.far_heads

    def is_like(self, other: "Hole") -> bool:
        """Whether another hole is equal to it: all words and, within LIKE, all sizes but the length of a
        through hole."""
        if self._words != other._words:
            return False
        return all(abs(a - b) <= LIKE for a, b in zip(self._sizes, other._sizes, strict=True))

    @cached_property
    def _words(self) -> tuple[object, ...]:
        kinds = tuple(h.kind for h in self.heads), tuple(h.kind for h in self.far_heads)
        given = self.depth is None, self.angle is None, self.thread_length is None
        return self.kind, self.bottom, self.thread, self.process, kinds, given, len(self.straight)

    @cached_property
    def _sizes(self) -> list[float]:
        inner = self.straight[:-1] if self.is_through else self.straight
        heads = [v for h in (*self.heads, *self.far_heads) for v in (h.diameter, h.depth, h.angle or 0.0)]
        own = [self.diameter, self.depth or 0.0, self.angle or 0.0, self.thread_length or 0.0]
        return [*own, *heads, *(v for pair in inner for v in pair)]


def equal(found: Sequence[Hole]) -> list[list[int]]:
    """Numbers of holes that are alike and run the same way, through ones also the opposite way."""
    rough: dict[object, list[list[int]]] = defaultdict(list)
    for n, hole in enumerate(found):
        groups = rough[hole._words]
        for group in groups:
            first = found[group[0]]
            along = float(np.dot(hole.direction, first.direction))
            if hole.is_same_both_ways:
                along = abs(along)
            if along > 1 - 1e-8 and hole.is_like(first):
                group.append(n)
                break
        else:
            groups.append([n])
    return sorted(group for groups in rough.values() for group in groups)
