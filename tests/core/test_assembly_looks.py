"""How an assembly is shown: trails that join what belongs together, parts seen through, and hidden lines part
by part."""

import base64
import io
from typing import Any

import numpy as np
import pytest
from PIL import Image

from drafting.document import Point, View
from drafting.ink.elements import Line
from drafting.model.assembly import build_model
from drafting.model.model import ExplodedState, Model, Step
from drafting.model.recipe import validate_recipe
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.geometry import ViewGeometry, arc_points
from drafting.views.ink import view_ink
from drafting.views.orientation import PRINCIPAL
from drafting.views.trail_lines import trail_paths
from drafting.views.uncut import left_whole
from tests.core.test_assembly import assembly

FRONT = PRINCIPAL["front"]


def box(width: float, depth: float, height: float, **more: Any) -> dict[str, Any]:
    return {
        "moorcrest": "part",
        "version": 1,
        "name": "Box",
        "features": [
            {"id": "b", "kind": "extrude", "profile": {"width": width, "height": depth}, "depth": height}
        ],
        **more,
    }


@pytest.fixture(scope="module")
def tower() -> Model:
    """A base, a block on it, and a lid on the block; a pin in front of them all."""
    return build_model(
        validate_recipe(
            assembly(
                [
                    {"id": n, "part": n, "at": {"origin": at}}
                    for n, at in (("base", [0, 0, 0]), ("block", [0, 0, 20]), ("lid", [0, 0, 70]))
                ],
                [],
                parts={"base": box(100, 100, 20), "block": box(50, 50, 50), "lid": box(40, 40, 5)},
            )
        )
    )


def trails(
    model: Model, steps: list[tuple[list[str], list[float], float]], **shifts: Any
) -> dict[tuple[str, ...], list[list[float]]]:
    state = ExplodedState(name="x", steps=[Step(instances=i, direction=d, distance=by) for i, d, by in steps])
    return {
        tuple(t.instances): t.points
        for t in trail_paths(state, model.facts, {k: np.array(v) for k, v in shifts.items()})
    }


UP, RIGHT = [0.0, 0.0, 1.0], [1.0, 0.0, 0.0]


def test_a_part_comes_from_where_the_part_it_sits_on_has_gone(tower: Model) -> None:
    assert trails(tower, [(["block", "lid"], RIGHT, 90), (["lid"], UP, 60)]) == {
        ("block",): [[0, 0, 45], [90, 0, 45]],
        ("lid",): [[90, 0, 72.5], [90, 0, 132.5]],  # over the block that has gone, not over its old place
    }
    assert trails(tower, [(["block", "lid"], RIGHT, 90)]) == {
        ("block",): [[0, 0, 45], [90, 0, 45]]
    }  # it rides along
    assert trails(tower, [(["block"], RIGHT, 90), (["lid"], RIGHT, 90), (["lid"], UP, 10)])[("lid",)] == [
        [90, 0, 72.5],
        [90, 0, 82.5],
    ]
    assert trails(tower, [(["lid"], UP, 60), (["lid"], RIGHT, 30)]) == {
        ("lid",): [[0, 0, 72.5], [0, 0, 132.5], [30, 0, 132.5]]
    }
    assert trails(tower, [(["block"], UP, 40), (["lid"], UP, 90)]) == {
        ("block", "lid"): [[0, 0, 45], [0, 0, 162.5]]
    }  # one line, one trail


def test_a_trail_that_is_moved_aside_jogs_to_where_the_part_came_from_and_went(tower: Model) -> None:
    assert trails(tower, [(["lid"], UP, 60)], lid=[12, 0, 0]) == {
        ("lid",): [[0, 0, 72.5], [12, 0, 72.5], [12, 0, 132.5], [0, 0, 132.5]]
    }
    view = View(
        id="v",
        kind="main",
        orientation=FRONT,
        position=Point(x=0, y=0),
        exploded="x",
        trail_shifts={"lid": Point(x=12, y=0)},
    )
    facts = tower.facts.model_copy(
        update={
            "exploded": [ExplodedState(name="x", steps=[Step(instances=["lid"], direction=UP, distance=60)])]
        }
    )
    drawn = derive(Prepared(Model(facts, tower.shapes)), derivation_of(view, facts)).trails
    # the front view's middle is that of the whole, at z = 37.5; below the raised lid the trail stands before
    # the block and is seen
    level = [t.data for t in drawn if t.data[1] == pytest.approx(t.data[3])]
    upright = [t.data for t in drawn if t.data[0] == pytest.approx(t.data[2])]
    assert {round(d[0], 3) for d in upright} == {12.0}
    assert {round(v, 1) for d in level for v in (d[0], d[2])} <= {0.0, 12.0}


