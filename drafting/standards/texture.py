"""Surface texture: parameters, preferred values, and what a tolerance asks of a surface. Ra of ISO 21920-1 in
µm and of ASME B46.1 in µin (memory); by grade of tolerance: common practice."""

PARAMETERS = ("Ra", "Rz", "Rq", "Rt", "Rp", "Rv", "Rsm")
SERIES = {
    "mm": (0.025, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 3.2, 6.3, 12.5, 25.0, 50.0),
    "in": (1.0, 2.0, 4.0, 8.0, 16.0, 32.0, 63.0, 125.0, 250.0, 500.0, 1000.0, 2000.0),
}
"""Preferred values of Ra by the drawing's unit, µm and µin: steps of two, rounded as R10/3 is."""
BY_GRADE = {4: 0.2, 5: 0.4, 6: 0.8, 7: 1.6, 8: 1.6, 9: 3.2, 10: 3.2, 11: 6.3, 12: 6.3, 13: 12.5}
"""Ra in µm that goes with a grade of tolerance."""
LAYS = ("=", "⊥", "X", "M", "C", "R", "P")
"""Directions of lay: parallel to the view's plane, square to it, crossed, many ways, about a center, from a
center, of points."""
COMMON = {"mm": 3.2, "in": 125.0}


def nearest(value: float, units: str) -> float:
    """The preferred value nearest to one, by ratio."""
    return min(SERIES[units], key=lambda v: max(v / value, value / v))


def for_grade(grade: int, units: str) -> float | None:
    """Ra that goes with a grade of tolerance, in µm or µin; None for a grade without one."""
    micrometers = BY_GRADE.get(grade)
    if micrometers is None or units == "mm":
        return micrometers
    return nearest(micrometers * 39.37, units)
