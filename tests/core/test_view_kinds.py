"""Every kind of view as commands: where it stands, what it shows, what it is called; hatching, breaks,
arranging."""

import math
from typing import Any

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from drafting.annotation.measuring import distances
from drafting.commands import AnyCommand, execute, patched
from drafting.compose import compose
from drafting.document import Drawing, Pick, Point, Sheet, View, view_scale
from drafting.errors import CommandError
from drafting.ink.dashes import fitted_dashes, length
from drafting.ink.elements import Arc, Fill, Image, Line, Text
from drafting.ink.hatch import hatched, spread_angles, strokes
from drafting.model.model import Facts
from drafting.sheet import layout
from drafting.standards import patterns
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.scales import Scale
from drafting.views import arrange
from drafting.views.clip import clipped, clipped_circle
from drafting.views.derive import Prepared, derive
from drafting.views.extents import model_box, view_box
from drafting.views.family import derivation_of, next_letter
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewCurve, ViewGeometry
from drafting.views.geometry import length as curve_length
from drafting.views.interrupted import Warp, break_lines
from drafting.views.marks import label_lines
from drafting.views.orientation import PRINCIPAL, isometric
from drafting.views.present import presented
from drafting.views.regions import region_at, regions
from drafting.views.view import Interruption
from tests.core.conftest import block, demo
from tests.core.contexts import seen_in

COMMANDS: TypeAdapter[Any] = TypeAdapter(AnyCommand)
FRONT = PRINCIPAL["front"].model_dump()


class Office:
    """A drawing of a model, edited by commands as the server does."""

    def __init__(self, prepared: Prepared, profile: Profile = ISO_MM, size: str = "A2") -> None:
        self.prepared, self.facts = prepared, prepared.model.facts
        self.drawing = Drawing(
            name="x",
            profile=profile,
            projection=profile.projection,
            sheets=[Sheet(id="s", name="1", size=size)],
        )
        self.undo: list[Any] = []

    def do(self, command: str, **data: Any) -> "Office":
        before = self.drawing
        self.drawing, _, inverse = execute(
            self.drawing, COMMANDS.validate_python({"command": command, **data}), self.facts
        )
        assert patched(self.drawing, inverse) == before  # every command can be taken back whole
        return self

    def main(self, x: float = 200, y: float = 250, **more: Any) -> "Office":
        return self.do(
            "place_main_view", id="front", sheet="s", orientation=FRONT, position={"x": x, "y": y}, **more
        )

    def view(self, view_id: str) -> View:
        return next(v for v in self.drawing.views() if v.id == view_id)

    def sheet(self, view_id: str) -> Sheet:
        found = self.drawing.sheet_of_view(view_id)
        assert found
        return found

    def shows(self, view_id: str) -> ViewGeometry:
        view = self.view(view_id)
        return presented(
            view, self.sheet(view_id), self.facts, derive(self.prepared, derivation_of(view, self.facts))
        )

    def ink(self, number: int = 0) -> Any:
        sheet = self.drawing.sheets[number]
        found = {v.id: derive(self.prepared, derivation_of(v, self.facts)) for v in sheet.views}
        return compose(self.drawing, sheet, self.facts, found)


@pytest.fixture(scope="module")
def bracket() -> Prepared:
    return Prepared(demo("HB-206"))


@pytest.fixture(scope="module")
def bearing_block() -> Prepared:
    return Prepared(demo("HB-204"))


def edge_points(prepared: Prepared, source: str) -> list[dict[str, float]]:
    """Both ends of a named edge in the front view."""
    edge = next(e for e in prepared.model.facts.parts["part"].edges if e.name == source)
    rows = PRINCIPAL["front"].matrix()[:2]
    return [
        {"x": float(p[0]), "y": float(p[1])}
        for p in ((np.array(v) - prepared.middle) @ rows.T for v in (edge.start, edge.end))
    ]


