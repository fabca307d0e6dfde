"""House styles: read and refused, departures told, frames and title blocks edited, and their values found
again in the exported files."""

import base64
import functools
import io
import json
import math
import re
import struct
from typing import Any

import ezdxf
import pypdf
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image as Picture

from drafting.annotation.inking.dimension_ink import arrow
from drafting.annotation.wording.numbers import written
from drafting.commands import execute
from drafting.commands.sheets import AddSheet, ChangeNotes, TakeStyle
from drafting.compose import compose
from drafting.document import Drawing, Fields, Sheet
from drafting.errors import CommandError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Element, Fill, Image, Line, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Facts
from drafting.sheet.frame import frame_ink, placed_cells
from drafting.sheet.layout import block_box, drawing_room, frame_box
from drafting.sheet.slots import fill_slots, slot_box
from drafting.sheet.template import (
    ASME_FRAME,
    BUILT_IN,
    FIELDS,
    ISO_FRAME,
    SMALL_FRAME,
    Cell,
    Slot,
    TitleBlock,
    merged,
    split,
)
from drafting.standards import house_style, logo, sheets
from drafting.standards.house_style import HouseStyle, built_in, checked, departures, png_of, read
from drafting.standards.profile import ASME_INCH, ISO_MM, LineKind, Profile
from drafting.views.extents import view_box
from tests.core.conftest import demo

IN = 25.4


@functools.cache
def block_facts() -> Facts:
    return demo("HB-204").facts


def text_of(style: HouseStyle, **more: Any) -> str:
    return json.dumps({**style.model_dump(mode="json"), **more})


def drawn(style: HouseStyle, size: str = "A3", **fields: str) -> tuple[Drawing, list[Element]]:
    sheet = Sheet(id="s", size=size, frame=style.default_frame)
    d = Drawing(
        name="x",
        profile=style.profile,
        projection=style.profile.projection,
        fields=Fields(**fields),
        sheets=[sheet],
        logo=style.logo,
        notes=style.notes,
    )
    return d, frame_ink(d, sheet, block_facts())


# ---- reading -----------------------------------------------------------------------------------------------


def test_a_style_goes_to_json_and_back_and_the_built_in_ones_depart_from_nothing() -> None:
    for style in built_in().values():
        assert read(text_of(style)) == style
        assert departures(style) == {}
        assert len(style.frames) == 2


def test_departures_are_told_with_the_standard_s_own_value() -> None:
    own = ISO_MM.model_copy(
        update={
            "text_height": 5.0,
            "decimal_sign": ".",
            "lines": {**ISO_MM.lines, "visible": LineKind(width=0.7, layer="Visible")},
        }
    )
    style = HouseStyle(name="Own", profile=own, frames=[ISO_FRAME])
    assert departures(style) == {"text_height": 3.5, "decimal_sign": ",", "lines.visible.width": 0.5}


ISO = built_in()["iso-mm"].model_dump(mode="json")


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("{", "not JSON"),
        ("[" * 100_000, "not JSON"),
        ("[]", "not a house style"),
        ("{}", "not a house style"),
        (json.dumps({**ISO, "version": 7}), "of version 7"),
        (json.dumps({**ISO, "extra": 1}), "wrong at extra"),
        (json.dumps({**ISO, "name": ""}), "wrong at name"),
        (json.dumps({**ISO, "frame": "none such"}), "no frame called"),
        (json.dumps({**ISO, "profile": {**ISO["profile"], "text_height": -1}}), "profile.text_height"),
        (
            json.dumps(
                {**ISO, "profile": {**ISO["profile"], "lines": {"visible": {"width": 99, "layer": "V"}}}}
            ),
            "width",
        ),
        (
            json.dumps(
                {
                    **ISO,
                    "profile": {
                        **ISO["profile"],
                        "lines": {"visible": {"width": 1, "layer": "V", "dashes": [1]}},
                    },
                }
            ),
            "pairs",
        ),
        (json.dumps({**ISO, "frames": []}), "wrong at frames"),
        (json.dumps({**ISO, "frames": [ISO["frames"][0]] * 2}), "same name"),
        (json.dumps({**ISO, "logo": base64.b64encode(b"junk").decode()}), "not a PNG or SVG"),
        ("x" * 2_000_001, "larger than 2 MB"),
    ],
    ids=range(15),
)
def test_what_is_no_house_style_is_refused_in_one_sentence(text: str, says: str) -> None:
    with pytest.raises(CommandError, match=says) as said:
        read(text)
    assert len(str(said.value)) < 300


