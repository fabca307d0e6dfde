"""Center marks, center lines and bolt circles as strokes on paper, and the ink they make where they cross each other.

Sources: ISO 128-2 (long-dashed dotted narrow line, some 3 mm past the outline), ASME Y14.2 (center lines cross at short dashes);
the distances from memory.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from drafting.annotation import measure
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import ViewFrame
from drafting.document import BoltCircle, Center, CenterLine, CenterMark, Pick
from drafting.errors import SizeError
from drafting.ink.elements import Arc, Element, Line
from drafting.model.model import Facts
from drafting.standards.profile import Profile

Array = NDArray[np.float64]
PAST = 3.0
"""Reach past the outline, paper mm."""
SMALL = 4.0
"""Circles of less radius on paper get a plain cross that reaches half as far."""
LINE, DASH = "center", "center_dash"
TRUE = 1 - 1e-9
SAME = 1e-6


@dataclass(frozen=True)
class Stroke:
    """A center line on paper, mm about the view's position: straight from a to b, or about a center from angle first to last.

    nodes: places along it (mm) where it is to be crossed by a short dash; ends: numbers of its draggable ends, -1 for none, and past: how far
    they reach past the outline; plain: unbroken.
    """

    a: Array
    b: Array
    nodes: tuple[float, ...] = ()
    ends: tuple[int, int] = (-1, -1)
    plain: bool = False
    center: Array | None = None
    radius: float = 0.0
    first: float = 0.0
    last: float = 0.0
    past: tuple[float, float] = (0.0, 0.0)

    @property
    def length(self) -> float:
        return float(np.linalg.norm(self.b - self.a)) if self.center is None else self.radius * (self.last - self.first)

    def part(self, s: float, t: float, line: str) -> Element:
        if self.center is None:
            u = (self.b - self.a) / max(self.length, 1e-12)
            p, q = self.a + u * s, self.a + u * t
            return Line((float(p[0]), float(p[1])), (float(q[0]), float(q[1])), line)
        return Arc((float(self.center[0]), float(self.center[1])), self.radius, self.first + s / self.radius, self.first + t / self.radius, line)


@dataclass(frozen=True)
class Handle:
    """A draggable end: its number, place on paper about the view's position, the direction outward, and its reach past the outline."""

    end: int
    at: tuple[float, float]
    out: tuple[float, float]
    past: float


def circle_of(pick: Pick, facts: Facts, frame: ViewFrame) -> tuple[Array, float]:
    """Center (view mm, drawn) and radius of a circle seen true. Raises SizeError for anything else."""
    thing = measure.end_on(pick, facts, frame) or measure.resolve(pick, facts, frame)
    if not isinstance(thing, Round):
        raise SizeError("A center mark is put on a circle or an arc.")
    if abs(float(thing.axis @ frame.matrix[2])) < TRUE:
        raise SizeError("That circle is not seen true in this view; put its mark where it is round.")
    return frame.drawn(frame.flat(thing.center)), thing.radius


def strokes(c: Center, facts: Facts, frame: ViewFrame, scale: float, standard: float = PAST) -> list[Stroke]:
    """The lines of a center. standard: reach past the outline of ends that say none, paper mm. Raises SizeError where it cannot be."""
    if isinstance(c, CenterMark):
        return _mark(c, facts, frame, scale, standard)
    if isinstance(c, BoltCircle):
        return _bolt_circle(c, facts, frame, scale, standard)
    return _center_line(c, facts, frame, scale, standard)


def _past(c: Center, end: int, standard: float) -> float:
    own = c.past[end] if end < len(c.past) else None
    return standard if own is None else own


def _reach(radius: float, standard: float) -> float:
    return standard if radius > SMALL else standard / 2


def _mark(c: CenterMark, facts: Facts, frame: ViewFrame, scale: float, standard: float) -> list[Stroke]:
    if not c.picks:
        raise SizeError("A center mark is put on a circle or an arc.")
    circles = [circle_of(p, facts, frame) for p in c.picks]
    centers = np.array([p for p, _ in circles]) * scale
    radii = np.array([r for _, r in circles]) * scale
    return [*_rows(c, centers, radii, 0, standard), *_rows(c, centers, radii, 1, standard)]


