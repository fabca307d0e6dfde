"""Facts of a part with one of its numbers changed a little, so that whatever measures on facts can be told
how it changes: nothing has to be known of the kinds of sizes there are."""

import math
from collections import defaultdict
from collections.abc import Iterable
from typing import Any

import numpy as np

from drafting.completeness.parameters import Parameters, Row, add
from drafting.completeness.surfaces import Array, Rim, Surface, cross, unit
from drafting.model.model import EdgeFact, FaceFact, Facts, PartFacts

Rates = dict[int, Array]
"""How fast several things move with each number."""
NOTHING = 1e-9


class Mover:
    """A part's facts as they are when one of its numbers changes. Only what is asked for is moved."""

    def __init__(self, parameters: Parameters) -> None:
        self.p = parameters
        self.part = parameters.solid.part
        self._rims = {r.fact.name: r for r in parameters.solid.rims}
        self._at: dict[tuple[int, ...], list[Rim]] = defaultdict(list)
        for r in parameters.solid.rims:
            for end in (r.fact.start, r.fact.end):
                self._at[self._key(end)].append(r)
        self._edges: dict[str, dict[str, Rates]] = {}
        self._face_places = {f.name: n for n, f in enumerate(self.part.faces)}
        self._edge_places = {e.name: n for n, e in enumerate(self.part.edges)}

    def numbers(self, faces: Iterable[str], edges: Iterable[str]) -> set[int]:
        """The numbers on which faces and edges depend."""
        out: set[int] = set()
        for name in faces:
            s = self.p.solid.surfaces.get(name)
            if s is not None:
                out |= set(s.v.values())
                if s.way >= 0:
                    out |= {self.p.ways[s.way].a, self.p.ways[s.way].b}
                if s.line >= 0:
                    out |= set(self.p.lines[s.line].v)
                if s.kind == "cone":
                    out |= {v for h in s.fact.span or () for v in self._along(s, h)}
        for name in edges:
            for rates in self._of_edge(name).values():
                out |= {v for v, rate in rates.items() if np.abs(rate).max() > NOTHING}
        return out

    def facts(
        self, base: Facts, number: int, step: float, faces: Iterable[str], edges: Iterable[str]
    ) -> Facts:
        """A one-part model's facts with a number changed, as far as these faces and edges go."""
        part = self.part
        new_faces = {n: self._face(part._faces[n], number, step) for n in faces if n in self._face_places}
        new_edges = {n: self._edge(part._edges[n], number, step) for n in edges if n in self._rims}
        fields = {name: getattr(part, name) for name in PartFacts.model_fields}
        fields["faces"], fields["edges"] = list(part.faces), list(part.edges)
        for name, f in new_faces.items():
            fields["faces"][self._face_places[name]] = f
        for name, e in new_edges.items():
            fields["edges"][self._edge_places[name]] = e
        moved = PartFacts.model_construct(**fields)
        moved.__dict__["_faces"] = {**part._faces, **new_faces}
        moved.__dict__["_edges"] = {**part._edges, **new_edges}
        moved.__dict__["_arcs"] = part._arcs  # pieces of one arc stay so
        whole: dict[str, Any] = {name: getattr(base, name) for name in Facts.model_fields}
        return Facts.model_construct(**{**whole, "parts": dict.fromkeys(base.parts, moved)})

    # ---- faces ------------------------------------------------------------

    def _face(self, was: FaceFact, number: int, step: float) -> FaceFact:
        s = self.p.solid.surfaces.get(was.name)
        if s is None:
            return was
        new: dict[str, Any] = {}
        half = self.p.solid.half

        def rate(row: Row) -> float:
            return row.get(number, 0.0) * step

        if s.way >= 0:
            w = self.p.ways[s.way]
            lean = w.e1 * rate({w.a: 1.0}) + w.e2 * rate({w.b: 1.0})
            axis = np.array(was.axis)
            new["axis"] = (axis + math.copysign(1.0, float(axis @ w.u)) * lean).tolist()
        o = self.p.solid.flat(was.origin)
        if s.kind == "plane":
            by = s.axis * rate(self.p.moves(s, o))
        elif s.kind == "sphere":
            by = np.array([rate({s.v[x]: 1.0}) for x in "xyz"])
        else:
            line = self.p.lines[s.line]
            by = np.array([rate(self.p.carried(line, o, e)) for e in np.eye(3)])
            by = by + self.p.ways[s.way].u * (rate({s.v["place"]: 1.0}) if "place" in s.v else 0.0)
        new["origin"] = (np.array(was.origin) + half * by).tolist()
        if s.kind in ("cylinder", "sphere"):
            new["radius"] = was.radius + half * rate({s.v["radius"]: 1.0})
        elif s.kind == "torus":
            new["radius"] = was.radius + half * rate({s.v["across"]: 1.0})
            new["minor_radius"] = was.minor_radius + half * rate({s.v["radius"]: 1.0})
        elif s.kind == "cone":
            new["half_angle"] = was.half_angle + math.copysign(rate({s.v["half"]: 1.0}), was.half_angle) * (
                math.copysign(1.0, rate({s.v["half"]: 1.0}))
            )
            if was.span:
                ends = [half * rate(self._along(s, h)) for h in was.span]
                new["span"] = [h + d for h, d in zip(was.span, ends, strict=True)]
        return was.model_copy(update=new)

    def _along(self, s: Surface, h: float) -> Row:
        """How far the rim of a cone at a place along its axis from its apex, mm, moves along it from
        there."""
        u = self.p.ways[s.way].u
        side = math.copysign(1.0, float(np.array(s.fact.axis) @ u))
        for r in self.p.solid.rims:
            if s.name not in r.faces or r.is_seam:
                continue
            at = r.points[len(r.points) // 2]
            if abs(float((at - s.at) @ u) * side * self.p.solid.half - h) < 1e-4:
                row = self.p.meet(r.faces, at, u) or {}
                return {v: c * side for v, c in add(dict(row), {s.v["place"]: -1.0}).items()} if row else {}
        return {}

    # ---- edges ------------------------------------------------------------

    def _key(self, at: list[float]) -> tuple[int, ...]:
        return tuple(np.round(self.p.solid.flat(at) * 1e5).astype(int).tolist())

    def _of_edge(self, name: str) -> dict[str, Rates]:
        """How an edge's ends and middle move, and of a round one center, axis (as a turn) and radius."""
        known = self._edges.get(name)
        if known is None:
            known = self._edges[name] = self._moving(self._rims[name]) if name in self._rims else {}
        return known

    def _moving(self, r: Rim) -> dict[str, Rates]:
        out = {}
        for end, place in (("start", r.fact.start), ("end", r.fact.end)):
            rims = [r] if r.fact.closed else self._at[self._key(place)]
            out[end] = self._point({n for x in rims for n in x.faces}, rims, self.p.solid.flat(place))
        if r.fact.kind == "line":
            keys = set(out["start"]) | set(out["end"])
            zero = np.zeros(3)
            out["middle"] = {k: (out["start"].get(k, zero) + out["end"].get(k, zero)) / 2 for k in keys}
        else:
            out["middle"] = self._point(set(r.faces), [r], self.p.solid.flat(r.fact.middle))
        if r.fact.kind == "circle" and r.fact.center:
            out["round"] = self._round(r)
        return out

    def _point(self, faces: Iterable[str], rims: Iterable[Rim], at: Array) -> Rates:
        """How a point where faces meet moves; along a smooth edge's side as the tangent line does."""
        normals: list[Array] = []
        rows: list[Row] = []
        for name in sorted(faces):
            s = self.p.solid.surfaces.get(name)
            if s is not None:
                q = at - s.normal(at) * s.off(at)
                normals.append(s.normal(q))
                rows.append(self.p.moves(s, q))
        for r in rims:
            side = self._beside(r, at) if r.is_smooth else None
            if side is not None:
                normals.append(side[0])
                rows.append(side[1])
        if not rows:
            return {}
        back = np.linalg.pinv(np.array(normals), rcond=1e-6)
        out: Rates = {}
        for k, row in enumerate(rows):
            for v, c in row.items():
                out[v] = out.get(v, np.zeros(3)) + back[:, k] * c
        return out

    def _beside(self, r: Rim, at: Array) -> tuple[Array, Row] | None:
        """The direction across a smooth edge within its faces, and how far the edge moves along it."""
        p = self.p
        found = [s for n in r.faces if (s := p.solid.surfaces.get(n)) is not None]
        curved = [s for s in found if s.kind in ("cylinder", "torus")]
        if not curved or len(found) != 2:
            return None
        s = min(curved, key=lambda s: s.radius)
        other = next(x for x in found if x is not s)
        if r.fact.kind == "line":
            tangent = np.array(r.fact.end) - np.array(r.fact.start)
        elif r.fact.center is not None and r.fact.axis is not None:
            tangent = np.cross(r.fact.axis, at - p.solid.flat(r.fact.center))
        else:
            return None
        n = s.normal(at)
        t = unit(cross(n, tangent))
        row = self._tube(s, at, t)
        if other.kind == "plane":  # the place of touch turns with the plane
            w = p.ways[other.way]
            turn = math.copysign(1.0, float(n @ w.u)) * s.radius
            add(row, {w.a: float(w.e1 @ t) * turn, w.b: float(w.e2 @ t) * turn})
        elif other.kind == "cylinder" and s.kind == "cylinder" and s.line != other.line:
            one = at - n * s.radius
            m = other.normal(at)
            two = at - m * other.radius
            whole = float((two - one) @ n)
            share = float((at - one) @ n) / whole if abs(whole) > 1e-9 else 0.0
            row = add({v: c * (1 - share) for v, c in row.items()}, self._tube(other, at, t), share)
        return t, row

    def _tube(self, s: Surface, at: Array, t: Array) -> Row:
        """How far the axis of a cylinder, or the middle of a torus's tube, below a point moves along t."""
        p = self.p
        middle = at - s.normal(at) * s.radius
        row = p.carried(p.lines[s.line], middle, t)
        if s.kind == "torus":
            rel = at - s.at
            out = unit(rel - s.axis * float(rel @ s.axis))
            add(row, {s.v["place"]: float(p.ways[s.way].u @ t), s.v["across"]: float(out @ t)})
        return row

    def _round(self, r: Rim) -> Rates:
        """Center (3), turn of the axis (3) and radius (1) of a circle."""
        c, a = self.p.solid.flat(r.fact.center or []), np.array(r.fact.axis)
        left: list[Array] = []
        right: list[dict[int, float]] = []
        for at in r.points:
            rel = at - c
            x = unit(rel)
            rates = self._point(r.faces, [r], at)
            left += [np.r_[x, 0, 0, 0, 1], np.r_[a, np.cross(rel, a), 0]]
            right += [
                {v: float(x @ d) for v, d in rates.items()},
                {v: float(a @ d) for v, d in rates.items()},
            ]
        back = np.linalg.pinv(np.array(left), rcond=1e-9)
        out: Rates = {}
        for k, row in enumerate(right):
            for v, d in row.items():
                out[v] = out.get(v, np.zeros(7)) + back[:, k] * d
        return out

    def _edge(self, was: EdgeFact, number: int, step: float) -> EdgeFact:
        half = self.p.solid.half
        moving = self._of_edge(was.name)
        new: dict[str, Any] = {}
        for name in ("start", "end", "middle"):
            d = moving[name].get(number)
            if d is not None:
                new[name] = (np.array(getattr(was, name)) + half * step * d).tolist()
        d = moving.get("round", {}).get(number)
        if d is not None:
            d = d * step
            new["center"] = (np.array(was.center) + half * d[:3]).tolist()
            new["axis"] = (np.array(was.axis) + np.cross(d[3:6], np.array(was.axis))).tolist()
            new["x_axis"] = (np.array(was.x_axis) + np.cross(d[3:6], np.array(was.x_axis))).tolist()
            new["radius"] = was.radius + half * d[6]
        if was.kind == "line" and ("start" in new or "end" in new):
            new["length"] = math.dist(new.get("start", was.start), new.get("end", was.end))
        return was.model_copy(update=new)
