"""Room on a sheet for what is placed by itself."""

import shapely

from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.compose import annotation_groups, fixed_obstacles, outer_ink
from drafting.context import Context
from drafting.document import Dimension, Sheet, View, view_scale
from drafting.ink.shapes import boxes as mark_boxes
from drafting.ink.shapes import shapes, text_boxes
from drafting.model.model import Facts
from drafting.sheet.layout import drawing_room
from drafting.views.extents import Box, view_box
from server.drawings.access import Shown, shape

APART = ("parts_list", "hole_table", "revision_table", "picture", "underlay")
"""Kinds that stand somewhere else than at their view."""
NUMBER = 0.3
"""About lettering that no leader is to cross, mm."""
CLEAR = 1.0
"""Between a row and what stands on the neighboring view, mm."""


def room_about(shown: Shown) -> tuple[shapely.Geometry, list[shapely.Geometry]]:
    """Where balloons and callouts may stand, paper mm about the view: the sheet without its views, parts
    lists, title block, lettering, sizes, callouts, tables and the balloons of other views. And the lines of
    sizes and the boxes of their numbers, which leaders are better not to cross."""
    d, view, geometry = shown.drawing, shown.view, shown.geometry
    document, host, facts = shown.context.drawing, shown.context.sheet, shown.context.facts
    free = drawing_room(host)
    room = shapely.box(free.left, free.bottom, free.right, free.top)
    taken = []
    for other in host.views:
        g = geometry if other.id == view.id else shape(d, host, other)[1]
        if g is not None:
            f, at = view_scale(host, other).factor, other.position
            gap = 1.0 if other.id == view.id else 4.0
            taken.append(
                shapely.box(*(v * f for v in g.low), *(v * f for v in g.high)).buffer(gap, join_style="mitre")
            )
            taken[-1] = shapely.affinity.translate(taken[-1], at.x, at.y)
    taken += [shapely.box(*box) for box in fixed_obstacles(document, host, facts)]
    for other in host.views:
        g = geometry if other.id == view.id else shape(d, host, other)[1]
        marks = [b for elements in outer_ink(document, host, other, g).values() for b in mark_boxes(elements)]
        taken += [shapely.affinity.translate(b, other.position.x, other.position.y) for b in marks]
    lines: list[shapely.Geometry] = []
    stays = {
        a.id
        for a in host.annotations
        if isinstance(a, Dimension | HoleTable | HoleCallout | FeatureCallout)
        or (isinstance(a, Balloon) and a.view != view.id)
    }
    for key, group in annotation_groups(document, host, facts).items():
        if key in stays and not isinstance(group, str):
            taken += text_boxes(group.elements, group.origin, margin=1.0)
            strokes = shapes(group.elements, group.origin)
            taken += [g.buffer(1.0) for g in strokes]
            lines += [g for g in strokes if g.geom_type == "LineString"]
            lines += text_boxes(group.elements, group.origin, margin=NUMBER)
    x, y = -view.position.x, -view.position.y
    free_room = shapely.affinity.translate(room.difference(shapely.union_all(taken)), x, y)
    return free_room, [shapely.affinity.translate(g, x, y) for g in lines]


def room_between(context: Context) -> Box:
    """How far rows of sizes may stand about a view, paper mm about its position: to the edge of the room for
    views, to its neighbors, and to what stands on those on its side."""
    document, host, view, facts = context.drawing, context.sheet, context.view, context.facts
    assert view is not None
    free, at = drawing_room(host), view.position
    room = [free.left, free.bottom, free.right, free.top]
    mine = _box_of(view, host, facts)
    ink: dict[str, list[shapely.Geometry]] = {}
    groups = annotation_groups(document, host, facts)
    for a in (a for a in host.annotations if a.kind not in APART):
        home, group = host.view_of(a), groups[a.id]
        if home is not None and home is not view and not isinstance(group, str):
            ink.setdefault(home.id, []).extend(shapes(group.elements, group.origin))
            ink[home.id] += text_boxes(group.elements, group.origin, margin=1.0)
    for other in [v for v in host.views if v is not view]:
        its = _box_of(other, host, facts)
        low, high = its[:2], its[2:]
        its_ink = ink.get(other.id)
        reach = shapely.union_all(its_ink).bounds if its_ink else its
        for k in (0, 1):
            across = 1 - k
            if high[across] < mine[across] or low[across] > mine[across + 2]:
                continue
            if low[k] >= mine[k + 2]:
                room[k + 2] = min(room[k + 2], max(min(low[k], reach[k]) - CLEAR, mine[k + 2]))
            elif high[k] <= mine[k]:
                room[k] = max(room[k], min(max(high[k], reach[k + 2]) + CLEAR, mine[k]))
    return room[0] - at.x, room[1] - at.y, room[2] - at.x, room[3] - at.y


def _box_of(view: View, host: Sheet, facts: Facts) -> Box:
    """Extents of a view on the sheet, mm."""
    left, bottom, right, top = view_box(view, host, facts)
    x, y = view.position.x, view.position.y
    return left + x, bottom + y, right + x, top + y
