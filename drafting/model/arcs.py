"""Arcs of one circle that touch, as one: many writers split circles, and joining faces leaves a corner where
their seams end."""

import math
from collections import defaultdict
from collections.abc import Iterable
from typing import Protocol, TypeVar

import numpy as np

TURN = 2 * math.pi
SAME = 1e-6
"""How near ends of arcs are that touch, radians."""
CELL, OFF = 1e-3, 2.37e-4
"""Circles are one that fall into one cell of so many mm; off, so that round numbers lie well within."""


class Arc(Protocol):
    """An edge, as of `EdgeFact`."""

    name: str
    kind: str
    center: list[float] | None
    axis: list[float] | None
    x_axis: list[float] | None
    radius: float
    first: float
    last: float


A = TypeVar("A", bound=Arc)


def joined(edges: Iterable[A]) -> dict[str, tuple[float, float]]:
    """From where to where arcs go together with those of their circle that they touch, radians in the arc's
    own frame; of those only that touch others."""
    circles: dict[tuple[int, ...], list[A]] = defaultdict(list)
    for edge in edges:
        if edge.kind == "circle" and edge.center and edge.axis and edge.last - edge.first < TURN - SAME:
            circles[tuple(round((v + OFF) / CELL) for v in (*edge.center, edge.radius))].append(edge)
    out: dict[str, tuple[float, float]] = {}
    for arcs in circles.values():
        while len(arcs) > 1:
            one = arcs[0]
            level = [a for a in arcs if _is_level(one, a)]
            arcs = [a for a in arcs if a not in level]
            out |= _runs(level)
    return out


def _is_level(a: Arc, b: Arc) -> bool:
    """Whether the circles of two arcs lie in one plane."""
    return abs(float(np.dot(a.axis or [0.0], b.axis or [0.0]))) > 1 - 1e-9


def _runs(arcs: list[A]) -> dict[str, tuple[float, float]]:
    """Arcs of one circle in their order about it, those that touch together."""
    frame = arcs[0]
    x = np.array(frame.x_axis)
    y = np.cross(frame.axis or [0.0, 0.0, 1.0], x)
    placed = []
    for arc in arcs:
        own = np.array(arc.x_axis)
        start = math.atan2(float(own @ y), float(own @ x))
        way = 1.0 if float(np.dot(arc.axis or [], frame.axis or [])) > 0 else -1.0
        ends = sorted((start + way * arc.first, start + way * arc.last))
        placed.append((ends[0] % TURN, ends[1] - ends[0], arc, way))
    placed.sort(key=lambda p: p[0])
    runs: list[list[int]] = []
    for n, (low, _, *_) in enumerate(placed):
        if runs:
            before_low, before_long, *_ = placed[runs[-1][-1]]
            if abs(low - before_low - before_long) < SAME:
                runs[-1].append(n)
                continue
        runs.append([n])
    last_low, last_long, *_ = placed[runs[-1][-1]]
    if len(runs) > 1 and abs(last_low + last_long - TURN - placed[0][0]) < SAME:
        runs[0] = runs.pop() + runs[0]
    out: dict[str, tuple[float, float]] = {}
    for run in (r for r in runs if len(r) > 1):
        low = placed[run[0]][0]
        long = sum(placed[n][1] for n in run)
        for n in run:
            at, _, arc, way = placed[n]
            before = (at - low) % TURN
            if long > TURN - SAME * len(run):
                out[arc.name] = 0.0, TURN
            elif way > 0:
                out[arc.name] = arc.first - before, arc.first - before + long
            else:
                out[arc.name] = arc.last + before - long, arc.last + before
    return out
