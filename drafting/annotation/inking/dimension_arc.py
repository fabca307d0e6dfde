"""Dimension lines that are arcs: of angles and arc lengths."""

import math

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, SizeInk, arrow, readable, slid, xy
from drafting.annotation.wording.label import Label
from drafting.ink.elements import Arc
from drafting.standards.profile import Profile


def slid_on_arc(center: Array, start: Array, sweep: float, at: Array) -> float | None:
    """The shift of a number dragged along a dimension arc through a place."""
    out = at - center
    turn = math.atan2(float(start[0] * out[1] - start[1] * out[0]), float(start @ out)) % (2 * math.pi)
    radius = float(np.linalg.norm(out))
    return slid((turn - sweep / 2) * radius, sweep * radius)


def curved_line(
    center: Array,
    radius: float,
    start: Array,
    sweep: float,
    label: Label,
    arrows: str,
    profile: Profile,
    out: SizeInk,
    along: float | None = None,
    shift: float | None = None,
) -> None:
    """A dimension arc counterclockwise from a direction, with arrows and its number in the middle, or outside
    where it does not fit.

    along: angle from the start at which the number is wished, radians; shift: of the number from the middle
    of its arc, paper mm."""
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
        middle = (
            sweep / 2
            if shift is None or 2 * half > sweep
            else min(max(sweep / 2 + shift / radius, half), sweep - half)
        )
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
        sag = (
            radius - math.sqrt(max(radius**2 - (label.width / 2) ** 2, 0.0))
            if float(up @ normal) < 0
            else 0.0
        )
        out.lettering += label.elements(xy(at + up * (profile.text_gap + sag - min(label.low, 0.0))), angle)
        gap = 0.0
    else:
        out.lettering += label.elements((float(at[0]), float(at[1]) - (label.low + label.high) / 2))
        reach = min(
            abs(label.width / 2 / tangent[0]) if abs(tangent[0]) > 1e-9 else math.inf,
            abs((label.high - label.low) / 2 / tangent[1]) if abs(tangent[1]) > 1e-9 else math.inf,
        )
        gap = (reach + profile.text_gap) / radius
    for angle, sign in ((first, -1.0), (first + sweep, 1.0)):
        tip = center + radius * np.array([math.cos(angle), math.sin(angle)])
        way = np.array([-math.sin(angle), math.cos(angle)]) * sign * (1.0 if arrows_in else -1.0)
        # an arrowhead on an arc lies on its chord
        lean = profile.arrow_length / 2 / radius * (-sign if arrows_in else sign)
        c, s = math.cos(lean), math.sin(lean)
        out.arrows.append(arrow(tip, np.array([way[0] * c - way[1] * s, way[0] * s + way[1] * c]), profile))
    ends = (
        min(0.0 if arrows_in else -tail, middle - (0 if gap else width / 2 / radius) if middle < 0 else 0.0),
        max(
            sweep if arrows_in else sweep + tail,
            middle + (0 if gap else width / 2 / radius) if middle > sweep else sweep,
        ),
    )
    spans = [ends] if not gap else [(ends[0], middle - gap), (middle + gap, ends[1])]
    out.lines += [Arc(xy(center), radius, first + a, first + b, LINE_KIND) for a, b in spans if b - a > 1e-6]
