"""Routes of what a drawing could say: a lean set of sizes and callouts for a sheet, each in its place."""

import uuid
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from django.http import HttpRequest
from ninja import Query, Router, Schema
from pydantic import Field

from drafting.annotation import registry
from drafting.annotation.kinds import hole_table
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.proposing import call_out
from drafting.annotation.proposing.table_place import placed_table
from drafting.annotation.registry import Annotation
from drafting.completeness.more_views import more_views
from drafting.completeness.ordinates import as_ordinates
from drafting.completeness.proposal import closing, elsewhere, proposal
from drafting.completeness.verdict import part_shown
from drafting.completeness.wanted import Choice, Form
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Pick, Sheet
from drafting.document import Drawing as Document
from drafting.errors import CommandError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewGeometry
from server.drawings import store, worked_out
from server.drawings.access import WAIT, Shown, own_drawing, shape, sheet_of
from server.drawings.completeness import is_for_workers, open_gaps, too_large
from server.drawings.model_sizes import ModelSize, ModelSizes, WantedViewOut, in_place, with_sheet
from server.drawings.models import Drawing
from server.drawings.rooms import room_about
from server.drawings.showing import shown_facts
from server.errors import NotYet, Problem
from server.jobs.api import JobState
from server.jobs.models import Job

router = Router(tags=["completeness"])
Name = Annotated[str, Field(max_length=400)]
ON_EDGE = 1e-6


class Wanting(Schema):
    """What sizes are proposed for. view: ids of views, all where there is none; source: edges and faces, for
    their features; gap: the sentence of what is not given; form: how lengths stand; holes: whether they are
    called out or stand in tables; datum: edges or faces to measure from, each after the id of the view that
    it was picked in and a bar."""

    view: Annotated[list[Name], Field(max_length=50)] = []
    source: Annotated[list[Name], Field(max_length=200)] = []
    gap: Name = ""
    form: Literal["baseline", "chain", "ordinate"] = "baseline"
    holes: Literal["called", "table"] = "called"
    datum: Annotated[list[Name], Field(max_length=6)] = []


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
    if not is_for_workers(document, facts):
        return _proposed(d, document, host, facts, asked)
    _shapes(d, host)
    job = worked_out.answer(d, "proposal", {"sheet": sheet_id, "of": asked.model_dump()}, request.user)
    if job.state == Job.DONE:
        return ModelSizes(**worked_out.result(job))
    if job.state == Job.FAILED:
        return ModelSizes(rows=[], job=None, why=job.text)
    return ModelSizes(rows=[], job=JobState.from_orm(job), why="")


def work_out(d: Drawing, asked: Mapping[str, Any], progress: worked_out.Progress) -> dict[str, Any]:
    """What a worker proposes for a sheet. Raises SizeError, CommandError."""
    document, facts = store.document_of(d), shown_facts(d)[1]
    host = document.sheet(asked["sheet"])
    if host is None:
        raise CommandError("That sheet is no longer in the drawing.")

    def decided(share: float) -> None:
        progress(share, "proposing one size after another")

    try:
        made = _proposed(d, document, host, facts, Wanting(**asked["of"]), decided)
    except NotYet as error:  # changed since it was asked for
        raise CommandError(str(error)) from error
    return made.model_dump(mode="json")


def _shapes(d: Drawing, host: Sheet) -> dict[str, ViewGeometry]:
    """What the views of a sheet show. Raises NotYet while one is being derived."""
    geometries = {v.id: g for v in host.views if (g := shape(d, host, v)[1]) is not None and not g.rough}
    if len(geometries) < len(host.views):
        raise NotYet(WAIT)
    return geometries


def _proposed(
    d: Drawing,
    document: Document,
    host: Sheet,
    facts: Facts,
    asked: Wanting,
    progress: Callable[[float], None] = lambda _: None,
) -> ModelSizes:
    geometries = _shapes(d, host)
    form: Form = "chain" if asked.form == "chain" else "baseline"
    datums = tuple(_seen_on_edge(asked.datum, document, host, facts))
    choice = Choice(form, datums, asked.holes == "table")
    found = proposal(document, host, geometries, facts, asked.view, asked.source, choice, progress)
    if asked.gap:
        gap = next((g for g in open_gaps(document, facts) if g.text == asked.gap), None)
        if gap is None:
            return ModelSizes(rows=[], job=None, why="That is given by now.")
        found = closing(document, facts, gap, found, host)
    if asked.form == "ordinate":
        found = as_ordinates(found, document, host, facts)
    whole = not (asked.gap or asked.view or asked.source)
    lacking = more_views(document, host, found, geometries, facts) if whole else []
    rows = [_row(p.annotation, p.view, document, host, facts) for p in found]
    in_place([r for r in rows if isinstance(r.size, Dimension)], document, host, facts, geometries)
    on = OnSheet(d, document, host, facts, geometries)
    _tabled(rows, on)
    _called(rows, on)
    views = [WantedViewOut(text=v.text, command=dict(v.command or {}), crowded=v.is_crowded) for v in lacking]
    return ModelSizes(rows=rows, job=None, why="", views=views)


