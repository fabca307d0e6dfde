"""STEP files in and out: names, colors, the instance tree and the units a file declares."""

import os
import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from pathlib import Path

from OCP.collections import Sequence_TDF_Label as LabelSequence
from OCP.IFSelect import IFSelect_ReturnStatus as Status
from OCP.Interface import Interface_Static
from OCP.Quantity import Quantity_Color, Quantity_TypeOfColor
from OCP.STEPCAFControl import STEPCAFControl_Reader, STEPCAFControl_Writer
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name, TDataStd_NamedData
from OCP.TDF import TDF_Label
from OCP.TDocStd import TDocStd_Document
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_ColorType, XCAFDoc_DocumentTool, XCAFDoc_ShapeTool

from drafting.errors import ModelError
from drafting.kernel import external_files
from drafting.kernel.topology import (
    Shape,
    face_count,
    location_matrix,
    subshapes,
    transform,
)
from drafting.kernel.whole import whole

Color = tuple[float, float, float]
Progress = Callable[[float, str], None]


@dataclass
class StepNode:
    """A component as the file tells it: a part (shape set, in its own frame) or a group (children).

    number, product and description: id, name and description of its product.
    """

    name: str
    matrix: list[list[float]]
    key: str
    color: Color | None = None
    shape: Shape | None = None
    children: list["StepNode"] = field(default_factory=list)
    number: str = ""
    product: str = ""
    description: str = ""


@dataclass(frozen=True)
class StepFile:
    """files: itself and those it refers to."""

    roots: list[StepNode]
    units: str
    files: list[Path]


def read_step(path: Path, progress: Progress) -> StepFile:
    """Read a STEP file; raises ModelError with a sentence for the user."""
    progress(0.05, "reading the file")
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    reader.SetMatMode(False)
    reader.SetProductMetaMode(True)
    here = os.getcwd()
    os.chdir(path.parent)  # files that a STEP assembly refers to are sought beside it
    try:
        if reader.ReadFile(path.name) != Status.IFSelect_RetDone:
            raise ModelError("This is not a complete STEP file: the kernel cannot read its data section.")
        files = external_files.check(path, reader.Reader().WS())
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
    tree = _Tree(color_tool)
    roots = [tree.node(label) for label in labels]
    roots = [r for r in roots if r is not None]
    if not roots:
        raise ModelError(
            "The STEP file holds no shape: its assembly may refer to other files that were not brought along."
        )
    return StepFile(roots, declared_units(path), files)  # type: ignore[arg-type]


def bare_read(path: Path) -> None:
    """The kernel's own read and translate of a STEP file and nothing else: what `bench` compares with."""
    reader = STEPCAFControl_Reader()
    reader.SetNameMode(True)
    reader.SetColorMode(True)
    reader.ReadFile(str(path))
    reader.Transfer(TDocStd_Document(TCollection_ExtendedString("XmlOcaf")))


class _Tree:
    """Reads components; what a product says is asked once, however often it is placed."""

    def __init__(self, color_tool: object) -> None:
        self._colors = color_tool
        self._products: dict[str, StepNode] = {}

    def node(self, label: TDF_Label) -> StepNode | None:
        target = label
        if XCAFDoc_ShapeTool.IsReference_s(label):
            target = TDF_Label()
            XCAFDoc_ShapeTool.GetReferredShape_s(label, target)
        key = str(_entry(target))
        if XCAFDoc_ShapeTool.IsAssembly_s(target):
            parts = LabelSequence()
            XCAFDoc_ShapeTool.GetComponents_s(target, parts, False)
            kept = [child for part in parts if (child := self.node(part)) is not None]
            if not kept:
                return None
            known = self._products.setdefault(
                key, StepNode(_name(target), [], key, None, None, [], *_product(target))
            )
            children = kept
        else:
            known = self._products.get(key) or self._part(target, key)
            if known.shape is None:
                return None
            children = []
        matrix = location_matrix(XCAFDoc_ShapeTool.GetLocation_s(label))
        color = known.color
        if target is not label and known.shape is not None:
            color = _color(label, self._colors) or color
        return replace(known, name=known.name or _name(label), matrix=matrix, color=color, children=children)

    def _part(self, target: TDF_Label, key: str) -> StepNode:
        shape = XCAFDoc_ShapeTool.GetShape_s(target)
        if shape is None or shape.IsNull() or face_count(shape) == 0:
            node = StepNode("", [], key)
        else:
            shape = shape.Located(TopLoc_Location())
            color = _color(target, self._colors) or _face_color(shape, self._colors)
            node = StepNode(_name(target), [], key, color, whole(shape), [], *_product(target))
        self._products[key] = node
        return node


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


