"""What the places that were clicked with the tool of added lines make."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.measuring.added_lines import (
    MOST_POINTS,
    AddedLine,
    Tie,
)
from drafting.annotation.measuring.constraints import (
    Array,
    Circle,
    Constraint,
    Segment,
    Shape,
    solved,
)
from drafting.annotation.measuring.tied_lines import (
    distance,
    settled,
    thing_of,
)
from drafting.annotation.measuring.underlays import piece_of
from drafting.context import Context
from drafting.data import Point
from drafting.document import anchored
from drafting.errors import SizeError
from drafting.placed.underlay import ARC, LINE

CORNER = 2.0
"""How near a polyline's end comes to its beginning to close it, mm on paper."""
LEVEL = math.radians(2.0)
"""How near to level or upright a line is drawn that is held so."""


TANGENT = math.radians(20.0)


STEP = 0.5
"""What radii drawn freely are rounded to, mm."""


CLOSE = 0.6
"""How far in all, in radii, a circle may touch from where it was to: then no other is looked for."""


Made = tuple[Shape, list[Tie]]


def propose(request: Request, context: Context) -> AddedLine:
    """What the places clicked make. settings: `form`, and what a circle is tangent to for `tangent`; `line`,
    the kind of line; `other`: the other way round, of an arc. Raises SizeError."""
    form, spots = str(request.settings.get("form", "line")), list(request.spots)
    makes = {
        "line": _line,
        "polyline": _polyline,
        "circle": _circle,
        "arc": _arc,
        "tangent": _tangent,
        "traced": _traced,
    }
    if form not in makes:
        raise SizeError("Lines, polylines, circles and arcs can be added.")
    shape, ties = makes[form](spots, context, bool(request.settings.get("other")))
    made = AddedLine(
        id=request.identity,
        anchor=anchored(context.view_id),
        form=_form(shape),  # type: ignore[arg-type]
        points=[Point(x=0, y=0)],
        line=str(request.settings.get("line") or "visible"),  # type: ignore[arg-type]
        ties=ties,
        closed=shape.closed,
    )
    return settled(made.shaped(shape), context)


def _form(shape: Shape) -> str:
    if shape.form != "path":
        return shape.form
    return "line" if shape.count == 1 and not shape.closed else "polyline"


def _traced(spots: list[Spot], context: Context, other: bool) -> Made:
    """The line of an underlay that was picked, where it lies."""
    if not spots or spots[0].pick.role != "underlay" or not spots[0].pick.source:
        raise SizeError("Pick a line of an underlay.")
    kind, v = piece_of(spots[0].pick, context)
    if kind == LINE:
        return Shape("path", np.array(v[:4])), []
    if kind == ARC:
        center, radius, first, last = v[:2], v[2], v[3], v[4]
        if last - first > 2 * math.pi - 1e-6:
            return Shape("circle", np.array([*center, radius])), []
        return Shape("arc", np.array([*center, radius, first, last])), []
    if len(v) // 2 > MOST_POINTS:
        raise SizeError(f"This line of the underlay has {len(v) // 2} corners; {MOST_POINTS} can be traced.")
    return Shape("path", np.array(v)), []


def _place(spot: Spot, context: Context) -> Array:
    """Where a spot is in the plane of the view, or on the sheet."""
    if spot.pick.point and spot.pick.source:
        from_model = thing_of(spot.pick, context)
        if isinstance(from_model, np.ndarray):
            return from_model
    return np.array(context.frame.undrawn((float(spot.at[0]), float(spot.at[1]))), float)


def _tied(spot: Spot, context: Context, part: int, point: str) -> list[Tie]:
    """A point of a new line where a spot was clicked: on a point, on a line, or free."""
    if not spot.pick.source or spot.pick.point == "crossing":
        return []
    pick = spot.sided(context)
    try:
        thing = thing_of(pick, context)
    except SizeError:
        return []  # a free curve: it is drawn where it was clicked
    relation: Any = "coincident" if isinstance(thing, np.ndarray) else "on"
    return [Tie(relation=relation, part=part, point=point, to=pick)]  # type: ignore[arg-type]


