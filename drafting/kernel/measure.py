"""Exact volume and extents of shapes."""

import numpy as np
from numpy.typing import NDArray
from OCP.Bnd import Bnd_Box
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Pnt
from OCP.GProp import GProp_GProps

from drafting.kernel.topology import Shape, Vector, moved, solids

VOLUME_TOLERANCE = 1e-5
"""Relative tolerance for volumes. Without one the kernel was more than 1 % off on blended castings."""

SQUARE = 1e-12
"""How far a turn may be from whole quarters."""


def volume(shape: Shape) -> float:
    """Volume of all solids of a shape in mm3; 0 where there is none."""
    total = 0.0
    for solid in solids(shape):
        properties = GProp_GProps()
        BRepGProp.VolumeProperties_s(solid, properties, VOLUME_TOLERANCE)
        total += abs(properties.Mass())
    return total


def extents(shape: Shape) -> tuple[Vector, Vector]:
    """Smallest box along the axes, from exact geometry, as its two corners in mm."""
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    if box.IsVoid():
        return (0.0, 0.0, 0.0), (0.0, 0.0, 0.0)
    low, high = box.CornerMin(), box.CornerMax()
    return _clean(low), _clean(high)


def _clean(p: gp_Pnt) -> Vector:
    """The kernel widens boxes by its tolerance of 1e-7 mm; rounding takes that off again."""
    return (round(p.X(), 6) + 0.0, round(p.Y(), 6) + 0.0, round(p.Z(), 6) + 0.0)


class Extents:
    """The box around placed shapes as they come in. A shape is measured once for each way it is turned."""

    def __init__(self) -> None:
        self.low, self.high = np.full(3, np.inf), np.full(3, -np.inf)
        self._turned: dict[tuple[str, bytes], tuple[NDArray[np.float64], NDArray[np.float64]]] = {}

    def take(
        self, key: str, shape: Shape, matrix: list[list[float]], own: tuple[list[float], list[float]]
    ) -> None:
        """A shape (known by key) at a place, rows of a 4 x 4 matrix, mm. own: its box in its own frame, from
        which that of a shape follows that is turned by quarters only."""
        m = np.array(matrix, float)
        at = m[:3, 3].copy()
        m[:3, 3] = 0
        which = (key, m[:3, :3].round(9).tobytes())
        if which not in self._turned:
            turn = m[:3, :3]
            if np.abs(np.abs(turn) - np.abs(turn).round()).max() < SQUARE:
                ends = turn.round() * np.array(own[0]), turn.round() * np.array(own[1])
                self._turned[which] = np.minimum(*ends).sum(1), np.maximum(*ends).sum(1)
            else:
                box = extents(moved(shape, m.tolist()))
                self._turned[which] = np.array(box[0]), np.array(box[1])
        low, high = self._turned[which]
        self.low, self.high = (
            np.minimum(self.low, (low + at).round(6)),
            np.maximum(self.high, (high + at).round(6)),
        )
