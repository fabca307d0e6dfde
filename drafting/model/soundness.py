"""Whether the shapes of a model are what they ought to be: every face drawn, every body closed, and as large
by its triangles as by its surfaces. What is damaged is said, in the model's notes and on its views."""

import numpy as np

from drafting.model.model import Model, PartFacts
from drafting.views.visibility.part import FACE_B, FacetedPart
from drafting.views.visibility.part import cross as across

DIFFERS = 2e-3
"""Share of its volume by which a body and its triangles may differ, besides what these cut off."""


def checked(model: Model, faceted: dict[str, FacetedPart]) -> Model:
    """The model with what is wrong with its parts, and a note on each."""
    found = {key: flaws(part, faceted[key]) for key, part in model.facts.parts.items()}
    if not any(found.values()):
        return model
    parts = {k: p.model_copy(update={"flaws": found[k]}) for k, p in model.facts.parts.items()}
    notes = list(dict.fromkeys([*model.facts.notes, *(t for texts in found.values() for t in texts)]))
    return Model(model.facts.model_copy(update={"parts": parts, "notes": notes}), model.shapes)


def flaws(part: PartFacts, faceted: FacetedPart) -> list[str]:
    """What is wrong with a part, a sentence each."""
    name = part.name or "A part"
    blank = len(faceted.face_kind) - len(np.unique(faceted.triangle_face))
    out = []
    if blank:
        faces = "one of its faces" if blank == 1 else f"{blank} of its faces"
        out.append(f"{name} is damaged: the kernel cannot mesh {faces}, and views lack the lines of it.")
    if not part.is_solid:
        return out  # surfaces only, which is said elsewhere
    open_edges = int((faceted.edges[:, FACE_B] < 0).sum()) if len(faceted.edges) else 0
    if open_edges:
        edges = "one edge" if open_edges == 1 else f"{open_edges} edges"
        out.append(f"{name} is damaged: its body is open at {edges}.")
    if part.volume is None:
        return out
    corners = faceted.nodes[faceted.triangles]
    size = across(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    volume = abs(float((corners[:, 0] * size).sum())) / 6
    area = float(np.linalg.norm(size, axis=1).sum()) / 2
    slack = DIFFERS * part.volume + float(faceted.linear) * area
    if not blank and not open_edges and abs(volume - part.volume) > slack:
        out.append(
            f"{name} is damaged: its faces enclose {volume:.4g} mm³, and the kernel computes "
            f"{part.volume:.4g} mm³; neither its views nor its mass can be trusted."
        )
    return out
