"""Ink to DXF R2010 in millimeters: layers and line types of the profile, true lines, arcs, circles and
ellipses, real text, sizes."""

import io
import math
import struct

import ezdxf.units
from ezdxf.document import Drawing as DxfDocument
from ezdxf.enums import TextEntityAlignment
from ezdxf.filemanagement import new as new_document
from ezdxf.graphicsfactory import CreatorInterface

from drafting.export import dxf_dimensions
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
    placed,
)
from drafting.ink.lettering import FONT_NAME
from drafting.standards.profile import LineKind, Profile

ALIGN = {
    "left": TextEntityAlignment.LEFT,
    "middle": TextEntityAlignment.CENTER,
    "right": TextEntityAlignment.RIGHT,
}


def sheet_dxf(ink: SheetInk, profile: Profile, picture: str = "picture") -> tuple[bytes, dict[str, bytes]]:
    """A sheet as DXF (sheet millimeters, origin at its lower left corner), and the files of its pictures,
    which it names beside it."""
    document = new_document("R2010", units=ezdxf.units.MM)
    document.styles.add("LETTERING", font=f"{FONT_NAME}.ttf")
    used = {e.line for g in ink.groups for e in g.elements}
    for name in [*profile.lines, *sorted(used - set(profile.lines))]:
        _line_kind(document, name, profile.line(name))
    space = document.modelspace()
    pictures: dict[str, bytes] = {}
    dxf_dimensions.set_up(document, profile)
    for group in ink.groups:
        if group.entity is not None:
            dxf_dimensions.add(document, group, profile, _element)
            continue
        if group.reads:
            _block(document, group, profile)
            continue
        for e in group.elements:
            e = placed(e, group.origin)
            if isinstance(e, Image):
                if group.kind == "frame":
                    continue  # a logo alone is not worth a second file beside the drawing
                name = f"{picture}-{len(pictures) + 1}.png"
                pictures[name] = e.png
                width, height = _pixels(e.png)
                definition = document.add_image_def(name, (width, height))
                space.add_image(
                    definition,
                    e.at,
                    (e.width, e.height),
                    math.degrees(e.angle),
                    dxfattribs={"layer": profile.line(e.line).layer},
                )
            _element(space, e, profile)
    document.header["$EXTMIN"], document.header["$EXTMAX"] = (0, 0, 0), (ink.width, ink.height, 0)
    document.header["$LIMMIN"], document.header["$LIMMAX"] = (0, 0), (ink.width, ink.height)
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8"), pictures


def _block(document: DxfDocument, group: Group, profile: Profile) -> None:
    """Ink as a block of its own, with what it says as the attribute SAYS, not shown."""
    block = document.blocks.new(f"SYMBOL-{len(document.blocks)}")
    for e in group.elements:
        _element(block, e, profile)
    at = next((e.at for e in group.elements if isinstance(e, Text)), (0.0, 0.0))
    definition = block.add_attdef("SAYS", at, height=profile.text_height, dxfattribs={"style": "LETTERING"})
    definition.is_invisible = True
    insert = document.modelspace().add_blockref(block.name, group.origin)
    place = (at[0] + group.origin[0], at[1] + group.origin[1])
    said = insert.add_attrib(
        "SAYS", group.reads, place, {"height": profile.text_height, "style": "LETTERING"}
    )
    said.is_invisible = True


def _pixels(png: bytes) -> tuple[int, int]:
    """Width and height from a PNG's head."""
    width, height = struct.unpack(">II", png[16:24])
    return width, height


def _line_kind(document: DxfDocument, name: str, kind: LineKind) -> None:
    if kind.dashes:
        pattern = [d if i % 2 == 0 else -d for i, d in enumerate(kind.dashes)]
        document.linetypes.add(name.upper(), pattern=[sum(kind.dashes), *pattern], description=name)
    if kind.layer not in document.layers:
        document.layers.add(
            kind.layer, linetype=name.upper() if kind.dashes else "CONTINUOUS", lineweight=_weight(kind.width)
        )


def _weight(width: float) -> int:
    """Line weight in hundredths of a millimeter, the nearest the format knows."""
    known = [13, 18, 20, 25, 30, 35, 40, 50, 53, 60, 70, 80, 90, 100, 106, 120, 140, 158, 200, 211]
    return min(known, key=lambda w: abs(w - width * 100))


def _element(space: CreatorInterface, e: Element, profile: Profile) -> None:
    kind = profile.line(e.line)
    if isinstance(e, Image):
        return  # pictures are put in by sheet_dxf, which knows their files
    attributes: dict[str, object] = {
        "layer": kind.layer,
        "linetype": e.line.upper() if kind.dashes else "CONTINUOUS",
        "lineweight": _weight(kind.width),
    }
    if kind.dashes and isinstance(e, Line | Arc | Ellipse | Polyline):
        fitted = fitted_dashes(e, kind.dashes)
        attributes["ltscale"] = fitted[0] / kind.dashes[0] if fitted else 1.0
    if isinstance(e, Line):
        space.add_line(e.a, e.b, attributes)
    elif isinstance(e, Arc):
        if e.full:
            space.add_circle(e.center, e.radius, attributes)
        else:
            space.add_arc(
                e.center, e.radius, math.degrees(e.first), math.degrees(e.last), dxfattribs=attributes
            )
    elif isinstance(e, Ellipse):
        space.add_ellipse(e.center, (*e.major, 0), e.ratio, e.first, e.last, attributes)
    elif isinstance(e, Polyline):
        space.add_lwpolyline(e.points, close=e.closed, dxfattribs=attributes)
    elif isinstance(e, Fill):
        if len(e.points) <= 4:
            p = e.points
            space.add_solid([p[0], p[1], p[2], p[3]] if len(p) == 4 else [p[0], p[1], p[2], p[2]], attributes)
    else:
        text = space.add_text(
            e.text,
            height=e.height,
            rotation=math.degrees(e.angle),
            dxfattribs={"layer": kind.layer, "style": "LETTERING"},
        )
        text.set_placement(e.at, align=ALIGN[e.align])
