"""The model moves on: a drafter drops its next version, looks at what would change, brings the drawing along,
and hangs on again what was lost."""

from pathlib import Path
from typing import Any

import pypdf
from playwright.sync_api import Page, expect

from drafting.model.assembly import build_model
from drafting.model.model import Model
from drafting.model.recipe import validate_recipe
from drafting.model.step import write_model
from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.core.disguises import shuffled


def bar(path: Path, width: float, hole: float, at: tuple[float, float]) -> Path:
    """A bar with a hole through it, as a file that somebody else wrote."""
    plane = {"origin": [0, -20, 30], "x": [1, 0, 0], "normal": [0, -1, 0]}
    recipe = {
        "moorcrest": "part",
        "version": 1,
        "name": "Weir bar",
        "units": "mm",
        "features": [
            {"id": "b", "kind": "extrude", "profile": {"width": width, "height": 40}, "depth": 60},
            {"id": "h", "kind": "hole", "plane": plane, "at": [list(at)], "diameter": hole},
        ],
    }
    built = build_model(validate_recipe(recipe))
    write_model(Model(built.facts, {k: shuffled(s) for k, s in built.shapes.items()}), path)
    return path


def start_drawing(drafter: Drafter, file: Path) -> None:
    """From a dropped file to a drawing of it with a main view, by somebody who logs in."""
    page = drafter.page
    drafter.log_in()
    drafter.drop(file)
    job = page.locator("[data-test=job]", has_text=file.name).first
    expect(job).to_have_attribute("data-state", "done")
    job.locator("[data-test=job-open]").click()
    page.click("[data-test=start-drawing]")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    drafter.place(150, 150)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")


def texts(drafter: Drafter) -> list[str]:
    return sorted(a["text"] for a in drafter.sheet["annotations"])


def test_a_drawing_is_brought_along_and_what_is_lost_hangs_on_again(
    page: Page, server: Server, tmp_path: Path
) -> None:
    drafter = Drafter(page, server)
    start_drawing(drafter, bar(tmp_path / "weir bar.step", 100, 12, (20, 8)))
    desk = page.url
    (view,) = drafter.views()

    def circle() -> Any:
        return next(c for c in drafter.curves(view) if c["kind"] == "arc" and c["visible"])

    def edge(axis: int) -> Any:
        """The lowest level edge, or the one furthest left."""
        found = [
            c for c in drafter.curves(view)
            if c["kind"] == "line" and c["visible"] and abs(c["data"][1 - axis] - c["data"][3 - axis]) < 1e-6
        ]  # fmt: skip
        return min(found, key=lambda c: c["data"][1 - axis])

    page.keyboard.press("s")
    assert drafter.size([drafter.on_curve(view, edge(0))], drafter.beside(view, 0.1, -12)) == "100"
    assert drafter.size([drafter.on_curve(view, circle(), 0.3)], drafter.beside(view, 15, 12)) == "Ø12"
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    # the next version: dropped on the model's page
    page.locator("a.name").click()
    drafter.drop(bar(tmp_path / "weir bar, wider.step", 110, 12, (20, 8)))
    expect(page.locator("[data-test=version-2]")).to_contain_text("faces moved or grown")
    expect(page.locator("[data-test=version-1]")).to_contain_text("shown by")
    name = page.locator("[data-test=version-name-2]")
    name.fill("as cast")
    name.press("Enter")
    name.blur()

    # shown before it happens
    page.goto(desk)
    drafter.settled()
    assert texts(drafter) == ["100", "Ø12"]
    page.locator("[data-test=version-pill]").click()
    expect(page.locator("[data-test=along-changed]")).to_contain_text("110")
    overlay = page.locator("[data-test=overlay]")
    expect(overlay.locator(".gone text").first).to_have_text("100")
    expect(overlay.locator(".new text").first).to_have_text("110")
    page.locator("[data-test=along-stay]").click()
    assert texts(drafter) == ["100", "Ø12"]
    page.locator("[data-test=version-pill]").click()
    page.locator("[data-test=along-do]").click()
    drafter.until(lambda: texts(drafter) == ["110", "Ø12"])
    drafter.settled()
    expect(page.locator("[data-test=version-pill]")).to_have_text("version as cast")
    page.keyboard.press("Control+z")
    drafter.until(lambda: texts(drafter) == ["100", "Ø12"])
    page.keyboard.press("Control+Shift+Z")
    drafter.until(lambda: texts(drafter) == ["110", "Ø12"])

    # another hole in place of the first: lost, and said so
    page.locator("a.name").click()
    drafter.drop(bar(tmp_path / "weir bar, other hole.step", 110, 16, (-30, -10)))
    expect(page.locator("[data-test=version-3]")).to_contain_text("not found again")
    page.goto(desk)
    drafter.settled()
    page.locator("[data-test=version-pill]").click()
    expect(page.locator("[data-test=along-lost]")).to_contain_text("Ø12")
    expect(overlay).to_be_visible()
    page.locator("[data-test=along-do]").click()
    drafter.until(lambda: drafter.drawing["document"]["shows"] == 3)
    drafter.settled()
    lost = page.locator("g.annotation.lost")
    expect(lost).to_have_count(1)
    expect(lost.locator("text")).to_have_text("Ø12")
    box = lost.locator("text").bounding_box()
    assert box
    page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.locator("[data-test=hang-again]").click()
    expect(page.locator("[data-test=prompt]")).to_contain_text("hangs on now")
    drafter.click(*drafter.on_curve(view, edge(0)))
    expect(page.locator("[data-test=prompt]")).to_contain_text("cannot hang there")
    drafter.click(*drafter.on_curve(view, circle(), 0.3))
    drafter.until(lambda: texts(drafter) == ["110", "Ø16"])
    expect(page.locator("g.annotation.lost")).to_have_count(0)
    words = "".join(p.extract_text() for p in pypdf.PdfReader(drafter.publish("pdf").path()).pages)
    assert "Ø16" in words
    assert "Ø12" not in words
