"""Each size once: sizes that say what another one says already, and sizes that follow from others in a closed chain.

A length ties two levels of the model along a direction: sizes along one direction make a graph of levels, in which a size whose levels are
joined already follows from the sizes on the way between them.
"""

from collections.abc import Hashable, Iterable
from dataclasses import dataclass
from functools import partial

import numpy as np

from drafting.annotation import angles, distances
from drafting.annotation.measure import located
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import Array, ViewFrame
from drafting.document import AngleDimension, Dimension, Drawing, LinearDimension, OrdinateDimension, Sheet, View, view_scale
from drafting.errors import SizeError
from drafting.memory import Memory, digest
from drafting.model.model import Facts

Level = tuple[Hashable, float]


@dataclass(frozen=True)
class Said:
    """What a size says of the model: a key that is the same for every size that says it; for lengths the two levels it ties together."""

    key: Hashable
    levels: tuple[Level, Level] | None = None


def said(size: Dimension, facts: Facts, frame: ViewFrame) -> Said | None:
    """None where the size says nothing of the model by itself: the zero of ordinates, or one that is lost."""
    try:
        if isinstance(size, LinearDimension):
            return _length(size, facts, frame)
        if isinstance(size, OrdinateDimension):
            return _tied(size.picks, frame.matrix[0 if size.direction == "horizontal" else 1], facts, frame) if len(size.picks) > 1 else None
        if isinstance(size, AngleDimension):
            found = angles.measured(size, facts, frame)
            legs = sorted(_rounded(v) for v in (_signless(found.one), _signless(found.two)))
            return Said(("angle", tuple(legs), round(found.sweep, 6)))
        if size.kind in ("diameter", "radius"):
            return _circle(distances.circle(size.picks[0], facts, frame))
    except SizeError:
        return None
    return Said((size.kind, *(p.model_dump_json() for p in size.picks)))


def _rounded(v: Array) -> tuple[float, ...]:
    return tuple(float(round(x, 5)) + 0.0 for x in v)


def _signless(v: Array) -> Array:
    """A direction and its opposite are the same."""
    lead = next((x for x in v if abs(x) > 1e-6), 1.0)
    return v if lead > 0 else -v


def _circle(c: Round) -> Said:
    axis = _signless(c.axis)
    foot = c.center - axis * float(c.center @ axis)
    return Said(("circle", _rounded(axis), _rounded(foot), round(c.radius, 5)))


def _length(size: LinearDimension, facts: Facts, frame: ViewFrame) -> Said | None:
    found = distances.measured(size, facts, frame)
    if found.diameter:
        axis = np.cross(frame.matrix[2], frame.matrix[0] * found.direction[0] + frame.matrix[1] * found.direction[1])
        thing = located(size.picks[0], facts, frame)
        if len(size.picks) == 1 and isinstance(thing, Straight) and (size.picks[0].role == "silhouette"):
            from drafting.annotation.measure import axis_of

            line = axis_of(size.picks[0], facts, frame)[0]
            return _circle(Round(line.a, line.direction, line.direction, found.value / 2))
        middle = (thing.a + thing.b) / 2 if isinstance(thing, Straight) else np.zeros(3)
        return _circle(Round(middle, axis, axis, found.value / 2))
    if found.edge is not None:
        n = found.edge / np.linalg.norm(found.edge)
    else:
        n = frame.matrix[0] * found.direction[0] + frame.matrix[1] * found.direction[1]
    if size.reading in ("nearest", "farthest", "half"):
        return Said((size.reading, _rounded(_signless(n)), *sorted(p.model_dump_json() for p in size.picks)))
    return _tied(size.picks, n, facts, frame)


def _tied(picks: list, n: Array, facts: Facts, frame: ViewFrame) -> Said:  # type: ignore[type-arg]
    n = _signless(n)
    things = [located(p, facts, frame) for p in picks]
    if len(things) == 1:
        thing = things[0]
        assert isinstance(thing, Straight)
        ends = [thing.a, thing.b]
    else:
        ends = [t.a if isinstance(t, Straight) else (t.center if isinstance(t, Round) else t.at) for t in things]
    low, high = sorted(round(float(p @ n), 4) + 0.0 for p in ends)
    d = _rounded(n)
    return Said((d, low, high), ((d, low), (d, high)))


TAKEN_ON = {"kind", "picks", "direction", "reading", "sector", "leg"}
LOOKS = {"position", "label", "letter", "hatches", "lines", "hatch_pattern", "left_whole"}
"""What a view is told apart by besides what sizes measure in it."""


_STATEMENTS: Memory["Said | None"] = Memory(50_000)


def all_said(drawing: Drawing, facts: Facts) -> Iterable[tuple[Dimension, Said]]:
    """All sizes of a drawing that count, with what they say: not those for reference, nor those whose words replace the value, nor lost ones."""
    for sheet in drawing.sheets:
        views = {v.id: v for v in sheet.views}
        keys = {v.id: digest(str(view_scale(sheet, v)), v.model_dump_json(exclude=LOOKS)) for v in sheet.views}
        for a in sheet.annotations:
            if not isinstance(a, Dimension) or a.view not in views or a.wording.reference or a.wording.own:
                continue
            key = (keys[a.view], digest(a.model_dump_json(include=TAKEN_ON)))
            found = _STATEMENTS.recall(facts, key, partial(_said_in, a, sheet, views[a.view], facts))
            if found is not None:
                yield a, found


def _said_in(size: Dimension, sheet: Sheet, view: View, facts: Facts) -> Said | None:
    return said(size, facts, ViewFrame.of(view, facts, view_scale(sheet, view).factor))


Index = dict[Hashable, list[Dimension]]


def index(drawing: Drawing, facts: Facts) -> Index:
    """The sizes of a drawing by what they say."""
    out: Index = {}
    for size, found in all_said(drawing, facts):
        out.setdefault(found.key, []).append(size)
    return out


def repeats(size: Dimension, frame: ViewFrame, known: Index, facts: Facts) -> Dimension | None:
    """The size of the drawing that says the same already."""
    mine = said(size, facts, frame)
    return next((other for other in known.get(mine.key, []) if other.id != size.id), None) if mine else None


def redundant(drawing: Drawing, facts: Facts) -> dict[str, list[str]]:
    """Sizes that follow from others, each with those it follows from: one that says the same, or the chain between its levels."""
    out: dict[str, list[str]] = {}
    first: dict[Hashable, str] = {}
    ways: dict[Level, list[tuple[Level, str]]] = {}
    for size, found in all_said(drawing, facts):
        if found.key in first:
            out[size.id] = [first[found.key]]
            continue
        first[found.key] = size.id
        if found.levels is None:
            continue
        a, b = found.levels
        chain = _way(ways, a, b)
        if chain is not None:
            out[size.id] = chain
            continue
        ways.setdefault(a, []).append((b, size.id))
        ways.setdefault(b, []).append((a, size.id))
    return out


def _way(ways: dict[Level, list[tuple[Level, str]]], a: Level, b: Level) -> list[str] | None:
    """Ids of the sizes on the shortest way from one level to another; None where there is none."""
    came: dict[Level, tuple[Level, str] | None] = {a: None}
    front = [a]
    while front and b not in came:
        ahead = []
        for level in front:
            for other, key in ways.get(level, []):
                if other not in came:
                    came[other] = (level, key)
                    ahead.append(other)
        front = ahead
    if b not in came:
        return None
    out: list[str] = []
    step = came[b]
    while step is not None:
        out.append(step[1])
        step = came[step[0]]
    return out[::-1]
