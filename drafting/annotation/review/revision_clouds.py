"""Where revision clouds go: about what differs between two states of a sheet, one about what is together."""

from collections.abc import Callable, Collection

import shapely

from drafting.annotation.kinds.revision_cloud import RevisionCloud
from drafting.data import Point
from drafting.document import OnSheet
from drafting.ink.elements import Group, SheetInk
from drafting.ink.overlay import overlaid
from drafting.ink.shapes import boxes

APART = 9.0
"""What is no further apart is in one cloud, mm of paper."""
ROOM = 3.0
"""Between a cloud and what it is about, mm."""


def clouds_about(
    before: SheetInk, after: SheetInk, mark: str, new_id: Callable[[], str], without: Collection[str] = ()
) -> list[RevisionCloud]:
    """Clouds about what is new or gone, apart from the frame with its title block. without: ids of what is no
    change itself, as the clouds that are there."""
    found = overlaid(_drawn(before, without), _drawn(after, without))
    places = [g.envelope.buffer(APART / 2) for g in boxes([*found.gone, *found.new])]
    out = []
    for part in _merged(places):
        x0, y0, x1, y1 = part.bounds
        shrink = APART / 2 - ROOM
        out.append(
            RevisionCloud(
                id=new_id(),
                anchor=OnSheet(),
                position=Point(x=round((x0 + x1) / 2, 2), y=round((y0 + y1) / 2, 2)),
                width=round(max(x1 - x0 - 2 * shrink, 4.0), 2),
                height=round(max(y1 - y0 - 2 * shrink, 4.0), 2),
                mark=mark,
            )
        )
    return out


def _drawn(ink: SheetInk, without: Collection[str]) -> SheetInk:
    kept: list[Group] = [g for g in ink.groups if g.kind != "frame" and g.id not in without]
    return SheetInk(ink.width, ink.height, kept)


def _merged(places: list[shapely.Geometry]) -> list[shapely.Geometry]:
    """Boxes, those that touch as one, until none does."""
    now = places
    while True:
        joined = [g.envelope for g in shapely.get_parts(shapely.union_all(now))] if now else []
        if len(joined) == len(now):
            return sorted(joined, key=lambda g: g.bounds)
        now = joined
