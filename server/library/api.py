"""Models: bring in, look at, choose a direction, remove."""

import tempfile
import uuid
from collections.abc import Sequence
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db import transaction
from django.db.models import Count, ProtectedError
from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from drafting.commands.parts import priced, weighed
from drafting.errors import DraftingError, ModelError
from drafting.export.thumbnail import thumbnail_svg
from drafting.features.saying import said_processes, said_threads
from drafting.memory import Memory
from drafting.model import bill, exploded
from drafting.model.alike import same_shapes
from drafting.model.model import FACTS_FORMAT, ExplodedState, Facts, ProcessFact, ThreadFact, TreeNode
from drafting.text import one_line
from drafting.views.derivation import Derivation
from drafting.views.orientation import PRINCIPAL, isometric
from server.accounts.access import owned, workspace_of
from server.downloads import file_response
from server.drawings.geometry import ready, requested
from server.errors import NotYet, Problem
from server.jobs import service
from server.jobs.api import JobState
from server.library import measuring
from server.library.facts import current_facts, facts_of
from server.library.holes import (
    FeatureRow,
    HoleRow,
    datum_list,
    feature_list,
    hole_rows,
    shaft_rows,
    symmetry_words,
    typed_length,
)
from server.library.models import Blob, Model, ModelVersion, PartProperties
from server.library.reading import zip_into
from server.library.uploads import checked

router = Router(tags=["models"])
MOST_FILES = 500
"""Brought in together."""


class ModelCard(Schema):
    id: uuid.UUID
    name: str
    number: str
    kind: str
    units: str
    updated: str
    drawings: int


class DrawingLink(Schema):
    id: uuid.UUID
    name: str
    number: str


class PartRow(Schema):
    """A distinct part: count of instances, mass in kg, size in mm."""

    key: str
    name: str
    number: str
    description: str
    material: str
    finish: str
    supplier: str
    make: str
    unit_cost: float | None
    counted: str
    sectioned: str
    stated_mass: float | None
    own: dict[str, str]
    count: int
    mass: float | None
    awaited: bool
    """Whether the mass will be known when the model is measured."""
    item: str
    """The key that parts lists have it under: its own, or that of the part it is the same as."""
    volume: float | None
    size: list[float]


class InstanceRow(Schema):
    """A placed part: its path, and the name of its part."""

    path: str
    name: str


class ModelPage(Schema):
    id: uuid.UUID
    name: str
    number: str
    kind: str
    units: str
    source: str
    file_name: str
    size: list[float]
    mass: float | None
    measured: Literal["yes", "under way", "no"]
    """Whether volumes are known, will be, or are missing though nobody measures them."""
    material: str
    tree: TreeNode
    parts: list[PartRow]
    holes: list[HoleRow]
    shafts: list[HoleRow]
    """Of a model of one part, as its holes."""
    features: list[FeatureRow]
    """What else was recognized on a model of one part."""
    datums: list[FeatureRow]
    """What of it is likely a datum."""
    symmetry: str
    """About what it is symmetrical, in words; empty for nothing."""
    parameters: dict[str, float]
    exploded: list[ExplodedState]
    instances: list[InstanceRow]
    drawings: list[DrawingLink]
    notes: list[str]
    alike: list[list[str]]
    """Keys of parts of one shape that parts lists take for different ones."""
    same_as: dict[str, str]


@router.get("", response=list[ModelCard])
def models(request: HttpRequest) -> list[ModelCard]:
    rows = (
        Model.objects.filter(workspace=workspace_of(request))
        .annotate(count=Count("drawings"))
        .order_by("number", "name")
    )
    return [
        ModelCard(
            id=m.pk,
            name=m.name,
            number=m.number,
            kind=m.kind,
            units=m.units,
            updated=m.updated.isoformat(),
            drawings=m.count,
        )
        for m in rows
    ]


