"""Tasks on drawings, done by workers."""

import tempfile
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from django.db import close_old_connections
from procrastinate.contrib.django import app

from server.drawings import (
    completeness,
    findings,
    outdated,
    placed,
    proposal,
    releasing,
    resizing,
    worked_out,
)
from server.drawings.geometry import derive_now
from server.drawings.models import Drawing
from server.drawings.publishing import publish as write
from server.jobs.models import Job
from server.jobs.running import run
from server.library.models import Blob, Model


@app.task(name="derive_view", queue="views")
def derive_view(key: str) -> None:
    """Derive a view, unless nobody wants it any more."""
    close_old_connections()
    derive_now(key)


@app.task(name="read_placed", queue="work")
def read_placed(job_id: str) -> None:
    """Clean a picture or read a drawing of old."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
            source = Blob.objects.get(pk=job.data["blob"]).write_to(Path(folder) / "source")
            row = placed.take(job.workspace, job.data["file_name"], source, progress)
        told = {k: str(row.told[k]) for k in ("unit", "wide", "high", "pieces") if k in row.told}
        return {"file": row.blob_id, "kind": row.kind, "name": row.name, **told}

    run(job_id, work)


@app.task(name="publish", queue="work")
def publish(job_id: str) -> None:
    """Write sheets to a file."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(
            pk=job.data["drawing"], workspace=job.workspace
        )
        left_out: list[str] = []
        name, media_type, data = write(
            drawing, job.data["format"], job.data["sheets"], progress, left_out=left_out
        )
        left_out.append(findings.in_words(findings.of_drawing(drawing, is_here=False)))
        said = " ".join(filter(None, left_out))
        warning = {"warning": said} if said else {}
        return {"blob": Blob.store(data).pk, "name": name, "type": media_type, **warning}

    run(job_id, work)


@app.task(name="work_out", queue="work")
def work_out(job_id: str) -> None:
    """Work out what a large drawing says, or what it could say."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(
            pk=job.data["drawing"], workspace=job.workspace
        )
        question = {"said": completeness.work_out, "proposal": proposal.work_out}[job.data["what"]]
        return worked_out.work_out(job, drawing, partial(question, progress=progress))

    run(job_id, work)


@app.task(name="release_drawing", queue="work")
def release_drawing(job_id: str) -> None:
    """Write a drawing's files and release it."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(
            pk=job.data["drawing"], workspace=job.workspace
        )
        made = releasing.release(drawing, job.data["version"], job.user, job.data["note"], progress)
        return {"mark": made.mark}

    run(job_id, work)


@app.task(name="resize_model", queue="work")
def resize_model(job_id: str) -> None:
    """Change a recipe so that a size of a drawing has a value."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(
            pk=job.data["drawing"], workspace=job.workspace
        )
        said = resizing.resize(drawing, job.data["annotation"], job.data["value"], job.user, progress)
        return {"said": said}

    run(job_id, work)


@app.task(name="bring_all_along", queue="work")
def bring_all_along(job_id: str) -> None:
    """Bring along all that shows an earlier version of a model."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        model = Model.objects.get(pk=job.data["model"], workspace=job.workspace)
        return {"said": outdated.brought(model, job.user, progress)}

    run(job_id, work)
