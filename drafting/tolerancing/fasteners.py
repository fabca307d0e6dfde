"""Positional tolerances that let fasteners through (ASME Y14.5-2018, appendix B; ISO 5458's practice is the
same; formulas from memory).

H: least diameter of a clearance hole; F: greatest diameter of the fastener; T: diameter of the zone. All mm.
"""

from dataclasses import dataclass

from drafting.errors import SizeError


@dataclass(frozen=True)
class Divided:
    """What the zones of a pair of holes are: of the clearance hole, and of the hole that holds the fastener
    (of the second clearance hole where it floats); mm."""

    clearance: float
    held: float


def floating(least_hole: float, fastener: float) -> float:
    """T of each part whose holes a fastener passes with clearance: H - F (B.3). Raises SizeError where it
    does not pass."""
    if least_hole <= fastener:
        raise SizeError("The fastener does not pass the hole at its least.")
    return least_hole - fastener


def fixed(
    least_hole: float, fastener: float, share: float = 0.5, projection: float = 0.0, depth: float = 0.0
) -> Divided:
    """T1 of the clearance hole and T2 of the hole that holds the fastener: H = F + T1 + T2 (B.4); where T2
    says no projected zone, H = F + T1 + T2 (1 + 2 P / D) (B.5).

    share: of all that there is, the part that the clearance hole takes, between 0 and 1; projection: P, how
    far the fastener stands out, 0 with a projected zone; depth: D, in which it is held, mm. Raises
    SizeError."""
    if not 0 < share < 1:
        raise SizeError("Each of the two holes gets a share of the tolerance.")
    if projection < 0 or (projection > 0 and depth <= 0):
        raise SizeError("How deep the fastener is held is above 0.")
    room = floating(least_hole, fastener)
    lever = 1 + 2 * projection / depth if projection > 0 else 1.0
    return Divided(room * share, room * (1 - share) / lever)


def least_clearance(fastener: float, clearance: float, held: float = 0.0) -> float:
    """H that zones ask for: F + T where it floats, F + T1 + T2 where it is held, mm."""
    return fastener + clearance + held
