"""Volumes in closed form, against handbook formulas (mensuration of solids: Dubbel's or Machinery's Handbook,
"Areas and volumes") and against the kernel's own adaptive rule."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from OCP.BRepGProp import BRepGProp_Domain, BRepGProp_Face, BRepGProp_Vinert
from OCP.BRepPrimAPI import BRepPrimAPI_MakeCone, BRepPrimAPI_MakeTorus
from OCP.gp import gp_Pnt

from drafting.kernel import flux
from drafting.kernel.measure import faces_of, volume
from drafting.kernel.topology import Shape, solids
from tests.core.zoo import ZOO, ball, box, cut, mirrored, rod, splines

SIZE = st.floats(0.5, 300)
EXACT = 1e-12


def bored() -> Shape:
    return cut(box(40, 30, 20), rod(6, 20, 20, 15))


def closed(shape: Shape, point: tuple[float, float, float] = (3.0, -2.0, 5.0)) -> float:
    found = [flux.below(face, point) for face in faces_of(solids(shape)[0])]
    assert None not in found
    return sum(v or 0.0 for v in found)


@given(SIZE, SIZE, SIZE)
def test_handbook_volumes(a: float, b: float, c: float) -> None:
    assert closed(box(a, b, c)) == pytest.approx(a * b * c, rel=EXACT)
    assert closed(rod(a, b)) == pytest.approx(math.pi * a**2 * b, rel=EXACT)
    assert closed(ball(a)) == pytest.approx(4 / 3 * math.pi * a**3, rel=EXACT)
    assert closed(BRepPrimAPI_MakeCone(a, 0, b).Shape()) == pytest.approx(math.pi * a**2 * b / 3, rel=EXACT)
    small = min(a, b) / 3
    assert closed(BRepPrimAPI_MakeTorus(a + b, small).Shape()) == pytest.approx(
        2 * math.pi**2 * (a + b) * small**2, rel=EXACT
    )


@given(st.tuples(*[st.floats(-1e3, 1e3)] * 3))
def test_the_point_that_a_solid_is_measured_from_does_not_matter(
    point: tuple[float, float, float],
) -> None:
    assert closed(bored(), point) == pytest.approx(40 * 30 * 20 - math.pi * 36 * 20, rel=1e-9)


@pytest.mark.parametrize("name", ZOO)
def test_each_face_as_the_kernel_measures_it(name: str) -> None:
    for shape in ZOO[name]():
        whole = volume(shape)
        for solid in solids(shape):
            for face in faces_of(solid):
                known = flux.below(face, (1.0, 2.0, -3.0))
                if known is None:
                    continue
                theirs = BRepGProp_Vinert()
                theirs.SetLocation(gp_Pnt(1, 2, -3))
                theirs.Perform(BRepGProp_Face(face), BRepGProp_Domain(face), 1e-9)
                assert known == pytest.approx(theirs.Mass(), rel=1e-8, abs=1e-8 * whole)


def test_a_mirrored_body_is_as_large() -> None:
    assert volume(mirrored(bored())) == pytest.approx(volume(bored()), rel=EXACT)


def test_a_free_surface_is_left_to_the_kernel() -> None:
    faces = faces_of(solids(splines(ball(7)))[0])
    assert faces
    assert all(flux.below(face, (0, 0, 0)) is None for face in faces)
