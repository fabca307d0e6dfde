"""How files are handed out."""

from django.http import HttpResponse, StreamingHttpResponse
from django.http.response import HttpResponseBase
from django.utils.http import content_disposition_header

from drafting.text import one_line
from server.library.models import Blob

SMALL = 4 * 1024 * 1024
"""Bytes that are sent at once."""


def attachment(name: str) -> str:
    """The header that names a file to be kept, in both forms of RFC 6266 where its letters need it."""
    plain = one_line(name).replace("/", "-").replace("\\", "-") or "file"
    return content_disposition_header(True, plain) or "attachment"


def file_response(blob: Blob, content_type: str) -> HttpResponseBase:
    """A blob as it is sent, in pieces where it is large."""
    if blob.size <= SMALL:
        return HttpResponse(blob.content(), content_type=content_type)
    response = StreamingHttpResponse(blob.parts(), content_type=content_type)
    response["Content-Length"] = str(blob.size)
    return response
