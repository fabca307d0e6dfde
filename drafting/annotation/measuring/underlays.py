"""Drawings of old that lie under a view or a sheet: what is stored of them, and what their lines are in the
model."""

import math
import re
from typing import Annotated, Literal

from pydantic import Field

from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Pick
from drafting.errors import SizeError
from drafting.placed.underlay import ARC, LINE, Lie, Lines, lines_of
from drafting.views.frame import Array

FileKey = Annotated[str, Field(pattern=r"^[0-9a-f]{64}$")]
_SOURCE = re.compile(r"^([^#]+)#(\d{1,7})$")


class Underlay(AnnotationBase):
    """A drawing of old. file: its lines, by their hash; position: of its lower left corner, view mm at 1:1
    about the view's middle, or mm of the sheet; unit: mm for a unit of the file; angle: degrees
    counterclockwise; off: layers that are not shown; printed: whether files show it."""

    kind: Literal["underlay"] = "underlay"
    file: FileKey
    name: Annotated[str, Field(max_length=120)] = ""
    position: Point
    unit: Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False, title="mm for a unit")] = 1.0
    angle: Annotated[float, Field(ge=-360, le=360, title="Angle, °")] = 0.0
    off: Annotated[list[Annotated[str, Field(max_length=80)]], Field(max_length=2000)] = []
    printed: Annotated[bool, Field(title="In files too")] = False

    @property
    def lie(self) -> Lie:
        """How it lies in its plane."""
        return Lie(self.position.x, self.position.y, self.unit, math.radians(self.angle))

    @property
    def lines(self) -> Lines:
        """Its lines. Raises SizeError where its file is gone."""
        return lines_of(self.file)


def piece_of(pick: Pick, context: Context) -> tuple[int, list[float]]:
    """A line or arc of an underlay by a pick (role "underlay"; its id, and after # the number of the piece):
    its kind and its numbers in the plane. Raises SizeError where it is gone."""
    found = _SOURCE.match(pick.source)
    if found is None:
        raise SizeError("Nothing of an underlay lies there.")
    a = context.sheet.annotation(found[1])
    if not isinstance(a, Underlay) or a.view != context.view_id:
        raise SizeError("The underlay this was taken on is no longer there.")
    try:
        kind, numbers = a.lines.piece(int(found[2]))
    except IndexError:
        raise SizeError("The underlay this was taken on has no such line.") from None
    return kind, a.lie.placed(kind, numbers)


def in_model(pick: Pick, context: Context) -> Straight | Round:
    """What a line or arc of an underlay is in model space, in the plane through the middle of the view.
    Raises SizeError for free curves, and in pictorial views."""
    kind, v = piece_of(pick, context)
    if context.frame.pictorial:
        raise SizeError("An underlay has no true size here.")
    frame = context.frame

    def lifted(x: float, y: float) -> Array:
        out: Array = frame.middle + frame.matrix[0] * x + frame.matrix[1] * y
        return out

    if kind == LINE:
        return Straight(lifted(v[0], v[1]), lifted(v[2], v[3]))
    if kind == ARC:
        return Round(lifted(v[0], v[1]), frame.matrix[2], frame.matrix[0], v[2], v[3], v[4])
    raise SizeError("Sizes are taken on straight lines, circles and arcs; this one is a free curve.")
