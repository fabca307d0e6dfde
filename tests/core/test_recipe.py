"""Recipes: parameters become geometry, faces keep their names, mistakes are named."""

import math
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.errors import ModelError
from drafting.kernel.solids import is_valid
from drafting.model.assembly import build_model
from drafting.model.expressions import evaluate
from drafting.model.recipe import recipe_data, validate_recipe
from drafting.standards.threads import METRIC_COARSE, thread
from tests.core.conftest import RECIPES, block, demo, demo_data, part

lengths = st.floats(5, 200).map(lambda v: round(v, 2))


@given(lengths, lengths, lengths)
@settings(max_examples=25, deadline=None)
def test_volume_of_a_block_is_the_product_of_its_sizes(w: float, d: float, h: float) -> None:
    facts = block(w, d, h).facts.parts["part"]
    assert facts.volume == pytest.approx(w * d * h, rel=1e-9)
    assert len(facts.faces) == 6
    assert len(facts.edges) == 12


@given(st.floats(3, 20).map(lambda v: round(v, 2)), st.floats(2, 30).map(lambda v: round(v, 2)))
@settings(max_examples=20, deadline=None)
def test_a_through_hole_takes_its_cylinder_and_a_blind_one_its_tip_too(diameter: float, depth: float) -> None:
    plate = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 40]}, "diameter": diameter}
    r = diameter / 2
    through = block(60, 60, 40, plate).facts.parts["part"].volume
    assert 60 * 60 * 40 - through == pytest.approx(math.pi * r * r * 40, rel=1e-6)
    blind = block(60, 60, 40, {**plate, "depth": depth}).facts.parts["part"].volume
    cone = math.pi * r * r * (r / math.tan(math.radians(59))) / 3  # 118 degree point, common practice
    assert 60 * 60 * 40 - blind == pytest.approx(math.pi * r * r * depth + cone, rel=1e-6)


def test_counterbore_and_countersink_take_what_their_sections_say() -> None:
    base = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 20]}, "diameter": 9}
    bored = (
        block(50, 50, 20, {**base, "counterbore": {"diameter": 15, "depth": 8.6}}).facts.parts["part"].volume
    )
    assert 50_000 - bored == pytest.approx(math.pi * (7.5**2 * 8.6 + 4.5**2 * 11.4), rel=1e-6)
    sunk = (
        block(50, 50, 20, {**base, "countersink": {"diameter": 18, "angle": 90}}).facts.parts["part"].volume
    )
    cone = math.pi * 4.5 / 3 * (9**2 + 9 * 4.5 + 4.5**2)  # frustum, 90 degrees: as deep as the radii differ
    assert 50_000 - sunk == pytest.approx(cone + math.pi * 4.5**2 * 15.5, rel=1e-6)


def test_slot_fillet_chamfer_and_revolution_have_their_handbook_volumes() -> None:
    slot = block(
        80,
        40,
        10,
        {"id": "s", "kind": "slot", "plane": {"origin": [0, 0, 10]}, "length": 30, "width": 12, "depth": 4},
    )
    assert 32_000 - slot.facts.parts["part"].volume == pytest.approx(4 * (30 * 12 + math.pi * 36), rel=1e-6)
    rounded = block(
        40, 30, 20, {"id": "f", "kind": "fillet", "edges": ["b/side.left|b/side.top"], "radius": 6}
    )
    assert 24_000 - rounded.facts.parts["part"].volume == pytest.approx(20 * 36 * (1 - math.pi / 4), rel=1e-6)
    beveled = block(40, 30, 20, {"id": "c", "kind": "chamfer", "edges": ["b/end|b/side.left"], "length": 3})
    assert 24_000 - beveled.facts.parts["part"].volume == pytest.approx(30 * 4.5, rel=1e-6)
    half_ring = [{"start": [10, -2], "to": [{"line": [14, -2]}, {"line": [14, 2]}, {"line": [10, 2]}]}][0]
    ring = part([{"id": "r", "kind": "revolve", "profile": half_ring, "axis": [[0, 0], [0, 1]]}])
    assert ring.facts.parts["part"].volume == pytest.approx(2 * math.pi * 12 * 16, rel=1e-6)  # Pappus


