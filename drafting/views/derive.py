"""From a model and what a view is to show, to the curves and cut faces of the view."""

import itertools
import json
import math

import numpy as np
import shapely
from numpy.typing import NDArray

from drafting.errors import ViewError
from drafting.kernel.facets import facet
from drafting.kernel.topology import Topology
from drafting.model.exploded import moved
from drafting.model.model import Facts, Model, PartFacts
from drafting.views.coincident import Candidate, distinct
from drafting.views.cut_scene import Placed, cut_scene
from drafting.views.derivation import Derivation
from drafting.views.geometry import CutFace, ViewCurve, ViewGeometry, bounds
from drafting.views.orientation import Orientation
from drafting.views.project import drawn_pieces
from drafting.views.seen import seen
from drafting.views.shading import shaded
from drafting.views.threads import thread_curves
from drafting.views.trails import seen_trails
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.engine import Pieces, rough_pieces, visible_pieces
from drafting.views.visibility.part import (
    BREAK,
    CLASSES,
    CUT,
    INDEX,
    SILHOUETTE,
    STEP,
    FacetedPart,
)
from drafting.views.visibility.scene import Scene, ViewRays
from drafting.views.visibility.silhouettes import Silhouettes

RANK = {"sharp": 0, "cut": 0, "silhouette": 1, "smooth": 2, "thread": 2, "break": 2}
MAX_PIECES = 400_000
KEPT_SCENES = 6


class Prepared:
    """A model made ready for views: triangles and curves of each distinct part and trees for rays. Kept
    between views."""

    def __init__(self, model: Model, faceted: dict[str, FacetedPart] | None = None) -> None:
        facts = model.facts
        self.model = model
        self.faceted = (
            faceted
            if faceted is not None
            else {key: facet(model.shapes[key], diagonal_of(part)) for key, part in facts.parts.items()}
        )
        self.topologies: dict[str, Topology] = {}
        low, high = facts.low, facts.high
        self.middle = (np.array(low) + np.array(high)) / 2
        self.diagonal = math.dist(low, high) or 1.0
        keys = list(facts.parts)
        self.scene = Scene(
            [self.faceted[k] for k in keys],
            [(keys.index(i.part), np.array(i.matrix)) for i in facts.instances],
        )
        self.placed = [Placed(n) for n in range(len(facts.instances))]
        self.silhouettes: dict[object, Silhouettes] = {}
        self._exploded: dict[str, Prepared] = {}
        self._others: dict[str, tuple[Scene, list[Placed], dict[object, Silhouettes]]] = {}

    def exploded(self, by: dict[str, list[float]]) -> "Prepared":
        """The same model with parts moved, seen about the same middle; the latest few are kept."""
        key = json.dumps(by, sort_keys=True)
        if key not in self._exploded:
            while len(self._exploded) >= KEPT_SCENES:
                self._exploded.pop(next(iter(self._exploded)))
            made = Prepared(Model(moved(self.model.facts, by), self.model.shapes), self.faceted)
            made.topologies = self.topologies
            self._exploded[key] = made
        return self._exploded[key]

    def scene_for(self, d: Derivation) -> tuple[Scene, list[Placed], dict[object, Silhouettes]]:
        """The scene with cuts made and parts left out; the latest few are kept, since a section's pictorial
        view asks for the same."""
        if not d.is_cut and not d.without:
            return self.scene, self.placed, self.silhouettes
        key = d.model_copy(
            update={
                "orientation": Orientation(right=[1, 0, 0], up=[0, 1, 0]),
                "distance": None,
                "only_cut": False,
            }
        ).model_dump_json()
        if key not in self._others:
            while len(self._others) >= KEPT_SCENES:
                self._others.pop(next(iter(self._others)))
            self._others[key] = (*cut_scene(self.model, self.faceted, self.topologies, d), {})
        return self._others[key]


def diagonal_of(part: PartFacts) -> float:
    """Length of the diagonal of a part's extents, mm."""
    return math.dist(part.low, part.high) or 1.0


