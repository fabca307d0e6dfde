"""Control frames: what is typed is what is said, what the standards allow, how they are drawn and what they
are on."""

import io
import itertools
import math
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pypdf
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.inking.frame_ink import HIGH, Cells, datum_symbol, frame, symbol
from drafting.annotation.kinds import control_frame, datum_feature
from drafting.annotation.kinds.control_frame_words import ControlFrame, cells, stored
from drafting.annotation.kinds.datum_feature import DatumFeature
from drafting.annotation.kinds.kind import Request
from drafting.annotation.measuring.frame_grammar import against_size, judged, rows_judged
from drafting.annotation.measuring.frames import DatumReference, FrameRow, PlaneIndicator
from drafting.annotation.measuring.toleranced import of_size
from drafting.annotation.proposing.propose import propose
from drafting.annotation.wording.frame_words import parsed, typed
from drafting.commands import applied
from drafting.commands.annotations import Place, RenameDatum
from drafting.compose import compose
from drafting.context import Context
from drafting.document import Dimension
from drafting.errors import CommandError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.ink.elements import Arc, Fill, Line, Polyline, Text
from drafting.standards.characteristics import DERIVED, GROUPS, INDICATORS, ISO, SYMBOLS, TABLES, offered
from drafting.standards.profile import ASME_INCH, ISO_MM
from tests.core.conftest import block
from tests.core.test_note_links import on_plate
from tests.core.test_notes import seen

# ---- as it is typed ----------------------------------------------------------------------------------------
numbers = st.integers(1, 99999).map(lambda n: n / 1000)
letters = st.sampled_from(["A", "B", "C", "D", "A-B", "AA", "C-D-E"])
references = st.builds(
    DatumReference,
    letters=letters,
    modifier=st.sampled_from(["", "M", "L"]),
    note=st.sampled_from(["", "DV", "CF"]),
)
indicators = st.builds(
    PlaneIndicator,
    kind=st.sampled_from(list(INDICATORS.values())),
    relation=st.sampled_from(["parallelism", "perpendicularity", "symmetry"]),
    letters=letters,
)
rows = st.builds(
    FrameRow,
    indicators=st.lists(indicators, max_size=2),
    characteristic=st.sampled_from(list(GROUPS)),
    shape=st.sampled_from(["", "Ø", "SØ"]),
    value=numbers,
    modifier=st.sampled_from(["", "M", "L"]),
    free=st.booleans(),
    tangent=st.booleans(),
    projected=st.none() | numbers,
    unequal=st.none() | numbers | numbers.map(lambda v: -v),
    zones=st.sampled_from(["", "CZ", "SZ"]),
    per=st.none() | numbers,
    datums=st.lists(references, max_size=3),
)


@given(st.lists(rows, min_size=1, max_size=4))
@settings(max_examples=300, deadline=None, derandomize=True)
def test_what_a_frame_says_is_typed_and_read_to_the_same(said: list[FrameRow]) -> None:
    assert parsed(typed(said)) == said


@pytest.mark.parametrize(
    ("line", "says"),
    [
        ("pos d0.1m a b(m) c", "⌖ Ø0.1(M) A B(M) C"),
        ("position Ø0,1 (M) a b c", "⌖ Ø0.1(M) A B C"),
        ("⌖ ⌀0.1Ⓜ A BⓂ C", "⌖ Ø0.1(M) A B(M) C"),
        ("perp .05 a", "⊥ 0.05 A"),
        ("run 0.02 a-b", "↗ 0.02 A-B"),
        ("flat 0.1/100", "⏥ 0.1/100"),
        ("prof 1 (u 0.3) a|b|c", "⌓ 1(U 0.3) A B C"),
        ("pos d0.4 (p 25) a; 0.1 a", "⌖ Ø0.4(P 25) A; ⌖ 0.1 A"),
        ("pos sd0.2 cz a[cf]", "⌖ SØ0.2 CZ A[CF]".replace("CF", "cf")),
    ],
)
def test_it_is_typed_in_more_than_one_way(line: str, says: str) -> None:
    assert typed(parsed(line)) == says


