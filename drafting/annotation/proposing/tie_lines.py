"""What an added line can be tied to a thing by, and the line so tied."""

import math

import numpy as np

from drafting.annotation.kinds.kind import Request
from drafting.annotation.measuring.added_lines import (
    NAMES,
    VALUED,
    AddedLine,
    Tie,
    added_of,
    constraints_of,
    split_source,
)
from drafting.annotation.measuring.constraints import (
    Segment,
    solved,
)
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.tied_lines import (
    check_rings,
    distance,
    placed,
    settled,
    thing_of,
)
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError

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
    if len(request.spots) < 2:
        raise SizeError("Pick an added line, or a point of it, then what it is to be tied to.")
    mine, other = request.spots[:2]
    if mine.pick.role != "added" or not mine.pick.source:
        mine, other = other, mine
    if mine.pick.role != "added" or not mine.pick.source:
        raise SizeError("One of the two has to be an added line.")
    name, part = split_source(mine.pick.source)
    a = next((x for x in added_of(context) if x.id == name), None)
    if a is None or not isinstance(context.sheet.annotation(name), AddedLine):
        raise SizeError("The added line is no longer there; a datum target stays where it was put.")
    if not other.pick.source:
        raise SizeError("Pick an edge, a point or another added line to tie it to.")
    to = other.sided(context)
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
    other = thing_of(to, context)
    if relation == "angle":
        if not (isinstance(mine, Segment) and isinstance(other, Segment)):
            return None
        d, e = mine.b - mine.a, other.b - other.a
        turn = math.degrees(math.atan2(d[1], d[0]) - math.atan2(e[1], e[0])) % 180
        return round(turn, 1)
    at = mine if isinstance(mine, np.ndarray) else mine.a if isinstance(mine, Segment) else mine.center
    if isinstance(other, Segment):
        return round(distance(at, other), 2)
    to_point = other if isinstance(other, np.ndarray) else other.center
    if isinstance(mine, Segment):
        return round(distance(to_point, mine), 2)
    return round(float(np.linalg.norm(at - to_point)), 2)
