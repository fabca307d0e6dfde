"""Linear sizes: lengths and distances, with extension lines, arrows and the number placed by the profile."""

import math
from collections.abc import Sequence

import numpy as np

from drafting.annotation import distances
from drafting.annotation.dimension_ink import Array, Definition, SizeInk, corner_cross, extension, line_with_number, slid, xy
from drafting.annotation.distances import Distance
from drafting.annotation.label import Label, label_of
from drafting.annotation.numbers import DIAMETER
from drafting.annotation.view_frame import ViewFrame
from drafting.document import LinearDimension
from drafting.errors import SizeError
from drafting.model.model import Facts
from drafting.standards.profile import Profile


def value(d: LinearDimension, facts: Facts, frame: ViewFrame) -> float:
    """The size on the model in mm."""
    return distances.measured(d, facts, frame).value


def label(d: LinearDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Label:
    return _label(distances.measured(d, facts, frame), d, profile)


def _label(found: Distance, d: LinearDimension, profile: Profile) -> Label:
    return label_of(found.value, DIAMETER if found.diameter else "", d.wording, d.tolerance, profile)


def ink(d: LinearDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float, dots: Sequence[tuple[float, float]] = ()) -> SizeInk:
    """Ink in paper mm about the view's position. dots: ends shared with another link of a chain, both too narrow for arrows.

    Raises SizeError where the picks give no size."""
    found = distances.measured(d, facts, frame)
    at = np.array(d.place.at(scale))
    origins, feet = feet_of(found, at, frame, scale)
    if float(np.linalg.norm(feet[1] - feet[0])) < 1e-6:
        raise SizeError("The view shows this size end-on; take it in another view.")
    out = SizeInk()
    for n, (origin, foot) in enumerate(zip(origins, feet, strict=True)):
        if not (found.half and n == 0):
            out.extensions += extension(origin, foot, profile)
    for corner, lines in found.corners:
        out.marks += corner_cross(frame.drawn(corner) * scale, lines, profile)
    line_with_number(feet[0], feet[1], at, d, _label(found, d, profile), profile, out, found.half, dots)
    u = feet[1] - feet[0]
    shown = float(np.linalg.norm(u)) * (2 if found.half else 1)
    true = abs(shown - found.value * scale) < 1e-6 * max(shown, 1)
    out.definition = Definition(
        "linear", (xy(origins[0]), xy(origins[1]), xy(feet[1])), math.atan2(float(u[1]), float(u[0])), scale if true and not found.half else 0.0
    )
    return out


def shift_at(d: LinearDimension, at: Array, facts: Facts, frame: ViewFrame, scale: float) -> float | None:
    """How far along the dimension line a place is from its middle, paper mm."""
    _, feet = feet_of(distances.measured(d, facts, frame), at, frame, scale)
    length = float(np.linalg.norm(feet[1] - feet[0]))
    return slid(float((at - (feet[0] + feet[1]) / 2) @ (feet[1] - feet[0])) / max(length, 1e-9), length)


def feet_of(found: Distance, at: Array, frame: ViewFrame, scale: float) -> tuple[list[Array], list[Array]]:
    """Where extension lines begin, and where they meet the dimension line through a place; paper mm."""
    along = _extension_direction(found, at, frame, scale)
    pairs = [_foot(frame.drawn(a) * scale, frame.drawn(b) * scale, at, found.direction, along) for a, b in (found.first, found.second)]
    return [origin for _, origin in pairs], [foot for foot, _ in pairs]


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
