"""Pipe threads: ISO 228-1 (G, parallel), ISO 7-1 (R, tapered 1:16) and ASME B1.20.1 (NPT, tapered 1:16); from
memory. And trapezoidal threads: ISO 2904."""

from dataclasses import dataclass

from drafting.standards.units import INCH

WHITWORTH = 1.280654
"""Major less minor diameter of the 55° form, in pitches."""
PARALLEL = {
    "1/16": (28, 7.723, 4.0),
    "1/8": (28, 9.728, 4.0),
    "1/4": (19, 13.157, 6.0),
    "3/8": (19, 16.662, 6.4),
    "1/2": (14, 20.955, 8.2),
    "3/4": (14, 26.441, 9.5),
    "1": (11, 33.249, 10.4),
    "1 1/4": (11, 41.910, 12.7),
    "1 1/2": (11, 47.803, 12.7),
    "2": (11, 59.614, 15.9),
    "2 1/2": (11, 75.184, 17.5),
    "3": (11, 87.884, 20.6),
    "4": (11, 113.030, 25.4),
}
"""Threads an inch, major diameter, and gauge length of the tapered thread, mm."""
NPT = {
    "1/16": (27.0, 0.3125, 0.160),
    "1/8": (27.0, 0.405, 0.1615),
    "1/4": (18.0, 0.540, 0.2278),
    "3/8": (18.0, 0.675, 0.240),
    "1/2": (14.0, 0.840, 0.320),
    "3/4": (14.0, 1.050, 0.339),
    "1": (11.5, 1.315, 0.400),
    "1 1/4": (11.5, 1.660, 0.420),
    "1 1/2": (11.5, 1.900, 0.420),
    "2": (11.5, 2.375, 0.436),
    "2 1/2": (8.0, 2.875, 0.682),
    "3": (8.0, 3.500, 0.766),
    "4": (8.0, 4.500, 0.844),
}
"""Threads an inch, outside diameter of the pipe, and hand-tight engagement, inches."""
TRAPEZOIDAL = (
    (8, 1.5), (10, 2), (12, 3), (16, 4), (20, 4), (24, 5), (28, 5), (32, 6), (36, 6), (40, 7), (44, 7),
    (48, 8), (52, 8), (60, 9), (70, 10), (80, 10), (90, 12), (100, 12),
)  # fmt: skip
"""Diameter and usual pitch of the first choice, mm."""


@dataclass(frozen=True)
class PipeThread:
    """A pipe thread: major, pitch and minor diameter (of tapered ones in the gauge plane), pitch and gauge
    length, mm; per_inch: threads an inch."""

    designation: str
    per_inch: float
    major: float
    pitch_diameter: float
    minor: float
    gauge: float | None

    @property
    def pitch(self) -> float:
        """mm."""
        return INCH / self.per_inch


def parallel() -> list[PipeThread]:
    """Threads where the thread does not seal: ISO 228-1."""
    return [_whitworth(f"G{n}", *row[:2], None) for n, row in PARALLEL.items()]


def tapered() -> list[PipeThread]:
    """Threads that seal, outside ones: ISO 7-1; in the gauge plane as the parallel ones."""
    return [_whitworth(f"R{n}", *row) for n, row in PARALLEL.items()]


def _whitworth(name: str, per_inch: int, major: float, gauge: float | None) -> PipeThread:
    deep = WHITWORTH * INCH / per_inch
    return PipeThread(name, per_inch, major, round(major - deep / 2, 3), round(major - deep, 3), gauge)


def npt(name: str) -> tuple[float, float, float]:
    """Pitch diameter at the end of the outside thread and in the gauge plane, and length of effective thread,
    inches: E0 = D - (0.05 D + 1.1) p, E1 = E0 + L1 / 16, L2 = (0.8 D + 6.8) p (ASME B1.20.1)."""
    per_inch, d, engaged = NPT[name]
    p = 1 / per_inch
    e0 = d - (0.05 * d + 1.1) * p
    return e0, e0 + engaged / 16, (0.8 * d + 6.8) * p


@dataclass(frozen=True)
class Trapezoidal:
    """A trapezoidal thread, mm: pitch diameter, minor diameters of screw and nut, major diameter of the
    nut."""

    designation: str
    major: float
    pitch: float
    pitch_diameter: float
    screw_minor: float
    nut_minor: float
    nut_major: float


def trapezoidal() -> list[Trapezoidal]:
    """The first choice of ISO 2903 with its basic dimensions (ISO 2904): d2 = d - P/2, D1 = d - P, d3 = D1 -
    2 ac, D4 = d + 2 ac."""
    out = []
    for d, p in TRAPEZOIDAL:
        air = 0.15 if p == 1.5 else 0.25 if p <= 5 else 0.5 if p <= 12 else 1.0
        out.append(Trapezoidal(f"Tr{d}×{p:g}", d, p, d - p / 2, d - p - 2 * air, float(d - p), d + 2 * air))
    return out
