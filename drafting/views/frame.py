"""Where a view shows places of the model, and where they are in the model: lengths are measured there, not on
the sheet."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from drafting.document import View
from drafting.errors import SizeError
from drafting.model.model import Facts, InstanceFacts
from drafting.views.family import exploded_moves, facing
from drafting.views.interrupted import Warp
from drafting.views.section import leg_depths, leg_turns, legs_of, section_depth

Array = NDArray[np.float64]


@dataclass(frozen=True)
class ViewFrame:
    """From model to a view's plane at 1:1: rows right, up, toward, and the model point at the view's origin.

    legs: of an aligned section, each with the test of its place and the turn that brings it into the paper;
    depths: of the legs of a straight section, from and to along the line and how far toward the viewer from
    the model's middle; warp: the view's breaks.
    """

    matrix: Array
    middle: Array
    pictorial: bool
    legs: tuple[tuple[Array, Array, Array], ...] = ()
    depths: tuple[tuple[float, float, float], ...] = ()
    along: Array | None = None
    warp: Warp | None = None
    origin: Array | None = None
    shown: tuple[Array, Array] | None = None
    """Lower left and upper right of what a detail shows, view mm; None for all of the model."""
    moves: Mapping[str, Sequence[float]] = field(default_factory=dict)
    """How far parts are moved in an exploded view, model mm."""

    @staticmethod
    def of(view: View, facts: Facts, scale: float = 1.0) -> "ViewFrame":
        """scale: paper over model, for the gaps of an interrupted view."""
        middle = (np.array(facts.low) + np.array(facts.high)) / 2
        o = facing(view)
        m = o.matrix()
        if view.detail:
            middle = middle + m[0] * view.detail.center.x + m[1] * view.detail.center.y
        legs: tuple[tuple[Array, Array, Array], ...] = ()
        depths: tuple[tuple[float, float, float], ...] = ()
        along = None
        if view.section:
            line = view.section.line
            points = [(p.x, p.y) for p in line.points]
            if line.form == "aligned":
                legs = tuple(leg_turns(points, line.base, (np.array(facts.low) + np.array(facts.high)) / 2))
                depths = ((-math.inf, math.inf, section_depth(points[0], points, line.viewer)),)
            else:
                depths = tuple(leg_depths(points, line.viewer))
            along = line.base.matrix()[:2].T @ legs_of(points)[0]
        return ViewFrame(
            m,
            middle,
            view.is_pictorial,
            legs,
            depths,
            along,
            Warp.of(view, scale) if view.interruptions else None,
            (np.array(facts.low) + np.array(facts.high)) / 2,
            _detail_box(view),
            exploded_moves(view, facts),
        )

    def flat(self, p: Array) -> Array:
        """View mm (2,) of a model point (3,), before breaks draw the view together."""
        out: Array = self.matrix[:2] @ (p - self.middle)
        return out

    def drawn(self, p: Array) -> Array:
        """Where a place of the plane is drawn once breaks are left out."""
        return p if self.warp is None else np.array(self.warp.point((float(p[0]), float(p[1]))))

    def undrawn(self, p: tuple[float, float]) -> tuple[float, float]:
        """The place of the plane that is drawn at a place, as if no break were left out."""
        return p if self.warp is None else self.warp.back(p)

    def piece(self, p: Array) -> tuple[Array, Array, Array]:
        """Of the piece of an interrupted view in which a place lies as drawn: its lower left and upper right,
        and how far it is moved."""
        if self.warp is None:
            return np.full(2, -math.inf), np.full(2, math.inf), np.zeros(2)
        low, high, shift = self.warp.piece((float(p[0]), float(p[1])))
        return np.array(low), np.array(high), np.array(shift)

    def direction(self, v: Array) -> Array:
        """A model vector on paper (2,)."""
        out: Array = self.matrix[:2] @ v
        return out

    def placed(self, instance: InstanceFacts, at: list[float]) -> list[list[float]]:
        """An instance's matrix as the view shows it: moved where the view is exploded, turned by the leg in
        which a point of its part lies."""
        if not self.legs and instance.path not in self.moves:
            return instance.matrix
        m = np.array(instance.matrix)
        m[:3, 3] += self.moves.get(instance.path, (0.0, 0.0, 0.0))
        if not self.legs:
            return [[float(v) for v in row] for row in m]
        p = m[:3, :3] @ np.array(at) + m[:3, 3]
        best = max(
            self.legs, key=lambda leg: float((p - leg[0]) @ leg[1]) if leg is not self.legs[0] else 0.0
        )
        out: list[list[float]] = (best[2] @ m).tolist()
        return out

    @property
    def base(self) -> Array:
        """The model's middle: where depths and places along the cutting line are counted from."""
        return self.origin if self.origin is not None else self.middle

    def cut_depth(self, p: Array) -> float:
        """How far toward the viewer from the model's middle the cut lies at a model point. Raises SizeError
        in a view without a cut."""
        s = float((p - self.base) @ self.along) if self.along is not None else 0.0
        for first, last, depth in self.depths:
            if first <= s <= last:
                return depth
        raise SizeError("That place is not cut any more.")


def _detail_box(view: View) -> tuple[Array, Array] | None:
    d = view.detail
    if d is None:
        return None
    if d.shape == "circle":
        return np.array([-d.radius, -d.radius]), np.array([d.radius, d.radius])
    if d.shape == "rectangle":
        return np.array([-d.width / 2, -d.height / 2]), np.array([d.width / 2, d.height / 2])
    points = np.array([(p.x - d.center.x, p.y - d.center.y) for p in d.points])
    return points.min(0), points.max(0)
