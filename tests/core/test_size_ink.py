"""How sizes are laid out: arrows and numbers in or out by the room there is, leaders, and reading
directions."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.inking.dimension_ink import arrow, extension, number_on_line, readable
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.wording.label import Label
from drafting.document import Pick, Placement, Point, View
from drafting.ink.elements import Element, Fill, Line, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import block
from tests.core.contexts import seen_in


def frame(facts: Facts, name: str = "front") -> ViewFrame:
    return ViewFrame.of(
        View(id="v", kind="main", orientation=PRINCIPAL[name], position=Point(x=0, y=0)), facts
    )


def place(x: float, y: float) -> Placement:
    return Placement(model=Point(x=0, y=0), paper=Point(x=x, y=y))


def level(width: float, at: tuple[float, float], profile: Profile = ISO_MM) -> list[Element]:
    facts = block(width, 10, 20).facts
    size = LinearDimension(
        id="d", view="v", picks=[Pick(instance="part", source="b/side.bottom|b/start")], place=place(*at)
    )
    return registry.ink(size, seen_in(facts=facts, frame=frame(facts), profile=profile, scale=1.0))


def hole(
    diameter: float, at: tuple[float, float], profile: Profile = ISO_MM, scale: float = 1.0
) -> list[Element]:
    drilled: dict[str, Any] = {
        "id": "h",
        "kind": "hole",
        "plane": {"origin": [0, 0, 20]},
        "diameter": diameter,
    }
    facts = block(120, 120, 20, drilled).facts
    size = DiameterDimension(
        id="d", view="v", picks=[Pick(instance="part", source="b/end|h/bore")], place=place(*at)
    )
    return registry.ink(size, seen_in(facts=facts, frame=frame(facts, "top"), profile=profile, scale=scale))


def arrows(ink: list[Element]) -> list[Fill]:
    return [e for e in ink if isinstance(e, Fill)]


def pointing(a: Fill) -> np.ndarray:
    tip = np.array(a.points[0])
    back = (np.array(a.points[1]) + np.array(a.points[2])) / 2
    return np.asarray((tip - back) / np.linalg.norm(tip - back))


def label(ink: list[Element]) -> Text:
    return next(e for e in ink if isinstance(e, Text))


def test_where_there_is_room_arrows_point_outward_from_between_and_the_number_is_in_the_middle() -> None:
    ink = level(80, (13, -20))
    left, right = sorted(arrows(ink), key=lambda a: a.points[0][0])
    assert pointing(left) == pytest.approx([-1, 0])
    assert pointing(right) == pytest.approx([1, 0])
    assert label(ink).at == (
        pytest.approx(0),
        pytest.approx(-20 + ISO_MM.text_gap),
    )  # centered, though the pointer was at 13


def test_where_there_is_little_room_arrows_come_from_outside() -> None:
    ink = level(5, (0, -20))
    left, right = sorted(arrows(ink), key=lambda a: a.points[0][0])
    assert pointing(left) == pytest.approx([1, 0])
    assert pointing(right) == pytest.approx([-1, 0])
    line = max(
        (e for e in ink if isinstance(e, Line) and e.a[1] == e.b[1]), key=lambda e: abs(e.b[0] - e.a[0])
    )
    assert abs(line.b[0] - line.a[0]) > 5 + 2 * ISO_MM.arrow_length


@pytest.mark.parametrize("x", [-70, 70])
def test_a_number_dragged_outside_stands_there_and_the_line_reaches_it(x: float) -> None:
    ink = level(60, (x, -20))
    assert math.copysign(1, label(ink).at[0]) == math.copysign(1, x)
    assert abs(label(ink).at[0]) > 30
    spans = [sorted((e.a[0], e.b[0])) for e in ink if isinstance(e, Line) and e.a[1] == e.b[1]]
    assert min(s[0] for s in spans) <= min(-30, label(ink).at[0])
    assert max(s[1] for s in spans) >= max(30, label(ink).at[0])


def test_asme_numbers_are_level_and_stand_in_a_break_of_the_line() -> None:
    ink = level(76.2, (0, -20), ASME_INCH)
    text = label(ink)
    assert (text.text, text.angle) == ("3.000", 0)
    half = text_width(text.text, text.height) / 2
    for e in ink:
        if isinstance(e, Line) and e.a[1] == e.b[1]:
            lo, hi = sorted((e.a[0], e.b[0]))
            assert hi <= -half or lo >= half
    facts = block(30, 10, 50.8).facts
    upright = LinearDimension(
        id="d",
        view="v",
        picks=[Pick(instance="part", source="b/side.bottom|b/side.left")],
        place=place(-40, 0),
    )
    assert (
        label(
            registry.ink(upright, seen_in(facts=facts, frame=frame(facts), profile=ASME_INCH, scale=1.0))
        ).angle
        == 0
    )
    turned = label(registry.ink(upright, seen_in(facts=facts, frame=frame(facts), profile=ISO_MM, scale=1.0)))
    assert turned.angle == pytest.approx(math.pi / 2)  # ISO 129-1: reads from the right


@given(st.floats(-20, 20))
def test_lettering_reads_from_the_bottom_or_the_right(angle: float) -> None:
    turned = readable(angle)
    assert -math.pi / 2 <= turned <= math.pi / 2 + 1e-5
    assert math.cos(2 * (turned - angle)) == pytest.approx(
        1, abs=1e-9
    )  # the same line, perhaps the other way round
    assert turned > -math.pi / 2 + 1e-9 or math.isclose(turned, -math.pi / 2, abs_tol=1e-5)


def test_a_large_circle_is_sized_through_its_center_and_a_small_one_from_outside() -> None:
    inside = hole(60, (12, 9))
    tips = [a.points[0] for a in arrows(inside)]
    assert math.dist(*tips) == pytest.approx(60)
    assert math.hypot(*label(inside).at) < 30
    outside = hole(60, (45, 30))
    assert len(arrows(outside)) == 2
    small = hole(5, (25, 15))
    assert len(arrows(small)) == 1
    tip = np.array(arrows(small)[0].points[0])
    assert np.linalg.norm(tip) == pytest.approx(2.5)
    assert pointing(arrows(small)[0]) == pytest.approx(-tip / 2.5)  # toward the center
    assert label(small).at[0] > 25


@given(st.floats(0, 2 * math.pi), st.floats(1.5, 50).map(lambda v: round(v, 2)), st.floats(0.2, 4))
@settings(max_examples=30, deadline=None)
def test_the_arrow_of_a_diameter_lies_on_the_circle_and_the_leader_reaches_its_shoulder(
    angle: float, diameter: float, scale: float
) -> None:
    reach = diameter * scale / 2 + 15
    at = (reach * math.cos(angle), reach * math.sin(angle))
    ink = hole(diameter, at, scale=scale)
    for a in arrows(ink):
        assert math.hypot(*a.points[0]) == pytest.approx(diameter * scale / 2, rel=1e-6)
    shoulder = [
        e for e in ink if isinstance(e, Line) and abs(e.a[1] - e.b[1]) < 1e-9 and math.dist(e.a, at) < 1e-6
    ]
    assert shoulder
    assert math.copysign(1, shoulder[-1].b[0] - at[0]) == (1 if math.cos(angle) >= 0 else -1)


def test_a_pointer_inside_a_small_circle_is_moved_out_of_it() -> None:
    ink = hole(6, (0.5, 0.5))
    assert math.hypot(*label(ink).at) > 3
    assert "6" in label(ink).text


def test_extension_lines_start_after_the_gap_or_not_at_all() -> None:
    origin, foot = np.array([0.0, 0.0]), np.array([0.0, -10.0])
    (line,) = extension(origin, foot, ISO_MM)
    assert isinstance(line, Line)
    assert line.a == (0, -ISO_MM.extension_gap)
    assert line.b == (0, -10 - ISO_MM.extension_beyond)
    assert extension(origin, np.array([0.0, -0.5]), ISO_MM) == []


def test_arrowheads_are_three_to_one() -> None:
    """ASME Y14.2: arrowhead length three times its width (common practice)."""
    for profile in (ISO_MM, ASME_INCH):
        a = arrow(np.array([0.0, 0.0]), np.array([1.0, 0.0]), profile)
        xs, ys = zip(*a.points, strict=True)
        assert (max(xs) - min(xs)) / (max(ys) - min(ys)) == pytest.approx(3)


def test_a_number_needs_no_break_above_the_line_and_a_wide_one_in_it() -> None:
    _, above = number_on_line(
        Label("120", text_width("120", ASME_INCH.text_height), 0.0, 3.5),
        np.zeros(2),
        np.array([1.0, 0.0]),
        ISO_MM,
    )
    _, broken = number_on_line(
        Label("120", text_width("120", ASME_INCH.text_height), 0.0, 3.5),
        np.zeros(2),
        np.array([1.0, 0.0]),
        ASME_INCH,
    )
    assert above == 0
    assert broken == pytest.approx(text_width("120", ASME_INCH.text_height) / 2 + ASME_INCH.text_gap)
