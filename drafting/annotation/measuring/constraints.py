"""Lines, circles and arcs of a plane under constraints: what satisfies them nearest to where a shape stands,
how many ways it is still free to move, and which constraints contradict each other. Everything is in mm;
angles are radians. Solved by scipy's least squares."""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import least_squares

Array = NDArray[np.float64]
Form = Literal["path", "circle", "arc"]
Relation = Literal[
    "horizontal",
    "vertical",
    "parallel",
    "perpendicular",
    "tangent",
    "concentric",
    "equal",
    "coincident",
    "on",
    "through",
    "length",
    "radius",
    "angle",
    "distance",
]
MET = 1e-7
"""How far a constraint may be from being met, as a share of the size of what is solved."""
EXACT = 1e-15
"""At which nothing better is looked for, as a share of the size."""
GOOD = 1e-12
"""At which Newton's steps are good enough, as a share of the size."""
STEPS = 12
TRIES = 8
RANK = 1e-7


@dataclass(frozen=True)
class Segment:
    """A straight line from a to b; it stands for all of its line."""

    a: Array
    b: Array


@dataclass(frozen=True)
class Circle:
    """A circle, or the one that an arc is of."""

    center: Array
    radius: float


Thing = Segment | Circle | Array


@dataclass(frozen=True)
class Shape:
    """A path of straight lines (values x0 y0 x1 y1 …), a circle (x, y, r) or an arc (x, y, r, first,
    last)."""

    form: Form
    values: Array
    closed: bool = False

    @property
    def count(self) -> int:
        """Of a path, its straight lines."""
        n = len(self.values) // 2
        return n if self.closed else n - 1

    def segment(self, k: int) -> Segment:
        """A straight line of a path, from 0. Raises IndexError."""
        if self.form != "path" or not 0 <= k < self.count:
            raise IndexError(k)
        p = self.values.reshape(-1, 2)
        return Segment(p[k], p[(k + 1) % len(p)])

    @property
    def circle(self) -> Circle:
        """The circle, or the one that the arc is of. Raises IndexError for a path."""
        if self.form == "path":
            raise IndexError(0)
        return Circle(self.values[:2], float(self.values[2]))

    def thing(self, k: int) -> Segment | Circle:
        """A straight line of a path, or the circle."""
        return self.segment(k) if self.form == "path" else self.circle

    def point(self, k: int, name: str) -> Array:
        """The start, the middle or the end of a straight line of a path or of an arc, or the center of a
        circle. Raises IndexError where there is none."""
        if self.form == "path":
            s = self.segment(k)
            if name not in ("start", "end", "middle"):
                raise IndexError(k)
            return s.a if name == "start" else s.b if name == "end" else (s.a + s.b) / 2
        if name == "center":
            return self.values[:2]
        if self.form == "circle" or name not in ("start", "end", "middle"):
            raise IndexError(k)
        x, y, r, first, last = self.values.tolist()
        t = first if name == "start" else last if name == "end" else (first + last) / 2
        return np.array([x + r * math.cos(t), y + r * math.sin(t)])

    @property
    def size(self) -> float:
        """Of its extent, mm, 1 at least."""
        if self.form == "path":
            p = self.values.reshape(-1, 2)
            return max(1.0, float(np.linalg.norm(p.max(0) - p.min(0))))
        return max(1.0, 2 * abs(float(self.values[2])))


@dataclass(frozen=True)
class Constraint:
    """A relation of a shape's own part (a straight line by its number, or a point of it by name) to something
    fixed, or to another part of itself (by the same two), or to a value: mm, or radians."""

    relation: Relation
    part: int = 0
    point: str = ""
    to: Thing | None = None
    other: tuple[int, str] | None = None
    value: float = 0.0


@dataclass(frozen=True)
class Solved:
    """A shape as near as can be to its constraints. free: ways to move that they leave; faults: numbers of
    constraints of which none can stay together with the others; empty where all are met."""

    shape: Shape
    free: int
    faults: tuple[int, ...] = field(default=())


