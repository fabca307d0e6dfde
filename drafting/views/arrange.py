"""Where views stand: beside a parent, moved together, re-arranged when the projection method changes or by
request.

Sources: ISO 5456-2, ASME Y14.3: third angle puts the top view above and the right-side view at the right;
first angle the reverse.
"""

from collections.abc import Callable, Mapping, Sequence

import numpy as np
from numpy.typing import NDArray

from drafting.document import Drawing, Point, Sheet, View
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.sheet.layout import drawing_room, frame_box
from drafting.standards.profile import Profile
from drafting.standards.scales import SERIES, Scale
from drafting.views.extents import Box, view_box
from drafting.views.orientation import RELATIONS, Relation
from drafting.views.section import side_of

Floats = NDArray[np.float64]
OPPOSITE: dict[Relation, Relation] = {
    "right": "left",
    "left": "right",
    "above": "below",
    "below": "above",
    "above-right": "below-left",
    "below-left": "above-right",
    "above-left": "below-right",
    "below-right": "above-left",
}


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
    """A place snapped onto its parent's line: level with it, or above or below it; diagonal places are
    free."""
    sx, sy = RELATIONS[relation]
    return Point(x=at.x if sx else parent.position.x, y=at.y if sy else parent.position.y)


def level(parent: View, view: View, at: Point) -> Point:
    """A place for a view so that it stays level with its parent: along its relation, or square to the line it
    is folded about."""
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
        view.section.line.viewer = (
            1 if side_of([(p.x, p.y) for p in line.points], at, drawing.projection) > 0 else -1
        )
    elif view.auxiliary:
        a = view.auxiliary
        viewer = 1 if side_of([(0.0, 0.0), (a.along.x, a.along.y)], at, drawing.projection) > 0 else -1
        if viewer != a.viewer:
            view.auxiliary = a.model_copy(update={"viewer": viewer, "only_face": False})


def switch_projection(drawing: Drawing) -> None:
    """Every projected view of every sheet goes to the other side of its parent; what it shows stays the
    same."""
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
            view.position = Point(
                x=view.position.x + before[0] - after[0], y=view.position.y + before[1] - after[1]
            )


def _middle(sheet: Sheet) -> tuple[float, float]:
    """Middle of all view positions, kept when views change sides so that the group stays on the sheet."""
    if not sheet.views:
        return 0.0, 0.0
    xs, ys = [v.position.x for v in sheet.views], [v.position.y for v in sheet.views]
    return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2


# ---- laying out --------------------------------------------------------------------------------------------

LABEL_ROOM = 12.0
"""Paper mm kept below a view that has a label."""


def _roomy(view: View, sheet: Sheet, facts: Facts) -> Box:
    left, bottom, right, top = view_box(view, sheet, facts)
    return (
        left,
        bottom - (LABEL_ROOM if view.kind in ("section", "detail", "auxiliary") or view.scale else 0.0),
        right,
        top,
    )


def _step(sheet: Sheet, view: View) -> tuple[int, int]:
    """Which way a view stands from its parent, as whole steps."""
    if view.relation:
        return RELATIONS[view.relation]
    parent = sheet.view(view.parent or "")
    if view.fold is None or parent is None:
        return 0, 0
    n = np.array([-view.fold.y, view.fold.x])
    n = (
        n
        if float(n @ np.array([view.position.x - parent.position.x, view.position.y - parent.position.y]))
        >= 0
        else -n
    )
    return (round(float(n[0])) or 0, round(float(n[1])) or 0)


def spread(sheet: Sheet, ordered: Sequence[View], facts: Facts, gap: float) -> None:
    """Place views aligned on the first of them in rows and columns about it, `gap` paper mm between them;
    parents before children."""
    root = ordered[0]
    cells: dict[str, tuple[int, int]] = {root.id: (0, 0)}
    taken = {(0, 0)}
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


