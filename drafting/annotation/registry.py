"""The kinds of annotation that there are, and how the rest of the product asks one for what it can do. A new
kind is a module and a line here."""

from importlib import import_module
from types import MappingProxyType
from typing import TYPE_CHECKING, Annotated, Any, Union

import numpy as np
from pydantic import Field

from drafting.annotation.inking.dimension_ink import DimensionEntity, SizeInk
from drafting.annotation.kinds import hole_callout, sizes
from drafting.annotation.kinds.centers import Center, CenterKind, Stroke
from drafting.annotation.kinds.hole_callout import HoleCallout
from drafting.annotation.kinds.kind import Draw, InRun, Kind, Move, SizeKind, set_fields
from drafting.annotation.measuring import others
from drafting.annotation.wording.label import Label
from drafting.annotation.wording.tolerance_words import parsed
from drafting.annotation.wording.tolerances import Bounds, applying
from drafting.context import Context
from drafting.document import AnnotationBase, Dimension, Drawing, Sheet
from drafting.errors import CommandError, SizeError
from drafting.ink.elements import Element, Group, Polyline
from drafting.ink.shapes import text_boxes
from drafting.views.frame import Array

MODULES = (
    "linear",
    "diameter",
    "radius",
    "angles",
    "arc_length",
    "chamfer",
    "hole_callout",
    "feature_callout",
    "ordinate",
    "hole_table",
    "center_mark",
    "center_line",
    "bolt_circle",
    "balloon",
    "parts_list",
    "stamp",
    "note",
    "texture",
    "weld",
    "added_line",
    "picture",
    "underlay",
    "other_position",
    "insertion_arrow",
    "datum_feature",
    "datum_target",
    "control_frame",
    "stack_up",
    "revision_table",
    "revision_cloud",
    "characteristic",
)
"""The modules of `drafting.annotation.kinds` that give a kind each."""
ALL: tuple[Kind[Any], ...] = tuple(
    import_module(f"drafting.annotation.kinds.{name}").KIND for name in MODULES
)


def registered(kinds: tuple[Kind[Any], ...]) -> dict[str, Kind[Any]]:
    """The kinds by the word that stored annotations are told by. Raises TypeError for one without a word of
    its own, without ink, or that is there twice."""
    out: dict[str, Kind[Any]] = {}
    for kind in kinds:
        if not isinstance(kind.data.model_fields["kind"].default, str):
            raise TypeError(f"{kind.data.__name__} says no kind of its own")
        if kind.key in out:
            raise TypeError(f"the kind {kind.key} is registered twice")
        if kind.ink is None and not (isinstance(kind, SizeKind) and (kind.size_ink or kind.ink_in_run)):
            raise TypeError(f"the kind {kind.key} draws nothing")
        out[kind.key] = kind
    return out


KINDS = MappingProxyType(registered(ALL))
if TYPE_CHECKING:
    Annotation = AnnotationBase
else:
    Annotation = Annotated[Union[tuple(k.data for k in ALL)], Field(discriminator="kind")]  # noqa: UP007  built from the list
for _model in (Sheet, Drawing):
    _model.model_rebuild(_types_namespace={"Annotation": Annotation})


def kind_of(annotation: AnnotationBase) -> Kind[Any]:
    """The kind of an annotation and all that it can do."""
    return KINDS[annotation.kind]


def size_kind(size: Dimension) -> SizeKind[Any]:
    """The kind of a size."""
    found = KINDS[size.kind]
    assert isinstance(found, SizeKind)
    return found


def drawn_by(kind: Kind[Any]) -> Draw | None:
    """What draws the annotations of a kind together with others; None for kinds whose ink depends on no
    other."""
    return sizes.draw if isinstance(kind, SizeKind) else kind.draw


def context_of(drawing: Drawing, sheet: Sheet, annotation: AnnotationBase, facts: Any) -> Context:
    """Where an annotation lives: the view it hangs in, itself or by what it hangs on, or the sheet alone."""
    return Context(drawing, sheet, facts, sheet.view_of(annotation), sheet.is_bare(annotation))


def name(annotation: AnnotationBase) -> str:
    """What the interface calls it."""
    return kind_of(annotation).title(annotation)


