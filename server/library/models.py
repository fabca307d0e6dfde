"""Models and their versions. Files are content-addressed blobs in the database, so one dump is a whole
backup."""

import hashlib
import io
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import IO

from django.conf import settings
from django.db import models, transaction
from django.utils import timezone

from server.accounts.models import Workspace

PIECE = 1024 * 1024
"""Bytes of a blob that are held in memory at once."""


class Blob(models.Model):
    """Bytes by their hash, in pieces. used: when they were last stored; what nobody refers to is kept for a
    while after that."""

    sha256 = models.CharField(primary_key=True, max_length=64)
    size = models.BigIntegerField()
    used = models.DateTimeField(default=timezone.now)

    @staticmethod
    def store(data: bytes) -> "Blob":
        """The blob of these bytes, kept once however often it is stored."""
        return Blob.taken(io.BytesIO(data))

    @staticmethod
    def of_file(path: Path) -> "Blob":
        """The blob of a file's bytes."""
        with path.open("rb") as file:
            return Blob.taken(file)

    @staticmethod
    def taken(file: IO[bytes]) -> "Blob":
        """The blob of an open file's bytes from its beginning on."""
        file.seek(0)
        digest, size = hashlib.sha256(), 0
        while piece := file.read(PIECE):
            digest.update(piece)
            size += len(piece)
        with transaction.atomic():
            known = Blob.objects.filter(pk=digest.hexdigest())
            known.update(used=timezone.now())  # before it is looked for, lest it be swept away just now
            blob, new = Blob.objects.get_or_create(sha256=digest.hexdigest(), defaults={"size": size})
            file.seek(0)
            number = 0
            while new and (piece := file.read(PIECE)):
                BlobPiece.objects.create(blob=blob, number=number, data=piece)
                number += 1
        return blob

    def parts(self) -> Iterator[bytes]:
        """The bytes, a piece after another."""
        for number in range(-(-self.size // PIECE)):
            yield bytes(self.pieces.values_list("data", flat=True).get(number=number))

    def content(self) -> bytes:
        """All bytes at once, of what is known to be small."""
        return b"".join(self.parts())

    def write_to(self, path: Path) -> Path:
        """A file with these bytes."""
        with path.open("wb") as file:
            file.writelines(self.parts())
        return path


class BlobPiece(models.Model):
    blob = models.ForeignKey(Blob, on_delete=models.CASCADE, related_name="pieces")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["blob", "number"], name="one_piece_a_number")]


class Model(models.Model):
    """A part or an assembly of a workspace; columns are what lists and searches need, the rest is in the
    facts."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="models")
    name = models.CharField(max_length=120)
    number = models.CharField(max_length=60, blank=True)
    kind = models.CharField(max_length=10)
    units = models.CharField(max_length=4)
    exploded = models.JSONField(null=True)
    """Exploded states as the office made them; None for those of the file."""
    same_as = models.JSONField(default=dict)
    """Parts that the office says are the same as another: the other's key by their own."""
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)

    class Meta:
        indexes = [models.Index(fields=["workspace", "number"])]

    def __str__(self) -> str:
        return f"{self.number} {self.name}".strip()

    def current(self) -> "ModelVersion":
        return self.versions.select_related(None).order_by("-number")[0]


class PartProperties(models.Model):
    """What the office says of a part besides its file: kept with the part, so that every drawing and every
    version sees it.

    Empty text leaves what the file says.
    """

    model = models.ForeignKey(Model, on_delete=models.CASCADE, related_name="properties")
    part = models.CharField(max_length=200)
    number = models.CharField(max_length=60, blank=True)
    description = models.CharField(max_length=400, blank=True)
    material = models.CharField(max_length=80, blank=True)
    finish = models.CharField(max_length=120, blank=True)
    supplier = models.CharField(max_length=120, blank=True)
    make = models.CharField(max_length=4, blank=True)
    unit_cost = models.FloatField(null=True)
    stated_mass = models.FloatField(null=True)
    counted = models.CharField(max_length=8, blank=True)
    sectioned = models.CharField(max_length=8, blank=True)
    own = models.JSONField(default=dict)
    threads = models.JSONField(default=list)
    """Threads that the office says are on faces of the part: `ThreadFact` each."""
    processes = models.JSONField(default=list)
    """How the office says that round faces are finished: `ProcessFact` each."""

    class Meta:
        constraints = [models.UniqueConstraint(fields=["model", "part"], name="one_row_a_part")]


class Material(models.Model):
    """An own material of a workspace; density in g/cm3."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="materials")
    designation = models.CharField(max_length=80)
    density = models.FloatField()
    source = models.CharField(max_length=120, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "designation"], name="one_designation")]


class ModelVersion(models.Model):
    """One reading of a model: the file as it came, and what was prepared from it.

    Its faces and edges are called as in the version before, where they were found again. label: what the
    office calls it, empty for its number.
    """

    model = models.ForeignKey(Model, on_delete=models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField(default=1)
    file_name = models.CharField(max_length=200)
    source_kind = models.CharField(max_length=10)
    source = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")
    archive = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")
    facts_format = models.PositiveSmallIntegerField(default=1)
    """What the facts tell: `FACTS_FORMAT` of their time."""
    facts = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")
    preview = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")
    label = models.CharField(max_length=40, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    told = models.JSONField(default=dict)
    """How it differs from the version before: `share`, `likely` and `said` of `NextVersion`."""
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["model", "number"], name="one_version_number")]

    def __str__(self) -> str:
        return f"version {self.label or self.number}"
