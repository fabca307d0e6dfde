"""The base of every edit, and how commands find what they change."""

from dataclasses import dataclass

from typing_extensions import override

from drafting.document import Data, Drawing, Identifier, Sheet, View
from drafting.errors import CommandError
from drafting.model.model import Facts


class Command(Data):
    """Base of every edit."""

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Change the drawing in place; facts of its model for commands that look at it. Raises
        CommandError."""
        raise NotImplementedError

    def touches(self, drawing: Drawing) -> set[str] | None:
        """Ids of the sheets that it may change; None for any. Others must not be changed by it, since they
        are not copied."""
        return None

    def title(self) -> str:
        """What the history calls it."""
        raise NotImplementedError


def sheet_of(drawing: Drawing, sheet_id: str) -> Sheet:
    """The sheet of an id. Raises CommandError."""
    sheet = drawing.sheet(sheet_id)
    if sheet is None:
        raise CommandError("That sheet is no longer in the drawing.")
    return sheet


def view_of(drawing: Drawing, view_id: str) -> tuple[Sheet, View]:
    """A view and the sheet it is on. Raises CommandError."""
    sheet = drawing.sheet_of_view(view_id)
    view = sheet.view(view_id) if sheet else None
    if sheet is None or view is None:
        raise CommandError("That view is no longer in the drawing.")
    return sheet, view


def model_of(facts: Facts | None) -> Facts:
    """The model's facts, for commands that cannot do without."""
    if facts is None:
        raise CommandError("This needs the drawing's model, which is not there.")
    return facts


@dataclass(frozen=True)
class SheetIndex:
    """What is on a sheet: ids of its annotations, and their kinds."""

    ids: frozenset[str]
    kinds: frozenset[str]


def index_of(sheet: Sheet) -> SheetIndex:
    """What is on a sheet of a drawing as it is kept; it stays with the sheet for as long as that has the same
    list of annotations."""
    own = sheet.__dict__  # asked for each sheet of a drawing at each edit
    kept, here = own.get("_index"), own["annotations"]
    if kept is not None and kept[0] is here and kept[1] == len(here):
        return kept[2]  # type: ignore[no-any-return]
    made = SheetIndex(
        frozenset(a.id for a in sheet.annotations), frozenset(a.kind for a in sheet.annotations)
    )
    sheet.__dict__["_index"] = (sheet.annotations, len(sheet.annotations), made)
    return made


class ViewCommand(Command):
    """Base of edits of one view: only the views that hang together with it can change."""

    view: Identifier

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets that views of its family are on."""
        return family_sheets(drawing, self.view)


def family_sheets(drawing: Drawing, view_id: str) -> set[str]:
    """Ids of the sheets that hold a view, or a view that is projected, cut or taken from it, through however
    many."""
    views = [(s.id, v) for s in drawing.sheets for v in s.views]
    family, before = {view_id}, 0
    while len(family) != before:
        before = len(family)
        family |= {v.id for _, v in views if v.parent in family}
    return {sheet for sheet, v in views if v.id in family}
