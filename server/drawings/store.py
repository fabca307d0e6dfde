"""Drawings in the database: the head in one row, each sheet in one of its own. A drawing read or saved is
kept in memory as long as its row does not change, and is never changed itself: edits make new ones that share
what they did not touch."""

import datetime
import threading
from typing import Any

from cachetools import LRUCache
from django.db import transaction

from drafting.annotation.kinds.kind import Drawn
from drafting.annotation.review import redundancy
from drafting.compose import annotation_groups
from drafting.document import Drawing as Document
from drafting.document import Sheet
from drafting.memory import Memory, Same
from drafting.model.model import Facts
from drafting.patches import headed
from server.drawings.models import Drawing, DrawingSheet

State = tuple[int, datetime.datetime | None]
_documents: LRUCache[Any, tuple[State, Document]] = LRUCache(64)
_lock = threading.Lock()


def document_of(drawing: Drawing) -> Document:
    """The drawing as data, read only. Raises Drawing.DoesNotExist where it was removed meanwhile."""
    state = (drawing.version, drawing.updated)
    with _lock:
        known = _documents.get(drawing.pk)
    if known is not None and known[0] == state:
        return known[1]
    rows = drawing.sheet_rows.order_by("place").values_list("data", flat=True)
    sheets = [Sheet.model_validate(data) for data in rows]
    if not sheets:
        raise Drawing.DoesNotExist
    document = headed(drawing.head, sheets)
    _keep(drawing, document)
    return document


def _keep(drawing: Drawing, document: Document) -> None:
    with _lock:
        _documents[drawing.pk] = ((drawing.version, drawing.updated), document)


def start(drawing: Drawing, document: Document) -> None:
    """Keep a new drawing with all its sheets."""
    drawing.head, drawing.size = document.model_dump(mode="json", exclude={"sheets"}), document.sheets[0].size
    drawing.shows = document.shows
    drawing.save()
    DrawingSheet.objects.bulk_create(_row(drawing, n, s) for n, s in enumerate(document.sheets))
    transaction.on_commit(lambda: _keep(drawing, document))


def _row(drawing: Drawing, place: int, sheet: Sheet) -> DrawingSheet:
    return DrawingSheet(drawing=drawing, key=sheet.id, place=place, data=sheet.model_dump(mode="json"))


def save_sheets(drawing: Drawing, before: Document, after: Document) -> list[Sheet]:
    """Keep what an edit changed of the sheets, and return those that are new or changed; `save_head` comes
    after it."""
    old = {s.id: (n, s) for n, s in enumerate(before.sheets)}
    gone = set(old) - {s.id for s in after.sheets}
    if gone:
        drawing.sheet_rows.filter(key__in=gone).delete()
    changed = []
    for n, sheet in enumerate(after.sheets):
        place, known = old.get(sheet.id, (-1, None))
        if known is None:
            _row(drawing, n, sheet).save()
        elif known is not sheet:
            drawing.sheet_rows.filter(key=sheet.id).update(data=sheet.model_dump(mode="json"), place=n)
        elif place != n:
            drawing.sheet_rows.filter(key=sheet.id).update(place=n)
        if known is not sheet:
            changed.append(sheet)
    return changed


def save_head(drawing: Drawing, before: Document, after: Document) -> None:
    """Keep a drawing whose sheets are kept, as its next version."""
    fields = [
        "version",
        "open",
        "counted_for",
        "log_position",
        "name",
        "number",
        "size",
        "shows",
        "updated",
        "updated_by",
    ]
    if any(
        getattr(before, n) is not getattr(after, n) and getattr(before, n) != getattr(after, n) for n in HEAD
    ):
        drawing.head = after.model_dump(mode="json", exclude={"sheets"})
        fields.append("head")
    drawing.version += 1
    drawing.size, drawing.shows = after.sheets[0].size, after.shows
    drawing.save(update_fields=fields)
    transaction.on_commit(lambda: _keep(drawing, after))


HEAD = [n for n in Document.model_fields if n != "sheets"]
_STATED: Memory[list[redundancy.Stated]] = Memory(2_000)
_FOLLOWING: Memory[dict[str, list[str]]] = Memory(64)
_GROUPS: Memory[Drawn] = Memory(24)
_INDEX: Memory[redundancy.Index] = Memory(64)


def _stated(document: Document, facts: Facts) -> list[redundancy.Stated]:
    """What the sizes of a drawing state, sheet by sheet: sheets that an edit left alone are not asked
    again."""
    out: list[redundancy.Stated] = []
    for sheet in document.sheets:
        out += _STATED.recall(facts, Same(sheet), lambda s=sheet: redundancy.stated_on(document, s, facts))  # type: ignore[misc]
    return out


def following(document: Document, facts: Facts) -> dict[str, list[str]]:
    """Sizes of a drawing that follow from others, each with those it follows from."""
    return _FOLLOWING.recall(facts, Same(document), lambda: redundancy.redundant(_stated(document, facts)))


def stated_index(document: Document, facts: Facts) -> redundancy.Index:
    """The sizes of a drawing by what they state."""
    return _INDEX.recall(facts, Same(document), lambda: redundancy.index(_stated(document, facts)))


def groups(document: Document, sheet: Sheet, facts: Facts) -> Drawn:
    """Ink of all annotations of a sheet that is kept, by id; not to be changed."""
    return _GROUPS.recall(
        facts, (Same(document), Same(sheet)), lambda: annotation_groups(document, sheet, facts)
    )
