"""The document, its commands and their inverses; sheets, and the files that come out."""

import io
import json
import math
import re

import ezdxf
import pypdf
import pypdfium2
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter, ValidationError

from drafting.commands import AnyCommand, execute, patched
from drafting.compose import Composed, compose
from drafting.document import Drawing, Fields, Sheet
from drafting.errors import CommandError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Arc, Line, Polyline
from drafting.model.model import Facts
from drafting.sheet.frame import blank_fields, field_values, projection_symbol
from drafting.sheet.layout import fitting_sheet, frame_box, sheet_size
from drafting.standards import scales, sheets
from drafting.standards.profile import ASME_INCH, BUILT_IN, ISO_MM, for_units
from drafting.views.derive import Prepared, derive
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import ROOT, block, demo

COMMAND: TypeAdapter[AnyCommand] = TypeAdapter(AnyCommand)
FRONT = PRINCIPAL["front"].model_dump()


def new_drawing(size: str = "A3", **more: object) -> Drawing:
    return Drawing(name="Test", profile=ISO_MM, projection="third", sheets=[Sheet(id="s", size=size)], **more)  # type: ignore[arg-type]


def run(drawing: Drawing, *commands: dict[str, object], facts: Facts | None = None) -> Drawing:
    for c in commands:
        drawing, _, _ = execute(drawing, COMMAND.validate_python(c), facts)
    return drawing


VIEWS: list[dict[str, object]] = [
    {
        "command": "place_main_view",
        "id": "front",
        "sheet": "s",
        "orientation": FRONT,
        "position": {"x": 150, "y": 150},
    },
    {
        "command": "place_projected_view",
        "id": "top",
        "parent": "front",
        "relation": "above",
        "position": {"x": 161, "y": 230},
    },
    {
        "command": "place_projected_view",
        "id": "right",
        "parent": "front",
        "relation": "right",
        "position": {"x": 260, "y": 141},
    },
    {
        "command": "place_projected_view",
        "id": "pict",
        "parent": "front",
        "relation": "above-right",
        "position": {"x": 270, "y": 240},
    },
]
SIZE: dict[str, object] = {
    "command": "place",
    "annotations": [
        {
            "kind": "linear",
            "id": "d",
            "view": "front",
            "picks": [{"instance": "part", "source": "b/side.bottom|b/start"}],
            "place": {"model": {"x": 0, "y": -15}, "paper": {"x": 0, "y": -10}},
        }
    ],
}


def test_projected_views_are_aligned_and_keep_their_side_when_the_method_changes() -> None:
    d = run(new_drawing(), *VIEWS, SIZE)
    at = {v.id: (v.position.x, v.position.y) for v in d.sheets[0].views}
    assert at["top"] == (150, 230)
    assert at["right"] == (260, 150)
    shows = {v.id: v.orientation for v in d.sheets[0].views}
    assert shows["top"] == PRINCIPAL["top"]
    assert shows["right"] == PRINCIPAL["right"]
    first = run(d, {"command": "switch_projection", "projection": "first"})
    now = {v.id: v for v in first.sheets[0].views}
    # ISO 5456-2 / ASME Y14.3: in first angle the top view lies below and the right-side view at the left
    assert now["top"].position.y < now["front"].position.y
    assert now["right"].position.x < now["front"].position.x
    assert (now["top"].relation, now["right"].relation) == ("below", "left")
    assert now["top"].position.x == now["front"].position.x
    assert {k: v.orientation for k, v in now.items()} == shows
    assert first.sheets[0].annotations == d.sheets[0].annotations
    assert run(first, {"command": "switch_projection", "projection": "third"}) == d


def test_moving_a_view_takes_its_projections_along_and_stays_aligned() -> None:
    d = run(
        new_drawing(), *VIEWS, {"command": "move_view", "view": "front", "position": {"x": 160, "y": 140}}
    )
    at = {v.id: (v.position.x, v.position.y) for v in d.sheets[0].views}
    assert at == {"front": (160, 140), "top": (160, 220), "right": (270, 140), "pict": (280, 230)}
    d = run(d, {"command": "move_view", "view": "top", "position": {"x": 99, "y": 233}})
    assert (d.sheets[0].view("top").position.x, d.sheets[0].view("top").position.y) == (160, 233)  # type: ignore[union-attr]


