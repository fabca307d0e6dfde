"""Who may do what: looked at for every request that could change something, before it is read any further."""

from typing import Any

from django.http import HttpRequest
from ninja.security import SessionAuth

from server.accounts.access import workspace_of
from server.accounts.models import Membership, Workspace
from server.drawings.models import Drawing
from server.errors import NotAllowed
from server.library.models import Material, Model

OWN = ("/api/me", "/api/logout", "/api/login", "/api/join/", "/api/people", "/api/jobs/")
"""Addresses that look at rights themselves, or are about whoever asks."""
LOOKS = (
    "/propose",
    "/propose-annotation",
    "/proposal/elsewhere",
    "/drag",
    "/publish",
    "/derive",
    "/step",
    "/tools/frame",
    "/tools/block",
)
"""What is sent only to be looked at, and files that are made of it."""
STATES, PENCIL = "/state", ("/pencil/", "/findings/", "/inspection/")
"""A drawing sent for check, released and so on, and the checker's findings, or what is
meant of those found by itself: who may is asked there."""
DRAWS = (Membership.OWNER, Membership.DRAFTER)


class ByRole(SessionAuth):
    """Logged in, and in a role that may do what is asked."""

    def authenticate(self, request: HttpRequest, key: str | None) -> Any:
        """The user. Raises NotAllowed."""
        user = super().authenticate(request, key)
        if user is not None and request.method not in ("GET", "HEAD", "OPTIONS"):
            path = request.path.rstrip("/")
            if (
                not path.startswith(OWN)
                and not path.endswith((*LOOKS, STATES))
                and not any(p in path for p in PENCIL)
            ):
                _look(request)
        return user


def _look(request: HttpRequest) -> None:
    workspace = _asked(request)
    if workspace is not None:  # what is not there is answered as that
        has_role(request, workspace, DRAWS, "change anything here")


def _asked(request: HttpRequest) -> Workspace | None:
    """The workspace of what an address names, else the one that the user works in."""
    named = request.resolver_match.kwargs if request.resolver_match else {}
    for name, kind in (("drawing_id", Drawing), ("model_id", Model), ("material_id", Material)):
        if name in named:
            return Workspace.objects.filter(**{f"{kind._meta.model_name}s__pk": named[name]}).first()
    return workspace_of(request)


def has_role(request: HttpRequest, workspace: Workspace, roles: tuple[str, ...], what: str) -> str:
    """The user's role in a workspace. Raises NotAllowed where it is none of these, with what they may not."""
    role = Membership.objects.filter(workspace=workspace, user=request.user.pk).values_list("role", flat=True)
    mine = role.first()
    if mine is not None and mine not in roles:
        raise NotAllowed(f"As a {mine} of {workspace} you cannot {what}; an owner can make you one who can.")
    return mine or ""
