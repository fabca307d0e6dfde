"""Routes of what geometric tolerances come to: stack-ups, boundaries, fasteners, and basic sizes that are
missing. Lengths come in and go out as the drawing writes them, in its unit."""

import math
import uuid
from collections.abc import Callable
from typing import Any, Literal, TypeVar

from django.http import HttpRequest, HttpResponse
from ninja import Router, Schema

from drafting.annotation import registry
from drafting.annotation.kinds.control_frame_words import ControlFrame, shown_rows, unsaid
from drafting.annotation.kinds.stack_up import StackUp, result, said
from drafting.annotation.proposing import basic_sizes
from drafting.annotation.registry import Annotation
from drafting.annotation.review import frame_meaning, generally, stack_table
from drafting.annotation.wording.frame_words import typed
from drafting.commands.annotations import annotation_of
from drafting.context import Context
from drafting.document import AnnotationBase
from drafting.errors import CommandError, SizeError
from drafting.standards.profile import Profile
from drafting.tolerancing import position
from server.drawings import store
from server.drawings.access import WAIT, own_drawing, shape
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.drawings.sizes import in_rows
from server.drawings.tables import tables_response
from server.errors import NotYet, Problem

router = Router(tags=["tolerances"])


A = TypeVar("A", bound=AnnotationBase)


def _placed(
    request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str, kind: type[A]
) -> tuple[Drawing, A, Context]:
    """An annotation of a kind on a drawing of the user's, with where it lives. Raises SizeError."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    try:
        sheet, a = annotation_of(document, annotation_id)
    except CommandError as error:
        raise SizeError(str(error)) from error
    if not isinstance(a, kind):
        raise SizeError("That is another kind of annotation.")
    return d, a, registry.context_of(document, sheet, a, shown_facts(d)[1])


def _writer(profile: Profile) -> Callable[[float], str]:
    return lambda v: said(v, profile)


def _unit(profile: Profile) -> float:
    """mm in the drawing's unit."""
    return 25.4 if profile.units == "in" else 1.0


# ---- stack-ups ---------------------------------------------------------------------------------------------
class StackLink(Schema):
    """A link: the size or frame that says it (empty for a contact), and what share it has of the worst
    case."""

    annotation: str
    says: str
    nominal: str
    tolerance: str
    sensitivity: float
    share: float


class StackOut(Schema):
    """What a stack-up comes to. Each range as from and to; share: of lots within what is required."""

    links: list[StackLink]
    nominal: str
    middle: str
    worst: list[str]
    squares: list[str]
    lots: list[str]
    deviation: str
    share: float
    holds: bool


@router.get("/{drawing_id}/stacks/{annotation_id}", response={200: StackOut, 422: Problem})
def stack(request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str) -> StackOut:
    """A stack-up figured by the sizes as they are now."""
    _, a, context = _placed(request, drawing_id, annotation_id, StackUp)
    found, write = result(a, context), _writer(context.profile)

    def span(low: float, high: float) -> str:
        return f"±{write(high)}" if abs(low + high) < 1e-9 else f"{write(low)} to {write(high)}"

    links = [
        StackLink(
            annotation=k.annotation,
            says=k.says,
            nominal=write(k.link.nominal),
            tolerance=span(k.link.lower, k.link.upper) if k.link.half or k.link.upper else "",
            sensitivity=k.link.sensitivity,
            share=share,
        )
        for k, share in zip(found.chain.links, found.shares, strict=True)
    ]
    ranges = [[write(r.least), write(r.most)] for r in (found.worst, found.squares, found.lots.range)]
    return StackOut(
        links=links,
        nominal=write(found.nominal),
        middle=write(found.middle),
        worst=ranges[0],
        squares=ranges[1],
        lots=ranges[2],
        deviation=write(found.lots.deviation),
        share=found.lots.share,
        holds=found.holds,
    )


