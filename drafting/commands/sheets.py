"""Edits of sheets, annotations and fields, and removing."""

from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation import registry
from drafting.commands.base import Command, sheet_of, view_of
from drafting.document import Annotation, Drawing, Fields, Identifier, Placement, Point, Sheet, Text, new_id
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.standards import sheets
from drafting.standards.scales import Scale
from drafting.views import arrange


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


class SwitchProjection(Command):
    command: Literal["switch_projection"]
    projection: Literal["first", "third"]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if drawing.projection != self.projection:
            arrange.switch_projection(drawing)

    def title(self) -> str:
        return f"Drawing in {self.projection} angle"


class ChangeSheet(Command):
    """Change a sheet's size, orientation, scale or name. Views keep their place relative to the middle of the sheet."""

    command: Literal["change_sheet"]
    sheet: Identifier
    size: str | None = None
    landscape: bool | None = None
    scale: Scale | None = None
    name: Text | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        from drafting.sheet.layout import sheet_size

        sheet = sheet_of(drawing, self.sheet)
        before = sheet_size(sheet)
        if self.size is not None:
            sheet.size = sheets.size(self.size).name
        if self.landscape is not None:
            sheet.landscape = self.landscape
        after = sheet_size(sheet)
        for view in sheet.views:
            view.position = Point(x=view.position.x + (after[0] - before[0]) / 2, y=view.position.y + (after[1] - before[1]) / 2)
        if self.scale is not None:
            self._rescale(sheet, self.scale)
        if self.name is not None:
            sheet.name = self.name

    @staticmethod
    def _rescale(sheet: Sheet, scale: Scale) -> None:
        """Views spread with the scale about the middle of the main view, so that they do not run into each other."""
        factor = scale.factor / sheet.scale.factor
        sheet.scale = scale
        if not sheet.views:
            return
        root = sheet.views[0].position
        for view in sheet.views:
            if view.scale is None:
                view.position = Point(x=root.x + (view.position.x - root.x) * factor, y=root.y + (view.position.y - root.y) * factor)

    def title(self) -> str:
        return "Sheet changed"


class ChangeFields(Command):
    """Fill in title block fields; unset fields stay."""

    command: Literal["change_fields"]
    fields: dict[str, Text]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        unknown = set(self.fields) - set(Fields.model_fields)
        if unknown:
            raise CommandError(f"The title block has no field called {sorted(unknown)[0]!r}.")
        drawing.fields = drawing.fields.model_copy(update=self.fields)

    def title(self) -> str:
        return "Title block filled in"


class AddSheet(Command):
    """A further sheet, like the one before it."""

    command: Literal["add_sheet"]
    id: Identifier = Field(default_factory=new_id)
    size: str | None = None
    scale: Scale | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if drawing.sheet(self.id):
            raise CommandError("That sheet is in the drawing already.")
        last = drawing.sheets[-1]
        size = sheets.size(self.size).name if self.size else last.size
        drawing.sheets.append(
            Sheet(id=self.id, name=f"Sheet {len(drawing.sheets) + 1}", size=size, landscape=last.landscape, scale=self.scale or last.scale)
        )

    def title(self) -> str:
        return "Sheet added"
