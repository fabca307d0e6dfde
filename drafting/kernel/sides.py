"""On which side of a face its material is, and how faces meet along an edge."""

import math
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepTools import BRepTools
from OCP.collections import (
    IndexedDataMap_TopoDS_Shape_List_TopoDS_Shape_TopTools_ShapeMapHasher as AncestorMap,
)
from OCP.GeomAbs import GeomAbs_Shape as Continuity
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_Orientation as Orientation
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer

from drafting.kernel.vectors import Array, Vector, vector, vector_of

Shape = Any  # a kernel shape; opaque outside this package
Turn = Literal["", "convex", "concave", "smooth"]
SMOOTH = math.cos(math.radians(1.0))
"""Cosine of the angle up to which faces meet without a corner, along an edge and in its views alike."""
STEPS_ROUND = 24
"""In how many steps a free surface is followed about its axis."""
ROUND_TYPES = (
    SurfaceType.GeomAbs_Cylinder,
    SurfaceType.GeomAbs_Cone,
    SurfaceType.GeomAbs_Torus,
    SurfaceType.GeomAbs_SurfaceOfRevolution,
)
"""Surfaces whose first parameter is the angle about their axis."""


@dataclass(frozen=True)
class Side:
    """hollow, x_axis and turn as in `topology.FaceGeometry`."""

    hollow: bool | None = None
    x_axis: Vector | None = None
    turn: tuple[float, float] | None = None


def side_of(
    face: Shape,
    surface: BRepAdaptor_Surface,
    kind: str,
    origin: Vector,
    axis: Vector,
    radius: float,
    minor_radius: float,
) -> Side:
    """The side that a face's material is on, and how far it goes about its axis. What the face is: as in
    `topology.FaceGeometry`. Empty of planes and free surfaces."""
    if kind == "plane" or (kind == "other" and not minor_radius):
        return Side()
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    surface.D1((u0 + u1) / 2, (v0 + v1) / 2, p, du, dv)
    normal = np.array(vector(du.Crossed(dv)))
    if face.Orientation() == Orientation.TopAbs_REVERSED:
        normal = -normal
    center, along = np.array(origin), np.array(axis)
    out = np.array(vector(p)) - center
    if kind != "sphere":
        out = out - along * float(out @ along)
    if minor_radius and (far := float(np.linalg.norm(out))) > 0:
        out = np.array(vector(p)) - (center + out * radius / far)  # from the middle of the tube
    lean = float(normal @ out)
    hollow = None if lean == 0 else lean < 0
    if kind == "sphere":
        return Side(hollow)
    middle = (u0 + u1) / 2, (v0 + v1) / 2
    ways = [[(u0 + (u1 - u0) * k / STEPS_ROUND, middle[1]) for k in range(STEPS_ROUND + 1)]]
    if surface.GetType() not in ROUND_TYPES:
        ways.append([(middle[0], v0 + (v1 - v0) * k / STEPS_ROUND) for k in range(STEPS_ROUND + 1)])
    turns = [_about(surface, way, center, along) for way in ways]
    start, end, reach = max(turns, key=lambda t: abs(t[2]))
    return Side(hollow, start if reach > 0 else end, (0.0, min(abs(reach), 2 * math.pi)))


def _about(
    surface: BRepAdaptor_Surface, way: list[tuple[float, float]], origin: Array, axis: Array
) -> tuple[Vector, Vector, float]:
    """Of a way along a surface the directions from the axis in which it begins and ends, and how far it turns
    about it, counterclockwise."""
    out = np.array([vector(surface.Value(u, v)) for u, v in way]) - origin
    out = out - np.outer(out @ axis, axis)
    x = out[0] / (float(np.linalg.norm(out[0])) or 1.0)
    angles = np.unwrap(np.arctan2(out @ np.cross(axis, x), out @ x))
    end = out[-1] / (float(np.linalg.norm(out[-1])) or 1.0)
    return vector_of(x), vector_of(end), float(angles[-1] - angles[0])


