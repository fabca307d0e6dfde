"""Edits of sheets, of the title block's fields and of the projection method."""

import hashlib
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from typing_extensions import override

from drafting.annotation.kinds.characteristic import CharacteristicMark
from drafting.commands.base import Command, model_of, sheet_of
from drafting.commands.views import PlaceStandardSet, SetMember
from drafting.document import MOST_SHEETS, Dimension, Drawing, Fields, Identifier, Point, Sheet, Text, new_id
from drafting.errors import CommandError
from drafting.model.model import Facts, InstanceFacts
from drafting.sheet import layout
from drafting.sheet.template import FrameTemplate
from drafting.standards import sheets
from drafting.standards.house_style import HouseStyle
from drafting.standards.scales import Scale
from drafting.views import arrange
from drafting.views.family import next_letter
from drafting.views.orientation import PRINCIPAL, Orientation


class SwitchProjection(Command):
    """Go over to the other projection method; projected views go to the other side of their parents."""

    command: Literal["switch_projection"]
    projection: Literal["first", "third"]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if drawing.projection != self.projection:
            arrange.switch_projection(drawing)

    @override
    def title(self) -> str:
        return f"Drawing in {self.projection} angle"


class ChangeSheet(Command):
    """Change a sheet's size, orientation, scale or name. Views keep their place relative to the middle of the
    sheet."""

    command: Literal["change_sheet"]
    sheet: Identifier
    size: str | None = None
    landscape: bool | None = None
    scale: Scale | None = None
    name: Text | None = None
    grid: Annotated[float, Field(ge=0, le=100)] | None = None
    """Spacing of the grid in mm; 0 takes it away."""

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet = sheet_of(drawing, self.sheet)
        before = layout.sheet_size(sheet)
        if self.size is not None:
            sheet.size = sheets.size(self.size).name
            if sheet.size not in sheets.SIZES:  # written as width x height
                sheet.landscape = sheets.is_wide(self.size)
        if self.landscape is not None:
            sheet.landscape = self.landscape
        after = layout.sheet_size(sheet)
        for view in sheet.views:
            view.position = Point(
                x=view.position.x + (after[0] - before[0]) / 2, y=view.position.y + (after[1] - before[1]) / 2
            )
        if self.scale is not None:
            self._rescale(sheet, self.scale)
        if self.name is not None:
            sheet.name = self.name
        if self.grid is not None:
            sheet.grid = self.grid or None

    @staticmethod
    def _rescale(sheet: Sheet, scale: Scale) -> None:
        """Views spread with the scale about the middle of the main view, so that they do not run into each
        other."""
        factor = scale.factor / sheet.scale.factor
        sheet.scale = scale
        if not sheet.views:
            return
        root = sheet.views[0].position
        for view in sheet.views:
            if view.scale is None:
                view.position = Point(
                    x=root.x + (view.position.x - root.x) * factor,
                    y=root.y + (view.position.y - root.y) * factor,
                )

    @override
    def title(self) -> str:
        return "Sheet changed"


class ChangeFields(Command):
    """Fill in title block fields; unset fields stay."""

    command: Literal["change_fields"]
    fields: dict[str, Text]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        unknown = set(self.fields) - set(Fields.model_fields)
        if unknown:
            raise CommandError(f"The title block has no field called {sorted(unknown)[0]!r}.")
        drawing.fields = drawing.fields.model_copy(update=self.fields)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """No sheet."""
        return set()

    @override
    def title(self) -> str:
        return "Title block filled in"


class AddSheet(Command):
    """A further sheet after the last one, or after another; like that one unless told."""

    command: Literal["add_sheet"]
    id: Identifier = Field(default_factory=new_id)
    after: Identifier | None = None
    size: str | None = None
    scale: Scale | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        like = sheet_of(drawing, self.after) if self.after else drawing.sheets[-1]
        size = sheets.size(self.size).name if self.size else like.size
        sheet = Sheet(
            id=self.id,
            name=_free_name(drawing),
            size=size,
            landscape=like.landscape,
            scale=self.scale or like.scale,
            grid=like.grid,
            frame=like.frame,
        )
        _insert(drawing, sheet, drawing.number_of(like.id))

    @override
    def title(self) -> str:
        return "Sheet added"


def _insert(drawing: Drawing, sheet: Sheet, place: int) -> None:
    if drawing.sheet(sheet.id):
        raise CommandError("That sheet is in the drawing already.")
    if len(drawing.sheets) >= MOST_SHEETS:
        raise CommandError(f"A drawing has at most {MOST_SHEETS} sheets.")
    drawing.sheets.insert(place, sheet)


