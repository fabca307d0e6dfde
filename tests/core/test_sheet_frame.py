"""Frame, zones and title block as a checker looks at them."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.document import Drawing, Fields, Sheet
from drafting.ink.elements import Line, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.sheet.frame import frame_ink, placed_cells
from drafting.sheet.layout import block_box, drawing_room, frame_box, sheet_size, template_of
from drafting.standards import sheets
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from tests.core.conftest import block, demo

CASES = [(ISO_MM, n) for n in sheets.ISO] + [(ASME_INCH, n) for n in sheets.ASME]


def drawn(profile: Profile, size: str, landscape: bool = True, **fields: str) -> tuple[Sheet, list[object]]:
    sheet = Sheet(id="s", size=size, landscape=landscape)
    d = Drawing(
        name="x", profile=profile, projection=profile.projection, fields=Fields(**fields), sheets=[sheet]
    )
    return sheet, list(frame_ink(d, sheet, demo("HB-214").facts))


@pytest.mark.parametrize(("profile", "size"), CASES, ids=[s for _, s in CASES])
@pytest.mark.parametrize("landscape", [True, False])
def test_nothing_of_the_frame_leaves_the_sheet_and_the_block_sits_in_its_corner(
    profile: Profile, size: str, landscape: bool
) -> None:
    sheet, ink = drawn(profile, size, landscape)
    w, h = sheet_size(sheet)
    assert (w > h) == landscape
    for e in ink:
        for x, y in [e.a, e.b] if isinstance(e, Line) else list(getattr(e, "points", [])):
            assert -1e-9 <= x <= w + 1e-9
            assert -1e-9 <= y <= h + 1e-9
    box = frame_box(sheet)
    block_outline = next(e for e in ink if isinstance(e, Polyline) and e.line == "frame" and not e.closed)
    assert block_outline.points[0] == (
        pytest.approx(box.right - min(180, box.width)),
        box.bottom,
    )  # ISO 7200: at most 180 mm wide
    assert block_outline.points[-1] == (box.right, pytest.approx(block_box(sheet).top))
    assert block_box(sheet).height == pytest.approx(template_of(sheet).block.height * min(1, box.width / 180))
    room = drawing_room(sheet)
    assert room.bottom > block_box(sheet).top
    assert room.width > 100


@given(st.text(st.characters(codec="latin-1", exclude_categories=["Cc"]), max_size=120))
@settings(max_examples=40, deadline=None)
def test_a_long_title_is_made_smaller_or_cut_and_never_runs_out_of_its_cell(title: str) -> None:
    sheet, ink = drawn(ISO_MM, "A3", title=title, number="HB-" + title[:40])
    d = Drawing(
        name="x",
        profile=ISO_MM,
        projection="first",
        fields=Fields(title=title, number="HB-" + title[:40]),
        sheets=[sheet],
    )
    cells = placed_cells(d, sheet, demo("HB-214").facts)
    block, box = block_box(sheet), frame_box(sheet)
    inside = (e for e in ink if isinstance(e, Text) and block.left < e.at[0] < box.right)
    words = [e for e in inside if box.bottom < e.at[1] < block.top]
    assert len(words) > len(cells)
    for e in words:
        (cell,) = [
            c for c in cells if c.box.left <= e.at[0] < c.box.right and c.box.bottom <= e.at[1] < c.box.top
        ]
        shift = {"left": 0.0, "middle": 0.5, "right": 1.0}[e.align] * text_width(e.text, e.height)
        assert cell.box.left <= e.at[0] - shift
        assert e.at[0] - shift + text_width(e.text, e.height) <= cell.box.right + 1e-6
    said = next(c for c in cells if c.cell.field == "title")
    shown = [e.text for e in words if said.box.left <= e.at[0] < said.box.right and e.at[1] < said.box.top]
    if title.strip() and not said.cut:
        assert title.strip() in " ".join(shown)


def test_iso_zones_are_lettered_down_and_numbered_across_and_asme_has_none() -> None:
    """ISO 5457: fields counted from the upper left corner, letters without I and O, on both sides alike."""
    sheet, ink = drawn(ISO_MM, "A3")
    box = frame_box(sheet)
    outside = [
        e
        for e in ink
        if isinstance(e, Text) and not (box.left < e.at[0] < box.right and box.bottom < e.at[1] < box.top)
    ]
    top = [e.text for e in sorted((e for e in outside if e.at[1] > box.top), key=lambda e: e.at[0])]
    left = [e.text for e in sorted((e for e in outside if e.at[0] < box.left), key=lambda e: -e.at[1])]
    right = [e.text for e in sorted((e for e in outside if e.at[0] > box.right), key=lambda e: -e.at[1])]
    assert top == [str(i) for i in range(1, 9)]
    assert left == right == list("ABCDEF")
    _, asme = drawn(ASME_INCH, "B")
    asme_box = frame_box(Sheet(id="s", size="B"))
    assert not [e for e in asme if isinstance(e, Text) and e.at[0] < asme_box.left]


def test_every_label_of_the_block_has_its_value_and_blank_ones_stay_blank() -> None:
    _, ink = drawn(
        ASME_INCH, "B", owner="Harrow Beck Millworks", drawn_by="A. Fell", date="2026-11-14", revision="A"
    )
    said = {e.text for e in ink if isinstance(e, Text)}
    assert {
        "Owner",
        "Harrow Beck Millworks",
        "Title",
        "Keeper plate",
        "HB-214",
        "Mass",
        "0.57 lb",  # 0.2584 kg; 1 lb is 0.45359237 kg (NIST SP 811)
        "Scale",
        "1:1",
        "Sheet",
        "1 / 1",
        "in",
    } <= said
    iso = drawn(ISO_MM, "A3")[1]
    assert "0,258 kg" in {e.text for e in iso if isinstance(e, Text)}  # the decimal sign of the house
    bare = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[Sheet(id="s", size="A3")])
    texts = {e.text for e in frame_ink(bare, bare.sheets[0], block(1, 1, 1).facts) if isinstance(e, Text)}
    assert "Mass" in texts
    assert not any("kg" in t for t in texts)
