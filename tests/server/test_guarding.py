"""Who may try to log in how often, from where, and what is written down of it."""

import io
import json
import logging
import threading
import time
from collections.abc import Iterator
from typing import Any

import pytest
from django.db import connection
from django.test import Client

from server.accounts.guarding import MOST_NAMES
from server.jobs.heartbeat import Heartbeat
from server.logs import JsonLine
from tests.server.conftest import PASSWORD, post

WRONG = "not the password"


def tried(client: Client, name: str, password: str = WRONG, **where: str) -> int:
    answer = client.post(
        "/api/login",
        json.dumps({"username": name, "password": password}),
        content_type="application/json",
        **where,  # type: ignore[arg-type]
    )
    return int(answer.status_code)


def test_many_names_from_one_address_are_limited(office: Any) -> None:
    stranger = Client(REMOTE_ADDR="198.51.100.7")
    found = [tried(stranger, f"name{n}") for n in range(MOST_NAMES + 2)]
    assert found == [401] * MOST_NAMES + [429, 429]
    assert tried(stranger, "ann", PASSWORD) == 429
    assert tried(Client(REMOTE_ADDR="198.51.100.8"), "ann", PASSWORD) == 200


def test_nobody_locks_a_colleague_of_the_same_office_out(office: Any) -> None:
    of_ann = Client(REMOTE_ADDR="198.51.100.7")
    assert tried(of_ann, "ann", PASSWORD) == 200
    foe = Client(REMOTE_ADDR="198.51.100.7")
    assert [tried(foe, "ann") for _ in range(9)][-1] == 429
    for n in range(MOST_NAMES):
        tried(foe, f"name{n}")
    assert tried(foe, "ann", PASSWORD) == 429
    assert tried(of_ann, "ann", PASSWORD) == 200  # her browser is known


def test_a_known_browser_is_limited_too(office: Any) -> None:
    thief = Client(REMOTE_ADDR="198.51.100.7")
    assert tried(thief, "ann", PASSWORD) == 200
    thief.cookies.pop("sessionid")
    assert [tried(thief, "ann") for _ in range(9)][-1] == 429


@pytest.mark.parametrize("value", ["", "x", "a.b:c:d", "known-1:1:1"])
def test_a_made_up_cookie_makes_no_browser_known(office: Any, value: str) -> None:
    own = Client()
    assert tried(own, "ann", PASSWORD) == 200
    name = next(n for n in own.cookies if n.startswith("known-"))
    foe = Client(REMOTE_ADDR="198.51.100.7")
    foe.cookies[name] = value
    assert [tried(foe, "ann") for _ in range(9)][-1] == 429
    assert tried(Client(REMOTE_ADDR="198.51.100.7"), "ann", PASSWORD) == 429


def test_behind_a_proxy_the_client_counts(office: Any, settings: Any) -> None:
    def behind(address: str) -> dict[str, str]:
        # the client may write what it likes before what the proxy adds
        return {"REMOTE_ADDR": "10.0.0.1", "HTTP_X_FORWARDED_FOR": f"203.0.113.9, {address}"}

    settings.PROXIES = 1
    foe = Client()
    assert [tried(foe, "ann", **behind("198.51.100.7")) for _ in range(9)][-1] == 429
    assert tried(Client(), "ann", PASSWORD, **behind("198.51.100.8")) == 200
    settings.PROXIES = 0  # whoever is no proxy of ours is not believed
    assert [tried(foe, "bob", **behind(f"198.51.100.{n}")) for n in range(9)][-1] == 429


@pytest.fixture
def log() -> Iterator[io.StringIO]:
    """All that is written to the log, as it is written."""
    handler = logging.StreamHandler(io.StringIO())
    handler.setFormatter(JsonLine())
    root, own = logging.getLogger(), logging.getLogger("moorcrest")
    before = own.level
    root.addHandler(handler)
    own.setLevel(logging.INFO)
    yield handler.stream
    own.setLevel(before)
    root.removeHandler(handler)


def test_the_log_numbers_requests_and_names_nobody(ann: Client, log: io.StringIO) -> None:
    seen = ann.get("/api/me", headers={"X-Request-ID": "of-the-proxy-17"})
    own = ann.get("/api/me", headers={"X-Request-ID": "a\nb"})
    tried(Client(), "someone@example.org")
    post(ann, "/api/join/a-secret-token-of-some-length", {"password": WRONG})
    assert seen.headers["X-Request-ID"] == "of-the-proxy-17"
    assert len(own.headers["X-Request-ID"]) == 32
    found = [json.loads(row) for row in log.getvalue().splitlines()]
    assert [(r["message"], r["status"]) for r in found] == [
        ("GET api/me 200", 200),
        ("GET api/me 200", 200),
        ("POST api/login 401", 401),
        ("POST api/join/<token> 422", 422),
    ]
    assert [r["request"] for r in found[:2]] == [a.headers["X-Request-ID"] for a in (seen, own)]
    for secret in ("someone", "a-secret-token", WRONG, "127.0.0.1", "ann"):
        assert secret not in log.getvalue()


def test_an_unforeseen_error_is_logged_by_its_kind_and_place(
    ann: Client, log: io.StringIO, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(request: Any) -> Any:
        raise RuntimeError("the drawing of Mr. Somebody")

    monkeypatch.setattr("server.library.api.workspace_of", broken)
    ann.raise_request_exception = False
    answer = ann.get("/api/models")
    assert answer.status_code == 500
    row = next(r for r in map(json.loads, log.getvalue().splitlines()) if r["level"] == "error")
    assert (row["error"], row["request"]) == ("RuntimeError", answer.headers["X-Request-ID"])
    assert row["at"][-1].endswith("broken")
    assert "Somebody" not in log.getvalue()


@pytest.mark.django_db(transaction=True)
def test_a_worker_lives_while_its_loop_is_busy() -> None:
    """The sign comes from a thread; the main one computes without a pause."""
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO procrastinate_workers (last_heartbeat) "
            "VALUES (now() - interval '1 hour') RETURNING id"
        )
        number = cursor.fetchone()[0]

        def age() -> float:
            cursor.execute(
                "SELECT extract(epoch FROM clock_timestamp() - last_heartbeat) "
                "FROM procrastinate_workers WHERE id = %s",
                [number],
            )
            return float(cursor.fetchone()[0])

        assert age() > 3000
        with Heartbeat(lambda: [None, number], beat=0.05):
            until = time.monotonic() + 10
            while age() > 5 and time.monotonic() < until:
                sum(range(200_000))
            assert age() < 5
        cursor.execute("DELETE FROM procrastinate_workers WHERE id = %s", [number])
    assert "heartbeat" not in [t.name for t in threading.enumerate()]
