"""Underlays: drawings of old (DXF) beneath a view or on the sheet, to be drawn over, sized and compared."""

import math
from dataclasses import replace
from typing import Any

import numpy as np

from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.points import PickPoint
from drafting.annotation.measuring.underlays import Underlay, piece_of
from drafting.context import Context
from drafting.data import Point
from drafting.document import Pick, anchored
from drafting.errors import SizeError
from drafting.ink.elements import Arc, Element, Line, Polyline, Text
from drafting.placed.underlay import ARC, LINE, UNITS, pieces
from drafting.views.geometry import ViewCurve

INK = "underlay"
"""Its kind of line: thin, on a layer of its own."""
MOST_SHOWN = 4000
"""Pieces that are shown as lines; more are a picture."""


def ink(a: Underlay, context: Context) -> list[Element]:
    """Nothing by itself: the desk shows it as a picture and as lines, files by `in_files`. Raises SizeError
    where its file is gone."""
    _ = a.lines
    return []


def in_files(a: Underlay, context: Context) -> list[Element]:
    """Its lines and text, paper mm about the context's origin, where it is to be printed."""
    if not a.printed:
        return []
    lines, scale = a.lines, context.scale

    def paper(x: float, y: float) -> tuple[float, float]:
        p = context.frame.drawn(np.array([x, y]))
        return float(p[0]) * scale, float(p[1]) * scale

    shown = lines.shown(a.off)
    out: list[Element] = []
    for _, kind, v in pieces(lines, np.flatnonzero(shown).tolist(), a.lie):
        if kind == ARC:
            out.append(Arc(paper(v[0], v[1]), v[2] * scale, v[3], v[4], INK))
        elif kind == LINE:
            out.append(Line(paper(v[0], v[1]), paper(v[2], v[3]), INK))
        else:
            out.append(Polyline(tuple(paper(x, y) for x, y in zip(v[::2], v[1::2], strict=True)), INK))
    for w in words_within(a, (-math.inf, -math.inf), (math.inf, math.inf), context):
        out.append(replace(w, at=(w.at[0] * scale, w.at[1] * scale), height=w.height * scale))
    return out


def window(
    a: Underlay, low: tuple[float, float], high: tuple[float, float], context: Context
) -> tuple[list[ViewCurve], bool]:
    """What of an underlay lies within a box of its plane, as what can be picked (role "underlay"), and
    whether that is more than is shown as lines: then there is none."""
    corners = [a.lie.back(x, y) for x in (low[0], high[0]) for y in (low[1], high[1])]
    box = np.array(corners)
    numbers = a.lines.within(box.min(0), box.max(0), a.off)
    if len(numbers) > MOST_SHOWN:
        return [], True
    out = []
    for n, kind, v in pieces(a.lines, numbers.tolist(), a.lie):
        names: dict[int, Any] = {LINE: "line", ARC: "arc"}
        out.append(
            ViewCurve(
                kind=names.get(kind, "polyline"),
                data=_drawn(kind, v, context),
                edge_class="sharp",
                visible=True,
                instance=0,
                source=f"{a.id}#{n}",
                role="underlay",
                feature="",
            )
        )
    return out, False


def words_within(
    a: Underlay, low: tuple[float, float], high: tuple[float, float], context: Context
) -> list[Text]:
    """Text of an underlay on layers that are shown that begins within a box of its plane; in plane mm, as
    drawn."""
    hidden = {n for n, name in enumerate(a.lines.names) if name in set(a.off)}
    out = []
    for w in a.lines.words:
        x, y = a.lie.placed(LINE, [w.x, w.y])
        if w.layer in hidden or not (low[0] <= x <= high[0] and low[1] <= y <= high[1]):
            continue
        at = context.frame.drawn(np.array([x, y]))
        angle = w.angle + math.radians(a.angle)
        out.append(Text((float(at[0]), float(at[1])), w.text, w.height * a.unit, INK, "left", angle))
    return out


def _drawn(kind: int, v: list[float], context: Context) -> list[float]:
    if context.frame.warp is None:
        return v
    if kind == ARC:
        x, y = context.frame.drawn(np.array(v[:2]))
        return [float(x), float(y), *v[2:]]
    return [float(w) for p in zip(v[::2], v[1::2], strict=True) for w in context.frame.drawn(np.array(p))]


