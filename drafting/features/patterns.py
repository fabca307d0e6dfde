"""Patterns of equal holes: bolt circles whole or in part, rows, grids, and pairs that mirror each other."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from drafting.features.body import Array

EVEN = 1e-4
"""How far steps around a circle may differ that are equal, radians."""


@dataclass(frozen=True)
class Pattern:
    """Holes that stand in a pattern, by their numbers. diameter: of the circle they lie on, mm; center: of
    that circle, in the plane they were looked at in; is_whole: whether they go all around it in equal steps;
    step: the angle between neighbors, radians; counts and pitches: of rows and grids, mm; of pairs, how many
    there are and how far apart each is."""

    kind: Literal["circle", "row", "grid", "mirrored"]
    members: tuple[int, ...]
    diameter: float = 0.0
    center: tuple[float, float] = (0.0, 0.0)
    is_whole: bool = False
    step: float = 0.0
    counts: tuple[int, ...] = ()
    pitches: tuple[float, ...] = ()


def patterns(places: Array, middles: Sequence[Array], near: float) -> list[Pattern]:
    """Patterns of places (n, 2) of equal holes. middles: of other round things, about which holes stand
    rather than about nothing; near: how far off places may be, mm. A place is in one pattern at most."""
    left = list(range(len(places)))
    out: list[Pattern] = []
    for middle in middles:
        for ring in _rings(places, left, middle, near):
            found = _circle(places, ring, middle)
            if found is not None:
                out.append(found)
                left = [n for n in left if n not in found.members]
    grid = _grid(places, left, near)
    if grid is not None:
        return [*out, grid]
    if len(left) >= 3:
        center = _about(places[left], near)
        if center is not None:
            found = _circle(places, left, center)
            if found is not None and (len(left) >= 5 or (len(left) == 3 and found.is_whole)):
                return [*out, found]
    pairs = _mirrored(places, left, near)
    return [*out, pairs] if pairs is not None else out


def _rings(places: Array, left: Sequence[int], middle: Array, near: float) -> list[list[int]]:
    """Places equally far from a middle, three or more together."""
    away = [(float(np.linalg.norm(places[n] - middle)), n) for n in left]
    out: list[list[int]] = []
    last = -math.inf
    for distance, n in sorted(away):
        if distance < 10 * near:
            continue
        if distance - last > near or not out:
            out.append([])
        out[-1].append(n)
        last = distance
    return [ring for ring in out if len(ring) >= 3]


def _circle(places: Array, ring: Sequence[int], middle: Array) -> Pattern | None:
    """A ring in equal steps, all around or with one wider gap that is a multiple of the step."""
    away = places[list(ring)] - middle
    turns = np.arctan2(away[:, 1], away[:, 0])
    order = np.argsort(turns)
    t = turns[order]
    gaps = np.diff(np.concatenate([t, [t[0] + 2 * math.pi]]))
    step = float(gaps.min())
    widest = int(gaps.argmax())
    others = np.delete(gaps, widest)
    if np.ptp(others) > EVEN or len(ring) == 3 and gaps[widest] - step > EVEN:
        return None
    whole = bool(gaps[widest] - step <= EVEN)
    first = 0 if whole else (widest + 1) % len(t)
    members = tuple(int(ring[k]) for k in [*order[first:], *order[:first]])
    radius = float(np.linalg.norm(away, axis=1).mean())
    return Pattern(
        "circle", members, 2 * radius, (float(middle[0]), float(middle[1])), whole, float(others.mean())
    )


def _about(places: Array, near: float) -> Array | None:
    """The middle of the circle through places; None where there is none."""
    mean = places.mean(0)
    local = places - mean
    matrix = np.column_stack([2 * local, np.ones(len(local))])
    solution, _, rank, _ = np.linalg.lstsq(matrix, (local**2).sum(1), rcond=1e-9)
    if rank < 3:
        return None
    center = solution[:2]
    distance = np.linalg.norm(local - center, axis=1)
    out: Array = mean + center
    return out if float(np.ptp(distance)) <= near else None


def _grid(places: Array, left: Sequence[int], near: float) -> Pattern | None:
    """A row of three or more, or a grid of two by two or more, in equal pitches."""
    if len(left) < 3:
        return None
    points = places[list(left)]
    _, spread, rows = np.linalg.svd(points - points.mean(0), full_matrices=False)
    if spread[1] < near * math.sqrt(len(left)):
        along = (points - points.mean(0)) @ rows[0]
        order = np.argsort(along)
        gaps = np.diff(along[order])
        if np.ptp(gaps) > 2 * near:
            return None
        members = tuple(int(left[k]) for k in order)
        return Pattern("row", members, counts=(len(left),), pitches=(float(gaps.mean()),))
    if len(left) < 4:
        return None
    apart, nearest = cKDTree(points).query(points, 2)
    i = int(apart[:, 1].argmin())
    u = (points[int(nearest[i, 1])] - points[i]) / apart[i, 1]
    v = np.array([-u[1], u[0]])
    columns, lines = (_levels(points @ d, near) for d in (u, v))
    if len(columns) * len(lines) != len(left) or min(len(columns), len(lines)) < 2:
        return None
    steps = [np.diff(levels) for levels in (columns, lines)]
    if any(np.ptp(s) > 2 * near for s in steps):
        return None
    members = tuple(int(left[k]) for k in np.lexsort((np.round(points @ u, 3), np.round(points @ v, 3))))
    return Pattern(
        "grid",
        members,
        counts=(len(columns), len(lines)),
        pitches=(float(steps[0].mean()), float(steps[1].mean())),
    )


def _levels(values: Array, near: float) -> Array:
    """Distinct values in order."""
    ordered = np.sort(values)
    out: Array = ordered[np.concatenate([[True], np.diff(ordered) > near])]
    return out


def _mirrored(places: Array, left: Sequence[int], near: float) -> Pattern | None:
    """Two pairs or more on both sides of one line."""
    if len(left) < 4 or len(left) % 2:
        return None
    points = places[list(left)]
    tree, mean = cKDTree(points), points.mean(0)
    for other in range(1, len(points)):
        across = points[other] - points[0]
        apart = float(np.linalg.norm(across))
        if apart < 10 * near:
            continue
        across = across / apart
        if abs(float((mean - (points[0] + points[other]) / 2) @ across)) > near:
            continue  # the middle of all lies on a line that they mirror each other about
        off = (points - (points[0] + points[other]) / 2) @ across
        distance, partner = tree.query(points - 2 * off[:, None] * across)
        if float(distance.max()) > near or float(np.abs(off).min()) < near:
            continue
        firsts = [n for n in np.argsort(off).tolist() if off[n] > 0]
        members = tuple(int(left[n]) for first in firsts for n in (first, int(partner[first])))
        pitches = tuple(2 * float(off[n]) for n in firsts)
        return Pattern("mirrored", members, counts=(len(firsts),), pitches=pitches)
    return None
