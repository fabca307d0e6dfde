"""Diameters of circles and arcs, and of the circle through the middles of several holes."""

from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import (
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
from drafting.annotation.measuring.ring import ring
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.measuring.traces import Round
from drafting.annotation.wording.label import Label, label_of
from drafting.annotation.wording.numbers import DIAMETER
from drafting.context import Context
from drafting.document import MOST_PICKS, Dimension
from drafting.standards.profile import Profile


class DiameterDimension(Dimension):
    """A diameter of a circle or an arc, or of the bolt circle of the holes that are picked."""

    picks_taken: ClassVar[tuple[int, int]] = (1, MOST_PICKS)
    kind: Literal["diameter"] = "diameter"


def measured(d: DiameterDimension, context: Context) -> Round:
    """The circle it is about. Raises SizeError."""
    return circle(d.picks[0], context) if len(d.picks) == 1 else ring(d.picks, context)


def value(d: DiameterDimension, context: Context) -> float:
    """The diameter on the model in mm."""
    return 2 * measured(d, context).radius


def label_text(d: DiameterDimension, context: Context) -> Label:
    """The lettering, with Ø or SØ."""
    found = measured(d, context)
    return label_of(2 * found.radius, signed(found, DIAMETER), d.wording, d.tolerance, context.profile)


def ink(d: DiameterDimension, context: Context) -> SizeInk:
    """Ink in paper mm about the view's position."""
    found = measured(d, context)
    label = label_text(d, context)
    center = context.frame.drawn(context.frame.flat(found.center)) * context.scale
    at = np.array(d.place.at(context.scale))
    u, reach = polar(at, center)
    near = on_curve(found, u, context.frame, context.scale)
    across = float(np.linalg.norm(near - center))
    true = face_on(found, context.frame)
    far = true and found.has(-in_plane(u, context.frame))
    out = SizeInk(
        definition=Definition(
            "diameter", (xy(center - u * across), xy(near)), scale=context.scale if true else 0.0
        )
    )
    arrows_out = d.arrows == "out"
    if reach < across:
        if far and not arrows_out and 2 * across > label.width + 2 * context.profile.arrow_length + 3:
            _through(center, u, across, label, context.profile, out)
            return out
        reach = across + 2 * context.profile.arrow_length
        at = center + u * reach
    if far and not arrows_out and 2 * across >= 4 * context.profile.arrow_length:
        out.lines.append(line(center - u * across, at))
        out.arrows += [arrow(center - u * across, -u, context.profile), arrow(near, u, context.profile)]
    elif (
        true and not arrows_out and across >= 4 * context.profile.arrow_length
    ):  # the arc has no far side: from the center outward
        out.lines.append(line(center, at))
        out.arrows.append(arrow(near, u, context.profile))
    else:
        out.lines.append(line(near, at))
        out.arrows.append(arrow(near, -u, context.profile))
    leader_end(at, u, label, context.profile, out)
    return out


def _through(center: Array, u: Array, radius: float, label: Label, profile: Profile, out: SizeInk) -> None:
    """Dimension line across the circle with the number on it, clear of the center."""
    a, b = center - u * radius, center + u * radius
    room = radius - profile.arrow_length - 1.0
    middle = center + u * (room / 2) if room > label.width + 1 else center
    lettering, gap = number_on_line(label, middle, u, profile)
    out.lettering += lettering
    out.arrows += [arrow(a, -u, profile), arrow(b, u, profile)]
    out.lines += [line(a, b)] if not gap else [line(a, middle - u * gap), line(middle + u * gap, b)]


def states(d: DiameterDimension, context: Context) -> Statement:
    """The circle it is taken on."""
    return statement.of_circle(measured(d, context))


KIND = SizeKind(DiameterDimension, "Diameter", value=value, label=label_text, size_ink=ink, states=states)
