"""Shafts by their steps, on demo parts as their recipes say them, in the disguises of other writers."""

from collections import Counter
from pathlib import Path

import pytest

from drafting.errors import ModelError
from drafting.features.body import Body
from drafting.features.recognized import features
from drafting.features.saying import said_threads, shaft_offers
from drafting.features.shafts import shafts
from drafting.model.model import PartFacts
from tests.core.conftest import demo
from tests.core.disguises import DISGUISES, disguised

STEPS = {"HB-205": [32, 54, 32, 25, 22.6, 20], "HB-207": [52, 40], "HB-231": [5, 8.5], "HB-202": []}
"""Diameters, as the recipes say them."""


def sizes(part: PartFacts) -> Counter[tuple[float, float]]:
    return Counter((round(s.diameter, 4), round(s.length, 4)) for s in shafts(Body(part)))


@pytest.mark.parametrize("number", STEPS)
def test_steps_are_as_the_recipe_says(number: str) -> None:
    (part,) = demo(number).facts.parts.values()
    assert sorted(s.diameter for s in shafts(Body(part))) == pytest.approx(sorted(STEPS[number]))


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", ["HB-205", "HB-207", "HB-231"])
def test_shafts_are_the_same_in_every_disguise(number: str, disguise: str, tmp_path: Path) -> None:
    model = demo(number)
    (shape,), (part,) = model.shapes.values(), model.facts.parts.values()
    assert sizes(disguised(shape, disguise, tmp_path)) == sizes(part)


def test_a_shafts_end_can_be_said_to_be_threaded() -> None:
    (part,) = demo("HB-205").facts.parts.values()
    bare = part.model_copy(update={"threads": []})
    end = next(s for s in features(bare).shafts if s.diameter == pytest.approx(20))
    assert [o.thread for o in shaft_offers(end)] == ["M20"]
    said = said_threads(bare, end.faces, "M20x1.5", 24.0)
    assert [(t.designation, t.length, t.internal) for t in said] == [("M20x1.5", 24.0, False)]
    threaded = features(bare.model_copy(update={"threads": said})).shafts
    assert [s.thread for s in threaded if s.thread] == ["M20x1.5"]
    with pytest.raises(ModelError, match="does not go with a diameter of 20 mm: its shaft is 16 mm thick"):
        said_threads(bare, end.faces, "M16", None)
    with pytest.raises(ModelError, match="not a thread designation"):
        said_threads(bare, end.faces, "M", None)
