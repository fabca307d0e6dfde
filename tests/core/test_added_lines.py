"""Added lines: what clicking makes, what they are tied to, and that they stay tied when the model changes."""

import math
from pathlib import Path
from typing import Any

import ezdxf
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds import added_line
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.measuring.added_lines import AddedLine, Tie
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.traces import Straight
from drafting.annotation.proposing.propose import drag, propose
from drafting.commands import applied
from drafting.commands.annotations import Place
from drafting.compose import compose, own_ink
from drafting.context import Context
from drafting.document import Drawing, Pick, Point, Sheet
from drafting.errors import CommandError, SizeError
from drafting.export.dxf import sheet_dxf
from drafting.ink.elements import Arc, Line, Polyline
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.orientation import PRINCIPAL, isometric
from drafting.views.view import RegionHatch, View
from tests.core.conftest import part

FREE = Pick(instance="", source="", role="added")
HOLE = {
    "id": "h",
    "kind": "hole",
    "plane": {"origin": [0, 0, "high"], "x": [1, 0, 0], "normal": [0, 0, 1]},
    "at": [["wide/2-20", 0]],
    "diameter": 16,
}


def plate(wide: float = 100.0, deep: float = 60.0) -> Model:
    base = {"id": "b", "kind": "extrude", "profile": {"width": "wide", "height": "deep"}, "depth": "high"}
    return part([base, HOLE], {"wide": wide, "deep": deep, "high": 10})


def seen(model: Model, *lines: AddedLine, pictorial: bool = False) -> Context:
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=150, y=120))
    sheet = Sheet(id="s", size="A3", views=[view], annotations=[*lines])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    return Context(drawing, sheet, model.facts, view)


def edge(name: str, x: float, y: float, point: Any = "") -> Spot:
    return Spot(Pick(instance=PART, source=name, point=point), (x, y))


def free(x: float, y: float) -> Spot:
    return Spot(FREE, (x, y))


MODEL = plate()
(PART,) = [i.path for i in MODEL.facts.instances]
(FACTS,) = MODEL.facts.parts.values()


def top_edge(x: float, y: float) -> str:
    """The upper edge of the plate whose middle lies there."""
    return next(e.name for e in FACTS.edges if np.allclose(e.middle, (x, y, 10)))


RIGHT, BACK, LEFT, FRONT = top_edge(50, 0), top_edge(0, 30), top_edge(-50, 0), top_edge(0, -30)
RIM = next(e.name for e in FACTS.edges if e.kind == "circle" and e.center and abs(e.center[2] - 10) < 1e-9)


def made(*spots: Spot, context: Context | None = None, name: str = "n", **chosen: Any) -> AddedLine:
    context = context or seen(MODEL)
    found = added_line.propose(Request(list(spots), (0, 0), name, settings=chosen), context)
    registry.check(found, context)
    return found


def ends(a: AddedLine) -> list[float]:
    return [round(v, 6) for p in a.points for v in (p.x, p.y)]


def relations(a: AddedLine) -> list[str]:
    return [t.relation for t in a.ties]


# ---- drawing -----------------------------------------------------------------------------------------------
def test_a_line_between_free_places_stands_where_it_was_clicked() -> None:
    line = made(free(-30, 5), free(12, 20))
    assert ends(line) == [-30, 5, 12, 20]
    assert relations(line) == []
    (drawn,) = registry.ink(line, seen(MODEL))
    assert isinstance(drawn, Line)
    assert (drawn.a, drawn.b, drawn.line) == ((-30, 5), (12, 20), "visible")


def test_a_line_drawn_nearly_level_is_level() -> None:
    assert ends(made(free(-30, 5), free(12, 5.6))) == [-30, 5.3, 12, 5.3]
    assert relations(made(free(0, -10), free(0.4, 12))) == ["vertical"]
    assert relations(made(free(0, -10), free(3, 12))) == []


