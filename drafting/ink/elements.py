"""The elements of ink. Coordinates are mm with y up; angles radians; `line` names a kind of line of the
profile."""

import math
from dataclasses import dataclass, field, replace
from typing import Any

XY = tuple[float, float]


@dataclass(frozen=True)
class Line:
    """A straight line."""

    a: XY
    b: XY
    line: str


@dataclass(frozen=True)
class Arc:
    """Counterclockwise from first to last; a full circle where last - first is a full turn."""

    center: XY
    radius: float
    first: float
    last: float
    line: str

    @property
    def full(self) -> bool:
        """Whether it goes all around."""
        return self.last - self.first >= 2 * math.pi - 1e-9


@dataclass(frozen=True)
class Ellipse:
    """major is the major half axis as a vector, ratio minor over major; parameters counterclockwise from the
    major axis."""

    center: XY
    major: XY
    ratio: float
    first: float
    last: float
    line: str

    @property
    def full(self) -> bool:
        """Whether it goes all around."""
        return self.last - self.first >= 2 * math.pi - 1e-9

    def point(self, t: float) -> XY:
        """The place at a parameter, radians."""
        c, s = math.cos(t), math.sin(t) * self.ratio
        return (
            self.center[0] + self.major[0] * c - self.major[1] * s,
            self.center[1] + self.major[1] * c + self.major[0] * s,
        )


@dataclass(frozen=True)
class Polyline:
    """Straight pieces from point to point, and back to the first where it is closed."""

    points: tuple[XY, ...]
    line: str
    closed: bool = False


@dataclass(frozen=True)
class Fill:
    """A filled polygon on the layer of a kind of line: arrowheads."""

    points: tuple[XY, ...]
    line: str


@dataclass(frozen=True)
class Text:
    """One line of lettering. height is that of capitals in mm; align left, middle or right about the point on
    the base line."""

    at: XY
    text: str
    height: float
    line: str = "dimension"
    align: str = "left"
    angle: float = 0.0


@dataclass(frozen=True)
class Image:
    """A picture: lower left corner, width and height in mm, PNG data; angle: about that corner, radians; key:
    the hash of a placed file that it is of, empty for others."""

    at: XY
    width: float
    height: float
    png: bytes
    line: str = "visible"
    angle: float = 0.0
    key: str = ""


Element = Line | Arc | Ellipse | Polyline | Fill | Text | Image


@dataclass
class Group:
    """Ink that belongs together, in its own coordinates, placed at origin on the sheet. kind: frame, view or
    annotation."""

    id: str
    kind: str
    origin: XY = (0.0, 0.0)
    elements: list[Element] = field(default_factory=list)
    size: Any = None
    """Of a size, its ink by what it is for (`drafting.annotation.inking.dimension_ink.SizeInk`)."""
    reads: str = ""
    """What a file's block of it says as an attribute; empty where it is plain ink there."""
    entity: Any = None
    """What it is in a DXF file besides ink (`drafting.annotation.inking.dimension_ink.DimensionEntity`)."""


@dataclass
class SheetInk:
    """All ink of a sheet of width x height mm."""

    width: float
    height: float
    groups: list[Group] = field(default_factory=list)


def placed(element: Element, origin: XY) -> Element:
    """The element moved by origin."""

    def at(p: XY) -> XY:
        return p[0] + origin[0], p[1] + origin[1]

    if isinstance(element, Line):
        return Line(at(element.a), at(element.b), element.line)
    if isinstance(element, Arc):
        return Arc(at(element.center), element.radius, element.first, element.last, element.line)
    if isinstance(element, Ellipse):
        return Ellipse(
            at(element.center), element.major, element.ratio, element.first, element.last, element.line
        )
    if isinstance(element, Polyline):
        return Polyline(tuple(at(p) for p in element.points), element.line, element.closed)
    if isinstance(element, Fill):
        return Fill(tuple(at(p) for p in element.points), element.line)
    if isinstance(element, Image):
        return replace(element, at=at(element.at))
    return Text(at(element.at), element.text, element.height, element.line, element.align, element.angle)
