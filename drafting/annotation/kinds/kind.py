"""What a kind of annotation can do. A kind gives only the abilities that it has; the rest of the product asks
for them by name."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Annotated, Any, Generic, TypeVar

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import DimensionEntity, SizeInk
from drafting.annotation.measuring.measure import pick_side
from drafting.annotation.measuring.others import line_at
from drafting.annotation.measuring.pointing import REACH, Tip, target_at, tip_on
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.wording.label import Label
from drafting.context import Context
from drafting.data import Data, Identifier, Point
from drafting.document import AnnotationBase, Dimension, Pick, Placement
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import XY, Element, Group
from drafting.views.geometry import ViewGeometry

A = TypeVar("A", bound=AnnotationBase)
Box = tuple[float, float, float, float]
"""Left, bottom, right, top, sheet mm."""


@dataclass(frozen=True)
class Handle:
    """A draggable end: its number, its place about the origin and the direction outward, paper mm, and how
    far it reaches now."""

    end: int
    at: XY
    out: XY
    past: float


class Move(Data):
    """Where an annotation is to stand: place in a view, position on the sheet; shift: of a size's number
    along its line, paper mm, None for the middle. What is not named stays."""

    id: Identifier
    place: Placement | None = None
    position: Point | None = None
    shift: Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)] | None = None


@dataclass(frozen=True)
class Spot:
    """Something of a view that was picked, and where, view mm as drawn; axis: the face's axis is meant, as a
    center line shows it."""

    pick: Pick
    at: XY
    axis: bool = False

    def sided(self, context: Context) -> Pick:
        """The pick with the side of an outline that lies nearest to the place. Raises SizeError where it is
        lost."""
        return self.pick if self.axis or self.pick.point else pick_side(self.pick, self.at, context)


@dataclass(frozen=True)
class Request:
    """What a tool asks for. spots: in the order in which they were picked; pointer: paper mm about the
    context's origin; identity: of what is made; reach: how near a pick takes an end of what it is on, view
    mm; settings: by name, what the tool's own choices are; geometry: what the view shows."""

    spots: Sequence[Spot]
    pointer: XY
    identity: str
    reach: float = 0.0
    settings: Mapping[str, Any] = field(default_factory=dict)
    geometry: ViewGeometry | None = None

    def pointed(self, at: Any, context: Context, sizes: bool = False) -> Tip:
        """What a leader ends on at a place, paper mm about the view's position: an edge, with sizes else a
        line of one, else a face. Raises SizeError."""
        if self.geometry is None:
            raise SizeError("The view is still being derived.")
        place = np.array(at, float)
        try:
            target = target_at(place / context.scale, self.geometry, context.scale)
        except SizeError:
            target = None
            if not sizes:
                raise
        line = line_at(place, REACH, context) if sizes and (target is None or target.on == "face") else None
        if line is not None:
            size, number, share = line
            at_share = Point(x=round(share, 6), y=number)
            return Tip(instance="", at=at_share, on="line", source=size, role="size")
        if target is None:
            raise SizeError("There is no part here; point at an edge, a face or a line of a size.")
        return tip_on(target, context)

    def picks(self, context: Context) -> list[Pick]:
        """What was picked, outlines with their sides. Raises SizeError where one is lost."""
        return [s.sided(context) for s in self.spots]


@dataclass(frozen=True)
class Member:
    """An annotation with its kind and its context, as it is drawn together with others."""

    annotation: Any
    kind: "Kind[Any]"
    context: Context


@dataclass(frozen=True)
class Row:
    """What lists and particulars show of an annotation besides its fields. text: what it says, or is called,
    in one line; says: a size's own tolerance as it is typed; applies: the limits that hold for it, in words,
    general ones where it states none; foreshortened: the view shows it shorter than it is; left_over: rows of
    a list that it has no room for."""

    text: str
    says: str = ""
    applies: str = ""
    foreshortened: bool = False
    left_over: int = 0


Drawn = dict[str, Group | str]
"""Ink by annotation, or the sentence that says why there is none."""


Draw = Callable[[Sequence[Member]], Drawn]


