"""A size that is set on the drawing and changes the recipe of its model: the model's next version."""

import json
import math
import tempfile
from collections.abc import Iterator, Mapping
from pathlib import Path
from typing import Any

from drafting.annotation import registry
from drafting.child import Progress
from drafting.commands.annotations import annotation_of
from drafting.document import Dimension
from drafting.errors import DraftingError, ModelError
from drafting.model.model import Facts
from drafting.model.own_numbers import Number, numbers, with_value
from drafting.model.recipe import UNIT_MM, recipe_data
from server.drawings import store
from server.drawings.models import Drawing
from server.drawings.showing import shown_facts
from server.library import measuring, versions
from server.library.reading import FRESH, read_file

EXACT = 1e-6
SHARES = (1.0, 2.0, 0.5)
"""What a size may be of a number: itself, twice or half of it, as a diameter is of a radius."""
DIGITS = 9


def resize(drawing: Drawing, annotation: str, value: float, user: Any, progress: Progress) -> str:
    """Make the part so that a size is a value (mm or radians): the next version of its model. Returns what
    was done, in a sentence. Raises DraftingError with the reason; then nothing is kept."""
    version, facts = shown_facts(drawing)
    model = drawing.model
    if model.current().pk != version.pk:
        raise ModelError(
            f"The model has moved on to version {model.current().number}; bring the drawing along first."
        )
    if version.source_kind != "recipe":
        raise ModelError(
            f"{model} was read from {version.file_name}: its sizes are measured. Change it where it was "
            f"made, and bring the file in as its next version."
        )
    document = store.document_of(drawing)
    sheet, size = annotation_of(document, annotation)
    if not isinstance(size, Dimension):
        raise ModelError("Only a size can be set on the model.")
    before = registry.value(size, registry.context_of(document, sheet, size, facts))
    if abs(before - value) < EXACT:
        raise ModelError("The size has that value already.")
    why = ""
    with tempfile.TemporaryDirectory(prefix="moorcrest-") as name, FRESH.take() as child:
        raw = recipe_data(version.source.write_to(Path(name) / "recipe.json"))
        for n, (number, share) in enumerate(
            _candidates(raw, before, registry.size_kind(size).is_angle, size)
        ):
            progress(0.1, f"trying the {number.called}")
            folder = Path(name) / str(n)
            folder.mkdir()
            wanted = _written(raw, number, share, value)
            (folder / "changed.json").write_text(json.dumps(with_value(raw, number.key, wanted)))
            try:
                came = read_file(
                    drawing.workspace, version.file_name, folder / "changed.json", folder, child, by=user
                )
                after = came.facts()
                now = registry.value(size, registry.context_of(document, sheet, size, after))
            except DraftingError as error:
                why = why or f"With {wanted:g} for the {number.called} it does not build: {error}"
                continue
            if abs(now - value) > EXACT:
                continue
            if lost := _lost(facts, after):
                why = f"With {wanted:g} for the {number.called} the model would lose {lost}."
                continue
            versions.add(model, child, came, progress, lambda m: measuring.start(m, user))
            return f"The {number.called} is {wanted:g} in version {model.current().number} of {model}."
    raise ModelError(why or "No number of the recipe says this size by itself: it follows from others.")


def _candidates(
    raw: Mapping[str, Any], before: float, is_angle: bool, size: Dimension
) -> Iterator[tuple[Number, float]]:
    """Numbers that a size may say, those of the features it is taken on first."""
    unit = UNIT_MM[raw.get("units", "mm")]
    picked = " ".join(p.source for p in size.picks)
    found = numbers(raw)
    for share in SHARES:
        near = [
            n
            for n in found
            if n.is_angle == is_angle
            and abs(abs(n.value) * (math.pi / 180 if n.is_angle else unit) * share - before) < EXACT
        ]
        for n in sorted(near, key=lambda n: not (n.feature and n.feature in picked)):
            yield n, share


def _written(raw: Mapping[str, Any], number: Number, share: float, value: float) -> float:
    """A value in mm or radians as the recipe has its number."""
    per = math.pi / 180 if number.is_angle else UNIT_MM[raw.get("units", "mm")]
    new = round(math.copysign(value / (per * share), number.value), DIGITS)
    return int(new) if new == int(new) else new


def _lost(before: Facts, after: Facts) -> str:
    """What a model would lose, in words; empty for nothing."""
    for key, part in before.parts.items():
        now = after.parts.get(key)
        names = {f.name for f in part.faces} - ({f.name for f in now.faces} if now else set())
        if names:
            first = sorted(names)[0]
            return f"the face {first}" if len(names) == 1 else f"{len(names)} faces, as {first}"
    return ""
