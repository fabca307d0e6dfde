"""Solids built from recipes, with a name for each face that survives every later operation.

A `NamedSolid` carries names of faces; each operation asks the kernel which face became which and hands the
names on.
"""

import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, field
from typing import Any

from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_Transform,
)
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism, BRepPrimAPI_MakeRevol
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Circ, gp_Dir, gp_Pln, gp_Pnt, gp_Vec
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS

from drafting.errors import ModelError
from drafting.kernel.topology import Shape, as_list, describe, solids, subshapes, transform
from drafting.kernel.vectors import Vector

Point2 = tuple[float, float]


@dataclass(frozen=True)
class Plane:
    """A placed plane: origin, x direction and normal (unit vectors, mm)."""

    origin: Vector
    x: Vector
    normal: Vector

    def point(self, p: Point2, height: float = 0.0) -> gp_Pnt:
        """A place of the plane, and a height above it, as the kernel's point; mm."""
        x, n = gp_Vec(*self.x), gp_Vec(*self.normal)
        y = n.Crossed(x)
        o = (
            gp_Vec(*self.origin)
            .Added(x.Multiplied(p[0]))
            .Added(y.Multiplied(p[1]))
            .Added(n.Multiplied(height))
        )
        return gp_Pnt(o.X(), o.Y(), o.Z())


@dataclass(frozen=True)
class Segment:
    """One piece of a closed profile: a line, an arc through a point, or a full circle about a center."""

    name: str
    start: Point2
    end: Point2
    through: Point2 | None = None
    circle: tuple[Point2, float] | None = None


@dataclass
class NamedSolid:
    """A shape with a name for each of its faces."""

    shape: Shape
    names: list[tuple[Shape, str]] = field(default_factory=list)

    def name_of(self) -> Callable[[Shape], str | None]:
        """Looks up the name of a face of the shape; None for one it does not have."""
        faces = ShapeMap()
        table: dict[int, str] = {}
        for face, name in self.names:
            table.setdefault(faces.Add(face), name)
        return lambda face: table.get(faces.FindIndex(face))

    def renamed(self, change: Callable[[str], str]) -> "NamedSolid":
        """The same shape with every name changed."""
        return NamedSolid(self.shape, [(f, change(n)) for f, n in self.names])


def _edge(plane: Plane, s: Segment) -> Shape:
    if s.circle:
        center, radius = s.circle
        axis = gp_Ax2(plane.point(center), gp_Dir(*plane.normal), gp_Dir(*plane.x))
        return BRepBuilderAPI_MakeEdge(gp_Circ(axis, radius)).Edge()
    a, b = plane.point(s.start), plane.point(s.end)
    if s.through:
        return BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(a, plane.point(s.through), b).Value()).Edge()
    return BRepBuilderAPI_MakeEdge(a, b).Edge()


def _profile_face(plane: Plane, loops: Sequence[Sequence[Segment]]) -> tuple[Shape, list[tuple[Shape, str]]]:
    pln = gp_Pln(gp_Ax3(gp_Pnt(*plane.origin), gp_Dir(*plane.normal), gp_Dir(*plane.x)))
    named: list[tuple[Shape, str]] = []
    wires = []
    for loop in loops:
        maker = BRepBuilderAPI_MakeWire()
        for segment in loop:
            maker.Add(_edge(plane, segment))
            if not maker.IsDone():
                raise ModelError(f"The profile does not close or crosses itself at segment {segment.name!r}.")
            named.append((maker.Edge(), segment.name))
        wires.append(maker.Wire())
    face = BRepBuilderAPI_MakeFace(pln, wires[0], True)
    for wire in wires[1:]:
        face.Add(TopoDS.Wire(wire.Reversed()))
    if not face.IsDone() or not BRepCheck_Analyzer(face.Face()).IsValid():
        raise ModelError("The profile does not bound an area: it must be closed and must not cross itself.")
    return face.Face(), named


def extrude(plane: Plane, loops: Sequence[Sequence[Segment]], depth: float) -> NamedSolid:
    """Sweep a profile along its plane's normal by depth (mm, may be negative). Faces: start, end and one per
    segment."""
    face, segments = _profile_face(plane, loops)
    n = gp_Vec(*plane.normal).Multiplied(depth)
    prism = BRepPrimAPI_MakePrism(face, n, True)
    names = [(prism.FirstShape(), "start"), (prism.LastShape(), "end")]
    names += [(made, name) for edge, name in segments for made in as_list(prism.Generated(edge))]
    return NamedSolid(prism.Shape(), names)


