"""The numbers that a recipe is made of, and what of the part each of them alone decides: found by building
the part with each of them changed a little, so that no number is taken for another of the same value."""

import copy
import math
from collections.abc import Callable, Iterable, Iterator, Mapping
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel

from drafting.errors import DraftingError
from drafting.model.model import FaceFact, PartFacts
from drafting.views.frame import Array

Key = tuple[str | int, ...]
UNCHANGED = {"version", "count", "normal", "x", "z", "axis", "direction", "color", "properties", "moorcrest"}
"""What holds no size: counts, directions, what only describes."""
ANGLES = {"angle", "tip_angle", "turn"}
STEP = 0.05
"""How much a number is changed, in its unit."""
SAME = 1e-6
MOST = 80
"""Numbers of a recipe that are looked at."""
MOST_FACES = 600
KEPT = 6
"""Ways to measure one number that are kept, the nearest to its own feature first."""


class Number(BaseModel):
    """A number of a recipe that is not worked out from others. key: where it is in the data; feature: what
    it is of, empty for a named parameter; value: as it is written, in the recipe's unit or in degrees."""

    key: list[str | int]
    feature: str = ""
    called: str
    value: float
    is_angle: bool = False


class Decides(BaseModel):
    """What a number decides by itself: the distance of two faces, the diameter or the radius of one, the
    angle between two. value: mm or radians."""

    of: Number
    kind: Literal["distance", "diameter", "radius", "angle"]
    faces: list[str]
    value: float


def numbers(raw: Mapping[str, Any]) -> list[Number]:
    """Those of a recipe as it is kept: its parameters, the numbers in its features, the offsets and angles of
    its mates."""
    out = [
        Number(key=["parameters", name], called=name, value=float(v))
        for name, v in raw.get("parameters", {}).items()
        if _is_number(v)
    ]
    for group in ("features", "mates"):
        for n, item in enumerate(raw.get(group, [])):
            for key, v in _leaves(item, (group, n)):
                word = next((k for k in reversed(key) if isinstance(k, str)), "")
                name = item.get("id", "")
                out.append(
                    Number(
                        key=list(key),
                        feature=name,
                        called=f"{word.replace('_', ' ')} of {name}",
                        value=float(v),
                        is_angle=word in ANGLES,
                    )
                )
    return out


def _leaves(data: Any, at: Key) -> Iterator[tuple[Key, float]]:
    if isinstance(data, Mapping):
        for k, v in data.items():
            if k not in UNCHANGED:
                yield from _leaves(v, (*at, k))
    elif isinstance(data, list):
        for n, v in enumerate(data):
            yield from _leaves(v, (*at, n))
    elif _is_number(data):
        yield at, data


def _is_number(v: Any) -> bool:
    return isinstance(v, int | float) and not isinstance(v, bool)


def with_value(raw: Mapping[str, Any], key: Iterable[str | int], value: float) -> dict[str, Any]:
    """A recipe with another value of one of its numbers."""
    out: dict[str, Any] = copy.deepcopy(dict(raw))
    *way, last = key
    here: Any = out
    for k in way:
        here = here[k]
    here[last] = value
    return out


def decided(
    raw: Mapping[str, Any],
    base: PartFacts,
    build: Callable[[dict[str, Any]], PartFacts],
    unit: float,
    say: Callable[[float], None] = lambda done: None,
) -> list[Decides]:
    """What each number of a part's recipe decides, those of one number together. base: the part as it is;
    build: makes it from other data, raising DraftingError where it cannot; unit: mm in the recipe's unit;
    say: how far it is."""
    out: list[Decides] = []
    if len(base.faces) > MOST_FACES:
        return out
    sizes = [n for n in numbers(raw) if n.value > 0 and not (n.is_angle and n.value % 90 == 0)][:MOST]
    for k, number in enumerate(sizes):
        say(k / len(sizes))
        for step in (STEP, -STEP):
            try:
                other = build(with_value(raw, number.key, number.value + step))
            except DraftingError:
                continue
            if {f.name for f in other.faces} == {f.name for f in base.faces}:
                out += _of_one(number, base, other, step, unit, _mentioning(raw, number))
                break
    return out


def _mentioning(raw: Mapping[str, Any], number: Number) -> set[str]:
    """The features that a number is of: its own, or those that name the parameter."""
    if number.feature:
        return {number.feature}
    name = str(number.key[-1])
    return {f["id"] for f in raw.get("features", []) if name in _words(f)}


