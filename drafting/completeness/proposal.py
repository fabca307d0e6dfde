"""A lean set of sizes: with what is on the drawing they say every number of the part, each once, in the view
that shows it best. Sizes a drafter would think of are tried one after another; one is taken if it says what
those before it leave free."""

import itertools
import math
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds.bolt_circle import BoltCircle
from drafting.annotation.kinds.chamfer import ChamferDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing import call_out
from drafting.annotation.proposing.mate_sizes import shown_in, stand_ins
from drafting.annotation.proposing.recipe_sizes import in_view_of
from drafting.completeness import features_told
from drafting.completeness.elimination import RANK, Span
from drafting.completeness.gaps import LEAN
from drafting.completeness.parameters import Parameters, less
from drafting.completeness.surfaces import Surface
from drafting.completeness.told import Told
from drafting.completeness.verdict import PartNumbers, Verdict, said_by, verdict
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Pick, Sheet, Wording, in_view, new_id
from drafting.errors import DraftingError, SizeError
from drafting.features.recognized import Features, features
from drafting.model.model import Facts
from drafting.model.own_numbers import Decides, Number
from drafting.views.geometry import ViewGeometry

Shown = Mapping[tuple[str, str], float]
"""How well edges and faces are seen in a view, by instance and name."""
Ranked = tuple[int, float, AnnotationBase]
"""A size or a callout, how late it is thought of, and how well it is seen."""
Maker = Callable[[PartNumbers, Context, Shown], Iterator[Ranked]]
WITHIN = 2e-3
"""How far a size may lie from what the scaled numbers say, mm: as far as places may lie that are one."""
MOST_TRIED = 400
"""Edges of a sheet that are tried."""
MAIN = 0.05
"""How much better a main view is, and a section."""
ALIKE = 1e-3


@dataclass(frozen=True)
class Proposed:
    """A size or a callout without a place yet, and the view it is for."""

    annotation: AnnotationBase
    view: str


def proposal(
    drawing: Drawing, sheet: Sheet, geometries: Mapping[str, ViewGeometry], facts: Facts
) -> list[Proposed]:
    """What to add to a sheet so that its views say all they can. geometries: of its views, by id. Raises
    SizeError where nothing can be told of the part."""
    found = verdict(drawing, facts)
    if found.why_not or found.numbers is None or found.span is None or found.system is None:
        raise SizeError(found.why_not or "Sizes are proposed for drawings of one part.")
    views = [v for v in sheet.views if v.id in geometries and not v.is_pictorial and v.kind != "detail"]
    contexts = [Context(drawing, sheet, facts, v) for v in views]
    return _Lean(found, found.numbers, found.span.copy(), contexts, geometries).proposed()


class _Lean:
    """The set while it grows."""

    def __init__(
        self,
        found: Verdict,
        numbers: PartNumbers,
        span: Span,
        contexts: list[Context],
        geometries: Mapping[str, ViewGeometry],
    ) -> None:
        self.found, self.numbers, self.span = found, numbers, span
        self.contexts, self.geometries = contexts, geometries
        self.shown = {c.view_id: shown_in(geometries[c.view_id]) for c in contexts}
        self.out: list[Proposed] = []
        self.least = LEAN
        self.left = found.missing
        """How many numbers are still free."""

    def proposed(self) -> list[Proposed]:
        """All that says something new."""
        for context in self.contexts:
            for callout, *_ in call_out.lacking(self.geometries[context.view_id], context):
                if not self._is_called(callout):
                    self._take(callout.model_copy(update={"id": new_id()}), context)
        self._try_all(_bolt_circles)
        self._try_all(_threads)
        for d in _wanted(self.numbers, self.found):
            if self.left and self._is_new(d):
                self._place(d)
        self._try_all(_chamfers)
        self._try_all(_edges)
        self.least = RANK  # what is still free hangs on numbers that others all but settle
        self._try_all(_edges)
        return self.out

    def _try_all(self, made: Maker) -> None:
        if not self.left:
            return
        for size, context in itertools.islice(self._best_first(made), MOST_TRIED):
            if self.left and _is_drawn(size, context):
                self._take(size, context)

    def _best_first(self, made: Maker) -> Iterator[tuple[AnnotationBase, Context]]:
        """Sizes of all views, those that are seen best first, of whatever rank they have first."""
        found = [
            (rank, -score - self._bonus(c), n, size, c)
            for c in self.contexts
            for n, (rank, score, size) in enumerate(made(self.numbers, c, self.shown[c.view_id]))
        ]
        for _, _, _, size, context in sorted(found, key=lambda one: one[:3]):
            yield size, context

    def _bonus(self, context: Context) -> float:
        return MAIN if context.view and context.view.kind in ("main", "section") else 0.0

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
        trial = self.span.copy()
        return sum(trial.take(self.found.system.over(row), self.least) for row in said.rows)

    def _is_new(self, d: "_Wanted") -> bool:
        return self._new(Told("", d.rows)) > 0

    def _take(self, a: AnnotationBase, context: Context) -> bool:
        assert self.found.system is not None
        said = said_by(a, context, self.numbers)
        if said is None or said.why or not self._new(said):
            return False
        self.left -= sum(self.span.take(self.found.system.over(row), self.least) for row in said.rows)
        self.out.append(Proposed(a, context.view_id))
        return True

    def _place(self, wanted: "_Wanted") -> None:
        """The size in the view that shows it best and says something new."""
        ways = [
            (score + self._bonus(c), size, c)
            for c in self.contexts
            for score, size in in_view_of(wanted.what, c, self.shown[c.view_id], WITHIN)
        ]
        for _, size, context in sorted(ways, key=lambda way: -way[0]):
            if self._take(self._counted(size, context, wanted), context):
                return

    def _counted(self, size: Dimension, context: Context, wanted: "_Wanted") -> Dimension:
        """The size with a count, where that says more."""
        if wanted.alike < 2:
            return size
        many = size.model_copy(update={"wording": Wording(count=wanted.alike)})
        alone, together = (said_by(s, context, self.numbers) for s in (size, many))
        is_more = alone is not None and together is not None and self._new(together) > self._new(alone)
        return many if is_more else size


