"""Diameters, radii and arc lengths: a line through the circle where there is room, else a leader from outside."""

import math
from dataclasses import dataclass

import numpy as np

from drafting.annotation.dimension_ink import (
    KIND,
    Array,
    Definition,
    SizeInk,
    arrow,
    extension,
    line,
    number_on_line,
    readable,
    shoulder,
    slid,
    xy,
)
from drafting.annotation.distances import circle
from drafting.annotation.label import Label, label_of
from drafting.annotation.numbers import DIAMETER
from drafting.annotation.traces import Round
from drafting.annotation.view_frame import ViewFrame
from drafting.document import ArcLengthDimension, DiameterDimension, Placement, Point, RadiusDimension
from drafting.errors import SizeError
from drafting.ink.elements import Arc, Polyline
from drafting.model.model import Facts
from drafting.standards.profile import Profile

RADIUS = "R"


def diameter_value(d: DiameterDimension, facts: Facts, frame: ViewFrame) -> float:
    """The diameter on the model in mm."""
    return 2 * circle(d.picks[0], facts, frame).radius


def radius_value(d: RadiusDimension, facts: Facts, frame: ViewFrame) -> float:
    """The radius on the model in mm."""
    return circle(d.picks[0], facts, frame).radius


def arc_length_value(d: ArcLengthDimension, facts: Facts, frame: ViewFrame) -> float:
    """Length along the arc on the model in mm."""
    found = circle(d.picks[0], facts, frame)
    return found.radius * (found.last - found.first)


def _sign(found: Round, sign: str) -> str:
    """S before the sign of a sphere's (ISO 129-1, ASME Y14.5)."""
    return f"S{sign}" if found.sphere else sign


