"""Edits of a drawing. Each command is validated data with one function that applies it; its inverse is a JSON patch.

The server applies a command in one transaction and keeps command, patch and inverse in the log that undo and redo walk.
"""

from typing import Annotated, Any, Literal

import jsonpatch
from pydantic import Field

from drafting.annotation import registry
from drafting.document import (
    Annotation,
    Data,
    Drawing,
    Fields,
    Identifier,
    Placement,
    Point,
    Sheet,
    Text,
    View,
    new_id,
)
from drafting.errors import CommandError
from drafting.standards import sheets
from drafting.standards.scales import Scale
from drafting.views import arrange
from drafting.views.orientation import Orientation, Relation, projected

Operations = list[dict[str, Any]]


class Command(Data):
    """Base of every edit."""

    def apply(self, drawing: Drawing) -> None:
        raise NotImplementedError

    def title(self) -> str:
        """What the history calls it."""
        raise NotImplementedError


def _sheet(drawing: Drawing, sheet_id: str) -> Sheet:
    sheet = drawing.sheet(sheet_id)
    if sheet is None:
        raise CommandError("That sheet is no longer in the drawing.")
    return sheet


def _view(drawing: Drawing, view_id: str) -> tuple[Sheet, View]:
    sheet = drawing.sheet_of_view(view_id)
    view = sheet.view(view_id) if sheet else None
    if sheet is None or view is None:
        raise CommandError("That view is no longer in the drawing.")
    return sheet, view


class PlaceMainView(Command):
    command: Literal["place_main_view"]
    id: Identifier = Field(default_factory=new_id)
    sheet: Identifier
    orientation: Orientation
    position: Point
    pictorial: bool = False

    def apply(self, drawing: Drawing) -> None:
        kind: Any = "pictorial" if self.pictorial else "main"
        _sheet(drawing, self.sheet).views.append(
            View(id=self.id, kind=kind, orientation=self.orientation, position=self.position, hidden_lines=not self.pictorial,
                 centers=not self.pictorial)
        )  # fmt: skip

    def title(self) -> str:
        return "Pictorial view placed" if self.pictorial else "Main view placed"


class PlaceProjectedView(Command):
    command: Literal["place_projected_view"]
    id: Identifier = Field(default_factory=new_id)
    parent: Identifier
    relation: Relation
    position: Point

    def apply(self, drawing: Drawing) -> None:
        sheet, parent = _view(drawing, self.parent)
        if parent.kind == "pictorial":
            raise CommandError("Nothing is projected from a pictorial view; pick a main or projected view.")
        diagonal = "-" in self.relation
        sheet.views.append(
            View(
                id=self.id, kind="pictorial" if diagonal else "projected", parent=parent.id, relation=self.relation,
                orientation=projected(parent.orientation, self.relation, drawing.projection),
                position=arrange.aligned(parent, self.relation, self.position), scale=parent.scale,
                hidden_lines=not diagonal, centers=not diagonal,
            )
        )  # fmt: skip

    def title(self) -> str:
        return "Pictorial view placed" if "-" in self.relation else "Projected view placed"


class MoveView(Command):
    """Move a view; views projected from it go along, and it stays aligned with its own parent."""

    command: Literal["move_view"]
    view: Identifier
    position: Point

    def apply(self, drawing: Drawing) -> None:
        sheet, view = _view(drawing, self.view)
        to = self.position
        parent = sheet.view(view.parent) if view.parent else None
        if parent and view.relation:
            to = arrange.aligned(parent, view.relation, to)
        dx, dy = to.x - view.position.x, to.y - view.position.y
        for moving in [view, *arrange.descendants(sheet, view.id)]:
            moving.position = Point(x=moving.position.x + dx, y=moving.position.y + dy)
        for child in arrange.descendants(sheet, view.id):
            up = sheet.view(child.parent or "")
            if up and child.relation:
                child.position = arrange.aligned(up, child.relation, child.position)

    def title(self) -> str:
        return "View moved"


class ChangeView(Command):
    """Change what a view shows; unset fields stay."""

    command: Literal["change_view"]
    view: Identifier
    hidden_lines: bool | None = None
    tangent_edges: bool | None = None
    centers: bool | None = None
    scale: Scale | None = None
    sheet_scale: bool = False

    def apply(self, drawing: Drawing) -> None:
        _, view = _view(drawing, self.view)
        for name in ("hidden_lines", "tangent_edges", "centers"):
            value = getattr(self, name)
            if value is not None:
                setattr(view, name, value)
        if self.scale is not None:
            view.scale = self.scale
        if self.sheet_scale:
            view.scale = None

    def title(self) -> str:
        return "View changed"


class Remove(Command):
    """Remove views and sizes. A view takes along the sizes in it; views projected from it stay, unaligned."""

    command: Literal["remove"]
    ids: Annotated[list[Identifier], Field(min_length=1, max_length=1000)]

    def apply(self, drawing: Drawing) -> None:
        gone, found = set(self.ids), False
        for sheet in drawing.sheets:
            views = [v for v in sheet.views if v.id not in gone]
            kept = [a for a in sheet.annotations if a.id not in gone and a.view not in gone]
            found = found or len(views) < len(sheet.views) or len(kept) < len(sheet.annotations)
            for view in views:
                if view.parent in gone:
                    view.parent = view.relation = None
            sheet.views, sheet.annotations = views, kept
        if not found:
            raise CommandError("What was to be removed is no longer in the drawing.")

    def title(self) -> str:
        return "Removed" if len(self.ids) == 1 else f"{len(self.ids)} things removed"


class PlaceAnnotation(Command):
    command: Literal["place_annotation"]
    annotation: Annotation

    def apply(self, drawing: Drawing) -> None:
        sheet, _ = _view(drawing, self.annotation.view)
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

    def apply(self, drawing: Drawing) -> None:
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

    def apply(self, drawing: Drawing) -> None:
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

    def apply(self, drawing: Drawing) -> None:
        from drafting.sheet.layout import sheet_size

        sheet = _sheet(drawing, self.sheet)
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

    def apply(self, drawing: Drawing) -> None:
        unknown = set(self.fields) - set(Fields.model_fields)
        if unknown:
            raise CommandError(f"The title block has no field called {sorted(unknown)[0]!r}.")
        drawing.fields = drawing.fields.model_copy(update=self.fields)

    def title(self) -> str:
        return "Title block filled in"


AnyCommand = Annotated[
    PlaceMainView | PlaceProjectedView | MoveView | ChangeView | Remove | PlaceAnnotation | ChangeAnnotation | SwitchProjection
    | ChangeSheet | ChangeFields,
    Field(discriminator="command"),
]  # fmt: skip


def execute(drawing: Drawing, command: Command) -> tuple[Drawing, Operations, Operations]:
    """Apply a command to a copy. Returns the new drawing, the patch that leads to it and the inverse patch.

    Raises CommandError; the drawing given is never changed.
    """
    before = drawing.model_dump(mode="json")
    after = drawing.model_copy(deep=True)
    command.apply(after)
    checked = Drawing.model_validate(after.model_dump(mode="json"))
    new = checked.model_dump(mode="json")
    return checked, jsonpatch.make_patch(before, new).patch, jsonpatch.make_patch(new, before).patch


def patched(drawing: Drawing, patch: Operations) -> Drawing:
    """The drawing after a patch of the log (undo or redo)."""
    return Drawing.model_validate(jsonpatch.apply_patch(drawing.model_dump(mode="json"), patch))
