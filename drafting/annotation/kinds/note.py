"""Notes: words beside what they are about, at the end of leaders, or by themselves on the sheet (ISO 128-22
and ASME Y14.2 for leaders; memory). They may quote the drawing (`wording.quotes`)."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Annotated, Any, Literal, Self

import numpy as np
from pydantic import Field
from typing_extensions import override

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, line
from drafting.annotation.inking.leader import END_ON, leader
from drafting.annotation.kinds.kind import Box, Handle, Kind, Request, Row, number_of, set_fields
from drafting.annotation.measuring.pointing import Ended, Tip, ended
from drafting.annotation.placing.rows import beside
from drafting.annotation.wording.quotes import quoted, requoted, unknown
from drafting.annotation.wording.text_block import LEADING, TextBlock
from drafting.context import Context
from drafting.data import Point
from drafting.document import AnnotationBase, OnSheet, Placement, in_view
from drafting.errors import CommandError
from drafting.ink.elements import Arc, Element, Polyline
from drafting.ink.lettering import formless, wrapped
from drafting.ink.symbols import box
from drafting.sheet.frame import shown_notes

MOST_TIPS = 12
SHOULDER = 4.0
"""From a leader's bend to words that stand in line with it, mm."""
OUT = 2.5
"""How far beside the words they are taken hold of to set their width, mm."""
MARGIN = 0.5
"""Between words and their frame, heights of lettering."""
AROUND = 0.5, 0.85
"""Radii of the circles that say all around and, both, all over; heights of lettering (memory)."""


class Note(AnnotationBase):
    """Words, with symbols and quotes by name in braces. place: where the leaders begin, or the upper left
    corner of words that stand by themselves; end: what leaders end with, None by what they point at;
    shoulder: the line of words that the leader goes to; width: at which words are broken, mm; around: what
    they hold for; flag: the number of the general note that is pointed at, in place of words; angle: degrees
    counterclockwise, of words without a leader."""

    kind: Literal["note"] = "note"
    text: Annotated[str, Field(max_length=4000, title="Words", json_schema_extra={"lines": True})] = "Note"
    place: Placement
    tips: Annotated[list[Tip], Field(max_length=MOST_TIPS)] = []
    end: Annotated[
        Literal["by itself", "arrow", "dot", "none", "triangle", "slash"], Field(title="Ends in")
    ] = "by itself"
    shoulder: Annotated[Literal["first", "last"], Field(title="Leader to line")] = "first"
    align: Annotated[Literal["left", "middle", "right", "justified"], Field(title="Lines stand")] = "left"
    around: Annotated[Literal["here", "all around", "all over"], Field(title="Holds")] = "here"
    framed: Annotated[bool, Field(title="Frame")] = False
    width: (
        Annotated[float, Field(ge=10, le=1000, title="Width, mm", json_schema_extra={"empty": "as typed"})]
        | None
    ) = None
    height: Annotated[float, Field(ge=1.5, le=40, title="Lettering, mm")] | None = None
    angle: Annotated[float, Field(ge=-180, le=180, title="Angle, °")] = 0.0
    flag: (
        Annotated[int, Field(ge=1, le=99, title="General note", json_schema_extra={"empty": "none"})] | None
    ) = None

    @override
    def copied(self, ids: Mapping[str, str]) -> Self:
        """The same, quoting the copies of the sizes that it quotes."""
        made = super().copied(ids)
        return made.model_copy(update={"text": requoted(made.text, ids)})


@dataclass(frozen=True)
class _Laid:
    """A note as it is laid out: its lines, and the box about them, paper mm about the context's origin."""

    block: TextBlock
    box: Box


def _block(note: Note, context: Context) -> TextBlock:
    h = note.height or context.profile.text_height
    text = str(note.flag) if note.flag else quoted(note.text, context)
    if note.width is None or note.flag:
        return TextBlock(text, h, "left" if note.align == "justified" else note.align)
    paragraphs = [wrapped(p, h, note.width) for p in text.split("\n")]
    lines = [line_ for p in paragraphs for line_ in p]
    if note.align != "justified":
        return TextBlock("\n".join(lines), h, note.align)
    last = set(np.cumsum([len(p) for p in paragraphs]) - 1)  # of a paragraph stays as it is
    return TextBlock("\n".join(lines), h, filled=frozenset(range(len(lines))) - last)


