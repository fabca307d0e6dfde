"""Hatching of cut faces and of regions picked by hand: which pattern, in what direction, and its lines."""

import math
from collections.abc import Iterator, Sequence

import numpy as np
import shapely
import shapely.affinity

from drafting.document import Drawing
from drafting.errors import CommandError
from drafting.ink.elements import Element, Polyline
from drafting.ink.hatch import hatched, spread_angles, strokes
from drafting.model.model import Facts
from drafting.standards import patterns
from drafting.views.geometry import ViewGeometry
from drafting.views.hatch_ends import on_curves
from drafting.views.present import region_of
from drafting.views.regions import region_at
from drafting.views.view import View

MOST_STROKES = 100_000.0
"""Of the hatching of one view; a region that would take it beyond is left out, and the sheet says so. The
densest of our own patterns, wood, takes 77,000 for a square meter."""


def cut_regions(geometry: ViewGeometry, scale: float) -> tuple[list[int], list[shapely.Geometry]]:
    """Instances with cut faces, and the cut region of each, paper mm."""
    by_instance: dict[int, list[shapely.Geometry]] = {}
    for face in geometry.cut_faces:
        by_instance.setdefault(face.instance, []).append(
            shapely.affinity.scale(region_of(face), scale, scale, origin=(0, 0))
        )
    numbers = sorted(by_instance)
    return numbers, [shapely.union_all(shapely.make_valid(np.array(by_instance[n]))) for n in numbers]


def pattern_of(view: View, instance: int, facts: Facts, drawing: Drawing) -> str:
    """The pattern an instance is hatched in: the view's, else that of its material."""
    part = facts.parts[facts.instances[instance].part]
    return view.hatch_pattern or patterns.for_material(
        drawing.profile.standard, part.material or facts.material
    )


def hatch_angles(
    view: View, geometry: ViewGeometry, facts: Facts, drawing: Drawing, scale: float
) -> dict[int, float]:
    """The direction of the hatching of each cut instance, radians."""
    numbers, regions = cut_regions(geometry, scale)
    out = {}
    for number, (angle, _) in zip(numbers, spread_angles(regions), strict=True):
        families = patterns.families(pattern_of(view, number, facts, drawing), drawing.patterns)
        if families:
            out[number] = math.radians(families[0].angle + angle)
    return out


def hatch_ink(
    view: View,
    geometry: ViewGeometry,
    facts: Facts,
    drawing: Drawing,
    scale: float,
    keep_off: Sequence[shapely.Geometry] = (),
) -> list[Element]:
    """Hatching of the cut faces, each part by its material and turned against its neighbors, and of regions
    picked by hand; kept off text."""
    out: list[Element] = []
    regions = cut_regions(geometry, scale)[1]
    webs = [shapely.Polygon([(p.x * scale, p.y * scale) for p in w.outline]) for w in view.left_whole]
    for web in webs:
        for region in regions:
            sides = web.boundary.intersection(region.buffer(-0.05))
            out += [
                Polyline(tuple(line.coords), "visible")
                for line in shapely.get_parts(shapely.line_merge(sides))
                if line.length > 0.1
            ]
    off = shapely.union_all([*keep_off, *webs]) if keep_off or webs else None
    left = MOST_STROKES
    lines: list[Element] = []
    for region, families, angle, spacing in _hatchings(view, geometry, facts, drawing, scale):
        wanted = strokes(region, families, spacing)
        if wanted <= left:
            left -= wanted
            lines += hatched(region.difference(off) if off else region, families, angle, spacing)
    return out + on_curves(lines, geometry.curves, scale)


def dense_hatching(view: View, geometry: ViewGeometry, facts: Facts, drawing: Drawing, scale: float) -> bool:
    """Whether `hatch_ink` leaves out some of a view's regions, since their patterns are too dense."""
    hatchings = _hatchings(view, geometry, facts, drawing, scale)
    return (
        sum(strokes(region, families, spacing) for region, families, _, spacing in hatchings) > MOST_STROKES
    )


def _hatchings(
    view: View, geometry: ViewGeometry, facts: Facts, drawing: Drawing, scale: float
) -> Iterator[tuple[shapely.Geometry, Sequence[patterns.Family], float, float]]:
    """Regions of a view in paper mm, and the lines, angle in degrees and spacing of their hatching."""
    numbers, regions = cut_regions(geometry, scale)
    for number, region, (angle, spacing) in zip(numbers, regions, spread_angles(regions), strict=True):
        small = 0.55 if region.area < 60 else 1.0
        yield (
            region,
            patterns.families(pattern_of(view, number, facts, drawing), drawing.patterns),
            angle,
            spacing * small,
        )
    size = max(geometry.high[0] - geometry.low[0], geometry.high[1] - geometry.low[1])
    for hatch in view.hatches:
        try:
            region = region_at(geometry.curves, (hatch.at.x, hatch.at.y), view.hidden_lines, size)
        except CommandError:
            continue
        region = shapely.affinity.scale(region, scale, scale, origin=(0, 0))
        yield region, patterns.families(hatch.pattern, drawing.patterns), hatch.angle, hatch.spacing
