"""What a datum symbol or a control frame is on: a surface, or what is derived from a feature of size; and the
datums that letters stand for."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from drafting.annotation.measuring.measure import LostPick
from drafting.annotation.measuring.others import CALLOUTS, is_sized, measured_of, place_on_line
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.measuring.pointing import Tip, place_of
from drafting.annotation.measuring.seen_faces import face_seen
from drafting.annotation.measuring.traces import placed
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Pick
from drafting.errors import SizeError
from drafting.features.freedom import Situation
from drafting.features.recognized import features
from drafting.model.model import FaceFact, InstanceFacts, PartFacts
from drafting.standards.characteristics import Toleranced
from drafting.views.frame import Array

EDGE_ON = 1e-6
"""Cosine below which a plane is seen edge-on."""


@dataclass(frozen=True)
class Feature:
    """What is toleranced or is a datum. on: None where it is not known what it is; faces: of the instance;
    situation: what it is reduced to, of the whole model; size: id of the size that it is the feature of,
    empty for a surface."""

    instance: str
    faces: tuple[str, ...]
    on: Toleranced | None
    situation: Situation
    size: str = ""
    pattern: tuple[Situation, ...] = ()
    """What the others of its pattern are reduced to, that its size says there are."""

    @property
    def situations(self) -> list[Situation]:
        """What it is reduced to as a datum: with all of its pattern."""
        return [self.situation, *self.pattern]


def feature_at(tip: Tip, context: Context) -> Feature:
    """What a symbol is on. Raises SizeError where it is gone, and for what is no feature of size."""
    if tip.on == "line":
        size = context.sheet.annotation(tip.source)
        if size is not None and size.kind == "control_frame":
            return feature_at(size.tip, context)  # type: ignore[attr-defined]
        if not is_sized(size):
            raise SizeError("The size this points at is no longer there.")
        if int(tip.at.y) > 0 and len(size.picks) > 1:  # an extension line goes on from a surface
            return _surface(size.picks[min(int(tip.at.y), len(size.picks)) - 1], context)
        return of_size(size, context)
    if tip.on == "edge":
        assert tip.role not in ("size",)
        return _surface(Pick(instance=tip.instance, source=tip.source, role=tip.role), context)  # type: ignore[arg-type]
    face = face_seen(tip.instance, place_of(tip, context), context)
    if face is not None:
        instance = context.facts.part_of(tip.instance)
        assert instance is not None
        return Feature(tip.instance, (face.name,), kind_of(face), _situation(face, instance[0].matrix))
    nothing = Situation("any", np.zeros(3), np.array([0.0, 0.0, 1.0]))
    return Feature(tip.instance, (), None, nothing)


def _found(pick: Pick, context: Context) -> tuple[InstanceFacts, PartFacts, list[FaceFact]]:
    found = context.facts.part_of(pick.instance)
    if found is None or pick.role in ("added", "underlay"):
        raise SizeError("This is no surface of the model.")
    faces = [f for n in faces_at(pick, found[1]) if (f := found[1].face(n)) is not None]
    if not faces:
        raise LostPick("The surface this is on is no longer in the model.")
    return found[0], found[1], faces


def _surface(pick: Pick, context: Context) -> Feature:
    """The surface that an edge or an outline of a view shows: of the two that meet in an edge the one that is
    seen edge-on."""
    instance, _, faces = _found(pick, context)
    m = instance.matrix
    toward = np.asarray(context.frame.matrix[2])

    def turned(f: FaceFact) -> float:
        """0 for what is seen edge-on, 1 for what faces the reader."""
        along = abs(float(placed(m, f.axis, False) @ toward))
        return along if f.kind == "plane" else 1.0 - along if f.kind == "cylinder" else 0.5

    face = min(faces, key=turned)
    return Feature(pick.instance, (face.name,), kind_of(face), _situation(face, m))


def kind_of(face: FaceFact) -> Toleranced:
    """What a surface is called by the grammar of control frames."""
    return face.kind if face.kind in ("plane", "cylinder", "cone", "sphere") else "surface"  # type: ignore[return-value]


def _situation(f: FaceFact, m: list[list[float]]) -> Situation:
    at, axis = placed(m, f.origin), placed(m, f.axis, False)
    if f.kind == "plane":
        return Situation("plane", at, axis)
    if f.kind == "cylinder":
        return Situation("axis", at, axis)
    if f.kind == "sphere":
        return Situation("point", at, axis)
    if f.kind == "cone" and abs(math.tan(f.half_angle)) > 1e-9:
        return Situation("cone", at, axis)
    return Situation("any", at, axis)


def of_size(size: AnnotationBase, context: Context) -> Feature:
    """What is derived from the feature that a size is of: the axis of a cylinder, the median plane of two
    faces, the center of a sphere. Raises SizeError for sizes that are of none."""
    sides = [_found(p, context) for p in size.picks if p.role not in ("added", "underlay")]
    if not sides or len(sides) < len(size.picks):
        raise SizeError("This size is of no feature of size: it is taken on what is no surface.")
    instance, _, faces = sides[0]
    instances = {p.instance for p in size.picks}
    round_ = [f for f in faces if f.kind in ("cylinder", "sphere")]
    common = (
        {f.name for f in faces}
        if len(sides) == 1
        else {f.name for f in faces} & {f.name for f in sides[1][2]}
    )
    same = [f for f in round_ if f.name in common or len(sides) == 1]
    if same and len(instances) == 1:
        said = measured_of(size, context)
        across = said.value if said is not None and said.is_diameter else 0.0
        edge = sides[0][1].edge(size.picks[0].source)
        if not across and edge is not None and edge.kind == "circle":
            across = 2 * edge.radius
        face = min(same, key=lambda f: abs(2 * f.radius - across) if across else 0.0)
        on: Toleranced = "axis" if face.kind == "cylinder" else "center point"
        others_ = tuple(_situation(f, instance.matrix) for f in equal_faces(size, face, sides[0][1]))
        own = _situation(face, instance.matrix)
        return Feature(size.picks[0].instance, (face.name,), on, own, size.id, others_)
    if len(instances) == 1:
        others = sides[1][2] if len(sides) == 2 else faces
        pair = _parallel(faces, others, instance, _along(size, context)) if len(sides) == 2 else None
        pair = pair or (_at_ends(size.picks[0], sides[0][1]) if len(sides) == 1 else None)
        if pair is not None:
            a, b = (_situation(f, instance.matrix) for f in pair)
            middle = Situation("plane", (a.at + b.at) / 2, a.direction)
            names = (pair[0].name, pair[1].name)
            return Feature(size.picks[0].instance, names, "median plane", middle, size.id)
    raise SizeError("This size is of no feature of size; point at a surface, or at a diameter or a width.")


def equal_faces(size: AnnotationBase, face: FaceFact, part: PartFacts) -> list[FaceFact]:
    """The other cylinders that a size is of which says that there are several: those of equal holes."""
    several = size.kind in CALLOUTS or (isinstance(size, Dimension) and size.wording.count > 1)
    known = features(part)
    numbers = known.holes_at([face.name]) if several and known.known else []
    out = []
    for n in known.alike(numbers[0]) if numbers else ():
        walls = [part.face(name) for name in sorted(known.holes[n].faces) if n not in numbers]
        fits = (f for f in walls if f is not None and f.kind == "cylinder")
        out += [f for f in fits if abs(f.radius - face.radius) < 1e-6][:1]
    return out


def _along(size: AnnotationBase, context: Context) -> Array:
    """The direction that a size measures in, of the model. Raises SizeError."""
    _, along = place_on_line(size.id, 0, 0.0, context)
    m = np.asarray(context.frame.matrix)
    out: Array = along[0] * m[0] + along[1] * m[1]
    return out


def _parallel(
    one: Sequence[FaceFact], other: Sequence[FaceFact], instance: InstanceFacts, along: Array
) -> tuple[FaceFact, FaceFact] | None:
    """Two opposite planes square to what is measured, among faces that meet in two edges."""
    for f in one:
        for g in other:
            if f.kind == g.kind == "plane" and float(np.dot(f.axis, g.axis)) < -1 + 1e-9:
                away = float(np.dot(np.array(g.origin) - np.array(f.origin), f.axis))
                is_square = abs(float(placed(instance.matrix, f.axis, False) @ along)) > 1 - 1e-6
                if abs(away) > 1e-9 and is_square:
                    return f, g
    return None


def _at_ends(pick: Pick, part: PartFacts) -> tuple[FaceFact, FaceFact] | None:
    """The two planes that a straight edge runs between, whose length is a size."""
    edge = part.edge(pick.source)
    if edge is None or edge.kind != "line" or pick.point:
        return None
    d = np.array(edge.end) - np.array(edge.start)
    d = d / max(float(np.linalg.norm(d)), 1e-12)
    found = []
    for end in (edge.start, edge.end):
        meeting = {
            n
            for e in part.edges
            if e.kind == "line" and any(np.allclose(p, end, atol=1e-6) for p in (e.start, e.end))
            for n in e.faces
        }
        planes = [f for n in meeting if (f := part.face(n)) is not None and f.kind == "plane"]
        found.append([f for f in planes if abs(float(np.dot(f.axis, d))) > 1 - 1e-9])
    return (found[0][0], found[1][0]) if found[0] and found[1] else None


def datum_features(context: Context) -> Iterator[tuple[str, AnnotationBase, Context]]:
    """The letters of the drawing's datums, their symbols, and where these are."""
    for a, home in context.of_annotations("datum_feature"):
        yield a.letter, a, home  # type: ignore[attr-defined]


def datums(letters: Sequence[str], context: Context) -> list[Feature | None]:
    """What letters stand for; None for those that no symbol has, or whose surface is gone."""
    known: dict[str, Feature | None] = {}
    for letter, a, home in datum_features(context):
        if letter in letters and letter not in known:
            try:
                known[letter] = feature_at(a.tip, home)  # type: ignore[attr-defined]
            except SizeError:
                known[letter] = None
    return [known.get(letter) for letter in letters]


def own_letters(feature: Feature, context: Context) -> list[str]:
    """The datums that are this very feature."""
    out = []
    for letter, a, home in datum_features(context):
        try:
            other = feature_at(a.tip, home)  # type: ignore[attr-defined]
        except SizeError:
            continue
        if other.faces and (other.instance, other.faces) == (feature.instance, feature.faces):
            out.append(letter)
    return out


def axes_of(context: Context) -> Array:
    """The directions that degrees of freedom are told by: those of the model."""
    return np.eye(3)
