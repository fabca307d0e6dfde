"""Routes of what a drawing of a part does not say, and what it says twice."""

import time
import uuid
from collections.abc import Callable, Mapping
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest
from ninja import Router, Schema

from drafting.annotation import registry
from drafting.completeness.gaps import Gap, gaps
from drafting.completeness.verdict import Verdict, part_shown, verdict
from drafting.context import Context
from drafting.document import Drawing as Document
from drafting.errors import DraftingError
from drafting.model.model import Facts, PartFacts
from drafting.views.family import facing
from drafting.views.frame import Array, ViewFrame
from server.drawings import store, worked_out
from server.drawings.access import own_drawing
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.jobs.api import JobState
from server.jobs.models import Job

router = Router(tags=["completeness"])
AT_ONCE = 100
"""Faces of a part of which it is told in the request itself, within 0.3 seconds; of more a worker tells."""
AT_ONCE_ANNOTATIONS = 300
MOST_FACES = 500
"""Faces of a part of which it can be told in time: an answer takes up to some five seconds then, a proposal
a minute."""
MOST_EDGES = 5 * MOST_FACES
MOST_ANNOTATIONS = 1000


class GapOut(Schema):
    """Something that is not given. lit: the things of the model that are, each by the names of a view's
    curves; ways: for each view the direction on paper in which it may still move, shorter than 1 where that
    is foreshortened; none for what grows or turns."""

    text: str
    instance: str
    lit: list[list[str]]
    ways: dict[str, list[float]]


class TwiceOut(Schema):
    """A size that follows from others: any one of them may go."""

    id: str
    sheet: str
    text: str
    follows: list[str]


class SilentOut(Schema):
    """A size of which it cannot be told what it says."""

    id: str
    sheet: str
    text: str


class CompletenessOut(Schema):
    """state: complete; open, with what is missing or said twice; unknown, with the reason; working, while the
    job is at it. why: the reason, or what of the part a note leaves to the model."""

    state: Literal["complete", "open", "unknown", "working"]
    why: str
    missing: int
    gaps: list[GapOut]
    twice: list[TwiceOut]
    silent: list[SilentOut]
    milliseconds: float
    job: JobState | None = None


@router.get("/{drawing_id}/completeness", response=CompletenessOut)
def completeness(request: HttpRequest, drawing_id: uuid.UUID) -> CompletenessOut:
    """What all sheets of a drawing leave free of its part's numbers."""
    started = time.perf_counter()
    d = own_drawing(request, drawing_id)
    document, facts = store.document_of(d), shown_facts(d)[1]
    if is_for_workers(document, facts):
        job = worked_out.answer(d, "said", {}, request.user)
        if job.state != Job.DONE:
            out = _unknown(job.text)
            if job.state != Job.FAILED:
                out.state, out.job = "working", JobState.from_orm(job)
            return out
        out = CompletenessOut(**worked_out.result(job))
    else:
        out = told(document, facts)
    out.milliseconds = (time.perf_counter() - started) * 1e3
    return out


def is_for_workers(document: Document, facts: Facts) -> bool:
    """Whether a drawing is so large that a worker has to tell of it."""
    part = part_shown(facts)
    if part is None or too_large(document, part):
        return False
    placed = sum(len(sheet.annotations) for sheet in document.sheets)
    return len(part.faces) > AT_ONCE or placed > AT_ONCE_ANNOTATIONS


def known(d: Drawing) -> CompletenessOut | None:
    """What is told of a drawing; None where a worker has to tell and has not."""
    document, facts = store.document_of(d), shown_facts(d)[1]
    if not is_for_workers(document, facts):
        return told(document, facts)
    found = worked_out.known(d, "said", {})
    return None if found is None else CompletenessOut(**found)


def work_out(d: Drawing, asked: Mapping[str, Any], progress: worked_out.Progress) -> dict[str, Any]:
    """What a worker tells of a drawing."""
    document, facts = store.document_of(d), shown_facts(d)[1]

    def understood(share: float) -> None:
        progress(share, "understanding the sizes")

    return told(document, facts, understood).model_dump()


