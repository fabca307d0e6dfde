"""Edits of a drawing. Each command is validated data with one function that applies it; its inverse is a JSON
patch.

The server applies a command in one transaction and keeps command, patch and inverse in the log that undo and
redo walk.
"""

from typing import Annotated, Any

from pydantic import Field, ValidationError

from drafting.annotation.kinds.parts_rows import PartsList, renumber
from drafting.commands.annotations import CarryCenters, Change, MoveAnnotations, Place, Remove, RenameDatum
from drafting.commands.base import Command, index_of
from drafting.commands.inspection import NumberCharacteristics
from drafting.commands.parts import NumberInOrder, NumberItem, SayCell
from drafting.commands.revisions import ChangeRevision
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
from drafting.commands.sizes import ChangeRun, CopySizeStyle
from drafting.commands.versions import BringAlong, Rehang
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
from drafting.document import Drawing, Sheet
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.patches import Operations, difference, headed, patched
from drafting.refusals import sentence
from drafting.views import family

__all__ = ["AnyCommand", "Command", "Operations", "applied", "execute", "patched"]

AnyCommand = Annotated[
    PlaceMainView
    | PlaceProjectedView
    | PlaceStandardSet
    | MoveView
    | ChangeView
    | InterruptView
    | MoveToSheet
    | ArrangeSheet
    | ChangeLine
    | HatchRegion
    | RemoveHatch
    | BringPatterns
    | PlaceSection
    | ChangeSection
    | BreakOut
    | ChangeBreakOut
    | RemoveBreakOut
    | LeaveWhole
    | CutAgain
    | PlaceAuxiliaryView
    | ChangeAuxiliary
    | PlaceDetail
    | ChangeDetail
    | SwitchProjection
    | Place
    | Change
    | MoveAnnotations
    | Remove
    | RenameDatum
    | AddSheet
    | ChangeSheet
    | MoveSheet
    | CopySheet
    | RemoveSheet
    | AddPartSheets
    | CarryCenters
    | TakeStyle
    | ChangeFrame
    | ChangeNotes
    | CopySizeStyle
    | ChangeRun
    | SayCell
    | NumberItem
    | NumberInOrder
    | NumberCharacteristics
    | BringAlong
    | ChangeRevision
    | Rehang
    | ChangeFields,
    Field(discriminator="command"),
]


def execute(
    drawing: Drawing, command: Command, facts: Facts | None = None
) -> tuple[Drawing, Operations, Operations]:
    """Apply a command. Returns the new drawing, the patch that leads to it and the inverse patch; the drawing
    given is never changed, and what the command did not touch is shared by both. facts: of the drawing's
    model.

    Raises CommandError and SizeError with a sentence, also for a line or outline that makes no section.
    """
    after = applied(drawing, command, facts)
    return after, difference(drawing, after), difference(after, drawing)


def applied(drawing: Drawing, command: Command, facts: Facts | None = None) -> Drawing:
    """The drawing after a command, without patches: for what is only shown. Raises as `execute` does."""
    touched = command.touches(drawing)
    after = drawing.model_copy()
    after.sheets = [_copied(s) if touched is None or s.id in touched else s for s in drawing.sheets]
    after.items, after.cells, after.patterns = (
        dict(drawing.items),
        dict(drawing.cells),
        dict(drawing.patterns),
    )
    after.fields = drawing.fields.model_copy()
    command.apply(after, facts)
    known = set(map(id, drawing.sheets))
    changed = [s for s in after.sheets if id(s) not in known]
    here = {s.id for s in changed}
    views = {v.id: v for s in drawing.sheets if s.id in here for v in s.views}
    if touched is None or any(v != views.get(v.id) for s in changed for v in s.views):
        family.refresh(after, {v.id for s in changed for v in s.views})
        for view in (v for s in changed for v in s.views):
            if facts is not None and view != views.get(view.id):
                family.derivation_of(view, facts)
    if facts is not None and _lists_parts(after, changed):
        renumber(after, facts)
    return _checked(after, drawing)


def _lists_parts(after: Drawing, changed: list[Sheet]) -> bool:
    """Whether there is a parts list on any sheet; where no items are numbered, none of old is."""
    if any(isinstance(a, PartsList) for s in changed for a in s.annotations):
        return True
    return bool(after.items) and any("parts_list" in index_of(s).kinds for s in after.sheets)


def _copied(sheet: Sheet) -> Sheet:
    """A sheet that a command may change: its views in place, its annotations by putting others in their
    stead."""
    views = [v.model_copy(deep=True) for v in sheet.views]
    return sheet.model_copy(
        update={"views": views, "annotations": list(sheet.annotations), "scale": sheet.scale.model_copy()}
    )


def _check_ids(sheets: list[Sheet], same: set[int]) -> None:
    """Raises CommandError where two things that could be taken for each other have one id. same: sheets that
    are as they were."""
    views = [v.id for s in sheets for v in s.views]
    lists = [[a.id for a in s.annotations] for s in sheets if id(s) not in same]
    if any(len(set(ids)) != len(ids) for ids in ([s.id for s in sheets], views, *lists)):
        raise CommandError("That is on the sheet already.")


def _checked(after: Drawing, before: Drawing) -> Drawing:
    """What is new in a drawing, validated; all else taken from before. Raises CommandError for values that
    cannot be kept."""
    sheets: dict[str, Sheet] = {}
    views: dict[str, Any] = {}
    annotations: dict[str, Any] = {}
    same = set(map(id, after.sheets)).intersection(map(id, before.sheets))
    for s in before.sheets:
        if id(s) not in same:
            sheets[s.id] = s
            views.update((v.id, v) for v in s.views)
            annotations.update((a.id, a) for a in s.annotations)

    def valid(thing: Any, known: dict[str, Any]) -> Any:
        old = known.get(thing.id)
        return (
            old if old is thing or old == thing else type(thing).model_validate(thing.model_dump(mode="json"))
        )

    def sheet(s: Sheet) -> Sheet:
        old = sheets.get(s.id)
        plain = Sheet.model_validate(s.model_dump(mode="json", exclude={"views", "annotations"}))
        plain.views = [valid(v, views) for v in s.views]
        plain.annotations = [valid(a, annotations) for a in s.annotations]
        return old if plain == old and old is not None else plain

    try:
        _check_ids(after.sheets, same)
        found = [s if id(s) in same else sheet(s) for s in after.sheets]
        head = {n: getattr(after, n) for n in Drawing.model_fields if n != "sheets"}
        if len(found) == len(before.sheets) and all(
            v is getattr(before, n) or v == getattr(before, n) for n, v in head.items()
        ):
            return before.model_copy(update={"sheets": found})
        return headed(after.model_dump(mode="json", exclude={"sheets"}), found)
    except ValidationError as error:
        raise CommandError(sentence(error.errors()[0])) from error
