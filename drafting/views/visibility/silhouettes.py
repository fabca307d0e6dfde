"""Where a curved surface turns away from the viewer: the zero set of normal times direction, marched over the
triangles.

Points found between nodes are moved onto the exact curve: straight on cylinders and cones, a great circle on
a sphere, by Newton's method on a torus, by a cubic through both nodes and normals on a free surface. All
chains of a part are handled at once, as arrays.
"""

from dataclasses import dataclass, fields

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import (
    CONE,
    CYLINDER,
    LINE,
    POLYLINE,
    SPHERE,
    TORUS,
    Bools,
    FacetedPart,
    Floats,
    Ints,
    cross,
)
from drafting.views.visibility.surfaces import curves_away, onto_surface

CONIC = 2
ZERO = 2e-5
"""Normal times direction below this counts as edge-on: settles seams that lie on a silhouette, and faces seen
edge-on."""
SAME = 1e-7
"""Marched points nearer than this, mm, are one."""
AT_AXIS = 1e-6
"""Points nearer to their surface's axis than this, mm, lie on it."""


@dataclass
class Silhouettes:
    """The chains of a part in its own frame: columns with one row a chain, then nodes one chain after
    another.

    convex: 1 where the surface curves away from the viewer, -1 where it is hollow (always hidden). form:
    LINE, CONIC or POLYLINE; exact (K, 4, 3) as FacetedPart.edge_form; points and normals (N, 3); parameters
    (N,) on the exact form.
    """

    face: Ints
    convex: Ints
    form: Ints
    exact: Floats
    count: Ints
    points: Floats
    normals: Floats
    parameters: Floats

    @staticmethod
    def none() -> "Silhouettes":
        """No outline at all."""
        no, nothing = np.zeros(0, int), np.zeros((0, 3))
        return Silhouettes(no, no, no, np.zeros((0, 4, 3)), no, nothing, nothing, np.zeros(0))

    def joined(self, other: "Silhouettes") -> "Silhouettes":
        """Both, one after the other."""
        return Silhouettes(
            *(np.concatenate([getattr(self, f.name), getattr(other, f.name)]) for f in fields(self))
        )


def facing(normals: Floats, toward: Floats) -> Floats:
    """Normal times direction with nearly edge-on values set to zero. toward: (3,) or one row a normal."""
    f: Floats = normals @ toward if toward.ndim == 1 else (normals * toward).sum(1)
    f[np.abs(f) < ZERO] = 0.0
    return f


def silhouettes(part: FacetedPart, toward: Floats | None, eye: Floats | None = None) -> Silhouettes:
    """All silhouettes of a part for a unit direction toward the viewer, or for an eye point (both in the
    part's frame)."""
    curved = part.face_curved[part.triangle_face]
    triangles, faces = part.triangles[curved], part.triangle_face[curved]
    if not len(triangles):
        return Silhouettes.none()
    if eye is not None:
        rays = eye - part.nodes
        rays /= np.linalg.norm(rays, axis=1)[:, None]
        f = facing(part.normals, rays)
    else:
        assert toward is not None
        f = facing(part.normals, toward)
    front = f[triangles] > 0
    count = front.sum(1)
    mixed = (count > 0) & (count < 3)
    triangles, faces, front = triangles[mixed], faces[mixed], front[mixed]
    if not len(triangles):
        return Silhouettes.none()
    lone = np.where(front.sum(1) == 1, front.argmax(1), (~front).argmax(1))
    rows = np.arange(len(triangles))
    a, b, c = triangles[rows, lone], triangles[rows, (lone + 1) % 3], triangles[rows, (lone + 2) % 3]
    convex = _grows_toward(part.nodes, f, a, b, c, toward if eye is None else eye - part.nodes[a])
    size = len(part.nodes)
    one, two = np.concatenate([a, a]), np.concatenate([b, c])
    keys, where = np.unique(np.minimum(one, two) * size + np.maximum(one, two), return_inverse=True)
    i, j = keys // size, keys % size
    points, normals = _between(part, i, j, f[i] / (f[i] - f[j]))
    point_face = part.node_face[i]
    points, normals = onto_surface(part, points, normals, point_face, toward, eye)
    convex = curves_away(part, points, normals, where.reshape(2, -1), faces, convex, toward, eye)
    ids, start, first = _chains(where, faces, convex)
    chains = _Chains.of(part, ids, start, points, normals, faces[first], np.where(convex[first], 1, -1))
    if toward is not None:
        ring = _ring_codes(part, points, point_face, toward)
        if ring.any():
            inner = np.bincount(where, minlength=len(points)) > 1  # points that two triangles share
            return _with_rings(part, chains, ring, inner, toward)
    return _formed(part, chains, toward)


