"""Lines that a drafter adds: straight ones, circles, arcs and polylines, in a view or on the sheet, tied to
what they were drawn on."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from drafting.annotation.kinds.kind import Drawn, Kind, Member, Request, Row, Spot, set_fields
from drafting.annotation.measuring.added_lines import (
    NAMES,
    VALUED,
    AddedLine,
    Placed,
    Tie,
    added_of,
    constraints_of,
    of_model,
    placed_lines,
    split_source,
    told,
)
from drafting.annotation.measuring.constraints import (
    Array,
    Circle,
    Constraint,
    Segment,
    Shape,
    fits,
    solved,
)
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.points import PickPoint
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.data import Point
from drafting.document import InView, OnSheet, Pick
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Group, Line, Polyline
from drafting.views.geometry import ViewCurve, ViewGeometry

TITLES = {"line": "Added line", "polyline": "Added polyline", "circle": "Added circle", "arc": "Added arc"}
LEVEL = math.radians(2.0)
"""How near to level or upright a line is drawn that is held so."""
TANGENT = math.radians(20.0)
NEAR = 2.0
"""How near the pointer takes a corner, mm on paper."""
CLOSE = 0.6
"""How far in all, in radii, a circle may touch from where it was to: then no other is looked for."""
STEP = 0.5
"""What radii drawn freely are rounded to, mm."""


# ---- where they are ----------------------------------------------------------------------------------------
def placed(a: AddedLine, context: Context) -> Placed:
    """Where an added line is now. Raises SizeError where it has shrunk to nothing."""
    found = placed_lines(context, resolve, [a])[a.id]
    shape = found.shape
    if shape.form == "path":
        p = shape.values.reshape(-1, 2)
        empty = float(np.linalg.norm(np.diff(p, axis=0), axis=1).max(initial=0.0)) < 1e-6
    else:
        empty = float(shape.values[2]) < 1e-6
    if empty:
        raise SizeError("Both ends fall together." if shape.form == "path" else "The circle has no size.")
    return found


def elements(a: AddedLine, context: Context) -> list[Element]:
    """Its lines, paper mm about the context's origin. Raises SizeError."""
    shape, scale = placed(a, context).shape, context.scale

    def paper(p: Any) -> tuple[float, float]:
        at = np.asarray(p, float) if context.view is None else context.frame.drawn(np.asarray(p, float))
        return float(at[0]) * scale, float(at[1]) * scale

    if shape.form == "path":
        points = [paper(p) for p in shape.values.reshape(-1, 2)]
        if len(points) == 2:
            return [Line(points[0], points[1], a.line)]
        return [Polyline(tuple(points), a.line, shape.closed)]
    values = shape.values.tolist()
    first, last = values[3:] if shape.form == "arc" else (0.0, 2 * math.pi)
    if last <= first:
        last += 2 * math.pi * math.ceil((first - last) / (2 * math.pi) + 1e-12)
    return [Arc(paper(values[:2]), values[2] * scale, first, last, a.line)]


def draw(members: Sequence[Member]) -> Drawn:
    """Those of a sheet, view by view."""
    out: Drawn = {}
    by_view: dict[str, list[Member]] = {}
    for m in members:
        by_view.setdefault(m.context.view_id, []).append(m)
    for found in by_view.values():
        placed_lines(found[0].context, resolve, [m.annotation for m in found])
        for m in found:
            try:
                out[m.annotation.id] = Group(
                    m.annotation.id, "annotation", m.context.origin, elements(m.annotation, m.context)
                )
            except (SizeError, CommandError) as error:
                out[m.annotation.id] = str(error)
    return out


def curves(context: Context) -> list[ViewCurve]:
    """The added lines of a view as what can be picked there: role "added", without a part."""
    out = []
    for name, found in placed_lines(context, resolve).items():
        shape = found.shape
        if shape.form == "path":
            for k in range(shape.count):
                s = shape.segment(k)
                data = [float(v) for v in (*context.frame.drawn(s.a), *context.frame.drawn(s.b))]
                out.append(_curve("line", data, name if shape.count == 1 else f"{name}#{k}"))
            continue
        x, y = context.frame.drawn(shape.values[:2])
        ends = shape.values[3:].tolist() if shape.form == "arc" else [0.0, 2 * math.pi]
        out.append(_curve("arc", [float(x), float(y), float(shape.values[2]), *ends], name))
    return out