# ---- seen through ------------------------------------------------------------------------------------------
@pytest.fixture(scope="module")
def housed() -> Prepared:
    """A red rod within a closed blue box."""
    parts = {"box": box(60, 60, 60, color=[0.2, 0.2, 0.9]), "rod": box(20, 20, 20, color=[0.9, 0.2, 0.2])}
    at = {"box": [0, 0, 0], "rod": [0, 0, 20]}
    opening = {"plane": {"origin": [0, 0, 10]}, "profile": {"width": 40, "height": 40}, "depth": 40}
    hollow = {
        **parts["box"],
        "features": [
            *parts["box"]["features"],
            {"id": "c", "kind": "extrude", "operation": "cut", **opening},
        ],
    }
    data = assembly(
        [{"id": n, "part": n, "at": {"origin": at[n]}} for n in parts],
        [],
        parts={"box": hollow, "rod": parts["rod"]},
    )
    return Prepared(build_model(validate_recipe(data)))


def pictured(prepared: Prepared, **more: Any) -> tuple[ViewGeometry, np.ndarray]:
    view = View(
        id="v", kind="main", orientation=FRONT, position=Point(x=0, y=0), shading="shaded_edges", **more
    )
    g = derive(prepared, derivation_of(view, prepared.model.facts))
    assert g.image is not None
    return g, np.array(Image.open(io.BytesIO(base64.b64decode(g.image.png)))).astype(int)


def test_a_part_within_a_transparent_one_is_seen_in_the_picture_and_in_its_lines(housed: Prepared) -> None:
    g, solid = pictured(housed)
    rod = g.instances.index("rod")
    assert not any(c.visible for c in g.curves if c.instance == rod)
    middle = tuple(n // 2 for n in solid.shape[:2])
    assert solid[middle][2] > solid[middle][0]  # blue
    g, clear = pictured(housed, transparent=["box"])
    assert clear[middle][0] > clear[middle][2]  # red through two blue walls
    edge = clear[middle[0], 40]
    assert 0 < edge[3] < 255  # the paper is seen through where nothing else is
    length = sum(
        float(np.linalg.norm(np.diff(arc_points(c), axis=0), axis=1).sum())
        for c in g.curves
        if c.instance == rod and c.visible
    )
    assert length == pytest.approx(4 * 20)
    front = [c for c in g.curves if c.instance != rod and c.visible]
    assert len(front) == 8  # the box shows its outline, and its own hollow through its wall


def test_seeing_through_changes_nothing_in_views_that_are_lines(housed: Prepared) -> None:
    view = View(id="v", kind="main", orientation=FRONT, position=Point(x=0, y=0))
    facts = housed.model.facts
    assert derivation_of(view.model_copy(update={"transparent": ["box"]}), facts) == derivation_of(
        view, facts
    )


def test_hidden_lines_are_left_out_part_by_part(housed: Prepared) -> None:
    view = View(id="v", kind="main", orientation=FRONT, position=Point(x=0, y=0))
    g = derive(housed, derivation_of(view, housed.model.facts))

    def hidden(**more):
        return [
            e
            for e in view_ink(view.model_copy(update=more), g, ISO_MM, 1.0)
            if isinstance(e, Line) and e.line == "hidden"
        ]

    assert len(hidden()) == 8  # the hollow's outline and the rod's
    assert sorted(max(abs(e.a[0]), abs(e.b[0])) for e in hidden(no_hidden=["box"])) == pytest.approx([10] * 4)
    assert hidden(no_hidden=["box", "rod"]) == []


def test_a_mark_on_the_part_goes_before_its_kind_in_sections() -> None:
    """Along its axis a shaft stays whole and a box is cut (ISO 128-3, from memory), unless the part is marked
    otherwise."""
    rod = {
        "moorcrest": "part",
        "version": 1,
        "name": "Pinion shaft",
        "features": [{"id": "b", "kind": "extrude", "profile": {"diameter": 10}, "depth": 60}],
    }
    sleeve = {
        **rod,
        "name": "Sleeve",
        "features": [{**rod["features"][0], "profile": {"diameter": 20}, "openings": [{"diameter": 10}]}],
    }  # type: ignore[index]
    data = assembly(
        [{"id": "rod", "part": "rod"}, {"id": "sleeve", "part": "sleeve"}],
        [],
        parts={"rod": rod, "sleeve": sleeve},
    )
    facts = build_model(validate_recipe(data)).facts
    along, across = np.array([0.0, 1.0, 0.0]), np.array([0.0, 0.0, 1.0])

    def marked(**marks: Any) -> list[str]:
        parts = {k: p.model_copy(update={"sectioned": marks.get(k, "")}) for k, p in facts.parts.items()}
        return left_whole(facts.model_copy(update={"parts": parts}), [along])

    assert marked() == ["rod"]
    assert marked(rod="cut") == []
    assert marked(sleeve="whole") == ["rod", "sleeve"]
    whole = facts.model_copy(
        update={"parts": {k: p.model_copy(update={"sectioned": "whole"}) for k, p in facts.parts.items()}}
    )
    assert left_whole(whole, [across]) == []  # a shaft cut across is cut