# ---- placing -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize("profile", [ISO_MM, ASME_INCH])
def test_a_standard_set_stands_by_the_projection_method_without_overlap(
    bearing_block: Prepared, profile: Profile
) -> None:
    """ISO 5456-2, ASME Y14.3: the right-side view stands at the left in first angle and at the right in
    third."""
    office = Office(bearing_block, profile, "A3" if profile.standard == "ISO" else "C")
    office.do(
        "place_standard_set",
        sheet="s",
        orientation=FRONT,
        members=["right", "above", "left", "rear", "below-right"],
        position={"x": 210, "y": 170},
    )
    views = {
        v.relation: v
        for v in office.drawing.views()
        if v.relation and v.parent == office.drawing.views()[0].id
    }
    front = office.drawing.views()[0]
    assert views["right"].position.y == front.position.y
    assert views["above"].position.x == front.position.x
    side = PRINCIPAL["left" if profile.projection == "first" else "right"]
    assert np.allclose(views["right"].orientation.matrix(), side.matrix())
    rear = next(v for v in office.drawing.views() if v.parent == views["right"].id)
    assert np.allclose(np.abs(rear.orientation.toward), [0, 1, 0])
    boxes = [arrange.placed_box(v, office.drawing.sheets[0], office.facts) for v in office.drawing.views()]
    for i, p in enumerate(boxes):
        for q in boxes[i + 1 :]:
            assert not (p[0] < q[2] and q[0] < p[2] and p[1] < q[3] and q[1] < p[3])
    assert office.drawing.sheets[0].scale.factor in {
        s.factor for s in (Scale(), Scale(true=2), Scale(drawn=2), Scale(true=4), Scale(true=5))
    }


def test_an_auxiliary_view_shows_the_slanting_face_in_its_true_shape(bracket: Prepared) -> None:
    """The guide's hole is 22 in the recipe: an ellipse in every principal view, a circle square to its
    face."""
    a, b = edge_points(bracket, "arm/side.inner|plate/side.bottom")
    office = (
        Office(bracket)
        .main()
        .do(
            "place_auxiliary_view",
            id="aux",
            parent="front",
            a=a,
            b=b,
            position={"x": 320, "y": 180},
            only_face=True,
        )
    )
    shown = office.shows("aux").curves
    circles = [c for c in shown if c.kind == "arc"]
    assert [2 * c.data[2] for c in circles] == [pytest.approx(22)]
    assert all(c.role == "edge" for c in shown)
    face = next(f for f in office.facts.parts["part"].faces if f.name == office.view("aux").auxiliary.face)  # type: ignore[union-attr]
    edges = [e for e in office.facts.parts["part"].edges if face.name in e.faces and e.kind == "line"]
    outline = sum(curve_length(c) for c in shown if c.kind == "line")
    assert outline == pytest.approx(sum(e.length for e in edges), rel=1e-6)
    view = office.view("aux")
    assert view.fold is not None
    away = np.array([view.position.x - 200, view.position.y - 250])
    assert (
        abs(float(away @ [view.fold.x, view.fold.y])) < 1e-6
    )  # square to the edge, from the parent's middle
    office.do("change_auxiliary", view="aux", only_face=False)
    assert len(office.shows("aux").curves) > len(shown)


def test_a_section_flips_with_the_side_it_is_moved_to(bearing_block: Prepared) -> None:
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    office = (
        Office(bearing_block)
        .main()
        .do("place_section", id="cut", parent="front", points=line, position={"x": 330, "y": 255})
    )
    assert office.view("cut").position == Point(x=330, y=250)  # level with its parent
    assert np.allclose(
        office.view("cut").orientation.matrix(), PRINCIPAL["left"].matrix()
    )  # first angle, at the right
    office.do("move_view", view="cut", position={"x": 80, "y": 240})
    assert np.allclose(office.view("cut").orientation.matrix(), PRINCIPAL["right"].matrix())
    office.do("change_view", view="cut", free=True).do("move_view", view="cut", position={"x": 390, "y": 100})
    assert office.view("cut").position == Point(x=390, y=100)
    assert np.allclose(
        office.view("cut").orientation.matrix(), PRINCIPAL["right"].matrix()
    )  # freed, it keeps what it shows
    office.do("switch_projection", projection="third")
    assert np.allclose(office.view("cut").orientation.matrix(), PRINCIPAL["right"].matrix())
    office.do("change_view", view="cut", free=False)
    assert office.view("cut").position.y == office.view("front").position.y
    office.do("move_view", view="front", position={"x": 190, "y": 180})
    assert office.view("cut").position.y == 180


