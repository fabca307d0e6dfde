"""Balloons: item numbers of the parts list at the end of leaders, an arrow on an edge and a dot on a face
(ISO 6433, ASME Y14.34; memory)."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, xy
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.kinds.kind import Drawn, Kind, Member, Request
from drafting.annotation.kinds.parts_rows import numbered, renumber
from drafting.annotation.measuring.pointing import box_of, target_at, tip_at
from drafting.context import Context
from drafting.data import Text as Words
from drafting.document import AnnotationBase, Drawing, Placement, Point, in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Group, Line, Text
from drafting.ink.lettering import fitted_height
from drafting.model import bill
from drafting.model.model import Facts
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewGeometry

SNAP = 3.0
"""How near a balloon must come to the row or column of another to be caught by it, mm."""


class Balloon(AnnotationBase):
    """An item number at the end of a leader. tip: the place pointed at, as fractions of the instance's box in
    the view, so that it stays on the part when the model changes; on: what lies there, which decides the
    leader's end; stacked: keys of further items on the same leader (a screw's washer and nut); place: of the
    balloon's middle."""

    kind: Literal["balloon"] = "balloon"
    instance: Words
    tip: Point
    on: Literal["edge", "face"] = "face"
    place: Placement
    stacked: Annotated[list[Words], Field(max_length=12)] = []
    stack: Literal["right", "down", "left", "up"] = "right"
    quantity: bool = False


@dataclass(frozen=True)
class Numbers:
    """Item numbers of a drawing. items: by key; keys: by instance, the key it is listed under; counts: how
    many of a key there are in all."""

    items: dict[str, int]
    keys: dict[str, str]
    counts: dict[str, int]
    names: dict[str, str]


def numbers_of(drawing: Drawing, facts: Facts) -> Numbers:
    """Numbers as the drawing's parts lists give them; without a list, those of all parts."""
    after = drawing.model_copy(update={"items": drawing.items})
    renumber(after, facts)
    items = after.items or numbered({}, bill.lines(facts, "parts"), facts)
    counts: dict[str, int] = {}
    for levels in ("indented", "top", "parts"):
        for found in bill.lines(facts, levels):  # type: ignore[arg-type]
            counts[found.key] = max(found.total, counts.get(found.key, 0))
    keys = {path: next((k for k in found if k in items), "") for path, found in bill.keys_of(facts).items()}
    return Numbers(
        {k: i.number for k, i in items.items()}, keys, counts, {k: i.name for k, i in items.items()}
    )


def radius(profile: Profile) -> float:
    """Of a balloon, mm."""
    return 0.95 * profile.label_height


def tip_of(b: Balloon, context: Context) -> Array:
    """Where the leader ends, paper mm about the view's position."""
    low, high = box_of(b.instance, context)
    out: Array = context.frame.drawn(low + np.array([b.tip.x, b.tip.y]) * (high - low)) * context.scale
    return out


def reading_order(balloons: Sequence[Balloon], numbers: Numbers, scale: float) -> list[str]:
    """Keys of the items of a view's balloons as they are read: clockwise from the upper left one, stacked
    ones after their first."""
    at = np.array([b.place.at(scale) for b in balloons])
    middle = (at.min(0) + at.max(0)) / 2
    angle = np.arctan2(at[:, 1] - middle[1], at[:, 0] - middle[0])
    first = int(np.argmin(np.linalg.norm(at - [at[:, 0].min(), at[:, 1].max()], axis=1)))
    order = np.argsort((angle[first] - angle) % (2 * math.pi), kind="stable")
    keys = (key for n in order for key in (numbers.keys.get(balloons[n].instance, ""), *balloons[n].stacked))
    return list(dict.fromkeys(key for key in keys if key in numbers.items))


def ink_of(b: Balloon, numbers: Numbers, context: Context) -> list[Element]:
    """Leader, circles and numbers, paper mm about the view's position. Raises SizeError."""
    tip, center, r = tip_of(b, context), np.array(b.place.at(context.scale)), radius(context.profile)
    key = numbers.keys.get(b.instance, "")
    out: list[Element] = []
    away = tip - center
    reach = float(np.linalg.norm(away))
    if reach > r:
        u = away / reach
        out += leader([center + u * r, tip], END_ON[b.on], context.profile)
    step = np.array(
        {"right": (2 * r, 0), "left": (-2 * r, 0), "up": (0, 2 * r), "down": (0, -2 * r)}[b.stack]
    )
    for n, k in enumerate([key, *b.stacked]):
        out += _circle(center + step * n, k, numbers, b.quantity, context.profile)
    return out


