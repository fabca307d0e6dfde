"""Sheet stamps: framed words at a place of the sheet, such as FOR APPROVAL. They stand clear of views and of
each other by being told of."""

import math
from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation.kinds.kind import Box, Kind, Request
from drafting.annotation.wording.text_block import TextBlock
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnSheet
from drafting.errors import CommandError
from drafting.ink.elements import Element, Polyline
from drafting.ink.symbols import box


class Stamp(AnnotationBase):
    """Words in a frame, in lines, symbols by name in braces. position: the middle of the frame, sheet mm;
    height: of the lettering, mm, None takes the style's for labels; angle: degrees counterclockwise; doubled:
    two lines about it."""

    kind: Literal["stamp"] = "stamp"
    text: Annotated[str, Field(max_length=200, title="Words", json_schema_extra={"lines": True})] = (
        "FOR APPROVAL"
    )
    position: Point
    height: Annotated[float, Field(ge=1.5, le=40, title="Lettering, mm")] | None = None
    angle: Annotated[float, Field(ge=-90, le=90, title="Angle, °")] = 0.0
    doubled: Annotated[bool, Field(title="Double frame")] = False


def _half(stamp: Stamp, context: Context) -> tuple[TextBlock, float, float]:
    """The words, and half the frame's width and height, mm."""
    block = TextBlock(stamp.text, stamp.height or context.profile.label_height, "middle")
    return block, block.width / 2 + block.height, block.tall / 2 + 0.45 * block.height


def ink(stamp: Stamp, context: Context) -> list[Element]:
    """The words and their frame, sheet mm."""
    block, a, b = _half(stamp, context)
    turn = math.radians(stamp.angle)
    c, s = math.cos(turn), math.sin(turn)

    def at(x: float, y: float) -> tuple[float, float]:
        return stamp.position.x + x * c - y * s, stamp.position.y + x * s + y * c

    out = block.elements((stamp.position.x, stamp.position.y), turn)
    for more in (0.0, 0.25 * block.height) if stamp.doubled else (0.0,):
        points, _ = box(-a - more, -b - more, a + more, b + more)
        out.append(Polyline(tuple(at(*p) for p in points), "frame", True))
    return out


def check(stamp: Stamp, context: Context) -> None:
    """Raises CommandError for a stamp that says nothing."""
    if not stamp.text.strip():
        raise CommandError("A stamp needs words.")


def obstacles(stamp: Stamp, context: Context) -> list[tuple[str, Box]]:
    """The level box about it."""
    block, a, b = _half(stamp, context)
    c, s = abs(math.cos(math.radians(stamp.angle))), abs(math.sin(math.radians(stamp.angle)))
    if stamp.doubled:
        a, b = a + 0.25 * block.height, b + 0.25 * block.height
    w, v, p = a * c + b * s, a * s + b * c, stamp.position
    return [("the stamp", (p.x - w, p.y - v, p.x + w, p.y + v))]


def words(stamp: Stamp, context: Context) -> str:
    """What it says."""
    return " ".join(TextBlock(stamp.text, 1.0).lines)


def propose(request: Request, context: Context) -> Stamp:
    """A stamp at the pointer."""
    x, y = request.pointer
    return Stamp(id=request.identity, anchor=OnSheet(), position=Point(x=round(x, 3), y=round(y, 3)))


KIND = Kind(Stamp, "Stamp", ink=ink, words=words, check=check, obstacles=obstacles, propose=propose)
