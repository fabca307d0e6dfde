"""What is to be inspected: its numbers, its limits, and whether what was measured is in. Limits: ISO 286-1,
tables 2 and 3; bonus: ASME Y14.5-2018, 5.9 (memory)."""

import json
import math
from contextlib import suppress
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import TypeAdapter

from drafting.annotation.kinds.characteristic import CharacteristicMark, beside
from drafting.commands import AnyCommand, applied
from drafting.compose import annotation_groups
from drafting.context import Context
from drafting.document import Drawing
from drafting.errors import CommandError, SizeError
from drafting.ink.shapes import shapes, text_boxes
from drafting.inspection import readings
from drafting.inspection.numbering import places
from drafting.inspection.requirements import Requirement, requirements
from drafting.inspection.sheet import InspectionRow, as_json, rows, table
from drafting.inspection.verdicts import Reading, judged
from drafting.sheet.frame import shown_notes
from drafting.sheet.layout import frame_box
from tests.core.finished import PARTS, finished, modeled

COMMANDS: TypeAdapter[Any] = TypeAdapter(AnyCommand)


def done(number: str, drawing: Drawing, command: dict[str, Any]) -> Drawing:
    return applied(drawing, COMMANDS.validate_python(command), modeled(number).facts)


def numbered(number: str, drawing: Drawing | None = None, **more: Any) -> Drawing:
    return done(number, drawing or finished(number), {"command": "number_characteristics", **more})


def marks(drawing: Drawing) -> list[CharacteristicMark]:
    return [a for s in drawing.sheets for a in s.annotations if isinstance(a, CharacteristicMark)]


def sheet(number: str, drawing: Drawing, *found: Reading) -> list[InspectionRow]:
    return rows(drawing, modeled(number).facts, found)


def row_of(found: list[InspectionRow], text: str) -> InspectionRow:
    return next(r for r in found if r.requirement == text)


def test_limits_are_those_of_the_standard() -> None:
    """ISO 286-1: 32 f7 -25/-50, 25 k6 +15/+2, 54 h9 0/-74, 8 P9 -15/-51 µm."""
    found = sheet("HB-205", numbered("HB-205"))
    for text, low, high in (
        ("2× Ø32 f7", 31.95, 31.975),
        ("Ø25 k6", 25.002, 25.015),
        ("Ø54 h9", 53.926, 54.0),
        ("8 P9", 7.949, 7.985),
    ):
        r = row_of(found, text)
        assert (r.lower, r.upper, r.unit) == (low, high, "mm")
    assert row_of(found, "2× Ø32 f7").count == 2
    assert row_of(found, "M20 × 24").by_words
    assert row_of(found, "M20 × 24").method == "thread gauge"
    assert row_of(found, "↗ 0,05 A-B").upper == 0.05
    assert (row_of(found, "Ra 1,6").upper, row_of(found, "Ra 1,6").unit) == (1.6, "µm")


@pytest.mark.parametrize("number", PARTS)
def test_all_that_is_required_is_numbered_in_reading_order(number: str) -> None:
    drawing = numbered(number)
    found = sheet(number, drawing)
    assert [r.number for r in found] == list(range(1, len(found) + 1))
    wanted = requirements(finished(number), modeled(number).facts)
    assert [r.requirement for r in found] == [r.text for r in wanted]
    basic = [
        a.id for s in drawing.sheets for a in s.annotations
        if getattr(a, "wording", None) and (a.wording.basic or a.wording.reference)
    ]  # fmt: skip
    assert not {r.annotation for r in found} & set(basic)
    for r in found:
        assert r.by_words or r.upper is not None or r.lower is not None
        assert r.method
        assert not r.gone


@pytest.mark.parametrize("number", ["HB-202", "HB-204", "HB-205"])
def test_tags_stand_on_no_lettering_and_within_the_frame(number: str) -> None:
    facts = modeled(number).facts
    offsets = {k: p.model_dump() for k, p in places(finished(number), facts, {}).items()}
    drawing = numbered(number, offsets=offsets)
    page = drawing.sheets[0]
    groups = annotation_groups(drawing, page, facts)
    own = {m.id for m in marks(drawing)}
    letters = [
        b for a in page.annotations if a.id not in own and not isinstance(g := groups[a.id], str)
        for b in text_boxes(g.elements, g.origin, 0.0)
    ]  # fmt: skip
    tags = []
    for key in own:
        group = groups[key]
        assert not isinstance(group, str)
        tags.append(shapes(group.elements, group.origin)[0].envelope)
    frame = frame_box(page)
    for n, t in enumerate(tags):
        assert not any(t.intersects(b) for b in letters)
        assert not any(t.intersects(o) for o in tags[n + 1 :])
        x0, y0, x1, y1 = t.bounds
        assert x0 > frame.left and y0 > frame.bottom and x1 < frame.right and y1 < frame.top  # noqa: PT018


