"""Hidden lines by the kernel's exact algorithm, each piece given back with the edge or face it comes from."""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.gp import gp_Ax2, gp_Dir, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from OCP.HLRBRep import HLRBRep_TypeOfResultingEdge as Result
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from drafting.kernel.topology import (
    CURVE_KINDS,
    EdgeGeometry,
    Shape,
    Topology,
    Vector,
    as_list,
    describe,
    subshapes,
    vector,
)

CLASSES = [
    (Result.HLRBRep_Sharp, "sharp"),
    (Result.HLRBRep_OutLine, "silhouette"),
    (Result.HLRBRep_Rg1Line, "smooth"),
    (Result.HLRBRep_RgNLine, "smooth"),
]
SAMPLES = 33


@dataclass(frozen=True)
class Piece:
    """A visible or hidden piece of a curve in model space.

    edge is the index of the source edge in the instance's part, face that of the source face of a silhouette; -1 where it is none.
    """

    instance: int
    edge_class: str
    visible: bool
    edge: int
    face: int
    kind: str
    first: float
    last: float
    center: Vector | None
    x_axis: Vector | None
    axis: Vector | None
    radius: float
    minor_radius: float
    points: list[Vector]
    """Ends for a line; samples along the piece for every other curve."""


def _algorithm(shapes: list[Shape], direction: Vector, right: Vector) -> HLRBRep_Algo:
    algorithm = HLRBRep_Algo()
    for shape in shapes:
        algorithm.Add(shape, 0)
    axes = gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*direction), gp_Dir(*right))
    algorithm.Projector(HLRAlgo_Projector(axes))
    algorithm.Update()
    algorithm.Hide()
    return algorithm


def bare_hidden_lines(shapes: list[Shape], direction: Vector, right: Vector) -> int:
    """The kernel calls alone, without sources: what `bench` compares with. Returns the number of edges."""
    result = HLRBRep_HLRToShape(_algorithm(shapes, direction, right))
    count = 0
    for kind, _ in CLASSES:
        for visible in (True, False):
            compound = result.CompoundOfEdges(kind, visible, True)
            if compound is None or compound.IsNull():
                continue
            explorer = TopExp_Explorer(compound, Kind.TopAbs_EDGE)
            while explorer.More():
                count += 1
                explorer.Next()
    return count


@dataclass(frozen=True)
class PreparedPart:
    """A part's topology with its curves by identity, so that a piece of an edge is known by the curve it shares."""

    topology: Topology
    edge_of_curve: dict[int, list[int]]
    curves: list[object]
    """Kept alive so that identities stay unique."""


def prepare(shape: Shape) -> PreparedPart:
    topology = describe(shape)
    by_curve: dict[int, list[int]] = {}
    curves: list[object] = []
    for index, edge in enumerate(topology.edge_shapes):
        curve = BRep_Tool.Curve_s(edge, TopLoc_Location(), 0.0, 0.0)
        curves.append(curve)
        by_curve.setdefault(id(curve), []).append(index)
    return PreparedPart(topology, by_curve, curves)


def hidden_lines(instances: list[tuple[PreparedPart, Shape]], direction: Vector, right: Vector) -> Iterator[Piece]:
    """Visible and hidden pieces of all curves of placed parts, direction being the vector toward the viewer.

    instances: each part's prepared topology and its placed shape.
    """
    algorithm = _algorithm([shape for _, shape in instances], direction, right)
    result = HLRBRep_HLRToShape(algorithm)
    for number, (part, shape) in enumerate(instances):
        outlines = _outlines(algorithm, number, shape)
        for kind, edge_class in CLASSES:
            for visible in (True, False):
                compound = result.CompoundOfEdges(shape, kind, visible, True)
                if compound is None or compound.IsNull():
                    continue
                explorer = TopExp_Explorer(compound, Kind.TopAbs_EDGE)
                while explorer.More():
                    piece = _piece(number, part, outlines, TopoDS.Edge(explorer.Current()), edge_class, visible)
                    if piece is not None:
                        yield piece
                    explorer.Next()


