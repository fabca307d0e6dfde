"""Control frames and datums are as the standard's grammar has them, and hold what they should."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule

KINDS = ("control_frame", "datum_feature", "datum_target")


def _faults(page: Page) -> Iterator[Fault]:
    for a, _ in page.drawn:
        if a.kind in KINDS:
            for text in registry.findings(a, page.context(a)):
                yield Fault(text, (a.id,))


RULE = Rule("geometric", "Frames and datums are sound", "ISO 1101", "ASME Y14.5", "look", _faults)
