"""What differs between two states of a drawing, as a reader sees it: sizes, tolerances, notes and other
words, views, rows of parts lists, fields of the title block and general notes; each with its place."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from drafting.annotation import registry
from drafting.annotation.kinds import parts_rows
from drafting.annotation.review.description import row_of
from drafting.annotation.review.size_sheet import VIEW_NAMES
from drafting.document import AnnotationBase, Dimension, Drawing, Fields, Sheet, View, view_scale
from drafting.errors import DraftingError
from drafting.model.model import Facts
from drafting.sheet.template import FIELDS

Change = Literal["added", "removed", "changed"]
UNSAID = frozenset(("place", "position", "shift", "anchor", "id", "kind"))
"""Fields of an annotation that say where it stands, not what it says."""


@dataclass(frozen=True)
class Difference:
    """One thing that differs. what: as a reader calls it; before, after: what it said and says, empty where
    it was not, or is no more; sheet, view, annotation: ids of where it is (in the later state, else in the
    earlier one), empty for none."""

    change: Change
    what: str
    before: str
    after: str
    sheet: str = ""
    view: str = ""
    annotation: str = ""


@dataclass(frozen=True)
class State:
    """A drawing with the facts of the model that it shows."""

    drawing: Drawing
    facts: Facts


def compared(before: State, after: State) -> list[Difference]:
    """All that differs, title block and notes first, then sheet by sheet."""
    return [
        *_fields(before.drawing.fields, after.drawing.fields),
        *_notes(before.drawing, after.drawing),
        *_sheets(before, after),
        *_views(before.drawing, after.drawing),
        *_annotations(before, after),
    ]


def _fields(a: Fields, b: Fields) -> Iterator[Difference]:
    for name in Fields.model_fields:
        old, new = getattr(a, name), getattr(b, name)
        yield from _differs(FIELDS.get(name, name.replace("_", " ")), old, new)


def _change(old: str, new: str) -> Change:
    return "changed" if old and new else "added" if new else "removed"


def _notes(a: Drawing, b: Drawing) -> Iterator[Difference]:
    """General notes that are shown."""
    mine, theirs = ([n for k, n in enumerate(d.notes) if k not in set(d.notes_off)] for d in (a, b))
    yield from (Difference("removed", "general note", n, "") for n in mine if n not in theirs)
    yield from (Difference("added", "general note", "", n) for n in theirs if n not in mine)


def _sheets(a: State, b: State) -> Iterator[Difference]:
    mine, theirs = ({s.id: s for s in x.drawing.sheets} for x in (a, b))
    for key in [*mine, *(k for k in theirs if k not in mine)]:
        old, new = mine.get(key), theirs.get(key)
        yield from _differs("sheet", _of_sheet(old) if old else "", _of_sheet(new) if new else "", key)
        was, now = _rows(a, old) if old else {}, _rows(b, new) if new else {}
        for name in dict.fromkeys([*was, *now]):
            yield from _differs("row of a parts list", was.get(name, ""), now.get(name, ""), key)


def _differs(
    what: str, before: str, after: str, sheet: str = "", view: str = "", annotation: str = ""
) -> Iterator[Difference]:
    if before != after:
        yield Difference(_change(before, after), what, before, after, sheet, view, annotation)


def _of_sheet(s: Sheet) -> str:
    turned = "landscape" if s.landscape else "portrait"
    return f"{s.name or 'sheet'}, {s.size} {turned}, {s.scale}"


def _rows(x: State, sheet: Sheet) -> dict[str, str]:
    """Rows of a sheet's parts lists by list and item."""
    out = {}
    for plist in parts_rows.lists_on(sheet):
        for row in parts_rows.rows(x.drawing, plist, x.facts):
            said = ", ".join(str(c.text) for c in row.cells.values() if str(c.text))
            out[f"{plist.id} {row.key}"] = said
    return out


def _views(a: Drawing, b: Drawing) -> Iterator[Difference]:
    mine, theirs = ({v.id: (s, v) for s in d.sheets for v in s.views} for d in (a, b))
    for key in [*mine, *(k for k in theirs if k not in mine)]:
        old, new = mine.get(key), theirs.get(key)
        sheet = (theirs.get(key) or mine[key])[0].id
        before, after = _of_view(*old) if old else "", _of_view(*new) if new else ""
        if before == after and old and new and _shown(old[1]) != _shown(new[1]):
            after += ", showing something else"
        yield from _differs("view", before, after, sheet, key)


def _shown(v: View) -> str:
    """What decides of a view besides its name, scale and direction what it shows."""
    return v.model_dump_json(include={"section", "detail", "auxiliary", "interruptions", "exploded"})


def _of_view(sheet: Sheet, v: View) -> str:
    """What a view is, apart from where it stands."""
    looks = v.orientation
    way = f"{_direction(looks.right)} to the right, {_direction(looks.up)} up"
    name = VIEW_NAMES[v.kind] + (f" {v.letter}" if v.letter else "")
    return f"{name}, {view_scale(sheet, v)}, {way}"


def _direction(v: object) -> str:
    return " ".join(f"{x:.3g}" for x in v)  # type: ignore[attr-defined]


def _annotations(a: State, b: State) -> Iterator[Difference]:
    mine, theirs = ({x.id: (s, x) for s in y.drawing.sheets for x in s.annotations} for y in (a, b))
    for key in [*mine, *(k for k in theirs if k not in mine)]:
        old, new = mine.get(key), theirs.get(key)
        sheet, found = new or old or (None, None)
        assert sheet is not None
        assert found is not None
        if isinstance(found, parts_rows.PartsList) or found.kind in ("revision_cloud", "revision_table"):
            continue  # told row by row; what tells of changes is none
        before, after = said(a, *old) if old else "", said(b, *new) if new else ""
        what = registry.name(found).lower()
        if before == after and old and new and _told(old[1]) != _told(new[1]):
            after += ", drawn otherwise"
        yield from _differs(what, before, after, sheet.id, found.view, key)


def _told(a: AnnotationBase) -> str:
    return a.model_dump_json(exclude=set(UNSAID))


def said(x: State, sheet: Sheet, a: AnnotationBase) -> str:
    """What an annotation says; of a size with its tolerance, also a general one."""
    context = registry.context_of(x.drawing, sheet, a, x.facts)
    try:
        if isinstance(a, Dimension):
            row = row_of(a, context)
            return f"{row.text} ({row.applies})" if row.applies.startswith("general") else row.text
        return registry.text(a, context) or registry.name(a)
    except DraftingError as error:
        return f"lost: {error}"