def test_a_pictorial_view_of_a_section_is_cut_too_and_shows_its_steps(bearing_block: Prepared) -> None:
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    office = (
        Office(bearing_block)
        .main()
        .do("place_section", id="cut", parent="front", points=line, position={"x": 330, "y": 250})
    )
    office.do(
        "place_projected_view",
        id="picture",
        parent="cut",
        relation="below-right",
        position={"x": 430, "y": 130},
    )
    assert office.shows("picture").cut_faces
    line[0]["x"] = line[1]["x"] = 55
    office.do("change_section", view="cut", points=line)
    assert office.view("picture").section == office.view("cut").section


def test_letters_go_on_in_order_without_those_the_standard_avoids(bearing_block: Prepared) -> None:
    office = Office(bearing_block).main()
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    for k in range(9):
        office.do("place_section", id=f"s{k}", parent="front", points=line, position={"x": 300 + k, "y": 250})
    assert (
        "".join(office.view(f"s{k}").letter for k in range(9)) == "ABCDEFGHJ"
    )  # no I (ISO 5457, common practice)
    office.do("remove", ids=["s2"])
    assert next_letter(office.drawing) == "C"
    with pytest.raises(CommandError, match="taken by another view"):
        office.do("change_view", view="s3", letter="A")
    assert (
        next_letter(
            Drawing(name="x", profile=ASME_INCH, projection="third", sheets=[Sheet(id="s", size="B")])
        )
        == "A"
    )


HERE = {"x": 0, "y": 0}
AWAY = {"x": 300, "y": 0}
AT = {"position": {"x": 1, "y": 1}}
CROSSED = [HERE, {"x": 9, "y": 9}, {"x": 9, "y": 0}, {"x": 0, "y": 9}]


@pytest.mark.parametrize(
    ("command", "says"),
    [
        (
            {"command": "place_section", "parent": "front", "points": [AWAY, {"x": 300, "y": 9}], **AT},
            "misses the part",
        ),
        (
            {
                "command": "place_detail",
                "parent": "front",
                **AT,
                "outline": {"shape": "circle", "center": AWAY},
            },
            "nothing of the part",
        ),
        (
            {"command": "place_projected_view", "parent": "picture", "relation": "right", **AT},
            "projected from a pictorial view",
        ),
        ({"command": "break_out", "view": "front", "outline": CROSSED, "depth": 0}, "cross itself"),
        (
            {"command": "interrupt_view", "view": "front", "a": {"x": -500, "y": 0}, "b": HERE},
            "within the part",
        ),
        (
            {"command": "interrupt_view", "view": "front", "a": HERE, "b": {"x": 1, "y": 0}},
            "shorter than the gap",
        ),
        ({"command": "change_view", "view": "front", "distance": 500}, "Perspective is for pictorial"),
        (
            {"command": "hatch_region", "view": "front", "hatch": {"at": HERE, "pattern": "tartan"}},
            "no hatch pattern",
        ),
        ({"command": "move_to_sheet", "view": "front", "sheet": "s"}, "on that sheet already"),
        ({"command": "change_auxiliary", "view": "front", "only_face": True}, "not an auxiliary"),
        ({"command": "bring_patterns", "text": "nonsense"}, "no pattern file"),
    ],
)
def test_what_cannot_be_done_is_refused_in_a_sentence(
    bearing_block: Prepared, command: dict[str, Any], says: str
) -> None:
    iso = isometric(PRINCIPAL["front"]).model_dump()
    office = Office(bearing_block).main()
    office.do(
        "place_main_view",
        id="picture",
        sheet="s",
        orientation=iso,
        position={"x": 450, "y": 100},
        pictorial=True,
    )
    with pytest.raises(CommandError, match=says):
        office.do(**command)


# ---- details and breaks ------------------------------------------------------------------------------------


