"""Edits of annotations, the same for all kinds: placing, changing, moving, removing. What a kind allows, it
says itself."""

from typing import Annotated, Any, Literal

from pydantic import Field, ValidationError
from typing_extensions import override

from drafting.annotation import registry
from drafting.annotation.kinds.centers import Center
from drafting.annotation.kinds.control_frame_words import ControlFrame, renamed
from drafting.annotation.kinds.datum_feature import DatumFeature
from drafting.annotation.kinds.kind import Move
from drafting.annotation.proposing import find_centers
from drafting.annotation.registry import Annotation
from drafting.commands.base import Command, index_of, model_of, sheet_of
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Identifier, OnAnnotation, Sheet
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.refusals import sentence

Ids = Annotated[list[Identifier], Field(min_length=1, max_length=2000)]
RUNS = {"chain": "Chain", "baseline": "Baseline sizes", "ordinate": "Ordinates"}


def annotation_of(drawing: Drawing, annotation_id: str) -> tuple[Sheet, AnnotationBase]:
    """An annotation and its sheet. Raises CommandError."""
    for sheet in drawing.sheets:
        if annotation_id in index_of(sheet).ids and (found := sheet.annotation(annotation_id)) is not None:
            return sheet, found
    raise CommandError("That is no longer on the drawing.")


def replace(sheet: Sheet, annotation: AnnotationBase) -> None:
    """Put an annotation in the stead of the one of its id."""
    sheet.annotations = [annotation if a.id == annotation.id else a for a in sheet.annotations]


def home_of(drawing: Drawing, annotation: AnnotationBase, sheet_id: str) -> Sheet:
    """The sheet that a new annotation belongs on: where its view or what it hangs on is, else the one named.
    Raises CommandError."""
    if annotation.view:
        found = drawing.sheet_of_view(annotation.view)
        if found is None:
            raise CommandError("That view is no longer in the drawing.")
        return found
    if isinstance(annotation.anchor, OnAnnotation):
        return annotation_of(drawing, annotation.anchor.annotation)[0]
    return sheet_of(drawing, sheet_id)


class Place(Command):
    """Put annotations on the drawing as one step. sheet: for those that hang in no view; known: what happens
    to one that is there already."""

    command: Literal["place"]
    annotations: Annotated[list[Annotation], Field(min_length=1, max_length=2000)]
    sheet: Annotated[str, Field(max_length=64)] = ""
    known: Literal["refuse", "keep", "replace"] = "refuse"

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError and SizeError where one of them cannot be placed."""
        wanted = {a.id for a in self.annotations}
        there = {a.id: s for s in drawing.sheets for a in s.annotations if a.id in wanted}
        for a in self.annotations:
            sheet = home_of(drawing, a, self.sheet)
            if a.id in there and self.known == "refuse":
                raise CommandError(f"That {registry.name(a).lower()} is on the drawing already.")
            if facts is not None:
                registry.check(a, registry.context_of(drawing, sheet, a, facts))
            if a.id in there and self.known == "keep":
                continue
            if a.id in there:
                there[a.id].annotations = [o for o in there[a.id].annotations if o.id != a.id]
            sheet.annotations.append(a)
            there[a.id] = sheet

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of their views, and those where they are now."""
        ids = {a.id for a in self.annotations}
        homes = {home_of(drawing, a, self.sheet).id for a in self.annotations}
        return homes | sheets_of(drawing, list(ids))

    @override
    def title(self) -> str:
        """The kind that was placed, and how many."""
        first = self.annotations[0]
        if isinstance(first, Dimension) and first.run_form:
            return f"{RUNS[first.run_form]} placed"
        if len(self.annotations) == 1:
            return registry.placed_title(first)
        names = {_plural(registry.kind_of(a).name) for a in self.annotations}
        if all(isinstance(a, Dimension) for a in self.annotations):
            names = {"sizes"}
        elif all(isinstance(a, Center) for a in self.annotations):
            names = {"centers"}
        return f"{len(self.annotations)} {names.pop() if len(names) == 1 else 'annotations'} placed"


def _plural(name: str) -> str:
    return f"{name.lower()}s"


class Change(Command):
    """Set fields of annotations. A size's `says` is its tolerance as it is typed; a center's `end` and `past`
    set one end."""

    command: Literal["change"]
    ids: Ids
    values: Annotated[dict[str, Any], Field(min_length=1, max_length=40)]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError and SizeError with a sentence where one of them cannot be so."""
        for key in self.ids:
            sheet, a = annotation_of(drawing, key)
            context = registry.context_of(drawing, sheet, a, model_of(facts))
            try:
                new = registry.changed(a, self.values, context)
            except ValidationError as error:
                raise CommandError(sentence(error.errors()[0])) from error
            if context.view is not None or context.is_bare:
                registry.check(new, context)
            replace(sheet, new)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets they are on."""
        return sheets_of(drawing, self.ids)

    @override
    def title(self) -> str:
        """Tolerance, wording or what else was changed."""
        what = (
            "Tolerance"
            if {"says", "tolerance"} & set(self.values)
            else "Wording"
            if "wording" in self.values
            else ""
        )
        many = len(self.ids) > 1
        if what:
            return f"{what} of {len(self.ids)} sizes changed" if many else f"{what} changed"
        return f"{len(self.ids)} annotations changed" if many else "Annotation changed"


