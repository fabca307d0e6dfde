"""Edits of annotations, and removing of what is selected."""

from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation import find_centers, registry
from drafting.annotation.centers import strokes
from drafting.annotation.view_frame import ViewFrame
from drafting.commands.base import Command, model_of, view_of
from drafting.document import Annotation, BoltCircle, Center, CenterLine, CenterMark, Drawing, Identifier, Past, view_scale
from drafting.errors import CommandError
from drafting.model.model import Facts


class Remove(Command):
    """Remove views, sizes and parts lists. A view takes along the sizes in it; views projected from it stay, unaligned."""

    command: Literal["remove"]
    ids: Annotated[list[Identifier], Field(min_length=1, max_length=1000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        gone, found = set(self.ids), False
        for sheet in drawing.sheets:
            views = [v for v in sheet.views if v.id not in gone]
            kept = [a for a in sheet.annotations if a.id not in gone and a.view not in gone]
            lists = [p for p in sheet.parts_lists if p.id not in gone]
            found = found or len(views) < len(sheet.views) or len(kept) < len(sheet.annotations) or len(lists) < len(sheet.parts_lists)
            for view in views:
                if view.parent in gone:
                    view.parent = view.relation = view.fold = None
            sheet.views, sheet.annotations, sheet.parts_lists = views, kept, lists
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


AnyCenter = Annotated[CenterMark | CenterLine | BoltCircle, Field(discriminator="kind")]


class PlaceCenters(Command):
    """Put one or more centers on a view, as one step. What a view has already is left alone."""

    command: Literal["place_centers"]
    centers: Annotated[list[AnyCenter], Field(min_length=1, max_length=2000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        have = {a.id for s in drawing.sheets for a in s.annotations}
        for center in self.centers:
            sheet, view = view_of(drawing, center.view)
            scale = view_scale(sheet, view).factor
            strokes(center, known, ViewFrame.of(view, known, scale), scale)
            if center.id not in have:
                sheet.annotations.append(center)
                have.add(center.id)

    def title(self) -> str:
        return registry.placed_title(self.centers[0]) if len(self.centers) == 1 else f"{len(self.centers)} centers placed"


class ChangeCenter(Command):
    """Drag an end of a center: past is how far it reaches past the outline, paper mm; None goes back to the house style's."""

    command: Literal["change_center"]
    id: Identifier
    end: Annotated[int, Field(ge=0, le=3)]
    past: Past | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        center = _center(drawing, self.id)
        past: list[float | None] = [*center.past, *[None] * 4][:4]
        past[self.end] = self.past
        center.past = past

    def title(self) -> str:
        return "Center drawn longer or shorter"


def _center(drawing: Drawing, center_id: str) -> Center:
    found = next((a for s in drawing.sheets for a in s.annotations if a.id == center_id), None)
    if not isinstance(found, CenterMark | CenterLine | BoltCircle):
        raise CommandError("That center is no longer on the drawing.")
    return found


class CarryCenters(Command):
    """Put centers of one view on the views aligned with it: as marks where their axis is seen end-on, as lines from the side."""

    command: Literal["carry_centers"]
    ids: Annotated[list[Identifier], Field(min_length=1, max_length=1000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        made: list[Center] = []
        for center_id in self.ids:
            center = _center(drawing, center_id)
            _, source = view_of(drawing, center.view)
            for sheet in drawing.sheets:
                for view in sheet.views:
                    if view.id != source.id and (view.parent == source.id or source.parent == view.id) and view.kind not in ("detail", "pictorial"):
                        made += find_centers.carried(center, source, view, known, ViewFrame.of(view, known, view_scale(sheet, view).factor))
        have = {a.id for s in drawing.sheets for a in s.annotations}
        fresh = [c for c in made if c.id not in have]
        if not fresh:
            raise CommandError("The views aligned with this one show none of it, or have it already.")
        PlaceCenters(command="place_centers", centers=fresh).apply(drawing, facts)

    def title(self) -> str:
        return "Centers carried to the aligned views"