def derive(prepared: Prepared, what: Orientation | Derivation, rough: bool = False) -> ViewGeometry:
    """All visible and hidden curves of a view, at 1:1 about the projection of the model's middle.

    rough: only what is seen, cut at the corners of the triangles; quick, for a first look.
    Raises ViewError where nothing would be seen, or a cut misses.
    """
    d = what if isinstance(what, Derivation) else Derivation(orientation=what)
    if d.moves:
        return derive(prepared.exploded(d.moves), d.model_copy(update={"moves": {}}), rough)
    facts = _with_threads(prepared.model.facts, d)
    scene, placed, cache = prepared.scene_for(d)
    if not scene.instances:
        raise ViewError("Every part is left out of this view.")
    if d.distance is not None and d.distance <= nearest_eye(prepared, d.orientation):
        raise ViewError("The eye stands inside the model; choose a longer distance.")
    camera = Camera(d.orientation.matrix(), prepared.middle, d.distance)
    clear = np.isin([facts.instances[p.instance].path for p in placed], d.clear)
    pieces = (
        rough_pieces(scene, camera, cache) if rough else visible_pieces(scene, camera, cache, clear=clear)
    )
    if len(pieces.curve) > MAX_PIECES:
        raise ViewError(f"The view of {facts.name} has {len(pieces.curve)} lines, more than {MAX_PIECES}.")
    tolerance = max(1e-5 * prepared.diagonal, 1e-6)
    curves = _curves(prepared, scene, placed, pieces, camera, tolerance, d.only_cut, facts)
    if not curves:
        raise ViewError(f"Nothing of {facts.name} is seen in this direction.")
    low, high = bounds(curves)
    if rough:
        return ViewGeometry(
            curves=curves, instances=[i.path for i in facts.instances], low=low, high=high, rough=True
        )
    faces = _cut_faces(scene, placed, camera) if d.is_cut else []
    image = shaded(scene, camera, [_color(facts, p) for p in placed], low, high, clear) if d.shaded else None
    where, trails = None, []
    if len(facts.instances) > 1:
        nodes = np.ascontiguousarray(camera.flat(camera.view(scene.nodes)))
        where = seen(scene, nodes, [p.instance for p in placed], low, high)
    if d.trails:
        trails = seen_trails(d.trails, ViewRays(scene, camera), camera, prepared.diagonal)
    paths = [i.path for i in facts.instances]
    return ViewGeometry(
        curves=curves,
        instances=paths,
        low=low,
        high=high,
        cut_faces=faces,
        image=image,
        seen=where,
        trails=trails,
    )


def _color(facts: Facts, placed: Placed) -> tuple[float, float, float] | None:
    color = facts.parts[facts.instances[placed.instance].part].color
    return (color[0], color[1], color[2]) if color else None


def _with_threads(facts: Facts, d: Derivation) -> Facts:
    """Facts with the threads that the office says, in place of what the file says of the same faces."""
    if not d.threads:
        return facts
    parts = dict(facts.parts)
    for said in d.threads:
        part = parts[said.part]
        rest = [t for t in part.threads if t.face != said.thread.face]
        parts[said.part] = part.model_copy(update={"threads": [*rest, said.thread]})
    return facts.model_copy(update={"parts": parts})


def nearest_eye(prepared: Prepared, orientation: Orientation) -> float:
    """Distance in front of the model's middle, mm, at which the eye would touch the model's extents."""
    toward = np.array(orientation.toward)
    half = (np.array(prepared.model.facts.high) - np.array(prepared.model.facts.low)) / 2
    return float(np.abs(toward) @ half)


