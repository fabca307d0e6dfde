"""Stack-ups: how large the gap between two surfaces can be by the sizes that are drawn, beside what it has to
be. Kept with the drawing and figured anew whenever anything changes; drawn on no sheet."""

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

from pydantic import Field

from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.stack_chain import Chain, between, chain
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.document import AnnotationBase, in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Element
from drafting.memory import Memory, digest
from drafting.standards.profile import Profile
from drafting.tolerancing import stack
from drafting.tolerancing.stack import Range

Method = Literal["worst case", "root sum square", "by lots"]
Required = Annotated[float, Field(ge=-10000, le=10000, allow_inf_nan=False)]


class StackUp(AnnotationBase):
    """A gap between two surfaces. least, most: what it has to be, mm, None for no bound on that side; method:
    by which that is judged; even: whether lots are drawn evenly within limits; seed: of the lots."""

    picks_taken: ClassVar[tuple[int, int]] = (2, 2)
    kind: Literal["stack_up"] = "stack_up"
    name: Annotated[str, Field(max_length=80, title="Called")] = ""
    least: Annotated[Required, Field(title="Required, at least, mm")] | None = None
    most: Annotated[Required, Field(title="Required, at most, mm")] | None = None
    method: Annotated[Method, Field(title="Judged by")] = "worst case"
    even: Annotated[bool, Field(title="Lots drawn evenly")] = False
    seed: Annotated[int, Field(ge=0, le=2**31, title="Seed of the lots")] = 1


@dataclass(frozen=True)
class Result:
    """What a stack-up comes to: the chain, the gap of the model, and its range by each way to add up; holds:
    whether the one that it is judged by lies within what is required."""

    chain: Chain
    nominal: float
    middle: float
    worst: Range
    squares: Range
    lots: stack.Lots
    shares: tuple[float, ...]
    judged: Range
    holds: bool


_RESULTS: Memory[Result] = Memory(64)


def result(a: StackUp, context: Context) -> Result:
    """Raises SizeError where no chain of sizes leads from the one surface to the other."""
    drawn = digest(context.drawing.model_dump_json(), a.model_dump_json())
    return _RESULTS.recall(context.facts, drawn, lambda: _figured(a, context))


def _figured(a: StackUp, context: Context) -> Result:
    found = chain(a.picks, context)
    links = [k.link for k in found.links]
    worst, squares = stack.worst_case(links), stack.root_sum_square(links)
    lots = stack.by_lots(links, a.least, a.most, a.seed, a.even)
    judged = {"worst case": worst, "root sum square": squares, "by lots": lots.range}[a.method]
    return Result(
        found,
        stack.nominal(links),
        stack.middle(links),
        worst,
        squares,
        lots,
        tuple(stack.shares(links)),
        judged,
        judged.holds(a.least, a.most),
    )


def ink(a: StackUp, context: Context) -> list[Element]:
    """Nothing: a stack-up is on no sheet. Raises SizeError where one of its surfaces is gone."""
    between(a.picks, context)
    return []


def said(value: float, profile: Profile) -> str:
    """A length as the particulars write it, in the drawing's unit."""
    per = 25.4 if profile.units == "in" else 1.0
    return plain(
        round(value / per, 4),
        4,
        profile.model_copy(update={"trailing_zeros": False}),
        profile.units,
        trim=True,
    )


def words(a: StackUp, context: Context) -> str:
    """Its name and its range, as far as that is known."""
    try:
        found = result(a, context)
    except SizeError:
        _, apart, _, _ = between(a.picks, context)
        return f"{a.name or 'gap'} {said(apart, context.profile)}, its range not known"
    low, high = (said(v, context.profile) for v in (found.judged.least, found.judged.most))
    return f"{a.name or 'gap'} {said(found.nominal, context.profile)}, from {low} to {high}"


def row(a: StackUp, context: Context) -> Row:
    """Its range."""
    return Row(words(a, context))


def check(a: StackUp, context: Context) -> None:
    """Raises CommandError for a requirement that nothing meets."""
    if a.least is not None and a.most is not None and a.least > a.most:
        raise CommandError("The gap that is required is at least less than at most.")
    between(a.picks, context)


def findings(a: StackUp, context: Context) -> list[str]:
    """A gap that is not what it has to be, or of which that is not known."""
    between(a.picks, context)
    try:
        found = result(a, context)
    except SizeError as error:
        return [str(error)]
    if found.holds:
        return []
    low, high = (said(v, context.profile) for v in (found.judged.least, found.judged.most))
    needs = [
        f"{word} {said(v, context.profile)}"
        for word, v in (("at least", a.least), ("at most", a.most))
        if v is not None
    ]
    name, has = a.name or "gap", " and ".join(needs)
    return [f"The {name} of a stack-up is {low} to {high} ({a.method}); it has to be {has}."]


def propose(request: Request, context: Context) -> StackUp:
    """A stack-up between the two surfaces that were picked. Raises SizeError."""
    if context.view is None or len(request.spots) < 2:
        raise SizeError("Pick two surfaces that are seen edge-on.")
    return StackUp(
        id=request.identity, anchor=in_view(context.view_id, [s.sided(context) for s in request.spots[:2]])
    )


KIND = Kind(
    StackUp,
    "Stack-up",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    propose=propose,
)
