"""What tolerances come to, against worked examples, closed sums and the standards' figures."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from drafting.errors import SizeError
from drafting.standards import general_geometry as general
from drafting.tolerancing import fasteners, position, stack
from drafting.tolerancing.boundaries import Modifier, Sized, allowed, bonus_table, boundaries

MM = st.floats(0.001, 50, allow_nan=False)


# ---- fasteners (ASME Y14.5, appendix B; worked examples from memory) --------------------------------------
def test_floating_and_fixed_fasteners_as_the_appendix_works_them() -> None:
    # B.3: fasteners of 3.5 in holes of 3.94 at least
    assert fasteners.floating(3.94, 3.5) == pytest.approx(0.44)
    # B.4: the same, held in one of the parts: half each
    both = fasteners.fixed(3.94, 3.5)
    assert (both.clearance, both.held) == pytest.approx((0.22, 0.22))
    assert fasteners.least_clearance(3.5, 0.22, 0.22) == pytest.approx(3.94)


@given(st.floats(1, 40), MM, st.floats(0.05, 0.95), MM, MM)
def test_all_of_the_clearance_is_given_out(f: float, room: float, share: float, p: float, d: float) -> None:
    h = f + room
    plain = fasteners.fixed(h, f, share)
    assert f + plain.clearance + plain.held == pytest.approx(h)
    leaning = fasteners.fixed(h, f, share, p, d)
    assert f + leaning.clearance + leaning.held * (1 + 2 * p / d) == pytest.approx(h)  # B.5
    assert leaning.held < plain.held


def test_fasteners_that_cannot_be() -> None:
    with pytest.raises(SizeError, match="does not pass"):
        fasteners.floating(5, 5)
    with pytest.raises(SizeError, match="share"):
        fasteners.fixed(6, 5, 1.0)
    with pytest.raises(SizeError, match="above 0"):
        fasteners.fixed(6, 5, 0.5, 3, 0)


# ---- boundaries --------------------------------------------------------------------------------------------
@pytest.mark.parametrize(
    ("feature", "tolerance", "modifier", "virtual", "other"),
    [
        # the rules' own arithmetic: a hole 20.0 to 20.5 and a pin 19.5 to 20.0, 0.2 each (common practice)
        (Sized(20.0, 20.5, True), 0.2, "M", 19.8, 21.2),
        (Sized(20.0, 20.5, True), 0.2, "L", 20.7, 19.3),
        (Sized(19.5, 20.0, False), 0.2, "M", 20.2, 18.8),
        (Sized(19.5, 20.0, False), 0.2, "L", 19.3, 20.7),
        # ISO 2692, annex A (memory): a pin 35 0/-0,1 and its hole 35,2 +0,1/0, straight within 0,1 Ⓜ, meet at
        # 35,1; so do a pin 35,1 0/-0,2 and a hole 35,1 +0,2/0 with 0 Ⓜ
        (Sized(34.9, 35.0, False), 0.1, "M", 35.1, 34.7),
        (Sized(35.2, 35.3, True), 0.1, "M", 35.1, 35.5),
        (Sized(34.9, 35.1, False), 0.0, "M", 35.1, 34.7),
        (Sized(35.1, 35.3, True), 0.0, "M", 35.1, 35.5),
        # zero at maximum material: the boundary is the size itself
        (Sized(35.0, 35.1, True), 0.0, "M", 35.0, 35.2),
    ],
)
def test_virtual_and_resultant_boundaries(
    feature: Sized, tolerance: float, modifier: Modifier, virtual: float, other: float
) -> None:
    b = boundaries(feature, tolerance, modifier)
    assert b.virtual == pytest.approx(virtual)
    assert (b.inner, b.outer) == pytest.approx((min(virtual, other), max(virtual, other)))


def test_regardless_of_size_nothing_is_virtual() -> None:
    b = boundaries(Sized(19.5, 20.0, False), 0.2, "")
    assert (b.virtual, b.inner, b.outer, b.bonus) == (None, pytest.approx(19.3), pytest.approx(20.2), 0.0)


@given(st.floats(1, 100), MM, MM, st.booleans(), st.sampled_from(["M", "L", ""]), st.integers(0, 2**31))
def test_boundaries_are_what_random_parts_reach(
    size: float, play: float, t: float, inside: bool, modifier: Modifier, seed: int
) -> None:
    """Of every size in its limits and every place in its zone: what lies within all of them, and encloses
    them."""
    feature = Sized(size, size + play, inside)
    b = boundaries(feature, t, modifier)
    r = np.random.default_rng(seed)
    sizes = np.concatenate([r.uniform(feature.least, feature.most, 200), [feature.least, feature.most]])
    for s in sizes:
        off = allowed(feature, t, modifier, float(s))  # so far apart are the outermost places of its middle
        low, high = s - off, s + off
        assert low >= b.inner - 1e-9
        assert high <= b.outer + 1e-9
        if b.virtual is not None:
            keeps = low if inside == (modifier == "M") else high
            assert keeps == pytest.approx(b.virtual)


def test_bonus_by_the_measured_size() -> None:
    feature = Sized(20.0, 20.5, True)
    rows = bonus_table(feature, 0.2, "M", 6)
    assert rows == [(pytest.approx(20 + 0.1 * n), pytest.approx(0.2 + 0.1 * n)) for n in range(6)]
    assert bonus_table(feature, 0.2, "L", 2)[0] == (20.5, pytest.approx(0.2))
    with pytest.raises(SizeError, match="out of limits"):
        allowed(feature, 0.2, "M", 20.6)


# ---- position ----------------------------------------------------------------------------------------------
@given(MM, MM)
def test_a_round_zone_has_the_corners_of_the_square(x: float, y: float) -> None:
    assert position.zone_about(x, y) == pytest.approx(2 * math.hypot(x, y))
    assert position.square_within(position.zone_about(x, x)) == pytest.approx(x)
    assert position.error(x, y) == pytest.approx(position.zone_about(x, y))


def test_what_a_round_zone_gains() -> None:
    square, zone = (2 * 0.1) ** 2, math.pi * (position.zone_about(0.1, 0.1) / 2) ** 2
    assert zone / square - 1 == pytest.approx(position.GAINED)
    assert round(position.GAINED * 100) == 57  # as textbooks print it (common practice)


# ---- stack-ups ---------------------------------------------------------------------------------------------
CHAINS = st.lists(
    st.builds(
        lambda n, a, b, s: stack.Link(n, max(a, b), min(a, b), s),
        st.floats(0, 100),
        st.floats(-1, 1),
        st.floats(-1, 1),
        st.sampled_from([1.0, -1.0, 0.5, -0.5]),
    ),
    min_size=1,
    max_size=8,
)


@given(CHAINS)
def test_the_worst_case_is_the_least_and_most_of_all_limits(links: list[stack.Link]) -> None:
    corners = [0.0]
    for k in links:
        ends = [k.sensitivity * (k.nominal + k.upper), k.sensitivity * (k.nominal + k.lower)]
        corners = [c + e for c in corners for e in ends]
    found = stack.worst_case(links)
    assert (found.least, found.most) == pytest.approx((min(corners), max(corners)), abs=1e-9)
    squares = stack.root_sum_square(links)
    assert found.least - 1e-9 <= squares.least <= squares.most <= found.most + 1e-9
    assert sum(stack.shares(links)) == pytest.approx(1.0 if any(k.pays for k in links) else 0.0)


@given(CHAINS, st.integers(0, 100))
def test_lots_agree_with_the_sums(links: list[stack.Link], seed: int) -> None:
    lots = stack.by_lots(links, seed=seed, lots=20_000)
    spread = math.sqrt(sum(k.pays**2 for k in links))
    # a normal cut off at 3 deviations has 0.9866 of its deviation (closed form)
    assert lots.middle == pytest.approx(stack.middle(links), abs=0.02 * spread + 1e-9)
    assert lots.deviation == pytest.approx(0.9866 * spread / 3, rel=0.03, abs=1e-9)
    worst = stack.worst_case(links)
    assert worst.least - 1e-9 <= lots.range.least <= lots.range.most <= worst.most + 1e-9
    assert stack.by_lots(links, seed=seed, lots=20_000) == lots
    even = stack.by_lots(links, seed=seed, lots=20_000, even=True)
    assert even.deviation == pytest.approx(spread / math.sqrt(3), rel=0.03, abs=1e-9)


def test_a_gap_is_held_or_not() -> None:
    links = [stack.Link(50, 0.1, -0.1, 1), stack.Link(30, 0.0, -0.2, -1), stack.Link(19, 0.1, -0.1, -1)]
    assert stack.nominal(links) == pytest.approx(1)
    assert stack.worst_case(links) == stack.Range(pytest.approx(0.8), pytest.approx(1.4))  # type: ignore[arg-type]
    assert stack.worst_case(links).holds(0.8, 1.4)
    assert not stack.worst_case(links).holds(0.9, None)
    assert stack.by_lots(links, least=0.8, most=1.4).share == 1.0
    assert stack.by_lots(links, least=1.1).share == pytest.approx(0.5, abs=0.01)


# ---- general geometric tolerances --------------------------------------------------------------------------
def test_general_tolerances_of_form_and_place() -> None:
    """Figures of ISO 2768-2:1989, tables 1 to 4 (memory)."""
    assert general.stated("GENERAL TOLERANCES ISO 2768-mK") == "K"
    assert general.stated("ISO 2768 - f H") == "H"
    assert general.stated("ISO 2768-m") is None
    assert general.stated("ISO 2768-2 L") == "L"
    assert [general.flatness("K", v) for v in (10, 25, 100, 101, 3000, 3001)] == [
        0.05,
        0.1,
        0.2,
        0.4,
        0.8,
        None,
    ]
    assert [general.flatness("H", v) for v in (5, 1000)] == [0.02, 0.3]
    assert [general.perpendicularity("K", v) for v in (100, 250, 900, 2000)] == [0.4, 0.6, 0.8, 1.0]
    assert [general.symmetry("L", v) for v in (60, 250)] == [0.6, 1.0]
    assert [general.runout(c) for c in ("H", "K", "L")] == [0.1, 0.2, 0.5]  # type: ignore[arg-type]
    assert general.profile("General tolerances ISO 22081 ⌓ 0,5 | A | B | C") == 0.5
    assert general.profile("ISO 2768-mK") is None
