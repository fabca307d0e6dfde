"""Parallel dimension lines keep their distance from each other."""

from collections.abc import Iterator

import numpy as np

from drafting.checking.page import Page
from drafting.checking.rule import Fault, Remedy, Rule

LEAST = {"ISO": 5.0, "ASME": 6.0}
"""Between two rows, mm; ISO gives no number: common practice."""


def _faults(page: Page) -> Iterator[Fault]:
    known = []
    for s in page.sizes:
        line = s.dimension_line()
        if s.size.kind == "linear" and line is not None and line.length > 1:
            a, b = np.array(line.coords)
            known.append((s.size, a, b, (b - a) / line.length))
    least = LEAST[page.drawing.profile.standard]
    for n, (one, a, b, u) in enumerate(known):
        for other, p, q, v in known[n + 1 :]:
            if one.view != other.view or abs(float(u[0] * v[1] - u[1] * v[0])) > 1e-3:
                continue
            apart = abs(float(u[0] * (p - a)[1] - u[1] * (p - a)[0]))
            if not 0.3 < apart < least - 0.05:
                continue
            low, high = sorted((float((p - a) @ u), float((q - a) @ u)))
            if min(high, float((b - a) @ u)) - max(low, 0.0) > 1.0:
                text = f"The rows of {page.called(one)} and {page.called(other)} are {apart:.1f} mm "
                text += f"apart; they need {least:g}."
                yield Fault(text, (one.id, other.id), (Remedy("Tidy the view", action="tidy"),))


RULE = Rule(
    "near rows",
    "Rows of sizes keep their distance",
    "common practice",
    "ASME Y14.5-2009 1.7.1.2",
    "look",
    _faults,
)