def _level(a: Array, b: Array, part: int) -> list[Tie]:
    """Held level or upright where it was drawn nearly so."""
    d = b - a
    turn = math.atan2(abs(float(d[1])), abs(float(d[0])))
    if turn < LEVEL:
        return [Tie(relation="horizontal", part=part)]
    return [Tie(relation="vertical", part=part)] if turn > math.pi / 2 - LEVEL else []


def _needs(spots: Sequence[Spot], count: int, words: str) -> None:
    if len(spots) < count:
        raise SizeError(words)


def _line(spots: list[Spot], context: Context, other: bool) -> Made:
    _needs(spots, 2, "Click where the line begins and where it ends.")
    a, b = (_place(s, context) for s in spots[:2])
    ties = [*_tied(spots[0], context, 0, "start"), *_tied(spots[1], context, 0, "end")]
    ties += _tangencies(spots[:2], a, b, context)
    fixed = sum(t.relation == "coincident" for t in ties)
    if fixed < 2 and not any(t.relation == "tangent" for t in ties):
        ties += _level(a, b, 0)
    return Shape("path", np.concatenate([a, b])), ties


def _tangencies(spots: Sequence[Spot], a: Array, b: Array, context: Context) -> list[Tie]:
    """A line that is drawn to a circle nearly along it is tangent there."""
    out = []
    for spot, at in zip(spots, (a, b), strict=True):
        if not spot.pick.source or spot.pick.point:
            continue
        pick = spot.sided(context)
        try:
            thing = thing_of(pick, context)
        except SizeError:
            continue
        if isinstance(thing, Circle):
            r, d = at - thing.center, b - a
            n = float(np.linalg.norm(r) * np.linalg.norm(d))
            if n > 1e-12 and abs(float(r @ d)) / n < math.sin(TANGENT):
                out.append(Tie(relation="tangent", to=pick))
    return out


def _polyline(spots: list[Spot], context: Context, other: bool) -> Made:
    _needs(spots, 2, "Click the corners of the polyline; Enter ends it.")
    places = [_place(s, context) for s in spots]
    closed = len(places) > 3 and float(np.linalg.norm(places[-1] - places[0])) * context.scale < CORNER
    if closed:
        places, spots = places[:-1], spots[:-1]
    ties: list[Tie] = []
    count = len(places)
    for n, spot in enumerate(spots):
        part, point = (n, "start") if n < count - 1 or closed else (n - 1, "end")
        ties += _tied(spot, context, part, point)
    for n in range(count if closed else count - 1):
        ends = {n, (n + 1) % count}
        if sum(bool(spots[k].pick.source) for k in ends) < 2:
            ties += _level(places[n], places[(n + 1) % count], n)
    return Shape("path", np.concatenate(places), closed), ties


def _circle(spots: list[Spot], context: Context, other: bool) -> Made:
    _needs(spots, 2, "Click the center, then a place that the circle goes through.")
    center, rim = (_place(s, context) for s in spots[:2])
    radius = float(np.linalg.norm(rim - center))
    ties = _tied(spots[0], context, 0, "center")
    ties += _round_ties(spots[1], context)
    met = ties[-1].to if ties and ties[-1].relation in ("through", "tangent") else None
    radius = (
        max(round(radius / STEP) * STEP, STEP) if met is None else distance(center, thing_of(met, context))
    )
    return Shape("circle", np.array([*center, radius])), ties


def _round_ties(spot: Spot, context: Context) -> list[Tie]:
    """What a circle goes through or is tangent to."""
    found = _tied(spot, context, 0, "")
    return [
        t.model_copy(update={"relation": "through" if t.relation == "coincident" else "tangent"})
        for t in found
    ]


