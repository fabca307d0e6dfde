"""What a leader ends on: found at a place of a view, and found again when the model has changed."""

import itertools
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from drafting.annotation.measuring.measure import LostPick, resolve
from drafting.annotation.measuring.others import place_on_line
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.data import Data, Point
from drafting.data import Text as Words
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.memory import Memory
from drafting.views.frame import Array
from drafting.views.geometry import ViewCurve, ViewGeometry, arc_points

REACH = 1.2
"""How near an edge must be for a leader to end on it, mm on paper."""
GAP = 1e-3
"""How far apart lines of an outline may end, as a share of the view's size."""
CORNERS = np.array(list(itertools.product((0, 1), repeat=3)), float)


class Tip(Data):
    """Where a leader ends. at: fractions of the instance's box in the view, so that it stays on the part when
    the model changes; on: what lies there; source, role: the edge or outline that it ends on, empty within a
    face. On a line of a size, source is the size's id and at the share of the line and which one it is."""

    instance: Words
    at: Point
    on: Literal["edge", "face", "line"]
    source: Words = ""
    role: Literal["edge", "silhouette", "cut", "added", "underlay", "size"] = "edge"


def box_of(path: str, context: Context) -> tuple[Array, Array]:
    """Lower left and upper right of an instance in a view, view mm. Raises SizeError where the model has it
    no more."""
    found = context.facts.part_of(path)
    if found is None and path:
        raise SizeError("The part this points at is no longer in the model.")
    if found is None:  # of all parts, which an added line is drawn about
        low, high = np.array(context.facts.low), np.array(context.facts.high)
        corners = low + CORNERS * (high - low)
    else:
        instance, part = found
        low, high = np.array(part.low), np.array(part.high)
        m = np.array(context.frame.placed(instance, ((low + high) / 2).tolist()))
        corners = (low + CORNERS * (high - low)) @ m[:3, :3].T + m[:3, 3]
    flat = (corners - context.frame.middle) @ context.frame.matrix[:2].T
    return flat.min(0), flat.max(0)


def tip_at(path: str, place: Array, context: Context) -> Point:
    """A place of the view (view mm, as drawn) as fractions of an instance's box."""
    low, high = box_of(path, context)
    at = (np.array(context.frame.undrawn((float(place[0]), float(place[1])))) - low) / np.maximum(
        high - low, 1e-9
    )
    return Point(x=round(float(at[0]), 6), y=round(float(at[1]), 6))


@dataclass(frozen=True)
class Target:
    """What lies at a place: the instance, the place itself (on the edge where there is one, view mm), whether
    an edge or a face, and the curve of the edge."""

    instance: str
    at: Array
    on: Literal["edge", "face"]
    curve: ViewCurve | None = None


def target_at(place: Array, geometry: ViewGeometry, scale: float) -> Target:
    """What a leader points at. place: view mm, as drawn. Raises SizeError where there is no part."""
    best: tuple[float, ViewCurve, Array] | None = None
    for c in geometry.curves:
        if not c.visible or c.edge_class == "smooth":
            continue
        near = nearest(c, place)
        away = float(np.linalg.norm(near - place)) * scale
        if away < REACH and (best is None or away < best[0]):
            best = (away, c, near)
    if best is not None:
        return Target(geometry.instances[best[1].instance], best[2], "edge", best[1])
    number = _instance_at(place, geometry)
    if number < 0:
        raise SizeError("There is no part here; point at an edge or a face.")
    return Target(geometry.instances[number], place, "face")


def nearest(c: ViewCurve, place: Array) -> Array:
    """The point of a curve nearest to a place."""
    points = arc_points(c, 65)
    a, b = points[:-1], points[1:]
    d = b - a
    t = np.clip(((place - a) * d).sum(1) / np.maximum((d * d).sum(1), 1e-18), 0, 1)
    on = a + d * t[:, None]
    out: Array = on[int(np.argmin(((on - place) ** 2).sum(1)))]
    return out


_FACES: Memory[shapely.Geometry] = Memory(32)


