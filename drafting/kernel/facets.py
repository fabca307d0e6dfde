"""A part as arrays for the visibility engine: triangles with normals per face, and the polyline of every edge
on both its faces.

All Python calls per node happen here, once per distinct part; everything after works on arrays and without
the kernel.
"""

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepLib import BRepLib_ToolTriangulatedShape
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from drafting.kernel.recognition import is_one_surface
from drafting.kernel.sides import SMOOTH as WITHOUT_CORNER
from drafting.kernel.topology import EdgeGeometry, FaceGeometry, Shape, Topology, describe, location_matrix
from drafting.kernel.vectors import vector
from drafting.views.visibility.part import (
    CURVED_KINDS,
    EDGE_FORMS,
    FACE_KINDS,
    SEAM,
    SMOOTH,
    FacetedPart,
    Floats,
    Ints,
)

TABLE = 97
"""Points kept of an edge that is neither line, circle nor ellipse."""


@dataclass
class _FaceMesh:
    nodes: Floats
    normals: Floats
    triangles: Ints
    offset: int


def deflection(diagonal: float) -> float:
    """Largest distance of the triangles from the true surface, mm: less than a thousandth of the part, within
    bounds."""
    return min(max(diagonal * 7e-4, 1e-3), 0.1)


def facet(shape: Shape, diagonal: float, topology: Topology | None = None, angle: float = 0.4) -> FacetedPart:
    """Triangles, edges and silhouettes' raw material of a part in its own frame. diagonal: of the part's
    extents, mm."""
    topology = topology or describe(shape)
    surfaces = [_met(f) for f in topology.faces]
    linear = deflection(diagonal)
    BRepMesh_IncrementalMesh(shape, linear, False, angle, True)
    faces: dict[int, _FaceMesh] = {}
    offset = 0
    for index, (face, geometry) in enumerate(zip(topology.face_shapes, surfaces, strict=True)):
        mesh = _face_mesh(face, geometry, offset)
        if mesh is not None:
            faces[index] = mesh
            offset += len(mesh.nodes)
    uses = _edge_uses(topology, faces)
    edges = _Edges(topology.faces)
    nodes = np.concatenate([m.nodes for m in faces.values()]) if faces else np.zeros((0, 3))
    normals = np.concatenate([m.normals for m in faces.values()]) if faces else np.zeros((0, 3))
    for index, edge in enumerate(topology.edges):
        edges.add(index, edge, topology.edge_shapes[index], uses.get(index, []), nodes, normals)
    triangles = [m.triangles + m.offset for m in faces.values()]
    owners = [np.full(len(m.triangles), i) for i, m in faces.items()]
    return FacetedPart(
        linear=np.array(linear),
        nodes=nodes,
        normals=normals,
        triangles=np.concatenate(triangles) if triangles else np.zeros((0, 3), int),
        triangle_face=np.concatenate(owners) if owners else np.zeros(0, int),
        node_face=np.repeat(np.array(list(faces), int), [len(m.nodes) for m in faces.values()])
        if faces
        else np.zeros(0, int),
        **_face_table(surfaces),
        **edges.arrays(),
    )


def _met(face: FaceGeometry) -> FaceGeometry:
    """A torus whose face lies beyond the axis, where R + r cos t is negative, as that surface about a ring of
    radius -R; then all that holds of tori holds of it."""
    if face.kind != "torus" or face.minor_radius <= face.radius or face.span is None:
        return face
    beyond = face.radius + face.minor_radius * math.cos((face.span[0] + face.span[1]) / 2) < 0
    return replace(face, radius=-face.radius) if beyond else face


def _face_mesh(face: Shape, geometry: FaceGeometry, offset: int) -> _FaceMesh | None:
    location = TopLoc_Location()
    mesh = BRep_Tool.Triangulation_s(face, location)
    if mesh is None:
        return None
    count = mesh.NbNodes()
    node = mesh.Node
    points = np.array([(p.X(), p.Y(), p.Z()) for p in map(node, range(1, count + 1))])
    triangle = mesh.Triangle
    corners = np.array([triangle(i).Get() for i in range(1, mesh.NbTriangles() + 1)], dtype=np.int64) - 1
    matrix = None if location.IsIdentity() else np.array(location_matrix(location))
    if matrix is not None:
        points = points @ matrix[:3, :3].T + matrix[:3, 3]
    if str(face.Orientation()).endswith("REVERSED"):
        corners = corners[:, ::-1].copy()
    normals = _exact_normals(geometry, points)
    if normals is None:
        BRepLib_ToolTriangulatedShape.ComputeNormals_s(face, mesh)
        normal = mesh.Normal
        normals = np.array([(n.X(), n.Y(), n.Z()) for n in map(normal, range(1, count + 1))])
        if matrix is not None:
            normals = normals @ matrix[:3, :3].T
    flat = np.cross(
        points[corners[:, 1]] - points[corners[:, 0]], points[corners[:, 2]] - points[corners[:, 0]]
    )
    if (flat * normals[corners].sum(1)).sum() < 0:
        normals = -normals
    return _FaceMesh(points, normals, corners, offset)


