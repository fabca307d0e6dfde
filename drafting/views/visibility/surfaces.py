"""The exact outlines of plain surfaces: marched points are moved onto them, and the side on which the surface
lies is told by its curvature."""

import numpy as np

from drafting.views.visibility.part import (
    CONE,
    CYLINDER,
    SPHERE,
    TORUS,
    Bools,
    FacetedPart,
    Floats,
    Ints,
    cross,
)


def curves_away(
    part: FacetedPart,
    points: Floats,
    normals: Floats,
    ends: Ints,
    faces: Ints,
    guess: Bools,
    toward: Floats | None,
    eye: Floats | None,
) -> Bools:
    """Convexity of each marched triangle by its surface's own curvature in the direction of sight; the guess
    stays for free surfaces.

    ends (2, n): the two points of each triangle. A torus curves by cos2 / r about its tube and cos t / (R + r
    cos t) about its axis.
    """
    kind = part.face_kind[faces]
    axis, origin = part.face_axis[faces], part.face_origin[faces]

    def radial(p: Floats) -> Floats:
        away = p - origin
        along = np.where((kind == SPHERE)[:, None], 0.0, (away * axis).sum(1)[:, None] * axis)
        out: Floats = away - along
        return out

    first, second = points[ends[0]], points[ends[1]]
    farther = np.linalg.norm(radial(first), axis=1) >= np.linalg.norm(
        radial(second), axis=1
    )  # an apex has no direction
    p = np.where(farther[:, None], first, second)
    n = np.where(farther[:, None], normals[ends[0]], normals[ends[1]])
    out_of_axis = radial(p)
    round_kinds = np.isin(kind, (CYLINDER, CONE, SPHERE))
    result = np.where(round_kinds, (out_of_axis * n).sum(1) > 0, guess)
    m = np.flatnonzero(kind == TORUS)
    if len(m):
        ray = np.broadcast_to(np.asarray(toward), (len(m), 3)) if eye is None else unit(eye - p[m])
        u = unit(out_of_axis[m])
        tube = p[m] - origin[m] - u * part.face_radius[faces[m]][:, None]
        cos = (tube * u).sum(1) / part.face_minor[faces[m]]
        around = (cross(axis[m], u) * ray).sum(1) ** 2
        bend = (1 - around) / part.face_minor[faces[m]] + around * cos / np.maximum(
            np.linalg.norm(out_of_axis[m], axis=1), 1e-9
        )
        result[m] = (bend > 0) == ((tube * n[m]).sum(1) > 0)
    return result


def onto_surface(
    part: FacetedPart, points: Floats, normals: Floats, face: Ints, toward: Floats | None, eye: Floats | None
) -> tuple[Floats, Floats]:
    """Move marched points onto the exact silhouette of their surface; left alone where that would carry them
    far."""
    kind = part.face_kind[face]
    new = points.copy()
    for k, move in ((CYLINDER, _on_cylinder), (CONE, _on_cone), (SPHERE, _on_sphere), (TORUS, _on_torus)):
        m = np.flatnonzero(kind == k)
        if len(m):
            rays = np.broadcast_to(np.asarray(toward), (len(m), 3)) if eye is None else eye - points[m]
            if eye is not None:
                rays = rays / np.linalg.norm(rays, axis=1)[:, None]
            moved, n = move(part, points[m], face[m], np.asarray(rays), eye)
            near = (
                np.linalg.norm(moved - points[m], axis=1) < (12 if k == TORUS else 40) * float(part.linear)
            ) & np.isfinite(moved).all(1)
            new[m[near]] = moved[near]
            same = (n * normals[m]).sum(1) >= 0
            normals[m[near]] = np.where(same[:, None], n, -n)[near]
    return new, normals


def unit(v: Floats) -> Floats:
    """Vectors (n, 3) of length one."""
    out: Floats = v / np.maximum(np.linalg.norm(v, axis=1)[:, None], 1e-12)
    return out


def _on_cylinder(
    part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None
) -> tuple[Floats, Floats]:
    axis, origin, radius = part.face_axis[face], part.face_origin[face], part.face_radius[face][:, None]
    foot = origin + ((p - origin) * axis).sum(1)[:, None] * axis
    side = unit(cross(axis, rays))
    if eye is not None:  # seen from an eye at distance e of the axis, the tangent touches where cos = r / e
        out = eye - origin
        out = unit(out - (out * axis).sum(1)[:, None] * axis)
        away = np.linalg.norm((eye - origin) - ((eye - origin) * axis).sum(1)[:, None] * axis, axis=1)[
            :, None
        ]
        c = np.clip(radius / np.maximum(away, 1e-9), -1, 1)
        side = unit(cross(axis, out))
        sign = np.where(((p - foot) * side).sum(1) >= 0, 1.0, -1.0)[:, None]
        n = out * c + side * sign * np.sqrt(1 - c * c)
        return foot + n * radius, n
    sign = np.where(((p - foot) * side).sum(1) >= 0, 1.0, -1.0)[:, None]
    edge_on = np.linalg.norm(cross(axis, rays), axis=1) < 1e-9
    moved = np.where(edge_on[:, None], p, foot + sign * side * radius)
    return moved, sign * side


