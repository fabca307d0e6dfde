"""Parts lists and balloons: counts, item numbers that stay, cells, tables in files, and leaders that neither
cross nor miss."""

import io
import itertools
import math
import re
from pathlib import Path
from typing import Any

import numpy as np
import openpyxl
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter
from scipy.optimize import linear_sum_assignment

from drafting.annotation import registry
from drafting.annotation.kinds import balloon, parts_list, parts_rows
from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.kinds.parts_rows import PartsColumn, PartsList
from drafting.annotation.measuring import pointing
from drafting.annotation.proposing import number_all
from drafting.annotation.review.description import row_of
from drafting.commands import AnyCommand, execute
from drafting.compose import annotation_groups, compose
from drafting.document import Drawing, Point, Sheet, View
from drafting.errors import CommandError, ModelError
from drafting.export import tables
from drafting.ink.elements import Arc, Fill, Line, Text
from drafting.ink.shapes import text_boxes
from drafting.model import bill, exploded
from drafting.model.model import (
    IDENTITY,
    ExplodedState,
    Facts,
    InstanceFacts,
    Model,
    PartFacts,
    Step,
    TreeNode,
)
from drafting.model.step import read_model, write_model
from drafting.sheet.layout import block_box
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.scales import Scale
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewGeometry
from drafting.views.hatching import hatch_angles
from drafting.views.orientation import PRINCIPAL, Orientation, isometric
from drafting.views.section import across
from drafting.views.trail_lines import trail_ink
from drafting.views.view import CuttingLine, Section
from tests.core.conftest import block
from tests.core.contexts import seen_in

FRONT = PRINCIPAL["front"]


def facts_of(tree: TreeNode, **parts: dict[str, Any]) -> Facts:
    """Facts of an assembly of parts without geometry."""
    paths: list[InstanceFacts] = []

    def walk(node: TreeNode, path: str) -> None:
        node.path = path
        if node.part is not None:
            paths.append(InstanceFacts(path=path, name=node.name, part=node.part, matrix=IDENTITY))
        for n, child in enumerate(node.children):
            walk(child, f"{path}/{n}")

    walk(tree, "0")
    keys = sorted({i.part for i in paths})
    made = {
        k: PartFacts(
            **{
                "name": k,
                "volume": 1000,
                "low": [0, 0, 0],
                "high": [1, 1, 1],
                "faces": [],
                "edges": [],
                **parts.get(k, {}),
            }
        )
        for k in keys
    }
    return Facts(
        name="A",
        kind="assembly",
        units="mm",
        source="step",
        parts=made,
        instances=paths,
        tree=tree,
        low=[0, 0, 0],
        high=[1, 1, 1],
    )


def leaf(part: str) -> TreeNode:
    return TreeNode(name=part, part=part)


# groups as (name, its members with how often each is in it); members are parts p0..p4, or groups of a deeper
# level
LEVELS = st.lists(
    st.lists(st.tuples(st.integers(0, 6), st.integers(1, 3)), min_size=1, max_size=4), min_size=1, max_size=3
)


@given(LEVELS)
@settings(max_examples=60)
def test_counts_are_the_products_of_what_stands_on_the_way_down(levels: list[list[tuple[int, int]]]) -> None:
    def made(depth: int) -> TreeNode:
        members = []
        for what, times in levels[depth]:
            for _ in range(times):
                members.append(
                    made(depth + 1) if what > 4 and depth + 1 < len(levels) else leaf(f"p{what % 5}")
                )
        return TreeNode(name=f"g{depth}", group=f"g{depth}", children=members)

    def counted(depth: int) -> dict[str, int]:
        out: dict[str, int] = {}
        for what, times in levels[depth]:
            inner = counted(depth + 1) if what > 4 and depth + 1 < len(levels) else {f"p{what % 5}": 1}
            for key, n in inner.items():
                out[key] = out.get(key, 0) + n * times
        return out

    facts, expected = facts_of(made(0)), counted(0)
    assert {line.key: line.total for line in bill.lines(facts, "parts")} == expected
    indented: dict[str, int] = {}
    for line in bill.lines(facts, "indented"):
        if not line.group:
            indented[line.key] = indented.get(line.key, 0) + line.total
    assert indented == expected
    top = bill.lines(facts, "top")
    assert sum(line.count for line in top) == len(facts.tree.children)
    assert all(line.depth == 0 for line in top)


def test_the_winder_is_counted_as_its_step_file_says(winder: Model, tmp_path: Path) -> None:
    """Each use of a component is one NEXT_ASSEMBLY_USAGE_OCCURRENCE of the file (ISO 10303-44)."""
    path = tmp_path / "winder.step"
    write_model(winder, path)
    uses = len(re.findall(r"NEXT_ASSEMBLY_USAGE_OCCURRENCE\s*\(", path.read_text()))
    again = read_model(path, "winder").facts
    for facts in (winder.facts, again):
        found = bill.lines(facts, "parts")
        assert sum(line.total for line in found) == uses == 67
        assert {line.name: line.total for line in found}["Socket screw M10x30"] == 16
        assert len(found) == 21


