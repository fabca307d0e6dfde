"""Welds: the symbol with its arrow line, on what it joins (ISO 2553, system A; AWS A2.4 in ASME drawings;
memory)."""

from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import Array
from drafting.annotation.inking.leader import leader
from drafting.annotation.inking.weld_ink import Side, weld_ink
from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.pointing import Tip, ended
from drafting.annotation.measuring.traces import placed
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.document import AnnotationBase, Placement, in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Element
from drafting.model.model import PartFacts
from drafting.standards import welds as table
from drafting.standards.profile import Profile

Size = Annotated[float, Field(gt=0, le=1000)]
IN_PLANE: tuple[table.Form, ...] = ("square", "V", "bevel", "U", "J", "seam")
IN_CORNER: tuple[table.Form, ...] = ("fillet", "bevel", "J", "flare bevel", "square")
ON_FACE: tuple[table.Form, ...] = ("plug", "spot", "seam", "surfacing", "fillet")
"""What can be welded where, the likeliest first (common practice)."""
TOUCH = 0.05
"""How near the faces of two parts lie that are welded, mm."""


class Weld(AnnotationBase):
    """A weld. other: on the other side, none for one side only; measure, size: throat (a) or leg (z) of a
    fillet weld, penetration (s) of others, mm; other_size: on the other side, None for the same; length,
    count, pitch: of intermittent welds, mm; tail: words after the process, as a quality."""

    kind: Literal["weld"] = "weld"
    form: Annotated[table.Form, Field(title="Weld")] = "fillet"
    other: Annotated[table.Other, Field(title="Other side")] = "none"
    measure: Annotated[Literal["a", "z", "s"], Field(title="Size is")] = "a"
    size: Annotated[Size, Field(title="Size, mm", json_schema_extra={"empty": "none"})] | None = None
    other_size: (
        Annotated[Size, Field(title="Other side, mm", json_schema_extra={"empty": "the same"})] | None
    ) = None
    count: (
        Annotated[int, Field(ge=1, le=999, title="How many", json_schema_extra={"empty": "one"})] | None
    ) = None
    length: (
        Annotated[float, Field(gt=0, le=1e5, title="Length, mm", json_schema_extra={"empty": "all along"})]
        | None
    ) = None
    pitch: (
        Annotated[float, Field(gt=0, le=1e5, title="Gap, mm", json_schema_extra={"empty": "none"})] | None
    ) = None
    around: Annotated[bool, Field(title="All around")] = False
    staggered: Annotated[bool, Field(title="Staggered")] = False
    contour: Annotated[Literal["as welded", "flat", "convex", "concave"], Field(title="Surface")] = (
        "as welded"
    )
    field: Annotated[bool, Field(title="Made on site")] = False
    process: Annotated[str, Field(max_length=12, title="Process")] = ""
    tail: Annotated[str, Field(max_length=60, title="Tail")] = ""
    tip: Tip
    place: Placement


def _number(value: float, profile: Profile) -> str:
    mm = value / 25.4 if profile.units == "in" else value
    trimmed = profile.model_copy(update={"trailing_zeros": False})
    return plain(mm, 6, trimmed, profile.units, trim=True)


def _is_aws(context: Context) -> bool:
    return context.profile.standard == "ASME"


def sides(w: Weld, context: Context) -> tuple[Side, Side | None]:
    """What stands on the arrow side and on the other side."""
    profile, aws = context.profile, _is_aws(context)
    after = ""
    if w.length is not None:
        long = _number(w.length, profile)
        if aws:  # length and pitch from middle to middle
            after = long if w.pitch is None else f"{long}-{_number(w.pitch + w.length, profile)}"
        else:
            after = long if w.count is None else f"{w.count} × {long}"
            after += "" if w.pitch is None else f" ({_number(w.pitch, profile)})"

    def side(form: str, size: float | None) -> Side:
        letter = "" if aws else w.measure
        before = "" if size is None or form == "back run" else f"{letter}{_number(size, profile)}"
        return Side(form, before, after if form != "back run" else "", w.contour)

    arrow = side(w.form, w.size)
    return arrow, None if w.other == "none" else side(w.other, w.other_size or w.size)


def _tail(w: Weld) -> str:
    return "/".join(t for t in (w.process.strip(), w.tail.strip()) if t)


def ink(w: Weld, context: Context) -> list[Element]:
    """The arrow line and the symbol; paper mm about the view's position. Raises SizeError."""
    at, end = np.array(w.place.at(context.scale)), ended(w.tip, context).at
    side = 1.0 if at[0] >= end[0] else -1.0
    arrow, other = sides(w, context)
    return [
        *leader([at, end], "arrow", context.profile),
        *weld_ink(
            at,
            side,
            arrow,
            other,
            _tail(w),
            around=w.around,
            field=w.field,
            staggered=w.staggered,
            is_aws=_is_aws(context),
            h=context.profile.text_height,
        ),
    ]


