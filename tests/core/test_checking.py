"""What rules find: nothing on the finished drawings, and each what it is for, once it is done wrong. Clauses:
ISO 129-1, ISO 5455, ISO 3098, ASME Y14.5 (memory); common practice where a rule says so."""

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

import pytest
from pydantic import TypeAdapter

from drafting.annotation.kinds.balloon import Balloon
from drafting.annotation.kinds.parts_rows import PartsList
from drafting.annotation.placing.rows import NOWHERE
from drafting.checking import listed
from drafting.checking.page import Page
from drafting.checking.rule import Fault
from drafting.checking.rules import ALL, MODULES, RULES
from drafting.checking.rules.scale import is_standard, nearest
from drafting.commands import AnyCommand, applied
from drafting.commands.annotations import Place
from drafting.document import Drawing, Item, OnSheet, Point, Sheet, in_view
from drafting.model.model import Model, ProcessFact
from drafting.standards.profile import ASME_INCH, ISO_MM
from drafting.standards.scales import Scale
from drafting.views.view import Label
from tests.core.finished import PARTS, finished, modeled, pages

COMMANDS: TypeAdapter[Any] = TypeAdapter(AnyCommand)


def found(rule: str, number: str, drawing: Drawing) -> list[Fault]:
    faults = RULES[rule].faults
    assert faults is not None
    return [
        f for n, p in enumerate(pages(number, drawing)) if not (RULES[rule].whole and n) for f in faults(p)
    ]


def done(number: str, *commands: dict[str, Any], drawing: Drawing | None = None) -> Drawing:
    out = drawing or finished(number)
    for c in commands:
        out = applied(out, COMMANDS.validate_python(c), modeled(number).facts)
    return out


def changed(number: str, ids: Sequence[str], **values: Any) -> Drawing:
    return done(number, {"command": "change", "ids": list(ids), "values": values})


def moved(number: str, key: str, to: str) -> Drawing:
    """With a size put where another is."""
    there = next(a for a in finished(number).sheets[0].annotations if a.id == to)
    return done(
        number,
        {"command": "move", "moves": [{"id": key, "place": there.place.model_dump()}], "with_run": False},
    )  # type: ignore[attr-defined]


def with_view(number: str, key: str, **update: Any) -> Drawing:
    drawing = finished(number).model_copy(deep=True)
    view = next(v for v in drawing.views() if v.id == key)
    for name, value in update.items():
        setattr(view, name, value)
    return drawing


ISO_PARTS = [n for n in PARTS if n != "HB-214"]  # that one is in inches, which these sheets are not


@pytest.mark.parametrize("number", ISO_PARTS)
def test_nothing_is_found_on_the_finished_drawings(number: str) -> None:
    """The title block is filled in by the office's own; one note of HB-206 quotes a size of its own sheet."""
    drawing = finished(number)
    for rule in ALL:
        if rule.faults is not None and rule.key not in ("title block", "sheet"):
            assert found(rule.key, number, drawing) == [], rule.key


def test_every_module_gives_a_rule_with_a_clause() -> None:
    assert len({r.key for r in ALL}) == len(ALL) == len(MODULES) + 4
    for rule in ALL:
        assert rule.title
        assert rule.key == "completeness" or (rule.iso and rule.asme)


def shifted(number: str, key: str, y: float) -> Drawing:
    size: Any = next(a for a in finished(number).sheets[0].annotations if a.id == key)
    place = size.place.model_dump()
    place["paper"]["y"] += y
    return done(number, {"command": "move", "moves": [{"id": key, "place": place}], "with_run": False})


def on_each_other() -> Drawing:
    return moved("HB-202", "size-7", "size-4")


