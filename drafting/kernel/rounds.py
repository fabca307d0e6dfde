"""Circles through points in space."""

import math

import numpy as np
from numpy.typing import NDArray

from drafting.compiled import compiled

Array = NDArray[np.float64]


@compiled("(float64[:,::1], float64[::1], float64[::1], f8)")
def off_circle(points: Array, center: Array, axis: Array, radius: float) -> float:
    """How far points (n, 3) lie from a circle at most, about along and across its axis, mm."""
    most = 0.0
    for i in range(len(points)):
        away = points[i] - center
        most = max(most, abs(math.sqrt(np.dot(away, away)) - radius), abs(np.dot(away, axis)))
    return most


@compiled("(float64[:,::1], f8)")
def circle_along(points: Array, share: float) -> tuple[bool, Array, Array, Array, float, float]:
    """The circle that 17 points at even steps lie on, within a share of their size (at least of 1e-3 mm):
    whether there is one, center, axis, direction to the first point, radius (mm), and the angle from the
    first point to the last."""
    none = np.zeros(3)
    a, u, v = points[0], points[5] - points[0], points[11] - points[0]
    n = np.cross(u, v)
    nn = np.dot(n, n)
    size = 0.0
    for k in range(3):
        size = max(size, points[:, k].max() - points[:, k].min())
    if nn < 1e-12 * size**4:
        return False, none, none, none, 0.0, 0.0
    center = a + np.cross(np.dot(u, u) * v - np.dot(v, v) * u, n) / (2 * nn)
    axis = n / math.sqrt(nn)
    radius = math.sqrt(np.dot(a - center, a - center))
    if off_circle(points, center, axis, radius) > share * max(size, 1e-3):
        return False, none, none, none, 0.0, 0.0
    x = (a - center) / radius
    y = np.cross(axis, x)
    before = span = 0.0
    for i in range(len(points)):
        away = points[i] - center
        angle = math.atan2(np.dot(away, y), np.dot(away, x))
        if i:
            span += angle - before - 2 * math.pi * round((angle - before) / (2 * math.pi))
        before = angle
    # three points run forward about their own normal; anything else is no plain arc
    return span >= 0, center, axis, x, radius, min(span, 2 * math.pi)
