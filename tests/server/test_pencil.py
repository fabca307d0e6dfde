"""The red pencil: findings with threads, ticks that hold as long as what they are on, and who is told."""

import io
import json
import threading
from collections.abc import Callable, Iterator
from typing import Any

import psycopg
import pypdf
import pytest
from django.db import connection
from django.test import Client

from server.accounts.models import Membership, Workspace
from server.drawings import events, pencil, store, telling
from server.drawings.models import Drawing
from tests.server.conftest import content, post
from tests.server.test_api import Desk
from tests.server.test_releasing import bring, joined

Work = Callable[[], int]


@pytest.fixture
def cara(office: Workspace) -> Client:
    return joined(office, "cara", Membership.CHECKER)


def draw(client: Client, desk: Desk, **more: Any) -> Any:
    body = {
        "kind": "cloud",
        "sheet": desk.sheet["id"],
        "anchor": "front",
        "places": [[0, 0], [20, 10]],
        **more,
    }
    return post(client, f"{desk.url}/pencil/marks", body)


def test_a_finding_is_drawn_answered_and_closed_by_who_may(
    sized: Desk, cara: Client, office: Workspace
) -> None:
    ann, rob = sized.client, joined(office, "rob", Membership.READER)
    assert draw(rob, sized).status_code == 403
    made = draw(cara, sized, text="The foot is too thin.").json()
    (mark,) = made["marks"]
    assert (mark["number"], mark["state"], mark["by"], mark["mine"]) == (1, "open", "Cara", True)
    assert made["may"]
    dan = joined(office, "dan", Membership.DRAFTER)
    url = f"{sized.url}/pencil/marks/1"
    assert (
        post(dan, url, {"text": "18 is enough by the sheet.", "state": "answered"}).json()["marks"][0][
            "state"
        ]
        == "answered"
    )
    assert post(dan, url, {"state": "closed"}).status_code == 403
    assert cara.delete(url).json()["message"] == "It has been answered already; close it instead."
    assert ann.delete(url).json()["message"] == "Only who drew it can rub it out; answer it instead."
    closed = post(cara, url, {"text": "Agreed.", "state": "closed"}).json()["marks"][0]
    assert [(w["by"], w["text"], w["state"]) for w in closed["words"]] == [
        ("Cara", "The foot is too thin.", "open"),
        ("Dan", "18 is enough by the sheet.", "answered"),
        ("Cara", "Agreed.", "closed"),
    ]
    assert post(cara, url, {"state": "closed"}).status_code == 422  # nothing said, nothing changed
    draw(cara, sized, kind="words", places=[[3, 3]], anchor="")
    assert cara.delete(f"{sized.url}/pencil/marks/2").json()["marks"][-1]["number"] == 1


@pytest.mark.parametrize(
    "wrong",
    [
        {"sheet": "gone"},
        {"anchor": "gone"},
        {"places": [[0, 0]]},
        {"places": [[0, 1e9], [1, 1]]},
        {"kind": "blot"},
    ],
)
def test_what_cannot_be_drawn_is_said(sized: Desk, wrong: dict[str, Any]) -> None:
    answer = draw(sized.client, sized, **wrong)
    assert answer.status_code == 422
    assert sized.client.get(f"{sized.url}/pencil").json()["marks"] == []


def test_findings_are_drawn_while_a_drawing_is_for_check_and_never_come_into_files(
    sized: Desk, cara: Client, queue: Work
) -> None:
    bring(sized.client, sized, "check")
    version = Drawing.objects.get().version
    assert draw(cara, sized, text="RED").status_code == 200
    assert Drawing.objects.get().version == version
    job = post(cara, f"{sized.url}/publish", {"format": "checked"}).json()
    queue()
    pdf = pypdf.PdfReader(io.BytesIO(content(cara.get(f"/api/jobs/{job['id']}/file"))))
    words = [p.extract_text() for p in pdf.pages]
    assert len(words) == 2
    assert "RED" not in words[0]
    assert "140" in words[0]
    assert "Finding 1, sheet 1, open" in words[1]
    assert "Cara: RED" in words[1]
    plain = post(cara, f"{sized.url}/publish", {"format": "pdf"}).json()
    queue()
    data = content(cara.get(f"/api/jobs/{plain['id']}/file"))
    assert "RED" not in "".join(p.extract_text() for p in pypdf.PdfReader(io.BytesIO(data)).pages)
    frame = sized.client.get(f"{sized.url}/sheets/{sized.sheet['id']}")
    assert b"RED" not in frame.content


def test_a_mark_follows_the_scale_of_its_view(sized: Desk, cara: Client) -> None:
    draw(cara, sized, places=[[10, 20], [30, 40]])
    drawing = Drawing.objects.get()

    def printed() -> tuple[tuple[float, float], ...]:
        document = store.document_of(drawing)
        (found,) = pencil.findings(drawing, document, document.sheets)
        return found.places

    x, y = (sized.sheet["views"][0]["position"][k] for k in "xy")
    assert printed() == ((x + 10, y + 20), (x + 30, y + 40))
    sized.edit(command="change_view", view="front", scale={"drawn": 1, "true": 2})
    drawing.refresh_from_db()
    assert printed() == ((x + 5, y + 10), (x + 15, y + 20))


