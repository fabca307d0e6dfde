"""DXF files of others (R12 to 2018) as lines, arcs and text. Done in a child process with limits: blocks are
dissolved, curves that are none of these become paths, and what cannot be drawn is told."""

import math
from collections import Counter
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

import ezdxf
import ezdxf.path
import numpy as np
from ezdxf import filemanagement, recover
from ezdxf.document import Drawing
from ezdxf.entities.dxfgfx import DXFGraphic
from ezdxf.entities.insert import Insert
from ezdxf.lldxf.const import DXFError
from ezdxf.protocols import SupportsVirtualEntities, virtual_entities

from drafting.errors import ModelError
from drafting.placed.underlay import ARC, LINE, PATH, Lines, Words
from drafting.text import one_line

LARGEST = 60_000_000
"""Bytes of a file."""
MOST = 500_000
"""Pieces that are kept."""
MOST_NUMBERS = 20_000_000
FARTHEST = 1e12
DEEPEST = 16
"""Blocks within blocks."""
UNIT_CODES = {1: "in", 2: "ft", 4: "mm", 5: "cm", 6: "m"}
SAG = 0.002
"""How far a path may be from the curve that it stands for, as a share of the curve's size."""
NOT_DRAWN = {"VIEWPORT", "ATTDEF", "IMAGE", "WIPEOUT", "OLE2FRAME", "UNDERLAY", "PDFUNDERLAY", "RAY", "XLINE"}


def read_file(source: Path, out: Path) -> dict[str, Any]:
    """A DXF file, written as `underlay.Lines` are kept; what is told of it: unit, size, layers, and what was
    left out by kind. Raises ModelError with a sentence."""
    if source.stat().st_size > LARGEST:
        raise ModelError(f"The file is larger than {LARGEST // 1_000_000} MB.")
    lines, left = read(source)
    out.write_bytes(lines.packed())
    return {
        "unit": lines.unit,
        "wide": lines.size[0],
        "high": lines.size[1],
        "layers": list(lines.names),
        "pieces": len(lines),
        "left": left,
    }


def read(source: Path) -> tuple[Lines, dict[str, int]]:
    """The lines of a file, and what was left out by kind. Raises ModelError."""
    document = _opened(source)
    _check_blocks(document)
    made = _Made()
    for entity in _drawn(document):
        made.add(entity)
    return made.lines(UNIT_CODES.get(int(document.header.get("$INSUNITS", 0) or 0), "")), dict(made.left)


def _opened(source: Path) -> Drawing:
    head = source.open("rb").read(4096)
    is_binary = b" Binary DXF\r\n\x1a\x00" in head[:32]
    if not is_binary and (b"SECTION" not in head.upper() or b"\x00" in head):
        raise ModelError("This is no DXF file.")
    try:
        return filemanagement.readfile(source) if not is_binary else recover.readfile(source)[0]
    except (DXFError, ValueError, LookupError, TypeError, AttributeError, OSError, ArithmeticError):
        pass
    try:
        document, audit = recover.readfile(source)
    except (DXFError, ValueError, LookupError, TypeError, AttributeError, OSError, ArithmeticError):
        raise ModelError("This DXF file is damaged or cut short; it cannot be read.") from None
    if not len(document.modelspace()):
        raise ModelError("This DXF file is damaged or cut short; it cannot be read.")
    return document


def _check_blocks(document: Drawing) -> None:
    """Raises ModelError where a block holds itself, or blocks are nested too deep."""
    inside = {
        block.name.lower(): {str(e.dxf.get("name", "")).lower() for e in block if e.dxftype() == "INSERT"}
        for block in document.blocks
    }
    depth: dict[str, int] = {}

    def deep(name: str, above: tuple[str, ...]) -> int:
        if name in above:
            raise ModelError(f"The block {name} of this file contains itself; it cannot be drawn.")
        if len(above) > DEEPEST:
            raise ModelError(f"Blocks of this file are nested more than {DEEPEST} deep.")
        if name not in depth:
            depth[name] = 1 + max((deep(o, (*above, name)) for o in inside.get(name, ())), default=0)
        return depth[name]

    for name in inside:
        deep(name, ())


def _drawn(document: Drawing) -> Iterator[DXFGraphic]:
    """Everything of the model space, blocks dissolved, on layers that the file shows."""
    off = {layer.dxf.name.lower() for layer in document.layers if layer.is_off() or layer.is_frozen()}
    off.add("defpoints")  # of dimensions; the format never prints it
    for entity in _dissolved(document.modelspace(), ""):
        if str(entity.dxf.get("layer", "0")).lower() not in off and not entity.dxf.get("invisible", 0):
            yield entity


def _dissolved(entities: Iterable[Any], above: str) -> Iterator[DXFGraphic]:
    """Entities with blocks and dimensions dissolved into what they are drawn with; what lies on layer 0 of a
    block lies on the layer of what inserts it (DXF reference, BLOCK)."""
    for e in entities:
        if above and str(e.dxf.get("layer", "0")) == "0":
            e.dxf.layer = above  # of a copy: what is above is virtual
        layer = str(e.dxf.get("layer", "0"))
        if isinstance(e, Insert) and e.mcount > 1:
            yield from _dissolved(e.multi_insert(), "" if layer == "0" else layer)
        elif isinstance(e, Insert):
            yield from e.attribs
            yield from _dissolved(virtual_entities(e), "" if layer == "0" else layer)
        elif isinstance(e, SupportsVirtualEntities):
            yield from _dissolved(virtual_entities(e), "" if layer == "0" else layer)
        else:
            yield e


