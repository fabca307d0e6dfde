"""Leaders: a thin line from words to what they are about, and what it ends with (ISO 128-22: an arrow on an
outline, a dot within a face, nothing on a dimension line; an open triangle or a slash by choice; memory)."""

from collections.abc import Sequence
from typing import Literal

import numpy as np

from drafting.annotation.inking.dimension_ink import LINE_KIND, Array, arrow, xy
from drafting.ink.elements import Element, Fill, Line, Polyline
from drafting.standards.profile import Profile

End = Literal["arrow", "dot", "none", "triangle", "slash"]
END_ON: dict[str, End] = {"edge": "arrow", "face": "dot", "line": "none"}
"""What a leader ends with by what lies there."""
DOT = 0.65
"""Radius of the dot within a face, mm."""


def leader(points: Sequence[Array], end: End, profile: Profile) -> list[Element]:
    """Ink of a leader through points, paper mm, from the words to the tip; nothing where it has no length."""
    path = [np.asarray(p, float) for p in points]
    last = path[-1] - path[-2]
    length = float(np.linalg.norm(last))
    if length < 1e-9:
        return []
    ink: list[Element] = [_line(path)]
    if end == "arrow":
        ink.append(arrow(path[-1], last / length, profile))
    elif end == "triangle":
        u = last / length
        out, back = np.array([-u[1], u[0]]), path[-1] - u * profile.arrow_length
        corners = (path[-1], back + out * profile.arrow_length / 2, back - out * profile.arrow_length / 2)
        ink[0] = _line([*path[:-1], back])
        ink.append(Polyline(tuple(xy(p) for p in corners), LINE_KIND, True))
    elif end == "slash":
        u = last / length
        lean = profile.arrow_length / 2 * np.array([u[0] - u[1], u[0] + u[1]]) / np.sqrt(2)
        ink.append(Line(xy(path[-1] - lean), xy(path[-1] + lean), LINE_KIND))
    elif end == "dot":
        turns = np.linspace(0, 2 * np.pi, 17)[:-1]
        ink.append(
            Fill(tuple(xy(path[-1] + DOT * np.array([np.cos(t), np.sin(t)])) for t in turns), LINE_KIND)
        )
    return ink


def _line(path: Sequence[Array]) -> Element:
    if len(path) == 2:
        return Line(xy(path[0]), xy(path[1]), LINE_KIND)
    return Polyline(tuple(xy(p) for p in path), LINE_KIND)
