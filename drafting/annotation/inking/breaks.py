"""Breaks: the lines of one size are interrupted where they cross another's arrowhead, number or dimension
line.

ASME Y14.5 and ISO 129-1: extension lines give way to arrowheads and dimension lines; they may cross each
other. Of two crossing dimension lines the one placed later gives way. Lines that only meet (a chain's common
extension line) are left whole.
"""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from drafting.annotation.inking.dimension_ink import LINE_KIND, SizeInk
from drafting.ink.elements import XY, Arc, Element, Fill, Line, Polyline
from drafting.ink.shapes import text_boxes
from drafting.standards.profile import Profile

MEETS = 0.3
"""How near a line's end must come to another line for the two to be taken to meet there, mm."""
SHORTEST = 0.3
"""A piece of line shorter than this is left out, mm."""
STEP = 0.1
"""How finely an arc is tried for what it crosses, mm."""


@dataclass(frozen=True)
class _Stroke:
    """A line of a size's ink: whose it is, whether an extension line, and its shape on the sheet."""

    key: str
    element: Element
    extension: bool
    shape: shapely.Geometry


def broken(
    inks: Mapping[str, SizeInk],
    keep: frozenset[str],
    profile: Profile,
    origins: Mapping[str, tuple[float, float]],
    runs: Mapping[str, str],
) -> None:
    """Break the lines of all sizes of a sheet, in place. keep: ids whose lines stay whole; origins: where
    each size's own coordinates begin; runs: of sizes that belong together, whose lines and arrows meet
    without a break."""
    strokes = [
        _Stroke(key, e, part is ink.extensions, g)
        for key, ink in inks.items()
        for part in (ink.extensions, ink.lines)
        for e in part
        if (g := _shape(e, origins[key])) is not None
    ]
    if not strokes:
        return
    number = {key: n for n, key in enumerate(inks)}
    names: dict[str, int] = {}
    family = np.array([names.setdefault(runs.get(key) or f" {key}", len(names)) for key in inks])
    shapes, owner = np.array([s.shape for s in strokes]), np.array([number[s.key] for s in strokes])
    extension = np.array([s.extension for s in strokes])
    found: dict[int, list[shapely.Geometry]] = {}

    def obstruct(at: NDArray[np.int_], with_: NDArray[np.object_]) -> None:
        for n, g in zip(at.tolist(), with_.tolist(), strict=True):
            found.setdefault(n, []).append(g)

    heads, tips, whose = _arrowheads(inks, origins, number)
    a, b = shapely.STRtree(heads).query(shapes, predicate="dwithin", distance=profile.text_gap)
    crossing = (family[owner[a]] != family[whose[b]]) & (shapely.distance(tips[b], shapes[a]) > MEETS)
    obstruct(a[crossing], shapely.buffer(heads[b[crossing]], profile.text_gap, quad_segs=2))

    boxes = [
        (number[key], box)
        for key, ink in inks.items()
        for box in text_boxes(ink.lettering, origins[key], margin=0.4)
    ]
    texts, whose = np.array([box for _, box in boxes], object), np.array([n for n, _ in boxes], int)
    a, b = shapely.STRtree(texts).query(shapes, predicate="intersects")
    crossing = owner[a] != whose[b]
    obstruct(a[crossing], texts[b[crossing]])

    lines = np.flatnonzero(~extension)
    a, b = shapely.STRtree(shapes[lines]).query(shapes, predicate="intersects")
    b = lines[b]
    gives_way = (family[owner[a]] != family[owner[b]]) & (extension[a] | (owner[a] > owner[b]))
    a, b = a[gives_way], b[gives_way]
    places = shapely.intersection(shapes[a], shapes[b])
    crossing = np.isin(shapely.get_type_id(places), (0, 4))  # a point, several points
    for end in (shapely.get_point(shapes, n) for n in (0, -1)):  # and not where one line ends
        for at in (a, b):
            crossing &= shapely.distance(end[at], places) > MEETS
    obstruct(a[crossing], shapely.buffer(places[crossing], profile.arrow_length / 3, quad_segs=4))

    pieces: dict[int, list[Element]] = {}
    for n, obstacles in found.items():
        stroke = strokes[n]
        if stroke.key not in keep:
            pieces[id(stroke.element)] = _cut(stroke, obstacles, origins[stroke.key])
    for ink in inks.values():
        ink.extensions = [p for e in ink.extensions for p in pieces.get(id(e), [e])]
        ink.lines = [p for e in ink.lines for p in pieces.get(id(e), [e])]


