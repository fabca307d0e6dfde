"""What drawings leave free and say twice, against rebuilt recipes, the trade's count of plain solids, and the
sizes that were taken off."""

import itertools
import math
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from drafting.annotation.kinds.diameter import DiameterDimension
from drafting.annotation.kinds.feature_callout import FeatureCallout
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.ordinate import OrdinateDimension
from drafting.annotation.placing.rows import NOWHERE
from drafting.completeness import told
from drafting.completeness.gaps import gaps
from drafting.completeness.implied import hindered
from drafting.completeness.parameters import add
from drafting.completeness.surfaces import Solid
from drafting.completeness.told import Told
from drafting.completeness.verdict import PartNumbers, Verdict, judged, verdict
from drafting.context import Context
from drafting.document import (
    AnnotationBase,
    Dimension,
    Drawing,
    Pick,
    Placement,
    Point,
    Sheet,
    in_view,
)
from drafting.errors import DraftingError
from drafting.features.recognized import features
from drafting.model import own_numbers
from drafting.model.assembly import build_model
from drafting.model.model import Facts, Model, PartFacts
from drafting.model.recipe import validate_recipe
from drafting.standards.profile import ISO_MM
from drafting.views.family import facing
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import block, demo_data, part
from tests.core.disguises import DISGUISES, disguised
from tests.core.finished import PARTS, finished, modeled

SHOWN_BESIDES = {("HB-204", "angle-caps")}
"""Sizes that the center lines say, too: four holes on a bolt circle, symmetric about the upright line."""


def found(number: str, without: set[str] = frozenset()) -> Verdict:  # type: ignore[assignment]
    return verdict(less(finished(number), without), modeled(number).facts)


def less(drawing: Drawing, ids: set[str]) -> Drawing:
    sheets = [
        s.model_copy(update={"annotations": [a for a in s.annotations if a.id not in ids]})
        for s in drawing.sheets
    ]
    return drawing.model_copy(update={"sheets": sheets})


def words(number: str, v: Verdict) -> list[str]:
    main = next(x for x in finished(number).views() if x.kind == "main")
    return [g.text for g in gaps(v, ISO_MM, facing(main).matrix())]


def free(model: Model) -> int:
    numbers = PartNumbers.of(model.facts.parts["part"])
    assert not numbers.why_not
    return judged(numbers, [], numbers.system).total


HOLE = {"id": "h", "kind": "hole", "plane": {"origin": [0, 0, 10]}, "at": [[7, 3]], "diameter": 6}


@pytest.mark.parametrize(
    ("model", "count"),
    [
        (lambda: block(40, 30, 10), 3),
        (lambda: block(40, 30, 10, HOLE), 6),  # its place and its diameter
        (lambda: block(40, 30, 10, {**HOLE, "depth": 5}), 7),
        (lambda: block(40, 30, 10, {**HOLE, "at": [[7, 3], [-8, 5]]}), 9),
        (lambda: part([{"id": "c", "kind": "extrude", "profile": {"diameter": 20}, "depth": 30}]), 2),
    ],
)
def test_plain_solids_have_as_many_numbers_as_the_trade_counts(model: Any, count: int) -> None:
    """Common practice: a block has three sizes, a hole its place, its diameter and, if it is blind, its
    depth."""
    assert free(model()) == count


@pytest.mark.parametrize("number", PARTS)
def test_the_drawings_of_the_office_say_all_and_nothing_twice(number: str) -> None:
    v = found(number)
    assert (v.why_not, v.missing, v.twice, v.silent) == ("", 0, {}, {})
    assert v.total >= 9


@pytest.mark.parametrize("number", PARTS)
def test_each_size_that_is_taken_off_is_missed(number: str) -> None:
    whole = found(number)
    for one in whole.said:
        if not one.rows or (number, one.id) in SHOWN_BESIDES:
            continue
        v = found(number, {one.id})
        assert v.missing >= 1, one.id
        said = words(number, v)
        assert 1 <= len(said) <= v.missing
        assert all(text.endswith("not given.") for text in said)
        assert v.loose & moved_with(whole, one), one.id
        assert v.twice == {}


def moved_with(whole: Verdict, one: Told) -> set[str]:
    """The faces a size is of, or that hang on those."""
    assert whole.numbers is not None
    beside = whole.numbers.parameters.solid.beside
    return set(one.faces) | {n for f in one.faces for n in beside[f]}


