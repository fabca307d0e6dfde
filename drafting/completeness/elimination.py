"""Rows set to zero one after another, and what numbers stay free; and the span of rows over those."""

from collections import defaultdict
from collections.abc import Iterable

import numpy as np

from drafting.completeness.parameters import Row, add
from drafting.completeness.surfaces import Array

RANK = 1e-4
"""Of a row scaled to 1: what counts as nothing."""
CLEAR = 100.0
"""The smallest that was taken is at least so many times the largest that was thrown away, or nothing can be
told."""

PROBES = 4
NO_CHANCE = 1e-9
"""Of what is new in a row: what rounding leaves of it. That four chances each meet a thousandth of it by less
is one in 10^23."""


def _is_clear(least: float, most: float) -> bool:
    return least > CLEAR * most or most < 1e-9


class Elimination:
    """Rows that stay zero, each as one number in terms of those still free."""

    def __init__(self) -> None:
        self.by: dict[int, Row] = {}
        self._used: dict[int, set[int]] = defaultdict(set)
        self.least, self.most = 1.0, 0.0
        """The smallest pivot taken, and the largest remainder thrown away."""

    def reduced(self, row: Row) -> Row:
        """A row over the free numbers."""
        out: Row = {}
        for v, c in row.items():
            add(out, self.by[v], c) if v in self.by else add(out, {v: c})
        return {v: c for v, c in out.items() if abs(c) > 1e-10}

    def take(self, row: Row) -> bool:
        """Whether a row says something those before it do not; it stays zero from now on."""
        top = max(map(abs, row.values()), default=0.0)
        left = self.reduced({v: c / top for v, c in row.items()}) if top > 1e-9 else {}
        pivot = max(left, key=lambda v: abs(left[v]), default=-1)
        if pivot < 0 or abs(left[pivot]) < RANK:
            self.most = max(self.most, abs(left.get(pivot, 0.0)))
            return False
        self.least = min(self.least, abs(left[pivot]))
        c = left.pop(pivot)
        mine = {v: -x / c for v, x in left.items()}
        for other in self._used.pop(pivot, ()):
            k = self.by[other].pop(pivot)
            for v in mine:
                self._used[v].add(other)
            add(self.by[other], mine, k)
        for v in mine:
            self._used[v].add(pivot)
        self.by[pivot] = mine
        return True

    @property
    def is_clear(self) -> bool:
        """Whether what was taken stands well apart from what was thrown away."""
        return _is_clear(self.least, self.most)


class System:
    """What rules leave free, and rows over it."""

    def __init__(self, rules: Iterable[Row], count: int) -> None:
        self.solved = Elimination()
        for row in rules:
            self.solved.take(row)
        self.free = [v for v in range(count) if v not in self.solved.by]
        self._order = {v: i for i, v in enumerate(self.free)}

    def over(self, row: Row) -> Array:
        """A row as an array over the free numbers."""
        out = np.zeros(len(self.free))
        for v, c in self.solved.reduced(row).items():
            out[self._order[v]] = c
        return out


class Span:
    """Rows so far, made square to each other."""

    def __init__(self, width: int) -> None:
        self._square: Array = np.zeros((width + 1, width))
        self._probes: Array = np.random.default_rng(1).normal(size=(width, PROBES))
        self.count = 0
        self.rows: list[Array] = []
        self.least, self.most = 1.0, 0.0

    def take(self, row: Array, least: float = RANK) -> bool:
        """Whether a row says something new; it is one of the span from now on."""
        size = float(np.linalg.norm(row))
        rest: Array = row / max(size, 1e-12)
        square = self._square[: self.count]
        for _ in range(2):
            rest = np.asarray(rest - square.T @ (square @ rest), np.float64)
        left = float(np.linalg.norm(rest))
        if size < RANK or left < least:
            self.most = max(self.most, left if size >= RANK else 0.0)
            return False
        self.least = min(self.least, left)
        self._square[self.count] = new = rest / left
        self._probes = self._probes - np.outer(new, new @ self._probes)
        self.count += 1
        self.rows.append(row)
        return True

    def has(self, row: Array, least: float = RANK) -> bool:
        """Whether a row says nothing new; it is not taken. Chances square to all rows so far tell most that
        do not at once: one with something new as large as `least` meets all of them by no accident."""
        size = float(np.linalg.norm(row))
        rest: Array = row / max(size, 1e-12)
        if size < RANK or float(np.abs(rest @ self._probes).max()) < NO_CHANCE:
            return True
        square = self._square[: self.count]
        for _ in range(2):
            rest = np.asarray(rest - square.T @ (square @ rest), np.float64)
        return float(np.linalg.norm(rest)) < least

    @property
    def is_clear(self) -> bool:
        """Whether what is new in the rows stands well apart from what is not."""
        return _is_clear(self.least, self.most)

    def copy(self) -> "Span":
        """Another of the same rows, to which more may be added."""
        out = Span(self._square.shape[1])
        out._square, out.count, out.rows = self._square.copy(), self.count, list(self.rows)
        out._probes = self._probes
        return out

    def parts(self, row: Array) -> Array:
        """How much of each row so far makes up another."""
        if not self.rows:
            return np.zeros(0)
        return np.asarray(np.linalg.lstsq(np.array(self.rows).T, row, rcond=None)[0], np.float64)

    def motions(self) -> Array:
        """Changes of the numbers that no row hinders, one each row, square to each other."""
        width = self._square.shape[1]
        if not self.count:
            return np.eye(width)
        out: Array = np.linalg.svd(self._square[: self.count], full_matrices=True)[2][self.count :]
        return out
