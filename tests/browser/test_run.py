"""The whole run, from a dropped model to exported files and back after a hard kill; on a demo part and on a
file from elsewhere."""

import io
import math
import signal
import statistics
from pathlib import Path
from typing import Any

import ezdxf
import pypdf
import pytest
from playwright.sync_api import Page, expect

from drafting.model.model import EdgeFact
from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.core.conftest import STEP_FILES, demo

RECIPE = Path(__file__).resolve().parents[2] / "demo" / "recipes" / "HB-206.json"


def edges_of(file: Path) -> dict[str, EdgeFact]:
    """True edges of the model, read anew and apart from the server; pieces of an arc as all of it."""
    if file.suffix == ".json":
        model = demo(file.stem)
    else:
        from drafting.model.step import read_model

        model = read_model(file, file.stem)
    return {e.name: p.arc(e) for p in model.facts.parts.values() for e in p.edges}


def number(text: str) -> float:
    return float(text.lstrip("ØR").replace(",", "."))


def parallel_edges(
    drafter: Drafter, views: list[Any], true: dict[str, EdgeFact]
) -> tuple[Any, Any, Any, float]:
    """Of the first view that has them: the two level visible edges that lie farthest apart, and their
    distance in view mm."""
    for view in views:
        low, high, apart = _level_edges(drafter, view, true)
        if apart > 2:
            return view, low, high, apart
    raise AssertionError("no view has two level edges")


def _level_edges(drafter: Drafter, view: Any, true: dict[str, EdgeFact]) -> tuple[Any, Any, float]:
    level = [
        c
        for c in drafter.curves(view)
        if c["kind"] == "line"
        and c["visible"]
        and c["role"] == "edge"
        and c["edge_class"] == "sharp"
        and true[c["source"]].kind in ("line", "circle")
        and abs(c["data"][1] - c["data"][3]) < 1e-6
        and abs(c["data"][2] - c["data"][0]) > 4
    ]
    if not level:
        return None, None, 0.0
    low, high = min(level, key=lambda c: c["data"][1]), max(level, key=lambda c: c["data"][1])
    return low, high, high["data"][1] - low["data"][1]


