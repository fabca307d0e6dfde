"""What picks stand for on the model: lines, circles and points. Nothing here depends on a drawing's scale."""

import math
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from drafting.document import Pick, View
from drafting.errors import SizeError
from drafting.model.model import EdgeFact, FaceFact, Facts, InstanceFacts, PartFacts
from drafting.views.family import exploded_moves, facing
from drafting.views.interrupted import Warp
from drafting.views.section import leg_depths, leg_turns, legs_of, section_depth

Array = NDArray[np.float64]
_SEAM = re.compile(r"^([^|]+)\|(?:~\d+)?$")


class LostPick(SizeError):
    """What a size was attached to is no longer in the model."""


@dataclass(frozen=True)
class ViewFrame:
    """From model to a view's plane at 1:1: rows right, up, toward, and the model point at the view's origin.

    legs: of an aligned section, each with the test of its place and the turn that brings it into the paper; depths: of the legs of a
    straight section, from and to along the line and how far toward the viewer from the model's middle; warp: the view's breaks.
    """

    matrix: Array
    middle: Array
    pictorial: bool
    legs: tuple[tuple[Array, Array, Array], ...] = ()
    depths: tuple[tuple[float, float, float], ...] = ()
    along: Array | None = None
    warp: Warp | None = None
    origin: Array | None = None
    shown: tuple[Array, Array] | None = None
    """Lower left and upper right of what a detail shows, view mm; None for all of the model."""
    moves: Mapping[str, Sequence[float]] = field(default_factory=dict)
    """How far parts are moved in an exploded view, model mm."""

    @staticmethod
    def of(view: View, facts: Facts, scale: float = 1.0) -> "ViewFrame":
        """scale: paper over model, for the gaps of an interrupted view."""
        middle = (np.array(facts.low) + np.array(facts.high)) / 2
        o = facing(view)
        m = o.matrix()
        if view.detail:
            middle = middle + m[0] * view.detail.center.x + m[1] * view.detail.center.y
        legs: tuple[tuple[Array, Array, Array], ...] = ()
        depths: tuple[tuple[float, float, float], ...] = ()
        along = None
        if view.section:
            line = view.section.line
            points = [(p.x, p.y) for p in line.points]
            if line.form == "aligned":
                legs = tuple(leg_turns(points, line.base, (np.array(facts.low) + np.array(facts.high)) / 2))
                depths = ((-math.inf, math.inf, section_depth(points[0], points, line.viewer)),)
            else:
                depths = tuple(leg_depths(points, line.viewer))
            along = line.base.matrix()[:2].T @ legs_of(points)[0]
        return ViewFrame(m, middle, view.is_pictorial, legs, depths, along, Warp.of(view, scale) if view.interruptions else None,
                         (np.array(facts.low) + np.array(facts.high)) / 2, _detail_box(view), exploded_moves(view, facts))  # fmt: skip

    def flat(self, p: Array) -> Array:
        """View mm (2,) of a model point (3,), before breaks draw the view together."""
        out: Array = self.matrix[:2] @ (p - self.middle)
        return out

    def drawn(self, p: Array) -> Array:
        """Where a place of the plane is drawn once breaks are left out."""
        return p if self.warp is None else np.array(self.warp.point((float(p[0]), float(p[1]))))

    def undrawn(self, p: tuple[float, float]) -> tuple[float, float]:
        return p if self.warp is None else self.warp.back(p)

    def piece(self, p: Array) -> tuple[Array, Array, Array]:
        """Of the piece of an interrupted view in which a place lies as drawn: its lower left and upper right, and how far it is moved."""
        if self.warp is None:
            return np.full(2, -math.inf), np.full(2, math.inf), np.zeros(2)
        low, high, shift = self.warp.piece((float(p[0]), float(p[1])))
        return np.array(low), np.array(high), np.array(shift)

    def direction(self, v: Array) -> Array:
        """A model vector on paper (2,)."""
        out: Array = self.matrix[:2] @ v
        return out

    def placed(self, instance: InstanceFacts, at: list[float]) -> list[list[float]]:
        """An instance's matrix as the view shows it: moved where the view is exploded, turned by the leg in which a point of its part lies."""
        if not self.legs and instance.path not in self.moves:
            return instance.matrix
        m = np.array(instance.matrix)
        m[:3, 3] += self.moves.get(instance.path, (0.0, 0.0, 0.0))
        if not self.legs:
            return [[float(v) for v in row] for row in m]
        p = m[:3, :3] @ np.array(at) + m[:3, 3]
        best = max(self.legs, key=lambda leg: float((p - leg[0]) @ leg[1]) if leg is not self.legs[0] else 0.0)
        out: list[list[float]] = (best[2] @ m).tolist()
        return out

    @property
    def base(self) -> Array:
        """The model's middle: where depths and places along the cutting line are counted from."""
        return self.origin if self.origin is not None else self.middle

    def cut_depth(self, p: Array) -> float:
        """How far toward the viewer from the model's middle the cut lies at a model point. Raises SizeError in a view without a cut."""
        s = float((p - self.base) @ self.along) if self.along is not None else 0.0
        for first, last, depth in self.depths:
            if first <= s <= last:
                return depth
        raise SizeError("That place is not cut any more.")


