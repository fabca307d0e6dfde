"""What the engine knows of one distinct part, independent of any view: arrays only, so that it can be kept
and sent as bytes."""

import io
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

Array = NDArray[Any]
Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
Bools = NDArray[np.bool_]

FACE_KINDS = ["plane", "cylinder", "cone", "sphere", "torus", "other"]
PLANE, CYLINDER, CONE, SPHERE, TORUS, FREE = range(6)
CURVED_KINDS = [CYLINDER, CONE, SPHERE, TORUS, FREE]
EDGE_FORMS = ["other", "line", "circle", "ellipse"]
POLYLINE, LINE = 0, 1

# columns of FacetedPart.edges
INDEX, KIND, CONVEX, FACE_A, FACE_B, SENSE_A, SENSE_B, FORM, COUNT, TABLE = range(10)


def cross(a: Array, b: Array) -> Floats:
    """Rows a times rows b (or one row); for short arrays several times quicker than the general product."""
    out: Floats = np.empty(np.broadcast_shapes(a.shape, b.shape))
    out[..., 0] = a[..., 1] * b[..., 2] - a[..., 2] * b[..., 1]
    out[..., 1] = a[..., 2] * b[..., 0] - a[..., 0] * b[..., 2]
    out[..., 2] = a[..., 0] * b[..., 1] - a[..., 1] * b[..., 0]
    return out


SHARP, SMOOTH, SILHOUETTE, CUT, THREAD, BREAK, STEP, SEAM = range(8)
CLASSES = ["sharp", "smooth", "silhouette", "cut", "thread", "break", "step", "seam"]
"""STEP edges bound what hides, and are never drawn; SEAM edges, where a surface closes on itself or two
faces are one surface, are neither: only an outline may run along them."""


@dataclass(frozen=True)
class FacetedPart:
    """A part in its own frame, mm.

    nodes, normals (n, 3) and triangles (m, 3), turned outward; no node is shared by two faces. edges (k, 10):
    index in the part's list of edges, class (as CLASSES), convexity (1, -1, 0 for a free border), the faces
    at either side (-1 for none), the sense in which each face runs along the edge, form, number of nodes,
    number of table points. edge_form (k, 4, 3): rows C, X, Y, D of C + X cos t + Y sin t + D t; a line's t
    runs from 0 to 1, a free curve has a table instead. edge_nodes, edge_normals_a, edge_normals_b (N, 3),
    edge_parameters (N,): all polylines one after another. face_...: one row a face; face_angle is a cone's
    half angle, face_minor a torus's tube radius; face_radius of a torus that is met beyond its axis, as the
    inner surface of one whose tube is wider than its ring, is negative.
    """

    linear: Array
    nodes: Array
    normals: Array
    triangles: Array
    triangle_face: Array
    node_face: Array
    face_kind: Array
    face_curved: Array
    face_origin: Array
    face_axis: Array
    face_radius: Array
    face_minor: Array
    face_angle: Array
    edges: Array
    edge_form: Array
    edge_nodes: Array
    edge_normals_a: Array
    edge_normals_b: Array
    edge_parameters: Array
    edge_tables: Array

    @cached_property
    def table_starts(self) -> Ints:
        """Where each edge's points begin in edge_tables."""
        return np.concatenate([[0], np.cumsum(self.edges[:, TABLE])]).astype(int)

    def to_bytes(self) -> bytes:
        """All arrays as one file."""
        buffer = io.BytesIO()
        np.savez(buffer, **{f.name: getattr(self, f.name) for f in fields(self)})
        return buffer.getvalue()

    @staticmethod
    def from_bytes(data: bytes) -> "FacetedPart":
        """The part of such a file."""
        with np.load(io.BytesIO(data), allow_pickle=False) as file:
            return FacetedPart(**{f.name: file[f.name] for f in fields(FacetedPart)})