def ways_about(face: Shape, edges: AncestorMap) -> dict[int, int]:
    """Of each edge of a face, by its number: 1 where it runs with the face on its left, seen from outside, -1
    where the face is on its right, 0 where it is both."""
    out: dict[int, int] = {}
    explorer = TopExp_Explorer(face, Kind.TopAbs_EDGE)
    while explorer.More():
        edge = explorer.Current()
        number = edges.FindIndex(edge)
        out[number] = out.get(number, 0) + (1 if edge.Orientation() == Orientation.TopAbs_FORWARD else -1)
        explorer.Next()
    return out


def turn_of(edge: Shape, a: Shape, b: Shape, curve: BRepAdaptor_Curve, way: int) -> Turn:
    """How two faces meet in an edge. way: how the edge runs about face a, as `ways_about` says."""
    return "smooth" if _is_smooth(edge, a, b, curve) else _corner(edge, a, b, curve, way)


def _is_smooth(edge: Shape, a: Shape, b: Shape, curve: BRepAdaptor_Curve) -> bool:
    """Whether two faces meet without a corner: as the file says, else by their normals at three places."""
    if BRep_Tool.HasContinuity_s(edge, a, b) and BRep_Tool.Continuity_s(edge, a, b) != Continuity.GeomAbs_C0:
        return True
    first, last = curve.FirstParameter(), curve.LastParameter()
    sides = _Normals(edge, a), _Normals(edge, b)
    for part in (0.2, 0.5, 0.8):
        na, nb = (side.at(first + (last - first) * part) for side in sides)
        if na is None or nb is None or sum(x * y for x, y in zip(na, nb, strict=True)) < SMOOTH:
            return False
    return True


def _corner(edge: Shape, a: Shape, b: Shape, curve: BRepAdaptor_Curve, way: int) -> Turn:
    """Whether two faces that meet in a corner make a convex or a concave one, by their normals where they
    lean most; empty where that cannot be told. way: how the edge runs about face a."""
    first, last = curve.FirstParameter(), curve.LastParameter()
    sides = _Normals(edge, a), _Normals(edge, b)
    p, along = gp_Pnt(), gp_Vec()
    best = 0.0
    for part in (0.5, 0.2, 0.8):
        t = first + (last - first) * part
        na, nb = (side.at(t) for side in sides)
        curve.D1(t, p, along)
        size = along.Magnitude()
        if na is None or nb is None or size == 0:
            continue
        cross = (
            na[1] * nb[2] - na[2] * nb[1],
            na[2] * nb[0] - na[0] * nb[2],
            na[0] * nb[1] - na[1] * nb[0],
        )
        lean = sum(x * y for x, y in zip(cross, vector(along), strict=True)) / size * way
        best = lean if abs(lean) > abs(best) else best
        if abs(best) > 0.1:
            break
    return "" if best == 0 else "convex" if best > 0 else "concave"


class _Normals:
    """The normal of a face along one of its edges."""

    def __init__(self, edge: Shape, face: Shape) -> None:
        self._flat = BRep_Tool.CurveOnSurface_s(edge, face, 0.0, 0.0)
        self._surface = BRepAdaptor_Surface(face, False)
        self._sign = -1.0 if face.Orientation() == Orientation.TopAbs_REVERSED else 1.0
        self._du, self._dv, self._p = gp_Vec(), gp_Vec(), gp_Pnt()

    def at(self, parameter: float) -> Vector | None:
        """The outward normal, of length one; None where the face has none."""
        if self._flat is None:
            return None
        uv = self._flat.Value(parameter)
        self._surface.D1(uv.X(), uv.Y(), self._p, self._du, self._dv)
        n = self._du.Crossed(self._dv)
        size = n.Magnitude()
        if size < 1e-12:
            return None
        k = self._sign / size
        return n.X() * k, n.Y() * k, n.Z() * k
