"""Faces found again in a new version of a file: against the recipe's own lasting names, with faces shuffled
and split, and nothing but geometry to go by."""

import random
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

import pytest

from drafting.errors import DraftingError
from drafting.model.assembly import build_model
from drafting.model.carried_names import carried_names, renamed
from drafting.model.lasting import Found, found_again
from drafting.model.model import Model, PartFacts
from drafting.model.recipe import validate_recipe
from tests.core.conftest import block, demo_data, part
from tests.core.disguises import elsewhere, shuffled, written
from tests.core.zoo import split

PARTS = ("HB-202", "HB-204", "HB-205", "HB-206", "HB-207", "HB-209", "HB-210", "HB-211", "HB-214", "HB-215")
EDITS = 60
Writing = Callable[[Any], Any]
"""How the later version is written."""
WRITTEN: tuple[Writing, ...] = (shuffled, shuffled, lambda shape: shuffled(split(shape, 2)))
"""Its faces in another order, in halves, too."""
MOVED: tuple[Writing, ...] = (lambda shape: shuffled(elsewhere(shape)),)
"""Moved as a whole, too."""


def alone(model: Model) -> tuple[PartFacts, Any]:
    (facts,), (shape,) = model.facts.parts.values(), model.shapes.values()
    return facts, shape


def edited(number: str, r: random.Random) -> dict[str, Any] | None:
    """A recipe of the demo with one or two of its parameters a little larger or smaller; None where it has
    none."""
    data = demo_data(number)
    known = {k: v for k, v in data.get("parameters", {}).items() if isinstance(v, int | float)}
    if not known:
        return None
    for name in r.sample(sorted(known), min(len(known), r.choice([1, 1, 2]))):
        by = r.choice([r.uniform(0.88, 0.98), r.uniform(1.02, 1.12)])
        data["parameters"][name] = round(known[name] * by, 3)
    return dict(data)


def own_name(name: str) -> str:
    """A face of a recipe without the number of its piece."""
    return name.partition("~")[0]


def judged(found: Found, old: dict[str, str], new: dict[str, str]) -> tuple[int, int, int, list[Any]]:
    """How many faces were found, confirmed by a person or lost of those that both versions have, and what is
    silently wrong. old, new: the recipe's names by the file's."""
    right = likely = lost = 0
    wrong = []
    there = {own_name(n) for n in new.values()}
    for name, mine in old.items():
        other = found.faces.get(name)
        if other is None:
            lost += own_name(mine) in there
        elif found.certainty[name] == "likely":
            likely += 1
        elif own_name(new.get(other, "")) == own_name(mine):
            right += 1
        else:
            wrong.append((mine, new.get(other)))
    return right, likely, lost, wrong


def of_random_edits(
    count: int, folder: Path, later: Sequence[Writing] = (*WRITTEN, *MOVED)
) -> tuple[int, int, int, list[Any]]:
    """How many faces of the demo's parts are found, asked about and lost after random edits of their recipes,
    written as files in another order; and what is silently wrong."""
    r = random.Random(11)
    right = likely = lost = 0
    silent: list[Any] = []
    done = 0
    while done < count:
        number = r.choice(PARTS)
        data = edited(number, r)
        if data is None:
            continue
        try:
            old, old_shape = alone(build_model(validate_recipe(demo_data(number))))
            new, new_shape = alone(build_model(validate_recipe(data)))
        except DraftingError:
            continue  # a value that does not build
        a = alone(written(shuffled(old_shape), folder))[0]
        b = alone(written(r.choice(later)(new_shape), folder))[0]
        names = [{v: k for k, v in found_again(x, y).faces.items()} for x, y in ((old, a), (new, b))]
        found = found_again(a, b)
        ok, asked, gone, wrong = judged(found, *names)
        silent += [(number, data["parameters"], one) for one in wrong]
        right, likely, lost = right + ok, likely + asked, lost + gone
        done += 1
    return right, likely, lost, silent


def test_nothing_is_silently_wrong_and_little_is_lost(tmp_path: Path) -> None:
    """More of the same: `./moorcrest bench versions`."""
    right, likely, lost, silent = of_random_edits(EDITS, tmp_path, WRITTEN)
    assert silent == []
    assert right > 500
    assert lost <= 0.05 * (right + likely + lost)
    assert likely <= 0.05 * (right + likely + lost)


