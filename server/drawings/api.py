"""Drawings: start, edit, undo, redo, the ink of a sheet, previews of sizes, publishing."""

import uuid
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status

from drafting.annotation import registry
from drafting.annotation.measure import ViewFrame
from drafting.commands import AnyCommand
from drafting.compose import annotation_group, view_label
from drafting.document import Annotation, Sheet
from drafting.document import Drawing as Document
from drafting.export.svg import elements_svg, group_svg, sheet_svg
from drafting.model.model import Facts
from drafting.sheet.frame import blank_fields, frame_ink
from drafting.sheet.layout import sheet_size
from drafting.views.ink import view_ink
from drafting.views.orientation import RELATIONS, Orientation, Relation, projected
from server.accounts.access import owned
from server.accounts.access import workspace_of as current_workspace
from server.drawings import service
from server.drawings.geometry import geometry_key, ready, requested
from server.drawings.models import Drawing
from server.drawings.previews import (
    Preview,
    PreviewRequest,
    Replacing,
    preview_of,
    replaced,
)
from server.errors import Problem
from server.jobs import service as jobs
from server.jobs import tasks
from server.jobs.api import JobState
from server.library.api import GeometryState
from server.library.facts import current_facts
from server.library.models import Model

router = Router(tags=["drawings"])


class DrawingCard(Schema):
    id: uuid.UUID
    name: str
    number: str
    standard: str
    size: str
    model: str
    updated: str
    version: int
    open: int
    """What is still to do: blank title fields, sizes that lost their geometry, a sheet without views."""


class StartDrawing(Schema):
    model: uuid.UUID
    style: str | None = None


class DrawingState(Schema):
    """A drawing as the desk holds it. done is what the last request did, in words."""

    id: uuid.UUID
    model: uuid.UUID
    model_name: str
    model_number: str
    version: int
    document: Document
    can_undo: bool
    can_redo: bool
    done: str = ""


class StaleProblem(Schema):
    message: str
    state: DrawingState


class Edit(Schema):
    version: int
    command: AnyCommand


class Turn(Schema):
    version: int


class ViewState(Schema):
    """A view on the sheet: where its geometry and ink are, or why there are none."""

    id: str
    geometry: GeometryState
    ink: str


class AnnotationInk(Schema):
    id: str
    view: str
    svg: str
    text: str
    lost: str


class SheetDrawn(Schema):
    """All of a sheet but the views' own lines, which have a key of their own. Sizes in mm; markup has y down."""

    version: int
    width: float
    height: float
    frame: str
    views: list[ViewState]
    labels: dict[str, str]
    annotations: list[AnnotationInk]
    blank_fields: list[str]


class ViewInk(Schema):
    key: str
    svg: str
    low: list[float]
    high: list[float]


class ProjectionChoice(Schema):
    relation: Relation
    orientation: Orientation


class Publish(Schema):
    format: Literal["pdf", "svg", "dxf"]
    sheets: list[str] = []


def _owned(request: HttpRequest, drawing_id: uuid.UUID) -> Drawing:
    return owned(request, Drawing.objects.select_related("model", "workspace"), drawing_id)


def _state(drawing: Drawing, done: str = "") -> DrawingState:
    return DrawingState(
        id=drawing.pk, model=drawing.model_id, model_name=drawing.model.name, model_number=drawing.model.number, version=drawing.version,
        document=service.document_of(drawing), can_undo=drawing.log_position > 0,
        can_redo=drawing.log.filter(sequence__gt=drawing.log_position).exists(), done=done,
    )  # fmt: skip


@router.get("", response=list[DrawingCard])
def drawings(request: HttpRequest) -> list[DrawingCard]:
    rows = Drawing.objects.filter(workspace=current_workspace(request)).select_related("model").order_by("-updated")
    return [
        DrawingCard(
            id=d.pk, name=d.name, number=d.number, standard=d.standard, size=d.document["sheets"][0]["size"], model=str(d.model),
            updated=d.updated.isoformat(), version=d.version, open=service.open_points(d),
        )
        for d in rows
    ]  # fmt: skip


