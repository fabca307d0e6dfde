"""A drawing's way from work to release and on: states, roles, files that stay the same, comparison."""

import datetime
import hashlib
import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import openpyxl
import pypdf
import pytest
from django.contrib.auth import get_user_model
from django.test import Client
from django.utils import timezone

from drafting.model.step import read_model
from drafting.standards.house_style import built_in
from server.accounts.models import Membership, Workspace
from server.drawings import publishing
from server.drawings.models import Drawing, Release
from server.jobs import sweeping
from server.jobs.models import Job
from server.library.facts import current_facts
from server.library.models import Blob, Model
from tests.server.conftest import PASSWORD, content, logged_in, post, state_of
from tests.server.test_api import Desk
from tests.server.test_versions import drawn

Work = Callable[[], int]


def joined(office: Workspace, name: str, role: str) -> Client:
    user = get_user_model().objects.create_user(name, password=PASSWORD, first_name=name.title())
    Membership.objects.create(user=user, workspace=office, role=role)
    return logged_in(name)


@pytest.fixture
def cara(office: Workspace) -> Client:
    return joined(office, "cara", Membership.CHECKER)


@pytest.fixture
def rob(office: Workspace) -> Client:
    return joined(office, "rob", Membership.READER)


def bring(client: Client, desk: Desk, to: str, note: str = "", mark: str = "") -> Any:
    return post(client, f"{desk.url}/state", {"to": to, "note": note, "mark": mark})


def released(client: Client, sized: Desk, queue: Work) -> Job:
    queue()
    answer = bring(client, sized, "released")
    assert answer.status_code == 202, answer.content
    queue()
    return state_of(client, answer.json())


def page(client: Client, desk: Desk) -> Any:
    return client.get(f"{desk.url}/revisions").json()


