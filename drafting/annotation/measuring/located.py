"""Whether basic sizes say where what a position or a profile is of should be: from each of its datums, along
what that datum holds."""

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from drafting.annotation.measuring.basic_ties import ALONG, Ties, Unlocated, basic_ties, leads
from drafting.annotation.measuring.contacts import side_of
from drafting.annotation.measuring.frames import FrameRow
from drafting.annotation.measuring.statement import rounded, signless
from drafting.annotation.measuring.toleranced import Feature, datums, equal_faces
from drafting.annotation.measuring.turned_to import turned
from drafting.context import Context
from drafting.document import AnnotationBase
from drafting.features.freedom import Situation, held
from drafting.views.frame import Array

NEAR = 1e-4
MOST = 60
"""Members of a pattern that are looked at."""


def unlocated(
    row: FrameRow, feature: Feature, size: AnnotationBase | None, context: Context
) -> list[Unlocated]:
    """What basic sizes do not say of where a feature, and all that its size says it is one of, should be. One
    for each datum and distance or angle."""
    if row.characteristic not in ("position", "profile of a surface", "profile of a line"):
        return []
    if not row.datums or not feature.faces or feature.situation.form == "any":
        return []
    members = list(_members(feature, size, context))[:MOST]
    ties = basic_ties(context)
    out: dict[tuple[object, ...], Unlocated] = {}
    before: list[list[Feature]] = []
    for d in row.datums:
        found = [x for x in datums(d.single, context) if x is not None]
        for datum in found[:1]:
            held_before = [[s for x in group for s in x.situations] for group in before]
            for m in members:
                for need in _needs(d.letters, datum, m):
                    if not _is_held(need.direction, held_before) and not _is_said(need, datum, m, ties):
                        about = datum.situation.form == "axis"
                        way = () if about else rounded(signless(need.direction))
                        key = (d.letters, way, round(need.distance, 3))
                        known = out.setdefault(key, need)
                        if about:
                            out[key] = replace(known, ring=(*known.ring, need.feature))
            for angle in turned(d.letters, datum, members, before, ties, context):
                out[d.letters, "angle"] = angle
        before.append(found)
    return list(out.values())


def _is_held(direction: Array, before: list[list[Situation]]) -> bool:
    """Whether the datums before hold a shift along a direction, so that the next one only turns."""
    return bool(before) and not held(before, np.array([direction] * 3)).shifts[0]


def _members(feature: Feature, size: AnnotationBase | None, context: Context) -> Iterator[Feature]:
    """The feature, and those equal to it that its size says there are."""
    yield feature
    found = context.facts.part_of(feature.instance)
    face = found[1].face(feature.faces[0]) if found else None
    if size is None or found is None or face is None or feature.on != "axis":
        return
    for other in equal_faces(size, face, found[1]):
        side = side_of(found[0], other)
        where = Situation("axis", side.at, side.direction)
        yield Feature(feature.instance, (other.name,), "axis", where, feature.size)


def _needs(letters: str, datum: Feature, m: Feature) -> Iterator[Unlocated]:
    """Distances that a datum asks for: along the normal of a plane that lies along what is located, between
    axes that run the same way."""
    a, b = datum.situation, m.situation
    ends = (datum.instance, datum.faces[0] if datum.faces else ""), (m.instance, m.faces[0])
    off = np.asarray(b.at) - np.asarray(a.at)
    if a.form == "plane":
        along = abs(float(a.direction @ b.direction))
        lies = along > ALONG if b.form == "plane" else (b.form == "point" or along < 1e-6)
        distance = abs(float(off @ a.direction))
        if lies and distance > NEAR:
            yield Unlocated(letters, np.asarray(a.direction), distance, *ends)
    elif a.form == "axis" and b.form == "axis" and abs(float(a.direction @ b.direction)) > ALONG:
        across = off - a.direction * float(off @ a.direction)
        distance = float(np.linalg.norm(across))
        if distance > NEAR:
            yield Unlocated(letters, across / distance, distance, *ends)


def _is_said(need: Unlocated, datum: Feature, m: Feature, ties: Ties) -> bool:
    """Whether basic sizes lead from a datum to what it locates, one after another."""
    a, b = datum.situation, m.situation
    if a.form == "axis":
        for r in ties.rings:
            if abs(r.value / 2 - need.distance) < NEAR * 10 and r.is_about(a.at, a.direction):
                return True
        across = [np.array(d) for d in ties.levels if abs(float(np.array(d) @ a.direction)) < 1e-6]
        ways = [d for d in across if leads(d, a, b, ties)]
        if any(abs(float(d @ need.direction)) > ALONG for d in ways):
            return True
        return any(abs(float(d @ e)) < ALONG for d in ways for e in ways)  # two that cross say all of it
    return leads(signless(need.direction), a, b, ties)
