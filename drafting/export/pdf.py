"""Ink to PDF: vector lines, lettering embedded, page size that of the sheet."""

import io
import math

from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from drafting.ink.dashes import fitted_dashes
from drafting.ink.elements import (
    Arc,
    Element,
    Ellipse,
    Fill,
    Image,
    Line,
    Polyline,
    SheetInk,
    Text,
)
from drafting.ink.lettering import FALLBACK_FILE, FALLBACK_NAME, FONT_FILE, FONT_NAME, by_font, font_size
from drafting.standards.profile import Profile

POINTS_PER_MM = 72 / 25.4
TONES = {"gone": (0.70, 0.22, 0.18), "new": (0.31, 0.48, 0.24)}
"""Of groups that tell two revisions apart; all else is black."""


def sheets_pdf(sheets: list[SheetInk], profile: Profile, title: str) -> bytes:
    """All sheets as pages of one PDF at true size."""
    for name, file in ((FONT_NAME, FONT_FILE), (FALLBACK_NAME, FALLBACK_FILE)):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(file)))
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pageCompression=1)
    canvas.setTitle(title)
    canvas.setCreator("Moorcrest")
    for ink in sheets:
        canvas.setPageSize((ink.width * POINTS_PER_MM, ink.height * POINTS_PER_MM))
        canvas.scale(POINTS_PER_MM, POINTS_PER_MM)
        canvas.setLineCap(1)
        canvas.setLineJoin(1)
        for group in ink.groups:
            canvas.saveState()
            canvas.translate(*group.origin)
            if group.kind in TONES:
                canvas.setStrokeColorRGB(*TONES[group.kind])
                canvas.setFillColorRGB(*TONES[group.kind])
            _group(canvas, group.elements, profile)
            canvas.restoreState()
        canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _group(canvas: Canvas, elements: list[Element], profile: Profile) -> None:
    current = ""
    for e in elements:
        if isinstance(e, Text):
            _text(canvas, e)
            continue
        if isinstance(e, Fill):
            path = canvas.beginPath()
            path.moveTo(*e.points[0])
            for p in e.points[1:]:
                path.lineTo(*p)
            path.close()
            canvas.drawPath(path, stroke=0, fill=1)
            continue
        if isinstance(e, Image):
            canvas.saveState()
            canvas.translate(*e.at)
            canvas.rotate(math.degrees(e.angle))
            reader = ImageReader(io.BytesIO(e.png))
            canvas.drawImage(reader, 0, 0, width=e.width, height=e.height, mask="auto")
            canvas.restoreState()
            continue
        kind = profile.line(e.line)
        if e.line != current:
            current = e.line
            canvas.setLineWidth(kind.width)
            canvas.setDash([], 0)
        if kind.dashes:
            # round caps lengthen every dash by the width of the line
            dashes = [
                d + (kind.width if i % 2 else -kind.width)
                for i, d in enumerate(fitted_dashes(e, kind.dashes))
            ]
            canvas.setDash([max(d, 0.01) for d in dashes], 0)
        _stroke(canvas, e)


def _stroke(canvas: Canvas, e: Line | Arc | Ellipse | Polyline) -> None:
    if isinstance(e, Line):
        canvas.line(*e.a, *e.b)
        return
    path = canvas.beginPath()
    if isinstance(e, Polyline):
        path.moveTo(*e.points[0])
        for p in e.points[1:]:
            path.lineTo(*p)
        if e.closed:
            path.close()
    elif isinstance(e, Arc):
        _conic(path, e.center, (e.radius, 0.0), 1.0, e.first, e.last)
    else:
        _conic(path, e.center, e.major, e.ratio, e.first, e.last)
    canvas.drawPath(path, stroke=1, fill=0)


def _conic(
    path: object,
    center: tuple[float, float],
    major: tuple[float, float],
    ratio: float,
    first: float,
    last: float,
) -> None:
    """Cubic pieces of at most an eighth of a turn: off the true curve by less than 4e-6 of the radius."""
    count = max(1, math.ceil((last - first) / (math.pi / 4) - 1e-9))
    step = (last - first) / count
    k = 4 / 3 * math.tan(step / 4)
    minor = (-major[1] * ratio, major[0] * ratio)

    def at(c: float, s: float) -> tuple[float, float]:
        return center[0] + major[0] * c + minor[0] * s, center[1] + major[1] * c + minor[1] * s

    path.moveTo(*at(math.cos(first), math.sin(first)))  # type: ignore[attr-defined]
    for i in range(count):
        a, b = first + step * i, first + step * (i + 1)
        ca, sa, cb, sb = math.cos(a), math.sin(a), math.cos(b), math.sin(b)
        path.curveTo(*at(ca - k * sa, sa + k * ca), *at(cb + k * sb, sb - k * cb), *at(cb, sb))  # type: ignore[attr-defined]


def _text(canvas: Canvas, e: Text) -> None:
    canvas.saveState()
    canvas.translate(*e.at)
    if abs(e.angle) > 1e-9:
        canvas.rotate(math.degrees(e.angle))
    size = font_size(e.height)
    pieces = [(part, FONT_NAME if known else FALLBACK_NAME) for part, known in by_font(e.text)]
    widths = [pdfmetrics.stringWidth(part, font, size) for part, font in pieces]
    x = {"left": 0.0, "middle": -0.5, "right": -1.0}[e.align] * sum(widths)
    for (part, font), width in zip(pieces, widths, strict=True):
        canvas.setFont(font, size)
        canvas.drawString(x, 0, part)
        x += width
    canvas.restoreState()
