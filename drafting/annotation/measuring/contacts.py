"""Where the parts of an assembly bear on each other: planes that touch, and shafts in bores."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from drafting.memory import Memory
from drafting.model.model import EdgeFact, FaceFact, Facts, InstanceFacts, PartFacts
from drafting.views.frame import Array

LEVEL = 1e-4
"""How far apart planes that touch, and axes of shafts in bores, may be, mm."""
ALONG = 1 - 1e-8
LEAST = 0.5
"""Of an area that bears, mm2."""
LOOSE = 0.1
"""How much wider than its shaft a bore may be, as a share, for the two to be a fit; and 1 mm at least."""


@dataclass(frozen=True)
class Side:
    """A face of an instance where it stands in the model. at, direction: a place on it and its outward normal
    or its axis, (3,); radius: of a cylinder, mm."""

    path: str
    face: str
    at: Array
    direction: Array
    radius: float = 0.0


@dataclass(frozen=True)
class Contact:
    """Two faces that bear on each other. is_fit: a bore (one) about a shaft (other), else two planes."""

    one: Side
    other: Side
    is_fit: bool


_CONTACTS: Memory[list[Contact]] = Memory(8)


def contacts(facts: Facts) -> list[Contact]:
    """All of a model's contacts."""
    return _CONTACTS.of_one(facts, lambda: list(_contacts(facts)))


def side_of(instance: InstanceFacts, face: FaceFact) -> Side:
    """A face where its instance stands."""
    m = np.array(instance.matrix)
    at = m[:3, :3] @ np.array(face.origin) + m[:3, 3]
    return Side(instance.path, face.name, at, m[:3, :3] @ np.array(face.axis), face.radius)


def _contacts(facts: Facts) -> Iterator[Contact]:
    if len(facts.instances) < 2:
        return
    boxes = np.array([_box(i, facts.parts[i.part]) for i in facts.instances])
    tree = shapely.STRtree(shapely.box(*(boxes[:, c] for c in (0, 1, 3, 4))))
    for n, one in enumerate(facts.instances):
        near = tree.query(shapely.box(*boxes[n, [0, 1]], *boxes[n, [3, 4]]).buffer(LEVEL))
        for m in sorted(near.tolist()):
            if m <= n or boxes[m, 2] > boxes[n, 5] + LEVEL or boxes[n, 2] > boxes[m, 5] + LEVEL:
                continue
            yield from _between(one, facts.instances[m], facts)


def _box(i: InstanceFacts, part: PartFacts) -> list[float]:
    m = np.array(i.matrix)
    low, high = np.array(part.low), np.array(part.high)
    corners = np.array([[(low, high)[b][k] for k, b in enumerate(bits)] for bits in np.ndindex(2, 2, 2)])
    placed = corners @ m[:3, :3].T + m[:3, 3]
    return [*placed.min(0), *placed.max(0)]


def _between(one: InstanceFacts, two: InstanceFacts, facts: Facts) -> Iterator[Contact]:
    a, b = facts.parts[one.part], facts.parts[two.part]
    theirs = [(f, side_of(two, f)) for f in b.faces if f.kind in ("plane", "cylinder")]
    for f in a.faces:
        if f.kind not in ("plane", "cylinder"):
            continue
        mine = side_of(one, f)
        for g, other in theirs:
            if f.kind != g.kind:
                continue
            along = float(mine.direction @ other.direction)
            if f.kind == "plane":
                if along > -ALONG or abs(float((other.at - mine.at) @ mine.direction)) > LEVEL:
                    continue
                if _bears(one, f, a, two, g, b, mine):
                    yield Contact(mine, other, False)
            elif f.hollow is not None and g.hollow is not None and f.hollow != g.hollow:
                bore, shaft = (mine, other) if f.hollow else (other, mine)
                if abs(along) > ALONG and _is_fit(bore, shaft) and _overlap(one, f, two, g, mine):
                    yield Contact(bore, shaft, True)


def _is_fit(bore: Side, shaft: Side) -> bool:
    off = shaft.at - bore.at
    away = float(np.linalg.norm(off - bore.direction * float(off @ bore.direction)))
    return away < LEVEL and -LEVEL <= bore.radius - shaft.radius <= max(0.5, LOOSE * bore.radius)


def _overlap(one: InstanceFacts, f: FaceFact, two: InstanceFacts, g: FaceFact, along: Side) -> bool:
    """Whether two coaxial cylinders stand over each other along their axis."""
    spans = []
    for i, face in ((one, f), (two, g)):
        if face.span is None:
            return False
        side = side_of(i, face)
        ends = [float((side.at + side.direction * s) @ along.direction) for s in face.span]
        spans.append((min(ends), max(ends)))
    (a, b), (c, d) = spans
    return min(b, d) - max(a, c) > LEVEL


def _bears(
    one: InstanceFacts,
    f: FaceFact,
    a: PartFacts,
    two: InstanceFacts,
    g: FaceFact,
    b: PartFacts,
    plane: Side,
) -> bool:
    """Whether two planes at one level have an area in common."""
    across = np.cross(plane.direction, np.eye(3)[int(np.argmin(np.abs(plane.direction)))])
    across /= np.linalg.norm(across)
    axes = np.array([across, np.cross(plane.direction, across)])
    mine, theirs = _area(one, f, a, axes), _area(two, g, b, axes)
    return bool(mine.intersection(theirs).area > LEAST)


def _area(i: InstanceFacts, face: FaceFact, part: PartFacts, axes: Array) -> shapely.Geometry:
    return outline_of(face, part, np.array(i.matrix), axes)


def outline_of(face: FaceFact, part: PartFacts, m: Array, axes: Array) -> shapely.Geometry:
    """What a plane face covers, mm along two axes (2, 3); m: where its part stands, (4, 4)."""
    lines = []
    for e in part.edges:
        if face.name in e.faces:
            p = places_on(e) @ m[:3, :3].T + m[:3, 3]
            lines.append(shapely.LineString(p @ axes.T))
    noded = shapely.node(shapely.set_precision(shapely.MultiLineString(lines), 1e-4))
    found = list(shapely.get_parts(shapely.polygonize(shapely.get_parts(noded))))
    if not found:
        return shapely.Polygon()
    outer = max(found, key=lambda p: shapely.Polygon(p.exterior).area)
    whole = shapely.Polygon(outer.exterior)
    holes = [shapely.Polygon(p.exterior) for p in found if p is not outer and whole.contains(p)]
    return whole.difference(shapely.union_all(holes)) if holes else outer


def places_on(e: EdgeFact) -> Array:
    """Places along an edge, (n, 3), in its part's frame."""
    if e.kind == "circle" and e.center is not None and e.axis is not None and e.x_axis is not None:
        x, y = np.array(e.x_axis), np.cross(e.axis, e.x_axis)
        t = np.linspace(e.first, e.last, max(3, math.ceil((e.last - e.first) / 0.1)))
        out: Array = np.array(e.center) + e.radius * (np.outer(np.cos(t), x) + np.outer(np.sin(t), y))
        return out
    return np.array([e.start, e.end] if e.kind == "line" else [e.start, e.middle, e.end])
