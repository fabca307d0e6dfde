"""Centers: what a view lacks, how they are drawn, and that they hold to the model."""

import itertools
import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation.kinds import centers
from drafting.annotation.kinds.bolt_circle import BoltCircle, fitted_circle, span_of
from drafting.annotation.kinds.center_line import CenterLine
from drafting.annotation.kinds.center_mark import CenterMark
from drafting.annotation.kinds.centers import crossings, handles
from drafting.annotation.proposing import find_centers
from drafting.annotation.registry import strokes
from drafting.commands import execute
from drafting.commands.annotations import CarryCenters, Change, Place
from drafting.commands.sheets import SwitchProjection
from drafting.commands.views import PlaceProjectedView
from drafting.compose import annotation_groups
from drafting.context import Context
from drafting.document import Drawing, Pick, Point, Sheet, View
from drafting.errors import DraftingError, SizeError
from drafting.ink.elements import Arc, Element, Group, Line
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.standards.scales import Scale
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from drafting.views.present import presented
from tests.core.conftest import block, demo, part
from tests.core.contexts import seen_in

FULL = 2 * math.pi


def holes(
    places: list[tuple[float, float]], diameter: float = 6.0, name: str = "h", top: float = 10.0
) -> dict[str, Any]:
    return {
        "id": name,
        "kind": "hole",
        "plane": {"origin": [0, 0, top]},
        "at": [list(p) for p in places],
        "diameter": diameter,
    }


def plate(*features: dict[str, Any], width: float = 120, depth: float = 100) -> Model:
    return block(width, depth, 10, *features)


def drawing_of(name: str = "top", **more: Any) -> Drawing:
    view = View(id="v", kind="main", orientation=PRINCIPAL[name], position=Point(x=200, y=150), **more)  # type: ignore[index]
    return Drawing(
        name="x",
        profile=ISO_MM,
        projection="third",
        sheets=[Sheet(id="s", name="1", size="A3", views=[view])],
    )


def found(model: Model, d: Drawing, least: float = 0.0) -> list[Any]:
    sheet, view = d.sheets[0], d.sheets[0].views[0]
    g = presented(view, sheet, model.facts, derive(Prepared(model), view.orientation))
    return find_centers.lacking(g, Context(d, sheet, model.facts, view), least)


def ring(
    count: int, diameter: float, span: float = 360.0, start: float = 0.0, at: tuple[float, float] = (0, 0)
) -> list[tuple[float, float]]:
    step = span / count if span == 360 else span / (count - 1)
    angles = [math.radians(start + k * step) for k in range(count)]
    return [(at[0] + diameter / 2 * math.cos(t), at[1] + diameter / 2 * math.sin(t)) for t in angles]


def lines_of(elements: list[Element]) -> list[tuple[float, float, float, float]]:
    return [(*e.a, *e.b) for e in elements if isinstance(e, Line)]


# ---- what a view lacks -------------------------------------------------------------------------------------


@given(st.integers(3, 8), st.floats(30, 80), st.floats(0, 90))
@settings(max_examples=8)
def test_a_bolt_circle_has_the_center_and_diameter_of_the_recipe(
    count: int, diameter: float, turn: float
) -> None:
    """Fitted center and diameter agree with the recipe's values to 1e-6 mm."""
    model = plate(holes([(5, -3)], 14, "bore"), holes(ring(count, diameter, start=turn, at=(5, -3))))
    d = drawing_of()
    (circle,) = [c for c in found(model, d) if isinstance(c, BoltCircle)]
    assert len(circle.picks) == count
    arc = strokes(
        circle, seen_in(facts=model.facts, frame=ViewFrame.of(d.sheets[0].views[0], model.facts), scale=1.0)
    )[0]
    assert arc.radius * 2 == pytest.approx(diameter, abs=1e-6)
    assert arc.center == pytest.approx([5, -3], abs=1e-6)
    assert arc.last - arc.first == pytest.approx(FULL)


def test_holes_on_one_side_of_a_bore_make_an_arc_that_ends_past_the_last_ones() -> None:
    model = plate(holes([(0, 0)], 20, "bore"), holes(ring(4, 70, span=120, start=30)))
    d = drawing_of()
    (circle,) = [c for c in found(model, d) if isinstance(c, BoltCircle)]
    arc = strokes(
        circle, seen_in(facts=model.facts, frame=ViewFrame.of(d.sheets[0].views[0], model.facts), scale=1.0)
    )[0]
    beyond = (3 + 1.5) / 35  # the hole's radius, and half of 3 mm for a circle this small
    assert (arc.first, arc.last) == (
        pytest.approx(math.radians(30) - beyond),
        pytest.approx(math.radians(150) + beyond),
    )