def _seen_on_edge(picked: Sequence[str], document: Document, host: Sheet, facts: Facts) -> Iterator[str]:
    """The flat faces that the picked edges show in their views."""
    part = part_shown(facts)
    for one in picked if part is not None else ():
        view_id, _, source = one.partition("|")
        view = host.view(view_id)
        if view is None or part is None:
            continue
        toward = ViewFrame.of(view, facts).matrix[2] @ np.array(facts.instances[0].matrix)[:3, :3]
        for name in faces_at(Pick(instance="", source=source), part):
            face = part.face(name)
            if (
                face is not None
                and face.kind == "plane"
                and abs(float(toward @ np.array(face.axis))) < ON_EDGE
            ):
                yield name


class Elsewhere(Schema):
    """A proposed size, and the view that is to say the same."""

    annotation: Annotation
    view: Name


@router.post(
    "/{drawing_id}/sheets/{sheet_id}/proposal/elsewhere",
    response={200: ModelSizes, 404: Problem, 422: Problem, 425: Problem},
)
def say_elsewhere(request: HttpRequest, drawing_id: uuid.UUID, sheet_id: str, payload: Elsewhere) -> Any:
    """What says the same as a proposed size in another view, in its place; none with the reason where that
    view cannot show it."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    host = sheet_of(document, sheet_id)
    _, facts = shown_facts(d)
    part = part_shown(facts)
    if part is None or too_large(document, part) or host.view(payload.view) is None:
        return ModelSizes(rows=[], job=None, why="That view cannot show it.")
    geometries = {v.id: g for v in host.views if (g := shape(d, host, v)[1]) is not None and not g.rough}
    if payload.view not in geometries:
        raise NotYet(WAIT)
    made = elsewhere(payload.annotation, payload.view, document, host, geometries, facts)  # type: ignore[arg-type]
    if made is None:
        return ModelSizes(rows=[], job=None, why="That view cannot show it.")
    rows = [_row(made, payload.view, document, host, facts)]
    in_place([r for r in rows if isinstance(r.size, Dimension)], document, host, facts, geometries)
    _called(rows, OnSheet(d, document, host, facts, geometries))
    return ModelSizes(rows=rows, job=None, why="")


def _row(a: AnnotationBase, view: str, document: Document, host: Sheet, facts: Facts) -> ModelSize:
    context = Context(document, host, facts, host.view(view))
    text = hole_table.row(a, context).text if isinstance(a, HoleTable) else registry.text(a, context)
    return ModelSize(called="", feature="", text=text, size=a, view=view, svg="", why="")


@dataclass(frozen=True)
class OnSheet:
    """A sheet that proposals are placed on, with what its views show."""

    drawing: Drawing
    document: Document
    host: Sheet
    facts: Facts
    geometries: Mapping[str, ViewGeometry]


def _with(document: Document, host: Sheet, more: Sequence[AnnotationBase]) -> tuple[Document, Sheet]:
    """The drawing with more on a sheet."""
    host = host.model_copy(update={"annotations": [*host.annotations, *more]})
    return with_sheet(document, host), host


def _tabled(rows: list[ModelSize], on: OnSheet) -> None:
    """Give hole tables their places and ink, the sizes being there."""
    document, host = _with(on.document, on.host, [r.size for r in rows if isinstance(r.size, Dimension)])
    for row in [r for r in rows if isinstance(r.size, HoleTable)]:
        context = Context(document, host, on.facts, host.view(row.view))
        room, _ = room_about(Shown(on.drawing, context, "", on.geometries[row.view]))
        assert isinstance(row.size, HoleTable)
        made = placed_table(row.size, context, room)
        if made is None:
            row.size, row.why = None, "There is no room for the hole table on this sheet."
            continue
        row.size, row.svg = made, elements_svg(registry.ink(made, context), context.profile)
        document, host = _with(document, host, [made])


def _called(rows: list[ModelSize], on: OnSheet) -> None:
    """Give callouts their places and ink: beside the view where there is room, the sizes being there."""
    there = [r.size for r in rows if isinstance(r.size, Dimension | HoleTable)]
    document, host = _with(on.document, on.host, there)
    for view in host.views:
        mine = [r for r in rows if r.view == view.id and isinstance(r.size, HoleCallout | FeatureCallout)]
        if not mine:
            continue
        context = Context(document, host, on.facts, view)
        room, lines = room_about(Shown(on.drawing, context, "", on.geometries[view.id]))
        kinds = call_out.lacking(on.geometries[view.id], context)
        groups = [_ways(r.size, kinds) for r in mine]
        for row, made in zip(
            mine, call_out.placed(groups, on.geometries[view.id], context, room, lines), strict=True
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
