"""Two at two browsers: a drafter sends a drawing for check, a checker releases it, the drafter goes on with
the next revision."""

import hashlib
from pathlib import Path
from typing import Any

import pypdf
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_versions import bar, start_drawing


def texts(drafter: Drafter) -> list[str]:
    return [a["text"] for a in drafter.sheet["annotations"] if a["text"][:1] in "Ø123456789"]


def words(path: Path) -> str:
    return " ".join("".join(p.extract_text() for p in pypdf.PdfReader(path).pages).split())


def test_a_drawing_goes_to_the_checker_is_released_and_goes_on_as_the_next_revision(
    page: Page, browser: Browser, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "race bar.step", 90, 14, (20, 8)))
    (view,) = drafter.views()

    def circle() -> Any:
        return next(c for c in drafter.curves(view) if c["kind"] == "arc" and c["visible"])

    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, circle(), 0.3)], drafter.beside(view, 15, 12)) == "Ø14"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    state = page.locator("[data-test=state-pill]")
    expect(state).to_have_text("in work")
    state.click()
    page.locator("[data-test=state-note]").fill("for the shop")
    page.locator("[data-test=state-check]").click()
    expect(page.locator("[data-test=revision-state]")).to_have_text("for check")
    expect(page.locator("[data-test=state-released]")).to_have_count(1)  # an owner may
    page.locator("[data-test=revisions-close]").click()
    # nothing can be changed now, and it is said
    page.keyboard.press("Control+z")
    expect(page.locator("[data-test=problem]")).to_contain_text("take it back to work")

    # the checker, in a browser of their own
    with browser.new_context(viewport={"width": 1280, "height": 800}) as other:
        checker = Drafter(other.new_page(), server)
        checker.log_in("tarn")
        checker.page.goto(page.url)
        expect(checker.page.locator("[data-test=state-pill]")).to_have_text("for check")
        checker.page.locator("[data-test=state-pill]").click()
        expect(checker.page.locator("[data-test=revisions]")).to_contain_text("for the shop")
        expect(checker.page.locator("[data-test=state-check]")).to_have_count(0)
        checker.page.locator("[data-test=state-released]").click()
        expect(checker.page.locator("[data-test=revision-state]")).to_have_text("released")
        expect(checker.page.locator("[data-test=release-A]")).to_contain_text("M. Tarn")

    # released files are the same bytes for whoever asks
    page.reload()
    expect(state).to_have_text("A, released")
    state.click()
    got = []
    for _ in range(2):
        with page.expect_download() as download:
            page.locator("[data-test=released-pdf]").click()
        got.append(download.value.path().read_bytes())
    assert got[0] == got[1]
    told = page.locator("[data-test=released-pdf]").get_attribute("title") or ""
    assert hashlib.sha256(got[0]).hexdigest() in told
    assert "M. Tarn" in words(download.value.path())

    # the next revision
    note = page.locator("[data-test=state-note]")
    page.locator("[data-test=state-work]").click()
    expect(page.locator("[data-test=revision-problem]")).to_contain_text("what the revision changes")
    note.fill("bore sized from the edge")
    page.locator("[data-test=state-work]").click()
    expect(state).to_have_text("B, in work")
    page.locator("[data-test=revisions-close]").click()
    page.keyboard.press("s")
    low = min(
        (
            c
            for c in drafter.curves(view)
            if c["kind"] == "line" and c["visible"] and c["data"][1] == c["data"][3]
        ),
        key=lambda c: c["data"][1],
    )
    assert drafter.size([drafter.on_curve(view, low)], drafter.beside(view, 0.1, -12)) == "90"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    state.click()
    changed = page.locator("[data-test=difference]", has_text="90")
    expect(changed).to_contain_text("none → 90")
    expect(page.locator("[data-test=overlay] .new text").first).to_be_attached()
    page.locator("[data-test=clouds]").click()
    drafter.until(lambda: any(a["text"] == "revision B" for a in drafter.sheet["annotations"]))
    with page.expect_download() as download:
        page.locator("[data-test=compare-pdf]").click()
    assert "none → 90" in words(download.value.path())
    changed.click()
    expect(page.locator("[data-test=size-text]")).to_have_text("90")
    page.keyboard.press("Escape")
    published = words(drafter.publish("pdf").path())
    assert "bore sized from the edge" in published
    assert sorted(texts(drafter)) == ["1 revision", "90", "Ø14"]
