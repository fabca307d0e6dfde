"""Ordinates: distances from one origin, each at the end of an extension line, without dimension lines. Lines of neighbors jog apart."""

import math

import numpy as np

from drafting.annotation.dimension_ink import KIND, Array, Definition, SizeInk, line, readable, xy
from drafting.annotation.label import Label, label_of
from drafting.annotation.measure import located
from drafting.annotation.traces import Round, Straight
from drafting.annotation.view_frame import ViewFrame
from drafting.document import OrdinateDimension, Pick
from drafting.errors import SizeError
from drafting.ink.elements import Polyline
from drafting.model.model import Facts
from drafting.standards.profile import Profile


def axis(direction: str) -> Array:
    return np.array([1.0, 0.0]) if direction == "horizontal" else np.array([0.0, 1.0])


def coordinate(pick: Pick, direction: str, facts: Facts, frame: ViewFrame) -> tuple[float, tuple[Array, Array]]:
    """Where a pick lies along the direction, view mm, and the ends from which its extension line may start. Raises SizeError."""
    thing = located(pick, facts, frame)
    u = axis(direction)
    if isinstance(thing, Straight):
        a, b = frame.flat(thing.a), frame.flat(thing.b)
        if abs(float((b - a) @ u)) > 1e-6:
            raise SizeError(f"A line that is not square to the {direction} direction has no one ordinate; pick a point of it.")
        return float(a @ u), (a, b)
    p = frame.flat(thing.center if isinstance(thing, Round) else thing.at)
    return float(p @ u), (p, p)


def value(d: OrdinateDimension, facts: Facts, frame: ViewFrame) -> float:
    """Distance from the origin in mm; 0 for the origin itself."""
    if frame.pictorial:
        raise SizeError("Ordinates are taken in views that face the paper squarely, not in pictorial ones.")
    first = coordinate(d.picks[0], d.direction, facts, frame)[0]
    return abs(coordinate(d.picks[-1], d.direction, facts, frame)[0] - first)


def label(d: OrdinateDimension, facts: Facts, frame: ViewFrame, profile: Profile) -> Label:
    return label_of(value(d, facts, frame), "", d.wording, d.tolerance, profile)


def spread(places: list[float], pitch: float) -> list[float]:
    """Places moved apart to at least a pitch, in order, each as little as may be: neighbors that are too near form groups about their mean."""
    groups: list[tuple[float, int]] = []  # sum of wished starts, count
    for n, p in enumerate(sorted(places)):
        total, count = p - n * pitch, 1
        while groups and groups[-1][0] / groups[-1][1] > total / count:
            before = groups.pop()
            total, count = total + before[0], count + before[1]
        groups.append((total, count))
    flat = [total / count for total, count in groups for _ in range(count)]
    moved = [v + n * pitch for n, v in enumerate(flat)]
    order = sorted(range(len(places)), key=lambda i: places[i])
    out = [0.0] * len(places)
    for rank, i in enumerate(order):
        out[i] = moved[rank]
    return out


def shifts(run: list[OrdinateDimension], facts: Facts, frame: ViewFrame, profile: Profile, scale: float) -> dict[str, float]:
    """How far the number of each ordinate of a run moves aside so that none stands on another, paper mm."""
    known: list[tuple[str, float]] = []
    for d in run:
        try:
            known.append((d.id, float(frame.drawn(coordinate(d.picks[-1], d.direction, facts, frame)[1][0]) @ axis(d.direction)) * scale))
        except SizeError:
            continue
    named = {key for key, _ in known}
    labels = [label(d, facts, frame, profile) for d in run if d.id in named]
    tall = max((found.high - found.low for found in labels), default=0.0)
    moved = spread([v for _, v in known], tall + 2 * profile.text_gap)
    return {key: new - old for (key, old), new in zip(known, moved, strict=True)}


def ink(d: OrdinateDimension, facts: Facts, frame: ViewFrame, profile: Profile, scale: float, shift: float = 0.0) -> SizeInk:
    """The extension line to the place, with a jog where the number moves aside, and the number along it."""
    text = label(d, facts, frame, profile)
    _, (a, b) = coordinate(d.picks[-1], d.direction, facts, frame)
    u = axis(d.direction)
    v = np.array([u[1], u[0]])
    at = float(np.array(d.place.at(scale)) @ v)
    ends = [frame.drawn(p) * scale for p in (a, b)]
    origin = min(ends, key=lambda p: abs(at - float(p @ v)))
    out_from = float(origin @ v)
    sign = 1.0 if at >= out_from else -1.0
    base = u * float(origin @ u)
    foot = base + v * at
    start = origin + v * sign * profile.extension_gap
    out = SizeInk()
    if abs(shift) < 1e-9:
        out.extensions.append(line(start, foot))
    else:
        knee = max(min(2.5 * profile.text_height, abs(at - float(start @ v)) * 0.6), 0.5)
        points = (start, base + v * (at - sign * knee), base + u * shift + v * (at - sign * knee * 0.4), foot + u * shift)
        out.extensions.append(Polyline(tuple(xy(p) for p in points), KIND))
    angle = readable(math.atan2(float(v[1]), float(v[0])))
    end = foot + u * shift + v * sign * (profile.text_gap + text.width / 2)
    down = np.array([-math.sin(angle), math.cos(angle)]) * -(text.low + text.high) / 2
    out.lettering += text.elements(xy(end + down), angle)
    first = frame.drawn(coordinate(d.picks[0], d.direction, facts, frame)[1][0]) * scale
    out.definition = Definition("ordinate", (xy(first), xy(origin), xy(foot + u * shift)), 0.0 if d.direction == "horizontal" else math.pi / 2, scale)
    return out
