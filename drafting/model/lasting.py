"""Faces of one version of a part found again in the next: the same one, one that likely is, or none.

On plain facts alone. First what lies in the same place with the same outline, then what lies in the same
surface, then what moved or grew, by what it meets. Each is silent only where nothing else could be meant;
what another face would fit nearly as well is not told apart, and lost.
"""

from collections import Counter, defaultdict
from collections.abc import Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.optimize import linear_sum_assignment

from drafting.model.laid_on import laid_on
from drafting.model.model import EdgeFact, PartFacts
from drafting.model.part_version import (
    EVEN,
    Array,
    Face,
    Version,
    away,
    has_same_outline,
    is_same_surface,
    overlap,
)

Certainty = Literal["same", "surface", "moved", "likely"]
MOVE, RADIUS, CONTEXT, ACCEPT, MARGIN = 0.12, 0.25, 0.5, 0.60, 0.10
"""What may be matched at all: moved by a share of the part's size, grown by a share of its radius, with so
much of what it meets, at such a cost, and so much cheaper than any rival."""
SILENT, SILENT_PLANE, ALIKE = 0.06, 0.15, 0.5
"""What needs no word: moved by no more than a share of the part's size, and of the way to what is alike."""
ROUNDS = 4
FAR = 9.0
HALF = 0.5
"""A part may have been moved as a whole where fewer faces than this share lie as they did."""


@dataclass(frozen=True)
class Found:
    """Faces of the old version by name, with their names in the new one, and how sure that is."""

    faces: Mapping[str, str]
    certainty: Mapping[str, Certainty]
    edges: Mapping[str, str]
    moved: Array
    """How the part as a whole was moved, (4, 4): a place of the old version in the frame of the new one."""

    @property
    def silent(self) -> dict[str, str]:
        """Those that need no word."""
        return {a: b for a, b in self.faces.items() if self.certainty[a] != "likely"}


