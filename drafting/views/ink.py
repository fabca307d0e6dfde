"""Ink of a view: its curves at scale, in the kinds of line their class and visibility ask for, and its automatic centers."""

import math

from drafting.document import View
from drafting.ink.elements import Arc, Element, Ellipse, Line, Polyline
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewCurve, ViewGeometry

TURN = 2 * math.pi


def line_kind(curve: ViewCurve, view: View) -> str | None:
    """The kind of line a curve is drawn in; None where the view leaves it out."""
    if not curve.visible:
        return "hidden" if view.hidden_lines else None
    if curve.edge_class == "smooth":
        return "tangent" if view.tangent_edges else None
    return "visible"


def element(curve: ViewCurve, scale: float, line: str) -> Element:
    """A curve in paper mm about the view's position."""
    d = [v * scale for v in curve.data]
    raw = curve.data
    if curve.kind == "line":
        return Line((d[0], d[1]), (d[2], d[3]), line)
    if curve.kind == "arc":
        return Arc((d[0], d[1]), d[2], raw[3], raw[4], line)
    if curve.kind == "ellipse":
        return Ellipse((d[0], d[1]), (d[2], d[3]), raw[4], raw[5], raw[6], line)
    return Polyline(tuple(zip(d[0::2], d[1::2], strict=True)), line)


def view_ink(view: View, geometry: ViewGeometry, profile: Profile, scale: float) -> list[Element]:
    """Hidden lines first, so that visible ones lie on top."""
    kinds = [(line_kind(c, view), c) for c in geometry.curves]
    order = {"hidden": 0, "tangent": 1, "visible": 2}
    drawn = sorted(((k, c) for k, c in kinds if k), key=lambda kc: order[kc[0]])
    out = [element(c, scale, k) for k, c in drawn]
    if view.centers:
        out += centers(view, geometry, profile, scale)
    return out


def centers(view: View, geometry: ViewGeometry, profile: Profile, scale: float) -> list[Element]:
    """Center marks on circles seen true and center lines of cylinders seen from the side, 3 mm past the outline."""
    past = 3.0
    out: list[Element] = []
    seen: dict[tuple[int, int], float] = {}
    for c in geometry.curves:
        if c.kind == "arc" and c.edge_class == "sharp" and c.data[4] - c.data[3] > math.pi * 1.01 and (c.visible or view.hidden_lines):
            key = (round(c.data[0] * 1e3), round(c.data[1] * 1e3))
            seen[key] = max(seen.get(key, 0.0), c.data[2])
    for (kx, ky), radius in seen.items():
        x, y, r = kx * 1e-3 * scale, ky * 1e-3 * scale, radius * scale
        if r >= 0.6:
            reach = r + (past if r > 4 else 1.5)
            out += [Line((x - reach, y), (x + reach, y), "center"), Line((x, y - reach), (x, y + reach), "center")]
    return out + _axes(view, geometry, scale, past)


def _axes(view: View, geometry: ViewGeometry, scale: float, past: float) -> list[Element]:
    """A center line midway between the two straight outlines of one face."""
    sides: dict[tuple[int, str], list[ViewCurve]] = {}
    for c in geometry.curves:
        if c.role == "silhouette" and c.kind == "line" and (c.visible or view.hidden_lines):
            sides.setdefault((c.instance, c.source), []).append(c)
    spans: dict[tuple[int, int, int, int], tuple[float, float, float, float, float, float]] = {}
    for curves in sides.values():
        axis = _axis(curves)
        if axis is None:
            continue
        px, py, ux, uy, lo, hi, width = axis
        offset = -px * uy + py * ux
        key = (round(ux * 1e4), round(uy * 1e4), round(offset * 1e3), 0)
        if width * scale < 1.2:
            continue
        old = spans.get(key)
        spans[key] = (px, py, ux, uy, min(lo, old[4]), max(hi, old[5])) if old else (px, py, ux, uy, lo, hi)
    out: list[Element] = []
    for px, py, ux, uy, lo, hi in spans.values():
        a, b = lo * scale - past, hi * scale + past
        foot = (px * ux + py * uy) * scale
        x, y = px * scale - ux * foot, py * scale - uy * foot
        out.append(Line((x + ux * a, y + uy * a), (x + ux * b, y + uy * b), "center"))
    return out


def _axis(curves: list[ViewCurve]) -> tuple[float, float, float, float, float, float, float] | None:
    """Point, direction and extent of the line midway between parallel outlines, and their distance."""
    best: tuple[float, float, float, float, float, float, float] | None = None
    x0, y0, x1, y1 = curves[0].data
    n = math.hypot(x1 - x0, y1 - y0)
    ux, uy = (x1 - x0) / n, (y1 - y0) / n
    if ux < -1e-9 or (abs(ux) <= 1e-9 and uy < 0):
        ux, uy = -ux, -uy
    ends = []
    for c in curves:
        a = c.data
        m = math.hypot(a[2] - a[0], a[3] - a[1])
        if abs((a[2] - a[0]) * uy - (a[3] - a[1]) * ux) > 1e-6 * m + 1e-9:
            return None
        ends += [(a[0], a[1]), (a[2], a[3])]
    offsets = [-x * uy + y * ux for x, y in ends]
    low, high = min(offsets), max(offsets)
    if high - low < 1e-6:
        return best
    middle = (low + high) / 2
    if any(min(abs(o - low), abs(o - high)) > 1e-4 * (high - low) + 1e-6 for o in offsets):
        return best
    along = [x * ux + y * uy for x, y in ends]
    return (-uy * middle, ux * middle, ux, uy, min(along), max(along), high - low)
