"""The kinds of annotation: for each its value, its text and its ink. A new kind is one module and one line here."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from drafting.annotation import angles, centers, chamfer, distances, hole_table, linear, ordinate, rounds
from drafting.annotation.dimension_ink import SizeInk
from drafting.annotation.label import Label, Words
from drafting.annotation.tolerances import Bounds, applying
from drafting.annotation.view_frame import ViewFrame
from drafting.document import (
    AngleDimension,
    Annotation,
    BoltCircle,
    CenterLine,
    CenterMark,
    ChamferDimension,
    Dimension,
    HoleTable,
    LinearDimension,
)
from drafting.ink.elements import Element
from drafting.model.model import Facts
from drafting.standards.profile import Profile


@dataclass(frozen=True)
class SizeKind:
    """A kind of size: its value (mm, or radians where is_angle), its lettering and its ink about the view's position, paper mm."""

    name: str
    value: Callable[[Any, Facts, ViewFrame], float]
    label: Callable[[Any, Facts, ViewFrame, Profile], Label]
    ink: Callable[..., SizeInk]
    is_angle: bool = False
    shift_at: Callable[[Any, NDArray[np.float64], Facts, ViewFrame, float], float | None] | None = None
    """Of kinds whose number slides along its line: how far a place is from the line's middle, paper mm; None near it or beyond the ends."""


SIZES: dict[str, SizeKind] = {
    "linear": SizeKind("Length", linear.value, linear.label, linear.ink, shift_at=linear.shift_at),
    "diameter": SizeKind("Diameter", rounds.diameter_value, rounds.diameter_label, rounds.diameter_ink),
    "radius": SizeKind("Radius", rounds.radius_value, rounds.radius_label, rounds.radius_ink),
    "arc_length": SizeKind("Arc length", rounds.arc_length_value, rounds.arc_length_label, rounds.arc_length_ink, shift_at=rounds.arc_shift_at),
    "angle": SizeKind("Angle", angles.value, angles.label, angles.ink, is_angle=True, shift_at=angles.shift_at),
    "chamfer": SizeKind("Chamfer", chamfer.value, chamfer.label, chamfer.ink),
    "ordinate": SizeKind("Ordinate", ordinate.value, ordinate.label, ordinate.ink),
}
OTHERS = {"center_mark": "Center mark", "center_line": "Center line", "bolt_circle": "Bolt circle", "hole_table": "Hole table",
          "balloon": "Balloon"}  # fmt: skip


def is_size(annotation: Annotation) -> bool:
    return annotation.kind in SIZES


def name(annotation: Annotation) -> str:
    if annotation.kind not in SIZES:
        return OTHERS[annotation.kind]
    if isinstance(annotation, LinearDimension):
        if annotation.reading in ("across", "half"):
            return "Diameter" if annotation.reading == "across" else "Symmetric half"
        return "Length" if len(annotation.picks) == 1 else "Distance"
    return SIZES[annotation.kind].name


def placed_title(annotation: Annotation) -> str:
    return f"{name(annotation)} placed"


def value(annotation: Annotation, facts: Facts, frame: ViewFrame) -> float:
    """What a size says, measured on the model: mm, or radians for angles; 0 for other annotations."""
    return SIZES[annotation.kind].value(annotation, facts, frame) if annotation.kind in SIZES else 0.0


def text(annotation: Annotation, facts: Facts, frame: ViewFrame, profile: Profile) -> str:
    """What a size says, in one line."""
    return SIZES[annotation.kind].label(annotation, facts, frame, profile).plain if annotation.kind in SIZES else ""


def words(size: Dimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Words:
    """What a size says, in its pieces. Raises SizeError."""
    return SIZES[size.kind].label(size, facts, frame, profile).words


def size_ink(annotation: Dimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float, shift: float = 0.0,
             dots: Sequence[tuple[float, float]] = ()) -> SizeInk:  # fmt: skip
    """Ink of one size by what it is for. shift: of an ordinate's number, and dots: at the ends of a chain's link, from its run.

    Raises SizeError where it lost its geometry."""
    of_run: dict[str, dict[str, Any]] = {"ordinate": {"shift": shift}, "linear": {"dots": dots}}
    return SIZES[annotation.kind].ink(annotation, facts, frame, profile, scale, **of_run.get(annotation.kind, {}))


def ink(annotation: Annotation, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Ink of one annotation by itself, in paper mm about its view's position. Raises SizeError where it lost its geometry."""
    if isinstance(annotation, HoleTable):
        return hole_table.ink(annotation, facts, frame, profile, scale)
    assert annotation.kind != "balloon", "a balloon's number is the drawing's: see compose"
    if isinstance(annotation, CenterMark | CenterLine | BoltCircle):
        return centers.ink(centers.strokes(annotation, facts, frame, scale, profile.center_past), [], [], profile)
    return size_ink(annotation, facts, frame, profile, scale).elements()


def bounds(size: Dimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Bounds | None:
    """The deviations that hold for a size: its own, else the general tolerances'. Raises SizeError."""
    leg = angles.shorter_leg(size, facts, frame) if isinstance(size, AngleDimension) else None
    return applying(size.tolerance, size.wording, value(size, facts, frame), profile, leg, isinstance(size, ChamferDimension))


def foreshortened(size: Dimension, facts: Facts, frame: ViewFrame) -> bool:
    """Whether an orthographic view shows a length shorter than it is."""
    if not isinstance(size, LinearDimension) or frame.pictorial:
        return False
    found = distances.measured(size, facts, frame)
    return abs(distances.drawn_length(found, frame) - found.value) > 1e-6 and size.reading != "half"
