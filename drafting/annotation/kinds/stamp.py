"""Sheet stamps: framed words at a place of the sheet, such as FOR APPROVAL. They stand clear of views and of
each other by being told of."""

import math
from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation.kinds.kind import Box, Kind, Request
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnSheet
from drafting.errors import CommandError
from drafting.ink.elements import Element, Polyline, Text
from drafting.ink.lettering import text_width


class Stamp(AnnotationBase):
    """Words in a frame. position: the middle of the frame, sheet mm; height: of the lettering, mm, None takes
    the style's for labels; angle: degrees counterclockwise; doubled: two lines about it."""

    kind: Literal["stamp"] = "stamp"
    text: Annotated[str, Field(max_length=60, title="Words")] = "FOR APPROVAL"
    position: Point
    height: Annotated[float, Field(ge=1.5, le=40, title="Lettering, mm")] | None = None
    angle: Annotated[float, Field(ge=-90, le=90, title="Angle, °")] = 0.0
    doubled: Annotated[bool, Field(title="Two lines")] = False


def _half(stamp: Stamp, context: Context) -> tuple[float, float, float]:
    """Height of the lettering, and half the frame's width and height, mm."""
    h = stamp.height or context.profile.label_height
    return h, text_width(stamp.text, h) / 2 + h, 0.95 * h


def ink(stamp: Stamp, context: Context) -> list[Element]:
    """The words and their frame, sheet mm."""
    h, a, b = _half(stamp, context)
    turn = math.radians(stamp.angle)
    c, s = math.cos(turn), math.sin(turn)

    def at(x: float, y: float) -> tuple[float, float]:
        return stamp.position.x + x * c - y * s, stamp.position.y + x * s + y * c

    out: list[Element] = [Text(at(0.0, -h / 2), stamp.text, h, "dimension", "middle", turn)]
    for more in (0.0, 0.25 * h) if stamp.doubled else (0.0,):
        w, v = a + more, b + more
        out.append(Polyline((at(-w, -v), at(w, -v), at(w, v), at(-w, v)), "frame", True))
    return out


def check(stamp: Stamp, context: Context) -> None:
    """Raises CommandError for a stamp that says nothing."""
    if not stamp.text.strip():
        raise CommandError("A stamp needs words.")


def obstacles(stamp: Stamp, context: Context) -> list[tuple[str, Box]]:
    """The level box about it."""
    h, a, b = _half(stamp, context)
    c, s = abs(math.cos(math.radians(stamp.angle))), abs(math.sin(math.radians(stamp.angle)))
    if stamp.doubled:
        a, b = a + 0.25 * h, b + 0.25 * h
    w, v, p = a * c + b * s, a * s + b * c, stamp.position
    return [("the stamp", (p.x - w, p.y - v, p.x + w, p.y + v))]


def words(stamp: Stamp, context: Context) -> str:
    """What it says."""
    return stamp.text


def propose(request: Request, context: Context) -> Stamp:
    """A stamp at the pointer."""
    x, y = request.pointer
    return Stamp(id=request.identity, anchor=OnSheet(), position=Point(x=round(x, 3), y=round(y, 3)))


KIND = Kind(Stamp, "Stamp", ink=ink, words=words, check=check, obstacles=obstacles, propose=propose)
