"""Views that a sheet lacks to say every number of its part: one beside the main view that looks squarely at
what is not given, an auxiliary view of what slants, a section through what is hidden, a detail of what is too
small at the scale. Each with the command that places it."""

from collections.abc import Iterator, Mapping, Sequence

import numpy as np

from drafting.completeness.gaps import gaps
from drafting.completeness.lines_shown import LinesShown
from drafting.completeness.needs import Need, needs_of, place_of
from drafting.completeness.proposal import Proposed
from drafting.completeness.surfaces import Array
from drafting.completeness.verdict import verdict
from drafting.completeness.wanted_details import WantedView, feature_of, others_at, wanted_details
from drafting.compose import fixed_obstacles
from drafting.context import Context
from drafting.document import Drawing, Sheet, View, new_id, view_scale
from drafting.features.recognized import features
from drafting.model.model import Facts
from drafting.views.extents import Box, model_box
from drafting.views.family import facing
from drafting.views.frame import ViewFrame
from drafting.views.geometry import ViewGeometry
from drafting.views.orientation import RELATIONS, Relation, projected
from drafting.views.section import across, perpendicular, side_of
from drafting.views.standing import beside, half_extents, is_free

BESIDE: tuple[Relation, ...] = ("right", "below", "left", "above")
WHERE = {"right": "at the right", "left": "at the left"}
FINISH = ("chamfer", "fillet", "round", "taper")
EXACT = 1e-6
SAME_PLANE = 1e-3
BEYOND = 5.0
"""How far a cutting line reaches past the part, paper mm."""


def more_views(
    drawing: Drawing,
    sheet: Sheet,
    proposed: Sequence[Proposed],
    geometries: Mapping[str, ViewGeometry],
    facts: Facts,
) -> list[WantedView]:
    """What to place so that the gaps that proposed sizes leave can be closed, and those do not stand on
    hidden lines, on circles seen at a slant or on lines too near to each other; each view once. geometries:
    of the sheet's views."""
    full = sheet.model_copy(update={"annotations": [*sheet.annotations, *(p.annotation for p in proposed)]})
    sheets = [full if s.id == sheet.id else s for s in drawing.sheets]
    after = drawing.model_copy(update={"sheets": sheets})
    found = verdict(after, facts)
    main = next((v for v in sheet.views if v.kind == "main" and not v.is_pictorial), None)
    if found.why_not or main is None:
        return []
    room = _Room(drawing, sheet, main, facts)
    out: dict[str, WantedView] = {}
    left = gaps(found, drawing.profile, facing(main).matrix() @ room.turn) if found.missing else []
    for gap in left:
        faces = [n for group in gap.groups for n in group]
        made = room.view_for(faces, gap.way, f"{gap.text[0].lower()}{gap.text[1:]}")
        out.setdefault(_what(made), made)
    poor: dict[str, tuple[str, list[str]]] = {}
    for p in proposed:
        context = Context(drawing, sheet, facts, sheet.view(p.view))
        lines = LinesShown.of(context, geometries[p.view])
        how = "on hidden lines" if lines.is_hidden(p.annotation) else "at a slant"
        if lines.is_hidden(p.annotation) or lines.is_oblique(p.annotation):
            what, faces = feature_of(p, room.part)
            poor.setdefault(what, (f"{what} is sized {how}.", faces))
    for why, faces in poor.values():
        made = room.view_for(faces, None, why)
        if made.command:
            out.setdefault(_what(made), made)
    for made in wanted_details(drawing, sheet, proposed, facts):
        out.setdefault(made.text, made)
    return list(out.values())


def _what(made: WantedView) -> str:
    """What a view would be placed as: the same one closes several gaps."""
    return repr({k: v for k, v in (made.command or {"text": made.text}).items() if k != "id"})


