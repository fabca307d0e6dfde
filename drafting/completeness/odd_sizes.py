"""Sizes and callouts that no two faces square to each other make: of bolt circles, chamfers, lone edges and
threads of shafts, as each view could bear them."""

from collections.abc import Iterator, Mapping
from typing import Any

from drafting.annotation.kinds.bolt_circle import BoltCircle
from drafting.annotation.kinds.chamfer import ChamferDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing.mate_sizes import stand_ins
from drafting.completeness.parameters import edges_at_slants
from drafting.completeness.verdict import PartNumbers
from drafting.completeness.wanted import Choice, datum_along
from drafting.context import Context
from drafting.document import AnnotationBase, Pick, Wording, in_view, new_id
from drafting.features.recognized import features

Shown = Mapping[tuple[str, str], float]
"""How well edges and faces are seen in a view, by instance and name."""
Ranked = tuple[int, float, AnnotationBase]
"""A size or a callout, how late it is thought of, and how well it is seen."""


def bolt_circles(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Diameters of the bolt circles that a view shows."""
    assert context.view is not None
    for a in context.sheet.annotations:
        if isinstance(a, BoltCircle) and a.view == context.view_id:
            anchor = in_view(context.view_id, a.picks)
            yield 0, 1.0, DiameterDimension(id=new_id(), place=NOWHERE, anchor=anchor)


def chamfers(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
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


def edges(
    numbers: PartNumbers,
    context: Context,
    shown: Shown,
    choice: Choice = Choice(),  # noqa: B008  frozen
) -> Iterator[Ranked]:
    """Where edges lie that no two faces square to each other make: their diameters, lengths, and the places
    of their ends from the datum."""
    p, path = numbers.parameters, context.facts.instances[0].path
    datums = [d for k in p.main_ways() if (d := datum_along(p, k, choice)) is not None]
    stands = [s for d in datums for s in stand_ins(path, d.name, False, shown, context)[:1]]
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
        for better, stand in stands:
            for point in ("", "start", "end"):
                end = pick.model_copy(update={"point": point})
                anchor = in_view(context.view_id, [stand, end])
                base["id"] = new_id()
                for way in ("horizontal", "vertical"):
                    yield 2, min(score, better), LinearDimension(**base, anchor=anchor, direction=way)  # type: ignore[arg-type]


def slanting_axes(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """How far what goes in at a slant lies from the edges of the face that it goes into: from its circle
    where that is seen round, from its axis where an edge is seen end-on."""
    path = context.facts.instances[0].path
    for axis, edge in edges_at_slants(numbers.parameters):
        faces = {s.name for s in axis.faces}
        circles = [e for e in numbers.part.edges if e.kind == "circle" and faces & set(e.faces)]
        middles = [Pick(instance=path, source=e.name, point="center") for e in circles]
        lines = [Pick(instance=path, source=n, role="silhouette") for n in sorted(faces)]
        for one in [*middles, *lines]:
            score = min(shown.get((path, one.source), 0.0), shown.get((path, edge.fact.name), 0.0))
            for end in ("", "start") if score else ():
                other = Pick(instance=path, source=edge.fact.name, point=end)  # type: ignore[arg-type]
                anchor = in_view(context.view_id, [other, one])
                yield 0, score, LinearDimension(id=new_id(), place=NOWHERE, anchor=anchor)


def threads(numbers: PartNumbers, context: Context, shown: Shown) -> Iterator[Ranked]:
    """Callouts of the threads of shafts, on their outlines."""
    path = context.facts.instances[0].path
    for shaft in features(numbers.part).shafts:
        for name in shaft.faces if shaft.thread else ():
            pick = Pick(instance=path, source=name, role="silhouette", side=1)
            anchor = in_view(context.view_id, [pick])
            yield 0, shown.get((path, name), 0.0), FeatureCallout(id=new_id(), place=NOWHERE, anchor=anchor)
