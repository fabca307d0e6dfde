"""What is one item: parts of one shape, equal designations, stock by length; sums over levels; sizes of
mates; balloons in reading order."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from bench.large import large_model
from drafting.annotation import registry
from drafting.annotation.kinds import balloon, parts_list, parts_rows
from drafting.annotation.kinds.angles import AngleDimension
from drafting.annotation.kinds.balloon import Balloon, Numbers
from drafting.annotation.kinds.parts_rows import PartsColumn, PartsList
from drafting.annotation.proposing.mate_sizes import sizes_of_mates
from drafting.checking.page import Page
from drafting.checking.rules.mates import RULE as MATES
from drafting.document import Drawing, Placement, Point, Sheet, View
from drafting.kernel.solids import NamedSolid, moved
from drafting.model import bill
from drafting.model.alike import same_shapes
from drafting.model.assembly import build_model
from drafting.model.mirrored import ACROSS
from drafting.model.model import Facts, Model, PartFacts, TreeNode
from drafting.model.names import part_facts
from drafting.model.recipe import validate_recipe
from drafting.model.step import read_model
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import STEP_FILES, block, demo, demo_data
from tests.core.contexts import seen_in
from tests.core.test_assembly import assembly
from tests.core.test_parts import facts_of, leaf

# ---- parts of one shape ------------------------------------------------------------------------------------
HOLES = [
    {"id": f"h{n}", "kind": "hole", "plane": {"origin": [x, y, 8]}, "diameter": 6, "depth": 4}
    for n, (x, y) in enumerate([(30, 12), (-30, 12), (30, -5)])
]
SHAPES: dict[str, Model] = {
    "odd plate": block(90, 40, 8, *HOLES),
    "even block": block(30, 30, 30),
    "bearing": demo("HB-204"),
    "turned": demo("HB-231"),
    "screw": read_model(STEP_FILES["screw"], "s"),
}


def elsewhere(model: Model, turn: list[float], at: list[float], mirror: bool = False) -> PartFacts:
    m = np.eye(4)
    m[:3, :3], m[:3, 3] = Rotation.from_rotvec(turn).as_matrix(), at
    shape = next(iter(model.shapes.values()))
    return part_facts(
        moved(NamedSolid(shape), (m @ (ACROSS if mirror else np.eye(4))).tolist()).shape, "Other"
    )


@given(
    st.sampled_from(list(SHAPES)),
    st.lists(st.floats(-3, 3), min_size=3, max_size=3),
    st.lists(st.floats(-500, 500), min_size=3, max_size=3),
)
@settings(max_examples=25)
def test_a_part_is_known_wherever_and_however_it_lies(name: str, turn: list[float], at: list[float]) -> None:
    part = next(iter(SHAPES[name].facts.parts.values()))
    assert same_shapes(
        {
            "a": part,
            "x": SHAPES["even block" if name != "even block" else "bearing"].facts.parts["part"],
            "b": elsewhere(SHAPES[name], turn, at),
        }
    ) == [["a", "b"]]


@pytest.mark.parametrize(("name", "same"), [("odd plate", False), ("even block", True), ("turned", True)])
def test_the_other_hand_is_another_part_unless_the_part_is_its_own_mirror(name: str, same: bool) -> None:
    part = next(iter(SHAPES[name].facts.parts.values()))
    assert (
        bool(same_shapes({"a": part, "b": elsewhere(SHAPES[name], [0.3, 1, 0.2], [5, 6, 7], mirror=True)}))
        is same
    )


def test_parts_of_one_volume_and_equal_edges_are_told_apart_by_where_their_holes_are() -> None:
    def plate(x: float) -> PartFacts:
        hole = {"id": "h", "kind": "hole", "plane": {"origin": [x, 3, 8]}, "diameter": 6, "depth": 4}
        return block(90, 40, 8, hole).facts.parts["part"]

    assert same_shapes({"a": plate(30), "b": plate(20), "c": plate(-30)}) == []  # c is the other hand of a
    assert same_shapes({"a": plate(30), "b": plate(20), "c": plate(30.0)}) == [["a", "c"]]


def test_parts_said_to_be_the_same_are_one_item() -> None:
    facts = facts_of(TreeNode(name="A", children=[leaf("p0"), leaf("p1"), leaf("p1"), leaf("p2")]))
    facts.same_as = {"p1": "p0"}
    assert [(line.key, line.total, line.parts) for line in bill.lines(facts)] == [
        ("p0", 3, (("p0", 1), ("p1", 2))),
        ("p2", 1, (("p2", 1),)),
    ]
    facts.same_as = {"p1": "gone"}
    assert [line.key for line in bill.lines(facts)] == ["p0", "p1", "p2"]


def test_a_part_listed_as_another_is_not_gone_and_has_its_number_again_when_it_stands_by_itself() -> None:
    facts = facts_of(TreeNode(name="A", children=[leaf("p0"), leaf("p1"), leaf("p2")]))
    drawing, rows = listed(facts)
    parts_rows.renumber(drawing, facts)
    assert [(r.key, r.item) for r in rows] == [("p0", 1), ("p1", 2), ("p2", 3)]
    plist = parts_rows.lists_on(drawing.sheets[0])[0]
    facts.same_as = {"p1": "p0"}
    assert [(r.key, r.item, r.gone) for r in parts_rows.rows(drawing, plist, facts)] == [
        ("p0", 1, False),
        ("p2", 3, False),
    ]
    assert balloon.numbers_of(drawing, facts).keys["0/1"] == "p0"
    facts.same_as = {}
    assert [(r.key, r.item) for r in parts_rows.rows(drawing, plist, facts)] == [
        ("p0", 1),
        ("p1", 2),
        ("p2", 3),
    ]


def test_screws_without_a_number_are_one_item_by_their_designation() -> None:
    """ISO 4762 M6x20 twice in a file, once written otherwise; an M6x25 and two plain plates stay as they
    are."""
    names = {
        "p0": "Screw ISO 4762 - M6x20",
        "p1": "screw  ISO 4762 - M6X20",
        "p2": "Screw ISO 4762 - M6x25",
        "p3": "Plate",
        "p4": "Plate",
    }
    tree = TreeNode(name="A", children=[leaf(k) for k in names])
    facts = facts_of(tree, **{k: {"name": name} for k, name in names.items()})
    assert [(line.key, line.total) for line in bill.lines(facts)] == [
        ("p0", 2),
        ("p2", 1),
        ("p3", 1),
        ("p4", 1),
    ]


# ---- amounts -----------------------------------------------------------------------------------------------
def listed(facts: Facts, profile: Any = ISO_MM, **more: Any) -> tuple[Drawing, list[parts_rows.Row]]:
    plist = PartsList(
        id="l",
        columns=[PartsColumn(field=f) for f in ("item", "count", "name", "total_mass", "cost")],
        totals=True,
        **more,
    )
    drawing = Drawing(
        name="x", profile=profile, projection="first", sheets=[Sheet(id="s", size="A3", annotations=[plist])]
    )
    return drawing, parts_rows.rows(drawing, plist, facts)


@given(st.lists(st.tuples(st.floats(40, 3000), st.integers(1, 5)), min_size=1, max_size=4))
@settings(max_examples=30)
def test_stock_is_counted_by_its_length_and_costs_by_the_meter(cuts: list[tuple[float, int]]) -> None:
    """Cut lengths of one bar (one number) add up; a meter is 39.37 in."""
    parts = {
        f"p{n}": {
            "name": "Flat bar",
            "number": "B-1",
            "counted": "length",
            "unit_cost": 8.0,
            "high": [long, 30, 5],
            "volume": long * 150,
            "material": "steel S235",
        }
        for n, (long, _) in enumerate(cuts)
    }
    facts = facts_of(
        TreeNode(
            name="A", children=[leaf(f"p{n}") for n, (_, count) in enumerate(cuts) for _ in range(count)]
        ),
        **parts,
    )
    total = sum(long * count for long, count in cuts)
    _, (row,) = listed(facts)
    assert row.cells["count"].value == pytest.approx(total / 1000, abs=1e-6)
    assert row.cells["count"].text.endswith(" m")
    assert row.cells["cost"].value == pytest.approx(8.0 * total / 1000)
    assert row.cells["total_mass"].value == pytest.approx(total * 150 * 7.85e-6)
    assert facts.total_mass() == pytest.approx(total * 150 * 7.85e-6)
    _, (row,) = listed(facts, ASME_INCH)
    assert row.cells["count"].value == pytest.approx(total / 25.4, abs=1e-6)


def test_a_group_weighs_and_costs_what_it_is_made_of_and_totals_count_each_part_once() -> None:
    inner = lambda: TreeNode(name="Pair", group="g", children=[leaf("p0"), leaf("p1"), leaf("p1")])  # noqa: E731
    parts = {
        "p0": {"unit_cost": 5.0, "stated_mass": 2.0},
        "p1": {"unit_cost": 1.5, "volume": 1000, "material": "steel S235"},
    }
    facts = facts_of(TreeNode(name="A", children=[inner(), inner(), leaf("p1")]), **parts)
    for levels in ("top", "parts", "indented"):
        drawing, rows = listed(facts, levels=levels)
        sums = parts_rows.totals(rows)
        assert sums["cost"] == pytest.approx(2 * 5.0 + 5 * 1.5), levels
        assert (
            sums["total_mass"]
            == pytest.approx(2 * 2.0 + 5 * 0.00785)
            == pytest.approx(facts.total_mass() or 0)
        )
        table = parts_list.table(drawing, parts_rows.lists_on(drawing.sheets[0])[0], facts)
        assert table[-1][-2:] == [pytest.approx(sums["total_mass"]), pytest.approx(17.5)]
    _, rows = listed(facts, levels="top")
    group = next(r for r in rows if r.group)
    assert (group.cells["mass"].value, group.cells["cost"].value) == (
        pytest.approx(2.0157),
        pytest.approx(16.0),
    )


def test_a_part_without_price_leaves_the_total_open() -> None:
    facts = facts_of(
        TreeNode(name="A", children=[TreeNode(name="P", group="g", children=[leaf("p0")]), leaf("p1")]),
        p1={"unit_cost": 2.0},
    )
    _, rows = listed(facts, levels="top")
    assert parts_rows.totals(rows)["cost"] is None


# ---- sizes of mates ----------------------------------------------------------------------------------------
@pytest.fixture(scope="module")
def twin() -> Model:
    return build_model(validate_recipe(demo_data("HB-220")), lambda n: demo_data(n))


def shown(model: Model, *names: str) -> tuple[Drawing, Sheet, dict[str, Any]]:
    views = [View(id=n, kind="main", orientation=PRINCIPAL[n], position=Point(x=100, y=100)) for n in names]
    sheet = Sheet(id="s", size="A1", views=views)
    prepared = Prepared(model)
    return (
        Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet]),
        sheet,
        {v.id: derive(prepared, derivation_of(v, model.facts)) for v in views},
    )


def test_mates_of_the_assembly_are_brought_once_each_and_no_part_s_own_size(twin: Model) -> None:
    drawing, sheet, geometries = shown(twin, "front", "top", "left")
    found = sizes_of_mates(drawing, sheet, geometries, twin.facts)
    assert found.left_out == []
    values = {}
    for size in found.sizes:
        frame = ViewFrame.of(next(v for v in sheet.views if v.id == size.view), twin.facts)
        value = registry.value(size, seen_in(facts=twin.facts, frame=frame))
        values[round(math.degrees(value) if isinstance(size, AngleDimension) else value, 6)] = size
        assert size.picks[0].instance != size.picks[1].instance
    known = twin.facts.parameters
    assert set(values) == {
        known["pitch"],
        known["open"],
        known["inset"] - 110,
    }  # the winder's own mates stand on its own drawing
    assert values[known["open"]].view == "top"
    sheet.annotations = list(found.sizes)
    again = sizes_of_mates(drawing, sheet, geometries, twin.facts)
    assert again.sizes == []
    assert len(again.left_out) == 3
    assert all(sentence.endswith("is on the drawing already.") for sentence in again.left_out)


def test_what_positions_the_parts_is_found_missing_until_it_is_given(twin: Model) -> None:
    drawing, sheet, geometries = shown(twin, "front", "top", "left")

    def said(drawing: Drawing) -> list[str]:
        page = Page(drawing, drawing.sheets[0], twin.facts, {}, geometries)
        return [f.text for f in MATES.faults(page)]  # type: ignore[misc]

    sizes = sizes_of_mates(drawing, sheet, geometries, twin.facts).sizes
    assert len(said(drawing)) == len(sizes) > 1
    assert any("560" in text for text in said(drawing))
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *sizes]})
    assert said(drawing.model_copy(update={"sheets": [full]})) == []


def test_a_mate_that_no_view_shows_squarely_is_told(twin: Model) -> None:
    drawing, sheet, geometries = shown(twin, "left")
    found = sizes_of_mates(drawing, sheet, geometries, twin.facts)
    assert found.sizes == []
    assert "The distance of mate pitch is not seen squarely in a view of this sheet." in found.left_out


@given(st.floats(12, 90), st.floats(1, 60))
@settings(max_examples=10)
def test_brought_sizes_read_what_the_mate_says(apart: float, lift: float) -> None:
    pin = {
        "moorcrest": "part",
        "version": 1,
        "name": "Pin",
        "features": [{"id": "b", "kind": "extrude", "profile": {"diameter": 10}, "depth": 40}],
    }
    model = build_model(
        validate_recipe(
            assembly(
                [{"id": "a", "part": "pin"}, {"id": "b", "part": "pin", "at": {"origin": [30, 0, 5]}}],
                [
                    {"kind": "concentric", "id": "c", "of": "b:b/side", "to": "a:b/side", "offset": apart},
                    {
                        "kind": "coincident",
                        "id": "l",
                        "of": "b:b/start",
                        "to": "a:b/start",
                        "offset": -lift,
                        "facing": False,
                    },
                ],
                parts={"pin": pin},
            )
        )
    )
    drawing, sheet, geometries = shown(model, "front", "top")
    sizes = sizes_of_mates(drawing, sheet, geometries, model.facts).sizes
    read = [
        registry.value(
            s,
            seen_in(
                facts=model.facts,
                frame=ViewFrame.of(next(v for v in sheet.views if v.id == s.view), model.facts),
            ),
        )
        for s in sizes
    ]
    assert sorted(read) == pytest.approx(sorted([apart, lift]), abs=1e-5)


# ---- reading order -----------------------------------------------------------------------------------------
def test_balloons_are_read_clockwise_from_the_upper_left_stacked_ones_after_their_first() -> None:
    places = {
        "lower left": (0, 0),
        "upper right": (100, 80),
        "upper left": (0, 80),
        "lower right": (100, 0),
        "top": (50, 90),
        "left": (-5, 40),
    }
    numbers = Numbers({k: n for n, k in enumerate((*places, "nut"), 1)}, {k: k for k in places}, {}, {})
    balloons = [
        Balloon(
            id=f"b{n}",
            view="v",
            instance=k,
            tip=Point(x=0.5, y=0.5),
            place=Placement(model=Point(x=x, y=y), paper=Point(x=0, y=0)),
            stacked=["nut"] if k == "top" else [],
        )
        for n, (k, (x, y)) in enumerate(places.items())
    ]
    assert balloon.reading_order(balloons, numbers, 1.0) == [
        "upper left",
        "top",
        "nut",
        "upper right",
        "lower right",
        "lower left",
        "left",
    ]


def test_a_thousand_instances_are_counted_down_their_levels() -> None:
    """The large assembly of the bench: ten modules of six parts, each ten times."""
    facts = large_model().facts
    assert (len(facts.instances), len(facts.parts)) == (1000, 60)
    per_module = {"1": 1, "2": 4, "3": 1, "4": 2, "5": 1, "6": 1}
    lines = bill.lines(facts)
    assert {facts.parts[line.key].number: line.total for line in lines} == {
        f"R-{k}{n}": 10 * c for k in range(10) for n, c in per_module.items()
    }
    assert [(line.number, line.total) for line in bill.lines(facts, "top")] == [
        (f"R-{k}0", 10) for k in range(10)
    ]
    mass = facts.total_mass() or 0.0
    assert mass == pytest.approx(
        sum((facts.mass(facts.parts[line.key]) or 0.0) * line.total for line in lines)
    )
