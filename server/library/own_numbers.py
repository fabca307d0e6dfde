"""What the numbers of a part's recipe decide by themselves: worked out once for each version that is asked
about."""

import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from drafting.child import Progress
from drafting.model.own_numbers import Decides
from server.jobs import service
from server.jobs.models import Job
from server.library.models import ModelVersion
from server.library.reading import FRESH

FORMAT = 1
"""Raised when what is worked out tells more or other than before."""


def known(version: ModelVersion) -> list[Decides] | None:
    """What is known of a version; None where it was not worked out yet."""
    own = version.told.get("own", {})
    return [Decides.model_validate(d) for d in own["decides"]] if own.get("format") == FORMAT else None


def start(version: ModelVersion, user: Any) -> Job:
    """A job that works it out, or the one that does so already."""
    workspace, subject = version.model.workspace, f"the numbers of {version.model}"
    busy = Job.objects.filter(
        workspace=workspace,
        kind="numbers",
        data__version=version.pk,
        state__in=(Job.WAITING, Job.RUNNING),
    ).first()
    return busy or service.start(
        "decide_numbers", workspace, user, "numbers", subject, {"version": version.pk}
    )


def decide(version: ModelVersion, progress: Progress) -> None:
    """Work it out and keep it with the version. Raises DraftingError."""
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, FRESH.take() as child:
        source = version.source.write_to(Path(folder) / "recipe.json")
        found = child.request("decide", settings.READ_SECONDS, progress, source=str(source))
    with transaction.atomic():
        now = ModelVersion.objects.select_for_update().get(pk=version.pk)
        now.told = {**now.told, "own": {"format": FORMAT, "decides": found}}
        now.save(update_fields=["told"])
