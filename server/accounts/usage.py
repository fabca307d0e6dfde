"""What a workspace holds and has under way, for its owners."""

from django.db.models import Count, Q, Sum
from ninja import Schema

from server.accounts.models import Workspace
from server.drawings.models import Drawing
from server.jobs.models import Job
from server.library.models import Blob, Model, ModelVersion


class Usage(Schema):
    """Counts, and bytes: of models' files as they came with what was prepared from them, and of views that
    were derived."""

    models: int
    versions: int
    drawings: int
    model_bytes: int
    file_bytes: int
    """Of files that jobs brought in or made, until they are swept away."""
    jobs_waiting: int
    jobs_running: int
    jobs_failed: int
    """Lately: ended jobs are kept for two days."""


def usage_of(workspace: Workspace) -> Usage:
    versions = ModelVersion.objects.filter(model__workspace=workspace)
    kept = {key for row in versions.values_list("source", "archive", "facts", "preview") for key in row}
    jobs = Job.objects.filter(workspace=workspace)
    brought = {key for row in jobs.values_list("data__blob", "result__blob") for key in row if key} - kept
    states = jobs.aggregate(
        waiting=Count("pk", Q(state=Job.WAITING)),
        running=Count("pk", Q(state=Job.RUNNING)),
        failed=Count("pk", Q(state=Job.FAILED)),
    )

    def size(keys: set[str]) -> int:
        return int(Blob.objects.filter(pk__in=keys).aggregate(all=Sum("size"))["all"] or 0)

    return Usage(
        models=Model.objects.filter(workspace=workspace).count(),
        versions=versions.count(),
        drawings=Drawing.objects.filter(workspace=workspace).count(),
        model_bytes=size(kept),
        file_bytes=size(brought),
        jobs_waiting=states["waiting"],
        jobs_running=states["running"],
        jobs_failed=states["failed"],
    )