def _on_cone(
    part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None
) -> tuple[Floats, Floats]:
    """The tangent lines of a cone: cos h (u . v) = sin h (a . v) for the radial direction u, h the half
    angle, a the axis."""
    axis, apex, h = part.face_axis[face], part.face_origin[face], part.face_angle[face][:, None]
    if eye is not None:
        rays = eye - apex  # every tangent plane holds the apex, so the ray to the apex decides
        rays = unit(rays)
    height = ((p - apex) * axis).sum(1)[:, None]
    along = (rays * axis).sum(1)[:, None]
    across = rays - along * axis
    size = np.linalg.norm(across, axis=1)[:, None]
    ux = across / np.maximum(size, 1e-12)
    uy = cross(axis, ux)
    c = np.tan(h) * along / np.maximum(size, 1e-12)
    with np.errstate(invalid="ignore"):
        s = np.sqrt(1 - c * c)
    radial = (p - apex) - height * axis
    sign = np.where((radial * uy).sum(1) >= 0, 1.0, -1.0)[:, None]
    turn = np.where(height * np.tan(h) >= 0, 1.0, -1.0)
    u = c * ux + sign * turn * s * uy
    moved = apex + height * (axis + np.tan(h) * u)
    return moved, unit(np.cos(h) * u - np.sin(h) * axis)


def _on_sphere(
    part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None
) -> tuple[Floats, Floats]:
    center, radius = part.face_origin[face], part.face_radius[face][:, None]
    if eye is not None:
        out = eye - center
        distance = np.linalg.norm(out, axis=1)[:, None]
        out = out / distance
        away = (p - center) - ((p - center) * out).sum(1)[:, None] * out
        n = out * radius / distance + unit(away) * np.sqrt(np.maximum(1 - (radius / distance) ** 2, 0))
        return center + n * radius, n
    away = p - center
    n = unit(away - (away * rays).sum(1)[:, None] * rays)
    return center + n * radius, n


def _on_torus(
    part: FacetedPart, p: Floats, face: Ints, rays: Floats, eye: Floats | None
) -> tuple[Floats, Floats]:
    """Newton steps along the surface gradient of normal times direction, in the angles about the axis (u) and
    about the tube (t)."""
    axis, center, big, small = (
        part.face_axis[face],
        part.face_origin[face],
        part.face_radius[face],
        part.face_minor[face],
    )
    x = cross(axis, np.where(np.abs(axis[:, :1]) < 0.9, [[1.0, 0.0, 0.0]], [[0.0, 1.0, 0.0]]))
    x = unit(x)
    y = cross(axis, x)
    away = p - center
    px, py, pz = (away * x).sum(1), (away * y).sum(1), (away * axis).sum(1)
    u, t = np.arctan2(py, px), np.arctan2(pz, np.hypot(px, py) - big)
    for _ in range(5):
        if eye is not None:
            rays = unit(eye - _torus_point(center, axis, x, y, big, small, u, t))
        vx, vy, vz = (rays * x).sum(1), (rays * y).sum(1), (rays * axis).sum(1)
        cu, su, ct, st = np.cos(u), np.sin(u), np.cos(t), np.sin(t)
        radial, turning = cu * vx + su * vy, cu * vy - su * vx
        f = ct * radial + st * vz
        gt, gu = (ct * vz - st * radial) / small, ct * turning / np.maximum(big + small * ct, 1e-9)
        step = -f / np.maximum(gt * gt + gu * gu, 1e-12)
        t, u = t + step * gt / small, u + step * gu / np.maximum(big + small * ct, 1e-9)
    n = np.cos(t)[:, None] * (np.cos(u)[:, None] * x + np.sin(u)[:, None] * y) + np.sin(t)[:, None] * axis
    return _torus_point(center, axis, x, y, big, small, u, t), n


def _torus_point(
    center: Floats, axis: Floats, x: Floats, y: Floats, big: Floats, small: Floats, u: Floats, t: Floats
) -> Floats:
    radial = np.cos(u)[:, None] * x + np.sin(u)[:, None] * y
    out: Floats = center + (big + small * np.cos(t))[:, None] * radial + (small * np.sin(t))[:, None] * axis
    return out
