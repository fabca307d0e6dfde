"""Bolt circles through the centers of holes, whole or partial."""

import math
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
from drafting.annotation.measuring.ring import fitted_circle
from drafting.context import Context
from drafting.document import in_view
from drafting.errors import SizeError


class BoltCircle(Center):
    """The circle through the centers of three or more holes, with its own center marked and a radial mark at
    each hole; an arc where the holes are on one side. Ends: those of the arc."""

    kind: Literal["bolt_circle"] = "bolt_circle"


def span_of(angles: Array) -> tuple[float, float] | None:
    """From and to (radians, counterclockwise) of holes on one side of a circle; None where they stand all
    around it."""
    t = np.sort(angles % (2 * math.pi))
    gaps = np.diff(np.concatenate([t, [t[0] + 2 * math.pi]]))
    widest = int(gaps.argmax())
    if gaps[widest] <= 1.5 * float(np.delete(gaps, widest).max()) or gaps[widest] < math.radians(100):
        return None
    first = float(t[(widest + 1) % len(t)])
    return first, first + 2 * math.pi - float(gaps[widest])


def strokes(c: BoltCircle, context: Context) -> list[Stroke]:
    """The circle or arc, a radial mark at each hole, and the cross in its middle; paper mm about the view's
    position. Raises SizeError."""
    standard = context.profile.center_past
    holes = [circle_of(p, context) for p in c.picks]
    points = np.array([p for p, _ in holes]).reshape(-1, 2)
    if len(points) < 3:
        raise SizeError("A bolt circle runs through three holes or more.")
    center, radius, miss = fitted_circle(points)
    if miss > max(1e-4, 1e-6 * radius):
        raise SizeError("The centers of these holes do not lie on one circle.")
    center, radius, points = center * context.scale, radius * context.scale, points * context.scale
    radii = np.array([r for _, r in holes]) * context.scale
    angles = np.arctan2(points[:, 1] - center[1], points[:, 0] - center[0])
    span = span_of(angles)
    past = (0.0, 0.0)
    if span is None:
        first, last = float(angles.min()), float(angles.min()) + 2 * math.pi
    else:
        edge = [float(radii[int(np.abs(np.exp(1j * angles) - np.exp(1j * t)).argmin())]) for t in span]
        past = (past_of(c, 0, reach_of(edge[0], standard)), past_of(c, 1, reach_of(edge[1], standard)))
        first, last = (span[k] + (2 * k - 1) * (edge[k] + past[k]) / radius for k in (0, 1))
    zero = np.zeros(2)
    along = tuple(float((t - first) % (2 * math.pi)) * radius for t in angles)
    out = [
        Stroke(
            zero, zero, along, (-1, -1) if span is None else (0, 1), False, center, radius, first, last, past
        )
    ]
    for t, r in zip(angles, radii, strict=True):
        u = np.array([math.cos(t), math.sin(t)])
        reach = r + reach_of(r, standard)
        out.append(
            Stroke(
                center + u * (radius - reach), center + u * (radius + reach), (reach,), plain=bool(r <= SMALL)
            )
        )
    arm = min(max(0.12 * radius, 2.5), 8.0)
    return out + [Stroke(center - u * arm, center + u * arm, (arm,), plain=arm < SMALL) for u in np.eye(2)]


def propose(request: Request, context: Context) -> BoltCircle:
    """The circle through the holes picked."""
    return BoltCircle(id=request.identity, anchor=in_view(context.view_id, [s.pick for s in request.spots]))


KIND = center_kind(BoltCircle, "Bolt circle", strokes, propose)
