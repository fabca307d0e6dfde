"""The lettering of a size as one block: number, stacked tolerance, count, words above and below, frames. It
is laid out once, about the middle of its base line, and then placed at any angle."""

import math
from dataclasses import dataclass, field

from drafting.annotation.wording.numbers import INCH
from drafting.annotation.wording.tolerances import Parts, angle_parts, parts
from drafting.document import Tolerance, Wording
from drafting.ink import symbols
from drafting.ink.elements import XY, Element, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.standards.profile import Profile

LINE_KIND = "dimension"


@dataclass(frozen=True)
class Words:
    """What a size says, in the order in which it is written. value: the nominal in the unit it is written in
    (degrees for angles); number: it as written, with an equal tolerance; upper, lower: deviations or limits
    that stand above each other; own: in place of all of it."""

    value: float
    before: str = ""
    symbol: str = ""
    number: str = ""
    tail: str = ""
    upper: str = ""
    lower: str = ""
    after: str = ""
    above: str = ""
    below: str = ""
    basic: bool = False
    own: bool = False


@dataclass
class Label:
    """Pieces of lettering (left end, base line, text, height) and strokes, mm; width: of the row that stands
    on the line; reach: of all."""

    plain: str
    width: float = 0.0
    low: float = 0.0
    high: float = 0.0
    pieces: list[tuple[float, float, str, float]] = field(default_factory=list)
    strokes: list[tuple[tuple[XY, ...], bool]] = field(default_factory=list)
    reach: float = 0.0
    top: float = 0.0
    bottom: float = 0.0
    words: Words = Words(0.0)

    def elements(self, at: XY, angle: float = 0.0) -> list[Element]:
        """Ink with the middle of the base line at a place; angle: radians."""
        c, s = math.cos(angle), math.sin(angle)

        def turned(x: float, y: float) -> XY:
            return at[0] + x * c - y * s, at[1] + x * s + y * c

        if len(self.pieces) == 1:
            x, y, text, height = self.pieces[0]
            middle = x + text_width(text, height) / 2
            out: list[Element] = [
                Text(
                    turned(0.0 if abs(middle) < 1e-9 else middle, y), text, height, LINE_KIND, "middle", angle
                )
            ]
        else:
            out = [
                Text(turned(x, y), text, height, LINE_KIND, "left", angle)
                for x, y, text, height in self.pieces
            ]
        return out + [
            Polyline(tuple(turned(*p) for p in points), LINE_KIND, closed) for points, closed in self.strokes
        ]


def label_of(
    value: float,
    symbol: str,
    wording: Wording,
    tolerance: Tolerance,
    profile: Profile,
    is_angle: bool = False,
    over_arc: bool = False,
) -> Label:
    """The block of a size. value: mm, or radians for angles; symbol: Ø, R and the like. Raises SizeError for
    a class the size does not have."""
    w, h = wording, profile.text_height
    unit = w.unit or profile.units
    first = (
        angle_parts(value, w, tolerance, profile) if is_angle else parts(value, w, tolerance, profile, unit)
    )
    if w.own:
        first = Parts(w.own)
    row = Row(profile)
    if w.count > 1:
        row.put(f"{w.count}{'X' if profile.standard == 'ASME' else '×'} ")
    row.put(w.prefix)
    start = row.x
    if w.reference:
        row.put("(")
    before = row.plain
    number_from = row.x
    row.value(first, "" if w.own else symbol)
    number_to, written = row.x, len(row.plain)
    if w.dual and not is_angle and not w.own:
        other = "in" if unit == "mm" else "mm"
        row.put(" [")
        row.value(parts(value, w, tolerance, profile, other), symbol)
        row.put("]")
    if w.reference:
        row.put(")")
    end = row.x
    row.put({"E": "Ⓔ", "I": "Ⓘ"}.get(w.envelope, ""))
    row.put(w.suffix)
    out = Label(row.plain, row.x, row.low, row.high, row.pieces)
    shown = math.degrees(value) if is_angle else value / (INCH if unit == "in" else 1.0)
    out.words = Words(
        shown,
        before,
        "" if w.own else symbol,
        first.number,
        first.tail,
        first.upper,
        first.lower,
        row.plain[written:],
        w.above,
        w.below,
        w.basic,
        bool(w.own),
    )
    if over_arc:
        out.strokes.append(symbols.over_arc(number_from, number_to, h))
        out.high = max(out.high, h * 1.6)
        out.plain = "⌒" + out.plain
    if w.not_to_scale:
        out.strokes.append(symbols.underline(number_from, number_to, h))
        out.low = min(out.low, -0.3 * h)
    if w.basic:
        m = 0.35 * h
        out.strokes.append(symbols.box(start - m, out.low - m, end + m, out.high + m))
        _grow(out, m, start - m, end + m)
    if w.inspection:
        _grow(out, 0.0, *_inspected(out, h))
    _around(out, w, profile)
    _center(out)
    return out


