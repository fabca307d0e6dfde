"""Border, zones, title block and projection symbol of a sheet. Sources: ISO 5457, ISO 7200, ISO 5456-2, ASME Y14.1 (from memory)."""

import math

from drafting.document import Drawing, Sheet
from drafting.ink.elements import Arc, Element, Line, Polyline, Text
from drafting.ink.lettering import fitted_height, shortened
from drafting.model.model import Facts
from drafting.sheet.layout import TITLE_BLOCK, Box, frame_box, sheet_size
from drafting.standards.sheets import ZONE_LETTERS, zone_count

INCOMPLETE = "incomplete"
LABEL_HEIGHT = 1.8
VALUE_HEIGHT = 2.5


def frame_ink(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[Element]:
    """All ink that belongs to the sheet itself, in sheet mm."""
    w, h = sheet_size(sheet)
    box = frame_box(sheet)
    out: list[Element] = [_rectangle(box, "border")]
    if drawing.profile.standard == "ISO":
        out += _zones(box)
        out += _centering_marks(w, h, box)
    return out + _title_block(drawing, sheet, facts, box)


def _rectangle(b: Box, line: str) -> Polyline:
    return Polyline(((b.left, b.bottom), (b.right, b.bottom), (b.right, b.top), (b.left, b.top)), line, True)


def _zones(box: Box) -> list[Element]:
    """Fields along the frame, 5 mm deep: numbers from the left, letters from the top."""
    out: list[Element] = []
    depth, height = 5.0, 2.5
    across, down = zone_count(box.width), zone_count(box.height)
    for i in range(across):
        x0, x1 = box.left + box.width * i / across, box.left + box.width * (i + 1) / across
        for y, away in ((box.top, 1), (box.bottom, -1)):
            if i:
                out.append(Line((x0, y), (x0, y + away * depth), "frame_thin"))
            base = y + 1.25 if away > 0 else y - depth + 1.25
            out.append(Text(((x0 + x1) / 2, base), str(i + 1), height, "frame_thin", "middle"))
    for i in range(down):
        y0, y1 = box.top - box.height * i / down, box.top - box.height * (i + 1) / down
        for x, away in ((box.left, -1), (box.right, 1)):
            if i:
                out.append(Line((x, y0), (x + away * depth, y0), "frame_thin"))
            out.append(Text((x + away * depth / 2, (y0 + y1) / 2 - height / 2), ZONE_LETTERS[i], height, "frame_thin", "middle"))
    return out


def _centering_marks(w: float, h: float, box: Box) -> list[Element]:
    """From the edge of the sheet to 5 mm inside the frame (ISO 5457 allows 10)."""
    cx, cy = (box.left + box.right) / 2, (box.bottom + box.top) / 2
    return [
        Line((cx, h), (cx, box.top - 5), "frame"), Line((cx, 0), (cx, box.bottom + 5), "frame"),
        Line((0, cy), (box.left + 5, cy), "frame"), Line((w, cy), (box.right - 5, cy), "frame"),
    ]  # fmt: skip


def field_values(drawing: Drawing, sheet: Sheet, facts: Facts) -> dict[str, str]:
    """What the title block's linked fields say. Empty drawing fields are taken from the model."""
    f = drawing.fields
    subject = facts.part_of(sheet.subject) if sheet.subject else None
    if subject:
        part = subject[1]
        title, number, material = part.name, part.number, part.material
        mass = _kilograms(facts.mass(part))
    else:
        title, number = f.title or facts.name, f.number or facts.number or _only(facts, "number")
        material = f.material or facts.material or _only(facts, "material")
        mass = _mass(facts, f.material)
    return {
        "title": title,
        "number": number,
        "material": material,
        "mass": mass,
        "owner": f.owner,
        "drawn_by": f.drawn_by,
        "date": f.date,
        "revision": f.revision,
        "scale": str(sheet.scale),
        "sheet": f"{drawing.sheets.index(sheet) + 1} / {len(drawing.sheets)}",
        "size": sheet.size,
        "units": drawing.profile.units,
    }


def _only(facts: Facts, field: str) -> str:
    """A property of the one part of a part model."""
    return str(getattr(next(iter(facts.parts.values())), field)) if facts.kind == "part" else ""


def _mass(facts: Facts, material: str) -> str:
    """Mass of the whole; of an assembly "incomplete" where a part's material is unknown, of a part then empty."""
    if facts.kind == "part":
        return _kilograms(facts.mass(next(iter(facts.parts.values())), material))
    return _kilograms(facts.total_mass()) or INCOMPLETE


def _kilograms(mass: float | None) -> str:
    """Three significant figures, without a needless exponent."""
    if mass is None:
        return ""
    return f"{mass:.3g} kg" if 1e-3 <= mass < 1000 else f"{mass:.0f} kg" if mass >= 1000 else f"{mass:.6f}".rstrip("0").rstrip(".") + " kg"


def blank_fields(drawing: Drawing, facts: Facts) -> list[str]:
    """Title block fields with nothing to show."""
    values = field_values(drawing, drawing.sheets[0], facts)
    return [name for name in ("title", "number", "material", "mass", "owner", "drawn_by", "date") if values[name] in ("", INCOMPLETE)]


def _title_block(drawing: Drawing, sheet: Sheet, facts: Facts, box: Box) -> list[Element]:
    values = field_values(drawing, sheet, facts)
    if drawing.profile.decimal_sign == ",":
        values["mass"] = values["mass"].replace(".", ",")
    w, h = min(TITLE_BLOCK[0], box.width), TITLE_BLOCK[1]
    x0, y0 = box.right - w, box.bottom
    k = w / TITLE_BLOCK[0]
    out: list[Element] = [Polyline(((x0, y0), (x0, y0 + h), (box.right, y0 + h)), "frame")]
    cells = [
        ("Owner", "owner", 0, 30, 62, 10), ("Material", "material", 62, 30, 48, 10), ("Mass", "mass", 110, 30, 26, 10),
        ("Scale", "scale", 136, 30, 16, 10),
        ("Drawn by", "drawn_by", 0, 20, 36, 10), ("Date", "date", 36, 20, 26, 10), ("Units", "units", 62, 20, 16, 10),
        ("Size", "size", 78, 20, 14, 10), ("Sheet", "sheet", 92, 20, 18, 10), ("Revision", "revision", 110, 20, 26, 10),
        ("Title", "title", 0, 0, 110, 20), ("Drawing number", "number", 110, 0, 70, 20),
    ]  # fmt: skip
    for label, name, cx, cy, cw, ch in cells:
        left, bottom, width = x0 + cx * k, y0 + cy, cw * k
        if cx:
            out.append(Line((left, bottom), (left, bottom + ch), "frame_thin"))
        if cy and cy + ch < h:
            out.append(Line((left, bottom + ch), (left + width, bottom + ch), "frame_thin"))
        if cy == 0:
            out.append(Line((left, bottom + ch), (left + width, bottom + ch), "frame_thin"))
        big = 5.0 if name in ("title", "number") else VALUE_HEIGHT
        out.append(Text((left + 1.5, bottom + ch - LABEL_HEIGHT - 1.2), label, LABEL_HEIGHT, "frame_thin"))
        value = values[name]
        if value:
            height = fitted_height(value, big, width - 3.5)
            out.append(Text((left + 1.8, bottom + (6.0 if big > 3 else 1.8)), shortened(value, height, width - 3), height, "frame"))
    out.append(Line((x0 + 152 * k, y0 + 20), (x0 + 152 * k, y0 + h), "frame_thin"))
    return out + projection_symbol(drawing.projection, x0 + 166 * k, y0 + 30, 0.9 * k)


def projection_symbol(projection: str, x: float, y: float, size: float) -> list[Element]:
    """Truncated cone in two views about (x, y) (ISO 5456-2): first angle shows the circles at the right of the side view."""
    out: list[Element] = []
    circles = x + 6 * size if projection == "first" else x - 6 * size
    cone = x - 5 * size if projection == "first" else x + 5 * size
    small, large, half = 2.0 * size, 4.0 * size, 4.0 * size
    # the small end faces the circles in third angle and away from them in first
    out.append(Polyline(((cone - half, y - small), (cone + half, y - large), (cone + half, y + large), (cone - half, y + small)), "frame", True))
    out += [Arc((circles, y), r, 0.0, 2 * math.pi, "frame") for r in (small, large)]
    reach = large + 1.5 * size
    out += [
        Line((circles - reach, y), (circles + reach, y), "center"), Line((circles, y - reach), (circles, y + reach), "center"),
        Line((cone - half - 1.2 * size, y), (cone + half + 1.2 * size, y), "center"),
    ]  # fmt: skip
    return out
