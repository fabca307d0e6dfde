"""Which instance of an assembly is seen where in a view: a raster, for balloons and for pointing at faces."""

import numpy as np

from drafting.views.geometry import Seen
from drafting.views.raster import nearest_triangles
from drafting.views.visibility.part import Floats
from drafting.views.visibility.scene import Scene

CELLS = 400
"""Cells along the longer side."""


def seen(scene: Scene, nodes: Floats, instances: list[int], low: list[float], high: list[float]) -> Seen:
    """Look at every cell's middle. nodes (n, 3): of the scene, as drawn; instances: number in the model of
    each instance of the scene."""
    cell = max(high[0] - low[0], high[1] - low[1], 1e-6) / CELLS
    columns, rows = (
        max(1, int(np.ceil((high[0] - low[0]) / cell))),
        max(1, int(np.ceil((high[1] - low[1]) / cell))),
    )
    triangle = nearest_triangles(nodes, scene.triangles, low[0], low[1], cell, columns, rows).ravel()
    owner = np.repeat(np.array(instances), np.diff(scene.triangle_offsets))
    found = np.where(triangle >= 0, owner[np.maximum(triangle, 0)], -1)
    starts = np.concatenate([[0], np.flatnonzero(np.diff(found)) + 1])
    counts = np.diff(np.append(starts, len(found)))
    return Seen(
        left=low[0],
        bottom=low[1],
        cell=cell,
        columns=columns,
        rows=rows,
        runs=np.stack([counts, found[starts]], 1).ravel().tolist(),
    )
