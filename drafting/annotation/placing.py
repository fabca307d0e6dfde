"""Where a size goes: its place in a form that survives a change of scale, and the rows the standard spaces out."""

import numpy as np

from drafting.annotation.dimension_ink import Array
from drafting.annotation.measure import ViewFrame
from drafting.document import Placement, Point
from drafting.model.model import Facts
from drafting.standards.profile import Profile

SNAP = 2.0
"""How near the pointer must come to a row to be caught by it, mm on paper."""


def outline(facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    """Lower left and upper right of the model's box in the view, view mm at 1:1."""
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
    low, high = np.array(facts.low), np.array(facts.high)
    flat = (low + corners * (high - low) - frame.middle) @ frame.matrix[:2].T
    return frame.drawn(flat.min(0)), frame.drawn(flat.max(0))


def snapped_place(at: Array, direction: Array | None, facts: Facts, frame: ViewFrame, scale: float, profile: Profile) -> Placement:
    """The place for a pointer at `at` (paper mm about the view), caught by the row nearest to a level or upright dimension line."""
    low, high = outline(facts, frame)
    at = at.copy()
    if direction is not None:
        for axis in (0, 1):
            if abs(float(direction[axis])) < 1e-9:  # the line runs along the other axis; rows are counted along this one
                at[axis] = _row(float(at[axis]), float(low[axis]) * scale, float(high[axis]) * scale, profile)
    inside = np.clip(at / scale, low, high)
    beyond = at - inside * scale
    return Placement(model=_point(inside), paper=_point(beyond))


def _point(v: Array) -> Point:
    return Point(x=round(float(v[0]), 6), y=round(float(v[1]), 6))


def _row(value: float, low: float, high: float, profile: Profile) -> float:
    for edge, sign in ((low, -1.0), (high, 1.0)):
        away = (value - edge) * sign
        if away > 0:
            number = max(0, round((away - profile.first_row) / profile.next_row))
            row = profile.first_row + number * profile.next_row
            return edge + sign * row if abs(away - row) <= SNAP else value
    return value
