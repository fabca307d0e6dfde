"""Faces and edges of a shape, and what they are: kind, place and size as plain data in millimeters and
radians."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap,
)
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.collections import List_TopoDS_Shape as ShapeList
from OCP.GCPnts import GCPnts_AbscissaPoint
from OCP.GeomAbs import GeomAbs_CurveType as CurveType
from OCP.GeomAbs import GeomAbs_Shape as Continuity
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.gp import gp_Trsf
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from drafting.kernel.reach import farthest
from drafting.kernel.recognition import recognized
from drafting.kernel.rounds import circle_along, off_circle
from drafting.kernel.sides import Turn, side_of, turn_of, ways_about
from drafting.kernel.vectors import Vector, vector, vector_of

Shape = Any  # a kernel shape; opaque outside this package

ROUND = 1e-5
"""How far a free curve may be from a circle, as a share of its size, to be one."""
SURFACE_KINDS = {
    SurfaceType.GeomAbs_Plane: "plane",
    SurfaceType.GeomAbs_Cylinder: "cylinder",
    SurfaceType.GeomAbs_Cone: "cone",
    SurfaceType.GeomAbs_Sphere: "sphere",
    SurfaceType.GeomAbs_Torus: "torus",
}
CURVE_KINDS = {
    CurveType.GeomAbs_Line: "line",
    CurveType.GeomAbs_Circle: "circle",
    CurveType.GeomAbs_Ellipse: "ellipse",
}


@dataclass(frozen=True)
class FaceGeometry:
    """A face: surface kind, a point of its axis or plane, its axis or normal, radius (mm), half angle (rad,
    cones).

    span is the extent along the axis from the origin (the apex of a cone), or about a torus's tube in
    radians. center is the point in the middle of the face's parameter range; it lies on the surface, not
    always within the face. minor_radius is that of a torus's tube. hollow: whether a curved face has
    its material outside, as the wall of a hole has. x_axis and turn: from where to where it goes about its
    axis, radians from the x axis, counterclockwise. inner: of a plane, its inner loops, by the numbers of
    their edges.
    """

    kind: str
    origin: Vector
    axis: Vector
    radius: float
    half_angle: float
    center: Vector
    span: tuple[float, float] | None = None
    minor_radius: float = 0.0
    hollow: bool | None = None
    x_axis: Vector | None = None
    turn: tuple[float, float] | None = None
    inner: tuple[tuple[int, ...], ...] = ()


@dataclass(frozen=True)
class EdgeGeometry:
    """An edge: curve kind, its ends and middle, its length, and center, axis and radii where it is a circle
    or an ellipse. turn: how its two faces meet; empty for a seam, and where one face ends."""

    kind: str
    start: Vector
    end: Vector
    middle: Vector
    length: float
    closed: bool
    center: Vector | None
    axis: Vector | None
    x_axis: Vector | None
    radius: float
    minor_radius: float
    first: float
    last: float
    faces: tuple[int, ...]
    smooth: bool
    seam: bool
    turn: Turn = ""


@dataclass(frozen=True)
class Topology:
    """All faces and drawn edges of one shape, in the kernel's order, with the shapes they stand for."""

    faces: list[FaceGeometry]
    edges: list[EdgeGeometry]
    face_shapes: list[Shape] = field(repr=False)
    edge_shapes: list[Shape] = field(repr=False)


