"""The centers a view still lacks: rows and grids of equal holes, bolt circles, axes of cylinders seen from
the side."""

import contextlib
import hashlib
import math
from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components

from drafting.annotation import registry
from drafting.annotation.kinds.bolt_circle import BoltCircle
from drafting.annotation.kinds.center_line import CenterLine
from drafting.annotation.kinds.center_mark import CenterMark
from drafting.annotation.kinds.centers import Array, Center, circle_of
from drafting.annotation.measuring import measure
from drafting.annotation.measuring.ring import fitted_circle
from drafting.context import Context
from drafting.document import MOST_PICKS, Pick, View, in_view
from drafting.errors import SizeError
from drafting.views.geometry import ViewCurve, ViewGeometry

HALF = math.pi * 1.01
"""Arcs of more than about half a turn count as circles."""
GRID = 1e-3


@dataclass(frozen=True)
class Circle:
    """A circle seen true: place (view mm, drawn), radius and what it is."""

    at: tuple[float, float]
    radius: float
    pick: Pick


def circles(geometry: ViewGeometry, context: Context, least: float = 0.0) -> list[Circle]:
    """Circles a view shows, one for each place: of concentric ones the largest. least: smallest diameter,
    model mm."""
    found: dict[tuple[int, int], Circle] = {}
    asked: set[tuple[int, str, str]] = set()
    pieces = _pieces(geometry, context)
    for c in geometry.curves:
        key = (c.instance, c.source, c.role)
        if (
            c.kind != "arc"
            or c.edge_class not in ("sharp", "cut")
            or c.role == "silhouette"
            or key in asked
            or _turn(c, pieces, geometry, context) < HALF
        ):
            continue
        if not (c.visible or _view(context).hidden_lines):
            continue
        asked.add(key)
        pick = Pick(instance=geometry.instances[c.instance], source=c.source, role=c.role)
        try:
            at, radius = circle_of(pick, context)
        except SizeError:
            continue
        place = (round(float(at[0]) / GRID), round(float(at[1]) / GRID))
        if 2 * radius >= least and (place not in found or found[place].radius < radius):
            found[place] = Circle((float(at[0]), float(at[1])), radius, pick)
    return list(found.values())


Pieces = dict[tuple[int, frozenset[str]], list[ViewCurve]]


def _pieces(geometry: ViewGeometry, context: Context) -> Pieces:
    """Free curves that are seen as arcs, by the instance and the faces that they lie between."""
    out: Pieces = defaultdict(list)
    for c in geometry.curves:
        found = context.facts.part_of(geometry.instances[c.instance]) if c.kind == "arc" else None
        edge = found[1].edge(c.source) if found and c.role == "edge" else None
        if edge is not None and edge.kind != "circle":
            out[c.instance, frozenset(edge.faces)].append(c)
    return out


def _turn(c: ViewCurve, pieces: Pieces, geometry: ViewGeometry, context: Context) -> float:
    """How far an arc goes, radians, with the pieces that its writer split it in: of a circle, as far of each
    as of this one; of a free curve that is seen as an arc, as far as those between the same faces are."""
    shown = c.data[4] - c.data[3]
    found = context.facts.part_of(geometry.instances[c.instance]) if c.role == "edge" else None
    edge = found[1].edge(c.source) if found else None
    if found is None or edge is None or shown >= HALF:
        return shown
    if edge.kind == "circle":
        whole = found[1].arc(edge)
        return shown * (whole.last - whole.first) / (edge.last - edge.first)
    alike = pieces.get((c.instance, frozenset(edge.faces)), [])
    return sum(
        other.data[4] - other.data[3] for other in alike if math.dist(other.data[:3], c.data[:3]) < GRID
    )


def unmarked(found: Sequence[Circle], context: Context) -> list[Circle]:
    """Circles of a view without a center mark or bolt circle on them."""
    marked: list[Array] = []
    for a in context.sheet.annotations:
        if a.view == context.view_id and isinstance(a, CenterMark | BoltCircle):
            for pick in a.picks:
                try:
                    marked.append(circle_of(pick, context)[0])
                except SizeError:
                    continue
    places = np.array(marked).reshape(-1, 2)
    return [c for c in found if not len(places) or np.abs(places - np.array(c.at)).max(1).min() > GRID]


