"""What screws ask of their holes: counterbores, spotfaces and countersinks.

Heads: ISO 4762, ISO 4014 and 4017, ISO 10642, ISO 7046 and ASME B18.3; countersinks for ISO 7046: ISO 15065;
all from memory. Diameters of counterbores and spotfaces: common practice.
"""

from dataclasses import dataclass


@dataclass(frozen=True)
class ScrewHole:
    """A screw and its hole: head diameter (or width across flats) and height, hole widened to a diameter, and
    its depth or its angle in degrees; mm or, of inch screws, inches."""

    screw: str
    head: float
    height: float | None
    diameter: float
    depth: float | None = None
    angle: float | None = None


SOCKET_HEADS = {
    3.0: (5.5, 6.5), 4.0: (7.0, 8.0), 5.0: (8.5, 10.0), 6.0: (10.0, 11.0), 8.0: (13.0, 15.0),
    10.0: (16.0, 18.0), 12.0: (18.0, 20.0), 16.0: (24.0, 26.0), 20.0: (30.0, 33.0), 24.0: (36.0, 40.0),
}  # fmt: skip
"""ISO 4762, whose heads are as high as the thread is thick: head and counterbore, mm."""
HEXAGONS = {
    5.0: (8.0, 3.5, 11.0), 6.0: (10.0, 4.0, 13.0), 8.0: (13.0, 5.3, 18.0), 10.0: (16.0, 6.4, 22.0),
    12.0: (18.0, 7.5, 26.0), 16.0: (24.0, 10.0, 33.0), 20.0: (30.0, 12.5, 40.0), 24.0: (36.0, 15.0, 48.0),
}  # fmt: skip
"""ISO 4014 and 4017: across flats, height of head, spotface, mm."""
FLAT_SOCKETS = {
    3.0: 6.72, 4.0: 8.96, 5.0: 11.2, 6.0: 13.44, 8.0: 17.92, 10.0: 22.4, 12.0: 26.88, 16.0: 33.6, 20.0: 40.32,
}  # fmt: skip
"""ISO 10642, 90°: theoretical diameter of the head, mm."""
CROSS_RECESSED = {
    1.6: 3.6, 2.0: 4.4, 2.5: 5.5, 3.0: 6.3, 3.5: 8.2, 4.0: 9.4, 5.0: 10.4, 6.0: 12.6, 8.0: 17.3, 10.0: 20.0,
}  # fmt: skip
"""ISO 15065 for heads of ISO 7046, 90°: diameter of the countersink, mm."""
INCH_SOCKETS = {
    "4": (0.112, 0.183, 7 / 32), "5": (0.125, 0.205, 1 / 4), "6": (0.138, 0.226, 9 / 32),
    "8": (0.164, 0.270, 5 / 16), "10": (0.190, 0.312, 3 / 8), "1/4": (0.25, 0.375, 7 / 16),
    "5/16": (0.3125, 0.469, 17 / 32), "3/8": (0.375, 0.562, 5 / 8), "7/16": (0.4375, 0.656, 23 / 32),
    "1/2": (0.5, 0.750, 13 / 16), "5/8": (0.625, 0.938, 1.0), "3/4": (0.75, 1.125, 1.1875),
    "7/8": (0.875, 1.312, 1.375), "1": (1.0, 1.5, 1.625),
}  # fmt: skip
"""ASME B18.3: thread, head and counterbore, inches; heads are as high as the thread is thick."""


def sunk(size: float) -> float:
    """How much deeper than its head a screw is sunk, mm (common practice)."""
    return 0.4 if size <= 6 else 0.6 if size <= 20 else 0.8


def socket_heads() -> list[ScrewHole]:
    """Counterbores for ISO 4762."""
    return [
        ScrewHole(f"M{d:g}", head, d, bore, round(d + sunk(d), 2)) for d, (head, bore) in SOCKET_HEADS.items()
    ]


def hexagons() -> list[ScrewHole]:
    """Spotfaces for ISO 4014 and 4017, as deep as the surface asks for."""
    return [ScrewHole(f"M{d:g}", across, high, spot) for d, (across, high, spot) in HEXAGONS.items()]


def countersinks() -> list[ScrewHole]:
    """Countersinks for ISO 10642 and ISO 7046."""
    socket = [
        ScrewHole(f"M{d:g}, ISO 10642", head, None, head, angle=90.0) for d, head in FLAT_SOCKETS.items()
    ]
    cross = [
        ScrewHole(f"M{d:g}, ISO 7046", wide, None, wide, angle=90.0) for d, wide in CROSS_RECESSED.items()
    ]
    return [*socket, *cross]


def inch_sockets() -> list[ScrewHole]:
    """Counterbores for ASME B18.3, inches."""
    return [ScrewHole(name, head, d, bore, d) for name, (d, head, bore) in INCH_SOCKETS.items()]
