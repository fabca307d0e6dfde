"""Datum targets: the points, lines and areas of a part that a datum is made of, each with its symbol (ISO
5459:2011, 7.4; ASME Y14.5-2018, 7.24; memory). Sizes are taken on them as on added lines."""

import math
from typing import Annotated, Literal

import numpy as np
import shapely
from pydantic import Field

from drafting.annotation.inking.dimension_ink import Array
from drafting.annotation.inking.leader import leader
from drafting.annotation.kinds.kind import Kind, Request, Row
from drafting.annotation.measuring.added_lines import APART, AddedLine
from drafting.annotation.measuring.toleranced import datum_features
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, Placement, in_view
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Line, Polyline, Text
from drafting.ink.hatch import hatched
from drafting.ink.lettering import text_width
from drafting.standards.patterns import Family

CIRCLE = 2.2
"""Radius of the symbol, heights of lettering."""
CROSS = 1.0
"""Half of the cross of a target point, heights of lettering."""
STEP = 0.5
"""Places of targets that are clicked are multiples of this, mm."""
STROKES = 60
"""Of the hatching of an area at most."""
LINE = "dimension"
OUTLINE = "phantom"
FORMS = ("point", "line", "circle", "rectangle")
Extent = Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]


class DatumTarget(AnnotationBase):
    """A target. letter, number: of its datum, and among its targets; x, y: its middle, view mm at 1:1 about
    the view's middle; wide: diameter of a circle, length of a line, width of a rectangle, mm; high: of a
    rectangle; turned: degrees counterclockwise; far: on the side that is not seen, with a dashed leader;
    movable: so that it follows the part; place: the middle of its symbol."""

    kind: Literal["datum_target"] = "datum_target"
    letter: Annotated[str, Field(pattern=r"^[A-Z]{1,2}$", title="Datum")] = "A"
    number: Annotated[int, Field(ge=1, le=99, title="Number")] = 1
    form: Annotated[Literal["point", "line", "circle", "rectangle"], Field(title="Target is a")] = "point"
    x: Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False, title="Across, mm")]
    y: Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False, title="Up, mm")]
    wide: Annotated[Extent, Field(title="Ø, length or width, mm")] = 8.0
    high: Annotated[Extent, Field(title="Height, mm")] = 5.0
    turned: Annotated[float, Field(ge=-180, le=180, title="Turned, °")] = 0.0
    far: Annotated[bool, Field(title="On the far side")] = False
    movable: Annotated[bool, Field(title="Movable")] = False
    place: Annotated[Placement, Field(json_schema_extra=APART)]

    def corners(self) -> list[tuple[float, float]]:
        """Corners of a rectangle, or the ends of a line, view mm."""
        c, s = math.cos(math.radians(self.turned)), math.sin(math.radians(self.turned))
        w, h = self.wide / 2, self.high / 2 if self.form == "rectangle" else 0.0
        around = [(-w, -h), (w, -h), (w, h), (-w, h)] if h else [(-w, 0.0), (w, 0.0)]
        return [(self.x + u * c - v * s, self.y + u * s + v * c) for u, v in around]

    def as_line(self) -> AddedLine:
        """The line that sizes are taken on: the circle, the outline, or for a point a short one about it."""
        if self.form == "circle":
            more: dict[str, object] = {
                "form": "circle",
                "points": [Point(x=self.x, y=self.y)],
                "radius": self.wide / 2,
            }
        elif self.form == "point":
            ends = [Point(x=self.x + d, y=self.y) for d in (-0.5, 0.5)]
            more = {"form": "line", "points": ends}
        else:
            points = [Point(x=x, y=y) for x, y in self.corners()]
            more = {
                "form": "polyline" if len(points) > 2 else "line",
                "points": points,
                "closed": len(points) > 2,
            }
        return AddedLine(id=self.id, anchor=self.anchor, **more)  # type: ignore[arg-type]


def _drawn(x: float, y: float, context: Context) -> tuple[float, float]:
    p = np.asarray(context.frame.drawn(np.array([x, y]))) * context.scale
    return float(p[0]), float(p[1])


