"""Mates: where instances go by how their faces lie to each other.

A mate moves one instance, its `of`, against another, its `to`, which stays. What mates leave free stays as
near as it can to where the recipe put it: parts are only moved where that is enough, and turned no more than
they must. Solved by Gauss-Newton steps of least norm, instance by instance in the order they depend on each
other; those that depend on each other in a ring are solved together.
"""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from graphlib import TopologicalSorter

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_array
from scipy.sparse.csgraph import connected_components
from scipy.spatial.transform import Rotation

from drafting.errors import ModelError

Array = NDArray[np.float64]
MET = 1e-6
"""Residual (mm; directions times the reach of the parts) below which a mate is met."""
ROUNDS = 60
TURNING, MOVING = (0, 1, 2), (3, 4, 5)
LIES = {"coincident": 3, "concentric": 3, "angle": 1}
"""How many of a mate's residuals tell how the surfaces are turned to each other; they stand first."""
TURNS = [Rotation.identity(), *(r for r in Rotation.create_group("O") if r.magnitude() > 1e-9)]
"""Turns to begin from when the solution lies round a corner: the 24 of a cube, the recipe's own first."""


@dataclass(frozen=True)
class Surface:
    """A plane (axis: outward normal) or a round face (axis: its axis), in the frame of the instance it is on.
    words: for sentences."""

    point: Array
    axis: Array
    words: str = ""


@dataclass(frozen=True)
class Mate:
    """value: mm for coincident (along the normal of `to`) and concentric (between the axes), radians for an
    angle between normals.

    facing: whether the normals of coincident planes are opposed."""

    id: str
    kind: str
    of: str
    of_surface: Surface
    to: str
    to_surface: Surface
    value: float = 0.0
    facing: bool = True


def solved(start: Mapping[str, Array], mates: Sequence[Mate], reach: float) -> dict[str, Array]:
    """Places (4 x 4) of all instances that meet the mates. start: places before them; reach: size of the
    parts, mm.

    Raises ModelError naming two mates that contradict each other.
    """
    places = {name: np.array(m, float) for name, m in start.items()}
    for ring in _rings(list(start), mates):
        own = [m for m in mates if m.of in ring]
        if own:
            _solve(places, ring, own, max(reach, 1.0))
    return places


def _rings(names: list[str], mates: Sequence[Mate]) -> list[list[str]]:
    """Instances that depend on each other in rings, most of them alone; what a ring depends on comes before
    it."""
    number = {name: i for i, name in enumerate(names)}
    of, to = (
        np.array([[number[m.of], number[m.to]] for m in mates]).T
        if mates
        else (np.zeros(0, int), np.zeros(0, int))
    )
    graph = coo_array((np.ones(len(of)), (of, to)), shape=(len(names), len(names)))
    _, labels = connected_components(graph, directed=True, connection="strong")
    order: TopologicalSorter[int] = TopologicalSorter({int(label): [] for label in labels})
    for a, b in zip(of, to, strict=True):
        if labels[a] != labels[b]:
            order.add(int(labels[a]), int(labels[b]))
    members: dict[int, list[str]] = {}
    for name, label in zip(names, labels, strict=True):
        members.setdefault(int(label), []).append(name)
    return [members[label] for label in order.static_order()]


def _solve(places: dict[str, Array], moving: list[str], mates: list[Mate], reach: float) -> None:
    found = _tried(places, moving, mates, reach)
    if found is None:
        raise ModelError(_contradiction(places, moving, mates, reach))
    places.update(found)


def _tried(
    places: Mapping[str, Array], moving: list[str], mates: list[Mate], reach: float
) -> dict[str, Array] | None:
    for turn in TURNS:
        begun = {**places, **{name: _turned(places[name], turn.as_matrix()) for name in moving}}
        lying = _newton(begun, moving, mates, reach, TURNING, lies_only=True)
        found = lying and _newton(lying, moving, mates, reach, MOVING)
        found = found or _newton(begun, moving, mates, reach, MOVING + TURNING)
        if found is not None:
            return {name: found[name] for name in moving}
    return None


def _turned(place: Array, turn: Array) -> Array:
    out = place.copy()
    out[:3, :3] = turn @ place[:3, :3]
    return out