@router.get("/{drawing_id}/stacks/{annotation_id}/table.{kind}", url_name="stack_table")
def stack_file(
    request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str, kind: Literal["xlsx", "csv"]
) -> HttpResponse:
    """A stack-up as a spreadsheet."""
    d, a, context = _placed(request, drawing_id, annotation_id, StackUp)
    stem = f"{d.number or d.name} {a.name or 'stack-up'}"
    return tables_response(stack_table.table(a, context), stem, "Stack-up", kind)


# ---- frames ------------------------------------------------------------------------------------------------
class FrameMeaning(Schema):
    """Boundaries of what a frame is on; why: why there are none. bonus: sizes and the tolerance at each,
    points the same in mm; square: ± of both coordinates within a round zone; zone: with the extremes
    of ± that was said, zone_says: the frame with it, gained: % of area; allowed, off, passes: of a part that
    was measured; missing: basic sizes."""

    why: str = ""
    least: str = ""
    most: str = ""
    is_internal: bool = False
    virtual: str | None = None
    inner: str = ""
    outer: str = ""
    bonus: list[list[str]] = []
    points: list[list[float]] = []
    square: str | None = None
    allowed: str = ""
    off: str | None = None
    passes: bool | None = None
    problem: str = ""
    missing: list[str] = []
    zone: str = ""
    zone_says: str = ""
    gained: int = 0


@router.get("/{drawing_id}/frames/{annotation_id}/meaning", response={200: FrameMeaning, 422: Problem})
def frame(
    request: HttpRequest,
    drawing_id: uuid.UUID,
    annotation_id: str,
    size: float | None = None,
    dx: float | None = None,
    dy: float | None = None,
    plus_x: float | None = None,
    plus_y: float | None = None,
) -> FrameMeaning:
    """What a frame comes to; a part whose size and place were measured, and the zone of plus and minus
    coordinates (in the drawing's unit)."""
    _, f, context = _placed(request, drawing_id, annotation_id, ControlFrame)
    write, unit = _writer(context.profile), _unit(context.profile)
    missing = [unsaid(m, context.profile) for m in basic_sizes.lacking(f, context)]
    try:
        found = frame_meaning.meaning(f, context)
    except SizeError as error:
        return FrameMeaning(why=str(error), missing=missing)
    out = FrameMeaning(
        least=write(found.sized.least),
        most=write(found.sized.most),
        is_internal=found.sized.is_internal,
        virtual=None if found.bounds.virtual is None else write(found.bounds.virtual),
        inner=write(found.bounds.inner),
        outer=write(found.bounds.outer),
        bonus=[[write(s), write(t)] for s, t in found.bonus],
        points=[[s, t] for s, t in found.bonus],
        square=None if found.square is None else write(found.square),
        missing=missing,
    )
    if plus_x and plus_y:
        zone = round(position.zone_about(plus_x * unit, plus_y * unit), 3)
        rows = frame_meaning.with_zone(f.rows, zone, None)
        area = math.pi * zone**2 / 4 / (4 * plus_x * plus_y * unit**2) - 1
        line = typed(shown_rows(rows, context.profile))
        out = out.model_copy(update={"zone": write(zone), "zone_says": line, "gained": round(area * 100)})
    if size is None and dx is None and dy is None:
        return out
    place = ((dx or 0.0) * unit, (dy or 0.0) * unit) if dx is not None or dy is not None else None
    try:
        part = frame_meaning.measured(f, context, None if size is None else size * unit, place)
    except SizeError as error:
        return out.model_copy(update={"problem": str(error)})
    off = None if part.off is None else write(part.off)
    return out.model_copy(update={"allowed": write(part.allowed), "off": off, "passes": part.passes})


class HolePassed(Schema):
    """A hole on a fastener's way, its zone, and its frame with that; None where it has none."""

    called: str
    least: str
    is_held: bool
    zone: str
    frame: Annotation | None


class FasteningOut(Schema):
    """A fastener with its holes. called: empty where its diameter was said."""

    called: str
    greatest: str
    is_fixed: bool
    holes: list[HolePassed]
    gained: int = round(position.GAINED * 100)


