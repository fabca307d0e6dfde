"""No lettering stands on other lettering."""

from collections.abc import Iterator

import shapely

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule

LEAST = 0.3
"""mm2 by which two boxes may overlap: room about letters is in them."""


def _faults(page: Page) -> Iterator[Fault]:
    letters = page.letters
    if len(letters) < 2:
        return
    tree = shapely.STRtree([t.box for t in letters])
    told = set()
    for n, t in enumerate(letters):
        for m in tree.query(t.box, predicate="intersects"):
            other = letters[m]
            pair = tuple(sorted((t.owner, other.owner)))
            if m <= n or t.owner == other.owner or pair in told:
                continue
            if t.box.intersection(other.box).area < LEAST:
                continue
            told.add(pair)
            ids = tuple(key.partition("/")[0] for key in (t.owner, other.owner))
            yield Fault(_text(t.name, other.name), ids, (Remedy("Tidy the view", action="tidy"),))


def _text(a: str, b: str) -> str:
    return f"{a[0].upper()}{a[1:]} and {b} stand on each other."


RULE = Rule(
    "lettering",
    "Lettering stands on no other lettering",
    "ISO 129-1",
    "ASME Y14.5-2009 1.7.5",
    "grave",
    _faults,
)
