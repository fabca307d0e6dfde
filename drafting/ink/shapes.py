"""Elements of ink as plane geometry, for telling what overlaps."""

import math
from collections.abc import Sequence

import numpy as np
import shapely
import shapely.affinity

from drafting.ink.elements import XY, Arc, Element, Ellipse, Fill, Image, Line, Polyline, Text
from drafting.ink.lettering import text_width


def text_boxes(
    elements: Sequence[Element], origin: XY = (0.0, 0.0), margin: float = 0.8
) -> list[shapely.Geometry]:
    """Boxes about all lettering, with a margin, moved by origin."""
    corners = text_corners(elements, origin, margin)
    return list(shapely.polygons(corners)) if corners else []


def text_corners(elements: Sequence[Element], origin: XY = (0.0, 0.0), margin: float = 0.8) -> list[list[XY]]:
    """The four corners of each of those boxes."""
    out = []
    for e in elements:
        if isinstance(e, Text) and e.text.strip():
            width = text_width(e.text, e.height)
            left = {"left": 0.0, "middle": -width / 2, "right": -width}[e.align]
            x0, x1 = left - margin, left + width + margin
            y0, y1 = -margin - e.height * 0.25, e.height + margin
            x, y = e.at[0] + origin[0], e.at[1] + origin[1]
            c, s = math.cos(e.angle), math.sin(e.angle)
            out.append(
                [(x + u * c - v * s, y + u * s + v * c) for u, v in ((x0, y0), (x1, y0), (x1, y1), (x0, y1))]
            )
    return out


def boxes(elements: Sequence[Element]) -> list[shapely.Geometry]:
    """Boxes of lettering and of all strokes, for telling what overlaps."""
    return text_boxes(elements, margin=0.0) + [g.envelope for g in shapes(elements)]


def shapes(elements: Sequence[Element], origin: XY = (0.0, 0.0)) -> list[shapely.Geometry]:
    """Lines of all strokes and areas of all fills, moved by origin. Lettering has none."""
    found = (shape(e) for e in elements)
    return [shapely.affinity.translate(g, *origin) for g in found if g is not None]


def shape(e: Element) -> shapely.Geometry | None:
    """The line of a stroke, or the area of a fill or a placed picture; curves in 32 steps."""
    if isinstance(e, Line):
        return shapely.LineString([e.a, e.b])
    if isinstance(e, Polyline):
        return shapely.LineString([*e.points, e.points[0]] if e.closed else e.points)
    if isinstance(e, Fill):
        return shapely.Polygon(e.points)
    if isinstance(e, Image) and e.key:
        x, y = e.at
        return shapely.affinity.rotate(
            shapely.box(x, y, x + e.width, y + e.height), e.angle, origin=e.at, use_radians=True
        )
    if isinstance(e, Arc):
        t = np.linspace(e.first, e.last, 33)
        return shapely.LineString(
            np.stack([e.center[0] + e.radius * np.cos(t), e.center[1] + e.radius * np.sin(t)], 1)
        )
    if isinstance(e, Ellipse):
        return shapely.LineString([e.point(float(t)) for t in np.linspace(e.first, e.last, 33)])
    return None
