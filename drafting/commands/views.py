"""Placing, moving and changing views."""

from typing import Annotated, Any, Literal

from pydantic import Field
from typing_extensions import override

from drafting import compose as composing
from drafting.commands.base import Command, ViewCommand, family_sheets, model_of, sheet_of, view_of
from drafting.document import Drawing, Identifier, Point, Sheet, Text, View, new_id, view_scale
from drafting.errors import CommandError
from drafting.model.model import Facts
from drafting.sheet import layout
from drafting.standards import patterns
from drafting.standards.scales import SERIES, Scale, fitting
from drafting.views import arrange, family
from drafting.views.extents import model_box, view_box
from drafting.views.interrupted import Warp
from drafting.views.orientation import Orientation, Relation, projected
from drafting.views.view import Interruption, Label, LineChange, RegionHatch

SetMember = Literal[
    "right", "left", "above", "below", "rear", "above-right", "above-left", "below-right", "below-left"
]


class PlaceMainView(Command):
    """Put a main or a pictorial view on a sheet."""

    command: Literal["place_main_view"]
    id: Identifier = Field(default_factory=new_id)
    sheet: Identifier
    orientation: Orientation
    position: Point
    pictorial: bool = False
    scale: Scale | None = None
    fit: bool = False
    """Choose a fitting standard scale where the view does not fit the sheet at the sheet's."""

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        kind: Any = "pictorial" if self.pictorial else "main"
        sheet = sheet_of(drawing, self.sheet)
        view = View(
            id=self.id,
            kind=kind,
            orientation=self.orientation,
            position=self.position,
            hidden_lines=not self.pictorial,
            centers=not self.pictorial,
            scale=self.scale,
        )
        if self.fit and facts is not None and self.scale is None:
            fit_scale(drawing, sheet, view, facts, alone=not sheet.views)
        sheet.views.append(view)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheet itself."""
        return {self.sheet}

    @override
    def title(self) -> str:
        return "Pictorial view placed" if self.pictorial else "Main view placed"


def fit_scale(drawing: Drawing, sheet: Sheet, view: View, facts: Facts, alone: bool) -> None:
    """The sheet's scale where the view fits the sheet at it; else a smaller standard one, of the sheet where
    the view is alone on it."""
    probe = view.model_copy(update={"scale": Scale()})
    left, bottom, right, top = view_box(probe, sheet, facts)
    room = layout.drawing_room(sheet)
    scale = fitting(drawing.profile.standard, right - left, top - bottom, room.width * 0.9, room.height * 0.9)
    if scale.factor >= sheet.scale.factor:
        return
    if alone:
        sheet.scale = scale
    else:
        view.scale = scale


class PlaceProjectedView(Command):
    """Project a view from another, to one of eight sides."""

    command: Literal["place_projected_view"]
    id: Identifier = Field(default_factory=new_id)
    parent: Identifier
    relation: Relation
    position: Point

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, parent = view_of(drawing, self.parent)
        add_projected(drawing, sheet, parent, self.relation, self.position, self.id)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheets of the family it joins."""
        return family_sheets(drawing, self.parent)

    @override
    def title(self) -> str:
        return "Pictorial view placed" if "-" in self.relation else "Projected view placed"


def add_projected(
    drawing: Drawing, sheet: Sheet, parent: View, relation: Relation, position: Point, view_id: str
) -> View:
    """A view projected from another; a pictorial one of a section is cut like it."""
    if parent.kind in ("pictorial", "detail"):
        what = "a pictorial view" if parent.kind == "pictorial" else "a detail"
        raise CommandError(
            f"Nothing is projected from {what}; pick a main, projected, section or auxiliary view."
        )
    diagonal = "-" in relation
    view = View(
        id=view_id,
        kind="pictorial" if diagonal else "projected",
        parent=parent.id,
        relation=relation,
        orientation=projected(parent.orientation, relation, drawing.projection),
        position=arrange.aligned(parent, relation, position),
        scale=parent.scale,
        hidden_lines=not diagonal,
        centers=not diagonal,
        without=parent.without,
        section=parent.section if diagonal else None,
    )
    sheet.views.append(view)
    return view