commands = st.lists(
    st.one_of(
        st.builds(
            lambda x, y: {"command": "move_view", "view": "front", "position": {"x": x, "y": y}},
            st.integers(50, 300),
            st.integers(50, 250),
        ),
        st.builds(
            lambda r: {
                "command": "place_projected_view",
                "parent": "front",
                "relation": r,
                "position": {"x": 90, "y": 90},
            },
            st.sampled_from(["right", "above-left", "below"]),
        ),
        st.builds(
            lambda p: {"command": "switch_projection", "projection": p}, st.sampled_from(["first", "third"])
        ),
        st.builds(lambda t: {"command": "change_fields", "fields": {"title": t}}, st.text(max_size=20)),
        st.builds(
            lambda s: {"command": "change_sheet", "sheet": "s", "size": s},
            st.sampled_from(["A4", "A2", "A0"]),
        ),
        st.builds(
            lambda n: {"command": "change_sheet", "sheet": "s", "scale": {"drawn": 1, "true": n}},
            st.integers(1, 20),
        ),
        st.builds(lambda i: {"command": "remove", "ids": [i]}, st.sampled_from(["top", "right", "d"])),
        st.builds(lambda h: {"command": "change_view", "view": "front", "hidden_lines": h}, st.booleans()),
    ),
    max_size=8,
)


@given(commands)
@settings(max_examples=60, deadline=None)
def test_undo_gives_back_every_earlier_state_and_redo_every_later_one(
    sequence: list[dict[str, object]],
) -> None:
    drawing = run(new_drawing(), *VIEWS[:3], SIZE)
    states, log = [drawing], []
    for c in sequence:
        try:
            drawing, patch, inverse = execute(drawing, COMMAND.validate_python(c))
        except CommandError:
            assert drawing == states[-1]
            continue
        states.append(drawing)
        log.append((json.loads(json.dumps(patch)), json.loads(json.dumps(inverse))))
    for i in range(len(log) - 1, -1, -1):
        drawing = patched(drawing, log[i][1])
        assert drawing == states[i]
    for i, (patch, _) in enumerate(log):
        drawing = patched(drawing, patch)
        assert drawing == states[i + 1]


@pytest.mark.parametrize(
    ("command", "says"),
    [
        ({"command": "move_view", "view": "gone", "position": {"x": 1, "y": 1}}, "no longer in the drawing"),
        (
            {
                "command": "place_main_view",
                "sheet": "gone",
                "orientation": FRONT,
                "position": {"x": 1, "y": 1},
            },
            "sheet is no longer",
        ),
        (
            {
                "command": "place_projected_view",
                "parent": "pict",
                "relation": "right",
                "position": {"x": 1, "y": 1},
            },
            "pictorial",
        ),
        ({"command": "remove", "ids": ["gone"]}, "no longer"),
        ({"command": "change_sheet", "sheet": "s", "size": "A9"}, "not a sheet size"),
        ({"command": "change_fields", "fields": {"hat": "x"}}, "no field called 'hat'"),
        (
            {"command": "change", "ids": ["gone"], "values": {"direction": "aligned"}},
            "no longer on the drawing",
        ),
        (SIZE, "on the drawing already"),
    ],
)
def test_edits_that_do_not_fit_are_refused_in_words(command: dict[str, object], says: str) -> None:
    d = run(new_drawing(), *VIEWS, SIZE)
    with pytest.raises(CommandError, match=says):
        run(d, command)


def test_hostile_numbers_are_no_commands() -> None:
    for x in (float("nan"), float("inf"), 1e300, "1;drop"):
        with pytest.raises(ValidationError):
            COMMAND.validate_python({"command": "move_view", "view": "v", "position": {"x": x, "y": 0}})


def test_removing_a_view_takes_its_sizes_and_frees_its_projections() -> None:
    d = run(new_drawing(), *VIEWS, SIZE, {"command": "remove", "ids": ["front"]})
    assert d.sheets[0].annotations == []
    assert all(v.parent is None and v.relation is None for v in d.sheets[0].views)


# ---- sheets ------------------------------------------------------------------------------------------------


def test_sheet_sizes_halve_and_frames_keep_their_margins() -> None:
    """ISO 216: each size is half the one before (to the millimeter); ISO 5457: 20 mm at the left, 10
    elsewhere. Y14.1 (memory)."""
    names = list(sheets.ISO)
    for small, large in zip(names, names[1:], strict=False):
        assert sheets.ISO[large].short == sheets.ISO[small].long
        assert abs(sheets.ISO[large].long - 2 * sheets.ISO[small].short) <= 1
    for name in sheets.ISO:
        w, h = sheet_size(Sheet(id="x", size=name))
        box = frame_box(Sheet(id="x", size=name))
        assert (box.left, box.bottom, w - box.right, h - box.top) == (20, 10, 10, 10)
    inches = {n: (s.short / 25.4, s.long / 25.4) for n, s in sheets.ASME.items()}
    assert inches == {
        "A": (8.5, 11),
        "B": (11, 17),
        "C": (17, 22),
        "D": (22, 34),
        "E": (34, 44),
        "F": (28, 40),
    }
    assert sheets.zone_count(390) == 8
    assert "I" not in sheets.ZONE_LETTERS
    assert "O" not in sheets.ZONE_LETTERS


