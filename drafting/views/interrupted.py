"""Interrupted views: pieces left out of a long part, the rest drawn together. Sizes still read true, since
they measure the model.

Source: ISO 128-3 (interrupted views), ASME Y14.3 (conventional breaks).
"""

import math
from dataclasses import dataclass

import numpy as np

from drafting.views.clip import clipped
from drafting.views.geometry import ViewCurve, bounds
from drafting.views.view import Interruption, View

XY = tuple[float, float]


@dataclass(frozen=True)
class Warp:
    """Where places of the whole view lie once pieces are left out. Breaks along x and along y; the first kept
    piece of each stays."""

    x: tuple[tuple[float, float, float], ...]
    y: tuple[tuple[float, float, float], ...]
    """First and last of each piece left out, and the gap that stands for it, view mm; in order."""

    @staticmethod
    def of(view: View, scale: float) -> "Warp":
        """scale: paper over model, for the gaps, which are paper mm."""

        def rows(across: str) -> tuple[tuple[float, float, float], ...]:
            wanted = [i for i in view.interruptions if i.across == across]
            return merged(sorted((min(i.first, i.last), max(i.first, i.last), i.gap / scale) for i in wanted))

        return Warp(rows("horizontal"), rows("vertical"))

    def point(self, p: XY) -> XY:
        """Where a place is drawn once the breaks are left out, view mm."""
        return _shift(p[0], self.x), _shift(p[1], self.y)

    def back(self, p: XY) -> XY:
        """From a place as drawn to the whole view; within a gap, to the middle of what is left out."""
        return _back(p[0], self.x), _back(p[1], self.y)

    def piece(self, p: XY) -> tuple[XY, XY, XY]:
        """Of the kept piece in which a place as drawn lies: its lower left and upper right in the whole view,
        and how far it is moved."""
        (x0, x1, dx), (y0, y1, dy) = _kept(p[0], self.x), _kept(p[1], self.y)
        return (x0, y0), (x1, y1), (dx, dy)


def _kept(v: float, rows: tuple[tuple[float, float, float], ...]) -> tuple[float, float, float]:
    at = _back(v, rows)
    low = max((last for first, last, _ in rows if at > (first + last) / 2), default=-math.inf)
    high = min((first for first, last, _ in rows if at <= (first + last) / 2), default=math.inf)
    mark = low if math.isfinite(low) else high
    return low, high, _shift(mark, rows) - mark if math.isfinite(mark) else 0.0


def merged(rows: list[tuple[float, float, float]]) -> tuple[tuple[float, float, float], ...]:
    """Spans in order, those that overlap made one."""
    out: list[tuple[float, float, float]] = []
    for first, last, gap in rows:
        if out and first <= out[-1][1]:
            out[-1] = (out[-1][0], max(last, out[-1][1]), gap)
        else:
            out.append((first, last, gap))
    return tuple(out)


def _shift(v: float, rows: tuple[tuple[float, float, float], ...]) -> float:
    moved = v
    for first, last, gap in rows:
        if v >= last:
            moved -= last - first - gap
        elif v > first:
            moved -= (v - first) * (1 - gap / (last - first))
    return moved


def _back(v: float, rows: tuple[tuple[float, float, float], ...]) -> float:
    out = v
    for first, last, gap in rows:
        if out >= first + gap:
            out += last - first - gap
        elif out > first:
            out = first + (out - first) * (last - first) / gap
    return out


def interrupted(curves: list[ViewCurve], warp: Warp) -> list[ViewCurve]:
    """Curves without the pieces left out, what is left drawn together."""
    for axis, rows in ((0, warp.x), (1, warp.y)):
        if not rows:
            continue
        edges = [-math.inf, *(v for first, last, _ in rows for v in (first, last)), math.inf]
        out: list[ViewCurve] = []
        for k in range(0, len(edges) - 1, 2):
            lo, hi = edges[k], edges[k + 1]
            mark = lo if math.isfinite(lo) else hi
            shift = _shift(mark, rows) - mark
            out += [
                moved(c, shift if axis == 0 else 0.0, shift if axis == 1 else 0.0)
                for c in clipped_band(curves, axis, lo, hi)
            ]
        curves = out
    return curves


