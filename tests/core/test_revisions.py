"""Revision marks follow each other as the standards have them (ASME Y14.35, ISO 7200; memory)."""

import itertools

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drafting.errors import CommandError
from drafting.standards.revisions import after, marks


def test_asme_leaves_out_the_letters_that_are_read_as_others() -> None:
    first = list(itertools.islice(marks("ASME"), 22))
    assert "".join(first[:20]) == "ABCDEFGHJKLMNPRTUVWY"
    assert first[20:] == ["AA", "AB"]
    assert "".join(itertools.islice(marks("ISO"), 26)) == "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
    assert list(itertools.islice(marks("ISO", numbers=True), 3)) == ["1", "2", "3"]


@given(st.integers(0, 700), st.sampled_from(["ASME", "ISO"]))
def test_each_mark_is_followed_by_the_next(n: int, standard: str) -> None:
    one, two = itertools.islice(marks(standard), n, n + 2)
    assert after(one, standard) == two


def test_numbers_go_on_and_nothing_begins_with_a() -> None:
    assert [after(m, "ISO") for m in ("", "-", "1", "9", "b")] == ["A", "A", "2", "10", "C"]
    for mark in ("I", "AO", "A1", "?", "ABCD"):
        with pytest.raises(CommandError, match="no revision mark"):
            after(mark, "ASME")
