"""The chain of sizes between two surfaces: along what is drawn, across the contacts of an assembly.

Surfaces, and axes of cylinders, are places along one direction. Sizes tie two places of a part (of every
instance of it); faces that bear on each other tie parts; a bore about its shaft lets them shift. Where a size
is basic, what it locates is off by its position or profile. Form and orientation within the limits of a size
add nothing (ASME Y14.5, 5.8; of ISO common practice).
"""

import heapq
import itertools
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from drafting.annotation.measuring import others
from drafting.annotation.measuring.contacts import LEVEL, Contact, Side, contacts, side_of
from drafting.annotation.measuring.frames import FrameRow
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.measuring.toleranced import Feature, datum_features, datums, feature_at
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Pick
from drafting.errors import SizeError
from drafting.features.recognized import features
from drafting.model.model import Facts, PartFacts
from drafting.tolerancing.stack import Link
from drafting.views.frame import Array

Node = tuple[str, str, int]
"""Path of an instance, a face of it, and of a cylinder's the side that lies along the direction (1), against
it (-1), or its axis (0); planes have 0."""
ALONG = 1 - 1e-6
EVEN = 1e-3
"""How far a level may be from the place it belongs to, mm."""


@dataclass(frozen=True)
class ChainLink:
    """A link with what it is. annotation: the size or the frame that says it, empty for contacts; says: in
    words; faces: (path, face) of its two ends."""

    link: Link
    annotation: str
    says: str
    faces: tuple[tuple[str, str], tuple[str, str]]


@dataclass(frozen=True)
class _Joint:
    """place(two) - place(one) = sensitivity x size, where its size is named and may be off."""

    one: Node
    two: Node
    link: Link
    annotation: str
    says: str

    def turned(self) -> "_Joint":
        back = Link(self.link.nominal, self.link.upper, self.link.lower, -self.link.sensitivity)
        return _Joint(self.two, self.one, back, self.annotation, self.says)

    @property
    def cost(self) -> float:
        """Few links go first, and those that say nothing cost least."""
        return (0.05 if self.link.upper == self.link.lower == 0 else 1.0) + 1e-3 * self.link.pays


@dataclass(frozen=True)
class Chain:
    """From one surface to another along a unit direction of the model, (3,). links: in order; gap: how far
    they are apart in the model, mm."""

    direction: Array
    gap: float
    links: tuple[ChainLink, ...]


def between(picks: Sequence[Pick], context: Context) -> tuple[Array, float, Node, Node]:
    """The direction from one surface that was picked to the other, how far that is, mm, and the places of the
    two. Raises SizeError where they are not parallel."""
    ends = [_end(p, context) for p in picks]
    direction = next((s.direction for s, _ in ends if s.radius == 0), None)
    if direction is None:
        off = ends[1][0].at - ends[0][0].at
        off = off - ends[0][0].direction * float(off @ ends[0][0].direction)
        if float(np.linalg.norm(off)) < LEVEL:
            off = _across(ends[0][0], context)
        direction = off / np.linalg.norm(off)
    for side, _ in ends:
        along = abs(float(side.direction @ direction))
        if (along < ALONG) if side.radius == 0 else (along > 1e-6):
            raise SizeError("A stack-up is taken between two surfaces that are parallel.")
    a, b = (float(s.at @ direction) + way(s, k, direction) for s, k in ends)
    if b < a:
        direction, a, b = -direction, -a, -b
    start, goal = (_node(s, k, direction) for s, k in ends)
    return direction, b - a, start, goal


def chain(picks: Sequence[Pick], context: Context) -> Chain:
    """The chain between two surfaces that were picked. Raises SizeError where they are not parallel, or where
    nothing that is drawn leads from one to the other."""
    direction, apart, start, goal = between(picks, context)
    found = _Graph(direction, context).way(start, goal)
    gap = sum(j.link.sensitivity * j.link.nominal for j in found)
    if abs(gap - apart) > EVEN:
        raise SizeError("The sizes between the two do not add up to what the model measures: cannot tell.")
    links = tuple(
        ChainLink(j.link, j.annotation, j.says, ((j.one[0], j.one[1]), (j.two[0], j.two[1]))) for j in found
    )
    return Chain(direction, apart, links)


def _across(side: Side, context: Context) -> Array:
    """A direction of the paper square to an axis."""
    up = np.cross(side.direction, context.frame.matrix[2])
    out: Array = up if float(np.linalg.norm(up)) > 1e-6 else np.asarray(context.frame.matrix[1])
    return out


