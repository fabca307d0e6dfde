"""Added lines: drawn on edges and free places, driven by sizes, tied, sized, and read back from DXF."""

import math
from typing import Any

import ezdxf
import numpy as np
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_kinds import ON_INK


def test_a_drafter_adds_lines_and_ties_them(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-202")
    drafter.settled()
    prompt, view = page.locator("[data-test=prompt]"), drafter.views()[0]
    curves = [c for c in drafter.curves(view) if c["visible"]]
    lines = sorted(
        (c for c in curves if c["kind"] == "line"), key=lambda c: -math.dist(c["data"][:2], c["data"][2:])
    )
    low = min(lines, key=lambda c: max(c["data"][1], c["data"][3]))
    upright = [c for c in lines if abs(c["data"][0] - c["data"][2]) < 1e-6]
    left = min(upright, key=lambda c: c["data"][0])
    bore = max((c for c in curves if c["kind"] == "arc"), key=lambda c: c["data"][2])

    def added() -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == "added_line"]

    def told(a: Any) -> str:
        return str(next(d["text"] for d in drafter.sheet["annotations"] if d["id"] == a["id"]))

    # a circle that touches two edges and the bore appears as soon as the third is picked
    page.keyboard.press("Shift+K")
    expect(prompt).to_contain_text("Click where the line begins")
    page.locator("[data-test=form-tangent]").click()
    drafter.click(*drafter.on_curve(view, low, 0.2))
    expect(prompt).to_contain_text("Pick the second one")
    drafter.click(*drafter.on_curve(view, left, 0.4))
    expect(prompt).to_contain_text("Pick a third one")
    angle = (math.radians(225) - bore["data"][3]) / (bore["data"][4] - bore["data"][3])
    drafter.click(*drafter.on_curve(view, bore, angle % 1.0))
    drafter.until(lambda: len(added()) == 1)
    (circle,) = added()
    assert [t["relation"] for t in circle["ties"]] == ["tangent"] * 3
    x, y = (circle["points"][0][k] for k in "xy")
    r = circle["radius"]
    assert (x - left["data"][0], y - low["data"][1]) == pytest.approx((r, r), abs=1e-4)
    assert math.dist((x, y), bore["data"][:2]) == pytest.approx(r + bore["data"][2], abs=1e-4)
    assert told(circle).endswith("fully tied")

    # a phantom line from the bore's center to a free place
    page.locator("[data-test=form-line]").click()
    page.locator("[data-test=added-line-kind]").click()
    page.locator(".el-select-dropdown__item:visible", has_text="phantom").click()
    scale = drafter.scale(view)
    center = [view["position"][k] + v * scale for k, v in zip("xy", bore["data"][:2], strict=True)]
    drafter.click(*center)
    expect(prompt).to_contain_text("Click where it ends")
    drafter.click(center[0] + 19, center[1] + 7)
    drafter.until(lambda: len(added()) == 2)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    line = added()[1]
    assert (line["line"], [t["relation"] for t in line["ties"]]) == ("phantom", ["coincident"])

    # a size drives it
    page.mouse.click(*page.locator(f"[data-annotation='{line['id']}']").evaluate(ON_INK))
    length = page.locator("[data-test=hold-length] input")
    length.fill("70")
    length.press("Enter")
    length.blur()
    drafter.until(lambda: told(added()[1]).startswith("70 long"))
    page.keyboard.press("Escape")

    # and a tie: perpendicular to the left edge
    page.keyboard.press("Shift+U")
    expect(prompt).to_contain_text("Pick an added line")

    def ends() -> np.ndarray:
        return np.array([[p["x"], p["y"]] for p in added()[-1]["points"]])

    at = ends()[0] + (ends()[1] - ends()[0]) * 0.7
    drafter.click(*(view["position"][k] + v * scale for k, v in zip("xy", at, strict=True)))
    drafter.point(*drafter.on_curve(view, left, 0.6))
    expect(prompt).to_contain_text("click to hold it so")
    for _ in range(8):
        if "perpendicular" in (prompt.text_content() or ""):
            break
        said = prompt.text_content() or ""
        page.keyboard.press("Space")
        expect(prompt).not_to_have_text(said)
    drafter.click(*drafter.on_curve(view, left, 0.6))
    drafter.until(lambda: told(added()[-1]) == "70 long, fully tied")
    assert ends()[0] == pytest.approx(bore["data"][:2], abs=1e-6)
    assert abs(ends()[1] - ends()[0]) == pytest.approx([70, 0], abs=1e-5)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    # sizes are taken on them, and follow
    page.keyboard.press("s")
    on_circle = (x - r * math.sqrt(0.5), y + r * math.sqrt(0.5))
    rim = [view["position"][k] + v * scale for k, v in zip("xy", on_circle, strict=True)]
    said = drafter.size([(rim[0], rim[1])], drafter.beside(view, -30, 20))
    assert said == f"Ø{f'{2 * r:.2f}'.rstrip('0').rstrip('.').replace('.', ',')}"
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    page.keyboard.press("Control+z")
    drafter.until(lambda: told(added()[-1]) == "70 long, free in 1")
    page.keyboard.press("Control+y")
    drafter.until(lambda: told(added()[-1]) == "70 long, fully tied")

    drawn = ezdxf.readfile(drafter.publish("dxf").path()).modelspace().query('LINE[layer=="Phantom"]')
    lengths = [math.dist(e.dxf.start, e.dxf.end) / scale for e in drawn]
    assert lengths == [pytest.approx(70, abs=1e-3)]
