"""Two offices with an account each, clients logged in, and a way to do queued jobs within the test."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from procrastinate.contrib.django import app

from server.accounts.models import Membership, Workspace
from server.drawings import geometry, tasks
from server.jobs import running
from server.jobs.models import Job
from server.library.models import Model
from server.library.reading import read_into

RECIPES = Path(__file__).resolve().parents[2] / "demo" / "recipes"
PASSWORD = "a moor in november"


def account(name: str, office: str) -> Any:
    user = get_user_model().objects.create_user(name, password=PASSWORD, first_name=name.title())
    workspace, _ = Workspace.objects.get_or_create(name=office)
    Membership.objects.create(user=user, workspace=workspace, role=Membership.OWNER)
    return user


@pytest.fixture
def office(db: Any) -> Workspace:
    account("ann", "First office")
    account("bob", "Second office")
    return Workspace.objects.get(name="First office")


def logged_in(name: str) -> Client:
    client = Client()
    client.force_login(
        get_user_model().objects.get(username=name), backend="django.contrib.auth.backends.ModelBackend"
    )
    return client


@pytest.fixture
def ann(office: Workspace) -> Client:
    return logged_in("ann")


@pytest.fixture
def bob(office: Workspace) -> Client:
    return logged_in("bob")


@pytest.fixture(autouse=True)
def nothing_derived_before() -> None:
    """Views are kept in memory by content; those of other tests would be there before they are derived."""
    geometry._parsed.cache_clear()


@pytest.fixture
def queue(monkeypatch: pytest.MonkeyPatch) -> Callable[[], int]:
    """Collects what is deferred; calling it does all of it, as a worker would. Returns how many were done."""
    waiting: list[tuple[Any, dict[str, Any]]] = []

    class Deferred:
        def __init__(self, name: str, **_: Any) -> None:
            self.task = app.tasks[name]

        def defer(self, **arguments: Any) -> None:
            waiting.append((self.task, arguments))

    monkeypatch.setattr(app, "configure_task", Deferred)
    for module in (running, tasks):
        monkeypatch.setattr(module, "close_old_connections", lambda: None)

    def work() -> int:
        done = 0
        while waiting:
            task, arguments = waiting.pop(0)
            task.func(**arguments)
            done += 1
        return done

    return work


@pytest.fixture
def bearing(office: Workspace) -> Model:
    file = RECIPES / "HB-204.json"
    return read_into(office, file.name, file)


LENGTH = "base/side.bottom|base/start"
CIRCLE = "base/side.bottom|bore/counterbore"


@pytest.fixture
def sized(ann: Client, bearing: Model, queue: Callable[[], int]) -> Any:
    """A desk with the bearing block, its length and the diameter of its counterbore."""
    from tests.server.test_api import Desk

    made = Desk(ann, bearing)
    made.main()
    for key, source, at in (("length", LENGTH, (131, 140)), ("bore", CIRCLE, (200, 260))):
        pick = {"instance": "part", "source": source, "role": "edge", "at": {"x": 0, "y": -49}}
        asked = {"tool": "size", "view": "front", "picks": [pick], "pointer": {"x": at[0], "y": at[1]}}
        (size,) = post(ann, f"{made.url}/propose-annotation", asked).json()["annotations"]
        made.edit(command="place", annotations=[{**size, "id": key}])
    return made


def upload(client: Client, name: str, data: bytes) -> dict[str, Any]:
    answer = client.post("/api/models", {"file": SimpleUploadedFile(name, data)})
    assert answer.status_code == 202, answer.content
    return answer.json()


def content(answer: Any) -> bytes:
    assert answer.status_code == 200, answer.content
    return b"".join(answer.streaming_content) if answer.streaming else bytes(answer.content)


def post(client: Client, url: str, body: Any) -> Any:
    return client.post(url, json.dumps(body), content_type="application/json")


def state_of(client: Client, job: dict[str, Any]) -> Job:
    assert client.get(f"/api/jobs/{job['id']}").status_code == 200
    return Job.objects.get(pk=job["id"])
