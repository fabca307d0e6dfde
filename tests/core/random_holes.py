"""Random solids with holes that are known: plain, blind, with heads, crossing, slanting, at edges, slit, and
in any place in space; in one of four their round faces are split as other writers do."""

import math
import random
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakePolygon,
    BRepBuilderAPI_Transform,
)
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec

from tests.core.zoo import box, moved, rod, split

Array = NDArray[np.float64]
TIPS = (90.0, 118.0, 120.0, 140.0)


@dataclass
class Known:
    """A hole as it was made; entry is where its axis meets the face."""

    kind: str
    entry: Array
    direction: Array
    diameter: float
    depth: float | None
    bottom: str = ""
    angle: float | None = None
    heads: list[tuple[str, float, float]] = field(default_factory=list)
    """Kind, diameter and depth from the entry."""
    is_cut: bool = False


@dataclass
class Made:
    what: str
    shape: Any
    holes: list[Known]


def turned(entry: Array, direction: Array, profile: list[tuple[float, float]]) -> Any:
    """A body turned about an axis from places along it and radii."""
    x = np.cross(direction, (0, 0, 1) if abs(direction[2]) < 0.9 else (1, 0, 0))
    x = x / np.linalg.norm(x)
    polygon = BRepBuilderAPI_MakePolygon()
    for t, r in profile:
        polygon.Add(gp_Pnt(*(entry + direction * t + x * r).tolist()))
    polygon.Close()
    face = BRepBuilderAPI_MakeFace(polygon.Wire()).Face()
    return BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(*entry.tolist()), gp_Dir(*direction.tolist()))).Shape()


def drilled(r: random.Random, entry: Array, direction: Array, wide: float, room: float, out: float) -> Any:
    """A tool and the hole that it makes. wide: the widest that it may be; room: how far the material goes;
    out: how far the tool reaches out of it."""
    d = round(r.uniform(0.25, 0.5) * wide, 2)
    half = d / 2
    kind = r.choice(["plain", "plain", "plain", "counterbored", "countersunk", "spotfaced", "stepped"])
    if out > 2:
        kind = r.choice(["plain", "counterbored"])
    heads: list[tuple[str, float, float]] = []
    profile: list[tuple[float, float]] = []
    deep = 0.0
    if kind in ("counterbored", "spotfaced", "stepped"):
        big = round(d * r.uniform(1.5, 1.9), 2)
        deep = round(r.uniform(0.2, 0.35) * room, 2)
        deep = max(deep, round(0.16 * big + 0.05, 2), 2.05)
        if kind == "spotfaced":
            deep = round(min(0.14 * big, 1.9) * r.uniform(0.4, 1.0), 3)
        profile = [(-out, big / 2), (deep, big / 2)]
        heads.append(("spotface" if kind == "spotfaced" else "counterbore", big, deep))
        if kind == "stepped":
            middle, deeper = round(d * 1.25, 2), round(deep + max(0.16 * 1.25 * d + 0.1, 2.1), 2)
            profile += [(deep, middle / 2), (deeper, middle / 2)]
            heads.append(("counterbore", middle, deeper))
            deep = deeper
    elif kind == "countersunk":
        big, angle = round(d * r.uniform(1.6, 1.95), 2), r.choice((82.0, 90.0, 100.0, 120.0))
        deep = (big - d) / 2 / math.tan(math.radians(angle / 2))
        profile = [(-out, big / 2), (0.0, big / 2)]
        heads.append(("countersink", big, deep))
    profile.append((deep if profile else -out, half))
    blind = r.random() < 0.5 and deep + 2 < 0.7 * room
    known = Known(kind, entry, direction, d, None, heads=heads)
    if blind:
        known.depth = round(r.uniform(deep + 1.5, 0.7 * room), 2)
        known.bottom = r.choice(["flat", "point", "point"])
        profile.append((known.depth, half))
        if known.bottom == "point":
            known.angle = r.choice(TIPS)
            profile.append((known.depth + half / math.tan(math.radians(known.angle / 2)), 0.0))
        else:
            profile.append((known.depth, 0.0))
    else:
        profile += [(3 * room + 50, half), (3 * room + 50, 0.0)]
    return turned(entry, direction, [(-out, 0.0), *profile]), known


