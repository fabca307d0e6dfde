"""Lines that a drafter adds in a view or on the sheet: what is stored of them, and where they are now. Each
may be tied to the model, to other added lines, and to itself; it is solved after what it is tied to."""

import contextlib
import math
import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, ClassVar, Literal, Self

import numpy as np
from pydantic import Field
from pydantic.config import JsonDict

from drafting.annotation.measuring.constraints import (
    Array,
    Circle,
    Constraint,
    Relation,
    Segment,
    Shape,
    Solved,
    Thing,
    fits,
    solved,
)
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.data import Data, Point
from drafting.document import AnnotationBase, Pick
from drafting.errors import SizeError
from drafting.memory import Memory, Same

MOST_POINTS, MOST_TIES = 200, 60
APART: JsonDict = {"apart": True}
"""Of fields that have a panel of their own."""
NAMES: Mapping[str, str] = {
    "on": "on",
    "through": "through",
    "coincident": "joined to",
    "length": "length",
    "radius": "radius",
    "angle": "angle",
    "distance": "distance from",
    "perpendicular": "perpendicular to",
    "parallel": "parallel to",
    "tangent": "tangent to",
    "concentric": "concentric with",
    "equal": "equal to",
}
VALUED = ("length", "radius", "angle", "distance")
_SOURCE = re.compile(r"^([^#]+)(?:#(\d{1,4}))?$")


class Tie(Data):
    """A constraint of an added line. part: which of its straight lines, from 0; point: of it, empty for the
    line or circle itself; to: what it is tied to, a line of the model or an added one (role "added"; its id,
    and after # the number of its straight line); value: mm or degrees, of those that have one."""

    relation: Relation
    part: Annotated[int, Field(ge=0, lt=MOST_POINTS)] = 0
    point: Literal["", "start", "middle", "end", "center"] = ""
    to: Pick | None = None
    value: Annotated[float, Field(ge=-1e6, le=1e6, allow_inf_nan=False)] | None = None


class AddedLine(AnnotationBase):
    """A line, circle, arc or polyline that was added. points: of a line or polyline its corners, of a circle
    or arc its center; first, last: of an arc, counterclockwise from the right, degrees. Places are view mm at
    1:1 about the view's middle, or mm of the sheet; it is drawn where its ties put it."""

    kind: Literal["added_line"] = "added_line"
    form: Annotated[Literal["line", "polyline", "circle", "arc"], Field(json_schema_extra=APART)] = "line"
    line: Annotated[
        Literal["visible", "thin", "hidden", "center", "phantom", "cutting"], Field(title="Kind of line")
    ] = "visible"
    points: Annotated[list[Point], Field(min_length=1, max_length=MOST_POINTS)]
    radius: Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False, json_schema_extra=APART)] = 0.0
    first: Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False, json_schema_extra=APART)] = 0.0
    last: Annotated[float, Field(ge=-1e4, le=1e4, allow_inf_nan=False, json_schema_extra=APART)] = 360.0
    closed: Annotated[bool, Field(json_schema_extra=APART)] = False
    ties: Annotated[list[Tie], Field(max_length=MOST_TIES)] = []
    picks_taken: ClassVar[tuple[int, int]] = (0, 0)

    @property
    def shape(self) -> Shape:
        """As it is stored, before its ties."""
        if self.form in ("line", "polyline"):
            return Shape("path", np.array([v for p in self.points for v in (p.x, p.y)]), self.closed)
        c = self.points[0]
        if self.form == "circle":
            return Shape("circle", np.array([c.x, c.y, self.radius]))
        ends = [math.radians(self.first), math.radians(self.last)]
        return Shape("arc", np.array([c.x, c.y, self.radius, *ends]))

    def shaped(self, shape: Shape) -> Self:
        """The same in another shape of its form."""
        v = [round(x, 9) + 0.0 for x in shape.values.tolist()]
        if shape.form == "path":
            return self.model_copy(
                update={"points": [Point(x=x, y=y) for x, y in zip(v[::2], v[1::2], strict=True)]}
            )
        update: dict[str, object] = {"points": [Point(x=v[0], y=v[1])], "radius": v[2]}
        if shape.form == "arc":
            first, turn = (
                math.degrees(x) % 360 for x in (shape.values[3], shape.values[4] - shape.values[3])
            )
            update |= {"first": round(first, 9), "last": round(first + (turn or 360.0), 9)}
        return self.model_copy(update=update)


