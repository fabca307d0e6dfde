"""Ink of a view: its curves at scale, in the kinds of line their class and visibility ask for."""

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
        return (
            None
            if not view.threads or (not curve.visible and not view.hidden_lines)
            else "thread"
            if curve.visible
            else "thread_hidden"
        )
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
    off = {n for n, path in enumerate(geometry.instances) if path in set(view.no_hidden)}
    shown = [c for c in geometry.curves if c.visible or c.instance not in off]
    drawn = [(kind, c) for c in shown for kind, c in _changed(c, line_kind(c, view), view, geometry)]
    drawn.sort(key=lambda kc: ORDER.get(kc[0], 2))
    ends = _visible_ends([c for kind, c in drawn if kind == "visible"])
    gap = profile.line("hidden").dashes[1] / scale if profile.line("hidden").dashes else 0.0
    return [element(_held_back(c, ends, gap) if kind == "hidden" else c, scale, kind) for kind, c in drawn]


def _changed(
    c: ViewCurve, kind: str | None, view: View, geometry: ViewGeometry
) -> list[tuple[str, ViewCurve]]:
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
