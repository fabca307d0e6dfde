"""A flange whose writer split every closed face in two and made splines of all: brought in, centered, sized,
said to be reamed, and published."""

import math
from pathlib import Path
from typing import Any

import pypdf
import pytest
from OCP.STEPControl import STEPControl_StepModelType, STEPControl_Writer
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.core.test_whole_faces import flange
from tests.core.zoo import splines, split


@pytest.fixture
def halves(tmp_path: Path) -> Path:
    """The flange as a STEP file of which every closed face is two, and every face a spline."""
    writer = STEPControl_Writer()
    writer.Transfer(splines(split(flange(), 2)), STEPControl_StepModelType.STEPControl_AsIs)
    path = tmp_path / "flange.step"
    writer.Write(str(path))
    assert "CYLINDRICAL_SURFACE" not in path.read_text()
    return path


def test_a_flange_in_halves_is_drawn_as_a_flange(page: Page, server: Server, halves: Path) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.drop(halves)
    job = page.locator("[data-test=job]", has_text="flange.step").first
    expect(job).to_have_attribute("data-state", "done")
    job.locator("[data-test=job-open]").click()
    expect(page.locator("[data-test=preview]")).to_have_attribute("data-state", "ready")
    page.click("[data-test=start-drawing]")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    drafter.place(130, 90)
    drafter.place(130, 180)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    _, top = drafter.views()
    page.keyboard.press("t")

    def rings() -> list[Any]:
        marked = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in marked if a["kind"] == "bolt_circle"]

    drafter.until(rings)
    (ring,) = rings()
    assert len(ring["anchor"]["picks"]) == 6
    rims = [c for c in drafter.curves(top) if c["kind"] == "arc" and c["visible"]]
    assert len(rims) == 8  # outside, bore and six holes, each one circle
    assert all(c["data"][4] - c["data"][3] == pytest.approx(2 * math.pi) for c in rims)
    page.keyboard.press("s")
    outside = max(rims, key=lambda c: c["data"][2])
    assert drafter.size([drafter.on_curve(top, outside, 0.1)], drafter.beside(top, 14, 20)) == "Ø88"
    between = {**outside, "data": [*outside["data"][:2], 37.5, *outside["data"][3:]]}
    line = drafter.on_curve(top, between, 1 / 12)  # of the bolt circle, between two holes
    assert drafter.size([line], drafter.beside(top, 20, 6)) == "Ø75"
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+D")
    hole = min(rims, key=lambda c: c["data"][2])
    prompt = page.locator("[data-test=prompt]")
    drafter.point(*drafter.on_curve(top, hole, 0.1))
    expect(prompt).to_contain_text("6× Ø7: click to call it out")
    drafter.click(*drafter.on_curve(top, hole, 0.1))
    expect(prompt).to_contain_text("place its words")
    drafter.click(*drafter.beside(top, 14, -24))

    def callouts() -> list[Any]:
        return [a for a in drafter.sheet["annotations"] if a["text"].startswith("6×")]

    drafter.until(lambda: [a["text"] for a in callouts()] == ["6× Ø7"])
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.locator(f"[data-annotation='{callouts()[0]['id']}'] text").first.click()
    page.locator("[data-test=particulars] .el-switch").click()
    drafter.until(lambda: [a["text"] for a in callouts()] == ["6× Ø7 equally spaced on Ø75"])
    page.keyboard.press("Escape")
    drafter.click(*drafter.on_curve(top, hole, 0.37))
    said = page.locator("[data-test=sayable]")
    expect(said).to_contain_text("6 equally spaced on Ø75")
    said.locator("[data-test=hole-0]").click()
    expect(said).to_contain_text("clearance for M6, coarse")  # ISO 273
    said.locator("[data-test=say-process]").click()
    page.locator(".el-select-dropdown__item", has_text="reamed").click()
    said.locator("[data-test=finish]").click()
    drafter.until(lambda: [a["text"] for a in callouts()] == ["6× Ø7 reamed equally spaced on Ø75"])
    path = drafter.publish("pdf").path()
    text = pypdf.PdfReader(path).pages[0].extract_text()
    assert "Ø88" in text
    assert "Ø75" in text.replace("equally spaced on Ø75", "")
    assert "6× Ø7 reamed" in text
    assert "equally spaced on Ø75" in text
