"""All curves of a view in view coordinates (x right, y up, z toward the viewer), before anything is
hidden."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from drafting.views.visibility.camera import Camera
from drafting.views.visibility.part import (
    CONVEX,
    COUNT,
    FACE_A,
    FACE_B,
    FORM,
    KIND,
    POLYLINE,
    SEAM,
    SENSE_A,
    SENSE_B,
    SILHOUETTE,
    SMOOTH,
    Bools,
    FacetedPart,
    Floats,
    Ints,
)
from drafting.views.visibility.scene import Scene
from drafting.views.visibility.silhouettes import Silhouettes, facing, silhouettes
from drafting.views.visibility.tangent_outlines import along_edges


@dataclass
class Curves:
    """Columns, one row a curve: instance, edge (row in the part's edges, -1 for a silhouette), class,
    convexity, faces at either side, senses, form; exact (K, 4, 3) rows C, X, Y, D; start and count of its
    nodes. Then nodes, one after another: points (N, 3), normals at either side, how far those face the
    viewer, parameter, and the curve each belongs to.
    """

    instance: Ints
    edge: Ints
    kind: Ints
    convex: Ints
    face_a: Ints
    face_b: Ints
    sense_a: Ints
    sense_b: Ints
    form: Ints
    exact: Floats
    start: Ints
    count: Ints
    points: Floats
    normals_a: Floats
    normals_b: Floats
    facing_a: Floats
    facing_b: Floats
    parameter: Floats
    owner: Ints
    curved_a: Bools
    curved_b: Bools

    def outlines(self) -> Bools:
        """Nodes at which a curve bounds what hides: convex silhouettes, ridges between a side seen and one
        turned away, free borders."""
        most, least = np.maximum(self.facing_a, self.facing_b), np.minimum(self.facing_a, self.facing_b)
        kind, convex = self.kind[self.owner], self.convex[self.owner]
        ridge = (kind != SMOOTH) & (convex > 0) & (most > 0) & (least <= 0)
        out: Bools = np.where(kind == SILHOUETTE, convex > 0, (convex == 0) | ridge)
        return out


def gather(
    scene: Scene, camera: Camera, cache: dict[object, Silhouettes] | None = None, smooth: bool = True
) -> Curves:
    """Edges and silhouettes of every instance. cache keeps silhouettes of parts by direction; smooth: with
    tangent edges."""
    described: list[dict[str, Ints]] = []
    exact: list[Floats] = []
    counts: list[Ints] = []
    points: list[Floats] = []
    first: list[Floats] = []
    second: list[Floats] = []
    facing_first: list[Floats] = []
    facing_second: list[Floats] = []
    parameters: list[Floats] = []
    curved: list[Bools] = []
    eye = None if camera.distance is None else np.array([0.0, 0.0, camera.distance])
    cache = {} if cache is None else cache
    for number, (index, matrix) in enumerate(scene.instances):
        part = scene.parts[index]
        turn, shift = matrix[:3, :3], matrix[:3, 3]
        rotation = camera.matrix @ turn
        origin = camera.matrix @ (shift - camera.middle)
        mirror = 1 if np.linalg.det(turn) > 0 else -1
        rows = part.edges
        nodes, na, nb, t = part.edge_nodes, part.edge_normals_a, part.edge_normals_b, part.edge_parameters
        form = part.edge_form
        found = _silhouettes(part, index, rotation, origin, eye, cache)
        left_out = (SEAM,) if smooth else (SMOOTH, SEAM)
        keep = ~np.isin(rows[:, KIND], left_out)
        edge_rows = np.flatnonzero(keep)
        if not keep.all():
            of_node = np.repeat(keep, rows[:, COUNT])
            nodes, na, nb, t = nodes[of_node], na[of_node], nb[of_node], t[of_node]
            rows, form = rows[keep], form[keep]
        if len(rows):
            described.append(_of_edges(number, edge_rows, rows, mirror))
            counts.append(rows[:, COUNT])
            exact.append(_moved(form, rotation, origin, rows[:, FORM] == POLYLINE))
            p = nodes @ rotation.T + origin
            points.append(p)
            a, b = na @ rotation.T, nb @ rotation.T
            toward = _toward(p, eye)
            first.append(a)
            second.append(b)
            facing_first.append(facing(a, toward))
            facing_second.append(facing(b, toward))
            parameters.append(t)
            curved.append(
                np.stack(
                    [
                        _is_curved(part.face_curved, rows[:, FACE_A]),
                        _is_curved(part.face_curved, rows[:, FACE_B]),
                    ],
                    1,
                )
            )
        if len(found.face):
            described.append(_of_silhouettes(number, found))
            counts.append(found.count)
            exact.append(_moved(found.exact, rotation, origin, found.form == POLYLINE))
            n = found.normals @ rotation.T
            points.append(found.points @ rotation.T + origin)
            first.append(n)
            second.append(n)
            facing_first.append(np.zeros(len(n)))
            facing_second.append(np.zeros(len(n)))
            parameters.append(found.parameters)
            curved.append(np.ones((len(found.face), 2), bool))
    count = _joined(counts, int)
    flags = np.concatenate(curved) if curved else np.zeros((0, 2), bool)
    return Curves(
        **{name: _joined([d[name] for d in described], int) for name in DESCRIBED},
        exact=np.concatenate(exact) if exact else np.zeros((0, 4, 3)),
        start=np.concatenate([[0], np.cumsum(count)])[:-1].astype(int),
        count=count,
        points=_joined(points, float, 3),
        normals_a=_joined(first, float, 3),
        normals_b=_joined(second, float, 3),
        facing_a=_joined(facing_first, float),
        facing_b=_joined(facing_second, float),
        parameter=_joined(parameters, float),
        owner=np.repeat(np.arange(len(count)), count),
        curved_a=flags[:, 0],
        curved_b=flags[:, 1],
    )


DESCRIBED = ("instance", "edge", "kind", "convex", "face_a", "face_b", "sense_a", "sense_b", "form")
"""Columns with a row a curve that edges and silhouettes fill by name."""


def _of_edges(number: int, edge_rows: Ints, rows: Ints, mirror: int) -> dict[str, Ints]:
    """What `DESCRIBED` says of a part's edges as an instance shows them. rows: of the part's edges; mirror:
    -1 where the instance is turned inside out."""
    return {
        "instance": np.full(len(rows), number),
        "edge": edge_rows,
        "kind": rows[:, KIND],
        "convex": rows[:, CONVEX],
        "face_a": rows[:, FACE_A],
        "face_b": rows[:, FACE_B],
        "sense_a": rows[:, SENSE_A] * mirror,
        "sense_b": rows[:, SENSE_B] * mirror,
        "form": rows[:, FORM],
    }


def _of_silhouettes(number: int, found: Silhouettes) -> dict[str, Ints]:
    """The same of an instance's silhouettes, which have a face at one side and no edge."""
    one = np.ones(len(found.face), int)
    return {
        "instance": one * number,
        "edge": -one,
        "kind": one * SILHOUETTE,
        "convex": found.convex,
        "face_a": found.face,
        "face_b": -one,
        "sense_a": one,
        "sense_b": 0 * one,
        "form": found.form,
    }


def _joined(parts: Sequence[NDArray[Any]], kind: type[int] | type[float], width: int = 0) -> NDArray[Any]:
    if parts:
        return np.concatenate(parts)
    return np.zeros((0, width) if width else 0, kind)


def _moved(form: Floats, rotation: Floats, origin: Floats, free: Bools) -> Floats:
    out: Floats = form @ rotation.T
    out[:, 0] += origin
    out[free] = 0.0
    return out


def _toward(points: Floats, eye: Floats | None) -> Floats:
    if eye is None:
        return np.array([0.0, 0.0, 1.0])
    rays = eye - points
    out: Floats = rays / np.linalg.norm(rays, axis=1)[:, None]
    return out


def _is_curved(face_curved: Bools, face: Ints) -> Bools:
    out: Bools = np.where(face >= 0, face_curved[np.maximum(face, 0)], False)
    return out


def _silhouettes(
    part: FacetedPart,
    index: int,
    rotation: Floats,
    origin: Floats,
    eye: Floats | None,
    cache: dict[object, Silhouettes],
) -> Silhouettes:
    if eye is not None:
        at = rotation.T @ (eye - origin)
        return silhouettes(part, None, at).joined(along_edges(part, None, at))
    toward = rotation[2]
    key = (index, tuple(np.round(toward, 9) + 0.0))
    if key not in cache:
        if len(cache) > 256:
            cache.clear()
        cache[key] = silhouettes(part, toward).joined(along_edges(part, toward))
    return cache[key]
