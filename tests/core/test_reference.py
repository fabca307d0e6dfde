"""The tables as one looks them up, against published figures (from memory), the standards' own formulas, and
by what holds for all of a table."""

import math
from itertools import pairwise

import pytest

from drafting.errors import ModelError
from drafting.standards import drills, pipe_threads, screw_holes, thread_limits
from drafting.standards.center_holes import TYPE_A, type_a
from drafting.standards.clearance import ASME_B18_2_8, ISO_273, clearance_for
from drafting.standards.reference import tables
from drafting.standards.threads import (
    METRIC_COARSE,
    METRIC_FINE,
    UNIFIED,
    UNIFIED_EXTRA_FINE,
    thread,
)
from drafting.standards.units import INCH

ALL = {t.name: t for t in tables()}
THREADS = [f"M{d:g}" for d in METRIC_COARSE] + [f"M{d}×{p:g}" for d, p in METRIC_FINE]
UNIFIED_THREADS = [
    f"{size}-{n} {series}"
    for size, (_, coarse, fine) in UNIFIED.items()
    for n, series in ((coarse, "UNC"), (fine, "UNF"))
] + [f"{size}-{n} UNEF" for size, n in UNIFIED_EXTRA_FINE.items()]


def row(table: str, name: str) -> tuple[object, ...]:
    return next(r for r in ALL[table].rows if r[0] == name)


@pytest.mark.parametrize("name", ALL)
def test_every_table_is_whole(name: str) -> None:
    table = ALL[name]
    assert len(table.rows) > 5
    assert all(len(r) == len(table.columns) for r in table.rows)
    assert len({r[0] for r in table.rows}) == len(table.rows)
    assert all(v is None or isinstance(v, str) or v > 0 for r in table.rows for v in r)


# ---- threads -----------------------------------------------------------------------------------------------
def test_figures_that_handbooks_print() -> None:
    """ISO 261, ISO 2306, ISO 273 and ISO 724; ASME B1.1 and B18.2.8."""
    assert row("Metric threads", "M8")[1:4] == (8, 1.25, 6.8)
    assert row("Metric threads", "M8")[4] == pytest.approx(6.647, abs=5e-4)
    assert row("Metric threads", "M8")[5:] == (8.4, 9.0, 10.0)
    quarter = row("Unified threads", "1/4-20 UNC")
    assert quarter[1:4] == (0.25, 20, 0.201)  # No. 7
    assert quarter[5:] == (0.266, 0.281, 0.297)


@pytest.mark.parametrize("name", [*THREADS, *UNIFIED_THREADS])
def test_what_holds_for_every_thread(name: str) -> None:
    t = thread(name)
    assert 0 < t.pitch < t.major
    assert t.minor - 5e-3 <= t.tap_drill < t.major
    assert t.tap_drill == pytest.approx(t.major - t.pitch, abs=0.16 + 0.02 * t.major)  # common practice


def test_finer_threads_of_a_size_have_finer_pitches() -> None:
    assert all(p < METRIC_COARSE[d] for d, p in METRIC_FINE)
    assert all(coarse < fine for _, coarse, fine in UNIFIED.values())
    assert all(n > UNIFIED[size][2] for size, n in UNIFIED_EXTRA_FINE.items())


@pytest.mark.parametrize("table", [ISO_273, ASME_B18_2_8])
def test_clearance_grows_with_the_size(table: dict[object, tuple[float, ...]]) -> None:
    for series in range(3):
        column = [r[series] for r in table.values()]
        assert column == sorted(column)
    assert all(list(r) == sorted(r) for r in table.values())


def test_what_a_hole_may_be_for() -> None:
    assert clearance_for(11) == [("M10", "medium", "ISO 273")]
    assert clearance_for(0.281 * INCH) == [("1/4", "normal", "ASME B18.2.8")]
    assert clearance_for(11.3) == []
    assert all(r[0] > UNIFIED[size][0] for size, r in ASME_B18_2_8.items())


