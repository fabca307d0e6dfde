"""Pieces of curves in view coordinates to curves on paper: lines, arcs and ellipses stay exact."""

import math

import numpy as np

from drafting.views.geometry import Array, CurveKind
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.engine import Pieces
from drafting.views.visibility.part import LINE, POLYLINE
from drafting.views.visibility.scene import Scene

FLAT = 1e-9
Drawn = tuple[CurveKind, list[float]]
Point = tuple[float, float]


def line(a: Point, b: Point, tolerance: float) -> Drawn | None:
    """A straight edge as the view shows it; None where it is seen end-on. tolerance: mm."""
    if math.dist(a, b) <= tolerance:
        return None
    return "line", [a[0], a[1], b[0], b[1]]


def conic(center: Point, p: Point, q: Point, first: float, last: float, tolerance: float) -> Drawn | None:
    """The curve center + p cos t + q sin t for t from first to last: an arc, an ellipse, or seen edge-on a
    line.

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
        return line(
            (center[0] + major[0] * lo, center[1] + major[1] * lo),
            (center[0] + major[0] * hi, center[1] + major[1] * hi),
            tolerance,
        )
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


def free(points: Array, tolerance: float) -> Drawn | None:
    """A free curve through points (n, 3) as the view shows it; None where it is a point. tolerance: mm."""
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
            return line((float(a[0]), float(a[1])), (float(b[0]), float(b[1])), tolerance)
    arc = _as_arc(points, max(tolerance, 1e-5 * size))
    return arc or ("polyline", points.ravel().tolist())


def _as_arc(points: Array, tolerance: float) -> Drawn | None:
    """A circle through samples, where they lie on one: least squares of x2 + y2 = 2ax + 2by + c."""
    if not _may_be_round(points, tolerance):
        return None
    m = points.mean(0)
    local = points - m
    a = np.column_stack([2 * local, np.ones(len(local))])
    solution, *_ = np.linalg.lstsq(a, (local**2).sum(1), rcond=None)
    r2 = solution[2] + solution[0] ** 2 + solution[1] ** 2
    if r2 <= 0:
        return None
    center, r = m + solution[:2], math.sqrt(r2)
    if (
        np.abs(np.linalg.norm(points - center, axis=1) - r).max() > tolerance
        or r > 1e4 * np.ptp(points, axis=0).max()
    ):
        return None
    angles = np.unwrap(np.arctan2(points[:, 1] - center[1], points[:, 0] - center[0]))
    lo, hi = (angles[0], angles[-1]) if angles[-1] > angles[0] else (angles[-1], angles[0])
    a0, a1 = _first_turn(float(lo), float(min(hi, lo + 2 * math.pi)))
    return "arc", [float(center[0]), float(center[1]), r, a0, a1]


def _may_be_round(points: Array, tolerance: float) -> bool:
    """Quick answer before the fit: whether all samples lie about on the circle through three of them."""
    n = len(points)
    (ax, ay), (bx, by), (cx, cy) = points[0].tolist(), points[n // 3].tolist(), points[2 * n // 3].tolist()
    bx, by, cx, cy = bx - ax, by - ay, cx - ax, cy - ay
    turn = 2 * (bx * cy - by * cx)
    if turn == 0:
        return False
    b2, c2 = bx * bx + by * by, cx * cx + cy * cy
    x, y = (cy * b2 - by * c2) / turn, (bx * c2 - cx * b2) / turn
    away = points - (ax + x, ay + y)
    off = np.abs(np.sqrt((away * away).sum(1)) - math.hypot(x, y))
    return float(off.max()) <= 50 * tolerance


def drawn_pieces(pieces: Pieces, scene: Scene, camera: Camera, tolerance: float) -> list[Drawn | None]:
    """Each piece as drawn, in view mm; None where it shrinks to a point."""
    c = pieces.curves
    curve = pieces.curve
    first, last = np.minimum(pieces.first, pieces.last), np.maximum(pieces.first, pieces.last)
    exact = c.exact[curve][:, :, :2]
    form = c.form[curve]
    out: list[Drawn | None] = [None] * len(curve)
    if camera.distance is None:
        m = np.flatnonzero(form == LINE)
        ends = np.concatenate(
            [exact[m, 0] + exact[m, 3] * first[m, None], exact[m, 0] + exact[m, 3] * last[m, None]], 1
        )
        long = np.hypot(ends[:, 2] - ends[:, 0], ends[:, 3] - ends[:, 1]) > tolerance
        for i, data in zip(m[long].tolist(), ends[long].tolist(), strict=True):
            out[i] = ("line", data)
        m = np.flatnonzero(form > LINE)
        centers, xs, ys = (exact[m, k].tolist() for k in (0, 1, 2))
        for i, center, x, y, a, b in zip(
            m.tolist(), centers, xs, ys, first[m].tolist(), last[m].tolist(), strict=True
        ):
            out[i] = conic(center, x, y, a, b, tolerance)
        m = np.flatnonzero(form == POLYLINE)
    else:
        m = np.arange(len(curve))
    for i in m.tolist():
        out[i] = free(_points(pieces, scene, camera, i), tolerance)
    return out


def _points(pieces: Pieces, scene: Scene, camera: Camera, i: int) -> Array:
    """Points along a piece as drawn: of an exact curve by its form, of a free edge from its table, of a
    silhouette its own nodes."""
    c = pieces.curves
    k = int(pieces.curve[i])
    form = c.exact[k]
    a, b = sorted((float(pieces.first[i]), float(pieces.last[i])))
    if c.form[k] == LINE:
        p = form[0] + np.outer([a, b], form[3])
    elif c.form[k] != POLYLINE:
        t = np.linspace(a, b, 33)
        p = form[0] + np.outer(np.cos(t), form[1]) + np.outer(np.sin(t), form[2])
    elif c.edge[k] >= 0:
        p = _table_points(scene, camera, int(c.instance[k]), int(c.edge[k]), a, b)
    else:
        begin, end = float(pieces.begin[i]), float(pieces.end[i])
        inner = np.arange(math.floor(begin) + 1, math.ceil(end))
        p = np.concatenate([[_node(c.points, begin)], c.points[inner], [_node(c.points, end)]])
    return np.asarray(camera.flat(p)[:, :2])


def _table_points(scene: Scene, camera: Camera, instance: int, edge: int, first: float, last: float) -> Array:
    """Points of a free edge from first to last (0 to 1 of its whole), from the exact points kept of it."""
    index, matrix = scene.instances[instance]
    part = scene.parts[index]
    table = part.edge_tables[part.table_starts[edge] : part.table_starts[edge + 1]]
    steps = np.linspace(0, 1, len(table))
    t = np.concatenate([[first], steps[(steps > first + 1e-9) & (steps < last - 1e-9)], [last]])
    p = np.stack([np.interp(t, steps, table[:, k]) for k in range(3)], 1)
    return camera.view(p @ matrix[:3, :3].T + matrix[:3, 3])


def _node(points: Array, place: float) -> Array:
    n = min(int(place), len(points) - 2)
    k = place - n
    return np.asarray(points[n] if k == 0 else points[n] * (1 - k) + points[n + 1] * k)
