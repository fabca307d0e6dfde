"""Two at two browsers on one drawing: a checker's red pencil, the drafter's answer, the edits of both."""

import time
from pathlib import Path

import pypdf
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_versions import bar, start_drawing


def test_findings_ticks_and_edits_reach_the_other_within_two_seconds(
    page: Page, browser: Browser, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "sill bar.step", 80, 14, (20, 8)))
    (view,) = drafter.views()
    hole = next(c for c in drafter.curves(view) if c["kind"] == "arc" and c["visible"])
    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, hole, 0.3)], drafter.beside(view, 15, 12)) == "Ø14"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    with browser.new_context(viewport={"width": 1280, "height": 800}) as other:
        checker = Drafter(other.new_page(), server)
        checker.log_in("tarn")
        checker.page.goto(page.url)
        checker.settled()
        expect(page.locator("[data-test=other]")).to_have_text("M. Tarn", timeout=5000)

        # a cloud, and what is wrong with it
        checker.page.keyboard.press("8")
        checker.page.locator("[data-test=action-pencilcloud]").click()
        x, y = view["position"]["x"], view["position"]["y"]
        checker.click(x - 30, y - 20)
        checker.click(x + 10, y + 10)
        checker.page.locator("[data-test=pencil-text]").fill("Where is the width?")
        started = time.monotonic()
        checker.page.locator("[data-test=pencil-say]").click()
        page.keyboard.press("8")
        expect(page.locator("[data-test=finding-1]")).to_contain_text("Where is the width?")
        assert time.monotonic() - started < 4  # with what the browsers take
        checker.page.locator("[data-test=pencil-panel] .link").click()

        # the size is ticked
        checker.page.locator("[data-test=action-ticking]").click()
        text = checker.page.locator("[data-annotation] text", has_text="Ø14")
        box = text.bounding_box()
        assert box
        checker.page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        expect(checker.page.locator("[data-test=ticked]")).to_have_text("1 of 1 sizes ticked")
        expect(page.locator("[data-test=ticked]")).to_have_text("1 of 1 sizes ticked")

        # the drafter goes to the finding by its key, sizes the width and answers
        page.keyboard.press("-")
        expect(page.locator("[data-test=pencil-panel]")).to_contain_text("Finding 1")
        page.keyboard.press("s")
        low = min(
            (c for c in drafter.curves(view) if c["kind"] == "line" and c["data"][1] == c["data"][3]),
            key=lambda c: c["data"][1],
        )
        assert drafter.size([drafter.on_curve(view, low)], drafter.beside(view, 0.1, -12)) == "80"
        expect(checker.page.locator("[data-annotation] text", has_text="80")).to_be_visible(timeout=5000)
        expect(checker.page.locator("[data-test=ticked]")).to_have_text("1 of 2 sizes ticked")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        page.keyboard.press("-")
        page.locator("[data-test=pencil-text]").fill("Sized now.")
        page.locator("[data-test=pencil-answered]").click()
        checker.page.locator("[data-test=finding-1]").click()
        expect(checker.page.locator("[data-test=pencil-panel]")).to_contain_text("Sized now.")
        checker.page.locator("[data-test=pencil-close]").click()
        expect(page.locator("[data-test=stage-8]")).not_to_contain_text("open")
    words = "".join(p.extract_text() for p in pypdf.PdfReader(drafter.publish("pdf").path()).pages)
    assert "80" in words
    assert "width" not in words
