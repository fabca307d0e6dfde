"""Where views stand: beside a parent, moved together, re-arranged when the projection method changes or by request.

Sources: ISO 5456-2, ASME Y14.3: third angle puts the top view above and the right-side view at the right; first angle the reverse.
"""

from collections.abc import Sequence

import numpy as np

from drafting.document import Drawing, Point, Sheet, View
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.sheet.layout import drawing_room
from drafting.standards.profile import Profile
from drafting.standards.scales import SERIES, Scale
from drafting.views.extents import Box, view_box
from drafting.views.orientation import RELATIONS, Relation
from drafting.views.section import side_of

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


def level(parent: View, view: View, at: Point) -> Point:
    """A place for a view so that it stays level with its parent: along its relation, or square to the line it is folded about."""
    if view.free or view.turned:
        return at
    if view.fold:
        n = np.array([-view.fold.y, view.fold.x])
        away = float(np.array([at.x - parent.position.x, at.y - parent.position.y]) @ n)
        return Point(x=parent.position.x + float(n[0]) * away, y=parent.position.y + float(n[1]) * away)
    return aligned(parent, view.relation, at) if view.relation else at


def descendants(sheet: Sheet, view_id: str) -> list[View]:
    """Views of the sheet that stand aligned on a view, directly or through others."""
    found: list[View] = []
    todo = [view_id]
    while todo:
        here = todo.pop()
        held = [v for v in sheet.views if v.parent == here and (v.relation or v.fold) and not v.free]
        found += held
        todo += [c.id for c in held]
    return found


def move(drawing: Drawing, sheet: Sheet, view: View, to: Point) -> None:
    """Move a view as far as its alignment lets it, and with it the views aligned on it."""
    parent = sheet.view(view.parent) if view.parent else None
    if parent:
        to = level(parent, view, to)
        _look_from(drawing, sheet, parent, view, to)
    dx, dy = to.x - view.position.x, to.y - view.position.y
    view.position = to
    for held in descendants(sheet, view.id):
        held.position = Point(x=held.position.x + dx, y=held.position.y + dy)
    for held in descendants(sheet, view.id):
        up = sheet.view(held.parent or "")
        if up:
            held.position = level(up, held, held.position)


def _look_from(drawing: Drawing, sheet: Sheet, parent: View, view: View, to: Point) -> None:
    """A section or auxiliary view that is not free is seen from the side on which it stands."""
    if view.free or not view.fold:
        return
    f = (parent.scale or sheet.scale).factor
    at = ((to.x - parent.position.x) / f, (to.y - parent.position.y) / f)
    if view.section and view.kind == "section":
        line = view.section.line
        view.section = view.section.model_copy(deep=True)
        view.section.line.viewer = 1 if side_of([(p.x, p.y) for p in line.points], at, drawing.projection) > 0 else -1
    elif view.auxiliary:
        a = view.auxiliary
        viewer = 1 if side_of([(0.0, 0.0), (a.along.x, a.along.y)], at, drawing.projection) > 0 else -1
        if viewer != a.viewer:
            view.auxiliary = a.model_copy(update={"viewer": viewer, "only_face": False})


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
                    dx, dy = old[child.id].x - old[parent.id].x, old[child.id].y - old[parent.id].y
                    if child.free or (child.relation is None and child.fold is None):
                        child.position = Point(x=parent.position.x + dx, y=parent.position.y + dy)
                    else:
                        child.position = Point(x=parent.position.x - dx, y=parent.position.y - dy)
                    if child.relation:
                        child.relation = OPPOSITE[child.relation]
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


# ---- laying out ----------------------------------------------------------------------------------------------------------

LABEL_ROOM = 12.0
"""Paper mm kept below a view that has a label."""


def _roomy(view: View, sheet: Sheet, facts: Facts) -> Box:
    left, bottom, right, top = view_box(view, sheet, facts)
    return left, bottom - (LABEL_ROOM if view.kind in ("section", "detail", "auxiliary") or view.scale else 0.0), right, top


def _step(sheet: Sheet, view: View) -> tuple[int, int]:
    """Which way a view stands from its parent, as whole steps."""
    if view.relation:
        return RELATIONS[view.relation]
    parent = sheet.view(view.parent or "")
    if view.fold is None or parent is None:
        return 0, 0
    n = np.array([-view.fold.y, view.fold.x])
    n = n if float(n @ np.array([view.position.x - parent.position.x, view.position.y - parent.position.y])) >= 0 else -n
    return (round(float(n[0])) or 0, round(float(n[1])) or 0)


def spread(sheet: Sheet, root: View, facts: Facts, gap: float) -> None:
    """Place all views aligned on a root in rows and columns about it, `gap` paper mm between them."""
    cells: dict[str, tuple[int, int]] = {root.id: (0, 0)}
    taken = {(0, 0)}
    ordered = [root, *descendants(sheet, root.id)]
    for view in ordered[1:]:
        px, py = cells[view.parent or root.id]
        sx, sy = _step(sheet, view)
        cell = (px + sx, py + sy)
        while cell in taken and (sx or sy):
            cell = (cell[0] + sx, cell[1] + sy)
        cells[view.id] = cell
        taken.add(cell)
    boxes = {v.id: _roomy(v, sheet, facts) for v in ordered}
    xs, ys = _centers(cells, boxes, 0, gap), _centers(cells, boxes, 1, gap)
    for view in ordered[1:]:
        cx, cy = cells[view.id]
        at = Point(x=root.position.x + xs[cx] - xs[0], y=root.position.y + ys[cy] - ys[0])
        parent = sheet.view(view.parent or "")
        view.position = level(parent, view, at) if parent else at


