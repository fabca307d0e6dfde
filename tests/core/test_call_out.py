"""Callouts for all holes of a view: each kind once, in the room that there is, and no leaders cross."""

from typing import Any

import numpy as np
import shapely

from drafting.annotation.kinds import hole_callout
from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.proposing import call_out
from drafting.context import Context
from drafting.document import Drawing, Pick, Placement, Point, Sheet, in_view
from drafting.ink.elements import Line, Text
from drafting.ink.shapes import text_boxes
from drafting.model.model import Model
from drafting.standards.profile import ISO_MM
from drafting.views.derivation import Derivation
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.orientation import PRINCIPAL
from drafting.views.section import across
from drafting.views.view import CuttingLine, DetailOutline, Section, View
from tests.core.conftest import block

IDS = [f"n{k}" for k in range(400)]


def hole(name: str, at: list[list[float]], **more: Any) -> dict[str, Any]:
    return {"id": name, "kind": "hole", "plane": {"origin": [0, 0, 20]}, "at": at, **more}


def called(
    model: Model, side: str = "top", room: Any = None, have: list[Any] | None = None
) -> tuple[list[Any], int, Context]:
    view = View(id="v", kind="main", orientation=PRINCIPAL[side], position=Point(x=200, y=150))
    sheet = Sheet(id="s", size="A2", views=[view], annotations=have or [])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    context = Context(drawing, sheet, model.facts, view)
    geometry = derive(Prepared(model), Derivation(orientation=PRINCIPAL[side]))
    outline = shapely.box(*geometry.low, *geometry.high)
    free = shapely.box(-190, -140, 190, 140).difference(outline) if room is None else room
    made, left = call_out.proposed(geometry, context, free, [], IDS)
    return made, left, context


def drilled() -> Model:
    return block(
        140,
        90,
        20,
        hole("tap", [[-50 + 25 * k, -33] for k in range(5)], diameter=4.2, depth=12),
        hole(
            "bolt",
            [[x, y] for x in (-58, 58) for y in (-20, 33)],
            diameter=9,
            counterbore={"diameter": 15, "depth": 8.6},
        ),
        hole("sink", [[-10, 30], [10, 30]], diameter=5, countersink={"diameter": 11, "angle": 90}),
        hole("bore", [[0, 0]], diameter=34),
        hole("pin", [[-40, 5], [40, 5]], diameter=6.6),
    )


def test_each_kind_is_called_out_once_beside_the_view() -> None:
    made, left, context = called(drilled())
    assert left == 0
    assert sorted(hole_callout.words(c, context) for c in made) == sorted(
        ["5× Ø4,2 ↧12", "4× Ø9 ⌴ Ø15 ↧8,6", "2× Ø5 ⌵ Ø11 × 90°", "Ø34", "2× Ø6,6"]
    )
    words, leaders = [], []
    for c in made:
        ink = hole_callout.ink(c, context)
        words.append(shapely.union_all(text_boxes([e for e in ink if isinstance(e, Text)], (0.0, 0.0))))
        first = next(e for e in ink if isinstance(e, Line))
        leaders.append(shapely.LineString([first.a, first.b]))
    outline = shapely.box(-70, -45, 70, 45)
    for n, (text, leader) in enumerate(zip(words, leaders, strict=True)):
        assert not text.intersects(outline)
        for m in range(n):
            assert not text.intersects(words[m])
            assert not leader.intersects(leaders[m])
            assert not leader.intersects(words[m])
            assert not text.intersects(leaders[m])


def test_what_is_called_out_already_is_not_again() -> None:
    model = drilled()
    made, _, _ = called(model)
    again, left, _ = called(model, have=made)
    assert (again, left) == ([], 0)
    fewer, _, context = called(model, have=made[1:])
    assert [hole_callout.words(c, context) for c in fewer] == [hole_callout.words(made[0], context)]


