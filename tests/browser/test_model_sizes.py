"""Sizes both ways by hand: the model's numbers brought from a list, one set on the model, the drawing brought
along."""

import json
from pathlib import Path

import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_versions import start_drawing

WEDGE = {
    "moorcrest": "part",
    "version": 1,
    "name": "Sluice wedge",
    "properties": {"number": "SW-7"},
    "parameters": {"long": 80, "tall": 24},
    "features": [
        {"id": "base", "kind": "extrude", "profile": {"width": "long", "height": 36}, "depth": "tall"},
        {"id": "bore", "kind": "hole", "plane": {"origin": [0, 0, "tall"]}, "diameter": 11},
    ],
}


def test_numbers_are_brought_and_one_is_set_on_the_model(page: Page, server: Server, tmp_path: Path) -> None:
    drafter = Drafter(page, server)
    file = tmp_path / "sluice wedge.json"
    file.write_text(json.dumps(WEDGE))
    start_drawing(drafter, file)

    # the list, lit in the view; one is left out
    page.keyboard.press("4")
    page.keyboard.press("Shift+M")
    rows = page.locator("[data-test^='model-size-']")
    expect(rows.first).to_be_visible(timeout=60_000)
    expect(page.locator("[data-test=model-sizes-bring]")).to_be_enabled()
    ghosts = page.locator("[data-test=model-ghost]")
    shown = ghosts.count()
    assert shown >= 2
    long = page.locator("[data-test=model-size-long]")
    expect(long).to_contain_text("80")
    long.locator("input").uncheck()
    page.mouse.move(640, 400)
    expect(ghosts).to_have_count(shown - 1)
    page.locator("[data-test=model-sizes-bring]").click()
    expect(page.get_by_text("sizes brought from the model")).to_be_visible()
    expect(page.locator("[data-annotation] text", has_text="80")).to_have_count(0)

    # again: only the one that was left out
    page.keyboard.press("Shift+M")
    expect(page.locator("[data-test=model-sizes-bring]")).to_have_text("Bring 1")
    page.locator("[data-test=model-sizes-bring]").click()
    size = page.locator("[data-annotation]", has_text="80")
    expect(size).to_be_visible()
    page.keyboard.press("Shift+M")
    expect(page.locator("[data-test=model-size-left]").first).to_contain_text("on the drawing already")
    page.keyboard.press("Escape")
    expect(page.locator("[data-test=model-sizes]")).to_have_count(0)

    # set on the model: refused in a sentence, then done
    box = size.locator("text").first.bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    field = (
        page.locator("[data-test=model-value]")
        .locator("input")
        .or_(page.locator("input[data-test=model-value]"))
    )
    field.fill("0")
    field.press("Enter")
    expect(page.locator("[data-test=model-value-problem]")).to_have_text("A size is a number above 0.")
    field.fill("92,5")
    field.press("Enter")
    expect(page.locator("[data-test=model-value-done]")).to_contain_text(
        "The long is 92.5 in version 2", timeout=60_000
    )
    expect(page.locator("[data-test=version-pill]")).to_contain_text("the model has moved on")
    page.locator("[data-test=version-pill]").click()
    expect(page.locator("[data-test=along-changed]")).to_contain_text("92,5")
    page.locator("[data-test=along-do]").click()
    expect(page.locator("[data-annotation] text", has_text="92,5")).to_be_visible()
    drafter.settled()

    # a size carried to another view by its number
    (front,) = drafter.views()
    position = {"x": front["position"]["x"] + 150, "y": front["position"]["y"]}
    view = {"id": "beside", "parent": front["id"], "relation": "right", "position": position}
    drafter.edit({"command": "place_projected_view", **view})
    box = page.locator("[data-annotation] text", has_text="24").first.bounding_box()
    assert box
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(*drafter.pixels(position["x"] - 20, position["y"]), steps=4)
    page.mouse.move(*drafter.pixels(position["x"], position["y"] + 2), steps=4)
    page.mouse.up()

    def is_carried() -> bool:
        kept = drafter.drawing["document"]["sheets"][0]["annotations"]
        return any(a["anchor"].get("view") == "beside" for a in kept)

    drafter.until(is_carried)
    drafter.settled()
    words = "".join(p.extract_text() for p in pypdf.PdfReader(drafter.publish("pdf").path()).pages)
    assert "92,5" in words
    assert "24" in words


def test_a_file_with_a_known_number_is_made_the_next_version_and_all_is_brought_along(
    page: Page, server: Server, tmp_path: Path
) -> None:
    """From the shelf: asked, not done by itself; it says which drawings are behind until they are not."""
    drafter = Drafter(page, server)
    pin = {
        **WEDGE,
        "name": "Race pin",
        "properties": {"number": "SW-9"},
        "parameters": {"long": 60, "tall": 18},
    }
    first, later = tmp_path / "race pin.json", tmp_path / "race pin, longer.json"
    first.write_text(json.dumps(pin))
    later.write_text(json.dumps({**pin, "parameters": {"long": 66, "tall": 18}}))
    start_drawing(drafter, first)
    page.keyboard.press("4")
    page.keyboard.press("Shift+M")
    page.locator("[data-test=model-sizes-bring]").click(timeout=60_000)
    expect(page.locator("[data-annotation] text", has_text="60")).to_be_visible()
    desk = page.url

    page.goto(server.url)
    drafter.drop(later)
    job = page.locator("[data-test=job]", has_text=later.name).first
    expect(job).to_have_attribute("data-state", "done", timeout=60_000)
    job.locator("[data-test=job-adopt]").click()
    taken = page.locator("[data-test=job]", has_text="as a version of")
    expect(taken).to_have_attribute("data-state", "done", timeout=60_000)
    page.get_by_role("tab", name="Drawings").click()
    card = page.locator("[data-test=drawing-card]", has_text="Race pin")
    expect(card.locator("[data-test=behind]")).to_have_text("model has moved on", timeout=60_000)

    page.locator("[data-test=tab-models]").click()
    page.locator("[data-test=model-card]", has_text="Race pin").click()
    expect(page.locator("[data-test=outdated]")).to_contain_text(
        "An earlier version is shown by SW-9 Race pin"
    )
    page.locator("[data-test=bring-all]").click()
    expect(page.locator("[data-test=brought-all]")).to_have_text("1 drawing brought along.", timeout=60_000)
    expect(page.locator("[data-test=outdated]")).to_have_count(0)
    page.goto(server.url)
    expect(card).to_have_count(1)
    expect(card.locator("[data-test=behind]")).to_have_count(0)
    page.goto(desk)
    drafter.settled()
    expect(page.locator("[data-annotation] text", has_text="66")).to_be_visible()
    words = "".join(p.extract_text() for p in pypdf.PdfReader(drafter.publish("pdf").path()).pages)
    assert "66" in words
