"""Proposed sizes and callouts in their places: nothing stands on anything, by the rules that check drawings.
No database is asked."""

from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from drafting.checking.page import Page
from drafting.checking.rules import RULES
from drafting.completeness.proposal import proposal
from drafting.completeness.wanted import Choice
from drafting.compose import annotation_groups
from drafting.data import Point
from drafting.document import Dimension, Drawing
from drafting.model.model import Model
from server.drawings import proposal as routes
from server.drawings import rooms
from server.drawings.model_sizes import in_place
from tests.core.finished import finished, modeled
from tests.core.test_completeness import random_plate
from tests.core.test_more_views import alone, followed
from tests.core.test_proposal import CENTERS, geometries, less, standard, with_centers

CLEAR = (
    "lettering",
    "crossed lettering",
    "crossing lines",
    "arrowheads",
    "near rows",
    "outside the frame",
    "hidden lines",
    "within the outline",
)


def said_of(
    drawing: Drawing, model: Model, monkeypatch: pytest.MonkeyPatch, choice: Choice | None = None
) -> list[str]:
    """What the rules say of a drawing's first sheet once all that is proposed stands on it."""
    facts, sheet = model.facts, drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    monkeypatch.setattr(rooms, "shape", lambda d, host, view: ("", shown[view.id]))
    found = proposal(drawing, sheet, shown, facts, choice=choice or Choice())
    rows = [routes._row(p.annotation, p.view, drawing, sheet, facts) for p in found]
    in_place([r for r in rows if isinstance(r.size, Dimension)], drawing, sheet, facts, shown)
    on = routes.OnSheet(None, drawing, sheet, facts, shown)  # type: ignore[arg-type]
    routes._tabled(rows, on)
    routes._called(rows, on)
    placed = [r.size for r in rows if r.size is not None]
    assert len(placed) == len(found)
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *placed]})
    whole = drawing.model_copy(update={"sheets": [full, *drawing.sheets[1:]]})
    page = Page(whole, full, facts, annotation_groups(whole, full, facts), shown)
    return [f.text for key in CLEAR for f in RULES[key].faults(page)]  # type: ignore[misc]


@pytest.mark.parametrize("number", ["HB-204", "HB-205", "HB-206", "HB-214"])
def test_what_is_proposed_stands_clear(number: str, monkeypatch: pytest.MonkeyPatch) -> None:
    drawing = finished(number)
    gone = {a.id for s in drawing.sheets for a in s.annotations if a.kind not in CENTERS}
    assert said_of(less(drawing, gone), modeled(number), monkeypatch) == []


def test_a_hole_table_stands_clear(monkeypatch: pytest.MonkeyPatch) -> None:
    drawing = finished("HB-202")
    gone = {a.id for s in drawing.sheets for a in s.annotations if a.kind not in CENTERS}
    assert said_of(less(drawing, gone), modeled("HB-202"), monkeypatch, Choice(table=True)) == []


@pytest.mark.parametrize("number", ["HB-204", "HB-210"])
def test_beside_a_view_that_was_wanting_all_stands_clear(
    number: str, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Rows of two views that face each other do not run into one another."""
    first = alone(modeled(number), True)
    first.sheets[0].views[0].position = Point(x=250, y=260)
    drawing, _, _, kinds = followed(first, modeled(number))
    assert "projected_view" in kinds
    assert said_of(drawing, modeled(number), monkeypatch) == []


@settings(max_examples=8, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
@given(data=st.data())
def test_on_random_plates_all_stands_clear(data: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    model, _ = random_plate(data.draw)
    drawing = standard(model, "front", "top", "right")
    places = {"front": (200, 380), "top": (200, 180), "right": (430, 380)}
    sheet = drawing.sheets[0].model_copy(update={"size": "A1"})
    for view in sheet.views:
        view.position = Point(x=places[view.id][0], y=places[view.id][1])
    drawing = with_centers(drawing.model_copy(update={"sheets": [sheet]}), model)
    assert said_of(drawing, model, monkeypatch) == []
