"""Revision tables: what was changed, when and by whom.

As ASME Y14.35 has them at the upper right (memory), else above the title block, the latest on top (common
practice; ISO 7200 names no form).
"""

from typing import Literal

from drafting.annotation.inking.cell_grid import Cell, Row, Style, grid, row_height, wrapped
from drafting.annotation.kinds.kind import Box, Kind, Request
from drafting.annotation.kinds.kind import Row as Told
from drafting.annotation.kinds.revision_cloud import RevisionCloud
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Drawing, OnSheet, Sheet
from drafting.ink.elements import Element
from drafting.sheet.frame import zone_at
from drafting.sheet.layout import block_box, frame_box

MOST_ZONES = 2
"""More are counted, so that a row stays as tall as its words make it: the clouds are there to be seen."""
WIDEST = 170.0
"""mm; it is made narrower where the sheet is."""


class RevisionTable(AnnotationBase):
    """The drawing's revisions in a table. position: its lower (ASME: upper) right corner, sheet mm."""

    kind: Literal["revision_table"] = "revision_table"
    position: Point


def standard_place(drawing: Drawing, sheet: Sheet) -> Point:
    """Where the standard has it: the upper right corner of the frame, or on the title block."""
    if drawing.profile.standard == "ASME":
        frame = frame_box(sheet)
        return Point(x=frame.right, y=frame.top)
    block = block_box(sheet)
    return Point(x=block.right, y=block.top)


COLUMNS = {
    "ASME": (("ZONE", 0.08), ("REV", 0.08), ("DESCRIPTION", 0.48), ("DATE", 0.16), ("APPROVED", 0.2)),
    "ISO": (
        ("Rev.", 0.08),
        ("Zone", 0.08),
        ("Change", 0.4),
        ("Date", 0.15),
        ("Name", 0.145),
        ("Approved", 0.145),
    ),
}


def _rows(context: Context, width: float) -> list[Row]:
    """Head and revisions in the order in which they stand from the corner on."""
    is_asme = context.profile.standard == "ASME"
    columns = COLUMNS["ASME" if is_asme else "ISO"]
    h = context.profile.text_height * 0.8
    head = Row(tuple(Cell((name,), h * 0.8, "middle") for name, _ in columns), ruled=True)
    out = []
    for r in context.drawing.revisions:
        zones = clouded(context.drawing, r.mark)
        zone = r.zone or (", ".join(zones) if len(zones) <= MOST_ZONES else f"{len(zones)} zones")
        texts = (
            (zone, r.mark, r.description, r.date, r.approved)
            if is_asme
            else (r.mark, zone, r.description, r.date, r.by, r.approved)
        )
        out.append(
            Row(
                tuple(
                    Cell(wrapped(text, share * width, h), h, "left" if name in LONG else "middle")
                    for text, (name, share) in zip(texts, columns, strict=True)
                )
            )
        )
    if is_asme:
        title = Row((Cell(("REVISIONS",), h, "middle"),), ruled=True)
        return [title, head, *out]
    return [head, *out]


def clouded(drawing: Drawing, mark: str) -> list[str]:
    """The zones in which a revision's clouds stand, on a drawing of several sheets each with the number of
    its sheet."""
    out = []
    for n, sheet in enumerate(drawing.sheets, 1):
        before = f"{n}-" if len(drawing.sheets) > 1 else ""
        for a in sheet.annotations:
            zone = (
                zone_at(sheet, a.position.x, a.position.y)
                if isinstance(a, RevisionCloud) and a.mark == mark
                else ""
            )
            out += [before + zone] if zone else []
    return sorted(dict.fromkeys(out))


LONG = ("DESCRIPTION", "Change")


def _width(context: Context) -> float:
    room = frame_box if context.profile.standard == "ASME" else block_box
    return min(WIDEST, room(context.sheet).width)


def _height(rows: list[Row], context: Context) -> float:
    return sum(row_height(r, context.profile.text_height * 0.8) for r in rows)


def ink(table: RevisionTable, context: Context) -> list[Element]:
    """The table, sheet mm."""
    right, start, width = table.position.x, table.position.y, _width(context)
    h = context.profile.text_height * 0.8
    rows = _rows(context, width)
    is_asme = context.profile.standard == "ASME"
    shares = [share * width for _, share in COLUMNS["ASME" if is_asme else "ISO"]]
    if not is_asme:
        return grid((right - width, start), shares, rows, Style(h), up=True)[0]
    title, below = grid((right - width, start), [width], rows[:1], Style(h))
    return title + grid((right - width, below), shares, rows[1:], Style(h))[0]


def box(table: RevisionTable, context: Context) -> Box:
    """Left, bottom, right and top, sheet mm."""
    right, start, width = table.position.x, table.position.y, _width(context)
    tall = _height(_rows(context, width), context)
    if context.profile.standard == "ASME":
        return right - width, start - tall, right, start
    return right - width, start, right, start + tall


def obstacles(table: RevisionTable, context: Context) -> list[tuple[str, Box]]:
    """The box it fills."""
    return [("the revision table", box(table, context))]


def row(table: RevisionTable, context: Context) -> Told:
    """How many revisions it lists."""
    count = len(context.drawing.revisions)
    return Told(f"{count} {'revision' if count == 1 else 'revisions'}")


def propose(request: Request, context: Context) -> RevisionTable:
    """A table with its corner at the pointer, or as near as it can be with all of it in the frame."""
    frame, width = frame_box(context.sheet), _width(context)
    tall = _height(_rows(context, width), context)
    below, above = (tall, 0.0) if context.profile.standard == "ASME" else (0.0, tall)
    x = max(min(request.pointer[0], frame.right), frame.left + width)
    y = max(min(request.pointer[1], frame.top - above), frame.bottom + below)
    return RevisionTable(id=request.identity, anchor=OnSheet(), position=Point(x=round(x, 3), y=round(y, 3)))


KIND = Kind(RevisionTable, "Revision table", ink=ink, obstacles=obstacles, row=row, propose=propose)
