"""What hole callouts say, by the standards' forms (ISO 129-1, ISO 6410-1, ISO 15786, ASME Y14.5: memory), and
how they are drawn."""

import math
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from drafting.annotation import registry
from drafting.annotation.forms import form_of
from drafting.annotation.kinds import hole_callout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.kind import Request, Spot
from drafting.annotation.wording.callout_words import plain
from drafting.annotation.wording.hole_words import rows
from drafting.context import Context
from drafting.document import Pick, Point
from drafting.errors import SizeError
from drafting.features.hole import Hole
from drafting.features.patterns import Pattern
from drafting.features.recognized import features
from drafting.ink.elements import Fill, Line, Text
from drafting.model.model import Facts
from drafting.standards.profile import ASME_INCH, ISO_MM, Profile
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import block, demo
from tests.core.contexts import seen_in
from tests.core.disguises import DISGUISES, written
from tests.core.test_whole_faces import flange

ASME_MM = ASME_INCH.model_copy(
    update={"units": "mm", "places": 2, "trailing_zeros": False, "leading_zero": True}
)
BASE: dict[str, Any] = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 40]}}


def hole(**more: Any) -> Hole:
    """The hole of a block 60 by 60 by 40."""
    (part,) = block(60, 60, 40, {**BASE, **more}).facts.parts.values()
    (found,) = features(part).holes
    return found


def said(found: Hole, profile: Profile, count: int = 1, **more: Any) -> str:
    return plain(rows(found, count, profile, **more), profile)


@pytest.mark.parametrize(
    ("of", "count", "iso", "asme"),
    [
        ({"diameter": 7}, 6, "6× Ø7", "6X Ø7 THRU"),
        ({"diameter": 6.35, "depth": 20}, 1, "Ø6,35 ↧20", "Ø6.35 ↧20"),
        (
            {"diameter": 9, "counterbore": {"diameter": 15, "depth": 8.6}},
            4,
            "4× Ø9 ⌴ Ø15 ↧8,6",
            "4X Ø9 THRU ⌴ Ø15 ↧8.6",
        ),
        (
            {"diameter": 9, "countersink": {"diameter": 18, "angle": 90}},
            2,
            "2× Ø9 ⌵ Ø18 × 90°",
            "2X Ø9 THRU ⌵ Ø18 X 90°",
        ),
        (
            {"thread": "M5", "depth": 16, "thread_depth": 12},
            4,
            "4× M5 ↧12 Ø4,2 ↧16",
            "4X Ø4.2 ↧16 M5X0.8-6H ↧12",
        ),
        ({"thread": "M5", "thread_depth": 12}, 1, "M5 ↧12 Ø4,2", "Ø4.2 THRU M5X0.8-6H ↧12"),
        ({"thread": "M10"}, 1, "M10", "M10X1.5-6H THRU"),
        ({"thread": "M10x1", "depth": 20, "thread_depth": 15}, 1, "M10×1 ↧15 Ø9 ↧20", "Ø9 ↧20 M10X1-6H ↧15"),
    ],
)
def test_forms_of_the_standards(of: dict[str, Any], count: int, iso: str, asme: str) -> None:
    found = hole(**of)
    assert said(found, ISO_MM, count) == iso
    assert said(found, ASME_MM, count) == asme


def test_unified_threads_in_inches() -> None:
    found = hole(thread="1/4-20 UNC", depth=19.05, thread_depth=12.7)
    assert said(found, ASME_INCH, 2) == "2X Ø.201 ↧.750 1/4-20 UNC-2B ↧.500"  # No. 7 drill, .201


def test_a_center_hole_is_called_by_its_designation() -> None:
    """ISO 6411: standard, type, pilot and mouth (memory)."""
    found = hole(diameter=2.5, depth=7, tip_angle=120, countersink={"diameter": 5.3, "angle": 60})
    assert said(found, ISO_MM) == "ISO 6411 - A 2,5/5,3"
    assert said(found, ASME_MM) == "Ø2.5 ↧7 ⌵ Ø5.3 X 60°"
    wide = hole(diameter=2.5, depth=7, tip_angle=120, countersink={"diameter": 6, "angle": 60})
    assert said(wide, ISO_MM) == "Ø2,5 ↧7 ⌵ Ø6 × 60°"


