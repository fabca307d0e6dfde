"""Bodies that are hard to draw: thin halves, spindle tori, bodies that touch, bodies turned inside out, of
all sizes and far away, as B-splines and split."""

import math
import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBuilderAPI import (
    BRepBuilderAPI_GTransform,
    BRepBuilderAPI_MakeEdge,
    BRepBuilderAPI_MakeFace,
    BRepBuilderAPI_MakeSolid,
    BRepBuilderAPI_MakeWire,
    BRepBuilderAPI_NurbsConvert,
    BRepBuilderAPI_Sewing,
    BRepBuilderAPI_Transform,
)
from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet
from OCP.BRepLib import BRepLib
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakePrism,
    BRepPrimAPI_MakeRevol,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.GC import GC_MakeArcOfCircle
from OCP.Geom import Geom_ToroidalSurface
from OCP.gp import gp_Ax1, gp_Ax2, gp_Ax3, gp_Circ, gp_Dir, gp_GTrsf, gp_Pnt, gp_Trsf, gp_Vec
from OCP.ShapeUpgrade import ShapeUpgrade_ShapeDivideClosed
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS

from drafting.model.step import read_model

UP = gp_Dir(0, 0, 1)
Shapes = list[Any]


def moved(shape: Any, x: float = 0, y: float = 0, z: float = 0, size: float = 1.0) -> Any:
    """A shape enlarged about the origin, then moved."""
    grow, shift = gp_Trsf(), gp_Trsf()
    grow.SetScaleFactor(size)
    shift.SetTranslation(gp_Vec(x, y, z))
    larger = BRepBuilderAPI_Transform(shape, grow, True).Shape()
    return BRepBuilderAPI_Transform(larger, shift, True).Shape()


def mirrored(shape: Any) -> Any:
    """A shape of the other hand."""
    turn = gp_Trsf()
    turn.SetMirror(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(1, 0, 0)))
    return BRepBuilderAPI_Transform(shape, turn, True).Shape()


def splines(shape: Any) -> Any:
    """A shape with all its surfaces and curves as B-splines."""
    return BRepBuilderAPI_NurbsConvert(shape, True).Shape()


def stretched(shape: Any, x: float, y: float = 1) -> Any:
    """A shape so many times as long along x and y: what was round is oval, and free."""
    way = gp_GTrsf()
    way.SetValue(1, 1, x)
    way.SetValue(2, 2, y)
    return BRepBuilderAPI_GTransform(shape, way, True).Shape()


def split(shape: Any, parts: int) -> Any:
    """A shape with its closed faces in so many parts."""
    tool = ShapeUpgrade_ShapeDivideClosed(shape)
    tool.SetNbSplitPoints(parts - 1)
    tool.Perform()
    return tool.Result()


def box(*size: float) -> Any:
    return BRepPrimAPI_MakeBox(*size).Shape()


def rod(radius: float, height: float, x: float = 0, y: float = 0, z: float = 0) -> Any:
    return BRepPrimAPI_MakeCylinder(gp_Ax2(gp_Pnt(x, y, z), UP), radius, height).Shape()


def cut(shape: Any, *tools: Any) -> Any:
    for tool in tools:
        shape = BRepAlgoAPI_Cut(shape, tool).Shape()
    return shape


def rounded(shape: Any, radius: float) -> Any:
    """A shape with all its edges rounded."""
    tool, edges = BRepFilletAPI_MakeFillet(shape), TopExp_Explorer(shape, Kind.TopAbs_EDGE)
    while edges.More():
        tool.Add(radius, TopoDS.Edge(edges.Current()))
        edges.Next()
    return tool.Shape()


def dome(ring: float, tube: float, height: float) -> Any:
    """A body turned from an arc whose center lies beside the axis: a spindle torus on a cylinder. ring: how
    far the center lies on the near side, below 0 beyond the axis."""
    top = math.sqrt(tube**2 - ring**2)
    out = 0.8 * (tube + ring)
    side = math.sqrt(tube**2 - (out - ring) ** 2)
    middle = out / 2
    arc = GC_MakeArcOfCircle(
        gp_Pnt(0, 0, top),
        gp_Pnt(middle, 0, math.sqrt(tube**2 - (middle - ring) ** 2)),
        gp_Pnt(out, 0, side),
    ).Value()
    corners = [(0, 0, top), (out, 0, side), (out, 0, side - height), (0, 0, side - height)]
    wire = BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(arc).Edge())
    for a, b in zip(corners[1:], [*corners[2:], corners[0]], strict=True):
        wire.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(*a), gp_Pnt(*b)).Edge())
    face = BRepBuilderAPI_MakeFace(wire.Wire()).Face()
    return BRepPrimAPI_MakeRevol(face, gp_Ax1(gp_Pnt(0, 0, 0), UP), 2 * math.pi).Shape()


def lemon(ring: float, tube: float, last: float) -> Any:
    """The tip of a spindle torus on a disc: the part of its surface that lies beyond its axis, as far as an
    angle about the tube."""
    surface = Geom_ToroidalSurface(gp_Ax3(gp_Pnt(0, 0, 0), UP), ring, tube)
    first = math.acos(-ring / tube)
    skin = BRepBuilderAPI_MakeFace(surface, 0, 2 * math.pi, first, last, 1e-7).Face()
    out, height = abs(ring + tube * math.cos(last)), tube * math.sin(last)
    rim = gp_Circ(gp_Ax2(gp_Pnt(0, 0, height), UP), out)
    disc = BRepBuilderAPI_MakeFace(
        BRepBuilderAPI_MakeWire(BRepBuilderAPI_MakeEdge(rim).Edge()).Wire(), True
    ).Face()
    sewn = BRepBuilderAPI_Sewing(1e-5)
    sewn.Add(skin)
    sewn.Add(disc)
    sewn.Perform()
    body = BRepBuilderAPI_MakeSolid(TopoDS.Shell(sewn.SewedShape())).Solid()
    BRepLib.OrientClosedSolid_s(body)
    return body


