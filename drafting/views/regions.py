"""Closed regions of a view: the faces between its lines, for hatching, shading and picking."""

from collections.abc import Sequence

import numpy as np
import shapely

from drafting.errors import CommandError
from drafting.views.geometry import ViewCurve, arc_points

SNAP = 1e-4
"""Lines that end this near to each other meet, mm at 1:1 for a part of 100 mm."""


def regions(curves: Sequence[ViewCurve], hidden: bool = False, size: float = 100.0) -> list[shapely.Polygon]:
    """All closed faces between the visible lines (with hidden ones too on request), view mm; tangent edges do
    not divide."""
    lines = [
        shapely.LineString(arc_points(c, 65))
        for c in curves
        if (c.visible or hidden)
        and c.edge_class not in ("smooth", "thread")
        and np.ptp(arc_points(c, 5), axis=0).max() > SNAP
    ]
    if not lines:
        return []
    grid = max(SNAP * size / 100, 1e-6)
    noded = shapely.unary_union(
        shapely.set_precision(np.array(lines), grid, mode="pointwise"), grid_size=grid
    )
    return [
        p for p in shapely.get_parts(shapely.polygonize(shapely.get_parts(noded))) if p.area > grid * size
    ]


def region_at(
    curves: Sequence[ViewCurve], at: tuple[float, float], hidden: bool = False, size: float = 100.0
) -> shapely.Polygon:
    """The smallest closed face around a point. Raises CommandError where no lines close around it."""
    point = shapely.Point(at)
    found = [p for p in regions(curves, hidden, size) if p.contains(point)]
    if not found:
        raise CommandError("No lines close around that place; pick inside a closed region of the view.")
    return min(found, key=lambda p: p.area)
