"""Routes of sizes: what a pick would size, runs, hole tables, pickable points, tidying, the Size sheet, and fits."""

import uuid
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status

from drafting.annotation import once, size_sheet
from drafting.annotation.measure import ViewFrame
from drafting.annotation.size_sheet import SizeRow
from drafting.annotation.tidy import tidied
from drafting.commands.sizes import SizeMove
from drafting.compose import annotation_groups, outer_ink, own_ink
from drafting.document import Dimension, view_scale
from drafting.errors import SizeError
from drafting.sheet.layout import drawing_room
from drafting.standards import fits
from server.drawings import service
from server.drawings.api import hosted, own_drawing, shape
from server.drawings.previews import (
    PlacedPoint,
    Preview,
    PreviewRequest,
    Replacing,
    RunPreview,
    RunRequest,
    TablePreview,
    TableRequest,
    points_of,
    preview_of,
    replaced,
    run_of,
    table_of,
)
from server.drawings.tables import tables_response
from server.errors import Problem
from server.library.facts import current_facts

router = Router(tags=["sizes"])
GONE = "That view is no longer in the drawing."
WAIT = "The view is still being derived."


@router.post("/{drawing_id}/preview", response={200: Preview, 422: Problem})
def preview(request: HttpRequest, drawing_id: uuid.UUID, payload: PreviewRequest) -> Preview:
    """A size as it would be placed: its ink under the pointer, its text, and the annotation to place."""
    return preview_of(own_drawing(request, drawing_id), payload)


@router.post("/{drawing_id}/replace", response={200: Preview, 422: Problem})
def replace(request: HttpRequest, drawing_id: uuid.UUID, payload: Replacing) -> Preview:
    """A placed size as it would be with its line under the pointer."""
    return replaced(own_drawing(request, drawing_id), payload)


@router.post("/{drawing_id}/run", response={200: RunPreview, 422: Problem})
def run(request: HttpRequest, drawing_id: uuid.UUID, payload: RunRequest) -> RunPreview:
    """A chain, baseline or ordinate run as it would be placed."""
    return run_of(own_drawing(request, drawing_id), payload)


@router.post("/{drawing_id}/hole-table", response={200: TablePreview, 422: Problem})
def hole_table(request: HttpRequest, drawing_id: uuid.UUID, payload: TableRequest) -> TablePreview:
    """A hole table as it would be placed."""
    return table_of(own_drawing(request, drawing_id), payload)


@router.get("/{drawing_id}/views/{view_id}/points", response={200: list[PlacedPoint], 404: Problem, 425: Problem})
def view_points(request: HttpRequest, drawing_id: uuid.UUID, view_id: str, response: HttpResponse, key: str = "") -> Any:
    """The points of a view that sizes can be taken from. key is the shape key the sheet named."""
    found = hosted(request, drawing_id, view_id)
    if found is None:
        return Status(404, {"message": GONE})
    d, document, host, view = found
    derived, geometry = shape(d, host, view)
    if geometry is None or geometry.rough:
        return Status(425, {"message": WAIT})
    if key == service.shape_key(view, host, derived):
        response["Cache-Control"] = "private, max-age=31536000, immutable"
    _, facts = current_facts(d.model)
    return points_of(document, view, view_scale(host, view).factor, geometry, facts)


class Tidied(Schema):
    moves: list[SizeMove]


@router.get("/{drawing_id}/views/{view_id}/tidy", response={200: Tidied, 404: Problem, 425: Problem})
def tidy(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """Where the sizes of a view would stand once tidied; the command arrange_sizes puts them there."""
    found = hosted(request, drawing_id, view_id)
    if found is None:
        return Status(404, {"message": GONE})
    d, document, host, view = found
    _, geometry = shape(d, host, view)
    if geometry is None or geometry.rough:
        return Status(425, {"message": WAIT})
    _, facts = current_facts(d.model)
    scale = view_scale(host, view).factor
    sizes = [a for a in host.annotations if a.view == view.id and isinstance(a, Dimension)]
    # the view's label keeps clear of the sizes by itself
    outer = [e for key, elements in outer_ink(document, host, view, geometry).items() if key != "label" for e in elements]
    rest = host.model_copy(update={"annotations": [a for a in host.annotations if a.view == view.id and not isinstance(a, Dimension)]})
    centers = [e for g in annotation_groups(document, rest, facts).values() if not isinstance(g, str) for e in g.elements]
    room, at = drawing_room(host), view.position
    inside = (room.left - at.x, room.bottom - at.y, room.right - at.x, room.top - at.y)
    fixed = [*own_ink(document, host, view, facts, geometry), *outer, *centers]
    moves = tidied(sizes, fixed, facts, ViewFrame.of(view, facts, scale), document.profile, scale, inside)
    return Tidied(moves=[SizeMove(id=m.id, place=m.place, shift=m.shift) for m in moves])


@router.get("/{drawing_id}/sizes", response=list[SizeRow])
def sizes(request: HttpRequest, drawing_id: uuid.UUID) -> list[SizeRow]:
    """All sizes of the drawing with their limits."""
    d = own_drawing(request, drawing_id)
    document = service.document_of(d)
    _, facts = current_facts(d.model)
    return size_sheet.rows(document, facts, list(once.redundant(document, facts)))


@router.get("/{drawing_id}/sizes.{kind}", url_name="size_sheet")
def sizes_file(request: HttpRequest, drawing_id: uuid.UUID, kind: Literal["xlsx", "csv"]) -> HttpResponse:
    """The Size sheet as a spreadsheet."""
    d = own_drawing(request, drawing_id)
    return tables_response(size_sheet.table(sizes(request, drawing_id)), f"{d.number or d.name} sizes", "Sizes", kind)


class FitAnswer(Schema):
    """Limits in mm of a hole and a shaft class at a size, and the clearance between them (negative: interference)."""

    hole: str
    shaft: str
    hole_upper: float
    hole_lower: float
    shaft_upper: float
    shaft_lower: float
    least: float
    most: float
    kind: str
    preferred: dict[str, list[str]]


@router.get("/tools/fit", response={200: FitAnswer, 422: Problem})
def fit(request: HttpRequest, size: float, hole: str, shaft: str) -> FitAnswer:
    """What a fit gives at a nominal size in mm (ISO 286-1)."""
    if not size == size or size <= 0:
        raise SizeError("A fit needs a size above zero.")
    found = fits.fit(size, hole, shaft)
    return FitAnswer(
        hole=hole, shaft=shaft, hole_upper=found.hole.upper, hole_lower=found.hole.lower, shaft_upper=found.shaft.upper,
        shaft_lower=found.shaft.lower, least=found.least, most=found.most, kind=found.kind, preferred={k: list(v) for k, v in fits.PREFERRED.items()},
    )  # fmt: skip