def lacking(geometry: ViewGeometry, context: Context, least: float = 0.0) -> list[Center]:
    """All centers a view still lacks. least: smallest diameter of a circle to mark, model mm. Ids follow from
    the picks alone."""
    view = _view(context)
    every = circles(geometry, context, least)
    left = unmarked(every, context)
    out: list[Center] = []
    for pattern in bolt_circles(left, every):
        out.append(BoltCircle(id=_id(view, pattern), anchor=in_view(view.id, [c.pick for c in pattern])))
        ids = {id(c) for c in pattern}
        left = [c for c in left if id(c) not in ids]
    for group in (g[k : k + MOST_PICKS] for g in rows(left) for k in range(0, len(g), MOST_PICKS)):
        out.append(CenterMark(id=_id(view, group), anchor=in_view(view.id, [c.pick for c in group])))
    return out + _axes(geometry, context)


def _view(context: Context) -> View:
    """The view of a context that has one."""
    assert context.view is not None
    return context.view


def _id(view: View, group: Sequence[Circle]) -> str:
    return _named(view, [c.pick for c in group])


def _named(view: View, picks: Sequence[Pick]) -> str:
    said = "|".join([view.id, *(f"{p.instance}/{p.source}" for p in picks)])
    return "c" + hashlib.sha256(said.encode()).hexdigest()[:14]


def bolt_circles(found: Sequence[Circle], every: Sequence[Circle]) -> list[list[Circle]]:
    """Equal holes evenly spaced on a circle: about another circle of the view, or five and more of them about
    nothing; an arc counts."""
    out: list[list[Circle]] = []
    free = list(found)
    for radius in sorted({round(c.radius, 4) for c in found}):
        group = [c for c in free if abs(c.radius - radius) < 1e-3]
        equal = {id(c) for c in group}
        middles = [np.array(c.at) for c in every if c.radius > radius + 1e-3 or id(c) not in equal]
        if len(group) >= 5:
            with contextlib.suppress(SizeError):
                middles.append(fitted_circle(np.array([c.at for c in group]))[0])
        for middle in middles:
            taken: set[int] = set()
            away = np.array([c.at for c in group]).reshape(-1, 2) - middle
            distance = np.linalg.norm(away, axis=1) if len(group) else np.zeros(0)
            for ring in _equally_far(distance):
                even = _even(np.arctan2(away[ring, 1], away[ring, 0])) if len(ring) >= 3 else False
                if even and float(distance[ring].mean()) > radius:
                    out.append([group[i] for i in ring])
                    taken |= {id(c) for c in out[-1]}
            if taken:
                group = [c for c in group if id(c) not in taken]
                free = [c for c in free if id(c) not in taken]
    return out


def _equally_far(distance: Array) -> list[list[int]]:
    """Numbers of distances that are equal together, in their order."""
    order = np.argsort(distance, kind="stable")
    if not len(order):
        return []
    ends = np.flatnonzero(np.diff(distance[order]) > 1e-3) + 1
    return [sorted(part.tolist()) for part in np.split(order, ends)]


def _even(angles: Array) -> bool:
    """Equal steps all around, or with one wider gap."""
    t = np.sort(angles)
    gaps = np.sort(np.diff(np.concatenate([t, [t[0] + 2 * math.pi]])))
    return bool(gaps[-2] - gaps[0] < 1e-5 and (gaps[-1] - gaps[0] < 1e-5 or len(gaps) > 3))


def rows(found: Sequence[Circle]) -> list[list[Circle]]:
    """Equal circles that stand in a row or column with others, joined into groups; the rest alone.
    Subassemblies are not joined to each other: that two of them stand in line says nothing of the holes in
    them."""
    sizes = _equally_far(np.array([c.radius for c in found]))
    size_of = {n: k for k, members in enumerate(sizes) for n in members}
    alike: dict[tuple[str, int], list[int]] = {}
    for n, c in enumerate(found):
        alike.setdefault((c.pick.instance.rpartition("/")[0], size_of[n]), []).append(n)
    pairs: list[tuple[int, int]] = []
    for members in alike.values():
        at = np.array([found[n].at for n in members])
        for axis in (0, 1):
            order = np.argsort(at[:, axis], kind="stable")
            near = np.flatnonzero(np.diff(at[order, axis]) < GRID)
            pairs += [(members[order[k]], members[order[k + 1]]) for k in near.tolist()]
    ends = np.array(pairs, int).reshape(-1, 2)
    links = coo_array((np.ones(len(ends)), (ends[:, 0], ends[:, 1])), shape=(len(found), len(found)))
    groups: dict[int, list[Circle]] = {}
    for c, label in zip(found, connected_components(links, directed=False)[1].tolist(), strict=True):
        groups.setdefault(label, []).append(c)
    return list(groups.values())


