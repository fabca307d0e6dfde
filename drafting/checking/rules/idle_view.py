"""Every view is needed: it shows something that no other does, or bears something."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, remove
from drafting.document import View
from drafting.views.naming import view_name

BEARS_NOTHING = ("center_mark", "center_line", "bolt_circle")
"""Kinds of annotation that are not what a view is drawn for."""


def _faults(page: Page) -> Iterator[Fault]:
    every = [v for v in page.sheet.views if not v.is_pictorial]
    if len(every) < 2 or page.facts.kind != "part" or any(v.id not in page.shown for v in every):
        return
    idle: list[View] = []
    for view in every:
        if view.kind not in ("projected", "section", "auxiliary", "detail"):
            continue
        if any(o.parent == view.id for o in page.drawing.views()):
            continue
        if any(page.sheet.view_of(a) is view and a.kind not in BEARS_NOTHING for a in page.sheet.annotations):
            continue
        others = {s for o in every if o is not view and o not in idle for s in _seen(page, o)}
        if _seen(page, view) <= others:
            idle.append(view)
    for view in idle:
        name = view_name(page.drawing, page.sheet, view.id)
        yield Fault(
            f"{name} bears no size and shows nothing that the others do not.",
            (view.id,),
            (remove([view.id]),),
        )


def _seen(page: Page, view: View) -> set[str]:
    """The edges that a view shows; what a cut shows is its own."""
    return {
        c.source if c.role != "cut" else f"{view.id}:{c.source}"
        for c in page.shown[view.id].curves
        if c.visible and c.role in ("edge", "cut")
    }


RULE = Rule("idle view", "Every view is needed", "ISO 128-3", "ASME Y14.3", "look", _faults)
