"""Another position of a part: its outline as it would be turned or moved, in phantom lines (ISO 128-2 and
ASME Y14.3: adjacent parts and extreme positions are drawn with long-dashed double-dotted lines; memory)."""

import contextlib
import math
from typing import Annotated, ClassVar, Literal

import numpy as np
import shapely
from pydantic import Field

from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.measure import LostPick, located, pick_side, resolve
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.document import MOST_PICKS, AnnotationBase, Pick, in_view
from drafting.errors import SizeError
from drafting.ink.elements import Element, Line, Polyline
from drafting.views.frame import Array
from drafting.views.geometry import ViewGeometry, arc_points
from drafting.views.regions import SNAP

STEPS = 48
SHARES = (0.1, 0.3, 0.5, 0.7, 0.9)
NEAR = 5e-4
"""How near a line lies to the outline that is of it, as a share of the view's size."""
Turn = Annotated[float, Field(ge=-360, le=360, allow_inf_nan=False)]
Shift = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]


class OtherPosition(AnnotationBase):
    """picks: what it turns about, a circle or a point of the model, then the lines of the part; angle:
    degrees counterclockwise in the view; right, up: how far it is moved, mm."""

    picks_taken: ClassVar[tuple[int, int]] = (2, MOST_PICKS)
    kind: Literal["other_position"] = "other_position"
    angle: Annotated[Turn, Field(title="Turned by, °")] = 30.0
    right: Annotated[Shift, Field(title="Moved right, mm")] = 0.0
    up: Annotated[Shift, Field(title="Moved up, mm")] = 0.0


def _center(pick: Pick, context: Context) -> Array:
    """What it turns about, in the plane of the view. Raises SizeError."""
    thing = located(pick, context)
    if isinstance(thing, Straight):
        a, b = context.frame.flat(thing.a), context.frame.flat(thing.b)
        if float(np.linalg.norm(b - a)) > 1e-6:
            raise SizeError("A part turns about a circle, its center, or a point; pick one of these.")
        return a
    return context.frame.flat(thing.center if isinstance(thing, Round) else thing.at)


def _flat(pick: Pick, context: Context) -> Array:
    """A line of the part as points of the view's plane. Raises SizeError."""
    thing = resolve(pick, context)
    if isinstance(thing, Straight):
        return np.array([context.frame.flat(thing.a), context.frame.flat(thing.b)])
    y = np.cross(thing.axis, thing.x_axis)
    return np.array(
        [
            context.frame.flat(thing.center + thing.radius * (thing.x_axis * math.cos(t) + y * math.sin(t)))
            for t in np.linspace(thing.first, thing.last, STEPS + 1)
        ]
    )


def _lines(a: OtherPosition, context: Context) -> tuple[list[Array], int]:
    """The lines of the part where it would be, and how many are curves that are not drawn. Raises SizeError
    where what it turns about is gone, or all of the part."""
    center = _center(a.picks[0], context)
    c, s = math.cos(math.radians(a.angle)), math.sin(math.radians(a.angle))
    turn, shift = np.array([[c, -s], [s, c]]), np.array([a.right, a.up])
    out, left, lost = [], 0, 0
    for pick in a.picks[1:]:
        try:
            p = _flat(pick, context)
        except LostPick:
            lost += 1
            continue
        except SizeError:
            left += 1
            continue
        out.append(center + (p - center) @ turn.T + shift)
    if not out:
        raise LostPick("The part whose other position this is, is no longer in the model.")
    return out, left + lost


def ink(a: OtherPosition, context: Context) -> list[Element]:
    """Its lines in phantom, paper mm about the view's position. Raises SizeError."""
    out: list[Element] = []
    for p in _lines(a, context)[0]:
        points = [(float(x), float(y)) for x, y in (context.frame.drawn(q) * context.scale for q in p)]
        if len(points) == 2:
            if math.dist(*points) > 1e-6:
                out.append(Line(points[0], points[1], "phantom"))
        else:
            closed = math.dist(points[0], points[-1]) < 1e-6
            out.append(Polyline(tuple(points[:-1] if closed else points), "phantom", closed))
    return out


def row(a: OtherPosition, context: Context) -> Row:
    """How it is turned and moved."""
    _lines(a, context)
    said = [f"turned {a.angle:g}°"] if a.angle else []
    if a.right or a.up:
        said.append(f"moved {written(math.hypot(a.right, a.up), context.profile)}")
    return Row(", ".join(said) or "as it is")


