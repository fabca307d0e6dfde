"""Curves clipped to a closed outline: for details and interrupted views. Cuts are exact on lines and
conics."""

import math
from collections.abc import Callable, Sequence

import numpy as np
import shapely
from numpy.typing import NDArray

from drafting.views.geometry import ViewCurve, arc_points

Floats = NDArray[np.float64]
XY = tuple[float, float]


def clipped(curves: Sequence[ViewCurve], outline: Sequence[XY]) -> list[ViewCurve]:
    """The parts of curves inside a closed polygon."""
    polygon = shapely.Polygon(outline)
    shapely.prepare(polygon)
    sides = np.array([*outline, outline[0]])
    return _clipped(curves, polygon, lambda c: _side_cuts(c, sides))


def clipped_circle(curves: Sequence[ViewCurve], center: XY, radius: float) -> list[ViewCurve]:
    """The parts of curves inside a circle."""
    polygon = shapely.Point(center).buffer(radius, quad_segs=64)
    shapely.prepare(polygon)
    return _clipped(
        curves,
        polygon,
        lambda c: _circle_cuts(c, center, radius),
        lambda x, y: math.hypot(x - center[0], y - center[1]) < radius,
    )


def _clipped(
    curves: Sequence[ViewCurve],
    polygon: shapely.Geometry,
    cuts: Callable[[ViewCurve], list[float]],
    inside: Callable[[float, float], bool] | None = None,
) -> list[ViewCurve]:
    out: list[ViewCurve] = []
    for c in curves:
        points = arc_points(c)
        line = shapely.LineString(points)
        if not polygon.intersects(line.envelope):
            continue
        if inside is None and polygon.covers(line):
            out.append(c)
            continue
        t0, t1 = parameters(c)
        stops = [t0, *sorted(t for t in cuts(c) if t0 + 1e-9 < t < t1 - 1e-9), t1]
        kept: list[tuple[float, float]] = []
        for a, b in zip(stops, stops[1:], strict=False):
            x, y = point_at(c, (a + b) / 2)
            if inside(x, y) if inside else polygon.contains(shapely.Point(x, y)):
                if kept and abs(kept[-1][1] - a) < 1e-12:
                    kept[-1] = (kept[-1][0], b)
                else:
                    kept.append((a, b))
        out += [part(c, a, b) for a, b in kept]
    return out


def parameters(c: ViewCurve) -> tuple[float, float]:
    """First and last parameter of a curve: angles of arcs and ellipses, 0 to 1 on lines, 0 to n - 1 on
    polylines."""
    if c.kind == "arc":
        return c.data[3], c.data[4]
    if c.kind == "ellipse":
        return c.data[5], c.data[6]
    return 0.0, 1.0 if c.kind == "line" else len(c.data) / 2 - 1