def test_general_notes_are_numbered_and_their_numbers_stay_with_them() -> None:
    """Moved, reworded in its place, left out, and shown again; kept or not kept is what is measured of it."""
    drawing = numbered("HB-204")
    told = [r for r in sheet("HB-204", drawing) if r.kind == "General note"]
    assert [r.requirement for r in told] == shown_notes(finished("HB-204"))
    assert {r.method for r in told} == {"visual"}
    assert all(r.by_words and r.zone for r in told)
    number = {r.requirement: r.number for r in told}
    first, second, *rest = drawing.notes
    turned = {"command": "change_notes", "notes": [second, first, *rest]}
    moved = {r.requirement: r.number for r in sheet("HB-204", done("HB-204", drawing, turned))}
    assert {k: moved[k] for k in number} == number
    reworded = done("HB-204", drawing, {"command": "change_notes", "notes": [first, "Else.", *rest]})
    assert row_of(sheet("HB-204", reworded), "Else.").number == number[second]
    # another first sheet shows the notes, and has their numbers; a copy has none of them
    two = done("HB-204", drawing, {"command": "copy_sheet", "sheet": drawing.sheets[0].id, "id": "copy"})
    assert [m.note for m in marks(two) if m.note] == [m.note for m in marks(drawing) if m.note]
    front = done("HB-204", two, {"command": "move_sheet", "sheet": "copy", "place": 0})
    left = done("HB-204", front, {"command": "remove_sheet", "sheet": "copy"})
    for other in (front, left):
        first_sheet = other.sheets[0].annotations
        assert {
            a.note: a.number for a in first_sheet if isinstance(a, CharacteristicMark) and a.note
        } == number
    off = done("HB-204", drawing, {"command": "change_notes", "notes": drawing.notes, "off": [1]})
    (gone,) = [r for r in sheet("HB-204", off) if r.gone]
    assert gone.number == number[second]
    context = Context(off, off.sheets[0], modeled("HB-204").facts, None, True)
    mark = next(m for m in marks(off) if m.number == gone.number)
    with pytest.raises(SizeError, match="no longer shown"):
        beside(mark, context)
    kept = sheet(
        "HB-204",
        drawing,
        Reading(number[first], "1", is_kept=True),
        Reading(number[second], "1", is_kept=False),
    )
    assert (row_of(kept, first).pieces[0].is_in, row_of(kept, second).pieces[0].is_in) == (True, False)


def test_numbers_are_kept_and_none_is_given_twice() -> None:
    drawing = numbered("HB-202")
    last = max(m.number for m in marks(drawing))
    host = next(m for m in marks(drawing) if m.number == 3)
    less = done("HB-202", drawing, {"command": "remove", "ids": [host.anchor.annotation]})  # type: ignore[union-attr]
    assert 3 not in {m.number for m in marks(less)}
    again = next(a for a in finished("HB-202").sheets[0].annotations if a.id == host.anchor.annotation)  # type: ignore[union-attr]
    more = done(
        "HB-202", less, {"command": "place", "sheet": "", "annotations": [again.model_dump(mode="json")]}
    )
    after = numbered("HB-202", more)
    assert {m.number for m in marks(after)} == set(range(1, last + 2)) - {3}
    anew = numbered("HB-202", after, anew=True)
    assert [r.number for r in sheet("HB-202", anew)] == list(range(1, last + 1))
    assert {m.id for m in marks(anew)} == {m.id for m in marks(after)}
    with pytest.raises(CommandError, match="Everything has its number"):
        numbered("HB-202", anew)


def test_what_it_numbered_for_reference_is_no_longer_required() -> None:
    drawing = numbered("HB-202")
    mark = next(m for m in marks(drawing) if m.number == 1)
    host = mark.anchor.annotation  # type: ignore[union-attr]
    reference = {"command": "change", "ids": [host], "values": {"wording": {"reference": True}}}
    (gone,) = [r for r in sheet("HB-202", done("HB-202", drawing, reference)) if r.gone]
    assert (gone.number, gone.requirement) == (1, "no longer required")


