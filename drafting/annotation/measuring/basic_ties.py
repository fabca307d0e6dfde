"""What basic sizes tie together: levels along directions, circles about axes, and directions by angles."""

import math
from collections import defaultdict
from dataclasses import dataclass

import numpy as np

from drafting.annotation.measuring import others
from drafting.context import Context
from drafting.document import Dimension
from drafting.errors import SizeError
from drafting.features.freedom import Situation
from drafting.views.frame import Array

EVEN = 2e-3
"""How far apart levels are that are one, mm."""
SQUARE = 1e-4
TURNED = 1e-4
"""How far apart directions are that are one, radians."""
ALONG = 1 - 1e-6


@dataclass(frozen=True)
class Unlocated:
    """A distance or an angle that no basic size says. letters: of the datum; direction: of the model, (3,);
    of an angle what it turns about; distance: mm, 0 for an angle; datum, feature: (path, face) of the two
    that it is between; ring: of an axis, all (path, face) that lie as far from it; angle: radians, 0 for a
    distance; center: (path, face) of the axis that the datum and the feature lie about."""

    letters: str
    direction: Array
    distance: float
    datum: tuple[str, str]
    feature: tuple[str, str]
    ring: tuple[tuple[str, str], ...] = ()
    angle: float = 0.0
    center: tuple[str, str] | None = None


@dataclass(frozen=True)
class Ties:
    """levels: by direction, pairs of levels that basic sizes tie; rings: basic bolt circles; turns: pairs of
    directions, (3,), that basic angles tie."""

    levels: dict[tuple[float, ...], list[tuple[float, float]]]
    rings: list[others.Measured]
    turns: list[tuple[Array, Array]]


def basic_ties(context: Context) -> Ties:
    """Those of all sheets of a drawing."""
    out = Ties(defaultdict(list), [], [])
    for a, home in context.of_annotations():
        if not isinstance(a, Dimension) or not a.wording.basic:
            continue
        try:
            said, legs = others.measured_of(a, home), others.legs_of(a, home)
        except SizeError:
            continue
        if legs is not None:
            out.turns.append(legs)
        elif said is not None and said.levels is not None:
            (d, low), (_, high) = said.levels
            out.levels[d].append((low, high))  # type: ignore[index]
        elif said is not None and said.is_diameter and len(a.picks) > 1:
            out.rings.append(said)
    return out


def leads(d: Array, a: Situation, b: Situation, ties: Ties) -> bool:
    """Whether ties join two levels. What lies to both sides of a level that is reached, as of a center line,
    is halved by it: that needs no size (common practice)."""
    start, goal = (round(float(np.asarray(s.at) @ d), 3) + 0.0 for s in (a, b))
    pairs = []
    for k, levels in ties.levels.items():
        along = float(np.array(k) @ d)
        if abs(along) > ALONG:
            sign = 1 if along > 0 else -1
            pairs += [(round(sign * low, 3), round(sign * high, 3)) for low, high in levels]
    reached, grown = {start}, True
    while grown:
        grown = False
        for low, high in pairs:
            touches = any(abs(x - y) < EVEN for x in (low, high, (low + high) / 2) for y in reached)
            if touches and not {low, high} <= reached:
                reached |= {low, high}
                grown = True
    return any(abs(goal - x) < EVEN for x in reached)


def turns_to(a: Array, b: Array, ties: Ties, known: list[tuple[Array, Array]] | None = None) -> bool:
    """Whether angles lead from one direction to another in the plane of both. Right angles need no size (ISO
    129-1, ASME Y14.5: an implied 90 degrees). known: directions that are tied by other than sizes."""
    across = np.cross(a, b)
    size = float(np.linalg.norm(across))
    if size < TURNED:
        return True
    across /= size
    side = np.cross(across, a)

    def turn(v: Array) -> float:
        return math.atan2(float(v @ side), float(v @ a)) % (math.pi / 2)

    def is_one(s: float, t: float) -> bool:
        away = abs(s - t)
        return min(away, math.pi / 2 - away) < TURNED

    pairs = [
        (turn(p), turn(q))
        for p, q in [*ties.turns, *(known or [])]
        if abs(float(p @ across)) < SQUARE and abs(float(q @ across)) < SQUARE
    ]
    reached, grown = [0.0], True
    while grown:
        grown = False
        for s, t in pairs:
            has = [any(is_one(x, r) for r in reached) for x in (s, t)]
            if any(has) and not all(has):
                reached += [s, t]
                grown = True
    return any(is_one(turn(b), r) for r in reached)
