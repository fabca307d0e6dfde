"""Parts list and balloons of the sluice winder, made with pointer and keys, and what leaves the office."""

import csv
import io
import itertools
import re
from pathlib import Path
from typing import Any

import openpyxl
import pypdf
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter


def balloons(drafter: Drafter) -> list[Any]:
    return [a for a in drafter.drawing["document"]["sheets"][0]["annotations"] if a["kind"] == "balloon"]


def middle(drafter: Drafter, view: Any, b: Any) -> tuple[float, float]:
    k = drafter.scale(view)
    return view["position"]["x"] + b["place"]["model"]["x"] * k, view["position"]["y"] + b["place"]["model"][
        "y"
    ] * k


def between(drafter: Drafter, view: Any, geometry: Any, instance: str) -> tuple[float, float]:
    """A place of an instance made of circles about one center that lies as far as can be from all of them."""
    number, k = geometry["instances"].index(instance), drafter.scale(view)
    circles = [
        c["data"]
        for c in geometry["curves"]
        if c["instance"] == number and c["visible"] and c["kind"] == "arc"
    ]
    radii = sorted({0.0, *(round(d[2] * k, 3) for d in circles)})
    gap, low = max((b - a, a) for a, b in itertools.pairwise(radii))
    x, y = circles[0][0] * k, circles[0][1] * k
    return view["position"]["x"] + x + low + gap / 2, view["position"]["y"] + y


