"""What callouts and counts say of features, as rows: every size that is written, of every feature that is
counted."""

import math
from collections.abc import Iterator, Sequence

import numpy as np

from drafting.completeness.elimination import System
from drafting.completeness.parameters import Line, Moved, Parameters, Row, add, less
from drafting.completeness.surfaces import Array, Surface, unit
from drafting.features.feature import Feature, Size
from drafting.features.hole import Head, Hole
from drafting.features.shafts import Shaft

LIKE = 5e-3
"""How far a number may lie from what a feature says, mm or degrees, as features are told apart."""

EVEN = 1e-4
"""By how much steps about a circle may differ, radians, and radii, as a part of the largest."""


def circle_rows(p: Parameters, holes: Sequence[Hole]) -> list[Row]:
    """What "equally spaced on a circle" says with the circle's diameter: all of the holes' places but where
    the middle lies and how they are turned about it. Nothing of holes that do not go all around in equal
    steps."""
    lines = [_axis(p, h) for h in holes]
    if len(holes) < 3 or any(x is None for x in lines):
        return []
    axes = [x for x in lines if x is not None]
    way = p.ways[axes[0].way]
    flat = np.array([[x.foot @ way.e1, x.foot @ way.e2] for x in axes])
    off = flat - flat.mean(0)
    radii = np.linalg.norm(off, axis=1)
    steps = np.diff(np.sort(np.arctan2(off[:, 1], off[:, 0])))
    is_even = np.abs(steps - 2 * np.pi / len(holes)).max() < EVEN and np.ptp(radii) < EVEN * radii.max()
    if not is_even or any(x.way != axes[0].way for x in axes):
        return []
    n = len(axes)
    kept = np.zeros((3, 2 * n))  # to the right, upward, and about the middle
    kept[0, 0::2], kept[1, 1::2] = 1.0, 1.0
    kept[2, 0::2], kept[2, 1::2] = -off[:, 1], off[:, 0]
    rows: list[Row] = []
    for weights in np.linalg.svd(kept)[2][3:]:
        row: Row = {}
        for x, a, b in zip(axes, weights[0::2], weights[1::2], strict=True):
            add(row, p.carried(x, x.foot, way.e1), float(a))
            add(row, p.carried(x, x.foot, way.e2), float(b))
        rows.append(row)
    return rows


def _axis(p: Parameters, hole: Hole) -> Line | None:
    """The axis of a hole among the part's."""
    found = [s for n in hole.faces if (s := p.solid.surfaces.get(n)) is not None and s.line >= 0]
    return p.lines[max(found, key=lambda s: s.bulk).line] if found else None


def hole_rows(p: Parameters, hole: Hole) -> list[tuple[str, Row]]:
    """What the callout of a hole says, each with what it is called: the diameters and depths that are in its
    words, and the length of its thread."""
    found = [s for n in hole.faces if (s := p.solid.surfaces.get(n)) is not None]
    direction = np.array(hole.direction)
    turned = [s for s in found if s.line >= 0 and abs(float(p.ways[s.way].u @ direction)) > 1 - 1e-8]
    if not turned:
        return []
    line = p.lines[max(turned, key=lambda s: s.bulk).line]
    heads = [*hole.heads, *hole.far_heads]
    flat_heads = [h for h in heads if h.kind not in ("countersink", "chamfer")]
    inner = hole.straight if hole.is_told else ()
    wide = {d: "diameter" for d, _ in inner} | {hole.diameter: "diameter"}
    wide |= {h.diameter: f"{h.kind}'s diameter" for h in flat_heads}
    deep = {d: "depth" for _, d in (inner[:-1] if hole.is_through else inner)}
    deep |= {hole.depth: "depth"} if hole.depth is not None else {}
    deep |= {h.depth: f"{h.kind}'s depth" for h in hole.heads if h in flat_heads}
    rows: list[tuple[str, Row]] = []
    for s in turned:
        word = _among(2 * s.radius * p.solid.half, wide)
        if s.kind == "cylinder" and word:
            rows.append((word, {s.v["radius"]: 2.0}))
    for s in turned:
        if s.kind == "cone":
            rows += _cone_rows(p, s, line, heads, hole)
    rows += _depths(p, hole, line, deep)
    rows += [(f"{h.kind}'s depth", _depth(p, hole, line, h)) for h in hole.far_heads if h in flat_heads]
    if hole.thread_length is not None:
        rows += [("thread's length", {p.threads[n]: 1.0}) for n in sorted(hole.faces) if n in p.threads][:1]
    return [(word, r) for word, r in rows if r]


