"""What is not given, a sentence each: the first of the sizes a drafter would think of that says something new
names the gap."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, field

import numpy as np

from drafting.annotation.wording.numbers import written
from drafting.completeness import features_told
from drafting.completeness.parameters import Parameters, Row, edges_at_slants, less
from drafting.completeness.surfaces import Array, Surface
from drafting.completeness.verdict import PartNumbers, Verdict
from drafting.features.feature import Feature
from drafting.features.hole import Hole
from drafting.features.naming import feature_name, hole_name
from drafting.features.recognized import features
from drafting.standards.profile import Profile

LEAN = 1e-3
"""Of a row scaled to 1: what a gap must add at least."""
SIDES = ("right", "left", "top", "bottom", "front", "rear")
WORDS = {"corner": "corner radius", "inner": "inner diameter", "across": "width across flats"}


@dataclass(frozen=True)
class Gap:
    """Something that is not given. text: the sentence; groups: what may still move, the faces of each thing;
    way: the direction in which, in the part's frame, None of what grows or turns; rows: what a size that
    closes it says."""

    text: str
    groups: tuple[tuple[str, ...], ...]
    way: tuple[float, float, float] | None
    rows: tuple[Row, ...] = field(default=(), compare=False)


@dataclass(frozen=True)
class _Size:
    text: str
    row: Row
    faces: tuple[str, ...]
    way: Array | None = None


def gaps(found: Verdict, profile: Profile, axes: Array) -> list[Gap]:
    """What a drawing does not give. axes: rows of right, up and toward the viewer in the main view, in the
    part's frame, for words like left and top."""
    numbers, system, span = found.numbers, found.system, found.span
    if numbers is None or system is None or span is None or not found.missing:
        return []
    names = _Names(numbers, profile, axes)
    if not any(one.rows for one in found.said):
        return [_nothing_said(found, names)]
    open_span = span.copy()
    out: dict[str, Gap] = {}
    left = found.missing
    for size in _sizes(numbers, names):
        if not left:
            break
        if open_span.take(system.over(size.row), LEAN):
            left -= 1
            known = out.get(size.text)
            groups = (*(known.groups if known else ()), names.whole(size.faces))
            way = None if size.way is None else _three(size.way)
            rows = (*(known.rows if known else ()), size.row)
            out[size.text] = Gap(size.text, tuple(dict.fromkeys(groups)), known.way if known else way, rows)
    if left:
        what = "One more number of what is lit is not given."
        if left > 1:
            what = f"{left} more numbers of what is lit are not given."
        out[what] = Gap(what, (tuple(sorted(found.loose)),), None)
    return list(out.values())


def _nothing_said(found: Verdict, names: "_Names") -> Gap:
    """Of a drawing without sizes: what there is to be sized, not every number of it."""
    known = names.known
    many = [(len(g), names.hole(known.holes[g[0]])) for g in known.groups]
    many += [(len(k), names.feature(known.others[k[0]])) for k in known.kinds]
    of = ", ".join(f"{n}× {name.removeprefix('the ')}" if n > 1 else name for n, name in many)
    text = f"Nothing is sized yet: {found.missing} numbers of the outline{f', {of}' if of else ''}."
    return Gap(text, (tuple(sorted(found.loose)),), None)


def _three(v: Array) -> tuple[float, float, float]:
    return float(v[0]), float(v[1]), float(v[2])


