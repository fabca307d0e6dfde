"""The drawing as data: Drawing > Sheet > View and Dimension. Everything stored, sent and drawn is described here once.

Positions are sheet millimeters from the lower left corner, y up. Model lengths are millimeters.
"""

from typing import Annotated, Any, Literal, Self

from pydantic import Field, model_validator

from drafting.data import Coordinate, Data, Identifier, Point, Text, new_id
from drafting.sheet.template import FrameTemplate
from drafting.standards.profile import Profile
from drafting.standards.scales import Scale
from drafting.views.orientation import Projection
from drafting.views.view import View

__all__ = ["Coordinate", "Data", "Identifier", "Point", "Text", "View", "new_id"]


MOST_SHEETS = 200


class Source(Data):
    """An edge, one side (-1 or 1) of a cylinder's or cone's outline, or its axis (side 0 of a face), of a placed part."""

    instance: Text
    source: Text
    role: Literal["edge", "silhouette", "cut"] = "edge"
    side: Literal[-1, 0, 1] = 0


class Pick(Source):
    """What a size or center is attached to: a source, or a point of it.

    quadrant: the point of a circle that lies furthest right (0), up (1), left (2) or down (3) in the view; crossing: where the line meets
    the one of `other`, both lengthened if need be (a theoretical sharp corner).
    """

    point: Literal["", "start", "middle", "end", "center", "quadrant", "crossing"] = ""
    quarter: Literal[0, 1, 2, 3] = 0
    other: Source | None = None


class Placement(Data):
    """A place in a view that survives a change of scale: model mm within the view's extents, plus paper mm beyond them."""

    model: Point
    paper: Point

    def at(self, scale: float) -> tuple[float, float]:
        """Paper mm from the view's position."""
        return self.model.x * scale + self.paper.x, self.model.y * scale + self.paper.y


class Wording(Data):
    """What a size says besides its value. None and empty fields take the house style's.

    places: decimals of its number; fraction: inches in parts of one (0: decimals); count: 4 for "4×"; own: words in place of the value.
    """

    places: Annotated[int, Field(ge=0, le=6)] | None = None
    fraction: Literal[0, 2, 4, 8, 16, 32, 64] | None = None
    unit: Literal["", "mm", "in"] = ""
    angle_form: Literal["", "decimal", "minutes"] = ""
    dual: bool = False
    count: Annotated[int, Field(ge=1, le=9999)] = 1
    prefix: Annotated[str, Field(max_length=80)] = ""
    suffix: Annotated[str, Field(max_length=80)] = ""
    above: Annotated[str, Field(max_length=120)] = ""
    below: Annotated[str, Field(max_length=120)] = ""
    reference: bool = False
    basic: bool = False
    not_to_scale: bool = False
    inspection: bool = False
    own: Annotated[str, Field(max_length=120)] = ""


Deviation = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]


class Tolerance(Data):
    """How far a size may stray. upper and lower are deviations from the nominal, mm (radians for angles); class and mate are ISO 286
    classes such as H7 and, for a fit, g6. zero: whether a side that is nil is written; stacked: one above the other, else in line."""

    form: Literal["none", "equal", "unequal", "limits", "min", "max", "class"] = "none"
    upper: Deviation = 0.0
    lower: Deviation = 0.0
    stacked: bool = True
    zero: bool = True
    designation: Annotated[str, Field(max_length=8)] = ""
    mate: Annotated[str, Field(max_length=8)] = ""
    shown: Literal["class", "deviations", "both", "limits"] = "class"

    @model_validator(mode="after")
    def _sound(self) -> Self:
        if self.form == "equal" and self.upper <= 0:
            raise ValueError("an equal tolerance is a number above zero")
        if self.form in ("unequal", "limits") and self.upper <= self.lower:
            raise ValueError("the upper deviation must lie above the lower one")
        return self


class DimensionBase(Data):
    """A size. run: shared by the sizes of a chain, a baseline or an ordinate run; shift: of the number from the middle of its line, paper mm
    (None: centered); arrows: where they point from; breaks: whether its lines break where they cross others."""

    id: Identifier
    view: Identifier
    picks: Annotated[list[Pick], Field(min_length=1, max_length=3)]
    place: Placement
    wording: Wording = Wording()
    tolerance: Tolerance = Tolerance()
    run: Annotated[str, Field(max_length=64)] = ""
    run_form: Literal["", "chain", "baseline", "ordinate"] = ""
    shift: Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)] | None = None
    arrows: Literal["fit", "in", "out"] = "fit"
    breaks: bool = True

    @model_validator(mode="before")
    @classmethod
    def _places_of_old(cls, data: Any) -> Any:
        """Drawings kept before sizes had a wording hold their places by themselves."""
        if isinstance(data, dict) and "places" in data:
            data = dict(data)
            places = data.pop("places")
            if places is not None:
                data.setdefault("wording", {"places": places})
        return data


