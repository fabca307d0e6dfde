"""Hole callouts: all that a drawing says of a hole, at a leader. The words are made from the feature and
follow the model (ISO 129-1, ISO 6410-1, ISO 15786, ASME Y14.5; memory)."""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field
from pydantic.config import JsonDict

from drafting.annotation.inking.callout_ink import callout_ink
from drafting.annotation.inking.dimension_ink import Array
from drafting.annotation.kinds.kind import Kind, Request
from drafting.annotation.kinds.kind import Row as Told
from drafting.annotation.measuring.picked_features import holes_at, meant
from drafting.annotation.measuring.traces import placed
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording import callout_words, hole_words
from drafting.annotation.wording.label import Row
from drafting.annotation.wording.tolerance_words import parsed
from drafting.annotation.wording.tolerances import Bounds, applying
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Placement, Tolerance, Wording, in_view
from drafting.errors import SizeError
from drafting.features.hole import Hole
from drafting.features.patterns import Pattern
from drafting.ink.elements import Element
from drafting.model.model import InstanceFacts

Typed = Annotated[str, Field(max_length=40)]
Decimals = Annotated[int, Field(ge=0, le=6)]
AS_ALL: JsonDict = {"empty": "as all"}
PARTS = {
    "diameter": "diameter",
    "depth": "depth",
    "head": "diameter of a head",
    "head_depth": "depth of a head",
}
"""Numbers that take a tolerance, by their role."""
SQUARE = 1e-6
"""How far from 1 the cosine may be between a hole's axis and the direction it is looked at in."""


class HoleCallout(AnnotationBase):
    """What is said of a hole and of all equal to it. place: where the words begin; count: how many there are,
    None for as many as the model has; over: whether those of the part are counted, or those of a detail;
    tolerances as they are typed, of the diameter, the depth, and the first counterbore, countersink or
    spotface; circle: whether the bolt circle is named; places: decimals of numbers that have none of their
    own; note: words at the end."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 1)
    kind: Literal["hole_callout"] = "hole_callout"
    place: Placement
    form: Annotated[Literal["full", "short"], Field(title="Form")] = "full"
    count: (
        Annotated[int, Field(ge=1, le=9999, title="Count", json_schema_extra={"empty": "as modeled"})] | None
    ) = None
    over: Annotated[Literal["part", "view"], Field(title="Counted over")] = "part"
    circle: Annotated[bool, Field(title="Name the bolt circle")] = False
    diameter_tolerance: Annotated[Typed, Field(title="Tolerance of Ø")] = ""
    depth_tolerance: Annotated[Typed, Field(title="Tolerance of depth")] = ""
    head_tolerance: Annotated[Typed, Field(title="Tolerance of head Ø")] = ""
    head_depth_tolerance: Annotated[Typed, Field(title="Tolerance of head depth")] = ""
    places: Annotated[Decimals, Field(title="Decimals")] | None = None
    diameter_places: Annotated[Decimals, Field(title="Decimals of Ø", json_schema_extra=AS_ALL)] | None = None
    depth_places: Annotated[Decimals, Field(title="Decimals of depth", json_schema_extra=AS_ALL)] | None = (
        None
    )
    head_places: Annotated[Decimals, Field(title="Decimals of head Ø", json_schema_extra=AS_ALL)] | None = (
        None
    )
    head_depth_places: (
        Annotated[Decimals, Field(title="Decimals of head depth", json_schema_extra=AS_ALL)] | None
    ) = None
    note: Annotated[str, Field(max_length=200, title="Further words")] = ""

    def places_of(self, role: str) -> int | None:
        """Decimals of a number by its role: its own, else those of all; None for the profile's."""
        own: int | None = getattr(self, f"{role}_places") if role else None
        return self.places if own is None else own


@dataclass(frozen=True)
class Called:
    """The hole that a callout is about: how many equal ones there are, the pattern it stands in, where it
    lies in the view (view mm), the radius of its widest circle where it is looked into (0 from the side), and
    whether that is its other end."""

    hole: Hole
    count: int
    pattern: Pattern | None
    center: Array
    radius: float
    is_far: bool


def called(callout: HoleCallout, context: Context) -> Called:
    """The hole a callout is about. Raises SizeError where what was picked belongs to no hole."""
    pick = callout.picks[0]
    known, numbers = holes_at(pick, context)
    if not numbers:
        raise SizeError("This belongs to no hole; pick the edge or the side of one.")
    found = context.facts.part_of(pick.instance)
    assert found is not None
    instance, _ = found
    number = meant(pick, known, numbers, context)
    hole = known.holes[number]
    matrix = context.frame.placed(instance, list(hole.entry))
    direction = placed(matrix, list(hole.direction), False)
    facing = float(direction @ context.frame.matrix[2])
    is_far = facing > SQUARE
    seen = hole.far_heads if is_far else hole.heads
    radius = max([hole.diameter, *(h.diameter for h in seen)]) / 2 if abs(facing) > 1 - SQUARE else 0.0
    alike = known.alike(number)
    if callout.over == "view":
        alike = tuple(n for n in alike if n == number or _is_shown(known.holes[n], instance, context))
    return Called(
        hole,
        len(alike),
        known.pattern_of(number),
        context.frame.flat(placed(matrix, list(hole.entry))),
        radius,
        is_far,
    )


