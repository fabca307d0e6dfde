"""Marks that views leave on the sheet besides their own lines: cutting lines, viewing arrows, outlines and
borders of details, breaks, hatching, labels. All in paper mm about a view's position.

Sources: ISO 128-3, ASME Y14.3 and Y14.2 (memory): ISO a thin long-dashed dotted line with wide ends and
corners, ASME a wide line.
"""

import math

import numpy as np
import shapely
import shapely.affinity
from numpy.typing import NDArray

from drafting.document import Dimension, Drawing, Sheet, view_scale
from drafting.ink.elements import Arc, Element, Fill, Image, Line, Polyline, Text
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewGeometry
from drafting.views.interrupted import Warp, break_lines
from drafting.views.present import outline_polygon
from drafting.views.section import legs_of, perpendicular
from drafting.views.view import View

Floats = NDArray[np.float64]
XY = tuple[float, float]
END = 7.0
"""Length of the wide ends of a cutting line, mm."""
PAST = 8.0
"""How far a cutting line stands out beyond the view, mm."""


def _xy(p: Floats) -> XY:
    return float(p[0]), float(p[1])


# ---- cutting lines and viewing arrows ----------------------------------------------------------------------


def cutting_line_ink(
    section: View, parent: View, sheet: Sheet, parent_geometry: ViewGeometry | None, profile: Profile
) -> list[Element]:
    """The cutting line of a section on its parent, with arrows and letters."""
    if section.section is None or not section.section.line.shown:
        return []
    line = section.section.line
    scale = view_scale(sheet, parent).factor
    warp = Warp.of(parent, scale)
    p = np.array([warp.point((q.x, q.y)) for q in line.points]) * scale
    d = legs_of([_xy(q) for q in p])
    p = _stretched(p, d, parent_geometry, scale, line.form)
    toward = [-perpendicular(leg) * line.viewer for leg in (d[0], d[-1])]
    out: list[Element] = []
    size = END if profile.standard == "ISO" else END * 1.2
    half = line.form == "half"
    if profile.standard == "ISO":
        out += [Line(_xy(a), _xy(b), "cutting") for a, b in zip(p, p[1:], strict=False)]
        out.append(Line(_xy(p[0]), _xy(p[0] + d[0] * size), "cutting_end"))
        if not half:
            out.append(Line(_xy(p[-1]), _xy(p[-1] - d[-1] * size), "cutting_end"))
        for i in range(1, len(p) - 1):
            out.append(
                Polyline(
                    (_xy(p[i] - d[i - 1] * size * 0.5), _xy(p[i]), _xy(p[i] + d[i] * size * 0.5)),
                    "cutting_end",
                )
            )
    else:
        out.append(Polyline(tuple(_xy(q) for q in p), "cutting"))
    ends = [(p[0], toward[0], -d[0])] if half else [(p[0], toward[0], -d[0]), (p[-1], toward[1], d[-1])]
    for end, sight, outward in ends:
        out += _sight_arrow(end, sight, outward, section.letter, profile)
    return out


def _stretched(p: Floats, d: Floats, geometry: ViewGeometry | None, scale: float, form: str) -> Floats:
    """Ends drawn out so that they stand clear of the view."""
    if geometry is None:
        return p
    out = p.copy()
    box = shapely.box(
        geometry.low[0] * scale, geometry.low[1] * scale, geometry.high[0] * scale, geometry.high[1] * scale
    )
    ends = [(0, -d[0])] if form == "half" else [(0, -d[0]), (len(p) - 1, d[-1])]
    for index, outward in ends:
        ray = shapely.LineString([_xy(p[index]), _xy(p[index] + outward * 1e4)])
        cut = ray.intersection(box)
        if not cut.is_empty:
            far = max(
                (np.array(c) for g in shapely.get_parts(cut) for c in g.coords),
                key=lambda c: float((c - p[index]) @ outward),
            )
            out[index] = far + outward * PAST
    return out


