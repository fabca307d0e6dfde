"""Segments by the thousand, against shapely one by one."""

import numpy as np
import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from drafting.annotation.inking import spans

PLACE = st.tuples(st.floats(-50, 50), st.floats(-50, 50))
SEGMENT = st.tuples(PLACE, PLACE).filter(lambda s: np.hypot(s[0][0] - s[1][0], s[0][1] - s[1][1]) > 1)
SEGMENTS = st.lists(SEGMENT, min_size=1, max_size=6)


def ends(segments: list[tuple[tuple[float, float], tuple[float, float]]]) -> tuple[np.ndarray, np.ndarray]:
    rows = np.array(segments, float)
    return rows[:, 0], rows[:, 1]


@given(one=SEGMENTS, two=SEGMENTS)
def test_segments_cross_where_shapely_says_so(one: list, two: list) -> None:
    (a, b), (c, d) = ends(one), ends(two)
    first, second, at = spans.crossing(a, b, c, d, 0.3)
    found = dict(zip(zip(first.tolist(), second.tolist(), strict=True), at.tolist(), strict=True))
    for i, p in enumerate(map(shapely.LineString, one)):
        for j, q in enumerate(map(shapely.LineString, two)):
            place = shapely.intersection(p, q)
            along = found.get((i, j))
            if along is not None:
                at_it = a[i] + (b[i] - a[i]) * along / p.length
                assert shapely.distance(shapely.Point(at_it), q) < 1e-6
                assert 0.3 < along < p.length - 0.3
            elif place.geom_type == "Point" and not place.is_empty:
                off = min(place.distance(shapely.Point(e)) for e in (*one[i], *two[j]))
                steep = np.cross(b[i] - a[i], d[j] - c[j]) / p.length / q.length
                assert off < 0.3 + 1e-6 or abs(steep) < 1e-8


@given(
    segments=SEGMENTS,
    corners=st.lists(PLACE, min_size=3, max_size=5),
    gap=st.one_of(st.just(0.0), st.floats(0.1, 5)),
)
def test_outlines_cover_of_segments_what_shapely_says(segments: list, corners: list, gap: float) -> None:
    hull = shapely.convex_hull(shapely.MultiPoint(corners))
    if hull.geom_type != "Polygon" or hull.area < 1:
        return
    outline = shapely.get_coordinates(hull)[:-1]
    a, b = ends(segments)
    of, _, start, stop = spans.covered(a, b, outline[None], gap)
    found = dict(zip(of.tolist(), zip(start.tolist(), stop.tolist(), strict=True), strict=True))
    for n, segment in enumerate(map(shapely.LineString, segments)):
        met = shapely.intersection(segment, shapely.buffer(hull, gap, quad_segs=128))
        if n not in found:
            assert met.length < 0.02 + gap / 20
            continue
        first, last = max(found[n][0], 0.0), min(found[n][1], segment.length)
        assert last - first == pytest.approx(met.length, abs=0.02 + gap / 20)
        for t in (first, last):
            assert shapely.distance(shapely.Point(segment.interpolate(t)), hull) <= gap + 1e-6


@given(
    lengths=st.lists(st.floats(1, 40), min_size=1, max_size=5),
    taken=st.lists(
        st.tuples(st.integers(0, 4), st.floats(-5, 45), st.floats(0, 15)), min_size=1, max_size=12
    ),
)
def test_what_is_left_and_what_is_taken_make_the_whole(lengths: list, taken: list) -> None:
    rows = [(n, s, s + w) for n, s, w in taken if n < len(lengths) and s + w > 0 and s < lengths[n]]
    if not rows:
        return
    of, start, stop = (np.array(column) for column in zip(*rows, strict=True))
    number, first, last = spans.free(np.array(lengths), of, start, stop, 0.0)
    for n in set(of.tolist()):
        whole = shapely.LineString([(0, 0), (lengths[n], 0)])
        gone = shapely.union_all([shapely.LineString([(s, 0), (e, 0)]) for k, s, e in rows if k == n])
        left = shapely.difference(whole, gone)
        mine = [(p, q) for k, p, q in zip(number, first, last, strict=True) if k == n]
        assert sum(q - p for p, q in mine) == pytest.approx(left.length, abs=1e-9)
        assert all(p <= q for p, q in mine)
        assert all(q <= p + 1e-9 for (_, q), (p, _) in zip(mine, mine[1:], strict=False))


def test_a_thousand_lines_on_one_spot_are_held_against_each_other_in_bounded_memory() -> None:
    """Work and memory grow with the pairs of a band, not with all pairs at once."""
    x = np.linspace(0, 1000, 2000)
    a, b = np.stack([x, np.zeros(2000)], 1), np.stack([x, np.full(2000, 5.0)], 1)
    c, d = np.array([[-1.0, 2.5]]), np.array([[1001.0, 2.5]])
    first, _, at = spans.crossing(a, b, c, d, 0.3)
    assert len(first) == 2000
    assert at == pytest.approx(np.full(2000, 2.5))
