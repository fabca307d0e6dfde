"""Where a hole table stands by itself: the free place on the sheet that is nearest to its view."""

import numpy as np
import shapely

from drafting.annotation.kinds import hole_table
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.placing.rows import snapped_place
from drafting.context import Context

STEP = 5.0
"""Of the grid of places that are tried, mm."""


def placed_table(table: HoleTable, context: Context, room: shapely.Geometry) -> HoleTable | None:
    """The table in its place; None where there is no room. room: where it may stand, paper mm about the
    view's position. Raises SizeError where its rows cannot be measured."""
    left, bottom, right, top = hole_table.box(table, context)
    wide, high = right - left, top - bottom
    x0, y0, x1, y1 = room.bounds
    xs, ys = np.arange(x0, x1 - wide, STEP), np.arange(y0 + high, y1, STEP)
    if not xs.size or not ys.size:
        return None
    x, y = (v.ravel() for v in np.meshgrid(xs, ys))
    near = np.argsort(np.hypot(x + wide / 2, y - high / 2), kind="stable")
    boxes = shapely.box(x[near], y[near] - high, x[near] + wide, y[near])
    shapely.prepare(room)
    free = np.flatnonzero(shapely.covers(room, boxes))
    if not free.size:
        return None
    at = np.array([x[near][free[0]], y[near][free[0]]])
    return table.model_copy(update={"place": snapped_place(at, None, context)})
