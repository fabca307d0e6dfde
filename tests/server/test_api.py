"""The API on the real database: reading, drawing, sizing, publishing, two people, two offices, bad files."""

import io
import json
import os
import signal
import subprocess
import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

import ezdxf
import jsonpatch
import pypdf
import pytest
from django.test import Client

from drafting.child import KernelChild
from drafting.views.orientation import PRINCIPAL
from server.drawings.models import DerivedView, Drawing, LogEntry
from server.jobs.models import Job
from server.library.models import Blob, Model
from tests.server.conftest import PASSWORD, RECIPES, post, state_of, upload

SCREW = Path("/usr/share/opencascade/data/step/screw.step")
FRONT = PRINCIPAL["front"].model_dump()
pytestmark = pytest.mark.django_db
Work = Callable[[], int]


class Desk:
    """A drawing as one client edits it."""

    def __init__(self, client: Client, model: Model) -> None:
        self.client = client
        self.take(post(client, "/api/drawings", {"model": str(model.pk)}), 201)

    def take(self, answer: Any, status: int = 200) -> "Desk":
        """The state after an answer: a whole drawing, or the patch that leads to it."""
        assert answer.status_code == status, answer.content
        now = answer.json()
        if "patch" in now:
            now = {
                **self.state,
                **now,
                "document": jsonpatch.apply_patch(self.state["document"], now.pop("patch")),
            }
        self.state = now
        return self

    @property
    def url(self) -> str:
        return f"/api/drawings/{self.state['id']}"

    @property
    def sheet(self) -> dict[str, Any]:
        return self.state["document"]["sheets"][0]

    def send(self, command: dict[str, Any], version: int | None = None) -> Any:
        return post(
            self.client,
            f"{self.url}/commands",
            {"version": version or self.state["version"], "command": command},
        )

    def edit(self, **command: Any) -> "Desk":
        return self.take(self.send(command))

    def turn(self, way: str) -> "Desk":
        return self.take(post(self.client, f"{self.url}/{way}", {"version": self.state["version"]}))

    def main(self) -> "Desk":
        return self.edit(
            command="place_main_view",
            id="front",
            sheet=self.sheet["id"],
            orientation=FRONT,
            position={"x": 130, "y": 200},
        )


@pytest.fixture
def desk(ann: Client, bearing: Model, queue: Work) -> Desk:
    return Desk(ann, bearing)


def test_a_step_file_becomes_a_model_with_progress_and_a_drawing_named_after_it(
    ann: Client, queue: Work
) -> None:
    job = upload(ann, "screw.step", SCREW.read_bytes())
    assert job["state"] == "waiting"
    assert ann.get("/api/jobs").json()[0]["subject"] == "screw.step"
    assert queue() == 1
    row = state_of(ann, job)
    assert (row.state, row.progress) == (Job.DONE, 1.0)
    page = ann.get(f"/api/models/{row.result['model']}").json()
    assert (page["name"], page["kind"], page["units"]) == ("screw", "part", "mm")
    assert page["size"] == pytest.approx([19.843, 20.0, 42.295], abs=2e-3)
    assert ann.get(f"/api/models/{row.result['model']}/preview.glb").content[:4] == b"glTF"
    drawing = Desk(ann, Model.objects.get()).state
    assert drawing["document"]["name"] == "screw"
    assert drawing["document"]["profile"]["key"] == "iso-mm"
    assert drawing["document"]["fields"]["drawn_by"] == "Ann"


def test_views_are_derived_by_the_worker_and_inked(desk: Desk, queue: Work) -> None:
    desk.main()
    sheet_url = f"{desk.url}/sheets/{desk.sheet['id']}"
    before = desk.client.get(sheet_url).json()
    assert before["views"][0]["state"] == "waiting"
    assert desk.client.get(f"{desk.url}/views/front/ink").status_code == 425
    assert queue() >= 1
    view = desk.client.get(sheet_url).json()["views"][0]
    assert view["state"] == "ready"
    ink = desk.client.get(f"{desk.url}/views/front/ink?key={view['ink']}")
    assert "immutable" in ink["Cache-Control"]
    assert ink.json()["high"] == pytest.approx([70, 49])
    curves = desk.client.get(f"{desk.url}/views/front/curves?key={view['shape']}")
    assert "immutable" in curves["Cache-Control"]
    assert len(curves.json()["curves"]) > 20
    desk.edit(command="change_view", view="front", hidden_lines=False)
    assert desk.client.get(sheet_url).json()["views"][0]["ink"] != view["ink"]
    assert DerivedView.objects.count() == 1  # the same geometry serves both


