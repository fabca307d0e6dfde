"""A part is sized completely by hand: picks, keys, tolerances, runs, tidying; and what leaves the office says
what the recipe says."""

import csv
import io
import math
import statistics
from pathlib import Path
from typing import Any

import ezdxf
import openpyxl
import pypdf
import pytest
from ezdxf.entities import Dimension as DxfDimension
from playwright.sync_api import Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import SHOWN_AFTER, Drafter
from tests.core.conftest import demo_data

INCH = 25.4


class Sizer(Drafter):
    """Finds what to pick in a view by where it lies, in view mm."""

    def near(self, view: Any, x: float, y: float, kind: str = "") -> tuple[float, float]:
        """The place on the sheet of the visible curve nearest to a place of the view."""

        def away(c: Any) -> float:
            d = c["data"]
            if c["kind"] == "line":
                n = math.hypot(d[2] - d[0], d[3] - d[1]) or 1e-9
                t = max(0.0, min(1.0, ((x - d[0]) * (d[2] - d[0]) + (y - d[1]) * (d[3] - d[1])) / n**2))
                return math.hypot(d[0] + t * (d[2] - d[0]) - x, d[1] + t * (d[3] - d[1]) - y)
            return abs(math.hypot(x - d[0], y - d[1]) - d[2]) if c["kind"] == "arc" else math.inf

        found = min(
            (c for c in self.curves(view) if c["visible"] and c["source"] and kind in ("", c["kind"])),
            key=away,
        )
        assert away(found) < 0.3, (x, y, found, away(found))
        return self.at(view, x, y)

    def at(self, view: Any, x: float, y: float) -> tuple[float, float]:
        k = self.scale(view)
        return view["position"]["x"] + x * k, view["position"]["y"] + y * k

    def texts(self) -> list[str]:
        return [a["text"] for a in self.sheet["annotations"] if not a["lost"]]

    def tolerate(self, text: str) -> None:
        self.page.fill("[data-test=tolerance]", text)
        self.page.keyboard.press("Enter")

    def choose(self, text: str) -> str:
        """Select a size by clicking its number; its id."""
        found = next(a for a in self.sheet["annotations"] if a["text"] == text)
        self.page.locator(f"[data-annotation='{found['id']}'] text").first.click()
        expect(self.page.locator("[data-test=size-text]")).to_have_text(text)
        return str(found["id"])