# ---- frames ------------------------------------------------------------------------------------------------


def test_the_built_in_blocks_have_the_fields_the_standards_ask_for_and_cover_their_grid() -> None:
    """ISO 7200 (memory): owner, number, date of issue, sheet, title, approval, creator, document type; Y14.1
    (memory): also size, scale."""
    shown = {key: {c.field for c in f.block.cells} for key, f in BUILT_IN.items()}
    assert {
        "owner",
        "number",
        "date",
        "sheet",
        "title",
        "approved_by",
        "drawn_by",
        "document",
        "revision",
    } <= shown["iso"]
    assert {
        "owner",
        "number",
        "title",
        "size",
        "scale",
        "sheet",
        "revision",
        "approved_by",
        "drawn_by",
        "checked_by",
        "mass",
    } <= shown["asme"]
    assert BUILT_IN["iso"].block.width <= 180  # ISO 7200: at most 180 mm wide
    for f in BUILT_IN.values():
        assert sum(c.rows * c.columns for c in f.block.cells) == len(f.block.rows) * len(f.block.columns)
        assert shown_are_known(f.block)
    assert SMALL_FRAME.zones == "none"


def shown_are_known(b: TitleBlock) -> bool:
    return all(not c.field or c.field in FIELDS or c.field.startswith("own:") for c in b.cells)


@st.composite
def edited(draw: st.DrawFn) -> tuple[TitleBlock, TitleBlock]:
    start = now = draw(st.sampled_from([f.block for f in BUILT_IN.values()]))
    for _ in range(draw(st.integers(1, 8))):
        cell, way = (
            draw(st.integers(0, len(now.cells) - 1)),
            draw(st.sampled_from(["columns", "rows", "merge"])),
        )
        try:
            now = (
                merged(now, cell, draw(st.integers(0, len(now.cells) - 1)))
                if way == "merge"
                else split(now, cell, way)
            )  # type: ignore[arg-type]
        except CommandError:
            continue
    return start, now


@given(edited())
def test_splitting_and_merging_keep_the_block_s_size_and_leave_no_hole_and_no_overlap(
    blocks: tuple[TitleBlock, TitleBlock],
) -> None:
    start, now = blocks
    assert (now.width, now.height) == (pytest.approx(start.width), pytest.approx(start.height))
    assert sum(c.rows * c.columns for c in now.cells) == len(now.rows) * len(now.columns)
    TitleBlock.model_validate(now.model_dump())  # refuses overlaps


def test_a_cell_split_and_merged_again_is_what_it_was() -> None:
    b = ISO_FRAME.block
    owner = next(i for i, c in enumerate(b.cells) if c.field == "owner")
    two = split(b, owner, "columns")
    assert len(two.cells) == len(b.cells) + 1
    assert merged(two, owner, owner + 1).cells == b.cells
    with pytest.raises(CommandError, match="share a whole side"):
        merged(b, owner, next(i for i, c in enumerate(b.cells) if c.field == "number"))
    with pytest.raises(CommandError, match="too small"):
        split(TitleBlock(columns=[3], rows=[8], cells=[Cell(row=0, column=0)]), 0, "columns")


@pytest.mark.parametrize(
    "cells",
    [
        [{"row": 0, "column": 0, "columns": 2}, {"row": 0, "column": 1}],
        [{"row": 1, "column": 0}],
        [{"row": 0, "column": 0, "field": "shoe size"}],
    ],
)
def test_a_block_that_cannot_be_is_refused(cells: list[dict[str, Any]]) -> None:
    frame = {"name": "x", "block": {"columns": [20, 20], "rows": [8], "cells": cells}}
    with pytest.raises(CommandError, match="wrong at frames"):
        checked({**ISO, "frames": [frame]})


@given(
    st.text(st.characters(codec="latin-1", exclude_categories=["Cc"]), min_size=60, max_size=200),
    st.sampled_from(list(built_in().values())),
)
def test_text_that_does_not_fit_its_cell_is_cut_inside_it_and_reported(title: str, style: HouseStyle) -> None:
    size = "A3" if style.profile.standard == "ISO" else "B"
    d, ink = drawn(style, size, title=title)
    at = block_box(d.sheets[0])
    for e in ink:
        if isinstance(e, Text) and at.left < e.at[0] < at.right and e.at[1] < at.top:
            assert e.at[0] + text_width(e.text, e.height) <= at.right + 1e-6
    (cell,) = [p for p in placed_cells(d, d.sheets[0], block_facts()) if p.cell.field == "title"]
    assert cell.cut == (text_width(title, 1.8) > cell.box.width - 3)


