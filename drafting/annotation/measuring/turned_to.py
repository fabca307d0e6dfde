"""Whether basic angles say how what a position or a profile is of is turned to a datum."""

import math
from collections.abc import Iterator, Sequence

import numpy as np

from drafting.annotation.measuring.basic_ties import ALONG, Ties, Unlocated, leads, turns_to
from drafting.annotation.measuring.statement import signless
from drafting.annotation.measuring.toleranced import Feature
from drafting.annotation.measuring.traces import placed
from drafting.context import Context
from drafting.features.freedom import Situation, holds_turn
from drafting.views.frame import Array

NEAR = 1e-3
SQUARE = 1e-6
DIRECTED = ("plane", "axis")


def turned(
    letters: str,
    datum: Feature,
    members: Sequence[Feature],
    before: Sequence[Sequence[Feature]],
    ties: Ties,
    context: Context,
) -> Iterator[Unlocated]:
    """The angle that a datum asks for and that no basic size says, if any. members: the feature and those
    equal to it; before: the datums that come first."""
    groups = [[s for x in group for s in x.situations] for group in before]
    if datum.situation.form not in DIRECTED or members[0].situation.form not in DIRECTED:
        return
    if abs(float(datum.situation.direction @ members[0].situation.direction)) < ALONG:
        yield from _slanted(letters, datum, members[0], groups, ties, context)
    yield from _about(letters, datum, members, before, groups, ties)


def _ends(datum: Feature, m: Feature) -> tuple[tuple[str, str], tuple[str, str]]:
    return (datum.instance, datum.faces[0] if datum.faces else ""), (m.instance, m.faces[0])


def _slanted(
    letters: str,
    datum: Feature,
    m: Feature,
    groups: Sequence[Sequence[Situation]],
    ties: Ties,
    context: Context,
) -> Iterator[Unlocated]:
    """Where a feature stands at a slant to a datum."""
    a, b = np.asarray(datum.situation.direction), np.asarray(m.situation.direction)
    along = abs(float(a @ b))
    if along < SQUARE:
        return
    across = np.cross(a, b)
    across /= np.linalg.norm(across)
    if holds_turn(groups, across) or turns_to(a, b, ties) or _ends_lead(datum, m, across, ties, context):
        return
    between = math.acos(min(1.0, along))
    angle = between if datum.situation.form == m.situation.form else math.pi / 2 - between
    yield Unlocated(letters, across, 0.0, *_ends(datum, m), angle=angle)


def _ends_lead(datum: Feature, m: Feature, across: Array, ties: Ties, context: Context) -> bool:
    """Whether lengths say where two ends of a slanted plane lie, which says its slant."""
    found = context.facts.part_of(m.instance)
    if found is None or m.situation.form != "plane" or datum.situation.form != "plane":
        return False
    instance, part = found
    edges = [e for e in part.edges if m.faces[0] in e.faces]
    ends = [placed(instance.matrix, p) for e in edges for p in (e.start, e.end)]
    up = signless(np.asarray(datum.situation.direction))
    beside = signless(np.cross(across, up))
    told = [Situation("point", p, up) for p in ends]
    told = [p for p in told if leads(up, datum.situation, p, ties)]
    return any(
        abs(float((p.at - q.at) @ up)) > NEAR and leads(beside, p, q, ties) for p in told for q in told
    )


def _about(
    letters: str,
    datum: Feature,
    members: Sequence[Feature],
    before: Sequence[Sequence[Feature]],
    groups: Sequence[Sequence[Situation]],
    ties: Ties,
) -> Iterator[Unlocated]:
    """Where features lie about the axis of a datum before, and this datum keeps that from turning."""
    axis = members[0].situation.direction
    center = next(
        (
            x
            for group in before
            for x in group
            if x.situation.form == "axis" and abs(float(x.situation.direction @ axis)) > ALONG
        ),
        None,
    )
    if center is None or members[0].situation.form != "axis" or holds_turn(groups, axis, center.situation.at):
        return
    start = _way_of(datum, center, axis)
    if start is None:
        return
    rays = [ray for m in members if (ray := _ray(m.situation, center.situation, axis)) is not None]
    if len(rays) < len(members):
        return
    known = list(zip(rays, rays[1:], strict=False)) if _is_even(rays, axis) else []
    along, beside = signless(start), signless(np.cross(axis, start))
    for m, ray in zip(members, rays, strict=True):
        by_lengths = all(leads(d, center.situation, m.situation, ties) for d in (along, beside))
        if by_lengths or turns_to(start, ray, ties, known):
            continue
        between = math.acos(max(-1.0, min(1.0, float(start @ ray))))
        if datum.situation.form == "plane":
            between = abs(math.pi / 2 - between)
        own = center.instance, center.faces[0] if center.faces else ""
        yield Unlocated(letters, axis, 0.0, *_ends(datum, m), angle=between, center=own)
        return


def _way_of(datum: Feature, center: Feature, axis: Array) -> Array | None:
    """The direction, (3,), from a middle axis in which a datum lies; None for one that keeps nothing from
    turning."""
    if datum.situation.form == "axis" and abs(float(datum.situation.direction @ axis)) > ALONG:
        return _ray(datum.situation, center.situation, axis)
    n = np.asarray(datum.situation.direction)
    return n if datum.situation.form == "plane" and abs(float(n @ axis)) < SQUARE else None


def _ray(of: Situation, center: Situation, axis: Array) -> Array | None:
    off = np.asarray(of.at) - np.asarray(center.at)
    off = off - axis * float(off @ axis)
    size = float(np.linalg.norm(off))
    return off / size if size > NEAR else None


def _is_even(rays: Sequence[Array], axis: Array) -> bool:
    """Whether features are equally spaced, which their count says."""
    if len(rays) < 3:
        return False
    side = np.cross(axis, rays[0])
    turns = np.sort([math.atan2(float(r @ side), float(r @ rays[0])) % (2 * math.pi) for r in rays])
    steps = np.diff(np.append(turns, turns[0] + 2 * math.pi))
    return bool(np.abs(steps - 2 * math.pi / len(rays)).max() < 1e-4)
