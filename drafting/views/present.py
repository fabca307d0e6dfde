"""From derived geometry to what a view shows: one face only, clipped to a detail's outline, drawn together
over its breaks.

The result is what is drawn, hit-tested and hatched. Its coordinates are those of the view's own frame, mm at
1:1.
"""

from typing import Any

import shapely

from drafting.document import Sheet, view_scale
from drafting.errors import ViewError
from drafting.model.model import Facts
from drafting.views.clip import clipped, clipped_circle
from drafting.views.geometry import CutFace, ViewCurve, ViewGeometry, bounds
from drafting.views.interrupted import Warp, interrupted, moved
from drafting.views.view import DetailOutline, View

XY = tuple[float, float]


def presented(view: View, sheet: Sheet, facts: Facts, geometry: ViewGeometry) -> ViewGeometry:
    """What the view shows of its geometry. Raises ViewError where nothing is left."""
    curves, faces = geometry.curves, geometry.cut_faces
    if view.auxiliary and view.auxiliary.only_face:
        curves = _only_face(curves, geometry.instances, view, facts)
        if not curves:
            raise ViewError("The face this view was to show alone is not seen in it.")
    if view.detail:
        curves, faces = _detail(curves, faces, view.detail)
        if not curves:
            raise ViewError("There is nothing of the part inside the detail's outline.")
    if view.interruptions:
        warp = Warp.of(view, view_scale(sheet, view).factor)
        curves = interrupted(curves, warp)
        faces = [
            CutFace(instance=f.instance, rings=rings_of(interrupted_region(region_of(f), warp)), area=f.area)
            for f in faces
        ]
        if not curves:
            raise ViewError("The breaks of this view leave nothing of the part.")
    if curves is geometry.curves:
        return geometry
    low, high = bounds(curves)
    where = geometry.seen
    if where and view.detail:
        where = where.model_copy(
            update={"left": where.left - view.detail.center.x, "bottom": where.bottom - view.detail.center.y}
        )
    if view.interruptions or (view.auxiliary and view.auxiliary.only_face):
        where = None  # what is drawn together, or left out, is not where it was seen
    return geometry.model_copy(
        update={"curves": curves, "cut_faces": faces, "low": low, "high": high, "seen": where}
    )


def presentation_key(view: View, sheet: Sheet) -> str:
    """All that `presented` depends on besides the derived geometry."""
    parts: list[Any] = [view.detail and view.detail.model_dump_json(exclude={"border", "jagged", "leader"})]
    if view.auxiliary and view.auxiliary.only_face:
        parts += [view.auxiliary.instance, view.auxiliary.face]
    if view.interruptions:
        parts += [str(view_scale(sheet, view)), *(i.model_dump_json() for i in view.interruptions)]
    return "|".join(str(p) for p in parts)


def _only_face(curves: list[ViewCurve], instances: list[str], view: View, facts: Facts) -> list[ViewCurve]:
    a = view.auxiliary
    found = facts.part_of(a.instance) if a else None
    if a is None or found is None or a.instance not in instances:
        return []
    number = instances.index(a.instance)
    names = {e.name for e in found[1].edges if a.face in e.faces}
    return [c for c in curves if c.instance == number and c.source in names and c.role == "edge"]


def outline_polygon(d: DetailOutline) -> list[XY]:
    """A detail's outline as a polygon, in the parent's view mm (a circle as 96 sides)."""
    if d.shape == "circle":
        return [
            (float(x), float(y))
            for x, y in list(
                shapely.Point(d.center.x, d.center.y).buffer(d.radius, quad_segs=24).exterior.coords
            )[:-1]
        ]
    if d.shape == "rectangle":
        x, y, w, h = d.center.x, d.center.y, d.width / 2, d.height / 2
        return [(x - w, y - h), (x + w, y - h), (x + w, y + h), (x - w, y + h)]
    return [(p.x, p.y) for p in d.points]


def _detail(
    curves: list[ViewCurve], faces: list[CutFace], d: DetailOutline
) -> tuple[list[ViewCurve], list[CutFace]]:
    inside = (
        clipped_circle(curves, (d.center.x, d.center.y), d.radius)
        if d.shape == "circle"
        else clipped(curves, outline_polygon(d))
    )
    out = [moved(c, -d.center.x, -d.center.y) for c in inside]
    polygon = shapely.Polygon(outline_polygon(d))
    kept = []
    for f in faces:
        region = region_of(f).intersection(polygon)
        rings = rings_of(shapely.transform(region, lambda p: p - (d.center.x, d.center.y)))
        if rings:
            kept.append(CutFace(instance=f.instance, rings=rings, area=f.area))
    return out, kept


def region_of(face: CutFace) -> shapely.Geometry:
    """A cut face as a region: rings turning one way are filled, those turning the other way are holes."""
    filled: list[shapely.Polygon] = []
    holes: list[shapely.Polygon] = []
    for ring in face.rings:
        points = list(zip(ring[0::2], ring[1::2], strict=True))
        (filled if shapely.LinearRing(points).is_ccw else holes).append(shapely.Polygon(points))
    return (
        shapely.union_all(filled).difference(shapely.union_all(holes)) if holes else shapely.union_all(filled)
    )


def rings_of(region: shapely.Geometry) -> list[list[float]]:
    """Rings of a region, outer ones counterclockwise and holes clockwise."""
    out: list[list[float]] = []
    for polygon in shapely.get_parts(region):
        if polygon.geom_type == "Polygon" and polygon.area > 1e-9:
            turned = shapely.geometry.polygon.orient(polygon)
            out += [
                [v for p in list(ring.coords)[:-1] for v in p]
                for ring in (turned.exterior, *turned.interiors)
            ]
    return out


def interrupted_region(region: shapely.Geometry, warp: Warp) -> shapely.Geometry:
    """A region without the pieces left out, the rest drawn together."""
    for axis, rows in ((0, warp.x), (1, warp.y)):
        if not rows or region.is_empty:
            continue
        x0, y0, x1, y1 = region.bounds
        stops = [
            (x0, y0)[axis] - 1,
            *(v for first, last, _ in rows for v in (first, last)),
            (x1, y1)[axis] + 1,
        ]
        parts = []
        for lo, hi in zip(stops[0::2], stops[1::2], strict=True):
            if hi <= lo:
                continue
            band = shapely.box(lo, y0 - 1, hi, y1 + 1) if axis == 0 else shapely.box(x0 - 1, lo, x1 + 1, hi)
            mid = lo if lo > stops[0] else hi
            at = warp.point((mid, 0.0))[0] if axis == 0 else warp.point((0.0, mid))[1]
            shift = (at - mid, 0.0) if axis == 0 else (0.0, at - mid)
            parts.append(shapely.transform(region.intersection(band), lambda p, s=shift: p + s))  # type: ignore[misc]
        region = shapely.union_all(parts)
    return region