def _end(pick: Pick, context: Context) -> tuple[Side, Array | None]:
    """The surface that was picked, and of a cylinder the way from its axis to where it was."""
    found = context.facts.part_of(pick.instance)
    if found is None or pick.role in ("added", "underlay"):
        raise SizeError("A stack-up is taken between surfaces of the model.")
    instance, part = found
    faces = [f for n in faces_at(pick, part) if (f := part.face(n)) is not None]
    toward = np.asarray(context.frame.matrix[2])
    planes = [
        f for f in faces if f.kind == "plane" and abs(float(side_of(instance, f).direction @ toward)) < 1e-6
    ]
    if planes and pick.role != "silhouette":
        if len(planes) > 1 and pick.role == "edge":
            raise SizeError(
                "Two surfaces meet in this edge, both seen edge-on; pick another edge of the one."
            )
        return side_of(instance, planes[0]), None
    cylinder = next((f for f in faces if f.kind == "cylinder"), None)
    if cylinder is None:
        raise SizeError("Pick a surface that is seen edge-on: an edge of a plane, or the side of a cylinder.")
    side = side_of(instance, cylinder)
    if pick.role == "silhouette" and pick.side:
        across = np.cross(toward, side.direction)
        return side, across * pick.side
    raise SizeError("Pick the side of the cylinder, where it is seen from beside its axis.")


def way(side: Side, out: Array | None, direction: Array) -> float:
    """How far the surface of a cylinder is from its axis along a direction, mm; 0 of a plane."""
    return 0.0 if out is None else side.radius * (1 if float(out @ direction) > 0 else -1)


def _node(side: Side, out: Array | None, direction: Array) -> Node:
    return side.path, side.face, 0 if out is None else (1 if float(out @ direction) > 0 else -1)


class _Line:
    """Places of a model along a direction."""

    def __init__(self, direction: Array, facts: Facts) -> None:
        self.direction, self.facts = direction, facts

    def side(self, path: str, face: str) -> Side | None:
        """A face where its instance stands; None where it is gone."""
        found = self.facts.part_of(path)
        known = found[1].face(face) if found else None
        return side_of(found[0], known) if found and known else None

    def place(self, node: Node) -> float:
        """Where a node lies along the direction, mm."""
        side = self.side(node[0], node[1])
        assert side is not None
        return float(side.at @ self.direction) + node[2] * side.radius

    def nodes(self, path: str, faces: Sequence[str], level: float) -> list[Node]:
        """Of some faces of an instance, the places at a level: planes before axes before sides."""
        out: list[tuple[int, Node]] = []
        for name in faces:
            face, side = self.facts.face_of(path, name), self.side(path, name)
            if face is None or side is None:
                continue
            along = abs(float(side.direction @ self.direction))
            if face.kind == "plane" and along > ALONG:
                out.append((0, (path, name, 0)))
            elif face.kind == "cylinder" and along < 1e-6:
                out += [(abs(s) + 1, (path, name, s)) for s in (0, -1, 1)]
        return [n for _, n in sorted(out) if abs(self.place(n) - level) < EVEN]


