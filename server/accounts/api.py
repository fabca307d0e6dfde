"""Sign in and out, and who is signed in."""

from typing import Any

from django.contrib.auth import authenticate, login, logout
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router, Schema, Status
from ninja.utils import check_csrf

from server.accounts.models import Workspace
from server.errors import Problem

router = Router(tags=["accounts"])


class Credentials(Schema):
    username: str
    password: str


class Me(Schema):
    signed_in: bool
    name: str = ""
    username: str = ""
    workspace: str = ""


def _me(request: HttpRequest) -> Me:
    get_token(request)  # sets the cookie that later edits send back
    user = request.user
    if not user.is_authenticated:
        return Me(signed_in=False)
    workspace = Workspace.objects.filter(members=user.pk).order_by("pk").first()
    return Me(
        signed_in=True,
        name=user.get_full_name() or user.get_username(),
        username=user.get_username(),
        workspace=workspace.name if workspace else "",
    )


@router.get("/me", response=Me, auth=None)
def me(request: HttpRequest) -> Me:
    return _me(request)


@router.post("/login", response={200: Me, 401: Problem, 429: Problem}, auth=None)
def sign_in(request: HttpRequest, credentials: Credentials) -> Any:
    if refused := check_csrf(request):  # or another site could sign a visitor in under a name of its own
        return refused
    user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        return Status(401, {"message": "That name and password do not belong together."})
    login(request, user)
    return _me(request)


@router.post("/logout", response=Me)
def sign_out(request: HttpRequest) -> Me:
    logout(request)
    return _me(request)
