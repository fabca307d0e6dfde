"""Tolerances as a drafter types them: ±0,1   +0,2/-0,1   24,9-25,1   H7   H7/g6   min   max, and nothing for
none."""

import math
import re
from collections.abc import Mapping

from drafting.annotation.wording.numbers import INCH, decimals, plain
from drafting.document import Tolerance
from drafting.errors import SizeError
from drafting.standards import fits
from drafting.standards.profile import Profile

_NUMBER = r"\d*[.,]?\d+"
_EQUAL = re.compile(rf"^(?:±|\+/-|\+-)\s*({_NUMBER})$")
_SIDES = re.compile(rf"^([+-]?)\s*({_NUMBER})\s*(?:/|\s)\s*([+-]?)\s*({_NUMBER})$")
_LIMITS = re.compile(rf"^({_NUMBER})\s*(?:-|–|\.\.\.|\bto\b)\s*({_NUMBER})$")
_HELP = "Write it as ±0.1, +0.2/-0.1, 24.9-25.1, H7, H7/g6, min or max."


def parsed(
    text: str, nominal: float, profile: Profile, is_angle: bool = False, before: Tolerance | None = None
) -> Tolerance:
    """The tolerance that words stand for. Numbers are in the profile's unit, or degrees. nominal: mm or
    radians. before: keeps how it was shown.

    Raises SizeError with a sentence that says what would be right."""
    words = " ".join(text.replace("°", "").split())
    shown = before or Tolerance()
    keep = {"stacked": shown.stacked, "zero": shown.zero, "shown": shown.shown}
    per = math.radians(1.0) if is_angle else (INCH if profile.units == "in" else 1.0)
    if not words:
        return Tolerance()
    if words.lower().rstrip(".") in ("min", "max"):
        return Tolerance(form=words.lower().rstrip("."), **keep)  # type: ignore[arg-type]
    if found := _EQUAL.match(words):
        value = _number(found.group(1)) * per
        if value <= 0:
            raise SizeError("An equal tolerance is a number above zero.")
        return Tolerance(form="equal", upper=value, lower=-value, **keep)  # type: ignore[arg-type]
    if (found := _SIDES.match(words)) and (found.group(1) or found.group(3)):
        upper, lower = (
            _number(found.group(n + 1)) * per * (-1 if found.group(n) == "-" else 1) for n in (1, 3)
        )
        if upper <= lower:
            raise SizeError("The upper deviation is written first and lies above the lower one.")
        return Tolerance(form="unequal", upper=upper, lower=lower, **keep)  # type: ignore[arg-type]
    if found := _LIMITS.match(words):
        low, high = sorted(_number(found.group(n)) * per for n in (1, 2))
        if high - low < 1e-9:
            raise SizeError("The two limits are the same; the upper one lies above the lower one.")
        return Tolerance(form="limits", upper=round(high - nominal, 9), lower=round(low - nominal, 9), **keep)  # type: ignore[arg-type]
    if re.match(r"^[A-Za-z]{1,2}\d", words):
        if is_angle:
            raise SizeError(
                "Tolerance classes are for lengths and diameters; an angle takes deviations in degrees."
            )
        return _classes(words, keep)
    raise SizeError(f"{text.strip()[:30]} is no tolerance. {_HELP}")


def _number(text: str) -> float:
    return float(text.replace(",", "."))


def _classes(words: str, keep: Mapping[str, object]) -> Tolerance:
    names = [w.strip() for w in words.split("/")]
    if len(names) > 2:
        raise SizeError(f"A fit is one hole and one shaft class, like H7/g6. {_HELP}")
    for name in names:
        fits.split(name)
    if len(names) == 2 and fits.is_hole(names[0]) == fits.is_hole(names[1]):
        raise SizeError(
            "A fit is one hole class, in capital letters, and one shaft class, in small ones, like H7/g6."
        )
    return Tolerance(form="class", designation=names[0], mate=names[1] if len(names) == 2 else "", **keep)  # type: ignore[arg-type]


def words_of(t: Tolerance, nominal: float, profile: Profile, is_angle: bool = False) -> str:
    """The words that stand for a tolerance: what `parsed` reads back."""
    per = math.radians(1.0) if is_angle else (INCH if profile.units == "in" else 1.0)

    def n(v: float) -> str:
        v /= per
        return plain(v, decimals(abs(v), 5), profile, profile.units, trim=False)

    if t.form == "equal":
        return f"±{n(t.upper)}"
    if t.form == "unequal":
        return "/".join(("+" if v > 0 else "") + n(v) for v in (t.upper, t.lower))
    if t.form == "limits":
        return f"{n(nominal + t.lower)}-{n(nominal + t.upper)}"
    if t.form == "class":
        return f"{t.designation}/{t.mate}" if t.mate else t.designation
    return "" if t.form == "none" else t.form
