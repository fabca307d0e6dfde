"""A workspace owns models and drawings; people see only what their workspaces own."""

import uuid

from django.conf import settings
from django.db import models


class Workspace(models.Model):
    name = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)
    members = models.ManyToManyField(
        settings.AUTH_USER_MODEL, through="Membership", related_name="workspaces"
    )

    def __str__(self) -> str:
        return self.name


class Membership(models.Model):
    """Someone's place in a workspace. Drafters draw and bring in; checkers look at drawings, release and
    withdraw them; readers look and publish; owners do all of it, and say who belongs to it."""

    OWNER, DRAFTER, CHECKER, READER = "owner", "drafter", "checker", "reader"
    ROLES = (OWNER, DRAFTER, CHECKER, READER)

    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    role = models.CharField(max_length=10, default=DRAFTER)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "workspace"], name="one_membership")]


class Invitation(models.Model):
    """A link by which someone joins a workspace, or by which a member chooses a new password (user). Only the
    digest of its token is kept, so that a backup lets nobody in."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="invitations")
    digest = models.CharField(max_length=64, unique=True)
    name = models.CharField(max_length=80)
    role = models.CharField(max_length=10, default=Membership.DRAFTER)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, null=True)
    expires = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.name}, {self.role}"
