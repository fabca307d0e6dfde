"""What a sheet shows: its frame, views, annotations, lists and warnings as ink, and the curves of a view for
pointing at."""

import uuid
from dataclasses import asdict, replace
from functools import partial
from typing import Any

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from drafting.annotation import registry
from drafting.annotation.kinds import added_line
from drafting.annotation.kinds.kind import Drawn
from drafting.annotation.proposing import find_centers
from drafting.annotation.review.brought_along import missing
from drafting.annotation.review.description import row_of
from drafting.checking.warnings import warnings
from drafting.compose import BLOCK, is_below, lettering, obstacles, outer_ink
from drafting.context import Context
from drafting.document import AnnotationBase, Sheet
from drafting.document import Drawing as Document
from drafting.errors import DraftingError
from drafting.export.svg import elements_svg, group_svg, sheet_svg
from drafting.ink.elements import Group
from drafting.memory import Memory, Same
from drafting.model.model import Facts
from drafting.sheet.frame import INCOMPLETE, blank_fields, frame_ink, placed_cells
from drafting.sheet.layout import sheet_size
from drafting.sheet.template import FIELDS
from drafting.views.extents import Box
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewCurve, ViewGeometry
from drafting.views.present import presented
from server.drawings import service, store
from server.drawings.access import own_drawing, sheet_of
from server.drawings.annotations import PlacedPoint, files_at
from server.drawings.geometry import ready, requested_all
from server.drawings.models import DerivedView, Drawing
from server.drawings.showing import shown_facts
from server.errors import Problem
from server.library.facts import facts_at

router = Router(tags=["drawings"])


class ViewState(Schema):
    """A view on the sheet: keys of its curves and ink, or why there are none. state: waiting, rough, ready or
    failed."""

    id: str
    state: str
    error: str
    shape: str
    ink: str


class OuterInk(Schema):
    """What stands at a view besides its lines: its label (of is "label"), or the mark of the view `of` that
    is taken from it."""

    view: str
    of: str
    svg: str


class Warned(Schema):
    """views: ids of the views and tables it is about."""

    views: list[str]
    text: str


class TitleCell(Schema):
    """A cell of the title block on the sheet: its field, what it says, whether that is nothing or does not
    fit. Sheet mm."""

    field: str
    label: str
    left: float
    bottom: float
    width: float
    height: float
    value: str
    blank: bool
    cut: bool


class EndHandle(Schema):
    """A draggable end, paper mm about its view's position; out: direction outward; past: its reach past the
    outline."""

    end: int
    x: float
    y: float
    out_x: float
    out_y: float
    past: float


class Lost(Schema):
    """An edge or face of an instance that the model has no more."""

    instance: str
    source: str


class AnnotationInk(Schema):
    """An annotation on the sheet. view: the one it hangs in, about whose position svg is; empty where it
    stands on the sheet. lost: why it cannot be drawn; svg is then what it was when it could be."""

    id: str
    view: str
    svg: str
    text: str
    lost: str
    missing: list[Lost] = []
    handles: list[EndHandle] = []
    follows: list[str] = []
    """Sizes that this one follows from: one that says the same, or the chain that makes it redundant."""
    foreshortened: bool = False
    says: str = ""
    """A size's own tolerance as it is typed."""
    applies: str = ""
    """The limits that hold for a size, in words; general ones where it states none."""
    below: bool = False
    """Whether it lies below the lines of views."""
    left_over: int = 0
    """Rows of a list that it has no room for."""


class Added(Schema):
    """The added lines of a view as what can be picked, and their points."""

    view: str
    curves: list[ViewCurve]
    points: list[PlacedPoint]


class Obstacle(Schema):
    """A box on the sheet that views keep clear of, mm: of the title block (id empty) or of an annotation."""

    id: str
    left: float
    bottom: float
    width: float
    height: float


