"""Exact volume and extents of shapes."""

from OCP.Bnd import Bnd_Box
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps

from drafting.kernel.topology import Shape, Vector, solids

VOLUME_TOLERANCE = 1e-5
"""Relative tolerance for volumes. Without one the kernel was more than 1 % off on blended castings."""


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
    return (low.X(), low.Y(), low.Z()), (high.X(), high.Y(), high.Z())
