"""Security headers that Django 5.2 has no setting for, whose request it is behind proxies, and requests that
are too long to be read."""

from collections.abc import Callable
from contextlib import suppress
from ipaddress import ip_address

from django.conf import settings
from django.http import HttpRequest, HttpResponse

from server.errors import problem

POLICY = "; ".join(
    [
        "default-src 'self'",
        "img-src 'self' data: blob:",
        "style-src 'self' 'unsafe-inline'",
        "font-src 'self' data:",
        "connect-src 'self' blob:",
        "object-src 'none'",
        "base-uri 'none'",
        "frame-ancestors 'none'",
        "form-action 'self'",
    ]
)
# Element Plus places its floating panels with inline styles, hence 'unsafe-inline' for styles only.


ROOM = 64 * 1024
"""Bytes of a request beside its files."""


def content_security_policy(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    def middleware(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        response.headers.setdefault("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
        return response

    return middleware


def client_address(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Take the client's address from what our own proxies say, and from nobody else."""

    def middleware(request: HttpRequest) -> HttpResponse:
        named = [a.strip() for a in request.META.get("HTTP_X_FORWARDED_FOR", "").split(",")]
        if 0 < settings.PROXIES <= len(named):
            with suppress(ValueError):
                request.META["REMOTE_ADDR"] = str(ip_address(named[-settings.PROXIES]))
        return get_response(request)

    return middleware


def limited_length(
    get_response: Callable[[HttpRequest], HttpResponse],
) -> Callable[[HttpRequest], HttpResponse]:
    """Refuse by its length what is longer than an upload may be, before any of it is read."""

    def middleware(request: HttpRequest) -> HttpResponse:
        length = request.META.get("CONTENT_LENGTH") or "0"
        if not length.isdigit() or int(length) > settings.UPLOAD_LIMIT + ROOM:
            most = settings.UPLOAD_LIMIT // 2**20
            return problem(f"This is more than {most} MB, the most that can be brought in at once.", 413)
        return get_response(request)

    return middleware
