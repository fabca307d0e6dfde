"""Derived views: asked for by key, derived by a worker in a child process, kept until dropped."""

import gzip
import os
import tempfile
import threading
from collections.abc import Sequence
from functools import lru_cache
from pathlib import Path

from django.conf import settings

from drafting.child import ChildEnded, KernelChild
from drafting.errors import DraftingError
from drafting.views.derivation import Derivation
from drafting.views.geometry import ViewGeometry
from server.drawings.models import DerivedView
from server.jobs.alone import alone
from server.jobs.queue import enqueue_once
from server.library.models import Blob, ModelVersion

ENGINE = "own-5"
"""Changes when derived views of old would no longer be what the engine gives."""


def geometry_key(version: ModelVersion, derivation: Derivation) -> str:
    """Hash of all that a view's geometry depends on."""
    return derivation.key(ENGINE, version.archive_id)


def requested(version: ModelVersion, derivation: Derivation) -> DerivedView:
    """The derived view, put in the queue where it is not there yet and not being derived. Its data is not
    loaded."""
    return requested_all(version, [derivation])[0]


def requested_all(version: ModelVersion, derivations: Sequence[Derivation]) -> list[DerivedView]:
    """The derived views in the order in which they are asked for, as `requested` does, by one query where all
    are there."""
    keys = [geometry_key(version, d) for d in derivations]
    lean = DerivedView.objects.defer("data", "rough")
    rows = lean.in_bulk(keys)
    for key, derivation in zip(keys, derivations, strict=True):
        if key not in rows:
            made = {"archive": version.archive_id, "derivation": derivation.model_dump(mode="json")}
            rows[key], _ = lean.get_or_create(key=key, defaults=made)
    for key in dict.fromkeys(keys):
        if rows[key].state == DerivedView.WAITING:
            enqueue_once("derive_view", f"derive-{key}", priority=5, key=key)
    return [rows[key] for key in keys]


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


def rough(key: str) -> ViewGeometry | None:
    """The rough geometry of a view that is still being derived, if there is one."""
    row = DerivedView.objects.filter(pk=key, state=DerivedView.WAITING).only("rough").first()
    return ViewGeometry.model_validate_json(gzip.decompress(bytes(row.rough))) if row and row.rough else None


_idle: list[KernelChild] = []
"""Children that keep their prepared models between views. Popping and appending are atomic, so threads may
share the list."""


def derive_now(key: str, wait: bool = False) -> None:
    """Derive a view in a child process and keep it; a failure is kept as its sentence. Done once, however
    many workers are asked to; a child that ends early is given a second try. wait: for another worker that is
    at it."""
    with alone(f"view {key}", wait) as mine:
        row = DerivedView.objects.filter(pk=key).first()
        if not mine or row is None or row.state == DerivedView.READY:
            return
        try:
            try:
                _derive(row)
            except ChildEnded:
                _derive(row)
            row.state, row.error = DerivedView.READY, ""
        except DraftingError as error:
            row.state, row.error = DerivedView.FAILED, str(error)[:400]
        row.save()


def _derive(row: DerivedView) -> None:
    child = _idle.pop() if _idle else KernelChild()
    try:
        with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
            out, first = Path(folder) / "view.json", Path(folder) / "rough.json"

            def keep_rough(done: float, text: str) -> None:
                DerivedView.objects.filter(pk=row.pk).update(rough=gzip.compress(first.read_bytes(), 1))

            child.request(
                "derive",
                settings.DERIVE_SECONDS,
                keep_rough,
                archive=str(_archive_file(row.archive)),
                derivation=row.derivation,
                out=str(out),
                rough=str(first),
            )
            row.data, row.rough = gzip.compress(out.read_bytes(), 4), None
    finally:
        _idle.append(child)


def again(key: str) -> None:
    """Derive a view that failed once more."""
    if DerivedView.objects.filter(pk=key, state=DerivedView.FAILED).update(
        state=DerivedView.WAITING, error=""
    ):
        enqueue_once("derive_view", f"derive-{key}", priority=5, key=key)


def _archive_file(sha256: str) -> Path:
    """The packed model as a file of this machine, named by its content; the child keeps models by that
    name."""
    path = Path(tempfile.gettempdir()) / f"moorcrest-models-{os.getuid()}" / sha256
    if not path.exists():
        path.parent.mkdir(mode=0o700, exist_ok=True)
        part = path.with_name(f"{sha256}.{threading.get_ident()}")
        Blob.objects.get(pk=sha256).write_to(part)
        part.replace(path)
    return path
