"""Many drafters at once: each looks at a sheet, tries a size under the pointer, places it and takes the
view's lines, every two seconds, on a drawing of their own."""

import http.client
import json
import statistics
import threading
import time
from typing import Any

from bench.office import ROOT, Office, running_office

DRAFTERS = (20, 50, 100)
ASKED_FOR = 50
"""How many drafters the limits are for."""
LIMITS = {"preview": 0.4, "ink": 0.4, "place": 0.7}
"""Seconds within which 95 of 100 answers come."""
EVERY, LONG = 2.0, 30.0
"""Seconds between the steps of a drafter, and that they go on for."""


class Drafter(threading.Thread):
    """Somebody at a desk: keeps a connection and a drawing, and notes how long each answer took."""

    def __init__(self, office: Office, model: str, start: float) -> None:
        super().__init__(daemon=True)
        self.cookies = "; ".join(f"{c.name}={c.value}" for c in office.cookies)
        self.token = next(c.value for c in office.cookies if c.name == "csrftoken") or ""
        self.link = http.client.HTTPConnection("127.0.0.1", office.port, timeout=60)
        self.took: dict[str, list[float]] = {"look": [], "preview": [], "place": [], "ink": []}
        self.errors, self.begin, self.refusal = 0, start, ""
        drawing = self.ask("POST", "/api/drawings", {"model": model})
        self.url, self.version = f"/api/drawings/{drawing['id']}", drawing["version"]
        self.sheet = drawing["document"]["sheets"][0]["id"]
        script = json.loads((ROOT / "demo" / "drawings" / "HB-204.json").read_text())["commands"]
        placed = next(c for c in script if c["command"] == "place")
        self.size = next(a for a in placed["annotations"] if len(a["picks"]) == 2)
        for command in (c for c in script if c["command"] in ("place_main_view", "place_projected_view")):
            if "sheet" in command:
                command["sheet"] = self.sheet
            self.step(command)

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """The answer; None for any but a success."""
        headers = {"Cookie": self.cookies, "X-CSRFToken": self.token, "Content-Type": "application/json"}
        for last in (False, True):  # a connection that was closed meanwhile is opened anew, as browsers do
            try:
                self.link.request(method, path, None if body is None else json.dumps(body), headers)
                answer = self.link.getresponse()
                data = answer.read()
                break
            except (OSError, http.client.HTTPException) as error:
                self.link.close()
                if last:
                    self.refusal = self.refusal or f"{method} {path}: {error!r}"
                    return None
        if answer.status not in (200, 201):
            self.refusal = self.refusal or f"{method} {path}: {answer.status} {data[:200].decode()}"
            return None
        return json.loads(data)

    def step(self, command: dict[str, Any]) -> Any:
        """A command on the version that the last answer told, as a desk makes it."""
        made = self.ask("POST", f"{self.url}/commands", {"version": self.version, "command": command})
        self.version = made["version"] if made else self.version
        return made

    def run(self) -> None:
        view, n = self.size["view"], 0
        plain = {"role": "edge", "side": 0, "point": "", "quarter": 0, "other": None}
        picks = [{**plain, **p, "at": {"x": 0.0, "y": 0.0}} for p in self.size["picks"]]
        time.sleep(max(0.0, self.begin - time.monotonic()))
        while (now := time.monotonic()) < self.begin + LONG:
            n += 1
            tried = {"tool": "size", "view": view, "picks": picks, "pointer": {"x": -40.0, "y": 9.0 + n}}
            place = {**self.size["place"], "paper": {"x": -8.0 * n, "y": 0.0}}  # each beside the last one
            new = {**self.size, "id": f"size-{n}", "place": place}
            self.timed("look", lambda: self.ask("GET", f"{self.url}/sheets/{self.sheet}"))
            self.timed(
                "preview",
                lambda t=tried: self.ask("POST", f"{self.url}/propose-annotation", {**t, "settings": {}}),
            )
            self.timed("place", lambda a=new: self.step({"command": "place", "annotations": [a]}))
            self.timed("ink", lambda: self.ask("GET", f"{self.url}/views/{view}/ink"))
            time.sleep(max(0.0, now + EVERY - time.monotonic()))

    def timed(self, what: str, ask: Any) -> None:
        started = time.monotonic()
        answer = ask()
        self.took[what].append(time.monotonic() - started)
        self.errors += answer is None


def measured() -> bool:
    """Prints a row for each number of drafters; whether the limits hold."""
    limits = ", ".join(f"{what} {limit * 1e3:.0f} ms" for what, limit in LIMITS.items())
    print(f"Drafters at once: the time in which 95 of 100 answers come; at most {limits} for {ASKED_FOR}")
    with running_office() as office:
        model = next(m for m in office.ask("GET", "/api/models")[1] if m["number"] == "HB-204")["id"]
        met = [_row(office, model, count) for count in DRAFTERS]
    return all(met)


def _row(office: Office, model: str, count: int) -> bool:
    people = [Drafter(office, model, 0.0) for _ in range(count)]
    begin = time.monotonic() + 3
    for n, person in enumerate(people):
        person.begin = begin + EVERY * n / count
        person.start()
    for person in people:
        person.join()
    worst, errors = {}, sum(p.errors for p in people)
    for what in people[0].took:
        took = sorted(t for p in people for t in p.took[what])
        worst[what] = statistics.quantiles(took, n=20)[-1]
    good = errors == 0 and all(worst[what] <= limit for what, limit in LIMITS.items())
    done = sum(len(t) for p in people for t in p.took.values()) / LONG
    said = "" if count != ASKED_FOR else f"   {'met' if good else 'MISSED'}"
    print(
        f"  {count:4d}: "
        + ", ".join(f"{what} {seconds * 1e3:6.0f} ms" for what, seconds in worst.items())
        + f"; {errors} errors, {done:.0f} steps a second{said}",
        flush=True,
    )
    for refusal in sorted({p.refusal for p in people if p.refusal})[:3]:
        print(f"        {refusal}")
    return good or count != ASKED_FOR
