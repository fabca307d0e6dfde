"""Where views stand: beside each other by the projection method, within the frame, clear of tables and the
title block."""

import pytest

from drafting.compose import BLOCK, obstacles
from drafting.sheet.layout import frame_box
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.views import arrange
from drafting.views.derive import Prepared
from drafting.views.extents import Box
from drafting.views.orientation import PRINCIPAL, RELATIONS, projected, shown_beside
from tests.core.conftest import demo
from tests.core.test_view_kinds import FRONT, Office

SET = ["right", "below", "below-right"]


@pytest.fixture(scope="module")
def bearing_block() -> Prepared:
    return Prepared(demo("HB-204"))


@pytest.fixture(scope="module")
def winder() -> Prepared:
    return Prepared(demo("HB-200"))


def boxes_of(office: Office) -> dict[str, Box]:
    sheet = office.drawing.sheets[0]
    return {v.id: arrange.placed_box(v, sheet, office.facts) for v in sheet.views}


def standing(office: Office) -> dict[str, Box]:
    found = obstacles(office.drawing, office.drawing.sheets[0], office.facts)
    return {"block" if key == BLOCK else key: box for key, (_, box) in found.items()}


def placed(office: Office, *members: str) -> Office:
    office.do("place_main_view", id="front", sheet="s", orientation=FRONT, position={"x": 60, "y": 60})
    for m in members:
        office.do("place_projected_view", id=m, parent="front", relation=m, position={"x": 60, "y": 60})
    return office


def test_arranging_uses_the_corner_beside_the_title_block(bearing_block: Prepared) -> None:
    office = placed(Office(bearing_block, size="A3"), *SET).do("arrange_sheet", sheet="s")
    assert str(office.drawing.sheets[0].scale) == "1:1"  # a block of 140 x 50 x 98 mm in four views on A3
    assert arrange.overlaps(office.drawing.sheets[0], boxes_of(office), standing(office)) == []


def test_arranging_keeps_clear_of_a_parts_list_and_says_what_lies_on_one(winder: Prepared) -> None:
    office = placed(Office(winder, size="A2"), "right", "below")
    plist = {
        "kind": "parts_list",
        "id": "list",
        "attached": False,
        "position": {"x": 40, "y": 390},
        "grow": "down",
    }
    office.do("place", sheet="s", annotations=[plist])
    office.do("arrange_sheet", sheet="s")
    assert arrange.overlaps(office.drawing.sheets[0], boxes_of(office), standing(office)) == []
    left, bottom, right, top = standing(office)["list"]
    office.do("move_view", view="front", position={"x": (left + right) / 2, "y": (bottom + top) / 2})
    assert ("front", "list") in arrange.overlaps(office.drawing.sheets[0], boxes_of(office), standing(office))
    block = standing(office)["block"]
    office.do(
        "move_view", view="front", position={"x": (block[0] + block[2]) / 2, "y": (block[1] + block[3]) / 2}
    )
    assert ("front", "block") in arrange.overlaps(
        office.drawing.sheets[0], boxes_of(office), standing(office)
    )


def test_a_hole_table_goes_along_when_the_sheet_is_arranged(bearing_block: Prepared) -> None:
    office = placed(Office(bearing_block, size="A2"), "right", "above")
    circles = [
        e.name
        for e in office.facts.parts["part"].edges
        if e.kind == "circle" and e.closed and abs((e.axis or [0, 0, 0])[1]) > 0.9
    ][:3]
    picks = [{"instance": "part", "source": name, "point": "center"} for name in circles[:1]] + [
        {"instance": "part", "source": n} for n in circles
    ]
    place = {"model": {"x": 0, "y": -49}, "paper": {"x": -40, "y": -30}}
    office.do(
        "place",
        annotations=[{"id": "t", "kind": "hole_table", "view": "front", "picks": picks, "place": place}],
    )
    office.do("arrange_sheet", sheet="s")
    sheet = office.drawing.sheets[0]
    front = office.view("front")
    assert front.position.x != 60
    found = arrange.overlaps(
        sheet, {k: b for k, b in boxes_of(office).items() if k != "front"}, standing(office)
    )
    assert found == []


@pytest.mark.parametrize(("x", "y"), [(0, 0), (2000, 40), (50, 1000), (-300, -300)])
def test_a_standard_set_stays_within_the_frame_wherever_the_pointer_is(
    bearing_block: Prepared, x: float, y: float
) -> None:
    office = Office(bearing_block, size="A3")
    office.do(
        "place_standard_set",
        sheet="s",
        orientation=FRONT,
        members=["right", "below"],
        position={"x": x, "y": y},
    )
    frame = frame_box(office.drawing.sheets[0])
    for left, bottom, right, top in boxes_of(office).values():
        assert frame.left - 1e-6 <= left
        assert right <= frame.right + 1e-6
        assert frame.bottom - 1e-6 <= bottom
        assert top <= frame.top + 1e-6


def test_views_beside_the_front_are_named_as_the_trade_does() -> None:
    """ISO 5456-2, ASME Y14.3: third angle has the top above and the right side at the right, first angle the
    other way round."""
    assert ASME_INCH.projection == "third"
    assert ISO_MM.projection == "first"
    assert [shown_beside(r, "third") for r in ("above", "below", "right", "left")] == [
        "top",
        "bottom",
        "right side",
        "left side",
    ]
    assert [shown_beside(r, "first") for r in ("above", "below", "right", "left")] == [
        "bottom",
        "top",
        "left side",
        "right side",
    ]
    assert shown_beside("above-right", "third") == shown_beside("below-left", "first") == "from above right"
    seen = {"top": "top", "bottom": "bottom", "right side": "right", "left side": "left"}
    for relation in RELATIONS:
        for method in ("first", "third"):
            name, o = shown_beside(relation, method), projected(PRINCIPAL["front"], relation, method)  # type: ignore[arg-type]
            if "-" in relation:  # it looks from that corner of the front
                toward = o.toward
                assert (toward[2] > 0) == ("above" in name)
                assert (toward[0] > 0) == ("right" in name)
            else:
                assert o.matrix() == pytest.approx(PRINCIPAL[seen[name]].matrix())
