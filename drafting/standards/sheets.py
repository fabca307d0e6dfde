"""Sheet sizes, frames and zones.

Sources: ISO 216 and ISO 5457 (sizes, frame 20 mm at the left and 10 mm elsewhere, zones of 50 mm from the
center lines); ASME Y14.1 (sizes in inches; margins from memory).
"""

import re
from dataclasses import dataclass

from drafting.errors import CommandError

INCH = 25.4


@dataclass(frozen=True)
class SheetSize:
    """A trimmed sheet: the shorter and the longer side, and the frame's distance from the edges (left,
    other), mm."""

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
    "F": SheetSize("F", 28 * INCH, 40 * INCH, 0.5 * INCH, 0.5 * INCH),
}
SIZES = {**ISO, **ASME}
ZONE_FIELD = 50.0
ZONE_LETTERS = "ABCDEFGHJKLMNPQRSTUVWXYZ"


SMALLEST, LARGEST = 100.0, 5000.0
_CUSTOM = re.compile(r"(\d{1,5}(?:\.\d{1,2})?)\s*[x\u00d7]\s*(\d{1,5}(?:\.\d{1,2})?)")


def size(name: str) -> SheetSize:
    """A sheet size by name, or one of its own as "600 x 300" in mm, with the margins of ISO 5457; raises
    CommandError."""
    if name in SIZES:
        return SIZES[name]
    found = _CUSTOM.fullmatch(name.strip())
    if found is None:
        raise CommandError(
            f"{name[:40]!r} is not a sheet size; choose one of "
            f"{', '.join(SIZES)}, or write it in mm as 600 x 300."
        )
    a, b = sorted(float(v) for v in found.groups())
    if a < SMALLEST or b > LARGEST:
        raise CommandError(
            f"A sheet of {a:g} x {b:g} mm cannot be; its sides are {SMALLEST:g} to {LARGEST:g} mm."
        )
    return SheetSize(f"{b:g} x {a:g}", a, b, 20, 10)


def is_wide(custom: str) -> bool:
    """Whether a size written as width x height is wider than it is high."""
    width, height = (float(v) for v in re.split("[x\u00d7]", custom))
    return width >= height


def zone_count(length: float) -> int:
    """Number of zone fields along a side of given length in mm: an even number, fields of about 50 mm (ISO
    5457)."""
    return max(2, 2 * round(length / ZONE_FIELD / 2))