def _words(data: Any) -> set[str]:
    if isinstance(data, Mapping):
        return set().union(*(_words(v) for v in data.values())) if data else set()
    if isinstance(data, list):
        return set().union(*(_words(v) for v in data)) if data else set()
    text = data if isinstance(data, str) else ""
    return set("".join(c if c.isalnum() or c == "_" else " " for c in text).split())


def _of_one(
    number: Number, base: PartFacts, other: PartFacts, step: float, unit: float, own: set[str]
) -> list[Decides]:
    per = math.pi / 180 if number.is_angle else unit
    value, change = number.value * per, step * per
    after = {f.name: f for f in other.faces}
    pairs = [(f, after[f.name]) for f in base.faces]
    found: list[Decides] = []
    if number.is_angle:
        found += _angles(number, pairs, value, change)
    else:
        for f, g in pairs:
            if f.kind not in ("cylinder", "sphere"):
                continue
            if abs(2 * f.radius - value) < SAME and abs(2 * (g.radius - f.radius) - change) < SAME:
                found.append(Decides(of=number, kind="diameter", faces=[f.name], value=value))
            if abs(f.radius - value) < SAME and abs(g.radius - f.radius - change) < SAME:
                found.append(Decides(of=number, kind="radius", faces=[f.name], value=value))
        found += _distances(number, pairs, value, change)

    def strange(d: Decides) -> tuple[int, int]:
        """Faces that are of other features, then how much there is to pick."""
        return sum(name.split("/")[0] not in own for name in d.faces), len(d.faces)

    return sorted(found, key=strange)[:KEPT]


def _distances(
    number: Number, pairs: list[tuple[FaceFact, FaceFact]], value: float, change: float
) -> Iterator[Decides]:
    """Distances of planes, of planes and axes, of axes."""
    planes = [(f, g) for f, g in pairs if f.kind == "plane"]
    axes = [(f, g) for f, g in pairs if f.kind in ("cylinder", "cone", "torus")]
    if planes:
        n = np.array([f.axis for f, _ in planes])
        for others, is_axis in ((planes, False), (axes, True)):
            if not others:
                continue
            along = np.abs(n @ np.array([f.axis for f, _ in others]).T)
            lies = along < 1e-9 if is_axis else along > 1 - 1e-9
            before, later = (_offsets(n, planes, others, k) for k in (0, 1))
            hits = lies & (np.abs(before - value) < SAME) & (np.abs(later - before - change) < SAME)
            for i, j in np.argwhere(hits).tolist():
                if is_axis or i < j:
                    names = [planes[i][0].name, others[j][0].name]
                    yield Decides(of=number, kind="distance", faces=names, value=value)
    for i, (f, g) in enumerate(axes):
        for p, q in axes[i + 1 :]:
            if abs(float(np.dot(f.axis, p.axis))) > 1 - 1e-9:
                before_, later_ = _apart(f, p), _apart(g, q)
                if abs(before_ - value) < SAME and abs(later_ - before_ - change) < SAME:
                    yield Decides(of=number, kind="distance", faces=[f.name, p.name], value=value)


def _offsets(
    n: Array,
    planes: list[tuple[FaceFact, FaceFact]],
    others: list[tuple[FaceFact, FaceFact]],
    which: int,
) -> Array:
    at = np.array([p[which].origin for p in planes])
    to = np.array([p[which].origin for p in others])
    out: Array = np.abs((n * at).sum(1)[:, None] - n @ to.T)
    return out


def _apart(f: FaceFact, g: FaceFact) -> float:
    axis, off = np.array(f.axis), np.array(g.origin) - np.array(f.origin)
    return float(np.linalg.norm(off - axis * float(off @ axis)))


def _angles(
    number: Number, pairs: list[tuple[FaceFact, FaceFact]], value: float, change: float
) -> Iterator[Decides]:
    planes = [(f, g) for f, g in pairs if f.kind == "plane"]
    for i, (f, g) in enumerate(planes):
        for p, q in planes[i + 1 :]:
            before, later = _between(f, p), _between(g, q)
            for one, two in ((before, later), (math.pi - before, math.pi - later)):
                if abs(one - value) < SAME and abs(two - one - change) < SAME:
                    yield Decides(of=number, kind="angle", faces=[f.name, p.name], value=value)


def _between(f: FaceFact, g: FaceFact) -> float:
    return math.acos(max(-1.0, min(1.0, float(np.dot(f.axis, g.axis)))))
