"""The numbers that a part's surfaces are made of, shared by faces that are parallel, flush, coaxial or of one
surface; and how faces, edges and axes move, to first order, when these numbers change.

A row says how fast something moves with each number: {number: rate}. One rule does for all: how far a face
moves along its normal at a point. An edge moves where two faces do."""

import math
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

import numpy as np

from drafting.completeness.surfaces import (
    CORNER,
    SAME_DIRECTION,
    SAME_PLACE,
    Array,
    Rim,
    Solid,
    Surface,
    cross,
    unit,
)

Row = dict[int, float]
ACROSS = 1e-6
"""Cosine of the angle from which on two directions are square to each other."""
Moved = Callable[[Array], Row]
"""How far something moves along a direction."""
SIDES = {"cylinder": ("radius",), "cone": ("place", "half"), "torus": ("place", "across", "radius")}


@dataclass(frozen=True)
class Way:
    """A direction that faces or axes have: u, two across it, and the numbers by which it leans toward
    those."""

    u: Array
    e1: Array
    e2: Array
    a: int
    b: int


@dataclass(eq=False)
class Line:
    """An axis: its direction, its point nearest the middle, the two numbers that carry it across."""

    way: int
    foot: Array
    is_corner: bool
    v: tuple[int, int]
    faces: list[Surface] = field(default_factory=list)


def add(row: Row, other: Row, k: float = 1.0) -> Row:
    """Add a multiple of a row to one, which is changed."""
    for v, c in other.items():
        row[v] = row.get(v, 0.0) + k * c
    return row


def less(a: Row, b: Row) -> Row:
    """A row less another."""
    return add(dict(a), b, -1.0)


