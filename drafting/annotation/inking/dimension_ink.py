"""Ink that all sizes share: arrowheads, extension lines, numbers on their line, leaders."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from drafting.annotation.wording.label import Label, Words
from drafting.document import Dimension
from drafting.ink.elements import Element, Fill, Line, Polyline
from drafting.standards.profile import Profile

Array = NDArray[np.float64]
LINE_KIND = "dimension"


@dataclass(frozen=True)
class Definition:
    """What a receiving program measures: kind, its points in paper mm about the view's position, the
    direction of a linear one (radians), and paper mm for one mm of the model; 0 where the view shows it
    foreshortened."""

    kind: str
    points: tuple[tuple[float, float], ...]
    angle: float = 0.0
    scale: float = 0.0

    @property
    def length(self) -> float:
        """What is measured between its points, paper mm; 0 for angles."""
        if self.kind == "angular":
            return 0.0
        a, b = np.array(self.points[0]), np.array(self.points[1])
        if self.kind == "linear":
            return abs(float((b - a) @ [math.cos(self.angle), math.sin(self.angle)]))
        if self.kind == "ordinate":
            return abs(float((b - a)[0 if self.angle == 0 else 1]))
        return float(np.linalg.norm(b - a))


@dataclass(frozen=True)
class DimensionEntity:
    """A size as a DIMENSION: what is measured, and what it says in its pieces."""

    definition: Definition
    words: Words


@dataclass
class SizeInk:
    """The ink of one size by what it is for: lines of one size break where they cross another's."""

    extensions: list[Element] = field(default_factory=list)
    lines: list[Element] = field(default_factory=list)
    arrows: list[Element] = field(default_factory=list)
    lettering: list[Element] = field(default_factory=list)
    marks: list[Element] = field(default_factory=list)
    definition: Definition | None = None
    outside: list[tuple[float, float]] = field(default_factory=list)
    """Tips of arrows that stand outside what they measure, as they do where there is no room between them."""

    def elements(self) -> list[Element]:
        """All of it, in the order in which it is drawn."""
        return [*self.extensions, *self.lines, *self.marks, *self.arrows, *self.lettering]

    def straight(self) -> list[tuple[Array, Array]]:
        """Ends (2,) of the dimension line, as one where lettering stands in it, then of the extension lines;
        of those that are straight. mm."""
        out = []
        pieces = [(np.array(e.a), np.array(e.b)) for e in self.lines if isinstance(e, Line)]
        if pieces:
            a, b = max(pieces, key=lambda e: float(np.linalg.norm(e[1] - e[0])))
            u = (b - a) / max(float(np.linalg.norm(b - a)), 1e-12)
            along = [
                float((p - a) @ u)
                for piece in pieces
                for p in piece
                if abs(float(u[0] * (p - a)[1] - u[1] * (p - a)[0])) < 1e-6
            ]
            out.append((a + u * min(along), a + u * max(along)))
        return out + [(np.array(e.a), np.array(e.b)) for e in self.extensions if isinstance(e, Line)]


def xy(p: Array) -> tuple[float, float]:
    """A place (2,) as a pair."""
    return float(p[0]), float(p[1])


def line(a: Array, b: Array) -> Line:
    """A thin line between two places, paper mm."""
    return Line(xy(a), xy(b), LINE_KIND)


def arrow(tip: Array, toward: Array, profile: Profile) -> Element:
    """The profile's arrowhead, dot or oblique stroke at a tip; toward is the unit direction it points in (ISO
    129-1 allows all four)."""
    back = tip - toward * profile.arrow_length
    across = np.array([-toward[1], toward[0]])
    side = across * profile.arrow_width / 2
    if profile.arrow == "open":
        return Polyline((xy(back + side), xy(tip), xy(back - side)), LINE_KIND)
    if profile.arrow == "dot":
        return dot(tip, profile)
    if profile.arrow == "stroke":
        half = (toward + across) * profile.arrow_length / 2 / np.sqrt(2)
        return line(tip - half, tip + half)
    return Fill((xy(tip), xy(back + side), xy(back - side)), LINE_KIND)


def dot(at: Array, profile: Profile) -> Element:
    """What stands for two arrowheads where narrow links of a chain meet (ISO 129-1)."""
    turns = np.linspace(0, 2 * np.pi, 17)[:-1]
    return Fill(
        tuple(xy(at + profile.arrow_width / 2 * np.array([np.cos(t), np.sin(t)])) for t in turns), LINE_KIND
    )


def extension(origin: Array, foot: Array, profile: Profile) -> list[Element]:
    """From the gap at the object to a little beyond the dimension line; nothing where the line starts at the
    object."""
    d = foot - origin
    n = float(np.linalg.norm(d))
    if n < profile.extension_gap:
        return []
    u = d / n
    return [line(origin + u * profile.extension_gap, foot + u * profile.extension_beyond)]