def test_sizes_are_previewed_placed_moved_and_measured(desk: Desk) -> None:
    desk.main()
    ask = {
        "tool": "size",
        "view": "front",
        "picks": [
            {
                "instance": "part",
                "source": "base/side.bottom|base/start",
                "role": "edge",
                "at": {"x": 0, "y": -49},
            }
        ],
    }
    answer = post(
        desk.client, f"{desk.url}/propose-annotation", {**ask, "pointer": {"x": 131, "y": 140.4}}
    ).json()
    assert (answer["texts"], answer["name"]) == (["140"], "Length")
    (size,) = answer["annotations"]
    assert size["place"]["paper"]["y"] == -10  # caught by the first row
    desk.edit(command="place", annotations=[size])
    drawn = desk.client.get(f"{desk.url}/sheets/{desk.sheet['id']}").json()["annotations"]
    assert drawn[0]["text"] == "140"
    assert ">140</text>" in drawn[0]["svg"]
    dragged = post(
        desk.client, f"{desk.url}/drag", {"id": size["id"], "pointer": {"x": 131, "y": 134}}
    ).json()
    desk.edit(command="move", moves=[{"id": size["id"], "place": dragged["annotations"][0]["place"]}])
    desk.edit(command="change", ids=[size["id"]], values={"wording": {"places": 2}})
    assert (
        desk.client.get(f"{desk.url}/sheets/{desk.sheet['id']}").json()["annotations"][0]["text"] == "140,00"
    )
    crown = {
        "instance": "part",
        "source": "base/side.bottom|bore/counterbore",
        "role": "edge",
        "at": {"x": 0, "y": 0},
    }
    ask = {"tool": "size", "view": "front", "picks": [crown], "pointer": {"x": 200, "y": 260}}
    circle = post(desk.client, f"{desk.url}/propose-annotation", ask).json()
    assert (circle["texts"], circle["annotations"][0]["kind"]) == (["Ø52"], "diameter")
    wrong = post(
        desk.client,
        f"{desk.url}/propose-annotation",
        {
            "tool": "size",
            "view": "front",
            "picks": [{**crown, "source": "none"}],
            "pointer": {"x": 0, "y": 0},
        },
    )
    assert wrong.status_code == 422
    assert "no longer in the model" in wrong.json()["message"]
    lost = {
        **size,
        "id": "x",
        "anchor": {"on": "view", "view": "front", "picks": [{"instance": "part", "source": "none"}]},
    }
    assert desk.send({"command": "place", "annotations": [lost]}).status_code == 422


def test_undo_and_redo_walk_the_log_and_survive_reopening(desk: Desk) -> None:
    start = desk.state["document"]
    desk.main()
    placed = desk.state["document"]
    desk.edit(command="change_fields", fields={"title": "Block, bored"})
    assert Drawing.objects.get().name == "Block, bored"
    card = desk.client.get("/api/drawings").json()[0]
    assert (card["name"], card["open"]) == ("Block, bored", 0)  # nothing of the title block is blank
    desk.turn("undo").turn("undo")
    assert desk.client.get("/api/drawings").json()[0]["open"] == 1  # no view yet
    assert desk.state["document"] == start
    assert (desk.state["can_undo"], desk.state["can_redo"]) == (False, True)
    again = desk.client.get(desk.url).json()
    assert again["can_redo"] is True
    desk.turn("redo")
    assert desk.state["document"] == placed
    desk.edit(command="change_fields", fields={"title": "Other"})
    assert desk.state["can_redo"] is False  # what was undone is gone once something new is done
    assert LogEntry.objects.count() == 2
    assert post(desk.client, f"{desk.url}/redo", {"version": desk.state["version"]}).status_code == 422


def test_two_people_on_one_drawing_the_second_is_told_and_nothing_is_lost(desk: Desk) -> None:
    old = desk.state["version"]
    desk.main()
    late = desk.send({"command": "change_fields", "fields": {"title": "Mine"}}, version=old)
    assert late.status_code == 409
    assert "Ann has changed this drawing meanwhile" in late.json()["message"]
    assert late.json()["state"]["document"] == desk.state["document"]
    assert Drawing.objects.get().version == desk.state["version"]


