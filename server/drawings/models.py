"""A drawing is a document and a log of commands; derived views are a cache keyed by all they depend on."""

import uuid

from django.conf import settings
from django.db import models

from server.accounts.models import Workspace
from server.library.models import Blob, Model

IN_WORK, FOR_CHECK, RELEASED, WITHDRAWN = "work", "check", "released", "withdrawn"


class Drawing(models.Model):
    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="drawings")
    model = models.ForeignKey(Model, on_delete=models.PROTECT, related_name="drawings")
    name = models.CharField(max_length=400)
    number = models.CharField(max_length=60, blank=True)
    standard = models.CharField(max_length=10)
    head = models.JSONField()
    """The drawing without its sheets, which are rows of their own: an edit writes only those it touches."""
    size = models.CharField(max_length=20, blank=True)
    """Of the first sheet."""
    shows = models.PositiveIntegerField(default=1)
    """Number of the version of its model that it shows."""
    state = models.CharField(max_length=10, default=IN_WORK)
    """In work, for check, released or withdrawn; only what is in work can be edited."""
    frozen = models.ForeignKey(Blob, on_delete=models.PROTECT, null=True, related_name="+")
    """Facts of the model as they were when it was released."""
    floor = models.PositiveIntegerField(default=0)
    """Logged commands up to the last release, which are not taken back any more."""
    open = models.PositiveIntegerField(default=0)
    """What is still to do, as the shelf shows it, counted for the model as `counted_for` names it."""
    counted_for = models.CharField(max_length=64, blank=True)
    version = models.PositiveIntegerField(default=1)
    log_position = models.PositiveIntegerField(default=0)
    """Number of logged commands that are applied; those after it were undone and can be redone."""
    created = models.DateTimeField(auto_now_add=True)
    updated = models.DateTimeField(auto_now=True)
    updated_by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)

    def __str__(self) -> str:
        return f"{self.number} {self.name}".strip()


class DrawingSheet(models.Model):
    """A sheet of a drawing. lost: how many of its annotations lost what they hung on."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="sheet_rows")
    key = models.CharField(max_length=64)
    place = models.PositiveIntegerField()
    data = models.JSONField()
    lost = models.PositiveIntegerField(default=0)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drawing", "key"], name="one_sheet_key")]


class StateChange(models.Model):
    """What was done with a drawing as a whole: sent for check, sent back, released, withdrawn, opened again;
    note: what was said with it."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="state_changes")
    state = models.CharField(max_length=10)
    mark = models.CharField(max_length=8, blank=True)
    note = models.CharField(max_length=400, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)


class Release(models.Model):
    """A released revision as it was: the whole document, the version of the model that it shows, and that
    version's facts as they were."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="releases")
    mark = models.CharField(max_length=8)
    document = models.JSONField()
    shows = models.PositiveIntegerField()
    facts = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drawing", "mark"], name="one_release_a_mark")]

    def __str__(self) -> str:
        return f"revision {self.mark}"


class ReleasedFile(models.Model):
    """A file of a release, made once: its blob's key is its checksum."""

    release = models.ForeignKey(Release, on_delete=models.CASCADE, related_name="files")
    kind = models.CharField(max_length=10)
    name = models.CharField(max_length=200)
    media_type = models.CharField(max_length=100)
    blob = models.ForeignKey(Blob, on_delete=models.PROTECT, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["release", "kind"], name="one_file_a_kind")]


class PencilMark(models.Model):
    """A checker's finding on a drawing, drawn in red pencil on the desk: a cloud, an arrow or words alone.

    number: within the drawing; sheet: key of one; anchor: the view or annotation that it goes with, empty for
    the sheet; places: view mm about a view's position, or sheet mm from its corner; revision: the drawing's
    when it was made.
    """

    OPEN, ANSWERED, CLOSED = "open", "answered", "closed"

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="pencil_marks")
    number = models.PositiveIntegerField()
    kind = models.CharField(max_length=10)
    sheet = models.CharField(max_length=64)
    anchor = models.CharField(max_length=64, blank=True)
    places = models.JSONField(default=list)
    state = models.CharField(max_length=10, default=OPEN)
    revision = models.CharField(max_length=8, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drawing", "number"], name="one_pencil_number")]


class PencilWord(models.Model):
    """Something said of a finding, the first one by who made it; state: what it was set to with it."""

    mark = models.ForeignKey(PencilMark, on_delete=models.CASCADE, related_name="words")
    text = models.CharField(max_length=2000, blank=True)
    state = models.CharField(max_length=10, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)


class MeantFinding(models.Model):
    """That something that is found on a drawing by itself is meant so. key: names the finding by what it says
    of what, so that it is open again once it says something else."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="meant_findings")
    key = models.CharField(max_length=64)
    rule = models.CharField(max_length=40)
    text = models.CharField(max_length=400)
    reason = models.CharField(max_length=400)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drawing", "key"], name="meant_once")]


class MeasuredPiece(models.Model):
    """What was measured of a characteristic on a piece, in the unit that the drawing says it in. mark: id of
    the characteristic's tag, which stays when numbers change."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="measured_pieces")
    mark = models.CharField(max_length=64)
    piece = models.CharField(max_length=40)
    value = models.FloatField(null=True)
    dx = models.FloatField(null=True)
    dy = models.FloatField(null=True)
    size = models.FloatField(null=True)
    is_kept = models.BooleanField(null=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["drawing", "mark", "piece"], name="one_reading_a_piece")
        ]


class Tick(models.Model):
    """That somebody looked at what an annotation says and found it right. says: what it said then; once it
    says something else the tick no longer holds."""

    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="ticks")
    annotation = models.CharField(max_length=64)
    says = models.CharField(max_length=400)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["drawing", "annotation"], name="one_tick_an_annotation")
        ]


class PlacedFile(models.Model):
    """A picture or a drawing of old that a workspace brought in, as it was cleaned. told: what is known of
    it: its pixels, or its unit, size and layers."""

    workspace = models.ForeignKey(Workspace, on_delete=models.CASCADE, related_name="placed_files")
    blob = models.ForeignKey(Blob, on_delete=models.PROTECT)
    kind = models.CharField(max_length=10)
    name = models.CharField(max_length=120)
    told = models.JSONField(default=dict)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["workspace", "blob"], name="one_placed_file")]

    def __str__(self) -> str:
        return self.name


class LogEntry(models.Model):
    drawing = models.ForeignKey(Drawing, on_delete=models.CASCADE, related_name="log")
    sequence = models.PositiveIntegerField()
    title = models.CharField(max_length=200)
    command = models.JSONField()
    patch = models.JSONField()
    inverse = models.JSONField()
    user = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.SET_NULL, null=True)
    at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["drawing", "sequence"], name="one_log_sequence")]


class DerivedView(models.Model):
    """Geometry of a view, gzipped JSON. May be dropped at any time; it is derived again when asked for."""

    WAITING, READY, FAILED = "waiting", "ready", "failed"

    key = models.CharField(primary_key=True, max_length=64)
    archive = models.CharField(max_length=64)
    derivation = models.JSONField()
    state = models.CharField(max_length=10, default=WAITING)
    error = models.CharField(max_length=400, blank=True)
    data = models.BinaryField(null=True)
    rough = models.BinaryField(null=True)
    """A rough view, shown until the exact one is ready."""
    updated = models.DateTimeField(auto_now=True)
