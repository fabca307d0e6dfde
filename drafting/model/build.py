"""Part recipes to models: features built one after another, every face named by the feature and role that
made it."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from drafting.errors import ModelError
from drafting.kernel import measure, solids
from drafting.kernel.solids import NamedSolid, Plane, Segment
from drafting.model import recipe as r
from drafting.model.expressions import evaluate
from drafting.model.model import (
    IDENTITY,
    Facts,
    HoleFact,
    InstanceFacts,
    Matrix,
    Model,
    PartFacts,
    ThreadFact,
    TreeNode,
)
from drafting.model.names import part_facts
from drafting.model.recipe import UNIT_MM
from drafting.standards.threads import thread

Number = Callable[[r.Value], float]


def part_model(recipe: r.PartRecipe) -> Model:
    """A model of one part."""
    shape, facts = build_part(recipe)
    return Model(
        Facts(
            name=recipe.name,
            kind="part",
            units=recipe.units,
            source="recipe",
            parameters=parameters(recipe.parameters),
            parts={"part": facts},
            instances=[InstanceFacts(path="part", name=recipe.name, part="part", matrix=IDENTITY)],
            tree=TreeNode(name=recipe.name, part="part", path="part"),
            low=facts.low,
            high=facts.high,
            **recipe.properties.model_dump(),
        ),
        {"part": shape},
    )


def parameters(values: Mapping[str, r.Value]) -> dict[str, float]:
    """Values of a recipe's parameters, each of which may use those before it."""
    known: dict[str, float] = {}
    for name, value in values.items():
        known[name] = evaluate(value, known)
    return known


def unit_vector(v: Any, who: str) -> np.ndarray:
    """A direction of length one. Raises ModelError, naming who asked, for one without length."""
    a = np.asarray(v, float)
    n = float(np.linalg.norm(a))
    if n < 1e-12:
        raise ModelError(f"A direction of {who} is zero.")
    return a / n


@dataclass
class _Builder:
    """State while a part is built: the body so far, what each feature made, and the facts gathered on the
    way."""

    number: Number
    angle: Number
    body: NamedSolid | None = None
    tools: dict[str, tuple[NamedSolid, str]] = field(default_factory=dict)
    holes: list[HoleFact] = field(default_factory=list)
    threads: list[ThreadFact] = field(default_factory=list)


def build_part(recipe: r.PartRecipe) -> tuple[Any, PartFacts]:
    """Shape and facts of a part recipe; a feature that fails is named in the error."""
    known = parameters(recipe.parameters)
    scale = UNIT_MM[recipe.units]
    builder = _Builder(lambda v: evaluate(v, known) * scale, lambda v: evaluate(v, known))
    kinds: dict[str, str] = {}
    for feature in recipe.features:
        if feature.id in kinds:
            raise ModelError(f"Two features of the recipe are called {feature.id!r}.")
        kinds[feature.id] = feature.kind
        try:
            _BUILD[feature.kind](builder, feature)
        except ModelError as error:
            raise ModelError(f"Feature {feature.id!r}: {error}") from error
    if builder.body is None:
        raise ModelError("The recipe makes no body: its first feature must be extruded or revolved.")
    facts = part_facts(builder.body.shape, recipe.name, solids.face_names(builder.body), kinds)
    update = {
        **recipe.properties.model_dump(),
        "threads": builder.threads,
        "holes": builder.holes,
        "color": list(recipe.color) if recipe.color else None,
    }
    return builder.body.shape, facts.model_copy(update=update)


def _plane(b: _Builder, spec: r.PlaneSpec, who: str) -> Plane:
    o = [b.number(v) for v in spec.origin]
    x, n = unit_vector([b.angle(v) for v in spec.x], who), unit_vector([b.angle(v) for v in spec.normal], who)
    if abs(float(x @ n)) > 1e-6:
        raise ModelError("the plane's x direction is not square to its normal.")
    return Plane((o[0], o[1], o[2]), tuple(x.tolist()), tuple(n.tolist()))


def _point(b: _Builder, p: r.XY) -> tuple[float, float]:
    return b.number(p[0]), b.number(p[1])


def _positive(value: float, what: str) -> float:
    if not value > 1e-6:
        raise ModelError(f"the {what} is {value:g} mm; it must be more than zero.")
    return value


