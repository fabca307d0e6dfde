"""Pictures and drawings of old: what was written with ezdxf and Pillow is read back as it was, and what is
hostile is refused in a sentence."""

import contextlib
import hashlib
import io
import math
import zlib
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pypdf
import pytest
from ezdxf import bbox
from PIL import Image

from drafting.annotation import registry
from drafting.annotation.kinds import picture, underlay
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.kinds.picture import Picture
from drafting.annotation.measuring.underlays import Underlay, piece_of
from drafting.annotation.proposing.propose import propose
from drafting.annotation.review import size_sheet
from drafting.commands import applied
from drafting.commands.annotations import Place
from drafting.compose import annotation_groups, compose
from drafting.context import Context
from drafting.document import Pick, Point
from drafting.errors import ModelError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.export.pdf import sheets_pdf
from drafting.export.svg import sheet_svg
from drafting.ink.elements import Group, Line, Text
from drafting.placed import content, dxf, pictures
from drafting.placed.underlay import ARC, LINE, PATH, Lie, unpacked
from drafting.standards.profile import ISO_MM
from tests.core.test_added_lines import BACK, MODEL, edge, free, seen

FILES: dict[str, bytes] = {}


@pytest.fixture(autouse=True)
def kept() -> Iterator[None]:
    content.read_with(FILES.get)
    yield
    content.read_with(lambda key: None)


def keep(data: bytes) -> str:
    key = hashlib.sha256(data).hexdigest()
    FILES[key] = data
    return key


# ---- reading DXF -------------------------------------------------------------------------------------------
VERSIONS = ("R12", "R2000", "R2004", "R2007", "R2010", "R2013", "R2018")


def old_drawing(version: str) -> Any:
    """A plate of 120 by 80 with two holes, in a block put in twice, and some of everything else."""
    document = ezdxf.new(version, setup=True)
    if version != "R12":
        document.header["$INSUNITS"] = 4
    document.layers.add("HOLES", color=1)
    document.layers.add("HIDDEN", color=2).off()
    space = document.modelspace()
    for a, b in (((0, 0), (120, 0)), ((120, 0), (120, 80)), ((120, 80), (0, 80)), ((0, 80), (0, 0))):
        space.add_line((a[0] + 1000, a[1] - 500), (b[0] + 1000, b[1] - 500))
    hole = document.blocks.new("HOLE")
    hole.add_circle((0, 0), 7, {"layer": "HOLES"})
    hole.add_arc((0, 0), 9, 30, 200, dxfattribs={"layer": "HOLES"})
    space.add_blockref("HOLE", (1030, -460))
    space.add_blockref("HOLE", (1090, -460), {"xscale": 2, "yscale": 2, "rotation": 90})
    space.add_line((1000, -500), (5000, 0), {"layer": "HIDDEN"})
    space.add_text("PLATE 12", height=5, dxfattribs={"insert": (1010, -490)})
    if version != "R12":
        space.add_lwpolyline([(1040, -440, 0.5), (1060, -440, 0), (1060, -430, 0)], format="xyb")
        space.add_spline([(1010, -440), (1020, -430), (1030, -445)])
        space.add_ellipse((1060, -470), (10, 0), 0.4)
    else:
        space.add_polyline2d([(1040, -440, 0, 0, 0.5), (1060, -440), (1060, -430)], format="xyseb")
    return document


