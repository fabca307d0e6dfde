"""Annotations under the pointer, of all kinds: what a tool would place, and what dragging makes of what is
there. Nothing is written."""

import time
import uuid
from collections.abc import Iterable, Sequence
from dataclasses import asdict
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Query, Router, Schema
from pydantic import Field

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.kinds.added_line import with_added
from drafting.annotation.kinds.kind import Member, Request, SizeKind, Spot
from drafting.annotation.measuring.points import points
from drafting.annotation.proposing import call_out, find_centers
from drafting.annotation.proposing.carried import carried
from drafting.annotation.proposing.propose import Proposed, drag, looks, propose
from drafting.annotation.registry import Annotation
from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.feature_words import rows as feature_rows
from drafting.annotation.wording.hole_words import rows
from drafting.commands.annotations import annotation_of
from drafting.compose import alone
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Pick, Point, Sheet, Source, View, new_id, view_scale
from drafting.errors import SizeError
from drafting.export.svg import elements_svg
from drafting.features.naming import feature_name, hole_name
from drafting.features.recognized import features
from drafting.model.model import PartFacts
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewGeometry
from server.drawings import store
from server.drawings.access import FOREVER, own_drawing, shape, shown_view
from server.drawings.models import Drawing
from server.drawings.rooms import room_about
from server.drawings.showing import shown_facts
from server.errors import Problem
from server.library.holes import HoleRow, row_at

router = Router(tags=["annotations"])


class Picked(Schema):
    """Something of a view under the pointer: an edge or outline near a place (view mm at 1:1 about the view's
    position), a point of it, or, with role "added" and no source, the place alone.

    axis: the face's axis is meant, as a center line shows it.
    """

    instance: str
    source: str
    role: Literal["edge", "silhouette", "cut", "added", "underlay"]
    at: Point
    point: Literal["", "start", "middle", "end", "center", "quadrant", "crossing"] = ""
    quarter: Literal[0, 1, 2, 3] = 0
    other: Source | None = None
    axis: bool = False

    def spot(self) -> Spot:
        """As the core takes it."""
        pick = Pick(
            instance=self.instance,
            source=self.source,
            role=self.role,
            point=self.point,
            quarter=self.quarter,
            other=self.other,
        )
        return Spot(pick, (self.at.x, self.at.y), self.axis)


class Asked(Schema):
    """What a tool would place. tool: "size", "run" or a kind; view: empty for what stands on the sheet;
    pointer: sheet mm; tip: sheet mm, where a leader ends; settings: the tool's own choices."""

    tool: str
    view: str = ""
    sheet: str = ""
    picks: Annotated[list[Picked], Field(max_length=400)] = []
    pointer: Point
    tip: Point | None = None
    reach: float = 0.0
    settings: dict[str, str | float | bool] = {}


class Dragged(Schema):
    """An annotation by one of its grips: `place`, a size's `number`, the `tip` of a leader; pointer, and
    where the grip was taken: sheet mm."""

    id: str
    grip: str = "place"
    pointer: Point
    grabbed: Point | None = None


class Answer(Schema):
    """svg is about the position of the view (of the sheet's corner where view is empty), y down; option is
    the chosen one of the options, the ways to size what was picked; note: what to know of it; repeats: the
    text of a size that states the same already; taken: which of the picks it is taken on; milliseconds: the
    server's time."""

    view: str
    annotations: list[Annotation]
    svg: str
    texts: list[str]
    name: str
    option: str
    options: list[str]
    note: str
    repeats: str
    taken: list[int]
    milliseconds: float


class PlacedPoint(Schema):
    """A pickable point of a view. x, y: view mm at 1:1."""

    kind: str
    x: float
    y: float
    pick: Pick


class FormField(Schema):
    """A field of a kind that the particulars can set. form: switch, choice, number, text, or
    lines of text."""

    name: str
    label: str
    form: Literal["switch", "choice", "number", "text", "lines"]
    choices: list[str]
    least: float | None
    most: float | None
    whole: bool
    optional: bool
    empty: str
    """What it is where it is left empty."""


class KindForm(Schema):
    """A kind of annotation, its name in the interface, whether a tool of that name places it, and what of it
    can be set."""

    kind: str
    name: str
    placed: bool
    is_size: bool
    fields: list[FormField]


class Lacking(Schema):
    """The centers a view still lacks."""

    centers: list[Annotation]


def _context(d: Drawing, view_id: str, sheet_id: str) -> Context:
    """Where a tool works. Raises SizeError for a view or sheet that is gone."""
    document = store.document_of(d)
    _, facts = shown_facts(d)
    if view_id:
        return Context.of_view(document, view_id, facts)
    sheet = document.sheet(sheet_id)
    if sheet is None:
        raise SizeError("That sheet is no longer in the drawing.")
    return Context(document, sheet, facts, is_bare=True)


