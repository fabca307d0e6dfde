"""Placing and changing sections, broken-out places, auxiliary views and details."""

from typing import Annotated, Literal

import shapely
from pydantic import Field
from typing_extensions import override

from drafting.commands.base import Command, ViewCommand, family_sheets, view_of
from drafting.document import Coordinate, Drawing, Identifier, Point, Sheet, Text, View, new_id, view_scale
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.standards.scales import SERIES, Scale
from drafting.views import arrange, family
from drafting.views.extents import model_box
from drafting.views.interrupted import Warp
from drafting.views.section import across, check_line, legs_of, side_of
from drafting.views.view import (
    Auxiliary,
    BrokenOut,
    CuttingLine,
    DetailOutline,
    LeftWhole,
    Outline,
    Points,
    Section,
)

Form = Literal["straight", "aligned", "half"]


def in_parent(sheet: Sheet, parent: View, at: Point) -> tuple[float, float]:
    """A place on the sheet in the parent's view mm at 1:1."""
    f = (parent.scale or sheet.scale).factor
    return (at.x - parent.position.x) / f, (at.y - parent.position.y) / f


def _usable(parent: View) -> None:
    if parent.kind in ("pictorial", "detail"):
        what = "a pictorial view" if parent.kind == "pictorial" else "a detail"
        raise CommandError(
            f"A cutting line cannot be drawn in {what}; pick a main, projected or section view."
        )


