"""The circle through the middles of several round things: what a bolt circle is sized by."""

import math
from collections.abc import Sequence

import numpy as np

from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.traces import Round
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.views.frame import Array

EVEN = math.radians(0.002)
"""How far angles between neighbors may be from each other that are equally spaced."""


def fitted_circle(points: Array) -> tuple[Array, float, float]:
    """Center, radius and largest miss of the circle through points (n, 2): least squares of x2 + y2 = 2ax +
    2by + c about their mean."""
    m = points.mean(0)
    local = points - m
    size = max(float(np.abs(local).max()), 1e-12)
    local = local / size
    solution, _, rank, _ = np.linalg.lstsq(
        np.column_stack([2 * local, np.ones(len(local))]), (local**2).sum(1), rcond=1e-9
    )
    if rank < 3:
        raise SizeError("The centers of these holes lie on one line; no circle runs through them.")
    radius = math.sqrt(max(solution[2] + solution[0] ** 2 + solution[1] ** 2, 0.0))
    if radius > 1e5:
        raise SizeError("The centers of these holes lie on one line; no circle runs through them.")
    miss = float(np.abs(np.linalg.norm(local - solution[:2], axis=1) - radius).max())
    return m + solution[:2] * size, radius * size, miss * size


def middles(picks: Sequence[Pick], context: Context) -> tuple[Array, Array]:
    """Centers (n, 3) of round things about parallel axes, in one plane square to these, and the axis. Raises
    SizeError."""
    things = [located(p, context) for p in picks]
    round_ones = [t for t in things if isinstance(t, Round)]
    if len(round_ones) < len(things):
        raise SizeError("A bolt circle is sized by its holes: pick circles only.")
    axis = round_ones[0].axis
    if any(abs(float(t.axis @ axis)) < 1 - 1e-9 for t in round_ones):
        raise SizeError("These holes do not run the same way.")
    centers = np.array([t.center for t in round_ones])
    level = (centers - centers[0]) @ axis
    return centers - level[:, None] * axis, axis


def ring(picks: Sequence[Pick], context: Context) -> Round:
    """The circle through the middles of three round things or more. Raises SizeError where there is none."""
    if len(picks) < 3:
        raise SizeError("A bolt circle runs through three holes or more.")
    centers, axis = middles(picks, context)
    x = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
    x = x / np.linalg.norm(x)
    y = np.cross(axis, x)
    origin = centers.mean(0)
    flat = np.stack([(centers - origin) @ x, (centers - origin) @ y], 1)
    middle, radius, miss = fitted_circle(flat)
    if miss > max(1e-4, 1e-6 * radius):
        raise SizeError("The centers of these holes do not lie on one circle.")
    return Round(origin + x * middle[0] + y * middle[1], axis, x, radius)


def neighbors(picks: Sequence[Pick], context: Context) -> tuple[Round, Array, Array, float, int]:
    """The circle, the directions (3) from its center to two neighbors of it, the angle between them, radians,
    and how often it comes between neighbors. Raises SizeError where angles between neighbors differ."""
    found = ring(picks, context)
    centers, _ = middles(picks, context)
    y = np.cross(found.axis, found.x_axis)
    out = centers - found.center
    turns = np.sort(np.arctan2(out @ y, out @ found.x_axis) % (2 * math.pi))
    gaps = np.diff(np.concatenate([turns, [turns[0] + 2 * math.pi]]))
    widest = int(gaps.argmax())
    whole = float(np.ptp(gaps)) <= EVEN
    others = gaps if whole else np.delete(gaps, widest)
    if float(np.ptp(others)) > EVEN:
        raise SizeError("These holes are not equally spaced; take the angle between two of them.")
    first = float(turns[0 if whole else (widest + 1) % len(turns)])
    step = float(others.mean())
    legs = [found.x_axis * math.cos(t) + y * math.sin(t) for t in (first, first + step)]
    return found, legs[0], legs[1], step, len(others)
