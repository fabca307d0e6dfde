"""Linear sizes: lengths and distances, with extension lines, arrows and the number placed by the profile."""

import numpy as np

from drafting.annotation import measure
from drafting.annotation.dimension_ink import (
    Array,
    arrow,
    extension,
    line,
    number_on_line,
)
from drafting.annotation.measure import Distance, ViewFrame
from drafting.annotation.numbers import DIAMETER, written
from drafting.document import LinearDimension
from drafting.errors import SizeError
from drafting.ink.elements import Element
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.standards.profile import Profile


def value(d: LinearDimension, facts: Facts, frame: ViewFrame) -> float:
    """The size on the model in mm."""
    return measure.distance(d.picks, d.direction, facts, frame).value


def text(d: LinearDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> str:
    found = measure.distance(d.picks, d.direction, facts, frame)
    return (DIAMETER if found.diameter else "") + written(found.value, profile, d.places)


def ink(d: LinearDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Ink in paper mm about the view's position. Raises SizeError where the picks give no size."""
    found = measure.distance(d.picks, d.direction, facts, frame)
    label = (DIAMETER if found.diameter else "") + written(found.value, profile, d.places)
    at = np.array(d.place.at(scale))
    u = found.direction
    along = _extension_direction(found, at, frame, scale)
    ends, origins = [], []
    for a, b in (found.first, found.second):
        foot, origin = _foot(frame.drawn(a) * scale, frame.drawn(b) * scale, at, u, along)
        ends.append(foot)
        origins.append(origin)
    out: list[Element] = []
    for origin, foot in zip(origins, ends, strict=True):
        out += extension(origin, foot, profile)
    return out + _line_and_number(ends[0], ends[1], u, at, label, profile)


def _extension_direction(found: Distance, at: Array, frame: ViewFrame, scale: float) -> Array:
    """Square to the dimension line; in pictorial views along the model axis, square to what is measured, that leads to the place."""
    u = found.direction
    square = np.array([-u[1], u[0]])
    if not frame.pictorial or found.edge is None:
        return square
    edge = found.edge / np.linalg.norm(found.edge)
    want = at - (found.first[0] + found.second[0]) / 2 * scale
    best, best_score = square, -1.0
    for axis in np.eye(3):
        flat = frame.direction(axis)
        n = float(np.linalg.norm(flat))
        if abs(float(axis @ edge)) > 1e-6 or n < 0.2 or abs(float(flat @ u)) / n > 0.97:
            continue
        score = abs(float(flat @ want)) / n
        if score > best_score:
            best, best_score = flat / n, score
    return best


def _foot(a: Array, b: Array, at: Array, u: Array, along: Array) -> tuple[Array, Array]:
    """Where the extension line from the nearer end of a-b meets the dimension line through `at`, and that end."""
    feet = []
    for p in (a, b):
        m = np.column_stack([along, -u])
        t = np.linalg.solve(m, at - p)
        feet.append((abs(float(t[0])), p + along * t[0], p))
    feet.sort(key=lambda f: f[0])
    return feet[0][1], feet[0][2]


def _line_and_number(p: Array, q: Array, u: Array, at: Array, label: str, profile: Profile) -> list[Element]:
    length = float(np.linalg.norm(q - p))
    if length > 1e-9:
        u = (q - p) / length
    where = float((at - p) @ u)
    width = text_width(label, profile.text_height) if profile.dimension_text == "above" else _reach(label, u, profile)
    inside = 0 <= where <= length
    arrows_fit = length >= 2 * profile.arrow_length + 1.0
    both_fit = length >= width + 2 * profile.arrow_length + 2.0
    number_fits = both_fit or (length >= width + 1.0 and inside)
    arrows_in = arrows_fit and (both_fit or not inside or not number_fits)
    place = length / 2 if inside and number_fits else (where if not inside else length + profile.arrow_length * 2.2 + width / 2)
    if not (inside and number_fits):
        reach = width / 2 + profile.arrow_length * (1.0 if arrows_in else 2.2)
        place = max(place, length + reach) if place > length / 2 else min(place, -reach)
    number, gap = number_on_line(label, p + u * place, u, profile)
    out: list[Element] = [*number]
    sign = 1.0 if arrows_in else -1.0
    out += [arrow(p, -u * sign, profile), arrow(q, u * sign, profile)]
    first = min(0.0 if arrows_in else -2.2 * profile.arrow_length, place - (0 if gap else width / 2) if place < 0 else 0.0)
    last = max(length if arrows_in else length + 2.2 * profile.arrow_length, place + (0 if gap else width / 2) if place > length else length)
    spans = [(first, last)]
    if gap:
        spans = [(first, place - gap), (place + gap, last)]
    out += [line(p + u * a, p + u * b) for a, b in spans if b - a > 1e-6]
    return out


def _reach(label: str, u: Array, profile: Profile) -> float:
    width = text_width(label, profile.text_height)
    return abs(float(u[0])) * width + abs(float(u[1])) * profile.text_height + 2 * profile.text_gap


def directions(d: LinearDimension, facts: Facts, frame: ViewFrame) -> list[str]:
    """The directions this size can be taken in, without doubles."""
    options: list[str] = []
    values: list[float] = []
    for direction in ("aligned", "horizontal", "vertical"):
        try:
            found = measure.distance(d.picks, direction, facts, frame)
        except SizeError:
            continue
        if not any(abs(v - found.value) < 1e-9 for v in values):
            options.append(direction)
            values.append(found.value)
    return options
