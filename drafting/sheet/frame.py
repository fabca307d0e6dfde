"""Border, zones, title block and projection symbol of a sheet. Sources: ISO 5457, ISO 7200, ISO 5456-2, ASME
Y14.1 (from memory)."""

import base64
import math
import struct
from dataclasses import dataclass

from drafting.document import Drawing, Sheet
from drafting.ink.elements import Arc, Element, Fill, Image, Line, Polyline, Text
from drafting.ink.lettering import fitted_height, shortened, text_width, wrapped
from drafting.model.model import Facts, PartFacts
from drafting.sheet.layout import Box, block_box, frame_box, sheet_size, template_of
from drafting.sheet.template import Cell
from drafting.standards.materials import mass_in, mass_number
from drafting.standards.profile import Profile
from drafting.standards.sheets import ZONE_LETTERS, zone_count

INCOMPLETE = "incomplete"
UNMEASURED = "not measured yet"
LABEL_HEIGHT = 1.8
LEADING = 1.7
"""From line to line of general notes, heights of lettering."""
COLUMN, MOST_COLUMNS, COLUMN_GAP, NARROWEST = 0.4, 4, 8.0, 30.0
"""How high a column of general notes is at most, as a share of the frame; how many there are; what lies
between them, mm; and half of how wide one is at least."""
SAID = ("owner", "drawn_by", "date", "revision", "checked_by", "checked_date", "approved_by", "approved_date")
LATER = ("finish", "revision", "checked_by", "checked_date", "approved_by", "approved_date", "tolerance")


