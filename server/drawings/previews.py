"""Sizes under the pointer, as they would be placed. What is asked for is decided in the core; nothing is written to the database."""

import time
from typing import Literal

import numpy as np
from ninja import Schema

from drafting.annotation import measure, once, registry, runs, taking
from drafting.annotation.placing import snapped_place
from drafting.annotation.points import PickPoint, points
from drafting.annotation.view_frame import ViewFrame
from drafting.compose import size_inks
from drafting.document import AnyDimension, Dimension, HoleTable, Pick, Point, Sheet, Source, View, new_id, view_scale
from drafting.document import Drawing as Document
from drafting.errors import SizeError
from drafting.export.svg import elements_svg
from drafting.model.model import Facts
from drafting.sheet.layout import sheet_size
from drafting.views.geometry import ViewGeometry
from server.drawings.models import Drawing
from server.drawings.service import document_of, said_of
from server.library.facts import current_facts


class Picked(Schema):
    """Something of a view under the pointer: an edge or outline near a place (view mm at 1:1 about the view's position), or a point of it.

    side 0 of a face with axis set is its axis, as a center line shows it.
    """

    instance: str
    source: str
    role: Literal["edge", "silhouette", "cut"]
    at: Point
    point: Literal["", "start", "middle", "end", "center", "quadrant", "crossing"] = ""
    quarter: Literal[0, 1, 2, 3] = 0
    other: Source | None = None
    axis: bool = False

    def pick(self, facts: Facts, frame: ViewFrame) -> Pick:
        plain = Pick(instance=self.instance, source=self.source, role=self.role, point=self.point, quarter=self.quarter, other=self.other)
        return plain if self.axis or self.point else measure.pick_side(plain, (self.at.x, self.at.y), facts, frame)


class PreviewRequest(Schema):
    """wish: the name of the option wanted; empty leaves it to the pointer."""

    view: str
    picks: list[Picked]
    pointer: Point
    wish: str = ""


class RunRequest(Schema):
    """A run from an origin (the first pick) with the pointer at its row. run: one that is there already and gets more members."""

    view: str
    form: Literal["chain", "baseline", "ordinate"]
    picks: list[Picked]
    pointer: Point
    direction: Literal["", "horizontal", "vertical"] = ""
    swept: bool = False
    """Picks that have no place in the run are left out instead of refused."""


class TableRequest(Schema):
    view: str
    picks: list[Picked]
    pointer: Point


class Replacing(Schema):
    """An existing size, dragged to a pointer by its line, or by its number along it."""

    id: str
    pointer: Point
    grip: Literal["line", "number"] = "line"


class Preview(Schema):
    """svg is about the view's position, y down; options are the ways to size what was picked; note: what to know of it; repeats: the text of
    a size that says the same already; milliseconds is the server's time."""

    annotation: AnyDimension
    svg: str
    text: str
    kind: str
    option: str
    options: list[str]
    note: str
    repeats: str
    milliseconds: float


class RunPreview(Schema):
    view: str
    sizes: list[AnyDimension]
    svg: str
    texts: list[str]
    kept: list[int]
    """Which of the picks the run takes in."""


class TablePreview(Schema):
    view: str
    table: HoleTable
    svg: str


class PlacedPoint(Schema):
    """A pickable point of a view. x, y: view mm at 1:1."""

    kind: str
    x: float
    y: float
    pick: Pick


def _setting(document: Document, view_id: str, facts: Facts) -> tuple[Sheet, View, ViewFrame, float]:
    sheet = document.sheet_of_view(view_id)
    view = sheet.view(view_id) if sheet else None
    if sheet is None or view is None:
        raise SizeError("That view is no longer in the drawing.")
    scale = view_scale(sheet, view).factor
    return sheet, view, ViewFrame.of(view, facts, scale), scale


def preview_of(drawing: Drawing, request: PreviewRequest) -> Preview:
    """Raises SizeError with a sentence where the picks give no size."""
    started = time.perf_counter()
    document = document_of(drawing)
    _, facts = current_facts(drawing.model)
    sheet, view, frame, scale = _setting(document, request.view, facts)
    picks = [p.pick(facts, frame) for p in request.picks]
    at = np.array([request.pointer.x - view.position.x, request.pointer.y - view.position.y])
    width, height = sheet_size(sheet)
    room = (-view.position.x, -view.position.y, width - view.position.x, height - view.position.y)
    found = taking.taken(picks, at, request.wish, view.id, new_id(), facts, frame, scale, document.profile, room)
    size, other = found.size, once.repeats(found.size, frame, said_of(drawing, facts), facts)
    said = ""
    if other is not None:
        size = size.model_copy(update={"wording": size.wording.model_copy(update={"reference": True})})
        _, _, theirs, _ = _setting(document, other.view, facts)
        said = registry.text(other, facts, theirs, document.profile)
    return _shown(size, found, said, facts, frame, document, scale, started)