def _sight_arrow(
    tip_line: Floats, sight: Floats, outward: Floats, letter: str, profile: Profile
) -> list[Element]:
    """An arrow in the direction of sight at the end of a line, and its letter."""
    length = profile.arrow_length * 3.2
    a, b = (
        (tip_line - sight * length, tip_line)
        if profile.standard == "ISO"
        else (tip_line, tip_line + sight * length)
    )
    shaft = "cutting_end" if profile.standard == "ASME" else "dimension"
    out: list[Element] = [
        Line(_xy(a), _xy(b - sight * profile.arrow_length), shaft),
        big_arrow(b, sight, profile),
    ]
    height = profile.label_height
    at = (a if profile.standard == "ISO" else b) - sight * (
        height * 0.2 if profile.standard == "ISO" else -height * 0.2
    )
    at = at + outward * (height * 0.75) if abs(float(outward @ sight)) < 0.5 else at
    out.append(Text((float(at[0]), float(at[1]) - height / 2), letter, height, "dimension", "middle"))
    return out


def big_arrow(tip: Floats, toward: Floats, profile: Profile) -> Fill:
    """An arrowhead one and a half times as large as on sizes."""
    back = tip - toward * profile.arrow_length * 1.5
    side = np.array([-toward[1], toward[0]]) * profile.arrow_width * 0.75
    return Fill((_xy(tip), _xy(back + side), _xy(back - side)), "dimension")


def viewing_arrow_ink(
    auxiliary: View, parent: View, sheet: Sheet, geometry: ViewGeometry | None, profile: Profile
) -> list[Element]:
    """The arrow of an auxiliary view on its parent: in the direction of sight, before the line it is square
    to, with its letter."""
    a = auxiliary.auxiliary
    if a is None or geometry is None:
        return []
    scale = view_scale(sheet, parent).factor
    along = np.array([a.along.x, a.along.y])
    viewer = perpendicular(along) * a.viewer
    tip = np.array([a.at.x, a.at.y]) * scale + viewer * 5.0
    start = tip + viewer * profile.arrow_length * 4
    height = profile.label_height
    at = start + viewer * height * 0.9
    return [
        Line(
            _xy(start),
            _xy(tip + viewer * profile.arrow_length),
            "cutting_end" if profile.standard == "ASME" else "dimension",
        ),
        big_arrow(tip, -viewer, profile),
        Text((float(at[0]), float(at[1]) - height / 2), auxiliary.letter, height, "dimension", "middle"),
    ]


# ---- details -----------------------------------------------------------------------------------------------


def detail_outline_ink(detail: View, parent: View, sheet: Sheet, profile: Profile) -> list[Element]:
    """The outline on the parent that tells what a detail shows, with its letter, on a leader if wanted."""
    d = detail.detail
    if d is None:
        return []
    scale = view_scale(sheet, parent).factor
    warp = Warp.of(parent, scale)
    c = np.array(warp.point((d.center.x, d.center.y))) * scale
    out: list[Element] = []
    line = "outline" if profile.standard == "ISO" else "phantom"
    if d.shape == "circle":
        out.append(Arc(_xy(c), d.radius * scale, 0.0, 2 * math.pi, line))
    else:
        out.append(
            Polyline(
                tuple(_xy(np.array(warp.point(p)) * scale) for p in outline_polygon(d)), line, closed=True
            )
        )
    u = np.array([math.sqrt(0.5), math.sqrt(0.5)])
    polygon = np.array([warp.point(p) for p in outline_polygon(d)]) * scale
    edge = c + u * float(((polygon - c) @ u).max())
    height = profile.label_height
    if d.leader:
        knee = edge + u * 6.0
        end = knee + np.array([height * 0.8, 0.0])
        out += [Polyline((_xy(edge), _xy(knee), _xy(end)), "dimension")]
        at = end + np.array([height * 0.6, 0.0])
    else:
        at = edge + u * height * 0.7
    out.append(Text((float(at[0]), float(at[1]) - height / 2), detail.letter, height, "dimension", "middle"))
    return out


