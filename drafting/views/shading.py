"""Shaded pictures of a scene from the engine's rays: no graphics card, the same on every machine."""

import base64
import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from drafting.views.geometry import Shading
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.part import Bools
from drafting.views.visibility.scene import Scene, ViewRays

Floats = NDArray[np.float64]
LONGEST = 900
"""Pixels along the longer side."""
SUBPIXELS = 2
LAYERS = 10
VEIL = 0.28
"""How much of what lies behind it each wall of a part that is seen through takes."""
LIGHT = np.array([-0.45, 0.6, 0.66])
PLAIN = (0.80, 0.81, 0.80)


def shaded(
    scene: Scene,
    camera: Camera,
    colors: list[tuple[float, float, float] | None],
    low: list[float],
    high: list[float],
    clear: Bools,
) -> Shading:
    """A picture of the scene within low to high (view mm). colors: of each instance, 0 to 1, None for the
    plain one; clear: which are seen through."""
    width, height = high[0] - low[0], high[1] - low[1]
    pixel = max(width, height) / LONGEST
    columns, rows = max(1, round(width / pixel)) * SUBPIXELS, max(1, round(height / pixel)) * SUBPIXELS
    rays = ViewRays(scene, camera)
    nodes = rays.nodes
    x = low[0] + (np.arange(columns) + 0.5) * width / columns
    y = high[1] - (np.arange(rows) + 0.5) * height / rows
    front = float(nodes[:, 2].max()) + 1.0
    picture = np.zeros((rows, columns, 4), np.uint8)
    normals = _normals(scene, camera)
    palette = np.array([c or PLAIN for c in colors])
    owner = np.repeat(np.arange(len(scene.instances)), np.diff(scene.triangle_offsets))
    light = LIGHT / np.linalg.norm(LIGHT)
    for first in range(0, rows, 128):
        part = y[first : first + 128]
        origins = np.stack(
            [np.tile(x, len(part)), np.repeat(part, columns), np.full(len(part) * columns, front)], 1
        )
        block = np.zeros((len(part) * columns, 4))
        waiting = np.arange(len(block))
        for _ in range(LAYERS if clear.any() else 1):
            away, triangle = rays.first(origins[waiting], np.array([0.0, 0.0, -1.0]))
            hit = triangle >= 0
            waiting, away, t = waiting[hit], away[hit], triangle[hit]
            origins[waiting, 2] -= away + 1e-5 * scene.diagonal
            n = _at(normals, nodes, scene.triangles[t], origins[waiting])
            n[n[:, 2] < 0] *= -1
            strength = 0.34 + 0.58 * np.clip(n @ light, 0, 1) + 0.10 * n[:, 2]
            see_through = clear[owner[t]]
            share = (1 - block[waiting, 3]) * np.where(see_through, VEIL, 1.0)
            block[waiting, :3] += np.clip(palette[owner[t]] * strength[:, None], 0, 1) * share[:, None]
            block[waiting, 3] += share
            waiting = waiting[see_through]
        block[:, :3] /= np.maximum(block[:, 3:], 1e-9)
        picture[first : first + 128] = (
            (np.clip(block, 0, 1) * 255).astype(np.uint8).reshape(len(part), columns, 4)
        )
    image = Image.fromarray(picture, "RGBA").resize(
        (columns // SUBPIXELS, rows // SUBPIXELS), Image.Resampling.BOX
    )
    buffer = io.BytesIO()
    image.save(buffer, "PNG", optimize=True)
    return Shading(
        left=low[0],
        bottom=low[1],
        width=width,
        height=height,
        png=base64.b64encode(buffer.getvalue()).decode(),
    )


def _normals(scene: Scene, camera: Camera) -> Floats:
    return np.concatenate(
        [scene.parts[p].normals @ (camera.matrix @ m[:3, :3]).T for p, m in scene.instances]
    )


def _at(normals: Floats, nodes: Floats, triangles: NDArray[np.int64], points: Floats) -> Floats:
    """Normals between a triangle's corners at places over it."""
    a, b, c = nodes[triangles[:, 0], :2], nodes[triangles[:, 1], :2], nodes[triangles[:, 2], :2]
    u, v, w = b - a, c - a, points[:, :2] - a
    area = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]
    area = np.where(np.abs(area) < 1e-12, 1.0, area)
    s = np.clip((w[:, 0] * v[:, 1] - w[:, 1] * v[:, 0]) / area, 0, 1)[:, None]
    t = np.clip((u[:, 0] * w[:, 1] - u[:, 1] * w[:, 0]) / area, 0, 1)[:, None]
    n = normals[triangles[:, 0]] * (1 - s - t) + normals[triangles[:, 1]] * s + normals[triangles[:, 2]] * t
    out: Floats = n / np.maximum(np.linalg.norm(n, axis=1)[:, None], 1e-9)
    return out
