"""Broken edges: fillets (inner ones), rounds (outer ones) and chamfers; each run of them is one feature."""

import math
from collections.abc import Iterator

import numpy as np

from drafting.features.body import Body
from drafting.features.feature import Feature, made
from drafting.features.flat_sided import dot, is_blend, is_parallel, points
from drafting.model.model import EdgeFact, FaceFact

NARROW = 0.35
"""How wide a chamfer is at most, as a share of the faces beside it."""
SHORT = 0.3
"""How long the chamfer of a round edge is at most, as a share of the radius there; longer ones are tapers."""


def blends(body: Body, taken: set[str]) -> list[Feature]:
    """Fillets and rounds; those of one radius that go over into each other are one. taken: faces that are
    something else, as the ends of slots."""
    rounded = {
        f.name: f
        for f in body.part.faces
        if f.name not in taken and f.hollow is not None and is_blend(f, f.hollow) and _is_smooth(body, f)
    }
    out: list[Feature] = []
    left = dict(rounded)
    while left:
        name, first = next(iter(left.items()))
        run, queue = {name}, [first]
        del left[name]
        while queue:
            for edge, other in body.others(queue.pop()):
                if (
                    other.name in left
                    and edge.turn == "smooth"
                    and other.hollow is first.hollow
                    and abs(_radius(other) - _radius(first)) < body.near
                ):
                    run.add(other.name)
                    queue.append(left.pop(other.name))
        faces = [rounded[n] for n in run]
        if all(f.kind == "sphere" for f in faces):
            continue  # a ball's zone, not the corner of roundings
        middle = points(body, faces).mean(0)
        axis = np.array(next(f for f in faces if f.kind != "sphere").axis)
        out.append(made("fillet" if first.hollow else "round", {"radius": _radius(first)}, middle, axis, run))
    return out


def _radius(face: FaceFact) -> float:
    return face.minor_radius if face.kind == "torus" else face.radius


def _is_smooth(body: Body, face: FaceFact) -> bool:
    """Whether a face goes over smoothly into two others along its length."""
    beside = {
        other.name
        for edge, other in body.others(face)
        if edge.turn == "smooth" and (face.kind != "cylinder" or edge.kind == "line")
    }
    return len(beside) == 2 if face.kind == "cylinder" else len(beside) >= 2


# ---- chamfers ----------------------------------------------------------------------------------------------
def chamfers(body: Body, taken: set[str]) -> list[Feature]:
    """Chamfers of straight and of round edges. taken: faces that are something else."""
    out = []
    for face in body.part.faces:
        if face.name in taken:
            continue
        found = (
            _flat(body, face)
            if face.kind == "plane"
            else _turned(body, face)
            if face.kind == "cone"
            else None
        )
        if found is not None:
            out.append(found)
    return out


def _flat(body: Body, face: FaceFact) -> Feature | None:
    """A narrow plane between two faces that it leaves by convex edges of one direction."""
    for one, a, two, b in _long_pairs(body, face):
        run = np.array(one.end) - np.array(one.start)
        run = run / np.linalg.norm(run)
        across = np.cross(np.array(face.axis), run)
        wide = abs(float((np.array(two.middle) - np.array(one.middle)) @ across))
        if wide < body.near or min(one.length, two.length) < 2 * wide:
            continue
        beside = [np.cross(np.array(f.axis), run) for f in (a, b)]
        reaches = [float(np.ptp(points(body, [f]) @ d)) for f, d in zip((a, b), beside, strict=True)]
        if wide > NARROW * min(reaches):
            continue
        angles = [math.acos(max(-1.0, min(1.0, dot(face.axis, f.axis)))) for f in (a, b)]
        corner = math.pi - angles[0] - angles[1]  # between the faces, at the edge that was broken
        if not 0.02 < corner < math.pi - 0.02:
            continue
        legs = sorted(wide * math.sin(t) / math.sin(corner) for t in angles)
        angle = math.degrees(min(angles))
        middle = (np.array(one.middle) + np.array(two.middle)) / 2
        return made(
            "chamfer", {"length": legs[1], "angle": angle}, middle, np.array(face.axis), {face.name}, run
        )
    return None


def _long_pairs(body: Body, face: FaceFact) -> Iterator[tuple[EdgeFact, FaceFact, EdgeFact, FaceFact]]:
    """Pairs of a plane's longest convex straight edges, parallel, to two other planes."""
    straight = sorted(
        (
            (e, o)
            for e, o in body.others(face)
            if e.kind == "line" and e.turn == "convex" and o.kind == "plane" and e.length > 0
        ),
        key=lambda pair: -pair[0].length,
    )
    for n, (one, a) in enumerate(straight[:4]):
        for two, b in straight[n + 1 : 4]:
            if a is not b and is_parallel(_way(one), _way(two)):
                yield one, a, two, b


def _way(edge: EdgeFact) -> list[float]:
    length = math.dist(edge.start, edge.end) or 1.0
    return [(b - a) / length for a, b in zip(edge.start, edge.end, strict=True)]


def _turned(body: Body, face: FaceFact) -> Feature | None:
    """A short cone between a cylinder about its axis and a plane square to it: its length along the axis and
    its angle to the axis; its diameter is the cylinder's."""
    if face.span is None:
        return None
    wall = end = None
    axis, origin = np.array(face.axis), np.array(face.origin)
    for edge, other in body.others(face):
        if edge.turn not in ("convex", "concave"):
            continue
        off = np.array(other.origin) - origin
        if other.kind == "cylinder" and is_parallel(other.axis, axis) and other.hollow is face.hollow:
            if float(np.linalg.norm(off - axis * float(off @ axis))) < body.near:
                wall = other
        elif other.kind == "plane" and is_parallel(other.axis, axis) and edge.turn == "convex":
            end = other
    if wall is None or end is None:
        return None
    long = abs(face.span[1] - face.span[0])
    radii = sorted(abs(s) * math.tan(abs(face.half_angle)) for s in face.span)
    if long > SHORT * wall.radius or radii[0] <= 0:
        return None
    if (
        face.hollow
        and abs(radii[0] - wall.radius) > body.near
        or not face.hollow
        and abs(radii[1] - wall.radius) > body.near
    ):
        return None
    middle = origin + axis * (sum(face.span) / 2)
    return made(
        "chamfer",
        {"length": long, "angle": math.degrees(abs(face.half_angle)), "diameter": 2 * wall.radius},
        middle,
        axis,
        {face.name},
    )