class PlaceStandardSet(Command):
    """A main view and the chosen views about it, spaced for sizes, at a fitting standard scale where the
    sheet is still empty."""

    command: Literal["place_standard_set"]
    sheet: Identifier
    orientation: Orientation
    members: Annotated[list[SetMember], Field(max_length=9)]
    position: Point
    ids: list[Identifier] = Field(default_factory=lambda: [new_id() for _ in range(10)])
    scale: Scale | None = None
    without: list[Text] = []

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        known, sheet = model_of(facts), sheet_of(drawing, self.sheet)
        if len(set(self.members)) < len(self.members) or len(self.ids) < len(self.members) + 1:
            raise CommandError("Each view of the set is chosen once.")
        empty = not sheet.views
        main = View(
            id=self.ids[0],
            kind="main",
            orientation=self.orientation,
            position=self.position,
            scale=None if empty else self.scale,
            without=self.without,
        )
        sheet.views.append(main)
        views = [main]
        for member, view_id in zip(self.members, self.ids[1:], strict=False):
            parent, relation = main, member
            if member == "rear":  # beyond the side view where there is one
                beside = next((v for v in views if v.relation in ("right", "left")), None)
                if beside is None:
                    raise CommandError("A rear view stands beyond a side view; choose one of those as well.")
                parent, relation = beside, beside.relation or "right"
            views.append(add_projected(drawing, sheet, parent, relation, self.position, view_id))  # type: ignore[arg-type]
        if empty:
            sheet.scale = self.scale or arrange.fitting_scale(sheet, views, known, drawing.profile)
        arrange.spread(sheet, [main, *arrange.descendants(sheet, main.id)], known, drawing.profile.view_gap)
        boxes = [(v, view_box(v, sheet, known)) for v in views]
        middle_x = (
            min(v.position.x + b[0] for v, b in boxes) + max(v.position.x + b[2] for v, b in boxes)
        ) / 2
        middle_y = (
            min(v.position.y + b[1] for v, b in boxes) + max(v.position.y + b[3] for v, b in boxes)
        ) / 2
        for v in views:
            v.position = Point(
                x=v.position.x + self.position.x - middle_x, y=v.position.y + self.position.y - middle_y
            )
        arrange.within_frame(sheet, views, known)

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheet itself."""
        return {self.sheet}

    @override
    def title(self) -> str:
        return f"Standard set of {len(self.members) + 1} views placed"


class MoveView(ViewCommand):
    """Move a view; views that hang on it go along, and it stays aligned with its parent unless it was freed.

    A section or auxiliary view moved to the other side of its line is seen from there: the arrows flip.
    """

    command: Literal["move_view"]
    position: Point

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, view = view_of(drawing, self.view)
        arrange.move(drawing, sheet, view, self.position)

    @override
    def title(self) -> str:
        return "View moved"


class ChangeView(ViewCommand):
    """Change what a view shows; unset fields stay. scale None with sheet_scale takes the sheet's."""

    command: Literal["change_view"]
    hidden_lines: bool | None = None
    tangent_edges: bool | None = None
    tangent_thin: bool | None = None
    threads: bool | None = None
    centers: bool | None = None
    scale: Scale | None = None
    sheet_scale: bool = False
    turned: Annotated[float, Field(ge=-360, le=360)] | None = None
    free: bool | None = None
    distance: Annotated[float, Field(ge=0, le=1e6)] | None = None
    """Of the eye, mm; 0 for parallel rays."""
    shading: Literal["lines", "shaded", "shaded_edges"] | None = None
    label: Label | None = None
    letter: Annotated[str, Field(max_length=4, pattern=r"^[A-Za-z0-9]*$")] | None = None
    without: list[Text] | None = None
    exploded: Text | None = None
    trails_off: Annotated[list[Text], Field(max_length=2000)] | None = None
    trail_shifts: Annotated[dict[Text, Point], Field(max_length=2000)] | None = None
    no_hidden: list[Text] | None = None
    transparent: list[Text] | None = None
    interruptions: Annotated[list[Interruption], Field(max_length=12)] | None = None
    hatch_pattern: Text | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, view = view_of(drawing, self.view)
        plain = (
            "hidden_lines",
            "tangent_edges",
            "tangent_thin",
            "threads",
            "centers",
            "turned",
            "shading",
            "label",
            "without",
            "exploded",
            "trails_off",
            "trail_shifts",
            "no_hidden",
            "transparent",
            "interruptions",
            "hatch_pattern",
        )
        if self.distance and view.kind != "pictorial":
            raise CommandError(
                "Perspective is for pictorial views; sizes on other views would not read true."
            )
        if self.interruptions and (view.kind in ("pictorial", "detail") or view.distance):
            raise CommandError("A pictorial view or a detail is not interrupted.")
        if self.interruptions and any(abs(i.last - i.first) < 1e-6 for i in self.interruptions):
            raise CommandError("A break leaves out a piece between two different places.")
        if facts is not None and self.exploded and self.exploded not in [s.name for s in facts.exploded]:
            raise CommandError(f"The assembly has no exploded state called {self.exploded}.")
        if facts is not None and self.without is not None and len(self.without) >= len(facts.instances):
            raise CommandError("A view shows at least one part.")
        for name in plain:
            value = getattr(self, name)
            if value is not None:
                setattr(view, name, value)
        if self.hatch_pattern:
            patterns.check(self.hatch_pattern, drawing.patterns)
        if self.letter is not None and self.letter != view.letter:
            if self.letter and self.letter in family.used_letters(drawing):
                raise CommandError(f"The letter {self.letter} is taken by another view.")
            view.letter = self.letter
        if self.distance is not None:
            view.distance = self.distance or None
        if self.free is not None:
            view.free = self.free
            if not self.free:
                arrange.move(drawing, sheet, view, view.position)
        if self.scale is not None:
            view.scale = self.scale
        if self.sheet_scale:
            view.scale = None

    @override
    def title(self) -> str:
        return "View changed"