class _Names:
    """What faces and features are called in sentences."""

    def __init__(self, numbers: PartNumbers, profile: Profile, axes: Array) -> None:
        self.p = numbers.parameters
        self.known = features(numbers.part)
        self.profile = profile
        self.axes = axes
        self._ends: dict[tuple[int, int], float] = {}
        for s in self.p.solid.surfaces.values():
            if s.kind == "plane":
                key, level = self._side(s)
                self._ends[key] = max(self._ends.get(key, level), level)

    def _side(self, s: Surface) -> tuple[tuple[int, int], float]:
        side = int(math.copysign(1, float(s.axis @ self.p.ways[s.way].u)))
        return (s.way, side), float(s.at @ s.axis)

    def is_outermost(self, s: Surface) -> bool:
        """Whether no other face lies further out on its side."""
        key, level = self._side(s)
        return abs(self._ends[key] - level) < 1e-4

    def length(self, halves: float) -> str:
        """A length as the drawing writes it."""
        return written(halves * self.p.solid.half, self.profile)

    def hole(self, h: Hole) -> str:
        """A hole by its size."""
        size = h.thread or f"Ø{written(h.diameter, self.profile)}"
        return f"the {size} {hole_name(h)}"

    def feature(self, f: Feature) -> str:
        """A feature, with a size that tells it from others."""
        name = feature_name(f)

        def w(v: float) -> str:
            return written(v, self.profile)

        width, wide, radius = f.size("width"), f.size("diameter"), f.size("radius")
        if f.kind == "chamfer":
            return f"the {w(f.size('length') or 0.0)} × {f.size('angle') or 45.0:.4g}° chamfer"
        if width is not None:
            return f"the {w(width)} wide {name}"
        if wide is not None or radius is not None:
            return f"the Ø{w(wide)} {name}" if wide is not None else f"the R{w(radius or 0.0)} {name}"
        return f"the {name}"

    def whole(self, faces: tuple[str, ...]) -> tuple[str, ...]:
        """All faces of the hole or the slot that some of its faces stand for."""
        holes = self.known.holes_at(faces)
        if holes:
            return tuple(sorted(self.known.holes[holes[0]].faces))
        others = self.known.others_at(faces)
        round_ones = all(self.p.solid.surfaces[n].kind == "cylinder" for n in faces)
        if others and round_ones and "slot" in self.known.others[others[0]].kind:
            return tuple(sorted(self.known.others[others[0]].faces | set(faces)))
        return faces

    def surface(self, s: Surface) -> str:
        """A face: by the feature it belongs to, else by how it lies in the main view."""
        holes = self.known.holes_at([s.name])
        if holes:
            return self.hole(self.known.holes[holes[0]])
        others = self.known.others_at([s.name])
        if others and self.known.others[others[0]].kind not in ("boss", "pad", "rib"):
            f = self.known.others[others[0]]
            if s.kind == "plane" and abs(float(s.axis @ np.array(f.direction))) > 1 - 1e-6:
                return f"the floor of {self.feature(f)}"
            return self.feature(f)
        if s.kind != "plane":
            size = self.length(s.radius)
            if s.kind == "cylinder" and s.sweep > 6.2:
                return f"the Ø{self.length(2 * s.radius)} {'shaft' if s.outer else 'bore'}"
            return {"cone": "the cone", "sphere": f"the ball R{size}"}.get(s.kind, f"the round R{size}")
        seen = self.axes @ s.axis
        k = int(np.argmax(np.abs(seen)))
        if abs(float(seen[k])) < 1 - 1e-6:
            return "the slanting face"
        side = SIDES[2 * k + (seen[k] < 0)]
        if self.is_outermost(s):
            return f"the {side} side" if side in ("right", "left", "front", "rear") else f"the {side}"
        return f"the step toward the {side}"


def _sizes(numbers: PartNumbers, names: _Names) -> Iterator[_Size]:
    """Sizes that may be missing, those of features first, then what is round, where things lie, and
    angles."""
    p = numbers.parameters
    yield from _of_holes(numbers, names)
    yield from _of_others(numbers, names, [f for f in names.known.others if f.kind != "chamfer"])
    for face, v in p.threads.items():
        text = f"The thread's length on {names.surface(p.solid.surfaces[face])} is not given."
        yield _Size(text, {v: 1.0}, (face,))
    for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
        if "radius" in s.v:
            what = "diameter" if s.kind != "torus" and s.sweep > 6.2 else "radius"
            yield _Size(f"The {what} of {names.surface(s)} is not given.", {s.v["radius"]: 1.0}, (s.name,))
    yield from _places(p, names)
    yield from _of_others(numbers, names, [f for f in names.known.others if f.kind == "chamfer"])
    yield from _slants(p, names)


def _of_holes(numbers: PartNumbers, names: _Names) -> Iterator[_Size]:
    for h in names.known.holes:
        for word, row in features_told.hole_rows(numbers.parameters, h):
            way = np.array(h.direction) if word.endswith("depth") else None
            yield _Size(f"The {word} of {names.hole(h)} is not given.", row, tuple(sorted(h.faces)), way)


def _of_others(numbers: PartNumbers, names: _Names, found: list[Feature]) -> Iterator[_Size]:
    for f in found:
        for name, row in features_told.feature_rows(numbers.parameters, f, numbers.system).items():
            text = f"The {WORDS.get(name, name)} of {names.feature(f)} is not given."
            yield _Size(text, row, tuple(sorted(f.faces)))