def kinked(bend: float, turned: float) -> Any:
    """A bar of two nearly half round sides that meet with a kink of `bend` radians at top and bottom, turned
    about its axis."""

    def at(x: float, y: float) -> gp_Pnt:
        return gp_Pnt(
            x * math.cos(turned) - y * math.sin(turned), x * math.sin(turned) + y * math.cos(turned), 0
        )

    shift = 10 * math.tan(bend)
    ends = at(0, -10), at(0, 10)
    right = GC_MakeArcOfCircle(ends[0], at(10, 0), ends[1]).Value()
    left = GC_MakeArcOfCircle(ends[1], at(shift - math.hypot(10, shift), 0), ends[0]).Value()
    wire = BRepBuilderAPI_MakeWire(
        BRepBuilderAPI_MakeEdge(right).Edge(), BRepBuilderAPI_MakeEdge(left).Edge()
    )
    return BRepPrimAPI_MakePrism(BRepBuilderAPI_MakeFace(wire.Wire()).Face(), gp_Vec(0, 0, 30)).Shape()


def thin_half(outer: Any, inner: Any, size: float) -> Any:
    """The half of a shell at y above 0."""
    return cut(outer, inner, moved(box(4 * size, 2 * size, 4 * size), -2 * size, -2 * size, -2 * size))


def as_read(shape: Any) -> Any:
    """A shape written to a STEP file and read back."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "body.step"
        writer = STEPControl_Writer()
        writer.Transfer(shape, STEPControl_StepModelType.STEPControl_AsIs)
        writer.Write(str(path))
        return next(iter(read_model(path, "body").shapes.values()))


def ball(radius: float) -> Any:
    return BRepPrimAPI_MakeSphere(radius).Shape()


ZOO: dict[str, Callable[[], Shapes]] = {
    "half a thin ball": lambda: [thin_half(ball(20), ball(19.7), 20)],
    "half a thin tube": lambda: [thin_half(rod(20, 40), moved(rod(19.8, 60), z=-10), 40)],
    "a thin box without a lid": lambda: [cut(box(40, 30, 20), moved(box(39.6, 29.6, 20), 0.2, 0.2, 0.2))],
    "a dome of a ring wider than its tube": lambda: [dome(8.25, 54.87, 20)],
    "a dome of an arc beyond the axis": lambda: [dome(-8.25, 54.87, 20)],
    "a tip beyond the axis": lambda: [lemon(8.25, 54.87, 2.0)],
    "a bar with an outline along a tangent edge": lambda: [kinked(1e-3, math.pi / 2 - 5e-4)],
    "the same the other way": lambda: [kinked(1e-3, -math.pi / 2 + 5e-4)],
    "an apple": lambda: [BRepPrimAPI_MakeTorus(10, 14, math.radians(-100), math.radians(100)).Shape()],
    "a ring that just closes": lambda: [BRepPrimAPI_MakeTorus(10, 9.999).Shape()],
    "rods that touch": lambda: [rod(10, 30), rod(10, 30, 20)],
    "a rod on a plate's edge": lambda: [box(60, 40, 6), rod(8, 10, 8, 20, 6)],
    "balls that touch a plate": lambda: [
        box(60, 40, 6),
        moved(ball(8), 20, 8, 14),
        moved(ball(8), 40, 32, 14),
    ],
    "read from a file with a body turned inside out": lambda: [
        as_read(box(30, 20, 10).Reversed()),
        rod(6, 30, 60),
    ],
    "a ball with a void": lambda: [cut(ball(20), moved(ball(6), 4, 3, 2))],
    "a split rod": lambda: [split(cut(rod(20, 30), moved(rod(12, 60), z=-10)), 2)],
    "a rod in quarters": lambda: [split(cut(rod(20, 30), moved(rod(12, 60), z=-10)), 4)],
    "a rod of B-splines": lambda: [splines(cut(rod(20, 30), moved(rod(12, 60), z=-10)))],
    "a rounded box of B-splines": lambda: [splines(rounded(box(40, 30, 20), 6))],
    "a rounded box": lambda: [rounded(box(40, 30, 20), 6)],
    "a ball and a cone of B-splines": lambda: [
        splines(ball(12)),
        moved(splines(BRepPrimAPI_MakeCone(12, 4, 20).Shape()), 30),
    ],
    "a hundredth of a millimeter": lambda: [moved(rounded(box(40, 30, 20), 6), size=0.00025)],
    "ten meters": lambda: [moved(rounded(box(40, 30, 20), 6), size=250)],
    "a kilometer away": lambda: [moved(rounded(box(40, 30, 20), 6), 1e6, 1e6, -1e6)],
    "of the other hand": lambda: [mirrored(cut(rounded(box(40, 30, 20), 6), moved(rod(4, 40), 12, 9, -5)))],
}
"""By name; each gives its bodies."""

DIRECTIONS = [
    np.array(v, float) / np.linalg.norm(v)
    for v in (
        (0, -1, 0),
        (0, 0, 1),
        (-1, 0, 0),
        (1, 0, 0),
        (0, 1, 0),
        (0, 0, -1),
        (1, -1, 1),
        (-1, -1, 1),
        (2, -1, 0.3),
        (0.2, -1, 0.9),
        (-0.7, 0.4, -1),
        (0, -1, 1),
    )
]
"""Toward the viewer."""
