"""Free surfaces that are plain ones, on shapes that the kernel turned into splines and on files of others."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCone, BRepPrimAPI_MakeTorus
from OCP.gp import gp_Cylinder, gp_Pln, gp_Sphere
from OCP.ShapeAnalysis import ShapeAnalysis_CanonicalRecognition

from bench.files import others
from drafting.annotation.measuring.traces import Round, Straight, outline
from drafting.kernel.topology import FaceGeometry, describe, moved
from drafting.model.model import IDENTITY
from drafting.model.names import part_facts
from drafting.model.step import read_model
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import demo
from tests.core.zoo import ball, box, cut, rod, splines, stretched
from tests.core.zoo import moved as shifted

MADE = ["HB-204", "HB-205", "HB-206", "HB-207", "HB-210", "HB-211", "HB-220"]


def as_splines(shape: Any) -> list[tuple[FaceGeometry, FaceGeometry]]:
    """The faces of a shape as they are, and as splines; the kernel keeps their order."""
    return list(zip(describe(shape).faces, describe(splines(shape)).faces, strict=True))


def agrees(plain: FaceGeometry, found: FaceGeometry) -> None:
    """Two faces are the same, but for what is free to choose: the sense of an axis and a place on it."""
    assert found.kind == plain.kind
    origin, axis, own = np.array(found.origin), np.array(found.axis), np.array(plain.axis)
    away = origin - plain.origin
    if plain.kind == "plane":
        assert axis == pytest.approx(own, abs=1e-6)
        assert float(away @ own) == pytest.approx(0, abs=1e-4)
        return
    if plain.kind != "cone":
        assert found.radius == pytest.approx(plain.radius, rel=1e-6)
    assert found.minor_radius == pytest.approx(plain.minor_radius, rel=1e-6)
    assert abs(found.half_angle) == pytest.approx(abs(plain.half_angle), abs=1e-6)
    if plain.kind == "sphere":
        assert origin == pytest.approx(plain.origin, abs=1e-5)
        return
    assert abs(float(axis @ own)) == pytest.approx(1, abs=1e-9)
    off_axis = away - own * float(away @ own) if plain.kind == "cylinder" else away
    assert off_axis == pytest.approx(np.zeros(3), abs=1e-5)
    assert plain.span is not None
    assert found.span is not None
    if plain.kind == "torus":
        assert found.span[1] - found.span[0] == pytest.approx(plain.span[1] - plain.span[0], abs=1e-6)
        return
    ends = [
        sorted(float((np.array(f.origin) + np.array(f.axis) * h) @ own) for h in f.span or ())
        for f in (plain, found)
    ]
    assert ends[1] == pytest.approx(ends[0], abs=1e-5)


@pytest.mark.parametrize("number", MADE)
def test_faces_of_the_demo_parts_are_known_when_they_are_splines(number: str) -> None:
    model = demo(number)
    pairs = [pair for shape in model.shapes.values() for pair in as_splines(shape)]
    known = [p for p in pairs if p[0].kind != "other"]
    assert known
    for plain, found in known:
        agrees(plain, found)


def turned(shape: Any, axis: tuple[float, float, float], turn: float, by: tuple[float, float, float]) -> Any:
    a = np.array(axis) / np.linalg.norm(axis)
    k = np.array([[0, -a[2], a[1]], [a[2], 0, -a[0]], [-a[1], a[0], 0]])
    m = np.eye(4)
    m[:3, :3] += math.sin(turn) * k + (1 - math.cos(turn)) * k @ k
    m[:3, 3] = by
    return moved(shape, m.tolist())


SIZES = st.floats(0.5, 300)


@given(
    radius=SIZES,
    slim=st.floats(0.1, 8),
    ring=st.floats(1.1, 4),
    turn=st.floats(0.1, 3),
    axis=st.tuples(st.floats(0.2, 1), st.floats(-1, 1), st.floats(-1, 1)),
    by=st.tuples(*[st.floats(-1e3, 1e3)] * 3),
)
def test_any_round_body_anywhere_is_known(
    radius: float,
    slim: float,
    ring: float,
    turn: float,
    axis: tuple[float, float, float],
    by: tuple[float, float, float],
) -> None:
    height = slim * radius
    tapered = BRepPrimAPI_MakeCone(radius, radius / 3, height).Shape()
    tube = BRepPrimAPI_MakeTorus(radius * ring, radius).Shape()
    for body in (rod(radius, height), ball(radius), tapered, tube):
        for plain, found in as_splines(turned(body, axis, turn, by)):
            agrees(plain, found)


@pytest.mark.parametrize("body", [rod(10, 30), ball(12), BRepPrimAPI_MakeCone(9, 3, 20).Shape()])
def test_what_is_oval_by_a_thousandth_is_not_round(body: Any) -> None:
    kinds = {f.kind for f in describe(stretched(body, 1.001)).faces}
    assert kinds <= {"other", "plane"}
    assert "other" in kinds


def test_a_shallow_dish_is_not_given_a_radius() -> None:
    """A cap of 0.02 on 40 across: were its places half a micron off, its radius of 10 m would be 250 off."""
    cap = cut(ball(1e4), shifted(box(3e4, 3e4, 3e4), -1.5e4, -1.5e4, -2e4 - 0.02))
    assert "sphere" in {f.kind for f in describe(cap).faces}
    assert "sphere" not in {f.kind for f in describe(splines(cap)).faces}


def test_faces_of_other_peoples_splines_are_what_the_kernel_takes_them_for() -> None:
    """Against the kernel's own recognition, which knows no tori: as1-tu-203 and component8 of the gmsh wheel,
    whose round faces are all splines, and linkrods of the kernel's data."""
    counted = 0
    for name in ("as1-tu-203", "component8", "linkrods"):
        model = read_model(others()[name], name)
        for shape in model.shapes.values():
            topology = describe(shape)
            for face, found in zip(topology.face_shapes, topology.faces, strict=True):
                asked = ShapeAnalysis_CanonicalRecognition(face)
                cylinder, ball_of, plane = gp_Cylinder(), gp_Sphere(), gp_Pln()
                if found.kind == "cylinder":
                    assert asked.IsCylinder(1e-4, cylinder)
                    assert found.radius == pytest.approx(cylinder.Radius(), rel=1e-6)
                elif found.kind == "sphere":
                    assert asked.IsSphere(1e-4, ball_of)
                    assert found.radius == pytest.approx(ball_of.Radius(), rel=1e-6)
                elif found.kind == "plane":
                    assert asked.IsPlane(1e-4, plane)
                counted += found.kind in ("cylinder", "sphere", "plane")
    assert counted > 60


def test_the_outline_of_a_rod_of_splines_is_sized() -> None:
    """Its diameter and its height, as on the rod."""
    frame = ViewFrame(PRINCIPAL["front"].matrix(), np.zeros(3), False)
    facts = part_facts(splines(rod(12.5, 40)), "rod")
    side = next(f for f in facts.faces if f.kind == "cylinder")
    left, right = (outline(side, k, IDENTITY, frame) for k in (-1, 1))
    assert isinstance(left, Straight)
    assert isinstance(right, Straight)
    assert left.length == pytest.approx(40, abs=1e-9)
    assert float(np.linalg.norm(np.cross(left.direction, right.a - left.a))) == pytest.approx(25, abs=1e-9)
    dome = next(f for f in part_facts(splines(ball(7)), "ball").faces if f.kind == "sphere")
    found = outline(dome, 1, IDENTITY, frame)
    assert isinstance(found, Round)
    assert found.radius == pytest.approx(7, abs=1e-9)
