"""The tables as one looks them up, against published figures and by what holds for all of them."""

import pytest

from drafting.standards.clearance import ISO_273, clearance_for
from drafting.standards.reference import threads

ROWS = {r.designation: r for r in threads()}


def test_figures_that_handbooks_print() -> None:
    """ISO 261, ISO 2306 and ISO 273 (memory); ASME B1.1 sizes (memory)."""
    m8 = ROWS["M8"]
    assert (m8.major, m8.pitch, m8.drill, m8.clearance) == (8, 1.25, 6.8, (8.4, 9.0, 10.0))
    assert m8.minor == pytest.approx(6.647, abs=5e-4)  # ISO 724
    quarter = ROWS["1/4-20 UNC"]
    assert (quarter.major, quarter.per_inch) == (6.35, 20)
    assert quarter.drill == pytest.approx(5.11, abs=0.01)  # No. 7


@pytest.mark.parametrize("row", ROWS.values(), ids=list(ROWS))
def test_what_holds_for_every_thread(row: object) -> None:
    r = ROWS[row.designation]  # type: ignore[attr-defined]
    assert 0 < r.pitch < r.major
    assert r.minor < r.drill < r.major
    assert r.drill == pytest.approx(r.major - r.pitch, abs=0.16 + 0.02 * r.major)  # common practice
    assert list(r.clearance) == sorted(r.clearance)
    assert all(c > r.major for c in r.clearance)


def test_clearance_grows_with_the_size() -> None:
    for series in range(3):
        column = [row[series] for row in ISO_273.values()]
        assert column == sorted(column)
    assert clearance_for(11) == [("M10", "medium")]
    assert clearance_for(11.3) == []
