"""Balloons: item numbers of the parts list at the end of leaders, an arrow on an edge and a dot on a face (ISO 6433, ASME Y14.34; memory)."""

import itertools
import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from drafting.annotation.dimension_ink import KIND, Array, arrow, line, xy
from drafting.annotation.parts_list import numbered, renumber
from drafting.annotation.view_frame import ViewFrame
from drafting.document import Balloon, Drawing, Placement, Point
from drafting.errors import SizeError
from drafting.ink.elements import Arc, Element, Fill, Line, Text
from drafting.ink.lettering import fitted_height
from drafting.model import bill
from drafting.model.model import Facts
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewCurve, ViewGeometry, arc_points

DOT = 0.65
"""Radius of the dot at a leader's end on a face, mm."""
REACH = 1.2
"""How near an edge must be for a leader to end on it, mm on paper."""
CORNERS = np.array(list(itertools.product((0, 1), repeat=3)), float)


@dataclass(frozen=True)
class Numbers:
    """Item numbers of a drawing. items: by key; keys: by instance, the key it is listed under; counts: how many of a key there are in all."""

    items: dict[str, int]
    keys: dict[str, str]
    counts: dict[str, int]
    names: dict[str, str]


def numbers_of(drawing: Drawing, facts: Facts) -> Numbers:
    """Numbers as the drawing's parts lists give them; without a list, those of all parts."""
    after = drawing.model_copy(update={"items": drawing.items})
    renumber(after, facts)
    items = after.items or numbered({}, bill.lines(facts, "parts"), facts)
    counts: dict[str, int] = {}
    for levels in ("indented", "top", "parts"):
        for found in bill.lines(facts, levels):  # type: ignore[arg-type]
            counts[found.key] = max(found.total, counts.get(found.key, 0))
    keys = {path: next((k for k in found if k in items), "") for path, found in bill.keys_of(facts).items()}
    return Numbers({k: i.number for k, i in items.items()}, keys, counts, {k: i.name for k, i in items.items()})


def radius(profile: Profile) -> float:
    """Of a balloon, mm."""
    return 0.95 * profile.label_height


def box_of(path: str, facts: Facts, frame: ViewFrame) -> tuple[Array, Array]:
    """Lower left and upper right of an instance in a view, view mm. Raises SizeError where the model has it no more."""
    found = facts.part_of(path)
    if found is None:
        raise SizeError("The part this balloon points at is no longer in the model.")
    instance, part = found
    low, high = np.array(part.low), np.array(part.high)
    m = np.array(frame.placed(instance, ((low + high) / 2).tolist()))
    corners = (low + CORNERS * (high - low)) @ m[:3, :3].T + m[:3, 3]
    flat = (corners - frame.middle) @ frame.matrix[:2].T
    return flat.min(0), flat.max(0)


def tip_of(b: Balloon, facts: Facts, frame: ViewFrame, scale: float) -> Array:
    """Where the leader ends, paper mm about the view's position."""
    low, high = box_of(b.instance, facts, frame)
    out: Array = frame.drawn(low + np.array([b.tip.x, b.tip.y]) * (high - low)) * scale
    return out


def tip_at(path: str, place: Array, facts: Facts, frame: ViewFrame) -> Point:
    """A place of the view (view mm, as drawn) as fractions of an instance's box."""
    low, high = box_of(path, facts, frame)
    at = (np.array(frame.undrawn((float(place[0]), float(place[1])))) - low) / np.maximum(high - low, 1e-9)
    return Point(x=round(float(at[0]), 6), y=round(float(at[1]), 6))


@dataclass(frozen=True)
class Target:
    """What lies at a place: the instance, the place itself (on the edge where there is one, view mm), and whether an edge or a face."""

    instance: str
    at: Array
    on: str