@router.post("", response={201: DrawingState})
def start(request: HttpRequest, payload: StartDrawing) -> Status[Any]:
    model = owned(request, Model.objects.select_related("workspace"), payload.model)
    drawing = service.start_drawing(model, request.user, model.workspace.name, payload.style)
    return Status(201, _state(drawing, "Drawing started"))


@router.get("/{drawing_id}", response=DrawingState)
def drawing(request: HttpRequest, drawing_id: uuid.UUID) -> DrawingState:
    return _state(_owned(request, drawing_id))


@router.delete("/{drawing_id}", response={204: None})
def remove(request: HttpRequest, drawing_id: uuid.UUID) -> Status[Any]:
    _owned(request, drawing_id).delete()
    return Status(204, None)


def _stale(error: service.Stale) -> Status[Any]:
    by = error.drawing.updated_by
    who = (by.get_full_name() or by.get_username()) if by else "Someone"
    message = f"{who} has changed this drawing meanwhile. It now shows the current state; your last step was not made, please make it again."
    return Status(409, {"message": message, "state": _state(error.drawing)})


@router.post("/{drawing_id}/commands", response={200: DrawingState, 409: StaleProblem, 422: Problem})
def edit(request: HttpRequest, drawing_id: uuid.UUID, payload: Edit) -> Any:
    _owned(request, drawing_id)
    try:
        return _state(*service.apply(drawing_id, payload.version, payload.command, request.user))  # type: ignore[arg-type]
    except service.Stale as error:
        return _stale(error)


@router.post("/{drawing_id}/undo", response={200: DrawingState, 409: StaleProblem, 422: Problem})
def undo(request: HttpRequest, drawing_id: uuid.UUID, payload: Turn) -> Any:
    return _step(request, drawing_id, payload.version, forward=False)


@router.post("/{drawing_id}/redo", response={200: DrawingState, 409: StaleProblem, 422: Problem})
def redo(request: HttpRequest, drawing_id: uuid.UUID, payload: Turn) -> Any:
    return _step(request, drawing_id, payload.version, forward=True)


def _step(request: HttpRequest, drawing_id: uuid.UUID, version: int, forward: bool) -> Any:
    _owned(request, drawing_id)
    try:
        changed, title = service.step(drawing_id, version, request.user, forward)  # type: ignore[arg-type]
    except service.Stale as error:
        return _stale(error)
    word = "again" if forward else "taken back"
    return _state(changed, f"{title}: {word}")


@router.get("/{drawing_id}/sheets/{sheet_id}", response={200: SheetDrawn, 404: Problem})
def sheet(request: HttpRequest, drawing_id: uuid.UUID, sheet_id: str) -> Any:
    """The sheet as it is now; views that are not derived yet are put in the queue."""
    d = _owned(request, drawing_id)
    document = service.document_of(d)
    found = document.sheet(sheet_id)
    if found is None:
        return Status(404, {"message": "That sheet is no longer in the drawing."})
    version, facts = current_facts(d.model)
    views = []
    for view in found.views:
        row = requested(version, view.orientation)
        state = GeometryState(key=row.key, state=row.state, error=row.error)
        views.append(ViewState(id=view.id, geometry=state, ink=service.ink_key(document, found, view, row.key)))
    annotations = [_annotation_ink(document, found, a, facts) for a in found.annotations]
    labels = {}
    for view in found.views:
        geometry = ready(geometry_key(version, view.orientation))
        label = view_label(document, found, view, geometry) if geometry else []
        if label:
            labels[view.id] = elements_svg(label, document.profile)
    width, height = sheet_size(found)
    return SheetDrawn(
        version=d.version, width=width, height=height, frame=elements_svg(frame_ink(document, found, facts), document.profile),
        views=views, labels=labels, annotations=annotations, blank_fields=blank_fields(document, facts),
    )  # fmt: skip