def test_asme_zones_run_from_the_lower_right_and_trimming_marks_fill_the_corners() -> None:
    """Y14.1 (memory): numbers from right to left, letters from bottom to top; ISO 5457: bars of 10 x 5 mm at
    each corner."""
    frame = ASME_FRAME.model_copy(update={"zones": "asme", "trimming": True})
    d, ink = drawn(HouseStyle(name="x", profile=ASME_INCH, frames=[frame]), "D")
    box = frame_box(d.sheets[0])
    over = [
        e.text
        for e in sorted((e for e in ink if isinstance(e, Text) and e.at[1] > box.top), key=lambda e: -e.at[0])
    ]
    assert over == [str(n + 1) for n in range(16)]  # of about 50 mm on a border of 33 in
    right = [
        e.text
        for e in sorted(
            (e for e in ink if isinstance(e, Text) and e.at[0] > box.right), key=lambda e: e.at[1]
        )
    ]
    assert right == list("ABCDEFGHJK")  # on one of 21 in; no I
    bars = [e for e in ink if isinstance(e, Fill)]
    assert len(bars) == 4
    assert (34 * IN, 22 * IN) in {p for b in bars for p in b.points}


def test_every_zone_field_of_every_size_is_about_50_mm_long() -> None:
    """ISO 5457: fields 50 mm long counted from the center lines, an even number."""
    for s in sheets.ISO.values():
        for side in (s.long - s.margin_left - s.margin, s.short - 2 * s.margin):
            count = sheets.zone_count(side)
            assert count % 2 == 0
            assert 35 <= side / count <= 65


def test_views_go_into_the_slots_of_a_frame_level_with_each_other() -> None:
    places = {"main": (0, 0.5), "below": (0, 0), "right": (0.5, 0.5), "pictorial": (0.5, 0)}
    slots = [
        Slot(name=k, shows=k, left=x, bottom=y, right=x + 0.5, top=y + 0.5) for k, (x, y) in places.items()
    ]  # type: ignore[arg-type]
    facts = block_facts()
    d, _ = drawn(HouseStyle(name="x", profile=ISO_MM, frames=[ISO_FRAME.model_copy(update={"slots": slots})]))
    sheet = d.sheets[0]
    fill_slots(d, sheet, facts, [f"v{i}" for i in range(9)])
    main, plan, side, picture = sheet.views
    assert (plan.position.x, side.position.y) == (main.position.x, main.position.y)
    for slot, view in zip(slots, (main, plan, side, picture), strict=True):
        box = slot_box(sheet, slot)
        left, bottom, right, top = view_box(view, sheet, facts)
        if slot.shows in ("main", "pictorial"):
            assert box.left <= view.position.x + left < view.position.x + right <= box.right
            assert box.bottom <= view.position.y + bottom < view.position.y + top <= box.top
    room = drawing_room(sheet)
    assert slot_box(sheet, slots[0]).top == pytest.approx(room.top)


# ---- values found again in the files -----------------------------------------------------------------------

WIDTHS = [0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1, 1.4, 2]  # ISO 128-2 (memory)
HEIGHTS = [2.5, 3.5, 5, 7, 10]  # ISO 3098 (memory)


def test_line_widths_of_the_profile_come_out_of_the_dxf_and_the_pdf() -> None:
    """Every width of ISO 128-2 on a line of its own: the DXF's lineweight in 1/100 mm, the PDF's `w` operator
    times its matrix in points."""
    for width in WIDTHS:
        profile = ISO_MM.model_copy(
            update={"lines": {**ISO_MM.lines, "frame": LineKind(width=width, layer="Frame")}}
        )
        d, _ = drawn(HouseStyle(name="x", profile=profile, frames=[ISO_FRAME]))
        out = compose(d, d.sheets[0], block_facts(), {}).ink
        document = ezdxf.read(io.StringIO(sheet_dxf(out, profile)[0].decode()))
        block = [e for e in document.modelspace() if e.dxf.layer == "Frame"]
        assert round(width * 100) in {e.dxf.lineweight for e in block}
        content = pypdf.PdfReader(io.BytesIO(sheets_pdf([out], profile, "x"))).pages[0].get_contents()
        assert content is not None
        code = content.get_data().decode("latin-1")
        matrix = re.search(r"(\S+) 0 0 (\S+) 0 0 cm\s", code[code.index("cm") + 2 :])  # after the page's own
        assert matrix
        points = {float(w) * float(matrix[1]) for w in re.findall(r"([\d.]+) w\s", code)}
        assert min(abs(p - width * 72 / IN) for p in points) < 1e-3