@router.get("/{drawing_id}/frames/{annotation_id}/fastening", response={200: FasteningOut, 422: Problem})
def fastening(
    request: HttpRequest,
    drawing_id: uuid.UUID,
    annotation_id: str,
    share: float = 0.5,
    projected: bool = True,
    projection: float = 0.0,
    greatest: float | None = None,
    is_fixed: bool = False,
) -> FasteningOut:
    """The zones that let a fastener through the hole of a frame: of the assembly that is drawn, or of a
    greatest diameter that is said."""
    d, f, context = _placed(request, drawing_id, annotation_id, ControlFrame)
    write, unit = _writer(context.profile), _unit(context.profile)
    if greatest is None:
        found = frame_meaning.fastening(f, context)
    else:
        found = frame_meaning.said_fastening(f, context, greatest * unit, is_fixed)
    zones = frame_meaning.divided(found, share, projected, projection * unit)
    height = max((h.depth for h, _ in zones if not h.is_held), default=0.0)
    holes = []
    for h, zone in zones:
        made = None
        if h.frame:
            _, other, _ = _placed(request, drawing_id, h.frame, ControlFrame)
            up = height if h.is_held and projected and height else None
            made = other.model_copy(update={"rows": frame_meaning.with_zone(other.rows, zone, up)})
        holes.append(
            HolePassed(
                called=h.called,
                least=write(h.least),
                is_held=h.is_held,
                zone=write(zone),
                frame=made,
            )
        )
    return FasteningOut(
        called=found.called, greatest=write(found.greatest), is_fixed=found.is_fixed, holes=holes
    )


class BasicSizes(Schema):
    """Basic sizes that a frame lacks; the command `place` puts them on the drawing. left_over: how many no
    view of the sheet shows."""

    sizes: list[Annotation]
    left_over: int


@router.get(
    "/{drawing_id}/frames/{annotation_id}/basics", response={200: BasicSizes, 422: Problem, 425: Problem}
)
def basics(request: HttpRequest, drawing_id: uuid.UUID, annotation_id: str) -> BasicSizes:
    """The basic sizes that are missing, in rows beside the views that show them best."""
    d, f, context = _placed(request, drawing_id, annotation_id, ControlFrame)
    host = context.sheet
    plain = [v for v in host.views if not v.is_pictorial and v.kind != "detail" and not v.exploded]
    geometries = {v.id: g for v in plain if (g := shape(d, host, v)[1]) is not None and not g.rough}
    if len(geometries) < len(plain):
        raise NotYet(WAIT)
    homes = [Context(context.drawing, host, context.facts, v) for v in plain]
    sizes, left = basic_sizes.proposed(f, context, homes, geometries)
    placed: list[Any] = []
    for home in homes:
        mine = [s for s in sizes if s.view == home.view_id]
        moves = {m.id: m for m in in_rows(mine, home, geometries[home.view_id])} if mine else {}
        placed += [
            s.model_copy(update={"place": moves[s.id].place, "shift": moves[s.id].shift})
            if s.id in moves
            else s
            for s in mine
        ]
    return BasicSizes(sizes=placed, left_over=left)


class General(Schema):
    """What general geometric tolerances ask, by the part and by the face or edge that is pointed at; the part
    of each instance."""

    parts: dict[str, dict[str, str]]
    instances: dict[str, str]


@router.get("/{drawing_id}/general-tolerances", response=General)
def general(request: HttpRequest, drawing_id: uuid.UUID) -> General:
    """What holds of surfaces that no control frame speaks of."""
    d = own_drawing(request, drawing_id)
    document = store.document_of(d)
    _, facts = shown_facts(d)
    said_of = generally.stated(document, facts)
    parts = {}
    for key, part in facts.parts.items():
        faces = generally.generally(key, part, document.profile, said_of)
        edges = {e.name: faces[n] for e in part.edges for n in e.faces[::-1] if n in faces}
        parts[key] = faces | edges
    return General(parts=parts, instances={i.path: i.part for i in facts.instances})
