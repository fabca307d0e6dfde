"""The exact outlines of plain surfaces: marched points are moved onto them, and the side on which the surface
lies is told by its curvature."""

import math

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import (
    CONE,
    CYLINDER,
    SPHERE,
    TORUS,
    Bools,
    FacetedPart,
    Floats,
    Ints,
)

Vector = tuple[float, float, float]
TORUS_STEPS = 5
"""Steps of Newton's method on a torus."""
FAR, FAR_ON_TORUS = 40.0, 12.0
"""How far a marched point may be moved, in deflections of the triangles."""


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
    kinds, origins, axes, radii, minors, _ = _columns(part)
    sight = np.ascontiguousarray(toward if eye is None else eye, float)
    return _curves_away(
        kinds, origins, axes, radii, minors, points, normals, ends, faces, guess, sight, eye is not None
    )


def onto_surface(
    part: FacetedPart, points: Floats, normals: Floats, face: Ints, toward: Floats | None, eye: Floats | None
) -> tuple[Floats, Floats]:
    """Move marched points onto the exact silhouette of their surface; left alone where that would carry them
    far. The normals are turned in place."""
    sight = np.ascontiguousarray(toward if eye is None else eye, float)
    moved = _onto(*_columns(part), points, normals, face, sight, eye is not None, float(part.linear))
    return moved, normals


def _columns(part: FacetedPart) -> tuple[Ints, Floats, Floats, Floats, Floats, Floats]:
    return (
        np.ascontiguousarray(part.face_kind, np.int64),
        np.ascontiguousarray(part.face_origin, float),
        np.ascontiguousarray(part.face_axis, float),
        np.ascontiguousarray(part.face_radius, float),
        np.ascontiguousarray(part.face_minor, float),
        np.ascontiguousarray(part.face_angle, float),
    )


@compiled("(float64[:,::1], int64)")
def _row(rows: Floats, k: int) -> Vector:
    return rows[k, 0], rows[k, 1], rows[k, 2]


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3))")
def _dot(a: Vector, b: Vector) -> float:
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3))")
def _less(a: Vector, b: Vector) -> Vector:
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@compiled("(UniTuple(f8, 3), f8, UniTuple(f8, 3))")
def _on(a: Vector, k: float, b: Vector) -> Vector:
    """a + k b."""
    return a[0] + k * b[0], a[1] + k * b[1], a[2] + k * b[2]


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3))")
def _cross(a: Vector, b: Vector) -> Vector:
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


@compiled("(UniTuple(f8, 3),)")
def _unit(a: Vector) -> Vector:
    size = max(math.sqrt(a[0] * a[0] + a[1] * a[1] + a[2] * a[2]), 1e-12)
    return a[0] / size, a[1] / size, a[2] / size


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3))")
def _square_to(a: Vector, axis: Vector) -> Vector:
    """What is left of a vector beside its part along a unit axis."""
    return _on(a, -_dot(a, axis), axis)


