"""Where curves are to be cut so that each piece is wholly seen or wholly hidden.

Crossings with outlines in front, found with a tree over short pieces and then made exact on both curves;
places where a curve runs into another part's face, found by rays along it; places where a surface beside a
curve turns away.
"""

from dataclasses import dataclass

import numpy as np

from drafting.views.visibility.camera import Camera
from drafting.views.visibility.curves import Curves
from drafting.views.visibility.meeting import crossing_pairs, refined
from drafting.views.visibility.part import POLYLINE, SILHOUETTE, Bools, Floats, Ints
from drafting.views.visibility.scene import Scene

CROSS = 1e-6
"""Reach of a crossing beyond the ends of two pieces, in parts of the scene's diagonal: curves that merely
meet are cut too."""


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
    nodes = np.ascontiguousarray(flat)
    qa, qb, t, s = crossing_pairs(
        nodes[ia], nodes[ia + 1], nodes[ib], nodes[ib + 1], ia, ib, CROSS * diagonal, near
    )
    if not len(qa):
        return none
    na, nb = ia[qa], ib[qb]
    if not exact:
        return Splits(na, t, np.full(len(na), np.nan))
    ta, curve_a, is_exact = _curve_at(c, na, t)
    tb, curve_b, _ = _curve_at(c, nb, s)
    parameter = refined(curve_a, curve_b, ta, tb, 1.5 * np.abs(c.parameter[na + 1] - c.parameter[na]))
    return Splits(na, t, np.where(is_exact, parameter, np.nan))


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
