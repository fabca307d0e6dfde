"""Volumes of a model's parts, measured when it is in use already."""

from collections.abc import Callable, Mapping

from drafting.kernel.volumes import Volumes
from drafting.model.model import Model, PartFacts
from drafting.model.names import with_sides

MIRRORED = ":mirrored"
"""How the key of a part's other hand ends."""
Progress = Callable[[float, str], None]


def measured(model: Model, progress: Progress = lambda done, text: None) -> Model:
    """The model with the volumes of all its parts. Raises ModelError where the kernel crashes."""
    shapes = {key: model.shapes[key] for key, part in model.facts.parts.items() if part.is_solid}
    for key in [k for k in shapes if k.endswith(MIRRORED) and k.removesuffix(MIRRORED) in shapes]:
        del shapes[key]  # as large as its other hand
    with Volumes(shapes) as volumes:
        parts = with_volumes(_sided(model), volumes, progress)
    return Model(model.facts.model_copy(update={"parts": parts, "unmeasured": False}), model.shapes)


def _sided(model: Model) -> dict[str, PartFacts]:
    """Parts with the sides of their faces, which older facts do not tell."""
    return {
        key: part if part.sided else with_sides(part, model.shapes[key])
        for key, part in model.facts.parts.items()
    }


def with_volumes(
    parts: Mapping[str, PartFacts], volumes: Volumes, progress: Progress
) -> dict[str, PartFacts]:
    """Parts by key with their volumes, as they become known. A part and its other hand have the same."""
    out = dict(parts)
    for number, (key, part) in enumerate(parts.items()):
        progress(number / len(parts), f"measuring part {number + 1} of {len(parts)}")
        if part.is_solid:
            known = key if key in volumes else key.removesuffix(MIRRORED)
            out[key] = part.model_copy(update={"volume": volumes.of(known)})
    return out