def test_a_drawing_is_checked_released_and_opened_again_as_the_next_revision(
    sized: Desk, cara: Client, queue: Work, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    ann = sized.client
    assert page(ann, sized)["may"] == ["check"]
    assert bring(ann, sized, "released").status_code == 422  # nobody has looked at it
    assert bring(ann, sized, "check", "for the shop").status_code == 200
    refused = sized.send({"command": "change_fields", "fields": {"title": "other"}})
    assert refused.json()["message"] == "The drawing is for check; take it back to work to change it."
    assert released(cara, sized, queue).state == Job.DONE
    now = page(ann, sized)
    assert (now["state"], now["mark"], now["next"]) == ("released", "A", "B")
    assert [c["state"] for c in now["changes"]] == ["released", "check"]
    fields = ann.get(sized.url).json()["document"]["fields"]
    assert (fields["approved_by"], fields["revision"]) == ("Cara", "A")

    # the files are what they were, whenever they are asked for, and whatever is said of the part
    (one,) = now["releases"]
    kept = {}
    for f in one["files"]:
        data = content(ann.get(f"{sized.url}/releases/A/files/{f['kind']}"))
        assert (hashlib.sha256(data).hexdigest(), len(data)) == (f["sha256"], f["size"])
        kept[f["kind"]] = data
    words = pypdf.PdfReader(io.BytesIO(kept["pdf"])).pages[0].extract_text()
    assert "Cara" in words
    texts = ezdxf.read(io.StringIO(kept["dxf"].decode())).query("INSERT DIMENSION TEXT MTEXT")
    assert len(texts) > 2
    sizes = [row[2].value for row in openpyxl.load_workbook(io.BytesIO(kept["sizes"])).active.iter_rows()]  # type: ignore[union-attr]
    assert len(sizes) == 3
    (tmp_path / "released.step").write_bytes(kept["step"])
    (part,) = read_model(tmp_path / "released.step", "released").facts.parts.values()
    (shown,) = current_facts(Model.objects.get())[1].parts.values()
    assert part.volume == pytest.approx(shown.volume, rel=1e-6)
    model = Model.objects.get()
    post(ann, f"/api/models/{model.pk}/properties", {"part": "part", "material": "bronze CuSn8"})
    assert content(ann.get(f"{sized.url}/releases/A/files/pdf")) == kept["pdf"]
    assert "bronze" not in ann.get(f"{sized.url}/sheets/{sized.sheet['id']}").json()["frame"]
    assert post(ann, f"{sized.url}/undo", {"version": Drawing.objects.get().version}).status_code == 422

    assert ann.delete(sized.url).json()["message"].startswith("Released revisions of HB-204")
    Blob.objects.update(used=timezone.now() - datetime.timedelta(days=3))
    monkeypatch.setattr(sweeping, "close_old_connections", lambda: None)
    sweeping.sweep()
    assert content(ann.get(f"{sized.url}/releases/A/files/dxf")) == kept["dxf"]
    assert page(ann, sized)["state"] == "released"

    # a new revision opens it
    assert bring(ann, sized, "work").json()["message"] == "Say in a few words what the revision changes."
    assert bring(ann, sized, "work", "longer foot").json()["mark"] == "B"
    document = ann.get(sized.url).json()["document"]
    assert (document["fields"]["revision"], document["fields"]["approved_by"]) == ("B", "")
    assert [(r["mark"], r["description"], r["by"]) for r in document["revisions"]] == [
        ("B", "longer foot", "Ann")
    ]
    assert "bronze" in ann.get(f"{sized.url}/sheets/{sized.sheet['id']}").json()["frame"]
    (table,) = [a for a in drawn(sized).values() if a["text"] == "1 revision"]
    assert "longer foot" in table["svg"]
    undo = post(ann, f"{sized.url}/undo", {"version": Drawing.objects.get().version})
    assert undo.json()["message"] == "There is nothing to undo."


def test_two_revisions_are_compared_in_words_on_the_sheet_and_in_a_file(
    sized: Desk,
    queue: Work,
) -> None:
    ann = sized.client
    bring(ann, sized, "check")
    assert released(ann, sized, queue).state == Job.DONE
    bring(ann, sized, "work", "no bore")
    sized.state = sized.client.get(sized.url).json()
    sized.edit(command="remove", ids=["bore"])
    sized.edit(command="change", ids=["length"], values={"tolerance": {"form": "equal", "upper": 0.2}})
    found = ann.get(f"{sized.url}/compare?before=A").json()
    told = {
        d["annotation"]: (d["change"], d["before"], d["after"])
        for d in found["differences"]
        if d["annotation"]
    }
    assert told["bore"][:2] == ("removed", "Ø52 (general ±0,3)")
    assert told["length"] == ("changed", "140 (general ±0,5)", "140 ±0,2")
    queue()
    over = ann.get(f"{sized.url}/compare/sheets/{sized.sheet['id']}?before=A").json()
    assert ">Ø52</text>" in over["gone"]
    assert ">140 ±0,2</text>" in over["new"]
    clouds = ann.get(f"{sized.url}/clouds?before=A").json()["sheets"][sized.sheet["id"]]
    assert len(clouds) == 2
    assert {c["mark"] for c in clouds} == {"B"}
    sized.edit(command="place", annotations=clouds, sheet=sized.sheet["id"])
    again = ann.get(f"{sized.url}/clouds?before=A").json()["sheets"][sized.sheet["id"]]
    assert len(again) == 2  # the clouds are no change themselves
    answer = ann.get(f"{sized.url}/compare.pdf?before=A")
    words = [" ".join(p.extract_text().split()) for p in pypdf.PdfReader(io.BytesIO(answer.content)).pages]
    assert len(words) == 2
    assert "Ø52" in words[0]
    assert "140 (general ±0,5) → 140 ±0,2" in words[1]
    assert "cloud" not in words[1]
    assert (
        ann.get(f"{sized.url}/compare?before=Q").json()["message"]
        == "Revision Q of HB-204 Bearing block was never released."
    )


def test_roles_say_who_may(sized: Desk, cara: Client, rob: Client, office: Workspace, queue: Work) -> None:
    ann = sized.client
    edit = {"version": 1, "command": {"command": "change_fields", "fields": {"title": "x"}}}
    for client, role in ((rob, "reader"), (cara, "checker")):
        answer = post(client, f"{sized.url}/commands", edit)
        assert answer.status_code == 403
        assert answer.json()["message"].startswith(f"As a {role} of First office you cannot")
        assert client.get(sized.url).status_code == 200
        assert post(client, "/api/drawings", {"model": str(Model.objects.get().pk)}).status_code == 403
        assert client.delete(sized.url).status_code == 403
    assert bring(rob, sized, "check").status_code == 403
    assert bring(ann, sized, "check").status_code == 200
    assert bring(rob, sized, "released").status_code == 403
    assert bring(cara, sized, "work", "the bore is too small").status_code == 200
    assert page(ann, sized)["changes"][0]["note"] == "the bore is too small"

    # a role taken away while its owner edits
    dan = joined(office, "dan", Membership.DRAFTER)
    theirs = Desk.__new__(Desk)
    theirs.client, theirs.state = dan, dan.get(sized.url).json()
    theirs.edit(command="change_fields", fields={"title": "Block"})
    Membership.objects.filter(user__username="dan").update(role=Membership.READER)
    assert theirs.send({"command": "change_fields", "fields": {"title": "x"}}).status_code == 403
    Membership.objects.filter(user__username="dan").delete()
    assert theirs.send({"command": "change_fields", "fields": {"title": "x"}}).status_code == 404
    assert ann.get(sized.url).json()["document"]["fields"]["title"] == "Block"


def test_two_who_release_at_once_release_once_and_a_change_meanwhile_stops_it(
    sized: Desk,
    cara: Client,
    queue: Work,
) -> None:
    ann = sized.client
    bring(ann, sized, "check")
    queue()
    jobs = [bring(client, sized, "released").json() for client in (ann, cara)]
    queue()
    states = [state_of(ann, j) for j in jobs]
    assert sorted(j.state for j in states) == [Job.DONE, Job.FAILED]
    assert "was released already" in next(j for j in states if j.state == Job.FAILED).text
    assert Release.objects.count() == 1
    model = Model.objects.get()
    assert ann.delete(f"/api/models/{model.pk}").status_code == 409  # a released drawing shows it
    assert bring(ann, sized, "withdrawn").status_code == 200
    bring(ann, sized, "work", "once more", "D")
    assert page(ann, sized)["mark"] == "D"
    bring(ann, sized, "check")
    job = bring(ann, sized, "released").json()
    bring(ann, sized, "work")
    sized.state = sized.client.get(sized.url).json()
    sized.edit(command="change_fields", fields={"title": "Block"})
    queue()
    assert "meanwhile" in state_of(ann, job).text
    assert Release.objects.count() == 1


def test_what_is_said_of_a_part_while_files_are_written_stops_the_release(
    sized: Desk, queue: Work, monkeypatch: pytest.MonkeyPatch
) -> None:
    ann, model = sized.client, Model.objects.get()
    written = publishing.publish

    def meanwhile(*args: Any) -> Any:
        post(ann, f"/api/models/{model.pk}/properties", {"part": "part", "material": "bronze CuSn8"})
        return written(*args)

    bring(ann, sized, "check")
    queue()
    monkeypatch.setattr(publishing, "publish", meanwhile)
    job = bring(ann, sized, "released").json()
    queue()
    assert "was changed while it was being released" in state_of(ann, job).text
    assert not Release.objects.exists()
    assert page(ann, sized)["state"] == "check"


def test_a_release_of_several_sheets_is_a_zip_of_drawings(sized: Desk, queue: Work) -> None:
    sized.edit(command="add_sheet")
    bring(sized.client, sized, "check")
    released(sized.client, sized, queue)
    data = content(sized.client.get(f"{sized.url}/releases/A/files/dxf"))
    assert len(zipfile.ZipFile(io.BytesIO(data)).namelist()) == 2


def test_a_pdf_to_be_kept_has_the_model_and_the_data_within_it_and_goes_with_a_release_by_choice(
    sized: Desk, cara: Client, queue: Work, tmp_path: Path
) -> None:
    ann, profile = sized.client, sized.state["document"]["profile"]
    queue()
    job = post(ann, f"{sized.url}/publish", {"format": "pdfa"}).json()
    queue()
    assert state_of(ann, job).state == Job.DONE
    reader = pypdf.PdfReader(io.BytesIO(content(ann.get(f"/api/jobs/{job['id']}/file"))))
    held = {name: data[0] for name, data in reader.attachments.items()}
    step, data = sorted(held, key=lambda name: name.endswith(".json"))
    (tmp_path / "held.step").write_bytes(held[step])
    (part,) = read_model(tmp_path / "held.step", "held").facts.parts.values()
    (shown,) = current_facts(Model.objects.get())[1].parts.values()
    assert part.volume == pytest.approx(shown.volume, rel=1e-6)
    assert json.loads(held[data])["sheets"][0]["annotations"][0]["id"] == "length"
    assert "140" in reader.pages[0].extract_text()

    style = built_in()[profile["key"]].model_dump(mode="json")
    style = {**style, "profile": {**profile, "release_archive": True}}
    sized.edit(command="take_style", id="", style=style)
    bring(ann, sized, "check")
    assert released(cara, sized, queue).state == Job.DONE
    (one,) = page(ann, sized)["releases"]
    assert {f["kind"] for f in one["files"]} == {"pdf", "pdfa", "dxf", "svg", "step", "sizes"}
    kept = pypdf.PdfReader(io.BytesIO(content(ann.get(f"{sized.url}/releases/A/files/pdfa"))))
    assert set(kept.attachments) == {step, data}
    assert "Cara" in kept.pages[0].extract_text()
