"""Datums and control frames by pointer and by typing, and what the files say."""

import io
import math
from typing import Any

import ezdxf
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
