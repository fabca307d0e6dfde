"""Which face of a part is seen at a place within a view: planes, cylinders and cones, and only where it is
sure."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from drafting.annotation.measuring.contacts import outline_of, places_on
from drafting.context import Context
from drafting.memory import Memory
from drafting.model.model import EdgeFact, FaceFact, PartFacts
from drafting.views.family import derivation_of
from drafting.views.frame import Array

FACING = 1e-3
NEAR = 0.02
"""How near the border of a curved face it is not told whether a place lies on it, mm."""
GRAZING = 1e-3
"""How near its outline a curved face is not told, mm."""
_AREAS: Memory[shapely.Geometry] = Memory(2000)


@dataclass(frozen=True)
class Hit:
    """Where a line of sight may meet a face. depth: toward the reader, mm; is_sure: whether it does."""

    depth: float
    face: FaceFact
    is_sure: bool


@dataclass(frozen=True)
class _Sight:
    """A line of sight in a part's frame: a place on it and its unit direction toward the reader, (3,)."""

    at: Array
    toward: Array

    def place(self, depth: float) -> Array:
        out: Array = self.at + depth * self.toward
        return out


def face_seen(path: str, place: Array, context: Context) -> FaceFact | None:
    """The face of an instance that is seen at a place (2,), view mm; None where that is not sure, as where
    something is cut away."""
    found = context.facts.part_of(path)
    if found is None or context.view is None:
        return None
    instance, part = found
    if context.view.section or context.view.broken_out:
        cut = derivation_of(context.view, context.facts)
        if cut.is_cut and path not in cut.whole:
            return None
    right, up, toward = np.asarray(context.frame.matrix)
    m = np.array(context.frame.placed(instance, [0.0, 0.0, 0.0]))
    at = context.frame.middle + right * place[0] + up * place[1]
    sight = _Sight((at - m[:3, 3]) @ m[:3, :3], toward @ m[:3, :3])
    hits = [hit for face in part.faces for hit in _hits(face, instance.part, part, sight, context)]
    nearest = max(hits, key=lambda h: h.depth, default=None)
    if nearest is None or not nearest.is_sure:
        return None
    return nearest.face


def _hits(face: FaceFact, name: str, part: PartFacts, sight: _Sight, context: Context) -> Iterator[Hit]:
    if face.kind == "plane":
        yield from _on_plane(face, name, part, sight, context)
    elif face.kind in ("cylinder", "cone") and face.span is not None:
        yield from _on_turned(face, part, sight)
    else:
        yield from _in_box(face, part, sight)


def _on_plane(face: FaceFact, name: str, part: PartFacts, sight: _Sight, context: Context) -> Iterator[Hit]:
    normal = np.array(face.axis)
    facing = float(normal @ sight.toward)
    if facing < FACING:
        return  # a solid's nearest face looks at the reader
    depth = float((np.array(face.origin) - sight.at) @ normal) / facing
    axes = np.array(_across(normal))
    key = (name, face.name)
    area = _AREAS.recall(context.facts, key, lambda: outline_of(face, part, np.eye(4), axes))
    if area.contains(shapely.Point(axes @ sight.place(depth))):
        yield Hit(depth, face, True)


def _across(normal: Array) -> tuple[Array, Array]:
    """Two unit directions across a third."""
    one = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
    one /= np.linalg.norm(one)
    return one, np.cross(normal, one)


def _on_turned(face: FaceFact, part: PartFacts, sight: _Sight) -> Iterator[Hit]:
    """Where a line of sight meets a cylinder or a cone within its borders."""
    axis = np.array(face.axis)
    is_cone = face.kind == "cone"
    base = np.array(face.origin)
    slope = math.tan(face.half_angle) if is_cone else 0.0
    radius = 0.0 if is_cone else face.radius
    off = sight.at - base
    h0, h1 = float(off @ axis), float(sight.toward @ axis)
    p, d = off - axis * h0, sight.toward - axis * h1
    a = float(d @ d) - (slope * h1) ** 2
    b = float(p @ d) - slope * slope * h0 * h1
    c = float(p @ p) - (slope * h0) ** 2 - radius * radius
    if abs(a) < 1e-9:
        roots = [-c / (2 * b)] if abs(b) > 1e-9 else []
    else:
        inside = b * b - a * c
        grazes = abs(inside) < abs(a) * 2 * GRAZING * max(radius, GRAZING)
        roots = [(-b + s * math.sqrt(max(inside, 0.0))) / a for s in (1, -1)] if inside > 0 or grazes else []
    low, high = face.span or (0.0, 0.0)
    for depth in roots:
        at = sight.place(depth)
        if low - NEAR <= float((at - base) @ axis) <= high + NEAR:
            lies = _is_within(at, face, part, base, axis)
            facing = abs(float(sight.toward @ _normal(at, base, axis, slope)))
            if lies is not False:
                yield Hit(depth, face, lies is True and facing > math.sqrt(GRAZING))