@dataclass
class _Chains:
    """Chains as rows of points: id of the marched point, place, normal, chain; face and sign one a chain;
    ends lie next to each other."""

    ids: Ints
    points: Floats
    normals: Floats
    chain: Ints
    face: Ints
    sign: Ints

    @staticmethod
    def of(
        part: FacetedPart, ids: Ints, start: Ints, points: Floats, normals: Floats, face: Ints, sign: Ints
    ) -> "_Chains":
        """Without repeated points; cut at the apex of a cone and where a torus meets its axis: there outlines
        of both sides meet."""
        chain = np.repeat(np.arange(len(face)), np.diff(start))
        p = points[ids]
        keep = np.ones(len(ids), bool)
        keep[1:] = (chain[1:] != chain[:-1]) | (np.abs(np.diff(p, axis=0)).max(1) > SAME)
        ids, chain, p = ids[keep], chain[keep], p[keep]
        pointed = np.isin(part.face_kind[face], (CONE, TORUS))
        if pointed.any():
            apex = pointed[chain] & (_off_axis(part, p, face[chain]) < AT_AXIS)
            apex[0] = apex[-1] = False
            apex[1:-1] &= (chain[1:-1] == chain[:-2]) & (chain[1:-1] == chain[2:])
            if apex.any():
                twice = np.repeat(np.arange(len(ids)), 1 + apex)
                second = np.concatenate([[False], twice[1:] == twice[:-1]])
                cut = np.cumsum(second)
                old, ids, p = chain[twice], ids[twice], p[twice]
                chain = old + cut
                face, sign = _first_of(chain, face[old]), _first_of(chain, sign[old])
                chain = _numbered(chain)
        return _Chains(ids, p, normals[ids], chain, face, sign)

    def filtered(self, keep: Bools) -> "_Chains":
        """The rows kept; chains of a single point go."""
        chain = self.chain[keep]
        enough = np.bincount(chain, minlength=len(self.face)) > 1
        rows = np.flatnonzero(keep)[enough[chain]]
        number = np.cumsum(enough) - 1
        return _Chains(
            self.ids[rows],
            self.points[rows],
            self.normals[rows],
            number[self.chain[rows]],
            self.face[enough],
            self.sign[enough],
        )

    def bounds(self) -> tuple[Ints, Ints]:
        """First rows of all chains, and the rows after their last ones."""
        ends = np.cumsum(np.bincount(self.chain, minlength=len(self.face)))
        return np.concatenate([[0], ends[:-1]]).astype(int), ends


def _off_axis(part: FacetedPart, p: Floats, face: Ints) -> Floats:
    """How far points lie from the axes of their faces, mm."""
    out: Floats = np.linalg.norm(cross(p - part.face_origin[face], part.face_axis[face]), axis=1)
    return out


def _numbered(chain: Ints) -> Ints:
    return np.concatenate([[0], np.cumsum(chain[1:] != chain[:-1])])


def _first_of(chain: Ints, values: Ints) -> Ints:
    out: Ints = values[np.concatenate([[True], chain[1:] != chain[:-1]])]
    return out


def _unwrapped(t: Floats, chain: Ints) -> Floats:
    """Angles without jumps of a turn along each chain."""
    jump = np.concatenate([[0.0], np.round(np.diff(t) / (2 * np.pi))])
    jump[np.concatenate([[True], chain[1:] != chain[:-1]])] = 0.0
    total = np.cumsum(jump)
    head = np.flatnonzero(np.concatenate([[True], chain[1:] != chain[:-1]]))
    out: Floats = t - 2 * np.pi * (total - total[head][chain])
    return out


