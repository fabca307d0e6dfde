"""The drawing rules of a standard as values: line widths, lettering, arrows, distances, number forms.

Sources: ISO 128-2 (line widths and dashes: dash 12 d, gap 3 d, long dash 24 d), ISO 3098 (lettering), ISO
129-1 (dimensions), ASME Y14.2 (0.6 and 0.3 mm lines, 3 mm lettering), ASME Y14.5 (first row 10 mm, next 6 mm,
gap 1.5 mm, beyond 3 mm). Values from memory unless the design's check values name them.
"""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

Standard = Literal["ISO", "ASME"]


Width = Annotated[float, Field(ge=0.05, le=3, allow_inf_nan=False)]
Height = Annotated[float, Field(ge=1, le=30, allow_inf_nan=False)]
Distance = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Dash = Annotated[float, Field(gt=0, le=100, allow_inf_nan=False)]


class LineKind(BaseModel):
    """A kind of line: width in mm, dash pattern in mm (drawn, gap, drawn, gap …), layer it is exported on."""

    width: Width
    dashes: Annotated[list[Dash], Field(max_length=12)] = []
    layer: Annotated[str, Field(min_length=1, max_length=60, pattern=r"^[A-Za-z0-9 _-]+$")]

    @field_validator("dashes")
    @classmethod
    def _even(cls, dashes: list[float]) -> list[float]:
        if len(dashes) % 2:
            raise ValueError("a dash pattern is written in pairs of a dash and a gap")
        return dashes


class Profile(BaseModel):
    """A house style's values. Lengths in mm on paper."""

    model_config = ConfigDict(frozen=True)

    key: Annotated[str, Field(min_length=1, max_length=60)]
    title: Annotated[str, Field(min_length=1, max_length=120)]
    standard: Standard
    units: Literal["mm", "in"]
    projection: Literal["first", "third"]
    lines: dict[str, LineKind]
    text_height: Height
    label_height: Height
    arrow: Literal["filled", "open", "dot", "stroke"] = "filled"
    arrow_length: Height
    arrow_width: Annotated[float, Field(ge=0.2, le=20, allow_inf_nan=False)]
    extension_gap: Distance
    extension_beyond: Distance
    first_row: Distance
    next_row: Distance
    text_gap: Distance
    center_past: Distance = 3.0
    """Reach of center lines past the outline."""
    dimension_text: Literal["above", "broken"]
    """Whether the number stands above an unbroken dimension line and turns with it (ISO), or level in a break
    of it (ASME)."""
    decimal_sign: Literal[",", "."]
    places: Annotated[int, Field(ge=0, le=6)]
    fraction: Literal[0, 2, 4, 8, 16, 32, 64] = 0
    """Inches as fractions down to this part of one; 0 for decimals."""
    angle_places: Annotated[int, Field(ge=0, le=4)] = 2
    angle_form: Literal["decimal", "minutes"] = "decimal"
    """Whether angles are written 22,5° or 22°30'."""
    tolerance_height: Annotated[float, Field(ge=0.5, le=1)] = 1.0
    """Lettering of deviations, as a part of that of sizes."""
    trailing_zeros: bool
    leading_zero: bool
    mass_unit: Literal["", "kg", "lb"] = ""
    """Of masses in title block and parts lists; empty takes pounds in a style of inches, else kilograms."""
    default_size: Annotated[str, Field(max_length=40)]
    section_label: Annotated[str, Field(max_length=60)] = ""
    detail_label: Annotated[str, Field(max_length=60)] = ""
    auxiliary_label: Annotated[str, Field(max_length=60)] = ""
    """Wording of view labels; {letter} stands for the letter. Empty takes the standard's."""
    general_tolerance: Annotated[str, Field(max_length=120)] = ""
    release_archive: bool = False
    """Whether a release has its PDF/A-3, too, with the model and the drawing's data within it."""
    lost_things: Literal["refuse", "warn"] = "refuse"
    """Whether files of a drawing on which something has lost its home are refused, or lack it with a warning;
    nothing is released so."""
    """What the title block says of sizes that state no tolerance."""
    view_gap: Distance
    """Room left between views for sizes."""
    rules: Annotated[
        dict[Annotated[str, Field(max_length=40)], Literal["grave", "look", "off"]], Field(max_length=100)
    ] = {}
    """How grave what a rule finds is, by the rule's key, where the office departs from the rule's own."""

    @property
    def mass_in(self) -> Literal["kg", "lb"]:
        """The unit that masses are written in."""
        return self.mass_unit or ("lb" if self.units == "in" else "kg")

    def line(self, name: str) -> LineKind:
        """A kind of line; one that the house style does not name is made from its thin or its wide line."""
        found = self.lines.get(name)
        if found:
            return found
        thin, wide = self.lines["dimension"].width, self.lines["visible"].width
        more = _more_lines(wide, thin, self.standard)
        return more.get(name, LineKind(width=thin, layer=name.capitalize()))


