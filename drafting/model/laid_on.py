"""A part that was moved as a whole laid on its other version."""

from collections import Counter, defaultdict
from collections.abc import Iterator

import numpy as np

from drafting.model.part_version import EVEN, Array, Face, Version

FIT, RIVAL, LEAST_VOTES = 0.3, 0.8, 3
"""A part is laid on the other if so large a share of its faces agree on one motion; where another motion has
this share of its votes, nothing is sure."""
MOST_DIRECTIONS, MOST_TRIED = 14, 8
"""Of each version that are looked at, and pairs of them that are tried."""


def laid_on(a: Version, b: Version) -> tuple[Array, bool] | None:
    """The rigid motion (4, 4) that lays most of one version on the other, by faces that are alike in kind,
    size and length of outline, and whether no other one does nearly as well, as on what is symmetric; None
    where too few agree on one."""
    tried: list[tuple[int, Array]] = []
    alike = [(f, g) for f in a.faces for g in b.faces if _is_alike(f, g)]
    for turn in _turns(a, b):
        if any(np.abs(turn - m[:3, :3]).max() < 1e-6 for _, m in tried):
            continue
        votes: Counter[tuple[float, ...]] = Counter()
        sums: dict[tuple[float, ...], Array] = defaultdict(lambda: np.zeros(3))
        for f, g in alike:
            along = float((turn @ f.axis) @ g.axis)
            if (along if f.kind == "plane" else abs(along)) < 1 - 1e-6:
                continue
            shift = g.middle - turn @ f.middle
            key = tuple(float(v) for v in np.round(shift / (5 * EVEN)))
            votes[key] += 1
            sums[key] = sums[key] + shift
        key, count = votes.most_common(1)[0] if votes else ((), 0)
        m = np.eye(4)
        m[:3, :3] = turn
        if count:
            m[:3, 3] = sums[key] / count
        tried.append((count, m))
    tried.sort(key=lambda found: -found[0])
    if not tried or tried[0][0] < max(LEAST_VOTES, FIT * min(len(a.faces), len(b.faces))):
        return None
    return tried[0][1], len(tried) < 2 or tried[1][0] < RIVAL * tried[0][0]


def _is_alike(a: Face, b: Face) -> bool:
    same = a.kind == b.kind and a.fact.hollow == b.fact.hollow
    return same and abs(a.radius - b.radius) < EVEN and abs(a.length - b.length) < 1e-3 * a.length


def _turns(a: Version, b: Version) -> Iterator[Array]:
    """Rotations that bring two directions of one version onto two of the other, as far apart: those of the
    longest outlines first."""
    mine, theirs = (_directions(s) for s in (a, b))
    tried = 0  # two directions say all of it, but an edit may have turned one of them
    for n, d1 in enumerate(mine[:MOST_DIRECTIONS]):
        for d2 in mine[n + 1 : MOST_DIRECTIONS]:
            between = float(d1 @ d2)
            if abs(between) > 0.95:
                continue
            for e1 in theirs:
                for e2 in theirs:
                    if abs(float(e1 @ e2) - between) < 1e-6:
                        yield _frame(e1, e2) @ _frame(d1, d2).T
            tried += 1
            if tried == MOST_TRIED:
                return


def _directions(side: Version) -> list[Array]:
    """Normals of planes, and both senses of axes, the longest outlines first, each once."""
    weight: dict[tuple[float, ...], float] = defaultdict(float)
    exact: dict[tuple[float, ...], Array] = {}
    for f in side.faces:
        if f.kind == "sphere":
            continue
        for d in (f.axis, -f.axis) if f.is_turned else (f.axis,):
            n = float(np.linalg.norm(d))
            if n < 1e-9:
                continue
            key = tuple(float(round(v, 3)) + 0.0 for v in d / n)
            weight[key] += f.length
            exact.setdefault(key, d / n)
    return [exact[k] for k in sorted(weight, key=lambda k: -weight[k])][:MOST_DIRECTIONS]


def _frame(d: Array, e: Array) -> Array:
    """Three directions square to each other in columns, the first along one, the second toward another."""
    across = e - d * float(d @ e)
    across = across / np.linalg.norm(across)
    return np.column_stack([d, across, np.cross(d, across)])