def test_the_short_form_has_one_line_for_hole_and_thread() -> None:
    found = hole(thread="M5", depth=16, thread_depth=12)
    assert said(found, ISO_MM, 4, short=True) == "4× M5 × 12 / Ø4,2 × 16"
    assert said(hole(diameter=6, depth=20), ISO_MM, short=True) == "Ø6 × 20"


def test_what_lies_on_the_far_side_says_so() -> None:
    found = hole(diameter=9, counterbore={"diameter": 15, "depth": 8.6})
    assert said(found, ISO_MM, far=True) == "Ø9 ⌴ Ø15 ↧8,6 far side"
    assert said(found, ASME_MM, far=True) == "Ø9 THRU ⌴ Ø15 ↧8.6 FAR SIDE"
    both = replace(found, far_heads=found.heads)
    assert said(both, ISO_MM) == "Ø9 ⌴ Ø15 ↧8,6 ⌴ Ø15 ↧8,6 far side"


def test_the_bolt_circle_is_named_where_that_is_wished() -> None:
    ring = Pattern("circle", (0, 1, 2), 75.0, is_whole=True)
    found = hole(diameter=7)
    assert said(found, ISO_MM, 6, circle=ring) == "6× Ø7 equally spaced on Ø75"
    part = replace(ring, is_whole=False)
    assert said(found, ASME_MM, 3, circle=part) == "3X Ø7 THRU ON Ø75"


# ---- on a view ---------------------------------------------------------------------------------------------
def on_view(
    facts: Facts, source: str, side: str = "top", profile: Profile = ISO_MM
) -> tuple[HoleCallout, Context]:
    view = View(id="v", kind="main", orientation=PRINCIPAL[side], position=Point(x=0, y=0))
    frame = ViewFrame.of(view, facts)
    context = seen_in(facts=facts, frame=frame, scale=1.0, profile=profile, view=view)
    spot = Spot(Pick(instance=facts.instances[0].path, source=source), (0.0, 0.0))
    return hole_callout.propose(Request([spot], (70.0, 50.0), "x"), context), context


@pytest.mark.parametrize("disguise", DISGUISES)
def test_one_callout_says_all_of_a_flange_whoever_wrote_it(disguise: str, tmp_path: Path) -> None:
    change, unit = DISGUISES[disguise]
    facts = written(change(flange()), tmp_path, unit).facts
    (part,) = facts.parts.values()
    rims = [e for e in part.edges if e.kind == "circle" and e.radius == pytest.approx(3.5, abs=1e-5)]
    assert len(rims) == 12
    for rim in rims:
        callout, context = on_view(facts, rim.name)
        assert hole_callout.words(callout, context) == "6× Ø7"
        named = callout.model_copy(update={"circle": True})
        assert hole_callout.words(named, context) == "6× Ø7 equally spaced on Ø75"


def test_the_leader_aims_at_the_center_and_ends_on_the_widest_circle() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9, "counterbore": {"diameter": 15, "depth": 8.6}}).facts
    for source in ("h/bore", "h/counterbore"):
        callout, context = on_view(facts, source)
        ink = hole_callout.ink(callout, context)
        first = next(e for e in ink if isinstance(e, Line))
        a, b = np.array(first.a), np.array(first.b)
        assert np.linalg.norm(b) == pytest.approx(7.5)
        assert abs(a[0] * b[1] - a[1] * b[0]) < 1e-9  # its line runs through the center, the view's origin
        assert any(isinstance(e, Fill) for e in ink)
        below, above = sorted((e for e in ink if isinstance(e, Text)), key=lambda e: e.at[1])
        shoulder = 50.0
        assert above.at[1] == pytest.approx(shoulder + ISO_MM.text_gap)
        assert below.at[1] + below.height < shoulder


def test_a_hole_seen_from_the_side_is_pointed_at_where_it_begins() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9, "depth": 20}).facts
    callout, context = on_view(facts, "h/bore", "front")
    first = next(e for e in hole_callout.ink(callout, context) if isinstance(e, Line))
    assert first.b == pytest.approx((0.0, 20.0))  # its mouth, on the upper edge
    assert hole_callout.words(callout, context) == "Ø9 ↧20"