def test_parts_with_one_number_are_one_item() -> None:
    tree = TreeNode(name="A", children=[leaf("a"), leaf("b"), leaf("c"), leaf("c")])
    facts = facts_of(tree, a={"number": "HB-9"}, b={"number": "hb-9 "}, c={"number": ""})
    assert [(line.key, line.total) for line in bill.lines(facts, "parts")] == [("a", 2), ("c", 2)]
    assert bill.keys_of(facts)["0/1"] == ["a"]


def listed(facts: Facts, profile: Profile = ISO_MM, **more: Any) -> tuple[Drawing, PartsList]:
    plist = PartsList(id="p", **more)
    sheet = Sheet(id="s", size="A2" if profile.standard == "ISO" else "C", annotations=[plist])
    return Drawing(name="x", profile=profile, projection="first", sheets=[sheet]), plist


def do(drawing: Drawing, facts: Facts, **command: Any) -> Drawing:
    return execute(drawing, TypeAdapter(AnyCommand).validate_python(command), facts)[0]


def test_item_numbers_stay_when_the_model_changes() -> None:
    before = facts_of(
        TreeNode(name="A", children=[leaf("plate"), leaf("pin"), leaf("nut"), leaf("nut")]),
        pin={"make": "buy"},
        nut={"make": "buy"},
    )
    drawing, plist = listed(before)
    drawing = do(drawing, before, command="change", ids=["p"], values={"totals": True})
    assert {k: i.number for k, i in drawing.items.items()} == {
        "plate": 1,
        "pin": 2,
        "nut": 3,
    }  # made parts first
    after = facts_of(TreeNode(name="A", children=[leaf("cover"), leaf("plate"), leaf("nut")]))
    rows = parts_rows.rows(drawing, plist, after)
    assert [(r.key, r.item, r.gone) for r in rows] == [
        ("plate", 1, False),
        ("nut", 3, False),
        ("cover", 4, False),
        ("pin", 2, True),
    ]
    assert rows[-1].cells["name"].text == "pin"
    drawing = do(drawing, after, command="number_in_order", keys=["cover", "nut", "plate"])
    assert {k: i.number for k, i in drawing.items.items()} == {
        "cover": 1,
        "nut": 2,
        "plate": 3,
    }  # what is gone is dropped
    drawing = do(drawing, after, command="number_item", key="plate", number=1)
    assert {k: i.number for k, i in drawing.items.items()} == {"cover": 3, "nut": 2, "plate": 1}


def test_a_copied_sheet_has_a_list_of_its_own(winder: Model) -> None:
    drawing, _ = listed(winder.facts)
    drawing = do(drawing, winder.facts, command="copy_sheet", sheet="s", id="t")
    ids = [p.id for s in drawing.sheets for p in parts_rows.lists_on(s)]
    assert len(set(ids)) == len(ids) == 2
    left = do(drawing, winder.facts, command="remove", ids=[ids[1]])
    assert [len(parts_rows.lists_on(s)) for s in left.sheets] == [1, 0]


def test_cells_say_what_the_model_says_unless_the_drawing_says_otherwise(winder: Model) -> None:
    facts = winder.facts
    drawing, _ = listed(
        facts,
        totals=True,
        columns=[
            PartsColumn(field=f) for f in ("item", "name", "material", "total_mass", "unit_cost", "cost")
        ],
    )
    plist = parts_rows.lists_on(drawing.sheets[0])[0]
    drawing = do(drawing, facts, command="say_cell", key="shaft", field="material", text="steel 42CrMo4")
    drawing = do(drawing, facts, command="say_cell", key="nut", field="unit_cost", text="1,25")
    rows = {r.key: r for r in parts_rows.rows(drawing, plist, facts)}
    assert (rows["shaft"].cells["material"].text, rows["shaft"].cells["material"].changed) == (
        "steel 42CrMo4",
        True,
    )
    assert rows["shaft"].cells["material"].model == facts.parts["shaft"].material
    assert rows["nut"].cells["cost"].value == 1.25
    assert not rows["side"].cells["material"].changed
    reset = do(drawing, facts, command="say_cell", key="shaft", field="material", text=None)
    assert list(reset.cells) == ["nut"]
    for field, text, says in (
        ("unit_cost", "dear", "not a cost"),
        ("count", "3", "counted or computed"),
        ("make", "borrowed", "made or bought"),
    ):
        with pytest.raises(CommandError, match=says):
            do(drawing, facts, command="say_cell", key="nut", field=field, text=text)
    # sums over the list are those of the whole
    sums = parts_rows.totals(list(rows.values()))
    assert sums["total_mass"] == pytest.approx(facts.total_mass())
    costs = {k: (p.unit_cost or 0) for k, p in facts.parts.items()} | {"nut": 1.25}
    assert sums["cost"] == pytest.approx(sum(costs[i.part] for i in facts.instances))


