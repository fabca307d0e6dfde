"""A sheet of a drawing as ink: frame, views with their marks and labels, annotations. What cannot be drawn is said, never left out in silence."""

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import partial

from drafting.annotation import balloon, centers, ordinate, parts_list, registry
from drafting.annotation.breaks import broken
from drafting.annotation.dimension_ink import SizeInk
from drafting.annotation.view_frame import ViewFrame
from drafting.document import Annotation, Balloon, Dimension, Drawing, OrdinateDimension, Point, Sheet, View, view_scale
from drafting.errors import CommandError, SizeError, ViewError
from drafting.ink.elements import Element, Group, SheetInk
from drafting.ink.shapes import text_boxes
from drafting.memory import Memory, digest
from drafting.model.model import Facts
from drafting.sheet.frame import frame_ink
from drafting.sheet.layout import sheet_size
from drafting.standards.profile import Profile
from drafting.views import marks
from drafting.views.geometry import ViewGeometry
from drafting.views.ink import view_ink
from drafting.views.present import presented
from drafting.views.trail_lines import trail_ink


_INKS: Memory[SizeInk] = Memory(12_000)
"""Ink of sizes before their lines break: some 3 kB each."""


@dataclass
class Composed:
    """Ink of a sheet and what is wrong with it: lost annotations and views that show nothing, by id, with the sentence that says why."""

    ink: SheetInk
    lost: dict[str, str] = field(default_factory=dict)


def compose(drawing: Drawing, sheet: Sheet, facts: Facts, geometries: Mapping[str, ViewGeometry]) -> Composed:
    """All ink of a sheet. geometries: derived geometry by view id; a view without one is left blank."""
    width, height = sheet_size(sheet)
    out = Composed(SheetInk(width, height, [Group("frame", "frame", elements=frame_ink(drawing, sheet, facts))]))
    shown: dict[str, ViewGeometry] = {}
    for view in sheet.views:
        if (geometry := geometries.get(view.id)) is not None:
            try:
                shown[view.id] = presented(view, sheet, facts, geometry)
            except ViewError as error:
                out.lost[view.id] = str(error)
    sizes: dict[str, Group] = {}
    for annotation_id, group in annotation_groups(drawing, sheet, facts).items():
        if isinstance(group, str):
            out.lost[annotation_id] = group
        else:
            sizes[annotation_id] = group
    frames = {v.id: ViewFrame.of(v, facts, view_scale(sheet, v).factor) for v in sheet.views}
    for a in sheet.annotations:
        if isinstance(a, Dimension) and a.id in sizes:
            sizes[a.id].words = registry.words(a, facts, frames[a.view], drawing.profile)
    for view in sheet.views:
        geometry = shown.get(view.id)
        if geometry is None:
            continue
        origin = (view.position.x, view.position.y)
        texts = [sizes[a.id].elements for a in sheet.annotations if a.view == view.id and a.id in sizes]
        out.ink.groups.append(Group(view.id, "view", origin, own_ink(drawing, sheet, view, facts, geometry, texts)))
        for key, elements in outer_ink(drawing, sheet, view, geometry).items():
            out.ink.groups.append(Group(f"{view.id}-{key}", "label", origin, elements))
    out.ink.groups += sizes.values()
    for plist in sheet.parts_lists:
        out.ink.groups.append(Group(plist.id, "parts-list", elements=parts_list.laid_out(drawing, sheet, plist, facts).ink))
    return out


def own_ink(
    drawing: Drawing, sheet: Sheet, view: View, facts: Facts, geometry: ViewGeometry, texts: list[list[Element]] | None = None
) -> list[Element]:
    """A view's picture, hatching, lines, breaks and border. texts: ink of the sizes in it, from whose lettering hatching keeps off."""
    scale = view_scale(sheet, view).factor
    boxes = [box for elements in texts or [] for box in text_boxes(elements)]
    return [
        *marks.picture_ink(geometry, scale),
        *marks.hatch_ink(view, geometry, facts, drawing, scale, boxes),
        *view_ink(view, geometry, drawing.profile, scale),
        *marks.interruption_ink(view, geometry, scale),
        *marks.half_section_ink(view, geometry, scale),
        *marks.detail_border_ink(view, scale, drawing.profile),
        *trail_ink(view, geometry, scale),
    ]


def outer_ink(drawing: Drawing, sheet: Sheet, view: View, geometry: ViewGeometry | None) -> dict[str, list[Element]]:
    """What stands at a view besides its own lines: its label, and by the id of the other view the cutting lines, viewing arrows and
    outlines of sections, auxiliary views and details taken from it (on any sheet)."""
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


