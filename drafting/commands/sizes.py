"""Edits of sizes: placing, moving, what they say, their tolerances, runs, and tidying."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation import registry, runs
from drafting.annotation.tolerance_words import parsed
from drafting.annotation.view_frame import ViewFrame
from drafting.commands.base import Command, model_of, view_of
from drafting.data import Data
from drafting.document import AnyDimension, Balloon, Dimension, Drawing, HoleTable, Identifier, Pick, Placement, Sheet, Tolerance, Wording, view_scale
from drafting.errors import CommandError
from drafting.model.model import Facts

Ids = Annotated[list[Identifier], Field(min_length=1, max_length=2000)]
FORMAT = ("places", "fraction", "unit", "angle_form", "dual")
"""What a copied style takes over besides the tolerance: the form of the number, not its words."""


def size_of(drawing: Drawing, size_id: str) -> tuple[Sheet, Dimension]:
    for sheet in drawing.sheets:
        for a in sheet.annotations:
            if a.id == size_id and isinstance(a, Dimension):
                return sheet, a
    raise CommandError("That size is no longer on the drawing.")


def check(drawing: Drawing, size: Dimension, facts: Facts) -> None:
    """Raises SizeError with a sentence where the size cannot be taken or its tolerance does not fit it."""
    registry.text(size, facts, _frame(drawing, size, facts), drawing.profile)


def _frame(drawing: Drawing, size: Dimension, facts: Facts) -> ViewFrame:
    sheet, view = view_of(drawing, size.view)
    return ViewFrame.of(view, facts, view_scale(sheet, view).factor)


class PlaceSizes(Command):
    """Put several sizes on the drawing in one step: a run, or the sizes of a part."""

    command: Literal["place_sizes"]
    sizes: Annotated[list[AnyDimension], Field(min_length=1, max_length=500)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        have = {a.id for s in drawing.sheets for a in s.annotations}
        for size in self.sizes:
            sheet, _ = view_of(drawing, size.view)
            if size.id in have:
                raise CommandError("That size is on the drawing already.")
            have.add(size.id)
            check(drawing, size, known)
            sheet.annotations.append(size)

    def title(self) -> str:
        form = self.sizes[0].run_form
        name = {"chain": "Chain", "baseline": "Baseline sizes", "ordinate": "Ordinates", "": f"{len(self.sizes)} sizes"}[form]
        return f"{name} placed"


class ChangeAnnotation(Command):
    """Move a size or change how it is taken and drawn; unset fields stay. centered: the number goes back to the middle of its line."""

    command: Literal["change_annotation"]
    id: Identifier
    place: Placement | None = None
    shift: Annotated[float, Field(ge=-2000, le=2000)] | None = None
    centered: bool = False
    direction: Literal["aligned", "horizontal", "vertical"] | None = None
    reading: Literal["", "nearest", "farthest", "across", "half", "true"] | None = None
    sector: Literal[0, 1, 2, 3] | None = None
    jogged: bool | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        other = next((a for s in drawing.sheets for a in s.annotations if a.id == self.id), None)
        if isinstance(other, HoleTable | Balloon):
            if self.place is not None:
                other.place = self.place
            return
        _, size = size_of(drawing, self.id)
        known = model_of(facts)
        if self.place is not None:
            _move(drawing, size, self.place, known)
        if self.shift is not None or self.centered:
            size.shift = self.shift
        for name in ("direction", "reading", "sector", "jogged"):
            value = getattr(self, name)
            if value is None:
                continue
            if name not in type(size).model_fields:
                raise CommandError(f"{'An' if registry.name(size)[0] in 'AEIOU' else 'A'} {registry.name(size).lower()} has no {name}.")
            setattr(size, name, value)
        if any(getattr(self, n) is not None for n in ("direction", "reading", "sector")):
            check(drawing, size, known)

    def title(self) -> str:
        return "Size moved" if self.place is not None or self.shift is not None else "Size changed"


def _move(drawing: Drawing, size: Dimension, place: Placement, facts: Facts) -> None:
    """A member of a chain or of ordinates takes its row along; of a baseline the other rows keep their distance."""
    sheet, view = view_of(drawing, size.view)
    scale = view_scale(sheet, view).factor
    old, new = size.place.at(scale), place.at(scale)
    size.place = place
    if not size.run:
        return
    level = getattr(size, "direction", "") == "horizontal"
    upright = getattr(size, "direction", "") == "vertical"
    for other in sheet.annotations:
        if isinstance(other, Dimension) and other.run == size.run and other.id != size.id:
            by = (0.0 if level else new[0] - old[0], 0.0 if upright else new[1] - old[1])
            p = other.place
            other.place = Placement(model=p.model, paper=p.paper.model_copy(update={"x": p.paper.x + by[0], "y": p.paper.y + by[1]}))


class ChangeSizes(Command):
    """Change what several sizes say. wording: the fields that are set in it; tolerance: the whole of it, or `says`: as it is typed, such as
    ±0,1 or H7; what is unset stays."""

    command: Literal["change_sizes"]
    ids: Ids
    wording: Wording | None = None
    tolerance: Tolerance | None = None
    says: Annotated[str, Field(max_length=60)] | None = None
    arrows: Literal["fit", "in", "out"] | None = None
    breaks: bool | None = None

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        for size_id in self.ids:
            _, size = size_of(drawing, size_id)
            if self.wording is not None:
                size.wording = size.wording.model_copy(update=self.wording.model_dump(include=self.wording.model_fields_set))
            if self.tolerance is not None:
                size.tolerance = self.tolerance
            if self.says is not None:
                nominal = registry.value(size, known, _frame(drawing, size, known))
                size.tolerance = parsed(self.says, nominal, drawing.profile, registry.SIZES[size.kind].is_angle, size.tolerance)
            if self.arrows is not None:
                size.arrows = self.arrows
            if self.breaks is not None:
                size.breaks = self.breaks
            if self.wording is not None or self.tolerance is not None or self.says is not None:
                check(drawing, size, known)

    def title(self) -> str:
        what = "Wording" if self.tolerance is None and self.says is None else "Tolerance"
        return f"{what} changed" if len(self.ids) == 1 else f"{what} of {len(self.ids)} sizes changed"


class CopySizeStyle(Command):
    """Brush one size's number form and tolerance onto others. Lengths and angles keep their own tolerances."""

    command: Literal["copy_size_style"]
    source: Identifier
    ids: Ids

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        _, source = size_of(drawing, self.source)
        form = source.wording.model_dump(include=set(FORMAT))
        for size_id in self.ids:
            _, size = size_of(drawing, size_id)
            size.wording = size.wording.model_copy(update=form)
            if registry.SIZES[size.kind].is_angle == registry.SIZES[source.kind].is_angle:
                size.tolerance = source.tolerance
            check(drawing, size, known)

    def title(self) -> str:
        return "Style copied" if len(self.ids) == 1 else f"Style copied to {len(self.ids)} sizes"


