"""Notes and textures on the lines of sizes, notes that quote sizes, further leaders, one more like another,
and words that the lettering has no forms for."""

import io
import re
from typing import Any

import numpy as np
import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds import note
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.kinds.note import MOST_TIPS, Note
from drafting.annotation.measuring.pointing import ended, target_at
from drafting.annotation.proposing.propose import propose
from drafting.commands import execute
from drafting.commands.annotations import Place, Remove
from drafting.commands.sheets import CopySheet
from drafting.compose import annotation_groups
from drafting.context import Context
from drafting.document import Dimension, OnSheet, Pick
from drafting.errors import CommandError, SizeError
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Fill, Group, Line, SheetInk, Text
from drafting.ink.lettering import by_font, text_width
from drafting.standards.profile import ISO_MM
from drafting.views.geometry import ViewGeometry
from tests.core.conftest import block
from tests.core.test_notes import HERE, seen


def on_plate(width: float = 60.0) -> tuple[ViewGeometry, Context]:
    """A plate seen from above with its width on it, 40 below the middle."""
    geometry, context = seen(block(width, 40, 10), title="Sill")
    spots = []
    for x in (-width / 2, width / 2):
        curve = target_at(np.array([x, 3.0]), geometry, 1.0).curve
        assert curve is not None
        path = geometry.instances[curve.instance]
        spots.append(Spot(Pick(instance=path, source=curve.source, role=curve.role), (x, 3.0)))
    size = propose("size", Request(spots, (0.0, -40.0), "d"), context, dict).annotations[0]
    assert isinstance(size, Dimension)
    context.sheet.annotations.append(size)
    return geometry, context


def proposed(
    tool: str, at: tuple[float, float], to: tuple[float, float], **chosen: Any
) -> tuple[Any, Context]:
    geometry, context = on_plate()
    request = Request([], to, "n", settings={"tip": at, **chosen}, geometry=geometry)
    return propose(tool, request, context, dict).annotations[0], context


# ---- on the lines of sizes ---------------------------------------------------------------------------------
def test_a_leader_ends_on_a_dimension_line_in_nothing() -> None:
    """ISO 128-22 (memory): neither arrow nor dot where a leader ends on another line's dimension line."""
    made, context = proposed("note", (20, -40.3), (50, -60))
    assert (made.tips[0].on, made.tips[0].source) == ("line", "d")
    ink = note.ink(made, context)
    assert not [e for e in ink if isinstance(e, Fill)]
    assert next(e for e in ink if isinstance(e, Line)).b == pytest.approx((20, -40))


@given(st.floats(35, 200), st.floats(0.1, 0.9))
@settings(max_examples=12, deadline=None)
def test_it_keeps_its_share_of_the_line_when_the_part_grows(width: float, share: float) -> None:
    _, context = on_plate()
    tip = note.Tip(instance="", at={"x": share, "y": 0}, on="line", source="d", role="size")  # type: ignore[arg-type]
    small, large = (ended(tip, c).at for c in (context, on_plate(width)[1]))
    assert large[1] == small[1] == pytest.approx(-40)
    assert large[0] == pytest.approx(small[0] * width / 60)


def test_it_is_lost_with_the_size() -> None:
    made, context = proposed("note", (20, -40.3), (50, -60))
    context.sheet.annotations.clear()
    with pytest.raises(SizeError, match="no longer there"):
        note.ink(made, context)


def test_a_texture_stands_on_an_extension_line_and_on_a_dimension_line() -> None:
    """ISO 21920-1, as ISO 1302 before (memory): on the extension line of a size, or on its dimension line."""
    for at, to in (((30.2, -34), (27, -33)), ((15, -40), (15, -37))):
        made, context = proposed("texture", at, to)
        assert (made.tip.on, made.on_line) == ("line", True)
        ink = registry.ink(made, context)
        foot = ended(made.tip, context).at
        assert min(float(np.linalg.norm(np.array(p) - foot)) for e in ink for p in ends(e)) < 1e-6


def ends(e: Any) -> list[Any]:
    return [e.a, e.b] if isinstance(e, Line) else list(getattr(e, "points", []))


