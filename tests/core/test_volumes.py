"""Volumes measured in processes of their own."""

import math
import os
import signal
from pathlib import Path
from typing import Any

import pytest

from drafting.errors import ModelError
from drafting.kernel import volumes
from drafting.kernel.measure import VOLUME_TOLERANCE, volume
from drafting.kernel.volumes import Volumes
from drafting.model.measuring import measured
from drafting.model.model import Model
from drafting.model.step import read_model, write_model
from tests.core.conftest import STEP_FILES, block
from tests.core.zoo import ZOO, ball, splines


@pytest.fixture
def two_processes(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(volumes, "WORTH_IT", 1)
    monkeypatch.setattr(volumes, "SPLIT", 1)
    monkeypatch.setattr(os, "cpu_count", lambda: 2)


@pytest.mark.usefixtures("two_processes")
def test_pieces_of_bodies_add_up_to_the_whole() -> None:
    shapes = {f"{name} {n}": s for name in ZOO for n, s in enumerate(ZOO[name]())}
    with Volumes(shapes) as found:
        for key, shape in shapes.items():
            assert found.of(key) == pytest.approx(volume(shape), rel=2 * VOLUME_TOLERANCE)


@pytest.mark.usefixtures("two_processes")
def test_a_ball_of_splines_has_the_volume_of_a_ball() -> None:
    with Volumes({"b": splines(ball(7))}) as found:
        assert found.of("b") == pytest.approx(4 / 3 * math.pi * 7**3, rel=1e-5)


def test_a_crash_while_measuring_is_a_sentence(monkeypatch: pytest.MonkeyPatch, two_processes: Any) -> None:
    monkeypatch.setattr(volumes, "volume_below", lambda *_: os.kill(os.getpid(), signal.SIGSEGV))
    with (
        Volumes({"b": splines(ball(7))}) as found,
        pytest.raises(ModelError, match="crashed while it measured"),
    ):
        found.of("b")


@pytest.mark.usefixtures("two_processes")
def test_a_file_has_the_same_volumes_either_way(monkeypatch: pytest.MonkeyPatch) -> None:
    path = STEP_FILES["linkrods"]
    apart = [p.volume for p in read_model(path, "rods").facts.parts.values()]
    monkeypatch.setattr(volumes, "WORTH_IT", 10**9)
    assert apart == pytest.approx(
        [p.volume for p in read_model(path, "rods").facts.parts.values()], rel=2 * VOLUME_TOLERANCE
    )


def test_a_model_can_be_used_before_it_is_measured() -> None:
    path = STEP_FILES["linkrods"]
    early, at_once = read_model(path, "rods", later=True), read_model(path, "rods")
    assert early.facts.unmeasured
    assert [p.volume for p in early.facts.parts.values()] == [None] * len(early.facts.parts)
    assert not at_once.facts.unmeasured
    steel = {"material": "steel S235"}
    parts = {key: p.model_copy(update=steel) for key, p in early.facts.parts.items()}
    awaiting = early.facts.model_copy(update={"parts": parts})
    assert awaiting.total_mass() is None
    assert all(awaiting.awaits(p) for p in parts.values())
    assert not any(awaiting.awaits(p, "unobtainium") for p in parts.values())
    told = []
    later = measured(early, lambda done, text: told.append(text)).facts
    assert told[0].startswith("measuring part 1 of ")
    assert not later.unmeasured
    assert [p.volume for p in later.parts.values()] == pytest.approx(
        [p.volume for p in at_once.facts.parts.values()], rel=2 * VOLUME_TOLERANCE
    )
    assert later.model_dump(exclude={"parts"}) == at_once.facts.model_dump(exclude={"parts"})


def test_what_takes_no_time_is_measured_at_once(tmp_path: Path) -> None:
    path = tmp_path / "block.step"
    write_model(block(40, 30, 20), path)
    model = read_model(path, "block", later=True)
    assert not model.facts.unmeasured
    assert all(p.volume for p in model.facts.parts.values())


def test_what_cannot_be_measured_has_no_mass_and_says_so() -> None:
    early = read_model(STEP_FILES["linkrods"], "rods", later=True).facts
    facts = early.unmeasurable("The kernel crashed.")
    assert facts.notes[-1] == "The kernel crashed. Masses are unknown."
    assert not facts.unmeasured
    assert facts.total_mass() is None
    assert not any(facts.awaits(p) for p in facts.parts.values())


def test_both_hands_of_a_part_are_as_large_though_one_is_measured() -> None:
    model = read_model(STEP_FILES["linkrods"], "rods", later=True)
    key, part = next(iter(model.facts.parts.items()))
    shapes = {key: model.shapes[key], f"{key}:mirrored": model.shapes[key]}
    parts = {key: part, f"{key}:mirrored": part}
    for keys in (list(parts), [f"{key}:mirrored"]):
        facts = model.facts.model_copy(update={"parts": {k: parts[k] for k in keys}})
        found = measured(Model(facts, {k: shapes[k] for k in keys})).facts.parts
        assert len({p.volume for p in found.values()}) == 1
        assert all(p.volume for p in found.values())
