"""Relief grooves in the corner of a round surface and a shoulder, so that what is ground there or seated
against it clears the corner: a floor, a rounding up to the shoulder, and a slope out to the round surface."""

import math

from drafting.features.body import Axis, Body
from drafting.features.feature import Feature, made
from drafting.features.flat_sided import is_parallel
from drafting.features.walls import Wall, walls
from drafting.model.model import FaceFact
from drafting.standards.relief_grooves import FACE_SLOPE, SLOPE

WITHIN = 1.0
"""How far a slope may differ from the standard's, degrees."""


def reliefs(body: Body) -> list[Feature]:
    """Relief grooves about all axes. Their sizes: radius; depth below the round surface; width from the
    shoulder to where the slope ends; height, the depth in the shoulder where that is cut into, too."""
    out: list[Feature] = []
    for axis in body.axes:
        for hollow in (False, True):
            for floor in walls(body, axis, hollow):
                if floor.kind == "cylinder" and floor.gap < math.radians(90):
                    found = _at(body, axis, floor, hollow)
                    if found is not None:
                        out.append(found)
    return out


def _at(body: Body, axis: Axis, floor: Wall, hollow: bool) -> Feature | None:
    middle = (floor.t0 + floor.t1) / 2
    for way in (-1.0, 1.0):
        corner = _next(body, axis, floor.faces, way, middle, ("torus",), set())
        if not corner:
            continue
        slope, bend = _slope(body, axis, floor, -way, middle)
        shoulder = _shoulder(body, axis, corner, floor.names)
        if not slope or shoulder is None:
            continue
        plane, side = shoulder
        run = _round(body, axis, slope, hollow)
        if run is None:
            continue
        end = max((axis.span(f) for f in slope), key=lambda s: max(abs(s[0] - middle), abs(s[1] - middle)))
        out = end[0] if abs(end[0] - middle) > abs(end[1] - middle) else end[1]
        at = axis.along(plane.origin)
        reach = (axis.along(corner[0].origin) - at) * way + corner[0].minor_radius
        faces = floor.names | {f.name for f in (*corner, *slope, *bend, *side)}
        return made(
            "relief groove",
            {
                "radius": corner[0].minor_radius,
                "depth": abs(run.radius - floor.r0),
                "width": abs(out - at),
                "height": reach if side else None,
            },
            axis.at(at),
            axis.direction * way,
            faces,
        )
    return None


def _next(
    body: Body,
    axis: Axis,
    faces: list[FaceFact],
    way: float,
    middle: float,
    kinds: tuple[str, ...],
    own: set[str],
) -> list[FaceFact]:
    """Faces about the axis that go on from others smoothly on one side of a place."""
    out: dict[str, FaceFact] = {}
    for face in faces:
        for edge, other in body.others(face):
            if (
                edge.turn in ("smooth", "concave")
                and (axis.along(edge.middle) - middle) * way > 0
                and other.kind in kinds
                and other.name not in own
                and is_parallel(other.axis, axis.direction)
                and axis.away(other.origin) < body.near
                and (other.kind != "torus" or edge.turn == "smooth")
            ):
                out[other.name] = other
    return list(out.values())


def _slope(
    body: Body, axis: Axis, floor: Wall, way: float, middle: float
) -> tuple[list[FaceFact], list[FaceFact]]:
    """The cone that a floor runs out into, and the rounding before it, if there is one."""
    bend = _next(body, axis, floor.faces, way, middle, ("torus",), set())
    cones = _next(body, axis, bend or floor.faces, way, middle, ("cone",), floor.names)
    return [f for f in cones if abs(math.degrees(abs(f.half_angle)) - SLOPE) < WITHIN], bend


def _shoulder(
    body: Body, axis: Axis, corner: list[FaceFact], own: set[str]
) -> tuple[FaceFact, list[FaceFact]] | None:
    """The plane that a rounding goes over into, and the slope between, of a shoulder that is cut into."""
    for face in corner:
        for edge, other in body.others(face):
            if other.name in own or edge.turn not in ("smooth", "concave"):
                continue
            if other.kind == "plane" and is_parallel(other.axis, axis.direction):
                return other, []
            if other.kind == "cone" and abs(90 - FACE_SLOPE - math.degrees(abs(other.half_angle))) < WITHIN:
                for edge2, plane in body.others(other):
                    if (
                        edge2.turn == "convex"
                        and plane.kind == "plane"
                        and is_parallel(plane.axis, axis.direction)
                    ):
                        return plane, [other]
    return None


def _round(body: Body, axis: Axis, slope: list[FaceFact], hollow: bool) -> FaceFact | None:
    """The round surface that a slope runs out into."""
    for face in slope:
        for edge, other in body.others(face):
            if (
                edge.turn == "convex"
                and other.kind == "cylinder"
                and other.hollow is hollow
                and axis.away(other.origin) < body.near
            ):
                return other
    return None
