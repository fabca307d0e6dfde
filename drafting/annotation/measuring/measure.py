"""What picks stand for on the model: lines, circles and points. Nothing here depends on a drawing's scale."""

import math
import re
from dataclasses import dataclass

import numpy as np

from drafting.annotation.measuring import added_lines, underlays
from drafting.annotation.measuring.traces import Round, Straight, cut_edge, of_edge, outline, placed
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.model.model import Facts
from drafting.views.frame import Array, ViewFrame

_SEAM = re.compile(r"^([^|]+)\|(?:~\d+)?$")


class LostPick(SizeError):
    """What a size was attached to is no longer in the model."""


@dataclass(frozen=True)
class Spot:
    """A picked point in model space. corner: how far beyond its lines' ends it lies, mm: a theoretical sharp
    corner where it is more than 0; lines: view directions of those lines."""

    at: Array
    corner: float = 0.0
    lines: tuple[Array, ...] = ()


def point_of(pick: Pick, context: Context) -> Array:
    """A picked point in model space. Raises LostPick, or SizeError where the edge has no such point."""
    return _spot(pick, context).at


def located(pick: Pick, context: Context) -> Straight | Round | Spot:
    """The geometry or the point a pick names. Raises LostPick, SizeError."""
    if pick.point and pick.point != "center":
        return _spot(pick, context)
    thing = (
        axis_of(pick, context)[0] if pick.role == "silhouette" and pick.side == 0 else resolve(pick, context)
    )
    return Spot(thing.center) if pick.point == "center" and isinstance(thing, Round) else thing


def _spot(pick: Pick, context: Context) -> Spot:
    thing = resolve(pick.model_copy(update={"point": "", "other": None}), context)
    if pick.point == "crossing":
        return _crossing(pick, thing, context)
    if isinstance(thing, Round):
        if pick.point == "quadrant":
            u = context.frame.matrix[pick.quarter % 2] * (1 if pick.quarter < 2 else -1)
            u = u - thing.axis * float(u @ thing.axis)
            n = float(np.linalg.norm(u))
            return Spot(thing.center + u / n * thing.radius) if n > 1e-9 else Spot(thing.center)
        if pick.point in ("start", "end", "middle") and thing.last - thing.first < 2 * math.pi - 1e-9:
            t = {"start": thing.first, "end": thing.last}.get(pick.point, (thing.first + thing.last) / 2)
            return Spot(
                thing.center
                + thing.radius
                * (thing.x_axis * math.cos(t) + np.cross(thing.axis, thing.x_axis) * math.sin(t))
            )
        return Spot(thing.center)
    return Spot({"start": thing.a, "end": thing.b}.get(pick.point, (thing.a + thing.b) / 2))


def _crossing(pick: Pick, one: Straight | Round, context: Context) -> Spot:
    if pick.other is None:
        raise SizeError("A crossing needs two lines.")
    two = resolve(Pick(**pick.other.model_dump()), context)
    if not (isinstance(one, Straight) and isinstance(two, Straight)):
        raise SizeError("A crossing is taken of two straight lines.")
    a, u, c, v = (
        context.frame.flat(one.a),
        context.frame.direction(one.direction),
        context.frame.flat(two.a),
        context.frame.direction(two.direction),
    )
    m = np.column_stack([u, -v])
    if abs(float(np.linalg.det(m))) < 1e-9:
        raise SizeError("These lines are parallel in this view; they have no corner.")
    s, t = np.linalg.solve(m, c - a)
    beyond = max(-s, s - one.length, -t, t - two.length, 0.0)
    return Spot(
        one.a + one.direction * float(s), float(beyond), (u / np.linalg.norm(u), v / np.linalg.norm(v))
    )


def axis_of(pick: Pick, context: Context) -> tuple[Straight, float, str]:
    """The axis of a cylinder or cone from one end of the face to the other, its largest radius, and the
    face's kind. Raises SizeError."""
    found = context.facts.part_of(pick.instance)
    face = found[1].face(pick.source) if found else None
    if found is None or face is None:
        raise LostPick("The face this center was put on is no longer in the model.")
    if face.kind not in ("cylinder", "cone") or face.span is None:
        raise SizeError(
            "A center line is put on the outline of a cylinder or cone, "
            "between two parallel edges, or through two points."
        )
    matrix = context.frame.placed(found[0], face.origin)
    origin, axis = placed(matrix, face.origin), placed(matrix, face.axis, False)
    radius = (
        face.radius if face.kind == "cylinder" else max(abs(h * math.tan(face.half_angle)) for h in face.span)
    )
    return Straight(origin + axis * face.span[0], origin + axis * face.span[1]), radius, face.kind


