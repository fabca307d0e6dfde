"""Edits of parts lists, item numbers and balloons."""

from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation import parts_list
from drafting.annotation.balloon import tip_of
from drafting.annotation.view_frame import ViewFrame
from drafting.commands.base import Command, model_of, sheet_of, view_of
from drafting.document import Balloon, Drawing, Identifier, PartsColumn, PartsList, Placement, Point, Sheet, Text, view_scale
from drafting.errors import CommandError
from drafting.model import bill
from drafting.model.model import Facts


class PlaceList(Command):
    """Put a parts list on a sheet."""

    command: Literal["place_parts_list"]
    sheet: Identifier
    parts_list: PartsList

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        sheet = sheet_of(drawing, self.sheet)
        if known.kind != "assembly":
            raise CommandError("A parts list is made of an assembly; this drawing is of one part.")
        if any(p.id == self.parts_list.id for s in drawing.sheets for p in s.parts_lists):
            raise CommandError("That parts list is on the drawing already.")
        if self.parts_list.attached and any(p.attached for p in sheet.parts_lists):
            raise CommandError("The title block bears a parts list already; place this one free.")
        _columns_sound(self.parts_list.columns)
        sheet.parts_lists.append(self.parts_list)

    def title(self) -> str:
        return "Parts list placed"


class ChangeList(Command):
    """Change how a parts list is made or where it stands; unset fields stay."""

    command: Literal["change_parts_list"]
    id: Identifier
    columns: Annotated[list[PartsColumn], Field(max_length=20)] | None = None
    levels: Literal["top", "parts", "indented"] | None = None
    sort: Literal["item", "number", "name"] | None = None
    attached: bool | None = None
    position: Point | None = None
    grow: Literal["up", "down"] | None = None
    totals: bool | None = None
    most_rows: Annotated[int, Field(ge=0, le=500)] | None = None
    """0: all in one column."""
    blocks: Annotated[int, Field(ge=1, le=6)] | None = None
    rest_of: Text | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, found = list_of(drawing, self.id)
        _columns_sound(self.columns or [])
        for name in ("columns", "levels", "sort", "attached", "position", "grow", "totals", "blocks", "rest_of"):
            if (value := getattr(self, name)) is not None:
                setattr(found, name, value)
        if self.most_rows is not None:
            if 0 < self.most_rows < 3:
                raise CommandError("A column of a parts list has at least 3 rows.")
            found.most_rows = self.most_rows or None
        if self.attached and sum(p.attached for p in sheet.parts_lists) > 1:
            raise CommandError("The title block bears a parts list already.")
        if self.rest_of and (self.rest_of == self.id or not any(p.id == self.rest_of for s in drawing.sheets for p in s.parts_lists)):
            raise CommandError("That parts list is not on the drawing; choose the one to go on from.")

    def title(self) -> str:
        return "Parts list changed"


class SayCell(Command):
    """Say something of an item in the parts lists of this drawing in place of the model; text None goes back to the model."""

    command: Literal["say_cell"]
    key: Annotated[str, Field(max_length=400)]
    field: Text
    text: Text | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if self.field not in parts_list.WRITABLE and not self.field.startswith("own:"):
            what = parts_list.FIELDS.get(self.field, self.field)
            raise CommandError(f"{what} is counted or computed from the model and cannot be typed.")
        if self.key not in {line.key for levels in ("indented", "top") for line in bill.lines(model_of(facts), levels)}:  # type: ignore[arg-type]
            raise CommandError("That item is no longer in the model.")
        said = {**drawing.cells.get(self.key, {})}
        text = None if self.text is None else " ".join(self.text.split())
        if self.field == "unit_cost" and text:
            text = priced(text)
        if self.field == "make" and text not in (None, "", "make", "buy"):
            raise CommandError("A part is made or bought: type make or buy.")
        if text is None:
            said.pop(self.field, None)
        else:
            said[self.field] = text
        drawing.cells = {key: cells for key, cells in {**drawing.cells, self.key: said}.items() if cells}

    def title(self) -> str:
        return "Parts list cell changed" if self.text is not None else "Parts list cell reset"