def _rows(c: CenterMark, centers: Array, radii: Array, axis: int, standard: float) -> list[Stroke]:
    """One line along the axis (0 level, 1 upright) through the centers of each row."""
    out: list[Stroke] = []
    across = centers[:, 1 - axis]
    order = np.lexsort((centers[:, axis], across))
    step = np.concatenate([[True], np.diff(across[order]) > 1e-4])
    u = np.eye(2)[axis]
    for row in np.split(order, np.flatnonzero(step)[1:]):
        place = centers[row, axis]
        low, high = row[int((place - radii[row]).argmin())], row[int((place + radii[row]).argmax())]
        past = (_past(c, axis + 2, _reach(radii[low], standard)), _past(c, axis, _reach(radii[high], standard)))
        a, b = centers[low] - u * (radii[low] + past[0]), centers[high] + u * (radii[high] + past[1])
        nodes = tuple(float((centers[i] - a) @ u) for i in row)
        plain = len(row) == 1 and radii[row[0]] <= SMALL
        out.append(Stroke(a, b, nodes, (axis + 2, axis), plain, past=past))
    return out


def fitted_circle(points: Array) -> tuple[Array, float, float]:
    """Center, radius and largest miss of the circle through points (n, 2): least squares of x2 + y2 = 2ax + 2by + c about their mean."""
    m = points.mean(0)
    local = points - m
    size = max(float(np.abs(local).max()), 1e-12)
    local = local / size
    solution, _, rank, _ = np.linalg.lstsq(np.column_stack([2 * local, np.ones(len(local))]), (local**2).sum(1), rcond=1e-9)
    if rank < 3:
        raise SizeError("The centers of these holes lie on one line; no circle runs through them.")
    radius = math.sqrt(max(solution[2] + solution[0] ** 2 + solution[1] ** 2, 0.0))
    if radius > 1e5:
        raise SizeError("The centers of these holes lie on one line; no circle runs through them.")
    miss = float(np.abs(np.linalg.norm(local - solution[:2], axis=1) - radius).max())
    return m + solution[:2] * size, radius * size, miss * size


def span_of(angles: Array) -> tuple[float, float] | None:
    """From and to (radians, counterclockwise) of holes on one side of a circle; None where they stand all around it."""
    t = np.sort(angles % (2 * math.pi))
    gaps = np.diff(np.concatenate([t, [t[0] + 2 * math.pi]]))
    widest = int(gaps.argmax())
    if gaps[widest] <= 1.5 * float(np.delete(gaps, widest).max()) or gaps[widest] < math.radians(100):
        return None
    first = float(t[(widest + 1) % len(t)])
    return first, first + 2 * math.pi - float(gaps[widest])


def _bolt_circle(c: BoltCircle, facts: Facts, frame: ViewFrame, scale: float, standard: float) -> list[Stroke]:
    holes = [circle_of(p, facts, frame) for p in c.picks]
    points = np.array([p for p, _ in holes]).reshape(-1, 2)
    if len(points) < 3:
        raise SizeError("A bolt circle runs through three holes or more.")
    center, radius, miss = fitted_circle(points)
    if miss > max(1e-4, SAME * radius):
        raise SizeError("The centers of these holes do not lie on one circle.")
    center, radius, points = center * scale, radius * scale, points * scale
    radii = np.array([r for _, r in holes]) * scale
    angles = np.arctan2(points[:, 1] - center[1], points[:, 0] - center[0])
    span = span_of(angles)
    past = (0.0, 0.0)
    if span is None:
        first, last = float(angles.min()), float(angles.min()) + 2 * math.pi
    else:
        edge = [float(radii[int(np.abs(np.exp(1j * angles) - np.exp(1j * t)).argmin())]) for t in span]
        past = (_past(c, 0, _reach(edge[0], standard)), _past(c, 1, _reach(edge[1], standard)))
        first, last = (span[k] + (2 * k - 1) * (edge[k] + past[k]) / radius for k in (0, 1))
    zero = np.zeros(2)
    along = tuple(float((t - first) % (2 * math.pi)) * radius for t in angles)
    out = [Stroke(zero, zero, along, (-1, -1) if span is None else (0, 1), False, center, radius, first, last, past)]
    for t, r in zip(angles, radii, strict=True):
        u = np.array([math.cos(t), math.sin(t)])
        reach = r + _reach(r, standard)
        out.append(Stroke(center + u * (radius - reach), center + u * (radius + reach), (reach,), plain=bool(r <= SMALL)))
    arm = min(max(0.12 * radius, 2.5), 8.0)
    return out + [Stroke(center - u * arm, center + u * arm, (arm,), plain=arm < SMALL) for u in np.eye(2)]


