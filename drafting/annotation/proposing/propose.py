"""What a tool would place for what is picked, and what dragging would make of what is there: one way for all
kinds.

A tool is named after the kind it makes, but for "size" and "callout", which find the kind by what is picked,
and "run", which makes several.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds import control_frame, note, underlay, weld
from drafting.annotation.kinds.control_frame_judged import said
from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.kinds.kind import Request, SizeKind
from drafting.annotation.measuring.picked_features import holes_at
from drafting.annotation.proposing import runs, size_tool, tie_lines
from drafting.annotation.registry import KINDS
from drafting.annotation.review import redundancy
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Pick
from drafting.errors import SizeError
from drafting.sheet.layout import sheet_size
from drafting.standards.characteristics import GROUPS, named


@dataclass(frozen=True)
class Proposed:
    """What would be placed. option: the chosen one of the options; note: what the drafter should know;
    repeats: the text of a size of the drawing that states the same already; taken: which of the spots it is
    taken on."""

    annotations: list[AnnotationBase]
    name: str
    option: str = ""
    options: list[str] = field(default_factory=list)
    note: str = ""
    repeats: str = ""
    taken: list[int] = field(default_factory=list)


Known = Callable[[], redundancy.Index]
"""Gives the sizes of the drawing by what they state."""


def propose(tool: str, request: Request, context: Context, known: Known) -> Proposed:
    """What a tool would place. Raises SizeError or CommandError with a sentence where the picks make
    nothing."""
    makes = TOOLS.get(tool)
    if makes is not None:
        return makes(request, context, known)
    kind = KINDS.get(tool)
    if kind is None or kind.propose is None:
        raise SizeError(f"There is no tool called {tool}.")
    made = _like(kind.propose(request, context), request.settings.get("like"), context)
    registry.check(made, context)
    return Proposed([made], kind.title(made), taken=list(range(len(request.spots))))


def _like(made: AnnotationBase, like: Any, context: Context) -> AnnotationBase:
    """What a tool made, in all but its place as another of its kind (settings `like`, an id)."""
    if not like:
        return made
    other = next((a for s in context.drawing.sheets for a in s.annotations if a.id == like), None)
    if other is None or other.kind != made.kind:
        raise SizeError("What this is to be like is no longer on the drawing.")
    own = {"id", "kind", "anchor", *registry.kind_of(made).where}
    return made.model_copy(update={f: getattr(other, f) for f in type(made).model_fields if f not in own})


def _weld(request: Request, context: Context, known: Known) -> Proposed:
    """A weld of the kind that settings `form` names, else of the one that fits best where the arrow points,
    and all that fit."""
    made = _like(weld.propose(request, context), request.settings.get("like"), context)
    assert isinstance(made, weld.Weld)
    registry.check(made, context)
    can = list(weld.offers(made.tip, context))
    return Proposed([made], registry.name(made), made.form, [str(f) for f in can])


def _frame(request: Request, context: Context, known: Known) -> Proposed:
    """A control frame: as settings `line` says it, else of the characteristic that settings `characteristic`
    names, and all that can be said of what it is on."""
    standard = context.profile.standard
    wanted = str(request.settings.get("characteristic", ""))
    plain = {named(c, standard): c for c in GROUPS}.get(wanted, wanted)
    request = replace(request, settings={**request.settings, "characteristic": plain})
    made = _like(control_frame.propose(request, context), request.settings.get("like"), context)
    assert isinstance(made, ControlFrame)
    if request.settings.get("line") or request.settings.get("like"):
        registry.check(made, context)
    found = said(made, context)
    return Proposed(
        [made],
        registry.name(made),
        named(made.rows[0].characteristic, standard),
        control_frame.options(made.tip, context),
        found[0].sentence if found else "",
    )


def _further_leader(request: Request, context: Context, known: Known) -> Proposed:
    """The note of settings `note` with one more leader."""
    found = context.sheet.annotation(str(request.settings.get("note", "")))
    if not isinstance(found, note.Note):
        raise SizeError("That note is no longer on the sheet.")
    if found.view != context.view_id:
        raise SizeError("All leaders of a note end in its own view.")
    made = note.with_leader(found, request, context)
    return Proposed([made], registry.name(made), taken=[0])


def _size(request: Request, context: Context, known: Known) -> Proposed:
    """A size of the kind that fits what was picked; one that the drawing states already for reference."""
    x, y = context.origin
    width, height = sheet_size(context.sheet)
    option = str(request.settings.get("option", ""))
    room = (-x, -y, width - x, height - y)
    found = size_tool.proposed(
        request.picks(context), np.array(request.pointer), option, request.identity, context, room
    )
    under = "taken on the underlay" if registry.is_on_underlay(found.size) else ""
    size, other = found.size, redundancy.repeats(found.size, context, known())
    repeats = ""
    if other is not None:
        size = size.model_copy(update={"wording": size.wording.model_copy(update={"reference": True})})
        repeats = registry.text(other, Context.of_view(context.drawing, other.view, context.facts))
    return Proposed(
        [size],
        registry.name(size),
        found.name,
        found.options,
        ", ".join(filter(None, (found.note, under))),
        repeats,
        list(range(len(request.spots))),
    )


def _run(request: Request, context: Context, known: Known) -> Proposed:
    """A chain, baseline or ordinate run (settings `form`) from the first spot; `swept` leaves out spots that
    have no place in it."""
    form = request.settings.get("form", "chain")
    if form not in ("chain", "baseline", "ordinate"):
        raise SizeError("A run is a chain, a baseline or ordinates.")
    swept, at = bool(request.settings.get("swept")), np.array(request.pointer)
    picks: list[Pick] = []
    taken: list[int] = []
    for n, spot in enumerate(request.spots):
        try:
            picks.append(spot.sided(context))
            taken.append(n)
        except SizeError:
            if not swept or n == 0:
                raise
    direction = request.settings.get("direction") or runs.direction_of(picks, at, context)
    if swept:
        fits = runs.fitting(picks, direction, context)
        picks, taken = [picks[n] for n in fits], [taken[n] for n in fits]
    sizes = runs.made(form, picks, direction, at, request.identity, context)
    return Proposed(
        [*sizes], {"chain": "Chain", "baseline": "Baseline sizes", "ordinate": "Ordinates"}[form], taken=taken
    )


def _callout(request: Request, context: Context, known: Known) -> Proposed:
    """The callout of the hole that was picked, or of another feature."""
    spots = request.spots
    is_hole = not spots or bool(holes_at(spots[0].pick, context)[1])
    tool = "hole_callout" if is_hole else "feature_callout"
    return propose(tool, request, context, known)


def _tie(request: Request, context: Context, known: Known) -> Proposed:
    """An added line tied to something, as settings `option` says."""
    line, option, options = tie_lines.tied(request, context)
    return Proposed([line], registry.name(line), option, options, taken=[0, 1])


def _scale_underlay(request: Request, context: Context, known: Known) -> Proposed:
    """An underlay so large that two of its points lie as far apart as they should."""
    made = underlay.scaled(request, context)
    return Proposed([made], registry.name(made), taken=[0, 1])


TOOLS: Mapping[str, Callable[[Request, Context, Known], Proposed]] = {
    "size": _size,
    "run": _run,
    "callout": _callout,
    "tie": _tie,
    "scale_underlay": _scale_underlay,
    "further_leader": _further_leader,
    "weld": _weld,
    "control_frame": _frame,
}


def looks(tool: str) -> bool:
    """Whether a tool needs what the view shows."""
    return tool == "further_leader" or (tool in KINDS and KINDS[tool].looks)


def drag(annotation: AnnotationBase, grip: str, request: Request, context: Context) -> AnnotationBase:
    """An annotation with one of its grips at the pointer: `place`, `number` of a size along its line, or one
    of the kind's own.

    Raises SizeError or CommandError with a sentence.
    """
    at, kind = np.array(request.pointer), registry.kind_of(annotation)
    if isinstance(annotation, Dimension):
        assert isinstance(kind, SizeKind)
        shift = (
            kind.shift_at(annotation, at, context) if kind.shift_at and grip == "number" else annotation.shift
        )
        return size_tool.placed(annotation, at, context).model_copy(update={"shift": shift})
    if kind.drag is None:
        raise SizeError(f"{registry.name(annotation)} is not dragged.")
    out: AnnotationBase = kind.drag(annotation, grip, request, context)
    return out
