"""Parts that are the same shape under different names: found by what does not change when a part is turned,
proved by turning it.

A part and its mirror image are not the same. Names, materials and what else is said of them are not looked
at.
"""

import math
from collections import Counter, defaultdict

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from drafting.model.model import EdgeFact, PartFacts

Array = NDArray[np.float64]
CLOSE = 1e-3
"""How far apart places of one shape may lie that are called the same, mm; or a millionth of its size where
that is more."""
MOST_TRIES = 3000

Label = tuple[str, int, int]
"""Kind of an edge, its length and its radius in hundredths of a millimeter."""


def same_shapes(parts: dict[str, PartFacts]) -> list[list[str]]:
    """Keys of parts of one shape, those of a group in the order they come in."""
    by_invariants: dict[object, list[str]] = defaultdict(list)
    for key, part in parts.items():
        if part.volume:
            by_invariants[_invariants(part)].append(key)
    out: list[list[str]] = []
    for keys in by_invariants.values():
        groups: list[list[str]] = []
        for key in keys:
            home = next((g for g in groups if _turns_into(parts[g[0]], parts[key])), None)
            if home is None:
                groups.append([key])
            else:
                home.append(key)
        out += [g for g in groups if len(g) > 1]
    order = {key: n for n, key in enumerate(parts)}
    return sorted(out, key=lambda g: order[g[0]])


def _invariants(part: PartFacts) -> object:
    """Of faces and edges the kinds and sizes, and the volume to five figures (rounding at a border may miss a
    pair, never make one)."""
    faces = Counter((f.kind, round(f.radius, 2), round(f.minor_radius, 2)) for f in part.faces)
    edges = Counter(_label(e) for e in _edges(part))
    return (f"{part.volume:.5g}", frozenset(faces.items()), frozenset(edges.items()))


def _edges(part: PartFacts) -> list[EdgeFact]:
    """Edges where two faces meet: a seam lies where the writer put it."""
    return [e for e in part.edges if len(set(e.faces)) == 2]


def _label(e: EdgeFact) -> Label:
    return (e.kind, round(e.length * 100), round(e.radius * 100))


def _turns_into(one: PartFacts, two: PartFacts) -> bool:
    """Whether a turn and a move bring one part onto the other."""
    (p, a), (q, b) = _points(one), _points(two)
    if len(p) != len(q) or Counter(a) != Counter(b):
        return False
    near = max(CLOSE, 1e-6 * math.dist(one.low, one.high))
    if not len(p):
        return True  # a sphere
    p, q = p - p.mean(0), q - q.mean(0)
    _, spread, rows = np.linalg.svd(p, full_matrices=False)
    if spread[0] < near:
        return True
    trees = {label: cKDTree(q[[n for n, x in enumerate(b) if x == label]]) for label in set(a)}

    def fits(turn: Array) -> bool:
        return all(trees[x].query(v)[0] < near for x, v in zip(a, p @ turn.T, strict=True))

    if len(spread) < 2 or spread[1] < near:  # all on one axis, as of turned parts
        axis, other = rows[0], np.linalg.svd(q, full_matrices=False)[2][0]
        return any(fits(_between(axis, sign * other)) for sign in (1, -1))
    first, second = _anchors(p, a)
    tries = 0
    for m in np.flatnonzero(_alike(p[first], a[first], q, b, near)):
        for n in np.flatnonzero(_alike(p[second], a[second], q, b, near)):
            if abs(np.linalg.norm(q[m] - q[n]) - np.linalg.norm(p[first] - p[second])) > 2 * near:
                continue
            tries += 1
            if tries > MOST_TRIES:
                return False
            if fits(_frame(q[m], q[n]) @ _frame(p[first], p[second]).T):
                return True
    return False


def _points(part: PartFacts) -> tuple[Array, list[Label]]:
    edges = _edges(part)
    at = [e.center if e.closed and e.center is not None else e.middle for e in edges]
    return np.array(at, float).reshape(-1, 3), [_label(e) for e in edges]


def _anchors(p: Array, labels: list[Label]) -> tuple[int, int]:
    """Two places that with the middle span a plane: of the rarest kinds, far out."""
    rare = Counter(labels)
    away = np.linalg.norm(p, axis=1)
    far = away > 0.5 * away.max()
    first = min(np.flatnonzero(far), key=lambda n: (rare[labels[n]], -away[n]))
    area = np.linalg.norm(np.cross(p, p[first]), axis=1)
    second = min(np.flatnonzero(area > 0.5 * area.max()), key=lambda n: (rare[labels[n]], -area[n]))
    return int(first), int(second)


def _alike(at: Array, label: Label, q: Array, labels: list[Label], near: float) -> NDArray[np.bool_]:
    same = np.array([x == label for x in labels])
    out: NDArray[np.bool_] = same & (np.abs(np.linalg.norm(q, axis=1) - np.linalg.norm(at)) < near)
    return out


def _frame(a: Array, b: Array) -> Array:
    """Columns: right-handed axes by two directions."""
    x = a / np.linalg.norm(a)
    z = np.cross(a, b)
    z = z / max(float(np.linalg.norm(z)), 1e-12)
    out: Array = np.stack([x, np.cross(z, x), z], 1)
    return out


def _between(a: Array, b: Array) -> Array:
    """A turn that takes one unit vector to another."""
    side = np.eye(3)[int(np.argmin(np.abs(a)))]
    across = np.cross(a, b)
    if float(np.linalg.norm(across)) > 1e-9:
        return _frame(b, np.cross(across, b)) @ _frame(a, np.cross(across, a)).T
    half = np.cross(a, side)
    half = half / np.linalg.norm(half)
    return np.eye(3) if float(a @ b) > 0 else 2 * np.outer(half, half) - np.eye(3)
