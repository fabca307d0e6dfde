"""A size says what is measured, not words of somebody's own."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, change
from drafting.document import Dimension


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if isinstance(a, Dimension) and a.wording.own:
            text = f"A size says {a.wording.own!r} in place of what is measured."
            yield Fault(text, (a.id,), (change([a.id], "Say what is measured", wording={"own": ""}),))


RULE = Rule("own words", "Sizes say what is measured", "common practice", "common practice", "grave", _faults)
