"""The engine: curves of a scene cut into pieces, each seen or hidden, with exact parameters.

The way: gather curves, cut them (splits), cast rays from three places of each piece toward the viewer, and
join what follows on. A ray starts a little inside a side of the curve that faces the viewer, so that flush
and touching parts do not hide each other.
"""

from dataclasses import dataclass

import numpy as np

from drafting.views.visibility import splits as cutting
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.curves import Curves, gather
from drafting.views.visibility.part import SMOOTH, Bools, Floats, Ints
from drafting.views.visibility.scene import Rays, Scene
from drafting.views.visibility.silhouettes import Silhouettes
from drafting.views.visibility.starts import ray_starts, shown

NEAR = 4e-5
"""Nudge of a ray's start, in parts of the scene's diagonal."""
NUDGES = (1.0, 0.25)
"""Starts of rays off curved faces, in deflections of the triangles: the far one clears the triangles, the
near one narrow gaps."""
SAMPLES = 3
MANY = 24
"""Places asked along a piece of which some are seen and some are not."""
HALVINGS = 11
TOUCHING = 1 / 16
"""How much nearer to the curve a ray starts where something in front may only touch it."""


@dataclass
class Pieces:
    """Joined pieces, one row each: curve, from and to as node number plus fraction and as exact parameter,
    whether seen, depth."""

    curves: Curves
    curve: Ints
    begin: Floats
    end: Floats
    first: Floats
    last: Floats
    visible: Bools
    depth: Floats


def visible_pieces(
    scene: Scene,
    camera: Camera,
    cache: dict[object, Silhouettes] | None = None,
    smooth: bool = True,
    clear: Bools | None = None,
) -> Pieces:
    """Seen and hidden pieces of all curves. Smooth (tangent) edges come only where they are seen. clear:
    instances that hide nothing."""
    c = gather(scene, camera, cache, smooth)
    if not len(c.count):
        none = np.zeros(0)
        return Pieces(c, np.zeros(0, int), none, none, none, none, np.zeros(0, bool), none)
    near = NEAR * scene.diagonal
    flat = camera.flat(c.points)
    seg = cutting.segments(c)
    seen = shown(c.owner, c.kind, c.convex, c.facing_a, c.facing_b)
    parts = [
        cutting.turning(c, seg),
        cutting.crossings(c, seg, flat, seen, scene.diagonal, near, camera.distance is None),
    ]
    if len(scene.instances) > 1:
        parts.append(cutting.piercings(scene, camera, c, seg, seen, near))
    cuts = cutting.Splits.joined(parts)
    curve, begin, end, first, last = _pieces(c, flat, cuts, 1e-5 * scene.diagonal)
    judge = _Judge(scene, camera, c, near, clear)
    curve, begin, end, first, last, visible = _judged(c, judge, curve, begin, end, first, last)
    keep = visible | (c.kind[curve] != SMOOTH)
    curve, begin, end, first, last, visible = (v[keep] for v in (curve, begin, end, first, last, visible))
    middle = (begin + end) / 2
    node = np.minimum(middle.astype(int), c.start[curve] + c.count[curve] - 2)
    depth = c.points[node, 2] + (middle - node) * (c.points[node + 1, 2] - c.points[node, 2])
    return Pieces(c, curve, begin, end, first, last, visible, depth)


def rough_pieces(scene: Scene, camera: Camera, cache: dict[object, Silhouettes] | None = None) -> Pieces:
    """What is seen, told by one ray for each short piece and joined: no crossings are sought, so ends lie
    within a piece of the truth."""
    c = gather(scene, camera, cache, smooth=False)
    seg = cutting.segments(c)
    curve = c.owner[seg]
    begin, end = seg.astype(float), seg + 1.0
    seen = (
        _Judge(scene, camera, c, NEAR * scene.diagonal).seen((begin + end) / 2, curve)
        if len(seg)
        else np.zeros(0, bool)
    )
    begin, end, curve, seg = begin[seen], end[seen], curve[seen], seg[seen]
    if not len(seg):
        none = np.zeros(0)
        return Pieces(c, np.zeros(0, int), none, none, none, none, np.zeros(0, bool), none)
    new = np.concatenate([[True], (curve[1:] != curve[:-1]) | (begin[1:] != end[:-1])])
    head = np.flatnonzero(new)
    tail = np.concatenate([head[1:], [len(curve)]]) - 1
    first, last = c.parameter[seg[head]], c.parameter[seg[tail] + 1]
    return Pieces(
        c, curve[head], begin[head], end[tail], first, last, np.ones(len(head), bool), c.points[seg[head], 2]
    )


