"""Constraints of added lines: tangent circles against the formulas of geometry, and what is free or
contradicts."""

import itertools
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from drafting.annotation.measuring.constraints import Circle, Constraint, Segment, Shape, fits, solved

coordinate = st.floats(-100, 100)
place = st.tuples(coordinate, coordinate).map(lambda p: np.array(p))


def path(*points: tuple[float, float], closed: bool = False) -> Shape:
    return Shape("path", np.array([v for p in points for v in p], float), closed)


def circle(x: float, y: float, r: float) -> Shape:
    return Shape("circle", np.array([x, y, r], float))


# ---- circles that touch ------------------------------------------------------------------------------------
@settings(max_examples=60, deadline=None, derandomize=True)
@given(place, place, place)
def test_a_circle_touching_three_lines_is_the_incircle_of_their_triangle(a: Any, b: Any, c: Any) -> None:
    """Its radius is the area over half the perimeter, its center the corners weighed by the opposite sides
    (Euclid IV.4; formula from memory)."""
    sides = [float(np.linalg.norm(q - p)) for p, q in ((b, c), (c, a), (a, b))]
    area = abs(float(np.cross(b - a, c - a))) / 2
    assume(area > 50)
    half = sum(sides) / 2
    center = (a * sides[0] + b * sides[1] + c * sides[2]) / sum(sides)
    found = solved(
        circle(*((a + b + c) / 3), area / half),
        [Constraint("tangent", to=Segment(*pair)) for pair in ((a, b), (b, c), (c, a))],
    )
    assert not found.faults
    assert found.free == 0
    assert found.shape.values == pytest.approx([*center, area / half], abs=1e-6)


@settings(max_examples=40, deadline=None, derandomize=True)
@given(st.floats(3, 30), st.floats(3, 30), st.floats(3, 30))
def test_a_circle_between_three_that_touch_each_other_is_soddys(r1: float, r2: float, r3: float) -> None:
    """Descartes' theorem: the curvature of the circle between is k1 + k2 + k3 + 2 sqrt(k1 k2 + k2 k3 + k3 k1)
    (memory)."""
    a, b = np.zeros(2), np.array([r1 + r2, 0.0])
    x = ((r1 + r3) ** 2 - (r2 + r3) ** 2 + (r1 + r2) ** 2) / (2 * (r1 + r2))
    c = np.array([x, math.sqrt((r1 + r3) ** 2 - x * x)])
    k = [1 / r for r in (r1, r2, r3)]
    inner = sum(k) + 2 * math.sqrt(k[0] * k[1] + k[1] * k[2] + k[2] * k[0])
    things = [Circle(p, r) for p, r in ((a, r1), (b, r2), (c, r3))]
    r = 1 / inner
    x = ((r1 + r) ** 2 - (r2 + r) ** 2 + (r1 + r2) ** 2) / (2 * (r1 + r2))
    start = np.array([x, math.sqrt((r1 + r) ** 2 - x * x)]) + 0.2 * r
    found = solved(circle(*start, 1.1 * r), [Constraint("tangent", to=t) for t in things])
    assert not found.faults
    assert found.shape.values[2] == pytest.approx(r, rel=1e-6)


