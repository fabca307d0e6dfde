"""The Size sheet: all sizes of a drawing as rows, with their limits in millimeters and inches, for the screen
and for a spreadsheet."""

import math
from collections.abc import Collection, Sequence

from pydantic import BaseModel

from drafting.annotation import registry
from drafting.annotation.wording.numbers import INCH
from drafting.annotation.wording.tolerance_words import words_of
from drafting.context import Context
from drafting.document import Dimension, Drawing
from drafting.errors import SizeError
from drafting.model.model import Facts
from drafting.sheet.frame import zone_at

HEAD = (
    "Sheet",
    "Zone",
    "View",
    "Kind",
    "Text",
    "Nominal",
    "Unit",
    "Tolerance",
    "Lower mm",
    "Upper mm",
    "Lower in",
    "Upper in",
    "State",
)
VIEW_NAMES = {
    "main": "Main",
    "projected": "Projected",
    "pictorial": "Pictorial",
    "auxiliary": "Auxiliary",
    "detail": "Detail",
    "section": "Section",
}


class SizeRow(BaseModel):
    """One size. nominal, lower and upper: mm, or degrees for angles; limits None where there is none on that
    side. tolerance: own, general, reference, basic, own words or none; lost: why it has no value."""

    id: str
    sheet: str
    sheet_name: str
    zone: str
    view: str
    kind: str
    text: str
    nominal: float | None
    unit: str
    tolerance: str
    lower: float | None
    upper: float | None
    lower_in: float | None
    upper_in: float | None
    state: str
    says: str = ""
    """Its own tolerance as it is typed."""
    places: int | None = None
    lost: str = ""


def rows(drawing: Drawing, facts: Facts, redundant: Collection[str] = ()) -> list[SizeRow]:
    """All sizes, sheet by sheet. redundant: ids that follow from others."""
    out, follow = [], set(redundant)
    for sheet in drawing.sheets:
        for size in sheet.annotations:
            if not isinstance(size, Dimension):
                continue
            context = registry.context_of(drawing, sheet, size, facts)
            if context.is_bare or context.view is not None:
                out.append(_row(size, context, size.id in follow))
    return out


def _row(size: Dimension, context: Context, follows: bool) -> SizeRow:
    sheet, view = context.sheet, context.view
    x, y = size.place.at(context.scale)
    name = VIEW_NAMES[view.kind] + (f" {view.letter}" if view.letter else "") if view else "on the sheet"
    row = SizeRow(
        id=size.id,
        sheet=sheet.id,
        sheet_name=sheet.name,
        zone=zone_at(sheet, context.origin[0] + x, context.origin[1] + y),
        view=name,
        kind=registry.name(size),
        text="",
        nominal=None,
        unit="",
        tolerance="",
        lower=None,
        upper=None,
        lower_in=None,
        upper_in=None,
        state="",
    )
    try:
        value = registry.value(size, context)
        bounds = registry.bounds(size, context)
        text = registry.text(size, context)
    except SizeError as error:
        return row.model_copy(update={"state": "lost", "lost": str(error)})
    angle = registry.size_kind(size).is_angle
    per = math.degrees(1.0) if angle else 1.0
    low = None if bounds is None or bounds.lower is None else round((value + bounds.lower) * per, 6)
    high = None if bounds is None or bounds.upper is None else round((value + bounds.upper) * per, 6)
    inch = [None if angle or v is None else round(v / INCH, 6) for v in (low, high)]
    state = "own words" if size.wording.own else ("follows from others" if follows else "")
    says = words_of(size.tolerance, value, context.profile, angle)
    own = _tolerance(size, bounds is not None and bounds.general)
    more = {
        "text": text,
        "nominal": round(value * per, 6),
        "unit": "deg" if angle else "mm",
        "tolerance": own,
        "lower": low,
        "upper": high,
    }
    return row.model_copy(
        update={
            **more,
            "lower_in": inch[0],
            "upper_in": inch[1],
            "state": state,
            "says": says,
            "places": size.wording.places,
        }
    )


def _tolerance(size: Dimension, general: bool) -> str:
    if size.wording.reference:
        return "reference"
    if size.wording.basic:
        return "basic"
    t = size.tolerance
    if t.form == "class":
        return f"{t.designation}/{t.mate}" if t.mate else t.designation
    if t.form != "none":
        return {"equal": "equal", "unequal": "unequal", "limits": "limits", "min": "MIN", "max": "MAX"}[
            t.form
        ]
    return "general" if general else "none"


def table(found: Sequence[SizeRow]) -> list[list[str | float | None]]:
    """Head and rows for a spreadsheet; numbers stay numbers."""
    return [
        list(HEAD),
        *(
            [
                r.sheet_name,
                r.zone,
                r.view,
                r.kind,
                r.text,
                r.nominal,
                r.unit,
                r.tolerance,
                r.lower if r.unit == "mm" else None,
                r.upper if r.unit == "mm" else None,
                r.lower_in,
                r.upper_in,
                r.lost or r.state,
            ]
            for r in found
        ),
    ]
