"""Lean proposals, judged by the verdict itself: parts of the office, files of others, random plates."""

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds import hole_table
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.proposing import find_centers
from drafting.completeness.gaps import gaps
from drafting.completeness.ordinates import as_ordinates
from drafting.completeness.proposal import Proposed, closing, elsewhere, proposal
from drafting.completeness.verdict import Verdict, verdict
from drafting.completeness.wanted import Choice
from drafting.context import Context
from drafting.data import Point
from drafting.document import Dimension, Drawing, Sheet
from drafting.features.recognized import features
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of, facing
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import PRINCIPAL
from drafting.views.present import presented
from drafting.views.view import View
from tests.core.disguises import DISGUISES, written
from tests.core.finished import PARTS, finished, modeled
from tests.core.test_completeness import less, random_plate

CENTERS = ("center_mark", "center_line", "bolt_circle")


def geometries(drawing: Drawing, sheet: Sheet, model: Model) -> dict[str, ViewGeometry]:
    prepared = Prepared(model)
    return {
        v.id: presented(v, sheet, model.facts, derive(prepared, derivation_of(v, model.facts)))
        for v in sheet.views
    }


def completed(
    drawing: Drawing,
    model: Model,
    choice: Choice = Choice(),  # noqa: B008  frozen
    ordinates: bool = False,
) -> tuple[list[Proposed], Verdict]:
    """What is proposed for the first sheet, and the verdict once it is there."""
    sheet = drawing.sheets[0]
    found = proposal(drawing, sheet, geometries(drawing, sheet, model), model.facts, choice=choice)
    if ordinates:
        found = as_ordinates(found, drawing, sheet, model.facts)
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *(p.annotation for p in found)]})
    whole = drawing.model_copy(update={"sheets": [full, *drawing.sheets[1:]]})
    return found, verdict(whole, model.facts)


def with_centers(drawing: Drawing, model: Model) -> Drawing:
    """The drawing with the centers that its views lack."""
    sheet = drawing.sheets[0]
    found: list[Any] = []
    shown = geometries(drawing, sheet, model)
    for view in sheet.views:
        found += find_centers.lacking(shown[view.id], Context(drawing, sheet, model.facts, view))
    sheet = sheet.model_copy(update={"annotations": [*sheet.annotations, *found]})
    return drawing.model_copy(update={"sheets": [sheet]})


def standard(model: Model, *names: str) -> Drawing:
    views = [
        View(id=n, kind="main", orientation=PRINCIPAL[n], position=Point(x=100 + 90 * k, y=150))  # type: ignore[index]
        for k, n in enumerate(names)
    ]
    sheet = Sheet(id="s", name="1", size="A2", views=views)
    return Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])


@pytest.mark.parametrize("number", PARTS)
def test_from_nothing_the_views_say_all_and_nothing_twice(number: str) -> None:
    """Only centers are there; what is proposed is complete and lean, and about as much as a drafter
    placed."""
    drawing = finished(number)
    gone = {a.id for s in drawing.sheets for a in s.annotations if a.kind not in CENTERS}
    found, v = completed(less(drawing, gone), modeled(number))
    assert (v.missing, v.twice, v.silent) == (0, {}, {})
    placed = sum(bool(one.rows) for one in verdict(drawing, modeled(number).facts).said)
    assert len(found) <= placed + 4


@pytest.mark.parametrize("number", PARTS)
def test_what_a_drafter_placed_is_only_completed(number: str) -> None:
    drawing, model = finished(number), modeled(number)
    assert completed(drawing, model)[0] == []
    for one in verdict(drawing, model.facts).said[::4]:
        found, v = completed(less(drawing, {one.id}), model)
        assert (v.missing, v.twice) == (0, {}), one.id
        assert len(found) <= max(1, len(one.rows)), one.id


@pytest.mark.parametrize("name", ["of splines in halves", "elsewhere, in inches"])
@pytest.mark.parametrize("number", ["HB-204", "HB-207", "HB-214"])
def test_files_of_others_are_sized_as_well(number: str, name: str, tmp_path: Path) -> None:
    change, unit = DISGUISES[name]
    model = written(change(modeled(number).shapes["part"]), tmp_path, unit)
    drawing = standard(model, "front", "top", "right")
    if "elsewhere" not in name:
        drawing = with_centers(drawing, model)
    found, v = completed(drawing, model)
    assert v.twice == {}
    if "elsewhere" not in name:  # turned as a whole, few views show it squarely
        assert (v.missing, v.silent) == (0, {})
        assert found