def split_source(source: str) -> tuple[str, int]:
    """The id of an added line and the number of its straight line. Raises SizeError for what names none."""
    found = _SOURCE.match(source)
    if found is None:
        raise SizeError("Nothing that was added lies there.")
    return found[1], int(found[2] or 0)


Resolve = Callable[[Pick, Context], Straight | Round]
"""What finds the line or circle of the model that a pick names (`measuring.measure.resolve`)."""


@dataclass(frozen=True)
class Placed:
    """An added line where it is now. lost: numbers of ties whose other thing is gone."""

    solved: Solved
    lost: tuple[int, ...] = ()

    @property
    def shape(self) -> Shape:
        """Where it is."""
        return self.solved.shape


_PLACED: Memory[dict[str, Placed]] = Memory(256)


def added_of(context: Context) -> list[AddedLine]:
    """The added lines of a view, or those that stand on the sheet by themselves, in order; the lines of datum
    targets among them."""
    here = (a for a in context.sheet.annotations if a.view == context.view_id)
    return [
        a if isinstance(a, AddedLine) else a.as_line()  # type: ignore[attr-defined]
        for a in here
        if isinstance(a, AddedLine) or a.kind == "datum_target"
    ]


def placed_lines(context: Context, resolve: Resolve, more: Iterable[AddedLine] = ()) -> dict[str, Placed]:
    """All added lines of a view where they are now, by id. more: further ones, in place of those of their
    id."""
    own = {a.id: a for a in added_of(context)} | {a.id: a for a in more}
    if not own:
        return {}
    view = context.view.model_dump_json() if context.view else ""
    key = (context.facts.identity, view, tuple(Same(a) for a in own.values()))
    return _PLACED.recall(context.facts, key, lambda: _all(own, context, resolve))


def _all(own: Mapping[str, AddedLine], context: Context, resolve: Resolve) -> dict[str, Placed]:
    out: dict[str, Placed] = {}
    under: set[str] = set()

    def place(name: str) -> Shape:
        if name not in own:
            raise SizeError("The line this was tied to is no longer there.")
        if name in under:
            raise SizeError("Lines cannot be tied to each other in a ring.")
        if name not in out:
            under.add(name)
            out[name] = _placed(own[name], context, resolve, place)
            under.discard(name)
        return out[name].shape

    for name in own:
        place(name)
    return out


def _placed(a: AddedLine, context: Context, resolve: Resolve, others: Callable[[str], Shape]) -> Placed:
    constraints, numbers, lost = [], [], []
    for n, tie in enumerate(a.ties):
        try:
            constraints.append(_constraint(a, tie, context, resolve, others))
            numbers.append(n)
        except SizeError:
            lost.append(n)
    found = solved(a.shape, constraints)
    return Placed(replace(found, faults=tuple(numbers[k] for k in found.faults)), tuple(lost))


def constraints_of(a: AddedLine, context: Context, resolve: Resolve) -> list[Constraint]:
    """What the ties of an added line ask for now; those whose other thing is gone are left out."""
    shapes = placed_lines(context, resolve)

    def other(name: str) -> Shape:
        if name not in shapes:
            raise SizeError("The line this was tied to is no longer there.")
        return shapes[name].shape

    out = []
    for tie in a.ties:
        with contextlib.suppress(SizeError):
            out.append(_constraint(a, tie, context, resolve, other))
    return out


