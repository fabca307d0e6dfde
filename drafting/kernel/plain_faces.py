"""Faces of splines that are pieces of one plain surface, put on that surface so that they can be joined."""

import math
from collections.abc import Iterator

import numpy as np
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Curve2d, BRepAdaptor_Surface
from OCP.BRepBuilderAPI import BRepBuilderAPI_Copy
from OCP.BRepCheck import BRepCheck_Analyzer
from OCP.BRepLib import BRepLib
from OCP.BRepTools import BRepTools, BRepTools_ReShape
from OCP.collections import Array1_double, Array1_gp_Pnt2d, Array1_int
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap,
)
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.Geom import (
    Geom_BSplineCurve,
    Geom_ConicalSurface,
    Geom_CylindricalSurface,
    Geom_Plane,
    Geom_SphericalSurface,
    Geom_Surface,
    Geom_ToroidalSurface,
)
from OCP.Geom2d import Geom2d_BSplineCurve, Geom2d_Curve
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.GeomProjLib import GeomProjLib
from OCP.gp import gp_Ax3, gp_Dir, gp_Pnt, gp_Pnt2d, gp_Vec, gp_Vec2d
from OCP.ShapeAnalysis import ShapeAnalysis_Surface
from OCP.TopAbs import TopAbs_Orientation as Orientation
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS, TopoDS_Edge, TopoDS_Face, TopoDS_Iterator

from drafting.kernel.recognition import ONE, Array, Plain, is_one_surface, recognized
from drafting.kernel.sides import SMOOTH
from drafting.kernel.topology import Shape, as_list, subshapes

FREE = (SurfaceType.GeomAbs_BSplineSurface, SurfaceType.GeomAbs_BezierSurface)
LOOSE = 1e-3
"""The widest gap, mm, that an edge may have to the surface its face is put on."""


def made_plain(shape: Shape) -> Shape:
    """The shape with those of its spline faces put on their plain surface that lie beside another piece of
    it. The shape as it is where there are none, or where the kernel does not find the new one sound."""
    groups = list(_pieces(shape))
    if not groups:
        return shape
    copy = BRepBuilderAPI_Copy(shape)  # edges are shared, and what is not taken must leave no trace on them
    tool = BRepTools_ReShape()
    for faces, edges, plain in groups:
        pole = next(filter(None, map(_pole, faces)), None)
        for face in (copy.ModifiedShape(f) for f in faces):
            # each on a surface of its own: an edge has one curve on a surface
            tool.Replace(face, _on_plain(face, plain.kind, _surface(plain, edges, pole)))
    out = tool.Apply(copy.Shape())
    BRepLib.SameParameter_s(out, 1e-6, True)
    widest = max(BRep_Tool.Tolerance_s(TopoDS.Edge(e)) for e in subshapes(out, Kind.TopAbs_EDGE))
    before = max(BRep_Tool.Tolerance_s(TopoDS.Edge(e)) for e in subshapes(shape, Kind.TopAbs_EDGE))
    if widest > max(LOOSE, before) or not BRepCheck_Analyzer(out).IsValid():
        return shape
    return out


def _pieces(shape: Shape) -> Iterator[tuple[list[Shape], list[Shape], Plain]]:
    """Spline faces that adjoin and are pieces of one plain surface, with the edges between them and it."""
    owners = AncestorMap()
    TopExp.MapShapesAndAncestors_s(shape, Kind.TopAbs_EDGE, Kind.TopAbs_FACE, owners)
    every = [f.Oriented(Orientation.TopAbs_FORWARD) for f in subshapes(shape, Kind.TopAbs_FACE)]
    number = ShapeMap()
    TopExp.MapShapes_s(shape, Kind.TopAbs_FACE, number)
    known: dict[int, Plain | None] = {}
    beside: dict[int, list[tuple[int, Shape]]] = {}
    for n in range(1, owners.Extent() + 1):
        edge, meet = owners.FindKey(n), as_list(owners.FindFromIndex(n))
        if len(meet) != 2 or meet[0].IsSame(meet[1]):
            continue
        one, two = (number.FindIndex(f) - 1 for f in meet)
        if not (_is_free(every[one]) and _is_free(every[two]) and _is_smooth(edge, every[one], every[two])):
            continue
        for face in (one, two):
            if face not in known:
                known[face] = _plain(every[face])
        a, b = known[one], known[two]
        if a is not None and b is not None and is_one_surface(a, b):
            beside.setdefault(one, []).append((two, edge))
            beside.setdefault(two, []).append((one, edge))
    while beside:
        group, edges = [next(iter(beside))], []
        for face in group:
            for other, edge in beside.pop(face):
                edges.append(edge)
                if other not in group:
                    group.append(other)
        plain = known[group[0]]
        assert plain is not None
        yield [every[n] for n in group], edges, plain


def _is_free(face: Shape) -> bool:
    return BRepAdaptor_Surface(TopoDS.Face(face), False).GetType() in FREE


