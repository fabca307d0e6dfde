"""What the center lines, center marks and bolt circles of a drawing say besides its sizes: what lies on one
line is in line, what lies alike on both sides of it is symmetric, what stands on a bolt circle stands in
equal steps.

Only what is drawn counts. A symmetry of the model that no line shows is for the sizes to say."""

import copy
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds.bolt_circle import BoltCircle
from drafting.annotation.kinds.centers import Center
from drafting.completeness.parameters import Line, Parameters, Row, add, less
from drafting.completeness.surfaces import SAME_PLACE, Array, Surface, cross, unit
from drafting.context import Context
from drafting.errors import DraftingError
from drafting.features.body import NEAR

Carried = Callable[[Array, Array], Row]
"""How far a place that is carried along moves along a direction."""
COVERED = 0.99
"""The share of a face's extent along a center line that the line must pass to be its line of symmetry."""
IMAGE = 1e-3
"""How far the box of an image may lie off the box of a face it would be, of half the diagonal."""
OFF = 1e-4
"""How far an image may lie off a face it would be, of half the diagonal."""


@dataclass(eq=False)
class Plane:
    """Planes through the model in which center lines are seen, at one level of a direction. strokes: of each
    line its direction, from and to along it, and the direction it is looked at in. v: the number of its
    level."""

    way: int
    level: float
    v: int
    strokes: list[tuple[Array, float, float, Array]]
    id: str


def extended(p: Parameters) -> Parameters:
    """The same numbers, to which more may be added."""
    out = copy.copy(p)
    out.words, out.ways, out.lines = list(p.words), list(p.ways), list(p.lines)
    out.levels = p.levels.copy()
    return out


def rules(
    p: Parameters, centers: list[tuple[Center, Context]], planes: list[Plane] | None = None
) -> list[tuple[str, Row]]:
    """Rows that what is drawn keeps zero, each with the id of what shows it. p is extended; planes: takes the
    planes in which center lines are seen."""
    planes = [] if planes is None else planes
    out: list[tuple[str, Row]] = []
    for center, context in centers:
        if (
            context.view is None
            or context.frame.legs
            or context.frame.pictorial
            or not context.facts.instances
        ):
            continue
        try:
            for stroke in registry.strokes(center, context):
                if stroke.center is None:
                    _gather(p, planes, center.id, stroke.a, stroke.b, context)
            if isinstance(center, BoltCircle):
                out += [(center.id, row) for row in _ring(p, center, context)]
        except DraftingError:
            continue
    boxes = _Boxes(list(p.solid.surfaces.values()))
    for plane in planes:
        out += [(plane.id, row) for row in (*_in_line(p, plane), *_symmetric(p, plane, boxes))]
    return out


def _gather(p: Parameters, planes: list[Plane], key: str, a: Array, b: Array, context: Context) -> None:
    """A stroke, paper mm about its view's position, as part of a plane of the part."""
    frame = context.frame
    m = np.array(context.facts.instances[0].matrix)
    ends = []
    for end in (a, b):
        x, y = frame.undrawn((float(end[0]) / context.scale, float(end[1]) / context.scale))
        model = frame.middle + frame.matrix[0] * x + frame.matrix[1] * y
        ends.append(p.solid.flat(m[:3, :3].T @ (model - m[:3, 3])))
    toward = m[:3, :3].T @ frame.matrix[2]
    along = unit(ends[1] - ends[0])
    k = p.way_along(cross(toward, along))
    u = p.ways[k].u
    level = float(ends[0] @ u)
    lo, hi = sorted((float(ends[0] @ along), float(ends[1] @ along)))
    known = next((q for q in planes if q.way == k and abs(q.level - level) < SAME_PLACE), None)
    if known is None:
        known = Plane(k, level, p.new(f"plane {level:.4f} of way {k} shown by {key}"), [], key)
        planes.append(known)
    known.strokes.append((along, lo, hi, toward))


