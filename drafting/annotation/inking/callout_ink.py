"""Ink of callouts: a leader from what is meant, its shoulder, and rows of words."""

from collections.abc import Sequence

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, line
from drafting.annotation.inking.leader import End, leader
from drafting.annotation.wording.label import Row
from drafting.ink.elements import Element, Text
from drafting.standards.profile import Profile


def callout_ink(
    center: Array, radius: float, at: Array, rows: Sequence[Row], profile: Profile, end: End = "arrow"
) -> list[Element]:
    """A leader that aims at a center and ends on the circle about it, and the rows beside the place at which
    it begins; paper mm."""
    h = profile.text_height
    toward = at - center
    away = float(np.linalg.norm(toward))
    side = 1.0 if toward[0] >= 0 else -1.0
    out: list[Element] = []
    if away > radius + 1e-6:
        out += leader([at, center + toward / away * radius], end, profile)
    wide = max(row.x for row in rows)
    above = profile.dimension_text == "above"
    if above:
        last = at + np.array([side * (wide + 1.5), 0.0])
        left = min(float(at[0]), float(last[0])) + 0.75
        base = float(at[1]) + profile.text_gap - min(rows[0].low, 0.0)
    else:
        last = at + np.array([side * 4.0, 0.0])
        left = float(last[0]) + (profile.text_gap if side > 0 else -profile.text_gap - wide)
        base = float(at[1]) - (rows[0].low + rows[0].high) / 2
    out.append(line(at, last))
    for n, row in enumerate(rows):
        if n:
            under = 0.6 * h if not (above and n == 1) else max(0.6 * h, profile.text_gap)
            floor = float(at[1]) if above and n == 1 else base + min(rows[n - 1].low, 0.0)
            base = floor - under - row.high
        out += [Text((left + x, base + y), text, tall, LINE_KIND) for x, y, text, tall in row.pieces]
    return out