def _axes(geometry: ViewGeometry, context: Context) -> list[CenterLine]:
    """Axes of cylinders and cones that show both outlines, those on one axis together; without those that
    have a line already."""
    view = _view(context)
    sides: dict[tuple[int, str], list[ViewCurve]] = {}
    for c in geometry.curves:
        if (
            c.role in ("silhouette", "cut")
            and c.edge_class != "thread"
            and c.kind == "line"
            and (c.visible or view.hidden_lines)
        ):
            sides.setdefault((c.instance, c.source), []).append(c)
    lines: dict[tuple[int, int, int], list[Pick]] = {}
    for (instance, source), curves in sides.items():
        pick = Pick(instance=geometry.instances[instance], source=source, role="silhouette")
        try:
            axis, radius, _ = measure.axis_of(pick, context)
        except SizeError:
            continue
        d = context.frame.direction(axis.direction)
        if abs(float(axis.direction @ context.frame.matrix[2])) > 1e-6 or 2 * radius * context.scale < 1.2:
            continue
        p = context.frame.flat(axis.a)
        offsets = [
            float((np.array(q) - p) @ np.array([-d[1], d[0]]))
            for c in curves
            for q in (c.data[:2], c.data[2:])
        ]
        if not view.interruptions and (min(offsets) > -1e-6 or max(offsets) < 1e-6):
            continue
        key = _line_key(p, d)
        if pick not in lines.setdefault(key, []):
            lines[key].append(pick)
    have = set()
    for a in context.sheet.annotations:
        if a.view == view.id and isinstance(a, CenterLine):
            try:
                s = registry.strokes(a, context)[0]
            except SizeError:
                continue
            have.add(_line_key(s.a / context.scale, (s.b - s.a) / max(s.length, 1e-12)))
    return [
        CenterLine(id=_named(view, picks), anchor=in_view(view.id, picks))
        for key, picks in lines.items()
        if key not in have
    ]


def _line_key(p: Array, d: Array) -> tuple[int, int, int]:
    if d[0] < -1e-6 or (abs(d[0]) <= 1e-6 and d[1] < 0):
        d = -d
    return round(float(d[0]) * 1e5), round(float(d[1]) * 1e5), round(float(-p[0] * d[1] + p[1] * d[0]) / GRID)


def in_other_view(c: Center, context: Context) -> list[Center]:
    """What a center of one view is in that of the context: a mark where its axis is seen end-on, a center
    line where it is seen from the side. Empty where it is neither."""
    target = _view(context)
    faces: list[Pick] = []
    rounds: list[Pick] = []
    for pick in c.picks:
        found = context.facts.part_of(pick.instance)
        if found is None:
            continue
        part = found[1]
        edge = part.edge(pick.source) if pick.role == "edge" else None
        names = [pick.source] if pick.role != "edge" else (edge.faces if edge else [])
        kinds = {f.name: f.kind for f in part.faces}
        cylinders = [n for n in names if kinds.get(n) in ("cylinder", "cone")]
        faces += [Pick(instance=pick.instance, source=n, role="silhouette") for n in cylinders]
        if pick.role == "edge":
            rounds.append(pick)
        else:
            rounds += [
                Pick(instance=pick.instance, source=e.name)
                for e in part.edges
                if e.kind == "circle" and e.closed and pick.source in e.faces
            ]
    out: list[Center] = []
    seen: set[tuple[int, int]] = set()
    marks = []
    for pick in rounds:
        try:
            at, _ = circle_of(pick, context)
        except SizeError:
            continue
        place = (round(float(at[0]) / GRID), round(float(at[1]) / GRID))
        if place not in seen:
            seen.add(place)
            marks.append(pick)
    if marks:
        kind = BoltCircle if isinstance(c, BoltCircle) else CenterMark
        out.append(kind(id=_named(target, marks), anchor=in_view(target.id, marks)))
    lines: dict[tuple[int, int, int], list[Pick]] = {}
    for pick in faces:
        axis, _, _ = measure.axis_of(pick, context)
        if abs(float(axis.direction @ context.frame.matrix[2])) < 1e-6:
            lines.setdefault(
                _line_key(context.frame.flat(axis.a), context.frame.direction(axis.direction)), []
            ).append(pick)
    out += [
        CenterLine(id=_named(target, picks), anchor=in_view(target.id, picks)) for picks in lines.values()
    ]
    return [x for x in out if _drawable(x, context)]


def _drawable(c: Center, context: Context) -> bool:
    try:
        registry.strokes(c, context)
    except SizeError:
        return False
    return True