def _detail_box(view: View) -> tuple[Array, Array] | None:
    d = view.detail
    if d is None:
        return None
    if d.shape == "circle":
        return np.array([-d.radius, -d.radius]), np.array([d.radius, d.radius])
    if d.shape == "rectangle":
        return np.array([-d.width / 2, -d.height / 2]), np.array([d.width / 2, d.height / 2])
    points = np.array([(p.x - d.center.x, p.y - d.center.y) for p in d.points])
    return points.min(0), points.max(0)


@dataclass(frozen=True)
class Straight:
    """A straight piece in model space that a view shows as a line: an edge, an outline, or a circle seen edge-on."""

    a: Array
    b: Array
    diameter: bool = False

    @property
    def length(self) -> float:
        return float(np.linalg.norm(self.b - self.a))

    @property
    def direction(self) -> Array:
        out: Array = (self.b - self.a) / max(self.length, 1e-12)
        return out


@dataclass(frozen=True)
class Round:
    """A circle or arc in model space; first and last in radians from the x axis about the axis. sphere: the outline of one."""

    center: Array
    axis: Array
    x_axis: Array
    radius: float
    first: float = 0.0
    last: float = 2 * math.pi
    sphere: bool = False

    def has(self, direction: Array) -> bool:
        """Whether the arc reaches the direction (model space) from its center."""
        y = np.cross(self.axis, self.x_axis)
        t = math.atan2(float(direction @ y), float(direction @ self.x_axis))
        return (t - self.first) % (2 * math.pi) <= self.last - self.first + 1e-9


def _placed(matrix: list[list[float]], v: list[float], point: bool = True) -> Array:
    m = np.array(matrix)
    out: Array = m[:3, :3] @ np.array(v) + (m[:3, 3] if point else 0.0)
    return out


@dataclass(frozen=True)
class Spot:
    """A picked point in model space. corner: how far beyond its lines' ends it lies, mm: a theoretical sharp corner where it is more than 0;
    lines: view directions of those lines."""

    at: Array
    corner: float = 0.0
    lines: tuple[Array, ...] = ()


def point_of(pick: Pick, facts: Facts, frame: ViewFrame) -> Array:
    """A picked point in model space. Raises LostPick, or SizeError where the edge has no such point."""
    return _spot(pick, facts, frame).at


def located(pick: Pick, facts: Facts, frame: ViewFrame) -> "Straight | Round | Spot":
    """The geometry or the point a pick names. Raises LostPick, SizeError."""
    if pick.point and pick.point != "center":
        return _spot(pick, facts, frame)
    thing = axis_of(pick, facts, frame)[0] if pick.role == "silhouette" and pick.side == 0 else resolve(pick, facts, frame)
    return Spot(thing.center) if pick.point == "center" and isinstance(thing, Round) else thing


def _spot(pick: Pick, facts: Facts, frame: ViewFrame) -> Spot:
    thing = resolve(pick.model_copy(update={"point": "", "other": None}), facts, frame)
    if pick.point == "crossing":
        return _crossing(pick, thing, facts, frame)
    if isinstance(thing, Round):
        if pick.point == "quadrant":
            u = frame.matrix[pick.quarter % 2] * (1 if pick.quarter < 2 else -1)
            u = u - thing.axis * float(u @ thing.axis)
            n = float(np.linalg.norm(u))
            return Spot(thing.center + u / n * thing.radius) if n > 1e-9 else Spot(thing.center)
        if pick.point in ("start", "end", "middle") and thing.last - thing.first < 2 * math.pi - 1e-9:
            t = {"start": thing.first, "end": thing.last}.get(pick.point, (thing.first + thing.last) / 2)
            return Spot(thing.center + thing.radius * (thing.x_axis * math.cos(t) + np.cross(thing.axis, thing.x_axis) * math.sin(t)))
        return Spot(thing.center)
    return Spot({"start": thing.a, "end": thing.b}.get(pick.point, (thing.a + thing.b) / 2))