@settings(max_examples=10, deadline=None, derandomize=True)
@given(data=st.data())
def test_random_plates_are_sized_from_nothing(data: Any) -> None:
    model, count = random_plate(data.draw)
    drawing = with_centers(standard(model, "top", "front", "right"), model)
    found, v = completed(drawing, model)
    assert (v.missing, v.twice, v.silent) == (0, {}, {})
    assert len(found) <= count


def bare(number: str) -> Drawing:
    """One of the office's drawings with its centers alone."""
    drawing = finished(number)
    return less(drawing, {a.id for s in drawing.sheets for a in s.annotations if a.kind not in CENTERS})


def lengths(found: list[Proposed], drawing: Drawing, number: str, view: str) -> set[float]:
    """The lengths that a view is to bear, mm."""
    sheet, facts = drawing.sheets[0], modeled(number).facts
    context = Context(drawing, sheet, facts, sheet.view(view))
    sizes = [p.annotation for p in found if p.view == view and isinstance(p.annotation, LinearDimension)]
    return {round(registry.value(a, context), 3) for a in sizes}


@pytest.mark.parametrize("number", ["HB-202", "HB-204", "HB-205", "HB-210"])
@pytest.mark.parametrize("form", ["chain", "ordinate"])
def test_lengths_stand_as_a_drafter_wants_them(number: str, form: str) -> None:
    choice = Choice("chain") if form == "chain" else Choice()
    found, v = completed(bare(number), modeled(number), choice, form == "ordinate")
    assert (v.missing, v.twice, v.silent) == (0, {}, {})
    ordinates = [p.annotation for p in found if isinstance(p.annotation, OrdinateDimension)]
    if form == "ordinate" and number == "HB-205":
        assert len(ordinates) >= 5
        zeros = [a for a in ordinates if len(a.picks) == 1]
        assert len(zeros) == len({a.run for a in ordinates}) >= 1
    if form == "chain":
        assert ordinates == []


def test_a_chain_goes_from_step_to_step_and_leaves_one_open() -> None:
    """The shaft's steps (its recipe): 54, 49.5, 58.5, 46, 2 and 28; of these and the whole one is left out,
    the smallest (common practice)."""
    steps = {54.0, 49.5, 58.5, 46.0, 2.0, 28.0}
    found, _ = completed(bare("HB-205"), modeled("HB-205"), Choice("chain"))
    shown = lengths(found, bare("HB-205"), "HB-205", "front")
    assert 238.0 in shown
    assert len(steps & shown) >= 4
    rows, _ = completed(bare("HB-205"), modeled("HB-205"))
    assert lengths(rows, bare("HB-205"), "HB-205", "front") >= {54.0, 103.5, 162.0, 208.0, 210.0, 238.0}


def test_lengths_start_at_the_face_that_was_chosen() -> None:
    """From the shaft's right end: 238 less what they are from the left."""
    part = modeled("HB-205").facts.parts["part"]
    far = max((f for f in part.faces if f.kind == "plane"), key=lambda f: f.origin[0])
    found, v = completed(bare("HB-205"), modeled("HB-205"), Choice(datums=(far.name,)))
    assert (v.missing, v.twice) == (0, {})
    shown = lengths(found, bare("HB-205"), "HB-205", "front")
    assert {238.0, 28.0, 30.0, 76.0, 184.0} <= shown, shown