class InterruptView(ViewCommand):
    """Leave out the piece of a view between two places of it (view mm, as drawn), across the way that they
    lie apart."""

    command: Literal["interrupt_view"]
    a: Point
    b: Point
    line: Literal["freehand", "zigzag", "round", "tube"] = "freehand"
    across: Literal["horizontal", "vertical"] | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet, view = view_of(drawing, self.view)
        if view.kind in ("pictorial", "detail"):
            raise CommandError(
                "A pictorial view or a detail is not interrupted; pick a main, projected or section view."
            )
        if view.broken_out:
            raise CommandError("A view that is broken out is not interrupted.")
        warp = Warp.of(view, view_scale(sheet, view).factor)
        a, b = warp.back((self.a.x, self.a.y)), warp.back((self.b.x, self.b.y))
        level = self.across or ("horizontal" if abs(b[0] - a[0]) >= abs(b[1] - a[1]) else "vertical")
        first, last = sorted((a[0], b[0]) if level == "horizontal" else (a[1], b[1]))
        added = Interruption(across=level, first=first, last=last, line=self.line)
        if (last - first) * view_scale(sheet, view).factor <= added.gap:
            raise CommandError("The piece to leave out is shorter than the gap that stands for it.")
        if facts is not None:
            left, bottom, right, top = model_box(facts, family.facing(view), view.without)
            low, high = (left, right) if level == "horizontal" else (bottom, top)
            if first <= low or last >= high:
                raise CommandError("A break lies within the part, with some of it left at both ends.")
        view.interruptions = [*view.interruptions, added]

    @override
    def title(self) -> str:
        return "View interrupted"


