"""Placed files of a drawing: pictures and drawings of old are brought in, and what the desk shows of them."""

import io
import math
import uuid
from functools import lru_cache
from typing import Annotated, Any

import numpy as np
from django.http import Http404, HttpRequest, HttpResponse
from ninja import File, Query, Router, Schema, Status
from ninja.files import UploadedFile
from PIL import Image, ImageDraw

from drafting.annotation import registry
from drafting.annotation.kinds import underlay
from drafting.annotation.measuring.underlays import Underlay
from drafting.commands.annotations import annotation_of
from drafting.errors import CommandError, SizeError
from drafting.ink.lettering import font_size
from drafting.placed import dxf, pictures
from drafting.placed.content import content
from drafting.placed.underlay import ARC, LINE, Lines, lines_of
from drafting.text import one_line
from drafting.views.geometry import ViewCurve
from server.drawings import store
from server.drawings.access import FOREVER, own_drawing
from server.drawings.annotations import PlacedPoint
from server.drawings.models import Drawing, PlacedFile
from server.drawings.placed import kind_of
from server.drawings.showing import shown_facts
from server.errors import Problem
from server.jobs import service as jobs
from server.jobs.api import JobState
from server.library.models import Blob

router = Router(tags=["files"])
PICTURE_PIXELS = 2600
"""Of an underlay as a picture, on its longer side."""
MOST_WORDS = 1500
"""Lines of text of an underlay that the desk shows at once."""


@router.post("/{drawing_id}/files", response={202: JobState, 422: Problem})
def bring_in(request: HttpRequest, drawing_id: uuid.UUID, file: File[UploadedFile]) -> Any:
    """A picture (PNG, JPEG, SVG) or a drawing of old (DXF); the job's result says what it is and its key."""
    d = own_drawing(request, drawing_id)
    name = one_line(file.name or "")[-120:]
    kind = kind_of(name)
    if not kind:
        raise CommandError("Pictures are PNG, JPEG or SVG, and drawings of old are DXF; this is neither.")
    largest = dxf.LARGEST if kind == "underlay" else pictures.LARGEST
    if (file.size or 0) > largest:
        raise CommandError(f"The file is larger than {largest // 1_000_000} MB.")
    data = {"blob": Blob.taken(file).pk, "file_name": name}  # type: ignore[arg-type]
    job = jobs.start("read_placed", d.workspace, request.user, "read", name, data)
    return Status(202, job)


@router.get("/{drawing_id}/files/{key}", response={200: None, 404: Problem})
def picture(request: HttpRequest, drawing_id: uuid.UUID, key: str) -> HttpResponse:
    """A placed picture, as PNG."""
    row = _own(own_drawing(request, drawing_id), key, "picture")
    answer = HttpResponse(content(row.blob_id), content_type="image/png")
    answer["Cache-Control"] = FOREVER
    return answer


def _own(d: Drawing, key: str, kind: str) -> PlacedFile:
    row = PlacedFile.objects.filter(workspace_id=d.workspace_id, blob_id=key, kind=kind).first()
    if row is None:
        raise Http404("There is no such file in this workspace.")
    return row


class UnderlayPage(Schema):
    """What is known of a drawing of old. wide, high: its size in units of its own; left: entities that could
    not be drawn, by kind."""

    name: str
    unit: str
    wide: float
    high: float
    layers: list[str]
    pieces: int
    left: dict[str, int]


@router.get("/{drawing_id}/underlays/{key}", response={200: UnderlayPage, 404: Problem})
def underlay_page(request: HttpRequest, drawing_id: uuid.UUID, key: str) -> UnderlayPage:
    """A drawing of old that the workspace brought in."""
    row = _own(own_drawing(request, drawing_id), key, "underlay")
    return UnderlayPage(name=row.name, **row.told)


@router.get("/{drawing_id}/underlays/{key}/picture", response={200: None, 404: Problem})
def underlay_picture(
    request: HttpRequest,
    drawing_id: uuid.UUID,
    key: str,
    off: Annotated[list[str], Query(max_length=2000)] = [],  # noqa: B006  read from the address
) -> HttpResponse:
    """A drawing of old as a picture without the layers that are off, for when its lines are too many."""
    row = _own(own_drawing(request, drawing_id), key, "underlay")
    hidden = tuple(sorted(set(off) & set(row.told["layers"])))
    answer = HttpResponse(_painted(row.blob_id, hidden), content_type="image/png")
    answer["Cache-Control"] = FOREVER
    return answer


@lru_cache(12)
def _painted(key: str, off: tuple[str, ...]) -> bytes:
    return _paint(lines_of(key), off)


def _paint(lines: Lines, off: tuple[str, ...]) -> bytes:
    """Black lines on nothing, the whole of it."""
    wide, high = (max(v, 1e-9) for v in lines.size)
    k = PICTURE_PIXELS / max(wide, high)
    size = max(1, round(wide * k)), max(1, round(high * k))
    base = size[1] - 1
    picture = Image.new("L", size, 0)
    pen = ImageDraw.Draw(picture)
    for n in np.flatnonzero(lines.shown(off)).tolist():
        kind, v = lines.piece(n)
        if kind == ARC:
            x, y, r = v[0] * k, base - v[1] * k, v[2] * k
            if r > 2e4:
                continue
            first, last = -np.degrees(v[4]), -np.degrees(v[3])
            pen.arc((x - r, y - r, x + r, y + r), first, last, fill=255, width=2)
            continue
        points = [(a * k, base - b * k) for a, b in zip(v[::2], v[1::2], strict=True)]
        pen.line(points, fill=255, width=2 if kind == LINE else 1)
    black = Image.new("L", size, 0)
    out = io.BytesIO()
    Image.merge("LA", (black, picture)).save(out, "PNG", compress_level=3)
    return out.getvalue()


class UnderlayWords(Schema):
    """A line of text of an underlay: its lower left corner, its font's size and angle (degrees), in mm of its
    plane."""

    x: float
    y: float
    size: float
    angle: float
    text: str


class Window(Schema):
    """What lies within a box of an underlay: what can be picked, and its text; is_much: more lines than are
    shown as such, or more text."""

    curves: list[ViewCurve]
    points: list[PlacedPoint]
    words: list[UnderlayWords]
    is_much: bool


class Box(Schema):
    left: float
    bottom: float
    right: float
    top: float


@router.get("/{drawing_id}/underlays/{annotation_id}/window", response={200: Window, 404: Problem})
def window(request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str, box: Query[Box]) -> Window:
    """The lines of a placed underlay within a box of its plane: view mm at 1:1, or mm of the sheet."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    try:
        sheet, a = annotation_of(document, annotation_id)
    except CommandError:
        raise Http404("That underlay is no longer on the drawing.") from None
    if not isinstance(a, Underlay):
        raise SizeError("That is no underlay.")
    _own(d, a.file, "underlay")
    context = registry.context_of(document, sheet, a, shown_facts(d)[1])
    curves, is_much = underlay.window(a, (box.left, box.bottom), (box.right, box.top), context)
    found = underlay.points(curves)
    points = [PlacedPoint(kind=p.kind, x=p.x, y=p.y, pick=p.pick) for p in found]
    lettered = underlay.words_within(a, (box.left, box.bottom), (box.right, box.top), context)
    words = [
        UnderlayWords(
            x=t.at[0], y=t.at[1], size=font_size(t.height), angle=math.degrees(t.angle), text=t.text
        )
        for t in lettered[:MOST_WORDS]
    ]
    return Window(curves=curves, points=points, words=words, is_much=is_much)