def _in_line(p: Parameters, plane: Plane) -> Iterator[Row]:
    """Axes and faces that lie in the plane where it is drawn."""
    u = p.ways[plane.way].u
    for line in p.lines:
        way = p.ways[line.way]
        if (
            line.is_corner
            or abs(float(way.u @ u)) > 1e-6
            or abs(float(line.foot @ u) - plane.level) > SAME_PLACE
        ):
            continue
        if any(_passes(p, line, *stroke) for stroke in plane.strokes):
            yield less(p.height(plane.way, line), {plane.v: 1.0})
    for s in p.solid.surfaces.values():
        if s.kind == "plane" and s.way == plane.way and abs(float(s.at @ u) - plane.level) < SAME_PLACE:
            if _covers(plane, s):
                yield {s.v["level"]: 1.0, plane.v: -1.0}
        elif s.kind == "sphere" and abs(float(s.at @ u) - plane.level) < SAME_PLACE and _covers(plane, s):
            center = {s.v[x]: float(c) for x, c in zip("xyz", u, strict=True)}
            w = p.ways[plane.way]
            yield add(center, {w.a: float(w.e1 @ s.at), w.b: float(w.e2 @ s.at), plane.v: -1.0})


def _passes(p: Parameters, line: Line, along: Array, lo: float, hi: float, toward: Array) -> bool:
    """Whether a stroke passes an axis: through its point where it is seen end-on, along it where it lies in
    the paper."""
    u = p.ways[line.way].u
    slack = NEAR / p.solid.half
    if abs(float(u @ toward)) > 1 - 1e-8:
        return lo - slack <= float(line.foot @ along) <= hi + slack
    if abs(float(u @ along)) < 1 - 1e-8 or not line.faces:
        return False
    ends = np.array([float(c @ along) for s in line.faces for c in s.box])
    return min(hi, float(ends.max())) > max(lo, float(ends.min())) + slack


def _covers(plane: Plane, *faces: Surface) -> bool:
    """Whether one of the plane's strokes passes nearly all of what faces extend along it."""
    for along, lo, hi, _ in plane.strokes:
        good = True
        for s in faces:
            corners = np.array(
                [[s.box[i, 0], s.box[j, 1], s.box[k, 2]] for i in (0, 1) for j in (0, 1) for k in (0, 1)]
            )
            ends = corners @ along
            first, last = float(ends.min()), float(ends.max())
            both = min(hi, last) - max(lo, first)
            good &= both >= COVERED * (last - first) - 1e-9 if last - first > 1e-6 else both >= -1e-6
        if good:
            return True
    return False


def _symmetric(p: Parameters, plane: Plane, boxes: "_Boxes") -> Iterator[Row]:
    """Faces that mirror each other in the plane, where its line passes them."""
    w = p.ways[plane.way]
    turn, shift = np.eye(3) - 2 * np.outer(w.u, w.u), 2 * plane.level * w.u

    def carried(at: Array, n: Array) -> Row:
        return {
            plane.v: float(n @ w.u),
            w.a: float(n @ cross(w.e2, at)),
            w.b: -float(n @ cross(w.e1, at)),
        }

    known = list(p.solid.surfaces.values())
    done: set[frozenset[str]] = set()
    for i, j in boxes.facing(turn, shift):
        s, t = known[i], known[j]
        pair = frozenset((s.name, t.name))
        if s is t or (s.kind, s.outer) != (t.kind, t.outer) or pair in done or s.v == t.v:
            continue
        if not _is_image(s, t, turn, shift):
            continue
        done.add(pair)
        if _covers(plane, s, t):
            yield from _alike(p, s, t, turn, shift, carried)


