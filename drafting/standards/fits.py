"""Tolerance classes and fits of ISO 286-1 for sizes to 3150 mm, and the preferred fits of ISO 286-1 and ASME
B4.2.

A hole's limits follow from the shaft of the same letter by the standard's rules: A to H mirror it; J to ZC
mirror it and, up to 500 mm, are moved by the difference of two neighboring grades (clause 4.3.2, "delta").
"""

import bisect
import re
from dataclasses import dataclass
from typing import Literal

from drafting.errors import SizeError
from drafting.standards.fit_tables import DEVIATIONS, GRADES, J_ROWS, STEPS, TOLERANCES

LARGEST = 3150
LETTERS = (
    "a",
    "b",
    "c",
    "cd",
    "d",
    "e",
    "ef",
    "f",
    "fg",
    "g",
    "h",
    "js",
    "j",
    "k",
    "m",
    "n",
    "p",
    "r",
    "s",
    "t",
    "u",
    "v",
    "x",
    "y",
    "z",
    "za",
    "zb",
    "zc",
)
_CLEAR = LETTERS[: LETTERS.index("h") + 1]
_CLASS = re.compile(r"^([A-Za-z]{1,2})(01|\d{1,2})$")

PREFERRED = {
    "hole": (
        "H11/c11",
        "H9/d9",
        "H8/e8",
        "H8/f7",
        "H7/g6",
        "H7/h6",
        "H8/h7",
        "H7/k6",
        "H7/n6",
        "H7/p6",
        "H7/r6",
        "H7/s6",
        "H7/u6",
    ),
    "shaft": (
        "C11/h11",
        "D9/h9",
        "E9/h8",
        "F8/h7",
        "G7/h6",
        "H7/h6",
        "H8/h7",
        "K7/h6",
        "N7/h6",
        "P7/h6",
        "R7/h6",
        "S7/h6",
        "U7/h6",
    ),
}
"""Preferred fits by basis: those of ASME B4.2 table 1 and ISO 286-1 figures 12 and 13 that both use, and
neighbors. From memory."""


@dataclass(frozen=True)
class Limits:
    """Deviations from the nominal size, mm."""

    upper: float
    lower: float


@dataclass(frozen=True)
class Fit:
    """What a hole and a shaft class give together, mm: least and most clearance (negative is
    interference)."""

    hole: Limits
    shaft: Limits
    least: float
    most: float
    kind: Literal["clearance", "transition", "interference"]


def _step(size: float, steps: tuple[int, ...] = STEPS) -> int:
    if not 0 < size <= LARGEST:
        raise SizeError(f"ISO 286 has classes for sizes up to {LARGEST} mm; this size is {size:g} mm.")
    return bisect.bisect_left(steps, size)


def tolerance(size: float, grade: str) -> float:
    """Standard tolerance IT01 to IT18 in micrometers of a size in mm. Raises SizeError where the standard has
    none."""
    if grade not in GRADES:
        raise SizeError(f"There is no grade IT{grade}; grades run from IT01 to IT18.")
    row, n = TOLERANCES[grade], _step(size)
    value = row[n] if n < len(row) else None
    if value is None:
        raise SizeError(f"IT{grade} is not defined for {size:g} mm; it ends at 500 mm.")
    return value


def split(designation: str) -> tuple[str, str]:
    """Letter and grade of a class such as H7 or js6. Raises SizeError with a sentence."""
    found = _CLASS.match(designation.strip())
    letter = found.group(1) if found else ""
    same_case = letter == letter.lower() or letter == letter.upper()
    if letter in ("Js", "Cd", "Ef", "Fg", "Za", "Zb", "Zc"):
        letter, same_case = letter.upper(), True
    if found is None or letter.lower() not in LETTERS or not same_case:
        raise SizeError(
            f"{designation.strip()[:20] or 'Nothing'} is no tolerance class; write a letter "
            f"and a grade, like H7 for a hole or g6 for a shaft."
        )
    grade = found.group(2)
    if grade not in GRADES:
        raise SizeError(f"{designation} has a grade that does not exist; grades run from 01 to 18.")
    return letter, grade


def is_hole(designation: str) -> bool:
    """Whether a class such as H7 is one of holes: its letters are capitals (ISO 286-1)."""
    return split(designation)[0].isupper()


