"""Where a curved surface turns away from the viewer: the zero set of normal times direction, marched over the triangles.

Points found between nodes are moved onto the exact curve: straight on cylinders and cones, a great circle on a sphere, by Newton's
method on a torus, by a cubic through both nodes and normals on a free surface.
"""

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from drafting.views.visibility.part import (
    CONE,
    CYLINDER,
    LINE,
    POLYLINE,
    SPHERE,
    TORUS,
    FacetedPart,
)

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
CONIC = 2
ZERO = 2e-5
"""Normal times direction below this counts as edge-on: settles seams that lie on a silhouette, and faces seen edge-on."""


@dataclass
class Silhouette:
    """One chain in the part's frame. convex: 1 where the surface curves away from the viewer, -1 where it is hollow (always hidden).

    form: LINE, CONIC or POLYLINE; exact (4, 3) as FacetedPart.edge_form; parameters (n,) on it.
    """

    points: Floats
    normals: Floats
    face: int
    convex: int
    form: int
    exact: Floats
    parameters: Floats


def facing(normals: Floats, toward: Floats) -> Floats:
    """Normal times direction with nearly edge-on values set to zero. toward: (3,) or one row a normal."""
    f: Floats = normals @ toward if toward.ndim == 1 else (normals * toward).sum(1)
    f[np.abs(f) < ZERO] = 0.0
    return f


def silhouettes(part: FacetedPart, toward: Floats | None, eye: Floats | None = None) -> list[Silhouette]:
    """All silhouettes of a part for a unit direction toward the viewer, or for an eye point (both in the part's frame)."""
    curved = part.face_curved[part.triangle_face]
    triangles, faces = part.triangles[curved], part.triangle_face[curved]
    if not len(triangles):
        return []
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
        return []
    lone = np.where(front.sum(1) == 1, front.argmax(1), (~front).argmax(1))
    rows = np.arange(len(triangles))
    a, b, c = triangles[rows, lone], triangles[rows, (lone + 1) % 3], triangles[rows, (lone + 2) % 3]
    convex = _grows_toward(part.nodes, f, a, b, c, toward if eye is None else eye - part.nodes[a])
    size = len(part.nodes)
    one, two = np.concatenate([a, a]), np.concatenate([b, c])
    keys, where = np.unique(np.minimum(one, two) * size + np.maximum(one, two), return_inverse=True)
    i, j = keys // size, keys % size
    w = f[i] / (f[i] - f[j])
    points, normals = _between(part, i, j, w)
    point_face = part.node_face[i]
    points, normals = _onto_surface(part, points, normals, point_face, toward, eye)
    convex = _convex(part, points, normals, where.reshape(2, -1), faces, convex, toward, eye)
    tori = _Tori.of(part, points, point_face, where.ravel(), toward)
    out: list[Silhouette] = []
    for chain, face, sign in _chains(where[: len(triangles)].tolist(), where[len(triangles) :].tolist(), faces.tolist(), convex.tolist()):
        ids = np.array(chain)
        p = points[ids]
        keep = np.concatenate([[True], np.abs(np.diff(p, axis=0)).max(1) > 1e-7])
        if (
            tori is not None
            and tori.circle[ids[0]]
            and (circles := tori.pieces(part, ids[keep], p[keep], normals[ids[keep]], face, sign)) is not None
        ):
            out += circles
            continue
        for run in _runs(part, ids[keep], p[keep], face):
            out.append(_exact(part, points[run], normals[run], face, sign, toward, eye))
    return out