def _among(value: float, said: dict[float, str]) -> str:
    return next((word for v, word in said.items() if abs(value - v) < LIKE), "")


def _cone_rows(
    p: Parameters, s: Surface, line: Line, heads: list[Head], hole: Hole
) -> Iterator[tuple[str, Row]]:
    """A countersink's angle and its rim."""
    for h in heads:
        if h.angle is None or abs(2 * math.degrees(s.half) - h.angle) > LIKE * 10:
            continue
        if h.kind in ("countersink", "chamfer"):
            rim = _rim(p, s, line, h.diameter / 2 / p.solid.half)
            if rim is not None:
                yield f"{h.kind}'s angle", {s.v["half"]: 2.0}
                yield f"{h.kind}'s diameter", rim
                return
        elif h.kind == "counterdrill":
            yield "counterdrill's angle", {s.v["half"]: 2.0}
            return
    if hole.bottom == "point" and hole.angle and abs(2 * math.degrees(s.half) - hole.angle) < LIKE * 10:
        return  # a drill's point is as it is


def _rim(p: Parameters, s: Surface, line: Line, radius: float) -> Row | None:
    """How the diameter of a cone's rim changes, the one of a radius."""
    u = p.ways[line.way].u
    for r in p.solid.rims:
        if s.name not in r.faces or r.is_seam:
            continue
        at = r.points[len(r.points) // 2]
        rel = at - line.foot
        out = rel - u * float(rel @ u)
        if abs(float(np.linalg.norm(out)) - radius) * p.solid.half < LIKE:
            n = unit(out)
            row = p.meet(r.faces, at, n)
            if row is not None:
                return {v: 2 * c for v, c in less(row, p.carried(line, at, n)).items()}
    return None


def _depths(p: Parameters, hole: Hole, line: Line, said: dict[float, str]) -> list[tuple[str, Row]]:
    """Depths from the face a hole enters by to its floors and the ends of its walls."""
    entry = _entry(p, hole, line)
    if entry is None:
        return []
    rows = []
    for depth, word in sorted(said.items()):
        end = _end(p, hole, line, depth)
        if end is not None:
            rows.append((word, less(end, entry)))
    return rows


def _depth(p: Parameters, hole: Hole, line: Line, head: Head) -> Row:
    """How deep a head at the far end goes from the face there."""
    ends = [s.end for s in hole.steps]
    if not ends:
        return {}
    last = max(ends)
    floor, mouth = _end(p, hole, line, last - head.depth), _mouth(p, hole, line, last)
    return less(floor, mouth) if floor is not None and mouth is not None else {}


def _entry(p: Parameters, hole: Hole, line: Line) -> Row | None:
    return _mouth(p, hole, line, 0.0)


def _along(p: Parameters, hole: Hole, line: Line, depth: float) -> float:
    """Where a depth in mm lies along the axis."""
    u = p.ways[line.way].u
    at = p.solid.flat(np.array(hole.entry) + np.array(hole.direction) * depth)
    return float((at - line.foot) @ u)


def _mouth(p: Parameters, hole: Hole, line: Line, depth: float) -> Row | None:
    """How the place moves along the axis where it pierces a face outside the hole."""
    t = _along(p, hole, line, depth)
    own = [p.solid.surfaces[n] for n in hole.faces if n in p.solid.surfaces]
    near = {n for s in own for n in p.solid.beside[s.name]} - set(hole.faces)
    flat_first = sorted(
        (p.solid.surfaces[n] for n in near if n in p.solid.surfaces),
        key=lambda s: (s.kind != "plane", -s.bulk),
    )
    for s in flat_first:
        found = p.on_axis(line, s, t)
        if found is not None and abs(found[0] - t) * p.solid.half < LIKE:
            return found[1]
    return None


def _end(p: Parameters, hole: Hole, line: Line, depth: float) -> Row | None:
    """How the floor, or the end of a wall, at a depth moves along the axis."""
    t = _along(p, hole, line, depth)
    u = p.ways[line.way].u
    own = set(hole.faces)
    floors = own | {n for f in own for n in p.solid.beside[f] if p.solid.beside[n] <= own}
    for n in sorted(floors):
        s = p.solid.surfaces.get(n)
        if s is not None and s.kind == "plane":
            found = p.on_axis(line, s, t)
            if found is not None and abs(found[0] - t) * p.solid.half < LIKE:
                return found[1]
    for r in p.solid.rims:
        if r.is_seam or not set(r.faces) <= own:
            continue
        at = r.points[len(r.points) // 2]
        if abs(float((at - line.foot) @ u) - t) * p.solid.half < LIKE:
            row = p.meet(r.faces, at, u)
            if row is not None:
                return less(row, p.carried(line, at, u))
    return None


def shaft_rows(p: Parameters, shaft: Shaft) -> list[Row]:
    """What the callout of a shaft says: its diameter, or its thread, with the length where it is given."""
    rows: list[Row] = []
    for n in shaft.faces:
        s = p.solid.surfaces.get(n)
        if s is not None and s.kind == "cylinder":
            rows.append({s.v["radius"]: 2.0})
    if shaft.thread_length is not None:
        rows += [{p.threads[n]: 1.0} for n in shaft.faces if n in p.threads][:1]
    return rows


def feature_rows(p: Parameters, feature: Feature, hard: System) -> dict[Size, Row]:
    """Each size of a feature as a row, found among the distances, diameters and angles of its faces by its
    value and its direction; left out where two different ones would do."""
    if feature.kind == "chamfer":
        return _chamfer_rows(p, feature)
    return {
        name: row
        for name, value in feature.sizes
        if (row := _sized(p, feature, name, value, hard)) is not None
    }


def _chamfer_rows(p: Parameters, feature: Feature) -> dict[Size, Row]:
    """A leg of a chamfer, and the angle at which it stands to the face it runs into."""
    out: dict[Size, Row] = {}
    for name in sorted(feature.faces):
        s = p.solid.surfaces.get(name)
        rims = [r for r in p.solid.rims if name in r.faces and not r.is_seam]
        if s is None:
            continue
        if s.kind == "cone" and len(rims) == 2:
            u = p.ways[s.way].u
            ends = [(r.points[2], p.meet(r.faces, r.points[2], u)) for r in rims if len(r.points) > 2]
            rows = [(at, less(row, p.carried(p.lines[s.line], at, u))) for at, row in ends if row is not None]
            if len(rows) == 2:
                rows.sort(key=lambda one: float(one[0] @ u))
                return {"length": less(rows[1][1], rows[0][1]), "angle": {s.v["half"]: 1.0}}
        if s.kind != "plane":
            continue
        flat = [
            (r.points[len(r.points) // 2], t)
            for r in rims
            for n in r.faces
            if n != name and (t := p.solid.surfaces.get(n)) is not None and t.kind == "plane"
        ]
        for at, a in flat:
            for _, b in flat:
                if (
                    abs(float(a.axis @ b.axis)) < 1e-6
                    and min(float(a.axis @ s.axis), float(b.axis @ s.axis)) > 0.2
                ):
                    leg = p.meet((name, a.name), at, b.axis)
                    if leg is not None:
                        out = {"length": less(p.moves(b, at), leg), "angle": angle_row(p, s, a)}
                        return out
    return out


def angle_row(p: Parameters, s: Surface, t: Surface) -> Row:
    """The angle between two flat faces' normals."""
    one, two = p.ways[s.way], p.ways[t.way]
    across = -math.sqrt(max(1e-12, 1 - float(s.axis @ t.axis) ** 2))
    side = math.copysign(1.0, float(one.u @ s.axis)) * math.copysign(1.0, float(two.u @ t.axis)) / across
    return {
        one.a: side * float(one.e1 @ two.u),
        one.b: side * float(one.e2 @ two.u),
        two.a: side * float(two.e1 @ one.u),
        two.b: side * float(two.e2 @ one.u),
    }


def _sized(p: Parameters, feature: Feature, name: Size, value: float, hard: System) -> Row | None:
    own = [s for n in sorted(feature.faces) if (s := p.solid.surfaces.get(n)) is not None]
    near = sorted({n for s in own for n in p.solid.beside[s.name]} - feature.faces)
    around = [s for n in near if (s := p.solid.surfaces.get(n)) is not None]
    for group in (own, own + around):
        found = [
            row
            for v, row, way in _candidates(p, group, own)
            if abs(v - value) < LIKE and _fits(feature, name, way)
        ]
        kinds = _different(found, hard)
        if len(kinds) == 1:
            return kinds[0]
        if kinds:
            return None
    return None


def _different(rows: list[Row], hard: System) -> list[Row]:
    """Rows that say different numbers, one each."""
    out: list[tuple[Row, Array]] = []
    for row in rows:
        over = hard.over(row)
        n = float(np.linalg.norm(over))
        if n > 1e-6 and not any(
            abs(abs(float(over @ o)) / n / float(np.linalg.norm(o)) - 1) < 1e-6 for _, o in out
        ):
            out.append((row, over))
    return [row for row, _ in out]


def _fits(feature: Feature, name: Size, way: Array | None) -> bool:
    """Whether a length runs as a size of a feature does. way: None of diameters and radii."""
    round_ones = ("diameter", "inner", "radius", "corner")
    if way is None:
        return name in (*round_ones, "width", "angle")
    if name in round_ones:
        return False
    along = float(way @ np.array(feature.along)) if feature.along else 0.0
    into = float(way @ np.array(feature.direction))
    if name in ("depth", "height"):
        return abs(into) > 1 - 1e-6
    if name == "length" and feature.along:
        return abs(along) > 1 - 1e-6
    return name != "width" or not feature.along or (abs(along) < 1e-6 and abs(into) < 1e-6)


def _candidates(
    p: Parameters, group: list[Surface], own: list[Surface]
) -> Iterator[tuple[float, Row, Array | None]]:
    """Values in mm or degrees, their rows, and the directions of lengths. One face at least is the
    feature's."""
    half = p.solid.half
    mine = {s.name for s in own}
    for s in own:
        if "radius" in s.v:
            yield 2 * s.radius * half, {s.v["radius"]: 2.0}, None
            yield s.radius * half, {s.v["radius"]: 1.0}, None
        if s.kind == "cone":
            yield math.degrees(s.half), {s.v["half"]: 1.0}, None
            yield 2 * math.degrees(s.half), {s.v["half"]: 2.0}, None
    things = [t for s in group for t in _things(p, s)]
    for i, (s, u, at, row) in enumerate(things):
        for t, v, other, more in things[:i]:
            if s is t or not mine & {s.name, t.name} or abs(abs(float(u @ v)) - 1) > 1e-8:
                continue
            way = u if s.kind == "plane" or t.kind != "plane" else v
            gap = float((at - other) @ way)
            if abs(gap) > 1e-9:
                yield abs(gap) * half, less(row(way), more(way)), way


def _things(p: Parameters, s: Surface) -> Iterator[tuple[Surface, Array, Array, Moved]]:
    """What a face is measured to: itself if it is flat; of a round one its axis and its outermost lines,
    along the main directions across it."""
    if s.kind == "plane":
        yield s, s.axis, s.at, lambda way, s=s: _plane_level(p, s, way)  # type: ignore[misc]
        return
    if s.kind != "cylinder":
        return
    line = p.lines[s.line]
    for way in p.ways:
        if abs(float(way.u @ p.ways[s.way].u)) > 1e-6:
            continue
        for side in (0.0, 1.0, -1.0):
            at = line.foot + way.u * side * s.radius

            def row(u: Array, side: float = side, w: Array = way.u) -> Row:
                out = p.carried(line, line.foot, u)
                return add(out, {s.v["radius"]: side * float(u @ w)}) if side else out

            yield s, way.u, at, row


def _plane_level(p: Parameters, s: Surface, way: Array) -> Row:
    side = math.copysign(1.0, float(s.axis @ way))
    return {v: side * c for v, c in p.moves(s, s.at).items()}