def test_ends_are_tied_to_points_and_edges() -> None:
    line = made(edge(RIGHT, 50, 30, "end"), edge(LEFT, -50, -7))
    assert relations(line) == ["coincident", "on"]
    assert ends(line)[2] == -50
    center = made(edge(RIM, 30, 0, "center"), free(60, 3))
    assert ends(center)[:2] == [30, 0]


def test_a_line_drawn_along_a_circle_is_tangent_to_it() -> None:
    line = made(free(-20, 20), edge(RIM, 33.3, 7.3))
    assert relations(line) == ["on", "tangent"]
    a, b = np.array(ends(line)).reshape(2, 2)
    r = b - (30, 0)
    assert float(np.linalg.norm(r)) == pytest.approx(8, abs=1e-6)
    assert float(r @ (b - a)) == pytest.approx(0, abs=1e-4)


@pytest.mark.parametrize("wide", [80.0, 100.0, 260.0])
def test_lines_follow_the_edges_they_are_tied_to(wide: float) -> None:
    line = made(edge(RIM, 30, 0, "center"), edge(BACK, 30.3, 30))
    assert relations(line) == ["coincident", "on", "vertical"]
    (drawn,) = registry.ink(line, seen(plate(wide, 90)))
    assert isinstance(drawn, Line)
    assert (*drawn.a, *drawn.b) == pytest.approx((wide / 2 - 20, 0, wide / 2 - 20, 45))


def test_a_circle_appears_as_soon_as_the_third_edge_is_picked() -> None:
    """In the corner of two edges and beside the hole: it touches what was picked where it was picked."""
    circle = made(edge(LEFT, -50, 0), edge(BACK, -20, 30), edge(FRONT, -20, -30), form="tangent")
    assert (circle.form, circle.radius, ends(circle)) == ("circle", 30, [-20, 0])
    small = made(edge(RIGHT, 50, 20), edge(BACK, 40, 30), edge(RIM, 33, 8), form="tangent")
    x, y = ends(small)
    assert (50 - x, 30 - y) == pytest.approx((small.radius, small.radius), abs=1e-6)
    assert math.dist((x, y), (30, 0)) == pytest.approx(8 + small.radius, abs=1e-6)


def test_a_circle_tangent_to_two_takes_its_radius_from_the_pointer() -> None:
    circle = made(edge(LEFT, -50, 0), edge(BACK, -20, 30), free(-38.2, 17.9), form="tangent")
    assert relations(circle) == ["tangent", "tangent", "radius"]
    assert (circle.radius, ends(circle)) == (12, [-38, 18])
    with pytest.raises(SizeError, match="Pick a third one"):
        made(edge(LEFT, -50, 0), edge(BACK, -20, 30), form="tangent")


def test_circles_go_through_points_and_touch_edges() -> None:
    assert made(free(0, 0), free(10.2, 0), form="circle").radius == 10
    touching = made(free(0, 0), edge(BACK, 3, 30), form="circle")
    assert (relations(touching), touching.radius) == (["tangent"], pytest.approx(30))
    concentric = made(edge(RIM, 30, 0, "center"), edge(RIGHT, 50, 30, "end"), form="circle")
    assert concentric.radius == pytest.approx(math.hypot(20, 30))


def test_an_arc_goes_the_shorter_way_and_the_other_one_if_asked() -> None:
    arc = made(free(0, 0), free(20, 0), free(0, 11), form="arc")
    assert (arc.radius, arc.first, arc.last) == (20, pytest.approx(0), pytest.approx(90))
    arc = made(free(0, 0), free(20, 0), free(0, -11), form="arc")
    assert (arc.first, arc.last) == (pytest.approx(270), pytest.approx(360))
    other = made(free(0, 0), free(20, 0), free(0, 11), form="arc", other=True)
    assert (other.first, other.last) == (pytest.approx(90), pytest.approx(360))
    (drawn,) = registry.ink(other, seen(MODEL))
    assert isinstance(drawn, Arc)
    assert drawn.last - drawn.first == pytest.approx(math.radians(270))


