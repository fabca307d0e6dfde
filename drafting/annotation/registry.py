"""The kinds of annotation: for each its value, its text and its ink. A new kind is one module and one line here."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from drafting.annotation import centers, diameter, linear
from drafting.annotation.measure import ViewFrame
from drafting.document import Annotation
from drafting.ink.elements import Element
from drafting.model.model import Facts
from drafting.standards.profile import Profile


def _nothing(annotation: Any, facts: Facts, frame: ViewFrame) -> float:
    return 0.0


def _no_text(annotation: Any, facts: Facts, frame: ViewFrame, profile: Profile) -> str:
    return ""


def _center_ink(annotation: Any, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    return centers.ink(centers.strokes(annotation, facts, frame, scale, profile.center_past), [], [], profile)


@dataclass(frozen=True)
class Kind:
    """is_size: whether it says a value; centers do not, and their ink also depends on the other centers of the view."""

    name: str
    value: Callable[[Any, Facts, ViewFrame], float]
    text: Callable[[Any, Facts, ViewFrame, Profile], str]
    ink: Callable[[Any, Facts, ViewFrame, Profile, float], list[Element]]
    is_size: bool = True


KINDS: dict[str, Kind] = {
    "linear": Kind("Length", linear.value, linear.text, linear.ink),
    "diameter": Kind("Diameter", diameter.value, diameter.text, diameter.ink),
    "center_mark": Kind("Center mark", _nothing, _no_text, _center_ink, False),
    "center_line": Kind("Center line", _nothing, _no_text, _center_ink, False),
    "bolt_circle": Kind("Bolt circle", _nothing, _no_text, _center_ink, False),
}


def placed_title(annotation: Annotation) -> str:
    return f"{KINDS[annotation.kind].name} placed"


def value(annotation: Annotation, facts: Facts, frame: ViewFrame) -> float:
    """What the annotation says, measured on the model: mm for sizes."""
    return KINDS[annotation.kind].value(annotation, facts, frame)


def text(annotation: Annotation, facts: Facts, frame: ViewFrame, profile: Profile) -> str:
    return KINDS[annotation.kind].text(annotation, facts, frame, profile)


def ink(annotation: Annotation, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Ink in paper mm about its view's position. Raises SizeError where it lost its geometry."""
    return KINDS[annotation.kind].ink(annotation, facts, frame, profile, scale)
