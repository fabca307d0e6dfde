"""What is in the way on a sheet, and what single things of it say of themselves: told while drawing."""

from collections.abc import Mapping

import shapely

from drafting.annotation import registry
from drafting.annotation.kinds import parts_rows
from drafting.compose import BLOCK, bounded, outer_ink
from drafting.document import Drawing, Sheet, view_scale
from drafting.ink.shapes import boxes as mark_boxes
from drafting.model.model import Facts
from drafting.views import arrange
from drafting.views.extents import Box
from drafting.views.geometry import ViewGeometry
from drafting.views.hatching import dense_hatching
from drafting.views.naming import view_name, within

Warning_ = tuple[list[str], str]
"""Ids of the views and annotations it is about, and a sentence."""


def warnings(
    drawing: Drawing,
    sheet: Sheet,
    shown: Mapping[str, ViewGeometry],
    facts: Facts,
    fixed: Mapping[str, tuple[str, Box]],
) -> list[Warning_]:
    """Views that overlap each other or leave the frame, with their labels and the marks on them; hatching and
    states that could not be; and what annotations say of themselves. fixed: what views keep clear of, as
    `drafting.compose.obstacles` gives it."""
    names = {v.id: view_name(drawing, sheet, v.id) for v in sheet.views}
    states = {s.name for s in facts.exploded}
    out: list[Warning_] = [
        ([v.id], f"{names[v.id]} is shown together: its exploded state {v.exploded} is gone.")
        for v in sheet.views
        if v.exploded and v.exploded not in states
    ]
    for view in sheet.views:
        hatched = view.id in shown and (view.hatches or shown[view.id].cut_faces)
        bounds = bounded(drawing, sheet, view, facts, shown[view.id]) if hatched else None
        if bounds and dense_hatching(view, bounds, facts, drawing, view_scale(sheet, view).factor):
            text = f"{names[view.id]} is not hatched everywhere: its pattern is too dense for this scale."
            out.append(([view.id], text))
    views = [v.id for v in sheet.views]
    out += [(views, text) for p in facts.parts.values() for text in p.flaws if views]
    for a in sheet.annotations:
        if registry.has_findings(a):
            context = registry.context_of(drawing, sheet, a, facts)
            out += [([a.id], text) for text in registry.findings(a, context)]
    return out + _in_the_way(drawing, sheet, shown, fixed, names)


def _in_the_way(
    drawing: Drawing,
    sheet: Sheet,
    shown: Mapping[str, ViewGeometry],
    fixed: Mapping[str, tuple[str, Box]],
    names: dict[str, str],
) -> list[Warning_]:
    boxes: dict[str, Box] = {}
    for view in sheet.views:
        geometry = shown.get(view.id)
        if geometry is None:
            continue
        f, at = view_scale(sheet, view).factor, view.position
        box = shapely.box(*(v * f for v in (*geometry.low, *geometry.high)))
        outer = [e for elements in outer_ink(drawing, sheet, view, geometry).values() for e in elements]
        box = shapely.union_all([box, *mark_boxes(outer)])
        x0, y0, x1, y1 = box.bounds
        boxes[view.id] = (x0 + at.x, y0 + at.y, x1 + at.x, y1 + at.y)
    names = names | {key: name[0].upper() + name[1:] for key, (name, _) in fixed.items()}
    attached = {p.id for p in parts_rows.lists_on(sheet) if p.attached}
    out: list[Warning_] = []
    for a, b in arrange.overlaps(sheet, boxes, {key: box for key, (_, box) in fixed.items()}):
        if BLOCK in (a, b) and attached & {a, b}:
            continue  # it stands on the title block
        ids = [key for key in (a, b) if key and key != BLOCK]
        out.append(
            (ids, f"{names[a]} overlaps {within(names[b])}." if b else f"{names[a]} leaves the frame.")
        )
    return out
