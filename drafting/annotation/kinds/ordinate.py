"""Ordinates: distances from one origin, each at the end of an extension line, without dimension lines. Lines
of neighbors jog apart."""

import math
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, Definition, SizeInk, line, readable, xy
from drafting.annotation.kinds.kind import InRun, SizeKind
from drafting.annotation.measuring import statement
from drafting.annotation.measuring.measure import located
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.wording.label import Label, label_of
from drafting.context import Context
from drafting.document import Dimension, Pick
from drafting.errors import SizeError
from drafting.ink.elements import Polyline

SQUARE = 1e-6
"""By how much a line may lean from square to its direction, radians."""


class OrdinateDimension(Dimension):
    """The distance of the second pick from the first (the origin), along the paper's horizontal or vertical,
    without a dimension line."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 2)
    kind: Literal["ordinate"] = "ordinate"
    direction: Literal["horizontal", "vertical"] = "horizontal"


def axis(direction: str) -> Array:
    """The unit direction on paper of a word."""
    return np.array([1.0, 0.0]) if direction == "horizontal" else np.array([0.0, 1.0])


def coordinate(pick: Pick, direction: str, context: Context) -> tuple[float, tuple[Array, Array]]:
    """Where a pick lies along the direction, view mm, and the ends from which its extension line may start.
    Raises SizeError."""
    thing = located(pick, context)
    u = axis(direction)
    if isinstance(thing, Straight):
        a, b = context.frame.flat(thing.a), context.frame.flat(thing.b)
        if abs(float((b - a) @ u)) > SQUARE * max(1.0, float(np.linalg.norm(b - a))):
            raise SizeError(
                f"A line that is not square to the {direction} direction "
                f"has no one ordinate; pick a point of it."
            )
        return float(a @ u), (a, b)
    p = context.frame.flat(thing.center if isinstance(thing, Round) else thing.at)
    return float(p @ u), (p, p)


def value(d: OrdinateDimension, context: Context) -> float:
    """Distance from the origin in mm; 0 for the origin itself."""
    if context.frame.pictorial:
        raise SizeError("Ordinates are taken in views that face the paper squarely, not in pictorial ones.")
    first = coordinate(d.picks[0], d.direction, context)[0]
    return abs(coordinate(d.picks[-1], d.direction, context)[0] - first)


def label(d: OrdinateDimension, context: Context) -> Label:
    """The distance alone."""
    return label_of(value(d, context), "", d.wording, d.tolerance, context.profile)


def spread(places: list[float], pitch: float) -> list[float]:
    """Places moved apart to at least a pitch, in order, each as little as may be: neighbors that are too near
    form groups about their mean."""
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


def shifts(run: list[OrdinateDimension], context: Context) -> dict[str, float]:
    """How far the number of each ordinate of a run moves aside so that none stands on another, paper mm."""
    known: list[tuple[str, float]] = []
    for d in run:
        try:
            known.append(
                (
                    d.id,
                    float(
                        context.frame.drawn(coordinate(d.picks[-1], d.direction, context)[1][0])
                        @ axis(d.direction)
                    )
                    * context.scale,
                )
            )
        except SizeError:
            continue
    named = {key for key, _ in known}
    labels = [label(d, context) for d in run if d.id in named]
    tall = max((found.high - found.low for found in labels), default=0.0)
    moved = spread([v for _, v in known], tall + 2 * context.profile.text_gap)
    return {key: new - old for (key, old), new in zip(known, moved, strict=True)}


def ink(d: OrdinateDimension, context: Context, in_run: InRun) -> SizeInk:
    """The extension line to the place, with a jog where the number moves aside, and the number along it."""
    text, shift = label(d, context), in_run.shift
    _, (a, b) = coordinate(d.picks[-1], d.direction, context)
    u = axis(d.direction)
    v = np.array([u[1], u[0]])
    at = float(np.array(d.place.at(context.scale)) @ v)
    ends = [context.frame.drawn(p) * context.scale for p in (a, b)]
    origin = min(ends, key=lambda p: abs(at - float(p @ v)))
    out_from = float(origin @ v)
    sign = 1.0 if at >= out_from else -1.0
    base = u * float(origin @ u)
    foot = base + v * at
    start = origin + v * sign * context.profile.extension_gap
    out = SizeInk()
    if abs(shift) < 1e-9:
        out.extensions.append(line(start, foot))
    else:
        knee = max(min(2.5 * context.profile.text_height, abs(at - float(start @ v)) * 0.6), 0.5)
        points = (
            start,
            base + v * (at - sign * knee),
            base + u * shift + v * (at - sign * knee * 0.4),
            foot + u * shift,
        )
        out.extensions.append(Polyline(tuple(xy(p) for p in points), LINE_KIND))
    angle = readable(math.atan2(float(v[1]), float(v[0])))
    end = foot + u * shift + v * sign * (context.profile.text_gap + text.width / 2)
    down = np.array([-math.sin(angle), math.cos(angle)]) * -(text.low + text.high) / 2
    out.lettering += text.elements(xy(end + down), angle)
    first = context.frame.drawn(coordinate(d.picks[0], d.direction, context)[1][0]) * context.scale
    out.definition = Definition(
        "ordinate",
        (xy(first), xy(origin), xy(foot + u * shift)),
        0.0 if d.direction == "horizontal" else math.pi / 2,
        context.scale,
    )
    return out


def states(d: OrdinateDimension, context: Context) -> Statement | None:
    """The levels of origin and thing; nothing for the origin itself."""
    if len(d.picks) < 2:
        return None
    return statement.of_levels(
        d.picks, context.frame.matrix[0 if d.direction == "horizontal" else 1], context
    )


def along(d: OrdinateDimension, context: Context) -> Array:
    """The direction in which it is counted."""
    return axis(d.direction)


KIND = SizeKind(
    OrdinateDimension,
    "Ordinate",
    value=value,
    label=label,
    ink_in_run=ink,
    spread=shifts,
    states=states,
    along=along,
)
