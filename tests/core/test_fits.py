"""ISO 286-1: the whole tables against the standard's formulas, against a published data set, and against
handbook values."""

import importlib.metadata
import math
import runpy

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drafting.errors import SizeError
from drafting.standards import fits
from drafting.standards.fit_tables import DEVIATIONS, FINE_STEPS, GRADES, STEPS, TOLERANCES


def means(steps: tuple[int, ...]) -> list[float]:
    """Geometric mean of each step (ISO 286-1, annex B); the first step counts from 1 mm."""
    return [math.sqrt(a * b) for a, b in zip((1, *steps), steps, strict=False)]


def unit(d: float) -> float:
    return 0.45 * d ** (1 / 3) + 0.001 * d if d < 500 else 0.004 * d + 2.1


def test_standard_tolerances_follow_the_units_of_the_standard() -> None:
    """IT5 to IT18 are 7, 10, 16, 25, 40, 64, 100 and so on times i or I (ISO 286-1 annex B, from memory),
    rounded to two or three figures."""
    factors = dict(
        zip(GRADES[6:], (7, 10, 16, 25, 40, 64, 100, 160, 250, 400, 640, 1000, 1600, 2500), strict=True)
    )
    checked = 0
    for grade, k in factors.items():
        for d, value in zip(means(STEPS), TOLERANCES[grade], strict=True):
            # the first step (to 3 mm) is published about a seventh wider than its formula
            assert value == pytest.approx(k * unit(d), rel=0.155 if d < 3 else 0.055, abs=0.7), (grade, d)
            checked += 1
    assert checked == 14 * 21
    for grade, a, b in (("01", 0.3, 0.008), ("0", 0.5, 0.012), ("1", 0.8, 0.020)):
        for d, value in zip(means(STEPS), TOLERANCES[grade][:13], strict=False):
            assert value == pytest.approx(a + b * d, rel=0.2, abs=0.55), (grade, d)
    for n, (d, first, fifth) in enumerate(zip(means(STEPS), TOLERANCES["1"], TOLERANCES["5"], strict=True)):
        for power, grade in ((1, "2"), (2, "3"), (3, "4")):
            assert TOLERANCES[grade][n] == pytest.approx(
                first * (fifth / first) ** (power / 4), rel=0.25, abs=0.3
            ), (grade, d)


def test_grades_grow_by_the_same_steps() -> None:
    for n in range(len(STEPS)):
        column = [TOLERANCES[g][n] for g in GRADES if n < len(TOLERANCES[g])]
        assert all(a < b for a, b in zip(column, column[1:], strict=False))
        for low, high in zip(
            GRADES[7:14], GRADES[12:], strict=False
        ):  # every fifth grade is ten times as wide, from IT6 on
            assert TOLERANCES[high][n] == pytest.approx(10 * TOLERANCES[low][n], rel=0.07)


def formula(letter: str, d: float, n: int) -> float | None:
    """Fundamental deviation of a shaft, micrometers (ISO 286-1 annex B, table B.2, from memory). n: index of
    the step in STEPS."""
    it = {g: TOLERANCES[g][n] or 0 for g in ("6", "7", "8", "9", "10")}
    large = d > 500
    if large:
        straight = {
            "m": 0.024 * d + 12.6,
            "n": 0.04 * d + 21,
            "p": 0.072 * d + 37.8,
            "s": it["7"] + 0.4 * d,
            "t": it["7"] + 0.63 * d,
            "u": it["7"] + d,
        }
        straight |= {"d": 16 * d**0.44, "e": 11 * d**0.41, "f": 5.5 * d**0.41, "g": 2.5 * d**0.34, "k": 0.0}
        straight["r"] = math.sqrt(straight["p"] * straight["s"])
        return straight.get(letter)
    plain = {
        "a": 265 + 1.3 * d if d <= 120 else 3.5 * d,
        "b": 140 + 0.85 * d if d <= 160 else 1.8 * d,
        "c": 52 * d**0.2 if d <= 40 else 95 + 0.8 * d,
        "d": 16 * d**0.44,
        "e": 11 * d**0.41,
        "f": 5.5 * d**0.41,
        "g": 2.5 * d**0.34,
        "k": 0.6 * d ** (1 / 3) if d > 3 else 0.0,
        "m": it["7"] - it["6"],
        "n": 5 * d**0.34,
        "p": it["7"] + 2.5,
        "s": it["8"] + 2.5 if d <= 50 else it["7"] + 0.4 * d,
        "t": it["7"] + 0.63 * d,
        "u": it["7"] + d,
        "v": it["7"] + 1.25 * d,
        "x": it["7"] + 1.6 * d,
        "y": it["7"] + 2 * d,
        "z": it["7"] + 2.5 * d,
        "za": it["8"] + 3.15 * d,
        "zb": it["9"] + 4 * d,
        "zc": it["10"] + 5 * d,
    }
    plain["cd"], plain["ef"], plain["fg"] = (
        math.sqrt(plain[a] * plain[b]) for a, b in (("c", "d"), ("e", "f"), ("f", "g"))
    )
    plain["r"] = math.sqrt(plain["p"] * plain["s"])
    return plain[letter]


