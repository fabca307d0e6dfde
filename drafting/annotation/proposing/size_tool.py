"""Taking a size: what was picked decides its kind, the pointer its direction, and the alternatives stand in
an order to go through.

This is the rule of the Size tool, for interface, demo and tests alike.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds import angles, chamfer, linear
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.arc_length import ArcLengthDimension
from drafting.annotation.kinds.chamfer import ChamferDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.radius import RadiusDimension
from drafting.annotation.measuring import distances, measure
from drafting.annotation.measuring.measure import Spot, located
from drafting.annotation.measuring.ring import neighbors
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.placing.rows import NOWHERE, snapped_place
from drafting.context import Context
from drafting.document import Dimension, Pick, Wording, anchored
from drafting.errors import SizeError
from drafting.model.model import EdgeFact, Facts
from drafting.views.frame import Array, ViewFrame


@dataclass(frozen=True)
class Option:
    """A way to size what was picked: its name and the size, still without a place."""

    name: str
    size: Dimension


@dataclass(frozen=True)
class Proposal:
    """A size as it would be placed, its name, and the names of all options; note: what the drafter should
    know of it."""

    size: Dimension
    name: str
    options: list[str]
    note: str = ""


def proposed(
    picks: Sequence[Pick],
    pointer: Array,
    option: str,
    identity: str,
    context: Context,
    sheet_box: tuple[float, float, float, float] | None = None,
) -> Proposal:
    """The size for picks with the pointer at a place (paper mm about the view's position). option: name of
    the one wanted, or empty to leave it to the pointer.

    sheet_box: what is on the sheet, about the view's position, for radii whose center is not. Raises
    SizeError with a sentence.
    """
    found = options(list(picks), identity, context)
    ways = [o.name for o in found]
    chosen = next((o for o in found if o.name == option), None) or _by_pointer(found, pointer, context)
    size = chosen.size
    if isinstance(size, AngleDimension) and len(size.picks) == 2 and not size.between:
        one, two = (located(p, context) for p in size.picks)
        assert isinstance(one, Straight)
        assert isinstance(two, Straight)
        size = size.model_copy(
            update={
                "sector": angles.sector_at(
                    one, two, np.array(context.frame.undrawn(tuple(pointer / context.scale))), context.frame
                )
            }
        )
    if isinstance(size, RadiusDimension) and sheet_box is not None:
        center = (
            context.frame.drawn(context.frame.flat(distances.circle(size.picks[0], context).center))
            * context.scale
        )
        x0, y0, x1, y1 = sheet_box
        size = size.model_copy(
            update={"jogged": not (x0 <= float(center[0]) <= x1 and y0 <= float(center[1]) <= y1)}
        )
    size = placed(size, pointer, context)
    note = (
        "The view shows this foreshortened; the size is its true length."
        if registry.foreshortened(size, context)
        else ""
    )
    return Proposal(size, chosen.name, ways, note)


def placed(size: Dimension, pointer: Array, context: Context) -> Dimension:
    """The size with its line under the pointer, caught by the rows."""
    direction = registry.size_kind(size).along
    along = direction(size, context) if direction else None
    return size.model_copy(update={"place": snapped_place(pointer, along, context)})


def options(picks: list[Pick], identity: str, context: Context) -> list[Option]:
    """All ways to size one, two or three picks, or the holes of a bolt circle, the most usual first. Raises
    SizeError where there is none."""
    if not picks:
        raise SizeError("Pick something to size.")
    if len(picks) > 1 and any(a == b for n, a in enumerate(picks) for b in picks[:n]):
        raise SizeError("A size needs two different things; the same edge was picked twice.")
    base = {"id": identity, "anchor": anchored(context.view_id, picks), "place": NOWHERE}
    ways = {1: _one, 2: _two, 3: _three}.get(len(picks), _ring)
    wanted = ways(picks, base, context)
    out: list[Option] = []
    problem: SizeError | None = None
    for name, size in wanted:
        try:
            value = registry.value(size, context)
        except SizeError as error:
            problem = problem or error
            continue
        if not any(_same(o.size, size, value, context) for o in out):
            out.append(Option(name, size))
    if not out:
        raise problem or SizeError("These picks give no size.")
    return out


def _same(one: Dimension, two: Dimension, value: float, context: Context) -> bool:
    """Two lengths that read the same and are drawn the same way."""
    if (
        not (isinstance(one, LinearDimension) and isinstance(two, LinearDimension))
        or len(one.picks) != len(two.picks)
        or "half" in (one.reading, two.reading)
    ):
        return False
    a, b = linear.measured(one, context), linear.measured(two, context)
    return (
        abs(a.value - value) < 1e-9
        and abs(float(a.direction @ b.direction)) > 1 - 1e-9
        and a.diameter == b.diameter
    )


Wanted = list[tuple[str, Dimension]]


def _linear(
    base: dict[str, Any],
    name: str,
    direction: str = "aligned",
    reading: str = "",
    picks: list[Pick] | None = None,
) -> tuple[str, Dimension]:
    more = {"anchor": base["anchor"].model_copy(update={"picks": picks})} if picks else {}
    return name, LinearDimension(**{**base, **more}, direction=direction, reading=reading)  # type: ignore[arg-type]


def _one(picks: list[Pick], base: dict[str, Any], context: Context) -> Wanted:
    pick = picks[0]
    if pick.point and pick.point != "crossing":  # a point alone stands for what it lies on
        pick = pick.model_copy(update={"point": ""})
        base = {**base, "anchor": anchored(context.view_id, [pick])}
    thing = located(pick, context)
    if isinstance(thing, Spot):
        raise SizeError("A corner alone has no size; pick a second thing.")
    if isinstance(thing, Round):
        return _of_round(pick, thing, base, context)
    lengths = [
        _linear(base, "length"),
        _linear(base, "horizontal", "horizontal"),
        _linear(base, "vertical", "vertical"),
    ]
    if thing.diameter or (pick.role != "edge" and _goes_round(pick, context.facts)):
        along = lengths if pick.side or pick.role == "edge" else []
        lengths = [
            _linear(base, "diameter", reading="across"),
            _linear(base, "symmetric half", reading="half"),
            *along,
        ]
    broken = _chamfer(pick, thing, base, context)
    return broken + lengths if broken and _is_short(pick, thing, context.facts) else lengths + broken


def _goes_round(pick: Pick, facts: Facts) -> bool:
    """Whether a face is at least half of a cylinder, so that it has a diameter across; a fillet is not."""
    found = facts.part_of(pick.instance)
    face = found[1].face(pick.source) if found else None
    if found is None or face is None or face.kind != "cylinder":
        return False
    ends = [
        e
        for e in found[1].edges
        if face.name in e.faces and e.kind == "circle" and abs(e.radius - face.radius) < 1e-6
    ]
    sweeps: dict[tuple[float, ...], float] = {}
    for e in ends:
        level = tuple(round(v, 4) for v in e.center or [])
        sweeps[level] = sweeps.get(level, 0.0) + e.last - e.first
    return not ends or max(sweeps.values()) > math.pi - 1e-6


def _chamfer(pick: Pick, thing: Straight, base: dict[str, Any], context: Context) -> Wanted:
    try:
        legs = chamfer.legs_of(pick, context).legs
    except SizeError:
        return []
    out: Wanted = [("chamfer", ChamferDimension(**base))]
    if abs(legs[0] - legs[1]) > 1e-9:
        out.append(("chamfer, other leg", ChamferDimension(**base, leg=1)))
    return out


def _is_short(pick: Pick, thing: Straight, facts: Facts) -> bool:
    """A broken edge is a small part of what it is on."""
    found = facts.part_of(pick.instance)
    assert found is not None
    return thing.length < 0.2 * math.dist(found[1].low, found[1].high)


def _of_round(pick: Pick, thing: Round, base: dict[str, Any], context: Context) -> Wanted:
    across: tuple[str, Dimension] = ("diameter", DiameterDimension(**base))
    radius: tuple[str, Dimension] = ("radius", RadiusDimension(**base))
    if thing.last - thing.first > 2 * math.pi - 1e-9:
        return [across, radius]
    ends = [pick.model_copy(update={"point": p}) for p in ("start", "end")]
    out: Wanted = [
        radius,
        across,
        ("arc length", ArcLengthDimension(**base)),
        _linear(base, "chord", picks=ends),
        ("included angle", AngleDimension(**base)),
    ]
    other = _other_cut_end(pick, thing, context) if pick.role == "cut" else _other_end(pick, context.facts)
    if other is not None:
        both = [pick, other]
        out = [
            radius,
            _linear(base, "slot width", reading="", picks=ends),
            _linear(base, "slot over centers", picks=both),
            _linear(base, "slot overall", reading="farthest", picks=both),
            *out[1:],
        ]
    return out


def _other_end(pick: Pick, facts: Facts) -> Pick | None:
    """The half circle at the other end of a slot: joined to this one by two straight edges."""
    found = facts.part_of(pick.instance)
    edge = found[1].edge(pick.source) if found and pick.role == "edge" else None
    if found is None or edge is None or edge.kind != "circle" or abs(edge.last - edge.first - math.pi) > 1e-6:
        return None
    edges = found[1].edges

    def at(p: list[float], kind: str, but: set[str]) -> EdgeFact | None:
        return next(
            (
                e
                for e in edges
                if e.kind == kind
                and e.name not in but
                and min(math.dist(p, e.start), math.dist(p, e.end)) < 1e-6
                and _level(e, edge)
            ),
            None,
        )

    reached = []
    for p in (edge.start, edge.end):
        side = at(p, "line", {edge.name})
        if side is None:
            return None
        far = side.end if math.dist(side.start, p) < 1e-6 else side.start
        end = at(far, "circle", {edge.name})
        reached.append(end)
    one, two = reached
    if one is None or two is None or one.name != two.name or abs(one.radius - edge.radius) > 1e-6:
        return None
    return Pick(instance=pick.instance, source=one.name)


def _other_cut_end(pick: Pick, thing: Round, context: Context) -> Pick | None:
    """The cut half circle at the other end of a slot."""
    if abs(thing.last - thing.first - math.pi) > 1e-6:
        return None
    reached = []
    for side in measure.joined(pick, context.facts):
        for end in measure.joined(side, context.facts):
            try:
                straight, round_ = measure.resolve(side, context), measure.resolve(end, context)
            except SizeError:
                continue
            if (
                end.source != pick.source
                and isinstance(straight, Straight)
                and isinstance(round_, Round)
                and _same_half(thing, round_)
            ):
                reached.append(end)
    return next((end for n, end in enumerate(reached) if end in reached[:n]), None)


def _same_half(one: Round, two: Round) -> bool:
    return (
        abs(one.radius - two.radius) < 1e-6
        and abs(two.last - two.first - math.pi) < 1e-6
        and abs(float(one.axis @ two.axis)) > 1 - 1e-9
    )


def _level(e: EdgeFact, with_: EdgeFact) -> bool:
    """Whether an edge lies in the plane of an arc."""
    assert with_.center is not None
    assert with_.axis is not None
    return all(
        abs(float(np.dot(np.array(p) - np.array(with_.center), with_.axis))) < 1e-6
        for p in (e.start, e.middle, e.end)
    )


def _two(picks: list[Pick], base: dict[str, Any], context: Context) -> Wanted:
    one, two = (located(p, context) for p in picks)
    axis = any(p.role == "silhouette" and p.side == 0 for p in picks)
    straight = [t for t in (one, two) if isinstance(t, Straight)]
    if len(straight) == 2:
        if not _parallel(straight[0], straight[1], context.frame):
            return [("angle", AngleDimension(**base))]
        across = distances.distance(picks, "aligned", context).diameter
        out: Wanted = [_linear(base, "diameter" if across else "distance")]
        return out if across else [*out, _linear(base, "symmetric half", reading="half")]
    rims: Wanted = []
    if any(isinstance(t, Round) for t in (one, two)):
        rims = [_linear(base, "nearest", reading="nearest"), _linear(base, "farthest", reading="farthest")]
    if straight:
        return [
            _linear(base, "distance"),
            *rims,
            *([_linear(base, "symmetric half", reading="half")] if axis else []),
        ]
    ways = [
        _linear(base, "distance"),
        _linear(base, "horizontal", "horizontal"),
        _linear(base, "vertical", "vertical"),
    ]
    if not context.frame.pictorial:
        ways.append(_linear(base, "true distance", reading="true"))
    return [*ways, *rims]


def _parallel(one: Straight, two: Straight, frame: ViewFrame) -> bool:
    if frame.pictorial:
        return float(np.linalg.norm(np.cross(one.direction, two.direction))) < 1e-6
    u, v = frame.direction(one.direction), frame.direction(two.direction)
    if min(float(np.linalg.norm(u)), float(np.linalg.norm(v))) < 1e-9:
        return True  # one is seen end-on: a point
    return abs(float(u[0] * v[1] - u[1] * v[0])) < 1e-6 * float(np.linalg.norm(u) * np.linalg.norm(v))


def _three(picks: list[Pick], base: dict[str, Any], context: Context) -> Wanted:
    points: Wanted = [("angle of three points", AngleDimension(**base))]
    if any(p.point for p in picks) or not all(isinstance(located(p, context), Round) for p in picks):
        return points
    return [*_ring(picks, base, context), *points]


def _ring(picks: list[Pick], base: dict[str, Any], context: Context) -> Wanted:
    """The holes of a bolt circle: its diameter, with and without how they are spaced, and the angle between
    neighbors."""
    across: Wanted = [("bolt circle", DiameterDimension(**base))]
    try:
        *_, count = neighbors(picks, context)
    except SizeError:
        return across
    words = "equally spaced"
    if context.profile.standard == "ASME":
        words = words.upper()
    spaced = DiameterDimension(**base, wording=Wording(below=words))
    between = AngleDimension(**base, between=True, wording=Wording(count=count))
    return [*across, ("bolt circle, equally spaced", spaced), ("angle between", between)]


def _by_pointer(found: list[Option], pointer: Array, context: Context) -> Option:
    """Between two points the pointer chooses: above or below them horizontal, beside them vertical, else
    aligned."""
    by_name = {o.name: o for o in found}
    first = found[0].size
    if (
        found[0].name != "distance"
        or not isinstance(first, LinearDimension)
        or not {"horizontal", "vertical"} & set(by_name)
    ):
        return found[0]
    shown = linear.measured(first, context)
    ends = np.array(
        [
            context.frame.drawn(shown.first[0]) * context.scale,
            context.frame.drawn(shown.second[0]) * context.scale,
        ]
    )
    low, high = ends.min(0) - 2.0, ends.max(0) + 2.0
    within = (low <= pointer) & (pointer <= high)
    if within[0] and not within[1]:
        return by_name.get("horizontal", found[0])
    if within[1] and not within[0]:
        return by_name.get("vertical", found[0])
    return found[0]


def sided(picks: Sequence[tuple[Pick, tuple[float, float]]], context: Context) -> list[Pick]:
    """Picks with the side of an outline that lies nearest to where each was picked (view mm)."""
    return [
        p
        if p.point or (p.role == "silhouette" and p.side == 0 and at is None)
        else measure.pick_side(p, at, context)
        for p, at in picks
    ]
