"""Notes and surface textures: pointed at, written and moved by hand, and read back from files."""

import io
import math
import zipfile
from typing import Any

import ezdxf
import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_kinds import ON_INK


def test_a_drafter_writes_notes_and_says_how_surfaces_are(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-206")
    drafter.settled()
    prompt, view = page.locator("[data-test=prompt]"), drafter.views()[0]
    line = max(
        (c for c in drafter.curves(view) if c["kind"] == "line" and c["visible"]),
        key=lambda c: math.dist(c["data"][:2], c["data"][2:]),
    )

    def stored(kind: str) -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == kind]

    def of(kind: str) -> list[str]:
        drawn = {a["id"]: a["text"] for a in drafter.sheet["annotations"]}
        return [drawn.get(a["id"], "") for a in stored(kind)]

    have = len(of("note")), len(of("texture"))
    page.keyboard.press("Shift+L")
    expect(prompt).to_contain_text("Point at what the note is about")
    drafter.click(*drafter.on_curve(view, line, 0.4))
    expect(prompt).to_contain_text("Place the note")
    drafter.click(*drafter.beside(view, 18, 22))
    writing = page.locator("[data-test=note-text]")
    expect(writing).to_be_focused()
    page.keyboard.type("Deburr ")
    page.get_by_role("button", name="diameter", exact=True).click()
    page.keyboard.type("5 holes\nof {material}")
    page.keyboard.press("Control+Enter")
    drafter.until(lambda: any(text.startswith("Deburr") for text in of("note")))
    said = of("note")[-1]
    assert said.startswith("Deburr Ø5 holes of ")
    assert "{" not in said
    (made,) = stored("note")[have[0] :]
    assert made["tips"][0]["on"] == "edge"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.locator(f"[data-annotation='{made['id']}'] text").first.dblclick()
    expect(writing).to_be_focused()
    page.keyboard.press("Control+a")
    page.keyboard.type("Break edges")
    page.keyboard.press("Control+Enter")
    drafter.until(lambda: of("note")[-1] == "Break edges")
    page.keyboard.press("Control+z")
    drafter.until(lambda: of("note")[-1] == said)
    page.keyboard.press("Control+y")
    drafter.until(lambda: of("note")[-1] == "Break edges")

    page.keyboard.press("Shift+X")
    expect(prompt).to_contain_text("Point at a surface")
    drafter.click(*drafter.on_curve(view, line, 0.7))
    expect(prompt).to_contain_text("Ra 3,2: near its line it stands on it")
    drafter.click(*drafter.beside(view, 30, 14))
    drafter.until(lambda: len(of("texture")) == have[1] + 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+V")
    expect(prompt).to_contain_text("Point at the seam")
    drafter.click(*drafter.on_curve(view, line, 0.2))
    expect(prompt).to_contain_text("fillet weld: place its symbol")
    drafter.click(*drafter.beside(view, -20, 25))
    drafter.until(lambda: of("weld") == ["fillet weld"])
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    weld = stored("weld")[0]["id"]
    page.mouse.click(*page.locator(f"[data-annotation='{weld}']").evaluate(ON_INK))
    size = page.locator("[data-test=kind-size] input")
    size.fill("5")
    size.press("Enter")
    drafter.until(lambda: of("weld") == ["a5 fillet weld"])
    page.locator("[data-test=kind-other]").click()
    page.locator(".el-select-dropdown__item:visible", has_text="fillet").click()
    drafter.until(lambda: of("weld") == ["a5 fillet weld and fillet on the other side"])
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+Q")
    drafter.click(60, 40)
    drafter.until(lambda: of("texture")[-1] == "Ra 3,2 unless otherwise stated")
    page.keyboard.press("Escape")

    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert "Break edges" in text
    assert text.count("Ra 3,2") >= 2
    assert text.count("a5") == 2
    with zipfile.ZipFile(drafter.publish("dxf").path()) as sheets:
        first = sheets.read(sorted(sheets.namelist())[0]).decode()
    words = [e.dxf.text for e in ezdxf.read(io.StringIO(first)).modelspace().query("TEXT")]
    assert "Break edges" in words
    assert words.count("Ra 3,2") >= 2


def test_general_notes_are_taken_from_the_library_and_left_out(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-211")
    drafter.settled()
    before = list(drafter.drawing["document"]["notes"])
    page.locator("[data-test=note-library] input").fill("burrs")
    page.locator(".el-select-dropdown__item:visible", has_text="Remove burrs").click()
    own = page.locator("[data-test=note-typed]")
    own.fill("Waxed")
    own.press("Enter")

    def notes() -> tuple[list[str], list[int]]:
        document = drafter.drawing["document"]
        return document["notes"][len(before) :], document["notes_off"]

    drafter.until(lambda: notes()[0] == ["Remove burrs and break sharp edges.", "Waxed"])
    page.get_by_label(f"Note {len(before) + 2} up", exact=True).click()
    drafter.until(lambda: notes()[0] == ["Waxed", "Remove burrs and break sharp edges."])
    page.locator(f"[data-test=note-off-{len(before)}]").click()
    drafter.until(lambda: notes()[1] == [len(before)])
    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert f"{len(before) + 1}. Remove burrs" in text
    assert "Waxed" not in text


def test_words_that_are_not_written_are_not_placed(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-206")
    drafter.settled()
    before = len(drafter.sheet["annotations"])
    page.keyboard.press("Shift+W")
    drafter.click(70, 60)
    writing = page.locator("[data-test=note-text]")
    expect(writing).to_be_focused()
    page.keyboard.press("Escape")
    expect(writing).to_have_count(0)
    assert len(drafter.sheet["annotations"]) == before
    drafter.click(70, 60)
    expect(writing).to_be_focused()
    page.keyboard.type("Kept")
    page.keyboard.press("Control+Enter")
    drafter.until(lambda: len(drafter.sheet["annotations"]) == before + 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")  # the note and its words are one step
    drafter.until(lambda: len(drafter.sheet["annotations"]) == before)


def test_a_note_quotes_a_size_gets_another_leader_and_is_placed_again(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-204")
    drafter.settled()
    view = drafter.views()[0]
    lines = sorted(
        (c for c in drafter.curves(view) if c["kind"] == "line" and c["visible"]),
        key=lambda c: -math.dist(c["data"][:2], c["data"][2:]),
    )

    def notes() -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == "note"]

    def said(note: Any) -> str:
        return str(next(a["text"] for a in drafter.sheet["annotations"] if a["id"] == note["id"]))

    before = len(notes())
    page.keyboard.press("Shift+L")
    drafter.click(*drafter.on_curve(view, lines[0], 0.3))
    drafter.click(*drafter.beside(view, -25, 30))
    expect(page.locator("[data-test=note-text]")).to_be_focused()
    page.keyboard.type("over ")
    choice = page.locator("[data-test=note-size]")
    words = choice.locator("option").nth(1).inner_text()
    choice.select_option(label=words)
    expect(page.locator("[data-test=note-writing]")).to_contain_text(f"now {words}")
    page.keyboard.press("Control+Enter")
    drafter.until(lambda: len(notes()) == before + 1)
    assert said(notes()[-1]) == f"over {words}"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    made = notes()[-1]["id"]
    page.locator(f"[data-annotation='{made}'] text").first.click()
    page.locator("[data-test=leader-more]").click()
    drafter.click(*drafter.on_curve(view, lines[1], 0.6))
    drafter.until(lambda: len(notes()[-1]["tips"]) == 2)
    page.keyboard.press("Escape")
    page.locator(f"[data-annotation='{made}'] text").first.click()
    page.locator("[data-test=leader-fewer]").click()
    drafter.until(lambda: len(next(n for n in notes() if n["id"] == made)["tips"]) == 1)

    page.keyboard.press(".")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Point at what the note is about")
    drafter.click(*drafter.on_curve(view, lines[1], 0.4))
    drafter.click(*drafter.beside(view, 25, 35))
    drafter.until(lambda: len(notes()) == before + 2)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    assert [said(n) for n in notes()[-2:]] == [f"over {words}"] * 2
    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert text.count(f"over {words}") == 2


def test_a_weld_goes_through_what_its_seam_can_be(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-240")
    drafter.settled()
    prompt, view = page.locator("[data-test=prompt]"), drafter.views()[0]
    line = max(
        (c for c in drafter.curves(view) if c["kind"] == "line" and c["visible"]),
        key=lambda c: math.dist(c["data"][:2], c["data"][2:]),
    )
    before = [a["text"] for a in drafter.sheet["annotations"] if "weld" in a["text"]]
    assert sorted(before) == [
        "a4 fillet weld all around 135",
        "a5 fillet weld and fillet on the other side 135",
    ]
    page.keyboard.press("Shift+V")
    drafter.click(*drafter.on_curve(view, line, 0.2))
    expect(prompt).to_contain_text("fillet weld: place its symbol")
    page.keyboard.press("Space")
    expect(prompt).to_contain_text("bevel weld: place its symbol")
    drafter.click(*drafter.beside(view, -20, -25))
    drafter.until(lambda: any(a["text"] == "bevel weld" for a in drafter.sheet["annotations"]))
    page.keyboard.press("Escape")
    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert text.count("135") == 2
    assert "a4" in text


def test_a_part_is_shown_in_another_position_and_an_arrow_says_where_to(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-210")
    drafter.settled()
    view = next(
        v for v in drafter.views() if any(c["kind"] == "arc" and c["visible"] for c in drafter.curves(v))
    )
    curves = [c for c in drafter.curves(view) if c["visible"]]
    line = max(
        (c for c in curves if c["kind"] == "line"), key=lambda c: math.dist(c["data"][:2], c["data"][2:])
    )
    arc = max((c for c in curves if c["kind"] == "arc"), key=lambda c: float(c["data"][2]))

    def stored(kind: str) -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == kind]

    page.keyboard.press("/")
    page.keyboard.type("other position")
    page.keyboard.press("Enter")
    drafter.click(*drafter.on_curve(view, line, 0.5))
    drafter.click(*drafter.on_curve(view, arc, 0.5))
    drafter.click(*drafter.beside(view, 20, 40))
    drafter.until(lambda: len(stored("other_position")) == 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("insertion")
    page.keyboard.press("Enter")
    drafter.click(60, 60)
    drafter.click(100, 60)
    drafter.until(lambda: len(stored("insertion_arrow")) == 1)
    page.keyboard.press("Escape")
    (made,) = stored("other_position")
    assert abs(made["angle"]) >= 1
    drawn = drafter.publish("dxf").path().read_text()
    space = ezdxf.read(io.StringIO(drawn)).modelspace()
    assert [
        e
        for e in space.query("LINE LWPOLYLINE")
        if "phantom" in e.dxf.layer.lower() or "phantom" in e.dxf.linetype.lower()
    ]