def test_scales_are_those_of_the_standard_and_the_largest_that_fits_is_taken() -> None:
    written = [str(s) for s in scales.ISO]
    assert written[:8] == ["50:1", "20:1", "10:1", "5:1", "2:1", "1:1", "1:2", "1:5"]  # ISO 5455
    assert str(scales.fitting("ISO", 140, 98, 300, 200)) == "2:1"
    assert str(scales.fitting("ISO", 140, 98, 200, 200)) == "1:1"
    assert str(scales.fitting("ISO", 1400, 98, 300, 200)) == "1:5"
    factors = [s.factor for s in scales.ISO]
    assert factors == sorted(factors, reverse=True)


def test_a_new_drawing_gets_the_style_and_the_sheet_that_fit() -> None:
    assert for_units("in").key == "asme-inch"
    assert for_units("cm").key == "iso-mm"
    assert fitting_sheet(block(140, 50, 98).facts, ISO_MM)[0] == "A3"
    size, scale = fitting_sheet(block(4000, 900, 800).facts, ISO_MM)
    assert scale.factor <= 0.2
    assert str(fitting_sheet(block(8, 5, 4).facts, ISO_MM)[1]) == "5:1"
    assert set(BUILT_IN) == {"iso-mm", "asme-inch"}
    assert size in sheets.ISO


def test_line_widths_are_of_the_series_and_two_to_one() -> None:
    series = [0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1, 1.4, 2]  # ISO 128-2
    assert ISO_MM.lines["visible"].width in series
    assert ISO_MM.lines["hidden"].width in series
    for profile in (ISO_MM, ASME_INCH):
        assert profile.lines["visible"].width == 2 * profile.lines["hidden"].width
    assert (ASME_INCH.lines["visible"].width, ASME_INCH.lines["hidden"].width) == (0.6, 0.3)  # ASME Y14.2
    assert ISO_MM.text_height in (2.5, 3.5, 5, 7, 10)  # ISO 3098
    assert ASME_INCH.text_height >= 3  # ASME Y14.2


def test_title_block_links_part_and_drawing_and_blanks_are_counted() -> None:
    model = demo("HB-204")
    d = new_drawing(fields=Fields(owner="Harrow Beck Millworks"))
    values = field_values(d, d.sheets[0], model.facts)
    assert (values["title"], values["number"], values["material"]) == (
        "Bearing block",
        "HB-204",
        "gray iron EN-GJL-250",
    )
    kg = next(iter(model.facts.parts.values())).volume * 7.2e-6  # gray iron 7.2 g/cm3
    assert float(values["mass"].split()[0]) == pytest.approx(kg, rel=5e-3)
    assert blank_fields(d, model.facts) == ["drawn_by", "date"]
    plain = block(10, 10, 10).facts
    assert {"number", "material", "mass"} <= set(blank_fields(d, plain))
    unknown = d.model_copy(update={"fields": Fields(material="unobtainable")})
    assert field_values(unknown, d.sheets[0], plain)["mass"] == ""


def test_the_projection_symbol_shows_the_small_end_to_the_viewer_of_the_circles() -> None:
    """ISO 5456-2: the circles, seen from the small end, stand at the right of the side view in first angle,
    at its left in third."""
    for method, side in (("first", 1), ("third", -1)):
        ink = projection_symbol(method, 0, 0, 1)
        cone = next(e for e in ink if isinstance(e, Polyline))
        circle = next(e for e in ink if isinstance(e, Arc))
        heights = {round(x): abs(y) for x, y in cone.points}
        left, right = sorted(heights)
        assert heights[left] < heights[right]  # small end at the left, where the viewer of the circles stands
        assert math.copysign(1, circle.center[0] - (left + right) / 2) == side


# ---- files -------------------------------------------------------------------------------------------------


@pytest.fixture(scope="module")
def sheet() -> tuple[Drawing, Composed]:
    model = demo("HB-204")
    d = Drawing(name="Bearing block", profile=ISO_MM, projection="first", sheets=[Sheet(id="s", size="A3")])
    for c in json.loads((ROOT / "demo/drawings/HB-204.json").read_text())["commands"]:
        d = run(d, {**c, "sheet": "s"} if "sheet" in c else c, facts=model.facts)
    prepared = Prepared(model)
    return d, compose(
        d, d.sheets[0], model.facts, {v.id: derive(prepared, v.orientation) for v in d.sheets[0].views}
    )


