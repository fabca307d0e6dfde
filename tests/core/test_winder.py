"""The demo winder as an engineer would look at it: nothing stands in anything but a screw in its thread,
every part touches another, and every screw has a thread to be in."""

import itertools
from typing import Any

import numpy as np
import pytest
from OCP.BRepAlgoAPI import BRepAlgoAPI_Common
from OCP.BRepBuilderAPI import BRepBuilderAPI_Transform
from OCP.BRepExtrema import BRepExtrema_DistShapeShape
from OCP.gp import gp_Trsf

from drafting.kernel.measure import volume
from drafting.model.model import Model, PartFacts
from tests.core.conftest import demo

TOUCH = 0.3
"""mm; the pinion stands so far from its bearings."""


class Placed:
    def __init__(self, model: Model, path: str) -> None:
        instance, self.part = model.facts.part_of(path)  # type: ignore[misc]
        turn, m = gp_Trsf(), instance.matrix
        turn.SetValues(*[float(m[r][c]) for r in range(3) for c in range(4)])
        self.path = path
        self.shape: Any = BRepBuilderAPI_Transform(model.shapes[instance.part], turn, True).Shape()
        corners = np.array(list(itertools.product(*zip(self.part.low, self.part.high, strict=True))))
        at = corners @ np.array(m)[:3, :3].T + np.array(m)[:3, 3]
        self.low, self.high = at.min(0), at.max(0)

    def is_near(self, other: "Placed", gap: float) -> bool:
        return bool((self.low < other.high + gap).all() and (other.low < self.high + gap).all())


def threads(part: PartFacts, internal: bool) -> set[str]:
    return {t.designation for t in part.threads if t.internal is internal}


@pytest.fixture(scope="module")
def parts() -> list[Placed]:
    model = demo("HB-200")
    return [Placed(model, i.path) for i in model.facts.instances]


def test_nothing_stands_in_anything_but_a_thread_in_its_own(parts: list[Placed]) -> None:
    for one, two in itertools.combinations(parts, 2):
        if not one.is_near(two, -1e-3):
            continue
        common = BRepAlgoAPI_Common(one.shape, two.shape).Shape()
        if common is None or common.IsNull() or abs(volume(common)) < 0.5:
            continue
        fits = threads(one.part, True) & threads(two.part, False) or threads(two.part, True) & threads(
            one.part, False
        )
        assert fits, (one.path, two.path)


def test_every_part_touches_another(parts: list[Placed]) -> None:
    alone = []
    for one in parts:
        near = [p for p in parts if p is not one and one.is_near(p, TOUCH)]
        if not any(BRepExtrema_DistShapeShape(one.shape, p.shape).Value() < TOUCH for p in near):
            alone.append(one.path)
    assert alone == []


def test_every_screw_is_in_a_thread_of_its_size(parts: list[Placed]) -> None:
    for one in parts:
        outside = threads(one.part, False)
        if outside:
            assert any(one.is_near(p, -1.0) and threads(p.part, True) & outside for p in parts), one.path