# ---- limits of threads -------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("name", "nut", "minor", "bolt", "major"),
    [
        ("M3", (2.775, 2.675), (2.599, 2.459), (2.655, 2.580), (2.980, 2.874)),
        ("M6", (5.500, 5.350), (5.153, 4.917), (5.324, 5.212), (5.974, 5.794)),
        ("M10", (9.206, 9.026), (8.676, 8.376), (8.994, 8.862), (9.968, 9.732)),
        ("M20", (18.600, 18.376), (17.744, 17.294), (18.334, 18.164), (19.958, 19.623)),
        ("M12×1.5", (11.216, 11.026), (10.676, 10.376), (10.994, 10.854), (11.968, 11.732)),
    ],
)
def test_limits_as_iso_965_2_prints_them(
    name: str,
    nut: tuple[float, float],
    minor: tuple[float, float],
    bolt: tuple[float, float],
    major: tuple[float, float],
) -> None:
    """Limits of 6H and 6g, mm; memory."""
    found = thread_limits.limits(name, "6H")
    assert (found.pitch, found.minor) == (pytest.approx(nut, abs=1e-9), pytest.approx(minor, abs=1e-9))
    shaft = thread_limits.limits(name, "6g")
    assert (shaft.pitch, shaft.major) == (pytest.approx(bolt, abs=1e-9), pytest.approx(major, abs=1e-9))


@pytest.mark.parametrize("pitch", thread_limits.MAJOR)
def test_tolerances_of_major_and_minor_diameters_follow_the_formulas(pitch: float) -> None:
    """ISO 965-1: Td(6) = 180 P^(2/3) - 3.15 / sqrt P; TD1(6) = 433 P - 190 P^1.22 below 1 mm, else 230 P^0.7;
    rounded to the R40 series of steps of 6 %, here and there to the next; position of g and G: 15 + 11 P."""
    bolt = 180 * pitch ** (2 / 3) - 3.15 / math.sqrt(pitch)
    nut = 433 * pitch - 190 * pitch**1.22 if pitch < 1 else 230 * pitch**0.7
    assert thread_limits.MAJOR[pitch] == pytest.approx(bolt, rel=0.055)
    assert thread_limits.MINOR[pitch] == pytest.approx(nut, rel=0.055)
    assert thread_limits.DEVIATIONS[pitch] == pytest.approx(15 + 11 * pitch, abs=1.51)


def test_tolerances_of_pitch_diameters_follow_the_formulas() -> None:
    """ISO 965-1: Td2(6) = 90 P^0.4 d^0.1 with the geometric mean of the range, TD2(6) = 1.32 of it."""
    ranges = dict(pairwise(thread_limits.RANGES))
    for low, by_pitch in thread_limits.PITCH.items():
        d = math.sqrt(low * ranges[low])
        for pitch, (bolt, nut) in by_pitch.items():
            wanted = 90 * pitch**0.4 * d**0.1
            assert bolt == pytest.approx(wanted, rel=0.05)
            assert nut == pytest.approx(1.32 * wanted, rel=0.06)


def test_a_bolt_of_6g_goes_into_a_nut_of_6h() -> None:
    for name in THREADS:
        nut, bolt = thread_limits.limits(name, "6H"), thread_limits.limits(name, "6g")
        assert bolt.pitch[0] < nut.pitch[1]
        assert bolt.major[0] < nut.major[0]
        assert nut.pitch[0] > nut.pitch[1]
        assert nut.minor[1] < thread(name).tap_drill + 0.01 + 0.02 * thread(name).pitch


@pytest.mark.parametrize("words", [("M10", "7H"), ("M11×3", "6H"), ("1/4-20 UNC", "6H"), ("M100×6", "6g")])
def test_what_is_not_in_the_tables_is_refused(words: tuple[str, str]) -> None:
    with pytest.raises(ModelError, match="no limits"):
        thread_limits.limits(*words)


# ---- pipes, trapezoids -------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("name", "pitch_diameter", "minor"),
    [
        ("G1/8", 9.147, 8.566),
        ("G1/4", 12.301, 11.445),
        ("G1/2", 19.793, 18.631),
        ("G1", 31.770, 30.291),
        ("G2", 58.135, 56.656),
    ],
)
def test_pipe_threads_as_iso_228_prints_them(name: str, pitch_diameter: float, minor: float) -> None:
    found = next(t for t in pipe_threads.parallel() if t.designation == name)
    assert found.pitch_diameter == pytest.approx(pitch_diameter, abs=1.1e-3)
    assert found.minor == pytest.approx(minor, abs=1.1e-3)