def test_patterns_repeat_and_name_their_members() -> None:
    model = block(
        80,
        80,
        10,
        {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[30, 0]], "thread": "M6"},
        {"id": "p", "kind": "pattern", "of": "h", "circular": {"count": 4}},
    )
    facts = model.facts.parts["part"]
    bores = sorted(f.name for f in facts.faces if f.kind == "cylinder")
    assert bores == ["h/bore", "h/bore@2", "h/bore@3", "h/bore@4"]
    assert {f.feature for f in facts.faces if f.kind == "cylinder"} == {"h", "h@2", "h@3", "h@4"}
    assert facts.holes[0].count == 4
    assert facts.holes[0].diameter == 5.0  # M6 tap drill, ISO 2306 (memory)
    assert len(facts.threads) == 4


def test_names_stay_when_a_parameter_changes() -> None:
    raw = demo_data("HB-204")
    before = build_model(validate_recipe(raw)).facts.parts["part"]
    raw["parameters"]["width"] = 152
    raw["parameters"]["bore"] = 42
    after = build_model(validate_recipe(raw)).facts.parts["part"]
    assert {f.name for f in before.faces} == {f.name for f in after.faces}
    assert {e.name for e in before.edges} == {e.name for e in after.edges}
    bore = next(f for f in after.faces if f.name == "bore/bore")
    assert bore.radius == pytest.approx(21)


def test_inch_recipes_are_built_in_millimeters() -> None:
    model = part(
        [{"id": "b", "kind": "extrude", "profile": {"width": 3, "height": 2}, "depth": 0.375}], units="in"
    )
    assert model.facts.high == pytest.approx([38.1, 25.4, 9.525])
    assert model.facts.units == "in"


@pytest.mark.parametrize("file", sorted(RECIPES.glob("*.json")), ids=lambda f: f.stem)
def test_every_demo_recipe_builds_a_valid_solid_with_all_faces_named(file) -> None:  # type: ignore[no-untyped-def]
    model = demo(file.stem)
    assert all(is_valid(shape) for shape in model.shapes.values())
    for facts in model.facts.parts.values():
        assert facts.volume > 0
        assert all("/" in f.name for f in facts.faces), [f.name for f in facts.faces if "/" not in f.name]
        assert len({f.name for f in facts.faces}) == len(facts.faces)
        assert len({e.name for e in facts.edges}) == len(facts.edges)


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"\x00\x01", "not valid JSON"),
        (b"[" * 5000, "nested too deeply"),
        (b'{"moorcrest": "part", "version": NaN}', "a number is NaN"),
        (b'{"moorcrest": "part", "version": 1e400}', "too large"),
        (b" " * 21_000_000, "larger than 20 MB"),
        (b'{"moorcrest": "part"}', "wrong at"),
        (
            b'{"moorcrest": "part", "version": 1, "name": "x", "features": [{"id": "a", "kind": "weld"}]}',
            "wrong at features",
        ),
    ],
)
def test_what_is_no_recipe_is_said(data: bytes, says: str, tmp_path: Path) -> None:
    path = tmp_path / "one.json"
    path.write_bytes(data)
    with pytest.raises(ModelError, match=says):
        validate_recipe(recipe_data(path))


