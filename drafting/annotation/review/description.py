"""What the desk tells of an annotation besides its ink: its words, and of a size its tolerance as it is typed
and the limits that hold for it."""

from drafting.annotation import registry
from drafting.annotation.kinds.kind import Row
from drafting.annotation.wording.tolerance_words import words_of
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Tolerance
from drafting.memory import Memory, digest

_ROWS: Memory[Row] = Memory(20_000)


def row_of(annotation: AnnotationBase, context: Context) -> Row:
    """What is told of an annotation. Raises SizeError where it lost its geometry."""
    if isinstance(annotation, Dimension):
        size = annotation
        key = (context.seen, digest(size.model_dump_json()))
        return _ROWS.recall(context.facts, key, lambda: _size_row(size, context))
    kind = registry.kind_of(annotation)
    return kind.row(annotation, context) if kind.row is not None else Row(kind.title(annotation))


def _size_row(size: Dimension, context: Context) -> Row:
    value = registry.value(size, context)
    angle, profile = registry.size_kind(size).is_angle, context.profile
    bounds = registry.bounds(size, context)
    applies = ""
    if bounds is not None:
        upper, lower = bounds.upper or 0.0, bounds.lower or 0.0
        own = Tolerance(form="unequal", upper=upper, lower=lower) if upper > lower else None
        applies = ("general " if bounds.general else "") + (
            words_of(own, value, profile, angle) if own else size.tolerance.form
        )
        if bounds.general and own:
            applies = f"general ±{words_of(own, value, profile, angle).split('/')[0].lstrip('+')}"
    says = words_of(size.tolerance, value, profile, angle)
    return Row(registry.text(size, context), says, applies, registry.foreshortened(size, context))
