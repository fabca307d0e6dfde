"""What a drawing requires, in the order in which it is read."""

import math
import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from drafting.annotation import registry
from drafting.annotation.kinds import hole_callout
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.texture import SurfaceTexture
from drafting.annotation.measuring import others
from drafting.annotation.wording.numbers import INCH
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Sheet
from drafting.errors import DraftingError
from drafting.model.model import Facts
from drafting.sheet.frame import note_boxes, zone_at

Unit = Literal["mm", "in", "deg", "µm", "µin", ""]
COUNT = re.compile(r"(\d{1,4})×")
SAID = ("hole_callout", "feature_callout", "weld", "note")
"""Kinds of annotation that require something in words."""
MANY = 20.0
"""Lettering whose middles lie within so many mm of height is read from the left, one after another."""


@dataclass(frozen=True)
class Requirement:
    """Something to be inspected. annotation: its id, or the words of a general note, which has none; row:
    which of the rows of a control frame; text: as the drawing says it; kind: what it is called; count: how
    many features it is of; nominal, lower, upper: of the unit, None where there is none; at: where its
    lettering is, sheet mm; tolerance: of a control frame, the width or diameter of its zone, with its
    modifier."""

    annotation: str
    row: int
    sheet: str
    zone: str
    at: tuple[float, float]
    text: str
    kind: str
    count: int = 1
    nominal: float | None = None
    lower: float | None = None
    upper: float | None = None
    unit: Unit = ""
    modifier: str = ""
    is_round: bool = False

    @property
    def by_words(self) -> bool:
        """Whether nothing of it is a number: it is kept or it is not."""
        return self.lower is None and self.upper is None


def requirements(drawing: Drawing, facts: Facts) -> list[Requirement]:
    """All that a drawing requires, sheet by sheet, from the upper left; what is lost is left out."""
    out = []
    for sheet in drawing.sheets:
        found = [r for a in sheet.annotations for r in of_annotation(a, drawing, sheet, facts)]
        out += _read(found)
        out += _of_general_notes(drawing, sheet)
    return out


def _of_general_notes(drawing: Drawing, sheet: Sheet) -> Iterator[Requirement]:
    """The general notes that a sheet shows, after all else on it."""
    for said, (left, bottom, right, top) in note_boxes(drawing, sheet).items():
        at = (left + right) / 2, (bottom + top) / 2
        yield Requirement(said, 0, sheet.id, zone_at(sheet, *at), at, said, "General note")


def _read(found: list[Requirement]) -> list[Requirement]:
    """In lines from the top, each from the left."""
    rest = sorted(found, key=lambda r: -r.at[1])
    out: list[Requirement] = []
    while rest:
        top = rest[0].at[1]
        line = [r for r in rest if r.at[1] > top - MANY]
        out += sorted(line, key=lambda r: (r.at[0], -r.at[1], r.row))
        rest = rest[len(line) :]
    return out


def of_annotation(a: AnnotationBase, drawing: Drawing, sheet: Sheet, facts: Facts) -> Iterator[Requirement]:
    """What an annotation requires: nothing where it is for reference, basic, or lost."""
    context = registry.context_of(drawing, sheet, a, facts)
    try:
        yield from _of(a, context)
    except DraftingError:
        return


def _of(a: AnnotationBase, context: Context) -> Iterator[Requirement]:
    is_size = isinstance(a, Dimension)
    wanted = is_size or isinstance(a, ControlFrame | SurfaceTexture) or a.kind in SAID
    if not wanted or (context.view is None and not context.is_bare):
        return
    box = others.lettering_of(a, context)
    if box is None:
        return
    at = context.origin[0] + (box[0] + box[2]) / 2, context.origin[1] + (box[1] + box[3]) / 2
    text = registry.text(a, context)
    many = COUNT.match(text)
    base = Requirement(
        a.id,
        0,
        context.sheet.id,
        zone_at(context.sheet, *at),
        at,
        text,
        registry.name(a),
        int(many[1]) if many else 1,
    )
    if isinstance(a, Dimension):
        if not (a.wording.reference or a.wording.basic):
            yield _size(a, base, context)
    elif isinstance(a, ControlFrame):
        yield from _frame(a, base, context)
    elif isinstance(a, SurfaceTexture):
        if a.value is not None or a.further:
            yield _texture(a, base, context)
    elif isinstance(a, HoleCallout):
        yield _hole(a, base, context)
    elif base.text.strip():
        yield base


def _with(base: Requirement, **more: object) -> Requirement:
    return Requirement(**{**base.__dict__, **more})  # type: ignore[arg-type]


def _size(a: Dimension, base: Requirement, context: Context) -> Requirement:
    if a.wording.own:
        return _with(base, count=a.wording.count)
    value, bounds = registry.value(a, context), registry.bounds(a, context)
    is_angle = registry.size_kind(a).is_angle
    unit: Unit = "deg" if is_angle else a.wording.unit or context.profile.units
    per = math.degrees(1.0) if is_angle else 1 / INCH if unit == "in" else 1.0
    lower, upper = (bounds.lower, bounds.upper) if bounds else (None, None)
    return _with(
        base,
        count=a.wording.count,
        nominal=round(value * per, 6),
        lower=None if lower is None else round((value + lower) * per, 6),
        upper=None if upper is None else round((value + upper) * per, 6),
        unit=unit,
    )


def _hole(a: HoleCallout, base: Requirement, context: Context) -> Requirement:
    value, bounds = hole_callout.limits(a, context)
    unit = context.profile.units
    per = 1 / INCH if unit == "in" else 1.0
    if bounds is None or bounds.lower is None or bounds.upper is None:
        return base
    low, high = round((value + bounds.lower) * per, 6), round((value + bounds.upper) * per, 6)
    return _with(base, nominal=round(value * per, 6), lower=low, upper=high, unit=unit)


def _frame(a: ControlFrame, base: Requirement, context: Context) -> Iterator[Requirement]:
    unit = context.profile.units
    per = 1 / INCH if unit == "in" else 1.0
    texts = base.text.split("; ")
    for n, row in enumerate(a.rows):
        text = texts[n] if len(texts) == len(a.rows) else base.text
        zone = round(row.value * per, 6)
        yield _with(
            base,
            row=n,
            text=text,
            kind=row.characteristic,
            nominal=0.0,
            upper=zone,
            unit=unit,
            modifier=row.modifier,
            is_round=bool(row.shape),
        )


def _texture(a: SurfaceTexture, base: Requirement, context: Context) -> Requirement:
    unit: Unit = "µin" if context.profile.units == "in" else "µm"
    return _with(base, lower=a.lower, upper=a.value, unit=unit)
