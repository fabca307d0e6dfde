"""The pictures of the main views in docs/screenshots, made anew from the demo data: ./moorcrest pictures, or
some of them by name."""

import signal
import sys
import tempfile
from collections.abc import Callable
from pathlib import Path

import pypdfium2
from playwright.sync_api import Page, expect, sync_playwright

from tests.browser.conftest import ARGUMENTS, Server
from tests.browser.drafter import Drafter

FOLDER = Path(__file__).parent / "screenshots"
PICTURES: dict[str, Callable[[Drafter], None]] = {}


def picture(work: Callable[[Drafter], None]) -> Callable[[Drafter], None]:
    """A function that brings the page to what its picture shows; the picture has its name."""
    PICTURES[work.__name__.replace("_", "-")] = work
    return work


def settled(d: Drafter, number: str, stage: int | None = None) -> Page:
    """A drawing of the demo office on the desk, all of its views drawn, with a stage open."""
    d.page.goto(d.server.url)
    d.open_card(number)
    d.settled()
    if stage:
        d.page.keyboard.press(str(stage))
    return d.page


def model_page(d: Drafter, number: str) -> Page:
    model = next(m["id"] for m in d.get("/api/models") if m["number"] == number)
    d.page.goto(f"{d.server.url}/models/{model}")
    expect(d.page.locator("[data-test=preview]")).to_have_attribute("data-state", "ready")
    return d.page


def pdf_page(d: Drafter, name: str, number: str, page: int) -> None:
    """A page of a published PDF, about 1280 pixels wide."""
    settled(d, number)
    path = str(d.publish("pdf").path())
    sheet = pypdfium2.PdfDocument(path)[page]
    sheet.render(scale=1280 / sheet.get_width()).to_pil().save(FOLDER / f"{name}.png")


@picture
def shelf(d: Drafter) -> None:
    d.page.goto(d.server.url)
    d.page.wait_for_load_state("networkidle")


@picture
def holes(d: Drafter) -> None:
    page = model_page(d, "HB-204")
    row = page.locator("[data-test=hole-0]")
    row.click()
    page.locator("[data-test=say]").scroll_into_view_if_needed()
    row.hover()
    page.wait_for_timeout(500)


@picture
def model(d: Drafter) -> None:
    page = model_page(d, "HB-200")
    page.get_by_role("slider").focus()
    page.keyboard.press("End")
    page.locator("[data-test=drag-parts]").click()
    page.locator("[data-test=components]").get_by_text("Bearing block").first.click()
    page.locator("[data-test=exploded]").scroll_into_view_if_needed()


@picture
def desk(d: Drafter) -> None:
    page = settled(d, "HB-204", 4)
    view = d.views()[0]
    bore = next(c for c in d.curves(view) if c["feature"] == "bore" and c["kind"] == "arc" and c["visible"])
    d.point(*d.on_curve(view, bore, 0.1))
    expect(page.locator("path.lit").first).to_be_visible()


@picture
def bring_along(d: Drafter) -> None:
    page = settled(d, "HB-204")
    page.locator("[data-test=version-pill]").click()
    expect(page.locator("[data-test=overlay]")).to_be_visible()


@picture
def section(d: Drafter) -> None:
    page = settled(d, "HB-206", 2)
    view = d.views()[0]
    box, k, at = d.geometry(view), d.scale(view), view["position"]
    page.keyboard.press("c")
    for y in (box["high"][1] + 4, box["low"][1] - 4):
        d.click(at["x"] + (box["low"][0] + 16) * k, at["y"] + y * k)
    page.keyboard.press("Enter")
    d.point(at["x"] + 178, at["y"])
    page.wait_for_function(
        "() => (document.querySelector('[data-test=ghost] path')?.getAttribute('d') ?? '').length > 20"
    )


@picture
def tolerances(d: Drafter) -> None:
    page = settled(d, "HB-214", 5)
    page.locator("[data-annotation='frame-holes'] text").first.click()
    expect(page.locator("[data-test=frame-boundaries]")).to_be_visible()
    page.locator("[data-test=frame-bonus]").scroll_into_view_if_needed()


