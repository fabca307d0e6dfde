"""Bringing in a model: from an uploaded file to a model with facts, prepared shapes and a preview."""

import io
import json
import re
import tempfile
import zipfile
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PureWindowsPath
from typing import Any

from django.conf import settings
from django.db import transaction

from drafting.child import FreshChildren, KernelChild, Progress
from drafting.errors import DraftingError, ModelError
from drafting.model.model import Facts
from drafting.model.references import models_referred
from server.accounts.models import Workspace
from server.library.models import Blob, Model, ModelVersion

FRESH = FreshChildren()
LONGEST_NAME = 200
"""Bytes of a file's name that are kept, from its end."""


def kind_of(file_name: str) -> str:
    ending = file_name.lower().rpartition(".")[2]
    return {"json": "recipe", "zip": "bundle"}.get(ending, "step")


def plain_name(file_name: str) -> str:
    """A user's file name, for sentences and for the file within a folder of its own: without folders, and
    without characters that a file system or the kernel may take for others."""
    base = re.sub(r"[^\w.()+ -]", "_", PureWindowsPath(file_name).name).strip(". ")
    return base.encode()[-LONGEST_NAME:].decode(errors="ignore") or "model"


def read_into(
    workspace: Workspace,
    file_name: str,
    source: bytes,
    progress: Progress = lambda done, text: None,
    child: KernelChild | None = None,
    siblings: Mapping[str, Any] | None = None,
) -> Model:
    """Read a file in a child process, one of its own unless given, and keep it as a new model.

    source: the file, or a zip of it and of the files it refers to. siblings: recipes by number that came with
    it and go before those of the workspace. Raises DraftingError; then nothing is kept.
    """
    if child is None:
        with FRESH.take() as own:
            return read_into(workspace, file_name, source, progress, own, siblings)
    kind = kind_of(file_name)
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
        path = Path(folder) / "source" / plain_name(file_name)
        path.parent.mkdir()
        path.write_bytes(source)
        recipes, archives = (
            _referred(workspace, source, siblings or {}, Path(folder)) if kind == "recipe" else ({}, {})
        )
        child.request(
            "read",
            settings.READ_SECONDS,
            progress,
            source=str(path),
            name=Path(file_name).stem[:120],
            kind=kind,
            folder=folder,
            root=file_name,
            recipes=recipes,
            archives=archives,
        )
        files = {
            name: (Path(folder) / name).read_bytes() for name in ("archive.zip", "facts.json", "preview.glb")
        }
    return _keep(workspace, file_name, kind, source, files)


def _referred(
    workspace: Workspace, source: bytes, siblings: Mapping[str, Any], folder: Path
) -> tuple[dict[str, Any], dict[str, str]]:
    """What a recipe refers to by number, on all levels: recipes as data, and the paths of packed models that
    came from STEP files."""
    found: dict[str, Any] = {}
    archives: dict[str, str] = {}
    waiting = models_referred(_as_data(source))
    while waiting:
        number = waiting.pop()
        if number in found or number in archives:
            continue
        if number in siblings:
            found[number] = siblings[number]
        else:
            model = Model.objects.filter(workspace=workspace, number=number).order_by("-created").first()
            if model is None:
                continue
            version = model.current()
            if version.source_kind == "recipe":
                found[number] = json.loads(version.source.content())
            else:
                archive = folder / f"{version.archive_id}.archive"
                archive.write_bytes(version.archive.content())
                archives[number] = str(archive)
                continue
        waiting += models_referred(found[number])
    return found, archives


def _as_data(source: bytes) -> Any:
    try:
        raw = json.loads(source)
    except (ValueError, RecursionError):
        return {}  # the reader says what is wrong
    return raw if isinstance(raw, dict) else {}


@dataclass(frozen=True)
class Found:
    """Files of a bundle that make one model (or recipes, in order): as read_into takes them."""

    kind: str
    file_name: str
    source: bytes


def sorted_out(name: str, source: bytes, progress: Progress) -> list[list[Found]]:
    """What a zip holds, one list for each job to be done. Raises DraftingError."""
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder, KernelChild() as child:
        path = Path(folder) / "bundle"
        path.write_bytes(source)
        progress(0.02, f"looking into {name}")
        groups = child.request("sort_out", settings.READ_SECONDS, source=str(path), folder=folder)
        out = []
        for group in groups:
            files = {member: (Path(folder) / member).read_bytes() for member in group["members"]}
            if group["kind"] == "recipe":
                out.append([Found("recipe", member, data) for member, data in files.items()])
            elif len(files) == 1:
                out.append([Found("step", group["root"], files[group["root"]])])
            else:
                out.append([Found("step", group["root"], zipped(files))])
    return out


def zipped(files: Mapping[str, bytes]) -> bytes:
    """Files as one zip, not packed any tighter."""
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w") as archive:
        for name, data in files.items():
            archive.writestr(name, data)
    return buffer.getvalue()


def read_recipes(workspace: Workspace, found: list[Found], progress: Progress) -> Model:
    """Read recipes that came together, parts before assemblies. Those read before one that fails are kept.
    Returns the last model."""
    siblings = {
        data["properties"]["number"]: data
        for f in found
        if isinstance((data := _as_data(f.source)).get("properties"), dict)
        and isinstance(data["properties"].get("number"), str)
    }
    model = None
    with KernelChild() as child:
        for n, f in enumerate(found):
            progress(n / len(found), f.file_name)
            try:
                model = read_into(workspace, f.file_name, f.source, child=child, siblings=siblings)
            except DraftingError as error:
                raise ModelError(f"{f.file_name}: {error}") from error
    assert model is not None
    return model


@transaction.atomic
def _keep(workspace: Workspace, file_name: str, kind: str, source: bytes, files: dict[str, bytes]) -> Model:
    facts = Facts.model_validate_json(files["facts.json"])
    model = Model.objects.create(
        workspace=workspace,
        name=facts.name[:120],
        number=_number(facts)[:60],
        kind=facts.kind,
        units=facts.units,
    )
    ModelVersion.objects.create(
        model=model,
        file_name=file_name[:200],
        source_kind=kind,
        source=Blob.store(source),
        archive=Blob.store(files["archive.zip"]),
        facts=Blob.store(files["facts.json"]),
        preview=Blob.store(files["preview.glb"]),
    )
    return model


def _number(facts: Facts) -> str:
    return facts.number or (next(iter(facts.parts.values())).number if facts.kind == "part" else "")
