"""Insertion arrows: where they point, how they bend, what can be dragged of them."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation.kinds import insertion_arrow as kind
from drafting.annotation.kinds.insertion_arrow import HEAD, InsertionArrow
from drafting.annotation.kinds.kind import Request
from drafting.context import Context
from drafting.document import OnSheet
from drafting.errors import SizeError
from drafting.ink.elements import Fill, Polyline
from tests.core.test_added_lines import MODEL, free, seen

CONTEXT = seen(MODEL)


def arrow(ax: float, ay: float, bx: float, by: float, **more: Any) -> InsertionArrow:
    made = kind.propose(Request([free(ax, ay), free(bx, by)], (0, 0), "a"), CONTEXT)
    return made.model_copy(update=more)


def outline(a: InsertionArrow) -> np.ndarray:
    (element,) = kind.ink(a, CONTEXT)
    assert isinstance(element, Polyline | Fill)
    return np.array(element.points)


@given(st.floats(-80, 80), st.floats(-80, 80), st.floats(1, 6), st.floats(-200, 200))
@settings(max_examples=60, deadline=None)
def test_it_is_one_closed_shape_from_its_start_to_its_tip(x: float, y: float, w: float, turns: float) -> None:
    if math.hypot(x, y) < 12 * w:
        return
    points = outline(arrow(0, 0, x, y, width=w, turns=turns))
    assert shapely.Polygon(points).is_valid
    assert min(np.linalg.norm(points - (x, y), axis=1)) < 1e-6
    base = points[0], points[-1]
    assert np.mean(base, axis=0) == pytest.approx([0, 0], abs=1e-6)
    assert np.linalg.norm(base[0] - base[1]) == pytest.approx(w)


def test_a_straight_one_has_the_area_of_a_bar_and_a_triangle() -> None:
    wide, long = HEAD
    area = (60 - long * 3) * 3 + (wide * 3) * (long * 3) / 2
    assert shapely.Polygon(outline(arrow(0, 0, 60, 0))).area == pytest.approx(area)


def test_a_bent_one_leaves_its_start_and_reaches_its_tip_in_other_directions() -> None:
    """An arc seen from its ends turns by the angle between its tangents (Euclid III, 32)."""
    points = outline(arrow(0, 0, 60, 0, turns=90))
    side = points[-1] - points[0]
    head = points[len(points) // 2 - 1] - points[len(points) // 2 + 1]
    turn = math.degrees(math.atan2(side[1], side[0]) - math.atan2(-head[1], -head[0])) % 360
    assert min(turn, 360 - turn) == pytest.approx(90, abs=6)  # less half of what the head takes
    assert points[:, 1].min() < -5  # to the left on its way, so it starts out to the right


def test_filled_it_is_a_fill_and_too_short_it_is_refused() -> None:
    (element,) = kind.ink(arrow(0, 0, 40, 0, filled=True), CONTEXT)
    assert isinstance(element, Fill)
    with pytest.raises(SizeError, match="3 mm long at least"):
        kind.check(arrow(0, 0, 2, 0), CONTEXT)
    with pytest.raises(SizeError, match="where it points"):
        kind.propose(Request([free(0, 0)], (0, 0), "a"), CONTEXT)


def test_an_end_or_all_of_it_is_dragged() -> None:
    a = arrow(0, 0, 40, 0)

    def dragged(grabbed: tuple[float, float], to: tuple[float, float]) -> tuple[float, ...]:
        found = kind.drag(a, "place", Request([], to, "a", settings={"grabbed": grabbed}), CONTEXT)
        return found.start.x, found.start.y, found.end.x, found.end.y

    assert dragged((39.5, 0), (50, 20)) == (0, 0, 50, 20)
    assert dragged((20, 0), (25, 10)) == (5, 10, 45, 10)
    on_sheet = Context(CONTEXT.drawing, CONTEXT.sheet, CONTEXT.facts, is_bare=True)
    assert isinstance(kind.propose(Request([free(0, 0), free(9, 9)], (0, 0), "a"), on_sheet).anchor, OnSheet)
