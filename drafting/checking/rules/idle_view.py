"""Every view is needed: it shows something that no other does, or bears something."""

from collections.abc import Iterator

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Rule, remove
from drafting.document import View
from drafting.features.recognized import features
from drafting.views.family import facing
from drafting.views.naming import view_name

BEARS_NOTHING = ("center_mark", "center_line", "bolt_circle")
"""Kinds of annotation that are not what a view is drawn for."""


def _faults(page: Page) -> Iterator[Fault]:
    every = [v for v in page.sheet.views if not v.is_pictorial]
    if len(every) < 2 or page.facts.kind != "part" or any(v.id not in page.shown for v in every):
        return
    idle: list[View] = []
    for view in every:
        rest = [o for o in every if o is not view and o not in idle and o.kind in ("main", "projected")]
        if view.kind not in ("projected", "auxiliary") or not any(_along(view, o) for o in rest):
            continue
        if any(o.parent == view.id for o in page.drawing.views()):
            continue
        if any(page.sheet.view_of(a) is view and a.kind not in BEARS_NOTHING for a in page.sheet.annotations):
            continue
        if _seen(page, view) <= {n for o in rest for n in _seen(page, o)}:
            idle.append(view)
    for view in idle:
        name = view_name(page.drawing, page.sheet, view.id)
        text = f"{name} bears no size and shows no feature that the others do not."
        yield Fault(text, (view.id,), (remove([view.id]),))


def _along(a: View, b: View) -> bool:
    """Whether both look along the same direction, so that they have the same outline."""
    toward = [facing(v).matrix()[2] for v in (a, b)]
    return abs(float(toward[0] @ toward[1])) > 1 - 1e-6


def _seen(page: Page, view: View) -> set[int]:
    """The features of the part of which a view shows a visible edge: holes, then others."""
    (instance,) = page.facts.instances
    part = page.facts.parts[instance.part]
    known = features(part)
    names = {c.source for c in page.shown[view.id].curves if c.visible and c.role == "edge"}
    faces = [n for name in names if (e := part.edge(name)) is not None for n in e.faces]
    return {*known.holes_at(faces), *(-1 - n for n in known.others_at(faces))}


RULE = Rule("idle view", "Every view is needed", "ISO 128-3", "ASME Y14.3", "look", _faults)
