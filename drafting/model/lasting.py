"""Faces of one version of a part found again in the next: the same one, one that likely is, or none.

On plain facts alone. First what lies in the same place with the same outline, then what lies in the same
surface, then what moved or grew, by what it meets. Each is silent only where nothing else could be meant;
what another face would fit nearly as well is not told apart, and lost.
"""

from collections import Counter, defaultdict
from collections.abc import Hashable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import linear_sum_assignment

from drafting.model.model import EdgeFact, FaceFact, PartFacts

Array = NDArray[np.float64]
Certainty = Literal["same", "surface", "moved", "likely"]
EVEN = 1e-3
"""How far the same place may be off, mm."""
MOVE, RADIUS, CONTEXT, ACCEPT, MARGIN = 0.12, 0.25, 0.5, 0.60, 0.10
"""What may be matched at all: moved by a share of the part's size, grown by a share of its radius, with so
much of what it meets, at such a cost, and so much cheaper than any rival."""
SILENT, SILENT_PLANE, ALIKE = 0.06, 0.15, 0.5
"""What needs no word: moved by no more than a share of the part's size, and of the way to what is alike."""
ROUNDS = 4
HALF, FIT, RIVAL, LEAST_VOTES = 0.5, 0.3, 0.8, 3
"""A part is laid on the other where fewer faces than this share lie as they did, if so many agree on one
motion; where another motion has this share of its votes, nothing is sure."""
MOST_DIRECTIONS, MOST_TRIED = 14, 8
"""Of each version that are looked at, and pairs of them that are tried."""
FAR = 9.0
NEW = " +"
"""Put to a name that what is new would share with what was there."""


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


@dataclass(eq=False)
class _Face:
    """A face with what it is compared by: the middle and the box of its outline, how long that is, and the
    faces that it meets, each with the turn of the edge between."""

    n: int
    fact: FaceFact
    origin: Array
    axis: Array
    middle: Array = field(default_factory=lambda: np.zeros(3))
    low: Array = field(default_factory=lambda: np.zeros(3))
    high: Array = field(default_factory=lambda: np.zeros(3))
    length: float = 0.0
    meets: list[tuple[str, int]] = field(default_factory=list)

    @property
    def kind(self) -> str:
        return self.fact.kind

    @property
    def is_turned(self) -> bool:
        """Whether its axis has no sense."""
        return self.kind in ("cylinder", "torus", "cone")

    def direction(self) -> tuple[float, ...]:
        """Its axis, rounded; of turned ones without sense."""
        a = self.axis
        if self.is_turned:
            lead = next((x for x in a if abs(x) > 1e-3), 1.0)
            a = a if lead > 0 else -a
        return tuple(float(round(x, 2)) + 0.0 for x in a)

    def look(self) -> Hashable:
        """What tells it from others apart from its place."""
        return self.kind, self.fact.hollow, round(self.fact.radius, 3), self.direction()


