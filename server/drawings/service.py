"""What can be done with a drawing: start, edit, undo, redo, draw. Every change is one transaction and one log entry."""

import datetime
import hashlib
from typing import Any

from django.db import transaction

from drafting import compose as composing
from drafting.annotation import once, registry
from drafting.annotation.view_frame import ViewFrame
from drafting.commands import AnyCommand, execute, patched
from drafting.commands.annotations import PlaceAnnotation
from drafting.document import Drawing as Document
from drafting.document import Fields, Sheet, View, new_id, view_scale
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.sheet.frame import blank_fields, field_values
from drafting.sheet.layout import fitting_sheet
from drafting.sheet.slots import fill_slots
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presentation_key
from server.drawings.geometry import geometry_key, ready
from server.drawings.models import Drawing, LogEntry
from server.library.facts import current_facts
from server.library.models import Model
from server.styles import service as styles

DOCUMENTS = 64
_documents: dict[Any, tuple[tuple[int, datetime.datetime | None], Document]] = {}
_said: dict[Any, tuple[Document, Facts, once.Index]] = {}


class Stale(Exception):
    """An edit made on a version that is no longer the current one."""

    def __init__(self, drawing: Drawing) -> None:
        super().__init__("stale")
        self.drawing = drawing


def document_of(drawing: Drawing) -> Document:
    """The drawing as data, read only: it is kept in memory as long as the row does not change."""
    known, state = _documents.get(drawing.pk), (drawing.version, drawing.updated)
    if known is None or known[0] != state:
        _forget(_documents)
        known = _documents[drawing.pk] = (state, Document.model_validate(drawing.document))
    return known[1]


def _forget(kept: dict[Any, Any]) -> None:
    """Drop the oldest; a list, since other threads keep things too."""
    for old in list(kept)[: max(0, len(kept) + 1 - DOCUMENTS)]:
        kept.pop(old, None)


def said_of(drawing: Drawing, facts: Facts) -> once.Index:
    """What the sizes of a drawing say, by what they say; kept in memory like the document."""
    document = document_of(drawing)
    known = _said.get(drawing.pk)
    if known is None or known[0] is not document or known[1] is not facts:
        _forget(_said)
        known = _said[drawing.pk] = (document, facts, once.index(document, facts))
    return known[2]


def start_drawing(model: Model, user: Any, owner: str, style: str | None = None) -> Drawing:
    """A new drawing of a model, named after it, in the house style of its units, on a sheet that fits."""
    _, facts = current_facts(model)
    key, taken = (style, styles.found(model.workspace, style)) if style else styles.for_units(model.workspace, facts.units)
    profile = taken.profile
    size, scale = fitting_sheet(facts, profile)
    sheet = Sheet(id=new_id(), name="Sheet 1", size=size, scale=scale, frame=taken.default_frame)
    document = Document(
        name=model.name, style=key, profile=profile, projection=profile.projection, logo=taken.logo, notes=taken.notes,
        fields=Fields(owner=owner, drawn_by=user.get_full_name() or user.get_username(), date=datetime.date.today().isoformat()),
        sheets=[sheet],
    )  # fmt: skip
    fill_slots(document, sheet, facts, [new_id() for _ in range(20)])
    return Drawing.objects.create(
        workspace=model.workspace, model=model, name=model.name, number=model.number, standard=profile.standard,
        document=document.model_dump(mode="json"), updated_by=user,
    )  # fmt: skip


def _locked(drawing_id: Any, version: int) -> Drawing:
    drawing = Drawing.objects.select_for_update(of=("self",)).select_related("model", "workspace").get(pk=drawing_id)
    if drawing.version != version:
        raise Stale(drawing)
    return drawing


def _save(drawing: Drawing, document: Document, user: Any) -> None:
    _, facts = current_facts(drawing.model)
    values = field_values(document, document.sheets[0], facts)
    drawing.document = document.model_dump(mode="json")
    drawing.version += 1
    drawing.name, drawing.number = values["title"][:400], values["number"][:60]
    drawing.updated_by = user
    drawing.save()