def revolve(
    plane: Plane, loops: Sequence[Sequence[Segment]], axis_from: Point2, axis_to: Point2, angle: float
) -> NamedSolid:
    """Turn a profile about a line of its plane by an angle in radians. Faces: one per segment; start and end
    if not a full turn."""
    face, segments = _profile_face(plane, loops)
    a, b = plane.point(axis_from), plane.point(axis_to)
    axis = gp_Ax1(a, gp_Dir(gp_Vec(a, b)))
    full = abs(angle) >= 2 * math.pi - 1e-9
    turn = BRepPrimAPI_MakeRevol(face, axis, True) if full else BRepPrimAPI_MakeRevol(face, axis, angle, True)
    if not turn.IsDone():
        raise ModelError("the profile cannot be turned about that axis; it must not cross it.")
    names = [(made, name) for edge, name in segments for made in as_list(turn.Generated(edge))]
    if not full:
        names += [(turn.FirstShape(), "start"), (turn.LastShape(), "end")]
    return NamedSolid(turn.Shape(), names)


def moved(solid: NamedSolid, matrix: list[list[float]]) -> NamedSolid:
    """A copy placed by a rigid 4 x 4 matrix."""
    maker = BRepBuilderAPI_Transform(solid.shape, transform(matrix), True)
    return NamedSolid(maker.Shape(), [(maker.ModifiedShape(face), name) for face, name in solid.names])


def _carried(
    names: Iterable[tuple[Shape, str]], modified: Callable[[Shape], Any], removed: Callable[[Shape], bool]
) -> list[tuple[Shape, str]]:
    out: list[tuple[Shape, str]] = []
    for face, name in names:
        if removed(face):
            continue
        now = as_list(modified(face))
        out += [(f, name) for f in now] if now else [(face, name)]
    return out


def combine(body: NamedSolid, tool: NamedSolid, operation: str) -> NamedSolid:
    """Add, cut or intersect; faces that lie in one surface are joined, and keep the older name."""
    makers = {"add": BRepAlgoAPI_Fuse, "cut": BRepAlgoAPI_Cut, "intersect": BRepAlgoAPI_Common}
    maker = makers[operation](body.shape, tool.shape)
    if not maker.IsDone():
        raise ModelError("the kernel could not combine the feature with the body.")
    names = _carried([*body.names, *tool.names], maker.Modified, maker.IsDeleted)
    unify = ShapeUpgrade_UnifySameDomain(maker.Shape(), True, True, False)
    unify.Build()
    history = unify.History()
    names = _carried(names, history.Modified, history.IsRemoved)
    shape = unify.Shape()
    if not solids(shape):
        raise ModelError("nothing is left of the body.")
    return NamedSolid(shape, names)


def edges_matching(solid: NamedSolid, selector: str) -> list[Shape]:
    """Edges named by `face|face`, or all edges of one `face`. Smooth edges and seams are left out."""
    wanted = selector.split("|")
    topology = describe(solid.shape)
    name = solid.name_of()
    face_names = [name(f) or "" for f in topology.face_shapes]
    found = []
    for edge, shape in zip(topology.edges, topology.edge_shapes, strict=True):
        owners = {face_names[f] for f in edge.faces}
        if not edge.seam and not edge.smooth and all(w in owners for w in wanted):
            found.append(shape)
    return found


def fillet(solid: NamedSolid, edges: list[Shape], radius: float) -> NamedSolid:
    """Round edges with a radius; the new faces are named round.1, round.2 and so on, in the order of the
    edges."""
    maker = BRepFilletAPI_MakeFillet(solid.shape)
    for edge in edges:
        maker.Add(radius, TopoDS.Edge(edge))
    return _blended(solid, maker, edges, "round", f"the radius {radius:g} mm does not fit the picked edges.")


def chamfer(solid: NamedSolid, edges: list[Shape], length: float) -> NamedSolid:
    """Bevel edges at equal lengths; the new faces are named bevel.1, bevel.2 and so on."""
    maker = BRepFilletAPI_MakeChamfer(solid.shape)
    for edge in edges:
        maker.Add(length, TopoDS.Edge(edge))
    return _blended(solid, maker, edges, "bevel", f"the length {length:g} mm does not fit the picked edges.")


def _blended(solid: NamedSolid, maker: Any, edges: list[Shape], role: str, complaint: str) -> NamedSolid:
    try:
        maker.Build()
        shape = maker.Shape()
    except Exception as error:
        raise ModelError(complaint) from error
    if not BRepCheck_Analyzer(shape).IsValid():
        raise ModelError(complaint)
    names = _carried(solid.names, maker.Modified, maker.IsDeleted)
    for number, edge in enumerate(edges, 1):
        names += [
            (f, f"*{role}.{number}")
            for f in as_list(maker.Generated(edge))
            if f.ShapeType() == Kind.TopAbs_FACE
        ]
    return NamedSolid(shape, names)


def is_valid(shape: Shape) -> bool:
    """Whether the kernel finds nothing wrong with a shape."""
    return bool(BRepCheck_Analyzer(shape).IsValid())


def face_names(solid: NamedSolid) -> list[str | None]:
    """The name of each face of the shape, in the kernel's order; None where none came through."""
    name = solid.name_of()
    return [name(f) for f in subshapes(solid.shape, Kind.TopAbs_FACE)]
