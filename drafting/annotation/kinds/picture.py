"""Pictures on the sheet: a signature, a logo, a photograph, above or below the lines."""

import math
from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation.kinds.kind import Box, Kind, Request
from drafting.annotation.measuring.added_lines import APART
from drafting.annotation.measuring.underlays import FileKey
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnSheet
from drafting.errors import SizeError
from drafting.ink.elements import Element, Image
from drafting.placed.content import content

WIDE, DENSE = 80.0, 300.0
"""How wide a picture is at first at most, mm, and how many of its pixels go into an inch."""


class Picture(AnnotationBase):
    """A picture. file: its PNG, by its hash; position: its middle, sheet mm; wide, high: its pixels; width:
    on the sheet, mm; angle: degrees counterclockwise; layer: whether it covers the lines or lies below
    them."""

    kind: Literal["picture"] = "picture"
    file: Annotated[FileKey, Field(json_schema_extra=APART)]
    name: Annotated[str, Field(max_length=120, title="Name")] = ""
    position: Point
    wide: Annotated[int, Field(ge=1, le=20000, json_schema_extra=APART)]
    high: Annotated[int, Field(ge=1, le=20000, json_schema_extra=APART)]
    width: Annotated[float, Field(ge=1, le=2000, title="Width, mm")] = WIDE
    angle: Annotated[float, Field(ge=-360, le=360, title="Angle, °")] = 0.0
    layer: Annotated[Literal["below", "above"], Field(title="Lies, of the lines")] = "below"

    @property
    def height(self) -> float:
        """On the sheet, mm."""
        return self.width * self.high / self.wide


def ink(p: Picture, context: Context) -> list[Element]:
    """The picture, sheet mm. Raises SizeError where its file is gone."""
    turn = math.radians(p.angle)
    a, b = -p.width / 2, -p.height / 2
    corner = (
        p.position.x + a * math.cos(turn) - b * math.sin(turn),
        p.position.y + a * math.sin(turn) + b * math.cos(turn),
    )
    return [Image(corner, p.width, p.height, content(p.file), "picture", turn, p.file)]


def obstacles(p: Picture, context: Context) -> list[tuple[str, Box]]:
    """The level box about it."""
    c, s = abs(math.cos(math.radians(p.angle))), abs(math.sin(math.radians(p.angle)))
    w, h = (p.width * c + p.height * s) / 2, (p.width * s + p.height * c) / 2
    return [("the picture", (p.position.x - w, p.position.y - h, p.position.x + w, p.position.y + h))]


def propose(request: Request, context: Context) -> Picture:
    """A picture with its middle at the pointer. settings: `file`, `name`, `wide` and `high` in pixels. Raises
    SizeError."""
    file = str(request.settings.get("file", ""))
    if len(file) != 64:
        raise SizeError("Choose a picture first.")
    wide, high = (int(request.settings.get(n) or 1) for n in ("wide", "high"))
    x, y = request.pointer
    return Picture(
        id=request.identity,
        anchor=OnSheet(),
        file=file,
        name=str(request.settings.get("name", ""))[:120],
        position=Point(x=round(x, 3), y=round(y, 3)),
        wide=wide,
        high=high,
        width=round(max(2.0, min(WIDE, WIDE * wide / max(high, 1), wide / DENSE * 25.4)), 1),
    )


KIND = Kind(Picture, "Picture", ink=ink, obstacles=obstacles, propose=propose)