def _pieces(
    c: Curves, flat: Floats, cuts: cutting.Splits, shortest: float
) -> tuple[Ints, Floats, Floats, Floats, Floats]:
    """Curves cut at all cuts; cuts nearer to each other than `shortest` mm as drawn count once."""
    count = len(c.count)
    ends = c.start + c.count - 1
    place = np.concatenate([cuts.node + cuts.fraction, c.start.astype(float), ends.astype(float)])
    owner = np.concatenate([c.owner[cuts.node], np.arange(count), np.arange(count)])
    exact = np.concatenate([cuts.parameter, c.parameter[c.start], c.parameter[ends]])
    order = np.lexsort((np.isnan(exact), place, owner))
    place, owner, exact = place[order], owner[order], exact[order]
    step = np.where(c.owner[:-1] == c.owner[1:], np.hypot(*(flat[1:, :2] - flat[:-1, :2]).T), 0.0)
    length = np.concatenate([[0.0], np.cumsum(step)])
    node = np.minimum(place.astype(int), len(length) - 2)
    along = length[node] + (place - node) * (length[node + 1] - length[node])
    keep = np.ones(len(place), bool)
    keep[1:] = (owner[1:] != owner[:-1]) | (along[1:] - along[:-1] > shortest)
    final = np.concatenate([owner[1:] != owner[:-1], [True]])
    kept = np.maximum.accumulate(np.where(keep, np.arange(len(place)), 0))
    swap = final & ~keep  # the end of a curve stands for a cut just before it
    place[kept[swap]], exact[kept[swap]] = place[swap], exact[swap]
    place, owner, exact = place[keep], owner[keep], exact[keep]
    missing = np.isnan(exact)
    n = np.minimum(place[missing].astype(int), (c.start + c.count - 2)[owner[missing]])
    exact[missing] = c.parameter[n] + (place[missing] - n) * (c.parameter[n + 1] - c.parameter[n])
    i = np.flatnonzero(owner[:-1] == owner[1:])
    return owner[i], place[i], place[i + 1], exact[i], exact[i + 1]


class _Judge:
    """Tells for places on curves whether they are seen."""

    def __init__(
        self, scene: Scene, camera: Camera, c: Curves, near: float, clear: Bools | None = None
    ) -> None:
        self.scene, self.camera, self.c, self.near = scene, camera, c, near
        self.rays = scene.rays
        self.toward = camera.matrix[2]
        triangles = scene.triangles
        if clear is not None and clear.any():
            triangles = triangles[~np.repeat(clear, np.diff(scene.triangle_offsets))]
            self.rays = Rays(scene.nodes, triangles)
        if camera.distance is not None:
            self.rays = Rays(camera.flat(camera.view(scene.nodes)), triangles)
            self.toward = np.array([0.0, 0.0, 1.0])
        self._columns = (
            c.start,
            c.count,
            c.kind,
            c.convex,
            np.stack([c.face_a, c.face_b], 1) >= 0,
            np.stack([c.sense_a, c.sense_b], 1),
            np.stack([c.curved_a, c.curved_b], 1),
            scene.linear[c.instance],
            np.ascontiguousarray(c.points),
            np.stack([c.normals_a, c.normals_b]),
            np.stack([c.facing_a, c.facing_b]),
        )

    def seen(self, place: Floats, curve: Ints, closer: float = 1.0) -> Bools:
        """Whether places on curves (node number plus fraction) are seen; closer: a factor on how far beside
        the curve rays start."""
        out = np.zeros(len(place), bool)
        for reach in NUDGES:
            which, start = ray_starts(place, curve, out, reach * closer, self.near * closer, *self._columns)
            if not len(which):
                break
            start = self.camera.model(start) if self.camera.distance is None else self.camera.flat(start)
            out[which[~self.rays.blocked(start, self.toward)]] = True
        return out