@given(st.floats(-40, 40), st.floats(-30, 30), st.floats(2, 40))
@settings(max_examples=40, deadline=None)
def test_clipping_to_a_circle_keeps_exactly_what_is_inside(x: float, y: float, radius: float) -> None:
    """A chord of a line, and the arc of a circle inside a circle, by geometry."""
    line = ViewCurve(
        kind="line",
        data=[-100, 0, 100, 0],
        edge_class="sharp",
        visible=True,
        instance=0,
        source="",
        role="edge",
        feature="",
    )
    chord = 2 * math.sqrt(radius**2 - y**2) if abs(y) < radius else 0.0
    kept = [c for c in clipped_circle([line], (x, y), radius) if curve_length(c) > 1e-6]
    assert sum(curve_length(c) for c in kept) == pytest.approx(chord, abs=1e-5)
    ring = line.model_copy(update={"kind": "arc", "data": [0.0, 0.0, 25.0, 0.0, 2 * math.pi]})
    inside = sum(curve_length(c) for c in clipped_circle([ring], (x, y), radius))
    d = math.hypot(x, y)
    if d < 1e-6 or d + radius <= 25 or abs(radius - 25) >= d:
        wanted = 2 * math.pi * 25 if radius > 25 + d else 0.0
    else:
        wanted = 2 * 25 * math.acos(max(-1.0, min(1.0, (d * d + 625 - radius * radius) / (2 * d * 25))))
    assert inside == pytest.approx(wanted, abs=1e-3)


def test_clipping_to_a_polygon_cuts_ellipses_and_free_curves_at_its_sides() -> None:
    base = {
        "edge_class": "sharp",
        "visible": True,
        "instance": 0,
        "source": "",
        "role": "edge",
        "feature": "",
    }
    ellipse = ViewCurve.model_validate(
        {**base, "kind": "ellipse", "data": [0, 0, 20, 0, 0.5, 0, 2 * math.pi]}
    )
    free = ViewCurve.model_validate({**base, "kind": "polyline", "data": [-30, -5, 0, -4, 30, -5]})
    kept = clipped([ellipse, free], [(0, -30), (30, -30), (30, 30), (0, 30)])
    assert {c.kind for c in kept} == {"ellipse", "polyline"}
    assert sum(curve_length(c) for c in kept if c.kind == "ellipse") == pytest.approx(
        curve_length(ellipse) / 2, rel=1e-4
    )
    assert [c.data[0] for c in kept if c.kind == "polyline"] == [pytest.approx(0)]


def test_sizes_in_a_detail_read_true_and_stand_in_it(bearing_block: Prepared) -> None:
    outline = {"shape": "rectangle", "center": {"x": 0, "y": 11}, "width": 70, "height": 70}
    office = (
        Office(bearing_block)
        .main()
        .do(
            "place_detail",
            id="d",
            parent="front",
            outline=outline,
            position={"x": 420, "y": 200},
            scale={"drawn": 2, "true": 1},
        )
    )
    view = office.view("d")
    shown = office.shows("d")
    assert max(abs(v) for v in (*shown.low, *shown.high)) == pytest.approx(
        35
    )  # clipped at the outline, about its middle
    bore = next(
        c for c in shown.curves if c.kind == "arc" and c.visible and 2 * c.data[2] == pytest.approx(40)
    )
    frame = ViewFrame.of(view, office.facts, 2.0)
    pick = Pick(instance="part", source=bore.source)
    assert 2 * distances.circle(pick, seen_in(facts=office.facts, frame=frame)).radius == pytest.approx(40)
    assert frame.flat(
        distances.circle(pick, seen_in(facts=office.facts, frame=frame)).center
    ) == pytest.approx([0, 0])  # at the outline's middle
    office.do(
        "change_detail",
        view="d",
        outline={**outline, "shape": "circle", "radius": 30, "center": {"x": 10, "y": 11}},
    )
    assert office.shows("d").high[0] <= 30 + 1e-6
    office.do("change_view", view="front", turned=30)
    assert office.view("d").turned == 30


@given(
    st.lists(st.tuples(st.floats(-90, 90), st.floats(1, 40)), min_size=1, max_size=4), st.floats(-100, 100)
)
@settings(deadline=None)
def test_breaks_draw_together_and_back_again(pieces: list[tuple[float, float]], at: float) -> None:
    view = View(
        id="v",
        kind="main",
        orientation=PRINCIPAL["front"],
        position=Point(x=0, y=0),
        interruptions=[Interruption(first=a, last=a + n, gap=2) for a, n in pieces],
    )
    warp = Warp.of(view, 2.0)
    assert warp.back(warp.point((at, 3.0))) == pytest.approx((at, 3.0), abs=1e-6)
    order = [warp.point((x, 0.0))[0] for x in np.linspace(-150, 150, 61).tolist()]
    assert all(b > a for a, b in zip(order, order[1:], strict=False))


