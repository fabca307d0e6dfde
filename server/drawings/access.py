"""A drawing, a view and its geometry, looked up within the user's workspace."""

import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import connection
from django.db.models import Model as DatabaseModel
from django.http import Http404, HttpRequest

from drafting.context import Context
from drafting.document import Drawing as Document
from drafting.document import Sheet, View
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presented
from server.drawings import store
from server.drawings.geometry import geometry_key, ready, rough
from server.drawings.models import Drawing
from server.drawings.service import shape_key
from server.drawings.showing import shown_facts
from server.errors import NotThere, NotYet
from server.library.models import Model

WAIT = "The view is still being derived."
FOREVER = "private, max-age=31536000, immutable"
"""Caching of an answer whose address names all that it depends on."""


def _kept(of: type[DatabaseModel], *but: str) -> list[Any]:
    return [f for f in of._meta.concrete_fields if f.attname not in but]


OURS, ITS = _kept(Drawing, "head"), _kept(Model)
OWN = f"""
SELECT {", ".join([f"d.{f.column}" for f in OURS] + [f"m.{f.column}" for f in ITS])}
FROM drawings_drawing d JOIN library_model m ON m.id = d.model_id
JOIN accounts_membership b ON b.workspace_id = d.workspace_id
WHERE d.id = %s AND b.user_id = %s
"""
"""Every request asks for this: one query, and no time to compose it."""


def own_drawing(request: HttpRequest, drawing_id: uuid.UUID) -> Drawing:
    """A drawing of the user's workspaces with its model; what is kept in memory is not loaded."""
    with connection.cursor() as cursor:
        cursor.execute(OWN, [drawing_id, request.user.pk])
        row = cursor.fetchone()
    if row is None:
        raise Http404("There is no such thing in this workspace.")
    found = Drawing.from_db("default", [f.attname for f in OURS], _read(OURS, row[: len(OURS)]))
    found.model = Model.from_db("default", [f.attname for f in ITS], _read(ITS, row[len(OURS) :]))
    return found


def _read(fields: list[Any], values: Sequence[Any]) -> list[Any]:
    """Values as their fields read them."""
    return [
        f.from_db_value(v, None, connection) if hasattr(f, "from_db_value") else v
        for f, v in zip(fields, values, strict=True)
    ]


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
    return d, Context(document, host, shown_facts(d)[1], view)


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
    version, facts = shown_facts(d)
    key = geometry_key(version, derivation_of(view, facts))
    geometry = ready(key) or rough(key)
    return key, presented(view, host, facts, geometry) if geometry else None
