"""Angles: between two lines in one of their four sectors, at the second of three points, or of an arc.
Measured in space, drawn in the view."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_arc import curved_line, slid_on_arc
from drafting.annotation.inking.dimension_ink import (
    LINE_KIND,
    Array,
    Definition,
    SizeInk,
    arrow,
    extension,
    xy,
)
from drafting.annotation.kinds.kind import SizeKind
from drafting.annotation.measuring import statement
from drafting.annotation.measuring.measure import Spot, located
from drafting.annotation.measuring.ring import neighbors
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.wording.label import Label, label_of
from drafting.context import Context
from drafting.document import MOST_PICKS, Dimension
from drafting.errors import SizeError
from drafting.ink.elements import Polyline
from drafting.standards.profile import Profile
from drafting.views.frame import ViewFrame


class AngleDimension(Dimension):
    """The angle between two lines (in one of its four sectors), at the second of three points, or of an arc.
    between: it is that between neighbors on the bolt circle of the holes that are picked."""

    picks_taken: ClassVar[tuple[int, int]] = (1, MOST_PICKS)
    kind: Literal["angle"] = "angle"
    sector: Literal[0, 1, 2, 3] = 0
    between: bool = False


@dataclass(frozen=True)
class Angle:
    """vertex: view mm; one and two: unit directions of the legs in space, counterclockwise in the view;
    sweep: radians, on the model; near, far: where each leg's own line begins and ends, as distances from the
    vertex along it, view mm; legs: true lengths, mm."""

    vertex: Array
    one: Array
    two: Array
    sweep: float
    spans: tuple[tuple[float, float], tuple[float, float]]
    legs: tuple[float, float]


def measured(d: AngleDimension, context: Context) -> Angle:
    """Vertex, legs and sweep of an angle. Raises LostPick, SizeError."""
    if d.between:
        return _of_ring(d, context)
    things = [located(p, context) for p in d.picks]
    if len(things) == 1 and isinstance(things[0], Round):
        return _of_arc(things[0], context.frame)
    if len(things) == 3:
        return _of_points([_point(t) for t in things], context.frame)
    if len(things) == 2 and isinstance(things[0], Straight) and isinstance(things[1], Straight):
        return _of_lines(things[0], things[1], d.sector, context.frame)
    raise SizeError("An angle is taken between two lines, at the second of three points, or on an arc.")


def _of_ring(d: AngleDimension, context: Context) -> Angle:
    """Between two neighbors on a bolt circle. Its legs reach the middles of holes, whose center lines are
    its extension lines."""
    found, one, two, step, _ = neighbors(d.picks, context)
    spans = [(0.0, float(np.linalg.norm(context.frame.direction(v))) * found.radius) for v in (one, two)]
    return _turned(context.frame.flat(found.center), one, two, step, spans, [found.radius] * 2, context.frame)


def _point(thing: Straight | Round | Spot) -> Array:
    if isinstance(thing, Straight):
        raise SizeError("Pick points for an angle of three points: ends, middles, centers or corners.")
    return thing.center if isinstance(thing, Round) else thing.at


def _turned(
    vertex: Array,
    one: Array,
    two: Array,
    sweep: float,
    spans: list[tuple[float, float]],
    legs: list[float],
    frame: ViewFrame,
) -> Angle:
    """The legs in counterclockwise order as the view shows them."""
    p, q = frame.direction(one), frame.direction(two)
    ccw = float(p[0] * q[1] - p[1] * q[0]) >= 0
    if not ccw:
        one, two, spans, legs = two, one, spans[::-1], legs[::-1]
    return Angle(vertex, one, two, sweep, (spans[0], spans[1]), (legs[0], legs[1]))


def _of_lines(one: Straight, two: Straight, sector: int, frame: ViewFrame) -> Angle:
    u, v = one.direction, two.direction
    fu, fv = frame.direction(u), frame.direction(v)
    if np.linalg.norm(fu) < 1e-9 or np.linalg.norm(fv) < 1e-9:
        raise SizeError("One of these lines is seen end-on; take the angle in another view.")
    m = np.column_stack([fu, -fv])
    if np.linalg.norm(np.cross(u, v)) < 1e-9 or abs(float(np.linalg.det(m))) < 1e-9:
        raise SizeError("These lines are parallel; they have a distance, no angle.")
    a, c = frame.flat(one.a), frame.flat(two.a)
    s, _ = np.linalg.solve(m, c - a)
    vertex = a + fu * float(s)
    signs = ((1, 1), (-1, 1), (-1, -1), (1, -1))[sector]
    u, v = u * signs[0], v * signs[1]
    sweep = math.acos(max(-1.0, min(1.0, float(u @ v))))
    spans = []
    for thing, w in ((one, u), (two, v)):
        flat = frame.direction(w)
        flat = flat / np.linalg.norm(flat)
        ends = sorted(float((frame.flat(p) - vertex) @ flat) for p in (thing.a, thing.b))
        spans.append((ends[0], ends[1]))
    return _turned(vertex, u, v, sweep, spans, [one.length, two.length], frame)


def _of_points(points: list[Array], frame: ViewFrame) -> Angle:
    a, b, c = points
    u, v = a - b, c - b
    lengths = [float(np.linalg.norm(u)), float(np.linalg.norm(v))]
    if min(lengths) < 1e-9:
        raise SizeError("An angle needs three different points.")
    u, v = u / lengths[0], v / lengths[1]
    sweep = math.acos(max(-1.0, min(1.0, float(u @ v))))
    if sweep < 1e-9 or sweep > math.pi - 1e-9:
        raise SizeError("The three points lie in one line; there is no angle.")
    if any(np.linalg.norm(frame.direction(w)) < 1e-9 for w in (u, v)):
        raise SizeError("One leg of this angle is seen end-on; take it in another view.")
    spans = [
        (0.0, float(np.linalg.norm(frame.direction(w)) * n)) for w, n in zip((u, v), lengths, strict=True)
    ]
    return _turned(frame.flat(b), u, v, sweep, spans, lengths, frame)


def _of_arc(arc: Round, frame: ViewFrame) -> Angle:
    sweep = arc.last - arc.first
    if sweep > 2 * math.pi - 1e-9:
        raise SizeError("A whole circle has no angle; pick an arc.")
    y = np.cross(arc.axis, arc.x_axis)
    ends = [arc.x_axis * math.cos(t) + y * math.sin(t) for t in (arc.first, arc.last)]
    if abs(float(arc.axis @ frame.matrix[2])) < 1e-6:
        raise SizeError("The arc is seen edge-on; take its angle in another view.")
    if float(arc.axis @ frame.matrix[2]) < 0:
        ends.reverse()
    r = (arc.radius, arc.radius)
    return Angle(frame.flat(arc.center), ends[0], ends[1], sweep, (r, r), r)


def value(d: AngleDimension, context: Context) -> float:
    """The angle on the model in radians."""
    return measured(d, context).sweep


def shorter_leg(d: AngleDimension, context: Context) -> float:
    """For general tolerances: length in mm of the angle's shorter leg."""
    return min(measured(d, context).legs)


