"""No size says that it is not to scale: the view is derived, so it is."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, change
from drafting.document import Dimension


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if isinstance(a, Dimension) and a.wording.not_to_scale:
            text = f"{page.starting(a)} is marked as not to scale."
            yield Fault(
                text, (a.id,), (change([a.id], "Take the mark off", wording={"not_to_scale": False}),)
            )


RULE = Rule("not to scale", "Sizes are to scale", "ISO 129-1", "ASME Y14.5-2009 1.7.9", "look", _faults)
