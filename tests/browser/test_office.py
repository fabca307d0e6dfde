"""What an office sets up once and a drafter does before the first size: house style and frame, sheets,
materials, centers."""

import io
import json
from pathlib import Path
from typing import Any

import ezdxf
import pypdf
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_views import at, opened


def choose(page: Page, select: str, option: str) -> None:
    page.click(f"[data-test={select}]")
    page.get_by_role("option", name=option, exact=True).click()


def test_an_office_makes_its_own_style_from_a_built_in_one_and_a_drawing_takes_it(
    page: Page, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    page.goto(f"{server.url}/styles/iso-mm")
    expect(page.get_by_text("A built-in style stays as it is")).to_be_visible()
    page.click("[data-test=style-copy]")
    page.wait_for_url("**/styles/*-*-*-*-*")
    page.fill("[data-test=style-name]", "Beck workshop")
    page.keyboard.press("Enter")
    row = page.locator("[data-test=value-label_height]")
    row.locator("input").fill("7")
    row.locator("input").press("Enter")
    expect(row.locator(".own")).to_contain_text("5")
    expect(row).to_have_class("value departs")

    page.click("[data-test=tab-frame]")
    cells = page.locator("[data-test=frame-paper] rect.cell")
    expect(cells).to_have_count(19)
    owner = page.locator("rect.cell[aria-label=Owner]")
    owner.click()
    page.click("[data-test=split-columns]")
    expect(cells).to_have_count(20)
    page.locator("rect.cell[aria-label='empty cell']").click()
    choose(page, "cell-kind", "the logo")
    svg = tmp_path / "mill.svg"
    svg.write_text('<svg xmlns="http://www.w3.org/2000/svg"><circle cx="20" cy="20" r="20"/></svg>')
    bad = tmp_path / "bad.svg"
    bad.write_text('<svg xmlns="http://www.w3.org/2000/svg"><script>x()</script><circle r="20"/></svg>')
    page.set_input_files("[data-test=logo-file]", bad)
    expect(page.locator("[data-test=style-problem]")).to_contain_text("script")
    page.set_input_files("[data-test=logo-file]", svg)
    expect(page.locator("[data-test=style-said]")).to_have_text("The logo is in")
    expect(page.locator("[data-test=frame-paper] image")).to_have_count(1)
    # a cell that says what the shop wants to know, made of two
    page.locator("rect.cell[aria-label=Units]").click()
    page.locator("rect.cell[aria-label=Size]").click(modifiers=["Shift"])
    page.click("[data-test=merge-cells]")
    expect(cells).to_have_count(19)
    choose(page, "cell-kind", "fixed text")
    page.fill("[data-test=cell-text]", "DO NOT SCALE")
    page.keyboard.press("Enter")
    page.click("[data-test=style-keep]")
    expect(page.locator("[data-test=style-said]")).to_contain_text("Kept")
    with page.expect_download() as download:
        page.click("[data-test=style-export]")
    sent = json.loads(Path(download.value.path()).read_text())
    assert (sent["name"], sent["profile"]["label_height"]) == ("Beck workshop", 7)
    assert [c["text"] for c in sent["frames"][0]["block"]["cells"] if c["text"]] == ["DO NOT SCALE"]

    model = next(m for m in drafter.get("/api/models") if m["number"] == "HB-204")
    page.goto(f"{server.url}/models/{model['id']}")
    page.click(".style")
    page.get_by_role("option", name="Beck workshop").click()
    page.click("[data-test=start-drawing]")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    drafter.place(130, 200)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    # a cell filled in where it stands
    cell = next(c for c in drafter.sheet["cells"] if c["field"] == "checked_by")
    page.mouse.dblclick(
        *drafter.pixels(cell["left"] + cell["width"] / 2, cell["bottom"] + cell["height"] / 2)
    )
    page.fill("[data-test=fill-cell]", "M. Garth")
    page.keyboard.press("Enter")
    drafter.until(lambda: drafter.drawing["document"]["fields"]["checked_by"] == "M. Garth")
    pdf = pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes())).pages[0]
    text = pdf.extract_text()
    assert "DO NOT SCALE" in text
    assert "M. Garth" in text
    assert "approved by" not in text  # the pale words of an empty cell stay on the desk
    (logo,) = pdf.images
    with Image.open(io.BytesIO(logo.data)) as picture:
        assert picture.width == pytest.approx(picture.height, rel=0.02)


