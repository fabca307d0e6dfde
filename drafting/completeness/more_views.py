"""Views that a sheet lacks to say every number of its part: beside the main one where that shows the gap
squarely, else what kind of view would."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from drafting.completeness.gaps import Gap, gaps
from drafting.completeness.proposal import Proposed
from drafting.completeness.surfaces import Array
from drafting.completeness.verdict import verdict
from drafting.document import Drawing, Sheet, View, new_id, view_scale
from drafting.features.recognized import features
from drafting.model.model import Facts
from drafting.views.family import facing
from drafting.views.frame import ViewFrame
from drafting.views.orientation import Relation, projected

SQUARE = 0.999
"""Of a direction on paper: from here on it is seen squarely."""
BESIDE: tuple[Relation, ...] = ("right", "below", "left", "above")


@dataclass(frozen=True)
class WantedView:
    """A sentence, and the command that places the view; none where a drafter has to say how it is cut or
    turned."""

    text: str
    command: Mapping[str, Any] | None = None


def more_views(
    drawing: Drawing, sheet: Sheet, proposed: Sequence[Proposed], facts: Facts
) -> list[WantedView]:
    """What to place so that the gaps that proposed sizes leave can be closed, each view once."""
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *(p.annotation for p in proposed)]})
    sheets = [full if s.id == sheet.id else s for s in drawing.sheets]
    after = drawing.model_copy(update={"sheets": sheets})
    found = verdict(after, facts)
    main = next((v for v in sheet.views if v.kind == "main" and not v.is_pictorial), None)
    if found.why_not or not found.missing or main is None:
        return []
    m = np.array(facts.instances[0].matrix)[:3, :3]
    out: dict[str, WantedView] = {}
    for gap in gaps(found, drawing.profile, facing(main).matrix() @ m):
        made = _for_gap(gap, drawing, sheet, main, facts, m)
        out.setdefault(made.text, made)
    return list(out.values())


def _for_gap(gap: Gap, drawing: Drawing, sheet: Sheet, main: View, facts: Facts, m: Array) -> WantedView:
    views = [v for v in sheet.views if not v.is_pictorial and v.kind != "detail"]
    way = None if gap.way is None else m @ np.array(gap.way)
    if way is not None and not any(_shows(way, v, facts) for v in views):
        for relation in BESIDE:
            matrix = projected(main.orientation, relation, drawing.projection).matrix()
            if float(np.linalg.norm(matrix[:2] @ way)) > SQUARE:
                place = _beside(main, relation, matrix, sheet, facts, drawing.profile.view_gap)
                command = {
                    "command": "place_projected_view",
                    "id": new_id(),
                    "parent": main.id,
                    "relation": relation,
                    "position": {"x": place[0], "y": place[1]},
                }
                where = {"right": "at the right", "left": "at the left"}.get(relation, relation)
                return WantedView(f"A view {where} would show what is not given.", command)
        return WantedView("An auxiliary view, square to what slants, would show what is not given.")
    part = facts.parts[facts.instances[0].part]
    known = features(part)
    faces = [n for group in gap.groups for n in group]
    inside = known.holes_at(faces) or [n for n in known.others_at(faces) if known.others[n].kind == "pocket"]
    what = "A section" if inside else "Another view, a section or a detail"
    return WantedView(f"{what} would show it better: {gap.text[0].lower()}{gap.text[1:]}")


def _shows(way: Array, view: View, facts: Facts) -> bool:
    return float(np.linalg.norm(ViewFrame.of(view, facts).direction(way))) > SQUARE


def _extents(matrix: Array, facts: Facts) -> Array:
    """Half of what the model takes up in a direction, right and up, mm."""
    half = (np.array(facts.high) - np.array(facts.low)) / 2
    return np.asarray(np.abs(matrix[:2]) @ half)


def _beside(
    main: View, relation: Relation, matrix: Array, sheet: Sheet, facts: Facts, gap: float
) -> tuple[float, float]:
    """Where the view stands, level with the main one, room for sizes between them; sheet mm."""
    k = view_scale(sheet, main).factor
    mine, other = _extents(facing(main).matrix(), facts) * k, _extents(matrix, facts) * k
    dx, dy = {"right": (1, 0), "left": (-1, 0), "above": (0, 1), "below": (0, -1)}[relation]
    away = dx * (mine[0] + other[0] + gap), dy * (mine[1] + other[1] + gap)
    return round(main.position.x + float(away[0]), 3), round(main.position.y + float(away[1]), 3)
