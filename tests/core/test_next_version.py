"""The next version of a model takes the names of the one before, and a drawing of it measures the new values:
against the recipe's own parameters, through files without names, shuffled."""

import random
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import Phase, given, settings
from hypothesis import strategies as st

from drafting.annotation import registry
from drafting.annotation.review.brought_along import along, lost, rehung, sources, states_gone
from drafting.commands import execute, patched
from drafting.commands.versions import BringAlong
from drafting.document import Drawing, Sheet
from drafting.errors import CommandError, ModelError
from drafting.model.assembly import build_model
from drafting.model.model import Facts, Model
from drafting.model.next_version import next_version
from drafting.model.recipe import validate_recipe
from drafting.model.step import read_model, write_model
from tests.core.conftest import demo, demo_data, demo_drawing
from tests.core.disguises import shuffled

WIDE = st.integers(1290, 1500).map(lambda v: v / 10)
SEAT = st.integers(480, 560).map(lambda v: v / 10)


def from_file(model: Model, folder: Path, name: str) -> Facts:
    """A model as a file by somebody else has it: no names, another order."""
    shapes = {k: shuffled(s) for k, s in model.shapes.items()}
    write_model(Model(model.facts, shapes), folder / f"{name}.step")
    return read_model(folder / f"{name}.step", name, lambda done, text: None, True).facts


def edited(**parameters: float) -> Model:
    data = demo_data("HB-204")
    data["parameters"].update(parameters)
    return build_model(validate_recipe(data))


def values(drawing: Drawing, facts: Facts) -> dict[str, str]:
    """What the sizes of a drawing say, by id."""
    return {
        a.id: registry.text(a, registry.context_of(drawing, s, a, facts))
        for s in drawing.sheets
        for a in s.annotations
        if sources(a)
    }


@pytest.fixture(scope="module")
def block() -> tuple[Drawing, Facts]:
    return demo_drawing("HB-204"), demo("HB-204").facts


@given(WIDE, SEAT)
@settings(max_examples=8, deadline=None, phases=(Phase.generate,))
def test_sizes_are_the_recipes_parameters_after_every_edit(
    block: tuple[Drawing, Facts], tmp_path_factory: Any, width: float, seat: float
) -> None:
    drawing, old = block
    folder = tmp_path_factory.mktemp("edit")
    first = next_version(old, from_file(demo("HB-204"), folder, "first"))
    later = next_version(first.facts, from_file(edited(width=width, seat=seat), folder, "later"), [old])
    for new in (next_version(old, edited(width=width, seat=seat).facts), later):
        report = along(drawing, old, new.facts, new.likely)
        assert [h for h in report.hanging if h.held == "lost"] == []
        sizes = [d for d in report.differences if d.what in ("length", "diameter", "distance", "radius")]
        assert all(
            d.what == "hole callout" for d in report.differences if d not in sizes
        )  # threads: in no file
        changed = {d.after.partition(" ")[0] for d in sizes}
        wanted = {f"{v:g}".replace(".", ",") for v, was in ((width, 140), (seat, 52)) if v != was}
        assert {c.lstrip("Ø") for c in changed} == wanted
        after, patch, inverse = execute(drawing, BringAlong(to=2), new.facts)
        assert after.shows == 2
        assert patched(after, inverse) == drawing
        assert patched(drawing, patch) == after


def test_parts_and_places_of_an_assembly_are_found_whatever_the_file_calls_them(tmp_path: Path) -> None:
    winder = demo("HB-200")
    write_model(winder, tmp_path / "w.step")
    read = read_model(tmp_path / "w.step", "w", lambda done, text: None, True).facts
    assert not {i.path for i in read.instances} & {i.path for i in winder.facts.instances}
    order = list(read.instances)
    random.Random(5).shuffle(order)
    same = next_version(winder.facts, read.model_copy(update={"instances": order}))
    assert same.share == 1.0
    assert same.likely == {}
    old = {i.path: i for i in winder.facts.instances}
    for i in same.facts.instances:
        assert i.part == old[i.path].part
        assert np.allclose(i.matrix, old[i.path].matrix, atol=1e-5)
    # one is gone, and its place is not taken by another; a new one takes no name of old
    gone = next(i for i in read.instances if i.name.startswith("Tie"))
    other = gone.model_copy(update={"path": "new", "matrix": [[1, 0, 0, 900], *gone.matrix[1:]]})
    moved = [i for i in read.instances if i is not gone] + [other]
    fewer = next_version(winder.facts, read.model_copy(update={"instances": moved}))
    paths = {i.path for i in fewer.facts.instances}
    assert len(set(old) - paths) == 1
    assert paths - set(old) == {"new"}


def test_what_is_no_version_is_said() -> None:
    part, whole = demo("HB-204").facts, demo("HB-200").facts
    with pytest.raises(ModelError, match="The file is an assembly, and the model is a part"):
        next_version(part, whole)
    empty = part.model_copy(
        update={"parts": {k: p.model_copy(update={"faces": []}) for k, p in part.parts.items()}}
    )
    with pytest.raises(ModelError, match="Nothing is in the file"):
        next_version(part, empty)
    assert next_version(part, demo("HB-202").facts).share < 0.3


def test_names_that_were_lost_are_given_to_nothing_new(tmp_path: Path) -> None:
    """A hole is taken away, and later another one is made in its place: a size of the first is not on it."""
    with_hole = demo("HB-204").facts
    data = demo_data("HB-204")
    data["features"] = [f for f in data["features"] if f["id"] != "oil"]
    without = next_version(with_hole, from_file(build_model(validate_recipe(data)), tmp_path, "without"))
    again = next_version(without.facts, from_file(demo("HB-204"), tmp_path, "again"), [with_hole])
    (names,) = ({f.name for f in p.faces} for p in again.facts.parts.values())
    assert not {n for n in names if n.startswith("oil/")}


def test_what_hangs_on_what_is_lost_is_told_too(block: tuple[Drawing, Facts]) -> None:
    """Three holes of four are left: the callout is lost, and with it the frame below it."""
    drawing, old = block
    data = demo_data("HB-204")
    next(f for f in data["features"] if f["id"] == "caps")["circular"]["count"] = 3
    new = next_version(old, build_model(validate_recipe(data)).facts)
    told = {h.annotation: (h.what, h.held) for h in along(drawing, old, new.facts, new.likely).hanging}
    assert told["frame-caps"] == ("control frame", "lost")
    assert ("hole callout", "lost") in told.values()


def test_what_is_hung_on_again_takes_all_of_one_edge_along(block: tuple[Drawing, Facts]) -> None:
    drawing, facts = block
    with pytest.raises(CommandError, match="shows this version already"):
        execute(drawing, BringAlong(to=1), facts)
    sheet: Sheet = drawing.sheets[0]
    size = next(a for a in sheet.annotations if a.kind == "linear" and len(sources(a)) == 1)
    assert lost(drawing, sheet, size, facts) == ""
    assert rehung(size, []) is size


def test_an_exploded_state_that_is_gone_is_told_before_the_drawing_is_brought_along() -> None:
    drawing, facts = demo_drawing("HB-200"), demo("HB-200").facts
    shown = sorted({v.exploded for v in drawing.views() if v.exploded})
    assert shown
    assert states_gone(drawing, facts) == []
    without = facts.model_copy(update={"exploded": [s for s in facts.exploded if s.name != shown[0]]})
    (told,) = states_gone(drawing, without)
    assert told == f"There is no exploded state {shown[0]} any more: what shows it is drawn together."
