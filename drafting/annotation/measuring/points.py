"""The points of a view that sizes can be taken from: ends, middles, centers, quadrants, tangent points,
crossings and theoretical sharp corners. Each is a pick, with its place in the view."""

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
import shapely

from drafting.annotation.measuring import measure
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.document import Pick, Source
from drafting.errors import SizeError
from drafting.views.frame import Array
from drafting.views.geometry import ViewCurve, ViewGeometry

PointKind = Literal["end", "middle", "center", "quadrant", "tangent point", "crossing", "sharp corner"]
NEAR = 1e-6


@dataclass(frozen=True)
class PickPoint:
    """A pickable point and where the view shows it, view mm at 1:1."""

    kind: PointKind
    pick: Pick
    x: float
    y: float


def points(geometry: ViewGeometry, context: Context) -> list[PickPoint]:
    """All pickable points of a view's shown edges, one at each place: the most particular kind stays."""
    out: list[PickPoint] = []
    lines: list[tuple[Pick, Straight, Array, Array]] = []
    arcs: list[tuple[Pick, Round]] = []
    seen: set[tuple[str, str, str]] = set()
    for c in geometry.curves:
        key = (geometry.instances[c.instance], c.source, c.role)
        if not c.source or c.role != "edge" or key in seen or c.edge_class in ("thread", "break"):
            continue
        seen.add(key)
        pick = Pick(instance=key[0], source=key[1])
        try:
            thing = measure.resolve(pick, context)
        except SizeError:
            continue
        if isinstance(thing, Straight):
            a, b = (np.asarray(context.frame.drawn(context.frame.flat(p))) for p in (thing.a, thing.b))
            if np.linalg.norm(b - a) < NEAR:
                out.append(
                    PickPoint("end", pick.model_copy(update={"point": "start"}), float(a[0]), float(a[1]))
                )
                continue
            lines.append((pick, thing, a, b))
            for point, p in (("start", a), ("end", b), ("middle", (a + b) / 2)):
                out.append(
                    PickPoint(
                        "middle" if point == "middle" else "end",
                        pick.model_copy(update={"point": point}),
                        float(p[0]),
                        float(p[1]),
                    )
                )
        else:
            arcs.append((pick, thing))
            out += _of_round(pick, thing, context)
    out += _tangent(lines, arcs)
    out += _crossings(lines)
    out += _corners(geometry, lines)
    return _once(out)


def _at(kind: PointKind, pick: Pick, context: Context) -> PickPoint:
    p = context.frame.drawn(context.frame.flat(measure.point_of(pick, context)))
    return PickPoint(kind, pick, float(p[0]), float(p[1]))


def _of_round(pick: Pick, thing: Round, context: Context) -> list[PickPoint]:
    out = [_at("center", pick.model_copy(update={"point": "center"}), context)]
    if thing.last - thing.first < 2 * math.pi - 1e-9:
        out += [_at("end", pick.model_copy(update={"point": p}), context) for p in ("start", "end")]
    if abs(abs(float(thing.axis @ context.frame.matrix[2])) - 1) < 1e-9:
        for quarter in range(4):
            u = context.frame.matrix[quarter % 2] * (1 if quarter < 2 else -1)
            if thing.has(u):
                out.append(
                    _at(
                        "quadrant", pick.model_copy(update={"point": "quadrant", "quarter": quarter}), context
                    )
                )
    return out


def _tangent(
    lines: list[tuple[Pick, Straight, Array, Array]], arcs: list[tuple[Pick, Round]]
) -> list[PickPoint]:
    """Ends of lines that run tangent into an arc."""
    out = []
    for pick, thing, a, b in lines:
        for point, p3, p in (("start", thing.a, a), ("end", thing.b, b)):
            for _, arc in arcs:
                r = p3 - arc.center
                if (
                    abs(float(np.linalg.norm(r)) - arc.radius) < NEAR
                    and abs(float(r @ thing.direction)) < NEAR * arc.radius
                    and arc.has(r)
                ):
                    out.append(
                        PickPoint(
                            "tangent point",
                            pick.model_copy(update={"point": point}),
                            float(p[0]),
                            float(p[1]),
                        )
                    )
    return out


