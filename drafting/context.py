"""Where an annotation lives: the drawing, its sheet and view, and the model's facts, with what follows from
them.

Everything that measures, letters, inks or proposes an annotation gets one context in place of its parts.
"""

from collections.abc import Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from drafting.data import Point
from drafting.document import AnnotationBase, Drawing, Sheet, View, view_scale
from drafting.errors import SizeError
from drafting.memory import digest
from drafting.model.model import Facts
from drafting.standards.profile import Profile
from drafting.views.frame import ViewFrame

PAPER = ViewFrame(np.eye(3), np.zeros(3), False)


@dataclass(frozen=True)
class Context:
    """A place on a drawing; view None for what hangs on the sheet alone."""

    drawing: Drawing
    sheet: Sheet
    facts: Facts
    view: View | None = None
    is_bare: bool = False
    """Whether it is of what stands on the sheet itself, whose plane is the paper."""

    @staticmethod
    def of_view(drawing: Drawing, view_id: str, facts: Facts) -> "Context":
        """The context of a view, whatever sheet it is on. Raises SizeError where the drawing has it no
        more."""
        sheet = drawing.sheet_of_view(view_id)
        view = sheet.view(view_id) if sheet else None
        if sheet is None or view is None:
            raise SizeError("That view is no longer in the drawing.")
        return Context(drawing, sheet, facts, view)

    @property
    def profile(self) -> Profile:
        """The drawing's rules of lettering, lines and numbers."""
        return self.drawing.profile

    @cached_property
    def scale(self) -> float:
        """Paper mm for one mm of the view's model; 1 on the sheet itself."""
        return view_scale(self.sheet, self.view).factor if self.view else 1.0

    @cached_property
    def frame(self) -> ViewFrame:
        """From the model to the view's plane; on the sheet itself, places of the paper. Raises SizeError
        where the view is gone."""
        if self.is_bare:
            return PAPER
        if self.view is None:
            raise SizeError("Its view is no longer on the sheet.")
        return ViewFrame.of(self.view, self.facts, self.scale)

    @property
    def origin(self) -> tuple[float, float]:
        """Where the view's position, or the sheet's corner, lies on the sheet, mm."""
        return (self.view.position.x, self.view.position.y) if self.view else (0.0, 0.0)

    @property
    def view_id(self) -> str:
        """The view's id; empty on the sheet itself."""
        return self.view.id if self.view else ""

    @cached_property
    def seen(self) -> bytes:
        """Names all that the ink and the words of a size in the view depend on besides the size and the
        model."""
        profile = self.profile.model_dump_json()
        if self.view is None:
            return digest(profile)
        view = self.view.model_copy(update={"position": Point(x=0, y=0)})
        return digest(str(view_scale(self.sheet, self.view)), profile, view.model_dump_json())

    def of_annotations(self, *kinds: str) -> Iterator[tuple[AnnotationBase, "Context"]]:
        """The drawing's annotations that are in views, of these kinds or of all, each with its context."""
        for sheet in self.drawing.sheets:
            for a in sheet.annotations:
                if (not kinds or a.kind in kinds) and (view := sheet.view_of(a)) is not None:
                    yield a, self._home(sheet, view)

    @cached_property
    def _homes(self) -> dict[str, "Context"]:
        return {}

    def _home(self, sheet: Sheet, view: View) -> "Context":
        """The context of a view, one for all that ask."""
        if self.sheet is sheet and self.view is view:
            return self
        known = self._homes.get(view.id)
        if known is None or known.sheet is not sheet or known.view is not view:
            known = self._homes[view.id] = Context(self.drawing, sheet, self.facts, view)
        return known
