"""STEP files in and out: names, colors, the instance tree and the units a file declares."""

import os
import re
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path

from OCP.collections import Sequence_TDF_Label as LabelSequence
from OCP.IFSelect import IFSelect_ReturnStatus as Status
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Reader, STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from drafting.errors import ModelError
from drafting.kernel.topology import (
    Shape,
    face_count,
    location_matrix,
    subshapes,
    transform,
)

Color = tuple[float, float, float]
Progress = Callable[[float, str], None]


@dataclass
class StepNode:
    """A component as the file tells it: a part (shape set, in its own frame) or a group (children)."""

    name: str
    matrix: list[list[float]]
    key: str
    color: Color | None = None
    shape: Shape | None = None
    children: list["StepNode"] = field(default_factory=list)


@dataclass(frozen=True)
class StepFile:
    roots: list[StepNode]
    units: str


def read_step(path: Path, progress: Progress) -> StepFile:
    """Read a STEP file; raises ModelError with a sentence for the user."""
    progress(0.05, "reading the file")
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    reader.SetMatMode(False)
    here = os.getcwd()
    os.chdir(path.parent)  # files that a STEP assembly refers to are sought beside it
    try:
        if reader.ReadFile(path.name) != Status.IFSelect_RetDone:
            raise ModelError("This is not a complete STEP file: the kernel cannot read its data section.")
        progress(0.35, "translating its shapes")
        document = TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))
        if not reader.Transfer(document):
            raise ModelError("The STEP file holds no shape that can be translated.")
    finally:
        os.chdir(here)
    progress(0.6, "reading names, colors and the instance tree")
    shape_tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    color_tool = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    labels = LabelSequence()
    shape_tool.GetFreeShapes(labels)
    roots = [_node(label, color_tool) for label in labels]
    roots = [r for r in roots if r is not None]
    if not roots:
        raise ModelError("The STEP file holds no shape: its assembly may refer to other files that were not brought along.")
    return StepFile(roots, declared_units(path))  # type: ignore[arg-type]


def bare_read(path: Path) -> None:
    """The kernel's own read and translate of a STEP file and nothing else: what `bench` compares with."""
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    reader.ReadFile(str(path))
    reader.Transfer(TDocStd_Document(TCollection_ExtendedString("XmlOcaf")))


def _node(label: TDF_Label, color_tool: object) -> StepNode | None:
    location = XCAFDoc_ShapeTool.GetLocation_s(label)
    name, target = _name(label), label
    if XCAFDoc_ShapeTool.IsReference_s(label):
        target = TDF_Label()
        XCAFDoc_ShapeTool.GetReferredShape_s(label, target)
    part_name = _name(target)
    matrix = location_matrix(location)
    key = str(_entry(target))
    color = _color(label, color_tool) or _color(target, color_tool)
    if XCAFDoc_ShapeTool.IsAssembly_s(target):
        parts = LabelSequence()
        XCAFDoc_ShapeTool.GetComponents_s(target, parts, False)
        children = [_node(part, color_tool) for part in parts]
        kept = [c for c in children if c is not None]
        return StepNode(part_name or name, matrix, key, color, None, kept) if kept else None
    shape = XCAFDoc_ShapeTool.GetShape_s(target)
    if shape is None or shape.IsNull() or face_count(shape) == 0:
        return None
    shape = shape.Located(TopLoc_Location())
    if color is None:
        color = _face_color(shape, color_tool)
    return StepNode(part_name or name, matrix, key, color, shape)


def _entry(label: TDF_Label) -> str:
    tags: list[str] = []
    while not label.IsNull() and not label.IsRoot():
        tags.append(str(label.Tag()))
        label = label.Father()
    return ":".join(reversed(tags))


def _name(label: TDF_Label) -> str:
    attribute = TDataStd_Name()
    if label.FindAttribute(TDataStd_Name.GetID_s(), attribute):
        text = attribute.Get().ToExtString()
        return re.sub(r"[\x00-\x1f]", "", text).strip()[:200]
    return ""


def _color(label: TDF_Label, tool: object) -> Color | None:
    color = Quantity_Color()
    for kind in (XCAFDoc_ColorType.XCAFDoc_ColorSurf, XCAFDoc_ColorType.XCAFDoc_ColorGen):
        if tool.GetColor_s(label, kind, color):  # type: ignore[attr-defined]
            return (color.Red(), color.Green(), color.Blue())
    return None


def _face_color(shape: Shape, tool: object) -> Color | None:
    """The color of the first colored solid or face, for files that color faces instead of parts."""
    color = Quantity_Color()
    for kind in (Kind.TopAbs_SOLID, Kind.TopAbs_FACE):
        for sub in subshapes(shape, kind)[:50]:
            if tool.GetColor(sub, XCAFDoc_ColorType.XCAFDoc_ColorSurf, color):  # type: ignore[attr-defined]
                return (color.Red(), color.Green(), color.Blue())
    return None


_UNIT = re.compile(rb"CONVERSION_BASED_UNIT\s*\(\s*'(INCH|FOOT)'|SI_UNIT\s*\(\s*(\.\w+\.|\$)\s*,\s*\.METRE\.", re.I)
_SI = {b".MILLI.": "mm", b".CENTI.": "cm", b"$": "m"}


def declared_units(path: Path) -> str:
    """The length unit the file declares: mm, cm, m, in or ft; mm where it declares none.

    A file in inches also declares the millimeter its inch is converted from, so inch and foot go first.
    """
    found: set[str] = set()
    for inch_or_foot, prefix in _UNIT.findall(path.read_bytes()):
        found.add({b"INCH": "in", b"FOOT": "ft"}.get(inch_or_foot.upper()) or _SI.get(prefix.upper(), ""))
    return next((u for u in ("in", "ft", "mm", "cm", "m") if u in found), "mm")


def has_faces(shape: Shape) -> bool:
    return face_count(shape) > 0


@dataclass(frozen=True)
class WriteNode:
    """What to write: parts by key with name, color and shape, and placed instances of them."""

    parts: dict[str, tuple[str, Color | None, Shape]]
    instances: list[tuple[str, str, list[list[float]]]]
    """(instance name, part key, 4 x 4 matrix in mm)"""


def write_step(node: WriteNode, name: str, path: Path) -> None:
    """Write a part (one instance at the origin) or an assembly as STEP AP242 in millimeters."""
    document = TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colors = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    labels: dict[str, TDF_Label] = {}
    for key, (part_name, color, shape) in node.parts.items():
        label = tool.AddShape(shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(part_name, True))
        if color:
            colors.SetColor(label, Quantity_Color(*color, Quantity_TypeOfColor.Quantity_TOC_RGB), XCAFDoc_ColorType.XCAFDoc_ColorSurf)
        labels[key] = label
    if len(node.instances) != 1:
        root = tool.NewShape()
        TDataStd_Name.Set_s(root, TCollection_ExtendedString(name, True))
        for instance_name, key, matrix in node.instances:
            component = tool.AddComponent(root, labels[key], TopLoc_Location(transform(matrix)))
            TDataStd_Name.Set_s(component, TCollection_ExtendedString(instance_name, True))
        tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    if not writer.Transfer(document) or writer.Write(str(path)) != Status.IFSelect_RetDone:
        raise ModelError(f"{path.name} could not be written as STEP.")
