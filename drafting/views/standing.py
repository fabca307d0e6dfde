"""Where a view stands that is placed by itself: beside its parent, or where the sheet is free."""

import math
from collections.abc import Iterable, Sequence

import numpy as np

from drafting.document import Sheet, View
from drafting.model.model import Facts
from drafting.sheet.layout import drawing_room
from drafting.views.arrange import LABEL_ROOM, placed_box
from drafting.views.extents import Box, model_box
from drafting.views.orientation import Orientation

XY = tuple[float, float]
STEP = 10.0
"""Of the grid on which free places are looked for, mm."""


def half_extents(o: Orientation, facts: Facts, factor: float) -> XY:
    """Half of what the whole model takes up on paper in a direction, mm. factor: paper over model."""
    left, bottom, right, top = model_box(facts, o)
    return max(right, -left) * factor, max(top, -bottom) * factor


def beside(parent: View, toward: XY, own: XY, other: XY, gap: float) -> XY:
    """The middle of a view beside its parent, sheet mm. toward: unit direction on paper; own, other: half
    extents of the parent and the view, mm; gap: between them."""
    dx, dy = (abs(v) for v in toward)
    reach = (own[0] + other[0]) * dx + (own[1] + other[1]) * dy + gap
    return round(parent.position.x + toward[0] * reach, 3), round(parent.position.y + toward[1] * reach, 3)


def is_free(at: XY, half: XY, sheet: Sheet, facts: Facts, taken: Sequence[Box], gap: float) -> bool:
    """Whether a view, with its label, stands in the room for views and clear of other views and of boxes,
    sheet mm."""
    room = drawing_room(sheet)
    left, right = at[0] - half[0], at[0] + half[0]
    bottom, top = at[1] - half[1] - LABEL_ROOM, at[1] + half[1]
    if left < room.left or right > room.right or bottom < room.bottom or top > room.top:
        return False
    others = [*taken, *(placed_box(v, sheet, facts) for v in sheet.views)]
    return all(
        right + gap < b[0] or left - gap > b[2] or top + gap < b[1] or bottom - gap > b[3] for b in others
    )


def free_place(near: XY, half: XY, sheet: Sheet, facts: Facts, taken: Sequence[Box], gap: float) -> XY | None:
    """The free place for a view's middle that is nearest to a place, sheet mm; None where there is none."""
    room = drawing_room(sheet)
    xs = np.arange(room.left + half[0], room.right - half[0], STEP).tolist()
    ys = np.arange(room.bottom + half[1] + LABEL_ROOM, room.top - half[1], STEP).tolist()
    spots: Iterable[XY] = sorted(((x, y) for x in xs for y in ys), key=lambda at: math.dist(at, near))
    return next(
        ((round(at[0], 3), round(at[1], 3)) for at in spots if is_free(at, half, sheet, facts, taken, gap)),
        None,
    )
