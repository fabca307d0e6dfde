"""A drawing, a view and its geometry, looked up within the user's workspace."""

import uuid
from dataclasses import dataclass

from django.http import HttpRequest

from drafting.context import Context
from drafting.document import Drawing as Document
from drafting.document import Sheet, View
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presented
from server.accounts.access import owned
from server.drawings import store
from server.drawings.geometry import geometry_key, ready, rough
from server.drawings.models import Drawing
from server.drawings.service import shape_key
from server.errors import NotThere, NotYet
from server.library.facts import current_facts

WAIT = "The view is still being derived."
FOREVER = "private, max-age=31536000, immutable"
"""Caching of an answer whose address names all that it depends on."""


def own_drawing(request: HttpRequest, drawing_id: uuid.UUID) -> Drawing:
    """A drawing of the user's workspace; what is kept in memory is not loaded."""
    return owned(request, Drawing.objects.defer("head").select_related("model", "workspace"), drawing_id)


def sheet_of(document: Document, sheet_id: str) -> Sheet:
    """A sheet of a drawing. Raises NotThere."""
    found = document.sheet(sheet_id)
    if found is None:
        raise NotThere("That sheet is no longer in the drawing.")
    return found


def view_of(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> tuple[Drawing, Context]:
    """A drawing with one of its views. Raises NotThere where the view is gone."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    host = document.sheet_of_view(view_id)
    view = host.view(view_id) if host else None
    if host is None or view is None:
        raise NotThere("That view is no longer in the drawing.")
    return d, Context(document, host, current_facts(d.model)[1], view)


@dataclass(frozen=True)
class Shown:
    """A view of a drawing with what it shows; derived: key of the geometry it shows a part of."""

    drawing: Drawing
    context: Context
    derived: str
    geometry: ViewGeometry

    @property
    def view(self) -> View:
        """The view."""
        assert self.context.view is not None
        return self.context.view

    @property
    def shape_key(self) -> str:
        """Names the geometry as the view shows it."""
        return shape_key(self.view, self.context.sheet, self.derived)


def shown_view(request: HttpRequest, drawing_id: uuid.UUID, view_id: str, exact: bool = True) -> Shown:
    """A view with its geometry. exact: a rough one will not do. Raises NotThere, and NotYet while it is being
    derived."""
    d, context = view_of(request, drawing_id, view_id)
    assert context.view is not None
    derived, geometry = shape(d, context.sheet, context.view)
    if geometry is None or (exact and geometry.rough):
        raise NotYet(WAIT)
    return Shown(d, context, derived, geometry)


def shape(d: Drawing, host: Sheet, view: View) -> tuple[str, ViewGeometry | None]:
    """Key of the derived geometry and what the view shows of it, exact or rough; None while there is
    neither."""
    version, facts = current_facts(d.model)
    key = geometry_key(version, derivation_of(view, facts))
    geometry = ready(key) or rough(key)
    return key, presented(view, host, facts, geometry) if geometry else None
