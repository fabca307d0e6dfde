"""Pieces of circles are whole again, whatever way each of them runs."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.model.model import EdgeFact, PartFacts

TURN = 2 * math.pi


def piece(name: str, first: float, last: float, start: float, back: bool, z: float = 0.0) -> EdgeFact:
    """A piece from angle to angle about z, told in a frame of its own that starts elsewhere or runs back."""
    way = -1.0 if back else 1.0
    ends = sorted((way * (first - start), way * (last - start)))

    def at(t: float) -> list[float]:
        return [40 * math.cos(t), 40 * math.sin(t), z]

    return EdgeFact(
        name=name,
        kind="circle",
        start=at(first),
        end=at(last),
        middle=at((first + last) / 2),
        length=40 * (last - first),
        center=[0, 0, z],
        axis=[0, 0, way],
        x_axis=[math.cos(start), math.sin(start), 0],
        radius=40,
        first=ends[0],
        last=ends[1],
    )


def part(edges: list[EdgeFact]) -> PartFacts:
    return PartFacts(name="p", volume=1, low=[0, 0, 0], high=[1, 1, 1], faces=[], edges=edges)


@given(
    st.lists(st.floats(0.05, 1), min_size=2, max_size=6),
    st.floats(0, TURN),
    st.floats(0.2, 1),
    st.data(),
)
@settings(max_examples=80, deadline=None)
def test_pieces_that_touch_are_one_arc(steps: list[float], at: float, share: float, data: Any) -> None:
    whole = TURN * share
    ends = at + np.cumsum([0.0, *steps]) / sum(steps) * whole
    pieces = [
        piece(str(n), a, b, data.draw(st.floats(-7, 7)), data.draw(st.booleans()))
        for n, (a, b) in enumerate(zip(ends, ends[1:], strict=False))
    ]
    known = part(data.draw(st.permutations(pieces)))
    for one in pieces:
        found = known.arc(one)
        assert found.last - found.first == pytest.approx(whole, abs=1e-5)
        if whole < TURN - 1e-3:
            assert found.first <= one.first + 1e-9
            assert found.last >= one.last - 1e-9


def test_pieces_with_a_gap_of_other_circles_or_on_another_level_stay() -> None:
    one = piece("a", 0, 1, 0, False)
    for other in (
        piece("b", 1.1, 2, 0, False),
        piece("b", 1, 2, 0, False, z=5),
        piece("b", 1, 2, 0, False).model_copy(update={"radius": 41}),
    ):
        known = part([one, other])
        assert known.arc(one) is one
        assert known.arc(other) is other
