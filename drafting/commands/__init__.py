"""Edits of a drawing. Each command is validated data with one function that applies it; its inverse is a JSON patch.

The server applies a command in one transaction and keeps command, patch and inverse in the log that undo and redo walk.
"""

from typing import Annotated, Any

import jsonpatch
from pydantic import Field

from drafting.annotation.parts_list import renumber
from drafting.commands.annotations import CarryCenters, ChangeCenter, PlaceAnnotation, PlaceCenters, Remove
from drafting.commands.base import Command
from drafting.commands.parts import ChangeBalloon, ChangeList, NumberInOrder, NumberItem, PlaceBalloons, PlaceList, SayCell
from drafting.commands.sections import (
    BreakOut,
    ChangeAuxiliary,
    ChangeBreakOut,
    ChangeDetail,
    ChangeSection,
    CutAgain,
    LeaveWhole,
    PlaceAuxiliaryView,
    PlaceDetail,
    PlaceSection,
    RemoveBreakOut,
)
from drafting.commands.sheets import (
    AddPartSheets,
    AddSheet,
    ChangeFields,
    ChangeFrame,
    ChangeNotes,
    ChangeSheet,
    CopySheet,
    MoveSheet,
    RemoveSheet,
    SwitchProjection,
    TakeStyle,
)
from drafting.commands.sizes import ArrangeSizes, ChangeAnnotation, ChangeRun, ChangeSizes, CopySizeStyle, PlaceSizes
from drafting.commands.views import (
    ArrangeSheet,
    BringPatterns,
    ChangeLine,
    ChangeView,
    HatchRegion,
    InterruptView,
    MoveToSheet,
    MoveView,
    PlaceMainView,
    PlaceProjectedView,
    PlaceStandardSet,
    RemoveHatch,
)
from drafting.document import Drawing
from drafting.model.model import Facts
from drafting.views import family

Operations = list[dict[str, Any]]

AnyCommand = Annotated[
    PlaceMainView | PlaceProjectedView | PlaceStandardSet | MoveView | ChangeView | InterruptView
    | MoveToSheet | ArrangeSheet | ChangeLine | HatchRegion
    | RemoveHatch | BringPatterns | PlaceSection | ChangeSection | BreakOut | ChangeBreakOut | RemoveBreakOut | LeaveWhole
    | CutAgain | PlaceAuxiliaryView
    | ChangeAuxiliary | PlaceDetail | ChangeDetail | Remove | PlaceAnnotation | ChangeAnnotation | SwitchProjection
    | AddSheet | ChangeSheet | MoveSheet | CopySheet | RemoveSheet | AddPartSheets
    | PlaceCenters | ChangeCenter | CarryCenters | TakeStyle | ChangeFrame | ChangeNotes
    | PlaceSizes | ChangeSizes | CopySizeStyle | ChangeRun | ArrangeSizes
    | PlaceList | ChangeList | SayCell | NumberItem | NumberInOrder | PlaceBalloons | ChangeBalloon
    | ChangeFields,
    Field(discriminator="command"),
]  # fmt: skip


def execute(drawing: Drawing, command: Command, facts: Facts | None = None) -> tuple[Drawing, Operations, Operations]:
    """Apply a command to a copy. Returns the new drawing, the patch that leads to it and the inverse patch. facts: of the drawing's model.

    Raises CommandError, also for a line or outline that makes no section; the drawing given is never changed.
    """
    before = drawing.model_dump(mode="json")
    after = drawing.model_copy(deep=True)
    command.apply(after, facts)
    family.refresh(after)
    if facts is not None:
        if any(s.parts_lists for s in after.sheets):
            renumber(after, facts)
        known = {v.id: v for v in drawing.views()}
        for view in after.views():
            if view != known.get(view.id):
                family.derivation_of(view, facts)
    checked = Drawing.model_validate(after.model_dump(mode="json"))
    new = checked.model_dump(mode="json")
    return checked, jsonpatch.make_patch(before, new).patch, jsonpatch.make_patch(new, before).patch


def patched(drawing: Drawing, patch: Operations) -> Drawing:
    """The drawing after a patch of the log (undo or redo)."""
    return Drawing.model_validate(jsonpatch.apply_patch(drawing.model_dump(mode="json"), patch))