def check(w: Weld, context: Context) -> None:
    """Raises CommandError for what cannot be welded so, SizeError where what it points at is gone."""
    other = "" if w.other == "none" else w.other
    has_throat = w.size is not None and w.measure in ("a", "z")
    fault = table.fault(w.form, other, has_throat, w.count, w.pitch, w.staggered, w.around)
    if fault is not None:
        raise CommandError(fault)
    ended(w.tip, context)


def words(w: Weld, context: Context) -> str:
    """What it says, in one line."""
    arrow, other = sides(w, context)
    said = [arrow.before, f"{w.form} weld", arrow.after]
    if other is not None:
        said += [
            "and",
            *([other.before] if other.before != arrow.before else []),
            f"{w.other} on the other side",
        ]
    said += [*(["all around"] if w.around else []), *(["on site"] if w.field else []), _tail(w)]
    return " ".join(filter(None, said))


def row(w: Weld, context: Context) -> Row:
    """What lists show of it."""
    return Row(words(w, context))


def findings(w: Weld, context: Context) -> list[str]:
    """A weld without a size, a process that is none, and a number that AWS has no place for."""
    out = []
    if w.count is not None and _is_aws(context) and w.form not in table.POINTS:
        out.append("AWS A2.4 says length and pitch of intermittent welds, not how many there are.")
    if w.size is None and w.form == "fillet":
        out.append("A fillet weld says no size.")
    if w.process and not _is_aws(context) and w.process not in table.PROCESSES:
        out.append(f"{w.process} is no process of ISO 4063 that is known here.")
    return out


def propose(request: Request, context: Context) -> Weld:
    """The weld that the seam at settings `tip` (paper mm) can be, with its line at the pointer. Raises
    SizeError."""
    if context.view is None:
        raise SizeError("Point at a seam in a view.")
    tip = request.pointed(request.settings.get("tip") or request.pointer, context)
    end = ended(tip, context).at / context.scale
    wanted = str(request.settings.get("form", ""))
    can = offers(tip, context)
    form = next((f for f in can if f == wanted), can[0])
    return Weld(
        id=request.identity,
        anchor=in_view(context.view_id),
        form=form,
        measure="a" if form == "fillet" else "s",
        tip=tip,
        place=beside(end, np.array(request.pointer), context.scale),
    )


def offers(tip: Tip, context: Context) -> tuple[table.Form, ...]:
    """What can be welded where an arrow points, the likeliest first: a butt where a face of another part goes
    on in the plane of one of this edge, a weld in the corner where faces meet at an angle, on a face what
    goes through it or onto it."""
    if tip.on == "face":
        return ON_FACE
    found = context.facts.part_of(tip.instance)
    edge = found[1].edge(tip.source) if found and tip.role == "edge" else None
    if found is None or edge is None:
        return IN_CORNER
    instance, part = found
    matrix = context.frame.placed(instance, edge.middle)
    middle = placed(matrix, edge.middle)
    normals = [
        placed(matrix, f.axis, False) for f in part.faces if f.name in edge.faces and f.kind == "plane"
    ]
    for other in context.facts.instances:
        if other.path == tip.instance:
            continue
        theirs = context.facts.parts[other.part]
        if not _reaches(theirs, np.array(context.frame.placed(other, edge.middle)), middle):
            continue
        for e in theirs.edges:
            if e.kind != edge.kind:
                continue
            there = context.frame.placed(other, e.middle)
            if float(np.linalg.norm(placed(there, e.middle) - middle)) > TOUCH:
                continue
            for f in theirs.faces:
                if f.name not in e.faces or f.kind != "plane":
                    continue
                axis = placed(there, f.axis, False)
                if any(float(axis @ n) > 1 - 1e-6 for n in normals):
                    return IN_PLANE
    return IN_CORNER


def _reaches(part: PartFacts, matrix: Array, place: Array) -> bool:
    """Whether a place lies in a part's box, or touches it."""
    own = matrix[:3, :3].T @ (place - matrix[:3, 3])
    return bool((own > np.array(part.low) - TOUCH).all() and (own < np.array(part.high) + TOUCH).all())


def drag(w: Weld, grip: str, request: Request, context: Context) -> Weld:
    """The weld with its line, or its arrow (grip `tip`), at the pointer."""
    if grip == "tip":
        return w.model_copy(update={"tip": request.pointed(request.pointer, context)})
    end = ended(w.tip, context).at / context.scale
    return w.model_copy(update={"place": beside(end, np.array(request.pointer), context.scale)})


KIND = Kind(
    Weld,
    "Weld",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    looks=True,
    propose=propose,
    drag=drag,
    where=("place", "tip"),
)