def placed_title(annotation: AnnotationBase) -> str:
    """What the history calls its placing."""
    return f"{name(annotation)} placed"


def value(size: Dimension, context: Context) -> float:
    """What a size says, measured on the model: mm, or radians for angles. Raises SizeError."""
    measure = size_kind(size).value
    assert measure is not None
    return measure(size, context)


def text(annotation: AnnotationBase, context: Context) -> str:
    """What an annotation says, in one line; empty where it has no words. Raises SizeError."""
    kind = kind_of(annotation)
    if isinstance(kind, SizeKind):
        assert kind.label is not None
        return kind.label(annotation, context).plain
    return kind.words(annotation, context) if kind.words else ""


def _lines(a: AnnotationBase, context: Context) -> list[tuple[Any, Any]]:
    kind = kind_of(a)
    if isinstance(kind, SizeKind):
        return sizes.ink_of(a, kind, context).straight()
    assert kind.ink is not None
    ink = kind.ink(a, context)
    if a.kind == "control_frame":  # its lower and its upper side
        corners = np.array([p for e in ink if isinstance(e, Polyline) and e.closed for p in e.points])
        (left, low), (right, high) = corners.min(0), corners.max(0)
        return [(np.array([left, y]), np.array([right, y])) for y in (low, high)]
    return SizeInk(lines=ink[:1]).straight()  # the leader of a callout


def _boxes(a: AnnotationBase, context: Context) -> list[others.Box]:
    kind = kind_of(a)
    if isinstance(kind, SizeKind):
        return [b.bounds for b in text_boxes(sizes.ink_of(a, kind, context).lettering)]
    assert kind.ink is not None
    return [b.bounds for b in text_boxes(kind.ink(a, context))]


def _measured(a: AnnotationBase, context: Context) -> others.Measured | None:
    if isinstance(a, HoleCallout):
        nominal, found = hole_callout.limits(a, context)
        return _said(nominal, found, None, ("callout",), False)
    if not isinstance(a, Dimension) or size_kind(a).is_angle or a.wording.reference or a.wording.own:
        return None
    states = size_kind(a).states
    stated = states(a, context) if states else None
    levels = stated.levels if stated else None
    key = stated.key if stated and a.kind in ("diameter", "linear") else ()
    circle = key if isinstance(key, tuple) and key[:1] == ("circle",) else None
    return _said(value(a, context), bounds(a, context), levels, circle, a.wording.basic)


def _said(nominal: float, found: Bounds | None, levels: Any, circle: Any, basic: bool) -> others.Measured:
    upper, lower = (found.upper, found.lower) if found else (None, None)
    return others.Measured(nominal, upper, lower, levels, circle, basic)


def _legs(a: AnnotationBase, context: Context) -> tuple[Array, Array] | None:
    if not isinstance(a, Dimension) or a.wording.reference or a.wording.own:
        return None
    states = size_kind(a).states if size_kind(a).is_angle else None
    stated = states(a, context) if states else None
    key = stated.key if stated else None
    if not isinstance(key, tuple) or key[:1] != ("angle",):
        return None
    one, two = key[1]
    return np.array(one), np.array(two)


others.answer(text, _lines, _boxes, _measured, _legs)


def label(size: Dimension, context: Context) -> Label:
    """The lettering of a size. Raises SizeError."""
    lettered = size_kind(size).label
    assert lettered is not None
    return lettered(size, context)


def dxf_entity(annotation: AnnotationBase, context: Context, group: Group) -> DimensionEntity | None:
    """What an annotation is in a DXF file besides its drawn ink; None where it is ink alone. Raises
    SizeError."""
    kind = kind_of(annotation)
    if kind.dxf_entity is not None:
        return kind.dxf_entity(annotation, context, group)
    if isinstance(annotation, Dimension) and group.size.definition is not None:
        return DimensionEntity(group.size.definition, label(annotation, context).words)
    return None


def is_on_underlay(annotation: AnnotationBase) -> bool:
    """Whether it is a size that is taken on a drawing of old."""
    return isinstance(annotation, Dimension) and any(p.role == "underlay" for p in annotation.picks)


