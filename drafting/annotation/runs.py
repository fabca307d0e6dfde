"""Runs: chain, baseline and ordinate sizes from one origin, angular ones too. A run is a set of ordinary sizes that share its id; adding and
removing members makes it anew, keeping every size that stays."""

from typing import Literal

import numpy as np

from drafting.annotation import ordinate
from drafting.annotation.measure import located
from drafting.annotation.placing import rows_of, snapped_place
from drafting.annotation.registry import value as value_of
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import Array, ViewFrame
from drafting.document import AngleDimension, Dimension, LinearDimension, OrdinateDimension, Pick, new_id
from drafting.errors import SizeError
from drafting.model.model import Facts
from drafting.standards.profile import Profile

Form = Literal["chain", "baseline", "ordinate"]


def is_angular(picks: list[Pick], facts: Facts, frame: ViewFrame) -> bool:
    """Whether a run of these picks counts angles: its first two are lines that are not parallel."""
    lines = [located(p, facts, frame) for p in picks[:2]]
    if len(lines) < 2 or not all(isinstance(t, Straight) for t in lines):
        return False
    u, v = (frame.direction(t.direction) for t in lines if isinstance(t, Straight))
    return bool(abs(float(u[0] * v[1] - u[1] * v[0])) > 1e-6)


def direction_of(picks: list[Pick], pointer: Array, facts: Facts, frame: ViewFrame, scale: float) -> Literal["horizontal", "vertical"]:
    """Along which axis a run counts: square to its first line, or by where the pointer stands from its points."""
    for p in picks:
        thing = located(p, facts, frame)
        if isinstance(thing, Straight):
            d = frame.direction(thing.direction)
            if float(np.linalg.norm(d)) > 1e-9:
                return "vertical" if abs(float(d[0])) > abs(float(d[1])) else "horizontal"
    places = np.array([frame.drawn(_point(p, facts, frame)) * scale for p in picks])
    low, high = places.min(0), places.max(0)
    away = np.maximum(np.maximum(low - pointer, pointer - high), 0)
    return "horizontal" if away[1] >= away[0] else "vertical"


def _point(pick: Pick, facts: Facts, frame: ViewFrame) -> Array:
    """A place of a pick, view mm."""
    thing = located(pick, facts, frame)
    return frame.flat(thing.a if isinstance(thing, Straight) else (thing.center if isinstance(thing, Round) else thing.at))


def made(
    form: Form, picks: list[Pick], direction: Literal["horizontal", "vertical"], pointer: Array, view: str, run: str, facts: Facts, frame: ViewFrame,
    scale: float, profile: Profile, before: list[Dimension] | None = None,
) -> list[Dimension]:  # fmt: skip
    """The sizes of a run: picks with the origin first, pointer in paper mm about the view's position. before: sizes it had, of which those
    that measure the same stay as they are. Raises SizeError."""
    if frame.pictorial:
        raise SizeError("Runs of sizes are taken in views that face the paper squarely, not in pictorial ones.")
    unique = [p for n, p in enumerate(picks) if p not in picks[:n]]
    if len(unique) < 2:
        raise SizeError("A run needs an origin and at least one more thing.")
    out = (
        _angular(form, unique, view, run, facts, frame)
        if is_angular(unique, facts, frame)
        else _straight(form, unique, direction, view, run, facts, frame)
    )
    if not out:
        raise SizeError("All of these lie level with each other; there is nothing to size between them.")
    out = _kept(out, before or [])
    return _rowed(form, out, pointer, facts, frame, scale, profile)


def _straight(
    form: Form, picks: list[Pick], direction: Literal["horizontal", "vertical"], view: str, run: str, facts: Facts, frame: ViewFrame
) -> list[Dimension]:
    places = [(ordinate.coordinate(p, direction, facts, frame)[0], p) for p in picks]
    origin = places[0]
    found: list[tuple[float, Pick]] = [origin]
    for at, p in places[1:]:
        if all(abs(at - other) > 1e-6 for other, _ in found):
            found.append((at, p))
    found.sort(key=lambda f: f[0])
    base = {"view": view, "run": run, "run_form": form, "place": _nowhere()}
    if form == "ordinate":
        wanted = [[origin[1]] if p is origin[1] else [origin[1], p] for _, p in found]
        return [OrdinateDimension(id=new_id(), picks=w, direction=direction, **base) for w in wanted]  # type: ignore[arg-type]
    if form == "chain":
        pairs = [(a, b) for (_, a), (_, b) in zip(found, found[1:], strict=False)]
    else:
        pairs = [(origin[1], p) for _, p in sorted(found, key=lambda f: abs(f[0] - origin[0])) if p is not origin[1]]
    return [LinearDimension(id=new_id(), picks=[a, b], direction=direction, **base) for a, b in pairs]  # type: ignore[arg-type]


