"""Outside measures for the visibility engine: the kernel's own hidden lines as lengths, and an exact judge of
single places."""

import math
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from OCP.BRep import BRep_Builder
from OCP.BRepAdaptor import BRepAdaptor_Curve
from OCP.BRepClass3d import BRepClass3d_SolidClassifier
from OCP.GCPnts import GCPnts_QuasiUniformDeflection
from OCP.gp import gp_Ax2, gp_Dir, gp_Lin, gp_Pnt
from OCP.HLRAlgo import HLRAlgo_Projector
from OCP.HLRBRep import HLRBRep_Algo, HLRBRep_HLRToShape
from OCP.HLRBRep import HLRBRep_TypeOfResultingEdge as Result
from OCP.IntCurvesFace import IntCurvesFace_ShapeIntersector
from OCP.Standard import Standard_Failure
from OCP.TopAbs import TopAbs_ShapeEnum as Kind
from OCP.TopAbs import TopAbs_State as State
from OCP.TopExp import TopExp_Explorer
from OCP.TopoDS import TopoDS, TopoDS_Compound

from drafting.kernel.facets import facet
from drafting.kernel.topology import subshapes
from drafting.views.orientation import Orientation
from drafting.views.visibility.camera import Camera
from drafting.views.visibility.engine import Pieces, visible_pieces
from drafting.views.visibility.part import SMOOTH
from drafting.views.visibility.scene import Scene

Floats = NDArray[np.float64]


def scene_of(shapes: Sequence[Any], matrices: Sequence[Floats] | None = None) -> Scene:
    """A scene of shapes, each placed by its matrix."""
    parts = []
    for shape in shapes:
        nodes = np.array([(p.X(), p.Y(), p.Z()) for p in _vertices(shape)])
        parts.append(facet(shape, float(np.linalg.norm(np.ptp(nodes, axis=0))) if len(nodes) else 50.0))
    return Scene(parts, [(i, np.eye(4) if matrices is None else matrices[i]) for i in range(len(parts))])


def _vertices(shape: Any) -> list[Any]:
    from OCP.Bnd import Bnd_Box
    from OCP.BRepBndLib import BRepBndLib

    box = Bnd_Box()
    BRepBndLib.Add_s(shape, box)
    return [box.CornerMin(), box.CornerMax()]


def camera_of(scene: Scene, o: Orientation) -> Camera:
    return Camera(o.matrix(), (scene.low.min(0) + scene.high.max(0)) / 2)


def ours(scene: Scene, o: Orientation) -> Pieces:
    return visible_pieces(scene, camera_of(scene, o))


def polylines(p: Pieces, visible: bool) -> list[Floats]:
    """Pieces (no tangent edges) as points (n, 3) in view coordinates, on their exact curves where they have
    one."""
    out = []
    for i in np.flatnonzero(p.visible == visible):
        k = p.curve[i]
        if p.curves.kind[k] != SMOOTH:
            out.append(piece_points(p, int(i)))
    return out


def piece_points(p: Pieces, i: int, count: int = 65) -> Floats:
    c, k = p.curves, int(p.curve[i])
    if c.form[k]:
        t = np.linspace(p.first[i], p.last[i], 2 if c.form[k] == 1 else count)
        e = c.exact[k]
        return np.asarray(e[0] + np.outer(np.cos(t), e[1]) + np.outer(np.sin(t), e[2]) + np.outer(t, e[3]))
    inner = np.arange(math.floor(p.begin[i]) + 1, math.ceil(p.end[i]))
    ends = [_at(c.points, p.begin[i]), _at(c.points, p.end[i])]
    return np.concatenate([ends[:1], c.points[inner], ends[1:]])


def _at(points: Floats, place: float) -> Floats:
    n = min(int(place), len(points) - 2)
    return np.asarray(points[n] + (place - n) * (points[n + 1] - points[n]))