def _arrowheads(
    inks: Mapping[str, SizeInk], origins: Mapping[str, tuple[float, float]], number: Mapping[str, int]
) -> tuple[NDArray[np.object_], NDArray[np.object_], NDArray[np.int_]]:
    """Outlines, tips and owners of all arrowheads."""
    heads, tips, whose = [], [], []
    for key, ink in inks.items():
        for e in ink.arrows:
            if isinstance(e, Fill | Polyline):
                points = np.array(e.points) + origins[key]
                heads.append(shapely.Polygon(points))
                tips.append(points[0] if isinstance(e, Fill) else points[1])
                whose.append(number[key])
    return np.array(heads, object), shapely.points(np.array(tips, float).reshape(-1, 2)), np.array(whose, int)


def _shape(e: Element, origin: XY) -> shapely.Geometry | None:
    x, y = origin
    if isinstance(e, Line):
        return shapely.LineString([(e.a[0] + x, e.a[1] + y), (e.b[0] + x, e.b[1] + y)])
    if isinstance(e, Polyline):
        return shapely.LineString([(p[0] + x, p[1] + y) for p in e.points])
    if isinstance(e, Arc):
        return shapely.LineString(_along(e, np.linspace(e.first, e.last, 65)) + origin)
    return None


def _along(arc: Arc, t: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.array(arc.center) + arc.radius * np.stack([np.cos(t), np.sin(t)], 1)


def _cut(stroke: _Stroke, obstacles: list[shapely.Geometry], origin: XY) -> list[Element]:
    """What is left of a line."""
    e = stroke.element
    if isinstance(e, Arc):
        return _cut_arc(e, shapely.union_all(obstacles), origin)
    if isinstance(e, Line):
        return _cut_line(e, stroke.shape, obstacles)
    rest = stroke.shape.difference(shapely.union_all(obstacles))
    pieces = [g for g in shapely.get_parts(rest) if g.length > SHORTEST]
    return [Polyline(tuple((x - origin[0], y - origin[1]) for x, y in g.coords), LINE_KIND) for g in pieces]


def _cut_line(e: Line, shape: shapely.Geometry, obstacles: list[shapely.Geometry]) -> list[Element]:
    """A straight line without what obstacles, whose parts have no hollows, cover of it: spans along its
    longer axis."""
    a, b = np.array(e.a), np.array(e.b)
    axis = int(abs(b[1] - a[1]) > abs(b[0] - a[0]))
    start, reach = shapely.get_coordinates(shape)[0][axis], b[axis] - a[axis]
    box = shapely.bounds(shapely.intersection(shape, shapely.get_parts(obstacles)))
    box = box[~np.isnan(box[:, 0])]
    spans = np.sort((box[:, [axis, axis + 2]] - start) / reach, axis=1)
    spans = spans[np.argsort(spans[:, 0])]
    covered = np.maximum.accumulate(np.append(0.0, spans[:, 1]))
    length = float(np.hypot(*(b - a)))
    free = [
        (p, q)
        for p, q in zip(covered.tolist(), np.append(spans[:, 0], 1.0).tolist(), strict=True)
        if (q - p) * length > SHORTEST
    ]
    points = [(a + (b - a) * p, a + (b - a) * q) for p, q in free]
    return [Line((float(p[0]), float(p[1])), (float(q[0]), float(q[1])), e.line) for p, q in points]


def _cut_arc(e: Arc, obstacle: shapely.Geometry, origin: XY) -> list[Element]:
    t = np.linspace(e.first, e.last, max(2, int(e.radius * (e.last - e.first) / STEP)))
    points = _along(e, t) + origin
    free = ~shapely.contains_xy(obstacle, points[:, 0], points[:, 1])
    changes = np.flatnonzero(np.diff(np.concatenate([[False], free, [False]]).astype(int)))
    spans = [
        (float(t[first]), float(t[last - 1])) for first, last in zip(changes[::2], changes[1::2], strict=True)
    ]
    return [Arc(e.center, e.radius, a, b, e.line) for a, b in spans if (b - a) * e.radius > SHORTEST]
