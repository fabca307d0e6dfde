"""Lines and circles in model space that a view shows of an edge, of a face seen edge-on, and of a face that
is cut."""

import math
from dataclasses import dataclass

import numpy as np

from drafting.errors import SizeError
from drafting.model.model import EdgeFact, FaceFact, PartFacts
from drafting.views.frame import Array, ViewFrame


@dataclass(frozen=True)
class Straight:
    """A straight piece in model space that a view shows as a line: an edge, an outline, or a circle seen
    edge-on."""

    a: Array
    b: Array
    diameter: bool = False

    @property
    def length(self) -> float:
        """From end to end, mm."""
        return float(np.linalg.norm(self.b - self.a))

    @property
    def direction(self) -> Array:
        """Unit direction from start to end."""
        out: Array = (self.b - self.a) / max(self.length, 1e-12)
        return out


@dataclass(frozen=True)
class Round:
    """A circle or arc in model space; first and last in radians from the x axis about the axis. sphere: the
    outline of one."""

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


def placed(matrix: list[list[float]], v: list[float], point: bool = True) -> Array:
    """A place of a part (3, mm), or a direction of it, where an instance's matrix (4 x 4) puts it."""
    m = np.array(matrix)
    out: Array = m[:3, :3] @ np.array(v) + (m[:3, 3] if point else 0.0)
    return out


def of_edge(edge: EdgeFact, matrix: list[list[float]], frame: ViewFrame) -> Straight | Round:
    """An edge as its line, circle or arc; one that the view shows edge-on as the line it appears as. Raises
    SizeError for other curves."""
    if edge.kind == "line":
        return Straight(placed(matrix, edge.start), placed(matrix, edge.end))
    if edge.kind == "circle" and edge.center and edge.axis and edge.x_axis:
        center, axis = placed(matrix, edge.center), placed(matrix, edge.axis, False)
        x = placed(matrix, edge.x_axis, False)
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


def tube(face: FaceFact, side: int, matrix: list[list[float]], frame: ViewFrame) -> Round:
    """The arc that a torus or another face turned from an arc shows from the side: the turned arc of the
    profile, on one of its two sides."""
    axis, origin = placed(matrix, face.axis, False), placed(matrix, face.origin)
    if abs(float(axis @ frame.matrix[2])) > 1e-6 or face.span is None:
        raise SizeError("The outline of a turned arc is sized where its axis lies in the paper.")
    across = np.cross(axis, frame.matrix[2]) * side
    return Round(
        origin + across * face.radius,
        np.cross(across, axis),
        across,
        face.minor_radius,
        face.span[0],
        face.span[1],
    )


def outline(face: FaceFact, side: int, matrix: list[list[float]], frame: ViewFrame) -> Straight | Round:
    """The outline of a round face on one of its two sides. Raises SizeError where the face has none in this
    view."""
    if face.kind == "sphere":
        return Round(placed(matrix, face.origin), frame.matrix[2], frame.matrix[0], face.radius, sphere=True)
    if face.minor_radius:
        return tube(face, side, matrix, frame)
    if face.kind not in ("cylinder", "cone") or face.span is None:
        raise SizeError(
            "Sizes are taken on the outlines of turned faces and spheres; this outline is of a free surface."
        )
    axis = placed(matrix, face.axis, False)
    origin = placed(matrix, face.origin)
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
            ends.append(
                origin + axis * h + _cone_side(axis, across, frame.matrix[2], face.half_angle, side) * h
            )
    return Straight(ends[0], ends[1])


def cut_edge(
    face: FaceFact, side: int, part: PartFacts, matrix: list[list[float]], frame: ViewFrame
) -> Straight | Round:
    """The edge a cut makes on a face: a line on a plane, a circle across a cylinder, one of two lines along
    it."""
    toward, origin, axis = frame.matrix[2], placed(matrix, face.origin), placed(matrix, face.axis, False)
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
        return Round(
            origin + toward * off,
            toward,
            frame.matrix[0],
            math.sqrt(face.radius**2 - off**2),
            sphere=abs(off) < 1e-9,
        )
    if face.kind == "cone" and abs(lean) < 1e-9 or face.minor_radius and abs(off) < 1e-9:
        return outline(face, side, matrix, frame)
    raise SizeError(
        "Sizes are taken on cut edges of planes, cylinders, cones and "
        "spheres, and of turned arcs cut through their axis."
    )


def _cut_round(face: FaceFact, part: PartFacts, matrix: list[list[float]], center: Array) -> Round:
    """The circle a cylinder is cut in, as far round as its longest rim goes: a fillet is cut in an arc."""
    rims = [
        e
        for e in part.edges
        if face.name in e.faces
        and e.kind == "circle"
        and e.axis
        and abs(e.radius - face.radius) < 1e-6
        and abs(np.dot(e.axis, face.axis)) > 1 - 1e-9
    ]
    if not rims:
        axis = placed(matrix, face.axis, False)
        x = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
        return Round(center, axis, x / np.linalg.norm(x), face.radius)
    rim = max(rims, key=lambda e: e.last - e.first)
    assert rim.axis is not None
    assert rim.x_axis is not None
    return Round(
        center,
        placed(matrix, rim.axis, False),
        placed(matrix, rim.x_axis, False),
        face.radius,
        rim.first,
        rim.last,
    )


def _cut_line(face: FaceFact, part: PartFacts, matrix: list[list[float]], frame: ViewFrame) -> Straight:
    """Where the cutting plane meets a plane face, between the outermost of the face's edges that it
    crosses."""
    toward, normal = frame.matrix[2], placed(matrix, face.axis, False)
    along = np.cross(normal, toward)
    if np.linalg.norm(along) < 1e-9:
        raise SizeError("That face lies level with the cut.")
    along /= np.linalg.norm(along)
    places: list[Array] = []
    for e in (e for e in part.edges if face.name in e.faces):
        a, b = placed(matrix, e.start), placed(matrix, e.end)
        if e.kind == "circle" and e.center and e.axis and e.x_axis:
            c, x = placed(matrix, e.center), placed(matrix, e.x_axis, False)
            y = np.cross(placed(matrix, e.axis, False), x)
            h = frame.cut_depth(c) - float((c - frame.base) @ toward)
            p, q = float(x @ toward) * e.radius, float(y @ toward) * e.radius
            size = math.hypot(p, q)
            if size > 1e-12 and abs(h) <= size:
                turn, half = math.atan2(q, p), math.acos(h / size)
                places += [
                    c + (x * math.cos(t) + y * math.sin(t)) * e.radius for t in (turn + half, turn - half)
                ]
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
