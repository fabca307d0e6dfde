"""Feature control frames: what a geometric tolerance says, on a surface, a size or an extension line (ISO
1101:2017, ASME Y14.5-2018; memory)."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, line
from drafting.annotation.inking.frame_ink import frame, reach
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.kinds.control_frame_judged import before, freedom, said, told_freedom, toleranced
from drafting.annotation.kinds.control_frame_words import (
    ControlFrame,
    about,
    cell_rows,
    shown_rows,
    stored,
    words,
)
from drafting.annotation.kinds.kind import Kind, Request, Row, set_fields
from drafting.annotation.measuring.frames import DatumReference, FrameRow
from drafting.annotation.measuring.others import is_sized, lettering_of, place_on_line
from drafting.annotation.measuring.pointing import Tip, ended
from drafting.annotation.measuring.toleranced import datums, feature_at
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.frame_words import typed
from drafting.context import Context
from drafting.document import in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Text
from drafting.standards.characteristics import GROUPS, Toleranced, named, offered
from drafting.standards.profile import Profile

SHOULDER = 4.0
"""Of the leader, mm."""
GAP = 0.5
"""Between the lettering of a size and the frame below it, heights of lettering."""
NEAR = 25.0
"""How near a size's number a frame is put to stand below it, mm on paper."""
FIRST = {"mm": 0.1, "in": 0.127}
"""The value that is proposed, mm."""


# ---- where it stands ---------------------------------------------------------------------------------------
def _corner(f: ControlFrame, context: Context) -> tuple[Array, float, Array | None]:
    """Its upper left corner, the side of its leader's beginning that it stands on (0 for none), and that
    beginning; paper mm about the view's position. Raises SizeError."""
    h = context.profile.text_height
    if f.below_size and f.tip.on == "line":
        size = context.sheet.annotation(f.tip.source)
        box = lettering_of(size, context) if is_sized(size) else None
        if box is None:
            raise SizeError("The size this frame is under is no longer there.")
        under = sum(_tall(a, context.profile) for a in before(f, context))
        top = box[1] - (GAP + under + (1.4 if about(f, context.profile)[0] else 0.0)) * h
        if context.profile.dimension_text == "above":
            top -= 1.2 * h  # clear of the dimension line that the number stands on
        return np.array([box[0], top]), 0.0, None
    at, end = np.array(f.place.at(context.scale)), ended(f.tip, context)
    side = 1.0 if at[0] >= end.at[0] else -1.0
    width = reach(cell_rows(f, context.profile), h)
    left = at[0] + SHOULDER if side > 0 else at[0] - SHOULDER - width
    return np.array([left, at[1] + h]), side, at


def _reached(f: ControlFrame, at: Array, context: Context) -> list[Array]:
    """Where the leader goes: to what the frame is on; to an axis or a median plane in line with the dimension
    line, beyond its end (ISO 1101, 6.3; ASME Y14.5, 6.4)."""
    if f.tip.on == "line" and int(f.tip.at.y) == 0 and is_sized(context.sheet.annotation(f.tip.source)):
        first, along = place_on_line(f.tip.source, 0, 0.0, context)
        last, _ = place_on_line(f.tip.source, 0, 1.0, context)
        to_first = float(np.linalg.norm(at - first)) < float(np.linalg.norm(at - last))
        foot, out = (first, -along) if to_first else (last, along)
        reach = max(float((at - foot) @ out), 2 * context.profile.arrow_length)
        return [foot + out * reach, foot]
    return [ended(f.tip, context).at]


def _tall(f: ControlFrame, profile: Profile) -> float:
    """How high a frame is with the words about it, heights of lettering."""
    return 2.0 * len(f.rows) + sum(1.8 for words in about(f, profile) if words)


def ink(f: ControlFrame, context: Context) -> list[Element]:
    """The frame with its leader; paper mm about the view's position. Raises SizeError."""
    h = context.profile.text_height
    corner, side, at = _corner(f, context)
    out: list[Element] = []
    if at is not None:
        kind = "arrow" if f.tip.on == "line" else END_ON[f.tip.on]
        out += leader([at, *_reached(f, at, context)], kind, context.profile)
        out.append(line(at, at + np.array([side * SHOULDER, 0.0])))
        radii = (0.5, 0.85)[: {"here": 0, "all around": 1, "all over": 2}[f.around]]
        out += [Arc((float(at[0]), float(at[1])), r * h, 0.0, 6.283185307179586, LINE_KIND) for r in radii]
    drawn, (_, tall) = frame(cell_rows(f, context.profile), (float(corner[0]), float(corner[1])), h)
    out += drawn
    above, below = about(f, context.profile)
    if above:
        out.append(Text((float(corner[0]), float(corner[1]) + 0.4 * h), above, h, LINE_KIND))
    if below:
        out.append(Text((float(corner[0]), float(corner[1]) - tall - 1.4 * h), below, h, LINE_KIND))
    return out