class PlaceSection(Command):
    """A section from a cutting line drawn in a view (points in its view mm). Where it is placed tells from
    which side it is seen.

    removed: it stands free of its parent and shows only the cut.
    """

    command: Literal["place_section"]
    id: Identifier = Field(default_factory=new_id)
    parent: Identifier
    points: Points
    form: Form = "straight"
    position: Point
    removed: bool = False
    only_cut: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, parent = view_of(drawing, self.parent)
        _usable(parent)
        warp = Warp.of(parent, view_scale(sheet, parent).factor)
        points = [warp.back((p.x, p.y)) for p in self.points]
        check_line(points, self.form)
        base = family.facing(parent)
        if facts is not None:
            _check_meets(points, model_box(facts, base, parent.without))
        viewer = side_of(points, in_parent(sheet, parent, self.position), drawing.projection)
        d = legs_of(points)[0]
        along = (float(d[0]), float(d[1]))
        line = CuttingLine(
            points=[Point(x=x, y=y) for x, y in points],
            form=self.form,
            viewer=1 if viewer > 0 else -1,
            base=base,
        )
        view = View(
            id=self.id,
            kind="section",
            parent=parent.id,
            orientation=across(base, along, viewer, drawing.projection),
            position=self.position,
            fold=Point(x=along[0], y=along[1]),
            free=self.removed,
            scale=parent.scale,
            letter=family.next_letter(drawing),
            hidden_lines=False,
            section=Section(line=line, only_cut=self.only_cut or self.removed),
            without=parent.without,
        )
        if not self.removed:
            view.position = arrange.level(parent, view, self.position)
        sheet.views.append(view)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the family it joins."""
        return family_sheets(drawing, self.parent)

    @override
    def title(self) -> str:
        return "Removed section placed" if self.removed else "Section placed"


def _check_meets(points: list[tuple[float, float]], box: tuple[float, float, float, float]) -> None:
    outline = shapely.box(*box)
    a, b = points[0], points[-1]
    d = legs_of(points)
    size = max(box[2] - box[0], box[3] - box[1]) * 4
    line = shapely.LineString(
        [
            (a[0] - d[0][0] * size, a[1] - d[0][1] * size),
            *points[1:-1],
            (b[0] + d[-1][0] * size, b[1] + d[-1][1] * size),
        ]
    )
    if not line.intersects(outline):
        raise CommandError("The cutting line misses the part; draw it through the view.")


class ChangeSection(ViewCommand):
    """Change a section's line or what it shows; unset fields stay. flip: look from the other side where it
    stands free."""

    command: Literal["change_section"]
    points: Points | None = None
    form: Form | None = None
    shown: bool | None = None
    only_cut: bool | None = None
    whole: list[Text] | None = None
    cut: list[Text] | None = None
    flip: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, view = view_of(drawing, self.view)
        section = view.section
        if view.kind != "section" or section is None:
            raise CommandError("That view is not a section.")
        section = section.model_copy(deep=True)
        line = section.line
        if self.points is not None or self.form is not None:
            points, form = self.points or line.points, self.form or line.form
            check_line([(p.x, p.y) for p in points], form)
            line.points, line.form = points, form
        if self.shown is not None:
            line.shown = self.shown
        if self.only_cut is not None:
            section.only_cut = self.only_cut
        if self.whole is not None:
            section.whole = self.whole
        if self.cut is not None:
            section.cut = self.cut
        if self.flip:
            line.viewer = -1 if line.viewer == 1 else 1
            parent = sheet.view(view.parent or "")
            if parent and not view.free:
                view.position = Point(
                    x=2 * parent.position.x - view.position.x, y=2 * parent.position.y - view.position.y
                )
        view.section = section
        if self.points is not None:
            family.refresh(drawing)
            arrange.move(drawing, sheet, view, view.position)

    @override
    def title(self) -> str:
        return "Cutting line moved" if self.points is not None else "Section changed"


class BreakOut(ViewCommand):
    """Cut a view open within a closed outline down to a depth (mm toward the viewer from the model's
    middle)."""

    command: Literal["break_out"]
    id: Identifier = Field(default_factory=new_id)
    outline: Outline
    depth: Coordinate

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if view.kind in ("pictorial", "detail"):
            raise CommandError(
                "A pictorial view or a detail is not broken out; pick a main or projected view."
            )
        if view.turned or view.interruptions:
            raise CommandError("A view that is turned or interrupted is not broken out.")
        view.broken_out = [*view.broken_out, BrokenOut(id=self.id, outline=self.outline, depth=self.depth)]

    @override
    def title(self) -> str:
        return "View broken out"


class ChangeBreakOut(ViewCommand):
    """Change the outline or the depth of a broken-out place; unset fields stay."""

    command: Literal["change_break_out"]
    id: Identifier
    outline: Outline | None = None
    depth: Coordinate | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        found = next((b for b in view.broken_out if b.id == self.id), None)
        if found is None:
            raise CommandError("That broken-out place is no longer in the view.")
        changed = {k: v for k, v in (("outline", self.outline), ("depth", self.depth)) if v is not None}
        view.broken_out = [b.model_copy(update=changed) if b.id == self.id else b for b in view.broken_out]

    @override
    def title(self) -> str:
        return "Broken-out place changed"


class RemoveBreakOut(ViewCommand):
    """Close a broken-out place again."""

    command: Literal["remove_break_out"]
    id: Identifier

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if all(b.id != self.id for b in view.broken_out):
            raise CommandError("That broken-out place is no longer in the view.")
        view.broken_out = [b for b in view.broken_out if b.id != self.id]

    @override
    def title(self) -> str:
        return "Broken-out place closed"


class LeaveWhole(ViewCommand):
    """Show a rib or web within a closed outline (view mm) as not cut: unhatched, with visible lines where it
    meets what is cut."""

    command: Literal["leave_whole"]
    id: Identifier = Field(default_factory=new_id)
    outline: Outline

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if not (view.section or view.broken_out):
            raise CommandError("Nothing is cut in that view; a web is left whole in a section.")
        if not closed_outline(self.outline):
            raise CommandError("The outline of a web is closed and does not cross itself.")
        view.left_whole = [*view.left_whole, LeftWhole(id=self.id, outline=self.outline)]

    @override
    def title(self) -> str:
        return "Web left whole"


class CutAgain(ViewCommand):
    """Hatch a web again that was left whole."""

    command: Literal["cut_again"]
    id: Identifier

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if all(w.id != self.id for w in view.left_whole):
            raise CommandError("That web is no longer marked in the view.")
        view.left_whole = [w for w in view.left_whole if w.id != self.id]

    @override
    def title(self) -> str:
        return "Web cut again"


class PlaceAuxiliaryView(Command):
    """A view square to a straight edge of its parent, or to the line through two points (view mm).

    instance and face: the oblique face the edge belongs to; only_face shows nothing else.
    """

    command: Literal["place_auxiliary_view"]
    id: Identifier = Field(default_factory=new_id)
    parent: Identifier
    a: Point
    b: Point
    position: Point
    instance: Text = ""
    face: Text = ""
    only_face: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, parent = view_of(drawing, self.parent)
        _usable(parent)
        points = [(self.a.x, self.a.y), (self.b.x, self.b.y)]
        d = legs_of(points)[0]
        along = Point(x=float(d[0]), y=float(d[1]))
        viewer = side_of(points, in_parent(sheet, parent, self.position), drawing.projection)
        base = family.facing(parent)
        face = (
            (self.instance, self.face) if self.face or facts is None else oblique_face(facts, base, d, viewer)
        )
        view = View(
            id=self.id,
            kind="auxiliary",
            parent=parent.id,
            orientation=across(base, (along.x, along.y), viewer, drawing.projection),
            position=self.position,
            fold=along,
            scale=parent.scale,
            letter=family.next_letter(drawing),
            hidden_lines=False,
            auxiliary=Auxiliary(
                along=along,
                at=Point(x=(self.a.x + self.b.x) / 2, y=(self.a.y + self.b.y) / 2),
                viewer=1 if viewer > 0 else -1,
                base=base,
                instance=face[0],
                face=face[1],
                only_face=self.only_face and bool(face[1]),
            ),
            without=parent.without,
        )
        view.position = arrange.level(parent, view, self.position)
        sheet.views.append(view)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the family it joins."""
        return family_sheets(drawing, self.parent)

    @override
    def title(self) -> str:
        return "Auxiliary view placed"


