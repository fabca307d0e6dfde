"""The sizes that a drafter would think of for a part, the better first: what they are taken on and what they
say of its numbers."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np

from drafting.completeness import features_told
from drafting.completeness.parameters import Parameters, less
from drafting.completeness.surfaces import Surface
from drafting.completeness.verdict import PartNumbers, Verdict
from drafting.features.recognized import Features, features
from drafting.model.own_numbers import Decides, Number

ALIKE = 1e-3
IMAGE = 1e-4
"""How far the middle of what mirrors may lie from the center line, scaled."""


@dataclass(frozen=True)
class Wanted:
    """A size a drafter would think of: what it is taken on, its rows, and how many features are like its
    own."""

    what: Decides
    rows: tuple[dict[int, float], ...]
    alike: int = 1


Form = Literal["baseline", "chain"]


@dataclass(frozen=True)
class Choice:
    """What sizes a drafter wants. form: from a datum each, or one after another; datums: faces to measure
    from, each along its own direction; table: whether holes stand in tables, where there are enough of
    them."""

    form: Form = "baseline"
    datums: tuple[str, ...] = ()
    table: bool = False


def wanted_sizes(numbers: PartNumbers, found: Verdict, choice: Choice = Choice()) -> Iterator[Wanted]:
    """The better first: overall sizes, those of features, what is round, what lies on both sides of a center
    line, and where all else lies from its datum; angles last."""
    p, known = numbers.parameters, features(numbers.part)
    along = [things_along(p, k) for k in range(len(p.ways))]
    yield from _overall(p, along)
    yield from _of_features(p, known, along)
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind in ("cylinder", "sphere"):
            yield _round(p, s, known)
        elif s.kind == "torus":
            yield Wanted(_decides("radius", [s.name], s.radius * p.solid.half), ({s.v["radius"]: 1.0},))
    for k in [*p.main_ways(), *(k for k in range(len(p.ways)) if k not in p.main_ways())]:
        yield from _in_pairs(p, along[k], [level for way, level in found.middles if way == k])
        if choice.form == "chain":
            yield from _chained(p, along[k])
        yield from _from_datum(p, k, along[k], choice)
    yield from _between_axes(p)
    yield from _angles(p, {n for f in known.others if f.kind == "chamfer" for n in f.faces})


def _decides(kind: str, faces: list[str], value: float) -> Decides:
    return Decides(of=Number(key=[], called="", value=0.0), kind=kind, faces=faces, value=value)  # type: ignore[arg-type]


def _round(p: Parameters, s: Surface, known: Features) -> Wanted:
    is_whole = s.kind == "sphere" or s.sweep > 3.2
    others = known.others_at([s.name])
    alike = len(known.equals(others[0])) if others else 1
    size = (2 if is_whole else 1) * s.radius * p.solid.half
    return Wanted(
        _decides("diameter" if is_whole else "radius", [s.name], size), ({s.v["radius"]: 1.0},), alike
    )


@dataclass(frozen=True)
class Thing:
    """A flat face or an axis at a level of a direction."""

    level: float
    row: dict[int, float]
    face: Surface
    is_axis: bool


Along = Sequence[Sequence[Thing]]
"""Flat faces and axes along each direction, by its number."""


def things_along(p: Parameters, k: int) -> list[Thing]:
    """Flat faces square to a direction, one for each level, and axes across it; the largest first."""
    u = p.ways[k].u
    out: list[Thing] = []
    seen: set[int] = set()
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind == "plane" and s.way == k and s.v["level"] not in seen:
            seen.add(s.v["level"])
            out.append(Thing(float(s.at @ u), {s.v["level"]: 1.0}, s, False))
    main = p.main_ways()
    for line in p.lines:
        if not line.faces or line.is_corner or abs(float(p.ways[line.way].u @ u)) > 1e-6:
            continue
        round_ones = [s for s in line.faces if s.kind in ("cylinder", "cone")]
        if round_ones and (k in main or line.way not in main):
            largest = max(round_ones, key=lambda s: s.bulk)
            out.append(Thing(float(line.foot @ u), p.height(k, line), largest, True))
    return out


def _between(p: Parameters, a: Thing, b: Thing, alike: int = 1) -> Wanted:
    row = {v: b.row.get(v, 0.0) - a.row.get(v, 0.0) for v in {*a.row, *b.row}}
    value = abs(b.level - a.level) * p.solid.half
    return Wanted(_decides("distance", [a.face.name, b.face.name], value), (row,), alike)


def _overall(p: Parameters, along: Along) -> Iterator[Wanted]:
    for k in p.main_ways():
        flat = sorted((t for t in along[k] if not t.is_axis), key=lambda t: t.level)
        if len(flat) > 1:
            yield _between(p, flat[0], flat[-1])


def _of_features(p: Parameters, known: Features, along: Along) -> Iterator[Wanted]:
    """Widths and lengths within features, then how deep their floors lie."""
    done: set[int] = set()
    for n, f in sorted(enumerate(known.others), key=lambda one: one[1].kind in ("boss", "pad", "rib")):
        if n in done or f.kind in ("chamfer", "fillet", "round", "taper", "flat"):
            continue
        done |= set(known.equals(n))
        alike = len(known.equals(n))
        own = {name for name in f.faces if name in p.solid.surfaces}
        near = {m for name in own for m in p.solid.beside[name]} - own
        for k in range(len(p.ways)):
            things = along[k]
            mine = [t for t in things if t.face.name in own]
            for is_axis in (False, True):
                same = sorted((t for t in mine if t.is_axis == is_axis), key=lambda t: t.level)
                if len(same) > 1 and abs(same[-1].level - same[0].level) > ALIKE:
                    yield _between(p, same[0], same[-1], alike)
            into = abs(float(p.ways[k].u @ np.array(f.direction))) > 1 - 1e-6
            around = [t for t in things if t.face.name in near and not t.is_axis]
            for t in [t for t in mine if not t.is_axis] if into else []:
                yield from (_between(p, t, o, alike) for o in around if abs(o.level - t.level) > ALIKE)


def _in_pairs(p: Parameters, found: Sequence[Thing], middles: list[float]) -> Iterator[Wanted]:
    """What mirrors in a center line, axes before faces: the distance of both."""
    things = sorted(found, key=lambda t: not t.is_axis)
    levels = np.array([t.level for t in things])
    for middle in middles:
        images = np.abs(levels[:, None] + levels[None, :] - 2 * middle) < IMAGE
        for i, j in np.argwhere(np.tril(images, -1)).tolist():
            a, b = things[i], things[j]
            is_like = abs(a.face.radius - b.face.radius) < ALIKE and abs(a.face.bulk - b.face.bulk) < ALIKE
            if a.is_axis == b.is_axis and is_like and abs(a.level - b.level) > ALIKE:
                yield _between(p, a, b)


def _chained(p: Parameters, found: Sequence[Thing]) -> Iterator[Wanted]:
    """From each to the next, the narrowest last: what the overall size leaves to say of them."""
    things = sorted(found, key=lambda t: t.level)
    links = [(a, b) for a, b in zip(things, things[1:], strict=False) if b.level - a.level > 1e-6]
    for a, b in sorted(links, key=lambda link: link[0].level - link[1].level):
        yield _between(p, a, b)


def _from_datum(p: Parameters, k: int, things: Sequence[Thing], choice: Choice) -> Iterator[Wanted]:
    """From the face that was chosen, else from the outermost one with the most surface, else from the main
    axis: axes first."""
    flat = [t for t in things if not t.is_axis]
    if flat:
        base = _base(p, k, flat, choice.datums)
    elif things:
        base = things[0]
    else:
        return
    for t in sorted(things, key=lambda t: not t.is_axis):
        if t is not base and abs(t.level - base.level) > 1e-6:
            yield _between(p, base, t)
    for a in things:  # where the datum's own edge is not seen
        for b in things:
            if a.level < b.level - 1e-6 and base not in (a, b):
                yield _between(p, a, b)


def _between_axes(p: Parameters) -> Iterator[Wanted]:
    """Of parallel axes, however they lie to each other."""
    lines = [x for x in p.lines if x.faces and not x.is_corner]
    for i, x in enumerate(lines):
        for y in lines[:i]:
            gap = x.foot - y.foot
            far = float(np.linalg.norm(gap))
            if x.way == y.way and far > ALIKE:
                row = less(p.carried(x, x.foot, gap / far), p.carried(y, y.foot, gap / far))
                ends = [max(line.faces, key=lambda s: s.bulk).name for line in (y, x)]
                yield Wanted(_decides("distance", ends, far * p.solid.half), (row,))


def _angles(p: Parameters, chamfers: set[str]) -> Iterator[Wanted]:
    """Of slanting faces to those of the main directions that they meet."""
    main = p.main_ways()
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if s.kind != "plane" or s.way in main or s.name in chamfers:
            continue
        for name in sorted(p.solid.beside[s.name]):
            t = p.solid.surfaces.get(name)
            if t is None or t.kind != "plane" or t.way not in main:
                continue
            c = float(s.axis @ t.axis)
            if 0.02 < abs(c) < 0.9999:
                row = features_told.angle_row(p, s, t)
                for angle in (math.pi - math.acos(c), math.acos(c)):
                    yield Wanted(_decides("angle", [s.name, t.name], angle), (row,))


def _base(p: Parameters, k: int, flat: Sequence[Thing], datums: Sequence[str]) -> Thing:
    """What is measured from along a direction."""
    chosen = {
        s.v["level"] for n in datums if (s := p.solid.surfaces.get(n)) and s.kind == "plane" and s.way == k
    }
    found = next((t for t in flat if t.face.v["level"] in chosen), None)
    low, high = min(t.level for t in flat), max(t.level for t in flat)
    return found or max(flat, key=lambda t: (t.level in (low, high), t.face.bulk))


def datum_along(p: Parameters, k: int, choice: Choice = Choice()) -> Surface | None:
    """The face that is measured from along a direction: the chosen one, else the outermost with the most
    surface."""
    flat = [t for t in things_along(p, k) if not t.is_axis]
    return _base(p, k, flat, choice.datums).face if flat else None
