"""Datums and control frames by pointer and by typing, and what the files say."""

import io
import math
from pathlib import Path
from typing import Any

import ezdxf
import openpyxl
import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter


def test_a_drafter_sets_datums_and_frames(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-202")
    drafter.settled()
    prompt, view = page.locator("[data-test=prompt]"), drafter.views()[0]
    curves = [c for c in drafter.curves(view) if c["visible"]]
    lines = sorted(
        (c for c in curves if c["kind"] == "line"), key=lambda c: -math.dist(c["data"][:2], c["data"][2:])
    )
    level = next(c for c in lines if abs(c["data"][1] - c["data"][3]) < 1e-6)
    upright = next(c for c in lines if abs(c["data"][0] - c["data"][2]) < 1e-6)

    def of(kind: str) -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == kind]

    def texts() -> list[str]:
        return [a["text"] for a in drafter.sheet["annotations"]]

    page.keyboard.press("5")
    page.keyboard.press(";")
    drafter.click(*drafter.on_curve(view, level, 0.3))
    expect(prompt).to_contain_text("datum A: place its box")
    x, y = drafter.on_curve(view, level, 0.3)
    drafter.click(x, y - 22)
    drafter.until(lambda: [d["letter"] for d in of("datum_feature")] == ["A"])
    drafter.click(*drafter.on_curve(view, upright, 0.3))
    x, y = drafter.on_curve(view, upright, 0.3)
    drafter.click(x - 18, y)
    drafter.until(lambda: [d["letter"] for d in of("datum_feature")] == ["A", "B"])
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    page.keyboard.press("'")
    drafter.click(*drafter.on_curve(view, upright, 0.8))
    expect(prompt).to_contain_text("place the frame")
    page.keyboard.press("Space")
    expect(prompt).to_contain_text("⊥ 0,1 A")
    x, y = drafter.on_curve(view, upright, 0.8)
    drafter.click(x - 30, y + 12)
    drafter.until(lambda: len(of("control_frame")) == 1)
    assert "⊥ 0,1 A" in texts()
    line = page.locator("[data-test=frame-line]")
    line.fill("flat 0.1 a")
    line.press("Enter")
    drafter.click(*drafter.on_curve(view, level, 0.7))
    expect(page.locator("[data-test=prompt], [data-test=refusal]").first).to_be_visible()
    expect(page.get_by_text("Flatness refers to no datum: leave A out")).to_be_visible()
    line.fill("flat 0.05")
    line.press("Enter")
    drafter.click(*drafter.on_curve(view, level, 0.7))
    x, y = drafter.on_curve(view, level, 0.7)
    drafter.click(x + 15, y - 25)
    drafter.until(lambda: len(of("control_frame")) == 2)
    assert "⏥ 0,05" in texts()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    frame = of("control_frame")[0]["id"]
    page.locator(f"[data-annotation='{frame}'] text").first.click()
    expect(page.locator("[data-test=frame-free]")).to_contain_text("left free")
    says = page.locator("[data-test=frame-says]")
    says.fill("perp 0.04 a b")
    says.press("Enter")
    expect(page.get_by_text("A feature is not toleranced to itself: leave B out")).to_be_visible()
    says.fill("perp 0.04 a")
    says.press("Enter")
    drafter.until(lambda: "⊥ 0,04 A" in texts())
    page.keyboard.press("Escape")
    datum = next(d["id"] for d in of("datum_feature") if d["letter"] == "A")
    page.locator(f"[data-annotation='{datum}'] text").first.click()
    letter = page.locator("[data-test=datum-letter]")
    letter.fill("k")
    letter.press("Enter")
    drafter.until(lambda: "⊥ 0,04 K" in texts())
    letter.blur()
    page.keyboard.press("Escape")

    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert "0,04" in text
    drawn = drafter.publish("dxf").path().read_text()
    blocks = ezdxf.read(io.StringIO(drawn)).modelspace().query("INSERT")
    assert "⊥ 0,04 K" in {b.get_attrib_text("SAYS") for b in blocks}
    words = [e.dxf.text for b in blocks for e in b.virtual_entities() if e.dxftype() == "TEXT"]
    assert words.count("K") == 2
    assert {"0,04", "0,05", "B"} <= set(words)


