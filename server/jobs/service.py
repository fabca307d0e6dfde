"""Starting jobs: the row and the queue entry are made in one transaction, so neither is ever without the other."""

from typing import Any

from django.db import transaction
from procrastinate.tasks import Task

from server.accounts.models import Workspace
from server.jobs.models import Job


def start(task: "Task[Any, Any, Any]", workspace: Workspace, user: Any, kind: str, subject: str, data: dict[str, Any]) -> Job:
    with transaction.atomic():
        job = Job.objects.create(workspace=workspace, user=user, kind=kind, subject=subject[:200], data=data)
        task.defer(job_id=str(job.pk))
    return job


def refused(workspace: Workspace, user: Any, kind: str, subject: str, sentence: str) -> Job:
    """A job that failed before it began: shown like any other, nothing kept of its file."""
    return Job.objects.create(workspace=workspace, user=user, kind=kind, subject=subject[:200], state=Job.FAILED, text=sentence[:300])
