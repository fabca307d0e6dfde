"""Views stand clear of each other and within the frame, and single things are as they should be."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.checking.rules.geometric import KINDS
from drafting.checking.warnings import warnings
from drafting.compose import obstacles


def _faults(page: Page) -> Iterator[Fault]:
    fixed = obstacles(page.drawing, page.sheet, page.facts)
    frames = {a.id for a in page.sheet.annotations if a.kind in KINDS}
    for ids, text in warnings(page.drawing, page.sheet, page.shown, page.facts, fixed):
        if frames & set(ids):
            continue
        overlaps = text.endswith("leaves the frame.") or " overlaps " in text
        arrange = Remedy("Arrange the sheet", {"command": "arrange_sheet", "sheet": page.sheet.id})
        views = overlaps and any(page.sheet.view(key) for key in ids)
        yield Fault(text, tuple(ids), (arrange,) if views else ())


RULE = Rule(
    "sheet", "Everything stands clear and is as it should be", "ISO 128-3", "ASME Y14.3", "look", _faults
)