def _annotation_ink(document: Document, sheet: Sheet, annotation: Annotation, facts: Facts) -> AnnotationInk:
    group, host = annotation_group(document, sheet, annotation, facts), sheet.view(annotation.view)
    if isinstance(group, str) or host is None:
        return AnnotationInk(id=annotation.id, view=annotation.view, svg="", text="", lost=str(group))
    text = registry.text(annotation, facts, ViewFrame.of(host, facts), document.profile)
    return AnnotationInk(id=annotation.id, view=annotation.view, svg=group_svg(group, document.profile), text=text, lost="")


@router.get("/{drawing_id}/views/{view_id}/ink", response={200: ViewInk, 404: Problem, 425: Problem})
def ink(request: HttpRequest, drawing_id: uuid.UUID, view_id: str, response: HttpResponse, key: str = "") -> Any:
    """A view's own lines about its position. key is the ink key the sheet named; the answer never changes for it."""
    d = _owned(request, drawing_id)
    document = service.document_of(d)
    host = document.sheet_of_view(view_id)
    view = host.view(view_id) if host else None
    if host is None or view is None:
        return Status(404, {"message": "That view is no longer in the drawing."})
    version, _ = current_facts(d.model)
    geometry = ready(geometry_key(version, view.orientation))
    if geometry is None:
        return Status(425, {"message": "The view is still being derived."})
    now = service.ink_key(document, host, view, geometry_key(version, view.orientation))
    if key == now:
        response["Cache-Control"] = "private, max-age=31536000, immutable"
    factor = (view.scale or host.scale).factor
    svg = elements_svg(view_ink(view, geometry, document.profile, factor), document.profile)
    return ViewInk(key=now, svg=svg, low=[v * factor for v in geometry.low], high=[v * factor for v in geometry.high])


@router.get("/{drawing_id}/views/{view_id}/projections", response={200: list[ProjectionChoice], 404: Problem})
def projections(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """What a view beside this one would show, in each of the eight places, by the drawing's projection method."""
    document = service.document_of(_owned(request, drawing_id))
    host = document.sheet_of_view(view_id)
    view = host.view(view_id) if host else None
    if view is None:
        return Status(404, {"message": "That view is no longer in the drawing."})
    return [ProjectionChoice(relation=r, orientation=projected(view.orientation, r, document.projection)) for r in RELATIONS]


@router.post("/{drawing_id}/preview", response={200: Preview, 422: Problem})
def preview(request: HttpRequest, drawing_id: uuid.UUID, payload: PreviewRequest) -> Preview:
    """A size as it would be placed: its ink under the pointer, its text, and the annotation to place."""
    return preview_of(_owned(request, drawing_id), payload)


@router.post("/{drawing_id}/replace", response={200: Preview, 422: Problem})
def replace(request: HttpRequest, drawing_id: uuid.UUID, payload: Replacing) -> Preview:
    """A placed size as it would be with its line under the pointer."""
    return replaced(_owned(request, drawing_id), payload)


@router.post("/{drawing_id}/publish", response={202: JobState})
def publish(request: HttpRequest, drawing_id: uuid.UUID, payload: Publish) -> Status[Any]:
    d = _owned(request, drawing_id)
    data = {"drawing": str(d.pk), "format": payload.format, "sheets": payload.sheets}
    return Status(202, jobs.start(tasks.publish, d.workspace, request.user, "publish", f"{d} as {payload.format.upper()}", data))


@router.get("/{drawing_id}/thumbnail.svg")
def thumbnail(request: HttpRequest, drawing_id: uuid.UUID) -> HttpResponse:
    """The first sheet as far as its views are derived."""
    d = _owned(request, drawing_id)
    document = service.document_of(d)
    out = service.composed(d, document, document.sheets[0])
    response = HttpResponse(sheet_svg(out.ink, document.profile), content_type="image/svg+xml")
    response["Content-Security-Policy"] = "default-src 'none'; style-src 'unsafe-inline'; font-src data:"
    return response
