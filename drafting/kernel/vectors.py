"""Places and directions of the kernel as plain floats."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

Vector = tuple[float, float, float]
Array = NDArray[np.float64]


def vector(v: Any) -> Vector:
    """A kernel point, vector or direction as three floats."""
    return (v.X(), v.Y(), v.Z())


def vector_of(v: Array) -> Vector:
    """An array (3,) as three floats."""
    return (float(v[0]), float(v[1]), float(v[2]))
