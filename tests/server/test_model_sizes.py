"""Sizes both ways: the model's numbers brought to drawings, and a size that is set on the model."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from server.accounts.models import Membership, Workspace
from server.jobs.models import Job
from server.library.facts import current_facts
from server.library.models import Model
from tests.server.conftest import post, state_of, upload
from tests.server.test_api import Desk
from tests.server.test_releasing import bring, joined
from tests.server.test_versions import bring_in, drawn, edited, step

Work = Callable[[], int]
OFFICE: dict[str, Any] = {
    "moorcrest": "part",
    "version": 1,
    "name": "Step block",
    "properties": {"number": "SB-1"},
    "parameters": {"long": 60, "tall": 20, "half": "long/2"},
    "features": [
        {"id": "base", "kind": "extrude", "profile": {"width": "long", "height": 30}, "depth": "tall"},
        {
            "id": "bore",
            "kind": "hole",
            "plane": {"origin": [0, 0, "tall"]},
            "at": [["half/3", 0]],
            "diameter": 8,
        },
    ],
}
PAIR: dict[str, Any] = {
    "moorcrest": "assembly",
    "version": 1,
    "name": "Pair of blocks",
    "properties": {"number": "SB-9"},
    "parts": {"block": {"model": "SB-1"}},
    "instances": [{"id": "low", "part": "block"}, {"id": "high", "part": "block"}],
    "mates": [
        {"id": "gap", "kind": "coincident", "of": "high:base/start", "to": "low:base/end", "offset": 5},
    ],
}


NOTHING_BEHIND: dict[str, Any] = {"drawings": [], "assemblies": [], "parts": []}


def desk_of(client: Client, raw: dict[str, Any], queue: Work) -> Desk:
    upload(client, f"{raw['name']}.json", json.dumps(raw).encode())
    queue()
    return Desk(client, Model.objects.get(name=raw["name"]))


@pytest.fixture
def block(ann: Client, queue: Work) -> Desk:
    """The step block seen from the front and from above, nothing sized."""
    desk = desk_of(ann, OFFICE, queue)
    desk.main()
    desk.edit(
        command="place_projected_view",
        id="top",
        parent="front",
        relation="below",
        position={"x": 200, "y": 80},
    )
    desk.client.get(f"{desk.url}/sheets/{desk.sheet['id']}")
    queue()
    return desk


def listed(desk: Desk, queue: Work, **query: Any) -> dict[str, Any]:
    """What can be brought, once it is known."""
    address = f"{desk.url}/sheets/{desk.sheet['id']}/model-sizes"
    first = desk.client.get(address, query).json()
    if first["job"]:
        queue()
        assert state_of(desk.client, first["job"]).state == Job.DONE
        first = desk.client.get(address, query).json()
    assert first["job"] is None
    return {r["called"]: r for r in first["rows"]}


def set_to(desk: Desk, size: str, value: float, queue: Work) -> Job:
    answer = post(desk.client, f"{desk.url}/sizes/{size}/model-value", {"value": value})
    assert answer.status_code == 202, answer.content
    queue()
    return state_of(desk.client, answer.json())


def brought(desk: Desk, queue: Work) -> dict[str, str]:
    """All of the model's numbers on the drawing; ids by what they are called."""
    rows = listed(desk, queue)
    sizes = {name: r["size"] for name, r in rows.items() if r["size"]}
    desk.edit(command="place", annotations=list(sizes.values()), known="refuse")
    return {name: s["id"] for name, s in sizes.items()}


def test_the_numbers_of_a_recipe_are_brought_each_once(block: Desk, queue: Work) -> None:
    rows = listed(block, queue)
    texts = {name: r["text"] for name, r in rows.items() if r["size"]}
    assert texts == {"long": "60", "tall": "20", "height of base": "30", "diameter of bore": "Ø8"}
    assert all(r["svg"] for r in rows.values() if r["size"])
    assert set(listed(block, queue, feature="bore")) == {"diameter of bore"}
    assert {r["view"] for r in listed(block, queue, view="top").values() if r["size"]} == {"top"}
    brought(block, queue)
    assert {a["text"] for a in drawn(block).values()} == {"60", "20", "30", "Ø8"}
    again = listed(block, queue)
    assert not any(r["size"] for r in again.values())
    assert {r["why"] for r in again.values()} == {"It is on the drawing already."}


