"""No two items have the same number."""

from collections import Counter
from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule


def _faults(page: Page) -> Iterator[Fault]:
    counts = Counter(i.number for i in page.drawing.items.values())
    for number, many in sorted(counts.items()):
        if many > 1:
            names = ", ".join(i.name or k for k, i in page.drawing.items.items() if i.number == number)
            yield Fault(
                f"{many} items have the number {number}: {names}.",
                (),
                (Remedy("Number them anew", action="reading"),),
            )


RULE = Rule(
    "item numbers", "Items have numbers of their own", "ISO 6433", "ASME Y14.34", "grave", _faults, whole=True
)