def with_added(geometry: ViewGeometry, context: Context) -> ViewGeometry:
    """What a view shows, with its added lines among what can be picked."""
    found = curves(context)
    if not found:
        return geometry
    number = len(geometry.instances)
    more = [c.model_copy(update={"instance": number}) for c in found]
    return geometry.model_copy(
        update={"curves": [*geometry.curves, *more], "instances": [*geometry.instances, ""]}
    )


def _curve(kind: Any, data: list[float], source: str) -> ViewCurve:
    return ViewCurve(
        kind=kind,
        data=data,
        edge_class="sharp",
        visible=True,
        instance=0,
        source=source,
        role="added",
        feature="",
    )


def points(context: Context) -> list[PickPoint]:
    """Points of the added lines of a view that others can be taken on: ends, middles, centers."""
    out = []
    for name, found in placed_lines(context, resolve).items():
        shape = found.shape
        names = {"path": ("start", "end", "middle"), "circle": ("center",), "arc": ("center", "start", "end")}
        for k in range(shape.count if shape.form == "path" else 1):
            source = f"{name}#{k}" if shape.form == "path" and shape.count > 1 else name
            for point in names[shape.form]:
                at = context.frame.drawn(shape.point(k, point))
                pick = Pick(instance="", source=source, role="added", point=point)  # type: ignore[arg-type]
                kind: Any = point if point in ("middle", "center") else "end"
                out.append(PickPoint(kind, pick, float(at[0]), float(at[1])))
    return out


# ---- what is drawn -----------------------------------------------------------------------------------------
def propose(request: Request, context: Context) -> AddedLine:
    """What the places clicked make. settings: `form`, and what a circle is tangent to for `tangent`; `line`,
    the kind of line; `other`: the other way round, of an arc. Raises SizeError."""
    form, spots = str(request.settings.get("form", "line")), list(request.spots)
    makes = {"line": _line, "polyline": _polyline, "circle": _circle, "arc": _arc, "tangent": _tangent}
    if form not in makes:
        raise SizeError("Lines, polylines, circles and arcs can be added.")
    shape, ties = makes[form](spots, context, bool(request.settings.get("other")))
    made = AddedLine(
        id=request.identity,
        anchor=InView(view=context.view_id) if context.view else OnSheet(),
        form="circle" if form == "tangent" else form,  # type: ignore[arg-type]
        points=[Point(x=0, y=0)],
        line=str(request.settings.get("line") or "visible"),  # type: ignore[arg-type]
        ties=ties,
        closed=shape.closed,
    )
    return settled(made.shaped(shape), context)


def settled(a: AddedLine, context: Context) -> AddedLine:
    """An added line stored where its ties put it. Raises SizeError where they contradict each other."""
    check_ties(a)
    found = placed(a, context)
    _refuse_contradiction(a, found)
    return a.shaped(found.shape)


def _refuse_contradiction(a: AddedLine, found: Placed) -> None:
    if not found.solved.faults:
        return
    names = dict.fromkeys(tie_words(a.ties[n]) for n in found.solved.faults)
    if len(names) > 1:
        *most, last = names
        raise SizeError(f"These cannot all hold: {', '.join(most)} and {last}.")
    raise SizeError(f"This cannot hold here: {next(iter(names))}.")


def tie_words(tie: Tie) -> str:
    """What a tie asks for, in a few words."""
    name = NAMES.get(tie.relation, tie.relation)
    if tie.relation in VALUED and tie.value is not None:
        unit = "°" if tie.relation == "angle" else ""
        return f"{name.split(' ')[0]} {round(tie.value, 4):g}{unit}"
    return name.split(" ")[0] if tie.relation != "coincident" else "joined"


def _place(spot: Spot, context: Context) -> Array:
    """Where a spot is in the plane of the view, or on the sheet."""
    if context.view is None:
        return np.array(spot.at, float)
    if spot.pick.point and spot.pick.source:
        from_model = _thing(spot.pick, context)
        if isinstance(from_model, np.ndarray):
            return from_model
    return np.array(context.frame.undrawn((float(spot.at[0]), float(spot.at[1]))), float)