def test_sizes_across_a_break_read_true(bracket: Prepared) -> None:
    office = Office(bracket).main()
    whole = office.shows("front")
    office.do("interrupt_view", view="front", a={"x": -15, "y": 0}, b={"x": 10, "y": 0}, line="zigzag")
    shown = office.shows("front")
    assert shown.high[0] - shown.low[0] == pytest.approx(whole.high[0] - whole.low[0] - 25 + 4)
    edges = {e.name: e for e in office.facts.parts["part"].edges}
    picks = [
        Pick(instance="part", source=s) for s in ("plate/end|plate/side.left", "arm/side.outer|arm/side.tip")
    ]
    true = abs(edges[picks[0].source].start[0] - edges[picks[1].source].start[0])
    found = distances.distance(
        picks,
        "horizontal",
        seen_in(facts=office.facts, frame=ViewFrame.of(office.view("front"), office.facts)),
    )
    assert found.value == pytest.approx(true)
    frame = ViewFrame.of(office.view("front"), office.facts)
    assert abs(float(frame.drawn(found.second[0])[0] - frame.drawn(found.first[0])[0])) == pytest.approx(
        true - 25 + 4
    )
    lines = [e for g in office.ink().ink.groups for e in g.elements if getattr(e, "line", "") == "break"]
    assert len(lines) == 2


@pytest.mark.parametrize(("line", "count"), [("freehand", 2), ("zigzag", 2), ("round", 4), ("tube", 6)])
def test_break_lines_by_kind_span_the_part(line: Any, count: int) -> None:
    """ISO 128-3, ASME Y14.3 (memory): a round bar's ends show a leaf each, a tube's one with its bore in
    it."""
    drawn = break_lines(Interruption(first=10, last=60, line=line, gap=4), -10.0, 10.0, 1.0)
    assert len(drawn) == count
    for points in drawn[:2]:
        ys = [y for _, y in points]
        assert min(ys) <= -10 + 1e-9
        assert max(ys) >= 10 - 1e-9
    assert all(5 < x < 19 for points in drawn for x, _ in points)


# ---- one edge, hatching, regions ---------------------------------------------------------------------------


def test_one_edge_or_a_part_of_it_is_hidden_and_drawn_again(bracket: Prepared) -> None:
    office = Office(bracket).main()
    edge = next(c for c in office.shows("front").curves if c.kind == "line" and c.visible)
    change = {"instance": "part", "source": edge.source, "line": "none", "role": edge.role}

    def visible() -> float:
        return sum(
            length(e)
            for g in office.ink().ink.groups
            if g.kind == "view"
            for e in g.elements
            if isinstance(e, Line) and e.line == "visible"
        )

    before = visible()
    office.do("change_line", view="front", change={**change, "first": 0.25, "last": 0.75})
    assert visible() == pytest.approx(before - curve_length(edge) / 2)
    office.do("change_line", view="front", change=change)
    assert visible() == pytest.approx(before - curve_length(edge))
    office.do("change_line", view="front", change=change, restore=True)
    assert visible() == pytest.approx(before)


def test_regions_of_a_view_are_its_closed_faces() -> None:
    """A plate with a hole seen true has two closed faces: the plate about the hole, and the hole."""
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "diameter": 20}
    g = derive(Prepared(block(60, 40, 10, hole)), PRINCIPAL["top"])
    areas = sorted(p.area for p in regions(g.curves, size=60))
    assert areas == [pytest.approx(math.pi * 100, rel=1e-2), pytest.approx(2400 - math.pi * 100, rel=1e-2)]
    assert region_at(g.curves, (1, 1), size=60).area == pytest.approx(math.pi * 100, rel=1e-2)
    with pytest.raises(CommandError, match="No lines close"):
        region_at(g.curves, (100, 0), size=60)


@given(st.floats(5, 60), st.floats(5, 60), st.sampled_from([1.0, 0.5, 2.0]), st.floats(-90, 90))
@settings(max_examples=30, deadline=None)
def test_hatching_fills_a_region_evenly(width: float, height: float, spacing: float, angle: float) -> None:
    """Parallel lines a step apart cover an area of their length times the step."""
    region = shapely.box(0, 0, width, height)
    lines = hatched(region, patterns.BUILT_IN["general"], angle, spacing)
    step = 3.0 * spacing
    total = sum(length(e) for e in lines if isinstance(e, Line))
    assert total * step == pytest.approx(width * height, abs=step * 1.5 * (width + height))
    assert all(
        region.buffer(1e-6).covers(shapely.LineString([e.a, e.b])) for e in lines if isinstance(e, Line)
    )


