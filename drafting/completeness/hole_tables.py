"""Hole tables as a drafter would propose them: the holes that a view looks into, from where two datum edges
cross."""

from collections.abc import Iterator, Sequence

import numpy as np

from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing import call_out
from drafting.annotation.proposing.mate_sizes import stand_ins
from drafting.completeness.lines_shown import LinesShown
from drafting.completeness.verdict import PartNumbers
from drafting.completeness.wanted import Choice, datum_along
from drafting.context import Context
from drafting.document import MOST_PICKS, Pick, Source, in_view, new_id
from drafting.views.geometry import ViewGeometry

FEWEST = 3
"""Holes that are worth a table (common practice)."""
SQUARE = 1e-6


def hole_tables(
    numbers: PartNumbers, context: Context, geometry: ViewGeometry, choice: Choice
) -> Iterator[HoleTable]:
    """A table for each hole that the view looks into and the drawing says nothing of, by itself: a caller
    takes together those that say something new. Nothing where the view shows no two datum edges."""
    origin = _origin(numbers, context, LinesShown.of(context, geometry), choice)
    if origin is None:
        return
    for pick in call_out.looked_into(geometry, context):
        yield HoleTable(id=new_id(), place=NOWHERE, anchor=in_view(context.view_id, [origin, pick]))


def together(tables: Sequence[HoleTable]) -> HoleTable | None:
    """The holes of some tables of a view in one; None of too few."""
    if len(tables) < FEWEST:
        return None
    origin = tables[0].picks[0]
    holes = [t.picks[1] for t in tables][: MOST_PICKS - 1]
    return HoleTable(id=new_id(), place=NOWHERE, anchor=in_view(tables[0].view, [origin, *holes]))


def _origin(numbers: PartNumbers, context: Context, lines: LinesShown, choice: Choice) -> Pick | None:
    """Where the edges of the datums to the right and up cross."""
    p, instance = numbers.parameters, context.facts.instances[0]
    turn = np.array(instance.matrix)[:3, :3]
    found: list[Pick] = []
    for toward in context.frame.matrix[:2] @ turn:
        for k, way in enumerate(p.ways):
            datum = datum_along(p, k, choice) if abs(float(way.u @ toward)) > 1 - SQUARE else None
            if datum is None:
                continue
            stand = [
                s
                for _, s in stand_ins(instance.path, datum.name, False, lines.scores, context)
                if lines.has(s)
            ]
            found += stand[:1]
            break
    if len(found) != 2:
        return None
    one, two = found
    other = Source(instance=two.instance, source=two.source, role=two.role, side=two.side)
    return one.model_copy(update={"point": "crossing", "other": other})
