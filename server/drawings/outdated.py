"""What shows an earlier version of a model, and bringing all of it along at once."""

import tempfile
import uuid
from pathlib import Path
from typing import Any

from django.http import HttpRequest
from ninja import Router, Schema, Status

from drafting.annotation import registry
from drafting.child import KernelChild, Progress
from drafting.commands.versions import BringAlong
from drafting.errors import DraftingError
from server.accounts.access import owned
from server.drawings import service, store
from server.drawings.models import IN_WORK, Drawing
from server.drawings.showing import shown_facts
from server.jobs import service as jobs
from server.jobs.api import JobState
from server.library.facts import facts_of
from server.library.models import Model
from server.library.reading import FRESH, read_into
from server.library.versions_api import ShownBy

router = Router(tags=["models"])


def behind(model: Model) -> tuple[list[Drawing], list[Model]]:
    """The drawings that show an earlier version of a model, and the assemblies that were built before it."""
    current = model.current()
    drawings = [d for d in model.drawings.order_by("number", "name") if d.shows < current.number]
    return drawings, _assemblies(model) if model.number else []


def _assemblies(model: Model) -> list[Model]:
    out = []
    made = model.current().created
    for other in Model.objects.filter(workspace=model.workspace, kind="assembly"):
        version = other.current()
        if version.source_kind != "recipe" or version.created > made:
            continue
        if model.number in {p.number for p in facts_of(version).parts.values()}:
            out.append(other)
    return out


def brought(model: Model, user: Any, progress: Progress) -> str:
    """Build the assemblies of a model anew, and bring all drawings along that are in work. Returns what was
    done, in a sentence. Raises DraftingError."""
    _, assemblies = behind(model)
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name, FRESH.take() as child:
        for n, one in enumerate(assemblies):
            progress(0.8 * n / len(assemblies), f"building {one}")
            _again(one, child, Path(name) / str(n), user)
    moved, stay, lost = 0, [], 0
    for drawing in [d for m in (model, *assemblies) for d in behind(m)[0]]:
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
    """What shows an earlier version of a model: drawings, and assemblies that were built before it."""

    drawings: list[ShownBy]
    assemblies: list[str]


@router.get("/{model_id}/outdated", response=Outdated)
def outdated(request: HttpRequest, model_id: uuid.UUID) -> Outdated:
    """What would be brought along."""
    drawings, assemblies = behind(owned(request, Model.objects.all(), model_id))
    return Outdated(
        drawings=[ShownBy(id=d.pk, title=str(d)) for d in drawings], assemblies=[str(m) for m in assemblies]
    )


@router.post("/{model_id}/bring-all", response={202: JobState})
def bring_all(request: HttpRequest, model_id: uuid.UUID) -> Any:
    """Build the assemblies anew and bring all drawings along; the job says what was done."""
    model = owned(request, Model.objects.select_related("workspace"), model_id)
    data = {"model": str(model.pk)}
    return Status(
        202, jobs.start("bring_all_along", model.workspace, request.user, "along", str(model), data)
    )
