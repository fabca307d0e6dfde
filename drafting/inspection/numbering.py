"""Numbers for what is to be inspected: in reading order, each in its place beside the lettering, and kept."""

import re
from collections.abc import Mapping, Sequence

import shapely

from drafting.annotation import registry
from drafting.annotation.kinds.characteristic import APART, CharacteristicMark, beside, key_of, size_of, tag
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.kinds.texture import SurfaceTexture
from drafting.annotation.measuring import others
from drafting.compose import annotation_groups
from drafting.context import Context
from drafting.data import Point
from drafting.document import Dimension, Drawing, OnAnnotation, OnSheet, Sheet, new_id
from drafting.errors import DraftingError, SizeError
from drafting.ink.shapes import shapes, text_boxes
from drafting.inspection.requirements import Requirement, requirements
from drafting.memory import digest
from drafting.model.model import Facts
from drafting.sheet.frame import frame_ink, note_boxes
from drafting.sheet.layout import frame_box

FINE, COARSE = 0.02, 0.1
"""Widths of tolerances, mm, at which a micrometer and a caliper reach their ends: a tenth of the tolerance is
what the instrument may be uncertain by (common practice)."""
THREAD = re.compile(r"(?:^|[\s×])(?:M|Tr|G|R|UN)\s?\d")
STEPS = (0.0, 2.5, 5.0, 8.0)
TEXTS, LINES, OUTSIDE = 10.0, 1.0, 1000.0
"""What a tag costs for each line of lettering and each stroke that it stands on, and out of the frame."""
LONGEST = 64
"""Of what names a requirement in a request."""
ROOM = 0.4
"""About a tag, mm."""


def numbered(
    drawing: Drawing, facts: Facts, anew: bool = False, offsets: Mapping[str, Point] | None = None
) -> tuple[dict[str, list[CharacteristicMark]], int]:
    """Marks for what has none, by sheet, and the highest number given. anew: all are numbered again, from 1,
    where they stand; offsets: where new ones stand, by annotation and row as `place_key` writes them. What
    has no lettering gets no number."""
    marks = [a for s in drawing.sheets for a in s.annotations if isinstance(a, CharacteristicMark)]
    known = {key_of(m): m for m in marks}
    highest = 0 if anew else max([drawing.numbered, *(m.number for m in marks)], default=0)
    out: dict[str, list[CharacteristicMark]] = {}
    every = requirements(drawing, facts)
    for sheet in drawing.sheets:
        for r in (r for r in every if r.sheet == sheet.id):
            mark = known.get((r.annotation, r.row))
            if mark is not None and not anew:
                continue
            highest += 1
            if mark is not None:
                out.setdefault(sheet.id, []).append(mark.model_copy(update={"number": highest}))
                continue
            made = CharacteristicMark(
                id=new_id(),
                anchor=OnSheet()
                if sheet.annotation(r.annotation) is None
                else OnAnnotation(annotation=r.annotation),
                note=r.annotation if sheet.annotation(r.annotation) is None else "",
                number=highest,
                row=r.row,
                method=method_for(r, sheet),
                offset=(offsets or {}).get(place_key(r.annotation, r.row)),
            )
            out.setdefault(sheet.id, []).append(made)
    if anew:  # what is no longer required comes last, or its number would be another's too
        kept = {(r.annotation, r.row) for r in every}
        for sheet in drawing.sheets:
            for a in sheet.annotations:
                if isinstance(a, CharacteristicMark) and key_of(a) not in kept:
                    highest += 1
                    out.setdefault(sheet.id, []).append(a.model_copy(update={"number": highest}))
    return out, highest


def place_key(annotation: str, row: int) -> str:
    """What a requirement is known by where its place is said: short, whatever words a note has."""
    return f"{annotation if len(annotation) <= LONGEST else digest(annotation).hex()}#{row}"


def places(
    drawing: Drawing, facts: Facts, outlines: Mapping[str, Sequence[shapely.Geometry]]
) -> dict[str, Point]:
    """Where the tags of new numbers stand on least. outlines: lines of the views by sheet, sheet mm."""
    made, _ = numbered(drawing, facts)
    out = {}
    for sheet in drawing.sheets:
        marks = made.get(sheet.id, [])
        taken = _Taken(drawing, sheet, facts, outlines.get(sheet.id, ())) if marks else None
        for mark in marks:
            assert taken is not None
            if (offset := taken.placed(mark).offset) is not None:
                out[place_key(*key_of(mark))] = offset
    return out


