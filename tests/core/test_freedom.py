"""Degrees of freedom that datums take, against motions that are really made: places of random surfaces are
moved a little, and it is measured which motions leave them on their surface."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.features.freedom import Situation, held, held_by, unheld

Array = np.ndarray
X, Y, Z = np.eye(3)
HERE = np.zeros(3)
FORMS = ("plane", "axis", "point", "cone")


def places(form: str, at: Array, d: Array, rng: np.random.Generator) -> Array:
    """Places of a surface that has the situation: a plane, a cylinder and a ball of radius 7, a cone."""
    a = np.cross(d, X if abs(d[0]) < 0.7 else Y)
    a /= np.linalg.norm(a)
    b = np.cross(d, a)
    u, v = rng.uniform(-20, 20, (2, 60)), rng.uniform(0, 2 * np.pi, 60)
    round_ = np.outer(np.cos(v), a) + np.outer(np.sin(v), b)
    if form == "plane":
        return at + np.outer(u[0], a) + np.outer(u[1], b)
    if form == "axis":
        return at + np.outer(u[0], d) + 7 * round_
    if form == "point":
        n = rng.normal(size=(60, 3))
        return at + 7 * n / np.linalg.norm(n, axis=1)[:, None]
    h = rng.uniform(5, 20, 60)
    return at + h[:, None] * (d + np.tan(np.radians(20)) * round_)


def away(form: str, p: Array, at: Array, d: Array) -> Array:
    """How far places lie from the surface, first order."""
    r = p - at
    along = r @ d
    across = np.linalg.norm(r - np.outer(along, d), axis=1)
    if form == "plane":
        return along
    if form == "axis":
        return across - 7
    if form == "point":
        return np.linalg.norm(r, axis=1) - 7
    return across * np.cos(np.radians(20)) - along * np.sin(np.radians(20))


def measured(surfaces: list[tuple[str, Array, Array]], rng: np.random.Generator) -> int:
    """The rank of how far all places leave their surfaces under the six small motions."""
    step, rows = 1e-5, []
    for form, at, d in surfaces:
        p = places(form, at, d, rng)
        columns = []
        for n in range(6):
            m = np.zeros(6)
            m[n] = step
            moved, back = (p + s * (m[3:] + np.cross(m[:3], p)) for s in (1, -1))
            columns.append((away(form, moved, at, d) - away(form, back, at, d)) / (2 * step))
        rows.append(np.column_stack(columns))
    values = np.linalg.svd(np.vstack(rows), compute_uv=False)
    return int((values > 1e-5 * values[0]).sum())


def unit(values: tuple[float, float, float]) -> Array:
    v = np.array(values)
    n = np.linalg.norm(v)
    return v / n if n > 0.1 else Z


near = st.floats(-30, 30)
directions = st.sampled_from([X, Y, Z, unit((1, 1, 0)), unit((1, 2, 3))])
surface = st.tuples(st.sampled_from(FORMS), st.tuples(near, near, near), directions)


@given(st.lists(surface, min_size=1, max_size=3), st.integers(0, 99))
@settings(max_examples=120, deadline=None, derandomize=True)
def test_what_datums_hold_is_what_no_small_motion_leaves(found: list, seed: int) -> None:
    surfaces = [(form, np.round(np.array(at)), d) for form, at, d in found]
    groups = [[Situation(form, at, d)] for form, at, d in surfaces]  # type: ignore[arg-type]
    h = held(groups)
    assert sum(h.taken) == 6 - h.free == measured(surfaces, np.random.default_rng(seed))


@pytest.mark.parametrize(
    ("form", "count"), [("plane", 3), ("axis", 4), ("point", 3), ("cone", 5), ("any", 6)]
)
def test_each_surface_takes_what_the_trade_says(form: str, count: int) -> None:
    """Plane 3, axis 4, center 3, cone 5 (ISO 5459, annex; ASME Y14.5, figure 7-3; memory)."""
    s = Situation(form, np.array([3.0, -2, 5]), unit((1, 2, 3)))  # type: ignore[arg-type]
    assert np.linalg.matrix_rank(held_by(s), tol=1e-9) == count
    assert held([[s]]).free == 6 - count


def test_planes_square_to_each_other_take_three_two_one() -> None:
    h = held([[Situation("plane", HERE, d)] for d in (Z, X, Y)])
    assert (h.taken, h.free, h.turns, h.shifts) == ((3, 2, 1), 0, (False,) * 3, (False,) * 3)
    first = held([[Situation("plane", HERE, Z)]])
    assert (first.shifts, first.turns) == ((True, True, False), (False, False, True))


def test_a_common_axis_of_two_journals_is_one_axis_and_a_second_plane_in_line_holds_nothing() -> None:
    journals = [Situation("axis", HERE, X), Situation("axis", 80 * X, X)]
    assert held([journals]).taken == (4,)
    again = held([[Situation("plane", HERE, Z)], [Situation("plane", 9 * Z, Z)]])
    assert again.taken == (3, 0)


def test_a_hole_is_held_once_nothing_moves_its_axis() -> None:
    """A hole of a bolt circle: the face and the bore leave it free to turn about the bore until the base does
    not let it."""
    hole = Situation("axis", np.array([20.0, 0, 0]), Z)
    face, bore = [Situation("plane", HERE, Z)], [Situation("axis", HERE, Z)]
    base = [Situation("plane", -30 * Y, Y)]
    assert unheld(hole, [face]) == 2
    assert unheld(hole, [face, bore]) == 1
    assert unheld(hole, [face, bore, base]) == 0
    assert unheld(Situation("axis", HERE, X), [face], only_turns=True) == 1
    assert unheld(hole, [face], only_turns=True) == 0
