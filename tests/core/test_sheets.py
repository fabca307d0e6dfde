"""Sheets of a drawing: added, put in order, copied, removed, one for each part; their sizes; masses in their
title blocks."""

import math
import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds.linear import LinearDimension
from drafting.commands import execute, patched
from drafting.commands.annotations import Place
from drafting.commands.sheets import AddPartSheets, AddSheet, ChangeSheet, CopySheet, MoveSheet, RemoveSheet
from drafting.commands.views import PlaceMainView, PlaceProjectedView
from drafting.document import Drawing, Pick, Placement, Point, Sheet
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.sheet.frame import blank_fields, field_values
from drafting.sheet.layout import drawing_room, sheet_size
from drafting.standards import materials, sheets
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.views.extents import view_box
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import block, demo
from tests.core.contexts import seen_in

INCH = 25.4


def empty(standard: str = "ISO") -> Drawing:
    iso = standard == "ISO"
    return Drawing(
        name="x",
        profile=ISO_MM if iso else ASME_INCH,
        projection="first" if iso else "third",
        sheets=[Sheet(id="a", name="Sheet 1", size="A3" if iso else "B")],
    )


def names(d: Drawing) -> list[str]:
    return [s.id for s in d.sheets]


def test_sheets_are_added_after_one_moved_and_removed_and_every_step_is_undone() -> None:
    start = d = empty()
    undo = []
    for command in (
        AddSheet(command="add_sheet", id="b"),
        AddSheet(command="add_sheet", id="c", after="a", size="A1"),
        MoveSheet(command="move_sheet", sheet="a", place=2),
        ChangeSheet(command="change_sheet", sheet="c", name="Weldment"),
        RemoveSheet(command="remove_sheet", sheet="b"),
    ):
        d, _, inverse = execute(d, command)
        undo.append(inverse)
    assert names(d) == ["c", "a"]
    assert (d.sheets[0].name, d.sheets[0].size) == ("Weldment", "A1")
    for inverse in reversed(undo):
        d = patched(d, inverse)
    assert d == start


@given(st.permutations("abcde"), st.integers(0, 4), st.integers(0, 8))
def test_a_moved_sheet_stands_where_it_was_put_and_the_others_keep_their_order(
    order: list[str], which: int, place: int
) -> None:
    d = empty()
    d.sheets = [Sheet(id=k, size="A4") for k in order]
    d, _, _ = execute(d, MoveSheet(command="move_sheet", sheet=order[which], place=place))
    rest = [k for k in order if k != order[which]]
    assert names(d).index(order[which]) == min(place, 4)
    assert [k for k in names(d) if k != order[which]] == rest


def test_the_last_sheet_stays() -> None:
    with pytest.raises(CommandError, match="at least one"):
        execute(empty(), RemoveSheet(command="remove_sheet", sheet="a"))
    with pytest.raises(CommandError, match="no longer"):
        execute(empty(), MoveSheet(command="move_sheet", sheet="gone", place=0))


def with_views() -> tuple[Drawing, Facts]:
    facts = block(60, 40, 30).facts
    d = empty()
    d, _, _ = execute(
        d,
        PlaceMainView(
            command="place_main_view",
            id="m",
            sheet="a",
            orientation=PRINCIPAL["front"],
            position=Point(x=150, y=200),
        ),
        facts,
    )
    d, _, _ = execute(
        d,
        PlaceProjectedView(
            command="place_projected_view", id="p", parent="m", relation="below", position=Point(x=150, y=120)
        ),
        facts,
    )
    pick = next(Pick(instance="part", source=e.name) for e in facts.parts["part"].edges if e.length == 60)
    size = LinearDimension(
        id="s",
        view="m",
        picks=[pick],
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=30)),
        direction="horizontal",
    )
    d, _, _ = execute(d, Place(command="place", annotations=[size]), facts)
    return d, facts


