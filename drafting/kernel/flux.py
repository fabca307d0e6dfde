"""Volumes below plain faces in closed form.

What lies between a face and a point is a third of the flux of the places about it, by Gauss's theorem. On a
surface of revolution r(u, v) = o + rho(v) (cos u X + sin u Y) + z(v) Z that flux is

    integral of rho (z' (q . e(u) + rho) - rho' (q . Z + z)) du dv,   q = o - tip, e = cos u X + sin u Y,

whose integral along u is known; by Green's theorem what remains runs along the border, and there only where v
changes. On a plane it is the height times the area.
"""

import math
from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.Geom2dAdaptor import Geom2dAdaptor_Curve
from OCP.GeomAbs import GeomAbs_CurveType as CurveType
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.gp import gp_Ax3
from OCP.TopAbs import TopAbs_Orientation as Orientation
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

Array = NDArray[np.float64]
Vector = tuple[float, float, float]
PLACES, WEIGHTS = np.polynomial.legendre.leggauss(24)
"""Of Gauss's rule along a border: exact to the last digits for what sines and cosines of a turn make."""


def below(face: object, tip: Vector) -> float | None:
    """Volume between a face and a point, mm3, negative where the face is turned toward it; None for a free
    surface, and for a border that is neither straight nor round in the face's own coordinates."""
    forward = TopoDS.Face(TopoDS.Face(face).Oriented(Orientation.TopAbs_FORWARD))
    surface = BRepAdaptor_Surface(forward, False)
    found = (
        _below_plane(forward, surface, tip)
        if surface.GetType() == SurfaceType.GeomAbs_Plane
        else _below_turned(forward, surface, tip)
    )
    if found is None:
        return None
    turned = TopoDS.Face(face).Orientation() == Orientation.TopAbs_REVERSED
    return (-found if turned else found) / 3


def _borders(face: object) -> Iterator[tuple[Geom2dAdaptor_Curve, float, float] | None]:
    """Each edge as a curve in the face's own coordinates and where it begins and ends, with the face on its
    left; None for one that has no such curve."""
    explorer = TopExp_Explorer(face, Kind.TopAbs_EDGE)
    while explorer.More():
        edge = TopoDS.Edge(explorer.Current())
        explorer.Next()
        if edge.Orientation() not in (Orientation.TopAbs_FORWARD, Orientation.TopAbs_REVERSED):
            continue  # lies within the face and bounds nothing
        curve = BRep_Tool.CurveOnSurface_s(edge, face, 0.0, 0.0)
        if curve is None:
            yield None
            continue
        first, last = BRep_Tool.Range_s(edge, face)
        back = edge.Orientation() == Orientation.TopAbs_REVERSED
        yield Geom2dAdaptor_Curve(curve), last if back else first, first if back else last


def _below_plane(face: object, surface: BRepAdaptor_Surface, tip: Vector) -> float | None:
    twice = 0.0
    for border in _borders(face):
        if border is None:
            return None
        curve, start, end = border
        kind = curve.GetType()
        a, b = curve.Value(start), curve.Value(end)
        if kind == CurveType.GeomAbs_Line:
            twice += a.X() * b.Y() - a.Y() * b.X()
            continue
        if kind == CurveType.GeomAbs_Circle:
            round_one = curve.Circle()
            product = round_one.Radius() ** 2
        elif kind == CurveType.GeomAbs_Ellipse:
            round_one = curve.Ellipse()
            product = round_one.MajorRadius() * round_one.MinorRadius()
        else:
            return None
        center, x, y = round_one.Location(), round_one.XAxis().Direction(), round_one.YAxis().Direction()
        way = math.copysign(product, x.X() * y.Y() - x.Y() * y.X())
        twice += center.X() * (b.Y() - a.Y()) - center.Y() * (b.X() - a.X()) + way * (end - start)
    _, _, _, height = _frame(surface.Plane().Position(), tip)
    return height * twice / 2


def _frame(position: gp_Ax3, tip: Vector) -> tuple[float, float, float, float]:
    """Whether the directions of a surface are right-handed (1 or -1); and of its origin, seen from the tip,
    how far it lies along each, the last one with that sign."""
    at = position.Location()
    q = (at.X() - tip[0], at.Y() - tip[1], at.Z() - tip[2])
    along = [
        q[0] * d.X() + q[1] * d.Y() + q[2] * d.Z()
        for d in (position.XDirection(), position.YDirection(), position.Direction())
    ]
    hand = 1.0 if position.Direct() else -1.0
    return hand, along[0], along[1], hand * along[2]


def _below_turned(face: object, surface: BRepAdaptor_Surface, tip: Vector) -> float | None:
    """The same below a cylinder, cone, sphere or torus."""
    kind = surface.GetType()
    if kind == SurfaceType.GeomAbs_Cylinder:
        of = surface.Cylinder()
        radius = of.Radius()

        def profile(v: Array) -> tuple[Array, Array, Array, Array]:
            return radius + 0 * v, v, 0 * v, 1 + 0 * v

    elif kind == SurfaceType.GeomAbs_Cone:
        of = surface.Cone()
        radius, sine, cosine = of.RefRadius(), math.sin(of.SemiAngle()), math.cos(of.SemiAngle())

        def profile(v: Array) -> tuple[Array, Array, Array, Array]:
            return radius + v * sine, v * cosine, sine + 0 * v, cosine + 0 * v

    elif kind in (SurfaceType.GeomAbs_Sphere, SurfaceType.GeomAbs_Torus):
        ball = kind == SurfaceType.GeomAbs_Sphere
        of = surface.Sphere() if ball else surface.Torus()
        far, radius = (0.0, of.Radius()) if ball else (of.MajorRadius(), of.MinorRadius())

        def profile(v: Array) -> tuple[Array, Array, Array, Array]:
            sine, cosine = radius * np.sin(v), radius * np.cos(v)
            return far + cosine, sine, -sine, cosine

    else:
        return None
    hand, x, y, up = _frame(of.Position(), tip)
    up *= hand
    total = 0.0
    for border in _borders(face):
        if border is None or border[0].GetType() != CurveType.GeomAbs_Line:
            return None
        curve, start, end = border
        a, b = curve.Value(start), curve.Value(end)
        step = b.Y() - a.Y()
        if step == 0:
            continue
        share = (PLACES + 1) / 2
        u, v = a.X() + (b.X() - a.X()) * share, a.Y() + step * share
        rho, z, rho_v, z_v = profile(v)
        flux = rho * (z_v * (x * np.sin(u) - y * np.cos(u) + rho * u) - rho_v * (up + z) * u)
        total += float(flux @ WEIGHTS) * step / 2
    return hand * total
