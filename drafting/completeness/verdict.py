"""What a drawing of a part leaves free, and what it says twice."""

import math
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import cached_property

import numpy as np

from drafting.annotation.kinds import feature_callout, hole_callout
from drafting.annotation.kinds.centers import Center
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.kinds.note import Note
from drafting.annotation.measuring.picked_features import holes_at, meant
from drafting.annotation.wording.callout_words import Value
from drafting.completeness import drawn, features_told, told
from drafting.completeness.elimination import Span, System
from drafting.completeness.implied import hard_rules, hindered, pins
from drafting.completeness.moved import Mover
from drafting.completeness.parameters import Parameters, Row
from drafting.completeness.surfaces import Array, Solid
from drafting.completeness.told import Told
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing
from drafting.errors import DraftingError
from drafting.features.feature import Feature
from drafting.features.recognized import features
from drafting.memory import Memory, digest
from drafting.model.model import Facts, PartFacts
from drafting.sheet.frame import shown_notes

HINDERED = 1e-6
STRIDE = 10
"""Sizes between two reports of progress."""
UNCLEAR = "Completeness cannot be told: this file's faces are not clearly square, level or coaxial."
BY_MODEL = re.compile(
    r"\b(?:shape|form|contour|surface|profile)s?\b[^.]{0,60}\bby (?:the )?(?:3d |cad )?model\b", re.IGNORECASE
)
"""How notes say it: "Shape by model", "Contour of the blade is given by the 3D model" (common practice)."""
_PARTS: Memory["PartNumbers"] = Memory(16)
_HELD: Memory[tuple[System, list[tuple[int, float]]]] = Memory(32)


@dataclass(eq=False)
class PartNumbers:
    """The numbers of a part and what holds among them on any drawing; made once for a part."""

    part: PartFacts
    parameters: Parameters
    hard: list[Row]
    pins: list[Row]
    system: System
    mover: Mover

    @staticmethod
    def of(part: PartFacts) -> "PartNumbers":
        """Those of a part, remembered."""
        return _PARTS.of_one(part, lambda: PartNumbers._made(part))

    @staticmethod
    def _made(part: PartFacts) -> "PartNumbers":
        p = Parameters(Solid.of(part))
        hard, held = hard_rules(p), pins(p)
        return PartNumbers(part, p, hard, held, System([*held, *hard], len(p.words)), Mover(p))

    @property
    def why_not(self) -> str:
        """Why nothing can be told of the part, in a sentence; empty where it can."""
        return self.why_not_with(False)

    def why_not_with(self, by_model: bool) -> str:
        """The same of a drawing. by_model: whether it says that free-form faces are as the model has
        them."""
        solid = self.parameters.solid
        if not self.part.sided:
            return "The features of this model are not recognized yet; a worker is at it."
        if not self.part.is_solid:
            return "The model has surfaces only and encloses nothing, so that its sizes cannot be told."
        if solid.free and not by_model:
            share = f"{len(solid.free)} of {len(self.part.faces)} faces"
            return f"Completeness cannot be told: {share} are free-form and carry no sizes."
        if hindered(self.parameters, self.hard) > HINDERED or not self.system.solved.is_clear:
            return UNCLEAR
        return ""


@dataclass
class Verdict:
    """missing: how many numbers are free; loose: faces that may still move; twice: sizes that follow from
    others, by their ids, each with those; silent: annotations of which it cannot be told what they say, with
    the sentence; why_not: why nothing can be told."""

    numbers: PartNumbers | None
    said: list[Told] = field(default_factory=list)
    missing: int = 0
    loose: set[str] = field(default_factory=set)
    twice: dict[str, list[str]] = field(default_factory=dict)
    silent: dict[str, str] = field(default_factory=dict)
    why_not: str = ""
    system: System | None = None
    span: Span | None = None
    middles: list[tuple[int, float]] = field(default_factory=list)
    """Where center lines are seen: directions and levels."""
    by_model: int = 0
    """Free-form faces that are as the model has them, as a note says."""

    @property
    def total(self) -> int:
        """How many numbers the part has beyond what center lines hold."""
        assert self.numbers is not None
        assert self.system is not None
        return _rank(_own(self.numbers, self.system))

    @cached_property
    def motions(self) -> Array:
        """Changes of the free numbers that the drawing does not hinder."""
        assert self.span is not None
        return self.span.motions()


def says_by_model(drawing: Drawing) -> bool:
    """Whether a note that is shown says that shapes are as the model has them."""
    words = [a.text for s in drawing.sheets for a in s.annotations if isinstance(a, Note)]
    return any(BY_MODEL.search(text) for text in (*words, *shown_notes(drawing)))