def cells(r: random.Random, width: float, depth: float, size: float) -> list[tuple[float, float]]:
    """Middles of squares of a size on a face, in any order."""
    across, up = int(width // size), int(depth // size)
    found = [((i + 0.5) * width / across, (j + 0.5) * depth / up) for i in range(across) for j in range(up)]
    r.shuffle(found)
    return found


DOWN, BACK, RIGHT = np.array([0, 0, -1.0]), np.array([0, 1.0, 0]), np.array([1.0, 0, 0])


def plate(r: random.Random) -> Made:
    size = r.uniform(14, 30)
    w, d, h = size * r.randint(2, 4), size * r.randint(1, 3), r.uniform(14, 40)
    tools, known = [], []
    for x, y in cells(r, w, d, size)[: r.randint(1, 5)]:
        below = r.random() < 0.3
        entry, way = np.array([x, y, 0.0 if below else h]), -DOWN if below else DOWN
        tool, hole = drilled(r, entry, way, size * 0.95, h, 1.0)
        tools.append(tool)
        known.append(hole)
    return Made("plate", cut_all(box(w, d, h), tools), known)


def two_sides(r: random.Random) -> Made:
    size = r.uniform(16, 26)
    w, d, h = 4 * size, 2 * size, 2 * size
    tools, known = [], []
    for x, y in cells(r, 2 * size, d, size)[:3]:
        tool, hole = drilled(r, np.array([x, y, h]), DOWN, size * 0.95, h, 1.0)
        tools.append(tool)
        known.append(hole)
    for x, z in cells(r, 2 * size, h, size)[:3]:
        tool, hole = drilled(r, np.array([x + 2 * size, 0, z]), BACK, size * 0.95, d, 1.0)
        tools.append(tool)
        known.append(hole)
    return Made("two sides", cut_all(box(w, d, h), tools), known)


def radial(r: random.Random) -> Made:
    radius, length = r.uniform(20, 40), 120.0
    tools, known = [], []
    bored = r.random() < 0.5
    bore = round(radius * 0.4, 2)
    if bored:
        tools.append(rod(bore, length + 20, 0, 0, -10))
        known.append(Known("plain", np.array([0, 0, length]), DOWN, 2 * bore, None))
    for n in range(r.randint(1, 3)):
        a = r.uniform(0, 2 * math.pi)
        out = np.array([math.cos(a), math.sin(a), 0.0])
        entry = out * radius + np.array([0, 0, 20 + 40.0 * n])
        tool, hole = drilled(
            r, entry, -out, radius * 0.7, (radius - bore) if bored else 2 * radius, radius * 0.5
        )
        if bored and hole.depth is None:  # stops in the bore
            t = radius
            d = hole.diameter / 2
            profile = [(-radius * 0.5, 0.0), (-radius * 0.5, d), (t, d), (t, 0.0)]
            tool, hole = turned(entry, -out, profile), Known("plain", entry, -out, hole.diameter, None)
        elif (
            (
                hole.heads
                and hole.heads[0][2] < radius - math.sqrt(radius**2 - (hole.heads[0][1] / 2) ** 2) + 1
            )
            or bored
            and hole.depth is not None
            and hole.depth + hole.diameter > radius - bore - 1
        ):
            continue
        tools.append(tool)
        known.append(hole)
    return Made("radial", cut_all(rod(radius, length), tools), known)


def wedge(r: random.Random) -> Made:
    w, d, low, high = 90.0, 40.0, r.uniform(20, 30), r.uniform(45, 60)
    polygon = BRepBuilderAPI_MakePolygon()
    for x, z in ((0, 0), (w, 0), (w, low), (0, high)):
        polygon.Add(gp_Pnt(x, 0, z))
    polygon.Close()
    body = BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(polygon.Wire()).Face(), gp_Vec(0, d, 0)).Shape()
    slope = (low - high) / w
    normal = np.array([-slope, 0, 1.0]) / math.hypot(slope, 1)
    tools, known = [], []
    for n, x in enumerate((20.0, 48.0, 72.0)):
        if r.random() < 0.3:
            continue
        entry = np.array([x, 12.0 + 16.0 * (n % 2), high + slope * x])
        way, out = (DOWN, 14.0) if r.random() < 0.5 else (-normal, 1.0)
        tool, hole = drilled(r, entry, way, 14.0, entry[2] * 0.8, out)
        if out > 2 and hole.heads and hole.heads[0][2] < hole.heads[0][1] / 2 * abs(slope) + 1:
            continue
        tools.append(tool)
        known.append(hole)
    return Made("wedge", cut_all(body, tools), known)


def crossing(r: random.Random) -> Made:
    """Holes through a bore, or into it, and holes that just pass it by."""
    w, d, h = 100.0, 50.0, 50.0
    bore = round(r.uniform(16, 24), 1)
    tools = [
        turned(np.array([0, 25.0, 25.0]), RIGHT, [(-5, 0), (-5, bore / 2), (w + 5, bore / 2), (w + 5, 0)])
    ]
    known = [Known("plain", np.array([0, 25.0, 25.0]), RIGHT, bore, None)]
    for x in (20.0, 50.0, 80.0):
        dia = round(r.uniform(3, 9), 1)
        y = r.choice([25.0, 25.0, 25.0 + bore / 2 - dia / 2 - 1, 8.0])
        entry = np.array([x, y, h])
        through = r.random() < 0.6
        end = 3 * h if through else 25.0
        if not through and y == 8.0:
            known.append(Known("plain", entry, DOWN, dia, 25.0, "flat"))
        else:
            known.append(Known("plain", entry, DOWN, dia, None))
        tools.append(turned(entry, DOWN, [(-1, 0), (-1, dia / 2), (end, dia / 2), (end, 0)]))
    return Made("crossing", cut_all(box(w, d, h), tools), known)