def _judged(
    c: Curves, judge: _Judge, curve: Ints, begin: Floats, end: Floats, first: Floats, last: Floats
) -> tuple[Ints, Floats, Floats, Floats, Floats, Bools]:
    """Visibility of each piece from three places; pieces whose places disagree are settled by more of them;
    equals are joined."""
    part = (np.arange(SAMPLES) + 0.5) / SAMPLES
    places = begin[:, None] + (end - begin)[:, None] * part
    verdict = judge.seen(places.ravel(), np.repeat(curve, SAMPLES)).reshape(-1, SAMPLES)
    visible = verdict[:, SAMPLES // 2].copy()
    torn = verdict.any(1) & ~verdict.all(1)
    if torn.any():
        settled = _settled(c, judge, curve[torn], begin[torn], end[torn], first[torn], last[torn])
        curve = np.concatenate([curve[~torn], settled[0]])
        begin = np.concatenate([begin[~torn], settled[1]])
        end = np.concatenate([end[~torn], settled[2]])
        first = np.concatenate([first[~torn], settled[3]])
        last = np.concatenate([last[~torn], settled[4]])
        visible = np.concatenate([visible[~torn], settled[5]])
        order = np.lexsort((begin, curve))
        curve, visible = curve[order], visible[order]
        begin, end, first, last = (v[order] for v in (begin, end, first, last))
    new = np.ones(len(curve), bool)
    new[1:] = (curve[1:] != curve[:-1]) | (visible[1:] != visible[:-1])
    head = np.flatnonzero(new)
    tail = np.concatenate([head[1:], [len(curve)]]) - 1
    return curve[head], begin[head], end[tail], first[head], last[tail], visible[head]


def _settled(
    c: Curves, judge: _Judge, curve: Ints, begin: Floats, end: Floats, first: Floats, last: Floats
) -> tuple[Ints, Floats, Floats, Floats, Floats, Bools]:
    """Pieces that are seen in one place and hidden in another, cut by halving wherever neighbors of many
    places disagree.

    Where an outline in front only touches a piece, a ray started beside the piece is caught by it: what turns
    out to be seen from much nearer to the curve is seen.
    """
    count = len(curve)
    places = begin[:, None] + (end - begin)[:, None] * ((np.arange(MANY) + 0.5) / MANY)
    verdict = judge.seen(places.ravel(), np.repeat(curve, MANY)).reshape(-1, MANY)
    row, column = np.nonzero(verdict[:, :-1] != verdict[:, 1:])
    lo, hi, before = places[row, column], places[row, column + 1], verdict[row, column]
    for _ in range(HALVINGS if len(row) else 0):
        middle = (lo + hi) / 2
        same = judge.seen(middle, curve[row]) == before
        lo, hi = np.where(same, middle, lo), np.where(same, hi, middle)
    cut = (lo + hi) / 2
    node = np.minimum(cut.astype(int), (c.start + c.count - 2)[curve[row]])
    exact = c.parameter[node] + (cut - node) * (c.parameter[node + 1] - c.parameter[node])
    owner = np.concatenate([np.arange(count), row])
    starts, exact = np.concatenate([begin, cut]), np.concatenate([first, exact])
    visible = np.concatenate([verdict[:, 0], ~before])
    order = np.lexsort((starts, owner))
    owner, starts, exact, visible = owner[order], starts[order], exact[order], visible[order]
    goes_on = np.concatenate([owner[1:] == owner[:-1], [False]])
    ends = np.where(goes_on, np.roll(starts, -1), end[owner])
    lasts = np.where(goes_on, np.roll(exact, -1), last[owner])
    hidden = np.flatnonzero(~visible)
    if len(hidden):
        within = starts[hidden, None] + (ends - starts)[hidden, None] * np.array([0.25, 0.75])
        near = judge.seen(within.ravel(), np.repeat(curve[owner[hidden]], 2), TOUCHING).reshape(-1, 2)
        visible[hidden] = near.all(1)
    return curve[owner], starts, ends, exact, lasts, visible
