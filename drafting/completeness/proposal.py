"""A lean set of sizes: with what is on the drawing they say every number of the part, each once, in the view
that shows it best. Sizes a drafter would think of are tried one after another; one is taken if it says what
those before it leave free."""

import itertools
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import partial

from drafting.annotation import registry
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing import basic_sizes, call_out
from drafting.annotation.proposing.recipe_sizes import in_view_of
from drafting.completeness.elimination import RANK, Span
from drafting.completeness.gaps import LEAN, Gap
from drafting.completeness.hole_tables import hole_tables, together
from drafting.completeness.lines_shown import LinesShown, is_small, parent_factor
from drafting.completeness.odd_sizes import (
    Ranked,
    Shown,
    bolt_circles,
    chamfers,
    edges,
    slanting_axes,
    threads,
)
from drafting.completeness.surfaces import Array
from drafting.completeness.told import Told
from drafting.completeness.verdict import PartNumbers, Verdict, said_by, verdict
from drafting.completeness.wanted import Choice, Wanted, wanted_sizes
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Pick, Sheet, Wording, in_view, new_id
from drafting.errors import DraftingError, SizeError
from drafting.features.recognized import features
from drafting.model.model import Facts, PartFacts
from drafting.views.geometry import ViewGeometry

Maker = Callable[[PartNumbers, Context, Shown], Iterator[Ranked]]
WITHIN = 2e-3
"""How far a size may lie from what the scaled numbers say, mm: as far as places may lie that are one."""
MOST_TRIED = 400
"""Edges of a sheet that are tried."""
MAIN = 0.05
"""How much better a main view is, and a section."""
DETAIL = 4.0
"""How much better a detail is for what it is drawn for: more than seen lines are than hidden ones."""


def elsewhere(
    a: AnnotationBase,
    view: str,
    drawing: Drawing,
    sheet: Sheet,
    geometries: Mapping[str, ViewGeometry],
    facts: Facts,
) -> AnnotationBase | None:
    """What says the same in another view; None where that cannot show it."""
    found, there = verdict(drawing, facts), Context(drawing, sheet, facts, sheet.view(view))
    numbers, system = found.numbers, found.system
    if numbers is None or system is None or view not in geometries or there.view is None:
        return None
    here = Context(drawing, sheet, facts, sheet.view_of(a))
    said = said_by(a, here, numbers)
    if said is None or not said.rows:
        return None
    rows, lines = [system.over(r) for r in said.rows], LinesShown.of(there, geometries[view])

    def is_same(other: AnnotationBase) -> bool:
        told = said_by(other, there, numbers)
        return told is not None and _same_span(rows, [system.over(r) for r in told.rows])

    if not isinstance(a, Dimension):
        every = (c for kind in call_out.lacking(geometries[view], there) for c in kind)
        return next((c for c in every if is_same(c)), None)
    same = a.model_copy(update={"id": new_id(), "place": NOWHERE, "anchor": in_view(view, a.picks)})
    if lines.has_all(same) and _is_drawn(same, there) and is_same(same):
        return same
    for d in wanted_sizes(numbers, found):
        if _same_span(rows, [system.over(r) for r in d.rows]):
            for _, size in in_view_of(d.what, there, lines.scores, WITHIN):
                if lines.has_all(size) and _is_drawn(size, there) and is_same(size):
                    return size.model_copy(update={"wording": a.wording, "tolerance": a.tolerance})
    return None


def _same_span(a: Sequence[Array], b: Sequence[Array]) -> bool:
    """Whether two sets of rows say the same."""
    if not a or not b:
        return False
    for one, other in ((a, b), (b, a)):
        span = Span(len(one[0]))
        for row in one:
            span.take(row)
        if any(span.take(row, LEAN) for row in other):
            return False
    return True


@dataclass(frozen=True)
class Proposed:
    """A size or a callout without a place yet, and the view it is for."""

    annotation: AnnotationBase
    view: str