class _Side:
    """One version."""

    def __init__(self, part: PartFacts, moved: Array) -> None:
        self.part, self.moved = part, moved
        self.size = float(np.linalg.norm(np.array(part.high) - np.array(part.low))) or 1.0
        numbers = {f.name: n for n, f in enumerate(part.faces)}
        turn = moved[:3, :3]
        self.faces = [
            _Face(n, f, self.placed(np.array(f.origin)), turn @ np.array(f.axis))
            for n, f in enumerate(part.faces)
        ]
        outlines: dict[int, list[tuple[Array, float]]] = defaultdict(list)
        for e in part.edges:
            owners = [numbers[name] for name in e.faces if name in numbers]
            for n in owners:
                outlines[n] += [(self.placed(at), w) for at, w in _sampled(e)]
            for n, m in ((a, b) for a in owners for b in owners if a != b):
                self.faces[n].meets.append((e.turn, m))
        for face in self.faces:
            if outlines[face.n]:
                p = np.array([at for at, _ in outlines[face.n]])
                weights = np.array([w for _, w in outlines[face.n]])
                face.low, face.high, face.length = p.min(0), p.max(0), float(weights.sum())
                face.middle = (p * weights[:, None]).sum(0) / max(face.length, 1e-12)
            else:  # a whole sphere or torus
                r = face.fact.radius + face.fact.minor_radius
                face.middle, face.low, face.high = face.origin, face.origin - r, face.origin + r

    def placed(self, p: Array) -> Array:
        """A place of the part in the frame that is compared in."""
        out: Array = self.moved[:3, :3] @ p + self.moved[:3, 3]
        return out

    @cached_property
    def labels(self) -> list[list[Hashable]]:
        """What each face is, then with what it meets, then with what that meets."""
        now: list[Hashable] = [
            (f.kind, f.fact.hollow, round(f.fact.radius, 2), round(f.fact.half_angle, 2), f.direction())
            for f in self.faces
        ]
        out = [now]
        for _ in range(2):
            now = [
                hash((now[f.n], frozenset(Counter((t, now[m]) for t, m in f.meets).items())))
                for f in self.faces
            ]
            out.append(now)
        return out


def _sampled(e: EdgeFact) -> list[tuple[Array, float]]:
    """Places along an edge, each with the length that it stands for."""
    if e.kind == "circle" and e.center is not None and e.axis is not None and e.x_axis is not None:
        x, y = np.array(e.x_axis), np.cross(e.axis, e.x_axis)
        t = e.first + (e.last - e.first) * (np.arange(16) + 0.5) / 16
        places = np.array(e.center) + e.radius * (np.outer(np.cos(t), x) + np.outer(np.sin(t), y))
        return [(p, e.length / 16) for p in places]
    share = e.length / 4
    return [(np.array(e.start), share), (np.array(e.middle), 2 * share), (np.array(e.end), share)]


# ---- one surface -------------------------------------------------------------------------------------------
def _is_same_surface(a: _Face, b: _Face) -> bool:
    if a.kind != b.kind or a.fact.hollow != b.fact.hollow:
        return False
    if a.kind == "plane":
        return float(a.axis @ b.axis) > 1 - 1e-8 and abs(float((b.origin - a.origin) @ a.axis)) < EVEN
    if a.kind == "sphere":
        return abs(a.fact.radius - b.fact.radius) < EVEN and _away(a.origin, b.origin) < EVEN
    if a.kind not in ("cylinder", "cone", "torus"):
        return _has_same_outline(a, b)
    off = b.origin - a.origin
    if float(np.linalg.norm(np.cross(a.axis, b.axis))) > 1e-5:
        return False
    if float(np.linalg.norm(np.cross(off, a.axis))) > EVEN:
        return False
    if a.kind == "cone":
        return _is_same_cone(a, b)
    if abs(a.fact.radius - b.fact.radius) > EVEN:
        return False
    if a.kind == "torus":
        same = abs(a.fact.minor_radius - b.fact.minor_radius) < EVEN
        return same and abs(float(off @ a.axis)) < EVEN
    return True


def _is_same_cone(a: _Face, b: _Face) -> bool:
    """Cones by their apex and angle: where their radius is told is the writer's choice."""
    if abs(abs(a.fact.half_angle) - abs(b.fact.half_angle)) > 1e-5:
        return False
    return _away(_apex(a), _apex(b)) < 10 * EVEN


def _apex(f: _Face) -> Array:
    slope = np.tan(f.fact.half_angle)
    out: Array = f.origin - f.axis * (f.fact.radius / slope if abs(slope) > 1e-9 else 0.0)
    return out


def _away(p: Array, q: Array) -> float:
    return float(np.linalg.norm(p - q))


def _has_same_outline(a: _Face, b: _Face) -> bool:
    close = max(_away(a.low, b.low), _away(a.high, b.high), _away(a.middle, b.middle)) < 5 * EVEN
    return close and abs(a.length - b.length) < 1e-3 * max(a.length, 1.0)