def test_nothing_of_the_demo_drawing_is_lost_and_all_stays_in_the_frame(
    sheet: tuple[Drawing, Composed],
) -> None:
    d, out = sheet
    assert out.lost == {}
    box = frame_box(d.sheets[0])
    for g in out.ink.groups:
        if g.kind == "frame":
            continue
        for e in g.elements:
            for p in (e.a, e.b) if isinstance(e, Line) else getattr(e, "points", []):
                assert box.left < p[0] + g.origin[0] < box.right
                assert box.bottom < p[1] + g.origin[1] < box.top


def test_pdf_is_to_size_with_its_lettering_embedded_and_its_numbers_as_text(
    sheet: tuple[Drawing, Composed],
) -> None:
    d, out = sheet
    data = sheets_pdf([out.ink, out.ink], d.profile, "HB-204")
    reader = pypdf.PdfReader(io.BytesIO(data))
    assert len(reader.pages) == 2
    page = reader.pages[0]
    assert float(page.mediabox.width) / 72 * 25.4 == pytest.approx(420, abs=0.1)
    assert float(page.mediabox.height) / 72 * 25.4 == pytest.approx(297, abs=0.1)
    text = page.extract_text()
    for wanted in ("140", "60", "108", "Ø52", "Ø4,2", "Bearing block", "HB-204", "2,31 kg", "(1:2)"):
        assert wanted in text, wanted
    fonts = [f.get_object() for f in page["/Resources"]["/Font"].get_object().values()]
    assert any("/FontFile2" in f["/FontDescriptor"].get_object() for f in fonts if "/FontDescriptor" in f)
    picture = pypdfium2.PdfDocument(data)[0].render(scale=1).to_numpy()
    assert 0.005 < (picture < 128).mean() < 0.2


def test_dxf_measures_what_the_model_measures(sheet: tuple[Drawing, Composed]) -> None:
    d, out = sheet
    document = ezdxf.read(io.StringIO(sheet_dxf(out.ink, d.profile)[0].decode()))
    assert not document.audit().errors
    space = document.modelspace()
    front = d.sheets[0].view("front")
    assert front
    circles = [
        c
        for c in space.query("CIRCLE[layer=='Visible']")
        if math.dist((c.dxf.center.x, c.dxf.center.y), (front.position.x, front.position.y + 11)) < 1e-6
    ]
    assert sorted(2 * c.dxf.radius for c in circles) == pytest.approx([40, 52])
    assert {e.dxf.layer for e in space} >= {"Visible", "Hidden", "Center", "Dimension", "Frame"}
    hidden = space.query("LINE[layer=='Hidden']")
    assert hidden
    assert all(e.dxf.linetype == "HIDDEN" for e in hidden)
    pattern = document.linetypes.get("HIDDEN").pattern_tags.tags
    assert [t.value for t in pattern if t.code == 49] == [3.0, -0.75]  # ISO 128-2: dash 12 d, gap 3 d, d 0.25
    assert {t.dxf.text for b in (space, *document.blocks) for t in b.query("TEXT")} >= {
        "140",
        "Ø52 H8",
        "Bearing block",
    }
    assert len(space.query("ELLIPSE")) >= 6  # the holes of the pictorial view stay true ellipses
    base = [
        e for e in space.query("LINE[layer=='Visible']") if abs(e.dxf.start.distance(e.dxf.end) - 140) < 1e-6
    ]
    assert base


def test_svg_is_to_size_and_carries_its_font(sheet: tuple[Drawing, Composed]) -> None:
    d, out = sheet
    text = sheet_svg(out.ink, d.profile).decode()
    assert 'width="420mm" height="297mm" viewBox="0 0 420 297"' in text
    assert "data:font/ttf;base64," in text
    assert re.findall(r'class="stroke visible"[^>]*stroke-width="0.5"', text)
    assert "stroke-dasharray" in text
    assert ">140</text>" in text
    assert "<script" not in text
    assert "http" not in text.replace("http://www.w3.org/2000/svg", "")


def test_text_of_the_drafter_cannot_break_out_of_the_svg() -> None:
    d = new_drawing(fields=Fields(title='</text><script>alert("x")</script>&'))
    out = compose(d, d.sheets[0], block(10, 10, 10).facts, {})
    text = sheet_svg(out.ink, d.profile).decode()
    assert "<script" not in text
    assert "&lt;/text&gt;" in text


def test_a_lost_edge_is_reported_and_nothing_else_is() -> None:
    d = run(new_drawing(), *VIEWS, SIZE)
    whole = compose(d, d.sheets[0], block(80, 40, 30).facts, {})
    assert whole.lost == {}
    other = demo("HB-207").facts
    assert "no longer in the model" in compose(d, d.sheets[0], other, {}).lost["d"]
