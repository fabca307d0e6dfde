"""Coincident curves drawn once: where pieces lie on each other the one of higher precedence stays.

Order of precedence after ASME Y14.2 and ISO 128-2: visible before hidden; among equals a sharp edge before a
silhouette, before a smooth edge; then the one nearer the viewer.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drafting.views.project import Drawn

TURN = 2 * math.pi


@dataclass(slots=True)
class Candidate:
    """A projected piece with its rank (lower is kept) and its depth toward the viewer."""

    drawn: Drawn
    rank: int
    depth: float
    piece: int


def distinct(candidates: Sequence[Candidate], tolerance: float) -> list[Candidate]:
    """Candidates with everything removed that lies under one of higher precedence. tolerance in mm."""
    groups: dict[tuple[object, ...], list[tuple[Candidate, float, float]]] = {}
    out: list[Candidate] = []
    lines = [c for c in candidates if c.drawn[0] == "line"]
    for key, member in _line_groups(lines, tolerance):
        groups.setdefault(("line", key), []).append(member)
    rounds = [c for c in candidates if c.drawn[0] in ("arc", "ellipse")]
    for round_key, member in _round_groups(rounds, tolerance):
        groups.setdefault(("round", round_key), []).append(member)
    for (kind, *_), members in groups.items():
        out += _uncovered(members, tolerance, kind == "round")
    out += _distinct_free([c for c in candidates if c.drawn[0] == "polyline"], tolerance)
    return sorted(out, key=lambda c: c.piece)


def _clusters(values: np.ndarray, tolerance: float) -> np.ndarray:
    """Cluster number of each value; values closer than tolerance share one."""
    if not len(values):
        return np.zeros(0, int)
    order = np.argsort(values, kind="stable")
    step = np.diff(values[order]) > tolerance
    numbers = np.empty(len(values), int)
    numbers[order] = np.concatenate([[0], np.cumsum(step)])
    return numbers


def _line_groups(
    lines: Sequence[Candidate], tolerance: float
) -> list[tuple[tuple[int, int], tuple[Candidate, float, float]]]:
    if not lines:
        return []
    data = np.array([c.drawn[1] for c in lines])
    d = data[:, 2:] - data[:, :2]
    size = max(float(np.abs(data).max()), 1.0)
    angle = np.arctan2(d[:, 1], d[:, 0]) % math.pi
    angle[angle > math.pi - 1e-6] -= math.pi
    turn = _clusters(angle, 1e-6)
    groups: list[tuple[tuple[int, int], tuple[Candidate, float, float]]] = []
    for t in np.unique(turn):
        m = np.flatnonzero(turn == t)
        a = float(angle[m].mean())
        u, n = np.array([math.cos(a), math.sin(a)]), np.array([-math.sin(a), math.cos(a)])
        offsets = ((data[m, :2] + data[m, 2:]) / 2) @ n
        row = _clusters(offsets, max(tolerance, 1e-9 * size))
        along = np.sort(np.stack([data[m, :2] @ u, data[m, 2:] @ u], 1)).tolist()
        for i, r, (s0, s1) in zip(m.tolist(), row.tolist(), along, strict=True):
            groups.append(((int(t), r), (lines[i], s0, s1)))
    return groups


def _round_groups(
    rounds: Sequence[Candidate], tolerance: float
) -> list[tuple[tuple[int, ...], tuple[Candidate, float, float]]]:
    if not rounds:
        return []
    rows = []
    for c in rounds:
        d = c.drawn[1]
        if c.drawn[0] == "arc":
            rows.append([d[0], d[1], d[2], d[2], 0.0])
        else:
            major = math.hypot(d[2], d[3])
            rows.append([d[0], d[1], major, major * d[4], (math.atan2(d[3], d[2]) % math.pi) * major])
    table = np.array(rows)
    keys = list(zip(*(_clusters(table[:, k], tolerance).tolist() for k in range(5)), strict=True))
    groups = []
    for i, c in enumerate(rounds):
        d = c.drawn[1]
        t0, t1 = (d[3], d[4]) if c.drawn[0] == "arc" else (d[5], d[6])
        if (
            c.drawn[0] == "ellipse" and math.atan2(d[3], d[2]) % TURN >= math.pi
        ):  # count from the same half axis
            t0, t1 = t0 + math.pi, t1 + math.pi
        groups.append((keys[i], (c, t0, t1)))
    return groups


def _uncovered(
    members: list[tuple[Candidate, float, float]], tolerance: float, periodic: bool
) -> list[Candidate]:
    """Subtract intervals of higher precedence, highest first."""
    if len(members) == 1:
        return [members[0][0]]
    covered: list[tuple[float, float]] = []
    out: list[Candidate] = []
    for c, a, b in sorted(members, key=lambda m: (m[0].rank, -m[0].depth, m[0].piece)):
        radius = _radius(c) if periodic else 1.0
        free = _subtract([(a, b)], covered, tolerance / radius)
        for lo, hi in free:
            whole = lo - a < 1e-12 and b - hi < 1e-12
            out.append(c if whole else Candidate(_cut(c.drawn, a, b, lo, hi), c.rank, c.depth, c.piece))
        if free:  # what is covered wholly covers nothing more
            covered += [(a + k * TURN, b + k * TURN) for k in (-2, -1, 0, 1, 2)] if periodic else [(a, b)]
    return out


def _radius(c: Candidate) -> float:
    d = c.drawn[1]
    return d[2] if c.drawn[0] == "arc" else math.hypot(d[2], d[3])


def _subtract(
    intervals: list[tuple[float, float]], covered: list[tuple[float, float]], tolerance: float
) -> list[tuple[float, float]]:
    for c0, c1 in covered:
        left: list[tuple[float, float]] = []
        for a, b in intervals:
            if c1 <= a or c0 >= b:
                left.append((a, b))
                continue
            if c0 - a > tolerance:
                left.append((a, c0))
            if b - c1 > tolerance:
                left.append((c1, b))
        intervals = left
    return intervals


def _cut(drawn: Drawn, a: float, b: float, lo: float, hi: float) -> Drawn:
    kind, d = drawn
    if kind == "line":
        p, q = np.array(d[:2]), np.array(d[2:])
        f0, f1 = (lo - a) / (b - a), (hi - a) / (b - a)
        # the interval runs along the group's direction, which may be against the line's own
        u = q - p
        if (math.atan2(u[1], u[0]) % TURN) >= math.pi - 1e-6 and (
            math.atan2(u[1], u[0]) % TURN
        ) < TURN - 1e-6:
            p, q = q, p
        return kind, [float(v) for v in (*(p + (q - p) * f0), *(p + (q - p) * f1))]
    if kind == "arc":
        return kind, [*d[:3], d[3] + lo - a, d[3] + hi - a]
    return kind, [*d[:5], d[5] + lo - a, d[5] + hi - a]


def _distinct_free(curves: Sequence[Candidate], tolerance: float) -> list[Candidate]:
    """Free curves count as equal where their ends and middle are."""
    seen: set[tuple[float, ...]] = set()
    out = []
    for c in sorted(curves, key=lambda c: (c.rank, -c.depth, c.piece)):
        d = c.drawn[1]
        middle = len(d) // 4 * 2
        ends = sorted([(d[0], d[1]), (d[-2], d[-1])])
        key = tuple(round(v / (20 * tolerance)) for v in (*ends[0], *ends[1], d[middle], d[middle + 1]))
        if key not in seen:
            seen.add(key)
            out.append(c)
    return out
