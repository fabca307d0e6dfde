"""Proposed lengths from one datum as ordinates of a run."""

from collections.abc import Sequence

from drafting.annotation import registry
from drafting.annotation.kinds import linear
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.placing.rows import NOWHERE
from drafting.completeness.proposal import Proposed
from drafting.context import Context
from drafting.document import Drawing, Pick, Sheet, in_view, new_id
from drafting.errors import DraftingError
from drafting.model.model import Facts

FEWEST = 2
"""Lengths from one datum that make a run."""
SAME = 1e-6


def as_ordinates(
    proposed: Sequence[Proposed], drawing: Drawing, sheet: Sheet, facts: Facts
) -> list[Proposed]:
    """Level and upright lengths of a view that share an end, as ordinates from that with its zero; all else
    as it is."""
    out = list(proposed)
    for view in dict.fromkeys(p.view for p in proposed):
        context = Context(drawing, sheet, facts, sheet.view(view))
        for direction in ("horizontal", "vertical"):
            found = {
                n: p.annotation
                for n, p in enumerate(out)
                if p.view == view
                and isinstance(p.annotation, LinearDimension)
                and _runs(p.annotation, direction, context)
            }
            datum = _shared(list(found.values()))
            if datum is None:
                continue
            run = new_id()
            zero = False
            for n, size in found.items():
                made = _ordinate(size, datum, direction, run, context)
                if made is None:
                    continue
                out[n] = Proposed(made, view)
                if not zero:
                    zero = True
                    base = made.model_copy(update={"id": new_id(), "anchor": in_view(view, [datum])})
                    out.append(Proposed(base, view))
    return out


def _runs(size: LinearDimension, direction: str, context: Context) -> bool:
    """Whether a length between two things lies along a direction of the paper."""
    if len(size.picks) != 2 or size.reading:
        return False
    try:
        u = linear.measured(size, context).direction
    except DraftingError:
        return False
    return abs(float(u[1 if direction == "horizontal" else 0])) < SAME


def _shared(sizes: Sequence[LinearDimension]) -> Pick | None:
    """The end that most lengths have in common."""
    ends = [p for s in sizes for p in s.picks]
    best = max(ends, key=ends.count, default=None)
    return best if best is not None and ends.count(best) >= FEWEST else None


def _ordinate(
    size: LinearDimension, datum: Pick, direction: str, run: str, context: Context
) -> OrdinateDimension | None:
    others = [p for p in size.picks if p != datum]
    if len(others) != 1:
        return None
    made = OrdinateDimension(
        id=new_id(),
        place=NOWHERE,
        anchor=in_view(context.view_id, [datum, others[0]]),
        direction="horizontal" if direction == "horizontal" else "vertical",
        run=run,
        run_form="ordinate",
        wording=size.wording,
        tolerance=size.tolerance,
    )
    try:
        is_same = abs(registry.value(made, context) - registry.value(size, context)) < SAME
    except DraftingError:
        return None
    return made if is_same else None