@dataclass(frozen=True)
class _Wanted:
    """A size a drafter would think of: what it is taken on, its rows, and how many features are like its
    own."""

    what: Decides
    rows: tuple[dict[int, float], ...]
    alike: int = 1


def _wanted(numbers: PartNumbers, found: Verdict) -> Iterator[_Wanted]:
    """The better first: overall sizes, those of features, what is round, what lies on both sides of a center
    line, and where all else lies from its datum; angles last."""
    p, known = numbers.parameters, features(numbers.part)
    yield from _overall(p)
    yield from _of_features(p, known)
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind in ("cylinder", "sphere"):
            yield _round(p, s, known)
        elif s.kind == "torus":
            yield _Wanted(_decides("radius", [s.name], s.radius * p.solid.half), ({s.v["radius"]: 1.0},))
    for k in [*p.main_ways(), *(k for k in range(len(p.ways)) if k not in p.main_ways())]:
        yield from _in_pairs(p, k, [level for way, level in found.middles if way == k])
        yield from _from_datum(p, k)
    yield from _between_axes(p)
    yield from _angles(p, {n for f in known.others if f.kind == "chamfer" for n in f.faces})


def _decides(kind: str, faces: list[str], value: float) -> Decides:
    return Decides(of=Number(key=[], called="", value=0.0), kind=kind, faces=faces, value=value)  # type: ignore[arg-type]


def _round(p: Parameters, s: Surface, known: Features) -> _Wanted:
    is_whole = s.kind == "sphere" or s.sweep > 3.2
    others = known.others_at([s.name])
    alike = len(known.equals(others[0])) if others else 1
    size = (2 if is_whole else 1) * s.radius * p.solid.half
    return _Wanted(
        _decides("diameter" if is_whole else "radius", [s.name], size), ({s.v["radius"]: 1.0},), alike
    )


@dataclass(frozen=True)
class _Thing:
    """A flat face or an axis at a level of a direction."""

    level: float
    row: dict[int, float]
    face: Surface
    is_axis: bool


def _things(p: Parameters, k: int) -> list[_Thing]:
    """Flat faces square to a direction, one for each level, and axes across it; the largest first."""
    u = p.ways[k].u
    out: list[_Thing] = []
    seen: set[int] = set()
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind == "plane" and s.way == k and s.v["level"] not in seen:
            seen.add(s.v["level"])
            out.append(_Thing(float(s.at @ u), {s.v["level"]: 1.0}, s, False))
    main = p.main_ways()
    for line in p.lines:
        if not line.faces or line.is_corner or abs(float(p.ways[line.way].u @ u)) > 1e-6:
            continue
        round_ones = [s for s in line.faces if s.kind in ("cylinder", "cone")]
        if round_ones and (k in main or line.way not in main):
            largest = max(round_ones, key=lambda s: s.bulk)
            out.append(_Thing(float(line.foot @ u), p.height(k, line), largest, True))
    return out


