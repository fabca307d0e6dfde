"""An SVG logo as pixels: only its filled shapes are taken, so that no script, style sheet, link or outside
reference has any effect."""

import io
import math
from typing import Any

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml import ElementTree as Safe
from PIL import Image, ImageDraw
from svgelements import SVG, Color, Path, Shape

from drafting.errors import CommandError

PIXELS = 1000
FINER = 3
MOST_SHAPES = 2000
MOST_POINTS = 400_000
LARGEST = 500_000
MOST_PAINTED = 60
"""Times that a picture's whole area may be painted, in all; each ring takes its own box."""
FORBIDDEN = ("script", "foreignobject", "image", "use", "style", "animate", "set", "iframe", "audio", "video")


def svg_to_png(data: bytes, what: str = "logo") -> bytes:
    """PNG of an SVG's shapes. what: it is called in sentences. Raises CommandError for what is no SVG, refers
    to something outside, or holds a script."""
    if len(data) > LARGEST:
        raise CommandError(f"The {what}'s file is larger than {LARGEST // 1000} kB.")
    try:
        root = Safe.fromstring(data, forbid_dtd=True)
    except (DefusedXmlException, ValueError, SyntaxError):
        raise CommandError(f"The {what} is not an SVG that can be read.") from None
    for node in root.iter():
        name = str(node.tag).rsplit("}", 1)[-1].lower()
        if name in FORBIDDEN:
            raise CommandError(
                f"The {what} holds a {name} element; only plain shapes are taken, so save it without."
            )
        for key, value in node.attrib.items():
            bare = key.rsplit("}", 1)[-1].lower()
            if bare.startswith("on"):
                raise CommandError(f"The {what} holds a script; save it without.")
            if bare == "href" or "url(" in value.lower():
                raise CommandError(
                    f"The {what} refers to something outside itself; save it with plain fills."
                )
    try:
        svg = SVG.parse(io.BytesIO(data), reify=True)
        shapes = [e for e in svg.elements() if isinstance(e, Shape)]
    except Exception:  # the parser of outside text may raise anything
        raise CommandError(f"The {what} is not an SVG that can be read.") from None
    if not shapes or len(shapes) > MOST_SHAPES:
        raise CommandError(
            f"The {what} has no shapes." if not shapes else f"The {what} has more than {MOST_SHAPES} shapes."
        )
    return _painted(shapes, what)


def _painted(shapes: list[Any], what: str) -> bytes:
    rings = [(shape, _rings(shape)) for shape in shapes]
    points = [p for _, found in rings for ring in found for p in ring]
    if not points or len(points) > MOST_POINTS:
        raise CommandError(
            f"The {what} has no area." if not points else f"The {what} is too intricate; simplify it."
        )
    low, high = np.min(points, axis=0), np.max(points, axis=0)
    size = float((high - low).max())
    if not math.isfinite(size) or size <= 0:
        raise CommandError(f"The {what} has no area.")
    k = PIXELS * FINER / size
    wide, tall = (max(int(v), FINER) for v in (high - low) * k + 1)
    picture = Image.new("RGBA", (wide, tall), (0, 0, 0, 0))
    left = MOST_PAINTED * wide * tall
    for shape, found in rings:
        fill = shape.fill if shape.fill is not None and shape.fill.value is not None else None
        stroke = shape.stroke if shape.stroke is not None and shape.stroke.value is not None else None
        if fill is None and stroke is None:
            fill = Color("black")
        flat = [[((x - low[0]) * k, (y - low[1]) * k) for x, y in ring] for ring in found]
        left -= sum(_area(ring) for ring in flat) + (_area([p for ring in flat for p in ring]) if flat else 0)
        if left < 0:
            raise CommandError(f"The {what} is too intricate; simplify it.")
        if fill is not None:
            _fill(picture, flat, (fill.red, fill.green, fill.blue, 255))
        if stroke is not None:
            width = max(1, round(float(shape.stroke_width or 1) * k))
            for ring in flat:
                ImageDraw.Draw(picture).line(
                    ring, fill=(stroke.red, stroke.green, stroke.blue, 255), width=width, joint="curve"
                )
    out = io.BytesIO()
    picture.resize((max(wide // FINER, 1), max(tall // FINER, 1)), Image.Resampling.LANCZOS).save(out, "PNG")
    return out.getvalue()


def _box(ring: list[tuple[float, float]]) -> tuple[int, int, int, int]:
    xs, ys = [p[0] for p in ring], [p[1] for p in ring]
    return math.floor(min(xs)), math.floor(min(ys)), math.ceil(max(xs)) + 1, math.ceil(max(ys)) + 1


def _area(ring: list[tuple[float, float]]) -> int:
    if not ring:
        return 0
    x0, y0, x1, y1 = _box(ring)
    return (x1 - x0) * (y1 - y0)


def _fill(picture: Image.Image, rings: list[list[tuple[float, float]]], color: tuple[int, ...]) -> None:
    """Rings of a shape, even-odd: one inside another is a hole."""
    rings = [ring for ring in rings if len(ring) > 2]
    if not rings:
        return
    left, top, right, bottom = _box([p for ring in rings for p in ring])
    mask = np.zeros((bottom - top, right - left), bool)
    for ring in rings:
        x0, y0, x1, y1 = _box(ring)
        one = Image.new("1", (x1 - x0, y1 - y0), 0)
        ImageDraw.Draw(one).polygon([(x - x0, y - y0) for x, y in ring], fill=1)
        mask[y0 - top : y1 - top, x0 - left : x1 - left] ^= np.asarray(one)
    picture.paste(color, (left, top, right, bottom), mask=Image.fromarray(mask))


def _rings(shape: Any) -> list[list[tuple[float, float]]]:
    out = []
    for sub in Path(shape).as_subpaths():
        ring: list[tuple[float, float]] = []
        for segment in Path(sub).segments():
            steps = 1 if type(segment).__name__ in ("Line", "Close", "Move") else 24
            for t in np.linspace(0, 1, steps + 1):
                p = (
                    segment.point(float(t))
                    if segment.start is not None or type(segment).__name__ == "Move"
                    else segment.end
                )
                if p is not None and p.x is not None:
                    ring.append((float(p.x), float(p.y)))
        if len(ring) > 1:
            out.append(ring)
    return out


def main() -> None:
    """SVG or PNG on standard input, PNG on standard output: run as a process of its own with limits, since
    the bytes come from outside."""
    import resource
    import sys

    from drafting.standards.house_style import png_of

    resource.setrlimit(resource.RLIMIT_AS, (2_000_000_000, 2_000_000_000))
    resource.setrlimit(resource.RLIMIT_CPU, (6, 6))
    data = sys.stdin.buffer.read(6_000_000)
    try:
        out = png_of(data if data[:4] == b"\x89PNG" else svg_to_png(data))
    except CommandError as error:
        sys.stderr.write(f"said:{error}")
        sys.exit(3)
    sys.stdout.buffer.write(out)


if __name__ == "__main__":
    main()
