"""Callouts for all kinds of holes that a view looks into, and for those that it cuts along and no view of the
drawing looks into; each once on a drawing and none that it sizes otherwise, beside the view where there is
room, with leaders that cross nothing of each other. In a drawing of an assembly there are none: its parts
have drawings of their own."""

import contextlib
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely

from drafting.annotation import registry
from drafting.annotation.kinds import feature_callout, hole_callout
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.measuring.picked_features import holes_at, meant
from drafting.context import Context
from drafting.document import Pick, Placement, Point, in_view
from drafting.errors import SizeError
from drafting.features.hole import Hole
from drafting.features.recognized import Features, features
from drafting.ink.elements import Text
from drafting.ink.shapes import text_boxes
from drafting.views.family import facing
from drafting.views.frame import Array
from drafting.views.geometry import ViewGeometry

Callout = HoleCallout | FeatureCallout
AWAY = (8.0, 15.0, 22.0, 30.0)
"""How far from the view's outline words may stand, mm."""
STEP = 4.0
"""Between places that are tried along the outline, mm."""
MOST = 8
"""Holes of a kind that a leader is tried from: those farthest out."""
OVER_NUMBER = 150.0
"""What it costs a leader to cross lettering, mm."""
OVER_LINE = 15.0
"""How much longer a leader may be, mm, not to cross a line of a size."""
LEVEL = 12.0
"""The same, not to run level or upright, as lines of sizes do."""


@dataclass(frozen=True)
class _Kind:
    """A kind of hole of which nothing is said yet: what of it may be picked, and where its holes begin."""

    picks: list[Pick]
    entries: Array


def _unplaced(kind: _Kind, context: Context) -> list[HoleCallout]:
    """Callouts without a place of the holes farthest from the middle of the view."""
    nowhere = Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0))
    instance = context.facts.instances[0]
    m = np.array(context.frame.placed(instance, kind.entries[0].tolist()))
    away = kind.entries @ m[:3, :3].T + m[:3, 3] - context.frame.middle
    outermost = np.argsort(-np.linalg.norm(away @ context.frame.matrix[:2].T, axis=1))[:MOST].tolist()
    return [
        HoleCallout(id=f"c{n}", anchor=in_view(context.view_id, [kind.picks[n]]), place=nowhere)
        for n in outermost
    ]


def _kinds(geometry: ViewGeometry, context: Context) -> list[_Kind]:
    facts = context.facts
    if facts.kind != "part":
        return []
    part = next(iter(facts.parts.values()))
    known = features(part)
    done = _told_already(context)
    found: dict[int, dict[int, Pick]] = defaultdict(dict)
    toward = context.frame.matrix[2]
    from_side = _seen_from_the_side(known, context)
    for c in (c for c in geometry.curves if c.visible):
        pick = Pick(instance=geometry.instances[c.instance], source=c.source, role=c.role)
        edge = part.edge(c.source) if c.role == "edge" and c.kind == "arc" else None
        for n in known.holes_at(edge.faces if edge else ()):
            if _is_looked_into(known.holes[n], toward):
                found[known.alike(n)[0]].setdefault(n, pick)
        for n in known.holes_at([c.source] if c.role == "cut" and c.kind == "line" else ()):
            if n in from_side:
                found[known.alike(n)[0]].setdefault(n, pick)
    return [
        _Kind(list(picks.values()), np.array([known.holes[n].entry for n in picks]))
        for first, picks in found.items()
        if known.holes[first].is_told and not any(known.holes[first].is_like(h) for h in done)
    ]


def _seen_from_the_side(known: Features, context: Context) -> set[int]:
    """Holes whose axis lies in the plane of a view and that no view of the drawing looks into."""
    ways = [np.array(context.frame.matrix[2])]
    ways += [facing(v).matrix()[2] for sheet in context.drawing.sheets for v in sheet.views]
    return {
        n
        for n, hole in enumerate(known.holes)
        if abs(float(np.dot(hole.direction, ways[0]))) < 1e-6
        and not any(_is_looked_into(hole, way) for way in ways)
    }


def _is_looked_into(hole: Hole, toward: Array) -> bool:
    """Whether one looks into a hole at the end it begins at; where both ends are the same, at either."""
    facing = float(np.dot(hole.direction, toward))
    if hole.is_same_both_ways:
        facing = -abs(facing)
    return facing < -1 + 1e-6


def _told_already(context: Context) -> list[Hole]:
    """Holes that the drawing calls out, or of which it says a diameter."""
    out: list[Hole] = []
    for a in (a for sheet in context.drawing.sheets for a in sheet.annotations):
        if isinstance(a, HoleCallout | DiameterDimension) and len(a.picks) == 1:
            with contextlib.suppress(SizeError):
                there = Context.of_view(context.drawing, a.view, context.facts)
                known, numbers = holes_at(a.picks[0], there)
                if numbers:
                    out.append(known.holes[meant(a.picks[0], known, numbers, there)])
    return out


def lacking(geometry: ViewGeometry, context: Context) -> list[list[HoleCallout]]:
    """Callouts without a place for each kind of hole that a view looks into and the drawing says nothing of:
    at one or another of its holes."""
    return [_unplaced(kind, context) for kind in _kinds(geometry, context)]


def looked_into(geometry: ViewGeometry, context: Context) -> list[Pick]:
    """The circles of all holes that a view looks into and the drawing says nothing of, one of each hole."""
    return [pick for kind in _kinds(geometry, context) for pick in kind.picks if pick.role == "edge"]