@given(st.sampled_from(list(patterns.BUILT_IN)), st.floats(40, 300), st.floats(40, 300), st.floats(0.5, 3))
@settings(max_examples=40)
def test_strokes_are_counted_about_right_before_they_are_drawn(
    pattern: str, width: float, height: float, spacing: float
) -> None:
    region = shapely.box(0, 0, width, height)
    counted = strokes(region, patterns.BUILT_IN[pattern], spacing)
    drawn = len(hatched(region, patterns.BUILT_IN[pattern], 0.0, spacing))
    assert 0.3 * counted - 20 <= drawn <= 1.5 * counted + 60


def test_a_web_left_whole_is_not_hatched_and_shows_its_sides() -> None:
    """ISO 128-3, ASME Y14.3 (memory): ribs and webs are not sectioned along their length; they are bounded by
    visible lines."""
    prepared = Prepared(block(60, 20, 40))
    office = (
        Office(prepared)
        .main()
        .do(
            "place_section",
            id="cut",
            parent="front",
            points=[{"x": 0, "y": -60}, {"x": 0, "y": 60}],
            position={"x": 330, "y": 250},
        )
    )

    def drawn(kind: str) -> float:
        group = next(g for g in office.ink().ink.groups if g.id == "cut")
        return sum(
            length(e) for e in group.elements if not isinstance(e, Text | Image | Fill) and e.line == kind
        )

    hatch, visible = drawn("hatch"), drawn("visible")
    upper = [{"x": -10, "y": 0}, {"x": 10, "y": 0}, {"x": 10, "y": 20}, {"x": -10, "y": 20}]
    office.do("leave_whole", view="cut", id="w", outline=upper)
    assert drawn("hatch") == pytest.approx(hatch / 2, rel=0.1)
    assert drawn("visible") == pytest.approx(visible + 20, abs=0.2)  # the one side that lies inside the cut
    office.do("cut_again", view="cut", id="w")
    assert drawn("hatch") == pytest.approx(hatch)
    with pytest.raises(CommandError, match="Nothing is cut"):
        office.do("leave_whole", view="front", outline=upper)


def test_touching_parts_are_hatched_differently() -> None:
    boxes = [shapely.box(10 * i, 10 * j, 10 * i + 10, 10 * j + 10) for i in range(3) for j in range(2)]
    looks = spread_angles(boxes)
    for i, a in enumerate(boxes):
        for j in range(i + 1, len(boxes)):
            if a.intersection(boxes[j]).length > 1:
                assert looks[i] != looks[j]


def test_patterns_by_material_and_from_a_file() -> None:
    assert patterns.for_material("ASME", "steel C45") == "steel"
    assert patterns.for_material("ASME", "bronze CuSn12") == "copper alloy"
    assert (
        patterns.for_material("ISO", "steel C45") == "general"
    )  # one pattern for all metals unless it must be told (ISO 128-3)
    assert patterns.for_material("ISO", "oak") == "wood"
    own = patterns.read("; brick\n*BRICK, running bond\n0, 0,0, 0,6\n90, 0,0, 6,6, 6,-6\n")
    families = patterns.families("BRICK", own)
    assert [f.angle for f in families] == [0, 90]
    upright = [e for e in hatched(shapely.box(0, 0, 24, 24), families[1:]) if isinstance(e, Line)]
    assert {round(abs(e.b[1] - e.a[1]), 6) for e in upright} == {6}
    for text, says in (
        ("*X\n45, 0,0, 0,0", "not zero"),
        ("*X\nfoo", "not a list of numbers"),
        ("45,0,0,0,1", "star|start"),
        ("*X\n45,0,0,0,inf", "not zero"),
    ):
        with pytest.raises(CommandError, match=says):
            patterns.read(text)


