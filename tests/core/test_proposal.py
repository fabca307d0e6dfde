"""Lean proposals, judged by the verdict itself: parts of the office, files of others, random plates."""

from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation.proposing import find_centers
from drafting.completeness.proposal import Proposed, proposal
from drafting.completeness.verdict import Verdict, verdict
from drafting.context import Context
from drafting.data import Point
from drafting.document import Drawing, Sheet
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
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


def completed(drawing: Drawing, model: Model) -> tuple[list[Proposed], Verdict]:
    """What is proposed for the first sheet, and the verdict once it is there."""
    sheet = drawing.sheets[0]
    found = proposal(drawing, sheet, geometries(drawing, sheet, model), model.facts)
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
