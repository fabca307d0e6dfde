"""Parts lists on the sheet: the table as it is laid out, written to files, and inked."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

from drafting.annotation.inking.cell_grid import Cell as GridCell
from drafting.annotation.inking.cell_grid import Row as GridRow
from drafting.annotation.inking.cell_grid import Style, grid, wrapped
from drafting.annotation.kinds.kind import Box as SheetBox
from drafting.annotation.kinds.kind import Drawn, Kind, Member, Move, Request, set_fields
from drafting.annotation.kinds.kind import Row as Told
from drafting.annotation.kinds.parts_rows import (
    AWAITED,
    FIELDS,
    NUMBERS,
    SUMMED,
    Cell,
    Column,
    PartsList,
    Row,
    columns_of,
    lists_on,
    mass_cell,
    money,
    rows,
    totals,
)
from drafting.context import Context
from drafting.data import Point
from drafting.document import Drawing, OnSheet, Sheet
from drafting.errors import CommandError
from drafting.ink.elements import Element, Group
from drafting.model.model import Facts
from drafting.sheet.layout import Box, block_box, frame_box
from drafting.standards.profile import Profile

HEAD = 0.75
"""Lettering of the head, part of the rows'."""
GIVES_WAY = 0.25
"""How much of its width a column may lose so that the list is as wide as the title block."""


@dataclass(frozen=True)
class Table:
    """A list laid out: ink in sheet mm, the box it fills, and how many rows are left for another sheet."""

    ink: list[Element]
    box: Box
    left_over: int


def shown_rows(drawing: Drawing, plist: PartsList, facts: Facts) -> list[Row]:
    """The rows a list shows: those that an earlier list it goes on from has no room for, else all."""
    lists = {p.id: p for s in drawing.sheets for p in lists_on(s)}
    out, seen, before = rows(drawing, plist, facts), {plist.id}, lists.get(plist.rest_of)
    while before is not None and before.id not in seen:
        seen.add(before.id)
        out = out[(before.most_rows or len(out)) * before.blocks :]
        before = lists.get(before.rest_of)
    return out


def laid_out(drawing: Drawing, sheet: Sheet, plist: PartsList, facts: Facts) -> Table:
    """The table's ink. An empty list is its head alone."""
    profile = drawing.profile
    found, columns = shown_rows(drawing, plist, facts), columns_of(plist, profile)
    if plist.attached:
        columns = _fitted(columns, plist, block_box(sheet).width)
    most = plist.most_rows or max(len(found), 1)
    shown, rest = found[: most * plist.blocks], len(found) - most * plist.blocks
    blocks = [shown[n : n + most] for n in range(0, max(len(shown), 1), most)]
    up = plist.grow == "up" or plist.attached
    width, height = sum(c.width for c in columns), profile.text_height
    if plist.attached:
        block = block_box(sheet)
        right, base = block.right, block.top
    else:
        right, base = plist.position.x + width * len(blocks), plist.position.y
    ink: list[Element] = []
    tops = []
    for n, block_rows in enumerate(blocks):
        last = n == len(blocks) - 1 and rest <= 0
        summed = last and plist.totals and any(c.field in SUMMED for c in columns)
        total = _total_row(found, columns, profile) if summed else None
        at = right - width * (n + 1) if plist.attached else plist.position.x + width * n
        lines = _grid_rows(columns, block_rows, total, height)
        made, top = grid((at, base), [c.width for c in columns], lines, Style(height), up)
        ink += made
        tops.append(top)
    left = right - width * len(blocks) if plist.attached else plist.position.x
    far = max(tops) if up else min(tops)
    return Table(ink, Box(left, min(base, far), left + width * len(blocks), max(base, far)), max(rest, 0))


def _fitted(columns: list[Column], plist: PartsList, room: float) -> list[Column]:
    """Columns of a list on a title block: where they are a little wider than it, the widest whose width
    nobody set gives way."""
    over = sum(c.width for c in columns) - room
    set_by_hand = {c.field for c in plist.columns if c.width}
    own = [c for c in columns if c.field not in set_by_hand]
    widest = max(own, key=lambda c: c.width, default=None)
    if widest is None or not 0 < over <= GIVES_WAY * widest.width:
        return columns
    return [replace(c, width=c.width - over) if c is widest else c for c in columns]


def _text(row: Row, column: Column, columns: list[Column]) -> str:
    cell = row.cells.get(column.field)
    text = cell.text if cell else ""
    names = [c.field for c in columns if c.field in ("name", "number", "description")]
    return "  " * row.depth + text if names and column.field == names[0] else text


def _total_row(found: list[Row], columns: list[Column], profile: Profile) -> list[str]:
    sums = totals(found)
    out = []
    for n, c in enumerate(columns):
        value = sums.get(c.field)
        text = mass_cell(value, profile).text if c.field == "total_mass" else money(value, profile)
        missing = c.field in SUMMED and value is None
        awaited = missing and any(r.cells[c.field].text == AWAITED for r in found if c.field in r.cells)
        unknown = AWAITED if awaited else "incomplete"
        out.append(unknown if missing else text if c.field in SUMMED else "Total" if n == 0 else "")
    return out