class _Made:
    """Pieces as they are gathered."""

    def __init__(self) -> None:
        self.kinds: list[int] = []
        self.layers: list[int] = []
        self.numbers: list[list[float]] = []
        self.words: list[Words] = []
        self.names: dict[str, int] = {}
        self.left: Counter[str] = Counter()
        self.count = 0

    def add(self, entity: DXFGraphic) -> None:
        """An entity as its pieces; one that cannot be drawn is counted."""
        layer = self.names.setdefault(str(entity.dxf.get("layer", "0"))[:80], len(self.names))
        kind = entity.dxftype()
        if kind in NOT_DRAWN:
            self.left[kind] += 1
            return
        try:
            self._add(entity, kind, layer)
        except ModelError:
            raise
        except (DXFError, ValueError, LookupError, TypeError, AttributeError, ArithmeticError):
            self.left[kind] += 1

    def _add(self, e: Any, kind: str, layer: int) -> None:
        if kind in ("TEXT", "ATTRIB"):
            at = e.dxf.insert
            text, turn = e.plain_text(), math.radians(float(e.dxf.get("rotation", 0.0)))
            self._word(layer, at.x, at.y, float(e.dxf.get("height", 2.5)), turn, text)
        elif kind == "MTEXT":
            at, height = e.dxf.insert, float(e.dxf.get("char_height", 2.5))
            for n, text in enumerate(e.plain_text(split=True)):
                self._word(
                    layer, at.x, at.y - height * (1 + 1.6 * n), height, math.radians(e.get_rotation()), text
                )
        elif kind == "LINE":
            self._piece(LINE, layer, [e.dxf.start.x, e.dxf.start.y, e.dxf.end.x, e.dxf.end.y])
        elif kind in ("CIRCLE", "ARC") and abs(e.dxf.extrusion.z) > 1 - 1e-9 and e.dxf.extrusion.z > 0:
            c = e.dxf.center
            first, last = (0.0, 360.0) if kind == "CIRCLE" else (e.dxf.start_angle, e.dxf.end_angle)
            turn = 360.0 if kind == "CIRCLE" else (last - first) % 360 or 360.0
            first = math.radians(first % 360)
            self._piece(ARC, layer, [c.x, c.y, e.dxf.radius, first, first + math.radians(turn)])
        elif kind in ("LWPOLYLINE", "POLYLINE") and getattr(e, "is_2d_polyline", True):
            for part in e.virtual_entities():
                self._add(part, part.dxftype(), layer)
        elif kind == "POINT":
            at = e.dxf.location
            self._piece(LINE, layer, [at.x, at.y, at.x, at.y])
        elif kind == "HATCH":
            for path in ezdxf.path.from_hatch(e):
                self._path(layer, path)
        else:
            self._path(layer, ezdxf.path.make_path(e))

    def _word(self, layer: int, x: float, y: float, height: float, turn: float, text: str) -> None:
        text = one_line(text)[:400]
        if text and height > 0:
            self.words.append(Words(layer, x, y, height, turn, text))

    def _path(self, layer: int, path: ezdxf.path.Path) -> None:
        if not len(path):
            return
        points = np.array([(p.x, p.y) for p in path.control_vertices()])
        size = float(np.linalg.norm(np.ptp(points, axis=0)))
        if size <= 0 or not math.isfinite(size):
            return
        flat = [v for p in path.flattening(size * SAG, segments=8) for v in (p.x, p.y)]
        self._piece(PATH, layer, flat)

    def _piece(self, kind: int, layer: int, numbers: list[float]) -> None:
        if not all(math.isfinite(v) for v in numbers) or (kind == ARC and numbers[2] <= 0):
            return
        if max(abs(v) for v in numbers) > FARTHEST:
            raise ModelError("Places of this file lie too far out to be drawn.")
        self.count += len(numbers)
        if len(self.kinds) >= MOST or self.count > MOST_NUMBERS:
            raise ModelError(
                f"This file holds more than {MOST:,} lines; take a part of it.".replace(",", " ")
            )
        self.kinds.append(kind)
        self.layers.append(layer)
        self.numbers.append([float(v) for v in numbers])

    def lines(self, unit: str) -> Lines:
        """What was gathered. Raises ModelError where that is nothing."""
        if not self.kinds:
            raise ModelError("This file has no lines in its model space.")
        starts = np.concatenate([[0], np.cumsum([len(v) for v in self.numbers])]).astype(np.int64)
        kinds = np.array(self.kinds, np.uint8)
        data = np.concatenate([np.array(v) for v in self.numbers])
        raw = Lines(
            kinds, np.array(self.layers, np.uint16), starts, data, tuple(self.names), (), unit, (0, 0), (0, 0)
        )
        low, high = raw.boxes[:, :2].min(0), raw.boxes[:, 2:].max(0)
        x, y = float(low[0]), float(low[1])
        shift = np.zeros(len(data))
        for kind, start, end in zip(kinds.tolist(), starts[:-1].tolist(), starts[1:].tolist(), strict=True):
            if kind == ARC:
                shift[start : start + 2] = x, y
            else:
                shift[start:end:2], shift[start + 1 : end : 2] = x, y
        words = tuple(Words(w.layer, w.x - x, w.y - y, w.height, w.angle, w.text) for w in self.words)
        size = float(high[0] - low[0]), float(high[1] - low[1])
        return Lines(kinds, raw.layers, starts, data - shift, raw.names, words, unit, (x, y), size)