def test_the_table_reads_back_from_a_spreadsheet_with_numbers_as_numbers(winder: Model) -> None:
    columns = [
        PartsColumn(field=f) for f in ("item", "count", "name", "number", "mass", "total_mass", "cost")
    ]
    drawing, plist = listed(winder.facts, totals=True, columns=columns)
    table = parts_list.table(drawing, plist, winder.facts)
    page = openpyxl.load_workbook(io.BytesIO(tables.xlsx(table, "Parts"))).active
    assert page is not None
    back = [[c.value for c in row] for row in page.iter_rows()]
    assert back[0] == ["Item", "Qty", "Designation", "Reference", "Mass kg", "Total mass kg", "Cost"]
    assert len(back) == 23
    for row in back[1:-1]:
        part = next(p for p in winder.facts.parts.values() if p.number == row[3])
        assert isinstance(row[0], int)
        assert row[4] == pytest.approx(winder.facts.mass(part))
        assert row[5] == pytest.approx(row[1] * row[4])
        assert row[6] == pytest.approx(row[1] * (part.unit_cost or 0))
    assert back[-1][0] == "Total"
    assert back[-1][5] == pytest.approx(winder.facts.total_mass())


@pytest.mark.parametrize(
    ("profile", "titles"),
    [
        (
            ISO_MM,
            ["Item", "Qty", "Designation", "Reference", "Material", "Mass kg", "Remarks"],
        ),  # ISO 7573, from memory
        (
            ASME_INCH,
            ["FIND NO.", "QTY REQD", "PART OR IDENTIFYING NO.", "NOMENCLATURE OR DESCRIPTION", "MATERIAL"],
        ),  # ASME Y14.34, from memory
    ],
)
def test_columns_are_the_standards_and_fit_the_title_block(
    winder: Model, profile: Profile, titles: list[str]
) -> None:
    drawing, plist = listed(winder.facts, profile)
    columns = parts_rows.columns_of(plist, profile)
    assert [c.title for c in columns] == titles
    assert sum(c.width for c in columns) == pytest.approx(180)
    renamed = PartsList(id="p", columns=[PartsColumn(field="name", title="What", width=44)])
    assert parts_rows.columns_of(renamed, profile) == [parts_rows.Column("name", "What", 44)]


@given(st.integers(1, 40), st.integers(3, 12), st.integers(1, 3), st.booleans(), st.booleans())
@settings(max_examples=25)
def test_long_lists_go_on_beside_and_on_another_sheet_without_losing_a_row(
    count: int, most: int, blocks: int, up: bool, attached: bool
) -> None:
    facts = facts_of(
        TreeNode(name="A", children=[leaf(f"part {n:02d} of a long and wordy name") for n in range(count)])
    )
    drawing, first = listed(
        facts,
        most_rows=most,
        blocks=blocks,
        grow="up" if up else "down",
        attached=attached,
        position=Point(x=30, y=200),
    )
    drawing.sheets.append(
        Sheet(
            id="t",
            size="A2",
            annotations=[PartsList(id="q", rest_of="p", attached=False, position=Point(x=30, y=30))],
        )
    )
    laid = [parts_list.laid_out(drawing, s, parts_rows.lists_on(s)[0], facts) for s in drawing.sheets]
    assert laid[0].left_over == max(0, count - most * blocks)
    said: list[str] = []
    for table in laid:
        said += [
            e.text for e in table.ink if isinstance(e, Text) and e.text.isdigit() and e.line == "frame_thin"
        ]
        boxes = text_boxes(table.ink, margin=0.0)
        outer = shapely.box(table.box.left, table.box.bottom, table.box.right, table.box.top)
        assert all(outer.buffer(1e-6).covers(b) for b in boxes)
        tree = shapely.STRtree(boxes)
        a, b = tree.query(boxes, predicate="overlaps")
        assert len(a) == 0  # no lettering on lettering
    numbers = [int(t) for t in said]
    assert sorted(numbers) == sorted(
        [n + 1 for n in range(count)] + [1] * count
    )  # each item once, and its count of one


def test_rows_that_stand_on_no_sheet_are_a_finding_until_another_list_goes_on_with_them() -> None:
    facts = facts_of(TreeNode(name="A", children=[leaf(f"part {n}") for n in range(9)]))
    drawing, plist = listed(facts, most_rows=6, blocks=1)
    sheet = drawing.sheets[0]

    def said() -> tuple[int, list[str]]:
        context = registry.context_of(drawing, sheet, plist, facts)
        return row_of(plist, context).left_over, registry.findings(plist, context)

    assert said() == (3, ["The parts list has no room for 3 of its rows."])
    more = PartsList(id="q", rest_of="p", attached=False, position=Point(x=30, y=30))
    drawing.sheets.append(Sheet(id="t", size="A2", annotations=[more]))
    assert said() == (3, [])
    drawing, plist = listed(facts, most_rows=9, blocks=1)
    sheet = drawing.sheets[0]
    assert said() == (0, [])