def test_the_keeper_plate_is_sized_completely_by_hand(
    page: Page, server: Server, capsys: pytest.CaptureFixture[str]
) -> None:
    recipe = demo_data("HB-214")["parameters"]
    width, height, pitch = (recipe[k] * INCH for k in ("width", "height", "pitch"))
    on_screen: list[float] = []
    drafter = Sizer(page, server)
    drafter.log_in()
    model = next(m for m in drafter.get("/api/models") if m["number"] == "HB-214")
    page.goto(f"{server.url}/models/{model['id']}")
    page.click("[data-test=start-drawing]")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    drafter.place(150, 60)
    drafter.place(150, 190)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    face, plan = drafter.views()
    w, h = width / 2, height / 2
    page.keyboard.press("t")
    drafter.until(
        lambda: any(
            a["kind"] == "center_mark" for a in drafter.drawing["document"]["sheets"][0]["annotations"]
        )
    )

    # a baseline from the left side: the holes are swept over, the right side is clicked
    page.keyboard.press("Shift+B")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Pick the origin")
    drafter.click(*drafter.near(plan, -w, 5))
    a, b = drafter.pixels(*drafter.at(plan, -w + 2, -h + 2)), drafter.pixels(*drafter.at(plan, w + 3, h - 12))
    page.mouse.move(*a)
    page.mouse.down()
    page.mouse.move(*b, steps=5)
    expect(page.locator("[data-test=swept]")).to_be_visible()
    page.mouse.up()
    expect(page.locator("[data-test=prompt]")).to_contain_text("3 sizes")
    drafter.click(*drafter.near(plan, w, 8))
    expect(page.locator("[data-test=prompt]")).to_contain_text("4 sizes")
    drafter.point(*drafter.at(plan, 0, -h - 12))
    page.wait_for_timeout(300)
    page.keyboard.press("Enter")
    drafter.until(lambda: len([t for t in drafter.texts() if t[0] in ".0123456789"]) == 4)
    numbers = sorted(float(t) for t in drafter.texts() if t[0] in ".0123456789")
    edge = (recipe["width"] - pitch / INCH) / 2
    assert numbers == pytest.approx([edge, recipe["width"] / 2, edge + recipe["pitch"], recipe["width"]])

    # single sizes: the kind follows the pick, Space goes on to the next kind
    page.keyboard.press("s")
    beside = [drafter.at(plan, -w - 12, 0), drafter.at(plan, 0, h + 10), drafter.at(plan, w + 12, h - 6)]
    assert drafter.size([drafter.near(plan, 20, -h), drafter.near(plan, 25, h)], beside[0]) == "2.000"
    assert (
        drafter.size(
            [drafter.near(plan, -0.375 * INCH, h - 3), drafter.near(plan, 0.375 * INCH, h - 3)], beside[1]
        )
        == ".750"
    )
    assert (
        drafter.size([drafter.near(plan, 3, h - 0.5 * INCH), drafter.near(plan, 20, h)], beside[2]) == ".500"
    )
    hole_y = -0.375 * INCH
    assert (
        drafter.size(
            [drafter.near(plan, 20, -h), drafter.near(plan, -pitch / 2 - 0.219 * INCH, hole_y)],
            drafter.at(plan, -w - 6, -15),
        )
        == ".625"
    )
    round_at = (-w + 0.25 * INCH * (1 - math.sqrt(0.5)), -h + 0.25 * INCH * (1 - math.sqrt(0.5)))
    assert drafter.size([drafter.near(plan, *round_at)], drafter.at(plan, -w - 8, -h - 8)) == "R.250"
    assert (
        drafter.size(
            [drafter.near(plan, -w + 0.0625 * INCH, h - 0.0625 * INCH)], drafter.at(plan, -w - 8, h + 8)
        )
        == ".125 X 45°"
    )
    assert (
        drafter.size([drafter.near(plan, pitch / 2 + 0.1405 * INCH, hole_y)], drafter.at(plan, w + 10, -8))
        == "Ø.281"
    )
    assert (
        drafter.size([drafter.near(plan, pitch / 2 + 0.219 * INCH, hole_y)], drafter.at(plan, w + 10, 6))
        == "Ø.438"
    )
    assert drafter.size([drafter.near(plan, 2.55, hole_y)], drafter.at(plan, 14, 4)) == "Ø.201"
    assert drafter.size([drafter.near(face, w, 0)], drafter.at(face, w + 10, 0)) == ".375"

    # a point, and what is said already is offered as reference; F makes it full
    drafter.click(*drafter.near(face, -w, 0))
    expect(page.locator("[data-test=prompt]")).to_contain_text("said already as .375")
    page.keyboard.press("f")
    expect(page.locator("[data-test=prompt]")).to_contain_text("as reference")
    page.keyboard.press("f")
    drafter.point(*drafter.at(face, -w - 10, 0))
    page.wait_for_timeout(200)
    page.keyboard.press("Enter")
    drafter.until(lambda: "(.375)" in drafter.texts())
    corner = drafter.at(plan, w, h)  # the theoretical corner that the chamfer has taken away
    drafter.point(*corner)
    expect(page.locator("[data-point='sharp corner']")).to_be_visible()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")

    # tolerances, as they are typed; what is wrong is said at the field and nothing is lost
    drafter.choose("R.250")
    page.fill("[data-test=count]", "2")
    page.keyboard.press("Enter")
    drafter.until(lambda: "2X R.250" in drafter.texts())
    drafter.choose("Ø.281")
    for wrong, says in (
        ("abc", "is no tolerance"),
        ("H19", "does not exist"),
        ("-.001/.002", "upper deviation"),
    ):
        drafter.tolerate(wrong)
        expect(page.locator("[data-test=size-problem]")).to_contain_text(says)
    drafter.tolerate("+.003/0")
    drafter.until(lambda: "Ø.281 +.003/-.000" in drafter.texts())
    expect(page.locator("[data-test=applies]")).to_contain_text("+.003/0")
    source = drafter.choose("Ø.281 +.003/-.000")
    page.keyboard.press("Shift+Y")
    target = next(a["id"] for a in drafter.sheet["annotations"] if a["text"] == "Ø.438")
    page.locator(f"[data-annotation='{target}'] text").first.click()
    drafter.until(lambda: "Ø.438 +.003/-.000" in drafter.texts())
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    drafter.choose(".750")
    drafter.tolerate("H9")
    drafter.until(lambda: ".750 H9" in drafter.texts())
    drafter.choose(".750 H9")
    page.keyboard.press("f")  # arrows out
    drafter.until(
        lambda: any(a.get("arrows") == "out" for a in drafter.drawing["document"]["sheets"][0]["annotations"])
    )

    # a fourth size between the same levels closes a chain, and says so
    page.keyboard.press("Escape")
    page.keyboard.press("s")
    rims = [
        drafter.near(plan, x + 0.219 * INCH * math.cos(0.8), hole_y + 0.219 * INCH * math.sin(0.8))
        for x in (-pitch / 2, pitch / 2)
    ]
    drafter.size(rims, drafter.at(plan, 0, h + 8))
    page.keyboard.press("Escape")
    twice = [a for a in drafter.sheet["annotations"] if a["follows"]]
    assert [(a["text"], len(a["follows"])) for a in twice] == [("2.250", 2)]
    page.locator(f"[data-annotation='{twice[0]['id']}'] text").first.click()
    expect(page.locator("[data-test=follows]")).to_contain_text("a chain of 2 sizes")
    page.click("[data-test=mark-reference]")
    drafter.until(lambda: "(2.250)" in drafter.texts())
    page.keyboard.press("Escape")

    # what holds for a size that states nothing is shown under the pointer
    label = next(a for a in drafter.sheet["annotations"] if a["text"] == "2.000")
    page.locator(f"[data-annotation='{label['id']}'] text").first.hover()
    expect(page.locator("[data-test=pointed]")).to_have_text("2.000 holds general ±.005.")

    # Tidy view, one undoable step
    before = drafter.drawing["document"]
    page.keyboard.press("Shift+T")
    drafter.until(lambda: drafter.drawing["document"] != before)
    expect(page.locator("[data-test=kept]")).to_have_text("All kept")

    # the Size sheet: filtered, edited in place, leading to the size; exported
    page.keyboard.press("Shift+S")
    rows = page.locator("[data-test=size-sheet] tbody tr")
    count = len([a for a in drafter.sheet["annotations"] if a["text"] and a["text"][0] in ".0123456789(RØ"])
    expect(page.locator("[data-test=size-sheet] header")).to_contain_text(f"{count} of {count}")
    ids = "rows => rows.map(r => r.dataset.size)"  # only rows about those in sight are in the page
    met = set(rows.evaluate_all(ids))
    page.locator("[data-test=size-rows]").evaluate("e => e.scrollTo(0, e.scrollHeight)")
    drafter.until(lambda: len(met | set(rows.evaluate_all(ids))) == count)
    page.fill("[data-test=size-filter]", "diameter")
    expect(rows).to_have_count(3)
    row = rows.filter(has_text="Ø.201")
    row.locator("input").fill("±.002")
    page.keyboard.press("Enter")
    drafter.until(lambda: "Ø.201 ±.002" in drafter.texts())
    row.locator("td").nth(4).click()
    expect(page.locator("[data-test=size-text]")).to_have_text("Ø.201 ±.002")
    row.locator("input").fill("wide")
    page.keyboard.press("Enter")
    expect(row.get_by_role("alert")).to_contain_text("is no tolerance")
    with page.expect_download() as download:
        page.click("[data-test=sizes-xlsx]")
    table = openpyxl.load_workbook(io.BytesIO(Path(download.value.path()).read_bytes())).active
    assert table is not None
    found = {r[4].value: r for r in table.iter_rows(min_row=2)}
    assert (found["Ø.281 +.003/-.000"][8].value, found["Ø.281 +.003/-.000"][9].value) == (
        pytest.approx(0.281 * INCH),
        pytest.approx(0.284 * INCH),
    )
    assert found[".750 H9"][9].value == pytest.approx(
        0.75 * INCH + 0.052
    )  # ISO 286-1: IT9 of 18 to 30 mm is 52 micrometers
    assert found["2.000"][10].value == pytest.approx(2 - 0.005)  # .XXX ±.005 of the title block
    with page.expect_download() as download:
        page.click("[data-test=sizes-csv]")
    lines = list(csv.reader(io.StringIO(Path(download.value.path()).read_text(encoding="utf-8-sig"))))
    assert len(lines) == count + 1

    # what leaves the office says the same
    texts = drafter.texts()
    pdf = (
        pypdf.PdfReader(io.BytesIO(Path(drafter.publish("pdf").path()).read_bytes())).pages[0].extract_text()
    )
    for word in ("2X R.250", ".125 X 45°", "(2.250)", ".750 H9", "2.000", "Ø.201 ±.002", "+.003"):
        assert word in pdf, texts
    space = ezdxf.read(io.StringIO(Path(drafter.publish("dxf").path()).read_text())).modelspace()
    measured = []
    for e in space.query("DIMENSION"):
        assert isinstance(e, DxfDimension)
        factor = e.override().get("dimlfac")
        if e.dimtype in (0, 3, 4) and factor:
            measured.append(round(float(e.get_measurement()) * factor, 4))  # type: ignore[arg-type]
    for value in (
        recipe["width"],
        recipe["height"],
        recipe["pitch"],
        0.75,
        0.5,
        0.625,
        0.25,
        0.281,
        0.438,
        0.375,
    ):
        assert value in measured

    # previews reach the screen: a leader that follows the pointer
    page.keyboard.press("4")
    page.keyboard.press("s")
    drafter.click(*drafter.near(plan, 2.55 * math.cos(0.8), hole_y + 2.55 * math.sin(0.8)))
    drafter.point(*drafter.at(plan, 15, 0))
    expect(page.locator("[data-test=in-hand] text").first).to_be_visible()
    for n in range(25):
        on_screen.append(page.evaluate(SHOWN_AFTER, drafter.pixels(*drafter.at(plan, 15 + n % 5, 1 + n))))
    with capsys.disabled():
        print(f"\nsizes on the screen: median {statistics.median(on_screen):.0f} ms after the pointer moved")
    assert source in {a["id"] for a in drafter.sheet["annotations"]}
