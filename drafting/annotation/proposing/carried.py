"""A size carried to another view: taken there on what shows the same of the model, saying the same."""

import itertools
from collections.abc import Iterator, Mapping
from typing import Any

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.proposing import size_tool
from drafting.annotation.proposing.mate_sizes import sectors, shown_in, stand_ins
from drafting.annotation.review import redundancy
from drafting.annotation.review.brought_along import hosts
from drafting.context import Context
from drafting.document import Dimension, Pick, in_view
from drafting.errors import SizeError
from drafting.ink.elements import XY
from drafting.views.geometry import ViewGeometry

EXACT = 1e-6
MOST = 4
"""Ways to take a size on one of the things it was picked on that are tried, the best seen first."""


def carried(size: Dimension, here: Context, there: Context, geometry: ViewGeometry, pointer: XY) -> Dimension:
    """The size in another view, at a pointer (paper mm about that view's position). geometry: of that view.
    Raises SizeError where it does not show it squarely."""
    if size.run:
        raise SizeError("A size of a run goes with its run; take it out first.")
    if any(size.id in hosts(a.model_dump(mode="json")) for a in here.sheet.annotations if a.id != size.id):
        raise SizeError("A size on which symbols stand stays in its view.")
    value, states = registry.value(size, here), redundancy.statement_of(size, here)
    shown = shown_in(geometry)
    best: tuple[float, Dimension] | None = None
    for score, one in _ways(size, there, shown):
        if best is not None and score <= best[0]:
            continue
        try:
            same = abs(registry.value(one, there) - value) < EXACT
            stated = redundancy.statement_of(one, there)
            if not same or (states is not None and (stated is None or stated.key != states.key)):
                continue
            made = size_tool.placed(one, np.array(pointer), there)
            registry.size_ink(made, there)
        except SizeError:
            continue
        kind = registry.size_kind(made)
        if kind.foreshortened is None or not kind.foreshortened(made, there):
            best = score, made
    if best is None:
        raise SizeError("That view does not show this size squarely.")
    return best[1]


def _ways(
    size: Dimension, there: Context, shown: Mapping[tuple[str, str], float]
) -> Iterator[tuple[float, Dimension]]:
    options = [_stand_ins(p, there, shown) for p in size.picks]
    for chosen in itertools.product(*options):
        score = min(s for s, _ in chosen)
        anchor = in_view(there.view_id, [p for _, p in chosen])
        moved = size.model_copy(update={"anchor": anchor, "shift": None})
        if isinstance(moved, LinearDimension):
            for direction in dict.fromkeys((moved.direction, "horizontal", "vertical", "aligned")):
                yield score, moved.model_copy(update={"direction": direction})
        elif isinstance(moved, AngleDimension) and len(chosen) == 2:
            for sector in sectors(moved, there):
                yield score, moved.model_copy(update={"sector": sector})
        else:
            yield score, moved
        if len(chosen) == 1:
            yield from ((score, other) for other in _round(moved))


def _round(size: Dimension) -> Iterator[Dimension]:
    """A diameter as it is taken where its circle is seen from the side, or looked into."""
    common: dict[str, Any] = {name: getattr(size, name) for name in Dimension.model_fields if name != "kind"}
    if isinstance(size, DiameterDimension):
        yield LinearDimension(**common, reading="across")
    elif isinstance(size, LinearDimension) and size.reading == "across":
        yield DiameterDimension(**common)


def _stand_ins(
    pick: Pick, there: Context, shown: Mapping[tuple[str, str], float]
) -> list[tuple[float, Pick]]:
    """What shows in a view what was picked: the same edge, or what stands for its faces."""
    found = there.facts.part_of(pick.instance)
    if found is None:
        return []
    out = [(shown.get((pick.instance, pick.source), 0.0), pick)]
    edges = {e.name: e for e in found[1].edges}
    for name in faces_at(pick, found[1]):
        face = found[1].face(name)
        if face is None:
            continue
        out += stand_ins(pick.instance, name, face.kind != "plane", shown, there)[:MOST]
        if face.kind == "cylinder":
            side = Pick(instance=pick.instance, source=name, role="silhouette", side=1)
            out.append((shown.get((pick.instance, name), 0.0), side))
            out += [
                (shown.get((pick.instance, e.name), 0.0), Pick(instance=pick.instance, source=e.name))
                for e in edges.values()
                if name in e.faces and e.kind == "circle"
            ]
    unique = {p.model_dump_json(): (s, p) for s, p in out if s > 0}
    return sorted(unique.values(), key=lambda one: -one[0])[: 3 * MOST]
