"""Between plus and minus coordinates and round zones of position, and how far a measured place is off."""

import math

GAINED = math.pi / 2 - 1
"""Of the area of a square zone, what the circle about it adds: 57 % (geometry)."""


def zone_about(x: float, y: float) -> float:
    """Diameter of the round zone with the same extremes as ±x and ±y, mm."""
    return 2 * math.hypot(x, y)


def square_within(zone: float) -> float:
    """± of both coordinates whose square has its corners on a round zone of a diameter, mm."""
    return zone / (2 * math.sqrt(2))


def error(dx: float, dy: float, dz: float = 0.0) -> float:
    """The diameter that a place off by dx, dy (and dz of a ball) would need, mm."""
    return 2 * math.sqrt(dx * dx + dy * dy + dz * dz)
