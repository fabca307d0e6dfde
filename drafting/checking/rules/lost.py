"""Nothing on the drawing has lost what it is on."""

from collections.abc import Iterator

from drafting.annotation import registry
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, remove


def _faults(page: Page) -> Iterator[Fault]:
    for a in page.sheet.annotations:
        why = page.groups.get(a.id)
        if isinstance(why, str):
            yield Fault(f"{registry.name(a)}: {why}", (a.id,), (remove([a.id]),))


RULE = Rule("lost", "Nothing has lost what it is on", "common practice", "common practice", "grave", _faults)