def detail_border_ink(view: View, scale: float, profile: Profile) -> list[Element]:
    """The border of the detail itself: smooth as its outline, or jagged."""
    d = view.detail
    if d is None or not d.border:
        return []
    if d.shape == "circle" and not d.jagged:
        return [Arc((0.0, 0.0), d.radius * scale, 0.0, 2 * math.pi, "break")]
    polygon = (np.array(outline_polygon(d)) - [d.center.x, d.center.y]) * scale
    return [
        Polyline(tuple(_xy(p) for p in (_jagged(polygon) if d.jagged else polygon)), "break", closed=True)
    ]


def _jagged(polygon: Floats) -> Floats:
    """A saw-toothed line along a closed polygon, teeth 1.2 mm high and about 3 mm long."""
    ring = shapely.LinearRing(polygon)
    count = max(8, round(ring.length / 3.0)) * 2
    places = [ring.interpolate(i / count, normalized=True) for i in range(count)]
    p = np.array([[q.x, q.y] for q in places])
    t = np.roll(p, -1, axis=0) - np.roll(p, 1, axis=0)
    n = np.stack([t[:, 1], -t[:, 0]], 1) / np.maximum(np.linalg.norm(t, axis=1)[:, None], 1e-9)
    return np.asarray(p - n * np.where(np.arange(count) % 2 == 0, 0.0, 1.2)[:, None])


# ---- breaks, half sections, pictures -----------------------------------------------------------------------


def interruption_ink(view: View, geometry: ViewGeometry, scale: float) -> list[Element]:
    """Break lines at each gap of an interrupted view."""
    warp = Warp.of(view, scale)
    out: list[Element] = []
    for i in view.interruptions:
        flat = i.across == "horizontal"
        first = min(i.first, i.last)
        at = warp.point((first, 0.0))[0] if flat else warp.point((0.0, first))[1]
        gap = i.gap / scale
        moved = i.model_copy(update={"first": at, "last": at + gap})
        low, high = _crossed(geometry, 0 if flat else 1, at, gap)
        for points in break_lines(moved, low, high, scale):
            out.append(
                Polyline(
                    tuple(((x * scale, y * scale) if flat else (y * scale, x * scale)) for x, y in points),
                    "break",
                )
            )
    return out


def _crossed(geometry: ViewGeometry, axis: int, at: float, gap: float) -> tuple[float, float]:
    """How far up and down the part reaches at a break: ends of lines there, else the whole view."""
    across: list[float] = []
    for c in geometry.curves:
        if c.kind in ("line", "polyline") and c.visible:
            for i in range(0, len(c.data), 2):
                if min(abs(c.data[i + axis] - at), abs(c.data[i + axis] - at - gap)) < 1e-6:
                    across.append(c.data[i + 1 - axis])
    if len(across) < 2:
        return geometry.low[1 - axis], geometry.high[1 - axis]
    return min(across), max(across)


def half_section_ink(view: View, geometry: ViewGeometry, scale: float) -> list[Element]:
    """The center line at which the cut half of a half section ends."""
    s = view.section
    if s is None or view.kind != "section" or s.line.form != "half" or view.fold is None:
        return []
    d = legs_of([(p.x, p.y) for p in s.line.points])[0]
    place = float(np.array([s.line.points[-1].x, s.line.points[-1].y]) @ d) * scale
    along, outward = d, perpendicular(d)
    corners = (
        np.array(
            [[x, y] for x in (geometry.low[0], geometry.high[0]) for y in (geometry.low[1], geometry.high[1])]
        )
        * scale
    )
    reach = corners @ outward
    return [
        Line(
            _xy(along * place + outward * (float(reach.min()) - 3)),
            _xy(along * place + outward * (float(reach.max()) + 3)),
            "center",
        )
    ]


