"""Surface texture: proportions, which way a symbol stands, what it says, and what is asked about."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.inking.texture_ink import Marks, symbol
from drafting.annotation.kinds import texture
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.kind import Request
from drafting.annotation.kinds.texture import SurfaceTexture
from drafting.context import Context
from drafting.document import Pick, Placement, Point, Tolerance, in_view
from drafting.errors import CommandError
from drafting.ink.elements import Arc, Element, Fill, Line, Polyline, Text
from drafting.standards import texture as table
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from tests.core.conftest import block
from tests.core.test_notes import seen


def on(at: tuple[float, float], pointer: tuple[float, float], **more: Any) -> tuple[SurfaceTexture, Context]:
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]], "diameter": 12}
    geometry, context = seen(block(60, 40, 10, hole), **more)
    return texture.propose(
        Request([], pointer, "t", settings={"tip": at}, geometry=geometry), context
    ), context


def legs(elements: list[Element]) -> np.ndarray:
    """End of the short leg, foot, and end of the long leg."""
    return np.array(next(e for e in elements if isinstance(e, Polyline)).points)


def texts(elements: list[Element]) -> list[str]:
    return [e.text for e in elements if isinstance(e, Text)]


# ---- proportions -------------------------------------------------------------------------------------------
@pytest.mark.parametrize(("h", "short", "long"), [(2.5, 3.5, 7.5), (3.5, 5, 10.5), (5, 7, 15)])
def test_legs_are_as_high_as_the_standard_says(h: float, short: float, long: float) -> None:
    """ISO 1302, table of sizes (memory): heights of both legs by the height of lettering; both lean by 60
    degrees."""
    a, foot, b = legs(symbol("any", Marks(["Ra 3,2"]), h).elements)
    assert (a - foot)[1] == pytest.approx(short, abs=0.11)
    assert (b - foot)[1] == pytest.approx(long)
    for leg in (a - foot, b - foot):
        assert abs(math.degrees(math.atan2(leg[1], abs(leg[0])))) == pytest.approx(60)


def test_removal_is_required_by_a_bar_and_ruled_out_by_a_circle_that_touches_both_legs() -> None:
    plain, bar, ring = (symbol(r, Marks(), 3.5) for r in ("any", "required", "not allowed"))  # type: ignore[arg-type]
    assert len(plain.elements) == 1
    (line,) = [e for e in bar.elements if isinstance(e, Line)]
    assert line.a[1] == line.b[1] == pytest.approx(4.9)
    assert line.b[0] - line.a[0] == pytest.approx(2 * 4.9 / math.tan(math.radians(60)))
    (circle,) = [e for e in ring.elements if isinstance(e, Arc)]
    away = circle.center[1] * math.cos(math.radians(60))  # from a leg that leans by 60 degrees
    assert away == pytest.approx(circle.radius)
    assert circle.center[1] + circle.radius == pytest.approx(4.9)


# ---- where it stands ---------------------------------------------------------------------------------------
def test_a_symbol_near_its_outline_stands_on_it_and_is_read_from_below_or_from_the_right() -> None:
    top, context = on((10, 20), (11, 23))
    assert top.on_line
    _, foot, _ = legs(texture.ink(top, context))
    assert foot == pytest.approx([10, 20], abs=1e-3)
    left, context = on((-30, 5), (-33, 5))
    elements = texture.ink(left, context)
    assert legs(elements)[1] == pytest.approx([-30, 5], abs=1e-3)
    assert [e.angle for e in elements if isinstance(e, Text)] == [pytest.approx(math.pi / 2)]
    for at, pointer in (((10, -20), (11, -23)), ((30, 5), (33, 5))):  # upside down or from the left
        made, context = on(at, pointer)
        assert not made.on_line
        elements = texture.ink(made, context)
        assert [e.angle for e in elements if isinstance(e, Text)] == [0.0]
        assert [len(e.points) for e in elements if isinstance(e, Fill)] == [3]


@given(st.floats(0, 360), st.floats(5, 40))
@settings(max_examples=40, deadline=None)
def test_no_symbol_is_ever_upside_down(turn: float, away: float) -> None:
    way = np.array([math.cos(math.radians(turn)), math.sin(math.radians(turn))])
    at = way * min(30 / max(abs(way[0]), 1e-9), 20 / max(abs(way[1]), 1e-9))
    if abs(abs(at[0]) - 30) < 0.5 and abs(abs(at[1]) - 20) < 0.5:
        return  # a corner is on two lines
    made, context = on(tuple(at), tuple(at + way * away))
    (angle,) = {e.angle for e in texture.ink(made, context) if isinstance(e, Text)}
    assert texture.LOWEST <= angle <= texture.HIGHEST
    short, foot, long = legs(texture.ink(made, context))
    assert long[1] > foot[1] or angle > 1.5


# ---- what it says ------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("fields", "profile", "rows"),
    [
        ({"value": 3.2}, ISO_MM, ["Ra 3,2"]),
        ({"value": 0.8, "parameter": "Rz", "sampling": "0,8"}, ISO_MM, ["0,8/Rz 0,8"]),
        ({"value": 3.2, "lower": 0.8}, ISO_MM, ["U Ra 3,2", "L Ra 0,8"]),
        ({"value": 63}, ASME_INCH, ["Ra 63"]),
        ({"value": 1.6, "further": "Rz 6,3"}, ISO_MM, ["Ra 1,6", "Rz 6,3"]),
        ({"value": 1.6, "letter": "z"}, ISO_MM, ["z"]),
    ],
)
def test_rows_are_in_the_form_of_the_standard(
    fields: dict[str, Any], profile: Profile, rows: list[str]
) -> None:
    made, context = on((10, 20), (11, 23), profile=profile)
    said = made.model_copy(update=fields)
    assert texture.rows(said, profile) == rows
    assert texts(texture.ink(said, context)) == rows


def test_all_that_can_stand_at_a_symbol_stands_at_its_place() -> None:
    """ISO 1302 (memory): process above the line, lay at the foot's right, allowance at its left, a circle at
    the corner for all around."""
    made, context = on((10, 20), (40, 50))
    full = made.model_copy(update={"process": "ground", "lay": "M", "allowance": 0.5, "around": True})
    at = {e.text: np.array(e.at) for e in texture.ink(full, context) if isinstance(e, Text)}
    foot, corner = legs(texture.ink(full, context))[1:]
    assert at["ground"][1] > corner[1] > at["Ra 3,2"][1]
    assert at["M"][0] > foot[0] > at["0,5"][0]
    (circle,) = [e for e in texture.ink(full, context) if isinstance(e, Arc)]
    assert circle.center == pytest.approx(tuple(corner))


def test_the_value_follows_the_tolerance_of_the_surface() -> None:
    """Common practice: a bore of grade 7 is of Ra 1.6."""
    made, context = on((6, 0), (30, 30))
    assert made.value == 3.2
    size = DiameterDimension(
        id="d",
        anchor=in_view("v", [Pick(instance=made.tip.instance, source=made.tip.source)]),  # type: ignore[union-attr]
        place=Placement(model=Point(x=0, y=0), paper=Point(x=40, y=0)),
        tolerance=Tolerance(form="class", designation="H7"),
    )
    context.sheet.annotations.append(size)
    again = texture.propose(
        Request([], (30, 30), "t", settings={"tip": (6, 0)}, geometry=on_geometry()), context
    )
    assert again.value == 1.6


def on_geometry() -> Any:
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]], "diameter": 12}
    return seen(block(60, 40, 10, hole))[0]


def test_one_on_the_sheet_holds_for_all_others_and_says_so_in_parentheses() -> None:
    _, context = seen(block(60, 40, 10))
    sheet = Context(context.drawing, context.sheet, context.facts, is_bare=True)
    made = texture.propose(Request([], (200, 40), "t"), sheet)
    assert made.rest
    elements = texture.ink(made, sheet)
    assert len([e for e in elements if isinstance(e, Polyline)]) == 2  # its own, and the plain one
    assert len([e for e in elements if isinstance(e, Arc)]) == 2
    letter = texture.ink(made.model_copy(update={"letter": "z", "rest": False}), sheet)
    assert texts(letter) == ["Ra 3,2", "z", "="]


def test_values_beside_the_series_and_letters_without_a_meaning_are_asked_about() -> None:
    made, context = on((10, 20), (11, 23))
    assert texture.findings(made.model_copy(update={"value": 6.5}), context) == [
        "Ra 6,5 is no value of the series; the nearest is 6,3."
    ]
    assert texture.findings(made.model_copy(update={"letter": "z"}), context) == [
        "The surface texture z is explained nowhere on the drawing."
    ]
    with pytest.raises(CommandError, match="lies below"):
        registry.check(made.model_copy(update={"lower": 6.3}), context)


def test_the_series_doubles_and_its_units_agree() -> None:
    """Each value is about twice the one before; 1 µm is 39.37 µin."""
    for values in table.SERIES.values():
        assert all(1.9 < b / a < 2.1 for a, b in zip(values, values[1:], strict=False))
    for micrometers, microinches in zip(table.SERIES["mm"], table.SERIES["in"], strict=True):
        assert microinches / (micrometers * 39.37) == pytest.approx(1, abs=0.03)


def test_what_stands_on_the_sheet_takes_the_room_of_its_ink() -> None:
    _, context = seen(block(60, 40, 10))
    sheet = Context(context.drawing, context.sheet, context.facts, is_bare=True)
    made = texture.propose(Request([], (200, 40), "t"), sheet)
    ((_, box),) = texture.obstacles(made, sheet)
    for e in texture.ink(made, sheet):
        for x, y in e.points if isinstance(e, Polyline) else [e.at] if isinstance(e, Text) else []:
            assert box[0] - 1e-6 <= x <= box[2] + 1e-6
            assert box[1] - 1e-6 <= y <= box[3] + 1e-6
    hanging, context = on((10, 20), (11, 23))
    assert texture.obstacles(hanging, context) == []


def test_all_of_a_texture_can_be_set_in_its_particulars() -> None:
    names = {f.name for f in form_of(texture.KIND)}
    assert names == set(SurfaceTexture.model_fields) - {"kind", "id", "anchor", "place", "tip"}
