"""The log: a line of JSON for each event, with the number of the request or the job it belongs to.

It names no person and nothing that people wrote: of an error its kind and where it rose, of a request its
route.
"""

import json
import logging
import re
import time
import traceback
import uuid
from collections.abc import Callable, Iterator, Mapping
from contextlib import contextmanager
from contextvars import ContextVar
from types import MappingProxyType

from django.http import HttpRequest, HttpResponse

about: ContextVar[Mapping[str, str]] = ContextVar("about", default=MappingProxyType({}))
"""What is being worked on: the request or the job."""
log = logging.getLogger("moorcrest.request")
GIVEN = re.compile(r"[A-Za-z0-9._-]{8,64}")
"""A request's number that a proxy gave it."""


class JsonLine(logging.Formatter):
    """A record as one line of JSON."""

    def format(self, record: logging.LogRecord) -> str:
        row: dict[str, object] = {
            "time": time.strftime("%Y-%m-%dT%H:%M:%S", time.gmtime(record.created))
            + f".{int(record.msecs):03d}Z",
            "level": record.levelname.lower(),
            "logger": record.name,
            "message": record.getMessage(),
            **about.get(),
            **getattr(record, "fields", {}),
        }
        if record.exc_info and record.exc_info[0]:
            kind, _, trace = record.exc_info
            row["error"] = kind.__name__
            row["at"] = [f"{f.filename}:{f.lineno} {f.name}" for f in traceback.extract_tb(trace)]
        return json.dumps(row, ensure_ascii=False, default=str)


@contextmanager
def told(**of: str) -> Iterator[None]:
    """All that is logged meanwhile says what it is about."""
    before = about.set({**about.get(), **of})
    try:
        yield
    finally:
        about.reset(before)


def request_log(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Number each request, answer with its number, and log its route, status and time."""

    def middleware(request: HttpRequest) -> HttpResponse:
        given = request.META.get("HTTP_X_REQUEST_ID", "")
        number = given if GIVEN.fullmatch(given) else uuid.uuid4().hex
        started = time.perf_counter()
        with told(request=number):
            response = get_response(request)
            if request.path.startswith("/api/"):
                taken = round((time.perf_counter() - started) * 1e3, 1)
                route = request.resolver_match.route if request.resolver_match else ""
                log.info(
                    "%s %s %d",
                    request.method,
                    route,
                    response.status_code,
                    extra={"fields": {"status": response.status_code, "ms": taken}},
                )
        response.headers["X-Request-ID"] = number
        return response

    return middleware
