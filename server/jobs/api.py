"""Jobs of the workspace: progress, results, and clearing away."""

import datetime
import uuid
from typing import Any

from django.db.models import Q
from django.http import Http404, HttpRequest
from django.http.response import HttpResponseBase
from django.utils import timezone
from ninja import Router, Schema, Status

from server.accounts.access import owned, workspace_of
from server.downloads import attachment, file_response
from server.jobs.models import Job
from server.library.models import Blob

router = Router(tags=["jobs"])
RECENT = datetime.timedelta(minutes=10)


class JobState(Schema):
    id: uuid.UUID
    kind: str
    subject: str
    state: str
    progress: float
    text: str
    result: dict[str, str]


@router.get("", response=list[JobState])
def jobs(request: HttpRequest) -> list[Job]:
    """Jobs under way, and those that ended lately."""
    recent = Q(state__in=[Job.WAITING, Job.RUNNING]) | Q(updated__gt=timezone.now() - RECENT)
    return list(Job.objects.filter(recent, workspace=workspace_of(request)).order_by("-created")[:50])


@router.get("/{job_id}", response=JobState)
def job(request: HttpRequest, job_id: uuid.UUID) -> Job:
    return owned(request, Job.objects.all(), job_id)


@router.get("/{job_id}/file")
def job_file(request: HttpRequest, job_id: uuid.UUID) -> HttpResponseBase:
    """The file a finished job made."""
    row = owned(request, Job.objects.all(), job_id)
    blob = Blob.objects.filter(pk=row.result.get("blob", "")).first()
    if blob is None:
        raise Http404("This job has made no file.")
    response = file_response(blob, row.result["type"])
    response["Content-Disposition"] = attachment(row.result["name"])
    response["Content-Security-Policy"] = (
        "default-src 'none'; style-src 'unsafe-inline'; font-src data:; sandbox"
    )
    return response


@router.delete("/{job_id}", response={204: None})
def dismiss(request: HttpRequest, job_id: uuid.UUID) -> Status[Any]:
    """Clear an ended job away, or stop one that waits or runs: its worker ends it within seconds."""
    owned(request, Job.objects.all(), job_id).delete()
    return Status(204, None)
