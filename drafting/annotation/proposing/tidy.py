"""Tidying a view: its sizes in rows about the outline, shortest inside, and leaders where their numbers stand
on nothing.

What is free is measured on boxes of lettering against all ink: the view's lines, marks and labels, centers,
and the other sizes.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
import shapely

from drafting.annotation import registry
from drafting.annotation.inking.dimension_ink import Array, SizeInk
from drafting.annotation.kinds import linear, ordinate
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.angles import measured as angle_measured
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.measuring import distances
from drafting.annotation.placing.rows import NOWHERE, outline, snapped_place
from drafting.context import Context
from drafting.document import Dimension, Placement
from drafting.errors import SizeError
from drafting.ink.elements import Element
from drafting.ink.shapes import shapes, text_boxes
from drafting.standards.profile import Profile

FAR = (8.0, 13.0, 19.0, 26.0, 35.0, 46.0, 60.0)
"""How far beyond a circle the end of a leader is tried, mm."""
TURNS = 16
SAME = 1.0
"""By how much extension lines must be shorter for a side to be nearer, mm."""


@dataclass(frozen=True)
class Move:
    """Where a size goes; shift None: its number is centered."""

    id: str
    place: Placement
    shift: float | None = None


@dataclass
class _Item:
    """Sizes that share a row: one, or the members of a chain. span: along the row, mm on paper, numbers
    included; ties: where extension lines leave it; level: whether the row is level."""

    sizes: list[Dimension]
    level: bool
    side: int
    span: tuple[float, float]
    length: float
    ties: list[float]
    tall: float
    edges: dict[int, float]
    """Of the outline on both sides, mm on paper."""
    is_new: bool
    """Whether it has no place yet, so that either side may be its own."""
    row: int = 0
    at: float = 0.0
    numbers: list[tuple[float, float]] = field(default_factory=list)


def tidied(
    sizes: Sequence[Dimension],
    fixed: Sequence[Element],
    context: Context,
    room: tuple[float, float, float, float],
) -> list[Move]:
    """Places for the sizes of one view. fixed: all other ink in and at the view; room: what is on the sheet;
    both paper mm about its position."""
    walls = shapes(fixed) + text_boxes(fixed, margin=0.3)
    moves: list[Move] = []
    placed: list[shapely.Geometry] = list(walls)
    rows, others = _items(sizes, context)
    for level in (True, False):
        found = {side: _side_rows(rows, level, side, placed, context) for side in (-1, 1)}
        for i in [i for i in rows if i.level == level and i.is_new and not _fits(i, i.side, room)]:
            i.side = -i.side
            if not _fits(i, i.side, room, i.edges[i.side] + i.side * context.profile.first_row):
                i.side = -i.side
            found = {side: _side_rows(rows, level, side, placed, context) for side in (-1, 1)}
        moves += [*found[-1], *found[1]]
    now = {m.id: m for m in moves}
    for d in sizes:
        if d.id in now:
            placed += _shapes(_ink(d, now[d.id], context))
    for d in sorted(others, key=lambda d: _own_size(d, context)):
        move = _free(d, placed, context, room)
        moves.append(move)
        placed += _shapes(_ink(d, move, context))
    return moves


def _side_rows(
    rows: Sequence[_Item], level: bool, side: int, placed: list[shapely.Geometry], context: Context
) -> list[Move]:
    group = [i for i in rows if i.level == level and i.side == side]
    return _rows(group, level, side, placed, context)


def _fits(item: _Item, side: int, room: tuple[float, float, float, float], at: float | None = None) -> bool:
    """Whether a row stands within the room, numbers and all; at: where it would."""
    place = item.at if at is None else at
    low, high = (room[1], room[3]) if item.level else (room[0], room[2])
    return low + (item.tall if side < 0 else 0.0) <= place <= high - (item.tall if side > 0 else 0.0)


def _own_size(d: Dimension, context: Context) -> float:
    try:
        return registry.value(d, context)
    except SizeError:
        return 0.0


def _ink(d: Dimension, move: Move, context: Context) -> SizeInk:
    return registry.size_ink(d.model_copy(update={"place": move.place, "shift": move.shift}), context)


def _shapes(ink: SizeInk) -> list[shapely.Geometry]:
    return shapes([*ink.extensions, *ink.lines, *ink.arrows, *ink.marks]) + text_boxes(
        ink.lettering, margin=0.3
    )


def _items(sizes: Sequence[Dimension], context: Context) -> tuple[list[_Item], list[Dimension]]:
    """What goes into rows, and what is placed by itself."""
    rows: list[_Item] = []
    others: list[Dimension] = []
    runs: dict[str, list[Dimension]] = {}
    for d in sizes:
        try:
            registry.value(d, context)
        except SizeError:
            continue  # lost: it has no ink to tidy
        if _row_axis(d, context) is None:
            others.append(d)
        elif d.run and d.run_form in ("chain", "ordinate"):
            runs.setdefault(d.run, []).append(d)
        else:
            rows.append(_item([d], context))
    rows += [_item(group, context) for group in runs.values()]
    return rows, others


def _row_axis(d: Dimension, context: Context) -> int | None:
    """0 for a level dimension line, 1 for an upright one, None for all else."""
    if isinstance(d, OrdinateDimension):
        return 0 if d.direction == "horizontal" else 1
    if not isinstance(d, LinearDimension) or context.frame.pictorial:
        return None
    u = linear.measured(d, context).direction
    return next((axis for axis in (0, 1) if abs(float(u[1 - axis])) < 1e-9), None)


def _item(group: list[Dimension], context: Context) -> _Item:
    axis = _row_axis(group[0], context) or 0
    low, high = outline(context)
    edges = {-1: float(low[1 - axis]) * context.scale, 1: float(high[1 - axis]) * context.scale}
    side = _side(group[0], axis, context, edges[-1], edges[1])
    ties: list[float] = []
    numbers: list[tuple[float, float]] = []
    tall = 0.0
    for d in group:
        label = registry.label(d, context)
        wide, high_ = max(label.width, label.reach), label.top - label.bottom
        if isinstance(d, LinearDimension):
            found = linear.measured(d, context)
            _, feet = linear.feet_of(found, np.array([0.0, 0.0]), context.frame, context.scale)
            ends = sorted(float(f[axis]) for f in feet)
            across = wide if (axis == 0 or context.profile.dimension_text == "above") else high_
            tall = max(tall, high_ if (axis == 0 or context.profile.dimension_text == "above") else wide)
            middle, room = sum(ends) / 2, ends[1] - ends[0]
            number = (middle - across / 2, middle + across / 2)
            if room < across + 2 * context.profile.arrow_length + 2.0 and room < across + 1.0:
                outer = (
                    ends[1]
                    + (2.2 if room < 2 * context.profile.arrow_length + 1 else 1.0)
                    * context.profile.arrow_length
                )
                number = (outer, outer + across)
            ties += ends
            numbers.append(number)
        elif isinstance(d, OrdinateDimension):
            at = float(
                (
                    context.frame.drawn(ordinate.coordinate(d.picks[-1], d.direction, context)[1][0])
                    * context.scale
                )[axis]
            )
            ties.append(at)
            numbers.append((at - label.high, at + label.high))
            tall = max(tall, wide)
    span = (min([*ties, *(n[0] for n in numbers)]), max([*ties, *(n[1] for n in numbers)]))
    return _Item(
        group,
        axis == 0,
        side,
        span,
        max(ties) - min(ties),
        sorted(set(ties)),
        tall,
        edges,
        all(d.place == NOWHERE for d in group),
        numbers=numbers,
    )


def _side(d: Dimension, axis: int, context: Context, low: float, high: float) -> int:
    """The side of the outline on which a size stands; one that stands inside goes to the side its ends are
    nearer to."""
    if d.place == NOWHERE and isinstance(d, LinearDimension):
        return _nearer(d, axis, context, low, high)
    at = float(np.array(d.place.at(context.scale))[1 - axis])
    if at <= low or at >= high:
        return -1 if at <= low else 1
    return -1 if at - low <= high - at else 1


def _nearer(d: LinearDimension, axis: int, context: Context, low: float, high: float) -> int:
    """The side on which extension lines are the shorter; below and at the left where that is all one."""
    found = linear.measured(d, context)
    ends = [
        sorted(float(context.frame.drawn(p)[1 - axis]) * context.scale for p in pair)
        for pair in (found.first, found.second)
    ]
    return 1 if sum(high - e[1] for e in ends) < sum(e[0] - low for e in ends) - SAME else -1


def _rows(
    items: list[_Item], level: bool, side: int, placed: list[shapely.Geometry], context: Context
) -> list[Move]:
    """Rows of one side, shortest inside; a row that would stand on something moves out."""
    if not items:
        return []
    axis = 0 if level else 1
    low, high = outline(context)
    edge = float((low if side < 0 else high)[1 - axis]) * context.scale
    items.sort(key=lambda i: (i.length, i.span))
    for n, item in enumerate(items):
        under = [
            o.row for o in items[:n] if item.span[0] < o.span[1] + 1.0 and o.span[0] < item.span[1] + 1.0
        ]
        item.row = max(under) + 1 if under else 0
    away, before = context.profile.first_row, 0.0
    tree = shapely.STRtree(placed) if placed else None
    moves: list[Move] = []
    for row in range(max(i.row for i in items) + 1):
        here = [i for i in items if i.row == row]
        tall = max(i.tall for i in here)
        depth = tall + context.profile.text_gap * 2
        if row:
            away += max(context.profile.next_row, before + context.profile.text_gap * 2)
        for _ in range(40):
            if tree is None or not any(
                _hits(tree, i, edge + side * away, axis, side, depth, context.profile) for i in here
            ):
                break
            away += 1.0
        before = tall
        for item in here:
            item.at = edge + side * away
    for item in items:
        crossing = [t for o in items if o.at * side > item.at * side for t in o.ties]
        for d, number in zip(item.sizes, item.numbers, strict=True):
            moves.append(_moved(d, item, number, crossing, axis, context))
    return moves


def _hits(
    tree: shapely.STRtree, item: _Item, at: float, axis: int, side: int, depth: float, profile: Profile
) -> bool:
    """Whether the numbers of a row would stand on something."""
    ordinates = item.sizes[0].kind == "ordinate"
    for a, b in item.numbers:
        if ordinates:
            c, d = (at, at + side * depth) if side > 0 else (at + side * depth, at)
        elif profile.dimension_text == "above":
            # numbers stand above a level line and at the left of an upright one
            c, d = (at, at + depth) if axis == 0 else (at - depth, at)
        else:
            c, d = at - depth / 2, at + depth / 2
        box = shapely.box(a, c, b, d) if axis == 0 else shapely.box(c, a, d, b)
        if len(tree.query(box, predicate="intersects")):
            return True
    return False


def _moved(
    d: Dimension, item: _Item, number: tuple[float, float], crossing: list[float], axis: int, context: Context
) -> Move:
    """A size in its row; its number aside where extension lines of outer rows pass, if there is room."""
    u = np.array([1.0, 0.0]) if axis == 0 else np.array([0.0, 1.0])
    v = np.array([u[1], u[0]])
    if isinstance(d, OrdinateDimension):
        own = (
            context.frame.drawn(ordinate.coordinate(d.picks[-1], d.direction, context)[1][0]) * context.scale
        )
        return Move(d.id, snapped_place(u * float(own @ u) + v * item.at, None, context))
    assert isinstance(d, LinearDimension)
    _, feet = linear.feet_of(linear.measured(d, context), v * item.at, context.frame, context.scale)
    ends = sorted(float(f[axis]) for f in feet)
    middle, half = sum(ends) / 2, (number[1] - number[0]) / 2
    inside = number[1] <= ends[1] + 1e-6
    place = snapped_place(u * (middle if inside else number[1]) + v * item.at, None, context)
    blocked = [t for t in crossing if ends[0] + 0.5 < t < ends[1] - 0.5]
    if not inside or not any(abs(t - middle) < half + 0.8 for t in blocked):
        return Move(d.id, place)
    stops = [ends[0] + context.profile.arrow_length, *sorted(blocked), ends[1] - context.profile.arrow_length]
    gaps = [
        (abs((a + b) / 2 - middle), (a + b) / 2)
        for a, b in zip(stops, stops[1:], strict=False)
        if b - a > 2 * half + 1.6
    ]
    if not gaps:
        return Move(d.id, place)
    # dimension lines run from the first pick to the second: the shift counts that way
    way = 1.0 if float(feet[1][axis]) >= float(feet[0][axis]) else -1.0
    return Move(d.id, place, (min(gaps)[1] - middle) * way)


def _free(
    d: Dimension, placed: list[shapely.Geometry], context: Context, room: tuple[float, float, float, float]
) -> Move:
    """The nearest place at which a leader's, an angle's or a slanting size's number stands on nothing; the
    one with least under it, if none."""
    tree = shapely.STRtree(placed) if placed else None
    inside = shapely.box(*room)
    best: tuple[float, Move] | None = None
    for cost, at in _places(d, context):
        move = Move(d.id, snapped_place(at, None, context))
        ink = _ink(d, move, context)
        boxes = text_boxes(ink.lettering, margin=0.5)
        under = sum(len(tree.query(b, predicate="intersects")) for b in boxes) if tree else 0
        off = sum(not inside.contains(b) for b in boxes)
        strokes = shapes(ink.lines)
        over = (
            0.1 * len(tree.query(shapely.union_all(strokes), predicate="crosses"))
            if tree and strokes and isinstance(d, LinearDimension)
            else 0.0
        )
        over += sum(
            placed[n].geom_type == "Polygon"
            for g in strokes
            for n in (tree.query(g, predicate="intersects") if tree else [])
        )
        total = 1000.0 * under + 2000.0 * off + 200.0 * over + cost
        if best is None or total < best[0]:
            best = (total, move)
        if under + off + over < 0.5:
            break
    assert best is not None
    return best[1]


def _places(d: Dimension, context: Context) -> list[tuple[float, Array]]:
    """Places to try, the nearest first: paper mm about the view's position, with what each costs."""
    if isinstance(d, LinearDimension):
        return _beside(d, context)
    here = np.array(d.place.at(context.scale))
    center, radius = _about(d, context)
    now = math.atan2(*(here - center)[::-1]) if np.linalg.norm(here - center) > 1e-6 else math.pi / 4
    out: list[tuple[float, Array]] = []
    reaches = [(far, far) for far in FAR]
    if isinstance(d, AngleDimension):  # where the nearer leg begins, whose extension line is then short
        near = min(near for near, _ in angle_measured(d, context).spans) * context.scale - radius
        reaches += [(near, FAR[1])] if near > FAR[0] else []
    for far, price in reaches:
        for k in range(TURNS):
            turn = (
                math.pi / 4 if d.kind in ("diameter", "radius", "chamfer") else now
            ) + 2 * math.pi * k / TURNS
            # level and upright leaders look like lines of the part
            level = 15.0 if d.kind != "angle" and min(abs(math.cos(turn)), abs(math.sin(turn))) < 0.2 else 0.0
            aside = abs(math.remainder(turn - now, 2 * math.pi))
            out.append(
                (
                    price + level + aside * 3,
                    center + (radius + far) * np.array([math.cos(turn), math.sin(turn)]),
                )
            )
    if isinstance(d, AngleDimension):
        out = [(cost, p) for cost, p in out if _same_sector(d, p, context)] or out
    return sorted(out, key=lambda o: o[0])


