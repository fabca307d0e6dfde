"""The signs of life of a worker, from a thread of its own: its loop may be starved by the work it does."""

import logging
import threading
from collections.abc import Callable, Iterable

from django.db import connection

log = logging.getLogger("moorcrest.worker")
BEAT = 3.0
"""Seconds between two signs."""


class Heartbeat:
    """Says of workers, by their numbers in the queue's table, that they live, until it is ended."""

    def __init__(self, workers: Callable[[], Iterable[int | None]], beat: float = BEAT) -> None:
        self._workers, self._beat = workers, beat
        self._ended = threading.Event()
        self._thread = threading.Thread(target=self._run, name="heartbeat", daemon=True)

    def __enter__(self) -> "Heartbeat":
        self._thread.start()
        return self

    def __exit__(self, *error: object) -> None:
        self._ended.set()
        self._thread.join(timeout=2 * self._beat)

    def _run(self) -> None:
        while not self._ended.wait(self._beat):
            living = [number for number in self._workers() if number is not None]
            try:
                with connection.cursor() as cursor:
                    cursor.execute(
                        "UPDATE procrastinate_workers SET last_heartbeat = now() WHERE id = ANY(%s)", [living]
                    )
            except Exception as error:  # the database may be away; the queue says so and ends the worker
                log.warning("no sign of life could be given: %s", type(error).__name__)
                connection.close()
        connection.close()