def _formed(part: FacetedPart, c: _Chains, toward: Floats | None) -> Silhouettes:
    """Lines on cylinders and cones (their two ends are enough), great circles on spheres, polylines on the
    rest."""
    c = c.filtered(np.ones(len(c.ids), bool))
    if not len(c.face):
        return Silhouettes.none()
    kind = part.face_kind[c.face]
    straight = (kind == CYLINDER) | (kind == CONE)
    head, end = c.bounds()
    is_end = np.zeros(len(c.ids), bool)
    is_end[head] = is_end[end - 1] = True
    c = c.filtered(is_end | ~straight[c.chain])
    head, end = c.bounds()
    count = end - head
    form = np.where(straight, LINE, POLYLINE)
    exact = np.zeros((len(c.face), 4, 3))
    place = np.arange(len(c.ids)) - head[c.chain]
    t = place / np.maximum(count - 1, 1)[c.chain]
    s = np.flatnonzero(straight)
    exact[s, 0], exact[s, 3] = c.points[head[s]], c.points[end[s] - 1] - c.points[head[s]]
    origin, axis = part.face_origin[c.face[s]], part.face_axis[c.face[s]]
    away = [np.linalg.norm(cross(c.points[i] - origin, axis), axis=1) for i in (head[s], end[s] - 1)]
    normal = np.where(
        (away[1] > away[0])[:, None], c.normals[end[s] - 1], c.normals[head[s]]
    )  # one all along; unknown at an apex
    normals = c.normals.copy()
    normals[head[s]] = normals[end[s] - 1] = normal
    balls = np.flatnonzero(kind == SPHERE)
    if toward is not None and len(balls):
        form[balls] = CONIC
        center, radius = part.face_origin[c.face], part.face_radius[c.face]
        x = (c.points[head] - center) / np.maximum(radius, 1e-12)[:, None]
        y = cross(toward, x)
        exact[balls, 0] = center[balls]
        exact[balls, 1], exact[balls, 2] = (x * radius[:, None])[balls], (y * radius[:, None])[balls]
        rows = np.flatnonzero(form[c.chain] == CONIC)
        chain = c.chain[rows]
        out = c.points[rows] - center[chain]
        t[rows] = _unwrapped(np.arctan2((out * y[chain]).sum(1), (out * x[chain]).sum(1)), _numbered(chain))
    return Silhouettes(c.face, c.sign, form, exact, count, c.points, normals, t)


FLAT, TUBE, TIP = 2, 3, 4


def _ring_codes(part: FacetedPart, points: Floats, face: Ints, toward: Floats) -> Ints:
    """Which circle each marched point lies on where a torus is seen along its axis or square to it: 0 for
    none.

    Along the axis 1 outer and -1 inner ring; square to it FLAT and -FLAT the flat circles, TUBE and -TUBE
    those of the tube, TIP where both of those meet on the axis.
    """
    circle = np.zeros(len(points), int)
    lean = np.abs(part.face_axis @ toward)
    special = (part.face_kind == TORUS) & ((lean < 1e-9) | (lean > 1 - 1e-9))
    m = np.flatnonzero(special[face])
    if not len(m):
        return circle
    axis, big, small = part.face_axis[face[m]], part.face_radius[face[m]], part.face_minor[face[m]]
    away = points[m] - part.face_origin[face[m]]
    height = (away * axis).sum(1)
    radial = away - height[:, None] * axis
    distance = np.linalg.norm(radial, axis=1)
    cos, sight = (distance - big) / small, (radial @ toward) / np.maximum(distance, 1e-12)
    flat = np.abs(cos) <= np.abs(sight)
    to_side = (radial * cross(axis, toward)).sum(1) > 0
    square = np.where(flat, np.where(height > 0, FLAT, -FLAT), np.where(to_side, TUBE, -TUBE))
    square[np.minimum(np.abs(cos), np.abs(sight)) > 1e-6] = 0
    square[distance < AT_AXIS] = TIP
    ring = np.where(np.abs(height) < 1e-6 * small, np.where(cos > 0, 1, -1), 0)
    circle[m] = np.where(lean[face[m]] > 0.5, ring, square)
    return circle


def _with_rings(part: FacetedPart, c: _Chains, ring: Ints, inner: Bools, toward: Floats) -> Silhouettes:
    """Chains that run on circles of tori all along become arcs; the rest is formed as usual."""
    code = ring[c.ids]
    on_rings = np.bincount(c.chain[code == 0], minlength=len(c.face)) == 0
    mine = on_rings[c.chain]
    rest = _formed(part, c.filtered(~mine), toward)
    chain, code = c.chain[mine], code[mine]
    if not len(chain):
        return rest
    begins = np.concatenate([[True], chain[1:] != chain[:-1]])
    code = np.where(code == TIP, np.where(begins, np.roll(code, -1), np.roll(code, 1)), code)
    rings = _Chains(c.ids[mine], c.points[mine], c.normals[mine], chain, c.face, c.sign)
    return rest.joined(_rings(part, rings, code, inner, toward))


