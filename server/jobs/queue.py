"""Putting work into the queue, by the name of its task, so that who asks for work need not know who does
it."""

import contextlib
from typing import Any

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

QUEUE = "work"


def enqueue(task: str, **arguments: Any) -> None:
    """Have a task done by a worker. Within a transaction it is done only if that is kept."""
    app.configure_task(task, queue=QUEUE).defer(**arguments)


def enqueue_once(task: str, name: str, priority: int = 0, **arguments: Any) -> None:
    """The same, unless a task of that name waits or is being done."""
    if ProcrastinateJob.objects.filter(queueing_lock=name, status__in=("todo", "doing")).exists():
        return
    with contextlib.suppress(AlreadyEnqueued):
        app.configure_task(task, queue=QUEUE, queueing_lock=name, lock=name, priority=priority).defer(
            **arguments
        )
