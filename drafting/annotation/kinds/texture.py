"""Surface texture: the symbol on an outline, at a leader, or by itself on the sheet for all surfaces that
have none of their own (ISO 21920-1, ISO 1302, ASME Y14.36; memory)."""

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import Array, line
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.inking.texture_ink import LINE, Marks, Symbol, symbol, turned
from drafting.annotation.kinds.kind import Box, Kind, Request, Row
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.measuring.pointing import Ended, Tip, ended
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.numbers import plain
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Dimension, OnSheet, Pick, Placement, in_view
from drafting.errors import CommandError
from drafting.ink.elements import Arc, Element, Text
from drafting.standards import texture as table
from drafting.standards.profile import Profile

NEAR = 6.0
"""How near its surface a symbol is put to stand on it, mm on paper."""
LOWEST, HIGHEST = math.radians(-30), math.radians(95)
"""Between which angles a symbol on an outline is read from below or from the right."""
Short = Annotated[str, Field(max_length=24)]


class SurfaceTexture(AnnotationBase):
    """What a surface is like. value, lower: the upper and, where there is one, the lower limit of the
    parameter, µm in a drawing in mm and µin in one in inches; further: a second requirement as it is typed;
    letter: in place of all of it, explained by a symbol on the sheet that has the letter too; allowance: for
    machining, mm; tip: what it is on, None on the sheet; on_line: whether it stands on that itself, not on a
    leader's shoulder; rest: whether it holds for all surfaces that have none of their own."""

    kind: Literal["texture"] = "texture"
    removal: Annotated[Literal["any", "required", "not allowed"], Field(title="Removal of material")] = (
        "required"
    )
    parameter: Annotated[Literal["Ra", "Rz", "Rq", "Rt", "Rp", "Rv", "Rsm"], Field(title="Parameter")] = "Ra"
    value: (
        Annotated[float, Field(gt=0, le=5000, title="Value", json_schema_extra={"empty": "none"})] | None
    ) = None
    lower: (
        Annotated[float, Field(gt=0, le=5000, title="Lower limit", json_schema_extra={"empty": "none"})]
        | None
    ) = None
    further: Annotated[Short, Field(title="Second line")] = ""
    process: Annotated[str, Field(max_length=40, title="Process")] = ""
    lay: Annotated[Literal["none", "=", "⊥", "X", "M", "C", "R", "P"], Field(title="Lay")] = "none"
    sampling: Annotated[Short, Field(title="Sampling")] = ""
    allowance: (
        Annotated[float, Field(gt=0, le=100, title="Allowance, mm", json_schema_extra={"empty": "none"})]
        | None
    ) = None
    around: Annotated[bool, Field(title="All around")] = False
    letter: Annotated[str, Field(max_length=3, title="Letter")] = ""
    rest: Annotated[bool, Field(title="Unless stated")] = False
    tip: Tip | None = None
    on_line: Annotated[bool, Field(title="On the line itself")] = False
    place: Placement


def _number(value: float, profile: Profile) -> str:
    return plain(value, 6, profile.model_copy(update={"trailing_zeros": False}), profile.units, trim=True)


def rows(t: SurfaceTexture, profile: Profile) -> list[str]:
    """What stands under the line of the symbol."""
    if t.letter and t.tip is not None:
        return [t.letter]
    out = []
    if t.value is not None:
        head = f"{t.sampling}/" if t.sampling else ""
        limits = [("U " if t.lower is not None else "", t.value), ("L ", t.lower)]
        out += [f"{s}{head}{t.parameter} {_number(v, profile)}" for s, v in limits if v is not None]
    if t.further.strip():
        out.append(t.further.strip())
    return out


def _symbol(t: SurfaceTexture, profile: Profile) -> Symbol:
    explained = t.letter and t.tip is not None
    marks = Marks(
        rows(t, profile),
        "" if explained else t.process.strip(),
        "" if explained or t.lay == "none" else t.lay,
        "" if t.allowance is None or explained else _number(t.allowance, profile),
        t.around,
    )
    return symbol(t.removal, marks, profile.text_height)


@dataclass(frozen=True)
class _Stands:
    """Where a symbol stands, paper mm about the context's origin, and its angle; the end of its leader and
    where that begins, None on the line itself."""

    foot: Array
    angle: float
    end: Ended | None = None
    at: Array | None = None
    side: float = 1.0