def _product(label: TDF_Label) -> tuple[str, str, str]:
    """Id, name and description of the product a label was made from."""
    data = TDataStd_NamedData()
    if (
        not label.IsAttribute(TDataStd_NamedData.GetID_s())
        or not label.FindAttribute(TDataStd_NamedData.GetID_s(), data)
        or not data.HasStrings()
    ):
        return "", "", ""
    strings = data.GetStringsContainer()

    def found(name: str) -> str:
        key = TCollection_ExtendedString(name)
        return (
            re.sub(r"[\x00-\x1f]", " ", strings.Find(key).ToExtString()).strip()[:400]
            if strings.IsBound(key)
            else ""
        )

    return found("ProductID"), found("ProductName"), found("Description")


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


_UNIT = re.compile(
    rb"CONVERSION_BASED_UNIT\s*\(\s*'(INCH|FOOT)'|SI_UNIT\s*\(\s*(\.\w+\.|\$)\s*,\s*\.METRE\.", re.I
)
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
    """Whether there is any face in a shape."""
    return face_count(shape) > 0


@dataclass(frozen=True)
class WriteNode:
    """A placed part (its key) or a group of others (children), with its 4 x 4 matrix in the frame of what it
    stands in, mm.

    Groups with the same mark are written once.
    """

    name: str
    matrix: list[list[float]]
    part: str = ""
    group: str = ""
    children: list["WriteNode"] = field(default_factory=list)


def write_step(parts: dict[str, tuple[str, Color | None, Shape]], root: WriteNode, path: Path) -> None:
    """Write a part (a root without children) or an assembly as STEP AP242 in millimeters. parts: name, color
    and shape by key."""
    document = TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    colors = XCAFDoc_DocumentTool.ColorTool_s(document.Main())
    labels: dict[str, TDF_Label] = {}
    for key, (part_name, color, shape) in parts.items():
        label = tool.AddShape(shape, False)
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(part_name, True))
        if color:
            colors.SetColor(
                label,
                Quantity_Color(*color, Quantity_TypeOfColor.Quantity_TOC_RGB),
                XCAFDoc_ColorType.XCAFDoc_ColorSurf,
            )
        labels[key] = label
    if root.children:
        _write_group(tool, root, labels, {})
        tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    Interface_Static.SetCVal_s("write.step.schema", "AP242DIS")
    Interface_Static.SetCVal_s("write.step.unit", "MM")
    writer.SetNameMode(True)
    writer.SetColorMode(True)
    if not writer.Transfer(document) or writer.Write(str(path)) != Status.IFSelect_RetDone:
        raise ModelError(f"{path.name} could not be written as STEP.")


def _write_group(
    tool: XCAFDoc_ShapeTool, node: WriteNode, parts: dict[str, TDF_Label], groups: dict[str, TDF_Label]
) -> TDF_Label:
    if node.group in groups:
        return groups[node.group]
    label = tool.NewShape()
    TDataStd_Name.Set_s(label, TCollection_ExtendedString(node.name, True))
    for child in node.children:
        of = _write_group(tool, child, parts, groups) if child.children else parts[child.part]
        component = tool.AddComponent(label, of, TopLoc_Location(transform(child.matrix)))
        TDataStd_Name.Set_s(component, TCollection_ExtendedString(child.name, True))
    if node.group:
        groups[node.group] = label
    return label