def test_sheets_are_put_in_order_and_each_part_gets_its_own(page: Page, server: Server) -> None:
    drafter = opened(page, server, "HB-200")
    page.keyboard.press("Escape")
    page.keyboard.press("1")
    page.keyboard.press("k")
    strip = page.locator("[data-test=strip] .sheet")
    expect(strip).to_have_count(1)
    expect(page.locator("[data-test=part-sheets]")).to_be_visible()  # also before the first view
    page.keyboard.press("m")
    drafter.place(150, 180)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.click("[data-test=part-sheets]")
    parts = len({c["part"] for c in _instances(drafter)})
    expect(strip).to_have_count(1 + parts)
    names = [s["name"] for s in drafter.drawing["document"]["sheets"]]
    # the third is dragged before the second
    third, second = strip.nth(2).bounding_box(), strip.nth(1).bounding_box()
    assert third
    assert second
    page.mouse.move(third["x"] + 40, third["y"] + 40)
    page.mouse.down()
    page.mouse.move(second["x"] + 10, second["y"] + 40, steps=6)
    page.mouse.up()
    drafter.until(
        lambda: [s["name"] for s in drafter.drawing["document"]["sheets"]][1:3] == [names[2], names[1]]
    )
    page.keyboard.press("Control+z")
    drafter.until(lambda: [s["name"] for s in drafter.drawing["document"]["sheets"]] == names)
    # renamed where it stands, copied, and the copy removed
    strip.nth(1).dblclick()
    page.locator("[data-test=strip] input").fill("Cheek")
    page.keyboard.press("Enter")
    drafter.until(lambda: drafter.drawing["document"]["sheets"][1]["name"] == "Cheek")
    strip.nth(1).hover()
    page.click("[data-test=sheet-menu-2]")
    page.get_by_role("menuitem", name="Copy", exact=True).click()
    expect(strip).to_have_count(2 + parts)
    strip.nth(2).hover()
    page.click("[data-test=sheet-menu-3]")
    menu = page.get_by_role("menu", name="What can be done with sheet 3")
    menu.get_by_role("menuitem", name="Remove", exact=True).click()
    expect(strip).to_have_count(1 + parts)
    strip.nth(1).click()
    drafter.sheet_number = 1
    drafter.until(
        lambda: drafter.sheet and page.locator("[data-test=sheets]").inner_text().startswith("sheet 2")
    )
    drafter.settled()
    expect(strip.nth(1).locator("img")).to_have_count(1)
    # a view dragged onto another sheet of the strip
    view = drafter.views()[0]
    g, k = drafter.geometry(view), drafter.scale(view)
    page.mouse.move(*drafter.pixels(*at(view, g["low"][0] - 3 / k, g["low"][1] - 3 / k, k)))
    page.mouse.down()
    box = strip.nth(0).bounding_box()
    assert box
    page.mouse.move(box["x"] + 50, box["y"] + 40, steps=8)
    page.mouse.up()
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["views"]) == 2)
    page.keyboard.press("Control+z")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["views"]) == 1)
    reader = pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes()))
    assert len(reader.pages) == 1 + parts
    assert f"2 / {1 + parts}" in reader.pages[1].extract_text()


def _instances(drafter: Drafter) -> list[Any]:
    page = drafter.get(f"/api/models/{drafter.drawing['model']}")
    return [{"part": p["key"]} for p in page["parts"]]


