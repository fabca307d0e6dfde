"""Lengths and distances between picks, measured on the model, and the points they are shown between."""

import math
from dataclasses import dataclass, replace

import numpy as np

from drafting.annotation.measuring.measure import LostPick, Spot, axis_of, located, resolve
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.model.model import FaceFact, Facts
from drafting.views.frame import Array, ViewFrame

Thing = Straight | Round | Spot
LEVEL, UPRIGHT = np.array([1.0, 0.0]), np.array([0.0, 1.0])


@dataclass(frozen=True)
class Distance:
    """A measured length: value in mm on the model, the two points it is shown between (view mm at 1:1), whose
    extension lines may slide along given pieces, and the direction on paper. diameter: it is written with the
    sign; half: only its second end is drawn; edge: the measured direction in model space, for pictorial
    views; corners: theoretical sharp corners it starts at."""

    value: float
    first: tuple[Array, Array]
    second: tuple[Array, Array]
    direction: Array
    diameter: bool = False
    edge: Array | None = None
    half: bool = False
    corners: tuple[tuple[Array, tuple[Array, ...]], ...] = ()


def distance(picks: list[Pick], direction: str, context: Context, reading: str = "") -> Distance:
    """Length of one straight pick or distance between two picks. Raises SizeError."""
    if len(picks) == 1:
        if reading in ("across", "half"):
            return _across(picks[0], context, reading)
        return _length(located(picks[0], context), direction, context.frame)
    if picks[0] == picks[1]:
        raise SizeError("A size needs two different things; the same edge was picked twice.")
    things = [located(p, context) for p in picks]
    out = _between(things[0], things[1], direction, context.frame, reading)
    corners = tuple(
        (context.frame.flat(t.at), t.lines) for t in things if isinstance(t, Spot) and t.corner > 1e-6
    )
    out = replace(out, corners=corners) if corners else out
    if reading == "half":
        round_ = any(_is_axis(p) for p in picks) and any(p.role != "edge" and p.side for p in picks)
        return replace(out, value=2 * out.value, half=True, diameter=round_)
    if reading == "across" or _faces_itself(picks, out.value, context.facts):
        return replace(out, diameter=True)
    return out


def _is_axis(pick: Pick) -> bool:
    return pick.role == "silhouette" and pick.side == 0


def _faces_itself(picks: list[Pick], value: float, facts: Facts) -> bool:
    """Whether two picks are the two sides of one cylinder, as far apart as its diameter."""
    one, two = picks
    if one.source != two.source or one.instance != two.instance or "edge" in (one.role, two.role):
        return False
    face = _face(one, facts)
    return face is not None and face.kind == "cylinder" and abs(value - 2 * face.radius) < 1e-6


def _face(pick: Pick, facts: Facts) -> FaceFact | None:
    return facts.face_of(pick.instance, pick.source)


def _across(pick: Pick, context: Context, reading: str) -> Distance:
    """The diameter of a cylinder seen from the side, between its outlines, or from its axis to one of
    them."""
    if pick.role == "edge":
        thing = resolve(pick, context)
        if not isinstance(thing, Straight) or not thing.diameter:
            raise SizeError("A diameter is taken on a cylinder's outline, its center line, or a circle.")
        p, q = context.frame.flat(thing.a), context.frame.flat(thing.b)
        out = Distance(thing.length, (p, p), (q, q), _unit(q - p), True, thing.b - thing.a)
        center = (p + q) / 2
        return replace(out, first=(center, center), half=True) if reading == "half" else out
    face = _face(pick, context.facts)
    if face is None:
        raise LostPick("The face this size was taken on is no longer in the model.")
    if face.kind != "cylinder":
        raise SizeError("A cone has another diameter at each place; take it on its rim.")
    sides = [resolve(pick.model_copy(update={"side": s}), context) for s in (-1, 1)]
    one, two = sides
    assert isinstance(one, Straight)
    assert isinstance(two, Straight)
    value = float(np.linalg.norm(two.a - one.a))
    if abs(value - 2 * face.radius) > 1e-6:
        raise SizeError("The cut does not pass through the axis; this is a chord, not the diameter.")
    a, b = (
        (context.frame.flat(one.a), context.frame.flat(one.b)),
        (context.frame.flat(two.a), context.frame.flat(two.b)),
    )
    along = _unit(a[1] - a[0])
    n = np.array([-along[1], along[0]]) if not context.frame.pictorial else _unit(b[0] - a[0])
    if reading == "across":
        return Distance(value, a, b, n, True, two.a - one.a)
    axis = axis_of(pick, context)[0]
    middle = (context.frame.flat(axis.a), context.frame.flat(axis.b))
    far = a if pick.side == -1 else b
    return Distance(value, middle, far, n, True, two.a - one.a, half=True)


