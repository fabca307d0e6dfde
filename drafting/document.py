"""The drawing as data: Drawing > Sheet > View and Dimension. Everything stored, sent and drawn is described here once.

Positions are sheet millimeters from the lower left corner, y up. Model lengths are millimeters.
"""

from typing import Annotated, Literal

from pydantic import Field

from drafting.data import Coordinate, Data, Identifier, Point, Text, new_id
from drafting.sheet.template import FrameTemplate
from drafting.standards.profile import Profile
from drafting.standards.scales import Scale
from drafting.views.orientation import Projection
from drafting.views.view import View

__all__ = ["Coordinate", "Data", "Identifier", "Point", "Text", "View", "new_id"]


MOST_SHEETS = 200


class Pick(Data):
    """What a size or center is attached to: an edge, one side (-1 or 1) of a cylinder's or cone's outline, its axis (side 0 of a face), or
    a point of an edge, of a placed part."""

    instance: Text
    source: Text
    role: Literal["edge", "silhouette", "cut"] = "edge"
    side: Literal[-1, 0, 1] = 0
    point: Literal["", "start", "middle", "end", "center"] = ""


class Placement(Data):
    """A place in a view that survives a change of scale: model mm within the view's extents, plus paper mm beyond them."""

    model: Point
    paper: Point

    def at(self, scale: float) -> tuple[float, float]:
        """Paper mm from the view's position."""
        return self.model.x * scale + self.paper.x, self.model.y * scale + self.paper.y


class DimensionBase(Data):
    id: Identifier
    view: Identifier
    picks: Annotated[list[Pick], Field(min_length=1, max_length=2)]
    place: Placement
    places: Annotated[int, Field(ge=0, le=6)] | None = None
    """Decimal places of this size; None takes the house style's."""


class LinearDimension(DimensionBase):
    """A length of an edge or a distance between two, along the aligned direction or a paper axis."""

    kind: Literal["linear"] = "linear"
    direction: Literal["aligned", "horizontal", "vertical"] = "aligned"


class DiameterDimension(DimensionBase):
    """A diameter of a circle or an arc."""

    kind: Literal["diameter"] = "diameter"


Past = Annotated[float, Field(ge=-50, le=200)]


class CenterBase(Data):
    """A center in a view. past: how far each end reaches past the outline, paper mm; None takes the house style's."""

    id: Identifier
    view: Identifier
    picks: Annotated[list[Pick], Field(max_length=400)] = []
    past: Annotated[list[Past | None], Field(max_length=4)] = []


class CenterMark(CenterBase):
    """A cross on a circle or arc; of several, rows and columns of circles share their lines. Ends: right, up, left, down."""

    kind: Literal["center_mark"] = "center_mark"


class CenterLine(CenterBase):
    """The axis of cylinders and cones (picks are faces, all on one axis), the line midway between two parallel edges, the line through two
    points, or without picks a symmetry axis of the view. Ends: from and to along it."""

    kind: Literal["center_line"] = "center_line"
    axis: Literal["", "horizontal", "vertical"] = ""


class BoltCircle(CenterBase):
    """The circle through the centers of three or more holes, with its own center marked and a radial mark at each hole; an arc where the
    holes are on one side. Ends: those of the arc."""

    kind: Literal["bolt_circle"] = "bolt_circle"


Dimension = LinearDimension | DiameterDimension
Center = CenterMark | CenterLine | BoltCircle
Annotation = Annotated[LinearDimension | DiameterDimension | CenterMark | CenterLine | BoltCircle, Field(discriminator="kind")]


class Sheet(Data):
    id: Identifier
    name: Text = ""
    size: str
    landscape: bool = True
    scale: Scale = Scale()
    subject: Text = ""
    """Path of the instance whose part the sheet is about, for its title block; empty for the whole model."""
    grid: Annotated[float, Field(gt=0, le=100)] | None = None
    """Spacing, mm, of the grid that things snap to; None for no grid. Never printed."""
    frame: FrameTemplate | None = None
    """Border and title block; None takes the built-in one of the sheet size's standard."""
    views: list[View] = []
    annotations: list[Annotation] = []

    def view(self, view_id: str) -> View | None:
        return next((v for v in self.views if v.id == view_id), None)


class Fields(Data):
    """Title block fields the drafter fills in. Empty title, number and material are taken from the model."""

    title: Text = ""
    number: Text = ""
    material: Text = ""
    owner: Text = ""
    drawn_by: Text = ""
    date: Text = ""
    revision: Text = ""
    finish: Text = ""
    tolerance: Text = ""
    checked_by: Text = ""
    checked_date: Text = ""
    approved_by: Text = ""
    approved_date: Text = ""


class Drawing(Data):
    """A drawing of one model. profile, logo and notes are the house style's as they were when the drawing took them."""

    name: Text
    style: Text = ""
    """Id of the house style it was started from; empty for a built-in one."""
    profile: Profile
    logo: Annotated[str, Field(max_length=700_000)] = ""
    """PNG, base64."""
    notes: Annotated[list[Text], Field(max_length=40)] = []
    """General notes, in order."""
    projection: Projection
    fields: Fields = Fields()
    sheets: Annotated[list[Sheet], Field(min_length=1, max_length=MOST_SHEETS)]
    patterns: Annotated[dict[str, str], Field(max_length=200)] = {}
    """Hatch patterns brought in from a `.pat` file, by name, each as its lines of text."""

    def sheet(self, sheet_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.id == sheet_id), None)

    def views(self) -> list[View]:
        return [v for s in self.sheets for v in s.views]

    def sheet_of_view(self, view_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.view(view_id)), None)


def view_scale(sheet: Sheet, view: View) -> Scale:
    return view.scale or sheet.scale
