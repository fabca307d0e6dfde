"""Sections: cut faces against the kernel's own, what stays whole, what lines show, and sizes that read
true."""

import math
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeFace
from OCP.BRepGProp import BRepGProp
from OCP.gp import gp_Dir, gp_Pln, gp_Pnt
from OCP.GProp import GProp_GProps

from drafting.annotation.measuring import distances, measure
from drafting.annotation.measuring.traces import Straight
from drafting.document import Drawing, Pick, Point, Sheet
from drafting.errors import CommandError, SizeError, ViewError
from drafting.ink.elements import Element, Line
from drafting.kernel import cutting
from drafting.model.model import Facts, Model
from drafting.model.names import part_facts
from drafting.model.step import read_model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewCurve, ViewGeometry
from drafting.views.hatch_ends import on_curves
from drafting.views.hatching import hatch_ink
from drafting.views.orientation import PRINCIPAL
from drafting.views.present import region_of
from drafting.views.section import (
    across,
    broken_out,
    check_line,
    legs_of,
    section_cuts,
    section_legs,
    side_of,
)
from drafting.views.uncut import left_whole, main_axis, solid_kind
from drafting.views.view import CuttingLine, Section, View
from tests.core.conftest import block, demo, part
from tests.core.contexts import seen_in
from tests.core.zoo import box, rod, rounded, stretched

FRONT = PRINCIPAL["front"]
GMSH = Path(sys.prefix) / "share" / "doc" / "gmsh" / "examples" / "boolean"


def kernel_area(model: Model, point: Any, normal: Any) -> float:
    """Area of the kernel's common of the model's solid and a plane face, mm2."""
    face = BRepBuilderAPI_MakeFace(gp_Pln(gp_Pnt(*point), gp_Dir(*normal)), -500, 500, -500, 500).Face()
    common = BRepAlgoAPI_Common(next(iter(model.shapes.values())), face).Shape()
    properties = GProp_GProps()
    BRepGProp.SurfaceProperties_s(common, properties)
    return abs(properties.Mass())


def hatched(g: ViewGeometry) -> float:
    return float(sum(region_of(f).area for f in g.cut_faces))


def section(
    prepared: Prepared, points: Any, form: Any = "straight", viewer: int = 1, **more: Any
) -> ViewGeometry:
    o = across(FRONT, tuple(legs_of(points)[0]), viewer, "first")
    reach = 3 * prepared.diagonal
    if form == "aligned":
        return derive(
            prepared,
            Derivation(
                orientation=o, legs=section_legs(points, viewer, FRONT, prepared.middle, reach), **more
            ),
        )
    return derive(
        prepared,
        Derivation(
            orientation=o, cuts=section_cuts(points, form, viewer, FRONT, prepared.middle, reach), **more
        ),
    )


@given(st.floats(-65, 65))
@settings(max_examples=12, deadline=None)
def test_the_area_of_a_full_section_is_the_kernels(x: float) -> None:
    model = demo("HB-204")
    g = section(Prepared(model), [(x, -60), (x, 60)])
    wanted = kernel_area(model, (x, 0, 0), (1, 0, 0))
    assert sum(f.area for f in g.cut_faces) == pytest.approx(wanted, rel=1e-5)
    assert hatched(g) == pytest.approx(wanted, rel=2e-3)  # round edges are hatched up to fine chords


@given(st.floats(10, 60), st.floats(10, 60), st.floats(5, 100))
@settings(max_examples=10, deadline=None)
def test_area_times_length_is_the_volume_of_a_prism(width: float, depth: float, height: float) -> None:
    model = block(width, depth, height)
    g = section(Prepared(model), [(0, -200), (0, 200)])
    assert hatched(g) * width == pytest.approx(width * depth * height, rel=1e-6)


def test_a_stepped_section_adds_up_and_draws_no_line_at_the_step() -> None:
    """The lower half is cut at one plane, the upper at another; nothing shows where the line steps (ISO
    128-3, memory)."""
    model = part(
        [
            {"id": "b", "kind": "extrude", "profile": {"width": 80, "height": 40}, "depth": 30},
            {"id": "h", "kind": "hole", "plane": {"origin": [-20, 0, 30]}, "diameter": 10},
            {"id": "k", "kind": "hole", "plane": {"origin": [20, 0, 30]}, "diameter": 16, "at": [[0, 10]]},
        ]
    )
    prepared = Prepared(model)
    top = PRINCIPAL["top"]
    line = [(-60, 0), (0, 0), (0, 10), (60, 10)]
    cuts = section_cuts(line, "straight", -1, top, prepared.middle, 300)
    g = derive(prepared, Derivation(orientation=across(top, (1.0, 0.0), -1, "first"), cuts=cuts))
    assert hatched(g) == pytest.approx(80 * 30 - 10 * 30 - 16 * 30, rel=1e-6)
    assert not [c for c in g.curves if c.kind == "line" and abs(c.data[0]) < 1e-6 and abs(c.data[2]) < 1e-6]
    pictorial = derive(prepared, Derivation(orientation=PRINCIPAL["right"], cuts=cuts, steps=True))
    assert pictorial.cut_faces == []  # seen edge-on
    shown = {c.source for c in g.curves if c.role == "cut"}
    assert {"h/bore", "k/bore"} <= shown