def test_a_list_that_stands_on_the_title_block_grows_up_from_it(winder: Model) -> None:
    drawing, plist = listed(winder.facts, grow="down")
    table = parts_list.laid_out(drawing, drawing.sheets[0], plist, winder.facts)
    block_ = block_box(drawing.sheets[0])
    assert (table.box.right, table.box.bottom) == pytest.approx((block_.right, block_.top))
    items = [
        e
        for e in table.ink
        if isinstance(e, Text) and e.text in ("1", "11") and e.at[0] < table.box.left + 14
    ]
    assert [e.text for e in sorted(items, key=lambda e: e.at[1])] == [
        "1",
        "11",
    ]  # the first item next to the head, which is at the foot


def test_a_list_on_the_title_block_is_as_wide_where_a_column_can_give_way(winder: Model) -> None:
    fields = ["item", "count", "name", "number", "material", "mass", "total_mass"]

    def wide(**widths: float) -> tuple[float, float]:
        columns = [PartsColumn(field=f, width=widths.get(f)) for f in fields]
        drawing, plist = listed(winder.facts, columns=columns)
        sheet = drawing.sheets[0]
        box = parts_list.laid_out(drawing, sheet, plist, winder.facts).box
        return box.width, block_box(sheet).width

    list_, block_ = wide()
    assert list_ == pytest.approx(block_)
    list_, block_ = wide(name=120)  # a width that was set stays
    assert list_ > block_ + 40


def test_what_cannot_be_listed_is_refused_in_a_sentence(winder: Model) -> None:
    one = block(10, 20, 30).facts
    drawing, _ = listed(winder.facts)
    with pytest.raises(CommandError, match="made of an assembly"):
        do(
            Drawing(name="x", profile=ISO_MM, projection="first", sheets=[Sheet(id="s", size="A4")]),
            one,
            command="place",
            sheet="s",
            annotations=[{"kind": "parts_list", "id": "p"}],
        )
    for command, says in (
        (
            {"command": "place", "sheet": "s", "annotations": [{"kind": "parts_list", "id": "q"}]},
            "bears a parts list already",
        ),
        ({"command": "change", "ids": ["p"], "values": {"columns": [{"field": "wind"}]}}, "not a column"),
        (
            {
                "command": "change",
                "ids": ["p"],
                "values": {"columns": [{"field": "name"}, {"field": "name"}]},
            },
            "say the same",
        ),
        ({"command": "change", "ids": ["p"], "values": {"most_rows": 2}}, "at least 3"),
        ({"command": "change", "ids": ["p"], "values": {"rest_of": "p"}}, "go on from"),
        ({"command": "change", "ids": ["zz"], "values": {"totals": True}}, "no longer on the drawing"),
        ({"command": "say_cell", "key": "ghost", "field": "name", "text": "x"}, "no longer in the model"),
        ({"command": "number_item", "key": "ghost", "number": 4}, "not in a parts list"),
    ):
        with pytest.raises(CommandError, match=says):
            do(drawing, winder.facts, **command)


# ---- balloons ----------------------------------------------------------------------------------------------
@pytest.fixture(scope="module")
def winder_views(winder: Model) -> dict[str, tuple[View, ViewGeometry]]:
    prepared = Prepared(winder)
    x = -float(prepared.middle[0])
    line = CuttingLine(points=[Point(x=x, y=-200), Point(x=x, y=200)], viewer=1, base=FRONT)
    at = Point(x=300, y=200)
    views = [
        View(id="front", kind="main", orientation=FRONT, position=at),
        View(id="top", kind="projected", orientation=PRINCIPAL["top"], position=at),
        View(id="picture", kind="pictorial", orientation=isometric(FRONT), position=at),
        View(
            id="cut",
            kind="section",
            orientation=across(FRONT, (0.0, 1.0), 1, "first"),
            position=at,
            section=Section(line=line),
        ),
    ]
    return {v.id: (v, derive(prepared, derivation_of(v, winder.facts))) for v in views}


def numbered_view(
    winder: Model,
    view: View,
    geometry: ViewGeometry,
    scale: float,
    profile: Profile,
    known: list[Balloon] | None = None,
    sized: Any = (),
    minded: bool = True,
) -> Any:
    drawing, _ = listed(winder.facts, profile)
    numbers = balloon.numbers_of(drawing, winder.facts)
    frame = ViewFrame.of(view, winder.facts, scale)
    box = shapely.box(*(np.array(geometry.low) * scale), *(np.array(geometry.high) * scale))
    room = shapely.box(-600, -500, 600, 500).difference(
        shapely.union_all([box.buffer(1.0, join_style="mitre"), *shapely.buffer(sized, 1.0)])
    )
    hatching = hatch_angles(view, geometry, winder.facts, drawing, scale)
    ids = [f"b{n}" for n in range(40)]
    return (
        numbers,
        frame,
        box,
        hatching,
        number_all.proposed(
            known or [],
            geometry,
            numbers,
            seen_in(winder.facts, frame, profile, scale, view),
            room,
            hatching,
            ids,
            sized if minded else (),
        ),
    )


