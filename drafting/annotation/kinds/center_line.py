"""Center lines: axes seen from the side, lines between edges or points, symmetry axes."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from drafting.annotation.kinds.centers import Array, Center, Stroke, center_kind, past_of
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.measuring import measure
from drafting.annotation.measuring.traces import Round, Straight
from drafting.context import Context
from drafting.document import Pick, in_view
from drafting.errors import SizeError


class CenterLine(Center):
    """The axis of cylinders and cones (picks are faces, all on one axis), the line midway between two
    parallel edges, the line through two points, or without picks a symmetry axis of the view. Ends: from and
    to along it."""

    kind: Literal["center_line"] = "center_line"
    axis: Literal["", "horizontal", "vertical"] = ""


def strokes(c: CenterLine, context: Context) -> list[Stroke]:
    """The one line, paper mm about the view's position. Raises SizeError where it cannot be."""
    if c.axis:
        low, high = _model_extents(context)
        k = 0 if c.axis == "horizontal" else 1
        a = (low + high) / 2
        b = a.copy()
        a[k], b[k] = low[k], high[k]
    elif not c.picks:
        raise SizeError("A center line needs something to be the center of.")
    elif any(p.point for p in c.picks):
        a, b = _through(c.picks, context)
    elif all(p.role != "edge" and p.side == 0 for p in c.picks):
        a, b = _axis(c.picks, context)
    else:
        a, b = _midway(c.picks, context)
    a, b = context.frame.drawn(a) * context.scale, context.frame.drawn(b) * context.scale
    n = float(np.linalg.norm(b - a))
    if n < 1e-9:
        raise SizeError("That axis is seen end-on here; put a center mark on its circle.")
    u = (b - a) / n
    past = (past_of(c, 0, context.profile.center_past), past_of(c, 1, context.profile.center_past))
    return [Stroke(a - u * past[0], b + u * past[1], (), (0, 1), past=past)]


def _model_extents(context: Context) -> tuple[Array, Array]:
    corners = [
        (np.array(i.matrix)[:3, :3] @ np.array([x, y, z]) + np.array(i.matrix)[:3, 3])
        for i in context.facts.instances
        for x, y, z in np.array(
            np.meshgrid(*zip(context.facts.parts[i.part].low, context.facts.parts[i.part].high, strict=True))
        ).T.reshape(-1, 3)
    ]
    flat = (np.array(corners) - context.frame.middle) @ context.frame.matrix[:2].T
    return flat.min(0), flat.max(0)


def _axis(picks: Sequence[Pick], context: Context) -> tuple[Array, Array]:
    """From the first to the last end of all picked faces along their common axis."""
    found = [measure.axis_of(p, context)[0] for p in picks]
    ends = np.array([context.frame.flat(p) for s in found for p in (s.a, s.b)])
    d = ends[1] - ends[0]
    n = float(np.linalg.norm(d))
    if n < 1e-9:
        raise SizeError("That axis is seen end-on here; put a center mark on its circle.")
    u = d / n
    along = (ends - ends[0]) @ u
    if np.abs((ends - ends[0]) @ np.array([-u[1], u[0]])).max() > 1e-4:
        raise SizeError("These faces do not share one axis.")
    return ends[0] + u * along.min(), ends[0] + u * along.max()


def _through(picks: Sequence[Pick], context: Context) -> tuple[Array, Array]:
    if len(picks) != 2:
        raise SizeError("Pick two points for a line through them.")
    a, b = (context.frame.flat(measure.point_of(p, context)) for p in picks)
    if np.linalg.norm(b - a) < 1e-9:
        raise SizeError("Both points lie at one place in this view.")
    return a, b


def _midway(picks: Sequence[Pick], context: Context) -> tuple[Array, Array]:
    things = [measure.resolve(p, context) for p in picks]
    if len(things) != 2 or not all(isinstance(t, Straight) for t in things):
        raise SizeError("Pick two parallel edges for the line between them.")
    ends = np.array([context.frame.flat(p) for t in things for p in (t.a, t.b)])  # type: ignore[union-attr]
    u, v = ends[1] - ends[0], ends[3] - ends[2]
    nu, nv = float(np.linalg.norm(u)), float(np.linalg.norm(v))
    if min(nu, nv) < 1e-9 or abs(u[0] * v[1] - u[1] * v[0]) > 1e-6 * nu * nv:
        raise SizeError(
            "These edges are not parallel in this view; a center line runs between parallel ones."
        )
    u = u / nu
    n = np.array([-u[1], u[0]])
    offset = float((ends[0] @ n + ends[2] @ n) / 2)
    if abs(float((ends[0] - ends[2]) @ n)) < 1e-6:
        raise SizeError("Both edges lie on one line; there is nothing between them.")
    along = ends @ u
    return u * along.min() + n * offset, u * along.max() + n * offset


def propose(request: Request, context: Context) -> CenterLine:
    """The axis of a face picked, the line through two points or between two edges, or by settings `axis` a
    symmetry axis of the view.

    Raises SizeError.
    """
    axis = request.settings.get("axis", "")
    picks = [s.pick for s in request.spots]
    if axis in ("horizontal", "vertical"):
        return CenterLine(id=request.identity, anchor=in_view(context.view_id), axis=axis)
    if len(picks) == 1 and picks[0].role != "edge":
        return CenterLine(id=request.identity, anchor=in_view(context.view_id, picks))
    if len(picks) != 2:
        raise SizeError("Pick a second edge or point for the line between them.")
    points = [_point(s, request.reach, context) for s in request.spots]
    if not all(p.point for p in points):
        points = request.picks(context)
    return CenterLine(id=request.identity, anchor=in_view(context.view_id, points))


def _point(spot: Spot, reach: float, context: Context) -> Pick:
    """The pick as a point: the center of a circle, or an end or the middle of a straight edge within reach;
    else as it was."""
    pick = spot.pick
    thing = measure.resolve(pick, context) if pick.role == "edge" else None
    if isinstance(thing, Round):
        return pick.model_copy(update={"point": "center"})
    if isinstance(thing, Straight):
        places = {"start": thing.a, "end": thing.b, "middle": (thing.a + thing.b) / 2}
        frame = context.frame
        away = {
            name: float(np.linalg.norm(frame.drawn(frame.flat(p)) - np.array(spot.at)))
            for name, p in places.items()
        }
        name = min(away, key=lambda n: away[n])
        if away[name] <= reach:
            return pick.model_copy(update={"point": name})
    return pick


KIND = center_kind(CenterLine, "Center line", strokes, propose)
