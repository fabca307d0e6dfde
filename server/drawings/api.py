"""Drawings: start, edit, undo, redo, what a command would do, publishing. What a sheet shows is in `sheets`;
sizes and parts are apart."""

import uuid
from typing import Any, Literal

from django.db.models import Max
from django.http import HttpRequest
from ninja import Router, Schema, Status

from drafting.commands import AnyCommand, applied
from drafting.compose import outer_ink
from drafting.document import Drawing as Document
from drafting.document import View, view_scale
from drafting.errors import DraftingError
from drafting.export.svg import elements_svg
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presented
from server.accounts.access import owned
from server.accounts.access import workspace_of as current_workspace
from server.drawings import service, store
from server.drawings.access import own_drawing, shape
from server.drawings.geometry import ready, requested
from server.drawings.models import DerivedView, Drawing
from server.drawings.sheets import OuterInk
from server.drawings.showing import shown_facts
from server.errors import Problem
from server.jobs import service as jobs
from server.jobs.api import JobState
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
    state: str
    behind: bool
    """Whether its model has a later version than it shows."""
    open: int
    """What is still to do: blank title fields, sizes that lost their geometry, a sheet without views."""


class StartDrawing(Schema):
    model: uuid.UUID
    style: str | None = None


class VersionName(Schema):
    """A version of a model: its number, and what it is called."""

    number: int
    name: str


class DrawingState(Schema):
    """A drawing as the desk holds it. done is what the last request did, in words."""

    id: uuid.UUID
    model: uuid.UUID
    model_name: str
    model_number: str
    model_kind: str
    state: str
    """In work, for check, released or withdrawn."""
    versions: list[VersionName]
    """Of its model, the newest first; `document.shows` is the number of one."""
    version: int
    document: Document
    can_undo: bool
    can_redo: bool
    done: str = ""


class Edited(Schema):
    """What an edit made of a drawing: patch (RFC 6902) leads from the version it was made on to this one;
    done: what it did, in words."""

    version: int
    patch: list[dict[str, Any]]
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


class Publish(Schema):
    format: Literal["pdf", "pdfa", "checked", "svg", "dxf"]
    sheets: list[str] = []


def _state(drawing: Drawing, done: str = "") -> DrawingState:
    return DrawingState(
        id=drawing.pk,
        model=drawing.model_id,
        model_name=drawing.model.name,
        model_number=drawing.model.number,
        model_kind=drawing.model.kind,
        state=drawing.state,
        versions=[
            VersionName(number=number, name=label or str(number))
            for number, label in drawing.model.versions.order_by("-number").values_list("number", "label")
        ],
        version=drawing.version,
        document=store.document_of(drawing),
        can_undo=drawing.log_position > drawing.floor,
        can_redo=drawing.log.filter(sequence__gt=drawing.log_position).exists(),
        done=done,
    )


def _edited(drawing: Drawing, done: str, patch: list[dict[str, Any]], new: bool = False) -> Edited:
    """new: whether a command was made that was not made before; there is nothing to redo after it."""
    more = not (new and patch) and drawing.log.filter(sequence__gt=drawing.log_position).exists()
    return Edited(
        version=drawing.version,
        patch=patch,
        can_undo=drawing.log_position > drawing.floor,
        can_redo=more,
        done=done,
    )


@router.get("", response=list[DrawingCard])
def drawings(request: HttpRequest) -> list[DrawingCard]:
    rows = (
        Drawing.objects.defer("head")
        .filter(workspace=current_workspace(request))
        .select_related("model")
        .annotate(latest=Max("model__versions__number"))
        .order_by("-updated")
    )
    open_points = service.open_points(list(rows))
    return [
        DrawingCard(
            id=d.pk,
            name=d.name,
            number=d.number,
            standard=d.standard,
            size=d.size,
            model=str(d.model),
            updated=d.updated.isoformat(),
            version=d.version,
            state=d.state,
            behind=d.shows < d.latest,
            open=open_points[d.pk],
        )
        for d in rows
    ]


@router.post("", response={201: DrawingState})
def start(request: HttpRequest, payload: StartDrawing) -> Status[Any]:
    model = owned(request, Model.objects.select_related("workspace"), payload.model)
    drawing = service.start_drawing(model, request.user, model.workspace.name, payload.style)
    return Status(201, _state(drawing, "Drawing started"))


@router.get("/{drawing_id}", response=DrawingState)
def drawing(request: HttpRequest, drawing_id: uuid.UUID) -> DrawingState:
    return _state(own_drawing(request, drawing_id))


