"""Features: how long they take beside the kernel's bare read, and a plate of 5,000 holes."""

import tempfile
import time
from pathlib import Path
from typing import Any

import shapely
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.gp import gp_Ax2, gp_Circ, gp_Dir, gp_Pln, gp_Pnt, gp_Vec
from OCP.TopoDS import TopoDS

from bench.large import large_model
from drafting.annotation.kinds import hole_table
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.proposing import call_out, find_centers
from drafting.context import Context
from drafting.document import Drawing, Pick, Placement, Point, Sheet, in_view
from drafting.features.recognized import features
from drafting.kernel import step
from drafting.model.model import IDENTITY, Facts, InstanceFacts, Model, TreeNode
from drafting.model.names import part_facts
from drafting.model.step import write_model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View

DEMO_MOST = 0.030
"""Seconds that the features of a demo part may take."""
PLATE_MOST = 3.0
"""Seconds that callouts, hole table and centers of a plate of 5,000 holes may take."""


def measured(demo: Any, numbers: list[str]) -> bool:
    """Prints times; whether all are within their limits."""
    print("Features on plain facts")
    slowest = 0.0
    for number in numbers:
        (part,) = demo(number).facts.parts.values()
        best = min(_seconds(lambda part=part: features(part.model_copy())) for _ in range(3))  # type: ignore[misc]
        slowest = max(slowest, best)
    good = slowest <= DEMO_MOST
    print(f"  slowest demo part {1e3 * slowest:.1f} ms   at most {1e3 * DEMO_MOST:.0f}: {_said(good)}")
    return all([good, _assembly(), _plate()])


def _seconds(work: Any) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start


def _said(good: bool) -> str:
    return "met" if good else "MISSED"


def _assembly() -> bool:
    model = large_model(16)
    faces = sum(len(p.faces) for p in model.facts.parts.values())
    placed = sum(len(model.facts.parts[i.part].faces) for i in model.facts.instances)
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "rack.step"
        write_model(model, path)
        bare = _seconds(lambda: step.bare_read(path))
    ours = sum(_seconds(lambda p=p: features(p)) for p in model.facts.parts.values())  # type: ignore[misc]
    good = ours <= bare
    print(
        f"  assembly of {placed} faces ({faces} distinct): {ours:.2f} s, kernel's bare read {bare:.2f} s   "
        f"ratio {ours / bare:.2f}   at most 1: {_said(good)}"
    )
    return good


def perforated(across: int, up: int) -> Model:
    """A plate of so many holes, made as one profile."""
    wire = BRepBuilderAPI_MakeWire()
    w, h = across * 6.0, up * 6.0
    corners = [(0, 0), (w, 0), (w, h), (0, h)]
    for (ax, ay), (bx, by) in zip(corners, [*corners[1:], corners[0]], strict=True):
        wire.Add(BRepBuilderAPI_MakeEdge(gp_Pnt(ax, ay, 0), gp_Pnt(bx, by, 0)).Edge())
    face = BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(0, 0, 0), gp_Dir(0, 0, 1)), wire.Wire())
    for i in range(across):
        for j in range(up):
            place = gp_Ax2(gp_Pnt(3 + 6 * i, 3 + 6 * j, 0), gp_Dir(0, 0, -1))
            edge = BRepBuilderAPI_MakeEdge(gp_Circ(place, 1.5)).Edge()
            face.Add(TopoDS.Wire(BRepBuilderAPI_MakeWire(edge).Wire()))
    shape = BRepPrimAPI_MakePrism(face.Face(), gp_Vec(0, 0, 4)).Shape()
    part = part_facts(shape, "Screen", measured=False)
    facts = Facts(
        name="Screen",
        kind="part",
        units="mm",
        source="step",
        parts={"p": part},
        instances=[InstanceFacts(path="p", name="Screen", part="p", matrix=IDENTITY)],
        tree=TreeNode(name="Screen", part="p", path="p"),
        low=part.low,
        high=part.high,
    )
    return Model(facts, {"p": shape})


def _plate() -> bool:
    model = perforated(100, 50)
    (part,) = model.facts.parts.values()
    found = _seconds(lambda: features(part))
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=400, y=300))
    sheet = Sheet(id="s", size="A0", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    context = Context(drawing, sheet, model.facts, view)
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL["top"]))
    outline = shapely.box(*geometry.low, *geometry.high)
    room = shapely.box(-390, -290, 390, 290).difference(outline)
    calling = _seconds(lambda: call_out.proposed(geometry, context, room, [], [f"c{n}" for n in range(6000)]))
    centering = _seconds(lambda: find_centers.lacking(geometry, context))
    rims = [e.name for e in part.edges if e.kind == "circle" and e.center and e.center[2] > 3.9]
    corner = next(e for e in part.edges if e.kind == "line")
    picks = [
        Pick(instance="p", source=corner.name, point="start"),
        *(Pick(instance="p", source=n) for n in rims),
    ]
    table = HoleTable(
        id="t", anchor=in_view("v", picks), place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0))
    )
    listing = _seconds(lambda: hole_table.written_rows(table, context))
    total = found + calling + centering + listing
    good = total <= PLATE_MOST
    print(
        f"  plate of {len(features(part).holes)} holes: found in {found:.2f} s, called out in {calling:.2f}, "
        f"centers in {centering:.2f}, table of {len(rims)} in {listing:.2f}   "
        f"at most {PLATE_MOST:.0f} s: {_said(good)}"
    )
    return good
