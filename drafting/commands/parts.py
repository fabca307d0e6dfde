"""Edits of what parts lists say, and of item numbers."""

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from drafting.annotation.kinds import parts_rows
from drafting.annotation.kinds.parts_rows import PartsList
from drafting.commands.base import Command, model_of
from drafting.document import Drawing, Sheet, Text
from drafting.errors import CommandError
from drafting.model import bill
from drafting.model.model import Facts


class SayCell(Command):
    """Say something of an item in the parts lists of this drawing in place of the model; text None goes back
    to the model."""

    command: Literal["say_cell"]
    key: Annotated[str, Field(max_length=400)]
    field: Text
    text: Text | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if self.field not in parts_rows.WRITABLE and not self.field.startswith("own:"):
            what = parts_rows.FIELDS.get(self.field, self.field)
            raise CommandError(f"{what} is counted or computed from the model and cannot be typed.")
        if self.key not in {
            line.key for levels in ("indented", "top") for line in bill.lines(model_of(facts), levels)
        }:  # type: ignore[arg-type]
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

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """No sheet."""
        return set()

    @override
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

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        parts_rows.renumber(drawing, model_of(facts))
        mine = drawing.items.get(self.key)
        if mine is None:
            raise CommandError("That item is not in a parts list of this drawing.")
        for key, item in drawing.items.items():
            if item.number == self.number:
                drawing.items[key] = item.model_copy(update={"number": mine.number})
        drawing.items[self.key] = mine.model_copy(update={"number": self.number})

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """No sheet."""
        return set()

    @override
    def title(self) -> str:
        return "Item number changed"


class NumberInOrder(Command):
    """Number all items anew, in a given order; those left out follow. Items whose parts are gone lose their
    numbers."""

    command: Literal["number_in_order"]
    keys: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=5000)]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        parts_rows.renumber(drawing, known)
        here = {line.key for levels in ("indented", "top") for line in bill.lines(known, levels)}  # type: ignore[arg-type]
        rest = sorted((k for k in drawing.items if k in here), key=lambda k: drawing.items[k].number)
        order = [k for k in dict.fromkeys([*self.keys, *rest]) if k in drawing.items and k in here]
        drawing.items = {k: drawing.items[k].model_copy(update={"number": n}) for n, k in enumerate(order, 1)}

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """No sheet."""
        return set()

    @override
    def title(self) -> str:
        return "Items numbered in order"


def list_of(drawing: Drawing, list_id: str) -> tuple[Sheet, PartsList]:
    """A parts list and its sheet. Raises CommandError."""
    for sheet in drawing.sheets:
        for found in parts_rows.lists_on(sheet):
            if found.id == list_id:
                return sheet, found
    raise CommandError("That parts list is no longer on the drawing.")