def _between(p: Parameters, a: _Thing, b: _Thing, alike: int = 1) -> _Wanted:
    row = {v: b.row.get(v, 0.0) - a.row.get(v, 0.0) for v in {*a.row, *b.row}}
    value = abs(b.level - a.level) * p.solid.half
    return _Wanted(_decides("distance", [a.face.name, b.face.name], value), (row,), alike)


def _overall(p: Parameters) -> Iterator[_Wanted]:
    for k in p.main_ways():
        flat = sorted((t for t in _things(p, k) if not t.is_axis), key=lambda t: t.level)
        if len(flat) > 1:
            yield _between(p, flat[0], flat[-1])


def _of_features(p: Parameters, known: Features) -> Iterator[_Wanted]:
    """Widths and lengths within features, then how deep their floors lie."""
    done: set[int] = set()
    for n, f in sorted(enumerate(known.others), key=lambda one: one[1].kind in ("boss", "pad", "rib")):
        if n in done or f.kind in ("chamfer", "fillet", "round", "taper", "flat"):
            continue
        done |= set(known.equals(n))
        alike = len(known.equals(n))
        own = {name for name in f.faces if name in p.solid.surfaces}
        near = {m for name in own for m in p.solid.beside[name]} - own
        for k in range(len(p.ways)):
            things = _things(p, k)
            mine = [t for t in things if t.face.name in own]
            for is_axis in (False, True):
                same = sorted((t for t in mine if t.is_axis == is_axis), key=lambda t: t.level)
                if len(same) > 1 and abs(same[-1].level - same[0].level) > ALIKE:
                    yield _between(p, same[0], same[-1], alike)
            into = abs(float(p.ways[k].u @ np.array(f.direction))) > 1 - 1e-6
            around = [t for t in things if t.face.name in near and not t.is_axis]
            for t in [t for t in mine if not t.is_axis] if into else []:
                yield from (_between(p, t, o, alike) for o in around if abs(o.level - t.level) > ALIKE)


def _in_pairs(p: Parameters, k: int, middles: list[float]) -> Iterator[_Wanted]:
    """What mirrors in a center line, axes before faces: the distance of both."""
    things = sorted(_things(p, k), key=lambda t: not t.is_axis)
    for middle in middles:
        for i, a in enumerate(things):
            for b in things[:i]:
                is_pair = a.is_axis == b.is_axis and abs(a.level + b.level - 2 * middle) < 1e-4
                is_like = (
                    abs(a.face.radius - b.face.radius) < ALIKE and abs(a.face.bulk - b.face.bulk) < ALIKE
                )
                if is_pair and is_like and abs(a.level - b.level) > ALIKE:
                    yield _between(p, a, b)


def _from_datum(p: Parameters, k: int) -> Iterator[_Wanted]:
    """From the outermost face with the most surface, else from the main axis: axes first."""
    things = _things(p, k)
    flat = [t for t in things if not t.is_axis]
    if flat:
        low, high = min(t.level for t in flat), max(t.level for t in flat)
        base = max(flat, key=lambda t: (t.level in (low, high), t.face.bulk))
    elif things:
        base = things[0]
    else:
        return
    for t in sorted(things, key=lambda t: not t.is_axis):
        if t is not base and abs(t.level - base.level) > 1e-6:
            yield _between(p, base, t)
    for a in things:  # where the datum's own edge is not seen
        for b in things:
            if a.level < b.level - 1e-6 and base not in (a, b):
                yield _between(p, a, b)


def _between_axes(p: Parameters) -> Iterator[_Wanted]:
    """Of parallel axes, however they lie to each other."""
    lines = [x for x in p.lines if x.faces and not x.is_corner]
    for i, x in enumerate(lines):
        for y in lines[:i]:
            gap = x.foot - y.foot
            far = float(np.linalg.norm(gap))
            if x.way == y.way and far > ALIKE:
                row = less(p.carried(x, x.foot, gap / far), p.carried(y, y.foot, gap / far))
                ends = [max(line.faces, key=lambda s: s.bulk).name for line in (y, x)]
                yield _Wanted(_decides("distance", ends, far * p.solid.half), (row,))


