"""Dimension lines do not cross each other."""

from collections.abc import Iterator

import numpy as np
import shapely

from drafting.checking.page import Page, Sized
from drafting.checking.rule import Fault, Rule

MEETS = 0.3
"""How near its end a line may touch another and not cross it, mm."""


def _faults(page: Page) -> Iterator[Fault]:
    known = [(s, line) for s in page.sizes if (line := s.dimension_line()) is not None and line.length > 2]
    if len(known) < 2:
        return
    tree = shapely.STRtree([line for _, line in known])
    for n, (s, line) in enumerate(known):
        inner = _inner(line)
        for m in tree.query(inner, predicate="crosses"):
            other = known[m][0].size
            concentric = {s.size.kind, other.kind} == {"diameter"} and _about_one(s, known[m][0])
            if m > n and not concentric and _inner(known[m][1]).crosses(inner):
                text = f"The dimension lines of {page.called(s.size)} and {page.called(other)} cross."
                yield Fault(text, (s.size.id, other.id))


def _about_one(a: Sized, b: Sized) -> bool:
    """Whether two diameters are drawn across circles about one center, where they have to cross (common
    practice)."""
    centers = [np.mean(s.ink.definition.points, axis=0) + s.origin for s in (a, b) if s.ink.definition]
    return len(centers) == 2 and float(np.linalg.norm(centers[0] - centers[1])) < MEETS


def _inner(line: shapely.LineString) -> shapely.LineString:
    """The line without its ends."""
    share = min(MEETS / line.length, 0.4)
    ends = [line.interpolate(v, normalized=True) for v in (share, 1 - share)]
    return shapely.LineString(ends)


RULE = Rule(
    "crossing lines",
    "Dimension lines do not cross each other",
    "ISO 129-1",
    "ASME Y14.5-2009 1.7.1.3",
    "look",
    _faults,
)
