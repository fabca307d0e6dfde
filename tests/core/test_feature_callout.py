"""What callouts say of slots, keyways, grooves and other features, and keyways by their standards' tables."""

import math
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.proposing.propose import propose
from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.feature_words import rows, shaft_rows
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.features.feature import Feature, made
from drafting.features.recognized import features
from drafting.features.shafts import Shaft
from drafting.ink.elements import Fill, Text
from drafting.model.model import Facts
from drafting.standards.keys import iso_keys, key_for, keyway_fault
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.standards.units import INCH
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import demo, part
from tests.core.contexts import seen_in

ASME_MM = ASME_INCH.model_copy(
    update={"units": "mm", "places": 2, "trailing_zeros": False, "leading_zero": True}
)


def feature(kind: Any, **sizes: Any) -> Feature:
    return made(kind, sizes, np.zeros(3), np.array([0, 0, -1.0]), {"f"})


@pytest.mark.parametrize(
    ("of", "count", "iso", "asme"),
    [
        (feature("slot", width=13, length=25), 2, "2× 13 × 25", "2X 13 X 25 THRU"),
        (feature("slot", width=8, length=30, depth=5.5), 1, "8 × 30 ↧5,5", "8 X 30 ↧5.5"),
        (feature("curved slot", width=6, radius=40, angle=60), 1, "6 × 60° on R40", "6 X 60° ON R40 THRU"),
        (feature("keyway", width=8, length=32, depth=4, diameter=25), 1, "8 × 32 ↧4", "8 X 32 ↧4"),
        (feature("hub keyway", width=8, length=50, depth=3.3, diameter=25), 1, "8 ↧3,3", "8 ↧3.3"),
        (feature("groove", width=1.3, diameter=23.9), 2, "2× 1,3 × Ø23,9", "2X 1.3 X Ø23.9"),
        (feature("face groove", diameter=40, inner=32, depth=2), 1, "Ø40 / Ø32 ↧2", "Ø40 / Ø32 ↧2"),
        (feature("pocket", width=20, length=40, corner=5, depth=6), 1, "20 × 40 R5 ↧6", "20 X 40 R5 ↧6"),
        (feature("pocket", depth=6), 1, "↧6", "↧6"),
        (feature("opening", width=20, length=40), 1, "20 × 40", "20 X 40 THRU"),
        (feature("boss", diameter=30, height=12), 4, "4× Ø30 × 12", "4X Ø30 X 12"),
        (feature("flat", height=8, diameter=20, length=10), 1, "18 over flat", "18 OVER FLAT"),
        (feature("flat", height=8, across=16, diameter=20, length=10), 2, "2× 16 A/F", "2X 16 A/F"),
        (feature("chamfer", length=1.5, angle=45.0, diameter=20), 2, "2× 1,5 × 45°", "2X 1.5 X 45°"),
        (feature("fillet", radius=6), 4, "4× R6", "4X R6"),
        (
            feature("taper", diameter=30, inner=25, length=50),
            1,
            "Ø30 / Ø25 × 50 ⌲ 1:10",  # the diameter grows by 1 on 10 (ISO 3040)
            "Ø30 / Ø25 X 50 ⌲ 1:10",
        ),
    ],
)
def test_words_of_features(of: Feature, count: int, iso: str, asme: str) -> None:
    assert plain(rows(of, count, ISO_MM), ISO_MM) == iso
    assert plain(rows(of, count, ASME_MM), ASME_MM) == asme


def test_a_callout_may_say_what_it_is_about() -> None:
    keyway = feature("hub keyway", width=8, length=50, depth=3.3, diameter=25)
    assert plain(rows(keyway, 1, ISO_MM, named=True), ISO_MM) == "keyway 8 ↧3,3"
    assert plain(rows(keyway, 1, ASME_MM, named=True), ASME_MM) == "KEYWAY 8 ↧3.3"


@pytest.mark.parametrize(
    ("profile", "wanted"), [(ISO_MM, "M20×1,5-6e × 24"), (ASME_MM, "M20X1.5-6e X 24")], ids=["ISO", "ASME"]
)
def test_threads_of_shafts_have_classes_of_their_own(profile: Profile, wanted: str) -> None:
    end = Shaft(20.0, 30.0, (0, 0, 0), (0, 0, 1), ("f",), "M20x1.5", 24.0)
    assert plain(shaft_rows(end, profile, "6e"), profile) == wanted
    if profile is ASME_MM:  # 6g and 2A where nothing else is said (ASME B1.13M, ASME B1.1)
        assert plain(shaft_rows(end, profile), profile) == "M20X1.5-6g X 24"


# ---- on a drawing ------------------------------------------------------------------------------------------
def drawn(facts: Facts, name: str = "front", profile: Profile = ISO_MM) -> Context:
    view = View(id="v", kind="main", orientation=PRINCIPAL[name], position={"x": 0, "y": 0})
    return seen_in(facts, ViewFrame.of(view, facts), profile, 1.0, view)