def _overlap(a: _Face, b: _Face) -> float:
    """Share of the smaller box that two boxes have in common, along each axis the least."""
    least = 1.0
    for k in range(3):
        common = min(a.high[k], b.high[k]) - max(a.low[k], b.low[k])
        short = min(a.high[k] - a.low[k], b.high[k] - b.low[k])
        if short < EVEN:
            least = min(least, 1.0 if common > -EVEN else -1.0)
        else:
            least = min(least, float(common / short))
    return least


# ---- matching ----------------------------------------------------------------------------------------------
class _Matching:
    def __init__(self, a: _Side, b: _Side) -> None:
        self.a, self.b = a, b
        self.size = max(a.size, b.size)
        self.pairs: dict[int, int] = {}
        self.back: dict[int, int] = {}
        self.why: dict[int, Certainty] = {}

    def take(self, i: int, j: int, why: Certainty) -> None:
        self.pairs[i], self.back[j], self.why[i] = j, i, why

    def run(self) -> None:
        for face in self.a.faces:
            here = [b for b in self._free_b() if _is_same_surface(face, b) and _has_same_outline(face, b)]
            if len(here) == 1:
                self.take(face.n, here[0].n, "same")
        there = {
            face.n: [b.n for b in self._free_b() if _is_same_surface(face, b) and _overlap(face, b) > 0.2]
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

    def _free_a(self) -> list[_Face]:
        return [f for f in self.a.faces if f.n not in self.pairs]

    def _free_b(self) -> list[_Face]:
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

    def _cost(self, a: _Face, b: _Face) -> float:
        if a.kind != b.kind or a.fact.hollow != b.fact.hollow:
            return FAR
        along = float(a.axis @ b.axis)
        if (a.kind == "plane" and along < 0.99) or (a.is_turned and abs(along) < 0.99):
            return FAR
        grown = 0.0
        largest = max(abs(a.fact.radius), abs(b.fact.radius))
        if a.kind in ("cylinder", "sphere", "torus") and largest > 0:
            grown = abs(a.fact.radius - b.fact.radius) / largest
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

    def _context(self, a: _Face, b: _Face) -> float:
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

    def _is_sure(self, a: _Face, b: _Face) -> bool:
        """Whether nothing else could be meant: it is near, and far nearer than anything that looks alike."""
        moved = _moved(a, b)
        limit = SILENT_PLANE if a.kind == "plane" else SILENT
        alike = [_away(o.middle, a.middle) for o in self.a.faces if o is not a and o.look() == a.look()]
        alike += [_away(o.middle, a.middle) for o in self.b.faces if o is not b and o.look() == a.look()]
        return moved <= limit * self.size and moved <= ALIKE * min(alike, default=np.inf)

    def _guard_rows(self) -> None:
        """A whole set of equal faces that is shifted onto itself, as a row by its pitch: the same place is no
        proof then."""
        groups: dict[Hashable, tuple[list[_Face], list[_Face]]] = defaultdict(lambda: ([], []))
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


def _moved(a: _Face, b: _Face) -> float:
    """How far a surface moved across itself, mm: a plane along its normal, a cylinder across its axis."""
    off = b.origin - a.origin
    if a.kind == "plane":
        return abs(float(off @ a.axis))
    if a.is_turned:
        return float(np.linalg.norm(np.cross(off, a.axis)))
    return _away(a.middle, b.middle)


def found_again(old: PartFacts, new: PartFacts) -> Found:
    """Faces and edges of the old version in the new one. Where less than half of it lies as it did, the part
    may have been moved as a whole: it is laid on the new one first."""
    a, b = _Side(old, np.eye(4)), _Side(new, np.eye(4))
    matching, is_sure = _Matching(a, b), True
    matching.run()
    if sum(w == "same" for w in matching.why.values()) < HALF * min(len(a.faces), len(b.faces)):
        found = laid_on(a, b)
        if found is not None:
            other = _Matching(_Side(old, found[0]), b)
            other.run()
            if len(other.pairs) > len(matching.pairs):
                a, matching, is_sure = other.a, other, found[1]
    names = {a.faces[i].fact.name: b.faces[j].fact.name for i, j in matching.pairs.items()}
    certainty = {a.faces[i].fact.name: why if is_sure else "likely" for i, why in matching.why.items()}
    return Found(names, certainty, dict(_edges(a, new, names)), a.moved)


def laid_on(a: _Side, b: _Side) -> tuple[Array, bool] | None:
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


def _is_alike(a: _Face, b: _Face) -> bool:
    same = a.kind == b.kind and a.fact.hollow == b.fact.hollow
    return same and abs(a.fact.radius - b.fact.radius) < EVEN and abs(a.length - b.length) < 1e-3 * a.length


def _turns(a: _Side, b: _Side) -> Iterator[Array]:
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


def _directions(side: _Side) -> list[Array]:
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


def _edges(a: _Side, new: PartFacts, faces: Mapping[str, str]) -> Iterator[tuple[str, str]]:
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


def _nearest(mine: Sequence[EdgeFact], theirs: Sequence[EdgeFact], a: _Side) -> Iterator[tuple[str, str]]:
    far = np.array(
        [
            [
                _away(a.placed(np.array(e.middle)), np.array(o.middle)) if e.kind == o.kind else np.inf
                for o in theirs
            ]
            for e in mine
        ]
    )
    costs = np.where(np.isfinite(far), far, 1e9)
    for x, y in zip(*linear_sum_assignment(costs), strict=True):
        rivals = np.concatenate([np.delete(far[x], y), np.delete(far[:, y], x)])
        least = rivals.min() if len(rivals) else np.inf
        if np.isfinite(far[x, y]) and (far[x, y] < 0.5 * least or far[x, y] < EVEN):
            yield mine[x].name, theirs[y].name


# ---- names carried on --------------------------------------------------------------------------------------
def carried_names(
    old: PartFacts, new: PartFacts, found: Found, confirmed: Sequence[str] = ()
) -> dict[str, str]:
    """What the faces and edges of the new version are called so that what was found again keeps its name: by
    their names as read. confirmed: old names of faces that are only likely and that a person agreed to. What
    is new never takes a name of the old version, even one that fits its place."""
    sure = {**found.silent, **{n: found.faces[n] for n in confirmed if n in found.faces}}
    kept = {b: a for a, b in sure.items()}
    owners = {e.name: e.faces for e in old.edges}
    kept |= {b: a for a, b in found.edges.items() if all(n in sure for n in owners[a])}
    taken = {f.name for f in old.faces} | {e.name for e in old.edges}
    out: dict[str, str] = {}
    for name in [*(f.name for f in new.faces), *(e.name for e in new.edges)]:
        if name in kept:
            out[name] = kept[name]
            continue
        fresh = name
        while fresh in taken:
            fresh += NEW
        taken.add(fresh)
        out[name] = fresh
    return out


def renamed(part: PartFacts, names: Mapping[str, str]) -> PartFacts:
    """A part whose faces and edges are called otherwise, wherever they are named."""

    def of(name: str) -> str:
        return names.get(name, name)

    faces = [
        f.model_copy(
            update={
                "name": of(f.name),
                "feature": of(f.feature),
                "inner": [[of(e) for e in loop] for loop in f.inner],
            }
        )
        for f in part.faces
    ]
    edges = [
        e.model_copy(update={"name": of(e.name), "feature": of(e.feature), "faces": [of(n) for n in e.faces]})
        for e in part.edges
    ]
    threads = [t.model_copy(update={"face": of(t.face)}) for t in part.threads]
    processes = [p.model_copy(update={"face": of(p.face)}) for p in part.processes]
    return part.model_copy(
        update={"faces": faces, "edges": edges, "threads": threads, "processes": processes}
    )
