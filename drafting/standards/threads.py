"""Screw threads: nominal diameters and pitches.

Sources: ISO 261 / ISO 262 coarse series (from memory); ASME B1.1 UNC and UNF series (from memory); ISO 68-1
basic profile.
"""

import re
from dataclasses import dataclass
from typing import Literal

from drafting.errors import ModelError
from drafting.standards import pipe_threads
from drafting.standards.units import INCH

METRIC_COARSE = {
    1.6: 0.35,
    2: 0.4,
    2.5: 0.45,
    3: 0.5,
    3.5: 0.6,
    4: 0.7,
    5: 0.8,
    6: 1.0,
    8: 1.25,
    10: 1.5,
    12: 1.75,
    14: 2.0,
    16: 2.0,
    18: 2.5,
    20: 2.5,
    22: 2.5,
    24: 3.0,
    27: 3.0,
    30: 3.5,
    33: 3.5,
    36: 4.0,
    39: 4.0,
    42: 4.5,
    45: 4.5,
    48: 5.0,
    52: 5.0,
    56: 5.5,
    60: 5.5,
    64: 6.0,
}
"""Nominal diameter to coarse pitch, mm."""

METRIC_FINE = (
    (8, 1.0), (10, 1.25), (10, 1.0), (12, 1.5), (12, 1.25), (14, 1.5), (16, 1.5), (18, 2.0), (18, 1.5),
    (20, 2.0), (20, 1.5), (22, 2.0), (22, 1.5), (24, 2.0), (27, 2.0), (30, 2.0), (33, 2.0), (36, 3.0),
    (39, 3.0), (42, 3.0), (45, 3.0), (48, 3.0), (52, 4.0), (56, 4.0), (60, 4.0), (64, 4.0),
)  # fmt: skip
"""Nominal diameters and fine pitches of the selection of ISO 262 (from memory), mm."""

UNIFIED = {
    "2": (0.086, 56, 64),
    "3": (0.099, 48, 56),
    "4": (0.112, 40, 48),
    "5": (0.125, 40, 44),
    "6": (0.138, 32, 40),
    "8": (0.164, 32, 36),
    "10": (0.190, 24, 32),
    "12": (0.216, 24, 28),
    "1/4": (0.25, 20, 28),
    "5/16": (0.3125, 18, 24),
    "3/8": (0.375, 16, 24),
    "7/16": (0.4375, 14, 20),
    "1/2": (0.5, 13, 20),
    "9/16": (0.5625, 12, 18),
    "5/8": (0.625, 11, 18),
    "3/4": (0.75, 10, 16),
    "7/8": (0.875, 9, 14),
    "1": (1.0, 8, 12),
    "1 1/8": (1.125, 7, 12),
    "1 1/4": (1.25, 7, 12),
    "1 3/8": (1.375, 6, 12),
    "1 1/2": (1.5, 6, 12),
}
"""Size name to (major diameter in inches, UNC threads per inch, UNF threads per inch)."""

UNIFIED_EXTRA_FINE = {
    "12": 32, "1/4": 32, "5/16": 32, "3/8": 32, "7/16": 28, "1/2": 28, "9/16": 24, "5/8": 24, "3/4": 20,
    "7/8": 20, "1": 20, "1 1/8": 18, "1 1/4": 18, "1 3/8": 18, "1 1/2": 18,
}  # fmt: skip
"""Size name to UNEF threads per inch (ASME B1.1, from memory)."""

TAP_DRILLS = {
    1.6: 1.25,
    2: 1.6,
    2.5: 2.05,
    3: 2.5,
    3.5: 2.9,
    4: 3.3,
    5: 4.2,
    6: 5.0,
    8: 6.8,
    10: 8.5,
    12: 10.2,
    14: 12.0,
    16: 14.0,
    18: 15.5,
    20: 17.5,
    22: 19.5,
    24: 21.0,
    27: 24.0,
    30: 26.5,
    33: 29.5,
    36: 32.0,
    39: 35.0,
    42: 37.5,
    45: 40.5,
    48: 43.0,
    52: 47.0,
    56: 50.5,
    60: 54.5,
    64: 58.0,
}
"""Drill before tapping a coarse thread, mm (ISO 2306, from memory)."""

UNIFIED_TAP_DRILLS = {
    ("4", 40): 0.089,
    ("6", 32): 0.1065,
    ("8", 32): 0.136,
    ("10", 24): 0.1495,
    ("1/4", 20): 0.201,
    ("5/16", 18): 0.257,
    ("3/8", 16): 0.3125,
    ("7/16", 14): 0.368,
    ("1/2", 13): 0.4219,
    ("5/8", 11): 0.5313,
    ("3/4", 10): 0.6563,
}
"""Drill before tapping, inches (common shop tables for ASME B1.1 threads, from memory: No. 7 for 1/4-20, No.
25 for 10-24)."""

