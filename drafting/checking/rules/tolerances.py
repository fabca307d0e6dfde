"""Every size has a tolerance: its own, or a general one that the drawing names."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule
from drafting.document import Dimension
from drafting.errors import DraftingError


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if not isinstance(a, Dimension) or a.wording.reference or a.wording.basic or a.wording.own:
            continue
        try:
            found = registry.bounds(a, page.context(a))
        except DraftingError:
            continue
        if found is None:
            yield Fault(f"{page.starting(a)} has no tolerance, and no general one covers it.", (a.id,))


RULE = Rule("tolerances", "Every size has a tolerance", "ISO 8015", "ASME Y14.5-2009 1.4", "look", _faults)
