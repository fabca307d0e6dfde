"""What the drawing's standard and its other annotations say of a control frame."""

from collections.abc import Sequence
from typing import Any

from drafting.annotation.kinds.control_frame_words import FINEST, ControlFrame, shown_rows, unsaid
from drafting.annotation.measuring.frame_grammar import (
    Said,
    against_size,
    judged,
    refinement,
    rows_judged,
)
from drafting.annotation.measuring.frames import FrameRow
from drafting.annotation.measuring.located import unlocated
from drafting.annotation.measuring.measure import LostPick
from drafting.annotation.measuring.others import is_sized, play_of
from drafting.annotation.measuring.toleranced import Feature, axes_of, datums, feature_at, own_letters
from drafting.context import Context
from drafting.document import Dimension
from drafting.errors import SizeError
from drafting.features.freedom import Held, Situation, held, unheld
from drafting.standards.characteristics import DERIVED, GROUPS, MODIFIERS

MOST_UNDER = 8
"""Frames under one size that are read without effort."""


def before(f: ControlFrame, context: Context) -> list["ControlFrame"]:
    """The frames that stand under the same size, nearer to it: those that were placed before."""
    out: list[ControlFrame] = []
    for a in context.sheet.annotations:
        if a.id == f.id:
            break
        if isinstance(a, ControlFrame) and a.below_size and a.tip.source == f.tip.source:
            out.append(a)
    return out


def toleranced(f: ControlFrame, context: Context) -> Feature | None:
    """What a frame is on; None where that is not known. Raises SizeError where it is gone."""
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
    standard, feature = context.profile.standard, toleranced(f, context)
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
    if f.below_size and len(before(f, context)) >= MOST_UNDER:
        out.append(
            Said("So many frames stand under one size; rows of one frame are read more easily.", False)
        )
    if own and (ring := _ring(own, f, context)):
        out.append(Said(f"The datums {ring} refer to each other: none of them comes first.", False))
    if feature and feature.faces:
        out += _beside(f, feature, context)
        for need in unlocated(f.rows[0], feature, size, context):
            out.append(Said(f"No basic size says the {unsaid(need, context.profile)}.", False))
    return out


def _ring(own: Sequence[str], f: ControlFrame, context: Context) -> str:
    """Datums by which what a frame refers to refers back to its own feature; empty without."""
    refers: dict[str, set[str]] = {}
    for a, home in context.of_annotations("control_frame"):
        assert isinstance(a, ControlFrame)
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
    for a, home in context.of_annotations("control_frame"):
        assert isinstance(a, ControlFrame)
        if a.id == f.id:
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
