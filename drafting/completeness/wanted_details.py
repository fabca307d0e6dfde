"""Details of features whose lines lie too near to each other at the scale of their view."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from drafting.annotation.kinds import linear
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.measure import resolve
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.measuring.traces import Straight
from drafting.completeness.lines_shown import is_small, parent_factor
from drafting.completeness.proposal import Proposed
from drafting.compose import fixed_obstacles
from drafting.context import Context
from drafting.document import Drawing, Sheet, new_id, view_scale
from drafting.features.naming import feature_name, hole_name
from drafting.features.recognized import features
from drafting.model.model import Facts, PartFacts
from drafting.standards.scales import SERIES, Scale
from drafting.views.section import perpendicular
from drafting.views.standing import free_place

FINISH = ("chamfer", "fillet", "round", "taper")
EXACT = 1e-6
READABLE = 5.0
"""How far apart a detail draws what was too small, paper mm (common practice)."""
AROUND = 2.5
"""How much of the part a detail shows, as a multiple of what it is drawn for."""
LEAST = 10.0
"""Radius of a detail on paper, at least, mm."""


@dataclass(frozen=True)
class WantedView:
    """A sentence, and the command that places the view; none where a drafter has to say how it is cut, or
    where there is no room. is_crowded: whether the sheet has to be arranged anew with it."""

    text: str
    command: Mapping[str, Any] | None = None
    is_crowded: bool = False


def feature_of(p: Proposed, part: PartFacts) -> tuple[str, list[str]]:
    """What a proposed size is of, by name, and its faces."""
    known = features(part)
    faces = [n for pick in p.annotation.picks for n in faces_at(pick, part)]
    for n in known.holes_at(faces):
        return f"the {hole_name(known.holes[n])}", sorted(known.holes[n].faces)
    for n in others_at(part, faces):
        return f"the {feature_name(known.others[n])}", sorted(known.others[n].faces)
    return "the part", faces


def others_at(part: PartFacts, faces: Sequence[str]) -> list[int]:
    """Features besides holes that some faces belong to, without those that only finish an edge."""
    known = features(part)
    return [n for n in known.others_at(faces) if known.others[n].kind not in FINISH]


def wanted_details(
    drawing: Drawing, sheet: Sheet, proposed: Sequence[Proposed], facts: Facts
) -> Iterator[WantedView]:
    """One of each feature with a proposed length that does not read at the scale of its view."""
    part = facts.parts[facts.instances[0].part]
    done: set[frozenset[str]] = set()
    for p in proposed:
        context, a = Context(drawing, sheet, facts, sheet.view(p.view)), p.annotation
        if context.view is None or context.view.kind == "detail" or not isinstance(a, LinearDimension):
            continue
        if not is_small(a, context, parent_factor(context)):
            continue
        for n in others_at(part, [n for pick in a.picks for n in faces_at(pick, part)])[:1]:
            feature = features(part).others[n]
            made = None if feature.faces in done else _detail(context, a, f"the {feature_name(feature)}")
            done.add(feature.faces)
            if made is not None:
                yield made


def _detail(context: Context, a: LinearDimension, what: str) -> WantedView | None:
    """About one end of the two lines that a length is taken on."""
    parent, sheet, profile = context.view, context.sheet, context.profile
    found = [resolve(p, context) for p in a.picks]
    lines = [
        np.array([context.frame.flat(t.a), context.frame.flat(t.b)]) for t in found if isinstance(t, Straight)
    ]
    if len(lines) != 2 or parent is None:
        return None
    u = linear.measured(a, context).direction
    v = perpendicular(u)
    ends = [max(line, key=lambda p: float(p @ v)) for line in lines]
    middle = u * float((ends[0] + ends[1]) @ u) / 2 + v * min(float(p @ v) for p in ends)
    size = abs(float((ends[1] - ends[0]) @ u))
    if size < EXACT:
        return None
    scale = _scale_for(READABLE / size, view_scale(sheet, parent).factor, profile.standard)
    radius = max(AROUND * size, LEAST / scale.factor)
    half = radius * scale.factor
    taken = fixed_obstacles(context.drawing, sheet, context.facts)
    near = (parent.position.x, parent.position.y)
    at = free_place(near, (half, half), sheet, context.facts, taken, profile.view_gap / 2)
    if at is None:
        return WantedView(f"A detail would show {what} larger; this sheet has no room for it.")
    command = {
        "command": "place_detail",
        "id": new_id(),
        "parent": parent.id,
        "outline": {"shape": "circle", "center": _point(middle), "radius": round(radius, 6)},
        "position": {"x": at[0], "y": at[1]},
        "scale": scale.model_dump(),
    }
    return WantedView(f"A detail, {scale}, would show {what} larger.", command)


def _point(p: Any) -> dict[str, float]:
    return {"x": round(float(p[0]), 6), "y": round(float(p[1]), 6)}


def _scale_for(wanted: float, whole: float, standard: Literal["ISO", "ASME"]) -> Scale:
    """The first standard scale that is as large as wanted and larger than the whole view's; else the
    largest."""
    series: list[Scale] = sorted(SERIES[standard], key=lambda s: s.factor)
    return next((s for s in series if s.factor >= wanted - EXACT and s.factor > whole + EXACT), series[-1])
