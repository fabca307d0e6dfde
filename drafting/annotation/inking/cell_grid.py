"""Grids of lettered cells: parts lists, hole tables and whatever else stands in rows and columns on a
sheet."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from drafting.ink.elements import Element, Line, Polyline, Text
from drafting.ink.lettering import fitted_height, shortened, text_width

SMALLEST = 1.8
"""Lettering is not made smaller than this to fit its cell, mm; it is cut with an ellipsis instead."""
LEADING = 1.6
"""From base line to base line within a cell, heights of lettering."""
MARGIN = 0.5
"""Between a line of the grid and the lettering beside it, heights of lettering."""


@dataclass(frozen=True)
class Cell:
    """Lines of words in a cell; height: of the lettering, mm, made smaller where it is too wide."""

    lines: tuple[str, ...]
    height: float
    align: Literal["left", "middle", "right"] = "left"


@dataclass(frozen=True)
class Row:
    """A row of cells; ruled: a heavy line follows it; struck: a line runs through it."""

    cells: tuple[Cell, ...]
    ruled: bool = False
    struck: bool = False


@dataclass(frozen=True)
class Style:
    """height: of the lettering that rows and margins go by, mm; line, heavy: kinds of line within the grid
    and about it."""

    height: float
    line: str = "frame_thin"
    heavy: str = "frame"


def wrapped(text: str, width: float, height: float) -> tuple[str, ...]:
    """Lines of words that fit a column of a width, mm; broken between words, leading spaces kept on each."""
    room = width - 2 * MARGIN * height
    indent = text[: len(text) - len(text.lstrip())]
    lines: list[str] = []
    for word in text.split():
        if lines and text_width(f"{lines[-1]} {word}", height) <= room:
            lines[-1] = f"{lines[-1]} {word}"
        else:
            lines.append(indent + word)
    return tuple(lines) or ("",)


def row_height(row: Row, height: float) -> float:
    """How tall a row is, mm."""
    return 2 * height + (max(len(c.lines) for c in row.cells) - 1) * LEADING * height


def grid(
    corner: tuple[float, float], widths: Sequence[float], rows: Sequence[Row], style: Style, up: bool = False
) -> tuple[list[Element], float]:
    """Ink of rows that follow each other down (or up) from a corner, left end and height in mm; and the
    height at which the last one ends."""
    edges = [corner[0]]
    for w in widths:
        edges.append(edges[-1] + w)
    out: list[Element] = []
    y = corner[1]
    for row in rows:
        tall = row_height(row, style.height)
        low, high = (y, y + tall) if up else (y - tall, y)
        for n, cell in enumerate(row.cells):
            out += _lettered(cell, (edges[n], edges[n + 1]), (low + high) / 2, style)
        if row.struck:
            middle = (low + high) / 2
            out.append(Line((edges[0] + 1, middle), (edges[-1] - 1, middle), style.line))
        y = high if up else low
        out.append(Line((edges[0], y), (edges[-1], y), style.heavy if row.ruled else style.line))
    out += [Line((x, corner[1]), (x, y), style.line) for x in edges[1:-1]]
    left, right = edges[0], edges[-1]
    out.append(Polyline(((left, corner[1]), (right, corner[1]), (right, y), (left, y)), style.heavy, True))
    return out, y


def _lettered(cell: Cell, sides: tuple[float, float], middle: float, style: Style) -> list[Element]:
    h, (left, right) = style.height, sides
    margin = MARGIN * h
    x = {"left": left + margin, "middle": (left + right) / 2, "right": right - margin}[cell.align]
    first = middle + (len(cell.lines) - 1) * LEADING / 2 * h - h / 2
    out: list[Element] = []
    for k, text in enumerate(cell.lines):
        if text:
            size = fitted_height(text, cell.height, right - left - 2 * margin, SMALLEST)
            words = shortened(text, size, right - left - 0.6 * h)
            out.append(Text((x, first - k * LEADING * h), words, size, style.line, cell.align))
    return out