def chain_crossed() -> Drawing:
    size = {
        "kind": "linear", "id": "across", "view": "front", "direction": "vertical",
        "picks": [
            {"instance": "part", "source": "plate/end|plate/side.foot"},
            {"instance": "part", "source": "plate/end|plate/side.top"},
        ],
        "place": {"model": {"x": 0.0, "y": 0.0}, "paper": {"x": 3.0, "y": 0.0}}, "breaks": False,
    }  # fmt: skip
    level = {**size, "id": "level", "direction": "horizontal", "picks": [
        {"instance": "part", "source": "plate/end|tie/bore@1", "point": "center"},
        {"instance": "part", "source": "plate/end|tie/bore@2", "point": "center"},
    ], "place": {"model": {"x": 0.0, "y": 20.0}, "paper": {"x": 0.0, "y": 0.0}}}  # fmt: skip
    return done("HB-202", {"command": "place", "sheet": "", "annotations": [size, level]})


def unsized() -> Drawing:
    return finished("HB-202").model_copy(
        update={"profile": finished("HB-202").profile.model_copy(update={"general_tolerance": "see note"})}
    )


def small() -> Drawing:
    profile = finished("HB-202").profile.model_copy(update={"text_height": 1.9})
    return finished("HB-202").model_copy(update={"profile": profile})


def same_numbers() -> Drawing:
    items = {"a": Item(number=3, name="Bolt"), "b": Item(number=3, name="Nut"), "c": Item(number=4)}
    return finished("HB-202").model_copy(update={"items": items})


def lone_view() -> Drawing:
    return done(
        "HB-202",
        {
            "command": "place_projected_view",
            "id": "again",
            "parent": "front",
            "relation": "left",
            "position": {"x": 60, "y": 180},
        },
    )  # fmt: skip


def uncentered() -> Drawing:
    marks = [a.id for a in finished("HB-202").sheets[0].annotations if a.kind == "center_mark"]
    return done("HB-202", {"command": "remove", "ids": marks})


def outside() -> Drawing:
    return shifted("HB-202", "size-4", 60.0)


def hidden() -> Drawing:
    """The bearing block's bore, taken in the top view where its rim is hidden."""
    size = {
        "kind": "linear", "id": "bore", "view": "top", "reading": "across",
        "picks": [{"instance": "part", "source": "bore/bore|bore/seat"}],
        "place": {"model": {"x": 0.0, "y": 0.0}, "paper": {"x": 40.0, "y": 0.0}},
    }  # fmt: skip
    return done("HB-204", {"command": "place", "sheet": "", "annotations": [size]})


def over_a_line() -> Drawing:
    place = {"model": {"x": 20.0, "y": -63.0}, "paper": {"x": 0.0, "y": 0.0}}
    return done("HB-202", {"command": "move", "moves": [{"id": "size-6", "place": place}], "with_run": False})


def through_an_arrow() -> Drawing:
    """An extension line along the dimension line of another size, not broken."""
    drawing = chain_crossed()
    moves = [
        {"id": "across", "place": {"model": {"x": 90.0, "y": 0.0}, "paper": {"x": 0.0, "y": 0.0}}},
        {"id": "level", "place": {"model": {"x": 0.0, "y": -120.0}, "paper": {"x": 0.0, "y": -45.0}}},
    ]
    return done("HB-202", {"command": "move", "moves": moves, "with_run": False}, drawing=drawing)


def without_its_edge() -> Drawing:
    drawing = finished("HB-202").model_copy(deep=True)
    size = next(a for a in drawing.sheets[0].annotations if a.id == "size-6")
    size.picks[0].source = "bore/bore|nowhere"
    return drawing


def other_angle() -> Drawing:
    return finished("HB-202").model_copy(update={"projection": "third"})