@pytest.mark.parametrize("letter", sorted(DEVIATIONS))
def test_fundamental_deviations_follow_the_formulas_of_the_standard(letter: str) -> None:
    """Within 5 % or 3 micrometers. Published values of c from 10 to 40 mm and of u to zc up to 18 mm depart
    further from the formulas; those are held by the data set and the growth from size to size below."""
    steps, row = DEVIATIONS[letter]
    coarse = means(STEPS)
    checked = 0
    for d, bound, value in zip(means(steps), steps, row, strict=False):
        if (
            value is None
            or (letter == "c" and 10 < bound <= 40)
            or (letter in ("u", "x", "z", "za", "zb", "zc") and bound <= 18)
        ):
            continue
        n = next(i for i, s in enumerate(STEPS) if bound <= s)
        want = formula(letter, coarse[n] if steps is STEPS else d, n)
        assert want is not None
        assert value == pytest.approx(
            want, rel=0.05, abs=1.1 if letter in ("d", "e", "f", "g", "k") else (6.6 if bound <= 3 else 3.2)
        ), (
            letter,
            bound,
        )
        checked += 1
    assert checked >= (3 if len(row) == 3 else len([v for v in row if v is not None]) - 5)


def test_values_grow_with_size_and_from_letter_to_letter() -> None:
    for letter, (steps, row) in DEVIATIONS.items():
        values = [
            v for s, v in zip(steps, row, strict=False) if v is not None and not (letter == "k" and s > 500)
        ]
        assert all(a <= b for a, b in zip(values, values[1:], strict=False)), letter
    order = [x for x in fits.LETTERS if x not in ("j", "js")]
    for size in (2, 5, 12, 16, 22, 28, 45, 70, 110, 170, 240, 300, 380, 480, 900, 3000):
        lower = []
        for letter in order:
            try:
                lower.append(fits.limits(size, f"{letter}7").lower)
            except SizeError:
                continue
        assert all(a <= b + 1e-12 for a, b in zip(lower, lower[1:], strict=False)), size


def test_all_limits_of_a_published_data_set() -> None:
    """The registry package isofits 1.0 (MIT) holds 20 steps from 3 to 400 mm of 74 classes."""
    files = importlib.metadata.files("isofits") or []
    tables = runpy.run_path(str(next(f for f in files if f.name == "data.py").locate()))
    compared = 0
    # six entries of the set contradict its own neighbors: their width is not that of their grade (57, 9 and
    # 25 micrometers)
    misprints = {("E7", "355"), ("E7", "400"), ("K6", "10"), ("f6", "140"), ("f6", "160"), ("f6", "180")}
    wrong = []
    for table in (tables["hole_data"], tables["shaft_data"]):
        for name in (k for k in table if k not in ("over", "inc.")):
            for bound, text in zip(table["inc."], table[name], strict=True):
                upper, lower = (float(v) for v in text.split("\n"))
                try:
                    got = fits.limits(float(bound), name)
                except SizeError:
                    got = fits.Limits(math.nan, math.nan)
                if (
                    abs(got.upper * 1000 - upper) > 0.51 or abs(got.lower * 1000 - lower) > 0.51
                ):  # it rounds js to whole micrometers
                    wrong.append((name, bound))
                    assert upper - lower != fits.tolerance(float(bound), fits.split(name)[1]), (name, bound)
                compared += 1
    assert set(wrong) == misprints
    assert compared == 1480


