"""What holds on any drawing without being said: what looks square is square, rounds are tangent, drills have
their point, a ball on an axis stays there (ISO 128, ASME Y14.5 fundamental rules; memory). And what a part is
held by."""

import math
from collections.abc import Iterator

import numpy as np

from drafting.completeness.parameters import Line, Parameters, Row, add, less
from drafting.completeness.surfaces import SAME_DIRECTION, SAME_PLACE, Array, Surface, cross

POINTS = (0.94, 1.08)
"""Half angles of drill points, radians: 108 to 124°."""


def hard_rules(p: Parameters) -> list[Row]:
    """Rows that stay zero on any drawing of the part."""
    return [*_square(p), *_tangent(p), *_drill_points(p), *_on_axis(p)]


def _square(p: Parameters) -> Iterator[Row]:
    main = p.main_ways()
    solid = p.solid
    touch = {
        (solid.surfaces[a].way, solid.surfaces[b].way)
        for a in solid.surfaces
        for b in solid.beside[a]
        if b in solid.surfaces
    }
    for i, one in enumerate(p.ways):
        for j, two in enumerate(p.ways[:i]):
            if abs(float(one.u @ two.u)) < SAME_DIRECTION and (i in main or j in main or (i, j) in touch):
                yield {
                    one.a: float(one.e1 @ two.u),
                    one.b: float(one.e2 @ two.u),
                    two.a: float(two.e1 @ one.u),
                    two.b: float(two.e2 @ one.u),
                }
    for base in main:  # walls with draft that stand square or parallel in plan
        leaning = {
            s.way
            for s in solid.surfaces.values()
            if s.kind == "plane"
            and s.way not in main
            and 0.01 < abs(float(p.ways[s.way].u @ p.ways[base].u)) < 0.3
        }
        plan = [_trace(p, base, k) for k in sorted(leaning)] + [_trace(p, base, k) for k in main if k != base]
        for i, (a, row) in enumerate(plan):
            for b, other in plan[:i]:
                if min(abs(float(a @ b)), float(np.linalg.norm(cross(a, b)))) < SAME_DIRECTION:
                    yield less(row, other)


def _trace(p: Parameters, base: int, way: int) -> tuple[Array, Row]:
    """The direction across which a slanting plane meets one of a base, and how it turns about that base."""
    b, w = p.ways[base], p.ways[way]
    flat = w.u - b.u * float(w.u @ b.u)
    size = float(np.linalg.norm(flat))
    t = cross(b.u, flat) / size
    lean = -float(w.u @ b.u) / size
    return flat / size, {
        w.a: float(w.e1 @ t) / size,
        w.b: float(w.e2 @ t) / size,
        b.a: lean * float(b.e1 @ t),
        b.b: lean * float(b.e2 @ t),
    }


def _tangent(p: Parameters) -> Iterator[Row]:
    for rim in p.solid.rims:
        found = [s for n in rim.faces if (s := p.solid.surfaces.get(n)) is not None]
        if not rim.is_smooth or len(found) != 2 or found[0].v == found[1].v:
            continue
        one, two = sorted(found, key=lambda s: s.kind != "plane")
        for at in rim.points:
            n = one.normal(at)
            side = math.copysign(1.0, float(n @ two.normal(at)))
            yield add(p.moves(one, at, n), p.moves(two, at, n * side), -side)


def _drill_points(p: Parameters) -> Iterator[Row]:
    cones: dict[int, list[Surface]] = {}
    for s in p.solid.surfaces.values():
        if s.kind == "cone" and not s.outer and POINTS[0] < s.half < POINTS[1] and _ends_in_point(s):
            cones.setdefault(s.v["half"], []).append(s)
    for half, pieces in cones.items():
        own = {s.name for s in pieces}
        walls = {
            frozenset(p.solid.surfaces[n].v.items())
            for s in pieces
            for n in p.solid.beside[s.name] - own
            if n in p.solid.surfaces
        }
        if len(walls) == 1 and sum(s.sweep for s in pieces) > 6.2:
            yield {half: 1.0}


def _ends_in_point(s: Surface) -> bool:
    """Whether a cone goes on to its apex."""
    return bool(s.fact.span and min(abs(h) for h in s.fact.span) < 1e-6)


def _on_axis(p: Parameters) -> Iterator[Row]:
    for s in p.solid.surfaces.values():
        if s.kind != "sphere":
            continue
        for line in p.lines:
            way = p.ways[line.way]
            rel = s.at - line.foot
            if line.is_corner or np.linalg.norm(rel - way.u * float(rel @ way.u)) > SAME_PLACE:
                continue
            for e in (way.e1, way.e2):
                center = {s.v[x]: float(c) for x, c in zip("xyz", e, strict=True)}
                yield less(center, p.carried(line, s.at, e))


def pins(p: Parameters) -> list[Row]:
    """What is held still, as measuring holds the part: directions of the most surface; the axis of a turned
    part, else the largest faces. Six rows, or as many as moving it as a whole takes."""
    rigid = p.rigid()
    held = np.zeros((0, 6))
    out = []
    for row in _holds(p):
        motion = sum((c * rigid[v] for v, c in row.items()), np.zeros(6))
        more = np.vstack([held, motion])
        if np.linalg.matrix_rank(more, tol=1e-4) > len(held):
            held = more
            out.append(row)
    return out


def _holds(p: Parameters) -> Iterator[Row]:
    main = p.main_ways()
    for k in [*main, *range(len(p.ways))]:
        yield {p.ways[k].a: 1.0}
        yield {p.ways[k].b: 1.0}
    lines = sorted((x for x in p.lines if x.faces and not x.is_corner), key=lambda x: -_bulk(x))
    known = list(p.solid.surfaces.values())
    turned = lines[:1] if lines and _bulk(lines[0]) > 0.4 * sum(s.bulk for s in known) else []
    for k in main:
        u = p.ways[k].u
        yield from (p.height(k, x) for x in turned if abs(float(p.ways[x.way].u @ u)) < 1e-6)
        planes = sorted((s for s in known if s.kind == "plane" and s.way == k), key=lambda s: -s.bulk)
        yield from ({s.v["level"]: 1.0} for s in planes[:1])
        yield from (p.height(k, x) for x in lines if abs(float(p.ways[x.way].u @ u)) < 1e-6)
    yield from ({v: 1.0} for x in lines for v in x.v)
    yield from ({v: 1.0} for s in known for v in s.v.values())


def _bulk(line: Line) -> float:
    return sum(s.bulk for s in line.faces)


def hindered(p: Parameters, rules: list[Row]) -> float:
    """How far rules would hinder the part as a whole from being moved: must be nought."""
    rigid = p.rigid()
    return max(
        (float(np.abs(sum((c * rigid[v] for v, c in row.items()), np.zeros(6))).max()) for row in rules),
        default=0.0,
    )
