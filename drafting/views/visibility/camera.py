"""Where a view is looked at from: between model and view coordinates (x right, y up, z toward the viewer)."""

from dataclasses import dataclass

import numpy as np

from drafting.views.visibility.part import Floats


@dataclass
class Camera:
    """Rows right, up, toward (3, 3) and the model point at the view's origin; distance of the eye in front of
    it, None for parallel rays."""

    matrix: Floats
    middle: Floats
    distance: float | None = None

    def view(self, points: Floats) -> Floats:
        """Model to view coordinates, still without perspective."""
        out: Floats = (points - self.middle) @ self.matrix.T
        return out

    def model(self, points: Floats) -> Floats:
        """Points of the picture (n, 3) in model space."""
        out: Floats = points @ self.matrix + self.middle
        return out

    def flat(self, points: Floats) -> Floats:
        """View coordinates drawn together toward the eye, so that rays to it become parallel; straight lines
        stay straight."""
        if self.distance is None:
            return points
        factor = self.distance / np.maximum(self.distance - points[:, 2], 1e-6 * self.distance)
        out: Floats = points * factor[:, None]
        return out
