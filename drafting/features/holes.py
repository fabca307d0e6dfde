"""Holes: coaxial round faces with their material outside, in steps from the entry on.

How faces meet carries the answer. A step goes over into the next where they share an edge, or a flat shoulder
or a rounding between them. An end is closed where a floor or a tip closes it, open where its edge is convex.
Rules and figures: common practice, and trials on random solids.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np

from drafting.features.body import Array, Axis, Body, meets
from drafting.features.feature import Feature
from drafting.features.hole import Bottom, Head, Hole, Kind, Step
from drafting.features.walls import Wall, walls
from drafting.model.model import EdgeFact, FaceFact

OPEN = math.radians(179)
"""The widest gap in a wall that still leaves a hole; a wider one is the end of a slot or a rounding."""
SINK = 1.45
"""How many times as wide as its hole a countersink is at least; a narrower cone is a chamfer."""
SPOT = 0.15, 2.0
"""The deepest that a spotface is: by its diameter, and in mm."""
GROOVE = 1.2
"""The widest that a groove within a hole is, in its radii."""


def holes(body: Body, reliefs: Sequence[Feature] = ()) -> list[Hole]:
    """All holes of a part, those of an axis together. reliefs: relief grooves of the part; a bore
    goes on through its own, up to the shoulder."""
    out: list[Hole] = []
    for axis in body.axes:
        pieces = [p for p in walls(body, axis, hollow=True) if p.gap < OPEN and not _has_core(axis, p)]
        for chain in _chains(body, axis, pieces, reliefs):
            found = _hole(body, axis, chain, reliefs)
            if found is not None:
                out.append(found)
    return [_with_said(hole, body) for hole in out]


# ---- walls -------------------------------------------------------------------------------------------------
def _has_core(axis: Axis, piece: Wall) -> bool:
    """Whether something round stands within the wall: then it is a groove about that."""
    for face in axis.faces:
        if face.hollow is False and face.kind == "cylinder" and face.radius < max(piece.r0, piece.r1):
            low, high = axis.span(face)
            if min(high, piece.t1) - max(low, piece.t0) > 0.5 * (piece.t1 - piece.t0):
                return True
    return False


# ---- what belongs together ---------------------------------------------------------------------------------
def _chains(body: Body, axis: Axis, pieces: Sequence[Wall], reliefs: Sequence[Feature]) -> list[list[Wall]]:
    """Walls that go over into each other, or are one with only void between."""
    out: list[list[Wall]] = []
    for piece in pieces:
        if out and (
            _goes_over(body, axis, out[-1], piece)
            or _is_one(body, axis, out[-1], piece)
            or any(_is_across(f, body, axis, out[-1], piece) for f in reliefs)
        ):
            out[-1].append(piece)
        else:
            out.append([piece])
    return out


def _goes_over(body: Body, axis: Axis, chain: list[Wall], piece: Wall) -> bool:
    """Whether two walls share an edge, or a shoulder or a rounding between them."""
    names = piece.names
    for before in chain:
        if abs(before.t1 - piece.t0) > max(before.r1, piece.r0) + body.near:
            continue
        for face in before.faces:
            for edge, other in body.others(face):
                if other.name in names:
                    return True
                if edge.turn == "" or other.name in before.names:
                    continue
                if other.kind == "plane" and _is_square(axis, other):
                    mine = edge.turn
                    for edge2, other2 in body.others(other):
                        if other2.name in names and {mine, edge2.turn} == {"convex", "concave"}:
                            return True
                elif other.kind == "torus" and any(o.name in names for _, o in body.others(other)):
                    return True
                elif other.kind == "torus":
                    for _, flat in body.others(other):
                        if flat.kind == "plane" and _is_square(axis, flat):
                            for edge2, other2 in body.others(flat):
                                if other2.name in names and edge2.turn in ("convex", "concave"):
                                    return _is_inside(axis, flat, piece, before)
    return False


def _is_across(relief: Feature, body: Body, axis: Axis, chain: list[Wall], piece: Wall) -> bool:
    """Whether one wall begins or ends at the shoulder of a relief groove that the other belongs to."""
    at = axis.along(np.array(relief.at))
    if piece.names & relief.faces:
        return any(abs(w.t1 - at) < body.near for w in chain)
    return abs(piece.t0 - at) < body.near and any(w.names & relief.faces for w in chain)


def _is_inside(axis: Axis, flat: FaceFact, one: Wall, two: Wall) -> bool:
    """Whether a flat face lies where two walls meet along the axis."""
    t = axis.along(flat.origin)
    return min(one.t0, two.t0) < t < max(one.t1, two.t1)


def _is_one(body: Body, axis: Axis, chain: list[Wall], piece: Wall) -> bool:
    """Whether a bore of the same diameter goes on beyond a gap with only void in it."""
    before = max(chain, key=lambda p: p.t1)
    if not before.kind == piece.kind == "cylinder" or abs(before.r1 - piece.r0) > body.near:
        return False
    if _end(body, axis, [before], 1).closed or _end(body, axis, [piece], -1).closed:
        return False
    return body.crosses(axis, before.t1 - body.near, piece.t0 + body.near) is False


def _is_square(axis: Axis, face: FaceFact) -> bool:
    return abs(abs(float(np.dot(face.axis, axis.direction))) - 1) < 1e-6


# ---- ends --------------------------------------------------------------------------------------------------
@dataclass
class _End:
    """How a chain of walls ends: whether by a floor, a tip or a ball, and the faces it opens into."""

    closed: bool = False
    bottom: Bottom = ""
    into: list[tuple[EdgeFact, FaceFact]] = field(default_factory=list)


def _end(body: Body, axis: Axis, chain: list[Wall], way: int) -> _End:
    """The end of a chain in a direction of its axis (1 or -1)."""
    last = max(chain, key=lambda p: p.t1) if way > 0 else min(chain, key=lambda p: p.t0)
    near_end, far_end = (last.r0, last.r1) if way > 0 else (last.r1, last.r0)
    out = _End()
    if last.kind == "cone" and far_end < 5 * body.near and near_end > far_end:
        out.closed, out.bottom = True, "point"
        return out
    mine = {n for p in chain for n in p.names}
    middle = (last.t0 + last.t1) / 2
    closing = opening = 0.0
    for face in last.faces:
        for edge, other in body.others(face):
            if other.name in mine or (axis.along(edge.middle) - middle) * way < 0 or _runs_along(axis, edge):
                continue
            if other.kind == "sphere" and other.hollow and axis.away(other.origin) < body.near:
                out.closed, out.bottom = True, "ball"
                return out
            if other.kind == "torus" and edge.turn == "smooth":
                if other.hollow:
                    closing += edge.length
                else:
                    opening += edge.length
                    out.into += [(e, f) for e, f in body.others(other) if f.name not in mine]
            elif edge.turn == "concave":
                closing += edge.length
            elif edge.turn == "convex":
                opening += edge.length
                out.into.append((edge, other))
    if closing > opening:
        out.closed, out.bottom = True, "flat"
    return out


def _runs_along(axis: Axis, edge: EdgeFact) -> bool:
    """Whether an edge is a side of a wall that does not close all round."""
    if edge.kind != "line":
        return False
    run = np.array(edge.end) - np.array(edge.start)
    return abs(float(run @ axis.direction)) > 0.999 * float(np.linalg.norm(run))


# ---- a hole ------------------------------------------------------------------------------------------------
def _hole(body: Body, axis: Axis, chain: list[Wall], reliefs: Sequence[Feature]) -> Hole | None:
    low, high = _end(body, axis, chain, -1), _end(body, axis, chain, 1)
    if low.closed and high.closed:
        return None
    if low.closed != high.closed:
        flip = low.closed
    else:
        first, last = (max(p.r0, p.r1) for p in (chain[0], chain[-1]))
        flip = last > first + body.near if abs(last - first) > body.near else True
    inner, outer = (low, high) if flip else (high, low)
    direction = -axis.direction if flip else axis.direction
    mouth = chain[-1].t1 if flip else chain[0].t0
    start = _entered(body, axis, outer, mouth)

    def step(p: Wall) -> Step:
        t0, t1 = _to_floor(body, axis, p, -1), _to_floor(body, axis, p, 1)
        ends = (t1, t0) if flip else (t0, t1)
        at = [(start - t) if flip else (t - start) for t in ends]
        radii = (p.r1, p.r0) if flip else (p.r0, p.r1)
        return Step(p.kind, at[0], at[1], *radii, tuple(sorted(p.names)), p.gap)

    steps = tuple(
        _without_reliefs(
            [step(p) for p in (chain[::-1] if flip else chain)],
            [
                (f, abs(axis.along(np.array(f.at)) - start))
                for f in reliefs
                if axis.away(np.array(f.at)) < body.near
            ],
            body.near,
        )
    )
    if not steps:
        return None  # the slopes of a groove
    way_out = chain[0].t0 if flip else chain[-1].t1
    exit_at = abs(_entered(body, axis, inner, way_out) - start)
    return _told(body, axis.at(start), direction, steps, inner, exit_at)


def _to_floor(body: Body, axis: Axis, wall: Wall, way: int) -> float:
    """Where a wall ends along its axis: at the floor or shoulder that a rounding in its corner goes over
    into, as drawings measure it, else where it ends itself."""
    own = wall.t1 if way > 0 else wall.t0
    if wall.kind != "cylinder":
        return own
    middle = (wall.t0 + wall.t1) / 2
    for face in wall.faces:
        for edge, bend in body.others(face):
            if bend.kind != "torus" or not bend.hollow or edge.turn != "smooth":
                continue
            if (axis.along(edge.middle) - middle) * way < 0:
                continue
            for edge2, flat in body.others(bend):
                if edge2.turn == "smooth" and flat.kind == "plane" and _is_square(axis, flat):
                    return axis.along(flat.origin)
    return own


def _without_reliefs(
    steps: list[Step], reliefs: Sequence[tuple[Feature, float]], near: float
) -> Iterator[Step]:
    """Steps without relief grooves; the wall that a groove runs out into goes on to the shoulder. reliefs:
    each with how far from the entry its shoulder lies."""
    for s in steps:
        names = set(s.faces)
        if any(names & f.faces for f, _ in reliefs):
            continue
        for feature, at in reliefs:
            if not s.is_straight or not any(
                feature.faces & set(o.faces)
                and abs(o.first - s.first - (feature.size("depth") or 0.0)) <= near
                for o in steps
            ):
                continue
            width = feature.size("width") or 0.0
            if abs(at - width - s.end) <= near:
                s = replace(s, end=at)
            elif abs(at + width - s.start) <= near:
                s = replace(s, start=at)
        yield s


def _entered(body: Body, axis: Axis, end: _End, mouth: float) -> float:
    """Where the axis meets the face that a hole enters; the mouth where that is not known."""
    if not end.into:
        return mouth
    _, face = max(end.into, key=lambda pair: pair[0].length)
    if face.kind == "plane":
        slope = float(np.dot(face.axis, axis.direction))
        if abs(slope) > 0.05:
            return float((np.array(face.origin) - axis.origin) @ np.array(face.axis)) / slope
    elif face.kind in ("cylinder", "cone", "sphere"):
        whole = face.model_copy(update={"turn": None, "span": [-1e9, 1e9]})
        found = meets(whole, axis)
        if found:
            return min(found, key=lambda t: abs(t - mouth))
    return mouth


def _told(
    body: Body, entry: Array, direction: Array, steps: tuple[Step, ...], inner: _End, exit_at: float
) -> Hole | None:
    """A hole by its steps from the entry on. exit_at: how far from there the face lies that it leaves by."""
    near = body.near
    main = list(_without_grooves(steps, near))
    angle: float | None = None
    bottom = inner.bottom
    if bottom == "point":
        tip = main[-1]
        angle = _full_angle(tip)
        if len(main) > 1:
            main = main[:-1]
    straight = [s for s in main if s.is_straight]
    if not straight:
        if bottom == "point":
            return None  # a center or a dimple
        least = 2 * min(main[0].first, main[-1].last)
        taper = _hole_of("tapered", entry, direction, least, main, inner, angle, steps, (), ())
        return replace(taper, is_told=False)
    narrow = min(straight, key=lambda s: s.first)
    narrowest = [s for s in straight if abs(s.first - narrow.first) <= near]
    k0, k1 = main.index(narrowest[0]), main.index(narrowest[-1])
    heads = _heads(main[:k0])
    beyond = [_turned(s) for s in reversed(main[k1 + 1 :])]
    far = () if inner.closed else _heads(beyond, -exit_at)
    told = sum(2 if h.kind == "counterdrill" else 1 for h in (*heads, *far))
    kind = _kind(main[:k0], heads, straight if inner.closed else straight[: straight.index(narrowest[0]) + 1])
    hole = _hole_of(kind, entry, direction, 2 * narrow.first, main, inner, angle, steps, heads, far)
    return replace(hole, is_told=told == len(main) - (k1 - k0 + 1) and k1 - k0 + 1 == len(narrowest))


def _hole_of(
    kind: Kind,
    entry: Array,
    direction: Array,
    diameter: float,
    main: list[Step],
    inner: _End,
    angle: float | None,
    steps: tuple[Step, ...],
    heads: tuple[Head, ...],
    far: tuple[Head, ...],
) -> Hole:
    straight = [s for s in main if s.is_straight]
    depth = (straight or main)[-1].end if inner.closed else None
    place, way = (tuple((v + 0.0).tolist()) for v in (entry, direction))
    return Hole(
        kind,
        (place[0], place[1], place[2]),
        (way[0], way[1], way[2]),
        diameter,
        depth,
        inner.bottom if inner.closed else "",
        angle,
        heads,
        far,
        steps,
        frozenset(n for s in steps for n in s.faces),
        any(s.gap > 0 for s in steps),
        straight=tuple((2 * s.first, s.end) for s in straight),
    )


def _without_grooves(steps: Sequence[Step], near: float) -> list[Step]:
    """Steps without narrow wider ones within, and walls of one diameter joined."""
    out: list[Step] = []
    for n, s in enumerate(steps):
        before, after = (steps[n - 1] if n else None), (steps[n + 1] if n + 1 < len(steps) else None)
        if (
            before
            and after
            and before.is_straight
            and after.is_straight
            and s.is_straight
            and s.first > max(before.last, after.first) + near
            and s.length <= GROOVE * s.first
        ):
            continue
        if out and out[-1].is_straight and s.is_straight and abs(out[-1].first - s.first) <= near:
            out[-1] = replace(
                out[-1], end=s.end, faces=(*out[-1].faces, *s.faces), gap=max(out[-1].gap, s.gap)
            )
        else:
            out.append(s)
    return out


def _turned(s: Step) -> Step:
    """A step as seen from the other end."""
    return replace(s, start=-s.end, end=-s.start, first=s.last, last=s.first)


def _heads(outer: Sequence[Step], face: float = 0.0) -> tuple[Head, ...]:
    """What widens a hole, from outside in. face: where the face lies that depths are measured from."""
    out: list[Head] = []
    for n, s in enumerate(outer):
        if s.is_straight:
            wide, deep = 2 * s.first, s.end - face
            inside = outer[n + 1] if n + 1 < len(outer) else None
            kind: Literal["counterbore", "counterdrill", "spotface"]
            kind = "spotface" if deep <= min(SPOT[0] * wide, SPOT[1]) else "counterbore"
            angle = None
            if inside is not None and not inside.is_straight and inside.first > inside.last:
                kind, angle = "counterdrill", _full_angle(inside)
            out.append(Head(kind, wide, deep, angle))
        elif s.first > s.last and not (out and out[-1].kind == "counterdrill" and outer[n - 1].is_straight):
            sink = s.last <= 0 or s.first / s.last >= SINK
            out.append(Head("countersink" if sink else "chamfer", 2 * s.first, s.length, _full_angle(s)))
    return tuple(out)


def _full_angle(cone: Step) -> float:
    return 2 * math.degrees(math.atan2(abs(cone.first - cone.last), max(cone.length, 1e-9)))


def _kind(outer: Sequence[Step], heads: tuple[Head, ...], straight: Sequence[Step]) -> Kind:
    told = [h.kind for h in heads if h.kind != "chamfer"]
    if not told:
        return "plain" if len({round(s.first, 4) for s in straight}) == 1 else "stepped"
    if len(told) > 1:
        return "stepped"
    named: dict[str, Kind] = {
        "counterbore": "counterbored",
        "countersink": "countersunk",
        "spotface": "spotfaced",
        "counterdrill": "counterdrilled",
    }
    return named[told[0]]


def _with_said(hole: Hole, body: Body) -> Hole:
    """A hole with the thread that the recipe or the office says is in it, and how it is finished."""
    process = next((p.process for p in body.part.processes if p.face in hole.faces), "")
    if process:
        hole = replace(hole, process=process)
    for thread in body.part.threads:
        if thread.face in hole.faces and thread.internal:
            return replace(hole, thread=thread.designation, thread_length=thread.length)
    return hole