def _places(p: Parameters, names: _Names) -> Iterator[_Size]:
    """Where axes and faces lie in each direction, from the datum: the largest face across it, else the main
    axis."""
    main = p.main_ways()
    lines = sorted(
        (x for x in p.lines if x.faces and not x.is_corner), key=lambda x: -sum(s.bulk for s in x.faces)
    )
    for k in [*main, *(k for k in range(len(p.ways)) if k not in main)]:
        u = p.ways[k].u
        planes: dict[int, Surface] = {}
        for s in sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk):
            if s.kind == "plane" and s.way == k:
                planes.setdefault(s.v["level"], s)
        axes = [
            x for x in lines if abs(float(p.ways[x.way].u @ u)) < 1e-6 and (k in main or x.way not in main)
        ]
        flat = sorted(planes.values(), key=lambda s: (not names.is_outermost(s), -s.bulk))
        balls = [s for s in p.solid.surfaces.values() if s.kind == "sphere" and k in main]
        if flat:
            base, name = {flat[0].v["level"]: 1.0}, names.surface(flat[0])
        elif axes:
            base, name = p.height(k, axes[0]), f"the axis of {names.surface(axes[0].faces[0])}"
            axes = axes[1:]
        else:
            continue
        for x in axes:
            what = names.surface(max(x.faces, key=lambda s: s.bulk))
            yield _Size(
                f"How far the axis of {what} lies from {name} is not given.",
                less(p.height(k, x), base),
                tuple(s.name for s in x.faces),
                u,
            )
        for s in balls:
            center = {s.v[x]: float(c) for x, c in zip("xyz", u, strict=True)}
            yield _Size(
                f"How far {names.surface(s)} lies from {name} is not given.", less(center, base), (s.name,), u
            )
        for s in flat[1:]:
            level = {s.v["level"]: 1.0}
            same = tuple(t.name for t in p.solid.surfaces.values() if t.kind == "plane" and t.v == s.v)
            what = names.surface(s)
            text = f"How far {what} lies from {name} is not given."
            if what == name:
                text = f"How far apart the {what.removeprefix('the ')}s lie is not given."
            yield _Size(text, less(level, base), same, u)


def _slants(p: Parameters, names: _Names) -> Iterator[_Size]:
    """Angles of what stands at a slant, where its edges lie, and where turned faces meet others."""
    main = p.main_ways()
    for k, way in enumerate(p.ways):
        if k in main:
            continue
        own = [s for s in p.solid.surfaces.values() if s.way == k]
        for j in main:
            c = float(way.u @ p.ways[j].u)
            if own and 0.02 < abs(c) < 0.9999:
                size = -1.0 / math.sqrt(1 - c * c)
                w, b = way, p.ways[j]
                row = {
                    w.a: size * float(w.e1 @ b.u),
                    w.b: size * float(w.e2 @ b.u),
                    b.a: size * float(b.e1 @ w.u),
                    b.b: size * float(b.e2 @ w.u),
                }
                text = f"The angle of {names.surface(own[0])} is not given."
                yield _Size(text, row, tuple(s.name for s in own))
    for line, rim in edges_at_slants(p):
        along = np.array(rim.fact.end) - np.array(rim.fact.start)
        u = np.cross(p.ways[line.way].u, along / np.linalg.norm(along))
        met = p.meet(rim.faces, rim.points[2], u)
        if met is not None:
            what = names.surface(max(line.faces, key=lambda s: s.bulk))
            text = f"How far the axis of {what} lies from the edges of the slanting face is not given."
            yield _Size(text, less(p.carried(line, line.foot, u), met), tuple(s.name for s in line.faces), u)
    for s in p.solid.surfaces.values():
        if s.kind == "cone":
            yield _Size(f"The angle of {names.surface(s)} is not given.", {s.v["half"]: 1.0}, (s.name,))
    known = sorted(p.solid.surfaces.values(), key=lambda s: -s.bulk)
    bases = {k: next((s for s in known if s.kind == "plane" and s.way == k), None) for k in main}
    for r in p.solid.rims:
        found = [p.solid.surfaces[n] for n in r.faces if n in p.solid.surfaces]
        if r.is_seam or r.is_smooth or len(r.points) < 3 or not found:
            continue
        at = r.points[2]
        what = " and ".join(dict.fromkeys(names.surface(s) for s in found))
        for k, base in bases.items():
            way = p.ways[k]
            met = p.meet(r.faces, at, way.u)
            if met is None or base is None:
                continue
            level = p.place(k, at, lambda u, met=met: dict(met))  # type: ignore[misc]
            text = f"How far the edge of {what} lies from {names.surface(base)} is not given."
            yield _Size(text, less(level, {base.v["level"]: 1.0}), tuple(s.name for s in found), way.u)
    for s in known:
        if s.kind == "torus":
            what = names.surface(s)
            yield _Size(
                f"Where the center of {what} lies along its axis is not given.",
                {s.v["place"]: 1.0},
                (s.name,),
            )
            text = f"How far the center of {what} lies from its axis is not given."
            yield _Size(text, {s.v["across"]: 1.0}, (s.name,))