def _curves(
    prepared: Prepared,
    scene: Scene,
    placed: list[Placed],
    pieces: Pieces,
    camera: Camera,
    tolerance: float,
    only_cut: bool,
    facts: Facts,
) -> list[ViewCurve]:
    c = pieces.curves
    closed_up(pieces)
    drawn = drawn_pieces(pieces, scene, camera, tolerance)
    kinds = c.kind[pieces.curve]
    wanted = kinds != STEP
    if only_cut:
        whole = np.array([p.is_whole for p in placed])[c.instance[pieces.curve]]
        wanted &= np.isin(kinds, (CUT, BREAK)) | (
            whole & _at_the_cut(scene, placed, camera)[c.instance[pieces.curve]]
        )
    classes = [CLASSES[k] for k in kinds.tolist()]
    visible, depth = pieces.visible.tolist(), pieces.depth.tolist()
    candidates = [
        Candidate(d, RANK[classes[i]] + (0 if visible[i] else 3), depth[i], i)
        for i, d in enumerate(drawn)
        if d is not None and wanted[i] and (visible[i] or classes[i] not in ("break", "cut"))
    ]
    threads = (
        []
        if only_cut
        else thread_curves(facts, scene, [(p.instance, not p.is_whole) for p in placed], camera)
    )
    candidates += [
        Candidate((t.kind, t.data), RANK["thread"] + (0 if t.visible else 3), 0.0, len(drawn) + n)
        for n, t in enumerate(threads)
    ]
    names = _Names(prepared, scene, placed)
    curves = []
    found = distinct(candidates, tolerance)
    for f, data in zip(found, _rounded([f.drawn[1] for f in found]), strict=True):
        i, kind = f.piece, f.drawn[0]
        if i >= len(drawn):
            curves.append(threads[i - len(drawn)].model_copy(update={"kind": kind, "data": data}))
            continue
        k = int(pieces.curve[i])
        number = int(c.instance[k])
        source, role, feature = names.of(number, int(c.edge[k]), int(c.face_a[k]), int(c.kind[k]))
        curves.append(
            ViewCurve(
                kind=kind,
                data=data,
                edge_class=classes[i],  # type: ignore[arg-type]
                visible=visible[i],
                instance=placed[number].instance,
                source=source,
                role=role,  # type: ignore[arg-type]
                feature=feature,
            )
        )
    return curves


def _rounded(rows: list[list[float]]) -> list[list[float]]:
    """Rows of numbers to nine decimals, all at once."""
    flat = np.round(np.fromiter(itertools.chain.from_iterable(rows), float), 9).tolist()
    ends = list(itertools.accumulate(map(len, rows)))
    return [flat[end - len(row) : end] for row, end in zip(rows, ends, strict=True)]


def _at_the_cut(scene: Scene, placed: list[Placed], camera: Camera) -> NDArray[np.bool_]:
    """Instances that reach in front of the farthest cut face: of those left whole, the ones that the cut goes
    through."""
    depth = min(
        (
            float(camera.view(np.array(loop))[:, 2].min())
            for p in placed
            for face in p.cut_faces
            for loop in face.loops
        ),
        default=-math.inf,
    )
    corners = [
        np.array(list(itertools.product(*zip(a, b, strict=True))))
        for a, b in zip(scene.low, scene.high, strict=True)
    ]
    return np.array([float(camera.view(c)[:, 2].max()) > depth + 1e-6 for c in corners])


class _Names:
    """Lasting names of the edges and faces that curves come from."""

    def __init__(self, prepared: Prepared, scene: Scene, placed: list[Placed]) -> None:
        facts = prepared.model.facts
        self.scene, self.placed = scene, placed
        self.parts = [facts.parts[facts.instances[p.instance].part] for p in placed]

    def of(self, instance: int, edge: int, face: int, kind: int) -> tuple[str, str, str]:
        """Name, role and feature of a curve's source."""
        part, placed = self.parts[instance], self.placed[instance]
        if kind == SILHOUETTE:
            own = face if placed.faces is None else placed.faces[face]
            return (
                (part.faces[own].name, "silhouette", part.faces[own].feature)
                if own >= 0
                else ("", "silhouette", "")
            )
        index = int(self.scene.parts[self.scene.instances[instance][0]].edges[edge, INDEX])
        row = index if placed.edges is None else placed.edges[index]
        if row >= 0:
            return part.edges[row].name, "edge", part.edges[row].feature
        beside = (placed.beside or {}).get(index, -1)
        return (
            (part.faces[beside].name, "cut", part.faces[beside].feature) if beside >= 0 else ("", "edge", "")
        )


