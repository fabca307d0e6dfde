"""Radii of circles and arcs, jogged where the center lies too far off."""

import math
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import (
    LINE_KIND,
    Array,
    Definition,
    SizeInk,
    arrow,
    line,
    number_on_line,
    xy,
)
from drafting.annotation.kinds.kind import SizeKind
from drafting.annotation.kinds.rounds import face_on, in_plane, leader_end, on_curve, polar, signed
from drafting.annotation.measuring import statement
from drafting.annotation.measuring.distances import circle
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.measuring.traces import Round
from drafting.annotation.wording.label import Label, label_of
from drafting.context import Context
from drafting.document import Dimension
from drafting.ink.elements import Polyline
from drafting.standards.profile import Profile
from drafting.views.frame import ViewFrame


class RadiusDimension(Dimension):
    """A radius of a circle or an arc. jogged: its center lies too far off to be shown."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 1)
    kind: Literal["radius"] = "radius"
    jogged: bool = False


def value(d: RadiusDimension, context: Context) -> float:
    """The radius on the model in mm."""
    return circle(d.picks[0], context).radius


def label_text(d: RadiusDimension, context: Context) -> Label:
    """The lettering, with R or SR."""
    found = circle(d.picks[0], context)
    return label_of(found.radius, signed(found, "R"), d.wording, d.tolerance, context.profile)


def ink(d: RadiusDimension, context: Context) -> SizeInk:
    """From the center, or as a short leader from outside where the arc is small; with a jog where the center
    is too far off."""
    found = circle(d.picks[0], context)
    label = label_text(d, context)
    center = context.frame.drawn(context.frame.flat(found.center)) * context.scale
    at = np.array(d.place.at(context.scale))
    u, reach = polar(at, center)
    u = _within(found, u, context.frame)
    near = on_curve(found, u, context.frame, context.scale)
    across = float(np.linalg.norm(near - center))
    out = SizeInk(
        definition=Definition(
            "radius", (xy(center), xy(near)), scale=context.scale if face_on(found, context.frame) else 0.0
        )
    )
    inside = reach < across and d.arrows != "out"
    if d.jogged and inside:
        _jogged(near, u, min(across - reach, across), label, context.profile, out)
    elif inside and across > label.width + context.profile.arrow_length + 2.5:
        middle = center + u * (across - context.profile.arrow_length) / 2
        lettering, gap = number_on_line(label, middle, u, context.profile)
        out.lettering += lettering
        out.lines += (
            [line(center, near)]
            if not gap
            else [line(center, middle - u * gap), line(middle + u * gap, near)]
        )
        out.arrows.append(arrow(near, u, context.profile))
    else:
        end = center + u * max(reach, across + 2 * context.profile.arrow_length)
        if across >= 5 * context.profile.arrow_length and d.arrows == "in" and not d.jogged:
            out.lines.append(line(center, end))
            out.arrows.append(arrow(near, u, context.profile))
        else:
            out.lines.append(line(near, end))
            out.arrows.append(arrow(near, -u, context.profile))
        leader_end(end, u, label, context.profile, out)
    return out


def _within(found: Round, u: Array, frame: ViewFrame) -> Array:
    """The direction, or the nearest one in which there is arc."""
    w = in_plane(u, frame)
    if not face_on(found, frame) or found.has(w):
        return u
    y = np.cross(found.axis, found.x_axis)
    ends = [found.x_axis * math.cos(t) + y * math.sin(t) for t in (found.first, found.last)]
    best = max(ends, key=lambda v: float(v @ w))
    flat = frame.direction(best)
    out: Array = flat / np.linalg.norm(flat)
    return out


def _jogged(near: Array, u: Array, length: float, label: Label, profile: Profile, out: SizeInk) -> None:
    """The line bends aside and back halfway, so that it is seen not to reach the true center (ISO 129-1, ASME
    Y14.5)."""
    length = max(length, label.width + 6 * profile.arrow_length)
    v, step = np.array([-u[1], u[0]]), profile.arrow_length * 1.5
    bend = near - u * length * 0.75
    points = [
        near - u * length * 0.7,
        bend + v * step - u * 0.0,
        near - u * length * 0.8 + v * step,
        near - u * length + v * step,
    ]
    number_at = near - u * (length * 0.7 + profile.arrow_length) / 2
    lettering, gap = number_on_line(label, number_at, u, profile)
    out.lettering += lettering
    first = (
        [line(near, points[0])]
        if not gap
        else [line(near, number_at + u * gap), line(number_at - u * gap, points[0])]
    )
    out.lines += [*first, Polyline(tuple(xy(p) for p in points), LINE_KIND)]
    out.arrows.append(arrow(near, u, profile))


def states(d: RadiusDimension, context: Context) -> Statement:
    """The circle it is taken on."""
    return statement.of_circle(circle(d.picks[0], context))


KIND = SizeKind(RadiusDimension, "Radius", value=value, label=label_text, size_ink=ink, states=states)
