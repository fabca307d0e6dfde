"""Free surfaces that are plain ones: planes, cylinders, cones, spheres and tori written as splines.

Normals carry the answer: those of a sphere meet in a point, those of a cylinder stand square to its axis,
those of a cone lean alike against it, and those of a torus meet its axis. Each is linear in what is sought,
and what is found is then held against every place that was taken of the surface.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from OCP.BRepAdaptor import BRepAdaptor_Surface
from OCP.GeomAbs import GeomAbs_Shape as Continuity
from OCP.GeomAbs import GeomAbs_SurfaceType as SurfaceType
from OCP.gp import gp_Pnt, gp_Vec

Array = NDArray[np.float64]

FLAT = 1e-5
"""How far a free surface may be from a plane, as a share of its size, to be one."""
TRUE = 1e-5
"""How far a free surface may be from a round one, as a share of how deep it is curved: that is about how far
its radius may be off."""
SHALLOW = 5e-3
"""How deep a surface is curved at least, as a share of its size, for its radius to be told."""
ONE = 1e-4
"""Within how many mm two surfaces are one, and no more than 1/1000 of their radius."""
STEPS, MOST_STEPS = 5, 48
"""Fewest and most steps in which a surface is taken along each of its parameters."""


@dataclass(frozen=True)
class Plain:
    """What a surface is, in the terms of `topology.FaceGeometry`: the axis is the outward normal of a plane,
    the origin the apex of a cone; the radius of a torus is below 0 where its arc's center lies beyond the
    axis. span is told of tori only."""

    kind: str
    origin: Array
    axis: Array
    radius: float = 0.0
    half_angle: float = 0.0
    minor_radius: float = 0.0
    span: tuple[float, float] | None = None


class Surface(Protocol):
    """What tells a plain surface, as of `Plain` and `topology.FaceGeometry`."""

    @property
    def kind(self) -> str:
        """As of a face."""

    @property
    def origin(self) -> Sequence[float] | Array:
        """A point of its axis or plane, the apex of a cone."""

    @property
    def axis(self) -> Sequence[float] | Array:
        """Its axis or normal."""

    @property
    def radius(self) -> float:
        """In mm; of a cone, of no meaning."""

    @property
    def half_angle(self) -> float:
        """Of a cone, radians."""

    @property
    def minor_radius(self) -> float:
        """Of what is turned from an arc, mm."""


def is_one_surface(a: Surface, b: Surface) -> bool:
    """Whether two surfaces are one: both the same plane, or round with the same sizes about one axis."""
    if a.kind != b.kind or (a.kind == "other" and not a.minor_radius):
        return False
    away = np.subtract(b.origin, a.origin)
    axis = np.asarray(a.axis, float)
    if a.kind == "plane":
        return abs(float(axis @ np.asarray(b.axis))) > 1 - 1e-10 and abs(float(away @ axis)) < ONE
    within = min(ONE, 1e-3 * max(abs(a.radius), a.minor_radius)) if a.kind != "cone" else ONE
    if (
        a.kind != "cone"
        and abs(a.radius - b.radius) > within
        or abs(a.minor_radius - b.minor_radius) > within
    ):
        return False
    if a.kind != "sphere" and float(np.linalg.norm(np.cross(axis, b.axis))) > 1e-5:
        return False
    if a.kind == "cylinder":
        away = away - axis * float(away @ axis)
    return float(np.linalg.norm(away)) < within and abs(a.half_angle - b.half_angle) < 1e-5


@dataclass(frozen=True)
class _Taken:
    """Places (m, n, 3) of a surface, about their middle and in their own size, so that all numbers are near
    1; and of those that have a normal, place and normal (k, 3). within: how far a round surface may be
    off."""

    grid: Array
    places: Array
    normals: Array
    within: float

    def holds(self, away: Array) -> bool:
        """Whether distances from a surface are small enough for it to be the one."""
        return bool(np.isfinite(away).all() and np.abs(away).max() <= self.within)


def recognized(surface: BRepAdaptor_Surface, u: tuple[float, float], v: tuple[float, float]) -> Plain | None:
    """The plain surface that a free one is between given parameters; None where it is none or cannot be told:
    also a torus whose parameters do not run about its axis and its tube, so that its span is not known."""
    grid, normals = _sampled(surface, u, v)
    flat = grid.reshape(-1, 3)
    middle = flat.mean(0)
    size = float(np.ptp(flat, axis=0).max())
    has_normal = np.isfinite(normals).all(-1)
    if not (np.isfinite(flat).all() and size > 0 and has_normal.sum() > 2 * STEPS):
        return None
    outward = normals[has_normal]
    depth = _depth(outward)
    across = np.linalg.svd(flat - middle, full_matrices=False)[2][2]
    if depth < SHALLOW:
        if float(np.ptp((flat - middle) @ across)) > FLAT * size:
            return None
        return Plain("plane", middle, across if float(outward.mean(0) @ across) > 0 else -across)
    scaled = (grid - middle) / size
    taken = _Taken(scaled, scaled[has_normal], outward, TRUE * depth)
    for find in (_sphere, _cylinder, _cone, _torus):
        found = find(taken)
        if found is not None:
            return replace(
                found,
                origin=found.origin * size + middle,
                radius=found.radius * size,
                minor_radius=found.minor_radius * size,
            )
    return None


def _depth(normals: Array) -> float:
    """How deep a surface is curved, as a share of its size, by how far its normals (k, 3) lean from their
    mean: an arc that turns by a to both sides is about a / 4 of its chord deep."""
    mean = normals.mean(0)
    length = float(np.linalg.norm(mean))
    if length < 0.5:
        return 0.5
    lean = math.acos(max(-1.0, min(1.0, float((normals @ mean).min()) / length)))
    return min(0.5, lean / 4)


def _sampled(
    surface: BRepAdaptor_Surface, u: tuple[float, float], v: tuple[float, float]
) -> tuple[Array, Array]:
    """Places and unit normals of a surface (m, n, 3); not a number where it has no normal, as at a pole."""
    smooth = Continuity.GeomAbs_C2
    patches = surface.NbUIntervals(smooth), surface.NbVIntervals(smooth)
    degrees = (0, 0)
    if surface.GetType() in (SurfaceType.GeomAbs_BSplineSurface, SurfaceType.GeomAbs_BezierSurface):
        degrees = surface.UDegree(), surface.VDegree()
    us, vs = (
        [first + (last - first) * k / steps for k in range(steps + 1)]
        for (first, last), steps in zip((u, v), map(_steps, patches, degrees), strict=True)
    )
    p, du, dv = gp_Pnt(), gp_Vec(), gp_Vec()
    rows = []
    for a in us:
        for b in vs:
            surface.D1(a, b, p, du, dv)
            x, y, z = du.X(), du.Y(), du.Z()
            i, j, k = dv.X(), dv.Y(), dv.Z()
            rows.append((p.X(), p.Y(), p.Z(), y * k - z * j, z * i - x * k, x * j - y * i))
    every = np.array(rows).reshape(len(us), len(vs), 6)
    length = np.sqrt((every[..., 3:] ** 2).sum(-1, keepdims=True))
    length[length < 1e-6 * np.median(length)] = np.nan
    return every[..., :3], every[..., 3:] / length


def _steps(patches: int, degree: int) -> int:
    """More places than a piece of its degree can be bent between."""
    return min(max(STEPS, patches * max(2, degree)), MOST_STEPS)


def _solved(matrix: Array, wanted: Array) -> Array:
    return np.asarray(np.linalg.lstsq(matrix, wanted, rcond=None)[0], float)


def _sphere(t: _Taken) -> Plain | None:
    """Place = center + radius times normal."""
    count = len(t.places)
    matrix = np.concatenate([np.tile(np.eye(3), (count, 1)), t.normals.reshape(-1, 1)], axis=1)
    *center, radius = _solved(matrix, t.places.reshape(-1)).tolist()
    if not t.holds(np.linalg.norm(t.grid - center, axis=-1) - abs(radius)):
        return None
    return Plain("sphere", np.array(center), np.zeros(3), abs(radius))


def _cylinder(t: _Taken) -> Plain | None:
    """Square to all normals runs the axis; across it, as a sphere."""
    axis = np.linalg.svd(t.normals, full_matrices=False)[2][2]
    x, y = _square_to(axis)
    flat = np.stack([t.places @ x, t.places @ y], -1)
    normal = np.stack([t.normals @ x, t.normals @ y], -1)
    matrix = np.concatenate([np.tile(np.eye(2), (len(flat), 1)), normal.reshape(-1, 1)], axis=1)
    cx, cy, radius = _solved(matrix, flat.reshape(-1)).tolist()
    if not t.holds(np.hypot(t.grid @ x - cx, t.grid @ y - cy) - abs(radius)):
        return None
    return Plain("cylinder", x * cx + y * cy, axis, abs(radius))


def _cone(t: _Taken) -> Plain | None:
    """Through the apex go all tangent planes; against the axis all normals lean alike."""
    apex = _solved(t.normals, (t.places * t.normals).sum(1))
    mean = t.normals.mean(0)
    axis = np.linalg.svd(t.normals - mean, full_matrices=False)[2][2]
    lean = float(mean @ axis)
    heights = (t.grid - apex) @ axis
    if heights.mean() < 0:
        axis, heights = -axis, -heights
    half = math.asin(min(1.0, abs(lean)))
    if not math.radians(0.1) < half < math.radians(89.9) or heights.min() < -t.within:
        return None
    out = np.linalg.norm(t.grid - apex - heights[..., None] * axis, axis=-1)
    if not t.holds(out * math.cos(half) - heights * math.sin(half)):
        return None
    return Plain("cone", apex, axis, float(heights.max()) * math.tan(half), half)


def _torus(t: _Taken) -> Plain | None:
    """A line along the normal n through p meets the axis, of direction a through q: (p x n) · a + n · (q x a)
    = 0. About the axis, the arc is a circle as across a cylinder."""
    moments = np.cross(t.places, t.normals)
    a, b = np.split(np.linalg.svd(np.concatenate([moments, t.normals], 1), full_matrices=False)[2][5], 2)
    length = float(np.linalg.norm(a))
    if length < 1e-6:
        return None
    axis, base = a / length, np.cross(a, b) / length**2
    away = t.places - base
    height = away @ axis
    radial = away - height[:, None] * axis
    out = np.linalg.norm(radial, axis=1)
    off_axis = out > 1e-6
    if off_axis.sum() < 2 * STEPS:
        return None
    height, out = height[off_axis], out[off_axis]
    normals = t.normals[off_axis]
    n = np.stack([(normals * radial[off_axis]).sum(1) / out, normals @ axis], -1)
    matrix = np.concatenate([np.tile(np.eye(2), (len(n), 1)), n.reshape(-1, 1)], axis=1)
    ring, level, minor = _solved(matrix, np.stack([out, height], -1).reshape(-1)).tolist()
    heights = (t.grid - base) @ axis
    outs = np.linalg.norm(t.grid - base - heights[..., None] * axis, axis=-1)
    if not t.holds(np.hypot(outs - ring, heights - level) - abs(minor)):
        return None
    span = _span(np.unwrap(np.unwrap(np.arctan2(heights - level, outs - ring), axis=0), axis=1), t.within)
    return Plain("torus", base + axis * level, axis, ring, 0.0, abs(minor), span) if span else None


def _square_to(axis: Array) -> tuple[Array, Array]:
    x = np.cross(axis, np.eye(3)[int(np.argmin(np.abs(axis)))])
    x = x / np.linalg.norm(x)
    return x, np.cross(axis, x)


def _span(along: Array, within: float) -> tuple[float, float] | None:
    """From where to where a grid of angles goes that change along one of its sides only; None where they
    change along both, as its ends are then not those of the face."""
    for angles in (along, along.T):
        if float(np.ptp(angles, axis=1).max()) <= within:
            ends = float(angles[0].mean()), float(angles[-1].mean())
            middle = angles.mean(1)
            if min(ends) <= middle.min() + within and max(ends) >= middle.max() - within:
                return min(ends), max(ends)
    return None
