"""What a drafter does, with pointer and keys; and where things lie on the screen."""

import math
from pathlib import Path
from typing import Any

from playwright.sync_api import Download, Page, expect

from tests.browser.conftest import Server

PATIENCE = 60_000
SHOWN_AFTER = """([x, y]) => new Promise((done) => {
  const started = performance.now()
  new MutationObserver((_, observer) => {
    observer.disconnect()
    requestAnimationFrame(() => done(performance.now() - started))
  }).observe(document.querySelector('[data-test=in-hand]'), { childList: true, subtree: true })
  const room = document.querySelector('[data-test=paper]')
  room.dispatchEvent(new PointerEvent('pointermove', { clientX: x, clientY: y, bubbles: true }))
})"""
"""Milliseconds from a move of the pointer to the picture that shows the size there."""
PANNED = """([x, y]) => new Promise((done) => {
  const paper = document.querySelector('[data-test=paper]'), t0 = performance.now()
  let frames = 0, redrawn = 0
  new MutationObserver((m) => { redrawn += m.length })
    .observe(document.querySelector('svg.ink'), { childList: true, subtree: true })
  const step = (now) => {
    frames++
    const a = (now - t0) / 300
    const at = { clientX: x + 120 * Math.sin(a), clientY: y + 60 * Math.cos(a), bubbles: true, pointerId: 1 }
    paper.dispatchEvent(new PointerEvent('pointermove', at))
    if (now - t0 < 3000) requestAnimationFrame(step)
    else done({ fps: frames / ((now - t0) / 1000), redrawn })
  }
  requestAnimationFrame(step)
})"""
"""Frames a second while the sheet is dragged about for three seconds, and how often its ink was drawn
anew."""


