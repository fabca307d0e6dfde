"""Notes: what leaders end with and on, what is quoted, how lines stand."""

import math
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.kinds import note
from drafting.annotation.kinds.kind import Request
from drafting.annotation.kinds.note import Note
from drafting.annotation.measuring.measure import LostPick
from drafting.compose import compose
from drafting.context import Context
from drafting.document import Drawing, Fields, Placement, Point, Sheet
from drafting.errors import CommandError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Arc, Fill, Line, Polyline, Text
from drafting.ink.lettering import text_width
from drafting.model.model import Model
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import block

HERE = Placement(model=Point(x=0, y=0), paper=Point(x=20, y=30))


def seen(model: Model, profile: Profile = ISO_MM, **fields: str) -> tuple[ViewGeometry, Context]:
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=100, y=100))
    second = View(
        id="w", kind="section", orientation=PRINCIPAL["front"], position=Point(x=100, y=100), letter="B"
    )
    sheets = [
        Sheet(id="s", size="A3", views=[view]),
        Sheet(id="t", name="Sections", size="A3", views=[second]),
    ]
    drawing = Drawing(
        name="x", profile=profile, projection="first", sheets=sheets, fields=Fields.model_validate(fields)
    )
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL["top"]))
    return geometry, Context(drawing, sheets[0], model.facts, view)


def pointed(
    model: Model, at: tuple[float, float], pointer: tuple[float, float] = (70, 40), **more: Any
) -> tuple[Note, Context]:
    geometry, context = seen(model, **more)
    request = Request([], pointer, "n", settings={"tip": at}, geometry=geometry)
    return note.propose(request, context), context


def ends_of(made: Note, context: Context) -> np.ndarray:
    first = next(e for e in note.ink(made, context) if isinstance(e, Line))
    return np.array(first.b)


# ---- leaders -----------------------------------------------------------------------------------------------
def test_a_leader_ends_in_an_arrow_on_an_edge_and_in_a_dot_within_a_face() -> None:
    """ISO 128-22 (memory): an arrow on an outline, a dot within one."""
    model = block(60, 40, 10)
    on_edge, context = pointed(model, (30.4, 3.0))
    assert on_edge.tips[0].on == "edge"
    assert ends_of(on_edge, context) == pytest.approx([30, 3])
    arrow = [e for e in note.ink(on_edge, context) if isinstance(e, Fill)]
    assert [len(e.points) for e in arrow] == [3]
    within, context = pointed(model, (10.0, 3.0))
    assert within.tips[0].on == "face"
    (dot,) = [e for e in note.ink(within, context) if isinstance(e, Fill)]
    assert np.mean(dot.points, axis=0) == pytest.approx([10, 3], abs=1e-3)
    with pytest.raises(SizeError, match="no part here"):
        pointed(model, (50.0, 3.0))


def test_the_end_is_chosen_where_that_is_wished_and_changes_when_it_is_dragged() -> None:
    model = block(60, 40, 10)
    made, context = pointed(model, (30.0, 3.0))
    geometry, _ = seen(model)
    for end, kinds in (("triangle", (Line, Polyline)), ("slash", (Line, Line)), ("none", (Line,))):
        ink = note.ink(made.model_copy(update={"end": end}), context)
        assert tuple(type(e) for e in ink)[: len(kinds)] == kinds
    request = Request([], (5.0, -4.0), "n", settings={"grabbed": (29.0, 2.0)}, geometry=geometry)
    dragged = note.drag(made, "tip", request, context)
    assert (dragged.tips[0].on, dragged.place) == ("face", made.place)
    moved = note.drag(made, "place", Request([], (-80.0, 20.0), "n", geometry=geometry), context)
    (text,) = [e for e in note.ink(moved, context) if isinstance(e, Text)]
    assert text.at[0] + text_width(text.text, text.height) < -80  # now it stands to the left of its bend


@given(st.floats(40, 200), st.floats(30, 150), st.floats(-0.95, 0.95))
@settings(max_examples=15, deadline=None)
def test_an_arrow_stays_on_its_edge_when_the_part_grows(width: float, height: float, share: float) -> None:
    small = block(60, 40, 10)
    made, _ = pointed(small, (30.0, 20 * share))
    _, context = seen(block(width, height, 10))
    assert ends_of(made, context) == pytest.approx([width / 2, height / 2 * share], abs=1e-3)


def test_what_it_points_at_can_be_lost() -> None:
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]], "diameter": 12}
    made, context = pointed(block(60, 40, 10, hole), (6.0, 0.0))
    assert np.linalg.norm(ends_of(made, context)) == pytest.approx(6)
    _, without = seen(block(60, 40, 10))
    with pytest.raises(LostPick, match="no longer in the model"):
        note.check(made, without)


# ---- words -------------------------------------------------------------------------------------------------
def texts(made: Note, context: Context) -> list[Text]:
    return [e for e in note.ink(made, context) if isinstance(e, Text)]