@pytest.mark.parametrize(
    ("number", "size", "says"),
    [
        ("HB-205", "size-8", ["The diameter of the Ø54 shaft is not given."]),
        ("HB-205", "size-16", ["The width of the 8 wide keyway is not given."]),
        ("HB-205", "size-17", ["The depth of the 8 wide keyway is not given."]),
        ("HB-204", "size-11", ["The counterbore's depth of the Ø40 counterbored hole is not given."]),
        ("HB-204", "size-7", ["The radius of the R6 fillet is not given."]),
        ("HB-202", "size-11", ["The diameter of the Ø11 hole is not given."]),
        ("HB-207", "size-8", ["How far the axis of the Ø4 hole lies from the rear side is not given."]),
        ("HB-214", "size-4", ["The depth of the 12,7 wide notch is not given."]),
    ],
)
def test_what_is_missed_is_named(number: str, size: str, says: list[str]) -> None:
    told = words(number, found(number, {size}))
    assert [t.replace("19,05", "12,7") for t in told] == says


def test_the_slots_of_the_bearing_block_are_where_a_center_line_shows_them() -> None:
    """Without the line through both slots nothing says how far they lie from the front."""
    v = found("HB-204", {"center-top"})
    assert v.missing == 1
    assert {n for n in v.loose if n.startswith("slot/")} == v.loose


@pytest.mark.parametrize("number", ["HB-205", "HB-207", "HB-210"])
def test_pairs_that_are_taken_off_are_missed_together(number: str) -> None:
    """Each number of these drawings is said once, so that what two leave out adds up."""
    alone = {one.id: found(number, {one.id}).missing for one in found(number).said}
    for a, b in itertools.combinations(alone, 2):
        assert found(number, {a, b}).missing == alone[a] + alone[b], (a, b)


@settings(max_examples=25, deadline=None, derandomize=True)
@given(data=st.data())
def test_whatever_is_taken_off_is_missed(data: Any) -> None:
    number = data.draw(st.sampled_from(["HB-202", "HB-205", "HB-211", "HB-214"]))
    sizes = [one.id for one in found(number).said]
    gone = set(data.draw(st.lists(st.sampled_from(sizes), min_size=3, max_size=6, unique=True)))
    v = found(number, gone)
    assert v.missing >= len(gone)
    left = verdict(finished(number), modeled(number).facts)
    assert left.missing == 0


def values(facts: Facts, base: Facts, numbers: PartNumbers) -> np.ndarray | None:  # type: ignore[type-arg]
    """The numbers of a part that was built anew, in the order and the unit of those of another; None where
    its faces do not share them as they did."""
    box = base.parts["part"]
    p = numbers.parameters
    other = Solid.of(facts.parts["part"].model_copy(update={"low": box.low, "high": box.high}))
    out = np.full(len(p.words), np.nan)

    def put(v: int, value: float) -> bool:
        if not math.isnan(out[v]) and abs(out[v] - value) > 1e-9:
            return False
        out[v] = value
        return True

    for name, s in p.solid.surfaces.items():
        t = other.surfaces[name]
        if s.kind != t.kind:
            return None
        good = True
        if s.way >= 0:
            w = p.ways[s.way]
            u = t.axis * math.copysign(1.0, float(t.axis @ w.u))
            good &= put(w.a, float(u @ w.e1)) and put(w.b, float(u @ w.e2))
            if s.kind == "plane":
                good &= put(s.v["level"], float(u @ t.at))
        if s.line >= 0:
            w, foot = p.ways[s.way], t.at - u * float(u @ t.at)
            good &= put(p.lines[s.line].v[0], float(foot @ w.e1)) and put(
                p.lines[s.line].v[1], float(foot @ w.e2)
            )
        if "place" in s.v:
            good &= put(s.v["place"], float(t.at @ u))
        if "half" in s.v:
            good &= put(s.v["half"], t.half)
        if "across" in s.v:
            good &= put(s.v["across"], t.across)
        if "radius" in s.v:
            good &= put(s.v["radius"], t.radius)
        if not good:
            return None
    return out


def turns(facts: Facts) -> dict[str, str]:
    """How faces meet, by edges."""
    return {e.name: e.turn for e in facts.parts["part"].edges}


