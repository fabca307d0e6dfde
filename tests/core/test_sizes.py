"""Sizes are measured on the model: true in every view, scale and standard, and written by the profile."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.measure import LostPick, pick_side
from drafting.annotation.placing.rows import snapped_place
from drafting.annotation.proposing import size_tool
from drafting.annotation.wording.numbers import written
from drafting.document import Pick, Placement, Point, View
from drafting.errors import SizeError
from drafting.ink.elements import Fill, Line, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL, Orientation, isometric
from tests.core.conftest import block, part
from tests.core.contexts import seen_in

ISO = isometric(PRINCIPAL["front"])


def frame(o: Orientation, facts: Facts) -> ViewFrame:
    return ViewFrame.of(
        View(
            id="v",
            kind="main" if o in PRINCIPAL.values() else "pictorial",
            orientation=o,
            position=Point(x=0, y=0),
        ),
        facts,
    )


def place(x: float, y: float) -> Placement:
    return Placement(model=Point(x=0, y=0), paper=Point(x=x, y=y))


def length(
    *sources: str,
    at: tuple[float, float] = (0, -40),
    direction: str = "aligned",
    instance: str = "part",
    **more: object,
) -> LinearDimension:
    picks = [Pick(instance=instance, source=s) for s in sources]
    return LinearDimension(id="d", view="v", picks=picks, place=place(*at), direction=direction, **more)  # type: ignore[arg-type]


def diameter(source: str, at: tuple[float, float] = (40, 40)) -> DiameterDimension:
    return DiameterDimension(id="d", view="v", picks=[Pick(instance="part", source=source)], place=place(*at))


sizes = st.floats(5, 150).map(lambda v: round(v, 2))


@given(sizes, sizes, sizes, st.sampled_from([*PRINCIPAL.values(), ISO, isometric(PRINCIPAL["top"], -1, 1)]))
@settings(max_examples=20, deadline=None)
def test_an_edge_reads_the_recipes_size_in_every_view(w: float, d: float, h: float, o: Orientation) -> None:
    facts = block(w, d, h).facts
    f = frame(o, facts)
    for source, true in (
        ("b/end|b/side.bottom", w),
        ("b/end|b/side.left", d),
        ("b/side.bottom|b/side.left", h),
    ):
        try:
            value = registry.value(length(source), seen_in(facts=facts, frame=f))
        except SizeError:
            assert any(abs(abs(v) - 1) < 1e-9 for v in o.toward)  # seen end-on
            continue
        assert value == pytest.approx(true, abs=1e-9)


def test_86_in_a_pictorial_view_reads_86_though_it_is_drawn_70_219() -> None:
    facts = block(86, 40, 30).facts
    f = frame(ISO, facts)
    d = length("b/end|b/side.bottom", at=(60, -60))
    assert registry.text(d, seen_in(facts=facts, frame=f, profile=ISO_MM)) == "86"
    tips = [
        e.points[0]
        for e in registry.ink(d, seen_in(facts=facts, frame=f, profile=ISO_MM, scale=1.0))
        if isinstance(e, Fill)
    ]
    assert math.dist(*tips) == pytest.approx(70.219, abs=5e-4)


@given(sizes, st.floats(0.1, 20))
@settings(max_examples=15, deadline=None)
def test_distances_do_not_depend_on_scale_and_the_drawn_line_does(w: float, scale: float) -> None:
    facts = block(w, 30, 20).facts
    f = frame(PRINCIPAL["front"], facts)
    d = length("b/side.bottom|b/side.left", "b/side.right|b/side.top")
    assert registry.value(d, seen_in(facts=facts, frame=f)) == pytest.approx(
        w
    )  # though one edge lies behind the other by 30
    tips = [
        e.points[0]
        for e in registry.ink(d, seen_in(facts=facts, frame=f, profile=ISO_MM, scale=scale))
        if isinstance(e, Fill)
    ]
    assert math.dist(*tips) == pytest.approx(w * scale, rel=1e-6)


def test_diameters_and_center_distances() -> None:
    hole = {
        "id": "h",
        "kind": "hole",
        "plane": {"origin": [0, 0, 10]},
        "at": [[-20, -5], [15, 7]],
        "diameter": 8.4,
    }
    facts = block(80, 40, 10, hole).facts
    top, iso = frame(PRINCIPAL["top"], facts), frame(ISO, facts)
    for f in (top, iso):
        assert (
            registry.text(diameter("b/end|h/bore@1"), seen_in(facts=facts, frame=f, profile=ISO_MM)) == "Ø8,4"
        )
    pair = ("b/end|h/bore@1", "b/end|h/bore@2")
    assert registry.value(length(*pair), seen_in(facts=facts, frame=top)) == pytest.approx(math.hypot(35, 12))
    assert registry.value(
        length(*pair, direction="horizontal"), seen_in(facts=facts, frame=top)
    ) == pytest.approx(35)
    assert registry.value(
        length(*pair, direction="vertical"), seen_in(facts=facts, frame=top)
    ) == pytest.approx(12)
    assert registry.value(
        length("b/end|b/side.left", pair[0]), seen_in(facts=facts, frame=top)
    ) == pytest.approx(20)
    assert registry.value(
        length(pair[0], "b/end|b/side.left"), seen_in(facts=facts, frame=top)
    ) == pytest.approx(20)
    options = size_tool.options(length(*pair).picks, "d", seen_in(facts=facts, frame=top))
    assert {o.name for o in options} == {"distance", "horizontal", "vertical", "nearest", "farthest"}
    # seen edge-on a whole circle is a line that is as long as the diameter, and says so
    assert (
        registry.text(
            length("b/end|h/bore@1", at=(0, 60)),
            seen_in(facts=facts, frame=frame(PRINCIPAL["front"], facts), profile=ISO_MM),
        )
        == "Ø8,4"
    )


def test_outlines_of_cylinders_and_cones_are_sized_on_the_side_that_was_picked() -> None:
    shape = {
        "start": [0, 0],
        "to": [
            {"line": [0, 10], "name": "a"},
            {"line": [30, 10], "name": "cyl"},
            {"line": [50, 4], "name": "cone"},
            {"line": [50, 0], "name": "b"},
        ],
    }
    facts = part([{"id": "r", "kind": "revolve", "profile": shape}]).facts
    f = frame(PRINCIPAL["front"], facts)
    pick = Pick(instance="part", source="r/side.cyl", role="silhouette")
    upper, lower = (
        pick_side(pick, (0, 9), seen_in(facts=facts, frame=f)),
        pick_side(pick, (0, -9), seen_in(facts=facts, frame=f)),
    )
    assert {upper.side, lower.side} == {-1, 1}
    d = LinearDimension(id="d", view="v", picks=[upper, lower], place=place(0, 30))
    assert registry.value(d, seen_in(facts=facts, frame=f)) == pytest.approx(20)
    cone = Pick(instance="part", source="r/side.cone", role="silhouette", side=1)
    slant = LinearDimension(id="d", view="v", picks=[cone], place=place(0, 30))
    assert registry.value(slant, seen_in(facts=facts, frame=f)) == pytest.approx(math.hypot(20, 6))


def test_what_cannot_be_sized_is_said() -> None:
    facts = block(
        80, 40, 10, {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "diameter": 8}
    ).facts
    f = frame(PRINCIPAL["front"], facts)
    cases = [
        (length("b/end|b/side.left", "b/end|b/side.left"), "picked twice"),
        (length("b/end|b/side.bottom", "b/side.bottom|b/side.left"), "not parallel"),
        (length("b/end|b/side.left"), "end-on"),
        (length("b/gone|b/side"), "no longer in the model"),
        (length("b/end|b/side.left", instance="elsewhere"), "no longer in the model"),
        (length("b/end|b/side.bottom", direction="vertical"), "no vertical length"),
        (length("b/end|b/side.bottom", "b/end|b/side.top"), "fall together"),
    ]
    for d, says in cases:
        with pytest.raises(SizeError, match=says):
            registry.value(d, seen_in(facts=facts, frame=f))
    with pytest.raises(LostPick):
        registry.value(diameter("b/end|gone"), seen_in(facts=facts, frame=f))
    with pytest.raises(SizeError, match="circle or an arc"):
        registry.value(diameter("b/end|b/side.bottom"), seen_in(facts=facts, frame=f))


@pytest.mark.parametrize(
    ("mm", "profile", "places", "text"),
    [
        # ASME Y14.5: millimeters with a leading zero and no trailing ones; inches without a leading zero,
        # fixed decimals
        (24.0, ISO_MM, None, "24"),
        (24.5, ISO_MM, None, "24,5"),
        (0.5, ISO_MM, None, "0,5"),
        (70.2194, ISO_MM, None, "70,22"),
        (24.5, ISO_MM, 2, "24,50"),
        (100.0, ISO_MM, None, "100"),
        (1e-9, ISO_MM, None, "0"),
        (19.05, ASME_INCH, None, ".750"),
        (76.2, ASME_INCH, None, "3.000"),
        (9.525, ASME_INCH, 4, ".3750"),
        (25.4, ASME_INCH, 0, "1"),
    ],
)
def test_numbers_follow_the_standard(mm: float, profile: Profile, places: int | None, text: str) -> None:
    assert written(mm, profile, places) == text


@pytest.mark.parametrize("profile", [ISO_MM, ASME_INCH])
@given(width=st.floats(2, 120).map(lambda v: round(v, 1)), y=st.floats(-60, -20), x=st.floats(-90, 90))
@settings(max_examples=25, deadline=None)
def test_extension_lines_keep_their_gap_and_pass_the_dimension_line(
    profile: Profile, width: float, y: float, x: float
) -> None:
    facts = block(width, 10, 20).facts
    f = frame(PRINCIPAL["front"], facts)
    ink = registry.ink(
        length("b/side.bottom|b/start", at=(x, y)), seen_in(facts=facts, frame=f, profile=profile, scale=1.0)
    )
    upright = [e for e in ink if isinstance(e, Line) and abs(e.a[0] - e.b[0]) < 1e-9]
    assert len(upright) == 2
    for e in upright:
        assert abs(e.a[0]) == pytest.approx(width / 2)
        assert -10 - e.a[1] == pytest.approx(profile.extension_gap)
        assert y - e.b[1] == pytest.approx(profile.extension_beyond)
    arrows = [e for e in ink if isinstance(e, Fill)]
    assert sorted(a.points[0][0] for a in arrows) == pytest.approx([-width / 2, width / 2])
    label = next(e for e in ink if isinstance(e, Text))
    assert label.height == profile.text_height
    # the number never lies on an extension line
    half = text_width(label.text, label.height) / 2
    for e in upright:
        if min(e.a[1], e.b[1]) < label.at[1] < max(e.a[1], e.b[1]):
            assert abs(label.at[0] - e.a[0]) > half - 1e-6


def test_the_first_row_is_10_mm_out_and_the_next_ones_follow() -> None:
    """ASME Y14.5: first row at least 10 mm from the outline, further rows at least 6 mm apart."""
    facts = block(80, 40, 20).facts
    f = frame(PRINCIPAL["front"], facts)
    level = np.array([1.0, 0.0])
    for near, row in ((-10 - 9.1, -20), (-10 - 16.2, -27), (10 + 11.5, 20), (10 + 13.6, 23.6)):
        got = snapped_place(
            np.array([3.0, near]), level, seen_in(facts=facts, frame=f, scale=1.0, profile=ISO_MM)
        )
        assert got.at(1.0)[1] == pytest.approx(row)
        assert got.at(2.0)[1] == pytest.approx(
            row + math.copysign(10, row)
        )  # twice the size, the same distance from the outline
    assert ISO_MM.first_row >= 10
    assert ISO_MM.next_row >= 6
    assert ASME_INCH.first_row == pytest.approx(0.4 * 25.4)


def test_lettering_is_as_wide_as_the_font_says() -> None:
    from fontTools.ttLib import TTFont

    from drafting.ink.lettering import FONT_FILE, fitted_height, font_size, shortened

    font = TTFont(FONT_FILE)
    advance = sum(font["hmtx"][font.getBestCmap()[ord(c)]][0] for c in "Ø40,5")
    assert text_width("Ø40,5", 3.5) == pytest.approx(advance / font["head"].unitsPerEm * font_size(3.5))
    assert fitted_height("short", 5, 60) == 5
    assert text_width("n" * 20, fitted_height("n" * 20, 5, 60)) == pytest.approx(60)
    assert fitted_height("n" * 90, 5, 60) == 1.8  # no smaller than can be read; what is still too wide is cut
    assert text_width(shortened("n" * 90, 5, 60), 5) <= 60