@pytest.mark.parametrize("profile", [ISO_MM, ASME_INCH])
@pytest.mark.parametrize("scale", [0.2, 0.5, 1.0])
@pytest.mark.parametrize("name", ["front", "top", "picture", "cut"])
def test_all_parts_of_a_view_are_numbered_once_and_no_leader_crosses(
    winder: Model,
    winder_views: dict[str, tuple[View, ViewGeometry]],
    name: str,
    scale: float,
    profile: Profile,
) -> None:
    view, geometry = winder_views[name]
    numbers, frame, box, hatching, made = numbered_view(winder, view, geometry, scale, profile)
    keys = [numbers.keys[b.instance] for b in made]
    seen = {
        numbers.keys[geometry.instances[c.instance]]
        for c in geometry.curves
        if c.visible and c.edge_class != "smooth"
    }
    assert len(set(keys)) == len(keys)
    assert set(keys) >= seen
    assert all(
        b.on == "face" for b, key in zip(made, keys, strict=True) if key not in seen
    )  # seen between the lines of others
    r = balloon.radius(profile)
    tips = np.array([balloon.tip_of(b, seen_in(facts=winder.facts, frame=frame, scale=scale)) for b in made])
    ends = np.array([b.place.at(scale) for b in made])
    leaders = shapely.linestrings(np.stack([tips, ends], 1))
    for i, j in itertools.combinations(range(len(made)), 2):
        assert not shapely.crosses(leaders[i], leaders[j]), (keys[i], keys[j])
        assert np.linalg.norm(ends[i] - ends[j]) > 2 * r  # no balloon on another
    circles = shapely.buffer(shapely.points(ends), r)
    assert not shapely.intersects(circles, box).any()
    for b, tip, end in zip(made, tips, ends, strict=True):
        # in a row or a column about the view
        away = [
            abs(end[0] - box.bounds[0]),
            abs(end[0] - box.bounds[2]),
            abs(end[1] - box.bounds[1]),
            abs(end[1] - box.bounds[3]),
        ]
        rings = [number_all.AWAY + r + n * 2.8 * r for n in range(8)]
        assert min(abs(a - ring) for a in away for ring in rings) < 1e-6
        number = geometry.instances.index(b.instance)
        if b.on == "face":
            assert geometry.seen is not None
            assert geometry.seen.at(*(tip / scale)) == number
            if number in hatching:
                turn = math.atan2(end[1] - tip[1], end[0] - tip[0])
                assert abs(math.remainder(turn - hatching[number], math.pi)) > math.radians(8)
        else:
            mine = [c for c in geometry.curves if c.instance == number and c.visible]
            assert min(np.linalg.norm(pointing.nearest(c, tip / scale) - tip / scale) for c in mine) < 1e-3


def test_balloons_keep_off_the_sizes_of_a_view_and_leaders_off_their_lines(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]]
) -> None:
    """Leader lines do not cross dimension lines where that can be helped (ISO 128-22, ISO 129-1; from
    memory)."""
    view, geometry = winder_views["top"]
    (x0, y0), (x1, y1) = np.array(geometry.low) * 0.5, np.array(geometry.high) * 0.5
    rows = [shapely.LineString([(x0, y), (x1, y)]) for y in (y0 - 10, y0 - 17)] + [
        shapely.LineString([(x0 - 10, y0), (x0 - 10, y1)])
    ]
    r = balloon.radius(ISO_MM)

    def crossings(made: list[Balloon], frame: ViewFrame) -> int:
        ends = np.array([b.place.at(0.5) for b in made])
        leaders = shapely.linestrings(
            np.stack(
                [
                    [balloon.tip_of(b, seen_in(facts=winder.facts, frame=frame, scale=0.5)) for b in made],
                    ends,
                ],
                1,
            )
        )
        return int(sum(shapely.crosses(leaders, row).sum() for row in rows))

    _, frame, _, _, bare = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    circles = shapely.buffer(shapely.points([b.place.at(0.5) for b in bare]), r)
    assert any(shapely.intersects(circles, row).any() for row in rows)
    _, frame, _, _, made = numbered_view(winder, view, geometry, 0.5, ISO_MM, sized=rows)
    circles = shapely.buffer(shapely.points([b.place.at(0.5) for b in made]), r)
    assert not any(shapely.intersects(circles, row).any() for row in rows)
    assert len(made) == len(bare)
    assert crossings(made, frame) < crossings(bare, frame) or crossings(made, frame) == 0


