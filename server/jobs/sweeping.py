"""Sweeping away what nobody needs any more: ended jobs, bytes that nothing refers to, views of models that
are gone, sessions and links that ended, failed log-ins, and folders that killed processes left."""

import datetime
import shutil
import tempfile
import time
from pathlib import Path

from axes.models import AccessAttempt
from django.contrib.sessions.models import Session
from django.db import close_old_connections
from django.db.models import Q
from django.utils import timezone

from server.accounts.models import Invitation
from server.drawings.models import DerivedView
from server.jobs.alone import alone
from server.jobs.models import Job
from server.library.models import Blob, BlobPiece, ModelVersion

JOBS_KEPT = datetime.timedelta(days=2)
"""After their end, with the files that they made."""
BLOBS_KEPT = datetime.timedelta(hours=2)
"""Since they were last stored: whoever stores them refers to them a moment later."""
ATTEMPTS_KEPT = datetime.timedelta(days=1)
"""Of failed log-ins; they count for a quarter of an hour."""
FOLDERS_KEPT = 2 * 3600
"""Seconds; no request works for longer in a folder of its own."""
COPIES_KEPT = 7 * 24 * 3600
"""Seconds since a copy of a model was last used for a view."""


def sweep() -> dict[str, int]:
    """How many of each were swept away. One worker at a time does it."""
    close_old_connections()
    with alone("sweep") as mine:
        if not mine:
            return {}
        now = timezone.now()
        ended = Job.objects.filter(state__in=[Job.DONE, Job.FAILED], updated__lt=now - JOBS_KEPT)
        out = {"jobs": ended.delete()[0]}
        used = {key for row in Job.objects.values_list("data__blob", "result__blob") for key in row if key}
        used |= _referred_to()
        gone = Q(used__lt=now - BLOBS_KEPT) & ~Q(pk__in=used)
        out["blobs"] = Blob.objects.filter(gone).delete()[1].get("library.Blob", 0)
        archives = ModelVersion.objects.values("archive_id")
        out["views"] = DerivedView.objects.exclude(archive__in=archives).delete()[0]
        out["links"] = Invitation.objects.filter(expires__lt=now).delete()[0]
        out["attempts"] = AccessAttempt.objects.filter(attempt_time__lt=now - ATTEMPTS_KEPT).delete()[0]
        out["sessions"] = Session.objects.filter(expire_date__lt=now).delete()[0]
    out["folders"] = _folders()
    return out


def _referred_to() -> set[str]:
    """Keys of the bytes that any row of the database refers to, whatever it is a row of."""
    out: set[str] = set()
    for field in Blob._meta.get_fields(include_hidden=True):
        if field.auto_created and not field.concrete and field.related_model is not BlobPiece:
            held = field.field.attname  # type: ignore[union-attr]
            rows = field.related_model._base_manager.exclude(**{held: None})  # type: ignore[union-attr]
            out |= set(rows.values_list(held, flat=True))
    return out


def _folders() -> int:
    count = 0
    for path in Path(tempfile.gettempdir()).glob("moorcrest-*"):
        try:
            if path.name.startswith("moorcrest-models-"):
                old = [f for f in path.iterdir() if time.time() - f.stat().st_atime > COPIES_KEPT]
                for file in old:
                    file.unlink(missing_ok=True)
                count += len(old)
            elif path.is_dir() and time.time() - path.stat().st_mtime > FOLDERS_KEPT:
                shutil.rmtree(path, ignore_errors=True)
                count += 1
        except OSError:
            continue  # another's, or gone meanwhile
    return count