def priced(text: str) -> str:
    """A cost as typed, as a plain number. Raises CommandError."""
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 <= value <= 1e9:
        raise CommandError(f"“{text}” is not a cost: type a number such as 12.50.")
    return f"{value:g}"


def weighed(text: str) -> float:
    """A mass as typed, kg. Raises CommandError."""
    try:
        value = float(text.lower().removesuffix("kg").strip().replace(",", "."))
    except ValueError:
        value = -1.0
    if not 0 < value <= 1e6:
        raise CommandError(f"“{text}” is not a mass in kg: type a number such as 0.35.")
    return value


class NumberItem(Command):
    """Give an item another number; the one that has it takes the old number."""

    command: Literal["number_item"]
    key: Annotated[str, Field(max_length=400)]
    number: Annotated[int, Field(ge=1, le=99999)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        parts_list.renumber(drawing, model_of(facts))
        mine = drawing.items.get(self.key)
        if mine is None:
            raise CommandError("That item is not in a parts list of this drawing.")
        for key, item in drawing.items.items():
            if item.number == self.number:
                drawing.items[key] = item.model_copy(update={"number": mine.number})
        drawing.items[self.key] = mine.model_copy(update={"number": self.number})

    def title(self) -> str:
        return "Item number changed"


class NumberInOrder(Command):
    """Number all items anew, in a given order; those left out follow. Items whose parts are gone lose their numbers."""

    command: Literal["number_in_order"]
    keys: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=5000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        parts_list.renumber(drawing, known)
        here = {line.key for levels in ("indented", "top") for line in bill.lines(known, levels)}  # type: ignore[arg-type]
        rest = sorted((k for k in drawing.items if k in here), key=lambda k: drawing.items[k].number)
        order = [k for k in dict.fromkeys([*self.keys, *rest]) if k in drawing.items and k in here]
        drawing.items = {k: drawing.items[k].model_copy(update={"number": n}) for n, k in enumerate(order, 1)}

    def title(self) -> str:
        return "Items numbered in order"


class PlaceBalloons(Command):
    """Put balloons on a view, or move those that are there, as one step."""

    command: Literal["place_balloons"]
    balloons: Annotated[list[Balloon], Field(min_length=1, max_length=1000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        if known.kind != "assembly":
            raise CommandError("Balloons number the parts of an assembly; this drawing is of one part.")
        for b in self.balloons:
            sheet, view = view_of(drawing, b.view)
            scale = view_scale(sheet, view).factor
            tip_of(b, known, ViewFrame.of(view, known, scale), scale)
            sheet.annotations = [a for a in sheet.annotations if a.id != b.id] + [b]

    def title(self) -> str:
        return "Balloon placed" if len(self.balloons) == 1 else f"{len(self.balloons)} balloons placed"


class ChangeBalloon(Command):
    """Change a balloon; unset fields stay."""

    command: Literal["change_balloon"]
    id: Identifier
    place: Placement | None = None
    stacked: Annotated[list[Text], Field(max_length=12)] | None = None
    stack: Literal["right", "down", "left", "up"] | None = None
    quantity: bool | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        found = next((a for s in drawing.sheets for a in s.annotations if a.id == self.id), None)
        if not isinstance(found, Balloon):
            raise CommandError("That balloon is no longer on the drawing.")
        for name in ("place", "stacked", "stack", "quantity"):
            if (value := getattr(self, name)) is not None:
                setattr(found, name, value)

    def title(self) -> str:
        return "Balloon moved" if self.place else "Balloon changed"


def list_of(drawing: Drawing, list_id: str) -> tuple[Sheet, PartsList]:
    """A parts list and its sheet. Raises CommandError."""
    for sheet in drawing.sheets:
        for found in sheet.parts_lists:
            if found.id == list_id:
                return sheet, found
    raise CommandError("That parts list is no longer on the drawing.")


def _columns_sound(columns: list[PartsColumn]) -> None:
    fields = [c.field for c in columns]
    for f in fields:
        if f not in parts_list.FIELDS and not (f.startswith("own:") and len(f) > 4):
            raise CommandError(f"“{f}” is not a column of a parts list.")
    if len(set(fields)) < len(fields):
        raise CommandError("Two columns of the parts list say the same.")