def proposal(
    drawing: Drawing,
    sheet: Sheet,
    geometries: Mapping[str, ViewGeometry],
    facts: Facts,
    only: Collection[str] = (),
    sources: Collection[str] = (),
    choice: Choice = Choice(),  # noqa: B008  frozen
    progress: Callable[[float], None] = lambda _: None,
) -> list[Proposed]:
    """What to add to a sheet so that its views say all they can. geometries: of its views, by id; only: of
    these views; sources: only of the features that these edges and faces are of; choice: how;
    progress: told the share that is proposed. Raises SizeError where nothing can be told of the part."""
    found = verdict(drawing, facts)
    if found.why_not or found.numbers is None or found.span is None or found.system is None:
        raise SizeError(found.why_not or "Sizes are proposed for drawings of one part.")
    views = [v for v in sheet.views if v.id in geometries and not v.is_pictorial]
    contexts = [Context(drawing, sheet, facts, v) for v in views if not only or v.id in only]
    if not contexts:
        return []
    out = _Lean(found, found.numbers, found.span.copy(), contexts, geometries, choice, progress).proposed()
    if not sources:
        return out
    part = found.numbers.part
    mine = _of_features(part, sources)
    return [p for p in out if mine & {n for k in p.annotation.picks for n in faces_at(k, part)}]


def _of_features(part: PartFacts, sources: Collection[str]) -> set[str]:
    """The faces of the features that edges and faces are of; those faces themselves where they are of
    none."""
    known = features(part)
    picked = {n for s in sources for n in faces_at(Pick(instance="", source=s), part)}
    found = [known.holes[n].faces for n in known.holes_at([*picked])]
    found += [known.others[n].faces for n in known.others_at([*picked])]
    return {str(n) for faces in found for n in faces} or picked


def closing(
    drawing: Drawing, facts: Facts, gap: Gap, proposed: Sequence[Proposed], sheet: Sheet
) -> list[Proposed]:
    """Of what is proposed that which closes a gap: a single one where one does, else all up to where it is
    closed."""
    found = verdict(drawing, facts)
    if found.numbers is None or found.span is None or found.system is None or not gap.rows:
        return list(proposed)
    wanted = [found.system.over(row) for row in gap.rows]
    told = []
    for p in proposed:
        said = said_by(p.annotation, Context(drawing, sheet, facts, sheet.view(p.view)), found.numbers)
        told.append([found.system.over(row) for row in said.rows] if said else [])
    for several in ([n] for n in range(len(told))):
        if _closes(found.span, [row for n in several for row in told[n]], wanted):
            return [proposed[n] for n in several]
    so_far: list[Array] = []
    for n, rows in enumerate(told):
        so_far += rows
        if _closes(found.span, so_far, wanted):
            return list(proposed[: n + 1])
    return list(proposed)


def _closes(span: Span, rows: Sequence[Array], wanted: Sequence[Array]) -> bool:
    trial = span.copy()
    for row in rows:
        trial.take(row)
    return not any(trial.copy().take(row, LEAN) for row in wanted)


