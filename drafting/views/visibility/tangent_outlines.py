"""Outlines along an edge in which two surfaces go over into each other, or one closes on itself: one side
faces the viewer there and the other does not, so that no surface turns away within a face."""

import numpy as np

from drafting.views.visibility.part import (
    COUNT,
    FACE_A,
    FACE_B,
    FORM,
    KIND,
    SEAM,
    SENSE_A,
    SENSE_B,
    SMOOTH,
    Bools,
    FacetedPart,
    Floats,
    Ints,
    cross,
)
from drafting.views.visibility.silhouettes import Silhouettes, facing


def along_edges(part: FacetedPart, toward: Floats | None, eye: Floats | None = None) -> Silhouettes:
    """Stretches of tangent edges and seams along which just one side faces the viewer, for a unit direction
    toward the viewer, or for an eye point (both in the part's frame)."""
    rows = part.edges
    chosen = np.isin(rows[:, KIND], (SMOOTH, SEAM)) & (rows[:, FACE_B] >= 0)
    if not chosen.any():
        return Silhouettes.none()
    owner = np.repeat(np.arange(len(rows)), rows[:, COUNT])
    node = np.flatnonzero(chosen[owner])
    ray = np.asarray(toward) if eye is None else _unit(eye - part.edge_nodes[node])
    fa, fb = facing(part.edge_normals_a[node], ray), facing(part.edge_normals_b[node], ray)
    between = ((fa > 0) & (fb < 0)) | ((fa < 0) & (fb > 0))
    step = (
        between[:-1] & between[1:] & (owner[node[:-1]] == owner[node[1:]]) & ((fa[:-1] > 0) == (fa[1:] > 0))
    )
    if not step.any():
        return Silhouettes.none()
    return _stretches(part, node, owner[node], fa > 0, step, ray)


def _stretches(
    part: FacetedPart, node: Ints, edge: Ints, a_seen: Bools, step: Bools, ray: Floats
) -> Silhouettes:
    """Runs of steps from node to node as outlines of the face that faces the viewer."""
    inner = np.concatenate([[False], step, [False]])
    head, tail = np.flatnonzero(~inner[:-1] & inner[1:]), np.flatnonzero(inner[:-1] & ~inner[1:])
    count = tail - head + 1
    rows = np.repeat(head, count) + np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    e, seen = part.edges[edge[head]], a_seen[head]
    points, nodes = part.edge_nodes[node[rows]], node[rows]
    normals = _unit(part.edge_normals_a[nodes] + part.edge_normals_b[nodes])
    middle = (head + tail) // 2
    before, after = node[np.maximum(middle - 1, head)], node[np.minimum(middle + 1, tail)]
    along, middle = part.edge_nodes[after] - part.edge_nodes[before], node[middle]
    sense = np.where(seen, e[:, SENSE_A], e[:, SENSE_B])[:, None]
    normal = np.where(seen[:, None], part.edge_normals_a[middle], part.edge_normals_b[middle])
    into = cross(normal, along * sense)
    sight = ray if ray.ndim == 1 else ray[(head + tail) // 2]
    convex = np.where((into * sight).sum(1) > 0, 1, -1)
    return Silhouettes(
        face=np.where(seen, e[:, FACE_A], e[:, FACE_B]),
        convex=convex,
        form=e[:, FORM],
        exact=part.edge_form[edge[head]],
        count=count,
        points=points,
        normals=normals,
        parameters=part.edge_parameters[nodes],
    )


def _unit(v: Floats) -> Floats:
    out: Floats = v / np.maximum(np.linalg.norm(v, axis=1)[:, None], 1e-12)
    return out