@pytest.mark.parametrize(
    ("called", "value", "shows"),
    [("long", 75, "75"), ("tall", 22.5, "22,5"), ("height of base", 32, "32"), ("diameter of bore", 9, "Ø9")],
)
def test_a_size_that_is_set_changes_the_recipe_and_the_drawing_follows(
    block: Desk, queue: Work, called: str, value: float, shows: str
) -> None:
    ids = brought(block, queue)
    before = {k: a["text"] for k, a in drawn(block).items()}
    job = set_to(block, ids[called], value, queue)
    assert (job.state, job.text) == (Job.DONE, job.text)
    assert job.result["said"] == f"The {called} is {value:g} in version 2 of SB-1 Step block."
    assert {k: a["text"] for k, a in drawn(block).items()} == before  # nothing behind the drafter's back
    assert set_to(block, ids[called], value, queue).text == (
        "The model has moved on to version 2; bring the drawing along first."
    )
    block.edit(command="bring_along", to=2)
    after = {k: a["text"] for k, a in drawn(block).items()}
    assert after == {**before, ids[called]: shows}


def test_what_cannot_be_set_is_answered_in_a_sentence(
    block: Desk, queue: Work, office: Workspace, tmp_path: Path
) -> None:
    ids = brought(block, queue)
    model = Model.objects.get()
    assert set_to(block, ids["long"], 60, queue).text == "The size has that value already."
    wide = set_to(block, ids["diameter of bore"], 200, queue)
    assert wide.state == Job.FAILED
    assert wide.text.startswith("With 200 for the diameter of bore ")
    assert (
        post(block.client, f"{block.url}/sizes/{ids['long']}/model-value", {"value": -3}).status_code == 422
    )
    assert post(block.client, f"{block.url}/sizes/gone/model-value", {"value": 3}).status_code == 422
    rob = joined(office, "rob", Membership.READER)
    assert post(rob, f"{block.url}/sizes/{ids['long']}/model-value", {"value": 3}).status_code == 403
    assert model.versions.count() == 1
    bring(block.client, block, "check")
    answer = post(block.client, f"{block.url}/sizes/{ids['long']}/model-value", {"value": 70})
    assert answer.json()["message"] == "The drawing is for check; take it back to work to change it."


def test_a_size_that_follows_from_others_says_so(sized: Desk, queue: Work) -> None:
    picks = [
        {"instance": "part", "source": s, "role": "edge", "at": {"x": x, "y": y}}
        for s, x, y in (("base/end~1|base/side.bottom", -60, -30), ("bore/bore|bore/seat", 20, 11))
    ]
    asked = {"tool": "size", "view": "front", "picks": picks, "pointer": {"x": 80, "y": 160}}
    answer = post(sized.client, f"{sized.url}/propose-annotation", asked)
    (size,) = answer.json()["annotations"]
    sized.edit(command="place", annotations=[{**size, "id": "between"}])
    job = set_to(sized, "between", 45, queue)
    assert job.text == "No number of the recipe says this size by itself: it follows from others."
    assert Model.objects.get().versions.count() == 1


def test_a_measured_size_says_what_would_have_to_be_changed(
    ann: Client, queue: Work, tmp_path: Path, sized: Desk, bearing: Model
) -> None:
    bring_in(ann, bearing, "as milled.step", step(edited(), tmp_path), queue)
    sized.edit(command="bring_along", to=2)
    found = ann.get(f"{sized.url}/sheets/{sized.sheet['id']}/model-sizes").json()
    assert found["rows"] == []
    assert "was read from as milled.step: its sizes are measured" in found["why"]
    assert "bring the file in as its next version" in set_to(sized, "length", 150, queue).text


def test_everything_that_shows_an_earlier_version_is_brought_along_at_once(
    block: Desk, queue: Work, ann: Client, bob: Client
) -> None:
    pair = desk_of(ann, PAIR, queue)
    pair.main()
    ann.get(f"{pair.url}/sheets/{pair.sheet['id']}")
    queue()
    gap = next(r["size"] for r in listed(pair, queue).values())
    pair.edit(command="place", annotations=[gap])
    ids = brought(block, queue)
    model, assembly = Model.objects.get(number="SB-1"), Model.objects.get(number="SB-9")
    assert ann.get(f"/api/models/{model.pk}/outdated").json() == NOTHING_BEHIND
    set_to(block, ids["tall"], 24, queue)
    told = ann.get(f"/api/models/{model.pk}/outdated").json()
    assert [d["id"] for d in told["drawings"]] == [block.state["id"]]
    assert told["assemblies"] == ["SB-9 Pair of blocks"]
    of_pair = ann.get(f"/api/models/{assembly.pk}/outdated").json()
    assert (of_pair["parts"], of_pair["drawings"]) == (["SB-1 Step block"], [])
    assert bob.get(f"/api/models/{model.pk}/outdated").status_code == 404
    assert post(bob, f"/api/models/{model.pk}/bring-all", {}).status_code == 404
    answer = post(ann, f"/api/models/{model.pk}/bring-all", {})
    queue()
    job = state_of(ann, answer.json())
    assert (job.state, job.result["said"]) == (
        Job.DONE,
        "2 drawings brought along; 1 assembly built anew.",
    )
    assert ann.get(f"/api/models/{model.pk}/outdated").json() == NOTHING_BEHIND
    assert assembly.current().number == 2
    ann.get(f"{block.url}/sheets/{block.sheet['id']}")
    queue()
    assert {a["text"] for a in drawn(block).values()} == {"60", "24", "30", "Ø8"}
    ann.get(f"{pair.url}/sheets/{pair.sheet['id']}")
    queue()
    assert drawn(pair)[gap["id"]]["text"] == "5"


