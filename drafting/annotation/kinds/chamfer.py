"""Chamfers: leg and angle on a leader, in the standard's form (2×45°, 2 X 45°)."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import Array, Definition, SizeInk, arrow, line, shoulder, xy
from drafting.annotation.kinds.kind import SizeKind
from drafting.annotation.measuring import statement
from drafting.annotation.measuring.measure import joined, located
from drafting.annotation.measuring.traces import Straight
from drafting.annotation.wording.label import Label, label_of
from drafting.annotation.wording.numbers import angle_written
from drafting.context import Context
from drafting.document import Dimension, Pick
from drafting.errors import SizeError
from drafting.model.model import Facts


class ChamferDimension(Dimension):
    """A chamfer by leg and angle. leg: which of its two legs is given."""

    picks_taken: ClassVar[tuple[int, int]] = (1, 1)
    kind: Literal["chamfer"] = "chamfer"
    leg: Literal[0, 1] = 0


@dataclass(frozen=True)
class Found:
    """Where the chamfer is (view mm), its two legs in mm and their directions in the view, shorter than 1
    where they are foreshortened."""

    a: Array
    b: Array
    legs: tuple[float, float]
    directions: tuple[Array, Array]


def legs_of(pick: Pick, context: Context) -> Found:
    """The legs of a slanting line between two lines square to each other. Raises SizeError where it is not
    one."""
    thing = located(pick, context)
    if not isinstance(thing, Straight) or np.linalg.norm(context.frame.direction(thing.direction)) < 1e-9:
        raise SizeError("A chamfer is taken on its slanting line.")
    v = thing.b - thing.a
    if pick.role != "edge" and not (pick.role == "cut" and _is_plane(pick, context.facts)):
        face = context.facts.face_of(pick.instance, pick.source)
        if face is None or face.kind != "cone" or face.span is None:
            raise SizeError(
                "A chamfer is taken on its slanting line, between two lines square to each other."
            )
        axial = abs(face.span[1] - face.span[0])
        along = context.frame.flat(thing.b) - context.frame.flat(thing.a)
        found = context.facts.part_of(pick.instance)
        assert found is not None
        axis = context.frame.direction(
            np.array(context.frame.placed(found[0], face.origin))[:3, :3] @ np.array(face.axis)
        )
        across = along - axis * float(along @ axis)
        return Found(
            context.frame.flat(thing.a),
            context.frame.flat(thing.b),
            (axial, axial * abs(math.tan(face.half_angle))),
            (axis, across / max(float(np.linalg.norm(across)), 1e-12)),
        )
    neighbors = _neighbors(pick, thing, context)
    for one in neighbors[0]:
        for two in neighbors[1]:
            if abs(float(one @ two)) < 1e-6 and abs(float(one @ v)) > 1e-9 and abs(float(two @ v)) > 1e-9:
                ways = (context.frame.direction(one), context.frame.direction(two))
                return Found(
                    context.frame.flat(thing.a),
                    context.frame.flat(thing.b),
                    (abs(float(one @ v)), abs(float(two @ v))),
                    ways,
                )
    raise SizeError("A chamfer is taken on its slanting line, between two lines square to each other.")


def _neighbors(pick: Pick, thing: Straight, context: Context) -> tuple[list[Array], list[Array]]:
    """Directions of the straight edges that begin where the picked one starts and ends, in the plane it lies
    in."""
    out: tuple[list[Array], list[Array]] = ([], [])
    for other in _joined_lines(pick, context) if pick.role == "cut" else _lines(pick, context):
        for side, here in enumerate((thing.a, thing.b)):
            if (
                min(float(np.linalg.norm(p - here)) for p in (other.a, other.b)) < 1e-6
                and abs(float(other.direction @ thing.direction)) < 1 - 1e-9
            ):
                out[side].append(other.direction)
    return out


def _lines(pick: Pick, context: Context) -> list[Straight]:
    """The other straight edges of the part."""
    found = context.facts.part_of(pick.instance)
    assert found is not None
    instance, part = found
    m = np.array(context.frame.placed(instance, part.low))
    return [
        Straight(m[:3, :3] @ np.array(e.start) + m[:3, 3], m[:3, :3] @ np.array(e.end) + m[:3, 3])
        for e in part.edges
        if e.kind == "line" and e.name != pick.source
    ]


def _joined_lines(pick: Pick, context: Context) -> list[Straight]:
    """The straight cut edges that a cut edge meets."""
    out = []
    for other in joined(pick, context.facts):
        try:
            thing = located(other, context)
        except SizeError:
            continue
        out += [thing] if isinstance(thing, Straight) else []
    return out


def _is_plane(pick: Pick, facts: Facts) -> bool:
    face = facts.face_of(pick.instance, pick.source)
    return face is not None and face.kind == "plane"


def value(d: ChamferDimension, context: Context) -> float:
    """The given leg on the model in mm."""
    return legs_of(d.picks[0], context).legs[d.leg]


def label(d: ChamferDimension, context: Context) -> Label:
    """Leg and the angle it makes with the chamfer's line."""
    legs = legs_of(d.picks[0], context).legs
    by = " X " if context.profile.standard == "ASME" else "×"
    angle = by + angle_written(
        math.atan2(legs[1 - d.leg], legs[d.leg]), context.profile, None, d.wording.angle_form
    )
    return label_of(
        legs[d.leg],
        "",
        d.wording.model_copy(update={"suffix": angle + d.wording.suffix}),
        d.tolerance,
        context.profile,
    )


def ink(d: ChamferDimension, context: Context) -> SizeInk:
    """A leader from the middle of the chamfer's line."""
    found = legs_of(d.picks[0], context)
    tip = context.frame.drawn((found.a + found.b) / 2) * context.scale
    at = np.array(d.place.at(context.scale))
    toward = at - tip
    n = float(np.linalg.norm(toward))
    if n < 2 * context.profile.arrow_length:
        toward, n = (toward if n > 1e-9 else np.array([1.0, 1.0])), max(n, 1e-9)
        at = tip + toward / (n if n > 1e-9 else 1.0) * 2 * context.profile.arrow_length
        toward = at - tip
        n = float(np.linalg.norm(toward))
    u = toward / n
    leg = found.directions[d.leg]
    ends = [context.frame.drawn(p) * context.scale for p in (found.a, found.b)]
    true = abs(abs(float((ends[1] - ends[0]) @ leg)) - found.legs[d.leg] * context.scale) < 1e-6
    definition = Definition(
        "linear",
        (xy(ends[0]), xy(ends[1]), xy(at)),
        math.atan2(float(leg[1]), float(leg[0])),
        context.scale if true else 0.0,
    )
    out = SizeInk(lines=[line(tip, at)], arrows=[arrow(tip, -u, context.profile)], definition=definition)
    lines, lettering = shoulder(at, u, label(d, context), context.profile)
    out.lines += lines
    out.lettering += lettering
    return out


KIND = SizeKind(
    ChamferDimension,
    "Chamfer",
    value=value,
    label=label,
    size_ink=ink,
    states=statement.of_picks,
    breaks_edge=True,
)
