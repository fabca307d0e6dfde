"""Versions of a model: bring one in, call it something, take it back."""

import uuid
from typing import Annotated, Any

from django.http import Http404, HttpRequest
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from drafting.text import one_line
from server.accounts.access import owned
from server.errors import Problem
from server.jobs import service
from server.jobs.api import JobState
from server.library import versions
from server.library.models import Blob, Model, ModelVersion
from server.library.uploads import checked

router = Router(tags=["models"])


class ShownBy(Schema):
    """A drawing that shows a version."""

    id: uuid.UUID
    title: str


class VersionRow(Schema):
    """A version of a model. said: how it differs from the one before; likely: how much of it is only likely
    found again; warning: what to think of first; empty for nothing."""

    number: int
    label: str
    file_name: str
    by: str
    at: str
    said: list[str]
    share: float
    likely: int
    warning: str
    drawings: list[ShownBy]
    can_take_back: bool


@router.get("/{model_id}/versions", response=list[VersionRow])
def list_versions(request: HttpRequest, model_id: uuid.UUID) -> list[VersionRow]:
    """All versions of a model, the newest first."""
    return _rows(owned(request, Model.objects.all(), model_id))


def _rows(model: Model) -> list[VersionRow]:
    drawings = list(model.drawings.order_by("number", "name"))
    found = list(model.versions.select_related("by").order_by("-number"))
    out = []
    for n, v in enumerate(found):
        shown = [ShownBy(id=d.pk, title=str(d)) for d in drawings if d.shows == v.number]
        out.append(
            VersionRow(
                number=v.number,
                label=v.label,
                file_name=v.file_name,
                by=(v.by.get_full_name() or v.by.get_username()) if v.by else "",
                at=v.created.isoformat(),
                said=v.told.get("said", []),
                share=v.told.get("share", 1.0),
                likely=sum(len(names) for names in v.told.get("likely", {}).values()),
                warning=versions.warning(v),
                drawings=shown,
                can_take_back=n == 0 and len(found) > 1 and not shown,
            )
        )
    return out


@router.post("/{model_id}/versions", response={202: JobState, 422: Problem})
def bring_in_version(request: HttpRequest, model_id: uuid.UUID, file: File[UploadedFile]) -> Any:
    """A file or recipe as the next version of a model."""
    model = owned(request, Model.objects.select_related("workspace"), model_id)
    name = one_line((file.name or "model").split("/")[-1])[:200]
    checked(file, name, file.size or 0)
    data = {"blob": Blob.taken(file).pk, "file_name": name, "of": str(model.pk)}  # type: ignore[arg-type]
    subject = f"{name} as a version of {model}"
    return Status(202, service.start("read_model", model.workspace, request.user, "read", subject, data))


class Adopt(Schema):
    """A model that came in by itself."""

    fresh: uuid.UUID


@router.post("/{model_id}/versions/adopt", response={202: JobState, 404: Problem})
def adopt(request: HttpRequest, model_id: uuid.UUID, payload: Adopt) -> Any:
    """Make a model that just came in the next version of this one."""
    model = owned(request, Model.objects.select_related("workspace"), model_id)
    fresh = owned(request, Model.objects.filter(workspace=model.workspace), payload.fresh)
    data = {"of": str(model.pk), "fresh": str(fresh.pk)}
    subject = f"{fresh} as a version of {model}"
    return Status(202, service.start("adopt_model", model.workspace, request.user, "read", subject, data))


class Label(Schema):
    """What the office calls a version; empty for its number."""

    label: Annotated[str, Field(max_length=40)]


def _version(request: HttpRequest, model_id: uuid.UUID, number: int) -> ModelVersion:
    model = owned(request, Model.objects.all(), model_id)
    found = model.versions.filter(number=number).first()
    if found is None:
        raise Http404("The model has no such version.")
    return found


@router.post("/{model_id}/versions/{number}/label", response={200: list[VersionRow], 404: Problem})
def label(request: HttpRequest, model_id: uuid.UUID, number: int, payload: Label) -> Any:
    """Call a version something."""
    version = _version(request, model_id, number)
    version.label = one_line(payload.label)
    version.save(update_fields=["label"])
    return _rows(version.model)


@router.delete("/{model_id}/versions/{number}", response={200: list[VersionRow], 404: Problem, 422: Problem})
def take_back(request: HttpRequest, model_id: uuid.UUID, number: int) -> Any:
    """Take the newest version back, which no drawing shows."""
    version = _version(request, model_id, number)
    model = version.model
    versions.take_back(version)
    return _rows(model)
