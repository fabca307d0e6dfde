"""House styles over the API: list, copy, change, export, import, and bringing drawings along."""

import json
import uuid
from contextlib import suppress
from typing import Annotated, Any

from django.core.exceptions import ObjectDoesNotExist
from django.db import transaction
from django.http import HttpRequest, HttpResponse
from ninja import File, Router, Schema, Status
from ninja.files import UploadedFile
from pydantic import Field

from drafting.commands.sheets import TakeStyle
from drafting.document import Drawing as Document
from drafting.document import Fields, Sheet
from drafting.errors import CommandError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts, InstanceFacts, PartFacts, TreeNode
from drafting.sheet.frame import frame_ink, placed_cells
from drafting.sheet.layout import drawing_room, sheet_size
from drafting.sheet.template import FIELDS, TitleBlock, merged, split
from drafting.standards.house_style import HouseStyle as Style
from drafting.standards.house_style import built_in, checked, departures, read, standard_of, with_all_lines
from drafting.standards.profile import Profile
from server.accounts.access import owned, workspace_of
from server.accounts.models import Workspace
from server.drawings import service as drawings
from server.drawings.models import Drawing
from server.drawings.store import document_of
from server.errors import Problem
from server.styles import service
from server.styles.models import HouseStyle

router = Router(tags=["styles"])


class StyleRow(Schema):
    """id is a key for built-in styles, which cannot be changed."""

    id: str
    name: str
    standard: str
    units: str
    built_in: bool
    departs: int
    drawings: int


class StyleDrawing(Schema):
    id: uuid.UUID
    name: str
    number: str
    behind: bool
    """Whether the drawing still has earlier values."""


class StylePage(Schema):
    id: str
    built_in: bool
    version: int
    style: Style
    standard: Profile
    departs: dict[str, Any]
    drawings: list[StyleDrawing]


class NewStyle(Schema):
    """A copy of a style under a new name."""

    like: str
    name: Annotated[str, Field(max_length=120)] = ""


class Changed(Schema):
    version: int
    style: dict[str, Any]


class Along(Schema):
    drawings: list[uuid.UUID]


class FrameRequest(Schema):
    """A frame as it would look on a sheet, for the frame editor."""

    style: dict[str, Any]
    frame: str
    size: str = "A3"
    landscape: bool = True


class CellBox(Schema):
    """A cell of the title block on the sheet, mm from its lower left corner. cut: its text does not fit."""

    index: int
    left: float
    bottom: float
    width: float
    height: float
    value: str
    cut: bool


class FrameDrawn(Schema):
    width: float
    height: float
    svg: str
    cells: list[CellBox]
    room: list[float]


class BlockEdit(Schema):
    block: TitleBlock
    cells: Annotated[list[int], Field(min_length=1, max_length=2)]
    way: str


@router.get("", response=list[StyleRow])
def styles(request: HttpRequest) -> list[StyleRow]:
    workspace = workspace_of(request)
    rows = [
        (str(row.pk), row.style(), False)
        for row in HouseStyle.objects.filter(workspace=workspace).order_by("name")
    ]
    rows += [(key, style, True) for key, style in built_in().items()]
    return [
        StyleRow(
            id=key,
            name=s.name,
            standard=s.profile.standard,
            units=s.profile.units,
            built_in=fixed,
            departs=len(departures(s)),
            drawings=len(used_by(workspace, key)),
        )
        for key, s, fixed in rows
    ]


@router.get("/fields", response=dict[str, str])
def fields(request: HttpRequest) -> dict[str, str]:
    """Fields a cell of a title block can show, with their names."""
    return FIELDS


def _page(request: HttpRequest, key: str) -> StylePage:
    workspace = workspace_of(request)
    style = service.found(workspace, key)
    fixed = key in built_in()
    shown = style.model_copy(update={"profile": with_all_lines(style.profile)})
    version = 1 if fixed else HouseStyle.objects.get(pk=key, workspace=workspace).version
    return StylePage(
        id=key,
        built_in=fixed,
        version=version,
        style=shown,
        standard=with_all_lines(standard_of(style.profile)),
        departs=departures(style),
        drawings=[
            StyleDrawing(id=d.pk, name=d.name, number=d.number, behind=_behind(document_of(d), style))
            for d in used_by(workspace, key)
        ],
    )