def test_numbered_anew_what_is_no_longer_required_shares_no_number() -> None:
    drawing = numbered("HB-202")
    mark = next(m for m in marks(drawing) if m.number == 2)
    host = mark.anchor.annotation  # type: ignore[union-attr]
    reference = {"command": "change", "ids": [host], "values": {"wording": {"reference": True}}}
    anew = numbered("HB-202", done("HB-202", drawing, reference), anew=True)
    found = [m.number for m in marks(anew)]
    assert sorted(found) == list(range(1, len(found) + 1))
    assert next(m for m in marks(anew) if m.id == mark.id).number == len(found)
    assert anew.numbered == len(found)


def test_one_coordinate_says_nothing_of_a_round_zone() -> None:
    drawing = numbered("HB-214")
    r = next(r for r in sheet("HB-214", drawing) if r.annotation == "frame-holes")
    found = sheet("HB-214", drawing, Reading(r.number, dx=0.01))
    (piece,) = next(x for x in found if x.number == r.number).pieces
    assert (piece.is_in, piece.why) == (None, "A round zone needs both dx and dy.")


def test_the_size_of_a_piece_is_taken_in_the_frames_unit() -> None:
    """The bush's bore is measured in inches where its size is written so: 32.02 mm."""
    inches = {"command": "change", "ids": ["size-3"], "values": {"wording": {"unit": "in"}}}
    drawing = numbered("HB-207", done("HB-207", finished("HB-207"), inches))
    found = sheet("HB-207", drawing)
    size = next(r for r in found if r.annotation == "size-3")
    frame = row_of(found, "◎ Ø0,03Ⓜ A")
    assert size.unit == "in"
    both = [Reading(frame.number, value=0.045), Reading(size.number, value=32.02 / 25.4)]
    (piece,) = row_of(sheet("HB-207", drawing, *both), "◎ Ø0,03Ⓜ A").pieces
    assert (piece.is_in, piece.allowed) == (True, 0.05)


def test_a_size_is_in_at_its_limits_and_out_beyond() -> None:
    r = Requirement("a", 0, "s", "A1", (0, 0), "40 H7", "Diameter", 1, 40.0, 40.0, 40.025, "mm")
    assert judged(r, Reading(1, value=40.0)).is_in
    assert judged(r, Reading(1, value=40.025)).is_in
    assert judged(r, Reading(1, value=40.0251)).is_in is False
    assert judged(r, Reading(1, value=39.9999)).is_in is False
    assert judged(r, Reading(1)).is_in is None
    words = Requirement("a", 0, "s", "A1", (0, 0), "Deburr", "Note")
    assert judged(words, Reading(1, is_kept=True)).is_in
    assert judged(words, Reading(1, is_kept=False)).is_in is False
    assert judged(words, Reading(1)).is_in is None


@settings(max_examples=60, deadline=None, derandomize=True)
@given(dx=st.floats(-0.6, 0.6), dy=st.floats(-0.6, 0.6), size=st.floats(6.9374, 7.3374))
def test_a_place_is_in_within_its_zone_and_the_bonus(dx: float, dy: float, size: float) -> None:
    """The keeper plate's holes: position Ø0.3556 at maximum material, a hole of 6.9374 to 7.3374: what it is
    larger than its least adds to the zone."""
    drawing = numbered("HB-214")
    r = next(r for r in sheet("HB-214", drawing) if r.annotation == "frame-holes")
    (piece,) = next(
        x
        for x in sheet("HB-214", drawing, Reading(r.number, dx=dx, dy=dy, size=size))
        if x.number == r.number
    ).pieces
    off, allowed = 2 * math.hypot(dx, dy), 0.3556 + size - 6.9374
    if abs(off - allowed) > 1e-5:
        assert piece.is_in == (off < allowed)
    if off > 0.3556:
        assert piece.allowed == pytest.approx(allowed, abs=1e-5)


