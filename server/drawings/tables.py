"""Tables of a drawing as files."""

from collections.abc import Sequence
from typing import Literal

from django.http import HttpResponse

from drafting.export import tables
from server.downloads import attachment


def tables_response(
    found: Sequence[Sequence[tables.Cell]], stem: str, title: str, kind: Literal["xlsx", "csv"]
) -> HttpResponse:
    """A table as a file to be kept."""
    sheet = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
    data, mime = (
        (tables.xlsx(found, title), sheet)
        if kind == "xlsx"
        else (tables.comma_separated(found), "text/csv; charset=utf-8")
    )
    return HttpResponse(
        data, content_type=mime, headers={"Content-Disposition": attachment(f"{stem}.{kind}")}
    )