def _free_name(drawing: Drawing) -> str:
    taken = {s.name for s in drawing.sheets}
    return next(
        name for name in (f"Sheet {n}" for n in range(len(drawing.sheets) + 1, 10_000)) if name not in taken
    )


class TakeStyle(Command):
    """Bring the drawing along to a house style's present values: profile, logo, notes, and the frames of all
    sheets by their names."""

    command: Literal["take_style"]
    id: Text
    style: HouseStyle

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        if self.style.profile.standard != drawing.profile.standard:
            raise CommandError(
                f"{self.style.name} is of {self.style.profile.standard}, the drawing of "
                f"{drawing.profile.standard}; start a new drawing for that."
            )
        drawing.style, drawing.profile = self.id, self.style.profile
        drawing.logo = self.style.logo
        if drawing.notes != self.style.notes:
            drawing.notes, drawing.notes_off = self.style.notes, []
        by_name = {f.name: f for f in self.style.frames}
        for sheet in drawing.sheets:
            sheet.frame = by_name.get(sheet.frame.name if sheet.frame else "", self.style.default_frame)

    @override
    def title(self) -> str:
        return f"Brought along to {self.style.name}"


class ChangeFrame(Command):
    """Give a sheet another frame."""

    command: Literal["change_frame"]
    sheet: Identifier
    frame: FrameTemplate

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet_of(drawing, self.sheet).frame = self.frame

    @override
    def title(self) -> str:
        return "Frame changed"


