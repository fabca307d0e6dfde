"""No line of a view and no line of another size runs through a number."""

from collections.abc import Iterator

import shapely

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.document import View
from drafting.ink.elements import Element, Line, Polyline, Text
from drafting.ink.shapes import shapes

Named = tuple[str, str, shapely.Geometry]
"""A line with whose it is and what it is called."""
LEADERS = (
    "hole_callout",
    "feature_callout",
    "note",
    "texture",
    "weld",
    "control_frame",
    "datum_feature",
    "balloon",
)
"""Kinds of annotation besides sizes whose lines keep off numbers."""
LEAST = 0.6
"""mm of a line within the letters from which it is told."""


def _faults(page: Page) -> Iterator[Fault]:
    letters = [t for t in page.letters if "/" not in t.owner and page.sheet.annotation(t.owner)]
    if not letters:
        return
    lines = [*_of_views(page), *_of_annotations(page)]
    tree = shapely.STRtree([line for _, _, line in lines])
    covered = _covered(page)
    for t in letters:
        core = _core(t.box)
        for m in tree.query(core, predicate="intersects"):
            owner, name, line = lines[m]
            if owner == t.owner or t.owner in covered or _together(page, owner, t.owner):
                continue
            if line.intersection(core).length >= LEAST:
                text = f"{name[0].upper()}{name[1:]} runs through {t.name}."
                yield Fault(
                    text, (t.owner, owner.partition("/")[0]), (Remedy("Tidy the view", action="tidy"),)
                )
                break


def _of_views(page: Page) -> Iterator[Named]:
    for key, line in page.outlines:
        yield key, "a line of a view", line
    for view in page.sheet.views:
        for key, elements in page.outer(view).items():
            if key != "label":
                found = shapes([e for e in elements if not isinstance(e, Text)], _at(view))
                yield from ((f"{view.id}/{key}", "a mark of a view", line) for line in found)


def _at(view: View) -> tuple[float, float]:
    return view.position.x, view.position.y


def _of_annotations(page: Page) -> Iterator[Named]:
    sized = {s.size.id: s for s in page.sizes}
    for a, group in page.drawn:
        if a.id in sized:
            ink = sized[a.id].ink
            elements: list[Element] = [e for e in (*ink.lines, *ink.extensions) if isinstance(e, Line)]
        elif a.kind in LEADERS:
            elements = [e for e in group.elements if isinstance(e, Line | Polyline)]
        else:
            continue
        name = f"a line of {page.called(a)}"
        yield from ((a.id, name, line) for line in shapes(elements, group.origin))


def _core(box: shapely.Polygon) -> shapely.Geometry:
    """Where the letters themselves are: the box without the room under their base line and about them."""
    return box.buffer(-0.35)


def _covered(page: Page) -> set[str]:
    """Pictures and drawings of old, whose letters are their own."""
    return {
        a.id
        for a in page.sheet.annotations
        if a.kind in ("picture", "underlay", "parts_list", "revision_table", "hole_table")
    }


def _together(page: Page, a: str, b: str) -> bool:
    """Whether one of them hangs on the other, or both are of a run."""
    one, two = page.sheet.annotation(a), page.sheet.annotation(b)
    if one is None or two is None:
        return False
    hung = {getattr(x.anchor, "annotation", "") for x in (one, two)}
    runs = [getattr(x, "run", "") for x in (one, two)]
    return bool(hung & {a, b}) or (bool(runs[0]) and runs[0] == runs[1])


RULE = Rule(
    "crossed lettering",
    "No line runs through a number",
    "ISO 129-1",
    "ASME Y14.5-2009 1.7.5",
    "look",
    _faults,
)
