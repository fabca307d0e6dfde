"""What the desk tells of a size besides its ink: its words, its tolerance as it is typed, and the limits that
hold for it."""

from dataclasses import dataclass

from drafting.annotation import registry
from drafting.annotation.kinds.sizes import seen_key
from drafting.annotation.wording.tolerance_words import words_of
from drafting.context import Context
from drafting.document import Dimension, Tolerance
from drafting.memory import Memory, digest


@dataclass(frozen=True)
class Description:
    """text: what it says, in one line; says: its own tolerance as it is typed; applies: the limits that
    hold for it, in words, general ones where it states none; foreshortened: the view shows it shorter than
    it is."""

    text: str
    says: str = ""
    applies: str = ""
    foreshortened: bool = False


_DESCRIBED: Memory[Description] = Memory(20_000)


def described(size: Dimension, context: Context) -> Description:
    """What is told of a size. Raises SizeError where it lost its geometry."""
    key = (seen_key(context), digest(size.model_dump_json()))
    return _DESCRIBED.recall(context.facts, key, lambda: _described(size, context))


def _described(size: Dimension, context: Context) -> Description:
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
    return Description(registry.text(size, context), says, applies, registry.foreshortened(size, context))
