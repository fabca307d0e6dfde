"""Each size once: sizes that repeat what another one states, and sizes that follow from others in a closed
chain.

Lengths tie two levels of the model along a direction: they make a graph of levels, in which a size whose
levels are joined already follows from the sizes on the way between them.
"""

from collections.abc import Hashable, Iterable
from functools import partial

from drafting.annotation.measuring.statement import Level, Statement
from drafting.annotation.registry import size_kind
from drafting.context import Context
from drafting.document import Dimension, Drawing, Sheet, view_scale
from drafting.errors import SizeError
from drafting.memory import Memory, digest
from drafting.model.model import Facts

MEASURED_BY = {"kind", "anchor", "direction", "reading", "sector", "leg"}
"""The fields that decide what a size states."""
UNMEASURED = {"position", "label", "letter", "hatches", "lines", "hatch_pattern", "left_whole"}
"""The fields of a view that sizes do not depend on."""
_STATEMENTS: Memory[Statement | None] = Memory(50_000)

Stated = tuple[Dimension, Statement]
Index = dict[Hashable, list[Dimension]]
"""Sizes by what they state."""


def statement_of(size: Dimension, context: Context) -> Statement | None:
    """None where a size states nothing of the model by itself: the zero of ordinates, or one that is lost."""
    states = size_kind(size).states
    try:
        return states(size, context) if states else None
    except SizeError:
        return None


def stated_on(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[Stated]:
    """The sizes of a sheet that count, with what they state: not those for reference, nor those whose words
    replace the value, nor lost ones."""
    contexts = {v.id: Context(drawing, sheet, facts, v) for v in sheet.views}
    keys = {
        v.id: digest(str(view_scale(sheet, v)), v.model_dump_json(exclude=UNMEASURED)) for v in sheet.views
    }
    out = []
    for a in sheet.annotations:
        if not isinstance(a, Dimension) or a.view not in contexts or a.wording.reference or a.wording.own:
            continue
        key = (keys[a.view], digest(a.model_dump_json(include=MEASURED_BY)))
        found = _STATEMENTS.recall(facts, key, partial(statement_of, a, contexts[a.view]))
        if found is not None:
            out.append((a, found))
    return out


def stated(drawing: Drawing, facts: Facts) -> list[Stated]:
    """The sizes of a drawing that count, with what they state."""
    return [found for sheet in drawing.sheets for found in stated_on(drawing, sheet, facts)]


def index(found: Iterable[Stated]) -> Index:
    """Sizes by what they state."""
    out: Index = {}
    for size, statement in found:
        out.setdefault(statement.key, []).append(size)
    return out


def repeats(size: Dimension, context: Context, known: Index) -> Dimension | None:
    """The size of the drawing that states the same already."""
    mine = statement_of(size, context)
    return next((other for other in known.get(mine.key, []) if other.id != size.id), None) if mine else None


def redundant(found: Iterable[Stated]) -> dict[str, list[str]]:
    """Sizes that follow from others, each with those it follows from: one that states the same, or the chain
    between its levels."""
    out: dict[str, list[str]] = {}
    first: dict[Hashable, str] = {}
    ways: dict[Level, list[tuple[Level, str]]] = {}
    for size, statement in found:
        if statement.key in first:
            out[size.id] = [first[statement.key]]
            continue
        first[statement.key] = size.id
        if statement.levels is None:
            continue
        a, b = statement.levels
        chain = _way(ways, a, b)
        if chain is not None:
            out[size.id] = chain
            continue
        ways.setdefault(a, []).append((b, size.id))
        ways.setdefault(b, []).append((a, size.id))
    return out


def _way(ways: dict[Level, list[tuple[Level, str]]], a: Level, b: Level) -> list[str] | None:
    """Ids of the sizes on the shortest way from one level to another; None where there is none."""
    if a not in ways or b not in ways:
        return None
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
