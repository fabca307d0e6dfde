"""Exact volume and extents of shapes."""

import math

import numpy as np
from numpy.typing import NDArray
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepAdaptor import BRepAdaptor_Curve, BRepAdaptor_Surface
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepClass import BRepClass_FaceClassifier
from OCP.BRepGProp import BRepGProp_Domain, BRepGProp_Face, BRepGProp_Vinert
from OCP.BRepTools import BRepTools
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.GeomAbs import GeomAbs_CurveType as CurveType
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.gp import gp_Circ, gp_Elips, gp_Pnt, gp_Pnt2d
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopAbs import TopAbs_State
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopoDS import TopoDS

from drafting.kernel import flux
from drafting.kernel.topology import Shape, moved, solids, subshapes
from drafting.kernel.vectors import Vector, vector, vector_of

VOLUME_TOLERANCE = 1e-5
"""Relative tolerance for volumes below free faces. Without one the kernel was more than 1 % off on blended
castings."""

WIDENED = 1e-6
"""How much wider than its shape a rough box is at least, mm; what reaches no farther adds nothing."""
Corners = tuple[NDArray[np.float64], NDArray[np.float64]]
"""Lower left and upper right of a box, (3,) each, mm."""
SQUARE = 1e-12
"""How far a turn may be from whole quarters."""


def volume(shape: Shape) -> float:
    """Volume of all solids of a shape in mm3; 0 where there is none."""
    return sum(abs(volume_below(faces_of(solid), rough_middle(solid))) for solid in solids(shape))


def volume_below(faces: list[Shape], tip: Vector) -> float:
    """Volume between faces and a point, mm3, negative for those turned toward it: of all faces of a solid
    that is its volume (Gauss's theorem), wherever the point lies. In closed form below plain faces; to
    VOLUME_TOLERANCE below free ones."""
    total = 0.0
    for face in faces:
        known = flux.below(face, tip)
        total += _below_free(face, tip) if known is None else known
    return total


def _below_free(face: Shape, tip: Vector) -> float:
    below = BRepGProp_Vinert()
    below.SetLocation(gp_Pnt(*tip))
    below.Perform(BRepGProp_Face(face), BRepGProp_Domain(face), VOLUME_TOLERANCE)
    return float(below.Mass())


def faces_of(solid: Shape) -> list[Shape]:
    """The faces of a solid as they bound it, turned outward."""
    found, explorer = [], TopExp_Explorer(solid, Kind.TopAbs_FACE)
    while explorer.More():
        found.append(TopoDS.Face(explorer.Current()))
        explorer.Next()
    return found


def extents(shape: Shape) -> tuple[Vector, Vector]:
    """Smallest box along the axes, from exact geometry, as its two corners in mm.

    Planes, cylinders and cones reach no farther than their edges; how far lines, circles, ellipses, spheres
    and tori reach is known in closed form. The kernel's exact box of anything free is dear, and most of it
    lies within what others reach: only what has a rough box that reaches farther is asked.
    """
    faces = subshapes(shape, Kind.TopAbs_FACE)
    if not faces:
        return _clean(_exact_box(shape))
    places = [vector(BRep_Tool.Pnt_s(TopoDS.Vertex(v))) for v in subshapes(shape, Kind.TopAbs_VERTEX)]
    known = _around(places, (np.full(3, np.inf), np.full(3, -np.inf)))
    free: list[Shape] = []
    bounds = ShapeMap()
    for face in map(TopoDS.Face, faces):
        found = _farthest_on_face(face, known)
        known = _around(found or [], known)
        if found is None:
            free.append(face)
            TopExp.MapShapes_s(face, Kind.TopAbs_EDGE, bounds)
    for edge in map(TopoDS.Edge, subshapes(shape, Kind.TopAbs_EDGE)):
        if not BRep_Tool.Degenerated_s(edge) and not bounds.Contains(edge):
            found = _farthest_on_edge(edge, known)
            known = _around(found or [], known)
            free += [edge] if found is None else []
    rough = [(_rough_box(part), part) for part in free]
    while rough:
        beyond = [
            max(float(v) for v in (known[0] - b[0]).tolist() + (b[1] - known[1]).tolist()) for b, _ in rough
        ]
        farthest = int(np.argmax(beyond))
        if beyond[farthest] <= WIDENED:
            break
        box = _exact_box(rough[farthest][1])
        known = np.minimum(known[0], box[0]), np.maximum(known[1], box[1])
        rough = [r for n, r in enumerate(rough) if n != farthest and beyond[n] > WIDENED]
    return _clean(known)


def _around(places: list[Vector], box: Corners) -> Corners:
    if not places:
        return box
    corners = np.array(places, float)
    return np.minimum(box[0], corners.min(0)), np.maximum(box[1], corners.max(0))


def _is_inside(center: Vector, reach: float, box: Corners) -> bool:
    low, high = box[0].tolist(), box[1].tolist()
    return all(a <= c - reach and c + reach <= b for a, c, b in zip(low, center, high, strict=True))


def _farthest_on_edge(edge: Shape, known: Corners) -> list[Vector] | None:
    """Places along an edge, besides its ends, that are farthest in the directions of the axes, where it may
    reach out of a known box; None where they are not known. On center + X cos t + Y sin t they are at tan t =
    Y / X, coordinate by coordinate."""
    curve = BRepAdaptor_Curve(edge)
    kind = curve.GetType()
    if kind == CurveType.GeomAbs_Line:
        return []
    if kind not in (CurveType.GeomAbs_Circle, CurveType.GeomAbs_Ellipse):
        return None
    round_one = curve.Circle() if kind == CurveType.GeomAbs_Circle else curve.Ellipse()
    if _is_inside(vector(round_one.Location()), max(_radii(round_one)), known):
        return []
    x, y = vector(round_one.XAxis().Direction()), vector(round_one.YAxis().Direction())
    major, minor = _radii(round_one)
    first, last = curve.FirstParameter(), curve.LastParameter()
    out = []
    for axis in range(3):
        top = math.atan2(minor * y[axis], major * x[axis])
        for turn in (top, top + math.pi):
            t = first + (turn - first) % (2 * math.pi)
            if t <= last:
                out.append(vector(curve.Value(t)))
    return out