@pytest.mark.parametrize("height", HEIGHTS)
def test_general_notes_are_lettered_in_the_profile_s_height(height: float) -> None:
    profile = ISO_MM.model_copy(update={"text_height": height})
    style = HouseStyle(
        name="x", profile=profile, frames=[ISO_FRAME], notes=["Deburr all edges", "Oil the bore"]
    )
    d, ink = drawn(style, "A2")
    notes = [e for e in ink if isinstance(e, Text) and e.text in ("1. Deburr all edges", "2. Oil the bore")]
    assert [e.height for e in notes] == [height, height]
    assert max(notes, key=lambda e: e.at[1]).text.startswith("1.")
    out = compose(d, d.sheets[0], block_facts(), {}).ink
    lettered = ezdxf.read(io.StringIO(sheet_dxf(out, profile)[0].decode())).modelspace().query("TEXT")
    assert {round(e.dxf.height, 6) for e in lettered if e.dxf.text.startswith("1. D")} == {height}


# ---- numbers and arrows ------------------------------------------------------------------------------------


@given(st.integers(-4000, 4000), st.sampled_from([2, 4, 8, 16, 32, 64]))
def test_fractions_of_an_inch_are_in_lowest_terms_and_exact(parts: int, finest: int) -> None:
    profile = ASME_INCH.model_copy(update={"fraction": finest})
    text = written(parts / finest * IN, profile)
    whole, _, rest = text.lstrip("-").rpartition(" ") if "/" in text else (text.lstrip("-"), "", "")
    value = float(whole or 0)
    if rest:
        a, b = (int(v) for v in rest.split("/"))
        assert math.gcd(a, b) == 1
        assert 0 < a < b <= finest
        value += a / b
    assert math.copysign(value, parts) == pytest.approx(parts / finest)


def test_fractions_as_the_trade_writes_them() -> None:
    """Common practice: 19.05 mm is 3/4, 44.45 mm is 1 3/4, 25.4 mm is 1."""
    profile = ASME_INCH.model_copy(update={"fraction": 64})
    assert [written(v, profile) for v in (19.05, 44.45, 25.4, 0)] == ["3/4", "1 3/4", "1", "0"]


@pytest.mark.parametrize(
    ("form", "kind"), [("filled", Fill), ("open", Polyline), ("dot", Fill), ("stroke", Line)]
)
def test_arrowheads_have_the_profile_s_form_length_and_place(form: str, kind: type) -> None:
    import numpy as np

    profile = ISO_MM.model_copy(update={"arrow": form, "arrow_length": 4.0, "arrow_width": 1.5})
    e = arrow(np.array([10.0, 5.0]), np.array([1.0, 0.0]), profile)
    assert isinstance(e, kind)
    points = np.array(e.points if not isinstance(e, Line) else [e.a, e.b])
    if form in ("filled", "open"):
        assert points[:, 0].max() == pytest.approx(10)
        assert np.ptp(points[:, 0]) == pytest.approx(4)
        assert np.ptp(points[:, 1]) == pytest.approx(1.5)
    elif form == "dot":
        assert np.linalg.norm(points - [10, 5], axis=1) == pytest.approx(np.full(len(points), 0.75))
    else:
        assert points.mean(0) == pytest.approx([10, 5])
        assert math.dist(*points) == pytest.approx(4)


# ---- drawings and their style ------------------------------------------------------------------------------


