"""Pieces of curves in view coordinates to curves on paper: lines, arcs and ellipses stay exact."""

import math

import numpy as np

from drafting.views.fitting import OTHER, POINT, STRAIGHT, fitted
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
    """A free curve through points (n, 2) as the view shows it; None where it is a point. tolerance: mm."""
    kind, numbers = fitted(np.ascontiguousarray(points), tolerance)
    if kind == POINT:
        return None
    if kind == OTHER:
        return "polyline", points.ravel().tolist()
    d = numbers.tolist()
    if kind == STRAIGHT:
        return "line", d[:4]
    return "arc", [*d[:3], *_first_turn(d[3], min(d[4], d[3] + 2 * math.pi))]


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
