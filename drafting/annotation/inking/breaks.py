"""Breaks: the lines of one size are interrupted where they cross another's arrowhead, number or dimension
line.

ASME Y14.5 and ISO 129-1: extension lines give way to arrowheads and dimension lines; they may cross each
other. Of two crossing dimension lines the one placed later gives way. Lines that only meet (a chain's common
extension line) are left whole.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import chain

import numpy as np
import shapely
from numpy.typing import NDArray

from drafting.annotation.inking.dimension_ink import LINE_KIND, SizeInk
from drafting.annotation.inking.spans import covered, crossing, distance, free
from drafting.ink.elements import XY, Arc, Element, Fill, Line, Polyline
from drafting.ink.shapes import text_corners
from drafting.standards.profile import Profile

MEETS = 0.3
"""How near a line's end must come to another line for the two to be taken to meet there, mm."""
SHORTEST = 0.3
"""A piece of line shorter than this is left out, mm."""
STEP = 0.1
"""How finely an arc is tried for what it crosses, mm."""
TOUCHES = 1e-6
"""How far apart what touches may lie in numbers, mm."""
MANY = -1
TEXT_MARGIN = 0.4
"""How far a line stays from lettering, mm."""

Array = NDArray[np.float64]
Numbers = NDArray[np.int_]


@dataclass(frozen=True)
class _Stroke:
    """A line of a size's ink: of which size, of which family, and whether it is an extension line."""

    element: Element
    owner: int
    family: int
    extension: bool
    origin: XY


@dataclass(frozen=True)
class _Straight:
    """All straight strokes: from a to b (n, 2) on the sheet."""

    strokes: list[_Stroke]
    a: Array
    b: Array
    owner: Numbers
    family: Numbers
    extension: NDArray[np.bool_]


@dataclass(frozen=True)
class _Bent:
    """All strokes that are not straight, with their shapes."""

    strokes: list[_Stroke]
    shapes: NDArray[np.object_]


@dataclass(frozen=True)
class _Outlines:
    """What lines give way to: convex outlines (m, k, 2), each once, whose they are or of which family, and of
    arrowheads their tips."""

    corners: Array
    of: Numbers
    """MANY for what several have in common."""
    tips: Array


@dataclass(frozen=True)
class _Obstacles:
    """Arrowheads, lettering, how far lines stay from arrowheads, and how far to both sides they break where
    they cross another, mm."""

    heads: _Outlines
    texts: _Outlines
    gap: float
    radius: float


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
    names: dict[str, int] = {}
    family = np.array([names.setdefault(runs.get(key) or f" {key}", len(names)) for key in inks], int)
    kept = np.array([key in keep for key in inks], bool)
    strokes = [
        _Stroke(e, number, int(family[number]), part is ink.extensions, origins[key])
        for number, (key, ink) in enumerate(inks.items())
        for part in (ink.extensions, ink.lines)
        for e in part
    ]
    straight, bent = _sorted(strokes)
    heads, texts = _arrowheads(inks, origins, family), _lettering(inks, origins)
    obstacles = _Obstacles(heads, texts, profile.text_gap, profile.arrow_length / 3)
    of, start, stop = _covered_of_straight(straight, bent, obstacles)
    taken = ~kept[straight.owner[of]]
    pieces = _straight_pieces(straight, of[taken], start[taken], stop[taken])
    for number, areas in _in_the_way_of_bent(straight, bent, obstacles):
        if not kept[bent.strokes[number].owner]:
            pieces[id(bent.strokes[number].element)] = _cut(bent, number, areas)
    if pieces:
        for ink in inks.values():
            ink.extensions = [p for e in ink.extensions for p in pieces.get(id(e), (e,))]
            ink.lines = [p for e in ink.lines for p in pieces.get(id(e), (e,))]


def _sorted(strokes: list[_Stroke]) -> tuple[_Straight, _Bent]:
    """Strokes by whether they are straight; those of no length stay as they are."""
    lines: list[_Stroke] = []
    bent: list[_Stroke] = []
    rows: list[tuple[float, ...]] = []
    for s in strokes:
        if isinstance(s.element, Line):
            if s.element.a != s.element.b:
                lines.append(s)
                rows.append((*s.element.a, *s.element.b))
        elif isinstance(s.element, Polyline | Arc):
            bent.append(s)
    ends = np.array(rows, np.float64).reshape(-1, 2, 2) + _origins(lines)[:, None]
    return (
        _Straight(
            lines,
            ends[:, 0],
            ends[:, 1],
            np.array([s.owner for s in lines], int),
            np.array([s.family for s in lines], int),
            np.array([s.extension for s in lines], bool),
        ),
        _Bent(bent, np.array([_shape(s.element, s.origin) for s in bent], object)),
    )