def _arc(spots: list[Spot], context: Context, other: bool) -> Made:
    _needs(spots, 3, "Click the center, then where the arc begins and where it ends.")
    center, start, end = (_place(s, context) for s in spots[:3])
    radius = float(np.linalg.norm(start - center))
    first, last = (math.atan2(*(p - center)[::-1]) for p in (start, end))
    swapped = ((last - first) % (2 * math.pi) > math.pi) != other
    ends = ("end", "start") if swapped else ("start", "end")
    if swapped:
        first, last = last, first
    last = first + ((last - first) % (2 * math.pi) or 2 * math.pi)
    ties = _tied(spots[0], context, 0, "center") + _tied(spots[1], context, 0, ends[0])
    if not any(t.point == ends[0] for t in ties):
        radius = max(round(radius / STEP) * STEP, STEP)
    at_end = _tied(spots[2], context, 0, ends[1])
    ties += [t for t in at_end if t.relation == "on"]
    return Shape("arc", np.array([*center, radius, first, last])), ties


def _tangent(spots: list[Spot], context: Context, other: bool) -> Made:
    """A circle tangent to three lines or circles, or to two with a radius, by where they were picked."""
    picked = [s for s in spots if s.pick.source and not s.pick.point]
    _needs(picked, 2, "Pick the lines or circles that the circle is to touch.")
    picks = [s.sided(context) for s in picked[:3]]
    things = [thing_of(p, context) for p in picks]
    ties = [Tie(relation="tangent", to=p) for p in picks]
    at = [_place(s, context) for s in picked[:3]]
    if len(picks) == 3:
        starts = [_through(at), (np.mean(at, axis=0), float(np.linalg.norm(at[0] - at[1])) / 2)]
        return _best_touching(starts, things, at), ties
    if len(spots) < 3:
        raise SizeError("Pick a third one, or click beside them for the circle's place and radius.")
    center = _place(spots[-1], context)
    away = [distance(center, t) for t in things]
    radius = max(round(sum(away) / 2 / STEP) * STEP, STEP)
    ties.append(Tie(relation="radius", value=radius))
    return Shape("circle", np.array([*center, radius])), ties


def _through(at: Sequence[Array]) -> tuple[Array, float] | None:
    """The circle through three places; None where they lie in line."""
    m = 2 * np.array([at[1] - at[0], at[2] - at[0]])
    if abs(float(np.linalg.det(m))) < 1e-9:
        return None
    center = np.linalg.solve(m, [at[1] @ at[1] - at[0] @ at[0], at[2] @ at[2] - at[0] @ at[0]])
    return center, float(np.linalg.norm(center - at[0]))


def _best_touching(
    starts: Sequence[tuple[Array, float] | None], things: Sequence[Any], at: Sequence[Array]
) -> Shape:
    """The circle touching three things that touches them nearest to where they were picked. Raises SizeError
    where there is none."""
    best: tuple[float, Shape] | None = None
    constraints = [Constraint("tangent", to=t) for t in things]
    for start in filter(None, starts):
        for grow in (1.0, 0.5, 2.0):
            values = np.array([*start[0], max(start[1] * grow, 1e-3)])
            found = solved(Shape("circle", values), constraints, tries=2, explained=False)
            if found.faults:
                continue
            c = found.shape.circle
            off = sum(float(np.linalg.norm(_touch(c, t) - p)) for t, p in zip(things, at, strict=True))
            if best is None or off < best[0] - 1e-9:
                best = off, found.shape
            if off < CLOSE * c.radius:
                return found.shape
    if best is None:
        raise SizeError("No circle touches all three there.")
    return best[1]


def _touch(c: Circle, thing: Any) -> Array:
    """Where a circle touches a line or another circle."""
    if isinstance(thing, Segment):
        d = (thing.b - thing.a) / max(float(np.linalg.norm(thing.b - thing.a)), 1e-12)
        out: Array = thing.a + d * float((c.center - thing.a) @ d)
        return out
    u = c.center - thing.center
    n = float(np.linalg.norm(u))
    u = u / n if n > 1e-12 else np.array([1.0, 0.0])
    sides = [thing.center + u * thing.radius * s for s in (1, -1)]
    return min(sides, key=lambda p: abs(float(np.linalg.norm(p - c.center)) - c.radius))
