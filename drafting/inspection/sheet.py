"""The inspection sheet: numbered requirements with what was measured of each piece, for the screen and for
files."""

import json
from collections.abc import Mapping, Sequence
from dataclasses import replace

from pydantic import BaseModel

from drafting.annotation import registry
from drafting.annotation.kinds.characteristic import CharacteristicMark, key_of
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.wording.numbers import INCH
from drafting.document import Drawing, OnAnnotation
from drafting.export.tables import Cell
from drafting.inspection.requirements import Requirement, requirements
from drafting.inspection.verdicts import Reading, judged
from drafting.model.model import Facts


class PieceOut(BaseModel):
    """What was measured of a piece. value: what counts, as a position's from dx and dy; allowed: the
    tolerance with its bonus; is_in: None where it cannot be told, why says why."""

    piece: str
    measured: float | None
    dx: float | None
    dy: float | None
    size: float | None
    is_kept: bool | None
    value: float | None
    allowed: float | None
    is_in: bool | None
    why: str


class InspectionRow(BaseModel):
    """A requirement with its number. mark: id of the number's tag; annotation: of what it stands at; gone:
    what it numbered is no longer required."""

    number: int
    mark: str
    annotation: str
    critical: bool
    sheet: int
    zone: str
    requirement: str
    kind: str
    count: int
    nominal: float | None
    lower: float | None
    upper: float | None
    unit: str
    is_frame: bool
    by_words: bool
    needs_size: bool
    method: str
    gauge: str
    pieces: list[PieceOut]
    gone: bool = False


def rows(drawing: Drawing, facts: Facts, readings: Sequence[Reading] = ()) -> list[InspectionRow]:
    """All characteristics of a drawing by their numbers, with what was measured."""
    known = {(r.annotation, r.row): r for r in requirements(drawing, facts)}
    out = []
    for n, sheet in enumerate(drawing.sheets, 1):
        for mark in sheet.annotations:
            if isinstance(mark, CharacteristicMark):
                found = known.get(key_of(mark))
                out.append(_row(mark, n, found))
                host = sheet.annotation(found.annotation) if found else None
                if found is None or (host is None and not mark.note):
                    continue
                frame = host if isinstance(host, ControlFrame) else None
                context = registry.context_of(drawing, sheet, host or mark, facts)
                for reading in readings:
                    if reading.number == mark.number:
                        filled = _with_size(reading, readings, found, frame, drawing, known)
                        v = judged(found, filled, frame, context)
                        out[-1].pieces.append(
                            PieceOut(
                                piece=reading.piece,
                                measured=reading.value,
                                dx=reading.dx,
                                dy=reading.dy,
                                size=filled.size,
                                is_kept=reading.is_kept,
                                value=v.value,
                                allowed=v.allowed,
                                is_in=v.is_in,
                                why=v.why,
                            )
                        )
    return sorted(out, key=lambda r: r.number)


def _with_size(
    reading: Reading,
    readings: Sequence[Reading],
    r: Requirement,
    frame: ControlFrame | None,
    drawing: Drawing,
    known: Mapping[tuple[str, int], Requirement],
) -> Reading:
    """With the size that was measured of the same piece at the size that a frame stands at, in the frame's
    unit, where a material condition needs it and none is said."""
    if frame is None or not r.modifier or reading.size is not None or frame.tip.on != "line":
        return reading
    number = next(
        (
            a.number
            for s in drawing.sheets
            for a in s.annotations
            if isinstance(a, CharacteristicMark)
            and isinstance(a.anchor, OnAnnotation)
            and a.anchor.annotation == frame.tip.source
        ),
        0,
    )
    size = next((o.value for o in readings if o.number == number and o.piece == reading.piece), None)
    at = known.get((frame.tip.source, 0))
    if size is not None and at is not None and at.unit != r.unit:
        size = size * INCH if at.unit == "in" else size / INCH
    return replace(reading, size=size)


def _row(mark: CharacteristicMark, sheet: int, r: Requirement | None) -> InspectionRow:
    return InspectionRow(
        number=mark.number,
        mark=mark.id,
        annotation="" if mark.note else key_of(mark)[0],
        critical=mark.critical,
        sheet=sheet,
        zone=r.zone if r else "",
        requirement=r.text if r else "no longer required",
        kind=r.kind if r else "",
        count=r.count if r else 1,
        nominal=r.nominal if r else None,
        lower=r.lower if r else None,
        upper=r.upper if r else None,
        unit=r.unit if r else "",
        is_frame=bool(r and r.nominal == 0.0 and r.lower is None),
        by_words=bool(r and r.by_words),
        needs_size=bool(r and r.modifier),
        method=mark.method,
        gauge=mark.gauge,
        pieces=[],
        gone=r is None,
    )


HEAD: list[Cell] = [
    "Number", "Critical", "Sheet", "Zone", "Requirement", "Kind", "Count", "Nominal", "Lower", "Upper",
    "Unit", "Method", "Gauge", "Piece", "Measured", "dx", "dy", "Size", "Counts", "Allowed", "In or out",
]  # fmt: skip


def table(found: Sequence[InspectionRow]) -> list[list[Cell]]:
    """Head and rows for a spreadsheet: one a characteristic and piece."""
    out: list[list[Cell]] = [HEAD]
    for r in found:
        head: list[Cell] = [
            r.number, "critical" if r.critical else "", r.sheet, r.zone, r.requirement, r.kind, r.count,
            r.nominal, r.lower, r.upper, r.unit, r.method, r.gauge,
        ]  # fmt: skip
        out += [[*head, *_piece(p)] for p in r.pieces] or [[*head, *[""] * (len(HEAD) - len(head))]]
    return out


def _piece(p: PieceOut) -> list[Cell]:
    said: Cell = p.measured if p.is_kept is None else "ok" if p.is_kept else "not ok"
    verdict = {True: "in", False: "out", None: ""}[p.is_in]
    return [p.piece, said, p.dx, p.dy, p.size, p.value, p.allowed, verdict]


def as_json(found: Sequence[InspectionRow], number: str, revision: str) -> str:
    """The sheet as data for other programs."""
    rows_ = [r.model_dump(mode="json", exclude={"mark", "annotation"}) for r in found]
    data = {"moorcrest": "inspection", "version": 1, "drawing": number, "revision": revision}
    return json.dumps({**data, "characteristics": rows_}, indent=1, ensure_ascii=False)