def test_a_grid_of_equal_holes_shares_its_lines_and_others_stay_alone() -> None:
    model = plate(holes(list(itertools.product((-40, 0, 40), (-30, 30)))), holes([(20, 11)], 9, "odd"))
    d = drawing_of()
    marks = [c for c in found(model, d) if isinstance(c, CenterMark)]
    assert sorted(len(c.picks) for c in marks) == [1, 6]
    grid = next(c for c in marks if len(c.picks) == 6)
    drawn = strokes(
        grid, seen_in(facts=model.facts, frame=ViewFrame.of(d.sheets[0].views[0], model.facts), scale=1.0)
    )
    assert len(drawn) == 5  # two rows and three columns instead of six crosses
    level = [s for s in drawn if abs(s.a[1] - s.b[1]) < 1e-9]
    assert [sorted((float(s.a[0]), float(s.b[0]))) for s in level] == [pytest.approx([-44.5, 44.5])] * 2


def test_four_holes_at_the_corners_of_a_rectangle_are_rows_although_a_circle_runs_through_them() -> None:
    model = plate(holes([(0, 0)], 20, "bore"), holes([(-40, -30), (40, -30), (-40, 30), (40, 30)]))
    kinds = [(c.kind, len(c.picks)) for c in found(model, drawing_of())]
    assert sorted(kinds) == [("center_mark", 1), ("center_mark", 4)]


def test_axes_of_holes_seen_from_the_side_run_3_mm_past_also_hidden_ones() -> None:
    model = plate(holes([(10, 0)], 12))
    front = drawing_of("front")
    (axis,) = found(model, front)
    (s,) = strokes(
        axis, seen_in(facts=model.facts, frame=ViewFrame.of(front.sheets[0].views[0], model.facts), scale=1.0)
    )
    assert isinstance(axis, CenterLine)
    assert (s.a[0], s.b[0]) == (pytest.approx(10), pytest.approx(10))
    assert sorted((float(s.a[1]), float(s.b[1]))) == pytest.approx([-8, 8])
    assert found(model, drawing_of("front", hidden_lines=False)) == []


def test_cylinders_on_one_axis_share_one_line_and_a_cone_counts() -> None:
    shape = {
        "start": [0, 0],
        "to": [
            {"line": [0, 10]},
            {"line": [20, 10]},
            {"line": [20, 16]},
            {"line": [30, 12]},
            {"line": [35, 12]},
            {"line": [35, 0]},
        ],
    }
    model = part([{"id": "r", "kind": "revolve", "profile": shape}])
    d = drawing_of("front")
    (axis,) = found(model, d)
    assert len(axis.picks) == 3
    (s,) = strokes(
        axis, seen_in(facts=model.facts, frame=ViewFrame.of(d.sheets[0].views[0], model.facts), scale=1.0)
    )
    assert s.length == pytest.approx(35 + 6)


def test_what_has_a_center_gets_no_second_one_and_small_circles_can_be_left_out() -> None:
    model = plate(holes([(-30, 0), (30, 0)]), holes([(0, 30)], 2.5, "small"))
    d = drawing_of()
    assert [len(c.picks) for c in found(model, d, least=4)] == [2]
    d, _, inverse = execute(d, Place(command="place", annotations=found(model, d)), model.facts)
    assert found(model, d) == []
    assert len(inverse) == 2  # one step takes both back
    assert len(d.sheets[0].annotations) == 2


def test_a_hole_through_a_curved_face_is_marked_where_it_is_seen_end_on() -> None:
    tube = {"start": [0, 8], "to": [{"line": [60, 8]}, {"line": [60, 20]}, {"line": [0, 20]}]}
    cross = {"id": "x", "kind": "hole", "plane": {"origin": [30, 0, 20]}, "diameter": 7, "depth": 15}
    model = part([{"id": "r", "kind": "revolve", "profile": tube}, cross])
    d = drawing_of("top")
    marks = [c for c in found(model, d) if isinstance(c, CenterMark)]
    assert len(marks) == 1


