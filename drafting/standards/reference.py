"""The standards' tables as one looks them up: threads with their drills and clearance holes."""

from dataclasses import dataclass

from drafting.standards.clearance import ISO_273
from drafting.standards.threads import METRIC_COARSE, UNIFIED, thread


@dataclass(frozen=True)
class ThreadRow:
    """A thread: major diameter, pitch, basic minor diameter of the internal thread, drill before tapping and
    clearance holes (fine, medium, coarse), mm; per_inch: threads an inch, 0 of metric ones."""

    designation: str
    series: str
    major: float
    pitch: float
    per_inch: int
    minor: float
    drill: float
    clearance: tuple[float, ...]


def threads() -> list[ThreadRow]:
    """All threads that there are tables for, metric ones first."""
    out = [
        _row(f"M{size:g}", "ISO metric, coarse", 0, ISO_273.get(float(size), ())) for size in METRIC_COARSE
    ]
    for size, (_, coarse, fine) in UNIFIED.items():
        out.append(_row(f"{size}-{coarse} UNC", "unified, coarse", coarse, ()))
        out.append(_row(f"{size}-{fine} UNF", "unified, fine", fine, ()))
    return out


def _row(designation: str, series: str, per_inch: int, clearance: tuple[float, ...]) -> ThreadRow:
    found = thread(designation)
    drill = round(found.tap_drill, 2 if per_inch else 3)
    return ThreadRow(designation, series, found.major, found.pitch, per_inch, found.minor, drill, clearance)
