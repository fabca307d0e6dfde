"""A DXF drawing of old beneath a view, drawn over and sized; a picture on the sheet; both read from files."""

import io
import zipfile
from pathlib import Path
from typing import Any

import ezdxf
import pypdf
import pytest
from PIL import Image
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter

EMPTY = (420.0, 130.0)
"""A place of the exploded view's sheet that nothing is near to."""


def old_bracket(file: Path) -> None:
    """Drawn at half its size, with no units said."""
    document = ezdxf.new("R12")
    space = document.modelspace()
    for a, b in (((0, 0), (40, 0)), ((40, 0), (40, 25)), ((40, 25), (0, 25)), ((0, 25), (0, 0))):
        space.add_line(a, b, {"layer": "OUTLINE"})
    space.add_circle((20, 12.5), 6, {"layer": "HOLES"})
    space.add_text("BRACKET 12", height=2, dxfattribs={"insert": (2, 2)})
    document.saveas(file)


def test_a_drafter_lays_an_old_drawing_under_and_a_picture_on(
    page: Page, server: Server, tmp_path: Path
) -> None:
    old_bracket(tmp_path / "bracket 12.dxf")
    Image.new("RGB", (300, 120), (30, 60, 160)).save(tmp_path / "mark.png")
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-206")
    drafter.settled()
    prompt, view = page.locator("[data-test=prompt]"), drafter.views()[0]
    scale = drafter.scale(view)

    def stored(kind: str) -> list[Any]:
        found = drafter.drawing["document"]["sheets"][0]["annotations"]
        return [a for a in found if a["kind"] == kind]

    page.keyboard.press("6")
    with page.expect_file_chooser() as chooser:
        page.locator("[data-test=action-underlay]").click()
    chooser.value.set_files(tmp_path / "bracket 12.dxf")
    box = page.locator(".el-message-box")
    expect(box).to_contain_text("does not say its units")
    box.locator("input").fill("mm")
    # it lies over the desk, which stays where it is
    assert page.evaluate("document.documentElement.scrollHeight") == page.viewport_size["height"]  # type: ignore[index]
    box.get_by_role("button", name="Go on").click()
    expect(box).to_be_hidden()
    expect(prompt).to_contain_text("Click where the lower left corner of bracket 12.dxf goes")
    corner = drafter.beside(view, 25, -20)
    drafter.click(*corner)
    drafter.until(lambda: len(stored("underlay")) == 1)
    expect(page.locator("[data-test=underlay] path")).to_have_count(1)
    expect(page.locator("[data-test=underlay] text")).to_have_text("BRACKET 12")

    def sheet(x: float, y: float) -> tuple[float, float]:
        """A place of the old drawing, in its own units, on the sheet."""
        u = stored("underlay")[0]
        view = next(v for v in drafter.views() if v["id"] == u["anchor"]["view"])
        k = scale * u["unit"]
        at = (view["position"][c] + u["position"][c] * scale for c in "xy")
        return tuple(p + v * k for p, v in zip(at, (x, y), strict=True))  # type: ignore[return-value]

    # two points of known distance: it was drawn at half its size
    page.mouse.click(*drafter.pixels(*sheet(40, 18)))
    page.locator("[data-test=underlay-scale]").click()
    distance = page.locator("[data-test=underlay-distance] input")
    distance.fill("80")
    distance.press("Enter")
    distance.blur()
    drafter.click(*sheet(0, 0))
    expect(prompt).to_contain_text("Pick the second point")
    drafter.click(*sheet(40, 0))
    drafter.until(lambda: stored("underlay")[0]["unit"] == pytest.approx(2.0))

    # it is sized, and said to be an underlay
    page.wait_for_timeout(600)
    page.keyboard.press("s")
    x, y = sheet(20 + 6 * 0.8, 12.5 + 6 * 0.6)
    drafter.point(x, y)
    drafter.click(x, y)
    expect(prompt).to_contain_text("taken on the underlay")
    above = sheet(55, 30)
    drafter.point(*above)
    page.wait_for_timeout(200)
    page.keyboard.press("Enter")
    drafter.until(lambda: any(a["text"] == "Ø24" for a in drafter.sheet["annotations"]))
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    drafter.until(lambda: any("underlay" in w["text"] for w in drafter.sheet["warnings"]))

    # and drawn over: an added line from corner to corner holds to it
    page.keyboard.press("Shift+K")
    drafter.click(*sheet(0, 0))
    drafter.click(*sheet(40, 25))
    drafter.until(lambda: len(stored("added_line")) == 1)
    (line,) = stored("added_line")
    assert [t["to"]["role"] for t in line["ties"]] == ["underlay", "underlay"]
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    with page.expect_file_chooser() as chooser:
        page.locator("[data-test=action-picture]").click()
    chooser.value.set_files(tmp_path / "mark.png")
    expect(prompt).to_contain_text("Click where the picture goes")
    drafter.click(60, 60)
    drafter.until(lambda: len(stored("picture")) == 1)
    expect(page.locator("[data-kind=picture] image")).to_have_attribute(
        "href", f"/api/drawings/{drafter.drawing['id']}/files/{stored('picture')[0]['file']}"
    )
    page.mouse.click(*drafter.pixels(60, 60))
    width = page.locator("[data-test=kind-width] input")
    width.fill("40")
    width.press("Enter")
    width.blur()
    drafter.until(lambda: stored("picture")[0]["width"] == 40)

    # files: the picture is in them, the underlay where it is wanted
    pages = pypdf.PdfReader(drafter.publish("pdf").path()).pages
    assert (300, 120) in [i.image.size for i in pages[0].images]  # type: ignore[union-attr]
    page.mouse.click(*drafter.pixels(*sheet(40, 18)))
    page.locator("[data-test=underlay-printed]").click()
    drafter.until(lambda: stored("underlay")[0]["printed"])
    with zipfile.ZipFile(drafter.publish("dxf").path()) as files:
        names = files.namelist()
        drawn = ezdxf.read(io.StringIO(files.read(next(n for n in names if n.endswith(".dxf"))).decode()))
    assert any(n.endswith(".png") for n in names)
    found = drawn.modelspace().query('CIRCLE[layer=="Underlay"]')
    assert [c.dxf.radius / scale for c in found] == pytest.approx([12.0])


