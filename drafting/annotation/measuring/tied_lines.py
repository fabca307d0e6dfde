"""Added lines as their ties hold them: where they are, what contradicts, what they are tied to."""

import numpy as np

from drafting.annotation.measuring.added_lines import (
    NAMES,
    VALUED,
    AddedLine,
    Placed,
    Tie,
    added_of,
    of_model,
    placed_lines,
    split_source,
)
from drafting.annotation.measuring.constraints import (
    Array,
    Circle,
    Constraint,
    Segment,
    fits,
)
from drafting.annotation.measuring.measure import resolve
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError


def placed(a: AddedLine, context: Context) -> Placed:
    """Where an added line is now. Raises SizeError where it has shrunk to nothing."""
    found = placed_lines(context, resolve, [a])[a.id]
    shape = found.shape
    if shape.form == "path":
        p = shape.values.reshape(-1, 2)
        empty = float(np.linalg.norm(np.diff(p, axis=0), axis=1).max(initial=0.0)) < 1e-6
    else:
        empty = float(shape.values[2]) < 1e-6
    if empty:
        raise SizeError("Both ends fall together." if shape.form == "path" else "The circle has no size.")
    return found


def settled(a: AddedLine, context: Context) -> AddedLine:
    """An added line stored where its ties put it. Raises SizeError where they contradict each other."""
    check_ties(a)
    found = placed(a, context)
    refuse_contradiction(a, found)
    return a.shaped(found.shape)


def refuse_contradiction(a: AddedLine, found: Placed) -> None:
    """Raises SizeError with the ties that cannot hold together."""
    if not found.solved.faults:
        return
    names = dict.fromkeys(tie_words(a.ties[n]) for n in found.solved.faults)
    if len(names) > 1:
        *most, last = names
        raise SizeError(f"These cannot all hold: {', '.join(most)} and {last}.")
    raise SizeError(f"This cannot hold here: {next(iter(names))}.")


def tie_words(tie: Tie) -> str:
    """What a tie asks for, in a few words."""
    name = NAMES.get(tie.relation, tie.relation)
    if tie.relation in VALUED and tie.value is not None:
        unit = "°" if tie.relation == "angle" else ""
        return f"{name.split(' ')[0]} {round(tie.value, 4):g}{unit}"
    return name.split(" ")[0] if tie.relation != "coincident" else "joined"


def thing_of(pick: Pick, context: Context) -> Segment | Circle | Array:
    """What a pick is in the plane of the view. Raises SizeError."""
    if pick.role == "added":
        name, part = split_source(pick.source)
        found = placed_lines(context, resolve).get(name)
        if found is None:
            raise SizeError("The added line is no longer there.")
        try:
            return found.shape.point(part, pick.point) if pick.point else found.shape.thing(part)
        except IndexError:
            raise SizeError("The added line has no such part.") from None
    return of_model(pick, context, resolve)


def distance(p: Array, thing: Segment | Circle | Array) -> float:
    """From a place (2,) to a line, a circle\'s rim or a point, mm."""
    if isinstance(thing, Circle):
        return abs(float(np.linalg.norm(p - thing.center)) - thing.radius)
    if isinstance(thing, Segment):
        d = (thing.b - thing.a) / max(float(np.linalg.norm(thing.b - thing.a)), 1e-12)
        return abs(float(d[0] * (p - thing.a)[1] - d[1] * (p - thing.a)[0]))
    return float(np.linalg.norm(p - thing))


def check_rings(a: AddedLine, context: Context) -> None:
    """Raises SizeError where a line would be tied to itself by way of others."""
    own = {x.id: x for x in added_of(context)} | {a.id: a}

    def leads(x: AddedLine, seen: frozenset[str]) -> None:
        for tie in x.ties:
            if tie.to is None or tie.to.role != "added" or not tie.to.source:
                continue
            name, _ = split_source(tie.to.source)
            if name == a.id and x.id != a.id:
                raise SizeError("Lines cannot be tied to each other in a ring.")
            if name in own and name not in seen and name != x.id:
                leads(own[name], seen | {name})

    leads(a, frozenset({a.id}))


def check_ties(a: AddedLine) -> None:
    """Raises SizeError for a tie that a line of its form cannot have, or whose number makes no sense."""
    for tie in a.ties:
        if tie.to is None and not fits(a.shape, Constraint(tie.relation, tie.part, tie.point, value=1.0)):
            raise SizeError(f"An added {a.form} cannot have that: {tie_words(tie)}.")
        if tie.relation in VALUED and tie.value is None:
            raise SizeError(f"A {tie.relation} that holds needs a number.")
        if tie.relation in ("length", "radius") and (tie.value or 0.0) <= 0:
            raise SizeError(f"A {tie.relation} is above 0.")