def test_a_copied_sheet_has_views_and_sizes_of_its_own_that_hang_together_as_before() -> None:
    d, facts = with_views()
    d, _, _ = execute(d, CopySheet(command="copy_sheet", sheet="a", id="copy"), facts)
    first, second = d.sheets
    assert second.id == "copy"
    assert {v.id for v in first.views}.isdisjoint(v.id for v in second.views)
    assert second.views[1].parent == second.views[0].id
    size = second.annotations[0]
    assert size.view == second.views[0].id
    assert registry.value(
        size, seen_in(facts=facts, frame=ViewFrame.of(second.views[0], facts))
    ) == pytest.approx(60)


def test_views_of_a_removed_sheet_leave_their_children_unaligned() -> None:
    d, facts = with_views()
    from drafting.commands.views import MoveToSheet

    d, _, _ = execute(d, AddSheet(command="add_sheet", id="b"))
    d, _, _ = execute(d, MoveToSheet(command="move_to_sheet", view="p", sheet="b"), facts)
    d, _, _ = execute(d, RemoveSheet(command="remove_sheet", sheet="a"), facts)
    (view,) = d.sheets[0].views
    assert (view.id, view.parent, view.relation) == ("p", None, None)


def test_one_sheet_for_each_part_shows_only_that_part_within_the_frame_and_names_it() -> None:
    model = demo("HB-200")
    d, _, _ = execute(empty(), AddPartSheets(command="add_part_sheets"), model.facts)
    assert len(d.sheets) == 1 + len(model.facts.parts)
    for sheet in d.sheets[1:]:
        found = model.facts.part_of(sheet.subject)
        assert found
        instance, part = found
        assert len(sheet.views) == 3
        room = drawing_room(sheet)
        for view in sheet.views:
            assert set(view.without) == {i.path for i in model.facts.instances} - {instance.path}
            left, bottom, right, top = view_box(view, sheet, model.facts)
            x, y = view.position.x, view.position.y
            assert room.left - 1e-6 <= x + left < x + right <= room.right + 1e-6
            assert room.bottom - 1e-6 <= y + bottom < y + top <= room.top + 1e-6
        said = field_values(d, sheet, model.facts)
        assert (said["title"], said["number"], said["material"]) == (part.name, part.number, part.material)
    with pytest.raises(CommandError, match="has a sheet already"):
        execute(d, AddPartSheets(command="add_part_sheets"), model.facts)
    with pytest.raises(CommandError, match="single part"):
        execute(empty(), AddPartSheets(command="add_part_sheets"), demo("HB-204").facts)


# ---- sizes of sheets ---------------------------------------------------------------------------------------


def test_sheet_sizes_of_both_standards() -> None:
    """ISO 216 by its own rule: A0 has 1 m2 and sides as 1 to sqrt 2, each next size is half; Y14.1 from the
    list in inches (memory)."""
    long, short = 1000 * 2**0.25, 1000 / 2**0.25
    for name in ("A0", "A1", "A2", "A3", "A4"):
        s = sheets.size(name)
        assert (s.short, s.long) == (pytest.approx(short, abs=0.55), pytest.approx(long, abs=0.55))
        long, short = short, math.floor(long + 0.5) / 2
    for name, a, b in (
        ("A", 8.5, 11),
        ("B", 11, 17),
        ("C", 17, 22),
        ("D", 22, 34),
        ("E", 34, 44),
        ("F", 28, 40),
    ):
        s = sheets.size(name)
        assert (s.short, s.long) == (pytest.approx(a * INCH), pytest.approx(b * INCH))


@given(st.floats(100, 5000).map(lambda v: round(v, 1)), st.floats(100, 5000).map(lambda v: round(v, 1)))
def test_a_sheet_of_ones_own_has_the_sides_that_were_written(width: float, height: float) -> None:
    d, _, _ = execute(empty(), ChangeSheet(command="change_sheet", sheet="a", size=f"{width:g} x {height:g}"))
    assert sheet_size(d.sheets[0]) == (pytest.approx(width), pytest.approx(height))


