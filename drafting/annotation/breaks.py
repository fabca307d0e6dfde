"""Breaks: the lines of one size are interrupted where they cross another's arrowhead, number or dimension line.

ASME Y14.5 and ISO 129-1: extension lines give way to arrowheads and dimension lines; they may cross each other. Of two crossing dimension
lines the one placed later gives way. Lines that only meet (a chain's common extension line) are left whole.
"""

from collections.abc import Mapping

import numpy as np
import shapely
import shapely.affinity

from drafting.annotation.dimension_ink import SizeInk
from drafting.ink.elements import Arc, Element, Fill, Line, Polyline
from drafting.standards.profile import Profile
from drafting.views.marks import text_boxes

MEETS = 0.3
"""How near a line's end must come to another line for the two to be taken to meet there, mm."""


def broken(
    inks: Mapping[str, SizeInk], keep: frozenset[str], profile: Profile, origins: Mapping[str, tuple[float, float]], runs: Mapping[str, str]
) -> None:
    """Break the lines of all sizes of a sheet, in place. keep: ids whose lines stay whole; origins: where each size's own coordinates begin;
    runs: of sizes that belong together, whose lines and arrows meet without a break."""
    arrows: list[tuple[str, shapely.Geometry, shapely.Point]] = []
    numbers: list[tuple[str, shapely.Geometry]] = []
    lines: list[tuple[str, shapely.Geometry]] = []
    for key, ink in inks.items():
        x, y = origins[key]
        for e in ink.arrows:
            if isinstance(e, Fill | Polyline):
                tip = e.points[0] if isinstance(e, Fill) else e.points[1]
                moved = shapely.affinity.translate(shapely.Polygon(e.points), x, y)
                arrows.append((key, moved, shapely.Point(tip[0] + x, tip[1] + y)))
        numbers += [(key, box) for box in text_boxes(ink.lettering, (x, y), margin=0.4)]
        lines += [(key, g) for g in (_shape(e, (x, y)) for e in ink.lines) if g is not None]
    order = {key: n for n, key in enumerate(inks)}
    trees = [shapely.STRtree([a[1] for a in part]) if part else None for part in (arrows, numbers, lines)]

    def apart(a: str, b: str) -> bool:
        return a != b and not (a in runs and runs[a] == runs.get(b))

    def obstacles(key: str, own: shapely.Geometry, is_extension: bool) -> list[shapely.Geometry]:
        out = []
        for n in _near(trees[0], own, profile.text_gap):
            other, shape, tip = arrows[n]
            if apart(key, other) and tip.distance(own) > MEETS:
                out.append(shape.buffer(profile.text_gap))
        for n in _near(trees[1], own, 0.0):
            if numbers[n][0] != key:
                out.append(numbers[n][1])
        for n in _near(trees[2], own, 0.0):
            other, shape = lines[n]
            gives_way = is_extension or order[key] > order[other]
            if apart(key, other) and gives_way and _cross(own, shape):
                out.append(own.intersection(shape).buffer(profile.arrow_length / 3))
        return out

    changes = []
    for key, ink in inks.items():
        if key in keep:
            continue
        origin = origins[key]
        changes.append((ink, [_cut(e, origin, lambda g, key=key: obstacles(key, g, True)) for e in ink.extensions],
                        [_cut(e, origin, lambda g, key=key: obstacles(key, g, False)) for e in ink.lines]))  # fmt: skip
    for ink, extensions, kept in changes:
        ink.extensions = [p for part in extensions for p in part]
        ink.lines = [p for part in kept for p in part]


def _near(tree: shapely.STRtree | None, own: shapely.Geometry, reach: float) -> list[int]:
    if tree is None:
        return []
    found = tree.query(own, predicate="dwithin", distance=reach) if reach else tree.query(own, predicate="intersects")
    return sorted(int(n) for n in found)


def _cross(a: shapely.Geometry, b: shapely.Geometry) -> bool:
    """Whether two lines cross away from their ends."""
    at = a.intersection(b)
    if at.geom_type != "Point":
        return False
    ends = [shapely.Point(g.coords[k]) for g in (a, b) for k in (0, -1)]
    return all(p.distance(at) > MEETS for p in ends)


def _shape(e: Element, origin: tuple[float, float]) -> shapely.Geometry | None:
    x, y = origin
    if isinstance(e, Line):
        return shapely.LineString([(e.a[0] + x, e.a[1] + y), (e.b[0] + x, e.b[1] + y)])
    if isinstance(e, Polyline):
        return shapely.LineString([(p[0] + x, p[1] + y) for p in e.points])
    if isinstance(e, Arc):
        t = np.linspace(e.first, e.last, 65)
        return shapely.LineString(np.stack([e.center[0] + x + e.radius * np.cos(t), e.center[1] + y + e.radius * np.sin(t)], 1))
    return None


def _cut(e: Element, origin: tuple[float, float], obstacles: object) -> list[Element]:
    """What is left of a straight line; others stay as they are."""
    if not isinstance(e, Line):
        return [e]
    own = _shape(e, origin)
    found = obstacles(own)  # type: ignore[operator]
    if not found or own is None:
        return [e]
    rest = own.difference(shapely.union_all(found))
    x, y = origin
    out: list[Element] = []
    for piece in shapely.get_parts(rest):
        if piece.is_empty:
            continue
        (ax, ay), (bx, by) = piece.coords[0], piece.coords[-1]
        if piece.length > 0.3:
            out.append(Line((ax - x, ay - y), (bx - x, by - y), e.line))
    return out