def _length(thing: Thing, direction: str, frame: ViewFrame) -> Distance:
    if isinstance(thing, Round):
        raise SizeError("A circle has a diameter; pick a second edge or circle for a distance.")
    if isinstance(thing, Spot):
        raise SizeError("A point has no length; pick a second one.")
    a, b = frame.flat(thing.a), frame.flat(thing.b)
    if frame.pictorial or direction == "aligned":
        if np.linalg.norm(b - a) < 1e-9:
            raise SizeError("This edge is seen end-on; take its length in another view.")
        return Distance(thing.length, (a, a), (b, b), _unit(b - a), thing.diameter, thing.b - thing.a)
    u = LEVEL if direction == "horizontal" else UPRIGHT
    value = abs(float((b - a) @ u))
    if value < 1e-9:
        raise SizeError(f"The edge has no {direction} length in this view.")
    return Distance(value, (a, a), (b, b), u)


def _unit(v: Array) -> Array:
    out: Array = v / np.linalg.norm(v)
    return out


def _middle(thing: Round | Spot) -> Array:
    return thing.center if isinstance(thing, Round) else thing.at


def _between(one: Thing, two: Thing, direction: str, frame: ViewFrame, reading: str) -> Distance:
    if isinstance(one, Straight) and isinstance(two, Straight):
        if not frame.pictorial and all(
            np.linalg.norm(frame.direction(s.direction)) < 1e-9 for s in (one, two)
        ):
            return _between_points(one.a, two.a, direction, frame)  # both are seen end-on
        return _between_lines(one, two, frame)
    if not isinstance(one, Straight) and not isinstance(two, Straight):
        if reading == "true":
            return _true(_middle(one), _middle(two), frame)
        out = _between_points(_middle(one), _middle(two), direction, frame)
        return _rims(out, one, two, reading, frame) if reading in ("nearest", "farthest") else out
    line, point = (one, two) if isinstance(one, Straight) else (two, one)
    assert isinstance(line, Straight)
    assert not isinstance(point, Straight)
    out = _to_line(line, _middle(point), frame)
    if reading in ("nearest", "farthest"):
        out = _rims(out, line, point, reading, frame)
    return out if isinstance(one, Straight) else replace(out, first=out.second, second=out.first)


def _reach(thing: Thing, frame: ViewFrame) -> float:
    if not isinstance(thing, Round):
        return 0.0
    if abs(abs(float(thing.axis @ frame.matrix[2])) - 1) > 1e-9:
        raise SizeError("The nearest and farthest points of a circle are taken where it is seen as a circle.")
    return thing.radius


def _rims(out: Distance, one: Thing, two: Thing, reading: str, frame: ViewFrame) -> Distance:
    """The distance between the nearest or the farthest points of circles, along its direction."""
    sign = -1.0 if reading == "nearest" else 1.0
    a, b = out.first[0], out.second[0]
    u = out.direction * (1.0 if float((b - a) @ out.direction) >= 0 else -1.0)
    r, s = _reach(one, frame), _reach(two, frame)
    if not r and not s:
        raise SizeError("Nearest and farthest points are those of circles.")
    value = out.value + sign * (r + s)
    if value < 1e-7:
        raise SizeError("The circles overlap; they have no nearest distance.")
    first = out.first if isinstance(one, Straight) else (a - sign * u * r,) * 2
    far = b + sign * u * s
    return replace(out, value=value, first=first, second=(far, far), edge=None)


def _true(p: Array, q: Array, frame: ViewFrame) -> Distance:
    a, b = frame.flat(p), frame.flat(q)
    if np.linalg.norm(b - a) < 1e-7:
        raise SizeError("The two points fall together in this view.")
    return Distance(float(np.linalg.norm(q - p)), (a, a), (b, b), _unit(b - a), edge=q - p)


