"""Tolerances of metric threads: limits of 6H and 6g, and of the other usual positions (ISO 965-1).

The figures are the standard's rounded ones, from memory; tests hold all of them against its formulas.
"""

from dataclasses import dataclass

from drafting.errors import ModelError
from drafting.standards.threads import thread

MAJOR = {
    0.35: 85, 0.4: 95, 0.45: 100, 0.5: 106, 0.6: 125, 0.7: 140, 0.75: 140, 0.8: 150, 1.0: 180, 1.25: 212,
    1.5: 236, 1.75: 265, 2.0: 280, 2.5: 335, 3.0: 375, 3.5: 425, 4.0: 475, 4.5: 500, 5.0: 530, 5.5: 560,
    6.0: 600,
}  # fmt: skip
"""Td, grade 6: of the bolt's major diameter by pitch, µm."""
MINOR = {
    0.35: 100, 0.4: 112, 0.45: 125, 0.5: 140, 0.6: 160, 0.7: 180, 0.75: 190, 0.8: 200, 1.0: 236, 1.25: 265,
    1.5: 300, 1.75: 335, 2.0: 375, 2.5: 450, 3.0: 500, 3.5: 560, 4.0: 600, 4.5: 670, 5.0: 710, 5.5: 750,
    6.0: 800,
}  # fmt: skip
"""TD1, grade 6: of the nut's minor diameter by pitch, µm."""
RANGES = (0.99, 1.4, 2.8, 5.6, 11.2, 22.4, 45.0, 90.0)
"""Bounds of the ranges of major diameters, mm."""
PITCH = {
    1.4: {0.35: (63, 85), 0.4: (67, 90), 0.45: (71, 95)},
    2.8: {0.5: (75, 100), 0.6: (85, 112), 0.7: (90, 118), 0.75: (90, 118), 0.8: (95, 125)},
    5.6: {0.75: (100, 132), 1.0: (112, 150), 1.25: (118, 160), 1.5: (132, 180)},
    11.2: {
        1.0: (118, 160),
        1.25: (132, 180),
        1.5: (140, 190),
        1.75: (150, 200),
        2.0: (160, 212),
        2.5: (170, 224),
    },
    22.4: {
        1.0: (125, 170),
        1.5: (150, 200),
        2.0: (170, 224),
        3.0: (200, 265),
        3.5: (212, 280),
        4.0: (224, 300),
        4.5: (236, 315),
    },
    45.0: {
        1.5: (160, 212),
        2.0: (180, 236),
        3.0: (212, 280),
        4.0: (236, 315),
        5.0: (250, 335),
        5.5: (265, 355),
        6.0: (280, 375),
    },
}
"""Td2 and TD2, grade 6: of the pitch diameters of bolt and nut, µm, by the lower bound of the range and the
pitch."""
DEVIATIONS = {
    0.35: 19, 0.4: 19, 0.45: 20, 0.5: 20, 0.6: 21, 0.7: 22, 0.75: 22, 0.8: 24, 1.0: 26, 1.25: 28, 1.5: 32,
    1.75: 34, 2.0: 38, 2.5: 42, 3.0: 48, 3.5: 53, 4.0: 60, 4.5: 63, 5.0: 71, 5.5: 75, 6.0: 80,
}  # fmt: skip
"""How far g and G lie from the basic profile, µm: 15 + 11 P, rounded."""


@dataclass(frozen=True)
class Limits:
    """Largest and smallest of a thread's diameters, mm; the bolt's minor diameter and the nut's major one are
    not limited on one side."""

    designation: str
    tolerance: str
    major: tuple[float, float | None]
    pitch: tuple[float, float]
    minor: tuple[float | None, float]


def limits(designation: str, tolerance: str) -> Limits:
    """Limits of a metric thread: 6H or 6G (nuts), 6g or 6h (bolts). Raises ModelError where the tables have
    none."""
    screw = thread(designation)
    p, d = screw.pitch, screw.major
    if not designation.startswith("M") or tolerance not in ("6H", "6G", "6g", "6h"):
        raise ModelError(f"There are no limits of {designation} {tolerance} in the tables.")
    low = max((r for r in RANGES if r < d), default=0.0)
    found = PITCH.get(low, {}).get(p) if d <= RANGES[-1] else None
    if found is None or p not in MAJOR:
        raise ModelError(f"There are no limits of {designation} {tolerance} in the tables.")
    off = (DEVIATIONS[p] if tolerance[1] in "gG" else 0) / 1000
    pitch, minor = d - 0.649519 * p, d - 1.082532 * p
    if tolerance[1].isupper():
        td2, td1 = found[1] / 1000, MINOR[p] / 1000
        least, narrow = _mm(pitch) + off, _mm(minor) + off
        wide = _pair(least + td2, least)
        return Limits(designation, tolerance, (_mm(d + off), None), wide, _pair(narrow + td1, narrow))
    td2, td = found[0] / 1000, MAJOR[p] / 1000
    most = _mm(pitch) - off
    return Limits(
        designation,
        tolerance,
        _pair(d - off, d - off - td),
        _pair(most, most - td2),
        (None, _mm(minor - off)),
    )


def _mm(value: float) -> float:
    """To a micron."""
    return round(value, 3)


def _pair(a: float, b: float) -> tuple[float, float]:
    return _mm(a), _mm(b)
