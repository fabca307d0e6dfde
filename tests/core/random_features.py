"""Random solids with slots, pockets, grooves, bosses and broken edges that are known, in any place in space;
some of them with their round faces split as other writers do."""

import math
import random
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepAlgoAPI import BRepAlgoAPI_Fuse
from OCP.BRepBuilderAPI import BRepBuilderAPI_MakeEdge, BRepBuilderAPI_MakeFace, BRepBuilderAPI_MakeWire
from OCP.BRepFilletAPI import BRepFilletAPI_MakeChamfer, BRepFilletAPI_MakeFillet
from OCP.BRepPrimAPI import BRepPrimAPI_MakePrism
from OCP.GC import GC_MakeArcOfCircle
from OCP.gp import gp_Pnt, gp_Vec
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopoDS import TopoDS

from drafting.kernel.topology import subshapes
from drafting.kernel.whole import whole
from tests.core.random_holes import RIGHT, Array, Somewhere, cells, cut_all, turned
from tests.core.zoo import box, moved, rod, split


@dataclass
class Known:
    """A feature as it was made: its kind, sizes by name, and middle."""

    kind: str
    sizes: dict[str, float]
    at: Array | None = None


@dataclass
class Made:
    what: str
    shape: Any
    features: list[Known] = field(default_factory=list)


# ---- tools -------------------------------------------------------------------------------------------------
Flat = tuple[float, float]


def outline(points: list[Flat | tuple[Flat, Flat]], low: float, high: float) -> Any:
    """A prism over straight pieces (points) and arcs (a point on the arc, and its end), from low to high."""
    maker = BRepBuilderAPI_MakeWire()
    first = points[0]
    assert not isinstance(first[0], tuple)
    at = gp_Pnt(first[0], first[1], low)  # type: ignore[arg-type]
    for item in [*points[1:], first]:
        if isinstance(item[0], tuple):
            (mx, my), (ex, ey) = item  # type: ignore[misc]
            end = gp_Pnt(ex, ey, low)
            edge = BRepBuilderAPI_MakeEdge(GC_MakeArcOfCircle(at, gp_Pnt(mx, my, low), end).Value()).Edge()
        else:
            end = gp_Pnt(item[0], item[1], low)  # type: ignore[arg-type]
            if at.Distance(end) < 1e-9:
                continue
            edge = BRepBuilderAPI_MakeEdge(at, end).Edge()
        maker.Add(edge)
        at = end
    return BRepPrimAPI_MakePrism(
        BRepBuilderAPI_MakeFace(maker.Wire()).Face(), gp_Vec(0, 0, high - low)
    ).Shape()


def slot_tool(x: float, y: float, length: float, width: float, angle: float, low: float, high: float) -> Any:
    r, half = width / 2, (length - width) / 2
    c, s = math.cos(angle), math.sin(angle)

    def p(u: float, v: float) -> Flat:
        return x + u * c - v * s, y + u * s + v * c

    return outline(
        [
            p(-half, -r),
            p(half, -r),
            (p(half + r, 0), p(half, r)),
            p(-half, r),
            (p(-half - r, 0), p(-half, -r)),
        ],
        low,
        high,
    )


def rounded_tool(x: float, y: float, w: float, d: float, r: float, low: float, high: float) -> Any:
    """A rectangle about a middle with round corners (r may be 0)."""
    a, b = w / 2, d / 2
    if r == 0:
        return moved(box(w, d, high - low), x - a, y - b, low)
    k = r * (1 - math.sqrt(0.5))

    def p(u: float, v: float) -> Flat:
        return x + u, y + v

    return outline(
        [
            p(-a + r, -b),
            p(a - r, -b),
            (p(a - k, -b + k), p(a, -b + r)),
            p(a, b - r),
            (p(a - k, b - k), p(a - r, b)),
            p(-a + r, b),
            (p(-a + k, b - k), p(-a, b - r)),
            p(-a, -b + r),
            (p(-a + k, -b + k), p(-a + r, -b)),
        ],
        low,
        high,
    )


