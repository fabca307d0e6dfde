"""The people of a workspace: everybody sees them, owners change them."""

import datetime
import uuid
from typing import Any

from django.conf import settings
from django.contrib.auth import login
from django.http import Http404, HttpRequest
from django.utils import timezone
from ninja import Field, Router, Schema, Status
from ninja.utils import check_csrf

from server.accounts import membership as rules
from server.accounts.access import owned, owner_of, workspace_of
from server.accounts.api import Me, me_of
from server.accounts.models import Invitation, Membership
from server.accounts.usage import Usage, usage_of
from server.errors import Problem

router = Router(tags=["people"])
OWN_BACKEND = settings.AUTHENTICATION_BACKENDS[-1]


class Person(Schema):
    id: int
    username: str
    name: str
    role: str
    you: bool
    last_seen: datetime.datetime | None


class Open(Schema):
    """An invitation that was not used yet, or a link to a new password."""

    id: uuid.UUID
    name: str
    role: str
    password_only: bool
    expires: datetime.datetime


class People(Schema):
    people: list[Person]
    owner: bool
    """Whether the user is one; what follows is told to owners only."""
    invitations: list[Open]
    usage: Usage | None


class Invite(Schema):
    name: str = Field(max_length=400)
    role: str = Membership.DRAFTER


class Link(Schema):
    path: str
    """Where the link leads, from this server's address on; told this once."""


class Role(Schema):
    role: str


class Invited(Schema):
    workspace: str
    name: str
    password_only: bool
    username: str
    """Of whom it gives a new password."""


class Joining(Schema):
    username: str = Field("", max_length=400)
    name: str = Field("", max_length=400)
    password: str = Field(max_length=1000)


@router.get("/people", response=People)
def people(request: HttpRequest) -> People:
    workspace = workspace_of(request)
    rows = Membership.objects.filter(workspace=workspace).select_related("user").order_by("pk")
    mine = next(row for row in rows if row.user.pk == request.user.pk)
    found = People(
        people=[_person(row, request) for row in rows],
        owner=mine.role == Membership.OWNER,
        invitations=[],
        usage=None,
    )
    if found.owner:
        open_ones = workspace.invitations.filter(expires__gt=timezone.now()).order_by("expires")
        found.invitations = [_open(row) for row in open_ones]
        found.usage = usage_of(workspace)
    return found


@router.post("/people/invitations", response=Link)
def invite(request: HttpRequest, body: Invite) -> Link:
    _, token = rules.invite(owner_of(request), body.name, body.role)
    return Link(path=f"/join/{token}")


@router.delete("/people/invitations/{invitation_id}", response={204: None})
def take_back(request: HttpRequest, invitation_id: uuid.UUID) -> Status[Any]:
    owner_of(request)
    owned(request, Invitation.objects.all(), invitation_id).delete()
    return Status(204, None)


@router.put("/people/{person_id}", response={204: None})
def change_role(request: HttpRequest, person_id: int, body: Role) -> Status[Any]:
    rules.change_role(_one(request, person_id), body.role)
    return Status(204, None)


@router.post("/people/{person_id}/password", response=Link)
def password_link(request: HttpRequest, person_id: int) -> Link:
    """A link by which a member who forgot theirs chooses a new password."""
    _, token = rules.password_link(_one(request, person_id))
    return Link(path=f"/join/{token}")


@router.delete("/people/{person_id}", response={204: None})
def leave(request: HttpRequest, person_id: int) -> Status[Any]:
    """Take someone out; oneself without being an owner."""
    mine = Membership.objects.filter(pk=person_id, user=request.user.pk).first()
    rules.leave(mine or _one(request, person_id))
    return Status(204, None)


@router.get("/join/{token}", response={200: Invited, 422: Problem}, auth=None)
def invited(request: HttpRequest, token: str) -> Invited:
    """What a link is for; whoever has it may know."""
    row = rules.invitation_of(token)
    return Invited(
        workspace=row.workspace.name,
        name=row.name,
        password_only=row.user is not None,
        username=row.user.get_username() if row.user else "",
    )


@router.post("/join/{token}", response={200: Me, 422: Problem}, auth=None)
def join(request: HttpRequest, token: str, body: Joining) -> Any:
    if refused := check_csrf(request):
        return refused
    user = rules.join(token, body.username, body.name, body.password)
    login(request, user, backend=OWN_BACKEND)
    return me_of(request)


@router.post("/join/{token}/here", response=Me)
def join_as(request: HttpRequest, token: str) -> Me:
    """Join with the account that one is logged in with, and work there from now on."""
    request.session["workspace"] = rules.join_as(token, request.user).pk
    return me_of(request)


def _one(request: HttpRequest, person_id: int) -> Membership:
    row = Membership.objects.filter(pk=person_id, workspace=owner_of(request)).select_related("user").first()
    if row is None:
        raise Http404("That person does not belong to this workspace.")
    return row


def _person(row: Membership, request: HttpRequest) -> Person:
    return Person(
        id=row.pk,
        username=row.user.get_username(),
        name=row.user.get_full_name() or row.user.get_username(),
        role=row.role,
        you=row.user.pk == request.user.pk,
        last_seen=row.user.last_login,
    )


def _open(row: Invitation) -> Open:
    return Open(
        id=row.pk, name=row.name, role=row.role, password_only=row.user_id is not None, expires=row.expires
    )