# ---- how they are drawn ------------------------------------------------------------------------------------


@given(st.floats(0.2, 5), st.floats(-40, 40), st.floats(-30, 30), st.floats(9, 30))
@settings(max_examples=20)
def test_a_mark_crosses_in_short_dashes_and_ends_3_mm_past_its_circle_at_any_scale(
    k: float, x: float, y: float, diameter: float
) -> None:
    model = plate(holes([(x, y)], diameter))
    scale = Scale(drawn=1, true=1) if k > 2 else Scale(drawn=2, true=1)
    d = drawing_of(scale=scale)
    d, _, _ = execute(d, Place(command="place", annotations=found(model, d)), model.facts)
    (group,) = annotation_groups(d, d.sheets[0], model.facts).values()
    assert isinstance(group, Group)
    f = scale.factor
    ends = np.array(lines_of(group.elements)).reshape(-1, 2)
    reach = diameter / 2 * f + 3
    assert ends.max(0) == pytest.approx([x * f + reach, y * f + reach], abs=1e-6)
    assert ends.min(0) == pytest.approx([x * f - reach, y * f - reach], abs=1e-6)
    dashes = [e for e in group.elements if isinstance(e, Line) and e.line == "center_dash"]
    assert len(dashes) == 2
    for e in dashes:
        assert ((e.a[0] + e.b[0]) / 2, (e.a[1] + e.b[1]) / 2) == (
            pytest.approx(x * f, abs=1e-5),
            pytest.approx(y * f, abs=1e-5),
        )


def test_lines_of_different_centers_cross_in_dashes_and_equal_ones_are_drawn_once() -> None:
    model = plate(holes([(0, 0)], 20))
    axes = [CenterLine(id="a", view="v", axis="horizontal"), CenterLine(id="b", view="v", axis="vertical")]
    mark = CenterMark(id="m", view="v", picks=found(model, drawing_of())[0].picks)
    d, _, _ = execute(drawing_of(), Place(command="place", annotations=[mark, *axes]), model.facts)
    groups = annotation_groups(d, d.sheets[0], model.facts)
    assert groups["m"].elements == []  # type: ignore[union-attr]  # both of its lines lie on the longer axes
    level = lines_of(groups["a"].elements)  # type: ignore[union-attr]
    assert min(v[0] for v in level) == pytest.approx(-63)
    assert any(v[0] < 0 < v[2] for v in level)  # a dash over the crossing, not a gap
    assert not any(abs(v[1]) > 1e-9 for v in level)


def test_a_line_and_a_circle_cross_where_they_cross() -> None:
    """Pythagoras: a level line 3 below the center of a circle of radius 5 meets it 4 to either side."""
    zero = np.zeros(2)
    circle = centers.Stroke(zero, zero, center=zero, radius=5.0, first=0.0, last=FULL)
    line = centers.Stroke(np.array([-10.0, -3.0]), np.array([10.0, -3.0]))
    assert crossings(line, [circle]) == pytest.approx([6, 14])
    along = sorted(crossings(circle, [line]))
    assert along == pytest.approx([5 * (math.pi + math.asin(0.6)), 5 * (FULL - math.asin(0.6))])


def test_the_view_can_leave_its_centers_out() -> None:
    model = plate(holes([(0, 0)], 20))
    d = drawing_of(centers=False)
    d, _, _ = execute(d, Place(command="place", annotations=found(model, drawing_of())), model.facts)
    assert all(g.elements == [] for g in annotation_groups(d, d.sheets[0], model.facts).values())  # type: ignore[union-attr]


# ---- holding to the model ----------------------------------------------------------------------------------


def test_ends_are_dragged_one_by_one_and_go_back_to_the_standard() -> None:
    model = plate(holes([(0, 0)], 20))
    d = drawing_of()
    d, _, _ = execute(d, Place(command="place", annotations=found(model, d)), model.facts)
    key = d.sheets[0].annotations[0].id
    d, _, _ = execute(d, Change(command="change", ids=[key], values={"end": 0, "past": 12}), model.facts)
    frame = ViewFrame.of(d.sheets[0].views[0], model.facts)
    ends = {
        h.end: h.at
        for h in handles(
            strokes(d.sheets[0].annotations[0], seen_in(facts=model.facts, frame=frame, scale=1.0))
        )
    }  # type: ignore[arg-type]
    assert ends == {
        0: pytest.approx((22, 0)),
        1: pytest.approx((0, 13)),
        2: pytest.approx((-13, 0)),
        3: pytest.approx((0, -13)),
    }
    d, _, _ = execute(d, Change(command="change", ids=[key], values={"end": 0, "past": None}), model.facts)
    ends = {
        h.end: h.at
        for h in handles(
            strokes(d.sheets[0].annotations[0], seen_in(facts=model.facts, frame=frame, scale=1.0))
        )
    }  # type: ignore[arg-type]
    assert ends[0] == pytest.approx((13, 0))