def clipped_band(curves: list[ViewCurve], axis: int, lo: float, hi: float) -> list[ViewCurve]:
    """Curves between two values of x (axis 0) or y (axis 1)."""
    low, high = bounds(curves)
    m = 1.0
    box = [[low[0] - m, low[1] - m], [high[0] + m, high[1] + m]]
    box[0][axis] = max(box[0][axis], lo)
    box[1][axis] = min(box[1][axis], hi)
    if box[0][axis] >= box[1][axis]:
        return []
    (x0, y0), (x1, y1) = box
    return clipped(curves, [(x0, y0), (x1, y0), (x1, y1), (x0, y1)])


def moved(c: ViewCurve, dx: float, dy: float) -> ViewCurve:
    """A curve moved on paper."""
    if dx == dy == 0.0:
        return c
    d = list(c.data)
    count = len(d) // 2 if c.kind in ("line", "polyline") else 1
    for i in range(count):
        d[2 * i] += dx
        d[2 * i + 1] += dy
    return c.model_copy(update={"data": d})


def break_lines(i: Interruption, low: float, high: float, scale: float) -> list[list[XY]]:
    """The break lines of an interruption as polylines, view mm, for a break across x; low and high: where
    they cross the part."""
    first, last = min(i.first, i.last), max(i.first, i.last)
    gap = i.gap / scale
    if last <= first:
        return []
    out = [
        _break_line(i.line, first, low, high, gap, scale, 1),
        _break_line(i.line, first + gap, low, high, gap, scale, 1 if i.line in ("round", "tube") else -1),
    ]
    if i.line in ("round", "tube"):  # the end that is seen closes to a leaf; a tube's has its bore in it
        for at, from_, to, side in (
            (first, low, (low + high) / 2, -1.0),
            (first + gap, (low + high) / 2, high, 1.0),
        ):
            out.append(_leaf(at, from_, to, gap, high - low, (side,)))
            if i.line == "tube":
                inset = (to - from_) * 0.24
                out.append(_leaf(at, from_ + inset, to - inset, gap, (high - low) * 0.5, (1.0, -1.0)))
    return out


def _bulge(size: float, gap: float) -> float:
    return min(size * 0.14, gap * 0.45 + size * 0.05)


def _leaf(at: float, low: float, high: float, gap: float, size: float, sides: tuple[float, ...]) -> list[XY]:
    """A bowed line from low to high, on one side or there and back on both."""
    bulge, t = _bulge(size, gap), np.linspace(0, math.pi, 25)
    out: list[XY] = []
    for side in sides:
        run = [(at + side * bulge * math.sin(a), low + (high - low) * a / math.pi) for a in t.tolist()]
        out += run if not out else run[::-1]
    return out


def _break_line(
    kind: str, at: float, low: float, high: float, gap: float, scale: float, side: int
) -> list[XY]:
    past = 2.0 / scale
    size = high - low
    if kind == "zigzag":
        count, tooth = max(1, round(size * scale / 25)), min(gap * 0.4, 2.5 / scale)
        points: list[XY] = [(at, low - past)]
        for k in range(count):
            y = low + size * (k + 0.5) / count
            points += [
                (at, y - tooth),
                (at + tooth, y - tooth / 3),
                (at - tooth, y + tooth / 3),
                (at, y + tooth),
            ]
        return [*points, (at, high + past)]
    if kind in ("round", "tube"):  # the S of a broken bar: one half bulges out, the other in
        t = np.linspace(0, 2 * math.pi, 49)
        bulge = _bulge(size, gap)
        return [(at + side * bulge * math.sin(a), low + size * a / (2 * math.pi)) for a in t.tolist()]
    t = np.linspace(0, 1, max(9, int(size * scale / 4) * 4 + 1))
    wave, turns = min(gap * 0.18, 0.9 / scale), size * scale / 30
    return [
        (at + wave * (math.sin(9.1 * a * turns) + 0.6 * math.sin(23.7 * a * turns + 1)), low + size * a)
        for a in t.tolist()
    ]