class _Graph(_Line):
    """All that ties places along a direction."""

    def __init__(self, direction: Array, context: Context) -> None:
        super().__init__(direction, context.facts)
        self.context = context
        self.joints: dict[Node, list[_Joint]] = defaultdict(list)
        self.limits: dict[tuple[str, str], tuple[float, float]] = {}
        """Least and greatest diameter of the faces of parts."""
        self.off: dict[tuple[str, str], tuple[float, str]] = {}
        """How far what is located by basic sizes may be off, and what says so, by part and face."""
        self.datums = {
            (f.instance, name)
            for f in datums([k for k, _, _ in datum_features(context)], context)
            if f is not None
            for name in f.faces
        }
        self._read()

    # ---- what ties them ----
    def _join(
        self, ends: tuple[Node, Node], d: Array, size: others.Measured, factor: float, name: str, says: str
    ) -> None:
        """What a size that runs along d ties, in every instance of its part that stands so that it runs along
        the direction."""
        if size.upper is None or size.lower is None:
            return
        for a, b in self._everywhere(*ends, d):
            apart = self.place(b) - self.place(a)
            if abs(abs(apart) - factor * size.value) < EVEN:
                link = Link(size.value, size.upper, size.lower, factor if apart >= 0 else -factor)
                self._add(_Joint(a, b, link, name, says))

    def _everywhere(self, one: Node, two: Node, d: Array) -> Iterator[tuple[Node, Node]]:
        here = self.facts.part_of(one[0])
        assert here is not None
        own = np.array(here[0].matrix)[:3, :3].T @ d
        for i in self.facts.instances:
            if i.part != here[0].part or (one[0] != two[0] and i.path != one[0]):
                continue
            along = float((np.array(i.matrix)[:3, :3] @ own) @ self.direction)
            if abs(along) > ALONG:
                sign = 1 if along > 0 else -1
                other = i.path if one[0] == two[0] else two[0]
                yield (i.path, one[1], one[2] * sign), (other, two[1], two[2] * sign)

    def _add(self, joint: _Joint) -> None:
        self.joints[joint.one].append(joint)
        self.joints[joint.two].append(joint.turned())

    def _read(self) -> None:
        drawn = list(self._drawn())
        for a, home in drawn:
            self._of_frame(a, home)
        for a, home in drawn:
            if others.is_sized(a):
                try:
                    self._of_size(a, home)
                except SizeError:
                    continue
        for c in contacts(self.facts):
            self._of_contact(c)
        self._of_levels()

    def _drawn(self) -> Iterator[tuple[AnnotationBase, Context]]:
        for a, home in self.context.of_annotations():
            if home.view is not None and not home.view.exploded:
                yield a, home

    def _of_size(self, a: AnnotationBase, home: Context) -> None:
        size = others.measured_of(a, home)
        if size is None:
            return
        says = others.says(a, home)
        if size.is_diameter:
            self._of_diameter(a, size, says)
            return
        if size.levels is None:
            return
        (along, low), (_, high) = size.levels
        d = np.array(along, float)  # type: ignore[arg-type]
        for ends in self._ends(a, d, low, high):
            located = [self.off.get(self._part_face(n)) for n in ends]
            known = [o for o in located if o is not None]
            tied = all(o is not None or n[:2] in self.datums for o, n in zip(located, ends, strict=True))
            if size.is_basic and known and tied:  # else nothing says how far the other end may be off
                half = sum(o[0] for o in known)
                says = ", ".join([says, *(o[1] for o in known)])
                size = replace(size, upper=half, lower=-half)
            self._join(ends, d, size, 1.0, a.id, says)

    def _part_face(self, node: Node) -> tuple[str, str]:
        found = self.facts.part_of(node[0])
        assert found is not None
        return found[0].part, node[1]

    def _ends(self, a: AnnotationBase, d: Array, low: float, high: float) -> list[tuple[Node, Node]]:
        """The places that a length ties, in the instance that it is drawn on."""
        line = _Line(d, self.facts)
        sides = []
        for p in (a.picks[0], a.picks[-1]):
            found = self.facts.part_of(p.instance)
            names = (faces_at(p, found[1]) if len(a.picks) > 1 else _about(p, found[1])) if found else []
            sides.append([line.nodes(p.instance, names, v)[:2] for v in (low, high)])
        at_low, at_high = sides[0][0], sides[1][1]
        if not at_low or not at_high:
            at_low, at_high = sides[1][0], sides[0][1]
        return list(itertools.product(at_low, at_high))

    def _of_diameter(self, a: AnnotationBase, size: others.Measured, says: str) -> None:
        pick = a.picks[0]
        found = self.facts.part_of(pick.instance)
        if found is None or size.upper is None or size.lower is None:
            return
        instance, part = found
        round_ = [f for n in faces_at(pick, part) if (f := part.face(n)) is not None and f.kind == "cylinder"]
        for face in round_:
            if abs(2 * face.radius - size.value) > EVEN:
                continue
            names = _equal(face.name, part) if _is_of_several(a) else [face.name]
            for name in names:
                self.limits[(instance.part, name)] = (size.value + size.lower, size.value + size.upper)
                for i in self.facts.instances:
                    side = self.side(i.path, name) if i.part == instance.part else None
                    if side is None or abs(float(side.direction @ self.direction)) > 1e-6:
                        continue
                    for s in (-1, 1):
                        link = Link(size.value, size.upper, size.lower, 0.5 * s)
                        self._add(_Joint((i.path, name, 0), (i.path, name, s), link, a.id, says))

    def _of_frame(self, a: AnnotationBase, home: Context) -> None:
        """A position or a profile: how far what it locates may be off, by the part and its face."""
        if a.kind != "control_frame":
            return
        try:
            feature = feature_at(a.tip, home)  # type: ignore[attr-defined]
        except SizeError:
            return
        row: FrameRow = a.rows[0]  # type: ignore[attr-defined]
        if row.characteristic not in ("position", "profile of a surface", "profile of a line"):
            return
        if not row.datums or not feature.faces:
            return
        found = self.facts.part_of(feature.instance)
        if found is None:
            return
        half = row.value / 2 + (self._bonus(feature, home) / 2 if row.modifier else 0.0)
        if row.unequal is not None:
            iso = home.profile.standard == "ISO"  # there the middle of the zone is moved
            half = (
                row.value / 2 + abs(row.unequal)
                if iso
                else max(abs(row.unequal), abs(row.value - row.unequal))
            )
        size = home.sheet.annotation(feature.size) if feature.size else None
        several = size is not None and _is_of_several(size)
        for name in _equal(feature.faces[0], found[1]) if several else feature.faces:
            self.off[(found[0].part, name)] = (half, others.says(a, home))

    def _bonus(self, feature: Feature, home: Context) -> float:
        size = home.sheet.annotation(feature.size) if feature.size else None
        play = others.play_of(size, home) if size is not None else None
        return play or 0.0

    def _of_contact(self, c: Contact) -> None:
        along = abs(float(c.one.direction @ self.direction))
        one, two = (c.one.path, c.one.face, 0), (c.other.path, c.other.face, 0)
        if not c.is_fit:
            if along > ALONG:
                says = f"{self._called(c.one.path)} on {self._called(c.other.path)}"
                self._add(_Joint(one, two, Link(0, 0, 0, 1), "", says))
            return
        if along > 1e-6:
            return
        hole, shaft = (self._limits(s) for s in (c.one, c.other))
        if hole is None or shaft is None:
            return
        half = max(hole[1] - shaft[0], 0.0) / 2
        says = f"{self._called(c.other.path)} shifts in {self._called(c.one.path)}"
        self._add(_Joint(one, two, Link(0, half, -half, 1), "", says))

    def _limits(self, s: Side) -> tuple[float, float] | None:
        return self.limits.get(self._part_face((s.path, s.face, 0)))

    def _called(self, path: str) -> str:
        found = self.facts.part_of(path)
        return (found[0].name if found else "") or path

    def _of_levels(self) -> None:
        """Planes of an instance that lie in one plane and face one way are one surface."""
        by: dict[tuple[str, int, bool], list[Node]] = defaultdict(list)
        for node in list(self.joints):
            face, side = self.facts.face_of(node[0], node[1]), self.side(node[0], node[1])
            if face is not None and side is not None and face.kind == "plane":
                out = float(side.direction @ self.direction) > 0
                by[(node[0], round(self.place(node) / EVEN), out)].append(node)
        for group in by.values():
            for one, two in itertools.pairwise(group):
                self._add(_Joint(one, two, Link(0, 0, 0, 1), "", "in one plane"))

    # ---- the way ----
    def way(self, start: Node, goal: Node) -> list[_Joint]:
        """The joints from one place to another, the fewest that do. Raises SizeError."""
        came: dict[Node, _Joint | None] = {}
        heap: list[tuple[float, int, Node, _Joint | None]] = [(0.0, 0, start, None)]
        count = 1
        while heap:
            cost, _, node, by = heapq.heappop(heap)
            if node in came:
                continue
            came[node] = by
            if node == goal:
                break
            for j in self.joints.get(node, []):
                if j.two not in came:
                    heapq.heappush(heap, (cost + j.cost, count, j.two, j))
                    count += 1
        if goal not in came:
            reached = sorted({self._called(n[0]) for n in came})
            words = f" It gets as far as {', '.join(reached[:4])}." if len(came) > 1 else ""
            raise SizeError(f"No sizes with tolerances lead from the one to the other.{words}")
        out: list[_Joint] = []
        step = came[goal]
        while step is not None:
            out.append(step)
            step = came[step.one]
        return out[::-1]


def _about(pick: Pick, part: PartFacts) -> list[str]:
    """Faces that meet an edge at its ends or along it."""
    edge = part.edge(pick.source)
    if edge is None:
        return [pick.source]
    names = list(edge.faces)
    for e in part.edges:
        if any(np.allclose(p, q, atol=1e-6) for p in (e.start, e.end) for q in (edge.start, edge.end)):
            names += e.faces
    return list(dict.fromkeys(names))


def _is_of_several(size: AnnotationBase) -> bool:
    """Whether what a size says holds for all that are equal."""
    return size.kind in others.CALLOUTS or (isinstance(size, Dimension) and size.wording.count > 1)


def _equal(face: str, part: PartFacts) -> list[str]:
    """A face of a hole, and those of the holes that are equal to it that are as wide."""
    known = features(part)
    mine = part.face(face)
    numbers = known.holes_at([face])
    if mine is None or not numbers:
        return [face]
    names = [n for k in known.alike(numbers[0]) for n in known.holes[k].faces]
    alike = [f.name for n in names if (f := part.face(n)) is not None and f.kind == "cylinder"]
    return [n for n in alike if abs(part.face(n).radius - mine.radius) < EVEN]  # type: ignore[union-attr]