def _grid_rows(
    columns: list[Column], shown: list[Row], total: list[str] | None, height: float
) -> list[GridRow]:
    """The head, the rows, and the totals where they are wanted."""

    def cells(texts: list[str], head: bool) -> tuple[GridCell, ...]:
        size = height * (HEAD if head else 1.0)
        return tuple(
            GridCell(
                wrapped(t, c.width, size if head else height),
                size,
                "middle"
                if head or c.field in ("item", "count")
                else "right"
                if c.field in NUMBERS
                else "left",
            )
            for t, c in zip(texts, columns, strict=True)
        )

    out = [GridRow(cells([c.title for c in columns], True), ruled=True)]
    out += [GridRow(cells([_text(r, c, columns) for c in columns], False), struck=r.gone) for r in shown]
    return out if total is None else [*out, GridRow(cells(total, False))]


def table(drawing: Drawing, plist: PartsList, facts: Facts) -> list[list[str | float | int | None]]:
    """Head and all rows for a spreadsheet, with the list's columns, numbers as numbers, and totals where the
    list has them."""
    columns, found = columns_of(plist, drawing.profile), rows(drawing, plist, facts)
    out: list[list[str | float | int | None]] = [[c.title for c in columns]]
    for r in found:
        out.append([_plain(r.cells.get(c.field), c.field) for c in columns])
    if plist.totals and any(c.field in SUMMED for c in columns):
        sums = totals(found)
        out.append(
            [
                sums[c.field] if c.field in SUMMED else "Total" if n == 0 else None
                for n, c in enumerate(columns)
            ]
        )
    return out


def _plain(cell: Cell | None, field: str) -> str | float | int | None:
    if cell is None:
        return None
    if field in NUMBERS and cell.value is not None:
        return (
            int(cell.value)
            if float(cell.value).is_integer() and field in ("item", "count")
            else round(cell.value, 9)
        )
    return cell.text or None


def free_top(drawing: Drawing, sheet: Sheet, facts: Facts) -> float:
    """How high the lists attached to the title block reach, sheet mm."""
    return max(
        (laid_out(drawing, sheet, p, facts).box.top for p in lists_on(sheet) if p.attached),
        default=frame_box(sheet).bottom,
    )


def ink(plist: PartsList, context: Context) -> list[Element]:
    """The table, sheet mm."""
    return laid_out(context.drawing, context.sheet, plist, context.facts).ink


def draw(members: Sequence[Member]) -> Drawn:
    """The lists of a sheet, each by itself."""
    return {
        m.annotation.id: Group(m.annotation.id, "parts-list", (0.0, 0.0), ink(m.annotation, m.context))
        for m in members
    }


def check(plist: PartsList, context: Context) -> None:
    """Raises CommandError for a list that cannot be: of a part, of unknown columns, or a second one on the
    title block."""
    if context.facts.kind != "assembly":
        raise CommandError("A parts list is made of an assembly; this drawing is of one part.")
    fields = [c.field for c in plist.columns]
    for f in fields:
        if f not in FIELDS and not (f.startswith("own:") and len(f) > 4):
            raise CommandError(f"“{f}” is not a column of a parts list.")
    if len(set(fields)) < len(fields):
        raise CommandError("Two columns of the parts list say the same.")
    if plist.attached and any(p.attached and p.id != plist.id for p in lists_on(context.sheet)):
        raise CommandError("The title block bears a parts list already; place this one free.")
    known = {p.id for s in context.drawing.sheets for p in lists_on(s)} - {plist.id}
    if plist.rest_of and plist.rest_of not in known:
        raise CommandError("That parts list is not on the drawing; choose the one to go on from.")


def change(plist: PartsList, update: dict[str, Any], context: Context) -> PartsList:
    """Fields set; most_rows 0 puts all rows in one column."""
    most = update.get("most_rows")
    if isinstance(most, int):
        if 0 < most < 3:
            raise CommandError("A column of a parts list has at least 3 rows.")
        update = {**update, "most_rows": most or None}
    return set_fields(plist, update)


def move(plist: PartsList, to: Move, context: Context) -> list[PartsList]:
    """The list off the title block, with its corner at a position."""
    if to.position is None:
        raise CommandError("A parts list stands on the sheet; say where.")
    return [plist.model_copy(update={"position": to.position, "attached": False})]


def obstacles(plist: PartsList, context: Context) -> list[tuple[str, SheetBox]]:
    """The box it fills on the sheet."""
    b = laid_out(context.drawing, context.sheet, plist, context.facts).box
    return [("the parts list", (b.left, b.bottom, b.right, b.top))]


def row(plist: PartsList, context: Context) -> Told:
    """Its name, and how many rows it has no room for."""
    rest = laid_out(context.drawing, context.sheet, plist, context.facts).left_over
    return Told("Parts list", left_over=rest)


def findings(plist: PartsList, context: Context) -> list[str]:
    """Rows that stand on no sheet."""
    rest = laid_out(context.drawing, context.sheet, plist, context.facts).left_over
    goes_on = any(p.rest_of == plist.id for s in context.drawing.sheets for p in lists_on(s))
    if not rest or goes_on:
        return []
    return [
        f"The parts list has no room for {rest} of its rows."
        if rest > 1
        else "The parts list has no room for its last row."
    ]


def propose(request: Request, context: Context) -> PartsList:
    """A list on the title block, or where it bears one already, free at the pointer."""
    taken = any(p.attached for p in lists_on(context.sheet))
    at = Point(x=request.pointer[0], y=request.pointer[1])
    return PartsList(id=request.identity, anchor=OnSheet(), attached=not taken, position=at)


KIND = Kind(
    PartsList,
    "Parts list",
    ink=ink,
    draw=draw,
    check=check,
    change=change,
    move=move,
    obstacles=obstacles,
    row=row,
    findings=findings,
    propose=propose,
)