def _exact_normals(face: FaceGeometry, points: Floats) -> Floats | None:
    """Unit normals of the plain surfaces at points, up to one common sign; zero at the apex of a cone. None
    for free surfaces."""
    axis, origin = np.array(face.axis), np.array(face.origin)
    if face.kind == "plane":
        return np.tile(axis, (len(points), 1))
    away = points - origin
    if face.kind == "sphere":
        return np.asarray(away / max(face.radius, 1e-12))
    height = away @ axis
    radial = away - height[:, None] * axis
    distance = np.linalg.norm(radial, axis=1)[:, None]
    unit = np.where(distance > 1e-6, radial / np.maximum(distance, 1e-12), 0.0)
    if face.kind == "cylinder":
        return unit
    if face.kind == "cone":
        side = np.where(height * math.tan(face.half_angle) >= 0, 1.0, -1.0)[
            :, None
        ]  # beyond the apex the surface turns over
        out = math.cos(face.half_angle) * unit * side - math.sin(face.half_angle) * axis
        return np.where(distance > 1e-6, out * side, 0.0)
    if face.kind == "torus":
        tube = away - unit * face.radius
        return np.asarray(tube / np.maximum(np.linalg.norm(tube, axis=1)[:, None], 1e-12))
    return None


def _edge_uses(topology: Topology, faces: dict[int, _FaceMesh]) -> dict[int, list[tuple[int, int, Any]]]:
    """For each edge the faces that meet in it, the sense in which each runs along it, and its polygon on that
    face."""
    number = {shape: i for i, shape in enumerate(_Keyed(s) for s in topology.edge_shapes)}
    uses: dict[int, list[tuple[int, int, Any]]] = {}
    for index in faces:
        face = topology.face_shapes[index]
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(face, location)
        explorer = TopExp_Explorer(face, Kind.TopAbs_EDGE)
        while explorer.More():
            edge = TopoDS.Edge(explorer.Current())
            explorer.Next()
            found = number.get(_Keyed(edge))
            if found is None:
                continue
            polygon = BRep_Tool.PolygonOnTriangulation_s(edge, mesh, location)
            if polygon is not None:
                uses.setdefault(found, []).append(
                    (
                        index,
                        -1 if str(edge.Orientation()).endswith("REVERSED") else 1,
                        (polygon, faces[index].offset),
                    )
                )
    return uses


class _Keyed:
    """A shape as a dictionary key: same place and content, any orientation."""

    def __init__(self, shape: Shape) -> None:
        self.shape = shape

    def __hash__(self) -> int:
        return hash(self.shape)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Keyed) and bool(self.shape.IsSame(other.shape))


def _face_table(faces: list[FaceGeometry]) -> dict[str, NDArray[Any]]:
    kinds = np.array([FACE_KINDS.index(f.kind) for f in faces], int)
    return {
        "face_kind": kinds,
        "face_curved": np.isin(kinds, CURVED_KINDS),
        "face_origin": np.array([f.origin for f in faces]).reshape(-1, 3),
        "face_axis": np.array([f.axis for f in faces]).reshape(-1, 3),
        "face_radius": np.array([f.radius for f in faces]),
        "face_minor": np.array([f.minor_radius for f in faces]),
        "face_angle": np.array([f.half_angle for f in faces]),
    }


