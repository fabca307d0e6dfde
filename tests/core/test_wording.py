"""How sizes are written: zeros, signs, tolerances, counts and frames, by standard; and tolerances as they are
typed."""

import math
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from drafting.annotation.wording.label import label_of
from drafting.annotation.wording.numbers import INCH, angle_written, rounded
from drafting.annotation.wording.tolerance_words import parsed, words_of
from drafting.annotation.wording.tolerances import applying, bounds
from drafting.document import Tolerance, Wording
from drafting.errors import SizeError
from drafting.ink.elements import Polyline, Text
from drafting.ink.lettering import text_width
from drafting.standards import general_tolerances
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile

ASME_MM = ASME_INCH.model_copy(
    update={"units": "mm", "trailing_zeros": False, "leading_zero": True, "places": 2}
)
NONE = Tolerance()


def said(
    mm: float,
    profile: Profile = ISO_MM,
    symbol: str = "",
    tolerance: Tolerance = NONE,
    is_angle: bool = False,
    **wording: Any,
) -> str:
    return label_of(mm, symbol, Wording(**wording), tolerance, profile, is_angle).plain


def tol(form: str, upper: float = 0.0, lower: float = 0.0, **more: Any) -> Tolerance:
    return Tolerance(form=form, upper=upper, lower=lower, **more)  # type: ignore[arg-type]


@pytest.mark.parametrize(
    ("mm", "profile", "tolerance", "text"),
    [
        # ASME Y14.5, millimeters: leading zero, no trailing zeros, a nil side is a lone 0, both deviations
        # with the same decimals (from memory)
        (24, ASME_MM, tol("equal", 0.1), "24 ±0.1"),
        (32, ASME_MM, tol("unequal", 0, -0.02), "32 0/-0.02"),
        (32, ASME_MM, tol("unequal", 0.25, -0.1), "32 +0.25/-0.10"),
        (25, ASME_MM, tol("limits", 0.45, 0), "25.45/25.00"),
        # ASME Y14.5, inches: no leading zero, the size as many decimals as its tolerance, a nil side is .000
        # with the other's opposite sign
        (0.5 * INCH, ASME_INCH, tol("equal", 0.005 * INCH), ".500 ±.005"),
        (0.5 * INCH, ASME_INCH, tol("unequal", 0.005 * INCH, 0), ".500 +.005/-.000"),
        (0.5 * INCH, ASME_INCH, tol("equal", 0.0005 * INCH), ".5000 ±.0005"),
        (0.25 * INCH, ASME_INCH, tol("limits", 0.005 * INCH, 0), ".255/.250"),
        # ISO 129-1, ISO 286-1: comma, deviations with the same decimals, 0 without a sign, class after the
        # size
        (25, ISO_MM, tol("class", designation="H7"), "25 H7"),
        (25, ISO_MM, tol("class", designation="H7", shown="deviations"), "25 +0,021/0"),
        (25, ISO_MM, tol("class", designation="g6", shown="both"), "25 g6 (-0,007/-0,020)"),
        (25, ISO_MM, tol("class", designation="H7", mate="g6"), "25 H7/g6"),
        (25, ISO_MM, tol("class", designation="g6", mate="H7"), "25 H7/g6"),
        (25, ISO_MM, tol("class", designation="H7", shown="limits"), "25,021/25,000"),
        (50, ISO_MM, tol("unequal", 0.2, -0.1), "50 +0,2/-0,1"),
        (50, ISO_MM, tol("unequal", 0.2, -0.1, stacked=False), "50 +0,2/-0,1"),
        (50, ISO_MM, tol("unequal", 0.2, 0, zero=False), "50 +0,2"),
        (50, ISO_MM, tol("limits", 0.02, -0.02, stacked=False), "49,98–50,02"),
        (2, ISO_MM, tol("max"), "2 max."),
        (2, ASME_MM, tol("min"), "2 MIN"),
    ],
)
def test_tolerances_follow_the_standard(mm: float, profile: Profile, tolerance: Tolerance, text: str) -> None:
    assert said(mm, profile, tolerance=tolerance) == text


def test_words_signs_and_units() -> None:
    assert said(8.4, symbol="Ø", count=4) == "4× Ø8,4"
    assert said(8.4, ASME_MM, symbol="Ø", count=4) == "4X Ø8.4"
    assert said(12, prefix="SW ", suffix=" typ.") == "SW 12 typ."
    assert said(12, reference=True) == "(12)"
    assert said(25.4, dual=True) == "25,4 [1.000]".replace(".", ",")
    assert said(25.4, ASME_INCH, dual=True) == "1.000 [25.4]"
    assert said(25.4, ASME_INCH, tolerance=tol("equal", 0.127), dual=True) == "1.000 ±.005 [25.4 ±0.127]"
    assert said(25.4, unit="in", places=3) == "1,000"
    assert said(19.05, ASME_INCH, fraction=16) == "3/4"
    assert said(12.3456, places=1) == "12,3"
    assert said(40, own="see table") == "see table"
    assert said(40, above="ground", below="hardened") == "ground 40 hardened"
    assert said(math.radians(22.5), is_angle=True) == "22,5°"
    assert said(math.radians(22.5), is_angle=True, angle_form="minutes") == "22°30'"
    assert said(math.radians(45), is_angle=True, tolerance=tol("equal", math.radians(0.5))) == "45° ±0,5°"
    assert (
        said(math.radians(45), is_angle=True, tolerance=tol("equal", math.radians(0.5)), angle_form="minutes")
        == "45° ±0°30'"
    )


