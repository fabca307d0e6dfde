"""Pieces of model curves to curves on paper: lines, arcs and ellipses stay exact."""

import math

import numpy as np

from drafting.kernel.hidden_lines import Piece
from drafting.kernel.topology import Vector
from drafting.views.geometry import Array, CurveKind

FLAT = 1e-9
Drawn = tuple[CurveKind, list[float]]
Point = tuple[float, float]


Rows = tuple[tuple[float, float, float], tuple[float, float, float]]


def project(piece: Piece, rows: Rows, middle: Vector, tolerance: float) -> Drawn | None:
    """Curve of a piece in view mm, None where it shrinks to a point.

    rows: the view's right and up directions; middle: the model point that lies at the view's origin; tolerance in mm.
    """
    if piece.kind == "line":
        return _line(_flat(piece.points[0], rows, middle), _flat(piece.points[-1], rows, middle), tolerance)
    if piece.kind in ("circle", "ellipse") and piece.center and piece.axis and piece.x_axis:
        x, axis = piece.x_axis, piece.axis
        y = (axis[1] * x[2] - axis[2] * x[1], axis[2] * x[0] - axis[0] * x[2], axis[0] * x[1] - axis[1] * x[0])
        p, q = _flat(x, rows), _flat(y, rows)
        p = (p[0] * piece.radius, p[1] * piece.radius)
        q = (q[0] * piece.minor_radius, q[1] * piece.minor_radius)
        return conic(_flat(piece.center, rows, middle), p, q, piece.first, piece.last, tolerance)
    return _free((np.array(piece.points) - middle) @ np.array(rows).T, tolerance)


def _flat(v: Vector, rows: Rows, middle: Vector = (0.0, 0.0, 0.0)) -> Point:
    x, y, z = v[0] - middle[0], v[1] - middle[1], v[2] - middle[2]
    r, u = rows
    return x * r[0] + y * r[1] + z * r[2], x * u[0] + y * u[1] + z * u[2]


def _line(a: Point, b: Point, tolerance: float) -> Drawn | None:
    if math.dist(a, b) <= tolerance:
        return None
    return "line", [a[0], a[1], b[0], b[1]]


def conic(center: Point, p: Point, q: Point, first: float, last: float, tolerance: float) -> Drawn | None:
    """The curve center + p cos t + q sin t for t from first to last: an arc, an ellipse, or seen edge-on a line.

    The axes of an ellipse from conjugate half diameters p and q: the curve is farthest from its center where
    tan 2t = 2 p.q / (p.p - q.q) (analytic geometry).
    """
    pp, qq, pq = p[0] * p[0] + p[1] * p[1], q[0] * q[0] + q[1] * q[1], p[0] * q[0] + p[1] * q[1]
    shift = 0.5 * math.atan2(2 * pq, pp - qq)
    c, s = math.cos(shift), math.sin(shift)
    major = (p[0] * c + q[0] * s, p[1] * c + q[1] * s)
    minor = (q[0] * c - p[0] * s, q[1] * c - p[1] * s)
    long, short = math.hypot(*major), math.hypot(*minor)
    if long <= tolerance:
        return None
    if short <= max(tolerance, FLAT * long):
        turns = [shift + k * math.pi for k in range(-5, 6)]
        along = [math.cos(t - shift) for t in (first, last, *(t for t in turns if first < t < last))]
        lo, hi = min(along), max(along)
        return _line((center[0] + major[0] * lo, center[1] + major[1] * lo), (center[0] + major[0] * hi, center[1] + major[1] * hi), tolerance)
    t0, t1 = first - shift, last - shift
    if major[0] * minor[1] - major[1] * minor[0] < 0:  # seen from behind, the curve runs clockwise
        t0, t1 = -t1, -t0
    whole = last - first >= 2 * math.pi - 1e-7
    if whole:
        t0, t1 = 0.0, 2 * math.pi
    if long - short <= max(tolerance, 1e-7 * long):
        turn = 0.0 if whole else math.atan2(major[1], major[0])
        a0, a1 = _first_turn(t0 + turn, t1 + turn)
        return "arc", [center[0], center[1], (long + short) / 2, a0, a1]
    t0, t1 = _first_turn(t0, t1)
    return "ellipse", [center[0], center[1], major[0], major[1], short / long, t0, t1]


def _first_turn(a: float, b: float) -> tuple[float, float]:
    start = a % (2 * math.pi)
    if 2 * math.pi - start < 1e-9:
        start = 0.0
    return start, start + (b - a)


def _free(points: Array, tolerance: float) -> Drawn | None:
    chord = points[-1] - points[0]
    size = float(np.ptp(points, axis=0).max())
    if size <= tolerance:
        return None
    n = float(np.linalg.norm(chord))
    if n > tolerance:
        d = chord / n
        away = np.abs((points - points[0]) @ np.array([-d[1], d[0]]))
        if away.max() <= max(tolerance, 1e-6 * size):
            along = (points - points[0]) @ d
            a, b = points[0] + d * along.min(), points[0] + d * along.max()
            return _line((float(a[0]), float(a[1])), (float(b[0]), float(b[1])), tolerance)
    arc = _as_arc(points, max(tolerance, 1e-5 * size))
    return arc or ("polyline", [float(v) for v in points.ravel()])


def _as_arc(points: Array, tolerance: float) -> Drawn | None:
    """A circle through samples, where they lie on one: least squares of x2 + y2 = 2ax + 2by + c."""
    m = points.mean(0)
    local = points - m
    a = np.column_stack([2 * local, np.ones(len(local))])
    solution, *_ = np.linalg.lstsq(a, (local**2).sum(1), rcond=None)
    r2 = solution[2] + solution[0] ** 2 + solution[1] ** 2
    if r2 <= 0:
        return None
    center, r = m + solution[:2], math.sqrt(r2)
    if np.abs(np.linalg.norm(points - center, axis=1) - r).max() > tolerance or r > 1e4 * np.ptp(points, axis=0).max():
        return None
    angles = np.unwrap(np.arctan2(points[:, 1] - center[1], points[:, 0] - center[0]))
    lo, hi = (angles[0], angles[-1]) if angles[-1] > angles[0] else (angles[-1], angles[0])
    a0, a1 = _first_turn(float(lo), float(min(hi, lo + 2 * math.pi)))
    return "arc", [float(center[0]), float(center[1]), r, a0, a1]