def _circle(at: Array, key: str, numbers: Numbers, quantity: bool, profile: Profile) -> list[Element]:
    r, h = radius(profile), profile.label_height
    x, y = xy(at)
    number = str(numbers.items[key]) if key in numbers.items else "?"
    out: list[Element] = [Arc((x, y), r, 0.0, 2 * math.pi, LINE_KIND)]
    if not quantity:
        size = fitted_height(number, h, 1.55 * r)
        return [*out, Text((x, y - size / 2), number, size, LINE_KIND, "middle")]
    small = 0.6 * h
    count = str(numbers.counts.get(key, 0))
    return [
        *out,
        Line((x - r, y), (x + r, y), LINE_KIND),
        Text((x, y + 0.25 * small), number, fitted_height(number, small, 1.3 * r), LINE_KIND, "middle"),
        Text((x, y - 1.25 * small), count, fitted_height(count, small, 1.3 * r), LINE_KIND, "middle"),
    ]


def placed(at: Array, scale: float) -> Placement:
    """A balloon's place at paper mm about the view's position: it keeps its distance on the model, whatever
    the scale."""
    return Placement(
        model=Point(x=round(float(at[0]) / scale, 6), y=round(float(at[1]) / scale, 6)), paper=Point(x=0, y=0)
    )


def ink(b: Balloon, context: Context) -> list[Element]:
    """A balloon by itself, with its number in the parts lists. Raises SizeError."""
    return ink_of(b, numbers_of(context.drawing, context.facts), context)


def draw(members: Sequence[Member]) -> Drawn:
    """All balloons of a sheet: the items are numbered once."""
    first = members[0].context
    numbers, out = numbers_of(first.drawing, first.facts), Drawn()
    for m in members:
        try:
            out[m.annotation.id] = Group(
                m.annotation.id, "annotation", m.context.origin, ink_of(m.annotation, numbers, m.context)
            )
        except (SizeError, CommandError) as error:
            out[m.annotation.id] = str(error)
    return out


def check(b: Balloon, context: Context) -> None:
    """Raises CommandError in the drawing of a part, SizeError where the part pointed at is gone."""
    if context.facts.kind != "assembly":
        raise CommandError("Balloons number the parts of an assembly; this drawing is of one part.")
    tip_of(b, context)


def words(b: Balloon, context: Context) -> str:
    """Item number and what it is."""
    numbers = numbers_of(context.drawing, context.facts)
    key = numbers.keys.get(b.instance, "")
    return f"{numbers.items.get(key, '?')} {numbers.names.get(key, '')}".strip()


def findings(b: Balloon, context: Context) -> list[str]:
    """A number that no list gives."""
    numbers = numbers_of(context.drawing, context.facts)
    known = [numbers.keys.get(b.instance, ""), *b.stacked]
    return (
        []
        if all(k in numbers.items for k in known)
        else ["A balloon has no number: its part is in no parts list."]
    )


def pointed(place: Array, geometry: ViewGeometry, context: Context) -> dict[str, object]:
    """Fields of a balloon whose leader ends at a place, paper mm about the view's position. Raises SizeError
    where there is no part."""
    target = target_at(place / context.scale, geometry, context.scale)
    return {"instance": target.instance, "tip": tip_at(target.instance, target.at, context), "on": target.on}


def propose(request: Request, context: Context) -> Balloon:
    """A balloon on what lies at settings `tip` (paper mm about the view's position; the pointer where it is
    not said), standing at the pointer. Raises SizeError."""
    tip = request.settings.get("tip") or request.pointer
    if request.geometry is None:
        raise SizeError("The view is still being derived.")
    at = pointed(np.array(tip), request.geometry, context)
    return Balloon(
        id=request.identity,
        anchor=in_view(context.view_id),
        place=placed(np.array(request.pointer), context.scale),
        **at,
    )  # type: ignore[arg-type]


def drag(b: Balloon, grip: str, request: Request, context: Context) -> Balloon:
    """The leader's end (grip `tip`), or the balloon itself, caught by the rows and columns of the view's
    others, at the pointer."""
    at = np.array(request.pointer)
    if grip != "tip":
        return b.model_copy(update={"place": placed(caught(at, b, context), context.scale)})
    if request.geometry is None:
        raise SizeError("The view is still being derived.")
    return b.model_copy(update=pointed(at, request.geometry, context))


def caught(at: Array, b: Balloon, context: Context) -> Array:
    """A place caught by the row or the column of another balloon of the view that is near."""
    others = [
        np.array(a.place.at(context.scale))
        for a in context.sheet.annotations
        if isinstance(a, Balloon) and a.view == b.view and a.id != b.id
    ]
    at = at.copy()
    for axis in (0, 1):
        near = min((float(o[axis]) for o in others), key=lambda v: abs(v - at[axis]), default=None)
        if near is not None and abs(near - at[axis]) < SNAP:
            at[axis] = near
    return at


KIND = Kind(
    Balloon,
    "Balloon",
    ink=ink,
    draw=draw,
    words=words,
    check=check,
    findings=findings,
    looks=True,
    propose=propose,
    drag=drag,
)
