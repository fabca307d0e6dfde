"""Round walls: all faces of one surface about an axis that touch along it, however many a writer made."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from drafting.features.body import Axis, Body, widest_gap
from drafting.model.model import FaceFact


@dataclass(eq=False)
class Wall:
    """A round wall about an axis, of one surface, as far as it goes on: t along the axis, r the radius."""

    kind: Literal["cylinder", "cone"]
    t0: float
    t1: float
    r0: float
    r1: float
    faces: list[FaceFact]
    gap: float = 0.0
    """The widest angle about the axis that none of its faces covers, radians."""

    @property
    def names(self) -> set[str]:
        """Of its faces."""
        return {f.name for f in self.faces}


def walls(body: Body, axis: Axis, hollow: bool) -> list[Wall]:
    """Walls about an axis with their material outside (hollow) or inside, in their order along it."""
    found: list[Wall] = axis.walls.setdefault(hollow, [])
    if not found:
        found += _walls(body, axis, hollow)
    return found


def _walls(body: Body, axis: Axis, hollow: bool) -> list[Wall]:
    groups: list[tuple[tuple[float, ...], list[FaceFact]]] = []
    for face in axis.faces:
        if face.hollow is not hollow:
            continue
        key = _surface(axis, face, body.near)
        for known, faces in groups:
            if len(known) == len(key) and all(abs(a - b) <= 1.0 for a, b in zip(known, key, strict=True)):
                faces.append(face)
                break
        else:
            groups.append((key, [face]))
    out: list[Wall] = []
    for _, faces in groups:
        spans = sorted((*axis.span(f), n) for n, f in enumerate(faces))
        run: list[FaceFact] = []
        start = end = 0.0
        for low, high, n in [*spans, (math.inf, math.inf, -1)]:
            if run and low > end + body.near:
                out.append(_wall(axis, run, start, end))
                run = []
            if n >= 0:
                start, end = (low, high) if not run else (start, max(end, high))
                run.append(faces[n])
    return sorted(out, key=lambda p: (p.t0 + p.t1, p.t0))


def _surface(axis: Axis, face: FaceFact, near: float) -> tuple[float, ...]:
    """Numbers that differ by no more than 1 for faces of one surface."""
    if face.kind == "cylinder":
        return (face.radius / near,)
    way = 1.0 if float(np.dot(face.axis, axis.direction)) > 0 else -1.0
    way *= 1.0 if sum(face.span or [0.0]) > 0 else -1.0  # which way it opens
    return math.degrees(face.half_angle) * 20, axis.along(face.origin) / near, way * 10


def _wall(axis: Axis, faces: list[FaceFact], t0: float, t1: float) -> Wall:
    face = faces[0]
    gap = widest_gap(axis, faces)
    if face.kind == "cylinder":
        return Wall("cylinder", t0, t1, face.radius, face.radius, faces, gap)
    tip, slope = axis.along(face.origin), math.tan(abs(face.half_angle))
    return Wall("cone", t0, t1, abs(t0 - tip) * slope, abs(t1 - tip) * slope, faces, gap)
