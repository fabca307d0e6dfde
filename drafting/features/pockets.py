"""Pockets with a floor, openings through a plate, and what rises from a plane: bosses and pads."""

import math
from collections.abc import Iterator

import numpy as np

from drafting.features.body import Array, Body
from drafting.features.feature import Feature, Size, made
from drafting.features.flat_sided import (
    dot,
    height,
    is_blend,
    is_opposite,
    is_parallel,
    is_square,
    points,
    reach,
    walls_of,
)
from drafting.model.model import EdgeFact, FaceFact

MOST_OF = 0.8
"""How much of a wall's upper edges must lie on one level, for its height to be said."""


def pockets(body: Body, taken: set[str]) -> list[Feature]:
    """Pockets and openings of a part. taken: faces of its holes and slots."""
    out = list(_pockets(body, taken))
    known = taken | {name for feature in out for name in feature.faces}
    return out + list(_openings(body, known))


def _pockets(body: Body, taken: set[str]) -> Iterator[Feature]:
    for floor in body.part.faces:
        if floor.kind != "plane" or floor.name in taken:
            continue
        inner = {name for loop in floor.inner for name in loop}
        outer = {e.name for e in body.of_face[floor.name]} - inner
        rising = [(e, w, between) for e, w, between in walls_of(body, floor) if e.name in outer]
        if not outer or {e.name for e, _, _ in rising} != outer:
            continue
        walls = {w.name: w for _, w, _ in rising}
        between = {name for _, _, names in rising for name in names}
        if any(w.kind == "cylinder" and not w.hollow for w in walls.values()) and len(walls) == 1:
            continue
        if set(walls) <= taken or _is_round(body, list(walls.values())):
            continue
        depth = _height(body, floor, walls, {floor.name, *between})
        if depth is None or depth < body.near:
            continue
        normal = np.array(floor.axis)
        sizes, middle, along = _outline(body, floor, list(walls.values()))
        yield made(
            "pocket",
            {**sizes, "depth": depth},
            middle + normal * depth,
            -normal,
            {floor.name, *walls, *between},
            along,
        )


def _is_round(body: Body, walls: list[FaceFact]) -> bool:
    """Whether walls are round ones about one axis, as of a hole or a groove in a face."""
    return all(w.kind in ("cylinder", "cone", "torus") for w in walls) and all(
        is_parallel(w.axis, walls[0].axis)
        and float(np.linalg.norm(np.cross(np.array(w.axis), np.array(w.origin) - np.array(walls[0].origin))))
        < body.near
        for w in walls
    )


def _height(body: Body, base: FaceFact, walls: dict[str, FaceFact], own: set[str]) -> float | None:
    """How far the plane that the walls' convex edges lead to lies over a base; None where there is none, and
    where they lead to several."""
    length: dict[float, float] = {}
    for wall in walls.values():
        for edge, other in body.others(wall):
            if other.name in own or other.name in walls:
                continue
            if edge.turn == "smooth" and is_blend(other, hollow=False):
                tops = [
                    o for _, o in body.others(other) if o.kind == "plane" and is_parallel(o.axis, base.axis)
                ]
            else:
                tops = [other] if edge.turn == "convex" else []
            for top in tops:
                if top.kind == "plane" and dot(top.axis, base.axis) > 1 - 1e-6:
                    up = round(height(top, base), 6)
                    length[up] = length.get(up, 0.0) + edge.length
    if not length:
        return None
    most = max(length, key=lambda k: length[k])
    return most if length[most] >= MOST_OF * sum(length.values()) else None


def _outline(
    body: Body, floor: FaceFact, walls: list[FaceFact]
) -> tuple[dict[Size, float | None], Array, Array | None]:
    """Sizes of an outline, its middle in the plane, and its long direction: sides and corner of a rectangle,
    else only its middle."""
    normal = np.array(floor.axis)
    flat = [w for w in walls if w.kind == "plane" and is_square(w.axis, normal)]
    corners = {round(w.radius, 4): w.radius for w in walls if w.kind == "cylinder" and w.hollow}
    first = np.array(flat[0].axis) if flat else None
    if first is not None:
        second = np.cross(normal, first)
        spans = [_between(flat, d) for d in (first, second)]
        others = [w for w in flat if not is_parallel(w.axis, first) and not is_parallel(w.axis, second)]
        if spans[0] and spans[1] and not others and len(flat) == 4 and len(corners) <= 1:
            (a0, a1), (b0, b1) = spans[0], spans[1]
            middle = np.array(floor.origin)
            middle = middle + first * ((a0 + a1) / 2 - float(middle @ first))
            middle = middle + second * ((b0 + b1) / 2 - float(middle @ second))
            wide, long = sorted((a1 - a0, b1 - b0))
            sizes: dict[Size, float | None] = {"width": wide, "length": long}
            sizes["corner"] = next(iter(corners.values()), None)
            return sizes, middle, first if a1 - a0 > b1 - b0 else second
    found = points(body, walls)
    middle = found.mean(0)
    return {}, middle - normal * float((middle - np.array(floor.origin)) @ normal), None


def _between(flat: list[FaceFact], direction: Array) -> tuple[float, float] | None:
    """Where two walls that look at each other along a direction lie; None where there are not just two."""
    at = sorted(float(np.array(w.origin) @ direction) for w in flat if is_parallel(w.axis, direction))
    return (at[0], at[1]) if len(at) == 2 else None


