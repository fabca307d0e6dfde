"""Routes of sizes: tidying, sizes of mates, the Size sheet, and fits; and the table of welds."""

import uuid
from collections.abc import Sequence
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from drafting.annotation.kinds.kind import Move as Put
from drafting.annotation.proposing.tidy import Move, tidied
from drafting.annotation.review import size_sheet, weld_table
from drafting.annotation.review.size_sheet import SizeRow
from drafting.compose import annotation_groups, outer_ink, own_ink
from drafting.context import Context
from drafting.document import Dimension
from drafting.errors import SizeError
from drafting.standards import fits
from drafting.views.geometry import ViewGeometry
from server.drawings import store
from server.drawings.access import own_drawing, shown_view
from server.drawings.rooms import room_between
from server.drawings.showing import shown_facts
from server.drawings.tables import tables_response
from server.errors import Problem

router = Router(tags=["sizes"])


class Tidied(Schema):
    moves: list[Put]


@router.get("/{drawing_id}/views/{view_id}/tidy", response={200: Tidied, 404: Problem, 425: Problem})
def tidy(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """Where the sizes of a view would stand once tidied; the command arrange_sizes puts them there."""
    shown = shown_view(request, drawing_id, view_id)
    here = shown.context.sheet.annotations
    sizes = [a for a in here if a.view == shown.view.id and isinstance(a, Dimension)]
    moves = in_rows(sizes, shown.context, shown.geometry)
    return Tidied(moves=[Put(id=m.id, place=m.place, shift=m.shift) for m in moves])


def in_rows(sizes: Sequence[Dimension], context: Context, geometry: ViewGeometry) -> list[Move]:
    """Places for sizes of a view; the others of it stay where they are."""
    document, host, view, facts = context.drawing, context.sheet, context.view, context.facts
    assert view is not None
    ids = {s.id for s in sizes}
    # the view's label keeps clear of the sizes by itself
    outer = [
        e
        for key, elements in outer_ink(document, host, view, geometry).items()
        if key != "label"
        for e in elements
    ]
    rest = host.model_copy(
        update={"annotations": [a for a in host.annotations if a.view == view.id and a.id not in ids]}
    )
    others = [
        e
        for g in annotation_groups(document, rest, facts).values()
        if not isinstance(g, str)
        for e in g.elements
    ]
    fixed = [*own_ink(document, host, view, facts, geometry), *outer, *others]
    return tidied(sizes, fixed, context, room_between(context))


@router.get("/{drawing_id}/sizes", response=list[SizeRow])
def sizes(request: HttpRequest, drawing_id: uuid.UUID) -> list[SizeRow]:
    """All sizes of the drawing with their limits."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    return size_sheet.rows(document, facts, store.following(document, facts))


@router.get("/{drawing_id}/sizes.{kind}", url_name="size_sheet")
def sizes_file(request: HttpRequest, drawing_id: uuid.UUID, kind: Literal["xlsx", "csv"]) -> HttpResponse:
    """The Size sheet as a spreadsheet."""
    d = own_drawing(request, drawing_id)
    return tables_response(
        size_sheet.table(sizes(request, drawing_id)), f"{d.number or d.name} sizes", "Sizes", kind
    )


@router.get("/{drawing_id}/welds.{kind}", url_name="weld_table")
def welds_file(request: HttpRequest, drawing_id: uuid.UUID, kind: Literal["xlsx", "csv"]) -> HttpResponse:
    """The welds of the drawing as a spreadsheet."""
    d = own_drawing(request, drawing_id)
    rows = weld_table.table(store.document_of(d), shown_facts(d)[1])
    return tables_response(rows, f"{d.number or d.name} welds", "Welds", kind)


class FitAnswer(Schema):
    """Limits in mm of a hole and a shaft class at a size, and the clearance between them (negative:
    interference)."""

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
        hole=hole,
        shaft=shaft,
        hole_upper=found.hole.upper,
        hole_lower=found.hole.lower,
        shaft_upper=found.shaft.upper,
        shaft_lower=found.shaft.lower,
        least=found.least,
        most=found.most,
        kind=found.kind,
        preferred={k: list(v) for k, v in fits.PREFERRED.items()},
    )