def test_an_aligned_section_turns_its_second_leg_into_the_paper() -> None:
    """A disc with a hole on its rim 45 degrees aside: turned flat the hole stands at its true distance from
    the middle."""
    model = part(
        [
            {"id": "d", "kind": "extrude", "profile": {"diameter": 100}, "depth": 12},
            {"id": "m", "kind": "hole", "plane": {"origin": [0, 0, 12]}, "diameter": 20},
            {
                "id": "r",
                "kind": "hole",
                "plane": {"origin": [0, 0, 12]},
                "diameter": 8,
                "at": [[35 * math.sqrt(0.5), 35 * math.sqrt(0.5)]],
            },
        ]
    )
    prepared = Prepared(model)
    top = PRINCIPAL["top"]
    line = [(-60.0, 0.0), (0.0, 0.0), (60.0, 60.0)]
    o = across(top, (1.0, 0.0), -1, "first")
    g = derive(prepared, Derivation(orientation=o, legs=section_legs(line, -1, top, prepared.middle, 400)))
    assert hatched(g) == pytest.approx(12 * (100 - 20 - 8), rel=1e-5)
    sides = sorted(
        {
            round(c.data[0], 5)
            for c in g.curves
            if c.role == "cut" and c.source == "r/bore" and abs(c.data[0] - c.data[2]) < 1e-9
        }
    )
    assert sides == [pytest.approx(31), pytest.approx(39)]
    assert (g.low[0], g.high[0]) == (pytest.approx(-50), pytest.approx(50))
    view = View(
        id="v",
        kind="section",
        orientation=o,
        position=Point(x=0, y=0),
        hidden_lines=False,
        section=Section(
            line=CuttingLine(points=[Point(x=x, y=y) for x, y in line], form="aligned", viewer=-1, base=top)
        ),
    )
    assert derivation_of(view, model.facts).legs == section_legs(
        line, -1, top, prepared.middle, 3 * prepared.diagonal
    )
    frame = ViewFrame.of(view, model.facts)
    rims = [e for e in model.facts.parts["part"].edges if "r/bore" in e.faces and e.kind == "circle"]
    bore = measure.resolve(
        Pick(instance="part", source=rims[0].name), seen_in(facts=model.facts, frame=frame)
    )
    assert isinstance(bore, Straight)
    assert sorted(round(float(frame.flat(p)[0]), 5) for p in (bore.a, bore.b)) == sides


def test_a_half_section_cuts_one_half() -> None:
    model = demo("HB-204")
    prepared = Prepared(model)
    full, half = section(prepared, [(0, -60), (0, 60)]), section(prepared, [(0, -60), (0, 11)], "half")
    assert 0.3 * hatched(full) < hatched(half) < 0.8 * hatched(full)
    high = max(v for f in half.cut_faces for r in f.rings for v in r[1::2])
    assert high == pytest.approx(11 - 20)  # the cut ends at the bore's lower side, below its center line
    assert half.high == pytest.approx(full.high)


def test_a_broken_out_place_is_cut_to_its_floor_and_bounded_by_thin_lines() -> None:
    model = block(60, 40, 30)
    prepared = Prepared(model)
    outline = [(-20.0, -5.0), (-20.0, 10.0), (10.0, 10.0), (10.0, -5.0)]
    g = derive(
        prepared, Derivation(orientation=FRONT, cuts=[broken_out(outline, 0.0, FRONT, prepared.middle, 300)])
    )
    assert hatched(g) == pytest.approx(30 * 15)
    breaks = [c for c in g.curves if c.edge_class == "break"]
    assert sum(abs(c.data[2] - c.data[0]) + abs(c.data[3] - c.data[1]) for c in breaks) == pytest.approx(
        2 * (30 + 15)
    )
    assert sum(1 for c in g.curves if c.visible and c.edge_class == "sharp") == 4
    with pytest.raises(CommandError, match="does not cross itself"):
        broken_out([(0, 0), (10, 10), (10, 0), (0, 10)], 0.0, FRONT, prepared.middle, 300)


