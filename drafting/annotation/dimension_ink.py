"""Ink that all sizes share: arrowheads, extension lines, numbers on their line."""

import math

import numpy as np
from numpy.typing import NDArray

from drafting.ink.elements import Element, Fill, Line, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.standards.profile import Profile

Array = NDArray[np.float64]
KIND = "dimension"


def xy(p: Array) -> tuple[float, float]:
    return float(p[0]), float(p[1])


def line(a: Array, b: Array) -> Line:
    return Line(xy(a), xy(b), KIND)


def arrow(tip: Array, toward: Array, profile: Profile) -> Element:
    """The profile's arrowhead, dot or oblique stroke at a tip; toward is the unit direction it points in (ISO 129-1 allows all four)."""
    back = tip - toward * profile.arrow_length
    across = np.array([-toward[1], toward[0]])
    side = across * profile.arrow_width / 2
    if profile.arrow == "open":
        return Polyline((xy(back + side), xy(tip), xy(back - side)), KIND)
    if profile.arrow == "dot":
        turns = np.linspace(0, 2 * np.pi, 17)[:-1]
        return Fill(tuple(xy(tip + profile.arrow_width / 2 * np.array([np.cos(t), np.sin(t)])) for t in turns), KIND)
    if profile.arrow == "stroke":
        half = (toward + across) * profile.arrow_length / 2 / np.sqrt(2)
        return line(tip - half, tip + half)
    return Fill((xy(tip), xy(back + side), xy(back - side)), KIND)


def extension(origin: Array, foot: Array, profile: Profile) -> list[Element]:
    """From the gap at the object to a little beyond the dimension line; nothing where the line starts at the object."""
    d = foot - origin
    n = float(np.linalg.norm(d))
    if n < profile.extension_gap:
        return []
    u = d / n
    return [line(origin + u * profile.extension_gap, foot + u * profile.extension_beyond)]


def readable(angle: float) -> float:
    """The angle, turned by half a turn where lettering along it would not read from the bottom or the right."""
    a = angle % (2 * math.pi)
    return a - math.pi if math.pi / 2 + 1e-6 < a <= 3 * math.pi / 2 + 1e-6 else (a if a <= math.pi / 2 + 1e-6 else a - 2 * math.pi)


def number_on_line(text: str, middle: Array, direction: Array, profile: Profile) -> tuple[list[Element], float]:
    """A number at a place of a dimension line. Returns its ink and the half length of the break it needs in the line."""
    width = text_width(text, profile.text_height)
    if profile.dimension_text == "broken":
        at = (float(middle[0]), float(middle[1]) - profile.text_height / 2)
        reach = abs(float(direction[0])) * width / 2 + abs(float(direction[1])) * profile.text_height / 2
        return [Text(at, text, profile.text_height, KIND, "middle", 0.0)], reach + profile.text_gap
    angle = readable(math.atan2(float(direction[1]), float(direction[0])))
    up = np.array([-math.sin(angle), math.cos(angle)])
    return [Text(xy(middle + up * profile.text_gap), text, profile.text_height, KIND, "middle", angle)], 0.0