def test_hatching_keeps_off_the_numbers_of_sizes(bearing_block: Prepared) -> None:
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    office = (
        Office(bearing_block)
        .main()
        .do("place_section", id="cut", parent="front", points=line, position={"x": 330, "y": 250})
    )
    low = office.shows("cut").low[1]
    edge = next(
        e.name
        for e in office.facts.parts["part"].edges
        if e.kind == "line" and abs(e.start[1] - e.end[1]) > 40
    )
    size = {
        "id": "z",
        "kind": "linear",
        "view": "cut",
        "picks": [{"instance": "part", "source": edge}],
        "direction": "horizontal",
        "place": {"model": {"x": 0, "y": low + 20}, "paper": {"x": 0, "y": 0}},
    }
    office.do("place", annotations=[size])
    groups = {g.id: g for g in office.ink().ink.groups}
    number = next(e for e in groups["z"].elements if isinstance(e, Text))
    box = shapely.box(number.at[0] - 3, number.at[1], number.at[0] + 3, number.at[1] + number.height)
    hatch = [
        shapely.LineString([e.a, e.b])
        for e in groups["cut"].elements
        if isinstance(e, Line) and e.line == "hatch"
    ]
    assert len(hatch) > 10
    assert not any(box.intersects(h) for h in hatch)


# ---- labels, dashes, sheets --------------------------------------------------------------------------------


def test_labels_by_standard_and_in_the_drafters_words(bearing_block: Prepared) -> None:
    """ISO 128-3: A-A; ASME Y14.3: SECTION A-A, and SCALE where it differs (memory)."""
    for profile, wanted, own in (
        (ISO_MM, ["A-A (2:1)"], ["Through the bore", "(2:1)"]),
        (ASME_INCH, ["SECTION A-A", "SCALE 2:1"], ["Through the bore", "SCALE 2:1"]),
    ):
        office = Office(bearing_block, profile, "A2" if profile is ISO_MM else "D").main()
        line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
        office.do("place_section", id="cut", parent="front", points=line, position={"x": 330, "y": 250})
        assert label_lines(office.drawing, office.sheet("cut"), office.view("cut")) == [
            wanted[0].split(" (")[0]
        ]
        office.do("change_view", view="cut", scale={"drawn": 2, "true": 1})
        assert label_lines(office.drawing, office.sheet("cut"), office.view("cut")) == wanted
        office.do("change_view", view="cut", label={"text": "Through the bore"})
        assert label_lines(office.drawing, office.sheet("cut"), office.view("cut")) == own
        office.do("change_view", view="cut", label={"shown": False})
        assert label_lines(office.drawing, office.sheet("cut"), office.view("cut")) == []


@given(st.floats(0.2, 300), st.sampled_from(["hidden", "center", "phantom"]))
@settings(deadline=None)
def test_dashed_lines_start_and_end_on_a_dash(size: float, kind: str) -> None:
    """ISO 128-2, ASME Y14.2: corners of hidden lines are closed by dashes."""
    dashes = fitted_dashes(Line((0, 0), (size, 0), kind), ISO_MM.line(kind).dashes)
    if not dashes:
        assert size < ISO_MM.line(kind).dashes[0]
        return
    repeats = (size - dashes[0]) / sum(dashes)
    assert repeats == pytest.approx(round(repeats), abs=1e-6)
    ring = fitted_dashes(Arc((0, 0), size, 0, 2 * math.pi, kind), ISO_MM.line(kind).dashes)
    if ring:
        assert 2 * math.pi * size / sum(ring) == pytest.approx(
            round(2 * math.pi * size / sum(ring)), abs=1e-6
        )


def test_a_view_moves_to_another_sheet_with_its_sizes_and_its_mark_stays_behind(
    bearing_block: Prepared,
) -> None:
    line = [{"x": 0, "y": -60}, {"x": 0, "y": 60}]
    office = (
        Office(bearing_block)
        .main()
        .do("place_section", id="cut", parent="front", points=line, position={"x": 330, "y": 250})
        .do("add_sheet", id="t")
    )
    edge = next(
        e.name
        for e in office.facts.parts["part"].edges
        if e.kind == "line" and abs(e.start[1] - e.end[1]) > 40
    )
    place = {"model": {"x": 0, "y": -40}, "paper": {"x": 0, "y": -10}}
    office.do(
        "place",
        annotations=[
            {
                "id": "z",
                "kind": "linear",
                "view": "cut",
                "picks": [{"instance": "part", "source": edge}],
                "place": place,
            }
        ],
    )
    office.do("move_to_sheet", view="cut", sheet="t", position={"x": 150, "y": 200})
    first, second = office.drawing.sheets
    assert ([v.id for v in first.views], [v.id for v in second.views]) == (["front"], ["cut"])
    assert [a.id for a in second.annotations] == ["z"]
    assert any(isinstance(e, Text) and e.text == "A" for g in office.ink(0).ink.groups for e in g.elements)
    assert any(isinstance(e, Text) and e.text == "A-A" for g in office.ink(1).ink.groups for e in g.elements)


