"""The symbol of a weld by the height of lettering: ISO 2553, system A, with its dashed line, and AWS A2.4
(proportions: memory)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array
from drafting.ink.elements import Arc, Element, Fill, Line, Polyline, Text
from drafting.ink.lettering import text_width

DASHED = 0.45
"""Between the reference line and the dashed one, heights of lettering."""
DASH, SPACE = 0.8, 0.4
"""Of the dashed line, heights of lettering."""
LOW = ("back run", "surfacing", "spot", "seam")
"""Welds whose surface has no sign of its own."""
TAIL = 0.9
"""How far the tail opens above and below its line, heights of lettering."""


@dataclass(frozen=True)
class Side:
    """What stands on one side of the line: the weld, what is said before it and after it, and its contour."""

    form: str
    before: str = ""
    after: str = ""
    contour: str = "as welded"


def _lines(*paths: Sequence[tuple[float, float]]) -> list[Element]:
    return [Polyline(tuple(p), LINE_KIND) if len(p) > 2 else Line(p[0], p[1], LINE_KIND) for p in paths]


def _arc(x: float, y: float, r: float, first: float, last: float) -> Element:
    return Arc((x, y), r, math.radians(first), math.radians(last), LINE_KIND)


def elementary(form: str, h: float) -> tuple[list[Element], float]:
    """A weld's own symbol on a line at height 0, from the left, and how wide it is, mm; h: of lettering."""
    if form == "fillet":
        return _lines([(0, 0), (0, h), (h, 0)]), h
    if form == "square":
        return _lines([(0, 0), (0, h)], [(0.5 * h, 0), (0.5 * h, h)]), 0.5 * h
    if form == "V":
        return _lines([(0, h), (0.5 * h, 0), (h, h)]), h
    if form == "bevel":
        return _lines([(0, 0), (0, h)], [(0, 0), (0.7 * h, h)]), 0.7 * h
    if form == "Y":
        return _lines([(0.5 * h, 0), (0.5 * h, 0.45 * h)], [(0, h), (0.5 * h, 0.45 * h), (h, h)]), h
    if form == "U":
        stem = _lines([(0.4 * h, 0), (0.4 * h, 0.5 * h)])
        return [*stem, _arc(0.4 * h, 0.9 * h, 0.4 * h, 180, 360)], 0.8 * h
    if form == "J":
        return [*_lines([(0, 0), (0, h)]), _arc(0, 0.9 * h, 0.5 * h, 270, 360)], 0.5 * h
    if form == "flare V":
        return [_arc(-0.1 * h, 0.5 * h, 0.5 * h, -80, 80), _arc(1.1 * h, 0.5 * h, 0.5 * h, 100, 260)], h
    if form == "flare bevel":
        return [*_lines([(0, 0), (0, h)]), _arc(0.7 * h, 0.5 * h, 0.5 * h, 100, 260)], 0.65 * h
    if form == "plug":
        return _lines([(0, 0), (0, 0.6 * h), (h, 0.6 * h), (h, 0)]), h
    if form == "spot":
        return [_arc(0.5 * h, 0, 0.5 * h, 0, 360)], h
    if form == "seam":
        bars = _lines(
            [(-0.15 * h, 0.2 * h), (1.15 * h, 0.2 * h)], [(-0.15 * h, -0.2 * h), (1.15 * h, -0.2 * h)]
        )
        return [_arc(0.5 * h, 0, 0.5 * h, 0, 360), *bars], h
    if form == "edge":
        return _lines(*([(x * h, 0), (x * h, 0.8 * h)] for x in (0, 0.3, 0.6))), 0.6 * h
    if form == "surfacing":
        return [_arc(0.3 * h, 0, 0.3 * h, 0, 180), _arc(0.9 * h, 0, 0.3 * h, 0, 180)], 1.2 * h
    return [_arc(0.45 * h, 0, 0.45 * h, 0, 180)], 0.9 * h  # back run


def _contour(kind: str, wide: float, h: float) -> list[Element]:
    """The surface of a weld, over its symbol."""
    y, middle = 1.15 * h, wide / 2
    if kind == "flat":
        return _lines([(middle - 0.45 * h, y), (middle + 0.45 * h, y)])
    if kind == "convex":
        return [_arc(middle, y - 0.4 * h, 0.55 * h, 45, 135)]
    if kind == "concave":
        return [_arc(middle, y + 0.55 * h, 0.55 * h, 225, 315)]
    return []


