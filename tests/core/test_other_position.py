"""A part in another position, in phantom."""

import math

import numpy as np
import pytest

from drafting.annotation import registry
from drafting.annotation.kinds import other_position
from drafting.annotation.kinds.kind import Request, Spot
from drafting.context import Context
from drafting.document import Drawing, Pick, Point, Sheet
from drafting.errors import SizeError
from drafting.ink.elements import Line
from drafting.standards.profile import ISO_MM
from drafting.views.derive import Prepared, derive
from drafting.views.family import derivation_of
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.test_added_lines import MODEL, RIGHT, RIM, edge, plate, seen
from tests.core.test_assembly_views import assembly, at


def test_a_part_in_another_position_is_its_outline_turned() -> None:
    """Every point of the phantom lies as far from the center as on the part, and turned by the angle; when
    the part grows, it does, too."""
    context = seen(MODEL)
    assert context.view is not None
    geometry = derive(Prepared(MODEL), derivation_of(context.view, MODEL.facts))
    about = edge(RIM, 38, 0)
    far = Spot(
        Pick(instance="", source="", role="added"), (30 + 20 * math.cos(0.5236), 20 * math.sin(0.5236))
    )
    request = Request([edge(RIGHT, 50, 0), about, far], (0, 0), "a", geometry=geometry)
    made = other_position.propose(request, context)
    registry.check(made, context)
    assert made.angle == 30

    def corners(at: Context) -> set[tuple[float, float]]:
        return {
            (round(x, 3), round(y, 3))
            for e in registry.ink(made, at)
            if isinstance(e, Line)
            for x, y in (e.a, e.b)
        }

    def turned(wide: float) -> set[tuple[float, float]]:
        c, s, x0 = math.cos(math.radians(30)), math.sin(math.radians(30)), wide / 2 - 20
        places = [(x - x0, y) for x in (-wide / 2, wide / 2) for y in (-30, 30)]
        return {(round(x0 + x * c - y * s, 3), round(x * s + y * c, 3)) for x, y in places}

    assert corners(context) == turned(100.0)
    assert corners(seen(plate(140.0))) == turned(140.0)
    assert {e.line for e in registry.ink(made, context)} == {"phantom"}  # type: ignore[union-attr]
    with pytest.raises(SizeError, match="where the part is"):
        registry.check(made.model_copy(update={"angle": 0.0}), context)


def test_an_outline_that_others_hide_is_whole() -> None:
    """A cube behind a plate that hides half of it: its phantom is the whole square."""
    model = assembly(at("a", "small", 0, 0, 0), at("b", "big", 25, -40, 0))
    view = View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=100, y=100))
    sheet = Sheet(id="s", size="A3", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])
    context = Context(drawing, sheet, model.facts, view)
    geometry = derive(Prepared(model), derivation_of(view, model.facts))
    own = [c for c in geometry.curves if geometry.instances[c.instance] == "a" and c.kind == "line"]
    hidden = [c for c in own if not c.visible]
    assert hidden
    seen_edge = next(c for c in own if c.visible)
    middle = np.mean(np.reshape(seen_edge.data[:4], (2, 2)), axis=0)
    corner = Pick(instance="a", source=seen_edge.source, role=seen_edge.role, point="start")
    part = Spot(Pick(instance="a", source=seen_edge.source, role=seen_edge.role), tuple(middle))
    away = Spot(Pick(instance="", source="", role="added"), (90.0, 90.0))
    spots = [part, Spot(corner, tuple(seen_edge.data[:2])), away]
    made = other_position.propose(Request(spots, (0, 0), "p", geometry=geometry), context)
    lines = [e for e in registry.ink(made, context) if isinstance(e, Line)]
    low, high = (np.array(v) for v in (model.facts.part_of("a")[1].low, model.facts.part_of("a")[1].high))  # type: ignore[index]
    around = 2 * float((high - low)[0] + (high - low)[2])
    assert sum(math.dist(e.a, e.b) for e in lines) == pytest.approx(around)