class ChangeRun(Command):
    """Add things to a chain, baseline or ordinate run, or take members out; what stays keeps what it says."""

    command: Literal["change_run"]
    run: Identifier
    add: Annotated[list[Pick], Field(max_length=200)] = []
    remove: Annotated[list[Identifier], Field(max_length=200)] = []

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        found = [(s, a) for s in drawing.sheets for a in s.annotations if isinstance(a, Dimension) and a.run == self.run]
        if not found:
            raise CommandError("That run is no longer on the drawing.")
        sheet, sizes = found[0][0], [a for _, a in found]
        form = sizes[0].run_form
        _, view = view_of(drawing, sizes[0].view)
        scale = view_scale(sheet, view).factor
        frame = ViewFrame.of(view, known, scale)
        gone = {p.model_dump_json() for a in sizes if a.id in self.remove for p in a.picks[1:]}
        picks = [p for p in runs.picks_of(sizes) if p.model_dump_json() not in gone] + self.add
        direction = getattr(sizes[0], "direction", "horizontal")
        place = min((a.place.at(scale) for a in sizes), key=lambda p: abs(p[0]) + abs(p[1]))
        now = runs.made(form, picks, direction, np.array(place), view.id, self.run, known, frame, scale, drawing.profile, sizes)  # type: ignore[arg-type]
        ids = {a.id for a in sizes}
        at = next(n for n, a in enumerate(sheet.annotations) if a.id in ids)
        sheet.annotations = [*[a for a in sheet.annotations[:at] if a.id not in ids], *now, *[a for a in sheet.annotations[at:] if a.id not in ids]]

    def title(self) -> str:
        return "Run changed"


class SizeMove(Data):
    id: Identifier
    place: Placement
    shift: Annotated[float, Field(ge=-2000, le=2000)] | None = None


class ArrangeSizes(Command):
    """Put many sizes to new places in one step, as Tidy view does."""

    command: Literal["arrange_sizes"]
    moves: Annotated[list[SizeMove], Field(min_length=1, max_length=2000)]

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        for move in self.moves:
            _, size = size_of(drawing, move.id)
            size.place, size.shift = move.place, move.shift

    def title(self) -> str:
        return "View tidied"
