"""What one user cannot do to the others: hostile commands, texts, files and pictures, and what each is
answered."""

import io
import json
import os
import signal
import subprocess
import sys
import threading
import time
import tracemalloc
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import Client

from drafting.child import ChildEnded, KernelChild, while_waiting
from server.downloads import attachment
from server.drawings import geometry, service
from server.drawings.models import DerivedView, Drawing
from server.jobs import running
from server.jobs.alone import alone
from server.jobs.models import Job
from server.library.models import PIECE, Blob, BlobPiece, Model
from server.styles import service as styles
from tests.server.conftest import RECIPES, post, state_of, upload

Work = Callable[[], int]
MACHINE_WORDS = ("Error", "SIG", "required", "input", "Traceback", "StdFail", "None", "pydantic")


def started(client: Client, model: Model) -> dict[str, Any]:
    answer = post(client, "/api/drawings", {"model": str(model.pk)})
    assert answer.status_code == 201
    return answer.json()


def command(client: Client, drawing: dict[str, Any], **what: Any) -> Any:
    return post(
        client, f"/api/drawings/{drawing['id']}/commands", {"version": drawing["version"], "command": what}
    )


# ---- commands ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    "orientation",
    [
        {"right": [1, 0], "up": [0, 1]},
        {"right": [1, 0, 0], "up": [1, 0, 0]},
        {"right": [0, 0, 0], "up": [0, 0, 1]},
        {"right": [2, 0, 0], "up": [0, 0, 1]},
        {"right": [1e300, 0, 0], "up": [0, 0, 1]},
    ],
)
def test_a_view_looks_along_directions_or_not_at_all(
    ann: Client, bearing: Model, orientation: dict[str, Any]
) -> None:
    drawing = started(ann, bearing)
    sheet = drawing["document"]["sheets"][0]["id"]
    answer = command(
        ann,
        drawing,
        command="place_main_view",
        sheet=sheet,
        orientation=orientation,
        position={"x": 9, "y": 9},
    )
    assert answer.status_code == 422
    assert not any(word in answer.json()["message"] for word in MACHINE_WORDS)
    assert ann.get("/api/drawings").status_code == 200
    assert ann.get(f"/api/drawings/{drawing['id']}/sheets/{sheet}").status_code == 200


@pytest.mark.parametrize(
    ("body", "says"),
    [
        (b'{"version": 1, "command": {"command": "change_fields", "fields": {"title": NaN}}}', "NaN"),
        (b'{"version": 1e999, "command": {}}', "too large"),
        (b"[" * 100_000, "nested too deeply"),
        (b"[]", "no object"),
        (b"{", "not valid JSON"),
        (b'{"version": 1}', "Command is missing."),
        (b'{"version": 1, "command": {"command": "dance"}}', "no such kind of command"),
        (
            b'{"version": "one", "command": {"command": "remove_sheet", "sheet": "x"}}',
            "Version cannot be that.",
        ),
    ],
)
def test_what_is_no_request_is_refused_in_a_sentence(
    ann: Client, bearing: Model, body: bytes, says: str
) -> None:
    drawing = started(ann, bearing)
    answer = ann.post(f"/api/drawings/{drawing['id']}/commands", body, content_type="application/json")
    assert answer.status_code == 422
    assert says in answer.json()["message"]
    assert answer.json()["message"].endswith(".")