def test_a_polyline_closes_where_it_began() -> None:
    open_ = made(free(0, 0), free(30, 0.2), free(32, 15), form="polyline")
    assert (len(open_.points), open_.closed, relations(open_)) == (3, False, ["horizontal"])
    shut = made(free(0, 0), free(30, 0.2), free(32, 15), free(0.5, 0.3), form="polyline")
    assert (len(shut.points), shut.closed) == (3, True)
    (drawn,) = registry.ink(shut, seen(MODEL))
    assert isinstance(drawn, Polyline)
    assert drawn.closed


# ---- what refers to them -----------------------------------------------------------------------------------
def test_sizes_are_taken_on_added_lines() -> None:
    line = made(free(-30, 12), free(20, 12.2), name="line")
    circle = made(free(0, 0), free(7, 0), form="circle", name="ring")
    context = seen(MODEL, line, circle)
    on_line = Spot(Pick(instance="", source="line", role="added"), (-5, 12))
    back = edge(BACK, 0, 30)
    size = propose("size", Request([on_line, back], (-70, 20), "a"), context, dict).annotations[0]
    assert registry.text(size, context) == "17,9"
    length = propose("size", Request([on_line], (-5, 40), "b"), context, dict).annotations[0]
    assert registry.text(length, context) == "50"
    ring = Spot(Pick(instance="", source="ring", role="added"), (7, 0))
    assert (
        registry.text(propose("size", Request([ring], (20, 20), "c"), context, dict).annotations[0], context)
        == "Ø14"
    )
    gone = seen(MODEL, circle)
    with pytest.raises(SizeError, match="no longer there"):
        registry.text(length, gone)


def test_one_added_line_is_tied_to_another_and_follows_it() -> None:
    first = made(free(-30, 0), free(-10, 15), name="first")
    context = seen(MODEL, first)
    tip = Spot(Pick(instance="", source="first", role="added", point="end"), (-10, 15))
    second = made(tip, free(40, 22), context=context, name="second")
    assert relations(second) == ["coincident"]
    moved = first.model_copy(update={"points": [Point(x=-30, y=0), Point(x=-12, y=-8)]})
    groups = compose_lines(seen(MODEL, moved, second))
    assert groups["second"][0].a == pytest.approx((-12, -8))
    gone = seen(MODEL, second)
    assert registry.findings(second, gone) == ["What an added line was tied to is gone: joined."]
    (drawn,) = registry.ink(second, gone)
    assert drawn.b == (40, 22)


def compose_lines(context: Context) -> dict[str, Any]:
    ink = compose(context.drawing, context.sheet, context.facts, {}).ink
    return {g.id: g.elements for g in ink.groups if g.kind == "annotation"}


def test_a_ring_of_ties_is_refused() -> None:
    a = made(free(0, 0), free(10, 30), name="a")
    to_a = Tie(relation="parallel", to=Pick(instance="", source="a", role="added"))
    b = made(free(20, 0), free(33, 30), name="b").model_copy(update={"ties": [to_a]})
    context = seen(MODEL, a, b)
    to_b = to_a.model_copy(update={"to": Pick(instance="", source="b", role="added")})
    with pytest.raises(SizeError, match="in a ring"):
        registry.check(a.model_copy(update={"ties": [to_b]}), context)


# ---- ties --------------------------------------------------------------------------------------------------
def tie(context: Context, *spots: Spot, option: str = "") -> Any:
    return propose("tie", Request(list(spots), (0, 0), "x", settings={"option": option}), context, dict)