def _crossing(pick: Pick, one: "Straight | Round", facts: Facts, frame: ViewFrame) -> Spot:
    if pick.other is None:
        raise SizeError("A crossing needs two lines.")
    two = resolve(Pick(**pick.other.model_dump()), facts, frame)
    if not (isinstance(one, Straight) and isinstance(two, Straight)):
        raise SizeError("A crossing is taken of two straight lines.")
    a, u, c, v = frame.flat(one.a), frame.direction(one.direction), frame.flat(two.a), frame.direction(two.direction)
    m = np.column_stack([u, -v])
    if abs(float(np.linalg.det(m))) < 1e-9:
        raise SizeError("These lines are parallel in this view; they have no corner.")
    s, t = np.linalg.solve(m, c - a)
    beyond = max(-s, s - one.length, -t, t - two.length, 0.0)
    return Spot(one.a + one.direction * float(s), float(beyond), (u / np.linalg.norm(u), v / np.linalg.norm(v)))


def axis_of(pick: Pick, facts: Facts, frame: ViewFrame) -> tuple[Straight, float, str]:
    """The axis of a cylinder or cone from one end of the face to the other, its largest radius, and the face's kind. Raises SizeError."""
    found = facts.part_of(pick.instance)
    face = found[1].face(pick.source) if found else None
    if found is None or face is None:
        raise LostPick("The face this center was put on is no longer in the model.")
    if face.kind not in ("cylinder", "cone") or face.span is None:
        raise SizeError("A center line is put on the outline of a cylinder or cone, between two parallel edges, or through two points.")
    matrix = frame.placed(found[0], face.origin)
    origin, axis = _placed(matrix, face.origin), _placed(matrix, face.axis, False)
    radius = face.radius if face.kind == "cylinder" else max(abs(h * math.tan(face.half_angle)) for h in face.span)
    return Straight(origin + axis * face.span[0], origin + axis * face.span[1]), radius, face.kind


def end_on(pick: Pick, facts: Facts, frame: ViewFrame) -> Round | None:
    """The circle that a free curve on a cylinder appears as where the cylinder is seen end-on: a hole through a curved face."""
    found = facts.part_of(pick.instance)
    edge = found[1].edge(pick.source) if found and pick.role == "edge" else None
    if found is None or edge is None or edge.kind in ("line", "circle"):
        return None
    for face in found[1].faces:
        if face.kind == "cylinder" and face.name in edge.faces:
            matrix = frame.placed(found[0], face.origin)
            axis = _placed(matrix, face.axis, False)
            if abs(float(axis @ frame.matrix[2])) > 1 - 1e-9:
                return Round(_placed(matrix, face.origin), axis, frame.matrix[0], face.radius)
    return None


def resolve(pick: Pick, facts: Facts, frame: ViewFrame) -> Straight | Round:
    """The geometry a pick names. Raises LostPick when the model has it no more, SizeError when it is neither straight nor round."""
    found = facts.part_of(pick.instance)
    if found is None:
        raise LostPick("The part this size was taken on is no longer in the model.")
    instance, part = found
    if pick.role == "cut":
        face = part.face(pick.source)
        if face is None:
            raise LostPick("The face this size was taken on is no longer in the model.")
        return _cut_edge(face, pick.side, part, frame.placed(instance, face.origin), frame)
    if pick.role == "silhouette":
        face = part.face(pick.source)
        if face is None:
            raise LostPick("The face this size was taken on is no longer in the model.")
        return _outline(face, pick.side, frame.placed(instance, face.origin), frame)
    edge = part.edge(pick.source)
    if edge is None:
        raise LostPick("The edge this size was taken on is no longer in the model.")
    if edge.kind not in ("line", "circle") and (through := end_on(pick, facts, frame)) is not None:
        return through
    return _of_edge(edge, frame.placed(instance, edge.middle), frame)


def _of_edge(edge: EdgeFact, matrix: list[list[float]], frame: ViewFrame) -> Straight | Round:
    if edge.kind == "line":
        return Straight(_placed(matrix, edge.start), _placed(matrix, edge.end))
    if edge.kind == "circle" and edge.center and edge.axis and edge.x_axis:
        center, axis = _placed(matrix, edge.center), _placed(matrix, edge.axis, False)
        x = _placed(matrix, edge.x_axis, False)
        if abs(float(axis @ frame.matrix[2])) > 1e-6:
            return Round(center, axis, x, edge.radius, edge.first, edge.last)
        return _edge_on(center, axis, x, edge, frame)
    raise SizeError("Sizes are taken on straight edges, circles and arcs; this edge is a free curve.")


