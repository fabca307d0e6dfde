"""Slots: closed, open at an end, curved, and channels with a floor; in shafts and bores they are keyways.

A slot's end is a hollow cylinder of half a turn whose sides go over smoothly into its walls (common practice:
what an end mill leaves). A channel is a floor between two walls that face each other.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from drafting.features.body import Array, Axis, Body, upright
from drafting.features.feature import Feature, Kind, made
from drafting.features.flat_sided import (
    dot,
    is_opposite,
    is_parallel,
    is_square,
    opening,
    reach,
    walls_of,
)
from drafting.model.model import FaceFact

ROUND = ("keyway", "hub keyway")
"""Kinds that are entered by a shaft or a bore, whose diameter they keep."""
HALF_TURN = math.radians(1.0)
"""How far from half a turn the end of a slot may be."""


@dataclass(eq=False)
class _End:
    """The round end of a slot: its face, its walls, and the direction from its middle outward."""

    face: FaceFact
    walls: tuple[FaceFact, FaceFact]
    out: Array

    @cached_property
    def axis(self) -> Array:
        return upright(np.array(self.face.axis))

    @cached_property
    def center(self) -> Array:
        """The point of its axis nearest to the origin."""
        origin: Array = np.array(self.face.origin)
        return origin - self.axis * float(origin @ self.axis)

    @property
    def names(self) -> set[str]:
        return {self.face.name, *(w.name for w in self.walls)}


def slots(body: Body, taken: set[str]) -> list[Feature]:
    """All slots of a part, with its channels and keyways. taken: faces of its holes."""
    ends = [e for e in _ends(body) if e.face.name not in taken]
    out: list[Feature] = []
    left = list(ends)
    while left:
        first = left.pop(0)
        second = _partner(body, first, left)
        if second is not None:
            left.remove(second)
        found = (
            _curved(body, first, second)
            if first.walls[0].kind == "cylinder"
            else _straight(body, first, second)
        )
        if found is not None:
            out.append(found)
    known = taken | {name for feature in out for name in feature.faces}
    return out + list(_channels(body, known))


def _ends(body: Body) -> Iterator[_End]:
    for face in body.part.faces:
        if face.kind != "cylinder" or not face.hollow or face.turn is None or face.x_axis is None:
            continue
        if abs(face.turn[1] - face.turn[0] - math.pi) > HALF_TURN:
            continue
        walls = [
            other
            for edge, other in body.others(face)
            if edge.kind == "line"
            and edge.turn == "smooth"
            and is_parallel(_run(edge.start, edge.end), face.axis)
        ]
        if len(walls) != 2:
            continue
        one, two = walls
        flat = one.kind == two.kind == "plane" and is_opposite(one, two)
        bent = (
            one.kind == two.kind == "cylinder"
            and one.hollow is not two.hollow
            and is_parallel(one.axis, face.axis)
        )
        if flat or bent:
            x = np.array(face.x_axis)
            turn = sum(face.turn) / 2
            out = x * math.cos(turn) + np.cross(np.array(face.axis), x) * math.sin(turn)
            yield _End(face, (one, two), out)


def _run(start: Sequence[float], end: Sequence[float]) -> list[float]:
    length = math.dist(start, end) or 1.0
    return [(b - a) / length for a, b in zip(start, end, strict=True)]


def _partner(body: Body, one: _End, others: Sequence[_End]) -> _End | None:
    """The other end of a slot: of the same width, about a parallel axis, with a wall in common."""
    mine = {w.name for w in one.walls}
    best: tuple[float, _End] | None = None
    for other in others:
        if not mine & {w.name for w in other.walls} or not is_parallel(one.axis, other.axis):
            continue
        if abs(one.face.radius - other.face.radius) > body.near:
            continue
        way = other.center - one.center
        distance = float(np.linalg.norm(way))
        if distance < body.near or float(way @ one.out) > 0 and one.walls[0].kind == "plane":
            continue
        if best is None or distance < best[0]:
            best = distance, other
    return best[1] if best else None


@dataclass(frozen=True)
class _Deep:
    """How deep a slot is: its direction into the material, where it begins along that, its depth (None
    through all), the face it is entered by, and its floor's faces."""

    direction: Array
    start: float
    depth: float | None
    entered: FaceFact | None
    floor: frozenset[str]


