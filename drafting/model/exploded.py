"""Exploded states of an assembly: steps that move parts along a direction, in order; and a proposal of them
from how the parts touch."""

import itertools
import math
from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from drafting.errors import ModelError
from drafting.model.model import ExplodedState, Facts, InstanceFacts, Step

Array = NDArray[np.float64]
TOUCH = 0.02
"""How far apart two faces may be that touch, mm."""
CLEARANCE = 1.2
"""How much larger a hole may be than what sits in it, mm."""
THREAD = 0.08
"""By what share of its radius a tapped hole may be smaller than the bolt drawn in it."""
MOST = 300
"""Instances of the largest assembly that steps are proposed for."""
CORNERS = np.array(list(itertools.product((0, 1), repeat=3)), float)


def checked(states: Sequence[ExplodedState], facts: Facts) -> None:
    """Raises ModelError where a state's name is there twice, a step has no direction, or moves what the
    assembly does not have."""
    names = [s.name.casefold() for s in states]
    for n, state in enumerate(states):
        if state.name.casefold() in names[:n]:
            raise ModelError(f"There are two exploded states called {state.name}.")
        for number, step in enumerate(state.steps, 1):
            if math.hypot(*step.direction) < 1e-9:
                raise ModelError(f"Step {number} of {state.name} has no direction.")
            for path in step.instances:
                if facts.part_of(path) is None:
                    raise ModelError(
                        f"Step {number} of {state.name} moves {path}, which is not in the assembly."
                    )


def moves(state: ExplodedState, share: float = 1.0) -> dict[str, list[float]]:
    """How far each part is moved, mm. share: of the whole way, 0 together, 1 apart, the last steps undone
    first."""
    out: dict[str, Array] = {}
    done = share * len(state.steps)
    for n, step in enumerate(state.steps):
        part = min(max(done - n, 0.0), 1.0)
        d = np.array(step.direction)
        by = d / max(float(np.linalg.norm(d)), 1e-12) * step.distance * part
        for path in step.instances:
            out[path] = out.get(path, np.zeros(3)) + by
    return {path: [float(v) for v in by] for path, by in out.items() if np.abs(by).max() > 1e-9}


def moved(facts: Facts, by: dict[str, list[float]]) -> Facts:
    """Facts with instances moved; the extents stay those of the whole, so that views keep their middle."""

    def at(i: InstanceFacts) -> InstanceFacts:
        if i.path not in by:
            return i
        matrix = [[*row[:3], row[3] + by[i.path][n]] if n < 3 else row for n, row in enumerate(i.matrix)]
        return i.model_copy(update={"matrix": matrix})

    return facts.model_copy(update={"instances": [at(i) for i in facts.instances]})


def seats(paths: Sequence[str], facts: Facts) -> dict[str, str]:
    """For each of these instances the one it sits on: the largest that it is mated to, else that it touches,
    among those larger than it."""
    if len(paths) > MOST:
        return {}
    number = {i.path: n for n, i in enumerate(facts.instances)}
    boxes = [_box(i, facts) for i in facts.instances]
    low, high = np.array([b[0] for b in boxes]) - CLEARANCE, np.array([b[1] for b in boxes]) + CLEARANCE
    bulk = [facts.parts[i.part].bulk for i in facts.instances]
    faces: dict[int, Touching] = {}

    def of(n: int) -> Touching:
        if n not in faces:
            faces[n] = _faces(facts.instances[n], facts)
        return faces[n]

    mated: dict[str, list[int]] = {}
    for mate in facts.mates:
        mated.setdefault(mate.of, []).append(number[mate.to])
    out = {}
    for path in paths:
        n = number[path]
        larger = [m for m in mated.get(path, []) if bulk[m] > bulk[n]]
        if larger:
            out[path] = facts.instances[max(larger, key=lambda m: bulk[m])].path
            continue
        near = np.flatnonzero((low <= high[n]).all(1) & (high >= low[n]).all(1)).tolist()
        for other in sorted(near, key=lambda m: -bulk[m]):
            if bulk[other] > bulk[n] and any(_contacts(of(n), of(other))):
                out[path] = facts.instances[other].path
                break
    return out


