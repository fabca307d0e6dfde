"""Routes of sizes that come from the model: brought to the drawing, and set on it."""

import math
import uuid
from collections.abc import Mapping, Sequence
from typing import Annotated, Any

from django.http import HttpRequest
from ninja import Query, Router, Schema, Status
from pydantic import Field

from drafting.annotation import registry
from drafting.annotation.proposing.mate_sizes import sizes_of_mates
from drafting.annotation.proposing.recipe_sizes import own_sizes
from drafting.annotation.registry import Annotation
from drafting.commands.annotations import annotation_of
from drafting.context import Context
from drafting.document import Dimension, Sheet
from drafting.document import Drawing as Document
from drafting.errors import SizeError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.views.geometry import ViewGeometry
from server.drawings import store
from server.drawings.access import WAIT, own_drawing, shape, sheet_of
from server.drawings.service import NOT_IN_WORK
from server.drawings.showing import shown_facts
from server.drawings.sizes import in_rows
from server.errors import NotYet, Problem
from server.jobs import service
from server.jobs.api import JobState
from server.library import own_numbers

router = Router(tags=["sizes"])
MILLION = 1e6


class ModelSize(Schema):
    """A number that the model is made of. called: what it is; size: what says it, in its place; svg: its
    ink about the position of its view, y down; why: why there is no size, a sentence."""

    called: str
    feature: str
    text: str
    size: Annotation | None
    view: str
    svg: str
    why: str


class ModelSizes(Schema):
    """What can be brought to a sheet; job: what is to be waited for before it is known; why: why the model
    has no numbers of its own; views: what to place so that the rest can be said, too."""

    rows: list[ModelSize]
    job: JobState | None
    why: str
    views: list["WantedViewOut"] = []


class WantedViewOut(Schema):
    """A view that is wanting; command: places it, empty where a drafter has to say how; crowded: whether the
    sheet has to be arranged with it."""

    text: str
    command: dict[str, Any] = {}
    crowded: bool = False


@router.get(
    "/{drawing_id}/sheets/{sheet_id}/model-sizes",
    response={200: ModelSizes, 404: Problem, 422: Problem, 425: Problem},
)
def model_sizes(
    request: HttpRequest,
    drawing_id: uuid.UUID,
    sheet_id: str,
    view: str = "",
    feature: Annotated[list[str], Query()] = [],  # noqa: B006  read only
) -> Any:
    """The numbers of a part's recipe, or what positions the parts of an assembly, as sizes in the views of
    a sheet, in rows; of one view or of some features where that is asked. Never a part's sizes in an
    assembly."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    host = sheet_of(document, sheet_id)
    version, facts = shown_facts(d)
    if facts.kind == "part" and version.source_kind != "recipe":
        return ModelSizes(
            rows=[],
            job=None,
            why=f"{d.model} was read from {version.file_name}: its sizes are measured, it has no numbers of "
            f"its own.",
        )
    if facts.kind == "assembly" and not facts.mates:
        why = "The model states no mates: offsets and angles between parts come from an assembly recipe."
        return ModelSizes(rows=[], job=None, why=why)
    decided = own_numbers.known(version) if facts.kind == "part" else []
    if decided is None:
        return ModelSizes(rows=[], why="", job=JobState.from_orm(own_numbers.start(version, request.user)))
    geometries = {v.id: g for v in host.views if (g := shape(d, host, v)[1]) is not None and not g.rough}
    if len(geometries) < len(host.views):
        raise NotYet(WAIT)
    if facts.kind == "assembly":
        mates = sizes_of_mates(document, host, geometries, facts)
        rows = [_row("", "", s, "", document, host, facts) for s in mates.sizes if view in ("", s.view)]
        rows += [_row("", "", None, said, document, host, facts) for said in mates.left_out]
    else:
        found = own_sizes(document, host, geometries, facts, decided, view, feature)
        rows = [_row(f.of.called, f.of.feature, f.size, f.why, document, host, facts) for f in found]
    in_place(rows, document, host, facts, geometries)
    return ModelSizes(rows=rows, job=None, why="")


def _row(
    called: str, feature: str, size: Dimension | None, why: str, document: Document, host: Sheet, facts: Facts
) -> ModelSize:
    text, view = "", ""
    if size is not None:
        context = Context(document, host, facts, host.view(size.view))
        text, view = registry.text(size, context), size.view
    return ModelSize(called=called, feature=feature, text=text, size=size, view=view, svg="", why=why)


def with_sheet(document: Document, sheet: Sheet) -> Document:
    """The drawing with a sheet as it is to be."""
    return document.model_copy(update={"sheets": [sheet if s.id == sheet.id else s for s in document.sheets]})


def in_place(
    rows: Sequence[ModelSize],
    document: Document,
    host: Sheet,
    facts: Facts,
    geometries: Mapping[str, ViewGeometry],
) -> None:
    """Give sizes their places in the rows of their views, and their ink."""
    for view in host.views:
        mine = [r for r in rows if r.size is not None and r.view == view.id]
        if not mine:
            continue
        context = Context(document, host, facts, view)
        sizes = [r.size for r in mine if isinstance(r.size, Dimension)]
        moves = {m.id: m for m in in_rows(sizes, context, geometries[view.id])}
        for row in mine:
            assert isinstance(row.size, Dimension)
            move = moves.get(row.size.id)
            if move is not None:
                row.size = row.size.model_copy(update={"place": move.place, "shift": move.shift})
            try:
                row.svg = elements_svg(registry.size_ink(row.size, context).elements(), context.profile)
            except SizeError as error:
                row.size, row.why = None, str(error)
        host = host.model_copy(
            update={"annotations": [*host.annotations, *(r.size for r in mine if r.size is not None)]}
        )
        document = with_sheet(document, host)


class ModelValue(Schema):
    """What a size is to be, in the drawing's unit, or in degrees."""

    value: Annotated[float, Field(gt=0, lt=MILLION, allow_inf_nan=False)]


@router.post(
    "/{drawing_id}/sizes/{annotation_id}/model-value",
    response={202: JobState, 404: Problem, 422: Problem},
)
def set_on_model(request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str, payload: ModelValue) -> Any:
    """Make the model so that a size has a value; the job says what was done, or why it cannot be."""
    d = own_drawing(request, drawing_id)
    if d.state in NOT_IN_WORK:
        raise SizeError(NOT_IN_WORK[d.state])
    document = store.document_of(d)
    _, size = annotation_of(document, annotation_id)
    if not isinstance(size, Dimension):
        raise SizeError("Only a size can be set on the model.")
    is_angle = registry.size_kind(size).is_angle
    per = math.pi / 180 if is_angle else 25.4 if document.profile.units == "in" else 1.0
    data = {"drawing": str(d.pk), "annotation": annotation_id, "value": payload.value * per}
    subject = f"{d.model} from {d}"
    return Status(202, service.start("resize_model", d.workspace, request.user, "resize", subject, data))