@router.post("", response={202: JobState})
def bring_in(request: HttpRequest, file: File[list[UploadedFile]]) -> Status[Any]:
    """Bring in STEP files, recipes or a zip of them; those sent together may refer to each other.

    What cannot be a model is refused at once, as a failed job with its reason.
    """
    workspace = workspace_of(request)
    good: dict[str, UploadedFile] = {}
    refused, size = None, 0
    for one in file[:MOST_FILES]:
        name = one_line((one.name or "model").split("/")[-1])[:200]
        try:
            size += one.size or 0
            checked(one, name, size)
            if name in good:
                raise ModelError(f"Two of the files are called {name}; give them different names.")
            good[name] = one
        except DraftingError as error:
            refused = service.refused(workspace, request.user, "read", name, str(error))
    if not good:
        return Status(202, refused)
    name, first = next(iter(good.items()))
    if len(good) == 1:
        subject, blob = name, Blob.taken(first)
    else:
        subject, name = f"{name} and {len(good) - 1} more", "files.zip"
        with tempfile.TemporaryFile(dir=settings.FILE_UPLOAD_TEMP_DIR) as together:
            zip_into(together, good)
            blob = Blob.taken(together)
    data = {"blob": blob.pk, "file_name": name}
    return Status(202, service.start("read_model", workspace, request.user, "read", subject, data))


@router.get("/{model_id}", response=ModelPage)
def model(request: HttpRequest, model_id: uuid.UUID) -> ModelPage:
    m = owned(request, Model.objects.all(), model_id)
    version, facts = current_facts(m)
    counts: dict[str, int] = {}
    for instance in facts.instances:
        counts[instance.part] = counts.get(instance.part, 0) + 1
    items = bill.one_key(facts)
    parts = [
        PartRow(
            key=key,
            name=p.name or facts.name,
            number=p.number,
            description=p.description,
            finish=p.finish,
            own=p.own,
            supplier=p.supplier,
            make=p.make,
            unit_cost=p.unit_cost,
            counted=p.counted,
            sectioned=p.sectioned,
            stated_mass=p.stated_mass,
            item=items.get(key, key),
            material=facts.material_of(p),
            count=counts.get(key, 0),
            mass=facts.mass(p),
            awaited=facts.awaits(p),
            volume=p.volume,
            size=[b - a for a, b in zip(p.low, p.high, strict=True)],
        )
        for key, p in facts.parts.items()
    ]
    return ModelPage(
        id=m.pk,
        name=m.name,
        number=m.number,
        kind=m.kind,
        units=m.units,
        source=version.source_kind,
        file_name=version.file_name,
        size=[b - a for a, b in zip(facts.low, facts.high, strict=True)],
        mass=facts.total_mass(),
        measured=_measured(version, facts),
        material=facts.material or (parts[0].material if len(parts) == 1 else ""),
        tree=facts.tree,
        parts=parts,
        holes=hole_rows(facts) if facts.kind == "part" else [],
        shafts=shaft_rows(facts) if facts.kind == "part" else [],
        features=feature_list(facts) if facts.kind == "part" else [],
        datums=datum_list(facts) if facts.kind == "part" else [],
        symmetry=symmetry_words(facts) if facts.kind == "part" else "",
        parameters=facts.parameters,
        exploded=facts.exploded,
        instances=[InstanceRow(path=i.path, name=bill.part_name(facts, i.part)) for i in facts.instances],
        drawings=[
            DrawingLink(id=d.pk, name=d.name, number=d.number) for d in m.drawings.order_by("number", "name")
        ],
        notes=facts.notes,
        alike=_alike(facts, items),
        same_as=facts.same_as,
    )


class SayThread(Schema):
    """That faces of a part bear a thread; an empty designation takes it back. length: mm, as it is typed;
    empty for all of the face."""

    part: Annotated[str, Field(max_length=200)]
    faces: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=5000)]
    designation: Annotated[str, Field(max_length=40)] = ""
    length: Annotated[str, Field(max_length=20)] = ""


class SayProcess(Schema):
    """How round faces are finished; an empty process takes back what was said."""

    part: Annotated[str, Field(max_length=200)]
    faces: Annotated[list[Annotated[str, Field(max_length=400)]], Field(min_length=1, max_length=5000)]
    process: Annotated[str, Field(max_length=40)] = ""


@router.post("/{model_id}/threads", response={200: ModelPage, 404: Problem, 422: Problem})
def say_thread(request: HttpRequest, model_id: uuid.UUID, payload: SayThread) -> Any:
    """Say that holes or shafts of a part are threaded, or that they are not after all."""
    m = owned(request, Model.objects.all(), model_id)
    part = facts_of(m.current()).parts.get(payload.part)
    if part is None:
        return Status(404, {"message": "The model has no such part."})
    said: list[ThreadFact] = []
    if payload.designation.strip():
        said = said_threads(part, payload.faces, payload.designation, typed_length(payload.length))
    _say(m, payload.part, payload.faces, "threads", said)
    return model(request, model_id)


