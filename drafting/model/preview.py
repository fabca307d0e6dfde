"""The 3D preview of a model as binary glTF: one mesh a part, one node an instance."""

import numpy as np
import trimesh
from trimesh.visual.material import PBRMaterial

from drafting.kernel.mesh import triangulate
from drafting.model.model import InstanceFacts, Model

QUIET_COLORS = [
    (0.72, 0.71, 0.67),
    (0.62, 0.66, 0.62),
    (0.70, 0.65, 0.58),
    (0.60, 0.62, 0.67),
    (0.68, 0.63, 0.68),
]
"""For parts whose file gives no color."""


def preview_glb(model: Model) -> bytes:
    """Triangulated model as a GLB file. Nodes are named by instance path; units are meters and y is up, as
    glTF has it."""
    scene = trimesh.Scene()
    diagonal = float(np.linalg.norm(np.subtract(model.facts.high, model.facts.low))) or 1.0
    up = np.array([[1, 0, 0, 0], [0, 0, 1, 0], [0, -1, 0, 0], [0, 0, 0, 1]], float)
    placed: dict[str, list[InstanceFacts]] = {}
    for i in model.facts.instances:
        placed.setdefault(i.part, []).append(i)
    for index, (key, shape) in enumerate(model.shapes.items()):
        nodes, triangles, owners = triangulate(shape, diagonal / 1500)
        if not len(triangles):
            continue
        color = model.facts.parts[key].color or QUIET_COLORS[index % len(QUIET_COLORS)]
        mesh = trimesh.Trimesh(nodes / 1000, triangles, process=False, face_attributes={"face": owners})
        rgba = [int(round(255 * c)) for c in color] + [255]
        mesh.visual = trimesh.visual.TextureVisuals(
            material=PBRMaterial(baseColorFactor=rgba, metallicFactor=0.1, roughnessFactor=0.75)
        )
        mesh.vertex_normals  # noqa: B018 - computed here so that the exporter writes them
        scene.geometry[key] = mesh
        for instance in placed.get(key, []):
            m = np.array(instance.matrix, float)
            m[:3, 3] /= 1000
            scene.graph.update(
                frame_to=instance.path, frame_from=scene.graph.base_frame, matrix=up @ m, geometry=key
            )
    return bytes(scene.export(file_type="glb"))
