"""Shafts: round walls with their material inside, by steps along their axis."""

import math
from dataclasses import dataclass

from drafting.features.body import Body
from drafting.features.walls import walls

OPEN = math.radians(90)
"""The widest gap in a wall, as of a keyway or a flat, that still leaves a shaft."""


@dataclass(frozen=True)
class Shaft:
    """A cylinder that stands out: its diameter and length, mm; the middle of its first end, in the part's
    frame, and the direction to the other one."""

    diameter: float
    length: float
    start: tuple[float, float, float]
    direction: tuple[float, float, float]
    faces: tuple[str, ...]
    thread: str = ""
    thread_length: float | None = None
    process: str = ""
    """How it is finished, as "ground" or "knurled RAA 0.8"."""


def shafts(body: Body) -> list[Shaft]:
    """All shafts of a part, those of an axis in their order along it."""
    threads = {t.face: t for t in body.part.threads if not t.internal}
    processes = {p.face: p.process for p in body.part.processes}
    out = []
    for axis in body.axes:
        for wall in walls(body, axis, hollow=False):
            if wall.kind != "cylinder" or wall.gap > OPEN:
                continue
            start, way = ((v + 0.0).tolist() for v in (axis.at(wall.t0), axis.direction))
            said = next((threads[n] for n in sorted(wall.names) if n in threads), None)
            out.append(
                Shaft(
                    2 * wall.r0,
                    wall.t1 - wall.t0,
                    (start[0], start[1], start[2]),
                    (way[0], way[1], way[2]),
                    tuple(sorted(wall.names)),
                    said.designation if said else "",
                    said.length if said else None,
                    next((processes[n] for n in sorted(wall.names) if n in processes), ""),
                )
            )
    return out
