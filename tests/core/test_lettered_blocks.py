"""Blocks of words, symbols among them, grids of cells and leaders: what many kinds of annotation share."""

import math
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation.inking.cell_grid import Cell, Row, Style, grid, row_height, wrapped
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.wording.text_block import TextBlock
from drafting.ink.elements import Fill, Line, Polyline, Text
from drafting.ink.lettering import _metrics, text_width
from drafting.ink.symbols import NAMED, box, lettered, oblong
from drafting.standards.profile import ASME_INCH, ISO_MM


def test_every_symbol_is_a_glyph_of_the_lettering_font() -> None:
    widths = _metrics()[0]
    assert [name for name, sign in NAMED.items() if ord(sign) not in widths] == []


def test_symbols_are_typed_by_name_and_other_braces_stay() -> None:
    assert (
        lettered("{diameter}6.6 {counterbore}{diameter}11 {depth}6.5 {nonsense} {}")
        == "Ø6.6 ⌴Ø11 ↧6.5 {nonsense} {}"
    )


@given(st.floats(-180, 180), st.sampled_from(["left", "middle", "right"]), st.integers(1, 5))
@settings(max_examples=40, deadline=None)
def test_a_block_is_turned_about_its_middle(angle: float, align: str, count: int) -> None:
    block = TextBlock("\n".join(f"line {n} of {count}" for n in range(count)), 3.5, align)  # type: ignore[arg-type]
    turn = math.radians(angle)
    level, turned = block.elements((40, 30)), block.elements((40, 30), turn)
    c, s = math.cos(turn), math.sin(turn)
    for a, b in zip(level, turned, strict=True):
        assert isinstance(a, Text)
        assert isinstance(b, Text)
        x, y = a.at[0] - 40, a.at[1] - 30
        assert b.at == pytest.approx((40 + x * c - y * s, 30 + x * s + y * c))
    bases = [e.at[1] for e in level if isinstance(e, Text)]
    assert bases[0] + 3.5 + bases[-1] == pytest.approx(60)  # as far above the middle as below
    assert all(a - b == pytest.approx(1.6 * 3.5) for a, b in pairwise(bases))


@given(
    st.lists(st.sampled_from(["hex", "socket", "head", "cap", "screw", "M10", "x", "40"]), max_size=12),
    st.floats(8, 60),
)
@settings(max_examples=60, deadline=None)
def test_wrapping_keeps_every_word_and_fits_the_column(words: list[str], width: float) -> None:
    lines = wrapped(" ".join(words), width, 3.5)
    assert " ".join(lines).split() == words
    for line in lines:
        assert " " not in line or text_width(line, 3.5) <= width - 3.5 + 1e-9


@pytest.mark.parametrize("up", [False, True])
def test_a_grid_holds_its_lettering_and_ends_where_its_rows_do(up: bool) -> None:
    rows = [
        Row((Cell(("Item",), 2.6, "middle"), Cell(("Designation",), 2.6, "middle")), ruled=True),
        Row((Cell(("1",), 3.5, "right"), Cell(("A rather long name", "on two lines"), 3.5)), struck=True),
        Row((Cell(("",), 3.5), Cell(("Wwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwwww",), 3.5))),
    ]
    ink, end = grid((100.0, 50.0), [14.0, 52.0], rows, Style(3.5), up)
    tall = sum(row_height(r, 3.5) for r in rows)
    assert end == pytest.approx(50 + tall if up else 50 - tall)
    low, high = sorted((50.0, end))
    for e in ink:
        if isinstance(e, Text):
            wide = text_width(e.text, e.height)
            left = e.at[0] - {"left": 0.0, "middle": wide / 2, "right": wide}[e.align]
            assert left >= 100
            assert left + wide <= 166 + 1e-6
            assert low <= e.at[1] <= e.at[1] + e.height <= high
    texts = [e for e in ink if isinstance(e, Text)]
    assert texts[-1].text.endswith("...")
    assert [e.line for e in ink if isinstance(e, Line)].count("frame") == 1
    (frame,) = [e for e in ink if isinstance(e, Polyline)]
    assert frame.closed


def test_a_leader_ends_as_the_standard_says() -> None:
    """ISO 128-22: an arrow on an outline, a dot within a face, nothing on a dimension line (memory)."""
    path = [np.array([0.0, 0.0]), np.array([5.0, 0.0]), np.array([9.0, 3.0])]
    for what, profile in (("edge", ISO_MM), ("face", ISO_MM), ("line", ASME_INCH)):
        bent, *end = leader(path, END_ON[what], profile)
        assert isinstance(bent, Polyline)
        assert bent.points == ((0, 0), (5, 0), (9, 3))
        assert len(end) == (0 if what == "line" else 1)
        if what == "edge":  # the arrow's tip stands at the place, and lies back along the last leg
            assert isinstance(end[0], Fill)
            points = np.array(end[0].points)
            assert tuple(points[0]) == pytest.approx((9, 3))
            along = (points[1:].mean(0) - points[0]) / np.linalg.norm(points[1:].mean(0) - points[0])
            assert tuple(along) == pytest.approx((-0.8, -0.6))
        if what == "face":
            assert np.array(end[0].points).mean(0) == pytest.approx((9, 3))  # type: ignore[union-attr]
    assert leader([path[0], path[0]], "arrow", ISO_MM) == []


def test_frames_go_about_what_they_are_given() -> None:
    assert box(0, -1, 10, 4) == (((0, -1), (10, -1), (10, 4), (0, 4)), True)
    points = np.array(oblong(0, -1, 10, 4)[0])
    assert points.min(0) == pytest.approx((-2.5, -1))
    assert points.max(0) == pytest.approx((12.5, 4))
