"""Ink to SVG, for the desk and as a file. The only place where y is turned over."""

import base64
import io
import math
from functools import lru_cache
from html import escape
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

from drafting.ink.dashes import fitted_dashes
from drafting.ink.elements import (
    Arc,
    Element,
    Ellipse,
    Fill,
    Group,
    Image,
    Line,
    Polyline,
    SheetInk,
    Text,
)
from drafting.ink.lettering import FALLBACK_FILE, FALLBACK_NAME, FONT_FILE, FONT_NAME, font_size, formless
from drafting.standards.profile import Profile


def _n(v: float) -> str:
    text = f"{v:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def path_data(e: Element) -> str:
    """SVG path data of a stroked or filled element."""
    if isinstance(e, Line):
        return f"M{_n(e.a[0])} {_n(-e.a[1])}L{_n(e.b[0])} {_n(-e.b[1])}"
    if isinstance(e, Polyline | Fill):
        body = "L".join(f"{_n(x)} {_n(-y)}" for x, y in e.points)
        return f"M{body}" + ("Z" if isinstance(e, Fill) or e.closed else "")
    if isinstance(e, Arc):
        r, cx, cy = e.radius, e.center[0], -e.center[1]
        if e.full:
            return (
                f"M{_n(cx + r)} {_n(cy)}A{_n(r)} {_n(r)} 0 1 0 {_n(cx - r)} "
                f"{_n(cy)}A{_n(r)} {_n(r)} 0 1 0 {_n(cx + r)} {_n(cy)}Z"
            )
        a = (cx + r * math.cos(e.first), cy - r * math.sin(e.first))
        b = (cx + r * math.cos(e.last), cy - r * math.sin(e.last))
        large = int(e.last - e.first > math.pi)
        return f"M{_n(a[0])} {_n(a[1])}A{_n(r)} {_n(r)} 0 {large} 0 {_n(b[0])} {_n(b[1])}"
    if isinstance(e, Ellipse):
        rx = math.hypot(*e.major)
        ry, turn = rx * e.ratio, -math.degrees(math.atan2(e.major[1], e.major[0]))
        stops = [e.first, (e.first + e.last) / 2, e.last] if e.full else [e.first, e.last]
        p = [e.point(t) for t in stops]
        large = int(not e.full and e.last - e.first > math.pi)
        arcs = "".join(f"A{_n(rx)} {_n(ry)} {_n(turn)} {large} 0 {_n(x)} {_n(-y)}" for x, y in p[1:])
        return f"M{_n(p[0][0])} {_n(-p[0][1])}{arcs}" + ("Z" if e.full else "")
    raise TypeError(f"no path for {type(e).__name__}")


def elements_svg(elements: list[Element], profile: Profile, files: str = "") -> str:
    """Elements as SVG markup: pictures, one path for each unbroken kind of line, a path for each dashed
    stroke, fills, and text as text. files: where placed files are to be had by their hash; empty to hold them
    in the markup."""
    strokes: dict[str, list[str]] = {}
    dashed: list[str] = []
    fills: list[str] = []
    texts: list[str] = []
    images: list[str] = []
    for e in elements:
        if isinstance(e, Text):
            texts.append(_text(e))
        elif isinstance(e, Image):
            images.append(_image(e, files))
        elif isinstance(e, Fill):
            fills.append(path_data(e))
        elif dashes := fitted_dashes(e, profile.line(e.line).dashes):
            dashed.append(_stroke(e.line, path_data(e), profile, dashes))
        else:
            strokes.setdefault(e.line, []).append(path_data(e))
    out = [*images, *dashed, *(_stroke(name, "".join(data), profile, []) for name, data in strokes.items())]
    if fills:
        out.append(f'<path class="fill" d="{"".join(fills)}"/>')
    return "".join(out + texts)


def _image(e: Image, files: str) -> str:
    href = f"data:image/png;base64,{base64.b64encode(e.png).decode()}"
    if e.key and files:
        href = f"{files}{e.key}"
    x, y = _n(e.at[0]), _n(-e.at[1] - e.height)
    turn = f' transform="rotate({_n(-math.degrees(e.angle))} {x} {_n(-e.at[1])})"' if e.angle else ""
    return (
        f'<image x="{x}" y="{y}" width="{_n(e.width)}" height="{_n(e.height)}" '
        f'preserveAspectRatio="none"{turn} href="{href}"/>'
    )


def _stroke(name: str, data: str, profile: Profile, dashes: list[float]) -> str:
    kind = profile.line(name)
    pattern = f' stroke-dasharray="{" ".join(_n(d) for d in dashes)}"' if dashes else ""
    return (
        f'<path class="stroke {name}" data-layer="{kind.layer}" '
        f'stroke-width="{_n(kind.width)}"{pattern} d="{data}"/>'
    )


def _text(e: Text) -> str:
    anchor = {"left": "start", "middle": "middle", "right": "end"}[e.align]
    x, y = _n(e.at[0]), _n(-e.at[1])
    turn = f' transform="rotate({_n(-math.degrees(e.angle))} {x} {y})"' if abs(e.angle) > 1e-9 else ""
    return (
        f'<text x="{x}" y="{y}" font-size="{_n(font_size(e.height))}" '
        f'text-anchor="{anchor}"{turn}>{escape(e.text)}</text>'
    )


def group_svg(group: Group, profile: Profile, files: str = "") -> str:
    """A group as SVG markup in its own coordinates (y down), without its place on the sheet. files: as of
    `elements_svg`."""
    return elements_svg(group.elements, profile, files)


STYLE = (
    "svg{{background:#fff}}path.stroke{{fill:none;stroke:#000;stroke-linecap:round;stroke-linejoin:round}}"
    "path.fill{{fill:#000;stroke:none}}text{{font-family:'{font}','{other}';fill:#000;white-space:pre}}"
)


def sheet_svg(ink: SheetInk, profile: Profile) -> bytes:
    """A sheet as a file of its own, at true size, with the lettering embedded."""
    characters = frozenset(c for g in ink.groups for e in g.elements if isinstance(e, Text) for c in e.text)
    groups = "".join(
        f'<g id="{escape(g.id)}" transform="translate({_n(g.origin[0])} '
        f'{_n(ink.height - g.origin[1])})">{group_svg(g, profile)}</g>'
        for g in ink.groups
    )
    face = _face(FONT_NAME, FONT_FILE, characters)
    others = formless("".join(sorted(characters)))
    if others:
        face += _face(FALLBACK_NAME, FALLBACK_FILE, frozenset(others))
    size = (
        f'width="{_n(ink.width)}mm" height="{_n(ink.height)}mm" '
        f'viewBox="0 0 {_n(ink.width)} {_n(ink.height)}"'
    )
    style = face + STYLE.format(font=FONT_NAME, other=FALLBACK_NAME)
    return f'<svg xmlns="http://www.w3.org/2000/svg" {size}><style>{style}</style>{groups}</svg>'.encode()


def _face(name: str, file: Path, characters: frozenset[str]) -> str:
    font = base64.b64encode(_font_subset(file, characters)).decode()
    return f"@font-face{{font-family:'{name}';src:url(data:font/ttf;base64,{font})}}"


@lru_cache(maxsize=64)
def _font_subset(file: Path, characters: frozenset[str]) -> bytes:
    font = TTFont(file)
    options = subset.Options()
    options.notdef_outline = True
    options.drop_tables += ["FFTM"]
    subsetter = subset.Subsetter(options)
    subsetter.populate(text="".join(sorted(characters)) or "x")
    subsetter.subset(font)
    buffer = io.BytesIO()
    font.save(buffer)
    return buffer.getvalue()