def test_an_offset_of_a_mate_is_set_on_the_assembly(block: Desk, queue: Work, ann: Client) -> None:
    pair = desk_of(ann, PAIR, queue)
    pair.main()
    ann.get(f"{pair.url}/sheets/{pair.sheet['id']}")
    queue()
    gap = next(r["size"] for r in listed(pair, queue).values())
    pair.edit(command="place", annotations=[gap])
    job = set_to(pair, gap["id"], 7.5, queue)
    assert (job.state, job.result.get("said")) == (
        Job.DONE,
        "The offset of gap is 7.5 in version 2 of SB-9 Pair of blocks.",
    )
    pair.edit(command="bring_along", to=2)
    assert drawn(pair)[gap["id"]]["text"] == "7,5"


def test_numbers_are_not_worked_out_twice_at_once(block: Desk, ann: Client) -> None:
    address = f"{block.url}/sheets/{block.sheet['id']}/model-sizes"
    jobs = {ann.get(address).json()["job"]["id"] for _ in range(3)}
    assert len(jobs) == 1


def test_a_size_is_carried_to_another_view_by_dragging_it_there(block: Desk, queue: Work) -> None:
    ids = brought(block, queue)
    document = block.client.get(block.url).json()["document"]
    (size,) = [a for a in document["sheets"][0]["annotations"] if a["id"] == ids["long"]]
    own = size["anchor"]["view"]
    other = next(v for v in document["sheets"][0]["views"] if v["id"] != own)
    at = {"x": other["position"]["x"] + 2, "y": other["position"]["y"] + 1}
    answer = post(block.client, f"{block.url}/drag", {"id": ids["long"], "grip": "number", "pointer": at})
    assert answer.status_code == 200, answer.content
    (made,) = answer.json()["annotations"]
    assert (answer.json()["view"], made["anchor"]["view"]) == (other["id"], other["id"])
    block.edit(command="place", annotations=[made], known="replace")
    assert drawn(block)[ids["long"]]["text"] == "60"
    block.turn("undo")
    kept = block.state["document"]["sheets"][0]["annotations"]
    assert next(a for a in kept if a["id"] == ids["long"])["anchor"]["view"] == own
    # what the other view does not show squarely stays in its own
    tall = {"id": ids["tall"], "grip": "number", "pointer": at}
    moved = post(block.client, f"{block.url}/drag", tall).json()["annotations"][0]
    assert moved["anchor"]["view"] != "top"


def test_an_assembly_that_is_behind_its_parts_is_built_anew_from_its_own_page(
    block: Desk, queue: Work, ann: Client
) -> None:
    upload(ann, "pair.json", json.dumps(PAIR).encode())
    queue()
    over = {**PAIR, "name": "Pair in a frame", "properties": {"number": "SB-10"}, "mates": []}
    over = {**over, "parts": {"pair": {"model": "SB-9"}}, "instances": [{"id": "only", "part": "pair"}]}
    upload(ann, "frame.json", json.dumps(over).encode())
    queue()
    outer, pair = Model.objects.get(number="SB-10"), Model.objects.get(number="SB-9")
    set_to(block, brought(block, queue)["tall"], 24, queue)
    part = Model.objects.get(number="SB-1")
    told = ann.get(f"/api/models/{part.pk}/outdated").json()
    assert sorted(told["assemblies"]) == ["SB-10 Pair in a frame", "SB-9 Pair of blocks"]
    answer = post(ann, f"/api/models/{outer.pk}/bring-all", {})
    queue()
    assert state_of(ann, answer.json()).result["said"] == "0 drawings brought along; 1 assembly built anew."
    assert (outer.current().number, pair.current().number) == (2, 1)
    assert ann.get(f"/api/models/{outer.pk}/outdated").json() == NOTHING_BEHIND
    assert current_facts(outer)[1].high[2] == pytest.approx(24 + 5 + 24)
