"""Clearance holes for bolts and screws: ISO 273 (mm) and ASME B18.2.8 (inches), from memory."""

from drafting.standards.units import INCH

ISO_273 = {
    1.6: (1.7, 1.8, 2.0),
    2.0: (2.2, 2.4, 2.6),
    2.5: (2.7, 2.9, 3.1),
    3.0: (3.2, 3.4, 3.6),
    3.5: (3.7, 3.9, 4.2),
    4.0: (4.3, 4.5, 4.8),
    5.0: (5.3, 5.5, 5.8),
    6.0: (6.4, 6.6, 7.0),
    8.0: (8.4, 9.0, 10.0),
    10.0: (10.5, 11.0, 12.0),
    12.0: (13.0, 13.5, 14.5),
    14.0: (15.0, 15.5, 16.5),
    16.0: (17.0, 17.5, 18.5),
    18.0: (19.0, 20.0, 21.0),
    20.0: (21.0, 22.0, 24.0),
    22.0: (23.0, 24.0, 26.0),
    24.0: (25.0, 26.0, 28.0),
    27.0: (28.0, 30.0, 32.0),
    30.0: (31.0, 33.0, 35.0),
    33.0: (34.0, 36.0, 38.0),
    36.0: (37.0, 39.0, 42.0),
    39.0: (40.0, 42.0, 45.0),
    42.0: (43.0, 45.0, 48.0),
    45.0: (46.0, 48.0, 52.0),
    48.0: (50.0, 52.0, 56.0),
    52.0: (54.0, 56.0, 62.0),
    56.0: (58.0, 62.0, 66.0),
    64.0: (66.0, 70.0, 74.0),
}
"""By the thread's diameter: fine, medium and coarse (H12, H13 and H14)."""
ASME_B18_2_8 = {
    "2": (0.094, 0.102, 0.116),
    "3": (0.106, 0.116, 0.128),
    "4": (0.120, 0.128, 0.144),
    "5": (0.141, 0.156, 0.172),
    "6": (0.154, 0.170, 0.185),
    "8": (0.180, 0.194, 0.213),
    "10": (0.206, 0.221, 0.238),
    "1/4": (0.266, 0.281, 0.297),
    "5/16": (0.328, 0.344, 0.359),
    "3/8": (0.391, 0.406, 0.422),
    "7/16": (0.453, 0.469, 0.484),
    "1/2": (0.531, 0.562, 0.609),
    "5/8": (0.656, 0.688, 0.734),
    "3/4": (0.781, 0.812, 0.906),
    "7/8": (0.906, 0.938, 1.031),
    "1": (1.031, 1.094, 1.156),
    "1 1/8": (1.156, 1.219, 1.312),
    "1 1/4": (1.281, 1.344, 1.438),
    "1 3/8": (1.438, 1.5, 1.609),
    "1 1/2": (1.562, 1.625, 1.734),
}
"""By the thread's size: close, normal and loose, inches."""
SERIES = ("fine", "medium", "coarse")
INCH_SERIES = ("close", "normal", "loose")


def clearance_for(diameter: float) -> list[tuple[str, str, str]]:
    """Threads that a hole of a diameter (mm) is a clearance hole for, of which series, and by which
    standard."""
    metric = [
        (f"M{size:g}", series, "ISO 273")
        for size, row in ISO_273.items()
        for series, hole in zip(SERIES, row, strict=True)
        if abs(hole - diameter) < 1e-3
    ]
    inches = [
        (name, series, "ASME B18.2.8")
        for name, row in ASME_B18_2_8.items()
        for series, hole in zip(INCH_SERIES, row, strict=True)
        if abs(hole * INCH - diameter) < 0.013
    ]
    return metric + inches
