"""Parallel keys and their keyways: ISO R 773 (mm, from memory) and ASME B17.1, square keys (inches, from
memory; depths by its formula)."""

import math
from dataclasses import dataclass

from drafting.standards.units import INCH

ISO_R_773 = (
    (6, 8, 2, 2, 1.2, 1.0),
    (8, 10, 3, 3, 1.8, 1.4),
    (10, 12, 4, 4, 2.5, 1.8),
    (12, 17, 5, 5, 3.0, 2.3),
    (17, 22, 6, 6, 3.5, 2.8),
    (22, 30, 8, 7, 4.0, 3.3),
    (30, 38, 10, 8, 5.0, 3.3),
    (38, 44, 12, 8, 5.0, 3.3),
    (44, 50, 14, 9, 5.5, 3.8),
    (50, 58, 16, 10, 6.0, 4.3),
    (58, 65, 18, 11, 7.0, 4.4),
    (65, 75, 20, 12, 7.5, 4.9),
    (75, 85, 22, 14, 9.0, 5.4),
    (85, 95, 25, 14, 9.0, 5.4),
    (95, 110, 28, 16, 10.0, 6.4),
    (110, 130, 32, 18, 11.0, 7.4),
    (130, 150, 36, 20, 12.0, 8.4),
    (150, 170, 40, 22, 13.0, 9.4),
    (170, 200, 45, 25, 15.0, 10.4),
    (200, 230, 50, 28, 17.0, 11.4),
    (230, 260, 56, 32, 20.0, 12.4),
    (260, 290, 63, 32, 20.0, 12.4),
    (290, 330, 70, 36, 22.0, 14.4),
    (330, 380, 80, 40, 25.0, 15.4),
    (380, 440, 90, 45, 28.0, 17.4),
    (440, 500, 100, 50, 31.0, 19.5),
)
"""Shafts over and up to a diameter: width and height of the key, depth in the shaft and in the hub, mm."""

ASME_B17_1 = (
    (5 / 16, 7 / 16, 3 / 32),
    (7 / 16, 9 / 16, 1 / 8),
    (9 / 16, 7 / 8, 3 / 16),
    (7 / 8, 1.25, 1 / 4),
    (1.25, 1.375, 5 / 16),
    (1.375, 1.75, 3 / 8),
    (1.75, 2.25, 1 / 2),
    (2.25, 2.75, 5 / 8),
    (2.75, 3.25, 3 / 4),
    (3.25, 3.75, 7 / 8),
    (3.75, 4.5, 1.0),
    (4.5, 5.5, 1.25),
    (5.5, 6.5, 1.5),
)
"""Shafts over and up to a diameter, and the side of their square key, inches."""
DEEPER = 0.3
"""How much deeper than stated a keyway may be, mm: 0.2 at most by its tolerance, and some for modeling."""


@dataclass(frozen=True)
class Key:
    """A parallel key for shafts over and up to a diameter: width and height, and depths of its keyways in the
    shaft and in the hub, mm."""

    over: float
    to: float
    width: float
    height: float
    shaft: float
    hub: float


def iso_keys() -> list[Key]:
    """All keys of ISO R 773."""
    return [Key(*row) for row in ISO_R_773]


def asme_key(over: float, to: float, side: float, diameter: float) -> Key:
    """A square key of ASME B17.1 in a shaft of a diameter; all in inches, the answer in mm.

    From the keyway's floor to the far side of the shaft it is S = (D - H + sqrt(D2 - W2)) / 2, and from that
    of the hub to the far side of the bore T = (D + H + sqrt(D2 - W2)) / 2 + 0.005.
    """
    chord = math.sqrt(diameter**2 - side**2)
    shaft = diameter - (diameter - side + chord) / 2
    hub = (diameter + side + chord) / 2 + 0.005 - diameter
    return Key(*(v * INCH for v in (over, to, side, side, shaft, hub)))


def key_for(diameter: float, standard: str) -> Key | None:
    """The key for a shaft's diameter, mm; None where the table has none."""
    if standard == "ASME":
        d = diameter / INCH
        return next((asme_key(*row, d) for row in ASME_B17_1 if row[0] < d <= row[1] + 1e-9), None)
    return next((k for k in iso_keys() if k.over < diameter <= k.to + 1e-9), None)


def keyway_fault(
    width: float, depth: float, diameter: float, is_hub: bool, standard: str
) -> tuple[str, float] | None:
    """What of a keyway is not as the standard's key for its shaft asks: "width" or "depth", and what it asks
    for, mm. None where it is as asked, and where the standard has no key for the shaft."""
    key = key_for(diameter, standard)
    if key is None:
        return None
    if abs(width - key.width) > 5e-3:
        return "width", key.width
    wanted = key.hub if is_hub else key.shaft
    if not wanted - 0.02 <= depth <= wanted + DEEPER:
        return "depth", wanted
    return None