def test_what_fits_is_offered_and_held() -> None:
    line = made(free(-30, 12), free(20, 19), name="line")
    context = seen(MODEL, line)
    on = Spot(Pick(instance="", source="line", role="added"), (0, 16))
    found = tie(context, on, edge(BACK, 0, 30))
    assert (found.option, found.options) == (
        "on",
        ["on", "parallel to", "perpendicular to", "equal to", "distance from", "angle"],
    )
    parallel = tie(context, on, edge(BACK, 0, 30), option="parallel to").annotations[0]
    a, b = np.array(ends(parallel)).reshape(2, 2)
    assert a[1] == pytest.approx(b[1])
    round_ = tie(context, on, edge(RIM, 22, 0))
    assert round_.option == "tangent to"
    with pytest.raises(SizeError, match="One of the two has to be an added line"):
        tie(context, edge(BACK, 0, 30), edge(LEFT, -50, 0))


def test_a_size_drives_a_line_and_a_contradiction_is_said() -> None:
    line = made(edge(RIGHT, 50, 30, "end"), free(80, 44), name="line")
    context = seen(MODEL, line)
    held = registry.changed(line, {"length": 25, "angle": 30}, context)
    assert isinstance(held, AddedLine)
    x0, y0, x1, y1 = ends(held)
    assert (x1 - x0, y1 - y0) == pytest.approx((25 * math.cos(math.pi / 6), 12.5))
    assert registry.kind_of(held).row(held, context).text == "25 long, fully tied"  # type: ignore[misc]
    longer = registry.changed(held, {"length": 40}, context)
    assert math.dist(*np.array(ends(longer)).reshape(2, 2)) == pytest.approx(40)  # type: ignore[arg-type]
    let_go = registry.changed(held, {"length": None}, context)
    assert relations(let_go) == ["coincident", "angle"]  # type: ignore[arg-type]
    both = made(edge(RIGHT, 50, 30, "end"), edge(LEFT, -50, 30, "end"), name="both")
    with pytest.raises(SizeError, match=r"^These cannot all hold: joined and length 25\.$"):
        registry.changed(both, {"length": 25}, seen(MODEL, both))


def test_what_the_model_no_longer_lets_hold_is_a_finding() -> None:
    line = made(edge(LEFT, -50, -30, "end"), edge(RIGHT, 50, -30, "end"), name="line")
    context = seen(MODEL, line)
    held = registry.changed(line, {"length": math.dist(*np.array(ends(line)).reshape(2, 2))}, context)
    assert registry.findings(held, context) == []
    (said,) = registry.findings(held, seen(plate(120.0)))
    assert said.startswith("An added line cannot hold to its ties any more: joined, length")


@settings(max_examples=30, deadline=None, derandomize=True)
@given(st.floats(-40, 40), st.floats(-25, 25), st.floats(-40, 40), st.floats(-25, 25))
def test_dragging_an_end_leaves_the_other_and_what_is_tied(
    x: float, y: float, to_x: float, to_y: float
) -> None:
    line = made(free(-30, 12), free(21, 19), name="line")
    context = seen(MODEL, line)
    request = Request([], (to_x, to_y), "line", settings={"grabbed": (21, 19)})
    moved = drag(line, "place", request, context)
    assert isinstance(moved, AddedLine)
    assert ends(moved) == pytest.approx([-30, 12, to_x, to_y], abs=1e-6)
    tied = made(edge(RIM, 30, 0, "center"), free(60, 15), name="line")
    whole = drag(tied, "place", Request([], (x, y), "line", settings={"grabbed": (45, 7.5)}), context)
    assert isinstance(whole, AddedLine)
    assert ends(whole)[:2] == pytest.approx([30, 0], abs=1e-6)


