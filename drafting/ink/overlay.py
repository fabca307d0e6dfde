"""Two states of a sheet one over the other: what both have, what is gone and what is new, by geometry."""

from collections import defaultdict
from collections.abc import Hashable, Iterable, Iterator
from dataclasses import dataclass

import shapely

from drafting.ink.elements import Element, Fill, Image, Polyline, SheetInk, Text, placed
from drafting.ink.shapes import shape

NEAR = 0.03
"""Strokes that are no further apart are one, mm of paper."""
SHORTEST = 0.1
"""What is left of a stroke and is shorter says nothing, mm of paper."""


@dataclass(frozen=True)
class Overlay:
    """Elements in mm of the sheet."""

    same: list[Element]
    gone: list[Element]
    new: list[Element]


def overlaid(before: SheetInk, after: SheetInk) -> Overlay:
    """One state of a sheet over another."""
    mine, theirs = _elements(before), _elements(after)
    known, there = {_key(e) for e in mine}, {_key(e) for e in theirs}
    same = [e for e in theirs if _key(e) in known]
    gone = [e for e in mine if _key(e) not in there]
    new = [e for e in theirs if _key(e) not in known]
    left, more = _apart(gone, theirs), _apart(new, mine)
    return Overlay([*same, *_common(new, mine)], left, more)


def _elements(ink: SheetInk) -> list[Element]:
    return [placed(e, g.origin) for g in ink.groups for e in g.elements]


def _key(e: Element) -> Hashable:
    """What tells an element from others, apart from the last digits of its place."""
    if isinstance(e, Text):
        return "text", e.text, _round(e.at), round(e.height, 2), round(e.angle, 3)
    if isinstance(e, Image):
        return "image", e.key or hash(e.png), _round(e.at), round(e.width, 2), round(e.height, 2)
    if isinstance(e, Fill):
        return "fill", tuple(_round(p) for p in e.points)
    found = shape(e)
    places = shapely.get_coordinates(found).round(3) + 0.0 if found is not None else ()
    return "stroke", e.line, tuple(map(tuple, places))


def _round(p: tuple[float, float]) -> tuple[float, float]:
    return round(p[0], 2) + 0.0, round(p[1], 2) + 0.0


def _apart(elements: Iterable[Element], others: Iterable[Element]) -> list[Element]:
    """Elements without those pieces of their strokes that lie on strokes of others of the same kind."""
    return list(_pieces(elements, others, common=False))


def _common(elements: Iterable[Element], others: Iterable[Element]) -> list[Element]:
    return list(_pieces(elements, others, common=True))


def _pieces(elements: Iterable[Element], others: Iterable[Element], common: bool) -> Iterator[Element]:
    lines = defaultdict(list)
    for e in others:
        if not isinstance(e, Text | Image | Fill) and (found := shape(e)) is not None:
            lines[e.line].append(found)
    trees = {line: shapely.STRtree(found) for line, found in lines.items()}
    for e in elements:
        if isinstance(e, Text | Image | Fill):
            if not common:
                yield e
            continue
        whole: shapely.Geometry = shape(e)
        tree = trees.get(e.line)
        near = tree.query(whole.buffer(NEAR)) if tree is not None else ()
        if not len(near):
            if not common:
                yield e
            continue
        over = shapely.union_all([tree.geometries[n] for n in near]).buffer(NEAR)  # type: ignore[union-attr]
        left = whole.intersection(over) if common else whole.difference(over)
        for piece in shapely.get_parts(shapely.line_merge(left) if left.geom_type != "LineString" else left):
            if piece.geom_type == "LineString" and piece.length >= SHORTEST:
                yield Polyline(tuple((float(x), float(y)) for x, y in piece.coords), e.line)