def used_by(workspace: Workspace, key: str) -> list[Drawing]:
    """The drawings that took a style."""
    return list(Drawing.objects.filter(workspace=workspace, head__style=key).order_by("number", "name"))


def _behind(document: Document, style: Style) -> bool:
    """Whether a drawing has other values than the style's present ones."""
    frames = {f.name: f for f in style.frames}
    same = document.profile == style.profile and document.logo == style.logo
    own = [s.frame for s in document.sheets if s.frame is not None and s.frame.name in frames]
    return not (same and all(f == frames[f.name] for f in own))


@router.get("/{key}", response={200: StylePage, 422: Problem})
def style(request: HttpRequest, key: str) -> StylePage:
    return _page(request, key)


@router.post("", response={201: StylePage, 422: Problem})
@transaction.atomic
def copy(request: HttpRequest, payload: NewStyle) -> Status[Any]:
    workspace = workspace_of(request)
    like = service.found(workspace, payload.like)
    name = " ".join(payload.name.split()) or service.free_name(workspace, f"{like.name}, copy")
    made = service.save(workspace, checked({**like.model_dump(mode="json"), "name": name}))
    return Status(201, _page(request, str(made.pk)))


@router.post("/tools/import", response={201: StylePage, 422: Problem})
@transaction.atomic
def bring_in(request: HttpRequest, file: File[UploadedFile]) -> Status[Any]:
    """A house style from its JSON; under a free name where its own is taken."""
    workspace = workspace_of(request)
    if file.size and file.size > 2_000_000:
        raise CommandError("The file is larger than 2 MB, the most a house style may be.")
    try:
        read_style = read(file.read().decode())
    except UnicodeDecodeError:
        raise CommandError("The file is not JSON; a house style is exported from this page.") from None
    made = service.save(
        workspace, read_style.model_copy(update={"name": service.free_name(workspace, read_style.name)})
    )
    return Status(201, _page(request, str(made.pk)))


@router.get("/{key}/export")
def export(request: HttpRequest, key: str) -> HttpResponse:
    style = service.found(workspace_of(request), key)
    response = HttpResponse(
        json.dumps(style.model_dump(mode="json"), indent=1, ensure_ascii=False),
        content_type="application/json",
    )
    name = "".join(c if c.isalnum() or c in " -_" else "-" for c in style.name)
    response["Content-Disposition"] = (
        f"attachment; "
        f'filename="{name.encode("ascii", "replace").decode().replace("?", "-")}.house-style.json"'
    )
    return response


@router.put("/{key}", response={200: StylePage, 409: Problem, 422: Problem})
@transaction.atomic
def change(request: HttpRequest, key: uuid.UUID, payload: Changed) -> Any:
    row = owned(request, HouseStyle.objects.select_for_update(of=("self",)), key)
    if row.version != payload.version:
        return Status(
            409,
            {
                "message": "Someone has changed this house style meanwhile; it "
                "now shows their values. Make your change again."
            },
        )
    row.version += 1
    service.save(row.workspace, checked({**payload.style, "moorcrest": "house style", "version": 1}), row)
    return _page(request, str(key))


@router.post("/{key}/logo", response={200: StylePage, 422: Problem})
def logo(request: HttpRequest, key: uuid.UUID, file: File[UploadedFile]) -> Any:
    """A logo, PNG or SVG; kept as pixels, without scripts or references."""
    row = owned(request, HouseStyle.objects.all(), key)
    if file.size and file.size > 5_000_000:
        raise CommandError("The logo's file is larger than 5 MB.")
    clean = service.clean_logo(file.read())
    with transaction.atomic():
        row = HouseStyle.objects.select_for_update().get(pk=row.pk)
        row.version += 1
        service.save(row.workspace, checked({**row.data, "logo": clean}), row)
    return _page(request, str(key))