def _deep(body: Body, sides: Sequence[FaceFact], axis: Array, middle: Array) -> _Deep | None:
    """None where both ends are closed. sides: walls and round ends; axis: from end to end of them."""
    own = {f.name for f in sides}
    low, high = reach(body, sides, axis)
    length = {-1: {"closed": 0.0, "open": 0.0}, 1: {"closed": 0.0, "open": 0.0}}
    floor: dict[int, set[str]] = {-1: set(), 1: set()}
    into: dict[int, list[FaceFact]] = {-1: [], 1: []}
    for face in sides:
        for edge, other in body.others(face):
            if other.name in own or (edge.kind == "line" and is_parallel(_run(edge.start, edge.end), axis)):
                continue
            t = float(np.array(edge.middle) @ axis)
            end = 1 if t > (low + high) / 2 else -1
            if edge.turn == "convex":
                length[end]["open"] += edge.length
                into[end].append(other)
            elif edge.turn == "concave" or (edge.turn == "smooth" and other.hollow):
                length[end]["closed"] += edge.length
                floor[end].add(other.name)
    closed = {end: v["closed"] > v["open"] for end, v in length.items()}
    if all(closed.values()):
        return None
    if not any(closed.values()):
        entry, level = _entry(body, sides, own, 1, axis, middle, high)
        return _Deep(-axis, level, None, entry, frozenset())
    end = -1 if closed[1] else 1  # the open one
    entry, level = _entry(body, sides, own, end, axis, middle, high if end > 0 else low)
    bottom = _bottom(body, floor[-end], axis, low if end > 0 else high)
    return _Deep(-axis * end, level, abs(level - bottom), entry, frozenset(floor[-end]))


def _entry(
    body: Body, sides: Sequence[FaceFact], own: set[str], end: int, axis: Array, middle: Array, rim: float
) -> tuple[FaceFact | None, float]:
    """The face that a slot is entered by at an end, and where a line through its middle meets it."""
    out: dict[str, float] = {}
    between = sum(reach(body, sides, axis)) / 2
    for face in sides:
        for edge, other in body.others(face):
            beyond = (float(np.array(edge.middle) @ axis) - between) * end > 0
            if edge.turn == "convex" and other.name not in own and beyond:
                out[other.name] = out.get(other.name, 0.0) + edge.length
    if not out:
        return None, rim
    face = body.faces[max(out, key=lambda n: out[n])]
    if face.kind == "plane" and abs(dot(face.axis, axis)) > 0.05:
        t = float((np.array(face.origin) - middle) @ np.array(face.axis)) / dot(face.axis, axis)
        return face, float((middle + axis * t) @ axis)
    if face.kind == "cylinder" and is_square(face.axis, axis):
        away = np.array(face.origin) - middle
        away = away - np.array(face.axis) * float(away @ np.array(face.axis))
        base, off = float((middle + away) @ axis), away - axis * float(away @ axis)
        inner = face.radius**2 - float(off @ off)
        if inner > 0:
            return face, base + end * math.sqrt(inner) * (1 if not face.hollow else -1)
    return face, rim


def _bottom(body: Body, names: set[str], axis: Array, rim: float) -> float:
    """Where the floor of a slot lies along its axis."""
    for name in names:
        face = body.faces[name]
        if face.kind == "plane" and is_parallel(face.axis, axis):
            return float(np.array(face.origin) @ axis)
    for name in names:  # a rounding between wall and floor
        for _, other in body.others(body.faces[name]):
            if other.kind == "plane" and is_parallel(other.axis, axis):
                return float(np.array(other.origin) @ axis)
    return rim


def _kind(deep: _Deep, along: Array, closed: Kind) -> Kind:
    """A slot in a shaft, along it, is a keyway."""
    entered = deep.entered
    if entered is not None and entered.kind == "cylinder" and is_parallel(entered.axis, along):
        return "hub keyway" if entered.hollow else "keyway"
    return closed


def _straight(body: Body, one: _End, two: _End | None) -> Feature | None:
    axis, along = one.axis, -one.out
    sides = [one.face, *one.walls]
    length: float | None
    if two is not None:
        sides += [f for f in (two.face, *two.walls) if f.name not in {s.name for s in sides}]
        middle = (one.center + two.center) / 2
        length = float(np.linalg.norm(two.center - one.center)) + 2 * one.face.radius
    else:
        mouths = [reach(body, [wall], along)[1] for wall in one.walls]
        beyond = max(mouths) - float(one.center @ along)
        if beyond < body.near:
            return None
        middle = one.center + along * ((beyond - one.face.radius) / 2)
        # where it runs out through a slanted or a stepped side, no length says it
        length = beyond + one.face.radius if max(mouths) - min(mouths) < body.near else None
    deep = _deep(body, sides, axis, middle)
    if deep is None:
        return None
    kind = _kind(deep, along, "slot" if two is not None else "open slot")
    at = middle + axis * (deep.start - float(middle @ axis))
    return made(
        kind,
        {
            "width": 2 * one.face.radius,
            "length": length,
            "depth": deep.depth,
            "diameter": 2 * deep.entered.radius if kind in ROUND and deep.entered else None,
        },
        at,
        deep.direction,
        {f.name for f in sides} | deep.floor,
        upright(along),
    )