def label(d: AngleDimension, context: Context) -> Label:
    """The angle in degrees."""
    return label_of(value(d, context), "", d.wording, d.tolerance, context.profile, is_angle=True)


def sector_at(one: Straight, two: Straight, at: Array, frame: ViewFrame) -> int:
    """The sector of two crossing lines in which a place (view mm) lies."""
    m = np.column_stack([frame.direction(one.direction), frame.direction(two.direction)])
    a = _of_lines(one, two, 0, frame)
    s, t = np.linalg.solve(m, at - a.vertex)
    return {(True, True): 0, (False, True): 1, (False, False): 2, (True, False): 3}[
        (bool(s >= 0), bool(t >= 0))
    ]


def shift_at(d: AngleDimension, at: Array, context: Context) -> float | None:
    """How far along the dimension arc a place is from its middle, paper mm."""
    found = measured(d, context)
    vertex = (found.vertex + context.frame.piece(at / context.scale)[2]) * context.scale
    return slid_on_arc(vertex, context.frame.direction(found.one), found.sweep, at)


def ink(d: AngleDimension, context: Context) -> SizeInk:
    """An arc about the vertex through the place, and extension lines where the legs do not reach it.

    In an interrupted view the legs, and with them the vertex, stand as the piece they are sized in is
    drawn."""
    found = measured(d, context)
    text = label_of(found.sweep, "", d.wording, d.tolerance, context.profile, is_angle=True)
    low, high, shift = context.frame.piece(np.array(d.place.at(context.scale)) / context.scale)
    vertex = (found.vertex + shift) * context.scale
    at = np.array(d.place.at(context.scale)) - vertex
    # the legs' plane, as the view shows it: radius 1 is drawn along these two
    across = found.two - found.one * math.cos(found.sweep)
    size = float(np.linalg.norm(across))
    across = across / size if size > 1e-9 else np.cross(context.frame.matrix[2], found.one)
    if found.sweep > math.pi:  # an arc beyond a half turn
        across = np.cross(context.frame.matrix[2], found.one)
    p, q = context.frame.direction(found.one), context.frame.direction(across)
    m = np.column_stack([p, q])
    if abs(float(np.linalg.det(m))) < 1e-6:
        raise SizeError("The view shows this angle edge-on; take it in another view.")
    polar = np.linalg.solve(m, at)
    radius = max(float(np.linalg.norm(polar)), 2 * context.profile.arrow_length)
    along = math.atan2(float(polar[1]), float(polar[0])) % (2 * math.pi)
    out = SizeInk()
    legs = [found.one * 1.0, found.one * math.cos(found.sweep) + across * math.sin(found.sweep)]
    for leg, (near, far) in zip(legs, found.spans, strict=True):
        flat = context.frame.direction(leg)
        n = float(np.linalg.norm(flat))
        foot, unit = vertex + flat * radius, flat / n
        near, far = _within(found.vertex, unit, near, far, low, high)
        if radius * n > far * context.scale:
            out.extensions += extension(vertex + unit * far * context.scale, foot, context.profile)
        elif radius * n < near * context.scale:
            out.extensions += extension(vertex + unit * near * context.scale, foot, context.profile)
    if np.allclose(m.T @ m, np.eye(2), atol=1e-9):
        curved_line(
            vertex,
            radius,
            p,
            found.sweep,
            text,
            d.arrows,
            context.profile,
            out,
            along if along < math.pi + found.sweep / 2 else along - 2 * math.pi,
            d.shift,
        )
        ends = [vertex + context.frame.direction(v) * radius for v in legs]
        mid = vertex + radius * (p * math.cos(found.sweep / 2) + q * math.sin(found.sweep / 2))
        out.definition = Definition("angular", (xy(vertex), xy(ends[0]), xy(ends[1]), xy(mid)), scale=1.0)
    else:
        _oblique(vertex, m * radius, found.sweep, text, context.profile, out)
    return out


