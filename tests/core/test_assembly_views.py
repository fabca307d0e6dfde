"""Views of assemblies: what stands before hides what stands behind, and every line knows whose it is."""

from typing import Any

import pytest

from drafting.annotation import registry
from drafting.annotation.kinds.linear import LinearDimension
from drafting.document import Pick, Placement, Point, View
from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.views.derive import Prepared, derive
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from tests.core.contexts import seen_in


def cube(size: float) -> dict[str, Any]:
    feature = {"id": "c", "kind": "extrude", "profile": {"width": size, "height": size}, "depth": size}
    return {
        "moorcrest": "part",
        "version": 1,
        "name": f"Cube {size:g}",
        "features": [feature],
        "properties": {"material": "steel S235"},
    }


def assembly(*instances: dict[str, Any]) -> Model:
    parts = {"big": cube(40), "small": cube(20)}
    return build_model(
        validate_recipe(
            {
                "moorcrest": "assembly",
                "version": 1,
                "name": "Two",
                "parts": parts,
                "instances": list(instances),
            }
        )
    )


def at(name: str, part: str, *origin: float, **more: Any) -> dict[str, Any]:
    return {"id": name, "part": part, "at": {"origin": list(origin), **more}}


def test_a_part_behind_another_is_hidden_and_one_before_is_not() -> None:
    model = assembly(at("front", "big", 0, -50, 0), at("behind", "small", 0, 50, 10))
    g = derive(Prepared(model), PRINCIPAL["front"])
    by = {name: [c for c in g.curves if g.instances[c.instance] == name] for name in ("front", "behind")}
    assert all(c.visible for c in by["front"])
    assert len(by["behind"]) == 4
    assert not any(c.visible for c in by["behind"])
    rear = derive(Prepared(model), PRINCIPAL["rear"])
    small = [c for c in rear.curves if rear.instances[c.instance] == "behind"]
    assert len(small) == 4
    assert all(c.visible for c in small)


def test_a_part_half_behind_shows_the_other_half() -> None:
    model = assembly(at("front", "big", 0, -50, 0), at("behind", "big", 20, 50, 0))
    g = derive(Prepared(model), PRINCIPAL["front"])
    shown = [c for c in g.curves if c.visible]
    assert g.high[0] - g.low[0] == pytest.approx(60)
    rows = {round(c.data[1], 6) for c in shown if abs(c.data[1] - c.data[3]) < 1e-9}
    assert rows == {-20.0, 20.0}
    assert sum(abs(c.data[2] - c.data[0]) for c in shown) == pytest.approx(
        2 * 60
    )  # each row once, though two edges lie on it
    hidden = [c for c in g.curves if not c.visible]
    assert [round(c.data[0], 6) for c in hidden] == [-10.0]  # the left edge of the one behind


def test_turned_instances_are_measured_where_they_stand() -> None:
    model = assembly(at("a", "big", 0, 0, 0), at("b", "small", 100, 0, 0, x=[0, 1, 0]))
    assert model.facts.low == pytest.approx([-20, -20, 0])
    assert model.facts.high == pytest.approx([110, 20, 40])
    view = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=0, y=0))
    # b is turned a quarter, so its bottom side looks to the right; the faces of a and b stand 120 mm apart
    picks = [
        Pick(instance="a", source="c/side.left|c/start"),
        Pick(instance="b", source="c/side.bottom|c/start"),
    ]
    size = LinearDimension(
        id="d", view="v", picks=picks, place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=-40))
    )
    top = ViewFrame.of(view.model_copy(update={"orientation": PRINCIPAL["top"]}), model.facts)
    assert registry.value(size, seen_in(facts=model.facts, frame=top)) == pytest.approx(130)


def test_masses_add_up_and_one_without_material_makes_the_whole_unknown() -> None:
    from drafting.document import Drawing, Sheet
    from drafting.sheet.frame import field_values
    from drafting.standards.profile import ISO_MM

    model = assembly(at("a", "big", 0, 0, 0), at("b", "small", 100, 0, 0), at("c", "small", 200, 0, 0))
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[Sheet(id="s", size="A3")])
    kg = (40**3 + 2 * 20**3) * 7.85e-6  # carbon steel 7.85 g/cm3 (handbook, memory)
    assert field_values(drawing, drawing.sheets[0], model.facts)["mass"] == f"{kg:.3g} kg"
    model.facts.parts["small"].material = ""
    assert field_values(drawing, drawing.sheets[0], model.facts)["mass"] == "incomplete"


def test_the_winder_knows_each_of_its_parts_by_path(winder: Model) -> None:
    assert winder.facts.kind == "assembly"
    assert len({i.path for i in winder.facts.instances}) == len(winder.facts.instances)
    counts = {key: sum(i.part == key for i in winder.facts.instances) for key in winder.facts.parts}
    assert counts == {
        "base": 1,
        "foot": 2,
        "side": 2,
        "tie": 2,
        "bearer": 1,
        "block": 2,
        "bush": 2,
        "cap": 2,
        "shaft": 1,
        "key": 1,
        "arm": 1,
        "nut": 1,
        "handle": 1,
        "spindle": 1,
        "bracket": 1,
        "screw5": 8,
        "screw8": 2,
        "screw10": 16,
        "washer": 12,
        "screw12": 4,
        "washer12": 4,
    }
    axes = [i.matrix[2][3] for i in winder.facts.instances if i.part in ("shaft", "bush")]
    assert axes == [150.0] * 3  # one axis, at the height the recipe names
