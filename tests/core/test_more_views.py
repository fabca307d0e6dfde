"""Views that are wanting: placed one after another they let proposed sizes say all, on lines
that are drawn."""

import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from pydantic import TypeAdapter

from drafting.annotation import registry
from drafting.annotation.kinds.linear import LinearDimension
from drafting.commands import AnyCommand, applied
from drafting.completeness.lines_shown import SMALL, LinesShown
from drafting.completeness.more_views import more_views
from drafting.completeness.proposal import Proposed
from drafting.completeness.verdict import Verdict
from drafting.completeness.wanted_details import WantedView
from drafting.context import Context
from drafting.document import Dimension, Drawing, view_scale
from drafting.model.model import Model
from drafting.views.arrange import placed_box
from drafting.views.family import facing
from tests.core.conftest import block, part
from tests.core.disguises import DISGUISES, written
from tests.core.finished import PARTS, modeled
from tests.core.test_proposal import completed, geometries, standard, with_centers

COMMAND: TypeAdapter[Any] = TypeAdapter(AnyCommand)


def wanted(drawing: Drawing, model: Model, found: list[Proposed]) -> list[WantedView]:
    sheet = drawing.sheets[0]
    return more_views(drawing, sheet, found, geometries(drawing, sheet, model), model.facts)


def followed(
    drawing: Drawing, model: Model, most: int = 6
) -> tuple[Drawing, list[Proposed], Verdict, list[str]]:
    """The drawing with the first wanted view placed, and so on until none is; what is proposed then, and the
    kinds of the views."""
    kinds: list[str] = []
    for _ in range(most):
        found, v = completed(drawing, model)
        more = next((w for w in wanted(drawing, model, found) if w.command), None)
        if more is None or more.command is None:
            return drawing, found, v, kinds
        kinds.append(more.command["command"].removeprefix("place_"))
        drawing = applied(drawing, COMMAND.validate_python(more.command), model.facts)
        if more.is_crowded:
            anew = {"command": "arrange_sheet", "sheet": drawing.sheets[0].id}
            drawing = applied(drawing, COMMAND.validate_python(anew), model.facts)
        drawing = with_centers(drawing, model)
    raise AssertionError(f"views are still wanting after {kinds}")


def alone(model: Model, hidden: bool, name: str = "front") -> Drawing:
    """One view, with or without hidden lines."""
    drawing = standard(model, name)
    drawing.sheets[0].views[0].hidden_lines = hidden
    return with_centers(drawing, model)


def stand_on_lines(drawing: Drawing, model: Model, found: list[Proposed]) -> bool:
    """Whether all that sizes are taken on is drawn."""
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    return all(
        LinesShown.of(Context(drawing, sheet, model.facts, sheet.view(p.view)), shown[p.view]).has_all(
            p.annotation
        )
        for p in found
        if isinstance(p.annotation, Dimension)
    )


@pytest.mark.parametrize("hidden", [False, True])
@pytest.mark.parametrize("number", PARTS)
def test_from_one_view_the_wanted_ones_lead_to_a_complete_drawing(number: str, hidden: bool) -> None:
    model = modeled(number)
    drawing, found, v, _ = followed(alone(model, hidden), model)
    assert (v.missing, v.twice, v.silent) == (0, {}, {})
    assert stand_on_lines(drawing, model, found)
    sheet = drawing.sheets[0]
    shown = geometries(drawing, sheet, model)
    for p in found:
        context = Context(drawing, sheet, model.facts, sheet.view(p.view))
        assert isinstance(p.annotation, Dimension) is False or not LinesShown.of(
            context, shown[p.view]
        ).is_hidden(p.annotation), registry.text(p.annotation, context)


@pytest.mark.parametrize("name", ["of splines in halves", "in quarters"])
def test_the_wanted_views_of_others_files(name: str, tmp_path: Path) -> None:
    change, unit = DISGUISES[name]
    model = written(change(modeled("HB-206").shapes["part"]), tmp_path, unit)
    drawing, found, v, _ = followed(alone(model, False), model)
    assert (v.missing, v.twice) == (0, {})
    assert stand_on_lines(drawing, model, found)


