"""Assemblies at their pages and on the desk: files dropped together, parts dragged apart, parts of a view,
sizes of the mates."""

import io
import json
import math
import re
from pathlib import Path
from typing import Any

import pypdf
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.step_sets import write_set


def test_files_of_an_assembly_dropped_together_become_one_model(
    page: Page, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    write_set(tmp_path)
    page.locator("input[type=file]").set_input_files(tmp_path / "rack.step")
    expect(page.locator("[data-test=job]").first).to_contain_text("refers to the files")
    expect(page.locator("[data-test=job]").first).to_contain_text(
        "drop all its files together, or as one zip"
    )
    page.locator("input[type=file]").set_input_files(sorted(tmp_path.glob("*.st*p")))
    page.locator("[data-test=job-open]").first.click()
    expect(page.get_by_role("heading", name="Rack")).to_be_visible()
    expect(page.locator("[data-test=components]")).to_contain_text("Peg")
    row = page.locator("[data-test^=part-row]").filter(has_text="Peg")
    expect(row).to_contain_text("3")
    row.click()
    mass = page.locator("[data-test=part-stated_mass]")
    mass.fill("a lot")
    mass.press("Enter")
    expect(page.get_by_role("alert")).to_contain_text("is not a mass in kg")
    mass.fill("0,02")
    mass.press("Enter")
    expect(page.locator("[data-test=part-mass]")).to_have_text("20 g")


def test_parts_are_chosen_and_dragged_apart_in_the_preview(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    model = next(m["id"] for m in drafter.get("/api/models") if m["number"] == "HB-220")
    page.goto(f"{server.url}/models/{model}")
    preview, panel = page.locator("[data-test=preview]"), page.locator("[data-test=exploded]")
    expect(preview).to_have_attribute("data-state", "ready")
    panel.get_by_text("Empty state").click()
    drafter.until(lambda: len(drafter.get(f"/api/models/{model}")["exploded"]) == 1)
    page.get_by_role("button", name="Front").click()
    panel.locator("[data-test=drag-parts]").click()
    page.locator("[data-test=components]").get_by_text("Sluice winder (67)").first.click()
    expect(panel).to_contain_text("67 parts: drag an arrow")

    box = preview.bounding_box()
    assert box
    arrows = json.loads(preview.get_attribute("data-arrows") or "[]")
    assert len(arrows) == 4  # those that point at the viewer or away from him cannot be dragged
    x, y = next(a["at"] for a in arrows if a["way"] == [0, 0, 1])
    x, y = box["x"] + x, box["y"] + y
    before = preview.locator("canvas").screenshot()
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y - 30, steps=4)
    drafter.until(
        lambda: preview.locator("canvas").screenshot() != before
    )  # they follow the pointer before they are let go
    assert drafter.get(f"/api/models/{model}")["exploded"][0]["steps"] == []
    page.mouse.move(x, y - 60, steps=4)
    page.mouse.up()
    drafter.until(lambda: len(drafter.get(f"/api/models/{model}")["exploded"][0]["steps"]) == 1)
    (step,) = drafter.get(f"/api/models/{model}")["exploded"][0]["steps"]
    assert step["direction"] == [0, 0, 1]
    assert step["distance"] == round(step["distance"]) > 20
    assert len(step["instances"]) == 67
    assert len({p.split("/")[0] for p in step["instances"]}) == 1
    expect(panel.locator("li")).to_have_count(1)

    # taken back, and done again by hand
    page.keyboard.press("Control+z")
    drafter.until(lambda: drafter.get(f"/api/models/{model}")["exploded"][0]["steps"] == [])

    # a click in the picture chooses the part there
    page.locator("[data-test=components]").get_by_text("Sill plate").click()
    expect(panel).to_contain_text("Sill plate: drag an arrow")
    heads = [a["at"] for a in json.loads(preview.get_attribute("data-arrows") or "[]")]
    middle = (
        box["x"] + sum(h[0] for h in heads) / len(heads),
        box["y"] + sum(h[1] for h in heads) / len(heads),
    )
    page.mouse.click(box["x"] + 5, box["y"] + 5)
    expect(panel).to_contain_text("Click a part")
    page.mouse.click(*middle)
    expect(panel).to_contain_text("Sill plate: drag an arrow")


def test_an_assembly_of_assemblies_is_drawn_part_by_part_with_the_sizes_of_its_mates(
    page: Page, server: Server
) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    model = next(m["id"] for m in drafter.get("/api/models") if m["number"] == "HB-220")
    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    headers = {"X-CSRFToken": token, "Referer": server.url}
    drawing = page.request.post(f"{server.url}/api/drawings", data={"model": model}, headers=headers).json()
    page.goto(f"{server.url}/drawings/{drawing['id']}")
    sheet = drawing["document"]["sheets"][0]["id"]
    drafter.edit({"command": "change_sheet", "sheet": sheet, "size": "A2", "scale": {"drawn": 1, "true": 5}})
    front = {"right": [1, 0, 0], "up": [0, 0, 1]}
    drafter.edit(
        {
            "command": "place_main_view",
            "id": "f",
            "sheet": sheet,
            "orientation": front,
            "position": {"x": 170, "y": 320},
        }
    )
    drafter.edit(
        {
            "command": "place_projected_view",
            "id": "t",
            "parent": "f",
            "relation": "below",
            "position": {"x": 170, "y": 160},
        }
    )
    drafter.settled()

    # what positions the parts, in one step that one undo takes back
    page.keyboard.press("Shift+M")
    expect(page.locator("[data-test=model-ghost]")).to_have_count(3)
    page.locator("[data-test=model-sizes-bring]").click()
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == 3)
    texts = [a["text"] for a in drafter.sheet["annotations"]]
    assert sorted(texts) == ["140", "560", "60°"]
    page.keyboard.press("Control+z")
    drafter.until(lambda: drafter.drawing["document"]["sheets"][0]["annotations"] == [])
    page.keyboard.press("Control+Shift+z")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == 3)
    page.keyboard.press("Shift+M")
    expect(page.locator("[data-test=model-sizes]")).to_contain_text("is on the drawing already")
    page.locator("[data-test=model-sizes-close]").click()

    # a whole winder left out by its tick, one part alone by the right button, all again
    def without() -> list[str]:
        found: list[str] = drafter.views()[0]["without"]
        return found

    view = drafter.views()[0]
    box, k = drafter.geometry(view), drafter.scale(view)
    drafter.click(
        view["position"]["x"] + box["low"][0] * k + 1, view["position"]["y"] + box["high"][1] * k - 1
    )
    tree = page.locator("[data-test=view-parts]")
    tree.locator("[data-test='part-winder-2/']").click()
    drafter.until(lambda: len(without()) == 67)
    assert all(p.startswith("winder-2/") for p in without())
    drafter.settled()
    left = drafter.geometry(drafter.views()[0])
    assert not any(left["instances"][c["instance"]].startswith("winder-2/") for c in left["curves"])
    page.locator("[data-test=show-all-parts]").click()
    drafter.until(lambda: without() == [])
    drafter.settled()
    curves = drafter.geometry(drafter.views()[0])
    bar = next(
        c
        for c in curves["curves"]
        if curves["instances"][c["instance"]] == "sill" and c["visible"] and c["kind"] == "line" and _level(c)
    )
    at = drafter.pixels(*drafter.on_curve(view, bar, 0.3))
    page.mouse.click(*at, button="right")
    page.get_by_role("menuitem", name="Show only sill").click()
    drafter.until(lambda: len(without()) == 151)
    page.keyboard.press("Control+z")
    drafter.until(lambda: without() == [])
    drafter.settled()

    # hidden lines of one part, and how the rest stays
    tree.locator("xpath=ancestor::aside").locator("[data-test=part-aspect]").click()
    page.get_by_role("option", name="hidden lines").click()
    tree.locator("[data-test='part-winder-1/']").click()
    drafter.until(lambda: len(drafter.views()[0]["no_hidden"]) == 67)

    # balloons, numbered clockwise, in the list and the file
    page.keyboard.press("Shift+P")
    drafter.until(
        lambda: (
            len(
                [
                    a
                    for a in drafter.drawing["document"]["sheets"][0]["annotations"]
                    if a["kind"] == "parts_list"
                ]
            )
            == 1
        )
    )
    drafter.click(
        view["position"]["x"] + box["low"][0] * k + 1, view["position"]["y"] + box["high"][1] * k - 1
    )
    page.keyboard.press("Shift+N")
    drafter.until(
        lambda: any(a["kind"] == "balloon" for a in drafter.drawing["document"]["sheets"][0]["annotations"])
    )
    page.keyboard.press("Shift+G")
    balloons = [a for a in drafter.drawing["document"]["sheets"][0]["annotations"] if a["kind"] == "balloon"]

    def clockwise() -> bool:
        numbers = {
            a["id"]: int(re.findall(r">(\d+)<", a["svg"])[0])
            for a in drafter.sheet["annotations"]
            if a["id"] in {b["id"] for b in balloons}
        }
        place = {b["id"]: (b["place"]["model"]["x"], b["place"]["model"]["y"]) for b in balloons}
        xs, ys = zip(*place.values(), strict=True)
        middle = ((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)
        angles = [
            math.atan2(place[i][1] - middle[1], place[i][0] - middle[0])
            for i in sorted(numbers, key=lambda i: numbers[i])
        ]
        turns = [(a - b) % (2 * math.pi) for a, b in zip(angles, angles[1:], strict=False)]
        return sorted(numbers.values()) == list(range(1, len(numbers) + 1)) and sum(turns) < 2 * math.pi

    drafter.until(clockwise)
    text = (
        pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes())).pages[0].extract_text()
    )
    for word in ("560", "60°", "Sill plate", "HB-222", "Locking bar"):
        assert word in text


def _level(c: dict[str, Any]) -> bool:
    return abs(c["data"][1] - c["data"][3]) < 1e-6 and abs(c["data"][0] - c["data"][2]) > 100