def _loop(b: _Builder, profile: r.Profile, prefix: str = "side") -> list[Segment]:
    if isinstance(profile, r.CircleProfile):
        radius = _positive(b.number(profile.diameter), "diameter") / 2
        c = _point(b, profile.center)
        return [Segment(prefix, c, c, circle=(c, radius))]
    if isinstance(profile, r.RectangleProfile):
        (cx, cy), w, h = _point(b, profile.center), b.number(profile.width) / 2, b.number(profile.height) / 2
        _positive(w, "width"), _positive(h, "height")
        p = [(cx - w, cy - h), (cx + w, cy - h), (cx + w, cy + h), (cx - w, cy + h)]
        names = ["bottom", "right", "top", "left"]
        return [Segment(f"{prefix}.{names[i]}", p[i], p[(i + 1) % 4]) for i in range(4)]
    if isinstance(profile, r.SlotProfile):
        return _slot_loop(
            _point(b, profile.slot_center),
            b.number(profile.length),
            b.number(profile.width),
            b.angle(profile.angle),
            prefix,
        )
    segments: list[Segment] = []
    at = start = _point(b, profile.start)
    for i, step in enumerate(profile.to, 1):
        name = f"{prefix}.{step.name or i}"
        if isinstance(step, r.LineTo):
            to = _point(b, step.line)
            if math.dist(at, to) > 1e-7:
                segments.append(Segment(name, at, to))
        else:
            to = _point(b, step.arc)
            segments.append(Segment(name, at, to, through=_point(b, step.through)))
        at = to
    if math.dist(at, start) > 1e-7:
        segments.append(Segment(f"{prefix}.close", at, start))
    return segments


def _slot_loop(
    center: tuple[float, float], length: float, width: float, degrees: float, prefix: str
) -> list[Segment]:
    _positive(length, "length"), _positive(width, "width")
    a, w = length / 2, width / 2
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))

    def at(x: float, y: float) -> tuple[float, float]:
        return (center[0] + c * x - s * y, center[1] + s * x + c * y)

    return [
        Segment(f"{prefix}.lower", at(-a, -w), at(a, -w)),
        Segment(f"{prefix}.end-b", at(a, -w), at(a, w), through=at(a + w, 0)),
        Segment(f"{prefix}.upper", at(a, w), at(-a, w)),
        Segment(f"{prefix}.end-a", at(-a, w), at(-a, -w), through=at(-a - w, 0)),
    ]


def _apply(b: _Builder, feature_id: str, tool: NamedSolid, operation: str, member: str = "") -> None:
    suffix = f"@{member}" if member else ""
    tool = tool.renamed(lambda n: f"{feature_id}/{n}{suffix}")
    if b.body is None:
        if operation != "add":
            raise ModelError("there is no body yet to cut from.")
        b.body = tool
    else:
        b.body = solids.combine(b.body, tool, operation)


def _extrude(b: _Builder, f: r.Extrude) -> None:
    plane = _plane(b, f.plane, f.id)
    depth = b.number(f.depth)
    if abs(depth) < 1e-6:
        raise ModelError("the depth is zero.")
    if f.symmetric:
        o = np.array(plane.origin) - np.array(plane.normal) * depth / 2
        plane = Plane(tuple(o.tolist()), plane.x, plane.normal)
    loops = [_loop(b, f.profile), *(_loop(b, p, f"opening{i}") for i, p in enumerate(f.openings, 1))]
    tool = solids.extrude(plane, loops, depth)
    b.tools[f.id] = (tool, f.operation)
    _apply(b, f.id, tool, f.operation)


def _revolve(b: _Builder, f: r.Revolve) -> None:
    plane = _plane(b, f.plane, f.id)
    a, c = _point(b, f.axis[0]), _point(b, f.axis[1])
    if math.dist(a, c) < 1e-9:
        raise ModelError("the axis is a point.")
    tool = solids.revolve(plane, [_loop(b, f.profile)], a, c, math.radians(b.angle(f.angle)))
    b.tools[f.id] = (tool, f.operation)
    _apply(b, f.id, tool, f.operation)


