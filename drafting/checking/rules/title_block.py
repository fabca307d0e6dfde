"""The title block is filled in."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.sheet.frame import blank_fields
from drafting.sheet.template import FIELDS


def _faults(page: Page) -> Iterator[Fault]:
    blank = blank_fields(page.drawing, page.facts)
    if blank:
        names = ", ".join(FIELDS.get(f, f).lower() for f in blank)
        yield Fault(f"Blank in the title block: {names}.", (), (Remedy("Fill them in", action="fields"),))


RULE = Rule(
    "title block", "The title block is filled in", "ISO 7200", "ASME Y14.1", "look", _faults, whole=True
)
