"""Which features what was picked belongs to."""

import numpy as np

from drafting.annotation.measuring.measure import LostPick
from drafting.context import Context
from drafting.document import Pick
from drafting.errors import SizeError
from drafting.features.recognized import Features, features
from drafting.model.model import InstanceFacts, PartFacts


def of_part(pick: Pick, context: Context) -> tuple[Features, PartFacts, InstanceFacts]:
    """Features of the part that was picked, the part, and its instance. Raises SizeError."""
    found = context.facts.part_of(pick.instance)
    if found is None:
        raise LostPick("The part this callout was put on is no longer in the model.")
    instance, part = found
    known = features(part)
    if not known.known:
        raise SizeError(
            "The features of this model are not recognized yet; a worker is at it. Try again in a moment."
        )
    if part.edge(pick.source) is None and part.face(pick.source) is None:
        raise LostPick("What this callout was put on is no longer in the model.")
    return known, part, instance


def faces_at(pick: Pick, part: PartFacts) -> list[str]:
    """The faces that were picked, or that meet in the edge that was."""
    edge = part.edge(pick.source)
    return edge.faces if edge else [pick.source]


def holes_at(pick: Pick, context: Context) -> tuple[Features, list[int]]:
    """Features of the part that was picked, and which of its holes the pick is on. Raises SizeError."""
    known, part, _ = of_part(pick, context)
    return known, known.holes_at(faces_at(pick, part))


def meant(pick: Pick, known: Features, numbers: list[int], context: Context) -> int:
    """Of several holes that share what was picked, the one that its circle goes round."""
    found = context.facts.part_of(pick.instance)
    edge = found[1].edge(pick.source) if found else None
    if edge is None or edge.axis is None or len(numbers) == 1:
        return numbers[0]
    axis = np.array(edge.axis)
    return max(numbers, key=lambda n: abs(float(axis @ np.array(known.holes[n].direction))))
