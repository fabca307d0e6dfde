"""Routes of what a drawing could say: a lean set of sizes and callouts for a sheet, each in its place."""

import uuid
from collections.abc import Mapping
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema
from pydantic import Field

from drafting.annotation import registry
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.proposing import call_out
from drafting.completeness.proposal import closing, proposal
from drafting.completeness.verdict import part_shown
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Sheet
from drafting.document import Drawing as Document
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.views.geometry import ViewGeometry
from server.drawings import store
from server.drawings.access import WAIT, Shown, own_drawing, shape, sheet_of
from server.drawings.completeness import open_gaps, too_large
from server.drawings.model_sizes import ModelSize, ModelSizes, in_place
from server.drawings.models import Drawing
from server.drawings.rooms import room_about
from server.drawings.showing import shown_facts
from server.errors import NotYet, Problem

router = Router(tags=["completeness"])
Name = Annotated[str, Field(max_length=400)]


class Wanting(Schema):
    """What sizes are proposed for. view: ids of views, all where there is none; source: edges and faces, for
    their features; gap: the sentence of what is not given."""

    view: Annotated[list[Name], Field(max_length=50)] = []
    source: Annotated[list[Name], Field(max_length=200)] = []
    gap: Name = ""


@router.get(
    "/{drawing_id}/sheets/{sheet_id}/proposal",
    response={200: ModelSizes, 404: Problem, 422: Problem, 425: Problem},
)
def proposed(request: HttpRequest, drawing_id: uuid.UUID, sheet_id: str, asked: Query[Wanting]) -> Any:
    """Sizes and callouts with which the views of a sheet say all that they can of the part's numbers, each
    once, beside what is on the drawing."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    host = sheet_of(document, sheet_id)
    _, facts = shown_facts(d)
    part = part_shown(facts)
    if part is not None and (large := too_large(document, part)):
        return ModelSizes(rows=[], job=None, why=large)
    geometries = {v.id: g for v in host.views if (g := shape(d, host, v)[1]) is not None and not g.rough}
    if len(geometries) < len(host.views):
        raise NotYet(WAIT)
    found = proposal(document, host, geometries, facts, asked.view, asked.source)
    if asked.gap:
        gap = next((g for g in open_gaps(document, facts) if g.text == asked.gap), None)
        if gap is None:
            return ModelSizes(rows=[], job=None, why="That is given by now.")
        found = closing(document, facts, gap, found, host)
    rows = [_row(p.annotation, p.view, document, host, facts) for p in found]
    in_place([r for r in rows if isinstance(r.size, Dimension)], document, host, facts, geometries)
    _called(rows, d, document, host, facts, geometries)
    return ModelSizes(rows=rows, job=None, why="")


def _row(a: AnnotationBase, view: str, document: Document, host: Sheet, facts: Facts) -> ModelSize:
    text = registry.text(a, Context(document, host, facts, host.view(view)))
    return ModelSize(called="", feature="", text=text, size=a, view=view, svg="", why="")


def _called(
    rows: list[ModelSize],
    d: Drawing,
    document: Document,
    host: Sheet,
    facts: Facts,
    geometries: Mapping[str, ViewGeometry],
) -> None:
    """Give callouts their places and ink: beside the view where there is room, the sizes being there."""
    sized = [r.size for r in rows if isinstance(r.size, Dimension)]
    host = host.model_copy(update={"annotations": [*host.annotations, *sized]})
    sheets = [host if s.id == host.id else s for s in document.sheets]
    document = document.model_copy(update={"sheets": sheets})
    for view in host.views:
        mine = [r for r in rows if r.view == view.id and isinstance(r.size, HoleCallout | FeatureCallout)]
        if not mine:
            continue
        context = Context(document, host, facts, view)
        room, lines = room_about(Shown(d, context, "", geometries[view.id]))
        kinds = call_out.lacking(geometries[view.id], context)
        groups = [_ways(r.size, kinds) for r in mine]
        for row, made in zip(
            mine, call_out.placed(groups, geometries[view.id], context, room, lines), strict=True
        ):
            if made is None:
                row.size, row.why = None, "There is no room for it beside the view."
                continue
            assert row.size is not None
            row.size = made.model_copy(update={"id": row.size.id})
            row.svg = elements_svg(registry.ink(made, context), context.profile)


def _ways(callout: Any, kinds: list[list[HoleCallout]]) -> list[call_out.Callout]:
    """The callout at any of its holes."""
    source = callout.picks[0].source
    return next(([*k] for k in kinds if any(c.picks[0].source == source for c in k)), [callout])
