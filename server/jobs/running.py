"""Running a job in a worker: its row tells progress and end; a sentence for the user ends there, never in a
log alone. A job whose row was taken away is stopped."""

import logging
from collections.abc import Callable
from typing import Any

from django.db import close_old_connections

from drafting.child import while_waiting
from drafting.errors import DraftingError
from server.jobs.alone import alone
from server.jobs.models import Job
from server.logs import told

log = logging.getLogger("moorcrest.jobs")


class Stopped(Exception):
    """The job was stopped by its user."""


def run(job_id: str, work: Callable[[Job, Callable[[float, str], None]], dict[str, Any]]) -> None:
    """Run a job's work, keeping its row true: running, progress, then done or failed with a sentence."""
    close_old_connections()
    with told(job=job_id), alone(f"job {job_id}") as mine:
        job = Job.objects.filter(pk=job_id).first()
        if mine and job is not None and job.state not in (Job.DONE, Job.FAILED):
            _run(job, work)


def _run(job: Job, work: Callable[[Job, Callable[[float, str], None]], dict[str, Any]]) -> None:
    row = Job.objects.filter(pk=job.pk)
    row.update(state=Job.RUNNING, text="starting")

    def progress(done: float, text: str) -> None:
        if not row.update(progress=round(done, 3), text=text[:300]):
            raise Stopped

    def wanted() -> None:
        if not row.exists():
            raise Stopped

    told = while_waiting.set(wanted)
    try:
        result = work(job, progress)
    except Stopped:
        log.info("job %s was stopped", job.pk)
    except DraftingError as error:
        row.update(state=Job.FAILED, text=str(error)[:300])
    except Exception:
        log.exception("job %s", job.pk)
        row.update(state=Job.FAILED, text="Something went wrong in Moorcrest itself; the log says what.")
    else:
        row.update(state=Job.DONE, progress=1.0, text="done", result=result)
    finally:
        while_waiting.reset(told)