# ---- a proposal --------------------------------------------------------------------------------------------
def proposed(facts: Facts, name: str = "Exploded") -> ExplodedState:
    """Take the assembly apart: whatever nothing holds in a direction goes first, small parts before large
    ones; like parts go together.

    What holds a part is read from its plane and cylindrical faces that touch others. The largest part stays
    where it is.
    """
    if len(facts.instances) > MOST:
        raise ModelError(
            f"Steps are proposed for assemblies of up to {MOST} parts; this one "
            f"has {len(facts.instances)}. Pick the parts to move."
        )
    boxes = [_box(i, facts) for i in facts.instances]
    own = [_own_axis(_faces(i, facts)[1], box) for i, box in zip(facts.instances, boxes, strict=True)]
    bulk = [facts.parts[i.part].bulk for i in facts.instances]
    held = _holds(boxes, [_faces(i, facts) for i in facts.instances])
    left = set(range(len(boxes)))
    stay = int(np.argmax(bulk))
    order: list[tuple[int, Array]] = []
    while len(left) > 1:
        free = [
            (bulk[n], n, d)
            for n in left
            if n != stay and (d := _way_out(n, left, held, boxes, own[n])) is not None
        ]
        if not free:
            break
        least = min(free, key=lambda f: f[0])[0]
        for _, n, d in sorted((f for f in free if f[0] <= least * 1.001), key=lambda f: f[1]):
            order.append((n, d))
            left.discard(n)
    return ExplodedState(name=name, steps=_steps(facts, order, boxes))


def _box(i: InstanceFacts, facts: Facts) -> tuple[Array, Array]:
    part, m = facts.parts[i.part], np.array(i.matrix)
    low, high = np.array(part.low), np.array(part.high)
    corners = (low + CORNERS * (high - low)) @ m[:3, :3].T + m[:3, 3]
    return corners.min(0), corners.max(0)


Touching = tuple[Array, Array, Array]
"""Planes, cylinders and spans of planes of an instance, as `_faces` gives them."""
Holds = dict[tuple[int, int], tuple[list[Array], list[Array]]]
"""For two touching instances: directions in which the first may not go (any with a part along them), and axes
along which alone it may."""


def _holds(boxes: list[tuple[Array, Array]], faces: list[Touching]) -> Holds:
    low, high = np.array([b[0] for b in boxes]) - CLEARANCE, np.array([b[1] for b in boxes]) + CLEARANCE
    out: Holds = {}
    for a in range(len(boxes)):
        near = np.flatnonzero((low <= high[a]).all(1) & (high >= low[a]).all(1))
        for b in near[near > a].tolist():
            normals, axes = _contacts(faces[a], faces[b])
            if normals or axes:
                out[a, b] = (normals, axes)
                out[b, a] = ([-n for n in normals], axes)
    return out


def _faces(i: InstanceFacts, facts: Facts) -> Touching:
    """Planes (n, 6): normal and point; cylinders (n, 9): axis, point, radius and span; low and high of
    planes' edges (n, 6)."""
    part, m = facts.parts[i.part], np.array(i.matrix)
    planes, spans, cylinders = [], [], []
    for face in part.faces:
        origin, axis = m[:3, :3] @ np.array(face.origin) + m[:3, 3], m[:3, :3] @ np.array(face.axis)
        if face.kind == "plane":
            ends = [
                m[:3, :3] @ np.array(p) + m[:3, 3]
                for e in part.edges
                if face.name in e.faces
                for p in (e.start, e.middle, e.end)
            ]
            if ends:
                planes.append([*axis, *origin])
                spans.append([*np.min(ends, axis=0), *np.max(ends, axis=0)])
        elif face.kind == "cylinder" and face.span:
            cylinders.append([*axis, *origin, face.radius, *face.span])
    return np.array(planes).reshape(-1, 6), np.array(cylinders).reshape(-1, 9), np.array(spans).reshape(-1, 6)


def _contacts(a: Touching, b: Touching) -> tuple[list[Array], list[Array]]:
    normals: list[Array] = []
    axes: list[Array] = []
    wide: list[tuple[Array, float]] = []
    for one in a[1]:
        for two in b[1]:
            axis = one[:3]
            if (
                abs(float(axis @ two[:3])) < 1 - 1e-6
                or abs(one[6] - two[6]) > CLEARANCE / 2 + THREAD * one[6]
            ):
                continue
            aside = two[3:6] - one[3:6]
            along = float(aside @ axis)
            if np.linalg.norm(aside - axis * along) > TOUCH + CLEARANCE / 2:
                continue
            spans = sorted(
                (along + two[7] * np.sign(axis @ two[:3]), along + two[8] * np.sign(axis @ two[:3]))
            )
            if min(one[8], spans[1]) - max(one[7], spans[0]) > 1e-3:
                axes.append(axis)
                wide.append((axis, max(one[6], two[6])))
    if len(a[0]) and len(b[0]):
        facing = a[0][:, :3] @ b[0][:, :3].T < -1 + 1e-6
        level = np.abs(((b[0][None, :, 3:] - a[0][:, None, 3:]) * a[0][:, None, :3]).sum(2)) < TOUCH
        over = (
            np.minimum(a[2][:, None, 3:], b[2][None, :, 3:])
            - np.maximum(a[2][:, None, :3], b[2][None, :, :3])
        ) > -TOUCH
        half = [np.abs(x[2][:, 3:] - x[2][:, :3]) / 2 for x in (a, b)]
        for n, m in zip(*np.nonzero(facing & level & over.all(2)), strict=True):
            # a face inside the hole of the other, as a shaft's end in its bore, touches nothing
            if any(
                abs(float(axis @ a[0][n, :3])) > 1 - 1e-6
                and min(half[0][n].max(), half[1][m].max()) < r + CLEARANCE
                for axis, r in wide
            ):
                continue
            normals.append(a[0][n, :3])
    return normals, axes


