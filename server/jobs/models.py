"""A job as the interface shows it. The queue itself is procrastinate's."""

import uuid

from django.conf import settings
from django.db import models

from server.accounts.models import Workspace


class Job(models.Model):
    WAITING, RUNNING, DONE, FAILED = "waiting", "running", "done", "failed"

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE)
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    kind = models.CharField(max_length=20)
    subject = models.CharField(max_length=200)
    state = models.CharField(max_length=10, default=WAITING)
    progress = models.FloatField(default=0.0)
    text = models.CharField(max_length=300, blank=True)
    data = models.JSONField(default=dict)
    result = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "-created"])]

    def __str__(self) -> str:
        return f"{self.kind} {self.subject}: {self.state}"
