"""What a hole's callout says, row by row: counts, diameters, depths, heads and threads.

Forms: ISO 129-1 (symbols of depth, counterbore and countersink), ISO 6410-1 (threads), ISO 15786 (the short
form), ISO 6411 (center holes), ASME Y14.5 (the same symbols, THRU, spotfaces) and ASME Y14.6 (designation of
threads); from memory.
"""

import math

from drafting.annotation.wording.callout_words import Row, Value, times_sign
from drafting.annotation.wording.numbers import DIAMETER
from drafting.annotation.wording.numbers import plain as plain_number
from drafting.errors import SizeError
from drafting.features.hole import Head, Hole
from drafting.features.patterns import Pattern
from drafting.standards.center_holes import type_a
from drafting.standards.profile import Profile
from drafting.standards.threads import thread

DEPTH, BORE, SINK = "↧", "⌴", "⌵"


def rows(
    hole: Hole,
    count: int,
    profile: Profile,
    short: bool = False,
    far: bool = False,
    circle: Pattern | None = None,
) -> list[Row]:
    """The rows of a callout. count: how many holes it stands for; short: one line for hole and thread; far:
    whether the hole is seen from its other end; circle: the bolt circle that is named. Raises SizeError for a
    hole that has no callout."""
    if not hole.is_told:
        raise SizeError("No callout says the shape of this hole, wider within or tapered; size its steps.")
    asme = profile.standard == "ASME"
    times = times_sign(profile)
    if is_center_hole(hole) and not asme:
        sizes = (
            plain_number(v, 2, profile, "mm", trim=True) for v in (hole.diameter, hole.heads[0].diameter)
        )
        many: Row = [f"{count}{times} "] if count > 1 else []
        return [[*many, f"ISO 6411 - A {'/'.join(sizes)}"]]
    first: Row = [f"{count}{times} "] if count > 1 else []
    out = [first]
    if hole.thread:
        _threaded(hole, out, asme, short, times, profile)
    else:
        first.append(Value(DIAMETER, hole.diameter, "diameter"))
        if hole.depth is not None:
            first += _deep(hole.depth, "depth", short, times)
        elif asme:
            first.append(" THRU")
        if hole.process:
            first.append(f" {hole.process.upper() if asme else hole.process}")
    out += [_head(h, n, asme, short, times) for n, h in enumerate(hole.heads)]
    if far and (hole.heads or hole.depth is not None):
        out[-1].append(" FAR SIDE" if asme else " far side")
    for n, h in enumerate(hole.far_heads):
        out.append(_head(h, n + len(hole.heads), asme, short, times))
        if not far:
            out[-1].append(" FAR SIDE" if asme else " far side")
    if circle is not None and circle.kind == "circle":
        words = "EQUALLY SPACED ON " if circle.is_whole else "ON "
        out.append([words if asme else words.lower(), Value(DIAMETER, circle.diameter)])
    return out


def is_center_hole(hole: Hole) -> bool:
    """Whether a hole is a center hole of type A, which has a designation of its own (ISO 6411)."""
    if hole.kind != "countersunk" or hole.bottom != "point" or len(hole.heads) != 1:
        return False
    head = hole.heads[0]
    return type_a(hole.diameter, head.diameter, head.angle)


def _deep(depth: float, role: str, short: bool, times: str) -> Row:
    return [f" {times} ", Value("", depth, role)] if short else [" ", Value(DEPTH, depth, role)]


def _threaded(hole: Hole, out: list[Row], asme: bool, short: bool, times: str, profile: Profile) -> None:
    """The thread, and the drilled hole before it where that says something."""
    name = thread_words(hole.thread, profile)
    deep = hole.depth if hole.thread_length is None else hole.thread_length
    drill: Row = [Value(DIAMETER, hole.diameter, "diameter")]
    if hole.depth is not None:
        drill += _deep(hole.depth, "depth", short, times)
    elif asme:
        drill.append(" THRU")
    tapped: Row = [name]
    if deep is not None and not (hole.depth is None and hole.thread_length is None):
        tapped += _deep(deep, "", short, times)
    if hole.depth is None and hole.thread_length is None:
        out[0].extend([name, " THRU"] if asme else [name])  # the drill goes with the thread
    elif short:
        out[0].extend([*tapped, " / ", *drill])
    elif asme:
        out[0].extend(drill)
        out.append(tapped)
    else:
        out[0].extend(tapped)
        out.append(drill)


def thread_words(designation: str, profile: Profile, external: bool = False) -> str:
    """A thread as its standard writes it: ISO 965-1 (coarse ones by their diameter alone), ASME B1.13M (with
    pitch and class), ASME B1.1 (with class)."""
    found = thread(designation)
    asme = profile.standard == "ASME"
    if designation.startswith("M"):
        fine = designation.replace("×", "x").partition("x")[2]
        size = f"M{found.major:g}"
        if asme:
            return f"{size}X{found.pitch:g}-{'6g' if external else '6H'}"
        return f"{size}×{found.pitch:g}".replace(".", profile.decimal_sign) if fine else size
    if asme and found.form == "unified":
        return f"{designation}-2{'A' if external else 'B'}"
    return designation


def _head(head: Head, number: int, asme: bool, short: bool, times: str) -> Row:
    role = ("head", "head_depth") if number == 0 else ("", "")
    wide = Value(DIAMETER, head.diameter, role[0])
    if head.kind in ("countersink", "chamfer"):
        angle = Value("", math.radians(head.angle or 90.0), is_angle=True)
        return [f"{SINK} ", wide, f" {times} ", angle]
    if head.kind == "spotface":
        row: Row = [f"{BORE}SF " if asme else f"{BORE} ", wide]
        return row if asme else [*row, *_deep(head.depth, role[1], short, times)]
    row = [f"{BORE} ", wide, *_deep(head.depth, role[1], short, times)]
    if head.kind == "counterdrill" and head.angle:
        row += [f" {times} ", Value("", math.radians(head.angle), is_angle=True)]
    return row