def _within(
    vertex: Array, unit: Array, near: float, far: float, low: Array, high: Array
) -> tuple[float, float]:
    """The part of a leg that lies in a piece of the view; all of it where none does."""
    first, last = near, far
    for axis in (0, 1):
        if abs(float(unit[axis])) > 1e-9:
            reach = sorted(float((edge[axis] - vertex[axis]) / unit[axis]) for edge in (low, high))
            first, last = max(first, reach[0]), min(last, reach[1])
    return (first, last) if first < last else (near, far)


def _oblique(vertex: Array, m: Array, sweep: float, text: Label, profile: Profile, out: SizeInk) -> None:
    """The dimension arc of an angle whose plane is seen at a slant: a piece of an ellipse."""
    points = [vertex + m @ np.array([math.cos(t), math.sin(t)]) for t in np.linspace(0, sweep, 25)]
    out.lines.append(Polyline(tuple(xy(p) for p in points), LINE_KIND))
    for tip, inner in ((points[0], points[2]), (points[-1], points[-3])):
        way = tip - inner
        out.arrows.append(arrow(tip, way / max(float(np.linalg.norm(way)), 1e-9), profile))
    middle = points[len(points) // 2]
    away = middle - vertex
    away = away / max(float(np.linalg.norm(away)), 1e-9)
    center = middle + away * (
        abs(away[0]) * text.width / 2 + abs(away[1]) * (text.high - text.low) / 2 + profile.text_gap + 1.0
    )
    out.lettering += text.elements((float(center[0]), float(center[1]) - (text.low + text.high) / 2))


def states(d: AngleDimension, context: Context) -> Statement:
    """The angle between two directions of the model."""
    found = measured(d, context)
    legs = sorted(
        statement.rounded(v) for v in (statement.signless(found.one), statement.signless(found.two))
    )
    return Statement(("angle", tuple(legs), round(found.sweep, 6)))


KIND = SizeKind(
    AngleDimension,
    "Angle",
    value=value,
    label=label,
    size_ink=ink,
    is_angle=True,
    shift_at=shift_at,
    states=states,
    general_leg=shorter_leg,
)