@dataclass(frozen=True)
class Kind(Generic[A]):
    """A kind and its abilities; what takes an annotation and its context may raise SizeError where it lost
    what it hangs on.

    name: in the interface; ink: of one by itself, paper mm about the context's origin; draw: of all of a
    sheet together, for kinds whose ink depends on each other (kinds with the same function are drawn
    together); words: what it says, in one line; check: raises CommandError or SizeError where it cannot be
    placed so; change: the annotation with fields set, for kinds whose fields are not set as they are; move:
    those that are to be put in its stead; handles: draggable ends; in_files: more
    ink of one, that only files have; obstacles: boxes on the sheet that views
    keep clear of, with their name within a sentence; states: what it says of the model; row: what lists show
    of it; findings: what a checker would say, a sentence each; dxf_entity: what it is in a DXF file besides
    ink, from its drawn group; reads_out: it is a block in a DXF file whose attribute says it; looks: its tool
    needs what the view shows; propose: the annotation that a tool's picks and pointer make; drag: the
    annotation with one of its grips at the pointer, for kinds that have others than their place; where:
    the fields that say where one is, for kinds of which another one like it can be placed.
    """

    data: type[A]
    name: str
    ink: Callable[[A, Context], list[Element]] | None = None
    draw: Draw | None = None
    words: Callable[[A, Context], str] | None = None
    called: Callable[[A], str] | None = None
    check: Callable[[A, Context], None] | None = None
    change: Callable[[A, dict[str, Any], Context], A] | None = None
    move: Callable[[A, Move, Context], list[A]] | None = None
    handles: Callable[[A, Context], list[Handle]] | None = None
    in_files: Callable[[A, Context], list[Element]] | None = None
    obstacles: Callable[[A, Context], list[tuple[str, Box]]] | None = None
    states: Callable[[A, Context], Statement | None] | None = None
    row: Callable[[A, Context], Row] | None = None
    findings: Callable[[A, Context], list[str]] | None = None
    dxf_entity: Callable[[A, Context, Group], DimensionEntity | None] | None = None
    reads_out: bool = False
    looks: bool = False
    propose: Callable[[Request, Context], A] | None = None
    drag: Callable[[A, str, Request, Context], A] | None = None
    where: tuple[str, ...] = ()

    @property
    def key(self) -> str:
        """The word that stored annotations of the kind are told by."""
        return str(self.data.model_fields["kind"].default)

    def title(self, a: A) -> str:
        """What the interface calls this one."""
        return self.called(a) if self.called else self.name


@dataclass(frozen=True)
class InRun:
    """What a size takes from its run: shift of an ordinate's number where numbers crowd, paper mm; dots: ends
    of a chain's link at which a dot stands for two arrows, paper mm about the view's position."""

    shift: float = 0.0
    dots: tuple[XY, ...] = ()


@dataclass(frozen=True)
class SizeKind(Kind[A]):
    """A kind of size. value: mm, or radians where is_angle; label: its lettering; size_ink: by what it is
    for; ink_in_run: the same with what it takes from its run; spread: by id, how far the numbers of a crowded
    run are moved; shift_at: of kinds whose number slides along its line, how far a place (paper mm) is from
    the line's middle, None near it or beyond the ends; general_leg: of angles, the length of the shorter leg
    in mm, which the general tolerances go by; breaks_edge: the general tolerances for broken edges hold."""

    value: Callable[[A, Context], float] | None = None
    label: Callable[[A, Context], Label] | None = None
    size_ink: Callable[[A, Context], SizeInk] | None = None
    ink_in_run: Callable[[A, Context, InRun], SizeInk] | None = None
    spread: Callable[[list[A], Context], dict[str, float]] | None = None
    is_angle: bool = False
    shift_at: Callable[[A, Any, Context], float | None] | None = None
    foreshortened: Callable[[A, Context], bool] | None = None
    along: Callable[[A, Context], Any] | None = None
    """The unit direction on paper that its line runs along, for kinds whose line is caught by the rows."""
    general_leg: Callable[[A, Context], float] | None = None
    breaks_edge: bool = False

    def inked(self, size: A, context: Context, in_run: InRun = InRun()) -> SizeInk:
        """Ink of one size by what it is for. Raises SizeError where it lost its geometry."""
        if self.ink_in_run is not None:
            return self.ink_in_run(size, context, in_run)
        assert self.size_ink is not None
        return self.size_ink(size, context)


def partners(size: Dimension, context: Context) -> list[Dimension]:
    """The other sizes of a run."""
    return [
        a
        for a in context.sheet.annotations
        if isinstance(a, Dimension) and size.run and a.run == size.run and a.id != size.id
    ]


def number_of(value: Any, called: str) -> float:
    """A number that was set. Raises CommandError for what is none."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not math.isfinite(value):
        raise CommandError(f"{called} is a number.")
    return float(value)


def set_fields(a: A, update: dict[str, Any]) -> A:
    """The annotation with fields set to plain values; groups of fields keep those that are not named. Raises
    CommandError for a field that it does not have, and ValidationError for values that it cannot hold."""
    data = a.model_dump(mode="json")
    for name, value in update.items():
        if name not in type(a).model_fields or name in ("id", "kind", "anchor"):
            called = a.kind.replace("_", " ")
            raise CommandError(
                f"{'An' if called[0] in 'aeiou' else 'A'} {called} has no {name.replace('_', ' ')}."
            )
        if name == "wording" and not isinstance(value, Mapping):
            raise CommandError("The wording of a size is set field by field.")
        data[name] = {**data[name], **value} if name == "wording" else value
    return type(a).model_validate(data)
