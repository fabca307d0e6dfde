"""Features of size, planes of symmetry, and what is likely a datum.

A feature of size is a cylinder, a sphere, or two planes that look in opposite directions and lie across from
each other (ISO 14405-1, ASME Y14.5).
"""

import math
from collections import defaultdict
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely
from scipy.spatial import cKDTree

from drafting.features.body import Array, Body, upright
from drafting.features.feature import Vec3, vec3
from drafting.features.flat_sided import points
from drafting.features.walls import walls
from drafting.model.model import EdgeFact, FaceFact

MOST = 400
"""Planes of one direction that are compared with each other; more are left alone."""
PITCH = math.radians(5)
"""Step in which arcs of an outline are taken for its area."""


@dataclass(frozen=True)
class FeatureOfSize:
    """A cylinder or a sphere by its diameter, or a width; inner: whether its material is outside, as of a
    hole or a slot. at: its middle; direction: of a cylinder's axis, or across a width."""

    kind: Literal["cylinder", "sphere", "width"]
    size: float
    inner: bool
    faces: tuple[str, ...]
    at: Vec3
    direction: Vec3
    length: float = 0.0


def sizes(body: Body) -> list[FeatureOfSize]:
    """All features of size of a part."""
    return [*_round(body), *_widths(body)]


def _round(body: Body) -> list[FeatureOfSize]:
    out = []
    for axis in body.axes:
        for hollow in (False, True):
            for wall in walls(body, axis, hollow):
                if wall.kind == "cylinder" and wall.gap < math.pi - 1e-3:
                    at, way = vec3(axis.at((wall.t0 + wall.t1) / 2)), vec3(axis.direction)
                    names = tuple(sorted(wall.names))
                    long = wall.t1 - wall.t0
                    out.append(FeatureOfSize("cylinder", 2 * wall.r0, hollow, names, at, way, long))
    for face in body.part.faces:
        if face.kind == "sphere" and face.hollow is not None:
            at, way = vec3(np.array(face.origin)), (0.0, 0.0, 1.0)
            out.append(FeatureOfSize("sphere", 2 * face.radius, face.hollow, (face.name,), at, way))
    return out


def _widths(body: Body) -> list[FeatureOfSize]:
    groups: dict[tuple[float, ...], list[FaceFact]] = defaultdict(list)
    for face in body.part.faces:
        if face.kind == "plane":
            groups[tuple((np.round(upright(np.array(face.axis)), 5) + 0.0).tolist())].append(face)
    return [width for group in groups.values() if 1 < len(group) <= MOST for width in _across(body, group)]


def _across(body: Body, group: list[FaceFact]) -> list[FeatureOfSize]:
    """Widths between parallel planes that see each other, through material or through air."""
    normal = upright(np.array(group[0].axis))
    flat = _flat(normal)
    level = [float(np.array(f.origin) @ normal) for f in group]
    regions = [_region(body, f, flat) for f in group]
    up = [n for n, f in enumerate(group) if float(np.array(f.axis) @ normal) > 0]
    down = [n for n in range(len(group)) if n not in set(up)]
    tree = shapely.STRtree([regions[m] for m in down])
    out = []
    for n in up:
        near = [down[int(k)] for k in tree.query(regions[n], predicate="intersects")]
        for inner in (False, True):
            beyond = [m for m in near if (level[m] - level[n]) * (1 if inner else -1) > body.near]
            left = regions[n]
            for m in sorted(beyond, key=lambda m: abs(level[m] - level[n])):
                seen = left.intersection(regions[m])
                if seen.area <= body.near * body.size:
                    continue
                left = left.difference(regions[m])
                middle = np.array(seen.centroid.coords[0])
                at = flat @ middle + normal * (level[n] + level[m]) / 2
                names = (group[n].name, group[m].name)
                size = abs(level[n] - level[m])
                out.append(FeatureOfSize("width", size, inner, names, vec3(at), vec3(normal)))
    return out


def _flat(normal: Array) -> Array:
    """Two directions of a plane (3, 2)."""
    x = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
    x = x / np.linalg.norm(x)
    return np.stack([x, np.cross(normal, x)], 1)


