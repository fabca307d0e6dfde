"""All features of a part, recognized once and kept."""

from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from drafting.features.body import Axis, Body
from drafting.features.edges import blends, chamfers
from drafting.features.feature import Feature, Vec3, alike
from drafting.features.hole import Hole, equal
from drafting.features.holes import holes
from drafting.features.patterns import Pattern, patterns
from drafting.features.pockets import pockets, raised, ribs
from drafting.features.reliefs import reliefs
from drafting.features.shafts import Shaft, shafts
from drafting.features.sizes import FeatureOfSize, Likely, likely_datums, sizes, symmetry
from drafting.features.slots import slots
from drafting.features.turned import flats, grooves, tapers
from drafting.memory import Memory
from drafting.model.model import PartFacts


@dataclass(frozen=True)
class Features:
    """What was found on a part. groups: numbers of holes that are alike and run the same way, every hole in
    one; patterns: of each group; others: slots, pockets and all else; kinds: numbers of equal ones of those.
    known: whether the facts tell enough to look for features."""

    holes: tuple[Hole, ...]
    groups: tuple[tuple[int, ...], ...]
    patterns: tuple[tuple[Pattern, ...], ...]
    shafts: tuple[Shaft, ...] = ()
    others: tuple[Feature, ...] = ()
    kinds: tuple[tuple[int, ...], ...] = ()
    known: bool = True

    @cached_property
    def _by_face(self) -> dict[str, list[int]]:
        out: dict[str, list[int]] = defaultdict(list)
        for n, hole in enumerate(self.holes):
            for name in hole.faces:
                out[name].append(n)
        return out

    @cached_property
    def _group_of(self) -> dict[int, int]:
        return {n: k for k, group in enumerate(self.groups) for n in group}

    def holes_at(self, faces: Iterable[str]) -> list[int]:
        """Numbers of the holes that faces belong to."""
        return list(dict.fromkeys(n for name in faces for n in self._by_face.get(name, ())))

    @cached_property
    def _others_by_face(self) -> dict[str, list[int]]:
        out: dict[str, list[int]] = defaultdict(list)
        for n, feature in enumerate(self.others):
            for name in feature.faces:
                out[name].append(n)
        return out

    def others_at(self, faces: Iterable[str]) -> list[int]:
        """Numbers of the other features that faces belong to: those that most of the faces are of first, then
        those of fewer faces."""
        count: dict[int, int] = defaultdict(int)
        for name in faces:
            for n in self._others_by_face.get(name, ()):
                count[n] += 1
        return sorted(count, key=lambda n: (-count[n], len(self.others[n].faces), n))

    @cached_property
    def _kind_of(self) -> dict[int, tuple[int, ...]]:
        return {n: kind for kind in self.kinds for n in kind}

    def equals(self, other: int) -> tuple[int, ...]:
        """Numbers of the other features equal to one, itself among them."""
        return self._kind_of[other]

    def alike(self, hole: int) -> tuple[int, ...]:
        """Numbers of the holes equal to one, itself among them."""
        return self.groups[self._group_of[hole]]

    def pattern_of(self, hole: int) -> Pattern | None:
        """The pattern that a hole stands in with others."""
        found = self.patterns[self._group_of[hole]]
        return next((p for p in found if hole in p.members), None)


@dataclass(frozen=True)
class Frame:
    """What a part is measured by: features of size, planes of symmetry (a point and the normal of each), and
    likely datums."""

    sizes: tuple[FeatureOfSize, ...]
    symmetry: tuple[tuple[Vec3, Vec3], ...]
    datums: tuple[Likely, ...]


_FEATURES: Memory[Features] = Memory(512)
_FRAMES: Memory[Frame] = Memory(64)


def features(part: PartFacts) -> Features:
    """The features of a part. Facts from before sides were told have none that are known."""
    return _FEATURES.of_one(part, lambda: _recognized(part))


def frame(part: PartFacts) -> Frame:
    """What a part is measured by. Facts from before sides were told have nothing."""
    return _FRAMES.of_one(part, lambda: _framed(part))


def _framed(part: PartFacts) -> Frame:
    if not part.sided:
        return Frame((), (), ())
    body = Body(part)
    return Frame(tuple(sizes(body)), tuple(symmetry(body)), tuple(likely_datums(body)))


def _recognized(part: PartFacts) -> Features:
    if not part.sided:
        return Features((), (), (), known=False)
    body = Body(part)
    corners = reliefs(body)
    found = holes(body, corners)
    groups = equal(found)
    arranged = [_arranged([found[n] for n in group], group, body) for group in groups]
    others = _others(body, found, corners)
    return Features(
        tuple(found),
        tuple(tuple(g) for g in groups),
        tuple(tuple(a) for a in arranged),
        tuple(shafts(body)),
        tuple(others),
        tuple(tuple(k) for k in alike(others)),
    )


def _others(body: Body, found: list[Hole], corners: list[Feature]) -> list[Feature]:
    """Features besides holes and shafts; a face that is settled as one is no chamfer and no rounding."""
    taken = {name for hole in found for name in hole.faces} | {n for c in corners for n in c.faces}
    out: list[Feature] = [*corners]
    for more in (slots, pockets, blends, chamfers, tapers):
        new = more(body, taken)
        out += new
        taken |= {name for feature in new for name in feature.faces}
    return [*out, *raised(body), *ribs(body), *grooves(body, taken), *flats(body)]


def _arranged(members: list[Hole], numbers: list[int], body: Body) -> list[Pattern]:
    """Patterns of equal holes, by their numbers among all."""
    if len(members) < 3:
        return []
    direction = np.array(members[0].direction)
    x = np.cross(direction, np.eye(3)[int(np.argmin(np.abs(direction)))])
    x = x / np.linalg.norm(x)
    flat = np.stack([x, np.cross(direction, x)])
    places = np.array([h.entry for h in members]) @ flat.T
    own = {name for h in members for name in h.faces}
    middles = [flat @ a.origin for a in _round_things(body, direction) if not own & {f.name for f in a.faces}]
    found = patterns(places, middles, 5 * body.near)
    return [
        Pattern(
            p.kind,
            tuple(numbers[n] for n in p.members),
            p.diameter,
            p.center,
            p.is_whole,
            p.step,
            p.counts,
            p.pitches,
        )
        for p in found
    ]


def _round_things(body: Body, direction: np.ndarray) -> list[Axis]:  # type: ignore[type-arg]
    """Axes that run in a direction, those of the largest faces first."""
    cosines = np.abs(np.array([a.direction for a in body.axes]).reshape(-1, 3) @ direction)
    found = [a for a, c in zip(body.axes, cosines.tolist(), strict=True) if c > 1 - 5e-9]
    return sorted(found, key=lambda a: -max(f.radius for f in a.faces))