def test_no_leader_runs_over_a_small_part_that_another_balloon_points_at(winder: Model) -> None:
    """A fitter who follows the leader of the plate must not end at the washer before it (common practice)."""
    orientation = Orientation(
        right=[math.sqrt(0.5), math.sqrt(0.5), 0], up=[-math.sqrt(1 / 6), math.sqrt(1 / 6), math.sqrt(2 / 3)]
    )
    view = View(
        id="apart",
        kind="pictorial",
        orientation=orientation,
        position=Point(x=300, y=200),
        exploded="For assembly",
    )
    geometry = derive(Prepared(winder), derivation_of(view, winder.facts))
    assert geometry.seen is not None
    numbers, frame, _, _, made = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    raster, small = geometry.seen.raster(), []
    for b in made:
        row, column = np.nonzero(raster == geometry.instances.index(b.instance))
        at = (
            np.stack(
                [
                    geometry.seen.left + (column + 0.5) * geometry.seen.cell,
                    geometry.seen.bottom + (row + 0.5) * geometry.seen.cell,
                ],
                1,
            )
            * 0.5
        )
        if np.ptp(at, axis=0).max() < 2 * number_all.SMALL:
            small.append((b, shapely.multipoints(at)))
    assert len(small) >= 2  # cap screw, washer
    for b in made:
        leader = shapely.LineString(
            [balloon.tip_of(b, seen_in(facts=winder.facts, frame=frame, scale=0.5)), b.place.at(0.5)]
        )
        for other, shown in small:
            assert other.id == b.id or leader.distance(shown) > 0.5, (b.instance, other.instance)


def test_numbering_again_keeps_what_is_pointed_at(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]]
) -> None:
    view, geometry = winder_views["picture"]
    *_, made = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    kept = [b.model_copy(update={"quantity": True}) for b in made[:3]]
    *_, again = numbered_view(winder, view, geometry, 0.5, ISO_MM, kept)
    assert [(b.id, b.tip, b.quantity) for b in again[:3]] == [(b.id, b.tip, True) for b in kept]
    assert len(again) == len(made)


def test_leaders_are_no_longer_than_the_matching_of_least_length(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]]
) -> None:
    """The balloons as they stand, given to the parts as an assignment solver would (SciPy)."""
    view, geometry = winder_views["front"]
    numbers, frame, _, _, made = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    tips = np.array([balloon.tip_of(b, seen_in(facts=winder.facts, frame=frame, scale=0.5)) for b in made])
    ends = np.array([b.place.at(0.5) for b in made])
    length = np.linalg.norm(tips[:, None] - ends[None, :], axis=2)
    least = length[linear_sum_assignment(length)].sum()
    assert len(made) > 5
    assert np.trace(length) <= 1.05 * least


@pytest.mark.parametrize("scale", [0.5, 1.0])
def test_a_leader_ends_in_an_arrow_on_an_edge_and_a_dot_on_a_face(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]], scale: float
) -> None:
    view, geometry = winder_views["front"]
    drawing, _ = listed(winder.facts)
    numbers, frame = balloon.numbers_of(drawing, winder.facts), ViewFrame.of(view, winder.facts, scale)
    c = next(
        c
        for c in geometry.curves
        if c.kind == "arc" and c.visible and geometry.instances[c.instance] == "handle"
    )
    rim = np.array(
        [c.data[0] + c.data[2] * math.cos(0.3 + c.data[3]), c.data[1] + c.data[2] * math.sin(0.3 + c.data[3])]
    )
    for place, on in ((rim + [0.3 / scale, 0.3 / scale], "edge"), (np.array([-100.0, 0.0]), "face")):
        found = pointing.target_at(place, geometry, scale)
        assert found.on == on
        tip = pointing.tip_at(found.instance, found.at, seen_in(facts=winder.facts, frame=frame))
        b = Balloon(
            id="b",
            view="front",
            instance=found.instance,
            tip=tip,
            on=found.on,
            place=balloon.placed(np.array([-90.0, 80.0]), scale),
        )  # type: ignore[arg-type]
        ink = balloon.ink_of(
            b, numbers, seen_in(facts=winder.facts, frame=frame, profile=ISO_MM, scale=scale)
        )
        end = next(e for e in ink if isinstance(e, Fill))
        at = found.at * scale
        if on == "edge":
            assert len(end.points) == 3
            assert math.dist(end.points[0], at) < 1e-3
        else:
            assert len(end.points) == 16
            assert math.dist(np.mean(end.points, axis=0), at) < 1e-3
        leader = next(e for e in ink if isinstance(e, Line))
        assert math.dist(leader.a, (-90, 80)) == pytest.approx(balloon.radius(ISO_MM), abs=1e-3)
        assert [e.text for e in ink if isinstance(e, Text)] == [
            str(numbers.items[numbers.keys[found.instance]])
        ]
    with pytest.raises(Exception, match="no part here"):
        pointing.target_at(np.array([500.0, 0.0]), geometry, scale)


