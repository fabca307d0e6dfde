"""How a view has to look at something to show its sizes."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from drafting.completeness.surfaces import Array
from drafting.features.recognized import features
from drafting.model.model import FaceFact, PartFacts

SQUARE = 0.9999
"""Of a direction on paper: from here on it is seen squarely."""
SUNK = ("slot", "open slot", "curved slot", "keyway", "hub keyway", "pocket", "opening", "face groove")
TURNED = ("groove", "inner groove", "relief groove", "taper")


@dataclass(frozen=True)
class Need:
    """end on: along a direction, from where it comes if only from there; level: with the direction in the
    paper."""

    kind: Literal["end on", "level"]
    way: Array
    is_one_sided: bool = False

    def turned(self, m: Array) -> "Need":
        """The same of a part that stands turned."""
        return replace(self, way=m @ self.way)

    def is_met(self, rows: Array) -> bool:
        """Whether a view shows it so. rows: its right, up, and toward the viewer."""
        if self.kind == "level":
            return float(np.linalg.norm(rows[:2] @ self.way)) > SQUARE
        along = -float(rows[2] @ self.way)
        return (along if self.is_one_sided else abs(along)) > SQUARE

    def looks(self, parent: Array) -> Iterator[Array]:
        """Directions in which a view folded from one that looks along `parent` would have to look."""
        if self.kind == "end on":
            yield self.way
            return
        square = np.cross(self.way, parent)
        if float(np.linalg.norm(square)) > 1e-3:
            yield square / np.linalg.norm(square)


def needs_of(part: PartFacts, faces: Sequence[str], way: Sequence[float] | None) -> list[Need]:
    """What shows the sizes of some faces, the better first. way: in which they may still move."""
    known = features(part)
    for n in known.holes_at(faces)[:1]:
        hole = known.holes[n]
        return [Need("end on", np.array(hole.direction), not hole.is_same_both_ways)]
    for n in known.others_at(faces):
        f = known.others[n]
        direction = np.array(f.direction)
        if f.kind in SUNK and way is None:
            deep = [Need("level", direction)] if f.size("depth") else []
            return [Need("end on", direction, f.size("depth") is not None), *deep]
        if f.kind in TURNED:
            return [Need("level", direction)]
    if way is not None:
        return [Need("level", np.array(way, float))]
    those = [face for n in faces if (face := part.face(n)) is not None]
    return [need for face in those for need in _of_face(part, face)][:1]


def _of_face(part: PartFacts, face: FaceFact) -> Iterator[Need]:
    axis = np.array(face.axis)
    if face.kind == "cylinder":
        yield Need("end on", axis)
    elif face.kind in ("cone", "torus"):
        yield Need("level", axis)
    elif face.kind == "plane":
        lines = [e for e in part.edges if face.name in e.faces and e.kind == "line"]
        if lines:
            longest = max(lines, key=lambda e: e.length)
            d = np.array(longest.end) - np.array(longest.start)
            yield Need("end on", d / np.linalg.norm(d))
        else:
            yield Need("level", axis)


def place_of(part: PartFacts, faces: Sequence[str]) -> Array | None:
    """A place that a section through some faces goes through, in the part's frame: on the axis of what is
    round, in the middle of what is not; None of nothing."""
    known = features(part)
    for n in known.holes_at(faces):
        return np.array(known.holes[n].entry)
    for n in known.others_at(faces):
        return np.array(known.others[n].at)
    found = [f for n in faces if (f := part.face(n)) is not None]
    for f in found:
        if f.kind != "plane":
            return np.array(f.origin)
    edges = [e for f in found for e in part.edges if f.name in e.faces]
    return np.mean([e.middle for e in edges], axis=0) if edges else None
