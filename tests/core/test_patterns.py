"""Patterns of places that were laid out as such, anywhere in the plane and in any order."""

import math
import random

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from drafting.features.patterns import patterns
from drafting.features.recognized import features
from drafting.model.names import part_facts
from tests.core.conftest import demo
from tests.core.test_whole_faces import flange
from tests.core.zoo import box, cut, rod, split

NEAR = 1e-3
ORDER = st.randoms(use_true_random=False)
ANGLE, SHIFT = st.floats(0, 2 * math.pi), st.floats(-1e3, 1e3)


def laid(points: list[tuple[float, float]], angle: float, shift: float, order: random.Random) -> np.ndarray:
    """Points turned, moved and shuffled."""
    order.shuffle(points)
    c, s = math.cos(angle), math.sin(angle)
    return np.array([(x * c - y * s + shift, x * s + y * c - 2 * shift) for x, y in points])


@given(st.integers(3, 24), st.floats(5, 400), ANGLE, SHIFT, ORDER)
def test_a_bolt_circle_about_a_bore(
    n: int, radius: float, a: float, shift: float, order: random.Random
) -> None:
    ring = [
        (radius * math.cos(2 * math.pi * k / n), radius * math.sin(2 * math.pi * k / n)) for k in range(n)
    ]
    middle = laid([(0.0, 0.0)], a, shift, random.Random(0))
    (found,) = patterns(laid(ring, a, shift, order), list(middle), NEAR)
    assert (found.kind, len(found.members), found.is_whole) == ("circle", n, True)
    assert found.diameter == pytest.approx(2 * radius, rel=1e-9)
    assert found.step == pytest.approx(2 * math.pi / n, rel=1e-6)


@given(st.integers(4, 9), st.floats(0.05, 0.5), ANGLE, SHIFT, ORDER)
def test_part_of_a_bolt_circle(n: int, step: float, a: float, shift: float, order: random.Random) -> None:
    arc = [(80 * math.cos(step * k), 80 * math.sin(step * k)) for k in range(n)]
    middle = laid([(0.0, 0.0)], a, shift, random.Random(0))
    (found,) = patterns(laid(arc, a, shift, order), list(middle), NEAR)
    assert (found.kind, len(found.members), found.is_whole) == ("circle", n, False)
    assert found.step == pytest.approx(step, rel=1e-6)


@given(st.integers(2, 7), st.integers(2, 5), st.floats(8, 60), st.floats(61, 90), ANGLE, SHIFT, ORDER)
def test_a_grid(nx: int, ny: int, px: float, py: float, a: float, shift: float, order: random.Random) -> None:
    grid = [(i * px, j * py) for i in range(nx) for j in range(ny)]
    (found,) = patterns(laid(grid, a, shift, order), [], NEAR)
    assert found.kind == "grid"
    assert sorted(zip(found.counts, found.pitches, strict=True)) == [
        (n, pytest.approx(p)) for n, p in sorted([(nx, px), (ny, py)])
    ]


@given(st.integers(3, 12), st.floats(5, 60), ANGLE, SHIFT, ORDER)
def test_a_row(n: int, pitch: float, a: float, shift: float, order: random.Random) -> None:
    (found,) = patterns(laid([(k * pitch, 0.0) for k in range(n)], a, shift, order), [], NEAR)
    assert (found.kind, found.counts) == ("row", (n,))
    assert found.pitches == (pytest.approx(pitch),)


@given(
    st.lists(
        st.tuples(st.floats(5, 60), st.integers(-5, 5)), min_size=2, max_size=5, unique_by=lambda p: p[1]
    ),
    ANGLE,
    SHIFT,
    ORDER,
)
def test_pairs_that_mirror_each_other(
    halves: list[tuple[float, int]], a: float, shift: float, order: random.Random
) -> None:
    """Any order they stand in is told; pairs of one width are a grid or a circle besides."""
    points = [(side * x, 23.0 * y + 0.4 * y * y) for x, y in halves for side in (-1, 1)]
    places = laid(points, a, shift, order)
    (found, *more) = patterns(places, [], NEAR)
    assert not more
    assert len(found.members) == len(points)
    if found.kind == "mirrored" and len(halves) > 2:  # two pairs may mirror each other across as well
        assert found.counts == (len(halves),)
        assert sorted(found.pitches) == pytest.approx(sorted(2 * x for x, _ in halves), abs=1e-6)


def test_the_corners_of_a_trapezoid_are_two_pairs() -> None:
    corners = np.array([(-30, 0), (30, 0), (-18, 25), (18, 25.0)])
    (found,) = patterns(corners, [], NEAR)
    assert (found.kind, found.counts) == ("mirrored", (2,))
    assert sorted(found.pitches) == pytest.approx([36, 60])
    pairs = [sorted(found.members[k : k + 2]) for k in (0, 2)]
    assert sorted(pairs) == [[0, 1], [2, 3]]


def test_places_without_order_are_no_pattern() -> None:
    assert patterns(np.array([(0, 0), (31, 4), (7, 50), (44, 23.0)]), [], NEAR) == []
    uneven = np.array([(0, 0), (10, 0), (25, 0.0)])
    assert patterns(uneven, [], NEAR) == []


def test_the_six_holes_of_a_flange_stand_on_75() -> None:
    for shape in (flange(), split(flange(), 2), split(flange(), 4)):
        known = features(part_facts(shape, "Flange", measured=False))
        six = next(n for n, h in enumerate(known.holes) if h.diameter == pytest.approx(7))
        assert len(known.alike(six)) == 6
        found = known.pattern_of(six)
        assert found is not None
        assert (found.kind, found.is_whole) == ("circle", True)
        assert found.diameter == pytest.approx(75)


def test_two_circles_of_equal_holes_about_one_bore_are_two_patterns() -> None:
    def ring(radius: float, n: int) -> list[object]:
        turns = [2 * math.pi * k / n for k in range(n)]
        return [rod(3, 20, 100 + radius * math.cos(t), 100 + radius * math.sin(t), -5) for t in turns]

    plate = cut(box(200, 200, 10), rod(20, 20, 100, 100, -5), *ring(40, 6), *ring(70, 8))
    known = features(part_facts(plate, "Plate", measured=False))
    (group,) = [k for k, g in enumerate(known.groups) if len(g) == 14]
    told = sorted((len(p.members), round(p.diameter, 6)) for p in known.patterns[group])
    assert told == [(6, 80.0), (8, 140.0)]


def test_a_demo_parts_screws_stand_about_its_bore() -> None:
    (part,) = demo("HB-204").facts.parts.values()
    known = features(part)
    four = next(n for n, h in enumerate(known.holes) if h.thread == "M5")
    found = known.pattern_of(four)
    assert found is not None
    assert found.diameter == pytest.approx(62)  # as its recipe says
