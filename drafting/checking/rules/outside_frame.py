"""Everything that is drawn stands within the frame."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.ink.shapes import shapes, text_boxes
from drafting.sheet.layout import frame_box

PAST = 0.2
"""How far ink may reach past the frame's line, mm."""


def _faults(page: Page) -> Iterator[Fault]:
    frame = frame_box(page.sheet)
    for a, group in page.drawn:
        boxes = [g.bounds for g in shapes(group.elements, group.origin)]
        boxes += [b.bounds for b in text_boxes(group.elements, group.origin, 0.0)]
        if any(
            x0 < frame.left - PAST
            or y0 < frame.bottom - PAST
            or x1 > frame.right + PAST
            or y1 > frame.top + PAST
            for x0, y0, x1, y1 in boxes
        ):
            yield Fault(f"{page.starting(a)} reaches out of the frame.", (a.id,))


RULE = Rule(
    "outside the frame", "Nothing reaches out of the frame", "ISO 5457", "ASME Y14.1", "grave", _faults
)
