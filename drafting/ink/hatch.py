"""Hatching of closed regions: families of parallel lines cut by the region's outline, in paper mm."""

import math
from collections.abc import Sequence

import numpy as np
import shapely

from drafting.ink.elements import Element, Line
from drafting.standards.patterns import Family


def strokes(region: shapely.Geometry, families: Sequence[Family], spacing: float = 1.0) -> float:
    """About how many strokes a pattern takes in a region (paper mm), told by areas before any is drawn;
    spacing: a factor on its distances."""
    out = 0.0
    x0, y0, x1, y1 = region.bounds if not region.is_empty else (0.0,) * 4
    for f in families:
        across, period = abs(f.step[1]) * spacing, sum(f.dashes) * spacing
        out += math.hypot(x1 - x0, y1 - y0) / across
        if f.dashes:
            out += region.area / across / period * (len(f.dashes) + 1) // 2
    return out


def hatched(
    region: shapely.Geometry,
    families: Sequence[Family],
    angle: float = 0.0,
    spacing: float = 1.0,
    line: str = "hatch",
) -> list[Element]:
    """Lines of a pattern inside a region (paper mm). angle: degrees added to the pattern's; spacing: factor
    on its distances. Whoever asks has counted the `strokes` before."""
    out: list[Element] = []
    if region.is_empty:
        return out
    for family in families:
        out += _family_lines(region, family, angle, spacing, line)
    return out


def _family_lines(
    region: shapely.Geometry, f: Family, angle: float, spacing: float, line: str
) -> list[Element]:
    a, whole = math.radians(f.angle + angle), math.radians(angle)
    u, n = np.array([math.cos(a), math.sin(a)]), np.array([-math.sin(a), math.cos(a)])
    origin = (
        np.array([[math.cos(whole), -math.sin(whole)], [math.sin(whole), math.cos(whole)]])
        @ np.array(f.origin)
        * spacing
    )
    along, across = f.step[0] * spacing, f.step[1] * spacing
    x0, y0, x1, y1 = region.bounds
    corners = np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]) - origin
    lo, hi = sorted((float((corners @ n).min() / across), float((corners @ n).max() / across)))
    first, last = math.ceil(lo), math.floor(hi)
    s0, s1 = float((corners @ u).min()) - 1, float((corners @ u).max()) + 1
    rows = np.arange(first, last + 1)
    starts = origin + rows[:, None] * across * n
    lines = shapely.linestrings(np.stack([starts + u * s0, starts + u * s1], 1))
    out: list[Element] = []
    for k, cut in zip(rows.tolist(), shapely.intersection(lines, region), strict=True):
        for piece in shapely.get_parts(cut):
            if piece.geom_type != "LineString" or piece.length < 1e-3:
                continue
            (ax, ay), (bx, by) = piece.coords[0], piece.coords[-1]
            if not f.dashes:
                out.append(Line((ax, ay), (bx, by), line))
                continue
            a0, b0 = sorted(
                (float((np.array([ax, ay]) - origin) @ u), float((np.array([bx, by]) - origin) @ u))
            )
            base = origin + k * across * n
            for d0, d1 in _dashes(a0, b0, [d * spacing for d in f.dashes], k * along):
                p, q = base + u * d0, base + u * d1
                out.append(Line((float(p[0]), float(p[1])), (float(q[0]), float(q[1])), line))
    return out


def _dashes(a: float, b: float, dashes: list[float], shift: float) -> list[tuple[float, float]]:
    period = sum(dashes)
    out = []
    start = shift + math.floor((a - shift) / period) * period
    while start < b:
        at = start
        for i, d in enumerate(dashes):
            if i % 2 == 0 and at + d > a and at < b:
                out.append((max(at, a), min(at + max(d, 0.1), b)))
            at += d
        start += period
    return out


def spread_angles(regions: Sequence[shapely.Geometry], near: float = 0.05) -> list[tuple[float, float]]:
    """Angle and spacing for each region so that touching ones differ: turned first, then spaced differently
    (ISO 128-3)."""
    choices = [
        (0.0, 1.0),
        (90.0, 1.0),
        (0.0, 0.6),
        (90.0, 0.6),
        (-15.0, 1.4),
        (105.0, 1.4),
        (15.0, 0.8),
        (75.0, 0.8),
    ]
    if not regions:
        return []
    tree = shapely.STRtree(regions)
    order = sorted(range(len(regions)), key=lambda i: -regions[i].area)
    taken: dict[int, int] = {}
    for i in order:
        beside = {
            taken[int(j)]
            for j in tree.query(regions[i], predicate="dwithin", distance=near)
            if int(j) != i and int(j) in taken
        }
        taken[i] = next((c for c in range(len(choices)) if c not in beside), len(taken) % len(choices))
    return [choices[taken[i]] for i in range(len(regions))]
