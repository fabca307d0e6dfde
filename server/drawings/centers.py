"""Centers under the pointer and those a view still lacks. No database writes, no kernel."""

from typing import Annotated, Literal

import numpy as np
from ninja import Schema
from pydantic import Field

from drafting.annotation import centers, find_centers, measure
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import ViewFrame
from drafting.document import BoltCircle, Center, CenterLine, CenterMark, Pick, Sheet, View, new_id, view_scale
from drafting.document import Drawing as Document
from drafting.errors import SizeError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.views.geometry import ViewGeometry
from server.drawings.models import Drawing
from server.drawings.previews import Picked
from server.drawings.service import document_of
from server.library.facts import current_facts

AnyCenter = Annotated[CenterMark | CenterLine | BoltCircle, Field(discriminator="kind")]


class CenterRequest(Schema):
    """What was picked for a center; reach: how near to an end or middle of an edge a pick takes that point, view mm."""

    view: str
    kind: Literal["center_mark", "center_line", "bolt_circle"]
    picks: list[Picked] = []
    reach: float = 0.0
    axis: Literal["", "horizontal", "vertical"] = ""


class CenterPreview(Schema):
    """svg is about the view's position, y down."""

    center: AnyCenter
    svg: str


class Lacking(Schema):
    centers: list[AnyCenter]


class EndHandle(Schema):
    """A draggable end of a center, paper mm about its view's position; out: direction outward; past: its reach past the outline."""

    end: int
    x: float
    y: float
    out_x: float
    out_y: float
    past: float


def center_of(drawing: Drawing, request: CenterRequest) -> CenterPreview:
    """A center as it would be placed. Raises SizeError with a sentence where the picks make none."""
    document = document_of(drawing)
    sheet = document.sheet_of_view(request.view)
    view = sheet.view(request.view) if sheet else None
    if sheet is None or view is None:
        raise SizeError("That view is no longer in the drawing.")
    _, facts = current_facts(drawing.model)
    scale = view_scale(sheet, view).factor
    frame = ViewFrame.of(view, facts, scale)
    center = _made(request, view, facts, frame)
    svg = elements_svg(
        centers.ink(centers.strokes(center, facts, frame, scale, document.profile.center_past), [], [], document.profile), document.profile
    )
    return CenterPreview(center=center, svg=svg)


def _made(request: CenterRequest, view: View, facts: Facts, frame: ViewFrame) -> Center:
    picks = [Pick(instance=p.instance, source=p.source, role=p.role) for p in request.picks]
    if request.kind == "center_mark":
        return CenterMark(id=new_id(), view=view.id, picks=picks)
    if request.kind == "bolt_circle":
        return BoltCircle(id=new_id(), view=view.id, picks=picks)
    if request.axis:
        return CenterLine(id=new_id(), view=view.id, axis=request.axis)
    if len(picks) == 1 and picks[0].role != "edge":
        return CenterLine(id=new_id(), view=view.id, picks=picks)
    if len(picks) != 2:
        raise SizeError("Pick a second edge or point for the line between them.")
    pointed = [_point(p, (q.at.x, q.at.y), request.reach, facts, frame) for p, q in zip(picks, request.picks, strict=True)]
    if all(p.point for p in pointed):
        return CenterLine(id=new_id(), view=view.id, picks=pointed)
    sided = [measure.pick_side(p, (q.at.x, q.at.y), facts, frame) for p, q in zip(picks, request.picks, strict=True)]
    return CenterLine(id=new_id(), view=view.id, picks=sided)


def _point(pick: Pick, at: tuple[float, float], reach: float, facts: Facts, frame: ViewFrame) -> Pick:
    """The pick as a point: the center of a circle, or an end or the middle of a straight edge within reach; else as it was."""
    thing = measure.resolve(pick, facts, frame) if pick.role == "edge" else None
    if isinstance(thing, Round):
        return pick.model_copy(update={"point": "center"})
    if isinstance(thing, Straight):
        places = {"start": thing.a, "end": thing.b, "middle": (thing.a + thing.b) / 2}
        away = {name: float(np.linalg.norm(frame.drawn(frame.flat(p)) - np.array(at))) for name, p in places.items()}
        name = min(away, key=lambda n: away[n])
        if away[name] <= reach:
            return pick.model_copy(update={"point": name})
    return pick


def lacking(document: Document, sheet: Sheet, view: View, geometry: ViewGeometry, facts: Facts, least: float) -> list[Center]:
    """Centers the view lacks. least: smallest diameter to mark, model mm."""
    scale = view_scale(sheet, view).factor
    return find_centers.everything(view, geometry, facts, ViewFrame.of(view, facts, scale), sheet.annotations, scale, least)


def unmarked(sheet: Sheet, view: View, geometry: ViewGeometry, facts: Facts) -> int:
    """How many circles of the view still have no mark."""
    frame = ViewFrame.of(view, facts, view_scale(sheet, view).factor)
    return len(find_centers.unmarked(find_centers.circles(view, geometry, facts, frame), sheet.annotations, view, facts, frame))


def handles_of(sheet: Sheet, center: Center, facts: Facts, standard: float) -> list[EndHandle]:
    view = sheet.view(center.view)
    if view is None:
        return []
    scale = view_scale(sheet, view).factor
    try:
        found = centers.handles(centers.strokes(center, facts, ViewFrame.of(view, facts, scale), scale, standard))
    except SizeError:
        return []
    return [EndHandle(end=h.end, x=h.at[0], y=h.at[1], out_x=h.out[0], out_y=h.out[1], past=h.past) for h in found]
