"""The symbol of surface texture by the height of lettering (ISO 21920-1, ISO 1302 and ASME Y14.36: legs of
1.4 and at least 3 heights, at 60 degrees; memory)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from drafting.ink.elements import XY, Arc, Element, Line, Polyline, Text
from drafting.ink.lettering import text_width

SHORT, LONG = 1.4, 3.0
"""Heights of the short and the long leg, heights of lettering."""
ROW = 1.5
"""From row to row of what stands under the line, heights of lettering."""
LEAN = 1 / math.tan(math.radians(60))
LINE = "dimension"
Removal = Literal["any", "required", "not allowed"]


@dataclass(frozen=True)
class Marks:
    """What stands at a symbol: rows under its line, above it, the lay and the allowance; and whether it holds
    all around."""

    rows: Sequence[str] = ()
    above: str = ""
    lay: str = ""
    allowance: str = ""
    around: bool = False


@dataclass(frozen=True)
class Symbol:
    """Ink of a symbol about its foot, and how far it reaches to the left, to the right and up, mm."""

    elements: list[Element]
    left: float
    right: float
    high: float


def symbol(removal: Removal, marks: Marks, h: float) -> Symbol:
    """The symbol upright with its foot at the origin, mm. h: height of lettering."""
    short = SHORT * h
    high = max(LONG, 1.5 + ROW * len(marks.rows)) * h
    tip = (LEAN * high, high)
    out: list[Element] = [Polyline(((-LEAN * short, short), (0.0, 0.0), tip), LINE)]
    if removal == "required":
        out.append(Line((-LEAN * short, short), (LEAN * short, short), LINE))
    elif removal == "not allowed":
        out.append(Arc((0.0, 2 * short / 3), short / 3, 0.0, 2 * math.pi, LINE))
    start = tip[0] + 0.2 * h
    right = tip[0]
    for n, text in enumerate(marks.rows):
        out.append(Text((start, high - (1.4 + ROW * n) * h), text, h, LINE))
        right = max(right, start + text_width(text, h) + 0.2 * h)
    if marks.above:
        out.append(Text((start, high + 0.4 * h), marks.above, h, LINE))
        right = max(right, start + text_width(marks.above, h) + 0.2 * h)
    if marks.rows or marks.above:
        out.append(Line(tip, (right, high), LINE))
    if marks.around:
        out.append(Arc(tip, 0.4 * h, 0.0, 2 * math.pi, LINE))
    if marks.lay:
        out += _lay(marks.lay, (0.95 * h, 0.0), h)
        right = max(right, 2.2 * h)
    left = LEAN * short
    if marks.allowance:
        wide = text_width(marks.allowance, h)
        out.append(Text((-0.9 * h - wide, 0.2 * h), marks.allowance, h, LINE))
        left = max(left, 0.9 * h + wide)
    return Symbol(out, left, right, high + (1.5 * h if marks.above else 0.0))


def _lay(lay: str, at: XY, h: float) -> list[Element]:
    """The sign of a lay with its lower left corner at a place."""
    x, y = at
    if lay == "⊥":
        return [
            Line((x, y), (x + h, y), LINE),
            Line((x + h / 2, y), (x + h / 2, y + h), LINE),
        ]
    return [Text((x, y), lay, h, LINE)]


def turned(found: Symbol, foot: XY, angle: float) -> list[Element]:
    """A symbol with its foot at a place, turned counterclockwise, radians."""
    c, s = math.cos(angle), math.sin(angle)

    def at(p: XY) -> XY:
        return foot[0] + p[0] * c - p[1] * s, foot[1] + p[0] * s + p[1] * c

    out: list[Element] = []
    for e in found.elements:
        if isinstance(e, Polyline):
            out.append(Polyline(tuple(map(at, e.points)), e.line, e.closed))
        elif isinstance(e, Line):
            out.append(Line(at(e.a), at(e.b), e.line))
        elif isinstance(e, Arc):
            out.append(Arc(at(e.center), e.radius, e.first, e.last, e.line))
        elif isinstance(e, Text):
            out.append(Text(at(e.at), e.text, e.height, e.line, e.align, angle))
    return out
