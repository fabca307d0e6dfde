"""Completeness of parts that others wrote: the same numbers in every disguise, free-form faces left to the
model where a note says so."""

from pathlib import Path

import pytest

from drafting.annotation.kinds.note import Note
from drafting.annotation.placing.rows import NOWHERE
from drafting.completeness.verdict import PartNumbers, verdict
from drafting.document import Drawing, OnSheet, Point, Sheet
from drafting.model.step import read_model
from drafting.standards.profile import ISO_MM
from drafting.views.orientation import PRINCIPAL
from drafting.views.view import View
from tests.core.conftest import STEP_FILES
from tests.core.disguises import disguised


@pytest.mark.parametrize(("name", "numbers"), [("screw", 11), ("t20", 17), ("linkrods", 0)])
def test_files_of_others_have_the_same_numbers_in_every_disguise(
    name: str, numbers: int, tmp_path: Path
) -> None:
    """As many whoever wrote them; free-form faces are told as such, never counted."""
    model = read_model(STEP_FILES[name], name)
    (part,) = model.facts.parts.values()
    if not numbers:
        assert PartNumbers.of(part).why_not.endswith("are free-form and carry no sizes.")
        return
    assert PartNumbers.of(part).why_not == ""
    for key in ("as it is", "of splines in halves", "elsewhere, in inches"):
        other = PartNumbers.of(disguised(next(iter(model.shapes.values())), key, tmp_path))
        assert (other.why_not, len(other.system.free)) == ("", numbers), key


@pytest.mark.parametrize(
    ("note", "is_said"),
    [
        ("Shape of free-form faces by model.", True),
        ("Contour is given by the 3D model", True),
        ("Surfaces by CAD model", True),
        ("Check by model year.", False),
        ("Shape by hand. Paint by model shop.", False),
        ("", False),
    ],
)
def test_free_faces_are_left_to_the_model_where_a_note_says_so(note: str, is_said: bool) -> None:
    """Of the rods 14 of 36 faces are free-form: the others are judged, once a note gives those."""
    model = read_model(STEP_FILES["linkrods"], "rods")
    view = View(id="v", kind="main", orientation=PRINCIPAL["top"], position=Point(x=200, y=150))
    sheet = Sheet(id="s", name="1", size="A3", views=[view])
    drawing = Drawing(
        name="x", profile=ISO_MM, projection="first", sheets=[sheet], notes=[note] if note else []
    )
    v = verdict(drawing, model.facts)
    assert bool(v.why_not) != is_said
    if is_said:
        assert (v.by_model, v.missing > 10) == (14, True)
        assert verdict(drawing.model_copy(update={"notes_off": [0]}), model.facts).why_not
        words = Note(id="n", anchor=OnSheet(), text=note, place=NOWHERE)
        noted = drawing.model_copy(
            update={"notes": [], "sheets": [sheet.model_copy(update={"annotations": [words]})]}
        )
        assert verdict(noted, model.facts).by_model == 14