def _say(m: Model, part: str, faces: list[str], name: str, said: Sequence[ThreadFact | ProcessFact]) -> None:
    """Keep what the office says of faces of a part, in place of what it said of them before. name: of the
    field."""
    with transaction.atomic():
        PartProperties.objects.get_or_create(model=m, part=part)
        row = PartProperties.objects.select_for_update().get(model=m, part=part)
        kept = [s for s in getattr(row, name) if s["face"] not in set(faces)]
        setattr(row, name, [*kept, *(s.model_dump() for s in said)])
        row.save(update_fields=[name])


@router.post("/{model_id}/processes", response={200: ModelPage, 404: Problem, 422: Problem})
def say_process(request: HttpRequest, model_id: uuid.UUID, payload: SayProcess) -> Any:
    """Say how holes or shafts of a part are finished, or take it back."""
    m = owned(request, Model.objects.all(), model_id)
    part = facts_of(m.current()).parts.get(payload.part)
    if part is None:
        return Status(404, {"message": "The model has no such part."})
    typed = payload.process.strip()
    said = said_processes(part, payload.faces, typed) if typed else []
    _say(m, payload.part, payload.faces, "processes", said)
    return model(request, model_id)


def _measured(version: ModelVersion, facts: Facts) -> Literal["yes", "under way", "no"]:
    known = version.facts_format == FACTS_FORMAT
    if known and all(p.volume is not None for p in facts.parts.values()):
        return "yes"
    return "under way" if measuring.is_under_way(version) else "no"


_ALIKE: Memory[list[list[str]]] = Memory(32)


def _alike(facts: Facts, items: dict[str, str]) -> list[list[str]]:
    """Parts of one shape that are different items, the first part of each item."""
    groups = _ALIKE.recall(facts, None, lambda: same_shapes(facts.parts)) if len(facts.parts) > 1 else []
    firsts = [list({items[key]: key for key in reversed(group)}.values())[::-1] for group in groups]
    return [group for group in firsts if len(group) > 1]


OwnName = Annotated[str, Field(min_length=1, max_length=60)]


class Properties(Schema):
    """What the office says of a part; unset fields stay, empty text goes back to what the file says."""

    part: str
    number: Annotated[str, Field(max_length=60)] | None = None
    description: Annotated[str, Field(max_length=400)] | None = None
    material: Annotated[str, Field(max_length=80)] | None = None
    finish: Annotated[str, Field(max_length=120)] | None = None
    supplier: Annotated[str, Field(max_length=120)] | None = None
    make: Literal["", "make", "buy"] | None = None
    counted: Literal["", "length"] | None = None
    sectioned: Literal["", "whole", "cut"] | None = None
    unit_cost: Annotated[str, Field(max_length=30)] | None = None
    """As it is typed; empty text for none."""
    stated_mass: Annotated[str, Field(max_length=30)] | None = None
    """kg, as it is typed; empty text for the computed one."""
    own: (
        Annotated[
            dict[Annotated[str, Field(min_length=1, max_length=60)], Annotated[str, Field(max_length=400)]],
            Field(max_length=40),
        ]
        | None
    ) = None


@router.post("/{model_id}/properties", response={200: ModelPage, 404: Problem, 422: Problem})
def properties(request: HttpRequest, model_id: uuid.UUID, payload: Properties) -> Any:
    """Say number, description, material, finish or own fields of a part."""
    m = owned(request, Model.objects.all(), model_id)
    if payload.part not in facts_of(m.current()).parts:
        return Status(404, {"message": "The model has no such part."})
    row, _ = PartProperties.objects.get_or_create(model=m, part=payload.part)
    for name, value in payload.model_dump(exclude={"part"}, exclude_none=True).items():
        if name == "own":
            row.own = {k: v for k, v in value.items() if v}
        elif name == "unit_cost":
            row.unit_cost = float(priced(value)) if value.strip() else None
        elif name == "stated_mass":
            row.stated_mass = weighed(value) if value.strip() else None
        else:
            setattr(row, name, " ".join(value.split()))
    row.save()
    return model(request, model_id)


