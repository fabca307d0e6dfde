"""Tasks on drawings, done by workers."""

from collections.abc import Callable
from typing import Any

from django.db import close_old_connections
from procrastinate.contrib.django import app

from server.drawings.geometry import derive_now
from server.drawings.models import Drawing
from server.drawings.publishing import publish as write
from server.jobs.models import Job
from server.jobs.running import run
from server.library.models import Blob


@app.task(name="derive_view", queue="views")
def derive_view(key: str) -> None:
    """Derive a view, unless nobody wants it any more."""
    close_old_connections()
    derive_now(key)


@app.task(name="publish", queue="work")
def publish(job_id: str) -> None:
    """Write sheets to a file."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(
            pk=job.data["drawing"], workspace=job.workspace
        )
        name, media_type, data = write(drawing, job.data["format"], job.data["sheets"], progress)
        return {"blob": Blob.store(data).pk, "name": name, "type": media_type}

    run(job_id, work)
