"""Assemblies from recipes: mates put parts where they say, subassemblies nest, and what cannot be is said in
one sentence."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial.transform import Rotation

from drafting.errors import ModelError
from drafting.model import bill
from drafting.model.assembly import build_model
from drafting.model.model import Facts
from drafting.model.recipe import validate_recipe

PLATE: dict[str, Any] = {
    "moorcrest": "part",
    "version": 1,
    "name": "Plate",
    "properties": {"number": "P-1", "material": "steel S235JR"},
    "features": [
        {"id": "b", "kind": "extrude", "profile": {"width": 100, "height": 60}, "depth": 12},
        {"id": "h", "kind": "hole", "plane": {"origin": [20, 10, 12]}, "diameter": 16},
    ],
}
PIN: dict[str, Any] = {
    "moorcrest": "part",
    "version": 1,
    "name": "Pin",
    "properties": {"number": "P-2", "material": "steel S235JR"},
    "features": [{"id": "b", "kind": "extrude", "profile": {"diameter": 10}, "depth": 40}],
}
PLANES = ("b/start", "b/end")


def placed(origin: list[float], turn: list[float]) -> dict[str, Any]:
    m = Rotation.from_rotvec(turn).as_matrix()
    return {"origin": origin, "x": m[:, 0].tolist(), "z": m[:, 2].tolist()}


def assembly(
    instances: list[dict[str, Any]],
    mates: list[dict[str, Any]],
    parts: dict[str, Any] | None = None,
    **more: Any,
) -> dict[str, Any]:
    return {
        "moorcrest": "assembly",
        "version": 1,
        "name": "Test",
        "parts": parts or {"plate": PLATE, "pin": PIN},
        "instances": instances,
        "mates": mates,
        **more,
    }


def built(data: dict[str, Any], known: dict[str, Any] | None = None) -> Facts:
    return build_model(validate_recipe(data), (known or {}).get).facts


def place_of(facts: Facts, path: str) -> np.ndarray:
    found = facts.part_of(path)
    assert found is not None
    return np.array(found[0].matrix)


def axis_of(facts: Facts, path: str, face: str) -> tuple[np.ndarray, np.ndarray]:
    """Point and direction of a face where its instance stands."""
    f, m = facts.face_of(path, face), place_of(facts, path)
    assert f is not None
    return m[:3, :3] @ f.origin + m[:3, 3], m[:3, :3] @ f.axis


TURN = st.lists(st.floats(-2.5, 2.5), min_size=3, max_size=3)
AT = st.lists(st.floats(-300, 300), min_size=3, max_size=3)


@given(AT, TURN, st.floats(0.5, 200), st.floats(-80, 80))
@settings(max_examples=40)
def test_a_pin_stands_at_the_center_distance_and_depth_its_mates_say(
    origin: list[float], turn: list[float], apart: float, depth: float
) -> None:
    facts = built(
        assembly(
            [
                {"id": "plate", "part": "plate", "at": placed([5, -7, 3], [0.2, 0.1, 0])},
                {"id": "pin", "part": "pin", "at": placed(origin, turn)},
            ],
            [
                {
                    "kind": "concentric",
                    "id": "centers",
                    "of": "pin:b/side",
                    "to": "plate:h/bore",
                    "offset": "reach",
                },
                {
                    "kind": "coincident",
                    "id": "depth",
                    "of": "pin:b/start",
                    "to": "plate:b/end",
                    "offset": depth,
                },
            ],
            parameters={"reach": apart},
        )
    )
    (p, a), (q, b) = axis_of(facts, "pin", "b/side"), axis_of(facts, "plate", "h/bore")
    assert abs(abs(float(a @ b)) - 1) < 1e-9
    assert np.linalg.norm(np.cross(p - q, b)) == pytest.approx(apart, abs=1e-5)
    (p, a), (q, b) = axis_of(facts, "pin", "b/start"), axis_of(facts, "plate", "b/end")
    assert float(a @ b) == pytest.approx(-1, abs=1e-9)  # they face each other
    assert float((p - q) @ b) == pytest.approx(depth, abs=1e-5)
    stays = place_of(facts, "plate")
    assert stays[:3, 3].tolist() == pytest.approx([5, -7, 3])
    m = place_of(facts, "pin")[:3, :3]
    assert np.abs(m @ m.T - np.eye(3)).max() < 1e-9
    assert np.linalg.det(m) == pytest.approx(1)


@given(TURN, st.floats(0.0, 180.0), st.sampled_from(PLANES))
@settings(max_examples=30)
def test_planes_stand_at_the_angle_their_mate_says(turn: list[float], angle: float, face: str) -> None:
    facts = built(
        assembly(
            [
                {"id": "still", "part": "plate"},
                {"id": "moved", "part": "plate", "at": placed([0, 0, 90], turn)},
            ],
            [{"kind": "angle", "id": "lean", "of": f"moved:{face}", "to": "still:b/end", "angle": angle}],
        )
    )
    (_, a), (_, b) = axis_of(facts, "moved", face), axis_of(facts, "still", "b/end")
    apart = math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b))
    assert math.degrees(apart) == pytest.approx(angle, abs=2e-5)


def test_what_mates_leave_free_stays_as_near_as_it_can() -> None:
    facts = built(
        assembly(
            [
                {"id": "still", "part": "plate"},
                {"id": "moved", "part": "plate", "at": {"origin": [31, -4, 50]}},
            ],
            [{"kind": "coincident", "id": "on", "of": "moved:b/start", "to": "still:b/end"}],
        )
    )
    m = place_of(facts, "moved")
    assert m.tolist() == [[1, 0, 0, 31], [0, 1, 0, -4], [0, 0, 1, 12], [0, 0, 0, 1]]


def test_parts_that_hold_each_other_in_a_ring_are_solved_together() -> None:
    """Two plates, each placed from the other and one of them from a third."""
    facts = built(
        assembly(
            [
                {"id": n, "part": "plate", "at": {"origin": [9 * k, 5 * k, 40 * k]}}
                for k, n in enumerate(("a", "b", "c"))
            ],
            [
                {"kind": "coincident", "id": "m1", "of": "b:b/start", "to": "a:b/end", "offset": 2},
                {"kind": "concentric", "id": "m2", "of": "b:h/bore", "to": "c:h/bore"},
                {"kind": "coincident", "id": "m3", "of": "c:b/start", "to": "b:b/end", "offset": 3},
                {"kind": "concentric", "id": "m4", "of": "c:h/bore", "to": "a:h/bore"},
            ],
        )
    )
    at = {i.path: np.array(i.matrix)[:3, 3].tolist() for i in facts.instances}
    assert at["a"] == [0, 0, 0]
    assert at["b"] == pytest.approx([0, 0, 14], abs=1e-5)
    assert at["c"] == pytest.approx([0, 0, 29], abs=1e-5)


ON = {"kind": "coincident", "id": "one", "of": "pin:b/start", "to": "plate:b/end", "offset": 4}


@pytest.mark.parametrize(
    ("mates", "sentence"),
    [
        (
            [ON, {**ON, "id": "two", "offset": 9}],
            "two contradict each other: b/start of pin lies 4 mm from b/end of plate, and b/start",
        ),
        (
            [ON, {"kind": "angle", "id": "two", "of": "pin:b/start", "to": "plate:b/end", "angle": 30}],
            "Mates one and two contradict each other",
        ),
        ([ON, ON], "Two mates of the assembly are called 'one'"),
        ([{**ON, "of": "plate:b/start"}], "between plate and itself"),
        ([{**ON, "of": "bolt:b/start"}], "speaks of 'bolt', and the assembly has no such instance"),
        ([{**ON, "of": "pin:b/top"}], "the face 'b/top', and pin has none of that name"),
        ([{**ON, "of": "pin:b/side"}], "b/side of pin is not a plane"),
        (
            [{"kind": "concentric", "id": "x", "of": "pin:b/start", "to": "plate:h/bore"}],
            "b/start of pin has no axis",
        ),
        (
            [{"kind": "concentric", "id": "x", "of": "pin:b/side", "to": "plate:h/bore", "offset": -2}],
            "not below 0",
        ),
        (
            [{"kind": "angle", "id": "x", "of": "pin:b/start", "to": "plate:b/end", "angle": 200}],
            "from 0° to 180°",
        ),
    ],
)
def test_mates_that_cannot_be_are_named(mates: list[dict[str, Any]], sentence: str) -> None:
    data = assembly(
        [{"id": "plate", "part": "plate"}, {"id": "pin", "part": "pin", "at": {"origin": [1, 2, 30]}}], mates
    )
    with pytest.raises(ModelError, match="^[^\n]+$") as caught:
        built(data)
    assert sentence in str(caught.value)


PAIR = assembly(
    [
        {"id": "plate", "part": "plate"},
        {"id": "pin-1", "part": "pin"},
        {"id": "pin-2", "part": "pin", "at": {"origin": [50, 0, 0]}},
    ],
    [],
    properties={"number": "A-1"},
    parts={"plate": {"model": "P-1"}, "pin": {"model": "P-2"}},
)
KNOWN = {"P-1": PLATE, "P-2": PIN, "A-1": PAIR}


def of_pairs(count: int, **more: Any) -> dict[str, Any]:
    pairs = [{"id": f"pair-{n}", "part": "pair", "at": {"origin": [0, 0, 100 * n]}} for n in range(count)]
    return assembly(
        pairs + [{"id": "pin", "part": "pin"}],
        [],
        parts={"pair": {"model": "A-1"}, "pin": {"model": "P-2"}},
        **more,
    )


@given(st.integers(1, 4), st.integers(1, 3))
@settings(max_examples=8)
def test_a_part_of_nested_assemblies_is_one_part_counted_down_the_levels(inner: int, outer: int) -> None:
    middle = of_pairs(inner, properties={"number": "A-2"})
    top = assembly(
        [{"id": f"m{n}", "part": "m", "at": {"origin": [300 * n, 0, 0]}} for n in range(outer)],
        [],
        parts={"m": {"model": "A-2"}},
    )
    facts = built(top, {**KNOWN, "A-2": middle})
    totals = {facts.parts[line.key].number: line.total for line in bill.lines(facts, "parts")}
    assert totals == {"P-1": inner * outer, "P-2": (2 * inner + 1) * outer}
    assert len(facts.parts) == 2
    indented = [(line.name, line.depth, line.count, line.total) for line in bill.lines(facts, "indented")]
    name = facts.tree.children[0].name
    assert indented == [
        (name, 0, outer, outer),
        ("Test", 1, inner, inner * outer),
        ("Plate", 2, 1, inner * outer),
        ("Pin", 2, 2, 2 * inner * outer),
        ("Pin", 1, 1, outer),
    ]
    mass = facts.total_mass() or 0.0
    assert mass == pytest.approx(sum(facts.mass(p) * totals[p.number] for p in facts.parts.values()))  # type: ignore[misc]


def test_places_in_a_subassembly_go_with_it_and_can_be_mated_to() -> None:
    top = of_pairs(1, parameters={"far": 25})
    top["instances"][0]["at"] = placed([10, 20, 30], [0, 0, math.pi / 2])
    top["mates"] = [
        {
            "kind": "coincident",
            "id": "foot",
            "of": "pin:b/start",
            "to": "pair-0/plate:b/end",
            "offset": "far",
        },
        {"kind": "concentric", "id": "mid", "of": "pin:b/side", "to": "pair-0/plate:h/bore"},
    ]
    facts = built(top, KNOWN)
    at = {i.path: np.array(i.matrix)[:3, 3] for i in facts.instances}
    assert at["pair-0/pin-2"] == pytest.approx([10, 70, 30])
    assert at["pin"] == pytest.approx(
        [10 - 10, 20 + 20, 30 + 12 + 25], abs=1e-5
    )  # the hole at (20, 10) turned a quarter
    assert [(m.of, m.to, m.says) for m in facts.mates] == [
        ("pin", "pair-0/plate", "far"),
        ("pin", "pair-0/plate", "0.0"),
    ]


def test_an_assembly_that_contains_itself_is_told_by_which_way() -> None:
    loop = assembly(
        [{"id": "p", "part": "pair"}], [], parts={"pair": {"model": "A-2"}}, properties={"number": "A-1"}
    )
    back = assembly(
        [{"id": "q", "part": "pair"}], [], parts={"pair": {"model": "A-1"}}, properties={"number": "A-2"}
    )
    with pytest.raises(
        ModelError,
        match=r"^The assembly A-1 contains itself \(A-1 > A-2 > A-1\): take one of these references out\.$",
    ):
        built(loop, {"A-1": loop, "A-2": back})


def test_a_part_that_is_not_there_is_named() -> None:
    with pytest.raises(
        ModelError, match="needs a part numbered P-2, and the workspace has none: bring it in first"
    ):
        built(PAIR, {"P-1": PLATE})
