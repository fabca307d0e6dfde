"""Triangles of a shape for the preview, as arrays."""

import numpy as np
from numpy.typing import NDArray
from OCP.BRep import BRep_Tool
from OCP.BRepMesh import BRepMesh_IncrementalMesh
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS

from drafting.kernel.topology import Shape, location_matrix, subshapes


def triangulate(
    shape: Shape, deflection: float, angle: float = 0.35
) -> tuple[NDArray[np.float64], NDArray[np.int32], NDArray[np.int32]]:
    """Triangulate a shape.

    deflection: largest distance from the true surface in mm; angle: largest turn between neighbors in
    radians. Returns nodes (n, 3) in mm, triangles (m, 3) as node indices turned outward, and the face index
    of each triangle (m,).
    """
    BRepMesh_IncrementalMesh(shape, deflection, False, angle, True)
    nodes: list[NDArray[np.float64]] = []
    triangles: list[NDArray[np.int32]] = []
    owners: list[NDArray[np.int32]] = []
    offset = 0
    for index, face in enumerate(subshapes(shape, Kind.TopAbs_FACE)):
        location = TopLoc_Location()
        mesh = BRep_Tool.Triangulation_s(TopoDS.Face(face), location)
        if mesh is None:
            continue
        points = np.array(
            [(p.X(), p.Y(), p.Z()) for p in (mesh.Node(i) for i in range(1, mesh.NbNodes() + 1))]
        )
        if not location.IsIdentity():
            m = np.array(location_matrix(location))
            points = points @ m[:3, :3].T + m[:3, 3]
        corners = (
            np.array([mesh.Triangle(i).Get() for i in range(1, mesh.NbTriangles() + 1)], dtype=np.int32) - 1
        )
        if str(face.Orientation()).endswith("REVERSED"):
            corners = corners[:, ::-1]
        nodes.append(points)
        triangles.append(corners + offset)
        owners.append(np.full(len(corners), index, dtype=np.int32))
        offset += len(points)
    if not nodes:
        return np.zeros((0, 3)), np.zeros((0, 3), np.int32), np.zeros(0, np.int32)
    return np.concatenate(nodes), np.concatenate(triangles), np.concatenate(owners)
