"""The basic sizes that a control frame's position or profile lacks, in the views that show them."""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.basic_ties import Unlocated
from drafting.annotation.measuring.located import unlocated
from drafting.annotation.measuring.toleranced import feature_at
from drafting.annotation.placing.rows import NOWHERE
from drafting.annotation.proposing.mate_sizes import sectors, shown_in, stand_ins
from drafting.context import Context
from drafting.document import Dimension, Pick, Wording, new_id
from drafting.errors import SizeError
from drafting.views.geometry import ViewGeometry

LEAST_RING = 3
"""Holes that make a circle."""


def lacking(f: ControlFrame, context: Context) -> list[Unlocated]:
    """What no basic size says of where the frame's feature should be. Raises SizeError where it is gone."""
    feature = feature_at(f.tip, context)
    size = context.sheet.annotation(feature.size) if feature.size else None
    return unlocated(f.rows[0], feature, size, context)


def proposed(
    f: ControlFrame, context: Context, views: Sequence[Context], geometries: Mapping[str, ViewGeometry]
) -> tuple[list[Dimension], int]:
    """Basic sizes for what a frame lacks, each in the view that shows it best, the frame's own before others;
    and for how many there is no view. views: contexts of the views of its sheet; geometries: by view id."""
    out: list[Dimension] = []
    left = 0
    for need in lacking(f, context):
        best: tuple[float, Dimension] | None = None
        for view in views:
            for score, size in _in_view(need, view, geometries[view.view_id]):
                mine = score + (0.5 if view.view_id == f.view else 0.0)
                if best is None or mine > best[0]:
                    best = mine, size
        if best is None:
            left += 1
        else:
            out.append(best[1])
    return out, left


def _bolt_circle(
    need: Unlocated, context: Context, shown: Mapping[tuple[str, str], float]
) -> list[tuple[float, Dimension]]:
    """The diameter of the circle that holes lie on about an axis, where a view looks into them."""
    found = [stand_ins(path, face, True, shown, context)[:1] for path, face in need.ring]
    if not all(found) or any(p.role == "silhouette" for f in found for _, p in f):
        return []
    picks = [f[0][1].model_copy(update={"point": ""}) for f in found]
    size = DiameterDimension(
        id=new_id(),
        view=context.view_id,  # type: ignore[call-arg]
        picks=picks,
        place=NOWHERE,
        wording=Wording(basic=True),
    )
    try:
        fits = abs(registry.value(size, context) - 2 * need.distance) < 1e-4
    except SizeError:
        return []
    return [(min(f[0][0] for f in found), size)] if fits else []


def _about(
    path: str, face_name: str, shown: Mapping[tuple[str, str], float], context: Context
) -> list[tuple[float, Pick]]:
    """The middles of all circles about the axis of a face, at whatever depth."""
    found, face = context.facts.part_of(path), context.facts.face_of(path, face_name)
    if found is None or face is None:
        return []
    axis, at = np.array(face.axis), np.array(face.origin)
    out = []
    for edge in found[1].edges:
        if edge.kind != "circle" or edge.center is None or edge.axis is None or not edge.closed:
            continue
        off = np.array(edge.center) - at
        if abs(float(axis @ edge.axis)) > 1 - 1e-9 and np.linalg.norm(np.cross(off, axis)) < 1e-6:
            pick = Pick(instance=path, source=edge.name, point="center")
            out.append((shown.get((path, edge.name), 0.0), pick))
    return sorted(out, key=lambda one: -one[0])


def _angles(
    need: Unlocated, context: Context, shown: Mapping[tuple[str, str], float]
) -> Iterator[tuple[float, Dimension]]:
    """Angles between lines that stand for the two, or at the axis that both lie about."""
    ends = []
    for path, face in (need.datum, need.center, need.feature) if need.center else (need.datum, need.feature):
        known = context.facts.face_of(path, face)
        ends.append(stand_ins(path, face, known is not None and known.kind != "plane", shown, context))
    if need.center:
        ends[1] = _about(*need.center, shown, context) or ends[1]
    of_plane = context.facts.face_of(*need.datum)
    if need.center and of_plane is not None and of_plane.kind == "plane":
        ends[0] = [
            (score, pick.model_copy(update={"point": "quadrant", "quarter": quarter}))
            for score, pick in ends[1]
            if pick.point == "center"
            for quarter in range(4)
        ]
    for chosen in itertools.product(*ends):
        angle = AngleDimension(
            id=new_id(),
            view=context.view_id,  # type: ignore[call-arg]
            picks=[pick for _, pick in chosen],
            place=NOWHERE,
            wording=Wording(basic=True),
        )
        ways = [0] if need.center else sectors(angle, context)
        for size in [angle.model_copy(update={"sector": way}) for way in ways]:
            try:
                value = registry.value(size, context)
            except SizeError:
                continue
            ways_to_say = [need.angle, math.pi - need.angle]
            if need.center:  # the right angles between are implied
                ways_to_say += [math.pi / 2 - need.angle, math.pi / 2 + need.angle]
            if min(abs(value - way) for way in ways_to_say) < 1e-6:
                yield min(score for score, _ in chosen) - 0.1 * value, size
                break


def _in_view(need: Unlocated, context: Context, geometry: ViewGeometry) -> list[tuple[float, Dimension]]:
    shown = shown_in(geometry)
    out: list[tuple[float, Dimension]] = []
    if need.angle:
        return list(_angles(need, context, shown))
    if len(need.ring) >= LEAST_RING:
        return _bolt_circle(need, context, shown)
    ends = []
    for path, face in (need.datum, need.feature):
        known = context.facts.face_of(path, face)
        is_axis = known is not None and known.kind != "plane"
        ends.append(stand_ins(path, face, is_axis, shown, context))
    for a, p in ends[0]:
        for b, q in ends[1]:
            for direction in ("horizontal", "vertical", "aligned"):
                size = LinearDimension(
                    id=new_id(),
                    view=context.view_id,  # type: ignore[call-arg]
                    picks=[p, q],
                    place=NOWHERE,
                    direction=direction,
                    wording=Wording(basic=True),
                )
                try:
                    value = registry.value(size, context)
                except SizeError:
                    continue
                if abs(value - need.distance) < 1e-4:
                    out.append((min(a, b), size))
                    break
    return out
