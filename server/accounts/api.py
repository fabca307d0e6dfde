"""Sign in and out, and who is signed in."""

from typing import Any

from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.http import Http404, HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Field, Router, Schema, Status
from ninja.utils import check_csrf

from server.accounts.access import locked_out, workspace_of
from server.accounts.guarding import is_guessing, remember, trying
from server.accounts.membership import set_password
from server.accounts.models import Workspace
from server.errors import Problem

router = Router(tags=["accounts"])


class Credentials(Schema):
    username: str = Field(max_length=200)
    password: str = Field(max_length=1000)


class Belonging(Schema):
    """A workspace that somebody belongs to."""

    id: int
    name: str


class Me(Schema):
    """Who is logged in; id: 0 for nobody."""

    id: int = 0
    signed_in: bool
    name: str
    username: str
    workspace: str
    workspaces: list[Belonging]
    """All that the user belongs to."""


class Passwords(Schema):
    old: str = Field(max_length=1000)
    new: str = Field(max_length=1000)


class Chosen(Schema):
    id: int


def me_of(request: HttpRequest) -> Me:
    """Who is logged in."""
    get_token(request)  # sets the cookie that later edits send back
    user = request.user
    if not user.is_authenticated:
        return Me(signed_in=False, name="", username="", workspace="", workspaces=[])
    all_of = list(Workspace.objects.filter(members=user.pk).order_by("pk"))
    return Me(
        id=user.pk,
        signed_in=True,
        name=user.get_full_name() or user.get_username(),
        username=user.get_username(),
        workspace=workspace_of(request).name if all_of else "",
        workspaces=[Belonging(id=w.pk, name=w.name) for w in all_of],
    )


@router.get("/me", response=Me, auth=None)
def me(request: HttpRequest) -> Me:
    return me_of(request)


@router.put("/me/workspace", response=Me)
def work_in(request: HttpRequest, body: Chosen) -> Me:
    """Work in another workspace that one belongs to."""
    found = Workspace.objects.filter(pk=body.id, members=request.user.pk).first()
    if found is None:
        raise Http404("You do not belong to that workspace.")
    request.session["workspace"] = found.pk
    return me_of(request)


@router.put("/me/password", response={200: Me, 401: Problem, 429: Problem})
def change_password(request: HttpRequest, body: Passwords) -> Any:
    """Ends the user's other sessions. The old one is asked for, as at log-in and with its limit."""
    username = request.user.get_username()
    trying(request, username)
    user = authenticate(request, username=username, password=body.old)
    if user is None:
        return Status(401, {"message": "That is not your password of now."})
    set_password(user, body.new)
    update_session_auth_hash(request, user)
    return me_of(request)


@router.post("/login", response={200: Me, 401: Problem, 429: Problem}, auth=None)
def sign_in(request: HttpRequest, response: HttpResponse, credentials: Credentials) -> Any:
    if refused := check_csrf(request):  # or another site could sign a visitor in under a name of its own
        return refused
    trying(request, credentials.username)
    if is_guessing(request):
        return locked_out(request)
    user = authenticate(request, username=credentials.username, password=credentials.password)
    if user is None:
        return Status(401, {"message": "That name and password do not belong together."})
    login(request, user)
    remember(request, response, credentials.username)
    return me_of(request)


@router.post("/logout", response=Me)
def sign_out(request: HttpRequest) -> Me:
    logout(request)
    return me_of(request)
