"""Placed parts with a tree for rays: built once for a set of instances and kept between views."""

from collections.abc import Sequence

import numpy as np
from embreex import rtcore_scene
from embreex.mesh_construction import TriangleMesh

from drafting.views.visibility.camera import Camera
from drafting.views.visibility.part import Bools, FacetedPart, Floats, Ints


class Rays:
    """A ray tree over triangles. Coordinates are centered before they become single precision."""

    def __init__(self, nodes: Floats, triangles: Ints) -> None:
        self.center = (nodes.min(0) + nodes.max(0)) / 2 if len(nodes) else np.zeros(3)
        self._tree = rtcore_scene.EmbreeScene(robust=True)
        self.empty = not len(triangles)
        if not self.empty:
            self._mesh = TriangleMesh(
                self._tree, (nodes - self.center).astype(np.float32), triangles.astype(np.int32)
            )

    def blocked(self, origins: Floats, direction: Floats) -> Bools:
        """Whether a triangle lies on each ray. origins (n, 3), direction (3,)."""
        if self.empty or not len(origins):
            return np.zeros(len(origins), bool)
        o = np.ascontiguousarray(origins - self.center, np.float32)
        d = np.ascontiguousarray(np.broadcast_to(direction, o.shape), np.float32)
        hit: Bools = self._tree.run(o, d, query="OCCLUDED") != -1
        return hit

    def first(self, origins: Floats, directions: Floats) -> tuple[Floats, Ints]:
        """Distance and triangle of the first hit of each ray; triangle -1 for none. directions (3,) or (n,
        3)."""
        if self.empty or not len(origins):
            return np.full(len(origins), np.inf), np.full(len(origins), -1)
        o = np.ascontiguousarray(origins - self.center, np.float32)
        d = np.ascontiguousarray(np.broadcast_to(directions, o.shape), np.float32)
        out = self._tree.run(o, d, query="INTERSECT", output=1)
        triangle = np.where(out["geomID"] == -1, -1, out["primID"].astype(np.int64))
        return np.where(triangle < 0, np.inf, out["tfar"].astype(np.float64)), triangle


class ViewRays:
    """Rays given in view coordinates, as a camera draws them together: through the scene's own tree where
    they are parallel."""

    def __init__(self, scene: "Scene", camera: Camera) -> None:
        self.nodes = camera.flat(camera.view(scene.nodes))
        self._camera = camera
        self._rays = scene.rays if camera.distance is None else Rays(self.nodes, scene.triangles)

    def _turned(self, origins: Floats, directions: Floats) -> tuple[Floats, Floats]:
        if self._camera.distance is not None:
            return origins, directions
        return self._camera.model(origins), np.asarray(directions @ self._camera.matrix)

    def blocked(self, origins: Floats, direction: Floats) -> Bools:
        """Whether rays from origins (n, 3) along one direction meet anything: (n,)."""
        return self._rays.blocked(*self._turned(origins, direction))

    def first(self, origins: Floats, directions: Floats) -> tuple[Floats, Ints]:
        """How far rays go until they meet something, mm (inf where they do not), and the triangle they meet:
        (n,) each."""
        return self._rays.first(*self._turned(origins, directions))


class Scene:
    """Instances of faceted parts in model space.

    parts: distinct parts; instances: part number and rigid 4 x 4 matrix (rows, mm; may mirror) of each.
    """

    def __init__(self, parts: Sequence[FacetedPart], instances: Sequence[tuple[int, Floats]]) -> None:
        self.parts = list(parts)
        self.instances = [(p, np.asarray(m, float)) for p, m in instances]
        counts = [len(self.parts[p].nodes) for p, _ in self.instances]
        offsets = np.concatenate([[0], np.cumsum(counts)]).astype(int)
        nodes = [self.parts[p].nodes @ m[:3, :3].T + m[:3, 3] for p, m in self.instances]
        triangles = []
        for (p, m), offset in zip(self.instances, offsets, strict=False):
            t = self.parts[p].triangles + offset
            triangles.append(t[:, ::-1] if np.linalg.det(m[:3, :3]) < 0 else t)
        self.nodes = np.concatenate(nodes) if nodes else np.zeros((0, 3))
        self.triangles = np.concatenate(triangles) if triangles else np.zeros((0, 3), int)
        self.triangle_offsets = np.concatenate([[0], np.cumsum([len(t) for t in triangles])]).astype(int)
        self.low = np.array([n.min(0) if len(n) else np.zeros(3) for n in nodes]).reshape(-1, 3)
        self.high = np.array([n.max(0) if len(n) else np.zeros(3) for n in nodes]).reshape(-1, 3)
        span = (self.high.max(0) - self.low.min(0)) if nodes else np.ones(3)
        self.diagonal = float(np.linalg.norm(span)) or 1.0
        self.rays = Rays(self.nodes, self.triangles)
        self.linear = np.array([float(self.parts[p].linear) for p, _ in self.instances])

    def crowded(self, margin: float) -> Bools:
        """Instances whose extents overlap another's: only they can be pierced by another's faces."""
        out = np.zeros(len(self.instances), bool)
        for i in range(len(self.instances)):
            near = ((self.low < self.high[i] - margin) & (self.high > self.low[i] + margin)).all(1)
            near[i] = False
            out[i] = bool(near.any())
        return out
