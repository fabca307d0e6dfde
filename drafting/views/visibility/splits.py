"""Where curves are to be cut so that each piece is wholly seen or wholly hidden.

Crossings with outlines in front, found with a tree over short pieces and then made exact on both curves;
places where a curve runs into another part's face, found by rays along it; places where a surface beside a
curve turns away.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from drafting.views.visibility.camera import Camera
from drafting.views.visibility.curves import Curves
from drafting.views.visibility.part import POLYLINE, SILHOUETTE, Bools, Floats, Ints
from drafting.views.visibility.scene import Scene

CROSS = 1e-6
"""Reach of a crossing beyond the ends of two pieces, in parts of the scene's diagonal: curves that merely
meet are cut too."""

PORTION = 1_000_000
"""Pairs of pieces looked at at once."""


@dataclass
class Splits:
    """Cuts: node before it (global), fraction to the next node, and the exact parameter (nan where only the
    polyline is known)."""

    node: Ints
    fraction: Floats
    parameter: Floats

    @staticmethod
    def joined(parts: list["Splits"]) -> "Splits":
        """Several as one, in order."""
        return Splits(
            np.concatenate([p.node for p in parts]),
            np.concatenate([p.fraction for p in parts]),
            np.concatenate([p.parameter for p in parts]),
        )


def segments(c: Curves) -> Ints:
    """First nodes of all short pieces."""
    return np.flatnonzero(c.owner[:-1] == c.owner[1:])


def turning(c: Curves, seg: Ints) -> Splits:
    """Cuts where the surface at either side turns from or to the viewer along a curve."""
    nodes, fractions = [], []
    drawn = c.kind[c.owner[seg]] != SILHOUETTE
    for f in (c.facing_a, c.facing_b):
        a, b = f[seg], f[seg + 1]
        m = ((a > 0) != (b > 0)) & drawn
        nodes.append(seg[m])
        fractions.append(a[m] / (a[m] - b[m]))
    node, fraction = np.concatenate(nodes), np.concatenate(fractions)
    return Splits(node, fraction, np.full(len(node), np.nan))


def crossings(
    c: Curves, seg: Ints, flat: Floats, seen: Bools, diagonal: float, near: float, exact: bool
) -> Splits:
    """Cuts of pieces in `seen` (a flag a node) by outlines at least as near to the viewer. flat (N, 3): nodes
    as drawn; near: depth slack, mm."""
    outline = c.outlines()
    ia = seg[seen[seg] | seen[seg + 1]]
    ib = seg[outline[seg] | outline[seg + 1]]
    none = Splits(np.zeros(0, int), np.zeros(0), np.zeros(0))
    if not len(ia) or not len(ib):
        return none
    a0, a1, b0, b1 = flat[ia], flat[ia + 1], flat[ib], flat[ib + 1]
    meeting = _Meeting(ia, ib, a0, a1, b0, b1, CROSS * diagonal, near)
    found = [meeting.crossed(qa, qb) for qa, qb in near_pairs(a0, a1, b0, b1, CROSS * diagonal, near)]
    if not found:
        return none
    qa, qb, t, s = (np.concatenate(v) for v in zip(*found, strict=True))
    _, unique = np.unique(qa * len(ib) + qb, return_index=True)  # pairs met in several squares
    t, s, na, nb = np.clip(t[unique], 0, 1), np.clip(s[unique], 0, 1), ia[qa[unique]], ib[qb[unique]]
    parameter = _refined(c, na, t, nb, s) if exact else np.full(len(na), np.nan)
    return Splits(na, t, parameter)


class _Meeting:
    """Tells of pairs of pieces which cross, coordinate by coordinate: what does not cross falls out early,
    and most does not."""

    def __init__(
        self, ia: Ints, ib: Ints, a0: Floats, a1: Floats, b0: Floats, b1: Floats, reach: float, near: float
    ) -> None:
        self.ia, self.ib, self.reach, self.near = ia, ib, reach, near
        self.p, self.q = np.ascontiguousarray(a0.T), np.ascontiguousarray(b0.T)
        self.r, self.u = np.ascontiguousarray((a1 - a0).T), np.ascontiguousarray((b1 - b0).T)
        self.la, self.lb = (
            np.maximum(np.hypot(*self.r[:2]), 1e-300),
            np.maximum(np.hypot(*self.u[:2]), 1e-300),
        )

    def crossed(self, qa: Ints, qb: Ints) -> tuple[Ints, Ints, Floats, Floats]:
        """Of pairs those that cross with the second in front, and where, as fractions of both."""
        p, q, r, u = self.p, self.q, self.r, self.u
        ux, uy = u[0][qb], u[1][qb]
        area = r[0][qa] * uy - r[1][qa] * ux
        la = self.la[qa]
        t = ((q[0][qb] - p[0][qa]) * uy - (q[1][qb] - p[1][qa]) * ux) / np.where(area == 0, 1e-300, area)
        slack = self.reach / la
        m = np.flatnonzero((t >= -slack) & (t <= 1 + slack) & (np.abs(area) > 1e-7 * la * self.lb[qb]))
        qa, qb, t, area = qa[m], qb[m], t[m], area[m]
        s = ((q[0][qb] - p[0][qa]) * r[1][qa] - (q[1][qb] - p[1][qa]) * r[0][qa]) / area
        slack = self.reach / self.lb[qb]
        m = np.flatnonzero((s >= -slack) & (s <= 1 + slack) & (self.ia[qa] != self.ib[qb]))
        qa, qb, t, s = qa[m], qb[m], t[m], s[m]
        m = np.flatnonzero(q[2][qb] + s * u[2][qb] > p[2][qa] + t * r[2][qa] - self.near)
        return qa[m], qb[m], t[m], s[m]


def near_pairs(
    a0: Floats, a1: Floats, b0: Floats, b1: Floats, reach: float, near: float
) -> Iterator[tuple[Ints, Ints]]:
    """Pairs of pieces (n, 3) and (m, 3) that come near each other in the plane, the second not wholly behind
    the first: all that cross or meet within `reach` mm, some that do not, and some more than once. In
    portions that fit the memory.

    A grid of squares about as wide as a piece is long; long pieces are followed from square to square.
    """
    low = np.minimum(np.minimum(a0, a1).min(0), np.minimum(b0, b1).min(0))[:2] - reach
    span = float((np.maximum(np.maximum(a0, a1).max(0), np.maximum(b0, b1).max(0))[:2] + reach - low).max())
    lengths = np.concatenate([np.abs(a1 - a0)[:, :2].max(1), np.abs(b1 - b0)[:, :2].max(1)])
    cell = min(max(float(np.median(lengths)), span / 1000, 2 * reach), max(span, 1e-12))
    wide = int(span / cell) + 2
    of_a, key_a = _squares(a0[:, :2] - low, a1[:, :2] - low, cell, wide, 0.0)
    of_b, key_b = _squares(b0[:, :2] - low, b1[:, :2] - low, cell, wide, reach)
    back_a, front_b = np.minimum(a0[:, 2], a1[:, 2]) - near, np.maximum(b0[:, 2], b1[:, 2])
    order = np.lexsort((-front_b[of_b], key_b))  # within a square the foremost first
    of_b, key_b = of_b[order], key_b[order]
    first = np.searchsorted(key_b, key_a)
    # in one number square and depth, so that of each square only what is not behind is taken
    depth = np.concatenate([back_a, front_b])
    deep, high = float(depth.min()), max(float(np.ptp(depth)), 1e-12) * 1.001
    place_b, place_a = (
        key + (1 - (z - deep) / high) * 0.999 for key, z in ((key_b, front_b[of_b]), (key_a, back_a[of_a]))
    )
    last = np.searchsorted(place_b, place_a + 1e-9, side="right")
    count = np.maximum(last - first, 0)
    total = np.cumsum(count)
    start = 0
    while start < len(count):
        stop = int(np.searchsorted(total, (total[start - 1] if start else 0) + PORTION)) + 1
        mine = count[start:stop]
        rows = np.repeat(np.arange(start, min(stop, len(count))), mine)
        within = np.arange(len(rows)) - np.repeat(np.cumsum(mine) - mine, mine)
        yield of_a[rows], of_b[first[rows] + within]
        start = stop


def _squares(p: Floats, q: Floats, cell: float, wide: int, reach: float) -> tuple[Ints, Ints]:
    """Numbers of pieces and of the squares they run through, one row each."""
    steps = np.maximum(np.ceil(np.abs(q - p).max(1) / cell), 1).astype(int)
    piece = np.repeat(np.arange(len(p)), steps)
    k = (np.arange(len(piece)) - np.repeat(np.cumsum(steps) - steps, steps))[:, None] / steps[piece][:, None]
    start = p[piece] + (q - p)[piece] * k
    end = start + (q - p)[piece] / steps[piece][:, None]
    slack = reach + 1e-9 * cell
    first = np.clip(((np.minimum(start, end) - slack) / cell).astype(int), 0, wide - 1)
    last = np.clip(((np.maximum(start, end) + slack) / cell).astype(int), 0, wide - 1)
    across = last - first + 1
    count = across[:, 0] * across[:, 1]
    row = np.repeat(np.arange(len(piece)), count)
    number = np.arange(len(row)) - np.repeat(np.cumsum(count) - count, count)
    x, y = first[row, 0] + number % across[row, 0], first[row, 1] + number // across[row, 0]
    return piece[row], y * wide + x


def _refined(c: Curves, na: Ints, fa: Floats, nb: Ints, fb: Floats) -> Floats:
    """Exact parameter on the first curve of crossings known on the polylines: Newton's method on both curves
    in the plane of the view."""
    ta, ea, exact_a = _curve_at(c, na, fa)
    tb, eb, _ = _curve_at(c, nb, fb)
    start = ta.copy()
    span = np.abs(c.parameter[na + 1] - c.parameter[na])
    for _ in range(4):
        pa, da = _eval(ea, ta)
        pb, db = _eval(eb, tb)
        miss = pb - pa
        area = -da[:, 0] * db[:, 1] + da[:, 1] * db[:, 0]
        ok = np.abs(area) > 1e-9 * np.linalg.norm(da, axis=1) * np.linalg.norm(db, axis=1) + 1e-300
        area = np.where(ok, area, 1.0)
        ta = ta + np.where(ok, (-miss[:, 0] * db[:, 1] + miss[:, 1] * db[:, 0]) / area, 0.0)
        tb = tb + np.where(ok, (da[:, 0] * miss[:, 1] - da[:, 1] * miss[:, 0]) / area, 0.0)
    pa, _ = _eval(ea, ta)
    pb, _ = _eval(eb, tb)
    good = exact_a & (np.linalg.norm(pa - pb, axis=1) < 1e-7) & (np.abs(ta - start) <= 1.5 * span)
    return np.where(good, ta, np.nan)


def _curve_at(c: Curves, node: Ints, fraction: Floats) -> tuple[Floats, Floats, Bools]:
    """Parameter and exact form (2D) of the curve at a place; a free curve counts as its chord with parameters
    from node to node."""
    curve = c.owner[node]
    form = c.exact[curve][:, :, :2].copy()
    free = c.form[curve] == POLYLINE
    t0, t1 = c.parameter[node], c.parameter[node + 1]
    t = t0 + fraction * (t1 - t0)
    chord = c.points[node + 1] - c.points[node]
    step = np.where(np.abs(t1 - t0) > 1e-30, t1 - t0, 1.0)[free, None]
    slope = chord[free, :2] / step
    form[free, 0] = c.points[node][free, :2] - slope * t0[free, None]
    form[free, 1] = form[free, 2] = 0.0
    form[free, 3] = slope
    return t, form, ~free


def _eval(form: Floats, t: Floats) -> tuple[Floats, Floats]:
    cos, sin = np.cos(t)[:, None], np.sin(t)[:, None]
    return form[:, 0] + form[:, 1] * cos + form[:, 2] * sin + form[:, 3] * t[:, None], form[
        :, 2
    ] * cos - form[:, 1] * sin + form[:, 3]


def piercings(scene: Scene, camera: Camera, c: Curves, seg: Ints, seen: Bools, near: float) -> Splits:
    """Cuts where a curve runs through a face of another part (press fits, overlaps): rays cast along the
    curve itself."""
    crowded = scene.crowded(near)
    cand = seg[(seen[seg] | seen[seg + 1])]
    cand = cand[crowded[c.instance[c.owner[cand]]]]
    if not len(cand):
        return Splits(np.zeros(0, int), np.zeros(0), np.zeros(0))
    out = c.normals_a[cand] + c.normals_b[cand]
    out /= np.maximum(np.linalg.norm(out, axis=1)[:, None], 1e-9)
    along = c.points[cand + 1] - c.points[cand]
    length = np.linalg.norm(along, axis=1)
    along = (along / np.maximum(length, 1e-12)[:, None]) @ camera.matrix
    origin = camera.model(c.points[cand] + out * near * 4)
    at, active = np.zeros(len(cand)), np.arange(len(cand))
    nodes, fractions = [], []
    for _ in range(60):
        distance, triangle = scene.rays.first(
            origin[active] + along[active] * at[active][:, None], along[active]
        )
        hit = (triangle >= 0) & (at[active] + distance < length[active])
        active = active[hit]
        at[active] += distance[hit]
        other = (
            np.searchsorted(scene.triangle_offsets, triangle[hit], side="right") - 1
            != c.instance[c.owner[cand[active]]]
        )
        nodes.append(cand[active[other]])
        fractions.append(at[active[other]] / length[active[other]])
        at[active] += near
        if not len(active):
            break
    node = np.concatenate(nodes)
    return Splits(node, np.clip(np.concatenate(fractions), 0, 1), np.full(len(node), np.nan))
