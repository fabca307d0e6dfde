"""What an annotation may ask of others, of whatever kind they are; `registry`, which knows all kinds,
answers."""

from collections.abc import Callable
from dataclasses import dataclass

from drafting.context import Context
from drafting.document import AnnotationBase, Dimension
from drafting.errors import SizeError
from drafting.views.frame import Array


@dataclass
class _Answers:
    words: Callable[[AnnotationBase, Context], str]
    lines: Callable[[Dimension, Context], list[tuple[Array, Array]]]


_answers: list[_Answers] = []


def answer(
    words: Callable[[AnnotationBase, Context], str],
    lines: Callable[[Dimension, Context], list[tuple[Array, Array]]],
) -> None:
    """Say who answers. words: what an annotation says; lines: the dimension line of a size, then its
    extension lines, ends (2,) in paper mm about the view's position."""
    _answers[:] = [_Answers(words, lines)]


def words_of(annotation_id: str, context: Context) -> str | None:
    """What a size of the drawing says; None where it is gone or has lost what it is taken on."""
    for sheet in context.drawing.sheets:
        size = sheet.annotation(annotation_id)
        if isinstance(size, Dimension):
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
        if not isinstance(size, Dimension) or size.view != context.view_id:
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
    if not isinstance(size, Dimension) or size.view != context.view_id:
        raise SizeError("The size this points at is no longer there.")
    lines = _answers[0].lines(size, context)
    if number >= len(lines):
        raise SizeError("The size this points at has no such line now.")
    a, b = lines[number]
    d = b - a
    return a + share * d, d / max(float(d @ d) ** 0.5, 1e-9)