def kernel_lines(
    shape: Any, o: Orientation, middle: Floats, deflection: float = 1e-3
) -> dict[bool, list[Floats]]:
    """The kernel's exact hidden-line algorithm: polylines (n, 2) in the view's plane, visible and hidden,
    sharp edges and outlines."""
    algorithm = HLRBRep_Algo()
    algorithm.Add(shape, 0)
    algorithm.Projector(HLRAlgo_Projector(gp_Ax2(gp_Pnt(0, 0, 0), gp_Dir(*o.toward), gp_Dir(*o.right))))
    algorithm.Update()
    algorithm.Hide()
    result = HLRBRep_HLRToShape(algorithm)
    rows = o.matrix()[:2]
    out: dict[bool, list[Floats]] = {True: [], False: []}
    for visible in (True, False):
        for kind in (Result.HLRBRep_Sharp, Result.HLRBRep_OutLine):
            compound = result.CompoundOfEdges(kind, visible, True)
            if compound is None or compound.IsNull():
                continue
            explorer = TopExp_Explorer(compound, Kind.TopAbs_EDGE)
            while explorer.More():
                curve = BRepAdaptor_Curve(TopoDS.Edge(explorer.Current()))
                explorer.Next()
                points = GCPnts_QuasiUniformDeflection(curve, deflection)
                if points.IsDone() and points.NbPoints() > 1:
                    p = np.array(
                        [
                            (q.X(), q.Y(), q.Z())
                            for q in (points.Value(i) for i in range(1, points.NbPoints() + 1))
                        ]
                    )
                    out[visible].append((p - middle) @ rows.T)
    return out


def merged(lines: Sequence[Floats], tolerance: float = 0.0) -> shapely.Geometry:
    """Union of polylines as one geometry: what lies on each other counts once."""
    kept = [shapely.LineString(p[:, :2]) for p in lines if np.hypot(*np.ptp(p[:, :2], axis=0)) > 1e-6]
    return shapely.unary_union(kept) if kept else shapely.GeometryCollection()


def missing(a: Sequence[Floats], b: Sequence[Floats], within: float = 0.03, step: float = 0.1) -> Floats:
    """Places on a (n, 2), one every `step` mm, farther than `within` mm from all of b."""
    places = []
    for p in a:
        d = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(p[:, :2], axis=0), axis=1))])
        if d[-1] < 2 * step:
            continue
        s = np.arange(step, d[-1] - step / 2, step)
        places.append(np.stack([np.interp(s, d, p[:, k]) for k in range(2)], 1))
    if not places:
        return np.zeros((0, 2))
    all_places = np.concatenate(places)
    lines = [shapely.LineString(p[:, :2]) for p in b if len(p) > 1]
    if not lines:
        return all_places
    tree = shapely.STRtree(lines)
    points = shapely.points(all_places)
    found, _ = tree.query(points, predicate="dwithin", distance=within)
    far = np.ones(len(points), bool)
    far[found] = False
    return all_places[far]


class Judge:
    """The exact judge: a place is seen when a ray of the kernel from beside it toward the viewer meets no
    face and does not begin inside a body."""

    def __init__(self, shapes: Sequence[Any], o: Orientation, middle: Floats) -> None:
        self.matrix, self.middle, self.toward = o.matrix(), middle, o.toward
        self.solids = [
            BRepClass3d_SolidClassifier(s) for shape in shapes for s in subshapes(shape, Kind.TopAbs_SOLID)
        ]
        self.rays = []
        for shape in shapes:
            ray = IntCurvesFace_ShapeIntersector()
            ray.Load(shape, 1e-6)
            self.rays.append(ray)

    def seen(self, place: Floats, around: float = 0.01) -> bool:
        """place: (3,) in view coordinates. Eight starts about it, a little nearer to the viewer."""
        return any(
            self._free(place + around * np.array([math.cos(a), math.sin(a), 0.5]))
            for a in np.arange(8) * math.pi / 4 + 0.1
        )

    def _free(self, place: Floats) -> bool:
        p = gp_Pnt(*(place @ self.matrix + self.middle).tolist())
        for solid in self.solids:
            solid.Perform(p, 1e-7)
            if solid.State() == State.TopAbs_IN:
                return False
        for ray in self.rays:
            try:
                ray.Perform(gp_Lin(p, gp_Dir(*self.toward)), 0.0, 1e5)
            except Standard_Failure:  # the kernel has no answer here; seven other starts are asked
                return False
            if ray.NbPnt():
                return False
        return True


def judged_wrong(p: Pieces, judge: Judge, shortest: float = 0.3) -> tuple[int, list[tuple[int, Floats]]]:
    """How many places on pieces were judged, and those where the judge disagrees: piece and place. Hidden
    places under visible lines are not asked about; on free curves only nodes are, since only they lie on the
    exact curve."""
    seen = [piece_points(p, int(i), 513) for i in np.flatnonzero(p.visible)]
    tree = shapely.STRtree([shapely.LineString(q[:, :2]) for q in seen]) if seen else None
    count, wrong = 0, []
    for i in range(len(p.curve)):
        if p.curves.kind[p.curve[i]] == SMOOTH:
            continue
        for place in _asked(p, i, shortest):
            if (
                not p.visible[i]
                and tree is not None
                and len(tree.query(shapely.Point(place[:2]), predicate="dwithin", distance=0.03))
            ):
                continue
            count += 1
            if judge.seen(place) != p.visible[i]:
                wrong.append((i, place))
    return count, wrong