class _Lean:
    """The set while it grows."""

    def __init__(
        self,
        found: Verdict,
        numbers: PartNumbers,
        span: Span,
        contexts: list[Context],
        geometries: Mapping[str, ViewGeometry],
        choice: Choice,
        progress: Callable[[float], None],
    ) -> None:
        self.choice, self.progress = choice, progress
        self.found, self.numbers, self.span = found, numbers, span
        self.contexts, self.geometries = contexts, geometries
        self.whole = [c for c in contexts if c.view and c.view.kind != "detail"]
        self.lines = {c.view_id: LinesShown.of(c, geometries[c.view_id]) for c in contexts}
        self.out: list[Proposed] = []
        self.least = LEAN
        self.left = found.missing
        """How many numbers are still free."""

    def proposed(self) -> list[Proposed]:
        """All that says something new."""
        if self.choice.table:
            self._tables()
        for context in self.whole:
            for callout, *_ in call_out.lacking(self.geometries[context.view_id], context):
                if not self._is_called(callout):
                    self._take(callout.model_copy(update={"id": new_id()}), context)
        self._basics()
        self._try_all(bolt_circles)
        self._try_all(threads)
        for d in wanted_sizes(self.numbers, self.found, self.choice):
            if not self.left:
                break
            if self._is_new(d):
                self._place(d)
        self._try_all(slanting_axes)
        self._try_all(chamfers)
        self._try_all(partial(edges, choice=self.choice))
        self.least = RANK  # what is still free hangs on numbers that others all but settle
        self._try_all(partial(edges, choice=self.choice))
        return self.out

    def _tables(self) -> None:
        """A table for each view with enough holes of which no size says anything; what center lines say of
        them is no reason to leave them out."""
        system = self.numbers.system
        span = Span(len(system.free))
        for row in (row for one in self.found.said for row in one.rows):
            span.take(system.over(row))
        for context in self.whole:
            mine = []
            for one in hole_tables(self.numbers, context, self.geometries[context.view_id], self.choice):
                said = said_by(one, context, self.numbers)
                trial = span.copy()
                if said and not said.why and all(trial.take(system.over(row), LEAN) for row in said.rows):
                    span = trial
                    mine.append(one)
            table = together(mine)
            if table is not None:
                self._take(table, context)

    def _basics(self) -> None:
        """Basic sizes where control frames of the sheet ask for them."""
        by_view = {c.view_id: c for c in self.whole}
        for context in self.whole:
            for f in context.sheet.annotations:
                if not isinstance(f, ControlFrame) or context.sheet.view_of(f) is not context.view:
                    continue
                try:
                    sizes, _ = basic_sizes.proposed(f, context, self.whole, self.geometries)
                except DraftingError:
                    continue
                for size in sizes:
                    self._take(size, by_view[size.view])

    def _try_all(self, made: Maker) -> None:
        if not self.left:
            return
        for size, context in itertools.islice(self._best_first(made), MOST_TRIED):
            if self.left and _is_drawn(size, context):
                self._take(size, context)

    def _best_first(self, made: Maker) -> Iterator[tuple[AnnotationBase, Context]]:
        """Sizes of all views, those that are seen best first, of whatever rank they have first."""
        found = [
            (rank, -score - self._bonus(c, size), n, size, c)
            for c in self.contexts
            for n, (rank, score, size) in enumerate(made(self.numbers, c, self.lines[c.view_id].scores))
        ]
        for _, _, _, size, context in sorted(found, key=lambda one: one[:3]):
            yield size, context

    def _bonus(self, context: Context, size: AnnotationBase) -> float:
        """How much better a view is for a size than its lines tell: a detail for what is too small without
        it, and for nothing else."""
        view = context.view
        if view is None or view.kind != "detail":
            return MAIN if view and view.kind in ("main", "section") else 0.0
        return DETAIL if is_small(size, context, parent_factor(context)) else -DETAIL

    def _is_called(self, callout: AnnotationBase) -> bool:
        """Whether another view's callout says it already."""
        said = said_by(callout, self.contexts[0], self.numbers)
        return said is not None and any(
            set(said.faces) & set(other.faces)
            for p in self.out
            if (other := said_by(p.annotation, self.contexts[0], self.numbers)) is not None
        )

    def _new(self, said: Told) -> int:
        """How many new numbers something would say."""
        assert self.found.system is not None
        rows = [r for row in said.rows if not self.span.has(r := self.found.system.over(row), self.least)]
        if len(rows) < 2:
            return len(rows)
        trial = self.span.copy()
        return sum(trial.take(row, self.least) for row in rows)

    def _is_new(self, d: "Wanted") -> bool:
        assert self.found.system is not None
        return any(not self.span.has(self.found.system.over(row), self.least) for row in d.rows)

    def _take(self, a: AnnotationBase, context: Context) -> bool:
        assert self.found.system is not None
        said = said_by(a, context, self.numbers)
        if said is None or said.why or not self._new(said):
            return False
        if isinstance(a, Dimension) and not self.lines[context.view_id].has_all(a):
            return False
        self.left -= sum(self.span.take(self.found.system.over(row), self.least) for row in said.rows)
        self.out.append(Proposed(a, context.view_id))
        self.progress(1 - self.left / max(self.found.missing, 1))
        return True

    def _place(self, wanted: "Wanted") -> None:
        """The size in the view that shows it best and says something new."""
        ways = [
            (score + self._bonus(c, size), size, c)
            for c in self.contexts
            for score, size in in_view_of(wanted.what, c, self.lines[c.view_id].scores, WITHIN)
        ]
        for _, size, context in sorted(ways, key=lambda way: -way[0]):
            if self._take(self._counted(size, context, wanted), context):
                return

    def _counted(self, size: Dimension, context: Context, wanted: "Wanted") -> Dimension:
        """The size with a count, where that says more."""
        if wanted.alike < 2:
            return size
        many = size.model_copy(update={"wording": Wording(count=wanted.alike)})
        alone, together = (said_by(s, context, self.numbers) for s in (size, many))
        is_more = alone is not None and together is not None and self._new(together) > self._new(alone)
        return many if is_more else size


def _is_drawn(a: AnnotationBase, context: Context) -> bool:
    """Whether it can be drawn in the view, a size as something."""
    try:
        if not isinstance(a, Dimension):
            registry.check(a, context)
            return True
        good = registry.value(a, context) > WITHIN
        registry.size_ink(a, context)
    except DraftingError:
        return False
    return good
