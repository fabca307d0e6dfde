"""Views that hang together: what a view's geometry depends on, and what it takes over from its parent."""

import math
from collections.abc import Collection

import numpy as np
from numpy.typing import NDArray

from drafting.data import Point
from drafting.document import Drawing
from drafting.model.exploded import moves
from drafting.model.model import ExplodedState, Facts
from drafting.views.derivation import Derivation, SaidThread
from drafting.views.orientation import Orientation, projected, rotate
from drafting.views.section import across, broken_out, legs_of, perpendicular, section_cuts, section_legs
from drafting.views.trail_lines import trail_paths
from drafting.views.uncut import left_whole
from drafting.views.view import View

Floats = NDArray[np.float64]


def facing(view: View) -> Orientation:
    """The direction a view is drawn in, with its own turn."""
    return rotate(view.orientation, "toward", -view.turned) if view.turned else view.orientation


def exploded_state(view: View, facts: Facts) -> ExplodedState | None:
    """The state an exploded view shows; None where it shows none, or one that the assembly has no more."""
    return next((s for s in facts.exploded if s.name == view.exploded), None) if view.exploded else None


def exploded_moves(view: View, facts: Facts) -> dict[str, list[float]]:
    """How far parts are moved in a view, model mm."""
    state = exploded_state(view, facts)
    return moves(state) if state else {}


def model_middle(facts: Facts) -> Floats:
    """Middle of the model's box (3,), mm."""
    return np.asarray((np.array(facts.low) + np.array(facts.high)) / 2)


def derivation_of(view: View, facts: Facts) -> Derivation:
    """What the view's geometry depends on. Raises CommandError for a cutting line or outline that makes no
    section."""
    middle, reach = model_middle(facts), 3 * (math.dist(facts.low, facts.high) or 1.0)
    out = Derivation(
        orientation=facing(view),
        distance=view.distance,
        without=sorted(view.without),
        shaded=view.shading != "lines",
        moves=exploded_moves(view, facts),
        threads=[
            SaidThread(part=key, thread=t)
            for key, part in facts.parts.items()
            for t in part.threads
            if t.said
        ],
    )
    if out.shaded:
        out.clear = sorted(view.transparent)
    state = exploded_state(view, facts)
    if state:
        o = out.orientation
        shifts = {
            path: p.x * np.array(o.right) + p.y * np.array(o.up) for path, p in view.trail_shifts.items()
        }
        out.trails = trail_paths(state, facts, shifts)
    normals: list[Floats] = []
    if view.section:
        line = view.section.line
        points = [(p.x, p.y) for p in line.points]
        rows = line.base.matrix()
        d = legs_of(points)
        if line.form == "aligned":
            out.legs = section_legs(points, line.viewer, line.base, middle, reach)
            normals = [rows[:2].T @ perpendicular(leg) for leg in d]
        else:
            out.cuts = section_cuts(points, line.form, line.viewer, line.base, middle, reach)
            normals = [rows[:2].T @ perpendicular(d[0])]
        out.only_cut = view.section.only_cut
        out.steps = view.kind == "pictorial"
    for place in view.broken_out:
        out.cuts.append(
            broken_out([(p.x, p.y) for p in place.outline], place.depth, view.orientation, middle, reach)
        )
        normals.append(np.array(view.orientation.toward))
    if out.is_cut:
        marked, cut = (view.section.whole, view.section.cut) if view.section else ([], [])
        out.whole = sorted({*left_whole(facts, normals), *marked} - set(cut))
    return out


def children(drawing: Drawing, view_id: str) -> list[View]:
    """Views that stand in a relation to a view, on any sheet."""
    return [v for v in drawing.views() if v.parent == view_id]


def refresh(drawing: Drawing, only: Collection[str] | None = None) -> None:
    """Bring views up to date with their parents: directions of projected views, cutting lines' base, what
    details and cut pictorials show. only: ids of the views that may be changed; None for all."""
    known = {v.id: v for v in drawing.views()}
    done: set[str] = set()

    def visit(view: View) -> None:
        if view.id in done or (only is not None and view.id not in only):
            return
        done.add(view.id)
        parent = known.get(view.parent or "")
        if parent is None:
            return
        visit(parent)
        if view.kind == "detail":
            view.orientation, view.turned, view.section, view.broken_out = (
                parent.orientation,
                parent.turned,
                parent.section,
                parent.broken_out,
            )
            view.without, view.distance, view.exploded = parent.without, parent.distance, parent.exploded
            view.no_hidden, view.transparent = parent.no_hidden, parent.transparent
            view.trails_off, view.trail_shifts = parent.trails_off, parent.trail_shifts
            if view.detail:
                view.detail.pictorial = parent.is_pictorial
        elif view.kind == "section" and view.section:
            line = view.section.line
            line.base = facing(parent)
            view.fold, view.orientation = _folded(
                line.points[0], line.points[1], line.viewer, line.base, drawing
            )
        elif view.kind == "auxiliary" and view.auxiliary:
            a = view.auxiliary
            a.base = facing(parent)
            view.fold, view.orientation = _folded(Point(x=0, y=0), a.along, a.viewer, a.base, drawing)
        elif view.relation:
            view.orientation = projected(parent.orientation, view.relation, drawing.projection)
            if view.kind == "pictorial":
                view.section = parent.section

    for view in known.values():
        visit(view)


def _folded(
    a: Point, b: Point, viewer: int, base: Orientation, drawing: Drawing
) -> tuple[Point, Orientation]:
    d = legs_of([(a.x, a.y), (b.x, b.y)])[0]
    along = (float(d[0]), float(d[1]))
    return Point(x=along[0], y=along[1]), across(base, along, viewer, drawing.projection)


def used_letters(drawing: Drawing) -> set[str]:
    """The letters that views have."""
    return {v.letter for v in drawing.views() if v.letter}


def next_letter(drawing: Drawing) -> str:
    """The next free letter: A to Z without those taken for numbers or for each other, then AA, BB and so on.

    ISO leaves out I, O and Q (I and O: ISO 5457; Q: common practice); ASME Y14.3 (memory) I, O, Q, S, X and
    Z.
    """
    avoided = "IOQSXZ" if drawing.profile.standard == "ASME" else "IOQ"
    letters = [c for c in "ABCDEFGHIJKLMNOPQRSTUVWXYZ" if c not in avoided]
    used = used_letters(drawing)
    for count in (1, 2, 3, 4):
        for letter in letters:
            if letter * count not in used:
                return letter * count
    return "A"
