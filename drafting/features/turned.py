"""Features about an axis besides holes and shafts: grooves around, within and in a face, tapers, flats."""

import math
from collections.abc import Iterator

import numpy as np

from drafting.features.body import Array, Axis, Body
from drafting.features.feature import Feature, made
from drafting.features.flat_sided import dot, is_parallel, is_square
from drafting.features.walls import Wall, walls
from drafting.model.model import FaceFact

GROOVE = 1.2
"""The widest that a groove is, in radii of its floor; a wider one is a neck."""
FLAT = math.radians(200)
"""How much of a round wall a flat may take away."""


def grooves(body: Body, taken: set[str]) -> list[Feature]:
    """Grooves around shafts, within bores, and in faces. taken: faces that are something else."""
    out: list[Feature] = []
    for axis in body.axes:
        outer, inner = walls(body, axis, hollow=False), walls(body, axis, hollow=True)
        out += _between(body, axis, outer, "groove")
        out += _between(body, axis, inner, "inner groove")
        out += _in_face(body, axis, outer, [w for w in inner if not w.names & taken])
    return out


def _between(body: Body, axis: Axis, found: list[Wall], kind: str) -> Iterator[Feature]:
    """Walls with shoulders at both ends, beyond which the material comes nearer to the axis (within) or goes
    farther from it (around)."""
    for wall in found:
        if wall.kind != "cylinder" or wall.gap > math.radians(90) or wall.t1 - wall.t0 > GROOVE * wall.r0:
            continue
        ends = [_shoulder(body, axis, wall, way) for way in (-1, 1)]
        if not all(ends):
            continue
        beyond = [f for f in ends if f is not None]
        at = axis.at((wall.t0 + wall.t1) / 2)
        yield made(
            "groove" if kind == "groove" else "inner groove",
            {"width": wall.t1 - wall.t0, "diameter": 2 * wall.r0},
            at,
            axis.direction,
            wall.names | {f.name for f in beyond},
        )


def _shoulder(body: Body, axis: Axis, wall: Wall, way: int) -> FaceFact | None:
    """The plane square to the axis that rises from an end of a wall, over to another wall about the axis."""
    middle = (wall.t0 + wall.t1) / 2
    for face in wall.faces:
        for edge, other in body.others(face):
            if edge.turn != "concave" or (axis.along(edge.middle) - middle) * way < 0:
                continue
            if other.kind != "plane" or not is_parallel(other.axis, axis.direction):
                continue
            if any(
                edge2.turn == "convex" and _is_about(axis, beyond, body.near)
                for edge2, beyond in body.others(other)
            ):
                return other
    return None


def _is_about(axis: Axis, face: FaceFact, near: float) -> bool:
    return (
        face.kind in ("cylinder", "cone", "torus")
        and is_parallel(face.axis, axis.direction)
        and axis.away(face.origin) < near
    )


def _in_face(body: Body, axis: Axis, outer: list[Wall], inner: list[Wall]) -> Iterator[Feature]:
    """A ring sunk into a plane: an outer wall that is hollow, a core, and a floor between them."""
    for wide in inner:
        for core in outer:
            if not wide.kind == core.kind == "cylinder" or core.r0 >= wide.r0:
                continue
            floor = next(
                (
                    f
                    for wall in wide.faces
                    for e, f in body.others(wall)
                    if e.turn == "concave"
                    and f.kind == "plane"
                    and any(e2.turn == "concave" and o.name in core.names for e2, o in body.others(f))
                ),
                None,
            )
            if floor is None:
                continue
            mouth = next(
                (
                    f
                    for wall in wide.faces
                    for e, f in body.others(wall)
                    if e.turn == "convex" and f.kind == "plane" and dot(f.axis, floor.axis) > 1 - 1e-6
                ),
                None,
            )
            if mouth is None:
                continue
            normal = np.array(floor.axis)
            depth = float((np.array(mouth.origin) - np.array(floor.origin)) @ normal)
            at = axis.at(axis.along(mouth.origin))
            yield made(
                "face groove",
                {"diameter": 2 * wide.r0, "inner": 2 * core.r0, "depth": depth},
                at,
                -normal,
                wide.names | core.names | {floor.name},
            )


def tapers(body: Body, taken: set[str]) -> list[Feature]:
    """Cones that stand out and are no chamfers: diameter at the wide end, at the narrow end, and length."""
    out = []
    for axis in body.axes:
        for wall in walls(body, axis, hollow=False):
            if wall.kind != "cone" or wall.names & taken or wall.gap > math.radians(90):
                continue
            wide, narrow = max(wall.r0, wall.r1), min(wall.r0, wall.r1)
            at = axis.at(wall.t0 if wall.r0 > wall.r1 else wall.t1)
            out.append(
                made(
                    "taper",
                    {"diameter": 2 * wide, "inner": 2 * narrow, "length": wall.t1 - wall.t0},
                    at,
                    axis.direction,
                    wall.names,
                )
            )
    return out


def flats(body: Body) -> list[Feature]:
    """Planes cut along shafts: how far they lie from the axis (height), how far from an opposite one
    (across), and how long they are."""
    return [flat for axis in body.axes for flat in _on(body, axis)]


def _on(body: Body, axis: Axis) -> list[Feature]:
    around = {f.name: f for f in axis.faces if f.kind == "cylinder" and f.hollow is False}
    planes: dict[str, FaceFact] = {}
    for face in around.values():
        for edge, other in body.others(face):
            if other.kind == "plane" and edge.turn == "convex" and is_square(other.axis, axis.direction):
                planes[other.name] = other
    found: list[tuple[FaceFact, float, float, float, float]] = []
    for face in planes.values():
        beside = [(e, o) for e, o in body.others(face) if o.name in around and e.turn == "convex"]
        long = [e for e, _ in beside if e.kind == "line" and _runs(e.start, e.end, axis)]
        apart = float((np.array(face.origin) - axis.origin) @ np.array(face.axis))
        if len(long) < 2 or apart <= body.near:
            continue
        ends = [axis.along(p) for e in long for p in (e.start, e.end)]
        found.append((face, apart, min(ends), max(ends), max(o.radius for _, o in beside)))
    out = []
    for face, apart, low, high, radius in found:
        normal = np.array(face.axis)
        opposite = next(
            (
                b
                for other, b, t0, t1, _ in found
                if dot(other.axis, face.axis) < -1 + 1e-6 and min(high, t1) - max(low, t0) > body.near
            ),
            None,
        )
        out.append(
            made(
                "flat",
                {
                    "height": apart,
                    "across": None if opposite is None else apart + opposite,
                    "diameter": 2 * radius,
                    "length": high - low,
                },
                axis.at((low + high) / 2) + normal * apart,
                -normal,
                {face.name},
                axis.direction,
            )
        )
    return out


def _runs(start: list[float], end: list[float], axis: Axis) -> bool:
    way: Array = np.array(end) - np.array(start)
    return abs(float(way @ axis.direction)) > 0.999999 * float(np.linalg.norm(way))
