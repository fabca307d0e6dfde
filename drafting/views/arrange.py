"""Where views stand: places beside a parent, and re-arranging when the projection method changes.

Sources: ISO 5456-2, ASME Y14.3: third angle puts the top view above and the right-side view at the right; first angle the reverse.
"""

from drafting.document import Drawing, Point, Sheet, View
from drafting.views.orientation import RELATIONS, Relation

OPPOSITE: dict[Relation, Relation] = {
    "right": "left", "left": "right", "above": "below", "below": "above",
    "above-right": "below-left", "below-left": "above-right", "above-left": "below-right", "below-right": "above-left",
}  # fmt: skip


def relation_of(dx: float, dy: float) -> Relation:
    """The one of eight places beside a parent that lies nearest to an offset on paper."""
    ax, ay = abs(dx), abs(dy)
    sx, sy = (1 if dx >= 0 else -1), (1 if dy >= 0 else -1)
    if ay < ax * 0.41:
        sy = 0
    elif ax < ay * 0.41:
        sx = 0
    return next(name for name, step in RELATIONS.items() if step == (sx, sy))


def aligned(parent: View, relation: Relation, at: Point) -> Point:
    """A place snapped onto its parent's line: level with it, or above or below it; diagonal places are free."""
    sx, sy = RELATIONS[relation]
    return Point(x=at.x if sx else parent.position.x, y=at.y if sy else parent.position.y)


def descendants(sheet: Sheet, view_id: str) -> list[View]:
    """Views projected from a view, directly or through others."""
    found: list[View] = []
    todo = [view_id]
    while todo:
        here = todo.pop()
        children = [v for v in sheet.views if v.parent == here]
        found += children
        todo += [c.id for c in children]
    return found


def switch_projection(drawing: Drawing) -> None:
    """Every projected view of every sheet goes to the other side of its parent; what it shows stays the same."""
    drawing.projection = "first" if drawing.projection == "third" else "third"
    for sheet in drawing.sheets:
        old = {v.id: Point(x=v.position.x, y=v.position.y) for v in sheet.views}
        before = _middle(sheet)
        for root in [v for v in sheet.views if v.parent is None or v.parent not in old]:
            todo = [root]
            while todo:
                parent = todo.pop()
                for child in [v for v in sheet.views if v.parent == parent.id]:
                    if child.relation is None:
                        continue
                    dx, dy = old[child.id].x - old[parent.id].x, old[child.id].y - old[parent.id].y
                    child.relation = OPPOSITE[child.relation]
                    child.position = Point(x=parent.position.x - dx, y=parent.position.y - dy)
                    todo.append(child)
        after = _middle(sheet)
        for view in sheet.views:
            view.position = Point(x=view.position.x + before[0] - after[0], y=view.position.y + before[1] - after[1])


def _middle(sheet: Sheet) -> tuple[float, float]:
    """Middle of all view positions, kept when views change sides so that the group stays on the sheet."""
    if not sheet.views:
        return 0.0, 0.0
    xs, ys = [v.position.x for v in sheet.views], [v.position.y for v in sheet.views]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
