"""Features of size, symmetry and likely datums: by the recipes' parameters, in every disguise."""

from collections import Counter
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.features.body import Body
from drafting.features.sizes import area, likely_datums, sizes, symmetry
from drafting.model.model import PartFacts
from drafting.model.names import part_facts
from tests.core.conftest import block, demo, part
from tests.core.disguises import DISGUISES, disguised
from tests.core.zoo import ball, box, cut, moved, rod


def body(shape: object) -> Body:
    return Body(part_facts(shape, "x", measured=False))


def told(found: PartFacts) -> Counter[object]:
    return Counter((s.kind, s.inner, round(s.size, 3)) for s in sizes(Body(found)))


@given(st.floats(5, 90), st.floats(5, 90), st.floats(5, 90))
@settings(max_examples=10, deadline=None)
def test_a_block_has_its_three_widths(a: float, b: float, c: float) -> None:
    (found,) = block(a, b, c).facts.parts.values()
    widths = sizes(Body(found))
    assert sorted(s.size for s in widths) == pytest.approx(sorted((a, b, c)), abs=1e-9)
    assert all(s.kind == "width" and not s.inner for s in widths)


def test_a_fork_has_inner_and_outer_widths() -> None:
    fork = body(cut(box(60, 30, 40), moved(box(20, 40, 40), 20, -5, 12)))
    across = [s for s in sizes(fork) if abs(s.direction[0]) > 0.9]
    assert sorted((s.inner, s.size) for s in across) == [(False, 20), (False, 20), (False, 60), (True, 20)]


def test_bores_shafts_and_balls() -> None:
    tube = body(cut(rod(20, 50), rod(8, 60, 0, 0, -5)))
    assert sorted((s.inner, s.size) for s in sizes(tube) if s.kind == "cylinder") == [(False, 40), (True, 16)]
    (one,) = sizes(body(ball(7)))
    assert (one.kind, one.size, one.inner) == ("sphere", 14, False)


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", ["HB-204", "HB-205", "HB-214"])
def test_features_of_size_are_the_same_in_every_disguise(number: str, disguise: str, tmp_path: Path) -> None:
    model = demo(number)
    (shape,), (plain,) = model.shapes.values(), model.facts.parts.values()
    assert told(disguised(shape, disguise, tmp_path)) == told(plain)


@pytest.mark.parametrize(("number", "planes"), [("HB-202", 2), ("HB-204", 1), ("HB-206", 1), ("HB-211", 0)])
def test_planes_of_symmetry(number: str, planes: int) -> None:
    """The side plate is the same on both sides and left and right; the block only left and right, for its
    seat is on one side; a turned part is not tried all around."""
    (found,) = demo(number).facts.parts.values()
    assert len(symmetry(Body(found))) == planes


def test_what_is_not_symmetrical_has_no_plane() -> None:
    plate = {"id": "b", "kind": "extrude", "profile": {"width": 60, "height": 40}, "depth": 10}
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[11, 7]], "diameter": 5}
    (found,) = part([plate, hole]).facts.parts.values()
    ((_, normal),) = symmetry(Body(found))
    assert normal == (0, 0, 1)  # only through its thickness


def test_likely_datums() -> None:
    (found,) = demo("HB-204").facts.parts.values()
    plane, bore, *_ = likely_datums(Body(found))
    assert plane.why == "largest plane"
    assert found.face(plane.faces[0]).axis[1] != 0  # type: ignore[union-attr]
    assert (bore.why, bore.size) == ("longest bore", pytest.approx(40))


def test_the_area_of_a_plane_face() -> None:
    (found,) = block(
        60, 40, 10, {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "diameter": 20}
    ).facts.parts.values()
    top = max((f for f in found.faces if f.kind == "plane"), key=lambda f: f.axis[2])
    assert area(Body(found), top) == pytest.approx(60 * 40 - 3.141592653589793 * 100, rel=2e-3)