def _centers(cells: dict[str, tuple[int, int]], boxes: dict[str, Box], axis: int, gap: float) -> dict[int, float]:
    """Place of each column (axis 0) or row (axis 1) so that neighbors keep the gap."""
    low: dict[int, float] = {}
    high: dict[int, float] = {}
    for key, cell in cells.items():
        k = cell[axis]
        low[k] = min(low.get(k, np.inf), boxes[key][axis])
        high[k] = max(high.get(k, -np.inf), boxes[key][axis + 2])
    out: dict[int, float] = {}
    at, before = 0.0, None
    for k in sorted(low):
        if before is not None:
            at += high[before] + gap - low[k]
        out[k] = at
        before = k
    return out


def fitting_scale(sheet: Sheet, views: Sequence[View], facts: Facts, profile: Profile) -> Scale:
    """The largest standard scale at which a set of views about its first fits the sheet's room."""
    room = drawing_room(sheet)
    kept = sheet.scale
    for scale in SERIES[profile.standard]:
        sheet.scale = scale
        spread(sheet, views[0], facts, profile.view_gap)
        width, height = _extent(views, sheet, facts)
        if width <= room.width and height <= room.height and scale.factor <= 10:
            sheet.scale = kept
            return scale
    sheet.scale = kept
    return SERIES[profile.standard][-1]


def _extent(views: Sequence[View], sheet: Sheet, facts: Facts) -> tuple[float, float]:
    boxes = [placed_box(v, sheet, facts) for v in views]
    return max(b[2] for b in boxes) - min(b[0] for b in boxes), max(b[3] for b in boxes) - min(b[1] for b in boxes)


def placed_box(view: View, sheet: Sheet, facts: Facts) -> Box:
    """Extents of a view on the sheet with room for its label."""
    left, bottom, right, top = _roomy(view, sheet, facts)
    return left + view.position.x, bottom + view.position.y, right + view.position.x, top + view.position.y


def arrange_sheet(sheet: Sheet, scales: Sequence[Scale], facts: Facts, profile: Profile) -> None:
    """Lay out all views of a sheet at the first of the scales at which they fit. Raises CommandError where they fit at none."""
    names = {v.id for v in sheet.views}
    roots = [v for v in sheet.views if v.parent not in names or v.free or not (v.relation or v.fold)]
    before = [(v.position, v.id) for v in sheet.views]
    kept, own = sheet.scale, [v for v in sheet.views if v.scale is None]
    for gap in (profile.view_gap, profile.view_gap * 0.6):
        for scale in scales:
            sheet.scale = scale
            if own and scale.factor > 10:
                continue
            if _packed(sheet, roots, facts, gap):
                return
    sheet.scale = kept
    for position, view_id in before:
        view = sheet.view(view_id)
        if view:
            view.position = position
    raise CommandError("The views do not fit this sheet at any standard scale; take a larger sheet or move some to another.")


def _packed(sheet: Sheet, roots: list[View], facts: Facts, gap: float) -> bool:
    """Families packed in rows from the upper left of the room; whether all find a place."""
    room = drawing_room(sheet)
    blocks = []
    for root in roots:
        spread(sheet, root, facts, gap)
        members = [root, *descendants(sheet, root.id)]
        boxes = [placed_box(v, sheet, facts) for v in members]
        blocks.append((members, min(b[0] for b in boxes), min(b[1] for b in boxes), max(b[2] for b in boxes), max(b[3] for b in boxes)))
    blocks.sort(key=lambda b: -(b[3] - b[1]) * (b[4] - b[2]))
    free: list[Box] = [(room.left, room.bottom, room.right, room.top)]
    for members, left, bottom, right, top in blocks:
        width, height = right - left, top - bottom
        fits = [b for b in free if b[2] - b[0] >= width and b[3] - b[1] >= height]
        if not fits:
            return False
        spot = min(fits, key=lambda b: (b[2] - b[0]) * (b[3] - b[1]))
        alone = len(blocks) == 1
        x = (spot[0] + spot[2] - width) / 2 if alone else spot[0]
        y = (spot[1] + spot[3] - height) / 2 if alone else spot[3] - height
        for v in members:
            v.position = Point(x=v.position.x + x - left, y=v.position.y + y - bottom)
        used = (x - gap / 2, y - gap / 2, x + width + gap / 2, y + height + gap / 2)
        free = [piece for b in free for piece in _left_over(b, used)]
    return True


def _left_over(b: Box, used: Box) -> list[Box]:
    """What is left of a box beside, above and below a used one."""
    if used[2] <= b[0] or used[0] >= b[2] or used[3] <= b[1] or used[1] >= b[3]:
        return [b]
    out = [(b[0], b[1], used[0], b[3]), (used[2], b[1], b[2], b[3]), (b[0], b[1], b[2], used[1]), (b[0], used[3], b[2], b[3])]
    return [o for o in out if o[2] - o[0] > 5 and o[3] - o[1] > 5]


def overlaps(sheet: Sheet, boxes: dict[str, Box]) -> list[tuple[str, str]]:
    """Pairs of views whose boxes (sheet mm) overlap, and views that leave the frame (paired with an empty name)."""
    from drafting.sheet.layout import frame_box

    frame = frame_box(sheet)
    out = []
    names = list(boxes)
    for i, a in enumerate(names):
        p = boxes[a]
        if p[0] < frame.left or p[1] < frame.bottom or p[2] > frame.right or p[3] > frame.top:
            out.append((a, ""))
        for b in names[i + 1 :]:
            q = boxes[b]
            if p[0] < q[2] and q[0] < p[2] and p[1] < q[3] and q[1] < p[3]:
                out.append((a, b))
    return out