class ChangeNotes(Command):
    """The general notes of the drawing, in order. off: places of those that are left out, from 0."""

    command: Literal["change_notes"]
    notes: Annotated[list[Text], Field(max_length=40)]
    off: Annotated[list[Annotated[int, Field(ge=0, lt=40)]], Field(max_length=40)] = []

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        kept = [(n, text.strip()) for n, text in enumerate(self.notes) if text.strip()]
        before, drawing.notes = drawing.notes, [text for _, text in kept]
        _renumber(drawing, before)
        drawing.notes_off = [k for k, (n, _) in enumerate(kept) if n in self.off]

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets with characteristic numbers, which stand at notes."""
        return {s.id for s in drawing.sheets if any(isinstance(a, CharacteristicMark) for a in s.annotations)}

    @override
    def title(self) -> str:
        return "General notes changed"


def _renumber(drawing: Drawing, before: list[str]) -> None:
    """Characteristic numbers stay at a general note whose words were changed in its place."""
    if len(before) != len(drawing.notes):
        return
    now = {
        a: b for a, b in zip(before, drawing.notes, strict=True) if a not in drawing.notes and b not in before
    }
    for sheet in drawing.sheets if now else ():
        sheet.annotations = [
            a.model_copy(update={"note": now[a.note]})
            if isinstance(a, CharacteristicMark) and a.note in now
            else a
            for a in sheet.annotations
        ]


def _numbers_to_first(drawing: Drawing, every: list[Sheet]) -> None:
    """Characteristic numbers of general notes stand on the first sheet, which shows those."""
    first = drawing.sheets[0]
    for sheet in (s for s in every if s is not first):
        mine = [a for a in sheet.annotations if isinstance(a, CharacteristicMark) and a.note]
        if mine:
            ids = {a.id for a in mine}
            sheet.annotations = [a for a in sheet.annotations if a.id not in ids]
            first.annotations = [*first.annotations, *mine]


class MoveSheet(Command):
    """Put a sheet at another place in the order; place counts from 0."""

    command: Literal["move_sheet"]
    sheet: Identifier
    place: Annotated[int, Field(ge=0)]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet = sheet_of(drawing, self.sheet)
        rest = [s for s in drawing.sheets if s is not sheet]
        place = min(self.place, len(rest))
        drawing.sheets = [*rest[:place], sheet, *rest[place:]]
        _numbers_to_first(drawing, drawing.sheets)

    @override
    def title(self) -> str:
        return "Sheet moved"


class CopySheet(Command):
    """A copy of a sheet after it, with its views and sizes. Views copied along stay projected from the
    copies; letters are the next free ones."""

    command: Literal["copy_sheet"]
    sheet: Identifier
    id: Identifier = Field(default_factory=new_id)

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        source = sheet_of(drawing, self.sheet)
        copy = source.model_copy(
            deep=True, update={"id": self.id, "name": f"{source.name or 'Sheet'}, copy"[:400]}
        )
        new = {v.id: _derived_id(self.id, v.id) for v in copy.views}
        copy.views = [
            v.model_copy(update={"id": new[v.id], "parent": new.get(v.parent or "", v.parent)})
            for v in copy.views
        ]
        runs = {a.run for a in copy.annotations if isinstance(a, Dimension) and a.run}
        ids = new | {key: _derived_id(self.id, key) for key in (*runs, *(a.id for a in copy.annotations))}
        copy.annotations = [a.copied(ids) for a in copy.annotations]
        _number_copies(drawing, copy)
        _insert(drawing, copy, drawing.number_of(source.id))
        for view in copy.views:
            if view.letter:
                view.letter = ""
                view.letter = next_letter(drawing)

    @override
    def title(self) -> str:
        return "Sheet copied"


def _number_copies(drawing: Drawing, copy: Sheet) -> None:
    """Characteristics of a copied sheet are others: they get the next numbers. General notes stay where they
    are shown, and so do their numbers."""
    copy.annotations = [a for a in copy.annotations if not (isinstance(a, CharacteristicMark) and a.note)]
    every = [a for s in drawing.sheets for a in s.annotations if isinstance(a, CharacteristicMark)]
    last = max([drawing.numbered, *(a.number for a in every)])
    for n, a in enumerate(copy.annotations):
        if isinstance(a, CharacteristicMark):
            last += 1
            copy.annotations[n] = a.model_copy(update={"number": last})  # type: ignore[call-overload]
            drawing.numbered = last


def _derived_id(sheet: str, thing: str) -> str:
    """The id of a copy: the same whenever the same command is made again."""
    return hashlib.sha256(f"{sheet}|{thing}".encode()).hexdigest()[:12]


class RemoveSheet(Command):
    """Remove a sheet with all that is on it. Views on other sheets that hung on its views stay, unaligned."""

    command: Literal["remove_sheet"]
    sheet: Identifier

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet = sheet_of(drawing, self.sheet)
        if len(drawing.sheets) == 1:
            raise CommandError("A drawing keeps at least one sheet; remove the views instead.")
        every, drawing.sheets = drawing.sheets, [s for s in drawing.sheets if s is not sheet]
        _numbers_to_first(drawing, every)
        gone = {v.id for v in sheet.views}
        for view in drawing.views():
            if view.parent in gone:
                view.parent = view.relation = view.fold = None

    @override
    def title(self) -> str:
        return "Sheet removed"


class AddPartSheets(Command):
    """One sheet for each distinct part of an assembly, with a standard set of its views, each part as it lies
    in its own frame.

    Parts that have a sheet already get no second one.
    """

    command: Literal["add_part_sheets"]
    members: Annotated[list[SetMember], Field(max_length=9)] = []
    size: str | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known = model_of(facts)
        if known.kind != "assembly":
            raise CommandError("The model is a single part; it has no parts to give sheets of their own.")
        have = {i.part for s in drawing.sheets for i in known.instances if i.path == s.subject}
        first: dict[str, InstanceFacts] = {}
        for instance in known.instances:
            if instance.part not in have and (
                instance.part not in first or _mirrors(first[instance.part]) and not _mirrors(instance)
            ):
                first[instance.part] = instance
        if not first:
            raise CommandError("Every part has a sheet already.")
        third = drawing.projection == "third"
        members = self.members or (["above", "right"] if third else ["below", "right"])
        for part, instance in first.items():
            self._add(drawing, known, part, instance, members)

    def _add(
        self, drawing: Drawing, known: Facts, part: str, instance: InstanceFacts, members: list[SetMember]
    ) -> None:
        fact = known.parts[part]
        size = (
            sheets.size(self.size).name
            if self.size
            else layout.fitting_sheet_for(fact.low, fact.high, drawing.profile)[0]
        )
        sheet = Sheet(
            id=_derived_id("part", f"{instance.path}|{len(drawing.sheets)}"),
            name=(fact.name or part)[:400],
            size=size,
            landscape=not sheets.size(size).portrait_by_default,
            subject=instance.path,
            grid=drawing.sheets[-1].grid,
            frame=drawing.sheets[-1].frame,
        )
        _insert(drawing, sheet, len(drawing.sheets))
        turn = np.array(instance.matrix)[:3, :3]
        front = PRINCIPAL["front"]
        o = Orientation(right=(turn @ front.right).tolist(), up=(turn @ front.up).tolist())
        center = layout.drawing_room(sheet).center
        ids = [_derived_id(sheet.id, str(n)) for n in range(len(members) + 1)]
        others = [i.path for i in known.instances if i.path != instance.path]
        PlaceStandardSet(
            command="place_standard_set",
            sheet=sheet.id,
            orientation=o,
            members=members,
            position=Point(x=center[0], y=center[1]),
            ids=ids,
            without=others,
        ).apply(drawing, known)

    @override
    def title(self) -> str:
        return "A sheet for each part added"


def _mirrors(instance: InstanceFacts) -> bool:
    return float(np.linalg.det(np.array(instance.matrix)[:3, :3])) < 0