def _origins(strokes: list[_Stroke]) -> Array:
    return np.array([s.origin for s in strokes], np.float64).reshape(-1, 2)


def _arrowheads(inks: Mapping[str, SizeInk], origins: Mapping[str, XY], family: Numbers) -> _Outlines:
    """Arrowheads by family; those of a chain's neighbors, or of sizes dropped on one spot, lie on each
    other."""
    found: dict[tuple[XY, ...], tuple[XY, set[int]]] = {}
    for number, (key, ink) in enumerate(inks.items()):
        x, y = origins[key]
        for e in ink.arrows:
            if isinstance(e, Fill | Polyline):
                outline = tuple((round(px + x, 6), round(py + y, 6)) for px, py in e.points)
                tip = outline[0 if isinstance(e, Fill) else 1]
                found.setdefault(outline, (tip, set()))[1].add(int(family[number]))
    most = max(map(len, found), default=1)
    corners = [[*o, *[o[-1]] * (most - len(o))] for o in found]
    return _Outlines(
        np.array(corners, float).reshape(len(found), most, 2),
        np.array([min(of) if len(of) == 1 else MANY for _, of in found.values()], int),
        np.array([tip for tip, _ in found.values()], float).reshape(-1, 2),
    )


def _lettering(inks: Mapping[str, SizeInk], origins: Mapping[str, XY]) -> _Outlines:
    boxes: list[list[XY]] = []
    owner: list[int] = []
    for number, (key, ink) in enumerate(inks.items()):
        mine = text_corners(ink.lettering, origins[key], margin=TEXT_MARGIN)
        boxes += mine
        owner += [number] * len(mine)
    return _Outlines(np.array(boxes, float).reshape(-1, 4, 2), np.array(owner, int), np.zeros((0, 2)))


def _covered_of_straight(
    straight: _Straight, bent: _Bent, obstacles: _Obstacles
) -> tuple[Numbers, Array, Array]:
    """What straight strokes give way to: their numbers, and from where to where along them."""
    a, b = straight.a, straight.b
    heads, texts, radius = obstacles.heads, obstacles.texts, obstacles.radius
    of, head, start, stop = covered(a, b, heads.corners, obstacles.gap)
    gives = straight.family[of] != heads.of[head]
    gives[gives] = distance(heads.tips[head[gives]], a[of[gives]], b[of[gives]]) > MEETS
    found = [(of[gives], start[gives], stop[gives])]

    of, text, start, stop = covered(a, b, texts.corners, 0.0)
    gives = straight.owner[of] != texts.of[text]
    found.append((of[gives], start[gives], stop[gives]))

    lines = np.flatnonzero(~straight.extension)
    of, other, at = crossing(a, b, a[lines], b[lines], MEETS)
    gives = _gives_way(straight, of, straight.owner[lines[other]], straight.family[lines[other]])
    found.append((of[gives], at[gives] - radius, at[gives] + radius))

    every = np.arange(len(a))
    for stroke, shape in zip(bent.strokes, bent.shapes, strict=True):
        if not stroke.extension:
            yields = _gives_way(straight, every, stroke.owner, stroke.family)
            found.append(_crossed_by(straight, every[yields], shape, radius))
    return (
        np.concatenate([f[0] for f in found]),
        np.concatenate([f[1] for f in found]),
        np.concatenate([f[2] for f in found]),
    )


def _gives_way(
    straight: _Straight, of: Numbers, owner: Numbers | int, family: Numbers | int
) -> NDArray[np.bool_]:
    """Whether straight strokes give way to dimension lines of these sizes and families."""
    return np.asarray(
        (straight.family[of] != family) & (straight.extension[of] | (straight.owner[of] > owner))
    )


def _crossed_by(
    straight: _Straight, of: Numbers, shape: shapely.Geometry, radius: float
) -> tuple[Numbers, Array, Array]:
    """Where a bent stroke crosses straight ones."""
    corners = np.array(shapely.get_coordinates(shape))
    # also through a corner of its: between two of its sides, an arc's middle is one
    hit, _, at = crossing(straight.a[of], straight.b[of], corners[:-1], corners[1:], -TOUCHES)
    of = of[hit]
    r = straight.b[of] - straight.a[of]
    length = np.hypot(r[:, 0], r[:, 1])
    places = straight.a[of] + r * (at / length)[:, None]
    ends = np.minimum(*(np.hypot(*(places - corners[n]).T) for n in (0, -1)))
    clear = (at > MEETS) & (at < length - MEETS) & (ends > MEETS)
    return of[clear], at[clear] - radius, at[clear] + radius