@pytest.mark.parametrize("number", PARTS)
def test_rules_and_sizes_hold_when_the_recipe_changes(number: str) -> None:
    """The recipe is the oracle: the part is rebuilt with each of its numbers changed. What is ruled stays so,
    and each size changes as it was said to."""
    raw, base, drawing = demo_data(number), modeled(number).facts, finished(number)
    numbers = PartNumbers.of(base.parts["part"])
    p = numbers.parameters
    whole = {one.id: one for one in verdict(drawing, base).said}
    names = {f.name for f in base.parts["part"].faces}
    tried = 0
    for n in own_numbers.numbers(raw):
        try:
            after, before = (
                build_model(validate_recipe(own_numbers.with_value(raw, n.key, n.value + s)), demo_data).facts
                for s in (1e-2, -1e-2)
            )
        except DraftingError:
            continue
        if any(
            {f.name for f in x.parts["part"].faces} != names or turns(x) != turns(base)
            for x in (after, before)
        ):
            continue
        then = [values(x, base, numbers) for x in (after, before)]
        if then[0] is None or then[1] is None:
            continue
        change = then[0] - then[1]
        for row in numbers.hard:
            off = sum(c * change[v] for v, c in row.items() if c)
            assert math.isnan(off) or abs(off) < 1e-7, n.key  # directions without faces are not known
        change = np.nan_to_num(change)
        for sheet in drawing.sheets:
            for a in sheet.annotations:
                view = sheet.view_of(a)
                if not isinstance(a, Dimension) or view is None or a.id not in whole:
                    continue
                measure = told.measured_by(a, Context(drawing, sheet, base, view))
                try:
                    actual = [measure(x) for x in (after, before)]
                except DraftingError:
                    continue
                for k, row in enumerate(whole[a.id].rows[: len(actual[0])]):
                    unit = 1.0 if a.kind == "angle" or k else p.solid.half
                    predicted = sum(c * change[v] for v, c in row.items()) * unit
                    assert predicted == pytest.approx(actual[0][k] - actual[1][k], abs=2e-5), (n.key, a.id)
        tried += 1
    assert tried >= 5


@pytest.mark.parametrize("number", PARTS)
def test_what_follows_from_two_sizes_is_put_down_to_both(number: str) -> None:
    """A further number that is the sum of two that are said follows from exactly those."""
    v = found(number)
    assert v.numbers is not None
    assert v.system is not None
    lengths = [one for one in v.said if len(one.rows) == 1]
    for a, b in itertools.combinations(lengths, 2):
        extra = Told("extra", (add(dict(a.rows[0]), b.rows[0]),))
        assert judged(v.numbers, [*v.said, extra], v.system).twice == {"extra": sorted([a.id, b.id])}


def test_a_length_over_a_chain_follows_from_its_links() -> None:
    """ISO 129-1: a closed chain says one size twice; memory."""
    size = next(a for s in finished("HB-205").sheets for a in s.annotations if a.id == "size-3")
    assert isinstance(size, LinearDimension)
    first, last = (
        size.picks[0],
        next(a for s in finished("HB-205").sheets for a in s.annotations if a.id == "size-5").picks[1],
    )  # type: ignore[union-attr]
    more = size.model_copy(update={"id": "over", "anchor": in_view(size.view, [first, last])})
    drawing = finished("HB-205")
    sheet = drawing.sheets[0]
    drawing = drawing.model_copy(
        update={"sheets": [sheet.model_copy(update={"annotations": [*sheet.annotations, more]})]}
    )
    v = verdict(drawing, modeled("HB-205").facts)
    assert v.twice == {"over": ["size-3", "size-4", "size-5"]}
    assert v.missing == 0


@pytest.mark.parametrize("name", [n for n in DISGUISES if n != "as it is"])
@pytest.mark.parametrize("number", PARTS)
def test_a_part_has_as_many_numbers_in_every_disguise(number: str, name: str, tmp_path: Path) -> None:
    model = modeled(number)
    mine = PartNumbers.of(model.facts.parts["part"])
    other = PartNumbers.of(disguised(model.shapes["part"], name, tmp_path))
    assert other.why_not == ""
    threads = len(mine.parameters.threads)  # files say none
    assert judged(other, [], other.system).total == judged(mine, [], mine.system).total - threads


def rounded(thing: Any, places: int) -> Any:
    if isinstance(thing, float):
        return round(thing, places)
    if isinstance(thing, list):
        return [rounded(x, places) for x in thing]
    return {k: rounded(v, places) for k, v in thing.items()} if isinstance(thing, dict) else thing