def _reach(b: _Builder) -> float:
    """A length that goes through the whole body from anywhere near it."""
    assert b.body is not None
    low, high = measure.extents(b.body.shape)
    return float(np.linalg.norm(np.subtract(high, low))) * 2 + 1.0


def _hole_profile(b: _Builder, f: r.Hole, diameter: float, depth: float) -> list[Segment]:
    """Half section of a hole about the axis x = 0, drilled toward -y from y = 0, with clearance above."""
    radius, top = diameter / 2, 1e-3 * diameter + 1.0
    over = top
    points: list[tuple[float, float, str]] = [(0.0, over, "mouth")]
    if f.counterbore:
        cb_r = b.number(f.counterbore.diameter) / 2
        if f.counterbore.depth is None or cb_r <= radius:
            raise ModelError("a counterbore needs a depth and a diameter larger than the hole's.")
        cb_d = _positive(b.number(f.counterbore.depth), "counterbore depth")
        points += [(cb_r, over, "counterbore"), (cb_r, -cb_d, "seat"), (radius, -cb_d, "bore")]
    elif f.countersink:
        cs_r = b.number(f.countersink.diameter) / 2
        angle = math.radians(b.angle(f.countersink.angle if f.countersink.angle is not None else 90)) / 2
        if cs_r <= radius or not 0 < angle < math.pi / 2:
            raise ModelError(
                "a countersink needs a diameter larger than the hole's and an angle under 180 degrees."
            )
        cs_d = (cs_r - radius) / math.tan(angle)
        points += [(cs_r, over, "above"), (cs_r, 0.0, "countersink"), (radius, -cs_d, "bore")]
    else:
        points += [(radius, over, "bore")]
    points += [(radius, -depth, "tip" if f.depth is not None else "exit")]
    tip = radius / math.tan(math.radians(b.angle(f.tip_angle)) / 2) if f.depth is not None else 0.0
    points += [(0.0, -depth - tip, "axis")]
    return [
        Segment(name, (x, y), (points[(i + 1) % len(points)][0], points[(i + 1) % len(points)][1]))
        for i, (x, y, name) in enumerate(points)
    ]


def _hole(b: _Builder, f: r.Hole) -> None:
    if b.body is None:
        raise ModelError("there is no body yet to drill.")
    screw = thread(f.thread) if f.thread else None
    if (f.diameter is None) == (screw is None):
        raise ModelError("a hole has either a diameter or a thread.")
    diameter = screw.tap_drill if screw else _positive(b.number(f.diameter), "diameter")  # type: ignore[arg-type]
    depth = _positive(b.number(f.depth), "depth") if f.depth is not None else _reach(b)
    plane = _plane(b, f.plane, f.id)
    normal, x = np.array(plane.normal), np.array(plane.x)
    y = np.cross(normal, x)
    profile = _hole_profile(b, f, diameter, depth)
    fused: NamedSolid | None = None
    for i, p in enumerate(f.at, 1):
        px, py = _point(b, p)
        origin = np.array(plane.origin) + x * px + y * py
        section = Plane(
            tuple(origin.tolist()), plane.x, tuple((-y).tolist())
        )  # its y direction is the hole's axis
        one = solids.revolve(section, [profile], (0, 0), (0, 1), 2 * math.pi)
        member = str(i) if len(f.at) > 1 else ""
        _apply(b, f.id, one, "cut", member)
        fused = one if len(f.at) == 1 else None
        if screw:
            face = f"{f.id}/bore" + (f"@{member}" if member else "")
            length = b.number(f.thread_depth) if f.thread_depth is not None else None
            b.threads.append(ThreadFact(face=face, designation=screw.designation, length=length))
    if fused:
        b.tools[f.id] = (fused, "cut")
    b.holes.append(
        HoleFact(
            feature=f.id,
            count=len(f.at),
            diameter=diameter,
            depth=None if f.depth is None else depth,
            thread=f.thread,
        )
    )


def _slot(b: _Builder, f: r.Slot) -> None:
    if b.body is None:
        raise ModelError("there is no body yet to cut from.")
    plane = _plane(b, f.plane, f.id)
    loop = _slot_loop(_point(b, f.center), b.number(f.length), b.number(f.width), b.angle(f.angle), "side")
    depth = _positive(b.number(f.depth), "depth") if f.depth is not None else _reach(b)
    o = np.array(plane.origin) + np.array(plane.normal)
    above = Plane(tuple(o.tolist()), plane.x, plane.normal)
    tool = solids.extrude(above, [loop], -(depth + 1.0))
    b.tools[f.id] = (tool, "cut")
    _apply(b, f.id, tool, "cut")


