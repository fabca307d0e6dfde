"""Pictures and drawings of old: brought in, placed, shown, and nobody else's."""

import hashlib
import io
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from PIL import Image

from server.accounts.models import Workspace
from server.drawings.models import PlacedFile
from server.jobs import sweeping
from server.jobs.models import Job
from server.library.models import Blob, Model
from tests.server.conftest import post


def png() -> bytes:
    out = io.BytesIO()
    Image.new("RGB", (60, 30), (10, 120, 200)).save(out, "PNG")
    return out.getvalue()


def old_dxf(folder: Path) -> bytes:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 4
    space = document.modelspace()
    space.add_line((0, 0), (80, 0))
    space.add_circle((40, 20), 9, {"layer": "HOLES"})
    document.saveas(folder / "old.dxf")
    return (folder / "old.dxf").read_bytes()


Send = Callable[..., Any]


@pytest.fixture
def drawing(ann: Client, bearing: Model) -> Any:
    return post(ann, "/api/drawings", {"model": str(bearing.pk)}).json()


@pytest.fixture
def bring(ann: Client, drawing: Any, queue: Callable[[], int]) -> Send:
    def send(name: str, data: bytes, client: Client = ann) -> Any:
        answer = client.post(f"/api/drawings/{drawing['id']}/files", {"file": SimpleUploadedFile(name, data)})
        if answer.status_code != 202:
            return answer
        queue()
        return Job.objects.get(pk=answer.json()["id"])

    return send


def place(client: Client, drawing: Any, annotation: dict[str, Any]) -> Any:
    now = client.get(f"/api/drawings/{drawing['id']}").json()
    command = {
        "command": "place",
        "annotations": [annotation],
        "sheet": now["document"]["sheets"][0]["id"],
        "known": "refuse",
    }
    body = {"version": now["version"], "command": command}
    return post(client, f"/api/drawings/{drawing['id']}/commands", body)


def picture_of(key: str) -> dict[str, Any]:
    return {"kind": "picture", "id": "p", "anchor": {"on": "sheet"}, "file": key, "wide": 60, "high": 30} | {
        "position": {"x": 90, "y": 90}
    }


def test_a_picture_is_brought_in_placed_and_shown(
    ann: Client, drawing: Any, bring: Send, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sweeping, "close_old_connections", lambda: None)
    job = bring("logo.png", png())
    assert (job.state, job.result["kind"], job.result["wide"]) == ("done", "picture", "60")
    key = job.result["file"]
    assert place(ann, drawing, picture_of(key)).status_code == 200
    page = ann.get(f"/api/drawings/{drawing['id']}").json()
    sheet = ann.get(f"/api/drawings/{drawing['id']}/sheets/{page['document']['sheets'][0]['id']}").json()
    (drawn,) = [a for a in sheet["annotations"] if a["id"] == "p"]
    assert f"/api/drawings/{drawing['id']}/files/{key}" in drawn["svg"]
    assert drawn["below"]
    answer = ann.get(f"/api/drawings/{drawing['id']}/files/{key}")
    assert answer["Content-Type"] == "image/png"
    assert hashlib.sha256(answer.content).hexdigest() == key
    Blob.objects.filter(pk=key).update(used="2020-01-01T00:00:00Z")
    sweeping.sweep()
    assert Blob.objects.filter(pk=key).exists()


def test_an_underlay_is_read_and_shown_as_picture_and_as_lines(
    ann: Client, drawing: Any, bring: Send, tmp_path: Path
) -> None:
    job = bring("old.dxf", old_dxf(tmp_path))
    assert (job.result["kind"], job.result["unit"], job.result["pieces"]) == ("underlay", "mm", "2")
    key = job.result["file"]
    at = f"/api/drawings/{drawing['id']}/underlays"
    page = ann.get(f"{at}/{key}").json()
    assert (page["wide"], page["high"], page["layers"]) == (80, 29, ["0", "HOLES"])
    with Image.open(io.BytesIO(ann.get(f"{at}/{key}/picture").content)) as whole:
        assert whole.mode == "LA"
        dark = sum(whole.getchannel("A").histogram()[128:])
    with Image.open(io.BytesIO(ann.get(f"{at}/{key}/picture?off=HOLES").content)) as less:
        assert 0 < sum(less.getchannel("A").histogram()[128:]) < dark
    annotation = {"kind": "underlay", "id": "u", "anchor": {"on": "sheet"}, "file": key}
    assert place(ann, drawing, annotation | {"position": {"x": 50, "y": 60}}).status_code == 200
    box = "left=0&bottom=0&right=300&top=300"
    found = ann.get(f"{at}/u/window?{box}").json()
    assert sorted((c["kind"], c["data"][:3]) for c in found["curves"]) == [
        ("arc", [90, 80, 9]),
        ("line", [50, 60, 130]),
    ]
    assert {p["kind"] for p in found["points"]} == {"end", "center"}
    assert ann.get(f"{at}/nothing/window?{box}").status_code == 404


def test_what_is_another_office_s_is_neither_shown_nor_placed(
    ann: Client, bob: Client, drawing: Any, bring: Send
) -> None:
    key = bring("logo.png", png()).result["file"]
    assert bob.get(f"/api/drawings/{drawing['id']}/files/{key}").status_code == 404
    assert bring("logo.png", png(), client=bob).status_code == 404
    PlacedFile.objects.update(workspace=Workspace.objects.get(name="Second office"))
    assert ann.get(f"/api/drawings/{drawing['id']}/files/{key}").status_code == 404
    refused = place(ann, drawing, picture_of(key))
    assert refused.status_code == 422
    assert refused.json()["message"] == "That file is not in this workspace; bring it in first."


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.svg", b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "holds a script element"),
        ("a.png", b"\x89PNG\r\n\x1a\n" + b"\0" * 90, "no PNG, JPEG or SVG"),
        ("a.dxf", b"0\nSECTION\n2\nHEADER\n0\nENDSEC", "damaged or cut short"),
    ],
)
def test_hostile_files_end_in_a_sentence(bring: Send, name: str, data: bytes, words: str) -> None:
    job = bring(name, data)
    assert job.state == "failed"
    assert words in job.text
    assert not PlacedFile.objects.exists()


def test_a_file_of_another_kind_is_refused_at_once(bring: Send) -> None:
    answer = bring("a.exe", b"MZ")
    assert answer.status_code == 422
    assert "neither" in answer.json()["message"]
