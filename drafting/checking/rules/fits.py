"""Tolerance classes suit what they stand on: capitals for holes, small letters for shafts."""

from collections.abc import Iterator

from drafting.annotation.measuring.picked_features import faces_at
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.document import Dimension
from drafting.standards.fits import is_hole


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if not isinstance(a, Dimension) or a.tolerance.form != "class" or a.tolerance.mate:
            continue
        hollow = _hollow(page, a)
        given = a.tolerance.designation
        if hollow is None or not given or is_hole(given) == hollow:
            continue
        what = (
            "a hole, whose classes have capital letters"
            if hollow
            else "a shaft, whose classes have small letters"
        )
        yield Fault(f"{page.starting(a)} has the class {given}, but is of {what}.", (a.id,))


def _hollow(page: Page, a: Dimension) -> bool | None:
    """Whether a diameter is of a hole; None for what is no diameter of one cylinder."""
    if a.kind != "diameter":
        return None
    found = page.facts.part_of(a.picks[0].instance) if a.picks else None
    if found is None:
        return None
    part = found[1]
    faces = [f for name in faces_at(a.picks[0], part) if (f := part.face(name)) is not None]
    told = {f.hollow for f in faces if f.kind == "cylinder" and f.hollow is not None}
    return told.pop() if len(told) == 1 else None


RULE = Rule("fits", "Fits suit what they stand on", "ISO 286-1", "ASME B4.2", "grave", _faults)
