"""View slots of a frame: where a new drawing's views go by themselves, at the largest standard scale at which
each fits its slot."""

from drafting.document import Drawing, Point, Sheet, View
from drafting.model.model import Facts
from drafting.sheet.layout import Box, drawing_room, template_of
from drafting.sheet.template import Slot
from drafting.standards.scales import SERIES, Scale
from drafting.views.extents import view_box
from drafting.views.orientation import PRINCIPAL, isometric, projected

ROOM_FOR_SIZES = 0.75
"""Part of a slot that a view may take; the rest is for its sizes."""


def slot_box(sheet: Sheet, slot: Slot) -> Box:
    """A slot in sheet mm."""
    r = drawing_room(sheet)
    return Box(
        r.left + slot.left * r.width,
        r.bottom + slot.bottom * r.height,
        r.left + slot.right * r.width,
        r.bottom + slot.top * r.height,
    )


def fill_slots(drawing: Drawing, sheet: Sheet, facts: Facts, new_ids: list[str]) -> None:
    """Place a view in every slot of the sheet's frame; projected ones stay level with the main view. Nothing
    without a main slot."""
    slots = template_of(sheet).slots
    main_slot = next((s for s in slots if s.shows == "main"), None)
    if main_slot is None or len(new_ids) < len(slots):
        return
    front = PRINCIPAL["front"]
    main = View(id=new_ids[0], kind="main", orientation=front, position=Point(x=0, y=0))
    views = [(main_slot, main)]
    for slot, view_id in zip([s for s in slots if s is not main_slot], new_ids[1:], strict=False):
        if slot.shows == "pictorial":
            views.append(
                (
                    slot,
                    View(
                        id=view_id,
                        kind="pictorial",
                        orientation=isometric(front),
                        position=Point(x=0, y=0),
                        hidden_lines=False,
                        centers=False,
                    ),
                )
            )
        elif slot.shows != "main":
            diagonal = "-" in slot.shows
            views.append(
                (
                    slot,
                    View(
                        id=view_id,
                        kind="pictorial" if diagonal else "projected",
                        parent=main.id,
                        relation=slot.shows,
                        position=Point(x=0, y=0),
                        orientation=projected(front, slot.shows, drawing.projection),
                        hidden_lines=not diagonal,
                        centers=not diagonal,
                    ),
                )
            )
    aligned = [(s, v) for s, v in views if v.kind != "pictorial"]
    sheet.scale = _largest(drawing, sheet, aligned, facts)
    for slot, view in views:
        box = slot_box(sheet, slot)
        if view.kind == "pictorial":
            scale = _largest(drawing, sheet, [(slot, view)], facts)
            view.scale = None if scale == sheet.scale else scale
        left, bottom, right, top = view_box(view, sheet, facts)
        view.position = Point(x=box.center[0] - (left + right) / 2, y=box.center[1] - (bottom + top) / 2)
        if view.relation in ("left", "right"):
            view.position.y = main.position.y
        elif view.relation in ("above", "below"):
            view.position.x = main.position.x
        sheet.views.append(view)


def _largest(drawing: Drawing, sheet: Sheet, views: list[tuple[Slot, View]], facts: Facts) -> Scale:
    for scale in SERIES[drawing.profile.standard]:
        if scale.factor > 10:
            continue
        fits = True
        for slot, view in views:
            box = slot_box(sheet, slot)
            left, bottom, right, top = view_box(view.model_copy(update={"scale": scale}), sheet, facts)
            fits &= right - left <= box.width * ROOM_FOR_SIZES and top - bottom <= box.height * ROOM_FOR_SIZES
        if fits:
            return scale
    return SERIES[drawing.profile.standard][-1]
