"""Sheet sizes, frames and zones.

Sources: ISO 216 and ISO 5457 (sizes, frame 20 mm at the left and 10 mm elsewhere, zones of 50 mm from the center lines);
ASME Y14.1 (sizes in inches; margins from memory).
"""

from dataclasses import dataclass

from drafting.errors import CommandError

INCH = 25.4


@dataclass(frozen=True)
class SheetSize:
    """A trimmed sheet: the shorter and the longer side, and the frame's distance from the edges (left, other), mm."""

    name: str
    short: float
    long: float
    margin_left: float
    margin: float
    portrait_by_default: bool = False


ISO = {
    "A4": SheetSize("A4", 210, 297, 20, 10, True),
    "A3": SheetSize("A3", 297, 420, 20, 10),
    "A2": SheetSize("A2", 420, 594, 20, 10),
    "A1": SheetSize("A1", 594, 841, 20, 10),
    "A0": SheetSize("A0", 841, 1189, 20, 10),
}
ASME = {
    "A": SheetSize("A", 8.5 * INCH, 11 * INCH, 0.38 * INCH, 0.38 * INCH),
    "B": SheetSize("B", 11 * INCH, 17 * INCH, 0.5 * INCH, 0.5 * INCH),
    "C": SheetSize("C", 17 * INCH, 22 * INCH, 0.5 * INCH, 0.5 * INCH),
    "D": SheetSize("D", 22 * INCH, 34 * INCH, 0.5 * INCH, 0.5 * INCH),
    "E": SheetSize("E", 34 * INCH, 44 * INCH, 0.5 * INCH, 0.5 * INCH),
}
SIZES = {**ISO, **ASME}
ZONE_FIELD = 50.0
ZONE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


def size(name: str) -> SheetSize:
    """A sheet size by name; raises CommandError."""
    if name not in SIZES:
        raise CommandError(f"{name!r} is not a sheet size; choose one of {', '.join(SIZES)}.")
    return SIZES[name]


def zone_count(length: float) -> int:
    """Number of zone fields along a side of given length in mm: an even number, fields of about 50 mm (ISO 5457)."""
    return max(2, 2 * round(length / ZONE_FIELD / 2))