def test_another_offices_things_do_not_exist(desk: Desk, bob: Client, queue: Work) -> None:
    desk.main()
    model, sheet = desk.state["model"], desk.sheet["id"]
    job = post(desk.client, f"{desk.url}/publish", {"format": "svg"}).json()
    desk.client.get(f"/api/models/{model}/thumbnail.svg")
    queue()
    for url in (
        desk.url,
        f"{desk.url}/sheets/{sheet}",
        f"{desk.url}/views/front/ink",
        f"{desk.url}/views/front/curves",
        f"{desk.url}/thumbnail.svg",
        f"/api/models/{model}",
        f"/api/models/{model}/preview.glb",
        f"/api/models/{model}/thumbnail.svg",
        f"/api/jobs/{job['id']}",
        f"/api/jobs/{job['id']}/file",
    ):
        assert desk.client.get(url).status_code == 200, url
        assert bob.get(url).status_code == 404, url
        assert Client().get(url).status_code == 401, url
    ask = {"version": desk.state["version"]}
    for url, body in (
        (f"{desk.url}/commands", {**ask, "command": {"command": "change_fields", "fields": {}}}),
        (f"{desk.url}/undo", ask),
        (f"{desk.url}/redo", ask),
        (f"{desk.url}/publish", {"format": "pdf"}),
        ("/api/drawings", {"model": model}),
        (f"{desk.url}/preview", {"view": "front", "picks": [], "pointer": {"x": 0, "y": 0}}),
        (f"/api/models/{model}/step", {}),
        (f"{desk.url}/replace", {"id": "d", "pointer": {"x": 0, "y": 0}}),
        (f"{desk.url}/propose", {"command": {"command": "change_fields", "fields": {}}}),
    ):
        assert post(bob, url, body).status_code == 404, url
    assert bob.delete(desk.url).status_code == 404
    assert bob.delete(f"/api/models/{model}").status_code == 404
    assert (
        bob.get("/api/drawings").json() == bob.get("/api/models").json() == bob.get("/api/jobs").json() == []
    )
    assert Drawing.objects.count() == 1


@pytest.mark.parametrize(
    ("name", "data", "says"),
    [
        ("zeros.step", b"\0" * 300_000, "not a STEP file"),
        ("letter.step", b"dear all", "not a STEP file"),
        ("empty.step", b"", "empty"),
        ("cut.step", SCREW.read_bytes()[:9000], "cut short"),
        ("broken.json", b"{", "not valid JSON"),
        ("odd.json", b'{"moorcrest": "part", "version": 7}', "wrong at"),
    ],
)
def test_bad_files_fail_with_one_sentence_and_keep_nothing(
    ann: Client, queue: Work, name: str, data: bytes, says: str
) -> None:
    job = upload(ann, name, data)
    queue()
    row = state_of(ann, job)
    assert row.state == Job.FAILED
    assert says in row.text
    assert not Model.objects.exists()
    assert ann.delete(f"/api/jobs/{job['id']}").status_code == 204


def test_200_megabytes_of_zeros_are_refused_without_being_kept(
    ann: Client, queue: Work, tmp_path: Path, settings: Any
) -> None:
    settings.FILE_UPLOAD_TEMP_DIR = str(tmp_path)
    zeros = tmp_path / "zeros.step"
    with zeros.open("wb") as file:
        file.truncate(200 * 1024 * 1024)
    with zeros.open("rb") as file:
        job = ann.post("/api/models", {"file": file}).json()
    assert job["state"] == "failed"
    assert "not a STEP file" in job["text"]
    assert [p.name for p in tmp_path.iterdir()] == ["zeros.step"]  # nor left in the folder for uploads
    settings.UPLOAD_LIMIT = 1000
    with SCREW.open("rb") as file:
        answer = ann.post("/api/models", {"file": file})
    assert answer.status_code == 413
    assert "the most that can be brought in" in answer.json()["message"]
    assert not Blob.objects.exists()


def test_a_file_that_kills_the_kernel_fails_alone(
    ann: Client, queue: Work, monkeypatch: pytest.MonkeyPatch
) -> None:
    request = KernelChild.request

    def killed(self: KernelChild, operation: str, seconds: float, progress: Any, **more: Any) -> Any:
        def strike(done: float, text: str) -> None:
            progress(done, text)
            os.kill(self.pid or 0, signal.SIGKILL)

        return request(self, operation, seconds, strike, **more)

    monkeypatch.setattr(KernelChild, "request", killed)
    job = upload(ann, "screw.step", SCREW.read_bytes())
    queue()
    assert "crashed on this file" in state_of(ann, job).text
    monkeypatch.undo()


