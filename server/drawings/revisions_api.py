"""Revisions of a drawing: its state and how it came to it, what was released, what differs between two."""

import uuid
from dataclasses import asdict
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from django.http.response import HttpResponseBase
from ninja import Router, Schema, Status
from pydantic import Field

from drafting.annotation.registry import Annotation
from drafting.annotation.review.comparison import compared
from drafting.errors import CommandError
from drafting.export.comparison import comparison_pdf
from drafting.standards import revisions
from server.accounts.access import called
from server.downloads import attachment, file_response
from server.drawings import publishing, releasing, store
from server.drawings.access import own_drawing
from server.drawings.models import RELEASED, Drawing
from server.drawings.sides import NOW, Side, clouds, inks_of
from server.drawings.versions import Difference, OverlayInk, overlay_ink
from server.errors import NotThere, Problem
from server.jobs.api import JobState
from server.rights import has_role

router = Router(tags=["drawings"])


class FileRow(Schema):
    """A file of a release; sha256: its checksum; size: bytes."""

    kind: str
    name: str
    size: int
    sha256: str


class ReleaseRow(Schema):
    """A released revision."""

    mark: str
    at: str
    by: str
    version: str
    files: list[FileRow]


class ChangeRow(Schema):
    """A step on the drawing's way."""

    state: str
    mark: str
    note: str
    by: str
    at: str


class RevisionPage(Schema):
    """state: in work, for check, released or withdrawn; may: the states that the user can bring it to; next:
    the mark of the next revision."""

    state: str
    mark: str
    next: str
    may: list[str]
    releases: list[ReleaseRow]
    changes: list[ChangeRow]


@router.get("/{drawing_id}/revisions", response=RevisionPage)
def revision_page(request: HttpRequest, drawing_id: uuid.UUID) -> RevisionPage:
    """The drawing's state, what was released of it, and how it came to that."""
    return _page(request, own_drawing(request, drawing_id))


def _page(request: HttpRequest, d: Drawing) -> RevisionPage:
    document = store.document_of(d)
    mine = d.workspace.membership_set.filter(user=request.user.pk).values_list("role", flat=True).first()
    try:
        following = revisions.after(document.fields.revision, document.profile.standard)
    except CommandError:
        following = ""
    names = {v.number: str(v) for v in d.model.versions.all()}
    releases = d.releases.order_by("-at").select_related("by").prefetch_related("files__blob")
    return RevisionPage(
        state=d.state,
        mark=document.fields.revision,
        next=following,
        may=[to for (state, to), roles in releasing.WAYS.items() if state == d.state and mine in roles],
        releases=[
            ReleaseRow(
                mark=r.mark,
                at=r.at.isoformat(),
                by=called(r.by),
                version=names.get(r.shows, ""),
                files=[
                    FileRow(kind=f.kind, name=f.name, size=f.blob.size, sha256=f.blob_id)
                    for f in sorted(r.files.all(), key=lambda f: f.kind)
                ],
            )
            for r in releases
        ],
        changes=[
            ChangeRow(state=c.state, mark=c.mark, note=c.note, by=called(c.by), at=c.at.isoformat())
            for c in d.state_changes.order_by("-pk").select_related("by")[:100]
        ],
    )


class Way(Schema):
    """Where a drawing is to be brought; note: what is said with it, of a revision what it changes; mark: of a
    new revision, empty for the next one."""

    to: Literal["work", "check", "released", "withdrawn"]
    note: Annotated[str, Field(max_length=400)] = ""
    mark: Annotated[str, Field(max_length=8)] = ""


@router.post("/{drawing_id}/state", response={200: RevisionPage, 202: JobState, 403: Problem, 422: Problem})
def change_state(request: HttpRequest, drawing_id: uuid.UUID, payload: Way) -> Any:
    """Send for check, send back, release (a job that writes the files), withdraw, or start a revision."""
    d = own_drawing(request, drawing_id)
    what = "do that with a drawing"
    has_role(request, d.workspace, releasing.roles_for(d, payload.to), what)
    if payload.to == RELEASED:
        return Status(202, releasing.start_release(d, request.user, payload.note))
    if payload.to == "work" and d.state != "check":
        d = releasing.start_revision(d.pk, request.user, payload.note, payload.mark)
    else:
        d = releasing.move(d.pk, payload.to, request.user, payload.note)
    return Status(200, _page(request, d))


