"""Linear sizes: lengths and distances, with extension lines, arrows and the number placed by the profile."""

import math
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import (
    Array,
    Definition,
    SizeInk,
    corner_cross,
    extension,
    line_with_number,
    slid,
    xy,
)
from drafting.annotation.kinds.kind import InRun, SizeKind
from drafting.annotation.measuring import distances, measure, statement
from drafting.annotation.measuring.distances import Distance
from drafting.annotation.measuring.statement import Statement
from drafting.annotation.measuring.traces import Round, Straight
from drafting.annotation.wording.label import Label, label_of
from drafting.annotation.wording.numbers import DIAMETER
from drafting.context import Context
from drafting.document import Dimension
from drafting.errors import SizeError
from drafting.standards.profile import Profile
from drafting.views.frame import ViewFrame


class LinearDimension(Dimension):
    """A length of an edge or a distance between two, along the aligned direction or a paper axis.

    reading: nearest or farthest points of circles; across: the diameter of a cylinder seen from the side;
    half: the same, or twice the distance from an axis, drawn on one side only; true: between points that the
    view shows foreshortened.
    """

    picks_taken: ClassVar[tuple[int, int]] = (1, 2)
    kind: Literal["linear"] = "linear"
    direction: Literal["aligned", "horizontal", "vertical"] = "aligned"
    reading: Literal["", "nearest", "farthest", "across", "half", "true"] = ""


def measured(d: LinearDimension, context: Context) -> Distance:
    """What a linear size measures. Raises LostPick, SizeError."""
    return distances.distance(d.picks, d.direction, context, d.reading)


def value(d: LinearDimension, context: Context) -> float:
    """The size on the model in mm."""
    return measured(d, context).value


def label(d: LinearDimension, context: Context) -> Label:
    """The number, with the sign of a diameter where it is one."""
    return _label(measured(d, context), d, context.profile)


def _label(found: Distance, d: LinearDimension, profile: Profile) -> Label:
    return label_of(found.value, DIAMETER if found.diameter else "", d.wording, d.tolerance, profile)


def ink(d: LinearDimension, context: Context, in_run: InRun) -> SizeInk:
    """Ink in paper mm about the view's position; dots stand at ends shared with another link of a chain, both
    too narrow for arrows.

    Raises SizeError where the picks give no size."""
    found = measured(d, context)
    at = np.array(d.place.at(context.scale))
    origins, feet = feet_of(found, at, context.frame, context.scale)
    if float(np.linalg.norm(feet[1] - feet[0])) < 1e-6:
        raise SizeError("The view shows this size end-on; take it in another view.")
    out = SizeInk()
    for n, (origin, foot) in enumerate(zip(origins, feet, strict=True)):
        if not (found.half and n == 0):
            out.extensions += extension(origin, foot, context.profile)
    for corner, lines in found.corners:
        out.marks += corner_cross(context.frame.drawn(corner) * context.scale, lines, context.profile)
    line_with_number(
        feet[0],
        feet[1],
        at,
        d,
        _label(found, d, context.profile),
        context.profile,
        out,
        found.half,
        in_run.dots,
    )
    u = feet[1] - feet[0]
    shown = float(np.linalg.norm(u)) * (2 if found.half else 1)
    true = abs(shown - found.value * context.scale) < 1e-6 * max(shown, 1)
    out.definition = Definition(
        "linear",
        (xy(origins[0]), xy(origins[1]), xy(feet[1])),
        math.atan2(float(u[1]), float(u[0])),
        context.scale if true and not found.half else 0.0,
    )
    return out


def shift_at(d: LinearDimension, at: Array, context: Context) -> float | None:
    """How far along the dimension line a place is from its middle, paper mm."""
    _, feet = feet_of(measured(d, context), at, context.frame, context.scale)
    length = float(np.linalg.norm(feet[1] - feet[0]))
    return slid(float((at - (feet[0] + feet[1]) / 2) @ (feet[1] - feet[0])) / max(length, 1e-9), length)