@pytest.mark.parametrize(
    ("line", "sentence"),
    [
        ("", "a characteristic and a value"),
        ("wobble 0.1 a", "wobble is no characteristic"),
        ("pos", "says no value"),
        ("pos -0.1 a", "above 0"),
        ("pos 0.1 a b c d", "three datums at most"),
        ("pos 0.1 (p) a", "needs a number"),
        ("pos 0.1 a 7", "7 is no datum"),
        (";".join(["flat 0.1"] * 5), "4 rows at most"),
        ("pos 5000 a", "1000"),
    ],
)
def test_what_is_typed_wrong_is_told_in_a_sentence(line: str, sentence: str) -> None:
    with pytest.raises(CommandError, match=sentence) as caught:
        parsed(line)
    assert str(caught.value).endswith((".", "c"))


# ---- what the standards allow: a second table, by modifier (memory) ------------------------------------
SURFACE_ONLY = {"circularity", "cylindricity", "circular runout", "total runout"}
NO_DATUM = {"straightness", "flatness", "circularity", "cylindricity"}
MUST_HAVE = {
    "angularity",
    "perpendicularity",
    "parallelism",
    "concentricity",
    "symmetry",
    "circular runout",
    "total runout",
}
"""Y14.5 sections 8, 9 and 12; ISO 1101, table 2."""
MAY_BE_ROUND = {"straightness", "angularity", "perpendicularity", "parallelism", "position", "concentricity"}
MATERIAL = {
    "ISO": {
        "straightness",
        "flatness",
        "angularity",
        "perpendicularity",
        "parallelism",
        "position",
        "concentricity",
        "symmetry",
    },
    "ASME": {"straightness", "flatness", "angularity", "perpendicularity", "parallelism", "position"},
}
"""ISO 2692, 4.2; Y14.5, 5.10."""
DATUM_MATERIAL = {
    "ISO": {"angularity", "perpendicularity", "parallelism", "position", "concentricity", "symmetry"},
    "ASME": {
        "angularity",
        "perpendicularity",
        "parallelism",
        "position",
        "profile of a line",
        "profile of a surface",
    },
}
GONE = {"ISO": set(), "ASME": {"concentricity", "symmetry"}}
"""Y14.5-2018 has them no more."""
PROJECTED = {"angularity", "perpendicularity", "parallelism", "position"}


@pytest.mark.parametrize("standard", ["ISO", "ASME"])
def test_every_combination_is_judged_as_the_second_table_says(standard: Any) -> None:
    counted = 0
    for name, shape, modifier, datum_modifier, has_datum, projected, on in itertools.product(
        GROUPS,
        ("", "Ø"),
        ("", "M"),
        ("", "M"),
        (False, True),
        (None, 10.0),
        ("plane", "axis", "median plane", "cylinder"),
    ):
        if datum_modifier and not has_datum:
            continue
        row = FrameRow(
            characteristic=name,
            shape=shape,  # type: ignore[arg-type]
            value=0.1,
            modifier=modifier,  # type: ignore[arg-type]
            projected=projected,
            datums=[DatumReference(letters="A", modifier=datum_modifier)] if has_datum else [],  # type: ignore[arg-type]
        )
        is_derived = on in DERIVED
        wrong = (
            name in GONE[standard]
            or (has_datum and name in NO_DATUM)
            or (not has_datum and name in MUST_HAVE)
            or (bool(shape) and (name not in MAY_BE_ROUND or on != "axis"))
            or (bool(modifier) and (name not in MATERIAL[standard] or not is_derived))
            or (bool(datum_modifier) and name not in DATUM_MATERIAL[standard])
            or (projected is not None and (name not in PROJECTED or not is_derived))
            or on not in fits(name, standard)
        )
        found = [s for s in judged(row, on, standard, sizes=["A"]) if s.forbidden]  # type: ignore[arg-type]
        assert bool(found) == wrong, (
            standard,
            name,
            shape,
            modifier,
            datum_modifier,
            has_datum,
            projected,
            on,
            found,
        )
        assert all(s.sentence.endswith(").") for s in found)
        counted += 1
    assert counted > 1200


def fits(name: str, standard: str) -> set[str]:
    """Of a plane, a cylinder's surface, an axis and a median plane those that can have a characteristic."""
    return {
        "straightness": {"plane", "cylinder", "axis"} | ({"median plane"} if standard == "ASME" else set()),
        "flatness": {"plane", "median plane"},
        "circularity": {"cylinder"},
        "cylindricity": {"cylinder"},
        "profile of a line": {"plane", "cylinder"},
        "profile of a surface": {"plane", "cylinder"},
        "angularity": {"plane", "axis", "median plane"},
        "perpendicularity": {"plane", "axis", "median plane"},
        "parallelism": {"plane", "axis", "median plane"},
        "position": {"axis", "median plane"} | ({"plane"} if standard == "ISO" else set()),
        "concentricity": {"axis"},
        "symmetry": {"median plane", "axis"},
        "circular runout": {"plane", "cylinder"},
        "total runout": {"plane", "cylinder"},
    }[name]


