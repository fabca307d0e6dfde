"""What differs between two states of a drawing, against the commands that made the one out of the other."""

import random
from typing import Any

import pytest
from pydantic import TypeAdapter

from drafting.annotation.review.comparison import Difference, State, compared
from drafting.commands import AnyCommand, applied
from drafting.document import Drawing, Point, Sheet, View
from drafting.model.model import Facts, Model
from drafting.standards.profile import ISO_MM
from drafting.views.orientation import PRINCIPAL
from tests.core.conftest import part
from tests.core.test_stack_chain import in_tray

ADAPTER: TypeAdapter[Any] = TypeAdapter(AnyCommand)
PLACE: dict[str, Any] = {"model": {"x": 0.0, "y": 0.0}, "paper": {"x": 0.0, "y": -20.0}}


def plate(wide: float = 60) -> Model:
    base = {"id": "b", "kind": "extrude", "profile": {"width": "wide", "height": 40}, "depth": 10}
    return part([base], {"wide": wide})


MODEL = plate()


def drawn(*commands: dict[str, Any], of: Drawing | None = None, facts: Facts = MODEL.facts) -> Drawing:
    if of is None:
        view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=100, y=100))
        profile = ISO_MM.model_copy(update={"general_tolerance": "ISO 2768-m"})
        sheet = Sheet(id="s", name="One", size="A3", views=[view])
        of = Drawing(name="x", profile=profile, projection="first", notes=["Break edges."], sheets=[sheet])
    for command in commands:
        of = applied(of, ADAPTER.validate_python(command), facts)
    return of


def size(name: str, *edges: str, **more: Any) -> dict[str, Any]:
    (path,) = [i.path for i in MODEL.facts.instances]
    picks = [{"instance": path, "source": e} for e in edges]
    made = {"kind": "linear", "id": name, "view": "v", "picks": picks, "place": PLACE, **more}
    return {"command": "place", "annotations": [made]}


WIDE = size("w", "b/end|b/side.left", "b/end|b/side.right")
DEEP = size("d", "b/end|b/side.bottom", "b/end|b/side.top", direction="vertical")


def found(a: Drawing, b: Drawing, facts: Facts = MODEL.facts) -> list[tuple[str, str, str, str]]:
    return [(d.change, d.what, d.before, d.after) for d in compared(State(a, MODEL.facts), State(b, facts))]


def test_the_same_drawing_differs_in_nothing() -> None:
    a = drawn(WIDE, DEEP)
    assert found(a, a) == []
    moved = drawn(
        {"command": "move", "moves": [{"id": "w", "place": {**PLACE, "paper": {"x": 0, "y": -44}}}]},
        {"command": "move_view", "view": "v", "position": {"x": 140, "y": 90}},
        of=a,
    )
    assert found(a, moved) == []  # it stands elsewhere and says the same


EDITS: list[tuple[dict[str, Any], tuple[str, str, str, str]]] = [
    (DEEP, ("added", "distance", "", "40 (general ±0,3)")),
    ({"command": "remove", "ids": ["w"]}, ("removed", "distance", "60 (general ±0,3)", "")),
    (
        {"command": "change", "ids": ["w"], "values": {"says": "+0.1/0"}},
        ("changed", "distance", "60 (general ±0,3)", "60 +0,1/0"),
    ),
    (
        {"command": "change", "ids": ["w"], "values": {"wording": {"count": 2}}},
        ("changed", "distance", "60 (general ±0,3)", "2× 60 (general ±0,3)"),
    ),
    (
        {"command": "change_fields", "fields": {"title": "Sill", "revision": "B"}},
        ("added", "Title", "", "Sill"),
    ),
    (
        {"command": "change_notes", "notes": ["Break edges.", "Paint."]},
        ("added", "general note", "", "Paint."),
    ),
    (
        {"command": "change_sheet", "sheet": "s", "size": "A2"},
        ("changed", "sheet", "One, A3 landscape, 1:1", "One, A2 landscape, 1:1"),
    ),
    (
        {
            "command": "place_projected_view",
            "id": "p",
            "parent": "v",
            "relation": "right",
            "position": {"x": 250, "y": 100},
        },
        ("added", "view", "", "Projected, 1:1, 0 0 1 to the right, 0 1 0 up"),
    ),
]


@pytest.mark.parametrize(("command", "wanted"), EDITS, ids=[e["command"] for e, _ in EDITS])
def test_each_edit_is_told_as_what_it_is(command: dict[str, Any], wanted: tuple[str, ...]) -> None:
    a = drawn(WIDE)
    b = drawn(command, of=a)
    told = found(a, b)
    assert wanted in told
    turned = {"added": "removed", "removed": "added", "changed": "changed"}
    back = [(turned[c], w, y, x) for c, w, x, y in found(b, a)]
    assert sorted(back) == sorted(told)


def test_random_logs_are_told_whole() -> None:
    """Of each pair of states of a random log: what differs is what the edits between them touched."""
    r = random.Random(4)
    for _ in range(12):
        state, touched = drawn(WIDE, DEEP), set()
        start = state
        for n in range(6):
            which = r.choice(["w", "d"])
            here = {a.id for a in state.sheets[0].annotations}
            if which not in here:
                continue
            command = r.choice(
                [
                    {"command": "change", "ids": [which], "values": {"says": f"±0.{n + 1}"}},
                    {"command": "change", "ids": [which], "values": {"wording": {"prefix": f"P{n} "}}},
                    {"command": "remove", "ids": [which]},
                ]
            )
            state = drawn(command, of=state)
            touched.add(which)
        told = compared(State(start, MODEL.facts), State(state, MODEL.facts))
        assert {d.annotation for d in told} == touched
        assert all(d.sheet == "s" and d.view == "v" for d in told)


def test_a_model_that_moved_on_changes_the_sizes_that_measure_it() -> None:
    a = drawn(WIDE, DEEP)
    wider = plate(64)
    assert found(a, a, wider.facts) == [("changed", "distance", "60 (general ±0,3)", "64 (general ±0,3)")]


def test_rows_of_a_parts_list_are_told_by_item() -> None:
    one, two = in_tray(50, 20).facts, in_tray(50, 20, 29).facts
    plist = {"command": "place", "sheet": "s", "annotations": [{"kind": "parts_list", "id": "l"}]}
    a = drawn(plist, facts=one)
    told = compared(State(a, one), State(a, two))
    assert {(d.change, d.what, d.before) for d in told} == {("added", "row of a parts list", "")}
    assert "Block 1" in told[0].after
    assert isinstance(told[0], Difference)
