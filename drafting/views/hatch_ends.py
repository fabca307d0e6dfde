"""Ends of hatching on the exact curves of a view.

Regions are polygons, which lie up to `NEAR` of a radius within a round border. Where a stroke ends at such a
border, its end is put on the circle or the ellipse itself.
"""

import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from drafting.ink.elements import Element, Line
from drafting.views.geometry import ViewCurve

NEAR = 1e-4
"""How far, as a share of a curve's half axis, the end of a stroke may lie from the curve it belongs to. A
polygon by steps of 1° lies within 4e-5."""
SLACK = 1e-6
"""The same in mm, for what is rounded in regions."""
Array = NDArray[np.float64]


def on_curves(strokes: Sequence[Element], curves: Sequence[ViewCurve], scale: float) -> list[Element]:
    """Strokes (paper mm) whose ends at round borders lie on the borders' exact curves (view mm at 1:1); those
    that end elsewhere are as they were."""
    lines = [i for i, s in enumerate(strokes) if isinstance(s, Line)]
    out = list(strokes)
    round_ones = [c for c in curves if c.visible and c.kind in ("arc", "ellipse")]
    if not lines or not round_ones:
        return out
    ends = np.array([[strokes[i].a, strokes[i].b] for i in lines])  # type: ignore[union-attr]
    along = ends[:, 1] - ends[:, 0]
    reach = np.linalg.norm(along, axis=1)
    along = np.repeat((along / np.maximum(reach, 1e-12)[:, None])[:, None], 2, axis=1)
    moved, best = np.zeros(ends.shape[:2]), np.full(ends.shape[:2], np.inf)
    for curve in round_ones:
        _move(ends, along, curve, scale, moved, best)
    moved[~np.isfinite(best)] = 0.0
    moved[np.abs(moved).sum(1) > reach / 2] = 0.0
    ends = ends + along * moved[:, :, None]
    for i, (a, b), change in zip(lines, ends.tolist(), np.any(moved != 0.0, axis=1).tolist(), strict=True):
        if change:
            out[i] = Line((a[0], a[1]), (b[0], b[1]), strokes[i].line)
    return out


def _move(ends: Array, along: Array, curve: ViewCurve, scale: float, moved: Array, best: Array) -> None:
    """Where an end belongs to the curve, and lies nearer to it than to those before, how far it is moved
    along its stroke; in place. ends, along: (strokes, 2, 2)."""
    d = curve.data
    if curve.kind == "arc":
        major, ratio, first, last = (d[2], 0.0), 1.0, d[3], d[4]
    else:
        major, ratio, first, last = (d[2], d[3]), d[4], d[5], d[6]
    half = math.hypot(*major) * scale
    allowed = NEAR * half + SLACK
    u = np.array(major) / math.hypot(*major)
    if ratio * half < 10 * allowed:
        return  # seen nearly edge-on: its ends are as good as its polygon's
    frame = np.array([u, (-u[1] / ratio, u[0] / ratio)]).T / half
    place = (ends - np.array(d[:2]) * scale) @ frame
    near = np.abs(np.linalg.norm(place, axis=2) - 1.0) * half * ratio <= allowed
    rows = np.nonzero(near)
    if not len(rows[0]):
        return
    p, v = place[rows], along[rows] @ frame
    a, b, c = (v * v).sum(1), (p * v).sum(1), (p * p).sum(1) - 1.0
    root = b * b - a * c
    shift = -c / np.maximum(np.abs(b) + np.sqrt(np.maximum(root, 0.0)), 1e-300) * np.where(b < 0, -1.0, 1.0)
    at = p + v * shift[:, None]
    turn = np.mod(np.arctan2(at[:, 1], at[:, 0]) - first, 2 * math.pi)
    on = (turn <= last - first + 1e-6) | (turn >= 2 * math.pi - 1e-6)
    off = np.abs(c)
    good = (root > 0) & on & (off < best[rows])
    rows = rows[0][good], rows[1][good]
    moved[rows], best[rows] = shift[good], off[good]