@compiled("(UniTuple(f8, 3), f8, UniTuple(f8, 3))")
def _turned(a: Vector, k: float, b: Vector) -> Vector:
    """k a for a vector that points away from b's side, -k a for one toward it: the sign of a . b."""
    k = k if _dot(a, b) >= 0 else -k
    return a[0] * k, a[1] * k, a[2] * k


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3), f8, UniTuple(f8, 3), UniTuple(f8, 3), boolean)")
def _on_cylinder(
    axis: Vector, origin: Vector, radius: float, p: Vector, sight: Vector, from_eye: bool
) -> tuple[Vector, Vector]:
    """Where the outline runs beside p, and the normal there. From an eye at distance e of the axis the
    tangent touches where cos = r / e."""
    foot = _on(origin, _dot(_less(p, origin), axis), axis)
    beside = _less(p, foot)
    if from_eye:
        out = _square_to(_less(sight, origin), axis)
        away = math.sqrt(_dot(out, out))
        out = _unit(out)
        c = min(max(radius / max(away, 1e-9), -1.0), 1.0)
        n = _on(_turned(_unit(_cross(axis, out)), math.sqrt(1 - c * c), beside), c, out)
        return _on(foot, radius, n), n
    across = _cross(axis, sight)
    n = _turned(_unit(across), 1.0, beside)
    if math.sqrt(_dot(across, across)) < 1e-9:  # seen along the axis
        return p, n
    return _on(foot, radius, n), n


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3), f8, UniTuple(f8, 3), UniTuple(f8, 3), boolean)")
def _on_cone(
    axis: Vector, apex: Vector, half: float, p: Vector, sight: Vector, from_eye: bool
) -> tuple[Vector, Vector]:
    """The tangent lines of a cone: cos h (u . v) = sin h (a . v) for the radial direction u, h the half
    angle, a the axis. Every tangent plane holds the apex, so from an eye the ray to the apex decides."""
    ray = _unit(_less(sight, apex)) if from_eye else sight
    height, along = _dot(_less(p, apex), axis), _dot(ray, axis)
    across = _square_to(ray, axis)
    size = max(math.sqrt(_dot(across, across)), 1e-12)
    ux = across[0] / size, across[1] / size, across[2] / size
    c = math.tan(half) * along / size
    if c * c > 1:  # the cone is seen from within its own angle: it has no outline
        return (np.nan, np.nan, np.nan), axis
    turn = 1.0 if height * math.tan(half) >= 0 else -1.0
    side = _turned(_cross(axis, ux), turn * math.sqrt(1 - c * c), _square_to(_less(p, apex), axis))
    u = _on(side, c, ux)
    out = _on(axis, math.tan(half), u)
    n = _on((u[0] * math.cos(half), u[1] * math.cos(half), u[2] * math.cos(half)), -math.sin(half), axis)
    return _on(apex, height, out), _unit(n)


@compiled("(UniTuple(f8, 3), f8, UniTuple(f8, 3), UniTuple(f8, 3), boolean)")
def _on_sphere(
    center: Vector, radius: float, p: Vector, sight: Vector, from_eye: bool
) -> tuple[Vector, Vector]:
    away = _less(p, center)
    if from_eye:
        out = _less(sight, center)
        distance = math.sqrt(_dot(out, out))
        out = _unit(out)
        k = math.sqrt(max(1 - (radius / distance) ** 2, 0.0))
        side = _unit(_square_to(away, out))
        n = _on((side[0] * k, side[1] * k, side[2] * k), radius / distance, out)
    else:
        n = _unit(_square_to(away, sight))
    return _on(center, radius, n), n


@compiled("(UniTuple(f8, 3), UniTuple(f8, 3), f8, f8, UniTuple(f8, 3), UniTuple(f8, 3), boolean)")
def _on_torus(
    axis: Vector, center: Vector, big: float, small: float, p: Vector, sight: Vector, from_eye: bool
) -> tuple[Vector, Vector]:
    """Newton steps along the surface gradient of normal times direction, in the angles about the axis (u) and
    about the tube (t)."""
    x = _unit(_cross(axis, (1.0, 0.0, 0.0) if abs(axis[0]) < 0.9 else (0.0, 1.0, 0.0)))
    y = _cross(axis, x)
    away = _less(p, center)
    px, py = _dot(away, x), _dot(away, y)
    u, t = math.atan2(py, px), math.atan2(_dot(away, axis), math.hypot(px, py) - big)
    ray = sight
    for _ in range(TORUS_STEPS):
        cu, su, ct, st = math.cos(u), math.sin(u), math.cos(t), math.sin(t)
        ring = big + small * ct
        if from_eye:
            ray = _unit(_less(sight, _on(_on(_on(center, ring * cu, x), ring * su, y), small * st, axis)))
        vx, vy, vz = _dot(ray, x), _dot(ray, y), _dot(ray, axis)
        radial, turning = cu * vx + su * vy, cu * vy - su * vx
        ring = max(ring, 1e-9)
        gt, gu = (ct * vz - st * radial) / small, ct * turning / ring
        step = -(ct * radial + st * vz) / max(gt * gt + gu * gu, 1e-12)
        t, u = t + step * gt / small, u + step * gu / ring
    cu, su, ct, st = math.cos(u), math.sin(u), math.cos(t), math.sin(t)
    ring = big + small * ct
    moved = _on(_on(_on(center, ring * cu, x), ring * su, y), small * st, axis)
    return moved, (
        ct * (cu * x[0] + su * y[0]) + st * axis[0],
        ct * (cu * x[1] + su * y[1]) + st * axis[1],
        ct * (cu * x[2] + su * y[2]) + st * axis[2],
    )


