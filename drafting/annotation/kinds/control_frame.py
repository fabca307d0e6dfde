"""Feature control frames: what a geometric tolerance says, on a surface, a size or an extension line (ISO
1101:2017, ASME Y14.5-2018; memory)."""

from collections.abc import Sequence
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, line
from drafting.annotation.inking.frame_ink import Cells, frame, reach
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.kinds.kind import Kind, Request, Row, set_fields
from drafting.annotation.measuring.frame_grammar import (
    Said,
    against_size,
    judged,
    refinement,
    rows_judged,
)
from drafting.annotation.measuring.frames import MOST_ROWS, DatumReference, FrameRow, PlaneIndicator
from drafting.annotation.measuring.located import unlocated
from drafting.annotation.measuring.measure import LostPick
from drafting.annotation.measuring.others import is_sized, lettering_of, place_on_line, play_of
from drafting.annotation.measuring.pointing import Tip, ended
from drafting.annotation.measuring.toleranced import Feature, axes_of, datums, feature_at, own_letters
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.frame_words import parsed, typed, worded
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Placement, in_view
from drafting.errors import CommandError, SizeError
from drafting.features.freedom import Held, Situation, held, unheld
from drafting.ink.elements import Arc, Element, Text
from drafting.standards.characteristics import DERIVED, GROUPS, MODIFIERS, SYMBOLS, Toleranced, named, offered
from drafting.standards.profile import Profile

SHOULDER = 4.0
"""Of the leader, mm."""
GAP = 0.5
"""Between the lettering of a size and the frame below it, heights of lettering."""
CIRCLED = {"M": "Ⓜ", "L": "Ⓛ"}
FINEST = 6
"""Decimals that a value may have: none that was typed is rounded away."""
MOST_UNDER = 8
"""Frames under one size that are read without effort."""
NEAR = 25.0
"""How near a size's number a frame is put to stand below it, mm on paper."""
FIRST = {"mm": 0.1, "in": 0.127}
"""The value that is proposed, mm."""


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


# ---- what it says ------------------------------------------------------------------------------------------
def _number(value: float, profile: Profile) -> str:
    mm = value / 25.4 if profile.units == "in" else value
    trimmed = profile.model_copy(update={"trailing_zeros": False})
    return plain(mm, FINEST, trimmed, profile.units, trim=True)


def cells(r: FrameRow, profile: Profile) -> tuple[str, ...]:
    """The words of a row's cells after its symbol."""
    iso = profile.standard == "ISO"
    zone = f"{r.shape}{_number(r.value, profile)}"
    zone += f"/{_number(r.per, profile)}" if r.per is not None else ""
    if r.unequal is not None:
        zone += (
            f" UZ{'+' if r.unequal > 0 else ''}{_number(r.unequal, profile)}"
            if iso
            else f"Ⓤ{_number(r.unequal, profile)}"
        )
    zone += f" {r.zones}" if r.zones else ""
    zone += CIRCLED.get(r.modifier, "") + ("Ⓕ" if r.free else "") + ("Ⓣ" if r.tangent else "")
    zone += f"Ⓟ{_number(r.projected, profile)}" if r.projected is not None else ""
    return (
        zone,
        *(d.letters + CIRCLED.get(d.modifier, "") + (f"[{d.note}]" if d.note else "") for d in r.datums),
    )


def _rows(f: ControlFrame, profile: Profile) -> list[Cells]:
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
    above, below = _about(f, context.profile)
    return " ".join(filter(None, (above, "; ".join(said), below)))


def _about(f: ControlFrame, profile: Profile) -> tuple[str, str]:
    """Words over and under it: what it holds between goes over it in ISO's form, under it in ASME's."""
    over = profile.standard == "ISO"
    return (
        " ".join(filter(None, (f.above, f.between if over else ""))),
        " ".join(filter(None, (f.below, "" if over else f.between))),
    )


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
        under = sum(_tall(a, context.profile) for a in _before(f, context))
        top = box[1] - (GAP + under + (1.4 if _about(f, context.profile)[0] else 0.0)) * h
        if context.profile.dimension_text == "above":
            top -= 1.2 * h  # clear of the dimension line that the number stands on
        return np.array([box[0], top]), 0.0, None
    at, end = np.array(f.place.at(context.scale)), ended(f.tip, context)
    side = 1.0 if at[0] >= end.at[0] else -1.0
    width = reach(_rows(f, context.profile), h)
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