def test_all_eight_circles_of_apollonius_are_reached_from_beside_them() -> None:
    """Three circles that lie apart have eight that touch them all (problem of Apollonius)."""
    things = [Circle(np.array(p, float), r) for p, r in (((0, 0), 5), ((40, 0), 8), ((15, 35), 6))]
    found = []
    for signs in itertools.product((1, -1), repeat=3):
        # at the circle: |center - c| = radius + s r, which is linear in pairs
        m, v = [], []
        (x0, y0), r0, s0 = things[0].center, things[0].radius, signs[0]
        for t, s in zip(things[1:], signs[1:], strict=True):
            x, y = t.center
            m.append([2 * (x - x0), 2 * (y - y0), 2 * (s * t.radius - s0 * r0)])
            v.append(x * x - x0 * x0 + y * y - y0 * y0 - t.radius**2 + r0**2)
        base = np.linalg.lstsq(np.array(m), np.array(v), rcond=None)[0]
        null = np.linalg.svd(np.array(m))[2][2]

        grid = np.linspace(-400, 400, 160001)
        cx, cy, r = base[:, None] + null[:, None] * grid
        values = np.hypot(cx - x0, cy - y0) ** 2 - (r + s0 * r0) ** 2
        for k in np.flatnonzero(np.sign(values[:-1]) != np.sign(values[1:])):
            if r[k] > 0:
                start = circle(cx[k] * 1.01, cy[k] * 1.01, r[k] * 1.02)
                made = solved(start, [Constraint("tangent", to=t) for t in things])
                assert not made.faults
                assert made.shape.values == pytest.approx([cx[k], cy[k], r[k]], abs=0.05)
                found.append(tuple(made.shape.values.round(4)))
    assert len(set(found)) == 8


# ---- lines -------------------------------------------------------------------------------------------------
LINE = Segment(np.array([0.0, 0.0]), np.array([50.0, 20.0]))
RING = Circle(np.array([10.0, -5.0]), 12.0)
HELD: list[tuple[Constraint, int]] = [
    (Constraint("horizontal"), 3),
    (Constraint("vertical"), 3),
    (Constraint("parallel", to=LINE), 3),
    (Constraint("perpendicular", to=LINE), 3),
    (Constraint("tangent", to=RING), 3),
    (Constraint("equal", to=LINE), 3),
    (Constraint("length", value=33.0), 3),
    (Constraint("angle", value=math.radians(30)), 3),
    (Constraint("angle", to=LINE, value=math.radians(45)), 3),
    (Constraint("through", to=np.array([3.0, 4.0])), 3),
    (Constraint("on", 0, "end", to=RING), 3),
    (Constraint("on", 0, "start", to=LINE), 3),
    (Constraint("coincident", 0, "start", to=np.array([3.0, 4.0])), 2),
    (Constraint("distance", 0, "end", to=LINE, value=7.0), 3),
    (Constraint("distance", to=LINE, value=7.0), 2),
    (Constraint("on", to=LINE), 2),
]


def off(shape: Shape, c: Constraint) -> float:
    """How far a constraint of a line is from being met, computed another way."""
    s = shape.segment(0)
    d = (s.b - s.a) / np.linalg.norm(s.b - s.a)
    turn = math.degrees(math.atan2(d[1], d[0]))
    base = math.degrees(math.atan2(20, 50))
    p = {"": None, "start": s.a, "end": s.b}[c.point]

    def away(q: Any, a: Any, u: Any) -> float:
        return abs(float(u[0] * (q - a)[1] - u[1] * (q - a)[0]))

    e = (LINE.b - LINE.a) / np.linalg.norm(LINE.b - LINE.a)
    match c.relation:
        case "horizontal":
            return min(abs(turn), 180 - abs(turn))
        case "vertical":
            return abs(abs(turn) - 90)
        case "parallel":
            return min((turn - base) % 180, -(turn - base) % 180)
        case "perpendicular":
            return abs((turn - base) % 180 - 90)
        case "angle":
            wanted = math.degrees(c.value) + (base if c.to is not None else 0.0)
            return min((turn - wanted) % 180, -(turn - wanted) % 180)
        case "tangent":
            return abs(away(RING.center, s.a, d) - RING.radius)
        case "equal":
            return abs(math.dist(s.a, s.b) - math.dist(LINE.a, LINE.b))
        case "length":
            return abs(math.dist(s.a, s.b) - c.value)
        case "through":
            return away(c.to, s.a, d)
        case "coincident":
            return float(np.linalg.norm(p - c.to))
        case "distance":
            return abs((away(p, LINE.a, e) if p is not None else away(s.b, LINE.a, e)) - c.value)
        case _:
            if p is None:
                return away(s.a, LINE.a, e) + away(s.b, LINE.a, e)
            return abs(math.dist(p, RING.center) - RING.radius) if c.to is RING else away(p, LINE.a, e)


