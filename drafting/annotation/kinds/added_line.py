"""Lines that a drafter adds: straight ones, circles, arcs and polylines, in a view or on the sheet, tied to
what they were drawn on."""

import math
from collections.abc import Sequence
from typing import Any

import numpy as np

from drafting.annotation.kinds.added_line_forms import STEP, propose
from drafting.annotation.kinds.kind import Drawn, Kind, Member, Request, Row, number_of, set_fields
from drafting.annotation.measuring.added_lines import (
    AddedLine,
    Tie,
    constraints_of,
    placed_lines,
    told,
)
from drafting.annotation.measuring.constraints import (
    Array,
    Constraint,
    Shape,
    solved,
)
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.points import PickPoint
from drafting.annotation.measuring.tied_lines import (
    check_rings,
    check_ties,
    placed,
    refuse_contradiction,
    settled,
    tie_words,
)
from drafting.annotation.wording.numbers import written
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Arc, Element, Group, Line, Polyline
from drafting.views.geometry import ViewCurve, ViewGeometry

TITLES = {"line": "Added line", "polyline": "Added polyline", "circle": "Added circle", "arc": "Added arc"}


NEAR = 2.0
"""How near the pointer takes a corner, mm on paper."""


def elements(a: AddedLine, context: Context) -> list[Element]:
    """Its lines, paper mm about the context's origin. Raises SizeError."""
    shape, scale = placed(a, context).shape, context.scale

    def paper(p: Any) -> tuple[float, float]:
        at = context.frame.drawn(np.asarray(p, float))
        return float(at[0]) * scale, float(at[1]) * scale

    if shape.form == "path":
        points = [paper(p) for p in shape.values.reshape(-1, 2)]
        if len(points) == 2:
            return [Line(points[0], points[1], a.line)]
        return [Polyline(tuple(points), a.line, shape.closed)]
    values = shape.values.tolist()
    first, last = values[3:] if shape.form == "arc" else (0.0, 2 * math.pi)
    if last <= first:
        last += 2 * math.pi * math.ceil((first - last) / (2 * math.pi) + 1e-12)
    return [Arc(paper(values[:2]), values[2] * scale, first, last, a.line)]


def draw(members: Sequence[Member]) -> Drawn:
    """Those of a sheet, view by view."""
    out: Drawn = {}
    by_view: dict[str, list[Member]] = {}
    for m in members:
        by_view.setdefault(m.context.view_id, []).append(m)
    for found in by_view.values():
        placed_lines(found[0].context, resolve, [m.annotation for m in found])
        for m in found:
            try:
                out[m.annotation.id] = Group(
                    m.annotation.id, "annotation", m.context.origin, elements(m.annotation, m.context)
                )
            except (SizeError, CommandError) as error:
                out[m.annotation.id] = str(error)
    return out


def curves(context: Context) -> list[ViewCurve]:
    """The added lines of a view as what can be picked there: role "added", without a part."""
    out = []
    for name, found in placed_lines(context, resolve).items():
        shape = found.shape
        if shape.form == "path":
            for k in range(shape.count):
                s = shape.segment(k)
                data = [float(v) for v in (*context.frame.drawn(s.a), *context.frame.drawn(s.b))]
                out.append(_curve("line", data, name if shape.count == 1 else f"{name}#{k}"))
            continue
        x, y = context.frame.drawn(shape.values[:2])
        ends = shape.values[3:].tolist() if shape.form == "arc" else [0.0, 2 * math.pi]
        out.append(_curve("arc", [float(x), float(y), float(shape.values[2]), *ends], name))
    return out


def with_added(geometry: ViewGeometry, context: Context) -> ViewGeometry:
    """What a view shows, with its added lines among what can be picked."""
    found = curves(context)
    if not found:
        return geometry
    number = len(geometry.instances)
    more = [c.model_copy(update={"instance": number}) for c in found]
    return geometry.model_copy(
        update={"curves": [*geometry.curves, *more], "instances": [*geometry.instances, ""]}
    )


def _curve(kind: Any, data: list[float], source: str) -> ViewCurve:
    return ViewCurve(
        kind=kind,
        data=data,
        edge_class="sharp",
        visible=True,
        instance=0,
        source=source,
        role="added",
        feature="",
    )


def points(context: Context) -> list[PickPoint]:
    """Points of the added lines of a view that others can be taken on: ends, middles, centers."""
    out = []
    for name, found in placed_lines(context, resolve).items():
        shape = found.shape
        names = {"path": ("start", "end", "middle"), "circle": ("center",), "arc": ("center", "start", "end")}
        for k in range(shape.count if shape.form == "path" else 1):
            source = f"{name}#{k}" if shape.form == "path" and shape.count > 1 else name
            for point in names[shape.form]:
                at = context.frame.drawn(shape.point(k, point))
                pick = Pick(instance="", source=source, role="added", point=point)  # type: ignore[arg-type]
                kind: Any = point if point in ("middle", "center") else "end"
                out.append(PickPoint(kind, pick, float(at[0]), float(at[1])))
    return out


