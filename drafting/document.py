"""The drawing as data: Drawing > Sheet > View and Annotation. What the kinds of annotation hold besides their
base is in `drafting.annotation.kinds`, a module each; nothing above this one is imported here. A `Sheet` can
be made once `drafting.annotation.registry` is imported, which tells it the kinds; commands, composing and
storing do so.

Positions are sheet millimeters from the lower left corner, y up. Model lengths are millimeters.
"""

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, Self

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
    """An edge, one side (-1 or 1) of a cylinder's or cone's outline, or its axis (side 0 of a face), of a
    placed part; or an added line or a line of an underlay of the view (role "added" or "underlay", no
    instance): the id, and after # the number of the line."""

    instance: Text
    source: Text
    role: Literal["edge", "silhouette", "cut", "added", "underlay"] = "edge"
    side: Literal[-1, 0, 1] = 0


class Pick(Source):
    """What a size or center is attached to: a source, or a point of it.

    quadrant: the point of a circle that lies furthest right (0), up (1), left (2) or down (3) in the view;
    crossing: where the line meets the one of `other`, both lengthened if need be (a theoretical sharp
    corner).
    """

    point: Literal["", "start", "middle", "end", "center", "quadrant", "crossing"] = ""
    quarter: Literal[0, 1, 2, 3] = 0
    other: Source | None = None


class Placement(Data):
    """A place in a view that survives a change of scale: model mm within the view's extents, plus paper mm
    beyond them."""

    model: Point
    paper: Point

    def at(self, scale: float) -> tuple[float, float]:
        """Paper mm from the view's position."""
        return self.model.x * scale + self.paper.x, self.model.y * scale + self.paper.y