def check(f: ControlFrame, context: Context) -> None:
    """Raises CommandError with what the standard forbids, SizeError where what it is on is gone."""
    for s in said(f, context):
        if s.forbidden:
            raise CommandError(s.sentence)
    _corner(f, context)


def findings(f: ControlFrame, context: Context) -> list[str]:
    """What is allowed and unwise, and what the model or another annotation has made wrong."""
    return list(dict.fromkeys(s.sentence for s in said(f, context)))


def row(f: ControlFrame, context: Context) -> Row:
    """What it says, how it is typed, and what its datums leave free."""
    _ = toleranced(f, context)
    free = freedom(f.rows[0], context) if f.rows[0].datums else None
    return Row(
        words(f, context), typed(shown_rows(f.rows, context.profile)), told_freedom(free) if free else ""
    )


# ---- made and changed --------------------------------------------------------------------------------------
def change(f: ControlFrame, values: dict[str, Any], context: Context) -> ControlFrame:
    """Fields set; `says` is the frame as it is typed."""
    values = dict(values)
    if "says" in values:
        rows = stored(str(values.pop("says")), context.profile)
        values["rows"] = [r.model_dump(mode="json") for r in rows]
    return set_fields(f, values)


def first_row(
    on: Toleranced | None, context: Context, wanted: str = "", clicked: Sequence[str] = ()
) -> FrameRow:
    """The row that is proposed for what is toleranced: the characteristic that is wanted, else the usual
    one, with the datums that were clicked, else those it needs among the drawing's."""
    standard = context.profile.standard
    can = offered(on, standard) if on else ["profile of a surface"]
    name: Any = next((c for c in can if c == wanted), can[0])
    refers = [DatumReference(letters=k) for k in clicked][:3]
    needs = not refers and GROUPS[name] in ("orientation", "location", "runout")
    return FrameRow(
        characteristic=name,
        shape="Ø" if on == "axis" and GROUPS[name] in ("orientation", "location") else "",
        value=FIRST[context.profile.units],
        datums=[DatumReference(letters="A")] if needs and datums(["A"], context)[0] else refers,
    )


def propose(request: Request, context: Context) -> ControlFrame:
    """A frame on what lies at settings `tip` (paper mm): as settings `line` says it, else of the usual
    characteristic or the one of settings `characteristic`. Raises SizeError and CommandError."""
    if context.view is None:
        raise SizeError("Point at a surface or a size in a view.")
    tip = _pointed(request, request.settings.get("tip") or request.pointer, context)
    feature = feature_at(tip, context)
    typed_ = str(request.settings.get("line") or "").strip()
    rows = (
        stored(typed_, context.profile)
        if typed_
        else [
            first_row(
                feature.on,
                context,
                str(request.settings.get("characteristic", "")),
                str(request.settings.get("datums") or "").split(),
            )
        ]
    )
    pointer, end = np.array(request.pointer), ended(tip, context).at
    made = ControlFrame(
        id=request.identity,
        anchor=in_view(context.view_id),
        rows=rows,
        tip=tip,
        below_size=bool(feature.size),
        place=beside(end / context.scale, pointer, context.scale),
    )
    return made.model_copy(update={"below_size": _is_near(made, pointer, context)})


def _pointed(request: Request, at: Any, context: Context) -> Tip:
    """What a frame is on at a place. Raises SizeError, also for another frame."""
    tip = request.pointed(at, context, sizes=True)
    other = context.sheet.annotation(tip.source) if tip.on == "line" else None
    if isinstance(other, ControlFrame):
        raise SizeError("A frame is on what the other one is on; further rows of that one are parted by ;")
    return tip


def _is_near(f: ControlFrame, pointer: Array, context: Context) -> bool:
    """Whether a frame on a size is put near its number, to stand below it."""
    size = context.sheet.annotation(f.tip.source) if f.tip.on == "line" and int(f.tip.at.y) == 0 else None
    box = lettering_of(size, context) if is_sized(size) else None
    if box is None:
        return False
    return float(np.hypot(pointer[0] - (box[0] + box[2]) / 2, pointer[1] - box[1])) < NEAR


def drag(f: ControlFrame, grip: str, request: Request, context: Context) -> ControlFrame:
    """The frame, or its leader's end (grip `tip`), at the pointer."""
    at = np.array(request.pointer)
    if grip == "tip":
        return f.model_copy(update={"tip": _pointed(request, at, context)})
    end = ended(f.tip, context).at / context.scale
    return f.model_copy(
        update={"place": beside(end, at, context.scale), "below_size": _is_near(f, at, context)}
    )


def options(tip: Tip, context: Context) -> list[str]:
    """What can be said of what a tip is on, the usual first, as the drawing's standard calls it."""
    on = feature_at(tip, context).on
    can = offered(on, context.profile.standard) if on else ["profile of a surface"]
    return [named(c, context.profile.standard) for c in can]


KIND = Kind(
    ControlFrame,
    "Control frame",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    reads_out=True,
    looks=True,
    propose=propose,
    drag=drag,
    change=change,
    where=("place", "tip", "below_size"),
)
