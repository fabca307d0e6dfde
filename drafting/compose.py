"""A sheet of a drawing as ink: frame, views with their marks and labels, annotations. The desk and the files
take it from here alike. What cannot be drawn is said, never left out in silence."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import Any

import shapely

from drafting.annotation import registry
from drafting.annotation.kinds.added_line import with_added
from drafting.annotation.kinds.kind import Drawn, Member
from drafting.context import Context
from drafting.document import AnnotationBase, Drawing, Sheet, View, view_scale
from drafting.errors import CommandError, SizeError, ViewError
from drafting.ink.elements import Element, Group, SheetInk
from drafting.ink.shapes import text_boxes
from drafting.model.model import Facts
from drafting.sheet.frame import frame_ink
from drafting.sheet.layout import block_box, sheet_size
from drafting.views import marks
from drafting.views.extents import Box
from drafting.views.geometry import ViewGeometry
from drafting.views.hatching import hatch_ink
from drafting.views.ink import view_ink
from drafting.views.present import presented
from drafting.views.trail_lines import trail_ink


@dataclass
class Composed:
    """Ink of a sheet and what is wrong with it: lost annotations and views that show nothing, by id, with the
    sentence that says why."""

    ink: SheetInk
    lost: dict[str, str] = field(default_factory=dict)


def compose(drawing: Drawing, sheet: Sheet, facts: Facts, geometries: Mapping[str, ViewGeometry]) -> Composed:
    """All ink of a sheet, for a file. geometries: derived geometry by view id; a view without one is left
    blank."""
    width, height = sheet_size(sheet)
    out = Composed(
        SheetInk(width, height, [Group("frame", "frame", elements=frame_ink(drawing, sheet, facts))])
    )
    shown: dict[str, ViewGeometry] = {}
    for view in sheet.views:
        if (geometry := geometries.get(view.id)) is not None:
            try:
                shown[view.id] = presented(view, sheet, facts, geometry)
            except ViewError as error:
                out.lost[view.id] = str(error)
    groups = annotation_groups(drawing, sheet, facts)
    for a in sheet.annotations:
        group = groups[a.id]
        if isinstance(group, str):
            out.lost[a.id] = group
        else:
            home = registry.context_of(drawing, sheet, a, facts)
            group.entity = registry.dxf_entity(a, home, group)
            group.reads = registry.text(a, home) if registry.kind_of(a).reads_out else ""
    for view in sheet.views:
        geometry = shown.get(view.id)
        if geometry is None:
            continue
        origin = (view.position.x, view.position.y)
        boxes = lettering(sheet, view, groups)
        out.ink.groups.append(
            Group(view.id, "view", origin, own_ink(drawing, sheet, view, facts, geometry, boxes))
        )
        for key, elements in outer_ink(drawing, sheet, view, geometry).items():
            out.ink.groups.append(Group(f"{view.id}-{key}", "label", origin, elements))
    out.ink.groups += [g for g in groups.values() if not isinstance(g, str)]
    _put_below(out.ink, drawing, sheet, facts)
    return out


def _put_below(ink: SheetInk, drawing: Drawing, sheet: Sheet, facts: Facts) -> None:
    """What lies below the lines goes before them, and what only files have is put in."""
    below = {a.id for a in sheet.annotations if is_below(a)}
    under = [g for g in ink.groups if g.id in below]
    for a in sheet.annotations:
        more = registry.kind_of(a).in_files
        group = next((g for g in under if g.id == a.id), None)
        if more is not None and group is not None:
            group.elements += more(a, registry.context_of(drawing, sheet, a, facts))
    ink.groups = [*under, *(g for g in ink.groups if g.id not in below)]


def is_below(a: AnnotationBase) -> bool:
    """Whether an annotation lies below the lines of views."""
    return a.kind == "underlay" or getattr(a, "layer", "") == "below"


def annotation_groups(drawing: Drawing, sheet: Sheet, facts: Facts) -> Drawn:
    """Ink of all annotations of a sheet by id, each kind drawn together with those that its ink depends
    on."""
    together: dict[Callable[[Sequence[Member]], Drawn], list[Member]] = {}
    for a in sheet.annotations:
        kind = registry.kind_of(a)
        member = Member(a, kind, registry.context_of(drawing, sheet, a, facts))
        together.setdefault(registry.drawn_by(kind) or alone, []).append(member)
    out: Drawn = {}
    for draw, members in together.items():
        here = [m for m in members if m.context.view is not None or m.context.is_bare]
        out |= draw(here) if here else {}
    return {a.id: out.get(a.id, GONE[a.anchor.on]) for a in sheet.annotations}


GONE = {
    "view": "Its view is no longer on the sheet.",
    "annotation": "What it was attached to is no longer on the sheet.",
    "sheet": "It is no longer on the sheet.",
}


def alone(members: Sequence[Member]) -> Drawn:
    """Ink of annotations that depend on no other."""
    out: Drawn = {}
    for m in members:
        try:
            out[m.annotation.id] = Group(
                m.annotation.id, "annotation", m.context.origin, registry.ink(m.annotation, m.context)
            )
        except (SizeError, CommandError) as error:
            out[m.annotation.id] = str(error)
    return out


def lettering(sheet: Sheet, view: View, groups: Drawn) -> list[shapely.Geometry]:
    """Boxes of all lettering of a view's annotations, paper mm about its position: hatching keeps off
    them."""
    mine = (groups.get(a.id, "") for a in sheet.annotations if a.view == view.id)
    return [box for g in mine if not isinstance(g, str) for box in text_boxes(g.elements)]


def bounded(drawing: Drawing, sheet: Sheet, view: View, facts: Facts, geometry: ViewGeometry) -> ViewGeometry:
    """A view's lines with the added ones, which bound regions that are hatched by hand as its own do."""
    return with_added(geometry, Context(drawing, sheet, facts, view)) if view.hatches else geometry


