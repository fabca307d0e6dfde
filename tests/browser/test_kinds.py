"""A kind that brings its own tool and takes its panel from its data: from key to file by hand."""

import io
from pathlib import Path
from typing import Any

import ezdxf
import pypdf
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_views import opened


def stamp(drafter: Drafter) -> dict[str, Any]:
    sheet = drafter.drawing["document"]["sheets"][0]
    found: dict[str, Any] = next((a for a in sheet["annotations"] if a["kind"] == "stamp"), {})
    return found


def test_a_stamp_is_placed_worded_dragged_taken_back_and_in_every_file(page: Page, server: Server) -> None:
    drafter = opened(page, server, "HB-204")
    drafter.place(140, 170)
    for _ in range(2):
        page.keyboard.press("Escape")
    page.keyboard.press("Shift+A")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the stamp")
    drafter.point(300, 200)
    expect(page.locator("[data-test=in-hand]")).to_be_visible()
    drafter.click(300, 200)
    drafter.until(lambda: stamp(drafter).get("text") == "FOR APPROVAL")
    page.keyboard.press("Escape")
    assert stamp(drafter)["position"] == {"x": pytest.approx(300, abs=1), "y": pytest.approx(200, abs=1)}
    # its panel is made from its data: words, a bound on the lettering, two lines
    drafter.click(300, 200)
    panel = page.locator("[data-test=kind-particulars]")
    expect(panel).to_contain_text("Stamp")
    words = panel.locator("input").first
    words.fill("PRELIMINARY")
    words.press("Enter")
    drafter.until(lambda: stamp(drafter)["text"] == "PRELIMINARY")
    panel.locator("#kind-height").fill("90")
    panel.locator("#kind-height").press("Enter")
    drafter.until(lambda: stamp(drafter)["height"] == 40)  # the most it may be
    panel.locator("#kind-height").fill("7")
    panel.locator("#kind-height").press("Enter")
    drafter.until(lambda: stamp(drafter)["height"] == 7)
    panel.locator(".el-switch").click()
    drafter.until(lambda: stamp(drafter)["doubled"])
    # dragged, and the drag taken back and done again
    before = stamp(drafter)["position"]
    drafter.point(300, 200)
    page.mouse.down()
    page.mouse.move(*drafter.pixels(280, 230), steps=6)
    page.mouse.up()
    drafter.until(lambda: stamp(drafter)["position"] != before)
    after = stamp(drafter)["position"]
    assert abs(after["x"] - before["x"] + 20) < 1
    assert abs(after["y"] - before["y"] - 30) < 1
    page.keyboard.press("Control+z")
    drafter.until(lambda: stamp(drafter)["position"] == before)
    page.keyboard.press("Control+Shift+z")
    drafter.until(lambda: stamp(drafter)["position"] == after)
    pdf = pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes()))
    assert "PRELIMINARY" in pdf.pages[0].extract_text()
    model = ezdxf.readfile(drafter.publish("dxf").path()).modelspace()  # type: ignore[attr-defined]
    text = next(t for t in model.query("TEXT MTEXT") if "PRELIMINARY" in t.dxf.text)
    assert text.dxf.height == 7
    # removed with the key, and back with one step
    page.keyboard.press("Escape")
    drafter.click(after["x"], after["y"])
    page.keyboard.press("Delete")
    drafter.until(lambda: not stamp(drafter))
    page.keyboard.press("Control+z")
    drafter.until(lambda: stamp(drafter).get("position") == after)