def solved(
    start: Shape, constraints: Sequence[Constraint], tries: int = TRIES, explained: bool = True
) -> Solved:
    """What satisfies all constraints, nearest to where the shape stands. tries: places that it is looked for
    from; explained: whether it is found out which constraints contradict each other, else all are named."""
    if not constraints:
        return Solved(start, len(start.values))
    best = _near(start, constraints, tries)
    if _is_met(best, constraints, start):
        return Solved(best, len(best.values) - _rank(best, constraints, start))
    if not explained:
        return Solved(best, 0, tuple(range(len(constraints))))
    faults = []
    for n in range(len(constraints)):
        rest = [*constraints[:n], *constraints[n + 1 :]]
        if not rest or _is_met(_near(start, rest, tries), rest, start):
            faults.append(n)
    return Solved(
        best,
        len(best.values) - _rank(best, constraints, start),
        tuple(faults) or tuple(range(len(constraints))),
    )


def _near(start: Shape, constraints: Sequence[Constraint], tries: int) -> Shape:
    """The best that is found from the shape as it stands, and from places about it where that meets
    nothing."""
    rng = np.random.default_rng(7)
    best: tuple[float, Shape] | None = None
    at, weights = start, _weights(start)
    for n in range(tries):
        wrong = _residuals(at, constraints)
        shape = replace(start, values=_least(wrong, at.values, weights, EXACT * start.size))
        miss = float(np.abs(wrong(shape.values)).max())
        if best is None or miss < best[0]:
            best = miss, shape
        if miss < MET * start.size and _is_sound(shape):
            return shape
        spread = start.size * 0.15 * (1 + n)
        at = replace(start, values=start.values + rng.normal(0, 1, len(start.values)) * spread * weights)
        if at.form != "path":
            at.values[2] = abs(at.values[2]) + 1e-3
    assert best is not None
    return best[1]


class _Met(Exception):
    """All constraints are met by these numbers."""

    def __init__(self, values: Array) -> None:
        super().__init__()
        self.values = values


def _least(wrong: Callable[[Array], Array], values: Array, weights: Array, near: float) -> Array:
    """The numbers that are least wrong, from where they are."""

    def scaled(v: Array) -> Array:
        out = wrong(v * weights)
        if float(np.abs(out).max()) < near:
            raise _Met(v.copy())
        return out

    quick = _newton(wrong, values, weights, near)
    if quick is not None:
        return quick
    # what can be met ends by _Met; what cannot stops where it gets no better
    tight = {"xtol": 1e-15, "ftol": 1e-9, "gtol": 1e-15}
    try:
        found = least_squares(scaled, values / weights, method="trf", jac="2-point", max_nfev=60, **tight)
    except _Met as met:
        return met.values * weights
    out: Array = found.x * weights
    return out


def _newton(wrong: Callable[[Array], Array], values: Array, weights: Array, near: float) -> Array | None:
    """The numbers by Newton's steps of least length, which keep what is not asked for where it is; None
    where these lead nowhere soon."""
    v = values / weights
    r = wrong(v * weights)
    miss = float(np.linalg.norm(r))
    for _ in range(STEPS):
        size = max(1.0, float(np.abs(v).max()))
        nudges = np.eye(len(v)) * 1e-6 * size
        slopes = [(wrong((v + d) * weights) - wrong((v - d) * weights)) / (2e-6 * size) for d in nudges]
        step = np.linalg.lstsq(np.column_stack(slopes), -r, rcond=1e-9)[0]
        for _ in range(4):
            ahead = wrong((v + step) * weights)
            now = float(np.linalg.norm(ahead))
            if now < miss:
                break
            step = step / 2
        if now >= miss:  # as near as numbers go, or nowhere
            break
        v, r, miss = v + step, ahead, now
        if miss < near:
            break
    return v * weights if miss < GOOD * near / EXACT else None


