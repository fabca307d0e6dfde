"""Findings as they are printed: marks in red where they were drawn, and what was said of each."""

import io

import pypdf
import pytest

from drafting.export.checked import ROUND, Finding, checked_pdf, marked
from drafting.ink.elements import Arc, Line, SheetInk, Text
from drafting.standards.profile import ISO_MM

CLOUD = Finding(1, 0, "cloud", ((40.0, 60.0), (10.0, 20.0)), "open", ("C. Reed: too thin",))
ARROW = Finding(
    2, 1, "arrow", ((10.0, 10.0), (40.0, 10.0)), "answered", ("C. Reed: which?", "D. Ash: this one")
)
CLOSED = Finding(3, 0, "words", ((5.0, 5.0),), "closed", ("C. Reed: gone",))


def test_marks_stand_where_they_were_drawn() -> None:
    bows = [e for e in marked(CLOUD) if isinstance(e, Arc) and e.radius != ROUND]
    xs, ys = [e.center[0] for e in bows], [e.center[1] for e in bows]
    assert (min(xs), max(xs), min(ys), max(ys)) == pytest.approx((10, 40, 20, 60))
    shaft, *head = [e for e in marked(ARROW) if isinstance(e, Line)]
    assert (shaft.a, shaft.b) == (pytest.approx((10 + ROUND, 10)), (40, 10))
    assert all(e.a == (40, 10) and e.b[0] < 40 for e in head)
    assert [e.text for f in (CLOUD, ARROW) for e in marked(f) if isinstance(e, Text)] == ["1", "2"]


def test_what_is_closed_is_listed_and_not_drawn() -> None:
    sheets = [SheetInk(100, 80), SheetInk(100, 80)]
    pdf = pypdf.PdfReader(io.BytesIO(checked_pdf(sheets, [CLOUD, ARROW, CLOSED], "Bar", ISO_MM)))
    one, two, told = (p.extract_text() for p in pdf.pages)
    assert (one.split(), two.split()) == (["1"], ["2"])
    rows = told.splitlines()
    assert rows[0] == "Bar: findings"
    assert "Finding 2, sheet 2, answered" in rows
    assert "D. Ash: this one" in rows
    assert "Finding 3, sheet 1, closed" in rows
    drawn = pdf.pages[0].get_contents()
    assert drawn is not None
    assert b".7 .22 .18 RG" in drawn.get_data()


def test_a_drawing_without_findings_says_so() -> None:
    pdf = pypdf.PdfReader(io.BytesIO(checked_pdf([SheetInk(100, 80)], [], "Bar", ISO_MM)))
    assert "No findings." in pdf.pages[1].extract_text()
