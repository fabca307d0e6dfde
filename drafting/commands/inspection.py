"""Edits of what is inspected."""

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from drafting.annotation.kinds.characteristic import CharacteristicMark
from drafting.commands.base import Command, model_of
from drafting.data import Point
from drafting.document import Drawing
from drafting.errors import CommandError
from drafting.inspection.numbering import numbered
from drafting.model.model import Facts


class NumberCharacteristics(Command):
    """Number what is to be inspected and has no number, in reading order; anew: all of it again, from 1;
    offsets: where the tags stand, by annotation and row."""

    command: Literal["number_characteristics"]
    anew: bool = False
    offsets: Annotated[dict[Annotated[str, Field(max_length=100)], Point], Field(max_length=5000)] = {}

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where there is nothing to number."""
        made, highest = numbered(drawing, model_of(facts), self.anew, self.offsets)
        if not made:
            there = any(isinstance(a, CharacteristicMark) for s in drawing.sheets for a in s.annotations)
            raise CommandError("Everything has its number." if there else "There is nothing to inspect yet.")
        for sheet in drawing.sheets:
            mine = {m.id: m for m in made.get(sheet.id, [])}
            if mine:
                kept = [mine.pop(a.id, a) for a in sheet.annotations]  # type: ignore[arg-type]
                sheet.annotations = [*kept, *mine.values()]  # type: ignore[list-item]
        drawing.numbered = highest

    @override
    def title(self) -> str:
        return "Characteristics numbered anew" if self.anew else "Characteristics numbered"