def test_a_tick_holds_as_long_as_the_size_says_what_it_said(sized: Desk, cara: Client) -> None:
    def page() -> Any:
        return cara.get(f"{sized.url}/pencil").json()

    assert (page()["sizes"], page()["ticked"]) == (2, 0)
    assert post(sized.client, f"{sized.url}/pencil/ticks", {"annotation": "gone"}).status_code == 422
    post(cara, f"{sized.url}/pencil/ticks", {"annotation": "length"})
    post(cara, f"{sized.url}/pencil/ticks", {"annotation": "bore"})
    assert page()["ticked"] == 2
    assert {t["view"] for t in page()["ticks"]} == {"front"}
    sized.edit(command="change", ids=["length"], values={"tolerance": {"form": "equal", "upper": 0.2}})
    assert page()["ticked"] == 1
    assert {t["annotation"]: t["holds"] for t in page()["ticks"]} == {"length": False, "bore": True}
    sized.turn("undo")
    assert page()["ticked"] == 2
    post(cara, f"{sized.url}/pencil/ticks", {"annotation": "bore", "on": False})
    sized.edit(command="remove", ids=["length"])
    assert page()["ticks"] == []


TICKED = {"annotation": "length"}
CHANGES: list[tuple[str, str, dict[str, Any]]] = [
    ("post", "/marks", {"kind": "words", "sheet": "", "places": [[0, 0]]}),
    ("post", "/marks/1", {"text": "No."}),
    ("delete", "/marks/1", {}),
    ("post", "/ticks", TICKED),
]


@pytest.mark.parametrize(("method", "path", "body"), CHANGES)
def test_readers_and_others_leave_the_pencil_alone(
    sized: Desk, bob: Client, office: Workspace, method: str, path: str, body: dict[str, Any]
) -> None:
    draw(sized.client, sized)
    rob = joined(office, "rob", Membership.READER)
    for client, status in ((rob, 403), (bob, 404)):
        url = f"{sized.url}/pencil{path}"
        body = {**body, "sheet": sized.sheet["id"]} if "sheet" in body else body
        assert client.generic(method.upper(), url, json.dumps(body), "application/json").status_code == status
    assert [m["state"] for m in rob.get(f"{sized.url}/pencil").json()["marks"]] == ["open"]
    assert bob.get(f"{sized.url}/pencil").status_code == 404
    assert post(bob, f"{sized.url}/pencil/here", {}).status_code == 404
    assert bob.get(f"{sized.url}/events").status_code == 404


def test_drafters_answer_and_do_not_tick(sized: Desk, office: Workspace) -> None:
    dan = joined(office, "dan", Membership.DRAFTER)
    assert post(dan, f"{sized.url}/pencil/ticks", TICKED).status_code == 403
    assert draw(dan, sized).status_code == 403


@pytest.mark.django_db(transaction=True)
def test_no_more_streams_than_leave_room_for_other_work(sized: Desk, monkeypatch: Any) -> None:
    monkeypatch.setattr(events, "MOST_STREAMS", 1)
    monkeypatch.setattr(events, "HUB", events._Hub())
    first = sized.client.get(f"{sized.url}/events")
    assert first.status_code == 200
    assert sized.client.get(f"{sized.url}/events").status_code == 503
    first.close()  # nobody has read it
    again = sized.client.get(f"{sized.url}/events")
    assert again.status_code == 200
    again.close()
    assert not events.HUB._streams


@pytest.fixture
def heard() -> Iterator[list[dict[str, Any]]]:
    """What is told, by a listener of its own."""
    found: list[dict[str, Any]] = []
    end = threading.Event()
    with psycopg.connect(**events._address(), autocommit=True) as mine:
        mine.execute(f"LISTEN {telling.CHANNEL}")

        def listen() -> None:
            while not end.is_set():
                found.extend(json.loads(n.payload) for n in mine.notifies(timeout=0.2))

        thread = threading.Thread(target=listen)
        thread.start()
        yield found
        end.set()
        thread.join()


@pytest.mark.django_db(transaction=True)
def test_edits_and_findings_are_told_once_they_are_kept(
    office: Workspace, ann: Client, heard: list[Any], bearing: Any, queue: Work
) -> None:
    desk = Desk(ann, bearing)
    desk.edit(command="change_fields", fields={"title": "Block"})
    draw(ann, desk, anchor="")
    with connection.cursor() as cursor:
        cursor.execute("SELECT 1")
    for _ in range(50):
        if len(heard) >= 2:
            break
        threading.Event().wait(0.1)
    assert [(e["what"], e["by"]) for e in heard] == [("changed", "Ann"), ("pencil", "Ann")]
    assert heard[0]["version"] == desk.state["version"]


def test_a_stream_hands_on_what_is_told_and_drops_what_nobody_reads() -> None:
    hub = events._Hub()
    mine = hub._streams["d"]
    stream: Any = __import__("queue").Queue(events.MOST_WAITING)
    mine.add(stream)
    hub._hand_on({"drawing": "d", "what": "pencil"})
    hub._hand_on({"drawing": "other", "what": "pencil"})
    assert stream.get_nowait()["what"] == "pencil"
    assert stream.empty()
    for _ in range(events.MOST_WAITING + 1):
        hub._hand_on({"drawing": "d", "what": "here"})
    assert stream.qsize() == 1
    assert stream.get_nowait() == {"what": "changed"}  # so that it looks anew
