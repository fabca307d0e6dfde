"""A kind that brings its own tool and takes its panel from its data: from key to file by hand."""

import io
from pathlib import Path
from typing import Any

import ezdxf
import pypdf
import pytest
from playwright.sync_api import Locator, Page, expect

from tests.browser.conftest import Server
from tests.browser.drafter import Drafter
from tests.browser.test_views import opened
from tests.core.test_kinds import HOST

MAKE = """
import json
import tempfile
from pathlib import Path
from django.contrib.auth import get_user_model
from server.accounts.models import Workspace
from server.drawings import placed, store
from server.drawings.models import Drawing, PlacedFile
from server.library.models import Blob
from server.library.reading import read_into
from tests.core.test_kinds import LINES, PNG, recipe, sheet_of_each
office = Workspace.objects.get()
with tempfile.NamedTemporaryFile("w", suffix=".json") as file:
    json.dump(recipe(), file)
    file.flush()
    model = read_into(office, "pair.json", Path(file.name))
for kind, data, told in (
    ("picture", PNG, {}),
    ("underlay", LINES, {"unit": "mm", "wide": 40, "high": 30, "layers": ["0"], "pieces": 1, "left": {}}),
):
    PlacedFile.objects.create(workspace=office, blob=Blob.store(data), kind=kind, name=kind, told=told)
drawing = Drawing(workspace=office, model=model, name="Pair", standard="ISO")
drawing.updated_by = get_user_model().objects.get(username="fell")
store.start(drawing, sheet_of_each())
print(drawing.pk)
"""
ON_INK = """g => {
  const text = g.querySelector('text')
  const thing = text ?? g.querySelector('path')
  const box = (text ?? (thing ? null : g.querySelector('image')))?.getBBox()
  const middle = box && new DOMPoint(box.x + box.width / 2, box.y + box.height / 2)
  const at = middle ?? thing.getPointAtLength(thing.getTotalLength() * 0.03)
  const p = new DOMPoint(at.x, at.y).matrixTransform((thing ?? g.querySelector('image')).getScreenCTM())
  return [p.x, p.y]
}"""


def annotations(drafter: Drafter, sheet: str) -> list[Any]:
    found = next(s for s in drafter.drawing["document"]["sheets"] if s["id"] == sheet)
    return [a for a in found["annotations"] if a["id"] != HOST]


def set_something(panel: Locator) -> None:
    """Use the first control of a panel that takes a value."""
    controls = (
        ".el-switch:not(.is-disabled)",
        ".el-checkbox:not(.is-disabled)",
        ".el-input-number input",
        "input.text-field",
        "textarea",
    )
    expect(panel.locator(", ".join([*controls, ".el-select"])).first).to_be_visible()
    for wanted in controls:
        found = panel.locator(wanted).first
        if not found.count():
            continue
        if wanted.startswith((".el-switch", ".el-checkbox")):
            found.click()
        else:
            found.fill("3")
            found.blur()
        return
    panel.locator(".el-select").first.click()
    panel.page.locator(".el-select-dropdown__item:not(.is-selected):visible").first.click()


def test_every_kind_has_a_panel_that_sets_it_and_keys_that_remove_it(page: Page, server: Server) -> None:
    drafter = Drafter(page, server)
    drafter.log_in()
    page.goto(f"{server.url}/drawings/{server.made(MAKE)}")
    kinds = [s["id"] for s in drafter.drawing["document"]["sheets"]]
    forms = {k["kind"]: k for k in drafter.get("/api/drawings/tools/kinds")}
    assert set(kinds) == set(forms)
    for kind in kinds:
        (a,) = annotations(drafter, kind)
        use_panel(drafter, kind, bool(forms[kind]["fields"] or forms[kind]["is_size"] or a.get("past")))
        page.keyboard.press("Escape")
        page.keyboard.press("PageDown")


def use_panel(drafter: Drafter, kind: str, has_fields: bool) -> None:
    """Choose the sheet's one annotation, set something of it, remove it, and take each back."""
    page = drafter.page
    ink = page.locator(f"[data-annotation='a-{kind}']")
    expect(ink).to_have_count(1)
    before = annotations(drafter, kind)

    def choose() -> None:
        if kind == "stack_up":  # it is drawn on no sheet: its tool lists it
            page.keyboard.press('"')
            page.locator("[data-test=stack-tool] button").first.click()
        else:
            page.mouse.click(*ink.evaluate(ON_INK))

    choose()
    panel = page.locator("[data-test=particulars]")
    expect(panel.locator("[data-test=remove]"), kind).to_be_visible()
    if has_fields:
        set_something(panel)
        drafter.until(lambda: annotations(drafter, kind) != before)
        page.locator("[data-test=undo]").click()
        drafter.until(lambda: annotations(drafter, kind) == before)
    page.keyboard.press("Delete")
    drafter.until(lambda: annotations(drafter, kind) == [])
    expect(ink).to_have_count(0)
    page.keyboard.press("Control+z")
    drafter.until(lambda: annotations(drafter, kind) == before)


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
    words = panel.locator("#kind-text")
    words.fill("PRELIMINARY\nØ by {diameter}, 3 {times}")
    words.blur()
    drafter.until(lambda: stamp(drafter)["text"].startswith("PRELIMINARY\n"))
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
    assert "Ø by Ø, 3 ×" in pdf.pages[0].extract_text()
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