def _before(f: ControlFrame, context: Context) -> list["ControlFrame"]:
    """The frames that stand under the same size, nearer to it: those that were placed before."""
    out: list[ControlFrame] = []
    for a in context.sheet.annotations:
        if a.id == f.id:
            break
        if isinstance(a, ControlFrame) and a.below_size and a.tip.source == f.tip.source:
            out.append(a)
    return out


def _tall(f: ControlFrame, profile: Profile) -> float:
    """How high a frame is with the words about it, heights of lettering."""
    return 2.0 * len(f.rows) + sum(1.8 for words in _about(f, profile) if words)


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
    drawn, (_, tall) = frame(_rows(f, context.profile), (float(corner[0]), float(corner[1])), h)
    out += drawn
    above, below = _about(f, context.profile)
    if above:
        out.append(Text((float(corner[0]), float(corner[1]) + 0.4 * h), above, h, LINE_KIND))
    if below:
        out.append(Text((float(corner[0]), float(corner[1]) - tall - 1.4 * h), below, h, LINE_KIND))
    return out


# ---- what it means -----------------------------------------------------------------------------------------
def _feature(f: ControlFrame, context: Context) -> Feature | None:
    try:
        return feature_at(f.tip, context)
    except LostPick:
        raise
    except SizeError:
        if f.tip.on == "line":
            raise
        return None


def said(f: ControlFrame, context: Context) -> list[Said]:
    """All that the drawing's standard says of a frame. Raises SizeError where what it is on is gone."""
    standard, feature = context.profile.standard, _feature(f, context)
    on = feature.on if feature else None
    own = own_letters(feature, context) if feature and feature.faces else []
    out = rows_judged(shown_rows(f.rows, context.profile), f.composite, standard)
    for n, r in enumerate(f.rows):
        found = datums(r.letters, context)
        sizes = [
            k
            for k, d in zip(r.letters, found, strict=True)
            if d is not None and (d.size or d.on == "cylinder")
        ]
        out += judged(r, on, standard, sizes, own)
        own_words = [d for d in r.datums if d.note and d.note.upper() not in MODIFIERS]
        out += [
            Said(f"What [{d.note}] says of {d.letters} is in words of its own.", False) for d in own_words
        ]
        others_ = [k for i in r.indicators for k in i.letters.split("-")]
        gone = [k for k, d in zip(r.letters, found, strict=True) if d is None]
        gone += [k for k, d in zip(others_, datums(others_, context), strict=True) if d is None]
        out += [Said(f"There is no datum {k} on the drawing.", False) for k in dict.fromkeys(gone)]
        if not gone:
            out += _of_freedom(r, feature, context, located=not (f.composite and n > 0))
    size = context.sheet.annotation(feature.size) if feature and feature.size else None
    if is_sized(size):
        play = play_of(size, context)
        bound = size.wording.envelope if isinstance(size, Dimension) else ""
        is_held = bound == "E" or (standard == "ASME" and bound != "I")
        envelope: Any = "held" if is_held else "not held"
        per = 25.4 if context.profile.units == "in" else 1.0
        for r in shown_rows(f.rows, context.profile):
            if play is not None and (more := against_size(r, round(play / per, FINEST), envelope, standard)):
                out.append(more)
    if f.below_size and len(_before(f, context)) >= MOST_UNDER:
        out.append(
            Said("So many frames stand under one size; rows of one frame are read more easily.", False)
        )
    if own and (ring := _ring(own, f, context)):
        out.append(Said(f"The datums {ring} refer to each other: none of them comes first.", False))
    if feature and feature.faces:
        out += _beside(f, feature, context)
        for need in unlocated(f.rows[0], feature, size, context):
            away = _number(need.distance, context.profile)
            out.append(Said(f"No basic size says the {away} from {need.letters}.", False))
    return out


def _ring(own: Sequence[str], f: ControlFrame, context: Context) -> str:
    """Datums by which what a frame refers to refers back to its own feature; empty without."""
    refers: dict[str, set[str]] = {}
    for sheet in context.drawing.sheets:
        for a in sheet.annotations:
            home = Context(context.drawing, sheet, context.facts, sheet.view_of(a))
            if not isinstance(a, ControlFrame) or home.view is None:
                continue
            try:
                mine = own_letters(feature_at(a.tip, home), context)
            except SizeError:
                continue
            for letter in mine:
                refers.setdefault(letter, set()).update(k for r in a.rows for k in r.letters)
    for letter in own:
        reached = {x for r in f.rows for k in r.letters for x in (k, *_all(k, refers))}
        if letter in reached:
            through = sorted(k for k in reached if k != letter and letter in _all(k, refers))
            return " and ".join([letter, *through])
    return ""


