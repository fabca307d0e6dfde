"""How a number is written. Sources: ASME Y14.5 (zeros), ISO 129-1 (decimal sign); the profile holds the
house's choice."""

import math
from decimal import ROUND_HALF_UP, Decimal

from drafting.standards.profile import Profile

INCH = 25.4
DIAMETER = "Ø"
NOISE = 7
"""Decimals of a millimeter, inch or degree beyond which a measured value tells nothing."""
FINEST = {"mm": 4, "in": 5}
"""Most decimals that a limit or a deviation is written with."""


def _fraction(inches: float, finest: int) -> str:
    """Whole inches and a fraction in lowest terms, to the nearest 1/finest."""
    parts = round(inches * finest)
    sign, parts = ("-" if parts < 0 else ""), abs(parts)
    whole, rest = divmod(parts, finest)
    if not rest:
        return f"{sign}{whole}"
    common = math.gcd(rest, finest)
    fraction = f"{rest // common}/{finest // common}"
    return f"{sign}{whole} {fraction}" if whole else sign + fraction


def written(
    value_mm: float, profile: Profile, places: int | None = None, unit: str = "", fraction: int | None = None
) -> str:
    """A length in mm as the profile writes it, in its unit or another one.

    Inches keep their decimals and drop the leading zero (.750); millimeters drop trailing zeros and keep the
    leading one (0,5), unless places asks for a fixed number of decimals. fraction: inches in parts of one;
    None takes the profile's.
    """
    unit = unit or profile.units
    value = value_mm / INCH if unit == "in" else value_mm
    finest = profile.fraction if fraction is None else fraction
    if unit == "in" and finest and places is None:
        return _fraction(value, finest)
    return plain(
        value, default_places(profile, unit) if places is None else places, profile, unit, trim=places is None
    )


def default_places(profile: Profile, unit: str) -> int:
    """Decimals of a unit: the profile's own, or as fine in the other unit."""
    if unit == profile.units:
        return profile.places
    return profile.places + 1 if unit == "in" else max(profile.places - 1, 0)


def plain(value: float, places: int, profile: Profile, unit: str, trim: bool) -> str:
    """A number with so many decimals, zeros by the unit: inches fixed and without a leading zero, millimeters
    trimmed and with one."""
    own = unit == profile.units
    trailing = profile.trailing_zeros if own else unit == "in"
    leading = profile.leading_zero if own else unit != "in"
    text = rounded(value, places)
    if trim and not trailing and "." in text:
        text = text.rstrip("0").rstrip(".")
    if text.strip("-0.") == "" and trim and not trailing:
        text = "0"
    text = text.removeprefix("-") if not text.strip("-0.") else text
    if not leading and text.lstrip("-").startswith("0."):
        text = text.replace("0.", ".", 1)
    return text.replace(".", profile.decimal_sign)


def rounded(value: float, places: int) -> str:
    """A value with so many decimals, halves away from zero (ISO 80000-1, rule B). What lies within NOISE of a
    half is one: a measured 28.575 is off by the last digits of its file."""
    if not abs(value) < 1e15:  # nothing is measured so; what is no number is written as such
        return f"{value:.{places}f}"
    near = Decimal(repr(round(value, NOISE)))
    return f"{near.quantize(Decimal(1).scaleb(-places), ROUND_HALF_UP):f}"


def decimals(value: float, most: int) -> int:
    """The fewest decimals that write a value, up to most."""
    return next((n for n in range(most) if abs(round(value, n) - value) < 0.5 * 10 ** -(most + 1)), most)


def angle_written(radians: float, profile: Profile, places: int | None = None, form: str = "") -> str:
    """An angle in decimal degrees (22,5°) or degrees, minutes and seconds (22°30')."""
    degrees = math.degrees(radians)
    if (form or profile.angle_form) == "minutes":
        return _minutes(degrees)
    text = rounded(degrees, profile.angle_places if places is None else places)
    if places is None and "." in text:
        text = text.rstrip("0").rstrip(".")
    return ("0" if not text.strip("-0.") and places is None else text).replace(
        ".", profile.decimal_sign
    ) + "°"


def _minutes(degrees: float) -> str:
    seconds = round(abs(degrees) * 3600)
    sign = "-" if degrees < 0 and seconds else ""
    whole, rest = divmod(seconds, 3600)
    minutes, seconds = divmod(rest, 60)
    return (
        f"{sign}{whole}°" + (f"{minutes}'" if minutes or seconds else "") + (f'{seconds}"' if seconds else "")
    )