def row(line: str) -> FrameRow:
    return parsed(line)[0]


@pytest.mark.parametrize(
    ("line", "on", "standard", "sentence"),
    [
        ("flat 0.1 a", "plane", "ASME", "refers to no datum: leave A out (ASME Y14.5, 8.4.2)."),
        ("perp 0.1", "plane", "ISO", "needs a datum: type its letter after the value (ISO 1101, 17.11)."),
        (
            "conc d0.1 a",
            "axis",
            "ASME",
            "There is no concentricity any more: say position, runout or profile (ASME Y14.5, 2018, B.2).",
        ),
        ("pos d0.1 a a", "axis", "ISO", "A datum stands twice in a row (ISO 1101, 17.13)."),
        (
            "pos d0.1 b",
            "axis",
            "ISO",
            "A feature is not toleranced to itself: leave B out (ISO 1101, 17.13).",
        ),
        (
            "prof 0.1 cz a",
            "surface",
            "ASME",
            "CZ is ISO's: say how many there are, as 4X (ASME Y14.5, 10.5).",
        ),
    ],
)
def test_a_refusal_names_the_clause_and_the_remedy(line: str, on: Any, standard: Any, sentence: str) -> None:
    found = [s.sentence for s in judged(row(line), on, standard, own=["B"])]
    assert any(s.endswith(sentence) for s in found), found


def test_lower_rows_refine_the_upper_and_form_the_size() -> None:
    """Y14.5, 10.5.1: composite position, the pattern's value above that of its features; 5.8: Rule 1."""
    good = parsed("pos d0.5 a b c; d0.1 a b")
    assert rows_judged(good, True, "ASME") == []
    assert [s.forbidden for s in rows_judged(parsed("pos d0.1 a b; d0.5 a"), True, "ASME")] == [True]
    assert rows_judged(parsed("pos d0.5 a b c; d0.1 b"), True, "ASME")[0].sentence.startswith(
        "Datums of a lower row"
    )
    assert not any(s.forbidden for s in rows_judged(parsed("pos 0.1 a; flat 0.2"), False, "ISO"))
    said = against_size(row("flat 0.3"), 0.2, "held", "ASME")
    assert said is not None
    assert said.sentence == "The flatness of 0.3 says nothing: the size holds 0.2 already (ASME Y14.5, 5.8)."
    assert against_size(row("flat 0.1"), 0.2, "held", "ASME") is None
    assert against_size(row("flat 0.3"), 0.2, "not held", "ISO") is None


def test_what_is_offered_first_is_what_is_used_most() -> None:
    """Common practice: a bore is positioned, a plane is flat, a shaft runs out."""
    assert [offered(on, "ISO")[0] for on in ("axis", "plane", "cylinder")] == [
        "position",
        "flatness",
        "circular runout",
    ]  # type: ignore[arg-type]
    assert "concentricity" not in offered("axis", "ASME")
    for standard, table in TABLES.items():
        for name, rules in table.items():
            assert all(name in offered(on, standard) for on in rules.on)
    assert set(ISO) == set(GROUPS) == set(SYMBOLS)


# ---- how it is drawn ---------------------------------------------------------------------------------------
def extent(elements: list[Any]) -> tuple[float, float, float, float]:
    points: list[Any] = []
    for e in elements:
        if isinstance(e, Arc):
            t = np.linspace(e.first, e.last, 33)
            points += [
                (e.center[0] + e.radius * math.cos(v), e.center[1] + e.radius * math.sin(v)) for v in t
            ]
        elif isinstance(e, Line):
            points += [e.a, e.b]
        elif isinstance(e, Polyline | Fill):
            points += e.points
    (x0, y0), (x1, y1) = np.array(points).min(0), np.array(points).max(0)
    return float(x0), float(y0), float(x1), float(y1)