@pytest.mark.parametrize(
    ("size", "name", "upper", "lower"),
    [  # the design's check values
        (25, "H7", 21, 0),
        (25, "g6", -7, -20),
        (30, "f7", -20, -41),
        (50, "k6", 18, 2),
        (50, "p6", 42, 26),
        (20, "h6", 0, -13),
        (40, "H8", 39, 0),
        (14, "H7", 18, 0),
        (10, "H7", 15, 0),
        (60, "s6", 72, 53),
        # handbook values, from memory: delta rule, its exception, and sizes above 500 mm
        (25, "K7", 6, -15),
        (25, "N7", -7, -28),
        (25, "P7", -14, -35),
        (25, "N9", 0, -52),
        (300, "M6", -9, -41),
        (8, "JS9", 18, -18),
        (25, "J7", 12, -9),
        (25, "j6", 9, -4),
        (2, "N9", -4, -29),
        (1000, "H7", 90, 0),
        (800, "g6", -24, -74),
        (3150, "IT", 0, 0),
    ],
)
def test_handbook_values(size: float, name: str, upper: float, lower: float) -> None:
    if name == "IT":
        assert fits.tolerance(size, "18") == 33000
        return
    got = fits.limits(size, name)
    assert (got.upper * 1000, got.lower * 1000) == (pytest.approx(upper), pytest.approx(lower))


CLASSES = st.builds(
    lambda letter, grade, hole: (letter.upper() if hole else letter) + grade,
    st.sampled_from(fits.LETTERS),
    st.sampled_from(GRADES),
    st.booleans(),
)


@given(st.floats(0.2, 3150), CLASSES)
def test_a_class_is_as_wide_as_its_grade_or_is_refused_in_a_sentence(size: float, name: str) -> None:
    try:
        got = fits.limits(size, name)
    except SizeError:
        with pytest.raises(SizeError, match=r"\.$"):
            fits.limits(size, name)
        letter, grade = fits.split(name)
        common = letter.lower() in ("d", "e", "f", "h", "js", "k", "m", "n", "p", "r", "s")
        assert not (common and grade in ("6", "7", "8") and size <= 500), "every shop asks for this one"
        return
    assert (got.upper - got.lower) * 1000 == pytest.approx(
        fits.tolerance(size, fits.split(name)[1]), abs=1e-9
    )
    letter = fits.split(name)[0]
    if letter.lower() in fits._CLEAR:
        assert (got.lower >= 0) if letter.isupper() else (got.upper <= 0)


def test_fits_and_their_kinds() -> None:
    running = fits.fit(25, "H7", "g6")
    assert (running.least, running.most, running.kind) == (
        pytest.approx(0.007),
        pytest.approx(0.041),
        "clearance",
    )
    assert fits.fit(50, "H7", "k6").kind == "transition"
    pressed = fits.fit(50, "H7", "s6")
    assert (pressed.least, pressed.most, pressed.kind) == (
        pytest.approx(-0.059),
        pytest.approx(-0.018),
        "interference",
    )
    # the hole-basis and the shaft-basis fit of the same letters give the same clearances (what the delta rule
    # is for)
    for letter in ("k", "n", "p", "s"):
        hole, shaft = fits.fit(45, "H7", f"{letter}6"), fits.fit(45, f"{letter.upper()}7", "h6")
        assert (hole.least, hole.most) == (pytest.approx(shaft.least), pytest.approx(shaft.most))
    for names in fits.PREFERRED.values():
        for name in names:
            fits.fit(30, *name.split("/"))


@pytest.mark.parametrize("name", ["", "H", "7", "H19", "Q7", "Hh7", "H7g6", "i6", "H-7", "h7.5"])
def test_what_is_no_class_is_said(name: str) -> None:
    with pytest.raises(SizeError, match=r"\.$"):
        fits.limits(25, name)


def test_classes_that_a_size_does_not_have_are_said() -> None:
    for size, name in (
        (20, "t6"),
        (12, "v6"),
        (600, "x7"),
        (600, "a9"),
        (0.8, "a9"),
        (0.8, "H14"),
        (4000, "H7"),
        (0, "H7"),
        (25, "K9"),
        (200, "cd7"),
        (600, "H01"),
    ):
        with pytest.raises(SizeError, match=r"\.$"):
            fits.limits(size, name)
    with pytest.raises(SizeError, match="shaft's class"):
        fits.fit(25, "g6", "h6")
    with pytest.raises(SizeError, match="hole's class"):
        fits.fit(25, "H7", "H7")
    assert FINE_STEPS[-1] == STEPS[-1] == fits.LARGEST