def point_at(c: ViewCurve, t: float) -> XY:
    """The place of a curve at a parameter, view mm."""
    d = c.data
    if c.kind == "arc":
        return d[0] + d[2] * math.cos(t), d[1] + d[2] * math.sin(t)
    if c.kind == "ellipse":
        k, s = math.cos(t), math.sin(t) * d[4]
        return d[0] + d[2] * k - d[3] * s, d[1] + d[3] * k + d[2] * s
    i = min(int(t), len(d) // 2 - 2)
    f = t - i
    return d[2 * i] + (d[2 * i + 2] - d[2 * i]) * f, d[2 * i + 1] + (d[2 * i + 3] - d[2 * i + 1]) * f


def part(c: ViewCurve, a: float, b: float) -> ViewCurve:
    """The piece of a curve between two parameters."""
    d = c.data
    if (a, b) == parameters(c):
        return c
    if c.kind == "arc":
        return c.model_copy(update={"data": [*d[:3], a, b]})
    if c.kind == "ellipse":
        return c.model_copy(update={"data": [*d[:5], a, b]})
    inner = (
        [v for i in range(math.floor(a) + 1, math.ceil(b)) for v in d[2 * i : 2 * i + 2]]
        if c.kind == "polyline"
        else []
    )
    return c.model_copy(update={"data": [*point_at(c, a), *inner, *point_at(c, b)]})


def _segments(c: ViewCurve) -> Floats:
    p = np.array(c.data).reshape(-1, 2)
    return np.concatenate([p[:-1], p[1:]], 1)


def _side_cuts(c: ViewCurve, sides: Floats) -> list[float]:
    out: list[float] = []
    for a, b in zip(sides, sides[1:], strict=False):
        if c.kind in ("line", "polyline"):
            for i, (x0, y0, x1, y1) in enumerate(_segments(c)):
                r, u, w = np.array([x1 - x0, y1 - y0]), b - a, a - np.array([x0, y0])
                area = r[0] * u[1] - r[1] * u[0]
                if abs(area) < 1e-15:
                    continue
                t, s = (w[0] * u[1] - w[1] * u[0]) / area, (w[0] * r[1] - w[1] * r[0]) / area
                if -1e-12 <= t <= 1 + 1e-12 and -1e-12 <= s <= 1 + 1e-12:
                    out.append(i + float(t))
        else:
            out += _conic_line(c, a, b)
    return out


def _conic_frame(c: ViewCurve) -> tuple[Floats, Floats, Floats]:
    d = c.data
    if c.kind == "arc":
        return np.array(d[:2]), np.array([d[2], 0.0]), np.array([0.0, d[2]])
    return np.array(d[:2]), np.array(d[2:4]), np.array([-d[3], d[2]]) * d[4]


def _conic_line(c: ViewCurve, a: Floats, b: Floats) -> list[float]:
    """Parameters where a conic crosses the segment from a to b: A cos t + B sin t = C for the distance from
    its line."""
    center, x, y = _conic_frame(c)
    u = b - a
    n = np.array([-u[1], u[0]])
    p, q, r = float(x @ n), float(y @ n), float((a - center) @ n)
    size = math.hypot(p, q)
    if size < 1e-15 or abs(r) > size:
        return []
    turn, half = math.atan2(q, p), math.acos(max(-1.0, min(1.0, r / size)))
    out = []
    for t in (turn + half, turn - half):
        at = center + x * math.cos(t) + y * math.sin(t)
        s = float((at - a) @ u) / float(u @ u)
        if -1e-9 <= s <= 1 + 1e-9:
            out += _within(c, t)
    return out


def _within(c: ViewCurve, t: float) -> list[float]:
    t0, t1 = parameters(c)
    k = math.ceil((t0 - t) / (2 * math.pi))
    out = []
    while t + k * 2 * math.pi <= t1:
        out.append(t + k * 2 * math.pi)
        k += 1
    return out


def _circle_cuts(c: ViewCurve, center: XY, radius: float) -> list[float]:
    m = np.array(center)
    if c.kind in ("line", "polyline"):
        out = []
        for i, (x0, y0, x1, y1) in enumerate(_segments(c)):
            p, d = np.array([x0, y0]) - m, np.array([x1 - x0, y1 - y0])
            aa, bb, cc = float(d @ d), float(p @ d), float(p @ p) - radius * radius
            root = bb * bb - aa * cc
            if aa > 0 and root >= 0:
                out += [
                    i + t for t in ((-bb - math.sqrt(root)) / aa, (-bb + math.sqrt(root)) / aa) if 0 <= t <= 1
                ]
        return out
    if c.kind == "arc":
        away = np.array(c.data[:2]) - m
        distance, r = float(np.linalg.norm(away)), c.data[2]
        if distance < 1e-12 or abs(radius - r) > distance or radius + r < distance:
            return []
        cos = (radius**2 - distance**2 - r**2) / (2 * distance * r)
        turn, half = math.atan2(away[1], away[0]), math.acos(max(-1.0, min(1.0, cos)))
        return [t for base in (turn + half, turn - half) for t in _within(c, base)]
    t0, t1 = parameters(c)
    grid = np.linspace(t0, t1, 181)

    def f(t: float) -> float:
        x, y = point_at(c, t)
        return math.hypot(x - center[0], y - center[1]) - radius

    values = [f(float(t)) for t in grid]
    out = []
    for a, b, fa, fb in zip(grid, grid[1:], values, values[1:], strict=False):
        if fa * fb < 0:
            lo, hi = float(a), float(b)
            for _ in range(50):
                mid = (lo + hi) / 2
                lo, hi = (mid, hi) if f(mid) * fa > 0 else (lo, mid)
            out.append((lo + hi) / 2)
    return out
