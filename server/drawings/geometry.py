"""Derived views: asked for by key, derived by a worker in a child process, kept until dropped."""

import contextlib
import gzip
import hashlib
import os
import tempfile
import threading
from functools import lru_cache
from pathlib import Path

from django.conf import settings
from procrastinate.exceptions import AlreadyEnqueued

from drafting.child import KernelChild
from drafting.errors import DraftingError
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import Orientation
from server.drawings.models import DerivedView
from server.library.models import Blob, ModelVersion

ENGINE = "kernel-1"
"""Changes when derived views of old would no longer be what the engine gives."""


def geometry_key(version: ModelVersion, orientation: Orientation) -> str:
    """Hash of all that a view's geometry depends on."""
    turn = ",".join(f"{v + 0.0:.9f}" for v in (*orientation.right, *orientation.up))
    return hashlib.sha256(f"{ENGINE}|{version.archive_id}|{turn}".encode()).hexdigest()


def requested(version: ModelVersion, orientation: Orientation) -> DerivedView:
    """The derived view, put in the queue where it is not there yet. Its data is not loaded."""
    from server.jobs.tasks import derive_view

    key = geometry_key(version, orientation)
    row, made = DerivedView.objects.defer("data").get_or_create(
        key=key, defaults={"archive": version.archive_id, "orientation": orientation.model_dump()}
    )
    if made or row.state == DerivedView.WAITING:
        with contextlib.suppress(AlreadyEnqueued):
            derive_view.configure(queueing_lock=f"derive-{key}", priority=5).defer(key=key)
    return row


@lru_cache(maxsize=48)
def _parsed(key: str) -> ViewGeometry:
    row = DerivedView.objects.get(pk=key, state=DerivedView.READY)
    return ViewGeometry.model_validate_json(gzip.decompress(bytes(row.data or b"")))


def ready(key: str) -> ViewGeometry | None:
    """The geometry, if it has been derived."""
    try:
        return _parsed(key)
    except DerivedView.DoesNotExist:
        return None


_idle: list[KernelChild] = []
"""Children that keep their prepared models between views. Popping and appending are atomic, so threads may share the list."""


def derive_now(key: str) -> DerivedView:
    """Derive a view in a child process and keep it; a failure is kept as its sentence."""
    row = DerivedView.objects.get(pk=key)
    if row.state == DerivedView.READY:
        return row
    child = _idle.pop() if _idle else KernelChild()
    try:
        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
            archive, out = _archive_file(row.archive), Path(folder) / "view.json"
            child.request("derive", settings.DERIVE_SECONDS, archive=str(archive), orientation=row.orientation, out=str(out))
            row.data = gzip.compress(out.read_bytes(), 4)
        row.state, row.error = DerivedView.READY, ""
    except DraftingError as error:
        row.state, row.error = DerivedView.FAILED, str(error)[:400]
    finally:
        _idle.append(child)
    row.save()
    return row


def _archive_file(sha256: str) -> Path:
    """The packed model as a file of this machine, named by its content; the child keeps models by that name."""
    path = Path(tempfile.gettempdir()) / f"moorcrest-models-{os.getuid()}" / sha256
    if not path.exists():
        path.parent.mkdir(mode=0o700, exist_ok=True)
        part = path.with_name(f"{sha256}.{threading.get_ident()}")
        part.write_bytes(Blob.objects.get(pk=sha256).content())
        part.replace(path)
    return path
