"""Where on a curve the surface itself lets it be seen, and where beside it rays toward the viewer start."""

import math

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import SILHOUETTE, SMOOTH, Bools, Floats, Ints
from drafting.views.visibility.silhouettes import ZERO


@compiled("(int64, int64, f8, f8)")
def shows(kind: int, convex: int, first: float, second: float) -> bool:
    """Whether the surface beside a curve lets it be seen: a ridge while one side faces the viewer, a groove
    only while both do. first, second: how far the sides face the viewer."""
    if kind == SILHOUETTE:
        return convex > 0
    if kind == SMOOTH:
        return first + second > 0
    if convex == 0:
        return True
    most, least = max(first, second), min(first, second)
    return most > 0 if convex > 0 else (least >= 0 and most > 0)


@compiled("(int64[::1], int64[::1], int64[::1], float64[::1], float64[::1])")
def shown(owner: Ints, kind: Ints, convex: Ints, first: Floats, second: Floats) -> Bools:
    """The same for places on curves: the curve of each, kind and convexity of all curves, how far the sides
    face the viewer at each place."""
    out = np.empty(len(owner), np.bool_)
    for i in range(len(owner)):
        out[i] = shows(kind[owner[i]], convex[owner[i]], first[i], second[i])
    return out


@compiled(
    "(float64[::1], int64[::1], boolean[::1], f8, f8, int64[::1], int64[::1], int64[::1], int64[::1],"
    " boolean[:,::1], int64[:,::1], boolean[:,::1], float64[::1],"
    " float64[:,::1], float64[:,:,::1], float64[:,::1])"
)
def ray_starts(
    place: Floats,
    curve: Ints,
    done: Bools,
    reach: float,
    near: float,
    start: Ints,
    count: Ints,
    kind: Ints,
    convex: Ints,
    there: Bools,
    sense: Ints,
    curved: Bools,
    linear: Floats,
    points: Floats,
    normals: Floats,
    faces: Floats,
) -> tuple[Ints, Floats]:
    """Starts of rays for places on curves (node number plus fraction) that the surface lets be seen, but for
    those done: rows of the places and starts in view coordinates.

    A ray for each side that faces the viewer, `reach` deflections away where the side is curved and 2 `near`
    where it is flat. Of all curves: first node, number of nodes, kind, convexity, whether there is a face at
    either side, its sense, whether it is curved (K, 2), deflection of the triangles, mm. Of all nodes: points
    (N, 3), normals (2, N, 3), how far the sides face the viewer (2, N).
    """
    which, out = np.empty(3 * len(place), np.int64), np.empty((3 * len(place), 3))
    rays = 0
    for i in range(len(place)):
        if done[i]:
            continue
        c = curve[i]
        n = min(int(place[i]), start[c] + count[c] - 2)
        k = place[i] - n
        a = faces[0, n] * (1 - k) + faces[0, n + 1] * k
        b = faces[1, n] * (1 - k) + faces[1, n + 1] * k
        a = 0.0 if abs(a) < ZERO else a
        b = 0.0 if abs(b) < ZERO else b
        if not shows(kind[c], convex[c], a, b):
            continue
        px = points[n, 0] * (1 - k) + points[n + 1, 0] * k
        py = points[n, 1] * (1 - k) + points[n + 1, 1] * k
        pz = points[n, 2] * (1 - k) + points[n + 1, 2] * k
        ax = normals[0, n, 0] * (1 - k) + normals[0, n + 1, 0] * k
        ay = normals[0, n, 1] * (1 - k) + normals[0, n + 1, 1] * k
        az = normals[0, n, 2] * (1 - k) + normals[0, n + 1, 2] * k
        away = linear[c] * reach
        if kind[c] == SILHOUETTE:
            which[rays] = i
            out[rays, 0], out[rays, 1] = px + 1.5 * away * ax, py + 1.5 * away * ay
            out[rays, 2] = pz + 1.5 * away * az + near
            rays += 1
            continue
        bx = normals[1, n, 0] * (1 - k) + normals[1, n + 1, 0] * k
        by = normals[1, n, 1] * (1 - k) + normals[1, n + 1, 1] * k
        bz = normals[1, n, 2] * (1 - k) + normals[1, n + 1, 2] * k
        tx, ty = points[n + 1, 0] - points[n, 0], points[n + 1, 1] - points[n, 1]
        tz = points[n + 1, 2] - points[n, 2]
        long = max(math.sqrt(tx * tx + ty * ty + tz * tz), 1e-300)
        tx, ty, tz = tx / long, ty / long, tz / long
        for side in range(2):
            facing, nx, ny, nz = (a, ax, ay, az) if side == 0 else (b, bx, by, bz)
            if not there[c, side] or facing <= 0:
                continue
            s = sense[c, side]
            step = away if curved[c, side] else 2 * near
            which[rays] = i
            out[rays, 0] = px + step * (s * (ny * tz - nz * ty) + nx)
            out[rays, 1] = py + step * (s * (nz * tx - nx * tz) + ny)
            out[rays, 2] = pz + step * (s * (nx * ty - ny * tx) + nz)
            rays += 1
        if convex[c] < 0 and (curved[c, 0] or curved[c, 1]) and a > 0 and b > 0:
            # a groove beside a curved face: out between both sides, clear of triangles that lean over it
            which[rays] = i
            out[rays, 0] = px + 2 * away * (ax + bx)
            out[rays, 1] = py + 2 * away * (ay + by)
            out[rays, 2] = pz + 2 * away * (az + bz)
            rays += 1
        elif convex[c] == 0 and a <= 0 and b <= 0:
            which[rays] = i
            out[rays, 0], out[rays, 1], out[rays, 2] = px, py, pz + near
            rays += 1
    return which[:rays], out[:rays]
