"""Revision clouds: a line of bows about what a revision changed, with the revision's mark in a triangle (ASME
Y14.35; memory)."""

import math
from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation.kinds.kind import Box, Kind, Request
from drafting.annotation.kinds.kind import Row as Told
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnSheet
from drafting.ink.elements import Arc, Element, Polyline, Text
from drafting.sheet.layout import frame_box

BOW = 6.0
"""About how long a bow is, mm of paper."""
LINE = "dimension"


class RevisionCloud(AnnotationBase):
    """A cloud about a place. position: its middle; width, height: mm of the sheet; mark: of the revision, in
    its triangle, empty for none."""

    kind: Literal["revision_cloud"] = "revision_cloud"
    position: Point
    width: Annotated[float, Field(ge=4, le=2000, title="Width, mm")] = 30.0
    height: Annotated[float, Field(ge=4, le=2000, title="Height, mm")] = 20.0
    mark: Annotated[str, Field(max_length=8, title="Revision")] = ""


def ink(cloud: RevisionCloud, context: Context) -> list[Element]:
    """Bows around the box and the triangle at its upper right corner, at the lower one where the frame leaves
    no room above; sheet mm."""
    x0, y0, x1, y1 = _box(cloud)
    out = bows(x0, y0, x1, y1)
    if not cloud.mark:
        return out
    above = y1 + BOW / 2
    tall = _half(cloud.mark, context) * math.sqrt(3)
    if above + tall > frame_box(context.sheet).top:
        above = y0 - BOW / 2 - tall
    return out + _triangle(cloud.mark, (x1, above), context)


def _half(mark: str, context: Context) -> float:
    """Half the triangle's base, mm."""
    return context.profile.text_height * (1.25 + 0.35 * (len(mark) - 1))


def bows(x0: float, y0: float, x1: float, y1: float) -> list[Element]:
    """A line of bows around a box, mm."""
    out: list[Element] = []
    corners = [(x0, y0), (x1, y0), (x1, y1), (x0, y1)]
    for (ax, ay), (bx, by) in zip(corners, [*corners[1:], corners[0]], strict=True):
        length = math.hypot(bx - ax, by - ay)
        count = max(1, round(length / BOW))
        way = math.atan2(by - ay, bx - ax)
        for n in range(count):
            t = (n + 0.5) / count
            center = (ax + (bx - ax) * t, ay + (by - ay) * t)
            out.append(Arc(center, length / count / 2, way - math.pi, way, LINE))
    return out


def _triangle(mark: str, at: tuple[float, float], context: Context) -> list[Element]:
    """A triangle with the mark in it, the middle of its base at a place."""
    h, half = context.profile.text_height, _half(mark, context)
    tall = half * math.sqrt(3)
    x, y = at
    points = ((x - half, y), (x + half, y), (x, y + tall))
    return [Polyline(points, "dimension", True), Text((x, y + 0.25 * h), mark, h, "dimension", "middle")]


def _box(cloud: RevisionCloud) -> Box:
    x, y, w, h = cloud.position.x, cloud.position.y, cloud.width / 2, cloud.height / 2
    return x - w, y - h, x + w, y + h


def words(cloud: RevisionCloud, context: Context) -> str:
    """Whose cloud it is."""
    return f"revision {cloud.mark}" if cloud.mark else "revision cloud"


def propose(request: Request, context: Context) -> RevisionCloud:
    """A cloud with its middle at the pointer, of the drawing's revision."""
    x, y = request.pointer
    return RevisionCloud(
        id=request.identity,
        anchor=OnSheet(),
        position=Point(x=round(x, 3), y=round(y, 3)),
        mark=context.drawing.fields.revision[:8],
    )


KIND = Kind(
    RevisionCloud,
    "Revision cloud",
    ink=ink,
    words=words,
    row=lambda cloud, context: Told(words(cloud, context)),
    propose=propose,
)