@router.post("/{model_id}/measure", response={202: JobState})
def measure(request: HttpRequest, model_id: uuid.UUID) -> Status[Any]:
    """Measure what was not, or could not be, measured."""
    return Status(202, measuring.start(owned(request, Model.objects.all(), model_id), request.user))


class Same(Schema):
    """Parts to be listed as the first of them; one key alone is listed by itself again."""

    parts: Annotated[list[Annotated[str, Field(max_length=200)]], Field(min_length=1, max_length=5000)]


@router.post("/{model_id}/same", response={200: ModelPage, 404: Problem, 422: Problem})
def same(request: HttpRequest, model_id: uuid.UUID, payload: Same) -> Any:
    """Say that parts of one shape are one item, or that a part is one by itself after all."""
    m = owned(request, Model.objects.all(), model_id)
    facts = facts_of(m.current())
    if any(key not in facts.parts for key in payload.parts):
        return Status(404, {"message": "The model has no such part."})
    first, *others = payload.parts
    if not others:
        m.same_as = {key: home for key, home in m.same_as.items() if key != first}
    else:
        first = m.same_as.get(first, first)
        if not any(set(payload.parts) <= set(group) for group in same_shapes(facts.parts)):
            raise ModelError("These parts are not of one shape, so they cannot be listed as one.")
        homes = {first, *others}
        m.same_as = {key: first if home in homes else home for key, home in m.same_as.items()} | {
            key: first for key in others if key != first
        }
    m.save(update_fields=["same_as", "updated"])
    return model(request, model_id)


class ExplodedStates(Schema):
    states: Annotated[list[ExplodedState], Field(max_length=50)]


@router.post("/{model_id}/exploded", response={200: ModelPage, 404: Problem, 422: Problem})
def explode(request: HttpRequest, model_id: uuid.UUID, payload: ExplodedStates) -> ModelPage:
    """Keep the assembly's exploded states, all of them at once."""
    m = owned(request, Model.objects.all(), model_id)
    exploded.checked(payload.states, facts_of(m.current()))
    m.exploded = [s.model_dump(mode="json") for s in payload.states]
    m.save(update_fields=["exploded", "updated"])
    return model(request, model_id)


@router.get("/{model_id}/exploded/proposal", response={200: ExplodedState, 404: Problem, 422: Problem})
def proposed(request: HttpRequest, model_id: uuid.UUID) -> ExplodedState:
    """Steps read from how the parts touch. Nothing is kept."""
    _, facts = current_facts(owned(request, Model.objects.all(), model_id))
    if facts.kind != "assembly":
        raise ModelError("One part alone cannot be taken apart.")
    return exploded.proposed(facts)


@router.get("/{model_id}/preview.glb")
def preview(request: HttpRequest, model_id: uuid.UUID) -> HttpResponseBase:
    version = owned(request, Model.objects.all(), model_id).current()
    response = file_response(version.preview, "model/gltf-binary")
    response["ETag"] = f'"{version.preview_id[:32]}"'
    response["Cache-Control"] = "private, max-age=60"
    return response


@router.get("/{model_id}/thumbnail.svg")
def thumbnail(request: HttpRequest, model_id: uuid.UUID) -> HttpResponse:
    """The model's isometric view. Raises NotYet until it is derived."""
    version = owned(request, Model.objects.all(), model_id).current()
    geometry = ready(requested(version, Derivation(orientation=isometric(PRINCIPAL["front"]))).key)
    if geometry is None:
        raise NotYet("The picture is still being made.")
    return HttpResponse(
        thumbnail_svg(geometry),
        content_type="image/svg+xml",
        headers={"Cache-Control": "private, max-age=3600"},
    )


@router.post("/{model_id}/step", response={202: JobState})
def to_step(request: HttpRequest, model_id: uuid.UUID) -> Status[Any]:
    """Write the model as STEP; the job's file is the result."""
    m = owned(request, Model.objects.all(), model_id)
    return Status(
        202,
        service.start("write_step", m.workspace, request.user, "step", f"{m} as STEP", {"model": str(m.pk)}),
    )


@router.delete("/{model_id}", response={204: None, 409: Problem})
def remove(request: HttpRequest, model_id: uuid.UUID) -> Any:
    m = owned(request, Model.objects.all(), model_id)
    try:
        m.delete()
    except ProtectedError:
        return Status(409, {"message": f"{m} still has drawings; remove them first."})
    return Status(204, None)