def ink(d: DatumTarget, context: Context) -> list[Element]:
    """The target and its symbol; paper mm about the view's position. Raises SizeError."""
    h = context.profile.text_height
    x, y = _drawn(d.x, d.y, context)
    at = np.array(d.place.at(context.scale))
    out: list[Element] = []
    end: Array = np.array([x, y])
    if d.form in ("point", "line"):
        ends = [(d.x, d.y)] if d.form == "point" else d.corners()
        if d.form == "line":
            (a, b) = (_drawn(*p, context) for p in ends)
            out.append(Line(a, b, OUTLINE))
            end = (np.array(a) + b) / 2
        else:
            r = CROSS * h / math.sqrt(2)
            out += [Line((x - r, y - s * r), (x + r, y + s * r), LINE) for s in (1, -1)]
    else:
        out += _area(d, context, h)
    out += _symbol(d, at, end, context)
    return out


def _area(d: DatumTarget, context: Context, h: float) -> list[Element]:
    """The outline of an area, hatched."""
    x, y = _drawn(d.x, d.y, context)
    if d.form == "circle":
        r = d.wide / 2 * context.scale
        outline: Element = Arc((x, y), r, 0.0, 2 * math.pi, OUTLINE)
        turns = np.linspace(0, 2 * math.pi, 49)[:-1]
        corners = [(x + r * math.cos(t), y + r * math.sin(t)) for t in turns]
    else:
        corners = [_drawn(*p, context) for p in d.corners()]
        outline = Polyline(tuple(corners), OUTLINE, True)
    region = shapely.Polygon(corners)
    left, low, right, high = region.bounds
    step = max(0.6 * h, (right - left + high - low) / STROKES)
    return [outline, *hatched(region, [Family(45.0, (0.0, 0.0), (0.0, step))], line=LINE)]


def _symbol(d: DatumTarget, at: Array, end: Array, context: Context) -> list[Element]:
    h = context.profile.text_height
    r = CIRCLE * h
    x, y = float(at[0]), float(at[1])
    out: list[Element] = [Arc((x, y), r, 0.0, 2 * math.pi, LINE), Line((x - r, y), (x + r, y), LINE)]
    name = f"{d.letter}{d.number}"
    out.append(Text((x, y - 1.4 * h), name, h, LINE, align="middle"))
    away = end - at
    n = float(np.linalg.norm(away))
    u = away / n if n > 1e-9 else np.array([1.0, 0.0])
    begin = at + u * r
    if d.movable:  # two lines that touch the circle meet before it
        tip = at + u * r * math.sqrt(2)
        for s in (1, -1):
            c = math.cos(math.radians(45))
            foot = at + r * np.array([u[0] * c - s * u[1] * c, u[1] * c + s * u[0] * c])
            out.append(Line((float(foot[0]), float(foot[1])), (float(tip[0]), float(tip[1])), LINE))
        begin = tip
    if n > r:
        if d.far:
            out.append(Line((float(begin[0]), float(begin[1])), (float(end[0]), float(end[1])), "hidden"))
        else:
            out += leader(
                [begin, end], "dot" if d.form in ("circle", "rectangle") else "none", context.profile
            )
    size = _size(d, context)
    if size:
        if text_width(size, h) < 2 * r - 0.8 * h:
            out.append(Text((x, y + 0.4 * h), size, h, LINE, align="middle"))
        else:  # beside it, at the end of a line
            side = -1.0 if u[0] > 0 else 1.0
            foot_x = x + side * r
            out.append(Line((x + side * 0.3 * r, y + 0.5 * r), (foot_x + side * h, y + 0.5 * r), LINE))
            start = foot_x + side * 1.4 * h
            out.append(
                Text((start, y + 0.5 * r - h / 2), size, h, LINE, align="left" if side > 0 else "right")
            )
    return out


def _size(d: DatumTarget, context: Context) -> str:
    """How large its area is."""
    trimmed = context.profile.model_copy(update={"trailing_zeros": False})
    if d.form == "circle":
        return f"Ø{written(d.wide, trimmed)}"
    times = "X" if context.profile.standard == "ASME" else "×"
    return f"{written(d.wide, trimmed)}{times}{written(d.high, trimmed)}" if d.form == "rectangle" else ""


def words(d: DatumTarget, context: Context) -> str:
    """What it is called."""
    return " ".join(filter(None, (f"datum target {d.letter}{d.number}", _size(d, context))))


def row(d: DatumTarget, context: Context) -> Row:
    """What it is called."""
    return Row(f"{words(d, context)}, a {d.form}")