@pytest.mark.parametrize("places", [3, 4, 5])
@pytest.mark.parametrize("number", PARTS)
def test_rounded_files_are_not_lied_about(number: str, places: int) -> None:
    """What is rounded to some decimals is told as it is, or not at all: never as complete with a size taken
    off, nor as open with all of them."""
    facts = modeled(number).facts
    old = facts.parts["part"]
    part_facts = PartFacts.model_validate(
        {
            **old.model_dump(),
            "faces": [rounded(f.model_dump(), places) for f in old.faces],
            "edges": [rounded(e.model_dump(), places) for e in old.edges],
        }
    )
    coarse = facts.model_copy(update={"parts": {"part": part_facts}})
    v = verdict(finished(number), coarse)
    if v.why_not or v.silent:
        return
    assert v.missing == 0
    one = next(x for x in v.said if x.rows)
    assert verdict(less(finished(number), {one.id}), coarse).missing >= 1


def test_surfaces_and_assemblies_are_not_told() -> None:
    facts = modeled("HB-200").facts
    assert verdict(finished("HB-202"), facts).why_not == "Completeness is told of drawings of one part."


def test_rules_hinder_no_part_as_a_whole() -> None:
    for number in PARTS:
        numbers = PartNumbers.of(modeled(number).facts.parts["part"])
        assert hindered(numbers.parameters, numbers.hard) < 1e-9
        assert len(numbers.pins) in (5, 6)


def test_a_drawing_without_sizes_names_what_there_is() -> None:
    drawing = finished("HB-204")
    bare = less(drawing, {a.id for s in drawing.sheets for a in s.annotations})
    (said,) = words("HB-204", verdict(bare, modeled("HB-204").facts))
    assert said.startswith("Nothing is sized yet: ")
    assert "4× M5 tapped hole" in said
    assert "2× 13 wide slot" in said


def test_a_hole_table_says_where_its_holes_are_and_how_large() -> None:
    """The side plate's holes by a table: the same numbers as by its sizes."""
    drawing, facts = finished("HB-202"), modeled("HB-202").facts
    sizes = {"size-5", "size-6", "size-7", "size-8", "size-9", "size-10", "size-11", "size-16", "size-17"}
    picks = [Pick(instance="part", source="plate/end|plate/side.foot", point="start")]
    picks += [Pick(instance="part", source=f"plate/end|tie/bore@{n}") for n in range(1, 5)]
    picks += [Pick(instance="part", source=f"plate/end|rest/bore@{n}") for n in (1, 2)]
    picks += [Pick(instance="part", source="bore/bore|plate/end")]
    table = HoleTable(
        id="table",
        anchor=in_view("front", picks),
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0)),
    )
    bare = less(drawing, sizes)
    assert verdict(bare, facts).missing == 11
    sheet = bare.sheets[0]
    tabled = sheet.model_copy(update={"annotations": [*sheet.annotations, table]})
    v = verdict(bare.model_copy(update={"sheets": [tabled]}), facts)
    assert (v.missing, v.silent) == (0, {})


def random_plate(draw: Any) -> tuple[Model, int]:
    """A plate with holes and slots in cells of their own, no two numbers alike, and how many it is made
    of."""
    salt = iter(draw(st.permutations(list(range(1, 60)))))

    def own(least: float) -> float:
        return least + next(salt) * math.e / 40

    width, height, thick = own(80), own(60), own(14)
    features: list[dict[str, Any]] = [
        {"id": "b", "kind": "extrude", "profile": {"width": width, "height": height}, "depth": thick}
    ]
    count = 3
    plane = {"origin": [0, 0, thick]}
    for n, (x, y) in enumerate(itertools.product((-26, 0, 26), (-16, 16))):
        at = [x + next(salt) * math.pi / 100, y + next(salt) * math.sqrt(2) / 50]
        kind = draw(st.sampled_from(["none", "through", "blind", "bored", "slot", "slot deep"]))
        hole = {"id": f"h{n}", "kind": "hole", "plane": plane, "at": [at]}
        if kind in ("through", "blind", "bored"):
            hole["diameter"] = own(3)
            count += 3
        if kind == "blind":
            hole["depth"] = own(4)
            count += 1
        if kind == "bored":
            hole["counterbore"] = {"diameter": own(9), "depth": own(2)}
            count += 2
        if kind.startswith("slot"):
            hole = {
                "id": f"s{n}",
                "kind": "slot",
                "plane": plane,
                "center": at,
                "length": own(5),
                "width": own(4),
            }
            count += 4
            if kind == "slot deep":
                hole["depth"] = own(3)
                count += 1
        if kind != "none":
            features.append(hole)
    return part(features), count


