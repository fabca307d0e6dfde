"""Sizes stand outside the outline where there is room."""

from collections.abc import Iterator

import numpy as np
import shapely

from drafting.checking.page import Page, Sized
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.ink.shapes import text_boxes

FARTHEST = 30.0
"""How far outside the outline room is looked for, mm."""


def _faults(page: Page) -> Iterator[Fault]:
    taken = shapely.STRtree([t.box for t in page.letters])
    for s in page.sizes:
        view = page.sheet.view(s.size.view)
        box = page.box_of(view) if view is not None and not view.is_pictorial else None
        line = s.dimension_line()
        if s.size.kind != "linear" or box is None or line is None or view is None:
            continue
        outline = shapely.box(*box)
        letters = text_boxes(s.ink.lettering, s.origin, 0.0)
        if not letters or not all(outline.contains(t) for t in letters) or not outline.contains(line):
            continue
        if _crossed(page, line, view.id) and (side := _room(page, s, line, box, taken)):
            text = f"{page.starting(s.size)} stands within the outline; there is room {side}."
            yield Fault(text, (s.size.id, view.id), (Remedy("Tidy the view", action="tidy"),))


def _crossed(page: Page, line: shapely.LineString, view: str) -> bool:
    """Whether lines of the view run across the dimension line: within a plain face it is easily read."""
    ends = [line.interpolate(v) for v in (0.5, line.length - 0.5)]
    inner = shapely.LineString(ends) if line.length > 1.5 else line
    return any(key == view and other.crosses(inner) for key, other in page.outlines)


def _room(
    page: Page,
    s: Sized,
    line: shapely.LineString,
    box: tuple[float, float, float, float],
    taken: shapely.STRtree,
) -> str:
    """Beside the view, where it is free: in words; empty where nothing is."""
    (ax, ay), (bx, by) = line.coords
    first, step, tall = page.drawing.profile.first_row, page.drawing.profile.next_row, 5.0
    level, upright = abs(ay - by) < 1e-6, abs(ax - bx) < 1e-6
    if not level and not upright:
        return ""
    sides = (
        (("below", box[1], -1.0), ("above", box[3], 1.0))
        if level
        else (("left of it", box[0], -1.0), ("right of it", box[2], 1.0))
    )
    inside = shapely.box(*box)
    for name, edge, way in sides:
        near = min(abs((ay if level else ax) - e) for _, e, _ in sides)
        if abs((ay if level else ax) - edge) > near + 1e-6:
            continue  # the other side is nearer
        for out in np.arange(first, FARTHEST, step):
            at = edge + way * out
            low, high = sorted((at, at + way * tall)) if level else sorted((at - tall / 2, at + tall / 2))
            strip = (
                shapely.box(min(ax, bx), low, max(ax, bx), high)
                if level
                else shapely.box(low, min(ay, by), high, max(ay, by))
            )
            ends = [[(x, y), (x, at) if level else (at, y)] for x, y in line.coords]
            path = shapely.MultiLineString(ends)  # its extension lines
            busy = [o for key, o in page.outlines if key != s.size.view and o.intersects(strip)]
            crossed = [
                t
                for n in taken.query(path, predicate="intersects")
                if (t := page.letters[n]).owner != s.size.id and not inside.contains(t.box)
            ]
            if not busy and not crossed and not len(taken.query(strip, predicate="intersects")):
                return name
    return ""


RULE = Rule(
    "within the outline",
    "Sizes stand outside the outline",
    "ISO 129-1",
    "ASME Y14.5-2009 1.7.1.1",
    "look",
    _faults,
)