def own_ink(
    drawing: Drawing,
    sheet: Sheet,
    view: View,
    facts: Facts,
    geometry: ViewGeometry,
    keep_off: Sequence[shapely.Geometry] = (),
) -> list[Element]:
    """A view's picture, hatching, lines, breaks and border. keep_off: boxes that hatching keeps off, see
    `lettering`."""
    scale = view_scale(sheet, view).factor
    return [
        *marks.picture_ink(geometry, scale),
        *hatch_ink(view, bounded(drawing, sheet, view, facts, geometry), facts, drawing, scale, keep_off),
        *view_ink(view, geometry, drawing.profile, scale),
        *marks.interruption_ink(view, geometry, scale),
        *marks.half_section_ink(view, geometry, scale),
        *marks.detail_border_ink(view, scale, drawing.profile),
        *trail_ink(view, geometry, scale),
    ]


def outer_ink(
    drawing: Drawing, sheet: Sheet, view: View, geometry: ViewGeometry | None
) -> dict[str, list[Element]]:
    """What stands at a view besides its own lines: its label, and by the id of the other view the cutting
    lines, viewing arrows and outlines of sections, auxiliary views and details taken from it (on any
    sheet)."""
    out: dict[str, list[Element]] = {}
    if geometry is not None and (label := marks.label_ink(drawing, sheet, view, geometry)):
        out["label"] = label
    for other in drawing.views():
        if other.parent != view.id:
            continue
        found: list[Element] = []
        if other.kind == "section":
            found = marks.cutting_line_ink(other, view, sheet, geometry, drawing.profile)
        elif other.kind == "auxiliary":
            found = marks.viewing_arrow_ink(other, view, sheet, geometry, drawing.profile)
        elif other.kind == "detail":
            found = marks.detail_outline_ink(other, view, sheet, drawing.profile)
        if found:
            out[other.id] = found
    return out


BLOCK = "title-block"


def obstacles(drawing: Drawing, sheet: Sheet, facts: Facts) -> dict[str, tuple[str, Box]]:
    """The title block and the annotations that views keep clear of, by id: name within a sentence, and box in
    sheet mm."""
    block = block_box(sheet)
    out: dict[str, tuple[str, Box]] = {
        BLOCK: ("the title block", (block.left, block.bottom, block.right, block.top))
    }
    for a in sheet.annotations:
        found = registry.kind_of(a).obstacles
        if found is not None:
            try:
                for name, box in found(a, registry.context_of(drawing, sheet, a, facts)):
                    out[a.id] = (name, box)
            except (SizeError, CommandError):
                continue
    return out


def fixed_obstacles(drawing: Drawing, sheet: Sheet, facts: Facts) -> list[Box]:
    """Boxes of what stays when views are moved, sheet mm."""
    moving = {a.id for a in sheet.annotations if a.anchor.on != "sheet"}
    return [box for key, (_, box) in obstacles(drawing, sheet, facts).items() if key not in moving]


def boxes_along(drawing: Drawing, sheet: Sheet, facts: Facts) -> Callable[[View], list[Box]]:
    """What goes along with a view when it is moved, as boxes in paper mm about its position."""

    def of(drawing: Drawing, sheet: Sheet, facts: Facts, view: View) -> list[Box]:
        out = []
        for a in sheet.annotations:
            find: Any = registry.kind_of(a).obstacles
            if find is None or sheet.view_of(a) is not view:
                continue
            context = Context(drawing, sheet, facts, view)
            x, y = context.origin
            try:
                out += [(b[0] - x, b[1] - y, b[2] - x, b[3] - y) for _, b in find(a, context)]
            except (SizeError, CommandError):
                continue
        return out

    return partial(of, drawing, sheet, facts)
