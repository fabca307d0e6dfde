"""Where a size goes: its place in a form that survives a change of scale, and the rows the standard spaces
out."""

from dataclasses import dataclass

import numpy as np

from drafting.annotation.inking.dimension_ink import Array
from drafting.context import Context
from drafting.document import Placement, Point
from drafting.standards.profile import Profile

SNAP = 2.0
"""How near the pointer must come to a row to be caught by it, mm on paper."""


NOWHERE = Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0))
"""Of what has no place yet."""


def outline(context: Context) -> tuple[Array, Array]:
    """Lower left and upper right of the model's box in the view (of the outline, in a detail), view mm at
    1:1."""
    if context.frame.shown is not None:
        return context.frame.shown
    corners = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)])
    low, high = np.array(context.facts.low), np.array(context.facts.high)
    flat = (low + corners * (high - low) - context.frame.middle) @ context.frame.matrix[:2].T
    return context.frame.drawn(flat.min(0)), context.frame.drawn(flat.max(0))


def snapped_place(at: Array, direction: Array | None, context: Context) -> Placement:
    """The place for a pointer at `at` (paper mm about the view), caught by the row nearest to a level or
    upright dimension line."""
    low, high = outline(context)
    at = at.copy()
    if direction is not None:
        for axis in (0, 1):
            if (
                abs(float(direction[axis])) < 1e-9
            ):  # the line runs along the other axis; rows are counted along this one
                at[axis] = _row(
                    float(at[axis]),
                    float(low[axis]) * context.scale,
                    float(high[axis]) * context.scale,
                    context.profile,
                )
    inside = np.clip(at / context.scale, low, high)
    beyond = at - inside * context.scale
    return Placement(model=_point(inside), paper=_point(beyond))


def beside(thing: Array, place: Array, scale: float) -> Placement:
    """A place (paper mm about the view's position) that keeps its distance on paper from a thing of the view
    (view mm, drawn), whatever the scale."""
    rest = place - thing * scale
    return Placement(
        model=Point(x=round(float(thing[0]), 6), y=round(float(thing[1]), 6)),
        paper=Point(x=round(float(rest[0]), 4), y=round(float(rest[1]), 4)),
    )


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


@dataclass(frozen=True)
class Rows:
    """Rows on one side of a view's outline, paper mm about its position: the outline's edge there, outward
    direction, and the row begun with."""

    edge: float
    sign: float
    start: int
    first: float
    pitch: float

    def at(self, number: int) -> float:
        """Where a row stands across, paper mm about the view's position; the first outside the outline is 0
        or -1."""
        return self.edge + self.sign * (self.first + number * self.pitch)


def rows_of(context: Context, u: Array, pointer: Array, pitch: float = 0.0) -> Rows:
    """The rows for dimension lines along u (level or upright) on the side of the view where the pointer
    stands."""
    low, high = outline(context)
    axis = 1 if abs(float(u[0])) > 0.5 else 0
    edges = float(low[axis]) * context.scale, float(high[axis]) * context.scale
    value = float(pointer[axis])
    sign, edge = (1.0, edges[1]) if value > (edges[0] + edges[1]) / 2 else (-1.0, edges[0])
    step = max(context.profile.next_row, pitch)
    start = max(0, round(((value - edge) * sign - context.profile.first_row) / step))
    return Rows(edge, sign, start, context.profile.first_row, step)
