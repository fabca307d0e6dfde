"""Volumes measured in processes of their own."""

import math
import os
import signal
from typing import Any

import pytest

from drafting.errors import ModelError
from drafting.kernel import volumes
from drafting.kernel.measure import VOLUME_TOLERANCE, volume
from drafting.kernel.volumes import Volumes
from drafting.model.step import read_model
from tests.core.conftest import STEP_FILES
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
