"""What can be done with a drawing: start, edit, undo, redo, draw. Every change is one transaction and one log
entry."""

import datetime
import hashlib
import logging
import uuid
from collections.abc import Callable, Sequence
from typing import Any

import shapely
from django.db import transaction
from django.db.models import Sum

from drafting import compose as composing
from drafting.annotation import registry
from drafting.annotation.kinds.added_line import curves
from drafting.annotation.review.description import row_of
from drafting.commands import AnyCommand, Operations, execute, patched
from drafting.commands.versions import BringAlong
from drafting.context import Context
from drafting.document import Dimension, Fields, Sheet, View, new_id, view_scale
from drafting.document import Drawing as Document
from drafting.errors import CommandError, DraftingError
from drafting.model.model import Facts
from drafting.sheet.frame import blank_fields, field_values
from drafting.sheet.layout import fitting_sheet
from drafting.sheet.slots import fill_slots
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry
from drafting.views.present import presentation_key
from server.drawings import placed, store
from server.drawings.geometry import geometry_key, ready
from server.drawings.models import FOR_CHECK, IN_WORK, RELEASED, WITHDRAWN, Drawing, LogEntry
from server.drawings.showing import shown_facts
from server.drawings.store import document_of
from server.drawings.telling import told
from server.library.facts import current_facts, facts_at, facts_key, keys_of
from server.library.models import Model, ModelVersion
from server.styles import service as styles

log = logging.getLogger("moorcrest.drawings")


class Stale(Exception):
    """An edit made on a version that is no longer the current one."""

    def __init__(self, drawing: Drawing) -> None:
        super().__init__("stale")
        self.drawing = drawing


def start_drawing(model: Model, user: Any, owner: str, style: str | None = None) -> Drawing:
    """A new drawing of a model, named after it, in the house style of its units, on a sheet that fits."""
    version, facts = current_facts(model)
    key, taken = (
        (style, styles.found(model.workspace, style))
        if style
        else styles.for_units(model.workspace, facts.units)
    )
    profile = taken.profile
    size, scale = fitting_sheet(facts, profile)
    sheet = Sheet(id=new_id(), name="Sheet 1", size=size, scale=scale, frame=taken.default_frame)
    document = Document(
        name=model.name,
        style=key,
        profile=profile,
        projection=profile.projection,
        logo=taken.logo,
        notes=taken.notes,
        fields=Fields(
            owner=owner,
            drawn_by=user.get_full_name() or user.get_username(),
            date=datetime.date.today().isoformat(),
        ),
        shows=version.number,
        sheets=[sheet],
    )
    fill_slots(document, sheet, facts, [new_id() for _ in range(20)])
    drawing = Drawing(
        workspace=model.workspace,
        model=model,
        name=model.name,
        number=model.number,
        standard=profile.standard,
        updated_by=user,
    )
    with transaction.atomic():
        store.start(drawing, document)
        _count(drawing, document, document.sheets, facts)
        drawing.save(update_fields=["open", "counted_for"])
    return drawing


def locked(drawing_id: Any, version: int | None = None) -> Drawing:
    """A drawing that nobody else changes until the transaction ends. Raises Stale for another version."""
    found = Drawing.objects.defer("head").select_for_update(of=("self",)).select_related("model", "workspace")
    drawing = found.get(pk=drawing_id)
    if version is not None and drawing.version != version:
        raise Stale(drawing)
    return drawing


def _in_work(drawing_id: Any, version: int | None) -> Drawing:
    """A drawing to be edited. Raises Stale, and CommandError where it cannot be."""
    drawing = locked(drawing_id, version)
    if drawing.state != IN_WORK:
        raise CommandError(NOT_IN_WORK[drawing.state])
    return drawing


NOT_IN_WORK = {
    FOR_CHECK: "The drawing is for check; take it back to work to change it.",
    RELEASED: "The drawing is released; start a revision to change it.",
    WITHDRAWN: "The drawing is withdrawn; start a revision to change it.",
}