def picked(facts: Facts, kind: str, edge_kind: str = "line") -> Pick:
    """An edge of a feature of the only part."""
    (model,) = facts.parts.values()
    found = next(f for f in features(model).others if f.kind == kind)
    edge = next(e for e in model.edges if set(e.faces) <= found.faces and e.kind == edge_kind)
    return Pick(instance=facts.instances[0].path, source=edge.name)


def callout(facts: Facts, pick: Pick, context: Context) -> FeatureCallout:
    made_one = propose("callout", Request([Spot(pick, (0, 0))], (40.0, 30.0), "c"), context, dict)  # type: ignore[arg-type, return-value]
    (found,) = made_one.annotations
    assert isinstance(found, FeatureCallout)
    return found


def test_the_callout_tool_makes_the_callout_of_what_is_picked() -> None:
    facts = demo("HB-205").facts
    context = drawn(facts, "top")
    found = callout(facts, picked(facts, "keyway"), context)
    assert registry.text(found, context) == "8 × 32 ↧4"
    ink = registry.kind_of(found).ink(found, context)  # type: ignore[misc]
    assert [e.text for e in ink if isinstance(e, Text)] == ["8 × 32 ↧4"]
    assert sum(isinstance(e, Fill) for e in ink) == 1  # the arrow
    fit = found.model_copy(update={"width_tolerance": "P9", "depth_tolerance": "+0.2/0", "named": True})
    assert registry.text(fit, context) == "keyway 8 P9 × 32 ↧4 +0,2/0"
    registry.check(fit, context)


def test_a_tolerance_of_what_is_not_said_is_refused() -> None:
    facts = demo("HB-205").facts
    context = drawn(facts, "top")
    found = callout(facts, picked(facts, "keyway"), context)
    with pytest.raises(SizeError, match="says no diameter or radius"):
        registry.check(found.model_copy(update={"round_tolerance": "H7"}), context)
    with pytest.raises(SizeError, match="no thread of a shaft"):
        registry.check(found.model_copy(update={"thread_class": "6g"}), context)


def test_a_count_that_the_model_does_not_have_is_a_finding() -> None:
    facts = demo("HB-204").facts
    context = drawn(facts, "top")
    found = callout(facts, picked(facts, "slot"), context)
    assert registry.text(found, context) == "2× 13 × 25"
    findings = registry.kind_of(found).findings
    assert findings is not None
    assert findings(found, context) == []
    wrong = found.model_copy(update={"count": 4})
    assert findings(wrong, context) == ["A callout says 4, and the model has 2 slots like it."]


def test_what_is_no_feature_is_refused_in_a_sentence() -> None:
    body = {"id": "b", "kind": "extrude", "profile": {"width": 60, "height": 40}, "depth": 10}
    facts = part([body]).facts
    edge = next(iter(facts.parts.values())).edges[0]
    pick = Pick(instance=facts.instances[0].path, source=edge.name)
    with pytest.raises(SizeError, match="belongs to no feature"):
        callout(facts, pick, drawn(facts))


# ---- keyways -----------------------------------------------------------------------------------------------
def test_a_keyway_that_no_key_goes_into_is_a_finding() -> None:
    shaft = {"id": "s", "kind": "extrude", "profile": {"diameter": 25}, "depth": 80}
    slot = {
        "id": "k",
        "kind": "slot",
        "plane": {"origin": [0, -12.5, 40], "normal": [0, -1, 0], "x": [0, 0, 1]},
        "length": 32,
        "width": 7,
        "depth": 4,
    }
    facts = part([shaft, slot]).facts
    context = drawn(facts)
    found = callout(facts, picked(facts, "keyway"), context)
    findings = registry.kind_of(found).findings
    assert findings is not None
    assert findings(found, context) == ["A keyway is 7 wide; ISO R 773 asks for 8 at Ø25."]


@pytest.mark.parametrize(
    ("diameter", "width", "height", "shaft", "hub"),
    [(25, 8, 7, 4.0, 3.3), (30, 8, 7, 4.0, 3.3), (50, 14, 9, 5.5, 3.8), (100, 28, 16, 10.0, 6.4)],
)
def test_keys_of_iso_r_773(diameter: float, width: float, height: float, shaft: float, hub: float) -> None:
    """From memory."""
    key = key_for(diameter, "ISO")
    assert key is not None
    assert (key.width, key.height, key.shaft, key.hub) == (width, height, shaft, hub)


def test_keys_grow_with_their_shafts_and_fill_their_keyways() -> None:
    """A key stands in shaft and hub with a little air above it."""
    keys = iso_keys()
    assert all(a.to == b.over and a.width < b.width for a, b in zip(keys, keys[1:], strict=False))
    assert all(0.05 < k.shaft + k.hub - k.height < 0.55 for k in keys)
    assert key_for(5, "ISO") is None
    assert key_for(501, "ISO") is None


