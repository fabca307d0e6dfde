"""All sizes are in one unit, unless each says which."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, change
from drafting.document import Dimension


def _faults(page: Page) -> Iterator[Fault]:
    own = page.drawing.profile.units
    for a, _ in page.drawn:
        if not isinstance(a, Dimension) or a.wording.unit in ("", own) or a.wording.dual:
            continue
        text = f"{page.starting(a)} is in {a.wording.unit}, on a drawing in {own}."
        yield Fault(text, (a.id,), (change([a.id], f"Write it in {own}", wording={"unit": ""}),))


RULE = Rule("units", "Sizes are in one unit", "ISO 129-1", "ASME Y14.5-2009 1.5", "look", _faults)
