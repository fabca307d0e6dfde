"""Degrees of freedom: which rigid motions leave surfaces as they are, and what datums in their order hold.

A small motion is a turn w about the origin and a shift v; a place p moves by v + w × p. What moves a surface
out of itself is held where that surface is a datum. All is counted by ranks, not by names of surfaces.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]
Form = Literal["plane", "axis", "point", "cone", "any"]
SMALL = 1e-6
"""Singular values below this share of the largest are none."""


@dataclass(frozen=True)
class Situation:
    """What a datum is reduced to: a plane by a place on it and its normal, an axis by a place and its
    direction, a point, a cone by its apex and axis, or any other surface, that holds everything. at,
    direction: (3,), mm and unit."""

    form: Form
    at: Array
    direction: Array


def held_by(s: Situation) -> Array:
    """Rows (n, 6) that are 0 for the motions (w, v) that leave it in itself; lengths by `unit` mm."""
    at, d = np.asarray(s.at, float), np.asarray(s.direction, float)
    turn, shift = np.hstack([np.eye(3), np.zeros((3, 3))]), np.hstack([_cross(at), np.eye(3)])
    if s.form == "any":
        return np.eye(6)
    if s.form == "point":
        return shift
    across = _across(d)
    if s.form == "plane":
        return np.vstack([across @ turn, d[None] @ shift])
    if s.form == "axis":
        return np.vstack([across @ turn, across @ shift])
    return np.vstack([across @ turn, shift])  # a cone: its apex, too


def oriented_by(s: Situation) -> Array:
    """Rows that are 0 for the motions that leave its direction as it is: what an orientation holds."""
    turn = np.hstack([np.eye(3), np.zeros((3, 3))])
    if s.form in ("point",):
        return np.zeros((0, 6))
    return turn if s.form == "any" else _across(np.asarray(s.direction, float)) @ turn


def _cross(p: Array) -> Array:
    """The matrix m with m @ w = w × p."""
    x, y, z = p
    return np.array([[0.0, z, -y], [-z, 0.0, x], [y, -x, 0.0]])


def _across(d: Array) -> Array:
    """Two unit directions square to one, (2, 3)."""
    d = d / np.linalg.norm(d)
    a = np.cross(d, np.eye(3)[int(np.argmin(np.abs(d)))])
    a /= np.linalg.norm(a)
    return np.array([a, np.cross(d, a)])


def _rank(rows: Array) -> int:
    if not len(rows):
        return 0
    values = np.linalg.svd(rows, compute_uv=False)
    return int((values > SMALL * max(1.0, float(values[0]))).sum())


@dataclass(frozen=True)
class Held:
    """What datums in their order hold. taken: how many degrees of freedom each takes that those before it
    left; turns, shifts: which about and along the given directions remain, of three each; free: how many
    remain in all."""

    taken: tuple[int, ...]
    turns: tuple[bool, bool, bool]
    shifts: tuple[bool, bool, bool]
    free: int


def held(datums: Sequence[Sequence[Situation]], axes: Array | None = None) -> Held:
    """What datums hold of a part; a common datum is held by several surfaces at once.

    axes: (3, 3) directions in rows, the coordinate axes where not given; the
    turns are about these through the first datum's place."""
    axes = np.eye(3) if axes is None else axes
    rows, taken, before = np.zeros((0, 6)), [], 0
    for group in datums:
        rows = np.vstack([rows, *(held_by(s) for s in group)])
        now = _rank(rows)
        taken.append(now - before)
        before = now
    about = np.asarray(datums[0][0].at) if datums and datums[0] else np.zeros(3)
    turns = tuple(not _is_held(rows, np.concatenate([a, -np.cross(a, about)])) for a in axes)
    shifts = tuple(not _is_held(rows, np.concatenate([np.zeros(3), a])) for a in axes)
    return Held(tuple(taken), turns, shifts, 6 - before)  # type: ignore[arg-type]


def _is_held(rows: Array, motion: Array) -> bool:
    return bool(len(rows)) and float(np.abs(rows @ motion).max()) > 1e-7


def holds_turn(datums: Sequence[Sequence[Situation]], axis: Array, at: Array | None = None) -> bool:
    """Whether datums hold a turn about an axis (3,) through a place; without one, whether they hold it by
    their directions alone."""
    by = oriented_by if at is None else held_by
    rows = np.vstack([np.zeros((0, 6)), *(by(s) for group in datums for s in group)])
    return _is_held(rows, np.concatenate([axis, np.zeros(3) if at is None else -np.cross(axis, at)]))


def unheld(of: Situation, datums: Sequence[Sequence[Situation]], only_turns: bool = False) -> int:
    """In how many ways a feature can still be moved out of itself that datums leave; only_turns: counts those
    that tilt it alone."""
    by = oriented_by if only_turns else held_by
    rows, mine = np.vstack([np.zeros((0, 6)), *(by(s) for group in datums for s in group)]), by(of)
    return _rank(np.vstack([rows, mine])) - _rank(rows)
