"""Datum features: a letter in its box, joined by a triangle to a surface, or in line with a size to the axis
or the median plane of what that is of (ISO 5459:2011, ASME Y14.5-2018, 6.3; memory)."""

import string
from collections.abc import Iterator
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import Array, line
from drafting.annotation.inking.frame_ink import datum_symbol
from drafting.annotation.inking.leader import leader
from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.added_lines import APART
from drafting.annotation.measuring.measure import LostPick
from drafting.annotation.measuring.others import is_sized, place_on_line
from drafting.annotation.measuring.pointing import Tip, ended
from drafting.annotation.measuring.toleranced import datum_features, feature_at
from drafting.annotation.placing.rows import beside
from drafting.context import Context
from drafting.document import AnnotationBase, Placement, in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Element
from drafting.standards.characteristics import DERIVED

LEFT_OUT = {"ISO": "IOQX", "ASME": "IOQ"}
"""Letters that are no datums, since they are read as others (ISO 5459; ASME Y14.5, 6.3.2)."""
SHOULDER, SHOULDER_OFF = 1.0, 2.6
"""Of a leader to a face: half of the shoulder that the triangle stands on, and how far that is from the
middle of the box, heights of lettering."""
NEAREST = 1.2
"""From the line to the middle of the box at least, heights of the box."""


class DatumFeature(AnnotationBase):
    """A datum. letter: one or two capitals; place: the middle of its box."""

    kind: Literal["datum_feature"] = "datum_feature"
    letter: Annotated[str, Field(pattern=r"^[A-Z]{1,2}$", json_schema_extra=APART)] = "A"
    tip: Tip
    place: Placement


def letters(standard: str) -> Iterator[str]:
    """Letters for datums in their order: one, then two."""
    usable = [c for c in string.ascii_uppercase if c not in LEFT_OUT[standard]]
    yield from usable
    yield from (a + b for a in usable for b in usable)


def next_letter(context: Context) -> str:
    """The first letter that no datum of the drawing has."""
    taken = {letter for letter, _, _ in datum_features(context)}
    return next(c for c in letters(context.profile.standard) if c not in taken)


def _foot(d: DatumFeature, context: Context) -> tuple[Array, Array]:
    """Where the triangle stands, and its direction outward, paper mm about the view's position. Raises
    SizeError."""
    at = np.array(d.place.at(context.scale))
    is_size = is_sized(context.sheet.annotation(d.tip.source)) if d.tip.on == "line" else False
    if is_size and int(d.tip.at.y) == 0:  # in line with the dimension line, beyond its end
        begin, along = place_on_line(d.tip.source, 0, 0.0, context)
        last, _ = place_on_line(d.tip.source, 0, 1.0, context)
        first = float(np.linalg.norm(at - begin)) < float(np.linalg.norm(at - last))
        return (begin, -along) if first else (last, along)
    end = ended(d.tip, context)
    if d.tip.on == "face":  # on the shoulder of a leader, under or over the box
        up = 1.0 if at[1] >= end.at[1] else -1.0
        return at - np.array([0.0, up * SHOULDER_OFF * context.profile.text_height]), np.array([0.0, up])
    if end.along is None:
        out = at - end.at
        n = float(np.linalg.norm(out))
        return end.at, out / n if n > 1e-9 else np.array([0.0, 1.0])
    normal = np.array([-end.along[1], end.along[0]])
    return end.at, normal if float((at - end.at) @ normal) >= 0 else -normal


def ink(d: DatumFeature, context: Context) -> list[Element]:
    """The triangle, its line and the box; paper mm about the view's position. Raises SizeError."""
    foot, outward = _foot(d, context)
    at = np.array(d.place.at(context.scale))
    h = context.profile.text_height
    out: list[Element] = []
    if d.tip.on == "face":
        end = ended(d.tip, context).at
        side = 1.0 if foot[0] >= end[0] else -1.0
        near, far = (foot + np.array([s * side * SHOULDER * h, 0.0]) for s in (-1, 1))
        out = [*leader([near, end], "dot", context.profile), line(near, far)]
    return out + datum_symbol(
        (float(foot[0]), float(foot[1])),
        (float(outward[0]), float(outward[1])),
        (float(at[0]), float(at[1])),
        d.letter,
        h,
        filled=True,
    )


