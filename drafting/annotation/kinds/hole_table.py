"""Hole tables: the holes of a view with a tag each, and a table of their coordinates from an origin and all
that is said of them.

Tags are a letter for each kind of hole, from the smallest on, and a number within it (common practice).
"""

import contextlib
import string
from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.cell_grid import Cell, Style, grid
from drafting.annotation.inking.cell_grid import Row as GridRow
from drafting.annotation.kinds.kind import Box as SheetBox
from drafting.annotation.kinds.kind import Kind, Request
from drafting.annotation.kinds.kind import Row as Told
from drafting.annotation.measuring.distances import circle
from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.picked_features import holes_at, meant
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.placing.rows import snapped_place
from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.hole_words import rows as hole_rows
from drafting.annotation.wording.numbers import DIAMETER, written
from drafting.context import Context
from drafting.document import MOST_PICKS, AnnotationBase, Pick, Placement, in_view
from drafting.errors import SizeError
from drafting.ink.elements import Element, Line, Text
from drafting.ink.lettering import text_width
from drafting.standards.profile import Profile
from drafting.views.frame import Array

LINE_KIND = "dimension"


class HoleTable(AnnotationBase):
    """Holes of a view numbered, with their coordinates from an origin and their callouts in a table. picks:
    the origin, then the holes."""

    picks_taken: ClassVar[tuple[int, int]] = (2, MOST_PICKS)
    kind: Literal["hole_table"] = "hole_table"
    place: Placement
    """Upper left corner."""
    places: Annotated[int, Field(ge=0, le=6, title="Decimals")] | None = None


@dataclass(frozen=True)
class Row:
    """A hole: its tag, where it lies from the origin and its diameter, mm on the model; center in view mm;
    what is said of it, empty for a circle that is no hole."""

    tag: str
    x: float
    y: float
    diameter: float
    center: Array
    says: str = ""


def rows(table: HoleTable, context: Context) -> list[Row]:
    """The holes by diameter and kind, then from left to right. Raises LostPick, SizeError."""
    if context.frame.pictorial:
        raise SizeError("A hole table is made of a view that faces the paper squarely.")
    origin = _origin(table, context)
    found: list[tuple[tuple[float, str], float, float, Round]] = []
    told: dict[tuple[str, int], str] = {}
    for pick in table.picks[1:]:
        hole = circle(pick, context)
        at = context.frame.flat(hole.center) - origin
        kind = _kind(pick, hole, context, told)
        found.append((kind, round(float(at[0]), 9), float(at[1]), hole))
    letters = {d: _letter(n) for n, d in enumerate(sorted({f[0] for f in found}))}
    counts: dict[str, int] = {}
    out = []
    for kind, x, y, hole in sorted(found, key=lambda f: (f[0], round(f[1], 6), f[2])):
        letter = letters[kind]
        counts[letter] = counts.get(letter, 0) + 1
        center = context.frame.flat(hole.center)
        out.append(Row(f"{letter}{counts[letter]}", x, y, 2 * hole.radius, center, kind[1]))
    return out


def places(table: HoleTable, context: Context) -> list[tuple[float, float]]:
    """Where each hole lies from the origin, mm, in the order they were picked. Raises LostPick, SizeError."""
    origin = _origin(table, context)
    found = [context.frame.flat(circle(pick, context).center) - origin for pick in table.picks[1:]]
    return [(float(at[0]), float(at[1])) for at in found]


def _kind(
    pick: Pick, circle_of: Round, context: Context, told: dict[tuple[str, int], str]
) -> tuple[float, str]:
    """A hole's diameter and what is said of it; of a circle that belongs to no hole, its own. told: what was
    said of equal holes already, by instance and the first of them."""
    with contextlib.suppress(SizeError):
        known, numbers = holes_at(pick, context)
        if numbers:
            number = meant(pick, known, numbers, context)
            hole, key = known.holes[number], (pick.instance, known.alike(number)[0])
            if key not in told:
                told[key] = plain(hole_rows(hole, 1, context.profile), context.profile)
            first = known.holes[key[1]]  # equal holes differ in the last digits
            return round(first.diameter, 6), told[key]
    return round(2 * circle_of.radius, 6), ""