def test_edges_come_before_sizes_and_sizes_before_faces() -> None:
    assert proposed("note", (30, 3), (50, 60))[0].tips[0].on == "edge"
    assert proposed("note", (5, 5), (50, 60))[0].tips[0].on == "face"
    with pytest.raises(SizeError, match="line of a size"):
        proposed("note", (5, -60), (50, 60))
    with pytest.raises(SizeError, match="no part here"):
        proposed("weld", (20, -40.3), (50, -60))


# ---- quoting a size ----------------------------------------------------------------------------------------
def quoting(context: Context, text: str = "cut {size: d} long") -> Note:
    return Note(id="q", anchor=OnSheet(), place=HERE, text=text)


@given(st.floats(35, 200))
@settings(max_examples=12, deadline=None)
def test_a_quoted_size_says_what_the_size_says(width: float) -> None:
    width = round(width, 2)
    _, context = on_plate(width)
    said = registry.text(context.sheet.annotations[0], context)
    assert float(said.replace(",", ".")) == pytest.approx(width)
    assert note.words(quoting(context), context) == f"cut {said} long"
    assert note.findings(quoting(context), context) == []


def test_a_quoted_size_that_is_gone_is_a_finding() -> None:
    _, context = on_plate()
    context.sheet.annotations.clear()
    assert note.words(quoting(context), context) == "cut {size: d} long"
    (said,) = note.findings(quoting(context), context)
    assert "a size that is gone" in said


def test_a_copied_sheet_quotes_its_own_size_and_points_at_it() -> None:
    made, context = proposed("note", (20, -40.3), (50, -60))
    made = made.model_copy(update={"text": "as {size: d}"})
    drawing = context.drawing
    drawing = execute(drawing, Place(command="place", annotations=[made], sheet="s"), context.facts)[0]
    drawing = execute(drawing, CopySheet(command="copy_sheet", sheet="s", id="c"), context.facts)[0]
    copy = next(s for s in drawing.sheets if s.id not in ("s", "t"))
    size = next(a for a in copy.annotations if isinstance(a, Dimension))
    words = next(a for a in copy.annotations if isinstance(a, Note))
    assert size.id != "d"
    assert (words.text, words.tips[0].source) == (f"as {{size: {size.id}}}", size.id)
    gone = execute(drawing, Remove(command="remove", ids=["d"]), context.facts)[0]
    groups = annotation_groups(gone, next(s for s in gone.sheets if s.id == copy.id), context.facts)
    assert isinstance(groups[words.id], Group)


# ---- more of it --------------------------------------------------------------------------------------------
def test_a_note_gets_further_leaders_up_to_a_dozen() -> None:
    made, context = proposed("note", (30, 3), (60, 50))
    geometry, _ = on_plate()
    context.sheet.annotations.append(made)
    for n in range(1, MOST_TIPS):
        request = Request([], (30.0, -15.0 + 2 * n), "x", settings={"note": "n"}, geometry=geometry)
        made = propose("further_leader", request, context, dict).annotations[0]
        context.sheet.annotations[-1] = made
    assert (made.id, len(made.tips)) == ("n", MOST_TIPS)
    assert len([e for e in note.ink(made, context) if isinstance(e, Fill)]) == MOST_TIPS
    with pytest.raises(CommandError, match="at most"):
        propose("further_leader", request, context, dict)
    fewer = registry.changed(made, {"leaders": 3}, context)
    assert fewer.tips == made.tips[:3]  # type: ignore[attr-defined]
    request = Request([], (30, 3), "x", settings={"note": "gone"}, geometry=geometry)
    with pytest.raises(SizeError, match="no longer on the sheet"):
        propose("further_leader", request, context, dict)


def test_one_more_like_another_takes_all_but_its_place() -> None:
    first, context = proposed("note", (30, 3), (60, 50))
    first = first.model_copy(update={"text": "grind", "framed": True, "end": "dot", "around": "all over"})
    context.sheet.annotations.append(first)
    geometry, _ = on_plate()
    request = Request([], (-60.0, 50.0), "m", settings={"tip": (-30, 3), "like": "n"}, geometry=geometry)
    second = propose("note", request, context, dict).annotations[0]
    kept = {"text", "framed", "end", "around", "width", "height", "align", "shoulder", "flag", "angle"}
    assert second.model_dump(include=kept) == first.model_dump(include=kept)
    assert (second.id, second.tips[0].at.x) == ("m", pytest.approx(0, abs=1e-3))  # type: ignore[attr-defined]
    request = Request([], (0, 50), "m", settings={"tip": (-30, 3), "like": "d"}, geometry=geometry)
    with pytest.raises(SizeError, match="no longer on the drawing"):
        propose("note", request, context, dict)