def method_for(r: Requirement, sheet: Sheet) -> str:
    """How a requirement is usually measured (common practice)."""
    a = sheet.annotation(r.annotation)
    if a is None:
        return "visual"
    if isinstance(a, SurfaceTexture):
        return "roughness tester"
    if isinstance(a, ControlFrame):
        return "coordinate measuring machine"
    if a.kind in ("note", "weld"):
        return "visual"
    if r.by_words or r.lower is None or r.upper is None:
        return "thread gauge" if THREAD.search(r.text) else "caliper"
    if r.unit == "deg":
        return "protractor" if isinstance(a, Dimension) else ""
    width = (r.upper - r.lower) * (25.4 if r.unit == "in" else 1.0)
    return "caliper" if width >= COARSE else "micrometer" if width >= FINE else "comparator"


class _Taken:
    """What stands on a sheet, so that tags stand clear of it."""

    def __init__(
        self, drawing: Drawing, sheet: Sheet, facts: Facts, outlines: Sequence[shapely.Geometry]
    ) -> None:
        self.drawing, self.sheet, self.facts = drawing, sheet, facts
        self.letters: list[shapely.Geometry] = []
        self.lines: list[shapely.Geometry] = [*outlines]
        for group in annotation_groups(drawing, sheet, facts).values():
            if not isinstance(group, str):
                self.letters += text_boxes(group.elements, group.origin, 0.0)
                self.lines += shapes(group.elements, group.origin)
        self.letters += text_boxes(frame_ink(drawing, sheet, facts), margin=0.0)
        frame = frame_box(sheet)
        self.room = shapely.box(frame.left, frame.bottom, frame.right, frame.top)
        self.tree = shapely.STRtree([*self.letters, *self.lines])
        self.tags: list[shapely.Geometry] = []

    def placed(self, mark: CharacteristicMark) -> CharacteristicMark:
        """The mark with the offset at which it stands on least."""
        try:
            context, box = self._numbered(mark)
            x, y = beside(mark, context)
        except DraftingError:
            return mark
        wide, tall = size_of(mark.number, context.profile)
        span, high = box[2] - box[0], box[3] - box[1]
        places = [(-APART - s, 0.0) for s in STEPS]
        places += [(span + APART + s, 0.0) for s in STEPS]
        for s in STEPS:
            up = high / 2 + tall / 2 + APART / 2 + s
            places += [(-APART, up), (-APART, -up), (span / 2, up), (span / 2, -up)]
        tried = [mark.model_copy(update={"offset": Point(x=round(a, 3), y=round(b, 3))}) for a, b in places]
        ranked = [
            (self._cost(m, (x + a, y + b), context) + 0.01 * n, n)
            for n, (m, (a, b)) in enumerate(zip(tried, places, strict=True))
        ]
        _, best = min(ranked)
        out = tried[best]
        self.tags += self._shape(out, (x + places[best][0], y + places[best][1]), context)
        return out

    def _numbered(self, mark: CharacteristicMark) -> tuple[Context, tuple[float, float, float, float]]:
        """Where what a mark numbers lives, and the box of its lettering there. Raises SizeError."""
        if not isinstance(mark.anchor, OnAnnotation):
            context = Context(self.drawing, self.sheet, self.facts, None, True)
            box = note_boxes(self.drawing, self.sheet).get(mark.note)
        else:
            host = self.sheet.annotation(mark.anchor.annotation)
            if host is None:
                raise SizeError("What this number stands at is no longer on the sheet.")
            context = registry.context_of(self.drawing, self.sheet, host, self.facts)
            box = others.lettering_of(host, context)
        if box is None:
            raise SizeError("There is no lettering that this number could stand at.")
        return context, box

    def _shape(
        self, mark: CharacteristicMark, tip: tuple[float, float], context: Context
    ) -> list[shapely.Geometry]:
        return [g.envelope for g in shapes(tag(mark, tip, context.profile), context.origin)]

    def _cost(self, mark: CharacteristicMark, tip: tuple[float, float], context: Context) -> float:
        (own,) = self._shape(mark, tip, context)
        own = own.buffer(ROOM, join_style="mitre")
        cost = 0.0 if self.room.contains(own) else OUTSIDE
        cost += TEXTS * sum(bool(own.intersects(t)) for t in self.tags)
        for n in self.tree.query(own, predicate="intersects"):
            cost += TEXTS if n < len(self.letters) else LINES
        return cost
