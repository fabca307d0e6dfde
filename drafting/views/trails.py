"""What is seen of the trail lines of an exploded view: the pieces that nothing stands before."""

import numpy as np
from numpy.typing import NDArray

from drafting.views.derivation import TrailPath
from drafting.views.geometry import Trail
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.scene import ViewRays

Array = NDArray[np.float64]
STEP = 0.002
"""How finely a trail is tried for what is before it, as a share of the model's size."""


def seen_trails(paths: list[TrailPath], rays: ViewRays, camera: Camera, diagonal: float) -> list[Trail]:
    """The pieces of trails that nothing hides, view mm."""
    out = []
    for path in paths:
        points = np.array(path.points)
        for a, b in zip(points, points[1:], strict=False):
            count = max(2, int(np.linalg.norm(b - a) / (STEP * diagonal)) + 1)
            flat = camera.flat(camera.view(a + (b - a) * np.linspace(0, 1, count)[:, None]))
            hidden = rays.blocked(flat + [0.0, 0.0, 1e-4 * diagonal], np.array([0.0, 0.0, 1.0]))
            edges = np.flatnonzero(np.diff(np.concatenate([[False], ~hidden, [False]]).astype(int)))
            for first, last in zip(edges[::2], edges[1::2] - 1, strict=True):
                if last > first:
                    out.append(
                        Trail(
                            instances=path.instances,
                            data=[round(float(v), 6) for v in (*flat[first][:2], *flat[last][:2])],
                        )
                    )
    return out