@transaction.atomic
def apply(drawing_id: Any, version: int, command: AnyCommand, user: Any) -> tuple[Drawing, str]:
    """Apply a command to the version it was made on. Raises Stale, or CommandError and SizeError with a sentence."""
    drawing = _locked(drawing_id, version)
    before = document_of(drawing)
    _, facts = current_facts(drawing.model)
    after, patch, inverse = execute(before, command, facts)
    if isinstance(command, PlaceAnnotation):
        measured(drawing, after, command.annotation.id)
    if not patch:
        return drawing, ""
    drawing.log.filter(sequence__gt=drawing.log_position).delete()
    drawing.log_position += 1
    LogEntry.objects.create(
        drawing=drawing, sequence=drawing.log_position, title=command.title(), command=command.model_dump(mode="json"), patch=patch,
        inverse=inverse, user=user,
    )  # fmt: skip
    _save(drawing, after, user)
    return drawing, command.title()


def measured(drawing: Drawing, document: Document, annotation_id: str) -> float:
    """Value of an annotation on the model; raises SizeError where it cannot be taken."""
    _, facts = current_facts(drawing.model)
    for sheet in document.sheets:
        for annotation in sheet.annotations:
            view = sheet.view(annotation.view)
            if annotation.id == annotation_id and view:
                return registry.value(annotation, facts, ViewFrame.of(view, facts, view_scale(sheet, view).factor))
    raise CommandError("That size is no longer on the drawing.")


@transaction.atomic
def step(drawing_id: Any, version: int, user: Any, forward: bool) -> tuple[Drawing, str]:
    """Undo the last applied command, or redo the next one."""
    drawing = _locked(drawing_id, version)
    position = drawing.log_position + (1 if forward else 0)
    entry = drawing.log.filter(sequence=position).first()
    if entry is None or position == 0:
        raise CommandError("There is nothing to redo." if forward else "There is nothing to undo.")
    document = patched(document_of(drawing), entry.patch if forward else entry.inverse)
    drawing.log_position += 1 if forward else -1
    _save(drawing, document, user)
    return drawing, entry.title


def geometries(drawing: Drawing, sheet: Sheet) -> dict[str, ViewGeometry]:
    """Geometry of the sheet's views, as far as it has been derived."""
    version, facts = current_facts(drawing.model)
    found = {v.id: ready(geometry_key(version, derivation_of(v, facts))) for v in sheet.views}
    return {key: g for key, g in found.items() if g is not None}


def composed(drawing: Drawing, document: Document, sheet: Sheet) -> composing.Composed:
    _, facts = current_facts(drawing.model)
    return composing.compose(document, sheet, facts, geometries(drawing, sheet))


def open_points(drawing: Drawing) -> int:
    """How much is still to do: blank title fields, sizes that lost their geometry, and a drawing without views."""
    document = document_of(drawing)
    _, facts = current_facts(drawing.model)
    count = len(blank_fields(document, facts)) + (0 if any(s.views for s in document.sheets) else 1)
    for sheet in document.sheets:
        count += sum(isinstance(group, str) for group in composing.annotation_groups(document, sheet, facts).values())
    return count


def shape_key(view: View, sheet: Sheet, key: str) -> str:
    """Identity of what a view shows of its geometry."""
    return hashlib.sha256(f"{key}|{presentation_key(view, sheet)}".encode()).hexdigest()[:24]


def ink_key(document: Document, sheet: Sheet, view: View, key: str, facts: Facts) -> str:
    """Identity of a view's ink: geometry, scale, what it shows, the house style, and the sizes whose lettering hatching keeps off."""
    own = view.model_dump_json(exclude={"position", "parent", "relation", "fold", "free", "label", "letter"})
    parts = [key, str(view_scale(sheet, view)), own, document.profile.model_dump_json(), *document.patterns.values()]
    if view.section or view.broken_out or view.hatches:
        parts += [a.model_dump_json() for a in sheet.annotations if a.view == view.id]
        parts += [facts.material_of(p) for p in facts.parts.values()]
    return hashlib.sha256("|".join(parts).encode()).hexdigest()[:24]