def findings(a: OtherPosition, context: Context) -> list[str]:
    """Lines that could not be drawn."""
    left = _lines(a, context)[1]
    what = "lines of a part's other position are free curves or gone, and are not drawn"
    return [f"{left} {what}."] if left else []


def check(a: OtherPosition, context: Context) -> None:
    """Raises SizeError where it cannot be drawn, or lies on the part itself."""
    _lines(a, context)
    if not a.angle % 360 and not a.right and not a.up:
        raise SizeError("This is where the part is; turn or move it.")


def propose(request: Request, context: Context) -> OtherPosition:
    """The part of the first spot turned about the second one, as far as the third spot or the pointer says;
    whole degrees. Raises SizeError."""
    if len(request.spots) < 2 or not request.spots[0].pick.instance and not request.spots[0].pick.source:
        raise SizeError("Pick an edge of the part, then the circle or point that it turns about.")
    if request.geometry is None:
        raise SizeError("The view is still being derived.")
    part, about = request.spots[0], request.spots[1].sided(context)
    if part.pick.role in ("added", "underlay"):
        raise SizeError("Pick an edge of a part of the model.")
    center = _center(about, context)
    at = np.array(
        request.spots[2].at if len(request.spots) > 2 else np.array(request.pointer) / context.scale
    )
    first, last = (math.atan2(*(np.array(p) - center)[::-1]) for p in (part.at, at))
    angle = float(round(math.degrees(last - first))) % 360
    lines = _outline(part.pick.instance, request.geometry, context)
    return OtherPosition(
        id=request.identity,
        anchor=in_view(context.view_id, [about, *lines][:MOST_PICKS]),
        angle=angle - 360 if angle > 180 else angle,
    )


def _outline(path: str, geometry: ViewGeometry, context: Context) -> list[Pick]:
    """The lines of a part's outline as if it stood alone, also where others hide it. Raises SizeError where
    they do not close."""
    lines = _own_lines(path, geometry, context)
    size = max(b - a for a, b in zip(geometry.low, geometry.high, strict=True))
    grid = max(SNAP * size / 100, 1e-6)
    drawn = shapely.set_precision(np.array([p for _, p in lines]), grid, mode="pointwise")
    noded = shapely.unary_union(drawn, grid_size=grid)
    closed = shapely.union_all(shapely.get_parts(shapely.polygonize(shapely.get_parts(noded))))
    if closed.is_empty:
        raise SizeError("The view shows no closed outline of that part.")
    near = closed.boundary.buffer(NEAR * size)
    out: list[Pick] = []
    taken = shapely.Polygon()
    for pick, line in lines:
        inner = shapely.line_interpolate_point(line, SHARES, normalized=True)  # its ends are of others, too
        within = shapely.MultiPoint(shapely.get_coordinates(inner))
        if near.contains(within) and not taken.contains(within):  # what lies behind another is drawn once
            out.append(pick)
            taken = taken.union(line.buffer(NEAR * size))
    return out


def _own_lines(path: str, geometry: ViewGeometry, context: Context) -> list[tuple[Pick, shapely.LineString]]:
    """All lines of a part in a view's plane: its edges as the model has them, and outlines and free curves as
    the view has them, hidden or not."""
    found = context.facts.part_of(path)
    out = []
    for e in found[1].edges if found else []:
        pick = Pick(instance=path, source=e.name)
        with contextlib.suppress(SizeError):
            line = shapely.LineString(_flat(pick, context))
            if line.length > 1e-6:
                out.append((pick, line))
    known = {pick.source for pick, _ in out}
    for c in geometry.curves:
        if not c.source or c.source in known or c.edge_class in ("smooth", "thread", "break"):
            continue
        if c.role in ("added", "underlay") or geometry.instances[c.instance] != path:
            continue
        points = arc_points(c, 65)
        pick = Pick(instance=path, source=c.source, role=c.role)
        with contextlib.suppress(SizeError):
            x, y = points[len(points) // 2]
            pick = pick_side(pick, (float(x), float(y)), context)
        out.append((pick, shapely.LineString(points)))
    return out


KIND = Kind(
    OtherPosition,
    "Other position",
    ink=ink,
    row=row,
    findings=findings,
    check=check,
    looks=True,
    propose=propose,
)
