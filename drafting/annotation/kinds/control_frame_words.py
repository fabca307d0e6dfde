"""What a control frame is: its rows, and how they are written and typed (ISO 1101:2017, ASME Y14.5-2018;
memory)."""

import math
from typing import Annotated, Any, Literal

from pydantic import Field

from drafting.annotation.inking.frame_ink import Cells
from drafting.annotation.measuring.basic_ties import Unlocated
from drafting.annotation.measuring.frames import MOST_ROWS, DatumReference, FrameRow, PlaneIndicator
from drafting.annotation.measuring.pointing import Tip
from drafting.annotation.wording.frame_words import parsed, worded
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.document import AnnotationBase, Placement
from drafting.standards.characteristics import SYMBOLS
from drafting.standards.profile import Profile

CIRCLED = {"M": "Ⓜ", "L": "Ⓛ"}
FINEST = 6
"""Decimals that a value may have: none that was typed is rounded away."""


class ControlFrame(AnnotationBase):
    """A frame. rows: what it says, values in mm; composite: whether its rows share one symbol; above, below:
    words over and under it; between: two lettered points that it holds between; tip: what it is on;
    below_size: whether it stands under the number of the size that it is on; place: its upper corner,
    where its leader begins."""

    kind: Literal["control_frame"] = "control_frame"
    rows: Annotated[list[FrameRow], Field(min_length=1, max_length=MOST_ROWS)]
    composite: Annotated[bool, Field(title="Rows share a symbol")] = False
    above: Annotated[str, Field(max_length=60, title="Above it")] = ""
    below: Annotated[str, Field(max_length=60, title="Below it")] = ""
    between: Annotated[
        str, Field(max_length=7, pattern=r"^$|^[A-Z]{1,2}↔[A-Z]{1,2}$", title="Between, as J↔K")
    ] = ""
    around: Annotated[Literal["here", "all around", "all over"], Field(title="Holds")] = "here"
    tip: Tip
    below_size: Annotated[bool, Field(title="Under the size")] = False
    place: Placement


def number_of_mm(value: float, profile: Profile) -> str:
    """A length as a frame writes it, in the unit of the drawing."""
    mm = value / 25.4 if profile.units == "in" else value
    trimmed = profile.model_copy(update={"trailing_zeros": False})
    return plain(mm, FINEST, trimmed, profile.units, trim=True)


def unsaid(need: Unlocated, profile: Profile) -> str:
    """A distance or an angle that no basic size says, and from what."""
    if not need.angle:
        return f"{number_of_mm(need.distance, profile)} from {need.letters}"
    trimmed = profile.model_copy(update={"trailing_zeros": False})
    return f"{plain(math.degrees(need.angle), FINEST, trimmed, 'mm', trim=True)}° from {need.letters}"


def cells(r: FrameRow, profile: Profile) -> tuple[str, ...]:
    """The words of a row's cells after its symbol."""
    iso = profile.standard == "ISO"
    zone = f"{r.shape}{number_of_mm(r.value, profile)}"
    zone += f"/{number_of_mm(r.per, profile)}" if r.per is not None else ""
    if r.unequal is not None:
        zone += (
            f" UZ{'+' if r.unequal > 0 else ''}{number_of_mm(r.unequal, profile)}"
            if iso
            else f"Ⓤ{number_of_mm(r.unequal, profile)}"
        )
    zone += f" {r.zones}" if r.zones else ""
    zone += CIRCLED.get(r.modifier, "") + ("Ⓕ" if r.free else "") + ("Ⓣ" if r.tangent else "")
    zone += f"Ⓟ{number_of_mm(r.projected, profile)}" if r.projected is not None else ""
    return (
        zone,
        *(d.letters + CIRCLED.get(d.modifier, "") + (f"[{d.note}]" if d.note else "") for d in r.datums),
    )


def cell_rows(f: ControlFrame, profile: Profile) -> list[Cells]:
    """All rows as they are drawn."""
    out: list[Cells] = []
    for n, r in enumerate(f.rows):
        shared = f.composite and n > 0 and r.characteristic == f.rows[0].characteristic
        out.append(Cells(None if shared else r.characteristic, cells(r, profile), tuple(r.indicators)))
    return out


def words(f: ControlFrame, context: Context) -> str:
    """What it says, in one line."""
    said = [
        " ".join([SYMBOLS[r.characteristic], *cells(r, context.profile), *map(worded, r.indicators)])
        for r in f.rows
    ]
    above, below = about(f, context.profile)
    return " ".join(filter(None, (above, "; ".join(said), below)))


def about(f: ControlFrame, profile: Profile) -> tuple[str, str]:
    """Words over and under it: what it holds between goes over it in ISO's form, under it in ASME's."""
    over = profile.standard == "ISO"
    return (
        " ".join(filter(None, (f.above, f.between if over else ""))),
        " ".join(filter(None, (f.below, "" if over else f.between))),
    )


def _scaled(r: FrameRow, k: float) -> FrameRow:
    more = {
        n: None if getattr(r, n) is None else getattr(r, n) * k
        for n in ("value", "projected", "unequal", "per")
    }
    return r.model_copy(update=more)


def shown_rows(rows: list[FrameRow], profile: Profile) -> list[FrameRow]:
    """Rows with their values in the drawing's unit."""
    return [_scaled(r, 1 / 25.4) for r in rows] if profile.units == "in" else rows


def stored(line_: str, profile: Profile) -> list[FrameRow]:
    """Rows of a typed line, values in mm. Raises CommandError."""
    rows = parsed(line_)
    return [_scaled(r, 25.4) for r in rows] if profile.units == "in" else rows


def renamed(f: ControlFrame, letter: str, new: str) -> ControlFrame:
    """The frame with a datum by another letter."""

    def of(d: DatumReference | PlaneIndicator) -> Any:
        single = d.letters.split("-")
        return d.model_copy(update={"letters": "-".join(new if k == letter else k for k in single)})

    rows = [
        r.model_copy(
            update={"datums": [of(d) for d in r.datums], "indicators": [of(i) for i in r.indicators]}
        )
        for r in f.rows
    ]
    return f.model_copy(update={"rows": rows})