def test_a_section_of_a_section_is_cut_twice() -> None:
    model = block(60, 40, 30)
    prepared = Prepared(model)
    first = section_cuts([(0, -100), (0, 100)], "straight", 1, FRONT, prepared.middle, 300)
    right = across(FRONT, (0.0, 1.0), 1, "first")
    second = section_cuts([(-100, 0), (100, 0)], "straight", 1, right, prepared.middle, 300)
    g = derive(
        prepared, Derivation(orientation=across(right, (1.0, 0.0), 1, "first"), cuts=[*first, *second])
    )
    assert hatched(g) == pytest.approx(30 * 40)  # half as wide as the block


def test_a_cut_that_misses_says_so() -> None:
    prepared = Prepared(block(60, 40, 30))
    with pytest.raises(ViewError, match="does not meet"):
        section(prepared, [(80, -60), (80, 60)])


@pytest.mark.parametrize("x", [30.0, -30.0])
def test_a_cut_that_runs_along_a_face_says_so(x: float) -> None:
    prepared = Prepared(block(60, 40, 30))
    with pytest.raises(ViewError, match="only touches"):
        section(prepared, [(x, -60), (x, 60)])


def test_a_hatched_round_is_as_large_as_its_face() -> None:
    """Steps of a degree: a circle's area is short by (pi / 360)^2 / 1.5 of itself."""
    bar = part([{"id": "r", "kind": "extrude", "profile": {"diameter": 60}, "depth": 30}])
    assert hatched(section(Prepared(bar), [(-60, 0), (60, 0)])) == pytest.approx(math.pi * 30**2, rel=6e-5)


@given(st.floats(6, 60), st.floats(-0.8, 0.8), st.sampled_from([0.5, 1.0, 5.0]))
@settings(max_examples=10, deadline=None)
def test_strokes_of_hatching_are_chords_of_the_exact_circle(radius: float, off: float, scale: float) -> None:
    """Of a bar with a hole off its middle, at any scale."""
    tube = part(
        [
            {"id": "r", "kind": "extrude", "profile": {"diameter": 2 * radius}, "depth": 30},
            {
                "id": "h",
                "kind": "hole",
                "plane": {"origin": [0, 0, 30]},
                "at": [[off * radius / 2, 0]],
                "diameter": radius / 2,
            },
        ]
    )
    g = section(Prepared(tube), [(-2 * radius, 0), (2 * radius, 0)])
    sheet = Sheet(id="s", size="A3", views=[])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    view = View(id="v", kind="main", orientation=FRONT, position=Point(x=0, y=0))
    strokes = [e for e in hatch_ink(view, g, tube.facts, drawing, scale) if isinstance(e, Line)]
    ends = np.array([[e.a, e.b] for e in strokes]) / scale
    circles = [c.data for c in g.curves if c.kind == "arc" and c.visible]
    assert len(strokes) > 1
    assert {round(d[2] / radius, 6) for d in circles} == {0.25, 1.0}
    errors = [np.abs(np.linalg.norm(ends - np.array(d[:2]), axis=2) - d[2]) for d in circles]
    assert np.min(errors, axis=0).max() < 1e-7


def test_a_cut_square_across_an_inclined_round_is_hatched_up_to_its_ellipse() -> None:
    strokes: list[Element] = [
        Line((-9.9992, 1.0), (9.9991, 1.0), "hatch"),
        Line((0, 0), (4.9999, 0), "hatch"),
    ]
    base = {
        "visible": True,
        "instance": 0,
        "source": "s",
        "role": "edge",
        "feature": "f",
        "edge_class": "cut",
    }
    ellipse = ViewCurve(kind="ellipse", data=[0, 0, 20, 0, 0.25, 0, 2 * math.pi], **base)
    first, second = on_curves(strokes, [ellipse], 0.5)
    half = 10 * math.sqrt(1 - (1 / 2.5) ** 2)  # x2 / 100 + y2 / 6.25 = 1
    assert first == strokes[0]  # its ends are nowhere near
    assert second == strokes[1]
    (moved,) = on_curves([Line((-half + 4e-4, 1.0), (half - 3e-4, 1.0), "hatch")], [ellipse], 0.5)
    assert isinstance(moved, Line)
    assert (moved.a[0], moved.b[0]) == pytest.approx((-half, half), abs=1e-12)


