"""Every circle that a view shows has its center."""

from collections.abc import Iterator

from drafting.annotation.proposing import find_centers
from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule
from drafting.context import Context
from drafting.views.naming import view_name


def _faults(page: Page) -> Iterator[Fault]:
    for view in page.sheet.views:
        geometry = page.shown.get(view.id)
        if geometry is None or view.kind in ("pictorial", "detail"):
            continue
        context = Context(page.drawing, page.sheet, page.facts, view)
        bare = find_centers.unmarked(find_centers.circles(geometry, context), context)
        if not bare:
            continue
        many = "a circle" if len(bare) == 1 else f"{len(bare)} circles"
        name = view_name(page.drawing, page.sheet, view.id)
        found = find_centers.lacking(geometry, context)
        place = {
            "command": "place",
            "annotations": [c.model_dump(mode="json") for c in found],
            "sheet": "",
            "known": "keep",
        }
        remedies = (Remedy("Center them", place),) if found else ()
        yield Fault(f"{name} shows {many} without a center.", (view.id,), remedies)


RULE = Rule("centers", "Circles have centers", "ISO 128-2", "ASME Y14.2", "look", _faults)
