"""Models: bring in, look at, choose a direction, remove."""

import uuid
from typing import Annotated, Any, Literal

from django.conf import settings
from django.db.models import Count, ProtectedError
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from drafting.commands.parts import priced
from drafting.errors import DraftingError, ModelError
from drafting.export.thumbnail import thumbnail_svg
from drafting.model import bill, exploded
from drafting.model.model import ExplodedState, HoleFact, TreeNode
from drafting.model.upload import check_header
from drafting.views.derivation import Derivation
from drafting.views.orientation import PRINCIPAL, isometric
from server.accounts.access import owned, workspace_of
from server.drawings.geometry import ready, requested
from server.errors import Problem
from server.jobs import service, tasks
from server.jobs.api import JobState
from server.library.facts import current_facts, facts_of
from server.library.models import Blob, Model, PartProperties
from server.library.reading import kind_of

router = Router(tags=["models"])


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
    own: dict[str, str]
    count: int
    mass: float | None
    volume: float
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
    material: str
    tree: TreeNode
    parts: list[PartRow]
    holes: list[HoleFact]
    parameters: dict[str, float]
    exploded: list[ExplodedState]
    instances: list[InstanceRow]
    drawings: list[DrawingLink]


@router.get("", response=list[ModelCard])
def models(request: HttpRequest) -> list[ModelCard]:
    rows = Model.objects.filter(workspace=workspace_of(request)).annotate(count=Count("drawings")).order_by("number", "name")
    return [
        ModelCard(id=m.pk, name=m.name, number=m.number, kind=m.kind, units=m.units, updated=m.updated.isoformat(), drawings=m.count) for m in rows
    ]


@router.post("", response={202: JobState})
def bring_in(request: HttpRequest, file: File[UploadedFile]) -> Status[Any]:
    """Bring in a STEP file or a recipe. What cannot be one is refused at once, as a failed job with its reason."""
    workspace, name = workspace_of(request), (file.name or "model").split("/")[-1][:200]
    try:
        if file.size and file.size > settings.UPLOAD_LIMIT:
            raise ModelError(f"{name} is larger than {settings.UPLOAD_LIMIT // 2**20} MB, the most that can be brought in.")
        if kind_of(name) == "step":
            head = file.read(4096)
            file.seek(0)
            check_header(head)
    except DraftingError as error:
        return Status(202, service.refused(workspace, request.user, "read", name, str(error)))
    blob = Blob.store(file.read())
    return Status(202, service.start(tasks.read_model, workspace, request.user, "read", name, {"blob": blob.pk, "file_name": name}))


@router.get("/{model_id}", response=ModelPage)
def model(request: HttpRequest, model_id: uuid.UUID) -> ModelPage:
    m = owned(request, Model.objects.all(), model_id)
    version, facts = current_facts(m)
    counts: dict[str, int] = {}
    for instance in facts.instances:
        counts[instance.part] = counts.get(instance.part, 0) + 1
    parts = [
        PartRow(
            key=key, name=p.name or facts.name, number=p.number, description=p.description, finish=p.finish, own=p.own,
            supplier=p.supplier, make=p.make, unit_cost=p.unit_cost,
            material=facts.material_of(p), count=counts.get(key, 0),
            mass=facts.mass(p), volume=p.volume, size=[b - a for a, b in zip(p.low, p.high, strict=True)],
        )
        for key, p in facts.parts.items()
    ]  # fmt: skip
    return ModelPage(
        id=m.pk, name=m.name, number=m.number, kind=m.kind, units=m.units, source=version.source_kind, file_name=version.file_name,
        size=[b - a for a, b in zip(facts.low, facts.high, strict=True)], mass=facts.total_mass(),
        material=facts.material or (parts[0].material if len(parts) == 1 else ""), tree=facts.tree, parts=parts,
        holes=[h for p in facts.parts.values() for h in p.holes], parameters=facts.parameters,
        exploded=facts.exploded, instances=[InstanceRow(path=i.path, name=bill.part_name(facts, i.part)) for i in facts.instances],
        drawings=[DrawingLink(id=d.pk, name=d.name, number=d.number) for d in m.drawings.order_by("number", "name")],
    )  # fmt: skip


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
    unit_cost: Annotated[str, Field(max_length=30)] | None = None
    """As it is typed; empty text for none."""
    own: Annotated[dict[Annotated[str, Field(min_length=1, max_length=60)], Annotated[str, Field(max_length=400)]], Field(max_length=40)] | None = (
        None
    )


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
        else:
            setattr(row, name, " ".join(value.split()))
    row.save()
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
def preview(request: HttpRequest, model_id: uuid.UUID) -> HttpResponse:
    version = owned(request, Model.objects.all(), model_id).current()
    response = HttpResponse(version.preview.content(), content_type="model/gltf-binary")
    response["ETag"] = f'"{version.preview_id[:32]}"'
    response["Cache-Control"] = "private, max-age=60"
    return response


@router.get("/{model_id}/thumbnail.svg")
def thumbnail(request: HttpRequest, model_id: uuid.UUID) -> HttpResponse:
    """The model's isometric view; 404 until it is derived."""
    version = owned(request, Model.objects.all(), model_id).current()
    geometry = ready(requested(version, Derivation(orientation=isometric(PRINCIPAL["front"]))).key)
    if geometry is None:
        return HttpResponse(status=404, headers={"Cache-Control": "no-store"})
    return HttpResponse(thumbnail_svg(geometry), content_type="image/svg+xml", headers={"Cache-Control": "private, max-age=3600"})


@router.post("/{model_id}/step", response={202: JobState})
def to_step(request: HttpRequest, model_id: uuid.UUID) -> Status[Any]:
    """Write the model as STEP; the job's file is the result."""
    m = owned(request, Model.objects.all(), model_id)
    return Status(202, service.start(tasks.write_step, m.workspace, request.user, "step", f"{m} as STEP", {"model": str(m.pk)}))


@router.delete("/{model_id}", response={204: None, 409: Problem})
def remove(request: HttpRequest, model_id: uuid.UUID) -> Any:
    m = owned(request, Model.objects.all(), model_id)
    try:
        m.delete()
    except ProtectedError:
        return Status(409, {"message": f"{m} still has drawings; remove them first."})
    return Status(204, None)
