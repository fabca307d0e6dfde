"""The scene of a cut model: every instance cut, left whole or left out, with the sources of what the cut left
and made."""

import math
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from drafting.errors import ViewError
from drafting.kernel.cutting import FlatFace, Prism, flat_face, keep, remove
from drafting.kernel.facets import facet
from drafting.kernel.topology import Shape, Topology, describe
from drafting.kernel.topology import placed as placed_shape
from drafting.model.model import Model
from drafting.views.derivation import Cut, Derivation, Side
from drafting.views.visibility.part import (
    BREAK,
    CUT,
    FACE_A,
    FACE_B,
    INDEX,
    KIND,
    SHARP,
    SMOOTH,
    STEP,
    FacetedPart,
)
from drafting.views.visibility.scene import Scene

Floats = NDArray[np.float64]
TOUCHES = 1e-4
"""Points nearer than this to a side of a cut, mm, lie on it."""


@dataclass
class Placed:
    """An instance of the scene: which instance of the model it is, and for its faces and edges those of the
    model's part.

    faces, edges: indices, -1 where the cut made it; None where they are the part's own. beside: for an edge
    that the cut made, the face of the part in which it lies. cut_faces: flat faces in model coordinates
    (turned with their leg).
    """

    instance: int
    faces: list[int] | None = None
    edges: list[int] | None = None
    beside: dict[int, int] | None = None
    cut_faces: tuple[FlatFace, ...] = ()
    is_whole: bool = True


def cut_scene(
    model: Model, faceted: dict[str, FacetedPart], topologies: dict[str, Topology], d: Derivation
) -> tuple[Scene, list[Placed]]:
    """Parts left whole stay where the cut runs through them, and go where they lie in what it takes away.
    Raises ViewError where the cut misses every part that is to be cut, or the kernel cannot cut one."""
    parts: list[FacetedPart] = []
    instances: list[tuple[int, Floats]] = []
    placed: list[Placed] = []
    known: dict[str, int] = {}
    met = touched = False

    def add(part: FacetedPart, matrix: Floats, row: Placed) -> None:
        parts.append(part)
        instances.append((len(parts) - 1, matrix))
        placed.append(row)

    def add_own(number: int, matrix: Floats) -> None:
        key = model.facts.instances[number].part
        if key not in known:
            known[key] = len(parts)
            parts.append(faceted[key])
        instances.append((known[key], matrix))
        placed.append(Placed(number))

    for number, instance in enumerate(model.facts.instances):
        if instance.path in d.without:
            continue
        matrix = np.array(instance.matrix)
        fact, part = model.facts.parts[instance.part], faceted[instance.part]
        corners = _corners(fact.low, fact.high) @ matrix[:3, :3].T + matrix[:3, 3]
        whole = instance.path in d.whole or not d.is_cut
        for turn, keeps, tools in _ways(d):
            place = [_position(c, corners) for c in tools]
            if "crossed" in place:  # its box is; its triangles tell more
                nodes = part.nodes @ matrix[:3, :3].T + matrix[:3, 3]
                if whole:
                    place = [_lies(_depth(c, nodes)) for c in tools]
            else:
                nodes = corners
            touched = touched or (not met and any(_touches(c, nodes) for c in tools))
            gone = "outside" in place if keeps else "inside" in place
            if gone or (whole and keeps and not _beside(tools[0], corners.mean(0))):
                continue
            if whole or "crossed" not in place:
                add_own(number, turn @ matrix)
                continue
            if instance.part not in topologies:
                topologies[instance.part] = describe(model.shapes[instance.part])
            shape, topology = placed_shape(
                model.shapes[instance.part], topologies[instance.part], instance.matrix
            )
            done = _cut(
                shape,
                topology,
                [c for c, p in zip(tools, place, strict=True) if p == "crossed"],
                keeps,
                d.steps,
            )
            if done is None:
                continue
            shape, topology, faces, edges, tags = done
            part = facet(shape, math.dist(fact.low, fact.high) or 1.0, topology)
            part, beside = _classed(part, faces, tags, d.steps)
            flats = tuple(
                _turned(flat_face(topology.face_shapes[i]), turn)
                for i, tag in enumerate(tags)
                if tag == "cut"
            )
            met = met or bool(flats)
            add(part, turn, Placed(number, faces, edges, beside, flats, False))
    if d.is_cut and not met:
        if touched:
            raise ViewError(
                "The cut only touches the model or runs along a face of it; move its line into the part."
            )
        raise ViewError("The cut does not meet any part that is to be cut.")
    return Scene(parts, instances), placed


def _ways(d: Derivation) -> list[tuple[Floats, bool, list[Cut]]]:
    """Each way an instance comes into the scene: its turn, whether the tools keep (else take away), and the
    tools."""
    if d.legs:
        return [(np.array(leg.turn), True, [leg.keep]) for leg in d.legs]
    return [(np.eye(4), False, d.cuts)]


