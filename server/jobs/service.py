"""Starting jobs: the row and the queue entry are made in one transaction, so neither is ever without the
other."""

from typing import Any

from django.db import transaction

from server.accounts.models import Workspace
from server.jobs.models import Job
from server.jobs.queue import enqueue


def start(task: str, workspace: Workspace, user: Any, kind: str, subject: str, data: dict[str, Any]) -> Job:
    """A job done by the task of that name."""
    with transaction.atomic():
        job = Job.objects.create(workspace=workspace, user=user, kind=kind, subject=subject[:200], data=data)
        enqueue(task, workspace.pk, job_id=str(job.pk))
    return job


def refused(workspace: Workspace, user: Any, kind: str, subject: str, sentence: str) -> Job:
    """A job that failed before it began: shown like any other, nothing kept of its file."""
    return Job.objects.create(
        workspace=workspace,
        user=user,
        kind=kind,
        subject=subject[:200],
        state=Job.FAILED,
        text=sentence[:300],
    )