@pytest.mark.parametrize("name", list(GROUPS))
@pytest.mark.parametrize("h", [2.5, 3.5, 7.0])
def test_symbols_stay_within_their_cell(name: Any, h: float) -> None:
    """ISO 7083 and the appendix of Y14.5: about 1.5 to 2.2 heights wide, lower than the frame (memory)."""
    x0, y0, x1, y1 = extent(symbol(name, (0, 0), h))
    assert 0.8 * h <= x1 - x0 <= 2.4 * h
    assert max(-y0, y1) < HIGH * h / 2
    assert x1 - x0 < 2.6 * h


def test_a_frame_is_twice_as_high_as_its_lettering_and_shares_a_symbol_where_it_is_composite() -> None:
    two = [Cells("position", ("Ø0,5", "A", "B")), Cells(None, ("Ø0,1", "A"))]
    elements, (wide, tall) = frame(two, (10.0, 50.0), 3.5)
    assert tall == 4 * 3.5
    boxes = [e for e in elements if isinstance(e, Polyline) and e.closed]
    heights = sorted(extent([b])[3] - extent([b])[1] for b in boxes)
    assert heights == pytest.approx([7.0] * 5 + [14.0])
    assert extent(boxes) == pytest.approx((10.0, 36.0, 10.0 + wide, 50.0))  # type: ignore[arg-type]
    assert len([e for e in elements if isinstance(e, Arc)]) == 1
    columns = [sorted(extent([b])[0] for b in boxes if abs(extent([b])[3] - y) < 1e-6) for y in (50.0, 43.0)]
    assert columns[1] == pytest.approx(columns[0][1:3])


def test_a_datum_stands_on_its_line_with_its_triangle_as_wide_as_the_lettering_is_high() -> None:
    """ISO 5459 (memory): the triangle stands on the line, the letter upright in a box of two heights."""
    elements = datum_symbol((0, 0), (0, 1), (0.4, 20), "A", 3.5, True)
    (triangle,) = [e for e in elements if isinstance(e, Fill)]
    x0, y0, x1, y1 = extent([triangle])
    assert (x1 - x0, y0, y1) == pytest.approx((3.5, 0.0, 3.5 * math.sin(math.pi / 3)))
    (box,) = [e for e in elements if isinstance(e, Polyline)]
    assert extent([box]) == pytest.approx((-3.5, 16.5, 3.5, 23.5))
    (line,) = [e for e in elements if isinstance(e, Line)]
    assert (line.a, line.b) == (pytest.approx((0, y1)), pytest.approx((0, 16.5)))


# ---- what it is on -----------------------------------------------------------------------------------------
HOLE = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[0, 0]], "diameter": 12}


def put(
    tool: str,
    at: tuple[float, float],
    to: tuple[float, float],
    context: Context,
    geometry: Any,
    **chosen: Any,
) -> Any:
    request = Request(
        [], to, f"{tool}-{len(context.sheet.annotations)}", settings={"tip": at, **chosen}, geometry=geometry
    )
    made = propose(tool, request, context, dict).annotations[0]
    registry.check(made, context)
    context.sheet.annotations.append(made)
    return made


def test_letters_follow_each_other_and_leave_out_those_that_are_read_as_others() -> None:
    """ISO 5459 and Y14.5, 6.3.2: not I, O and Q (ISO: nor X)."""
    iso = list(itertools.islice(datum_feature.letters("ISO"), 24))
    assert "".join(iso[:22]) == "ABCDEFGHJKLMNPRSTUVWYZ"
    assert iso[22:] == ["AA", "AB"]
    assert "X" in itertools.islice(datum_feature.letters("ASME"), 23)


def test_the_same_width_is_a_surface_by_its_edge_and_a_median_plane_by_its_size() -> None:
    geometry, context = on_plate()
    a = put("datum_feature", (30, 3), (50, 3), context, geometry)
    b = put("datum_feature", (20, -40), (50, -40), context, geometry)
    said = [registry.kind_of(d).row(d, context).text for d in (a, b)]  # type: ignore[misc]
    assert said == ["datum A, a plane", "datum B, the median plane"]
    (triangle,) = [e for e in registry.ink(b, context) if isinstance(e, Fill)]
    assert np.array(triangle.points)[:2].mean(0) == pytest.approx((30, -40))  # at the end of its line
    assert registry.findings(a, context) == ["Nothing refers to the datum A."]
    flat = put("control_frame", (30, 10), (50, 30), context, geometry, line="flat 0.1")
    assert registry.text(flat, context) == "⏥ 0,1"
    with pytest.raises(CommandError, match=r"not toleranced to itself: leave A out \(ISO 1101"):
        put("control_frame", (30, 10), (50, 30), context, geometry, line="par 0.1 a")
    with pytest.raises(
        CommandError, match="Flatness is said of|needs a datum|no datum|not said of|no material"
    ):
        put("control_frame", (30, 10), (50, 30), context, geometry, line="cyl 0.1")