def test_a_pattern_too_dense_to_draw_is_counted_not_drawn(ann: Client, queue: Work, bearing: Model) -> None:
    """The stroke count of this pattern at this spacing has no end that anybody would wait for."""
    drawing = started(ann, bearing)
    sheet = drawing["document"]["sheets"][0]["id"]
    url = f"/api/drawings/{drawing['id']}"

    def make(**what: Any) -> None:
        now = ann.get(url).json()
        assert command(ann, now, **what).status_code == 200, what["command"]

    front = {"right": [1, 0, 0], "up": [0, 0, 1]}
    place = {"command": "place_main_view", "id": "front", "sheet": sheet, "orientation": front}
    make(**place, position={"x": 120, "y": 120})
    make(command="bring_patterns", text="*mist, x\n45,0,0,0,90000,0.03,-0.03\n*fog, x\n45,0,0,0,0.01\n")
    ann.get(f"{url}/sheets/{sheet}")
    queue()
    at = {"at": {"x": 0, "y": -40}, "angle": 0}
    make(command="hatch_region", view="front", hatch={"id": "a", "pattern": "mist", "spacing": 1e-5, **at})
    make(command="hatch_region", view="front", hatch={"id": "b", "pattern": "fog", "spacing": 0.1, **at})
    answer = ann.get(f"{url}/sheets/{sheet}").json()
    said = "The main view is not hatched everywhere: its pattern is too dense for this scale."
    assert [w["text"] for w in answer["warnings"] if "hatched" in w["text"]] == [said]
    ink = ann.get(f"{url}/views/front/ink").json()
    assert len(ink["svg"]) < 2_000_000


def test_a_command_that_fails_in_an_unforeseen_way_changes_nothing(
    ann: Client, bearing: Model, monkeypatch: pytest.MonkeyPatch
) -> None:
    drawing = started(ann, bearing)

    def fail(*_: Any) -> Any:
        raise ZeroDivisionError("division by zero")

    monkeypatch.setattr(service, "execute", fail)
    answer = command(ann, drawing, command="change_fields", fields={"title": "Bracket"})
    assert (answer.status_code, answer.json()["message"]) == (
        422,
        "This cannot be done with these values; nothing was changed.",
    )
    assert ann.get(f"/api/drawings/{drawing['id']}").json()["version"] == drawing["version"]


def test_one_drawing_that_cannot_be_counted_hides_no_other(
    ann: Client, bearing: Model, monkeypatch: pytest.MonkeyPatch
) -> None:
    for _ in range(2):
        started(ann, bearing)
    Drawing.objects.update(counted_for="")

    def fail(*_: Any) -> Any:
        raise ValueError("no")

    monkeypatch.setattr(service, "lost_on", fail)
    assert len(ann.get("/api/drawings").json()) == 2


def test_the_shelf_asks_no_more_for_many_drawings(
    ann: Client, bearing: Model, django_assert_max_num_queries: Any
) -> None:
    for _ in range(25):
        started(ann, bearing)
    with django_assert_max_num_queries(9):
        assert len(ann.get("/api/drawings").json()) == 25


# ---- text --------------------------------------------------------------------------------------------------


def test_text_is_cleaned_on_its_way_in(ann: Client, bearing: Model) -> None:
    drawing = started(ann, bearing)
    title = "Br\u0000ack\ud800et\u0001 \ufffe\nleft"
    assert command(ann, drawing, command="change_fields", fields={"title": title}).status_code == 200
    kept = ann.get(f"/api/drawings/{drawing['id']}").json()["document"]["fields"]["title"]
    assert kept == "Bracket \nleft"
    again = ann.get(f"/api/drawings/{drawing['id']}").json()
    answer = command(ann, again, command="change_fields", fields={"title": "x" * 5000})
    assert answer.status_code == 422
    assert answer.json()["message"].endswith("is longer than 400 letters.")


def test_downloads_are_named_in_any_letters() -> None:
    assert attachment("a\nb/c.pdf") == 'attachment; filename="a b-c.pdf"'
    assert attachment("Gehäuse.step") == "attachment; filename*=utf-8''Geh%C3%A4use.step"


def test_every_refusal_is_json(ann: Client, monkeypatch: pytest.MonkeyPatch) -> None:
    files = [SimpleUploadedFile(f"{n}.step", b"ISO-10303-21;") for n in range(501)]
    answer = ann.post("/api/models", {"file": files})
    assert (answer.status_code, "too many files" in answer.json()["message"]) == (413, True)
    for path in ("/api/nowhere", "/api/drawings/not-an-id", "/api/models/0/preview.glb"):
        assert ann.get(path).json()["message"].endswith(".")
    assert Client().get("/api/drawings").json()["message"] == "You are not signed in."
    big = ann.generic("POST", "/api/models", b"x", CONTENT_LENGTH=str(10**12))
    assert (big.status_code, "at once" in big.json()["message"]) == (413, True)
    checked = Client(enforce_csrf_checks=True)
    for path in ("/api/logout", "/api/login"):
        answer = post(checked, path, {"username": "ann", "password": "x"})
        assert (answer.status_code, "load it again" in answer.json()["message"]) == (403, True)


