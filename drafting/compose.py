"""A sheet of a drawing as ink: frame, views with their labels, annotations. What cannot be drawn is said, never left out in silence."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from drafting.annotation import registry
from drafting.annotation.measure import ViewFrame
from drafting.document import Annotation, Drawing, Sheet, View, view_scale
from drafting.errors import SizeError
from drafting.ink.elements import Element, Group, SheetInk, Text
from drafting.model.model import Facts
from drafting.sheet.frame import frame_ink
from drafting.sheet.layout import sheet_size
from drafting.views.geometry import ViewGeometry
from drafting.views.ink import view_ink


@dataclass
class Composed:
    """Ink of a sheet and what is wrong with it: lost annotations by id, with the sentence that says why."""

    ink: SheetInk
    lost: dict[str, str] = field(default_factory=dict)


def compose(drawing: Drawing, sheet: Sheet, facts: Facts, geometries: Mapping[str, ViewGeometry]) -> Composed:
    """All ink of a sheet. geometries: derived geometry by view id; a view without one is left blank."""
    width, height = sheet_size(sheet)
    out = Composed(SheetInk(width, height, [Group("frame", "frame", elements=frame_ink(drawing, sheet, facts))]))
    for view in sheet.views:
        geometry = geometries.get(view.id)
        if geometry is None:
            continue
        origin = (view.position.x, view.position.y)
        factor = view_scale(sheet, view).factor
        out.ink.groups.append(Group(view.id, "view", origin, view_ink(view, geometry, drawing.profile, factor)))
        label = view_label(drawing, sheet, view, geometry)
        if label:
            out.ink.groups.append(Group(f"{view.id}-label", "label", origin, label))
    for annotation in sheet.annotations:
        group = annotation_group(drawing, sheet, annotation, facts)
        if isinstance(group, str):
            out.lost[annotation.id] = group
        else:
            out.ink.groups.append(group)
    return out


def annotation_group(drawing: Drawing, sheet: Sheet, annotation: Annotation, facts: Facts) -> Group | str:
    """Ink of one annotation about its view's position, or the sentence that says why it has none."""
    view = sheet.view(annotation.view)
    if view is None:
        return "Its view is no longer on the sheet."
    frame = ViewFrame.of(view, facts)
    try:
        elements = registry.ink(annotation, facts, frame, drawing.profile, view_scale(sheet, view).factor)
    except SizeError as error:
        return str(error)
    return Group(annotation.id, "annotation", (view.position.x, view.position.y), elements)


def view_label(drawing: Drawing, sheet: Sheet, view: View, geometry: ViewGeometry) -> list[Element]:
    """A scale of its own is said under the view."""
    if view.scale is None or view.scale == sheet.scale:
        return []
    text = f"({view.scale})" if drawing.profile.standard == "ISO" else f"SCALE {view.scale}"
    f = view.scale.factor
    middle = (geometry.low[0] + geometry.high[0]) / 2 * f
    at = (middle, geometry.low[1] * f - 6 - drawing.profile.label_height)
    return [Text(at, text, drawing.profile.label_height * 0.8, "dimension", "middle")]