@dataclass
class _Tori:
    """Marched points on tori seen along their axis or square to it, where silhouettes are circles: which circle each point lies on.

    circle: 0 for none; along the axis 1 outer and -1 inner ring; square to it 2 and -2 the flat circles, 3 and -3 those of the tube.
    """

    circle: Ints
    side: Floats
    inner: NDArray[np.bool_]
    """Points that two triangles share: a chain that ends at one goes on as another, so both reach to the place where they meet."""

    @staticmethod
    def of(part: FacetedPart, points: Floats, face: Ints, where: Ints, toward: Floats | None) -> "_Tori | None":
        if toward is None:
            return None
        lean = np.abs(part.face_axis @ toward)
        special = (part.face_kind == TORUS) & ((lean < 1e-9) | (lean > 1 - 1e-9))
        m = np.flatnonzero(special[face])
        if not len(m):
            return None
        axis, big, small = part.face_axis[face[m]], part.face_radius[face[m]], part.face_minor[face[m]]
        away = points[m] - part.face_origin[face[m]]
        height = (away * axis).sum(1)
        radial = away - height[:, None] * axis
        distance = np.linalg.norm(radial, axis=1)
        cos, sight = (distance - big) / small, (radial @ toward) / np.maximum(distance, 1e-12)
        side = np.cross(axis, toward)
        flat = np.abs(cos) <= np.abs(sight)
        square = np.where(flat, np.where(height > 0, 2, -2), np.where((radial * side).sum(1) > 0, 3, -3))
        square[np.minimum(np.abs(cos), np.abs(sight)) > 1e-6] = 0
        ring = np.where(np.abs(height) < 1e-6 * small, np.where(cos > 0, 1, -1), 0)
        circle, sides = np.zeros(len(points), int), np.zeros((len(points), 3))
        circle[m] = np.where(lean[face[m]] > 0.5, ring, square)
        sides[m] = side
        return _Tori(circle, sides, np.bincount(where, minlength=len(points)) > 1)

    def pieces(self, part: FacetedPart, ids: Ints, p: Floats, normals: Floats, face: int, sign: int) -> list[Silhouette] | None:
        """A chain as circles, cut where it passes from one to another; None where it is not on them all along."""
        codes = self.circle[ids]
        if not codes.all():
            return None
        axis, center = part.face_axis[face], part.face_origin[face]
        big, small = float(part.face_radius[face]), float(part.face_minor[face])
        side = self.side[ids[0]]
        bounds = [0, *(np.flatnonzero(np.diff(codes)) + 1).tolist(), len(codes)]
        out: list[Silhouette] = []
        for start, end in zip(bounds, bounds[1:], strict=False):
            code = int(codes[start])
            points, n = p[start:end], normals[start:end]
            for j, near in ((start - 1, start), (end, end - 1)):
                outside = not 0 <= j < len(codes)
                if abs(code) < 2 or (outside and not self.inner[ids[near]]) or (not outside and abs(int(codes[j])) == abs(code)):
                    continue  # the chain ends at the face's own border, or goes on in the same way
                away = p[near] - center
                joint = center + side * big * math.copysign(1, float(away @ side)) + axis * small * math.copysign(1, float(away @ axis))
                if np.linalg.norm(joint - p[near]) <= 3 * np.linalg.norm(p[near] - p[min(max(j, 0), len(p) - 1)]) or outside:
                    points = np.concatenate([joint[None], points] if j < start else [points, joint[None]])
                    n = np.concatenate([n[:1], n] if j < start else [n, n[-1:]])
            if len(points) > 1:
                out.append(_circle(points, n, code, center, axis, side, big, small, face, sign))
        return out


def _unwrapped(t: Floats) -> Floats:
    """Angles without jumps of a turn."""
    out: Floats = t.copy()
    out[1:] -= 2 * math.pi * np.cumsum(np.round((t[1:] - t[:-1]) / (2 * math.pi)))
    return out


