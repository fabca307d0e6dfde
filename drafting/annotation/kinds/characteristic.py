"""Characteristic numbers: a tag beside what is to be inspected, its point toward that; doubled where it is
critical."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.kinds.kind import Kind, Move, Request, Row
from drafting.annotation.measuring import others
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnAnnotation
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import XY, Element, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.sheet.frame import note_boxes
from drafting.standards.profile import Profile

LETTERS, TALL, NECK, APART, CLEAR = 0.7, 1.15, 0.55, 1.0, 0.45
"""Of the height of lettering: the number, half of what the tag is high, its point; how far it stands off,
and between both lines of a critical one, mm."""


class CharacteristicMark(AnnotationBase):
    """The number of a requirement. row: which of several that it hangs on, from 0; note: the words of the
    general note that it numbers, where it stands on the sheet alone; offset: from the middle
    of the left side of what it numbers to the tag's point, paper mm, None for close beside it; method, gauge:
    how it is to be measured and with what."""

    kind: Literal["characteristic"] = "characteristic"
    number: Annotated[int, Field(ge=1, le=99_999, title="Number")]
    row: Annotated[int, Field(ge=0, le=40, json_schema_extra={"apart": True})] = 0
    note: Annotated[str, Field(max_length=2000, json_schema_extra={"apart": True})] = ""
    critical: Annotated[bool, Field(title="Critical")] = False
    method: Annotated[str, Field(max_length=60, title="Method")] = ""
    gauge: Annotated[str, Field(max_length=60, title="Gauge")] = ""
    offset: Point | None = None


def size_of(number: int, profile: Profile) -> XY:
    """How wide with its point, and how high, the tag of a number is, mm."""
    h = profile.text_height
    wide = text_width(str(number), LETTERS * h) + (NECK + 0.5) * h
    return wide, TALL * h


def key_of(mark: CharacteristicMark) -> tuple[str, int]:
    """What it numbers: the annotation or the words of the general note, and the row."""
    anchor = mark.anchor
    return (anchor.annotation if isinstance(anchor, OnAnnotation) else mark.note), mark.row


def host_of(mark: CharacteristicMark, context: Context) -> AnnotationBase:
    """What it numbers. Raises SizeError where that is gone."""
    anchor = mark.anchor
    host = context.sheet.annotation(anchor.annotation) if isinstance(anchor, OnAnnotation) else None
    if host is None:
        raise SizeError("What this number stands at is no longer on the sheet.")
    return host


def beside(mark: CharacteristicMark, context: Context) -> XY:
    """Where the tag's point is without an offset: at the left of the lettering, paper mm about the origin.
    Raises SizeError."""
    if not isinstance(mark.anchor, OnAnnotation):
        note = note_boxes(context.drawing, context.sheet).get(mark.note)
        if note is None:
            raise SizeError("The general note that this number stands at is no longer shown.")
        return note[0], (note[1] + note[3]) / 2
    host = host_of(mark, context)
    box = others.lettering_of(host, context)
    if box is None:
        raise SizeError("There is no lettering that this number could stand at.")
    left, bottom, _, top = box
    count = len(getattr(host, "rows", ())) or 1
    return left, top - (top - bottom) * (min(mark.row, count - 1) + 0.5) / count


def ink(mark: CharacteristicMark, context: Context) -> list[Element]:
    """The tag with its number, paper mm about the context's origin. Raises SizeError."""
    x, y = beside(mark, context)
    away = mark.offset or Point(x=-APART, y=0.0)
    return tag(mark, (x + away.x, y + away.y), context.profile)


def tag(mark: CharacteristicMark, tip: XY, profile: Profile) -> list[Element]:
    """The tag with its point at a place; it lies to the left of that, or to the right where it stands at the
    right of what it numbers."""
    h, side = profile.text_height, -1 if is_right(mark) else 1
    wide, tall = size_of(mark.number, profile)
    x, y = tip
    out: list[Element] = [_outline(x, y, side * wide, tall, side * NECK * h)]
    if mark.critical:
        more = side * (wide + 2.4 * CLEAR)
        out.append(_outline(x + side * 1.4 * CLEAR, y, more, tall + 2 * CLEAR, side * NECK * h))
    middle = x - side * (NECK * h + (wide - NECK * h) / 2)
    size = LETTERS * h
    return [*out, Text((middle, y - size / 2), str(mark.number), size, "dimension", "middle")]


def is_right(mark: CharacteristicMark) -> bool:
    """Whether the tag stands at the right of what it numbers, its point to the left."""
    return mark.offset is not None and mark.offset.x > 0


def _outline(x: float, y: float, wide: float, tall: float, neck: float) -> Polyline:
    back, half = x - wide, tall / 2
    points = ((x, y), (x - neck, y + half), (back, y + half), (back, y - half), (x - neck, y - half))
    return Polyline(points, "dimension", True)


def words(mark: CharacteristicMark, context: Context) -> str:
    """Its number."""
    return f"characteristic {mark.number}"


def row(mark: CharacteristicMark, context: Context) -> Row:
    """Its number, and what it numbers."""
    says = mark.note if mark.note else others.says(host_of(mark, context), context)
    return Row(f"{mark.number}: {says}")


def check(mark: CharacteristicMark, context: Context) -> None:
    """Raises CommandError for a number that another has, SizeError where what it numbers is gone."""
    for sheet in context.drawing.sheets:
        for a in sheet.annotations:
            if isinstance(a, CharacteristicMark) and a.id != mark.id and a.number == mark.number:
                raise CommandError(f"There is a characteristic {mark.number} already.")
    beside(mark, context)


def move(mark: CharacteristicMark, to: Move, context: Context) -> list[CharacteristicMark]:
    """The tag with its middle at a place. Raises SizeError."""
    if to.place is not None:
        return [_at(mark, to.place.at(context.scale), context)]
    if to.position is None:
        return [mark]
    x, y = context.origin
    return [_at(mark, (to.position.x - x, to.position.y - y), context)]


def drag(mark: CharacteristicMark, grip: str, request: Request, context: Context) -> CharacteristicMark:
    """The tag with its middle at the pointer."""
    return _at(mark, request.pointer, context)


def _at(mark: CharacteristicMark, middle: XY, context: Context) -> CharacteristicMark:
    wide, _ = size_of(mark.number, context.profile)
    away = np.array(middle) - np.array(beside(mark, context))
    away = away + [-wide / 2 if away[0] > wide / 2 else wide / 2, 0.0]
    return mark.model_copy(update={"offset": Point(x=round(float(away[0]), 3), y=round(float(away[1]), 3))})


KIND = Kind(
    CharacteristicMark,
    "Characteristic",
    ink=ink,
    words=words,
    row=row,
    check=check,
    move=move,
    drag=drag,
    called=lambda mark: f"Characteristic {mark.number}",
)
