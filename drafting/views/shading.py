"""Shaded pictures of a scene from the engine's rays: no graphics card, the same on every machine."""

import base64
import io

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from drafting.views.geometry import Shading
from drafting.views.visibility.curves import Camera
from drafting.views.visibility.scene import Rays, Scene

Floats = NDArray[np.float64]
LONGEST = 900
"""Pixels along the longer side."""
SUBPIXELS = 2
LIGHT = np.array([-0.45, 0.6, 0.66])
PLAIN = (0.80, 0.81, 0.80)


def shaded(scene: Scene, camera: Camera, colors: list[tuple[float, float, float] | None], low: list[float], high: list[float]) -> Shading:
    """A picture of the scene within low to high (view mm). colors: of each instance, 0 to 1, None for the plain one."""
    width, height = high[0] - low[0], high[1] - low[1]
    pixel = max(width, height) / LONGEST
    columns, rows = max(1, round(width / pixel)) * SUBPIXELS, max(1, round(height / pixel)) * SUBPIXELS
    nodes = camera.flat(camera.view(scene.nodes))
    rays = Rays(nodes, scene.triangles)
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
        origins = np.stack([np.tile(x, len(part)), np.repeat(part, columns), np.full(len(part) * columns, front)], 1)
        _, triangle = rays.first(origins, np.array([0.0, 0.0, -1.0]))
        hit = np.flatnonzero(triangle >= 0)
        t = triangle[hit]
        n = _at(normals, nodes, scene.triangles[t], origins[hit])
        n[n[:, 2] < 0] *= -1
        strength = 0.34 + 0.58 * np.clip(n @ light, 0, 1) + 0.10 * n[:, 2]
        color = np.clip(palette[owner[t]] * strength[:, None], 0, 1)
        block = np.zeros((len(part) * columns, 4), np.uint8)
        block[hit, :3] = (color * 255).astype(np.uint8)
        block[hit, 3] = 255
        picture[first : first + 128] = block.reshape(len(part), columns, 4)
    image = Image.fromarray(picture, "RGBA").resize((columns // SUBPIXELS, rows // SUBPIXELS), Image.Resampling.BOX)
    buffer = io.BytesIO()
    image.save(buffer, "PNG", optimize=True)
    return Shading(left=low[0], bottom=low[1], width=width, height=height, png=base64.b64encode(buffer.getvalue()).decode())


def _normals(scene: Scene, camera: Camera) -> Floats:
    return np.concatenate([scene.parts[p].normals @ (camera.matrix @ m[:3, :3]).T for p, m in scene.instances])


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
