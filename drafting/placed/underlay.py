"""A drawing of old as plain lines and arcs: what is kept of a DXF file, and how it lies on a sheet."""

import io
import json
import math
import threading
import zipfile
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from cachetools import LRUCache
from numpy.typing import NDArray

from drafting.errors import SizeError
from drafting.placed.content import content

Array = NDArray[np.float64]
LINE, ARC, PATH = 0, 1, 2
UNITS = {"mm": 1.0, "cm": 10.0, "m": 1000.0, "in": 25.4, "ft": 304.8}
"""Millimeters in a unit of a file."""


@dataclass(frozen=True)
class Words:
    """A line of text of a file: its lower left corner, height and angle (radians)."""

    layer: int
    x: float
    y: float
    height: float
    angle: float
    text: str


@dataclass(frozen=True, eq=False)
class Lines:
    """What is kept of a file, in its own units about its lower left corner. kinds: of each piece; layers: by
    its number among names; starts: where its numbers begin in data (and, at the end, where the last one's
    end): line x0 y0 x1 y1; arc x y r first last, counterclockwise, radians; path x0 y0 x1 y1 …. unit: of the
    file, empty where it says none; corner: where its lower left corner lies in the file."""

    kinds: NDArray[np.uint8]
    layers: NDArray[np.uint16]
    starts: NDArray[np.int64]
    data: Array
    names: tuple[str, ...]
    words: tuple[Words, ...]
    unit: str
    corner: tuple[float, float]
    size: tuple[float, float]

    def __len__(self) -> int:
        return len(self.kinds)

    def piece(self, n: int) -> tuple[int, list[float]]:
        """A piece's kind and numbers. Raises IndexError."""
        if not 0 <= n < len(self.kinds):
            raise IndexError(n)
        return int(self.kinds[n]), self.data[self.starts[n] : self.starts[n + 1]].tolist()

    @cached_property
    def boxes(self) -> Array:
        """Left, bottom, right and top of each piece."""
        out = np.zeros((len(self), 4))
        at = self.starts[:-1]
        k = np.flatnonzero(self.kinds == LINE)
        ends = self.data[at[k][:, None] + np.arange(4)].reshape(-1, 2, 2)
        out[k, :2], out[k, 2:] = ends.min(1), ends.max(1)
        k = np.flatnonzero(self.kinds == ARC)
        x, y, r = self.data[at[k][:, None] + np.arange(3)].T
        out[k] = np.column_stack([x - r, y - r, x + r, y + r])
        for n in np.flatnonzero(self.kinds == PATH).tolist():
            p = self.data[self.starts[n] : self.starts[n + 1]].reshape(-1, 2)
            out[n, :2], out[n, 2:] = p.min(0), p.max(0)
        return out

    def shown(self, off: Sequence[str]) -> NDArray[np.bool_]:
        """Which pieces are on layers that are shown."""
        hidden = [n for n, name in enumerate(self.names) if name in set(off)]
        return ~np.isin(self.layers, hidden)

    def within(self, low: Array, high: Array, off: Sequence[str]) -> NDArray[np.int64]:
        """Numbers of the shown pieces whose box meets another, smallest last."""
        b = self.boxes
        meets = (b[:, 0] <= high[0]) & (b[:, 2] >= low[0]) & (b[:, 1] <= high[1]) & (b[:, 3] >= low[1])
        found: NDArray[np.int64] = np.flatnonzero(meets & self.shown(off))
        return found

    def packed(self) -> bytes:
        """As bytes that `unpacked` reads, the same for the same lines."""
        head = {
            "names": self.names,
            "words": [[w.layer, w.x, w.y, w.height, w.angle, w.text] for w in self.words],
            "unit": self.unit,
            "corner": self.corner,
            "size": self.size,
        }
        arrays = {
            "kinds": self.kinds,
            "layers": self.layers,
            "starts": self.starts,
            "data": self.data,
            "head": np.frombuffer(json.dumps(head).encode(), np.uint8),
        }
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as z:  # as numpy writes it, but without the time
            for name, array in arrays.items():
                entry = zipfile.ZipInfo(f"{name}.npy")
                entry.compress_type = zipfile.ZIP_DEFLATED
                with z.open(entry, "w", force_zip64=True) as f:
                    np.lib.format.write_array(f, np.asanyarray(array), allow_pickle=False)
        return out.getvalue()


def unpacked(data: bytes) -> Lines:
    """Lines of the bytes that `packed` wrote; nothing in them is run."""
    with np.load(io.BytesIO(data), allow_pickle=False) as z:
        head = json.loads(z["head"].tobytes())
        return Lines(
            z["kinds"],
            z["layers"],
            z["starts"],
            z["data"],
            tuple(head["names"]),
            tuple(Words(*w) for w in head["words"]),
            head["unit"],
            tuple(head["corner"]),
            tuple(head["size"]),
        )


_lines: LRUCache[str, Lines] = LRUCache(6)
_lock = threading.Lock()


def lines_of(key: str) -> Lines:
    """The lines of a placed file. Raises SizeError where it is not there, or is no underlay."""
    with _lock:
        if key in _lines:
            return _lines[key]
    try:
        found = unpacked(content(key))
    except (ValueError, KeyError, OSError, EOFError):
        raise SizeError("This file is no underlay.") from None
    with _lock:
        _lines[key] = found
    return found


@dataclass(frozen=True)
class Lie:
    """How an underlay lies in its plane, mm: where its lower left corner is, mm for a unit of its own, and
    its turn, radians."""

    x: float
    y: float
    unit: float
    turn: float

    def placed(self, kind: int, v: Sequence[float]) -> list[float]:
        """Numbers of a piece in the plane."""
        c, s = math.cos(self.turn) * self.unit, math.sin(self.turn) * self.unit

        def at(x: float, y: float) -> tuple[float, float]:
            return self.x + x * c - y * s, self.y + x * s + y * c

        if kind == ARC:
            return [*at(v[0], v[1]), v[2] * self.unit, v[3] + self.turn, v[4] + self.turn]
        return [w for x, y in zip(v[::2], v[1::2], strict=True) for w in at(x, y)]

    def back(self, x: float, y: float) -> tuple[float, float]:
        """A place of the plane in the underlay's own units."""
        dx, dy = (x - self.x) / self.unit, (y - self.y) / self.unit
        c, s = math.cos(self.turn), math.sin(self.turn)
        return dx * c + dy * s, dy * c - dx * s


def pieces(lines: Lines, numbers: Sequence[int], lie: Lie) -> Iterator[tuple[int, int, list[float]]]:
    """Pieces by number, with their kind and their numbers in the plane."""
    for n in numbers:
        kind, v = lines.piece(int(n))
        yield int(n), kind, lie.placed(kind, v)
