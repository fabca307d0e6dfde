"""Models that are in use before they are measured."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.test import Client

from drafting.child import KernelChild
from drafting.errors import ModelError
from drafting.model.step import read_model
from server.accounts.models import Workspace
from server.drawings.models import Drawing
from server.drawings.publishing import publish
from server.jobs.models import Job
from server.library import measuring
from server.library.facts import current_facts
from server.library.models import Model, PartProperties
from server.library.reading import read_into
from tests.server.conftest import post, state_of, upload

Work = Callable[[], int]
RODS = Path("/usr/share/opencascade/data/step/linkrods.step")


@pytest.fixture
def rods(ann: Client, queue: Work, monkeypatch: pytest.MonkeyPatch) -> Model:
    """A model of steel that is read, with its measuring still in the queue."""
    held: list[Any] = []
    begun = measuring.start
    monkeypatch.setattr(measuring, "start", lambda model, user: held.append((model, user)))
    job = upload(ann, "linkrods.step", RODS.read_bytes())
    queue()
    model = Model.objects.get(pk=state_of(ann, job).result["model"])
    monkeypatch.setattr(measuring, "start", begun)
    begun(*held[0])
    part = next(iter(current_facts(model)[1].parts))
    PartProperties.objects.create(model=model, part=part, material="steel S235")
    return model


def page(client: Client, model: Model) -> Any:
    return client.get(f"/api/models/{model.pk}").json()


def steel(model: Model) -> float:
    """kg at 7.85 g/cm3, by another reading of the file."""
    found = read_model(RODS, "rods").facts
    return sum((found.parts[i.part].volume or 0) for i in found.instances) * 7.85e-6


def test_masses_follow_when_the_model_is_there_already(ann: Client, queue: Work, rods: Model) -> None:
    before = page(ann, rods)
    assert (before["measured"], before["mass"]) == ("under way", None)
    assert [p["awaited"] for p in before["parts"]] == [True]
    assert Job.objects.get(kind="measure").state == Job.WAITING
    queue()
    after = page(ann, rods)
    assert after["measured"] == "yes"
    assert after["mass"] == pytest.approx(steel(rods), rel=1e-4)
    assert after["parts"][0]["volume"] > 0
    assert Job.objects.get(kind="measure").state == Job.DONE


def test_a_sheet_says_that_masses_are_to_come_and_files_wait_for_them(
    ann: Client, queue: Work, rods: Model
) -> None:
    started = post(ann, "/api/drawings", {"model": str(rods.pk)}).json()
    sheet = ann.get(f"/api/drawings/{started['id']}/sheets/{started['document']['sheets'][0]['id']}").json()
    assert sheet["unmeasured"]
    assert "not measured yet" in sheet["frame"]
    drawing = Drawing.objects.get(pk=started["id"])
    _, _, data = publish(drawing, "svg", [], lambda done, text: None)
    assert b"not measured yet" not in data
    assert not current_facts(rods)[1].unmeasured
    assert queue() > 0  # what was waiting finds nothing left to do
    assert page(ann, rods)["mass"] == pytest.approx(steel(rods), rel=1e-4)


def test_measuring_that_was_stopped_can_be_started_again(ann: Client, queue: Work, rods: Model) -> None:
    ann.delete(f"/api/jobs/{Job.objects.get(kind='measure').pk}")
    queue()
    assert page(ann, rods)["measured"] == "no"
    assert post(ann, f"/api/models/{rods.pk}/measure", {}).status_code == 202
    assert page(ann, rods)["measured"] == "under way"
    queue()
    assert page(ann, rods)["measured"] == "yes"


def test_what_the_kernel_cannot_measure_is_said_and_the_model_stays(
    ann: Client, queue: Work, rods: Model, monkeypatch: pytest.MonkeyPatch
) -> None:
    def fails(*_: Any, **__: Any) -> None:
        raise ModelError("The geometry kernel crashed on this file; nothing else is affected.")

    with monkeypatch.context() as broken:
        broken.setattr(KernelChild, "request", fails)
        queue()
    found = page(ann, rods)
    assert (found["measured"], found["mass"]) == ("no", None)
    assert any(note.endswith("Masses are unknown.") for note in found["notes"])
    post(ann, f"/api/models/{rods.pk}/measure", {})
    queue()
    found = page(ann, rods)
    assert found["measured"] == "yes"
    assert not found["notes"]


def test_a_model_removed_meanwhile_is_not_missed(ann: Client, queue: Work, rods: Model) -> None:
    ann.delete(f"/api/models/{rods.pk}")
    queue()
    assert not Job.objects.filter(kind="measure", state=Job.FAILED).exists()


def test_nobody_measures_anothers_model(bob: Client, rods: Model, office: Workspace) -> None:
    stranger = Client()
    assert post(stranger, f"/api/models/{rods.pk}/measure", {}).status_code in (401, 403)


def test_an_assembly_of_a_model_that_is_not_measured_is_measured_with_it(
    office: Workspace, rods: Model, tmp_path: Path
) -> None:
    Model.objects.filter(pk=rods.pk).update(number="LR-1")
    recipe = tmp_path / "pair.json"
    recipe.write_text(
        '{"moorcrest": "assembly", "version": 1, "name": "Pair", "parts": {"rod": {"model": "LR-1"}},'
        ' "instances": [{"id": "one", "part": "rod", "at": {"origin": [0, 0, 0]}},'
        ' {"id": "two", "part": "rod", "at": {"origin": [0, 0, 200]}}]}'
    )
    pair = current_facts(read_into(office, recipe.name, recipe))[1]
    assert not pair.unmeasured
    assert all(p.volume for p in pair.parts.values())