@router.get("/{drawing_id}/releases/{mark}/files/{kind}", response={200: None, 404: Problem})
def released_file(request: HttpRequest, drawing_id: uuid.UUID, mark: str, kind: str) -> HttpResponseBase:
    """A released file, the same bytes whenever it is asked for."""
    files = releasing.release_at(own_drawing(request, drawing_id), mark).files.all()
    found = next((f for f in files if f.kind == kind), None)
    if found is None:
        raise NotThere("This release has no such file.")
    response = file_response(found.blob, found.media_type)
    response["Content-Disposition"] = attachment(found.name)
    response["ETag"] = f'"{found.blob_id}"'
    return response


class Compared(Schema):
    """What differs between two states of a drawing; sheets: of either, by id with their names."""

    before: str
    after: str
    differences: list[Difference]
    sheets: dict[str, str]


def _sides(request: HttpRequest, drawing_id: uuid.UUID, before: str, after: str) -> tuple[Side, Side]:
    d = own_drawing(request, drawing_id)
    return Side(d, before), Side(d, after)


def _sheets(a: Side, b: Side) -> dict[str, str]:
    return {s.id: s.name or "Sheet" for side in (a, b) for s in side.document.sheets}


@router.get("/{drawing_id}/compare", response={200: Compared, 404: Problem, 422: Problem})
def compare(request: HttpRequest, drawing_id: uuid.UUID, before: str, after: str = NOW) -> Compared:
    """What differs between two revisions, by their marks, or the drawing as it is."""
    a, b = _sides(request, drawing_id, before, after)
    found = [Difference(**asdict(x)) for x in compared(a.state, b.state)]
    return Compared(before=a.name, after=b.name, differences=found, sheets=_sheets(a, b))


@router.get(
    "/{drawing_id}/compare/sheets/{sheet_id}",
    response={200: OverlayInk, 404: Problem, 422: Problem, 425: Problem},
)
def compare_sheet(
    request: HttpRequest, drawing_id: uuid.UUID, sheet_id: str, before: str, after: str = NOW
) -> OverlayInk:
    """A sheet of one revision over that of another."""
    a, b = _sides(request, drawing_id, before, after)
    return overlay_ink(b.document, *inks_of(a, b, sheet_id))


@router.get("/{drawing_id}/compare.pdf", response={200: None, 422: Problem, 425: Problem})
def compare_file(request: HttpRequest, drawing_id: uuid.UUID, before: str, after: str = NOW) -> HttpResponse:
    """The comparison as a PDF: each sheet in three tones, then the list of what differs."""
    a, b = _sides(request, drawing_id, before, after)
    pages = [inks_of(a, b, sheet) for sheet in _sheets(a, b)]
    title = f"{a.drawing}: revision {a.name} and {b.name}"
    data = comparison_pdf(pages, compared(a.state, b.state), title, b.document.profile)
    name = f"{publishing.file_stem(a.drawing)}-{a.name}-{after}.pdf"
    return HttpResponse(
        data, content_type="application/pdf", headers={"Content-Disposition": attachment(name)}
    )


class Clouds(Schema):
    """Clouds about what a revision changed, by the sheet that they go on."""

    sheets: dict[str, list[Annotation]]


@router.get("/{drawing_id}/clouds", response={200: Clouds, 404: Problem, 422: Problem, 425: Problem})
def propose_clouds(request: HttpRequest, drawing_id: uuid.UUID, before: str) -> Clouds:
    """Clouds about what differs from a released revision. Nothing is placed."""
    out = clouds(own_drawing(request, drawing_id), before)
    return Clouds(sheets=out)
