"""Runs: chain, baseline and ordinate sizes from one origin, angular ones too. A run is a set of ordinary
sizes that share its id; adding and removing members makes it anew, keeping every size that stays."""

from typing import Any, Literal

import numpy as np

from drafting.annotation.kinds import ordinate
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.placing.rows import NOWHERE, rows_of, snapped_place
from drafting.annotation.registry import value as value_of
from drafting.context import Context
from drafting.document import Dimension, Pick, anchored, new_id
from drafting.errors import SizeError
from drafting.views.frame import Array, ViewFrame

Form = Literal["chain", "baseline", "ordinate"]


def is_angular(picks: list[Pick], context: Context) -> bool:
    """Whether a run of these picks counts angles: its first two are lines that are not parallel."""
    lines = [located(p, context) for p in picks[:2]]
    if len(lines) < 2 or not all(isinstance(t, Straight) for t in lines):
        return False
    u, v = (context.frame.direction(t.direction) for t in lines if isinstance(t, Straight))
    return bool(abs(float(u[0] * v[1] - u[1] * v[0])) > 1e-6)


def direction_of(picks: list[Pick], pointer: Array, context: Context) -> Literal["horizontal", "vertical"]:
    """Along which axis a run counts: square to its first line, or by where the pointer stands from its
    points."""
    for p in picks:
        thing = located(p, context)
        if isinstance(thing, Straight):
            d = context.frame.direction(thing.direction)
            if float(np.linalg.norm(d)) > 1e-9:
                return "vertical" if abs(float(d[0])) > abs(float(d[1])) else "horizontal"
    places = np.array([context.frame.drawn(_point(p, context)) * context.scale for p in picks])
    low, high = places.min(0), places.max(0)
    away = np.maximum(np.maximum(low - pointer, pointer - high), 0)
    return "horizontal" if away[1] >= away[0] else "vertical"


def _point(pick: Pick, context: Context) -> Array:
    """A place of a pick, view mm."""
    thing = located(pick, context)
    return context.frame.flat(
        thing.a if isinstance(thing, Straight) else (thing.center if isinstance(thing, Round) else thing.at)
    )


def made(
    form: Form,
    picks: list[Pick],
    direction: Literal["horizontal", "vertical"],
    pointer: Array,
    run: str,
    context: Context,
    before: list[Dimension] | None = None,
) -> list[Dimension]:
    """The sizes of a run: picks with the origin first, pointer in paper mm about the view's position. before:
    sizes it had, of which those that measure the same stay as they are. Raises SizeError."""
    if context.frame.pictorial:
        raise SizeError(
            "Runs of sizes are taken in views that face the paper squarely, not in pictorial ones."
        )
    unique = [p for n, p in enumerate(picks) if p not in picks[:n]]
    if len(unique) < 2:
        raise SizeError("A run needs an origin and at least one more thing.")
    out = (
        _angular(form, unique, run, context)
        if is_angular(unique, context)
        else _straight(form, unique, direction, run, context)
    )
    if not out:
        raise SizeError("All of these lie level with each other; there is nothing to size between them.")
    out = _kept(out, before or [])
    return _rowed(form, out, pointer, context)


def _straight(
    form: Form, picks: list[Pick], direction: Literal["horizontal", "vertical"], run: str, context: Context
) -> list[Dimension]:
    places = [(ordinate.coordinate(p, direction, context)[0], p) for p in picks]
    origin = places[0]
    found: list[tuple[float, Pick]] = [origin]
    for at, p in places[1:]:
        if all(abs(at - other) > 1e-6 for other, _ in found):
            found.append((at, p))
    found.sort(key=lambda f: f[0])
    base: Any = {"run": run, "run_form": form, "place": NOWHERE}
    view = context.view_id
    if form == "ordinate":
        wanted = [[origin[1]] if p is origin[1] else [origin[1], p] for _, p in found]
        return [
            OrdinateDimension(id=new_id(), anchor=anchored(view, w), direction=direction, **base)
            for w in wanted
        ]
    if form == "chain":
        pairs = [(a, b) for (_, a), (_, b) in zip(found, found[1:], strict=False)]
    else:
        pairs = [
            (origin[1], p)
            for _, p in sorted(found, key=lambda f: abs(f[0] - origin[0]))
            if p is not origin[1]
        ]
    return [
        LinearDimension(id=new_id(), anchor=anchored(view, [a, b]), direction=direction, **base)
        for a, b in pairs
    ]


def _angular(form: Form, picks: list[Pick], run: str, context: Context) -> list[Dimension]:
    if form == "ordinate":
        raise SizeError("Ordinates count lengths; for angles take a chain or a baseline.")
    turns: list[tuple[float, Pick]] = []
    first = located(picks[0], context)
    assert isinstance(first, Straight)
    zero = context.frame.direction(first.direction)
    for p in picks:
        thing = located(p, context)
        if not isinstance(thing, Straight):
            raise SizeError("A run of angles takes straight lines only.")
        d = context.frame.direction(thing.direction)
        turns.append((float(np.arctan2(zero[0] * d[1] - zero[1] * d[0], zero @ d)) % np.pi, p))
    rest = sorted(turns[1:], key=lambda t: t[0])
    pairs = (
        [(a, b) for (_, a), (_, b) in zip([turns[0], *rest], rest, strict=False)]
        if form == "chain"
        else [(turns[0][1], b) for _, b in rest]
    )
    base: Any = {"run": run, "run_form": form, "place": NOWHERE}
    view = context.view_id
    return [AngleDimension(id=new_id(), anchor=anchored(view, [a, b]), **base) for a, b in pairs]