def test_a_place_out_of_its_zone_needs_the_size() -> None:
    drawing = numbered("HB-214")
    r = next(r for r in sheet("HB-214", drawing) if r.annotation == "frame-holes")
    assert r.needs_size

    def piece(*found: Reading) -> Any:
        return next(x for x in sheet("HB-214", drawing, *found) if x.number == r.number).pieces[0]

    assert piece(Reading(r.number, dx=0.1, dy=0.1)).is_in  # 0.283: within the zone without a bonus
    unknown = piece(Reading(r.number, dx=0.2, dy=0.1))
    assert (unknown.is_in, unknown.why) == (
        None,
        "With a material condition the measured size is needed too.",
    )
    assert piece(Reading(r.number, dx=0.2, dy=0.1, size=7.2)).is_in
    out = piece(Reading(r.number, dx=0.2, dy=0.1, size=9.0))
    assert (out.is_in, out.why) == (False, "The measured size is out of limits.")


def test_the_size_is_taken_from_the_same_piece_where_it_is_measured() -> None:
    """The bush's bore: its coaxiality at maximum material stands at the size of 32 H7."""
    drawing = numbered("HB-207")
    found = sheet("HB-207", drawing)
    frame, size = row_of(found, "◎ Ø0,03Ⓜ A"), row_of(found, "Ø32 H7")
    both = [Reading(frame.number, value=0.045), Reading(size.number, value=32.02)]
    (piece,) = row_of(sheet("HB-207", drawing, *both), "◎ Ø0,03Ⓜ A").pieces
    assert (piece.is_in, piece.size, piece.allowed) == (True, 32.02, 0.05)
    other = [both[0], Reading(size.number, piece="2", value=32.02)]
    (alone,) = row_of(sheet("HB-207", drawing, *other), "◎ Ø0,03Ⓜ A").pieces
    assert alone.is_in is None


def test_readings_come_from_tables_of_any_separator() -> None:
    dotted = "number,piece,measured,dx,dy,size\n1,A,12.5,,,\n2,,,0.1,-0.2,7.1\n3,B,ok,,,\n"
    comma = "Characteristic;Sample;Actual;dx;dy;Size\n1;A;12,5;;;\n2;;;0,1;-0,2;7,1\n3;B;OK;;;\n"
    for text in (dotted, comma, comma.replace(";", "\t"), "\ufeff" + dotted.replace("\n", "\r\n")):
        one, two, three = readings.read(text)
        assert (one.number, one.piece, one.value) == (1, "A", 12.5)
        assert (two.piece, two.dx, two.dy, two.size) == ("1", 0.1, -0.2, 7.1)
        assert three.is_kept
    assert readings.read("no;measured\n4;not ok")[0].is_kept is False


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "The table is empty."),
        ("a;b\n1;2", "The first row names the columns"),
        ("number;measured\nx;2", "Line 2: 'x' is no characteristic number."),
        ("number;measured\n1;=1+1", "Line 2: '=1+1' is no number."),
        ("number;measured\n¹;1", "Line 2: '¹' is no characteristic number."),
        ("number;piece;measured\n1;a\x00b;x", "Line 2: 'x' is no number."),
        ("number;measured\n1;nan", "Line 2: 'nan' is no number."),
        ("number;measured\n1;1e999", "Line 2: '1e999' is no number."),
        ("number;measured\n" + "1;2\n" * 20_001, "more than 20000 rows"),
    ],
)
def test_a_table_that_cannot_be_read_says_where(text: str, said: str) -> None:
    with pytest.raises(CommandError, match=said.replace("+", r"\+")):
        readings.read(text)


@settings(max_examples=80, deadline=None, derandomize=True)
@given(st.text(max_size=200))
def test_no_text_breaks_the_reader(text: str) -> None:
    for head in ("", "number;measured\n"):
        with suppress(CommandError):
            for r in readings.read(head + text):
                assert 0 <= r.number < 100_000
                assert all(v is None or math.isfinite(v) for v in (r.value, r.dx, r.dy, r.size))
                assert r.piece.isprintable()


def test_the_sheet_as_a_table_and_as_data() -> None:
    drawing = numbered("HB-202")
    found = sheet("HB-202", drawing, Reading(1, value=1.0), Reading(1, piece="2", value=2.0))
    head, *lines = table(found)
    assert head[0] == "Number"
    assert all(len(line) == len(head) for line in lines)
    assert len(lines) == len(found) + 1
    assert lines[0][-1] in ("in", "out")
    data = json.loads(as_json(found, "HB-202", "B"))
    assert (data["moorcrest"], data["drawing"], data["revision"]) == ("inspection", "HB-202", "B")
    assert [p["piece"] for p in data["characteristics"][0]["pieces"]] == ["1", "2"]