def test_an_old_drawing_on_the_bare_sheet_is_sized_and_drawn_over(
    page: Page, server: Server, tmp_path: Path
) -> None:
    old_bracket(tmp_path / "bracket 12.dxf")
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-220")
    drafter.settled()
    before = {a["id"] for a in drafter.sheet["annotations"]}
    page.keyboard.press("6")
    with page.expect_file_chooser() as chooser:
        page.locator("[data-test=action-underlay]").click()
    chooser.value.set_files(tmp_path / "bracket 12.dxf")
    box = page.locator(".el-message-box")
    box.locator("input").fill("mm")
    box.get_by_role("button", name="Go on").click()
    expect(box).to_be_hidden()
    expect(page.locator("[data-test=prompt]")).to_contain_text("Click where the lower left corner")
    x, y = EMPTY
    drafter.click(x, y)
    drafter.until(lambda: len(new(drafter, before)) == 1)
    (laid,) = new(drafter, before)
    assert laid["anchor"]["on"] == "sheet"
    expect(page.locator(f"[data-annotation='{laid['id']}'] path")).to_have_count(1)
    page.wait_for_timeout(600)
    page.keyboard.press("s")
    prompt = page.locator("[data-test=prompt]")
    drafter.click(x + 20, y)
    expect(prompt).to_contain_text("Length 40: taken on the underlay")
    drafter.click(x + 20, y + 25)
    expect(prompt).to_contain_text("25: taken on the underlay")
    drafter.point(x - 12, y + 12)
    page.wait_for_timeout(300)
    page.keyboard.press("Enter")
    drafter.until(
        lambda: any(a["text"] == "25" and a["id"] not in before for a in drafter.sheet["annotations"])
    )
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+K")
    drafter.click(x, y)
    drafter.click(x + 20, y + 12.5)
    drafter.until(lambda: len(new(drafter, before)) == 3)
    line = new(drafter, before)[-1]
    assert [(t["relation"], t["to"]["role"]) for t in line["ties"]] == [("coincident", "underlay")] * 2
    words = "".join(p.extract_text() for p in pypdf.PdfReader(drafter.publish("pdf").path()).pages)
    assert "BRACKET" not in words  # it is printed where that is wanted


def new(drafter: Drafter, before: set[str]) -> list[Any]:
    """What was placed on the sheet since."""
    found = drafter.drawing["document"]["sheets"][0]["annotations"]
    return [a for a in found if a["id"] not in before]
