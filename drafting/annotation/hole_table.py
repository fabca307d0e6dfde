"""Hole tables: the holes of a view with a tag each, and a table of their coordinates from an origin and their diameters.

Tags are a letter for each diameter, from the smallest on, and a number within it (common practice).
"""

import string
from dataclasses import dataclass

import numpy as np

from drafting.annotation.distances import circle
from drafting.annotation.measure import located
from drafting.annotation.numbers import DIAMETER, written
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import Array, ViewFrame
from drafting.document import HoleTable
from drafting.errors import SizeError
from drafting.ink.elements import Element, Line, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.standards.profile import Profile

KIND = "dimension"


@dataclass(frozen=True)
class Row:
    """A hole: its tag, where it lies from the origin and its diameter, mm on the model; center in view mm."""

    tag: str
    x: float
    y: float
    diameter: float
    center: Array


def rows(table: HoleTable, facts: Facts, frame: ViewFrame) -> list[Row]:
    """The holes by diameter, then from left to right. Raises LostPick, SizeError."""
    if frame.pictorial:
        raise SizeError("A hole table is made of a view that faces the paper squarely.")
    origin = _origin(table, facts, frame)
    found: list[tuple[float, float, float, Round]] = []
    for pick in table.picks[1:]:
        hole = circle(pick, facts, frame)
        at = frame.flat(hole.center) - origin
        found.append((round(2 * hole.radius, 9), float(at[0]), float(at[1]), hole))
    letters = {d: _letter(n) for n, d in enumerate(sorted({f[0] for f in found}))}
    counts: dict[str, int] = {}
    out = []
    for d, x, y, hole in sorted(found, key=lambda f: (f[0], round(f[1], 6), f[2])):
        counts[letters[d]] = counts.get(letters[d], 0) + 1
        out.append(Row(f"{letters[d]}{counts[letters[d]]}", x, y, d, frame.flat(hole.center)))
    return out


def _letter(n: int) -> str:
    letters = [c for c in string.ascii_uppercase if c not in "IO"]  # they read as figures
    return letters[n] if n < len(letters) else letters[n // len(letters) - 1] + letters[n % len(letters)]


def _origin(table: HoleTable, facts: Facts, frame: ViewFrame) -> Array:
    thing = located(table.picks[0], facts, frame)
    if isinstance(thing, Round):
        return frame.flat(thing.center)
    if isinstance(thing, Straight):
        raise SizeError("The origin of a hole table is a point: a corner, an end or a center.")
    return frame.flat(thing.at)


def written_rows(table: HoleTable, facts: Facts, frame: ViewFrame, profile: Profile) -> list[tuple[str, ...]]:
    """Head and rows as they stand in the table."""

    def n(v: float) -> str:
        return written(v, profile, table.places)

    head = ("Hole", "X", "Y", DIAMETER) if profile.standard == "ISO" else ("HOLE", "X", "Y", DIAMETER)
    return [head, *((r.tag, n(r.x), n(r.y), DIAMETER + n(r.diameter)) for r in rows(table, facts, frame))]


def ink(table: HoleTable, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Tags at the holes, the origin's axes, and the table with its upper left corner at the place."""
    h = profile.text_height
    out: list[Element] = []
    for r in rows(table, facts, frame):
        at = frame.drawn(r.center) * scale + np.array([1.0, 1.0]) * (r.diameter / 2 * scale * 0.7072 + profile.text_gap)
        out.append(Text((float(at[0]), float(at[1])), r.tag, h * 0.8, KIND))
    out += _axes(frame.drawn(_origin(table, facts, frame)) * scale, profile)
    lines = written_rows(table, facts, frame, profile)
    left, top = table.place.at(scale)
    widths, tall = _cells(lines, h)
    edges = [left, *(left + sum(widths[: c + 1]) for c in range(4))]
    for k, row in enumerate(lines):
        base = top - (k + 1) * tall + (tall - h) / 2
        for c, text in enumerate(row):
            if c == 0 or k == 0:
                out.append(Text(((edges[c] + edges[c + 1]) / 2, base), text, h, KIND, "middle"))
            else:
                out.append(Text((edges[c + 1] - h, base), text, h, KIND, "right"))
    bottom = top - len(lines) * tall
    out += [Line((x, top), (x, bottom), KIND) for x in edges]
    for k in range(len(lines) + 1):
        y = top - tall * k
        out.append(Line((left, y), (edges[-1], y), "frame" if k in (0, 1, len(lines)) else KIND))
    return out


def _cells(lines: list[tuple[str, ...]], h: float) -> tuple[list[float], float]:
    """Widths of the columns and height of a row, mm."""
    return [max(text_width(row[c], h) for row in lines) + 2 * h for c in range(4)], 2.0 * h


def box(table: HoleTable, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> tuple[float, float, float, float]:
    """Left, bottom, right and top of the table, paper mm about its view's position. Raises LostPick, SizeError."""
    lines = written_rows(table, facts, frame, profile)
    widths, tall = _cells(lines, profile.text_height)
    left, top = table.place.at(scale)
    return left, top - len(lines) * tall, left + sum(widths), top


def _axes(at: Array, profile: Profile) -> list[Element]:
    """The origin: its two directions, named."""
    h, reach = profile.text_height, 3.5 * profile.text_height
    x, y = float(at[0]), float(at[1])
    return [
        Line((x - 1.5, y), (x + reach, y), KIND), Line((x, y - 1.5), (x, y + reach), KIND),
        Text((x + reach + 0.5, y - h * 0.3), "X", h * 0.7, KIND), Text((x, y + reach + 0.7), "Y", h * 0.7, KIND, "middle"),
    ]  # fmt: skip
