"""Numbering all parts of a view: one balloon for each item that is seen, in rows and columns about the view,
leaders that do not cross.

Leaders of least total length do not cross: of two that cross, exchanging their ends is shorter. So balloons
are matched to places by length first; what then stands against it (a balloon on a leader, a leader along the
hatching) is mended by exchanges that cross nothing.
"""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy import ndimage
from scipy.optimize import linear_sum_assignment

from drafting.annotation.inking.dimension_ink import Array
from drafting.annotation.kinds import balloon
from drafting.annotation.kinds.balloon import Balloon, Numbers
from drafting.annotation.measuring.pointing import tip_at
from drafting.context import Context
from drafting.document import in_view
from drafting.standards.profile import Profile
from drafting.views.geometry import ViewGeometry, arc_points

AWAY = 7.0
"""Between the outline and the balloons, mm."""
ON_FACE = 1.0
"""How far inside a face the end of a leader must lie to end there in a dot, mm on paper."""
ALONG_HATCH = math.radians(8)
ROUNDS = 60
NEAR, SWAPS = 12, 24
"""How many free places, and places of others, are tried for a leader that something stands against."""
CROSSING, COVERED, OVER, HATCHED, SIZED, LEVEL = 1e5, 1e4, 20.0, 30.0, 15.0, 6.0
"""How much longer a leader may be, mm, not to cross another, cover a balloon, run over another's end, along
hatching, over a line of a size, or lie level or upright."""
OVER_TIP = 1.5
"""How near to the end of another a leader runs over what that one points at, mm."""
SMALL = 6.0
"""Half the size on paper, mm, up to which a part is kept clear of other leaders as a whole."""


@dataclass(frozen=True)
class Seat:
    """Where a leader may end for an item: places on its largest seen face (view mm, (n, 2)), or one on an
    edge. Other leaders keep `clear` mm on paper from its middle (view mm) where it is small, else from the
    end of its own leader."""

    key: str
    instance: int
    places: Array
    best: Array
    on: str
    middle: Array | None = None
    clear: float = OVER_TIP


def seats(geometry: ViewGeometry, numbers: Numbers, scale: float) -> list[Seat]:
    """For each item that is seen the instance that shows most, by item number."""
    raster = geometry.seen.raster() if geometry.seen else np.full((1, 1), -1)
    found: dict[str, tuple[float, Seat]] = {}
    for number, window in enumerate(ndimage.find_objects(raster + 1)):
        key = numbers.keys.get(geometry.instances[number], "") if window is not None else ""
        if window is None or not key or geometry.seen is None:
            continue
        mask = np.pad(raster[window] == number, 1)
        inside = ndimage.distance_transform_edt(mask)[1:-1, 1:-1]
        deep = float(inside.max()) * geometry.seen.cell * scale
        if key not in found or deep > found[key][0]:
            found[key] = (deep, _seat(key, number, inside, window, geometry, scale))
    for key, place, number in _edges(
        geometry, numbers, {k for k, (deep, _) in found.items() if deep >= ON_FACE}
    ):
        glimpse = found.get(key, (0.0, None))[1]
        if glimpse is not None and glimpse.instance == number:
            found[key] = (
                ON_FACE,
                Seat(key, number, place[None], place, "edge", glimpse.middle, glimpse.clear),
            )
        else:
            found[key] = (ON_FACE, Seat(key, number, place[None], place, "edge"))
    shown = [seat for deep, seat in found.values() if deep >= ON_FACE]  # the rest is a glimpse through a gap
    return sorted(shown, key=lambda seat: numbers.items[seat.key])


