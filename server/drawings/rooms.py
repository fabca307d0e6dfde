"""Room on a sheet for what is placed by itself."""

import shapely

from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.compose import annotation_groups, fixed_obstacles, outer_ink
from drafting.document import Dimension, view_scale
from drafting.ink.shapes import boxes as mark_boxes
from drafting.ink.shapes import shapes, text_boxes
from drafting.sheet.layout import drawing_room
from server.drawings.access import Shown, shape


def room_about(shown: Shown) -> tuple[shapely.Geometry, list[shapely.Geometry]]:
    """Where balloons and callouts may stand, paper mm about the view: the sheet without its views, parts
    lists, title block, lettering, sizes, callouts, tables and the balloons of other views. And the lines of
    sizes, which leaders are better not to cross."""
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
    x, y = -view.position.x, -view.position.y
    free_room = shapely.affinity.translate(room.difference(shapely.union_all(taken)), x, y)
    return free_room, [shapely.affinity.translate(g, x, y) for g in lines]