def test_the_side_of_the_words_is_dragged_to_their_width() -> None:
    made, context = proposed("note", (30, 3), (60, 50))
    made = made.model_copy(update={"text": "Break all edges by half a millimeter before painting"})
    (handle,) = note.handles(made, context)
    assert handle.past == pytest.approx(text_width(made.text, ISO_MM.text_height))
    narrow = registry.changed(made, {"end": 0, "past": 32.0}, context)
    assert narrow.width == 32.0  # type: ignore[attr-defined]
    lines = [e for e in note.ink(narrow, context) if isinstance(e, Text)]  # type: ignore[arg-type]
    assert len(lines) > 2
    assert max(text_width(e.text, e.height) for e in lines) <= 32


# ---- what the lettering has no form for --------------------------------------------------------------------
def test_another_font_stands_in_for_what_the_lettering_lacks() -> None:
    """Letters of right-to-left scripts run from the right (Unicode Bidirectional Algorithm)."""
    text = "see \u05e9\u05dc\u05d5\u05dd 5 \U0001f600"
    assert [known for _, known in by_font(text)] == [True, False, True, False]
    assert by_font(text)[1][0] == "\u05dd\u05d5\u05dc\u05e9"
    ink = SheetInk(200, 100, [Group("g", "annotation", (0.0, 0.0), [Text((20, 50), text, 5.0, "thin")])])
    page = pypdf.PdfReader(io.BytesIO(sheets_pdf([ink], ISO_MM, "x"))).pages[0]
    read = page.extract_text()
    assert "see" in read
    assert all(c in read for c in "\u05e9\u05dc\u05d5\u05dd")
    fonts = {str(f.get_object()["/BaseFont"]) for f in page["/Resources"]["/Font"].values()}  # type: ignore[index]
    assert any("DejaVu" in f for f in fonts)
    svg = sheet_svg(ink, ISO_MM).decode()
    assert re.findall(r"font-family:'([^']+)';src", svg) == ["osifont", "DejaVu Sans"]
    assert text_width("\u05e9\u05dc", 5.0) > text_width("\u05e9", 5.0) > 1.0


def test_words_of_a_view_go_with_it_and_have_no_leader() -> None:
    geometry, context = on_plate()
    request = Request([], (12.0, 50.0), "w", settings={"words": True}, geometry=geometry)
    made = propose("note", request, context, dict).annotations[0]
    assert isinstance(made, Note)
    assert (made.view, made.tips) == ("v", [])
    assert not [e for e in note.ink(made, context) if isinstance(e, Line)]
    moved = note.drag(made, "place", Request([], (20.0, 60.0), "w", geometry=geometry), context)
    assert moved.place.at(1.0) == pytest.approx((20, 60))


def test_justified_lines_fill_their_width_but_for_the_last_of_a_paragraph() -> None:
    _, context = on_plate()
    text = "All edges are broken by half a millimeter before painting\nNo oil"
    made = Note(id="n", anchor=OnSheet(), place=HERE, text=text, width=40.0, align="justified")
    words = [e for e in note.ink(made, context) if isinstance(e, Text)]
    rows = sorted({round(e.at[1], 6) for e in words}, reverse=True)
    ends = [
        max(e.at[0] + text_width(e.text, e.height) for e in words if abs(e.at[1] - y) < 1e-6) for y in rows
    ]
    block = note._block(made, context)
    left = min(e.at[0] for e in words)
    full = [e for n, e in enumerate(ends) if n in block.filled]
    assert len(full) >= 2
    assert full == pytest.approx([left + block.width] * len(full))
    assert ends[-1] < left + block.width
    assert " ".join(e.text for e in words) == text.replace("\n", " ")
