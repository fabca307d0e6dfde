"""Shapes to bytes and back, in the kernel's own binary form, for the cache of prepared models."""

import io

from OCP.BinTools import BinTools
from OCP.TopoDS import TopoDS_Shape

from drafting.kernel.topology import Shape


def shape_to_bytes(shape: Shape) -> bytes:
    """A kernel shape in the kernel's binary form."""
    stream = io.BytesIO()
    BinTools.Write_s(shape, stream)
    return stream.getvalue()


def shape_from_bytes(data: bytes) -> Shape:
    """The shape of such bytes. Raises ModelError for others."""
    shape = TopoDS_Shape()
    BinTools.Read_s(shape, io.BytesIO(data))
    return shape