def _asked(p: Pieces, i: int, shortest: float) -> list[Floats]:
    k = int(p.curve[i])
    q = piece_points(p, i)
    d = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(q[:, :2], axis=0), axis=1))])
    if d[-1] < shortest:
        return []
    if p.curves.form[k] == 0:
        inner = np.flatnonzero((d > 0.1) & (d < d[-1] - 0.1))
        inner = inner[(inner > 0) & (inner < len(q) - 1)]
        return [q[j] for j in inner[:: max(1, len(inner) // 3)]]
    if p.curves.form[k] == 1:
        return [q[0] + (q[1] - q[0]) * f for f in (0.2, 0.5, 0.8)]
    t = p.first[i] + (p.last[i] - p.first[i]) * np.array([0.2, 0.5, 0.8])
    e = p.curves.exact[k]
    return [e[0] + e[1] * math.cos(a) + e[2] * math.sin(a) for a in t]


def unsettled(p: Pieces, judge: Judge, places: Floats, visible: bool, within: float = 0.08) -> list[Floats]:
    """Places (n, 2) where only the kernel has a line that is seen (`visible`), and the judge does not take
    our side: no piece of ours is there at all, or the judge sees one that we hide."""
    out = []
    points = [(i, piece_points(p, int(i))) for i in np.flatnonzero(p.visible != visible)]
    lines = [
        shapely.LineString(q[:, :2]) if np.hypot(*np.ptp(q[:, :2], axis=0)) > 0 else shapely.Point(q[0, :2])
        for _, q in points
    ]
    tree = shapely.STRtree(lines)
    for place in places:
        found = tree.query(shapely.Point(place), predicate="dwithin", distance=within)
        verdicts = []
        for k in found:
            q = points[int(k)][1]
            d = np.concatenate([[0], np.cumsum(np.linalg.norm(np.diff(q[:, :2], axis=0), axis=1))])
            s = lines[int(k)].project(shapely.Point(place)) if d[-1] else 0.0
            verdicts.append(
                judge.seen(np.array([np.interp(s, d, q[:, c]) if d[-1] else q[0, c] for c in range(3)]))
            )
        if not verdicts or any(v == visible for v in verdicts):
            out.append(place)
    return out


@dataclass
class Census:
    """What a view of bodies shows, beside the exact judge: how many places were asked about; places shown or
    hidden wrongly; places of lines that the kernel alone shows, where the judge does not take our side."""

    asked: int
    wrong: list[Floats]
    lost: list[Floats]


def compound_of(shapes: Sequence[Any]) -> Any:
    """All bodies as one shape."""
    out, builder = TopoDS_Compound(), BRep_Builder()
    builder.MakeCompound(out)
    for shape in shapes:
        builder.Add(out, shape)
    return out


def census(shapes: Sequence[Any], o: Orientation, scene: Scene | None = None) -> Census:
    """The census of one view. Tolerances go by the bodies' extents: 0.1 mm on a body of 60. Nothing is held
    against a place near which something only touches: the judge's own answer hangs on a tenth there."""
    scene = scene or scene_of(shapes)
    camera, p = camera_of(scene, o), ours(scene, o)
    unit = scene.diagonal / 60
    judge = Judge(shapes, o, camera.middle)
    asked, wrong = judged_wrong(p, judge, 0.3 * unit)
    settled = [place for i, place in wrong if judge.seen(place, 0.1 * unit) != p.visible[i]]
    drawn = [piece_points(p, int(i), 513)[:, :2] for i in np.flatnonzero(p.visible)]
    kernel = kernel_lines(compound_of(shapes), o, camera.middle, 1e-3 * unit)
    within = max(0.06 * unit, 2 * float(np.max(scene.linear)))  # outlines of free surfaces go by triangles
    alone = missing(kernel[True], drawn, within, 0.3 * unit)
    return Census(asked, settled, unsettled(p, judge, alone, True, 0.08 * unit) if len(alone) else [])


def toward(v: Floats) -> Orientation:
    """A view from a direction, upright where it can be."""
    up = np.array([0.0, 0.0, 1.0]) if abs(v[2]) < 0.9 else np.array([0.0, 1.0, 0.0])
    right = np.cross(up, v)
    right /= np.linalg.norm(right)
    return Orientation(right=right.tolist(), up=np.cross(v, right).tolist())
