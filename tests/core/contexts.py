"""A context for tests that have a frame of their own and need no sheet."""

from drafting.context import Context
from drafting.document import Drawing, Point, Sheet, View
from drafting.model.model import Facts
from drafting.standards.profile import ISO_MM, Profile
from drafting.views.frame import ViewFrame
from drafting.views.orientation import PRINCIPAL


def seen_in(
    facts: Facts, frame: ViewFrame, profile: Profile = ISO_MM, scale: float = 1.0, view: View | None = None
) -> Context:
    """A view named v on a sheet by itself, seen as the frame says."""
    shown = view or View(id="v", kind="main", orientation=PRINCIPAL["front"], position=Point(x=0, y=0))
    sheet = Sheet(id="s", size="A3", views=[shown])
    drawing = Drawing(name="x", profile=profile, projection=profile.projection, sheets=[sheet])
    out = Context(drawing, sheet, facts, shown)
    out.__dict__["frame"], out.__dict__["scale"] = frame, scale
    return out