def _cut_faces(scene: Scene, placed: list[Placed], camera: Camera) -> list[CutFace]:
    """Faces the cut made, less what stands in front of them."""
    out = []
    for row in placed:
        for face in row.cut_faces:
            loops = [camera.view(np.array(loop)) for loop in face.loops]
            flat = [shapely.Polygon(camera.flat(loop)[:, :2]) for loop in loops]
            if flat[0].area < 1e-9:
                continue  # seen edge-on
            seen = shapely.make_valid(flat[0])
            for hole in flat[1:]:
                seen = seen.difference(shapely.make_valid(hole))
            seen = seen.difference(_in_front(scene, camera, loops[0], seen))
            rings = [
                r
                for polygon in shapely.get_parts(seen)
                if polygon.geom_type == "Polygon" and polygon.area > 1e-9
                for r in _rings(polygon)
            ]
            if rings:
                out.append(CutFace(instance=row.instance, rings=rings, area=face.area))
    return out


def _rings(polygon: shapely.Polygon) -> list[list[float]]:
    turned = shapely.geometry.polygon.orient(polygon)
    return [
        [round(float(v), 6) for v in np.array(ring.coords)[:-1].ravel()]
        for ring in (turned.exterior, *turned.interiors)
    ]


def _in_front(
    scene: Scene, camera: Camera, loop: NDArray[np.float64], face: shapely.Geometry
) -> shapely.Geometry:
    """What hides a flat face: all triangles of the scene, clipped to the side of its plane that is toward the
    viewer."""
    nodes = camera.view(scene.nodes)
    a = loop[0]
    normal = np.zeros(3)
    for p, q in zip(loop, np.roll(loop, -1, axis=0), strict=True):
        normal += np.cross(p - a, q - a)
    normal /= max(float(np.linalg.norm(normal)), 1e-12)
    normal *= 1.0 if normal[2] >= 0 else -1.0
    height = (nodes - a) @ normal
    height[np.abs(height) < 4e-5 * scene.diagonal] = 0.0
    flat = camera.flat(nodes)[:, :2]
    t = scene.triangles
    low_x, low_y, high_x, high_y = face.bounds
    corners = flat[t]
    near = (
        (height[t].max(1) > 0)
        & (corners[:, :, 0].max(1) > low_x)
        & (corners[:, :, 0].min(1) < high_x)
        & (corners[:, :, 1].max(1) > low_y)
        & (corners[:, :, 1].min(1) < high_y)
    )
    u, v = corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    t = t[near & (np.abs(u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0]) > 1e-9)]
    polygons = []
    for triangle in t:
        h, p = height[triangle], flat[triangle]
        if h.min() >= 0:
            polygons.append(shapely.Polygon(p))
            continue
        clipped = []
        for i in range(3):
            j = (i + 1) % 3
            if h[i] >= 0:
                clipped.append(p[i])
            if (h[i] > 0 > h[j]) or (h[i] < 0 < h[j]):
                clipped.append(p[i] + (p[j] - p[i]) * h[i] / (h[i] - h[j]))
        if len(clipped) > 2:
            polygons.append(shapely.Polygon(clipped))
    return shapely.union_all(shapely.make_valid(np.array(polygons))) if polygons else shapely.Polygon()


def closed_up(pieces: Pieces) -> None:
    """On a closed curve the last piece goes on as the first: where both are seen or both hidden they become
    one, in place."""
    c = pieces.curves
    if not len(pieces.curve):
        return
    new = np.concatenate([[True], pieces.curve[1:] != pieces.curve[:-1]])
    heads = np.flatnonzero(new)
    tails = np.concatenate([heads[1:], [len(new)]]) - 1
    turn = np.abs(np.abs(pieces.last[tails] - pieces.first[heads]) - 2 * math.pi) < 1e-7
    m = (
        (heads != tails)
        & turn
        & (c.form[pieces.curve[heads]] > 1)
        & (pieces.visible[heads] == pieces.visible[tails])
    )
    gone = tails[m]
    sign = np.sign(pieces.last[tails] - pieces.first[heads])[m]
    pieces.first[heads[m]] = pieces.first[gone] - sign * 2 * math.pi
    keep = np.ones(len(new), bool)
    keep[gone] = False
    for name in ("curve", "begin", "end", "first", "last", "visible", "depth"):
        setattr(pieces, name, getattr(pieces, name)[keep])