def test_centers_are_carried_to_aligned_views_and_survive_a_switch_of_projection() -> None:
    model = plate(holes([(-30, 10)], 12))
    d = drawing_of()
    d, _, _ = execute(
        d,
        PlaceProjectedView(
            command="place_projected_view", id="f", parent="v", relation="below", position=Point(x=200, y=60)
        ),
        model.facts,
    )
    d, _, _ = execute(d, Place(command="place", annotations=found(model, d)), model.facts)
    d, _, _ = execute(
        d, CarryCenters(command="carry_centers", ids=[d.sheets[0].annotations[0].id]), model.facts
    )
    line = d.sheets[0].annotations[1]
    assert isinstance(line, CenterLine)
    assert line.view == "f"

    def place(d: Drawing) -> float:
        view = d.sheets[0].view("f")
        assert view
        s = strokes(line, seen_in(facts=model.facts, frame=ViewFrame.of(view, model.facts), scale=1.0))[0]
        assert s.a[0] == pytest.approx(s.b[0])
        return float(s.a[0])

    assert place(d) == pytest.approx(-30)
    d, _, _ = execute(d, SwitchProjection(command="switch_projection", projection="first"), model.facts)
    assert place(d) == pytest.approx(-30)
    with pytest.raises(DraftingError, match="have it already"):
        execute(d, CarryCenters(command="carry_centers", ids=[d.sheets[0].annotations[0].id]), model.facts)


def test_centers_follow_the_model_by_name_and_say_when_it_is_gone() -> None:
    before, after = plate(holes([(-30, 0)], 12)), plate(holes([(25, 8)], 16))
    d = drawing_of()
    (mark,) = found(before, d)
    frame = ViewFrame.of(d.sheets[0].views[0], after.facts)
    level = strokes(mark, seen_in(facts=after.facts, frame=frame, scale=1.0))[0]
    assert (level.a, level.b) == (pytest.approx([25 - 11, 8]), pytest.approx([25 + 11, 8]))
    with pytest.raises(SizeError, match="no longer"):
        strokes(mark, seen_in(facts=plate().facts, frame=frame, scale=1.0))


def edge_at(model: Model, middle: tuple[float, float, float]) -> str:
    return next(
        e.name for e in model.facts.parts["part"].edges if e.kind == "line" and np.allclose(e.middle, middle)
    )


@given(st.floats(20, 120), st.floats(20, 90))
@settings(max_examples=10)
def test_lines_between_two_edges_through_two_points_and_of_the_whole_view(width: float, depth: float) -> None:
    """Of a plate: midway between its long sides, corner to corner by Pythagoras, and its symmetry axis."""
    model = block(width, depth, 10)
    frame = ViewFrame.of(drawing_of().sheets[0].views[0], model.facts)
    near, far = (Pick(instance="part", source=edge_at(model, (0, y, 10))) for y in (-depth / 2, depth / 2))
    (level,) = strokes(
        CenterLine(id="a", view="v", picks=[near, far]), seen_in(facts=model.facts, frame=frame, scale=1.0)
    )
    assert (level.a[1], level.b[1]) == (pytest.approx(0, abs=1e-9), pytest.approx(0, abs=1e-9))
    assert level.length == pytest.approx(width + 6)
    facts = {e.name: e for e in model.facts.parts["part"].edges}
    corners = [near.model_copy(update={"point": "start"}), far.model_copy(update={"point": "start"})]
    if (
        facts[near.source].start[0] * facts[far.source].start[0] > 0
    ):  # both at one side: take the other end of one
        corners[1] = far.model_copy(update={"point": "end"})
    (across,) = strokes(
        CenterLine(id="b", view="v", picks=corners), seen_in(facts=model.facts, frame=frame, scale=2.0)
    )
    assert across.length == pytest.approx(2 * math.hypot(width, depth) + 6)
    (axis,) = strokes(
        CenterLine(id="c", view="v", axis="vertical"), seen_in(facts=model.facts, frame=frame, scale=1.0)
    )
    assert (axis.a[0], axis.length) == (pytest.approx(0, abs=1e-9), pytest.approx(depth + 6))