class RenameDatum(Command):
    """Give a datum another letter; all frames that refer to it follow."""

    command: Literal["rename_datum"]
    id: Identifier
    letter: Annotated[str, Field(pattern=r"^\s*[A-Za-z]{1,2}\s*$")]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError for a letter that is none or is taken."""
        sheet, a = annotation_of(drawing, self.id)
        if not isinstance(a, DatumFeature):
            raise CommandError("That is no datum.")
        new = self.letter.strip().upper()
        made = a.model_copy(update={"letter": new})
        registry.check(made, registry.context_of(drawing, sheet, a, model_of(facts)))
        replace(sheet, made)
        for other in drawing.sheets:
            for f in other.annotations:
                if isinstance(f, ControlFrame) and any(a.letter in r.letters for r in f.rows):
                    replace(other, renamed(f, a.letter, new))

    @override
    def title(self) -> str:
        return "Datum renamed"


def sheets_of(drawing: Drawing, ids: list[str]) -> set[str]:
    """Ids of the sheets that annotations are on."""
    wanted, found = set(ids), set()
    for sheet in drawing.sheets:
        here = index_of(sheet).ids
        if not wanted.isdisjoint(here):
            found.add(sheet.id)
            wanted -= here
            if not wanted:  # no two annotations of a drawing have one id
                break
    return found


class MoveAnnotations(Command):
    """Put annotations to new places in one step. with_run: a size takes the others of its run along."""

    command: Literal["move"]
    moves: Annotated[list[Move], Field(min_length=1, max_length=2000)]
    with_run: bool = True

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where one of them does not stand by itself."""
        for move in self.moves:
            sheet, a = annotation_of(drawing, move.id)
            context = registry.context_of(drawing, sheet, a, model_of(facts))
            for new in registry.moved(a, move, context, self.with_run):
                replace(sheet, new)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets they are on."""
        return sheets_of(drawing, [m.id for m in self.moves])

    @override
    def title(self) -> str:
        """How many were moved."""
        return "Annotation moved" if len(self.moves) == 1 else f"{len(self.moves)} annotations moved"


class Remove(Command):
    """Remove views and annotations. What hangs in a view or on another annotation goes along; views projected
    from a removed one stay, unaligned."""

    command: Literal["remove"]
    ids: Ids

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where nothing of it is there."""
        gone, found = set(self.ids), False
        for sheet in drawing.sheets:
            views = [v for v in sheet.views if v.id not in gone]
            kept = remaining(sheet, gone)
            found = found or len(views) < len(sheet.views) or len(kept) < len(sheet.annotations)
            for view in views:
                if view.parent in gone:
                    view.parent = view.relation = view.fold = None
            sheet.views, sheet.annotations = views, kept
        if not found:
            raise CommandError("What was to be removed is no longer in the drawing.")

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the annotations; any, where a view goes."""
        here = sheets_of(drawing, self.ids)
        return None if any(v.id in set(self.ids) for v in drawing.views()) or not here else here

    @override
    def title(self) -> str:
        """How many things went."""
        return "Removed" if len(self.ids) == 1 else f"{len(self.ids)} things removed"


def remaining(sheet: Sheet, gone: set[str]) -> list[AnnotationBase]:
    """The annotations of a sheet that neither go nor hang, through whatever, on what goes. gone grows by
    those that go along."""
    kept, before = list(sheet.annotations), -1
    while len(kept) != before:
        before = len(kept)
        gone |= {
            a.id
            for a in kept
            if a.view in gone or (isinstance(a.anchor, OnAnnotation) and a.anchor.annotation in gone)
        }
        kept = [a for a in kept if a.id not in gone]
    return kept


class CarryCenters(Command):
    """Put centers of one view on the views aligned with it: as marks where their axis is seen end-on, as
    lines from the side."""

    command: Literal["carry_centers"]
    ids: Annotated[list[Identifier], Field(min_length=1, max_length=1000)]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        """Raises CommandError where the aligned views show none of it."""
        known = model_of(facts)
        made: list[Center] = []
        for center_id in self.ids:
            home, center = annotation_of(drawing, center_id)
            source = home.view_of(center)
            if not isinstance(center, Center) or source is None:
                raise CommandError("That center is no longer on the drawing.")
            for sheet in drawing.sheets:
                for view in sheet.views:
                    if (
                        view.id != source.id
                        and (view.parent == source.id or source.parent == view.id)
                        and view.kind not in ("detail", "pictorial")
                    ):
                        made += find_centers.in_other_view(center, Context(drawing, sheet, known, view))
        have = {a.id for s in drawing.sheets for a in s.annotations}
        fresh = [c for c in made if c.id not in have]
        if not fresh:
            raise CommandError("The views aligned with this one show none of it, or have it already.")
        Place(command="place", annotations=fresh).apply(drawing, facts)

    @override
    def title(self) -> str:
        """What was done, in the history."""
        return "Centers carried to the aligned views"
