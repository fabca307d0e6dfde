"""What a chain of sizes adds up to: worst case, root sum square, and by drawing lots (common practice)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

SIGMAS = 3.0
"""How many standard deviations of a link lie between its middle and its limits."""
LOTS = 200_000


@dataclass(frozen=True)
class Link:
    """A size that the gap depends on. nominal: mm; upper, lower: its deviations; sensitivity: how far the gap
    grows for each mm of it, 0.5 for a diameter that counts by its radius."""

    nominal: float
    upper: float
    lower: float
    sensitivity: float

    @property
    def middle(self) -> float:
        """Its size in the middle of its limits."""
        return self.nominal + (self.upper + self.lower) / 2

    @property
    def half(self) -> float:
        """Half of its tolerance."""
        return (self.upper - self.lower) / 2

    @property
    def pays(self) -> float:
        """Half of what its tolerance does to the gap."""
        return abs(self.sensitivity) * self.half


@dataclass(frozen=True)
class Range:
    """From and to, mm."""

    least: float
    most: float

    def holds(self, least: float | None, most: float | None) -> bool:
        """Whether it lies within what is required; None asks for nothing on that side."""
        return (least is None or self.least >= least - 1e-9) and (most is None or self.most <= most + 1e-9)


@dataclass(frozen=True)
class Lots:
    """Of gaps that were drawn by lots: their middle, standard deviation, the range of all but 0.27 %, and
    the share that is within what is required."""

    middle: float
    deviation: float
    range: Range
    share: float


def nominal(links: Sequence[Link]) -> float:
    """The gap where every size is what it is named."""
    return sum(k.sensitivity * k.nominal for k in links)


def middle(links: Sequence[Link]) -> float:
    """The gap where every size is in the middle of its limits."""
    return sum(k.sensitivity * k.middle for k in links)


def worst_case(links: Sequence[Link]) -> Range:
    """The gap with every size at the limit that makes it least, and most."""
    at, off = middle(links), sum(k.pays for k in links)
    return Range(at - off, at + off)


def root_sum_square(links: Sequence[Link]) -> Range:
    """The gap with tolerances that add up as independent ones do."""
    at, off = middle(links), math.sqrt(sum(k.pays**2 for k in links))
    return Range(at - off, at + off)


def by_lots(
    links: Sequence[Link],
    least: float | None = None,
    most: float | None = None,
    seed: int = 1,
    even: bool = False,
    lots: int = LOTS,
) -> Lots:
    """The gap of so many assemblies, each size drawn about its middle, its limits SIGMAS deviations away and
    nothing beyond them, or evenly within its limits. The same seed draws the same."""
    draw = np.random.default_rng(seed)
    gap = np.full(lots, middle(links))
    for k in links:
        if k.pays == 0:
            continue
        if even:
            off = draw.uniform(-1, 1, lots)
        else:
            off = draw.normal(0, 1 / SIGMAS, lots)
            beyond = np.abs(off) > 1
            while beyond.any():
                off[beyond] = draw.normal(0, 1 / SIGMAS, int(beyond.sum()))
                beyond = np.abs(off) > 1
        gap += k.sensitivity * k.half * off
    low, high = np.quantile(gap, (0.00135, 0.99865))
    inside = np.ones(lots, bool)
    if least is not None:
        inside &= gap >= least - 1e-9
    if most is not None:
        inside &= gap <= most + 1e-9
    return Lots(float(gap.mean()), float(gap.std()), Range(float(low), float(high)), float(inside.mean()))


def shares(links: Sequence[Link]) -> list[float]:
    """What each link's tolerance has of all of them in the worst case, 0 to 1."""
    whole = sum(k.pays for k in links)
    return [k.pays / whole if whole else 0.0 for k in links]