def end_on(pick: Pick, context: Context) -> Round | None:
    """The circle that a free curve on a cylinder appears as where the cylinder is seen end-on: a hole through
    a curved face."""
    found = context.facts.part_of(pick.instance)
    edge = found[1].edge(pick.source) if found and pick.role == "edge" else None
    if found is None or edge is None or edge.kind in ("line", "circle"):
        return None
    for face in found[1].faces:
        if face.kind == "cylinder" and face.name in edge.faces:
            matrix = context.frame.placed(found[0], face.origin)
            axis = placed(matrix, face.axis, False)
            if abs(float(axis @ context.frame.matrix[2])) > 1 - 1e-9:
                return Round(placed(matrix, face.origin), axis, context.frame.matrix[0], face.radius)
    return None


def resolve(pick: Pick, context: Context) -> Straight | Round:
    """The geometry a pick names. Raises LostPick when the model has it no more, SizeError when it is neither
    straight nor round."""
    if pick.role == "added":
        return added_lines.in_model(pick, context, resolve)
    if pick.role == "underlay":
        return underlays.in_model(pick, context)
    if context.is_bare:
        raise SizeError("On the sheet itself only added lines and underlays can be picked.")
    found = context.facts.part_of(pick.instance)
    if found is None:
        raise LostPick("The part this size was taken on is no longer in the model.")
    instance, part = found
    if pick.role == "cut":
        face = part.face(pick.source)
        if face is None:
            raise LostPick("The face this size was taken on is no longer in the model.")
        return cut_edge(face, pick.side, part, context.frame.placed(instance, face.origin), context.frame)
    if pick.role == "silhouette":
        face = part.face(pick.source)
        if face is None:
            raise LostPick("The face this size was taken on is no longer in the model.")
        return outline(face, pick.side, context.frame.placed(instance, face.origin), context.frame)
    edge = part.edge(pick.source)
    if edge is None:
        raise LostPick("The edge this size was taken on is no longer in the model.")
    if edge.kind not in ("line", "circle") and (through := end_on(pick, context)) is not None:
        return through
    return of_edge(part.arc(edge), context.frame.placed(instance, edge.middle), context.frame)


def joined(pick: Pick, facts: Facts) -> list[Pick]:
    """Cut edges of the faces that share an edge with the face of a cut edge."""
    found = facts.part_of(pick.instance)
    edges = [e for e in found[1].edges if pick.source in e.faces] if found else []
    names = dict.fromkeys(n for e in edges for n in e.faces if n != pick.source)
    return [pick.model_copy(update={"source": n, "side": 0}) for n in names]


def pick_side(pick: Pick, at: tuple[float, float], context: Context) -> Pick:
    """The pick with the side of the outline nearest to a point of the view (view mm at 1:1).

    A cut through a turned face's seam shows the seam, named after the face alone: it is taken as the cut edge
    of that face.
    """
    seam = _SEAM.match(pick.source) if pick.role == "edge" and context.frame.depths else None
    if seam:
        pick = pick.model_copy(update={"role": "cut", "source": seam.group(1)})
    if pick.role in ("edge", "added", "underlay") or (
        pick.role == "cut" and not _two_sided(pick, context.facts)
    ):
        return pick
    at = context.frame.undrawn(at)
    best, nearest = pick, math.inf
    for side in (-1, 1):
        candidate = pick.model_copy(update={"side": side})
        line = resolve(candidate, context)
        away = (
            _distance(np.array(at), context.frame.flat(line.a), context.frame.flat(line.b))
            if isinstance(line, Straight)
            else _from_arc(np.array(at), line, context.frame)
        )
        if away < nearest:
            best, nearest = candidate, away
    if math.isinf(nearest):
        raise SizeError("This is an outline beside the turned arc; take the size on the arc itself.")
    return best


def _from_arc(p: Array, arc: Round, frame: ViewFrame) -> float:
    """How far a place of the view lies from an arc seen as one."""
    out = p - frame.flat(arc.center)
    if not arc.has(frame.matrix[0] * out[0] + frame.matrix[1] * out[1]):
        return math.inf
    return abs(float(np.linalg.norm(out)) - arc.radius)


def _two_sided(pick: Pick, facts: Facts) -> bool:
    face = facts.face_of(pick.instance, pick.source)
    return face is not None and (face.kind in ("cylinder", "cone") or face.minor_radius > 0)


def _distance(p: Array, a: Array, b: Array) -> float:
    d = b - a
    n = float(d @ d)
    t = 0.0 if n < 1e-18 else max(0.0, min(1.0, float((p - a) @ d) / n))
    return float(np.linalg.norm(p - a - d * t))