def subshapes(shape: Shape, kind: Kind) -> list[Shape]:
    """Distinct subshapes of a kind, in the kernel's order."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, kind, found)
    return [found.FindKey(i) for i in range(1, found.Extent() + 1)]


def solids(shape: Shape) -> list[Shape]:
    """The solids of a shape."""
    return subshapes(shape, Kind.TopAbs_SOLID)


def face_count(shape: Shape) -> int:
    """How many faces a shape has."""
    found = ShapeMap()
    TopExp.MapShapes_s(shape, Kind.TopAbs_FACE, found)
    return int(found.Extent())


def as_list(shapes: Any) -> list[Shape]:
    """A kernel list of shapes as a Python list."""
    if shapes.IsEmpty():
        return []
    if shapes.Size() == 1:
        return [shapes.First()]
    rest = (
        ShapeList()
    )  # iterating the binding's list costs 0.4 ms each time, taking from a copy a hundredth of that
    rest.Assign(shapes)
    out = []
    while not rest.IsEmpty():
        out.append(rest.First())
        rest.RemoveFirst()
    return out


def moved(shape: Shape, matrix: list[list[float]]) -> Shape:
    """The shape placed by a rigid 4 x 4 matrix (rows, mm)."""
    return shape.Moved(TopLoc_Location(transform(matrix)))


def placed(shape: Shape, topology: Topology, matrix: list[list[float]]) -> tuple[Shape, Topology]:
    """The shape placed by a rigid 4 x 4 matrix, and a topology with its faces and edges; the plain facts stay
    in the part's own frame."""
    location = TopLoc_Location(
        transform(matrix)
    )  # one object for all: the kernel tells places apart by identity
    faces = [f.Moved(location) for f in topology.face_shapes]
    return shape.Moved(location), Topology(
        topology.faces, topology.edges, faces, [e.Moved(location) for e in topology.edge_shapes]
    )


def transform(matrix: list[list[float]]) -> gp_Trsf:
    """The kernel's transformation of a matrix (rows, mm)."""
    t = gp_Trsf()
    t.SetValues(*[float(matrix[r][c]) for r in range(3) for c in range(4)])
    return t


def location_matrix(location: TopLoc_Location) -> list[list[float]]:
    """A kernel location as a 4 x 4 matrix (rows, mm)."""
    t = location.Transformation()
    rows = [[t.Value(r, c) for c in (1, 2, 3, 4)] for r in (1, 2, 3)]
    return [*rows, [0.0, 0.0, 0.0, 1.0]]


def describe(shape: Shape) -> Topology:
    """Faces and edges of a shape as plain data. Degenerate edges (the poles of a sphere) are left out."""
    face_map = ShapeMap()
    TopExp.MapShapes_s(shape, Kind.TopAbs_FACE, face_map)
    faces = [TopoDS.Face(face_map.FindKey(i)) for i in range(1, face_map.Extent() + 1)]
    ancestors = AncestorMap()
    TopExp.MapShapesAndAncestors_s(shape, Kind.TopAbs_EDGE, Kind.TopAbs_FACE, ancestors)
    ways = [ways_about(face, ancestors) for face in faces]
    edges: list[EdgeGeometry] = []
    edge_shapes: list[Shape] = []
    numbers: dict[int, int] = {}
    for i in range(1, ancestors.Extent() + 1):
        edge = TopoDS.Edge(ancestors.FindKey(i))
        if BRep_Tool.Degenerated_s(edge):
            continue
        owners = [face_map.FindIndex(f) - 1 for f in as_list(ancestors.FindFromIndex(i))]
        numbers[i] = len(edges)
        edges.append(_edge(edge, owners, faces, ways[owners[0]].get(i, 0)))
        edge_shapes.append(edge)
    bounds: list[list[int]] = [[] for _ in faces]
    for number, known in enumerate(edges):
        for f in known.faces:
            bounds[f].append(number)
    found = []
    for face, own in zip(faces, bounds, strict=True):
        told = _with_reach(_face(face), [(edges[n], edge_shapes[n]) for n in own])
        if told.kind == "plane":
            loops = _inner(face, ancestors)
            told = replace(told, inner=tuple(tuple(numbers[i] for i in e if i in numbers) for e in loops))
        found.append(told)
    return Topology(found, edges, faces, edge_shapes)


def _inner(face: Shape, edges: AncestorMap) -> list[list[int]]:
    """Edges of the inner loops of a face, by their numbers."""
    wires = subshapes(face, Kind.TopAbs_WIRE)
    if len(wires) < 2:
        return []
    outer = BRepTools.OuterWire_s(face)
    return [
        [edges.FindIndex(e) for e in subshapes(wire, Kind.TopAbs_EDGE)]
        for wire in wires
        if not wire.IsSame(outer)
    ]


def _with_reach(face: FaceGeometry, edges: list[tuple[EdgeGeometry, Shape]]) -> FaceGeometry:
    """A cylinder or a cone with the span that its edges tell. The kernel knows a face's bounds only about
    where a free curve bounds it: they are microns off where two cylinders meet."""
    if face.kind not in ("cylinder", "cone") or not edges:
        return face
    ends = [end for edge, shape in edges for end in _reach(edge, shape, face.axis)]
    base = sum(o * a for o, a in zip(face.origin, face.axis, strict=True))
    return replace(face, span=(min(ends) - base, max(ends) - base))


