"""What is swept away, and that nothing else is."""

import datetime
import os
import tempfile
import time
from pathlib import Path
from typing import Any

import pytest
from axes.models import AccessAttempt
from django.contrib.sessions.models import Session
from django.utils import timezone

from drafting.views.derivation import Derivation
from drafting.views.orientation import PRINCIPAL
from server.accounts.membership import invite
from server.accounts.models import Invitation
from server.drawings import geometry
from server.drawings.models import DerivedView
from server.jobs import sweeping
from server.jobs.models import Job
from server.library.models import Blob, BlobPiece, Model

OLD = timezone.now() - datetime.timedelta(days=3)


def test_only_what_nobody_needs_is_swept_away(
    office: Any, bearing: Model, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sweeping, "close_old_connections", lambda: None)
    monkeypatch.setattr(geometry, "enqueue_once", lambda *_, **__: None)
    monkeypatch.setattr(tempfile, "gettempdir", lambda: str(tmp_path))
    of_model = set(Blob.objects.values_list("pk", flat=True))
    forgotten, waited_for, made, fresh = (Blob.store(name) for name in (b"a", b"b", b"c", b"d"))
    Blob.objects.exclude(pk=fresh.pk).update(used=OLD)
    jobs = [
        Job.objects.create(workspace=office, kind="read", state=Job.WAITING, data={"blob": waited_for.pk}),
        Job.objects.create(workspace=office, kind="publish", state=Job.DONE, result={"blob": made.pk}),
        Job.objects.create(workspace=office, kind="read", state=Job.FAILED),
    ]
    Job.objects.filter(pk=jobs[2].pk).update(updated=OLD)
    view = geometry.requested(bearing.current(), Derivation(orientation=PRINCIPAL["front"]))
    DerivedView.objects.create(key="x", archive="0" * 64, derivation={})
    Session.objects.create(session_key="old", session_data="", expire_date=OLD)
    invite(office, "C. Beck", "drafter")
    old_link, _ = invite(office, "D. Beck", "drafter")
    Invitation.objects.filter(pk=old_link.pk).update(expires=OLD)
    for name in ("now", "then"):
        AccessAttempt.objects.create(username=name, ip_address="198.51.100.7", failures_since_start=1)
    AccessAttempt.objects.filter(username="then").update(attempt_time=OLD)
    left, busy, others = (tmp_path / name for name in ("moorcrest-left", "moorcrest-busy", "somebody"))
    copies = tmp_path / "moorcrest-models-0"
    for folder in (left, busy, others, copies):
        folder.mkdir()
    (left / "big.step").write_bytes(b"x")
    (copies / "recent").write_bytes(b"x")
    (copies / "unused").write_bytes(b"x")
    for path in (left, others, copies / "unused"):
        os.utime(path, (time.time() - 30 * 24 * 3600,) * 2)

    counts = {"jobs": 1, "blobs": 1, "views": 1, "links": 1, "attempts": 1, "sessions": 1, "folders": 2}
    assert sweeping.sweep() == counts
    kept = set(Blob.objects.values_list("pk", flat=True))
    assert kept == of_model | {waited_for.pk, made.pk, fresh.pk}
    assert forgotten.pk not in set(BlobPiece.objects.values_list("blob_id", flat=True))
    assert list(DerivedView.objects.values_list("pk", flat=True)) == [view.pk]
    assert sorted(p.name for p in tmp_path.iterdir()) == ["moorcrest-busy", "moorcrest-models-0", "somebody"]
    assert [p.name for p in copies.iterdir()] == ["recent"]
    assert sweeping.sweep() == dict.fromkeys(counts, 0)
    assert (Invitation.objects.count(), AccessAttempt.objects.count()) == (1, 1)


def test_bytes_that_are_stored_again_are_not_swept_away(db: Any, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(sweeping, "close_old_connections", lambda: None)
    blob = Blob.store(b"again")
    Blob.objects.update(used=OLD)
    Blob.store(b"again")
    sweeping.sweep()
    assert blob.content() == b"again"
    assert Blob.objects.count() == 1
