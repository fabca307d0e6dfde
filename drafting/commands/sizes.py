"""Edits of sizes besides those of all annotations: copied styles, and members of runs."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from typing_extensions import override

from drafting.annotation import registry
from drafting.annotation.proposing import runs
from drafting.commands.annotations import Ids, replace, sheets_of
from drafting.commands.base import Command, model_of
from drafting.document import Dimension, Drawing, Identifier, Pick, Sheet
from drafting.errors import CommandError
from drafting.model.model import Facts

FORMAT = ("places", "fraction", "unit", "angle_form", "dual")
"""What a copied style takes over besides the tolerance: the form of the number, not its words."""


def size_of(drawing: Drawing, size_id: str) -> tuple[Sheet, Dimension]:
    """A size and its sheet. Raises CommandError."""
    for sheet in drawing.sheets:
        for a in sheet.annotations:
            if a.id == size_id and isinstance(a, Dimension):
                return sheet, a
    raise CommandError("That size is no longer on the drawing.")


class CopySizeStyle(Command):
    """Brush one size's number form and tolerance onto others. Lengths and angles keep their own
    tolerances."""

    command: Literal["copy_size_style"]
    source: Identifier
    ids: Ids

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        _, source = size_of(drawing, self.source)
        form = source.wording.model_dump(include=set(FORMAT))
        for size_id in self.ids:
            sheet, size = size_of(drawing, size_id)
            same = registry.size_kind(size).is_angle == registry.size_kind(source).is_angle
            tolerance = source.tolerance if same else size.tolerance
            new = size.model_copy(
                update={"wording": size.wording.model_copy(update=form), "tolerance": tolerance}
            )
            registry.check(new, registry.context_of(drawing, sheet, new, known))
            replace(sheet, new)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the sizes, and of the one copied from."""
        return sheets_of(drawing, [self.source, *self.ids])

    @override
    def title(self) -> str:
        """What was done, in the history."""
        return "Style copied" if len(self.ids) == 1 else f"Style copied to {len(self.ids)} sizes"


class ChangeRun(Command):
    """Add things to a chain, baseline or ordinate run, or take members out; what stays keeps what it says."""

    command: Literal["change_run"]
    run: Identifier
    add: Annotated[list[Pick], Field(max_length=200)] = []
    remove: Annotated[list[Identifier], Field(max_length=200)] = []

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        found = [
            (s, a)
            for s in drawing.sheets
            for a in s.annotations
            if isinstance(a, Dimension) and a.run == self.run
        ]
        if not found:
            raise CommandError("That run is no longer on the drawing.")
        sheet, sizes = found[0][0], [a for _, a in found]
        form = sizes[0].run_form
        context = registry.context_of(drawing, sheet, sizes[0], known)
        gone = {p.model_dump_json() for a in sizes if a.id in self.remove for p in a.picks[1:]}
        picks = [p for p in runs.picks_of(sizes) if p.model_dump_json() not in gone] + self.add
        direction = getattr(sizes[0], "direction", "horizontal")
        place = min((a.place.at(context.scale) for a in sizes), key=lambda p: abs(p[0]) + abs(p[1]))
        now = runs.made(form, picks, direction, np.array(place), self.run, context, sizes)  # type: ignore[arg-type]
        ids = {a.id for a in sizes}
        at = next(n for n, a in enumerate(sheet.annotations) if a.id in ids)
        sheet.annotations = [
            *[a for a in sheet.annotations[:at] if a.id not in ids],
            *now,
            *[a for a in sheet.annotations[at:] if a.id not in ids],
        ]

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheet of the run."""
        return {
            s.id
            for s in drawing.sheets
            for a in s.annotations
            if isinstance(a, Dimension) and a.run == self.run
        }

    @override
    def title(self) -> str:
        """What was done, in the history."""
        return "Run changed"
