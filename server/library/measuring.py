"""Volumes of models that were in use before they were measured."""

import tempfile
from pathlib import Path

from django.conf import settings
from django.db import transaction

from drafting.child import KernelChild, Progress
from drafting.errors import DraftingError
from drafting.model.model import FACTS_FORMAT
from server.jobs import service as jobs
from server.jobs.models import Job
from server.library.facts import facts_of
from server.library.models import Blob, Model, ModelVersion


def start(model: Model, user: object) -> Job:
    """A job that measures a model."""
    data = {"version": model.current().pk}
    return jobs.start("measure_model", model.workspace, user, "measure", str(model), data)


def is_under_way(version: ModelVersion) -> bool:
    """Whether a job measures a version, or will."""
    return Job.objects.filter(
        kind="measure", state__in=(Job.WAITING, Job.RUNNING), data__version=version.pk
    ).exists()


def start_for_older() -> int:
    """A job for each model whose facts are of an older format; how many."""
    count = 0
    for model in Model.objects.filter(versions__facts_format__lt=FACTS_FORMAT).distinct():
        version = model.current()
        if version.facts_format < FACTS_FORMAT and not is_under_way(version):
            start(model, None)
            count += 1
    return count


def measure(version: ModelVersion, progress: Progress = lambda done, text: None) -> None:
    """Measure a version, tell its facts anew where they are of an older format, and keep what was found;
    where the kernel cannot, a note says so. Does nothing for one that is measured."""
    version.refresh_from_db(fields=["facts", "facts_format"])
    before = facts_of(version)
    is_measured = all(p.volume is not None for p in before.parts.values())
    if is_measured and version.facts_format == FACTS_FORMAT:
        return
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, KernelChild() as child:
        archive, out = Path(folder) / "archive", Path(folder) / "facts.json"
        version.archive.write_to(archive)
        try:
            child.request("measure", settings.READ_SECONDS, progress, archive=str(archive), out=str(out))
        except DraftingError as error:
            after = before if is_measured else before.unmeasurable(str(error))
            out.write_text(after.model_dump_json())
        with transaction.atomic():
            ModelVersion.objects.filter(pk=version.pk).update(
                facts=Blob.of_file(out), facts_format=FACTS_FORMAT
            )
    version.refresh_from_db(fields=["facts", "facts_format"])
