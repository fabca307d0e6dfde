"""What shows an earlier version of a model, and bringing all of it along at once."""

import tempfile
import uuid
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status

from drafting.annotation import registry
from drafting.child import KernelChild, Progress
from drafting.commands.versions import BringAlong
from drafting.errors import DraftingError
from drafting.model.recipe import recipe_data
from server.accounts.access import owned
from server.drawings import service, store
from server.drawings.models import IN_WORK, Drawing
from server.drawings.showing import shown_facts
from server.jobs import service as jobs
from server.jobs.api import JobState
from server.library.models import Blob, Model
from server.library.reading import FRESH, read_into
from server.library.versions_api import ShownBy

router = Router(tags=["models"])


@dataclass(frozen=True)
class Behind:
    """What is behind a model's newest version. drawings: that show an earlier one; assemblies: that were
    built before it; parts: of an assembly, what came in after it was built."""

    drawings: list[Drawing]
    assemblies: list[Model]
    parts: list[Model]


def behind(model: Model) -> Behind:
    """What would be brought along."""
    current = model.current()
    drawings = [d for d in model.drawings.order_by("number", "name") if d.shows < current.number]
    others = list(Model.objects.filter(workspace=model.workspace_id).exclude(pk=model.pk))
    uses = _uses([model, *others])
    built = [m for m in others if model.number and model.number in uses.get(m.pk, ())]
    return Behind(
        drawings,
        [m for m in built if m.current().created < current.created],
        [m for m in others if m.number in uses.get(model.pk, ()) and m.current().created > current.created],
    )


def _uses(models: Sequence[Model]) -> dict[Any, set[str]]:
    """By assembly, the numbers of the models that its recipe refers to, on all levels."""
    direct: dict[Any, set[str]] = {}
    for model in models:
        version = model.current()
        if model.kind == "assembly" and version.source_kind == "recipe":
            direct[model.pk] = set(_numbers_in(version.source_id))
    by_number = {m.number: direct[m.pk] for m in models if m.number and m.pk in direct}
    out = {}
    for key, mine in direct.items():
        found, front = set(mine), set(mine)
        while front := {n for k in front for n in by_number.get(k, ())} - found:
            found |= front
        out[key] = found
    return out


@lru_cache(maxsize=256)
def _numbers_in(source: str) -> frozenset[str]:
    """What a recipe, by its hash, refers to by number."""
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name:
        raw = recipe_data(Blob.objects.get(pk=source).write_to(Path(name) / "recipe.json"))
    found: set[str] = set()
    waiting = [raw]
    while waiting:
        here = waiting.pop()
        for part in here.get("parts", {}).values():
            if isinstance(part, dict):
                waiting.append(part)
                found |= {part["model"]} if isinstance(part.get("model"), str) else set()
    return frozenset(found)


def brought(model: Model, user: Any, progress: Progress) -> str:
    """Build the assemblies of a model anew, and bring all drawings along that are in work. Returns what was
    done, in a sentence. Raises DraftingError."""
    found = behind(model)
    assemblies = found.assemblies + ([model] if found.parts else [])
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name, FRESH.take() as child:
        for n, one in enumerate(assemblies):
            progress(0.8 * n / len(assemblies), f"building {one}")
            _again(one, child, Path(name) / str(n), user)
    moved, stay, lost = 0, [], 0
    for drawing in [d for m in dict.fromkeys((model, *assemblies)) for d in behind(m).drawings]:
        if drawing.state != IN_WORK:
            stay.append(f"{drawing} (not in work)")
            continue
        command = BringAlong(command="bring_along", to=drawing.model.current().number)
        before = _lost_on(drawing)
        try:
            after, _, _ = service.apply(drawing.pk, None, command, user)
        except DraftingError as error:
            stay.append(f"{drawing} ({error})")
            continue
        lost += max(0, _lost_on(after) - before)
        moved += 1
    parts = [f"{moved} {'drawing' if moved == 1 else 'drawings'} brought along"]
    if assemblies:
        parts.append(f"{len(assemblies)} {'assembly' if len(assemblies) == 1 else 'assemblies'} built anew")
    if lost:
        parts.append(f"{lost} annotations lost what they are on")
    if stay:
        parts.append(f"as they were: {', '.join(stay)[:200]}")
    return f"{'; '.join(parts)}."


def _again(model: Model, child: KernelChild, folder: Path, user: Any) -> None:
    version = model.current()
    folder.mkdir()
    source = version.source.write_to(folder / "source.json")
    read_into(model.workspace, version.file_name, source, child=child, of=model, by=user)


def _lost_on(drawing: Drawing) -> int:
    document = store.document_of(drawing)
    _, facts = shown_facts(drawing)
    count = 0
    for sheet in document.sheets:
        for a in sheet.annotations:
            try:
                registry.ink(a, registry.context_of(document, sheet, a, facts))
            except DraftingError:
                count += 1
    return count


class Outdated(Schema):
    """What shows an earlier version of a model: drawings, and assemblies that were built before it; parts: of
    an assembly, what came in after it was built."""

    drawings: list[ShownBy]
    assemblies: list[str]
    parts: list[str]


@router.get("/{model_id}/outdated", response=Outdated)
def outdated(request: HttpRequest, model_id: uuid.UUID) -> Outdated:
    """What would be brought along."""
    found = behind(owned(request, Model.objects.all(), model_id))
    return Outdated(
        drawings=[ShownBy(id=d.pk, title=str(d)) for d in found.drawings],
        assemblies=[str(m) for m in found.assemblies],
        parts=[str(m) for m in found.parts],
    )


@router.post("/{model_id}/bring-all", response={202: JobState})
def bring_all(request: HttpRequest, model_id: uuid.UUID) -> Any:
    """Build the assemblies anew and bring all drawings along; the job says what was done."""
    model = owned(request, Model.objects.select_related("workspace"), model_id)
    data = {"model": str(model.pk)}
    return Status(
        202, jobs.start("bring_all_along", model.workspace, request.user, "along", str(model), data)
    )