def check(d: DatumFeature, context: Context) -> None:
    """Raises CommandError for a letter that is none or that another datum has, SizeError where what it is on
    is gone."""
    standard = context.profile.standard
    if set(d.letter) & set(LEFT_OUT[standard]):
        clause = "ISO 5459" if standard == "ISO" else "ASME Y14.5, 6.3.2"
        raise CommandError(f"{d.letter} is not used for datums, since it is read as another ({clause}).")
    if any(letter == d.letter and a.id != d.id for letter, a, _ in datum_features(context)):
        raise CommandError(
            f"There is a datum {d.letter} already; the next free one is {next_letter(context)}."
        )
    _foot(d, context)
    feature_at(d.tip, context)


def words(d: DatumFeature, context: Context) -> str:
    """What it is called."""
    return f"datum {d.letter}"


def row(d: DatumFeature, context: Context) -> Row:
    """Its letter and what it is on."""
    try:
        on = feature_at(d.tip, context).on
    except LostPick:
        raise
    except SizeError:
        on = None
    what = f", {'the ' if on in DERIVED else 'a '}{on}" if on else ""
    return Row(f"datum {d.letter}{what}")


def findings(d: DatumFeature, context: Context) -> list[str]:
    """A datum that no frame refers to, and one whose letter another feature has, as on a copied sheet."""
    used = any(
        d.letter in [*r.letters, *(k for i in r.indicators for k in i.letters.split("-"))]
        for s in context.drawing.sheets
        for a in s.annotations
        if a.kind == "control_frame"
        for r in a.rows  # type: ignore[attr-defined]
    )
    out = [] if used else [f"Nothing refers to the datum {d.letter}."]
    mine = feature_at(d.tip, context)
    for letter, a, home in datum_features(context):
        if letter != d.letter or a.id == d.id or home.view is None:
            continue
        try:
            other = feature_at(a.tip, home)  # type: ignore[attr-defined]
        except SizeError:
            continue
        if (other.instance, other.faces) != (mine.instance, mine.faces):
            out.append(f"The letter {d.letter} is on two datums.")
            break
    return out


def propose(request: Request, context: Context) -> DatumFeature:
    """The next free letter on what lies at settings `tip` (paper mm), its box at the pointer. Raises
    SizeError."""
    if context.view is None:
        raise SizeError("Point at a surface or a size in a view.")
    tip = request.pointed(request.settings.get("tip") or request.pointer, context, sizes=True)
    feature_at(tip, context)
    pointer = np.array(request.pointer)
    end = ended(tip, context).at
    least = NEAREST * 2 * context.profile.text_height
    away = float(np.linalg.norm(pointer - end))
    if away < least:
        pointer = end + (pointer - end) * (least / away) if away > 1e-6 else end + np.array([0.0, least])
    return DatumFeature(
        id=request.identity,
        anchor=in_view(context.view_id),
        letter=next_letter(context),
        tip=tip,
        place=beside(end / context.scale, pointer, context.scale),
    )


def drag(d: DatumFeature, grip: str, request: Request, context: Context) -> DatumFeature:
    """The datum with its box, or its triangle (grip `tip`), at the pointer."""
    if grip == "tip":
        return d.model_copy(update={"tip": request.pointed(request.pointer, context, sizes=True)})
    end = ended(d.tip, context).at / context.scale
    return d.model_copy(update={"place": beside(end, np.array(request.pointer), context.scale)})


KIND = Kind(
    DatumFeature,
    "Datum",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    reads_out=True,
    looks=True,
    propose=propose,
    drag=drag,
)