def _request(d: Drawing, context: Context, pointer: Point, needs_geometry: bool, **more: Any) -> Request:
    x, y = context.origin
    if "tip" in more:
        tip = more.pop("tip")
        more["settings"] = {**more.get("settings", {}), **({"tip": (tip.x - x, tip.y - y)} if tip else {})}
    geometry = shape(d, context.sheet, context.view)[1] if needs_geometry and context.view else None
    if geometry is not None:
        geometry = with_added(geometry, context)
    return Request(pointer=(pointer.x - x, pointer.y - y), geometry=geometry, **more)


@router.post("/{drawing_id}/propose-annotation", response={200: Answer, 422: Problem})
def propose_annotation(request: HttpRequest, drawing_id: uuid.UUID, payload: Asked) -> Answer:
    """An annotation as it would be placed: its ink under the pointer, its words, and what the command `place`
    takes."""
    started = time.perf_counter()
    d = own_drawing(request, drawing_id)
    context = _context(d, payload.view, payload.sheet)
    asked = _request(
        d,
        context,
        payload.pointer,
        looks(payload.tool),
        spots=[p.spot() for p in payload.picks],
        identity=new_id(),
        reach=payload.reach,
        settings=dict(payload.settings),
        tip=payload.tip,
    )
    found = propose(payload.tool, asked, context, lambda: store.stated_index(context.drawing, context.facts))
    return _answer(found, context, started, files_at(d.pk))


@router.post("/{drawing_id}/drag", response={200: Answer, 422: Problem})
def drag_annotation(request: HttpRequest, drawing_id: uuid.UUID, payload: Dragged) -> Answer:
    """An annotation as it would be with one of its grips at the pointer."""
    started = time.perf_counter()
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    sheet, a = annotation_of(document, payload.id)
    context = registry.context_of(document, sheet, a, facts)
    if isinstance(a, Dimension) and (over := _other_view(d, sheet, a, payload.pointer)) is not None:
        view, geometry = over
        there = Context(document, sheet, facts, view)
        at = (payload.pointer.x - there.origin[0], payload.pointer.y - there.origin[1])
        try:
            made = carried(a, context, there, geometry, at)
            return _answer(Proposed([made], registry.name(made)), there, started, files_at(d.pk))
        except SizeError:
            pass  # it stays in its own view
    x, y = context.origin
    taken = {"grabbed": (payload.grabbed.x - x, payload.grabbed.y - y)} if payload.grabbed else {}
    asked = _request(
        d, context, payload.pointer, registry.kind_of(a).looks, spots=[], identity=a.id, settings=taken
    )
    found = drag(a, payload.grip, asked, context)
    return _answer(Proposed([found], registry.name(found)), context, started, files_at(d.pk))


def _other_view(d: Drawing, sheet: Sheet, a: Dimension, at: Point) -> tuple[View, ViewGeometry] | None:
    """The view that a pointer is over, where that is another one than a size's own."""
    over = []
    for view in sheet.views:
        found = shape(d, sheet, view)[1] if not view.is_pictorial else None
        if found is None or found.rough:
            continue
        k = view_scale(sheet, view).factor
        x, y = (at.x - view.position.x) / k, (at.y - view.position.y) / k
        if found.low[0] <= x <= found.high[0] and found.low[1] <= y <= found.high[1]:
            over.append((view, found))
    own = any(view.id == a.view for view, _ in over)
    return None if own or not over else over[0]


def files_at(drawing_id: uuid.UUID) -> str:
    """Where the placed files of a drawing are to be had, by their hash."""
    return f"/api/drawings/{drawing_id}/files/"


def _answer(found: Proposed, context: Context, started: float, files: str) -> Answer:
    """A proposal with its ink, drawn as it will be once it is placed."""
    elements, texts = [], []
    for group in _drawn(found.annotations, context).values():
        if isinstance(group, str):
            raise SizeError(group)
        elements += group.elements
    for a in found.annotations:
        texts.append(registry.text(a, context) or registry.name(a))
    return Answer(
        view=context.view_id,
        annotations=found.annotations,
        svg=elements_svg(elements, context.profile, files),
        texts=texts,
        name=found.name,
        option=found.option,
        options=found.options,
        note=found.note,
        repeats=found.repeats,
        taken=found.taken,
        milliseconds=(time.perf_counter() - started) * 1e3,
    )


def _drawn(annotations: list[AnnotationBase], context: Context) -> Any:
    """Ink of proposals by themselves, those of one kind together."""
    out: dict[str, Any] = {}
    kinds = {a.kind: registry.kind_of(a) for a in annotations}
    for key, kind in kinds.items():
        members = [Member(a, kind, context) for a in annotations if a.kind == key]
        out |= (registry.drawn_by(kind) or alone)(members)
    return out