def at_edges(r: random.Random) -> Made:
    """Holes cut open by a side, or by a slot, and grooves that are none."""
    w, d, h = 110.0, 40.0, r.uniform(10, 25)
    tools, known = [], []
    for n, x in enumerate((20.0, 55.0, 90.0)):
        dia = round(r.uniform(8, 14), 1)
        what = r.choice(["cut", "groove", "whole"])
        y = {"cut": r.uniform(0.15, 0.8) * dia / 2, "groove": -0.3 * dia / 2, "whole": dia}[what]
        entry = np.array([x, y, h])
        tools.append(turned(entry, DOWN, [(-1, 0), (-1, dia / 2), (h + 5, dia / 2), (h + 5, 0)]))
        if what != "groove":
            known.append(Known("plain", entry, DOWN, dia, None, is_cut=what == "cut"))
        if n == 1 and r.random() < 0.7:
            at = np.array([x, 30.0, h])
            tools.append(turned(at, DOWN, [(-1, 0), (-1, 4), (h + 5, 4), (h + 5, 0)]))
            tools.append(moved(box(2.5, 30, h + 10), x - 1.25, 30, -5))
            known.append(Known("plain", at, DOWN, 8.0, None, is_cut=True))
    return Made("at edges", cut_all(box(w, d, h), tools), known)


def lugs(r: random.Random) -> Made:
    """A fork whose ears are drilled together, and one drilled from both sides, blind."""
    w, d, h = 60.0, 30.0, 40.0
    gap = r.uniform(15, 25)
    body = cut_all(box(w, d, h), [moved(box(gap, d + 10, h), (w - gap) / 2, -5, 12)])
    dia = round(r.uniform(6, 12), 1)
    entry = np.array([0, 15.0, 28.0])
    tools = [turned(entry, RIGHT, [(-1, 0), (-1, dia / 2), (w + 1, dia / 2), (w + 1, 0)])]
    known = [Known("plain", entry, RIGHT, dia, None)]
    for x, way in ((0.0, RIGHT), (w, -RIGHT)):
        at = np.array([x, 15.0, 6.0])
        tools.append(turned(at, way, [(-1, 0), (-1, 2.5), (12, 2.5), (12, 0)]))
        known.append(Known("plain", at, way, 5.0, 12.0, "flat"))
    return Made("lugs", cut_all(body, tools), known)


def cut_all(body: Any, tools: list[Any]) -> Any:
    for tool in tools:
        body = BRepAlgoAPI_Cut(body, tool).Shape()
    return body


MAKERS = (plate, plate, two_sides, radial, wedge, crossing, at_edges, lugs)


@dataclass(frozen=True)
class Somewhere:
    """Any place in space: a turn about an axis, radians, then a shift."""

    axis: Array
    angle: float
    shift: Array

    @classmethod
    def of(cls, r: random.Random) -> "Somewhere":
        axis = np.array([r.gauss(0, 1) for _ in range(3)])
        axis = axis / np.linalg.norm(axis)
        angle = r.uniform(0, 2 * math.pi)
        return cls(axis, angle, np.array([r.uniform(-500, 500) for _ in range(3)]))

    def shape(self, shape: Any) -> Any:
        turn, shift = gp_Trsf(), gp_Trsf()
        turn.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(*self.axis.tolist())), self.angle)
        shift.SetTranslation(gp_Vec(*self.shift.tolist()))
        return BRepBuilderAPI_Transform(shape, shift.Multiplied(turn), True).Shape()

    def way(self, v: Array) -> Array:
        """A direction, by Rodrigues's formula."""
        c, s = math.cos(self.angle), math.sin(self.angle)
        return v * c + np.cross(self.axis, v) * s + self.axis * float(self.axis @ v) * (1 - c)

    def point(self, p: Array) -> Array:
        return self.way(p) + self.shift


def made(seed: int) -> Made:
    """A solid of a seed, somewhere in space."""
    r = random.Random(seed)
    found = MAKERS[seed % len(MAKERS)](r)
    place = Somewhere.of(r)
    whole = place.shape(found.shape)
    if r.random() < 0.25:
        whole = split(whole, r.choice((2, 4)))
    for hole in found.holes:
        hole.entry, hole.direction = place.point(hole.entry), place.way(hole.direction)
    return Made(found.what, whole, found.holes)