def _reach(edge: EdgeGeometry, shape: Shape, axis: Vector) -> list[float]:
    """The farthest places of an edge along an axis."""

    def along(v: Vector) -> float:
        return v[0] * axis[0] + v[1] * axis[1] + v[2] * axis[2]

    ends = [along(edge.start), along(edge.end)]
    if edge.kind == "line":
        return ends
    if edge.kind == "circle" and edge.axis and edge.center and abs(along(edge.axis)) > 1 - 1e-12:
        return [along(edge.center)]
    return ends + farthest(BRepAdaptor_Curve(shape), axis)


def _face(face: Shape) -> FaceGeometry:
    surface = BRepAdaptor_Surface(face, True)
    kind = SURFACE_KINDS.get(surface.GetType(), "other")
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    center = vector(surface.Value((u0 + u1) / 2, (v0 + v1) / 2))
    origin, axis, radius, half_angle, span, minor = center, (0.0, 0.0, 0.0), 0.0, 0.0, None, 0.0
    if kind == "plane":
        plane = surface.Plane()
        axis = vector(plane.Axis().Direction())
        if str(face.Orientation()).endswith("REVERSED") == plane.Direct():  # a mirrored plane is not direct
            axis = (-axis[0], -axis[1], -axis[2])
    elif kind == "cylinder":
        c = surface.Cylinder()
        origin, axis, radius = vector(c.Location()), vector(c.Axis().Direction()), c.Radius()
        span = (v0, v1)
    elif kind == "cone":
        k = surface.Cone()
        origin, axis, radius, half_angle = (
            vector(k.Apex()),
            vector(k.Axis().Direction()),
            k.RefRadius(),
            k.SemiAngle(),
        )
        height = sum((a - b) * d for a, b, d in zip(vector(k.Location()), origin, axis, strict=True))
        span = (height + v0 * math.cos(half_angle), height + v1 * math.cos(half_angle))
    elif kind == "sphere":
        s = surface.Sphere()
        origin, radius = vector(s.Location()), s.Radius()
    elif kind == "torus":
        t = surface.Torus()
        origin, axis, radius, minor = (
            vector(t.Location()),
            vector(t.Axis().Direction()),
            t.MajorRadius(),
            t.MinorRadius(),
        )
        span = (v0, v1)
    elif surface.GetType() == SurfaceType.GeomAbs_SurfaceOfRevolution and (
        turned := _turned_arc(surface, v0, v1)
    ):
        origin, axis, radius, minor, span = turned
    elif found := recognized(surface, (u0, u1), (v0, v1)):
        kind, origin, axis = found.kind, vector_of(found.origin), vector_of(found.axis)
        radius, half_angle, minor, span = found.radius, found.half_angle, found.minor_radius, found.span
        if kind == "plane" and str(face.Orientation()).endswith("REVERSED"):
            axis = (-axis[0], -axis[1], -axis[2])
    side = side_of(face, surface, kind, origin, axis, radius, minor)
    return FaceGeometry(
        kind, origin, axis, radius, half_angle, center, span, minor, side.hollow, side.x_axis, side.turn
    )


def _turned_arc(
    surface: BRepAdaptor_Surface, v0: float, v1: float
) -> tuple[Vector, Vector, float, float, tuple[float, float]] | None:
    """Of a surface turned from an arc in a plane through its axis: the point of the axis beside the arc's
    center, the axis, the center's distance from it (below 0 where it lies beyond the axis), the arc's radius,
    and its angles from the outward direction. Else None."""
    basis = surface.BasisCurve()
    if CURVE_KINDS.get(basis.GetType()) != "circle":
        return None
    circle, turn = basis.Circle(), surface.AxeOfRevolution()
    center, base, axis = (np.array(vector(v)) for v in (circle.Location(), turn.Location(), turn.Direction()))
    normal = np.array(vector(circle.Axis().Direction()))
    foot = base + axis * float((center - base) @ axis)
    points = [np.array(vector(basis.Value(v))) for v in (v0, (v0 + v1) / 2, v1)]
    out = points[1] - foot - axis * float((points[1] - foot) @ axis)
    size = float(np.linalg.norm(out))
    if size < 1e-9 or abs(float(normal @ axis)) > 1e-9 or abs(float((base - center) @ normal)) > 1e-6:
        return None
    out /= size
    first, middle, last = (math.atan2(float((p - center) @ axis), float((p - center) @ out)) for p in points)
    if (middle - first) % (2 * math.pi) > (last - first) % (2 * math.pi):
        first, last = last, first
    span = (first, first + (last - first) % (2 * math.pi))
    return vector_of(foot), vector_of(axis), float((center - foot) @ out), circle.Radius(), span