def _all(letter: str, refers: dict[str, set[str]]) -> set[str]:
    """What a datum refers to, and those to."""
    reached: set[str] = set()
    front = set(refers.get(letter, ()))
    while front:
        reached |= front
        front = {k for x in front for k in refers.get(x, ())} - reached
    return reached


def _beside(f: ControlFrame, feature: Feature, context: Context) -> list[Said]:
    """What is to be said of a frame and others on the same feature."""
    rows = list(f.rows)
    for sheet in context.drawing.sheets:
        for a in sheet.annotations:
            home = Context(context.drawing, sheet, context.facts, sheet.view_of(a))
            if not isinstance(a, ControlFrame) or a.id == f.id or home.view is None:
                continue
            try:
                other = feature_at(a.tip, home)
            except SizeError:
                continue
            if (other.instance, other.faces, other.on) == (feature.instance, feature.faces, feature.on):
                rows += a.rows
    rows = shown_rows(rows, context.profile)
    return refinement(rows, context.profile.standard) if len(rows) > len(f.rows) else []


def groups_of(r: FrameRow, context: Context) -> list[list[Situation]] | None:
    """What a row's datums are reduced to, in order; None where one is not there."""
    out = []
    for d in r.datums:
        found = datums(d.single, context)
        if any(x is None for x in found):
            return None
        out.append([s for x in found if x is not None for s in x.situations])
    return out


def freedom(r: FrameRow, context: Context) -> Held | None:
    """What a row's datums hold; None where one of them is not there."""
    groups = groups_of(r, context)
    return None if groups is None else held(groups, axes_of(context))


def _of_freedom(r: FrameRow, feature: Feature | None, context: Context, located: bool) -> list[Said]:
    """What the datums of a row hold. located: whether it says where its features are; the lower rows of a
    composite frame hold them to each other."""
    groups = groups_of(r, context)
    if not groups:
        return []
    out = []
    taken = held(groups).taken
    for d, n in zip(r.datums, taken, strict=True):
        if n == 0:
            out.append(Said(f"The datum {d.letters} holds nothing that those before it do not hold.", False))
    if feature is None or feature.on not in DERIVED:
        return out
    if located and r.characteristic == "position" and (left := unheld(feature.situation, groups)):
        way = "one way" if left == 1 else f"{left} ways"
        out.append(
            Said(
                f"The datums {', '.join(d.letters for d in r.datums)} leave the {feature.on} free in {way}.",
                False,
            )
        )
    round_ = bool(r.shape) and GROUPS[r.characteristic] == "orientation"  # else its zone is of one direction
    if round_ and unheld(feature.situation, groups, only_turns=True):
        out.append(
            Said(f"The datum {r.datums[0].letters} does not hold the direction of the {feature.on}.", False)
        )
    return out


def told_freedom(h: Held) -> str:
    """What datums hold of the part in words, and along and about which of the model's axes it is free."""
    if not h.free:
        return "all 6 degrees of freedom"
    shifts = [a for a, free in zip("XYZ", h.shifts, strict=True) if free]
    turns = [a for a, free in zip("XYZ", h.turns, strict=True) if free]
    free = ([f"shift {', '.join(shifts)}"] if shifts else []) + (
        [f"turn {', '.join(turns)}"] if turns else []
    )
    return f"{6 - h.free} of 6 degrees of freedom" + (f"; left free: {'; '.join(free)}" if free else "")


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
    _ = _feature(f, context)
    free = freedom(f.rows[0], context) if f.rows[0].datums else None
    return Row(
        words(f, context), typed(shown_rows(f.rows, context.profile)), told_freedom(free) if free else ""
    )


# ---- made and changed --------------------------------------------------------------------------------------
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


def change(f: ControlFrame, values: dict[str, Any], context: Context) -> ControlFrame:
    """Fields set; `says` is the frame as it is typed."""
    values = dict(values)
    if "says" in values:
        rows = stored(str(values.pop("says")), context.profile)
        values["rows"] = [r.model_dump(mode="json") for r in rows]
    return set_fields(f, values)


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