@pytest.mark.parametrize("file", [RECIPE, STEP_FILES["t20"]], ids=["demo part", "file from elsewhere"])
def test_from_a_dropped_model_to_files_and_back_after_a_hard_kill(
    page: Page, server: Server, file: Path, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:
    previews: list[float] = []
    page.on(
        "response",
        lambda r: (
            previews.append(r.json()["milliseconds"])
            if r.url.endswith("/propose-annotation") and r.ok
            else None
        ),
    )
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.drop(file)
    job = page.locator("[data-test=job]", has_text=file.name).first
    expect(job).to_be_visible()
    expect(job).to_have_attribute("data-state", "done")
    job.locator("[data-test=job-open]").click()
    expect(page.locator("[data-test=preview]")).to_have_attribute("data-state", "ready")
    name = page.get_by_role("heading", level=1).inner_text()
    page.click("[data-test=start-drawing]")

    # the desk opens with the main view in hand
    expect(page.locator("[data-test=prompt]")).to_contain_text("Place the main view")
    assert drafter.drawing["document"]["name"] == name
    profile = drafter.drawing["document"]["profile"]
    assert (profile["standard"], profile["units"], profile["projection"]) == ("ISO", "mm", "first")
    page.keyboard.press("j")
    expect(page.locator("[data-test=projection-pill]")).to_have_text("third angle")
    drafter.place(110, 120)
    drafter.place(110, 220)
    drafter.place(230, 120)
    drafter.place(320, 225)
    front, top, side, pictorial = drafter.views()
    assert [v["relation"] for v in (top, side, pictorial)] == ["above", "right", "above-right"]
    assert (top["position"]["x"], side["position"]["y"]) == (front["position"]["x"], front["position"]["y"])
    assert (side["hidden_lines"], pictorial["hidden_lines"]) == (True, False)
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    hidden = page.locator(f"[data-view='{side['id']}'] path.hidden")
    if any(not c["visible"] for c in drafter.curves(side)):
        drawn, gap = (float(v) for v in (hidden.first.get_attribute("stroke-dasharray") or "").split())
        assert drawn / gap == pytest.approx(4, abs=0.01)  # ISO 128-2: dash 12 d, gap 3 d, fitted to the line
    assert page.locator(f"[data-view='{pictorial['id']}'] path.hidden").count() == 0

    # three sizes, by pointer
    true = edges_of(file)
    page.keyboard.press("s")
    host, low, high, apart = parallel_edges(drafter, [front, side, top], true)
    between = drafter.size(
        [drafter.on_curve(host, low, 0.3), drafter.on_curve(host, high, 0.3)], drafter.beside(host, -12, 0)
    )
    assert number(between) == pytest.approx(apart, abs=0.005)
    host, circle = next(
        (v, c)
        for v in (top, front, side)
        for c in drafter.curves(v)
        if c["kind"] == "arc"
        and c["visible"]
        and c["edge_class"] == "sharp"
        and true[c["source"]].kind == "circle"
    )
    across = drafter.size([drafter.on_curve(host, circle, 0.3)], drafter.beside(host, 12, 9))
    whole = true[circle["source"]].closed  # a circle reads its diameter, an arc its radius
    assert across[0] == ("Ø" if whole else "R")
    assert number(across) == pytest.approx((2 if whole else 1) * true[circle["source"]].radius, abs=0.005)
    straight = max(
        (
            c
            for c in drafter.curves(pictorial)
            if c["kind"] == "line"
            and c["visible"]
            and c["edge_class"] == "sharp"
            and true[c["source"]].kind == "line"
        ),
        key=lambda c: math.dist(c["data"][:2], c["data"][2:]),
    )
    drawn = math.dist(straight["data"][:2], straight["data"][2:])
    length = drafter.size([drafter.on_curve(pictorial, straight)], drafter.beside(pictorial, 10, -6))
    assert number(length) == pytest.approx(true[straight["source"]].length, abs=0.005)
    assert abs(number(length) - drawn) > 0.05 * drawn  # the true length, not the drawn one
    page.keyboard.press("Escape")

    with capsys.disabled():
        print(
            f"\npreviews of sizes: median {statistics.median(previews):.1f} "
            f"ms on the server, {len(previews)} of them"
        )

    # undo and redo, by key
    assert len(drafter.sheet["annotations"]) == 3
    page.keyboard.press("Control+z")
    drafter.until(lambda: len(drafter.sheet["annotations"]) == 2)
    page.keyboard.press("Control+Shift+Z")
    drafter.until(lambda: len(drafter.sheet["annotations"]) == 3)

    # the views change sides, the sizes stay
    page.keyboard.press("1")
    page.click("[data-test=action-angle]")
    expect(page.locator("[data-test=projection-pill]")).to_have_text("first angle")
    drafter.settled()
    front, top, side, pictorial = drafter.views()
    assert top["position"]["y"] < front["position"]["y"]
    assert side["position"]["x"] < front["position"]["x"]
    assert [a["text"] for a in drafter.sheet["annotations"]] == [between, across, length]
    assert not any(a["lost"] for a in drafter.sheet["annotations"])

    # files
    files = {kind: Path(drafter.publish(kind).path()).read_bytes() for kind in ("pdf", "svg", "dxf")}
    text = pypdf.PdfReader(io.BytesIO(files["pdf"])).pages[0].extract_text()
    document = ezdxf.read(io.StringIO(files["dxf"].decode()))
    texts = {t.dxf.text for block in document.blocks for t in block.query("TEXT")}
    for said in (between, across, length):
        assert said in text
        assert f">{said}</text>" in files["svg"].decode()
        assert said in texts
    svg = tmp_path / "sheet.svg"
    svg.write_bytes(files["svg"])
    viewer = page.context.new_page()
    viewer.goto(svg.as_uri())
    assert viewer.locator("path.visible").count() == 4
    viewer.close()

    # a hard kill, and everything is there
    before = drafter.drawing
    server.end(signal.SIGKILL)
    page.keyboard.press("Control+z")
    expect(page.locator("[data-test=away]")).to_contain_text("does not answer")
    server.start()
    expect(page.locator("[data-test=projection-pill]")).to_have_text("third angle")  # it went on by itself
    expect(page.locator("[data-test=away]")).to_have_count(0)
    page.reload()
    drafter.settled()
    assert page.locator("[data-annotation]").count() == 3
    page.keyboard.press("Control+Shift+z")
    drafter.until(lambda: drafter.drawing["document"] == before["document"])


def test_pointing_at_a_hole_lights_it_in_every_view(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-204")
    drafter.settled()
    front = drafter.views()[0]
    bore = next(
        c for c in drafter.curves(front) if c["feature"] == "bore" and c["kind"] == "arc" and c["visible"]
    )
    drafter.point(*drafter.on_curve(front, bore, 0.1))
    expect(page.locator("path.lit")).to_have_count(4)
    page.mouse.down()
    page.mouse.up()
    expect(page.locator("[data-test=particulars]")).to_contain_text("Circular edge")
    page.keyboard.press("Escape")
    expect(page.locator("[data-test=particulars]")).to_contain_text("Title block")
    hidden = page.locator(f"[data-view='{front['id']}'] path.hidden")
    strokes = sum(
        not c["visible"] and c["edge_class"] != "thread" for c in drafter.curves(front)
    )  # dashed lines are strokes of their own
    expect(hidden).to_have_count(strokes)
    page.mouse.click(
        *drafter.pixels(front["position"]["x"] + 55, front["position"]["y"] - 20), button="right"
    )
    page.get_by_role("menuitem", name="Leave out hidden lines").click()
    expect(hidden).to_have_count(0)
    page.keyboard.press("Control+z")
    expect(hidden).to_have_count(strokes)


def test_a_size_is_dragged_changed_and_removed_and_all_of_it_taken_back(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-214")
    drafter.settled()
    before = drafter.drawing["document"]
    label = page.locator("[data-annotation=size-1] text")
    box = label.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    # Esc while it is held leaves it where it was
    page.mouse.down()
    page.mouse.move(x, y + 20, steps=4)
    expect(page.locator("[data-test=in-hand]")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.locator("[data-test=in-hand]")).to_have_count(0)
    page.mouse.up()
    # a quick drop counts where the pointer was last, drawn or not: the same as a slow one
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 5)
    page.mouse.move(x, y + 20)
    page.mouse.up()
    drafter.until(lambda: drafter.drawing["document"] != before)
    quick = drafter.drawing["document"]
    page.keyboard.press("Control+z")
    drafter.until(lambda: drafter.drawing["document"] == before)
    expect(page.locator("[data-test=kept]")).to_have_text("All kept")
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 20, steps=4)
    page.wait_for_timeout(400)
    page.mouse.up()
    drafter.until(lambda: drafter.drawing["document"] != before)
    assert drafter.drawing["document"] == quick
    page.locator("[data-test=places]").click()
    page.get_by_role("option", name="2", exact=True).click()
    expect(page.locator("[data-test=size-text]")).to_have_text("3.00")
    page.keyboard.press("Escape")
    page.locator("[data-annotation=size-1] text").click()
    page.keyboard.press("Delete")
    expect(page.locator("[data-annotation=size-1]")).to_have_count(0)
    for _ in range(3):
        page.keyboard.press("Control+z")
    drafter.until(lambda: drafter.drawing["document"] == before)


def test_what_is_no_model_is_said_on_the_shelf_and_two_drafters_are_told(
    page: Page, server: Server, tmp_path: Path, browser: Any
) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    letter = tmp_path / "letter.step"
    letter.write_text("dear all, the model is attached")
    drafter.drop(letter)
    job = page.locator("[data-test=job]", has_text="letter.step")
    expect(job).to_contain_text("This is not a STEP file: it does not begin with ISO-10303-21.")
    job.get_by_text("Clear away").click()
    expect(job).to_have_count(0)
    page.locator("[role=tab]", has_text="Drawings").click()
    drafter.open_card("HB-204")
    drafter.settled()
    other = Drafter(browser.new_context(viewport={"width": 1280, "height": 800}).new_page(), server)
    other.log_in()
    other.page.goto(page.url)
    other.settled()
    other.page.fill("#field-revision", "C")
    other.page.keyboard.press("Enter")
    other.until(lambda: other.drawing["document"]["fields"]["revision"] == "C")
    page.fill("#field-title", "My title")
    page.keyboard.press("Enter")
    expect(page.locator("[data-test=problem]")).to_contain_text("A. Fell has changed this drawing meanwhile")
    expect(page.locator("#field-revision")).to_have_value("C")
    other.page.context.close()


def test_actions_are_found_by_typing_and_stages_by_number(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    drafter.open_card("HB-204")
    drafter.settled()
    page.keyboard.press("/")
    page.locator("[data-test=finder]").fill("the kind follows")
    page.keyboard.press("Enter")
    expect(page.locator("[data-test=prompt]")).to_contain_text("Pick an edge, a circle or a point")
    page.keyboard.press("Escape")
    page.keyboard.press("2")
    expect(page.locator("[data-test=action-main]")).to_be_visible()
    # a word that starts so comes before one that only holds the letters ("whole")
    page.keyboard.press("/")
    page.locator("[data-test=finder]").fill("hole")
    finder = page.get_by_role("dialog", name="Find an action")
    expect(finder).to_contain_text("Web left whole")
    expect(finder.get_by_role("button").first).to_contain_text("Hole table")
    page.keyboard.press("Escape")
    # the desk's keys go on after a choice in the particulars
    page.keyboard.press("1")
    page.locator(".el-radio-button", has_text="portrait").click()
    drafter.until(lambda: not drafter.drawing["document"]["sheets"][0]["landscape"])
    page.keyboard.press("3")
    expect(page.locator("[data-test=action-main]")).to_have_count(0)
    expect(page.get_by_text("Center everything")).to_be_visible()
    page.keyboard.press("Control+z")
    drafter.until(lambda: drafter.drawing["document"]["sheets"][0]["landscape"])


def test_a_sheet_of_20_000_curves_pans_without_being_drawn_again(
    page: Page, server: Server, capsys: pytest.CaptureFixture[str]
) -> None:
    """Frames a second are printed, not asserted; that the ink layer is only moved is."""
    drafter = Drafter(page, server)
    drafter.log_in()
    lines = "".join(f"M{i % 200 - 100} {i // 200 - 50}l0.8 {0.3 + i % 7 / 10:.1f}" for i in range(20_000))
    ink = {
        "key": "many",
        "svg": f'<path class="stroke visible" stroke-width="0.25" d="{lines}"/>',
        "low": [-100, -50],
        "high": [101, 51],
    }
    page.route("**/views/*/ink*", lambda route: route.fulfill(json=ink))
    page.route(
        "**/api/drawings/*/sheets/*", lambda route: route.fulfill(json=_with_ink_key(route.fetch().json()))
    )
    drafter.open_card("HB-204")
    expect(page.locator("[data-view] path.visible").first).to_be_attached()
    result = drafter.panned()
    with capsys.disabled():
        print(f"\npanning a sheet with 80,000 curves in 4 views: {result['fps']:.0f} frames a second")
    assert result["redrawn"] == 0
    moved = page.locator("svg.ink").evaluate("e => getComputedStyle(e).willChange")
    assert moved == "transform"


def _with_ink_key(sheet: Any) -> Any:
    for view in sheet["views"]:
        view["ink"] = "many"
    return sheet