def _kept(now: list[Dimension], before: list[Dimension]) -> list[Dimension]:
    """Sizes between the same two things stay the sizes they were, with what they say."""
    known = {frozenset(p.model_dump_json() for p in d.picks): d for d in before}
    out = []
    for d in now:
        old = known.get(frozenset(p.model_dump_json() for p in d.picks))
        out.append(d if old is None else old.with_picks(d.picks))
    return out


def _rowed(form: Form, sizes: list[Dimension], pointer: Array, context: Context) -> list[Dimension]:
    if isinstance(sizes[0], AngleDimension):
        return _ringed(form, sizes, pointer, context)
    direction = (
        sizes[0].direction if isinstance(sizes[0], LinearDimension | OrdinateDimension) else "horizontal"
    )
    u = np.array([1.0, 0.0]) if direction == "horizontal" else np.array([0.0, 1.0])
    out: list[Dimension] = []
    rows = rows_of(context, u, pointer)
    for n, d in enumerate(sizes):
        at = rows.at(rows.start + n) if form == "baseline" else rows.at(rows.start)
        middle = pointer * np.abs(u) + np.array([u[1], u[0]]) * at
        if isinstance(d, LinearDimension):
            ends = [ordinate.coordinate(p, direction, context)[1][0] for p in d.picks]
            middle = (
                np.array([u[1], u[0]]) * at
                + u
                * float((context.frame.drawn(ends[0]) + context.frame.drawn(ends[1])) @ u)
                / 2
                * context.scale
            )
        out.append(d.model_copy(update={"place": snapped_place(middle, u, context)}))
    return out


def _ringed(form: Form, sizes: list[Dimension], pointer: Array, context: Context) -> list[Dimension]:
    """Angles of a chain on one arc, of a baseline on arcs a row apart."""
    from drafting.annotation.kinds.angles import measured

    turned: list[AngleDimension] = []
    for d in sizes:
        assert isinstance(d, AngleDimension)
        one, two = (located(p, context) for p in d.picks)
        assert isinstance(one, Straight)
        assert isinstance(two, Straight)
        turned.append(d.model_copy(update={"sector": _sector(one, two, context.frame)}))
    if form == "baseline":
        turned.sort(key=lambda d: value_of(d, context))
    out: list[Dimension] = []
    for n, d in enumerate(turned):
        vertex = context.frame.drawn(measured(d, context).vertex) * context.scale
        toward = pointer - vertex
        reach = max(float(np.linalg.norm(toward)), 1e-6)
        at = vertex + toward / reach * (reach + (n * context.profile.next_row if form == "baseline" else 0.0))
        out.append(d.model_copy(update={"place": snapped_place(at, None, context)}))
    return out


def _sector(one: Straight, two: Straight, frame: ViewFrame) -> int:
    """The sector between the halves of two lines that lie on the drawn side: away from where they cross."""
    signs = []
    for line, other in ((one, two), (two, one)):
        vertex = _meeting(line, other, frame)
        d = frame.direction(line.direction)
        middle = (frame.flat(line.a) + frame.flat(line.b)) / 2 - vertex
        signs.append(float(middle @ d) >= 0)
    return {(True, True): 0, (False, True): 1, (False, False): 2, (True, False): 3}[(signs[0], signs[1])]


def _meeting(one: Straight, two: Straight, frame: ViewFrame) -> Array:
    a, u, c, v = (
        frame.flat(one.a),
        frame.direction(one.direction),
        frame.flat(two.a),
        frame.direction(two.direction),
    )
    s, _ = np.linalg.solve(np.column_stack([u, -v]), c - a)
    out: Array = a + u * float(s)
    return out


def fitting(picks: list[Pick], direction: str, context: Context) -> list[int]:
    """Which of the picks swept over have a place along the direction; the origin always stays."""
    out = [0]
    for n, p in enumerate(picks[1:], 1):
        try:
            ordinate.coordinate(p, direction, context)
        except SizeError:
            continue
        out.append(n)
    return out


def origin_of(sizes: list[Dimension]) -> Pick:
    """The thing a run counts from: what all its sizes share; of a chain its first."""
    if sizes[0].run_form == "chain":
        return sizes[0].picks[0]
    return sizes[0].picks[0]


def picks_of(sizes: list[Dimension]) -> list[Pick]:
    """Everything a run was taken on, the origin first."""
    out = [origin_of(sizes)]
    for d in sizes:
        out += [p for p in d.picks if p not in out]
    return out