def _edge(edge: Shape, owners: list[int], faces: list[Shape], way: int) -> EdgeGeometry:
    """way: how the edge runs about the first of its owners."""
    curve = BRepAdaptor_Curve(edge)
    first, last = curve.FirstParameter(), curve.LastParameter()
    start, end, middle = curve.Value(first), curve.Value(last), curve.Value((first + last) / 2)
    kind = CURVE_KINDS.get(curve.GetType(), "other")
    center = axis = x_axis = None
    radius = minor = 0.0
    if kind == "circle":
        c = curve.Circle()
        center, axis, x_axis = (
            vector(c.Location()),
            vector(c.Axis().Direction()),
            vector(c.XAxis().Direction()),
        )
        radius = minor = c.Radius()
    elif kind == "ellipse":
        e = curve.Ellipse()
        center, axis, x_axis = (
            vector(e.Location()),
            vector(e.Axis().Direction()),
            vector(e.XAxis().Direction()),
        )
        radius, minor = e.MajorRadius(), e.MinorRadius()
    if kind == "line":
        length = last - first
    elif kind == "circle":
        length = (last - first) * radius
    else:
        length = GCPnts_AbscissaPoint.Length_s(curve, 1e-7)
    if kind == "other" and abs(length - start.Distance(end)) < 1e-7 * max(length, 1.0):
        kind = "line"  # a free curve that is straight
    elif kind == "other" and (
        found := _as_circle(curve)
    ):  # or round: many writers give every curve as a spline
        kind, first, last = "circle", 0.0, found[4]
        center, axis, x_axis, radius = found[:4]
        minor = radius
    distinct = tuple(dict.fromkeys(owners))
    seam = bool(distinct) and any(BRep_Tool.IsClosed_s(edge, faces[f]) for f in distinct[:1])
    turn: Turn = ""
    if not seam and len(distinct) == 2:
        a, b = faces[distinct[0]], faces[distinct[1]]
        turn = turn_of(edge, a, b, curve, way)
    return EdgeGeometry(
        kind,
        vector(start),
        vector(end),
        vector(middle),
        length,
        start.Distance(end) < 1e-7,
        center,
        axis,
        x_axis,
        radius,
        minor,
        first,
        last,
        distinct,
        turn == "smooth",
        seam,
        turn,
    )


def _as_circle(curve: BRepAdaptor_Curve) -> tuple[Vector, Vector, Vector, float, float] | None:
    """Center, axis, x axis (toward the start), radius and angle of a free curve that lies on one circle all
    along, within ROUND of its size."""
    points = _sampled(curve, 16)
    found, center, axis, x, radius, span = circle_along(points, ROUND)
    if not found:
        return None
    # what fits in a few places is asked all along
    every = _sampled(curve, 16 * (2 + curve.NbIntervals(Continuity.GeomAbs_C2)))
    if off_circle(every, center, axis, radius) > ROUND * max(float(np.ptp(points, axis=0).max()), 1e-3):
        return None
    return vector_of(center), vector_of(axis), vector_of(x), radius, span


def _sampled(curve: BRepAdaptor_Curve, steps: int) -> NDArray[np.float64]:
    """Points (steps + 1, 3) of a curve at even steps of its parameter."""
    first, last = curve.FirstParameter(), curve.LastParameter()
    return np.array([vector(curve.Value(first + (last - first) * i / steps)) for i in range(steps + 1)])


def iter_curve(edge: Shape, parameters: list[float]) -> Iterator[Vector]:
    """Points of an edge's curve at given parameters."""
    curve = BRepAdaptor_Curve(edge)
    for t in parameters:
        yield vector(curve.Value(t))