@compiled(
    "(int64[::1], float64[:,::1], float64[:,::1], float64[::1], float64[::1],"
    " float64[:,::1], float64[:,::1], int64[:,::1], int64[::1], boolean[::1], float64[::1], boolean)"
)
def _curves_away(
    kinds: Ints,
    origins: Floats,
    axes: Floats,
    radii: Floats,
    minors: Floats,
    points: Floats,
    normals: Floats,
    ends: Ints,
    faces: Ints,
    guess: Bools,
    sight: Floats,
    from_eye: bool,
) -> Bools:
    out = guess.copy()
    seen = (sight[0], sight[1], sight[2])
    for i in range(len(faces)):
        face = faces[i]
        kind = kinds[face]
        if kind not in (CYLINDER, CONE, SPHERE, TORUS):
            continue
        axis, origin = _row(axes, face), _row(origins, face)
        # of both ends the one farther from the axis: an apex has no direction
        best, away, far = ends[0, i], (0.0, 0.0, 0.0), -1.0
        for side in range(2):
            radial = _less(_row(points, ends[side, i]), origin)
            if kind != SPHERE:
                radial = _square_to(radial, axis)
            if _dot(radial, radial) > far:
                best, away, far = ends[side, i], radial, _dot(radial, radial)
        p, n = _row(points, best), _row(normals, best)
        if kind != TORUS:
            out[i] = _dot(away, n) > 0
            continue
        ray = _unit(_less(seen, p)) if from_eye else seen
        u = _unit(away)
        tube = _on(_less(p, origin), -radii[face], u)
        cos = _dot(tube, u) / minors[face]
        around = _dot(_cross(axis, u), ray) ** 2
        bend = (1 - around) / minors[face] + around * cos / max(math.sqrt(far), 1e-9)
        out[i] = (bend > 0) == (_dot(tube, n) > 0)
    return out


@compiled(
    "(int64[::1], float64[:,::1], float64[:,::1], float64[::1], float64[::1], float64[::1],"
    " float64[:,::1], float64[:,::1], int64[::1], float64[::1], boolean, f8)"
)
def _onto(
    kinds: Ints,
    origins: Floats,
    axes: Floats,
    radii: Floats,
    minors: Floats,
    angles: Floats,
    points: Floats,
    normals: Floats,
    faces: Ints,
    sight: Floats,
    from_eye: bool,
    linear: float,
) -> Floats:
    out = points.copy()
    seen = (sight[0], sight[1], sight[2])
    for i in range(len(faces)):
        face = faces[i]
        kind = kinds[face]
        if kind not in (CYLINDER, CONE, SPHERE, TORUS):
            continue
        axis, origin, p = _row(axes, face), _row(origins, face), _row(points, i)
        if kind == CYLINDER:
            moved, n = _on_cylinder(axis, origin, radii[face], p, seen, from_eye)
        elif kind == CONE:
            moved, n = _on_cone(axis, origin, angles[face], p, seen, from_eye)
        elif kind == SPHERE:
            moved, n = _on_sphere(origin, radii[face], p, seen, from_eye)
        else:
            moved, n = _on_torus(axis, origin, radii[face], minors[face], p, seen, from_eye)
        step = _less(moved, p)
        far = (FAR_ON_TORUS if kind == TORUS else FAR) * linear
        if not math.sqrt(_dot(step, step)) < far:  # nan, too, where there is no such place
            continue
        sign = 1.0 if _dot(n, _row(normals, i)) >= 0 else -1.0
        for k in range(3):
            out[i, k], normals[i, k] = moved[k], sign * n[k]
    return out