def _save(drawing: Drawing, before: Document, after: Document, user: Any) -> None:
    _, facts = brought_to(drawing, after.shows) if after.shows != before.shows else shown_facts(drawing)
    values = field_values(after, after.sheets[0], facts)
    drawing.name, drawing.number = values["title"][:400], values["number"][:60]
    drawing.updated_by = user
    stale = drawing.counted_for != facts_key(facts)
    changed = store.save_sheets(drawing, before, after)
    _count(drawing, after, after.sheets if stale else changed, facts)
    store.save_head(drawing, before, after)
    told(drawing.pk, "changed", user, version=drawing.version)


@transaction.atomic
def apply(
    drawing_id: Any, version: int | None, command: AnyCommand, user: Any
) -> tuple[Drawing, str, Operations]:
    """Apply a command to the version it was made on; None for one that fits whatever version is current.
    Returns the drawing, what was done, in words, and the patch that leads to it.

    Raises Stale, or CommandError and SizeError with a sentence.
    """
    drawing = _in_work(drawing_id, version)
    before = document_of(drawing)
    _, facts = (
        shown_facts(drawing) if not isinstance(command, BringAlong) else brought_to(drawing, command.to)
    )
    placed.check(command, drawing.workspace_id)
    try:
        after, patch, inverse = execute(before, command, facts)
    except (ArithmeticError, ValueError, LookupError, TypeError, AttributeError, RecursionError) as error:
        log.exception("command %s", command.title())
        raise CommandError("This cannot be done with these values; nothing was changed.") from error
    if not patch:
        return drawing, "", []
    drawing.log.filter(sequence__gt=drawing.log_position).delete()
    drawing.log_position += 1
    LogEntry.objects.create(
        drawing=drawing,
        sequence=drawing.log_position,
        title=command.title(),
        command=command.model_dump(mode="json"),
        patch=patch,
        inverse=inverse,
        user=user,
    )
    _save(drawing, before, after, user)
    return drawing, command.title(), patch


def brought_to(drawing: Drawing, number: int) -> tuple[ModelVersion, Facts]:
    """A version that a drawing is to show. Raises CommandError where the model has it not."""
    if not drawing.model.versions.filter(number=number).exists():
        raise CommandError("The model has no such version; it may have been taken back.")
    return facts_at(drawing.model, number)


@transaction.atomic
def step(drawing_id: Any, version: int, user: Any, forward: bool) -> tuple[Drawing, str, Operations]:
    """Undo the last applied command, or redo the next one. Raises Stale, or CommandError where there is
    none."""
    drawing = _in_work(drawing_id, version)
    position = drawing.log_position + (1 if forward else 0)
    entry = drawing.log.filter(sequence=position).first()
    if entry is None or position <= (0 if forward else drawing.floor):
        raise CommandError("There is nothing to redo." if forward else "There is nothing to undo.")
    before, patch = document_of(drawing), entry.patch if forward else entry.inverse
    after = patched(before, patch)
    drawing.log_position += 1 if forward else -1
    _save(drawing, before, after, user)
    return drawing, entry.title, patch


@transaction.atomic
def remove(drawing_id: Any) -> None:
    """Remove a drawing, after edits that are being made. Raises CommandError for one of which something was
    released."""
    found = Drawing.objects.defer("head").select_for_update().filter(pk=drawing_id).first()
    if found is None:
        return
    if found.releases.exists():
        raise CommandError(f"Released revisions of {found} are kept; withdraw it instead.")
    found.delete()


def geometries(version: ModelVersion, facts: Facts, sheet: Sheet) -> dict[str, ViewGeometry]:
    """Geometry of the sheet's views, as far as it has been derived."""
    found = {v.id: ready(geometry_key(version, derivation_of(v, facts))) for v in sheet.views}
    return {key: g for key, g in found.items() if g is not None}