def _beside(d: LinearDimension, context: Context) -> list[tuple[float, Array]]:
    """Slanting dimension lines: on both sides of what they measure, from just beside it to outside the view's
    outline."""
    found = linear.measured(d, context)
    center = np.asarray(context.frame.drawn((found.first[0] + found.second[0]) / 2) * context.scale)
    low, high = outline(context)
    n = np.array([-found.direction[1], found.direction[0]])
    corners = (
        np.array([[x, y] for x in (low[0], high[0]) for y in (low[1], high[1])]) * context.scale - center
    )
    out = []
    for sign in (1.0, -1.0):
        beyond = max(float((corners @ n * sign).max()), 0.0)
        out += [(far, center + n * sign * far) for far in (*FAR, *(beyond + f for f in FAR[:3]))]
    return sorted(out, key=lambda o: o[0])


def _same_sector(d: AngleDimension, at: Array, context: Context) -> bool:
    found = angle_measured(d, context)
    v = at / context.scale - context.frame.drawn(found.vertex)
    p, q = context.frame.direction(found.one), context.frame.direction(found.two)
    return (
        bool(float(p[0] * v[1] - p[1] * v[0]) > 0 and float(v[0] * q[1] - v[1] * q[0]) > 0)
        or found.sweep > math.pi
    )


def _about(d: Dimension, context: Context) -> tuple[Array, float]:
    """What a size is placed around: paper mm."""
    if d.kind in ("diameter", "radius", "arc_length"):
        found = distances.circle(d.picks[0], context)
        return np.asarray(
            context.frame.drawn(context.frame.flat(found.center)) * context.scale
        ), found.radius * context.scale
    if isinstance(d, AngleDimension):
        return np.asarray(context.frame.drawn(angle_measured(d, context).vertex) * context.scale), 4.0
    if d.kind == "chamfer":
        from drafting.annotation.kinds.chamfer import legs_of

        at = legs_of(d.picks[0], context)
        return np.asarray(context.frame.drawn((at.a + at.b) / 2) * context.scale), 0.0
    raise SizeError("That size is placed in rows.")