def _rings(part: FacetedPart, c: _Chains, code: Ints, inner: Bools, toward: Floats) -> Silhouettes:
    """Chains on circles, cut where they pass from one circle to another; both then reach to the place where
    the circles meet."""
    new = np.concatenate([[True], (c.chain[1:] != c.chain[:-1]) | (code[1:] != code[:-1])])
    head = np.flatnonzero(new)
    tail = np.concatenate([head[1:], [len(new)]]) - 1
    face, code, sign = c.face[c.chain[head]], code[head], c.sign[c.chain[head]]
    axis, center = part.face_axis[face], part.face_origin[face]
    big, small = part.face_radius[face][:, None], part.face_minor[face][:, None]
    side = cross(axis, toward)
    piece = np.cumsum(new) - 1
    keys, points, normals, pieces = [np.arange(len(new), dtype=float)], [c.points], [c.normals], [piece]
    for near, step in ((head, -1), (tail, 1)):
        other = np.clip(near + step, 0, len(new) - 1)
        outside = (other == near) | (c.chain[other] != c.chain[near])
        neighbor = np.abs(code[piece[other]])
        here = c.points[near]
        away = here - center
        joint = center + side * big * _way(away, side) + axis * small * _way(away, axis)
        beside = np.clip(np.where(outside, near - step, other), 0, len(new) - 1)
        gap, pitch = np.linalg.norm(joint - here, axis=1), np.linalg.norm(here - c.points[beside], axis=1)
        goes_over = np.where(outside, inner[c.ids[near]], neighbor != np.abs(code))
        m = (np.abs(code) >= FLAT) & goes_over & (gap <= 3 * pitch)
        keys.append(near[m] + 0.3 * step)
        points.append(joint[m])
        normals.append(c.normals[near[m]])
        pieces.append(np.flatnonzero(m))
    order = np.argsort(np.concatenate(keys), kind="stable")
    p, n, piece = np.concatenate(points)[order], np.concatenate(normals)[order], np.concatenate(pieces)[order]
    all_rows = _Chains(np.zeros(len(p), int), p, n, piece, face, sign)
    enough = np.bincount(piece, minlength=len(face)) > 1
    c = all_rows.filtered(np.ones(len(p), bool))
    return _arcs(c, code[enough], axis[enough], center[enough], side[enough], big[enough], small[enough])


def _way(away: Floats, direction: Floats) -> Floats:
    out: Floats = np.where((away * direction).sum(1) >= 0, 1.0, -1.0)[:, None]
    return out


def _arcs(
    c: _Chains, code: Ints, axis: Floats, center: Floats, side: Floats, big: Floats, small: Floats
) -> Silhouettes:
    way, kind = np.sign(code)[:, None], np.abs(code)[:, None]
    middle = center + np.where(
        kind == TUBE, side * big * way, np.where(kind == FLAT, axis * small * way, 0.0)
    )
    radius = np.where(kind == TUBE, small, np.where(kind == FLAT, big, big + small * way))
    x = cross(axis, np.where(np.abs(axis[:, :1]) < 0.9, [[1.0, 0.0, 0.0]], [[0.0, 1.0, 0.0]]))
    x /= np.linalg.norm(x, axis=1)[:, None]
    x = np.where(kind == TUBE, side * way, x)
    y = np.where(kind == TUBE, axis, cross(axis, x))
    away = c.points - middle[c.chain]
    t = _unwrapped(np.arctan2((away * y[c.chain]).sum(1), (away * x[c.chain]).sum(1)), c.chain)
    head, end = c.bounds()
    # outer and inner half of a tube are curves of their own: triangles about their joint may overshoot it
    half = np.round(np.add.reduceat(t, head) / (end - head) / np.pi) * np.pi
    tube = kind[:, 0] == TUBE
    rows = tube[c.chain]
    t[rows] = np.clip(t, (half - np.pi / 2)[c.chain], (half + np.pi / 2)[c.chain])[rows]
    mid = (head + end) // 2
    outward = (c.normals[mid] * away[mid]).sum(1) > 0
    sign = np.where(tube, np.where((np.cos(half) > 0) == outward, 1, -1), c.sign)
    exact = np.stack([middle, x * radius, y * radius, np.zeros_like(x)], 1)
    on = exact[c.chain]
    p = on[:, 0] + on[:, 1] * np.cos(t)[:, None] + on[:, 2] * np.sin(t)[:, None]
    points = np.where(rows[:, None], p, c.points)
    return Silhouettes(c.face, sign, np.full(len(c.face), CONIC), exact, end - head, points, c.normals, t)