class _Boxes:
    """The boxes of faces, to find those that mirror each other by."""

    def __init__(self, known: Sequence[Surface]) -> None:
        self.corners = np.array([s.box for s in known]).reshape(-1, 2, 3)
        self.flat = self.corners.reshape(-1, 6)
        self.order = np.argsort(self.flat[:, 0], kind="stable")
        self.levels = self.flat[self.order, 0]

    def facing(self, turn: Array, shift: Array) -> list[tuple[int, int]]:
        """Numbers of faces whose boxes are images of each other, in order."""
        images = np.sort(self.corners @ turn.T + shift, axis=1).reshape(-1, 6)
        first = np.searchsorted(self.levels, images[:, 0] - IMAGE)
        many = np.searchsorted(self.levels, images[:, 0] + IMAGE) - first
        one = np.repeat(np.arange(len(images)), many)
        place = np.arange(len(one)) - np.repeat(np.cumsum(many) - many, many) + np.repeat(first, many)
        other = self.order[place]
        near = np.abs(images[one] - self.flat[other]).max(axis=1, initial=0.0) <= IMAGE
        return sorted(zip(one[near].tolist(), other[near].tolist(), strict=True))


def _is_image(s: Surface, t: Surface, turn: Array, shift: Array) -> bool:
    """Whether a face is the image of another one whose box is."""
    if abs(s.radius - t.radius) + abs(s.half - t.half) + abs(s.across - t.across) > SAME_PLACE:
        return False
    if s.kind == "plane" and float(turn @ s.axis @ t.axis) < 0.9999:
        return False
    return all(abs(t.off(turn @ at + shift)) < OFF for at in s.points)


def _alike(
    p: Parameters, s: Surface, t: Surface, turn: Array, shift: Array, carried: Carried
) -> Iterator[Row]:
    """t moves as the image of s does, apart from what carries both."""
    for at in s.points:
        image = turn @ at + shift
        n = s.normal(at)
        m = turn @ n
        yield less(less(p.moves(t, image, m), carried(image, m)), less(p.moves(s, at, n), carried(at, n)))


def _ring(p: Parameters, circle: BoltCircle, context: Context) -> Iterator[Row]:
    """Axes that stand on a circle, in equal steps if they do."""
    part = p.solid.part
    found: dict[int, Line] = {}
    for pick in circle.picks:
        edge = part.edge(pick.source)
        for name in edge.faces if edge else [pick.source]:
            s = p.solid.surfaces.get(name)
            if s is not None and s.kind in ("cylinder", "cone") and s.line >= 0 and not s.outer:
                found.setdefault(s.line, p.lines[s.line])
                break
    lines = list(found.values())
    if len(lines) < 3 or len({x.way for x in lines}) != 1:
        return
    way = p.ways[lines[0].way]
    flat = np.array([[float(x.foot @ way.e1), float(x.foot @ way.e2)] for x in lines])
    center = _center(flat)
    if center is None:
        return
    foot = way.e1 * center[0] + way.e2 * center[1]
    middle = p.lines[p.line_at(lines[0].way, foot)]
    angles = np.arctan2(flat[:, 1] - center[1], flat[:, 0] - center[0])
    order = np.argsort(angles)
    steps = np.diff(np.r_[angles[order], angles[order[0]] + 2 * math.pi])
    lines = [lines[i] for i in order]
    if np.ptp(steps) < 1e-5:
        turn = 2 * math.pi / len(lines)
        for one, two in zip(lines, [*lines[1:], lines[0]], strict=True):
            for e in (way.e1, way.e2):
                turned = e * math.cos(turn) + cross(way.u, e) * math.sin(turn)
                yield less(
                    less(p.carried(two, two.foot, turned), p.carried(middle, two.foot, turned)),
                    less(p.carried(one, one.foot, e), p.carried(middle, one.foot, e)),
                )
        return
    out = [unit(x.foot - middle.foot) for x in lines]
    away = [
        less(p.carried(x, x.foot, n), p.carried(middle, x.foot, n)) for x, n in zip(lines, out, strict=True)
    ]
    for row, more in zip(away, away[1:], strict=False):
        yield less(more, row)


def _center(flat: Array) -> Array | None:
    """The center of the circle through points; None where there is none."""
    m = np.c_[2 * flat, np.ones(len(flat))]
    x = np.linalg.lstsq(m, (flat**2).sum(1), rcond=None)[0]
    away = np.linalg.norm(flat - x[:2], axis=1)
    return None if np.ptp(away) > 4 * SAME_PLACE else np.array(x[:2])
