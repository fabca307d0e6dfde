"""The compiled loops beside slow and plain answers: rational arithmetic, polynomial roots, shapely."""

import math
from fractions import Fraction
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.views.fitting import OTHER, POINT, ROUND, STRAIGHT, fitted
from drafting.views.raster import nearest_triangles
from drafting.views.visibility.meeting import crossing_pairs, refined

REACH, NEAR = 1e-6, 0.01


def pieces(rng: np.random.Generator, n: int) -> Any:
    """Short and long ones, some on round coordinates, so that they share places and lie along each other."""
    start = np.round(rng.uniform(-50, 50, (n, 3)), int(rng.integers(0, 4)))
    step = rng.normal(0, 1, (n, 3)) * 10.0 ** rng.uniform(-2, 2, (n, 1))
    return start, start + np.round(step, int(rng.integers(0, 4)))


def crossing(p0: Any, p1: Any, q0: Any, q1: Any) -> tuple[Fraction, Fraction, Fraction] | None:
    """Where two straight pieces cross, as fractions of both, and how far the second is in front there:
    exactly. None for ones along each other."""
    ax, ay, az, bx, by, bz, cx, cy, cz, dx, dy, dz = (
        Fraction(float(v)) for v in (*p0, *(p1 - p0), *q0, *(q1 - q0))
    )
    area = bx * dy - by * dx
    if abs(area) <= Fraction(2, 10**7) * Fraction(math.hypot(bx, by)) * Fraction(math.hypot(dx, dy)):
        return None
    t = ((cx - ax) * dy - (cy - ay) * dx) / area
    s = ((cx - ax) * by - (cy - ay) * bx) / area
    return t, s, cz + s * dz - az - t * bz


@given(st.integers(0, 2**32 - 1), st.integers(1, 40), st.integers(1, 40))
@settings(max_examples=60, deadline=None)
def test_all_pieces_that_cross_are_found_and_no_others(seed: int, first: int, second: int) -> None:
    rng = np.random.default_rng(seed)
    (a0, a1), (b0, b1) = pieces(rng, first), pieces(rng, second)
    names_a, names_b = rng.integers(0, 5, first), rng.integers(4, 9, second)
    rows_a, rows_b, t, s = crossing_pairs(a0, a1, b0, b1, names_a, names_b, REACH, NEAR)
    found = {(i, j): (u, v) for i, j, u, v in zip(*(x.tolist() for x in (rows_a, rows_b, t, s)), strict=True)}
    assert len(found) == len(rows_a)
    for i in range(first):
        for j in range(second):
            exact = crossing(a0[i], a1[i], b0[j], b1[j])
            if exact is None or names_a[i] == names_b[j]:
                assert names_a[i] != names_b[j] or (i, j) not in found
                continue
            u, v, front = (float(x) for x in exact)
            beyond = [
                REACH / max(math.dist(p[:2], q[:2]), 1e-300) for p, q in ((a0[i], a1[i]), (b0[j], b1[j]))
            ]
            if 0 <= u <= 1 and 0 <= v <= 1 and front > -NEAR + 1e-9:
                assert found[i, j] == pytest.approx((u, v), abs=1e-6)
            elif (
                not -2 * beyond[0] <= u <= 1 + 2 * beyond[0]
                or not -2 * beyond[1] <= v <= 1 + 2 * beyond[1]
                or front < -NEAR - 1e-9
            ):
                assert (i, j) not in found


def test_a_crowd_of_crossings_keeps_them_all() -> None:
    """A lattice of 60 by 60 lines: 3,600 crossings, each once."""
    k = np.arange(60.0)
    a0, a1 = np.stack([k, 0 * k - 1, 0 * k], 1), np.stack([k, 0 * k + 60, 0 * k], 1)
    b0, b1 = np.stack([0 * k - 1, k, 0 * k + 5], 1), np.stack([0 * k + 60, k, 0 * k + 5], 1)
    rows_a, rows_b, t, s = crossing_pairs(a0, a1, b0, b1, np.arange(60), np.arange(60, 120), REACH, NEAR)
    assert len(set(zip(rows_a.tolist(), rows_b.tolist(), strict=True))) == len(rows_a) == 3600
    assert t == pytest.approx((rows_b + 1) / 61)
    assert s == pytest.approx((rows_a + 1) / 61)
    behind = crossing_pairs(b0, b1, a0, a1, np.arange(60), np.arange(60, 120), REACH, NEAR)
    assert len(behind[0]) == 0


@given(st.floats(1, 100), st.floats(0.05, 1), st.floats(-0.8, 0.8), st.floats(0, 2 * math.pi), st.booleans())
@settings(max_examples=80, deadline=None)
def test_a_line_across_an_ellipse_is_cut_where_the_quadratic_says(
    major: float, ratio: float, height: float, turn: float, swapped: bool
) -> None:
    """x2 / a2 + y2 / b2 = 1 at y = h b gives x = a sqrt(1 - h2); the whole figure turned by an angle."""
    minor = major * ratio
    c, s = math.cos(turn), math.sin(turn)

    def at(x: float, y: float) -> list[float]:
        return [x * c - y * s, x * s + y * c]

    ellipse = np.array([[[0, 0], at(major, 0), at(0, minor), [0, 0]]], float)
    x = major * math.sqrt(1 - height * height)
    line = np.array([[at(-2 * major, height * minor), [0, 0], [0, 0], at(4 * major, 0)]], float)
    on_line, on_ellipse = (x + 2 * major) / (4 * major), math.asin(height)
    if swapped:
        out = refined(line, ellipse, np.array([on_line + 0.01]), np.array([on_ellipse]), np.array([0.1]))
        assert out[0] == pytest.approx(on_line, abs=1e-9)
    else:
        out = refined(ellipse, line, np.array([on_ellipse + 0.05]), np.array([on_line]), np.array([0.2]))
        assert out[0] == pytest.approx(on_ellipse, abs=1e-8)