def _straight_pieces(straight: _Straight, of: Numbers, start: Array, stop: Array) -> dict[int, list[Element]]:
    """What is left of each straight stroke that is covered anywhere, by its element's identity."""
    r = straight.b - straight.a
    lengths = np.hypot(r[:, 0], r[:, 1])
    inside = (stop > 0) & (start < lengths[of])
    of, start, stop = of[inside], start[inside], stop[inside]
    if not len(of):
        return {}
    pieces: dict[int, list[Element]] = {id(straight.strokes[n].element): [] for n in np.unique(of).tolist()}
    number, first, last = free(lengths, of, start, stop, SHORTEST)
    unit = r[number] / lengths[number][:, None]
    own = straight.a[number] - _origins([straight.strokes[n] for n in number.tolist()])
    ends = np.concatenate([own + unit * first[:, None], own + unit * last[:, None]], 1).tolist()
    for n, (x0, y0, x1, y1) in zip(number.tolist(), ends, strict=True):
        element = straight.strokes[n].element
        assert isinstance(element, Line)
        pieces[id(element)].append(Line((x0, y0), (x1, y1), element.line))
    return pieces


def _in_the_way_of_bent(
    straight: _Straight, bent: _Bent, obstacles: _Obstacles
) -> list[tuple[int, list[shapely.Geometry]]]:
    """For each bent stroke that gives way to anything the areas that it leaves free."""
    if not bent.strokes:
        return []
    heads, texts = obstacles.heads, obstacles.texts
    head_areas, text_areas = shapely.polygons(heads.corners), shapely.polygons(texts.corners)
    lines = np.flatnonzero(~straight.extension)
    line_shapes = shapely.linestrings(np.stack([straight.a[lines], straight.b[lines]], 1))
    out = []
    for number, (stroke, shape) in enumerate(zip(bent.strokes, bent.shapes, strict=True)):
        near = (heads.of != stroke.family) & shapely.dwithin(head_areas, shape, obstacles.gap)
        near[near] = shapely.distance(shapely.points(heads.tips[near]), shape) > MEETS
        met = (texts.of != stroke.owner) & shapely.intersects(text_areas, shape)
        areas = [*shapely.buffer(head_areas[near], obstacles.gap, quad_segs=2), *text_areas[met]]
        gives = (straight.family[lines] != stroke.family) & (
            stroke.extension | (stroke.owner > straight.owner[lines])
        )
        others = chain(
            line_shapes[gives & shapely.intersects(line_shapes, shape)],
            (
                other
                for s, other in zip(bent.strokes, bent.shapes, strict=True)
                if not s.extension
                and s.family != stroke.family
                and (stroke.extension or stroke.owner > s.owner)
            ),
        )
        for other in others:
            place = shapely.intersection(shape, other)
            ends = [shapely.get_point(g, n) for g in (shape, other) for n in (0, -1)]
            at_points = place.geom_type in ("Point", "MultiPoint") and not place.is_empty
            if at_points and min(place.distance(e) for e in ends) > MEETS:
                areas.append(place.buffer(obstacles.radius, quad_segs=4))
        if areas:
            out.append((number, areas))
    return out


def _shape(e: Element, origin: XY) -> shapely.Geometry:
    x, y = origin
    if isinstance(e, Polyline):
        return shapely.LineString([(p[0] + x, p[1] + y) for p in e.points])
    assert isinstance(e, Arc)
    return shapely.LineString(_along(e, np.linspace(e.first, e.last, 65)) + origin)


def _along(arc: Arc, t: Array) -> Array:
    return np.array(arc.center) + arc.radius * np.stack([np.cos(t), np.sin(t)], 1)


def _cut(bent: _Bent, number: int, areas: list[shapely.Geometry]) -> list[Element]:
    """What is left of a bent stroke."""
    e, origin = bent.strokes[number].element, bent.strokes[number].origin
    area = shapely.union_all(areas)
    if isinstance(e, Arc):
        return _cut_arc(e, area, origin)
    pieces = [g for g in shapely.get_parts(bent.shapes[number].difference(area)) if g.length > SHORTEST]
    return [Polyline(tuple((x - origin[0], y - origin[1]) for x, y in g.coords), LINE_KIND) for g in pieces]


def _cut_arc(e: Arc, obstacle: shapely.Geometry, origin: XY) -> list[Element]:
    t = np.linspace(e.first, e.last, max(2, int(e.radius * (e.last - e.first) / STEP)))
    points = _along(e, t) + origin
    free_there = ~shapely.contains_xy(obstacle, points[:, 0], points[:, 1])
    changes = np.flatnonzero(np.diff(np.concatenate([[False], free_there, [False]]).astype(int)))
    spans = [
        (float(t[first]), float(t[last - 1])) for first, last in zip(changes[::2], changes[1::2], strict=True)
    ]
    return [Arc(e.center, e.radius, a, b, e.line) for a, b in spans if (b - a) * e.radius > SHORTEST]
