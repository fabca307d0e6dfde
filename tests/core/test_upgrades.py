"""Drawings and logs as they were stored before annotations had anchors. `drawing_format_1.json` was stored by
the release that had that format: eight commands, each with its patch and inverse, and what they led to."""

import copy
import json
from pathlib import Path
from typing import Any

import jsonpatch
import pytest

from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.kinds.parts_rows import PartsList
from drafting.document import Drawing
from drafting.patches import patched
from drafting.upgrades import PRESENT, read, upgraded, upgraded_log

STORED: dict[str, Any] = json.loads((Path(__file__).parent / "drawing_format_1.json").read_text())
OLD: dict[str, Any] = STORED["drawing"]
LOG = [(patch, inverse) for _, patch, inverse in STORED["log"]]


def test_an_old_drawing_reads_as_one_with_anchors_and_its_list_among_the_annotations() -> None:
    before = copy.deepcopy(OLD)
    drawing = read(OLD)
    assert before == OLD
    sheet = drawing.sheets[0]
    size, ball, plist = sheet.annotations
    was = OLD["sheets"][0]["annotations"]
    assert isinstance(size, LinearDimension)
    assert (size.view, size.wording.places) == ("v", 2)
    assert [p.source for p in size.picks] == [p["source"] for p in was[0]["picks"]]
    assert isinstance(ball, Balloon)
    assert (ball.view, ball.instance, ball.place.paper.y) == ("v", was[1]["instance"], 60)
    assert isinstance(plist, PartsList)
    assert plist.anchor.on == "sheet"
    assert (plist.levels, plist.totals) == ("top", True)
    assert {key: item.number for key, item in drawing.items.items()} == {
        key: item["number"] for key, item in OLD["items"].items()
    }


def test_what_is_of_the_present_stays_as_it_is() -> None:
    now = read(OLD).model_dump(mode="json")
    assert now["format"] == PRESENT
    assert upgraded(now) == now


def test_decimals_that_the_oldest_sizes_held_by_themselves_become_their_wording() -> None:
    old = copy.deepcopy(OLD)
    size = old["sheets"][0]["annotations"][0]
    del size["wording"]
    size["places"] = 3
    (first, *_) = read(old).sheets[0].annotations
    assert isinstance(first, LinearDimension)
    assert first.wording.places == 3


@pytest.mark.parametrize("applied", [0, 3, len(LOG)])
def test_an_old_log_undoes_and_redoes_every_step_in_the_present_format(applied: int) -> None:
    """Wherever it stood in its log: all undone, all done, and each state is the old one brought up."""
    states = [OLD]
    for _, inverse in reversed(LOG):
        states.insert(0, jsonpatch.apply_patch(states[0], inverse))
    log = upgraded_log(states[applied], LOG, applied)
    assert len(log) == len(LOG)
    drawing = read(states[applied])
    for n in range(applied, len(log)):
        drawing = patched(drawing, log[n][0])
        assert drawing == read(states[n + 1])
    for n in range(len(log) - 1, -1, -1):
        drawing = patched(drawing, log[n][1])
        assert drawing == read(states[n])
    assert isinstance(drawing, Drawing)
    assert drawing.sheets[0].views == []
