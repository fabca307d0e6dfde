"""A sheet as rules look at it: its ink by what it is, in sheet mm."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
import shapely
import shapely.affinity

from drafting.annotation import registry
from drafting.annotation.inking.dimension_ink import SizeInk
from drafting.annotation.kinds.kind import Drawn
from drafting.compose import outer_ink
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Sheet, View, view_scale
from drafting.errors import DraftingError
from drafting.ink.elements import Element, Group
from drafting.ink.shapes import text_boxes
from drafting.model.model import Facts
from drafting.views.extents import Box
from drafting.views.geometry import ViewGeometry, arc_points
from drafting.views.present import region_of


@dataclass(frozen=True)
class Letters:
    """A line of lettering: the annotation or view whose it is, its box, what it belongs to in words."""

    owner: str
    box: shapely.Polygon
    name: str


@dataclass(frozen=True)
class Sized:
    """A size with its ink about an origin, sheet mm."""

    size: Dimension
    ink: SizeInk
    origin: tuple[float, float]

    def dimension_line(self) -> shapely.LineString | None:
        """Its dimension line from end to end where that is straight."""
        pieces = self.ink.straight()
        if not pieces or not self.ink.lines:
            return None
        return shapely.LineString([p + np.array(self.origin) for p in pieces[0]])


@dataclass(frozen=True)
class Page:
    """A sheet and what it shows. groups: ink of its annotations by id; shown: what its views show, presented,
    by id; those that are not derived yet are missing."""

    drawing: Drawing
    sheet: Sheet
    facts: Facts
    groups: Drawn
    shown: Mapping[str, ViewGeometry]

    def context(self, a: AnnotationBase) -> Context:
        """Where an annotation lives."""
        return registry.context_of(self.drawing, self.sheet, a, self.facts)

    def called(self, a: AnnotationBase) -> str:
        """What an annotation is called within a sentence: its words, else its kind."""
        try:
            words = registry.text(a, self.context(a))
        except DraftingError:
            words = ""
        return words if words and len(words) < 40 else f"the {registry.name(a).lower()}"

    def starting(self, a: AnnotationBase) -> str:
        """The same at the start of a sentence."""
        name = self.called(a)
        return name[0].upper() + name[1:]

    @property
    def drawn(self) -> Iterator[tuple[AnnotationBase, Group]]:
        """The annotations that have ink."""
        for a in self.sheet.annotations:
            group = self.groups.get(a.id, "")
            if not isinstance(group, str):
                yield a, group

    @cached_property
    def sizes(self) -> list[Sized]:
        """The sizes that have ink."""
        return [
            Sized(a, g.size, g.origin)
            for a, g in self.drawn
            if isinstance(a, Dimension) and isinstance(g.size, SizeInk)
        ]

    @cached_property
    def letters(self) -> list[Letters]:
        """All lettering of annotations and of views' marks."""
        out = []
        for a, group in self.drawn:
            name = self.called(a)
            out += [Letters(a.id, box, name) for box in text_boxes(group.elements, group.origin, 0.0)]
        for view in self.sheet.views:
            at = (view.position.x, view.position.y)
            for key, elements in self.outer(view).items():
                name = "a view's label" if key == "label" else "a mark of a view"
                out += [Letters(f"{view.id}/{key}", box, name) for box in text_boxes(elements, at, 0.0)]
        return out

    def outer(self, view: View) -> dict[str, list[Element]]:
        """What stands at a view besides its lines, paper mm about its position."""
        return outer_ink(self.drawing, self.sheet, view, self.shown.get(view.id))

    @cached_property
    def outlines(self) -> list[tuple[str, shapely.LineString]]:
        """The visible lines of views that stand for edges, with their view's id."""
        out = []
        for view in self.sheet.views:
            geometry = self.shown.get(view.id)
            if geometry is None or view.is_pictorial:
                continue
            k, at = view_scale(self.sheet, view).factor, np.array([view.position.x, view.position.y])
            for c in geometry.curves:
                if c.visible and c.edge_class in ("sharp", "silhouette", "cut"):
                    points = arc_points(c)
                    if len(points) > 1:
                        out.append((view.id, shapely.LineString(points * k + at)))
        return out

    @cached_property
    def hatched(self) -> list[shapely.Geometry]:
        """The regions of views that a cut makes."""
        out = []
        for view in self.sheet.views:
            k, at = view_scale(self.sheet, view).factor, view.position
            for face in self.shown[view.id].cut_faces if view.id in self.shown else ():
                region = shapely.affinity.scale(region_of(face), k, k, origin=(0, 0))
                out.append(shapely.affinity.translate(region, at.x, at.y))
        return out

    def box_of(self, view: View) -> Box | None:
        """The box about a view's lines; None where it is not derived."""
        geometry = self.shown.get(view.id)
        if geometry is None:
            return None
        k, at = view_scale(self.sheet, view).factor, view.position
        low, high = geometry.low, geometry.high
        return low[0] * k + at.x, low[1] * k + at.y, high[0] * k + at.x, high[1] * k + at.y