def change(a: AddedLine, update: dict[str, Any], context: Context) -> AddedLine:
    """Fields set; `length`, `radius` and `angle` hold it at that, None lets it go. Raises SizeError and
    CommandError."""
    update, ties = dict(update), list(a.ties)
    for name in ("length", "radius", "angle"):
        if name in update:
            value = update.pop(name)
            ties = [t for t in ties if not (t.relation == name and t.part == 0 and t.to is None)]
            if value is not None:
                ties.append(Tie(relation=name, value=number_of(value, f"The {name} of a line")))  # type: ignore[arg-type]
            update["ties"] = [t.model_dump(mode="json") for t in ties]
    made = set_fields(a, update) if update else a
    assert isinstance(made, AddedLine)
    if "ties" in update:
        check_rings(made, context)
        return settled(made, context)
    return made


def check(a: AddedLine, context: Context) -> None:
    """Raises SizeError where its ties contradict each other or go in a ring, or where it has no size."""
    if a.form in ("line", "polyline") and len(a.points) < 2:
        raise SizeError("A line has two ends at least.")
    check_ties(a)
    check_rings(a, context)
    refuse_contradiction(a, placed(a, context))


def row(a: AddedLine, context: Context) -> Row:
    """How large it is and how far it is tied."""
    found = placed(a, context)
    size = _said(found.shape, context)
    return Row(", ".join(filter(None, (size, told(found, a.ties)))))


def _said(shape: Shape, context: Context) -> str:
    """Its length or its radius, in words."""
    if shape.form == "path" and shape.count == 1:
        s = shape.segment(0)
        return f"{written(float(np.linalg.norm(s.b - s.a)), context.profile)} long"
    return "" if shape.form == "path" else f"R{written(float(shape.values[2]), context.profile)}"


def findings(a: AddedLine, context: Context) -> list[str]:
    """Ties that the model no longer lets hold, and those whose other thing is gone."""
    found = placed(a, context)
    out = []
    if found.solved.faults:
        names = ", ".join(dict.fromkeys(tie_words(a.ties[n]) for n in found.solved.faults))
        out.append(f"An added {a.form} cannot hold to its ties any more: {names}.")
    if found.lost:
        names = ", ".join(dict.fromkeys(tie_words(a.ties[n]) for n in found.lost))
        out.append(f"What an added {a.form} was tied to is gone: {names}.")
    return out


def drag(a: AddedLine, grip: str, request: Request, context: Context) -> AddedLine:
    """The line with the corner, the rim or the whole of it that was grabbed at the pointer, as far as its
    ties let it. Raises SizeError."""
    grabbed = request.settings.get("grabbed", request.pointer)

    def plane(p: Any) -> Array:
        x, y = (float(v) / context.scale for v in p)
        return np.array(context.frame.undrawn((x, y)), float)

    was, now = plane(grabbed), plane(request.pointer)
    shape = placed(a, context).shape
    near = NEAR / context.scale
    values = shape.values.copy()
    pins: list[Constraint] = []
    if shape.form == "path":
        p = values.reshape(-1, 2)
        away = np.linalg.norm(p - was, axis=1)
        k = int(np.argmin(away))
        if float(away[k]) <= near:
            p[k] = now
            pins = _pinned(shape, k)
        else:
            p += now - was
    elif abs(float(np.linalg.norm(was - values[:2])) - float(values[2])) <= near:
        values[2] = max(round(float(np.linalg.norm(now - values[:2])) / STEP) * STEP, STEP)
        pins = [Constraint("coincident", 0, "center", to=values[:2].copy())]
    else:
        values[:2] += now - was
    moved = a.shaped(Shape(shape.form, values, shape.closed))
    if pins:
        try:
            return settled(_pinned_by(moved, pins, context), context)
        except SizeError:
            pass
    return settled(moved, context)


def _pinned(shape: Shape, but: int) -> list[Constraint]:
    """Corners of a path held where they are, all but one."""
    p = shape.values.reshape(-1, 2)
    out = []
    for n in range(len(p)):
        if n != but:
            part, point = (n, "start") if n < shape.count else (n - 1, "end")
            out.append(Constraint("coincident", part, point, to=p[n].copy()))
    return out


def _pinned_by(a: AddedLine, pins: Sequence[Constraint], context: Context) -> AddedLine:
    """The line where its ties put it while parts of it are held. Raises SizeError where both cannot be."""
    found = solved(a.shape, [*constraints_of(a, context, resolve), *pins])
    if found.faults:
        raise SizeError("It cannot be there.")
    return a.shaped(found.shape)


KIND = Kind(
    AddedLine,
    "Added line",
    ink=elements,
    draw=draw,
    called=lambda a: TITLES[a.form],
    check=check,
    change=change,
    row=row,
    findings=findings,
    propose=propose,
    drag=drag,
)