def _letter(n: int) -> str:
    letters = [c for c in string.ascii_uppercase if c not in "IO"]  # they read as figures
    return letters[n] if n < len(letters) else letters[n // len(letters) - 1] + letters[n % len(letters)]


def _origin(table: HoleTable, context: Context) -> Array:
    thing = located(table.picks[0], context)
    if isinstance(thing, Round):
        return context.frame.flat(thing.center)
    if isinstance(thing, Straight):
        raise SizeError("The origin of a hole table is a point: a corner, an end or a center.")
    return context.frame.flat(thing.at)


def written_rows(table: HoleTable, context: Context) -> list[tuple[str, ...]]:
    """Head and rows as they stand in the table."""

    def n(v: float) -> str:
        return written(v, context.profile, table.places)

    found = rows(table, context)
    plain_ones = all(r.says in ("", DIAMETER + written(r.diameter, context.profile)) for r in found)
    last = DIAMETER if plain_ones else "Size"
    head = ("Hole", "X", "Y", last)
    if context.profile.standard == "ASME":
        head = ("HOLE", "X", "Y", last.upper())
    return [
        head,
        *((r.tag, n(r.x), n(r.y), DIAMETER + n(r.diameter) if plain_ones else r.says) for r in found),
    ]


def ink(table: HoleTable, context: Context) -> list[Element]:
    """Tags at the holes, the origin's axes, and the table with its upper left corner at the place."""
    h = context.profile.text_height
    out: list[Element] = []
    for r in rows(table, context):
        at = context.frame.drawn(r.center) * context.scale + np.array([1.0, 1.0]) * (
            r.diameter / 2 * context.scale * 0.7072 + context.profile.text_gap
        )
        out.append(Text((float(at[0]), float(at[1])), r.tag, h * 0.8, LINE_KIND))
    out += _axes(context.frame.drawn(_origin(table, context)) * context.scale, context.profile)
    lines = written_rows(table, context)
    rows_of = [
        GridRow(
            tuple(Cell((t,), h, "middle" if c == 0 or k == 0 else "right") for c, t in enumerate(line)),
            ruled=k == 0,
        )
        for k, line in enumerate(lines)
    ]
    return out + grid(table.place.at(context.scale), _widths(lines, h), rows_of, Style(h, LINE_KIND))[0]


def _widths(lines: list[tuple[str, ...]], h: float) -> list[float]:
    """Of the columns, mm."""
    return [max(text_width(row[c], h) for row in lines) + 2 * h for c in range(4)]


def box(table: HoleTable, context: Context) -> tuple[float, float, float, float]:
    """Left, bottom, right and top of the table, paper mm about its view's position. Raises LostPick,
    SizeError."""
    lines = written_rows(table, context)
    h = context.profile.text_height
    widths, tall = _widths(lines, h), 2 * h
    left, top = table.place.at(context.scale)
    return left, top - len(lines) * tall, left + sum(widths), top


def _axes(at: Array, profile: Profile) -> list[Element]:
    """The origin: its two directions, named."""
    h, reach = profile.text_height, 3.5 * profile.text_height
    x, y = float(at[0]), float(at[1])
    return [
        Line((x - 1.5, y), (x + reach, y), LINE_KIND),
        Line((x, y - 1.5), (x, y + reach), LINE_KIND),
        Text((x + reach + 0.5, y - h * 0.3), "X", h * 0.7, LINE_KIND),
        Text((x, y + reach + 0.7), "Y", h * 0.7, LINE_KIND, "middle"),
    ]


def check(table: HoleTable, context: Context) -> None:
    """Raises SizeError where its rows cannot be measured."""
    rows(table, context)


def obstacles(table: HoleTable, context: Context) -> list[tuple[str, SheetBox]]:
    """The box it fills on the sheet."""
    x, y = context.origin
    left, bottom, right, top = box(table, context)
    return [("the hole table", (left + x, bottom + y, right + x, top + y))]


def row(table: HoleTable, context: Context) -> Told:
    """How many holes it lists."""
    holes = len(table.picks) - 1
    return Told(f"{holes} {'hole' if holes == 1 else 'holes'} from one origin")


def propose(request: Request, context: Context) -> HoleTable:
    """A table of the holes picked after the origin, with its corner at the pointer. Raises SizeError."""
    if len(request.spots) < 2:
        raise SizeError("A hole table needs an origin and at least one hole.")
    place = snapped_place(np.array(request.pointer), None, context)
    table = HoleTable(
        id=request.identity, anchor=in_view(context.view_id, request.picks(context)), place=place
    )
    check(table, context)
    return table


KIND = Kind(HoleTable, "Hole table", ink=ink, check=check, obstacles=obstacles, row=row, propose=propose)