class SheetDrawn(Schema):
    """All of a sheet but the views' own lines, which have a key of their own. Sizes in mm; markup has y
    down."""

    version: int
    width: float
    height: float
    frame: str
    views: list[ViewState]
    outer: list[OuterInk]
    annotations: list[AnnotationInk]
    added: list[Added]
    boxes: list[Obstacle]
    blank_fields: list[str]
    cells: list[TitleCell]
    unmeasured: bool
    """Whether masses are missing because the model is not measured yet."""
    states: list[str]
    """Names of the assembly's exploded states."""
    unmarked: int
    """Circles of the sheet's views without a center."""
    warnings: list[Warned]


@router.get("/{drawing_id}/sheets/{sheet_id}", response={200: SheetDrawn, 404: Problem})
def sheet(request: HttpRequest, drawing_id: uuid.UUID, sheet_id: str) -> Any:
    """The sheet as it is now; views that are not derived yet are put in the queue."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    return drawn(d, document, sheet_of(document, sheet_id))


def drawn(d: Drawing, document: Document, found: Sheet) -> SheetDrawn:
    """A sheet as it is now; views that are not derived yet are put in the queue."""
    version, facts = shown_facts(d)
    views, shown = [], {}
    groups = store.groups(document, found, facts)
    rows = requested_all(version, [derivation_of(view, facts) for view in found.views])
    for view, row in zip(found.views, rows, strict=True):
        state, error = row.state, row.error
        if row.state == DerivedView.READY and (geometry := ready(row.key)) is not None:
            try:
                shown[view.id] = presented(view, found, facts, geometry)
            except DraftingError as problem:
                state, error = DerivedView.FAILED, str(problem)
        rough = state == DerivedView.WAITING and bool(
            DerivedView.objects.filter(pk=row.key, rough__isnull=False).exists()
        )
        views.append(
            ViewState(
                id=view.id,
                state="rough" if rough else state,
                error=error,
                shape=service.shape_key(view, found, row.key) + ("r" if rough else ""),
                ink=service.ink_key(
                    document, found, view, row.key, facts, partial(lettering, found, view, groups)
                )
                + ("r" if rough else ""),
            )
        )
    annotations = _SHOWN.recall(
        facts,
        (Same(document), Same(found)),
        lambda: _annotations(d, document, found, facts, groups),
    )
    shapes = tuple(v.shape for v in views if v.id in shown)
    bare = _UNMARKED.recall(
        facts, (Same(document), Same(found), shapes), lambda: _unmarked(document, found, facts, shown)
    )
    fixed = obstacles(document, found, facts)
    outer = [
        OuterInk(view=view.id, of=key, svg=elements_svg(elements, document.profile))
        for view in found.views
        for key, elements in outer_ink(document, found, view, shown.get(view.id)).items()
    ]
    width, height = sheet_size(found)
    return SheetDrawn(
        version=d.version,
        width=width,
        height=height,
        frame=elements_svg(frame_ink(document, found, facts), document.profile),
        views=views,
        outer=outer,
        annotations=annotations,
        added=[
            a
            for v in (None, *found.views)
            if (a := _added(Context(document, found, facts, v, v is None))) is not None
        ],
        boxes=_boxes(fixed),
        blank_fields=blank_fields(document, facts),
        unmarked=bare,
        unmeasured=facts.unmeasured,
        states=[s.name for s in facts.exploded],
        cells=_cells(document, found, facts),
        warnings=[
            Warned(views=list(ids), text=text) for ids, text in warnings(document, found, shown, facts, fixed)
        ],
    )


def _unmarked(document: Document, sheet: Sheet, facts: Facts, shown: dict[str, ViewGeometry]) -> int:
    """How many circles of a sheet's views have no center."""
    contexts = [
        Context(document, sheet, facts, v)
        for v in sheet.views
        if v.id in shown and v.kind not in ("pictorial", "detail")
    ]
    return sum(len(find_centers.unmarked(find_centers.circles(shown[c.view_id], c), c)) for c in contexts)


_UNMARKED: Memory[int] = Memory(24)
"""Circles without a center, by sheet as it is kept and what its views show."""
_SHOWN: Memory[list[AnnotationInk]] = Memory(24)
"""Annotations of sheets as they are kept."""


