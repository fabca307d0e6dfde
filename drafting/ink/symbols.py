"""Symbols that stand among words, by their names in the trade, and frames that go by the height of the
lettering (ISO 3098-5 and ISO 7083 proportions; memory)."""

import math
import re

from drafting.ink.elements import XY

NAMED = {
    "diameter": "Ø",
    "degree": "°",
    "plus/minus": "±",
    "times": "×",
    "depth": "↧",
    "counterbore": "⌴",
    "countersink": "⌵",
    "square": "□",
    "arc": "⌒",
    "taper": "⌲",
    "slope": "⌳",
    "maximum material": "Ⓜ",
    "least material": "Ⓛ",
    "free state": "Ⓕ",
    "tangent plane": "Ⓣ",
    "projected": "Ⓟ",
    "envelope": "Ⓔ",
    "position": "⌖",
    "flatness": "⏥",
    "micro": "µ",
}
"""Characters of the lettering font by the name that is typed in braces."""
_IN_BRACES = re.compile(r"\{([a-z/ ]{1,20})\}")
Stroke = tuple[tuple[XY, ...], bool]
"""Places from one to the next, and whether back to the first."""


def lettered(text: str) -> str:
    """Words with the symbols named in braces put in their stead; names that mean nothing stay as they
    are."""
    return _IN_BRACES.sub(lambda m: NAMED.get(m[1], m[0]), text)


def over_arc(left: float, right: float, h: float) -> Stroke:
    """The arc above the number of an arc length, from end to end."""
    turns = (math.pi * k / 12 for k in range(13))
    return tuple(
        (left + (right - left) * (0.5 - 0.5 * math.cos(t)), h * 1.2 + h * 0.35 * math.sin(t)) for t in turns
    ), False


def underline(left: float, right: float, h: float) -> Stroke:
    """The line under a number that is not to scale."""
    return ((left, -0.22 * h), (right, -0.22 * h)), False


def box(left: float, low: float, right: float, high: float) -> Stroke:
    """A frame with square corners."""
    return ((left, low), (right, low), (right, high), (left, high)), True


def oblong(left: float, low: float, right: float, high: float) -> Stroke:
    """A frame whose ends are half circles beyond left and right."""
    r, middle = (high - low) / 2, (high + low) / 2
    turns = [math.pi * k / 12 for k in range(13)]
    return tuple(
        [(right + r * math.sin(t), middle - r * math.cos(t)) for t in turns]
        + [(left - r * math.sin(t), middle + r * math.cos(t)) for t in turns]
    ), True