@router.get(
    "/{drawing_id}/views/{view_id}/points", response={200: list[PlacedPoint], 404: Problem, 425: Problem}
)
def view_points(
    request: HttpRequest, drawing_id: uuid.UUID, view_id: str, response: HttpResponse, key: str = ""
) -> Any:
    """The points of a view that annotations can be taken on. key is the shape key the sheet named."""
    shown = shown_view(request, drawing_id, view_id)
    if key == shown.shape_key:
        response["Cache-Control"] = FOREVER
    found_points = points(shown.geometry, shown.context)
    return [PlacedPoint(kind=p.kind, x=round(p.x, 6), y=round(p.y, 6), pick=p.pick) for p in found_points]


@router.get("/{drawing_id}/views/{view_id}/lacking", response={200: Lacking, 404: Problem, 425: Problem})
def lacking_centers(request: HttpRequest, drawing_id: uuid.UUID, view_id: str, least: float = 0.0) -> Any:
    """The centers a view still lacks, for circles from a smallest diameter (model mm) on."""
    shown = shown_view(request, drawing_id, view_id)
    return Lacking(centers=[*find_centers.lacking(shown.geometry, shown.context, least)])


class CalledOut(Schema):
    """Callouts that a view lacks, and how many kinds of holes there is no room for."""

    callouts: list[Annotation]
    left_over: int


@router.get("/{drawing_id}/views/{view_id}/callouts", response={200: CalledOut, 404: Problem, 425: Problem})
def callouts(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """A callout for each kind of hole that a view looks into and the drawing says nothing of yet."""
    shown = shown_view(request, drawing_id, view_id)
    room, lines = room_about(shown)
    most = len(next(iter(shown.context.facts.parts.values())).faces)
    ids = [new_id() for _ in range(most)]
    found, left = call_out.proposed(shown.geometry, shown.context, room, lines, ids)
    return CalledOut(callouts=[*found], left_over=left)


class NamedFeature(Schema):
    """A feature by the names of its faces and edges. name: with its number among equal ones."""

    name: str
    says: str
    sources: list[str]


class Named(Schema):
    """Features by part, holes last, and the part of each instance."""

    parts: dict[str, list[NamedFeature]]
    instances: dict[str, str]


@router.get("/{drawing_id}/features", response=Named)
def named_features(request: HttpRequest, drawing_id: uuid.UUID) -> Named:
    """What the desk calls the features of the drawing's model."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    return Named(
        parts={key: _named(part, document.profile) for key, part in facts.parts.items()},
        instances={i.path: i.part for i in facts.instances},
    )


def _named(part: PartFacts, profile: Profile) -> list[NamedFeature]:
    known = features(part)
    edges: dict[str, list[str]] = {}
    for edge in part.edges:
        for name in edge.faces:
            edges.setdefault(name, []).append(edge.name)

    def named(name: str, number: int, among: Sequence[int], says: str, faces: Iterable[str]) -> NamedFeature:
        numbered = f"{name}, {among.index(number) + 1} of {len(among)}" if len(among) > 1 else name
        sources = dict.fromkeys(s for f in sorted(faces) for s in (f, *edges.get(f, ())))
        return NamedFeature(name=numbered, says=says, sources=list(sources))

    out = [
        named(feature_name(f), n, known.equals(n), plain(feature_rows(f, 1, profile), profile), f.faces)
        for n, f in enumerate(known.others)
    ]
    for n, hole in enumerate(known.holes):
        says = plain(rows(hole, 1, profile), profile) if hole.is_told else ""
        out.append(named(hole_name(hole), n, known.alike(n), says, hole.faces))
    return out


class Sayable(Schema):
    """What can be said of a hole, with all that are equal to it, or of a shaft; None of other things."""

    row: HoleRow | None


@router.get("/{drawing_id}/sayable", response=Sayable)
def sayable(
    request: HttpRequest,
    drawing_id: uuid.UUID,
    instance: Annotated[str, Query(max_length=400)],
    source: Annotated[str, Query(max_length=800)],
) -> Sayable:
    """The hole or the shaft that an edge or a face belongs to."""
    d = own_drawing(request, drawing_id)
    return Sayable(row=row_at(shown_facts(d)[1], instance, source))


@router.get("/tools/kinds", response=list[KindForm])
def kinds(request: HttpRequest) -> list[KindForm]:
    """All kinds of annotation that there are."""
    return [
        KindForm(
            kind=k.key,
            name=k.name,
            placed=k.propose is not None,
            is_size=isinstance(k, SizeKind),
            fields=[FormField(**asdict(f)) for f in form_of(k)],
        )
        for k in registry.KINDS.values()
    ]