def _circle(
    p: Floats, n: Floats, code: int, center: Floats, axis: Floats, side: Floats, big: float, small: float, face: int, sign: int
) -> Silhouette:
    way = math.copysign(1, code)
    if abs(code) == 3:
        middle, x, y, radius = center + side * big * way, side * way, axis, small
    else:
        middle, radius = (center + axis * small * way, big) if abs(code) == 2 else (center, big + small * way)
        a, b, c = axis.tolist()
        x = np.array([0.0, c, -b] if abs(a) < 0.9 else [-c, 0.0, a])
        x /= math.sqrt(float(x @ x))
        y = np.array([b * x[2] - c * x[1], c * x[0] - a * x[2], a * x[1] - b * x[0]])
    away = p - middle
    t = _unwrapped(np.arctan2(away @ y, away @ x))
    if abs(code) == 3:  # outer and inner half are curves of their own: triangles about their joint may overshoot it
        half = round(float(t.mean()) / math.pi) * math.pi
        t = np.clip(t, half - math.pi / 2, half + math.pi / 2)
        outward = float(n[len(n) // 2] @ away[len(n) // 2]) > 0
        sign = 1 if (math.cos(half) > 0) == outward else -1
        p = middle + radius * (np.cos(t)[:, None] * x + np.sin(t)[:, None] * y)
    return Silhouette(p, n, face, sign, CONIC, np.array([middle, x * radius, y * radius, np.zeros(3)]), t)


def _runs(part: FacetedPart, ids: Ints, p: Floats, face: int) -> list[Ints]:
    """A chain cut at a cone's apex, where both its outlines meet. Single points are dropped."""
    runs = [ids]
    if part.face_kind[face] == CONE:
        apex = np.flatnonzero(np.linalg.norm(p - part.face_origin[face], axis=1) < 1e-6)
        runs = [ids[a : b + 1] for a, b in zip([0, *apex], [*apex, len(ids) - 1], strict=True)]
    return [r for r in runs if len(r) > 1]


def _grows_toward(nodes: Floats, f: Floats, a: Ints, b: Ints, c: Ints, toward: Floats | None) -> NDArray[np.bool_]:
    """Whether normal times direction grows toward the viewer on each triangle: then a free surface is convex there."""
    pa, pb, pc = nodes[a], nodes[b], nodes[c]
    normal = np.cross(pb - pa, pc - pa)
    gradient = f[a][:, None] * np.cross(normal, pc - pb) + f[b][:, None] * np.cross(normal, pa - pc) + f[c][:, None] * np.cross(normal, pb - pa)
    grows: NDArray[np.bool_] = (gradient * np.asarray(toward)).sum(1) > 0
    return grows


def _convex(
    part: FacetedPart, points: Floats, normals: Floats, ends: Ints, faces: Ints, guess: NDArray[np.bool_], toward: Floats | None, eye: Floats | None
) -> NDArray[np.bool_]:
    """Convexity of each marched triangle by its surface's own curvature in the direction of sight; the guess stays for free surfaces.

    ends (2, n): the two points of each triangle. A torus curves by cos2 / r about its tube and cos t / (R + r cos t) about its axis.
    """
    kind = part.face_kind[faces]
    axis, origin = part.face_axis[faces], part.face_origin[faces]

    def radial(p: Floats) -> Floats:
        away = p - origin
        along = np.where((kind == SPHERE)[:, None], 0.0, (away * axis).sum(1)[:, None] * axis)
        out: Floats = away - along
        return out

    first, second = points[ends[0]], points[ends[1]]
    farther = np.linalg.norm(radial(first), axis=1) >= np.linalg.norm(radial(second), axis=1)  # an apex has no direction
    p = np.where(farther[:, None], first, second)
    n = np.where(farther[:, None], normals[ends[0]], normals[ends[1]])
    out_of_axis = radial(p)
    round_kinds = np.isin(kind, (CYLINDER, CONE, SPHERE))
    result = np.where(round_kinds, (out_of_axis * n).sum(1) > 0, guess)
    m = np.flatnonzero(kind == TORUS)
    if len(m):
        ray = np.broadcast_to(np.asarray(toward), (len(m), 3)) if eye is None else _unit(eye - p[m])
        u = _unit(out_of_axis[m])
        tube = p[m] - origin[m] - u * part.face_radius[faces[m]][:, None]
        cos = (tube * u).sum(1) / part.face_minor[faces[m]]
        around = (np.cross(axis[m], u) * ray).sum(1) ** 2
        bend = (1 - around) / part.face_minor[faces[m]] + around * cos / np.maximum(np.linalg.norm(out_of_axis[m], axis=1), 1e-9)
        result[m] = (bend > 0) == ((tube * n[m]).sum(1) > 0)
    return result


def _between(part: FacetedPart, i: Ints, j: Ints, w: Floats) -> tuple[Floats, Floats]:
    """Points and normals between two nodes, on the cubic that is tangent to the surface at both."""
    p, q, n, m = part.nodes[i], part.nodes[j], part.normals[i], part.normals[j]
    k = w[:, None]
    d = q - p
    tp, tq = d - (d * n).sum(1)[:, None] * n, d - (d * m).sum(1)[:, None] * m
    points = (1 + 2 * k) * (1 - k) ** 2 * p + k * (1 - k) ** 2 * tp + k**2 * (3 - 2 * k) * q - k**2 * (1 - k) * tq
    normals = n * (1 - k) + m * k
    return points, normals / np.maximum(np.linalg.norm(normals, axis=1)[:, None], 1e-12)


def _chains(first: list[int], second: list[int], faces: list[int], convex: list[bool]) -> list[tuple[list[int], int, int]]:
    """Triangles linked end to end where they share a point, face and convexity. Gives point ids, face, 1 or -1."""
    at: dict[int, list[int]] = {}
    for t in range(len(first)):
        at.setdefault(first[t], []).append(t)
        at.setdefault(second[t], []).append(t)
    used = bytearray(len(first))
    out: list[tuple[list[int], int, int]] = []

    def walk(t: int, here: int) -> None:
        chain, face, sign = [here], faces[t], convex[t]
        following: int | None = t
        while following is not None:
            used[following] = 1
            here = second[following] if first[following] == here else first[following]
            chain.append(here)
            following = next((x for x in at[here] if not used[x] and convex[x] == sign and faces[x] == face), None)
        out.append((chain, face, 1 if sign else -1))

    for here, around in at.items():
        if len(around) == 1 or convex[around[0]] != convex[around[1]]:
            for t in around:
                if not used[t]:
                    walk(t, here)
    for t in range(len(first)):
        if not used[t]:
            walk(t, first[t])
    return out


def _onto_surface(part: FacetedPart, points: Floats, normals: Floats, face: Ints, toward: Floats | None, eye: Floats | None) -> tuple[Floats, Floats]:
    """Move marched points onto the exact silhouette of their surface; left alone where that would carry them far."""
    kind = part.face_kind[face]
    new = points.copy()
    for k, move in ((CYLINDER, _on_cylinder), (CONE, _on_cone), (SPHERE, _on_sphere), (TORUS, _on_torus)):
        m = np.flatnonzero(kind == k)
        if len(m):
            rays = np.broadcast_to(np.asarray(toward), (len(m), 3)) if eye is None else eye - points[m]
            if eye is not None:
                rays = rays / np.linalg.norm(rays, axis=1)[:, None]
            moved, n = move(part, points[m], face[m], np.asarray(rays), eye)
            near = (np.linalg.norm(moved - points[m], axis=1) < (12 if k == TORUS else 40) * float(part.linear)) & np.isfinite(moved).all(1)
            new[m[near]] = moved[near]
            same = (n * normals[m]).sum(1) >= 0
            normals[m[near]] = np.where(same[:, None], n, -n)[near]
    return new, normals


def _unit(v: Floats) -> Floats:
    out: Floats = v / np.maximum(np.linalg.norm(v, axis=1)[:, None], 1e-12)
    return out


def _on_cylinder(part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None) -> tuple[Floats, Floats]:
    axis, origin, radius = part.face_axis[face], part.face_origin[face], part.face_radius[face][:, None]
    foot = origin + ((p - origin) * axis).sum(1)[:, None] * axis
    side = _unit(np.cross(axis, rays))
    if eye is not None:  # seen from an eye at distance e of the axis, the tangent touches where cos = r / e
        out = eye - origin
        out = _unit(out - (out * axis).sum(1)[:, None] * axis)
        away = np.linalg.norm((eye - origin) - ((eye - origin) * axis).sum(1)[:, None] * axis, axis=1)[:, None]
        c = np.clip(radius / np.maximum(away, 1e-9), -1, 1)
        side = _unit(np.cross(axis, out))
        sign = np.where(((p - foot) * side).sum(1) >= 0, 1.0, -1.0)[:, None]
        n = out * c + side * sign * np.sqrt(1 - c * c)
        return foot + n * radius, n
    sign = np.where(((p - foot) * side).sum(1) >= 0, 1.0, -1.0)[:, None]
    edge_on = np.linalg.norm(np.cross(axis, rays), axis=1) < 1e-9
    moved = np.where(edge_on[:, None], p, foot + sign * side * radius)
    return moved, sign * side


def _on_cone(part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None) -> tuple[Floats, Floats]:
    """The tangent lines of a cone: cos h (u . v) = sin h (a . v) for the radial direction u, h the half angle, a the axis."""
    axis, apex, h = part.face_axis[face], part.face_origin[face], part.face_angle[face][:, None]
    if eye is not None:
        rays = eye - apex  # every tangent plane holds the apex, so the ray to the apex decides
        rays = _unit(rays)
    height = ((p - apex) * axis).sum(1)[:, None]
    along = (rays * axis).sum(1)[:, None]
    across = rays - along * axis
    size = np.linalg.norm(across, axis=1)[:, None]
    ux = across / np.maximum(size, 1e-12)
    uy = np.cross(axis, ux)
    c = np.tan(h) * along / np.maximum(size, 1e-12)
    with np.errstate(invalid="ignore"):
        s = np.sqrt(1 - c * c)
    radial = (p - apex) - height * axis
    sign = np.where((radial * uy).sum(1) >= 0, 1.0, -1.0)[:, None]
    turn = np.where(height * np.tan(h) >= 0, 1.0, -1.0)
    u = c * ux + sign * turn * s * uy
    moved = apex + height * (axis + np.tan(h) * u)
    return moved, _unit(np.cos(h) * u - np.sin(h) * axis)


def _on_sphere(part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None) -> tuple[Floats, Floats]:
    center, radius = part.face_origin[face], part.face_radius[face][:, None]
    if eye is not None:
        out = eye - center
        distance = np.linalg.norm(out, axis=1)[:, None]
        out = out / distance
        away = (p - center) - ((p - center) * out).sum(1)[:, None] * out
        n = out * radius / distance + _unit(away) * np.sqrt(np.maximum(1 - (radius / distance) ** 2, 0))
        return center + n * radius, n
    away = p - center
    n = _unit(away - (away * rays).sum(1)[:, None] * rays)
    return center + n * radius, n


def _on_torus(part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None) -> tuple[Floats, Floats]:
    """Newton steps along the surface gradient of normal times direction, in the angles about the axis (u) and about the tube (t)."""
    axis, center, big, small = part.face_axis[face], part.face_origin[face], part.face_radius[face], part.face_minor[face]
    x = np.where(np.abs(axis[:, :1]) < 0.9, np.cross(axis, [1.0, 0, 0]), np.cross(axis, [0, 1.0, 0]))
    x = _unit(x)
    y = np.cross(axis, x)
    away = p - center
    px, py, pz = (away * x).sum(1), (away * y).sum(1), (away * axis).sum(1)
    u, t = np.arctan2(py, px), np.arctan2(pz, np.hypot(px, py) - big)
    for _ in range(5):
        if eye is not None:
            rays = _unit(eye - _torus_point(center, axis, x, y, big, small, u, t))
        vx, vy, vz = (rays * x).sum(1), (rays * y).sum(1), (rays * axis).sum(1)
        cu, su, ct, st = np.cos(u), np.sin(u), np.cos(t), np.sin(t)
        radial, turning = cu * vx + su * vy, cu * vy - su * vx
        f = ct * radial + st * vz
        gt, gu = (ct * vz - st * radial) / small, ct * turning / np.maximum(big + small * ct, 1e-9)
        step = -f / np.maximum(gt * gt + gu * gu, 1e-12)
        t, u = t + step * gt / small, u + step * gu / np.maximum(big + small * ct, 1e-9)
    n = np.cos(t)[:, None] * (np.cos(u)[:, None] * x + np.sin(u)[:, None] * y) + np.sin(t)[:, None] * axis
    return _torus_point(center, axis, x, y, big, small, u, t), n


def _torus_point(center: Floats, axis: Floats, x: Floats, y: Floats, big: Floats, small: Floats, u: Floats, t: Floats) -> Floats:
    radial = np.cos(u)[:, None] * x + np.sin(u)[:, None] * y
    out: Floats = center + (big + small * np.cos(t))[:, None] * radial + (small * np.sin(t))[:, None] * axis
    return out


def _exact(part: FacetedPart, p: Floats, n: Floats, face: int, sign: int, toward: Floats | None, eye: Floats | None) -> Silhouette:
    kind = int(part.face_kind[face])
    zero = np.zeros(3)
    if kind in (CYLINDER, CONE):
        ends = [0, len(p) - 1]
        from_axis = np.linalg.norm(np.cross(p[ends] - part.face_origin[face], part.face_axis[face]), axis=1)
        normal = n[ends][[int(from_axis.argmax())] * 2]  # the same all along; unknown at an apex
        return Silhouette(p[ends], normal, face, sign, LINE, np.array([p[0], zero, zero, p[-1] - p[0]]), np.array([0.0, 1.0]))
    if kind == SPHERE and toward is not None:
        center, radius = part.face_origin[face], float(part.face_radius[face])
        x = (p[0] - center) / radius
        y = np.cross(toward, x)
        t = _unwrapped(np.arctan2((p - center) @ y, (p - center) @ x))
        return Silhouette(p, n, face, sign, CONIC, np.array([center, x * radius, y * radius, zero]), t)
    return Silhouette(p, n, face, sign, POLYLINE, np.zeros((4, 3)), np.linspace(0, 1, len(p)))
