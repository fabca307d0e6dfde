"""Routes of the checker's red pencil."""

import uuid
from dataclasses import asdict
from typing import Annotated, Any, Literal

from django.http import Http404, HttpRequest
from ninja import Router, Schema, Status
from pydantic import Field

from drafting.document import Dimension
from server.accounts.access import called
from server.accounts.models import Membership
from server.drawings import pencil, store
from server.drawings.access import own_drawing
from server.drawings.models import Drawing, PencilMark
from server.drawings.showing import shown_facts
from server.drawings.telling import told
from server.errors import Problem
from server.rights import has_role

router = Router(tags=["drawings"])
MARKS = (Membership.OWNER, Membership.CHECKER)
ANSWERS = (*MARKS, Membership.DRAFTER)
Coordinate = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
Place = Annotated[list[Coordinate], Field(min_length=2, max_length=2)]


class Word(Schema):
    """Something said of a finding; state: what it was set to with it, empty for as it was."""

    text: str
    state: str
    by: str
    at: str


class Mark(Schema):
    """A finding; mine: whether the user drew it."""

    number: int
    kind: str
    sheet: str
    anchor: str
    places: list[list[float]]
    state: str
    revision: str
    by: str
    at: str
    mine: bool
    words: list[Word]


class TickRow(Schema):
    """A tick; holds: whether what was ticked still says what it said; x, y: where it is drawn, mm from its
    view's position (from the sheet's corner where view is empty)."""

    annotation: str
    by: str
    holds: bool
    sheet: str
    view: str
    x: float
    y: float


class PencilPage(Schema):
    """marks: by number; sizes: how many sizes the drawing has, ticked: how many of them bear a tick that
    holds; may: whether the user can draw marks."""

    marks: list[Mark]
    ticks: list[TickRow]
    sizes: int
    ticked: int
    may: bool


@router.get("/{drawing_id}/pencil", response=PencilPage)
def pencil_page(request: HttpRequest, drawing_id: uuid.UUID) -> PencilPage:
    """All findings and ticks of a drawing."""
    return _page(request, own_drawing(request, drawing_id))


def _page(request: HttpRequest, d: Drawing) -> PencilPage:
    document = store.document_of(d)
    _, facts = shown_facts(d)
    sizes = {a.id for s in document.sheets for a in s.annotations if isinstance(a, Dimension)}
    ticks = [
        TickRow(
            annotation=t.annotation,
            by=called(t.by),
            holds=pencil.holds(document, facts, t),
            **asdict(where),
        )
        for t in d.ticks.select_related("by")
        if (where := pencil.place_of(document, facts, t.annotation)) is not None
    ]
    rows = d.pencil_marks.order_by("number").select_related("by").prefetch_related("words__by")
    mine = d.workspace.membership_set.filter(user=request.user.pk).values_list("role", flat=True).first()
    return PencilPage(
        marks=[
            Mark(
                number=m.number,
                kind=m.kind,
                sheet=m.sheet,
                anchor=m.anchor,
                places=m.places,
                state=m.state,
                revision=m.revision,
                by=called(m.by),
                at=m.at.isoformat(),
                mine=m.by_id == request.user.pk,
                words=[
                    Word(text=w.text, state=w.state, by=called(w.by), at=w.at.isoformat())
                    for w in sorted(m.words.all(), key=lambda w: w.pk)
                ],
            )
            for m in rows
        ],
        ticks=ticks,
        sizes=len(sizes),
        ticked=sum(t.holds and t.annotation in sizes for t in ticks),
        may=mine in MARKS,
    )


class Draw(Schema):
    """A new finding."""

    kind: Literal["cloud", "arrow", "words"]
    sheet: Annotated[str, Field(max_length=64)]
    anchor: Annotated[str, Field(max_length=64)] = ""
    places: Annotated[list[Place], Field(min_length=1, max_length=4)]
    text: Annotated[str, Field(max_length=2000)] = ""


@router.post("/{drawing_id}/pencil/marks", response={200: PencilPage, 403: Problem, 422: Problem})
def draw(request: HttpRequest, drawing_id: uuid.UUID, payload: Draw) -> Any:
    """Draw a finding."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, MARKS, "draw findings")
    pencil.draw(d.pk, payload.kind, payload.sheet, payload.anchor, payload.places, payload.text, request.user)
    return _changed(request, d)


def _changed(request: HttpRequest, d: Drawing) -> PencilPage:
    told(d.pk, "pencil", request.user)
    return _page(request, d)


class Said(Schema):
    """Something said of a finding."""

    text: Annotated[str, Field(max_length=2000)] = ""
    state: Literal["", "open", "answered", "closed"] = ""


def _mark(d: Drawing, number: int) -> PencilMark:
    found = d.pencil_marks.filter(number=number).first()
    if found is None:
        raise Http404("That finding is no longer on the drawing.")
    return found


@router.post(
    "/{drawing_id}/pencil/marks/{number}",
    response={200: PencilPage, 403: Problem, 404: Problem, 422: Problem},
)
def answer(request: HttpRequest, drawing_id: uuid.UUID, number: int, payload: Said) -> Any:
    """Answer a finding, or close it, which is the checkers' to do."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, ANSWERS, "answer findings")
    if payload.state == PencilMark.CLOSED:
        has_role(request, d.workspace, MARKS, "close findings")
    pencil.answer(_mark(d, number), payload.text, payload.state, request.user)
    return _changed(request, d)


@router.delete(
    "/{drawing_id}/pencil/marks/{number}",
    response={200: PencilPage, 403: Problem, 404: Problem, 422: Problem},
)
def rub_out(request: HttpRequest, drawing_id: uuid.UUID, number: int) -> Any:
    """Take back a finding of one's own that nobody has answered."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, MARKS, "rub out findings")
    pencil.rub_out(_mark(d, number), request.user)
    return _changed(request, d)


class TickIt(Schema):
    """Whether an annotation is found right."""

    annotation: Annotated[str, Field(max_length=64)]
    on: bool = True


@router.post("/{drawing_id}/pencil/ticks", response={200: PencilPage, 403: Problem, 422: Problem})
def tick(request: HttpRequest, drawing_id: uuid.UUID, payload: TickIt) -> Any:
    """Tick an annotation, or take its tick back."""
    d = own_drawing(request, drawing_id)
    has_role(request, d.workspace, MARKS, "tick anything")
    pencil.tick(d, payload.annotation, payload.on, request.user)
    return Status(200, _changed(request, d))


class Here(Schema):
    """What somebody looks at: a sheet, and what is selected on it."""

    sheet: Annotated[str, Field(max_length=64)] = ""
    selected: Annotated[list[Annotated[str, Field(max_length=64)]], Field(max_length=200)] = []


@router.post("/{drawing_id}/pencil/here", response={204: None})
def here(request: HttpRequest, drawing_id: uuid.UUID, payload: Here) -> Status[Any]:
    """Tell others on the drawing where one is."""
    d = own_drawing(request, drawing_id)
    told(d.pk, "here", request.user, sheet=payload.sheet, selected=payload.selected[:20])
    return Status(204, None)
