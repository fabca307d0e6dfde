"""Edits that go with a drawing's revisions: starting one, saying what it changes, approving it."""

from typing import Annotated, Literal

from pydantic import Field
from typing_extensions import override

from drafting.annotation.kinds.revision_table import RevisionTable, standard_place
from drafting.commands.base import Command
from drafting.document import Drawing, Identifier, OnSheet, RevisionRow, Text, new_id
from drafting.errors import CommandError
from drafting.model.model import Facts

Mark = Annotated[str, Field(min_length=1, max_length=8)]


class StartRevision(Command):
    """A new revision: its mark in the title block, a row of the table, nothing checked or approved yet."""

    command: Literal["start_revision"] = "start_revision"
    mark: Mark
    description: Text
    date: Text
    by: Text
    table: Identifier = Field(default_factory=new_id)

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if any(r.mark == self.mark for r in drawing.revisions):
            raise CommandError(f"Revision {self.mark} is in the table already.")
        blank = dict.fromkeys(("checked_by", "checked_date", "approved_by", "approved_date"), "")
        drawing.fields = drawing.fields.model_copy(update={**blank, "revision": self.mark})
        made = RevisionRow(mark=self.mark, description=self.description, date=self.date, by=self.by)
        drawing.revisions = [*drawing.revisions, made]
        first = drawing.sheets[0]
        if not any(a.kind == "revision_table" for s in drawing.sheets for a in s.annotations):
            place = standard_place(drawing, first)
            table = RevisionTable(id=self.table, anchor=OnSheet(), position=place)
            first.annotations = [*first.annotations, table]  # type: ignore[list-item]

    @override
    def title(self) -> str:
        """What the history calls it."""
        return f"Revision {self.mark} started"


class ChangeRevision(Command):
    """Say what a revision changes, and in which zones; unset fields stay."""

    command: Literal["change_revision"] = "change_revision"
    mark: Mark
    description: Text | None = None
    zone: Text | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if not any(r.mark == self.mark for r in drawing.revisions):
            raise CommandError(f"There is no revision {self.mark} in the table.")
        said = {n: v for n in ("description", "zone") if (v := getattr(self, n)) is not None}
        drawing.revisions = [
            r.model_copy(update=said) if r.mark == self.mark else r for r in drawing.revisions
        ]

    @override
    def title(self) -> str:
        """What the history calls it."""
        return f"Revision {self.mark} described"


class Approve(Command):
    """Whoever releases the drawing, into its title block and its table."""

    command: Literal["approve"] = "approve"
    mark: Mark
    by: Text
    date: Text

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        said = {"approved_by": self.by, "approved_date": self.date, "revision": self.mark}
        if not drawing.fields.checked_by:  # whoever releases it has looked at it
            said |= {"checked_by": self.by, "checked_date": self.date}
        drawing.fields = drawing.fields.model_copy(update=said)
        drawing.revisions = [
            r.model_copy(update={"approved": self.by}) if r.mark == self.mark else r
            for r in drawing.revisions
        ]

    @override
    def title(self) -> str:
        """What the history calls it."""
        return f"Revision {self.mark} released"