def test_a_drawing_is_brought_along_in_one_step_and_keeps_its_own_sheets_frames_by_name() -> None:
    style = built_in()["iso-mm"]
    d, _ = drawn(style)
    d, _, _ = execute(d, AddSheet(command="add_sheet", id="t"))
    assert d.sheets[1].frame == style.default_frame
    wider = style.frames[1].model_copy(update={"centering": True})
    new = style.model_copy(
        update={
            "profile": ISO_MM.model_copy(update={"text_height": 5.0}),
            "frames": [style.frames[0], wider],
            "notes": ["Deburr"],
        }
    )
    d.sheets[1].frame = style.frames[1]
    after, _, inverse = execute(d, TakeStyle(command="take_style", id="own", style=new))
    assert (after.profile.text_height, after.notes, after.style) == (5.0, ["Deburr"], "own")
    assert after.sheets[1].frame == wider
    from drafting.commands import patched

    assert patched(after, inverse) == d
    with pytest.raises(CommandError, match="of ASME, the drawing of ISO"):
        execute(d, TakeStyle(command="take_style", id="x", style=built_in()["asme-inch"]))
    noted, _, _ = execute(d, ChangeNotes(command="change_notes", notes=[" Break edges ", ""]))
    assert noted.notes == ["Break edges"]


def test_own_words_of_view_labels_take_the_place_of_the_standard_s() -> None:
    from drafting.document import Point, View
    from drafting.views.marks import label_lines
    from drafting.views.orientation import PRINCIPAL

    view = View(id="v", kind="section", orientation=PRINCIPAL["front"], position=Point(x=0, y=0), letter="B")
    for profile, text in (
        (ISO_MM, "B-B"),
        (ASME_INCH, "SECTION B-B"),
        (ISO_MM.model_copy(update={"section_label": "Cut {letter}"}), "Cut B"),
    ):
        d = Drawing(
            name="x", profile=profile, projection="first", sheets=[Sheet(id="s", size="A3", views=[view])]
        )
        assert label_lines(d, d.sheets[0], view) == [text]


# ---- logos -------------------------------------------------------------------------------------------------


def png(width: int, height: int) -> bytes:
    out = io.BytesIO()
    Picture.new("RGB", (width, height), (90, 20, 120)).save(out, "PNG")
    return out.getvalue()


SVG = (
    '<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" '
    'viewBox="0 0 100 50">{}</svg>'
)


