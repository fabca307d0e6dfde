"""Which face of a part is seen at a place within a view: planes only, and only where nothing round may stand
before them."""

import math

import numpy as np
import shapely
import shapely.affinity

from drafting.annotation.measuring.contacts import outline_of, places_on
from drafting.annotation.measuring.traces import placed
from drafting.context import Context
from drafting.memory import Memory, digest
from drafting.model.model import FaceFact, InstanceFacts, PartFacts
from drafting.views.frame import Array

FACING = 1e-3
_AREAS: Memory[shapely.Geometry] = Memory(2000)


def face_seen(path: str, place: Array, context: Context) -> FaceFact | None:
    """The plane face of an instance that is seen at a place (2,), view mm; None where that is not sure."""
    found = context.facts.part_of(path)
    if found is None:
        return None
    instance, part = found
    toward = np.asarray(context.frame.matrix[2])
    best: tuple[float, FaceFact] | None = None
    at = shapely.Point(place)
    for face in part.faces:
        if face.kind != "plane":
            continue
        m = context.frame.placed(instance, face.origin)
        normal = placed(m, face.axis, False)
        facing = float(normal @ toward)
        if facing < FACING or not _area(face, instance, part, context).contains(at):
            continue
        depth = _depth(placed(m, face.origin), normal, place, context)
        if best is None or depth > best[0]:
            best = depth, face
    if best is None or _may_be_hidden(best[0], place, instance, part, context):
        return None
    return best[1]


def _area(face: FaceFact, instance: InstanceFacts, part: PartFacts, context: Context) -> shapely.Geometry:
    m = np.array(context.frame.placed(instance, face.origin))
    axes = np.asarray(context.frame.matrix[:2])
    key = (instance.path, face.name, digest(repr(m.tolist()), repr(axes.tolist())))

    def work() -> shapely.Geometry:
        return shapely.affinity.translate(outline_of(face, part, m, axes), *(-axes @ context.frame.middle))

    return _AREAS.recall(context.facts, key, work)


def _depth(at: Array, normal: Array, place: Array, context: Context) -> float:
    """How far toward the reader a plane lies at a place, mm."""
    right, up, toward = np.asarray(context.frame.matrix)
    base = context.frame.middle + right * place[0] + up * place[1]
    return float((at - base) @ normal) / float(normal @ toward)


def _may_be_hidden(
    depth: float, place: Array, instance: InstanceFacts, part: PartFacts, context: Context
) -> bool:
    """Whether a curved face may stand before a plane at a place: its box reaches nearer to the reader."""
    toward = np.asarray(context.frame.matrix[2])
    for face in part.faces:
        if face.kind == "plane":
            continue
        m = np.array(context.frame.placed(instance, face.origin))
        edges = [e for e in part.edges if face.name in e.faces]
        if not edges:
            continue
        p = np.vstack([places_on(e) for e in edges]) @ m[:3, :3].T + m[:3, 3] - context.frame.middle
        flat, deep = p @ np.asarray(context.frame.matrix[:2]).T, p @ toward
        low, high = flat.min(0), flat.max(0)
        bulge = 2 * face.radius if face.kind in ("sphere", "torus", "other") else 0.0
        inside = (low - bulge - 1e-6 <= place).all() and (place <= high + bulge + 1e-6).all()
        if inside and float(deep.max()) + bulge > depth + 1e-6:
            return True
    return math.isnan(depth)