def part_shown(facts: Facts) -> PartFacts | None:
    """The one part that a model is; None of an assembly."""
    if facts.kind != "part" or len(facts.instances) != 1:
        return None
    return facts.parts[facts.instances[0].part]


def verdict(drawing: Drawing, facts: Facts, progress: Callable[[float], None] = lambda _: None) -> Verdict:
    """Of a part's drawing with all its sheets. progress: told the share of its sizes that is understood."""
    part = part_shown(facts)
    if part is None:
        return Verdict(None, why_not="Completeness is told of drawings of one part.")
    numbers = PartNumbers.of(part)
    by_model = says_by_model(drawing)
    if why_not := numbers.why_not_with(by_model):
        return Verdict(numbers, why_not=why_not)
    said = list(_said(drawing, facts, numbers, progress))
    system, middles = _held(numbers, drawing, facts)
    out = judged(numbers, said, system)
    if not system.solved.is_clear or out.span is None or not out.span.is_clear:
        return Verdict(numbers, why_not=UNCLEAR)
    out.by_model = len(numbers.parameters.solid.free)
    out.middles = middles
    return out


def _held(numbers: PartNumbers, drawing: Drawing, facts: Facts) -> tuple[System, list[tuple[int, float]]]:
    """What the center lines of a drawing hold, and the directions and levels in which they are seen: kept by
    the center lines and all that they are seen by."""
    centers = [(a, c) for a, c in _contexts(drawing, facts) if isinstance(a, Center)]

    def work() -> tuple[System, list[tuple[int, float]]]:
        p = drawn.extended(numbers.parameters)
        planes: list[drawn.Plane] = []
        shown = drawn.rules(p, centers, planes)
        system = System([*numbers.pins, *numbers.hard, *(row for _, row in shown)], len(p.words))
        return system, [(plane.way, plane.level) for plane in planes]

    if any(pick.role in told.BESIDES for a, _ in centers for pick in a.picks):
        return work()
    return _HELD.recall(facts, tuple((digest(a.model_dump_json()), c.seen) for a, c in centers), work)


def judged(numbers: PartNumbers, said: Sequence[Told], system: System) -> Verdict:
    """What sizes say, with the rules that hold on the drawing."""
    out = Verdict(numbers, list(said), system=system)
    told_span, hard_span = Span(len(system.free)), Span(len(numbers.system.free))
    owners: list[str] = []
    for one in said:
        if one.why:
            out.silent[one.id] = one.why
        rows = [row for row in one.rows if row]  # a zero of ordinates says nothing
        new = [hard_span.take(numbers.system.over(row)) for row in rows]
        for row in rows:
            told_span.take(system.over(row))
        if rows and not any(new):
            parts = [hard_span.parts(numbers.system.over(row)) for row in rows]
            mine = {owners[k] for share in parts for k in np.flatnonzero(np.abs(share) > 1e-5).tolist()}
            out.twice[one.id] = sorted(mine - {one.id})
        owners += [one.id for is_new in new if is_new]
    out.span = told_span
    out.missing = _rank(_own(numbers, system) @ out.motions.T)
    out.loose = _loose(numbers, system, out.motions) if out.missing else set()
    return out


def _own(numbers: PartNumbers, system: System) -> Array:
    """How the part's own numbers change with those that are free, which may be of center lines too."""
    return np.array([system.over({v: 1.0}) for v in range(len(numbers.parameters.words))])


def _rank(m: Array) -> int:
    return int(np.linalg.matrix_rank(m, tol=1e-5)) if m.size else 0


def _loose(numbers: PartNumbers, system: System, motions: Array) -> set[str]:
    """Faces that move where the numbers change as nothing hinders."""
    p = numbers.parameters
    out = set()
    for s in p.solid.surfaces.values():
        points = s.points
        rates = np.abs(np.array([system.over(p.moves(s, at)) for at in points]) @ motions.T)
        if rates.max() > 1e-5:
            out.add(s.name)
    return out


def _contexts(drawing: Drawing, facts: Facts) -> Iterator[tuple[AnnotationBase, Context]]:
    for sheet in drawing.sheets:
        for a in sheet.annotations:
            view = sheet.view_of(a)
            if view is not None:
                yield a, Context(drawing, sheet, facts, view)