@router.delete("/{key}", response={204: None})
def remove(request: HttpRequest, key: uuid.UUID) -> Status[Any]:
    """Drawings started from it keep their values."""
    owned(request, HouseStyle.objects.all(), key).delete()
    return Status(204, None)


@router.post("/{key}/along", response={200: StylePage, 422: Problem})
@transaction.atomic
def bring_along(request: HttpRequest, key: str, payload: Along) -> StylePage:
    """Give drawings the style's present values, each as one step that can be undone there."""
    workspace = workspace_of(request)
    style = service.found(workspace, key)
    for d in sorted(used_by(workspace, key), key=lambda d: d.pk):  # in one order, or two would wait for ever
        if d.pk in payload.drawings:
            with suppress(ObjectDoesNotExist):  # removed meanwhile
                drawings.apply(d.pk, None, TakeStyle(command="take_style", id=key, style=style), request.user)
    return _page(request, key)


@router.post("/tools/frame", response={200: FrameDrawn, 422: Problem})
def frame(request: HttpRequest, payload: FrameRequest) -> FrameDrawn:
    """A frame with sample contents, to scale."""
    style = checked({**payload.style, "moorcrest": "house style", "version": 1})
    template = next((f for f in style.frames if f.name == payload.frame), style.default_frame)
    sheet = Sheet(id="sample", size=payload.size, landscape=payload.landscape, frame=template)
    names, days = ("drawn_by", "checked_by", "approved_by"), ("date", "checked_date", "approved_date")
    said = {
        **dict.fromkeys(names, "A. Fell"),
        **dict.fromkeys(days, "2026-11-23"),
        "owner": workspace_of(request).name,
    }
    sample = Document(
        name="Sample",
        profile=style.profile,
        projection=style.profile.projection,
        fields=Fields(**said, revision="A"),
        sheets=[sheet],
        logo=style.logo,
        notes=style.notes,
    )
    facts = _sample_facts()
    width, height = sheet_size(sheet)
    cells = [
        CellBox(
            index=i,
            left=p.box.left,
            bottom=p.box.bottom,
            width=p.box.width,
            height=p.box.height,
            value=p.value,
            cut=p.cut,
        )
        for i, p in enumerate(placed_cells(sample, sheet, facts))
    ]
    room = drawing_room(sheet)
    return FrameDrawn(
        width=width,
        height=height,
        svg=elements_svg(frame_ink(sample, sheet, facts), style.profile),
        cells=cells,
        room=[room.left, room.bottom, room.right, room.top],
    )


def _sample_facts() -> Facts:
    part = PartFacts(
        name="Sample part",
        number="HB-299",
        material="steel S235",
        finish="galvanized",
        volume=250_000,
        low=[0, 0, 0],
        high=[100, 50, 50],
        faces=[],
        edges=[],
    )
    one = InstanceFacts(
        path="part", name="part", part="part", matrix=[[1, 0, 0, 0], [0, 1, 0, 0], [0, 0, 1, 0], [0, 0, 0, 1]]
    )
    return Facts(
        name="Sample part",
        number="HB-299",
        material="steel S235",
        kind="part",
        units="mm",
        source="recipe",
        parts={"part": part},
        instances=[one],
        tree=TreeNode(name="Sample part"),
        low=[0, 0, 0],
        high=[100, 50, 50],
    )


@router.post("/tools/block", response={200: TitleBlock, 422: Problem})
def edit_block(request: HttpRequest, payload: BlockEdit) -> TitleBlock:
    """A title block with two cells merged (way "merge") or one split (way "columns" or "rows")."""
    if any(not 0 <= c < len(payload.block.cells) for c in payload.cells):
        raise CommandError("That cell is no longer in the title block.")
    if payload.way == "merge":
        if len(set(payload.cells)) != 2:
            raise CommandError("Pick two cells to make one of.")
        return merged(payload.block, *payload.cells)
    return split(payload.block, payload.cells[0], "rows" if payload.way == "rows" else "columns")