def _more_lines(thick: float, thin: float, standard: Standard) -> dict[str, LineKind]:
    """Kinds of line of views: hatching, breaks, threads, outlines of details, cutting lines (ISO thin with
    wide ends, ASME wide)."""
    d = thin
    cutting = thin if standard == "ISO" else thick
    return {
        "center_dash": LineKind(width=thin, layer="Center"),
        "hatch": LineKind(width=thin * 0.72 if standard == "ISO" else thin, layer="Hatch"),
        "break": LineKind(width=thin, layer="Break"),
        "thread": LineKind(width=thin, layer="Thread"),
        "outline": LineKind(width=thin, layer="Detail"),
        "cutting": LineKind(width=cutting, dashes=[24 * d, 3 * d, 2 * d, 3 * d], layer="Cutting"),
        "cutting_end": LineKind(width=thick, layer="Cutting"),
        "phantom": LineKind(width=thin, dashes=[24 * d, 3 * d, 2 * d, 3 * d, 2 * d, 3 * d], layer="Phantom"),
        "thread_hidden": LineKind(width=thin, dashes=[12 * d, 3 * d], layer="Thread"),
    }


def _lines(thick: float, thin: float) -> dict[str, LineKind]:
    d = thin
    return {
        "visible": LineKind(width=thick, layer="Visible"),
        "hidden": LineKind(width=thin, dashes=[12 * d, 3 * d], layer="Hidden"),
        "tangent": LineKind(width=thin, layer="Tangent"),
        "center": LineKind(width=thin, dashes=[24 * d, 3 * d, 2 * d, 3 * d], layer="Center"),
        "dimension": LineKind(width=thin, layer="Dimension"),
        "border": LineKind(width=thick * 1.4, layer="Frame"),
        "frame": LineKind(width=thick, layer="Frame"),
        "frame_thin": LineKind(width=thin, layer="Frame"),
    }


ISO_MM = Profile(
    key="iso-mm",
    title="ISO, mm, first angle",
    standard="ISO",
    units="mm",
    projection="first",
    lines=_lines(0.5, 0.25),
    text_height=3.5,
    label_height=5.0,
    arrow_length=3.0,
    arrow_width=1.0,
    extension_gap=1.0,
    extension_beyond=2.0,
    first_row=10.0,
    next_row=7.0,
    text_gap=0.8,
    dimension_text="above",
    decimal_sign=",",
    places=2,
    trailing_zeros=False,
    leading_zero=True,
    tolerance_height=0.7,
    default_size="A3",
    view_gap=28.0,
    general_tolerance="ISO 2768-m",
)
ASME_INCH = Profile(
    key="asme-inch",
    title="ASME, inch, third angle",
    standard="ASME",
    units="in",
    projection="third",
    lines=_lines(0.6, 0.3),
    text_height=3.05,
    label_height=6.1,
    arrow_length=3.0,
    arrow_width=1.0,
    extension_gap=1.5,
    extension_beyond=3.0,
    first_row=10.16,
    next_row=7.5,
    text_gap=0.8,
    dimension_text="broken",
    decimal_sign=".",
    places=3,
    trailing_zeros=True,
    leading_zero=False,
    default_size="B",
    view_gap=30.0,
    general_tolerance=".XX ±.01  .XXX ±.005",
)
BUILT_IN = {p.key: p for p in (ISO_MM, ASME_INCH)}


def for_units(units: str) -> Profile:
    """The house style that fits a model's units: inch and foot models get ASME inch, all others ISO mm."""
    return ASME_INCH if units in ("in", "ft") else ISO_MM
