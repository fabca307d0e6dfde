"""What the sizes of a drawing say of its part, as rows over the part's numbers."""

import math
from collections.abc import Callable, Collection, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from drafting.annotation import registry
from drafting.annotation.kinds import chamfer, hole_table
from drafting.annotation.kinds.chamfer import ChamferDimension
from drafting.annotation.kinds.hole_table import HoleTable
from drafting.annotation.review.redundancy import MEASURED_BY
from drafting.completeness.moved import Mover
from drafting.completeness.parameters import Row
from drafting.context import Context
from drafting.document import Dimension, Pick
from drafting.errors import DraftingError
from drafting.memory import Memory, digest
from drafting.model.model import Facts, PartFacts

STEP = 1e-7
"""How much a number is changed, in halves of the part's diagonal or radians."""
SMALL = 1e-5
"""What a size changes by, for each unit of a number, that is nothing."""
BESIDES = ("added", "underlay")
_ROWS: Memory[list[Row]] = Memory(20_000)


@dataclass(frozen=True)
class Told:
    """What an annotation says: rows of the part's numbers; and of which faces. why: in a sentence, where it
    cannot be told what it says."""

    id: str
    rows: tuple[Row, ...]
    faces: frozenset[str] = frozenset()
    why: str = ""


Measure = Callable[[Facts], list[float]]
"""What is measured on facts of the model: mm or radians. It raises SizeError."""


def of_size(size: Dimension, context: Context, mover: Mover) -> Told:
    """What a size says by itself, measured again with each number changed. Sizes of added lines and of
    underlays say nothing of the model."""
    if any(p.role in BESIDES for p in size.picks):
        return Told(size.id, ())
    is_chamfer = isinstance(size, ChamferDimension)
    faces, edges = picked(size.picks, mover.part, is_chamfer)
    if not faces and not edges:
        return Told(size.id, ())
    angles = [False, True] if is_chamfer else [size.kind == "angle"]
    key = (context.seen, digest(size.model_dump_json(include=MEASURED_BY)))
    measure = measured_by(size, context)
    work = partial(_differentiated, measure, angles, context.facts, mover, faces, edges)
    try:
        rows = _ROWS.recall(context.facts, key, work)
    except DraftingError as error:
        return Told(size.id, (), frozenset(faces), str(error))
    return Told(size.id, tuple(rows), frozenset(faces))


def of_table(table: HoleTable, context: Context, mover: Mover) -> Told:
    """Where the holes of a table lie from its origin. What it says of each hole is for its features."""
    if any(p.role in BESIDES for p in table.picks):
        return Told(table.id, ())
    faces, edges = picked(table.picks, mover.part, False)

    def measure(facts: Facts) -> list[float]:
        there = Context(context.drawing, context.sheet, facts, context.view)
        return [v for place in hole_table.places(table, there) for v in place]

    key = (context.seen, digest(table.model_dump_json(include={"kind", "anchor"})))
    angles = [False] * 2 * (len(table.picks) - 1)
    work = partial(_differentiated, measure, angles, context.facts, mover, faces, edges)
    try:
        rows = _ROWS.recall(context.facts, key, work)
    except DraftingError as error:
        return Told(table.id, (), frozenset(faces), str(error))
    return Told(table.id, tuple(rows), frozenset(faces))


def picked(picks: Sequence[Pick], part: PartFacts, is_chamfer: bool) -> tuple[set[str], set[str]]:
    """The faces and edges that a size may depend on: what was picked, its faces, and the edges beside it."""
    faces: set[str] = set()
    edges: set[str] = set()
    for pick in picks:
        for source in [pick.source, pick.other.source] if pick.other else [pick.source]:
            edge, face = part.edge(source), part.face(source)
            if edge is not None:
                edges.add(source)
                faces |= set(edge.faces)
            elif face is not None:
                faces.add(source)
    ends = [part.edge(name) for name in edges]
    around = {n for e in ends if e for n in e.faces} | {p.source for p in picks if p.role == "cut"}
    if is_chamfer or any(p.role == "cut" for p in picks):
        edges |= {e.name for e in part.edges if around & set(e.faces)}
        faces |= {n for name in edges if (found := part.edge(name)) for n in found.faces}
    return faces, edges


def _differentiated(
    measure: Measure,
    angles: Sequence[bool],
    facts: Facts,
    mover: Mover,
    faces: Collection[str],
    edges: Collection[str],
) -> list[Row]:
    rows: list[Row] = [{} for _ in measure(facts)]
    crossing = mover.p.crossing()
    for number in sorted(mover.numbers(faces, edges)):
        try:
            after, before = (measure(mover.facts(facts, number, s, faces, edges)) for s in (STEP, -STEP))
        except DraftingError:
            if number not in crossing:
                raise
            continue  # out of the plane it is seen in, where its size changes in second order only
        for row, a, b, is_angle in zip(rows, after, before, angles, strict=True):
            rate = (a - b) / (2 * STEP) / (1.0 if is_angle else mover.p.solid.half)
            if abs(rate) > SMALL:
                row[number] = rate
    return rows


def measured_by(size: Dimension, context: Context) -> Measure:
    """What measures a size on other facts of the model; of a chamfer leg and angle."""

    def measured(facts: Facts) -> list[float]:
        there = Context(context.drawing, context.sheet, facts, context.view)
        if isinstance(size, ChamferDimension):
            legs = chamfer.legs_of(size.picks[0], there).legs
            return [legs[size.leg], math.atan2(legs[1 - size.leg], legs[size.leg])]
        return [registry.value(size, there)]

    return measured


def parallel(a: np.ndarray, b: np.ndarray) -> bool:  # type: ignore[type-arg]
    """Whether two rows say the same number, or a multiple of it."""
    n = float(np.linalg.norm(a)) * float(np.linalg.norm(b))
    return n > 1e-12 and abs(abs(float(a @ b)) / n - 1) < 1e-6