class _Matching:
    def __init__(self, a: Version, b: Version) -> None:
        self.a, self.b = a, b
        self.size = max(a.size, b.size)
        self.pairs: dict[int, int] = {}
        self.back: dict[int, int] = {}
        self.why: dict[int, Certainty] = {}

    def take(self, i: int, j: int, why: Certainty) -> None:
        self.pairs[i], self.back[j], self.why[i] = j, i, why

    def run(self) -> None:
        for face in self.a.faces:
            here = [b for b in self._free_b() if is_same_surface(face, b) and has_same_outline(face, b)]
            if len(here) == 1:
                self.take(face.n, here[0].n, "same")
        there = {
            face.n: [b.n for b in self._free_b() if is_same_surface(face, b) and overlap(face, b) > 0.2]
            for face in self._free_a()
        }
        wanted = Counter(j for found in there.values() for j in found)
        for i, found in there.items():
            if len(found) == 1 and wanted[found[0]] == 1:
                self.take(i, found[0], "surface")
        for _ in range(ROUNDS):
            if not self._round():
                break
        self._guard_rows()

    def _free_a(self) -> list[Face]:
        return [f for f in self.a.faces if f.n not in self.pairs]

    def _free_b(self) -> list[Face]:
        return [f for f in self.b.faces if f.n not in self.back]

    def _round(self) -> bool:
        """What moved or grew, by its neighbors; each round's matches are the next one's anchors."""
        rows, columns = self._free_a(), self._free_b()
        if not rows or not columns:
            return False
        costs = np.array([[self._cost(a, b) for b in columns] for a in rows])
        new = []
        for x, y in zip(*linear_sum_assignment(costs), strict=True):
            cost = costs[x, y]
            rivals = np.concatenate([np.delete(costs[x], y), np.delete(costs[:, y], x)])
            if cost <= ACCEPT and (not len(rivals) or rivals.min() >= cost + MARGIN):
                new.append((rows[x], columns[y]))
        for a, b in new:
            self.take(a.n, b.n, "moved" if self._is_sure(a, b) else "likely")
        return bool(new)

    def _cost(self, a: Face, b: Face) -> float:
        if a.kind != b.kind or a.fact.hollow != b.fact.hollow:
            return FAR
        along = float(a.axis @ b.axis)
        if (a.kind == "plane" and along < 0.99) or (a.is_turned and abs(along) < 0.99):
            return FAR
        grown = 0.0
        largest = max(abs(a.radius), abs(b.radius))
        if a.kind in ("cylinder", "sphere", "torus") and largest > 0:
            grown = abs(a.radius - b.radius) / largest
        moved = _moved(a, b)
        if grown > RADIUS or moved > MOVE * self.size:
            return FAR
        context = self._context(a, b)
        if context < CONTEXT:
            return FAR
        alike = sum(x[a.n] == y[b.n] for x, y in zip(self.a.labels, self.b.labels, strict=True)) / 3
        longest = max(a.length, b.length)
        shorter = 1 - min(a.length, b.length) / longest if longest else 0.0
        near = min(1.0, moved / (MOVE * self.size))
        return 0.35 * (1 - context) + 0.20 * (1 - alike) + 0.25 * near + 0.1 * grown / RADIUS + 0.1 * shorter

    def _context(self, a: Face, b: Face) -> float:
        """Of what a meets and was found again, the share that b meets in the same way."""
        known = [(turn, self.pairs[m]) for turn, m in a.meets if m in self.pairs]
        if not known:
            return 0.0
        left = Counter(b.meets)
        hits = 0
        for k in known:
            if left[k] > 0:
                left[k] -= 1
                hits += 1
        return hits / max(len(known), sum(1 for _, m in b.meets if m in self.back))

    def _is_sure(self, a: Face, b: Face) -> bool:
        """Whether nothing else could be meant: it is near, and far nearer than anything that looks alike."""
        moved = _moved(a, b)
        limit = SILENT_PLANE if a.kind == "plane" else SILENT
        alike = [away(o.middle, a.middle) for o in self.a.faces if o is not a and o.look() == a.look()]
        alike += [away(o.middle, a.middle) for o in self.b.faces if o is not b and o.look() == a.look()]
        return moved <= limit * self.size and moved <= ALIKE * min(alike, default=np.inf)

    def _guard_rows(self) -> None:
        """A whole set of equal faces that is shifted onto itself, as a row by its pitch: the same place is no
        proof then."""
        groups: dict[Hashable, tuple[list[Face], list[Face]]] = defaultdict(lambda: ([], []))
        for side, faces in ((0, self.a.faces), (1, self.b.faces)):
            for f in faces:
                if f.kind in ("cylinder", "cone"):
                    groups[f.look()][side].append(f)
        for mine, theirs in groups.values():
            if len(mine) != len(theirs) or len(mine) < 2 or all(self.why.get(f.n) == "same" for f in mine):
                continue
            p, q = (np.array(sorted(tuple(np.round(f.middle, 3)) for f in g)) for g in (mine, theirs))
            shift = q - p
            is_one = float(np.linalg.norm(shift - shift[0], axis=1).max()) < 5 * EVEN
            across = float(np.linalg.norm(np.cross(shift[0], mine[0].axis))) > 5 * EVEN
            if is_one and across and any(self.why.get(f.n) in ("same", "surface") for f in mine):
                for f in mine:
                    if f.n in self.why:
                        self.why[f.n] = "likely"


def _moved(a: Face, b: Face) -> float:
    """How far a surface moved across itself, mm: a plane along its normal, a cylinder across its axis."""
    off = b.origin - a.origin
    if a.kind == "plane":
        return abs(float(off @ a.axis))
    if a.is_turned:
        return float(np.linalg.norm(np.cross(off, a.axis)))
    return away(a.middle, b.middle)


def found_again(old: PartFacts, new: PartFacts) -> Found:
    """Faces and edges of the old version in the new one. Where less than half of it lies as it did, the part
    may have been moved as a whole: it is laid on the new one first."""
    a, b = Version(old, np.eye(4)), Version(new, np.eye(4))
    matching, is_sure = _Matching(a, b), True
    matching.run()
    if sum(w == "same" for w in matching.why.values()) < HALF * min(len(a.faces), len(b.faces)):
        found = laid_on(a, b)
        if found is not None:
            other = _Matching(Version(old, found[0]), b)
            other.run()
            if len(other.pairs) > len(matching.pairs):
                a, matching, is_sure = other.a, other, found[1]
    names = {a.faces[i].fact.name: b.faces[j].fact.name for i, j in matching.pairs.items()}
    certainty = {a.faces[i].fact.name: why if is_sure else "likely" for i, why in matching.why.items()}
    return Found(names, certainty, dict(_edges(a, new, names)), a.moved)