def _crossings(lines: list[tuple[Pick, Straight, Array, Array]]) -> list[PickPoint]:
    """Where shown lines cross each other away from their ends."""
    if not lines:
        return []
    shapes = shapely.linestrings(np.array([[a, b] for _, _, a, b in lines]))
    first, second = shapely.STRtree(shapes).query(shapes, predicate="crosses")
    out = []
    for i, j in zip(first.tolist(), second.tolist(), strict=True):
        if i < j:
            p = shapely.intersection(shapes[i], shapes[j])
            if p.geom_type == "Point":
                out.append(PickPoint("crossing", _crossing(lines[i][0], lines[j][0]), p.x, p.y))
    return out


def _crossing(one: Pick, two: Pick) -> Pick:
    return one.model_copy(
        update={"point": "crossing", "other": Source(instance=two.instance, source=two.source)}
    )


def _corners(geometry: ViewGeometry, lines: list[tuple[Pick, Straight, Array, Array]]) -> list[PickPoint]:
    """Where two lines would meet but for the fillet or chamfer between them: lines at both ends of one short
    piece."""
    ends: dict[tuple[int, int], list[int]] = {}

    def cell(p: Array) -> tuple[int, int]:
        return round(float(p[0]) * 1e4), round(float(p[1]) * 1e4)

    for n, (_, _, a, b) in enumerate(lines):
        ends.setdefault(cell(a), []).append(n)
        ends.setdefault(cell(b), []).append(n)
    out = []
    for c in geometry.curves:
        between = _ends_of(c)
        if between is None:
            continue
        p, q = between
        piece = float(np.linalg.norm(q - p))
        for i in ends.get(cell(p), []):
            for j in ends.get(cell(q), []):
                corner = _corner(lines[i], lines[j])
                if (
                    i != j
                    and corner is not None
                    and _is_own(c, lines[i], lines[j])
                    and max(math.dist(corner, p), math.dist(corner, q)) < 3 * piece
                ):
                    out.append(PickPoint("sharp corner", _crossing(lines[i][0], lines[j][0]), *corner))
    return out


def _ends_of(c: ViewCurve) -> tuple[Array, Array] | None:
    d = c.data
    if c.kind == "line":
        return np.array(d[:2]), np.array(d[2:4])
    if c.kind == "arc" and d[4] - d[3] < math.pi - 1e-6:
        return tuple(np.array([d[0] + d[2] * math.cos(t), d[1] + d[2] * math.sin(t)]) for t in (d[3], d[4]))  # type: ignore[return-value]
    return None


def _is_own(
    c: ViewCurve, one: tuple[Pick, Straight, Array, Array], two: tuple[Pick, Straight, Array, Array]
) -> bool:
    return c.source not in (one[0].source, two[0].source)


def _corner(
    one: tuple[Pick, Straight, Array, Array], two: tuple[Pick, Straight, Array, Array]
) -> tuple[float, float] | None:
    """Where both lines lengthened meet, beyond the end of each."""
    (a, b), (c, d) = one[2:], two[2:]
    u, v = b - a, d - c
    m = np.column_stack([u, -v])
    if abs(float(np.linalg.det(m))) < 1e-9 * max(float(np.linalg.norm(u) * np.linalg.norm(v)), 1e-12):
        return None
    s, t = np.linalg.solve(m, c - a)
    if -1e-9 < s < 1 + 1e-9 or -1e-9 < t < 1 + 1e-9:
        return None
    p = a + u * s
    return float(p[0]), float(p[1])


RANK: dict[PointKind, int] = {
    "center": 0,
    "sharp corner": 1,
    "tangent point": 2,
    "end": 3,
    "crossing": 4,
    "quadrant": 5,
    "middle": 6,
}


def _once(found: list[PickPoint]) -> list[PickPoint]:
    best: dict[tuple[int, int], PickPoint] = {}
    for p in sorted(found, key=lambda p: RANK[p.kind]):
        best.setdefault((round(p.x * 1e4), round(p.y * 1e4)), p)
    return list(best.values())
