"""Bringing in a model: from an uploaded file to a model with facts, prepared shapes and a preview."""

import json
import tempfile
from pathlib import Path
from typing import Any

from django.conf import settings
from django.db import transaction

from drafting.child import KernelChild, Progress
from drafting.model.model import Facts
from drafting.model.recipe import AssemblyRecipe, ModelReference, parse_recipe
from server.accounts.models import Workspace
from server.library.models import Blob, Model, ModelVersion


def kind_of(file_name: str) -> str:
    return "recipe" if file_name.lower().endswith(".json") else "step"


def read_into(
    workspace: Workspace, file_name: str, source: bytes, progress: Progress = lambda done, text: None, child: KernelChild | None = None
) -> Model:
    """Read a file in a child process, one of its own unless given, and keep it as a new model.

    Raises DraftingError; then nothing is kept.
    """
    if child is None:
        with KernelChild() as own:
            return read_into(workspace, file_name, source, progress, own)
    kind = kind_of(file_name)
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as folder:
        path = Path(folder) / ("model.json" if kind == "recipe" else "model.step")
        path.write_bytes(source)
        child.request(
            "read", settings.READ_SECONDS, progress, source=str(path), name=Path(file_name).stem[:120], kind=kind, folder=folder,
            parts=_referred(workspace, source) if kind == "recipe" else {},
        )  # fmt: skip
        files = {name: (Path(folder) / name).read_bytes() for name in ("archive.zip", "facts.json", "preview.glb")}
    return _keep(workspace, file_name, kind, source, files)


def _referred(workspace: Workspace, source: bytes) -> dict[str, Any]:
    """Recipes of the workspace's parts that an assembly recipe refers to by number."""
    recipe = parse_recipe(source)
    if not isinstance(recipe, AssemblyRecipe):
        return {}
    wanted = {p.model for p in recipe.parts.values() if isinstance(p, ModelReference)}
    found: dict[str, Any] = {}
    for model in Model.objects.filter(workspace=workspace, number__in=wanted):
        version = model.current()
        if version.source_kind == "recipe":
            found[model.number] = json.loads(version.source.content())
    return found


@transaction.atomic
def _keep(workspace: Workspace, file_name: str, kind: str, source: bytes, files: dict[str, bytes]) -> Model:
    facts = Facts.model_validate_json(files["facts.json"])
    model = Model.objects.create(workspace=workspace, name=facts.name[:120], number=_number(facts)[:60], kind=facts.kind, units=facts.units)
    ModelVersion.objects.create(
        model=model, file_name=file_name[:200], source_kind=kind, source=Blob.store(source), archive=Blob.store(files["archive.zip"]),
        facts=Blob.store(files["facts.json"]), preview=Blob.store(files["preview.glb"]),
    )  # fmt: skip
    return model


def _number(facts: Facts) -> str:
    return facts.number or (next(iter(facts.parts.values())).number if facts.kind == "part" else "")