def _centers(
    cells: dict[str, tuple[int, int]], boxes: dict[str, Box], axis: int, gap: float
) -> dict[int, float]:
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
        spread(sheet, [views[0], *descendants(sheet, views[0].id)], facts, profile.view_gap)
        width, height = _extent(views, sheet, facts)
        if width <= room.width and height <= room.height and scale.factor <= 10:
            sheet.scale = kept
            return scale
    sheet.scale = kept
    return SERIES[profile.standard][-1]


def _extent(views: Sequence[View], sheet: Sheet, facts: Facts) -> tuple[float, float]:
    boxes = [placed_box(v, sheet, facts) for v in views]
    return max(b[2] for b in boxes) - min(b[0] for b in boxes), max(b[3] for b in boxes) - min(
        b[1] for b in boxes
    )


def placed_box(view: View, sheet: Sheet, facts: Facts) -> Box:
    """Extents of a view on the sheet with room for its label."""
    left, bottom, right, top = _roomy(view, sheet, facts)
    return left + view.position.x, bottom + view.position.y, right + view.position.x, top + view.position.y


Beside = Callable[[View], Sequence[Box]]
"""What goes along with a view besides itself, such as a table of its holes: boxes in paper mm about the
view's position."""


def arrange_sheet(
    sheet: Sheet,
    scales: Sequence[Scale],
    facts: Facts,
    profile: Profile,
    obstacles: Sequence[Box] = (),
    beside: Beside = lambda _: (),
) -> None:
    """Lay out all views of a sheet at the first of the scales at which they fit, clear of the obstacles
    (sheet mm).

    Raises CommandError where they fit at none.
    """
    names = {v.id for v in sheet.views}
    roots = [
        v
        for v in sheet.views
        if v.parent not in names or v.free or not (v.relation or v.fold) or _is_diagonal(v)
    ]
    before = [(v.position, v.id) for v in sheet.views]
    kept, own = sheet.scale, [v for v in sheet.views if v.scale is None]
    for gap in (profile.view_gap, profile.view_gap * 0.6):
        for scale in scales:
            sheet.scale = scale
            if own and scale.factor > 10:
                continue
            if _packed(sheet, roots, facts, gap, obstacles, beside):
                return
    sheet.scale = kept
    for position, view_id in before:
        view = sheet.view(view_id)
        if view:
            view.position = position
    raise CommandError(
        "The views do not fit this sheet at any standard scale; take a larger sheet or move some to another."
    )


STEPS = 48
"""In how many steps across the frame a family of views is tried."""


def _packed(
    sheet: Sheet, roots: list[View], facts: Facts, gap: float, obstacles: Sequence[Box], beside: Beside
) -> bool:
    """Families of views placed one after another, the largest first; whether all find a place within the
    frame, clear of the obstacles and of each other. A family is tried with the boxes of its views, so that a
    title block may stand in a corner that it leaves empty."""
    frame = frame_box(sheet)
    inside = np.array(
        [frame.left + gap / 4, frame.bottom + gap / 4, frame.right - gap / 4, frame.top - gap / 4]
    )
    taken = np.array(obstacles, float).reshape(-1, 4)
    families = []
    for root in roots:
        members = (
            [root]
            if _is_diagonal(root)
            else [root, *(v for v in descendants(sheet, root.id) if not _is_diagonal(v))]
        )
        spread(sheet, members, facts, gap)
        boxes = [placed_box(v, sheet, facts) for v in members]
        for v in members:
            boxes += [
                (x0 + v.position.x, y0 + v.position.y, x1 + v.position.x, y1 + v.position.y)
                for x0, y0, x1, y1 in beside(v)
            ]
        families.append((members, np.array(boxes)))
    families.sort(
        key=lambda f: (_is_diagonal(f[0][0]), -float(np.prod(f[1][:, 2:].max(0) - f[1][:, :2].min(0))))
    )
    for members, room in families:
        toward = (
            RELATIONS[members[0].relation] if members[0].relation and _is_diagonal(members[0]) else (-1, 1)
        )
        shift = _place(room, inside, taken, gap, (0, 0) if len(families) == 1 else toward)
        if shift is None:
            return False
        for v in members:
            v.position = Point(x=v.position.x + float(shift[0]), y=v.position.y + float(shift[1]))
        taken = np.concatenate([taken, room + np.tile(shift, 2)])
    return True