def test_balloons_follow_the_parts_list_and_their_part(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]]
) -> None:
    view, geometry = winder_views["front"]
    *_, made = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    b = next(b for b in made if b.instance == "handle")
    drawing, _ = listed(winder.facts)
    drawing.sheets[0].views, drawing.sheets[0].scale = [view], Scale(drawn=1, true=2)
    drawing = do(drawing, winder.facts, command="place", known="replace", annotations=[b.model_dump()])
    drawing = do(drawing, winder.facts, command="number_item", key="handle", number=77)
    drawing = do(
        drawing,
        winder.facts,
        command="change",
        ids=[b.id],
        values={"stacked": ["washer", "nut"], "stack": "down", "quantity": True},
    )

    nudged = {"model": b.place.model.model_dump(), "paper": {"x": 1.0, "y": 0.0}}
    beside = (
        do(drawing, winder.facts, command="move", moves=[{"id": b.id, "place": nudged}])
        .sheets[0]
        .annotation(b.id)
    )
    assert isinstance(beside, Balloon)
    assert beside.place.at(0.5) == pytest.approx((b.place.at(0.5)[0] + 1, b.place.at(0.5)[1]))

    def texts(facts: Facts) -> list[str]:
        group = annotation_groups(drawing, drawing.sheets[0], facts)[b.id]
        assert not isinstance(group, str), group
        return [e.text for e in group.elements if isinstance(e, Text)]

    def findings() -> list[str]:
        sheet = drawing.sheets[0]
        return [
            f
            for a in sheet.annotations
            for f in registry.findings(a, registry.context_of(drawing, sheet, a, winder.facts))
        ]

    assert findings() == []
    drawing = do(drawing, winder.facts, command="change", ids=[b.id], values={"stacked": ["no such item"]})
    assert findings() == ["A balloon has no number: its part is in no parts list."]
    drawing = do(drawing, winder.facts, command="change", ids=[b.id], values={"stacked": ["washer", "nut"]})
    numbers = balloon.numbers_of(drawing, winder.facts).items
    assert texts(winder.facts) == ["77", "1", str(numbers["washer"]), "12", str(numbers["nut"]), "1"]
    circles = [
        e
        for e in annotation_groups(drawing, drawing.sheets[0], winder.facts)[b.id].elements
        if isinstance(e, Arc)
    ]  # type: ignore[union-attr]
    assert {round(c.center[0], 6) for c in circles} == {round(b.place.at(0.5)[0], 6)}
    # the handle moved in the model: the leader's end goes along, the same share of it
    moved = winder.facts.model_copy(deep=True)
    instance = next(i for i in moved.instances if i.path == "handle")
    instance.matrix[0][3] += 40
    frame = ViewFrame.of(view, winder.facts, 0.5)
    assert balloon.tip_of(b, seen_in(facts=moved, frame=frame, scale=0.5)) - balloon.tip_of(
        b, seen_in(facts=winder.facts, frame=frame, scale=0.5)
    ) == pytest.approx([20, 0])
    gone = winder.facts.model_copy(
        update={"instances": [i for i in winder.facts.instances if i.path != "handle"]}
    )
    assert (
        annotation_groups(drawing, drawing.sheets[0], gone)[b.id]
        == "The part this points at is no longer in the model."
    )


def test_a_sheet_with_list_and_balloons_goes_into_one_picture(
    winder: Model, winder_views: dict[str, tuple[View, ViewGeometry]]
) -> None:
    view, geometry = winder_views["cut"]
    *_, made = numbered_view(winder, view, geometry, 0.5, ISO_MM)
    drawing, _ = listed(winder.facts)
    sheet = drawing.sheets[0]
    sheet.views, sheet.annotations, sheet.scale = [view], [*sheet.annotations, *made], Scale(drawn=1, true=2)
    out = compose(drawing, sheet, winder.facts, {"cut": geometry})
    assert out.lost == {}
    texts = [
        e.text
        for g in out.ink.groups
        if g.kind in ("annotation", "parts-list")
        for e in g.elements
        if isinstance(e, Text)
    ]
    assert set(texts) >= {"Flanged bush", "HB-207", "11", "Designation"}


# ---- exploded views ----------------------------------------------------------------------------------------
def test_the_steps_of_a_state_add_up_and_play_in_order() -> None:
    state = ExplodedState(
        name="x",
        steps=[
            Step(instances=["a", "b"], direction=[0, 0, 2], distance=10),
            Step(instances=["a"], direction=[3, 4, 0], distance=5),
        ],
    )
    assert exploded.moves(state) == {"a": pytest.approx([3, 4, 10]), "b": pytest.approx([0, 0, 10])}
    assert exploded.moves(state, 0.25) == {"a": pytest.approx([0, 0, 5]), "b": pytest.approx([0, 0, 5])}
    assert exploded.moves(state, 0.75) == {"a": pytest.approx([1.5, 2, 10]), "b": pytest.approx([0, 0, 10])}
    assert exploded.moves(state, 0.0) == {}