def _outlines(algorithm: HLRBRep_Algo, number: int, shape: Shape) -> dict[int, tuple[int, object]]:
    """Curves of the silhouettes the kernel found on each face, by identity, with the face's index."""
    data = algorithm.ShapeBounds(number + 1).Shape().DataStructure()
    found: dict[int, tuple[int, object]] = {}
    for index, face in enumerate(subshapes(shape, Kind.TopAbs_FACE)):
        face = TopoDS.Face(face)
        edges = as_list(data.FaceIntL(face)) if data.FaceHasIntL(face) else []
        edges += as_list(data.FaceOutL(face)) if data.FaceHasOutL(face) else []
        for edge in edges:
            curve = BRep_Tool.Curve_s(TopoDS.Edge(edge), TopLoc_Location(), 0.0, 0.0)
            if curve is not None:
                found[id(curve)] = (index, curve)
    return found


def _piece(instance: int, part: PreparedPart, outlines: dict[int, tuple[int, object]], edge: Shape, edge_class: str, visible: bool) -> Piece | None:
    handle = BRep_Tool.Curve_s(edge, TopLoc_Location(), 0.0, 0.0)
    if handle is None:
        return None
    curve = BRepAdaptor_Curve(edge)
    first, last = curve.FirstParameter(), curve.LastParameter()
    source, face = _source(part, id(handle), (first + last) / 2), outlines.get(id(handle), (-1, None))[0]
    if source >= 0:
        fact = part.topology.edges[source]
        if edge_class == "silhouette" and not fact.seam and not fact.smooth:
            return None  # every sharp edge on the outline is among the sharp ones as well
        if fact.seam:
            edge_class, face, source = ("silhouette" if edge_class != "smooth" else "seam"), fact.faces[0], -1
        elif fact.smooth and edge_class == "sharp":
            edge_class = "smooth"
    if edge_class == "seam" or (edge_class == "smooth" and not visible):
        return None  # neither is ever drawn
    kind = CURVE_KINDS.get(curve.GetType(), "other")
    center = x_axis = axis = None
    radius = minor = 0.0
    if kind == "line":
        points = [vector(curve.Value(first)), vector(curve.Value(last))]
    elif kind == "circle":
        c = curve.Circle()
        center, x_axis, axis = vector(c.Location()), vector(c.XAxis().Direction()), vector(c.Axis().Direction())
        radius = minor = c.Radius()
        points = [vector(curve.Value(first)), vector(curve.Value((first + last) / 2)), vector(curve.Value(last))]
    elif kind == "ellipse":
        e = curve.Ellipse()
        center, x_axis, axis = vector(e.Location()), vector(e.XAxis().Direction()), vector(e.Axis().Direction())
        radius, minor = e.MajorRadius(), e.MinorRadius()
        points = [vector(curve.Value(first)), vector(curve.Value((first + last) / 2)), vector(curve.Value(last))]
    elif source >= 0 and part.topology.edges[source].kind == "circle":  # a spline that is a circle comes back as one
        kind, round_edge = "circle", part.topology.edges[source]
        center, x_axis, axis = round_edge.center, round_edge.x_axis, round_edge.axis
        radius = minor = round_edge.radius
        points = [vector(curve.Value(t)) for t in (first, (first + last) / 2, last)]
        first, last = _angle(round_edge, points[0], False), _angle(round_edge, points[2], True)
    else:
        points = [vector(curve.Value(first + (last - first) * i / (SAMPLES - 1))) for i in range(SAMPLES)]
    return Piece(instance, edge_class, visible, source, face, kind, first, last, center, x_axis, axis, radius, minor, points)


def _angle(edge: EdgeGeometry, point: Vector, is_end: bool) -> float:
    """Angle of a point about a circular edge, within the edge's range."""
    if not (edge.center and edge.axis and edge.x_axis):
        return 0.0
    p = [a - b for a, b in zip(point, edge.center, strict=True)]
    (ax, ay, az), (xx, xy, xz) = edge.axis, edge.x_axis
    y = (ay * xz - az * xy, az * xx - ax * xz, ax * xy - ay * xx)
    t = math.atan2(sum(a * b for a, b in zip(p, y, strict=True)), sum(a * b for a, b in zip(p, edge.x_axis, strict=True))) % (2 * math.pi)
    if is_end and t < 1e-7:
        return edge.last
    return 0.0 if t > edge.last + 1e-6 or 2 * math.pi - t < 1e-7 else t


def _source(part: PreparedPart, curve: int, middle: float) -> int:
    """The edge a curve belongs to; where several share it, the one whose range holds the piece's middle."""
    candidates = part.edge_of_curve.get(curve, [])
    if len(candidates) <= 1:
        return candidates[0] if candidates else -1
    edges = part.topology.edges
    return min(candidates, key=lambda i: max(edges[i].first - middle, middle - edges[i].last, 0.0))
