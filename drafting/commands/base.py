"""The base of every edit, and how commands find what they change."""

from drafting.document import Data, Drawing, Sheet, View
from drafting.errors import CommandError
from drafting.model.model import Facts


class Command(Data):
    """Base of every edit."""

    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Change the drawing in place; facts of its model for commands that look at it. Raises CommandError."""
        raise NotImplementedError

    def title(self) -> str:
        """What the history calls it."""
        raise NotImplementedError


def sheet_of(drawing: Drawing, sheet_id: str) -> Sheet:
    sheet = drawing.sheet(sheet_id)
    if sheet is None:
        raise CommandError("That sheet is no longer in the drawing.")
    return sheet


def view_of(drawing: Drawing, view_id: str) -> tuple[Sheet, View]:
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