def told(
    document: Document, facts: Facts, progress: Callable[[float], None] = lambda _: None
) -> CompletenessOut:
    """What a drawing leaves free and says twice. progress: told the share of its sizes that is understood."""
    part = part_shown(facts)
    if part is None:
        return _unknown("Completeness is told of drawings of one part.")
    if large := too_large(document, part):
        return _unknown(large)
    try:
        found = verdict(document, facts, progress)
    except np.linalg.LinAlgError:
        return _unknown("Completeness cannot be told: the numbers of this part do not add up.")
    if found.why_not:
        return _unknown(found.why_not)
    open_ones = [_gap(g, document, facts) for g in _gaps(found, document, facts)]
    twice, silent = _twice(found, document, facts), _silent(found, document)
    is_open = bool(found.missing or twice or silent)
    return CompletenessOut(
        state="open" if is_open else "complete",
        why=_by_model(found.by_model),
        missing=found.missing,
        gaps=open_ones,
        twice=twice,
        silent=silent,
        milliseconds=0.0,
    )


def _by_model(many: int) -> str:
    """That free-form faces are left to the model; empty where there are none."""
    if many == 1:
        return "1 free-form face is as the model has it, as a note says."
    return f"{many} free-form faces are as the model has them, as a note says." if many else ""


def open_gaps(document: Document, facts: Facts) -> list[Gap]:
    """What a drawing does not give; nothing where that cannot be told."""
    found = verdict(document, facts)
    return [] if found.why_not else _gaps(found, document, facts)


def _gaps(found: Verdict, document: Document, facts: Facts) -> list[Gap]:
    return gaps(found, document.profile, _axes(document, facts))


def too_large(document: Document, part: PartFacts) -> str:
    """Why nothing is told of a part or a drawing of its size, in a sentence; empty where it is."""
    placed = sum(len(sheet.annotations) for sheet in document.sheets)
    for what, of, many, most in (
        ("part", "faces", len(part.faces), MOST_FACES),
        ("part", "edges", len(part.edges), MOST_EDGES),
        ("drawing", "annotations", placed, MOST_ANNOTATIONS),
    ):
        if many > most:
            return (
                f"This {what} has {many} {of}, too large to decide in time: completeness is told of up to "
                f"{most}."
            )
    return ""


def _unknown(why: str) -> CompletenessOut:
    return CompletenessOut(
        state="unknown", why=why, missing=0, gaps=[], twice=[], silent=[], milliseconds=0.0
    )


def _axes(document: Document, facts: Facts) -> Array:
    """Right, up and toward the viewer of the main view, in the part's frame."""
    main = next((v for v in document.views() if v.kind == "main"), None)
    m = np.array(facts.instances[0].matrix)[:3, :3]
    out: Array = (facing(main).matrix() if main else np.eye(3)) @ m
    return out


def _gap(gap: Gap, document: Document, facts: Facts) -> GapOut:
    instance = facts.instances[0]
    part = facts.parts[instance.part]
    lit = [[*own, *(e.name for e in part.edges if set(own) & set(e.faces))] for own in gap.groups]
    ways: dict[str, list[float]] = {}
    if gap.way is not None:
        way = np.array(instance.matrix)[:3, :3] @ np.array(gap.way)
        for view in document.views():
            x, y = ViewFrame.of(view, facts).direction(way)
            ways[view.id] = [round(float(x), 6), round(float(y), 6)]
    return GapOut(text=gap.text, instance=instance.path, lit=lit, ways=ways)


def _twice(found: Verdict, document: Document, facts: Facts) -> list[TwiceOut]:
    words = _words(document, facts)
    return [
        TwiceOut(
            id=key,
            sheet=words.get(key, ("", ""))[0],
            text=f"{_of(words, key)} follows from {_listed([_of(words, k) for k in others])}."
            if others
            else f"{_of(words, key)} is so without being said.",
            follows=others,
        )
        for key, others in found.twice.items()
    ]


def _silent(found: Verdict, document: Document) -> list[SilentOut]:
    sheets = {a.id: sheet.id for sheet in document.sheets for a in sheet.annotations}
    return [SilentOut(id=key, sheet=sheets.get(key, ""), text=why) for key, why in found.silent.items()]


def _words(document: Document, facts: Facts) -> dict[str, tuple[str, str]]:
    """Sheet and words of each size."""
    out = {}
    for sheet in document.sheets:
        for a in sheet.annotations:
            view = sheet.view_of(a)
            if view is None:
                continue
            try:
                out[a.id] = sheet.id, registry.text(a, Context(document, sheet, facts, view))
            except DraftingError:
                out[a.id] = sheet.id, registry.name(a)
    return out


def _of(words: dict[str, tuple[str, str]], key: str) -> str:
    return words.get(key, ("", "a size"))[1]


def _listed(names: list[str]) -> str:
    *first, last = names
    return f"{', '.join(first)} and {last}" if first else last
