"""What a view draws of a part's edges, outlines and axes: sizes are taken on nothing else."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from drafting.annotation.kinds.centers import Center
from drafting.annotation.kinds.linear import LinearDimension
from drafting.annotation.measuring.picked_features import faces_at
from drafting.annotation.proposing.mate_sizes import shown_in
from drafting.annotation.registry import value
from drafting.completeness.surfaces import Array
from drafting.context import Context
from drafting.document import AnnotationBase, Pick, view_scale
from drafting.errors import DraftingError
from drafting.model.model import FaceFact, PartFacts
from drafting.views.geometry import ViewGeometry

SEEN = 2.0
"""How well what is not hidden is seen, at least."""
SMALL = 1.5
"""Between lines on paper, mm: closer ones do not read apart where a size stands on them. Twice the least
space of ISO 128-2 (common practice)."""
NEAR = 1e-4


@dataclass(frozen=True)
class LinesShown:
    """scores: how well edges and faces are drawn, by instance and name: from 2 where they are seen, from 1
    where hidden lines are drawn; axes: places and directions of the center lines, in the part's frame."""

    scores: Mapping[tuple[str, str], float]
    axes: Sequence[tuple[Array, Array]]
    context: Context

    @staticmethod
    def of(context: Context, geometry: ViewGeometry) -> "LinesShown":
        """Of a view of a part."""
        assert context.view is not None
        scores = shown_in(geometry)
        if not context.view.hidden_lines:
            scores = {key: score for key, score in scores.items() if score >= SEEN}
        axes = []
        instance = context.facts.instances[0]
        part = context.facts.parts[instance.part]
        if context.view.section or context.view.broken_out:
            scores |= _corners(scores, instance.path, part)
        for a in context.sheet.annotations:
            if isinstance(a, Center) and context.sheet.view_of(a) is context.view:
                faces = [part.face(n) for p in a.picks for n in faces_at(p, part)]
                axes += [(np.array(f.origin), np.array(f.axis)) for f in faces if f and f.kind != "plane"]
        return LinesShown(scores, axes, context)

    def has_all(self, a: AnnotationBase) -> bool:
        """Whether all is drawn that something is taken on."""
        return all(self.has(p) for p in getattr(a.anchor, "picks", ()))

    def has(self, pick: Pick) -> bool:
        """Whether what was picked is drawn: a line of its own, or an axis with a center line."""
        if (pick.instance, pick.source) in self.scores:
            return True
        if pick.role != "silhouette" and pick.point != "center":
            return False
        found = self.context.facts.part_of(pick.instance)
        faces = [found[1].face(n) for n in faces_at(pick, found[1])] if found else []
        return any(self._is_marked(f) for f in faces if f is not None and f.kind != "plane")

    def _is_marked(self, face: FaceFact) -> bool:
        at, axis = np.array(face.origin), np.array(face.axis)
        return any(
            float(np.linalg.norm(np.cross(u, axis))) < NEAR
            and float(np.linalg.norm(np.cross(at - p, u))) < NEAR
            for p, u in self.axes
        )

    def is_hidden(self, a: AnnotationBase) -> bool:
        """Whether one of the lines that something is taken on is drawn hidden."""
        lines = [p for p in getattr(a.anchor, "picks", ()) if p.role != "silhouette" or p.side]
        return any(self.scores.get((p.instance, p.source), SEEN) < SEEN for p in lines)

    def is_oblique(self, a: AnnotationBase) -> bool:
        """Whether one of the circles that something is taken on is seen at a slant."""
        for p in getattr(a.anchor, "picks", ()):
            found = self.context.facts.part_of(p.instance)
            edge = found[1].edge(p.source) if found else None
            if found is None or edge is None or edge.kind != "circle" or edge.axis is None:
                continue
            turn = np.array(self.context.frame.placed(found[0], edge.middle))[:3, :3]
            if NEAR < abs(float(self.context.frame.matrix[2] @ turn @ np.array(edge.axis))) < 1 - NEAR:
                return True
        return False


def _corners(
    scores: Mapping[tuple[str, str], float], path: str, part: PartFacts
) -> dict[tuple[str, str], float]:
    """Edges that a section draws as the corner of two faces that it cuts."""
    out: dict[tuple[str, str], float] = {}
    for e in part.edges:
        cut = [max(scores.get((path, n), 0.0), scores.get((path, f"{n}|"), 0.0)) for n in e.faces]
        if len(cut) == 2 and min(cut):
            out[path, e.name] = max(min(cut), scores.get((path, e.name), 0.0))
    return out


def is_small(a: AnnotationBase, context: Context, factor: float) -> bool:
    """Whether the two lines of a length lie too near to each other to be read apart. factor: paper over
    model."""
    if not isinstance(a, LinearDimension) or len(a.picks) != 2:
        return False
    try:
        return value(a, context) * factor < SMALL
    except DraftingError:
        return False


def parent_factor(context: Context) -> float:
    """Paper over model of the view that a detail is taken from; its own where that is not known."""
    view, sheet = context.view, context.sheet
    home = context.drawing.sheet_of_view(view.parent) if view and view.parent else None
    parent = home.view(view.parent) if home and view and view.parent else None
    if home is None or parent is None:
        return view_scale(sheet, view).factor if view else 1.0
    return view_scale(home, parent).factor