def bad(kind: Any, **more: Any) -> Any:
    return kind(id="b", view="v", **more)


def test_centers_that_cannot_be_are_refused_in_a_sentence() -> None:
    model = plate(holes([(-30, 0), (0, 0), (30, 0)]), holes([(0, 30)], 6, "up"))
    frame = ViewFrame.of(drawing_of().sheets[0].views[0], model.facts)
    picks = {
        round(float(centers.circle_of(c.pick, seen_in(facts=model.facts, frame=frame))[0][0])): c.pick
        for c in _circles(model)
        if c.at[1] < 20
    }
    with pytest.raises(SizeError, match="lie on one line"):
        strokes(
            bad(BoltCircle, picks=list(picks.values())), seen_in(facts=model.facts, frame=frame, scale=1.0)
        )
    with pytest.raises(SizeError, match="three holes or more"):
        strokes(
            bad(BoltCircle, picks=list(picks.values())[:2]),
            seen_in(facts=model.facts, frame=frame, scale=1.0),
        )
    side = ViewFrame.of(drawing_of("front").sheets[0].views[0], model.facts)
    with pytest.raises(SizeError, match="put on a circle"):
        strokes(bad(CenterMark, picks=[picks[0]]), seen_in(facts=model.facts, frame=side, scale=1.0))
    edges = [
        Pick(instance="part", source=e.name)
        for e in model.facts.parts["part"].edges
        if e.kind == "line" and e.start[2] == e.end[2]
    ]
    with pytest.raises(SizeError, match="not parallel in this view"):
        strokes(
            bad(CenterLine, picks=[edges[0], next(e for e in edges if _square(model, edges[0], e))]),
            seen_in(facts=model.facts, frame=frame, scale=1.0),
        )


def _circles(model: Model) -> list[Any]:
    d = drawing_of()
    view = d.sheets[0].views[0]
    g = derive(Prepared(model), view.orientation)
    return find_centers.circles(g, Context(d, d.sheets[0], model.facts, view))


def _square(model: Model, a: Pick, b: Pick) -> bool:
    edges = {e.name: np.array(e.end) - np.array(e.start) for e in model.facts.parts["part"].edges}
    u, v = edges[a.source], edges[b.source]
    return abs(float(u @ v)) < 1e-9 and abs(u[2]) < 1e-9 and abs(v[2]) < 1e-9


def test_three_points_on_a_line_have_no_circle_and_three_others_their_own() -> None:
    """The circle through (0,0), (2,0), (0,2) has its center at (1,1) and radius sqrt 2 (analytic
    geometry)."""
    center, radius, miss = fitted_circle(np.array([[0.0, 0], [2, 0], [0, 2]]))
    assert (center, radius, miss) == (
        pytest.approx([1, 1]),
        pytest.approx(math.sqrt(2)),
        pytest.approx(0, abs=1e-9),
    )
    with pytest.raises(SizeError):
        fitted_circle(np.array([[0.0, 0], [1, 1], [5, 5]]))
    assert span_of(np.radians([0, 90, 180, 270])) is None
    assert span_of(np.radians([350, 20, 50])) == (
        pytest.approx(math.radians(350)),
        pytest.approx(math.radians(410)),
    )


def test_the_demo_block_gets_its_bolt_circle_bore_and_axes() -> None:
    model = demo("HB-204")
    front = drawing_of("front")
    kinds = sorted((c.kind, len(c.picks)) for c in found(model, front))
    assert ("bolt_circle", 4) in kinds
    circle = next(c for c in found(model, front) if c.kind == "bolt_circle")
    arc = strokes(
        circle,
        seen_in(facts=model.facts, frame=ViewFrame.of(front.sheets[0].views[0], model.facts), scale=1.0),
    )[0]
    assert any(isinstance(e, Arc) for e in centers.ink([arc], [], [], ISO_MM))
    assert arc.radius * 2 == pytest.approx(62)  # the recipe's pitch circle
