"""What all features besides holes and shafts have: a kind, sizes by name, a place, and their faces."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from drafting.features.body import Array

Kind = Literal[
    "slot",
    "open slot",
    "curved slot",
    "channel",
    "keyway",
    "hub keyway",
    "groove",
    "inner groove",
    "face groove",
    "relief groove",
    "pocket",
    "opening",
    "boss",
    "pad",
    "rib",
    "flat",
    "taper",
    "chamfer",
    "fillet",
    "round",
]
Vec3 = tuple[float, float, float]
Size = Literal[
    "width", "length", "depth", "diameter", "inner", "radius", "angle", "height", "corner", "across"
]
LIKE = 5e-3
"""How far sizes of equal features may differ, mm and degrees."""


@dataclass(frozen=True)
class Feature:
    """A feature of a part, as drawings tell it.

    sizes: by their names, mm, angles in degrees; what goes through has no depth. at: its middle, in the
    part's frame, at the face it is entered by or stands on. direction: into the material, of what stands out
    away from it; the axis of what goes around one. along: the direction of its length, where it has one.
    """

    kind: Kind
    sizes: tuple[tuple[Size, float], ...]
    at: Vec3
    direction: Vec3
    faces: frozenset[str]
    along: Vec3 | None = None

    @cached_property
    def _by_name(self) -> dict[Size, float]:
        return dict(self.sizes)

    def size(self, name: Size) -> float | None:
        """A size by its name; None where it has none."""
        return self._by_name.get(name)

    def is_like(self, other: "Feature") -> bool:
        """Whether another feature is of the same kind and the same sizes."""
        return (
            self.kind == other.kind
            and [n for n, _ in self.sizes] == [n for n, _ in other.sizes]
            and all(abs(a - b) <= LIKE for (_, a), (_, b) in zip(self.sizes, other.sizes, strict=True))
        )


def made(
    kind: Kind,
    sizes: dict[Size, float | None],
    at: Array,
    direction: Array,
    faces: frozenset[str] | set[str],
    along: Array | None = None,
) -> Feature:
    """A feature of arrays; sizes that are None are left out."""
    return Feature(
        kind,
        tuple((name, float(value)) for name, value in sizes.items() if value is not None),
        vec3(at),
        vec3(direction),
        frozenset(faces),
        None if along is None else vec3(along),
    )


def vec3(v: Array) -> Vec3:
    """An array of three as plain numbers, without a minus before a 0."""
    x, y, z = (np.asarray(v, float) + 0.0).tolist()
    return x, y, z


def alike(found: Sequence[Feature]) -> list[list[int]]:
    """Numbers of equal features, together, in the order they come."""
    groups: list[list[int]] = []
    firsts: dict[Kind, list[list[int]]] = {}
    for n, feature in enumerate(found):
        for group in firsts.setdefault(feature.kind, []):
            if feature.is_like(found[group[0]]):
                group.append(n)
                break
        else:
            groups.append([n])
            firsts[feature.kind].append(groups[-1])
    return groups