def test_a_frame_under_a_size_follows_it_and_is_of_its_median_plane() -> None:
    geometry, context = on_plate()
    made = put("control_frame", (20, -40), (0, -46), context, geometry, line="flat 0.1")
    assert made.below_size
    assert control_frame.options(made.tip, context)[:2] == ["position", "symmetry"]
    top = max(p[1] for e in registry.ink(made, context) if isinstance(e, Polyline) for p in e.points)
    assert top < -40
    far = registry.kind_of(made).drag(made, "place", Request([], (60, 40), "x", geometry=geometry), context)  # type: ignore[misc]
    assert not far.below_size
    leader = [e for e in registry.ink(far, context) if isinstance(e, Polyline) and not e.closed]
    assert np.array(leader[0].points)[-2:, 1] == pytest.approx([-40, -40])  # in line with the dimension line


def test_a_position_says_what_its_datums_leave_free() -> None:
    geometry, context = seen(block(60, 40, 10, HOLE))
    size = propose("size", Request([edge_at(geometry, (6, 0))], (30, 30), "d"), context, dict).annotations[0]
    assert isinstance(size, Dimension)
    context.sheet.annotations.append(size)
    put("datum_feature", (30, 10), (50, 10), context, geometry)
    put("datum_feature", (10, 20), (10, 35), context, geometry)
    tip = note_tip(size)
    frame_ = ControlFrame.model_validate(
        {
            "id": "f",
            "view": "v",
            "rows": [r.model_dump() for r in parsed("pos d0.2m a")],
            "tip": tip,
            "below_size": True,
            "place": {"model": {"x": 0, "y": 0}, "paper": {"x": 0, "y": 0}},
        }
    )
    assert "The datums A leave the axis free in 2 ways." in registry.findings(frame_, context)
    both = registry.changed(frame_, {"says": "pos d0.2m a b"}, context)
    lacks = ["No basic size says the 30 from A.", "No basic size says the 20 from B."]
    assert registry.findings(both, context) == lacks
    assert (
        registry.kind_of(both).row(both, context).applies == "5 of 6 degrees of freedom; left free: shift Z"
    )  # type: ignore[misc]
    gone = registry.changed(frame_, {"says": "pos d0.2m a k"}, context)
    assert "There is no datum K on the drawing." in registry.findings(gone, context)


def edge_at(geometry: Any, at: tuple[float, float]) -> Any:
    from drafting.annotation.kinds.kind import Spot
    from drafting.annotation.measuring.pointing import target_at
    from drafting.document import Pick

    curve = target_at(np.array(at, float), geometry, 1.0).curve
    assert curve is not None
    return Spot(Pick(instance=geometry.instances[curve.instance], source=curve.source, role=curve.role), at)


def note_tip(size: Dimension) -> Any:
    return {"instance": "", "at": {"x": 0.5, "y": 0}, "on": "line", "source": size.id, "role": "size"}


def test_renaming_a_datum_renames_it_in_every_frame() -> None:
    geometry, context = on_plate()
    a = put("datum_feature", (30, 3), (50, 3), context, geometry)
    b = put("datum_feature", (10, 20), (10, 35), context, geometry)
    put("control_frame", (-30, 3), (-60, 30), context, geometry, line="perp 0.1 b")
    put("control_frame", (-30, 9), (-60, 50), context, geometry, line="pos 0.1 a-b")
    drawing = applied(
        context.drawing, RenameDatum(command="rename_datum", id=b.id, letter="k"), context.facts
    )
    sheet = drawing.sheets[0]
    frames = [typed(f.rows) for f in sheet.annotations if isinstance(f, ControlFrame)]
    assert frames == ["⊥ 0.1 K", "⌖ 0.1 A-K"]
    assert [d.letter for d in sheet.annotations if isinstance(d, DatumFeature)] == ["A", "K"]
    for letter, words in (("A", "a datum A already"), ("Q", "is not used for datums")):
        with pytest.raises(CommandError, match=words):
            applied(drawing, RenameDatum(command="rename_datum", id=b.id, letter=letter), context.facts)
    assert a.letter == "A"