# ---- solids ------------------------------------------------------------------------------------------------
def plate(r: random.Random) -> Made:
    """Slots, pockets and openings from above, each in a cell of its own."""
    size = r.uniform(20, 36)
    w, d, h = size * r.randint(2, 4), size * r.randint(1, 3), round(r.uniform(8, 20), 1)
    tools, known = [], []
    for x, y in cells(r, w, d, size)[: r.randint(1, 4)]:
        wide = round(size * r.uniform(0.15, 0.3), 2)
        long = round(size * r.uniform(0.5, 0.8), 2)
        deep = round(h * r.uniform(0.2, 0.8), 2) if r.random() < 0.5 else None
        low = h - deep if deep else -1.0
        at = np.array([x, y, h])
        if r.random() < 0.5:
            tools.append(slot_tool(x, y, long, wide, r.uniform(0, math.pi), low, h + 1))
            kind = "slot"
            sizes = {"width": wide, "length": long}
        else:
            wide = round(size * r.uniform(0.3, 0.45), 2)
            corner = r.choice((0.0, round(wide * r.uniform(0.1, 0.3), 2)))
            tools.append(rounded_tool(x, y, long, wide, corner, low, h + 1))
            kind = "pocket" if deep else "opening"
            sizes = {"width": wide, "length": long, **({"corner": corner} if corner else {})}
        known.append(Known(kind, {**sizes, **({"depth": deep} if deep else {})}, at if deep else None))
    return Made("plate", cut_all(box(w, d, h), tools), known)


def raised(r: random.Random) -> Made:
    """Bosses and pads on a plate."""
    size = r.uniform(20, 30)
    w, d, h = size * r.randint(2, 3), size * r.randint(1, 2), 8.0
    body, known = box(w, d, h), []
    for x, y in cells(r, w, d, size)[: r.randint(1, 4)]:
        up = round(r.uniform(2, 15), 2)
        at = np.array([x, y, h])
        if r.random() < 0.6:
            dia = round(size * r.uniform(0.3, 0.7), 2)
            body = BRepAlgoAPI_Fuse(body, rod(dia / 2, up + 2, x, y, h - 2)).Shape()
            known.append(Known("boss", {"diameter": dia, "height": up}, at))
        else:
            a, b = round(size * 0.7, 2), round(size * 0.4, 2)
            body = BRepAlgoAPI_Fuse(body, moved(box(a, b, up + 2), x - a / 2, y - b / 2, h - 2)).Shape()
            known.append(Known("pad", {"width": b, "length": a, "height": up}, at))
    return Made("raised", whole(body), known)


def channelled(r: random.Random) -> Made:
    """Channels across a block, one-sided slots, and a rib between two walls."""
    w, d, h = 120.0, 50.0, 30.0
    tools, known = [], []
    wide, deep = round(r.uniform(6, 14), 2), round(r.uniform(3, 20), 2)
    tools.append(moved(box(wide, d + 10, deep + 5), 25 - wide / 2, -5, h - deep))
    known.append(Known("channel", {"width": wide, "length": d, "depth": deep}, np.array([25.0, d / 2, h])))
    open_wide, open_long = round(r.uniform(6, 14), 2), round(r.uniform(15, 30), 2)
    open_deep = round(r.uniform(4, 20), 2) if r.random() < 0.5 else None
    low = h - open_deep if open_deep else -1.0
    # runs out at the front: half of a slot twice as long and more
    tools.append(slot_tool(70, -60 + open_long, 120.0, open_wide, math.pi / 2, low, h + 1))
    sizes = {"width": open_wide, "length": open_long, **({"depth": open_deep} if open_deep else {})}
    known.append(Known("open slot", sizes))
    return Made("channelled", cut_all(box(w, d, h), tools), known)