def limits(size: float, designation: str) -> Limits:
    """Deviations of a class at a nominal size, both mm. Raises SizeError where the class does not exist for
    the size."""
    letter, grade = split(designation)
    width = tolerance(size, grade)
    low = letter.lower()
    if size <= 1 and (low in ("a", "b") or (letter == "N" and GRADES.index(grade) > GRADES.index("8"))):
        raise SizeError(f"{designation} is not used for sizes up to 1 mm.")
    if size <= 1 and GRADES.index(grade) >= GRADES.index("14"):
        raise SizeError("Grades from IT14 on are not used for sizes up to 1 mm.")
    if low == "js":
        return Limits(width / 2000, -width / 2000)
    if low == "j":
        return _j(size, letter, grade, width)
    if letter.islower():
        return _shaft(size, letter, grade, width)
    return _hole(size, letter, grade, width)


def _micrometers(upper: float, lower: float) -> Limits:
    return Limits(round(upper, 3) / 1000, round(lower, 3) / 1000)


def _nearer(size: float, letter: str, shown: str) -> float:
    """Distance of the nearer limit of a shaft from zero, micrometers."""
    if letter == "h":
        return 0.0
    steps, row = DEVIATIONS[letter]
    n = _step(size, steps)
    value = row[n] if n < len(row) else None
    if value is None:
        raise SizeError(f"{shown} is not defined for {size:g} mm.")
    return value


def _j(size: float, letter: str, grade: str, width: float) -> Limits:
    row = J_ROWS[letter].get(grade)
    n = _step(size)
    value = row[n] if row and n < len(row) else None
    if value is None:
        raise SizeError(
            f"{letter}{grade} is not defined for {size:g} mm; take {'JS' if letter == 'J' else 'js'}{grade}."
        )
    return _micrometers(value, value - width) if letter == "J" else _micrometers(value + width, value)


def _shaft(size: float, letter: str, grade: str, width: float) -> Limits:
    if letter == "k" and not (size > 3 and "4" <= grade <= "7" and len(grade) == 1):
        return _micrometers(width, 0.0)  # table 3: k is zero below IT4, above IT7 and up to 3 mm
    near = _nearer(size, letter, letter)
    return _micrometers(-near, -near - width) if letter in _CLEAR else _micrometers(near + width, near)


def _delta(size: float, grade: str) -> float:
    """Difference of a grade to the one below, micrometers; none up to 3 mm and above 500 mm."""
    n = GRADES.index(grade)
    return tolerance(size, grade) - tolerance(size, GRADES[n - 1]) if 3 < size <= 500 and n > 0 else 0.0


def _hole(size: float, letter: str, grade: str, width: float) -> Limits:
    low, n = letter.lower(), GRADES.index(grade)
    if low in _CLEAR:
        near = _nearer(size, low, letter)
        return _micrometers(near + width, near)
    fine = n <= GRADES.index("8")
    if low == "k":
        if not fine:
            if size > 3:
                raise SizeError(f"{letter}{grade} is not defined for {size:g} mm; K ends at IT8.")
            return _micrometers(0.0, -width)
        upper = -_nearer(size, "k", letter) + _delta(size, grade)
    elif low == "m":
        upper = -_nearer(size, "m", letter) + (_delta(size, grade) if fine else 0.0)
        if grade == "6" and 250 < size <= 315:
            upper = -9.0  # table 5, note: -9 instead of -11
    elif low == "n" and not fine:
        upper = -4.0 if size <= 3 else (0.0 if size <= 500 else -_nearer(size, "n", letter))
    elif low == "n":
        upper = -_nearer(size, "n", letter) + _delta(size, grade)
    else:
        upper = -_nearer(size, low, letter) + (_delta(size, grade) if n <= GRADES.index("7") else 0.0)
    return _micrometers(upper, upper - width)


def fit(size: float, hole: str, shaft: str) -> Fit:
    """The clearance range of a hole and a shaft class at a nominal size, mm, and its kind. Raises
    SizeError."""
    if not is_hole(hole):
        raise SizeError(f"{hole} is a shaft's class; a hole's is written with a capital letter, like H7.")
    if is_hole(shaft):
        raise SizeError(f"{shaft} is a hole's class; a shaft's is written with a small letter, like g6.")
    h, s = limits(size, hole), limits(size, shaft)
    least, most = round(h.lower - s.upper, 9), round(h.upper - s.lower, 9)
    kind: Literal["clearance", "transition", "interference"] = (
        "clearance" if least >= 0 else ("interference" if most <= 0 else "transition")
    )
    return Fit(h, s, least, most, kind)