class Row:
    """Lettering put one after another on a base line, from x = 0 on, mm. plain: all of it as one text."""

    def __init__(self, profile: Profile) -> None:
        self.profile, self.h = profile, profile.text_height
        self.x, self.low, self.high, self.plain = 0.0, 0.0, profile.text_height, ""
        self.pieces: list[tuple[float, float, str, float]] = []

    def put(self, text: str) -> None:
        """Go on with words."""
        if text:
            x, y, before, height = self.pieces[-1] if self.pieces else (0.0, 0.0, "", 0.0)
            if before and y == 0 and height == self.h and abs(x + text_width(before, height) - self.x) < 1e-9:
                self.pieces[-1] = (x, y, before + text, height)
            else:
                self.pieces.append((self.x, 0.0, text, self.h))
            self.x += text_width(text, self.h)
            self.plain += text

    def value(self, p: Parts, symbol: str) -> None:
        """Go on with a number, its sign before it and its tolerance behind."""
        before = self.plain
        self.put(symbol + p.number + p.tail if p.number else symbol)
        if p.upper or p.lower:
            self._stack(p)
        self.plain = before + symbol + p.plain

    def _stack(self, p: Parts) -> None:
        limits = not p.number
        th = self.h if limits else self.h * self.profile.tolerance_height
        gap = 0.2 * th
        if p.number:
            self.x += 0.3 * self.h
        if p.parenthesis:
            self._bracket("(", th, gap)
        both = bool(p.upper and p.lower)
        base = 0.0 if self.profile.dimension_text == "above" else self.h / 2 - th - gap / 2
        up = base + th + gap
        if not both:
            base = up = (self.h - th) / 2
        # signs stand above each other, and a lone 0 under the figure (ISO 129-1)
        widths = [text_width(t, th) for t in (p.upper, p.lower)]
        for text, y, width in ((p.upper, up, widths[0]), (p.lower, base, widths[1])):
            if text:
                sign = text_width("+", th) if not limits and text[0] not in "+-" else 0.0
                self.pieces.append((self.x + sign, y, text, th))
                self.high, self.low = max(self.high, y + th), min(self.low, y)
                widths.append(width + sign)
        self.x += max(widths)
        if p.parenthesis:
            self._bracket(")", th, gap)

    def _bracket(self, text: str, th: float, gap: float) -> None:
        tall = 2 * th + gap
        base = 0.0 if self.profile.dimension_text == "above" else self.h / 2 - tall / 2
        self.pieces.append((self.x, base, text, tall))
        self.x += text_width(text, tall)


def _grow(out: Label, margin: float, left: float, right: float) -> None:
    """Take a frame into the row: everything is moved right by what it reaches to the left."""
    shift = max(0.0, -left)
    out.pieces = [(x + shift, y, t, h) for x, y, t, h in out.pieces]
    out.strokes = [(tuple((x + shift, y) for x, y in points), closed) for points, closed in out.strokes]
    out.width = max(out.width, right) + shift
    out.low, out.high = out.low - margin, out.high + margin


def _inspected(out: Label, h: float) -> tuple[float, float]:
    """The frame with round ends about a size that is inspected (ASME Y14.5, ISO 129-1); how far it reaches
    to both sides."""
    low, high = out.low - 0.35 * h, out.high + 0.35 * h
    left, right = -0.2 * h, out.width + 0.2 * h
    out.strokes.append(symbols.oblong(left, low, right, high))
    out.low, out.high = low, high
    return left - (high - low) / 2, right + (high - low) / 2


def _around(out: Label, w: Wording, profile: Profile) -> None:
    """Words above the row and below it; where the row stands above its line, those below stand under the
    line."""
    h = profile.text_height
    out.top, out.bottom, out.reach = out.high, out.low, out.width
    middle = out.width / 2
    if w.above:
        width = text_width(w.above, h)
        out.pieces.append((middle - width / 2, out.high + 0.5 * h, w.above, h))
        out.top, out.reach = out.high + 1.5 * h, max(out.reach, width)
    if w.below:
        width = text_width(w.below, h)
        y = min(out.low, -profile.text_gap if profile.dimension_text == "above" else 0.0) - 0.5 * h - h
        out.pieces.append((middle - width / 2, y, w.below, h))
        out.bottom, out.reach = y, max(out.reach, width)
    if w.above:
        out.plain = f"{w.above} {out.plain}"
    if w.below:
        out.plain = f"{out.plain} {w.below}"


def _center(out: Label) -> None:
    half = out.width / 2
    out.pieces = [(x - half, y, t, h) for x, y, t, h in out.pieces]
    out.strokes = [(tuple((x - half, y) for x, y in points), closed) for points, closed in out.strokes]
