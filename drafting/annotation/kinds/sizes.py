"""All sizes of a sheet together: numbers of crowded ordinates moved apart, dots in narrow chains, lines
broken where they cross."""

from collections.abc import Sequence
from dataclasses import replace
from functools import partial
from typing import Any

from drafting.annotation.inking.breaks import broken
from drafting.annotation.inking.dimension_ink import SizeInk
from drafting.annotation.kinds.kind import Drawn, InRun, Member, Move, SizeKind, partners
from drafting.context import Context
from drafting.document import Dimension, Placement
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import XY, Group
from drafting.memory import Memory, digest

_INKS: Memory[SizeInk] = Memory(12_000)
"""Ink of sizes before their lines break: some 3 kB each."""


def draw(members: Sequence[Member]) -> Drawn:
    """Ink of all sizes of a sheet, their lines broken where they cross each other's arrows, numbers and
    lines."""
    inks = unbroken(members)
    whole = {key: ink for key, ink in inks.items() if isinstance(ink, SizeInk)}
    sizes = {m.annotation.id: m for m in members}
    origins = {key: sizes[key].context.origin for key in whole}
    keep = frozenset(key for key in whole if not sizes[key].annotation.breaks)
    runs = {key: sizes[key].annotation.run for key in whole if sizes[key].annotation.run}
    broken(whole, keep, members[0].context.profile, origins, runs)
    return {
        key: ink if isinstance(ink, str) else Group(key, "annotation", origins[key], ink.elements(), ink)
        for key, ink in inks.items()
    }


def ink_of(size: Any, kind: SizeKind[Any], context: Context, in_run: InRun = InRun()) -> SizeInk:  # noqa: B008
    """Ink of one size before its lines break, remembered: not to be changed. Raises SizeError or
    CommandError."""
    key = (context.seen, in_run, digest(size.model_dump_json()))
    return _INKS.recall(context.facts, key, partial(kind.inked, size, context, in_run))


def unbroken(members: Sequence[Member]) -> dict[str, SizeInk | str]:
    """Ink of sizes by id, about their views' positions, before their lines break."""
    by_view: dict[str, list[Member]] = {}
    for m in members:
        by_view.setdefault(m.context.view_id, []).append(m)
    out: dict[str, SizeInk | str] = {}
    for mine in by_view.values():
        out |= _of_view(mine)
    return {m.annotation.id: out[m.annotation.id] for m in members}


def _of_view(members: list[Member]) -> dict[str, SizeInk | str]:
    """Ink of a view's sizes. It is remembered: most edits change one size of many."""
    context = members[0].context
    if context.view is None and not context.is_bare:
        return {m.annotation.id: "Its view is no longer on the sheet." for m in members}
    shift: dict[str, float] = {}
    for m in _first_of_runs(members):
        run = [o.annotation for o in members if o.annotation.run == m.annotation.run and o.kind is m.kind]
        shift |= m.kind.spread(run, context)  # type: ignore[attr-defined]

    def ink(m: Member, *dots: XY) -> SizeInk | str:
        assert isinstance(m.kind, SizeKind)
        in_run = InRun(shift.get(m.annotation.id, 0.0), dots)
        try:
            return replace(ink_of(m.annotation, m.kind, context, in_run))  # breaks change it
        except (SizeError, CommandError) as error:
            return str(error)

    out = {m.annotation.id: ink(m) for m in members}
    tips: dict[tuple[str, float, float], list[Member]] = {}
    for m in members:
        a, link = m.annotation, out[m.annotation.id]
        if a.run_form == "chain" and a.run and isinstance(link, SizeInk):
            for x, y in link.outside:
                tips.setdefault((a.run, round(x, 3), round(y, 3)), []).append(m)
    crowded: dict[str, list[XY]] = {}
    for (_, x, y), links in tips.items():
        for m in links if len(links) > 1 else []:
            crowded.setdefault(m.annotation.id, []).append((x, y))
    return out | {
        m.annotation.id: ink(m, *crowded[m.annotation.id]) for m in members if m.annotation.id in crowded
    }


def _first_of_runs(members: list[Member]) -> list[Member]:
    """One member of each run whose numbers may crowd."""
    found: dict[str, Member] = {}
    for m in members:
        if isinstance(m.kind, SizeKind) and m.kind.spread is not None and m.annotation.run:
            found.setdefault(m.annotation.run, m)
    return list(found.values())


def moved(size: Dimension, to: Move, context: Context, with_run: bool) -> list[Dimension]:
    """The size at its new place, and those of its run that go along: a member of a chain or of ordinates
    takes its row along, of a baseline the other rows keep their distance."""
    update: dict[str, object] = {"shift": to.shift} if "shift" in to.model_fields_set else {}
    if to.place is None:
        return [size.model_copy(update=update)]
    out = [size.model_copy(update={**update, "place": to.place})]
    old, new = size.place.at(context.scale), to.place.at(context.scale)
    direction = getattr(size, "direction", "")
    by = (
        0.0 if direction == "horizontal" else new[0] - old[0],
        0.0 if direction == "vertical" else new[1] - old[1],
    )
    for other in partners(size, context) if with_run else []:
        p = other.place
        place = Placement(
            model=p.model, paper=p.paper.model_copy(update={"x": p.paper.x + by[0], "y": p.paper.y + by[1]})
        )
        out.append(other.model_copy(update={"place": place}))
    return out