class Drafter:
    def __init__(self, page: Page, server: Server) -> None:
        self.page, self.server = page, server
        self.sheet_number = 0
        page.set_default_timeout(PATIENCE)
        expect.set_options(timeout=PATIENCE)

    def log_in(self, name: str = "fell") -> None:
        self.page.goto(self.server.url)
        self.page.fill("input[name=username]", name)
        self.page.fill("input[name=password]", self.server.password)
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("heading", name="Shelf")).to_be_visible()

    def open_card(self, number: str) -> None:
        """Open the sample office's drawing of a number from the shelf; other tests may have started more of
        the same model."""
        found = [d["id"] for d in self.get("/api/drawings") if d["number"] == number]
        demo = next(i for i in found if self.get(f"/api/drawings/{i}")["document"]["fields"]["revision"])
        self.page.click(f"a[data-test=drawing-card][href='/drawings/{demo}']")
        self.page.wait_for_url(f"**/drawings/{demo}")

    def drop(self, path: Path, name: str | None = None) -> None:
        """Drop a file on the shelf, as from the file manager."""
        data = list(path.read_bytes())
        transfer = self.page.evaluate_handle(
            "([bytes, name]) => "
            "{ const t = new DataTransfer(); t.items.add(new File([new Uint8Array(bytes)], name)); "
            "return t }",
            [data, name or path.name],
        )
        self.page.dispatch_event(".page", "drop", {"dataTransfer": transfer})

    def get(self, path: str) -> Any:
        answer = self.page.request.get(self.server.url + path)
        assert answer.ok, f"{path}: {answer.status}"
        return answer.json()

    # ---- the desk ------------------------------------------------------------------------------------------
    @property
    def drawing(self) -> Any:
        return self.get(f"/api/drawings/{self.page.url.rsplit('/', 1)[1]}")

    @property
    def sheet(self) -> Any:
        d = self.drawing
        return self.get(f"/api/drawings/{d['id']}/sheets/{d['document']['sheets'][self.sheet_number]['id']}")

    def views(self) -> list[Any]:
        return self.drawing["document"]["sheets"][self.sheet_number]["views"]

    def pixels(self, x: float, y: float) -> tuple[float, float]:
        """Where a place of the sheet (mm) is on the screen."""
        left, top, zoom, dx, dy, height = self.page.eval_on_selector(
            "[data-test=paper]",
            "e => "
            "{ const b = e.getBoundingClientRect(), d = e.dataset; "
            "return [b.left, b.top, +d.zoom, +d.left, +d.top, +d.height] }",
        )
        return left + dx + x * zoom, top + dy + (height - y) * zoom

    def point(self, x: float, y: float) -> None:
        self.page.mouse.move(*self.pixels(x - 1, y - 1))
        self.page.mouse.move(*self.pixels(x, y), steps=3)

    def click(self, x: float, y: float) -> None:
        self.point(x, y)
        self.page.mouse.down()
        self.page.mouse.up()

    def place(self, x: float, y: float) -> None:
        """Place the view in hand once its picture is under the pointer."""
        count = len(self.views())
        self.point(x, y)
        self.page.wait_for_function(
            "() => (document.querySelector('[data-test=ghost] path')?.getAttribute('d') ?? '').length > 20"
        )
        self.click(x, y)
        self.until(lambda: len(self.views()) == count + 1)
        self.settled()

    def until(self, true: Any) -> None:
        for _ in range(600):
            if true():
                return
            self.page.wait_for_timeout(100)
        raise AssertionError("it did not come about within a minute")

    def settled(self) -> None:
        """All kept, and every view derived and drawn."""
        expect(self.page.locator("[data-test=kept]")).to_have_text("All kept")
        self.until(lambda: all(v["state"] == "ready" for v in self.sheet["views"]))
        count = len(self.views())
        self.page.wait_for_function(
            "n => [...document.querySelectorAll('[data-view]')].filter(g => "
            "g.querySelector('path.visible')).length === n",
            arg=count,
        )

    def edit(self, command: dict[str, Any]) -> None:
        """An edit made past the interface, where a test needs only its result; the page is loaded again after
        it."""
        d = self.drawing
        token = next(c["value"] for c in self.page.context.cookies() if c["name"] == "csrftoken")
        body = {"version": d["version"], "command": command}
        answer = self.page.request.post(
            f"{self.server.url}/api/drawings/{d['id']}/commands", data=body, headers={"X-CSRFToken": token}
        )
        assert answer.ok, answer.text()
        self.page.reload()
        self.settled()

    def curves(self, view: Any) -> list[Any]:
        return self.geometry(view)["curves"]

    def geometry(self, view: Any) -> Any:
        return self.get(f"/api/drawings/{self.drawing['id']}/views/{view['id']}/curves")

    def on_curve(self, view: Any, curve: Any, part: float = 0.5) -> tuple[float, float]:
        """A place on a curve, in sheet mm."""
        d = curve["data"]
        if curve["kind"] == "line":
            p = (d[0] + (d[2] - d[0]) * part, d[1] + (d[3] - d[1]) * part)
        else:
            assert curve["kind"] == "arc"
            a = d[3] + (d[4] - d[3]) * part
            p = (d[0] + d[2] * math.cos(a), d[1] + d[2] * math.sin(a))
        k = self.scale(view)
        return view["position"]["x"] + p[0] * k, view["position"]["y"] + p[1] * k

    def beside(self, view: Any, dx: float, dy: float) -> tuple[float, float]:
        """A free place dx mm outside a view's outline, at its right or left, dy mm above its upper or below
        its lower edge (0: middle)."""
        g = self.geometry(view)
        k, (x, y) = self.scale(view), (view["position"]["x"], view["position"]["y"])
        across = x + (g["high"][0] * k + dx if dx > 0 else g["low"][0] * k + dx)
        return across, y if dy == 0 else y + (g["high"][1] * k + dy if dy > 0 else g["low"][1] * k + dy)

    def scale(self, view: Any) -> float:
        s = view["scale"] or self.drawing["document"]["sheets"][self.sheet_number]["scale"]
        return float(s["drawn"] / s["true"])

    def size(self, picks: list[tuple[float, float]], at: tuple[float, float]) -> str:
        """Take a size with picks and a place; returns what it says on the sheet."""
        before = {a["id"] for a in self.sheet["annotations"]}
        prompt = self.page.locator("[data-test=prompt]")
        for number, p in enumerate(picks):
            self.click(*p)
            expect(prompt).to_contain_text(
                "place it, or pick" if number == 0 and len(picks) == 2 else "place it"
            )
        self.point(*at)
        self.page.wait_for_timeout(150)
        expect(self.page.locator("[data-test=in-hand]")).to_be_visible()
        self.page.keyboard.press("Enter")
        self.until(lambda: len(self.sheet["annotations"]) == len(before) + 1)
        expect(self.page.locator("[data-test=kept]")).to_have_text("All kept")
        return str(next(a["text"] for a in self.sheet["annotations"] if a["id"] not in before))

    def panned(self) -> dict[str, float]:
        """Drag the sheet about with the middle button."""
        box = self.page.locator("[data-test=paper]").bounding_box()
        assert box
        x, y = box["x"] + 300, box["y"] + 300
        self.page.mouse.move(x, y)
        self.page.mouse.down(button="middle")
        result: dict[str, float] = self.page.evaluate(PANNED, [x, y])
        self.page.mouse.up(button="middle")
        return result

    def publish(self, kind: str) -> Download:
        self.page.keyboard.press("9")
        with self.page.expect_download() as download:
            self.page.click(f"[data-test=action-{kind}]")
        return download.value
