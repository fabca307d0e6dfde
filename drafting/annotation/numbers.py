"""How a size is written. Sources: ASME Y14.5 (zeros), ISO 129-1 (decimal sign); the profile holds the house's choice."""

import math

from drafting.standards.profile import Profile

INCH = 25.4
DIAMETER = "Ø"


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


def written(value_mm: float, profile: Profile, places: int | None = None) -> str:
    """A length in mm as the profile writes it.

    Inches keep their decimals and drop the leading zero (.750); millimeters drop trailing zeros and keep the leading one
    (0,5), unless places asks for a fixed number of decimals.
    """
    value = value_mm / INCH if profile.units == "in" else value_mm
    if profile.units == "in" and profile.fraction and places is None:
        return _fraction(value, profile.fraction)
    text = f"{value:.{profile.places if places is None else places}f}"
    if not profile.trailing_zeros and places is None and "." in text:
        text = text.rstrip("0").rstrip(".")
    if text in ("-0", ""):
        text = "0"
    if not profile.leading_zero and text.startswith("0."):
        text = text[1:]
    return text.replace(".", profile.decimal_sign)
