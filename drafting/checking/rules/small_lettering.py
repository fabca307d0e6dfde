"""Lettering is as high as the standard asks for."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.ink.elements import Text
from drafting.standards.profile import Standard

LEAST: dict[Standard, float] = {"ISO": 1.8, "ASME": 2.0}
"""Height of capitals, mm. ISO 3098-1: the smallest nominal size; ASME Y14.2 asks for 3 mm, deviations and
notes in frames included: what a drafter may fold small in a table is told below two thirds of that."""
SIZES: dict[Standard, float] = {"ISO": 2.5, "ASME": 3.0}
"""Of the numbers of sizes: ISO common practice for sheets to A2, ASME Y14.2."""


def _faults(page: Page) -> Iterator[Fault]:
    standard = page.drawing.profile.standard
    sized = {s.size.id for s in page.sizes}
    for a, group in page.drawn:
        if a.kind in ("picture", "underlay"):
            continue
        heights = [e.height for e in group.elements if isinstance(e, Text) and e.text.strip()]
        if not heights:
            continue
        least = SIZES[standard] if a.id in sized else LEAST[standard]
        high = max(heights) if a.id in sized else min(heights)
        if high < least - 1e-6:
            yield Fault(
                f"{page.starting(a)} is lettered {high:.1f} mm high; the least is {least:g}.", (a.id,)
            )


RULE = Rule(
    "small lettering", "Lettering is high enough to be read", "ISO 3098-1", "ASME Y14.2", "look", _faults
)