def curved(r: random.Random) -> Made:
    """A slot along an arc in a disk."""
    radius, wide = round(r.uniform(25, 40), 2), round(r.uniform(4, 9), 2)
    angle = r.uniform(30, 300)
    deep = round(r.uniform(2, 8), 2) if r.random() < 0.5 else None
    a0 = r.uniform(0, 2 * math.pi)
    a1 = a0 + math.radians(angle)
    middle = (a0 + a1) / 2

    def p(rho: float, t: float) -> Flat:
        return rho * math.cos(t), rho * math.sin(t)

    half = wide / 2

    def cap(t: float, way: float) -> Flat:
        x, y = p(radius, t)
        return x - way * half * math.sin(t), y + way * half * math.cos(t)

    tool = outline(
        [
            p(radius + half, a0),
            (p(radius + half, middle), p(radius + half, a1)),
            (cap(a1, 1.0), p(radius - half, a1)),
            (p(radius - half, middle), p(radius - half, a0)),
            (cap(a0, -1.0), p(radius + half, a0)),
        ],
        12 - deep if deep else -1.0,
        13.0,
    )
    sizes = {"width": wide, "radius": radius, "angle": angle, **({"depth": deep} if deep else {})}
    return Made("curved", cut_all(rod(60, 12), [tool]), [Known("curved slot", sizes)])


def shaft(r: random.Random) -> Made:
    """Steps with a groove, a taper, chamfers, a keyway and a flat."""
    a, b = round(r.uniform(24, 40), 1), round(r.uniform(14, 22), 1)
    c = round(r.uniform(1, 2), 2)
    groove_wide, groove = round(r.uniform(1, 4), 2), round(b * r.uniform(0.8, 0.95), 2)
    known = [
        Known("chamfer", {"length": c, "angle": 45.0, "diameter": a}),
        Known("groove", {"width": groove_wide, "diameter": groove}),
    ]
    profile = [(0, 0), (0, a / 2 - c), (c, a / 2), (60, a / 2), (60, b / 2), (80, b / 2), (80, groove / 2)]
    profile += [(80 + groove_wide, groove / 2), (80 + groove_wide, b / 2), (100, b / 2)]
    if r.random() < 0.5:
        narrow = round(b * r.uniform(0.5, 0.8), 2)
        profile += [(130, narrow / 2), (130, 0)]
        known.append(Known("taper", {"diameter": b, "inner": narrow, "length": 30.0}))
    else:
        profile += [(130, b / 2), (130, 0)]
    body = turned(np.zeros(3), RIGHT, profile)
    tools = []
    wide, long, deep = round(a * 0.25, 1), round(r.uniform(20, 35), 1), round(a * r.uniform(0.08, 0.18), 2)
    tools.append(slot_tool(30, 0, long, wide, 0.0, a / 2 - deep, a))
    known.append(Known("keyway", {"width": wide, "length": long, "depth": deep}, np.array([30.0, 0, a / 2])))
    if r.random() < 0.5:
        apart = round(b / 2 * r.uniform(0.6, 0.9), 2)
        tools.append(moved(box(15, 60, 60), 62, -30, apart))
        known.append(Known("flat", {"height": apart, "diameter": b, "length": 15.0}))
    return Made("shaft", cut_all(body, tools), known)


def hub(r: random.Random) -> Made:
    """A bore with a keyway along all of it and a groove within, and a ring in its face."""
    outer, bore, long = 40.0, round(r.uniform(16, 24), 1), 50.0
    groove, groove_wide = round(bore * 1.15, 2), round(r.uniform(1.5, 4), 2)
    ring_in, ring_out = round(bore + 16, 1), round(bore + 16 + r.uniform(6, 12), 1)
    ring_deep = round(r.uniform(1.5, 5), 2)
    tools = [
        turned(np.zeros(3), RIGHT, [(-1, 0), (-1, bore / 2), (long + 1, bore / 2), (long + 1, 0)]),
        turned(
            np.zeros(3),
            RIGHT,
            [(30, 0), (30, groove / 2), (30 + groove_wide, groove / 2), (30 + groove_wide, 0)],
        ),
        turned(
            np.zeros(3),
            RIGHT,
            [(-1, ring_in / 2), (ring_deep, ring_in / 2), (ring_deep, ring_out / 2), (-1, ring_out / 2)],
        ),
    ]
    known = [
        Known("face groove", {"diameter": ring_out, "inner": ring_in, "depth": ring_deep}),
        Known("inner groove", {"width": groove_wide, "diameter": groove}),
    ]
    if r.random() < 0.6:
        wide, deep = round(bore * 0.25, 1), round(bore * 0.12 + bore * 0.1, 2)
        tools = [tools[0], tools[2]]
        known = known[:1]
        tools.append(moved(box(long + 10, wide, bore / 2 + deep), -5, -wide / 2, 0))
        known.append(Known("hub keyway", {"width": wide, "length": long, "depth": deep}))
    body = turned(np.zeros(3), RIGHT, [(0, 0), (0, outer), (long, outer), (long, 0)])
    return Made("hub", cut_all(body, tools), known)


