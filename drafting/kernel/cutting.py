"""Cutting a shape with straight prisms for sections, keeping what every face and edge of the result comes
from."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import TypeAlias

from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_BooleanOperation, BRepAlgoAPI_Common, BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakePolygon
from OCP.BRepGProp import BRepGProp
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.BRepTools import BRepTools, BRepTools_WireExplorer
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.collections import List_TopoDS_Shape as ShapeList
from OCP.GeomAbs import GeomAbs_CurveType as CurveType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.GProp import GProp_GProps
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS

from drafting.errors import ViewError
from drafting.kernel.measure import volume
from drafting.kernel.topology import Shape, Topology, as_list, describe, subshapes
from drafting.kernel.vectors import Vector, vector

TURN_STEPS, FREE_STEPS = 360, 128
"""Steps of a full circle and of a free curve in a loop: of a circle they lie within 4e-5 of its radius."""
FUZZY = (0.0, 1e-5, 1e-4)
"""How far apart, mm, the kernel may take things that meet: exact first, then what faces that are not quite
closed ask for."""
ADDS_UP = 1e-3
"""How far the volumes of two parts may be from that of the whole, as a share of it."""
Operation: TypeAlias = BRepAlgoAPI_BooleanOperation
OTHER: dict[type[Operation], type[Operation]] = {
    BRepAlgoAPI_Cut: BRepAlgoAPI_Common,
    BRepAlgoAPI_Common: BRepAlgoAPI_Cut,
}


@dataclass(frozen=True)
class Prism:
    """A closed flat polygon (three points or more, mm) swept along a vector. Its side i stands on the
    polygon's edge from i to i + 1."""

    polygon: tuple[Vector, ...]
    sweep: Vector


@dataclass(frozen=True)
class CutShape:
    """What is left of a shape, with its topology. faces: for each face the index of the face it comes from,
    or -1 - i for side i of the prism (the caps come after the sides), None where the kernel does not tell;
    edges: for each edge the index of the edge it comes from, or -1."""

    shape: Shape = field(repr=False)
    topology: Topology = field(repr=False)
    faces: tuple[int | None, ...]
    edges: tuple[int, ...]


@dataclass(frozen=True)
class FlatFace:
    """Loops of a face as points (mm; the outer one first, not repeated at the end) and its exact area in
    mm2."""

    loops: tuple[tuple[Vector, ...], ...]
    area: float


def remove(shape: Shape, source: Topology, prism: Prism) -> CutShape | None:
    """The shape less the prism; None where nothing is left. Raises ViewError where the kernel cannot cut
    it."""
    return _tried(BRepAlgoAPI_Cut, shape, source, prism)


def keep(shape: Shape, source: Topology, prism: Prism) -> CutShape | None:
    """The part of the shape inside the prism; None where there is none. Raises ViewError where the kernel
    cannot cut it."""
    return _tried(BRepAlgoAPI_Common, shape, source, prism)


def _tried(operation: type[Operation], shape: Shape, source: Topology, prism: Prism) -> CutShape | None:
    """The result of the first try that can be: either it has a face that the cut made, or what is kept and
    what is taken away make the whole."""
    for fuzzy in FUZZY:
        work, sides = _done(operation, shape, prism, fuzzy)
        if work is None:
            continue
        found = _traced(work, sides, source)
        if found is not None and any(f is not None and f < 0 for f in found.faces):
            return found
        other, _ = _done(OTHER[operation], shape, prism, fuzzy)
        if other is None:
            continue
        pieces = [w.Shape() for w in (work, other)]
        together = sum(volume(p) for p in pieces if p is not None and not p.IsNull())
        if abs(together - volume(shape)) <= ADDS_UP * volume(shape):
            return found
    raise ViewError("The kernel could not cut this part there; move the cutting line a little.")


def _done(
    operation: type[Operation], shape: Shape, prism: Prism, fuzzy: float
) -> tuple[Operation | None, list[Shape]]:
    """The finished operation, None where it failed, and the prism's sides."""
    tool, sides = _solid(prism)
    work = operation()
    for given, into in ((shape, work.SetArguments), (tool, work.SetTools)):
        one = ShapeList()
        one.Append(given)
        into(one)
    work.SetFuzzyValue(fuzzy)
    work.Build()
    return (work if work.IsDone() else None), sides


