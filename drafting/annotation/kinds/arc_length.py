"""Lengths along arcs."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_arc import curved_line, slid_on_arc
from drafting.annotation.inking.dimension_ink import Array, SizeInk, extension
from drafting.annotation.kinds.kind import SizeKind
from drafting.annotation.kinds.rounds import face_on
from drafting.annotation.measuring import statement
from drafting.annotation.measuring.distances import circle
from drafting.annotation.wording.label import Label, label_of
from drafting.context import Context
from drafting.data import Point
from drafting.document import Dimension, Placement
from drafting.errors import SizeError


class ArcLengthDimension(Dimension):
    """The length along an arc."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 1)
    kind: Literal["arc_length"] = "arc_length"


def value(d: ArcLengthDimension, context: Context) -> float:
    """Length along the arc on the model in mm."""
    found = circle(d.picks[0], context)
    return found.radius * (found.last - found.first)


def lettering(d: ArcLengthDimension, context: Context) -> Label:
    """The arc sign before the number (ISO 129-1) or over it (ASME Y14.5)."""
    over = context.profile.standard == "ASME"
    return label_of(
        value(d, context), "" if over else "⌒", d.wording, d.tolerance, context.profile, over_arc=over
    )


@dataclass(frozen=True)
class _DimensionArc:
    """The arc an arc length is written on: its center, radius and direction to its start, counterclockwise
    through sweep; where its extension lines begin and end; paper mm."""

    center: Array
    radius: float
    start: Array
    sweep: float
    origins: list[Array]
    feet: list[Array]


def _dimension_arc(d: ArcLengthDimension, context: Context) -> _DimensionArc:
    """Up to a quarter turn the dimension arc is the arc moved along its bisector, with parallel extension
    lines; else they run to its center and the arc is concentric (ISO 129-1)."""
    found = circle(d.picks[0], context)
    if not face_on(found, context.frame):
        raise SizeError("An arc length is taken where the arc is seen as a circle.")
    sweep = found.last - found.first
    if sweep > 2 * math.pi - 1e-9:
        raise SizeError("A whole circle has a diameter; an arc length is taken on an arc.")
    y = np.cross(found.axis, found.x_axis)
    ends = [
        context.frame.direction(found.x_axis * math.cos(t) + y * math.sin(t))
        for t in (found.first, found.last, (found.first + found.last) / 2)
    ]
    center, r, at = (
        context.frame.drawn(context.frame.flat(found.center)) * context.scale,
        found.radius * context.scale,
        np.array(d.place.at(context.scale)),
    )
    bisector = ends[2]
    start, stop = (
        (ends[0], ends[1])
        if float(ends[0][0] * bisector[1] - ends[0][1] * bisector[0]) > 0
        else (ends[1], ends[0])
    )
    origins = [center + v * r for v in (start, stop)]
    if sweep <= math.pi / 2 + 1e-9:
        middle = center + bisector * (float((at - center) @ bisector) - r)
        return _DimensionArc(middle, r, start, sweep, origins, [middle + v * r for v in (start, stop)])
    radius = max(float(np.linalg.norm(at - center)), 2.0)
    return _DimensionArc(center, radius, start, sweep, origins, [center + v * radius for v in (start, stop)])


def ink(d: ArcLengthDimension, context: Context) -> SizeInk:
    """Ink in paper mm about the view's position. Raises SizeError where the arc is not seen as one."""
    arc, out = _dimension_arc(d, context), SizeInk()
    for origin, foot in zip(arc.origins, arc.feet, strict=True):
        out.extensions += extension(origin, foot, context.profile)
    curved_line(
        arc.center,
        arc.radius,
        arc.start,
        arc.sweep,
        lettering(d, context),
        d.arrows,
        context.profile,
        out,
        shift=d.shift,
    )
    return out


def shift_at(d: ArcLengthDimension, at: Array, context: Context) -> float | None:
    """How far along the dimension arc a place is from its middle, paper mm."""
    arc = _dimension_arc(
        d.model_copy(update={"place": Placement(model=Point(x=0, y=0), paper=Point(x=at[0], y=at[1]))}),
        context,
    )
    return slid_on_arc(arc.center, arc.start, arc.sweep, at)


KIND = SizeKind(
    ArcLengthDimension,
    "Arc length",
    value=value,
    label=lettering,
    size_ink=ink,
    shift_at=shift_at,
    states=statement.of_picks,
)