def _weights(shape: Shape) -> Array:
    """What a unit of each number moves: angles are weighed by the radius."""
    if shape.form != "arc":
        return np.ones(len(shape.values))
    turn = 1 / max(abs(float(shape.values[2])), 1.0)
    return np.array([1.0, 1.0, 1.0, turn, turn])


def _is_sound(shape: Shape) -> bool:
    return shape.form == "path" or float(shape.values[2]) > 1e-6


def _is_met(shape: Shape, constraints: Sequence[Constraint], start: Shape) -> bool:
    wrong = _residuals(shape, constraints)(shape.values)
    return _is_sound(shape) and float(np.abs(wrong).max()) < MET * max(start.size, shape.size)


def _rank(shape: Shape, constraints: Sequence[Constraint], start: Shape) -> int:
    wrong, weights = _residuals(shape, constraints), _weights(shape)
    step = 1e-6 * start.size
    columns = []
    for n in range(len(shape.values)):
        d = np.zeros(len(shape.values))
        d[n] = step * weights[n]
        columns.append((wrong(shape.values + d) - wrong(shape.values - d)) / (2 * step))
    values = np.linalg.svd(np.column_stack(columns), compute_uv=False)
    return int((values > max(RANK * float(values.max(initial=0.0)), 1e-6)).sum())


# ---- what each relation asks for ---------------------------------------------------------------------------
def _residuals(at: Shape, constraints: Sequence[Constraint]) -> Callable[[Array], Array]:
    """How far each constraint is from being met, mm, by the shape's numbers. at: where the shape stands, by
    which it is decided on which side things lie."""
    signs = [_sign(at, c) for c in constraints]

    def wrong(values: Array) -> Array:
        shape = replace(at, values=values)
        return np.concatenate([_wrong(shape, c, s) for c, s in zip(constraints, signs, strict=True)])

    return wrong


def _other(shape: Shape, c: Constraint) -> Thing | None:
    if c.other is None:
        return c.to
    k, name = c.other
    return shape.point(k, name) if name else shape.thing(k)


def _mine(shape: Shape, c: Constraint) -> Thing:
    return shape.point(c.part, c.point) if c.point else shape.thing(c.part)


def _unit(s: Segment) -> Array:
    d = s.b - s.a
    out: Array = d / max(float(np.linalg.norm(d)), 1e-12)
    return out


def _cross(a: Array, b: Array) -> float:
    return float(a[0] * b[1] - a[1] * b[0])


def _off(p: Array, s: Segment) -> float:
    """How far a point lies from a line, to its left."""
    return _cross(_unit(s), p - s.a)


def _sign(shape: Shape, c: Constraint) -> float:
    """On which side things lie, that relations without sides keep."""
    mine, other = _mine(shape, c), _other(shape, c)
    if c.relation == "tangent":
        if isinstance(mine, Circle) and isinstance(other, Circle):
            d = float(np.linalg.norm(mine.center - other.center))
            apart = abs(d - mine.radius - other.radius)
            within = abs(d - abs(mine.radius - other.radius))
            return 0.0 if apart <= within else math.copysign(1.0, mine.radius - other.radius)
        line, circle = (mine, other) if isinstance(mine, Segment) else (other, mine)
        if isinstance(line, Segment) and isinstance(circle, Circle):
            return math.copysign(1.0, _off(circle.center, line))
    if c.relation == "distance":
        point, line = _point_and_line(mine, other)
        if point is not None and line is not None:
            return math.copysign(1.0, _off(point, line))
    return 1.0


def _point_and_line(mine: Thing, other: Thing | None) -> tuple[Array | None, Segment | None]:
    if isinstance(other, Segment):
        return _at(mine), other
    if isinstance(mine, Segment) and other is not None:
        return _at(other), mine
    return None, None


def _at(thing: Thing) -> Array:
    """The point that stands for a thing where a distance is taken."""
    if isinstance(thing, Segment):
        return thing.a
    return thing.center if isinstance(thing, Circle) else thing