def _traced(work: Operation, sides: list[Shape], source: Topology) -> CutShape | None:
    result = work.Shape()
    if result is None or result.IsNull() or not subshapes(result, Kind.TopAbs_FACE):
        return None
    topology = describe(result)
    faces, edges = _indexed(topology.face_shapes), _indexed(topology.edge_shapes)
    face_source: list[int | None] = [None] * len(topology.faces)
    edge_source: list[int | None] = [-1] * len(topology.edges)
    for olds, found, out in (
        (source.face_shapes, faces, face_source),
        (source.edge_shapes, edges, edge_source),
    ):
        for index, old in enumerate(olds):
            for part in _followed(work, old):
                if (place := found.FindIndex(part)) > 0:
                    out[place - 1] = index
    for side, face in enumerate(sides):
        for part in _followed(work, face):
            if (place := faces.FindIndex(part)) > 0:
                face_source[place - 1] = -1 - side
    return CutShape(result, topology, tuple(face_source), tuple(-1 if e is None else e for e in edge_source))


def _indexed(shapes: Sequence[Shape]) -> ShapeMap:
    found = ShapeMap()
    for shape in shapes:
        found.Add(shape)
    return found


def _followed(work: BRepAlgoAPI_BooleanOperation, shape: Shape) -> list[Shape]:
    """What became of a face or an edge of an argument."""
    if work.IsDeleted(shape):
        return []
    return as_list(work.Modified(shape)) or [shape]


def _solid(prism: Prism) -> tuple[Shape, list[Shape]]:
    maker = BRepBuilderAPI_MakePolygon()
    for p in prism.polygon:
        maker.Add(gp_Pnt(*p))
    maker.Close()
    wire = maker.Wire()
    face = BRepBuilderAPI_MakeFace(wire, True)
    if not face.IsDone():
        raise ViewError("The cutting outline crosses itself or is not flat.")
    sweep = BRepPrimAPI_MakePrism(face.Face(), gp_Vec(*prism.sweep))
    sides: list[Shape] = []
    explorer = BRepTools_WireExplorer(TopoDS.Wire(wire))
    while explorer.More():
        sides += as_list(sweep.Generated(explorer.Current()))
        explorer.Next()
    return sweep.Shape(), [*sides, sweep.FirstShape(), sweep.LastShape()]


def flat_face(face: Shape) -> FlatFace:
    """Loops of a plane face: ends of straight edges, and fine steps on curved ones."""
    properties = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, properties, 1e-6)
    outer = BRepTools.OuterWire_s(TopoDS.Face(face))
    wires = [w for w in subshapes(face, Kind.TopAbs_WIRE) if not w.IsSame(outer)]
    return FlatFace(tuple(_loop(w, face) for w in (outer, *wires)), abs(properties.Mass()))


def _loop(wire: Shape, face: Shape) -> tuple[Vector, ...]:
    points: list[Vector] = []
    explorer = BRepTools_WireExplorer(TopoDS.Wire(wire), TopoDS.Face(face))
    while explorer.More():
        edge = explorer.Current()
        curve = BRepAdaptor_Curve(edge)
        first, last = curve.FirstParameter(), curve.LastParameter()
        steps = _steps(curve.GetType(), last - first)
        if str(edge.Orientation()).endswith("REVERSED"):
            first, last = last, first
        points += [vector(curve.Value(first + (last - first) * s)) for s in (i / steps for i in range(steps))]
        explorer.Next()
    return tuple(points)


def _steps(kind: CurveType, reach: float) -> int:
    """How many steps a curve is taken in, that runs so far in its parameter."""
    if kind == CurveType.GeomAbs_Line:
        return 1
    if kind in (CurveType.GeomAbs_Circle, CurveType.GeomAbs_Ellipse):
        return max(4, math.ceil(TURN_STEPS * reach / (2 * math.pi)))
    return FREE_STEPS
