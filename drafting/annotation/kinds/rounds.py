"""What the sizes of circles and arcs share: their sign, and places on the curve as the view shows it."""

import math

import numpy as np

from drafting.annotation.inking.dimension_ink import Array, SizeInk, shoulder
from drafting.annotation.measuring.traces import Round
from drafting.annotation.wording.label import Label
from drafting.errors import SizeError
from drafting.standards.profile import Profile
from drafting.views.frame import ViewFrame

EDGE_ON = 1e-9
"""Cosine of the angle at which a circle is seen, from which on it is drawn as a line."""


def signed(found: Round, sign: str) -> str:
    """S before the sign of a sphere's (ISO 129-1, ASME Y14.5)."""
    return f"S{sign}" if found.sphere else sign


def polar(place: Array, center: Array) -> tuple[Array, float]:
    """Unit direction from a center to a place, and how far apart they are; to the upper right where they fall
    together."""
    toward = place - center
    reach = float(np.linalg.norm(toward))
    return (toward / reach if reach > 1e-9 else np.array([math.sqrt(0.5), math.sqrt(0.5)])), reach


def in_plane(u: Array, frame: ViewFrame) -> Array:
    """A direction on paper as one in the view's plane, in model space."""
    out: Array = frame.matrix[0] * u[0] + frame.matrix[1] * u[1]
    return out


def face_on(found: Round, frame: ViewFrame) -> bool:
    """Whether a circle is seen true."""
    return abs(abs(float(found.axis @ frame.matrix[2])) - 1) < 1e-9


def leader_end(at: Array, u: Array, label: Label, profile: Profile, out: SizeInk) -> None:
    """The shoulder and the lettering at the end of a leader, put into the ink."""
    lines, lettering = shoulder(at, u, label, profile)
    out.lines += lines
    out.lettering += lettering


def on_curve(found: Round, u: Array, frame: ViewFrame, scale: float) -> Array:
    """The point of the drawn circle or ellipse in direction u from its center. Raises SizeError where it is
    seen edge-on."""
    if abs(float(found.axis @ frame.matrix[2])) < EDGE_ON:
        raise SizeError("This circle is seen edge-on here; take its size where it is seen round.")
    p = frame.direction(found.x_axis) * found.radius * scale
    q = frame.direction(np.cross(found.axis, found.x_axis)) * found.radius * scale
    t = np.linalg.solve(np.column_stack([p, q]), u)
    t /= np.linalg.norm(t)
    out: Array = frame.drawn(frame.flat(found.center)) * scale + p * t[0] + q * t[1]
    return out
