"""What center marks, center lines and bolt circles share: strokes on paper, and the ink they make where they
cross each other.

Sources: ISO 128-2 (long-dashed dotted narrow line, some 3 mm past the outline), ASME Y14.2 (center lines
cross at short dashes); the distances from memory.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Any, ClassVar

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from drafting.annotation.kinds.kind import A, Drawn, Handle, Kind, Member, Request, set_fields
from drafting.annotation.measuring import measure
from drafting.annotation.measuring.traces import Round
from drafting.context import Context
from drafting.document import MOST_PICKS, AnnotationBase, Pick
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Group, Line
from drafting.standards.profile import Profile

Array = NDArray[np.float64]
SMALL = 4.0
"""Circles of less radius on paper get a plain cross that reaches half as far."""
LINE, DASH = "center", "center_dash"
TRUE = 1 - 1e-9
Past = Annotated[float, Field(ge=-50, le=200)]


class Center(AnnotationBase):
    """A center in a view. past: how far each end reaches past the outline, paper mm; None takes the house
    style's."""

    picks_taken: ClassVar[tuple[int, int]] = (0, MOST_PICKS)
    past: Annotated[list[Past | None], Field(max_length=4)] = []


@dataclass(frozen=True)
class Stroke:
    """A center line on paper, mm about the view's position: straight from a to b, or about a center from
    angle first to last.

    nodes: places along it (mm) where it is to be crossed by a short dash; ends: numbers of its draggable
    ends, -1 for none, and past: how far they reach past the outline; plain: unbroken.
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
        """Along it, mm."""
        return (
            float(np.linalg.norm(self.b - self.a))
            if self.center is None
            else self.radius * (self.last - self.first)
        )

    def part(self, s: float, t: float, line: str) -> Element:
        """The piece between two places along it (mm) as ink of a kind of line."""
        if self.center is None:
            u = (self.b - self.a) / max(self.length, 1e-12)
            p, q = self.a + u * s, self.a + u * t
            return Line((float(p[0]), float(p[1])), (float(q[0]), float(q[1])), line)
        return Arc(
            (float(self.center[0]), float(self.center[1])),
            self.radius,
            self.first + s / self.radius,
            self.first + t / self.radius,
            line,
        )


def circle_of(pick: Pick, context: Context) -> tuple[Array, float]:
    """Center (view mm, drawn) and radius of a circle seen true. Raises SizeError for anything else."""
    thing = measure.end_on(pick, context) or measure.resolve(pick, context)
    if not isinstance(thing, Round):
        raise SizeError("A center mark is put on a circle or an arc.")
    if abs(float(thing.axis @ context.frame.matrix[2])) < TRUE:
        raise SizeError("That circle is not seen true in this view; put its mark where it is round.")
    return context.frame.drawn(context.frame.flat(thing.center)), thing.radius


def past_of(c: Center, end: int, standard: float) -> float:
    """How far an end reaches past the outline, paper mm: its own reach, else the standard's."""
    own = c.past[end] if end < len(c.past) else None
    return standard if own is None else own


def reach_of(radius: float, standard: float) -> float:
    """The standard's reach past a circle, paper mm; half of it past a small one."""
    return standard if radius > SMALL else standard / 2


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
    if (
        s.center is not None
        or o.center is not None
        or o.length < s.length - 1e-6
        or (o.length < s.length + 1e-6 and not first)
    ):
        return False
    u = (o.b - o.a) / max(o.length, 1e-12)
    away = np.array([s.a - o.a, s.b - o.a])
    along = away @ u
    return bool(
        np.abs(away @ np.array([-u[1], u[0]])).max() < 1e-4
        and along.min() > -1e-6
        and along.max() < o.length + 1e-6
    )


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


def ink(
    found: Sequence[Stroke], before: Sequence[Stroke], after: Sequence[Stroke], profile: Profile
) -> list[Element]:
    """Strokes in long and short dashes, a short dash over every crossing. before, after: strokes of the
    view's other centers."""
    others = [*before, *after]
    gap = (profile.line(LINE).dashes or [0.0, 0.75])[1]
    found = [
        s
        for s in found
        if not any(_covers(o, s, True) for o in before) and not any(_covers(o, s, False) for o in after)
    ]
    found = [_clear_of(s, before, gap) for s in found]
    pattern = profile.line(LINE).dashes or [6.0, 0.75, 0.5, 0.75]
    short, gap = max(4 * pattern[2], 1.0), pattern[1]
    out: list[Element] = []
    for s in found:
        if s.plain or s.length < 2 * (short + 2 * gap):
            out.append(s.part(0.0, s.length, DASH))
            continue
        out += _dashed(
            s,
            sorted(
                {round(v, 6) for v in (*s.nodes, *crossings(s, [o for o in (*found, *others) if o is not s]))}
            ),
            short,
            gap,
        )
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


@dataclass(frozen=True)
class CenterKind(Kind[A]):
    """A kind of center: its strokes, paper mm about the view's position."""

    strokes: Callable[[A, Context], list[Stroke]] | None = None


def center_kind(
    data: type[A],
    name: str,
    strokes: Callable[[A, Context], list[Stroke]],
    propose: Callable[[Request, Context], A],
) -> CenterKind[A]:
    """A kind of center with all that centers can do."""

    def inked(c: A, context: Context) -> list[Element]:
        return ink(strokes(c, context), [], [], context.profile)

    def check(c: A, context: Context) -> None:
        strokes(c, context)

    def ends(c: A, context: Context) -> list[Handle]:
        return handles(strokes(c, context))

    return CenterKind(
        data,
        name,
        ink=inked,
        draw=draw,
        check=check,
        change=_changed,
        handles=ends,
        strokes=strokes,
        propose=propose,
    )


def draw(members: Sequence[Member]) -> Drawn:
    """Ink of all centers of a sheet, view by view: each is broken where it crosses the others of its view."""
    out: Drawn = {}
    by_view: dict[str, list[tuple[Member, list[Stroke]]]] = {}
    for m in members:
        try:
            assert isinstance(m.kind, CenterKind)
            assert m.kind.strokes is not None
            by_view.setdefault(m.context.view_id, []).append((m, m.kind.strokes(m.annotation, m.context)))
        except (SizeError, CommandError) as error:
            out[m.annotation.id] = str(error)
    for drawn in by_view.values():
        for n, (m, mine) in enumerate(drawn):
            before, after = ([s for _, other in part for s in other] for part in (drawn[:n], drawn[n + 1 :]))
            shown = m.context.view is not None and m.context.view.centers
            elements = ink(mine, before, after, m.context.profile) if shown else []
            out[m.annotation.id] = Group(m.annotation.id, "annotation", m.context.origin, elements)
    return out


def _changed(c: A, update: dict[str, Any], context: Context) -> A:
    """Fields set; `end` with `past` sets how far one end reaches."""
    update = dict(update)
    if "end" in update:
        end = int(update.pop("end"))
        if not 0 <= end <= 3:
            raise CommandError("A center has at most four ends.")
        past: list[float | None] = [*getattr(c, "past", []), *[None] * 4][:4]
        past[end] = update.get("past")
        update["past"] = past
    return set_fields(c, update)
