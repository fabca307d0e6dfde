"""Tolerances of sizes in numbers: the deviations a form stands for, and how the standard writes them.

Sources: ASME Y14.5 (zeros and places of limits and deviations), ISO 129-1 and ISO 286-1 (class after the
size), from memory.
"""

import math
from dataclasses import dataclass

from drafting.annotation.wording.numbers import (
    FINEST,
    INCH,
    angle_written,
    decimals,
    default_places,
    plain,
    written,
)
from drafting.document import Tolerance, Wording
from drafting.errors import SizeError
from drafting.standards import fits, general_tolerances
from drafting.standards.profile import Profile


@dataclass(frozen=True)
class Bounds:
    """Deviations from the nominal, mm or radians; None where there is no bound on that side. general: not
    said at the size itself."""

    upper: float | None
    lower: float | None
    general: bool = False


def bounds(tolerance: Tolerance, nominal: float, is_angle: bool = False) -> Bounds | None:
    """What a size's own tolerance allows; None where it states none. Raises SizeError for a class the size
    does not have."""
    t = tolerance
    if t.form == "none":
        return None
    if t.form == "equal":
        return Bounds(t.upper, -t.upper)
    if t.form in ("unequal", "limits"):
        return Bounds(t.upper, t.lower)
    if t.form == "min":
        return Bounds(None, 0.0)
    if t.form == "max":
        return Bounds(0.0, None)
    if is_angle:
        raise SizeError(
            "Tolerance classes are for lengths and diameters; an angle takes deviations in degrees."
        )
    found = fits.limits(nominal, t.designation)
    if t.mate:
        hole, shaft = (t.designation, t.mate) if fits.is_hole(t.designation) else (t.mate, t.designation)
        fits.fit(nominal, hole, shaft)
    return Bounds(found.upper, found.lower)


def applying(
    tolerance: Tolerance,
    wording: Wording,
    nominal: float,
    profile: Profile,
    angle_leg: float | None = None,
    chamfer: bool = False,
) -> Bounds | None:
    """The size's own bounds, else those of the general tolerances. angle_leg: of an angle, the length of its
    shorter leg in mm. Reference and basic sizes have none."""
    own = bounds(tolerance, nominal, angle_leg is not None)
    if own is not None or wording.reference or wording.basic or wording.own:
        return own
    if angle_leg is not None:
        half = general_tolerances.angle(profile.general_tolerance, angle_leg)
    else:
        places = default_places(profile, profile.units) if wording.places is None else wording.places
        half = general_tolerances.linear(profile.general_tolerance, nominal, places, chamfer)
    return None if half is None else Bounds(half, -half, general=True)


@dataclass(frozen=True)
class Parts:
    """A value as it is written: number, then the class, then deviations (upper over lower, or one text in
    line), then a word."""

    number: str
    tail: str = ""
    upper: str = ""
    lower: str = ""
    parenthesis: bool = False

    @property
    def plain(self) -> str:
        """In one line."""
        deviations = "/".join(v for v in (self.upper, self.lower) if v)
        if not deviations:
            return self.number + self.tail
        deviations = f"({deviations})" if self.parenthesis else deviations
        return f"{self.number}{self.tail} {deviations}" if self.number else self.tail + deviations


def parts(value: float, wording: Wording, tolerance: Tolerance, profile: Profile, unit: str) -> Parts:
    """A length in mm with its tolerance. Raises SizeError."""
    t, per = tolerance, INCH if unit == "in" else 1.0
    found = bounds(t, value)
    places, fraction = (
        (wording.places, wording.fraction) if unit == (wording.unit or profile.units) else (None, 0)
    )
    if found is None:
        return Parts(written(value, profile, places, unit, fraction))
    if t.form in ("min", "max"):
        word = f" {t.form.upper()}" if profile.standard == "ASME" else f" {t.form}."
        return Parts(written(value, profile, places, unit, fraction), tail=word)
    upper, lower = (found.upper or 0.0) / per, (found.lower or 0.0) / per
    shows_limits = t.form == "limits" or (t.form == "class" and t.shown == "limits")
    most = FINEST[unit]
    if shows_limits:
        high, low = value / per + upper, value / per + lower
        least = default_places(profile, unit) if places is None else places
        n = max(decimals(high, most), decimals(low, most), least if unit == "in" or places else 0)
        a, b = (plain(v, n, profile, unit, trim=False) for v in (high, low))
        return Parts("", upper=a, lower=b) if t.stacked else Parts(f"{b}–{a}")
    n = max(decimals(upper, most), decimals(lower, most))
    if unit == "in" and not (t.form == "class" and t.shown == "class"):
        n = max(n, default_places(profile, unit) if places is None else places)
        number = plain(value / per, n, profile, unit, trim=False)
    else:
        number = written(value, profile, places, unit, fraction)
    if t.form == "equal":
        return Parts(f"{number} ±{plain(upper, n, profile, unit, trim=unit != 'in')}")
    tail = ""
    if t.form == "class":
        pair = (t.designation, t.mate) if fits.is_hole(t.designation) else (t.mate, t.designation)
        hole_first = "/".join(v for v in pair if v)
        tail = "" if t.shown == "deviations" else f" {hole_first}"
        if t.shown == "class":
            return Parts(number, tail)
    up, down = _deviation(upper, n, profile, unit, "+"), _deviation(lower, n, profile, unit, "-")
    if not t.zero and abs(upper) < 1e-12:
        up = ""
    if not t.zero and abs(lower) < 1e-12:
        down = ""
    if not t.stacked:
        text = "/".join(v for v in (up, down) if v)
        return Parts(
            number, f"{tail} ({text})" if t.form == "class" and t.shown == "both" else f"{tail} {text}"
        )
    return Parts(number, tail, up, down, parenthesis=t.form == "class" and t.shown == "both")


def _deviation(value: float, places: int, profile: Profile, unit: str, nil: str) -> str:
    if abs(value) < 1e-12:
        return "0" if unit != "in" else nil + plain(0.0, places, profile, unit, trim=False)
    return ("+" if value > 0 else "-") + plain(abs(value), places, profile, unit, trim=False)


def angle_parts(value: float, wording: Wording, tolerance: Tolerance, profile: Profile) -> Parts:
    """An angle in radians with its tolerance. Raises SizeError."""
    t = tolerance
    found = bounds(t, value, is_angle=True)
    form = wording.angle_form or profile.angle_form
    number = angle_written(value, profile, wording.places, form)
    if found is None:
        return Parts(number)
    if t.form in ("min", "max"):
        return Parts(number, tail=f" {t.form.upper()}" if profile.standard == "ASME" else f" {t.form}.")
    upper, lower = found.upper or 0.0, found.lower or 0.0
    n = max(decimals(math.degrees(v), 4) for v in (upper, lower))
    if t.form == "limits":
        n = max(decimals(math.degrees(value + v), 4) for v in (upper, lower))
        a, b = (angle_written(value + v, profile, n, form) for v in (upper, lower))
        return Parts("", upper=a, lower=b) if t.stacked else Parts(f"{b}–{a}")
    if t.form == "equal":
        return Parts(f"{number} ±{angle_written(upper, profile, n, form)}")
    texts = [
        ("0°" if abs(v) < 1e-12 else ("+" if v > 0 else "-") + angle_written(abs(v), profile, n, form))
        for v in (upper, lower)
    ]
    if not t.zero:
        texts = ["" if v == "0°" else v for v in texts]
    return (
        Parts(number, "", texts[0], texts[1])
        if t.stacked
        else Parts(number, " " + "/".join(v for v in texts if v))
    )