def composed(drawing: Drawing, document: Document, sheet: Sheet) -> composing.Composed:
    """All ink of a sheet, as far as its views have been derived."""
    version, facts = shown_facts(drawing)
    return composing.compose(document, sheet, facts, geometries(version, facts, sheet))


def _count(drawing: Drawing, document: Document, sheets: list[Sheet], facts: Facts) -> None:
    """What is still to do, for the shelf: blank title fields, annotations that lost their geometry, and a
    drawing without views. sheets: those to be looked at; the others are counted as they were. Sets the
    drawing's fields and saves the sheets'."""
    others, lost = 0, 0
    if len(sheets) < len(document.sheets):
        rest = drawing.sheet_rows.exclude(key__in=[s.id for s in sheets])
        others = rest.aggregate(n=Sum("lost"))["n"] or 0
    for sheet in sheets:
        count = lost_on(document, sheet, facts)
        drawing.sheet_rows.filter(key=sheet.id).exclude(lost=count).update(lost=count)
        lost += count
    drawing.open = (
        len(blank_fields(document, facts))
        + (0 if any(s.views for s in document.sheets) else 1)
        + others
        + lost
    )
    drawing.counted_for = facts_key(facts)


def lost_on(document: Document, sheet: Sheet, facts: Facts) -> int:
    """How many annotations of a sheet lost what they hung on: they are measured, not drawn."""
    lost = 0
    for a in sheet.annotations:
        context = registry.context_of(document, sheet, a, facts)
        try:
            if isinstance(a, Dimension) and (context.is_bare or context.view is not None):
                row_of(a, context)
            else:
                registry.check(a, context)
        except DraftingError:
            lost += 1
    return lost


def open_points(drawings: Sequence[Drawing]) -> dict[uuid.UUID, int]:
    """How much is still to do in drawings of one workspace, by their ids; counted anew only where the model
    is another one than it was counted for."""
    keys = keys_of([(d.model, d.shows) for d in drawings])
    for drawing, key in zip(drawings, keys, strict=True):
        if drawing.counted_for != key and not drawing.frozen_id:
            _recount(drawing)
    return {d.pk: d.open for d in drawings}


def _recount(drawing: Drawing) -> None:
    _, facts = shown_facts(drawing)
    try:
        document = document_of(drawing)
        _count(drawing, document, document.sheets, facts)
    except Exception:  # one drawing that cannot be counted must not keep the others from being seen
        log.exception("drawing %s cannot be counted", drawing.pk)
        return
    Drawing.objects.filter(pk=drawing.pk, version=drawing.version).update(
        open=drawing.open, counted_for=drawing.counted_for
    )


def shape_key(view: View, sheet: Sheet, key: str) -> str:
    """Identity of what a view shows of its geometry."""
    return hashlib.sha256(f"{key}|{presentation_key(view, sheet)}".encode()).hexdigest()[:24]


Boxes = Callable[[], list[shapely.Geometry]]


def is_hatched(view: View) -> bool:
    """Whether a view may show hatching, which keeps off lettering."""
    return bool(view.section or view.broken_out or view.hatches)


def ink_key(document: Document, sheet: Sheet, view: View, key: str, facts: Facts, boxes: Boxes) -> str:
    """Identity of a view's ink: geometry, scale, what it shows, the house style, and the boxes of lettering
    that hatching keeps off."""
    own = view.model_dump_json(exclude={"position", "parent", "relation", "fold", "free", "label", "letter"})
    parts = [
        key,
        str(view_scale(sheet, view)),
        own,
        document.profile.model_dump_json(),
        *(text for pattern in document.patterns.items() for text in pattern),
    ]
    if is_hatched(view):
        parts += [",".join(f"{v:.3f}" for v in shapely.get_coordinates(box).ravel()) for box in boxes()]
        parts += [facts.material_of(p) for p in facts.parts.values()]
    if view.hatches:  # the added lines bound it too
        parts += [c.model_dump_json() for c in curves(Context(document, sheet, facts, view))]
    return hashlib.sha256("|".join(parts).encode()).hexdigest()[:24]