def test_a_datum_hangs_on_a_frame_and_a_frame_does_not() -> None:
    geometry, context = on_plate()
    f = put("control_frame", (30, 3), (60, 30), context, geometry, line="flat 0.1")
    box = [p for e in registry.ink(f, context) if isinstance(e, Polyline) for p in e.points]
    low, left = min(p[1] for p in box), min(p[0] for p in box)
    d = put("datum_feature", (left + 8, low), (left + 8, low - 12), context, geometry)
    assert (d.tip.source, registry.kind_of(d).row(d, context).text) == (f.id, "datum A, a plane")  # type: ignore[misc]
    with pytest.raises(SizeError, match="further rows"):
        put("control_frame", (left + 3, low), (left, low - 30), context, geometry, line="flat 0.1")


def test_inches_are_typed_and_read_in_inches() -> None:
    geometry, context = seen(block(60, 40, 10), profile=ASME_INCH)
    made = put("control_frame", (30, 3), (60, 30), context, geometry, line="flat .005")
    assert made.rows[0].value == pytest.approx(0.127)
    assert registry.text(made, context) == "⏥ .005"
    assert registry.kind_of(made).row(made, context).says == "⏥ 0.005"  # type: ignore[misc]


def test_frames_are_read_back_from_every_file(tmp_path: Path) -> None:
    geometry, context = on_plate()
    put("datum_feature", (30, 3), (50, 3), context, geometry)
    f = put("control_frame", (-30, 3), (-60, 30), context, geometry, line="par 0.05 a")
    drawing = applied(
        context.drawing.model_copy(
            update={
                "sheets": [context.sheet.model_copy(update={"annotations": []}), context.drawing.sheets[1]]
            }
        ),
        Place(command="place", annotations=list(context.sheet.annotations)),
        context.facts,
    )
    ink = compose(drawing, drawing.sheets[0], context.facts, {"v": geometry}).ink
    page = pypdf.PdfReader(io.BytesIO(sheets_pdf([ink], ISO_MM, "x"))).pages[0].extract_text()
    assert "0,05" in page
    (tmp_path / "x.dxf").write_bytes(sheet_dxf(ink, ISO_MM)[0])
    space = ezdxf.readfile(tmp_path / "x.dxf").modelspace()
    blocks = list(space.query("INSERT"))
    # each symbol is a block that reads itself out
    assert [b.get_attrib_text("SAYS") for b in blocks] == ["datum A", "∥ 0,05 A"]
    inside = [e.dxf.text for b in blocks for e in b.virtual_entities() if e.dxftype() == "TEXT"]
    words = [e.dxf.text for e in space.query("TEXT")] + inside
    assert words.count("A") == 4  # the zone letters of the frame, the datum, and the control frame
    assert "0,05" in words
    assert any(isinstance(e, Text) for e in registry.ink(f, context))


@given(st.integers(1, 999_999))
@settings(max_examples=40, deadline=None, derandomize=True)
def test_no_digit_that_was_typed_is_lost(millionths: int) -> None:
    """A value reads as it was typed, to a millionth, in millimeters and in inches."""
    value = millionths / 1e6
    for profile in (ISO_MM, ASME_INCH):
        (typed_row,) = stored(f"flat {value:.6f}", profile)
        (said,) = cells(typed_row, profile)
        assert float(said.replace(",", ".")) == pytest.approx(value, abs=1e-12)


def test_a_width_is_of_the_faces_that_it_measures_between() -> None:
    """Sizes of a block by corners across it, and by one edge alone: the median plane lies square to what is
    measured, in the middle."""
    geometry, context = seen(block(60, 40, 10))
    picks = [edge_at(geometry, (-30, -8)), edge_at(geometry, (30, 8))]
    wide = propose("size", Request(picks, (0, 40), "w"), context, dict).annotations[0]
    long = propose("size", Request([edge_at(geometry, (30, 4))], (50, 0), "l"), context, dict).annotations[0]
    context.sheet.annotations += [wide, long]
    for size, normal in ((wide, (1, 0, 0)), (long, (0, 1, 0))):
        feature = of_size(size, context)
        assert feature.on == "median plane"
        assert abs(float(np.dot(feature.situation.direction, normal))) == pytest.approx(1)
        assert abs(float(np.dot(feature.situation.at, normal))) < 1e-9
        assert len(set(feature.faces)) == 2