@pytest.mark.parametrize(("constraint", "free"), HELD)
@pytest.mark.parametrize("start", [((5, 5), (40, 28)), ((-20, 13), (7, -31)), ((0, 40), (2, 90))])
def test_each_constraint_of_a_line_holds_and_leaves_what_it_leaves(
    start: Any, constraint: Constraint, free: int
) -> None:
    found = solved(path(*start), [constraint])
    assert not found.faults
    assert found.free == free
    assert off(found.shape, constraint) < 1e-5


def test_what_is_held_already_stays_where_it_is() -> None:
    found = solved(path((0, 0), (40, 0)), [Constraint("horizontal"), Constraint("length", value=40.0)])
    assert found.shape.values == pytest.approx([0, 0, 40, 0], abs=1e-9)
    assert found.free == 2


def test_constraints_that_contradict_are_named() -> None:
    start = path((0, 0), (40, 3))
    held = [
        Constraint("coincident", 0, "start", to=np.array([0.0, 0.0])),
        Constraint("horizontal"),
        Constraint("vertical"),
        Constraint("length", value=40.0),
    ]
    assert solved(start, held).faults == (1, 2, 3)  # without a length it could shrink to a point
    ends = [
        Constraint("coincident", 0, n, to=np.array(p)) for n, p in (("start", [0.0, 0]), ("end", [30.0, 0]))
    ]
    assert solved(start, [*ends, Constraint("length", value=40.0)]).faults == (0, 1, 2)
    assert solved(start, [*ends, Constraint("length", value=30.0)]).faults == ()


def test_a_polyline_is_held_in_itself() -> None:
    """A rectangle of 30 by 20 drawn askew."""
    start = path((0, 0), (28, 1), (31, 22), (-1, 19), closed=True)
    held = [
        Constraint("coincident", 0, "start", to=np.array([0.0, 0.0])),
        Constraint("horizontal", 0),
        Constraint("perpendicular", 1, other=(0, "")),
        Constraint("parallel", 2, other=(0, "")),
        Constraint("parallel", 3, other=(1, "")),
        Constraint("length", 0, value=30.0),
        Constraint("length", 1, value=20.0),
    ]
    found = solved(start, held)
    assert (found.free, found.faults) == (0, ())
    assert found.shape.values == pytest.approx([0, 0, 30, 0, 30, 20, 0, 20], abs=1e-6)


@settings(max_examples=30, deadline=None, derandomize=True)
@given(place, st.floats(5, 40), st.floats(0, 2 * math.pi), st.floats(0.3, 3.0))
def test_ends_of_an_arc_go_where_they_are_tied(c: Any, r: float, first: float, turn: float) -> None:
    start = Shape("arc", np.array([*c, r, first, first + turn]))
    a, b = (start.point(0, n) + [1.0, -2.0] for n in ("start", "end"))
    found = solved(start, [Constraint("coincident", 0, n, to=p) for n, p in (("start", a), ("end", b))])
    assert not found.faults
    assert found.free == 1
    assert found.shape.point(0, "start") == pytest.approx(a, abs=1e-6)
    assert found.shape.point(0, "end") == pytest.approx(b, abs=1e-6)


def test_what_cannot_be_is_told() -> None:
    assert not fits(path((0, 0), (1, 0)), Constraint("radius", value=3))
    assert not fits(circle(0, 0, 3), Constraint("horizontal"))
    assert not fits(path((0, 0), (1, 0)), Constraint("length", 4, value=3))
    assert not fits(path((0, 0), (1, 0)), Constraint("concentric", to=RING))
    assert fits(circle(0, 0, 3), Constraint("concentric", to=RING))
