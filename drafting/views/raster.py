"""Triangles painted into a raster, the nearest to the viewer on top."""

import math

import numpy as np

from drafting.compiled import compiled
from drafting.views.visibility.part import Floats, Ints

SHARED = 1e-9
"""How far beyond its sides a triangle covers, in cells: neighbors leave no gap between them."""


@compiled("(float64[:,::1], int64[:,::1], f8, f8, f8, int64, int64)")
def nearest_triangles(
    nodes: Floats, triangles: Ints, left: float, bottom: float, cell: float, columns: int, rows: int
) -> Ints:
    """The triangle nearest to the viewer at the middle of each cell (rows, columns), -1 for none; triangles
    seen edge-on cover nothing. nodes (n, 3): as drawn, z toward the viewer; left, bottom: lower left corner
    of the raster, cell: side of its cells, mm; row 0 is the lowest."""
    found = np.full((rows, columns), -1, np.int64)
    depth = np.full((rows, columns), -np.inf)
    for k in range(len(triangles)):
        a, b, c = triangles[k, 0], triangles[k, 1], triangles[k, 2]
        # in cells, counted from the middle of the first
        ax, ay, az = (nodes[a, 0] - left) / cell - 0.5, (nodes[a, 1] - bottom) / cell - 0.5, nodes[a, 2]
        bx, by, bz = (nodes[b, 0] - left) / cell - 0.5, (nodes[b, 1] - bottom) / cell - 0.5, nodes[b, 2]
        cx, cy, cz = (nodes[c, 0] - left) / cell - 0.5, (nodes[c, 1] - bottom) / cell - 0.5, nodes[c, 2]
        area = (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
        if abs(area) < 1e-12:
            continue
        rise_x = ((bz - az) * (cy - ay) - (cz - az) * (by - ay)) / area
        rise_y = ((cz - az) * (bx - ax) - (bz - az) * (cx - ax)) / area
        first_row = max(int(math.ceil(min(ay, by, cy))), 0)
        last_row = min(int(math.floor(max(ay, by, cy))), rows - 1)
        for row in range(first_row, last_row + 1):
            # where the row enters and leaves the triangle
            enter, leave = np.inf, -np.inf
            for x0, y0, x1, y1 in ((ax, ay, bx, by), (bx, by, cx, cy), (cx, cy, ax, ay)):
                if (y0 <= row <= y1) or (y1 <= row <= y0):
                    if y0 == y1:
                        enter, leave = min(enter, x0, x1), max(leave, x0, x1)
                    else:
                        x = x0 + (row - y0) / (y1 - y0) * (x1 - x0)
                        enter, leave = min(enter, x), max(leave, x)
            if enter > leave:
                continue
            for column in range(
                max(int(math.ceil(enter - SHARED)), 0), min(int(math.floor(leave + SHARED)), columns - 1) + 1
            ):
                z = az + (column - ax) * rise_x + (row - ay) * rise_y
                if z > depth[row, column]:
                    depth[row, column] = z
                    found[row, column] = k
    return found