class Parameters:
    """All numbers of a part, and rows over them."""

    def __init__(self, solid: Solid) -> None:
        self.solid = solid
        self.words: list[str] = []
        """What each number is, for those who look into it."""
        self.ways: list[Way] = []
        self.levels: dict[int, list[tuple[float, int]]] = defaultdict(list)
        self.lines: list[Line] = []
        self.threads: dict[str, int] = {}
        """Lengths of threads by the face they are on."""
        self._assign()

    def new(self, word: str) -> int:
        """One more number."""
        self.words.append(word)
        return len(self.words) - 1

    # ---- assigning ------------------------------------------------------------

    def _assign(self) -> None:
        known = sorted(self.solid.surfaces.values(), key=lambda s: -s.bulk)
        for s in known:
            if s.kind != "sphere":
                self._direct(s)
        self._complete()
        for s in known:
            s.is_corner = self._is_corner(s)
        made: list[Surface] = []
        for s in sorted(known, key=lambda s: (s.is_corner, -s.bulk)):
            if s.kind == "plane":
                s.v = {"level": self._level(s.way, float(self.ways[s.way].u @ s.at))}
                continue
            if s.kind == "sphere":
                s.v = {x: self.new(f"{x} of {s.name}") for x in ("x", "y", "z", "radius")}
                continue
            s.line = self.line_at(s.way, s.at, s.is_corner)
            line, u = self.lines[s.line], self.ways[s.way].u
            s.at = line.foot + u * float(u @ s.at)
            line.faces.append(s)
            twin = next((t for t in made if t.line == s.line and _is_one(s, t, u)), None)
            if twin is None:
                made.append(s)
            s.v = twin.v if twin else {x: self.new(f"{x} of {s.name}") for x in SIDES[s.kind]}
        for t in self.solid.part.threads:
            if t.length and t.face in self.solid.surfaces:
                self.threads[t.face] = self.new(f"length of thread on {t.face}")

    def _direct(self, s: Surface) -> None:
        for k, way in enumerate(self.ways):
            if float(np.linalg.norm(cross(way.u, s.axis))) < SAME_DIRECTION:
                s.way, s.axis = k, way.u * math.copysign(1.0, float(way.u @ s.axis))
                return
        v = s.axis
        for _ in range(4):  # square to those it is all but square to
            for way in self.ways:
                v = v - way.u * float(way.u @ v) if abs(float(way.u @ v)) < SAME_DIRECTION else v
        s.way = self.way_along(v)
        u = self.ways[s.way].u
        s.axis = u * math.copysign(1.0, float(u @ s.axis))

    def _complete(self) -> None:
        """Three directions square to each other, of which the part may have fewer."""
        main = [self.ways[k].u for k in self.main_ways()]
        if len(main) == 1:
            u = main[0]
            main.append(unit(cross(u, np.eye(3)[int(np.argmin(np.abs(u)))])))
            self.way_along(main[1])
        if len(main) == 2:
            self.way_along(cross(main[0], main[1]))

    def way_along(self, v: Array) -> int:
        """The direction along a vector, a new one where there is none."""
        v = unit(v)
        known = next(
            (k for k, w in enumerate(self.ways) if float(np.linalg.norm(cross(w.u, v))) < SAME_DIRECTION),
            None,
        )
        if known is not None:
            return known
        v = v * math.copysign(1.0, v[int(np.argmax(np.abs(v) > 0.5 * np.abs(v).max()))])
        e = next((w.u for w in self.ways if abs(float(w.u @ v)) < 1e-6), None)
        e = unit(cross(v, np.eye(3)[int(np.argmin(np.abs(v)))]) if e is None else e - v * float(e @ v))
        k = len(self.ways)
        self.ways.append(
            Way(v, e, cross(v, e), self.new(f"lean of way {k} a"), self.new(f"lean of way {k} b"))
        )
        return k

    def _level(self, way: int, h: float) -> int:
        for at, v in self.levels[way]:
            if abs(at - h) < SAME_PLACE:
                return v
        self.levels[way].append((h, self.new(f"level {h:.4f} of way {way}")))
        return self.levels[way][-1][1]

    def line_at(self, way: int, p: Array, is_corner: bool = False) -> int:
        """The axis through a point, a new one where there is none. The axes of rounded corners are kept apart
        from all others: a hole that is concentric with a corner is not located by it."""
        u = self.ways[way].u
        foot = p - u * float(u @ p)
        for i, line in enumerate(self.lines):
            if (
                line.way == way
                and line.is_corner == is_corner
                and np.linalg.norm(line.foot - foot) < SAME_PLACE
            ):
                return i
        n = len(self.lines)
        self.lines.append(Line(way, foot, is_corner, (self.new(f"axis {n} a"), self.new(f"axis {n} b"))))
        return n

    def _is_corner(self, s: Surface) -> bool:
        """Whether it is a round that its two smooth neighbors put in its place."""
        if s.kind not in ("cylinder", "torus"):
            return False
        twins = self._twins(s)
        sweep = sum(self.solid.surfaces[n].sweep for n in twins)
        smooth = {
            n
            for r in self.solid.rims
            if r.is_smooth and twins & set(r.faces)
            for n in r.faces
            if n not in twins
        }
        return sweep <= CORNER + 1e-6 and len(smooth) >= 2

    def _twins(self, s: Surface) -> set[str]:
        """Faces of the same surface joined to one another."""
        out, front = {s.name}, [s.name]
        while front:
            for name in self.solid.beside[front.pop()] - out:
                t = self.solid.surfaces.get(name)
                if t and t.kind == s.kind and t.way == s.way and _is_one(s, t, self.ways[s.way].u):
                    far = t.at - s.at - self.ways[s.way].u * float(self.ways[s.way].u @ (t.at - s.at))
                    if np.linalg.norm(far) < SAME_PLACE:
                        out.add(name)
                        front.append(name)
        return out

    def crossing(self) -> set[int]:
        """Numbers by which directions lean and axes are carried across."""
        leans = {v for w in self.ways for v in (w.a, w.b)}
        return leans | {v for line in self.lines for v in line.v}

    def main_ways(self) -> list[int]:
        """Up to three directions square to each other, those of the most surface first."""
        weight = [0.0] * len(self.ways)
        for s in self.solid.surfaces.values():
            if s.way >= 0:
                weight[s.way] += s.bulk
        out: list[int] = []
        for k in sorted(range(len(self.ways)), key=lambda k: -weight[k]):
            if len(out) < 3 and all(
                abs(float(self.ways[k].u @ self.ways[j].u)) < SAME_DIRECTION for j in out
            ):
                out.append(k)
        return out

    # ---- rows ------------------------------------------------------------

    def moves(self, s: Surface, p: Array, n: Array | None = None) -> Row:
        """How far a face moves along its normal at a point; n: that normal, where another face gives it more
        truly."""
        n = s.normal(p) if n is None else n
        if s.kind == "sphere":
            return {s.v["x"]: float(n[0]), s.v["y"]: float(n[1]), s.v["z"]: float(n[2]), s.v["radius"]: 1.0}
        way = self.ways[s.way]
        if s.kind == "plane":
            side = math.copysign(1.0, float(way.u @ s.axis))
            return {s.v["level"]: side, way.a: -side * float(way.e1 @ p), way.b: -side * float(way.e2 @ p)}
        row = self.carried(self.lines[s.line], p, n)
        if "place" in s.v:
            row[s.v["place"]] = float(n @ way.u)
        if s.kind == "cone":
            row[s.v["half"]] = float(np.linalg.norm(p - s.at))
            return row
        row[s.v["radius"]] = 1.0
        if s.kind == "torus":
            rel = p - s.at
            row[s.v["across"]] = float(n @ unit(rel - s.axis * float(rel @ s.axis)))
        return row

    def carried(self, line: Line, p: Array, n: Array) -> Row:
        """How far a point that an axis carries along moves along n; along the axis itself it stays."""
        way, rel = self.ways[line.way], p - line.foot
        return {
            line.v[0]: float(n @ way.e1),
            line.v[1]: float(n @ way.e2),
            way.a: float(n @ cross(way.e2, rel)),
            way.b: -float(n @ cross(way.e1, rel)),
        }

    def height(self, way: int, line: Line) -> Row:
        """How far an axis across a direction, or its point nearest the middle, moves along that direction."""
        return self.place(way, line.foot, lambda u: self.carried(line, line.foot, u))

    def place(self, way: int, p: Array, moved: Moved) -> Row:
        """The level of a point in a direction that may lean: how it changes where the point moves."""
        w = self.ways[way]
        return add(moved(w.u), {w.a: float(w.e1 @ p), w.b: float(w.e2 @ p)})

    def meet(self, faces: Iterable[str], p: Array, n: Array) -> Row | None:
        """How far the place where faces meet moves along n; None where they do not say."""
        found = [s for name in faces if (s := self.solid.surfaces.get(name)) is not None]
        if not found:
            return None
        m = np.array([s.normal(p) for s in found]).T
        w = np.linalg.lstsq(m, n, rcond=1e-4)[0]
        if np.linalg.norm(m @ w - n) > 1e-4:
            return None
        row: Row = {}
        for s, c in zip(found, w.tolist(), strict=True):
            add(row, self.moves(s, p), c)
        return row

    def on_axis(self, line: Line, s: Surface, t: float) -> tuple[float, Row] | None:
        """Where an axis pierces a face near t along it, and how that place moves along the axis."""
        u = self.ways[line.way].u
        for _ in range(20):
            p = line.foot + u * t
            d, slope = s.off(p), (s.off(p + u * 1e-6) - s.off(p - u * 1e-6)) / 2e-6
            if abs(slope) < 0.2:
                return None
            t -= d / slope
            if abs(d) < 1e-9:
                p = line.foot + u * t
                n = s.normal(p)
                row = less(self.moves(s, p), self.carried(line, p, n))
                return t, {v: c / float(n @ u) for v, c in row.items()}
        return None

    def rigid(self) -> Array:
        """How each number changes when the whole part is moved along and turned about the three axes, (n,
        6)."""
        r = np.zeros((len(self.words), 6))
        for k, w in enumerate(self.ways):
            r[w.a, 3:], r[w.b, 3:] = cross(w.u, w.e1), cross(w.u, w.e2)
            for _, v in self.levels[k]:
                r[v, :3] = w.u
        for line in self.lines:
            way = self.ways[line.way]
            for v, e in zip(line.v, (way.e1, way.e2), strict=True):
                r[v] = np.r_[e, cross(line.foot, e)]
        for s in self.solid.surfaces.values():
            if "place" in s.v:
                r[s.v["place"]] = np.r_[self.ways[s.way].u, cross(s.at, self.ways[s.way].u)]
            for x, e in zip("xyz", np.eye(3), strict=True):
                if x in s.v:
                    r[s.v[x]] = np.r_[e, cross(s.at, e)]
        return r