def _region(body: Body, face: FaceFact, flat: Array) -> shapely.Geometry:
    """A plane face as a region; its arcs by steps."""
    lines = [shapely.LineString(np.round(_along(e) @ flat, 6)) for e in body.of_face[face.name]]
    return shapely.build_area(shapely.MultiLineString(lines)) if lines else shapely.Polygon()


# ---- symmetry ----------------------------------------------------------------------------------------------
def symmetry(body: Body) -> list[tuple[Vec3, Vec3]]:
    """Planes that a part is the same on both sides of: a point of each and its normal. Tried: the middle of
    the part, square to its planes and its axes."""
    marks = _marks(body.part.edges)
    if len(marks) < 3:
        return []
    ways: dict[tuple[float, ...], Array] = {}
    for face in body.part.faces:
        if face.kind in ("plane", "cylinder", "cone"):
            way = upright(np.array(face.axis))
            ways.setdefault(tuple((np.round(way, 4) + 0.0).tolist()), way)
    tree = cKDTree(marks)
    out: list[tuple[Vec3, Vec3]] = []
    for way in list(ways.values())[:60]:
        along = marks[:, :3] @ way
        middle = float(along.max() + along.min()) / 2
        mirrored = marks.copy()
        mirrored[:, :3] -= 2 * np.outer(along - middle, way)
        away, _ = tree.query(mirrored)
        if float(away.max()) < 5 * body.near:
            out.append((vec3(way * middle), vec3(way)))
    return out


def _marks(edges: list[EdgeFact]) -> Array:
    """Places of edges with their lengths (n, 4): middles, and of closed ones centers."""
    rows = []
    for e in edges:
        if len(set(e.faces)) < 2 or (e.closed and e.center is None):
            continue  # a seam lies anywhere, and so does the end of a closed curve
        place = e.center if e.closed and e.center is not None else e.middle
        rows.append([*place, e.length])
        if not e.closed:
            rows += [[*e.start, 0.0], [*e.end, 0.0]]
    return np.array(rows, float).reshape(-1, 4)


# ---- datums ------------------------------------------------------------------------------------------------
@dataclass(frozen=True)
class Likely:
    """A face, or a feature of size, that is likely a datum, and why."""

    faces: tuple[str, ...]
    why: str
    at: Vec3
    direction: Vec3
    size: float
    """The area of a plane, mm2, or the diameter of a bore or a shaft, mm."""


def area(body: Body, face: FaceFact) -> float:
    """Of a plane face, mm2, to about a tenth of a percent."""
    return float(_region(body, face, _flat(np.array(face.axis))).area)


def _along(edge: EdgeFact) -> Array:
    """Points along an edge (n, 3)."""
    if edge.kind in ("circle", "ellipse") and edge.center and edge.axis and edge.x_axis:
        count = max(3, math.ceil(abs(edge.last - edge.first) / PITCH) + 1)
        t = np.linspace(edge.first, edge.last, count)[:, None]
        x = np.array(edge.x_axis)
        y = np.cross(np.array(edge.axis), x)
        inner = np.array(edge.center) + x * edge.radius * np.cos(t) + y * edge.minor_radius * np.sin(t)
        ends = [edge.start, edge.end] if not edge.closed else [edge.start, edge.start]
        return np.concatenate([[ends[0]], inner[1:-1], [ends[1]]])
    return np.array([edge.start, edge.end] if edge.kind == "line" else [edge.start, edge.middle, edge.end])


def likely_datums(body: Body) -> list[Likely]:
    """The largest plane, and the largest of the bores and shafts by diameter and length."""
    out = []
    planes = [f for f in body.part.faces if f.kind == "plane"]
    if planes:
        areas = [area(body, f) for f in planes]
        k = int(np.argmax(areas))
        face = planes[k]
        at = points(body, [face]).mean(0) if body.of_face[face.name] else np.array(face.origin)
        out.append(Likely((face.name,), "largest plane", vec3(at), vec3(np.array(face.axis)), areas[k]))
    for inner, why in ((True, "longest bore"), (False, "longest shaft")):
        found = [s for s in _round(body) if s.kind == "cylinder" and s.inner is inner]
        if found:
            best = max(found, key=lambda s: s.length * s.size)
            out.append(Likely(best.faces, why, best.at, best.direction, best.size))
    return out
