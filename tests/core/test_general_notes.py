"""General notes: numbered by what is shown, broken into columns, and only those of the drawing's standard."""

import numpy as np

from drafting.commands import execute
from drafting.commands.sheets import ChangeNotes
from drafting.document import Drawing, Sheet
from drafting.ink.elements import Text
from drafting.ink.lettering import text_width
from drafting.sheet.frame import notes_ink, shown_notes
from drafting.sheet.layout import block_box, frame_box
from drafting.standards.general_notes import LIBRARY, library
from drafting.standards.profile import ISO_MM


def noted(notes: list[str], size: str = "A3", off: list[int] | None = None) -> tuple[Drawing, list[Text]]:
    sheet = Sheet(id="s", size=size)
    drawing = Drawing(
        name="x", profile=ISO_MM, projection="first", sheets=[sheet], notes=notes, notes_off=off or []
    )
    return drawing, [e for e in notes_ink(drawing, sheet) if isinstance(e, Text)]


def test_notes_are_numbered_by_what_is_shown() -> None:
    drawing, texts = noted(["First", "Second", "Third"], off=[1])
    assert [t.text for t in texts] == ["1. First", "2. Third"]
    assert shown_notes(drawing) == ["First", "Third"]
    assert texts[0].at[1] > texts[1].at[1]


def test_long_notes_go_on_under_their_first_word() -> None:
    _, texts = noted(
        ["Short", "Every edge is broken by about half a millimeter unless the drawing says " * 3]
    )
    (first, second, *rest) = texts
    assert len(rest) >= 1
    assert (first.at[0], second.at[0]) == (rest[-1].at[0] - text_width("8. ", rest[-1].height),) * 2
    assert all(
        t.at[0] + text_width(t.text, t.height) <= block_box(Sheet(id="s", size="A3")).left for t in texts
    )


def test_many_notes_stand_in_columns_and_in_order() -> None:
    _, texts = noted([f"Note of number {n}" for n in range(1, 37)])
    assert [t.text for t in texts] == [f"{n}. Note of number {n}" for n in range(1, 37)]
    lefts = [t.at[0] for t in texts]
    assert len(set(lefts)) >= 2
    assert lefts == sorted(lefts)
    box = frame_box(Sheet(id="s", size="A3"))
    assert max(t.at[1] for t in texts) < box.bottom + 0.6 * box.height


def test_order_and_what_is_left_out_go_together_and_come_back() -> None:
    drawing, _ = noted(["First", "Second", "Third"])
    command = ChangeNotes(command="change_notes", notes=["Third", " ", "First", "Second"], off=[2])
    after, _, inverse = execute(drawing, command)
    assert (after.notes, after.notes_off) == (["Third", "First", "Second"], [1])
    assert inverse


def test_notes_of_the_library_appear_with_the_standard_that_they_cite() -> None:
    for standard, other in (("ISO", "ASME"), ("ASME", "ISO")):
        found = library(standard)
        assert found
        assert not [n for n in found if n.standard == other]
        assert not [n for n in found if n.cites.startswith(other)]
    assert {n.group for n in LIBRARY} == {n.group for n in library("ISO")}
    assert len({n.text for n in LIBRARY}) == len(LIBRARY)
    assert np.all([len(n.text) <= 400 for n in LIBRARY])