@pytest.mark.parametrize(
    ("error", "status", "says"),
    [(OperationalError("gone"), 503, "tries again"), (KeyError("x"), 500, "the log says what")],
)
def test_a_lost_database_is_not_a_fault_of_the_request(
    ann: Client, monkeypatch: pytest.MonkeyPatch, error: Exception, status: int, says: str
) -> None:
    def fail(*_: Any) -> Any:
        raise error

    monkeypatch.setattr(service, "open_points", fail)
    ann.raise_request_exception = False
    answer = ann.get("/api/drawings")
    assert (answer.status_code, says in answer.json()["message"]) == (status, True)
    assert answer.has_header("Retry-After") == (status == 503)


# ---- files -------------------------------------------------------------------------------------------------


def test_a_large_upload_takes_no_memory(ann: Client, tmp_path: Path, settings: Any) -> None:
    settings.FILE_UPLOAD_TEMP_DIR = str(tmp_path)
    path = tmp_path / "big.step"
    with path.open("wb") as file:
        file.write(b"ISO-10303-21;")
        file.truncate(40 * PIECE)
    with path.open("rb") as file:
        request = {"file": file}
        tracemalloc.start()
        try:
            blob = Blob.taken(file)
            peak = tracemalloc.get_traced_memory()[1]
        finally:
            tracemalloc.stop()
        file.seek(0)
        assert ann.post("/api/models", request).status_code == 202
    assert peak < 8 * PIECE
    assert (blob.size, BlobPiece.objects.filter(blob=blob).count()) == (40 * PIECE, 40)
    assert blob.write_to(tmp_path / "again").read_bytes() == path.read_bytes()


def test_a_zip_of_endless_json_stays_out_of_the_workers_memory(ann: Client, queue: Work, office: Any) -> None:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("a.json", b"[" + b"[]," * 15_000_000 + b"[]]")
        archive.writestr("b.json", (RECIPES / "HB-205.json").read_bytes())
    job = upload(ann, "all.zip", buffer.getvalue())
    tracemalloc.start()
    try:
        queue()
        peak = tracemalloc.get_traced_memory()[1]
    finally:
        tracemalloc.stop()
    assert peak < 30 * PIECE
    row = state_of(ann, job)
    assert (row.state, "larger than 20 MB" in row.text) == (Job.FAILED, True)