def test_a_parts_list_and_its_balloons_by_hand(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    model = next(m["id"] for m in drafter.get("/api/models") if m["number"] == "HB-200")
    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    headers = {"X-CSRFToken": token, "Referer": server.url}
    drawing = page.request.post(f"{server.url}/api/drawings", data={"model": model}, headers=headers).json()
    page.goto(f"{server.url}/drawings/{drawing['id']}")
    expect(page.locator("[data-test=kept]")).to_have_text("All kept")
    sheet = drawing["document"]["sheets"][0]["id"]
    drafter.edit({"command": "change_sheet", "sheet": sheet, "size": "A2", "scale": {"drawn": 1, "true": 2}})
    front = {"right": [1, 0, 0], "up": [0, 0, 1]}
    drafter.edit(
        {
            "command": "place_main_view",
            "id": "front",
            "sheet": sheet,
            "orientation": front,
            "position": {"x": 170, "y": 270},
        }
    )
    drafter.edit({"command": "change_view", "view": "front", "hidden_lines": False})
    drafter.settled()
    view = drafter.views()[0]

    # the list, on the title block, and its totals
    page.keyboard.press("7")
    page.keyboard.press("Shift+P")
    expect(page.locator("[data-kind=parts_list]")).to_be_visible()
    expect(page.locator("[data-test=list-particulars]")).to_contain_text("21 items, on the title block")
    page.locator("[data-test=list-particulars] .el-checkbox").click()
    page.locator("[data-test=add-column]").click()
    page.get_by_role("option", name="Total mass").click()
    drafter.until(
        lambda: any(a["text"] == "Parts list" and "Total" in a["svg"] for a in drafter.sheet["annotations"])
    )

    # all parts of the view, in one step that one undo takes back
    page.keyboard.press("Escape")
    drafter.click(view["position"]["x"] - 40, view["position"]["y"] - 45)
    page.keyboard.press("Shift+N")
    expect(page.locator("[data-test=prompt]")).to_contain_text(
        "10 balloons placed; not seen here: 2 Foot bar"
    )
    assert len(balloons(drafter)) == 10
    page.keyboard.press("Control+z")
    drafter.until(lambda: balloons(drafter) == [])

    # one by one: a dot on the side plate, an arrow on the rim of the crank handle
    page.keyboard.press("Shift+I")
    x, y = view["position"]["x"], view["position"]["y"]
    drafter.point(x - 45, y - 40)
    expect(page.locator("[data-test=prompt]")).to_contain_text("Item 3 Side plate")
    drafter.click(x - 45, y - 40)
    drafter.point(x - 95, y - 20)
    expect(page.locator("[data-test=in-hand] text")).to_have_text("3")
    drafter.click(x - 95, y - 20)
    drafter.until(lambda: len(balloons(drafter)) == 1)
    geometry = drafter.geometry(view)
    rim = next(
        c
        for c in geometry["curves"]
        if geometry["instances"][c["instance"]] == "handle" and c["kind"] == "arc" and c["visible"]
    )
    at = drafter.on_curve(view, rim, 0.1)
    drafter.click(*at)
    expect(page.locator("[data-test=prompt]")).to_contain_text("Crank handle: place its balloon")
    drafter.point(x + 105, y + 41)
    page.wait_for_timeout(200)
    page.keyboard.press("Enter")
    drafter.until(lambda: len(balloons(drafter)) == 2)
    page.keyboard.press("Escape")
    assert [(b["instance"], b["on"]) for b in balloons(drafter)] == [
        ("side-front", "face"),
        ("handle", "edge"),
    ]

    # dragged from the rim into the face, the arrow becomes a dot; dragged itself, it is caught by the other's
    # row
    b = balloons(drafter)[1]
    bx, by = middle(drafter, view, b)
    page.mouse.move(*drafter.pixels((at[0] + bx) / 2, (at[1] + by) / 2))
    page.mouse.down()
    page.mouse.move(*drafter.pixels(*between(drafter, view, geometry, "handle")), steps=6)
    page.wait_for_timeout(300)
    page.mouse.up()
    drafter.until(lambda: balloons(drafter)[-1]["on"] == "face")
    one = next(b for b in balloons(drafter) if b["instance"] == "side-front")
    page.mouse.move(*drafter.pixels(bx, by))
    page.mouse.down()
    page.mouse.move(*drafter.pixels(bx + 4, middle(drafter, view, one)[1] + 1.5), steps=6)
    page.wait_for_timeout(300)
    page.mouse.up()
    drafter.until(
        lambda: abs(middle(drafter, view, balloons(drafter)[-1])[1] - middle(drafter, view, one)[1]) < 1e-3
    )

    # the rows: a cost kept with the part, a name said on this drawing alone, a wrong cost refused where it
    # was typed
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+R")
    table = page.locator("[data-test=parts-table]")
    expect(table.locator("tbody tr")).to_have_count(21)
    page.click("[data-kind=parts_list]")
    page.locator("[data-test=add-column]").click()
    page.get_by_role("option", name="Unit cost").click()
    cost = page.get_by_label("Unit cost of item 12")
    cost.fill("cheap")
    cost.press("Enter")
    expect(table.get_by_role("alert")).to_contain_text("not a cost")
    cost = page.get_by_label("Unit cost of item 12")
    cost.fill("13,75")
    cost.press("Enter")
    drafter.until(
        lambda: (
            next(p for p in drafter.get(f"/api/models/{model}")["parts"] if p["number"] == "HB-211")[
                "unit_cost"
            ]
            == 13.75
        )
    )
    table.get_by_text("only on this drawing").click()
    name = page.get_by_label("Designation of item 12")
    name.fill("Crank handle, oiled")
    name.press("Enter")
    expect(table.get_by_label("Reset Designation of item 12")).to_be_visible()
    page.get_by_label("Item of item 12").fill("70")
    page.get_by_label("Item of item 12").press("Enter")
    drafter.until(
        lambda: (
            "70"
            in re.findall(
                r">(\d+)<", next(a["svg"] for a in drafter.sheet["annotations"] if a["id"] == b["id"])
            )
        )
    )

    # what leaves the office says the same
    with page.expect_download() as download:
        page.click("[data-test=parts-xlsx]")
    sheet_ = openpyxl.load_workbook(io.BytesIO(Path(download.value.path()).read_bytes())).active
    assert sheet_ is not None
    rows = [[c.value for c in row] for row in sheet_.iter_rows()]
    head, handle = rows[0], next(r for r in rows if r[3] == "HB-211")
    assert (handle[0], handle[1], handle[2], handle[head.index("Unit cost")]) == (
        70,
        1,
        "Crank handle, oiled",
        13.75,
    )
    assert rows[-1][head.index("Total mass kg")] == pytest.approx(sum(r[1] * r[5] for r in rows[1:-1]))
    with page.expect_download() as download:
        page.click("[data-test=parts-csv]")
    assert len(
        list(csv.reader(io.StringIO(Path(download.value.path()).read_text(encoding="utf-8-sig"))))
    ) == len(rows)
    text = (
        pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes())).pages[0].extract_text()
    )
    for word in ("Crank handle, oiled", "Designation", "HB-232", "Total"):
        assert word in text