class _Room:
    """A sheet, and what can be placed on it."""

    def __init__(self, drawing: Drawing, sheet: Sheet, main: View, facts: Facts) -> None:
        self.drawing, self.sheet, self.main, self.facts = drawing, sheet, main, facts
        self.instance = facts.instances[0]
        self.part = facts.parts[self.instance.part]
        self.turn = np.array(self.instance.matrix)[:3, :3]
        self.views = [v for v in sheet.views if not v.is_pictorial and v.kind != "detail"]
        self.taken: list[Box] = fixed_obstacles(drawing, sheet, facts)

    def view_for(self, faces: Sequence[str], way: Sequence[float] | None, why: str) -> WantedView:
        """What would show something: the first of what it needs that no view does, else a section."""
        needs = [n.turned(self.turn) for n in needs_of(self.part, faces, way)]
        for need in needs:
            if not any(need.is_met(ViewFrame.of(v, self.facts).matrix) for v in self.views):
                made = self._projected(need) or self._auxiliary(need)
                if made is not None:
                    return made
        made = self._section(needs, faces, why)
        return made or WantedView(f"Another view, a section or a detail would show it better: {why}")

    def _projected(self, need: Need) -> WantedView | None:
        """A view beside the main one."""
        for relation in BESIDE:
            o = projected(self.main.orientation, relation, self.drawing.projection)
            if not need.is_met(o.matrix()):
                continue
            f = view_scale(self.sheet, self.main).factor
            own, other = half_extents(facing(self.main), self.facts, f), half_extents(o, self.facts, f)
            x, y = RELATIONS[relation]
            at = beside(self.main, (x, y), own, other, self.drawing.profile.view_gap)
            is_crowded = not self._is_free(at, other)
            command = {
                "command": "place_projected_view",
                "id": new_id(),
                "parent": self.main.id,
                "relation": relation,
                "position": {"x": at[0], "y": at[1]},
            }
            return WantedView(
                f"A view {WHERE.get(relation, relation)} would show what is not given.", command, is_crowded
            )
        return None

    def _auxiliary(self, need: Need) -> WantedView | None:
        """A view folded about a slanting line of another, so that it looks as is needed."""
        for parent in self.views:
            rows = facing(parent).matrix()
            for look in need.looks(rows[2]):
                flat = rows[:2] @ look
                if float(np.linalg.norm(flat)) < 1 - EXACT:
                    continue
                d = float(flat[1]), float(-flat[0])  # the line it is folded about
                for side in (1, -1):
                    made = self._folded(parent, d, side, need)
                    if made is not None:
                        return made
        return None

    def _folded(self, parent: View, d: tuple[float, float], side: int, need: Need) -> WantedView | None:
        n = perpendicular(np.array(d)) * side
        viewer = side_of([(0.0, 0.0), d], (float(n[0]), float(n[1])), self.drawing.projection)
        o = across(facing(parent), d, viewer, self.drawing.projection)
        if not need.is_met(o.matrix()):
            return None
        half = half_extents(o, self.facts, self._factor(parent))
        at = self._beside(parent, (float(n[0]), float(n[1])), half)
        command = {
            "command": "place_auxiliary_view",
            "id": new_id(),
            "parent": parent.id,
            "a": {"x": 0.0, "y": 0.0},
            "b": {"x": d[0], "y": d[1]},
            "position": {"x": at[0], "y": at[1]},
        }
        text = "An auxiliary view, square to what slants, would show what is not given."
        return WantedView(text, command, not self._is_free(at, half))

    def _is_free(self, at: tuple[float, float], half: tuple[float, float]) -> bool:
        """Whether a view stands clear of all others there."""
        return is_free(at, half, self.sheet, self.facts, self.taken, 0.0)

    def _factor(self, view: View) -> float:
        return view_scale(self.sheet, view).factor

    def _beside(
        self, parent: View, toward: tuple[float, float], other: tuple[float, float]
    ) -> tuple[float, float]:
        """Beside a view, further away where something stands there; next to it where there is no room."""
        own, gap = (
            half_extents(facing(parent), self.facts, self._factor(parent)),
            self.drawing.profile.view_gap,
        )
        places = [beside(parent, toward, own, other, gap * k) for k in (1.0, 0.6, 1.5, 2.5, 4.0, 6.0)]
        free = (at for at in places if is_free(at, other, self.sheet, self.facts, self.taken, gap / 4))
        return next(free, places[0])

    def _section(self, needs: Sequence[Need], faces: Sequence[str], why: str) -> WantedView | None:
        """Through the middle of what is hidden, along its axis or the direction in which it lies open."""
        place = place_of(self.part, faces)
        if place is None:
            return None
        at = self.turn @ place + np.array(self.instance.matrix)[:3, 3]
        inside = [n.way for n in needs]
        known = features(self.part)
        along = [self.turn @ np.array(w) for n in others_at(self.part, faces) if (w := known.others[n].along)]
        return (along and self._section_along([*inside, *along[:1]], at, why)) or self._section_along(
            inside, at, why
        )

    def _section_along(self, inside: Sequence[Array], at: Array, why: str) -> WantedView | None:
        """Through a place, with some directions in its plane."""
        for parent in self.views:
            if parent.section is not None or parent.interruptions:
                continue
            rows = facing(parent).matrix()
            flat = ViewFrame.of(parent, self.facts).flat(at)
            for d in _lines(rows, inside):
                square = rows[:2].T @ perpendicular(d)
                if any(abs(float(way @ square)) > EXACT for way in inside):
                    continue
                if any(self._cuts(v, at, square) for v in self.views):
                    continue
                return self._cut(parent, d, flat, why)
        return None

    def _cuts(self, view: View, at: Array, square: Array) -> bool:
        """Whether a section is cut there already."""
        if view.section is None:
            return False
        frame = ViewFrame.of(view, self.facts)
        is_parallel = abs(float(frame.matrix[2] @ square)) > 1 - EXACT
        middle = (np.array(self.facts.low) + np.array(self.facts.high)) / 2
        deep = float(frame.matrix[2] @ (at - middle))
        return is_parallel and any(abs(depth - deep) < SAME_PLANE for _, _, depth in frame.depths)

    def _cut(self, parent: View, d: Array, through: Array, why: str) -> WantedView:
        f, o = self._factor(parent), facing(parent)
        left, bottom, right, top = model_box(self.facts, o)
        reach = [
            float((np.array(c) - through) @ d)
            for c in ((left, bottom), (left, top), (right, bottom), (right, top))
        ]
        a, b = through + d * (min(reach) - BEYOND / f), through + d * (max(reach) + BEYOND / f)
        n = perpendicular(d)
        best: tuple[float, float] | None = None
        is_crowded = True
        for side in (1.0, -1.0):
            toward = float(n[0]) * side, float(n[1]) * side
            viewer = side_of([(0.0, 0.0), (float(d[0]), float(d[1]))], toward, self.drawing.projection)
            half = half_extents(
                across(o, (float(d[0]), float(d[1])), viewer, self.drawing.projection), self.facts, f
            )
            at = self._beside(parent, toward, half)
            if self._is_free(at, half):
                best, is_crowded = at, False
                break
            best = best or at
        assert best is not None
        command = {
            "command": "place_section",
            "id": new_id(),
            "parent": parent.id,
            "points": [{"x": round(float(p[0]), 6), "y": round(float(p[1]), 6)} for p in (a, b)],
            "position": {"x": best[0], "y": best[1]},
        }
        return WantedView(f"A section would show it better: {why}", command, is_crowded)


def _lines(rows: Array, ways: Sequence[Array]) -> Iterator[Array]:
    """Directions of cutting lines in a view: upright, level, and along what lies in its paper."""
    yield np.array([0.0, 1.0])
    yield np.array([1.0, 0.0])
    for way in ways:
        flat = rows[:2] @ way
        if float(np.linalg.norm(flat)) > 1 - EXACT:
            yield flat / float(np.linalg.norm(flat))