def _shown(
    size: Dimension, found: taking.Taken, said: str, facts: Facts, frame: ViewFrame, document: Document, scale: float, started: float
) -> Preview:
    ink = registry.size_ink(size, facts, frame, document.profile, scale)
    return Preview(
        annotation=size, svg=elements_svg(ink.elements(), document.profile), text=registry.text(size, facts, frame, document.profile),
        kind=registry.name(size), option=found.name, options=found.options, note=found.note, repeats=said,
        milliseconds=(time.perf_counter() - started) * 1e3,
    )  # fmt: skip


def replaced(drawing: Drawing, request: Replacing) -> Preview:
    """A placed size as it would be with its line, or its number, under the pointer. Raises SizeError."""
    started = time.perf_counter()
    document = document_of(drawing)
    sheet, size = next(((s, a) for s in document.sheets for a in s.annotations if a.id == request.id), (None, None))
    if sheet is None or not isinstance(size, Dimension):
        raise SizeError("That size is no longer on the drawing.")
    _, facts = current_facts(drawing.model)
    _, view, frame, scale = _setting(document, size.view, facts)
    at = np.array([request.pointer.x - view.position.x, request.pointer.y - view.position.y])
    slide = registry.SIZES[size.kind].shift_at
    shift = slide(size, at, facts, frame, scale) if slide and request.grip == "number" else size.shift
    moved = taking.placed(size, at, facts, frame, scale, document.profile).model_copy(update={"shift": shift})
    return _shown(moved, taking.Taken(moved, registry.name(size), []), "", facts, frame, document, scale, started)


def run_of(drawing: Drawing, request: RunRequest) -> RunPreview:
    """A run as it would be placed. Raises SizeError."""
    document = document_of(drawing)
    _, facts = current_facts(drawing.model)
    sheet, view, frame, scale = _setting(document, request.view, facts)
    at = np.array([request.pointer.x - view.position.x, request.pointer.y - view.position.y])
    picks, kept = [p.pick(facts, frame) for p in request.picks[:1]], [0]
    for n, p in enumerate(request.picks[1:], 1):
        try:
            picks.append(p.pick(facts, frame))
            kept.append(n)
        except SizeError:
            if not request.swept:
                raise
    direction = request.direction or runs.direction_of(picks, at, facts, frame, scale)
    if request.swept:
        fits = runs.fitting(picks, direction, facts, frame)
        picks, kept = [picks[n] for n in fits], [kept[n] for n in fits]
    sizes = runs.made(request.form, picks, direction, at, view.id, new_id(), facts, frame, scale, document.profile)
    alone = sheet.model_copy(update={"annotations": sizes})
    inks = size_inks(document, alone, facts)
    elements = [e for ink in inks.values() if not isinstance(ink, str) for e in ink.elements()]
    texts = [registry.text(d, facts, frame, document.profile) for d in sizes]
    return RunPreview(view=view.id, sizes=sizes, svg=elements_svg(elements, document.profile), texts=texts, kept=kept)


def table_of(drawing: Drawing, request: TableRequest) -> TablePreview:
    """A hole table as it would be placed. Raises SizeError."""
    document = document_of(drawing)
    _, facts = current_facts(drawing.model)
    _, view, frame, scale = _setting(document, request.view, facts)
    at = np.array([request.pointer.x - view.position.x, request.pointer.y - view.position.y])
    place = snapped_place(at, None, facts, frame, scale, document.profile)
    if len(request.picks) < 2:
        raise SizeError("A hole table needs an origin and at least one hole.")
    table = HoleTable(id=new_id(), view=view.id, picks=[p.pick(facts, frame) for p in request.picks], place=place)
    svg = elements_svg(registry.ink(table, facts, frame, document.profile, scale), document.profile)
    return TablePreview(view=view.id, table=table, svg=svg)


def points_of(document: Document, view: View, scale: float, geometry: ViewGeometry, facts: Facts) -> list[PlacedPoint]:
    """The points of a view that sizes can be taken from."""
    found: list[PickPoint] = points(geometry, facts, ViewFrame.of(view, facts, scale))
    return [PlacedPoint(kind=p.kind, x=round(p.x, 6), y=round(p.y, 6), pick=p.pick) for p in found]