def oblique_face(facts: Facts, base: object, d: object, viewer: int) -> tuple[str, str]:
    """Instance and name of the largest plane face square to the view, so shown in its true shape; empty where
    there is none."""
    import numpy as np

    from drafting.views.orientation import Orientation
    from drafting.views.section import perpendicular

    assert isinstance(base, Orientation)
    toward = base.matrix()[:2].T @ (perpendicular(np.asarray(d)) * viewer)
    best: tuple[float, str, str] = (0.0, "", "")
    for instance in facts.instances:
        part, turn = facts.parts[instance.part], np.array(instance.matrix)[:3, :3]
        for face in part.faces:
            if face.kind == "plane" and float((turn @ np.array(face.axis)) @ toward) > 1 - 1e-5:
                size = sum(e.length for e in part.edges if face.name in e.faces)
                best = max(best, (size, instance.path, face.name))
    return best[1], best[2]


class ChangeAuxiliary(ViewCommand):
    """Change what an auxiliary view is square to, or whether it shows one face alone; unset fields stay."""

    command: Literal["change_auxiliary"]
    only_face: bool

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if view.auxiliary is None:
            raise CommandError("That view is not an auxiliary view.")
        if self.only_face and not view.auxiliary.face:
            raise CommandError("No plane face lies square to this view; it cannot be drawn alone.")
        view.auxiliary = view.auxiliary.model_copy(update={"only_face": self.only_face})

    @override
    def title(self) -> str:
        return "Auxiliary view changed"


def closed_outline(points: list[Point]) -> bool:
    """Whether points go around a region without crossing themselves."""
    shape = shapely.Polygon([(p.x, p.y) for p in points]) if len(points) > 2 else shapely.Polygon()
    return bool(shape.is_valid and shape.area > 1e-6)


def check_outline(d: DetailOutline) -> None:
    """Raises CommandError for an outline that bounds nothing."""
    if d.shape == "free" and not closed_outline(d.points):
        raise CommandError("A free outline is closed and does not cross itself.")


class PlaceDetail(Command):
    """A detail of a view within an outline (view mm), at a larger standard scale unless one is given."""

    command: Literal["place_detail"]
    id: Identifier = Field(default_factory=new_id)
    parent: Identifier
    outline: DetailOutline
    position: Point
    scale: Scale | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, parent = view_of(drawing, self.parent)
        if parent.kind == "detail":
            raise CommandError("A detail is taken from the view itself, not from another detail.")
        check_outline(self.outline)
        if facts is not None:
            _check_inside(self.outline, model_box(facts, family.facing(parent), parent.without))
        view = View(
            id=self.id,
            kind="detail",
            parent=parent.id,
            orientation=parent.orientation,
            turned=parent.turned,
            position=self.position,
            scale=self.scale or larger(drawing, parent.scale or sheet.scale),
            letter=family.next_letter(drawing),
            detail=self.outline,
            hidden_lines=parent.hidden_lines,
            tangent_edges=parent.tangent_edges,
            without=parent.without,
            section=parent.section,
            broken_out=parent.broken_out,
            distance=parent.distance,
        )
        sheet.views.append(view)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the family it joins."""
        return family_sheets(drawing, self.parent)

    @override
    def title(self) -> str:
        return "Detail placed"


def _check_inside(outline: DetailOutline, box: tuple[float, float, float, float]) -> None:
    reach = {"circle": outline.radius, "rectangle": max(outline.width, outline.height) / 2}.get(
        outline.shape, 0.0
    )
    x, y = outline.center.x, outline.center.y
    if outline.shape == "free":
        reach = max(max(abs(p.x - x), abs(p.y - y)) for p in outline.points)
    if x + reach < box[0] or x - reach > box[2] or y + reach < box[1] or y - reach > box[3]:
        raise CommandError("There is nothing of the part inside that outline; draw it on the view.")


def larger(drawing: Drawing, scale: Scale) -> Scale:
    """The next larger standard scale."""
    series = sorted(SERIES[drawing.profile.standard], key=lambda s: s.factor)
    above = [s for s in series if s.factor > scale.factor + 1e-9]
    return above[0] if above else series[-1]


class ChangeDetail(ViewCommand):
    """Move or resize a detail's outline, or change its border."""

    command: Literal["change_detail"]
    outline: Annotated[DetailOutline, Field()]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        if view.detail is None:
            raise CommandError("That view is not a detail.")
        check_outline(self.outline)
        if facts is not None:
            _check_inside(self.outline, model_box(facts, family.facing(view), view.without))
        view.detail = self.outline

    @override
    def title(self) -> str:
        return "Detail changed"