@settings(max_examples=40, deadline=None, derandomize=True)
@given(data=st.data())
def test_random_plates_have_the_numbers_they_are_made_of_and_each_is_named(data: Any) -> None:
    """The recipe is the oracle: each of its numbers is free while nothing is said, and has a sentence of its
    own."""
    model, count = random_plate(data.draw)
    numbers = PartNumbers.of(model.facts.parts["part"])
    level = next(s for s in numbers.parameters.solid.surfaces.values() if s.kind == "plane")
    nothing = Told("nothing", ({level.v["level"]: 1.0},))
    v = judged(numbers, [nothing], numbers.system)
    assert v.total == count
    said = gaps(v, ISO_MM, np.eye(3))
    assert all(g.text.endswith("is not given.") and "more number" not in g.text for g in said)
    assert v.missing - 6 <= len(said) <= v.missing  # those that read alike are one


def with_more(drawing: Drawing, *more: Any) -> Drawing:
    sheet = drawing.sheets[0]
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *more]})
    return drawing.model_copy(update={"sheets": [full, *drawing.sheets[1:]]})


def test_the_zero_of_ordinates_says_nothing_twice() -> None:
    pick = Pick(instance="part", source="plate/end|plate/side.foot")
    zero = OrdinateDimension(id="zero", anchor=in_view("front", [pick]), place=NOWHERE, direction="vertical")
    v = verdict(with_more(finished("HB-202"), zero), modeled("HB-202").facts)
    assert (v.missing, v.twice, v.silent) == (0, {}, {})


def test_a_callout_of_a_keyway_says_what_is_in_its_words_and_not_its_shaft() -> None:
    """The shaft's diameter belongs to what a keyway is, and is not written in its callout."""
    sizes = {"size-9", "size-14", "size-16", "size-17"}
    pick = Pick(instance="part", source="keyway/side.end-a|turned/side.seat~2")
    callout = FeatureCallout(id="key", anchor=in_view("top", [pick]), place=NOWHERE)
    bare, facts = less(finished("HB-205"), sizes), modeled("HB-205").facts
    assert verdict(bare, facts).missing == 4
    v = verdict(with_more(bare, callout), facts)
    assert v.silent == {}
    assert "turned/side.seat" in v.loose
    assert 1 <= v.missing < 4


def test_a_callout_that_names_a_bolt_circle_says_nothing_of_like_holes_elsewhere() -> None:
    """ "4× Ø6 on Ø40" is not said of the two Ø6 beside them."""
    ring = [[20 * math.cos(t), 20 * math.sin(t)] for t in np.linspace(0, 2 * math.pi, 5)[:4] + 0.3]
    at = [*ring, [47.0, 31.0], [-43.0, 29.0]]
    model = block(120, 90, 10, {**HOLE, "at": at}, {**HOLE, "id": "m", "at": [[0, 0]], "diameter": 14})
    known = features(model.facts.parts["part"])
    rim = [
        next(
            e.name
            for e in model.facts.parts["part"].edges
            if e.kind == "circle" and e.center and math.dist(e.center, [*xy, 10]) < 1e-6
        )
        for xy in at
    ]
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=200, y=150))
    sheet = Sheet(id="s", name="1", size="A3", views=[view])
    drawing = Drawing(name="x", profile=ISO_MM, projection="first", sheets=[sheet])

    def called(circle: bool) -> set[str]:
        pick = Pick(instance="part", source=rim[0])
        callout = HoleCallout(id="c", anchor=in_view("v", [pick]), place=NOWHERE, circle=circle)
        (said,) = verdict(with_more(drawing, callout), model.facts).said
        return set(said.faces)

    every = {n for h in known.holes for n in h.faces if n.startswith("h/")}
    assert called(False) == every
    assert len(called(True)) == 4

    # of the eight numbers that place four holes it leaves where the middle lies, and how they are turned
    def missing(*more: AnnotationBase) -> int:
        return verdict(with_more(drawing, *more), model.facts).missing

    pick = Pick(instance="part", source=rim[0])
    named = HoleCallout(id="c", anchor=in_view("v", [pick]), place=NOWHERE, circle=True)
    assert missing() - missing(named) == 4 + 5  # four diameters, eight places less three
    diameter = DiameterDimension(
        id="d", place=NOWHERE, anchor=in_view("v", [Pick(instance="part", source=r) for r in rim[:4]])
    )
    assert verdict(with_more(drawing, named, diameter), model.facts).twice == {"d": ["c"]}


def test_facts_of_before_sides_were_told_are_not_judged() -> None:
    facts = modeled("HB-202").facts
    old = facts.parts["part"].model_copy(update={"sided": False})
    v = verdict(finished("HB-202"), facts.model_copy(update={"parts": {"part": old}}))
    assert "not recognized yet" in v.why_not
