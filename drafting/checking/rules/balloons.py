"""Every row of a parts list has a balloon on the drawing, and every balloon a row."""

from collections.abc import Iterator

from drafting.annotation.kinds.balloon import Balloon, numbers_of
from drafting.annotation.kinds.parts_rows import lists_on, rows
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.model import bill


def _faults(page: Page) -> Iterator[Fault]:
    lists = [p for s in page.drawing.sheets for p in lists_on(s)]
    balloons = [a for s in page.drawing.sheets for a in s.annotations if isinstance(a, Balloon)]
    if not lists or page.facts.kind != "assembly":
        return
    numbers = numbers_of(page.drawing, page.facts)
    listed = {r.key: r for p in lists for r in rows(page.drawing, p, page.facts)}
    shown = {k for b in balloons for k in (numbers.keys.get(b.instance, ""), *b.stacked)}
    paths = bill.keys_of(page.facts)
    within = {k for b in balloons for k in paths.get(b.instance, ())}  # a group by what is in it
    bare = [r for k, r in listed.items() if k not in shown and not (r.group and k in within)]
    if bare:
        items = ", ".join(sorted((str(r.item) for r in bare), key=int))
        one = len(bare) == 1
        text = f"Item {items} has no balloon." if one else f"Items {items} have no balloon."
        yield Fault(text, tuple(p.id for p in lists), (Remedy("Number the parts", action="numberall"),))
    for b in balloons:
        key = numbers.keys.get(b.instance, "")
        if key in numbers.items and key not in listed:
            yield Fault(f"Balloon {numbers.items[key]} has no row in a parts list.", (b.id,))


RULE = Rule(
    "balloons", "Balloons and parts lists agree", "ISO 6433", "ASME Y14.34", "grave", _faults, whole=True
)