STRETCHED = {"not_to_scale": True}
WRONG: dict[str, tuple[str, Callable[[], Drawing], str]] = {
    "own words": ("HB-205", lambda: changed("HB-205", ["size-9"], wording={"own": "Ø26"}), "Ø26"),
    "not to scale": ("HB-205", lambda: changed("HB-205", ["size-9"], wording=STRETCHED), "not to scale"),
    "units": ("HB-205", lambda: changed("HB-205", ["size-9"], wording={"unit": "in"}), "is in in"),
    "fits": ("HB-202", lambda: changed("HB-202", ["size-6"], says="h7"), "capital letters"),
    "fine tolerance": ("HB-202", lambda: changed("HB-202", ["size-6"], says="±0.003"), "smoother"),
    "tolerances": ("HB-202", unsized, "no tolerance"),
    "small lettering": ("HB-202", small, "1.9 mm high"),
    "lettering": ("HB-202", on_each_other, "stand on each other"),
    "crossing lines": ("HB-202", chain_crossed, "cross"),
    "near rows": ("HB-202", lambda: shifted("HB-202", "size-1", 3.0), "mm apart"),
    "within the outline": ("HB-202", chain_crossed, "there is room"),
    "hidden lines": ("HB-204", hidden, "is taken on hidden lines; the main view shows them."),
    "centers": ("HB-202", uncentered, "without a center"),
    "idle view": ("HB-202", lone_view, "bears no size and shows no feature"),
    "outside the frame": ("HB-202", outside, "out of the frame"),
    "view letters": ("HB-205", lambda: with_view("HB-205", "key", label=Label(shown=False)), "its letter"),
    "detail scale": ("HB-206", lambda: with_view("HB-206", "sink", scale=Scale()), "no larger"),
    "scale": ("HB-202", lambda: with_view("HB-202", "side", scale=Scale(drawn=1, true=3)), "1:3"),
    "projection": ("HB-202", other_angle, "shows another"),
    "crossed lettering": ("HB-202", over_a_line, "A line of a view runs through Ø54 H7."),
    "arrowheads": ("HB-202", through_an_arrow, "runs through an arrowhead of 240"),
    "lost": ("HB-202", without_its_edge, "Diameter: "),
    "sheet": ("HB-202", lambda: with_view("HB-202", "side", position=Point(x=200, y=180)), "overlaps"),
    "title block": ("HB-202", lambda: finished("HB-202"), "drawn by"),
    "item numbers": ("HB-202", same_numbers, "2 items have the number 3: Bolt, Nut."),
    "geometric": ("HB-204", lambda: done("HB-204", {"command": "remove", "ids": ["frame-bore"]}), "datum"),
}  # fmt: skip


@pytest.mark.parametrize("rule", WRONG)
def test_what_is_done_wrong_is_found_by_its_rule(rule: str) -> None:
    number, wrong, words = WRONG[rule]
    faults = found(rule, number, wrong())
    assert faults, rule
    assert any(words in f.text for f in faults), [f.text for f in faults]
    for f in faults:
        assert f.text[0].isupper() or not f.text[0].isalpha()
        assert f.text.endswith(".")


@pytest.mark.parametrize(
    "rule", ["own words", "not to scale", "units", "centers", "detail scale", "scale", "idle view"]
)
def test_a_remedy_mends_what_it_is_for(rule: str) -> None:
    number, wrong, _ = WRONG[rule]
    drawing = wrong()
    for _ in range(4):
        faults = found(rule, number, drawing)
        if not faults:
            break
        (remedy, *_) = faults[0].remedies
        drawing = done(number, remedy.command, drawing=drawing)
    assert found(rule, number, drawing) == []


def test_the_standards_scales() -> None:
    """ISO 5455: 1, 2 and 5 times powers of ten; inch scales: common practice."""
    assert all(
        is_standard(Scale(drawn=a, true=b), "ISO")
        for a, b in ((1, 1), (5, 1), (1, 20), (1, 50_000), (100, 1))
    )
    assert not any(is_standard(Scale(drawn=a, true=b), "ISO") for a, b in ((3, 1), (1, 4), (2, 3), (1, 25)))
    assert is_standard(Scale(drawn=1, true=4), "ASME")
    assert str(nearest(Scale(drawn=1, true=4), "ISO")) == "1:5"
    assert str(nearest(Scale(drawn=3, true=1), "ISO")) == "2:1"


def test_an_office_makes_a_rule_graver_or_leaves_it_out() -> None:
    rule = RULES["centers"]
    assert rule.gravity_in(ISO_MM) == "look"
    assert rule.gravity_in(ISO_MM.model_copy(update={"rules": {"centers": "grave"}})) == "grave"
    assert rule.gravity_in(ASME_INCH.model_copy(update={"rules": {"centers": "off"}})) == "off"
    assert rule.clause(ASME_INCH) == "ASME Y14.2"