def points(curves: list[ViewCurve]) -> list[PickPoint]:
    """Ends, middles and centers of what is shown of an underlay."""
    out = []
    for c in curves:
        d = c.data
        places: list[tuple[Any, float, float]] = []
        if c.kind == "line":
            places = [("start", d[0], d[1]), ("end", d[2], d[3])]
        elif c.kind == "arc":
            places = [("center", d[0], d[1])]
            if d[4] - d[3] < 2 * math.pi - 1e-9:
                ends = zip(("start", "end"), d[3:5], strict=True)
                places += [(n, d[0] + d[2] * math.cos(t), d[1] + d[2] * math.sin(t)) for n, t in ends]
        for point, x, y in places:
            pick = Pick(instance="", source=c.source, role="underlay", point=point)
            out.append(PickPoint("center" if point == "center" else "end", pick, x, y))
    return out


def propose(request: Request, context: Context) -> Underlay:
    """An underlay with its lower left corner at the pointer. settings: `file`, `name`, and `unit`: what a
    unit of the file is. Raises SizeError."""
    file, unit = str(request.settings.get("file", "")), str(request.settings.get("unit", ""))
    if len(file) != 64:
        raise SizeError("Choose a DXF file first.")
    if unit not in UNITS:
        raise SizeError("The file does not say its units; choose them first.")
    x, y = (v / context.scale for v in request.pointer)
    at = context.frame.undrawn((x, y))
    return Underlay(
        id=request.identity,
        anchor=anchored(context.view_id),
        file=file,
        name=str(request.settings.get("name", ""))[:120],
        position=Point(x=round(at[0], 6), y=round(at[1], 6)),
        unit=UNITS[unit],
    )


def scaled(request: Request, context: Context) -> Underlay:
    """The underlay that two of its points were picked on, so large that they lie `distance` apart (settings,
    mm); the first one stays. Raises SizeError."""
    picks = [s.pick for s in request.spots]
    if len(picks) < 2 or any(p.role != "underlay" or not p.point for p in picks[:2]):
        raise SizeError("Pick two points of the underlay: ends or centers of its lines.")
    names = {p.source.partition("#")[0] for p in picks[:2]}
    if len(names) > 1:
        raise SizeError("Both points belong to one underlay.")
    wanted = float(request.settings.get("distance") or 0.0)
    if not wanted > 0:
        raise SizeError("Say first how far the two points are apart.")
    a = context.sheet.annotation(names.pop())
    assert isinstance(a, Underlay)
    first, second = (_place(p, context) for p in picks[:2])
    now = math.dist(first, second)
    if now < 1e-9:
        raise SizeError("Both points lie at one place.")
    k = wanted / now
    at = [f + (p - f) * k for f, p in zip(first, (a.position.x, a.position.y), strict=True)]
    return a.model_copy(update={"unit": a.unit * k, "position": Point(x=at[0], y=at[1])})


def _place(pick: Pick, context: Context) -> tuple[float, float]:
    kind, v = piece_of(pick, context)
    if kind == LINE:
        return (v[0], v[1]) if pick.point == "start" else (v[2], v[3])
    if pick.point == "center":
        return v[0], v[1]
    t = v[3] if pick.point == "start" else v[4]
    return v[0] + v[2] * math.cos(t), v[1] + v[2] * math.sin(t)


def drag(a: Underlay, grip: str, request: Request, context: Context) -> Underlay:
    """The underlay moved as far as the pointer has come."""
    grabbed = request.settings.get("grabbed", request.pointer)
    x, y = ((p - g) / context.scale for p, g in zip(request.pointer, grabbed, strict=True))
    return a.model_copy(update={"position": Point(x=a.position.x + x, y=a.position.y + y)})


def row(a: Underlay, context: Context) -> Row:
    """Its name and how much of it there is."""
    return Row(f"{a.name or 'Underlay'}, {len(a.lines)} lines")


KIND = Kind(
    Underlay,
    "Underlay",
    ink=ink,
    in_files=in_files,
    row=row,
    propose=propose,
    drag=drag,
)