def _nowhere() -> object:
    from drafting.annotation.taking import NOWHERE

    return NOWHERE


def _angular(form: Form, picks: list[Pick], view: str, run: str, facts: Facts, frame: ViewFrame) -> list[Dimension]:
    if form == "ordinate":
        raise SizeError("Ordinates count lengths; for angles take a chain or a baseline.")
    turns: list[tuple[float, Pick]] = []
    first = located(picks[0], facts, frame)
    assert isinstance(first, Straight)
    zero = frame.direction(first.direction)
    for p in picks:
        thing = located(p, facts, frame)
        if not isinstance(thing, Straight):
            raise SizeError("A run of angles takes straight lines only.")
        d = frame.direction(thing.direction)
        turns.append((float(np.arctan2(zero[0] * d[1] - zero[1] * d[0], zero @ d)) % np.pi, p))
    rest = sorted(turns[1:], key=lambda t: t[0])
    pairs = [(a, b) for (_, a), (_, b) in zip([turns[0], *rest], rest, strict=False)] if form == "chain" else [(turns[0][1], b) for _, b in rest]
    base = {"view": view, "run": run, "run_form": form, "place": _nowhere()}
    return [AngleDimension(id=new_id(), picks=[a, b], **base) for a, b in pairs]  # type: ignore[arg-type]


def _kept(now: list[Dimension], before: list[Dimension]) -> list[Dimension]:
    """Sizes between the same two things stay the sizes they were, with what they say."""
    known = {frozenset(p.model_dump_json() for p in d.picks): d for d in before}
    out = []
    for d in now:
        old = known.get(frozenset(p.model_dump_json() for p in d.picks))
        out.append(d if old is None else old.model_copy(update={"picks": d.picks}))
    return out


def _rowed(form: Form, sizes: list[Dimension], pointer: Array, facts: Facts, frame: ViewFrame, scale: float, profile: Profile) -> list[Dimension]:
    if isinstance(sizes[0], AngleDimension):
        return _ringed(form, sizes, pointer, facts, frame, scale, profile)
    direction = sizes[0].direction if isinstance(sizes[0], LinearDimension | OrdinateDimension) else "horizontal"
    u = np.array([1.0, 0.0]) if direction == "horizontal" else np.array([0.0, 1.0])
    out: list[Dimension] = []
    rows = rows_of(facts, frame, scale, profile, u, pointer)
    for n, d in enumerate(sizes):
        at = rows.at(rows.start + n) if form == "baseline" else rows.at(rows.start)
        middle = pointer * np.abs(u) + np.array([u[1], u[0]]) * at
        if isinstance(d, LinearDimension):
            ends = [ordinate.coordinate(p, direction, facts, frame)[1][0] for p in d.picks]
            middle = np.array([u[1], u[0]]) * at + u * float((frame.drawn(ends[0]) + frame.drawn(ends[1])) @ u) / 2 * scale
        out.append(d.model_copy(update={"place": snapped_place(middle, u, facts, frame, scale, profile)}))
    return out


def _ringed(form: Form, sizes: list[Dimension], pointer: Array, facts: Facts, frame: ViewFrame, scale: float, profile: Profile) -> list[Dimension]:
    """Angles of a chain on one arc, of a baseline on arcs a row apart."""
    from drafting.annotation.angles import measured

    turned: list[AngleDimension] = []
    for d in sizes:
        assert isinstance(d, AngleDimension)
        one, two = (located(p, facts, frame) for p in d.picks)
        assert isinstance(one, Straight)
        assert isinstance(two, Straight)
        turned.append(d.model_copy(update={"sector": _sector(one, two, frame)}))
    if form == "baseline":
        turned.sort(key=lambda d: value_of(d, facts, frame))
    out: list[Dimension] = []
    for n, d in enumerate(turned):
        vertex = frame.drawn(measured(d, facts, frame).vertex) * scale
        toward = pointer - vertex
        reach = max(float(np.linalg.norm(toward)), 1e-6)
        at = vertex + toward / reach * (reach + (n * profile.next_row if form == "baseline" else 0.0))
        out.append(d.model_copy(update={"place": snapped_place(at, None, facts, frame, scale, profile)}))
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
    a, u, c, v = frame.flat(one.a), frame.direction(one.direction), frame.flat(two.a), frame.direction(two.direction)
    s, _ = np.linalg.solve(np.column_stack([u, -v]), c - a)
    out: Array = a + u * float(s)
    return out


def fitting(picks: list[Pick], direction: str, facts: Facts, frame: ViewFrame) -> list[int]:
    """Which of the picks swept over have a place along the direction; the origin always stays."""
    out = [0]
    for n, p in enumerate(picks[1:], 1):
        try:
            ordinate.coordinate(p, direction, facts, frame)
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
