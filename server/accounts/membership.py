"""Who belongs to a workspace: inviting, joining, roles, passwords and leaving. The same for pages and the
command."""

import datetime
import hashlib
import secrets
from typing import Any

from django.contrib.auth import get_user_model
from django.contrib.auth.password_validation import validate_password
from django.contrib.auth.validators import UnicodeUsernameValidator
from django.core.exceptions import ValidationError
from django.db import transaction
from django.utils import timezone

from drafting.errors import DraftingError
from drafting.text import one_line
from server.accounts.models import Invitation, Membership, Workspace

OPEN_FOR = datetime.timedelta(days=7)
"""How long a link can be used."""
NO_LINK = "This link has been used, was taken back, or is older than a week. Ask for a new one."
LONGEST_NAME, LONGEST_USERNAME = 80, 40
MOST_OPEN = 100
"""Invitations of a workspace at once."""


class NotPossible(DraftingError):
    """Something about people that cannot be done; says why in a sentence."""


def accepted_password(password: str, user: Any) -> str:
    """The password, if the policy takes it. Raises NotPossible with what is missing."""
    try:
        if len(password) > 200:
            raise ValidationError("This password is too long: 200 characters are the most.")
        validate_password(password, user)
    except ValidationError as error:
        raise NotPossible(" ".join(error.messages)) from error
    return password


def accepted_role(role: str) -> str:
    """Raises NotPossible for what is no role."""
    if role not in Membership.ROLES:
        raise NotPossible("Somebody is an owner, a drafter, a checker or a reader of a workspace.")
    return role


def create_user(username: str, name: str, password: str | None) -> Any:
    """A new account; None as a password lets it in by a link only. Raises NotPossible."""
    users = get_user_model()
    username, name = one_line(username), one_line(name)
    try:
        UnicodeUsernameValidator()(username)
    except ValidationError as error:
        raise NotPossible("A log-in name has letters, digits and the signs @ . + - _ only.") from error
    if len(username) > LONGEST_USERNAME or len(name) > LONGEST_NAME:
        raise NotPossible(f"A log-in name has at most {LONGEST_USERNAME} characters, a name {LONGEST_NAME}.")
    if users.objects.filter(username__iexact=username).exists():
        raise NotPossible("That log-in name is taken; choose another.")
    user = users(username=username, first_name=name)
    if password is None:
        user.set_unusable_password()
    else:
        user.set_password(accepted_password(password, user))
    user.save()
    return user


def set_password(user: Any, password: str) -> None:
    """Ends all of the user's sessions. Raises NotPossible."""
    user.set_password(accepted_password(password, user))
    user.save(update_fields=["password"])
    Invitation.objects.filter(user=user).delete()


def invite(workspace: Workspace, name: str, role: str) -> tuple[Invitation, str]:
    """An invitation, and the token that its link ends in, which is told this once."""
    name = one_line(name)[:LONGEST_NAME]
    if not name:
        raise NotPossible("Say whom you invite.")
    if workspace.invitations.filter(expires__gt=timezone.now()).count() >= MOST_OPEN:
        raise NotPossible(f"{MOST_OPEN} invitations are open; take some back first.")
    return _open(workspace, name, accepted_role(role), None)


def password_link(membership: Membership) -> tuple[Invitation, str]:
    """A link by which a member chooses a new password. Only where they belong to no other workspace, or its
    owner could be let in by this one's."""
    user = membership.user
    if Membership.objects.filter(user=user).count() > 1:
        raise NotPossible(
            f"{user.get_full_name()} also belongs to another workspace; "
            f"only whoever runs this Moorcrest can set that password."
        )
    Invitation.objects.filter(user=user).delete()
    return _open(membership.workspace, user.get_full_name() or user.username, membership.role, user)


def _open(workspace: Workspace, name: str, role: str, user: Any) -> tuple[Invitation, str]:
    token = secrets.token_urlsafe(24)
    row = Invitation.objects.create(
        workspace=workspace,
        digest=_digest(token),
        name=name,
        role=role,
        user=user,
        expires=timezone.now() + OPEN_FOR,
    )
    return row, token


def _digest(token: str) -> str:
    return hashlib.sha256(token.encode()).hexdigest()


def invitation_of(token: str, lock: bool = False) -> Invitation:
    """The open invitation with this token. Raises NotPossible."""
    rows = Invitation.objects.select_for_update() if lock else Invitation.objects
    row = rows.filter(digest=_digest(token), expires__gt=timezone.now()).first()
    if row is None:
        raise NotPossible(NO_LINK)
    return row


@transaction.atomic
def join(token: str, username: str, name: str, password: str) -> Any:
    """Use a link: a new account that belongs to the workspace, or a member's new password. The account."""
    row = invitation_of(token, lock=True)
    if row.user is not None:
        user = row.user
        set_password(user, password)
    else:
        user = create_user(username, name or row.name, password)
        Membership.objects.create(user=user, workspace=row.workspace, role=row.role)
        row.delete()
    return user


@transaction.atomic
def join_as(token: str, user: Any) -> Workspace:
    """Use an invitation with an account that one has. The workspace."""
    row = invitation_of(token, lock=True)
    if row.user is not None:
        raise NotPossible("This link is for a new password; log out to use it.")
    if Membership.objects.filter(user=user, workspace=row.workspace).exists():
        raise NotPossible(f"You belong to {row.workspace} already.")
    Membership.objects.create(user=user, workspace=row.workspace, role=row.role)
    row.delete()
    return row.workspace


@transaction.atomic
def change_role(membership: Membership, role: str) -> None:
    """Raises NotPossible where a workspace would be left without an owner."""
    if accepted_role(role) != Membership.OWNER:
        _keep_an_owner(membership)
    membership.role = role
    membership.save(update_fields=["role"])


@transaction.atomic
def leave(membership: Membership) -> None:
    """Take someone out of a workspace; what they did stays. Raises NotPossible for its only owner."""
    _keep_an_owner(membership)
    Invitation.objects.filter(user=membership.user, workspace=membership.workspace).delete()
    membership.delete()


def _keep_an_owner(membership: Membership) -> None:
    owners = Membership.objects.select_for_update().filter(
        workspace=membership.workspace, role=Membership.OWNER
    )
    if [row.pk for row in owners] == [membership.pk]:
        raise NotPossible("This is the only owner of the workspace; make somebody else an owner first.")