def _constraint(
    a: AddedLine, tie: Tie, context: Context, resolve: Resolve, others: Callable[[str], Shape]
) -> Constraint:
    to: Thing | None = None
    own: tuple[int, str] | None = None
    if tie.to is not None and tie.to.role == "added" and tie.to.source:
        name, part = split_source(tie.to.source)
        if name == a.id:
            own = part, tie.to.point
        else:
            to = _part(others(name), part, tie.to.point)
    elif tie.to is not None:
        to = of_model(tie.to, context, resolve)
    value = tie.value or 0.0
    value = math.radians(value) if tie.relation == "angle" else value
    made = Constraint(tie.relation, tie.part, tie.point, to, own, value)
    if not fits(a.shape, made):
        raise SizeError(f"A line cannot be {NAMES.get(tie.relation, tie.relation)} that.")
    return made


def _part(shape: Shape, part: int, point: str) -> Thing:
    try:
        return shape.point(part, point) if point else shape.thing(part)
    except IndexError:
        raise SizeError("The line this was tied to has no such part any more.") from None


def of_model(pick: Pick, context: Context, resolve: Resolve) -> Thing:
    """What a pick of the model is in the plane of the view. Raises SizeError where it is gone, or no line,
    circle or point there."""
    if pick.role == "added":
        raise SizeError("A place of the sheet is nothing to be tied to.")
    found = resolve(pick.model_copy(update={"point": "", "other": None}), context)
    frame = context.frame
    if isinstance(found, Straight):
        a, b = frame.flat(found.a), frame.flat(found.b)
        if pick.point:
            end: Array = {"start": a, "end": b}.get(pick.point, (a + b) / 2)
            return end
        if float(np.linalg.norm(b - a)) < 1e-9:
            raise SizeError("That edge is seen end-on here.")
        return Segment(a, b)
    if pick.point == "center":
        return frame.flat(found.center)
    if abs(float(found.axis @ frame.matrix[2])) < 1 - 1e-6:
        raise SizeError("That circle is seen at a slant here.")
    center = frame.flat(found.center)
    if pick.point == "quadrant":
        far: Array = center + np.eye(2)[pick.quarter % 2] * ((1 if pick.quarter < 2 else -1) * found.radius)
        return far
    if pick.point:
        t = {"start": found.first, "end": found.last}.get(pick.point, (found.first + found.last) / 2)
        y = np.cross(found.axis, found.x_axis)
        return frame.flat(found.center + found.radius * (found.x_axis * math.cos(t) + y * math.sin(t)))
    return Circle(center, found.radius)


def in_model(pick: Pick, context: Context, resolve: Resolve) -> Straight | Round:
    """What an added line is in model space: it lies in the plane through the middle of what the view shows.
    Raises SizeError where it is gone, and in pictorial views, where it has no place in the model."""
    if not pick.source:
        raise SizeError("There is no edge there; pick an edge, a circle or a point.")
    name, part = split_source(pick.source)
    found = placed_lines(context, resolve).get(name)
    if found is None:
        raise SizeError("The added line this was taken on is no longer there.")
    if context.frame.pictorial:
        raise SizeError("An added line has no true size here; take it in a view that looks along an axis.")
    thing, frame = _part(found.shape, part, ""), context.frame

    def lifted(p: Array) -> Array:
        out: Array = frame.middle + frame.matrix[0] * p[0] + frame.matrix[1] * p[1]
        return out

    if isinstance(thing, Segment):
        return Straight(lifted(thing.a), lifted(thing.b))
    assert isinstance(thing, Circle)
    first, last = (found.shape.values[3:].tolist()) if found.shape.form == "arc" else (0.0, 2 * math.pi)
    return Round(lifted(thing.center), frame.matrix[2], frame.matrix[0], thing.radius, first, last)


def told(placed: Placed, ties: Sequence[Tie]) -> str:
    """How far a line is tied, in words."""
    if placed.solved.faults:
        names = [NAMES.get(ties[n].relation, ties[n].relation).split(" ")[0] for n in placed.solved.faults]
        return f"contradiction: {', '.join(names)}"
    return "fully tied" if not placed.solved.free else f"free in {placed.solved.free}"