def test_a_logo_keeps_its_proportion_in_its_cell_and_its_holes() -> None:
    data = logo.svg_to_png(SVG.format('<path fill="#123456" d="M0 0H100V50H0Z M40 15H60V35H40Z"/>').encode())
    with Picture.open(io.BytesIO(data)) as picture:
        assert picture.width / picture.height == pytest.approx(2, rel=0.01)
        assert picture.getpixel((10, 10)) == (0x12, 0x34, 0x56, 255)
        assert picture.getpixel((picture.width // 2, picture.height // 2))[3] == 0  # the hole
    cells = [Cell(row=0, column=0, logo=True), Cell(row=0, column=1, field="title")]
    frame = ISO_FRAME.model_copy(update={"block": TitleBlock(columns=[40, 100], rows=[30], cells=cells)})
    d, ink = drawn(HouseStyle(name="x", profile=ISO_MM, frames=[frame], logo=base64.b64encode(data).decode()))
    (image,) = [e for e in ink if isinstance(e, Image)]
    assert image.width / image.height == pytest.approx(2, rel=0.01)
    assert image.width == pytest.approx(38)
    document = pypdf.PdfReader(
        io.BytesIO(sheets_pdf([compose(d, d.sheets[0], block_facts(), {}).ink], d.profile, "x"))
    )
    assert len(document.pages[0].images) == 1


@pytest.mark.parametrize(
    ("inside", "says"),
    [
        ("<script>alert(1)</script>", "script"),
        ('<rect width="9" height="9" onload="x()"/>', "script"),
        ('<image href="https://elsewhere.example/x.png"/>', "image"),
        ('<a xlink:href="#x"><rect width="9" height="9"/></a>', "outside itself"),
        ('<rect width="9" height="9" fill="url(https://elsewhere.example/#g)"/>', "outside itself"),
        ("<style>@import url(x)</style>", "style"),
        ("", "no shapes"),
        ("<foreignObject><p/></foreignObject>", "foreignobject"),
    ],
)
def test_an_svg_with_more_than_plain_shapes_is_refused(inside: str, says: str) -> None:
    with pytest.raises(CommandError, match=says):
        logo.svg_to_png(SVG.format(inside).encode())


def test_entities_other_formats_and_pictures_out_of_measure_are_refused() -> None:
    bomb = b'<!DOCTYPE s [<!ENTITY a "aaaaaaaa"><!ENTITY b "&a;&a;&a;&a;">]><svg xmlns="http://www.w3.org/2000/svg"><text>&b;</text></svg>'
    with pytest.raises(CommandError, match="not an SVG"):
        logo.svg_to_png(bomb)
    with pytest.raises(CommandError, match="larger than 500 kB"):
        logo.svg_to_png(b" " * 500_001)
    with pytest.raises(CommandError, match="not a PNG or SVG"):
        png_of(b"\x89PNG\r\n\x1a\n" + b"junk" * 10)
    huge = bytearray(png(8, 8))
    huge[16:24] = struct.pack(">II", 10_000, 10_000)  # says it is 10,000 x 10,000
    with pytest.raises(CommandError):
        png_of(bytes(huge))
    with pytest.raises(CommandError, match="million in all"):
        png_of(png(2500, 2000))
    with Picture.open(io.BytesIO(png_of(png(1999, 1000)))) as small:
        assert max(small.size) <= house_style.KEPT_PIXELS


def test_the_profile_refuses_values_no_drawing_could_be_made_with() -> None:
    good = ISO_MM.model_dump(mode="json")
    for name, value in (
        ("arrow_length", 0),
        ("first_row", float("inf")),
        ("places", 9),
        ("fraction", 3),
        ("decimal_sign", ";"),
        ("key", ""),
    ):
        with pytest.raises(ValueError, match=name):
            Profile.model_validate({**good, name: value})


@pytest.mark.parametrize("size", [*sheets.ISO, *sheets.ASME])
@pytest.mark.parametrize("landscape", [True, False])
def test_sheet_border_and_zones_are_found_again_in_the_files(size: str, landscape: bool) -> None:
    """The PDF's page to 0.1 mm; the DXF's border and zone lettering, fields of equal length from the center
    lines (ISO 5457, Y14.1)."""
    iso = size in sheets.ISO
    style = built_in()["iso-mm" if iso else "asme-inch"]
    frame = style.default_frame.model_copy(update={"zones": "iso" if iso else "asme"})
    sheet = Sheet(id="s", size=size, landscape=landscape, frame=frame)
    d = Drawing(name="x", profile=style.profile, projection="first", sheets=[sheet])
    out = compose(d, sheet, block_facts(), {}).ink
    page = pypdf.PdfReader(io.BytesIO(sheets_pdf([out], style.profile, "x"))).pages[0].mediabox
    table = sheets.size(size)
    wide, high = (table.long, table.short) if landscape else (table.short, table.long)
    assert (float(page.width) * IN / 72, float(page.height) * IN / 72) == (
        pytest.approx(wide, abs=0.1),
        pytest.approx(high, abs=0.1),
    )
    space = ezdxf.read(io.StringIO(sheet_dxf(out, style.profile)[0].decode())).modelspace()
    borders = [[(x, y) for x, y, *_ in e.get_points()] for e in space.query("LWPOLYLINE") if e.closed]
    corners = max(borders, key=lambda b: max(x for x, _ in b) - min(x for x, _ in b))
    left, bottom = min(corners)
    right, top = max(corners)
    box = frame_box(sheet)
    assert (left, bottom, right, top) == pytest.approx((box.left, box.bottom, box.right, box.top))
    lettered = [
        (e.dxf.text, e.dxf.align_point if e.dxf.hasattr("align_point") else e.dxf.insert)
        for e in space.query("TEXT")
    ]
    across = sorted((p.x, text) for text, p in lettered if p.y > top and text.isdigit())
    numbers = [int(text) for _, text in across]
    assert (
        numbers == sorted(numbers, reverse=not iso) == list(range(1, len(numbers) + 1))[:: 1 if iso else -1]
    )
    assert len(numbers) % 2 == 0
    steps = [b - a for (a, _), (b, _) in zip(across, across[1:], strict=False)]
    assert steps == pytest.approx([(right - left) / len(numbers)] * len(steps))
    down = sorted((-p.y, text) for text, p in lettered if p.x < left and text.isalpha())
    letters = [text for _, text in down]
    assert letters == list("ABCDEFGHJKLMNPQRSTUVWXYZ")[: len(letters)][:: 1 if iso else -1]
    assert len(letters) % 2 == 0
    for length, fields in ((right - left, len(numbers)), (top - bottom, len(letters))):
        assert 25 < length / fields < 75  # about 50 mm; fields come in pairs about the center lines
