"""Diameters on circles and arcs: a line through the circle where there is room, else a leader from outside."""

import math

import numpy as np

from drafting.annotation import measure
from drafting.annotation.dimension_ink import KIND, Array, arrow, line, xy
from drafting.annotation.measure import Round, ViewFrame
from drafting.annotation.numbers import DIAMETER, written
from drafting.document import DiameterDimension
from drafting.ink.elements import Element, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.standards.profile import Profile


def value(d: DiameterDimension, facts: Facts, frame: ViewFrame) -> float:
    """The diameter on the model in mm."""
    return 2 * measure.circle(d.picks[0], facts, frame).radius


def text(d: DiameterDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> str:
    return DIAMETER + written(value(d, facts, frame), profile, d.places)


def ink(d: DiameterDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Ink in paper mm about the view's position."""
    found = measure.circle(d.picks[0], facts, frame)
    label = text(d, facts, frame, profile)
    center = frame.drawn(frame.flat(found.center)) * scale
    at = np.array(d.place.at(scale))
    toward = at - center
    reach = float(np.linalg.norm(toward))
    u = toward / reach if reach > 1e-9 else np.array([math.sqrt(0.5), math.sqrt(0.5)])
    near = _on_curve(found, u, frame, scale)
    across = float(np.linalg.norm(near - center))
    width = text_width(label, profile.text_height)
    true = abs(abs(float(found.axis @ frame.matrix[2])) - 1) < 1e-9
    far = true and found.has(-(frame.matrix[0] * u[0] + frame.matrix[1] * u[1]))
    if reach < across:
        if far and 2 * across > width + 2 * profile.arrow_length + 3:
            return _through(center, u, across, label, profile)
        reach = across + 2 * profile.arrow_length
        at = center + u * reach
    out: list[Element] = []
    if far and 2 * across >= 4 * profile.arrow_length:
        out += [line(center - u * across, at), arrow(center - u * across, -u, profile), arrow(near, u, profile)]
    elif true and across >= 4 * profile.arrow_length:  # the arc has no far side: from the center outward
        out += [line(center, at), arrow(near, u, profile)]
    else:
        out += [line(near, at), arrow(near, -u, profile)]
    return out + _shoulder(at, u, label, width, profile)


def _on_curve(found: Round, u: Array, frame: ViewFrame, scale: float) -> Array:
    """The point of the drawn circle or ellipse in direction u from its center."""
    p = frame.direction(found.x_axis) * found.radius * scale
    q = frame.direction(np.cross(found.axis, found.x_axis)) * found.radius * scale
    t = np.linalg.solve(np.column_stack([p, q]), u)
    t /= np.linalg.norm(t)
    out: Array = frame.drawn(frame.flat(found.center)) * scale + p * t[0] + q * t[1]
    return out


def _through(center: Array, u: Array, radius: float, label: str, profile: Profile) -> list[Element]:
    """Dimension line across the circle with the number on it, clear of the center."""
    from drafting.annotation.dimension_ink import number_on_line

    a, b = center - u * radius, center + u * radius
    width = text_width(label, profile.text_height)
    room = radius - profile.arrow_length - 1.0
    middle = center + u * (room / 2) if room > width + 1 else center
    number, gap = number_on_line(label, middle, u, profile)
    out: list[Element] = [*number, arrow(a, -u, profile), arrow(b, u, profile)]
    if not gap:
        return [*out, line(a, b)]
    return [*out, line(a, middle - u * gap), line(middle + u * gap, b)]


def _shoulder(at: Array, u: Array, label: str, width: float, profile: Profile) -> list[Element]:
    """A level shoulder at the leader's end: the number above it (ISO) or at its end (ASME)."""
    side = 1.0 if u[0] >= 0 else -1.0
    if profile.dimension_text == "above":
        end = at + np.array([side * (width + 1.5), 0.0])
        return [line(at, end), Text(xy((at + end) / 2 + np.array([0.0, profile.text_gap])), label, profile.text_height, KIND, "middle")]
    end = at + np.array([side * 4.0, 0.0])
    start = end + np.array([side * profile.text_gap, -profile.text_height / 2])
    return [line(at, end), Text(xy(start), label, profile.text_height, KIND, "left" if side > 0 else "right")]