def _radii(curve: gp_Circ | gp_Elips) -> tuple[float, float]:
    if isinstance(curve, gp_Circ):
        return curve.Radius(), curve.Radius()
    return curve.MajorRadius(), curve.MinorRadius()


def _farthest_on_face(face: Shape, known: Corners) -> list[Vector] | None:
    """Places within a face, besides its edges, that are farthest in the directions of the axes, where it may
    reach out of a known box: where the normal is along one. None where they are not known."""
    surface = BRepAdaptor_Surface(face, True)
    kind = surface.GetType()
    if kind in (SurfaceType.GeomAbs_Plane, SurfaceType.GeomAbs_Cylinder, SurfaceType.GeomAbs_Cone):
        return []
    if kind == SurfaceType.GeomAbs_Sphere:
        position, ring, reach = surface.Sphere().Position(), 0.0, surface.Sphere().Radius()
    elif kind == SurfaceType.GeomAbs_Torus:
        torus = surface.Torus()
        position, ring, reach = (
            torus.Position(),
            torus.MajorRadius(),
            torus.MajorRadius() + torus.MinorRadius(),
        )
    else:
        return None
    if _is_inside(vector(position.Location()), reach, known):
        return []
    x, y, z = (vector(d) for d in (position.XDirection(), position.YDirection(), position.Direction()))
    out = []
    for axis in range(3):
        for sign in (1.0, -1.0):
            around, up = math.atan2(sign * y[axis], sign * x[axis]), sign * z[axis]
            out_of_axis = math.hypot(x[axis], y[axis])
            tube = math.atan2(up, out_of_axis)
            # on the outer side of a torus's tube, and on its inner side
            for u, v in ((around, tube), (around + math.pi, math.pi - tube))[: 2 if ring else 1]:
                place = _within(face, surface, u, v)
                if place is not None:
                    out.append(place)
    return out


def _within(face: Shape, surface: BRepAdaptor_Surface, u: float, v: float) -> Vector | None:
    """The place at u and v of a surface that closes on itself, where it lies within the face."""
    u0, u1, v0, v1 = BRepTools.UVBounds_s(face)
    u = u0 + (u - u0) % (2 * math.pi)
    if surface.GetType() == SurfaceType.GeomAbs_Torus:
        v = v0 + (v - v0) % (2 * math.pi)
    if u > u1 or not v0 <= v <= v1:
        return None
    state = BRepClass_FaceClassifier(face, gp_Pnt2d(u, v), 1e-9).State()
    return None if state == TopAbs_State.TopAbs_OUT else vector(surface.Value(u, v))


def rough_middle(shape: Shape) -> Vector:
    """The middle of about a shape's box."""
    low, high = _rough_box(shape)
    return vector_of((low + high) / 2)


def _rough_box(face: Shape) -> Corners:
    box = Bnd_Box()
    BRepBndLib.Add_s(face, box, False)
    return _of(box)


def _exact_box(shape: Shape) -> Corners:
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    return _of(box)


def _of(box: Bnd_Box) -> Corners:
    if box.IsVoid():
        return np.zeros(3), np.zeros(3)
    low, high = box.CornerMin(), box.CornerMax()
    return np.array([low.X(), low.Y(), low.Z()]), np.array([high.X(), high.Y(), high.Z()])


def _clean(box: Corners) -> tuple[Vector, Vector]:
    """The kernel widens boxes by its tolerance of 1e-7 mm; rounding takes that off again."""
    low, high = ((box[k].round(6) + 0.0).tolist() for k in (0, 1))
    return (low[0], low[1], low[2]), (high[0], high[1], high[2])


class Extents:
    """The box around placed shapes as they come in. A shape is measured once for each way it is turned."""

    def __init__(self) -> None:
        self.low, self.high = np.full(3, np.inf), np.full(3, -np.inf)
        self._turned: dict[tuple[str, bytes], tuple[NDArray[np.float64], NDArray[np.float64]]] = {}

    def take(
        self, key: str, shape: Shape, matrix: list[list[float]], own: tuple[list[float], list[float]]
    ) -> None:
        """A shape (known by key) at a place, rows of a 4 x 4 matrix, mm. own: its box in its own frame, from
        which that of a shape follows that is turned by quarters only."""
        m = np.array(matrix, float)
        at = m[:3, 3].copy()
        m[:3, 3] = 0
        which = (key, m[:3, :3].round(9).tobytes())
        if which not in self._turned:
            turn = m[:3, :3]
            if np.abs(np.abs(turn) - np.abs(turn).round()).max() < SQUARE:
                ends = turn.round() * np.array(own[0]), turn.round() * np.array(own[1])
                self._turned[which] = np.minimum(*ends).sum(1), np.maximum(*ends).sum(1)
            else:
                box = extents(moved(shape, m.tolist()))
                self._turned[which] = np.array(box[0]), np.array(box[1])
        low, high = self._turned[which]
        self.low, self.high = (
            np.minimum(self.low, (low + at).round(6)),
            np.maximum(self.high, (high + at).round(6)),
        )
