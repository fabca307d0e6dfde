"""A checker's work at stage 8: from finding to finding, mended in a click or meant so; and what is
inspected."""

import io
import json
from pathlib import Path

import openpyxl
import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_versions import bar, start_drawing


def test_findings_are_gone_through_mended_and_meant(page: Page, server: Server, tmp_path: Path) -> None:
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "gate bar.step", 90, 16, (20, 8)))
    (view,) = drafter.views()
    low = min(
        (
            c for c in drafter.curves(view)
            if c["kind"] == "line" and c["visible"] and abs(c["data"][1] - c["data"][3]) < 1e-6
        ),
        key=lambda c: c["data"][1],
    )  # fmt: skip
    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, low)], drafter.beside(view, 0.1, -22)) == "90"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    size = drafter.sheet["annotations"][0]["id"]
    drafter.edit({"command": "change", "ids": [size], "values": {"wording": {"not_to_scale": True}}})
    page.reload()
    drafter.settled()
    page.keyboard.press("8")
    scale = page.locator("[data-test='found-not to scale']")
    centers = page.locator("[data-test=found-centers]")
    expect(scale).to_contain_text("90 is marked as not to scale.")
    expect(centers).to_contain_text("without a center")

    # from one to the next by its key, each lit
    lit = page.locator(".annotation.found")
    for _ in range(12):
        page.keyboard.press("n")
        page.wait_for_timeout(60)
        if lit.count():
            break
    expect(lit).to_have_count(1)
    expect(scale).to_have_class("one on")

    # mended in a click, and taken back
    centers.get_by_role("button", name="Center them").click()
    expect(centers).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(centers).to_have_count(1)
    centers.get_by_role("button", name="Center them").click()
    expect(centers).to_have_count(0)

    # meant so, with a reason, and counted
    counts = page.locator("[data-test=found-counts]")
    scale.locator("[data-test=meant]").click()
    page.locator("[data-test=meant-reason]").fill("The shop stretches it.")
    page.keyboard.press("Enter")
    expect(scale).to_contain_text("It is meant: The shop stretches it.")
    expect(counts).to_contain_text("1 meant so")

    # the size that a gap wants is proposed for it alone, and placed
    gap = page.locator("[data-test=said] [data-test^=gap-]", has_text="Ø16")
    before = page.locator("[data-test^=gap-]").count()
    gap.first.locator("xpath=..").get_by_role("button", name="Give the size").click()
    ghost = page.locator("[data-test=model-ghost]")
    expect(ghost).to_have_count(1)
    page.locator("[data-test=model-sizes-bring]").click()
    page.keyboard.press("8")
    expect(page.locator("[data-test^=gap-]")).to_have_count(before - 1)

    # a ghost that is clicked is dropped
    page.keyboard.press("=")
    expect(ghost.first).to_be_visible()
    many = ghost.count()
    box = ghost.first.locator("text").first.bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    expect(ghost).to_have_count(many - 1)
    page.locator("[data-test=model-sizes-close]").click()

    page.keyboard.press("8")
    with page.expect_download() as download:
        page.locator("[data-test=found-xlsx]").click()
    book = openpyxl.load_workbook(io.BytesIO(Path(download.value.path()).read_bytes()))
    lines = [tuple(line) for line in book.active.iter_rows(values_only=True)]  # type: ignore[union-attr]
    assert any(line[5] == "The shop stretches it." for line in lines)


def test_what_is_to_be_inspected_is_numbered_and_measured(page: Page, server: Server, tmp_path: Path) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    page.goto(server.url)
    drafter.open_card("HB-210")
    drafter.settled()
    page.keyboard.press("8")
    page.keyboard.press("+")
    page.locator("[data-test=number-now]").click()
    row = page.locator("[data-test^=characteristic-]")
    expect(row.first).to_be_visible()
    tags = page.locator("[data-kind=characteristic]")
    expect(tags).to_have_count(row.count())
    bore = page.locator("[data-test^=characteristic-]", has_text="Ø25 H7")
    expect(bore).to_contain_text("25 – 25,021")
    number = (bore.get_attribute("data-test") or "").rsplit("-", 1)[1]
    field = page.locator(f"[data-test=measured-{number}-1]")
    field = field if field.evaluate("e => e.tagName") == "INPUT" else field.locator("input")
    field.fill("25,03")
    field.press("Enter")
    verdict = page.locator(f"[data-test=verdict-{number}-1]")
    expect(verdict).to_have_text("out")
    expect(page.locator("[data-test=out]")).to_have_text("1 out")
    field.fill("25,02")
    field.press("Enter")
    expect(verdict).to_have_text("in")

    # the rest from a table, also of a second piece; a line that cannot be read keeps nothing
    table = tmp_path / "measured.csv"
    table.write_text(f"number;piece;measured\n{number};2;far\n")
    page.set_input_files("[data-test=readings-file]", table)
    expect(page.locator("[data-test=inspection-wrong]")).to_contain_text("Line 2: 'far' is no number.")
    table.write_text(f"number;piece;measured\n{number};2;25,4\n")
    page.set_input_files("[data-test=readings-file]", table)
    expect(page.locator(f"[data-test=verdict-{number}-2]")).to_have_text("out")
    with page.expect_download() as download:
        page.locator("[data-test=inspection-json]").click()
    data = json.loads(Path(download.value.path()).read_text())
    mine = next(c for c in data["characteristics"] if str(c["number"]) == number)
    assert [(p["piece"], p["measured"], p["is_in"]) for p in mine["pieces"]] == [
        ("1", 25.02, True),
        ("2", 25.4, False),
    ]

    # a tag is dragged, and keeps its number when the drawing changes
    drag = tags.first.locator("text").bounding_box()
    assert drag
    x, y = drag["x"] + drag["width"] / 2, drag["y"] + drag["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 12, y - 30, steps=4)
    page.mouse.move(x + 14, y - 34)
    page.mouse.up()
    drafter.until(lambda: abs((tags.first.locator("text").bounding_box() or drag)["y"] - drag["y"]) > 15)
    words = pypdf.PdfReader(drafter.publish("pdf").path()).pages[0].extract_text()
    assert "25 H7" in words
    for _ in range(2):
        page.keyboard.press("Control+z")
    drafter.until(lambda: not tags.count())
