"""What a size states of the model, so that two sizes that state the same, wherever they stand, are known as
one.

A length ties two levels of the model along a direction.
"""

from collections.abc import Hashable, Sequence
from dataclasses import dataclass

from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.document import Dimension, Pick
from drafting.views.frame import Array

Level = tuple[Hashable, float]
"""A direction of the model, rounded, and how far along it, mm."""


@dataclass(frozen=True)
class Statement:
    """key: the same for every size that states it; levels: of a length, the two that it ties together."""

    key: Hashable
    levels: tuple[Level, Level] | None = None


def rounded(v: Array) -> tuple[float, ...]:
    """A vector to compare by, without negative zeros."""
    return tuple(float(round(x, 5)) + 0.0 for x in v)


def signless(v: Array) -> Array:
    """A direction and its opposite as one."""
    lead = next((x for x in v if abs(x) > 1e-6), 1.0)
    return v if lead > 0 else -v


def of_circle(c: Round) -> Statement:
    """The radius of whatever is round about an axis."""
    axis = signless(c.axis)
    foot = c.center - axis * float(c.center @ axis)
    return Statement(("circle", rounded(axis), rounded(foot), round(c.radius, 5)))


def of_levels(picks: Sequence[Pick], direction: Array, context: Context) -> Statement:
    """The distance of two picks, or of the ends of one, along a unit direction of the model. Raises SizeError
    where a pick is lost."""
    n = signless(direction)
    things = [located(p, context) for p in picks]
    if len(things) == 1:
        thing = things[0]
        assert isinstance(thing, Straight)
        ends = [thing.a, thing.b]
    else:
        ends = [
            t.a if isinstance(t, Straight) else (t.center if isinstance(t, Round) else t.at) for t in things
        ]
    low, high = sorted(round(float(p @ n), 4) + 0.0 for p in ends)
    d = rounded(n)
    return Statement((d, low, high), ((d, low), (d, high)))


def of_picks(size: Dimension, context: Context) -> Statement:
    """What is taken on the same things of the model."""
    return Statement((size.kind, *(p.model_dump_json() for p in size.picks)))