@pytest.mark.parametrize("version", VERSIONS)
def test_every_version_is_read_as_it_was_written(version: str, tmp_path: Path) -> None:
    file = tmp_path / "old.dxf"
    old_drawing(version).saveas(file)
    lines, left = dxf.read(file)
    assert left == {}
    assert lines.unit == ("" if version == "R12" else "mm")
    assert (lines.corner, lines.size) == ((1000, -500), (120, 80))
    assert set(lines.names) == {"0", "HOLES"}  # what is off in the file is not there
    found = [lines.piece(n) for n in range(len(lines))]
    straight = {tuple(round(x, 6) for x in v) for k, v in found if k == LINE}
    assert {(0, 0, 120, 0), (120, 0, 120, 80), (120, 80, 0, 80), (0, 80, 0, 0), (60, 60, 60, 70)} <= straight
    rounds = sorted((round(v[2], 6), round(v[0], 6), round(v[1], 6)) for k, v in found if k == ARC)
    assert [r for r in rounds if r[0] != 12.5] == [(7, 30, 40), (9, 30, 40), (14, 90, 40), (18, 90, 40)]
    # a bulge of 0.5 over 20: radius = 20 (1 + 0.25) / (4 x 0.5) (definition of the bulge)
    assert any(r[0] == pytest.approx(12.5) for r in rounds)
    (turned,) = [v for k, v in found if k == ARC and round(v[2], 6) == 18]
    assert [math.degrees(a) % 360 for a in turned[3:]] == pytest.approx([120, 290])
    assert [(w.text, w.x, w.y, w.height) for w in lines.words] == [("PLATE 12", 10, 10, 5)]
    assert unpacked(lines.packed()).piece(3) == lines.piece(3)
    if version != "R12":
        assert sum(k == PATH for k, _ in found) == 2
        whole = bbox.extents(e for e in ezdxf.readfile(file).modelspace() if e.dxf.layer != "HIDDEN")
        assert lines.size == pytest.approx((whole.size.x, whole.size.y), abs=1e-6)


def test_paths_stay_near_the_curves_that_they_stand_for(tmp_path: Path) -> None:
    document = ezdxf.new("R2010")
    document.modelspace().add_ellipse((0, 0), (50, 0), 0.5)
    document.saveas(tmp_path / "e.dxf")
    lines, _ = dxf.read(tmp_path / "e.dxf")
    (_, v) = lines.piece(0)
    p = np.array(v).reshape(-1, 2) + lines.corner
    middles = (p[:-1] + p[1:]) / 2
    assert np.abs((p[:, 0] / 50) ** 2 + (p[:, 1] / 25) ** 2 - 1).max() < 1e-3
    assert np.abs((middles[:, 0] / 50) ** 2 + (middles[:, 1] / 25) ** 2 - 1).max() < 0.02


def test_dimensions_and_hatches_are_drawn_as_they_were(tmp_path: Path) -> None:
    document = ezdxf.new("R2010", setup=True)
    space = document.modelspace()
    space.add_linear_dim(base=(0, 20), p1=(0, 0), p2=(57, 0), text="57").render()
    space.add_hatch().paths.add_polyline_path([(0, 0), (30, 0), (30, 10), (0, 10)], is_closed=True)
    document.saveas(tmp_path / "d.dxf")
    lines, left = dxf.read(tmp_path / "d.dxf")
    assert any(w.text == "57" for w in lines.words)
    assert len(lines) > 4
    assert left == {}


@pytest.mark.parametrize(
    ("make", "words"),
    [
        (lambda f: f.write_bytes(b"hello"), "no DXF file"),
        (lambda f: f.write_bytes(b"  0\nSECTION\n  2\nENTITIES\n  0\nLINE\n 10\nnot a number\n"), "damaged"),
        (lambda f: f.write_bytes(b""), "no DXF file"),
        (lambda f: ezdxf.new("R2010").saveas(f), "no lines"),
    ],
)
def test_what_is_no_drawing_is_refused_in_a_sentence(make: Any, words: str, tmp_path: Path) -> None:
    file = tmp_path / "x.dxf"
    make(file)
    with pytest.raises(ModelError, match=words):
        dxf.read(file)


def test_a_file_cut_short_is_refused_or_read_as_far_as_it_goes(tmp_path: Path) -> None:
    file = tmp_path / "x.dxf"
    old_drawing("R2010").saveas(file)
    data = file.read_bytes()
    for share in (0.2, 0.5, 0.9, 0.97):
        file.write_bytes(data[: int(len(data) * share)])
        outcome: Any = None
        with contextlib.suppress(ModelError):
            outcome = dxf.read(file)
        assert outcome is None or len(outcome[0])


