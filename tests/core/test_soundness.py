"""What is said of shapes that are damaged, and that nothing is said of those that are not."""

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Builder
from OCP.BRepAlgoAPI import BRepAlgoAPI_Cut
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepPrimAPI import (
    BRepPrimAPI_MakeBox,
    BRepPrimAPI_MakeCone,
    BRepPrimAPI_MakeCylinder,
    BRepPrimAPI_MakeSphere,
    BRepPrimAPI_MakeTorus,
)
from OCP.gp import gp_Pnt
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS_Shell, TopoDS_Solid
from scipy.spatial.transform import Rotation

from drafting.kernel.facets import facet
from drafting.kernel.measure import extents
from drafting.kernel.mesh import triangulate
from drafting.kernel.topology import moved, subshapes
from drafting.model.archive import faceted, pack, unpack
from drafting.model.model import PartFacts
from drafting.model.names import part_facts
from drafting.model.soundness import checked, flaws
from drafting.views.visibility.part import FacetedPart
from tests.core.conftest import demo
from tests.core.zoo import ZOO, box, cut, rod


def known(shape: Any) -> tuple[PartFacts, FacetedPart]:
    facts = part_facts(shape, "Lug")
    return facts, facet(shape, math.dist(facts.low, facts.high))


def without_faces(shape: Any, count: int) -> Any:
    """A body whose shell lacks some of its faces."""
    builder, shell, body = BRep_Builder(), TopoDS_Shell(), TopoDS_Solid()
    builder.MakeShell(shell)
    for face in subshapes(TopExp_Explorer(shape, Kind.TopAbs_SHELL).Current(), Kind.TopAbs_FACE)[count:]:
        builder.Add(shell, face)
    builder.MakeSolid(body)
    builder.Add(body, shell)
    return body


@pytest.mark.parametrize("name", ZOO)
def test_nothing_is_said_of_a_sound_body(name: str) -> None:
    for shape in ZOO[name]():
        assert flaws(*known(shape)) == []


@pytest.mark.parametrize("name", ZOO)
def test_extents_are_the_kernels_exact_box(name: str) -> None:
    for shape in ZOO[name]():
        box = Bnd_Box()
        BRepBndLib.AddOptimal_s(shape, box, False, False)
        low, high = box.CornerMin(), box.CornerMax()
        wanted = [low.X(), low.Y(), low.Z(), high.X(), high.Y(), high.Z()]
        found = extents(shape)
        assert [*found[0], *found[1]] == pytest.approx(wanted, abs=2e-6)


def test_nothing_is_said_of_the_demo_and_it_is_kept_as_it_is() -> None:
    model = demo("HB-200")
    assert checked(model, faceted(model)) is model


def test_an_open_body_says_so() -> None:
    said = flaws(*known(without_faces(box(30, 20, 10), 1)))
    assert said == ["Lug is damaged: its body is open at 4 edges."]


def test_a_face_without_triangles_says_so() -> None:
    facts, part = known(cut(box(30, 20, 10), rod(4, 30, 15, 10, -5)))
    bore = int(np.flatnonzero(part.face_kind == 1)[0])
    keep = part.triangle_face != bore
    blank = replace(part, triangles=part.triangles[keep], triangle_face=part.triangle_face[keep])
    assert flaws(facts, blank) == [
        "Lug is damaged: the kernel cannot mesh one of its faces, and views lack the lines of it."
    ]


def test_a_volume_that_its_faces_do_not_enclose_says_so() -> None:
    """As of a thin half shell that is read as a nearly full ball."""
    facts, part = known(ZOO["half a thin ball"]()[0])
    ball = facts.model_copy(update={"volume": 4 / 3 * math.pi * 20**3})
    (said,) = flaws(ball, part)
    assert "neither its views nor its mass can be trusted" in said


def test_what_is_said_is_kept_with_the_model() -> None:
    model = demo("HB-204")
    model.shapes[next(iter(model.shapes))] = without_faces(next(iter(model.shapes.values())), 1)
    parts = faceted(model)
    found = checked(model, parts)
    assert found.facts.notes == next(iter(found.facts.parts.values())).flaws != []
    again = unpack(pack(found, parts)).facts
    assert again.notes == found.facts.notes


turns = st.floats(-3, 3)


@given(
    st.sampled_from(["sphere", "torus", "cone", "cylinder"]),
    turns,
    turns,
    turns,
    st.floats(-6, 6),
    st.booleans(),
)
@settings(max_examples=40)
def test_extents_of_cut_and_turned_bodies_are_theirs(
    kind: str, first: float, second: float, third: float, shift: float, cut: bool
) -> None:
    """Whichever of the highest places of a sphere or a torus were cut away, and however it is turned: within
    the kernel's box, which may be too wide for a cut sphere, and around all of a fine mesh."""
    round_one = {
        "sphere": lambda: BRepPrimAPI_MakeSphere(9),
        "torus": lambda: BRepPrimAPI_MakeTorus(8, 3),
        "cone": lambda: BRepPrimAPI_MakeCone(7, 2, 9),
        "cylinder": lambda: BRepPrimAPI_MakeCylinder(6, 9),
    }[kind]().Shape()
    if cut:
        corner = BRepPrimAPI_MakeBox(gp_Pnt(shift, shift / 2, -20), gp_Pnt(40, 40, 20)).Shape()
        round_one = BRepAlgoAPI_Cut(round_one, corner).Shape()
    m = np.eye(4)
    m[:3, :3] = Rotation.from_euler("xyz", [first, second, third]).as_matrix()
    shape = moved(round_one, m.tolist())
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    corners = box.CornerMin(), box.CornerMax()
    low, high = ([c.X(), c.Y(), c.Z()] for c in corners)
    nodes, _, _ = triangulate(shape, 0.01, 0.05)
    found = np.array(extents(shape))
    assert (found[0] >= np.array(low) - 5e-6).all()
    assert (found[1] <= np.array(high) + 5e-6).all()
    assert (found[0] <= nodes.min(0) + 5e-6).all()
    assert (found[1] >= nodes.max(0) - 5e-6).all()
    assert found == pytest.approx(np.array([nodes.min(0), nodes.max(0)]), abs=0.02)