def _angles(p: Parameters, chamfers: set[str]) -> Iterator[_Wanted]:
    """Of slanting faces to those of the main directions that they meet."""
    main = p.main_ways()
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind != "plane" or s.way in main or s.name in chamfers:
            continue
        for name in sorted(p.solid.beside[s.name]):
            t = p.solid.surfaces.get(name)
            if t is None or t.kind != "plane" or t.way not in main:
                continue
            c = float(s.axis @ t.axis)
            if 0.02 < abs(c) < 0.9999:
                row = features_told.angle_row(p, s, t)
                for angle in (math.pi - math.acos(c), math.acos(c)):
                    yield _Wanted(_decides("angle", [s.name, t.name], angle), (row,))


def _bolt_circles(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Diameters of the bolt circles that a view shows."""
    assert context.view is not None
    for a in context.sheet.annotations:
        if isinstance(a, BoltCircle) and a.view == context.view_id:
            anchor = in_view(context.view_id, a.picks)
            yield 0, 1.0, DiameterDimension(id=new_id(), place=NOWHERE, anchor=anchor)


def _chamfers(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Chamfers seen along their edges, or as the outline of a cone, with as many as are like them."""
    known, path = features(numbers.part), context.facts.instances[0].path
    for n, f in enumerate(known.others):
        if f.kind != "chamfer":
            continue
        count = len(known.equals(n))
        edges = [e.name for e in numbers.part.edges if f.faces & set(e.faces) and e.kind == "line"]
        picks = [(Pick(instance=path, source=e), shown.get((path, e), 0.0)) for e in edges]
        for name in sorted(f.faces):
            side = Pick(instance=path, source=name, role="silhouette", side=1)
            picks.append((side, shown.get((path, name), 0.0)))
            picks.append((side.model_copy(update={"role": "cut"}), shown.get((path, name), 0.0)))
        for pick, score in picks:
            wording = Wording(count=count) if count > 1 else Wording()
            anchor = in_view(context.view_id, [pick])
            size = ChamferDimension(id=new_id(), place=NOWHERE, anchor=anchor, wording=wording)
            if score:
                yield 0, score, size


def _edges(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Where edges lie that no two faces square to each other make: their diameters, lengths, and the places
    of their ends from the datum."""
    p, path = numbers.parameters, context.facts.instances[0].path
    for rim in p.solid.rims:
        found = [p.solid.surfaces[n] for n in rim.faces if n in p.solid.surfaces]
        score = shown.get((path, rim.fact.name), 0.0)
        if not score or rim.is_seam or len(found) != 2 or (rim.is_smooth and rim.fact.kind != "circle"):
            continue
        late = 3 if rim.is_smooth else 0
        pick = Pick(instance=path, source=rim.fact.name)
        base: Any = {"id": new_id(), "place": NOWHERE}
        if rim.fact.kind == "circle":
            round_one = in_view(context.view_id, [pick])
            yield late, score, DiameterDimension(id=new_id(), place=NOWHERE, anchor=round_one)
            yield (
                late,
                score,
                LinearDimension(**base, anchor=in_view(context.view_id, [pick]), reading="across"),
            )
        elif rim.fact.kind == "line":
            yield 1, score, LinearDimension(**base, anchor=in_view(context.view_id, [pick]))
        for k in p.main_ways():
            datum = _datum(p, k)
            if datum is None:
                continue
            for better, stand in stand_ins(path, datum.name, False, shown, context)[:1]:
                for point in ("", "start", "end"):
                    end = pick.model_copy(update={"point": point or None})
                    anchor = in_view(context.view_id, [stand, end])
                    base["id"] = new_id()
                    for way in ("horizontal", "vertical"):
                        yield 2, min(score, better), LinearDimension(**base, anchor=anchor, direction=way)  # type: ignore[arg-type]


def _datum(p: Parameters, k: int) -> Surface | None:
    """The outermost face with the most surface square to a direction."""
    flat = [t for t in _things(p, k) if not t.is_axis]
    if not flat:
        return None
    low, high = min(t.level for t in flat), max(t.level for t in flat)
    return max(flat, key=lambda t: (t.level in (low, high), t.face.bulk)).face


def _threads(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Callouts of the threads of shafts, on their outlines."""
    path = context.facts.instances[0].path
    for shaft in features(numbers.part).shafts:
        for name in shaft.faces if shaft.thread else ():
            pick = Pick(instance=path, source=name, role="silhouette", side=1)
            anchor = in_view(context.view_id, [pick])
            yield 0, shown.get((path, name), 0.0), FeatureCallout(id=new_id(), place=NOWHERE, anchor=anchor)


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
