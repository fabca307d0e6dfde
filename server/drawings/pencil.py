"""The checker's red pencil: findings with their threads, and ticks on what was looked at."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.db.models import Max

from drafting.annotation import registry
from drafting.annotation.review.comparison import State
from drafting.annotation.review.comparison import said as told_of
from drafting.commands.annotations import annotation_of
from drafting.document import Drawing as Document
from drafting.document import Sheet, view_scale
from drafting.errors import CommandError, DraftingError
from drafting.export.checked import Finding
from drafting.ink.shapes import shapes, text_corners
from drafting.model.model import Facts
from server.accounts.access import called
from server.drawings import service, store
from server.drawings.models import Drawing, PencilMark, PencilWord, Tick
from server.drawings.showing import shown_facts

KINDS = {"cloud": 2, "arrow": 2, "words": 1}
"""How many places each takes: a cloud two corners, an arrow its end and its point."""
MOST = 2000
"""Findings of a drawing."""


@transaction.atomic
def draw(
    drawing_id: Any,
    kind: str,
    sheet: str,
    anchor: str,
    places: Sequence[Sequence[float]],
    text: str,
    user: Any,
) -> PencilMark:
    """A new finding. Raises CommandError."""
    drawing = service.locked(drawing_id)
    document = store.document_of(drawing)
    host = document.sheet(sheet)
    if host is None:
        raise CommandError("That sheet is no longer in the drawing.")
    if anchor and host.view(anchor) is None and host.annotation(anchor) is None:
        raise CommandError("What the mark goes with is no longer on the sheet.")
    if len(places) != KINDS[kind]:
        raise CommandError("A mark of this kind stands at another number of places.")
    last = drawing.pencil_marks.aggregate(n=Max("number"))["n"] or 0
    if last >= MOST:
        raise CommandError(f"There are {MOST} findings on this drawing; no more can be drawn.")
    mark = PencilMark.objects.create(
        drawing=drawing,
        number=last + 1,
        kind=kind,
        sheet=sheet,
        anchor=anchor,
        places=[list(p) for p in places],
        revision=document.fields.revision[:8],
        by=user,
    )
    PencilWord.objects.create(mark=mark, text=text.strip(), state=PencilMark.OPEN, by=user)
    return mark


@transaction.atomic
def answer(mark: PencilMark, text: str, state: str, user: Any) -> None:
    """Say something of a finding, and set it to a state (empty: as it is). Raises CommandError."""
    mark = PencilMark.objects.select_for_update().get(pk=mark.pk)
    if not text.strip() and state in ("", mark.state):
        raise CommandError("Say something, or set the finding to another state.")
    PencilWord.objects.create(mark=mark, text=text.strip(), state=state, by=user)
    if state:
        mark.state = state
        mark.save(update_fields=["state"])


@transaction.atomic
def rub_out(mark: PencilMark, user: Any) -> None:
    """Take back a finding of one's own that nobody has answered. Raises CommandError."""
    if mark.by_id != user.pk:
        raise CommandError("Only who drew it can rub it out; answer it instead.")
    if mark.words.exclude(by=user).exists():
        raise CommandError("It has been answered already; close it instead.")
    mark.delete()


def findings(drawing: Drawing, document: Document, sheets: Sequence[Sheet]) -> list[Finding]:
    """The findings on some sheets of a drawing as they are printed."""
    pages = {s.id: n for n, s in enumerate(sheets)}
    out = []
    rows = drawing.pencil_marks.order_by("number").prefetch_related("words__by")
    for mark in [m for m in rows if m.sheet in pages]:
        host = document.sheet(mark.sheet)
        view = host.view(mark.anchor) if host and mark.anchor else None
        x, y = (view.position.x, view.position.y) if view else (0.0, 0.0)
        k = view_scale(host, view).factor if host and view else 1.0
        places = tuple((float(px) * k + x, float(py) * k + y) for px, py in mark.places)
        said = tuple(
            f"{called(w.by)}: {w.text or w.state}" for w in sorted(mark.words.all(), key=lambda w: w.pk)
        )
        out.append(Finding(mark.number, pages[mark.sheet], mark.kind, places, mark.state, said))
    return out


def says(document: Document, facts: Facts, annotation: str) -> str:
    """What an annotation says now, as a tick keeps it. Raises CommandError where it is gone."""
    sheet, found = annotation_of(document, annotation)
    return f"{registry.name(found)}: {told_of(State(document, facts), sheet, found)}"[:400]


@dataclass(frozen=True)
class TickPlace:
    """Where a tick is drawn: mm from the view's position, or from the sheet's corner without one."""

    sheet: str
    view: str
    x: float
    y: float


def place_of(document: Document, facts: Facts, annotation: str) -> TickPlace | None:
    """Beside the lettering of an annotation; None where it is gone or draws nothing."""
    try:
        sheet, found = annotation_of(document, annotation)
        context = registry.context_of(document, sheet, found, facts)
        ink = registry.ink(found, context)
    except DraftingError:
        return None
    places = [p for corners in text_corners(ink, margin=0.0) for p in corners]
    if not places:
        places = [p for g in shapes(ink) for p in g.envelope.exterior.coords] if ink else []
    if not places:
        return None
    return TickPlace(sheet.id, context.view_id, max(x for x, _ in places) + 1, max(y for _, y in places))


def tick(drawing: Drawing, annotation: str, is_on: bool, user: Any) -> None:
    """That an annotation was looked at and found right, or that it was not after all. Raises
    CommandError."""
    if not is_on:
        drawing.ticks.filter(annotation=annotation).delete()
        return
    now = says(store.document_of(drawing), shown_facts(drawing)[1], annotation)
    drawing.ticks.update_or_create(annotation=annotation, defaults={"says": now, "by": user})


def holds(document: Document, facts: Facts, one: Tick) -> bool:
    """Whether what was ticked still says what it said."""
    try:
        return says(document, facts, one.annotation) == one.says
    except CommandError:
        return False
