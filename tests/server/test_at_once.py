"""Several people at one drawing at once: every answer is a success, a step made on an old version, or a
sentence."""

import threading
import uuid
from collections import Counter
from typing import Any

import pytest
from django.db import connection

from server.drawings.models import Drawing
from server.library.models import Model
from tests.server.conftest import logged_in, post

pytestmark = pytest.mark.django_db(transaction=True)


def start(model: Model) -> str:
    return str(post(logged_in("ann"), "/api/drawings", {"model": str(model.pk)}).json()["id"])


def editing(drawing: str, stop: threading.Event, seen: Counter[int]) -> threading.Thread:
    def edit() -> None:
        client = logged_in("ann")
        client.raise_request_exception = False
        n = 0
        while not stop.is_set():
            n += 1
            state = client.get(f"/api/drawings/{drawing}")
            if state.status_code != 200:
                seen[state.status_code] += 1
                break
            command = {"command": "change_fields", "fields": {"title": f"{uuid.uuid4()}"}}
            body = {"version": state.json()["version"], "command": command}
            seen[post(client, f"/api/drawings/{drawing}/commands", body).status_code] += 1
            sheet = state.json()["document"]["sheets"][0]["id"]
            seen[client.get(f"/api/drawings/{drawing}/sheets/{sheet}").status_code] += 1
        connection.close()

    return threading.Thread(target=edit)


def test_a_style_is_brought_along_while_others_edit(office: Any, bearing: Model) -> None:
    drawing = start(bearing)
    client, stop, seen = logged_in("ann"), threading.Event(), Counter[int]()
    client.raise_request_exception = False
    key = Drawing.objects.get().head["style"]
    threads = [editing(drawing, stop, seen) for _ in range(3)]
    for thread in threads:
        thread.start()
    answers = Counter(
        post(client, f"/api/styles/{key}/along", {"drawings": [drawing]}).status_code for _ in range(25)
    )
    stop.set()
    for thread in threads:
        thread.join()
    assert set(answers) <= {200}
    assert set(seen) <= {200, 409}
    assert seen[200] > 10


def test_a_drawing_is_removed_while_others_edit(office: Any, bearing: Model) -> None:
    client, answers, seen = logged_in("ann"), Counter[int](), Counter[int]()
    client.raise_request_exception = False
    for _ in range(8):
        drawing, stop = start(bearing), threading.Event()
        threads = [editing(drawing, stop, seen) for _ in range(3)]
        for thread in threads:
            thread.start()
        stop.wait(0.3)
        answers[client.delete(f"/api/drawings/{drawing}").status_code] += 1
        stop.set()
        for thread in threads:
            thread.join()
    assert set(answers) == {204}
    assert set(seen) <= {200, 404, 409}
    assert not Drawing.objects.exists()