def _said(
    drawing: Drawing, facts: Facts, numbers: PartNumbers, progress: Callable[[float], None]
) -> Iterator[Told]:
    every = list(_contexts(drawing, facts))
    for n, (a, context) in enumerate(every):
        if n % STRIDE == 0:
            progress(n / len(every))
        one = said_by(a, context, numbers)
        if one is not None:
            yield one


def said_by(a: AnnotationBase, context: Context, numbers: PartNumbers) -> Told | None:
    """What an annotation says of the part's numbers; None of kinds that say nothing, of sizes for reference
    and of those whose words replace the value."""
    if isinstance(a, Dimension):
        if a.wording.reference or a.wording.own:
            return None
        return _counted(told.of_size(a, context, numbers.mover), a, numbers)
    if isinstance(a, HoleTable):
        return _tabled(told.of_table(a, context, numbers.mover), a, context, numbers)
    if isinstance(a, HoleCallout | FeatureCallout):
        try:
            rows, faces = _called(a, context, numbers)
        except DraftingError as error:
            return Told(a.id, (), why=str(error))
        return Told(a.id, tuple(rows), frozenset(faces))
    return None


def _called(
    a: HoleCallout | FeatureCallout, context: Context, numbers: PartNumbers
) -> tuple[list[Row], set[str]]:
    """What a callout says of all that it counts."""
    p, known = numbers.parameters, features(numbers.part)
    if isinstance(a, HoleCallout):
        found = hole_callout.called(a, context)
        number = next(n for n, h in enumerate(known.holes) if h is found.hole)
        alike = known.alike(number)
        if a.circle and found.pattern is not None and found.pattern.kind == "circle":
            alike = found.pattern.members  # those that its words count
        alike = alike if (a.count or found.count) >= len(alike) else (number,)
        holes = [known.holes[n] for n in alike]
        rows = [r for h in holes for _, r in features_told.hole_rows(p, h)]
        if a.circle and found.pattern is not None and len(alike) == len(found.pattern.members):
            rows += features_told.circle_rows(p, holes)
        return rows, {n for h in holes for n in h.faces}
    found_feature, words = feature_callout.told(a, context)
    called = found_feature.feature
    if not isinstance(called, Feature):
        return features_told.shaft_rows(p, called), set(called.faces)
    number = next(n for n, f in enumerate(known.others) if f is called)
    equal = known.equals(number)
    count = a.count or len(equal)
    group = [known.others[n] for n in (equal if count == len(equal) else (number,))]
    numbers_said = [v for row in words for v in row if isinstance(v, Value)]
    rows = [
        row
        for f in group
        for name, row in features_told.feature_rows(p, f, numbers.system).items()
        if _is_in(f.size(name), numbers_said)
    ]
    return rows, {n for f in group for n in f.faces}


def _is_in(size: float | None, said: Sequence[Value]) -> bool:
    """Whether a feature's size, mm or degrees, is among the numbers of a callout."""
    return size is not None and any(
        abs((math.degrees(v.value) if v.is_angle else v.value) - size) < features_told.LIKE for v in said
    )


def _tabled(one: Told, table: HoleTable, context: Context, numbers: PartNumbers) -> Told:
    """A hole table with what it says of each hole."""
    if one.why:
        return one
    rows, faces = list(one.rows), set(one.faces)
    known = features(numbers.part)
    for pick in table.picks[1:]:
        found = holes_at(pick, context)[1]
        for n in [meant(pick, known, found, context)] if found else []:
            rows += [row for _, row in features_told.hole_rows(numbers.parameters, known.holes[n])]
            faces |= known.holes[n].faces
    return Told(one.id, tuple(rows), frozenset(faces))


def _counted(one: Told, size: Dimension, numbers: PartNumbers) -> Told:
    """A size with a count, said of each of so many equal ones."""
    count = size.wording.count
    if not count or count < 2 or len(one.rows) == 0:
        return one
    p = numbers.parameters
    rows: list[Row] = list(one.rows)
    faces = set(one.faces)
    known = features(numbers.part)
    for n in known.others_at(sorted(one.faces)):
        equal = known.equals(n)
        if len(equal) != count:
            continue
        sizes = features_told.feature_rows(p, known.others[n], numbers.system)
        for row in one.rows:
            over = numbers.system.over(row)
            name = next((k for k, r in sizes.items() if told.parallel(numbers.system.over(r), over)), None)
            if name is None:
                continue
            for other in equal:
                if other != n:
                    more = features_told.feature_rows(p, known.others[other], numbers.system).get(name)
                    rows += [more] if more else []
                    faces |= known.others[other].faces
        break
    return Told(one.id, tuple(rows), frozenset(faces), one.why)
