"""What is remembered is keyed by all that it depends on: no number of yesterday's model on today's
drawing."""

from functools import partial
from typing import Any

import pytest

from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.review import redundancy
from drafting.compose import annotation_groups
from drafting.document import Drawing, Pick, Placement, Point, Sheet, View
from drafting.ink.elements import Group, Text
from drafting.memory import Identified, Memory, Plain, Same
from drafting.model.exploded import moved
from drafting.model.model import ExplodedState, Facts, Step
from drafting.standards.profile import ISO_MM
from drafting.views.orientation import PRINCIPAL
from tests.core.test_assembly_views import assembly, at


def apart(facts: Facts, by: float) -> Facts:
    """As an office edit leaves it: a copy with another exploded state."""
    step = Step(instances=["b"], direction=[1, 0, 0], distance=by)
    return facts.model_copy(update={"exploded": [ExplodedState(name="apart", steps=[step])]})


def drawn() -> tuple[Drawing, Sheet]:
    view = View(
        id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=100, y=100), exploded="apart"
    )
    picks = [Pick(instance=name, source="c/side.left|c/start") for name in ("a", "b")]
    size = LinearDimension(
        id="d", view="v", picks=picks, place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=-40))
    )
    sheet = Sheet(id="s", size="A3", views=[view], annotations=[size])
    return Drawing(name="Apart", profile=ISO_MM, projection="first", sheets=[sheet]), sheet


def written(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[str]:
    group = annotation_groups(drawing, sheet, facts)["d"]
    assert isinstance(group, Group), group
    return [e.text for e in group.elements if isinstance(e, Text)]


def test_a_size_follows_an_exploded_step_that_the_office_changed() -> None:
    facts = assembly(at("a", "big", 0, 0, 0), at("b", "small", 100, 0, 0)).facts
    drawing, sheet = drawn()
    near, far = apart(facts, 10), apart(facts, 50)
    assert written(drawing, sheet, near) == ["120"]  # from -20 to 90, and 10 apart
    assert written(drawing, sheet, far) == ["160"]
    levels = [next(iter(redundancy.stated(drawing, f)))[1].levels for f in (near, far)]
    assert [round(abs(pair[0][1] - pair[1][1]), 6) for pair in levels if pair] == [120, 160]


def test_a_copy_with_other_parts_or_places_finds_its_own() -> None:
    facts = assembly(at("a", "big", 0, 0, 0), at("b", "small", 100, 0, 0)).facts
    assert facts.part_of("b") is not None  # looked up once, so that there is something to go stale
    there = moved(facts, {"b": [0.0, 0.0, 7.0]}).part_of("b")
    assert there is not None
    assert there[0].matrix[2][3] == pytest.approx(7.0)
    part = facts.parts["big"]
    assert part.face("c/start") is not None
    assert part.model_copy(update={"faces": []}).face("c/start") is None
    part.faces = []
    assert part.face("c/start") is None


def test_every_object_has_an_identity_of_its_own() -> None:
    class Thing(Identified):
        size: int

    one = Thing(size=1)
    others = [Thing(size=1), one.model_copy(), one.model_copy(deep=True), one.model_copy(update={"size": 1})]
    assert len({t.identity for t in (one, *others)}) == 5
    before = one.identity
    one.size = 2
    assert one.identity != before


def test_memory_forgets_the_least_recently_used_and_keeps_no_failure() -> None:
    class Thing(Identified):
        pass

    of, made = Thing(), []

    def work(n: int) -> int:
        made.append(n)
        return n * n

    kept: Memory[int] = Memory(3)
    for n in (1, 2, 3, 1, 4, 1, 3, 2):  # 4 puts out 2, which was used longest ago
        assert kept.recall(of, n, partial(work, n)) == n * n
    assert made == [1, 2, 3, 4, 2]
    assert len(kept) == 3
    kept.recall(Thing(), 1, partial(work, 1))
    assert made[-1] == 1  # of another object nothing is known

    def fails() -> Any:
        raise ValueError("no")

    for _ in range(2):
        with pytest.raises(ValueError, match="no"):
            kept.recall(of, "x", fails)
    assert kept.recall(of, "x", lambda: 5) == 5


def test_an_object_in_a_key_stands_for_itself_alone() -> None:
    class Thing(Plain):
        size: int = 1

    one, two = Thing(), Thing()
    assert one == two
    assert Same(one) == Same(one)
    assert Same(one) != Same(two)
    assert len({Same(one), Same(two), Same(one)}) == 2
