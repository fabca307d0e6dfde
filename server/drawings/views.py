"""A view on a sheet: its lines as ink, its curves for pointing at, and deriving it once more."""

import threading
import uuid
from functools import cache
from typing import Any

import shapely
from cachetools import LRUCache
from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema, Status

from drafting.compose import lettering, own_ink
from drafting.export.svg import elements_svg
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from server.drawings import service, store
from server.drawings.access import FOREVER, shown_view, view_of
from server.drawings.geometry import again, geometry_key
from server.drawings.showing import shown_facts
from server.errors import Problem

router = Router(tags=["drawings"])
_INKS: LRUCache[str, str] = LRUCache(300)
"""Views' ink by all that it depends on."""
_lock = threading.Lock()


class ViewInk(Schema):
    key: str
    svg: str
    low: list[float]
    high: list[float]


@router.post("/{drawing_id}/views/{view_id}/derive", response={204: None, 404: Problem})
def derive_again(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Status[Any]:
    """Try once more to derive a view that could not be derived."""
    d, context = view_of(request, drawing_id, view_id)
    version, facts = shown_facts(d)
    if context.view is not None:
        again(geometry_key(version, derivation_of(context.view, facts)))
    return Status(204, None)


@router.get("/{drawing_id}/views/{view_id}/ink", response={200: ViewInk, 404: Problem, 425: Problem})
def ink(
    request: HttpRequest, drawing_id: uuid.UUID, view_id: str, response: HttpResponse, key: str = ""
) -> Any:
    """A view's own lines about its position. key is the ink key the sheet named; the answer never changes for
    it."""
    shown = shown_view(request, drawing_id, view_id, exact=False)
    view, geometry, context = shown.view, shown.geometry, shown.context
    document, host, facts = context.drawing, context.sheet, context.facts

    @cache
    def boxes() -> list[shapely.Geometry]:
        return lettering(host, view, store.groups(document, host, facts))

    now = service.ink_key(document, host, view, shown.derived, facts, boxes) + ("r" if geometry.rough else "")
    if key == now:
        response["Cache-Control"] = FOREVER
    factor = context.scale
    with _lock:
        svg = _INKS.get(now)
    if svg is None:
        keep_off = boxes() if service.is_hatched(view) else []
        svg = elements_svg(own_ink(document, host, view, facts, geometry, keep_off), document.profile)
        with _lock:
            _INKS[now] = svg
    return ViewInk(
        key=now, svg=svg, low=[v * factor for v in geometry.low], high=[v * factor for v in geometry.high]
    )


@router.get("/{drawing_id}/views/{view_id}/curves", response={200: ViewGeometry, 404: Problem, 425: Problem})
def curves(
    request: HttpRequest, drawing_id: uuid.UUID, view_id: str, response: HttpResponse, key: str = ""
) -> Any:
    """Curves of a view as it shows them, for pointing at. key is the shape key the sheet named."""
    shown = shown_view(request, drawing_id, view_id, exact=False)
    if key == shown.shape_key and not shown.geometry.rough:
        response["Cache-Control"] = FOREVER
    return shown.geometry.model_copy(update={"image": None})