def test_a_view_from_the_other_end_says_far_side() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9, "depth": 20}).facts
    assert hole_callout.words(*on_view(facts, "h/bore", "bottom")) == "Ø9 ↧20 far side"


def test_each_number_has_its_own_tolerance() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9, "counterbore": {"diameter": 15, "depth": 8.6}}).facts
    callout, context = on_view(facts, "h/bore")
    callout = callout.model_copy(
        update={"diameter_tolerance": "H7", "head_tolerance": "H13", "head_depth_tolerance": "+0.2/0"}
    )
    assert hole_callout.words(callout, context) == "Ø9 H7 ⌴ Ø15 H13 ↧8,6 +0,2/0"
    plain_one, there = on_view(block(60, 60, 40, {**BASE, "diameter": 9}).facts, "h/bore")
    with pytest.raises(SizeError, match="says no depth of a head"):
        hole_callout.check(plain_one.model_copy(update={"head_depth_tolerance": "H7"}), there)
    with pytest.raises(SizeError, match="is no tolerance"):
        hole_callout.check(callout.model_copy(update={"diameter_tolerance": "tight"}), context)


def test_each_number_has_its_own_decimals() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9, "counterbore": {"diameter": 15, "depth": 8.6}}).facts
    callout, context = on_view(facts, "h/bore")
    of_all = callout.model_copy(update={"places": 1})
    assert hole_callout.words(of_all, context) == "Ø9,0 ⌴ Ø15,0 ↧8,6"
    own = of_all.model_copy(update={"diameter_places": 3, "head_depth_places": 2})
    assert hole_callout.words(own, context) == "Ø9,000 ⌴ Ø15,0 ↧8,60"
    names = {f.name for f in form_of(hole_callout.KIND)}
    assert {f"{role}_places" for role in hole_callout.PARTS} <= names


def test_a_named_bolt_circle_counts_its_own_holes(tmp_path: Path) -> None:
    ring = [
        [r * math.cos(t), r * math.sin(t)]
        for r, n in ((15, 4), (25, 6))
        for t in np.arange(n) * 2 * math.pi / n
    ]
    bore = {**BASE, "id": "bore", "diameter": 12}
    facts = block(60, 60, 40, bore, {**BASE, "at": ring, "diameter": 3}).facts
    callout, context = on_view(facts, "h/bore@7")
    assert hole_callout.words(callout, context) == "10× Ø3"
    named = callout.model_copy(update={"circle": True})
    assert hole_callout.words(named, context) == "6× Ø3 equally spaced on Ø50"
    assert registry.findings(named, context) == []
    alone, context = on_view(facts, "bore/bore")
    alone = alone.model_copy(update={"circle": True})
    assert hole_callout.words(alone, context) == "Ø12"
    assert registry.findings(alone, context) == [
        "A callout is to name a bolt circle, and its holes stand on none."
    ]


def test_what_is_no_hole_has_no_callout() -> None:
    facts = demo("HB-205").facts
    (part,) = facts.parts.values()
    with pytest.raises(SizeError, match="belongs to no hole"):
        on_view(facts, part.edges[0].name)


def test_a_count_of_ones_own_is_told_of() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9}).facts
    callout, context = on_view(facts, "h/bore")
    callout = callout.model_copy(update={"count": 3})
    assert hole_callout.words(callout, context) == "3× Ø9"
    assert registry.findings(callout, context) == ["A callout says 3, and the model has 1 hole like it."]


def test_facts_of_older_models_do_not_guess() -> None:
    facts = block(60, 60, 40, {**BASE, "diameter": 9}).facts
    old = {k: p.model_copy(update={"sided": False}) for k, p in facts.parts.items()}
    with pytest.raises(SizeError, match="not recognized yet"):
        on_view(facts.model_copy(update={"parts": old}), "h/bore")


def test_a_hole_that_is_said_to_be_reamed_says_so() -> None:
    found = replace(hole(diameter=12, depth=20), process="reamed")
    assert said(found, ISO_MM, 2) == "2× Ø12 ↧20 reamed"
    assert said(replace(hole(diameter=12), process="reamed"), ASME_MM) == "Ø12 THRU REAMED"