@router.delete("/{drawing_id}", response={204: None, 422: Problem})
def remove(request: HttpRequest, drawing_id: uuid.UUID) -> Status[Any]:
    own_drawing(request, drawing_id)
    service.remove(drawing_id)
    return Status(204, None)


def _stale(error: service.Stale) -> Status[Any]:
    by = error.drawing.updated_by
    who = (by.get_full_name() or by.get_username()) if by else "Someone"
    message = (
        f"{who} has changed this drawing meanwhile. It now shows the current "
        f"state; your last step was not made, please make it again."
    )
    return Status(409, {"message": message, "state": _state(error.drawing)})


@router.post("/{drawing_id}/commands", response={200: Edited, 409: StaleProblem, 422: Problem})
def edit(request: HttpRequest, drawing_id: uuid.UUID, payload: Edit) -> Any:
    own_drawing(request, drawing_id)
    try:
        made = service.apply(drawing_id, payload.version, payload.command, request.user)  # type: ignore[arg-type]
        return _edited(*made, new=True)
    except service.Stale as error:
        return _stale(error)


@router.post("/{drawing_id}/undo", response={200: Edited, 409: StaleProblem, 422: Problem})
def undo(request: HttpRequest, drawing_id: uuid.UUID, payload: Turn) -> Any:
    return _step(request, drawing_id, payload.version, forward=False)


@router.post("/{drawing_id}/redo", response={200: Edited, 409: StaleProblem, 422: Problem})
def redo(request: HttpRequest, drawing_id: uuid.UUID, payload: Turn) -> Any:
    return _step(request, drawing_id, payload.version, forward=True)


def _step(request: HttpRequest, drawing_id: uuid.UUID, version: int, forward: bool) -> Any:
    own_drawing(request, drawing_id)
    try:
        changed, title, patch = service.step(drawing_id, version, request.user, forward)  # type: ignore[arg-type]
    except service.Stale as error:
        return _stale(error)
    word = "again" if forward else "taken back"
    return _edited(changed, f"{title}: {word}", patch)


class Proposal(Schema):
    """A command that is not made yet. known: shape keys the asker has already."""

    command: AnyCommand
    known: list[str] = []


class ProposedView(Schema):
    """A view as the command would leave it. geometry only where it is ready and not known; outer: what it
    would put on its parent."""

    view: View
    sheet: str
    scale: float
    state: str
    error: str
    shape: str
    geometry: ViewGeometry | None = None
    outer: list[OuterInk] = []


class Proposed(Schema):
    views: list[ProposedView]
    title: str


@router.post("/{drawing_id}/propose", response={200: Proposed, 422: Problem})
def propose(request: HttpRequest, drawing_id: uuid.UUID, payload: Proposal) -> Proposed:
    """What a command would do to the views, for the picture under the pointer. Nothing is kept but derived
    views."""
    d = own_drawing(request, drawing_id)
    before = store.document_of(d)
    version, facts = shown_facts(d)
    after = applied(before, payload.command, facts)
    known = {v.id: v for v in before.views()}
    out = []
    sheets = {s.id: s for s in before.sheets}
    for host in (s for s in after.sheets if s is not sheets.get(s.id)):
        for view in host.views:
            old = known.get(view.id)
            if old is not None and old == view:
                continue
            row = requested(version, derivation_of(view, facts))
            known_as = service.shape_key(view, host, row.key)
            item = ProposedView(
                view=view,
                sheet=host.id,
                scale=view_scale(host, view).factor,
                state=row.state,
                error=row.error,
                shape=known_as,
            )
            if (
                row.state == DerivedView.READY
                and known_as not in payload.known
                and (geometry := ready(row.key)) is not None
            ):
                try:
                    item.geometry = presented(view, host, facts, geometry).model_copy(update={"image": None})
                except DraftingError as problem:
                    item.state, item.error = DerivedView.FAILED, str(problem)
            parent = host.view(view.parent or "")
            if parent is not None and view.kind in ("section", "auxiliary", "detail"):
                _, shown = shape(d, host, parent)
                elements = outer_ink(after, host, parent, shown).get(view.id, [])
                item.outer = (
                    [OuterInk(view=parent.id, of=view.id, svg=elements_svg(elements, after.profile))]
                    if elements
                    else []
                )
            out.append(item)
    return Proposed(views=out, title=payload.command.title())


@router.post("/{drawing_id}/publish", response={202: JobState})
def publish(request: HttpRequest, drawing_id: uuid.UUID, payload: Publish) -> Status[Any]:
    d = own_drawing(request, drawing_id)
    data = {"drawing": str(d.pk), "format": payload.format, "sheets": payload.sheets}
    return Status(
        202,
        jobs.start("publish", d.workspace, request.user, "publish", f"{d} as {payload.format.upper()}", data),
    )