def test_a_drafter_sees_what_frames_and_sizes_come_to(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-214")
    drafter.settled()
    plan = next(v for v in drafter.views() if v["id"] == "plan")
    px, py = plan["position"]["x"], plan["position"]["y"]

    def of(kind: str) -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == kind]

    # a stack-up between the lower side and the floor of the notch
    page.keyboard.press("5")
    page.keyboard.press('"')
    drafter.click(px - 40, py - 50.8)
    expect(page.locator("[data-test=prompt]")).to_contain_text("Pick the second surface")
    drafter.click(px, py + 25.4)
    verdict = page.locator("[data-test=stack-verdict]")
    expect(verdict).to_contain_text("1.5 nominal")
    expect(page.locator("[data-test=stack-link]")).to_have_count(2)
    least = page.locator("[data-test=stack-least] input")
    least.fill("1.495")
    least.press("Enter")
    least.blur()
    expect(verdict).to_contain_text("does not hold")
    drafter.until(lambda: any("1.49 to 1.51" in w["text"] for w in drafter.sheet["warnings"]))
    with page.expect_download() as download:
        page.click("[data-test=stack-xlsx]")
    table = openpyxl.load_workbook(io.BytesIO(Path(download.value.path()).read_bytes())).active
    assert table is not None
    rows = [[c.value for c in row] for row in table.iter_rows()]
    assert [r[2:4] for r in rows if r[1] == "Worst case"] == [[37.846, 38.354]]
    # it follows: a closer size makes the gap hold
    drafter.edit(
        {"command": "change", "ids": ["size-2"], "values": {"tolerance": {"form": "equal", "upper": 0.00254}}}
    )
    drafter.edit(
        {"command": "change", "ids": ["size-4"], "values": {"tolerance": {"form": "equal", "upper": 0.00254}}}
    )
    assert not any("stack-up" in w["text"] for w in drafter.sheet["warnings"])

    # the frame of the two holes, in numbers
    page.keyboard.press("5")
    page.locator("[data-annotation='frame-holes'] text").first.click()
    expect(page.locator("[data-test=frame-virtual]")).to_have_text(".262")
    for name, value in (("size", "0.281"), ("dx", "0.008"), ("dy", "0.003")):
        field = page.locator(f"[data-test=measured-{name}] input")
        field.fill(value)
        field.press("Enter")
    expect(page.locator("[data-test=measured-verdict]")).to_contain_text("it passes")
    page.locator("[data-test=fastener-greatest] input").fill("0.25")
    page.locator("[data-test=fastener-greatest] input").press("Enter")
    page.click("[data-test=fastener-ask]")
    expect(page.locator("[data-test=fastener-hole]").first).to_contain_text("Ø.026")
    page.click("[data-test=fastener-write]")
    drafter.until(lambda: any("Ø.026" in a["text"] for a in drafter.sheet["annotations"]))
    # a basic size that is no longer basic is missing, and placed again
    drafter.edit({"command": "change", "ids": ["size-6"], "values": {"wording": {"basic": False}}})
    page.keyboard.press("5")
    page.locator("[data-annotation='frame-holes'] text").first.click()
    expect(page.locator("[data-test=frame-missing]")).to_contain_text(".625 from C")
    count = len(of("linear"))
    page.click("[data-test=place-basics]")
    drafter.until(lambda: len(of("linear")) == count + 1)
    expect(page.locator("[data-test=frame-missing]")).to_have_count(0)

    # a frame whose datum is clicked, and a datum target
    page.keyboard.press("Escape")
    page.keyboard.press("'")
    drafter.click(px - 60, py + 50.8)
    expect(page.locator("[data-test=prompt]")).to_contain_text("⏥ .005: place the frame")
    page.keyboard.press("Space")
    expect(page.locator("[data-test=prompt]")).to_contain_text("⊥ .005 A: place the frame")
    page.locator("[data-annotation='datum-c'] text").first.click()
    expect(page.locator("[data-test=prompt]")).to_contain_text("⊥ .005 B: place the frame")
    count = len(of("control_frame"))
    drafter.click(px - 90, py + 70)
    drafter.until(lambda: len(of("control_frame")) == count + 1)
    assert [d["letters"] for d in of("control_frame")[-1]["rows"][0]["datums"]] == ["B"]
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.keyboard.type("Datum target")
    page.keyboard.press("Enter")
    drafter.click(px - 20, py - 10)
    expect(page.locator("[data-test=prompt]")).to_contain_text("datum target A1")
    drafter.click(px + 10, py - 30)
    drafter.until(lambda: len(of("datum_target")) == 1)
    (target,) = of("datum_target")
    assert (target["letter"], target["number"], target["x"], target["y"]) == ("A", 1, -10, -5)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    text = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert "A1" in text
    drawn = ezdxf.read(io.StringIO(drafter.publish("dxf").path().read_text()))
    said = {b.get_attrib_text("SAYS") for b in drawn.modelspace().query("INSERT")}
    assert "datum target A1" in said