# ---- openings ----------------------------------------------------------------------------------------------
def _loops(body: Body, base: FaceFact) -> Iterator[list[tuple[EdgeFact, FaceFact]]]:
    """Inner loops of a plane face: edges with the faces beyond."""
    beside = {edge.name: (edge, other) for edge, other in body.others(base)}
    for loop in base.inner:
        if all(name in beside for name in loop):
            yield [beside[name] for name in loop]


def _openings(body: Body, taken: set[str]) -> Iterator[Feature]:
    """What goes through from plane to plane and is no hole and no slot."""
    seen: set[str] = set()
    for base in body.part.faces:
        if base.kind != "plane" or not base.inner:
            continue
        for loop in _loops(body, base):
            walls = {w.name: w for _, w in loop}
            if not taken.isdisjoint(walls) or not seen.isdisjoint(walls):
                continue
            if any(e.turn != "convex" for e, _ in loop):
                continue
            if not any(
                other.kind == "plane" and is_opposite(other, base) and edge.turn == "convex"
                for w in walls.values()
                for edge, other in body.others(w)
            ):
                continue
            seen |= set(walls)
            sizes, middle, along = _outline(body, base, list(walls.values()))
            yield made("opening", sizes, middle, -np.array(base.axis), set(walls), along)


# ---- what rises --------------------------------------------------------------------------------------------
def raised(body: Body) -> list[Feature]:
    """Bosses (round) and pads that stand on a plane."""
    out: list[Feature] = []
    seen: set[str] = set()
    for base in body.part.faces:
        if base.kind != "plane" or not base.inner:
            continue
        rising = {e.name: (w, between) for e, w, between in walls_of(body, base)}
        for loop in base.inner:
            if not loop or any(name not in rising for name in loop):
                continue
            walls = {w.name: w for w, _ in (rising[name] for name in loop)}
            between = {n for name in loop for n in rising[name][1]}
            if set(walls) & seen:
                continue
            found = _standing(body, base, walls, between)
            if found is not None:
                seen |= found.faces
                out.append(found)
    return out


def _standing(body: Body, base: FaceFact, walls: dict[str, FaceFact], between: set[str]) -> Feature | None:
    up = _height(body, base, walls, {base.name, *between})
    if up is None or up < body.near:
        return None
    normal = np.array(base.axis)
    faces = {*walls, *between}
    if all(w.kind == "cylinder" and w.hollow is False for w in walls.values()) and _is_round(
        body, list(walls.values())
    ):
        wall = next(iter(walls.values()))
        if not is_parallel(wall.axis, normal) or _is_turned(body, base, wall):
            return None
        center = np.array(wall.origin)
        center = center - normal * float((center - np.array(base.origin)) @ normal)
        return made("boss", {"diameter": 2 * wall.radius, "height": up}, center, normal, faces)
    sizes, middle, along = _outline(body, base, [w for w in walls.values() if w.name not in between])
    return made("pad", {**sizes, "height": up}, middle, normal, faces, along)


def _is_turned(body: Body, base: FaceFact, wall: FaceFact) -> bool:
    """Whether the plane itself ends in a circle about a round wall's axis: then that is a step of a shaft."""
    inner = {name for loop in base.inner for name in loop}
    axis, origin = np.array(wall.axis), np.array(wall.origin)
    for edge in body.of_face[base.name]:
        if edge.name not in inner and edge.kind == "circle" and edge.center is not None:
            off = np.array(edge.center) - origin
            if float(np.linalg.norm(off - axis * float(off @ axis))) < body.near:
                return True
    return False


# ---- ribs --------------------------------------------------------------------------------------------------
def ribs(body: Body) -> list[Feature]:
    """Thin webs: two planes with material between them that share their outer faces and rise from others."""
    flat: dict[tuple[int, ...], list[FaceFact]] = {}
    for face in body.part.faces:
        if face.kind == "plane" and sum(e.turn == "concave" for e in body.of_face[face.name]) >= 2:
            normal = np.array(face.axis)
            key = tuple(np.round(np.abs(normal), 5).tolist())
            flat.setdefault(key, []).append(face)
    out = []
    for group in flat.values():
        for n, one in enumerate(group):
            for two in group[n + 1 :]:
                found = _rib(body, one, two)
                if found is not None:
                    out.append(found)
    return out


def _rib(body: Body, one: FaceFact, two: FaceFact) -> Feature | None:
    normal = np.array(one.axis)
    thick = -float((np.array(two.origin) - np.array(one.origin)) @ normal)
    if not is_opposite(one, two) or thick < body.near:
        return None
    beside = [
        {turn: {o.name for e, o in body.others(f) if e.turn == turn} for turn in ("convex", "concave")}
        for f in (one, two)
    ]
    shared = beside[0]["convex"] & beside[1]["convex"]
    roots = beside[0]["concave"] & beside[1]["concave"]
    if not shared or len(roots) < 2:
        return None
    bases = [body.faces[n] for n in sorted(roots)]
    if not any(
        a.kind == b.kind == "plane" and not is_parallel(a.axis, b.axis)
        for k, a in enumerate(bases)
        for b in bases[k + 1 :]
    ) and all(b.kind == "plane" for b in bases):
        return None  # between two parallel faces it is a wall or the land between two slots
    if thick > 0.5 * math.dist(*(np.ptp(points(body, [one]), axis=0), (0, 0, 0))):
        return None
    middle = points(body, [one]).mean(0) - normal * (thick / 2)
    low, high = reach(body, [one], np.array(bases[0].axis)) if bases[0].kind == "plane" else (0.0, 0.0)
    return made(
        "rib",
        {"width": thick, "height": high - low if high > low else None},
        middle,
        normal,
        {one.name, two.name, *shared},
    )