@pytest.mark.parametrize(
    ("name", "e0", "e1", "l2"),
    [
        ("1/8", 0.36351, 0.37360, 0.2639),
        ("1/2", 0.75843, 0.77843, 0.5337),
        ("1", 1.21363, 1.23863, 0.6828),
        ("2", 2.26902, 2.29627, 0.7565),
    ],
)
def test_npt_as_asme_b1_20_1_prints_it(name: str, e0: float, e1: float, l2: float) -> None:
    found = pipe_threads.npt(name)
    assert found[:2] == (pytest.approx(e0, abs=2e-5), pytest.approx(e1, abs=2e-5))
    assert found[2] == pytest.approx(l2, abs=1e-4)


def test_trapezoidal_threads_as_iso_2904_prints_them() -> None:
    found = {t.designation: t for t in pipe_threads.trapezoidal()}
    t = found["Tr40×7"]
    assert (t.pitch_diameter, t.screw_minor, t.nut_minor, t.nut_major) == (36.5, 32.0, 33.0, 41.0)
    t = found["Tr16×4"]
    assert (t.pitch_diameter, t.screw_minor, t.nut_minor, t.nut_major) == (14.0, 11.5, 12.0, 16.5)


# ---- screws, drills, centers -------------------------------------------------------------------------------
def test_heads_go_into_their_holes() -> None:
    for hole in (*screw_holes.socket_heads(), *screw_holes.inch_sockets()):
        assert hole.diameter > hole.head
        assert hole.height is not None
        assert hole.depth is not None
        assert hole.depth >= hole.height
    assert all(h.diameter > h.head / math.cos(math.pi / 6) for h in screw_holes.hexagons())  # over corners
    m8 = next(h for h in screw_holes.socket_heads() if h.screw == "M8")
    assert (m8.head, m8.diameter, m8.depth) == (13, 15, 8.6)


def test_inch_drills() -> None:
    """No. 7 is .201, No. 29 .136, letter F .257; 1/4 is letter E (shop tables, memory)."""
    found = dict(drills.inch_drills())
    assert (found["No. 7"], found["No. 29"], found["letter F"]) == (0.201, 0.136, 0.257)
    assert found["1/4"] == found["letter E"]
    numbers = list(drills.NUMBERS.values())
    assert numbers == sorted(numbers, reverse=True)
    letters = list(drills.LETTERS.values())
    assert letters == sorted(letters)
    assert letters[0] > numbers[0]  # letters go on where numbers end
    assert drills.metric_drills() == sorted(set(drills.metric_drills()))


def test_center_holes_are_about_as_wide_as_their_standard_says() -> None:
    """The cone is some 2.1 times as wide as the pilot (ISO 866)."""
    assert all(2.08 < mouth / pilot < 2.15 for pilot, mouth in TYPE_A.items())
    assert type_a(2.5, 5.3, 60.0)
    assert not type_a(2.5, 5.3, 90.0)
    assert not type_a(2.5, 6.0, 60.0)


@pytest.mark.parametrize(
    ("words", "major", "minor"),
    [
        ("G1/2", 20.955, 18.631),
        ("Rp 3/4", 26.441, 24.117),
        ("Tr16x4", 16.0, 12.0),
        ("1/2 NPT", 21.336, 18.32),
        ("1 1/8-7 UNC", 28.575, 24.646),
    ],
)
def test_threads_of_other_forms_go_by_their_designation(words: str, major: float, minor: float) -> None:
    """ISO 228-1, ISO 7-1, ISO 2904, ASME B1.20.1, ASME B1.1 (memory)."""
    found = thread(words)
    assert (found.major, found.minor) == (pytest.approx(major, abs=5e-4), pytest.approx(minor, abs=2e-2))
    assert found.minor <= found.tap_drill + 5e-3 < found.major


@pytest.mark.parametrize("words", ["G0.5", "Tr4x3", "9/7 NPT", "R", "Trx", "G1/2x2"])
def test_other_words_are_no_threads(words: str) -> None:
    with pytest.raises(ModelError, match="not a thread designation"):
        thread(words)