def _center_line(c: CenterLine, facts: Facts, frame: ViewFrame, scale: float, standard: float) -> list[Stroke]:
    if c.axis:
        low, high = _model_extents(facts, frame)
        k = 0 if c.axis == "horizontal" else 1
        a = (low + high) / 2
        b = a.copy()
        a[k], b[k] = low[k], high[k]
    elif not c.picks:
        raise SizeError("A center line needs something to be the center of.")
    elif any(p.point for p in c.picks):
        a, b = _through(c.picks, facts, frame)
    elif all(p.role != "edge" and p.side == 0 for p in c.picks):
        a, b = _axis(c.picks, facts, frame)
    else:
        a, b = _midway(c.picks, facts, frame)
    a, b = frame.drawn(a) * scale, frame.drawn(b) * scale
    n = float(np.linalg.norm(b - a))
    if n < 1e-9:
        raise SizeError("That axis is seen end-on here; put a center mark on its circle.")
    u = (b - a) / n
    past = (_past(c, 0, standard), _past(c, 1, standard))
    return [Stroke(a - u * past[0], b + u * past[1], (), (0, 1), past=past)]


def _model_extents(facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    corners = [
        (np.array(i.matrix)[:3, :3] @ np.array([x, y, z]) + np.array(i.matrix)[:3, 3])
        for i in facts.instances
        for x, y, z in np.array(np.meshgrid(*zip(facts.parts[i.part].low, facts.parts[i.part].high, strict=True))).T.reshape(-1, 3)
    ]
    flat = (np.array(corners) - frame.middle) @ frame.matrix[:2].T
    return flat.min(0), flat.max(0)


def _axis(picks: Sequence[Pick], facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    """From the first to the last end of all picked faces along their common axis."""
    found = [measure.axis_of(p, facts, frame)[0] for p in picks]
    ends = np.array([frame.flat(p) for s in found for p in (s.a, s.b)])
    d = ends[1] - ends[0]
    n = float(np.linalg.norm(d))
    if n < 1e-9:
        raise SizeError("That axis is seen end-on here; put a center mark on its circle.")
    u = d / n
    along = (ends - ends[0]) @ u
    if np.abs((ends - ends[0]) @ np.array([-u[1], u[0]])).max() > 1e-4:
        raise SizeError("These faces do not share one axis.")
    return ends[0] + u * along.min(), ends[0] + u * along.max()


def _through(picks: Sequence[Pick], facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    if len(picks) != 2:
        raise SizeError("Pick two points for a line through them.")
    a, b = (frame.flat(measure.point_of(p, facts, frame)) for p in picks)
    if np.linalg.norm(b - a) < 1e-9:
        raise SizeError("Both points lie at one place in this view.")
    return a, b


def _midway(picks: Sequence[Pick], facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    things = [measure.resolve(p, facts, frame) for p in picks]
    if len(things) != 2 or not all(isinstance(t, Straight) for t in things):
        raise SizeError("Pick two parallel edges for the line between them.")
    ends = np.array([frame.flat(p) for t in things for p in (t.a, t.b)])  # type: ignore[union-attr]
    u, v = ends[1] - ends[0], ends[3] - ends[2]
    nu, nv = float(np.linalg.norm(u)), float(np.linalg.norm(v))
    if min(nu, nv) < 1e-9 or abs(u[0] * v[1] - u[1] * v[0]) > 1e-6 * nu * nv:
        raise SizeError("These edges are not parallel in this view; a center line runs between parallel ones.")
    u = u / nu
    n = np.array([-u[1], u[0]])
    offset = float((ends[0] @ n + ends[2] @ n) / 2)
    if abs(float((ends[0] - ends[2]) @ n)) < 1e-6:
        raise SizeError("Both edges lie on one line; there is nothing between them.")
    along = ends @ u
    return u * along.min() + n * offset, u * along.max() + n * offset


# ---- ink ---------------------------------------------------------------------------------------------------------------


def handles(found: Sequence[Stroke]) -> list[Handle]:
    """Draggable ends; of rows that share an end, the outermost."""
    best: dict[int, Handle] = {}
    for s in found:
        for k, end in enumerate(s.ends):
            if end < 0:
                continue
            if s.center is None:
                p = s.b if k else s.a
                u = (s.b - s.a) / max(s.length, 1e-12) * (1 if k else -1)
            else:
                t = s.last if k else s.first
                p = s.center + s.radius * np.array([math.cos(t), math.sin(t)])
                u = np.array([-math.sin(t), math.cos(t)]) * (1 if k else -1)
            h = Handle(end, (float(p[0]), float(p[1])), (float(u[0]), float(u[1])), s.past[k])
            old = best.get(end)
            if old is None or (p - np.array(old.at)) @ u > 1e-9:
                best[end] = h
    return list(best.values())


def crossings(mine: Stroke, others: Sequence[Stroke]) -> list[float]:
    """Places along a stroke, mm, where others cross it."""
    out: list[float] = []
    for o in others:
        if mine.center is None and o.center is None:
            found = _line_line(mine, o)
            out += [] if found is None else [found]
        elif mine.center is None:
            out += [s for s, _ in _line_circle(mine, o)]
        elif o.center is None:
            out += [s for _, s in _line_circle(o, mine)]
    return out


def _line_line(a: Stroke, b: Stroke) -> float | None:
    u, v, w = a.b - a.a, b.b - b.a, b.a - a.a
    area = float(u[0] * v[1] - u[1] * v[0])
    if abs(area) < 1e-9 * a.length * b.length:
        return None
    s, t = float(w[0] * v[1] - w[1] * v[0]) / area, float(w[0] * u[1] - w[1] * u[0]) / area
    return s * a.length if 0 < s < 1 and 0 <= t <= 1 else None


def _line_circle(line: Stroke, arc: Stroke) -> list[tuple[float, float]]:
    assert arc.center is not None
    u = (line.b - line.a) / max(line.length, 1e-12)
    w = line.a - arc.center
    b, c = float(w @ u), float(w @ w) - arc.radius**2
    if b * b < c:
        return []
    out = []
    for s in (-b - math.sqrt(b * b - c), -b + math.sqrt(b * b - c)):
        p = w + u * s
        along = (math.atan2(p[1], p[0]) - arc.first) % (2 * math.pi) * arc.radius
        if 0 <= s <= line.length and along <= arc.length + 1e-9:
            out.append((s, along))
    return out


def _covers(o: Stroke, s: Stroke, first: bool) -> bool:
    """Whether a straight stroke lies wholly on another; of two equal ones the first covers."""
    if s.center is not None or o.center is not None or o.length < s.length - 1e-6 or (o.length < s.length + 1e-6 and not first):
        return False
    u = (o.b - o.a) / max(o.length, 1e-12)
    away = np.array([s.a - o.a, s.b - o.a])
    along = away @ u
    return bool(np.abs(away @ np.array([-u[1], u[0]])).max() < 1e-4 and along.min() > -1e-6 and along.max() < o.length + 1e-6)


def _clear_of(s: Stroke, before: Sequence[Stroke], gap: float) -> Stroke:
    """A straight stroke without the part of it that lies on an earlier one."""
    for o in before:
        if s.center is not None or o.center is not None or s.length < 1e-9:
            continue
        u = (s.b - s.a) / s.length
        away = np.array([o.a - s.a, o.b - s.a])
        if np.abs(away @ np.array([-u[1], u[0]])).max() > 1e-4:
            continue
        t0, t1 = sorted((away @ u).tolist())
        if t0 <= 0 < t1 + gap < s.length:
            s = replace(s, a=s.a + u * (t1 + gap), nodes=tuple(n - t1 - gap for n in s.nodes))
        elif 0 < t0 - gap < s.length <= t1:
            s = replace(s, b=s.a + u * (t0 - gap))
    return s


def ink(found: Sequence[Stroke], before: Sequence[Stroke], after: Sequence[Stroke], profile: Profile) -> list[Element]:
    """Strokes in long and short dashes, a short dash over every crossing. before, after: strokes of the view's other centers."""
    others = [*before, *after]
    gap = (profile.line(LINE).dashes or [0.0, 0.75])[1]
    found = [s for s in found if not any(_covers(o, s, True) for o in before) and not any(_covers(o, s, False) for o in after)]
    found = [_clear_of(s, before, gap) for s in found]
    pattern = profile.line(LINE).dashes or [6.0, 0.75, 0.5, 0.75]
    short, gap = max(4 * pattern[2], 1.0), pattern[1]
    out: list[Element] = []
    for s in found:
        if s.plain or s.length < 2 * (short + 2 * gap):
            out.append(s.part(0.0, s.length, DASH))
            continue
        out += _dashed(s, sorted({round(v, 6) for v in (*s.nodes, *crossings(s, [o for o in (*found, *others) if o is not s]))}), short, gap)
    return out


def _dashed(s: Stroke, nodes: list[float], short: float, gap: float) -> list[Element]:
    whole = s.center is not None and s.last - s.first >= 2 * math.pi - 1e-9
    kept: list[float] = []
    for v in nodes:
        near_end = not whole and (v < short / 2 + 2 * gap or v > s.length - short / 2 - 2 * gap)
        if not near_end and (not kept or v - kept[-1] > short + 3 * gap):
            kept.append(v)
    out: list[Element] = [s.part(v - short / 2, v + short / 2, DASH) for v in kept]
    reach = short / 2 + gap
    stops = [(kept[-1] - s.length, kept[0])] if whole and kept else [(-reach, kept[0])] if kept else []
    stops += list(zip(kept, kept[1:], strict=False))
    if not whole:
        stops += [(kept[-1], s.length + reach)] if kept else [(-reach, s.length + reach)]
    elif not kept:
        return [s.part(0.0, s.length, LINE)]
    return [*out, *(s.part(a + reach, b - reach, LINE) for a, b in stops if b - a > 2 * reach + gap)]