def target_at(place: Array, geometry: ViewGeometry, scale: float) -> Target:
    """What a leader points at. place: view mm, as drawn. Raises SizeError where there is no part."""
    best: tuple[float, ViewCurve, Array] | None = None
    for c in geometry.curves:
        if not c.visible or c.edge_class == "smooth":
            continue
        near = nearest(c, place)
        away = float(np.linalg.norm(near - place)) * scale
        if away < REACH and (best is None or away < best[0]):
            best = (away, c, near)
    if best is not None:
        return Target(geometry.instances[best[1].instance], best[2], "edge")
    number = geometry.seen.at(float(place[0]), float(place[1])) if geometry.seen else -1
    if number < 0:
        raise SizeError("There is no part here; point at an edge or a face.")
    return Target(geometry.instances[number], place, "face")


def nearest(c: ViewCurve, place: Array) -> Array:
    """The point of a curve nearest to a place."""
    points = arc_points(c, 65)
    a, b = points[:-1], points[1:]
    d = b - a
    t = np.clip(((place - a) * d).sum(1) / np.maximum((d * d).sum(1), 1e-18), 0, 1)
    on = a + d * t[:, None]
    out: Array = on[int(np.argmin(((on - place) ** 2).sum(1)))]
    return out


def reading_order(balloons: Sequence[Balloon], numbers: Numbers, scale: float) -> list[str]:
    """Keys of the items of a view's balloons as they are read: clockwise from the upper left one, stacked ones after their first."""
    at = np.array([b.place.at(scale) for b in balloons])
    middle = (at.min(0) + at.max(0)) / 2
    angle = np.arctan2(at[:, 1] - middle[1], at[:, 0] - middle[0])
    first = int(np.argmin(np.linalg.norm(at - [at[:, 0].min(), at[:, 1].max()], axis=1)))
    order = np.argsort((angle[first] - angle) % (2 * math.pi), kind="stable")
    keys = (key for n in order for key in (numbers.keys.get(balloons[n].instance, ""), *balloons[n].stacked))
    return list(dict.fromkeys(key for key in keys if key in numbers.items))


def ink(b: Balloon, numbers: Numbers, facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> list[Element]:
    """Leader, circles and numbers, paper mm about the view's position. Raises SizeError."""
    tip, center, r = tip_of(b, facts, frame, scale), np.array(b.place.at(scale)), radius(profile)
    key = numbers.keys.get(b.instance, "")
    out: list[Element] = []
    away = tip - center
    reach = float(np.linalg.norm(away))
    if reach > r:
        u = away / reach
        out.append(line(center + u * r, tip))
        out.append(arrow(tip, u, profile) if b.on == "edge" else _dot(tip))
    step = np.array({"right": (2 * r, 0), "left": (-2 * r, 0), "up": (0, 2 * r), "down": (0, -2 * r)}[b.stack])
    for n, k in enumerate([key, *b.stacked]):
        out += _circle(center + step * n, k, numbers, b.quantity, profile)
    return out


def _dot(at: Array) -> Fill:
    turns = np.linspace(0, 2 * math.pi, 17)[:-1]
    return Fill(tuple(xy(at + DOT * np.array([math.cos(t), math.sin(t)])) for t in turns), KIND)


def _circle(at: Array, key: str, numbers: Numbers, quantity: bool, profile: Profile) -> list[Element]:
    r, h = radius(profile), profile.label_height
    x, y = xy(at)
    number = str(numbers.items[key]) if key in numbers.items else "?"
    out: list[Element] = [Arc((x, y), r, 0.0, 2 * math.pi, KIND)]
    if not quantity:
        size = fitted_height(number, h, 1.55 * r)
        return [*out, Text((x, y - size / 2), number, size, KIND, "middle")]
    small = 0.6 * h
    count = str(numbers.counts.get(key, 0))
    return [
        *out, Line((x - r, y), (x + r, y), KIND),
        Text((x, y + 0.25 * small), number, fitted_height(number, small, 1.3 * r), KIND, "middle"),
        Text((x, y - 1.25 * small), count, fitted_height(count, small, 1.3 * r), KIND, "middle"),
    ]  # fmt: skip


def placed(at: Array, scale: float) -> Placement:
    """A balloon's place at paper mm about the view's position: it keeps its distance on the model, whatever the scale."""
    return Placement(model=Point(x=round(float(at[0]) / scale, 6), y=round(float(at[1]) / scale, 6)), paper=Point(x=0, y=0))