@dataclass(frozen=True)
class _Try:
    """A callout at a place (paper mm): its words' box and its leader, and what stands against it, mm."""

    callout: Callout
    at: Array
    box: shapely.Geometry
    leader: shapely.Geometry
    cost: float


def proposed(
    geometry: ViewGeometry,
    context: Context,
    room: shapely.Geometry,
    lines: Sequence[shapely.Geometry],
    ids: Sequence[str],
) -> tuple[list[HoleCallout], int]:
    """Callouts in places of their own, and how many kinds found none. room: where words may stand, paper mm
    about the view's position; lines: of sizes and boxes of their numbers, better not crossed."""
    found = placed(lacking(geometry, context), geometry, context, room, lines)
    out = [c for c in found if isinstance(c, HoleCallout)]
    return [c.model_copy(update={"id": key}) for c, key in zip(out, ids, strict=False)], len(found) - len(out)


def placed(
    groups: Sequence[Sequence[Callout]],
    geometry: ViewGeometry,
    context: Context,
    room: shapely.Geometry,
    lines: Sequence[shapely.Geometry],
) -> list[Callout | None]:
    """One callout of each group in a place of its own; None where there is no room. room: where words may
    stand, paper mm about the view's position; lines: of sizes and boxes of their numbers, better not
    crossed."""
    shapely.prepare(room)
    tree = shapely.STRtree(list(lines)) if lines else None
    places = _places(geometry, context)
    left: list[list[_Try]] = []
    for group in groups:
        tries = [t for made in group for t in _tries(made, places, room, context)]
        left.append(sorted((_weighed(t, tree, lines) for t in tries), key=lambda t: t.cost))
    out: list[Callout | None] = [None] * len(groups)
    taken: list[shapely.Geometry] = []
    for n in sorted(range(len(left)), key=lambda n: len(left[n])):  # who has least choice goes first
        fits = next(
            (t for t in left[n] if not any(t.box.intersects(g) or t.leader.intersects(g) for g in taken)),
            None,
        )
        if fits is not None:
            taken += [fits.box, fits.leader]
            out[n] = _stood(fits.callout, fits.at, context)
    return out


def _stood(callout: Callout, at: Array, context: Context) -> Callout:
    if isinstance(callout, HoleCallout):
        return hole_callout.stood(callout, at, context)
    return feature_callout.stood(callout, at, context)


def _pointed(callout: Callout, context: Context) -> tuple[Array, float]:
    """Where a callout's leader points (view mm), and the radius of the circle that it ends on."""
    if isinstance(callout, HoleCallout):
        found = hole_callout.called(callout, context)
        return found.center, found.radius
    return feature_callout.called(callout, context).tip, 0.0


def _places(geometry: ViewGeometry, context: Context) -> Array:
    """Places about a view's outline, paper mm about its position (n, 2)."""
    low, high = (np.array(v) * context.scale for v in (geometry.low, geometry.high))
    out = []
    for away in AWAY:
        a, b = low - away, high + away
        for x in np.arange(a[0], b[0] + 1e-9, STEP):
            out += [(x, a[1]), (x, b[1])]
        for y in np.arange(a[1], b[1] + 1e-9, STEP):
            out += [(a[0], y), (b[0], y)]
    return np.array(out, float)


def _tries(callout: Callout, places: Array, room: shapely.Geometry, context: Context) -> list[_Try]:
    """A callout at each place at which its words have room."""
    pointed, radius = _pointed(callout, context)
    center = context.frame.drawn(pointed) * context.scale
    sides = {side: _words_box(callout, side, center, context) for side in (-1, 1)}
    boxes = np.array([sides[1 if p[0] >= center[0] else -1] for p in places])
    moved = shapely.box(
        boxes[:, 0] + places[:, 0],
        boxes[:, 1] + places[:, 1],
        boxes[:, 2] + places[:, 0],
        boxes[:, 3] + places[:, 1],
    )
    good = shapely.contains(room, moved)
    return [
        _try(callout, radius * context.scale, center, places[n], moved[n])
        for n in np.flatnonzero(good).tolist()
    ]


def _words_box(
    callout: Callout, side: int, center: Array, context: Context
) -> tuple[float, float, float, float]:
    """The box of the words and the shoulder about the place they stand at, to one side of the hole."""
    at = center + np.array([side * 100.0, 0.0])
    ink = registry.ink(_stood(callout, at, context), context)
    boxes = text_boxes([e for e in ink if isinstance(e, Text)], (0.0, 0.0), margin=1.0)
    whole = shapely.union_all([*boxes, shapely.Point(*at)]).bounds
    return whole[0] - at[0], whole[1] - at[1], whole[2] - at[0], whole[3] - at[1]


def _try(callout: Callout, radius: float, center: Array, at: Array, box: shapely.Geometry) -> _Try:
    toward = at - center
    length = float(np.linalg.norm(toward))
    tip = center + toward / max(length, 1e-9) * radius
    level = min(abs(toward[0]), abs(toward[1])) / max(length, 1e-9)
    cost = length + (LEVEL if level < 0.17 else 0.0)
    return _Try(callout, at, box, shapely.LineString([at, tip]), cost)


def _weighed(t: _Try, tree: shapely.STRtree | None, lines: Sequence[shapely.Geometry]) -> _Try:
    """With what it costs to cross lines of sizes and their numbers."""
    if tree is None:
        return t
    crossed = [lines[n] for n in tree.query(t.leader, predicate="intersects").tolist()]
    over = sum(OVER_NUMBER if g.geom_type == "Polygon" else OVER_LINE for g in crossed)
    return replace(t, cost=t.cost + over)