def _between_points(p: Array, q: Array, direction: str, frame: ViewFrame) -> Distance:
    a, b = frame.flat(p), frame.flat(q)
    if np.linalg.norm(b - a) < 1e-7:
        raise SizeError("The two centers fall together in this view.")
    if frame.pictorial:
        return Distance(float(np.linalg.norm(q - p)), (a, a), (b, b), _unit(b - a), edge=q - p)
    u = {"horizontal": LEVEL, "vertical": UPRIGHT}.get(direction, _unit(b - a))
    value = abs(float((b - a) @ u))
    if value < 1e-7:
        raise SizeError(f"The two have no {direction} distance in this view.")
    return Distance(value, (a, a), (b, b), u)


def _to_line(line: Straight, point: Array, frame: ViewFrame) -> Distance:
    a, b, p = frame.flat(line.a), frame.flat(line.b), frame.flat(point)
    if frame.pictorial:
        foot3 = line.a + line.direction * float((point - line.a) @ line.direction)
        return _shown(foot3, point, (frame.flat(foot3),) * 2, (p, p), frame)
    if np.linalg.norm(b - a) < 1e-9:
        return _level(a, p)
    d = _unit(b - a)
    n = np.array([-d[1], d[0]])
    value = abs(float((p - a) @ n))
    if value < 1e-7:
        raise SizeError("The point lies on that line in this view.")
    return Distance(value, (a, b), (p, p), n)


def _level(a: Array, p: Array) -> Distance:
    if np.linalg.norm(p - a) < 1e-7:
        raise SizeError("Both picks fall together in this view.")
    return Distance(float(np.linalg.norm(p - a)), (a, a), (p, p), _unit(p - a))


def _between_lines(one: Straight, two: Straight, frame: ViewFrame) -> Distance:
    d1, d2 = frame.direction(one.direction), frame.direction(two.direction)
    if frame.pictorial:
        if np.linalg.norm(np.cross(one.direction, two.direction)) > 1e-6:
            raise SizeError("These edges are not parallel; a distance needs parallel ones.")
        start = (one.a + one.b) / 2
        foot = two.a + two.direction * float((start - two.a) @ two.direction)
        return _shown(
            start, foot, (frame.flat(one.a), frame.flat(one.b)), (frame.flat(two.a), frame.flat(two.b)), frame
        )
    if np.linalg.norm(d1) < 1e-9 or np.linalg.norm(d2) < 1e-9:
        line, end_on = (two, one) if np.linalg.norm(d1) < 1e-9 else (one, two)
        return _to_line(line, end_on.a, frame)
    d1, d2 = _unit(d1), _unit(d2)
    if abs(float(d1[0] * d2[1] - d1[1] * d2[0])) > 1e-6:
        raise SizeError("These lines are not parallel; a distance needs parallel ones.")
    n = np.array([-d1[1], d1[0]])
    a, c = frame.flat(one.a), frame.flat(two.a)
    value = abs(float((c - a) @ n))
    if value < 1e-7:
        raise SizeError("Both lines fall together in this view; there is no distance between them.")
    return Distance(value, (a, frame.flat(one.b)), (c, frame.flat(two.b)), n)


def _shown(
    p: Array, q: Array, first: tuple[Array, Array], second: tuple[Array, Array], frame: ViewFrame
) -> Distance:
    """A true distance in a pictorial view, between a point and its foot."""
    value = float(np.linalg.norm(q - p))
    if value < 1e-7:
        raise SizeError("Both picks lie in one line; there is no distance between them.")
    a, b = frame.flat(p), frame.flat(q)
    if np.linalg.norm(b - a) < 1e-9:
        raise SizeError("This distance is seen end-on; take it in another view.")
    return Distance(value, (a, a), (b, b), _unit(b - a), edge=q - p)


def circle(pick: Pick, context: Context) -> Round:
    """The circle a pick names. Raises SizeError for anything else."""
    thing = resolve(pick, context)
    if not isinstance(thing, Round):
        raise SizeError("A diameter or radius is taken on a circle or an arc.")
    return thing


def drawn_length(found: Distance, frame: ViewFrame) -> float:
    """How long the view shows it at 1:1, before breaks are left out."""
    a, b = found.first[0], found.second[0]
    out = abs(float((b - a) @ found.direction))
    return 2 * out if found.half else out


def angle_of(v: Array) -> float:
    """Direction of a view vector in radians, 0 to a full turn."""
    return math.atan2(float(v[1]), float(v[0])) % (2 * math.pi)