def _chains(where: Ints, faces: Ints, convex: Bools) -> tuple[Ints, Ints, Ints]:
    """Triangles linked end to end where they share a point, face and convexity.

    where (2n,): points at the first and second ends of n triangles. Gives point ids, where each chain starts
    in them (one more than chains) and a triangle of each chain.
    """
    n = len(faces)
    order = np.argsort(where, kind="stable")
    triangle = order % n
    same = (
        (where[order[1:]] == where[order[:-1]])
        & (convex[triangle[1:]] == convex[triangle[:-1]])
        & (faces[triangle[1:]] == faces[triangle[:-1]])
    )
    linked = np.full(2 * n, -1)
    linked[order[:-1][same]] = order[1:][same]
    linked[order[1:][same]] = order[:-1][same]
    return _walked(linked, where)


@compiled("(int64[::1], int64[::1])")
def _walked(linked: Ints, point: Ints) -> tuple[Ints, Ints, Ints]:
    """Follow the links from end to end: open chains from one of their ends, then the closed ones. linked
    (2n,): the end that each end goes on to, -1 for none; the ends of a triangle are n apart."""
    n = len(linked) // 2
    ids, start, first = np.empty(3 * n, np.int64), np.empty(n + 1, np.int64), np.empty(n, np.int64)
    used = np.zeros(n, np.bool_)
    count = chains = 0
    start[0] = 0
    for turn in range(2):
        for begin in range(2 * n if turn == 0 else n):
            if used[begin % n] or (turn == 0 and linked[begin] >= 0):
                continue
            first[chains], ids[count] = begin % n, point[begin]
            count += 1
            end = begin
            while end >= 0 and not used[end % n]:
                used[end % n] = True
                across = end + n if end < n else end - n
                ids[count] = point[across]
                count += 1
                end = linked[across]
            chains += 1
            start[chains] = count
    return ids[:count], start[: chains + 1], first[:chains]


def _grows_toward(nodes: Floats, f: Floats, a: Ints, b: Ints, c: Ints, toward: Floats | None) -> Bools:
    """Whether normal times direction grows toward the viewer on each triangle: then a free surface is convex
    there."""
    pa, pb, pc = nodes[a], nodes[b], nodes[c]
    normal = cross(pb - pa, pc - pa)
    gradient = (
        f[a][:, None] * cross(normal, pc - pb)
        + f[b][:, None] * cross(normal, pa - pc)
        + f[c][:, None] * cross(normal, pb - pa)
    )
    grows: Bools = (gradient * np.asarray(toward)).sum(1) > 0
    return grows


def _between(part: FacetedPart, i: Ints, j: Ints, w: Floats) -> tuple[Floats, Floats]:
    """Points and normals between two nodes, on the cubic that is tangent to the surface at both."""
    p, q, n, m = part.nodes[i], part.nodes[j], part.normals[i], part.normals[j]
    k = w[:, None]
    d = q - p
    tp, tq = d - (d * n).sum(1)[:, None] * n, d - (d * m).sum(1)[:, None] * m
    points = (
        (1 + 2 * k) * (1 - k) ** 2 * p + k * (1 - k) ** 2 * tp + k**2 * (3 - 2 * k) * q - k**2 * (1 - k) * tq
    )
    straight = np.isin(part.face_kind[part.node_face[i]], (CYLINDER, CONE))
    points[straight] = (p + k * d)[
        straight
    ]  # keeps the height along the axis, so that outlines end on square rims
    normals = n * (1 - k) + m * k
    return points, normals / np.maximum(np.linalg.norm(normals, axis=1)[:, None], 1e-12)
