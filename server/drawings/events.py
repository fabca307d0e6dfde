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
from contextlib import suppress
from typing import Any

import psycopg
from django.db import DatabaseError, connection
from django.http import HttpRequest, StreamingHttpResponse
from ninja import Router, Status

from server.accounts.models import Membership
from server.drawings.access import own_drawing
from server.drawings.models import Drawing
from server.drawings.telling import CHANNEL, told
from server.errors import Problem

log = logging.getLogger("moorcrest.events")
router = Router(tags=["drawings"])
BEAT = 15.0
"""Seconds after which something is sent though nothing happened, so that a stream that nobody reads ends."""
LONGEST = 3600.0
"""Seconds of one stream; the desk asks for another."""
MOST_STREAMS = 32
"""Streams of one process: each takes a thread, and some are left for everything else."""
MOST_WAITING = 200
"""Events kept for a stream that is read slowly; it is then told to look anew."""


class _Hub:
    """The streams of this process by drawing, and the one connection that listens for all of them."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._streams: dict[str, set[queue.Queue[dict[str, Any]]]] = defaultdict(set)
        self._thread: threading.Thread | None = None

    def join(self, drawing: str) -> "queue.Queue[dict[str, Any]] | None":
        """A stream of what happens to a drawing; None where there are too many."""
        mine: queue.Queue[dict[str, Any]] = queue.Queue(MOST_WAITING)
        with self._lock:
            if sum(len(group) for group in self._streams.values()) >= MOST_STREAMS:
                return None
            self._streams[drawing].add(mine)
            if self._thread is None:
                self._thread = threading.Thread(target=self._listen, name="events", daemon=True)
                self._thread.start()
        return mine

    def leave(self, drawing: str, mine: "queue.Queue[dict[str, Any]]") -> None:
        with self._lock:
            self._streams[drawing].discard(mine)
            if not self._streams[drawing]:
                del self._streams[drawing]

    def _listen(self) -> None:
        while not self._is_over():
            try:
                with psycopg.connect(**_address(), autocommit=True) as mine:
                    mine.execute(f"LISTEN {CHANNEL}")
                    self._all({"what": "changed"})  # what was told meanwhile is asked for
                    while self._streams:
                        for notice in mine.notifies(timeout=5.0):
                            self._hand_on(json.loads(notice.payload))
            except Exception:
                log.warning("listening for events is tried again", exc_info=True)
                time.sleep(1.0)

    def _is_over(self) -> bool:
        """Whether nobody is left to listen for; the next one who joins starts another thread."""
        with self._lock:
            if not self._streams:
                self._thread = None
            return not self._streams

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


@router.get("/{drawing_id}/events", response={200: None, 503: Problem})
def events(request: HttpRequest, drawing_id: uuid.UUID) -> Any:
    """A stream of what happens to a drawing."""
    d = own_drawing(request, drawing_id)
    mine = HUB.join(str(d.pk))
    if mine is None:
        return Status(
            503, Problem(message="So many desks are open that this one looks by itself now and then.")
        )

    answer = StreamingHttpResponse(_Stream(d, request.user, mine), content_type="text/event-stream")
    answer["Cache-Control"] = "no-cache"
    answer["X-Accel-Buffering"] = "no"
    answer["Content-Encoding"] = "identity"  # not held back to be packed
    return answer


class _Stream:
    """What one desk is told, until it goes, its user leaves the workspace, or an hour is over. The server
    closes it, begun or not."""

    def __init__(self, drawing: Drawing, user: Any, mine: "queue.Queue[dict[str, Any]]") -> None:
        self.drawing, self.user, self.mine = drawing, user, mine
        self.key = str(drawing.pk)

    def __iter__(self) -> Iterator[bytes]:
        connection.close()  # a stream holds none
        started = time.monotonic()
        yield b"retry: 1000\n\n"
        while time.monotonic() - started < LONGEST:
            try:
                event = self.mine.get(timeout=BEAT)
            except queue.Empty:
                workspace = self.drawing.workspace_id
                if not Membership.objects.filter(workspace=workspace, user=self.user.pk).exists():
                    return
                connection.close()
                yield b": here\n\n"
                continue
            yield f"data: {json.dumps(event)}\n\n".encode()

    def close(self) -> None:
        """It is read no more."""
        HUB.leave(self.key, self.mine)
        with suppress(DatabaseError):  # it may be what went away
            told(self.key, "left", self.user)
        connection.close()
