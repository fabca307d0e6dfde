"""Straight segments by the thousand: where they cross, what outlines cover of them, and what is left free.

Segments are arrays a and b (n, 2) of their ends, mm; spans are measured from a, mm.
"""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Numbers = NDArray[np.int_]
ROWS = 64
"""Segments that are held against all others at once: more no longer fit in a processor's nearest memory."""


def crossing(a: Array, b: Array, c: Array, d: Array, beyond: float) -> tuple[Numbers, Numbers, Array]:
    """Where segments cross others (m), each farther than so much from all of their ends: numbers of both, and
    how far along the first. Parallel ones do not cross."""
    found: list[tuple[Numbers, Numbers, Array]] = []
    s = d - c
    other_lengths = np.hypot(s[:, 0], s[:, 1])
    for rows, columns in _near(a, b, c, d, 0.0):
        r = b[rows] - a[rows]
        lengths = np.hypot(r[:, 0], r[:, 1])[:, None]
        sx, sy = s[columns, 0], s[columns, 1]
        wx, wy = c[columns, 0] - a[rows, 0, None], c[columns, 1] - a[rows, 1, None]
        area = r[:, 0, None] * sy - r[:, 1, None] * sx
        with np.errstate(divide="ignore", invalid="ignore"):
            t = (wx * sy - wy * sx) / area * lengths
            u = (wx * r[:, 1, None] - wy * r[:, 0, None]) / area * other_lengths[columns]
            inside = (t > beyond) & (t < lengths - beyond) & (u > beyond)
            inside &= u < other_lengths[columns] - beyond
            inside &= np.abs(area) > 1e-9 * lengths * other_lengths[columns]
        i, j = np.nonzero(inside)
        found.append((rows[i], columns[j], t[i, j]))
    return _joined(found)


def covered(a: Array, b: Array, outlines: Array, gap: float) -> tuple[Numbers, Numbers, Array, Array]:
    """What convex outlines (m, k, 2), and all that is no farther from them than a gap, cover of segments:
    numbers of segment and outline, and from where to where."""
    low, high = outlines.min(1) - gap, outlines.max(1) + gap
    reach = np.hypot(*(high - low).T) / 2
    out = []
    for rows, columns in _near(a, b, low, high, 0.0):
        i, j = np.nonzero(_beside(a[rows], b[rows], (low[columns] + high[columns]) / 2, reach[columns]))
        i, j = rows[i], columns[j]
        r = b[i] - a[i]
        length = np.hypot(r[:, 0], r[:, 1])
        w = r / length[:, None]
        away = outlines[j] - a[i][:, None]
        # corners in a frame whose x runs along the segment
        x = (away * w[:, None]).sum(2)
        y = w[:, None, 0] * away[:, :, 1] - w[:, None, 1] * away[:, :, 0]
        ends = _met(x, y, gap)
        start, stop = ends[:, 0], ends[:, 1]
        meets = (start <= length) & (stop >= 0)
        out.append((i[meets], j[meets], np.stack([start[meets], stop[meets]], 1)))
    first, second, span = _joined(out, 2)
    return first, second, span[:, 0], span[:, 1]


def _met(x: Array, y: Array, gap: float) -> Array:
    """Where the line y = 0 meets all that is no farther than a gap from the sides of convex outlines (p, k):
    first and last place (p, 2); the first beyond the last where it does not."""
    nx, ny = np.roll(x, -1, 1), np.roll(y, -1, 1)
    side = np.maximum(np.hypot(nx - x, ny - y), 1e-12)
    out_x, out_y = (ny - y) / side * gap, -(nx - x) / side * gap
    places = []
    for sign in (1.0, -1.0) if gap else (1.0,):
        y0, y1 = y + sign * out_y, ny + sign * out_y
        with np.errstate(divide="ignore", invalid="ignore"):
            part = y0 / (y0 - y1)
        hit = (part >= 0) & (part <= 1)
        places.append(np.where(hit, x + sign * out_x + np.where(hit, part, 0.0) * (nx - x), np.nan))
    if gap:
        reach = np.sqrt(np.where(np.abs(y) <= gap, gap * gap - y * y, np.nan))
        places += [x - reach, x + reach]
    every: Array = np.concatenate(places, 1)
    return np.stack([np.fmin.reduce(every, 1, initial=np.inf), np.fmax.reduce(every, 1, initial=-np.inf)], 1)


def free(
    lengths: Array, of: Numbers, start: Array, stop: Array, shortest: float
) -> tuple[Numbers, Array, Array]:
    """What is left of segments with these lengths (n) beside what is covered: numbers of the segments that
    anything is covered of, once for each piece, and from where to where; pieces that are too short are left
    out."""
    which = np.flatnonzero(np.bincount(of, minlength=len(lengths)))
    # a span of no length at the end closes each
    stop = np.concatenate([np.minimum(stop, lengths[of]), lengths[which]])
    start = np.concatenate([np.maximum(start, 0.0), lengths[which]])
    of = np.concatenate([of, which])
    # one order and one running maximum for all segments: each is lifted above those before it
    lift = of * (2 * float(lengths.max()) + 1.0)
    order = np.argsort(start + lift, kind="stable")
    of, start, reached = of[order], start[order], np.maximum.accumulate((stop + lift)[order])
    first = np.concatenate([[True], of[1:] != of[:-1]])
    before = np.where(first, 0.0, np.concatenate([[0.0], reached[:-1]]) - lift[order])
    kept = start - before > shortest
    return of[kept], before[kept], start[kept]


def distance(p: Array, a: Array, b: Array) -> Array:
    """How far places (n, 2) lie from segments (n)."""
    r = b - a
    t = ((p - a) * r).sum(1) / np.maximum((r * r).sum(1), 1e-18)
    away = p - a - np.clip(t, 0.0, 1.0)[:, None] * r
    return np.asarray(np.hypot(away[:, 0], away[:, 1]))


def _near(a: Array, b: Array, c: Array, d: Array, gap: float) -> Iterator[tuple[Numbers, Numbers]]:
    """Segments in bands from left to right, each with those others whose boxes reach into the band's."""
    if not len(a) or not len(c):
        return
    low, high = np.minimum(c, d) - gap, np.maximum(c, d) + gap
    left, right = np.minimum(a, b), np.maximum(a, b)
    order = np.argsort(left[:, 0] + right[:, 0])
    for k in range(0, len(a), ROWS):
        rows = order[k : k + ROWS]
        box = left[rows].min(0), right[rows].max(0)
        columns = np.flatnonzero(((low <= box[1]) & (high >= box[0])).all(1))
        if len(columns):
            yield rows, columns


def _beside(a: Array, b: Array, center: Array, reach: Array) -> NDArray[np.bool_]:
    """Which segments come about as near to which centers as circles about them reach (n, m)."""
    r = b - a
    length = np.hypot(r[:, 0], r[:, 1])[:, None]
    x, y = center[:, 0] - a[:, 0, None], center[:, 1] - a[:, 1, None]
    off = r[:, 0, None] * y - r[:, 1, None] * x
    along = r[:, 0, None] * x + r[:, 1, None] * y
    near = np.abs(off) <= reach * length
    near &= (along >= -reach * length) & (along <= (length + reach) * length)
    return np.asarray(near)


def _joined(found: list[tuple[Numbers, Numbers, Array]], width: int = 1) -> tuple[Numbers, Numbers, Array]:
    if not found:
        shape = (0,) if width == 1 else (0, width)
        return np.zeros(0, int), np.zeros(0, int), np.zeros(shape)
    first, second, third = zip(*found, strict=True)
    return np.concatenate(first), np.concatenate(second), np.concatenate(third)