def _annotations(
    d: Drawing, document: Document, sheet: Sheet, facts: Facts, groups: Drawn
) -> list[AnnotationInk]:
    follows = store.following(document, facts)
    out = []
    for a in sheet.annotations:
        context, group = registry.context_of(document, sheet, a, facts), groups[a.id]
        if isinstance(group, str):
            out.append(_lost_ink(d, a, group, context))
        else:
            out.append(_annotation_ink(a, group, context, follows.get(a.id, []), files_at(d.pk)))
    return out


def _lost_ink(d: Drawing, a: AnnotationBase, why: str, context: Context) -> AnnotationInk:
    """What lost what it hung on, as it was in the latest version of the model that had it."""
    out = AnnotationInk(id=a.id, view=context.view_id, svg="", text=registry.name(a), lost=why)
    out.missing = [Lost(instance=path, source=source) for path, source in missing(a, context.facts)]
    for number in range(d.shows - 1, 0, -1) if out.missing else ():
        if not d.model.versions.filter(number=number).exists():
            continue
        before = replace(context, facts=facts_at(d.model, number)[1])
        try:
            out.svg = elements_svg(registry.ink(a, before), context.profile)
            out.text = registry.text(a, before) or out.text
            break
        except DraftingError:
            continue
    return out


def _added(context: Context) -> Added | None:
    """The added lines of a view; None where it has none."""
    curves = added_line.curves(context)
    if not curves:
        return None
    found = added_line.points(context)
    points = [PlacedPoint(kind=p.kind, x=round(p.x, 6), y=round(p.y, 6), pick=p.pick) for p in found]
    return Added(view=context.view_id, curves=curves, points=points)


def _boxes(fixed: dict[str, tuple[str, Box]]) -> list[Obstacle]:
    return [
        Obstacle(id="" if key == BLOCK else key, left=x0, bottom=y0, width=x1 - x0, height=y1 - y0)
        for key, (_, (x0, y0, x1, y1)) in fixed.items()
    ]


def _cells(document: Document, sheet: Sheet, facts: Facts) -> list[TitleCell]:
    return [
        TitleCell(
            field=p.cell.field,
            label=p.cell.label or FIELDS.get(p.cell.field, p.cell.field.removeprefix("own:")),
            left=p.box.left,
            bottom=p.box.bottom,
            width=p.box.width,
            height=p.box.height,
            value=p.value,
            cut=p.cut,
            blank=bool(p.cell.field) and p.cell.field != "projection" and p.value in ("", INCOMPLETE),
        )
        for p in placed_cells(document, sheet, facts)
        if p.cell.field
    ]


def _annotation_ink(
    annotation: AnnotationBase, group: Group, context: Context, follows: list[str], files: str
) -> AnnotationInk:
    """An annotation as the desk shows it."""
    kind = registry.kind_of(annotation)
    out = AnnotationInk(
        id=annotation.id,
        view=context.view_id,
        svg=group_svg(group, context.profile, files),
        below=is_below(annotation),
        lost="",
        follows=follows,
        **asdict(row_of(annotation, context)),
    )
    if kind.handles is not None:
        out.handles = [
            EndHandle(end=h.end, x=h.at[0], y=h.at[1], out_x=h.out[0], out_y=h.out[1], past=h.past)
            for h in kind.handles(annotation, context)
        ]
    return out


@router.get("/{drawing_id}/thumbnail.svg")
def thumbnail(request: HttpRequest, drawing_id: uuid.UUID, sheet: str = "") -> HttpResponse:
    """A sheet, the first one if none is named, as far as its views are derived; X-Waiting says how many are
    not yet."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    shown = document.sheet(sheet) or document.sheets[0]
    waiting = 0
    if sheet:
        version, facts = shown_facts(d)
        rows = requested_all(version, [derivation_of(v, facts) for v in shown.views])
        waiting = sum(row.state == DerivedView.WAITING for row in rows)
    out = service.composed(d, document, shown)
    response = HttpResponse(sheet_svg(out.ink, document.profile), content_type="image/svg+xml")
    response["X-Waiting"] = str(waiting)
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; font-src data:"
    return response
