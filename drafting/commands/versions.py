"""Bringing a drawing along to another version of its model, and hanging on something else what was lost."""

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from drafting.annotation import registry
from drafting.annotation.measuring.measure import pick_side
from drafting.annotation.review.brought_along import Replaced, lost, missing, rehung, sources
from drafting.commands.annotations import annotation_of
from drafting.commands.base import Command, model_of
from drafting.context import Context
from drafting.document import Data, Drawing, Identifier, Pick, Point, Source
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
    """Hang what was on an edge or face that is lost on another: all that was on it. annotation: that for
    which it was pointed at, in its view near a place (view mm at 1:1)."""

    command: Literal["rehang"] = "rehang"
    lost: Source
    to: Source
    annotation: Identifier
    at: Point | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where the annotation that it was pointed at for cannot hang there."""
        model = model_of(facts)
        old = (self.lost.instance, self.lost.source)
        sheet, asked = annotation_of(drawing, self.annotation)
        if old not in sources(asked):
            raise CommandError("That no longer hangs on what was lost.")
        to = self._sided(registry.context_of(drawing, sheet, asked, model))
        made = [Replaced(*old, to.instance, to.source)]
        for sheet in drawing.sheets:
            for n, a in enumerate(sheet.annotations):
                if old not in sources(a):
                    continue
                other = rehung(a, made, to)
                why = lost(drawing, sheet, other, model)
                if why and not missing(other, model):
                    if a.id != asked.id:
                        continue
                    raise CommandError(f"The {registry.name(a).lower()} cannot hang there. {why}")
                sheet.annotations[n] = other  # type: ignore[call-overload]

    def _sided(self, context: Context) -> Source:
        """What is pointed at; of a curved face the outline on the side that it is pointed at."""
        if self.at is None or context.view is None:
            return self.to
        pick = pick_side(Pick(**self.to.model_dump()), (self.at.x, self.at.y), context)
        return Source(instance=pick.instance, source=pick.source, role=pick.role, side=pick.side)

    @override
    def title(self) -> str:
        """What the history calls it."""
        return "Hang on again"
