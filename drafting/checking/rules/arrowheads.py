"""No extension line runs through an arrowhead of another size."""

from collections.abc import Iterator

import numpy as np
import shapely

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, change
from drafting.ink.elements import Fill, Line


def _faults(page: Page) -> Iterator[Fault]:
    heads, owners = [], []
    for s in page.sizes:
        for e in s.ink.arrows:
            if isinstance(e, Fill):
                head = shapely.Polygon(np.array(e.points) + np.array(s.origin))
                heads.append(head.buffer(-0.15))  # what only touches its side or its tip runs past it
                owners.append(s.size)
    if not heads:
        return
    tree = shapely.STRtree(heads)
    for s in page.sizes:
        hit: set[str] = set()
        for e in s.ink.extensions:
            if not isinstance(e, Line):
                continue
            line = shapely.LineString(np.array([e.a, e.b]) + np.array(s.origin))
            hit |= {owners[n].id for n in tree.query(line, predicate="intersects")} - {s.size.id}
        for other in (o for o in dict.fromkeys(hit) if not _same_run(page, s.size.id, o)):
            them = next(o for o in owners if o.id == other)
            text = f"An extension line of {page.called(s.size)} runs through an arrowhead of "
            text += f"{page.called(them)}."
            remedies = () if s.size.breaks else (change([s.size.id], "Break it", breaks=True),)
            yield Fault(text, (s.size.id, other), remedies)


def _same_run(page: Page, a: str, b: str) -> bool:
    runs = {s.size.id: s.size.run for s in page.sizes}
    return bool(runs[a]) and runs[a] == runs[b]


RULE = Rule(
    "arrowheads",
    "Extension lines give way to arrowheads",
    "ISO 129-1",
    "ASME Y14.5-2009 1.7.2.2",
    "look",
    _faults,
)