# ---- the drawing -------------------------------------------------------------------------------------------
def test_they_are_placed_copied_and_written(tmp_path: Path) -> None:
    line = made(free(-30, 12), free(20, 25), name="line", line="phantom")
    ring = made(free(0, 0), free(7, 0), form="circle", name="ring")
    context = seen(MODEL)
    document = context.drawing
    for a in (line, ring):
        document = applied(document, Place(command="place", annotations=[a]), MODEL.facts)
    sheet = document.sheets[0]
    ink = compose(document, sheet, MODEL.facts, {}).ink
    (tmp_path / "x.dxf").write_bytes(sheet_dxf(ink, ISO_MM)[0])
    file = ezdxf.readfile(tmp_path / "x.dxf")
    found = [e for e in file.modelspace() if e.dxf.layer == "Phantom"]
    assert [tuple(round(v, 3) for v in (*e.dxf.start, *e.dxf.end)) for e in found] == [
        (120, 132, 0, 170, 145, 0)
    ]
    ids = {"v": "v2", "line": "line2", "ring": "ring2"}
    tied = ring.model_copy(
        update={"ties": [Tie(relation="tangent", to=Pick(instance="", source="line", role="added"))]}
    )
    copy = tied.copied(ids)
    assert copy.ties[0].to is not None
    assert (copy.id, copy.view, copy.ties[0].to.source) == ("ring2", "v2", "line2")


def test_bad_lines_are_refused_in_a_sentence() -> None:
    for spots, form, words in (
        ([free(0, 0), free(0, 0)], "line", "Both ends fall together"),
        ([free(0, 0)], "line", "Click where the line begins"),
        ([free(0, 0), free(1, 1)], "spiral", "Lines, polylines, circles and arcs"),
        ([free(0, 0), free(1, 1), free(2, 0)], "tangent", "Pick the lines or circles"),
    ):
        with pytest.raises(SizeError, match=words):
            made(*spots, form=form)
    context = seen(MODEL)
    circle = made(free(0, 0), free(7, 0), form="circle")
    for update, words in (
        ({"length": 20}, "circle cannot have that: length 20"),
        ({"radius": -3}, "above 0"),
        ({"colour": 3}, "no colour"),
    ):
        with pytest.raises((SizeError, CommandError), match=words):
            registry.check(registry.changed(circle, update, context), context)


def test_on_the_sheet_they_stand_in_its_millimeters() -> None:
    context = Context(seen(MODEL).drawing, seen(MODEL).sheet, MODEL.facts, is_bare=True)
    line = made(free(30, 40), free(90, 40.3), context=context)
    assert (line.anchor.on, ends(line)) == ("sheet", [30, 40.15, 90, 40.15])


def test_a_pictorial_view_gives_them_no_size() -> None:
    line = made(free(-30, 12), free(20, 25), name="line")
    context = seen(MODEL, line)
    view = context.sheet.views[0].model_copy(
        update={"kind": "pictorial", "orientation": isometric(PRINCIPAL["front"])}
    )
    with pytest.raises(SizeError, match="no true size"):
        resolve(
            Pick(instance="", source="line", role="added"),
            Context(context.drawing, context.sheet, MODEL.facts, view),
        )
    assert isinstance(resolve(Pick(instance="", source="line", role="added"), context), Straight)


def test_added_lines_bound_a_region_that_is_hatched_by_hand() -> None:
    """A level line across the plate halves what is hatched; moved with its edge, the hatching follows."""
    line = made(edge(LEFT, -50, 12), edge(RIGHT, 50, 12), name="line")
    geometry = derive(Prepared(MODEL), Derivation(orientation=PRINCIPAL["top"]))

    def heights(*lines: AddedLine) -> tuple[float, float]:
        context = seen(MODEL, *lines)
        assert context.view is not None
        view = context.view.model_copy(update={"hatches": [RegionHatch(at=Point(x=-30, y=25))]})
        drawn = own_ink(context.drawing, context.sheet, view, MODEL.facts, geometry)
        strokes = [e for e in drawn if isinstance(e, Line) and e.line == "hatch"]
        return tuple(f(y for e in strokes for y in (e.a[1], e.b[1])) for f in (min, max))  # type: ignore[return-value]

    assert heights() == pytest.approx((-30, 30), abs=1e-6)
    assert heights(line) == pytest.approx((12, 30), abs=1e-6)
