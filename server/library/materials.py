"""The materials of a workspace: the library's and its own."""

import uuid
from typing import Annotated, Any

from django.db import transaction
from django.http import HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from drafting.errors import CommandError
from drafting.standards.materials import LIBRARY, checked
from server.accounts.access import owned, workspace_of
from server.errors import Problem
from server.library.models import Material

router = Router(tags=["materials"])


class MaterialRow(Schema):
    """id only for own entries. density in g/cm3."""

    id: uuid.UUID | None = None
    designation: str
    family: str
    density: float
    source: str


class NewMaterial(Schema):
    designation: Annotated[str, Field(max_length=80)]
    density: float
    source: Annotated[str, Field(max_length=120)] = ""


@router.get("", response=list[MaterialRow])
def materials(request: HttpRequest) -> list[MaterialRow]:
    own = Material.objects.filter(workspace=workspace_of(request)).order_by("designation")
    return [
        *(
            MaterialRow(id=m.pk, designation=m.designation, family="own", density=m.density, source=m.source)
            for m in own
        ),
        *(
            MaterialRow(designation=m.designation, family=m.family, density=m.density, source=m.source)
            for m in LIBRARY
        ),
    ]


@router.post("", response={201: MaterialRow, 422: Problem})
@transaction.atomic
def add(request: HttpRequest, payload: NewMaterial) -> Status[Any]:
    workspace = workspace_of(request)
    designation, density = checked(payload.designation, payload.density)
    if Material.objects.filter(workspace=workspace, designation=designation).exists():
        raise CommandError(f"{designation} is among your own materials already.")
    row = Material.objects.create(
        workspace=workspace, designation=designation, density=density, source=payload.source.strip()
    )
    return Status(
        201, MaterialRow(id=row.pk, designation=designation, family="own", density=density, source=row.source)
    )


@router.delete("/{material_id}", response={204: None})
def remove(request: HttpRequest, material_id: uuid.UUID) -> Status[Any]:
    """Parts made of it keep the designation, and their mass becomes unknown."""
    owned(request, Material.objects.all(), material_id).delete()
    return Status(204, None)