def test_blocks_that_hold_themselves_and_places_too_far_out_are_refused(tmp_path: Path) -> None:
    document = ezdxf.new("R2010")
    a, b = document.blocks.new("A"), document.blocks.new("B")
    a.add_blockref("B", (0, 0))
    b.add_blockref("A", (0, 0))
    document.modelspace().add_blockref("A", (0, 0))
    document.saveas(tmp_path / "ring.dxf")
    with pytest.raises(ModelError, match="contains itself"):
        dxf.read(tmp_path / "ring.dxf")
    far = ezdxf.new("R2010")
    far.modelspace().add_line((0, 0), (1e15, 0))
    far.saveas(tmp_path / "far.dxf")
    with pytest.raises(ModelError, match="too far out"):
        dxf.read(tmp_path / "far.dxf")
    near = ezdxf.new("R2010")
    near.modelspace().add_line((1e9, 1e9), (1e9 + 40, 1e9))
    near.saveas(tmp_path / "near.dxf")
    lines, _ = dxf.read(tmp_path / "near.dxf")
    assert lines.piece(0)[1] == pytest.approx([0, 0, 40, 0])


def test_more_than_can_be_drawn_is_refused(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(dxf, "MOST", 50)
    document = ezdxf.new("R2010")
    for n in range(60):
        document.modelspace().add_line((n, 0), (n, 1))
    document.saveas(tmp_path / "many.dxf")
    with pytest.raises(ModelError, match="more than 50 lines"):
        dxf.read(tmp_path / "many.dxf")


# ---- underlays ---------------------------------------------------------------------------------------------
def laid(tmp_path: Path, version: str = "R2010", **more: Any) -> Underlay:
    file = tmp_path / "old.dxf"
    old_drawing(version).saveas(file)
    lines, _ = dxf.read(file)
    settings = {"file": keep(lines.packed()), "name": "old.dxf", "unit": "mm", **more}
    return underlay.propose(Request([], (-60.0, -40.0), "u", settings=settings), seen(MODEL))


def picked(a: Underlay, kind: int, like: Any, point: Any = "") -> Spot:
    n = next(n for n in range(len(a.lines)) if a.lines.piece(n)[0] == kind and like(a.lines.piece(n)[1]))
    return Spot(Pick(instance="", source=f"{a.id}#{n}", role="underlay", point=point), (0, 0))


def test_an_underlay_is_sized_snapped_to_and_said_to_be_one(tmp_path: Path) -> None:
    a = laid(tmp_path)
    context = seen(MODEL).__class__(*_on(a))
    low = picked(a, LINE, lambda v: v[1] == v[3] == 0)
    top = picked(a, LINE, lambda v: v[1] == v[3] == 80)
    hole = picked(a, ARC, lambda v: round(v[2], 6) == 14)
    found = propose("size", Request([low, top], (-80, 0), "a"), context, dict)
    assert (registry.text(found.annotations[0], context), found.note) == ("80", "taken on the underlay")
    assert registry.findings(found.annotations[0], context) == [
        "A size is taken on an underlay, not on the model."
    ]
    round_ = propose("size", Request([hole], (60, 30), "b"), context, dict).annotations[0]
    assert registry.text(round_, context) == "Ø28"
    from_center = picked(a, ARC, lambda v: round(v[2], 6) == 14, "center")
    line = propose("added_line", Request([from_center, free(70, 3)], (0, 0), "n"), context, dict)
    assert [(p.x, p.y) for p in line.annotations[0].points][0] == pytest.approx((30, 0))  # type: ignore[attr-defined]
    both = propose("size", Request([low, edge(BACK, 0, 30)], (-80, 0), "c"), context, dict)
    assert registry.text(both.annotations[0], context) == "70"


def test_on_the_bare_sheet_it_is_sized_in_the_papers_own_millimeters(tmp_path: Path) -> None:
    empty = seen(MODEL)
    bare = Context(empty.drawing, empty.sheet, empty.facts, is_bare=True)
    a = underlay.propose(
        Request([], (20.0, 30.0), "u", settings={"file": laid(tmp_path).file, "unit": "mm"}), bare
    )
    assert a.anchor.on == "sheet"
    drawing = applied(
        empty.drawing, Place(command="place", annotations=[a], sheet=empty.sheet.id), empty.facts
    )
    bare = Context(drawing, drawing.sheets[0], empty.facts, is_bare=True)
    low = picked(a, LINE, lambda v: v[1] == v[3] == 0)
    top = picked(a, LINE, lambda v: v[1] == v[3] == 80)
    hole = picked(a, ARC, lambda v: round(v[2], 6) == 14)
    made = propose("size", Request([low, top], (10, 70), "s1"), bare, dict)
    assert made.note == "taken on the underlay"
    round_ = propose("size", Request([hole], (160, 120), "s2"), bare, dict).annotations[0]
    line = propose("added_line", Request([hole, free(70, 3)], (0, 0), "n"), bare, dict).annotations[0]
    assert [t.relation for t in line.ties] == ["on"]  # type: ignore[attr-defined]
    assert {x.anchor.on for x in (made.annotations[0], round_, line)} == {"sheet"}
    placing = Place(command="place", annotations=[*made.annotations, round_], sheet=drawing.sheets[0].id)
    drawing = applied(drawing, placing, empty.facts)
    groups = annotation_groups(drawing, drawing.sheets[0], empty.facts)
    drawn = {name: g for name, g in groups.items() if name != "u" and isinstance(g, Group)}
    assert [t.text for g in drawn.values() for t in g.elements if isinstance(t, Text)] == ["80", "Ø28"]
    ends = sorted(round(e.a[1]) for e in drawn["s1"].elements if isinstance(e, Line))
    assert (ends[0], ends[-1]) == (30, 110)  # about the sheet's corner, where the old drawing lies
    assert [r.nominal for r in size_sheet.rows(drawing, empty.facts)] == [80, 28]
    with pytest.raises(SizeError, match="On the sheet itself"):
        propose("size", Request([edge(BACK, 0, 30)], (0, 0), "s3"), bare, dict)


def _on(*annotations: Any) -> tuple[Any, ...]:
    context = seen(MODEL)
    document = applied(
        context.drawing, Place(command="place", annotations=list(annotations), sheet="s"), MODEL.facts
    )
    return document, document.sheets[0], MODEL.facts, document.sheets[0].views[0]


def test_two_points_of_known_distance_give_its_scale(tmp_path: Path) -> None:
    a = laid(tmp_path, unit="in")
    context = Context(*_on(a))
    ends = [picked(a, LINE, lambda v: v[1] == v[3] == 0, n) for n in ("start", "end")]
    request = Request(ends, (0, 0), "x", settings={"distance": 60.0})
    made = propose("scale_underlay", request, context, dict).annotations[0]
    assert isinstance(made, Underlay)
    assert made.unit == pytest.approx(0.5)
    assert (made.position.x, made.position.y) == pytest.approx((a.position.x, a.position.y))
    for settings, words in (({"distance": 0}, "how far"), ({}, "how far")):
        with pytest.raises(SizeError, match=words):
            propose("scale_underlay", Request(ends, (0, 0), "x", settings=settings), context, dict)


def test_a_window_shows_what_lies_in_it_and_says_when_that_is_too_much(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    a = laid(tmp_path)
    context = Context(*_on(a))
    curves, more = underlay.window(a, (-60, -40), (60, 40), context)
    assert not more
    assert len(curves) == len(a.lines)
    near, _ = underlay.window(a, (-61, -41), (-59, -39), context)
    assert {c.kind for c in near} == {"line"}
    assert len(near) == 2
    hidden = a.model_copy(update={"off": ["HOLES"]})
    assert not [
        c
        for c in underlay.window(hidden, (-60, -40), (60, 40), context)[0]
        if c.kind == "arc" and c.data[2] > 13
    ]
    monkeypatch.setattr(underlay, "MOST_SHOWN", 3)
    assert underlay.window(a, (-60, -40), (60, 40), context) == ([], True)


def test_lying_turned_and_scaled_goes_there_and_back() -> None:
    lie = Lie(12.0, -7.0, 2.5, math.radians(37))
    x, y = lie.placed(LINE, [3.0, 4.0])
    assert lie.back(x, y) == pytest.approx((3, 4))
    assert lie.placed(ARC, [0, 0, 2, 0, 1])[2:] == pytest.approx([5, math.radians(37), 1 + math.radians(37)])


def test_it_is_in_files_where_it_is_to_be_and_below_all_else(tmp_path: Path) -> None:
    a = laid(tmp_path)
    document, sheet, facts, _ = _on(a)
    assert not [g for g in compose(document, sheet, facts, {}).ink.groups if g.id == "u" and g.elements]
    document, sheet, facts, _ = _on(a.model_copy(update={"printed": True}))
    ink = compose(document, sheet, facts, {}).ink
    assert ink.groups[0].id == "u"
    (tmp_path / "out.dxf").write_bytes(sheet_dxf(ink, ISO_MM)[0])
    found = ezdxf.readfile(tmp_path / "out.dxf").modelspace().query('*[layer=="Underlay"]')
    rounds = sorted(round(e.dxf.radius, 3) for e in found if e.dxftype() == "CIRCLE")
    assert rounds == [7, 14]
    text = pypdf.PdfReader(io.BytesIO(sheets_pdf([ink], ISO_MM, "x"))).pages[0].extract_text()
    assert "PLATE 12" in text


def test_a_file_that_is_gone_says_so(tmp_path: Path) -> None:
    a = laid(tmp_path).model_copy(update={"file": "0" * 64})
    assert compose(*_gone(a)).lost == {"u": "The file of this is no longer there; place it again."}
    with pytest.raises(SizeError, match="Choose a DXF file first"):
        underlay.propose(Request([], (0, 0), "u"), seen(MODEL))
    with pytest.raises(SizeError, match="does not say its units"):
        laid(tmp_path, unit="")


def _gone(a: Any) -> tuple[Any, ...]:
    document, sheet, facts, _ = _on(a)
    return document, sheet, facts, {}


# ---- pictures ----------------------------------------------------------------------------------------------
def picture_bytes(kind: str, size: tuple[int, int] = (40, 20)) -> bytes:
    out = io.BytesIO()
    Image.new("RGB", size, (200, 30, 30)).save(out, kind)
    return out.getvalue()


@pytest.mark.parametrize(("kind", "name"), [("PNG", "a.png"), ("JPEG", "b.jpg")])
def test_pictures_become_plain_pixels(kind: str, name: str) -> None:
    with Image.open(io.BytesIO(pictures.cleaned(picture_bytes(kind), name))) as found:
        assert (found.format, found.size) == ("PNG", (40, 20))
        assert found.getpixel((5, 5))[0] > 150  # type: ignore[index]
        assert not found.info


def test_a_photograph_is_turned_as_its_camera_says() -> None:
    out, exif = io.BytesIO(), Image.Exif()
    exif[0x0112] = 6  # turned by a quarter (EXIF)
    Image.new("RGB", (40, 20)).save(out, "JPEG", exif=exif)
    with Image.open(io.BytesIO(pictures.cleaned(out.getvalue(), "c.jpg"))) as found:
        assert found.size == (20, 40)


def bomb() -> bytes:
    """The head of a PNG of 100,000 by 100,000 pixels."""
    head = b"IHDR" + (100_000).to_bytes(4, "big") * 2 + b"\x08\x02\x00\x00\x00"
    return b"\x89PNG\r\n\x1a\n" + (13).to_bytes(4, "big") + head + zlib.crc32(head).to_bytes(4, "big")


@pytest.mark.parametrize(
    ("data", "name"),
    [
        (b"nothing", "a.png"),
        (bomb(), "a.png"),
        (picture_bytes("PNG")[:60], "a.png"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script>alert(1)</script></svg>", "a.svg"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><image href='file:///etc/passwd'/></svg>", "a.svg"),
        (b"<!DOCTYPE x [<!ENTITY a 'b'>]><svg>&a;</svg>", "a.svg"),
    ],
)
def test_hostile_pictures_are_refused_in_a_sentence(data: bytes, name: str) -> None:
    with pytest.raises(ModelError, match=r"^The picture.*\.$"):
        pictures.cleaned(data, name)


def placed_picture(**more: Any) -> Picture:
    data = pictures.cleaned(picture_bytes("PNG", (400, 200)), "a.png")
    settings = {"file": keep(data), "name": "a.png", "wide": 400, "high": 200}
    made = picture.propose(Request([], (100.0, 60.0), "p", settings=settings), seen(MODEL))
    return made.model_copy(update=more)


def test_a_picture_is_in_every_file_where_it_stands(tmp_path: Path) -> None:
    p = placed_picture(width=50.0, angle=90.0)
    assert placed_picture().width == pytest.approx(33.9)  # 400 pixels at 300 to the inch
    document, sheet, facts, _ = _on(p)
    ink = compose(document, sheet, facts, {}).ink
    assert ink.groups[0].id == "p"  # below the lines
    above = compose(*_gone(p.model_copy(update={"layer": "above"}))).ink
    assert above.groups[-1].id == "p"
    data, files = sheet_dxf(ink, ISO_MM)
    assert list(files.values()) == [FILES[p.file]]
    (tmp_path / "out.dxf").write_bytes(data)
    (image,) = ezdxf.readfile(tmp_path / "out.dxf").modelspace().query("IMAGE")
    assert tuple(round(v, 3) for v in image.dxf.insert) == (112.5, 35, 0)
    u = image.dxf.u_pixel * 400
    assert tuple(round(v, 3) for v in u) == (0, 50, 0)
    page = pypdf.PdfReader(io.BytesIO(sheets_pdf([ink], ISO_MM, "x"))).pages[0]
    assert [i.image.size for i in page.images] == [(400, 200)]  # type: ignore[union-attr]
    assert b"data:image/png;base64," in sheet_svg(ink, ISO_MM)
    (box,) = registry.kind_of(p).obstacles(p, seen(MODEL))  # type: ignore[misc]
    assert box[1] == pytest.approx((87.5, 35, 112.5, 85))


def test_a_picture_needs_a_file() -> None:
    with pytest.raises(SizeError, match="Choose a picture first"):
        picture.propose(Request([], (0, 0), "p"), seen(MODEL))
    with pytest.raises(ValueError, match="pattern"):
        Picture(id="p", file="../../etc/passwd", position=Point(x=0, y=0), wide=3, high=3)


def test_lines_of_an_underlay_are_traced_where_they_lie(tmp_path: Path) -> None:
    a = laid(tmp_path)
    context = Context(*_on(a))

    def traced(spot: Spot) -> Any:
        request = Request([spot], (0, 0), "n", settings={"form": "traced"})
        return propose("added_line", request, context, dict).annotations[0]

    low = picked(a, LINE, lambda v: v[1] == v[3] == 0)
    kind, v = piece_of(low.pick, context)
    line = traced(low)
    assert (kind, line.form) == (LINE, "line")
    assert [c for p in line.points for c in (p.x, p.y)] == pytest.approx(v)
    hole = traced(picked(a, ARC, lambda v: round(v[2], 6) == 14))
    assert (hole.form, hole.radius) == ("circle", pytest.approx(14))
    with pytest.raises(SizeError, match="line of an underlay"):
        traced(edge(BACK, 0, 30))


@pytest.mark.parametrize("version", ["R12", "R2018"])
def test_what_lies_on_layer_0_of_a_block_lies_on_the_layer_that_it_is_inserted_on(
    version: str, tmp_path: Path
) -> None:
    """DXF reference, group code 8 in blocks: layer 0 is that of the insertion; also in blocks of blocks."""
    document = ezdxf.new(version)
    inner, outer = document.blocks.new("inner"), document.blocks.new("outer")
    inner.add_line((0, 0), (1, 0))
    inner.add_line((0, 1), (1, 1), dxfattribs={"layer": "OWN"})
    outer.add_blockref("inner", (0, 0))
    document.modelspace().add_blockref("outer", (0, 0), dxfattribs={"layer": "PUT"})
    document.modelspace().add_line((0, 2), (1, 2))
    dimension = document.modelspace().add_linear_dim(
        base=(0, 9), p1=(0, 5), p2=(30, 5), dxfattribs={"layer": "DIM"}
    )
    dimension.render()
    document.saveas(tmp_path / "a.dxf")
    lines, _ = dxf.read(tmp_path / "a.dxf")
    at = {name: [] for name in lines.names}  # type: ignore[var-annotated]
    for n in range(len(lines)):
        at[lines.names[lines.layers[n]]].append(round(lines.piece(n)[1][1] + lines.corner[1], 6))
    assert (at["PUT"], at["OWN"], at["0"]) == ([0.0], [1.0], [2.0])
    assert len(at["DIM"]) >= 3
    assert lines.packed() == dxf.read(tmp_path / "a.dxf")[0].packed()
