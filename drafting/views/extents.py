"""How much paper a view takes, told from the model's boxes alone: for arranging before anything is
derived."""

import itertools

import numpy as np

from drafting.document import Sheet, view_scale
from drafting.model.model import Facts
from drafting.views.family import facing, model_middle
from drafting.views.interrupted import Warp
from drafting.views.orientation import Orientation
from drafting.views.view import View

Box = tuple[float, float, float, float]
"""Left, bottom, right, top in mm about a view's position."""


def model_box(facts: Facts, o: Orientation, without: list[str] | None = None) -> Box:
    """Extents of the model's parts in a direction, view mm at 1:1."""
    rows, middle = o.matrix()[:2], model_middle(facts)
    low, high = np.full(2, np.inf), np.full(2, -np.inf)
    for instance in facts.instances:
        if without and instance.path in without:
            continue
        part, m = facts.parts[instance.part], np.array(instance.matrix)
        corners = (
            np.array(list(itertools.product(*zip(part.low, part.high, strict=True)))) @ m[:3, :3].T + m[:3, 3]
        )
        flat = (corners - middle) @ rows.T
        low, high = np.minimum(low, flat.min(0)), np.maximum(high, flat.max(0))
    if not np.isfinite(low).all():
        return 0.0, 0.0, 0.0, 0.0
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def view_box(view: View, sheet: Sheet, facts: Facts) -> Box:
    """Extents of a view on paper about its position, without its label and sizes."""
    f = view_scale(sheet, view).factor
    if view.detail:
        d = view.detail
        half = {"circle": (d.radius, d.radius), "rectangle": (d.width / 2, d.height / 2)}.get(d.shape)
        if half is None:
            xs, ys = [p.x - d.center.x for p in d.points], [p.y - d.center.y for p in d.points]
            return min(xs) * f, min(ys) * f, max(xs) * f, max(ys) * f
        return -half[0] * f, -half[1] * f, half[0] * f, half[1] * f
    left, bottom, right, top = model_box(facts, facing(view), view.without)
    if view.interruptions:
        warp = Warp.of(view, f)
        (left, bottom), (right, top) = warp.point((left, bottom)), warp.point((right, top))
    return left * f, bottom * f, right * f, top * f
