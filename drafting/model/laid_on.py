"""A part that was moved as a whole laid on its other version."""

import itertools
from collections import Counter, defaultdict
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from drafting.model.part_version import EVEN, Array, Face, Version

FIT, RIVAL, LEAST_VOTES = 0.3, 0.8, 3
"""A part is laid on the other if so large a share of its faces agree on one motion; where another motion has
this share of its votes, nothing is sure."""
MOST_SHIFTS = 3
MOST_DIRECTIONS, MOST_TRIED = 14, 8
"""Directions of each version that are looked at, and pairs of them that are tried."""


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
    return _clearest(tried, a, b) or _clearest(list(_by_surfaces(a, b)), a, b)


def _clearest(tried: list[tuple[int, Array]], a: Version, b: Version) -> tuple[Array, bool] | None:
    """The motion with most votes, and whether no other one has nearly as many; None for too few."""
    tried.sort(key=lambda found: -found[0])
    if not tried or tried[0][0] < max(LEAST_VOTES, FIT * min(len(a.faces), len(b.faces))):
        return None
    return tried[0][1], len(tried) < 2 or tried[1][0] < RIVAL * tried[0][0]


def _by_surfaces(a: Version, b: Version) -> Iterator[tuple[int, Array]]:
    """Motions by what lies in the same surfaces, whatever became of its outline, as where the part was
    edited, too: along each of three directions the shifts that most planes and axes agree on; with how many
    faces then lie in a surface of the other version, those with the same outline twice."""
    mine, theirs = _Surfaces.of(a), _Surfaces.of(b)
    seen: list[Array] = []
    for turn in _turns(a, b):
        if any(np.abs(turn - other).max() < 1e-6 for other in seen):
            continue
        seen.append(turn)
        turned = mine.turned(turn)
        best: tuple[int, Array] | None = None
        for along in itertools.product(*(_shifts(turned, theirs, u) for u in turn.T)):
            count = turned.agreeing(theirs, turn @ np.array(along))
            if best is None or count > best[0]:
                m = np.eye(4)
                m[:3, :3], m[:3, 3] = turn, turn @ np.array(along)
                best = count, m
        if best is not None:
            yield best


@dataclass(frozen=True)
class _Surfaces:
    """Planes and turned faces of a version. sort: what must be equal, (n,) hashes; axis, at, middle of their
    outlines: (n, 3); length of these: (n,)."""

    plane: Array
    sort: Array
    axis: Array
    at: Array
    middle: Array
    length: Array

    @staticmethod
    def of(version: Version) -> "_Surfaces":
        faces = [f for f in version.faces if f.kind == "plane" or f.is_turned]
        sorts = [hash((f.kind, f.fact.hollow, round(f.radius / EVEN))) for f in faces]
        return _Surfaces(
            np.array([f.kind == "plane" for f in faces], bool),
            np.array(sorts, np.int64),
            np.array([f.axis for f in faces]).reshape(-1, 3),
            np.array([f.origin for f in faces]).reshape(-1, 3),
            np.array([f.middle for f in faces]).reshape(-1, 3),
            np.array([f.length for f in faces]),
        )

    def turned(self, turn: Array) -> "_Surfaces":
        return replace(self, axis=self.axis @ turn.T, at=self.at @ turn.T, middle=self.middle @ turn.T)

    def like(self, other: "_Surfaces") -> Array:
        """Which of the other's are of the same sort and direction, (n, m)."""
        along = self.axis @ other.axis.T
        along = np.where(self.plane[:, None], along, np.abs(along))
        out: Array = (self.sort[:, None] == other.sort[None]) & (along > 1 - 1e-7)
        return out

    def agreeing(self, other: "_Surfaces", shift: Array) -> int:
        """How many lie in a surface of the other's once they are shifted, and, once more, how many of these
        have the same outline."""
        i, j = np.nonzero(self.like(other))
        off = other.at[j] - (self.at[i] + shift)
        along = np.abs((off * self.axis[i]).sum(1))
        across = np.linalg.norm(np.cross(off, self.axis[i]), axis=1)
        near = np.where(self.plane[i], along, across) < EVEN
        away = np.linalg.norm(other.middle[j] - (self.middle[i] + shift), axis=1)
        same = near & (away < 5 * EVEN) & (np.abs(other.length[j] - self.length[i]) < 1e-3 * self.length[i])
        return len(np.unique(i[near])) + len(np.unique(i[same]))


def _shifts(a: _Surfaces, b: _Surfaces, u: Array) -> list[float]:
    """How far along a direction most planes across it, and axes, are shifted: the likeliest first."""
    along = np.abs(a.axis @ u)
    i, j = np.nonzero(a.like(b) & np.where(a.plane, along > 1 - 1e-6, along < 1e-6)[:, None])
    shift = (b.at[j] - a.at[i]) @ u
    keys, where, votes = np.unique(np.round(shift / (5 * EVEN)), return_inverse=True, return_counts=True)
    order = np.argsort(-votes, kind="stable")[:MOST_SHIFTS]
    return [float(shift[where == k].mean()) for k in order] if len(keys) else [0.0]


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
    out = [exact[k] for k in sorted(weight, key=lambda k: -weight[k])][:MOST_DIRECTIONS]
    if out and all(abs(float(d @ out[0])) > 0.95 for d in out):
        out += _across(side, out[0])
    return out


def _across(side: Version, along: Array) -> list[Array]:
    """Directions of what runs one way alone: from axis to axis, or any one where all is about one axis."""
    found: dict[tuple[float, ...], Array] = {}
    turned = [f for f in side.faces if f.is_turned]
    for f in turned:
        for g in turned:
            off = g.origin - f.origin
            off = off - along * float(off @ along)
            size = float(np.linalg.norm(off))
            if size > EVEN:
                found.setdefault(tuple(float(v) + 0.0 for v in np.round(off / size, 3)), off / size)
    if not found:
        any_one = np.cross(along, np.eye(3)[int(np.argmin(np.abs(along)))])
        return [any_one / np.linalg.norm(any_one)]
    return list(found.values())[:MOST_DIRECTIONS]


def _frame(d: Array, e: Array) -> Array:
    """Three directions square to each other in columns, the first along one, the second toward another."""
    across = e - d * float(d @ e)
    across = across / np.linalg.norm(across)
    return np.column_stack([d, across, np.cross(d, across)])
