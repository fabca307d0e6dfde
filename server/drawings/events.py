"""What happens to a drawing, told to everybody who has it open: PostgreSQL notifies, and one listener in each
web process hands it on as server-sent events."""

import json
import logging
import queue
import threading
import time
import uuid
from collections import defaultdict
from collections.abc import Iterator
from typing import Any

import psycopg
from django.db import connection
from django.http import HttpRequest, StreamingHttpResponse
from ninja import Router

from server.accounts.models import Membership
from server.drawings.access import own_drawing
from server.drawings.telling import CHANNEL, told

log = logging.getLogger("moorcrest.events")
router = Router(tags=["drawings"])
BEAT = 15.0
"""Seconds after which something is sent though nothing happened, so that a stream that nobody reads ends."""
LONGEST = 3600.0
"""Seconds of one stream; the desk asks for another."""
MOST_WAITING = 200
"""Events kept for a stream that is read slowly; it is then told to look anew."""


class _Hub:
    """The streams of this process by drawing, and the one connection that listens for all of them."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._streams: dict[str, set[queue.Queue[dict[str, Any]]]] = defaultdict(set)
        self._thread: threading.Thread | None = None

    def join(self, drawing: str) -> "queue.Queue[dict[str, Any]]":
        mine: queue.Queue[dict[str, Any]] = queue.Queue(MOST_WAITING)
        with self._lock:
            self._streams[drawing].add(mine)
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._listen, name="events", daemon=True)
                self._thread.start()
        return mine

    def leave(self, drawing: str, mine: "queue.Queue[dict[str, Any]]") -> None:
        with self._lock:
            self._streams[drawing].discard(mine)
            if not self._streams[drawing]:
                del self._streams[drawing]

    def _listen(self) -> None:
        while self._streams:
            try:
                with psycopg.connect(**_address(), autocommit=True) as mine:
                    mine.execute(f"LISTEN {CHANNEL}")
                    self._all({"what": "changed"})  # what was told meanwhile is asked for
                    while self._streams:
                        for notice in mine.notifies(timeout=5.0):
                            self._hand_on(json.loads(notice.payload))
            except (psycopg.Error, ValueError):
                log.warning("listening for events is tried again", exc_info=True)
                time.sleep(1.0)

    def _hand_on(self, event: dict[str, Any]) -> None:
        with self._lock:
            streams = list(self._streams.get(event.get("drawing", ""), ()))
        for stream in streams:
            _put(stream, event)

    def _all(self, event: dict[str, Any]) -> None:
        with self._lock:
            streams = [s for group in self._streams.values() for s in group]
        for stream in streams:
            _put(stream, event)


def _put(stream: "queue.Queue[dict[str, Any]]", event: dict[str, Any]) -> None:
    try:
        stream.put_nowait(event)
    except queue.Full:
        while not stream.empty():
            stream.get_nowait()
        stream.put_nowait({"what": "changed"})


REACHED_BY = ("host", "port", "user", "password", "dbname")


def _address() -> dict[str, Any]:
    """How the database is reached, as Django is told."""
    return {k: v for k, v in connection.get_connection_params().items() if k in REACHED_BY}


HUB = _Hub()


@router.get("/{drawing_id}/events", response={200: None})
def events(request: HttpRequest, drawing_id: uuid.UUID) -> StreamingHttpResponse:
    """A stream of what happens to a drawing."""
    d = own_drawing(request, drawing_id)
    user, key = request.user, str(d.pk)

    def stream() -> Iterator[bytes]:
        mine = HUB.join(key)
        connection.close()  # a stream holds none
        started = time.monotonic()
        try:
            yield b"retry: 1000\n\n"
            while time.monotonic() - started < LONGEST:
                try:
                    event = mine.get(timeout=BEAT)
                except queue.Empty:
                    if not Membership.objects.filter(workspace=d.workspace_id, user=user.pk).exists():
                        return  # no longer of this workspace
                    connection.close()
                    yield b": here\n\n"
                    continue
                yield f"data: {json.dumps(event)}\n\n".encode()
        finally:
            HUB.leave(key, mine)
            told(key, "left", user)
            connection.close()

    answer = StreamingHttpResponse(stream(), content_type="text/event-stream")
    answer["Cache-Control"] = "no-cache"
    answer["X-Accel-Buffering"] = "no"
    return answer