def _is_one(s: Surface, t: Surface, u: Array) -> bool:
    """Whether two faces on one axis are of one surface."""
    if s.kind != t.kind or s.outer != t.outer:
        return False
    if abs(s.radius - t.radius) + abs(s.across - t.across) + abs(s.half - t.half) > SAME_PLACE:
        return False
    if s.kind == "cylinder":
        return True
    opens = [math.copysign(1.0, float((x.box.mean(0) - x.at) @ u)) for x in (s, t)]
    return abs(float((s.at - t.at) @ u)) < SAME_PLACE and (s.kind != "cone" or opens[0] == opens[1])


def edges_at_slants(p: Parameters) -> Iterator[tuple[Line, Rim]]:
    """Axes that lie at a slant to the main directions, each with straight edges square to it of the flat
    faces that it goes into."""
    main = p.main_ways()
    for line in p.lines:
        if not line.faces or line.is_corner or line.way in main:
            continue
        own, u = {s.name for s in line.faces}, p.ways[line.way].u
        into = {n for name in own for n in p.solid.beside[name] if p.solid.surfaces[n].kind == "plane"}
        for rim in p.solid.rims:
            if rim.fact.kind == "line" and not rim.is_seam and into & set(rim.faces):
                along = np.array(rim.fact.end) - np.array(rim.fact.start)
                if abs(float(along @ u)) < ACROSS * float(np.linalg.norm(along)):
                    yield line, rim