def _stands(t: SurfaceTexture, found: Symbol, context: Context) -> _Stands:
    at = np.array(t.place.at(context.scale))
    if t.tip is None:
        return _Stands(at, 0.0)
    end = ended(t.tip, context)
    angle = _upright(end, at)
    if t.on_line and angle is not None:
        return _Stands(end.at, angle)
    side = 1.0 if at[0] >= end.at[0] else -1.0
    foot = at + np.array([side * (found.left if side > 0 else found.right), 0.0])
    return _Stands(foot, 0.0, end, at, side)


def _upright(end: Ended, at: Array) -> float | None:
    """The angle at which a symbol stands on a line, away from it toward a place; None where it could not be
    read there, and on curves and within faces, where it needs a leader."""
    if end.along is None:
        return None
    normal = np.array([-end.along[1], end.along[0]])
    if float((at - end.at) @ normal) < 0:
        normal = -normal
    angle = math.atan2(float(normal[1]), float(normal[0])) - math.pi / 2
    angle = (angle + math.pi) % (2 * math.pi) - math.pi
    return angle if LOWEST <= angle <= HIGHEST else None


def ink(t: SurfaceTexture, context: Context) -> list[Element]:
    """The symbol with its leader; paper mm about the context's origin. Raises SizeError."""
    profile = context.profile
    found = _symbol(t, profile)
    where = _stands(t, found, context)
    out: list[Element] = []
    if where.end is not None and where.at is not None:
        assert t.tip is not None
        out += leader([where.at, where.end.at], END_ON[t.tip.on], profile)
        width = found.left + found.right
        out.append(line(where.at, where.at + np.array([where.side * width, 0.0])))
    foot = (float(where.foot[0]), float(where.foot[1]))
    out += turned(found, foot, where.angle)
    if t.tip is None:
        out += _beside(t, found, foot, context)
    return out


def _beside(t: SurfaceTexture, found: Symbol, foot: tuple[float, float], context: Context) -> list[Element]:
    """What stands beside a symbol on the sheet: the letter that it explains before it, and after it, in
    parentheses, that others are stated."""
    h, out = context.profile.text_height, list[Element]()
    x, y = foot
    if t.letter:
        short = symbol(t.removal, Marks([t.letter]), h)
        left = x - found.left - 1.6 * h - short.right
        out += turned(short, (left, y), 0.0)
        out.append(Text((x - found.left - 1.2 * h, y + 0.4 * h), "=", h, LINE))
    if t.rest:
        basic = symbol("any", Marks(), h)
        open_at = x + found.right + 0.6 * h
        width = basic.left + basic.right
        inner = open_at + 1.0 * h + basic.left
        r = 1.9 * h
        for middle, first in (
            (open_at + r, math.radians(145)),
            (inner + width + 0.2 * h - r, -math.radians(35)),
        ):
            out.append(Arc((middle, y + 1.4 * h), r, first, first + math.radians(70), LINE))
        out += turned(basic, (inner, y), 0.0)
    return out


def check(t: SurfaceTexture, context: Context) -> None:
    """Raises CommandError for limits that are turned around and a lower one without an upper, and SizeError
    where its surface is gone."""
    if t.lower is not None and (t.value is None or t.lower >= t.value):
        raise CommandError("The lower limit of a surface texture lies below its upper one.")
    if t.tip is None and t.anchor.on != "sheet":
        raise CommandError("A surface texture in a view points at a surface.")
    _stands(t, _symbol(t, context.profile), context)


def words(t: SurfaceTexture, context: Context) -> str:
    """What it says, in one line."""
    said = [*rows(t, context.profile), t.process, *(["unless otherwise stated"] if t.rest else [])]
    removal = {"any": "", "required": "", "not allowed": "no removal"}[t.removal]
    return " ".join(filter(None, [*said, removal])) or "surface texture"


def row(t: SurfaceTexture, context: Context) -> Row:
    """What lists show of it."""
    return Row(words(t, context))


def obstacles(t: SurfaceTexture, context: Context) -> list[tuple[str, Box]]:
    """The level box about a symbol that stands on the sheet by itself, sheet mm."""
    if context.view is not None:
        return []
    found = _symbol(t, context.profile)
    x, y = t.place.at(1.0)
    more = 4.6 * context.profile.text_height if t.rest else 0.0
    return [("the surface texture", (x - found.left, y, x + found.right + more, y + found.high))]