def feet_of(found: Distance, at: Array, frame: ViewFrame, scale: float) -> tuple[list[Array], list[Array]]:
    """Where extension lines begin, and where they meet the dimension line through a place; paper mm."""
    along = _extension_direction(found, at, frame, scale)
    pairs = [
        _foot(frame.drawn(a) * scale, frame.drawn(b) * scale, at, found.direction, along)
        for a, b in (found.first, found.second)
    ]
    return [origin for _, origin in pairs], [foot for foot, _ in pairs]


def _extension_direction(found: Distance, at: Array, frame: ViewFrame, scale: float) -> Array:
    """Square to the dimension line; in pictorial views along the model axis, square to what is measured, that
    leads to the place."""
    u = found.direction
    square = np.array([-u[1], u[0]])
    if not frame.pictorial or found.edge is None:
        return square
    edge = found.edge / np.linalg.norm(found.edge)
    want = at - (found.first[0] + found.second[0]) / 2 * scale
    best, best_score = square, -1.0
    for axis in np.eye(3):
        flat = frame.direction(axis)
        n = float(np.linalg.norm(flat))
        if abs(float(axis @ edge)) > 1e-6 or n < 0.2 or abs(float(flat @ u)) / n > 0.97:
            continue
        score = abs(float(flat @ want)) / n
        if score > best_score:
            best, best_score = flat / n, score
    return best


def _foot(a: Array, b: Array, at: Array, u: Array, along: Array) -> tuple[Array, Array]:
    """Where the extension line from the nearer end of a-b meets the dimension line through `at`, and that
    end."""
    feet = []
    for p in (a, b):
        m = np.column_stack([along, -u])
        t = np.linalg.solve(m, at - p)
        feet.append((abs(float(t[0])), p + along * t[0], p))
    feet.sort(key=lambda f: f[0])
    return feet[0][1], feet[0][2]


def called(d: LinearDimension) -> str:
    """What the interface calls it, by what it is taken on."""
    if d.reading in ("across", "half"):
        return "Diameter" if d.reading == "across" else "Symmetric half"
    return "Length" if len(d.picks) == 1 else "Distance"


def foreshortened(d: LinearDimension, context: Context) -> bool:
    """Whether an orthographic view shows a length shorter than it is."""
    if context.frame.pictorial:
        return False
    found = measured(d, context)
    return abs(distances.drawn_length(found, context.frame) - found.value) > 1e-6 and d.reading != "half"


def states(d: LinearDimension, context: Context) -> Statement | None:
    """The two levels that it ties together, or the circle whose diameter it is."""
    found, frame = measured(d, context), context.frame
    if found.diameter:
        face = context.facts.face_of(d.picks[0].instance, d.picks[0].source)
        if d.picks[0].role in ("silhouette", "cut") and face is not None and face.kind == "cylinder":
            line = measure.axis_of(d.picks[0], context)[0]
            return statement.of_circle(Round(line.a, line.direction, line.direction, found.value / 2))
        thing = measure.located(d.picks[0], context)
        axis = np.cross(
            frame.matrix[2], frame.matrix[0] * found.direction[0] + frame.matrix[1] * found.direction[1]
        )
        middle = (thing.a + thing.b) / 2 if isinstance(thing, Straight) else np.zeros(3)
        return statement.of_circle(Round(middle, axis, axis, found.value / 2))
    if found.edge is not None:
        n = found.edge / np.linalg.norm(found.edge)
    else:
        n = frame.matrix[0] * found.direction[0] + frame.matrix[1] * found.direction[1]
    if d.reading in ("nearest", "farthest", "half"):
        normal = statement.rounded(statement.signless(n))
        return Statement((d.reading, normal, *sorted(p.model_dump_json() for p in d.picks)))
    return statement.of_levels(d.picks, n, context)


def along(d: LinearDimension, context: Context) -> Array:
    """The direction that its dimension line runs along."""
    return measured(d, context).direction


KIND = SizeKind(
    LinearDimension,
    "Length",
    called=called,
    value=value,
    label=label,
    ink_in_run=ink,
    shift_at=shift_at,
    foreshortened=foreshortened,
    states=states,
    along=along,
)