def picture_ink(geometry: ViewGeometry, scale: float) -> list[Element]:
    """The shaded picture behind the lines."""
    import base64

    i = geometry.image
    return (
        [
            Image(
                (i.left * scale, i.bottom * scale), i.width * scale, i.height * scale, base64.b64decode(i.png)
            )
        ]
        if i
        else []
    )


# ---- labels ------------------------------------------------------------------------------------------------


def label_lines(drawing: Drawing, sheet: Sheet, view: View) -> list[str]:
    """What stands at a view: its letter by kind, and its scale where it differs from the sheet's; the
    drafter's words where he gave some."""
    own_scale = view.scale is not None and view.scale != sheet.scale
    named = view.kind in ("section", "detail", "auxiliary")
    if view.label.shown is False or not (named or own_scale or view.label.text or view.label.shown):
        return []
    iso = drawing.profile.standard == "ISO"
    scale = str(view_scale(sheet, view))
    if view.label.text:
        return [view.label.text, *([f"({scale})" if iso else f"SCALE {scale}"] if own_scale else [])]
    letter = view.letter
    profile = drawing.profile
    wording = {
        "section": profile.section_label or ("{letter}-{letter}" if iso else "SECTION {letter}-{letter}"),
        "detail": profile.detail_label or ("{letter}" if iso else "DETAIL {letter}"),
        "auxiliary": profile.auxiliary_label or ("{letter}" if iso else "VIEW {letter}-{letter}"),
    }
    title = wording.get(view.kind, "").replace("{letter}", letter)
    turned = f" ↻{abs(view.turned):g}°" if view.turned and named else ""
    if iso:
        line = f"{title}{turned}" + (f" ({scale})" if own_scale or view.kind == "detail" else "")
        return [line.strip()] if line.strip() else []
    return [
        *([title + turned] if title else []),
        *([f"SCALE {scale}"] if own_scale or view.kind == "detail" else []),
    ]


def _past_sizes(
    sheet: Sheet, view: View, scale: float, lettering: float, low: float, high: float
) -> tuple[float, float]:
    """The lower and upper edge past the rows of sizes below and above the view, so that no extension line
    runs through the label."""
    sizes = [
        a
        for a in sheet.annotations
        if isinstance(a, Dimension) and a.view == view.id and a.kind in ("linear", "ordinate")
    ]
    rows = [a.place.at(scale)[1] for a in sizes]
    above, below = [y for y in rows if y > high + 1], [y for y in rows if y < low - 1]
    return min([low, *(y - lettering for y in below)]), max([high, *(y + 1.5 * lettering for y in above)])


def label_ink(drawing: Drawing, sheet: Sheet, view: View, geometry: ViewGeometry) -> list[Element]:
    """The label, above the view (ISO) or below it (ASME)."""
    lines = label_lines(drawing, sheet, view)
    f, h = view_scale(sheet, view).factor, drawing.profile.label_height
    middle = (geometry.low[0] + geometry.high[0]) / 2 * f
    if not lines:
        return []
    low, high = geometry.low[1] * f, geometry.high[1] * f
    if view.detail and view.detail.border:
        ys = [y - view.detail.center.y for _, y in outline_polygon(view.detail)]
        xs = [x - view.detail.center.x for x, _ in outline_polygon(view.detail)]
        low, high, middle = min(ys) * f, max(ys) * f, (min(xs) + max(xs)) / 2 * f
    only_scale = view.kind in ("main", "projected", "pictorial") and not view.label.text
    low, high = _past_sizes(sheet, view, f, drawing.profile.text_height, low, high)
    if drawing.profile.standard == "ISO" and not only_scale:
        top = high + (4.0 if view.detail else 6.0)
        return [
            Text((middle, top + (len(lines) - 1 - i) * h * 1.5), t, h, "dimension", "middle")
            for i, t in enumerate(lines)
        ]
    bottom = low - (4.0 if view.detail else 6.0)
    height = h * 0.8 if only_scale else h
    return [
        Text((middle, bottom - h - i * h * 1.5), t, height, "dimension", "middle")
        for i, t in enumerate(lines)
    ]
