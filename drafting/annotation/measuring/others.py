"""What an annotation may ask of others, of whatever kind they are; `registry`, which knows all kinds,
answers."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any, TypeGuard

import numpy as np

from drafting.annotation.measuring.statement import Level
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension
from drafting.errors import SizeError
from drafting.views.frame import Array

Box = tuple[float, float, float, float]


CALLOUTS = ("hole_callout", "feature_callout")


def is_sized(a: AnnotationBase | None) -> TypeGuard[AnnotationBase]:
    """Whether an annotation says the size of something: a size, or a callout."""
    return a is not None and (isinstance(a, Dimension) or a.kind in CALLOUTS)


def has_lines(a: AnnotationBase | None) -> TypeGuard[AnnotationBase]:
    """Whether symbols can stand on an annotation: a size, a callout, or a control frame."""
    return is_sized(a) or (a is not None and a.kind == "control_frame")


@dataclass(frozen=True)
class Measured:
    """What a size says in numbers. value: mm, of a callout its diameter; upper, lower: deviations that hold,
    its own or the general ones, None where there are none; levels: the two that a length ties together;
    circle: of a diameter what states it, direction and foot of its axis among that; is_basic: whether it
    only locates."""

    value: float
    upper: float | None
    lower: float | None
    levels: tuple[Level, Level] | None
    circle: tuple[Any, ...] | None
    is_basic: bool

    @property
    def is_diameter(self) -> bool:
        """Whether it is across something round."""
        return self.circle is not None

    def is_about(self, at: Array, direction: Array) -> bool:
        """Whether it is of a circle about an axis (a place on it and its unit direction)."""
        if self.circle is None or len(self.circle) < 3:
            return False
        axis, foot = np.array(self.circle[1]), np.array(self.circle[2])
        along = abs(float(axis @ direction)) > 1 - 1e-4
        off = foot - at
        return along and float(np.linalg.norm(off - axis * float(off @ axis))) < 1e-3


@dataclass
class _Answers:
    words: Callable[[AnnotationBase, Context], str]
    lines: Callable[[AnnotationBase, Context], list[tuple[Array, Array]]]
    boxes: Callable[[AnnotationBase, Context], list[Box]]
    measured: Callable[[AnnotationBase, Context], Measured | None]
    legs: Callable[[AnnotationBase, Context], tuple[Array, Array] | None]


_answers: list[_Answers] = []


def answer(
    words: Callable[[AnnotationBase, Context], str],
    lines: Callable[[AnnotationBase, Context], list[tuple[Array, Array]]],
    boxes: Callable[[AnnotationBase, Context], list[Box]],
    measured: Callable[[AnnotationBase, Context], Measured | None],
    legs: Callable[[AnnotationBase, Context], tuple[Array, Array] | None],
) -> None:
    """Say who answers. words: what an annotation says; lines: the dimension line of a size, then its
    extension lines, ends (2,); boxes: left, bottom, right and top of its lettering; both in paper mm about
    the view's position; measured: what a length or a diameter says, None for what says neither;
    legs: the unit directions that an angle stands between, (3,)."""
    _answers[:] = [_Answers(words, lines, boxes, measured, legs)]


def measured_of(size: AnnotationBase, context: Context) -> Measured | None:
    """What a length or a diameter says; None for angles and what only is for reference or has words of its
    own. Raises SizeError where it is lost."""
    return _answers[0].measured(size, context)


def legs_of(size: AnnotationBase, context: Context) -> tuple[Array, Array] | None:
    """The unit directions, (3,), that an angle stands between; None for what is none, is for reference or has
    words of its own. Raises SizeError where it is lost."""
    return _answers[0].legs(size, context)


def play_of(size: AnnotationBase, context: Context) -> float | None:
    """All of a size's tolerance, mm, its own or the general one; None where it has none. Raises SizeError."""
    found = measured_of(size, context)
    return None if found is None or found.upper is None or found.lower is None else found.upper - found.lower


def lettering_of(size: AnnotationBase, context: Context) -> Box | None:
    """The level box about a size's lettering, paper mm about the view's position; None where it has none.
    Raises SizeError."""
    boxes = _answers[0].boxes(size, context)
    if not boxes:
        return None
    sides = list(zip(*boxes, strict=True))
    return min(sides[0]), min(sides[1]), max(sides[2]), max(sides[3])


def says(a: AnnotationBase, context: Context) -> str:
    """What an annotation says, in one line. Raises SizeError."""
    return _answers[0].words(a, context)


def words_of(annotation_id: str, context: Context) -> str | None:
    """What a size of the drawing says; None where it is gone or has lost what it is taken on."""
    for sheet in context.drawing.sheets:
        size = sheet.annotation(annotation_id)
        if is_sized(size):
            view = sheet.view_of(size)
            try:
                home = Context(context.drawing, sheet, context.facts, view)
                return _answers[0].words(size, home) if view is not None else None
            except SizeError:
                return None
    return None


def line_at(place: Array, reach: float, context: Context) -> tuple[str, int, float] | None:
    """The size whose line lies within reach of a place (paper mm about the view's position), which of its
    lines that is, and the share of its length; None for none."""
    best: tuple[float, str, int, float] | None = None
    for size in context.sheet.annotations:
        if not has_lines(size) or size.view != context.view_id:
            continue
        try:
            lines = _answers[0].lines(size, context)
        except SizeError:
            continue
        for n, (a, b) in enumerate(lines):
            d = b - a
            t = min(1.0, max(0.0, float((place - a) @ d) / max(float(d @ d), 1e-18)))
            off = a + t * d - place
            away = float(off @ off) ** 0.5
            if away < reach and (best is None or away < best[0]):
                best = away, size.id, n, t
    return best[1:] if best else None


def place_on_line(size_id: str, number: int, share: float, context: Context) -> tuple[Array, Array]:
    """The place (2,) at a share of a size's line, paper mm about the view's position, and the line's unit
    direction. Raises SizeError where the size, or its line, is there no more."""
    size = context.sheet.annotation(size_id)
    if not has_lines(size) or size.view != context.view_id:
        raise SizeError("The size this points at is no longer there.")
    lines = _answers[0].lines(size, context)
    if number >= len(lines):
        raise SizeError("The size this points at has no such line now.")
    a, b = lines[number]
    d = b - a
    return a + share * d, d / max(float(d @ d) ** 0.5, 1e-9)