@pytest.mark.parametrize(
    "size", ["0 x 0", "10000 x 300", "99 x 400", "A9", "", "wide", "300", "-5 x 300", "1e3 x 300"]
)
def test_a_sheet_that_cannot_be_is_refused_and_nothing_changes(size: str) -> None:
    d = empty()
    with pytest.raises(CommandError, match=r"sheet size|cannot be"):
        execute(d, ChangeSheet(command="change_sheet", sheet="a", size=size))
    assert d == empty()


def test_views_keep_their_place_to_the_middle_of_the_sheet_when_its_size_changes() -> None:
    d, facts = with_views()
    before = [(v.position.x - 210, v.position.y - 148.5) for v in d.sheets[0].views]
    d, _, _ = execute(d, ChangeSheet(command="change_sheet", sheet="a", size="A1"), facts)
    w, h = sheet_size(d.sheets[0])
    assert [(v.position.x - w / 2, v.position.y - h / 2) for v in d.sheets[0].views] == before


# ---- masses ------------------------------------------------------------------------------------------------


@given(st.floats(5, 80), st.floats(5, 80), st.floats(5, 80))
def test_the_mass_of_a_block_is_its_volume_times_density(a: float, b: float, c: float) -> None:
    """Volume by hand; carbon steel 7.85 g/cm3 (handbook value, memory)."""
    model = block(a, b, c)
    part = model.facts.parts["part"].model_copy(update={"material": "steel S235"})
    facts = model.facts.model_copy(update={"parts": {"part": part}})
    assert facts.total_mass() == pytest.approx(a * b * c * 7.85e-6, rel=1e-9)


def test_an_assembly_weighs_the_sum_of_its_instances_and_is_incomplete_without_a_material() -> None:
    facts = demo("HB-200").facts
    by_hand = sum(
        facts.parts[i.part].volume * materials.DENSITIES[facts.parts[i.part].material] * 1e-6
        for i in facts.instances
    )
    assert facts.total_mass() == pytest.approx(by_hand)
    d = empty()
    kg = float(re.match(r"[\d.]+", field_values(d, d.sheets[0], facts)["mass"]).group())  # type: ignore[union-attr]
    assert kg == pytest.approx(by_hand, rel=5e-3)
    key = next(iter(facts.parts))
    lacking = facts.model_copy(
        update={"parts": {**facts.parts, key: facts.parts[key].model_copy(update={"material": ""})}}
    )
    assert lacking.total_mass() is None
    assert field_values(d, d.sheets[0], lacking)["mass"] == "incomplete"
    assert "mass" in blank_fields(d, lacking)
    assert lacking.without_mass() == [key]


def test_an_office_s_own_material_counts_before_the_library_s() -> None:
    facts = block(100, 100, 100).facts
    part = facts.parts["part"].model_copy(update={"material": "moor ash"})
    own = facts.model_copy(update={"parts": {"part": part}})
    assert own.total_mass() is None
    assert own.model_copy(update={"densities": {"moor ash": 0.65}}).total_mass() == pytest.approx(0.65)


def test_every_density_of_the_library_is_possible_and_named_once() -> None:
    assert len(materials.DENSITIES) == len(materials.LIBRARY) > 40
    limits = {
        "steel": (7.6, 7.9),
        "stainless steel": (7.7, 8.1),
        "cast iron": (6.9, 7.4),
        "aluminium": (2.6, 2.9),
        "copper alloy": (8.3, 9.0),
        "titanium": (4.4, 4.6),
        "plastic": (0.9, 2.3),
        "rubber": (0.9, 1.6),
        "wood": (0.3, 1.1),
    }  # handbook ranges, memory
    for m in materials.LIBRARY:
        low, high = limits[m.family]
        assert low <= m.density <= high, m.designation
    for wrong in (
        ("", 1.0),
        ("steel S235", 7.85),
        ("lead foam", 0.0),
        ("neutronium", 99.0),
        ("x", float("nan")),
    ):
        with pytest.raises(CommandError):
            materials.checked(*wrong)