def annotation_groups(drawing: Drawing, sheet: Sheet, facts: Facts) -> dict[str, Group | str]:
    """Ink of all annotations of a sheet by id: sizes broken where they cross each other, centers dashed so that they cross properly."""
    out: dict[str, Group | str] = {}
    sizes = size_inks(drawing, sheet, facts)
    inks = {key: ink for key, ink in sizes.items() if isinstance(ink, SizeInk)}
    positions = {v.id: (v.position.x, v.position.y) for v in sheet.views}
    origins = {a.id: positions[a.view] for a in sheet.annotations if a.id in inks}
    found = [a for a in sheet.annotations if isinstance(a, Dimension) and a.id in inks]
    numbers: balloon.Numbers | None = None
    broken(inks, frozenset(a.id for a in found if not a.breaks), drawing.profile, origins, {a.id: a.run for a in found if a.run})
    for key, ink in sizes.items():
        out[key] = ink if isinstance(ink, str) else Group(key, "annotation", origins[key], ink.elements(), ink)
    for view in sheet.views:
        scale = view_scale(sheet, view).factor
        frame = ViewFrame.of(view, facts, scale)
        drawn: list[tuple[str, list[centers.Stroke]]] = []
        for a in sheet.annotations:
            if a.view != view.id or registry.is_size(a):
                continue
            try:
                if isinstance(a, Balloon):
                    numbers = numbers or balloon.numbers_of(drawing, facts)
                    out[a.id] = Group(a.id, "annotation", positions[view.id], balloon.ink(a, numbers, facts, frame, drawing.profile, scale))
                elif a.kind == "hole_table":
                    out[a.id] = Group(a.id, "annotation", positions[view.id], registry.ink(a, facts, frame, drawing.profile, scale))
                else:
                    drawn.append((a.id, centers.strokes(a, facts, frame, scale, drawing.profile.center_past)))  # type: ignore[arg-type]
            except (SizeError, CommandError) as error:
                out[a.id] = str(error)
        for n, (key, mine) in enumerate(drawn):
            before, after = ([s for _, other in part for s in other] for part in (drawn[:n], drawn[n + 1 :]))
            elements = centers.ink(mine, before, after, drawing.profile) if view.centers else []
            out[key] = Group(key, "annotation", (view.position.x, view.position.y), elements)
    return {a.id: out.get(a.id, "Its view is no longer on the sheet.") for a in sheet.annotations}


def size_inks(drawing: Drawing, sheet: Sheet, facts: Facts) -> dict[str, SizeInk | str]:
    """Ink of all sizes of a sheet by id, before their lines break, or the sentence that says why there is none."""
    out: dict[str, SizeInk | str] = {}
    for view in sheet.views:
        mine = [a for a in sheet.annotations if a.view == view.id and isinstance(a, Dimension)]
        out |= _inks_of_view(mine, view, view_scale(sheet, view).factor, drawing.profile, facts, size_key(drawing, sheet, view))
    return {a.id: out[a.id] for a in sheet.annotations if a.id in out}


def size_key(drawing: Drawing, sheet: Sheet, view: View) -> bytes:
    """Names all that the ink and the words of a size in a view depend on besides the size and the model."""
    seen = view.model_copy(update={"position": Point(x=0, y=0)}).model_dump_json()
    return digest(str(view_scale(sheet, view).factor), drawing.profile.model_dump_json(), seen)


def _inks_of_view(sizes: list[Dimension], view: View, scale: float, profile: Profile, facts: Facts, seen: bytes) -> dict[str, SizeInk | str]:
    """Ink of a view's sizes by id, about its position. It is remembered with the model: most edits change one size of many."""
    frame = ViewFrame.of(view, facts, scale)
    shift: dict[str, float] = {}
    for run in {a.run for a in sizes if a.kind == "ordinate" and a.run}:
        shift |= ordinate.shifts([a for a in sizes if isinstance(a, OrdinateDimension) and a.run == run], facts, frame, profile, scale)

    def ink(a: Dimension, *dots: tuple[float, float]) -> SizeInk | str:
        more = (shift.get(a.id, 0.0), dots)
        try:
            key = (seen, more, digest(a.model_dump_json()))
            found = _INKS.recall(facts, key, partial(registry.size_ink, a, facts, frame, profile, scale, *more))
        except (SizeError, CommandError) as error:
            return str(error)
        return replace(found)  # breaks change it

    out = {a.id: ink(a) for a in sizes}
    tips: dict[tuple[str, float, float], list[Dimension]] = {}
    for a in sizes:
        link = out[a.id]
        if a.run_form == "chain" and a.run and isinstance(link, SizeInk):
            for x, y in link.outside:
                tips.setdefault((a.run, round(x, 3), round(y, 3)), []).append(a)
    crowded: dict[str, list[tuple[float, float]]] = {}
    for (_, x, y), links in tips.items():
        for a in links if len(links) > 1 else []:
            crowded.setdefault(a.id, []).append((x, y))
    return out | {a.id: ink(a, *crowded[a.id]) for a in sizes if a.id in crowded}


def annotation_group(drawing: Drawing, sheet: Sheet, annotation: Annotation, facts: Facts) -> Group | str:
    """Ink of one annotation about its view's position, or the sentence that says why it has none."""
    view = sheet.view(annotation.view)
    if view is None:
        return "Its view is no longer on the sheet."
    scale = view_scale(sheet, view).factor
    frame = ViewFrame.of(view, facts, scale)
    try:
        if isinstance(annotation, Balloon):
            elements = balloon.ink(annotation, balloon.numbers_of(drawing, facts), facts, frame, drawing.profile, scale)
        else:
            elements = registry.ink(annotation, facts, frame, drawing.profile, scale)
    except (SizeError, CommandError) as error:
        return str(error)
    return Group(annotation.id, "annotation", (view.position.x, view.position.y), elements)