class LinearDimension(DimensionBase):
    """A length of an edge or a distance between two, along the aligned direction or a paper axis.

    reading: nearest or farthest points of circles; across: the diameter of a cylinder seen from the side; half: the same, or twice the
    distance from an axis, drawn on one side only; true: between points that the view shows foreshortened.
    """

    kind: Literal["linear"] = "linear"
    direction: Literal["aligned", "horizontal", "vertical"] = "aligned"
    reading: Literal["", "nearest", "farthest", "across", "half", "true"] = ""


class DiameterDimension(DimensionBase):
    """A diameter of a circle or an arc."""

    kind: Literal["diameter"] = "diameter"


class RadiusDimension(DimensionBase):
    """A radius of a circle or an arc. jogged: its center lies too far off to be shown."""

    kind: Literal["radius"] = "radius"
    jogged: bool = False


class AngleDimension(DimensionBase):
    """The angle between two lines (in one of its four sectors), at the second of three points, or of an arc."""

    kind: Literal["angle"] = "angle"
    sector: Literal[0, 1, 2, 3] = 0


class ArcLengthDimension(DimensionBase):
    """The length along an arc."""

    kind: Literal["arc_length"] = "arc_length"


class ChamferDimension(DimensionBase):
    """A chamfer by leg and angle. leg: which of its two legs is given."""

    kind: Literal["chamfer"] = "chamfer"
    leg: Literal[0, 1] = 0


class OrdinateDimension(DimensionBase):
    """The distance of the second pick from the first (the origin), along the paper's horizontal or vertical, without a dimension line."""

    kind: Literal["ordinate"] = "ordinate"
    direction: Literal["horizontal", "vertical"] = "horizontal"


class HoleTable(Data):
    """Holes of a view numbered, with their coordinates from an origin and their diameters in a table. picks: the origin, then the holes."""

    kind: Literal["hole_table"] = "hole_table"
    id: Identifier
    view: Identifier
    picks: Annotated[list[Pick], Field(min_length=2, max_length=400)]
    place: Placement
    """Upper left corner."""
    places: Annotated[int, Field(ge=0, le=6)] | None = None


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


class Balloon(Data):
    """An item number at the end of a leader. tip: the place pointed at, as fractions of the instance's box in the view, so that it stays on
    the part when the model changes; on: what lies there, which decides the leader's end; stacked: keys of further items on the same leader
    (a screw's washer and nut); place: of the balloon's middle."""

    kind: Literal["balloon"] = "balloon"
    id: Identifier
    view: Identifier
    instance: Text
    tip: Point
    on: Literal["edge", "face"] = "face"
    place: Placement
    stacked: Annotated[list[Text], Field(max_length=12)] = []
    stack: Literal["right", "down", "left", "up"] = "right"
    quantity: bool = False


Dimension = LinearDimension | DiameterDimension | RadiusDimension | AngleDimension | ArcLengthDimension | ChamferDimension | OrdinateDimension
AnyDimension = Annotated[Dimension, Field(discriminator="kind")]
Center = CenterMark | CenterLine | BoltCircle
Annotation = Annotated[Dimension | HoleTable | Balloon | CenterMark | CenterLine | BoltCircle, Field(discriminator="kind")]


class PartsColumn(Data):
    """A column of a parts list. field: what it says (see `parts_list.FIELDS`), or "own:" and the name of an own field; title and width (mm)
    None: the standard's."""

    field: Text
    title: Annotated[str, Field(max_length=60)] | None = None
    width: Annotated[float, Field(ge=5, le=300)] | None = None


class PartsList(Data):
    """A parts list on a sheet. columns empty: the standard's. attached: on the title block, else with its corner at position (the lower left
    where it grows up, the upper left where it grows down). most_rows: after so many it goes on in a further column of the sheet, up to
    blocks; rest_of: the list on an earlier sheet of which this one shows the rest."""

    id: Identifier
    columns: Annotated[list[PartsColumn], Field(max_length=20)] = []
    levels: Literal["top", "parts", "indented"] = "parts"
    sort: Literal["item", "number", "name"] = "item"
    attached: bool = True
    position: Point = Point(x=30, y=30)
    grow: Literal["up", "down"] = "up"
    totals: bool = False
    most_rows: Annotated[int, Field(ge=3, le=500)] | None = None
    blocks: Annotated[int, Field(ge=1, le=6)] = 1
    rest_of: Text = ""


class Item(Data):
    """An item number that a part keeps, and what the part was last called."""

    number: Annotated[int, Field(ge=1, le=99999)]
    name: Text = ""


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
    parts_lists: Annotated[list[PartsList], Field(max_length=8)] = []

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
    items: Annotated[dict[str, Item], Field(max_length=5000)] = {}
    """Item numbers by the key of the part or group."""
    cells: Annotated[dict[str, dict[str, Text]], Field(max_length=5000)] = {}
    """What parts lists of this drawing say in place of the model: by key, then by field."""

    def sheet(self, sheet_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.id == sheet_id), None)

    def views(self) -> list[View]:
        return [v for s in self.sheets for v in s.views]

    def sheet_of_view(self, view_id: str) -> Sheet | None:
        return next((s for s in self.sheets if s.view(view_id)), None)


def view_scale(sheet: Sheet, view: View) -> Scale:
    return view.scale or sheet.scale
