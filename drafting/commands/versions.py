"""Bringing a drawing along to another version of its model, and hanging on something else what was lost."""

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from drafting.annotation import registry
from drafting.annotation.review.brought_along import Replaced, lost, missing, rehung, sources
from drafting.commands.base import Command, model_of
from drafting.document import Data, Drawing, Identifier, Source
from drafting.errors import CommandError
from drafting.model.model import Facts

Name = Annotated[str, Field(max_length=400)]


class Rehung(Data):
    """An edge or face of an instance, and that which takes its place."""

    instance: Name
    source: Name
    to_instance: Name
    to_source: Name


class BringAlong(Command):
    """Show another version of the model. replaced: what is agreed to be the same."""

    command: Literal["bring_along"] = "bring_along"
    to: Annotated[int, Field(ge=1, le=100_000)]
    replaced: Annotated[list[Rehung], Field(max_length=5000)] = []

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """facts: of the version that is to be shown."""
        if drawing.shows == self.to:
            raise CommandError("The drawing shows this version already.")
        model = model_of(facts)
        drawing.shows = self.to
        for r in self.replaced:
            there = model.part_of(r.to_instance)
            if there is None or (there[1].edge(r.to_source) is None and there[1].face(r.to_source) is None):
                raise CommandError(
                    "The version has not got what was agreed to be the same; look at it again."
                )
        replaced = [Replaced(**r.model_dump()) for r in self.replaced]
        for sheet in drawing.sheets if replaced else ():
            sheet.annotations = [rehung(a, replaced) for a in sheet.annotations]  # type: ignore[misc]

    @override
    def title(self) -> str:
        """What the history calls it."""
        return "Bring along"


class Rehang(Command):
    """Hang what was on one edge or face on another: all that was on it, or one annotation only."""

    command: Literal["rehang"] = "rehang"
    lost: Source
    to: Source
    annotation: Identifier
    alone: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where the annotation that was pointed for cannot hang there."""
        model = model_of(facts)
        old = (self.lost.instance, self.lost.source)
        made = [Replaced(*old, self.to.instance, self.to.source)]
        is_done = False
        for sheet in drawing.sheets:
            for n, a in enumerate(sheet.annotations):
                if old not in sources(a) or (self.alone and a.id != self.annotation):
                    continue
                other = rehung(a, made, self.to)
                why = lost(drawing, sheet, other, model)
                if a.id == self.annotation:
                    if why and not missing(other, model):
                        raise CommandError(f"The {registry.name(a).lower()} cannot hang there. {why}")
                    is_done = True
                elif why:
                    continue
                sheet.annotations[n] = other  # type: ignore[call-overload]
        if not is_done:
            raise CommandError("That no longer hangs on what was lost.")

    @override
    def title(self) -> str:
        """What the history calls it."""
        return "Hang on again"