def diameter_label(d: DiameterDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Label:
    found = circle(d.picks[0], facts, frame)
    return label_of(2 * found.radius, _sign(found, DIAMETER), d.wording, d.tolerance, profile)


def radius_label(d: RadiusDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Label:
    found = circle(d.picks[0], facts, frame)
    return label_of(found.radius, _sign(found, RADIUS), d.wording, d.tolerance, profile)


def arc_length_label(d: ArcLengthDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Label:
    """The arc sign before the number (ISO 129-1) or over it (ASME Y14.5)."""
    over = profile.standard == "ASME"
    return label_of(arc_length_value(d, facts, frame), "" if over else "⌒", d.wording, d.tolerance, profile, over_arc=over)


def _polar(place: Array, center: Array) -> tuple[Array, float]:
    toward = place - center
    reach = float(np.linalg.norm(toward))
    return (toward / reach if reach > 1e-9 else np.array([math.sqrt(0.5), math.sqrt(0.5)])), reach


def _in_plane(u: Array, frame: ViewFrame) -> Array:
    out: Array = frame.matrix[0] * u[0] + frame.matrix[1] * u[1]
    return out


def _face_on(found: Round, frame: ViewFrame) -> bool:
    return abs(abs(float(found.axis @ frame.matrix[2])) - 1) < 1e-9


def diameter_ink(d: DiameterDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> SizeInk:
    """Ink in paper mm about the view's position."""
    found = circle(d.picks[0], facts, frame)
    label = diameter_label(d, facts, frame, profile)
    center = frame.drawn(frame.flat(found.center)) * scale
    at = np.array(d.place.at(scale))
    u, reach = _polar(at, center)
    near = _on_curve(found, u, frame, scale)
    across = float(np.linalg.norm(near - center))
    true = _face_on(found, frame)
    far = true and found.has(-_in_plane(u, frame))
    out = SizeInk(definition=Definition("diameter", (xy(center - u * across), xy(near)), scale=scale if true else 0.0))
    arrows_out = d.arrows == "out"
    if reach < across:
        if far and not arrows_out and 2 * across > label.width + 2 * profile.arrow_length + 3:
            _through(center, u, across, label, profile, out)
            return out
        reach = across + 2 * profile.arrow_length
        at = center + u * reach
    if far and not arrows_out and 2 * across >= 4 * profile.arrow_length:
        out.lines.append(line(center - u * across, at))
        out.arrows += [arrow(center - u * across, -u, profile), arrow(near, u, profile)]
    elif true and not arrows_out and across >= 4 * profile.arrow_length:  # the arc has no far side: from the center outward
        out.lines.append(line(center, at))
        out.arrows.append(arrow(near, u, profile))
    else:
        out.lines.append(line(near, at))
        out.arrows.append(arrow(near, -u, profile))
    _leader_end(at, u, label, profile, out)
    return out


def _leader_end(at: Array, u: Array, label: Label, profile: Profile, out: SizeInk) -> None:
    lines, lettering = shoulder(at, u, label, profile)
    out.lines += lines
    out.lettering += lettering


def _on_curve(found: Round, u: Array, frame: ViewFrame, scale: float) -> Array:
    """The point of the drawn circle or ellipse in direction u from its center."""
    p = frame.direction(found.x_axis) * found.radius * scale
    q = frame.direction(np.cross(found.axis, found.x_axis)) * found.radius * scale
    t = np.linalg.solve(np.column_stack([p, q]), u)
    t /= np.linalg.norm(t)
    out: Array = frame.drawn(frame.flat(found.center)) * scale + p * t[0] + q * t[1]
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


def radius_ink(d: RadiusDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> SizeInk:
    """From the center, or as a short leader from outside where the arc is small; with a jog where the center is too far off."""
    found = circle(d.picks[0], facts, frame)
    label = radius_label(d, facts, frame, profile)
    center = frame.drawn(frame.flat(found.center)) * scale
    at = np.array(d.place.at(scale))
    u, reach = _polar(at, center)
    u = _within(found, u, frame)
    near = _on_curve(found, u, frame, scale)
    across = float(np.linalg.norm(near - center))
    out = SizeInk(definition=Definition("radius", (xy(center), xy(near)), scale=scale if _face_on(found, frame) else 0.0))
    inside = reach < across and d.arrows != "out"
    if d.jogged and inside:
        _jogged(near, u, min(across - reach, across), label, profile, out)
    elif inside and across > label.width + profile.arrow_length + 2.5:
        middle = center + u * (across - profile.arrow_length) / 2
        lettering, gap = number_on_line(label, middle, u, profile)
        out.lettering += lettering
        out.lines += [line(center, near)] if not gap else [line(center, middle - u * gap), line(middle + u * gap, near)]
        out.arrows.append(arrow(near, u, profile))
    else:
        end = center + u * max(reach, across + 2 * profile.arrow_length)
        if across >= 5 * profile.arrow_length and d.arrows == "in" and not d.jogged:
            out.lines.append(line(center, end))
            out.arrows.append(arrow(near, u, profile))
        else:
            out.lines.append(line(near, end))
            out.arrows.append(arrow(near, -u, profile))
        _leader_end(end, u, label, profile, out)
    return out


def _within(found: Round, u: Array, frame: ViewFrame) -> Array:
    """The direction, or the nearest one in which there is arc."""
    w = _in_plane(u, frame)
    if not _face_on(found, frame) or found.has(w):
        return u
    y = np.cross(found.axis, found.x_axis)
    ends = [found.x_axis * math.cos(t) + y * math.sin(t) for t in (found.first, found.last)]
    best = max(ends, key=lambda v: float(v @ w))
    flat = frame.direction(best)
    out: Array = flat / np.linalg.norm(flat)
    return out


def _jogged(near: Array, u: Array, length: float, label: Label, profile: Profile, out: SizeInk) -> None:
    """The line bends aside and back halfway, so that it is seen not to reach the true center (ISO 129-1, ASME Y14.5)."""
    length = max(length, label.width + 6 * profile.arrow_length)
    v, step = np.array([-u[1], u[0]]), profile.arrow_length * 1.5
    bend = near - u * length * 0.75
    points = [near - u * length * 0.7, bend + v * step - u * 0.0, near - u * length * 0.8 + v * step, near - u * length + v * step]
    number_at = near - u * (length * 0.7 + profile.arrow_length) / 2
    lettering, gap = number_on_line(label, number_at, u, profile)
    out.lettering += lettering
    first = [line(near, points[0])] if not gap else [line(near, number_at + u * gap), line(number_at - u * gap, points[0])]
    out.lines += [*first, Polyline(tuple(xy(p) for p in points), KIND)]
    out.arrows.append(arrow(near, u, profile))


@dataclass(frozen=True)
class _DimensionArc:
    """The arc an arc length is written on: its center, radius and direction to its start, counterclockwise through sweep; where its extension
    lines begin and end; paper mm."""

    center: Array
    radius: float
    start: Array
    sweep: float
    origins: list[Array]
    feet: list[Array]


def _dimension_arc(d: ArcLengthDimension, facts: Facts, frame: ViewFrame, scale: float) -> _DimensionArc:
    """Up to a quarter turn the dimension arc is the arc moved along its bisector, with parallel extension lines; else they run to its center
    and the arc is concentric (ISO 129-1)."""
    found = circle(d.picks[0], facts, frame)
    if not _face_on(found, frame):
        raise SizeError("An arc length is taken where the arc is seen as a circle.")
    sweep = found.last - found.first
    if sweep > 2 * math.pi - 1e-9:
        raise SizeError("A whole circle has a diameter; an arc length is taken on an arc.")
    y = np.cross(found.axis, found.x_axis)
    ends = [frame.direction(found.x_axis * math.cos(t) + y * math.sin(t)) for t in (found.first, found.last, (found.first + found.last) / 2)]
    center, r, at = frame.drawn(frame.flat(found.center)) * scale, found.radius * scale, np.array(d.place.at(scale))
    bisector = ends[2]
    start, stop = (ends[0], ends[1]) if float(ends[0][0] * bisector[1] - ends[0][1] * bisector[0]) > 0 else (ends[1], ends[0])
    origins = [center + v * r for v in (start, stop)]
    if sweep <= math.pi / 2 + 1e-9:
        middle = center + bisector * (float((at - center) @ bisector) - r)
        return _DimensionArc(middle, r, start, sweep, origins, [middle + v * r for v in (start, stop)])
    radius = max(float(np.linalg.norm(at - center)), 2.0)
    return _DimensionArc(center, radius, start, sweep, origins, [center + v * radius for v in (start, stop)])


def arc_length_ink(d: ArcLengthDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> SizeInk:
    """Ink in paper mm about the view's position. Raises SizeError where the arc is not seen as one."""
    arc, out = _dimension_arc(d, facts, frame, scale), SizeInk()
    for origin, foot in zip(arc.origins, arc.feet, strict=True):
        out.extensions += extension(origin, foot, profile)
    curved_line(arc.center, arc.radius, arc.start, arc.sweep, arc_length_label(d, facts, frame, profile), d.arrows, profile, out, shift=d.shift)
    return out


def arc_shift_at(d: ArcLengthDimension, at: Array, facts: Facts, frame: ViewFrame, scale: float) -> float | None:
    """How far along the dimension arc a place is from its middle, paper mm."""
    arc = _dimension_arc(d.model_copy(update={"place": Placement(model=Point(x=0, y=0), paper=Point(x=at[0], y=at[1]))}), facts, frame, scale)
    return slid_on_arc(arc.center, arc.start, arc.sweep, at)


def slid_on_arc(center: Array, start: Array, sweep: float, at: Array) -> float | None:
    """The shift of a number dragged along a dimension arc through a place."""
    out = at - center
    turn = math.atan2(float(start[0] * out[1] - start[1] * out[0]), float(start @ out)) % (2 * math.pi)
    radius = float(np.linalg.norm(out))
    return slid((turn - sweep / 2) * radius, sweep * radius)


def curved_line(
    center: Array, radius: float, start: Array, sweep: float, label: Label, arrows: str, profile: Profile, out: SizeInk, along: float | None = None,
    shift: float | None = None,
) -> None:  # fmt: skip
    """A dimension arc counterclockwise from a direction, with arrows and its number in the middle, or outside where it does not fit.

    along: angle from the start at which the number is wished, radians; shift: of the number from the middle of its arc, paper mm."""
    first = math.atan2(float(start[1]), float(start[0]))
    length = radius * sweep
    above = profile.dimension_text == "above"
    width = label.width if above else label.width + 2 * profile.text_gap
    both_fit = length >= width + 2 * profile.arrow_length + 1.5
    number_in = both_fit or (length >= width + 1 and arrows != "in")
    arrows_in = both_fit if arrows == "fit" else arrows == "in"
    tail = 2.2 * profile.arrow_length / radius
    if number_in:
        half = (width / 2 + 1.0) / radius
        middle = sweep / 2 if shift is None or 2 * half > sweep else min(max(sweep / 2 + shift / radius, half), sweep - half)
    else:
        side = 1.0 if along is None or along >= sweep / 2 else -1.0
        beyond = (width / 2 + (1.0 if arrows_in else 2.6) * profile.arrow_length) / radius
        middle = sweep + beyond if side > 0 else -beyond
    t = first + middle
    normal = np.array([math.cos(t), math.sin(t)])
    tangent = np.array([-math.sin(t), math.cos(t)])
    at = center + normal * radius
    if above:
        angle = readable(math.atan2(float(tangent[1]), float(tangent[0])))
        up = np.array([-math.sin(angle), math.cos(angle)])
        sag = radius - math.sqrt(max(radius**2 - (label.width / 2) ** 2, 0.0)) if float(up @ normal) < 0 else 0.0
        out.lettering += label.elements(xy(at + up * (profile.text_gap + sag - min(label.low, 0.0))), angle)
        gap = 0.0
    else:
        out.lettering += label.elements((float(at[0]), float(at[1]) - (label.low + label.high) / 2))
        reach = min(abs(label.width / 2 / tangent[0]) if abs(tangent[0]) > 1e-9 else math.inf,
                    abs((label.high - label.low) / 2 / tangent[1]) if abs(tangent[1]) > 1e-9 else math.inf)  # fmt: skip
        gap = (reach + profile.text_gap) / radius
    for angle, sign in ((first, -1.0), (first + sweep, 1.0)):
        tip = center + radius * np.array([math.cos(angle), math.sin(angle)])
        way = np.array([-math.sin(angle), math.cos(angle)]) * sign * (1.0 if arrows_in else -1.0)
        # an arrowhead on an arc lies on its chord
        lean = profile.arrow_length / 2 / radius * (-sign if arrows_in else sign)
        c, s = math.cos(lean), math.sin(lean)
        out.arrows.append(arrow(tip, np.array([way[0] * c - way[1] * s, way[0] * s + way[1] * c]), profile))
    ends = (min(0.0 if arrows_in else -tail, middle - (0 if gap else width / 2 / radius) if middle < 0 else 0.0),
            max(sweep if arrows_in else sweep + tail, middle + (0 if gap else width / 2 / radius) if middle > sweep else sweep))  # fmt: skip
    spans = [ends] if not gap else [(ends[0], middle - gap), (middle + gap, ends[1])]
    out.lines += [Arc(xy(center), radius, first + a, first + b, KIND) for a, b in spans if b - a > 1e-6]