class Wording(Data):
    """What a size says besides its value. None and empty fields take the house style's.

    places: decimals of its number; fraction: inches in parts of one (0: decimals); count: 4 for "4×"; own:
    words in place of the value; envelope: whether a perfect form of maximum material bounds it (ISO Ⓔ), or
    nothing but the size does where that would (ASME Ⓘ).
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
    envelope: Literal["", "E", "I"] = ""
    own: Annotated[str, Field(max_length=120)] = ""


Deviation = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]


class Tolerance(Data):
    """How far a size may stray. upper and lower are deviations from the nominal, mm (radians for angles);
    class and mate are ISO 286 classes such as H7 and, for a fit, g6. zero: whether a side that is nil is
    written; stacked: one above the other, else in line."""

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


MOST_PICKS = 6000
"""Of one annotation: the centers of all holes of a screen are one."""


class InView(Data):
    """Hangs in a view. picks: what of the model it is taken on."""

    on: Literal["view"] = "view"
    view: Identifier
    picks: Annotated[list[Pick], Field(max_length=MOST_PICKS)] = []


class OnAnnotation(Data):
    """Hangs on another annotation and goes where that one goes: a frame on a size, a datum on a frame."""

    on: Literal["annotation"] = "annotation"
    annotation: Identifier


class OnSheet(Data):
    """Stands on the sheet by itself. picks: what it is taken on of added lines and underlays there."""

    on: Literal["sheet"] = "sheet"
    picks: Annotated[list[Pick], Field(max_length=MOST_PICKS)] = []


Anchor = Annotated[InView | OnAnnotation | OnSheet, Field(discriminator="on")]


class AnnotationBase(Data):
    """What all kinds of annotation have. `view` and `picks` may be given in place of an anchor in a view."""

    kind: str
    id: Identifier
    anchor: Anchor

    picks_taken: ClassVar[tuple[int, int]] = (0, 0)
    """Fewest and most things of the model that a kind is taken on."""
    refers_by: ClassVar[tuple[str, ...]] = ()
    """Fields that hold the id of another thing of the sheet."""

    @model_validator(mode="before")
    @classmethod
    def _anchored(cls, data: Any) -> Any:
        if isinstance(data, dict) and "anchor" not in data:
            data = dict(data)
            if "view" in data:
                data["anchor"] = {"on": "view", "view": data.pop("view"), "picks": data.pop("picks", [])}
            elif cls.picks_taken == (0, 0):
                data["anchor"] = {"on": "sheet"}
        return data

    @model_validator(mode="after")
    def _picks_counted(self) -> Self:
        least, most = self.picks_taken
        if not least <= len(self.picks) <= most:
            wanted = f"{least}" if least == most else f"{least} to {most}"
            raise ValueError(
                f"a {self.kind.replace('_', ' ')} is taken on {wanted} "
                f"things of the model, not {len(self.picks)}"
            )
        return self

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """A copy with fields set. Raises TypeError for a name that is not a field: it would be lost in
        silence."""
        wrong = set(update or ()) - set(type(self).model_fields)
        if wrong:
            raise TypeError(f"{', '.join(sorted(wrong))}: not a field of {type(self).__name__}")
        return super().model_copy(update=update, deep=deep)

    @property
    def view(self) -> str:
        """Id of the view it hangs in; empty where it hangs in none."""
        return self.anchor.view if isinstance(self.anchor, InView) else ""

    @property
    def picks(self) -> list[Pick]:
        """What of the model it is taken on."""
        return [] if isinstance(self.anchor, OnAnnotation) else self.anchor.picks

    def copied(self, ids: Mapping[str, str]) -> Self:
        """A copy for a copied sheet: ids of views, annotations and runs are replaced by those given for
        them."""
        anchor: InView | OnAnnotation | OnSheet = self.anchor
        if isinstance(anchor, InView):
            anchor = anchor.model_copy(update={"view": ids.get(anchor.view, anchor.view)})
        elif isinstance(anchor, OnAnnotation):
            anchor = OnAnnotation(annotation=ids.get(anchor.annotation, anchor.annotation))
        more = {name: ids.get(getattr(self, name), getattr(self, name)) for name in self.refers_by}
        made = self.model_copy(update={"id": ids[self.id], "anchor": anchor, **more})
        data = made.model_dump(mode="json")
        return type(self).model_validate(data) if _follow_added(data, ids) else made

    def with_picks(self, picks: list[Pick], **update: Any) -> Self:
        """The same on other things of its view, with further fields changed."""
        return self.model_copy(update={"anchor": anchored(self.view, picks), **update})


def _follow_added(data: Any, ids: Mapping[str, str]) -> bool:
    """Let what refers to an added line, an underlay or a size refer to its copy; whether anything does."""
    found = False
    if isinstance(data, dict):
        if data.get("role") in ("added", "underlay", "size"):
            name, sign, part = str(data.get("source", "")).partition("#")
            data["source"] = ids.get(name, name) + sign + part
            found = True
        data = list(data.values())
    if isinstance(data, list):
        for value in data:
            found = _follow_added(value, ids) or found
    return found


def in_view(view: str, picks: Sequence[Pick] = ()) -> InView:
    """An anchor in a view."""
    return InView(view=view, picks=list(picks))


def anchored(view: str, picks: Sequence[Pick] = ()) -> InView | OnSheet:
    """An anchor in a view, or on the sheet itself where the view is empty."""
    return in_view(view, picks) if view else OnSheet(picks=list(picks))


class Dimension(AnnotationBase):
    """A size. run: shared by the sizes of a chain, a baseline or an ordinate run; shift: of the number from
    the middle of its line, paper mm (None: centered); arrows: where they point from; breaks: whether its
    lines break where they cross others."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 3)
    refers_by: ClassVar[tuple[str, ...]] = ("run",)
    place: Placement
    wording: Wording = Wording()
    tolerance: Tolerance = Tolerance()
    run: Annotated[str, Field(max_length=64)] = ""
    run_form: Literal["", "chain", "baseline", "ordinate"] = ""
    shift: Annotated[float, Field(ge=-2000, le=2000, allow_inf_nan=False)] | None = None
    arrows: Literal["fit", "in", "out"] = "fit"
    breaks: bool = True