def test_a_stopped_job_ends_its_child(office: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(running, "close_old_connections", lambda: None)
    job = Job.objects.create(workspace=office, kind="read", subject="x")
    ended: list[bool] = []

    def work(row: Job, progress: Any) -> dict[str, Any]:
        with KernelChild() as child:
            child.warm()
            assert child.pid
            os.kill(child.pid, signal.SIGSTOP)  # it never answers
            Job.objects.all().delete()
            try:
                child.request("referred", 60, source=str(RECIPES / "HB-204.json"))
            finally:
                ended.append(child.pid is None)
        return {}

    running.run(str(job.pk), work)
    assert ended == [True]
    assert while_waiting.get()() is None


def test_a_job_is_done_once(office: Any, transactional_db: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    job = Job.objects.create(workspace=office, kind="read", subject="x")
    times: list[int] = []
    inside = threading.Event()

    def slow(row: Job, progress: Any) -> dict[str, Any]:
        times.append(1)
        inside.wait(20)
        return {}

    def second() -> None:
        from django.db import connection

        try:
            running.run(str(job.pk), slow)
            with alone(f"job {job.pk}") as mine:
                times.append(100 if mine else 0)
        finally:
            connection.close()
            inside.set()

    thread = threading.Thread(target=second)

    def first(row: Job, progress: Any) -> dict[str, Any]:
        thread.start()
        return slow(row, progress)

    running.run(str(job.pk), first)
    thread.join()
    assert times == [1, 0]
    assert Job.objects.get().state == Job.DONE


def test_a_view_whose_child_is_killed_is_derived_at_the_second_try(
    bearing: Model, monkeypatch: pytest.MonkeyPatch
) -> None:
    from drafting.views.derivation import Derivation
    from drafting.views.orientation import PRINCIPAL

    monkeypatch.setattr(geometry, "enqueue_once", lambda *_, **__: None)
    row = geometry.requested(bearing.current(), Derivation(orientation=PRINCIPAL["front"]))
    asked: list[int] = []
    real = KernelChild.request

    def killed_once(self: KernelChild, *a: Any, **k: Any) -> Any:
        asked.append(1)
        if len(asked) == 1:
            raise ChildEnded("The geometry kernel crashed on this file; nothing else is affected.")
        return real(self, *a, **k)

    monkeypatch.setattr(KernelChild, "request", killed_once)
    geometry.derive_now(row.pk)
    assert (len(asked), DerivedView.objects.get(pk=row.pk).state) == (2, DerivedView.READY)


ORPHAN = """
import os, sys
from drafting.child import KernelChild
child = KernelChild().warm()
print(child.pid, flush=True)
sys.stdin.readline()
os._exit(0)
"""


def test_a_child_ends_with_its_parent() -> None:
    parent = subprocess.Popen(
        [sys.executable, "-c", ORPHAN], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    )
    assert parent.stdin
    assert parent.stdout
    pid = int(parent.stdout.readline())
    assert Path(f"/proc/{pid}").exists()
    parent.communicate("\n")
    for _ in range(200):
        if not Path(f"/proc/{pid}").exists() or "Z" in Path(f"/proc/{pid}/stat").read_text().split()[2]:
            break
        time.sleep(0.1)
    else:
        pytest.fail("the child is still there")


# ---- pictures ----------------------------------------------------------------------------------------------


def test_an_intricate_logo_is_drawn_or_refused_but_never_waited_for(monkeypatch: pytest.MonkeyPatch) -> None:
    rings = "".join(f"M{n % 60} {n // 60}h.9v.9h-.9z" for n in range(1800))
    head = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 60 30">'
    assert styles.clean_logo(f'{head}<path d="{rings}"/></svg>'.encode())
    wide = "".join("M0 0h60v30h-60z" for _ in range(1800))
    with pytest.raises(Exception, match="too intricate"):
        styles.clean_logo(f'{head}<path d="{wide}"/></svg>'.encode())
    taken = [styles.PLACES.acquire(blocking=False) for _ in range(2)]
    try:
        assert taken == [True, True]
        with pytest.raises(Exception, match="try again in a moment"):
            styles.clean_logo(json.dumps({}).encode())
    finally:
        styles.PLACES.release()
        styles.PLACES.release()


def test_a_view_that_failed_is_derived_again_when_asked(ann: Client, queue: Work, bearing: Model) -> None:
    drawing = started(ann, bearing)
    sheet = drawing["document"]["sheets"][0]["id"]
    view = drawing["document"]["sheets"][0]["views"]
    if not view:
        front = {"right": [1, 0, 0], "up": [0, 0, 1]}
        place = {"command": "place_main_view", "id": "front", "sheet": sheet, "orientation": front}
        assert command(ann, drawing, **place, position={"x": 90, "y": 90}).status_code == 200
    name = view[0]["id"] if view else "front"
    shown = f"/api/drawings/{drawing['id']}/sheets/{sheet}"
    ann.get(shown)
    DerivedView.objects.update(state=DerivedView.FAILED, error="The geometry kernel crashed on this file.")
    assert [v["state"] for v in ann.get(shown).json()["views"]] == ["failed"]
    again = f"/api/drawings/{drawing['id']}/views/{name}/derive"
    assert ann.post(again, content_type="application/json").status_code == 204
    queue()
    assert [v["state"] for v in ann.get(shown).json()["views"]] == ["ready"]
    assert ann.post(again, content_type="application/json").status_code == 204  # a ready one stays as it is
    assert DerivedView.objects.get().state == DerivedView.READY