def test_holes_stand_in_a_table_from_where_the_datums_cross() -> None:
    """The side plate: its four bores in one table, complete and lean, with coordinates as the recipe has
    them; two holes alone are called out (common practice)."""
    found, v = completed(bare("HB-202"), modeled("HB-202"), Choice(table=True))
    assert (v.missing, v.twice, v.silent) == (0, {}, {})
    (table,) = [p for p in found if isinstance(p.annotation, HoleTable)]
    drawing, facts = bare("HB-202"), modeled("HB-202").facts
    context = Context(drawing, drawing.sheets[0], facts, drawing.sheets[0].view(table.view))
    rows = hole_table.rows(table.annotation, context)
    holes = features(facts.parts["part"]).holes
    low = np.array(facts.parts["part"].low)
    plane = [k for k in range(3) if abs(holes[0].direction[k]) < 0.5]
    wanted = sorted((round(h.diameter, 6), *(round(h.entry[k] - low[k], 6) for k in plane)) for h in holes)
    assert sorted((r.diameter, round(r.x, 6), round(r.y, 6)) for r in rows) == wanted
    assert len(rows) == len(holes) >= 3
    few, v = completed(bare("HB-214"), modeled("HB-214"), Choice(table=True))
    assert (v.missing, v.twice) == (0, {})
    assert all(not isinstance(p.annotation, HoleTable) for p in few)


def test_one_view_or_one_feature_is_sized_alone() -> None:
    model, drawing = modeled("HB-204"), bare("HB-204")
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    only = proposal(drawing, sheet, shown, model.facts, ["top"])
    assert only
    assert {p.view for p in only} == {"top"}
    slot = proposal(drawing, sheet, shown, model.facts, (), ["base/end~1|slot/side.end-a"])
    assert slot
    assert all(any("slot" in k.source for k in p.annotation.picks) for p in slot)
    assert len(slot) < len(proposal(drawing, sheet, shown, model.facts))


@pytest.mark.parametrize("number", ["HB-202", "HB-204", "HB-205"])
def test_a_gap_is_closed_by_what_is_given_for_it(number: str) -> None:
    """Every size that says one number is taken out, and given again for the sentence that names its gap."""
    model, drawing = modeled(number), finished(number)
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    main = next(v for v in drawing.views() if v.kind == "main")
    axes = facing(main).matrix()
    tried = 0
    for one in [o for o in verdict(drawing, model.facts).said if len(o.rows) == 1][::3]:
        open_one = less(drawing, {one.id})
        named = gaps(verdict(open_one, model.facts), drawing.profile, axes)
        if len(named) != 1:
            continue
        proposed = proposal(open_one, open_one.sheets[0], shown, model.facts)
        (given,) = closing(open_one, model.facts, named[0], proposed, open_one.sheets[0])
        first = open_one.sheets[0]
        full = first.model_copy(update={"annotations": [*first.annotations, given.annotation]})
        after = verdict(open_one.model_copy(update={"sheets": [full, *open_one.sheets[1:]]}), model.facts)
        assert (after.missing, after.twice) == (0, {}), one.id
        tried += 1
    assert tried >= 3


def test_a_size_is_taken_to_another_view_or_that_cannot_show_it() -> None:
    model, drawing = modeled("HB-204"), bare("HB-204")
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    found = proposal(drawing, sheet, shown, model.facts)
    context = {v.id: Context(drawing, sheet, model.facts, v) for v in sheet.views}
    width = next(
        p
        for p in found
        if isinstance(p.annotation, LinearDimension)
        and abs(registry.value(p.annotation, context[p.view]) - 140) < 1e-6
    )
    to = "top" if width.view == "front" else "front"
    moved = elsewhere(width.annotation, to, drawing, sheet, shown, model.facts)
    assert isinstance(moved, LinearDimension)
    assert moved.view == to
    assert abs(registry.value(moved, context[to]) - 140) < 1e-6
    assert elsewhere(width.annotation, "side", drawing, sheet, shown, model.facts) is None


def test_sizes_that_frames_ask_for_are_basic() -> None:
    """The bearing block without its basic sizes: they are proposed as such, for its positions and profile."""
    drawing = finished("HB-204")
    gone = {
        a.id for s in drawing.sheets for a in s.annotations if isinstance(a, Dimension) and a.wording.basic
    }
    assert len(gone) >= 5
    found, v = completed(less(drawing, gone), modeled("HB-204"))
    assert (v.missing, v.twice) == (0, {})
    sizes = [p.annotation for p in found if isinstance(p.annotation, Dimension)]
    basic = [a for a in sizes if a.wording.basic]
    assert len(basic) >= 2
    assert len(found) <= len(gone)
