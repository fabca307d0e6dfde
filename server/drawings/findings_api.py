"""Routes of what is found on a drawing by itself."""

import uuid
from typing import Annotated, Any, Literal

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema
from pydantic import Field

from drafting.checking import listed
from drafting.checking.rules import RULES
from server.downloads import attachment
from server.drawings import findings, store
from server.drawings.access import own_drawing
from server.drawings.findings import Findings
from server.drawings.models import Drawing
from server.drawings.pencil_api import ANSWERS
from server.drawings.publishing import file_stem
from server.drawings.tables import tables_response
from server.drawings.telling import told
from server.errors import NotYet, Problem
from server.rights import has_role

router = Router(tags=["completeness"])


@router.get("/{drawing_id}/findings", response=Findings)
def on_drawing(request: HttpRequest, drawing_id: uuid.UUID) -> Findings:
    """All that is found on a drawing by itself."""
    return findings.of_drawing(own_drawing(request, drawing_id))


class MeantSo(Schema):
    """That a finding is meant so; without a reason it is open again."""

    key: Annotated[str, Field(min_length=1, max_length=64)]
    reason: Annotated[str, Field(max_length=400)] = ""
    open: bool = False


@router.post("/{drawing_id}/findings/meant", response={200: Findings, 403: Problem, 422: Problem})
def meant(request: HttpRequest, drawing_id: uuid.UUID, payload: MeantSo) -> Any:
    """Say that a finding is meant so, and why; or open it again."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, ANSWERS, "say that a finding is meant")
    if payload.open:
        d.meant_findings.filter(key=payload.key).delete()
    else:
        findings.mean(d, payload.key, payload.reason, request.user)
    told(d.pk, "pencil", request.user)
    return findings.of_drawing(d)


@router.get("/{drawing_id}/findings.{kind}")
def as_file(request: HttpRequest, drawing_id: uuid.UUID, kind: Literal["pdf", "xlsx", "csv"]) -> HttpResponse:
    """The list as a file."""
    d = own_drawing(request, drawing_id)
    found = findings.of_drawing(d)
    if found.sizes_wait:
        raise NotYet("A worker is still telling what the sizes say; ask again in a moment.")
    rows = [_row(f) for f in found.findings]
    stem = f"{file_stem(d)}-findings"
    if kind != "pdf":
        return tables_response(listed.table(rows), stem, "Findings", kind)
    data = listed.pdf(rows, [g.title for g in found.good], _title(d), store.document_of(d).profile)
    headers = {"Content-Disposition": attachment(f"{stem}.pdf")}
    return HttpResponse(data, content_type="application/pdf", headers=headers)


def _title(d: Drawing) -> str:
    return f"{d.number} {d.name}".strip()


def _row(f: findings.Finding) -> listed.Listed:
    m = f.meant
    more = (m.reason, m.by, m.at[:10]) if m else ()
    return listed.Listed(f.number, f.gravity, RULES[f.rule].title, f.clause, f.text, *more)