@given(st.integers(0, 360 * 3600))
def test_degrees_minutes_and_seconds_add_up(seconds: int) -> None:
    text = angle_written(math.radians(seconds / 3600), ISO_MM, form="minutes")
    whole, _, rest = text.partition("°")
    minutes, _, last = rest.partition("'")
    assert int(whole) * 3600 + int(minutes or 0) * 60 + int(last.rstrip('"') or 0) == seconds


def test_frames_and_lines_about_the_number() -> None:
    basic = label_of(40, "", Wording(basic=True), NONE, ISO_MM)
    plain = label_of(40, "", Wording(), NONE, ISO_MM)
    box = next(e for e in basic.elements((0, 0)) if isinstance(e, Polyline))
    assert box.closed
    xs, ys = zip(*box.points, strict=True)
    assert min(xs) < -plain.width / 2 < plain.width / 2 < max(xs)
    assert min(ys) < 0 < ISO_MM.text_height < max(ys)
    under = next(
        e
        for e in label_of(40, "", Wording(not_to_scale=True), NONE, ISO_MM).elements((0, 0))
        if isinstance(e, Polyline)
    )
    assert len(under.points) == 2
    assert under.points[0][1] < 0
    oblong = next(
        e
        for e in label_of(40, "", Wording(inspection=True), NONE, ISO_MM).elements((0, 0))
        if isinstance(e, Polyline)
    )
    assert oblong.closed
    assert max(p[0] for p in oblong.points) > plain.width / 2


@given(
    st.sampled_from([ISO_MM, ASME_MM, ASME_INCH]),
    st.floats(1, 400),
    st.sampled_from(["H7", "g6", "js9", "K7"]),
    st.integers(1, 12),
    st.booleans(),
    st.sampled_from(["class", "deviations", "both", "limits"]),
    st.floats(-3, 3),
)
def test_pieces_of_a_label_never_stand_on_each_other(
    profile: Profile, mm: float, name: str, count: int, dual: bool, shown: str, angle: float
) -> None:
    tolerance = tol("class", designation=name, shown=shown)
    found = label_of(
        round(mm, 2), "Ø", Wording(count=count, dual=dual, above="ab", below="cd"), tolerance, profile
    )
    boxes = [(x, y, x + text_width(t, h), y + h) for x, y, t, h in found.pieces]
    for n, a in enumerate(boxes):
        for b in boxes[:n]:
            assert a[2] <= b[0] + 1e-6 or b[2] <= a[0] + 1e-6 or a[3] <= b[1] + 1e-6 or b[3] <= a[1] + 1e-6, (
                found.plain,
                a,
                b,
            )
        assert a[0] >= -max(found.reach, found.width) / 2 - 1e-6
        assert a[2] <= max(found.reach, found.width) / 2 + 1e-6
    for e in found.elements((5, 7), angle):
        assert not isinstance(e, Text) or e.angle == angle


@pytest.mark.parametrize(
    ("text", "form", "upper", "lower"),
    [
        ("±0,1", "equal", 0.1, -0.1),
        ("+-0.1", "equal", 0.1, -0.1),
        ("+/- .1", "equal", 0.1, -0.1),
        ("+0,2/-0,1", "unequal", 0.2, -0.1),
        ("+0.2 -0.1", "unequal", 0.2, -0.1),
        ("0/-0.02", "unequal", 0.0, -0.02),
        ("+0,05/+0,02", "unequal", 0.05, 0.02),
        ("24.9-25.1", "limits", 0.1, -0.1),
        ("25,1 – 24,9", "limits", 0.1, -0.1),
        ("MIN", "min", 0, 0),
        ("max.", "max", 0, 0),
        ("", "none", 0, 0),
    ],
)
def test_tolerances_as_they_are_typed(text: str, form: str, upper: float, lower: float) -> None:
    found = parsed(text, 25.0, ISO_MM)
    assert (found.form, found.upper) == (form, pytest.approx(upper))
    if form != "equal":
        assert found.lower == pytest.approx(lower)
    assert parsed(words_of(found, 25.0, ISO_MM), 25.0, ISO_MM).model_dump() == pytest.approx(
        found.model_dump()
    )


