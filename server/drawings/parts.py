"""Routes of parts lists and balloons: rows and files of a list, a balloon under the pointer, and numbering
all parts of a view."""

import uuid
from typing import Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from drafting.annotation.kinds import balloon, parts_list, parts_rows
from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.proposing import number_all
from drafting.commands.parts import list_of
from drafting.document import Drawing as Document
from drafting.document import View, new_id
from drafting.errors import SizeError
from drafting.model import bill
from drafting.views.geometry import ViewGeometry
from drafting.views.hatching import hatch_angles
from drafting.views.naming import view_name
from server.drawings import store
from server.drawings.access import own_drawing, shape, shown_view, view_of
from server.drawings.models import Drawing
from server.drawings.rooms import room_about
from server.drawings.showing import shown_facts
from server.drawings.tables import tables_response
from server.errors import Problem

router = Router(tags=["parts"])


class ListCell(Schema):
    """changed: it departs from the model, which says `model`."""

    text: str
    changed: bool
    model: str


class ListRow(Schema):
    key: str
    item: int
    depth: int
    gone: bool
    group: bool
    cells: dict[str, ListCell]


class ListColumn(Schema):
    field: str
    title: str
    width: float


class ListRows(Schema):
    """A parts list to be read and edited. fields: all that a column may say, with its name; writable: what
    may be typed."""

    columns: list[ListColumn]
    rows: list[ListRow]
    fields: dict[str, str]
    writable: list[str]
    left_over: int


class Unseen(Schema):
    """An item that no balloon was placed for, since the view does not show it; views: those of the drawing
    that do."""

    item: int
    name: str
    views: list[str]


class NumberedAll(Schema):
    balloons: list[Balloon]
    unseen: list[Unseen]


@router.get("/{drawing_id}/parts-lists/{list_id}.{kind}", url_name="parts_list_file")
def rows_file(
    request: HttpRequest, drawing_id: uuid.UUID, list_id: str, kind: Literal["xlsx", "csv"]
) -> HttpResponse:
    """A parts list as a spreadsheet."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    if facts.unmeasured:
        raise SizeError("The model is being measured; take the list again when its masses are there.")
    found = parts_list.table(document, list_of(document, list_id)[1], facts)
    return tables_response(found, f"{d.number or d.name} parts", "Parts", kind)


@router.get("/{drawing_id}/parts-lists/{list_id}", response={200: ListRows, 422: Problem})
def rows(request: HttpRequest, drawing_id: uuid.UUID, list_id: str) -> ListRows:
    """All rows of a parts list, whatever the sheet has room for."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    sheet, found = list_of(document, list_id)
    listed = parts_rows.rows(document, found, facts)
    own = sorted({f for r in listed for f in r.cells if f.startswith("own:")})
    return ListRows(
        columns=[
            ListColumn(field=c.field, title=c.title, width=c.width)
            for c in parts_rows.columns_of(found, document.profile)
        ],
        rows=[
            ListRow(
                key=r.key,
                item=r.item,
                depth=r.depth,
                gone=r.gone,
                group=r.group,
                cells={
                    f: ListCell(text=c.text, changed=c.changed, model=c.model) for f, c in r.cells.items()
                },
            )
            for r in listed
        ],
        fields={**parts_rows.FIELDS, **{f: f.removeprefix("own:") for f in own}},
        writable=[*parts_rows.WRITABLE, *own],
        left_over=parts_list.laid_out(document, sheet, found, facts).left_over,
    )


@router.get(
    "/{drawing_id}/views/{view_id}/balloons",
    response={200: NumberedAll, 404: Problem, 422: Problem, 425: Problem},
)
def number_all_parts(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """Balloons for all parts a view shows; the command place_balloons puts them there."""
    shown = shown_view(request, drawing_id, view_id)
    d, context, view, geometry = shown.drawing, shown.context, shown.view, shown.geometry
    document, host, facts = context.drawing, context.sheet, context.facts
    if geometry.seen is None:
        raise SizeError("Parts are numbered in whole views of an assembly, not in interrupted ones.")
    numbers = balloon.numbers_of(document, facts)
    known = [
        a
        for a in host.annotations
        if isinstance(a, Balloon) and a.view == view.id and facts.part_of(a.instance)
    ]
    room, lines = room_about(shown)
    hatching = hatch_angles(view, geometry, facts, document, context.scale)
    made = number_all.proposed(
        known, geometry, numbers, context, room, hatching, [new_id() for _ in numbers.items], lines
    )
    seen_in = {
        v.id: {s.key for s in number_all.seats(g, numbers, 1.0)} for v, g in _others(d, document, view)
    }
    have = {numbers.keys.get(b.instance, "") for b in made}
    names = {v.id: _called(view_name(document, s, v.id)) for s in document.sheets for v in s.views}
    unseen = [
        Unseen(
            item=n, name=numbers.names[key], views=[names[v] for v, keys in seen_in.items() if key in keys]
        )
        for key, n in sorted(numbers.items.items(), key=lambda i: i[1])
        if key not in have and key in set(numbers.keys.values())
    ]
    return NumberedAll(balloons=made, unseen=unseen)


def _called(name: str) -> str:
    """A view's name within a sentence."""
    return name[0].lower() + name[1:] if name.startswith(("A ", "The ")) else name


def _others(d: Drawing, document: Document, view: View) -> list[tuple[View, ViewGeometry]]:
    out = []
    for sheet in document.sheets:
        for other in sheet.views:
            geometry = shape(d, sheet, other)[1] if other.id != view.id else None
            if geometry is not None and geometry.seen is not None:
                out.append((other, geometry))
    return out


class ReadingOrder(Schema):
    """Keys of items in the order in which a view's balloons are read: clockwise from the upper left."""

    keys: list[str]


@router.get(
    "/{drawing_id}/views/{view_id}/reading-order", response={200: ReadingOrder, 404: Problem, 422: Problem}
)
def reading_order(request: HttpRequest, drawing_id: uuid.UUID, view_id: str) -> Any:
    """The order in which the command number_in_order would number a view's balloons as they stand."""
    _, context = view_of(request, drawing_id, view_id)
    own = [a for a in context.sheet.annotations if isinstance(a, Balloon) and a.view == view_id]
    if not own:
        raise SizeError("This view has no balloons yet: number its parts first.")
    numbers = balloon.numbers_of(context.drawing, context.facts)
    return ReadingOrder(keys=balloon.reading_order(own, numbers, context.scale))


class GroupChoice(Schema):
    key: str
    item: int
    name: str


@router.get("/{drawing_id}/items", response=list[GroupChoice])
def items(request: HttpRequest, drawing_id: uuid.UUID) -> list[GroupChoice]:
    """Item numbers of the drawing, for stacking balloons."""
    d = own_drawing(request, drawing_id)
    _, facts = shown_facts(d)
    numbers = balloon.numbers_of(store.document_of(d), facts)
    here = {line.key for levels in ("indented", "top") for line in bill.lines(facts, levels)}  # type: ignore[arg-type]
    return [
        GroupChoice(key=k, item=n, name=numbers.names[k])
        for k, n in sorted(numbers.items.items(), key=lambda i: i[1])
        if k in here
    ]
