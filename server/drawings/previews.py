"""A size under the pointer: what was picked decides its kind, the standard's rows catch its line. No database writes, no kernel."""

import time
from typing import Literal

import numpy as np
from ninja import Schema

from drafting.annotation import linear, measure, registry
from drafting.annotation.measure import Round, ViewFrame
from drafting.annotation.placing import snapped_place
from drafting.document import (
    DiameterDimension,
    Dimension,
    LinearDimension,
    Pick,
    Point,
    View,
    new_id,
    view_scale,
)
from drafting.errors import SizeError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.standards.profile import Profile
from server.drawings.models import Drawing
from server.drawings.service import document_of
from server.library.facts import current_facts


class Picked(Schema):
    """Something of a view under the pointer. at is in view mm at 1:1 about the view's position."""

    instance: str
    source: str
    role: Literal["edge", "silhouette", "cut"]
    at: Point


class PreviewRequest(Schema):
    view: str
    picks: list[Picked]
    pointer: Point
    direction: Literal["aligned", "horizontal", "vertical"] = "aligned"
    id: str | None = None
    places: int | None = None


class Replacing(Schema):
    """An existing size, dragged to a pointer."""

    id: str
    pointer: Point


class Preview(Schema):
    """svg is about the view's position, y down. directions are those the size can be taken in; milliseconds is the server's time."""

    annotation: LinearDimension | DiameterDimension
    svg: str
    text: str
    kind: str
    directions: list[str]
    milliseconds: float


def preview_of(drawing: Drawing, request: PreviewRequest) -> Preview:
    """Raises SizeError with a sentence where the picks give no size."""
    started = time.perf_counter()
    document = document_of(drawing)
    sheet = document.sheet_of_view(request.view)
    view = sheet.view(request.view) if sheet else None
    if sheet is None or view is None:
        raise SizeError("That view is no longer in the drawing.")
    if not 1 <= len(request.picks) <= 2:
        raise SizeError("Pick one or two things to size.")
    _, facts = current_facts(drawing.model)
    frame = ViewFrame.of(view, facts, view_scale(sheet, view).factor)
    picks = [measure.pick_side(Pick(instance=p.instance, source=p.source, role=p.role), (p.at.x, p.at.y), facts, frame) for p in request.picks]
    scale = view_scale(sheet, view).factor
    annotation = _annotation(request, picks, view, facts, frame, scale, np.array([request.pointer.x, request.pointer.y]), document.profile)
    return _shown(annotation, facts, frame, document.profile, scale, started)


def replaced(drawing: Drawing, request: Replacing) -> Preview:
    """A placed size as it would be with its line under the pointer. Raises SizeError."""
    started = time.perf_counter()
    document = document_of(drawing)
    sheet, annotation = next(((s, a) for s in document.sheets for a in s.annotations if a.id == request.id), (None, None))
    view = sheet.view(annotation.view) if sheet and annotation else None
    if sheet is None or view is None or not isinstance(annotation, Dimension):
        raise SizeError("That size is no longer on the drawing.")
    _, facts = current_facts(drawing.model)
    scale = view_scale(sheet, view).factor
    frame = ViewFrame.of(view, facts, scale)
    along = measure.distance(annotation.picks, annotation.direction, facts, frame).direction if annotation.kind == "linear" else None
    at = np.array([request.pointer.x - view.position.x, request.pointer.y - view.position.y])
    moved = annotation.model_copy(update={"place": snapped_place(at, along, facts, frame, scale, document.profile)})
    return _shown(moved, facts, frame, document.profile, scale, started)


def _shown(
    annotation: LinearDimension | DiameterDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float, started: float
) -> Preview:
    elements = registry.ink(annotation, facts, frame, profile, scale)
    options = linear.directions(annotation, facts, frame) if isinstance(annotation, LinearDimension) else []
    return Preview(
        annotation=annotation, svg=elements_svg(elements, profile), text=registry.text(annotation, facts, frame, profile),
        kind=registry.KINDS[annotation.kind].name, directions=options, milliseconds=(time.perf_counter() - started) * 1e3,
    )  # fmt: skip


def _annotation(
    request: PreviewRequest, picks: list[Pick], view: View, facts: Facts, frame: ViewFrame, scale: float, pointer: np.ndarray, profile: Profile
) -> LinearDimension | DiameterDimension:
    things = [measure.resolve(p, facts, frame) for p in picks]
    at = pointer - np.array([view.position.x, view.position.y])
    identity = request.id or new_id()
    if len(things) == 1 and isinstance(things[0], Round):
        place = snapped_place(at, None, facts, frame, scale, profile)
        return DiameterDimension(id=identity, view=view.id, picks=picks, place=place, places=request.places)
    direction = request.direction
    free = LinearDimension(id="x", view=view.id, picks=picks, place=snapped_place(at, None, facts, frame, scale, profile), direction=direction)
    options = linear.directions(free, facts, frame)
    if direction not in options:
        if not options:
            measure.distance(picks, direction, facts, frame)
        direction = options[0]  # type: ignore[assignment]
    along = measure.distance(picks, direction, facts, frame).direction
    place = snapped_place(at, along, facts, frame, scale, profile)
    return LinearDimension(id=identity, view=view.id, picks=picks, place=place, direction=direction, places=request.places)