def _side(side: Side, x: float, y: float, way: float, h: float) -> list[Element]:
    """A side's symbol and words from x on, on a line at height y; way: 1 above it, -1 below."""
    found, wide = elementary(side.form, h)
    surface = _contour(side.contour, wide, h) if side.form not in LOW else []
    out = _placed([*found, *surface], x, y, way)
    base = y + 0.15 * h if way > 0 else y - 1.15 * h
    if side.before:
        out.append(Text((x - 0.25 * h, base), side.before, h, LINE_KIND, "right"))
    if side.after:
        out.append(Text((x + wide + 0.3 * h, base), side.after, h, LINE_KIND))
    return out


def _placed(elements: list[Element], x: float, y: float, way: float) -> list[Element]:
    """Elements moved to a place, turned over about a level line where way is -1."""
    out: list[Element] = []
    for e in elements:
        if isinstance(e, Line):
            out.append(Line((x + e.a[0], y + way * e.a[1]), (x + e.b[0], y + way * e.b[1]), e.line))
        elif isinstance(e, Polyline):
            out.append(Polyline(tuple((x + a, y + way * b) for a, b in e.points), e.line, e.closed))
        elif isinstance(e, Arc):
            first, last = (e.first, e.last) if way > 0 else (-e.last, -e.first)
            out.append(Arc((x + e.center[0], y + way * e.center[1]), e.radius, first, last, e.line))
    return out


def width(sides: Sequence[Side], h: float) -> tuple[float, float, float]:
    """How long what stands before the symbols, the symbols and what stands after them are, mm."""
    before = max((text_width(s.before, h) for s in sides), default=0.0)
    own = max((elementary(s.form, h)[1] for s in sides), default=0.0)
    after = max((text_width(s.after, h) for s in sides), default=0.0)
    return before, own, after


def weld_ink(
    at: Array,
    side: float,
    arrow: Side,
    other: Side | None,
    tail: str,
    *,
    around: bool,
    field: bool,
    staggered: bool,
    is_aws: bool,
    h: float,
) -> list[Element]:
    """The reference line from where the arrow line meets it, with all that stands on it. side: 1 to the
    right, -1 to the left; is_aws: the arrow side below the line and no dashed one."""
    sides = [arrow] if other is None else [arrow, other]
    before, own, after = width(sides, h)
    long = (
        1.0 * h + (before + 0.3 * h if before else 0.0) + own + (after + 0.6 * h if after else 0.0) + 1.2 * h
    )
    x0 = float(at[0]) if side > 0 else float(at[0]) - long
    y = float(at[1])
    out: list[Element] = [Line((x0, y), (x0 + long, y), LINE_KIND)]
    start = x0 + 1.0 * h + (before + 0.3 * h if before else 0.0)
    shift = 0.6 * own if staggered else 0.0
    up = -1.0 if is_aws else 1.0
    dashed = not is_aws and other is None
    out += _side(arrow, start - shift / 2, y, up, h)
    if other is not None:
        out += _side(other, start + shift / 2, y, -up, h)
    if dashed:
        step, x = (DASH + SPACE) * h, x0
        while x < x0 + long - 1e-9:
            end = min(x + DASH * h, x0 + long)
            out.append(Line((x, y - DASHED * h), (end, y - DASHED * h), LINE_KIND))
            x += step
    if around:
        out.append(Arc((float(at[0]), y), 0.4 * h, 0.0, 2 * math.pi, LINE_KIND))
    if field:
        foot = np.array([float(at[0]), y])
        top = foot + [0.0, 1.9 * h]
        out.append(Line((foot[0], foot[1]), (top[0], top[1]), LINE_KIND))
        flag = (top, top + [side * 0.9 * h, -0.35 * h], top + [0.0, -0.7 * h])
        out.append(Fill(tuple((float(p[0]), float(p[1])) for p in flag), LINE_KIND))
    if tail:
        end = x0 + long if side > 0 else x0
        for way in (1.0, -1.0):
            out.append(Line((end, y), (end + side * TAIL * h, y + way * TAIL * h), LINE_KIND))
        place = (end + side * (TAIL + 0.2) * h, y - h / 2)
        out.append(Text(place, tail, h, LINE_KIND, "left" if side > 0 else "right"))
    return out