def frame_ink(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[Element]:
    """All ink that belongs to the sheet itself, in sheet mm."""
    w, h = sheet_size(sheet)
    box, template = frame_box(sheet), template_of(sheet)
    out: list[Element] = [_rectangle(box, "border")]
    if template.zones != "none":
        out += _zones(box, template.zones)
    if template.centering:
        out += _centering_marks(w, h, box)
    if template.trimming:
        out += _trimming_marks(w, h)
    return out + _title_block(drawing, sheet, facts) + notes_ink(drawing, sheet)


def _rectangle(b: Box, line: str) -> Polyline:
    return Polyline(((b.left, b.bottom), (b.right, b.bottom), (b.right, b.top), (b.left, b.top)), line, True)


def _zones(box: Box, way: str) -> list[Element]:
    """Fields along the frame, 5 mm deep: ISO 5457 numbers from the left and letters from the top, ASME Y14.1
    (memory) from the right and from the bottom."""
    out: list[Element] = []
    depth, height = 5.0, 2.5
    across, down = zone_count(box.width), zone_count(box.height)
    for i in range(across):
        x0, x1 = box.left + box.width * i / across, box.left + box.width * (i + 1) / across
        name = str(i + 1 if way == "iso" else across - i)
        for y, away in ((box.top, 1), (box.bottom, -1)):
            if i:
                out.append(Line((x0, y), (x0, y + away * depth), "frame_thin"))
            base = y + 1.25 if away > 0 else y - depth + 1.25
            out.append(Text(((x0 + x1) / 2, base), name, height, "frame_thin", "middle"))
    for i in range(down):
        y0, y1 = box.top - box.height * i / down, box.top - box.height * (i + 1) / down
        name = ZONE_LETTERS[i if way == "iso" else down - 1 - i]
        for x, away in ((box.left, -1), (box.right, 1)):
            if i:
                out.append(Line((x, y0), (x + away * depth, y0), "frame_thin"))
            out.append(
                Text((x + away * depth / 2, (y0 + y1) / 2 - height / 2), name, height, "frame_thin", "middle")
            )
    return out


def zone_at(sheet: Sheet, x: float, y: float) -> str:
    """Zone of a place of the sheet (mm), letter then number, such as B3; empty where the frame has no
    zones."""
    template = template_of(sheet)
    if template.zones == "none":
        return ""
    box, iso = frame_box(sheet), template.zones == "iso"
    across, down = zone_count(box.width), zone_count(box.height)
    i = min(max(int((x - box.left) / box.width * across), 0), across - 1)
    j = min(max(int((box.top - y) / box.height * down), 0), down - 1)
    return ZONE_LETTERS[j if iso else down - 1 - j] + str(i + 1 if iso else across - i)


def _trimming_marks(w: float, h: float) -> list[Element]:
    """Two filled bars of 10 x 5 mm in each corner of the sheet (ISO 5457)."""
    out: list[Element] = []
    for x, sx in ((0.0, 1), (w, -1)):
        for y, sy in ((0.0, 1), (h, -1)):
            corners = ((0, 0), (10, 0), (10, 5), (5, 5), (5, 10), (0, 10))
            out.append(Fill(tuple((x + sx * a, y + sy * b) for a, b in corners), "frame"))
    return out


def _centering_marks(w: float, h: float, box: Box) -> list[Element]:
    """From the edge of the sheet to 5 mm inside the frame (ISO 5457 allows 10)."""
    cx, cy = (box.left + box.right) / 2, (box.bottom + box.top) / 2
    return [
        Line((cx, h), (cx, box.top - 5), "frame"),
        Line((cx, 0), (cx, box.bottom + 5), "frame"),
        Line((0, cy), (box.left + 5, cy), "frame"),
        Line((w, cy), (box.right - 5, cy), "frame"),
    ]


def field_values(drawing: Drawing, sheet: Sheet, facts: Facts) -> dict[str, str]:
    """What the title block's linked fields say. Empty drawing fields are taken from the model; own fields as
    "own:" and their name."""
    f, profile = drawing.fields, drawing.profile
    subject = facts.part_of(sheet.subject) if sheet.subject else None
    only = next(iter(facts.parts.values())) if facts.kind == "part" else None
    part = subject[1] if subject else only
    if subject:
        title, number, material, finish = (
            subject[1].name,
            subject[1].number,
            facts.material_of(subject[1]),
            subject[1].finish,
        )
        mass = _part_mass(facts, subject[1], "", profile)
    else:
        title, number = f.title or facts.name, f.number or facts.number or _only(facts, "number")
        material, finish = (
            f.material or facts.material or _only(facts, "material"),
            f.finish or facts.finish or _only(facts, "finish"),
        )
        mass = _mass(facts, f.material, profile)
    return {
        **{name: getattr(f, name) for name in SAID},
        "title": title,
        "number": number,
        "material": material,
        "finish": finish,
        "mass": mass,
        "tolerance": f.tolerance or profile.general_tolerance,
        "scale": str(sheet.scale),
        "sheet": f"{drawing.number_of(sheet.id)} / {len(drawing.sheets)}",
        "size": sheet.size,
        "units": profile.units,
        "standard": profile.standard,
        "document": "Assembly drawing" if facts.kind == "assembly" and not subject else "Part drawing",
        **{f"own:{name}": value for name, value in (part.own.items() if part else ())},
    }


def _only(facts: Facts, field: str) -> str:
    """A property of the one part of a part model."""
    return str(getattr(next(iter(facts.parts.values())), field)) if facts.kind == "part" else ""


def _mass(facts: Facts, material: str, profile: Profile) -> str:
    """Mass of the whole; of an assembly "incomplete" where a part's material is unknown, of a part then
    empty; and what says that it is not measured yet."""
    if facts.kind == "part":
        return _part_mass(facts, next(iter(facts.parts.values())), material, profile)
    if any(facts.awaits(facts.parts[i.part]) for i in facts.instances):
        return UNMEASURED
    return _written(facts.total_mass(), profile) or INCOMPLETE


def _part_mass(facts: Facts, part: PartFacts, material: str, profile: Profile) -> str:
    return UNMEASURED if facts.awaits(part, material) else _written(facts.mass(part, material), profile)


def _written(kg: float | None, profile: Profile) -> str:
    """A mass in the style's unit; empty where it is unknown."""
    return "" if kg is None else f"{mass_number(mass_in(kg, profile.mass_in))} {profile.mass_in}"


def blank_fields(drawing: Drawing, facts: Facts) -> list[str]:
    """Fields shown in the title block of a sheet with nothing to show; without those that are signed only
    when the drawing is done."""
    out: list[str] = []
    for sheet in drawing.sheets:
        values = field_values(drawing, sheet, facts)
        for cell in template_of(sheet).block.cells:
            if (
                cell.field
                and cell.field not in LATER
                and values.get(cell.field, "") in ("", INCOMPLETE, UNMEASURED)
                and cell.field != "projection"
            ):
                out.append(cell.field)
    return list(dict.fromkeys(out))


@dataclass(frozen=True)
class PlacedCell:
    """A cell on the sheet, what it says, and whether its text had to be cut to fit."""

    cell: Cell
    box: Box
    value: str
    cut: bool


def placed_cells(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[PlacedCell]:
    """The title block's cells with their boxes in sheet mm."""
    block, at = template_of(sheet).block, block_box(sheet)
    k = at.width / block.width
    values = field_values(drawing, sheet, facts)
    if drawing.profile.decimal_sign == ",":
        values["mass"] = values["mass"].replace(".", ",")
    out = []
    for c in block.cells:
        left = at.left + sum(block.columns[: c.column]) * k
        top = at.top - sum(block.rows[: c.row]) * k
        width, height = (
            sum(block.columns[c.column : c.column + c.columns]) * k,
            sum(block.rows[c.row : c.row + c.rows]) * k,
        )
        value = values.get(c.field, "") if c.field else c.text
        fits = shortened(value, fitted_height(value, c.height, width - MARGIN), width - MARGIN) == value
        out.append(PlacedCell(c, Box(left, top - height, left + width, top), value, not fits))
    return out


MARGIN = 3.0


def _title_block(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[Element]:
    at = block_box(sheet)
    out: list[Element] = [Polyline(((at.left, at.bottom), (at.left, at.top), (at.right, at.top)), "frame")]
    for placed in placed_cells(drawing, sheet, facts):
        c, b = placed.cell, placed.box
        if b.left > at.left + 1e-6:
            out.append(Line((b.left, b.bottom), (b.left, b.top), "frame_thin"))
        if b.top < at.top - 1e-6:
            out.append(Line((b.left, b.top), (b.right, b.top), "frame_thin"))
        if c.label:
            height = fitted_height(c.label, LABEL_HEIGHT, b.width - MARGIN, 1.2)
            out.append(
                Text(
                    (b.left + 1.5, b.top - height - 0.9),
                    shortened(c.label, height, b.width - MARGIN),
                    height,
                    "frame_thin",
                )
            )
        room = b.height - (LABEL_HEIGHT + 1.6 if c.label else 0.8)
        if c.field == "projection":
            out += projection_symbol(drawing.projection, *b.center, min(0.9, b.width / 24, b.height / 13))
        elif c.logo and drawing.logo:
            out += _logo(drawing.logo, b)
        elif placed.value:
            width = b.width - MARGIN
            height = min(fitted_height(placed.value, c.height, width), max(room - 0.8, 1.5))
            base = b.bottom + max(1.3, (room - height) / 2)
            out.append(Text((b.left + 1.8, base), shortened(placed.value, height, width), height, "frame"))
    return out


def _logo(data: str, b: Box) -> list[Element]:
    """The logo as large as its cell allows, in its own proportion."""
    png = base64.b64decode(data)
    wide, high = struct.unpack(">II", png[16:24])
    k = min((b.width - 2) / wide, (b.height - 2) / high)
    x, y = b.center
    return [Image((x - wide * k / 2, y - high * k / 2), wide * k, high * k, png, "frame")]


def shown_notes(drawing: Drawing) -> list[str]:
    """The general notes that the drawing shows, in order; each is numbered by its place among them."""
    return [text for n, text in enumerate(drawing.notes) if n not in drawing.notes_off]


def notes_ink(drawing: Drawing, sheet: Sheet) -> list[Element]:
    """General notes, numbered, on the first sheet: from the lower left corner up, clear of the title block
    where there is room beside it; in further columns where they would be higher than COLUMN of the sheet."""
    return [text for lines in _laid_out(drawing, sheet) for text in lines]


def note_boxes(drawing: Drawing, sheet: Sheet) -> dict[str, tuple[float, float, float, float]]:
    """Left, bottom, right and top of each general note that a sheet shows, sheet mm, by its words."""
    out: dict[str, tuple[float, float, float, float]] = {}
    for said, lines in zip(shown_notes(drawing), _laid_out(drawing, sheet), strict=False):
        right = max(t.at[0] + text_width(t.text, t.height) for t in lines)
        box = lines[0].at[0], lines[-1].at[1], right, lines[0].at[1] + lines[0].height
        out.setdefault(said, box)
    return out


def _laid_out(drawing: Drawing, sheet: Sheet) -> list[list[Text]]:
    """The lines of each general note in their places."""
    found = shown_notes(drawing)
    if not found or sheet is not drawing.sheets[0]:
        return []
    box, block, height = frame_box(sheet), block_box(sheet), drawing.profile.text_height
    room = block.left - box.left - 10
    is_beside = room > 60
    bottom = box.bottom + 6 if is_beside else block.top + 6
    width = room if is_beside else box.width - 10
    most = max(1, int((COLUMN * box.height) / (height * LEADING)))
    for columns in range(1, MOST_COLUMNS + 1):
        wide = (width - COLUMN_GAP * (columns - 1)) / columns
        lines = _noted(found, height, wide)
        if len(lines) <= most * columns or wide < 2 * NARROWEST:
            break
    deep = -(-len(lines) // columns)
    out: list[list[Text]] = [[] for _ in found]
    for n, (note, indent, text) in enumerate(lines):
        column, row = divmod(n, deep)
        x = box.left + 5 + column * (wide + COLUMN_GAP) + indent
        y = bottom + (min(deep, len(lines)) - 1 - row) * height * LEADING
        out[note].append(Text((x, y), shortened(text, height, wide - indent), height, "dimension"))
    return out


def _noted(found: list[str], height: float, width: float) -> list[tuple[int, float, str]]:
    """Lines of numbered notes with the place of their note among them, and how far each is set in, mm; those
    that go on are set in under the first word."""
    hang = text_width("88. " if len(found) > 9 else "8. ", height)
    out: list[tuple[int, float, str]] = []
    for n, text in enumerate(found):
        first, *rest = wrapped(text, height, width - hang)
        out.append((n, 0.0, f"{n + 1}. {first}"))
        out += [(n, hang, line) for line in rest]
    return out


def projection_symbol(projection: str, x: float, y: float, size: float) -> list[Element]:
    """Truncated cone in two views about (x, y) (ISO 5456-2): first angle shows the circles at the right of
    the side view."""
    out: list[Element] = []
    circles = x + 6 * size if projection == "first" else x - 6 * size
    cone = x - 5 * size if projection == "first" else x + 5 * size
    small, large, half = 2.0 * size, 4.0 * size, 4.0 * size
    # the small end faces the circles in third angle and away from them in first
    out.append(
        Polyline(
            (
                (cone - half, y - small),
                (cone + half, y - large),
                (cone + half, y + large),
                (cone - half, y + small),
            ),
            "frame",
            True,
        )
    )
    out += [Arc((circles, y), r, 0.0, 2 * math.pi, "frame") for r in (small, large)]
    reach = large + 1.5 * size
    out += [
        Line((circles - reach, y), (circles + reach, y), "center"),
        Line((circles, y - reach), (circles, y + reach), "center"),
        Line((cone - half - 1.2 * size, y), (cone + half + 1.2 * size, y), "center"),
    ]
    return out
