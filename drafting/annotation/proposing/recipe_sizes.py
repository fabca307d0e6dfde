"""Sizes of a part that its recipe is made of: each number once, in the view that shows it true and best."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from drafting.annotation import registry
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.radius import RadiusDimension
from drafting.annotation.measuring.others import CALLOUTS
from drafting.annotation.measuring.picked_features import faces_at, holes_at
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing.mate_sizes import sectors, shown_in, stand_ins
from drafting.annotation.review import redundancy
from drafting.context import Context
from drafting.document import Dimension, Drawing, Pick, Sheet, in_view, new_id
from drafting.errors import SizeError
from drafting.model.model import Facts
from drafting.model.own_numbers import Decides, Number
from drafting.views.geometry import ViewGeometry

EXACT = 1e-6


@dataclass(frozen=True)
class OwnSize:
    """A number of the recipe and the size that says it, without a place yet; why: the sentence that says why
    there is none."""

    of: Number
    size: Dimension | None = None
    view: str = ""
    why: str = ""


def own_sizes(
    drawing: Drawing,
    sheet: Sheet,
    geometries: Mapping[str, ViewGeometry],
    facts: Facts,
    decided: Sequence[Decides],
    only_view: str = "",
    only_features: Sequence[str] = (),
) -> list[OwnSize]:
    """All numbers of a part's recipe that decide something, each once. geometries: of the sheet's views, by
    id; only_view, only_features: what is asked for, empty for all."""
    known = redundancy.index(redundancy.stated(drawing, facts))
    called = _called_out(drawing, facts)
    views = [
        v
        for v in sheet.views
        if v.id in geometries and not v.is_pictorial and v.kind != "detail" and only_view in ("", v.id)
    ]
    by_number: dict[str, list[Decides]] = {}
    for d in decided:
        mine = {d.of.feature, *(name.split("/")[0] for name in d.faces)}
        if not only_features or mine & set(only_features):
            by_number.setdefault(repr(d.of.key), []).append(d)
    out = []
    for ways in by_number.values():
        if any(_is_said(d, called) for d in ways):
            out.append(OwnSize(ways[0].of, why="A callout says it."))
            continue
        found = [
            (score - 0.3 * n, size, context)
            for n, d in enumerate(ways)
            for v in views
            for context in [Context(drawing, sheet, facts, v)]
            for score, size in in_view_of(d, context, shown_in(geometries[v.id]))
        ]
        twice = [one for one in found if redundancy.repeats(one[1], one[2], known) is not None]
        if twice:
            out.append(OwnSize(ways[0].of, why="It is on the drawing already."))
        elif not found:
            out.append(OwnSize(ways[0].of, why="No view of this sheet shows it squarely."))
        else:
            _, size, context = max(found, key=lambda one: one[0])
            out.append(OwnSize(ways[0].of, size, context.view_id))
            statement = redundancy.statement_of(size, context)
            if statement is not None:
                known.setdefault(statement.key, []).append(size)
    return out


def _is_said(d: Decides, called: set[str]) -> bool:
    """Whether a callout of the feature says the number: its diameters, and its depths and angles."""
    if len(d.faces) == 1:
        return d.faces[0] in called
    word = next((k for k in reversed(d.of.key) if isinstance(k, str)), "")
    return word in ("depth", "angle") and any(name in called for name in d.faces)


def _called_out(drawing: Drawing, facts: Facts) -> set[str]:
    """Faces of the holes that callouts say, of those equal to them, and of the features that callouts say."""
    out: set[str] = set()
    for a, home in Context(drawing, drawing.sheets[0], facts).of_annotations(*CALLOUTS):
        found = facts.part_of(a.picks[0].instance)
        if found is None:
            continue
        if not isinstance(a, HoleCallout):
            out.update(faces_at(a.picks[0], found[1]))
            continue
        known, numbers = holes_at(a.picks[0], home)
        alike = {n for number in numbers for n in known.alike(number)}
        out |= {name for n in alike for name in known.holes[n].faces}
    return out


def in_view_of(
    d: Decides, context: Context, shown: Mapping[tuple[str, str], float], within: float = EXACT
) -> Iterator[tuple[float, Dimension]]:
    """Sizes of what a number decides that a view can bear, each with how well it shows there. within: how far
    it may lie from the value, mm or radians."""
    (instance,) = context.facts.instances
    ends = []
    for name in d.faces:
        face = context.facts.face_of(instance.path, name)
        if face is None:
            return
        ends.append((face.kind != "plane", name))
    if len(ends) == 1:
        yield from _round(d, instance.path, ends[0][1], context, shown, within)
        return
    one, two = (stand_ins(instance.path, name, is_axis, shown, context) for is_axis, name in ends)
    for a, p in one:
        for b, q in two:
            for size in _between(d, p, q, context):
                if _is_right(size, d, context, within):
                    yield min(a, b) + 0.1 * (a + b), size
                    return


def _between(d: Decides, p: Pick, q: Pick, context: Context) -> Iterator[Dimension]:
    base: Any = {"id": new_id(), "place": NOWHERE, "anchor": in_view(context.view_id, [p, q])}
    if d.kind == "angle":
        angle = AngleDimension(**base)
        yield from (angle.model_copy(update={"sector": way}) for way in sectors(angle, context))
        return
    for direction in ("horizontal", "vertical", "aligned"):
        yield LinearDimension(**base, direction=direction)


def _round(
    d: Decides,
    path: str,
    name: str,
    context: Context,
    shown: Mapping[tuple[str, str], float],
    within: float,
) -> Iterator[tuple[float, Dimension]]:
    """A diameter or a radius, on the circle where it is seen round, else across its outlines."""
    found = context.facts.part_of(path)
    if found is None:
        return
    edges = [e for e in found[1].edges if name in e.faces and e.kind == "circle"]
    for edge in sorted(edges, key=lambda e: -shown.get((path, e.name), 0.0)):
        score = shown.get((path, edge.name), 0.0)
        base: Any = {"id": new_id(), "place": NOWHERE}
        anchor = in_view(context.view_id, [Pick(instance=path, source=edge.name)])
        kind = RadiusDimension if d.kind == "radius" else DiameterDimension
        size: Dimension = kind(**base, anchor=anchor)
        if score and _is_right(size, d, context, within) and _is_drawn(size, context):
            yield score, size
            return
    if d.kind == "radius" and (side := shown.get((path, name), 0.0)):
        for way in (1, -1):  # the outline of what is turned from an arc
            pick = Pick(instance=path, source=name, role="silhouette", side=way)  # type: ignore[arg-type]
            size = RadiusDimension(id=new_id(), place=NOWHERE, anchor=in_view(context.view_id, [pick]))
            if _is_right(size, d, context, within) and _is_drawn(size, context):
                yield side, size
                return
    if d.kind == "diameter":
        side = shown.get((path, name), 0.0)
        pick = Pick(instance=path, source=name, role="silhouette", side=1)
        other = LinearDimension(
            id=new_id(), place=NOWHERE, anchor=in_view(context.view_id, [pick]), reading="across"
        )
        if side and _is_right(other, d, context, within) and _is_drawn(other, context):
            yield side, other


def _is_right(size: Dimension, d: Decides, context: Context, within: float) -> bool:
    try:
        return abs(registry.value(size, context) - d.value) < within
    except SizeError:
        return False


def _is_drawn(size: Dimension, context: Context) -> bool:
    try:
        registry.size_ink(size, context)
    except SizeError:
        return False
    return True
