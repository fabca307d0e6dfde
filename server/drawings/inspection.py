"""Routes of the inspection sheet: what was measured of each piece, and whether it is in or out."""

import uuid
from typing import Annotated, Any, Literal

from django.db import transaction
from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, Router, Schema
from ninja.files import UploadedFile
from pydantic import Field

from drafting.annotation.kinds.characteristic import CharacteristicMark
from drafting.checking.page import Page
from drafting.data import Point
from drafting.document import Drawing as Document
from drafting.errors import CommandError
from drafting.inspection import numbering, readings, sheet
from drafting.inspection.sheet import InspectionRow
from drafting.inspection.verdicts import Reading
from server.downloads import attachment
from server.drawings import store
from server.drawings.access import own_drawing
from server.drawings.findings import shown_on
from server.drawings.models import Drawing
from server.drawings.pencil_api import ANSWERS
from server.drawings.publishing import file_stem
from server.drawings.showing import shown_facts
from server.drawings.tables import tables_response
from server.errors import Problem
from server.rights import has_role

router = Router(tags=["inspection"])
MOST = 50_000
"""Measured values of a drawing."""
Value = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False)]


class Inspection(Schema):
    """The sheet. pieces: all that something is measured of, in order; out: characteristics of which
    some piece is out."""

    rows: list[InspectionRow]
    pieces: list[str]
    out: int


@router.get("/{drawing_id}/inspection", response=Inspection)
def inspection(request: HttpRequest, drawing_id: uuid.UUID) -> Inspection:
    """All characteristics of a drawing with what was measured."""
    return _page(own_drawing(request, drawing_id))


def _page(d: Drawing) -> Inspection:
    found = rows_of(d)
    pieces = list(dict.fromkeys(d.measured_pieces.order_by("pk").values_list("piece", flat=True)))
    out = sum(any(p.is_in is False for p in r.pieces) for r in found)
    return Inspection(rows=found, pieces=pieces, out=out)


def rows_of(d: Drawing) -> list[InspectionRow]:
    """Rows of the sheet as it is now."""
    document = store.document_of(d)
    numbers = {m.id: m.number for m in _marks(document)}
    known = [
        Reading(numbers[m.mark], m.piece, m.value, m.dx, m.dy, m.size, m.is_kept)
        for m in d.measured_pieces.order_by("pk")
        if m.mark in numbers
    ]
    return sheet.rows(document, shown_facts(d)[1], known)


def _marks(document: Document) -> list[CharacteristicMark]:
    return [a for s in document.sheets for a in s.annotations if isinstance(a, CharacteristicMark)]


class Places(Schema):
    """Where the tags of new numbers stand on least, by annotation and row."""

    offsets: dict[str, Point]


@router.get("/{drawing_id}/inspection/places", response=Places)
def places(request: HttpRequest, drawing_id: uuid.UUID) -> Places:
    """Where the numbers that are still to be given would stand, clear of the views as far as they are
    derived."""
    return Places(offsets=places_of(own_drawing(request, drawing_id)))


def places_of(d: Drawing) -> dict[str, Point]:
    """Where the tags of new numbers stand clear, by annotation and row."""
    document, facts = store.document_of(d), shown_facts(d)[1]
    lines = {}
    for s in document.sheets:
        page = Page(document, s, facts, {}, shown_on(d, s, facts)[0])
        lines[s.id] = [*(line for _, line in page.outlines), *page.hatched]
    return numbering.places(document, facts, lines)


class ReadingIn(Schema):
    """What was measured of a piece; nothing at all takes it back. value, size: of the unit of the row; dx,
    dy: how far a place is off; is_kept: of what is in words."""

    number: Annotated[int, Field(ge=1, le=99_999)]
    piece: Annotated[str, Field(min_length=1, max_length=40)] = "1"
    value: Value | None = None
    dx: Value | None = None
    dy: Value | None = None
    size: Value | None = None
    is_kept: bool | None = None


@router.post(
    "/{drawing_id}/inspection/readings",
    response={200: Inspection, 403: Problem, 404: Problem, 422: Problem},
)
def keep_reading(request: HttpRequest, drawing_id: uuid.UUID, payload: ReadingIn) -> Any:
    """Keep what was measured."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, ANSWERS, "keep what is measured")
    keep(d, [Reading(**payload.model_dump())], request.user)
    return _page(d)


@router.post(
    "/{drawing_id}/inspection/table",
    response={200: Inspection, 403: Problem, 404: Problem, 422: Problem},
)
def bring_readings(request: HttpRequest, drawing_id: uuid.UUID, file: File[UploadedFile]) -> Any:
    """Keep what was measured, from a table: all of it, or nothing where a line cannot be read."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, ANSWERS, "keep what is measured")
    if (file.size or 0) > readings.LARGEST:
        raise CommandError(f"The table is larger than {readings.LARGEST // 1_000_000} MB.")
    try:
        text = file.read().decode("utf-8-sig")
    except UnicodeDecodeError:
        raise CommandError("The table is not text in UTF-8; save it as CSV in UTF-8.") from None
    keep(d, readings.read(text), request.user)
    return _page(d)


@transaction.atomic
def keep(d: Drawing, found: list[Reading], user: Any) -> None:
    """Keep what was measured, all of it or nothing. Raises CommandError."""
    Drawing.objects.select_for_update().get(pk=d.pk)
    marks = {m.number: m.id for m in _marks(store.document_of(d))}
    for r in found:
        if r.number not in marks:
            raise CommandError(f"There is no characteristic {r.number} on this drawing.")
        row = d.measured_pieces.filter(mark=marks[r.number], piece=r.piece)
        said = {"value": r.value, "dx": r.dx, "dy": r.dy, "size": r.size, "is_kept": r.is_kept}
        if all(v is None for v in said.values()):
            row.delete()
        else:
            d.measured_pieces.update_or_create(
                mark=marks[r.number], piece=r.piece, defaults={**said, "by": user}
            )
    if d.measured_pieces.count() > MOST:
        raise CommandError(f"At most {MOST} measured values are kept of a drawing.")


@router.get("/{drawing_id}/inspection.{kind}", response={200: None, 404: Problem})
def as_file(
    request: HttpRequest, drawing_id: uuid.UUID, kind: Literal["xlsx", "csv", "json"]
) -> HttpResponse:
    """The inspection sheet as a file."""
    d = own_drawing(request, drawing_id)
    found = rows_of(d)
    if not found:
        raise Http404("No characteristics are numbered on this drawing yet.")
    stem = f"{file_stem(d)}-inspection"
    if kind != "json":
        return tables_response(sheet.table(found), stem, "Inspection", kind)
    data = sheet.as_json(found, d.number, store.document_of(d).fields.revision)
    headers = {"Content-Disposition": attachment(f"{stem}.json")}
    return HttpResponse(data, content_type="application/json", headers=headers)
