"""Whether what was measured is in or out."""

import math
from dataclasses import dataclass

from drafting.annotation.kinds.control_frame_words import ControlFrame
from drafting.annotation.review import frame_meaning
from drafting.annotation.wording.numbers import INCH
from drafting.context import Context
from drafting.errors import SizeError
from drafting.inspection.requirements import Requirement

NEAR = 1e-9


@dataclass(frozen=True)
class Reading:
    """What was measured of one piece. value: in the requirement's unit; dx, dy: how far a place is off its
    basic one; size: of the feature, for what a material condition adds; is_kept: of what is in words."""

    number: int
    piece: str = "1"
    value: float | None = None
    dx: float | None = None
    dy: float | None = None
    size: float | None = None
    is_kept: bool | None = None


@dataclass(frozen=True)
class Verdict:
    """is_in: None where it cannot be told, with the reason; value: what counts, as a position's from dx and
    dy; allowed: the tolerance with its bonus."""

    is_in: bool | None
    why: str = ""
    value: float | None = None
    allowed: float | None = None


def judged(
    r: Requirement, reading: Reading, frame: ControlFrame | None = None, context: Context | None = None
) -> Verdict:
    """Whether a reading keeps a requirement. frame, context: of a control frame's requirement."""
    if r.by_words:
        return Verdict(reading.is_kept, "" if reading.is_kept is not None else "Say whether it is kept.")
    if frame is not None and context is not None:
        return _of_frame(r, reading, frame, context)
    if reading.value is None:
        return Verdict(None, "Nothing is measured yet.")
    low = -math.inf if r.lower is None else r.lower
    high = math.inf if r.upper is None else r.upper
    return Verdict(low - NEAR <= reading.value <= high + NEAR, value=reading.value)


def _of_frame(r: Requirement, reading: Reading, frame: ControlFrame, context: Context) -> Verdict:
    per = INCH if r.unit == "in" else 1.0
    value = reading.value
    if reading.dx is not None or reading.dy is not None:
        if r.is_round and (reading.dx is None or reading.dy is None):
            return Verdict(None, "A round zone needs both dx and dy.")
        dx, dy = reading.dx or 0.0, reading.dy or 0.0
        value = 2 * (math.hypot(dx, dy) if r.is_round else max(abs(dx), abs(dy)))
    size = None if reading.size is None else reading.size * per
    allowed = r.upper
    if value is not None and allowed is not None and value <= allowed + NEAR:  # no bonus is needed
        return Verdict(True, value=round(value, 6), allowed=allowed)
    if r.modifier:
        if size is None:
            why = "With a material condition the measured size is needed too."
            return Verdict(None, why if value is not None else "Nothing is measured yet.", value)
        try:
            allowed = frame_meaning.measured(frame, context, size, None, r.row).allowed / per
        except SizeError as error:
            return Verdict(False if "out of limits" in str(error) else None, str(error), value)
    if value is None:
        return Verdict(None, "Nothing is measured yet.", None, allowed)
    assert allowed is not None
    return Verdict(value <= allowed + NEAR, value=round(value, 6), allowed=round(allowed, 6))
