"""Center marks on circles and arcs, in rows joined."""

from typing import Literal

import numpy as np

from drafting.annotation.kinds.centers import (
    SMALL,
    Array,
    Center,
    Stroke,
    center_kind,
    circle_of,
    past_of,
    reach_of,
)
from drafting.annotation.kinds.kind import Request
from drafting.context import Context
from drafting.document import in_view
from drafting.errors import SizeError


class CenterMark(Center):
    """A cross on a circle or arc; of several, rows and columns of circles share their lines. Ends: right, up,
    left, down."""

    kind: Literal["center_mark"] = "center_mark"


def strokes(c: CenterMark, context: Context) -> list[Stroke]:
    """Level and upright lines through the circles, shared by those in a row; paper mm about the view's
    position. Raises SizeError."""
    if not c.picks:
        raise SizeError("A center mark is put on a circle or an arc.")
    circles = [circle_of(p, context) for p in c.picks]
    centers = np.array([p for p, _ in circles]) * context.scale
    radii = np.array([r for _, r in circles]) * context.scale
    return [
        *_rows(c, centers, radii, 0, context.profile.center_past),
        *_rows(c, centers, radii, 1, context.profile.center_past),
    ]


def _rows(c: CenterMark, centers: Array, radii: Array, axis: int, standard: float) -> list[Stroke]:
    """One line along the axis (0 level, 1 upright) through the centers of each row."""
    out: list[Stroke] = []
    across = centers[:, 1 - axis]
    order = np.lexsort((centers[:, axis], across))
    step = np.concatenate([[True], np.diff(across[order]) > 1e-4])
    u = np.eye(2)[axis]
    for row in np.split(order, np.flatnonzero(step)[1:]):
        place = centers[row, axis]
        low, high = row[int((place - radii[row]).argmin())], row[int((place + radii[row]).argmax())]
        past = (
            past_of(c, axis + 2, reach_of(radii[low], standard)),
            past_of(c, axis, reach_of(radii[high], standard)),
        )
        a, b = centers[low] - u * (radii[low] + past[0]), centers[high] + u * (radii[high] + past[1])
        nodes = tuple(float((centers[i] - a) @ u) for i in row)
        plain = len(row) == 1 and radii[row[0]] <= SMALL
        out.append(Stroke(a, b, nodes, (axis + 2, axis), plain, past=past))
    return out


def propose(request: Request, context: Context) -> CenterMark:
    """A mark on the circles picked."""
    return CenterMark(id=request.identity, anchor=in_view(context.view_id, [s.pick for s in request.spots]))


KIND = center_kind(CenterMark, "Center mark", strokes, propose)
