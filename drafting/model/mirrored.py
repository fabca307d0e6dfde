"""Mirrored parts: the other hand of a part is a part of its own."""

from typing import Any

import numpy as np

from drafting.kernel import solids
from drafting.kernel.solids import NamedSolid
from drafting.kernel.topology import describe
from drafting.model.model import Matrix, PartFacts
from drafting.model.names import part_facts

ACROSS = np.diag([-1.0, 1.0, 1.0, 1.0])
"""Mirrors in a part's own yz plane."""


def is_mirrored(matrix: Any) -> bool:
    """Whether a 4 x 4 matrix turns a right hand into a left one."""
    return float(np.linalg.det(np.array(matrix)[:3, :3])) < 0


def other_hand(shape: Any, part: PartFacts, named: bool) -> tuple[Any, PartFacts]:
    """A part mirrored in its own yz plane, under its name and "mirrored", without its number. named: its
    faces bear names of a recipe."""
    solid = solids.moved(
        NamedSolid(shape, list(zip(describe(shape).face_shapes, [f.name for f in part.faces], strict=True))),
        ACROSS.tolist(),
    )
    base = {f.name.partition("/")[0] for f in part.faces if f.feature == f.name}
    kinds = {feature: "extrude" if feature in base else "" for feature in part.features}
    made = part_facts(
        solid.shape,
        part.name,
        solids.face_names(solid) if named else None,
        kinds if named else None,
        measured=False,
    )
    keep = {"name", "number", "low", "high", "faces", "edges", "features"}
    said = {name: getattr(part, name) for name in type(part).model_fields if name not in keep}
    return solid.shape, made.model_copy(update={**said, "name": f"{part.name}, mirrored".removeprefix(", ")})


def unmirrored(matrix: Any) -> Matrix:
    """The rigid matrix that places the other hand where a mirroring matrix places the part."""
    rows: Matrix = (np.array(matrix, float) @ ACROSS).tolist()
    return rows