@pytest.mark.parametrize(
    ("feature", "says"),
    [
        ({"id": "h", "kind": "hole", "diameter": 0}, "'h': the diameter is 0"),
        ({"id": "h", "kind": "hole"}, "either a diameter or a thread"),
        ({"id": "h", "kind": "hole", "thread": "M6.3"}, "not a metric coarse thread"),
        ({"id": "f", "kind": "fillet", "edges": ["b/side.left|b/side.top"], "radius": 500}, "does not fit"),
        ({"id": "f", "kind": "fillet", "edges": ["b/none"], "radius": 1}, "no edge of the body is named"),
        (
            {
                "id": "p",
                "kind": "pattern",
                "of": "x",
                "linear": {"direction": [1, 0, 0], "spacing": 5, "count": 2},
            },
            "is not an extruded",
        ),
        ({"id": "h", "kind": "hole", "diameter": "wide"}, "no parameter named 'wide'"),
        (
            {
                "id": "c",
                "kind": "extrude",
                "profile": {"width": 99, "height": 99},
                "depth": 99,
                "operation": "cut",
            },
            "nothing is left",
        ),
        ({"id": "b", "kind": "hole", "diameter": 3}, "Two features"),
    ],
)
def test_a_feature_that_cannot_be_built_is_named(feature: dict, says: str) -> None:  # type: ignore[type-arg]
    with pytest.raises(ModelError, match=says):
        block(40, 30, 20, feature)


def test_expressions_are_arithmetic_and_nothing_else() -> None:
    assert evaluate("(a + 2) * -3 / sqrt(4)", {"a": 4}) == -9
    assert evaluate("cos(60)", {}) == pytest.approx(0.5)
    for bad in (
        "__import__('os')",
        "a.real",
        "[1]",
        "a if a else 1",
        "1/0",
        "9**9**9",
        "'x'",
        "lambda: 1",
        "(" * 150,
    ):
        with pytest.raises(ModelError):
            evaluate(bad, {"a": 1})


def test_assembly_needs_its_parts_and_square_directions() -> None:
    base = {"moorcrest": "assembly", "version": 1, "name": "A", "parts": {"p": {"model": "X-1"}}}
    with pytest.raises(ModelError, match="part numbered X-1"):
        build_model(validate_recipe({**base, "instances": [{"id": "i", "part": "p"}]}))
    inline = {**base, "parts": {"p": demo_data("HB-233")}}
    with pytest.raises(ModelError, match="not square"):
        build_model(
            validate_recipe(
                {**inline, "instances": [{"id": "i", "part": "p", "at": {"x": [1, 0, 1], "z": [0, 0, 1]}}]}
            )
        )


def test_thread_table_follows_the_published_values() -> None:
    # ISO 262 coarse pitches (memory): a sample, then the whole table by monotonicity and by ISO 68-1's
    # formula
    assert [thread(f"M{d}").pitch for d in (3, 4, 5, 6, 8, 10, 12, 16, 20, 24)] == [
        0.5,
        0.7,
        0.8,
        1,
        1.25,
        1.5,
        1.75,
        2,
        2.5,
        3,
    ]
    assert [thread(f"M{d}").tap_drill for d in (6, 8, 10, 12)] == [5.0, 6.8, 8.5, 10.2]  # ISO 2306 (memory)
    pitches = [METRIC_COARSE[d] for d in sorted(METRIC_COARSE)]
    assert pitches == sorted(pitches)
    for d, p in METRIC_COARSE.items():
        m = thread(f"M{d:g}")
        assert m.minor == pytest.approx(
            d - 2 * 5 / 8 * (math.sqrt(3) / 2) * p, abs=1e-5
        )  # H = 0.866025 P, 5/8 H a side
        assert abs(m.tap_drill - (d - p)) <= 0.06  # about D - P, rounded to drills that are sold
    quarter = thread("1/4-20 UNC")  # ASME B1.1 (memory)
    assert (quarter.major, quarter.pitch) == (pytest.approx(6.35), pytest.approx(1.27))
    assert quarter.tap_drill == pytest.approx(0.201 * 25.4)  # No. 7 drill
    assert thread("10-24").tap_drill == pytest.approx(0.1495 * 25.4)  # No. 25 drill
    for bad in ("M6x9", "Q3", "1/7-20", ""):
        with pytest.raises(ModelError):
            thread(bad)
