"""Feature control frames and datum symbols by the height of lettering h: frames are 2 h high, symbols as ISO
7083 and the appendix of ASME Y14.5 draw them (memory)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from drafting.annotation.measuring.frames import PlaneIndicator
from drafting.ink.elements import XY, Arc, Element, Fill, Line, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.ink.symbols import box
from drafting.standards.characteristics import Characteristic

LINE = "dimension"
HIGH = 2.0
"""Of a row, heights of lettering."""
ASIDE = 0.5
"""Beside the words of a cell, heights of lettering."""
TRIANGLE = 1.0
"""Side of a datum's triangle, heights of lettering."""


@dataclass(frozen=True)
class Cells:
    """A row of a frame: its characteristic and the words of its cells; "" for the characteristic where it is
    one with the row above."""

    characteristic: Characteristic | None
    words: tuple[str, ...]
    indicators: tuple[PlaneIndicator, ...] = ()


def symbol(name: Characteristic, at: XY, h: float) -> list[Element]:
    """The symbol of a characteristic about a place."""
    x, y = at

    def p(u: float, v: float) -> XY:
        return x + u * h, y + v * h

    def line(*points: XY, closed: bool = False) -> Element:
        if len(points) == 2:
            return Line(p(*points[0]), p(*points[1]), LINE)
        return Polyline(tuple(p(*q) for q in points), LINE, closed)

    def circle(r: float, u: float = 0.0, v: float = 0.0) -> Element:
        return Arc(p(u, v), r * h, 0.0, 2 * math.pi, LINE)

    tilt = math.tan(math.radians(30))
    if name == "straightness":
        return [line((-1.0, 0.0), (1.0, 0.0))]
    if name == "flatness":
        return [line((-1.1, -0.5), (0.5, -0.5), (1.1, 0.5), (-0.5, 0.5), closed=True)]
    if name == "circularity":
        return [circle(0.75)]
    if name == "cylindricity":
        c, s = math.cos(math.radians(150)), math.sin(math.radians(150))
        out = [circle(0.5)]
        for side in (1, -1):
            u, v = side * 0.5 * c, side * 0.5 * s
            out.append(line((u - 0.75 * s, v + 0.75 * c), (u + 0.75 * s, v - 0.75 * c)))
        return out
    if name == "profile of a line":
        return [Arc(p(0.0, -0.5), h, 0.0, math.pi, LINE)]
    if name == "profile of a surface":
        return [Arc(p(0.0, -0.5), h, 0.0, math.pi, LINE), line((-1.0, -0.5), (1.0, -0.5))]
    if name == "angularity":
        return [line((1.0, -0.58), (-1.0, -0.58), (1.0, -0.58 + 2 * tilt))]
    if name == "perpendicularity":
        return [line((-1.0, -0.75), (1.0, -0.75)), line((0.0, -0.75), (0.0, 0.75))]
    if name == "parallelism":
        return [line((u - 0.43, -0.75), (u + 0.43, 0.75)) for u in (-0.3, 0.3)]
    if name == "position":
        return [circle(0.6), line((-1.0, 0.0), (1.0, 0.0)), line((0.0, -1.0 + 0.05), (0.0, 1.0 - 0.05))]
    if name == "concentricity":
        return [circle(0.75), circle(0.4)]
    if name == "symmetry":
        return [line((-w, v), (w, v)) for w, v in ((0.6, 0.4), (1.0, 0.0), (0.6, -0.4))]
    arrows = [(-0.6,)] if name == "circular runout" else [(-0.85,), (0.05,)]
    out = []
    for (u,) in arrows:
        tip = (u + 1.1, 0.65)
        out.append(line((u, -0.65), (tip[0] - 0.35, tip[1] - 0.35 * 1.3 / 1.1)))
        d = math.hypot(1.1, 1.3)
        a, b = 1.1 / d, 1.3 / d
        back = (tip[0] - 0.6 * a, tip[1] - 0.6 * b)
        sides = [p(back[0] - s * 0.15 * b, back[1] + s * 0.15 * a) for s in (1, -1)]
        out.append(Fill((p(*tip), *sides), LINE))
    if name == "total runout":
        out.append(line((-0.85, -0.65), (0.05, -0.65)))
    return out


def widths(rows: Sequence[Cells], h: float) -> list[list[float]]:
    """How wide the cells of each row are, mm, the symbol's first."""
    return [[2.6 * h, *(max(HIGH * h, text_width(w, h) + 2 * ASIDE * h) for w in row.words)] for row in rows]


def reach(rows: Sequence[Cells], h: float) -> float:
    """How wide a frame is with the indicators beside it, mm."""
    own = max(sum(w) for w in widths(rows, h))
    return max([own, *(own + sum(indicator(i, (0, 0), h)[1] for i in r.indicators) for r in rows)])


