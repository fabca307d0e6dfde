"""Dashes fitted to the curve they are drawn along, so that it starts and ends on a dash and corners are
closed (ISO 128-2, ASME Y14.2)."""

import math

import numpy as np

from drafting.ink.elements import Arc, Ellipse, Line, Polyline

Stroke = Line | Arc | Ellipse | Polyline


def length(e: Stroke) -> float:
    """Length of a stroke, mm; an ellipse's by 128 chords."""
    if isinstance(e, Line):
        return math.dist(e.a, e.b)
    if isinstance(e, Arc):
        return e.radius * (e.last - e.first)
    if isinstance(e, Polyline):
        points = [*e.points, e.points[0]] if e.closed else list(e.points)
        return sum(math.dist(a, b) for a, b in zip(points, points[1:], strict=False))
    p = np.array([e.point(float(t)) for t in np.linspace(e.first, e.last, 129)])
    return float(np.linalg.norm(np.diff(p, axis=0), axis=1).sum())


def fitted_dashes(e: Stroke, dashes: list[float]) -> list[float]:
    """The pattern scaled so that it begins and ends with its first dash; empty (unbroken) for a stroke too
    short for two dashes.

    dashes: drawn, gap, drawn, gap … in mm. A closed curve takes whole repeats.
    """
    if not dashes:
        return []
    whole, first = sum(dashes), dashes[0]
    size = length(e)
    closed = (isinstance(e, Arc | Ellipse) and e.full) or (isinstance(e, Polyline) and e.closed)
    rest = 0.0 if closed else whole - first
    count = round((size + rest) / whole)
    if count < (1 if closed else 2):
        if closed or size < first * 0.5:
            return []
        count = 2
    factor = size / (count * whole - rest)
    return [d * factor for d in dashes]