def _laid(note: Note, at: Array, side: float, context: Context) -> _Laid:
    """The words of a note. at: where its leaders begin; side: 1 to the right of that, -1 to the left, 0 for
    words by themselves."""
    block, profile = _block(note, context), context.profile
    h, count = block.height, len(block.lines)
    k = 0 if note.shoulder == "first" else count - 1
    if not side:
        left, base = float(at[0]), float(at[1]) - h
    elif _is_in_line(note, context):
        gap = SHOULDER + (MARGIN * h if _has_frame(note) else profile.text_gap)
        left = float(at[0]) + (gap if side > 0 else -gap - block.width)
        base = float(at[1]) - h / 2 + k * LEADING * h
    else:
        left = float(at[0]) + (0.75 if side > 0 else -0.75 - block.width)
        base = float(at[1]) + profile.text_gap + k * LEADING * h
    low = base - (count - 1) * LEADING * h
    return _Laid(block, (left, low, left + block.width, base + h))


def _has_frame(note: Note) -> bool:
    return note.framed or note.flag is not None


def _is_in_line(note: Note, context: Context) -> bool:
    """Whether words stand at the end of the shoulder, not on it."""
    return _has_frame(note) or context.profile.dimension_text != "above"


def _side(note: Note, at: Array, ends: list[Ended]) -> float:
    """On which side of the leaders' beginning the words stand: away from what they point at."""
    if not ends:
        return 0.0
    return 1.0 if float(at[0]) >= float(np.mean([e.at[0] for e in ends])) else -1.0


def _ended(note: Note, context: Context) -> list[Ended]:
    return [ended(tip, context) for tip in note.tips]


def ink(note: Note, context: Context) -> list[Element]:
    """Leaders, shoulder, words and frame; paper mm about the context's origin. Raises SizeError."""
    at = np.array(note.place.at(context.scale))
    ends = _ended(note, context)
    side = _side(note, at, ends)
    laid = _laid(note, at, side, context)
    block, h = laid.block, laid.block.height
    out: list[Element] = []
    for tip, end in zip(note.tips, ends, strict=True):
        out += leader([at, end.at], END_ON[tip.on] if note.end == "by itself" else note.end, context.profile)
    if side:
        far = SHOULDER if _is_in_line(note, context) else block.width + 1.5
        out.append(line(at, at + np.array([side * far, 0.0])))
    for radius in AROUND[: {"here": 0, "all around": 1, "all over": 2}[note.around]]:
        out.append(Arc((float(at[0]), float(at[1])), radius * h, 0.0, 2 * math.pi, LINE_KIND))
    turn = math.radians(note.angle) if not side else 0.0
    c, s = math.cos(turn), math.sin(turn)

    def turned(x: float, y: float) -> tuple[float, float]:
        dx, dy = x - float(at[0]), y - float(at[1])
        return float(at[0]) + dx * c - dy * s, float(at[1]) + dx * s + dy * c

    left, low, right, high = laid.box
    out += block.elements(turned((left + right) / 2, (low + high) / 2), turn)
    if _has_frame(note):
        m = MARGIN * h
        frame = box(left - m, low - m, right + m, high + m)[0] if not note.flag else _flag(laid.box, m)
        out.append(Polyline(tuple(turned(*p) for p in frame), LINE_KIND, True))
    return out


def _flag(b: Box, m: float) -> tuple[tuple[float, float], ...]:
    """The flag about the number of a general note: a box with a point at both ends."""
    left, low, right, high = b[0] - m / 2, b[1] - m, b[2] + m / 2, b[3] + m
    middle, point = (low + high) / 2, (high - low) / 2 * math.tan(math.radians(30))
    return (
        (left, low),
        (right, low),
        (right + point, middle),
        (right, high),
        (left, high),
        (left - point, middle),
    )


def check(note: Note, context: Context) -> None:
    """Raises CommandError for a note that says nothing, SizeError where what it points at is gone."""
    if not note.text.strip() and not note.flag:
        raise CommandError("A note needs words.")
    _ended(note, context)


def words(note: Note, context: Context) -> str:
    """What it says, in one line."""
    return " ".join(_block(note, context).lines)


def row(note: Note, context: Context) -> Row:
    """What lists show of it."""
    return Row(words(note, context))


def obstacles(note: Note, context: Context) -> list[tuple[str, Box]]:
    """The level box about words that stand on the sheet by themselves, sheet mm."""
    if context.view is not None:
        return []
    b = _laid(note, np.array(note.place.at(1.0)), 0.0, context).box
    return [("the note", b)]


def findings(note: Note, context: Context) -> list[str]:
    """What it quotes and is not there, a general note that there is none of, and characters without a
    form."""
    out = [f"A note quotes {name}, and nothing answers to that." for name in unknown(note.text, context)]
    if note.flag and note.flag > len(shown_notes(context.drawing)):
        out.append(f"A flag says general note {note.flag}, and the drawing has none.")
    without = formless(quoted(note.text, context))
    if without:
        out.append(f"The lettering has no form for {' '.join(without[:5])}; another font stands in.")
    return out


