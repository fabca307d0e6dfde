"""Putting work into the queue, by the name of its task, so that who asks for work need not know who does
it."""

import contextlib
import random
from typing import Any

from procrastinate.contrib.django import app
from procrastinate.contrib.django.models import ProcrastinateJob
from procrastinate.exceptions import AlreadyEnqueued

WORK, VIEWS = "work", "views"
"""Queues with places of their own, so that reading files never keeps anybody from seeing views."""
SHARE = 2
"""Places of a queue that one workspace may take at once."""


def enqueue(task: str, workspace: object, **arguments: Any) -> None:
    """Have a task done by a worker, no more than SHARE of a workspace at once. Within a transaction it is
    done only if that is kept."""
    place = random.randrange(SHARE)
    app.configure_task(task, queue=WORK, lock=f"{workspace} {place}").defer(**arguments)


def enqueue_once(task: str, name: str, priority: int = 0, **arguments: Any) -> None:
    """The same, unless a task of that name waits or is being done."""
    if ProcrastinateJob.objects.filter(queueing_lock=name, status__in=("todo", "doing")).exists():
        return
    with contextlib.suppress(AlreadyEnqueued):
        app.configure_task(task, queue=VIEWS, queueing_lock=name, lock=name, priority=priority).defer(
            **arguments
        )
