"""General tolerances: what applies to a size that states none. ISO 2768-1 tables 1 to 3, and the inch block
by decimal places.

ISO values of class m are the design's check values; f, c and v from memory.
"""

import math
import re

_STEPS = (3, 6, 30, 120, 400, 1000, 2000, 4000)
_LINEAR: dict[str, tuple[float | None, ...]] = {
    "f": (0.05, 0.05, 0.1, 0.15, 0.2, 0.3, 0.5, None),
    "m": (0.1, 0.1, 0.2, 0.3, 0.5, 0.8, 1.2, 2.0),
    "c": (0.2, 0.3, 0.5, 0.8, 1.2, 2.0, 3.0, 4.0),
    "v": (None, 0.5, 1.0, 1.5, 2.5, 4.0, 6.0, 8.0),
}
_BROKEN_STEPS = (3, 6, math.inf)
_BROKEN = {"f": (0.2, 0.5, 1.0), "m": (0.2, 0.5, 1.0), "c": (0.4, 1.0, 2.0), "v": (0.4, 1.0, 2.0)}
_ANGLE_STEPS = (10, 50, 120, 400, math.inf)
_ANGLES = {
    "f": (60, 30, 20, 10, 5),
    "m": (60, 30, 20, 10, 5),
    "c": (90, 60, 30, 15, 10),
    "v": (180, 120, 60, 30, 20),
}
_ISO = re.compile(r"ISO\s*2768(?:-1)?\s*[-–: ]\s*([fmcv])", re.IGNORECASE)
_PLACES = re.compile(r"\.([Xx]{1,4})\s*(?:±|\+/-|\+-)\s*(\d*\.?\d+)")
_DEGREES = re.compile(r"(?:ANGLES?|ANG|∠)\s*(?:±|\+/-|\+-)\s*(\d*\.?\d+)\s*°", re.IGNORECASE)
INCH = 25.4


def _find(value: float, steps: tuple[float, ...], row: tuple[float | None, ...]) -> float | None:
    return next((t for s, t in zip(steps, row, strict=True) if value <= s + 1e-9), None)


def linear(statement: str, value_mm: float, places: int, broken_edge: bool = False) -> float | None:
    """Half width, mm, of the general tolerance of a length. statement: the title block's words, such as "ISO
    2768-mK" or ".XX ±.01  .XXX ±.005"; places: decimals the size is written with, for the inch block. None
    where the statement says nothing of it."""
    if iso := _ISO.search(statement):
        name = iso.group(1).lower()
        if value_mm < 0.5:
            return None  # below 0.5 mm a size states its own
        return (
            _find(value_mm, _BROKEN_STEPS, _BROKEN[name])
            if broken_edge
            else _find(value_mm, _STEPS, _LINEAR[name])
        )
    found = {len(x): float(t) for x, t in _PLACES.findall(statement)}
    return found[places] * INCH if places in found else None


def angle(statement: str, shorter_leg_mm: float) -> float | None:
    """Half width in radians of the general tolerance of an angle whose shorter leg is that long. None where
    nothing is said of it."""
    if iso := _ISO.search(statement):
        minutes = _find(shorter_leg_mm, _ANGLE_STEPS, _ANGLES[iso.group(1).lower()])
        return None if minutes is None else math.radians(minutes / 60)
    degrees = _DEGREES.search(statement)
    return math.radians(float(degrees.group(1))) if degrees else None
