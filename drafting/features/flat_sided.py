"""What flat-sided features have in common: walls that rise from a floor, and how far faces reach."""

from collections.abc import Iterable, Iterator

import numpy as np

from drafting.features.body import Array, Body
from drafting.model.model import EdgeFact, FaceFact

SAME = 1e-6
"""How far from 1 the cosine of directions may be that are the same."""


def dot(a: Iterable[float], b: Iterable[float]) -> float:
    """Of two directions."""
    return float(sum(x * y for x, y in zip(a, b, strict=True)))


def is_opposite(a: FaceFact, b: FaceFact) -> bool:
    """Whether two planes look in opposite directions."""
    return dot(a.axis, b.axis) < -1 + SAME


def is_parallel(a: Iterable[float], b: Iterable[float]) -> bool:
    """Whether two directions are the same or opposite."""
    return abs(dot(a, b)) > 1 - SAME


def is_square(a: Iterable[float], b: Iterable[float]) -> bool:
    """Whether two directions are at a right angle."""
    return abs(dot(a, b)) < 1e-6


def height(face: FaceFact, over: FaceFact) -> float:
    """How far a plane lies over another, along the other's normal."""
    return dot([a - b for a, b in zip(face.origin, over.origin, strict=True)], over.axis)


def is_blend(face: FaceFact, hollow: bool) -> bool:
    """Whether a face may be the rounding of an inner (hollow) or an outer edge: of a quarter turn or so."""
    if face.hollow is not hollow:
        return False
    if face.kind == "cylinder":
        return face.turn is not None and face.turn[1] - face.turn[0] < np.radians(175)
    return face.kind == "sphere" or (
        face.kind == "torus" and face.span is not None and abs(face.span[1] - face.span[0]) < np.radians(175)
    )


def walls_of(body: Body, floor: FaceFact) -> Iterator[tuple[EdgeFact, FaceFact, frozenset[str]]]:
    """Faces that rise from a plane face toward where it looks, with the edge in which they leave it, and the
    roundings between."""
    for edge, other in body.others(floor):
        if edge.turn == "concave":
            yield edge, other, frozenset()
        elif edge.turn == "smooth" and is_blend(other, hollow=True):
            for edge2, beyond in body.others(other):
                if beyond is not floor and edge2.turn == "smooth" and not is_blend(beyond, hollow=True):
                    yield edge, beyond, frozenset({other.name})


def points(body: Body, faces: Iterable[FaceFact]) -> Array:
    """Ends and middles of the edges of faces (n, 3)."""
    found = [p for f in faces for e in body.of_face[f.name] for p in (e.start, e.middle, e.end)]
    return np.array(found, float).reshape(-1, 3)


def reach(body: Body, faces: Iterable[FaceFact], direction: Array) -> tuple[float, float]:
    """From where to where the edges of faces reach in a direction."""
    along = points(body, faces) @ direction
    return (float(along.min()), float(along.max())) if len(along) else (0.0, 0.0)


def opening(body: Body, faces: Iterable[FaceFact], own: set[str]) -> FaceFact | None:
    """The face that most of the convex edges of some faces lead to."""
    length: dict[str, float] = {}
    for face in faces:
        for edge, other in body.others(face):
            if edge.turn == "convex" and other.name not in own:
                length[other.name] = length.get(other.name, 0.0) + edge.length
    return body.faces[max(length, key=lambda n: length[n])] if length else None