def frame(rows: Sequence[Cells], at: XY, h: float) -> tuple[list[Element], tuple[float, float]]:
    """Rows of a frame with its upper left corner at a place, and its width and height, mm. A symbol stands
    once for the rows that it is common to; cells of rows below each other line up where they are of one
    column."""
    out: list[Element] = []
    left, top = at
    columns = widths(rows, h)
    zone = max(c[1] for c in columns)
    for c in columns:
        c[1] = zone
    for k in range(2, max(len(c) for c in columns)):
        wide = max(c[k] for c in columns if len(c) > k)
        for c in columns:
            if len(c) > k:
                c[k] = wide
    total = max(sum(c) for c in columns)
    n = 0
    while n < len(rows):
        last = n
        while last + 1 < len(rows) and rows[last + 1].characteristic is None:
            last += 1
        high, low = top - n * HIGH * h, top - (last + 1) * HIGH * h
        out.append(Polyline(box(left, low, left + columns[n][0], high)[0], LINE, True))
        name = rows[n].characteristic
        if name is not None:
            out += symbol(name, (left + columns[n][0] / 2, (high + low) / 2), h)
        for k in range(n, last + 1):
            y = top - (k + 1) * HIGH * h
            x = left + columns[k][0]
            for width, words in zip(columns[k][1:], rows[k].words, strict=True):
                out.append(Polyline(box(x, y, x + width, y + HIGH * h)[0], LINE, True))
                out.append(Text((x + width / 2, y + (HIGH - 1) * h / 2), words, h, LINE, align="middle"))
                x += width
            for i in rows[k].indicators:
                drawn, x = indicator(i, (x, y), h)
                out += drawn
        n = last + 1
    return out, (total, len(rows) * HIGH * h)


def indicator(i: PlaneIndicator, at: XY, h: float) -> tuple[list[Element], float]:
    """An indicator whose lower left corner is at a place, and where it ends: two cells, pointed at the left
    for an intersection plane, at both ends for an orientation plane, behind an arrow for a direction, behind
    a circle for a collection plane (ISO 1101, figures of 14 to 17; memory)."""
    x, y = at[0] + 0.4 * h, at[1]
    tall, middle = HIGH * h, at[1] + HIGH * h / 2
    wide, letters = 2.6 * h, max(HIGH * h, text_width(i.letters, h) + 2 * ASIDE * h)
    out: list[Element] = []
    if i.kind == "direction feature":
        out += [Line((x, middle), (x + 1.2 * h, middle), LINE)]
        out.append(
            Fill(((x, middle), (x + 0.6 * h, middle + 0.15 * h), (x + 0.6 * h, middle - 0.15 * h)), LINE)
        )
        x += 1.2 * h
    elif i.kind == "collection plane":
        out.append(Arc((x + tall / 2, middle), tall / 2, 0.0, 2 * math.pi, LINE))
        x += tall
    else:
        point = (x, middle)
        x += h
        out.append(Polyline(((x, y + tall), point, (x, y)), LINE))
    for width in (wide, letters):
        out.append(Polyline(box(x, y, x + width, y + tall)[0], LINE, True))
        if width is wide:
            out += symbol(i.relation, (x + width / 2, middle), h)
        else:
            out.append(Text((x + width / 2, y + (HIGH - 1) * h / 2), i.letters, h, LINE, align="middle"))
        x += width
    if i.kind == "orientation plane":
        out.append(Polyline(((x, y + tall), (x + h, middle), (x, y)), LINE))
        x += h
    return out, x


def datum_symbol(foot: XY, outward: XY, to: XY, letter: str, h: float, filled: bool) -> list[Element]:
    """A datum's triangle on a line at foot, its point outward (unit), joined to a box with the letter in the
    middle of `to`, mm."""
    side, tall = TRIANGLE * h, TRIANGLE * h * math.sin(math.radians(60))
    u, along = outward, (-outward[1], outward[0])
    apex = (foot[0] + u[0] * tall, foot[1] + u[1] * tall)
    corners = (
        (foot[0] + along[0] * side / 2, foot[1] + along[1] * side / 2),
        (foot[0] - along[0] * side / 2, foot[1] - along[1] * side / 2),
        apex,
    )
    half = max(HIGH * h, text_width(letter, h) + 2 * ASIDE * h) / 2
    out: list[Element] = [Fill(corners, LINE) if filled else Polyline(corners, LINE, True)]
    reach = (to[0] - apex[0]) * u[0] + (to[1] - apex[1]) * u[1]
    bend = (apex[0] + u[0] * max(reach, 0.0), apex[1] + u[1] * max(reach, 0.0))
    off = math.hypot(to[0] - bend[0], to[1] - bend[1])
    if off < half and reach > 0:  # the box stands in line with the triangle where it nearly does
        to, off = bend, 0.0
    path = [apex, to] if off < 0.05 * h or reach <= 0 else [apex, bend, to]
    path[-1] = _to_border(path[-2], to, half, HIGH * h / 2)
    if math.dist(path[-2], path[-1]) < 1e-9:
        path.pop()
    if len(path) == 2:
        out.append(Line(path[0], path[1], LINE))
    elif len(path) > 2:
        out.append(Polyline(tuple(path), LINE))
    out.append(
        Polyline(box(to[0] - half, to[1] - HIGH * h / 2, to[0] + half, to[1] + HIGH * h / 2)[0], LINE, True)
    )
    out.append(Text((to[0], to[1] - h / 2), letter, h, LINE, align="middle"))
    return out


def _to_border(start: XY, middle: XY, half: float, tall: float) -> XY:
    """Where a line to the middle of a box meets its border; its start where that lies within."""
    dx, dy = start[0] - middle[0], start[1] - middle[1]
    if abs(dx) <= half and abs(dy) <= tall:
        return start
    t = min(half / abs(dx) if dx else math.inf, tall / abs(dy) if dy else math.inf)
    return middle[0] + dx * t, middle[1] + dy * t