def found_by_role(old: PartFacts, new: PartFacts) -> Found:
    """Faces and edges of an earlier state of a recipe in a later one: by feature and role. Pieces of a face
    are numbered by place, and only likely where another piece could be meant."""
    a, b = Version(old, np.eye(4)), Version(new, np.eye(4))
    theirs = {f.fact.name: f for f in b.faces}
    names = {f.fact.name: f.fact.name for f in a.faces if f.fact.name in theirs}
    certainty: dict[str, Certainty] = dict.fromkeys(names, "same")
    pieces: dict[str, list[Face]] = defaultdict(list)
    for f in a.faces:
        pieces[f.fact.name.partition("~")[0]].append(f)
    for f in a.faces:
        name = f.fact.name
        mine = pieces[name.partition("~")[0]]
        if name in names and (len(mine) > 1 or "~" in name):
            moved = away(f.middle, theirs[name].middle)
            others = [away(f.middle, o.middle) for o in mine if o is not f]
            if moved > EVEN and moved >= ALIKE * min(others, default=0.0):
                certainty[name] = "likely"
        elif name in names and has_moved(f, theirs[name]):
            certainty[name] = "moved"
    return Found(names, certainty, dict(_edges(a, new, names)), a.moved)


def has_moved(a: Face, b: Face) -> bool:
    """Whether a face has another outline or lies in another surface."""
    return not (is_same_surface(a, b) and has_same_outline(a, b))


def _edges(a: Version, new: PartFacts, faces: Mapping[str, str]) -> Iterator[tuple[str, str]]:
    """Edges by the faces that they lie between; of several between the same faces the nearest where that is
    clear."""
    between: dict[tuple[str, ...], list[EdgeFact]] = defaultdict(list)
    for e in new.edges:
        between[tuple(sorted(e.faces))].append(e)
    groups: dict[tuple[str, ...], list[EdgeFact]] = defaultdict(list)
    for e in a.part.edges:
        if e.faces and all(name in faces for name in e.faces):
            groups[tuple(sorted(faces[name] for name in e.faces))].append(e)
    for key, mine in groups.items():
        theirs = between.get(key, [])
        if len(mine) == len(theirs) == 1:
            if mine[0].kind == theirs[0].kind:
                yield mine[0].name, theirs[0].name
            continue
        if theirs:
            yield from _nearest(mine, theirs, a)


def _nearest(mine: Sequence[EdgeFact], theirs: Sequence[EdgeFact], a: Version) -> Iterator[tuple[str, str]]:
    """Several edges between the same faces: each the nearest one of its kind, where that is clear. Where as
    many are there and none has stayed, all of them may have moved together."""
    p, q = (np.array([a.placed(np.array(e.middle)) for e in mine]), np.array([o.middle for o in theirs]))
    other = np.array([[e.kind != o.kind for o in theirs] for e in mine])
    far = np.where(other, np.inf, np.linalg.norm(p[:, None] - q[None], axis=2))
    if len(mine) == len(theirs) and far.min() > EVEN:
        p = p + (q.mean(0) - p.mean(0))
        far = np.where(other, np.inf, np.linalg.norm(p[:, None] - q[None], axis=2))
    costs = np.where(far < EVEN, 0.0, far + 1e6)  # what has stayed is never another one that has moved
    for x, y in zip(*linear_sum_assignment(np.where(other, 1e9, costs)), strict=True):
        rivals = np.concatenate([np.delete(far[x], y), np.delete(far[:, y], x)])
        least = rivals.min() if len(rivals) else np.inf
        if np.isfinite(far[x, y]) and (far[x, y] < 0.5 * least or far[x, y] < EVEN):
            yield mine[x].name, theirs[y].name
