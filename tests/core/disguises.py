"""The same part as other writers would have written it, made with the kernel."""

import math
import random
from collections.abc import Callable
from pathlib import Path
from typing import Any

from OCP.BRep import BRep_Builder
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.gp import gp_Ax1, gp_Dir, gp_Pnt, gp_Trsf, gp_Vec
from OCP.Interface import Interface_Static
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS, TopoDS_Shell, TopoDS_Solid

from drafting.kernel.measure import faces_of
from drafting.kernel.topology import solids, subshapes
from drafting.model.model import Model, PartFacts
from drafting.model.step import read_model
from tests.core.zoo import splines, split

TURN = gp_Trsf()
"""How a part is turned as a whole."""
TURN.SetRotation(gp_Ax1(gp_Pnt(0, 0, 0), gp_Dir(0.36, -0.48, 0.8)), math.radians(37.3))


def shuffled(shape: Any) -> Any:
    """The same body with its faces in another order."""
    (solid,) = solids(shape)
    builder = BRep_Builder()
    made = TopoDS_Solid()
    builder.MakeSolid(made)
    for shell in subshapes(solid, Kind.TopAbs_SHELL):
        faces = faces_of(shell)
        random.Random(7).shuffle(faces)
        other = TopoDS_Shell()
        builder.MakeShell(other)
        for face in faces:
            builder.Add(other, face)
        other.Closed(True)
        builder.Add(made, other.Oriented(TopoDS.Shell(shell).Orientation()))
    return made


def elsewhere(shape: Any) -> Any:
    """A shape turned and moved as a whole, with its faces in another order."""
    shift = gp_Trsf()
    shift.SetTranslation(gp_Vec(312.7, -88.1, 41.9))
    return shuffled(BRepBuilderAPI_Transform(shape, shift.Multiplied(TURN), True).Shape())


DISGUISES: dict[str, tuple[Callable[[Any], Any], str]] = {
    "as it is": (lambda s: s, "MM"),
    "in halves": (lambda s: split(s, 2), "MM"),
    "in quarters": (lambda s: split(s, 4), "MM"),
    "of splines": (splines, "MM"),
    "of splines in halves": (lambda s: splines(split(s, 2)), "MM"),
    "elsewhere, in inches": (elsewhere, "INCH"),
    "elsewhere, in meters": (elsewhere, "M"),
}
"""How a shape is changed before it is written, and the unit of the file."""


def written(shape: Any, folder: Path, unit: str = "MM") -> Model:
    """A shape written to a STEP file and brought in."""
    writer = STEPControl_Writer()
    Interface_Static.SetCVal_s("write.step.unit", unit)
    try:
        writer.Transfer(shape, STEPControl_StepModelType.STEPControl_AsIs)
        path = folder / "part.step"
        writer.Write(str(path))
    finally:
        Interface_Static.SetCVal_s("write.step.unit", "MM")
    return read_model(path, "part")


def disguised(shape: Any, name: str, folder: Path) -> PartFacts:
    """Facts of a shape that comes in a disguise."""
    change, unit = DISGUISES[name]
    (part,) = written(change(shape), folder, unit).facts.parts.values()
    return part
