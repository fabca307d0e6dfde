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