def _instance_at(place: Array, geometry: ViewGeometry) -> int:
    """The instance seen at a place; -1 where there is none."""
    if geometry.seen:
        return geometry.seen.at(float(place[0]), float(place[1]))
    if sum(1 for path in geometry.instances if path) > 1:  # added lines are of none
        return -1
    covered = _FACES.of_one(geometry, lambda: _covered(geometry))
    return 0 if covered.contains(shapely.Point(place)) else -1


def _covered(geometry: ViewGeometry) -> shapely.Geometry:
    """What a view of one part covers: all within its outline, whose lines may end a little apart."""
    size = max(b - a for a, b in zip(geometry.low, geometry.high, strict=True))
    lines = [
        shapely.LineString(arc_points(c, 65))
        for c in geometry.curves
        if c.visible and c.edge_class not in ("smooth", "thread") and c.role not in ("added", "underlay")
    ]
    drawn = shapely.union_all(shapely.buffer(lines, GAP * max(size, 1e-6)))
    return shapely.union_all([shapely.Polygon(p.exterior) for p in shapely.get_parts(drawn)])


def tip_on(target: Target, context: Context) -> Tip:
    """What is kept of a target."""
    c = target.curve
    return Tip(
        instance=target.instance,
        at=tip_at(target.instance, target.at, context),
        on=target.on,
        source=c.source if c else "",
        role=c.role if c else "edge",
    )


@dataclass(frozen=True)
class Ended:
    """Where a leader ends, paper mm about the view's position, and the direction of the line that it ends on
    (unit, paper), None within a face and on curves."""

    at: Array
    along: Array | None


def ended(tip: Tip, context: Context) -> Ended:
    """Where a leader ends now: on its edge, as near as can be to where it was put. Raises SizeError where
    what it points at is gone."""
    if tip.on == "line":
        return Ended(*place_on_line(tip.source, int(tip.at.y), tip.at.x, context))
    low, high = box_of(tip.instance, context)
    place = low + np.array([tip.at.x, tip.at.y]) * (high - low)
    along = None
    if tip.on == "edge":
        place, along = _on_edge(tip, place, context)
    at = context.frame.drawn(place) * context.scale
    return Ended(at, along)


def place_of(tip: Tip, context: Context) -> Array:
    """Where a tip within a face is, view mm. Raises SizeError where its instance is gone."""
    low, high = box_of(tip.instance, context)
    out: Array = low + np.array([tip.at.x, tip.at.y]) * (high - low)
    return out


def _on_edge(tip: Tip, place: Array, context: Context) -> tuple[Array, Array | None]:
    """The place of an edge nearest to one, view mm, and the edge's direction there."""
    if tip.role not in ("added", "underlay"):
        found = context.facts.part_of(tip.instance)
        assert found is not None
        if found[1].edge(tip.source) is None and found[1].face(tip.source) is None:
            raise LostPick("The edge this points at is no longer in the model.")
    best: tuple[float, Array, Array | None] | None = None
    for side in (0,) if tip.role in ("edge", "added", "underlay") else (-1, 1):
        try:
            assert tip.role != "size"
            pick = Pick(instance=tip.instance, source=tip.source, role=tip.role, side=side)
            thing = resolve(pick, context)
        except LostPick:
            raise
        except SizeError:
            if tip.role in ("added", "underlay"):
                raise
            continue  # a free curve: it stays where it was put
        near = _near(thing, place, context)
        if near is not None:
            away = float(np.linalg.norm(near[0] - place))
            if best is None or away < best[0]:
                best = away, *near
    return (best[1], best[2]) if best else (place, None)


def _near(thing: Straight | Round, place: Array, context: Context) -> tuple[Array, Array | None] | None:
    """The place of a line or a circle seen true that lies nearest to another, view mm, and its direction."""
    flat = context.frame.flat
    if isinstance(thing, Straight):
        a, b = flat(thing.a), flat(thing.b)
        d = b - a
        size = float(d @ d)
        if size < 1e-18:
            return a, None
        on = a + d * min(1.0, max(0.0, float((place - a) @ d) / size))
        return on, d / size**0.5
    if abs(float(thing.axis @ context.frame.matrix[2])) < 1 - 1e-6:
        return None
    out = place - flat(thing.center)
    away = float(np.linalg.norm(out))
    if away < 1e-9:
        return None
    u = out / away
    return flat(thing.center) + u * thing.radius, np.array([-u[1], u[0]])
