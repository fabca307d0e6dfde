"""Boundaries of a toleranced feature of size, and what its measured size adds to its tolerance (ASME
Y14.5-2018, 5.9 and figures 5-11 ff.; ISO 2692; formulas from memory). All mm."""

from dataclasses import dataclass
from typing import Literal

from drafting.errors import SizeError

Modifier = Literal["", "M", "L"]


@dataclass(frozen=True)
class Sized:
    """A feature of size: its least and greatest size, and whether it is a hole or a slot."""

    least: float
    most: float
    is_internal: bool

    @property
    def maximum_material(self) -> float:
        """Its size with the most material."""
        return self.least if self.is_internal else self.most

    @property
    def least_material(self) -> float:
        """Its size with the least material."""
        return self.most if self.is_internal else self.least


@dataclass(frozen=True)
class Boundaries:
    """virtual: the boundary that stays what it is whatever the size, None regardless of feature size; inner,
    outer: what lies within and what encloses all that is allowed; bonus: the most that the size adds."""

    virtual: float | None
    inner: float
    outer: float
    bonus: float


def boundaries(feature: Sized, tolerance: float, modifier: Modifier) -> Boundaries:
    """The boundaries of a feature with a tolerance of its axis or median plane."""
    bonus = feature.most - feature.least if modifier else 0.0
    if modifier == "M":
        out = feature.maximum_material + (-tolerance if feature.is_internal else tolerance)
        other = feature.least_material + (tolerance + bonus) * (1 if feature.is_internal else -1)
    elif modifier == "L":
        out = feature.least_material + (tolerance if feature.is_internal else -tolerance)
        other = feature.maximum_material - (tolerance + bonus) * (1 if feature.is_internal else -1)
    else:
        return Boundaries(None, feature.least - tolerance, feature.most + tolerance, 0.0)
    return Boundaries(out, min(out, other), max(out, other), bonus)


def allowed(feature: Sized, tolerance: float, modifier: Modifier, measured: float) -> float:
    """The tolerance at a measured size: with what it is away from its material condition. Raises SizeError
    for a size out of its limits."""
    if not feature.least - 1e-9 <= measured <= feature.most + 1e-9:
        raise SizeError("The measured size is out of limits.")
    if not modifier:
        return tolerance
    at = feature.maximum_material if modifier == "M" else feature.least_material
    return tolerance + abs(measured - at)


def bonus_table(
    feature: Sized, tolerance: float, modifier: Modifier, rows: int = 5
) -> list[tuple[float, float]]:
    """Sizes from the condition that the modifier names to the other, and the tolerance at each."""
    first = feature.least_material if modifier == "L" else feature.maximum_material
    last = feature.maximum_material if modifier == "L" else feature.least_material
    sizes = [first + (last - first) * n / (rows - 1) for n in range(rows)]
    return [(s, allowed(feature, tolerance, modifier, s)) for s in sizes]