if TYPE_CHECKING:
    Annotation = AnnotationBase
    """Any registered kind, told apart by its `kind` (see `drafting.annotation.registry`)."""


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
    annotations: list["Annotation"] = []

    def view(self, view_id: str) -> View | None:
        """The view of an id; None where the sheet has none."""
        return next((v for v in self.views if v.id == view_id), None)

    def annotation(self, annotation_id: str) -> "Annotation | None":
        """The annotation of an id; None where the sheet has none."""
        return next((a for a in self.annotations if a.id == annotation_id), None)

    def view_of(self, annotation: "AnnotationBase") -> View | None:
        """The view an annotation hangs in, itself or what it hangs on; None where that is none, or gone."""
        root = self._root_of(annotation)
        return self.view(root.view) if root is not None and root.view else None

    def is_bare(self, annotation: "AnnotationBase") -> bool:
        """Whether an annotation, or what it hangs on, stands on the sheet itself."""
        root = self._root_of(annotation)
        return root is not None and root.anchor.on == "sheet"

    def _root_of(self, annotation: "AnnotationBase") -> "AnnotationBase | None":
        """What an annotation hangs on in the end, or itself; None where that is gone."""
        seen: set[str] = set()
        while isinstance(annotation.anchor, OnAnnotation) and annotation.id not in seen:
            seen.add(annotation.id)
            found = self.annotation(annotation.anchor.annotation)
            if found is None:
                return None
            annotation = found
        return annotation


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


class RevisionRow(Data):
    """A row of the revision table: its mark, what it changes and where, who made and who approved it."""

    mark: Annotated[str, Field(min_length=1, max_length=8)]
    description: Text = ""
    zone: Text = ""
    date: Text = ""
    by: Text = ""
    approved: Text = ""


class Drawing(Data):
    """A drawing of one model. profile, logo and notes are the house style's as they were when the drawing
    took them."""

    format: Literal[2] = 2
    name: Text
    style: Text = ""
    """Id of the house style it was started from; empty for a built-in one."""
    profile: Profile
    logo: Annotated[str, Field(max_length=700_000)] = ""
    """PNG, base64."""
    notes: Annotated[list[Text], Field(max_length=40)] = []
    """General notes, in order."""
    notes_off: Annotated[list[Annotated[int, Field(ge=0, lt=40)]], Field(max_length=40)] = []
    """Places of those that this drawing leaves out, from 0."""
    projection: Projection
    fields: Fields = Fields()
    shows: Annotated[int, Field(ge=1, le=100_000)] = 1
    """Number of the version of its model that it shows."""
    revisions: Annotated[list[RevisionRow], Field(max_length=200)] = []
    sheets: Annotated[list[Sheet], Field(min_length=1, max_length=MOST_SHEETS)]
    numbered: Annotated[int, Field(ge=0, le=99_999)] = 0
    """The highest characteristic number that was given: none is given twice."""
    patterns: Annotated[dict[str, str], Field(max_length=200)] = {}
    """Hatch patterns brought in from a `.pat` file, by name, each as its lines of text."""
    items: Annotated[dict[str, Item], Field(max_length=5000)] = {}
    """Item numbers by the key of the part or group."""
    cells: Annotated[dict[str, dict[str, Text]], Field(max_length=5000)] = {}
    """What parts lists of this drawing say in place of the model: by key, then by field."""

    def number_of(self, sheet_id: str) -> int:
        """Number of a sheet, from 1. Raises ValueError where it is not of the drawing."""
        return [s.id for s in self.sheets].index(sheet_id) + 1

    def sheet(self, sheet_id: str) -> Sheet | None:
        """The sheet of an id; None where the drawing has none."""
        return next((s for s in self.sheets if s.id == sheet_id), None)

    def views(self) -> list[View]:
        """The views of all sheets, in order."""
        return [v for s in self.sheets for v in s.views]

    def sheet_of_view(self, view_id: str) -> Sheet | None:
        """The sheet a view is on; None where the drawing has it no more."""
        return next((s for s in self.sheets if s.view(view_id)), None)


def view_scale(sheet: Sheet, view: View) -> Scale:
    """The scale a view is drawn at: its own, else the sheet's."""
    return view.scale or sheet.scale