@given(
    st.lists(st.sampled_from(["right", "left", "above", "below"]), unique=True, min_size=1),
    st.sampled_from(["A4", "A3", "A2"]),
)
@settings(max_examples=15, deadline=None)
def test_an_arranged_sheet_has_no_overlap_and_keeps_the_projection(
    bearing_block: Prepared, members: list[str], size: str
) -> None:
    office = Office(bearing_block, size=size)
    office.do("place_main_view", id="front", sheet="s", orientation=FRONT, position={"x": 50, "y": 50})
    for m in members:
        office.do("place_projected_view", id=m, parent="front", relation=m, position={"x": 60, "y": 60})
    office.do("arrange_sheet", sheet="s")
    sheet = office.drawing.sheets[0]
    boxes = {v.id: arrange.placed_box(v, sheet, office.facts) for v in sheet.views}
    block = layout.block_box(sheet)
    assert arrange.overlaps(sheet, boxes, {"block": (block.left, block.bottom, block.right, block.top)}) == []
    step = {"right": (1, 0), "left": (-1, 0), "above": (0, 1), "below": (0, -1)}
    front = office.view("front").position
    for m in members:
        p = office.view(m).position
        assert (np.sign(round(p.x - front.x, 6)), np.sign(round(p.y - front.y, 6))) == step[m]


def test_shaded_pictures_lie_behind_the_edges_in_their_true_place(bearing_block: Prepared) -> None:
    iso = isometric(PRINCIPAL["front"]).model_dump()
    office = Office(bearing_block).do(
        "place_main_view", id="p", sheet="s", orientation=iso, position={"x": 200, "y": 200}, pictorial=True
    )
    office.do("change_view", view="p", shading="shaded_edges")
    group = next(g for g in office.ink().ink.groups if g.id == "p")
    picture = group.elements[0]
    assert isinstance(picture, Image)
    left, bottom, right, top = view_box(office.view("p"), office.drawing.sheets[0], office.facts)
    assert picture.at[0] >= left - 1e-6
    assert picture.at[1] >= bottom - 1e-6
    assert picture.at[0] + picture.width <= right + 1e-6
    assert picture.at[1] + picture.height <= top + 1e-6
    assert any(isinstance(e, Line) for e in group.elements)
    import io

    from PIL import Image as Pictures

    pixels = np.array(Pictures.open(io.BytesIO(picture.png)))
    rows = np.flatnonzero(pixels[:, :, 3].max(1) > 128)
    columns = np.flatnonzero(pixels[:, :, 3].max(0) > 128)
    assert (rows[0], columns[0]) <= (2, 2)  # it fills its frame: the picture and the lines are of one size
    assert pixels.shape[0] - rows[-1] <= 3
    assert pixels.shape[1] - columns[-1] <= 3


def test_boxes_told_without_deriving_hold_what_is_derived(bearing_block: Prepared, winder: Any) -> None:
    for prepared in (bearing_block, Prepared(winder)):
        facts: Facts = prepared.model.facts
        for o in (PRINCIPAL["front"], PRINCIPAL["top"], isometric(PRINCIPAL["front"])):
            left, bottom, right, top = model_box(facts, o)
            g = derive(prepared, o)
            assert left <= g.low[0] + 0.02
            assert bottom <= g.low[1] + 0.02
            assert right >= g.high[0] - 0.02
            assert top >= g.high[1] - 0.02


def test_the_scale_of_a_view_is_its_own_or_the_sheets() -> None:
    sheet = Sheet(id="s", size="A3", scale=Scale(true=5))
    view = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=0, y=0))
    assert view_scale(sheet, view).factor == 0.2
    view.scale = Scale(drawn=2)
    assert view_scale(sheet, view).factor == 2