def test_curves_that_do_not_cross_give_no_parameter() -> None:
    circle = np.array([[[0, 0], [10, 0], [0, 10], [0, 0]]], float)
    line = np.array([[[-20, 11], [0, 0], [0, 0], [40, 0]]], float)
    assert np.isnan(refined(circle, line, np.array([1.57]), np.array([0.5]), np.array([1.0])))[0]
    near = np.array([[[-20, 0], [0, 0], [0, 0], [40, 0]]], float)
    far = refined(circle, near, np.array([0.3]), np.array([0.74]), np.array([0.05]))
    assert np.isnan(far)[0]  # it comes together, but farther away than the polyline allows


@given(
    st.floats(-1e3, 1e3),
    st.floats(0.1, 500),
    st.floats(0, 2 * math.pi),
    st.floats(0.05, 2 * math.pi),
    st.integers(8, 60),
    st.booleans(),
)
@settings(max_examples=80, deadline=None)
def test_points_of_an_arc_give_its_circle_and_its_angles(
    center: float, radius: float, start: float, sweep: float, count: int, backward: bool
) -> None:
    t = start + np.linspace(0, sweep, count)
    points = np.stack([center + radius * np.cos(t), 2 * center + radius * np.sin(t)], 1)
    kind, d = fitted(np.ascontiguousarray(points[::-1] if backward else points), 1e-7)
    assert kind == ROUND
    off = 1e-8 * (abs(center) + radius) / min(sweep, 1) ** 2
    assert d[:3] == pytest.approx([center, 2 * center, radius], abs=max(off, 1e-7))
    assert d[4] - d[3] == pytest.approx(sweep, abs=1e-4)
    assert math.remainder(d[3] - start, 2 * math.pi) == pytest.approx(0, abs=1e-4)


def test_points_that_are_no_arc_are_told_apart() -> None:
    t = np.linspace(0, 1, 33)
    line = np.stack([3 + 4 * t, 1 - 2 * t], 1)
    assert fitted(line, 1e-6)[0] == STRAIGHT
    assert fitted(line, 1e-6)[1][:4] == pytest.approx([3, 1, 7, -1])
    there_and_back = np.concatenate([line, line[20:0:-1]])
    assert fitted(there_and_back, 1e-6)[1][:4] == pytest.approx([3, 1, 7, -1])
    parabola = np.stack([10 * t, 10 * t * t], 1)
    assert fitted(parabola, 1e-6)[0] == OTHER
    ellipse = np.stack([10 * np.cos(6 * t), 9.99 * np.sin(6 * t)], 1)
    assert fitted(ellipse, 1e-6)[0] == OTHER
    assert fitted(ellipse * 1e-8, 1e-6)[0] == POINT


@given(st.integers(0, 2**32 - 1), st.integers(1, 12))
@settings(max_examples=40, deadline=None)
def test_the_nearest_triangle_is_on_top_in_every_cell(seed: int, count: int) -> None:
    """Against shapely: of the triangles over a cell's middle the one highest there."""
    rng = np.random.default_rng(seed)
    nodes = rng.uniform(-10, 10, (3 * count, 3))
    triangles = np.arange(3 * count).reshape(-1, 3)
    found = nearest_triangles(nodes, triangles, -10.0, -8.0, 0.7, 28, 23)
    polygons = [shapely.Polygon(nodes[t][:, :2]) for t in triangles]
    for row in range(23):
        for column in range(28):
            x, y = -10 + (column + 0.5) * 0.7, -8 + (row + 0.5) * 0.7
            over = []
            for k, polygon in enumerate(polygons):
                if polygon.contains(shapely.Point(x, y)):
                    corners = np.column_stack([nodes[triangles[k]][:, :2], np.ones(3)])
                    over.append((float(np.linalg.solve(corners.T, [x, y, 1]) @ nodes[triangles[k]][:, 2]), k))
            assert found[row, column] == (max(over)[1] if over else -1)


def test_neighbors_leave_no_gap_and_edge_on_triangles_cover_nothing() -> None:
    """A square of two triangles whose common side runs through the middles of cells."""
    nodes = np.array([[0, 0, 0], [8, 0, 0], [8, 8, 0], [0, 8, 0], [4, -1, 5], [4, 9, 5], [4, 9, 6]], float)
    found = nearest_triangles(nodes, np.array([[0, 1, 2], [0, 2, 3], [4, 5, 6]]), 0.0, 0.0, 1.0, 8, 8)
    assert set(np.unique(found)) == {0, 1}