def _newton(
    places: dict[str, Array],
    moving: list[str],
    mates: list[Mate],
    reach: float,
    free: tuple[int, ...],
    lies_only: bool = False,
) -> dict[str, Array] | None:
    """Places that meet the mates with the free ones of six motions; lies_only: only how the surfaces are
    turned to each other."""
    sense = {
        m.id: math.copysign(1.0, float(_axis(places, m.of, m.of_surface) @ _axis(places, m.to, m.to_surface)))
        for m in mates
    }

    def off(now: Mapping[str, Array]) -> Array:
        return np.concatenate(
            [_residual(m, now, sense[m.id], reach)[: LIES[m.kind] if lies_only else None] for m in mates]
        )

    now, rest = dict(places), off(places)
    for _ in range(ROUNDS):
        if np.abs(rest).max() < MET:
            return {name: _squared(m) if name in moving else m for name, m in now.items()}
        columns = []
        for name in moving:
            for axis in free:
                step = np.zeros(6)
                step[axis] = h = 1e-6 if axis < 3 else 1e-6 * reach
                one, two = (off({**now, name: _stepped(now[name], sign * step)}) for sign in (1, -1))
                scale = (
                    reach if axis < 3 else 1.0
                )  # turns weighed as the distances they make, so that the least step is least for the eye
                columns.append((one - two) / (2 * h) / scale)
        steps = np.zeros((len(moving), 6))
        steps[:, free] = np.linalg.lstsq(np.array(columns).T, -rest, rcond=1e-9)[0].reshape(-1, len(free))
        steps[:, :3] /= reach
        steps *= min(1.0, 0.7 / max(float(np.abs(steps[:, :3]).max()), 1e-12))
        if np.abs(steps).max() < 1e-14:
            return None
        now = {**now, **{name: _stepped(now[name], steps[i]) for i, name in enumerate(moving)}}
        rest = off(now)
    return None


def _squared(place: Array) -> Array:
    """Rounded where rounding errors are all that keeps a number from a plain one, so that equal places are
    equal."""
    out = place.round(12)
    near = np.abs(out[:3, 3] - out[:3, 3].round(6)) < 1e-8
    out[:3, 3][near] = out[:3, 3][near].round(6)
    turn = out[:3, :3]
    turn[np.abs(turn) < 1e-9] = 0.0
    plain = (np.abs(turn - turn.round()) < 1e-9).all(1)  # of a small turn only the cosine is nearly plain
    turn[plain] = turn[plain].round()
    return out + 0.0


def _stepped(place: Array, step: Array) -> Array:
    """A place turned by a rotation vector about its own origin and moved."""
    out = place.copy()
    out[:3, :3] = Rotation.from_rotvec(step[:3]).as_matrix() @ place[:3, :3]
    out[:3, 3] = place[:3, 3] + step[3:]
    return out


def _axis(places: Mapping[str, Array], name: str, surface: Surface) -> Array:
    out: Array = places[name][:3, :3] @ surface.axis
    return out


def _point(places: Mapping[str, Array], name: str, surface: Surface) -> Array:
    out: Array = places[name][:3, :3] @ surface.point + places[name][:3, 3]
    return out


def _coincident(m: Mate, a: Array, b: Array, p: Array, q: Array, sense: float, reach: float) -> Array:
    lies = a + b if m.facing else a - b
    return np.array([*(lies * reach), float((p - q) @ b) - m.value])


def _concentric(m: Mate, a: Array, b: Array, p: Array, q: Array, sense: float, reach: float) -> Array:
    across = (p - q) - ((p - q) @ b) * b
    lies = (a - sense * b) * reach
    if m.value == 0:
        return np.array([*lies, *across])
    return np.array([*lies, float(np.linalg.norm(across)) - m.value])


def _angle(m: Mate, a: Array, b: Array, p: Array, q: Array, sense: float, reach: float) -> Array:
    return np.array([(math.atan2(float(np.linalg.norm(np.cross(a, b))), float(a @ b)) - m.value) * reach])


_RESIDUALS: dict[str, Callable[[Mate, Array, Array, Array, Array, float, float], Array]] = {
    "coincident": _coincident,
    "concentric": _concentric,
    "angle": _angle,
}


def _residual(m: Mate, places: Mapping[str, Array], sense: float, reach: float) -> Array:
    a, b = _axis(places, m.of, m.of_surface), _axis(places, m.to, m.to_surface)
    return _RESIDUALS[m.kind](
        m, a, b, _point(places, m.of, m.of_surface), _point(places, m.to, m.to_surface), sense, reach
    )


def _contradiction(places: dict[str, Array], moving: list[str], mates: list[Mate], reach: float) -> str:
    """The first mate that cannot be met with those before it, and one of these without which it can."""
    kept: list[Mate] = []
    for mate in mates:
        if _tried(places, moving, [*kept, mate], reach) is None:
            break
        kept.append(mate)
    for other in reversed(kept):
        if _tried(places, moving, [*(k for k in kept if k is not other), mate], reach) is not None:
            return (
                f"Mates {other.id} and {mate.id} contradict each other: {_words(other)}, "
                f"and {_words(mate)}. Change one of them or take it out."
            )
    rest = f" together with {', '.join(k.id for k in kept)}" if kept else ""
    return f"Mate {mate.id} cannot be met{rest}: {_words(mate)}."


def _words(m: Mate) -> str:
    value = f"{math.degrees(m.value):g}°" if m.kind == "angle" else f"{m.value:g} mm"
    how = {
        "coincident": f"lies {value} from" if m.value else "lies on",
        "concentric": f"has its axis {value} from that of" if m.value else "is concentric with",
        "angle": f"stands at {value} to",
    }[m.kind]
    return f"{m.of_surface.words} {how} {m.to_surface.words}"