def test_proposed_steps_take_the_winder_apart_without_anything_in_the_way(winder: Model) -> None:
    """Each part, taken back in the order proposed, goes straight to its place: its box meets no other box it
    did not touch there."""
    facts = winder.facts
    state = exploded.proposed(facts)
    exploded.checked([state], facts)
    moved_ = [path for step in state.steps for path in step.instances]
    assert len(set(moved_)) == len(moved_) == len(facts.instances) - 1  # the largest stays
    largest = max(facts.instances, key=lambda i: facts.parts[i.part].volume)
    assert (
        facts.parts[next(i for i in facts.instances if i.path not in moved_).part].volume
        == facts.parts[largest.part].volume
    )
    part_of = {i.path: i.part for i in facts.instances}
    together: dict[str, list[int]] = {}
    for s in state.steps:
        (of,) = {part_of[p] for p in s.instances}
        together.setdefault(of, []).append(len(s.instances))
    assert sorted(together["screw10"]) == [4, 6, 6]  # of the feet, and of both sides of the frame
    assert together["washer"] == [6, 6]
    assert together["screw5"] == [4, 4]
    step = {p: s for s in state.steps for p in s.instances}
    assert abs(step["frame-screw-11"].direction[1]) == 1  # screws go along their own axes
    assert abs(step["foot-screw-1"].direction[2]) == 1
    assert step["frame-screw-11"].distance > step["washer-11"].distance > 0
    apart = exploded.moved(facts, exploded.moves(state))
    boxes = [exploded._box(i, apart) for i in apart.instances]
    for a, b in itertools.combinations(range(len(boxes)), 2):
        if {apart.instances[a].path, apart.instances[b].path} & {"shaft", "handle", "bracket", "nut"}:
            continue  # these lie beside others, whose boxes are larger than they
        depth = np.minimum(boxes[a][1], boxes[b][1]) - np.maximum(boxes[a][0], boxes[b][0])
        assert depth.min() < 1e-6, (apart.instances[a].path, apart.instances[b].path)
    assert apart.low == facts.low


def test_an_exploded_view_shows_the_parts_apart_with_trails_in_the_gaps(winder: Model) -> None:
    facts = winder.facts
    assert [s.name for s in facts.exploded] == ["For assembly"]
    view = View(
        id="v",
        kind="pictorial",
        orientation=isometric(FRONT),
        position=Point(x=300, y=200),
        exploded="For assembly",
    )
    what = derivation_of(view, facts)
    geometry = derive(Prepared(winder), what)
    together = derive(Prepared(winder), derivation_of(view.model_copy(update={"exploded": ""}), facts))
    assert geometry.high[0] - geometry.low[0] > 1.5 * (together.high[0] - together.low[0])
    assert together.trails == []
    # screws and washers of both sides on one axis; bushes, caps and nut on that of the shaft
    assert [len(t.instances) for t in what.trails if "frame-screw-11" in t.instances] == [4]
    (line,) = [set(t.instances) for t in what.trails if "nut" in t.instances]
    assert line == {"bush-1", "bush-2", "cap-1", "cap-2", "nut"}
    frame = ViewFrame.of(view, facts)
    moves = exploded.moves(facts.exploded[0])
    handle = next(i for i in facts.instances if i.path == "handle")
    at = np.array(frame.placed(handle, [0, 0, 0]))[:3, 3]
    assert at - np.array(handle.matrix)[:3, 3] == pytest.approx(moves["handle"])
    ways = [frame.direction(np.array(s.direction)) for s in facts.exploded[0].steps]
    for trail in geometry.trails:
        a, b = np.array(trail.data[:2]), np.array(trail.data[2:])
        u = (b - a) / np.linalg.norm(b - a)
        assert any(abs(float(u[0] * d[1] - u[1] * d[0])) < 1e-3 for d in ways)
    assert len(geometry.trails) >= 8


def test_trails_are_left_out_one_by_one_and_states_that_are_gone_show_the_parts_together(
    winder: Model,
) -> None:
    facts = winder.facts
    view = View(
        id="v",
        kind="pictorial",
        orientation=isometric(FRONT),
        position=Point(x=300, y=200),
        exploded="For assembly",
    )
    geometry = derive(Prepared(winder), derivation_of(view, facts))
    all_ = trail_ink(view, geometry, 0.5)
    axis = ["washer-11", "frame-screw-11", "washer-21", "frame-screw-21"]
    off = trail_ink(view.model_copy(update={"trails_off": axis}), geometry, 0.5)
    assert 0 < len(off) < len(all_)
    assert {e.line for e in all_ if isinstance(e, Line)} == {"center"}
    gone = view.model_copy(update={"exploded": "Once upon a time"})
    assert derivation_of(gone, facts).moves == {}
    drawing = Drawing(
        name="x", profile=ISO_MM, projection="first", sheets=[Sheet(id="s", size="A2", views=[view])]
    )
    with pytest.raises(CommandError, match="no exploded state"):
        do(drawing, facts, command="change_view", view="v", exploded="Once upon a time")


@pytest.mark.parametrize(
    ("states", "says"),
    [
        ([{"name": "a", "steps": []}, {"name": "A", "steps": []}], "two exploded states"),
        (
            [{"name": "a", "steps": [{"instances": ["shaft"], "direction": [0, 0, 0], "distance": 5}]}],
            "has no direction",
        ),
        (
            [{"name": "a", "steps": [{"instances": ["ghost"], "direction": [1, 0, 0], "distance": 5}]}],
            "not in the assembly",
        ),
    ],
)
def test_states_that_cannot_be_are_refused_in_a_sentence(winder: Model, states: Any, says: str) -> None:
    with pytest.raises(ModelError, match=says):
        exploded.checked(TypeAdapter(list[ExplodedState]).validate_python(states), winder.facts)