def _edge_on(center: Array, axis: Array, x: Array, edge: EdgeFact, frame: ViewFrame) -> Straight:
    """A circle or arc seen edge-on: the line it appears as, within its range."""
    along = np.cross(frame.matrix[2], axis)
    along /= np.linalg.norm(along)
    y = np.cross(axis, x)
    start = math.atan2(float(along @ y), float(along @ x))
    turns = [start + k * math.pi for k in range(-6, 7)]
    angles = [edge.first, edge.last, *(t for t in turns if edge.first < t < edge.last)]
    reach = [math.cos(t - start) * edge.radius for t in angles]
    return Straight(center + along * min(reach), center + along * max(reach), diameter=edge.closed)


def _tube(face: FaceFact, side: int, matrix: list[list[float]], frame: ViewFrame) -> Round:
    """The arc that a torus or another face turned from an arc shows from the side: the turned arc of the profile, on one of its two sides."""
    axis, origin = _placed(matrix, face.axis, False), _placed(matrix, face.origin)
    if abs(float(axis @ frame.matrix[2])) > 1e-6 or face.span is None:
        raise SizeError("The outline of a turned arc is sized where its axis lies in the paper.")
    across = np.cross(axis, frame.matrix[2]) * side
    return Round(origin + across * face.radius, np.cross(across, axis), across, face.minor_radius, face.span[0], face.span[1])


def _outline(face: FaceFact, side: int, matrix: list[list[float]], frame: ViewFrame) -> Straight | Round:
    if face.kind == "sphere":
        return Round(_placed(matrix, face.origin), frame.matrix[2], frame.matrix[0], face.radius, sphere=True)
    if face.minor_radius:
        return _tube(face, side, matrix, frame)
    if face.kind not in ("cylinder", "cone") or face.span is None:
        raise SizeError("Sizes are taken on the outlines of turned faces and spheres; this outline is of a free surface.")
    axis = _placed(matrix, face.axis, False)
    origin = _placed(matrix, face.origin)
    across = np.cross(axis, frame.matrix[2])
    n = float(np.linalg.norm(across))
    if n < 1e-9:
        raise SizeError("The outline is seen along its axis.")
    across /= n
    ends = []
    for h in face.span:
        if face.kind == "cylinder":
            ends.append(origin + axis * h + across * (side * face.radius))
        else:
            ends.append(origin + axis * h + _cone_side(axis, across, frame.matrix[2], face.half_angle, side) * h)
    return Straight(ends[0], ends[1])


def _cut_edge(face: FaceFact, side: int, part: PartFacts, matrix: list[list[float]], frame: ViewFrame) -> Straight | Round:
    """The edge a cut makes on a face: a line on a plane, a circle across a cylinder, one of two lines along it."""
    toward, origin, axis = frame.matrix[2], _placed(matrix, face.origin), _placed(matrix, face.axis, False)
    lean = float(axis @ toward)
    if face.kind == "plane":
        return _cut_line(face, part, matrix, frame)
    if face.kind == "cylinder" and abs(lean) > 1 - 1e-9:
        center = origin + axis * (frame.cut_depth(origin) - float((origin - frame.base) @ toward)) / lean
        return _cut_round(face, part, matrix, center)
    if face.kind == "cylinder" and abs(lean) < 1e-9 and face.span:
        off = frame.cut_depth(origin) - float((origin - frame.base) @ toward)
        if abs(off) >= face.radius:
            raise SizeError("The cut does not meet that face any more.")
        across = np.cross(axis, toward) * (side * math.sqrt(face.radius**2 - off**2)) + toward * off
        return Straight(origin + axis * face.span[0] + across, origin + axis * face.span[1] + across)
    off = frame.cut_depth(origin) - float((origin - frame.base) @ toward)
    if face.kind == "sphere" and abs(off) < face.radius:
        return Round(origin + toward * off, toward, frame.matrix[0], math.sqrt(face.radius**2 - off**2), sphere=abs(off) < 1e-9)
    if face.kind == "cone" and abs(lean) < 1e-9 or face.minor_radius and abs(off) < 1e-9:
        return _outline(face, side, matrix, frame)
    raise SizeError("Sizes are taken on cut edges of planes, cylinders, cones and spheres, and of turned arcs cut through their axis.")


