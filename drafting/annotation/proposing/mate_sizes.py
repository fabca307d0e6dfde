"""Sizes of an assembly: what positions its parts. Each offset and angle of a mate once, in the view that
shows it best; no part's own sizes."""

import itertools
import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds import angles
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.traces import Straight
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.review import redundancy
from drafting.context import Context
from drafting.document import Dimension, Drawing, Pick, Sheet, View, in_view, new_id
from drafting.errors import SizeError
from drafting.model.model import Facts, MateFact
from drafting.views.frame import Array
from drafting.views.geometry import ViewGeometry

FLAT = 1e-6
MOST_EDGES = 6
"""Edges of a face that are tried, the best shown first."""
CUT = 0.05
"""How much better a face is seen where it is cut than at its edge."""


@dataclass(frozen=True)
class MateSizes:
    """Sizes without a place yet, by the view they are for; left_out: mates that no view shows, or that are
    sized already, with a sentence."""

    sizes: list[Dimension]
    left_out: list[str]


def sizes_of_mates(
    drawing: Drawing, sheet: Sheet, geometries: Mapping[str, ViewGeometry], facts: Facts
) -> MateSizes:
    """Sizes for all mates of the assembly that hold parts at a distance or an angle. geometries: of the
    sheet's views, by id."""
    known = redundancy.index(redundancy.stated(drawing, facts))
    views = [
        v
        for v in sheet.views
        if v.id in geometries and not v.is_pictorial and v.kind != "detail" and not v.exploded
    ]
    sizes: list[Dimension] = []
    left_out: list[str] = []
    for mate in facts.mates:
        if "/" in mate.id or (mate.kind != "angle" and abs(mate.value) < FLAT):
            continue  # what positions the parts of a subassembly stands on its own drawing
        best: tuple[float, Dimension, Context] | None = None
        for view in views:
            context = Context(drawing, sheet, facts, view)
            for shown, size in _in_view(mate, view, geometries[view.id], context):
                if best is None or shown > best[0]:
                    best = (shown, size, context)
        if best is None:
            left_out.append(f"{_called(mate)} is not seen squarely in a view of this sheet.")
        elif redundancy.repeats(best[1], best[2], known) is not None:
            left_out.append(f"{_called(mate)} is on the drawing already.")
        else:
            sizes.append(best[1])
            statement = redundancy.statement_of(best[1], best[2])
            if statement is not None:
                known.setdefault(statement.key, []).append(best[1])
    return MateSizes(sizes, left_out)


def _called(mate: MateFact) -> str:
    what = "angle" if mate.kind == "angle" else "distance"
    return f"The {what} of mate {mate.id}"


def _in_view(
    mate: MateFact, view: View, geometry: ViewGeometry, context: Context
) -> Iterator[tuple[float, Dimension]]:
    """Sizes of a mate that a view can bear, each with how well the view shows it (the more the better)."""
    shown = shown_in(geometry)
    one, two = (
        stand_ins(path, face, mate.kind == "concentric", shown, context)
        for path, face in ((mate.of, mate.of_face), (mate.to, mate.to_face))
    )
    base: Any = {"id": new_id(), "place": NOWHERE}
    for (a, p), (b, q) in itertools.product(one, two):
        sizes: list[Dimension] = [LinearDimension(**base, anchor=in_view(view.id, [p, q]))]
        if mate.kind == "angle":
            angle = AngleDimension(**base, anchor=in_view(view.id, [p, q]))
            sizes = [angle.model_copy(update={"sector": sector}) for sector in sectors(angle, context)]
        for size in sizes:
            try:
                value = registry.value(size, context)
            except SizeError:
                continue
            if abs(value - abs(mate.value)) < 1e-5:
                yield min(a, b) + 0.1 * (a + b) + (0.05 if view.kind in ("main", "section") else 0.0), size
                break


def sectors(size: AngleDimension, context: Context) -> list[Literal[0, 1, 2, 3]]:
    """The sectors of an angle, those first in which its legs lie."""

    def lies(sector: Literal[0, 1, 2, 3]) -> float:
        try:
            return min(
                far for _, far in angles.measured(size.model_copy(update={"sector": sector}), context).spans
            )
        except SizeError:
            return -math.inf

    every: list[Literal[0, 1, 2, 3]] = [0, 1, 2, 3]
    return sorted(every, key=lies, reverse=True)


def shown_in(geometry: ViewGeometry) -> dict[tuple[str, str], float]:
    """How far the edges and faces of parts are drawn in a view: 2 where they are seen, 1 where hidden; and a
    little more the longer."""
    out: dict[tuple[str, str], float] = {}
    span = math.dist(geometry.low, geometry.high) or 1.0
    for c in geometry.curves:
        key = (geometry.instances[c.instance], c.source)
        length = math.dist(c.data[:2], c.data[2:4]) / span if c.kind == "line" else 0.1
        out[key] = max(out.get(key, 0.0), (2.0 if c.visible else 1.0) + 0.1 * min(length, 1.0))
    return out


def stand_ins(
    path: str, face_name: str, is_axis: bool, shown: Mapping[tuple[str, str], float], context: Context
) -> list[tuple[float, Pick]]:
    """What stands for a face in a view, each with how well that is seen: edges of a plane seen edge-on, and
    its own line where a section cuts it; circles about an axis, or the axis from the side."""
    found = context.facts.part_of(path)
    face = context.facts.face_of(path, face_name)
    if found is None or face is None:
        return []
    instance, part = found
    m = np.array(instance.matrix)
    axis, out = m[:3, :3] @ np.array(face.axis), []
    along = abs(float(context.frame.matrix[2] @ axis))
    if is_axis:
        if along < FLAT:
            return [
                (shown.get((path, face_name), 0.5), Pick(instance=path, source=face_name, role="silhouette"))
            ]
        if along < 1 - FLAT:
            return []
        for edge in part.edges:
            if face_name in edge.faces and edge.kind == "circle":
                out.append(
                    (shown.get((path, edge.name), 0.0), Pick(instance=path, source=edge.name, point="center"))
                )
    elif along < FLAT:
        across = context.frame.direction(axis)
        cut = Pick(instance=path, source=face_name, role="cut")
        if (path, face_name) in shown and _level(cut, across, context):
            out.append((shown[path, face_name] + CUT, cut))
        for edge in part.edges:
            pick = Pick(instance=path, source=edge.name)
            if face_name in edge.faces and _level(pick, across, context):
                out.append((shown.get((path, edge.name), 0.0), pick))
    return sorted(out, key=lambda found: -found[0])[:MOST_EDGES]


def _level(pick: Pick, across: Array, context: Context) -> bool:
    """Whether an edge is drawn as a line square to a direction of the paper."""
    try:
        thing = resolve(pick, context)
    except SizeError:
        return False
    if not isinstance(thing, Straight):
        return False
    d = context.frame.flat(thing.b) - context.frame.flat(thing.a)
    length = float(np.linalg.norm(d))
    return length > 1e-6 and abs(float(d @ across)) < 1e-6 * length
