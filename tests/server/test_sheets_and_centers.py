"""Sheets with live pictures, centers of a view, materials of the office and properties of parts, over the
API."""

import json
from typing import Any

import pytest
from django.test import Client

from server.library.models import Material, Model, PartProperties
from tests.server.conftest import post
from tests.server.test_api import Desk, Work

pytestmark = pytest.mark.django_db


@pytest.fixture
def desk(ann: Client, bearing: Model, queue: Work) -> Desk:
    return Desk(ann, bearing)


def sheet(desk: Desk) -> Any:
    return desk.client.get(f"{desk.url}/sheets/{desk.sheet['id']}").json()


def test_a_sheet_s_picture_says_what_is_still_being_derived(desk: Desk, queue: Work) -> None:
    desk.main()
    answer = desk.client.get(f"{desk.url}/thumbnail.svg?sheet={desk.sheet['id']}")
    assert answer["X-Waiting"] == "1"
    queue()
    answer = desk.client.get(f"{desk.url}/thumbnail.svg?sheet={desk.sheet['id']}")
    assert answer["X-Waiting"] == "0"
    assert answer.content.count(b"<path") > 5


def test_everything_a_view_lacks_is_placed_in_one_step_and_taken_back_in_one(desk: Desk, queue: Work) -> None:
    desk.main()
    path = f"{desk.url}/views/front/lacking"
    assert desk.client.get(path).status_code == 425
    sheet(desk)
    queue()
    bare = sheet(desk)["unmarked"]
    assert bare == 5  # the bore and its four screws
    found = desk.client.get(path).json()["centers"]
    assert sorted(c["kind"] for c in found)[:2] == ["bolt_circle", "center_line"]
    desk.edit(command="place", annotations=found)
    now = sheet(desk)
    assert now["unmarked"] == 0
    circle = next(
        a for a in now["annotations"] if a["id"] == next(c["id"] for c in found if c["kind"] == "center_mark")
    )
    assert [h["end"] for h in sorted(circle["handles"], key=lambda h: h["end"])] == [0, 1, 2, 3]
    assert desk.client.get(path).json()["centers"] == []
    desk.turn("undo")
    assert sheet(desk)["unmarked"] == bare


def test_a_center_under_the_pointer_and_picks_that_make_none(desk: Desk, queue: Work) -> None:
    desk.main()
    sheet(desk)
    queue()
    curves = desk.client.get(f"{desk.url}/views/front/curves").json()["curves"]
    bore = next(c for c in curves if c["kind"] == "arc" and c["data"][2] == pytest.approx(20))
    pick = {"instance": "part", "source": bore["source"], "role": "edge", "at": {"x": 0, "y": 0}}
    url, at = f"{desk.url}/propose-annotation", {"x": 0, "y": 0}
    answer = post(
        desk.client, url, {"tool": "center_mark", "view": "front", "picks": [pick], "pointer": at}
    ).json()
    anchor = answer["annotations"][0]["anchor"]
    assert anchor["picks"][0]["source"] == bore["source"]
    assert "<path" in answer["svg"]
    wrong = post(
        desk.client, url, {"tool": "bolt_circle", "view": "front", "picks": [pick, pick], "pointer": at}
    )
    assert (wrong.status_code, wrong.json()["message"]) == (
        422,
        "A bolt circle runs through three holes or more.",
    )
    refused = post(
        desk.client,
        f"{desk.url}/commands",
        {
            "version": desk.state["version"],
            "command": {
                "command": "place",
                "annotations": [{"kind": "bolt_circle", "id": "x", "anchor": anchor}],
            },
        },
    )
    assert refused.status_code == 422


def test_a_part_s_material_gives_its_mass_in_every_drawing_of_it(desk: Desk, bearing: Model) -> None:
    url = f"/api/models/{bearing.pk}"
    page = desk.client.get(url).json()
    volume = page["parts"][0]["volume"]
    made = post(
        desk.client, "/api/materials", {"designation": "moor iron", "density": 7.5, "source": "weighed"}
    )
    assert made.status_code == 201
    page = post(
        desk.client,
        f"{url}/properties",
        {"part": page["parts"][0]["key"], "material": "moor iron", "own": {"Pattern": "P-17", "Empty": ""}},
    ).json()
    assert page["mass"] == pytest.approx(volume * 7.5e-6)
    assert page["parts"][0]["own"] == {"Pattern": "P-17"}
    assert "moor iron" in sheet(desk)["frame"]
    rows = desk.client.get("/api/materials").json()
    own = next(r for r in rows if r["designation"] == "moor iron")
    assert desk.client.delete(f"/api/materials/{own['id']}").status_code == 204
    assert desk.client.get(url).json()["mass"] is None
    assert "mass" in sheet(desk)["blank_fields"]
    post(desk.client, f"{url}/properties", {"part": page["parts"][0]["key"], "material": ""})
    assert desk.client.get(url).json()["mass"] == pytest.approx(
        volume * 7.2e-6
    )  # back to what the file says: gray iron


@pytest.mark.parametrize(
    ("body", "says"),
    [
        ({"designation": "steel S235", "density": 7.8}, "in the library already"),
        ({"designation": "  ", "density": 7.8}, "needs a designation"),
        ({"designation": "air", "density": 0.0012}, "cannot be"),
    ],
)
def test_a_material_that_cannot_be_is_refused(ann: Client, body: dict[str, Any], says: str) -> None:
    answer = post(ann, "/api/materials", body)
    assert answer.status_code == 422
    assert says in answer.json()["message"]


def test_materials_and_properties_stay_within_their_workspace(
    desk: Desk, bob: Client, bearing: Model
) -> None:
    made = post(desk.client, "/api/materials", {"designation": "moor ash", "density": 0.65}).json()
    assert "moor ash" not in json.dumps(bob.get("/api/materials").json())
    assert bob.delete(f"/api/materials/{made['id']}").status_code == 404
    assert (
        post(bob, f"/api/models/{bearing.pk}/properties", {"part": "part", "material": "oak"}).status_code
        == 404
    )
    assert bob.get(f"{desk.url}/views/front/lacking").status_code == 404
    assert (
        post(
            bob,
            f"{desk.url}/propose-annotation",
            {"tool": "center_mark", "view": "front", "pointer": {"x": 0, "y": 0}},
        ).status_code
        == 404
    )
    assert (Material.objects.count(), PartProperties.objects.count()) == (1, 0)
    assert (
        post(
            desk.client, f"/api/models/{bearing.pk}/properties", {"part": "none", "material": "oak"}
        ).status_code
        == 404
    )