def _thing(pick: Pick, context: Context) -> Segment | Circle | Array:
    """What a pick is in the plane of the view. Raises SizeError."""
    if pick.role == "added":
        name, part = split_source(pick.source)
        found = placed_lines(context, resolve).get(name)
        if found is None:
            raise SizeError("The added line is no longer there.")
        try:
            return found.shape.point(part, pick.point) if pick.point else found.shape.thing(part)
        except IndexError:
            raise SizeError("The added line has no such part.") from None
    return of_model(pick, context, resolve)


def _is_free(spot: Spot) -> bool:
    return not spot.pick.source


def _sided(spot: Spot, context: Context) -> Pick:
    """What a spot is tied to; crossings stand for no one thing. Raises SizeError."""
    return spot.sided(context)


def _tied(spot: Spot, context: Context, part: int, point: str) -> list[Tie]:
    """A point of a new line where a spot was clicked: on a point, on a line, or free."""
    if context.view is None or _is_free(spot) or spot.pick.point == "crossing":
        return []
    pick = _sided(spot, context)
    try:
        thing = _thing(pick, context)
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


Made = tuple[Shape, list[Tie]]


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
        if context.view is None or _is_free(spot) or spot.pick.point:
            continue
        pick = _sided(spot, context)
        try:
            thing = _thing(pick, context)
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
    closed = len(places) > 3 and float(np.linalg.norm(places[-1] - places[0])) * context.scale < NEAR
    if closed:
        places, spots = places[:-1], spots[:-1]
    ties: list[Tie] = []
    count = len(places)
    for n, spot in enumerate(spots):
        part, point = (n, "start") if n < count - 1 or closed else (n - 1, "end")
        ties += _tied(spot, context, part, point)
    for n in range(count if closed else count - 1):
        ends = {n, (n + 1) % count}
        if sum(not _is_free(spots[k]) for k in ends) < 2:
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
        max(round(radius / STEP) * STEP, STEP) if met is None else _distance(center, _thing(met, context))
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
    picked = [s for s in spots if not _is_free(s) and not s.pick.point]
    _needs(picked, 2, "Pick the lines or circles that the circle is to touch.")
    picks = [_sided(s, context) for s in picked[:3]]
    things = [_thing(p, context) for p in picks]
    ties = [Tie(relation="tangent", to=p) for p in picks]
    at = [_place(s, context) for s in picked[:3]]
    if len(picks) == 3:
        starts = [_through(at), (np.mean(at, axis=0), float(np.linalg.norm(at[0] - at[1])) / 2)]
        return _best_touching(starts, things, at), ties
    if len(spots) < 3:
        raise SizeError("Pick a third one, or click beside them for the circle's place and radius.")
    center = _place(spots[-1], context)
    away = [_distance(center, t) for t in things]
    radius = max(round(sum(away) / 2 / STEP) * STEP, STEP)
    ties.append(Tie(relation="radius", value=radius))
    return Shape("circle", np.array([*center, radius])), ties


def _distance(p: Array, thing: Segment | Circle | Array) -> float:
    if isinstance(thing, Circle):
        return abs(float(np.linalg.norm(p - thing.center)) - thing.radius)
    if isinstance(thing, Segment):
        d = (thing.b - thing.a) / max(float(np.linalg.norm(thing.b - thing.a)), 1e-12)
        return abs(float(d[0] * (p - thing.a)[1] - d[1] * (p - thing.a)[0]))
    return float(np.linalg.norm(p - thing))


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


# ---- ties --------------------------------------------------------------------------------------------------
ORDER = (
    "coincident",
    "concentric",
    "tangent",
    "on",
    "through",
    "parallel",
    "perpendicular",
    "equal",
    "distance",
    "angle",
)
"""In which order what can be is offered."""


