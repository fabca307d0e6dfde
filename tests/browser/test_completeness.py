"""From a file of somebody else to a drawing that says all: what is missing is lit, named and given."""

from pathlib import Path
from typing import Any

import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_versions import bar, start_drawing


def test_a_drafter_gives_what_is_missing_until_all_is_said(
    page: Page, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "lock bar.step", 90, 16, (20, 8)))
    (view,) = drafter.views()
    state, rail = page.locator("[data-test=said-state]"), page.locator("[data-test=stage-8]")
    page.keyboard.press("8")
    expect(state).to_have_text("6 numbers are missing")
    expect(page.locator("[data-test=gap-0]")).to_contain_text("Nothing is sized yet")

    def lines(axis: int) -> list[Any]:
        """Level edges from below, or upright ones from the left."""
        found = [
            c for c in drafter.curves(view)
            if c["kind"] == "line" and c["visible"] and abs(c["data"][1 - axis] - c["data"][3 - axis]) < 1e-6
        ]  # fmt: skip
        return sorted(found, key=lambda c: c["data"][1 - axis])

    def circle() -> Any:
        return next(c for c in drafter.curves(view) if c["kind"] == "arc" and c["visible"])

    low, left, hole = lines(0)[0], lines(1)[0], circle()
    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, low)], drafter.beside(view, 0.1, -22)) == "90"
    assert drafter.size([drafter.on_curve(view, left, 0.2)], drafter.beside(view, -22, 0)) == "60"
    assert drafter.size([drafter.on_curve(view, hole, 0.3)], drafter.beside(view, 15, 12)) == "Ø16"
    across = [drafter.on_curve(view, left, 0.2), drafter.on_curve(view, hole, 0.3)]
    assert drafter.size(across, drafter.beside(view, 0.1, -12)) == "65"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("8")

    # two are left: pointed at, one sways along its arrow; the other cannot be seen in this view
    expect(state).to_have_text("2 numbers are missing")
    expect(rail).to_contain_text("2 to say")
    up = page.locator("[data-test^=gap-]", has_text="How far the axis of the Ø16 hole lies from")
    expect(up).to_have_count(1)
    expect(page.locator("[data-test=unsaid]")).to_have_count(1)
    expect(page.locator("[data-test=sways]")).to_have_count(0)
    up.hover()
    expect(page.locator("[data-test=sways]")).to_have_count(1)
    page.mouse.move(5, 5)
    drafter.point(*drafter.on_curve(view, hole, 0.6))
    expect(page.locator("[data-test=sways]")).to_have_count(1)
    expect(up).to_have_class("one on")

    page.keyboard.press("s")
    upward = [drafter.on_curve(view, low), drafter.on_curve(view, hole, 0.3)]
    assert drafter.size(upward, drafter.beside(view, -12, 0)) == "38"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    expect(state).to_have_text("1 number is missing")
    page.keyboard.press("p")
    drafter.click(*drafter.on_curve(view, low))
    drafter.place(view["position"]["x"], view["position"]["y"] - 95)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    drafter.settled()
    view = next(v for v in drafter.views() if v["id"] != view["id"])
    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, lines(1)[0], 0.2)], drafter.beside(view, -12, 0)) == "40"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    expect(state).to_have_text("Every number of the part is given, and none twice.")
    expect(rail).not_to_contain_text("to say")

    # said again in full it is there twice, until it is for reference
    page.keyboard.press("s")
    drafter.click(*drafter.on_curve(view, lines(0)[0]))
    drafter.point(*drafter.beside(view, 0.1, -12))
    page.keyboard.press("f")
    page.keyboard.press("Enter")
    drafter.until(lambda: len(drafter.sheet["annotations"]) == 7)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("8")
    twice = page.locator("[data-test^=twice-]")
    expect(twice).to_contain_text("90 follows from 90. Any one of these may go.")
    twice.get_by_text("For reference").click()
    expect(state).to_have_text("Every number of the part is given, and none twice.")
    words = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert all(said in words for said in ("Ø16", "65", "38", "40", "(90)"))


def test_a_part_is_drawn_from_nothing_by_proposal(page: Page, server: Server, tmp_path: Path) -> None:
    """A file in, the standard set, centers, what is proposed, the check green, a PDF out."""
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.drop(bar(tmp_path / "sluice bar.step", 95, 18, (20, 8)))
    job = page.locator("[data-test=job]", has_text="sluice bar.step").first
    expect(job).to_have_attribute("data-state", "done")
    job.locator("[data-test=job-open]").click()
    page.click("[data-test=start-drawing]")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    page.keyboard.press("n")
    drafter.point(130, 200)
    page.wait_for_function("() => document.querySelectorAll('[data-test=ghost] path').length >= 3")
    drafter.click(130, 200)
    drafter.until(lambda: len(drafter.views()) >= 3)
    drafter.settled()
    page.keyboard.press("t")
    expect(page.locator("[data-test=stage-3]")).to_contain_text("all marked")

    page.keyboard.press("=")
    rows = page.locator("[data-test^='model-size-']")
    expect(rows.first).to_be_visible()
    expect(page.locator("[data-test=model-ghost]")).to_have_count(rows.count())
    shown = {t.split()[0] for t in rows.all_inner_texts()}
    assert len(shown) == 6  # three of the block, and where the hole is and how large
    assert shown > {"95", "60", "40", "Ø18"}
    # one that is dropped is missed, and proposed again
    rows.nth(1).locator("input").uncheck()
    page.locator("[data-test=model-sizes-bring]").click()
    page.keyboard.press("8")
    state = page.locator("[data-test=said-state]")
    expect(state).to_have_text("1 number is missing")
    page.keyboard.press("=")
    expect(rows).to_have_count(1)
    page.locator("[data-test=model-sizes-bring]").click()
    page.keyboard.press("8")
    expect(state).to_have_text("Every number of the part is given, and none twice.")
    page.keyboard.press("Control+z")
    expect(state).to_have_text("1 number is missing")
    page.keyboard.press("Control+Shift+z")
    expect(state).to_have_text("Every number of the part is given, and none twice.")
    words = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert all(said in words for said in ("Ø18", "95", "60", "40"))


def test_views_that_are_wanting_are_placed_in_a_click(page: Page, server: Server, tmp_path: Path) -> None:
    """One view of a block with a hole does not say all; the one that is wanting is placed from the list."""
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "wanting bar.step", 95, 18, (20, 8)))
    page.keyboard.press("=")
    wanted = page.locator("[data-test=wanted-view]")
    expect(wanted.first).to_contain_text("would show what is not given")
    before = len(drafter.views())
    page.locator("[data-test=add-wanted-view]").first.click()
    drafter.until(lambda: len(drafter.views()) == before + 1)
    drafter.settled()
    expect(page.locator("[data-test^='model-size-']").first).to_be_visible()
    expect(wanted).to_have_count(0)
    page.locator("[data-test=model-sizes-bring]").click()
    page.keyboard.press("8")
    expect(page.locator("[data-test=said-state]")).to_have_text(
        "Every number of the part is given, and none twice."
    )
    words = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert all(said in words for said in ("Ø18", "95", "60", "40"))