def test_a_part_that_was_edited_and_moved_is_laid_on_by_its_surfaces(tmp_path: Path) -> None:
    """What is symmetric may then lie two ways, and is asked about."""
    right, likely, lost, silent = of_random_edits(EDITS // 3, tmp_path, MOVED)
    assert silent == []
    assert lost <= 0.05 * (right + likely + lost)
    assert right > likely


@pytest.mark.parametrize("number", ["HB-204", "HB-206"])
def test_the_same_part_in_pieces_is_found_whole(number: str, tmp_path: Path) -> None:
    facts, shape = alone(build_model(validate_recipe(demo_data(number))))
    pieces = alone(written(split(shape, 2), tmp_path))[0]
    found = found_again(facts, pieces)
    assert len(found.silent) == len(facts.faces)
    between = {e.name for e in facts.edges if len(e.faces) > 1}  # not seams, which are the writer's
    cut = between - set(found.edges)  # a curved edge that the cut goes through is two there
    assert cut <= {"oil/bore|upright/side.crown"}


@pytest.mark.parametrize("number", ["HB-202", "HB-204", "HB-205", "HB-206", "HB-214"])
def test_a_part_that_was_moved_as_a_whole_is_laid_on_first(number: str, tmp_path: Path) -> None:
    r = random.Random(3)
    old, shape = alone(build_model(validate_recipe(demo_data(number))))
    there = alone(written(elsewhere(shape), tmp_path))[0]
    found = found_again(old, there)
    assert len(found.silent) == len(old.faces)
    assert found.moved[:3, 3] == pytest.approx((312.7, -88.1, 41.9), abs=1e-3)
    data = edited(number, r)
    assert data is not None
    new, shape = alone(build_model(validate_recipe(data)))
    there = alone(written(elsewhere(shape), tmp_path))[0]
    names = {v: k for k, v in found_again(new, there).faces.items()}
    own = {f.name: f.name for f in old.faces}
    right, likely, _, wrong = judged(found_again(old, there), own, names)
    assert wrong == []
    assert right + likely in (0, *range(int(0.8 * len(old.faces)), len(old.faces) + 1))  # or it is lost


def test_what_is_symmetric_may_lie_either_way_and_is_only_likely(tmp_path: Path) -> None:
    facts, shape = alone(block(60, 40, 10))
    found = found_again(facts, alone(written(elsewhere(shape), tmp_path))[0])
    assert found.silent == {}
    assert len(found.faces) == 6


def plate(*at: tuple[float, float], wide: float = 100) -> PartFacts:
    plane = {"origin": [0, 0, 10]}
    holes = {"id": "h", "kind": "hole", "plane": plane, "at": [list(p) for p in at], "diameter": 6}
    base = {"id": "b", "kind": "extrude", "profile": {"width": wide, "height": 40}, "depth": 10}
    return alone(part([base, holes]))[0]


def bores(facts: PartFacts) -> dict[str, float]:
    return {f.name: f.origin[0] for f in facts.faces if f.kind == "cylinder"}


def test_a_row_that_moves_by_its_own_pitch_is_never_silent() -> None:
    """Every hole but one stands where another one stood: the same place is no proof."""
    old, new = plate((-20, 0), (0, 0), (20, 0)), plate((0, 0), (20, 0), (40, 0))
    found = found_again(old, new)
    assert [n for n in bores(old) if n in found.silent] == []


def test_a_hole_that_moves_a_little_is_the_same_one_and_one_that_changes_places_is_not() -> None:
    old, new = plate((-20, 0), (20, 0)), plate((-20, 2), (20, 0))
    found = found_again(old, new)
    places = bores(new)
    assert {n: places[found.silent[n]] for n in bores(old)} == bores(old)
    far = found_again(old, plate((-20, 0), (44, 15)))
    (gone,) = [n for n, x in bores(old).items() if x == 20]
    assert gone not in far.silent


def test_another_part_altogether_has_next_to_nothing_in_common() -> None:
    ball = alone(part([{"id": "r", "kind": "extrude", "profile": {"diameter": 30}, "depth": 90}]))[0]
    found = found_again(plate((-20, 0), (20, 0)), ball)
    assert len(found.silent) <= 1
    assert len(found.edges) <= 1


# ---- names carried on --------------------------------------------------------------------------------------
def test_names_go_with_what_was_found_and_no_other_takes_them(tmp_path: Path) -> None:
    """A boss where a hole was, a hole moved: every old name is on the same face, or on none."""
    old = alone(written(holed((-20, 0), (20, 0)), tmp_path))[0]
    new = alone(written(holed((-20, 2), (38, 12)), tmp_path))[0]
    found = found_again(old, new)
    named = renamed(new, carried_names(old, new, found))
    by_name = {f.name: f for f in named.faces}
    assert len(by_name) == len(new.faces)
    assert len({e.name for e in named.edges}) == len(new.edges)
    assert all(n in by_name for e in named.edges for n in e.faces)
    names = {e.name for e in named.edges}
    assert all(e in names for f in named.faces for loop in f.inner for e in loop)
    for f in old.faces:
        if f.name in found.silent:
            assert by_name[f.name].kind == f.kind
        else:
            assert f.name not in by_name
    gone = next(n for n, x in bores(old).items() if x == pytest.approx(20))
    assert gone not in by_name
    for e in old.edges:
        if e.name in names:
            assert found.edges[e.name] in {x.name for x in new.edges}


def test_what_is_only_likely_takes_its_name_once_it_is_confirmed() -> None:
    old, new = plate((-20, 0), (0, 0), (20, 0)), plate((0, 0), (20, 0), (40, 0))
    found = found_again(old, new)
    likely = [n for n, why in found.certainty.items() if why == "likely"]
    alone_ = carried_names(old, new, found)
    assert not set(likely) & set(alone_.values())
    agreed = carried_names(old, new, found, likely)
    assert set(likely) <= set(agreed.values())


def test_a_place_that_another_took_has_another_name(tmp_path: Path) -> None:
    """Names from files are places: the hole that stands where another one stood is not that one."""
    old = alone(written(holed((-20, 0), (0, 0), (20, 0)), tmp_path))[0]
    new = alone(written(holed((0, 0), (20, 0), (40, 0)), tmp_path))[0]
    same = {f.name for f in old.faces} & {f.name for f in new.faces}
    assert any(n.startswith("cylinder") for n in same)
    names = carried_names(old, new, found_again(old, new))
    assert all(names[n] != n for n in same if n.startswith("cylinder"))


def holed(*at: tuple[float, float]) -> Any:
    plane = {"origin": [0, 0, 10]}
    holes = {"id": "h", "kind": "hole", "plane": plane, "at": [list(p) for p in at], "diameter": 6}
    base = {"id": "b", "kind": "extrude", "profile": {"width": 100, "height": 40}, "depth": 10}
    return alone(part([base, holes]))[1]