class _Edges:
    """Gathers the drawn edges of a part; rows and nodes become arrays at the end."""

    def __init__(self, faces: list[FaceGeometry]) -> None:
        self.faces = faces
        self.rows: list[tuple[int, ...]] = []
        self.forms: list[Floats] = []
        self.points: list[Floats] = []
        self.first: list[Floats] = []
        self.second: list[Floats] = []
        self.parameters: list[Floats] = []
        self.tables: list[Floats] = []
        self.table_parameters: list[Floats] = []

    def add(
        self,
        index: int,
        edge: EdgeGeometry,
        shape: Shape,
        uses: list[tuple[int, int, Any]],
        nodes: Floats,
        normals: Floats,
    ) -> None:
        if not uses:
            return
        fa, sa, (polygon, offset) = uses[0]
        ia = _polygon_nodes(polygon) + offset
        points, first = nodes[ia], normals[ia]
        fb, sb, second, convex, kind = -1, 0, first, 0, 0
        if len(uses) > 1:
            fb, sb, (other, other_offset) = uses[1]
            ib = _polygon_nodes(other) + other_offset
            if len(ib) == len(ia):
                second = (
                    normals[ib]
                    if np.abs(nodes[ib[0]] - points[0]).max() <= np.abs(nodes[ib[-1]] - points[0]).max()
                    else normals[ib[::-1]]
                )
            known = (np.abs(first).sum(1) > 0.5) & (
                np.abs(second).sum(1) > 0.5
            )  # a cone's apex has no normal
            if (first * second).sum(1)[known].min(initial=1.0) > WITHOUT_CORNER:
                kind = SEAM if fa == fb or is_one_surface(self.faces[fa], self.faces[fb]) else SMOOTH
            into = np.cross(first[:-1] + first[1:], np.diff(points, axis=0) * sa)
            convex = 1 if ((second[:-1] + second[1:]) * into).sum() < 0 else -1
        form = EDGE_FORMS.index(edge.kind if edge.kind in EDGE_FORMS else "other")
        t, table = self._parameters(edge, shape, points, polygon)
        self.rows.append((index, kind, convex, fa, fb, sa, sb, form, len(points), len(table)))
        self.forms.append(_exact_form(edge))
        self.points.append(points)
        self.first.append(first)
        self.second.append(second)
        self.parameters.append(t)
        self.tables.append(table)

    def _parameters(
        self, edge: EdgeGeometry, shape: Shape, points: Floats, polygon: Any
    ) -> tuple[Floats, Floats]:
        """Parameters of the polyline's nodes on the exact curve; for free curves also a table of points on
        it."""
        none = np.zeros((0, 3))
        if edge.kind == "line":
            start = np.array(edge.start)
            d = np.array(edge.end) - start
            return np.asarray(np.clip((points - start) @ d / max(float(d @ d), 1e-30), 0, 1)), none
        if edge.kind in ("circle", "ellipse") and edge.center and edge.axis and edge.x_axis:
            away, x = points - np.array(edge.center), np.array(edge.x_axis)
            y = np.cross(edge.axis, x)
            t = np.arctan2(away @ y / max(edge.minor_radius, 1e-12), away @ x / max(edge.radius, 1e-12))
            t = np.unwrap(t)
            turns = (
                round((edge.first - float(t[0])) / (2 * math.pi))
                if t[-1] >= t[0]
                else round((edge.last - float(t[0])) / (2 * math.pi))
            )
            return t + turns * 2 * math.pi, none
        curve = BRepAdaptor_Curve(shape)
        first, last = curve.FirstParameter(), curve.LastParameter()
        steps = np.linspace(first, last, TABLE)
        table = np.array([vector(curve.Value(float(s))) for s in steps])
        if polygon.HasParameters():
            values = polygon.Parameters()
            t = np.array([values.Value(i) for i in range(1, values.Length() + 1)])
        else:
            t = np.linspace(first, last, len(points))
        return (t - first) / max(last - first, 1e-30), table

    def arrays(self) -> dict[str, NDArray[Any]]:
        empty = np.zeros((0, 3))
        rows = np.array(self.rows, int).reshape(-1, 10)
        return {
            "edges": rows,
            "edge_form": np.array(self.forms).reshape(-1, 4, 3),
            "edge_nodes": np.concatenate(self.points or [empty]),
            "edge_normals_a": np.concatenate(self.first or [empty]),
            "edge_normals_b": np.concatenate(self.second or [empty]),
            "edge_parameters": np.concatenate(self.parameters or [np.zeros(0)]),
            "edge_tables": np.concatenate(self.tables or [empty]),
        }


def _polygon_nodes(polygon: Any) -> Ints:
    count = polygon.NbNodes()
    node = polygon.Node
    return np.array([node(i) for i in range(1, count + 1)], dtype=np.int64) - 1


def _exact_form(edge: EdgeGeometry) -> Floats:
    """Rows C, X, Y, D of the curve C + X cos t + Y sin t + D t; zeros for a free curve."""
    zero = np.zeros(3)
    if edge.kind == "line":
        start = np.array(edge.start)
        return np.array([start, zero, zero, np.array(edge.end) - start])
    if edge.kind in ("circle", "ellipse") and edge.center and edge.axis and edge.x_axis:
        x = np.array(edge.x_axis)
        return np.array([edge.center, x * edge.radius, np.cross(edge.axis, x) * edge.minor_radius, zero])
    return np.zeros((4, 3))