@pytest.mark.parametrize(
    ("diameter", "side", "s", "t"),
    [(0.5, 1 / 8, 0.430, 0.560), (1.0, 1 / 4, 0.859, 1.114), (2.0, 1 / 2, 1.718, 2.223)],
)
def test_depths_of_square_keys(diameter: float, side: float, s: float, t: float) -> None:
    """Depth control values S and T of ASME B17.1, as handbooks print them (memory)."""
    key = key_for(diameter * INCH, "ASME")
    assert key is not None
    assert key.width / INCH == pytest.approx(side)
    assert diameter - key.shaft / INCH == pytest.approx(s, abs=5e-4)
    assert diameter + key.hub / INCH == pytest.approx(t, abs=5e-4)


@given(st.sampled_from(iso_keys()), st.floats(0.01, 1.0), st.booleans())
@settings(max_examples=60)
def test_every_key_of_the_table_is_right_for_its_shafts(key: Any, share: float, is_hub: bool) -> None:
    diameter = key.over + share * (key.to - key.over)
    depth = key.hub if is_hub else key.shaft
    assert keyway_fault(key.width, depth, diameter, is_hub, "ISO") is None
    assert keyway_fault(key.width + 1, depth, diameter, is_hub, "ISO") == ("width", key.width)
    assert keyway_fault(key.width, depth - 0.1, diameter, is_hub, "ISO") == ("depth", depth)


# ---- bolt circles ------------------------------------------------------------------------------------------
def ring(count: int, diameter: float, gap: int = 0) -> Facts:
    """A disk with holes on a circle, and so many left out."""
    turns = [2 * math.pi * k / count for k in range(count - gap)]
    at = [[diameter / 2 * math.cos(t), diameter / 2 * math.sin(t)] for t in turns]
    disk = {"id": "d", "kind": "extrude", "profile": {"diameter": diameter + 30}, "depth": 10}
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": at, "diameter": 5}
    return part([disk, hole]).facts


def circles(facts: Facts) -> list[Pick]:
    (model,) = facts.parts.values()
    return [
        Pick(instance=facts.instances[0].path, source=e.name)
        for e in model.edges
        if e.kind == "circle" and e.radius == pytest.approx(2.5) and e.center and e.center[2] > 5
    ]


@given(st.integers(3, 9), st.floats(40, 200), st.sampled_from([1.0, 0.5, 5.0]))
@settings(max_examples=8, deadline=None)
def test_a_bolt_circle_reads_its_diameter_at_any_scale(count: int, diameter: float, scale: float) -> None:
    facts = ring(count, diameter)
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position={"x": 0, "y": 0})
    context = seen_in(facts, ViewFrame.of(view, facts), ISO_MM, scale, view)
    spots = [Spot(p, (0, 0)) for p in circles(facts)]
    found = propose("size", Request(spots, (diameter, 10.0), "c"), context, dict)  # type: ignore[arg-type, return-value]
    assert found.option == "bolt circle"
    (size,) = found.annotations
    assert registry.value(size, context) == pytest.approx(diameter, abs=1e-6)  # type: ignore[arg-type]
    assert registry.drawn_by(registry.kind_of(size)) is not None
    asked = Request(spots, (diameter, 10.0), "c", settings={"option": "angle between"})
    (angle,) = propose("size", asked, context, dict).annotations  # type: ignore[arg-type, return-value]
    assert registry.value(angle, context) == pytest.approx(2 * math.pi / count)  # type: ignore[arg-type]
    assert registry.text(angle, context).startswith(f"{count}×")


def test_a_part_of_a_bolt_circle_has_angles_between_its_holes() -> None:
    facts = ring(6, 80, gap=2)
    context = drawn(facts, "top")
    spots = [Spot(p, (0, 0)) for p in circles(facts)]
    asked = Request(spots, (60.0, 10.0), "c", settings={"option": "angle between"})
    (angle,) = propose("size", asked, context, dict).annotations  # type: ignore[arg-type, return-value]
    assert registry.text(angle, context) == "3× 60°"


def test_holes_on_no_circle_have_none() -> None:
    plate = {"id": "d", "kind": "extrude", "profile": {"width": 100, "height": 80}, "depth": 10}
    hole = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "diameter": 5}
    hole["at"] = [[0, 0], [30, 0], [0, 20], [31, 22]]
    facts = part([plate, hole]).facts
    spots = [Spot(p, (0, 0)) for p in circles(facts)]
    with pytest.raises(SizeError, match="do not lie on one circle"):
        propose("size", Request(spots, (60.0, 10.0), "c"), drawn(facts, "top"), dict)  # type: ignore[arg-type, return-value]


def test_a_knurl_is_called_by_its_designation() -> None:
    """ISO 13444 (memory): form and pitch."""
    knurled = Shaft(52, 6, (0, 0, 0), (0, 0, 1), ("a",), process="knurled RGE 0.8")
    assert plain(shaft_rows(knurled, ISO_MM), ISO_MM) == "Ø52 Knurl ISO 13444 - RGE 0,8"
    ground = Shaft(52, 6, (0, 0, 0), (0, 0, 1), ("a",), process="ground")
    assert plain(shaft_rows(ground, ISO_MM), ISO_MM) == "Ø52 ground"
