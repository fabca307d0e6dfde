"""Insertion arrows: broad arrows in assembly pictures that show what goes where (common practice)."""

import math
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, anchored
from drafting.errors import SizeError
from drafting.ink.elements import XY, Element, Fill, Polyline
from drafting.views.frame import Array

HEAD = 2.2, 2.0
"""Width and length of the head, widths of the shaft."""
SHORTEST = 3.0
"""Of an arrow, mm on paper."""
NEAR = 3.0
"""How near the pointer takes an end, mm on paper."""


class InsertionArrow(AnnotationBase):
    """A broad arrow. start, end: view mm at 1:1 about the view's position, as drawn, or mm of the sheet;
    width: of its shaft, mm on paper; turns: how many degrees it bends to the left on its way, 0 for
    straight."""

    kind: Literal["insertion_arrow"] = "insertion_arrow"
    start: Point
    end: Point
    width: Annotated[float, Field(ge=0.5, le=50, title="Shaft, mm")] = 3.0
    turns: Annotated[float, Field(ge=-270, le=270, title="Bends by, °")] = 0.0
    filled: Annotated[bool, Field(title="Filled")] = False


def _path(a: InsertionArrow, context: Context) -> tuple[Array, Array]:
    """Places (n, 2) along its middle and the unit directions there, paper mm. Raises SizeError."""
    p, q = (np.array([e.x, e.y]) * context.scale for e in (a.start, a.end))
    chord = q - p
    length = float(np.linalg.norm(chord))
    if length < SHORTEST:
        raise SizeError(f"An insertion arrow is {SHORTEST:g} mm long at least.")
    u = chord / length
    turn = math.radians(a.turns)
    if abs(turn) < 1e-6:
        return np.array([p, q]), np.array([u, u])
    radius = length / (2 * math.sin(abs(turn) / 2))
    steps = np.linspace(-turn / 2, turn / 2, 2 + math.ceil(abs(a.turns) / 3))
    directions = np.column_stack(
        [u[0] * np.cos(steps) - u[1] * np.sin(steps), u[0] * np.sin(steps) + u[1] * np.cos(steps)]
    )
    out = math.copysign(1.0, turn) * np.column_stack([directions[:, 1], -directions[:, 0]])
    places = p + radius * (out - out[0])
    return places, directions


def ink(a: InsertionArrow, context: Context) -> list[Element]:
    """Its outline, or all of it filled; paper mm about the context's origin. Raises SizeError."""
    places, directions = _path(a, context)
    w, (wide, long) = a.width / 2, HEAD
    total = float(np.linalg.norm(np.diff(places, axis=0), axis=1).sum())
    head = min(long * a.width, 0.6 * total)
    neck = _at(places, directions, total - head)
    along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(places, axis=0), axis=1))])
    keep = along < total - head - 1e-9
    shaft = np.vstack([places[keep], neck[0]])
    aside = np.vstack([directions[keep], neck[1]]) @ np.array([[0.0, 1.0], [-1.0, 0.0]])
    point = places[-1] - neck[0]
    barb = np.array([-point[1], point[0]]) / np.linalg.norm(point) * w * wide
    outline = [*(shaft + aside * w), neck[0] + barb, places[-1], neck[0] - barb, *(shaft - aside * w)[::-1]]
    corners: tuple[XY, ...] = tuple((float(x), float(y)) for x, y in outline)
    return [Fill(corners, "visible")] if a.filled else [Polyline(corners, "visible", True)]


def _at(places: Array, directions: Array, length: float) -> tuple[Array, Array]:
    """The place and the direction at a length along a path."""
    steps = np.linalg.norm(np.diff(places, axis=0), axis=1)
    along = np.concatenate([[0.0], np.cumsum(steps)])
    k = min(int(np.searchsorted(along, length, side="right")) - 1, len(steps) - 1)
    t = (length - along[k]) / max(float(steps[k]), 1e-12)
    d = directions[k] * (1 - t) + directions[k + 1] * t
    return places[k] * (1 - t) + places[k + 1] * t, d / np.linalg.norm(d)


def check(a: InsertionArrow, context: Context) -> None:
    """Raises SizeError for one that is too short."""
    _path(a, context)


def row(a: InsertionArrow, context: Context) -> Row:
    """How long it is on paper."""
    places, _ = _path(a, context)
    length = float(np.linalg.norm(np.diff(places, axis=0), axis=1).sum())
    return Row(f"{written(length, context.profile)} long on paper")


def _point(at: Array | XY, context: Context) -> Point:
    x, y = (float(v) / context.scale for v in at)
    return Point(x=round(x, 6), y=round(y, 6))


def propose(request: Request, context: Context) -> InsertionArrow:
    """An arrow from the first place clicked to the second. Raises SizeError."""
    if len(request.spots) < 2:
        raise SizeError("Click where the arrow begins and where it points.")
    (ax, ay), (bx, by) = (s.at for s in request.spots[:2])
    return InsertionArrow(
        id=request.identity,
        anchor=anchored(context.view_id),
        start=Point(x=round(float(ax), 6), y=round(float(ay), 6)),
        end=Point(x=round(float(bx), 6), y=round(float(by), 6)),
    )


def drag(a: InsertionArrow, grip: str, request: Request, context: Context) -> InsertionArrow:
    """The arrow with the end that was grabbed, or all of it, at the pointer."""
    was, now = (np.array(request.settings.get("grabbed") or request.pointer), np.array(request.pointer))
    ends = {n: np.array([p.x, p.y]) * context.scale for n, p in (("start", a.start), ("end", a.end))}
    near = min(ends, key=lambda n: float(np.linalg.norm(ends[n] - was)))
    if float(np.linalg.norm(ends[near] - was)) <= NEAR:
        return a.model_copy(update={near: _point(now, context)})
    return a.model_copy(update={n: _point(p + now - was, context) for n, p in ends.items()})


KIND = Kind(InsertionArrow, "Insertion arrow", ink=ink, check=check, row=row, propose=propose, drag=drag)