def limits(callout: HoleCallout, context: Context) -> tuple[float, Bounds | None]:
    """The diameter that it says, mm, and its limits, its own or the general ones; of a thread there are none:
    what is drilled for it does not bound it. Raises SizeError."""
    hole = called(callout, context).hole
    if hole.thread:
        return hole.diameter, None
    tolerance = Tolerance()
    if callout.diameter_tolerance:
        tolerance = parsed(callout.diameter_tolerance, hole.diameter, context.profile, False, tolerance)
    wording = Wording(places=callout.places_of("diameter"))
    return hole.diameter, applying(tolerance, wording, hole.diameter, context.profile)


def _is_shown(hole: Hole, instance: InstanceFacts, context: Context) -> bool:
    """Whether a hole begins within what a detail shows; true in other views."""
    if context.frame.shown is None:
        return True
    low, high = context.frame.shown
    entry = list(hole.entry)
    at = context.frame.flat(placed(context.frame.placed(instance, entry), entry))
    detail = context.view.detail if context.view else None
    if detail is not None and detail.shape == "circle" and float(np.linalg.norm(at)) > detail.radius:
        return False
    return bool((at >= low).all() and (at <= high).all())


def _words(callout: HoleCallout, context: Context) -> tuple[Called, list[callout_words.Row]]:
    found = called(callout, context)
    pattern = found.pattern if callout.circle and found.pattern and found.pattern.kind == "circle" else None
    return found, hole_words.rows(
        found.hole,
        callout.count or (len(pattern.members) if pattern else found.count),
        context.profile,
        callout.form == "short",
        found.is_far,
        pattern,
    )


def lettered(callout: HoleCallout, context: Context) -> tuple[Called, list[Row]]:
    """The rows of a callout as they are lettered. Raises SizeError."""
    found, told = _words(callout, context)
    rows = callout_words.lettered(
        told,
        lambda role: str(getattr(callout, f"{role}_tolerance")),
        callout.places_of,
        callout.note,
        context.profile,
    )
    return found, rows


def ink(callout: HoleCallout, context: Context) -> list[Element]:
    """The leader from the hole, its shoulder, and the rows; paper mm about the view's position."""
    found, rows = lettered(callout, context)
    center = context.frame.drawn(found.center) * context.scale
    at = np.array(callout.place.at(context.scale))
    return callout_ink(center, found.radius * context.scale, at, rows, context.profile)


def words(callout: HoleCallout, context: Context) -> str:
    """What it says, in one line."""
    return " ".join(row.plain for row in lettered(callout, context)[1])


def row(callout: HoleCallout, context: Context) -> Told:
    """What lists show of it."""
    return Told(words(callout, context))


def check(callout: HoleCallout, context: Context) -> None:
    """Raises SizeError where it cannot be lettered, and for a tolerance of what the hole does not have."""
    lettered(callout, context)
    said = callout_words.roles(_words(callout, context)[1])
    for role, name in PARTS.items():
        if getattr(callout, f"{role}_tolerance") and role not in said:
            raise SizeError(f"This callout says no {name}, so that it can have no tolerance.")


def findings(callout: HoleCallout, context: Context) -> list[str]:
    """A count that the model does not have, and a bolt circle that it does not have."""
    found = called(callout, context)
    out = []
    if callout.count is not None and callout.count != found.count:
        many = "hole like it" if found.count == 1 else "holes like it"
        where = "model" if callout.over == "part" else "view"
        out.append(f"A callout says {callout.count}, and the {where} has {found.count} {many}.")
    if callout.circle and (found.pattern is None or found.pattern.kind != "circle"):
        out.append("A callout is to name a bolt circle, and its holes stand on none.")
    return out


def propose(request: Request, context: Context) -> HoleCallout:
    """The callout of what was picked, with its words at the pointer. Raises SizeError."""
    if not request.spots:
        raise SizeError("Pick a hole: its circle, or its side.")
    pick = request.spots[0].pick
    callout = HoleCallout(
        id=request.identity,
        anchor=in_view(context.view_id, [pick]),
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0)),
    )
    return stood(callout, np.array(request.pointer), context)


def stood(callout: HoleCallout, place: Array, context: Context) -> HoleCallout:
    """The callout with its words at a place, paper mm about the view's position; it keeps its distance from
    the hole on paper. Raises SizeError."""
    center = context.frame.drawn(called(callout, context).center)
    return callout.model_copy(update={"place": beside(center, place, context.scale)})


KIND = Kind(
    HoleCallout,
    "Hole callout",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    propose=propose,
)