def has_findings(annotation: AnnotationBase) -> bool:
    """Whether a checker may have something to say of it."""
    return kind_of(annotation).findings is not None or is_on_underlay(annotation)


def findings(annotation: AnnotationBase, context: Context) -> list[str]:
    """What a checker would say of an annotation, a sentence each."""
    found = kind_of(annotation).findings
    under = ["A size is taken on an underlay, not on the model."] if is_on_underlay(annotation) else []
    try:
        return under + (found(annotation, context) if found is not None else [])
    except (SizeError, CommandError):
        return []  # it is told as lost


def size_ink(size: Dimension, context: Context, in_run: InRun = InRun()) -> SizeInk:  # noqa: B008  frozen
    """Ink of one size by what it is for. Raises SizeError where it lost its geometry."""
    return size_kind(size).inked(size, context, in_run)


def ink(annotation: AnnotationBase, context: Context) -> list[Element]:
    """Ink of one annotation by itself, in paper mm about its context's origin. Raises SizeError where it lost
    its geometry."""
    kind = kind_of(annotation)
    if isinstance(kind, SizeKind):
        return kind.inked(annotation, context).elements()
    assert kind.ink is not None
    return kind.ink(annotation, context)


def check(annotation: AnnotationBase, context: Context) -> None:
    """Raises SizeError or CommandError with a sentence where an annotation cannot be as it is."""
    kind = kind_of(annotation)
    if context.view is None and not context.is_bare:
        raise SizeError(
            "That view is no longer in the drawing."
            if annotation.view
            else "What it hangs on is no longer on the sheet."
        )
    if isinstance(kind, SizeKind):
        text(annotation, context)  # measures it, and its tolerance
    if kind.check is not None:
        kind.check(annotation, context)


def changed(annotation: AnnotationBase, update: dict[str, Any], context: Context) -> AnnotationBase:
    """The annotation with fields set to plain values; `says` is a size's tolerance as it is typed.

    Raises CommandError and SizeError with a sentence, and ValidationError for values that a field cannot
    hold.
    """
    kind = kind_of(annotation)
    if kind.change is not None:
        out: AnnotationBase = kind.change(annotation, update, context)
        return out
    if isinstance(annotation, Dimension) and "says" in update:
        rest = {k: v for k, v in update.items() if k != "says"}
        size = set_fields(annotation, rest) if rest else annotation
        is_angle = size_kind(annotation).is_angle
        tolerance = parsed(
            str(update["says"]), value(size, context), context.profile, is_angle, size.tolerance
        )
        return size.model_copy(update={"tolerance": tolerance})
    return set_fields(annotation, update)


def moved(
    annotation: AnnotationBase, to: Move, context: Context, with_run: bool = True
) -> list[AnnotationBase]:
    """The annotation at its new place, and what goes along. Raises CommandError where it does not stand by
    itself."""
    kind = kind_of(annotation)
    if isinstance(annotation, Dimension):
        return [*sizes.moved(annotation, to, context, with_run)]
    if kind.move is not None:
        return kind.move(annotation, to, context)
    if to.place is not None and "place" in kind.data.model_fields:
        return [annotation.model_copy(update={"place": to.place})]
    if to.position is not None and "position" in kind.data.model_fields:
        return [annotation.model_copy(update={"position": to.position})]
    raise CommandError(f"{name(annotation)} is not moved by itself; it stays on what it was taken on.")


def strokes(center: Center, context: Context) -> list[Stroke]:
    """The lines of a center, paper mm about its view's position. Raises SizeError where it cannot be."""
    kind = kind_of(center)
    assert isinstance(kind, CenterKind)
    assert kind.strokes is not None
    return kind.strokes(center, context)


def bounds(size: Dimension, context: Context) -> Bounds | None:
    """The deviations that hold for a size: its own, else the general tolerances'. Raises SizeError."""
    kind = size_kind(size)
    leg = kind.general_leg(size, context) if kind.general_leg else None
    return applying(
        size.tolerance, size.wording, value(size, context), context.profile, leg, kind.breaks_edge
    )


def foreshortened(size: Dimension, context: Context) -> bool:
    """Whether an orthographic view shows a length shorter than it is."""
    shows = size_kind(size).foreshortened
    return shows is not None and shows(size, context)