def readable(angle: float) -> float:
    """The angle, turned by half a turn where lettering along it would not read from the bottom or the
    right."""
    a = angle % (2 * math.pi)
    return (
        a - math.pi
        if math.pi / 2 + 1e-6 < a <= 3 * math.pi / 2 + 1e-6
        else (a if a <= math.pi / 2 + 1e-6 else a - 2 * math.pi)
    )


def number_on_line(
    label: Label, middle: Array, direction: Array, profile: Profile
) -> tuple[list[Element], float]:
    """A number at a place of a dimension line. Returns its ink and the half length of the break it needs in
    the line."""
    if profile.dimension_text == "broken":
        at = (float(middle[0]), float(middle[1]) - (label.low + label.high) / 2)
        return label.elements(at), box_reach(
            label.width, label.high - label.low, direction
        ) + profile.text_gap
    angle = readable(math.atan2(float(direction[1]), float(direction[0])))
    up = np.array([-math.sin(angle), math.cos(angle)])
    return label.elements(xy(middle + up * (profile.text_gap - min(label.low, 0.0))), angle), 0.0


def box_reach(width: float, height: float, u: Array) -> float:
    """How far from its middle a level box reaches along a direction."""
    across = [size / 2 / abs(float(v)) for size, v in ((width, u[0]), (height, u[1])) if abs(float(v)) > 1e-9]
    return min(across)


def shoulder(at: Array, u: Array, label: Label, profile: Profile) -> tuple[list[Element], list[Element]]:
    """A level shoulder at a leader's end, and the number above it (ISO) or at its end (ASME)."""
    side = 1.0 if u[0] >= 0 else -1.0
    if profile.dimension_text == "above":
        end = at + np.array([side * (label.width + 1.5), 0.0])
        return [line(at, end)], label.elements(
            xy((at + end) / 2 + np.array([0.0, profile.text_gap - min(label.low, 0.0)]))
        )
    end = at + np.array([side * 4.0, 0.0])
    start = end + np.array([side * (profile.text_gap + label.width / 2), -(label.low + label.high) / 2])
    return [line(at, end)], label.elements(xy(start))


def line_with_number(
    p: Array,
    q: Array,
    at: Array,
    d: Dimension,
    label: Label,
    profile: Profile,
    out: SizeInk,
    half: bool = False,
    dots: Sequence[tuple[float, float]] = (),
) -> None:
    """The dimension line from p to q with arrows, and its number centered, shifted, or outside where `at`
    lies; half: no arrow at p; dots: ends at which a dot stands for the arrow."""
    length = float(np.linalg.norm(q - p))
    u = (q - p) / length
    above = profile.dimension_text == "above"
    width = max(label.width, label.reach)
    room = width if above else 2 * box_reach(width, label.high - label.low, u) + 2 * profile.text_gap
    where = float((at - p) @ u) if d.shift is None else length / 2 + d.shift
    inside = 0 <= where <= length
    tail = 2.2 * profile.arrow_length
    both_fit = length >= room + 2 * profile.arrow_length + 2.0
    number_fits = both_fit or (length >= room + 1.0 and inside)
    arrows_in = length >= 2 * profile.arrow_length + 1.0 and (both_fit or not inside or not number_fits)
    if d.arrows != "fit":
        arrows_in = d.arrows == "in"
    dotted = [any(math.dist(xy(end), tip) < 1e-3 for tip in dots) for end in (p, q)]
    tails = [0.0 if arrows_in or dotted[n] else tail for n in (0, 1)]
    if half:
        tails[0] = tail
    if inside and number_fits:
        place = min(max(where, room / 2), length - room / 2) if d.shift is not None else length / 2
    else:
        reach = room / 2 + (profile.arrow_length if arrows_in else tail)
        beyond = where > length / 2 or inside
        place = max(where, length + reach) if beyond else min(where, -reach)
    lettering, gap = number_on_line(label, p + u * place, u, profile)
    out.lettering += lettering
    sign = 1.0 if arrows_in else -1.0
    for end, toward, is_dot, wanted in ((p, -u, dotted[0], not half), (q, u, dotted[1], True)):
        if wanted:
            out.arrows.append(dot(end, profile) if is_dot else arrow(end, toward * sign, profile))
            out.outside += [] if arrows_in else [xy(end)]
    edge = 0.0 if gap else width / 2
    first = min(-tails[0], place - edge if place < 0 else 0.0)
    last = max(length + tails[1], place + edge if place > length else length)
    spans = [(first, last)] if not gap else [(first, place - gap), (place + gap, last)]
    out.lines += [line(p + u * a, p + u * b) for a, b in spans if b - a > 1e-6]


def slid(along: float, length: float) -> float | None:
    """A number's shift along a line of a length, mm from its middle; None near the middle, where it is
    centered, or beyond the ends."""
    return None if abs(along) < 2.0 or abs(along) > length / 2 else round(along, 3)


def corner_cross(at: Array, lines: tuple[Array, ...], profile: Profile) -> list[Element]:
    """The little cross of two lines lengthened to their theoretical sharp corner."""
    reach = profile.extension_beyond
    return [line(at - v * reach, at + v * reach) for v in lines]
