"""Tasks on models, done by workers."""

import tempfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction
from procrastinate.contrib.django import app

from drafting.child import KernelChild
from drafting.errors import ModelError
from server.jobs import service as jobs
from server.jobs.models import Job
from server.jobs.running import run
from server.library import measuring, own_numbers, versions
from server.library.models import Blob, Model, ModelVersion
from server.library.reading import Found, kind_of, read_into, read_recipes, sorted_out


@app.task(name="read_model", queue="work")
def read_model(job_id: str) -> None:
    """Read a file that came in, or sort out several that came together."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        name = job.data["file_name"]

        of = Model.objects.filter(workspace=job.workspace, pk=job.data.get("of")).first()
        if job.data.get("of") and of is None:
            raise ModelError("The model was removed meanwhile.")

        def later(model: Model) -> None:
            measuring.start(model, job.user)

        def read(file_name: str, path: Path) -> dict[str, Any]:
            model = read_into(
                job.workspace, file_name, path, progress, measure_later=later, of=of, by=job.user
            )
            like = _like(model) if of is None else ""
            told = {
                "like": like,
                "as": f"the number {model.number}" if model.number else f"the name {model.name}",
            }
            return {"model": str(model.pk)} | (told if like else {})

        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
            source = Blob.objects.get(pk=job.data["blob"]).write_to(Path(folder) / "source")
            if kind_of(name) != "bundle":
                return read(name, source)
            unpacked = Path(folder) / "files"
            unpacked.mkdir()
            groups = sorted_out(name, source, unpacked, progress)
            if of is not None and (len(groups) > 1 or len(groups[0].numbers) > 1):
                raise ModelError("These files are several models; a version is one.")
            if len(groups) > 1:
                return {"sorted": _started(job, groups, Path(folder))}
            found = groups[0]
            if found.kind == "recipe" and of is None:
                return {"model": str(read_recipes(job.workspace, found, progress, later).pk)}
            return read(found.root, found.source(Path(folder)))

    run(job_id, work)


def _like(model: Model) -> str:
    """The model that a new one may be a version of: with its number, else its name; empty for none."""
    others = Model.objects.filter(workspace=model.workspace, kind=model.kind).exclude(pk=model.pk)
    same = others.filter(number=model.number) if model.number else others.filter(name=model.name)
    found = same.order_by("-created").first()
    return str(found.pk) if found else ""


@app.task(name="adopt_model", queue="work")
def adopt_model(job_id: str) -> None:
    """Make a model that just came in the next version of another."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        own = Model.objects.filter(workspace=job.workspace)
        of, fresh = own.filter(pk=job.data["of"]).first(), own.filter(pk=job.data["fresh"]).first()
        if of is None or fresh is None:
            raise ModelError("The model was removed meanwhile.")
        return {"model": str(versions.adopt(of, fresh, job.user, progress).pk)}

    run(job_id, work)


@transaction.atomic  # all of them or none, so that a second try starts none twice
def _started(job: Job, groups: list[Found], folder: Path) -> str:
    """A job for each of several models that came together; how many."""
    for found in groups:
        data = {"blob": Blob.of_file(found.zipped(folder)).pk, "file_name": f"{found.root}.zip"}
        jobs.start("read_model", job.workspace, job.user, "read", found.root, data)
    return str(len(groups))


@app.task(name="measure_model", queue="work")
def measure_model(job_id: str) -> None:
    """Measure a model that is in use already."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        version = ModelVersion.objects.filter(pk=job.data["version"], model__workspace=job.workspace).first()
        if version is not None:  # it may have been removed meanwhile
            measuring.measure(version, progress)
        return {}

    run(job_id, work)


@app.task(name="decide_numbers", queue="work")
def decide_numbers(job_id: str) -> None:
    """Work out what the numbers of a part's recipe decide."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        version = ModelVersion.objects.filter(pk=job.data["version"], model__workspace=job.workspace).first()
        if version is None:
            raise ModelError("The model was removed meanwhile.")
        own_numbers.decide(version, progress)
        return {}

    run(job_id, work)


@app.task(name="write_step", queue="work")
def write_step(job_id: str) -> None:
    """Write a model as STEP from its prepared shapes."""

    def work(job: Job, progress: Callable[[float, str], None]) -> dict[str, Any]:
        model = Model.objects.get(pk=job.data["model"], workspace=job.workspace)
        progress(0.2, "writing the shapes")
        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, KernelChild() as child:
            archive, out = Path(folder) / "archive", Path(folder) / "model.step"
            model.current().archive.write_to(archive)
            child.request("write_step", settings.READ_SECONDS, archive=str(archive), out=str(out))
            blob = Blob.of_file(out)
        stem = str(model).replace("/", "-").replace(" ", "-")
        return {"blob": blob.pk, "name": f"{stem}.step", "type": "model/step"}

    run(job_id, work)