def _toward(c: Constraint, other: Thing | None) -> Array:
    """The direction that a line is to have, of an angle or a parallel."""
    base = _unit(other) if isinstance(other, Segment) else np.array([1.0, 0.0])
    if c.relation != "angle":
        return base
    cos, sin = math.cos(c.value), math.sin(c.value)
    return np.array([base[0] * cos - base[1] * sin, base[0] * sin + base[1] * cos])


class Unfit(ValueError):
    """A relation that things of these kinds cannot have."""


def _wrong(shape: Shape, c: Constraint, sign: float) -> Array:
    mine, other = _mine(shape, c), _other(shape, c)
    found = _of_line(c, mine, other) if isinstance(mine, Segment) else None
    if found is None:
        found = _of_any(c, mine, other, sign)
    if found is None:
        raise Unfit(c.relation)
    return np.atleast_1d(np.array(found, float))


def _of_line(c: Constraint, mine: Segment, other: Thing | None) -> float | Array | None:
    d = mine.b - mine.a
    long = float(np.linalg.norm(d))
    if c.relation == "horizontal":
        return float(d[1])
    if c.relation == "vertical":
        return float(d[0])
    if c.relation == "length":
        return long - c.value
    if c.relation == "angle" and (other is None or isinstance(other, Segment)):
        return _cross(_toward(c, other), d)
    if isinstance(other, Segment):
        if c.relation == "parallel":
            return _cross(_unit(other), d)
        if c.relation == "perpendicular":
            return float(_unit(other) @ d)
        if c.relation == "equal":
            return long - float(np.linalg.norm(other.b - other.a))
        if c.relation == "on":
            return np.array([_off(mine.a, other), _off(mine.b, other)])
        if c.relation == "distance":
            off = _off(mine.a, other)
            return np.array([_cross(_unit(other), d), abs(off) - c.value])
    return None


def _of_any(c: Constraint, mine: Thing, other: Thing | None, sign: float) -> float | Array | None:
    is_round, is_line = isinstance(mine, Circle), isinstance(mine, Segment)
    if c.relation == "radius" and isinstance(mine, Circle):
        return mine.radius - c.value
    if c.relation == "through" and (is_round or is_line) and isinstance(other, np.ndarray):
        return _away(other, mine)
    if c.relation == "concentric" and isinstance(mine, Circle) and not isinstance(other, Segment | None):
        return mine.center - _at(other)
    if c.relation == "equal" and isinstance(mine, Circle) and isinstance(other, Circle):
        return mine.radius - other.radius
    if c.relation == "tangent":
        return _tangent(mine, other, sign)
    if c.relation == "coincident" and isinstance(mine, np.ndarray) and isinstance(other, np.ndarray):
        return mine - other
    if c.relation == "on" and isinstance(mine, np.ndarray) and isinstance(other, Segment | Circle):
        return _away(mine, other)
    if c.relation == "distance" and other is not None:
        point, line = _point_and_line(mine, other)
        if point is not None and line is not None:
            return sign * _off(point, line) - c.value
        return float(np.linalg.norm(_at(mine) - _at(other))) - c.value
    return None


def _away(p: Array, thing: Thing) -> float:
    if isinstance(thing, Segment):
        return _off(p, thing)
    assert isinstance(thing, Circle)
    return float(np.linalg.norm(p - thing.center)) - thing.radius


def _tangent(mine: Thing, other: Thing | None, sign: float) -> float | None:
    if isinstance(mine, Circle) and isinstance(other, Circle):
        d = float(np.linalg.norm(mine.center - other.center))
        return d - (mine.radius + other.radius if not sign else sign * (mine.radius - other.radius))
    line, circle = (mine, other) if isinstance(mine, Segment) else (other, mine)
    if isinstance(line, Segment) and isinstance(circle, Circle):
        return sign * _off(circle.center, line) - circle.radius
    return None


def fits(shape: Shape, constraint: Constraint) -> bool:
    """Whether a relation is one that things of these kinds can have."""
    try:
        _wrong(shape, constraint, 1.0)
    except (Unfit, IndexError):
        return False
    return True