def test_lines_that_cross_across_one_center_are_as_they_have_to_be() -> None:
    """Three diameters of the bearing block are drawn across circles about one center (common practice)."""
    kinds = [a for a in finished("HB-204").sheets[0].annotations if a.kind == "diameter"]
    assert len(kinds) >= 3
    assert found("crossing lines", "HB-204", finished("HB-204")) == []


@pytest.mark.parametrize(
    ("process", "said"), [("drilled", True), ("bored", True), ("reamed", False), ("", False)]
)
def test_a_tolerance_goes_with_the_process(process: str, said: bool) -> None:
    """Ø54 H7 has 30 µm; drilling reaches IT10, 120 µm, boring IT8, 46 µm, reaming IT6, 19 µm (ISO 286-1,
    table 1; grades of processes: chart of ANSI B4.1, memory)."""
    facts = modeled("HB-202").facts
    part = facts.parts["part"]
    bore = next(f.name for f in part.faces if f.kind == "cylinder" and f.radius == 27)
    part = part.model_copy(update={"processes": [ProcessFact(face=bore, process=process)] if process else []})
    facts = facts.model_copy(update={"parts": {"part": part}})
    page = replace(pages("HB-202")[0], facts=facts)
    faults = [*RULES["process"].faults(page)]  # type: ignore[misc]
    assert bool(faults) == said
    if process == "drilled":
        (fault,) = faults
        assert fault.text == "Ø54 H7 is to be held within 30 µm and drilled; that reaches 120 µm (IT10)."


def test_rows_and_balloons_belong_together(winder: Model) -> None:
    """ISO 6433: each item is referenced once at least. A group is by what is in it."""
    sheet = Sheet(id="s", size="A3")
    drawing = Drawing(name="Winder", profile=ISO_MM, projection="first", sheets=[sheet])
    main = {
        "command": "place_main_view",
        "id": "m",
        "sheet": "s",
        "orientation": {"right": [1, 0, 0], "up": [0, 0, 1]},
        "position": {"x": 100, "y": 150},
    }
    plist = PartsList(id="p", anchor=OnSheet(), levels="indented")
    drawing = applied(drawing, COMMANDS.validate_python(main), winder.facts)
    drawing = applied(drawing, Place(command="place", sheet="s", annotations=[plist]), winder.facts)

    def said(*annotations: Balloon) -> list[str]:
        more = (
            applied(drawing, Place(command="place", annotations=[*annotations]), winder.facts)
            if annotations
            else drawing
        )
        page = Page(more, more.sheets[0], winder.facts, {}, {})
        return [f.text for f in RULES["balloons"].faults(page)]  # type: ignore[misc]

    (bare,) = said()
    first = winder.facts.instances[0]
    one = Balloon(id="b", anchor=in_view("m"), instance=first.path, tip=Point(x=0.5, y=0.5), place=NOWHERE)
    (less,) = said(one)
    assert bare.startswith("Items ")
    assert bare.count(",") == less.count(",") + 1


def test_a_list_is_a_table_and_pages() -> None:
    one = listed.Listed(1, "grave", "Sizes are to scale", "ISO 129-1", "12 is marked as not to scale.")
    two = listed.Listed(
        2, "look", "Every view is needed", "", "A view.", "wanted by the shop", "A. Fell", "2026-11-29"
    )
    rows = listed.table([one, two])
    assert rows[1][:3] == [1, "grave", "Sizes are to scale"]
    assert rows[2][5:] == ["wanted by the shop", "A. Fell", "2026-11-29"]
    assert listed.pdf([one, two], ["Circles have centers"], "HB-202", ISO_MM).startswith(b"%PDF")


def test_what_a_thing_is_called_starts_a_sentence() -> None:
    page: Page = pages("HB-202")[0]
    size = next(a for a in page.sheet.annotations if a.id == "size-6")
    assert page.called(size) == "Ø54 H7"
    mark = next(a for a in page.sheet.annotations if a.kind == "center_mark")
    assert page.starting(mark)[0].isupper()
