"""Faces and edges made whole: many writers split every closed face in two, and a circle with it."""

from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.BRepGProp import BRepGProp
from OCP.BRepTools import BRepTools_History
from OCP.collections import IndexedMap_TopoDS_Shape_TopTools_ShapeMapHasher as ShapeMap
from OCP.GProp import GProp_GProps
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp
from OCP.TopoDS import TopoDS

from drafting.kernel.plain_faces import made_plain
from drafting.kernel.topology import SURFACE_KINDS, Shape, as_list, face_count, solids, subshapes

LINEAR, ANGULAR = 1e-6, 1e-6
"""Within how many mm and radians surfaces are one: far less than a drawing says."""
SAME = 1e-5
"""How much the area of a joined face may differ from that of its pieces, as a share; the kernel measures
free ones no better."""


def whole(shape: Shape) -> Shape:
    """The shape with faces of one surface that adjoin joined to one face, and edges of one curve to one edge.

    The shape as it is where there is nothing to join, or where the joined one does not prove to be the same:
    as many bodies, and each of its faces made of pieces, of all of them, and as large.
    """
    try:
        plain = made_plain(shape)
        has_splines = plain is not shape
        tool = ShapeUpgrade_UnifySameDomain(plain, True, True, has_splines)
        tool.SetLinearTolerance(LINEAR)
        tool.SetAngularTolerance(ANGULAR)
        tool.Build()
        joined, history = tool.Shape(), tool.History()
    except Exception:  # the kernel's own, of any kind
        return shape
    if joined is None or joined.IsNull() or _counts(joined) == _counts(plain):
        return shape
    return joined if _same(plain, joined, history) else shape


def _counts(shape: Shape) -> tuple[int, int]:
    return face_count(shape), len(subshapes(shape, Kind.TopAbs_EDGE))


def _same(pieces: Shape, joined: Shape, history: BRepTools_History) -> bool:
    """Whether all faces of a joined shape are made of pieces, of all of them, and are as large. Free
    faces of one piece, of which only edges can have been joined, are dear to measure and are not."""
    if len(solids(pieces)) != len(solids(joined)):
        return False
    of = ShapeMap()
    TopExp.MapShapes_s(joined, Kind.TopAbs_FACE, of)
    made: dict[int, list[Shape]] = {}
    for piece in subshapes(pieces, Kind.TopAbs_FACE):
        became = as_list(history.Modified(piece)) or [piece]
        number = of.FindIndex(became[0])
        if len(became) != 1 or not number:
            return False
        made.setdefault(number, []).append(piece)
    if len(made) != of.Extent():
        return False
    for number, parts in made.items():
        face = of.FindKey(number)
        if len(parts) > 1 or _is_plain(face) and not face.IsSame(parts[0]):
            area = sum(map(_area, parts))
            if abs(_area(face) - area) > SAME * area:
                return False
    return True


def _is_plain(face: Shape) -> bool:
    return BRepAdaptor_Surface(TopoDS.Face(face), False).GetType() in SURFACE_KINDS


def _area(face: Shape) -> float:
    properties = GProp_GProps()
    BRepGProp.SurfaceProperties_s(face, properties)
    return abs(float(properties.Mass()))
