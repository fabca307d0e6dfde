"""A drawing, a view and its geometry, looked up within the user's workspace."""

import uuid

from django.http import HttpRequest

from drafting.document import Drawing as Document
from drafting.document import Sheet, View
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presented
from server.accounts.access import owned
from server.drawings import store
from server.drawings.geometry import geometry_key, ready, rough
from server.drawings.models import Drawing
from server.library.facts import current_facts


def own_drawing(request: HttpRequest, drawing_id: uuid.UUID) -> Drawing:
    """A drawing of the user's workspace; what is kept in memory is not loaded."""
    return owned(request, Drawing.objects.defer("head").select_related("model", "workspace"), drawing_id)


def hosted(
    request: HttpRequest, drawing_id: uuid.UUID, view_id: str
) -> tuple[Drawing, Document, Sheet, View] | None:
    """A drawing with one of its views and that view's sheet; None where the view is gone."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    host = document.sheet_of_view(view_id)
    view = host.view(view_id) if host else None
    return (d, document, host, view) if host and view else None


def shape(d: Drawing, host: Sheet, view: View) -> tuple[str, ViewGeometry | None]:
    """Key of the derived geometry and what the view shows of it, exact or rough; None while there is
    neither."""
    version, facts = current_facts(d.model)
    key = geometry_key(version, derivation_of(view, facts))
    geometry = ready(key) or rough(key)
    return key, presented(view, host, facts, geometry) if geometry else None
