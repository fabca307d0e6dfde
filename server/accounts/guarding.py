"""Who may try to log in how often.

Tries that fail are counted for a name from an address, and for an address whatever the names. A browser in
which somebody has logged in before is known by a signed cookie and counts as an address of its own for that
name: so nobody locks a colleague out by wrong tries from the same office.
"""

import datetime
import hashlib
import secrets
from ipaddress import IPv6Address

from axes.models import AccessAttempt
from django.conf import settings
from django.core.signing import BadSignature, TimestampSigner
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

KNOWN_FOR = datetime.timedelta(days=400)
MOST_NAMES = 30
"""Names that may be tried in vain from one address within the time that failures count."""
TRYING = "moorcrest.trying"
OWN_NETWORK = int(IPv6Address("fd00::"))


def trying(request: HttpRequest, username: str) -> None:
    """Tell whose password a request tries, before it is tried."""
    request.META[TRYING] = username


def is_guessing(request: HttpRequest) -> bool:
    """Whether too many names were tried from where a request comes."""
    if _known(request, request.META[TRYING]):
        return False
    since = timezone.now() - datetime.timedelta(hours=settings.AXES_COOLOFF_TIME)
    tried = AccessAttempt.objects.filter(ip_address=caller(request), attempt_time__gt=since)
    return bool(tried.values("username").distinct().count() >= MOST_NAMES)


def caller(request: HttpRequest) -> str | None:
    """The address by which tries are counted: the client's, or one that stands for a known browser."""
    known = _known(request, request.META.get(TRYING, ""))
    if known:
        digest = hashlib.sha256(known.encode()).digest()[:15]
        return str(IPv6Address(OWN_NETWORK | int.from_bytes(digest, "big")))
    address: str | None = request.META.get("REMOTE_ADDR")
    return address


def remember(request: HttpRequest, response: HttpResponse, username: str) -> None:
    """Know this browser again by its cookie: the name logged in here."""
    if not _known(request, username):
        response.set_cookie(
            _cookie(username),
            TimestampSigner(salt="known").sign(f"{_digest(username)}.{secrets.token_hex(8)}"),
            max_age=KNOWN_FOR,
            httponly=True,
            samesite="Lax",
            secure=settings.SESSION_COOKIE_SECURE,
        )


def _known(request: HttpRequest, username: str) -> str:
    """What the cookie of a name says, if it is one of ours."""
    try:
        value = TimestampSigner(salt="known").unsign(request.COOKIES.get(_cookie(username), ""), KNOWN_FOR)
    except BadSignature:
        return ""
    return value if value.startswith(f"{_digest(username)}.") else ""


def _digest(username: str) -> str:
    return hashlib.sha256(username.encode(errors="replace")).hexdigest()[:16]


def _cookie(username: str) -> str:
    return f"known-{_digest(username)[:8]}"