def test_published_files_open_and_say_the_sizes(desk: Desk, queue: Work) -> None:
    desk.main()
    ask = {
        "tool": "size",
        "view": "front",
        "picks": [
            {
                "instance": "part",
                "source": "base/side.bottom|base/start",
                "role": "edge",
                "at": {"x": 0, "y": 0},
            }
        ],
    }
    found = post(
        desk.client, f"{desk.url}/propose-annotation", {**ask, "pointer": {"x": 130, "y": 140}}
    ).json()
    desk.edit(command="place", annotations=found["annotations"])
    files = {}
    for kind in ("pdf", "svg", "dxf"):
        job = post(desk.client, f"{desk.url}/publish", {"format": kind}).json()
        queue()
        row = state_of(desk.client, job)
        assert row.state == Job.DONE, row.text
        answer = desk.client.get(f"/api/jobs/{job['id']}/file")
        assert answer["Content-Disposition"] == f'attachment; filename="HB-204-Bearing-block.{kind}"'
        files[kind] = answer.content
    assert "140" in pypdf.PdfReader(io.BytesIO(files["pdf"])).pages[0].extract_text()
    assert ">140</text>" in files["svg"].decode()
    document = ezdxf.read(io.StringIO(files["dxf"].decode()))
    size = document.modelspace().query("DIMENSION")[0]
    assert "140" in {t.dxf.text for t in document.blocks.get(size.dxf.geometry).query("TEXT")}  # type: ignore[union-attr]
    job = post(desk.client, f"/api/models/{desk.state['model']}/step", {}).json()
    queue()
    assert desk.client.get(f"/api/jobs/{job['id']}/file").content.startswith(b"ISO-10303-21")


def test_logging_in_is_limited_and_pages_carry_their_headers(office: Any) -> None:
    client = Client()
    assert client.get("/api/me").json()["signed_in"] is False
    wrong = post(client, "/api/login", {"username": "ann", "password": "guess"})
    assert (wrong.status_code, wrong.json()["message"]) == (
        401,
        "That name and password do not belong together.",
    )
    answer = post(client, "/api/login", {"username": "ann", "password": PASSWORD})
    assert answer.json() == {
        "id": int(client.session["_auth_user_id"]),
        "signed_in": True,
        "name": "Ann",
        "username": "ann",
        "workspace": "First office",
        "workspaces": [{"id": office.pk, "name": "First office"}],
    }
    assert client.cookies["sessionid"]["httponly"]
    assert "default-src 'self'" in answer["Content-Security-Policy"]
    assert answer["X-Frame-Options"] == "DENY"
    other = Client()
    codes = [
        post(other, "/api/login", {"username": "bob", "password": f"guess {i}"}).status_code
        for i in range(12)
    ]
    assert codes[0] == 401
    assert codes[-1] == 429
    shut = post(
        other, "/api/login", {"username": "bob", "password": PASSWORD}
    )  # the right one now comes too late
    assert (shut.status_code, "Too many tries" in shut.json()["message"]) == (429, True)


def test_an_edit_without_the_csrf_token_is_refused(ann: Client, bearing: Model) -> None:
    strict = Client(enforce_csrf_checks=True)
    strict.cookies = ann.cookies
    assert post(strict, "/api/drawings", {"model": str(bearing.pk)}).status_code == 403


def test_a_model_with_drawings_is_kept(desk: Desk) -> None:
    answer = desk.client.delete(f"/api/models/{desk.state['model']}")
    assert answer.status_code == 409
    assert "still has drawings" in answer.json()["message"]
    assert desk.client.delete(desk.url).status_code == 204
    assert desk.client.delete(f"/api/models/{desk.state['model']}").status_code == 204


def test_an_assembly_recipe_finds_its_parts_by_number(ann: Client, queue: Work) -> None:
    assembly = {
        "moorcrest": "assembly",
        "version": 1,
        "name": "Pair",
        "parts": {"w": {"model": "HB-233"}},
        "instances": [{"id": "a", "part": "w"}, {"id": "b", "part": "w", "at": {"origin": [0, 0, 2]}}],
    }
    early = upload(ann, "pair.json", json.dumps(assembly).encode())
    queue()
    assert "numbered HB-233" in state_of(ann, early).text
    upload(ann, "washer.json", (RECIPES / "HB-233.json").read_bytes())
    queue()
    job = upload(ann, "pair.json", json.dumps(assembly).encode())
    queue()
    page = ann.get(f"/api/models/{state_of(ann, job).result['model']}").json()
    assert (page["kind"], page["parts"][0]["count"]) == ("assembly", 2)
    volume = Model.objects.get(number="HB-233")
    part = ann.get(f"/api/models/{volume.pk}").json()
    assert page["mass"] == pytest.approx(2 * part["mass"])


def test_the_web_process_does_not_load_the_kernel() -> None:
    code = "import django; django.setup(); import server.urls, sys; print('OCP' in sys.modules)"
    environment = {**os.environ, "DJANGO_SETTINGS_MODULE": "server.settings.test"}
    out = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, env=environment, check=True
    )
    assert out.stdout.strip() == "False"
