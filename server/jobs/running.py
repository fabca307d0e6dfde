"""Running a job in a worker: its row tells progress and end; a sentence for the user ends there, never in a
log alone."""

import logging
from collections.abc import Callable
from typing import Any

from django.db import close_old_connections

from drafting.errors import DraftingError
from server.jobs.models import Job

log = logging.getLogger("moorcrest.jobs")


def run(job_id: str, work: Callable[[Job, Callable[[float, str], None]], dict[str, Any]]) -> None:
    """Run a job's work, keeping its row true: running, progress, then done or failed with a sentence."""
    close_old_connections()
    job = Job.objects.filter(pk=job_id).first()
    if job is None or job.state in (Job.DONE, Job.FAILED):
        return
    Job.objects.filter(pk=job_id).update(state=Job.RUNNING, text="starting")

    def progress(done: float, text: str) -> None:
        Job.objects.filter(pk=job_id).update(progress=round(done, 3), text=text[:300])

    try:
        result = work(job, progress)
    except DraftingError as error:
        Job.objects.filter(pk=job_id).update(state=Job.FAILED, text=str(error)[:300])
    except Exception:
        log.exception("job %s", job_id)
        Job.objects.filter(pk=job_id).update(
            state=Job.FAILED, text="Something went wrong in Moorcrest itself; the log says what."
        )
    else:
        Job.objects.filter(pk=job_id).update(state=Job.DONE, progress=1.0, text="done", result=result)