MINOR_FACTOR = 1.082532
"""Basic minor diameter of an internal thread is D - 1.082532 P (ISO 68-1: 5/4 of H = 0.866025 P)."""


Form = Literal["metric", "unified", "trapezoidal", "pipe"]


@dataclass(frozen=True)
class ScrewThread:
    """A thread by designation; diameters and pitch in mm. inner: minor diameter of the inside thread, where
    the form is not that of ISO 68-1."""

    designation: str
    major: float
    pitch: float
    drill: float | None = None
    form: Form = "metric"
    inner: float | None = None

    @property
    def minor(self) -> float:
        """Basic minor diameter of the internal thread, mm (ISO 68-1, or its form's own)."""
        return self.major - MINOR_FACTOR * self.pitch if self.inner is None else self.inner

    @property
    def tap_drill(self) -> float:
        """Drill before tapping, mm: from the tables for coarse threads, the minor diameter of other forms,
        else major less pitch (common practice)."""
        if self.drill is not None:
            return self.drill
        return round(self.major - self.pitch, 2) if self.inner is None else round(self.inner, 2)


_METRIC = re.compile(r"^M(\d+(?:\.\d+)?)(?:\s*[x×]\s*(\d+(?:\.\d+)?))?$")
_SIZE = r"\d+ \d+/\d+|\d+/\d+|\d+"
_UNIFIED = re.compile(rf"^({_SIZE})-(\d+)(?:\s*(UNC|UNF|UNEF))?$")
_PIPE = re.compile(rf"^(G|R|Rp|Rc)\s*({_SIZE})$")
_NPT = re.compile(rf"^({_SIZE})(?:-\d+(?:\.\d+)?)?\s*NPT$")
_TRAPEZOIDAL = re.compile(r"^Tr\s*(\d+)\s*[x×]\s*(\d+(?:\.\d+)?)$")


def thread(designation: str) -> ScrewThread:
    """A thread by designation: `M6`, `M10x1`, `1/4-20 UNC`, `10-24`, `G1/2`, `R1/2`, `1/2 NPT`, `Tr16x4`.
    Raises ModelError for an unknown one."""
    text = designation.strip()
    if match := _METRIC.match(text):
        major = float(match[1])
        pitch = float(match[2]) if match[2] else METRIC_COARSE.get(major)
        if pitch is None or not 0 < pitch < major:
            raise ModelError(f"{text} is not a metric coarse thread; name its pitch, as in M{match[1]}x1.")
        return ScrewThread(
            text, major, pitch, TAP_DRILLS[major] if METRIC_COARSE.get(major) == pitch else None
        )
    if (match := _UNIFIED.match(text)) and match[1] in UNIFIED:
        drill = UNIFIED_TAP_DRILLS.get((match[1], int(match[2])))
        return ScrewThread(
            text,
            UNIFIED[match[1]][0] * INCH,
            INCH / int(match[2]),
            drill * INCH if drill else None,
            "unified",
        )
    if found := _other_form(text):
        return found
    raise ModelError(
        f"{text!r} is not a thread designation: write it as M6, M10x1, 1/4-20 UNC, G1/2, 1/2 NPT or Tr16x4."
    )


def _other_form(text: str) -> ScrewThread | None:
    """A pipe thread or a trapezoidal one."""
    if (match := _PIPE.match(text)) and match[2] in pipe_threads.PARALLEL:
        per_inch, major, _ = pipe_threads.PARALLEL[match[2]]
        pitch = INCH / per_inch
        inner = major - pipe_threads.WHITWORTH * pitch
        return ScrewThread(f"{match[1]}{match[2]}", major, pitch, None, "pipe", inner)
    if (match := _NPT.match(text)) and match[1] in pipe_threads.NPT:
        turns, outside, _ = pipe_threads.NPT[match[1]]
        inner = pipe_threads.npt(match[1])[1] - 0.8 / turns  # in the gauge plane, of a thread 0.8 p deep
        name = f"{match[1]}-{turns:g} NPT"
        return ScrewThread(name, outside * INCH, INCH / turns, None, "pipe", inner * INCH)
    if match := _TRAPEZOIDAL.match(text):
        major, pitch = float(match[1]), float(match[2])
        if not 0 < pitch < major / 2:
            return None
        return ScrewThread(f"Tr{major:g}×{pitch:g}", major, pitch, None, "trapezoidal", major - pitch)
    return None