def _corners(low: list[float], high: list[float]) -> Floats:
    return np.array(
        [[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
    )


def _plane(tool: Cut) -> tuple[Floats, Floats, Floats, shapely.Polygon]:
    sweep = np.array(tool.sweep)
    p = np.array(tool.polygon)
    axis = sweep / np.linalg.norm(sweep)
    x = p[1] - p[0]
    x -= (x @ axis) * axis
    x /= np.linalg.norm(x)
    rows = np.stack([x, np.cross(axis, x)])
    return rows, axis, p[0], shapely.Polygon((p - p[0]) @ rows.T)


def _position(tool: Cut, corners: Floats) -> str:
    """Whether a box lies outside a prism, inside it, or may be crossed by its sides."""
    rows, axis, origin, polygon = _plane(tool)
    along = (corners - origin) @ axis
    box = shapely.MultiPoint((corners - origin) @ rows.T).convex_hull
    if (
        along.max() <= 1e-7
        or along.min() >= np.linalg.norm(tool.sweep) - 1e-7
        or polygon.intersection(box).area <= 1e-7 * max(box.area, 1e-9)
    ):
        return "outside"
    if along.min() >= 0 and along.max() <= np.linalg.norm(tool.sweep) and polygon.covers(box):
        return "inside"
    return "crossed"


def _depth(tool: Cut, points: Floats) -> Floats:
    """How deep points lie in a prism, mm; below 0 outside of it."""
    rows, axis, origin, polygon = _plane(tool)
    along = (points - origin) @ axis
    places = shapely.points((points - origin) @ rows.T)
    shapely.prepare(polygon)
    aside = shapely.distance(polygon.exterior, places)
    out: Floats = np.minimum(
        np.where(shapely.contains(polygon, places), aside, -aside),
        np.minimum(along, np.linalg.norm(tool.sweep) - along),
    )
    return out


def _touches(tool: Cut, points: Floats) -> bool:
    """Whether one of the points lies on a side of a prism."""
    return bool(np.abs(_depth(tool, points)).min(initial=1.0) < TOUCHES)


def _lies(depth: Floats) -> str:
    """Where a part that is left whole lies, whose points are so deep in a prism."""
    inside, outside = bool((depth > TOUCHES).any()), bool((depth < -TOUCHES).any())
    return "crossed" if inside and outside else "inside" if inside else "outside"


def _beside(tool: Cut, point: Floats) -> bool:
    """Whether a point lies beside the first side of a prism, where a leg of the cutting line runs."""
    a, b = np.array(tool.polygon[0]), np.array(tool.polygon[1])
    return bool(0 <= (point - a) @ (b - a) <= (b - a) @ (b - a))


def _cut(
    shape: Shape, topology: Topology, tools: list[Cut], keeps: bool, steps: bool
) -> tuple[Shape, Topology, list[int], list[int], list[Side | None]] | None:
    """The shape after all tools: with its topology, sources of faces and edges in the first shape, and what
    made each face."""
    faces, edges = list(range(len(topology.faces))), list(range(len(topology.edges)))
    tags: list[Side | None] = [None] * len(faces)
    for tool in tools:
        prism = Prism(
            tuple((p[0], p[1], p[2]) for p in tool.polygon), (tool.sweep[0], tool.sweep[1], tool.sweep[2])
        )
        result = (keep if keeps else remove)(shape, topology, prism)
        if result is None:
            return None
        sides: list[Side] = [*tool.sides, *tool.caps]
        tags = [None if f is None else tags[f] if f >= 0 else sides[-1 - f] for f in result.faces]
        faces = [faces[f] if f is not None and f >= 0 else -1 for f in result.faces]
        edges = [edges[e] if e >= 0 else -1 for e in result.edges]
        shape, topology = result.shape, result.topology
    return shape, topology, faces, edges, tags


def _classed(
    part: FacetedPart, faces: list[int], tags: list[Side | None], steps: bool
) -> tuple[FacetedPart, dict[int, int]]:
    """Classes of the edges beside faces that the cut made, and the part's own face beside each."""
    rows = part.edges.copy()
    beside: dict[int, int] = {}
    for row in rows:
        pair = [f for f in (int(row[FACE_A]), int(row[FACE_B])) if f >= 0]
        made = [tags[f] for f in pair]
        if not any(made):
            if row[KIND] == SMOOTH and len(pair) == 2 and faces[pair[0]] == faces[pair[1]]:
                row[KIND] = STEP  # the seam of a surface that the cut opened
            continue
        own = [faces[f] for f in pair if faces[f] >= 0]
        if own:
            beside[int(row[INDEX])] = own[0]
        if "far" in made:
            row[KIND] = STEP
        elif "break" in made:
            row[KIND] = BREAK
        elif "step" in made or made.count("cut") == 2:
            row[KIND] = SHARP if steps else STEP
        else:
            row[KIND] = CUT
    return replace(part, edges=rows), beside


def _turned(face: FlatFace, turn: Floats) -> FlatFace:
    def place(points: Any) -> Any:
        return tuple(map(tuple, (np.array(points) @ turn[:3, :3].T + turn[:3, 3]).tolist()))

    return FlatFace(tuple(place(loop) for loop in face.loops), face.area)
