"""House styles of a workspace. The built-in ones are not stored."""

import uuid

from django.db import models

from drafting.standards.house_style import HouseStyle as Style
from server.accounts.models import Workspace


class HouseStyle(models.Model):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="styles")
    name = models.CharField(max_length=120)
    units = models.CharField(max_length=4)
    standard = models.CharField(max_length=10)
    data = models.JSONField()
    version = models.PositiveIntegerField(default=1)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "name"], name="one_style_name")]

    def __str__(self) -> str:
        return self.name

    def style(self) -> Style:
        return Style.model_validate(self.data)

    def take(self, style: Style) -> None:
        """Hold these values, in the columns that lists need too."""
        self.name, self.units, self.standard = style.name, style.profile.units, style.profile.standard
        self.data = style.model_dump(mode="json")