def test_words_stand_on_their_shoulder_in_iso_and_beside_it_in_asme() -> None:
    """ISO 128-22: on the reference line; ASME Y14.5: level with the first or the last line (memory)."""
    model = block(60, 40, 10)
    made, context = pointed(model, (30.0, 3.0))
    made = made.model_copy(update={"text": "first line\nthe second"})
    upper, lower = texts(made, context)
    shoulder = [e for e in note.ink(made, context) if isinstance(e, Line)][1]
    assert shoulder.a[1] == shoulder.b[1] == pytest.approx(40)
    assert upper.at[1] > 40 > lower.at[1]
    assert shoulder.b[0] - shoulder.a[0] > text_width(lower.text, lower.height)
    last = texts(made.model_copy(update={"shoulder": "last"}), context)
    assert min(t.at[1] for t in last) > 40
    made, context = pointed(model, (30.0, 3.0), profile=ASME_INCH)
    (only,) = texts(made, context)
    assert only.at[1] + only.height / 2 == pytest.approx(40)


def test_lines_break_at_a_width_and_stand_as_they_are_told() -> None:
    _, context = seen(block(60, 40, 10))
    made = Note(id="n", anchor={"on": "sheet"}, place=HERE, text="All edges are broken by half a millimeter")
    (one,) = texts(made, context)
    several = texts(made.model_copy(update={"width": 30.0}), context)
    assert len(several) > 2
    assert " ".join(t.text for t in several) == one.text
    assert all(text_width(t.text, t.height) <= 30 for t in several)
    assert [t.at[1] for t in several] == sorted((t.at[1] for t in several), reverse=True)
    turned = texts(made.model_copy(update={"angle": 90.0}), context)
    assert turned[0].angle == pytest.approx(math.pi / 2)


def test_a_note_quotes_the_drawing_and_follows_it() -> None:
    model = block(60, 40, 10)
    made, context = pointed(model, (30.0, 3.0), title="Sill plate", material="Oak")
    made = made.model_copy(update={"text": "{title} of {material}, see sheet {sheet: B}, {diameter}5"})
    assert note.words(made, context) == "Sill plate of Oak, see sheet 2, Ø5"
    assert note.findings(made, context) == []
    by_name = made.model_copy(update={"text": "{sheet: Sections} of {sheets}"})
    assert note.words(by_name, context) == "2 of 2"
    wrong = made.model_copy(update={"text": "{sheet: Q} {colour}"})
    assert note.words(wrong, context) == "{sheet: Q} {colour}"
    assert len(note.findings(wrong, context)) == 2


def test_circles_say_all_around_and_all_over() -> None:
    made, context = pointed(block(60, 40, 10), (30.0, 3.0))
    for around, count in (("here", 0), ("all around", 1), ("all over", 2)):
        circles = [
            e for e in note.ink(made.model_copy(update={"around": around}), context) if isinstance(e, Arc)
        ]
        assert [c.center for c in circles] == [pytest.approx((70, 40))] * count


def test_a_flag_shows_the_number_of_a_general_note() -> None:
    made, context = pointed(block(60, 40, 10), (30.0, 3.0))
    flagged = made.model_copy(update={"flag": 2})
    assert note.words(flagged, context) == "2"
    outline = [e for e in note.ink(flagged, context) if isinstance(e, Polyline) and e.closed]
    assert [len(e.points) for e in outline] == [6]
    assert note.findings(flagged, context) == ["A flag says general note 2, and the drawing has none."]


# ---- bad input ---------------------------------------------------------------------------------------------
def test_what_says_nothing_or_too_much_is_refused_and_what_has_no_form_is_told() -> None:
    made, context = pointed(block(60, 40, 10), (30.0, 3.0))
    with pytest.raises(CommandError, match="needs words"):
        registry.check(made.model_copy(update={"text": " \n "}), context)
    with pytest.raises(ValidationError):
        registry.changed(made, {"text": "x" * 10_000}, context)
    smile = made.model_copy(update={"text": "good \U0001f600 שלום"})
    (said,) = note.findings(smile, context)
    assert said.startswith("The lettering has no form for \U0001f600")
    assert note.ink(smile, context)


def test_notes_are_in_files_as_they_read(tmp_path: Path) -> None:
    made, context = pointed(block(60, 40, 10), (30.0, 3.0), material="Oak")
    geometry, _ = seen(block(60, 40, 10))
    said = made.model_copy(update={"text": "Deburr {diameter}5\nof {material}"})
    sheet = context.sheet.model_copy(update={"annotations": [said]})
    drawing = context.drawing.model_copy(update={"sheets": [sheet]})
    ink = compose(drawing, sheet, context.facts, {"v": geometry}).ink
    (tmp_path / "x.dxf").write_bytes(sheet_dxf(ink, ISO_MM)[0])
    words = [e.dxf.text for e in ezdxf.readfile(tmp_path / "x.dxf").modelspace().query("TEXT")]
    assert words.index("of Oak") == words.index("Deburr Ø5") + 1
    (tmp_path / "x.pdf").write_bytes(sheets_pdf([ink], ISO_MM, "x"))
    page = pypdf.PdfReader(tmp_path / "x.pdf").pages[0].extract_text()
    assert page.index("Deburr Ø5") < page.index("of Oak")
    assert b"Deburr" in sheet_svg(ink, ISO_MM)


def test_all_of_a_note_can_be_set_in_its_particulars() -> None:
    names = {f.name for f in form_of(note.KIND)}
    assert names == set(Note.model_fields) - {"kind", "id", "anchor", "place", "tips"}