def _cut_round(face: FaceFact, part: PartFacts, matrix: list[list[float]], center: Array) -> Round:
    """The circle a cylinder is cut in, as far round as its longest rim goes: a fillet is cut in an arc."""
    rims = [
        e for e in part.edges
        if face.name in e.faces and e.kind == "circle" and e.axis and abs(e.radius - face.radius) < 1e-6 and abs(np.dot(e.axis, face.axis)) > 1 - 1e-9
    ]  # fmt: skip
    if not rims:
        axis = _placed(matrix, face.axis, False)
        x = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
        return Round(center, axis, x / np.linalg.norm(x), face.radius)
    rim = max(rims, key=lambda e: e.last - e.first)
    assert rim.axis is not None
    assert rim.x_axis is not None
    return Round(center, _placed(matrix, rim.axis, False), _placed(matrix, rim.x_axis, False), face.radius, rim.first, rim.last)


def joined(pick: Pick, facts: Facts) -> list[Pick]:
    """Cut edges of the faces that share an edge with the face of a cut edge."""
    found = facts.part_of(pick.instance)
    edges = [e for e in found[1].edges if pick.source in e.faces] if found else []
    names = dict.fromkeys(n for e in edges for n in e.faces if n != pick.source)
    return [pick.model_copy(update={"source": n, "side": 0}) for n in names]


def _cut_line(face: FaceFact, part: PartFacts, matrix: list[list[float]], frame: ViewFrame) -> Straight:
    """Where the cutting plane meets a plane face, between the outermost of the face's edges that it crosses."""
    toward, normal = frame.matrix[2], _placed(matrix, face.axis, False)
    along = np.cross(normal, toward)
    if np.linalg.norm(along) < 1e-9:
        raise SizeError("That face lies level with the cut.")
    along /= np.linalg.norm(along)
    places: list[Array] = []
    for e in (e for e in part.edges if face.name in e.faces):
        a, b = _placed(matrix, e.start), _placed(matrix, e.end)
        if e.kind == "circle" and e.center and e.axis and e.x_axis:
            c, x = _placed(matrix, e.center), _placed(matrix, e.x_axis, False)
            y = np.cross(_placed(matrix, e.axis, False), x)
            h = frame.cut_depth(c) - float((c - frame.base) @ toward)
            p, q = float(x @ toward) * e.radius, float(y @ toward) * e.radius
            size = math.hypot(p, q)
            if size > 1e-12 and abs(h) <= size:
                turn, half = math.atan2(q, p), math.acos(h / size)
                places += [c + (x * math.cos(t) + y * math.sin(t)) * e.radius for t in (turn + half, turn - half)]
            continue
        try:
            h = frame.cut_depth((a + b) / 2)
        except SizeError:
            continue
        ha, hb = float((a - frame.base) @ toward) - h, float((b - frame.base) @ toward) - h
        if ha * hb <= 0 and abs(ha - hb) > 1e-12:
            places.append(a + (b - a) * ha / (ha - hb))
    if len(places) < 2:
        raise SizeError("The cut does not meet that face any more.")
    order = sorted(places, key=lambda v: float(v @ along))
    return Straight(order[0], order[-1])


def _cone_side(axis: Array, across: Array, toward: Array, half_angle: float, side: int) -> Array:
    """Radial direction times tan(half angle) where a cone's surface is seen edge-on."""
    depth = np.cross(across, axis)
    t = math.tan(half_angle)
    # outward normal: radial cos - axis sin; square to the viewer: cos p (across) + sin p (depth)
    a, d = float(axis @ toward), float(depth @ toward)
    s = max(-1.0, min(1.0, t * a / d)) if abs(d) > 1e-12 else 0.0
    out: Array = (side * math.sqrt(1 - s * s) * across + s * depth) * t
    return out


def pick_side(pick: Pick, at: tuple[float, float], facts: Facts, frame: ViewFrame) -> Pick:
    """The pick with the side of the outline nearest to a point of the view (view mm at 1:1).

    A cut through a turned face's seam shows the seam, named after the face alone: it is taken as the cut edge of that face.
    """
    seam = _SEAM.match(pick.source) if pick.role == "edge" and frame.depths else None
    if seam:
        pick = pick.model_copy(update={"role": "cut", "source": seam.group(1)})
    if pick.role == "edge" or (pick.role == "cut" and not _two_sided(pick, facts)):
        return pick
    at = frame.undrawn(at)
    best, nearest = pick, math.inf
    for side in (-1, 1):
        candidate = pick.model_copy(update={"side": side})
        line = resolve(candidate, facts, frame)
        away = _distance(np.array(at), frame.flat(line.a), frame.flat(line.b)) if isinstance(line, Straight) else _from_arc(np.array(at), line, frame)
        if away < nearest:
            best, nearest = candidate, away
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