@picture
def sizes(d: Drafter) -> None:
    """The bearing block without its sizes, and those that are proposed."""
    page = settled(d, "HB-204", 4)
    kept = ("center_mark", "center_line", "bolt_circle", "texture", "revision_table", "note")
    found = d.drawing["document"]["sheets"][0]["annotations"]
    d.edit({"command": "remove", "ids": [a["id"] for a in found if a["kind"] not in kept]})
    page.keyboard.press("4")
    page.keyboard.press("=")
    expect(page.locator("[data-test=model-ghost]").first).to_be_visible()


@picture
def size_sheet(d: Drafter) -> None:
    page = settled(d, "HB-205", 5)
    page.locator("[data-annotation] text").filter(has_text="k6").first.click(force=True)
    page.keyboard.press("Shift+S")
    page.wait_for_timeout(1000)


@picture
def check(d: Drafter) -> None:
    page = settled(d, "HB-207", 8)
    page.locator("[data-test=finding-2]").click()
    expect(page.locator("[data-test=pencil-text]")).to_be_visible()


@picture
def unsaid(d: Drafter) -> None:
    """Without the line through its slots and two sizes, the bearing block does not say all."""
    page = settled(d, "HB-204", 8)
    d.edit({"command": "remove", "ids": ["center-top", "size-4", "size-11"]})
    page.keyboard.press("8")
    expect(page.locator("[data-test=found]")).to_be_visible()
    page.locator("[data-test^=gap-]", has_text="wide slot").hover()
    expect(page.locator("[data-test=sways]").first).to_be_visible()


@picture
def inspection(d: Drafter) -> None:
    """The crank handle with what two pieces measured, one hole out."""
    page = settled(d, "HB-211", 8)
    page.keyboard.press("+")
    expect(page.locator("[data-test=out]")).to_have_text("1 out")
    page.locator("[data-test^=characteristic-]", has_text="Ø10,5").click()
    page.keyboard.press("Escape")


@picture
def parts(d: Drafter) -> None:
    page = settled(d, "HB-200", 7)
    page.keyboard.press("Shift+R")
    expect(page.get_by_label("Designation of item 1", exact=True)).to_be_visible()


@picture
def sheets(d: Drafter) -> None:
    settled(d, "HB-201", 1).keyboard.press("k")
    d.page.wait_for_load_state("networkidle")


@picture
def house_style(d: Drafter) -> None:
    d.page.goto(f"{d.server.url}/styles")
    d.page.click("[data-test='style-Harrow Beck, mm']")
    d.page.wait_for_load_state("networkidle")


@picture
def frame_editor(d: Drafter) -> None:
    house_style(d)
    d.page.get_by_text("Frames", exact=True).click()
    cells = d.page.locator("[data-test=frame-paper] [aria-label]")
    cells.filter(has=d.page.locator("xpath=self::*[@aria-label='Material']")).first.click()
    d.page.keyboard.down("Shift")
    cells.filter(has=d.page.locator("xpath=self::*[@aria-label='Mass']")).first.click()
    d.page.keyboard.up("Shift")


@picture
def revisions(d: Drafter) -> None:
    page = settled(d, "HB-204")
    page.locator("[data-test=state-pill]").click()
    expect(page.locator("[data-test=overlay]")).to_be_visible()


UNDONE = ("sizes", "unsaid")
"""Pictures for which the drawing was changed."""
PAGES = {
    "pdf-page": ("HB-204", 0),
    "pdf-inch": ("HB-214", 0),
}


def main(names: list[str]) -> None:
    unknown = [n for n in names if n not in PICTURES and n not in PAGES]
    if unknown:
        sys.exit(f"There is no picture called {unknown[0]}; there are {', '.join([*PICTURES, *PAGES])}.")
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        server = Server(Path(folder))
        server.start()
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=ARGUMENTS)
        try:
            d = Drafter(browser.new_page(viewport={"width": 1280, "height": 800}), server)
            d.log_in()
            for name in names or [*PICTURES, *PAGES]:
                print(name, flush=True)
                if name in PAGES:
                    pdf_page(d, name, *PAGES[name])
                    continue
                PICTURES[name](d)
                d.page.wait_for_timeout(500)
                d.page.screenshot(path=FOLDER / f"{name}.png")
                if name in UNDONE:
                    d.page.keyboard.press("Control+z")
        finally:
            browser.close()
            server.end(signal.SIGTERM)


if __name__ == "__main__":
    main(sys.argv[1:])