def test_centers_are_found_placed_dragged_and_carried(page: Page, server: Server) -> None:
    drafter = opened(page, server, "HB-204")
    drafter.place(130, 200)
    drafter.place(130, 95)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    front, plan = drafter.views()
    scale = drafter.scale(front)
    page.keyboard.press("3")
    expect(page.locator("[data-test=stage-3]")).to_contain_text("unmarked")

    # one mark by hand on the bore, its upper end dragged 10 mm further, carried to the plan as an axis
    bore = next(
        c
        for c in drafter.curves(front)
        if c["kind"] == "arc" and c["visible"] and c["data"][2] == pytest.approx(20)
    )
    page.keyboard.press("o")
    drafter.point(*drafter.on_curve(front, bore, 0.13))
    expect(page.locator("[data-test=in-hand] path")).not_to_have_count(0)
    drafter.click(*drafter.on_curve(front, bore, 0.13))
    drafter.until(lambda: len(drafter.sheet["annotations"]) == 1)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    x, y = at(front, bore["data"][0], bore["data"][1], scale)
    reach = 20 * scale + 3
    drafter.click(x + reach - 1, y)
    top = page.locator("[data-end='1']")
    expect(top).to_be_visible()
    page.mouse.move(*drafter.pixels(x, y + reach))
    page.mouse.down()
    page.mouse.move(*drafter.pixels(x, y + reach + 10), steps=5)
    page.mouse.up()
    drafter.until(lambda: drafter.drawing["document"]["sheets"][0]["annotations"][0]["past"])
    past = drafter.drawing["document"]["sheets"][0]["annotations"][0]["past"]
    assert past[1] == pytest.approx(13, abs=0.4)
    assert [past[0], *past[2:]] == [None, None, None]
    page.click("[data-test=carry]")
    drafter.until(
        lambda: (
            [a["kind"] for a in drafter.drawing["document"]["sheets"][0]["annotations"]]
            == ["center_mark", "center_line"]
        )
    )
    page.keyboard.press("Control+z")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == 1)

    # a bolt circle from three of the four screws
    screws = [
        c
        for c in drafter.curves(front)
        if c["kind"] == "arc" and c["visible"] and c["edge_class"] == "sharp" and c["data"][2] < 3
    ]
    page.keyboard.press("y")
    expect(page.locator("[data-test=prompt]")).to_contain_text("three holes or more")
    for c in screws[:3]:
        drafter.click(*drafter.on_curve(front, c, 0.3))
    expect(page.locator("[data-test=prompt]")).to_contain_text("3 holes")
    page.keyboard.press("Enter")
    drafter.until(
        lambda: any(
            a["kind"] == "bolt_circle" for a in drafter.drawing["document"]["sheets"][0]["annotations"]
        )
    )
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    # all circles from 100 mm on: there are none, so only axes come
    page.keyboard.press("o")
    page.locator("[data-test=least] input").fill("100")
    page.locator("[data-test=least] input").press("Enter")
    page.click("[data-test=all-centers]")
    drafter.until(
        lambda: any(
            a["kind"] == "center_line" for a in drafter.drawing["document"]["sheets"][0]["annotations"]
        )
    )
    assert (
        sum(a["kind"] == "center_mark" for a in drafter.drawing["document"]["sheets"][0]["annotations"]) == 1
    )
    page.click("[data-test=undo]")
    page.locator("[data-test=least] input").fill("0")
    page.locator("[data-test=least] input").press("Enter")
    page.mouse.click(*drafter.pixels(300, 250))
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == 2)

    # and everything else of the sheet in one step
    before = len(drafter.drawing["document"]["sheets"][0]["annotations"])
    page.keyboard.press("t")
    expect(page.locator("[data-test=stage-3]")).to_contain_text("all marked")
    now = len(drafter.drawing["document"]["sheets"][0]["annotations"])
    assert now > before + 3
    page.keyboard.press("Control+z")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == before)
    page.keyboard.press("Control+Shift+z")
    drafter.until(lambda: len(drafter.drawing["document"]["sheets"][0]["annotations"]) == now)

    model = ezdxf.read(io.StringIO(Path(drafter.publish("dxf").path()).read_text())).modelspace()
    arcs = model.query("ARC CIRCLE[layer=='Center']")
    assert {round(e.dxf.radius, 4) for e in arcs} == {31.0 * scale}  # the recipe's pitch circle of 62
    assert len(model.query("LINE[layer=='Center']")) > 20
    assert plan["id"] in {
        a["anchor"]["view"] for a in drafter.drawing["document"]["sheets"][0]["annotations"]
    }


def test_a_material_of_the_office_gives_a_part_its_mass(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    page.goto(f"{server.url}/materials")
    page.fill("[data-test=material-name]", "beck bronze")
    page.fill("[data-test=material-density]", "800")
    page.click("[data-test=material-add]")
    expect(page.get_by_role("alert")).to_contain_text("cannot be")
    page.fill("[data-test=material-density]", "8.5")
    page.fill("[data-test=material-source]", "weighed")
    page.click("[data-test=material-add]")
    expect(page.get_by_role("cell", name="beck bronze", exact=True)).to_be_visible()
    model = next(m for m in drafter.get("/api/models") if m["number"] == "HB-207")
    volume = drafter.get(f"/api/models/{model['id']}")["parts"][0]["volume"]
    page.goto(f"{server.url}/models/{model['id']}")
    page.click("[data-test=part-material]")
    page.keyboard.type("beck bronze")
    page.get_by_role("option", name="beck bronze").click()
    drafter.until(lambda: drafter.get(f"/api/models/{model['id']}")["mass"] == pytest.approx(volume * 8.5e-6))
    grams = volume * 8.5e-3
    expect(page.locator("[data-test=part-mass]")).to_contain_text(f"{grams:.0f} g" if grams < 1000 else "kg")
