"""The tasks that worker processes do. A task writes its own progress row; a sentence for the user ends there, never in a log alone."""

import logging
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.db import close_old_connections, transaction
from procrastinate.contrib.django import app

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
        Job.objects.filter(pk=job_id).update(state=Job.FAILED, text="Something went wrong in Moorcrest itself; the log says what.")
    else:
        Job.objects.filter(pk=job_id).update(state=Job.DONE, progress=1.0, text="done", result=result)


@app.task(name="read_model", queue="work")
def read_model(job_id: str) -> None:
    from server.jobs import service
    from server.library.models import Blob
    from server.library.reading import kind_of, read_into, read_recipes, sorted_out

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        name, source = job.data["file_name"], Blob.objects.get(pk=job.data["blob"]).content()
        if kind_of(name) != "bundle":
            return {"model": str(read_into(job.workspace, name, source, progress).pk)}
        groups = sorted_out(name, source, progress)
        if len(groups) == 1 and groups[0][0].kind == "recipe":
            return {"model": str(read_recipes(job.workspace, groups[0], progress).pk)}
        if len(groups) == 1:
            return {"model": str(read_into(job.workspace, groups[0][0].file_name, groups[0][0].source, progress).pk)}
        with transaction.atomic():  # all of them or none, so that a second try starts none twice
            for found in groups:
                data = {"blob": Blob.store(zipped_again(found)).pk, "file_name": f"{found[-1].file_name}.zip"}
                service.start(read_model, job.workspace, job.user, "read", found[-1].file_name, data)
        return {"sorted": str(len(groups))}

    def zipped_again(found: list[Any]) -> bytes:
        from server.library.reading import zipped

        one = found[0].source
        return one if one[:4] == b"PK\x03\x04" else zipped({f.file_name: f.source for f in found})

    run(job_id, work)


@app.task(name="derive_view", queue="work")
def derive_view(key: str) -> None:
    from server.drawings.geometry import derive_now
    from server.drawings.models import DerivedView

    close_old_connections()
    if DerivedView.objects.filter(pk=key).exists():
        derive_now(key)


@app.task(name="publish", queue="work")
def publish(job_id: str) -> None:
    from server.drawings.models import Drawing
    from server.drawings.publishing import publish as write
    from server.library.models import Blob

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        drawing = Drawing.objects.select_related("model", "workspace").get(pk=job.data["drawing"], workspace=job.workspace)
        name, media_type, data = write(drawing, job.data["format"], job.data["sheets"], progress)
        return {"blob": Blob.store(data).pk, "name": name, "type": media_type}

    run(job_id, work)


@app.task(name="write_step", queue="work")
def write_step(job_id: str) -> None:
    """Write a model as STEP from its prepared shapes."""
    import tempfile
    from pathlib import Path

    from drafting.child import KernelChild
    from server.library.models import Blob, Model

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        model = Model.objects.get(pk=job.data["model"], workspace=job.workspace)
        progress(0.2, "writing the shapes")
        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, KernelChild() as child:
            archive, out = Path(folder) / "archive", Path(folder) / "model.step"
            archive.write_bytes(model.current().archive.content())
            child.request("write_step", settings.READ_SECONDS, archive=str(archive), out=str(out))
            blob = Blob.store(out.read_bytes())
        stem = str(model).replace("/", "-").replace(" ", "-")
        return {"blob": blob.pk, "name": f"{stem}.step", "type": "model/step"}

    run(job_id, work)
