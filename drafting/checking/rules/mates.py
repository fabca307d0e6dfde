"""Of an assembly: what positions its parts is given, as far as its mates hold them at a distance or an
angle."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.annotation.proposing.mate_sizes import sizes_of_mates
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.context import Context
from drafting.errors import DraftingError


def _faults(page: Page) -> Iterator[Fault]:
    if page.facts.kind != "assembly" or not page.facts.mates:
        return
    raw = {v.id: g for v in page.sheet.views if (g := page.shown.get(v.id)) is not None}
    for size in sizes_of_mates(page.drawing, page.sheet, raw, page.facts).sizes:
        context = Context(page.drawing, page.sheet, page.facts, page.sheet.view(size.view))
        try:
            value = registry.text(size, context)
        except DraftingError:
            continue
        parts = " and ".join(dict.fromkeys(p.instance for p in size.picks))
        what = "angle" if registry.size_kind(size).is_angle else "distance"
        text = f"The {what} that positions {parts} is not given: {value}."
        yield Fault(text, (size.view,), (Remedy("Bring it", action="bring"),))


RULE = Rule(
    "mates", "What positions the parts is given", "common practice", "common practice", "look", _faults, True
)