def _curved(body: Body, one: _End, two: _End | None) -> Feature | None:
    """A slot along an arc: width, radius of its middle line, and angle between its ends' middles, degrees."""
    if two is None:
        return None
    inner, outer = sorted(one.walls, key=lambda w: w.radius)
    if abs(outer.radius - inner.radius - 2 * one.face.radius) > 2 * body.near:
        return None
    axis = one.axis
    hub = np.array(outer.origin)
    hub = hub - axis * float(hub @ axis)
    a, b = one.center - hub, two.center - hub
    radius = float(np.linalg.norm(a))
    turn = outer.turn
    angle = math.degrees(math.acos(max(-1.0, min(1.0, float(a @ b) / radius / float(np.linalg.norm(b))))))
    if turn is not None and turn[1] - turn[0] > math.pi:
        angle = 360 - angle
    sides = [one.face, two.face, *one.walls]
    middle = a + b if angle < 180 else -(a + b)
    if float(np.linalg.norm(middle)) < body.near:
        middle = np.cross(axis, a)
    middle = hub + middle / np.linalg.norm(middle) * radius
    deep = _deep(body, sides, axis, middle)
    if deep is None:
        return None
    at = middle + axis * (deep.start - float(middle @ axis))
    return made(
        "curved slot",
        {"width": 2 * one.face.radius, "radius": radius, "angle": angle, "depth": deep.depth},
        at,
        deep.direction,
        {f.name for f in sides} | deep.floor,
    )


# ---- channels ----------------------------------------------------------------------------------------------
def _channels(body: Body, taken: set[str]) -> Iterator[Feature]:
    """Floors between two walls that face each other, open at one end or both."""
    for floor in body.part.faces:
        if floor.kind != "plane" or floor.name in taken:
            continue
        rising = list(walls_of(body, floor))
        walls = {w.name: w for _, w, _ in rising if w.kind == "plane" and is_square(w.axis, floor.axis)}
        if len(walls) != len({w.name for _, w, _ in rising}) or not 2 <= len(walls) <= 3:
            continue
        pairs = [
            (a, b)
            for n, a in enumerate(walls.values())
            for b in list(walls.values())[n + 1 :]
            if is_opposite(a, b) and dot(np.array(b.origin) - np.array(a.origin), a.axis) > body.near
        ]
        if len(pairs) != 1 or set(walls) & taken:
            continue
        found = _channel(body, floor, pairs[0], set(walls), {n for _, _, between in rising for n in between})
        if found is not None:
            yield found


def _channel(
    body: Body, floor: FaceFact, pair: tuple[FaceFact, FaceFact], walls: set[str], between: set[str]
) -> Feature | None:
    one, two = pair
    normal, across = np.array(floor.axis), np.array(one.axis)
    along = np.cross(normal, across)
    width = float((np.array(two.origin) - np.array(one.origin)) @ across)
    low, high = reach(body, [floor], along)
    mine = {floor.name, *walls, *between}
    entered = opening(
        body,
        pair,
        mine | {f.name for f in body.part.faces if f.kind == "plane" and is_parallel(f.axis, along)},
    )
    if entered is None:
        return None
    middle = np.array(floor.origin)
    middle = middle + across * (float(np.array(one.origin) @ across) + width / 2 - float(middle @ across))
    middle = middle + along * ((low + high) / 2 - float(middle @ along))
    axis = Axis(middle, normal)
    if entered.kind == "plane" and is_parallel(entered.axis, floor.axis):
        depth = float((np.array(entered.origin) - middle) @ normal)
    elif entered.kind == "cylinder" and is_parallel(entered.axis, along):
        hub = np.array(entered.origin)
        up = float((hub - middle) @ normal)
        off = float((hub - middle) @ across)
        if abs(off) >= entered.radius:
            return None
        depth = up + (-1 if entered.hollow else 1) * math.sqrt(entered.radius**2 - off**2)
    else:
        return None
    if depth < body.near:
        return None
    kind: Kind = "channel"
    if entered.kind == "cylinder":
        kind = "hub keyway" if entered.hollow else "keyway"
    return made(
        kind,
        {
            "width": width,
            "length": high - low,
            "depth": depth,
            "diameter": 2 * entered.radius if kind in ROUND else None,
        },
        axis.at(depth),
        -normal,
        mine,
        upright(along),
    )
