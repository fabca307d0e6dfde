"""A model's next version, and a drawing brought along to it: what follows, what is asked, what is lost."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from drafting.model.assembly import build_model
from drafting.model.model import Model as Built
from drafting.model.recipe import validate_recipe
from drafting.model.step import write_model
from drafting.standards.house_style import built_in
from server.drawings.models import Drawing
from server.jobs.models import Job
from server.library.models import Model
from tests.core.conftest import demo_data
from tests.core.disguises import shuffled
from tests.server.conftest import CIRCLE, LENGTH, RECIPES, content, post, state_of, upload
from tests.server.test_api import Desk

Work = Callable[[], int]


def edited(**parameters: float) -> dict[str, Any]:
    """The bearing block with other parameters."""
    data: dict[str, Any] = demo_data("HB-204")
    assert set(parameters) <= set(data["parameters"])
    data["parameters"].update(parameters)
    return data


def step(data: dict[str, Any], folder: Path) -> bytes:
    """A recipe as a file that somebody else might have written: without its names, in another order."""
    built = build_model(validate_recipe(data))
    path = folder / "version.step"
    write_model(Built(built.facts, {k: shuffled(s) for k, s in built.shapes.items()}), path)
    return path.read_bytes()


def bring_in(client: Client, model: Model, name: str, data: bytes, queue: Work) -> Job:
    answer = client.post(f"/api/models/{model.pk}/versions", {"file": SimpleUploadedFile(name, data)})
    assert answer.status_code == 202, answer.content
    queue()
    return state_of(client, answer.json())


def drawn(sized: Desk) -> dict[str, Any]:
    answer = sized.client.get(f"{sized.url}/sheets/{sized.sheet['id']}")
    assert answer.status_code == 200, answer.content
    return {a["id"]: a for a in answer.json()["annotations"]}


def test_a_drawing_stays_where_it_is_until_it_is_brought_along_in_one_step(
    sized: Desk, bearing: Model, queue: Work, tmp_path: Path
) -> None:
    ann = sized.client
    assert ann.get(sized.url).json()["versions"] == [{"number": 1, "name": "1"}]
    job = bring_in(ann, bearing, "block as milled.step", step(edited(width=150), tmp_path), queue)
    assert (job.state, job.result["model"]) == (Job.DONE, str(bearing.pk))
    rows = ann.get(f"/api/models/{bearing.pk}/versions").json()
    assert [(r["number"], r["by"], r["share"], r["likely"]) for r in rows] == [
        (2, "Ann", 1.0, 0),
        (1, "", 1.0, 0),
    ]
    assert rows[1]["drawings"][0]["id"] == sized.state["id"]
    state = ann.get(sized.url).json()
    assert [v["number"] for v in state["versions"]] == [2, 1]
    assert state["document"]["shows"] == 1
    assert drawn(sized)["length"]["text"] == "140"

    told = ann.get(f"{sized.url}/along/2").json()
    assert [(d["before"][:3], d["after"][:3]) for d in told["differences"]] == [("140", "150")]
    assert (told["hanging"], told["follows"], told["warning"]) == ([], 2, "")
    address = f"{sized.url}/along/2/sheets/{sized.sheet['id']}"
    assert ann.get(address).status_code == 425  # its views are being derived
    queue()
    over = ann.get(address).json()
    assert ">140</text>" in over["gone"]
    assert ">150</text>" in over["new"]
    assert ">Ø52</text>" in over["same"]

    sized.edit(command="bring_along", to=2)
    assert {k: a["text"] for k, a in drawn(sized).items()} == {"length": "150", "bore": "Ø52"}
    assert ann.get(sized.url).json()["document"]["shows"] == 2
    sized.turn("undo")
    assert drawn(sized)["length"]["text"] == "140"
    assert Drawing.objects.get().shows == 1
    sized.turn("redo")
    assert drawn(sized)["length"]["text"] == "150"


def test_what_is_lost_keeps_its_place_and_hangs_on_again_where_it_is_pointed_to(
    sized: Desk, bearing: Model, queue: Work, tmp_path: Path
) -> None:
    ann = sized.client
    data = edited()
    for feature in data["features"]:
        if feature["id"] == "bore":
            feature.pop("counterbore")
    assert bring_in(ann, bearing, "plain.step", step(data, tmp_path), queue).state == Job.DONE
    told = ann.get(f"{sized.url}/along/2").json()
    ((lost,), follows) = told["hanging"], told["follows"]
    assert (lost["annotation"], lost["before"][:3], lost["after"], lost["held"], follows) == (
        "bore", "Ø52", "", "lost", 1,
    )  # fmt: skip
    sized.edit(command="bring_along", to=2)
    ghost = drawn(sized)["bore"]
    assert ">Ø52</text>" in ghost["svg"]  # as it was, on the desk
    assert ghost["missing"] == [{"instance": "part", "source": CIRCLE}]
    queue()
    answer = post(ann, f"{sized.url}/publish", {"format": "pdf"}).json()
    queue()
    refused = state_of(ann, answer).text
    assert refused.startswith("On sheet 1 1 thing has lost what it is on: hang that on again or remove it.")

    # a house style that only warns: the file lacks what is lost, and says so
    warns = {**sized.state["document"]["profile"], "lost_things": "warn"}
    style = {**built_in()[warns["key"]].model_dump(mode="json"), "profile": warns}
    sized.edit(command="take_style", id="", style=style)
    answer = post(ann, f"{sized.url}/publish", {"format": "svg"}).json()
    queue()
    result = state_of(ann, answer).result
    assert result["warning"].startswith("On sheet 1 1 thing has lost what it is on and is left out. ")
    assert "findings are open" in result["warning"]
    assert b"52</text>" not in content(ann.get(f"/api/jobs/{answer['id']}/file"))
    post(ann, f"{sized.url}/state", {"to": "check"})
    release = post(ann, f"{sized.url}/state", {"to": "released"}).json()
    queue()
    assert "has lost what it is on" in state_of(ann, release).text  # nothing is released so
    post(ann, f"{sized.url}/state", {"to": "work"})

    shape = ann.get(f"{sized.url}/sheets/{sized.sheet['id']}").json()["views"][0]["shape"]
    view = ann.get(f"{sized.url}/views/front/curves?key={shape}").json()
    rim = next(c for c in view["curves"] if c["source"].startswith("circle r20.000"))
    gone = {"instance": "part", "source": CIRCLE}
    line = {"instance": "part", "source": LENGTH}
    wrong = sized.send({"command": "rehang", "annotation": "bore", "lost": gone, "to": line})
    assert wrong.status_code == 422
    assert "cannot hang there" in wrong.json()["message"]
    home = {"instance": "part", "source": rim["source"]}
    sized.edit(command="rehang", annotation="bore", lost=gone, to=home)
    now = drawn(sized)["bore"]
    assert (now["lost"], now["missing"]) == ("", [])
    assert now["text"] == "Ø40"


def test_what_cannot_be_a_version_is_said_in_one_sentence_and_nothing_is_lost(
    sized: Desk, bearing: Model, bob: Client, queue: Work, tmp_path: Path
) -> None:
    ann = sized.client
    frame = bring_in(ann, bearing, "HB-200.json", (RECIPES / "HB-200.json").read_bytes(), queue)
    assert frame.state == Job.FAILED
    empty = ann.post(f"/api/models/{bearing.pk}/versions", {"file": SimpleUploadedFile("empty.step", b"")})
    assert empty.status_code == 422
    assert bearing.versions.count() == 1
    assert bob.get(f"/api/models/{bearing.pk}/versions").status_code == 404
    url = f"/api/models/{bearing.pk}/versions"
    assert bob.post(url, {"file": SimpleUploadedFile("x.json", b"{}")}).status_code == 404

    other = bring_in(ann, bearing, "HB-214.json", (RECIPES / "HB-214.json").read_bytes(), queue)
    assert other.state == Job.DONE
    newest = ann.get(url).json()[0]
    assert "may be another part altogether" in newest["warning"]
    assert "The file is in inches; the earlier one was in millimeters." in newest["said"]
    told = ann.get(f"{sized.url}/along/2").json()
    assert told["warning"] == newest["warning"]
    assert {h["held"] for h in told["hanging"]} == {"lost"}
    assert drawn(sized)["length"]["text"] == "140"
    sized.edit(command="bring_along", to=2)
    assert "bring it back" in ann.delete(f"{url}/2").json()["message"]
    sized.turn("undo")
    assert [r["number"] for r in ann.delete(f"{url}/2").json()] == [1]
    bearing.refresh_from_db()
    assert bearing.units == "mm"
    assert sized.send({"command": "bring_along", "to": 2}).status_code == 422
    again = post(ann, f"{sized.url}/redo", {"version": ann.get(sized.url).json()["version"]})
    assert "taken back" in again.json()["message"]
    assert post(ann, f"{url}/1/label", {"label": " as quoted "}).json()[0]["label"] == "as quoted"


def test_a_file_that_came_in_by_itself_becomes_the_version_of_the_model_with_its_number(
    sized: Desk, bearing: Model, queue: Work
) -> None:
    ann = sized.client
    job = upload(ann, "block.json", json.dumps(edited(width=150)).encode())
    queue()
    result = state_of(ann, job).result
    assert result["like"] == str(bearing.pk)
    answer = post(ann, f"/api/models/{bearing.pk}/versions/adopt", {"fresh": result["model"]})
    assert answer.status_code == 202
    queue()
    assert state_of(ann, answer.json()).state == Job.DONE
    assert [m.pk for m in Model.objects.all()] == [bearing.pk]
    assert ann.get(f"/api/models/{bearing.pk}/versions").json()[0]["said"][0] == "width: 140 → 150"
    sized.edit(command="bring_along", to=2)
    assert drawn(sized)["length"]["text"] == "150"