def test_what_is_sized_by_hand_is_left_to_that() -> None:
    pick = Pick(instance="part", source="bore/bore", role="edge")
    place = Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0))
    edge = next(e for e in next(iter(drilled().facts.parts.values())).edges if "bore/bore" in e.faces)
    size = DiameterDimension(
        id="d", anchor=in_view("v", [pick.model_copy(update={"source": edge.name})]), place=place
    )
    made, left, context = called(drilled(), have=[size])
    assert left == 0
    assert "Ø34" not in {hole_callout.words(c, context) for c in made}
    assert len(made) == 4


def test_holes_are_called_out_where_one_looks_into_them() -> None:
    assert called(drilled(), "front")[0] == []
    made, _, context = called(drilled(), "bottom")
    both = sorted(hole_callout.words(c, context) for c in made)
    assert both == ["2× Ø6,6", "Ø34"]  # heads and blind holes begin on the other side


def test_what_has_no_room_is_counted() -> None:
    made, left, _ = called(drilled(), room=shapely.box(500, 500, 501, 501))
    assert (made, left) == ([], 5)


def test_many_equal_holes_are_one_callout() -> None:
    at = [[-66 + 12 * k, -39 + 13 * n] for k in range(12) for n in range(7)]
    made, left, context = called(block(140, 90, 20, hole("h", at, diameter=5)))
    assert [hole_callout.words(c, context) for c in made] == ["84× Ø5"]
    assert left == 0


def test_assemblies_leave_holes_to_the_drawings_of_their_parts(winder: Model) -> None:
    view = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=200, y=150))
    sheet = Sheet(id="s", size="A2", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    geometry = derive(Prepared(winder), Derivation(orientation=PRINCIPAL["front"]))
    context = Context(drawing, sheet, winder.facts, view)
    assert call_out.proposed(geometry, context, shapely.box(-999, -999, 999, 999), [], IDS) == ([], 0)
    assert np.isfinite(geometry.low).all()


def test_holes_that_only_a_section_shows_are_called_out_on_it() -> None:
    """Common practice: a hole is called out where it is round; along its axis where no view shows it so."""
    top = PRINCIPAL["top"]
    line = CuttingLine(base=top, points=[Point(x=-75, y=33), Point(x=75, y=33)], viewer=1)
    view = View(
        id="v",
        kind="section",
        orientation=across(top, (1.0, 0.0), 1, "third"),
        position=Point(x=200, y=150),
        section=Section(line=line),
    )
    above = View(id="t", kind="main", orientation=PRINCIPAL["top"], position=Point(x=200, y=300))
    model = drilled()
    for others, words in (([], ["4× Ø9 ⌴ Ø15 ↧8,6"]), ([above], [])):
        sheet = Sheet(id="s", size="A2", views=[view, *others])
        context = Context(
            Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet]), sheet, model.facts, view
        )
        geometry = derive(Prepared(model), derivation_of(view, model.facts))
        room = shapely.box(-190, -140, 190, 140).difference(shapely.box(*geometry.low, *geometry.high))
        made, left = call_out.proposed(geometry, context, room, [], IDS)
        assert [hole_callout.words(c, context) for c in made] == words
        assert left == 0


def test_a_detail_counts_the_holes_it_shows() -> None:
    outline = DetailOutline(shape="circle", center=Point(x=-58, y=0), radius=40)
    view = View(
        id="v",
        kind="detail",
        orientation=PRINCIPAL["top"],
        position=Point(x=200, y=150),
        detail=outline,
        letter="X",
    )
    model = drilled()
    sheet = Sheet(id="s", size="A2", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    context = Context(drawing, sheet, model.facts, view)
    bolt = next(e.name for e in next(iter(model.facts.parts.values())).edges if "bolt/bore" in e.name)
    spot = Spot(Pick(instance=model.facts.instances[0].path, source=bolt), (0.0, 0.0))
    made = hole_callout.propose(Request([spot], (60.0, 60.0), "x"), context)
    assert hole_callout.words(made, context).startswith("4× Ø9")
    here = made.model_copy(update={"over": "view"})
    assert hole_callout.words(here, context).startswith("2× Ø9")