def broken(r: random.Random) -> Made:
    """A block with some of its edges rounded and some chamfered, and an inner corner filled."""
    w, d, h = 80.0, 50.0, 40.0
    step = cut_all(box(w, d, h), [moved(box(50, d + 10, 30), 40, -5, 22)])
    radius, fill, leg = (round(r.uniform(a, b), 2) for a, b in ((2, 6), (2, 6), (1, 4)))
    upright = [e for e in subshapes(step, Kind.TopAbs_EDGE) if _goes(e, (0, 0, 1))]
    corner = [e for e in subshapes(step, Kind.TopAbs_EDGE) if _middle(e)[0] == 40 and _middle(e)[2] == 22]
    fillet = BRepFilletAPI_MakeFillet(step)
    fillet.Add(fill, TopoDS.Edge(corner[0]))
    known = [Known("fillet", {"radius": fill})]
    for edge in upright:
        if _middle(edge)[0] == 0:
            fillet.Add(radius, TopoDS.Edge(edge))
            known.append(Known("round", {"radius": radius}))
    body = fillet.Shape()
    chamfer = BRepFilletAPI_MakeChamfer(body)
    (edge,) = [
        e
        for e in subshapes(body, Kind.TopAbs_EDGE)
        if _middle(e)[0] == w and _middle(e)[2] == 22 and _goes(e, (0, 1, 0))
    ]
    chamfer.Add(leg, TopoDS.Edge(edge))
    known.append(Known("chamfer", {"length": leg, "angle": 45.0}))
    return Made("broken", chamfer.Shape(), known)


def ribbed(r: random.Random) -> Made:
    """An angle with a rib in its corner."""
    thick, at = round(r.uniform(4, 9), 2), r.uniform(10, 30)
    body = cut_all(box(60, 50, 40), [moved(box(60, 60, 40), 10, -5, 8)])
    web = outline([(10, 8), (45, 8), (10, 35)], 0, thick)
    upright = Somewhere(np.array([1.0, 0, 0]), math.pi / 2, np.array([0, at + thick, 0]))
    web = upright.shape(web)
    return Made("ribbed", whole(BRepAlgoAPI_Fuse(body, web).Shape()), [Known("rib", {"width": thick})])


def _ends(edge: Any) -> tuple[Array, Array]:
    curve = BRepAdaptor_Curve(TopoDS.Edge(edge))
    found = [curve.Value(t) for t in (curve.FirstParameter(), curve.LastParameter())]
    first, last = (np.array([p.X(), p.Y(), p.Z()]) for p in found)
    return first, last


def _middle(edge: Any) -> list[float]:
    return [round(v, 6) for v in (sum(_ends(edge)) / 2).tolist()]


def _goes(edge: Any, way: tuple[float, float, float]) -> bool:
    first, last = _ends(edge)
    run = last - first
    return abs(float(run @ np.array(way))) > 0.999 * float(np.linalg.norm(run)) > 0


MAKERS = (plate, plate, raised, channelled, curved, shaft, hub, broken, ribbed)


def made(seed: int) -> Made:
    """A solid of a seed, somewhere in space."""
    r = random.Random(seed)
    found = MAKERS[seed % len(MAKERS)](r)
    place = Somewhere.of(r)
    shape = place.shape(found.shape)
    if r.random() < 0.25:
        shape = whole(split(shape, r.choice((2, 4))))
    for feature in found.features:
        if feature.at is not None:
            feature.at = place.point(feature.at)
    return Made(found.what, shape, found.features)
