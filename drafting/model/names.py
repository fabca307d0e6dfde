"""Lasting names of faces and edges, and the plain facts they stand for.

A recipe names its faces by feature and role (`seat/side.2`); an edge is named by the faces that meet in it.
Geometry read from a file has no history, so its names are signatures: kind, size and place in the part's own
frame.
"""

from collections import Counter, defaultdict

from drafting.kernel import measure
from drafting.kernel.topology import (
    EdgeGeometry,
    FaceGeometry,
    Shape,
    describe,
    solids,
)
from drafting.model.model import EdgeFact, FaceFact, PartFacts

BASE_KINDS = {"extrude", "revolve"}


def _place(v: tuple[float, float, float]) -> str:
    return ",".join(f"{x + 0.0:.3f}".replace("-0.000", "0.000") for x in v)


def face_signature(face: FaceGeometry) -> str:
    """A name for a face by its kind, size and place, for models that give none."""
    size = f" r{face.radius:.3f}" if face.radius else ""
    return f"{face.kind}{size} @{_place(face.center)}"


def edge_signature(edge: EdgeGeometry) -> str:
    """A name for an edge by its kind, size and place."""
    size = f" r{edge.radius:.3f}" if edge.radius else f" l{edge.length:.3f}"
    where = edge.center if edge.closed and edge.center else edge.middle
    return f"{edge.kind}{size} @{_place(where)}"


def _distinct(names: list[str], places: list[tuple[float, float, float]]) -> list[str]:
    """Number equal names by place, so that the numbering does not depend on the kernel's order."""
    total = Counter(names)
    by_name: dict[str, list[int]] = defaultdict(list)
    for i, name in enumerate(names):
        if total[name] > 1:
            by_name[name].append(i)
    out = list(names)
    for name, members in by_name.items():
        members.sort(key=lambda i: [round(c, 4) for c in places[i]])
        for number, i in enumerate(members, 1):
            out[i] = f"{name}~{number}"
    return out


def part_facts(
    shape: Shape,
    name: str,
    given: list[str | None] | None = None,
    feature_kinds: dict[str, str] | None = None,
    measured: bool = True,
) -> PartFacts:
    """Names and plain facts of a part's faces and edges.

    given: names of the faces in the kernel's order (recipes), or None for signatures (files).
    feature_kinds: the recipe's feature ids in order, with their kinds. measured: whether its volume is wanted
    now, which is dear.
    """
    topology = describe(shape)
    raw = [
        g or face_signature(f)
        for g, f in zip(given or [None] * len(topology.faces), topology.faces, strict=True)
    ]
    face_names = _distinct(raw, [f.center for f in topology.faces])
    kinds = feature_kinds or {}
    edge_names = _distinct(
        [_edge_name(e, face_names, given is not None) for e in topology.edges],
        [e.middle for e in topology.edges],
    )
    faces = [_face_fact(n, f, kinds, edge_names) for n, f in zip(face_names, topology.faces, strict=True)]
    edges = [_edge_fact(n, e, faces, kinds) for n, e in zip(edge_names, topology.edges, strict=True)]
    low, high = measure.extents(shape)
    return PartFacts(
        name=name,
        volume=measure.volume(shape) if measured else None if solids(shape) else 0.0,
        low=list(low),
        high=list(high),
        faces=faces,
        edges=edges,
        features=list(kinds),
        sided=True,
    )


def with_sides(part: PartFacts, shape: Shape) -> PartFacts:
    """A part's facts from before sides were told, with the sides and turns of its faces and edges. They are
    told in the kernel's order, as names were given; where they do not fit, nothing is."""
    told = part_facts(shape, part.name, measured=False)
    if len(told.faces) != len(part.faces) or len(told.edges) != len(part.edges):
        return part
    edges = {new.name: old.name for old, new in zip(part.edges, told.edges, strict=True)}
    faces = [
        old.model_copy(
            update={
                "hollow": new.hollow,
                "x_axis": new.x_axis,
                "turn": new.turn,
                "inner": [[edges[name] for name in loop] for loop in new.inner],
            }
        )
        if old.kind == new.kind
        else old
        for old, new in zip(part.faces, told.faces, strict=True)
    ]
    turned = [o.model_copy(update={"turn": n.turn}) for o, n in zip(part.edges, told.edges, strict=True)]
    return part.model_copy(update={"faces": faces, "edges": turned, "sided": True})


def _edge_name(edge: EdgeGeometry, faces: list[str], from_recipe: bool) -> str:
    if not from_recipe:
        return edge_signature(edge)
    if len(edge.faces) == 1:
        return f"{faces[edge.faces[0]]}|"
    return "|".join(sorted(faces[f] for f in edge.faces))


def _feature_of(face_name: str, kinds: dict[str, str]) -> str:
    """Feature id of a recipe face, with the pattern member it belongs to: `bolt/bore@3` belongs to
    `bolt@3`."""
    head, _, role = face_name.partition("/")
    if head not in kinds:
        return ""
    member = role.partition("~")[0].partition("@")[2]
    return f"{head}@{member}" if member else head


def _face_fact(name: str, f: FaceGeometry, kinds: dict[str, str], edges: list[str]) -> FaceFact:
    feature = _feature_of(name, kinds)
    plain = kinds.get(feature.partition("@")[0], "") in BASE_KINDS or not feature
    return FaceFact(
        name=name,
        kind=f.kind,
        origin=list(f.origin),
        axis=list(f.axis),
        radius=f.radius,
        half_angle=f.half_angle,
        minor_radius=f.minor_radius,
        span=list(f.span) if f.span else None,
        hollow=f.hollow,
        x_axis=list(f.x_axis) if f.x_axis else None,
        turn=list(f.turn) if f.turn else None,
        inner=[[edges[n] for n in loop] for loop in f.inner],
        feature=name if plain else feature,
    )


def _edge_fact(name: str, e: EdgeGeometry, faces: list[FaceFact], kinds: dict[str, str]) -> EdgeFact:
    return EdgeFact(
        name=name,
        kind=e.kind,
        start=list(e.start),
        end=list(e.end),
        middle=list(e.middle),
        length=e.length,
        closed=e.closed,
        center=list(e.center) if e.center else None,
        axis=list(e.axis) if e.axis else None,
        x_axis=list(e.x_axis) if e.x_axis else None,
        radius=e.radius,
        minor_radius=e.minor_radius,
        first=e.first,
        last=e.last,
        faces=[faces[f].name for f in e.faces],
        turn=e.turn,
        feature=_lit_with(name, e, faces, kinds),
    )


def _lit_with(name: str, e: EdgeGeometry, faces: list[FaceFact], kinds: dict[str, str]) -> str:
    """What an edge belongs to for a reader: the hole, slot or other later feature it bounds, else the curved
    face, else itself."""
    owners = [faces[f] for f in e.faces]
    order = list(kinds)
    special = [f.feature for f in owners if f.feature != f.name]
    if special:
        return max(special, key=lambda s: order.index(s.partition("@")[0]))
    curved = [f for f in owners if f.kind in ("cylinder", "cone", "sphere", "torus")]
    if curved and not (e.smooth and e.kind == "line"):
        return min(curved, key=lambda f: (f.radius, f.name)).feature
    return name
