"""What a curve known only by points is in the view: a point, a straight line, an arc, or a free curve."""

import math

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import Floats

POINT, STRAIGHT, ROUND, OTHER = range(4)
OUT = 1e-6
"""How far points of a straight line may lie beside it, in parts of its length."""
OFF = 1e-5
"""The same for points of an arc, in parts of its extents."""
LARGEST = 1e4
"""Radius of the largest arc, in extents of its points."""


@compiled("(float64[:,::1], f8)")
def fitted(points: Floats, tolerance: float) -> tuple[int, Floats]:
    """What points (n, 2) lie on, and its numbers: of a straight line x0 y0 x1 y1; of an arc its center,
    radius, and angles counterclockwise from the first to the last point. tolerance: mm.

    The circle by least squares of x2 + y2 = 2ax + 2by + c, about the middle of the points.
    """
    n = len(points)
    out = np.zeros(5)
    low_x = high_x = points[0, 0]
    low_y = high_y = points[0, 1]
    mean_x = mean_y = 0.0
    for i in range(n):
        x, y = points[i, 0], points[i, 1]
        low_x, high_x, low_y, high_y = min(low_x, x), max(high_x, x), min(low_y, y), max(high_y, y)
        mean_x, mean_y = mean_x + x / n, mean_y + y / n
    size = max(high_x - low_x, high_y - low_y)
    if size <= tolerance:
        return POINT, out
    first_x, first_y = points[0, 0], points[0, 1]
    chord_x, chord_y = points[n - 1, 0] - first_x, points[n - 1, 1] - first_y
    chord = math.hypot(chord_x, chord_y)
    if chord > tolerance:
        dx, dy = chord_x / chord, chord_y / chord
        away, least, most = 0.0, 0.0, 0.0
        for i in range(n):
            x, y = points[i, 0] - first_x, points[i, 1] - first_y
            away = max(away, abs(y * dx - x * dy))
            along = x * dx + y * dy
            least, most = min(least, along), max(most, along)
        if away <= max(tolerance, OUT * size):
            out[0], out[1] = first_x + dx * least, first_y + dy * least
            out[2], out[3] = first_x + dx * most, first_y + dy * most
            return (STRAIGHT if most - least > tolerance else POINT), out
    off = max(tolerance, OFF * size)

    # the circle through three of them tells most free curves quickly
    bx, by = points[n // 3, 0] - first_x, points[n // 3, 1] - first_y
    cx, cy = points[2 * n // 3, 0] - first_x, points[2 * n // 3, 1] - first_y
    turn = 2 * (bx * cy - by * cx)
    if turn == 0:
        return OTHER, out
    b2, c2 = bx * bx + by * by, cx * cx + cy * cy
    x0, y0 = (cy * b2 - by * c2) / turn, (bx * c2 - cx * b2) / turn
    radius = math.hypot(x0, y0)
    for i in range(n):
        if abs(math.hypot(points[i, 0] - first_x - x0, points[i, 1] - first_y - y0) - radius) > 50 * off:
            return OTHER, out

    rows, right = np.ones((n, 3)), np.empty(n)
    for i in range(n):
        x, y = points[i, 0] - mean_x, points[i, 1] - mean_y
        rows[i, 0], rows[i, 1], right[i] = 2 * x, 2 * y, x * x + y * y
    solution = np.linalg.lstsq(rows, right)[0]
    square = solution[2] + solution[0] ** 2 + solution[1] ** 2
    if square <= 0:
        return OTHER, out
    x0, y0, radius = mean_x + solution[0], mean_y + solution[1], math.sqrt(square)
    if radius > LARGEST * size:
        return OTHER, out
    before = begin = end = math.atan2(first_y - y0, first_x - x0)
    for i in range(n):
        x, y = points[i, 0] - x0, points[i, 1] - y0
        if abs(math.hypot(x, y) - radius) > off:
            return OTHER, out
        angle = math.atan2(y, x)
        end += angle - before - 2 * math.pi * round((angle - before) / (2 * math.pi))
        before = angle
    out[0], out[1], out[2] = x0, y0, radius
    out[3], out[4] = min(begin, end), max(begin, end)
    return ROUND, out