def test_typed_classes_units_and_angles() -> None:
    fit = parsed(" H7/g6 ", 25.0, ISO_MM)
    assert (fit.form, fit.designation, fit.mate) == ("class", "H7", "g6")
    inch = parsed("±.005", 25.4, ASME_INCH)
    assert inch.upper == pytest.approx(0.127)
    assert parsed("±0.5°", math.pi / 4, ISO_MM, is_angle=True).upper == pytest.approx(math.radians(0.5))
    kept = parsed("+0.1/0", 25.0, ISO_MM, before=Tolerance(stacked=False, zero=False))
    assert (kept.stacked, kept.zero) == (False, False)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("abc", "is no tolerance"),
        ("-0.1/+0.2", "upper deviation"),
        ("±0", "above zero"),
        ("H19", "grade that does not exist"),
        ("Q7", "no tolerance class"),
        ("H7/K6", "one hole class"),
        ("H7/g6/h6", "one hole and one shaft"),
        ("25-25", "the same"),
        ("0.1", "is no tolerance"),
        ("=1+1", "is no tolerance"),
    ],
)
def test_bad_tolerances_are_one_sentence(text: str, says: str) -> None:
    with pytest.raises(SizeError, match=says) as caught:
        parsed(text, 25.0, ISO_MM)
    assert str(caught.value).endswith(".")


def test_classes_are_not_for_angles_and_bad_data_is_refused() -> None:
    with pytest.raises(SizeError, match="deviations in degrees"):
        parsed("H7", 0.5, ISO_MM, is_angle=True)
    with pytest.raises(SizeError, match="deviations in degrees"):
        bounds(tol("class", designation="H7"), 0.5, is_angle=True)
    for upper, lower in ((0.1, 0.2), (0.1, 0.1)):
        with pytest.raises(ValidationError, match="above the lower"):
            tol("unequal", upper, lower)
    with pytest.raises(ValidationError, match="above zero"):
        tol("equal", 0.0)


def test_general_tolerances_hold_where_a_size_states_none() -> None:
    """ISO 2768-1 table 1, class m (the design's check values): 0.5-3 0.1; 3-6 0.1; 6-30 0.2; 30-120 0.3;
    120-400 0.5; 400-1000 0.8; to 2000 1.2."""
    for upto, half in ((3, 0.1), (6, 0.1), (30, 0.2), (120, 0.3), (400, 0.5), (1000, 0.8), (2000, 1.2)):
        assert general_tolerances.linear("ISO 2768-mK", upto, 2) == half
        assert general_tolerances.linear("ISO 2768-m", upto - 0.01, 2) == half
    for value in (1, 5, 20, 100, 300, 900, 1500):  # from fine to very coarse each class is at least as wide
        row = [general_tolerances.linear(f"ISO 2768-{c}", value, 2) for c in "fmcv"]
        known = [v for v in row if v is not None]
        assert known == sorted(known)
        assert len(known) >= 3
    assert general_tolerances.linear("ISO 2768-m", 5000, 2) is None
    assert general_tolerances.linear("ISO 2768-m", 4, 2, broken_edge=True) == 0.5
    assert math.degrees(general_tolerances.angle("ISO 2768-m", 40) or 0) == pytest.approx(0.5)
    block = ".XX ±.01  .XXX ±.005  ANGLES ±1°"
    assert general_tolerances.linear(block, 25.4, 3) == pytest.approx(0.127)
    assert general_tolerances.linear(block, 25.4, 2) == pytest.approx(0.254)
    assert general_tolerances.linear(block, 25.4, 1) is None
    assert general_tolerances.angle(block, 10) == pytest.approx(math.radians(1))
    found = applying(NONE, Wording(), 50.0, ISO_MM)
    assert found is not None
    assert (found.upper, found.lower, found.general) == (0.3, -0.3, True)
    assert applying(NONE, Wording(reference=True), 50.0, ISO_MM) is None
    assert applying(NONE, Wording(basic=True), 50.0, ISO_MM) is None
    own = applying(tol("class", designation="H7"), Wording(), 25.0, ISO_MM)
    assert own is not None
    assert (own.upper, own.lower, own.general) == (0.021, 0.0, False)
    places = applying(NONE, Wording(places=2), 50.8, ASME_INCH)
    assert places is not None
    assert places.upper == pytest.approx(0.01 * INCH)


def test_a_class_shown_alone_leaves_the_number_as_it_is() -> None:
    assert said(0.75 * INCH, ASME_INCH, tolerance=tol("class", designation="H9")) == ".750 H9"
    assert (
        said(0.75 * INCH, ASME_INCH, tolerance=tol("class", designation="H9", shown="deviations"))
        == ".75000 +.00205/-.00000"
    )


@pytest.mark.parametrize(
    ("value", "places", "text"),
    [
        (28.575, 2, "28.58"),
        (28.574999998, 2, "28.58"),
        (28.575000002, 2, "28.58"),
        (28.5749, 2, "28.57"),
        (-0.125, 2, "-0.13"),
        (2.5, 0, "3"),
        (1e300, 2, f"{1e300:.2f}"),
        (float("inf"), 2, "inf"),
    ],
)
def test_halves_round_away_from_zero_whatever_their_last_digits(value: float, places: int, text: str) -> None:
    """ISO 80000-1, annex B, rule B (memory)."""
    assert rounded(value, places) == text
