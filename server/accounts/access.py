"""Whose object is it: every look-up goes through the signed-in user's workspaces, and another's object is not
found."""

from typing import Any, TypeVar

from django.db.models import Model as DatabaseModel
from django.db.models import QuerySet
from django.http import Http404, HttpRequest, JsonResponse

from server.accounts.models import Membership, Workspace
from server.errors import NotAllowed

T = TypeVar("T", bound=DatabaseModel)


def workspace_of(request: HttpRequest) -> Workspace:
    """The workspace the user works in: the one they chose, else the first they belong to."""
    found = Workspace.objects.filter(members=request.user.pk).order_by("pk")
    chosen = request.session.get("workspace")
    workspace = (found.filter(pk=chosen).first() if chosen else None) or found.first()
    if workspace is None:
        raise Http404("You belong to no workspace. Ask an owner of one for an invitation.")
    return workspace


def owner_of(request: HttpRequest) -> Workspace:
    """The workspace the user works in, if they are one of its owners. Raises NotAllowed."""
    workspace = workspace_of(request)
    if not Membership.objects.filter(
        workspace=workspace, user=request.user.pk, role=Membership.OWNER
    ).exists():
        raise NotAllowed("Only owners of the workspace can do that.")
    return workspace


def owned(request: HttpRequest, queryset: QuerySet[T], key: object) -> T:
    """The object with this key, if it belongs to one of the user's workspaces; 404 otherwise."""
    found = queryset.filter(pk=key, workspace__members=request.user.pk).first()
    if found is None:
        raise Http404("There is no such thing in this workspace.")
    return found


def called(user: Any) -> str:
    """What a user is called on a drawing; empty for none."""
    return str(user.get_full_name() or user.get_username()) if user else ""


def locked_out(request: HttpRequest, *args: object, **more: object) -> JsonResponse:
    """What too many failed log-ins are answered with."""
    return JsonResponse({"message": "Too many tries. Wait a quarter of an hour, then try again."}, status=429)
