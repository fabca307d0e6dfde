"""Versions of its model as a drawing sees them: what bringing it along would
do."""

import uuid
from dataclasses import asdict
from typing import Literal

from django.http import HttpRequest
from ninja import Router, Schema

from drafting import compose as composing
from drafting.annotation.review.brought_along import along, states_gone
from drafting.commands.versions import Rehung
from drafting.document import Drawing as Document
from drafting.document import Sheet
from drafting.export.svg import elements_svg
from drafting.ink.elements import Element, SheetInk
from drafting.ink.overlay import overlaid
from drafting.model.model import Facts
from drafting.views.family import derivation_of
from server.drawings import store
from server.drawings.access import own_drawing, sheet_of
from server.drawings.geometry import requested_all
from server.drawings.models import DerivedView, Drawing
from server.drawings.service import brought_to, geometries
from server.drawings.showing import shown_facts
from server.errors import NotYet, Problem
from server.library.models import ModelVersion
from server.library.versions import likely, warning

router = Router(tags=["drawings"])


class Difference(Schema):
    """One thing that a drawing would say otherwise; sheet, view, annotation: ids of where it is."""

    change: Literal["added", "removed", "changed"]
    what: str
    before: str
    after: str
    sheet: str
    view: str
    annotation: str


class Hanging(Schema):
    """What would not follow by itself: lost, or likely found again with what it would hang on and say."""

    annotation: str
    sheet: str
    view: str
    what: str
    before: str
    after: str
    held: Literal["likely", "lost"]
    why: str
    replaced: list[Rehung]


class BroughtAlong(Schema):
    """What bringing a drawing along would do; follows: how many things follow by themselves."""

    shows: str
    to: str
    number: int
    warning: str
    said: list[str]
    differences: list[Difference]
    hanging: list[Hanging]
    follows: int
    sheets: list[str]


@router.get("/{drawing_id}/along/{number}", response={200: BroughtAlong, 404: Problem, 422: Problem})
def bring_along(request: HttpRequest, drawing_id: uuid.UUID, number: int) -> BroughtAlong:
    """What bringing a drawing along to a version of its model would do. Nothing is kept but derived views."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    version, old, other, new = _both(d, number)
    first, last = sorted((version.number, other.number))
    report = along(document, old, new, likely(d.model, first, last) if version.number < other.number else {})
    for sheet in document.sheets:
        requested_all(other, [derivation_of(v, new) for v in sheet.views])
    between = d.model.versions.filter(number__gt=first, number__lte=last).order_by("number")
    said = [text for v in between for text in v.told.get("said", [])]
    return BroughtAlong(
        shows=str(version),
        to=str(other),
        number=number,
        warning=next((w for v in between if (w := warning(v))), ""),
        said=[*states_gone(document, new), *(said if number > version.number else [])],
        differences=[Difference(**asdict(x)) for x in report.differences],
        hanging=[Hanging(**asdict(h)) for h in report.hanging],
        follows=report.follows,
        sheets=[s.id for s in document.sheets],
    )


def _both(d: Drawing, number: int) -> tuple[ModelVersion, Facts, ModelVersion, Facts]:
    return (*shown_facts(d), *brought_to(d, number))


class OverlayInk(Schema):
    """A sheet as it is under what it would be; mm, markup with y down from the lower edge."""

    width: float
    height: float
    same: str
    gone: str
    new: str


@router.get(
    "/{drawing_id}/along/{number}/sheets/{sheet_id}",
    response={200: OverlayInk, 404: Problem, 422: Problem, 425: Problem},
)
def overlay(request: HttpRequest, drawing_id: uuid.UUID, number: int, sheet_id: str) -> OverlayInk:
    """A sheet brought along to a version, over the sheet as it is. Raises NotYet while views are derived."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    sheet = sheet_of(document, sheet_id)
    version, old, other, new = _both(d, number)
    before = _composed(document, sheet, version, old)
    after = _composed(document.model_copy(update={"shows": number}), sheet, other, new)
    return overlay_ink(document, before, after)


def _composed(document: Document, sheet: Sheet, version: ModelVersion, facts: Facts) -> SheetInk:
    rows = requested_all(version, [derivation_of(v, facts) for v in sheet.views])
    waiting = sum(r.state == DerivedView.WAITING for r in rows)
    if waiting:
        raise NotYet(f"{waiting} of {len(rows)} views are still being derived.")
    return composing.compose(document, sheet, facts, geometries(version, facts, sheet)).ink


def overlay_ink(document: Document, before: SheetInk, after: SheetInk) -> OverlayInk:
    """Two states of a sheet, one over the other."""
    found = overlaid(before, after)

    def svg(elements: list[Element]) -> str:
        return elements_svg(elements, document.profile)

    return OverlayInk(
        width=max(before.width, after.width),
        height=max(before.height, after.height),
        same=svg(found.same),
        gone=svg(found.gone),
        new=svg(found.new),
    )