class MoveToSheet(Command):
    """Move a view to another sheet with the sizes in it; views that hang on it stay where they are."""

    command: Literal["move_to_sheet"]
    view: Identifier
    sheet: Identifier
    position: Point | None = None

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        source, view = view_of(drawing, self.view)
        target = sheet_of(drawing, self.sheet)
        if source.id == target.id:
            raise CommandError("The view is on that sheet already.")
        if view.scale is None and source.scale != target.scale:
            view.scale = source.scale
        if view.scale == target.scale:
            view.scale = None
        taken = [a for a in source.annotations if source.view_of(a) is view]
        source.views = [v for v in source.views if v.id != view.id]
        source.annotations = [a for a in source.annotations if a not in taken]
        view.position = self.position or Point(
            x=layout.drawing_room(target).center[0], y=layout.drawing_room(target).center[1]
        )
        target.views.append(view)
        target.annotations += taken

    @override
    def title(self) -> str:
        return "View moved to another sheet"


class ArrangeSheet(Command):
    """Lay out the views of a sheet without overlap, at the largest standard scale that fits; the projection
    method is kept."""

    command: Literal["arrange_sheet"]
    sheet: Identifier
    keep_scale: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        sheet = sheet_of(drawing, self.sheet)
        if not sheet.views:
            raise CommandError("There is no view on this sheet to arrange.")
        known, profile = model_of(facts), drawing.profile
        scales = [sheet.scale] if self.keep_scale else SERIES[profile.standard]
        fixed = composing.fixed_obstacles(drawing, sheet, known)
        arrange.arrange_sheet(
            sheet, scales, known, profile, fixed, composing.boxes_along(drawing, sheet, known)
        )

    @override
    def touches(self, drawing: Drawing) -> set[str] | None:
        """The sheet itself."""
        return {self.sheet}

    @override
    def title(self) -> str:
        return "Sheet arranged"


class ChangeLine(ViewCommand):
    """Draw one edge of a view, or a part of it, in another kind of line, not at all, or as before ("" takes
    the change away)."""

    command: Literal["change_line"]
    change: LineChange
    restore: bool = False

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        c = self.change
        if c.last <= c.first:
            raise CommandError("A part of an edge runs from a lower to a higher place on it.")
        same = [x for x in view.lines if (x.instance, x.source, x.role) == (c.instance, c.source, c.role)]
        whole = c.first == 0 and c.last == 1
        view.lines = [
            x for x in view.lines if x not in same or (not whole and (x.last <= c.first or x.first >= c.last))
        ]
        if not self.restore:
            view.lines.append(c)
        elif not same:
            raise CommandError("That edge is drawn as it always was.")

    @override
    def title(self) -> str:
        return (
            "Edge drawn as before"
            if self.restore
            else "Edge hidden"
            if self.change.line == "none"
            else "Edge drawn in another line"
        )


class HatchRegion(ViewCommand):
    """Hatch the closed region around a point of a view, or change hatching already there (same id)."""

    command: Literal["hatch_region"]
    hatch: RegionHatch

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        patterns.check(self.hatch.pattern, drawing.patterns)
        view.hatches = [h for h in view.hatches if h.id != self.hatch.id] + [self.hatch]

    @override
    def title(self) -> str:
        return "Region hatched"


class RemoveHatch(ViewCommand):
    """Take the hatching of a region away."""

    command: Literal["remove_hatch"]
    hatch: Identifier

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        _, view = view_of(drawing, self.view)
        kept = [h for h in view.hatches if h.id != self.hatch]
        if len(kept) == len(view.hatches):
            raise CommandError("That hatching is no longer in the view.")
        view.hatches = kept

    @override
    def title(self) -> str:
        return "Hatching removed"


class BringPatterns(Command):
    """Take the hatch patterns of a `.pat` file into the drawing."""

    command: Literal["bring_patterns"]
    text: Annotated[str, Field(max_length=400_000)]

    @override
    def apply(self, drawing: Drawing, facts: Facts | None = None) -> None:
        found = patterns.read(self.text)
        drawing.patterns = {**drawing.patterns, **found}
        if len(drawing.patterns) > 200:
            raise CommandError("A drawing holds at most 200 patterns of its own.")

    @override
    def title(self) -> str:
        return "Hatch patterns brought in"