def _own_axis(cylinders: Array, box: tuple[Array, Array]) -> Array | None:
    """The axis of a turned part: of its largest cylindrical face, where that makes up most of its width."""
    if not len(cylinders):
        return None
    most = cylinders[int(np.argmax(cylinders[:, 6] * (cylinders[:, 8] - cylinders[:, 7])))]
    width = float(((box[1] - box[0]) * (1 - np.abs(most[:3]))).max())
    return np.asarray(most[:3]) if 2 * most[6] > 0.4 * width else None


def _way_out(
    n: int, left: set[int], held: Holds, boxes: list[tuple[Array, Array]], own: Array | None
) -> Array | None:
    """A direction in which nothing that is left holds an instance or stands in its way: along its own axis,
    else where it is out soonest."""
    normals = [v for b in left if (n, b) in held for v in held[n, b][0]]
    axes = [v for b in left if (n, b) in held for v in held[n, b][1]]
    ways = [s * v for v in (*([] if own is None else [own]), *axes, *np.eye(3)) for s in (1.0, -1.0)]
    others = [b for b in left if b != n]
    lows, highs = np.array([boxes[b][0] for b in others]), np.array([boxes[b][1] for b in others])
    beside = np.minimum(highs, boxes[n][1]) - np.maximum(lows, boxes[n][0]) > TOUCH
    best: tuple[float, Array] | None = None
    low, high = np.min([boxes[b][0] for b in left], axis=0), np.max([boxes[b][1] for b in left], axis=0)
    for d in ways:
        if any(float(d @ v) > 1e-3 for v in normals) or any(abs(float(d @ v)) < 1 - 1e-3 for v in axes):
            continue
        ahead = (
            np.where(d > 0, lows * d, highs * d).sum(1)
            >= float(np.where(d > 0, boxes[n][1] * d, boxes[n][0] * d).sum()) - TOUCH
        )
        if (ahead & (beside | (np.abs(d) > 0.5)).all(1)).any():
            continue
        to_go = float(np.where(d > 0, (high - boxes[n][0]) * d, (low - boxes[n][1]) * d).max())
        to_go -= 1e6 if own is not None and abs(float(d @ own)) > 1 - 1e-6 else 0.0
        if best is None or to_go < best[0] - 1e-6:
            best = (to_go, d)
    return best[1] if best else None


def _steps(facts: Facts, order: list[tuple[int, Array]], boxes: list[tuple[Array, Array]]) -> list[Step]:
    """From the way of taking apart to distances: what was taken off last is moved first, clear of all that
    stays nearer to the middle."""
    gap = 0.06 * math.dist(facts.low, facts.high)
    taken = {n for n, _ in order}
    now = {n: box for n, box in enumerate(boxes) if n not in taken}
    by_step: list[tuple[Array, list[int]]] = []
    for n, d in reversed(order):
        for way, members in by_step:
            same = facts.instances[members[0]].part == facts.instances[n].part
            if (
                same
                and float(way @ d) > 1 - 1e-6
                and abs(float((boxes[members[0]][0] - boxes[n][0]) @ d)) < 1e-3
            ):
                members.append(n)
                break
        else:
            by_step.append((d, [n]))
    out = []
    for d, members in by_step:
        reach = 0.0
        for n in members:
            low, high = boxes[n]
            for other in now.values():
                over = (np.minimum(high, other[1]) - np.maximum(low, other[0])) > -1e-6
                if all(over[k] or abs(d[k]) > 0.5 for k in range(3)):
                    front, back = (
                        float(np.maximum(other[0] * d, other[1] * d).sum()),
                        float(np.minimum(low * d, high * d).sum()),
                    )
                    reach = max(reach, front - back + gap)
        for n in members:
            now[n] = (boxes[n][0] + d * reach, boxes[n][1] + d * reach)
        if reach <= 0:  # it is clear already, and goes a little farther to be told apart
            reach = gap
        if members:
            paths = [facts.instances[n].path for n in members]
            out.append(
                Step(
                    instances=paths, direction=[round(float(v), 6) + 0.0 for v in d], distance=round(reach, 1)
                )
            )
    return out