def others(d: DatumTarget, context: Context) -> list[DatumTarget]:
    """All other targets of its datum."""
    return [
        a
        for s in context.drawing.sheets
        for a in s.annotations
        if isinstance(a, DatumTarget) and a.letter == d.letter and a.id != d.id
    ]


def check(d: DatumTarget, context: Context) -> None:
    """Raises CommandError for a number that another target of the datum has, SizeError in pictorial views."""
    if context.frame.pictorial:
        raise SizeError("A datum target is placed in a view that looks along an axis.")
    if any(a.number == d.number and a.view == d.view for a in others(d, context)):
        raise CommandError(f"There is a target {d.letter}{d.number} already.")


def findings(d: DatumTarget, context: Context) -> list[str]:
    """A target whose datum no symbol names, and the third point that a first datum still wants."""
    out = []
    if not any(letter == d.letter for letter, _, _ in datum_features(context)):
        out.append(f"The target {d.letter}{d.number} is of a datum {d.letter} that no symbol names.")
    mine = [d, *others(d, context)]
    is_first = any(
        r.datums and r.datums[0].letters == d.letter
        for s in context.drawing.sheets
        for a in s.annotations
        if a.kind == "control_frame"
        for r in a.rows  # type: ignore[attr-defined]
    )
    if is_first and len({a.number for a in mine}) < 3 and all(a.form == "point" for a in mine):
        out.append(f"The datum {d.letter} goes first: it takes three target points to hold a plane.")
    return out


def propose(request: Request, context: Context) -> DatumTarget:
    """The next target of settings `letter`, of settings `form`, at settings `tip` (paper mm), its symbol at
    the pointer. Raises SizeError and CommandError."""
    if context.view is None or context.frame.pictorial:
        raise SizeError("Point at a surface in a view that looks along an axis.")
    tip = request.settings.get("tip") or request.pointer
    form = str(request.settings.get("form") or "point")
    if form not in FORMS:
        raise CommandError("A target is a point, a line, a circle or a rectangle.")
    letter = str(request.settings.get("letter") or "") or _usual(context)
    x, y = context.frame.undrawn(tuple(float(v) / context.scale for v in tip))  # type: ignore[arg-type]
    x, y = (round(v / STEP) * STEP for v in (x, y))
    taken = {
        a.number
        for s in context.drawing.sheets
        for a in s.annotations
        if isinstance(a, DatumTarget) and a.letter == letter
    }
    pointer, end = np.array(request.pointer), np.array([x, y])
    away = float(np.linalg.norm(pointer - end * context.scale))
    least = 2.5 * CIRCLE * context.profile.text_height
    if away < least:
        pointer = end * context.scale + np.array([least, least]) / math.sqrt(2)
    return DatumTarget(
        id=request.identity,
        anchor=in_view(context.view_id),
        letter=letter,
        number=next(n for n in range(1, 101) if n not in taken),
        form=form,  # type: ignore[arg-type]
        x=x,
        y=y,
        place=beside(end, pointer, context.scale),
    )


def _usual(context: Context) -> str:
    """The datum that targets were placed for last, else the first one."""
    targets = [a for s in context.drawing.sheets for a in s.annotations if isinstance(a, DatumTarget)]
    return targets[-1].letter if targets else "A"


def drag(d: DatumTarget, grip: str, request: Request, context: Context) -> DatumTarget:
    """The symbol at the pointer, or with the target grabbed, the target."""
    grabbed, pointer = (
        np.array(p, float) for p in (request.settings.get("grabbed") or request.pointer, request.pointer)
    )
    x, y = _drawn(d.x, d.y, context)
    symbol = np.array(d.place.at(context.scale))
    if (
        float(np.hypot(*(grabbed - (x, y)))) < float(np.hypot(*(grabbed - symbol)))
        and float(np.hypot(*(grabbed - symbol))) > CIRCLE * context.profile.text_height
    ):
        u, v = context.frame.undrawn((float(pointer[0] / context.scale), float(pointer[1] / context.scale)))
        return d.model_copy(update={"x": round(u / STEP) * STEP, "y": round(v / STEP) * STEP})
    return d.model_copy(update={"place": beside(np.array([d.x, d.y]), pointer, context.scale)})


KIND = Kind(
    DatumTarget,
    "Datum target",
    ink=ink,
    words=words,
    row=row,
    check=check,
    findings=findings,
    reads_out=True,
    propose=propose,
    drag=drag,
    where=("place", "x", "y", "number"),
)
