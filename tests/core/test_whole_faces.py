"""Parts in the disguises of other writers: closed faces split at two and at four angles, and everything as
splines, written to STEP and read back. Their circles are whole."""

import math
from collections import Counter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from OCP.BRep import BRep_Builder, BRep_Tool
from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS, TopoDS_Compound

from drafting.annotation import registry
from drafting.annotation.kinds.bolt_circle import BoltCircle
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.proposing import find_centers, size_tool
from drafting.document import Pick, Point
from drafting.kernel.measure import volume
from drafting.kernel.shape_io import shape_to_bytes
from drafting.kernel.topology import describe, face_count, subshapes
from drafting.kernel.whole import whole
from drafting.model.model import Model
from drafting.model.step import read_model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import demo
from tests.core.contexts import seen_in
from tests.core.zoo import cut, moved, rod, splines, split

MADE = ["HB-204", "HB-205", "HB-206", "HB-207", "HB-210"]
DISGUISES: dict[str, Any] = {
    "in halves": lambda s: split(s, 2),
    "in quarters": lambda s: split(s, 4),
    "of splines": splines,
    "of splines in halves": lambda s: splines(split(s, 2)),
}


def written(shape: Any, folder: Path) -> Model:
    writer = STEPControl_Writer()
    writer.Transfer(shape, STEPControl_StepModelType.STEPControl_AsIs)
    path = folder / "part.step"
    writer.Write(str(path))
    return read_model(path, "part")


def rounds(model: Model) -> Counter[tuple[Any, ...]]:
    """Round faces and whole circles of a model, by what a drafter would size of them."""
    (part,) = model.facts.parts.values()
    found: Counter[tuple[Any, ...]] = Counter()
    for face in part.faces:
        if face.kind in ("cylinder", "cone"):
            assert face.span
            found[face.kind, round(face.radius, 4) if face.kind == "cylinder" else 0.0] += 1
    for edge in part.edges:
        if edge.kind == "circle" and edge.last - edge.first > 2 * math.pi - 1e-6:
            found["circle", round(edge.radius, 4)] += 1
    return found


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", MADE)
def test_round_faces_and_circles_are_whole_in_every_disguise(
    number: str, disguise: str, tmp_path: Path
) -> None:
    model = demo(number)
    (shape,) = model.shapes.values()
    found = written(DISGUISES[disguise](shape), tmp_path)
    plain = written(shape, tmp_path)
    assert rounds(found) == rounds(plain)
    (one,), (two,) = plain.facts.parts.values(), found.facts.parts.values()
    assert two.volume == pytest.approx(one.volume, rel=1e-5)
    assert two.low + two.high == pytest.approx(one.low + one.high, abs=1e-5)


def flange() -> Any:
    """Common practice: six holes of 7 on a circle of 75, 88 outside, a bore of 40."""
    holes = [
        rod(3.5, 20, 37.5 * math.cos(k * math.pi / 3), 37.5 * math.sin(k * math.pi / 3), -5) for k in range(6)
    ]
    return cut(rod(44, 10), rod(20, 20, 0, 0, -5), *holes)


@pytest.mark.parametrize("disguise", DISGUISES)
def test_a_flange_of_others_is_centered_and_sized_as_one(disguise: str, tmp_path: Path) -> None:
    model = written(DISGUISES[disguise](flange()), tmp_path)
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=0, y=0))
    frame = ViewFrame.of(view, model.facts)
    context = seen_in(facts=model.facts, frame=frame, scale=1.0, profile=ISO_MM, view=view)
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL["top"]))
    lacking = find_centers.lacking(geometry, context)
    (ring,) = [c for c in lacking if isinstance(c, BoltCircle)]
    assert len(ring.picks) == 6
    assert len(lacking) == 2  # and the bore's own mark
    outside = max((c for c in geometry.curves if c.kind == "arc" and c.visible), key=lambda c: c.data[2])
    assert outside.data[4] - outside.data[3] == pytest.approx(2 * math.pi)
    pick = Pick(instance=geometry.instances[outside.instance], source=outside.source)
    size = size_tool.proposed([pick], np.array([60.0, 60.0]), "", "d", context).size
    assert isinstance(size, DiameterDimension)
    assert registry.value(size, context) == pytest.approx(88, abs=1e-6)


def test_halves_that_are_real_stay(tmp_path: Path) -> None:
    """A slot's two half cylinders do not adjoin; a rod cut in half has one."""
    slot = cut(BRepPrimAPI_MakeBox(60, 30, 10).Shape(), rod(5, 20, 20, 15, -5), rod(5, 20, 40, 15, -5))
    bridge = BRepPrimAPI_MakeBox(20, 10, 20).Shape()
    slot = cut(slot, moved(bridge, 20, 10, -5))
    faces = describe(whole(slot)).faces
    assert sum(f.kind == "cylinder" for f in faces) == 2
    half = cut(rod(10, 30), moved(BRepPrimAPI_MakeBox(40, 40, 40).Shape(), 0, -20, -5))
    assert [f.kind for f in describe(whole(split(half, 2))).faces].count("cylinder") == 1


def test_bodies_that_touch_are_not_joined(tmp_path: Path) -> None:
    both, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(both)
    for at in (0, 10):
        builder.Add(both, moved(BRepPrimAPI_MakeBox(10, 10, 10).Shape(), at))
    joined = whole(both)
    assert face_count(joined) == 12
    assert volume(joined) == pytest.approx(2000)


def test_what_is_joined_leaves_no_trace_on_what_it_was_made_of() -> None:
    """Edges are shared between shapes of the kernel; a read that is not taken must not have loosened them."""
    pieces = splines(split(flange(), 2))

    def state() -> list[tuple[float, str]]:
        edges = [TopoDS.Edge(e) for e in subshapes(pieces, Kind.TopAbs_EDGE)]
        return [(BRep_Tool.Tolerance_s(e), shape_to_bytes(e).hex()) for e in edges]

    before = state()
    assert face_count(whole(pieces)) < face_count(pieces)
    assert state() == before
