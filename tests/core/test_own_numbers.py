"""Numbers of recipes: what each decides, brought to drawings as sizes that say it."""

from functools import cache
from typing import Any

import pytest
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.proposing.recipe_sizes import OwnSize, own_sizes
from drafting.context import Context
from drafting.document import Drawing, Point, Sheet, View
from drafting.errors import DraftingError
from drafting.model.build import part_model
from drafting.model.model import PartFacts
from drafting.model.own_numbers import Decides, decided, numbers, with_value
from drafting.model.recipe import UNIT_MM, PartRecipe, validate_recipe
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import demo, demo_data, demo_drawing

NUMBERS = ["HB-202", "HB-207", "HB-210", "HB-215", "HB-231"]
VIEWS = {"front": "front", "top": "top", "side": "right"}


def recipe_of(raw: dict[str, Any]) -> PartRecipe:
    recipe = validate_recipe(raw)
    assert isinstance(recipe, PartRecipe)
    return recipe


def build(raw: dict[str, Any]) -> PartFacts:
    return next(iter(part_model(recipe_of(raw)).facts.parts.values()))


@cache
def decides(number: str) -> list[Decides]:
    raw = demo_data(number)
    return decided(raw, build(raw), build, UNIT_MM[raw.get("units", "mm")])


def brought(raw: dict[str, Any], found: list[Decides]) -> tuple[list[OwnSize], Drawing]:
    """All of a part's numbers on a sheet with three views of it."""
    model = part_model(recipe_of(raw))
    views = [
        View(id=k, kind="main", orientation=PRINCIPAL[name], position=Point(x=0, y=0))
        for k, name in VIEWS.items()
    ]
    sheet = Sheet(id="s", size="A3", views=views)
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    prepared = Prepared(model)
    geometries = {v.id: derive(prepared, derivation_of(v, model.facts)) for v in views}
    return own_sizes(drawing, sheet, geometries, model.facts, found), drawing


@pytest.mark.parametrize("number", NUMBERS)
def test_most_named_parameters_are_brought_and_each_size_says_its_own(number: str) -> None:
    raw = demo_data(number)
    rows, drawing = brought(raw, decides(number))
    facts = part_model(recipe_of(raw)).facts
    sheet, unit = drawing.sheets[0], UNIT_MM[raw.get("units", "mm")]
    sizes = [r for r in rows if r.size is not None]
    assert len(sizes) >= 0.6 * len({tuple(d.of.key) for d in decides(number)})
    assert len({tuple(r.of.key) for r in rows}) == len(rows)
    for r in sizes:
        assert r.size is not None
        value = registry.value(r.size, Context(drawing, sheet, facts, sheet.view(r.view)))
        assert value == pytest.approx(r.of.value * unit)


@given(st.sampled_from(NUMBERS), st.floats(0.96, 1.05), st.randoms(use_true_random=False))
@settings(
    max_examples=12,
    deadline=None,
    phases=(Phase.generate,),
    suppress_health_check=[HealthCheck.too_slow],
)
def test_a_brought_size_measures_the_number_after_every_change_of_it(
    number: str, share: float, pick: Any
) -> None:
    raw = demo_data(number)
    rows, drawing = brought(raw, decides(number))
    row = pick.choice([r for r in rows if r.size is not None])
    value = round(row.of.value * share, 3)
    try:
        after = part_model(recipe_of(with_value(raw, row.of.key, value))).facts
    except DraftingError:
        return  # the part does not build so
    sheet = drawing.sheets[0]
    if {f.name for f in after.parts["part"].faces} < {f.name for f in demo(number).facts.parts["part"].faces}:
        return
    context = Context(drawing, sheet, after, sheet.view(row.view))
    assert registry.value(row.size, context) == pytest.approx(value * UNIT_MM[raw.get("units", "mm")])


def test_numbers_of_the_same_value_are_told_apart() -> None:
    raw: dict[str, Any] = {
        "moorcrest": "part",
        "version": 1,
        "name": "Cube",
        "parameters": {"wide": 20, "deep": 20, "sum": "wide + deep"},
        "features": [
            {"id": "c", "kind": "extrude", "profile": {"width": "wide", "height": "deep"}, "depth": 20}
        ],
    }
    assert [n.called for n in numbers(raw)] == ["wide", "deep", "depth of c"]
    found = decided(raw, build(raw), build, 1.0)
    faces = {d.of.called: {name.split("/")[1] for name in d.faces} for d in found}
    assert faces == {
        "wide": {"side.left", "side.right"},
        "deep": {"side.top", "side.bottom"},
        "depth of c": {"start", "end"},
    }


def test_what_is_on_the_drawing_is_not_brought_again() -> None:
    drawing, model = demo_drawing("HB-207"), demo("HB-207")
    sheet, prepared = drawing.sheets[0], Prepared(model)
    geometries = {v.id: derive(prepared, derivation_of(v, model.facts)) for v in sheet.views}
    rows = own_sizes(drawing, sheet, geometries, model.facts, decides("HB-207"))
    assert {r.why for r in rows} == {"It is on the drawing already."}
    without = sheet.model_copy(update={"annotations": [a for a in sheet.annotations if a.id != "size-2"]})
    bare = drawing.model_copy(update={"sheets": [without]})
    rows = own_sizes(bare, without, geometries, model.facts, decides("HB-207"))
    assert [r.of.called for r in rows if r.size is not None] == ["outer"]
    rows = own_sizes(bare, without, geometries, model.facts, decides("HB-207"), only_features=["oil"])
    assert [r.of.called for r in rows] == ["diameter of oil"]


def test_a_diameter_across_a_section_states_the_circle_about_its_axis() -> None:
    """So that it is known as the same size wherever it is taken."""
    drawing, model = demo_drawing("HB-207"), demo("HB-207")
    sheet = drawing.sheets[0]
    size = sheet.annotation("size-3")
    assert isinstance(size, LinearDimension)
    stated = registry.size_kind(size).states(size, registry.context_of(drawing, sheet, size, model.facts))  # type: ignore[misc]
    assert stated is not None
    assert stated.key == ("circle", (1.0, 0.0, 0.0), (0.0, 0.0, 0.0), 16.0)