def _edges(b: _Builder, selectors: list[str]) -> list[Any]:
    if b.body is None:
        raise ModelError("there is no body yet.")
    found: list[Any] = []
    for selector in selectors:
        matching = solids.edges_matching(b.body, selector)
        if not matching:
            raise ModelError(f"no edge of the body is named {selector!r}.")
        found += [e for e in matching if not any(e.IsSame(o) for o in found)]
    return found


def _named_after(body: NamedSolid, feature_id: str) -> NamedSolid:
    return body.renamed(lambda n: f"{feature_id}/{n[1:]}" if n.startswith("*") else n)


def _fillet(b: _Builder, f: r.Fillet) -> None:
    edges = _edges(b, f.edges)
    assert b.body is not None
    b.body = _named_after(solids.fillet(b.body, edges, _positive(b.number(f.radius), "radius")), f.id)


def _chamfer(b: _Builder, f: r.Chamfer) -> None:
    edges = _edges(b, f.edges)
    assert b.body is not None
    b.body = _named_after(solids.chamfer(b.body, edges, _positive(b.number(f.length), "length")), f.id)


def _pattern(b: _Builder, f: r.Pattern) -> None:
    if f.of not in b.tools:
        raise ModelError(f"{f.of!r} is not an extruded, revolved, slot or single hole feature before it.")
    tool, operation = b.tools[f.of]
    if (f.linear is None) == (f.circular is None):
        raise ModelError("a pattern is either linear or circular.")
    spec = f.linear or f.circular
    assert spec is not None
    for k in range(1, spec.count):
        _apply(b, f.of, solids.moved(tool, _step(b, f, k)), operation, str(k + 1))
    for index, hole in enumerate(b.holes):
        if hole.feature == f.of:
            b.holes[index] = hole.model_copy(update={"count": spec.count})
    b.threads += [
        t.model_copy(update={"face": f"{t.face}@{k + 1}"})
        for t in list(b.threads)
        if t.face == f"{f.of}/bore"
        for k in range(1, spec.count)
    ]


def _step(b: _Builder, f: r.Pattern, k: int) -> Matrix:
    m = np.eye(4)
    if f.linear:
        m[:3, 3] = (
            unit_vector([b.angle(v) for v in f.linear.direction], f.id) * b.number(f.linear.spacing) * k
        )
    else:
        assert f.circular is not None
        axis = unit_vector([b.angle(v) for v in f.circular.axis], f.id)
        c = np.array([b.number(v) for v in f.circular.center])
        total = math.radians(b.angle(f.circular.angle))
        step = total / f.circular.count if abs(total) > 2 * math.pi - 1e-9 else total / (f.circular.count - 1)
        m[:3, :3] = _rotation(axis, step * k)
        m[:3, 3] = c - m[:3, :3] @ c
    return [[float(v) for v in row] for row in m]


def _rotation(axis: np.ndarray, angle: float) -> np.ndarray:
    """Rotation matrix about a unit axis (Rodrigues' formula)."""
    k = np.array([[0, -axis[2], axis[1]], [axis[2], 0, -axis[0]], [-axis[1], axis[0], 0]])
    out: np.ndarray = np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * (k @ k)
    return out


def _thread(b: _Builder, f: r.Thread) -> None:
    if b.body is None or f.face not in {n for _, n in b.body.names}:
        raise ModelError(f"the body has no face named {f.face!r}.")
    thread(f.designation)
    length = b.number(f.length) if f.length is not None else None
    b.threads.append(ThreadFact(face=f.face, designation=f.designation, length=length, internal=False))


_BUILD: dict[str, Callable[[_Builder, Any], None]] = {
    "extrude": _extrude,
    "revolve": _revolve,
    "hole": _hole,
    "slot": _slot,
    "fillet": _fillet,
    "chamfer": _chamfer,
    "pattern": _pattern,
    "thread": _thread,
}
