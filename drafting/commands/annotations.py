"""Edits of annotations, and removing of what is selected."""

from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation import registry
from drafting.commands.base import Command, view_of
from drafting.document import Annotation, Drawing, Identifier, Placement
from drafting.errors import CommandError
from drafting.model.model import Facts


class Remove(Command):
    """Remove views and sizes. A view takes along the sizes in it; views projected from it stay, unaligned."""

    command: Literal["remove"]
    ids: Annotated[list[Identifier], Field(min_length=1, max_length=1000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        gone, found = set(self.ids), False
        for sheet in drawing.sheets:
            views = [v for v in sheet.views if v.id not in gone]
            kept = [a for a in sheet.annotations if a.id not in gone and a.view not in gone]
            found = found or len(views) < len(sheet.views) or len(kept) < len(sheet.annotations)
            for view in views:
                if view.parent in gone:
                    view.parent = view.relation = view.fold = None
            sheet.views, sheet.annotations = views, kept
        if not found:
            raise CommandError("What was to be removed is no longer in the drawing.")

    def title(self) -> str:
        return "Removed" if len(self.ids) == 1 else f"{len(self.ids)} things removed"


class PlaceAnnotation(Command):
    command: Literal["place_annotation"]
    annotation: Annotation

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, _ = view_of(drawing, self.annotation.view)
        if any(a.id == self.annotation.id for s in drawing.sheets for a in s.annotations):
            raise CommandError("That size is on the drawing already.")
        sheet.annotations.append(self.annotation)

    def title(self) -> str:
        return registry.placed_title(self.annotation)


class ChangeAnnotation(Command):
    """Move a size or change its decimal places or direction; unset fields stay."""

    command: Literal["change_annotation"]
    id: Identifier
    place: Placement | None = None
    places: Annotated[int, Field(ge=0, le=6)] | None = None
    default_places: bool = False
    direction: Literal["aligned", "horizontal", "vertical"] | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        found = next((a for s in drawing.sheets for a in s.annotations if a.id == self.id), None)
        if found is None:
            raise CommandError("That size is no longer on the drawing.")
        if self.place is not None:
            found.place = self.place
        if self.places is not None:
            found.places = self.places
        if self.default_places:
            found.places = None
        if self.direction is not None:
            if found.kind != "linear":
                raise CommandError("A diameter has no direction.")
            found.direction = self.direction

    def title(self) -> str:
        return "Size moved" if self.place is not None else "Size changed"
