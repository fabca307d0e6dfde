"""Tasks on models, done by workers."""

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from procrastinate.contrib.django import app

from drafting.child import KernelChild
from server.jobs import service as jobs
from server.jobs.models import Job
from server.jobs.running import run
from server.library.models import Blob, Model
from server.library.reading import kind_of, read_into, read_recipes, sorted_out, zipped


@app.task(name="read_model", queue="work")
def read_model(job_id: str) -> None:
    """Read a file that came in, or sort out several that came together."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        name, source = job.data["file_name"], Blob.objects.get(pk=job.data["blob"]).content()
        if kind_of(name) != "bundle":
            return {"model": str(read_into(job.workspace, name, source, progress).pk)}
        groups = sorted_out(name, source, progress)
        if len(groups) == 1 and groups[0][0].kind == "recipe":
            return {"model": str(read_recipes(job.workspace, groups[0], progress).pk)}
        if len(groups) == 1:
            return {
                "model": str(
                    read_into(job.workspace, groups[0][0].file_name, groups[0][0].source, progress).pk
                )
            }
        with transaction.atomic():  # all of them or none, so that a second try starts none twice
            for found in groups:
                data = {"blob": Blob.store(zipped_again(found)).pk, "file_name": f"{found[-1].file_name}.zip"}
                jobs.start("read_model", job.workspace, job.user, "read", found[-1].file_name, data)
        return {"sorted": str(len(groups))}

    def zipped_again(found: list[Any]) -> bytes:
        one = found[0].source
        return one if one[:4] == b"PK\x03\x04" else zipped({f.file_name: f.source for f in found})

    run(job_id, work)


@app.task(name="write_step", queue="work")
def write_step(job_id: str) -> None:
    """Write a model as STEP from its prepared shapes."""

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