@pytest.mark.parametrize("first", ["front", "top", "right"])
def test_a_view_that_is_wanting_is_placed_and_then_all_is_said(first: str) -> None:
    """A block with a hole needs two views (ISO 128-3: no more than are needed)."""
    model = block(90, 60, 40, {"id": "h", "kind": "hole", "plane": {"origin": [20, 8, 40]}, "diameter": 16})
    drawing, _, v, kinds = followed(alone(model, True, first), model)
    assert (v.missing, v.twice) == (0, {})
    assert len(kinds) == 1
    a, b = [placed_box(view, drawing.sheets[0], model.facts) for view in drawing.sheets[0].views]
    assert a[2] < b[0] or b[2] < a[0] or a[3] < b[1] or b[3] < a[1]  # clear of each other


def test_what_slants_gets_an_auxiliary_view_that_looks_along_it() -> None:
    """A stepped hole square to a slanting face is seen round along its axis only (ISO 128-3)."""
    c, s = math.cos(math.radians(30)), math.sin(math.radians(30))
    line = [[60, 0], [60, 20], [60 - 40 * c, 20 + 40 * s], [0, 20 + 40 * s], [0, 0]]
    wedge = {
        "id": "b",
        "kind": "extrude",
        "profile": {"start": [0, 0], "to": [{"line": p} for p in line[:-1]]},
    }
    wedge |= {"depth": 40, "plane": {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]}}
    at = [60 - 20 * c, -20, 20 + 20 * s]
    hole = {
        "id": "h",
        "kind": "hole",
        "diameter": 9,
        "depth": 12,
        "counterbore": {"diameter": 15, "depth": 5},
    }
    model = part([wedge, hole | {"plane": {"origin": at, "x": [0, 1, 0], "normal": [s, 0, c]}}])
    drawing, _, v, kinds = followed(alone(model, False), model)
    assert (v.missing, v.twice) == (0, {})
    assert "auxiliary_view" in kinds
    (slanted,) = [x for x in drawing.sheets[0].views if x.kind == "auxiliary"]
    toward = facing(slanted).matrix()[2] @ np.array(model.facts.instances[0].matrix)[:3, :3]
    assert toward @ np.array([s, 0, c]) == pytest.approx(1, abs=1e-9)  # from where the hole is open


def test_steps_that_no_line_shows_get_a_section_through_their_axis() -> None:
    """A bore with an inner groove, seen from its end without hidden lines."""
    wall = [[0, 10], [0, 30], [50, 30], [50, 10], [35, 10], [35, 14], [30, 14], [30, 10]]
    model = part(
        [{"id": "r", "kind": "revolve", "profile": {"start": wall[0], "to": [{"line": p} for p in wall[1:]]}}]
    )
    drawing, _, v, kinds = followed(alone(model, False, "right"), model)
    assert (v.missing, v.twice) == (0, {})
    assert "section" in kinds
    (cut,) = [x for x in drawing.sheets[0].views if x.kind == "section"]
    assert cut.section is not None
    ys = {round(p.y, 6) for p in cut.section.line.points}, {round(p.x, 6) for p in cut.section.line.points}
    assert {0.0} in ys  # along the axis


def test_a_groove_too_narrow_to_read_gets_a_detail_that_bears_its_width() -> None:
    """1.1 wide at 1:1: in a detail its lines lie further apart than on the whole view, and its width stands
    there; one of 3 needs none."""

    def shaft(wide: float) -> Model:
        line = [[0, 0], [0, 20], [20, 20], [20, 15], [50, 15], [50, 14], [50 + wide, 14], [50 + wide, 15]]
        line += [[80, 15], [80, 0]]
        profile = {"start": line[0], "to": [{"line": p} for p in line[1:]]}
        return part([{"id": "r", "kind": "revolve", "profile": profile}])

    drawing, found, v, kinds = followed(alone(shaft(1.1), True), shaft(1.1))
    assert (v.missing, v.twice, kinds) == (0, {}, ["detail"])
    sheet, facts = drawing.sheets[0], shaft(1.1).facts
    (detail,) = [x for x in sheet.views if x.kind == "detail"]
    widths = [
        registry.value(p.annotation, Context(drawing, sheet, facts, detail))
        for p in found
        if p.view == detail.id and isinstance(p.annotation, LinearDimension)
    ]
    assert widths == [pytest.approx(1.1)]
    assert 1.1 * view_scale(sheet, detail).factor > 3 * SMALL
    assert followed(alone(shaft(3), True), shaft(3))[3] == []
