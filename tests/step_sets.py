"""STEP assemblies in several files, and with properties, written by the kernel for tests."""

import os
import re
from pathlib import Path

from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox, BRepPrimAPI_MakeCylinder
from OCP.gp import gp_Trsf, gp_Vec
from OCP.STEPCAFControl import STEPCAFControl_Writer
from OCP.STEPControl import STEPControl_StepModelType
from OCP.TCollection import TCollection_ExtendedString
from OCP.TDataStd import TDataStd_Name
from OCP.TDocStd import TDocStd_Document
from OCP.TopLoc import TopLoc_Location
from OCP.XCAFDoc import XCAFDoc_DocumentTool


def write_set(folder: Path) -> None:
    """rack.step, which places part_Bar.stp once and part_Peg.stp three times, each in a file of its own."""
    document = TDocStd_Document(TCollection_ExtendedString("XmlOcaf"))
    tool = XCAFDoc_DocumentTool.ShapeTool_s(document.Main())
    labels = [
        tool.AddShape(shape, False)
        for shape in (BRepPrimAPI_MakeBox(200, 20, 30).Shape(), BRepPrimAPI_MakeCylinder(5, 30).Shape())
    ]
    root = tool.NewShape()
    for label, name in zip([*labels, root], ("Bar", "Peg", "Rack"), strict=True):
        TDataStd_Name.Set_s(label, TCollection_ExtendedString(name))
    for label, x in ((labels[0], 0), (labels[1], 40), (labels[1], 90), (labels[1], 140)):
        move = gp_Trsf()
        move.SetTranslation(gp_Vec(x, 0, 30 if x else 0))
        tool.AddComponent(root, label, TopLoc_Location(move))
    tool.UpdateAssemblies()
    writer = STEPCAFControl_Writer()
    writer.SetNameMode(True)
    here = os.getcwd()
    os.chdir(folder)
    try:
        writer.Transfer(document, STEPControl_StepModelType.STEPControl_AsIs, "part_")
        writer.Write("rack.step")
    finally:
        os.chdir(here)


def with_properties(text: str, number: str, description: str, said: dict[str, str]) -> str:
    """A STEP file's text with its (only) product's id and description changed and user-defined properties
    added."""
    text = re.sub(
        r"PRODUCT\('([^']*)','([^']*)','[^']*'", rf"PRODUCT('{number}','\2','{description}'", text, count=1
    )
    product = re.search(r"#(\d+) = PRODUCT_DEFINITION\(", text)
    context = re.search(r"#(\d+) = \( GEOMETRIC_REPRESENTATION_CONTEXT", text)
    assert product is not None
    assert context is not None
    lines = []
    for n, (name, value) in zip(range(90001, 99999, 4), said.items(), strict=False):
        lines += [
            f"#{n} = PROPERTY_DEFINITION('{name}','user defined attribute',#{product.group(1)});",
            f"#{n + 1} = PROPERTY_DEFINITION_REPRESENTATION(#{n},#{n + 2});",
            f"#{n + 2} = REPRESENTATION('',(#{n + 3}),#{context.group(1)});",
            f"#{n + 3} = DESCRIPTIVE_REPRESENTATION_ITEM('{name}','{value}');",
        ]
    at = text.rindex("ENDSEC;")
    return text[:at] + "\n".join(lines) + "\n" + text[at:]