def tied(request: Request, context: Context) -> tuple[AddedLine, str, list[str]]:
    """The first added line that was picked, tied to the second thing: as settings `option` says, else by what
    fits first; and all that fits, by name. Raises SizeError."""
    if context.view is None or len(request.spots) < 2:
        raise SizeError("Pick an added line, or a point of it, then what it is to be tied to.")
    mine, other = request.spots[:2]
    if mine.pick.role != "added" or not mine.pick.source:
        mine, other = other, mine
    if mine.pick.role != "added" or not mine.pick.source:
        raise SizeError("One of the two has to be an added line.")
    name, part = split_source(mine.pick.source)
    a = next((x for x in added_of(context) if x.id == name), None)
    if a is None:
        raise SizeError("The added line is no longer there.")
    if _is_free(other):
        raise SizeError("Pick an edge, a point or another added line to tie it to.")
    to = _sided(other, context)
    found: dict[str, AddedLine] = {}
    first: AddedLine | None = None
    lost = len(a.ties) - len(constraints_of(a, context, resolve))
    for relation in ORDER:
        value = None
        if relation in VALUED:
            value = _now(relation, a, part, mine.pick.point, to, context)
            if value is None:
                continue
        tie = Tie(relation=relation, part=part, point=mine.pick.point, to=to, value=value)  # type: ignore[arg-type]
        made = a.model_copy(update={"ties": [*a.ties, tie]})
        asked = constraints_of(made, context, resolve)
        if len(asked) < len(made.ties) - lost:
            continue
        if solved(a.shape, asked, tries=2, explained=False).faults:
            first = first or made
        else:
            found[NAMES[relation]] = made
    if not found:
        if first is not None:
            settled(first, context)
        raise SizeError("These two cannot be tied to each other.")
    chosen = str(request.settings.get("option", ""))
    option = chosen if chosen in found else next(iter(found))
    check_rings(found[option], context)
    return settled(found[option], context), option, list(found)


def _now(relation: str, a: AddedLine, part: int, point: str, to: Pick, context: Context) -> float | None:
    """What a distance or an angle is now: what it is held at first."""
    shape = placed(a, context).shape
    mine = shape.point(part, point) if point else shape.thing(part)
    other = _thing(to, context)
    if relation == "angle":
        if not (isinstance(mine, Segment) and isinstance(other, Segment)):
            return None
        d, e = mine.b - mine.a, other.b - other.a
        turn = math.degrees(math.atan2(d[1], d[0]) - math.atan2(e[1], e[0])) % 180
        return round(turn, 1)
    at = mine if isinstance(mine, np.ndarray) else mine.a if isinstance(mine, Segment) else mine.center
    if isinstance(other, Segment):
        return round(_distance(at, other), 2)
    to_point = other if isinstance(other, np.ndarray) else other.center
    if isinstance(mine, Segment):
        return round(_distance(to_point, mine), 2)
    return round(float(np.linalg.norm(at - to_point)), 2)


def check_rings(a: AddedLine, context: Context) -> None:
    """Raises SizeError where a line would be tied to itself by way of others."""
    own = {x.id: x for x in added_of(context)} | {a.id: a}

    def leads(x: AddedLine, seen: frozenset[str]) -> None:
        for tie in x.ties:
            if tie.to is None or tie.to.role != "added" or not tie.to.source:
                continue
            name, _ = split_source(tie.to.source)
            if name == a.id and x.id != a.id:
                raise SizeError("Lines cannot be tied to each other in a ring.")
            if name in own and name not in seen and name != x.id:
                leads(own[name], seen | {name})

    leads(a, frozenset({a.id}))


# ---- changes -----------------------------------------------------------------------------------------------
def change(a: AddedLine, update: dict[str, Any], context: Context) -> AddedLine:
    """Fields set; `length`, `radius` and `angle` hold it at that, None lets it go. Raises SizeError and
    CommandError."""
    update, ties = dict(update), list(a.ties)
    for name in ("length", "radius", "angle"):
        if name in update:
            value = update.pop(name)
            ties = [t for t in ties if not (t.relation == name and t.part == 0 and t.to is None)]
            if value is not None:
                ties.append(Tie(relation=name, value=float(value)))  # type: ignore[arg-type]
            update["ties"] = [t.model_dump(mode="json") for t in ties]
    made = set_fields(a, update) if update else a
    assert isinstance(made, AddedLine)
    if "ties" in update:
        check_rings(made, context)
        return settled(made, context)
    return made


def check_ties(a: AddedLine) -> None:
    """Raises SizeError for a tie that a line of its form cannot have, or whose number makes no sense."""
    for tie in a.ties:
        if tie.to is None and not fits(a.shape, Constraint(tie.relation, tie.part, tie.point, value=1.0)):
            raise SizeError(f"An added {a.form} cannot have that: {tie_words(tie)}.")
        if tie.relation in VALUED and tie.value is None:
            raise SizeError(f"A {tie.relation} that holds needs a number.")
        if tie.relation in ("length", "radius") and (tie.value or 0.0) <= 0:
            raise SizeError(f"A {tie.relation} is above 0.")