def findings(t: SurfaceTexture, context: Context) -> list[str]:
    """A value beside the preferred ones, a letter that is not explained, and a general one said twice."""
    out, profile = [], context.profile
    if t.value is not None and t.parameter == "Ra" and t.value not in table.SERIES[profile.units]:
        near = table.nearest(t.value, profile.units)
        said, known = _number(t.value, profile), _number(near, profile)
        out.append(f"Ra {said} is no value of the series; the nearest is {known}.")
    others = [
        a
        for s in context.drawing.sheets
        for a in s.annotations
        if isinstance(a, SurfaceTexture) and a.id != t.id
    ]
    if t.letter and t.tip is not None and not any(a.letter == t.letter and a.tip is None for a in others):
        out.append(f"The surface texture {t.letter} is explained nowhere on the drawing.")
    if t.rest and any(a.rest for a in others):
        out.append("The surface texture of all other surfaces is said twice.")
    return out


def propose(request: Request, context: Context) -> SurfaceTexture:
    """The texture of what lies at settings `tip` (paper mm), standing on it where the pointer is near, else
    at a leader; on the sheet where the context has no view, for all surfaces. Its value is what the tolerance
    of a size of that surface asks. Raises SizeError."""
    units = context.profile.units
    pointer = np.array(request.pointer)
    if context.view is None:
        paper = Point(x=round(float(pointer[0]), 3), y=round(float(pointer[1]), 3))
        return SurfaceTexture(
            id=request.identity,
            anchor=OnSheet(),
            place=Placement(model=Point(x=0, y=0), paper=paper),
            value=table.COMMON[units],
            rest=True,
        )
    tip = request.pointed(request.settings.get("tip") or request.pointer, context, sizes=True)
    value = _asked(tip, context) or table.COMMON[units]
    made = SurfaceTexture(
        id=request.identity,
        anchor=in_view(context.view_id),
        place=Placement(model=Point(x=0, y=0), paper=Point(x=0, y=0)),
        tip=tip,
        value=value,
    )
    return _put(made, pointer, context)


def _put(t: SurfaceTexture, pointer: Array, context: Context) -> SurfaceTexture:
    """The texture with its symbol at a place, paper mm: on its line where that is near."""
    assert t.tip is not None
    end = ended(t.tip, context)
    stands = _upright(end, pointer) is not None and float(np.linalg.norm(pointer - end.at)) <= NEAR
    place = beside(end.at / context.scale, pointer, context.scale)
    return t.model_copy(update={"place": place, "on_line": stands})


def _asked(tip: Tip, context: Context) -> float | None:
    """The texture that goes with the class of tolerance of a size on the same surface; None where no size has
    one."""
    found = context.facts.part_of(tip.instance)
    if tip.on == "line":
        size = context.sheet.annotation(tip.source)
        return _of_class(size, context.profile.units) if isinstance(size, Dimension) else None
    if found is None or tip.on != "edge":
        return None
    mine = set(faces_at(Pick(instance=tip.instance, source=tip.source, role=tip.role), found[1]))
    for sheet in context.drawing.sheets:
        for a in sheet.annotations:
            if not isinstance(a, Dimension):
                continue
            on = {n for p in a.picks if p.instance == tip.instance for n in faces_at(p, found[1])}
            value = _of_class(a, context.profile.units) if mine & on else None
            if value is not None:
                return value
    return None


def _of_class(size: Dimension, units: str) -> float | None:
    """The texture that goes with the class of tolerance of a size; None where it has none."""
    grade = size.tolerance.designation.lstrip("ABCDEFGHJKMNPRSTUVXYZabcdefghjkmnprstuvxyz")
    return table.for_grade(int(grade), units) if grade.isdigit() else None


def drag(t: SurfaceTexture, grip: str, request: Request, context: Context) -> SurfaceTexture:
    """The texture with its symbol, or its leader's end (grip `tip`), at the pointer."""
    at = np.array(request.pointer)
    if t.tip is None:
        paper = Point(x=round(float(at[0]), 3), y=round(float(at[1]), 3))
        return t.model_copy(update={"place": Placement(model=Point(x=0, y=0), paper=paper)})
    if grip == "tip":
        return t.model_copy(update={"tip": request.pointed(at, context, sizes=True)})
    if t.on_line and request.geometry is not None:  # it slides along what it stands on, or gets a leader
        end = ended(t.tip, context)
        if end.along is not None:
            along = end.at + end.along * float((at - end.at) @ end.along)
            if float(np.linalg.norm(at - along)) <= 2 * NEAR:
                tip = request.pointed(along, context, sizes=True)
                if tip.source == t.tip.source:
                    return t.model_copy(update={"tip": tip})
    return _put(t, at, context)


KIND = Kind(
    SurfaceTexture,
    "Surface texture",
    ink=ink,
    words=words,
    row=row,
    check=check,
    obstacles=obstacles,
    findings=findings,
    looks=True,
    propose=propose,
    drag=drag,
    where=("place", "tip", "on_line", "rest"),
)