def _plain(face: Shape) -> Plain | None:
    u0, u1, v0, v1 = BRepTools.UVBounds_s(TopoDS.Face(face))
    return recognized(BRepAdaptor_Surface(TopoDS.Face(face), True), (u0, u1), (v0, v1))


def _is_smooth(edge: Shape, one: Shape, two: Shape) -> bool:
    """Whether two faces touch the same plane in the middle of their edge."""
    a, b = (_normal_on(face, edge) for face in (one, two))
    return abs(float(a @ b)) > SMOOTH * float(np.linalg.norm(a)) * float(np.linalg.norm(b))


def _normal_on(face: Shape, edge: Shape) -> Array:
    """A vector square to a face in the middle of an edge."""
    curve = BRepAdaptor_Curve2d(TopoDS.Edge(edge), TopoDS.Face(face))
    at = curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2)
    return _place(BRepAdaptor_Surface(TopoDS.Face(face), False), at.X(), at.Y())[1]


def _place(surface: BRepAdaptor_Surface | Geom_Surface, u: float, v: float) -> tuple[Array, Array]:
    """A place of a surface and a vector square to it there."""
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1(u, v, p, du, dv)
    n = du.Crossed(dv)
    return np.array([p.X(), p.Y(), p.Z()]), np.array([n.X(), n.Y(), n.Z()])