def check(a: AddedLine, context: Context) -> None:
    """Raises SizeError where its ties contradict each other or go in a ring, or where it has no size."""
    if a.form in ("line", "polyline") and len(a.points) < 2:
        raise SizeError("A line has two ends at least.")
    check_ties(a)
    check_rings(a, context)
    _refuse_contradiction(a, placed(a, context))


def row(a: AddedLine, context: Context) -> Row:
    """How large it is and how far it is tied."""
    found = placed(a, context)
    size = _said(found.shape, context)
    return Row(", ".join(filter(None, (size, told(found, a.ties)))))


def _said(shape: Shape, context: Context) -> str:
    """Its length or its radius, in words."""
    if shape.form == "path" and shape.count == 1:
        s = shape.segment(0)
        return f"{written(float(np.linalg.norm(s.b - s.a)), context.profile)} long"
    return "" if shape.form == "path" else f"R{written(float(shape.values[2]), context.profile)}"


def findings(a: AddedLine, context: Context) -> list[str]:
    """Ties that the model no longer lets hold, and those whose other thing is gone."""
    found = placed(a, context)
    out = []
    if found.solved.faults:
        names = ", ".join(dict.fromkeys(tie_words(a.ties[n]) for n in found.solved.faults))
        out.append(f"An added {a.form} cannot hold to its ties any more: {names}.")
    if found.lost:
        names = ", ".join(dict.fromkeys(tie_words(a.ties[n]) for n in found.lost))
        out.append(f"What an added {a.form} was tied to is gone: {names}.")
    return out


def drag(a: AddedLine, grip: str, request: Request, context: Context) -> AddedLine:
    """The line with the corner, the rim or the whole of it that was grabbed at the pointer, as far as its
    ties let it. Raises SizeError."""
    grabbed = request.settings.get("grabbed", request.pointer)

    def plane(p: Any) -> Array:
        x, y = (float(v) / context.scale for v in p)
        return np.array((x, y) if context.view is None else context.frame.undrawn((x, y)), float)

    was, now = plane(grabbed), plane(request.pointer)
    shape = placed(a, context).shape
    near = NEAR / context.scale
    values = shape.values.copy()
    pins: list[Constraint] = []
    if shape.form == "path":
        p = values.reshape(-1, 2)
        away = np.linalg.norm(p - was, axis=1)
        k = int(np.argmin(away))
        if float(away[k]) <= near:
            p[k] = now
            pins = _pinned(shape, k)
        else:
            p += now - was
    elif abs(float(np.linalg.norm(was - values[:2])) - float(values[2])) <= near:
        values[2] = max(round(float(np.linalg.norm(now - values[:2])) / STEP) * STEP, STEP)
        pins = [Constraint("coincident", 0, "center", to=values[:2].copy())]
    else:
        values[:2] += now - was
    moved = a.shaped(Shape(shape.form, values, shape.closed))
    if pins:
        try:
            return settled(_pinned_by(moved, pins, context), context)
        except SizeError:
            pass
    return settled(moved, context)


def _pinned(shape: Shape, but: int) -> list[Constraint]:
    """Corners of a path held where they are, all but one."""
    p = shape.values.reshape(-1, 2)
    out = []
    for n in range(len(p)):
        if n != but:
            part, point = (n, "start") if n < shape.count else (n - 1, "end")
            out.append(Constraint("coincident", part, point, to=p[n].copy()))
    return out


def _pinned_by(a: AddedLine, pins: Sequence[Constraint], context: Context) -> AddedLine:
    """The line where its ties put it while parts of it are held. Raises SizeError where both cannot be."""
    found = solved(a.shape, [*constraints_of(a, context, resolve), *pins])
    if found.faults:
        raise SizeError("It cannot be there.")
    return a.shaped(found.shape)


KIND = Kind(
    AddedLine,
    "Added line",
    ink=elements,
    draw=draw,
    called=lambda a: TITLES[a.form],
    check=check,
    change=change,
    row=row,
    findings=findings,
    propose=propose,
    drag=drag,
)