def _is_diagonal(view: View) -> bool:
    """Whether a view is a pictorial one that stands anywhere, whatever it is projected from."""
    return view.relation is not None and "-" in view.relation


def _place(
    boxes: Floats, inside: Floats, taken: Floats, gap: float, toward: tuple[int, int]
) -> Floats | None:
    """How far to move boxes (n, 4) so that they lie inside a box and half a gap clear of those taken:
    about the middle of the room, or toward one of its corners (steps right and up). None where there is no
    place."""
    low, high = boxes[:, :2].min(0), boxes[:, 2:].max(0)
    least, most = inside[:2] - low, inside[2:] - high
    if (least > most).any():
        return None
    tries = []
    for k in (0, 1):
        touching = [t[k + 2] + gap / 2 - b[k] for t in taken for b in boxes] + [
            t[k] - gap / 2 - b[k + 2] for t in taken for b in boxes
        ]
        found = np.array([*np.linspace(least[k], most[k], STEPS), *touching])
        tries.append(np.unique(np.round(found[(found >= least[k]) & (found <= most[k])], 6)))
    shifts = np.stack(np.meshgrid(*tries, indexing="ij"), -1).reshape(-1, 2)
    free = np.ones(len(shifts), bool)
    for b in boxes:
        x0, y0 = b[0] + shifts[:, 0] - gap / 2 + 1e-6, b[1] + shifts[:, 1] - gap / 2 + 1e-6
        x1, y1 = b[2] + shifts[:, 0] + gap / 2 - 1e-6, b[3] + shifts[:, 1] + gap / 2 - 1e-6
        for t in taken:
            free &= (x0 >= t[2]) | (x1 <= t[0]) | (y0 >= t[3]) | (y1 <= t[1])
    if not free.any():
        return None
    shifts = shifts[free]
    sx, sy = toward
    aim = (least + most + np.array([sx, sy]) * (most - least)) / 2
    away = np.abs(shifts - aim) @ np.array([0.6, 1.0]) if sx else np.linalg.norm(shifts - aim, axis=1)
    out: Floats = shifts[int(away.argmin())]
    return out


def overlaps(sheet: Sheet, boxes: Mapping[str, Box], obstacles: Mapping[str, Box]) -> list[tuple[str, str]]:
    """Names of views and of tables whose boxes (sheet mm) overlap, and of those that leave the frame (paired
    with an empty name).

    obstacles: what is not a view; two of these that overlap are told too.
    """
    frame = frame_box(sheet)
    out = []
    every = {**boxes, **obstacles}
    names = list(every)
    for i, a in enumerate(names):
        p = every[a]
        if (
            p[0] < frame.left - 1e-6
            or p[1] < frame.bottom - 1e-6
            or p[2] > frame.right + 1e-6
            or p[3] > frame.top + 1e-6
        ):
            out.append((a, ""))
        for b in names[i + 1 :]:
            q = every[b]
            if p[0] < q[2] - 1e-6 and q[0] < p[2] - 1e-6 and p[1] < q[3] - 1e-6 and q[1] < p[3] - 1e-6:
                out.append((a, b))
    return out


def within_frame(sheet: Sheet, views: Sequence[View], facts: Facts) -> None:
    """Move views together so that they lie within the frame, as far as they fit it."""
    frame = frame_box(sheet)
    boxes = np.array([placed_box(v, sheet, facts) for v in views])
    low, high = boxes[:, :2].min(0), boxes[:, 2:].max(0)
    inside_low, inside_high = np.array([frame.left, frame.bottom]), np.array([frame.right, frame.top])
    shift = np.maximum(inside_low - low, 0.0)
    shift += np.minimum(inside_high - (high + shift), 0.0)
    for v in views:
        v.position = Point(x=v.position.x + float(shift[0]), y=v.position.y + float(shift[1]))
