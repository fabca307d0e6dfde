"""Ink of a view: its curves at scale, in the kinds of line their class and visibility ask for, and its automatic centers."""

import math

from drafting.document import View
from drafting.ink.elements import Arc, Element, Ellipse, Line, Polyline
from drafting.standards.profile import Profile
from drafting.views.clip import parameters, part
from drafting.views.geometry import ViewCurve, ViewGeometry

TURN = 2 * math.pi


def line_kind(curve: ViewCurve, view: View) -> str | None:
    """The kind of line a curve is drawn in; None where the view leaves it out."""
    if curve.edge_class == "thread":
        return None if not view.threads or (not curve.visible and not view.hidden_lines) else "thread" if curve.visible else "thread_hidden"
    if not curve.visible:
        return "hidden" if view.hidden_lines else None
    if curve.edge_class == "smooth":
        return ("tangent" if view.tangent_thin else "visible") if view.tangent_edges else None
    return "break" if curve.edge_class == "break" else "visible"


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


ORDER = {"hidden": 0, "thread_hidden": 0, "tangent": 1, "thread": 1}


def view_ink(view: View, geometry: ViewGeometry, profile: Profile, scale: float) -> list[Element]:
    """Hidden lines first, so that visible ones lie on top. Changes of single edges are applied."""
    if view.shading == "shaded" and geometry.image:
        return []
    drawn = [(kind, c) for c in geometry.curves for kind, c in _changed(c, line_kind(c, view), view, geometry)]
    drawn.sort(key=lambda kc: ORDER.get(kc[0], 2))
    ends = _visible_ends([c for kind, c in drawn if kind == "visible"])
    gap = profile.line("hidden").dashes[1] / scale if profile.line("hidden").dashes else 0.0
    out = [element(_held_back(c, ends, gap) if kind == "hidden" else c, scale, kind) for kind, c in drawn]
    if view.centers:
        out += centers(view, geometry, profile, scale)
    return out


def _changed(c: ViewCurve, kind: str | None, view: View, geometry: ViewGeometry) -> list[tuple[str, ViewCurve]]:
    """A curve in its kind of line, or in pieces where the drafter changed a part of its edge."""
    path = geometry.instances[c.instance]
    mine = [x for x in view.lines if x.source == c.source and x.role == c.role and x.instance == path]
    if not mine:
        return [(kind, c)] if kind else []
    t0, t1 = parameters(c)
    stops = sorted({0.0, 1.0, *(v for x in mine for v in (x.first, x.last))})
    out: list[tuple[str, ViewCurve]] = []
    for a, b in zip(stops, stops[1:], strict=False):
        change = next((x for x in mine if x.first <= a and b <= x.last), None)
        line = kind if change is None else None if change.line == "none" else change.line
        if line and b - a > 1e-9:
            out.append((line, part(c, t0 + (t1 - t0) * a, t0 + (t1 - t0) * b) if (a, b) != (0.0, 1.0) else c))
    return out


def _key(x: float, y: float) -> tuple[int, int]:
    return round(x * 1e3), round(y * 1e3)


def _visible_ends(curves: list[ViewCurve]) -> dict[tuple[int, int], list[tuple[float, float]]]:
    """Ends of visible lines with the direction in which each line leaves its end."""
    out: dict[tuple[int, int], list[tuple[float, float]]] = {}
    for c in curves:
        if c.kind == "line":
            x0, y0, x1, y1 = c.data
            n = math.hypot(x1 - x0, y1 - y0) or 1.0
            out.setdefault(_key(x0, y0), []).append(((x1 - x0) / n, (y1 - y0) / n))
            out.setdefault(_key(x1, y1), []).append(((x0 - x1) / n, (y0 - y1) / n))
    return out


def _held_back(c: ViewCurve, ends: dict[tuple[int, int], list[tuple[float, float]]], gap: float) -> ViewCurve:
    """A hidden line that goes on from a visible one starts with a gap (ASME Y14.2, common practice)."""
    if c.kind != "line" or not gap:
        return c
    x0, y0, x1, y1 = c.data
    n = math.hypot(x1 - x0, y1 - y0)
    if n < 4 * gap:
        return c
    ux, uy = (x1 - x0) / n, (y1 - y0) / n
    if any(dx * ux + dy * uy < -1 + 1e-6 for dx, dy in ends.get(_key(x0, y0), [])):
        x0, y0 = x0 + ux * gap, y0 + uy * gap
    if any(dx * ux + dy * uy > 1 - 1e-6 for dx, dy in ends.get(_key(x1, y1), [])):
        x1, y1 = x1 - ux * gap, y1 - uy * gap
    return c.model_copy(update={"data": [x0, y0, x1, y1]})


def centers(view: View, geometry: ViewGeometry, profile: Profile, scale: float) -> list[Element]:
    """Center marks on circles seen true and center lines of cylinders seen from the side, 3 mm past the outline."""
    past = 3.0
    out: list[Element] = []
    seen: dict[tuple[int, int], float] = {}
    for c in geometry.curves:
        if c.kind == "arc" and c.edge_class in ("sharp", "cut") and c.data[4] - c.data[3] > math.pi * 1.01 and (c.visible or view.hidden_lines):
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
        if c.role in ("silhouette", "cut") and c.edge_class != "thread" and c.kind == "line" and (c.visible or view.hidden_lines):
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