def _normal(at: Array, base: Array, axis: Array, slope: float) -> Array:
    off = at - base
    out = off - axis * float(off @ axis)
    out = out / max(float(np.linalg.norm(out)), 1e-12)
    turned = out - axis * slope
    full: Array = turned / np.linalg.norm(turned)
    return full


def _is_within(at: Array, face: FaceFact, part: PartFacts, base: Array, axis: Array) -> bool | None:
    """Whether a place on a turned surface lies within a face of it: how often its meridian crosses the
    border on one side says so. None where it is not clear on either."""
    height = float((at - base) @ axis)
    out = at - base - axis * height
    out = out / max(float(np.linalg.norm(out)), 1e-12)
    side = np.cross(axis, out)
    edges = [e for e in part.edges if face.name in e.faces and not _is_seam(e)]
    for sign in (1.0, -1.0):
        crossed = [_crossings(e, sign, at, base, (axis, out, side), face.kind == "cone") for e in edges]
        if all(n is not None for n in crossed):
            return sum(n for n in crossed if n is not None) % 2 == 1
    return None


def _is_seam(e: EdgeFact) -> bool:
    return e.kind == "line" and len({name for name in e.faces if name}) < 2


def _crossings(
    e: EdgeFact, sign: float, at: Array, base: Array, axes: tuple[Array, Array, Array], is_cone: bool
) -> int | None:
    """How often an edge crosses the meridian of a place beyond it; None where that is not clear. axes: along
    the axis, out to the place, and across both."""
    axis, out, side = axes
    height = float((at - base) @ axis)
    if e.kind not in ("line", "circle"):
        middle, reach = (np.array(e.start) + e.end) / 2, e.length / 2 + NEAR
        way = (at - base) * (1.0 if height > 0 else -1.0) if is_cone else axis
        way = sign * way / max(float(np.linalg.norm(way)), 1e-12)
        along = max(0.0, float((middle - at) @ way))
        return 0 if float(np.linalg.norm(middle - at - along * way)) > reach else None
    p = places_on(e) - base
    if e.closed:
        p[-1] = p[0]  # to the last digit, so that it is not crossed twice
    h, x, y = p @ axis, p @ out, p @ side
    if e.kind == "line":
        beside = float(np.abs(y).min()) < NEAR and float(x.max()) > 0
        return None if beside and float((sign * (h - height)).max()) > -NEAR else 0
    count = 0
    for n in range(len(p) - 1):
        if (y[n] > 0) == (y[n + 1] > 0) or x[n] + x[n + 1] <= 0:
            continue
        beyond = sign * float(h[n] + (h[n + 1] - h[n]) * y[n] / (y[n] - y[n + 1]) - height)
        if abs(beyond) < NEAR:
            return None
        count += beyond > 0
    if not e.closed:  # where an arc ends, lines go on
        for n in (0, -1):
            if abs(float(y[n])) < NEAR and x[n] > 0 and sign * float(h[n] - height) > -NEAR:
                return None
    return count


def _in_box(face: FaceFact, part: PartFacts, sight: _Sight) -> Iterator[Hit]:
    """The nearest that a face of another kind may be, by the box about its border."""
    edges = [e for e in part.edges if face.name in e.faces]
    bulge = 2 * max(face.radius, face.radius + face.minor_radius)
    p = np.vstack([places_on(e) for e in edges]) if edges else np.array([face.origin])
    across = np.array(_across(sight.toward))
    flat, at = p @ across.T, across @ sight.at
    reach = bulge if face.kind in ("sphere", "torus") else max([e.length for e in edges], default=0.0)
    low, high = flat.min(0) - reach - NEAR, flat.max(0) + reach + NEAR
    if not edges or ((low <= at).all() and (at <= high).all()):
        yield Hit(float(((p - sight.at) @ sight.toward).max()) + reach, face, False)