# ---- putting a face on its surface -------------------------------------------------------------------------
def _on_plain(face: Shape, kind: str, surface: Geom_Surface) -> Shape:
    """A face with its edges on a plain surface."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(TopoDS.Face(face))
    old = BRepAdaptor_Surface(TopoDS.Face(face), True)
    middle, normal = _place(old, (u0 + u1) / 2, (v0 + v1) / 2)
    at = ShapeAnalysis_Surface(surface)
    center = at.ValueOfUV(gp_Pnt(*middle.tolist()), 1e-7)
    is_same_way = float(_place(surface, center.X(), center.Y())[1] @ normal) > 0
    made, builder = TopoDS_Face(), BRep_Builder()
    builder.MakeFace(made, surface, TopLoc_Location(), 1e-6)
    wires = TopoDS_Iterator(face)
    while wires.More():
        wire = wires.Value()
        builder.Add(made, wire if is_same_way else wire.Reversed())
        wires.Next()
    if kind == "plane":
        return made if is_same_way else made.Oriented(Orientation.TopAbs_REVERSED)
    for found in subshapes(made, Kind.TopAbs_EDGE):
        edge = TopoDS.Edge(found)
        if BRep_Tool.Degenerated_s(edge):
            flat = _of_point(edge, face, at, ((u0 + u1) / 2, (v0 + v1) / 2))
        else:
            flat = _of_straight(edge, kind, at) or _of_curve(edge, surface)
        middle_of = flat.Value((flat.FirstParameter() + flat.LastParameter()) / 2)
        turns = round((center.X() - middle_of.X()) / (2 * math.pi)) * 2 * math.pi
        rounds = round((center.Y() - middle_of.Y()) / (2 * math.pi)) * 2 * math.pi
        flat.Translate(gp_Vec2d(turns, rounds if kind == "torus" else 0.0))
        builder.UpdateEdge(edge, flat, made, 1e-7)
    return made if is_same_way else made.Oriented(Orientation.TopAbs_REVERSED)


def _pole(face: Shape) -> gp_Pnt | None:
    """The point that an edge of a face is."""
    for edge in subshapes(face, Kind.TopAbs_EDGE):
        if BRep_Tool.Degenerated_s(TopoDS.Edge(edge)):
            return BRep_Tool.Pnt_s(TopExp.FirstVertex_s(TopoDS.Edge(edge)))
    return None


def _of_straight(edge: TopoDS_Edge, kind: str, at: ShapeAnalysis_Surface) -> Geom2d_Curve | None:
    """A straight spline along a cylinder or cone in its parameters, exact up to the apex, where the angle of
    a point cannot be told."""
    curve = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    if kind not in ("cylinder", "cone") or not isinstance(curve, Geom_BSplineCurve):
        return None
    count = curve.NbPoles()
    places = np.array([_point(curve.Pole(n)) for n in range(1, count + 1)])
    way = places[-1] - places[0]
    away = places - places[0]
    if np.abs(np.cross(away, way)).max() > 1e-9 * float(way @ way):
        return None
    flat = [at.ValueOfUV(gp_Pnt(*p.tolist()), 1e-7) for p in places]
    far = max(flat, key=lambda p: _width(at, p.Y()))
    ends = _point(at.Value(far.X(), flat[0].Y())), _point(at.Value(far.X(), flat[-1].Y()))
    if max(np.abs(ends[0] - places[0]).max(), np.abs(ends[1] - places[-1]).max()) > ONE:
        return None
    poles = Array1_gp_Pnt2d(1, count)
    for n, p in enumerate(flat, 1):
        poles.SetValue(n, gp_Pnt2d(far.X(), p.Y()))
    knots, counts = Array1_double(1, curve.NbKnots()), Array1_int(1, curve.NbKnots())
    for n in range(1, curve.NbKnots() + 1):
        knots.SetValue(n, curve.Knot(n))
        counts.SetValue(n, curve.Multiplicity(n))
    if curve.IsRational():
        weights = Array1_double(1, count)
        for n in range(1, count + 1):
            weights.SetValue(n, curve.Weight(n))
        return Geom2d_BSplineCurve(poles, weights, knots, counts, curve.Degree())
    return Geom2d_BSplineCurve(poles, knots, counts, curve.Degree())


def _width(at: ShapeAnalysis_Surface, v: float) -> float:
    """Of a cylinder or cone at a height along it."""
    return float(at.Value(0.0, v).Distance(at.Value(math.pi, v)))


def _of_curve(edge: TopoDS_Edge, surface: Geom_Surface) -> Geom2d_Curve:
    """An edge in the parameters of a surface that it lies in."""
    ends = BRepAdaptor_Curve(edge)
    curve = BRep_Tool.Curve_s(edge, 0.0, 0.0)
    return GeomProjLib.Curve2d_s(curve, ends.FirstParameter(), ends.LastParameter(), surface, 1e-7)


def _of_point(
    edge: TopoDS_Edge, face: Shape, at: ShapeAnalysis_Surface, inside: tuple[float, float]
) -> Geom2d_Curve:
    """An edge that is a point of a face (a cone's apex, a sphere's pole) in the parameters of another
    surface: its ends are where the sides of the face come to it. inside: parameters of a place within."""
    old = BRepAdaptor_Surface(TopoDS.Face(face), True)
    curve = BRepAdaptor_Curve2d(edge, TopoDS.Face(face))
    first, last = curve.FirstParameter(), curve.LastParameter()
    one, two = curve.Value(first), curve.Value(last)
    runs_along_u = abs(two.X() - one.X()) > abs(two.Y() - one.Y())
    height = at.ValueOfUV(old.Value(one.X(), one.Y()), 1e-7).Y()
    middle = at.ValueOfUV(old.Value(*inside), 1e-7).X()
    ends = []
    for end in (one, two):
        u = end.X() if runs_along_u else end.X() + 0.1 * (inside[0] - end.X())
        v = end.Y() + 0.1 * (inside[1] - end.Y()) if runs_along_u else end.Y()
        angle = at.ValueOfUV(old.Value(u, v), 1e-7).X() - middle
        ends.append(middle + (angle + math.pi) % (2 * math.pi) - math.pi)
    poles, knots, counts = Array1_gp_Pnt2d(1, 2), Array1_double(1, 2), Array1_int(1, 2)
    for n, (knot, angle) in enumerate(zip((first, last), ends, strict=True), 1):
        poles.SetValue(n, gp_Pnt2d(angle, height))
        knots.SetValue(n, knot)
        counts.SetValue(n, 2)
    return Geom2d_BSplineCurve(poles, knots, counts, 1)


def _surface(plain: Plain, edges: list[Shape], pole: gp_Pnt | None) -> Geom_Surface:
    """A plain surface, its seam along one of the edges between its pieces: the one that lies the same way
    from its axis on all surfaces about it, so that circles they share are whole. pole: of a sphere."""
    middles = [BRepAdaptor_Curve(TopoDS.Edge(e)) for e in edges]
    places = [_point(c.Value((c.FirstParameter() + c.LastParameter()) / 2)) for c in middles]
    axis = plain.axis
    if plain.kind == "sphere":
        axis = _square(plain.origin - places[0])
        if pole is not None:
            axis = (_point(pole) - plain.origin) / plain.radius
    outward = [_across(p - plain.origin, axis) for p in places]
    fixed = _across(np.array([0.31, 0.53, 0.79]), axis)
    across = max(outward, key=lambda v: float(v @ fixed))
    if plain.kind == "plane" or not across.any():
        across = _square(axis)
    middle = places[0]
    height = float((middle - plain.origin) @ axis) if plain.kind == "cone" else 0.0
    frame = gp_Ax3(
        gp_Pnt(*(plain.origin + axis * height).tolist()), gp_Dir(*axis.tolist()), gp_Dir(*across.tolist())
    )
    if plain.kind == "plane":
        return Geom_Plane(frame)
    if plain.kind == "cylinder":
        return Geom_CylindricalSurface(frame, plain.radius)
    if plain.kind == "cone":
        return Geom_ConicalSurface(frame, plain.half_angle, height * math.tan(plain.half_angle))
    if plain.kind == "sphere":
        return Geom_SphericalSurface(frame, plain.radius)
    return Geom_ToroidalSurface(frame, plain.radius, plain.minor_radius)


def _point(at: gp_Pnt) -> Array:
    return np.array([at.X(), at.Y(), at.Z()])


def _across(way: Array, axis: Array) -> Array:
    """The direction of a way across an axis; nothing where it runs along."""
    found = way - axis * float(way @ axis)
    size = float(np.linalg.norm(found))
    return found / size if size > 1e-9 else found * 0.0


def _square(direction: Array) -> Array:
    """A direction square to one."""
    found = np.cross(direction, np.eye(3)[int(np.argmin(np.abs(direction)))])
    return np.asarray(found / np.linalg.norm(found))