def _seat(
    key: str,
    number: int,
    inside: NDArray[np.float64],
    window: tuple[slice, slice],
    geometry: ViewGeometry,
    scale: float,
) -> Seat:
    seen = geometry.seen
    assert seen is not None
    enough = min(0.7 * float(inside.max()), 2.5 / (seen.cell * scale))
    row, column = np.nonzero(inside >= enough)

    def at(r: NDArray[np.int64], c: NDArray[np.int64]) -> Array:
        out: Array = np.stack(
            [
                seen.left + (c + window[1].start + 0.5) * seen.cell,
                seen.bottom + (r + window[0].start + 0.5) * seen.cell,
            ],
            1,
        )
        return out

    best = np.unravel_index(int(inside.argmax()), inside.shape)
    half = max(inside.shape) / 2 * seen.cell * scale
    small = half <= SMALL
    middle = (
        at(np.array([(inside.shape[0] - 1) / 2]), np.array([(inside.shape[1] - 1) / 2]))[0] if small else None
    )
    chosen = at(np.array([best[0]]), np.array([best[1]]))[0]
    return Seat(key, number, at(row, column), chosen, "face", middle, half if small else OVER_TIP)


def _edges(geometry: ViewGeometry, numbers: Numbers, have: set[str]) -> list[tuple[str, Array, int]]:
    """For items whose faces are too small, the middle of their longest visible curve."""
    longest: dict[str, tuple[float, Array, int]] = {}
    for c in geometry.curves:
        key = numbers.keys.get(geometry.instances[c.instance], "")
        if not c.visible or not key or key in have or c.edge_class == "smooth":
            continue
        points = arc_points(c, 33)
        size = float(np.linalg.norm(np.diff(points, axis=0), axis=1).sum())
        if key not in longest or size > longest[key][0]:
            middle = points[len(points) // 2] if len(points) > 2 else (points[0] + points[-1]) / 2
            longest[key] = (size, middle, c.instance)
    return [(key, place, number) for key, (_, place, number) in longest.items()]


def proposed(
    known: Sequence[Balloon],
    geometry: ViewGeometry,
    numbers: Numbers,
    context: Context,
    room: shapely.Geometry,
    hatching: Mapping[int, float],
    ids: Sequence[str],
    lines: Sequence[shapely.Geometry] = (),
) -> list[Balloon]:
    """Balloons for every item seen in a view; those that are there keep what they point at. room: what is
    free on paper, mm about the view's position, the view's own outline and rows of sizes taken out; hatching:
    its angle in radians by instance; ids: for new balloons; lines: of sizes, on paper like the room, that
    leaders are better not to cross."""
    there = {numbers.keys.get(b.instance, ""): b for b in known}
    wanted = [(s, there.get(s.key)) for s in seats(geometry, numbers, context.scale)]
    tips = np.array([balloon.tip_of(b, context) if b else s.best * context.scale for s, b in wanted]).reshape(
        -1, 2
    )
    if not len(tips):
        return []
    places = _places(
        np.array(geometry.low) * context.scale,
        np.array(geometry.high) * context.scale,
        len(tips),
        context.profile,
        room,
    )
    angles = [hatching.get(s.instance) if s.on == "face" else None for s, _ in wanted]
    against = Against(
        _pieces(lines),
        np.array(
            [
                t if s.middle is None else s.middle * context.scale
                for (s, _), t in zip(wanted, tips, strict=True)
            ]
        ),
        np.array([s.clear for s, _ in wanted]),
        angles,
        balloon.radius(context.profile),
    )
    chosen = _matched(tips, places, against)
    for n, (s, b) in enumerate(wanted):
        if b is None:
            tips[n] = _shorter(n, s.places * context.scale, tips, places[chosen], against)
    fresh = iter(ids)
    out = []
    for (s, b), tip, at in zip(wanted, tips, places[chosen], strict=True):
        path = geometry.instances[s.instance]
        place = balloon.placed(at, context.scale)
        if b is not None:
            out.append(b.model_copy(update={"place": place}))
        else:
            out.append(
                Balloon(
                    id=next(fresh),
                    anchor=in_view(context.view_id),
                    instance=path,
                    tip=tip_at(path, tip / context.scale, context),
                    on=s.on,
                    place=place,
                )
            )  # type: ignore[arg-type]
    return out


def _places(low: Array, high: Array, count: int, profile: Profile, room: shapely.Geometry) -> Array:
    """Places in rows and columns about the outline, ring by ring, until there are enough that are free."""
    r = balloon.radius(profile)
    pitch = 2.8 * r
    found: list[Array] = []
    for ring in range(8):
        away = AWAY + r + ring * pitch
        x0, y0, x1, y1 = low[0] - away, low[1] - away, high[0] + away, high[1] + away
        xs, ys = _spaced(low[0], high[0], pitch), _spaced(low[1], high[1], pitch)
        at = np.array([*((x, y) for x in xs for y in (y0, y1)), *((x, y) for y in ys for x in (x0, x1))])
        free = shapely.contains(room, shapely.buffer(shapely.points(at), r + 0.5))
        found.append(at[free])
        if sum(map(len, found)) >= count * 1.5 + 4:
            break
    out = np.concatenate(found)
    if len(out) < count:  # no room on the sheet: rows go on above the view, and the overlap is seen
        more = count - len(out)
        out = np.concatenate(
            [out, np.stack([low[0] + np.arange(more) * pitch, np.full(more, high[1] + AWAY + r)], 1)]
        )
    return out


def _spaced(low: float, high: float, pitch: float) -> Array:
    count = max(1, int((high - low) // pitch) + 1)
    out: Array = (low + high) / 2 + (np.arange(count, dtype=float) - (count - 1) / 2) * pitch
    return out


def _pieces(lines: Sequence[shapely.Geometry]) -> tuple[Array, Array]:
    """Starts and ends (n, 2) of all straight pieces of lines."""
    found = [shapely.get_coordinates(line) for line in lines]
    none = [np.zeros((0, 2))]
    return np.concatenate(none + [p[:-1] for p in found]), np.concatenate(none + [p[1:] for p in found])


@dataclass(frozen=True)
class Against:
    """What leaders keep off, mm on paper: pieces of lines of sizes (starts and ends, (m, 2)); for each leader
    the middle (n, 2) of what it points at and how far others keep from that; the hatching it points into; the
    radius of a balloon."""

    lines: tuple[Array, Array]
    middles: Array
    clear: Array
    angles: Sequence[float | None]
    r: float

    def lines_crossed(self, tip: Array, end: Array) -> int:
        """How many lines of sizes a leader from tip to end would cross."""
        return int(_crosses(tip, end, *self.lines).sum())

    def run_over(self, tip: Array, end: Array) -> NDArray[np.bool_]:
        """Which other parts a leader runs over; not those beside which it ends."""
        out: NDArray[np.bool_] = (_away(tip, end, self.middles) < self.clear) & (
            np.hypot(*(self.middles - tip).T) > self.clear
        )
        return out


def _matched(tips: Array, places: Array, against: Against) -> NDArray[np.int64]:
    """The place of each tip."""
    length = np.linalg.norm(tips[:, None] - places[None], axis=2)
    _, chosen = linear_sum_assignment(length)
    now = _Leaders(tips, places[chosen], against)
    for _ in range(ROUNDS):
        before = now.cost
        for i in now.conflicting():
            free = np.setdiff1d(np.arange(len(places)), chosen)
            near = free[np.argsort(length[i, free])][:NEAR]
            others = np.argsort(length[i, chosen])[:SWAPS]
            trials = [{i: int(chosen[j]), int(j): int(chosen[i])} for j in others if j != i] + [
                {i: int(f)} for f in near
            ]
            tried = [now.moved({n: places[at] for n, at in trial.items()}) for trial in trials]
            best = min(range(len(tried)), key=lambda n: tried[n].cost, default=None)
            if best is not None and tried[best].cost < now.cost - 1e-9:
                now = tried[best]
                chosen[list(trials[best])] = list(trials[best].values())
        if now.cost > before - 1e-9:
            break
    return np.asarray(chosen)


class _Leaders:
    """Leaders from tips to balloons, with what stands against them kept pair by pair, so that a moved one is
    compared with the rest alone.

    cost: their length, mm, and so many mm more for what stands against them.
    """

    def __init__(self, tips: Array, ends: Array, standing: Against) -> None:
        self.tips, self.ends, self.standing = tips, ends, standing
        n = len(tips)
        self.against = np.zeros((n, n))
        self.own = np.zeros(n)
        for i in range(n):
            self._look(i)
        self._sum()

    def moved(self, to: Mapping[int, Array]) -> "_Leaders":
        """The same with some balloons elsewhere."""
        out = _Leaders.__new__(_Leaders)
        out.tips, out.standing = self.tips, self.standing
        out.ends, out.against, out.own = self.ends.copy(), self.against.copy(), self.own.copy()
        for i, at in to.items():
            out.ends[i] = at
        for i in to:
            out._look(i)
        out._sum()
        return out

    def conflicting(self) -> list[int]:
        return np.flatnonzero(self.against.any(1) | (self.own > 0)).tolist()

    def _look(self, i: int) -> None:
        tip, end, tips, ends, known = self.tips[i], self.ends[i], self.tips, self.ends, self.standing
        cross = CROSSING * _crosses(tip, end, tips, ends)
        middle, clear = known.middles[i], known.clear[i]
        over = (_away(tips, ends, middle) < clear) & (np.hypot(*(tips - middle).T) > clear)
        mine = cross + COVERED * (_away(tip, end, ends) < known.r + 0.5) + OVER * known.run_over(tip, end)
        others = cross + COVERED * (_away(tips, ends, end) < known.r + 0.5) + OVER * over
        mine[i] = others[i] = 0.0
        self.against[i], self.against[:, i] = mine, others
        self.own[i] = (
            HATCHED * _along(end - tip, known.angles[i])
            + LEVEL * _level(end - tip)
            + SIZED * known.lines_crossed(tip, end)
        )

    def _sum(self) -> None:
        away = self.ends - self.tips
        self.cost = float(self.against.sum() + self.own.sum() + np.hypot(away[:, 0], away[:, 1]).sum())


def _crosses(p: Array, q: Array, a: Array, b: Array) -> NDArray[np.bool_]:
    """Whether the line from p to q properly crosses lines (n, 2) from a to b."""

    def side(o: Array, d: Array, x: Array) -> Array:
        out: Array = d[..., 0] * (x[..., 1] - o[..., 1]) - d[..., 1] * (x[..., 0] - o[..., 0])
        return out

    out: NDArray[np.bool_] = (side(p, q - p, a) * side(p, q - p, b) < 0) & (
        side(a, b - a, p) * side(a, b - a, q) < 0
    )
    return out


def _away(p: Array, q: Array, points: Array) -> Array:
    """How far points lie from the line from p to q; either may be many."""
    d = q - p
    t = np.clip(((points - p) * d).sum(-1) / np.maximum((d * d).sum(-1), 1e-18), 0, 1)
    gone = points - p - d * t[..., None]
    out: Array = np.hypot(gone[..., 0], gone[..., 1])
    return out


def _along(v: Array, angle: float | None) -> bool:
    if angle is None:
        return False
    return abs(math.remainder(math.atan2(float(v[1]), float(v[0])) - angle, math.pi)) < ALONG_HATCH


def _level(v: Array) -> bool:
    """Level and upright leaders look like lines of the part."""
    return float(np.abs(v).min()) < 0.05 * float(np.abs(v).max())


def _shorter(n: int, choices: Array, tips: Array, ends: Array, against: Against) -> Array:
    """The end of a leader moved along its face toward the balloon, as far as that stands against nothing."""
    order = np.argsort(np.linalg.norm(choices - ends[n], axis=1))
    others = np.arange(len(tips)) != n
    crossed, end = against.lines_crossed(tips[n], ends[n]), ends[n]
    for k in order[:: max(1, len(order) // 40)]:
        at = choices[k]
        if (
            _along(end - at, against.angles[n])
            or _level(end - at)
            or _crosses(at, end, tips[others], ends[others]).any()
        ):
            continue
        if (_away(at, end, ends[others]) < against.r + 0.5).any() or against.run_over(at, end)[others].any():
            continue
        if against.lines_crossed(at, end) > crossed:
            continue
        out: Array = at
        return out
    still: Array = tips[n]
    return still
