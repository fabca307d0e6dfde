"""Slots, pockets, grooves, bosses and broken edges of random solids against what they were made with, and of
demo parts in the disguises of other writers."""

from collections import Counter
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest

from bench.files import others
from drafting.features.feature import Feature
from drafting.features.recognized import features
from drafting.kernel.whole import whole
from drafting.model.model import PartFacts
from drafting.model.names import part_facts
from drafting.model.step import read_model
from tests.core.conftest import demo, part
from tests.core.disguises import DISGUISES, disguised
from tests.core.random_features import Known, Made, made, outline, rounded_tool, slot_tool
from tests.core.zoo import ZOO, box, cut, moved, rod, splines, split

SOLIDS = 450
CHUNKS = 3
EXACT = 1e-6
KINDS = Counter(
    {
        "HB-202": {"slot": 1},
        "HB-204": {"slot": 2, "fillet": 2},
        "HB-205": {"keyway": 1, "chamfer": 2},
        "HB-206": {"round": 2},
        "HB-207": {"chamfer": 1},
        "HB-214": {"channel": 1, "round": 2, "chamfer": 2},
        "HB-231": {"pocket": 1},
    }
)


def is_it(feature: Feature, known: Known) -> bool:
    """Whether a feature was made so, with all sizes and at its place."""
    if feature.kind != known.kind or (feature.size("depth") is None) != ("depth" not in known.sizes):
        return False
    found = dict(feature.sizes)
    right = all(abs(found.get(name, np.inf) - v) < EXACT for name, v in known.sizes.items())  # type: ignore[call-overload]
    return right and (known.at is None or float(np.linalg.norm(np.array(feature.at) - known.at)) < 1e-5)


def counted(solid: Made) -> tuple[Counter[str], list[str]]:
    found = list(features(part_facts(solid.shape, "x", measured=False)).others)
    count, said = Counter(made=len(solid.features)), []
    for known in solid.features:
        match = next((f for f in found if is_it(f, known)), None)
        count["right" if match else "lost"] += 1
        if match:
            found.remove(match)
        else:
            said.append(f"lost {known.kind} {known.sizes}")
    count["false"] = len(found)
    return count, said + [f"false {f.kind} {f.sizes}" for f in found]


@pytest.mark.parametrize("chunk", range(CHUNKS))
def test_features_of_random_solids_are_found_with_their_sizes(chunk: int) -> None:
    total: Counter[str] = Counter()
    for seed in range(chunk * SOLIDS // CHUNKS, (chunk + 1) * SOLIDS // CHUNKS):
        solid = made(seed)
        count, said = counted(solid)
        total += count
        if said:
            print(seed, solid.what, said)
    print(dict(total))
    assert total["right"] >= 0.99 * total["made"]
    assert total["false"] <= 0.005 * total["made"]


def test_features_are_found_where_pieces_of_round_faces_are_splines(monkeypatch: pytest.MonkeyPatch) -> None:
    """As writers do that keep everything as splines and split what is closed: a surface is then what it is
    within the tolerance of recognition."""
    monkeypatch.setattr(f"{__name__}.EXACT", 1e-4)
    total: Counter[str] = Counter()
    joined = 0
    for seed in range(0, SOLIDS, 5):
        solid = made(seed)
        pieces = splines(split(solid.shape, 2 + seed % 3))
        one = whole(pieces)
        joined += one is not pieces
        total += counted(replace(solid, shape=one))[0]
    print(dict(total), joined)
    assert joined > 25
    assert total["right"] == total["made"]
    assert not total["false"]


def told(part: PartFacts) -> Counter[object]:
    return Counter((f.kind, tuple((n, round(v, 3)) for n, v in f.sizes)) for f in features(part).others)


@pytest.mark.parametrize("number", KINDS)
def test_features_are_as_the_recipe_says(number: str) -> None:
    (found,) = demo(number).facts.parts.values()
    assert Counter(f.kind for f in features(found).others) == KINDS[number]


@pytest.mark.parametrize("disguise", DISGUISES)
@pytest.mark.parametrize("number", KINDS)
def test_features_are_the_same_in_every_disguise(number: str, disguise: str, tmp_path: Path) -> None:
    model = demo(number)
    (shape,), (plain,) = model.shapes.values(), model.facts.parts.values()
    assert told(disguised(shape, disguise, tmp_path)) == told(plain)


def test_a_keyway_is_as_deep_as_its_standard_says() -> None:
    """A parallel key 8 x 7 for shafts over 22 to 30: 4 deep in the shaft (ISO R 773, memory)."""
    (shaft,) = demo("HB-205").facts.parts.values()
    (keyway,) = [f for f in features(shaft).others if f.kind == "keyway"]
    assert (keyway.size("width"), keyway.size("depth")) == pytest.approx((8, 4))


def test_equal_features_are_counted_together() -> None:
    (block,) = demo("HB-204").facts.parts.values()
    known = features(block)
    slots = next(k for k in known.kinds if known.others[k[0]].kind == "slot")
    assert len(slots) == 2
    assert known.equals(slots[1]) == slots
    assert known.others_at(known.others[slots[1]].faces)[0] == slots[1]


@pytest.mark.parametrize(
    "shape",
    [box(40, 30, 20), rod(10, 40), split(rod(10, 40), 4)],
    ids=["box", "rod", "rod in quarters"],
)
def test_plain_bodies_have_no_features(shape: object) -> None:
    assert not features(part_facts(whole(shape), "x", measured=False)).others


def test_what_one_size_does_not_say_is_not_said() -> None:
    """A slot that runs out through a slanted side has no one length, a pocket from two levels no depth."""
    wedge = outline([(0, 0), (60, 0), (90, 60), (0, 60)], 0, 20)
    slotted = cut(wedge, slot_tool(75, 30, 90, 10, 0.0, 12, 21))
    (slot,) = features(part_facts(slotted, "x", measured=False)).others
    assert (slot.kind, slot.size("length"), slot.size("depth")) == ("open slot", None, pytest.approx(8))
    assert slot.size("width") == pytest.approx(10)
    stepped = cut(
        box(80, 60, 30), moved(box(50, 70, 20), 40, -5, 20), rounded_tool(40, 30, 40, 20, 0, 10, 40)
    )
    found = features(part_facts(stepped, "x", measured=False)).others
    assert "pocket" not in {f.kind for f in found}


def test_a_hexagon_is_no_chamfered_block() -> None:
    """Sides of a prism meet at 120 degrees, as chamfers do, and are none."""
    (nut,) = demo("HB-234").facts.parts.values()
    assert not features(nut).others


def test_the_end_of_an_oblong_is_no_rounding_and_no_slot() -> None:
    body = {"id": "b", "kind": "extrude", "profile": {"length": 60, "width": 20}, "depth": 10}
    (oblong,) = part([body]).facts.parts.values()
    assert not features(oblong).others


@pytest.mark.parametrize("name", ZOO)
def test_hard_bodies_give_sound_features(name: str) -> None:
    for shape in ZOO[name]():
        for feature in features(part_facts(shape, "x", measured=False)).others:
            assert np.isfinite([*feature.at, *feature.direction]).all()
            assert all(v > 0 for _, v in feature.sizes)


def test_every_feature_of_files_of_others_is_sound() -> None:
    for path in others().values():
        for found in read_model(path, path.stem).facts.parts.values():
            names = {f.name for f in found.faces}
            for feature in features(found).others:
                assert feature.faces <= names
                assert all(0 < v < 1e6 for _, v in feature.sizes)
