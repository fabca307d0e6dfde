"""What frames and stack-ups come to, through the interface: from the bearing block's own drawing."""

import json
from collections.abc import Callable
from typing import Any

import pytest
from django.test import Client

from server.library.models import Model
from tests.server.conftest import RECIPES, post


@pytest.fixture
def drawing(ann: Client, bearing: Model, queue: Callable[[], int]) -> str:
    """The demo drawing of the bearing block, every command done."""
    made = post(ann, "/api/drawings", {"model": str(bearing.pk)}).json()
    url, version, sheet = f"/api/drawings/{made['id']}", 1, made["document"]["sheets"][0]["id"]
    for command in json.loads((RECIPES.parent / "drawings" / "HB-204.json").read_text())["commands"]:
        if command.get("sheet") == "":
            command["sheet"] = sheet
        answer = post(ann, f"{url}/commands", {"version": version, "command": command})
        assert answer.status_code == 200, answer.content
        version = answer.json()["version"]
    ann.get(f"{url}/sheets/{sheet}")
    queue()
    return url


def does(client: Client, url: str, command: dict[str, Any]) -> None:
    answer = post(
        client, f"{url}/commands", {"version": client.get(url).json()["version"], "command": command}
    )
    assert answer.status_code == 200, answer.content


def test_a_frame_tells_what_it_comes_to(ann: Client, bob: Client, drawing: str) -> None:
    does(ann, drawing, {"command": "change", "ids": ["frame-bore"], "values": {"says": "par d0.03m a c"}})
    bore = f"{drawing}/frames/frame-bore"
    found = ann.get(f"{bore}/meaning").json()
    assert (found["least"], found["most"], found["is_internal"]) == ("40", "40,025", True)  # H7, ISO 286-2
    assert (found["virtual"], found["outer"], found["missing"]) == ("39,97", "40,08", [])
    part = ann.get(f"{bore}/meaning", {"size": 40.02, "dx": 0.01, "dy": 0.01}).json()
    assert (part["off"], part["allowed"], part["passes"]) == ("0,0283", "0,05", True)
    assert (
        ann.get(f"{bore}/meaning", {"size": 40.1}).json()["problem"] == "The measured size is out of limits."
    )
    plus = ann.get(f"{bore}/meaning", {"plus_x": 0.1, "plus_y": 0.1}).json()
    assert (plus["zone"], plus["gained"]) == ("0,283", 57)
    assert plus["zone_says"] == "∥ Ø0.283(M) A C"
    flat = ann.get(f"{drawing}/frames/frame-flat/meaning").json()
    assert "the frame is on a surface" in flat["why"]
    assert bob.get(f"{bore}/meaning").status_code == 404
    assert ann.get(f"{drawing}/frames/size-1/meaning").status_code == 422
    alone = ann.get(f"{bore}/fastening")
    assert "No fastener goes through this hole" in alone.json()["message"]
    said = ann.get(f"{bore}/fastening", {"greatest": 39.8, "is_fixed": True}).json()
    assert [h["zone"] for h in said["holes"]] == ["0,1", "0,1"]
    assert said["holes"][0]["frame"]["rows"][0]["value"] == pytest.approx(0.1)
    caps = f"{drawing}/frames/frame-caps"  # threads: what is drilled does not bound them
    assert "pitch cylinder" in ann.get(f"{caps}/meaning").json()["why"]
    assert "A thread holds" in ann.get(f"{caps}/fastening", {"greatest": 3.9}).json()["message"]


def test_basic_sizes_that_are_missing_are_proposed_in_rows(ann: Client, drawing: str) -> None:
    circle = {"command": "change", "ids": ["size-9"], "values": {"wording": {"basic": False}}}
    does(ann, drawing, circle)
    caps = f"{drawing}/frames/frame-caps"
    assert ann.get(f"{caps}/meaning").json()["missing"] == ["31 from B"]
    found = ann.get(f"{caps}/basics")
    assert found.status_code == 200, found.content
    sizes = found.json()["sizes"]
    assert [s["kind"] for s in sizes] == ["diameter"]  # the circle of the four holes
    does(ann, drawing, {"command": "place", "annotations": sizes})
    assert ann.get(f"{caps}/meaning").json()["missing"] == []
    does(ann, drawing, {"command": "remove", "ids": ["angle-caps"]})
    assert ann.get(f"{caps}/meaning").json()["missing"] == ["45° from A"]  # what keeps it from turning
    angle = ann.get(f"{caps}/basics").json()["sizes"]
    assert [s["kind"] for s in angle] == ["angle"]
    does(ann, drawing, {"command": "place", "annotations": angle})
    assert ann.get(f"{caps}/meaning").json()["missing"] == []
    slot = {"command": "change", "ids": ["size-16"], "values": {"wording": {"basic": False}}}
    does(ann, drawing, slot)
    (missing,) = ann.get(f"{drawing}/frames/frame-oil/meaning").json()["missing"]
    assert missing == "25 from C"


def test_general_tolerances_are_told_for_what_no_frame_speaks_of(ann: Client, drawing: str) -> None:
    found = ann.get(f"{drawing}/general-tolerances").json()
    assert set(found["instances"].values()) == set(found["parts"])
    style = ann.get(drawing).json()["document"]["profile"]["general_tolerance"]
    told = found["parts"]["part"]
    assert bool(told) == ("K" in style or "H" in style or "L" in style)


def test_a_stack_up_is_figured_and_written(ann: Client, bob: Client, drawing: str) -> None:
    picks = [
        {"instance": "part", "source": "base/side.bottom|base/start"},
        {"instance": "part", "source": "base/end~2|base/side.bottom"},
    ]
    stack = {"kind": "stack_up", "id": "gap", "view": "front", "picks": picks, "least": 17.9}
    does(ann, drawing, {"command": "place", "annotations": [stack]})
    found = ann.get(f"{drawing}/stacks/gap").json()
    assert found["nominal"] == "18"
    assert found["worst"] == ["17,8", "18,2"]
    assert not found["holds"]
    for kind in ("xlsx", "csv"):
        assert ann.get(f"{drawing}/stacks/gap/table.{kind}").status_code == 200
    assert bob.get(f"{drawing}/stacks/gap").status_code == 404
    assert ann.get(f"{drawing}/stacks/frame-caps").status_code == 422