def test_what_the_kernel_cannot_cut_exactly_is_tried_less_exactly_and_then_refused(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """The kernel's plain operations give back bodies uncut whose faces do not quite meet."""
    tried: list[float] = []
    real = cutting._done

    def failing(operation: Any, shape: Any, prism: Any, fuzzy: float) -> Any:
        tried.append(fuzzy)
        if fuzzy < good:
            prism = cutting.Prism(tuple((x + 1e4, y, z) for x, y, z in prism.polygon), prism.sweep)
            if operation is cutting.BRepAlgoAPI_Common:
                return None, []
        return real(operation, shape, prism, fuzzy)

    monkeypatch.setattr(cutting, "_done", failing)
    good = 1e-4
    assert hatched(section(Prepared(block(60, 40, 30)), [(0, -60), (0, 60)])) == pytest.approx(40 * 30)
    assert set(tried) == {0.0, 1e-5, 1e-4}
    good = 1.0
    with pytest.raises(ViewError, match="could not cut"):
        section(Prepared(block(60, 40, 30)), [(0, -60), (0, 60)])


@pytest.mark.parametrize(
    ("points", "form", "says"),
    [
        ([(0, 0), (0, 0)], "straight", "two points that lie apart"),
        ([(0, 0), (10, 0), (15, 5), (25, 5)], "straight", "square steps"),
        ([(0, 0), (10, 0), (10, 5)], "straight", "starts and ends with a leg"),
        ([(0, 0), (10, 0)], "aligned", "at least three points"),
        ([(0, 0), (10, 0), (5, 0)], "aligned", "runs back"),
        ([(0, 0), (10, 0), (10, 10)], "half", "one leg"),
    ],
)
def test_lines_that_make_no_section_are_refused_in_a_sentence(points: Any, form: Any, says: str) -> None:
    with pytest.raises(CommandError, match=says):
        check_line(points, form)


@pytest.mark.parametrize("method", ["first", "third"])
def test_the_viewer_stands_where_the_projection_method_puts_him(method: Any) -> None:
    """ASME Y14.3, ISO 128-3: in third angle the section at the right is seen from the right, in first angle
    from the left."""
    viewer = side_of([(0, -50), (0, 50)], (120, 0), method)
    o = across(FRONT, (0.0, 1.0), viewer, method)
    wanted = PRINCIPAL["right" if method == "third" else "left"]
    assert np.allclose(o.matrix(), wanted.matrix())


@given(st.floats(0, 6.28), st.sampled_from([-1, 1]), st.sampled_from(["first", "third"]))
@settings(deadline=None)
def test_folded_views_keep_their_line_level_and_their_hand(angle: float, viewer: int, method: Any) -> None:
    d = (math.cos(angle), math.sin(angle))
    m = across(FRONT, d, viewer, method).matrix()
    assert np.allclose(m @ m.T, np.eye(3), atol=1e-12)
    along = FRONT.matrix()[:2].T @ np.array(d)
    assert np.allclose(
        m[:2] @ along, d, atol=1e-12
    )  # the line is drawn in the direction it has in the parent


def test_shafts_and_screws_stay_whole_along_their_length_and_are_cut_across_it(winder: Model) -> None:
    """ISO 128-3, ASME Y14.3 (memory)."""
    kinds = {key: solid_kind(p) for key, p in winder.facts.parts.items()}
    assert {kinds[i.part] for i in winder.facts.instances} >= {"shaft", "screw", "nut", "washer", None}
    shaft = next(i for i in winder.facts.instances if kinds[i.part] == "shaft")
    along = np.array(shaft.matrix)[:3, :3] @ main_axis(winder.facts.parts[shaft.part])
    square = np.cross(along, [0.3, 0.5, 0.8])
    assert shaft.path in left_whole(winder.facts, [square / np.linalg.norm(square)])
    assert shaft.path not in left_whole(winder.facts, [along])


def test_parts_left_whole_go_with_the_half_that_is_taken_away() -> None:
    """The assembly of the gmsh wheel's examples, cut upright beside its rod, from both sides: bolts and nuts
    that lie wholly before the cut are not shown, and no hatching lies under what stands there."""
    model = read_model(GMSH / "as1-tu-203.stp", "as1")
    prepared = Prepared(model)
    for viewer in (1, -1):
        for at in (-25.0, 10.0, 40.0):
            points = [Point(x=at, y=-200), Point(x=at, y=200)]
            view = View(
                id="s",
                kind="section",
                orientation=across(FRONT, (0.0, 1.0), viewer, "first"),
                position=Point(x=0, y=0),
                section=Section(line=CuttingLine(points=points, viewer=viewer, base=FRONT)),  # type: ignore[arg-type]
            )
            what = derivation_of(view, model.facts)
            g = derive(prepared, what)
            toward = np.array(what.orientation.toward)
            plane = (prepared.middle + np.array(FRONT.right) * at) @ toward
            shown = {g.instances[c.instance] for c in g.curves}
            before = set()
            for i in model.facts.instances:
                part = prepared.faceted[i.part]
                m = np.array(i.matrix)
                if ((part.nodes @ m[:3, :3].T + m[:3, 3]) @ toward).min() > plane - 1e-3:
                    before.add(i.path)
            assert not shown & before


def test_a_rod_of_free_surfaces_is_left_whole_only_along_its_length() -> None:
    for body in (rod(5, 60), rod(9, 2)):  # a rod, and a washer's blank
        facts = part_facts(stretched(body, 1.002), "Tie rod")
        assert {f.kind for f in facts.faces} == {"other", "plane"}
        axis = main_axis(facts)
        assert axis is not None
        assert np.abs(axis) == pytest.approx([0, 0, 1])
    lump = part_facts(stretched(rounded(box(40, 30, 20), 6), 1.002, 1.004), "Key")
    assert main_axis(lump) is None
    model = block(60, 40, 30)
    known = Facts.model_validate(
        {
            **model.facts.model_dump(),
            "parts": {"k": lump},
            "instances": [
                {"path": p, "name": p, "part": "k", "matrix": np.eye(4).tolist()} for p in ("a", "b")
            ],
        }
    )
    assert left_whole(known, [np.array([1.0, 0, 0])]) == []


def test_the_winder_cut_through_its_shaft(winder: Model) -> None:
    prepared = Prepared(winder)
    x = -float(prepared.middle[0])
    points = [Point(x=x, y=-200), Point(x=x, y=200)]
    view = View(
        id="s",
        kind="section",
        orientation=across(FRONT, (0.0, 1.0), 1, "first"),
        position=Point(x=0, y=0),
        section=Section(line=CuttingLine(points=points, viewer=1, base=FRONT)),
    )
    what = derivation_of(view, winder.facts)
    g = derive(prepared, what)
    cut = {g.instances[f.instance] for f in g.cut_faces}
    assert {"block-1", "block-2"} <= cut
    assert not cut & set(what.whole)
    bearing = shapely.union_all([region_of(f) for f in g.cut_faces if g.instances[f.instance] == "block-1"])
    assert (
        bearing.area < 50 * 98 - 40 * 50
    )  # the shaft and the bush stand in the block's bore, and hatching keeps off them
    view.section = Section(line=view.section.line, cut=["shaft"]) if view.section else None
    g = derive(prepared, derivation_of(view, winder.facts))
    assert "shaft" in {g.instances[f.instance] for f in g.cut_faces}
    view.without = ["block-1"]
    g = derive(prepared, derivation_of(view, winder.facts))
    assert "block-1" not in {g.instances[c.instance] for c in g.curves}


def test_sizes_on_cut_edges_read_true() -> None:
    """The bearing block's bore is 40 in its recipe; cut through its axis, both its cut edges are 40 apart."""
    model = demo("HB-204")
    points = [Point(x=0, y=-60), Point(x=0, y=60)]
    view = View(
        id="s",
        kind="section",
        orientation=across(FRONT, (0.0, 1.0), 1, "first"),
        position=Point(x=0, y=0),
        section=Section(line=CuttingLine(points=points, viewer=1, base=FRONT)),
    )
    g = derive(Prepared(model), derivation_of(view, model.facts))
    frame = ViewFrame.of(view, model.facts)
    wide: dict[str, float] = {}
    for source in {c.source for c in g.curves if c.role == "cut" and c.kind == "line"}:
        picks = [Pick(instance="part", source=source, role="cut", side=s) for s in (-1, 1)]
        try:
            wide[source] = distances.distance(picks, "aligned", seen_in(facts=model.facts, frame=frame)).value
        except SizeError:
            continue
    assert any(v == pytest.approx(40) for v in wide.values())
    for c in g.curves:  # the line a pick stands for is the line that is drawn
        if c.role == "cut" and c.kind == "line" and c.visible:
            a, b = np.array(c.data[:2]), np.array(c.data[2:])
            pick = measure.pick_side(
                Pick(instance="part", source=c.source, role="cut"),
                tuple((a + b) / 2),
                seen_in(facts=model.facts, frame=frame),
            )
            try:
                line = measure.resolve(pick, seen_in(facts=model.facts, frame=frame))
            except SizeError:
                continue
            assert isinstance(line, Straight)
            p, q = frame.flat(line.a), frame.flat(line.b)
            u = (q - p) / np.linalg.norm(q - p)
            assert max(abs(np.cross(u, a - p)), abs(np.cross(u, b - p))) < 1e-5, c.source
