"""A view as data: what it shows and where it stands. Everything its geometry depends on can be told from the
view alone.

What a view takes over from its parent (a section's direction, a detail's cuts) is copied into it and brought
up to date by `drafting.views.family` after every command, so that no reading of a view has to walk the sheet.
"""

from typing import Annotated, Literal

from pydantic import Field

from drafting.data import Coordinate, Data, Identifier, Length, Point, Text, new_id
from drafting.standards.scales import Scale
from drafting.views.orientation import Orientation, Relation

ViewKind = Literal["main", "projected", "pictorial", "section", "auxiliary", "detail"]
Points = Annotated[list[Point], Field(min_length=2, max_length=60)]
Outline = Annotated[list[Point], Field(min_length=3, max_length=400)]


class CuttingLine(Data):
    """The line of a section in its parent's plane, view mm at 1:1. viewer: 1 where he stands left of its
    first leg, -1 right.

    base: the parent's direction. form: straight (full and stepped sections), aligned (bent), half.
    """

    points: Points
    form: Literal["straight", "aligned", "half"] = "straight"
    viewer: Literal[-1, 1] = 1
    base: Orientation
    shown: bool = True


class Section(Data):
    """only_cut: nothing behind the cut. whole: instances left whole whatever their kind; cut: instances cut
    whatever their kind."""

    line: CuttingLine
    only_cut: bool = False
    whole: list[Text] = []
    cut: list[Text] = []


class BrokenOut(Data):
    """A broken-out place: closed outline in the view's plane (view mm) and the depth of its floor, mm toward
    the viewer from the model's middle."""

    id: Identifier = Field(default_factory=new_id)
    outline: Outline
    depth: Coordinate


class DetailOutline(Data):
    """What a detail shows of its parent, view mm. center is the origin of the detail's own coordinates;
    pictorial: the parent is."""

    shape: Literal["circle", "rectangle", "free"]
    center: Point
    radius: Length = 10.0
    width: Length = 20.0
    height: Length = 20.0
    points: list[Point] = Field(default=[], max_length=400)
    border: bool = True
    jagged: bool = False
    leader: bool = True
    pictorial: bool = False


class Auxiliary(Data):
    """The line an auxiliary view is square to: direction and middle in its parent's plane, the viewer's side,
    and the one face it shows (or all)."""

    along: Point
    at: Point = Point(x=0, y=0)
    viewer: Literal[-1, 1] = 1
    base: Orientation
    instance: Text = ""
    face: Text = ""
    only_face: bool = False


class Interruption(Data):
    """A piece left out of a long view, from first to last in view mm across the breaks."""

    across: Literal["horizontal", "vertical"] = "horizontal"
    first: Coordinate
    last: Coordinate
    line: Literal["freehand", "zigzag", "round", "tube"] = "freehand"
    gap: Length = 4.0


class LineChange(Data):
    """One edge of a view, or the part of it between two fractions of its length, drawn in another kind of
    line or not at all."""

    instance: Text
    source: Text
    role: Literal["edge", "silhouette", "cut"] = "edge"
    line: Literal["none", "visible", "hidden", "tangent", "center", "dimension"]
    first: Annotated[float, Field(ge=0, le=1)] = 0.0
    last: Annotated[float, Field(ge=0, le=1)] = 1.0


class RegionHatch(Data):
    """Hatching of the closed region of a view around a point (view mm)."""

    id: Identifier = Field(default_factory=new_id)
    at: Point
    pattern: Text = "general"
    angle: Coordinate = 0.0
    spacing: Length = 1.0


class LeftWhole(Data):
    """A rib or web that the section is taken not to cut: inside the outline (view mm) nothing is hatched, and
    its sides are drawn."""

    id: Identifier = Field(default_factory=new_id)
    outline: Outline


class Label(Data):
    """shown None leaves it to the kind; text empty takes the standard's wording."""

    shown: bool | None = None
    text: Text = ""


class View(Data):
    """A view on a sheet. position is where the middle of the model lies (of the outline, for a detail); scale
    None means the sheet's.

    fold: the direction (on paper, of the parent's drawing) in which the view stays level with its parent;
    None where it stands free. turned: degrees counterclockwise. distance: of the eye from the model's middle,
    mm, for perspective.
    """

    id: Identifier
    kind: ViewKind
    orientation: Orientation
    position: Point
    parent: Identifier | None = None
    relation: Relation | None = None
    fold: Point | None = None
    free: bool = False
    scale: Scale | None = None
    hidden_lines: bool = True
    tangent_edges: bool = False
    tangent_thin: bool = True
    threads: bool = True
    centers: bool = True
    turned: Coordinate = 0.0
    distance: Length | None = None
    shading: Literal["lines", "shaded", "shaded_edges"] = "lines"
    letter: Annotated[str, Field(max_length=4)] = ""
    label: Label = Label()
    without: list[Text] = []
    exploded: Text = ""
    """Name of the exploded state it shows; empty for the parts in their places."""
    trails_off: Annotated[list[Text], Field(max_length=2000)] = []
    """Parts whose trail line is left out."""
    trail_shifts: Annotated[dict[Text, Point], Field(max_length=2000)] = {}
    """How far a part's trail line runs beside its own line, mm at 1:1 in the view's plane; jogs join it to
    the part."""
    no_hidden: list[Text] = []
    """Parts whose hidden lines are left out."""
    transparent: list[Text] = []
    """Parts that a shaded view is seen through."""
    section: Section | None = None
    broken_out: Annotated[list[BrokenOut], Field(max_length=20)] = []
    auxiliary: Auxiliary | None = None
    detail: DetailOutline | None = None
    interruptions: Annotated[list[Interruption], Field(max_length=12)] = []
    lines: Annotated[list[LineChange], Field(max_length=2000)] = []
    hatches: Annotated[list[RegionHatch], Field(max_length=500)] = []
    left_whole: Annotated[list[LeftWhole], Field(max_length=50)] = []
    hatch_pattern: Text = ""
    """Pattern of a section; empty takes each part's by its material."""

    @property
    def is_pictorial(self) -> bool:
        """Whether no face is meant to be seen squarely, so that sizes stand along the model's axes, not the
        paper's."""
        return self.kind == "pictorial" or (self.detail is not None and self.detail.pictorial)