def propose(request: Request, context: Context) -> Note:
    """A note on what lies at settings `tip` (paper mm), standing at the pointer; on the sheet where the
    context has no view. settings `text`: what it says. Raises SizeError."""
    said = {"text": str(request.settings["text"])} if request.settings.get("text") else {}
    pointer = np.array(request.pointer)
    if context.view is None:
        place = Placement(model=Point(x=0, y=0), paper=Point(x=round(pointer[0], 3), y=round(pointer[1], 3)))
        return Note(id=request.identity, anchor=OnSheet(), place=place, **said)
    if request.settings.get("words"):  # by themselves in the view, with which they go
        at = Point(x=round(pointer[0] / context.scale, 6), y=round(pointer[1] / context.scale, 6))
        place = Placement(model=at, paper=Point(x=0, y=0))
        return Note(id=request.identity, anchor=in_view(context.view_id), place=place, **said)
    tip = request.pointed(request.settings.get("tip") or request.pointer, context, sizes=True)
    end = ended(tip, context).at / context.scale
    return Note(
        id=request.identity,
        anchor=in_view(context.view_id),
        place=beside(end, pointer, context.scale),
        tips=[tip],
        **said,
    )


def drag(note: Note, grip: str, request: Request, context: Context) -> Note:
    """The note with its words at the pointer, or with the leader (grip `tip`) that was taken nearest to
    settings `grabbed` (paper mm) ending there."""
    at = np.array(request.pointer)
    ends = _ended(note, context) if context.view else []
    if grip == "tip" and ends:
        grabbed = np.array(request.settings.get("grabbed") or request.pointer)
        n = int(np.argmin([np.linalg.norm(e.at - grabbed) for e in ends]))
        tips = list(note.tips)
        tips[n] = request.pointed(at, context, sizes=True)
        return note.model_copy(update={"tips": tips})
    if not ends and context.view is not None:
        model = Point(x=round(float(at[0]) / context.scale, 6), y=round(float(at[1]) / context.scale, 6))
        return note.model_copy(update={"place": Placement(model=model, paper=Point(x=0, y=0))})
    if not ends:
        paper = Point(x=round(float(at[0]), 3), y=round(float(at[1]), 3))
        return note.model_copy(update={"place": Placement(model=Point(x=0, y=0), paper=paper)})
    return note.model_copy(update={"place": beside(ends[0].at / context.scale, at, context.scale)})


def with_leader(note: Note, request: Request, context: Context) -> Note:
    """The note with one more leader, that ends at the pointer. Raises CommandError and SizeError."""
    if len(note.tips) >= MOST_TIPS:
        raise CommandError(f"A note has {MOST_TIPS} leaders at most.")
    if context.view is None:
        raise CommandError("A note that stands on the sheet by itself has no leaders.")
    return note.model_copy(
        update={"tips": [*note.tips, request.pointed(request.pointer, context, sizes=True)]}
    )


def handles(note: Note, context: Context) -> list[Handle]:
    """The side of the words, to be dragged to the width at which they are broken; of upright words."""
    if note.flag or note.angle:
        return []
    at = np.array(note.place.at(context.scale))
    side = _side(note, at, _ended(note, context))
    b = _laid(note, at, side, context).box
    past = note.width or b[2] - b[0]
    if side < 0:
        return [Handle(0, (b[2] - past - OUT, (b[1] + b[3]) / 2), (-1.0, 0.0), past)]
    return [Handle(0, (b[0] + past + OUT, (b[1] + b[3]) / 2), (1.0, 0.0), past)]


def change(note: Note, values: dict[str, Any], context: Context) -> Note:
    """Fields set; `past`, of the one end that is dragged, is the width."""
    if "past" in values:
        values = {"width": min(max(number_of(values["past"], "A width"), 10.0), 1000.0)}
    if "leaders" in values:  # the last ones go
        return note.model_copy(
            update={
                "tips": note.tips[: max(1, int(number_of(values["leaders"], "How many leaders there are")))]
            }
        )
    return set_fields(note, values)


KIND = Kind(
    Note,
    "Note",
    ink=ink,
    words=words,
    row=row,
    check=check,
    obstacles=obstacles,
    findings=findings,
    looks=True,
    propose=propose,
    drag=drag,
    change=change,
    handles=handles,
    where=("place", "tips"),
)