def test_an_assembly_is_taken_apart_on_its_page_and_drawn_so(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    model = next(m["id"] for m in drafter.get("/api/models") if m["number"] == "HB-200")
    page.goto(f"{server.url}/models/{model}")
    panel = page.locator("[data-test=exploded]")
    expect(page.locator("[data-test=preview]")).to_have_attribute("data-state", "ready")
    panel.locator("[data-test=propose-steps]").click()
    drafter.until(lambda: len(drafter.get(f"/api/models/{model}")["exploded"]) == 2)
    expect(panel.locator("li")).to_have_count(29)
    name = panel.get_by_label("Name of the state")
    name.fill("For assembly")
    name.press("Enter")
    expect(panel.get_by_role("alert")).to_contain_text("two exploded states")
    # a second change is typed before the first one is answered: both are kept
    page.route("**/exploded", lambda route: (page.wait_for_timeout(700), route.continue_()))
    name = panel.get_by_label("Name of the state")
    name.fill("Taken apart")
    name.press("Enter")
    far = panel.get_by_label("Distance of step 1, mm")
    far.fill("44")
    page.wait_for_timeout(1500)
    expect(far).to_have_value("44")
    far.press("Enter")
    second = panel.get_by_label("Distance of step 2, mm")
    longer = float(second.input_value()) + 1
    second.fill(f"{longer:g}")
    second.press("Enter")

    def made() -> Any:
        return drafter.get(f"/api/models/{model}")["exploded"][1]

    drafter.until(
        lambda: (
            (made()["name"], [s["distance"] for s in made()["steps"][:2]]) == ("Taken apart", [44, longer])
        )
    )
    page.unroute("**/exploded")
    first = drafter.get(f"/api/models/{model}")["exploded"][1]["steps"][0]["instances"]
    panel.get_by_label("Step 1 later").click()
    drafter.until(
        lambda: drafter.get(f"/api/models/{model}")["exploded"][1]["steps"][1]["instances"] == first
    )
    # the slider moves the parts in the picture, and back
    apart = page.locator("[data-test=preview] canvas").screenshot()
    panel.get_by_role("slider").focus()
    page.keyboard.press("Home")
    page.wait_for_timeout(400)
    assert page.locator("[data-test=preview] canvas").screenshot() != apart

    # a pictorial view shows the state, with trail lines that are left out one by one
    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    headers = {"X-CSRFToken": token, "Referer": server.url}
    drawing = page.request.post(f"{server.url}/api/drawings", data={"model": model}, headers=headers).json()
    page.goto(f"{server.url}/drawings/{drawing['id']}")
    expect(page.locator("[data-test=kept]")).to_have_text("All kept")
    sheet = drawing["document"]["sheets"][0]["id"]
    drafter.edit({"command": "change_sheet", "sheet": sheet, "size": "A2", "scale": {"drawn": 1, "true": 5}})
    h, t = 0.7071067811865476, 0.408248290463863
    iso = {"right": [h, h, 0], "up": [-t, t, 2 * t]}
    drafter.edit(
        {
            "command": "place_main_view",
            "id": "p",
            "sheet": sheet,
            "orientation": iso,
            "position": {"x": 250, "y": 230},
            "pictorial": True,
        }
    )
    drafter.settled()
    view = drafter.views()[0]
    box, k = drafter.geometry(view), drafter.scale(view)
    wide = box["high"][0]
    page.keyboard.press("Escape")
    drafter.click(
        view["position"]["x"] + box["low"][0] * k + 1, view["position"]["y"] + box["low"][1] * k + 1
    )  # beside all lines of the view
    page.locator("[data-test=exploded-state]").click()
    page.get_by_role("option", name="Taken apart").click()
    drafter.until(lambda: drafter.views()[0]["exploded"] == "Taken apart")
    drafter.settled()
    geometry = drafter.geometry(view)
    assert geometry["high"][0] > 1.5 * wide
    assert len(geometry["trails"]) > 5

    def chains() -> int:
        url = f"{server.url}/api/drawings/{drawing['id']}/views/p/ink"
        return str(page.request.get(url).json()["svg"]).count('class="stroke center"')

    before = chains()
    assert before > 5
    page.locator("[data-test=part-aspect]").click()
    page.get_by_role("option", name="trail line").click()
    trail = next(t["instances"] for t in geometry["trails"] if len(t["instances"]) == 1)
    for path in trail:
        page.get_by_label(f"Trail line of {path}").locator("xpath=ancestor-or-self::label").click()
    drafter.until(lambda: sorted(drafter.views()[0]["trails_off"]) == sorted(trail))
    drafter.until(lambda: chains() < before)
    # undo brings the parts together again
    for _ in range(1 + len(trail)):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(150)
    drafter.until(lambda: drafter.views()[0]["exploded"] == "")
